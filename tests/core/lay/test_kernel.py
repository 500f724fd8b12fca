"""The compiled search on small lays: the rules hold, and a mistake that compiled code passes over is seen.

Compiled code reads beyond an array without a word; plain Python doesn't. `make test-slow` runs these tests with nothing
compiled; with it they run as all others do.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
import shapely

from tests.core.lay.independent import wrong_with
from tests.core.lay.requests_of_the_trade import ROLL
from zonatome.core.lay.geometry.nesting_table import NestingTable
from zonatome.core.lay.kernel.figures import overlap_of
from zonatome.core.lay.lay import easy_lay, search_lay
from zonatome.core.lay.request import Flaw, LayRequest, Panels, PieceAsk, Repeat, Roll, StripAsk
from zonatome.core.lay.search.compaction import Compactor
from zonatome.core.lay.table.by_hand import Handwork, judged, key_of, moved
from zonatome.core.outline import outline_of, rectangle
from zonatome.core.trace.by_tape import trapezoid_shape

# the generator of chances goes round at 64 bits, of which plain Python warns
pytestmark = [pytest.mark.kernel, pytest.mark.filterwarnings("ignore:overflow encountered:RuntimeWarning")]

SEAT = trapezoid_shape("seat", 500, 560, 590, {}).outline.turned(90)
HOLLOW = outline_of([(0, 0), (600, 0), (600, 420), (420, 420), (420, 180), (180, 180), (180, 420), (0, 420)])
SIDE = rectangle(470, 180)
PIECES = (
    PieceAsk("seat", SEAT, 2, (0.0, 180.0)),
    PieceAsk("back", HOLLOW, 2, (0.0, 90.0, 180.0, 270.0), True),
    PieceAsk("side", SIDE, 3, (0.0, 180.0)),
)
ON_A_MOTIF = tuple(
    replace(p, turns=(0.0,), anchor=tuple(p.outline.polygon.centroid.coords[0]), match_along=True, match_across=True)
    for p in PIECES[:2]
)
WELT = (StripAsk("welt", 48, 2400, 40, 500, ("across", "along")),)
SMALL = {
    "plain": LayRequest(ROLL, 4.0, PIECES),
    "no gap": LayRequest(ROLL, 0.0, PIECES),
    "any turn": LayRequest(ROLL, 4.0, tuple(replace(p, turns=None) for p in PIECES[:2])),
    "welt": LayRequest(ROLL, 4.0, PIECES, WELT),
    "stripe": LayRequest(replace(ROLL, repeat=Repeat(None, 96, 0.0, (0, 58))), 4.0, ON_A_MOTIF + PIECES[2:]),
    "half drop": LayRequest(replace(ROLL, repeat=Repeat(450, 340, 0.5, (60, 90))), 4.0, ON_A_MOTIF + PIECES[2:]),
    "flaws": LayRequest(Roll(1400, (12, 12), None, (rectangle(60, 300).moved(500, 300),)), 4.0, PIECES),
    "panels": LayRequest(
        Panels((outline_of([(0, 0), (1500, 200), (1400, 1300), (100, 1200)]), rectangle(900, 1300)),
               (Flaw(0, rectangle(40, 40).moved(700, 600)),)),
        4.0, (replace(PIECES[0], priority=True), *PIECES[1:]),
    ),
}  # fmt: skip


@pytest.mark.parametrize("name", SMALL)
def test_the_first_lay_of_every_sort_of_cloth_holds_by_the_judge_that_is_written_apart(name):
    request = SMALL[name]
    lay = easy_lay(request)
    assert wrong_with(request, lay) == []
    assert len(lay.placements) == sum(p.count for p in request.pieces)


@pytest.mark.parametrize("name", SMALL)
def test_a_search_begun_anew_holds_and_is_never_longer_than_the_first_lay(name):
    request = SMALL[name]
    lay = search_lay(request, seconds=0.6, seed=3)
    assert wrong_with(request, lay) == []
    assert lay.length <= easy_lay(request).length + 1e-6


@pytest.mark.parametrize("name", ["plain", "no gap", "flaws"])
def test_pressing_a_lay_together_moves_nothing_into_another_and_makes_it_no_longer(name):
    request = SMALL[name]
    first = easy_lay(request)
    pressed = Compactor(NestingTable(request, pairs="none")).of_placements(first.placements) or first.placements
    length = max(p.on_cloth(request.by_id[p.piece]).bounds[2] for p in pressed)
    used = first.used * first.length / length
    assert wrong_with(request, replace(first, placements=pressed, length=length, used=used, bound=0.0)) == []
    assert length <= first.length + 1e-6


def test_what_a_hand_lets_go_finds_the_place_beside_it():
    request = SMALL["plain"]
    table, work = NestingTable(request), Handwork(easy_lay(request).placements)
    for piece in work.placements[:3]:
        lay, wrong = judged(request, moved(request, work, key_of(piece), 7.0, -5.0, ways=table))
        assert wrong == []
        assert wrong_with(request, lay) == []


def test_the_overlap_of_two_pieces_is_none_exactly_where_they_lie_apart():
    """Two ways at many distances: the compiled figures against a plane that knows nothing of them."""
    table = NestingTable(SMALL["plain"])
    chance = np.random.default_rng(5)
    for _ in range(60):
        one, other = chance.integers(len(table.ways), size=2)
        dx, dy = chance.uniform(-700, 700, 2)
        here = table.ways[one].outline.polygon
        there = shapely.affinity.translate(table.ways[other].outline.polygon, dx, dy)
        apart = here.distance(there)
        depth = overlap_of(table.table, int(other), float(dx), float(dy), int(one), 0.0, 0.0)
        if apart > 4.05:
            assert depth <= 0.05, (one, other, dx, dy)
        if apart < 3.95:
            assert depth > 0, (one, other, dx, dy)
