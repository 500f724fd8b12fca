"""The sample workroom: what is not there, what is elsewhere, thumbs and keys; a killed worker, a second start."""

from __future__ import annotations

import os
import re
import signal
import time

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import end, sign_in, sign_in_by_form, start, watch

pytestmark = pytest.mark.browser


def test_a_tag_that_hangs_nowhere_is_said_and_is_all_that_is_not_there(browser, sample):
    watched = watch(browser, sample)
    sign_in(watched)
    watched.go("/tags/999/")
    expect(watched.page.get_by_role("heading", name="Nothing hangs here")).to_be_visible()
    assert [w for w in watched.wrong if "404" not in w] == []
    assert len(watched.wrong) == 1, "the page alone is not there, none of its files"


def test_what_would_be_loaded_from_elsewhere_is_an_error(browser, sample):
    """So that no other test has to look at every request."""
    for elsewhere in ("https://fonts.example/a.woff2", "http://192.0.2.7/a.png"):
        watched = watch(browser, sample)
        watched.page.set_content(f"<img src='{elsewhere}'>")
        watched.page.wait_for_load_state("load")
        assert [words for words in watched.wrong if "ERR_NAME_NOT_RESOLVED" in words], elsewhere


def test_thumbs_find_targets_of_44_pixels(browser, sample):
    watched = watch(browser, sample, viewport={"width": 820, "height": 1180})
    sign_in(watched)
    for path in ("/tags/124/strip/", "/tags/119/fasten/top/", "/tags/118/lay/", "/tags/122/finish/"):
        watched.go(path)
        small = watched.page.evaluate(
            "[...document.querySelectorAll('main .btn, .tape a')].filter(e => e.getClientRects().length"
            " && e.getBoundingClientRect().height < 43).map(e => e.textContent.trim())"
        )
        assert small == [], path


BESIDE = """() => {  // a narrow panel, and a place just beside it that lies on a wide one
  const box = (a) => a.querySelector(".part").getBoundingClientRect();
  const links = [...document.querySelectorAll(".opened-out a")];
  const isNarrow = (a) => Math.min(box(a).width, box(a).height) < 44;
  for (const a of links.filter((a) => Math.min(box(a).width, box(a).height) < 34)) {
    const { x, y, width, height } = box(a);
    for (const [dx, dy] of [[width / 2 + 4, 0], [-width / 2 - 4, 0], [0, height / 2 + 4], [0, -height / 2 - 4]]) {
      const at = [x + width / 2 + dx, y + height / 2 + dy];
      const there = document.elementFromPoint(...at)?.closest("a[data-x]");
      const isFar = (b) =>
        Math.abs(box(b).x + box(b).width / 2 - at[0]) > 60 || Math.abs(box(b).y + box(b).height / 2 - at[1]) > 60;
      const isClear = links.every((b) => b === a || !isNarrow(b) || isFar(b));
      const isBeside = Math.min(Math.abs(dx) || 99, Math.abs(dy) || 99) <= 21;
      if (there && !isNarrow(there) && isClear && isBeside) return [a.getAttribute("href"), ...at];
    }
  }
}"""


def test_a_thumb_beside_a_narrow_panel_means_that_panel(browser, sample):
    watched = watch(browser, sample, viewport={"width": 820, "height": 1180}, has_touch=True)
    sign_in(watched)
    watched.go("/tags/124/strip/")
    watched.keys.heard()
    href, x, y = watched.page.evaluate(BESIDE)
    watched.page.touchscreen.tap(x, y)
    watched.page.wait_for_url(f"**{href}*")
    assert watched.wrong == []


def test_keys_walk_find_and_list_themselves(browser, sample):
    watched = watch(browser, sample)
    page = watched.page
    sign_in_by_form(watched)
    watched.keys.press("/")
    expect(page.get_by_label("Find a tag")).to_be_focused()
    watched.keys.type("fireside")
    watched.keys.press("Enter")
    expect(page.locator(".tag")).to_have_count(1)
    page.locator(".tag__paper").click()
    expect(page).to_have_url(re.compile("/tags/124/strip/"))
    watched.keys.press("?")
    expect(page.get_by_role("dialog")).to_be_visible()
    expect(page.get_by_role("dialog")).to_contain_text("it's off")
    watched.keys.press("Escape")
    seat = page.get_by_role("link", name=re.compile("^Seat"))
    seat.focus()
    watched.keys.press("ArrowUp")
    expect(page.get_by_role("link", name=re.compile("^Inside back"))).to_be_focused()
    watched.keys.press("ArrowRight")
    expect(page.get_by_role("link", name=re.compile("^Inside wing, left"))).to_be_focused()
    watched.keys.press("Enter")
    expect(page.get_by_role("heading", name=re.compile("Not yet: inside wing, left"))).to_be_visible()
    assert watched.wrong == []


def test_units_change_for_the_eye_at_once(browser, sample):
    watched = watch(browser, sample)
    sign_in(watched)
    watched.go("/tags/118/trace/seat/")
    expect(watched.page.locator(".cut-size")).to_have_text("52.1 × 70.3 cm")
    watched.press("inch")
    expect(watched.page.locator(".cut-size")).to_have_text("20 1/2 × 27 5/8 in")
    watched.press("cm")
    expect(watched.page.locator(".cut-size")).to_have_text("52.1 × 70.3 cm")


def test_a_killed_worker_is_said_and_the_search_taken_up_again(browser, tmp_path):
    running = start(tmp_path / "home", "--sample", longest_search=40)
    try:
        watched = watch(browser, running)
        page = watched.page
        sign_in(watched)
        watched.go("/tags/118/lay/")
        watched.press("Lay again")
        expect(page.locator(".searching")).to_contain_text("Searching", timeout=60_000)
        worker = running.worker_pid()
        assert worker is not None
        os.kill(worker, signal.SIGKILL)
        expect(page.get_by_text("The worker ended before the search did")).to_be_visible(timeout=30_000)
        expect(page.locator(".placed")).not_to_have_count(0)
        for _ in range(40):
            if running.worker_pid() not in (None, worker):
                break
            time.sleep(0.25)
        watched.press("Lay again")
        expect(page.locator(".searching")).to_contain_text(re.compile("Searching"), timeout=60_000)
        assert watched.wrong == []
    finally:
        end(running)


def test_a_second_start_after_a_battery_died_keeps_what_the_user_did_and_the_clock_that_runs(browser, tmp_path):
    home = tmp_path / "home"
    running = start(home, "--sample")
    watched = watch(browser, running)
    sign_in(watched)
    watched.go("/tags/126/survey/")
    watched.page.locator("#frame").get_by_label("Wobbles, a joint is open").check()
    watched.page.locator("#frame").get_by_role("button", name="Save").click()
    expect(watched.page.locator("#frame .verdict b")).to_have_text("Strengthen")
    watched.keys.press("q")
    clock = watched.page.get_by_role("button", name=re.compile("^Stop"))
    expect(clock.get_by_role("timer")).to_have_text(re.compile(r"^\d\d:\d\d$"))
    pid = running.worker_pid()
    running.process.kill()  # as a battery that is empty does
    running.process.wait(60)
    os.kill(pid, signal.SIGKILL)
    again = start(home, "--sample")
    try:
        watched = watch(browser, again)
        sign_in(watched)
        expect(watched.page.locator(".tag")).to_have_count(9)
        watched.go("/tags/126/survey/")
        expect(watched.page.locator("#frame .verdict b")).to_have_text("Strengthen")
        second = watch(browser, again)  # a second tab, on another tag
        sign_in(second)
        second.go("/tags/118/pad/")
        expect(second.page.get_by_role("button", name=re.compile("^126 Survey"))).to_be_visible()
        second.keys.press("q")  # it comes over
        expect(second.page.get_by_role("button", name=re.compile("^Stop"))).to_be_visible()
        watched.page.reload()
        expect(watched.page.get_by_role("button", name=re.compile("^118 Pad"))).to_be_visible()
    finally:
        end(again)
    assert again.process.returncode == 0
