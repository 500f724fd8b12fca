"""What every search over a compiled table shares: where things lie, driving overlaps out, meeting on the way.

How far a search goes is counted in work, not in seconds, so that the same seed gives the same lay; only on a machine
much slower than the one it was set on do the seconds end it first.
"""

from __future__ import annotations

import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from queue import SimpleQueue

import numpy as np

from zonatome.core.arrays import Floats, Ints
from zonatome.core.lay.geometry.nesting_table import NestingTable
from zonatome.core.lay.kernel.figures import overlaps
from zonatome.core.lay.kernel.separate import Tries, into_limit, pressure_of, separate
from zonatome.core.lay.kernel.tables import Lying

TRY_WORK = 20_000.0  # what an attempt counts besides
STARTING = 0.05  # of the work goes into the first start, and into each new one
PATIENCE = 0.2  # of the work without a better lay after which it begins anew
PASSES = 120  # over all pieces, while they are separated
STRIKES = 1  # in a row without getting on, after which it gives up
PROGRESS = 0.98
BY_CHANCE = 1  # places taken by chance that a move tries
CONTACTS = 3  # heights at which it touches another that a move tries
NEAR = 1.2  # widest pieces: how far a move looks about where the piece lies
SHORTER = 0.05  # mm
BIGNESS = 0.4  # how the size of two pieces weighs in their overlap
KEPT = 10  # lays that are handed on for their strips
FAR = 1e9
LOOK_UP = 0.1  # seconds


@dataclass(frozen=True)
class State:
    """Where every item lies, in the table's terms, and the length that takes."""

    x: Floats
    y: Floats
    way: Ints
    cost: float  # to be made less: mm of the roll, on panels what is not covered

    def copy(self) -> tuple[Floats, Floats, Ints]:
        """Return arrays to work on."""
        return self.x.copy(), self.y.copy(), self.way.copy()


class BestExchange:
    """Where searchers wait for each other and take the best; nobody waits for one that is through."""

    def __init__(self, count: int) -> None:
        """For so many searchers."""
        self.changed = threading.Condition()
        self.waiting: list[State] = []
        self.here, self.count, self.round = 0, count, 0
        self.outcome: State | None = None

    def best_of_all(self, mine: State | None, is_over: Callable[[], bool]) -> State | None:
        """Hand in one's best, wait, and return the best of all; one's own where the search ends meanwhile."""
        with self.changed:
            now = self.round
            self.here += 1
            if mine is not None:
                self.waiting.append(mine)
            self._settle()
            while self.round == now and not is_over():
                self.changed.wait(LOOK_UP)
            return self.outcome if self.round != now else mine

    def leave(self) -> None:
        """Be through."""
        with self.changed:
            self.count -= 1
            self._settle()

    def _settle(self) -> None:
        if self.here and self.here >= self.count:
            self.outcome = min(self.waiting, key=lambda s: (s.cost, *s.x[:3]), default=None)
            self.waiting, self.here = [], 0
            self.round += 1
            self.changed.notify_all()


class Searcher:
    """One search on one core: a fixed sequence for a seed, as far as its work goes."""

    def __init__(
        self,
        ways: NestingTable,
        *,
        seed: int,
        work: float,
        until: float,
        stop: Ints,
        exchange: BestExchange | None = None,
    ) -> None:
        """Take what is searched in and how far: `ways`, every piece in every turn with the no-fit polygons of each two.

        `seed` begins its sequence of choices; `work` is how much it may do, in steps as the compiled code counts them,
        so that it does the same on every machine; `until` is the moment on the monotonic clock at which it ends in any
        case; `stop[0]` ends it at once, from another thread. Through `exchange` searchers on other cores hand each
        other the best lay so far.
        """
        self.ways, self.table, self.n = ways, ways.table, len(ways.items)
        self.chance = np.random.default_rng(seed)
        self.state = np.array([seed * 2 + 1], dtype=np.uint64) * np.uint64(0x9E3779B97F4A7C15)
        self.work_left = self.work = work
        self.until, self.stop, self.exchange = until, stop, exchange or BestExchange(1)
        self.told: SimpleQueue[State | None] = SimpleQueue()
        self.best: State | None = None
        self.kept: list[State] = []
        bigness = np.array([1.0]) if not self.n else (self.table.area / self.table.area.min()) ** (BIGNESS / 2)
        self.size = np.asarray(bigness, dtype=np.float64)
        self.base = self.size[:, None] * self.size[None, :]
        self.near = NEAR * float(self.table.width.max(initial=1.0))

    @property
    def is_stopped(self) -> bool:
        """Whether it was told to stop, or the time is up."""
        return bool(self.stop[0]) or time.monotonic() > self.until

    @property
    def is_over(self) -> bool:
        """Whether work or time is used up, or it was told to stop."""
        return self.work_left <= 0 or self.is_stopped

    def keep(self, state: State) -> None:
        """Take a lay that is whole."""
        self.kept = sorted([*self.kept, state], key=lambda s: s.cost)[:KEPT]
        if self.best is None or state.cost < self.best.cost - SHORTER:
            self.best = state
            self.told.put(state)

    def overlap(self, x: Floats, y: Floats, way: Ints) -> float:
        """The sum of all overlaps."""
        return float(overlaps(self.table, x, y, way, np.empty((self.n, self.n))))

    def separated(
        self, limit: float, x: Floats, y: Floats, way: Ints, weight: Floats, passes: int
    ) -> tuple[float, Floats, Floats, Ints]:
        """The least overlap that the search comes to, and where everything lies then."""
        best = Lying(x.copy(), y.copy(), way.copy())
        pressure, tries = (
            pressure_of(weight, self.size),
            Tries(BY_CHANCE, CONTACTS, self.near, float(self.work_left), passes),
        )
        least, work, _ = separate(self.table, limit, Lying(x, y, way), best, pressure, tries, self.state, self.stop)
        self.work_left -= work
        return least, *best

    def driven(self, limit: float, x: Floats, y: Floats, way: Ints) -> tuple[float, Floats, Floats, Ints]:
        """As `separated`, again and again from the best so far while that helps; weights stay."""
        weight = self.base.copy()
        found = self.separated(limit, x, y, way, weight, PASSES)
        struck = 0
        while found[0] > 0 and struck < STRIKES and not self.is_over:
            again = self.separated(limit, found[1].copy(), found[2].copy(), found[3].copy(), weight, PASSES)
            struck = 0 if again[0] < found[0] * PROGRESS else struck + 1
            if again[0] < found[0]:
                found = again
        return found

    def brought_inside(self, limit: float, x: Floats, y: Floats, way: Ints) -> bool:
        """Bring what lies beyond the limit, off its ground or off the repeat to where it may lie; return whether all
        found a place.
        """
        all_in, work = into_limit(self.table, limit, Lying(x, y, way), self.base, self.state, self.stop)
        self.work_left -= TRY_WORK + work
        return all_in

    def order(self) -> Ints:
        """An order of the items by chance: big ones early."""
        rows = [self.table.area, self.table.width[self.table.way_first], self.table.height[self.table.way_first]]
        key = rows[int(self.chance.choice(3, p=(0.5, 0.25, 0.25)))]
        return np.argsort(
            -key * np.exp(self.chance.normal(0, self.chance.choice((0.03, 0.1, 0.2)), self.n)), kind="stable"
        )
