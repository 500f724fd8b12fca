"""Stripping at the bench in a real browser: by keyboard alone, by touch on a tablet, with a page closed and a second
tab.
"""

from __future__ import annotations

import re

import pytest
from PIL import Image
from playwright.sync_api import expect

from tests.browser.conftest import sign_in, sign_in_by_form, watch

pytestmark = pytest.mark.browser
OFF = re.compile("Off next")
A_HUM = """navigator.mediaDevices.getUserMedia = async () => {  // a microphone, where the browser has none
  const sound = new AudioContext(), hum = sound.createOscillator(), out = sound.createMediaStreamDestination();
  hum.connect(out);
  hum.start();
  return out.stream;
}"""


def heading(page) -> str:
    return page.get_by_role("heading", level=1).inner_text().split(":")[-1].strip()


def test_the_wing_chair_is_stripped_by_keyboard_alone_and_a_closed_page_loses_nothing(browser, sample):
    watched = watch(browser, sample)
    page, keys = watched.page, watched.keys
    sign_in(watched)
    watched.go("/")
    keys.press("/")
    keys.type("fireside")
    keys.press("Enter")
    page.wait_for_url(re.compile("q=fireside"))
    while not page.evaluate("document.activeElement.matches('.tag__paper')"):
        keys.press("Tab")
    keys.press("Enter")
    expect(page.get_by_role("heading", name=OFF)).to_contain_text("outside wing, left")

    # what lacks is said at once, and mended by key
    expect(page.get_by_text("Outside arm, right: no top marked").first).to_be_visible()
    page.get_by_role("link", name=re.compile("Outside arm, right: no top marked")).focus()
    keys.press("Enter")
    expect(page.locator("#hand")).to_contain_text("Outside arm, right")
    keys.press("k")
    expect(page.get_by_text("no top marked")).to_have_count(0)

    # the clock runs on while the page is closed
    keys.press("t")
    expect(page.get_by_role("timer")).to_be_visible()
    keys.press("Enter")  # off: the clock of this part stops with it
    expect(page.locator("#hand")).to_contain_text("Outside wing, left")
    keys.press("k")
    expect(page.locator("#hand input[value=top]")).to_be_checked()

    # a note and a fixing, kept as they are written; then the page is closed in the middle
    keys.press("w")
    keys.type("curve by 14 teeth, upper corner cut in")
    keys.press("Escape")
    expect(page.get_by_text("Kept.")).to_be_visible()
    page.locator("#hand input[name=fixings][value=tacks]").focus()
    keys.press("Space")
    expect(page.get_by_text("Kept.")).to_be_visible()
    keys.press("w")
    keys.press("End")
    with page.expect_response(lambda answer: "twice" in (answer.request.post_data or "")):
        keys.type(", twice")  # kept in the first pause, without leaving the box
    page.close()

    again = watch(browser, sample)
    page, keys = again.page, again.keys
    sign_in(again)
    again.go("/tags/124/strip/?part=outside_wing_left")
    expect(page.locator("#id_note")).to_have_value("curve by 14 teeth, upper corner cut in, twice")
    expect(page.locator("#hand input[name=fixings][value=tacks]")).to_be_checked()
    expect(page.locator("#hand input[name=marks][value=top]")).to_be_checked()

    # the rest, one key each; undo takes one back
    again.go("/tags/124/strip/")
    taken = []
    while page.get_by_role("heading", name=OFF).count():
        taken.append(heading(page))
        keys.press("Enter")
        page.wait_for_function(
            "name => document.querySelector('h1')?.innerText.endsWith(name) === false", arg=taken[-1]
        )
        keys.heard()
        if page.get_by_role("button", name=re.compile("All marks")).count():
            keys.press("k")
            page.wait_for_load_state()
            expect(page.locator("#hand input[value=top]")).to_be_checked()
    expect(page.get_by_role("heading", name="All off")).to_be_visible()
    assert len(taken) == 9
    assert taken[-1] == "front band and seat platform"
    keys.press("Control+z")
    expect(page.get_by_role("heading", name=OFF)).to_contain_text("front band and seat platform")
    keys.press("Enter")
    expect(page.get_by_role("heading", name="All off")).to_be_visible()
    expect(page.get_by_text("no top marked")).to_have_count(0)

    # at a later step the record of it all is one key away, and back is one key
    keys.press("6")
    expect(page).to_have_url(re.compile("/fasten/"))
    keys.press("h")
    expect(page.get_by_role("heading", name=re.compile("How it was"))).to_be_visible()
    keys.press("Escape")
    expect(page).to_have_url(re.compile("/fasten/"))
    assert watched.wrong + again.wrong == []


def test_a_second_tab_that_saves_an_older_version_is_refused_with_both_shown(browser, sample):
    first = watch(browser, sample)
    sign_in(first)
    first.go("/tags/118/strip/?part=seat")
    second = first.page.context.new_page()
    second.goto(f"{sample.address}/tags/118/strip/?part=seat")
    first.page.locator("#id_note").fill("front corners in two pleats")
    first.page.locator("#id_note").blur()
    expect(first.page.get_by_text("Kept.")).to_be_visible()
    second.locator("#id_note").fill("front corners flat")
    second.locator("#id_note").blur()
    expect(second.get_by_role("heading", name=re.compile("Changed meanwhile: seat", re.IGNORECASE))).to_be_visible()
    expect(second.get_by_role("cell", name="front corners in two pleats")).to_be_visible()
    expect(second.get_by_role("cell", name="front corners flat")).to_be_visible()
    expect(second.get_by_role("rowheader")).to_have_text(["Note"])  # what both say alike is not in the way
    second.get_by_role("link", name="Keep what stands").click()
    expect(second.locator("#id_note")).to_have_value("front corners in two pleats")


def test_a_drop_in_chair_is_surveyed_and_stripped_by_touch_on_a_tablet(browser, sample, tmp_path):
    context = browser.new_context(viewport={"width": 820, "height": 1180}, has_touch=True)
    page = context.new_page()
    page.set_default_timeout(40_000)
    page.goto(f"{sample.address}/login/")
    page.get_by_label("Username").fill("tomas")
    page.get_by_label("Password").fill("quayside")
    page.get_by_role("button", name=re.compile("^Sign in")).tap()
    page.get_by_role("link", name=re.compile("New tag")).tap()
    page.get_by_label("What it is").fill("Hall chair")
    page.get_by_label("Whose it is").fill("Oriel House")
    page.get_by_role("radio", name="Drop-in seat chair").tap()
    page.locator(".tick").filter(has_text="closed from behind last").tap()
    page.get_by_role("button", name=re.compile("Hang it up")).tap()

    # survey: chips by thumb, the verdict writes itself
    for layer, words in (
        ("frame", "Wobbles, a joint is open"),
        ("support", "Sags in the middle"),
        ("filling", "Crumbles to dust"),
        ("cover", "Worn, torn"),
    ):
        sheet = page.locator(f"#{layer}")
        sheet.locator(".tick").filter(has_text=words).tap()
        sheet.get_by_role("button", name="Save").tap()
        expect(page.locator(f"#{layer} .verdict")).to_be_visible()
    expect(page.locator("#support .verdict")).to_contain_text("needs webbing across, not more foam")

    # strip: off by thumb, and between two of them marks, fate, photo
    page.get_by_role("navigation", name="Steps").get_by_role("link", name=re.compile("^Strip")).tap()
    expect(page.get_by_role("heading", name=OFF)).to_be_visible()
    Image.new("RGB", (1400, 900), "#86aac4").save(tmp_path / "corner.jpg")
    count = 0
    while page.get_by_role("heading", name=OFF).count():
        name = heading(page)
        page.get_by_role("button", name=re.compile("^It's off")).tap()
        page.wait_for_function("name => !document.querySelector('h1').innerText.endsWith(name)", arg=name)
        count += 1
        if name == "outside back":
            for mark in ("Top", "Nap", "Centre"):
                page.locator("#hand .tick").filter(has_text=re.compile(rf"^\s*{mark}")).tap()
            page.locator("#hand .tick").filter(has_text="reference scrap").tap()
            expect(page.get_by_text("Kept.")).to_be_visible()
            page.locator("#hand input[type=file]").set_input_files(tmp_path / "corner.jpg")
            expect(page.get_by_text("Photo of the outside back kept.")).to_be_visible()
            page.goto(page.url.split("?")[0])
        small = page.evaluate(
            "[...document.querySelectorAll('main .btn, main .tick span, main summary')]"
            ".filter(e => e.getClientRects().length && e.getBoundingClientRect().height < 40)"
            ".map(e => e.textContent.trim())"
        )
        assert small == []
        assert page.evaluate("document.documentElement.scrollWidth") <= 821
    assert count == 7
    expect(page.locator(".record__photo img")).to_have_count(1)
    page.goto(f"{sample.address}/saved/")
    expect(page.get_by_text("outside back, reference scrap")).to_be_visible()
    context.close()


def test_a_photo_from_the_bench_camera_is_mended_by_keys_and_mouse_and_becomes_a_shape(browser, sample):
    watched = watch(browser, sample)
    page = watched.page
    sign_in(watched)
    watched.go("/tags/124/trace/inside_back/")
    watched.keys.press("f")
    page.get_by_label("Cover", exact=True).select_option(label="inside back")
    page.get_by_role("button", name="Photograph it").click()
    expect(page.locator(".mending__dot").first).to_be_visible()
    expect(page.get_by_text("May be out by about")).to_be_visible()
    count = page.locator(".mending__dot").count()
    first = page.locator(".mending__dot.is-in-hand")
    before = float(first.get_attribute("cx"))
    watched.keys.press("ArrowRight")
    watched.keys.press("Shift+ArrowRight")
    assert float(first.get_attribute("cx")) == pytest.approx(before + 11)
    watched.keys.press("Control+z")
    assert float(first.get_attribute("cx")) == pytest.approx(before + 1)
    watched.keys.press("Control+y")
    assert float(first.get_attribute("cx")) == pytest.approx(before + 11)
    watched.keys.press("n")
    watched.keys.press("x")
    expect(page.locator(".mending__dot")).to_have_count(count - 1)

    # by mouse: a point dragged, kept without a press though the page is left
    dot = page.locator(".mending__dot").nth(3)
    box = dot.bounding_box()
    with page.expect_response(lambda answer: answer.url.endswith("/photo/keep/")):
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        page.mouse.down()
        page.mouse.move(box["x"] + 30, box["y"] + 12, steps=4)
        page.mouse.up()
    moved = page.locator(".mending__dot").nth(3).get_attribute("cx")
    page.reload()
    assert float(page.locator(".mending__dot").nth(3).get_attribute("cx")) == pytest.approx(float(moved), abs=0.01)
    with page.expect_response(lambda answer: answer.url.endswith("/photo/keep/")):  # tidied, and kept as it is
        watched.keys.press("t")
    watched.keys.press("Enter")
    expect(page.get_by_text("Inside back: shape kept.")).to_be_visible()
    expect(page.locator(".cut-size")).to_be_visible()
    assert watched.wrong == []


def test_a_photo_from_the_phone_arrives_at_the_bench_and_what_was_typed_elsewhere_stays(browser, sample, tmp_path):
    bench = watch(browser, sample)
    sign_in(bench)
    bench.go("/tags/126/survey/")
    page = bench.page
    page.locator("#filling").get_by_label("Stays dented, a fifth of its height lost").check()
    page.locator("#frame").get_by_label("Wobbles, a joint is open").check()
    page.locator("#frame").get_by_role("button", name="Save").click()
    expect(page.locator("#frame .verdict b")).to_have_text("Strengthen")
    expect(page.locator("#filling").get_by_label("Stays dented, a fifth of its height lost")).to_be_checked()

    phone = watch(browser, sample, viewport={"width": 390, "height": 800})
    sign_in_by_form(phone)
    bench.go("/tags/124/strip/?part=outside_back")
    expect(page.locator("#hand h2")).to_contain_text("Outside back")
    before = page.locator("#hand .photo-row img").count()
    phone.go("/tags/124/strip/?part=outside_back")
    photo = tmp_path / "back.jpg"
    Image.new("RGB", (600, 400), "tan").save(photo)
    with phone.page.expect_navigation():
        phone.page.locator("#hand input[type=file]").first.set_input_files(photo)
    expect(page.locator("#hand .photo-row img")).to_have_count(before + 1)
    assert bench.wrong == []
    assert phone.wrong == []


def test_a_note_is_spoken_over_the_part_in_hand_kept_as_sound_and_played_with_the_record(browser, sample):
    watched = watch(browser, sample)
    page = watched.page
    sign_in(watched)
    page.add_init_script(A_HUM)
    watched.go("/tags/124/strip/?part=outside_back")
    page.get_by_role("button", name="Speak it").click()
    page.wait_for_timeout(400)  # what is said
    page.get_by_role("button", name="Stop and keep").click()
    expect(page.get_by_text("Spoken note kept")).to_be_visible()
    watched.go("/tags/124/strip/look/outside_back/")
    sound = page.locator("main audio").first.get_attribute("src") or ""
    content = page.request.get(watched.address + sound).body()
    assert content[:4] == b"\x1a\x45\xdf\xa3", "a WebM recording"
    assert watched.wrong == []


def test_where_no_microphone_may_be_used_that_is_said_and_typing_goes_on(browser, sample):
    watched = watch(browser, sample)
    sign_in(watched)
    watched.page.add_init_script("navigator.mediaDevices.getUserMedia = () => Promise.reject(new Error('none'))")
    watched.go("/tags/124/strip/?part=seat")
    watched.page.get_by_role("button", name="Speak it").click()
    expect(watched.page.get_by_text("No microphone may be used here.")).to_be_visible()
    expect(watched.page.get_by_role("button", name="Speak it")).to_be_visible()
    assert watched.wrong == []


def test_what_is_pressed_after_the_sign_in_has_ended_is_not_said_to_be_kept(browser, sample):
    watched = watch(browser, sample)
    page = watched.page
    sign_in(watched)
    watched.go("/tags/119/fasten/top/")
    watched.keys.heard()
    page.context.clear_cookies(name="sessionid")
    watched.keys.press("Space")
    expect(page.get_by_text("Not kept: the application did not answer.")).to_be_visible()
    watched.go("/tags/124/strip/?part=seat")
    expect(page.get_by_label("Username")).to_be_visible()
