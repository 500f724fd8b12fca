"""The sample's wing chair and ottoman put on, trimmed, finished, handed over: by key, by thumb, by voice."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import sign_in, watch

pytestmark = pytest.mark.browser
# the browser's own voice, of which only what it is asked to say is kept
VOICE = """window.spoken = [];
window.SpeechSynthesisUtterance = class { constructor(words) { this.text = words; } };
Object.defineProperty(window, "speechSynthesis", {
  value: { speak: (one) => window.spoken.push(one.text), cancel: () => {} },
});"""


def wide(page) -> bool:
    return page.evaluate("document.documentElement.scrollWidth <= document.documentElement.clientWidth + 1")


def test_the_wing_chair_s_back_goes_on_by_thumb_and_voice_from_its_pad_to_the_last_look(browser, sample):
    watched = watch(browser, sample, viewport={"width": 820, "height": 1180}, has_touch=True)
    sign_in(watched)
    page = watched.page
    page.add_init_script(VOICE)
    watched.go("/tags/124/pad/inside_back/")
    page.get_by_role("button", name="This is the pad").tap()
    expect(page.locator(".pad-tabs [aria-current].is-done")).to_have_count(1)
    watched.go("/tags/124/fasten/inside_back/")
    watched.keys.heard()
    expect(page.locator(".puton__before")).to_contain_text("✓ its pad is built up")
    expect(page.get_by_role("heading", name="Look before the second staple")).to_be_visible()
    page.get_by_role("button", name=re.compile("Its top is up")).tap()
    expect(page.locator("[aria-pressed=true]", has_text="Its top is up")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Done, on to")).tap()
    watched.keys.heard()
    expect(page.get_by_role("heading", name="Staple 1")).to_be_visible()
    expect(page.locator(".puton__say")).to_contain_text("Middle of the top edge")
    page.get_by_role("button", name="Speak").tap()
    for _ in range(3):
        page.get_by_role("button", name=re.compile("^Next")).tap()
    expect(page.locator(".staple-group.is-in")).to_have_count(3)
    said = page.evaluate("window.spoken")
    assert [words.split(".")[0] for words in said] == ["Staple 1", "Staple 2", "Staple 3", "Staple 4"]
    assert "Opposite staple 1" in said[1]
    expect(page.locator("[data-kept=yes]")).to_have_count(1)

    watched.go("/tags/124/fasten/inside_back/?stage=staples")  # closed and come back
    watched.keys.heard()
    expect(page.locator(".staple-group.is-in")).to_have_count(3)
    page.get_by_label("Seconds between two staples").select_option("3")
    page.get_by_role("button", name="Beat").tap()
    expect(page.locator(".staple-group.is-in")).to_have_count(4, timeout=8000)
    page.get_by_role("button", name="Beat").tap()
    page.get_by_role("button", name=re.compile("All of this one")).tap()
    expect(page.get_by_role("heading", name="All in")).to_be_visible()
    expect(page.locator("[data-kept=yes]")).to_have_count(1)

    page.get_by_role("link", name=re.compile("^On to")).tap()
    expect(page).to_have_url(re.compile("stage=cuts"))
    page.get_by_label("Its middle, from the left").fill("6")
    page.get_by_label("From the front or lower edge").fill("4")
    page.get_by_label("How wide").fill("40")
    page.get_by_label("Cut", exact=True).select_option("y")
    page.get_by_role("button", name="Reckon the cut").tap()
    expect(page.locator("svg .post")).to_have_count(1)
    expect(page.locator("svg .cut")).to_have_count(3)
    page.get_by_role("button", name=re.compile("^Done, on to")).tap()
    expect(page).to_have_url(re.compile("stage=surplus"))
    page.get_by_role("button", name=re.compile("^Done, on to")).tap()
    page.locator("summary", has_text="A ripple along an edge").tap()
    page.get_by_label("Where, in words").first.fill("above the left arm")
    page.get_by_role("button", name="Found it").first.tap()
    expect(page.locator(".puton__side")).to_contain_text("above the left arm")
    page.get_by_role("button", name="Cured").tap()
    page.get_by_role("button", name=re.compile("^It is on")).tap()
    expect(page.locator(".pad-tabs [aria-current].is-done")).to_have_count(1)
    assert wide(page)
    assert watched.wrong == []


def test_the_ottoman_is_sewn_folded_trimmed_finished_and_handed_over_by_key(browser, sample):
    watched = watch(browser, sample)
    sign_in(watched)
    page = watched.page
    watched.go("/tags/123/fasten/top/?stage=sew")
    page.add_init_script(VOICE)
    watched.keys.heard()
    first = page.locator("h1.puton__now").inner_text()
    watched.keys.press("Space")
    expect(page.locator("h1.puton__now")).not_to_have_text(first)
    assert page.locator("svg .seam.is-now").count() >= 1
    watched.keys.press("Backspace")
    expect(page.locator("h1.puton__now")).to_have_text(first)
    for _ in range(9):
        watched.keys.press("Space")
    expect(page.locator("h1.puton__now")).to_have_text("All sewn")
    expect(page.locator("[data-kept=yes]")).to_have_count(1)
    page.reload()
    watched.keys.heard()
    expect(page.locator("h1.puton__now")).to_have_text("All sewn")

    watched.go("/tags/127/fasten/seat/?stage=corners")
    watched.keys.press("Space")
    expect(page.locator("figure.is-now")).to_contain_text("Side over the front")
    page.get_by_role("button", name="Triangle").click()
    expect(page.locator("h2", has_text="Triangle")).to_be_visible()
    watched.keys.press("Enter")
    expect(page).to_have_url(re.compile("stage=cuts"))

    watched.go("/tags/123/trim/")
    expect(page.locator(".trim-line.is-listed")).to_have_count(4)
    page.get_by_role("link", name="Nails").first.click()
    page.get_by_label("Apart, middle to middle").fill("30")
    page.get_by_label("From corner to corner").fill("56, 46, 56, 46")
    page.get_by_role("button", name=re.compile("Nail this line")).click()
    expect(page.locator(".nail--corner")).to_have_count(4)
    watched.keys.press("Space")
    expect(page.locator(".nail.is-in")).to_have_count(1)
    with page.expect_download() as strip:
        page.get_by_role("link", name=re.compile("Paper strip")).click()
    assert strip.value.path().read_bytes().startswith(b"%PDF")

    watched.go("/tags/123/finish/")
    page.get_by_label("Wood of one, m²").fill("0.3")
    page.get_by_role("button", name="Plan the coats").click()
    page.get_by_label("A coat of").select_option("oil")
    page.get_by_role("button", name="A coat more").click()
    expect(page.locator(".puton__runs")).to_contain_text("Oil")
    for _ in range(5):
        page.get_by_role("button", name="The next is done").click()
    expect(page.locator("body")).to_contain_text("oil dries, until")
    page.get_by_label("Care, as the seller").fill("Vacuum, no water")
    page.get_by_role("button", name="Keep it").click()
    with page.expect_download() as paper:
        page.get_by_role("link", name="Paper for the client").click()
    assert paper.value.path().read_bytes().startswith(b"%PDF")
    assert wide(page)
    assert watched.wrong == []
