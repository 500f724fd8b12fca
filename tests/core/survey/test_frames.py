"""Every panel in its own frame: seams that both sides name, edges that are held, measures that agree, pairs, the way of
the pile.
"""

from __future__ import annotations

import json
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.makes import EVERY_MAKE, MAKES
from tests.often import examples
from zonatome.core.errors import BadInput
from zonatome.core.formats.furniture_json import read_furniture, write_furniture
from zonatome.core.formats.kind_json import request_of_kind, write_kind
from zonatome.core.joins import JOINS
from zonatome.core.strip.order import goes_on, usual_order
from zonatome.core.survey.furniture import drop_part, with_variants
from zonatome.core.survey.joining import edge_held, edge_parted_in
from zonatome.core.survey.kind import SEAMS, ButtonGrid, side_of_edge
from zonatome.core.survey.kinds import KINDS
from zonatome.core.survey.opened_out import opened_out, turned_side
from zonatome.core.survey.restyle import another_trim, buttoned, centre_stripe, contrast, sawn_off, thicker_arms
from zonatome.core.trace.partners import seams_of
from zonatome.core.trace.ready import pair_apart
from zonatome.core.trace.usual import usual_shape

EASED = 2.0  # mm by which two edges that are sewn together may differ
NOT_TO_AN_EDGE = (
    "skirt_front",
    "skirt_back",
    "skirt_end_left",
    "skirt_end_right",
)  # a skirt's top is sewn along a line of the sides


def restyled(kind):
    """The furniture as each restyling leaves it."""
    panel = kind.panels[0].key
    yield contrast(kind, [panel]).kind
    yield another_trim(kind, "Gimp").kind
    yield another_trim(kind, "").kind
    for part in kind.panels:
        if part.form == "disc":
            continue
        if part.width > 200:
            yield centre_stripe(kind, part.key, 90, part.width).kind
        if part.width > 250 and part.height > 250:
            yield buttoned(kind, part.key, ButtonGrid(2, 2, 90, 90, 20)).kind
        if len(kind.panels) > 1:
            yield sawn_off(kind, part.key).kind
            yield drop_part(kind, part.key)
    if any(p.key.startswith(("inside_arm", "arm_pad")) for p in kind.panels):
        yield thicker_arms(kind, 20).kind


def holds(kind):
    """What must hold of any furniture: every edge held, seams mutual, nothing named that is not there."""
    for part in kind.parts:
        if part.is_cut:
            assert set(part.joins) == set(part.edges), f"{part.key}: {sorted(set(part.edges) ^ set(part.joins))}"
    for meeting in kind.meets:
        for key, edge in meeting.ends:
            assert kind.part(key).joins[edge] == meeting.join
            assert meeting in kind.meetings_at(*meeting.beyond(key, edge)), "each names the other"
    names = {p.key for p in kind.parts}
    assert {k for pair in kind.over for k in pair} | {k for g in kind.together for k in g} <= names
    assert {p.mirror for p in kind.parts if p.mirror} <= names
    assert sorted(goes_on(kind)) == sorted(p.key for p in kind.parts if p.is_on_new)


@EVERY_MAKE
def test_every_edge_is_held_and_both_sides_of_a_seam_name_each_other_and_the_same_join(kind):
    holds(kind)
    for part in kind.panels:
        for edge, join in part.joins.items():
            if join in ("sewn", "zip") and part.key not in NOT_TO_AN_EDGE:
                assert kind.meetings_at(part.key, edge), f"{part.key}.{edge} is sewn to nothing"
            spans = kind.spans_at(part.key, edge)
            if spans:
                assert sum(s.length for s in spans) == pytest.approx(part.edge_length(edge), abs=EASED), (
                    f"{part.key}.{edge}"
                )
            for span in spans:
                assert span.ends <= kind.part(span.key).edge_length(span.edge) + EASED
                back = next(
                    s
                    for s in kind.spans_at(span.key, span.edge)
                    if (s.key, s.edge) == (part.key, edge) and s.join == span.join
                )
                assert back.length == pytest.approx(span.length)


@EVERY_MAKE
def test_every_restyling_of_every_make_leaves_every_edge_held(kind):
    for changed in restyled(kind):
        holds(changed)
        assert read_furniture(json.loads(json.dumps(write_furniture(changed)))) == changed


@EVERY_MAKE
def test_the_right_of_a_pair_is_the_mirrored_left_in_joins_seams_and_outline(kind):
    def hands(key):
        return key.replace("_left", "_#").replace("_right", "_left").replace("_#", "_right")

    for part in kind.panels:
        if not part.mirror:
            continue
        other = kind.part(part.mirror)
        assert (other.mirror, hands(part.key)) == (part.key, part.mirror)
        assert other.joins == {part.mirrored_edge(e): j for e, j in part.joins.items()}
        assert pair_apart(usual_shape(part), usual_shape(other)) < 0.01
        for meeting in kind.meetings_of(part.key):
            image = {(hands(k), kind.part(k).mirrored_edge(e)) for k, e in meeting.ends}
            assert any(set(m.ends) == image and m.join == meeting.join for m in kind.meets), meeting


@EVERY_MAKE
def test_what_is_cut_is_the_finished_panel_and_what_its_edges_add(kind):
    """The cut outline's box, measured, against the sum that the kind's data say; a slanted side adds along its
    slant.
    """
    for said in write_kind(kind)["panels"]:
        shape = usual_shape(kind.part(said["key"]))
        slant = 12.0 if kind.part(said["key"]).width_above else 0.4 if said["form"] == "disc" else 0.05
        assert shape.cut_line.width == pytest.approx(said["cut_across"], abs=slant)
        assert shape.cut_line.height == pytest.approx(said["cut_up"], abs=0.7 if said["form"] == "disc" else 0.05)


@EVERY_MAKE
def test_the_seams_of_the_usual_measures_agree_and_none_is_left_out(kind):
    shapes = {p.key: usual_shape(p) for p in kind.panels}
    seams = seams_of(kind, shapes)
    assert not [s.why_not for s in seams if s.why_not]
    assert not [f"{s.key}: {f.words}" for s in seams for f in s.findings if f.what == "length"]
    compared = {frozenset([(s.one.key, s.one.side), (o.key, o.side)]) for s in seams for o in s.others}
    assert compared == {frozenset(m.ends) for m in kind.meets if m.is_seam}


@EVERY_MAKE
def test_what_meets_at_an_upright_corner_stands_the_same_way_up(kind):
    for meeting in kind.meets:
        sides = [side_of_edge(edge) for _, edge in meeting.ends]
        stand = [kind.part(key).stands for key, _ in meeting.ends]
        upright = set(sides) <= {"left", "right"}
        over_the_top = sides == ["top", "top"]  # inside and outside back: both hang down from the seam
        a_fly_or_zip = meeting.join in ("zip", "fly")
        if all(stand):
            assert upright or over_the_top or a_fly_or_zip, f"{meeting}: one would stand on its head"


@EVERY_MAKE
def test_on_a_one_way_roll_every_piece_lies_with_its_up_along_the_roll(kind):
    request = request_of_kind(kind, width=2400, direction="one_way")
    assert sorted(p.id for p in request.pieces) == sorted(p.key for p in kind.panels)
    for piece in request.pieces:
        cut = usual_shape(kind.part(piece.id)).cut_line
        assert piece.turns == (0.0,)
        assert (piece.outline.width, piece.outline.height) == (pytest.approx(cut.height), pytest.approx(cut.width))
        # a taller bottom allowance lies at the far end: the top is toward the squared end
        heaviest = usual_shape(kind.part(piece.id)).outline.bounds[1] - cut.bounds[1]
        assert piece.outline.width - heaviest == pytest.approx(
            cut.bounds[3] - usual_shape(kind.part(piece.id)).outline.bounds[1]
        )


@EVERY_MAKE
def test_the_drawing_turns_each_panel_so_that_its_own_side_lies_against_its_neighbour(kind):
    drawn = {d.key: d for d in opened_out(kind).parts}
    for part in kind.parts:
        if (
            not part.is_cut
            or part.on is None
            or part.what == "bottom cloth"
            or kind.part(part.on).is_loose != part.is_loose
        ):
            continue
        host, own = drawn[part.on], drawn[part.key]
        away = {"top": (0, 1), "right": (1, 0), "bottom": (0, -1), "left": (-1, 0)}[turned_side(part.side, host.turn)]
        reach = (own.middle[0] - host.middle[0]) * away[0] + (own.middle[1] - host.middle[1]) * away[1]
        assert reach > 0
        a, b = own.sides[part.by]
        edge = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
        assert (edge[0] - own.middle[0]) * away[0] + (edge[1] - own.middle[1]) * away[1] < 0, (
            f"{part.key}: {part.by} faces {part.on}"
        )


@EVERY_MAKE
def test_a_cover_sewn_in_one_comes_off_and_goes_on_in_one(kind):
    for order in (usual_order(kind), goes_on(kind)):
        for group in kind.together:
            places = sorted(order.index(k) for k in group if k in order)
            assert places == list(range(places[0], places[0] + len(places)))


# --- worked by hand, from the measures that stand on the furniture

BY_HAND = [
    # (kind, variants, panel): finished across x up, cut across x up, joins top right bottom left
    ("ottoman", (), "top", 560, 460, 560 + 26, 460 + 26, "sewn sewn sewn sewn"),
    ("ottoman", (), "front", 560, 260, 560 + 26, 260 + 13 + 50, "sewn sewn stapled_under sewn"),
    ("ottoman", (), "back", 560, 260, 586, 323, "sewn sewn stapled_under sewn"),
    ("ottoman", (), "end_left", 460, 260, 460 + 26, 260 + 13 + 50, "sewn sewn stapled_under sewn"),
    ("ottoman", (), "end_right", 460, 260, 486, 323, "sewn sewn stapled_under sewn"),
    ("ottoman", ("lid",), "top", 560, 460, 660, 560, "stapled_under stapled_under stapled_under stapled_under"),
    ("ottoman", ("lid",), "front", 560, 260, 586, 360, "stapled_under sewn stapled_under sewn"),
    (
        "armchair",
        (),
        "inside_arm_left",
        500,
        340,
        500 + 50 + 110,
        340 + 50 + 110,
        "stapled_under stapled_under tucked tucked",
    ),
    ("armchair", (), "inside_arm_right", 500, 340, 660, 500, "stapled_under tucked tucked stapled_under"),
    (
        "armchair",
        (),
        "outside_arm_left",
        480,
        300,
        480 + 100,
        300 + 20 + 50,
        "card_strip stapled_under stapled_under stapled_under",
    ),
    ("armchair", (), "seat", 540, 540, 540 + 220, 540 + 13 + 13, "fly tucked sewn tucked"),
    ("armchair", ("no_cushion",), "seat", 540, 740, 760, 740 + 13 + 50, "fly tucked stapled_under tucked"),
    ("armchair", ("no_arms",), "seat", 540, 540, 540 + 100, 566, "fly stapled_under sewn stapled_under"),
    ("armchair", (), "cushion_boxing", 1440, 110, 1466, 136, "sewn sewn sewn sewn"),
    (
        "wing",
        (),
        "inside_wing_left",
        240,
        420,
        240 + 50 + 13,
        420 + 50 + 20,
        "stapled_under stapled_under card_strip sewn",
    ),
    (
        "wing",
        (),
        "outside_wing_left",
        190,
        400,
        190 + 50 + 14,
        400 + 14 + 50,
        "gripper_strip stapled_under stapled_under gripper_strip",
    ),
    (
        "wing",
        (),
        "outside_arm_right",
        500,
        300,
        500 + 22 + 50,
        370,
        "card_strip tack_strip stapled_under stapled_under",
    ),
    ("side_chair", (), "side_left", 450, 190, 450 + 26, 190 + 13 + 50, "sewn sewn stapled_under sewn"),
    ("side_chair", (), "outside_back", 410, 750, 436, 750 + 13 + 50, "sewn sewn stapled_under sewn"),
    (
        "side_chair",
        ("two_shells",),
        "seat",
        480,
        470,
        580,
        570,
        "stapled_under stapled_under stapled_under stapled_under",
    ),
    ("round_stool", ("boxed",), "top", 360, 360, 386, 386, "sewn"),
    ("round_stool", ("boxed",), "boxing", 1131, 60, 1157, 123, "sewn sewn stapled_under sewn"),
    ("bench_box", (), "boxing_end_left", 330, 80, 356, 106, "sewn sewn sewn sewn"),
    ("bench_box", (), "zip_strip_upper", 1740, 40, 1766, 40 + 13 + 22, "sewn sewn zip sewn"),
    ("bench_box", (), "zip_strip_lower", 1740, 40, 1766, 75, "zip sewn sewn sewn"),
    ("hall", (), "seat", 580, 440, 630, 440 + 13 + 25, "sewn raw_under_trim raw_under_trim raw_under_trim"),
]


@pytest.mark.parametrize(("key", "variants", "panel", "across", "up", "cut_across", "cut_up", "joins"), BY_HAND)
def test_finished_and_cut_sizes_and_joins_as_worked_by_hand(
    key, variants, panel, across, up, cut_across, cut_up, joins
):
    said = next(p for p in write_kind(with_variants(KINDS[key], variants))["panels"] if p["key"] == panel)
    assert (said["across"], said["up"], said["cut_across"], said["cut_up"]) == (across, up, cut_across, cut_up)
    edges = said["edges"]
    order = ["round"] if "round" in edges else ["top", "right", "bottom", "left"]
    assert [edges[e]["join"] for e in order] == joins.split()


def test_the_sitter_s_left_is_on_the_right_of_what_faces_the_front_and_on_the_left_of_what_faces_back_or_down():
    seam = {m.ends for m in KINDS["ottoman"].meets}
    assert (("top", "right"), ("end_left", "top")) in seam
    assert (("front", "right"), ("end_left", "left")) in seam, (
        "looked at from outside, the left end has the front on its left"
    )
    assert (("back", "left"), ("end_left", "right")) in seam
    bench = {frozenset(m.ends) for m in KINDS["bench_box"].meets}
    assert frozenset([("bottom", "left"), ("boxing_end_left", "bottom")]) in bench
    middles = {d.key: d.middle[0] for d in opened_out(KINDS["wing"]).parts}
    assert middles["inside_arm_left"] > middles["seat"] > middles["inside_arm_right"]


def test_a_wing_s_inside_back_is_parted_where_the_wing_begins_on_both_sides_in_the_order_of_the_run():
    back = KINDS["wing"].part("inside_back")
    assert [(e, back.joins[e], back.edge_length(e)) for e in back.edges] == [
        ("bottom", "tucked", 500), ("right.1", "tucked", 300), ("right.2", "sewn", 420), ("top", "stapled_under", 500),
        ("left.1", "sewn", 420), ("left.2", "tucked", 300),
    ]  # fmt: skip
    shape = usual_shape(replace(back, height=800))  # a taller back is parted at the same share
    assert shape.length_on("right.2") == pytest.approx(800 * 420 / 720)
    assert [e.adds for e in shape.edges] == [110, 110, 13, 50, 13, 110]


# --- a seam is one thing


@examples(40)
@given(st.data())
def test_however_an_edge_is_held_otherwise_both_sides_of_its_seam_agree(data):
    kind = data.draw(st.sampled_from([m.values[0] for m in MAKES if m.values[0].panels[0].form != "disc"]))
    for _ in range(data.draw(st.integers(1, 4))):
        part = data.draw(st.sampled_from([p for p in kind.panels if p.form != "disc"]))
        if data.draw(st.booleans()):
            kind = edge_held(
                kind, part.key, data.draw(st.sampled_from(part.edges)), data.draw(st.sampled_from(sorted(JOINS)))
            )
        else:
            side = data.draw(st.sampled_from(["top", "right", "bottom", "left"]))
            kind = edge_parted_in(kind, part.key, side, data.draw(st.lists(st.floats(20, 900), min_size=1, max_size=3)))
    holds(kind)
    assert read_furniture(json.loads(json.dumps(write_furniture(kind)))) == kind


def test_an_edge_that_is_not_sewn_any_more_frees_its_partner():
    kind = edge_held(KINDS["ottoman"], "top", "right", "fly")
    assert kind.part("end_left").joins["top"] == "fly"
    kind = edge_held(kind, "top", "right", "card_strip")
    assert kind.part("end_left").joins["top"] == "stapled_under"
    assert not kind.meetings_at("top", "right")
    with pytest.raises(BadInput, match="one of"):
        edge_held(kind, "top", "round", "sewn")
    assert all(m.join in SEAMS for m in kind.meets)
