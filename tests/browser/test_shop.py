"""The shop in a real browser: a fortnight planned, pinned and slipped; a quote sent and said yes to; stock ordered."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import sign_in, watch

pytestmark = pytest.mark.browser
PLANNED = re.compile("Planned in")


def test_a_fortnight_is_planned_pinned_by_hand_and_planned_anew_when_a_wait_slips(browser, sample):
    watched = watch(browser, sample)
    sign_in(watched)
    page = watched.page
    watched.go("/")
    watched.keys.press("f")
    expect(page.get_by_role("heading", level=1)).to_have_text("All in time")
    expect(page.get_by_text(PLANNED)).to_be_visible()
    spell = page.locator("[data-spell]").filter(has_text="118").first
    box, day = spell.bounding_box(), page.locator("[data-day]").nth(7).bounding_box()
    lane = page.locator("[data-worker=tomas]").nth(1).bounding_box()
    page.mouse.move(box["x"] + 4, box["y"] + 12)
    page.mouse.down()
    page.mouse.move(day["x"] + 30, lane["y"] + 20, steps=8)
    page.mouse.up()
    expect(page.get_by_role("status").first).to_contain_text(re.compile(r"^118: .+ is pinned to .+, tomas\."))
    expect(page.locator(".week__pin")).to_have_count(1)
    expect(page.get_by_text(PLANNED)).to_be_visible()
    expect(page.get_by_text("where you put it")).to_be_visible()
    pinned = page.locator("[data-spell]:has(.week__pin)")
    pinned.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Pinned here")).to_be_visible()
    page.get_by_role("button", name="Take the pin out").click()
    expect(page.get_by_text("118 is free to move again.")).to_be_visible()
    expect(page.locator(".week__pin")).to_have_count(0)
    watched.go("/tags/118/lay/{Skerry, slate}/buy/")  # the cloth is ordered: it comes in three days
    page.get_by_role("button", name=re.compile("^Order")).first.click()
    expect(page.get_by_text(re.compile("Ordered: "))).to_be_visible()
    watched.go("/fortnight/")
    expect(page.get_by_text(PLANNED)).to_be_visible()
    expect(page.get_by_text(re.compile("118: cut moved from .+ because .+ takes longer"))).to_be_visible()
    for key, heading in (("h", "Hours and days off"), ("w", "Quayside Workroom, from")):
        watched.keys.press(key)
        expect(page.get_by_role("heading", name=heading)).to_be_visible()
        watched.keys.press("Escape")
        expect(page.get_by_role("heading", level=1)).to_have_text("All in time")
    assert watched.wrong == []


def test_a_quote_is_sent_the_client_says_yes_and_the_tag_moves(browser, sample):
    watched = watch(browser, sample)
    sign_in(watched)
    page = watched.page
    watched.go("/tags/118/")
    watched.keys.press("m")
    watched.keys.press("o")
    page.get_by_label("keep the foam that is in it").check()
    page.get_by_label("another count").fill("1")
    watched.press("Work them out")
    expect(page.get_by_role("heading", name=re.compile("One of them"))).to_be_visible()
    page.get_by_label("A few words to them").fill("Ready for the season")
    watched.press("Keep it and make the link")
    link = page.get_by_label("Link for the client").input_value()
    watched.go("/")
    tag = page.locator("li.tag").filter(has_text="Foyer side chairs")
    expect(tag).to_contain_text("their yes on the quote")
    theirs = browser.new_context(viewport={"width": 390, "height": 800})  # a phone that has never signed in
    try:
        client = theirs.new_page()
        client.goto(link)
        expect(client.get_by_text("Ready for the season")).to_be_visible()
        assert client.evaluate("document.documentElement.scrollWidth") <= 391
        client.get_by_role("button", name="Yes, please do it").click()
        expect(client.get_by_role("alert")).to_have_text("Pick what you say yes to.")
        client.get_by_label("This one").nth(1).check()
        client.get_by_role("button", name="Yes, please do it").click()
        expect(client.get_by_role("status")).to_contain_text("foam kept")
        client.goto(f"{watched.address}/tags/118/money/")
        expect(client).to_have_url(re.compile("/login/"))
    finally:
        theirs.close()
    watched.go("/")
    expect(tag).to_contain_text("foam kept")
    expect(tag).not_to_contain_text("their yes on the quote")
    assert watched.wrong == []


def test_what_is_short_is_ordered_by_a_key_and_taken_in(browser, sample):
    watched = watch(browser, sample, viewport={"width": 820, "height": 1180})
    sign_in(watched)
    page = watched.page
    watched.go("/stock/")
    expect(page.get_by_role("heading", level=1)).to_contain_text("short this week")
    watched.keys.press("o")
    expect(page.get_by_text(re.compile("Ordered: "))).to_be_visible()
    page.locator(".stock-came").filter(has_text="Staples").get_by_role("button").click()
    expect(page.get_by_text("In stock: staples.")).to_be_visible()
    watched.go("/tags/118/money/gather/")
    page.get_by_label("Shears lies ready").check()
    expect(page.get_by_role("heading", level=1)).to_contain_text("1 of")
    page.reload()
    expect(page.get_by_label("Shears lies ready")).to_be_checked()
    watched.go("/record/")
    page.get_by_label("Words").fill("corner")
    watched.press("Look it up")
    expect(page.locator(".record-list li").first).to_be_visible()
    assert watched.wrong == []
