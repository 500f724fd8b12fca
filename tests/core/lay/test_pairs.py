"""The compiled table of pairs against the geometry library's unions."""

import random

import numpy as np
import pytest
import shapely
import shapely.affinity
from hypothesis import example, given
from hypothesis import strategies as st

from tests.core.awkward import stars
from tests.core.lay.requests_of_the_trade import any_cloth
from tests.often import examples
from zonatome.core.arrays import Floats
from zonatome.core.lay.cancel import Cancelled
from zonatome.core.lay.geometry.every_pair import Figures, end_to_end, figures_of, no_fits_of
from zonatome.core.lay.geometry.nesting_table import NestingTable
from zonatome.core.lay.geometry.no_fit import GRID, beside_boxes, convex_parts, convex_sum, eight_sided, no_fit
from zonatome.core.lay.kernel.pair_rows import marks_of
from zonatome.core.lay.request import LayRequest, PieceAsk, Roll
from zonatome.core.outline import Outline


def stretches(figures: Figures, number: int, y: float) -> list[tuple[float, float]]:
    """Where a line at a height lies in a figure."""
    begin, count = int(figures.counts[:number].sum()), int(figures.counts[number])
    levels = figures.levels[begin : begin + count]
    band = int(np.searchsorted(levels, y, side="right")) - 1
    if not 0 <= band < count - 1:
        return []
    here, up = figures.sides[figures.first[begin + band] : figures.first[begin + band + 1]], y - levels[band]
    return [(float(s[0] + s[1] * up), float(s[2] + s[3] * up)) for s in here]


def filled(figures: Figures, number: int) -> shapely.Geometry:
    """A figure put together again of the trapezoids of its bands."""
    begin, count = int(figures.counts[:number].sum()), int(figures.counts[number])
    made = []
    for level in range(begin, begin + count - 1):
        low, high = figures.levels[level], figures.levels[level + 1]
        for x0, s0, x1, s1 in figures.sides[figures.first[level] : figures.first[level + 1]]:
            up = high - low
            made.append(shapely.Polygon([(x0, low), (x1, low), (x1 + s1 * up, high), (x0 + s0 * up, high)]))
    return shapely.union_all([m.buffer(1e-5, join_style="mitre") for m in made])


def parts_from_corner(outline) -> list[Floats]:
    return [p - np.array(outline.bounds[:2]) for p in convex_parts(outline)]


# of its sums turned half round one was left out, without a word
HOOK = Outline((
    (59.18027532450273, 9.884078738863499),
    (31.895916145108043, 85.22705282516952),
    (-256.2408396679077, 311.0460288868604),
    (-215.02166701235993, -35.912152751203955),
    (-128.2846737264783, -342.7813333407918),
    (146.24167028193233, -177.5200661140892),
))  # fmt: skip


@examples(60)
@given(st.lists(stars(), min_size=1, max_size=3), st.sampled_from([0.0, 0.5, 3.0, 12.0]), st.randoms())
@example([HOOK, HOOK.turned(180)], 0.0, random.Random(1))
def test_the_rows_of_a_pair_are_those_of_the_union_of_its_sums(outlines, gap, chance):
    parts = [parts_from_corner(o) for o in outlines]
    figures, k = no_fits_of(parts, gap), len(parts)
    assert len(figures.counts) == k * k
    for a in range(k):
        for b in range(k):
            whole = no_fit(parts[a], parts[b], gap)
            sums = [shapely.Polygon(convex_sum(one, -other)) for one in parts[a] for other in parts[b]]
            assert all(whole.covers(each.buffer(-0.03)) for each in sums), "no sum of two parts is left out"
            mine = filled(figures, a * k + b)
            apart = 0.04 + gap / 150  # the steps of an arc, more where two meet
            assert mine.hausdorff_distance(whole) < apart
            assert mine.symmetric_difference(whole).buffer(-apart / 2).is_empty, "holes and slits too"
            _, low, _, high = whole.bounds
            for _ in range(5):
                y = chance.uniform(low + 0.1, high - 0.1)
                here, there = stretches(figures, a * k + b, y), stretches(figures, b * k + a, -y)
                turned = [(-right, -left) for left, right in reversed(there)]
                assert np.allclose(here, turned, atol=1e-3), "turned half round, but for an edge that is all but level"


@given(stars())
def test_eight_sides_about_an_outline_hold_it_and_reach_no_farther(outline):
    about = shapely.Polygon(eight_sided(outline))
    assert len(about.exterior.coords) <= 9
    assert about.buffer(GRID).covers(outline.polygon), "but for two corners that are taken for one"
    slanting = shapely.affinity.rotate(outline.polygon, 45, origin=(0, 0)).bounds
    assert about.bounds == pytest.approx(outline.bounds, abs=GRID)
    assert shapely.affinity.rotate(about, 45, origin=(0, 0)).bounds == pytest.approx(slanting, abs=GRID)


PLACE = st.floats(-50, 350, allow_nan=False).map(lambda v: round(v, 2))


@given(st.lists(st.tuples(PLACE, PLACE, st.floats(0.1, 200), st.floats(0.1, 200)), max_size=12))
def test_what_boxes_leave_of_a_room_is_what_the_geometry_library_says(corners):
    room = np.array([0.0, 0.0, 300.0, 200.0])
    boxes = np.array([(x, y, x + w, y + h) for x, y, w, h in corners]).reshape(-1, 4)
    left = filled(figures_of([beside_boxes(room, boxes)]), 0)
    whole = shapely.box(*room).difference(shapely.union_all(shapely.box(*boxes.T)))
    assert left.symmetric_difference(whole).area < 0.2


@examples(25)
@given(any_cloth(), st.randoms())
def test_reach_and_hints_lead_to_the_band_of_every_height(request_, chance):
    table = NestingTable(request_).table
    for f in range(len(table.figure)):
        start, bands = (int(v) for v in table.figure[f])
        if not bands:
            continue
        low, high, _, _, hints_a_mm = table.reach[f]
        assert (low, high) == (table.levels[start], table.levels[start + bands])
        y = chance.uniform(low + 1e-9, high - 1e-9)
        hint = table.hints[f, int((y - low) * hints_a_mm)]
        assert table.levels[hint] <= y + 1e-9
        band = int(np.searchsorted(table.levels[start : start + bands + 1], y, side="right")) - 1 + start
        assert hint <= band < start + bands
        up = y - table.levels[band]
        for left, rise, right, fall in table.sides[table.first[band] : table.first[band + 1]]:
            assert table.reach[f, 2] - 1e-6 <= left + rise * up <= right + fall * up + 1e-6
            assert right + fall * up <= table.reach[f, 3] + 1e-6


@examples(25)
@given(st.lists(stars(), min_size=1, max_size=3), st.sampled_from([0.0, 4.0]), st.randoms())
def test_pairs_of_figures_turned_half_round_together_are_worked_out_once_and_right(outlines, gap, chance):
    pieces = tuple(
        PieceAsk(f"p{n}", o, 1, turns=(0.0, 90.0, 180.0, 270.0)[: 2 + 2 * (n % 2)]) for n, o in enumerate(outlines)
    )
    ways = NestingTable(LayRequest(Roll(6000), gap, pieces))
    turned = ways._turned_half
    assert all(turned[turned[w]] == w for w in range(len(turned)) if turned[w] >= 0)
    figures = [w.parts for w in ways.ways]
    once, k = no_fits_of(figures, gap), len(figures)
    again = ways._pairs
    assert len(again.counts) == len(once.counts)
    for pair in range(k * k):
        begin, count = int(once.counts[:pair].sum()), int(once.counts[pair])
        low, high = once.levels[begin], once.levels[begin + count - 1]
        for _ in range(3):
            y = chance.uniform(low + 0.01, high - 0.01)
            mine, theirs = stretches(again, pair, y), stretches(once, pair, y)
            if len(mine) == len(theirs):
                assert np.allclose(mine, theirs, atol=0.02), "but for the steps of an arc"
            else:
                widths = [sum(right - left for left, right in told) for told in (mine, theirs)]
                assert widths[0] == pytest.approx(widths[1], abs=0.1), "a slit that one has by a hair"


def test_figures_keep_their_order_end_to_end_and_nothing_stays_nothing():
    corner = [np.array([(0, 0), (100, 0), (100, 40), (0, 40)], dtype=float)]
    pair, none = no_fits_of([corner], 2.0), figures_of([])
    joined = end_to_end([pair, none, pair])
    assert stretches(joined, 0, 0.0) == stretches(joined, 1, 0.0) == [pytest.approx((-101.99, 101.99), abs=1e-3)]
    spans, reach, _ = marks_of(joined, 8)
    assert spans[1, 0] == pair.counts[0]
    assert reach[1, 1] == pytest.approx(41.99, abs=1e-3)
    assert no_fits_of([], 2.0).counts.size == 0


def test_a_table_that_is_not_wanted_any_more_is_given_up():
    chance = random.Random(7)
    corners = [[np.array([(0, 0), (chance.uniform(50, 90), 0), (40, chance.uniform(50, 90))])] for _ in range(60)]
    with pytest.raises(Cancelled):
        no_fits_of(corners, 3.0, stopped=lambda: True)
