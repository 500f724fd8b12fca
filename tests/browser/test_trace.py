"""The trace step in a real browser: a drawing becomes a shape and a pattern on paper, seams are mended and walked, an
outline is cut.
"""

from __future__ import annotations

import io
import re

import ezdxf
import pytest
from playwright.sync_api import expect

from tests.browser.conftest import sign_in, watch

pytestmark = pytest.mark.browser
MM = 72 / 25.4


def drawing() -> bytes:
    """A seat as a drawing program writes it: loose lines and an arc, in centimetres, in a block."""
    document = ezdxf.new()
    document.header["$INSUNITS"] = 5
    block = document.blocks.new("SEAT")
    for a, b in (((0, 0), (46, 0)), ((46, 40), (46, 0)), ((0, 40), (0, 0))):
        block.add_line(a, b)
    block.add_arc((23, 40), 23, 0, 180)
    document.modelspace().add_blockref("SEAT", (7, 9))
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def test_an_imported_drawing_becomes_a_shape_and_goes_out_at_true_size(browser, sample):
    watched = watch(browser, sample)
    page = watched.page
    sign_in(watched)
    watched.go("/tags/126/trace/seat/?way=file")
    page.get_by_label("Piece JSON, SVG or DXF").set_input_files(
        {"name": "seat.dxf", "mimeType": "image/vnd.dxf", "buffer": drawing()}
    )
    watched.press("Keep this shape")
    expect(page.locator(".tracing__side")).to_contain_text("46 × 63 cm finished")
    watched.keys.press("i")
    expect(page.get_by_role("link", name="A4 sheets")).to_be_visible()
    pdf = page.request.get(
        page.get_by_role("link", name="A4 sheets").get_attribute("href").join([watched.address, ""])
    ).body()
    squares = [(float(w) / MM, float(h) / MM) for w, h in re.findall(rb"[\d.-]+ [\d.-]+ ([\d.]+) ([\d.]+) re S", pdf)]
    assert len([s for s in squares if s == pytest.approx((100, 100), abs=0.01)]) == 1
    page.get_by_role("link", name="Plot the DXF").click()
    expect(page.locator(".plotted img")).to_be_visible()
    assert page.locator(".plotted img").evaluate("image => image.naturalWidth") > 300
    drawn = re.search(r"([\d.]+) × ([\d.]+) mm", page.locator(".plotted").inner_text())
    size = page.locator(".cut-size").inner_text()
    cut = [float(v) * 10 for v in re.findall(r"[\d.]+", size)]
    assert [float(drawn[1]), float(drawn[2])] == pytest.approx(cut, abs=1)
    watched.keys.press("Control+z")
    expect(page.get_by_text("Taken back: Seat: from a file.")).to_be_visible()
    expect(page.get_by_text("Drawn as usual until the tape says otherwise")).to_be_visible()
    assert watched.wrong == []


def test_seams_are_mended_by_one_press_walked_and_the_set_is_ready(browser, sample):
    watched = watch(browser, sample, viewport={"width": 820, "height": 1180})
    page = watched.page
    sign_in(watched)
    watched.go("/tags/new/")
    page.get_by_label("What it is").fill("Hall ottoman")
    page.get_by_label("Whose it is").fill("Oriel House")
    page.get_by_role("radio", name=re.compile("Box ottoman|Ottoman")).check()
    watched.press("Hang it up")
    expect(page).to_have_url(re.compile(r"/tags/\d+/"))
    number = re.search(r"/tags/(\d+)/", page.url)[1]
    for key, (bottom, top, height) in {"top": ("56", "56", "45"), "end_left": ("47", "47", "26")}.items():
        watched.go(f"/tags/{number}/trace/{key}/?way=trapezoid")
        page.get_by_label("Width at the bottom or front", exact=True).fill(bottom)
        page.get_by_label("Width at the top or back", exact=True).fill(top)
        page.get_by_label("Height", exact=True).fill(height)
        watched.press("Keep this shape")
        expect(page.get_by_text("shape kept")).to_be_visible()
    watched.go(f"/tags/{number}/trace/top/")
    watched.keys.press("s")
    expect(page.get_by_text(re.compile("End, left is longer by"))).to_be_visible()
    page.get_by_role("link", name="Walk it").first.click()
    expect(page.get_by_text(re.compile(r"of end, left\s+is left\s+over"))).to_be_visible()
    before = page.locator(".walk__foot").get_attribute("cy")
    page.wait_for_function("was => document.querySelector('.walk__foot').getAttribute('cy') !== was", arg=before)
    page.get_by_role("button", name=re.compile("^End, left: take the length of top")).click()
    expect(page.get_by_text(re.compile("End, left is longer by"))).to_have_count(0)
    page.get_by_role("button", name=re.compile("^Put notches on both")).first.click()
    expect(page.get_by_text("Lengths agree, notches meet").first).to_be_visible()
    watched.keys.press("y")
    expect(page.get_by_role("heading", name="Ready to cut? Not yet")).to_be_visible()
    expect(page.get_by_text("Front side has no shape yet")).to_be_visible()
    assert watched.wrong == []


def test_an_outline_is_cut_rounded_and_pulled_by_mouse_and_key_and_each_is_taken_back(browser, sample):
    watched = watch(browser, sample)
    page = watched.page
    sign_in(watched)
    watched.go("/tags/127/trace/seat/photo/")
    figures = page.locator(".mending__board .tracing__words span").nth(1)
    whole = figures.inner_text()
    dots = page.locator(".mending__dot")
    count = dots.count()

    def press_on(number: int) -> None:
        box = dots.nth(number).bounding_box()
        page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        expect(dots.nth(number)).to_have_class(re.compile("is-in-hand"))

    corner = next(n for n in range(1, count) if dots.nth(n).get_attribute("r") == "8")  # corners are drawn larger
    press_on(corner)
    watched.keys.press("o")
    expect(dots).not_to_have_count(count)
    watched.keys.press("Control+z")
    expect(dots).to_have_count(count)
    press_on(0)
    watched.keys.press("c")
    expect(page.get_by_role("button", name="Cut to here")).to_be_visible()
    press_on(count // 2)
    watched.keys.press("c")
    expect(figures).not_to_have_text(whole)
    expect(page.locator(".mending")).to_have_attribute("data-kept", "yes")
    page.reload()
    expect(figures).not_to_have_text(whole)
    # a press inside the outline, away from its line, changes nothing
    line = page.locator(".mending__line").bounding_box()
    now = figures.inner_text()
    page.mouse.click(line["x"] + line["width"] * 0.45, line["y"] + line["height"] * 0.5)
    expect(figures).to_have_text(now)
    assert watched.wrong == []


def test_a_photo_is_taken_with_the_device_s_own_camera_and_what_it_lacks_is_said(
    sample, playwright, browser_type_launch_args
):
    """Chromium's fake camera shows a moving test picture: no marker is in it, and the page says which."""
    fake = ["--use-fake-device-for-media-stream", "--use-fake-ui-for-media-stream"]
    browser = playwright.chromium.launch(
        **{**browser_type_launch_args, "args": [*browser_type_launch_args["args"], *fake]}
    )
    watched = watch(browser, sample)
    page = watched.page
    sign_in(watched)
    watched.go("/tags/124/trace/inside_back/photo/?again=1")
    watched.press("This device’s camera")
    watched.press("Take it")
    expect(page.get_by_text(re.compile(r"Taken: \d+ × \d+"))).to_be_visible()
    assert page.locator("#photo").evaluate("box => box.files[0].type") == "image/jpeg"
    watched.press("Trace it")
    expect(page.get_by_role("alert").filter(has_text="marker")).to_be_visible()
    assert [w for w in watched.wrong if "422" not in w] == []
    browser.close()
