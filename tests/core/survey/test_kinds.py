"""Kinds as data: what the tables promise, and the drawing that is computed from them."""

from itertools import combinations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import Polygon

from tests.core.makes import EVERY_KIND, EVERY_MAKE, MAKES
from tests.often import examples
from zonatome.core.errors import BadInput
from zonatome.core.joins import JOINS, join_named
from zonatome.core.survey.findings import findings_of
from zonatome.core.survey.furniture import checked, with_variants
from zonatome.core.survey.kinds import KINDS, kind_named
from zonatome.core.survey.opened_out import opened_out

ASKED_FOR = [
    "drop_in",
    "side_chair",
    "show_wood",
    "armchair",
    "wing",
    "hall",
    "round_stool",
    "square_stool",
    "ottoman",
    "bench_box",
    "desk_chair",
    "sling",
]


def test_the_twelve_kinds_and_their_variants_are_there():
    assert list(KINDS) == ASKED_FOR
    assert len(MAKES) > 45


def test_variants_that_exclude_each_other_or_are_unknown_are_refused():
    for chosen in (["closed_back", "recessed_back"], ["wheels"]):
        with pytest.raises(BadInput, match="expected"):
            with_variants(KINDS["drop_in"], chosen)
    assert with_variants(KINDS["wing"], []) == KINDS["wing"]


@EVERY_MAKE
def test_a_kind_names_only_what_it_has(kind):
    keys = {p.key for p in kind.parts}
    assert len(keys) == len(kind.parts)
    for part in kind.parts:
        assert part.on is None or part.on in keys
        assert set(part.joins.values()) <= set(JOINS)
        assert part.held, f"{part.name} is held by nothing"
        if part.is_cut:
            assert part.width > 0
            assert part.height > 0
    for under, over in kind.over:
        assert {under, over} <= keys
    assert kind.panels
    assert any(p.padded for p in kind.panels) or kind.key == "sling"
    assert checked(kind) is kind
    for meeting in kind.meets:
        assert {meeting.one, meeting.other} <= keys
        assert meeting.join in JOINS


@EVERY_MAKE
def test_every_panel_is_drawn_once_and_none_covers_another(kind):
    drawing = opened_out(kind)
    assert sorted(d.key for d in drawing.parts) == sorted(p.key for p in kind.parts if p.is_cut)
    for one, other in combinations(drawing.parts, 2):
        shared = Polygon(one.points).intersection(Polygon(other.points), grid_size=0.01).area
        assert shared < 1.0, f"{one.key} and {other.key} share {shared:.0f} mm2"


@EVERY_MAKE
def test_neighbours_touch_along_their_join(kind):
    drawn = {d.key: Polygon(d.points) for d in opened_out(kind).parts}
    for part in kind.parts:
        if part.on and part.what == "panel" and part.is_loose == kind.part(part.on).is_loose:
            shared = drawn[part.key].buffer(0.01).intersection(drawn[part.on].exterior).length
            assert shared > (0.1 if kind.part(part.on).form == "disc" else 20), f"{part.key} hangs off {part.on}"


@EVERY_MAKE
def test_the_sitter_s_left_is_on_the_right_as_one_sees_it_from_the_front(kind):
    middles = {d.key: d.middle[0] for d in opened_out(kind).parts}
    for key, x in middles.items():
        if key.endswith("_left"):
            assert x > middles[key.replace("_left", "_right")]


@EVERY_KIND
@examples(25)
@given(data=st.data())
def test_the_drawing_holds_for_other_measures_too(kind, data):
    sizes = {p.key: (data.draw(st.floats(80, 1500)), data.draw(st.floats(80, 1500))) for p in kind.parts if p.is_cut}
    drawing = opened_out(kind, sizes)
    x0, y0, x1, y1 = drawing.bounds
    for drawn in drawing.parts:
        assert Polygon(drawn.points).is_valid
    for one, other in combinations(drawing.parts, 2):
        assert Polygon(one.points).intersection(Polygon(other.points), grid_size=0.01).area < 3.0, (
            f"{one.key} covers {other.key}"
        )
    for drawn in drawing.parts:
        assert all(x0 - 0.01 <= x <= x1 + 0.01 and y0 - 0.01 <= y <= y1 + 0.01 for x, y in drawn.points)


def test_a_changed_measure_redraws_only_by_that_much():
    kind = kind_named("square_stool")
    drawn = next(d for d in opened_out(kind, {"seat": (500, 300)}).parts if d.key == "seat")
    assert (drawn.width, drawn.height) == (500, 300)


def test_a_kind_part_join_or_finding_that_there_is_not_is_refused_with_those_there_are():
    for call in (
        lambda: kind_named("throne"),
        lambda: kind_named("wing").part("antler"),
        lambda: join_named("magnet"),
        lambda: findings_of("roof"),
    ):
        with pytest.raises(BadInput, match="one of"):
            call()
