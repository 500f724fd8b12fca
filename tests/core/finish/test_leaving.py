"""What is decided for the wood and goes with the furniture: kept, refused by its name, said on paper."""

import io
import json
from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image
from pypdf import PdfReader

from zonatome.core.errors import BadInput
from zonatome.core.finish.coats import FINISHES, Coat
from zonatome.core.finish.leaving import Certificate, Frame, HandOver
from zonatome.core.formats.hand_over_pdf import NO_CLAIM, HandOverPage, hand_over_pdf
from zonatome.core.formats.leaving_json import read_frame, read_hand_over, write_frame, write_hand_over
from zonatome.core.formats.nail_strip_pdf import SHOWN, nail_strip_pdf
from zonatome.core.trim.nails import nails

words = st.text(st.characters(codec="ascii", categories=("L", "N", "P")), max_size=40)
frames = st.builds(
    Frame,
    area=st.none() | st.floats(0.05, 5),
    prepared=st.sampled_from(["strip", "scrape", "sand"]),
    grits=st.lists(st.integers(24, 1200), max_size=5, unique=True).map(lambda g: tuple(sorted(g))),
    coats=st.lists(st.builds(Coat, st.sampled_from(sorted(FINISHES)), st.floats(1, 3000)), max_size=5).map(tuple),
    is_masked=st.booleans(),
    done=st.integers(0, 20),
    masked_along=st.floats(0, 50_000),
)


@given(frames)
def test_a_frame_s_finish_comes_back_from_its_document_and_more_furniture_takes_more(told):
    assert read_frame(json.loads(json.dumps(write_frame(told)))) == told
    assert read_frame(None) == Frame()
    one, six = told.plan(1), told.plan(6)
    if one is not None:
        assert six.minutes >= one.minutes
        assert six.waits == one.waits, "six dry as long as one"
        assert six.tape == pytest.approx(6 * one.tape)
        assert (one.tape > 0) == (told.is_masked and told.masked_along > 0)
        assert any(step.what.startswith("mask") for step in one.steps[:1]) == told.is_masked
        assert any("tape off" in step.what for step in one.steps) == (told.is_masked and bool(told.coats))
        assert [litres for _, litres in six.litres] == pytest.approx([6 * litres for _, litres in one.litres])


@given(words, words, st.lists(st.builds(Certificate, words.filter(bool), st.dates(date(1990, 1, 1))), max_size=3))
def test_what_goes_with_it_comes_back_from_its_document(care, left, certificates):
    told = HandOver(care, tuple(certificates), left)
    assert read_hand_over(json.loads(json.dumps(write_hand_over(told)))) == told
    assert read_hand_over(None) == HandOver()


@pytest.mark.parametrize(("wrong", "names_it"), [
    ({"area": -1}, "area"), ({"area": "much"}, "area"), ({"prepared": "burn"}, "prepared"),
    ({"grits": [240, 80]}, "grits"), ({"grits": "fine"}, "grits"), ({"coats": [{}] * 13}, "coats"),
    ({"coats": [{"finish": "tar", "dries": 60}]}, "finish"),
    ({"coats": [{"finish": "oil", "dries": 0}]}, "dries"), ({"is_masked": "yes"}, "is_masked"), ({"done": -1}, "done"),
    ({"masked_along": -5}, "masked_along"), ({"masked_along": 2_000_000}, "masked_along"),
    ({"format": "zonatome.stack"}, "format"),
])  # fmt: skip
def test_a_frame_with_an_odd_value_is_refused_by_its_name(wrong, names_it):
    whole = write_frame(Frame(0.4, coats=(Coat("oil", 720),)))
    with pytest.raises(BadInput) as refused:
        read_frame({**whole, **wrong})
    assert names_it in str(refused.value)


@pytest.mark.parametrize("wrong", [
    {"care": "x" * 301}, {"left": 4}, {"certificates": [{"words": "", "on": "2026-01-01"}]},
    {"certificates": [{"words": "x", "on": "2026-02-30"}]}, {"certificates": [{"words": "x", "on": "2026-01-01"}] * 13},
    {"certificates": "none"},
])  # fmt: skip
def test_a_hand_over_with_an_odd_value_is_refused(wrong):
    with pytest.raises(BadInput):
        read_hand_over({**write_hand_over(HandOver()), **wrong})


def photo(wide: int, high: int) -> bytes:
    content = io.BytesIO()
    Image.linear_gradient("L").resize((wide, high)).convert("RGB").save(content, "JPEG")
    return content.getvalue()


def text_of(content: bytes) -> str:
    return " ".join(" ".join(page.extract_text().split()) for page in PdfReader(io.BytesIO(content)).pages)


@pytest.mark.parametrize(("units", "size"), [("metric", (595, 842)), ("imperial", (612, 792))])
def test_the_client_s_paper_has_before_beside_after_and_every_word(units, size):
    told = HandOverPage(
        "Mole End", "118 Foyer side chairs × 6, Lantern Street Theatre", "30 November 2026",
        (photo(900, 600), photo(600, 900)), (photo(640, 480),), ("Frame: a joint loose",), ("Feet",),
        ("Seat", "Padding"),
        ("Skerry, lot 4411: seat",), ("Brush <dry> & cool",), ("Cigarette test, 2 October 2026",), ("0.40 m, shelf 2",),
    )  # fmt: skip
    content = hand_over_pdf(told, units=units)
    pages = PdfReader(io.BytesIO(content)).pages
    assert tuple(round(float(v)) for v in pages[0].mediabox[2:]) == size
    assert sum(len(page.images) for page in pages) == 3
    said = text_of(content)
    for line in (
        "118 Foyer side chairs",
        "Frame: a joint loose",
        "Brush <dry> & cool",
        "lot 4411",
        "shelf 2",
        "Mole End",
    ):
        assert line in said
    assert NO_CLAIM[:60] in said
    assert "complies" not in said
    empty = hand_over_pdf(HandOverPage("Mole End", "1 x", "today", *([()] * 9)), units=units)
    assert "What was found" not in text_of(empty)


@pytest.mark.parametrize("units", ["metric", "imperial"])
def test_the_paper_strip_of_nails_is_as_long_as_its_line(units):
    made = nails([560, 540, 560, 540], head=11, spacing=25, is_closed=True)
    content = nail_strip_pdf(made, "118 Seat", units=units)
    said = text_of(content)
    assert f"{made.count} nails" in said
    strips = int(2200 // SHOWN) + 1
    assert f"{strips}: from" in said
    assert f"{strips + 1}: from" not in said
    with pytest.raises(BadInput):
        nail_strip_pdf(nails([90_000], head=40, spacing=400), "long", units=units)
