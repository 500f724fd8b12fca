"""The whole journey in a real browser, from an empty workroom to a tag that has gone home."""

from __future__ import annotations

import json
import re

import pytest
from playwright.sync_api import expect
from pypdf import PdfReader

from tests.browser.conftest import sign_in, watch
from tests.core.lay.independent import wrong_with
from zonatome.core.formats.cut_sheet_pdf import corner_words
from zonatome.core.formats.lay_json import read_lay, read_request
from zonatome.core.lay.table.cut_sheet import cut_sheet

pytestmark = pytest.mark.browser


def download(page, link, to):
    with page.expect_download() as caught:
        link.click()
    caught.value.save_as(to)
    return to


def test_four_stools_from_the_empty_rail_to_going_home(browser, empty, tmp_path):
    watched = watch(browser, empty)
    page = watched.page

    # the first start names the workroom
    watched.go("/")
    expect(page).to_have_url(re.compile("/welcome/$"))
    page.get_by_label("Your workroom").fill("Mole End")
    page.get_by_label("Your name to sign in").fill("mole")
    page.get_by_label("Password").fill("whitewash-and-brush")
    watched.press("Open it")
    expect(page.get_by_text("The rail is empty")).to_be_visible()

    # a new tag, by its key
    watched.keys.press("n")
    page.get_by_label("What it is").fill("Kitchen stools")
    page.get_by_label("Whose it is").fill("Badger")
    page.get_by_label("How many of them").fill("4")
    page.get_by_role("radio", name="Square or bar stool").check()
    watched.press("Hang it up")
    expect(page.get_by_role("heading", name="What is wrong")).to_be_visible()

    # survey: four findings, the verdict comes by itself
    for layer, finding in (
        ("frame", "Rigid when rocked, joints tight"),
        ("support", "Flat and firm when pressed"),
        ("filling", "Stays dented, a fifth of its height lost"),
        ("cover", "Worn, torn or faded"),
    ):
        page.locator(f"#{layer}").get_by_label(finding).check()
        page.locator(f"#{layer}").get_by_role("button", name="Save").click()
        expect(page.locator(f"#{layer} .verdict")).to_be_visible()
    expect(page.locator("#filling .verdict b")).to_have_text("Renew")

    # strip: one press each, with the key
    watched.keys.press("2")
    for name in ("seat screws", "bottom cloth", "seat"):
        expect(page.get_by_role("heading", name=re.compile("Off next"))).to_contain_text(name)
        watched.press("It's off")
    expect(page.get_by_role("heading", name="All off")).to_be_visible()
    page.get_by_label("Note").fill("nap toward the front")
    page.get_by_label("Note").blur()
    expect(page.get_by_text("Kept.")).to_be_visible()
    watched.keys.press("Control+z")
    expect(page.get_by_text("its fixing and note are kept")).to_be_visible()
    watched.press("It's off")
    expect(page.get_by_label("Note")).to_have_value("nap toward the front")

    # trace: nonsense is answered by its box, then the block from 14 1/2 in and 38 cm
    page.get_by_role("link", name=re.compile("On to Trace")).click()
    page.get_by_label("Board, width in front", exact=True).fill("14 and a half")
    expect(page.locator(".tried__wrong")).to_contain_text("Board, width in front")
    page.get_by_label("Board, depth, on the drawing").fill("38 cm")  # the same box, on the drawing
    expect(page.get_by_label("Board, depth", exact=True)).to_have_value("38 cm")
    page.get_by_label("Board, thickness").fill("18")
    page.get_by_label("Pad under the cover").fill("45")
    page.get_by_label("Goes under the board").fill("50")
    watched.press("Keep this shape")
    expect(page.get_by_role("alert")).to_contain_text("a length such as 52 cm")
    page.get_by_label("Board, width in front", exact=True).fill("14 1/2 in")
    expect(page.get_by_text("So it is cut: 59.4 × 60.6 cm")).to_be_visible()
    watched.press("Keep this shape")
    # 368.3 and 380 mm, each + 2 x (45 + 18 + 50)
    expect(page.locator(".cut-size")).to_have_text("59.4 × 60.6 cm")

    # lay: a cloth, the first lay at once, then the search
    watched.keys.press("4")
    page.get_by_label("Name").fill("Skerry")
    page.get_by_label("Width, edge to edge").fill("140 cm")
    page.get_by_label("Price a metre or yard").fill("34.50")
    page.get_by_role("button", name="Take it").last.click()
    watched.press("Lay the pieces")
    expect(page.locator(".buy-figure")).to_be_visible()
    expect(page.locator(".placed.tone-0")).to_have_count(4)
    expect(page.get_by_text("Straight rows: proven, no lay can be shorter.")).to_be_visible(timeout=30_000)
    # two abreast on 1376 mm: two rows of 606 and a gap of 4, with 100 and 100 it is 1.42, so 1.50 by the tenth
    expect(page.locator(".buy-figure")).to_have_text("1.50 m")

    # the PDF, downloaded and read back: pieces and corner figures as the lay file has them
    request = read_request(
        json.loads(download(page, page.get_by_role("link", name="Request file"), tmp_path / "r.json").read_text())
    )
    lay = read_lay(
        json.loads(download(page, page.get_by_role("link", name="Lay file"), tmp_path / "l.json").read_text())
    )
    assert wrong_with(request, lay) == []
    pdf = PdfReader(download(page, page.get_by_role("link", name="PDF", exact=True), tmp_path / "sheet.pdf"))
    text = "\n".join(p.extract_text() for p in pdf.pages)
    assert sorted(set(re.findall(r"Seat (\d)", text))) == ["1", "2", "3", "4"]
    for row in cut_sheet(request, lay, {"seat": "Seat"}).rows:
        assert len(row.corners) == 4
        for corner in row.corners:
            assert corner_words(corner, "metric") in text

    # cut: ticks are kept
    watched.keys.press("c")
    expect(page.get_by_role("heading", name="0 of 4 cut")).to_be_visible()
    for box in page.get_by_role("checkbox").all():
        box.check()
    expect(page.get_by_role("heading", name="4 of 4 cut")).to_be_visible()
    page.reload()
    expect(page.get_by_role("heading", name="4 of 4 cut")).to_be_visible()

    # pad: thicker, the growth is seen in the new cut size, the lay is out of date
    watched.keys.press("5")
    page.get_by_label("foam", exact=True).fill("3 in")
    watched.press("This is the pad")
    # (76.2 + 10) x 0.9 is 77.58, 32.58 more than the 45 of the block: 65 mm more each way
    expect(page.get_by_role("status")).to_contain_text("stapled under +33 mm")
    expect(page.get_by_role("alert")).to_contain_text("out of date")
    page.get_by_role("link", name="Lay again").click()
    watched.press("Lay again")
    expect(page.get_by_text("This lay is out of date")).to_have_count(0)
    watched.keys.press("c")
    expect(page.get_by_role("heading", name="0 of 4 cut")).to_be_visible()
    for box in page.get_by_role("checkbox").all():
        box.check()
    expect(page.get_by_role("heading", name="4 of 4 cut")).to_be_visible()

    # fasten: a screw hole marked, then stepped through by key; closing the page loses nothing
    watched.keys.press("6")
    expect(page.get_by_role("heading", name="Look before the second staple")).to_be_visible()
    watched.press("Its top is up")
    watched.press("Done, on to: staple it")
    page.get_by_text("Screw holes to keep clear of").click()
    page.get_by_label("From the left edge").fill("18 cm")
    page.get_by_label("From the front edge").fill("15 mm")
    watched.press("Mark it")
    expect(page.locator(".keep-out")).to_have_count(1)
    expect(page.get_by_role("heading", name="Staple 1", exact=True)).to_be_visible()
    for _ in range(5):
        watched.keys.press("Space")
    expect(page.get_by_role("heading", name="Staple 6", exact=True)).to_be_visible()
    watched.keys.press("Backspace")
    expect(page.locator(".staple-group.is-in")).to_have_count(4)
    expect(page.locator(".tape__figure").nth(5)).to_be_visible()
    page.wait_for_selector(".puton[data-kept=yes]")
    page.reload()
    expect(page.get_by_role("heading", name="Staple 5", exact=True)).to_be_visible()
    for _ in range(4):
        watched.keys.press("d")
    expect(page.get_by_role("heading", name="All in")).to_be_visible()
    page.wait_for_selector(".puton[data-kept=yes]")

    # trim: none on these; finish: the list empties
    watched.keys.press("7")
    page.get_by_label("Trim", exact=True).select_option(label="no trim")
    watched.press("Choose")
    expect(page.get_by_role("heading", name="No trim on this one")).to_be_visible()
    watched.keys.press("8")
    expect(page.get_by_role("heading", name=re.compile("things before it goes home"))).to_be_visible()
    for words in ("All of them are on", "Emptied", "Done"):
        button = page.get_by_role("button", name=words, exact=True)
        while left := button.count():
            button.first.click()
            expect(button).to_have_count(left - 1)
    from PIL import Image

    Image.new("RGB", (900, 700), "#86aac4").save(tmp_path / "after.jpg")
    page.get_by_label("Photo after").set_input_files(tmp_path / "after.jpg")
    watched.press("Keep photo")
    expect(page.get_by_role("heading", name="The list is empty")).to_be_visible()
    watched.keys.press("Enter")
    expect(page.get_by_text("has gone home")).to_be_visible()
    expect(page.get_by_text("All gone home")).to_be_visible()
    assert [w for w in watched.wrong if "422" not in w] == []
    assert len(watched.wrong) == 1, "the one refused measure, which the browser reports by its status"


def test_a_200_mb_upload_is_answered_in_words(browser, sample, tmp_path):
    watched = watch(browser, sample)
    page = watched.page
    sign_in(watched)
    watched.go("/tags/126/survey/")
    huge = tmp_path / "huge.jpg"
    with huge.open("wb") as file:
        file.truncate(200 * 2**20)
    page.get_by_label("Photo", exact=True).set_input_files(huge)
    watched.press("Keep photo")
    expect(page.get_by_text("file: expected at most 16 MB, got 200 MB")).to_be_visible(timeout=60_000)
    page.go_back()
    expect(page.get_by_text("None yet.")).to_be_visible()
