"""What a key does is what stands beside it, and whatever has the focus shows it."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Error, expect

from tests.browser.conftest import HEARD, asked, sign_in, watch

pytestmark = pytest.mark.browser
RING = """() => {
  const here = document.activeElement;
  const drawn = here.matches("input[type=radio], input[type=checkbox]") && here.nextElementSibling;
  const own = getComputedStyle(here);
  // a hidden box shows it on its words
  const at = own.outlineStyle === "none" && drawn ? getComputedStyle(drawn) : own;
  return [here.tagName, here.className.toString(), at.outlineStyle, parseFloat(at.outlineWidth)];
}"""
WHAT = "document.activeElement.outerHTML.slice(0, 160)"
PAGES = (
    "/",
    "/tags/new/",
    "/tags/124/survey/",
    "/tags/124/strip/",
    "/tags/123/trace/top/",
    "/tags/127/lay/",
    "/tags/118/money/",
)


def test_every_button_box_and_link_that_takes_the_focus_shows_a_ring(browser, sample):
    watched = watch(browser, sample)
    sign_in(watched)
    for path in PAGES:
        watched.go(path)
        watched.keys.heard()
        kinds, bare = set(), []
        for _ in range(70):
            watched.page.keyboard.press("Tab")
            tag, classes, style, width = watched.page.evaluate(RING)
            if tag in ("BODY", "HTML"):
                break
            kinds.add(tag)
            if (style, width) != ("solid", 3) and tag not in (
                "svg",
                "g",
                "a",
            ):  # a panel of a drawing is outlined thicker itself
                bare.append(f"{path}: {tag}.{classes}: {style} {width} {watched.page.evaluate(WHAT)}")
        assert not bare
        assert {"BUTTON", "A"} <= kinds
    assert watched.wrong == []


def test_a_key_of_the_page_wins_over_the_header_and_the_header_does_not_promise_it(browser, sample):
    watched = watch(browser, sample)
    page = watched.page
    sign_in(watched)
    watched.go("/tags/118/lay/")
    watched.keys.heard()
    page.get_by_role("link", name=re.compile("^By hand")).first.click()
    expect(page.locator("main [data-key=r]")).to_be_visible()
    at = page.url
    watched.keys.press("r")  # would lay the rest round the pins; nothing is pinned, and it does not leave for the rack
    expect(page.locator("main [data-key=r]")).to_be_disabled()
    assert page.url == at
    watched.keys.press("?")
    expect(page.locator("dialog.keys")).to_be_visible()
    expect(page.get_by_text("back to the rack", exact=True)).to_be_hidden()
    page.keyboard.press("Escape")
    watched.go("/tags/118/money/")
    watched.keys.press("r")
    page.wait_for_url(watched.address + "/")
    assert watched.wrong == []


HALF_READ = """() => {
  document.open();
  document.write("<!doctype html><p>The first half");
  setTimeout(() => {
    document.write("<div x-data=benchKeys>");
    document.documentElement.dataset.keys = "on";
    document.close();
  }, 200);
}"""


def test_a_key_is_not_pressed_on_a_page_that_already_leaves_or_is_still_being_read(browser, sample):
    watched = watch(browser, sample)
    sign_in(watched)
    watched.go("/fortnight/hours/")
    watched.keys.heard()
    leaves = f"() => {{ document.querySelector('main [data-key=escape]').click(); return ({HEARD})(); }}"
    with pytest.raises(Error, match=r"destroyed|navigat"):  # nothing is said any more
        watched.page.evaluate(leaves)
    watched.keys.press("w")
    expect(watched.page.get_by_role("heading", name="Quayside Workroom, from")).to_be_visible()
    watched.page.evaluate(HALF_READ)
    assert asked(watched.page, HEARD) is True, "asked once the page is read, not before its body is there"
    assert watched.wrong == []
