"""The sample's wing chair padded from the frame up, by mouse and by thumb; a change of foam reaches cut size, lay and
purchase.
"""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import sign_in, watch

pytestmark = pytest.mark.browser
WING = "/tags/124/pad/"
LAYERS = ["wadding", "foam", "edge roll", "hessian", "sinuous springs"]


def names(page) -> list[str]:
    return [each.split("\n")[0].strip() for each in page.locator(".pad-layer__name").all_inner_texts()][:-1]


def thickness(page, name: str):
    return page.locator(f".pad-layer[data-place]:has(.pad-layer__name:text-is('{name}')) [name$=-thickness]")


def drag(page, across, *, by: float = 0.0, right: float = 0.0, touch: bool) -> None:
    """Drag something up and to the right by so many pixels, by mouse or by thumb."""
    across.scroll_into_view_if_needed()
    box = across.bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    if not touch:
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + right, y - by, steps=4)
        page.wait_for_timeout(150)
        page.mouse.up()
        return
    session = page.context.new_cdp_session(page)
    at = [{"x": x, "y": y}]
    session.send("Input.dispatchTouchEvent", {"type": "touchStart", "touchPoints": at})
    for step in range(1, 5):
        at = [{"x": x + right * step / 4, "y": y - by * step / 4}]
        session.send("Input.dispatchTouchEvent", {"type": "touchMove", "touchPoints": at})
    page.wait_for_timeout(150)
    session.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})


@pytest.mark.parametrize("by", ["mouse", "thumb"])
def test_the_wing_chair_is_padded_from_the_frame_up(browser, sample, by):
    touch = by == "thumb"
    size = {"width": 820, "height": 1180} if touch else {"width": 1280, "height": 800}
    watched = watch(browser, sample, viewport=size, has_touch=touch)
    sign_in(watched)
    page = watched.page
    watched.go(WING)
    watched.keys.heard()
    press = (lambda what: what.tap()) if touch else (lambda what: what.click())
    step = page.locator(".tape [aria-current] .tape__figure")
    button = page.get_by_role("button", name="This is the pad")
    assert names(page) == LAYERS, "the usual seat is shown, its wood below"
    expect(step).to_have_text("0 of 9 pads")
    expect(page.locator(".pad-sits")).to_have_text("110 mm under the cover")
    press(button)
    expect(step).to_have_text("1 of 9 pads")

    thickness(page, "foam").fill("100")
    expect(page.locator(".pad-sits")).to_have_text("132 mm under the cover")
    thickness(page, "foam").fill("0")
    expect(page.locator(".pad-trouble")).to_contain_text("3 to 300 mm thick")
    thickness(page, "foam").fill("75")
    expect(page.locator(".pad-trouble")).to_be_hidden()
    expect(page.locator(".pad-sits")).to_have_text("110 mm under the cover")  # drawn anew, before a layer is gripped
    drag(page, page.locator(".pad-cut .pad-line--foam"), by=24, touch=touch)
    expect(thickness(page, "foam")).to_have_value(re.compile(r"^(8\d|9\d|1\d\d)$"))  # kept, and shown again
    page.keyboard.press("Control+z")
    expect(thickness(page, "foam")).to_have_value("75")

    page.get_by_label("Layer to add").select_option("cotton")
    press(page.get_by_role("button", name="Add layer"))
    expect(page.locator(".pad-layer[data-place]")).to_have_count(6)
    press(page.get_by_role("button", name="Drop the cotton"))
    expect(page.locator(".pad-layer[data-place]")).to_have_count(5)

    press(page.locator("summary", has_text="Heights"))
    page.get_by_label("Floor to the rail's top").fill("34")
    page.get_by_label("Seat height as it was").fill("44")
    press(button)
    expect(page.locator(".pad-sits")).to_have_text("Sits 9.5 mm higher")

    for number in range(2, 10):  # a pair is padded in one go: the other side is chosen with it
        on = page.locator("main [data-key=g]")
        if not on.count():
            break
        press(on)
        watched.keys.heard()
        press(button)
        expect(page.locator(".pad-tabs [aria-current].is-done")).to_have_count(1)
        assert number < 10
    expect(step).to_have_text("9 of 9 pads")
    expect(page.locator(".pad-tabs a.is-done")).to_have_count(9)
    assert "sheet" in page.locator(".pad-below").nth(1).inner_text()
    assert page.locator(".pad-piece").count() >= 9
    assert [w for w in watched.wrong if "422" not in w] == []


@pytest.mark.parametrize("by", ["mouse", "thumb"])
def test_buttons_and_channels_are_dragged_on_the_plan(browser, sample, by):
    touch = by == "thumb"
    size = {"width": 820, "height": 1180} if touch else {"width": 1280, "height": 800}
    watched = watch(browser, sample, viewport=size, has_touch=touch)
    sign_in(watched)
    page = watched.page
    watched.go("/tags/124/pad/inside_back/")
    watched.keys.heard()
    lines = page.locator("[data-channel]")
    apart = page.get_by_label("Lines apart")
    page.locator("summary", has_text="Channels").click()
    apart.fill("10")
    expect(lines.first).to_be_attached()
    page.get_by_role("button", name="This is the pad").click()
    expect(page.locator(".pad-tabs [aria-current].is-done")).to_have_count(1)
    before = lines.count()
    drag(page, lines.first, right=18, touch=touch)
    expect(apart).to_have_value(re.compile(r"^1[1-9](\.\d)?$"))
    assert 0 < lines.count() < before, "wider ones are fewer"
    watched.keys.press("Control+z")
    expect(apart).to_have_value("10")
    expect(lines).to_have_count(before)
    drag(page, lines.first, right=-400, touch=touch)
    expect(apart).to_have_value("2")  # no narrower, wherever the hand goes
    apart.fill("0")

    page.locator("summary", has_text="Buttons").click()
    page.get_by_label("Rows").fill("2")
    page.get_by_label("In a row").fill("3")
    page.get_by_label("Apart, across").fill("12")
    page.get_by_label("Apart, down").fill("12")
    expect(page.locator("[data-button]")).to_have_count(6)
    plan = page.locator(".pad-plan")  # drawn as told, before one is gripped
    expect(plan).to_have_attribute("data-across", re.compile(r"^120\b"))
    expect(plan).to_have_attribute("data-down", re.compile(r"^120\b"))
    drag(page, page.locator("[data-button]").first, right=8, by=-8, touch=touch)
    expect(page.get_by_label("Apart, across")).to_have_value(re.compile(r"^(9|10|11)(\.\d)?$"))  # both ways at once
    expect(page.get_by_label("Apart, down")).not_to_have_value("12")
    assert watched.wrong == []


def test_a_change_of_foam_reaches_cut_size_lay_and_purchase(browser, sample):
    """Tag 119, a round stool: 25 mm more foam, less a tenth: 22.5 mm on each side, 45 mm more each way."""
    watched = watch(browser, sample)
    sign_in(watched)
    page = watched.page
    watched.go("/tags/119/pad/")
    watched.keys.heard()
    before = page.locator(".pad-below").nth(1).inner_text()
    assert "firm foam" in before
    thickness(page, "foam").fill("75")
    page.get_by_role("button", name="This is the pad").click()
    expect(page.locator(".notice--done")).to_contain_text("+22 mm")
    expect(page.locator(".notice[role=alert]")).to_contain_text("is out of date")
    assert "75 mm" in page.locator(".pad-below").nth(1).inner_text()
    watched.go("/tags/119/money/")
    expect(page.locator("main")).to_contain_text("Firm foam, 75 mm")
    watched.go("/tags/119/lay/")
    expect(page.locator("main")).to_contain_text("out of date")
    watched.go("/tags/119/pad/")
    watched.keys.press("Control+z")
    expect(page.locator(".notice[role=alert]")).to_have_count(0)
    assert watched.wrong == []
