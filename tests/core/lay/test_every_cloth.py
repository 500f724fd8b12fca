"""Lays on every cloth: repeats, flaws, panels and hides, pins. The rules hold, the bound is one, a seed gives one
lay.
"""

import threading
import time
from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import Point

from tests.core.awkward import stars
from tests.core.lay.independent import wrong_with
from tests.core.lay.requests_of_the_trade import HIDE, ROLL, any_cloth, any_request, rectangles, six_chairs
from tests.often import examples
from zonatome.core.errors import BadInput
from zonatome.core.formats.lay_json import read_lay, read_request, write_lay, write_request
from zonatome.core.lay.bounds.repeat import repeat_bound
from zonatome.core.lay.check import faults
from zonatome.core.lay.geometry.nesting_table import NestingTable
from zonatome.core.lay.geometry.no_fit import bands_of, convex_parts, inner_fit_on_panel, no_fit
from zonatome.core.lay.kernel.figures import overlaps
from zonatome.core.lay.kernel.in_order import lay_in_order
from zonatome.core.lay.lay import easy_lay, search_lay
from zonatome.core.lay.ranking import better
from zonatome.core.lay.request import Flaw, Lay, LayRequest, Panels, PieceAsk, Placement, Repeat, Roll, StripAsk
from zonatome.core.lay.search.compaction import Compactor
from zonatome.core.lay.search.roll import RollSearcher
from zonatome.core.lay.search.searcher import BestExchange
from zonatome.core.lay.table.by_hand import Handwork, snapped
from zonatome.core.lay.table.left_over import left_overs
from zonatome.core.outline import outline_of, rectangle


@examples(25)
@given(any_cloth())
def test_a_lay_in_rows_may_be_cut_whatever_the_cloth(request_):
    lay = easy_lay(request_)
    assert wrong_with(request_, lay) == []
    assert faults(request_, lay) == []


@examples(18)
@given(st.one_of(any_cloth(), any_request()), st.integers(1, 5))
def test_a_search_keeps_every_rule_and_only_gets_better(request_, seed):
    told: list[Lay] = []
    lay = search_lay(request_, seconds=0.25, seed=seed, report=told.append)
    assert wrong_with(request_, lay) == []
    assert all(better(request_, after, before) for before, after in pairwise(told))
    assert lay.length <= told[0].length
    assert lay.bound <= lay.length + 0.5
    again = read_lay(write_lay(lay))
    assert wrong_with(request_, replace(again, length=lay.length, bound=lay.bound)) == [], "the file says the same"


@examples(40)
@given(any_cloth())
def test_a_request_comes_back_from_its_file(request_):
    once = read_request(write_request(request_))
    assert read_request(write_request(once)) == once
    assert len(once.flaws) == len(request_.flaws)
    assert [p.bound(once.repeat) for p in once.pieces] == [p.bound(request_.repeat) for p in request_.pieces]


@given(stars(), stars(), st.floats(-900, 900), st.floats(-900, 900), st.sampled_from([0.0, 3.0, 10.0]))
def test_the_table_of_rows_knows_who_is_too_near(one, other, x, y, gap):
    corner = np.array(one.bounds[:2]) - np.array(other.bounds[:2])
    parts = [[p - np.array(o.bounds[:2]) for p in convex_parts(o)] for o in (one, other)]
    assert sum(shapely.Polygon(p).area for p in parts[0]) == pytest.approx(one.area, rel=1e-6)
    rows = bands_of(no_fit(*parts, gap))
    band = int(np.searchsorted(rows.levels, y, side="right")) - 1
    inside = False
    if 0 <= band < len(rows.levels) - 1:
        up = y - rows.levels[band]
        here = rows.sides[rows.first[band] : rows.first[band + 1]]
        inside = bool(((here[:, 0] + here[:, 1] * up < x) & (x < here[:, 2] + here[:, 3] * up)).any())
    moved = other.moved(x + corner[0], y + corner[1]).polygon
    apart = one.polygon.distance(moved)
    sunk = one.polygon.buffer(-0.03).intersects(moved.buffer(-0.03))
    if inside:
        assert apart < gap + 0.001
    else:
        assert apart >= gap - 0.04
        assert not sunk


@examples(40)
@given(stars(), st.floats(0, 1), st.floats(0, 1))
def test_the_ground_on_a_hide_is_where_a_piece_lies_on_it(piece, across, up):
    lying = piece.moved(-piece.bounds[0], -piece.bounds[1])
    ground = inner_fit_on_panel(HIDE, convex_parts(lying)).buffer(-1e-4)
    x0, y0, x1, y1 = HIDE.bounds
    at = Point(x0 + across * (x1 - x0), y0 + up * (y1 - y0))
    placed = shapely.affinity.translate(lying.polygon, at.x, at.y)
    if ground.contains(at):
        assert HIDE.polygon.buffer(0.05).covers(placed)
    else:
        assert not HIDE.polygon.buffer(-0.05).covers(placed)


def _searched(request: LayRequest, seed: int, work: float) -> list[tuple]:
    """What two searchers come to, as far as their work goes, however long that takes."""
    ways, going, exchange = NestingTable(request), np.zeros(1, dtype=np.int64), BestExchange(2)
    searchers = [
        RollSearcher(ways, seed=seed + k, work=work, until=time.monotonic() + 600, stop=going, exchange=exchange)
        for k in range(2)
    ]
    threads = [threading.Thread(target=s.run) for s in searchers]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return [(s.best.cost, s.best.x.tolist(), s.best.y.tolist()) for s in searchers if s.best]


def test_a_seed_gives_one_lay_and_another_seed_another():
    asked = six_chairs()
    first = _searched(asked, 3, 6e6)
    assert first == _searched(asked, 3, 6e6)
    assert first != _searched(asked, 9, 6e6)
    assert first[0][0] < easy_lay(asked).length


@examples(12)
@given(any_request())
def test_the_press_brings_pieces_apart_and_never_makes_a_lay_longer(request_):
    ways = NestingTable(replace(request_, strips=()))
    n, going = len(ways.items), np.zeros(1, dtype=np.int64)
    x, y, way = np.zeros(n), np.zeros(n), np.full(n, -1, dtype=np.int64)
    lay_in_order(ways.table, np.arange(n), -1e9, 1e9, 20.0, x, y, way, going)
    before = float((x + ways.table.width[way]).max())
    found = Compactor(ways).compacted(x, y, way)
    assert found is not None
    assert found[2] <= before + 0.5, "what touches by a hair may be brought apart by it"
    squeezed = Compactor(ways).compacted(x * 0.99, y, way)
    for state in (found, squeezed):
        if state is not None:
            assert overlaps(ways.table, state[0], state[1], way, np.empty((n, n))) == pytest.approx(0.0, abs=1e-5)


def test_motifs_prove_more_than_the_area():
    motif = Repeat(600, 700, 0.0, (300, 350))
    seats = PieceAsk("seat", rectangle(500, 500), 3, (0.0,), False, (250, 250), True, True)
    asked = LayRequest(Roll(1400, repeat=motif), 3, (seats,))
    assert repeat_bound(NestingTable(asked), 2000, effort=1.0) == pytest.approx(1150, abs=0.3), (
        "two abreast, the third 600 mm on"
    )
    assert search_lay(asked, seconds=0.5).length == pytest.approx(1150, abs=0.1)
    stripe = replace(asked, cloth=Roll(1000, repeat=Repeat(None, 300, 0.0, (0, 150))))
    lay = search_lay(stripe, seconds=0.5)
    assert lay.length == pytest.approx(1506, abs=0.3), "only one stripe in the middle lets 500 mm lie on a metre"
    assert lay.bound == pytest.approx(1506, abs=0.6)


@examples(12)
@given(any_cloth().filter(lambda r: r.repeat is not None and any(any(p.bound(r.repeat)) for p in r.pieces)))
def test_what_a_repeat_proves_is_below_every_lay(request_):
    lay = easy_lay(replace(request_, strips=()))
    if not lay.unplaced:
        assert (
            repeat_bound(NestingTable(replace(request_, strips=()), first_turn_only=True), lay.length, effort=0.2)
            <= lay.length + 0.5
        )


def test_what_is_pinned_stays_and_the_rest_goes_round_it():
    pins = (Placement("r0", 2, 700.0, 300.0), Placement("r1", 1, 40.0, 50.0, 90.0))
    asked = replace(rectangles((500, 600, 4), (300, 200, 6), gap=4, turns=(0.0, 90.0)), pinned=(pins[0],))
    asked = replace(asked, pinned=(pins[0], replace(pins[1], x=300.0)))
    lay = search_lay(asked, seconds=0.4)
    assert wrong_with(asked, lay) == []
    assert set(asked.pinned) <= set(lay.placements)
    for bad, words in ((Placement("r0", 2, 700.0, 1200.0), "selvage"), (Placement("r0", 2, 300.0, 300.0), "too near")):
        with pytest.raises(BadInput, match=words):
            search_lay(replace(asked, pinned=(bad, asked.pinned[1])), seconds=0.2)


def test_panels_take_what_fits_and_name_the_rest():
    curtains = Panels((rectangle(1000, 800), rectangle(600, 600)), (Flaw(1, rectangle(50, 50).moved(100, 100)),))
    asked = LayRequest(
        curtains, 4, (PieceAsk("seat", rectangle(480, 390), 5), PieceAsk("wide", rectangle(400, 900), 1))
    )
    lay = search_lay(asked, seconds=0.6)
    assert wrong_with(asked, lay) == []
    assert dict(lay.unplaced) == {"wide": 1}, "four on the first, one on the second beside its flaw"
    assert (lay.length, lay.bound, lay.on_panels) == (0.0, 0.0, True)
    welt = replace(asked, strips=(StripAsk("welt", 40, 90_000, 40, 300, ("along",)),))
    short = search_lay(welt, seconds=0.5)
    assert wrong_with(welt, short) == []
    assert dict(short.short)["welt"] > 50_000


@examples(12)
@given(
    st.lists(st.tuples(st.integers(0, 599), st.integers(0, 279)), min_size=2, max_size=3),
    st.sampled_from([0.0, 0.5]),
    st.integers(1, 4),
)
def test_a_motif_is_met_on_every_length_where_it_stands_there(origins, drop, seed):
    """Curtain lengths cut from one cloth: the same steps, each with an origin of its own."""
    repeats = tuple(Repeat(300, 280, drop, (float(x), float(y))) for x, y in origins)
    lengths = Panels(
        tuple(rectangle(1300 + 50 * n, 900).moved(20.0 * n, -30.0 * n) for n in range(len(origins))), (), repeats
    )
    seat = PieceAsk("seat", rectangle(420, 400), 3, (0.0,), False, (210, 200), True, True)
    asked = LayRequest(lengths, 4, (seat, PieceAsk("band", rectangle(150, 500), 4)))
    again = read_request(write_request(asked))
    assert again == asked
    for lay in (easy_lay(asked), search_lay(asked, seconds=0.25, seed=seed)):
        assert wrong_with(asked, lay) == []
        assert faults(asked, lay) == []
    first = next(p for p in lay.placements if p.piece == "seat")
    pulled = replace(first, x=first.x + 6.0, y=first.y - 5.0)
    snap = snapped(Handwork(lay.placements), pulled, NestingTable(asked))
    assert faults(replace(asked, pieces=(seat,)), replace(lay, placements=(snap,), unplaced=(("seat", 2),))) == [], (
        "a hand is put on it"
    )
    for left in left_overs(asked, lay):
        back = (left.motif[0] + left.at[0], left.motif[1] + left.at[1])
        assert max(repeats[left.panel].off(back, along=True, across=True)) < 0.11


def test_by_hand_two_curtain_lengths_hold_two_seats_on_the_motif():
    """On paper: 500 x 500, motif at (200, 250) and at (300, 250), 600 apart: a seat 300 square fits once on each, at x
    50 and x 150.
    """
    repeats = (Repeat(600, 600, 0.0, (200.0, 250.0)), Repeat(600, 600, 0.0, (300.0, 250.0)))
    asked = LayRequest(
        Panels((rectangle(500, 500), rectangle(500, 500)), (), repeats),
        3, (PieceAsk("seat", rectangle(300, 300), 2, (0.0,), False, (150, 150), True, True),),
    )  # fmt: skip
    lay = easy_lay(asked)
    assert {(p.panel, round(p.x), round(p.y)) for p in lay.placements} == {(0, 50, 100), (1, 150, 100)}
    alone = write_request(asked)
    del alone["cloth"]["panels"][1]["repeat"]
    with pytest.raises(BadInput, match=r"cloth.panels\[1\].repeat"):
        read_request(alone)


def test_a_piece_with_priority_has_the_hide_to_itself_first():
    small = rectangle(500, 400)
    asked = LayRequest(
        Panels((small,)),
        4,
        (PieceAsk("big", rectangle(480, 390), 1), PieceAsk("seat", rectangle(300, 300), 1, priority=True)),
    )
    assert [p.piece for p in easy_lay(asked).placements] == ["seat"]


def test_strips_use_a_bay_in_a_pieces_side():
    bay = outline_of([(0, 0), (3000, 0), (3000, 1376), (2900, 1376), (2900, 1200), (100, 1200), (100, 1376), (0, 1376)])
    asked = LayRequest(ROLL, 4.0, (PieceAsk("p", bay, 1),), (StripAsk("welt", 40, 10_000, 40, 500, ("along",)),))
    lay = easy_lay(asked)
    assert wrong_with(asked, lay) == []
    assert lay.length == pytest.approx(3000), "four strips of 2.79 m lie in the bay"


@pytest.mark.parametrize(
    ("change", "words"),
    [
        pytest.param({"x": 40.0}, "off its motif along", id="off along"),
        pytest.param({"y": 130.0}, "off its motif across", id="off across"),
        pytest.param({"flip": True}, "mirror image", id="mirrored"),
        pytest.param({"x": 600.0}, "flaw 1", id="on the flaw"),
    ],
)
def test_the_check_finds_what_a_hand_did_wrong(change, words):
    seat = PieceAsk("seat", rectangle(400, 400), 1, (0.0,), False, (200, 200), True, True)
    cloth = Roll(1400, (0, 0), Repeat(600, 700, 0.0, (200, 300)), (rectangle(20, 20).moved(800, 300),))
    asked = LayRequest(cloth, 3, (seat,))
    good = Placement("seat", 1, 0.0, 100.0)
    assert faults(asked, Lay(400, 0, 0, 0, (good,))) == []
    assert any(words in fault for fault in faults(asked, Lay(400, 0, 0, 0, (replace(good, **change),))))
    on_panel = LayRequest(Panels((rectangle(500, 500),)), 3, (replace(seat, anchor=None),))
    assert any(
        "edge of panel 1" in f for f in faults(on_panel, Lay(0, 0, 0, 0, (replace(good, x=130.0),), on_panels=True))
    )


@examples(25)
@given(any_request())
def test_laid_one_by_one_no_piece_could_lie_nearer_to_the_squared_end_at_its_height(request_):
    request_ = replace(request_, strips=())
    ways = NestingTable(request_)
    n = len(ways.items)
    x, y, way = np.zeros(n), np.zeros(n), np.full(n, -1, dtype=np.int64)
    order = np.argsort(-ways.table.area, kind="stable")
    missing, _ = lay_in_order(ways.table, order, -1e9, 1e9, 20.0, x, y, way, np.zeros(1, dtype=np.int64))
    assert missing == 0
    before: list[shapely.Polygon] = []
    for item in order:
        placed = ways.placement(int(item), float(x[item]), float(y[item]), int(way[item]))
        lying = placed.on_cloth(request_.by_id[placed.piece]).polygon
        assert all(lying.distance(other) >= request_.gap - 0.05 for other in before)
        nearer = shapely.affinity.translate(lying, -1.0, 0.0)
        met = any(
            nearer.distance(other) < request_.gap - 0.01
            or nearer.intersection(other).area > lying.intersection(other).area + 1e-4  # the tip of a needle
            for other in before
        )
        assert met or nearer.bounds[0] < 0, "it touches a piece, or the end"
        before.append(lying)
