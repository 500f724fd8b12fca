"""The lay under the hand in a real browser: by mouse, keys and thumb; cloths side by side."""

from __future__ import annotations

import re

import cv2
import pytest
from playwright.sync_api import Page, expect
from pypdf import PdfReader

from tests.browser.conftest import sign_in, touched, watch
from tests.core.cloth_photos import HIGH, WIDE, photo_of
from zonatome.core.trace.mat import Mat
from zonatome.standins.bench_camera import Shot, photograph

pytestmark = pytest.mark.browser


def middle(page: Page, key: str) -> tuple[float, float]:
    placed = page.locator(f'g[data-id="{key}"] .placed')
    placed.scroll_into_view_if_needed()  # a lay is longer than a tablet is wide
    box = placed.bounding_box()
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
    x, y = middle(page, keys[-1])
    touched(
        page, ("touchStart", (x, y)), ("touchMove", (x + 30, y)), ("touchMove", (x + 160, y - 30)), ("touchEnd", None)
    )
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
    expect(page.locator(".trial")).to_have_count(8)
    expect(page.locator(".trial--own")).to_contain_text("Gannet, teal")
    expect(page.locator(".trial__cost").first).to_contain_text("€")
    expect(page.locator(".trial__move [role=status]")).to_have_count(0, timeout=120_000)
    assert watched.wrong == []


def test_a_flaw_is_marked_with_the_pointer_and_the_pieces_go_round_it(browser, sample):
    watched = watch(browser, sample)
    sign_in(watched)
    page = watched.page
    watched.go("/tags/127/lay/{Bollard, vinyl}/from/")
    cloth = page.locator("svg.marked").bounding_box()
    assert cloth
    page.mouse.move(cloth["x"] + 0.3 * cloth["width"], cloth["y"] + 0.4 * cloth["height"])
    page.mouse.down()
    page.mouse.move(cloth["x"] + 0.36 * cloth["width"], cloth["y"] + 0.5 * cloth["height"], steps=4)
    page.mouse.up()
    told = {
        name: int(page.locator(f"[name={name}]").first.input_value().split()[0])
        for name in ("from_end", "from_left", "along", "across")
    }
    assert all(value > 20 for value in told.values())
    watched.press("Mark this flaw")
    expect(page.locator("path.flaw")).to_have_count(1)
    watched.go("/tags/127/lay/{Bollard, vinyl}/")
    expect(page.get_by_text("This lay is out of date")).to_be_visible()
    watched.keys.press("l")
    expect(page.get_by_text("This lay is out of date")).to_have_count(0, timeout=60_000)
    expect(page.locator(".searching")).not_to_contain_text("Searching", timeout=60_000)
    expect(page.locator(".roll path.flaw")).to_have_count(1)
    # in one go: the drawing may be made anew meanwhile
    boxes = "all => all.map(one => one.getBoundingClientRect().toJSON())"
    (flaw,) = page.locator(".roll path.flaw").evaluate_all(boxes)
    for box in page.locator("g[data-id^='seat'] .placed").evaluate_all(boxes):
        aside = box["x"] >= flaw["x"] + flaw["width"] - 1 or box["x"] + box["width"] <= flaw["x"] + 1
        above = box["y"] >= flaw["y"] + flaw["height"] - 1 or box["y"] + box["height"] <= flaw["y"] + 1
        assert aside or above, "no seat lies on the flaw"
    watched.go("/tags/127/lay/{Bollard, vinyl}/from/")
    watched.press("Take this mark back")
    expect(page.locator("path.flaw")).to_have_count(0)
    watched.go("/tags/127/lay/{Bollard, vinyl}/")
    watched.keys.press("l")  # as it was, for who comes next
    expect(page.get_by_role("link", name="By hand")).to_be_visible(timeout=60_000)
    assert watched.wrong == []


def test_a_thumb_marks_a_flaw_on_a_hide(browser, sample):
    watched = watch(browser, sample, viewport={"width": 820, "height": 1180})
    sign_in(watched)
    page = watched.page
    watched.go("/cloths/")
    page.get_by_role("link", name=re.compile("^Saltmarsh hide")).click()
    page.locator("a.remnant").first.click()
    hide = page.locator("svg.marked")
    expect(hide).to_be_visible()  # the marks are counted on the hide's own page, not on the one before it
    marks = page.locator("path.flaw").count()
    hide.scroll_into_view_if_needed()
    box = hide.bounding_box()
    assert box
    x, y = box["x"] + 0.45 * box["width"], box["y"] + 0.45 * box["height"]
    touched(
        page,
        ("touchStart", (x, y)),
        ("touchMove", (x + 12, y + 8)),
        ("touchMove", (x + 24, y + 20)),
        ("touchEnd", None),
    )
    assert page.locator("[name=from_end]").first.input_value().endswith(" mm")
    for name in ("along", "across"):
        page.locator(f"[name={name}]").first.fill("9 cm")
    watched.press("Mark this place")
    expect(page.locator("path.flaw")).to_have_count(marks + 1)
    assert page.evaluate("document.documentElement.scrollWidth <= window.innerWidth + 1"), "nothing to scroll sideways"
    assert watched.wrong == []


def test_the_cut_sheet_is_printed_and_its_files_come_down(browser, sample, tmp_path):
    watched = watch(browser, sample)
    sign_in(watched)
    page = watched.page
    watched.go("/tags/118/lay/{Skerry, slate}/cut-sheet/")
    expect(page.get_by_text("All there: 24 of 24 pieces are laid")).to_be_visible()
    page.emulate_media(media="print")
    expect(page.get_by_role("heading", name="Left over")).to_be_hidden()
    expect(page.locator(".bar")).to_be_hidden()
    printed = tmp_path / "sheet.pdf"
    printed.write_bytes(page.pdf(format="A4"))
    text = " ".join(" ".join(p.extract_text() for p in PdfReader(printed).pages).split())
    assert "Seat 6" in text
    assert "Side, left 6" in text
    page.emulate_media(media="screen")
    for words, ending in (("For the wall", "wall-sheet.pdf"), ("CSV", ".csv"), ("DXF", ".dxf"), ("SVG", ".svg")):
        with page.expect_download() as coming:
            page.get_by_role("link", name=re.compile(f"^{words}")).first.click()
        assert coming.value.suggested_filename.endswith(ending)
    watched.go("/tags/122/lay/{Gannet, teal}/seen/")
    expect(page.locator("pattern")).to_have_count(6)  # five panels and the roll
    assert watched.wrong == []


def test_the_seller_is_asked_and_an_order_makes_the_tag_wait(browser, sample):
    watched = watch(browser, sample)
    sign_in(watched)
    page = watched.page
    watched.go("/tags/118/lay/{Skerry, oat}/")
    watched.keys.press("u")
    expect(page.get_by_role("heading", name="One lot for all")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Order")).first.click()
    expect(page.get_by_text("Ordered: ")).to_be_visible()
    watched.press("Ask for a sample and measure it")
    expect(page.get_by_text("The sample measures")).to_be_visible()
    assert watched.wrong == []


def test_a_photo_of_the_cloth_shows_its_repeat_and_a_thumb_drags_it(browser, sample, tmp_path):
    watched = watch(browser, sample, viewport={"width": 820, "height": 1180})
    sign_in(watched)
    page = watched.page
    watched.go("/cloths/")
    page.get_by_role("link", name=re.compile("^Gannet")).click()
    photo = tmp_path / "gannet.png"
    cv2.imwrite(str(photo), photo_of("half_drop", 320, 344, scale=0.6, first=(90, 120)))
    page.locator("#tile-photo").set_input_files(str(photo))
    expect(page.get_by_text("One repeat was found")).to_be_visible()
    share = {
        side: float(page.locator(f"[name={side}]").input_value()) / 100 for side in ("left", "right", "upper", "lower")
    }
    assert (share["right"] - share["left"]) * WIDE == pytest.approx(344 * 0.6, rel=0.03)
    assert (share["lower"] - share["upper"]) * HIGH == pytest.approx(320 * 0.6, rel=0.03)
    apart = """c => {
      const copy = new OffscreenCanvas(c.width, c.height), on = copy.getContext('2d', { willReadFrequently: true });
      on.drawImage(c, 0, 0);
      const mean = (x) => {
        const reds = on.getImageData(x, 0, 3, c.height).data.filter((_, k) => k % 4 === 0);
        return reds.reduce((sum, red) => sum + red, 0) / reds.length;
      };
      return Math.abs(mean(c.width / 3 - 4) - mean(c.width / 3 + 2));
    }"""
    for _ in range(100):
        if page.locator(".repeat canvas").last.evaluate(apart) < 4:
            break
        page.wait_for_timeout(100)
    assert page.locator(".repeat canvas").last.evaluate(apart) < 4, (
        "lit from one side, its light is evened out: no join is seen"
    )
    sheet = page.locator(".repeat__photo")
    sheet.scroll_into_view_if_needed()
    box = sheet.bounding_box()
    assert box
    x, y = box["x"] + share["right"] * box["width"], box["y"] + (share["upper"] + share["lower"]) / 2 * box["height"]
    touched(page, ("touchStart", (x, y)), ("touchMove", (x - 20, y)), ("touchMove", (x - 40, y)), ("touchEnd", None))
    narrower = float(page.locator("[name=right]").input_value()) / 100
    assert (share["right"] - narrower) * box["width"] == pytest.approx(40, abs=3), "its right edge came along"
    assert float(page.locator("[name=left]").input_value()) / 100 == pytest.approx(share["left"])
    shown = "c => c.getContext('2d').getImageData(0, 0, c.width, c.height).data.some(v => v)"
    assert page.locator(".repeat canvas").last.evaluate(shown), "how it goes on is drawn"
    watched.press("Find the repeat again")
    expect(page.locator("[name=right]")).to_have_value(f"{100 * share['right']:.1f}")
    watched.press("Draw it with this")
    expect(page.locator(".tile-photo")).to_be_visible()
    watched.press("With the built-in drawing again")
    expect(page.locator(".tile-photo")).to_have_count(0)
    assert watched.wrong == []


def test_a_remnant_is_photographed_its_outline_pulled_by_a_thumb_and_kept(browser, sample, tmp_path):
    watched = watch(browser, sample, viewport={"width": 820, "height": 1180})
    sign_in(watched)
    page = watched.page
    photo = tmp_path / "remnant.jpg"
    photo.write_bytes(
        photograph(Shot("inside back", "plain teal", "kraft paper", tilt=6, width=1400), Mat(1200, 800))[0]
    )
    watched.go("/cloths/")
    page.get_by_role("link", name=re.compile("^Skerry, slate")).click()
    page.locator("#photo_width").fill("120 cm")
    page.locator("#photo_height").fill("80 cm")
    page.locator("#cloth-photo").set_input_files(str(photo))
    watched.press("Trace it")
    expect(page.get_by_text("traced to about")).to_be_visible(timeout=30_000)
    figures = page.locator(".tracing__words span").last
    expect(figures).to_contain_text("points")
    before = figures.inner_text()
    corner = page.locator(".mending circle[r='8'], .mending circle[r='11']").first.bounding_box()
    assert corner
    x, y = corner["x"] + corner["width"] / 2, corner["y"] + corner["height"] / 2
    touched(
        page,
        ("touchStart", (x, y)),
        ("touchMove", (x - 30, y - 20)),
        ("touchMove", (x - 60, y - 40)),
        ("touchEnd", None),
    )
    expect(figures).not_to_have_text(before)
    expect(page.locator(".mending")).to_have_attribute("data-kept", "yes")
    after = figures.inner_text()
    page.reload()
    expect(figures).to_have_text(after)
    assert page.evaluate("document.documentElement.scrollWidth <= window.innerWidth + 1"), "nothing to scroll sideways"
    watched.press("Keep this shape")
    expect(page.get_by_role("heading", name="Flaws, brands, holes, thin places")).to_be_visible()
    seen = page.locator("svg.marked image").bounding_box()
    assert seen
    assert seen["width"] > 100
    watched.press("It is gone: take it out of the store")
    expect(page.get_by_text("Out of the store.")).to_be_visible()
    assert watched.wrong == []


def test_a_cloth_asks_for_the_repeats_that_its_pattern_has(browser, sample):
    watched = watch(browser, sample)
    page = watched.page
    sign_in(watched)
    watched.go("/cloths/")
    across, along = page.get_by_label("Repeat across the roll"), page.get_by_label("Repeat along the roll")
    for pattern, asked in (("check", 2), ("stripe", 1), ("half_drop", 2), ("plain", 0)):
        page.locator("select[name=pattern]").select_option(pattern)
        expect(across).to_be_visible(visible=asked > 0)
        expect(along).to_be_visible(visible=asked > 1)
    assert watched.wrong == []
