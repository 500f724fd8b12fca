"""Pieces and strips moved together: what comes of it may be cut, gets only shorter, and is worth it where strips cost
length.
"""

from __future__ import annotations

import time
from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import HealthCheck, assume, given
from hypothesis import strategies as st

from tests.core.lay.independent import wrong_with
from tests.core.lay.requests_of_the_trade import ROLL, any_cloth
from tests.often import examples
from zonatome.core.lay import lay as search
from zonatome.core.lay.check import faults
from zonatome.core.lay.construct import strips as strips_of
from zonatome.core.lay.construct.strips import Allowance, TooLate, lay_strips
from zonatome.core.lay.engines import local_search as nest
from zonatome.core.lay.engines import with_strips as strip_search
from zonatome.core.lay.engines.with_strips import may_move, moved_together
from zonatome.core.lay.geometry.every_pair import no_fits_of
from zonatome.core.lay.geometry.nesting_table import NestingTable
from zonatome.core.lay.lay import easy_lay, search_lay
from zonatome.core.lay.request import STRIP_TURNS, LayRequest, PieceAsk, Placement, StripAsk
from zonatome.core.lay.table.by_hand import Handwork, judged
from zonatome.core.outline import rectangle
from zonatome.core.trace.by_tape import rounded_shape, trapezoid_shape


def with_much_welt(*, total=8_000.0) -> LayRequest:
    """Four chairs whose backs are round at their corners: a good lay of the pieces alone leaves its waste where no
    strip fits.
    """
    shapes = [
        ("seat", trapezoid_shape("s", 480, 530, 540, {}).outline, 4),
        ("back", rounded_shape("b", 500, 600, 170, {}).outline, 4),
        ("side", trapezoid_shape("f", 180, 220, 540, {}).outline, 8),
    ]
    pieces = tuple(PieceAsk(name, outline.turned(90), count, (0.0, 180.0)) for name, outline, count in shapes)
    return LayRequest(ROLL, 4.0, pieces, (StripAsk("welt", 48.0, total, 40.0, 500.0, ("across", "along")),))


@examples(12, suppress_health_check=[HealthCheck.filter_too_much, HealthCheck.too_slow])
@given(
    any_cloth(),
    st.integers(0, 99),
    st.sampled_from([("across",), ("along",), ("along", "across"), ("bias",)]),
    st.floats(500, 5000),
)
def test_whatever_is_moved_may_be_cut_and_each_is_shorter_than_the_last(asked, seed, ways, total):
    assume(not asked.on_panels and all(p.turns is not None for p in asked.pieces))
    request = replace(asked, strips=(StripAsk("welt", 45.0, total, 40.0, 300.0, ways),))
    begin = easy_lay(request)
    assume(begin.is_whole and begin.strips)
    lay_search, lengths = search.LaySearch(search.feasible_part(request), time.monotonic(), lambda _: None), []
    for found in moved_together(request, begin, seconds=30, effort=0.1, seed=seed, stopped=lambda: False):
        if found is None:
            continue
        lay = lay_search._laid(found.placements, "nest", (found.strips, ()))
        assert faults(request, lay) == []
        assert wrong_with(request, lay) == []
        assert sorted(s.length for s in found.strips) == sorted(s.length for s in begin.strips), "moved, not cut"
        lengths.append(lay.length)
    assert lengths[0] <= begin.length + 0.2
    assert all(before > after - 1e-6 for before, after in pairwise(lengths)), lengths


def test_where_strips_cost_length_moving_them_too_saves_cloth_and_the_same_seed_gives_the_same_lay(monkeypatch):
    for module in (nest, strip_search):
        monkeypatch.setattr(
            module, "WORK_A_SECOND", 12e6
        )  # so that on a slow machine too the work ends it, and not the time
    request = with_much_welt()
    moved, again = (search_lay(request, seconds=12, seed=1) for _ in range(2))
    assert faults(request, moved) == []
    assert wrong_with(request, moved) == []
    assert (again.length, again.placements, again.strips) == (moved.length, moved.placements, moved.strips)
    monkeypatch.setattr(search, "may_move", lambda *_, **__: False)
    saved = search_lay(request, seconds=12, seed=1).length - moved.length
    assert saved > 15, f"{saved:.0f} mm saved"


def test_pieces_of_any_turn_keep_theirs_and_their_names():
    request = with_much_welt()
    free = replace(request, pieces=tuple(replace(p, turns=None) for p in request.pieces))
    rows = easy_lay(free)
    lying = tuple(replace(p, x=p.x + 150.0) if p.x > 1200 else p for p in rows.placements)
    strips = tuple(
        replace(c, outline=c.outline.moved(150.0 if c.outline.bounds[2] > 1200 else 0.0, 0.0)) for c in rows.strips
    )
    begin = replace(rows, placements=lying, strips=strips)  # with a gap that can be closed
    found = [f for f in moved_together(free, begin, seconds=20, effort=1.0, seed=1, stopped=lambda: False) if f]
    lying = {(p.piece, p.copy): (p.turn_degrees, p.flip) for p in begin.placements}
    for each in found:
        assert {(p.piece, p.copy): (p.turn_degrees, p.flip) for p in each.placements} == lying
        lay = search.LaySearch(search.feasible_part(free), 0.0, lambda _: None)._laid(
            each.placements, "nest", (each.strips, ())
        )
        assert faults(free, lay) == []
    assert len(found) > 1, "and it became shorter"


@pytest.mark.parametrize("gap", [0.0, 3.0, 8.0])
def test_two_strips_lie_side_by_side_and_everything_else_keeps_the_gap(gap):
    parts = [[np.array(rectangle(*size).points)] for size in ((500, 40), (300, 40), (400, 200))]
    figures = no_fits_of(parts, gap, touching=np.array([True, True, False]))
    begin = np.concatenate([[0], np.cumsum(figures.counts)])
    for a in range(3):
        for b in range(3):
            levels = figures.levels[begin[3 * a + b] : begin[3 * a + b + 1]]
            kept = 0.0 if a < 2 and b < 2 else gap
            high = np.array(parts[a][0])[:, 1].max()
            assert levels[-1] == pytest.approx(high + kept, abs=0.02), (a, b)


@pytest.mark.parametrize("degrees", [t for turns in STRIP_TURNS.values() for t in turns])
def test_where_pieces_lie_is_told_back_and_forth(degrees):
    request = LayRequest(ROLL, 4.0, (PieceAsk("a", rectangle(300, 120), 2, (0.0, 45.0, 90.0, 135.0)),))
    ways = NestingTable(request, pairs="none")
    lying = tuple(Placement("a", n, 900.0 * n, 500.0, degrees) for n in (1, 2))
    at = ways.where(lying)
    assert at is not None
    told = [ways.placement(i, float(x), float(y), int(w)) for i, (x, y, w) in enumerate(zip(*at, strict=True))]
    for one, other in zip(told, lying, strict=True):
        outlines = [p.on_cloth(request.pieces[0]).polygon for p in (one, other)]
        assert outlines[0].symmetric_difference(outlines[1]).area < 1e-6
    half = (
        tuple(replace(p, x=p.x + 300.0, y=p.y + 120.0, turn_degrees=180.0) for p in lying) if degrees == 0.0 else lying
    )
    assert ways.where(half) is not None, "a rectangle turned half round is the same one"
    assert ways.where(lying[:1]) is None, "one of them lies nowhere"
    assert ways.where((lying[0], replace(lying[1], turn_degrees=30.0))) is None, "in a turn that no way has"


def test_strips_are_moved_only_where_that_can_be_worth_it_and_a_stop_is_heard():
    much, few = with_much_welt(), with_much_welt(total=2000.0)
    lay = easy_lay(much)
    assert may_move(much, lay, seconds=10)
    assert not may_move(few, easy_lay(few), seconds=10), "the waste holds them many times over"
    assert not may_move(replace(much, strips=()), lay, seconds=10)
    free = replace(much, pieces=tuple(replace(p, turns=None) for p in much.pieces))
    assert not may_move(replace(free, pinned=lay.placements[:1]), lay, seconds=10), "pinned, and any turn"
    heard = []

    def stopped() -> bool:
        heard.append(time.monotonic())
        return len(heard) > 4

    assert list(moved_together(much, lay, seconds=60, effort=60, seed=1, stopped=stopped)) is not None
    assert time.monotonic() - heard[0] < 20, "of sixty seconds"


def test_by_hand_the_strips_of_the_lay_that_stands_stay_until_a_piece_lies_on_one():
    request = with_much_welt()
    lay = min((search_lay(request, seconds=1, seed=seed) for seed in (1, 2, 3)), key=lambda found: found.length)
    untouched, wrong = judged(request, Handwork(lay.placements), lay.strips)
    assert wrong == []
    assert untouched.length <= lay.length + 1e-6, "opened by hand it is no longer than it was"
    first = min(lay.strips, key=lambda s: s.outline.bounds[0])
    spot = first.outline.moved(1.0, 0.0) if first.outline.bounds[0] > 1 else first.outline.moved(2.0, 0.0)
    spoilt = tuple(replace(s, outline=spot) if s is lay.strips[-1] else s for s in lay.strips)
    anew, wrong = judged(request, Handwork(lay.placements), spoilt)
    assert wrong == []
    assert faults(request, anew) == [], "strips that no longer may are cut anew"


def test_strips_that_would_come_too_late_are_not_begun_and_the_best_lay_stays():
    much = with_much_welt()
    rows = easy_lay(much)
    with pytest.raises(TooLate):
        lay_strips(much, rows.placements, allowed=Allowance(time.monotonic() - 1))
    looked_at = search.LaySearch(search.feasible_part(much), 0.0, lambda _: None)
    looked_at.latest = time.monotonic() - 1
    before = looked_at.best
    assert looked_at.take(rows.placements, "nest") is None
    assert looked_at.best == before


@pytest.mark.parametrize("directions", [("bias",), ("across", "bias"), ("along",)])
def test_a_first_lay_whose_strips_would_take_too_long_has_them_behind_its_pieces(monkeypatch, directions):
    asked = with_much_welt()
    strips = tuple(replace(s, directions=directions) for s in asked.strips)
    much = replace(asked, strips=strips, cloth=replace(ROLL, flaws=(rectangle(40, 40).moved(3_000, 300),)))
    among = easy_lay(much)
    monkeypatch.setattr(search, "STRIPS_AT_ONCE", -1.0)
    behind = easy_lay(much)
    assert wrong_with(much, behind) == []
    assert behind.strips
    assert behind.short == ()
    pieces = max(p.on_cloth(much.by_id[p.piece]).bounds[2] for p in behind.placements)
    assert min(s.outline.bounds[0] for s in behind.strips) >= pieces + much.gap - 0.1
    assert behind.length >= among.length - 1e-6
    flaw = rectangle(40, 40).moved(pieces + 500, 300)
    monkeypatch.setattr(strips_of, "AMONG_FLAWS", 0.0)
    past = easy_lay(replace(much, cloth=replace(ROLL, flaws=(flaw,))))
    assert wrong_with(replace(much, cloth=replace(ROLL, flaws=(flaw,))), past) == []
    assert min(s.outline.bounds[0] for s in past.strips) >= flaw.bounds[2], "behind the flaw too"


def test_strips_are_cut_behind_a_lay_of_more_than_a_hundred_metres():
    """By hand: 110 curtains of 1 m along the roll, or 440 of 25 cm, of which the waste is not looked at any more; a
    strip across of 1,376 less its join gives 1,336 of 2,000, a second one of 664 + 40 the rest: 80 mm of roll."""
    for long, count in ((1000, 110), (250, 440)):
        curtains = PieceAsk("curtain", rectangle(long, 1376), count, (0.0,))
        request = LayRequest(ROLL, 0.0, (curtains,), (StripAsk("welt", 40, 2000, 40, 500, ("across",)),))
        lay = easy_lay(request)
        assert wrong_with(request, lay) == []
        assert [round(s.length) for s in lay.strips] == [1376, 704]
        assert lay.length == pytest.approx(110_000 + 80, abs=1)
