"""What the findings lead to together, whether it still drops in, and what restyling changes downstream."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import Polygon

from zonatome.core.cautions import CAUTIONS, cautions_for, cautions_off
from zonatome.core.errors import BadInput
from zonatome.core.formats.piece_json import read_piece, write_piece
from zonatome.core.survey.clearance import clearance
from zonatome.core.survey.findings import (
    FINDINGS,
    LAYERS,
    VERDICTS,
    cautions_called,
    findings_of,
    proposed,
    ways_to_test,
)
from zonatome.core.survey.kind import ButtonGrid
from zonatome.core.survey.kinds import KINDS
from zonatome.core.survey.restyle import (
    button_growth,
    button_travel,
    buttoned,
    centre_stripe,
    contrast,
    sawn_off,
    thicker_arms,
)
from zonatome.core.trace.by_tape import disc_shape, rectangle_shape, trapezoid_shape
from zonatome.core.trace.restyled import grown_shape, split_shape

SOUND = ("frame_sound", "support_sound", "filling_sound", "cover_sound")


@pytest.mark.parametrize("layer", LAYERS)
def test_each_layer_has_tests_to_do_and_a_sound_finding_first(layer):
    found = findings_of(layer)
    assert found[0].verdict in ("keep", "cover_over")
    assert ways_to_test(layer)
    for finding in found:
        assert finding.verdict in VERDICTS
        assert len(finding.reason) > 10
        assert not finding.caution or finding.caution in CAUTIONS


@pytest.mark.parametrize(
    ("layer", "found", "fits", "verdict", "says"),
    [
        pytest.param(
            "support",
            ["support_slack"],
            None,
            "renew",
            "webbing across, not more foam",
            id="a sagging seat needs webbing",
        ),
        pytest.param(
            "cover", SOUND, None, "cover_over", "if the added thickness still fits", id="all sound: covered over"
        ),
        pytest.param("cover", SOUND, True, "cover_over", "still fits", id="measured, and it fits"),
        pytest.param("cover", SOUND, False, "renew", "does not drop in", id="measured, and it does not"),
        pytest.param(
            "cover", ["cover_sound", "filling_smell"], None, "renew", "shut in", id="a smell would be shut in"
        ),
        pytest.param(
            "cover", ["cover_sound", "filling_flat"], None, "renew", "has to be reached", id="flat foam must be reached"
        ),
        pytest.param(
            "cover", ["cover_sound", "frame_insects"], None, "renew", "round holes", id="insects are not covered over"
        ),
        pytest.param("cover", ["cover_sound", "cover_slick"], None, "renew", "nothing grips", id="the gravest decides"),
        pytest.param(
            "frame",
            ["frame_loose", "frame_holes"],
            None,
            "strengthen",
            "also drill out",
            id="two findings are both said",
        ),
        pytest.param(
            "cover",
            ["cover_sound", "support_spring"],
            True,
            "renew",
            "has to be reached",
            id="a loose spring must be reached",
        ),
        pytest.param(
            "cover",
            ["cover_sound", "frame_loose"],
            True,
            "renew",
            "has to be reached",
            id="an open joint must be reached",
        ),
        pytest.param(
            "cover",
            ["cover_sound", "frame_broken"],
            True,
            "renew",
            "has to be reached",
            id="a broken rail must be reached",
        ),
        pytest.param(
            "cover",
            ["cover_sound", "filling_thin"],
            True,
            "renew",
            "has to be reached",
            id="thin wadding must be reached",
        ),
        pytest.param(
            "cover", ["cover_sound", "frame_feet"], True, "cover_over", "still fits", id="feet are mended from below"
        ),
        pytest.param("filling", ["filling_thin"], None, "renew", "cheap", id="wadding is renewed, not patched"),
        pytest.param(
            "filling",
            ["filling_sound", "support_slack"],
            None,
            "keep",
            "lifted off whole",
            id="sound foam on slack webs",
        ),
    ],
)
def test_the_rules_propose_the_trade_s_verdict_with_its_reason(layer, found, fits, verdict, says):
    told = proposed(layer, found, fits_over=fits)
    assert told is not None
    assert told.verdict == verdict
    assert says in told.reason


@given(st.sets(st.sampled_from(sorted(FINDINGS)), max_size=8), st.sampled_from([None, True, False]))
def test_no_cover_goes_over_what_must_be_reached_or_would_stay_inside(found, fits):
    for layer in LAYERS:
        told = proposed(layer, found, fits_over=fits)
        assert (told is None) == (not any(FINDINGS[k].layer == layer for k in found))
    cover = proposed("cover", found, fits_over=fits)
    if cover and cover.verdict == "cover_over":
        assert fits is not False
        assert not any(
            FINDINGS[k].verdict == "renew" and FINDINGS[k].layer in ("filling", "support", "cover") for k in found
        )


def test_what_was_found_brings_its_caution_to_every_step_where_hands_go():
    called = cautions_called(["frame_paint", "filling_mould", "filling_unknown", "frame_insects", "frame_sound"])
    assert set(called) == {"old_paint", "mould", "unknown_filling", "insects"}
    for step in ("survey", "strip", "pad", "finish"):
        shown = [c.key for c in cautions_for(step, found=called, kind_cautions=("gas_lift",))]
        assert {*called, "gas_lift"} <= set(shown)
        assert len(shown) == len(set(shown))
    assert "gas_lift" not in [c.key for c in cautions_for("lay", kind_cautions=("gas_lift",))]
    springs = cautions_off("panel", ("staples",), KINDS["wing"].layers, is_seat=True)
    assert [c.key for c in springs] == ["stubs", "springs"]


# --- clearance ---------------------------------------------------------------------------------------

MEASURES = {
    "rebate_width": 412.0,
    "rebate_depth": 392.0,
    "board_width": 400.0,
    "board_depth": 382.0,
    "old_cover": 1.5,
    "new_cloth": 1.2,
    "wrap": 2.0,
}


def test_the_clearance_is_the_gap_less_old_cover_new_cloth_and_wrap():
    told = clearance(**MEASURES)
    assert (told.gap_across, told.gap_deep, told.gap) == (6.0, 5.0, 5.0)
    assert told.needs == pytest.approx(4.7)
    assert told.spare == pytest.approx(0.3)
    assert told.fits
    assert not told.fits_at_corners  # 2 x (1.5 + 1.2) + 2 = 7.4
    assert not clearance(**MEASURES | {"new_cloth": 1.6}).fits
    assert clearance(**MEASURES | {"old_cover": 0.0}).fits_at_corners


@given(st.floats(0, 6), st.floats(0, 6), st.floats(0, 6))
def test_whatever_is_added_never_makes_more_room(old, new, wrap):
    told = clearance(**MEASURES | {"old_cover": old, "new_cloth": new, "wrap": wrap})
    assert told.spare <= told.gap
    assert told.corner >= told.needs
    assert told.fits or not told.fits_at_corners


@pytest.mark.parametrize("wrong", [{"board_width": 413.0}, {"board_depth": 0.0}, {"new_cloth": -1.0}, {"wrap": 41.0}])
def test_a_board_wider_than_its_rebate_or_a_thickness_that_is_none_is_refused(wrong):
    with pytest.raises(BadInput, match=next(iter(wrong))):
        clearance(**MEASURES | wrong)


# --- restyling ---------------------------------------------------------------------------------------


def test_thicker_arms_grow_each_arm_panel_by_twice_the_layer_and_facings_and_outside_arms_with_them():
    """By hand, a layer of 20: over the pad 40 both ways; the facing's board 20 on each side and 20 above; the outer top
    edge rises by 20.
    """
    told = thicker_arms(KINDS["wing"], 20)
    for part in told.kind.parts:
        before = KINDS["wing"].part(part.key)
        grows = {"inside_arm": (40, 40), "arm_front": (40, 20), "outside_arm": (0, 20)}.get(
            part.key.rpartition("_")[0], (0, 0)
        )
        assert (part.width - before.width, part.height - before.height) == grows
    assert {k.rpartition("_")[0] for k in told.touched} == {"inside_arm", "arm_front", "outside_arm"}
    assert {step for step, _ in told.follows} == {"trace", "lay", "pad"}
    with pytest.raises(BadInput, match="padded arms"):
        thicker_arms(KINDS["square_stool"], 20)


def test_a_stripe_makes_three_strips_of_a_panel_and_keeps_its_key_for_the_record():
    told = centre_stripe(KINDS["wing"], "inside_back", 150, 500)
    names = [told.kind.part(k) for k in told.touched]
    assert sum(p.width for p in names) == pytest.approx(500)
    stripe = told.kind.part("inside_back")
    assert stripe.width == pytest.approx(150)
    assert stripe.contrast
    assert stripe.is_on_old
    sides = [p for p in names if p.key != "inside_back"]
    assert all(not p.is_on_old and not p.contrast and "sewn" in p.joins.values() for p in sides)
    assert {p.mirror for p in sides} == {p.key for p in sides}
    assert "52 mm wider" in told.follows[0][1]  # four allowances of 13
    with pytest.raises(BadInput, match="width"):
        centre_stripe(KINDS["wing"], "inside_back", 480, 500)


def test_a_shape_split_for_a_stripe_loses_nothing_and_gains_two_allowances_a_seam():
    whole = trapezoid_shape(
        "Inside back", 500, 460, 640, {"top": "stapled_under", "left": "sewn", "right": "sewn", "bottom": "fly"}
    )
    strips = split_shape(whole, (175, 325), ("left", "stripe", "right"))
    assert sum(Polygon(s.outline.points).area for s in strips) == pytest.approx(Polygon(whole.outline.points).area)
    assert [round(s.outline.width) for s in strips] == [175, 150, 175]
    stripe = strips[1]
    assert {e.side: e.join for e in stripe.edges} == {
        "top": "stapled_under",
        "right": "sewn",
        "bottom": "fly",
        "left": "sewn",
    }
    assert stripe.cut_line.width == pytest.approx(150 + 2 * 13)
    grown = sum(s.cut_line.width for s in strips) - whole.cut_line.width
    assert grown == pytest.approx(4 * 13, abs=1.5)  # the slanted outer edges cost a trifle
    for strip in strips:
        assert read_piece(write_piece(strip)).outline == strip.outline


@given(st.floats(60, 700), st.floats(60, 700), st.floats(0.2, 0.8))
def test_split_anywhere_the_parts_are_the_whole_and_every_edge_has_its_join(width, height, share):
    whole = rectangle_shape("Seat", width, height, dict.fromkeys(("top", "right", "bottom", "left"), "stapled_under"))
    strips = split_shape(whole, (width * share,), ("a", "b"))
    assert sum(s.outline.polygon.area for s in strips) == pytest.approx(width * height, rel=1e-6)
    for strip in strips:
        assert sorted(e.join for e in strip.edges) == ["sewn", "stapled_under", "stapled_under", "stapled_under"]


def test_a_disc_is_split_into_two_with_a_round_edge_and_a_seam():
    strips = split_shape(disc_shape("Top", 360, {"bottom": "stapled_under"}), (180,), ("a", "b"))
    assert [len(s.edges) for s in strips] == [2, 2]
    for wrong in ((0.0,), (360.0,), (200.0, 100.0)):
        with pytest.raises(BadInput, match="at"):
            split_shape(disc_shape("Top", 360, {}), wrong, ["x"] * (len(wrong) + 1))


@given(st.floats(0, 80), st.floats(0, 80))
def test_a_grown_shape_is_so_much_wider_and_higher_and_tapers_as_before(wider, higher):
    shape = trapezoid_shape("Arm", 300, 240, 500, {})
    grown = grown_shape(shape, wider, higher)
    assert grown.outline.width == pytest.approx(300 + wider)
    assert grown.outline.height == pytest.approx(500 + higher)
    assert [e.join for e in grown.edges] == [e.join for e in shape.edges]
    top = grown.edge_length(2) / grown.edge_length(0)
    assert top == pytest.approx(240 / 300)


@given(st.floats(20, 300), st.floats(0, 60))
def test_cloth_travels_down_to_each_button_and_up_again(apart, deep):
    assert button_travel(apart, deep) == pytest.approx(2 * math.hypot(apart / 2, deep))


def test_buttons_are_counted_come_before_the_outside_back_and_grow_the_cloth():
    grid = ButtonGrid(3, 4, 100, 150, 30)
    told = buttoned(KINDS["wing"], "inside_back", grid)
    assert "12 buttons" in told.words
    assert told.kind.part("buttons").cover == "new"
    assert ("buttons", "outside_back") in told.kind.over
    assert button_growth(grid)[0] == pytest.approx(3 * (math.sqrt(100**2 + 4 * 30**2) - 100))
    with pytest.raises(BadInput, match="a grid within"):
        buttoned(KINDS["wing"], "inside_back", ButtonGrid(3, 9, 100, 150, 30))


def test_a_second_cloth_and_what_is_not_made_again():
    told = contrast(KINDS["side_chair"], ["outside_back"])
    assert told.kind.part("outside_back").contrast
    assert not told.kind.part("seat").contrast
    gone = sawn_off(KINDS["ottoman"], "welt")
    assert "welt" in [p.key for p in gone.kind.old]
    assert not gone.kind.part("welt").is_on_new
    for call in (
        lambda: contrast(KINDS["side_chair"], []),
        lambda: contrast(KINDS["side_chair"], ["flies"]),
        lambda: sawn_off(KINDS["drop_in"], "seat"),
    ):
        with pytest.raises(BadInput, match="expected"):
            call()
