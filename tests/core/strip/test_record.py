"""What the record lacks, and the papers made from it: labels and the strip record."""

import io

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image
from pypdf import PdfReader
from reportlab.lib.units import mm
from reportlab.pdfbase.pdfmetrics import stringWidth

from zonatome.core.errors import BadInput
from zonatome.core.formats.labels_pdf import Label, labels_pdf
from zonatome.core.formats.record_pdf import MARGIN, NUMBER, PHOTO, RecordLine, RecordPage, record_pdf
from zonatome.core.strip.record import (
    FATES,
    FIXINGS,
    MARKS,
    SAVED,
    Entry,
    bag_number,
    checks,
    known_fixings,
    known_marks,
    marks_for,
    saved_as,
    usual_fate,
    usual_fixings,
)
from zonatome.core.survey.kinds import KINDS, OTTOMAN, SIDE_CHAIR, WING

ALL_MARKS = tuple(MARKS)


def found(kind, **entries):
    return [(c.key, c.part) for c in checks(kind, entries)]


def test_a_panel_off_with_no_top_marked_is_said_hardware_and_waste_are_not():
    assert found(SIDE_CHAIR, seat=Entry(True, 1)) == [("no_top", "seat")]
    assert found(SIDE_CHAIR, seat=Entry(True, 1, marks=("top",))) == []
    assert found(SIDE_CHAIR, seat=Entry(True, 1, fate="waste")) == []
    assert found(SIDE_CHAIR, bottom_cloth=Entry(True, 1)) == []


def test_a_seam_marked_on_one_partner_only_names_the_other():
    seat, back = Entry(True, 2, marks=("top", "seam")), Entry(True, 1, marks=("top",))
    assert found(OTTOMAN, top=seat, front=back) == [("seam", "front")]
    assert "front side" in checks(OTTOMAN, {"top": back, "front": seat})[0].words.lower()
    assert found(OTTOMAN, top=seat, front=Entry(True, 1, marks=("top", "seam"))) == []
    assert found(OTTOMAN, top=seat, front=Entry()) == []
    assert found(OTTOMAN, top=seat, front=Entry(True, 1, fate="waste")) == []


def test_one_of_a_pair_left_on_while_the_work_goes_on_and_one_thrown_away():
    left = Entry(True, 1, marks=ALL_MARKS)
    assert found(WING, outside_wing_left=left, outside_wing_right=Entry()) == []  # its turn is next
    later = Entry(True, 2, marks=ALL_MARKS)
    assert found(WING, outside_wing_left=left, outside_wing_right=Entry(), back_welt=later) == [
        ("pair", "outside_wing_right")
    ]
    kept, gone = Entry(True, 1, ALL_MARKS, "pattern"), Entry(True, 2, (), "waste")
    assert found(WING, outside_wing_left=kept, outside_wing_right=gone) == [("pair", "outside_wing_right")]


def test_hardware_wants_a_bag_and_the_bag_its_contents():
    assert found(WING, feet=Entry(True, 1)) == [("no_bag", "feet")]
    assert found(WING, feet=Entry(True, 1, bag=3)) == [("empty_bag", "feet")]
    assert found(WING, feet=Entry(True, 1, bag=3, contents="4 feet, 12 screws")) == []


@given(st.sampled_from(list(KINDS.values())), st.data())
def test_a_record_in_which_everything_is_marked_bagged_and_off_lacks_nothing(kind, data):
    order = data.draw(st.permutations([p.key for p in kind.parts]))
    entries = {k: Entry(True, n + 1, ALL_MARKS, "pattern", n + 1, "all of it") for n, k in enumerate(order)}
    assert checks(kind, entries) == ()
    if any(p.what == "panel" for p in kind.parts):
        bare = {k: Entry(True, e.off_number) for k, e in entries.items()}
        assert {c.part for c in checks(kind, bare) if c.key == "no_top"} == {
            p.key for p in kind.parts if p.what == "panel"
        }


def test_marks_and_fixings_are_the_tables_and_in_their_order():
    assert [m.key for m in marks_for(SIDE_CHAIR, SIDE_CHAIR.part("seat"))] == ["top", "nap", "centre", "seam", "fly"]
    stool = KINDS["square_stool"]  # wrapped round its corners, screwed on from below
    assert [m.key for m in marks_for(stool, stool.part("seat"))] == ["top", "nap", "centre", "screws", "fold"]
    assert marks_for(WING, WING.part("feet")) == ()
    assert "buttons" in [m.key for m in marks_for(KINDS["hall"], KINDS["hall"].part("inside_back"))]
    assert known_marks({"nap", "top"}) == ("top", "nap")
    assert known_fixings(["glue", "staples"]) == ("staples", "glue")
    for kind in KINDS.values():
        for part in kind.parts:
            assert set(usual_fixings(part)) <= set(FIXINGS)
    for call in (lambda: known_marks(["smiley"]), lambda: known_fixings(["hope"])):
        with pytest.raises(BadInput, match="one of"):
            call()
    assert [bag_number([]), bag_number([1, 2]), bag_number([2, 3])] == [1, 3, 1]


def test_labels_are_several_a_sheet_and_each_says_what_it_is():
    labels = [
        Label(
            f"Bag {n}",
            (f"{n} bolts and washers", "arm to seat rail, right"),
            f"http://127.0.0.1:8000/tags/{n}/",
            n == 3,
        )
        for n in range(1, 45)
    ]
    pdf = PdfReader(io.BytesIO(labels_pdf(labels, units="metric")))
    assert len(pdf.pages) == 3  # 21 a sheet
    text = "\n".join(p.extract_text() for p in pdf.pages)
    assert all(f"Bag {n}\n{n} bolts" in text for n in range(1, 45))
    assert round(float(pdf.pages[0].mediabox.width)) == 595
    assert round(float(PdfReader(io.BytesIO(labels_pdf(labels[:1], units="imperial"))).pages[0].mediabox.width)) == 612
    gaps = Label(
        "Bag 7", ("8  screws,   4 washers\nand a  plate", "from the right arm, front and back, both sides"), "x"
    )
    said = PdfReader(io.BytesIO(labels_pdf([gaps], units="metric"))).pages[0].extract_text().split()
    assert said == " ".join((gaps.head, *gaps.lines)).split(), "each word once, however it was typed"
    long = Label("A " * 60, ("word " * 200,), "http://127.0.0.1:8000/" + "x" * 200)
    assert labels_pdf([long], units="metric").startswith(b"%PDF")
    with pytest.raises(BadInput, match="1 to"):
        labels_pdf([], units="metric")


def test_the_record_on_paper_holds_every_line_and_photo():
    def picture(n, m):
        content = io.BytesIO()
        Image.new("RGB", (1600, 1200), (n * 8, m * 90, 60)).save(content, "JPEG")
        return content.getvalue()

    lines = tuple(
        RecordLine(n, f"Panel {n}", ("staples", "a long note " * 20), tuple(picture(n, m) for m in range(n % 3)))
        for n in range(1, 30)
    )
    page = RecordPage(
        "124 Wing chair",
        "25 November 2026",
        ("Frame: strengthen",),
        lines,
        ("Seat: no top marked.",),
        ("Bag 1: 4 feet",),
        ("1 Seat",),
    )
    pdf = PdfReader(io.BytesIO(record_pdf(page, units="metric")))
    text = "\n".join(p.extract_text() for p in pdf.pages)
    for n in range(1, 30):
        assert f"Panel {n}" in text
    assert sum(len(p.images) for p in pdf.pages) == sum(n % 3 for n in range(1, 30))
    assert "no top marked" in text
    assert len(pdf.pages) > 3


@pytest.mark.parametrize("units", ["metric", "imperial"])
def test_a_long_name_on_the_record_stays_beside_its_photos_and_under_the_head(units):
    """No word is printed beyond its column: read back with where each line begins, and how long it is in its font."""
    content = io.BytesIO()
    Image.new("RGB", (1600, 1200), "tan").save(content, "JPEG")
    name = "Inside back, upper half, with the buttons that were drawn through the old pad & tied <twice> " * 2
    tag = "124 Wing chair with a very long title that nobody would write, of Mrs Saltmarsh of Quayside, Lower Street"
    lines = (RecordLine(1, name, ("staples " * 30,), (content.getvalue(),) * 3), RecordLine(2, "Seat", (), ()))
    page = RecordPage(tag, "25 November 2026", (), lines, (), (), ())
    pdf = PdfReader(io.BytesIO(record_pdf(page, units=units)))
    width = float(pdf.pages[0].mediabox.width)
    column = width - 2 * MARGIN - NUMBER - 3 * (PHOTO + 2 * mm)
    seen = []

    def look(text, _, matrix, font, size):
        if text.strip() and font:
            bold = "Bold" in font["/BaseFont"]
            long = max(stringWidth(line, "Helvetica-Bold" if bold else "Helvetica", size) for line in text.splitlines())
            seen.append((matrix[4], matrix[5], long, text))

    pdf.pages[0].extract_text(visitor_text=look)
    said = " ".join("".join(text for *_, text in seen).split())
    assert "tied <twice>" in said
    assert "of Quayside, Lower Street" in said, "the head takes a second line"
    first = [long for x, _, long, text in seen if "Inside back" in text or "staples" in text]
    assert first
    assert max(first) <= column


def test_every_part_of_every_kind_has_a_place_to_go():
    fates = {(part.what, usual_fate(part), saved_as(part)) for kind in KINDS.values() for part in kind.parts}
    assert fates == {
        ("panel", "pattern", "cloth scrap"),
        ("hardware", "reuse", "screws and bolts"),
        ("bottom cloth", "", "bottom cloth"),
        ("trim", "", "trim"),
    }
    assert {fate for _, fate, _ in fates} - {""} <= set(FATES)
    assert {saved for *_, saved in fates} <= set(SAVED)
