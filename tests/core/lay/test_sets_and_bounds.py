"""Sets that come several times, the best of a hide, and lengths that are proven: by brute force, by hand, by the
independent check.
"""

from __future__ import annotations

import math
import random
import threading
import time
from collections import Counter
from dataclasses import replace

import numpy as np
import pytest
import shapely
import shapely.affinity
from hypothesis import assume, example, given
from hypothesis import strategies as st
from shapely.geometry import box

from tests.core.lay.independent import wrong_with
from tests.core.lay.requests_of_the_trade import HIDE, ROLL, any_cloth, any_request, rectangles, six_chairs
from tests.often import examples
from zonatome.core.errors import BadInput
from zonatome.core.formats.lay_json import read_request
from zonatome.core.lay.bounds.length import dual_feasible_bound, length_bound
from zonatome.core.lay.bounds.repeat import repeat_bound, repeat_bounds
from zonatome.core.lay.cancel import SolverStop
from zonatome.core.lay.engines.general_packer import Packing
from zonatome.core.lay.geometry.nesting_table import NestingTable, table_seconds
from zonatome.core.lay.geometry.no_fit import MOST_CORNERS, coarse
from zonatome.core.lay.hide_depth import HideDepth, edge_nearness
from zonatome.core.lay.kernel.in_order import lay_in_order
from zonatome.core.lay.kernel.periods import period
from zonatome.core.lay.kernel.separate import into_limit
from zonatome.core.lay.kernel.tables import Lying
from zonatome.core.lay.lay import easy_lay, feasible_part, finished, search_lay
from zonatome.core.lay.request import Lay, LayRequest, Panels, PieceAsk, Placement, Repeat, Roll
from zonatome.core.lay.search.repeated_sets import repeated_sets_of
from zonatome.core.lay.search.roll import RollSearcher
from zonatome.core.outline import outline_of, rectangle

GOING = np.zeros(1, dtype=np.int64)


def searcher(request: LayRequest, *, work: float = 4e6, seed: int = 2) -> RollSearcher:
    return RollSearcher(NestingTable(request), seed=seed, work=work, until=time.monotonic() + 60, stop=GOING)


@given(st.lists(st.integers(1, 13), min_size=1, max_size=7), st.randoms())
def test_sets_take_every_piece_once_and_leave_over_what_does_not_divide(counts, chance):
    pieces = [number for number, count in enumerate(counts) for _ in range(count)]
    chance.shuffle(pieces)
    area = np.array([1e4 * (1 + p) for p in pieces])
    contents = set()
    for kit in repeated_sets_of(pieces, area):
        assert sorted([*kit.copies.ravel(), *kit.rest]) == list(range(len(pieces)))
        rows = {tuple(pieces[i] for i in row) for row in kit.copies}
        assert len(rows) == 1, "the same place in each row is the same piece"
        content = Counter(rows.pop())
        assert all(counts[p] // kit.times == n for p, n in content.items())
        contents.add(tuple(sorted(content.items())))
        larger = kit.joined()
        if larger:
            assert sorted([*larger.copies.ravel(), *larger.rest]) == list(range(len(pieces)))
            assert larger.copies.size == kit.copies.size
            assert kit.times % larger.times == 0
    assert len(contents) == len(repeated_sets_of(pieces, area)), "each content once"


@examples(25)
@given(any_cloth().filter(lambda r: not r.on_panels))
def test_a_lay_moved_by_its_period_lies_clear_of_itself_and_no_less_would_do(request_):
    bare = replace(request_, strips=(), cloth=replace(request_.roll, flaws=()))
    ways = NestingTable(bare)
    assume(ways.items and not ways.unfit)
    n = len(ways.items)
    x, y, way = np.zeros(n), np.zeros(n), np.full(n, -1, dtype=np.int64)
    lay_in_order(ways.table, np.arange(n), -1e9, 1e9, 10.0, x, y, way, GOING)
    step = float(period(ways.table, x, y, way))

    lying = [ways.placement(i, x[i], y[i], way[i]) for i in range(n)]
    here = [p.on_cloth(bare.by_id[p.piece]).polygon for p in lying]

    def is_clear(shift: float, forgiven: float = 0.05) -> bool:
        """Whether the lay keeps the gap to itself, so much farther along, but for what the check forgives, mm."""
        there = [shapely.affinity.translate(b, shift, 0) for b in here]
        near = any(a.distance(b) < bare.gap - forgiven for a in here for b in there)
        thinner = -forgiven / 2
        return not near and not any(a.buffer(thinner).intersects(b.buffer(thinner)) for a in here for b in there)

    assert is_clear(step)
    assert is_clear(2 * step)
    if ways.table.bound[way, 0].any():
        assert step / bare.repeat.along == pytest.approx(round(step / bare.repeat.along), abs=1e-6)
    else:
        least = 0.001  # a thin tip of a piece is forgiven far more of its length than of its width
        assert not (is_clear(step - 0.5, least) and is_clear(step - 0.1, least))


def test_what_comes_six_times_is_laid_as_one_set_again_and_again():
    one = searcher(six_chairs(), work=60e6)
    kit = repeated_sets_of([number for number, _ in one.ways.items], one.table.area)[0]
    assert (kit.times, kit.copies.shape[1], len(kit.rest)) == (6, 5, 1)
    once = one._once(kit, 4e6, seed=0)
    assert once is not None
    assert one.best is not None
    assert one.best.cost <= once.cost <= 6 * (once.once + 4) + 220, "no longer than side by side, the sample behind"
    lying = [
        one.ways.placement(i, *spot) for i, spot in enumerate(zip(one.best.x, one.best.y, one.best.way, strict=True))
    ]
    assert wrong_with(six_chairs(), finished(feasible_part(six_chairs()), lying, method="nest")) == []


@examples(20)
@given(any_request(), st.integers(0, 99))
def test_what_the_press_leaves_at_an_edge_stays_there(request_, seed):
    """A roll no shorter moves nothing: pieces that touch the selvage stand on the cloth."""
    one = searcher(replace(request_, strips=()), seed=seed)
    assume(one.n)
    start = one.start()
    assert start is not None
    x, y, way = start.copy()
    into_limit(one.table, start.cost, Lying(x, y, way), one.base, one.state, GOING)
    assert np.array_equal(x, start.x)
    assert np.array_equal(y, start.y)


def test_what_is_too_wide_to_lie_abreast_needs_a_length_each():
    wide = 0.6 * ROLL.usable
    assert dual_feasible_bound(rectangles((300, wide, 5))) == pytest.approx(1500, abs=0.5)
    assert dual_feasible_bound(rectangles((300, wide, 5), gap=4.0)) == pytest.approx(1500 + 4 * 4, abs=0.5)
    third = 0.34 * ROLL.usable
    assert dual_feasible_bound(rectangles((300, third, 8))) == pytest.approx(1200, abs=0.5), "two abreast"
    assert dual_feasible_bound(LayRequest(ROLL, 0.0, (PieceAsk("a", rectangle(300, wide), 5, None),))) <= 0, (
        "any turn: nothing is sure"
    )
    assert length_bound(rectangles((300, wide, 5), (300, 0.3 * ROLL.usable, 5))) == pytest.approx(1500, abs=0.5), (
        "narrow ones beside them"
    )


@examples(40)
@given(any_request())
def test_no_lay_in_any_order_is_below_what_is_proven(request_):
    bare = replace(request_, strips=())
    ways = NestingTable(bare)
    assume(ways.items and not ways.unfit)
    n = len(ways.items)
    for seed in range(3):
        order = np.random.default_rng(seed).permutation(n)
        x, y, way = np.zeros(n), np.zeros(n), np.full(n, -1, dtype=np.int64)
        lay_in_order(ways.table, order, -1e9, 1e9, 5.0, x, y, way, GOING)
        assert length_bound(bare) <= float((x + ways.table.width[way]).max()) + 0.1


def test_pieces_free_of_the_stripe_that_cannot_lie_abreast_are_proven_to_lie_one_behind_the_other():
    stripe = Repeat(None, 100.0, 0.0, (0.0, 50.0))
    seat = PieceAsk("seat", rectangle(400, 900), 2, (0.0,), False, (200, 450), False, True)
    back = PieceAsk("back", rectangle(300, 800), 3)
    request = LayRequest(Roll(1400, (12, 12), stripe), 4.0, (seat, back))
    expected = 2 * 400 + 3 * 300 + 4 * 4
    assert repeat_bound(NestingTable(request), 4000.0, effort=1.0) == pytest.approx(expected, abs=1.5)
    assert search_lay(request, seconds=0.5).length == pytest.approx(expected, abs=0.3)


def test_the_heart_of_a_panel_is_its_middle():
    heart = HideDepth(Panels((rectangle(1000, 600), rectangle(400, 400))))
    assert heart.deepest == pytest.approx(300, abs=2)
    places = np.array([(500.0, 300.0), (500.0, 0.0), (heart.starts[1][0] + 200.0, 200.0)])
    assert [heart.edge_nearness(p[None], np.ones(1)) for p in places] == pytest.approx([0.0, 1.0, 1 / 3], abs=0.02)
    assert heart.edge_nearness(np.empty((0, 2)), np.empty(0)) == 0.0


def test_the_seat_has_the_best_of_the_hide():
    panels = Panels((HIDE,))
    seat = PieceAsk("seat", rectangle(500, 480), 1, (0.0, 90.0), priority=True)
    sizes = ((330, 260), (420, 150), (250, 240))
    shapes = [outline_of([(0, 0), (w, 0), (w - 40, h), (30, h)]) for w, h in sizes]
    rest = tuple(PieceAsk(f"p{k}", shape, 2, (0.0, 90.0)) for k, shape in enumerate(shapes))
    request = LayRequest(panels, 3.0, (*rest, seat))
    lay = search_lay(request, seconds=1.0)
    assert lay.is_whole
    assert wrong_with(request, lay) == []
    plain = search_lay(replace(request, pieces=(*rest, replace(seat, priority=False))), seconds=0.5)
    mine, other = edge_nearness(request, lay.placements), edge_nearness(request, plain.placements)
    assert mine < min(0.35, other), "nearer to the middle than where nobody asks for it"
    assert edge_nearness(request, [p for p in lay.placements if p.piece != "seat"]) == 0.0
    assert edge_nearness(six_chairs(), [Placement("seat", 1, 0, 20)]) == 0.0


class Recording:
    """An engine that finds nothing and remembers what it was given."""

    name = "recording"

    def __init__(self) -> None:
        self.given: list[tuple[float, float]] = []

    def takes(self, request: LayRequest) -> bool:
        return True

    def search(self, request, *, seconds, seed, stopped, effort=0.0):
        self.given.append((seconds, effort))
        yield None


def test_how_much_an_engine_works_does_not_hang_on_how_long_things_took_before_it():
    one, other = Recording(), Recording()
    for wait in (0.0, 0.4):
        search_lay(
            six_chairs(welt=True), seconds=3.0, report=lambda _, wait=wait: time.sleep(wait), engines=(one, other)
        )
    (_, effort), (late, again) = one.given
    assert late <= (3.0 - 0.4) / 2 * 0.85, "what was waited is gone from its time"
    assert effort == again == pytest.approx(3.0 / 2 * 0.85)
    assert other.given[0][1] == other.given[1][1]


def different(count: int) -> tuple[PieceAsk, ...]:
    """So many pieces, no two alike, some of them hollow."""
    chance = random.Random(5)
    made = []
    for k in range(count):
        w, h, in_ = (chance.uniform(120, 320) for _ in range(3))
        points = [(0, 0), (w, 0), (w, h), (w / 2, h - in_ / 4 * (k % 3 == 0)), (0, h)]
        made.append(PieceAsk(f"p{k}", outline_of(points), 1, anchor=(w / 2, h / 2), match_across=k % 2 == 0))
    return tuple(made)


def test_for_very_many_different_pieces_the_packer_has_the_time_and_the_press_the_last_word():
    request = LayRequest(ROLL, 3.0, different(165))
    assert table_seconds(request) > 2.5
    assert Packing().takes(request)
    for patience in (3.0, 12.0, 60.0):  # a machine that does other things besides comes to fewer lays
        found = [f for f in Packing().search(request, seconds=patience, seed=1, stopped=lambda: False) if f]
        if len(found) > 1:
            break
    ends = [finished(feasible_part(request), f, method="packing") for f in found]
    assert all(wrong_with(request, lay) == [] for lay in ends)
    assert ends[-1].length < ends[0].length
    lay = search_lay(request, seconds=4.0)
    assert lay.length <= easy_lay(request).length
    assert lay.method in ("packing", "rows"), "the own search leaves it the time"
    assert wrong_with(request, lay) == []


def test_of_many_pieces_that_a_stripe_binds_the_first_lay_keeps_eight_sides_apart_and_the_search_goes_into_hollows():
    request = LayRequest(replace(ROLL, repeat=Repeat(None, 60.0, 0.0, (0.0, 10.0))), 3.0, different(64))
    ask = feasible_part(request)
    assert ask.first_ways is not None
    assert ask.first_ways.pairs == "eight-sided"
    eight, whole = ask.first_ways.table, NestingTable(request, first_turn_only=True).table
    assert np.all(eight.reach[:, :4] == pytest.approx(whole.reach[:, :4], abs=0.04)), "as far as the pieces themselves"
    told: list[Lay] = []
    lay = search_lay(request, seconds=60.0, report=told.append, stopped=lambda: any(t.method == "nest" for t in told))
    assert all(wrong_with(request, t) == [] for t in (*told, lay))
    assert (told[0].method, lay.method) == ("rows", "nest")
    assert length_bound(request) - 1e-6 <= lay.bound <= lay.length < told[0].length


def test_a_proof_that_is_not_wanted_any_more_ends_soon_with_what_is_proven_by_then():
    shapes = [(470, 430, 6), (430, 350, 6), (380, 260, 8)]
    pieces = tuple(
        PieceAsk(
            f"p{k}",
            outline_of([(0, 20), (a, 0), (a - 30, b), (15, b - 10)]),
            n,
            anchor=(a / 2, b / 2),
            match_along=k < 2,
            match_across=True,
        )
        for k, (a, b, n) in enumerate(shapes)
    )
    ways = NestingTable(LayRequest(replace(ROLL, repeat=Repeat(310.0, 230.0, 0.5, (40.0, 30.0))), 3.0, pieces))
    halt, found = SolverStop(), []
    proving = threading.Thread(target=lambda: found.extend(repeat_bounds(ways, 9000.0, effort=300.0, halt=halt)))
    proving.start()
    time.sleep(1.5)
    assert proving.is_alive(), "it would take minutes"
    begun = time.monotonic()
    while proving.is_alive() and time.monotonic() < begun + 20:
        halt.stop()
        proving.join(0.05)
    assert not proving.is_alive()
    assert time.monotonic() - begun < 10
    laid = easy_lay(ways.request).length
    assert all(bound <= laid + 0.5 for bound in found)


@given(st.integers(40, 400), st.floats(0.3, 40), st.floats(150, 400))
@example(125, 4.9, 169.0)  # simplified by 8 mm, a corner went 12 mm away
@examples(25)
def test_a_pinked_edge_is_laid_with_its_teeth_filled_and_nowhere_smaller(teeth, deep, radius):
    points = [
        (
            radius + (radius - deep * (k % 2)) * math.cos(k * math.pi / teeth),
            radius + (radius - deep * (k % 2)) * math.sin(k * math.pi / teeth),
        )
        for k in range(2 * teeth)
    ]
    pinked = outline_of(points)
    laid = coarse(pinked)
    assert len(laid.points) <= 2 * MOST_CORNERS or laid.polygon.equals(laid.polygon.convex_hull)
    assert laid.polygon.buffer(0.01).covers(pinked.polygon)
    assert laid.polygon.within(box(*pinked.bounds).buffer(0.5)), "as wide as the cloth it stays as wide as the cloth"


def test_very_many_different_pieces_stand_in_rows_at_once_and_may_be_cut():
    pieces = tuple(
        PieceAsk(f"p{n}", rectangle(60 + n % 317, 40 + n % 211), 1, (0.0, 180.0), n % 2 == 0) for n in range(420)
    )
    request = LayRequest(Roll(1370, (15, 15)), 2, pieces)
    lay = easy_lay(request)
    assert wrong_with(request, lay) == []
    assert lay.is_whole
    assert lay.used > 0.6


MATCHED = {"anchor": [45, 30], "match": {"along": False, "across": True}}
RING = [[300 + 290 * math.cos(k * math.tau / 1600), 300 + 290 * math.sin(k * math.tau / 1600)] for k in range(1600)]


@pytest.mark.parametrize(
    ("change", "words"),
    [
        pytest.param(
            lambda d: d["strips"][0].update(shortest=5000, directions=["bias"]),
            "at most 1877 mm",
            id="a bias strip longer than the bias",
        ),
        pytest.param(
            lambda d: d["strips"][0].update(shortest=1400, directions=["across"]),
            "at most 1354 mm",
            id="longer than the cloth is wide",
        ),
        pytest.param(lambda d: d["strips"][0].update(width=1500), "is longer here", id="wider than the cloth"),
        pytest.param(
            lambda d: d.update(pieces=[{**d["pieces"][0], "id": f"p{n}", "outline": RING} for n in range(40)]),
            "60000 points",
            id="too many points",
        ),
        pytest.param(
            lambda d: d.update(
                pieces=[{**d["pieces"][0], "id": f"p{n}", **MATCHED} for n in range(201)],
                cloth={**d["cloth"], "repeat": {"along": None, "across": 90, "origin": [0, 0]}},
            ),
            "at most 200 different",
            id="too many different ones to match",
        ),
        pytest.param(
            lambda d: d.update(
                pieces=[{**d["pieces"][0], "id": f"p{n}"} for n in range(61)],
                cloth={"kind": "panels", "panels": [{"outline": [[0, 0], [2000, 0], [2000, 1300], [0, 1300]]}]},
                strips=[],
            ),
            "at most 60 different",
            id="too many different ones for panels",
        ),
    ],
)
def test_what_no_search_can_lay_in_its_time_is_refused_by_its_size_at_once(change, words):
    document = {
        "format": "zonatome.lay-request",
        "version": 1,
        "gap": 0,
        "cloth": {"kind": "roll", "width": 1370, "selvage": [8, 8]},
        "pieces": [
            {"id": "a", "outline": [[0, 0], [90, 0], [90, 60], [0, 60]], "count": 1, "turns": [0], "flip": False}
        ],
        "strips": [{"id": "w", "width": 38, "total": 900, "join": 40, "shortest": 300, "directions": ["across"]}],
    }
    easy_lay(read_request(document))
    change(document)
    with pytest.raises(BadInput, match=words):
        easy_lay(read_request(document))
