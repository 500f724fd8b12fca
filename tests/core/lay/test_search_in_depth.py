"""The search looked at from inside: stops, lattices against brute force, tiles, tables, many pieces, strips that cost
nothing.
"""

from __future__ import annotations

import itertools
import math
import threading
import time
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from tests.core.awkward import stars
from tests.core.lay.independent import wrong_with
from tests.core.lay.requests_of_the_trade import (
    HIDE,
    ROLL,
    a_repeat,
    any_cloth,
    any_request,
    cut_apart,
    rectangles,
    six_chairs,
)
from tests.often import examples
from zonatome.core.lay.bounds.length import length_bound
from zonatome.core.lay.bounds.repeat import repeat_bound
from zonatome.core.lay.check import faults
from zonatome.core.lay.geometry.nesting_table import NestingTable
from zonatome.core.lay.kernel.nearest import Wanted, nearest_free
from zonatome.core.lay.kernel.tables import Lying
from zonatome.core.lay.lay import easy_lay, feasible_part, finished, search_lay
from zonatome.core.lay.pattern.centring import PATTERNED, PATTERNS, repeat_of, tile_of
from zonatome.core.lay.ranking import better
from zonatome.core.lay.request import Flaw, Lay, LayRequest, Panels, PieceAsk, Placement, Repeat, Roll, StripAsk
from zonatome.core.outline import outline_of, rectangle

MOTIF = Repeat(450, 340, 0.5, (60, 90))


def bound_chairs(repeat: Repeat | None, **more) -> LayRequest:
    """Six chairs whose seats and inside backs are centred on a repeat."""
    chairs = six_chairs(turns=(0.0,))
    pieces = tuple(
        replace(p, anchor=tuple(p.outline.polygon.centroid.coords[0]), match_along=True, match_across=True)
        if n < 2
        else p
        for n, p in enumerate(chairs.pieces)
    )
    return replace(chairs, cloth=Roll(1400, (12, 12), repeat, more.pop("flaws", ())), pieces=pieces, **more)


FAMILIES = {
    "one way": six_chairs(turns=(0.0,)),
    "quarter turns": six_chairs(turns=(0.0, 90.0, 180.0, 270.0)),
    "welt": six_chairs(welt=True),
    "stripe": bound_chairs(Repeat(None, 96, 0.0, (0, 58))),
    "half drop": bound_chairs(MOTIF),
    "flaws": bound_chairs(None, flaws=(rectangle(60, 60).moved(500, 300), rectangle(20, 400).moved(1800, 700))),
    "hide": replace(
        six_chairs(),
        cloth=Panels(
            (HIDE, HIDE.turned(180).moved(3000, 2000), rectangle(3000, 1400)),
            (Flaw(0, rectangle(40, 40).moved(900, 600)),),
        ),
    ),
    "pinned": replace(six_chairs(), pinned=(easy_lay(six_chairs()).placements[7],)),
}


@pytest.mark.parametrize("family", FAMILIES)
def test_a_stop_in_mid_search_ends_it_with_the_best_so_far(family):
    request = FAMILIES[family]
    told: list[Lay] = []
    before, begun = threading.active_count(), time.monotonic()
    stop_at: list[float] = []

    def stopped() -> bool:
        if not stop_at and time.monotonic() - begun > 0.3:
            stop_at.append(time.monotonic())
        return bool(stop_at)

    lay = search_lay(request, seconds=90, seed=4, report=told.append, stopped=stopped)
    assert stop_at, "the search goes on for as long as it may"
    assert time.monotonic() - stop_at[0] < 10, "of 90 seconds; how soon it ends is measured in bench/lay_cases.py"
    assert wrong_with(request, lay) == []
    assert lay.placements == told[-1].placements
    assert lay.strips == told[-1].strips
    for _ in range(80):  # a proof of the bound that has begun goes on for a few seconds
        if threading.active_count() > before:
            time.sleep(0.1)
    assert threading.active_count() <= before, "nothing goes on behind"


def test_what_a_search_says_first_are_the_rows_and_each_later_word_is_better():
    for family, request in FAMILIES.items():
        told: list[Lay] = []
        lay = search_lay(request, seconds=0.3, report=told.append)
        assert told[0].method == "rows", family
        assert replace(told[0], seconds=0, bound=0) == replace(easy_lay(request), seconds=0, bound=0), family
        assert all(better(request, b, a) for a, b in itertools.pairwise(told)), family
        assert not better(request, told[-1], lay), family
        assert wrong_with(request, lay) == [], family


def test_only_a_plain_cloth_has_no_repeat():
    assert [p for p in PATTERNS if repeat_of(p, along=320, across=300) is None] == ["plain"]


@given(st.sampled_from(PATTERNED), st.floats(20, 900), st.floats(20, 900), st.floats(0, 900), st.floats(0, 900))
def test_a_tile_shows_a_motif_at_every_place_where_one_stands_and_nowhere_else(pattern, along, across, x, y):
    repeat = repeat_of(pattern, along=along, across=across, first=(x, y))
    tile = tile_of(repeat)
    points = [p for figure in tile.figures for p in figure]
    if repeat.along is None:
        assert tile.height == pytest.approx(repeat.across)
        middle = tile.y + (min(p[1] for p in points) + max(p[1] for p in points)) / 2
        assert (middle - y) / across == pytest.approx(round((middle - y) / across), abs=1e-6), (
            "the broad bar stands on the stripe"
        )
        assert pattern == "stripe"
        return  # a stripe has no motif
    heads = [f for f in tile.figures if len(f) == 16]  # the round head of each sprig
    middles = [(sum(p[0] for p in f) / 16, sum(p[1] for p in f) / 16) for f in heads]
    size = 0.31 * min(along, across)
    seen = {
        (round((tile.x + mx + 0.78 * size - x) / along * 2) % 2, round((tile.y + my - y) / across) % 2)
        for mx, my in middles
    }
    assert seen == ({(0, 0), (1, 1)} if repeat.drop else {(0, 0)})
    for mx, my in middles:
        off = repeat.off((tile.x + mx + 0.78 * size, tile.y + my), along=True, across=True)
        assert max(off) < 1e-6 * (along + across)
    assert tile.width == pytest.approx(along)
    assert tile.height == pytest.approx(across * (2 if repeat.drop else 1))


@given(a_repeat(), st.floats(-3000, 3000), st.floats(-3000, 3000), st.integers(-4, 4), st.integers(-4, 4))
def test_a_repeat_repeats(repeat, x, y, i, j):
    away = (x + i * (repeat.along or 0) + repeat.drop * j * (repeat.along or 0), y + j * (repeat.across or 0))
    here, there = (repeat.off(at, along=True, across=True) for at in ((x, y), away))
    column = 0.0 if not repeat.across else abs((y - repeat.origin[1]) / repeat.across - repeat.column(y))
    assume(column < 0.499)  # half way between two columns either may be the nearest
    assert here == pytest.approx(there, abs=1e-6)
    assert here[0] <= (repeat.along or 0) / 2 + 1e-6
    assert here[1] <= (repeat.across or 0) / 2 + 1e-6


def shortest_on_lattice(request: LayRequest, most_columns: int = 12) -> float:
    """The shortest roll for equal pieces bound both ways, by trying every set of motifs: brute force, for a handful."""
    piece, repeat, roll = request.pieces[0], request.repeat, request.roll
    spots = []
    for j, i in itertools.product(range(-12, 13), range(-most_columns, most_columns)):
        x = repeat.origin[0] + (i + repeat.drop * j) * repeat.along - piece.anchor[0]
        y = repeat.origin[1] + j * repeat.across - piece.anchor[1]
        lying = piece.outline.moved(x, y)
        x0, y0, x1, y1 = lying.bounds
        if x0 >= -1e-6 and y0 >= roll.low - 1e-6 and y1 <= roll.high + 1e-6:
            spots.append((x1, lying.polygon))
    spots.sort(key=lambda s: s[0])
    for k in range(piece.count, len(spots) + 1):
        last = spots[k - 1]
        apart = [s for s in spots[: k - 1] if s[1].distance(last[1]) >= request.gap - 1e-6]
        for chosen in itertools.combinations(apart, piece.count - 1):
            if all(a[1].distance(b[1]) >= request.gap - 1e-6 for a, b in itertools.combinations(chosen, 2)):
                return last[0]
    raise AssertionError("no room in the columns looked at")


@examples(15)
@given(
    st.integers(2, 3), st.floats(180, 600), st.floats(180, 600), st.floats(200, 700), st.floats(200, 700),
    st.sampled_from([0.0, 0.5]), st.floats(0, 400), st.floats(0, 400),
)  # fmt: skip
def test_a_handful_on_motifs_is_laid_as_short_as_brute_force_finds_and_no_bound_is_above_it(
    count, long, wide, along, across, drop, x, y
):
    seat = PieceAsk("seat", rectangle(long, wide), count, (0.0,), False, (long / 2, wide / 2), True, True)
    request = LayRequest(Roll(1400, (12, 12), Repeat(along, across, drop, (x, y))), 3.0, (seat,))
    assume(not easy_lay(request).unplaced)
    shortest = shortest_on_lattice(request)
    lay = search_lay(request, seconds=0.8)
    assert wrong_with(request, lay) == []
    assert lay.length == pytest.approx(shortest, abs=0.6)
    assert repeat_bound(NestingTable(request), lay.length, effort=0.5) <= shortest + 0.5
    assert length_bound(request) <= shortest + 0.5


@examples(25)
@given(any_cloth(), st.data())
def test_the_tables_and_the_check_agree_on_where_two_pieces_may_lie(request_, data):
    """Whether a spot stands, as the compiled search knows it, against the check that is written apart from it."""
    bare = replace(request_, strips=())
    ways = NestingTable(bare)
    assume(len(ways.items) >= 2)
    placements, spots = [], []
    for item in (0, len(ways.items) - 1):
        way = data.draw(st.sampled_from(list(ways.of_piece[ways.items[item][0]])))
        x0, y0 = data.draw(st.floats(0, 1500)), data.draw(st.floats(0, 1300))
        there = Lying(*(np.array([s[k] for s in spots], dtype=np.int64 if k == 2 else np.float64) for k in range(3)))
        found_x, found_y, fits = nearest_free(ways.table, Wanted(way, x0, y0, 400.0), there)
        assume(fits)
        spots.append((found_x, found_y, way))
        placements.append(ways.placement(item, found_x, found_y, way))
    missing = tuple((p.id, p.count - sum(q.piece == p.id for q in placements)) for p in bare.pieces)
    whole = finished(feasible_part(bare), placements, method="by hand")
    assert faults(bare, replace(whole, unplaced=missing)) == []


@pytest.mark.parametrize("turns", [(0.0,), (0.0, 180.0)])
def test_strips_cost_no_length_where_the_waste_holds_them(turns):
    seats = PieceAsk("seat", rectangle(600, 500), 6, turns)
    bare = LayRequest(ROLL, 4.0, (seats,))
    lay = search_lay(bare, seconds=0.5)
    assert lay.length == pytest.approx(3 * 600 + 2 * 4, abs=0.3)
    waste = (1376 - 2 * 500 - 4 - 4) // 40  # strips side by side along the selvage
    for total in (3000, 8000, waste * (lay.length - 40) - 200):
        welt = replace(bare, strips=(StripAsk("welt", 40, total, 40, 500, ("along", "across")),))
        both = search_lay(welt, seconds=0.5)
        assert wrong_with(welt, both) == []
        assert both.length == pytest.approx(lay.length, abs=0.3), f"{total} mm of welt lie beside the seats"
    more = replace(bare, strips=(StripAsk("welt", 40, waste * (lay.length - 40) + 4000, 40, 500, ("along", "across")),))
    assert search_lay(more, seconds=0.3).length > lay.length + 40


def test_a_thousand_pieces_are_laid_in_rows_and_the_search_ends():
    request = rectangles((120, 90, 500), (260, 150, 300), (75, 310, 250), gap=2, turns=(0.0, 180.0))
    begun = time.monotonic()
    lay = search_lay(request, seconds=1)
    assert time.monotonic() - begun < 30
    assert len(lay.placements) == 1050
    assert faults(request, lay) == []
    assert lay.used > 0.9


@given(any_request(), st.integers(0, 3))
@examples(10)
def test_a_mirror_image_is_used_only_where_it_may_be_and_may_save(request_, seed):
    """Pieces that may be mirrored are never laid longer than in rows, and those that may not never are."""
    half = tuple(replace(p, flip=n % 2 == 0) for n, p in enumerate(request_.pieces))
    flipped = replace(request_, pieces=half)
    lay = search_lay(flipped, seconds=0.2, seed=seed)
    assert wrong_with(flipped, lay) == []
    assert lay.length <= easy_lay(flipped).length + 1e-6


def test_two_right_triangles_pair_up_only_when_one_may_turn():
    triangle = outline_of([(0, 0), (600, 0), (0, 1300)])
    one_way = LayRequest(ROLL, 0.0, (PieceAsk("t", triangle, 2, (0.0,)),))
    turned = replace(one_way, pieces=(replace(one_way.pieces[0], turns=(0.0, 180.0)),))
    paired = search_lay(turned, seconds=0.6)
    assert paired.length == pytest.approx(600, abs=1), "the two make one rectangle of 600 x 1300"
    assert search_lay(one_way, seconds=0.3).length > paired.length + 20


@given(stars(), st.sampled_from([0.0, 90.0, 180.0, 270.0]), st.booleans())
def test_a_placement_moves_a_point_of_the_piece_as_it_moves_its_outline(outline, turn, flip):
    placement = Placement("p", 1, 12.5, -7.25, turn, flip)
    ask = PieceAsk("p", outline, 1, None, True)
    there = placement.on_cloth(ask)
    assert there.area == pytest.approx(outline.area, rel=1e-9)
    spots = sorted(placement.spot(p) for p in outline.points)
    assert np.array(spots) == pytest.approx(np.array(sorted(there.points)), abs=1e-6)
    assert all(math.isfinite(v) for spot in spots for v in spot)


@pytest.mark.parametrize("turns", [(0.0,), (0.0, 180.0)])
def test_a_sheet_that_was_cut_apart_is_laid_again_with_little_waste(turns):
    """Cut by straight cuts and no gap, so its own length is the shortest; eight pieces are searched through all but
    wholly.
    """
    request = cut_apart(3, 8, turns=turns)
    lay = search_lay(request, seconds=4)
    assert faults(request, lay) == []
    assert 120 * 8 - 1 <= lay.length <= 120 * 8 * 1.2


@pytest.mark.parametrize("bound", [False, True])
def test_whether_to_stop_is_asked_on_the_caller_s_own_thread_alone(bound):
    """The caller may look into a store that only its own thread may touch."""
    heard, repeat = set(), Repeat(None, 60.0, 0.0, (0.0, 10.0)) if bound else None
    request = LayRequest(replace(ROLL, repeat=repeat), 3.0, six_chairs().pieces)
    search_lay(request, seconds=1.0, stopped=lambda: bool(heard.add(threading.get_ident())))
    assert heard == {threading.get_ident()}
