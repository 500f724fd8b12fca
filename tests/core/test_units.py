"""Lengths as people write them."""

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from zonatome.core.errors import BadInput
from zonatome.core.units import bare_unit, exact_length, format_length, parse_length, said_in


@pytest.mark.parametrize(
    ("text", "bare", "mm"),
    [
        pytest.param("52", "cm", 520, id="a bare number is in the unit beside the box"),
        pytest.param("52", "in", 1320.8, id="the same number in an imperial workroom"),
        pytest.param("52 cm", "in", 520, id="its own unit wins over the box's"),
        pytest.param("520mm", "cm", 520, id="no space needed"),
        pytest.param("1,5 m", "cm", 1500, id="a decimal comma"),
        pytest.param(".5 m", "cm", 500, id="no nought before the point"),
        pytest.param("20 1/2 in", "cm", 520.7, id="a mixed number"),
        pytest.param('20½"', "cm", 520.7, id="a vulgar fraction glued to its number"),
        pytest.param("½ in", "cm", 12.7, id="a fraction alone"),
        pytest.param("3/8", "in", 9.525, id="a bare fraction"),
        pytest.param("1' 8\"", "cm", 508, id="feet and inches by their signs"),
        pytest.param("1′ 8″", "cm", 508, id="the same by the printer's signs"),
        pytest.param("1 1/4 yd", "cm", 1143, id="yards and a fraction"),
        pytest.param("2 yd 9 in", "cm", 2057.4, id="a sum of falling units"),
        pytest.param("2 METRES", "cm", 2000, id="spelt out, in capitals"),
        pytest.param("14 1/2 in", "cm", 368.3, id="a stool's board"),
        pytest.param("２cm", "cm", 20, id="digits of another script's keyboard"),
    ],
)
def test_a_written_length_is_kept_in_millimetres(text, bare, mm):
    assert parse_length(text, bare=bare) == pytest.approx(mm, abs=1e-6)


@pytest.mark.parametrize(
    "text",
    [
        "",
        "   ",
        "wide",
        "12 parsecs",
        "1/0 in",
        "-3 cm",
        "0",
        "0 cm",
        "3 cm 2 m",
        "5 cm 5",
        "1 2 3",
        "5 cm 6 cm",
        "1e5",
        "inf",
        "nan",
        "12 in in",
        "½½",
        "9" * 40,
        "1 " * 40,
        "200 km",
        "150 m",
    ],
)
def test_nonsense_is_refused_with_what_was_expected(text):
    with pytest.raises(BadInput) as refusal:
        parse_length(text, key="width")
    assert refusal.value.key == "width"
    assert "expected" in str(refusal.value)
    assert len(str(refusal.value)) < 300


def test_bounds_are_named_in_the_box_s_own_unit():
    with pytest.raises(BadInput, match="at least 10 cm"):
        parse_length("5", bare="cm", least=100)
    with pytest.raises(BadInput, match="at most 2 in"):
        parse_length("3", bare="in", most=50.8)


@given(st.floats(0.5, 90_000), st.sampled_from(["mm", "cm", "m", "in", "yd", "ft"]))
def test_what_a_box_shows_reads_back_as_the_same_length(mm, bare):
    assert parse_length(exact_length(mm, bare=bare), bare=bare) == pytest.approx(mm, abs=0.01)


@given(st.integers(1, 64 * 40))
def test_sixty_fourths_of_an_inch_are_shown_as_fractions_and_read_back_exactly(count):
    mm = count * 25.4 / 64
    shown = exact_length(mm, bare="in")
    assert "." not in shown
    assert parse_length(shown, bare="in") == pytest.approx(mm, abs=1e-9)


@given(st.floats(1, 5_000))
def test_a_box_in_inches_has_no_more_decimals_than_a_hundredth_of_a_millimetre_needs(mm):
    shown = exact_length(mm, bare="in")
    if "/" in shown or "." not in shown:
        return
    decimals = len(shown.partition(".")[2])
    assert decimals <= 4
    assert abs(float(shown) * 25.4 - mm) < 0.005
    assert abs(round(mm / 25.4, decimals - 1) * 25.4 - mm) >= 0.005


@given(st.floats(1, 90_000), st.sampled_from(["metric", "imperial"]), st.sampled_from(["small", "panel", "cloth"]))
def test_a_printed_length_reads_back_within_its_rounding(mm, units, size):
    printed = format_length(mm, units, size)
    half_step = {
        "metric": {"small": 0.5, "panel": 0.5, "cloth": 5},
        "imperial": {"small": 1.6, "panel": 1.6, "cloth": 57.2},
    }[units][size]
    if printed.split()[0] == "0" or printed.startswith("0.00"):
        assert mm <= half_step + 0.001
    else:
        assert parse_length(printed) == pytest.approx(mm, abs=half_step + 0.001)


@given(st.floats(1, 50_000), st.sampled_from(["metric", "imperial"]))
def test_what_must_be_enough_is_never_rounded_down(mm, units):
    assert parse_length(format_length(mm, units, "cloth", up=True)) >= mm - 0.01


@pytest.mark.parametrize(
    ("mm", "units", "size", "printed"),
    [
        pytest.param(13, "metric", "panel", "13 mm", id="below 10 cm in mm"),
        pytest.param(520.7, "metric", "panel", "52.1 cm", id="else in cm"),
        pytest.param(5600, "metric", "cloth", "5.60 m", id="cloth in metres, two decimals"),
        pytest.param(520.7, "imperial", "panel", "20 1/2 in", id="inches in eighths"),
        pytest.param(5, "imperial", "small", "3/16 in", id="what is small in sixteenths"),
        pytest.param(4114.8, "imperial", "cloth", "4 1/2 yd", id="cloth in yards"),
    ],
)
def test_lengths_are_printed_as_the_workroom_reads_them(mm, units, size, printed):
    assert format_length(mm, units, size) == printed


def test_a_box_says_which_unit_a_bare_number_is_in():
    assert [bare_unit("metric", s) for s in ("small", "panel", "cloth")] == ["mm", "cm", "m"]
    assert [bare_unit("imperial", s) for s in ("small", "panel", "cloth")] == ["in", "in", "yd"]


def test_a_sentence_speaks_the_workroom_s_unit():
    words = "Seat 1 lies 8.0 mm over Seat 2, and reaches 25.4 mm into the left selvage; the gap is 0.4 mm"
    assert said_in(words, "metric") == words
    assert (
        said_in(words, "imperial")
        == "Seat 1 lies 3/8 in over Seat 2, and reaches 1 in into the left selvage; the gap is 0.02 in"
    )
    assert said_in("hardly 1 mm", "imperial") == "hardly less than 1/8 in"
    assert format_length(-0.0) == format_length(0.0) == "0 mm"


@given(st.lists(st.integers(20, 9_999), min_size=2, max_size=2, unique=True), st.sampled_from([" to ", ", not "]))
def test_two_lengths_of_a_sentence_are_never_told_as_the_same(tenths, between):
    """A refusal that asks for at least 5 7/8 in where one has 5 7/8 in tells nobody anything."""
    assume(abs(tenths[0] - tenths[1]) > 3)  # a hundredth of an inch is 2.54 tenths of a mm
    one, other = (f"{t / 10:.1f}" for t in tenths)
    told = said_in(f"{one}{between}{other} mm" if between == " to " else f"{one} mm{between}{other} mm", "imperial")
    one, other = (told.removesuffix(" in") for told in told.replace(" in,", ",").split(between))
    assert one != other
