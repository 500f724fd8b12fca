"""The lay under the hand in a real browser: by mouse, keys and thumb; cloths side by side."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import sign_in, watch

pytestmark = pytest.mark.browser


def middle(page: Page, key: str) -> tuple[float, float]:
    box = page.locator(f'g[data-id="{key}"] .placed').bounding_box()
    assert box is not None
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def ready_by_hand(watched) -> list[str]:
    """Open the bar stools' lay by hand, once its search is through; return the pieces' keys."""
    page = watched.page
    sign_in(watched)
    watched.go("/tags/127/lay/")
    expect(page.get_by_role("link", name="By hand")).to_be_visible(timeout=60_000)
    page.get_by_role("link", name="By hand").click()
    expect(page.locator(".hand-words")).to_contain_text("Nothing wrong")
    return [g.get_attribute("data-id") or "" for g in page.locator("g.by-hand").all()]


def test_a_piece_is_dragged_onto_another_refused_undone_and_the_rest_laid_round_three_pins(browser, sample):
    watched = watch(browser, sample)
    page = watched.page
    keys = ready_by_hand(watched)
    first, second = middle(page, keys[0]), middle(page, keys[1])
    page.mouse.move(*first)
    page.mouse.down()
    page.mouse.move((first[0] + second[0]) / 2, (first[1] + second[1]) / 2)
    page.mouse.move(*second)
    page.mouse.up()
    expect(page.locator(".hand-wrong").first).to_contain_text(re.compile(r"mm over|beyond|selvage"))
    expect(page.locator("g.is-wrong")).not_to_have_count(0)
    expect(page.get_by_role("button", name="Keep this lay")).to_be_disabled()
    watched.page.keyboard.press("Control+z")
    expect(page.locator(".hand-words")).to_contain_text("Nothing wrong")
    page.locator(f'g[data-id="{keys[0]}"]').focus()
    page.keyboard.press("Shift+ArrowLeft")
    expect(page.locator(".hand-wrong").first).to_be_visible()
    watched.page.keyboard.press("Control+z")
    expect(page.locator(".hand-words")).to_contain_text("Nothing wrong")
    for number, key in enumerate(keys[:3]):
        page.locator(f'g[data-id="{key}"]').focus()
        watched.keys.press("p")
        expect(page.locator(".hand-words")).to_contain_text(f"{number + 1} pinned")
    page.get_by_role("button", name="Lay the rest round the pins").click()
    expect(page).to_have_url(re.compile(r"/tags/127/lay/\d+/$"))
    expect(page.get_by_role("button", name="Lay again")).to_be_visible(timeout=60_000)
    expect(page.locator("g[data-id]")).not_to_have_count(0)
    assert watched.wrong == []


def test_a_thumb_moves_a_piece_on_a_tablet(browser, sample):
    watched = watch(browser, sample, viewport={"width": 820, "height": 1180})
    page = watched.page
    keys = ready_by_hand(watched)
    thumb = page.context.new_cdp_session(page)
    x, y = middle(page, keys[-1])
    for kind, at in (("touchStart", (x, y)), ("touchMove", (x + 30, y)), ("touchMove", (x + 160, y - 30)), ("touchEnd", None)):
        thumb.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": [{"x": at[0], "y": at[1]}] if at else []})
    expect(page.get_by_role("button", name=re.compile("^Undo"))).to_be_enabled()
    moved = middle(page, keys[-1])
    assert abs(moved[0] - x) + abs(moved[1] - y) > 20
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(page.locator(".hand-words")).to_contain_text("Nothing wrong")
    assert watched.wrong == []


def test_cloths_are_laid_side_by_side_and_watched(browser, sample):
    watched = watch(browser, sample)
    page = watched.page
    sign_in(watched)
    watched.go("/tags/122/lay/")
    expect(page.locator("#cloth-tile")).to_have_count(1)
    watched.keys.press("t")
    expect(page.get_by_role("heading", name="Cloths side by side")).to_be_visible()
    expect(page.get_by_text("No cloth on trial yet")).to_be_visible()
    watched.press("Lay them all")
    expect(page.locator(".trial")).to_have_count(7)
    expect(page.locator(".trial--own")).to_contain_text("Gannet, teal")
    expect(page.locator(".trial__cost").first).to_contain_text("€")
    expect(page.locator(".trial__move [role=status]")).to_have_count(0, timeout=120_000)
    assert watched.wrong == []
