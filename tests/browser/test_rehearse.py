"""A rehearsal in a real browser: a stool stapled by thumb and by key, an order beside it, a fault drawn, a score."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import sign_in, watch

pytestmark = pytest.mark.browser
SIZES = {"mouse": (1280, 800), "thumb": (820, 1180)}


def told(page: Page) -> Locator:
    return page.locator(".rehearsal .puton__now")


def figure(page: Page, number: int = 0) -> float:
    words = page.locator(".rehearsal-figures dd").nth(5 * number).inner_text()
    return float(words.split()[0])


def touch(page: Page, where: Locator, by: str) -> None:
    where.scroll_into_view_if_needed()
    if by == "thumb":
        box = where.bounding_box()
        page.touchscreen.tap(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    else:
        where.click()


@pytest.mark.parametrize("by", list(SIZES))
def test_a_stool_is_stapled_cross_first_and_round_and_round_and_judged(browser, sample, by):
    width, height = SIZES[by]
    watched = watch(browser, sample, viewport={"width": width, "height": height}, has_touch=by == "thumb")
    sign_in(watched)
    page = watched.page
    watched.go("/practice/round_stool/" if by == "thumb" else "/practice/stool/")
    watched.keys.heard()
    page.get_by_role("button", name=re.compile("^Begin anew")).click() if "staple" in told(page).inner_text() else None
    spots = page.locator("[data-spot]")
    expect(told(page)).to_have_text("The cloth lies loose")
    whole = spots.count()
    offs = []
    for number, order in enumerate(("opposite", "round")):
        step = whole // 2
        for k in range(6):
            left = spots.count()
            touch(page, spots.nth(0 if order == "opposite" else k % 2 * min(step, 1)), by)
            expect(spots).to_have_count(left - 1)
        expect(told(page)).to_have_text(f"{6 + 6 * number} staples in")
        offs.append(figure(page))
    page.keyboard.press("Backspace")
    expect(told(page)).to_have_text("11 staples in")
    page.keyboard.press("ArrowRight")
    expect(page.locator("[data-spot].is-chosen")).to_have_count(1)
    page.keyboard.press("Enter")
    expect(told(page)).to_have_text("12 staples in")
    touch(page, page.locator("[data-pin='2'] circle"), by)
    expect(page.locator(".rehearsal-held")).to_be_visible()
    page.keyboard.press("+")
    expect(page.locator("[data-pin].is-held")).to_have_count(1)
    page.keyboard.press("Delete")
    expect(told(page)).to_have_text("11 staples in")
    while spots.count():
        left = spots.count()
        page.keyboard.press("ArrowRight")
        page.keyboard.press("Enter")
        expect(spots).to_have_count(left - 1)
    page.get_by_role("button", name=re.compile("^Judge it")).click()
    expect(page.locator(".rehearsal .notice[role=status]")).to_contain_text("of 100")
    watched.go("/practice/")
    expect(page.locator(".practice-list")).to_contain_text("of 100, your best of")
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    assert watched.wrong == []


def test_an_order_is_played_beside_another_and_what_is_drawn_names_staples(browser, sample):
    watched = watch(browser, sample)
    sign_in(watched)
    page = watched.page
    watched.go("/tags/119/fasten/top/?stage=staples")
    watched.keys.heard()
    page.keyboard.press("t")
    expect(told(page)).to_have_text("The cloth lies loose")
    page.get_by_role("button", name="Cross first").click()
    expect(told(page)).to_contain_text("staples in")
    page.get_by_role("link", name="round and round").click()
    expect(page.locator(".rehearsal-board")).to_have_count(2)
    assert figure(page) > 0
    assert figure(page, 1) > 0
    page.get_by_role("link", name=re.compile("Find the fault")).click()
    expect(told(page)).to_have_text("Find the fault")
    watched.keys.heard()
    box = page.locator(".sheet-edge").bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 6)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2 + 2, box["y"] + 60, steps=6)
    page.mouse.up()
    expect(page.locator(".sheet-sight")).to_have_count(1)
    page.keyboard.press("Enter")
    expect(page.locator(".rehearsal-suspects li").first).to_contain_text("Staple 1,")
    expect(page.locator(".sheet-pin.is-fault").first).to_be_visible()
    page.keyboard.press("Backspace")
    expect(page.locator(".sheet-sight")).to_have_count(0)
    page.keyboard.press("w")
    expect(page).to_have_url(re.compile("/fasten/top/"))
    assert watched.wrong == []
