"""Nap, stripe, pile of cord, what follows the seat's motif, and what helps where a panel is wider than the cloth."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.makes import EVERY_MAKE
from tests.often import examples
from zonatome.core.errors import BadInput
from zonatome.core.lay.advice.suits import remarks_on
from zonatome.core.lay.advice.too_wide import too_large_for, ways_out
from zonatome.core.lay.check import faults
from zonatome.core.lay.lay import easy_lay
from zonatome.core.lay.pattern.centring import centred_on, following_on, follows
from zonatome.core.lay.pattern.direction import TRIM_WAYS, strip_directions, turns_allowed
from zonatome.core.lay.request import LayRequest, Panels, PieceAsk, Repeat, Roll, StripAsk
from zonatome.core.lay.table.cut_sheet import before_the_shears
from zonatome.core.lay.table.on_a_panel import moved_by, on_the_panel, turned_on_drawing
from zonatome.core.outline import rectangle
from zonatome.core.rules import rules_of
from zonatome.core.survey.kinds import KINDS
from zonatome.core.survey.opened_out import opened_out
from zonatome.core.trace.cut_marks import up_the_roll
from zonatome.core.trace.usual import usual_shape


@pytest.mark.parametrize(
    ("nap", "how", "turns"),
    [
        pytest.param("one_way", {}, (0.0,), id="pile lies one way"),
        pytest.param("one_way", {"railroaded": True}, (90.0,), id="railroaded pile, all of it"),
        pytest.param("two_way", {}, (0.0, 180.0), id="a weave may turn half round"),
        pytest.param("any", {}, (0.0, 90.0, 180.0, 270.0), id="vinyl in quarters"),
        pytest.param("any", {"any_angle": True}, None, id="vinyl at any angle, when asked"),
        pytest.param(
            "any", {"is_striped": True, "any_angle": True}, (0.0, 180.0), id="nothing turns a quarter alone on a stripe"
        ),
        pytest.param(
            "two_way",
            {"is_striped": True, "railroaded": True},
            (90.0, 270.0),
            id="a stripe sideways for the whole piece",
        ),
    ],
)
def test_turns_follow_nap_and_stripe(nap, how, turns):
    assert turns_allowed(nap, **how) == turns


def test_strips_of_pile_lie_one_way_and_a_chosen_way_is_the_only_one():
    assert strip_directions("one_way") == ("across",)
    assert strip_directions("one_way", railroaded=True) == ("along",)
    assert strip_directions("two_way") == ("across", "along")
    for way in filter(None, TRIM_WAYS):
        assert strip_directions("two_way", way) == (way,)
    for wrong in (lambda: strip_directions("any", "diagonal"), lambda: turns_allowed("sideways")):
        with pytest.raises(BadInput, match="one of"):
            wrong()


@examples(20)
@given(st.sampled_from(["across", "along", "bias"]), st.floats(900, 9000))
def test_on_pile_every_strip_of_a_lay_runs_the_same_way_and_the_check_before_the_shears_sees_it(way, total):
    pieces = (PieceAsk("seat", rectangle(600, 560), 2, (0.0,)),)
    request = LayRequest(Roll(1400, (12, 12)), 4, pieces, (StripAsk("welt", 48, total, 40, 500, (way,), True),))
    lay = easy_lay(request)
    assert not faults(request, lay)
    said = [look for look in before_the_shears(request, lay, {}) if "strips" in look.words.lower()]
    assert [look.holds for look in said] == [True]
    other = easy_lay(
        replace(request, strips=(replace(request.strips[0], directions=("along" if way != "along" else "across",)),))
    )
    mixed = replace(lay, strips=(*lay.strips, *other.strips))
    wrong = [look for look in before_the_shears(request, mixed, {}) if "strips" in look.words.lower()]
    assert [look.holds for look in wrong] == [False]


def test_front_bands_and_boxings_are_those_that_hang_from_a_centred_front_edge():
    assert follows(KINDS["ottoman"]) == {"front": "top"}
    assert follows(KINDS["bench_box"]) == {"boxing_front": "top"}
    assert follows(KINDS["armchair"]) == {"cushion_boxing": "cushion_top"}, (
        "the platform is of deck cloth, so its band follows nothing"
    )
    assert follows(KINDS["square_stool"]) == {}


@given(st.floats(200, 700), st.floats(60, 640), st.floats(0, 400))
def test_a_front_goes_on_with_the_motif_where_the_top_ends(depth, along, at):
    """By hand: top 460 deep, motif in its middle; the next motif of a repeat of 320 lies 320 further: 90 below the
    top's front edge.
    """
    kind = KINDS["ottoman"]
    top = usual_shape(replace(kind.part("top"), height=depth))
    front = usual_shape(kind.part("front"))
    hosted = centred_on(PieceAsk("top", up_the_roll(top.cut_line), 1), top)
    next_one = following_on(PieceAsk("front", up_the_roll(front.cut_line), 1), front, top)
    repeat = Repeat(along, 300.0, 0.0, (at, 0.0))
    # both anchors on a motif: from the top's middle to its finished front edge, and on from the front's finished top
    # edge
    edge_of_top = hosted.anchor[0] + depth / 2
    edge_of_front = front.cut_line.bounds[3] - front.outline.bounds[3]
    assert next_one.anchor[0] - edge_of_front == pytest.approx(hosted.anchor[0] - edge_of_top)
    assert next_one.bound(repeat) == (True, True)
    across = front.outline.width / 2 + 13  # its middle, from the cut line
    assert next_one.anchor[1] == pytest.approx(across)


def test_a_panel_wider_than_the_cloth_says_what_helps_and_what_it_takes():
    """By hand: 1,466 across on 1,376: railroaded 1,466 of the roll; two parts of (1,466 + 26) / 2 = 746; hidden 90 +
    13; a wider cloth.
    """
    boxing = up_the_roll(usual_shape(KINDS["armchair"].part("cushion_boxing")).cut_line)
    ways = {w.what: w for w in ways_out(boxing, 1376, may_railroad=True)}
    assert {k: (round(w.figure), w.parts) for k, w in ways.items()} == {
        "railroad": (1466, 1), "seam": (746, 2), "fly": (103, 1), "wider": (1466, 1)
    }  # fmt: skip
    assert "146.6 cm" in ways["railroad"].words("metric")
    assert "57 3/4 in" in ways["railroad"].words("imperial")
    assert [w.what for w in ways_out(rectangle(2000, 3000), 1376, may_railroad=True)] == ["seam", "wider"]


def test_what_is_longer_or_wider_than_every_length_there_is_says_which_and_what_helps():
    """By hand: 1,300 up the roll on lengths of 1,000 x 1,200 and 1,250 x 600: 300 too long for the one that is wide
    enough.

    Two parts of (1,300 + 26) / 2 = 663; a fly would hide 300 + 13 = 313, more than three tenths of 1,000 is not
    offered."""
    lengths = Panels((rectangle(1000, 1200), rectangle(1250, 600)))
    tall = PieceAsk("back", rectangle(1300, 700), 1)
    large = too_large_for(tall, lengths)
    assert (large.is_too_long, large.measures) == (True, 1300)
    assert [(w.what, round(w.figure), w.parts) for w in large.ways] == [("seam", 663, 2), ("longer", 1300, 1)]
    assert "longer than every piece of cloth here" in large.words("metric")
    assert "51 1/8 in" in large.words("imperial")
    nearly = too_large_for(PieceAsk("back", rectangle(1290, 700), 1), lengths)
    assert [(w.what, round(w.figure)) for w in nearly.ways] == [("seam", 658), ("fly", 303), ("longer", 1290)]
    wide = too_large_for(PieceAsk("band", rectangle(100, 1300), 1), lengths)
    assert (wide.is_too_long, wide.measures, wide.ways[-1].what) == (False, 1300, "wider")
    assert too_large_for(PieceAsk("back", rectangle(1150, 600), 1), lengths) is None, "it goes on the second"
    assert too_large_for(PieceAsk("back", rectangle(1100, 650), 1, (0.0, 90.0)), lengths) is None, (
        "turned it goes on the first"
    )


def test_a_round_seat_in_a_strong_direction_and_cloth_that_is_heavy_to_turn_are_said():
    """By hand: 1.8 mm three times in a folded corner is 5.4 mm, six times in a join of welts 10.8."""
    round_seat, square = KINDS["round_stool"].parts, KINDS["square_stool"].parts
    velvet = remarks_on(round_seat, direction="one_way", pattern="plain", thickness=1.8)
    assert len(velvet) == 2
    assert "it has pile" in velvet[0]
    assert "5.4 mm" in velvet[1]
    assert "10.8 mm" in velvet[1]
    assert "stripe" in remarks_on(round_seat, direction="two_way", pattern="stripe", thickness=1)[0]
    assert remarks_on(round_seat, direction="two_way", pattern="half_drop", thickness=1.4) == ()
    assert remarks_on(square, direction="one_way", pattern="stripe", thickness=1) == ()
    own = rules_of({"heavy": 1.0})
    (inches,) = remarks_on(round_seat, direction="any", pattern="plain", thickness=1.0, rules=own, units="imperial")
    assert "1/16 in" in inches
    assert "1/8 in" in inches, "3 mm are two sixteenths"


@EVERY_MAKE
def test_the_cloth_in_place_runs_with_each_panel_s_own_up_however_the_drawing_turned_it(kind):
    turns = {d.key: d for d in opened_out(kind).parts}
    for part in kind.panels:
        shape = usual_shape(part)
        piece = PieceAsk(part.key, up_the_roll(shape.cut_line), 1)
        lay = easy_lay(LayRequest(Roll(4000), 3, (piece,)))
        affine = turned_on_drawing(on_the_panel(shape, lay.placements[0]), turns[part.key].turn)
        toward_the_end = [
            b - a for a, b in zip(moved_by(affine, (1.0, 0.0)), moved_by(affine, (0.0, 0.0)), strict=True)
        ]
        drawn = turns[part.key]
        (ax, ay), (bx, by) = drawn.sides["top"]
        up = ((ax + bx) / 2 - drawn.middle[0], (ay + by) / 2 - drawn.middle[1])
        assert toward_the_end[0] * up[0] + toward_the_end[1] * up[1] > 0, part.key
