"""Stacks in their file, cut through, and what a changed pad does to the edges of its cover."""

import json
import math
from dataclasses import asdict, replace
from itertools import pairwise

import pytest
import shapely
from hypothesis import assume, example, given
from hypothesis import strategies as st

from tests.core.awkward import with_arcs
from tests.often import examples
from zonatome.core.errors import BadInput
from zonatome.core.formats.stack_json import read_stack, stack_of_thicknesses, write_stack
from zonatome.core.joins import WRAPPED
from zonatome.core.outline import rectangle
from zonatome.core.pad.section import section
from zonatome.core.pad.sitting import sitting
from zonatome.core.pad.sorts import FOAMS, SCHOOLS, SORTS
from zonatome.core.pad.spans import strap_places, widest_gap
from zonatome.core.pad.stack import Buttons, Frame, Heights, Layer, Stack
from zonatome.core.pad.worked import worked
from zonatome.core.rules import rules_of
from zonatome.core.trace.by_tape import disc_shape, trapezoid_shape
from zonatome.core.trace.restyled import grown_at_edges


@st.composite
def layers(draw: st.DrawFn) -> Layer:
    made = SORTS[draw(st.sampled_from(sorted(SORTS)))]
    return Layer(
        made.key,
        draw(st.floats(made.least, made.most)),
        draw(st.booleans()),
        draw(st.sampled_from(sorted(FOAMS))),
        draw(st.sampled_from(sorted(SCHOOLS))),
        draw(st.none() | st.floats(-30, 300)),
        draw(st.none() | st.floats(0.5, 30)),
        draw(st.floats(0, 0.25)),
        draw(st.sampled_from(["deep", "across", "front", "round"])),
        draw(st.sampled_from(["cut", "pinched"])),
        draw(st.booleans()),
    )


@st.composite
def stacks(draw: st.DrawFn) -> Stack:
    buttons = st.builds(Buttons, st.integers(1, 30), st.integers(1, 30), st.booleans(), st.floats(0, 500))
    heights = st.builds(Heights, *[st.none() | st.floats(0, 2000)] * 5)
    return Stack(
        tuple(draw(st.lists(layers(), max_size=16))),
        draw(st.none() | buttons),
        draw(heights),
        draw(st.floats(0, 200)),
        draw(st.booleans()),
        draw(st.floats(1, 300)),
    )


@examples(60)
@given(stacks())
def test_any_stack_comes_back_from_its_file(stack):
    assert read_stack(json.loads(json.dumps(write_stack(stack)))) == stack


GOOD = write_stack(Stack((Layer("foam", 40), Layer("wadding", 10)), Buttons(3, 4)))
ODD = [
    ({"format": "zonatome.piece"}, "zonatome.stack"),
    ({"version": 9}, "version"),
    ({"layers": "foam"}, "layers"),
    ({"layers": [{"sort": "foam"}]}, "thickness"),
    ({"layers": [{"sort": "straw", "thickness": 40}]}, "sort"),
    ({"layers": [{"sort": "foam", "thickness": "40"}]}, "thickness"),
    ({"layers": [{"sort": "foam", "thickness": math.nan}]}, "thickness"),
    ({"layers": [{"sort": "foam", "thickness": 40, "kept": 1}]}, "kept"),
    ({"layers": [{"sort": "foam", "thickness": 40, "way": "up"}]}, "way"),
    ({"layers": [{"sort": "foam", "thickness": 40, "hardness": 900}]}, "hardness"),
    ({"layers": [{"sort": "foam", "thickness": 40}] * 17}, "layers"),
    ({"rail": -1}, "rail"),
    ({"buttons": {"rows": 0, "columns": 2}}, "rows"),
    ({"buttons": {"rows": 2, "columns": 2, "diamond": "yes"}}, "diamond"),
    ({"heights": {"before": 9000}}, "before"),
    ({"spring_tried": "yes"}, "spring_tried"),
    ({"sitter": 0}, "sitter"),
]


@pytest.mark.parametrize(("changed", "names"), ODD, ids=range(len(ODD)))
def test_a_stack_s_file_with_an_odd_value_is_refused_by_its_name(changed, names):
    with pytest.raises(BadInput, match=names):
        read_stack({**GOOD, **changed})


@given(st.none() | st.floats(0, 500), st.none() | st.floats(0, 200), st.floats(-5, 90), st.booleans())
def test_what_an_earlier_version_kept_by_thickness_becomes_a_stack_or_nothing(foam, wadding, over, webbing):
    stack = stack_of_thicknesses(foam, wadding, over, webbing=webbing)
    assert read_stack(write_stack(stack)) == stack
    assert (stack.rail > 0) == webbing
    foams = [layer for layer in stack.layers if layer.sort == "foam"]
    assert [layer.thickness for layer in foams] == ([foam] if foam and 3 <= foam <= 300 else [])
    assert all(0 <= layer.over <= 30 for layer in foams)


@examples(25)
@given(
    st.lists(st.sampled_from(["hessian", "foam", "coir", "cotton", "crown"]), min_size=1, max_size=5),
    st.floats(200, 900),
    st.floats(8, 90),
    st.sampled_from(sorted(SCHOOLS)),
    st.booleans(),
)
@example(["foam", "foam"], 200.0, 8.0, "thin", False)  # each a little smaller than what it lies on
def test_each_layer_lies_on_the_one_below_and_the_cover_lies_over_all(sorts, deep, rail, school, wadded):
    assume(deep - 2 * rail > 80)
    made = [Layer(s, SORTS[s].usual, school=school) for s in sorts]
    stack = Stack((*made, Layer("foam", 60, school=school), *((Layer("wadding", 12),) if wadded else ())))
    frame = Frame(rectangle(500, deep), 60, rail)
    drawn = section(stack, frame, old=40, rules=rules_of({"give": 0.2}))
    assert [band.place for band in drawn.bands] == list(range(len(stack.layers)))
    bodies = [shapely.Polygon(band.points).buffer(0) for band in drawn.bands]
    for one, other in pairwise(bodies):
        assert one.intersection(other).area < 0.02 * min(one.area, other.area) + 40, "none lies inside another"
        assert one.distance(other) < 1, "and none hovers"
    low = min(y for _, y in drawn.cover)
    under_cover = shapely.Polygon([*drawn.cover, (drawn.cover[-1][0], low - 1), (drawn.cover[0][0], low - 1)]).buffer(2)
    for body in (*bodies, shapely.box(-deep / 2, -60, deep / 2, 0)):
        assert body.difference(under_cover).area < 0.02 * body.area + 40
    middle = max(y for _, y in drawn.cover)
    thick = stack.under_cover(rules_of({"give": 0.2}))
    assert middle == pytest.approx(thick + 1, abs=3), "its height in the middle is the sum of its layers"
    assert drawn.old == ((-deep / 2, 40), (deep / 2, 40))
    assert all(math.isfinite(v) for line in (drawn.cover, drawn.at_rest, drawn.sat_on) for p in line for v in p)
    assert not section(stack, frame, is_sat_on=False).sat_on


def test_the_cover_over_foam_that_steps_in_by_hand():
    """A board 200 deep: two thin foams, each 4 mm less a side, so they reach 96 and 92 from the middle; the cover lies
    1 mm outside: 101 at the wood, 97 and 93 at the foams.
    """
    foams = Stack((Layer("foam", 40, school="thin"), Layer("foam", 40, school="thin")))
    cover = shapely.LineString(section(foams, Frame(rectangle(500, 200), 18)).cover)
    for height, far in ((-9, 101), (10, 97), (45, 93)):
        met = cover.intersection(shapely.LineString([(-300, height), (300, height)]))
        assert met.bounds[0] == pytest.approx(-far, abs=0.1), height


@examples(60)
@given(
    st.floats(200, 900), st.floats(-80, 80), st.floats(200, 900), st.floats(-30, 90),
    st.lists(st.sampled_from(["stapled_under", "sewn", "tucked", "card_strip"]), min_size=4, max_size=4),
)  # fmt: skip
def test_edges_that_wrap_move_by_what_the_pad_grew_and_no_other_moves(bottom, taper, height, more, joins):
    held = dict(zip(("bottom", "right", "top", "left"), joins, strict=True))
    shape = trapezoid_shape("Seat", bottom, bottom + taper, height, held)
    wrapped = {e.name: more for e in shape.edges if e.join in WRAPPED}
    grown = grown_at_edges(shape, wrapped)
    for number, edge in enumerate(shape.edges):
        a, b = shape.edge_points(number)
        c, d = grown.edge_points(number)
        turned = math.atan2(b[1] - a[1], b[0] - a[0]) - math.atan2(d[1] - c[1], d[0] - c[0])
        assert abs(math.sin(turned)) < 1e-6, "an edge keeps its direction"
        assert (edge.join, edge.adds) == (grown.edges[number].join, grown.edges[number].adds)
    sides = {e.side for e in shape.edges if e.name in wrapped}
    upright = more * ("bottom" in sides) + more * ("top" in sides)
    assert grown.outline.height == pytest.approx(height + upright, abs=0.01)
    back = grown_at_edges(grown, {name: -by for name, by in wrapped.items()})
    assert back.outline.polygon.hausdorff_distance(shape.at_corner().outline.polygon) < 0.01


def test_a_disc_grows_all_round():
    disc = disc_shape("Top", 360, {"bottom": "stapled_under"})
    grown = grown_at_edges(disc, {e.name: 9.0 for e in disc.edges})
    assert grown.outline.width == pytest.approx(378, abs=0.2)
    assert grown.outline.area == pytest.approx(math.pi * 189**2, rel=0.005)


@given(st.floats(40, 3000), st.lists(st.floats(0.05, 0.95), max_size=3))
def test_straps_keep_off_the_frame_s_edges_and_leave_no_wide_gap(room, shares):
    edges = tuple(sorted(room * share for share in shares))
    for odd in (False, True):
        places = strap_places(0, room, 50, edges, odd=odd)
        assert widest_gap(places, 0, room, 50) <= 50 + 1e-6
        assert all(b - a >= 50 - 1e-6 for a, b in pairwise(places)), "none over another"
        if odd and not edges and room > 200:
            assert len(places) % 2 == 1


@examples(30)
@given(with_arcs(), st.floats(20, 60), st.sampled_from(["webbing", "elastic"]), st.floats(3, 120))
def test_a_stack_on_any_frame_is_worked_out_or_refused_in_a_sentence(outline, rail, straps, foam):
    stack = Stack((Layer(straps, 2), Layer("hessian", 1), Layer("foam", foam), Layer("wadding", 10)))
    done, told = None, []
    try:
        done = worked(stack, Frame(outline, 60, rail))
    except BadInput as refused:
        told.append(refused.told)
    if done is None:
        assert "xpected" in told[0]
        return
    assert [cut.place for cut in done.cuts] == [0, 1, 2, 3]
    assert done.cut_of(1).outline.polygon.buffer(0.1).covers(done.frame.opening.polygon)
    assert done.cut_of(3).outline.polygon.buffer(0.1).covers(done.cut_of(2).outline.polygon)
    assert done.webbed.total == pytest.approx(sum(s.cut for s in done.webbed.straps))


def test_heights_by_hand():
    """Rail at 420, a pad of 36 + 9 under the cover: 465; the table at 700 leaves 235, less than legs need; arms at 640
    stay 175 above; in a rebate 50 deep it lies 5 below the edge.
    """
    stack = Stack((Layer("foam", 40), Layer("wadding", 10)), heights=Heights(420, 470, 700, 640, 50))
    sits = sitting(stack)
    assert (sits.height, sits.higher, sits.lower) == (465, -5, 5)
    assert (sits.to_table, sits.to_arms, sits.out_of_rebate, sits.sunk) == (235, 175, -5, 5)
    assert sits.is_close_to_table
    softer = sitting(replace(stack, layers=(Layer("foam", 40, foam="soft"), Layer("wadding", 10))))
    assert softer.squeezed > sits.squeezed > 0
    typed = sitting(replace(stack, layers=(Layer("foam", 40, hardness=FOAMS["soft"].hardness), Layer("wadding", 10))))
    assert typed.squeezed == softer.squeezed, "the seller's own figure holds"
    heavier = sitting(replace(stack, sitter=110))
    assert heavier.squeezed > sits.squeezed
    assert asdict(heavier)["under_sitter"] < sits.under_sitter
