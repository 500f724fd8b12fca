"""The furniture in the round in a real browser: turned, pressed and compared, with WebGL by software and without it."""

from __future__ import annotations

import json
import re
import struct
from collections.abc import Iterator

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Browser, BrowserType, Locator, Page, expect

from tests.browser.conftest import Watched, sign_in, watch

pytestmark = pytest.mark.browser
SOFTWARE_GL = ["--use-gl=angle", "--use-angle=swiftshader", "--enable-unsafe-swiftshader", "--ignore-gpu-blocklist"]
WIDTHS = {"bench": (1280, 800), "tablet": (820, 1180), "phone": (390, 844)}


@pytest.fixture(scope="module")
def webgl(browser_type: BrowserType, browser_type_launch_args) -> Iterator[Browser]:
    """A browser that has WebGL, worked out by the processor."""
    args = [a for a in browser_type_launch_args["args"] if a != "--disable-gpu"]
    with browser_type.launch(**{**browser_type_launch_args, "args": [*args, *SOFTWARE_GL]}) as browser:
        yield browser


def live(page: Page, number: int = 0) -> Locator:
    """The model that is turned by hand, once it is there."""
    canvas = page.locator(".round__live canvas").nth(number)
    expect(canvas).to_be_visible(timeout=60_000)
    return canvas


def pixels(where: Locator, tmp_path) -> np.ndarray:
    """What is seen there: rows, columns, red, green and blue."""
    file = tmp_path / "seen.png"
    where.screenshot(path=file)
    with Image.open(file) as opened:
        return np.asarray(opened.convert("RGB")).astype(int)


def differ(one: np.ndarray, other: np.ndarray) -> float:
    """The share of pixels that are not alike."""
    return float((np.abs(one - other).sum(axis=2) > 40).mean())


def changed(before: np.ndarray, where: Locator, tmp_path, least: float = 0.01) -> np.ndarray:
    """What is seen there once it is something else, within some seconds: software draws when it comes to it."""
    for _ in range(60):
        now = pixels(where, tmp_path)
        if differ(before, now) > least:
            return now
        where.page.wait_for_timeout(100)
    raise AssertionError(f"no more than {least:.0%} of it came to differ")


def yellow(seen: np.ndarray) -> float:
    """The share of pixels that are as yellow as what is next."""
    red, green, blue = seen[:, :, 0], seen[:, :, 1], seen[:, :, 2]
    return float(((red > 110) & (green > 0.62 * red) & (blue < 0.62 * red) & (red >= green)).mean())


def quiet(watched: Watched) -> list[str]:
    """What went wrong on the page; that software draws slowly is no fault of it."""
    return [w for w in watched.wrong if "GPU stall" not in w and "GL Driver" not in w]


@pytest.mark.parametrize("size", WIDTHS)
def test_it_is_turned_by_hand_by_keys_and_by_its_eight_views(webgl, sample, tmp_path, size):
    width, height = WIDTHS[size]
    watched = watch(webgl, sample, viewport={"width": width, "height": height}, has_touch=size != "bench")
    page = watched.page
    sign_in(watched)
    watched.go("/tags/125/round/")
    expect(page.locator(".round__flat svg").first).to_be_attached(timeout=10_000)  # the picture first, then the model
    canvas = live(page)
    stage = page.locator(".round__look").first
    first = pixels(stage, tmp_path)
    assert first.std() > 20
    box = canvas.bounding_box()
    assert box is not None
    assert 0 <= box["x"] <= box["x"] + box["width"] <= width
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2 + 90, box["y"] + box["height"] / 2 + 10, steps=4)
    page.mouse.up()
    changed(first, stage, tmp_path, 0.05)
    stage.focus()
    now = pixels(stage, tmp_path)  # where the drag ended: its last moves may have been drawn since
    for key in ("ArrowLeft", "ArrowUp", "+")[: 3 if size == "bench" else 0]:
        page.keyboard.press(key)
        now = changed(now, stage, tmp_path, 0.02)
    seen = {}
    for name in ("Front", "Behind", "Below", "Front R")[0 if size == "bench" else 2 :]:
        button = page.get_by_role("button", name=name, exact=True)
        button.click()
        expect(button).to_have_attribute("aria-pressed", "true")
        assert page.locator('[data-view-key][aria-pressed="true"]').count() == 1
        seen[name] = now = changed(now, stage, tmp_path, 0.02)
    assert differ(seen["Front R"], seen["Below"]) > 0.1
    if size == "bench":
        assert differ(seen["Front"], seen["Behind"]) > 0.03
    assert differ(seen["Front R"], first) < 0.02  # back where it was
    page.get_by_role("button", name="farther").click()
    changed(seen["Front R"], stage, tmp_path, 0.02)
    assert not page.evaluate("document.documentElement.scrollWidth > innerWidth")
    assert not quiet(watched)


def test_a_panel_pressed_on_the_model_is_named_and_one_pressed_on_the_roll_lights_up(webgl, sample, tmp_path):
    watched = watch(webgl, sample)
    page = watched.page
    sign_in(watched)
    watched.go("/tags/122/lay/{Gannet, teal}/seen/")
    canvas = live(page)
    stage = page.locator(".round__look").first
    plain = yellow(pixels(stage, tmp_path))
    page.locator('.seen-roll [data-id^="inside_back"]').first.dispatch_event("click")
    expect(page.locator(".round__lit").first).to_have_text("Inside back")
    expect(page.locator(".seen-roll .is-lit")).to_have_count(1)
    assert yellow(pixels(stage, tmp_path)) > plain + 0.01
    page.locator(".seen-roll").focus()
    page.keyboard.press("ArrowRight")
    expect(page.locator(".round__lit").first).not_to_have_text("Inside back")
    page.get_by_role("button", name="Front", exact=True).click()
    canvas.scroll_into_view_if_needed()
    box = canvas.bounding_box()
    assert box is not None
    names = set()
    for down in (0.3, 0.42, 0.62):  # up and down the middle of the chair: its back, its seat
        page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] * down)
        names.add(page.locator(".round__lit").first.inner_text())
    assert {"Inside back", "Seat"} & names
    assert not quiet(watched)


def test_cloths_on_trial_stand_side_by_side_and_turn_together(webgl, sample, tmp_path):
    watched = watch(webgl, sample)
    page = watched.page
    sign_in(watched)
    watched.go("/tags/127/lay/")
    expect(page.get_by_role("link", name="By hand")).to_be_visible(timeout=60_000)
    own = page.url
    page.goto(own + "trial/")
    watched.press("Lay them all")
    expect(page.locator(".trial")).not_to_have_count(0)
    expect(page.locator(".trial__move [role=status]")).to_have_count(0, timeout=120_000)
    page.goto(own + "seen/")
    live(page)
    live(page, 1)
    assert page.locator(".round__caption").nth(1).inner_text() != page.locator(".round__caption").first.inner_text()
    stages = [page.locator(".round__look").nth(n) for n in range(2)]
    before = [pixels(stage, tmp_path) for stage in stages]
    assert differ(before[0], before[1]) > 0.01  # two cloths
    stages[0].focus()
    for _ in range(3):
        page.keyboard.press("ArrowLeft")
    for old, stage in zip(before, stages, strict=True):
        changed(old, stage, tmp_path)
    turns = page.evaluate("[...document.querySelectorAll('.round')].map((each) => Alpine.$data(each).table.at.turn)")
    assert set(turns) == {-38 - 3 * 12}  # all of them stand alike
    assert not quiet(watched)


def test_stripping_is_seen_in_the_round_and_stays_open_from_page_to_page(webgl, sample, tmp_path):
    watched = watch(webgl, sample, viewport={"width": 820, "height": 1180})
    page = watched.page
    sign_in(watched)
    watched.go("/tags/124/strip/")
    expect(page.locator("svg.opened-out")).to_be_visible()
    watched.keys.press("0")
    expect(page.locator("svg.opened-out")).to_be_hidden()  # in its place
    live(page)
    stage = page.locator(".round__look").first
    assert yellow(pixels(stage, tmp_path)) > 0.01  # what comes off next, from the side that shows it
    expect(page.get_by_role("button", name="Left", exact=True)).to_have_attribute("aria-pressed", "true")
    page.get_by_role("button", name=re.compile("^It's off")).click()
    expect(page.locator(".round__look").first).to_be_visible()  # open on the next page too
    watched.go("/tags/124/pad/")
    expect(page.locator(".round__flat svg")).to_be_attached()
    watched.keys.press("0")
    expect(page.locator(".round__look").first).to_be_hidden()
    watched.go("/tags/124/strip/")
    expect(page.locator("svg.opened-out")).to_be_visible()
    assert not quiet(watched)


@pytest.mark.parametrize("size", ["bench", "phone"])
def test_without_webgl_there_are_eight_pictures_whose_panels_can_be_pressed(browser, sample, tmp_path, size):
    width, height = WIDTHS[size]
    watched = watch(browser, sample, viewport={"width": width, "height": height})
    page = watched.page
    page.add_init_script("HTMLCanvasElement.prototype.getContext = () => null")
    sign_in(watched)
    watched.go("/tags/124/strip/")
    watched.keys.press("0")
    picture = page.locator(".round__flat svg")
    expect(picture).to_be_visible(timeout=5_000)
    titles = set()
    for button in page.locator("[data-view-key]").all()[0 if size == "bench" else 6 :]:
        button.click()
        name = button.get_attribute("title")
        expect(picture.locator("title")).to_contain_text(str(name))
        titles.add(picture.locator("title").text_content())
    assert len(titles) == (8 if size == "bench" else 2)
    page.locator(".round__look").focus()
    page.keyboard.press("ArrowRight")  # on to the next view, the first
    expect(picture.locator("title")).to_contain_text("from the front")
    page.get_by_role("button", name="Front", exact=True).click()
    expect(picture.locator("title")).to_have_text(re.compile(r"from the front$"))
    expect(page.get_by_role("button", name="nearer")).to_be_hidden()
    picture.locator('[data-part="inside_back"]').nth(8).dispatch_event("click")
    page.wait_for_url(re.compile(r"part=inside_back"))
    expect(page.locator(".round__flat svg")).to_be_visible()
    assert not page.evaluate("document.documentElement.scrollWidth > innerWidth")
    assert not watched.wrong


def test_a_move_of_the_hand_on_the_roll_is_seen_on_the_seat(browser, sample):
    watched = watch(browser, sample)
    page = watched.page
    page.add_init_script("HTMLCanvasElement.prototype.getContext = () => null")
    sign_in(watched)
    watched.go("/tags/122/lay/{Gannet, teal}/hand/")
    watched.keys.press("0")
    picture = page.locator(".round__flat")
    expect(picture.locator("svg")).to_be_visible()
    before = picture.inner_html()
    page.locator('g.by-hand[data-id^="seat"]').focus()
    with page.expect_response(re.compile("picture.svg")):
        page.keyboard.press("Shift+ArrowRight")
    expect(picture.locator("svg")).to_be_visible()
    expect(picture).not_to_have_js_property("innerHTML", before)
    watched.press("Undo")
    expect(page.locator(".hand-words")).to_contain_text("Nothing wrong")
    assert not watched.wrong


def test_the_file_is_taken_along_and_is_a_furniture_file(browser, sample):
    watched = watch(browser, sample)
    page = watched.page
    sign_in(watched)
    watched.go("/tags/122/round/")
    with page.expect_download() as taken:
        page.get_by_role("link", name=re.compile("Take it along")).click()
    assert taken.value.suggested_filename == "122-furniture.glb"
    data = taken.value.path().read_bytes()
    told = json.loads(data[20 : 20 + struct.unpack("<I", data[12:16])[0]])
    assert {"seat", "inside_back", "bare of seat"} <= {n["name"] for n in told["nodes"]}
    page.get_by_label("Back height").fill("105")
    page.get_by_role("button", name="Build it from these").click()
    expect(page.get_by_role("status").first).to_contain_text("built from these measures")
    expect(page.get_by_label("Back height")).to_have_value("105")
    page.get_by_label("Back height").fill("")
    page.get_by_role("button", name="Build it from these").click()
    expect(page.get_by_label("Back height")).to_have_value("")


def test_the_kinds_of_a_new_tag_and_the_tags_on_the_rail_are_pictures_of_furniture(browser, sample):
    watched = watch(browser, sample)
    page = watched.page
    sign_in(watched)
    watched.go("/")
    shown = page.locator("img.tag__round")
    expect(shown.first).to_be_visible()
    for one in shown.all():
        one.scroll_into_view_if_needed()
        expect(one).to_have_js_property("complete", value=True)
        assert one.evaluate("each => each.naturalWidth") > 0
    watched.keys.press("n")
    kinds = page.locator("img.kind-round")
    expect(kinds).to_have_count(12)
    for one in kinds.all():
        one.scroll_into_view_if_needed()
        expect(one).to_have_js_property("complete", value=True)
        assert one.evaluate("each => each.naturalWidth") > 0
    assert not watched.wrong
