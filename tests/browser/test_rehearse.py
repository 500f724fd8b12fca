"""A rehearsal in a real browser: a stool stapled by thumb and by key, an order beside it, a fault drawn, a score."""

from __future__ import annotations

import math
import re

import pytest
from PIL import Image, ImageDraw
from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import sign_in, touched, watch
from zonatome.core.fasten.rehearsal.seat_photo import homography

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
    expect(told(page)).to_have_text("26 staples in")  # what the sample's people have rehearsed
    expect(page.locator("[data-played=found]")).to_be_visible()
    watched.keys.press("x")
    expect(told(page)).to_have_text("The cloth lies loose")
    page.get_by_role("button", name="Cross first").click()
    expect(told(page)).to_contain_text("staples in")
    page.get_by_role("link", name="round and round", exact=True).click()
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


@pytest.mark.parametrize("by", list(SIZES))
def test_all_orders_are_played_by_the_worker_and_one_becomes_the_plan(browser, sample, by):
    width, height = SIZES[by]
    watched = watch(browser, sample, viewport={"width": width, "height": height}, has_touch=by == "thumb")
    sign_in(watched)
    page = watched.page
    place = "/tags/127/rehearse/bottom_cloth/" if by == "mouse" else "/tags/119/rehearse/bottom_cloth/"
    watched.go(place)
    watched.keys.heard()
    if by == "mouse":
        page.keyboard.press("o")
    else:
        touch(page, page.get_by_role("button", name=re.compile("^Try all orders")), by)
    expect(page.locator("[data-played=found]")).to_be_visible(timeout=90_000)
    expect(page.locator("[data-played]")).to_have_count(4 if by == "mouse" else 3)  # round a disc two are one
    expect(page.locator(".rehearsal-progress")).to_have_count(0)
    touch(page, page.locator("[data-played='round and round']").get_by_role("button", name=re.compile("^Keep")), by)
    expect(page.locator("[data-played='round and round'] .is-plan")).to_have_text("the plan")
    expect(page.locator("[data-part=orders]").get_by_role("status")).to_contain_text("the plan now")
    page.locator("[data-played=found]").get_by_role("link").click()
    expect(page.locator(".rehearsal-board")).to_have_count(2)
    page.get_by_role("link", name=re.compile("at work")).click()
    expect(page.get_by_text("as it was kept from the rehearsal")).to_have_count(1)
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    watched.go(place)
    touch(page, page.locator("[data-played='cross first']").get_by_role("button", name=re.compile("^Keep")), by)
    expect(page.locator("[data-played='cross first'] .is-plan")).to_have_text("the plan")
    assert watched.wrong == []


def seat_photo(folder) -> str:
    """A made-up seat seen aslant: its corners where CORNERS says, its stripes bent by the same bow."""
    flat = Image.new("RGB", (800, 800), (196, 178, 140))
    pen = ImageDraw.Draw(flat)
    for at in range(40, 800, 90):
        pen.line([(at + 18 * math.sin(math.pi * y / 800), y) for y in range(0, 801, 20)], fill=(120, 60, 70), width=22)
    map_ = homography(CORNERS, [(0, 800), (800, 800), (800, 0), (0, 0)])
    photo = flat.transform((1200, 900), Image.Transform.PERSPECTIVE, map_[:8].tolist(), fillcolor=(60, 52, 48))
    photo.save(folder / "seat.jpg")
    return str(folder / "seat.jpg")


CORNERS = [(200, 700), (1030, 730), (900, 190), (290, 160)]


@pytest.mark.parametrize("by", list(SIZES))
def test_a_photo_of_the_seat_is_laid_under_it_and_a_stripe_compared(browser, sample, by, tmp_path):
    width, height = SIZES[by]
    watched = watch(browser, sample, viewport={"width": width, "height": height}, has_touch=by == "thumb")
    sign_in(watched)
    page = watched.page
    number = 119 if by == "mouse" else 127
    key = "top" if number == 119 else "seat"
    watched.go(f"/tags/{number}/rehearse/{key}/seat/")
    page.locator("input[type=file]").first.set_input_files(seat_photo(tmp_path))
    photo = page.locator(".seat-photo")
    expect(photo).to_be_visible()
    a, d, e, f = photo.evaluate("s => { const m = s.getScreenCTM(); return [m.a, m.d, m.e, m.f]; }")
    for number_, (x, y) in enumerate(CORNERS):
        mark = page.locator(f"[data-mark='{number_}']")
        x0, y0 = float(mark.get_attribute("data-x")), float(mark.get_attribute("data-y"))
        begin, end = (x0 * a + e, y0 * d + f), (x * a + e, y * d + f)
        if by == "thumb":
            touched(page, ("touchStart", begin), ("touchMove", end), ("touchEnd", None))
        else:
            page.mouse.move(*begin)
            page.mouse.down()
            page.mouse.move(*end, steps=4)
            page.mouse.up()
        assert float(mark.get_attribute("data-x")) == pytest.approx(x, abs=3)
    page.locator("[data-mark='0']").focus()
    page.keyboard.press("ArrowRight")
    assert float(page.locator("[data-mark='0']").get_attribute("data-x")) == pytest.approx(CORNERS[0][0] + 3, abs=3.1)
    page.keyboard.press("ArrowLeft")
    page.get_by_role("button", name=re.compile("^Lay it under")).click()
    expect(page.locator("image.sheet-photo")).to_have_count(1)
    assert page.evaluate(
        "fetch(document.querySelector('image.sheet-photo').getAttribute('href')).then((r) => r.status)"
    ) == 200  # fmt: skip
    page.get_by_role("button", name=re.compile("^A stripe")).click()
    page.locator(".sheet-edge").first.scroll_into_view_if_needed()
    edge = page.locator(".sheet-edge").first.bounding_box()
    middle = edge["x"] + edge["width"] * 0.45
    bow, high = edge["width"] * 18 / 800, edge["height"] - 60
    path = [(middle + bow * math.sin(math.pi * k / 12), edge["y"] + 30 + high * k / 12) for k in range(13)]
    if by == "thumb":
        touched(page, ("touchStart", path[0]), *[("touchMove", at) for at in path[1:]], ("touchEnd", None))
    else:
        page.mouse.move(*path[0])
        page.mouse.down()
        for at in path[1:]:
            page.mouse.move(*at)
        page.mouse.up()
    expect(page.locator(".sheet-sight")).to_have_count(1)
    page.get_by_role("button", name=re.compile("^Compare")).click()
    expect(page.locator(".rehearsal-suspects li").first).to_contain_text("to the right")
    expect(page.locator(".sheet-foreseen")).to_have_count(1)
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    page.get_by_role("link", name="Its photo and corners").click()
    page.get_by_role("button", name="No photo under it").click()
    expect(page.locator("image.sheet-photo")).to_have_count(0)
    assert watched.wrong == []


def test_questions_are_answered_by_key_one_after_the_other(browser, sample):
    watched = watch(browser, sample)
    sign_in(watched)
    page = watched.page
    watched.go("/practice/")
    page.get_by_role("link", name="What comes off next?").click()
    for _ in range(3):
        asked = page.locator(".question__asks").inner_text()
        watched.keys.heard()
        page.keyboard.press("2")
        expect(page.locator(".notice[role=status]")).to_be_visible()
        expect(page.locator(".question__choices .is-right")).to_have_count(1)
        assert page.locator(".question__furniture").evaluate("i => i.decode().then(() => i.naturalWidth)") > 0
        watched.keys.heard()
        page.keyboard.press("Enter")
        expect(page.locator(".question__form")).to_be_visible()
        assert page.locator(".question__asks").inner_text() != asked or "Question" in page.locator("main").inner_text()
    page.keyboard.press("w")
    expect(page.locator(".practice-questions")).to_contain_text("of 3 right")
    assert watched.wrong == []
