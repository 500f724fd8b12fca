"""The project's own packing: whatever binds the pieces, on rolls and on panels.

Each searcher begins with pieces laid one after another in a chance order and pressed together, then shortens the
roll a little, by squeezing a stretch of it or by changing two pieces, and drives the overlaps out (`scan.py`); what
remains of them the press (`compact.py`) often settles. A searcher that stands still begins anew, and comes back to
its best at the end. Two of them run side by side, on two cores.

How far a search goes is counted in work, not in seconds, so that the same seed gives the same lay; only on a machine
much slower than the one it was set on do the seconds end it first.
"""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from queue import Empty, SimpleQueue

import numpy as np
from numpy.typing import NDArray

from zonatome.core.lay import scan
from zonatome.core.lay.compact import Press
from zonatome.core.lay.engine import Found, Stopped
from zonatome.core.lay.nofit import Floats
from zonatome.core.lay.request import LayRequest
from zonatome.core.lay.shelves import in_order, laid
from zonatome.core.lay.ways import Ways

Ints = NDArray[np.int64]

SEARCHERS = 2
WORK_A_SECOND = 24e6  # of one searcher beside another; a machine half as fast as ours still does it in time
PRESS_WORK = 115_000.0  # what one round of the press counts, and for each item
PRESS_ITEM_WORK = 5_000.0
TRY_WORK = 50_000.0  # what an attempt counts besides
STARTING = 0.05  # of the work goes into the first start, and into each new one
MEETINGS = (0.4, 0.7)  # of the work, at which the searchers go on from the best of all
PATIENCE = 0.2  # of the work without a shorter roll after which it begins anew
STEPS = {"change": 0.012, "stretch": 0.012, "whole": 0.01}  # what each sort of trial shortens by at first, of its span or of the roll
MOST_STEP, LEAST_STEP, SMALLER, LARGER = 0.02, 0.0015, 0.8, 1.5
FORGET, NEVER_LESS = 0.8, 0.12
SPAN = 4.0  # widest pieces
CHANGING = 0.3  # of the trials on panels change two pieces
FROM_POOL = 0.5  # of the changes begin with a roll that was too short for the search; on panels, so many trials take a smaller piece out
PASSES, STRIKES, PROGRESS = 40, 2, 0.98
BY_CHANCE, CONTACTS, NEAR = 8, 16, 1.2
RESIDUE = 200.0  # mm of overlap, all told, up to which the press is asked
SHORTER = 0.05  # mm
BIGNESS = 0.4  # how the size of two pieces weighs in their overlap
KEPT = 10  # lays that are handed on for their strips
FAR = 1e9
LOOK_UP = 0.1  # seconds


@dataclass
class Trial:
    """A sort of trial: how much it shortens by, and what that was worth lately, in mm for its work."""

    step: float
    worth: float = 1e-4

    def learn(self, gained: float, work: float) -> None:
        """Take in an outcome."""
        self.worth = FORGET * self.worth + (1 - FORGET) * gained / max(work, 1.0) * 1e3
        self.step = min(MOST_STEP, self.step * LARGER) if gained > SHORTER else max(LEAST_STEP, self.step * SMALLER)


@dataclass(frozen=True)
class State:
    """Where every item lies, in the table's terms, and the length that takes."""

    x: Floats
    y: Floats
    way: Ints
    length: float

    def copy(self) -> tuple[Floats, Floats, Ints]:
        """Return arrays to work on."""
        return self.x.copy(), self.y.copy(), self.way.copy()


class Meeting:
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
            self.outcome = min(self.waiting, key=lambda s: (s.length, *s.x[:3]), default=None)
            self.waiting, self.here = [], 0
            self.round += 1
            self.changed.notify_all()


class Searcher:
    """One search on one core: a fixed sequence for a seed, as far as its work goes."""

    def __init__(self, ways: Ways, *, seed: int, work: float, until: float, stop: Ints, meeting: Meeting | None = None) -> None:
        """`until`: the moment on the monotonic clock at which it ends in any case; `stop[0]` ends it at once."""
        self.ways, self.table, self.n = ways, ways.table, len(ways.items)
        self.chance = np.random.default_rng(seed)
        self.state = np.array([seed * 2 + 1], dtype=np.uint64) * np.uint64(0x9E3779B97F4A7C15)
        self.work_left = self.work = work
        self.until, self.stop, self.meeting = until, stop, meeting or Meeting(1)
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
        self.kept = sorted([*self.kept, state], key=lambda s: s.length)[:KEPT]
        if self.best is None or state.length < self.best.length - SHORTER:
            self.best = state
            self.told.put(state)

    def overlap(self, x: Floats, y: Floats, way: Ints) -> float:
        """The sum of all overlaps."""
        return float(scan.overlaps(self.table, x, y, way, np.empty((self.n, self.n))))

    def separated(self, limit: float, x: Floats, y: Floats, way: Ints, weight: Floats, passes: int) -> tuple[float, Floats, Floats, Ints]:
        """The least overlap that the search comes to, and where everything lies then."""
        best = x.copy(), y.copy(), way.copy()
        settings = (BY_CHANCE, CONTACTS, self.near, self.work_left, passes)
        least, work, _ = scan.separate(self.table, limit, x, y, way, weight, self.size, *best, self.state, *settings, self.stop)
        self.work_left -= work
        return float(least), *best

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

    def brought_inside(self, limit: float, x: Floats, y: Floats, way: Ints) -> None:
        """Bring what lies beyond the limit, off its ground or off the repeat to where it may lie."""
        scan.into_limit(self.table, limit, x, y, way, self.base, self.state, self.stop)
        self.work_left -= TRY_WORK

    def order(self) -> Ints:
        """An order of the items by chance: big ones early."""
        rows = [self.table.area, self.table.width[self.table.way_first], self.table.height[self.table.way_first]]
        key = rows[int(self.chance.choice(3, p=(0.5, 0.25, 0.25)))]
        return np.argsort(-key * np.exp(self.chance.normal(0, self.chance.choice((0.03, 0.1, 0.2)), self.n)), kind="stable")


class RollSearcher(Searcher):
    """Searches for the shortest roll."""

    def __init__(
        self, ways: Ways, *, seed: int, work: float, until: float, stop: Ints, meeting: Meeting | None = None, least: float = 0.0
    ) -> None:
        """See `Searcher`; at `least` mm the roll can't become any shorter."""
        super().__init__(ways, seed=seed, work=work, until=until, stop=stop, meeting=meeting)
        self.press = Press(ways)
        self.least = least
        self.pinned = max((p.on_cloth(ways.request.by_id[p.piece]).bounds[2] for p in ways.request.pinned), default=0.0)
        self.big = np.argsort(-self.table.area, kind="stable")[: max(2, int(self.n * 0.75))]

    def run(self) -> None:
        """Search until the work is done; what is found goes to `told`, None at the end."""
        try:
            for share in (*MEETINGS, 1.0):
                leave = (1.0 - share) * self.work
                state = self.best if share > MEETINGS[0] else None
                while not self.is_over and self.work_left > leave:
                    state = state or self.start()
                    if state is not None:
                        self.improve(state, leave, restless=share == MEETINGS[0])
                    state = None
                if share < 1.0 and (best := self.meeting.best_of_all(self.best, lambda: self.is_stopped)):
                    self.keep(best)
        finally:
            self.meeting.leave()
            self.told.put(None)

    def start(self) -> State | None:
        """The best of several lays in chance orders, pressed together; the first of all by size."""
        best: State | None = None
        until = self.work_left - STARTING * self.work
        while not self.is_over and (best is None or self.work_left > until):
            order = np.argsort(-self.table.area, kind="stable") if self.best is None and best is None else self.order()
            x, y, way = np.zeros(self.n), np.zeros(self.n), np.full(self.n, -1, dtype=np.int64)
            step = float(self.chance.choice((5.0, 10.0, 20.0)))
            missing, work = in_order(self.table, order, step, x, y, way, self.stop)
            self.work_left -= work + TRY_WORK
            if missing:
                if self.stop[0]:
                    return None
                raise AssertionError("an item that fits somewhere fits a roll without end")
            laid = self.measured(x, y, way)
            if self.best is None and best is None:
                self.keep(laid)
            laid = self.settled(laid.x, laid.y, laid.way) or laid
            if best is None or laid.length < best.length:
                best = laid
        if best is not None:
            self.keep(best)
        return best

    def measured(self, x: Floats, y: Floats, way: Ints) -> State:
        """The state with its length."""
        return State(x, y, way, max(self.pinned, float((x + self.table.width[way]).max(initial=0.0))))

    def settled(self, x: Floats, y: Floats, way: Ints) -> State | None:
        """The lay that the press makes of this; None where things then still lie over each other."""
        pressed = self.press.pressed(x, y, way)
        self.work_left -= 4 * (PRESS_WORK + PRESS_ITEM_WORK * self.n)
        if pressed is None or self.overlap(pressed[0], pressed[1], way) > 0:
            return None
        return self.measured(pressed[0], pressed[1], way)

    def improve(self, state: State, leave: float, *, restless: bool) -> None:
        """Make a lay shorter until so much work is left, or, if restless, until it stands still for long."""
        pool: list[tuple[float, Floats, Floats, Ints]] = []
        trials = {name: Trial(step) for name, step in STEPS.items()}
        moved = self.work_left
        while not self.is_over and self.work_left > leave and not (restless and moved - self.work_left > PATIENCE * self.work):
            name = self.chosen(trials)
            trial, begun = trials[name], self.work_left
            x, y, way, limit = self.tried(name, state, trial.step, pool)
            if limit < self.pinned or state.length - self.least < SHORTER:
                self.work_left = min(self.work_left, leave)
                return
            self.brought_inside(limit, x, y, way)
            least, x, y, way = self.driven(limit, x, y, way)
            self.work_left -= TRY_WORK
            found = self.measured(x, y, way) if least <= 0 else None
            if least < RESIDUE:
                settled = self.settled(x, y, way)
                found = settled if settled and (found is None or settled.length < found.length) else found
            gained = 0.0 if found is None else state.length - found.length
            if found is not None and gained > SHORTER:
                state, moved, pool = found, self.work_left, []
                self.keep(found)
            else:
                pool = sorted([*pool, (least, x, y, way)], key=lambda p: p[0])[:20]
            trial.learn(max(0.0, gained), begun - self.work_left)

    def chosen(self, trials: dict[str, Trial]) -> str:
        """One of the sorts of trial: the more it has gained lately for its work, the likelier, and none is given up."""
        names = list(trials)
        worth = np.array([trials[name].worth for name in names])
        relative = worth / worth.sum() if worth.sum() > 0 else np.full(len(names), 1 / len(names))
        share = NEVER_LESS + (1 - NEVER_LESS * len(names)) * relative
        return names[int(self.chance.choice(len(names), p=share / share.sum()))]

    def tried(
        self, name: str, state: State, step: float, pool: list[tuple[float, Floats, Floats, Ints]]
    ) -> tuple[Floats, Floats, Ints, float]:
        """A way to begin on a shorter roll, and its length: two pieces changed, or a stretch, or the whole roll, squeezed."""
        x, y, way = state.copy()
        span = min(state.length, SPAN * float(self.table.width.max()))
        shorter = max(0.2, step * (state.length if name == "whole" else span))
        limit = state.length - shorter
        if name == "change" and self.n > 1:
            if pool and self.chance.random() < FROM_POOL:
                _, x, y, way = pool[min(len(pool) - 1, int(abs(self.chance.normal(0, 0.25)) * len(pool)))]
                x, y, way = x.copy(), y.copy(), way.copy()
            one = int(self.chance.choice(self.big))
            others = self.big[(np.abs(x[self.big] - x[one]) < span) & (np.abs(self.table.area[self.big] - self.table.area[one]) > 1e-6)]
            if len(others):
                other = int(self.chance.choice(others))
                x[one], x[other], y[one], y[other] = x[other], x[one], y[other], y[one]
            return x, y, way, limit
        stretch, begin = state.length, 0.0
        if name != "whole":
            stretch = span * float(np.exp(self.chance.uniform(np.log(0.02), 0.0)))
            begin = float(self.chance.uniform(-0.3 * stretch, state.length - 0.7 * stretch))
        middle = x + self.table.width[way] / 2
        return np.maximum(0.0, x - shorter * np.clip((middle - begin) / stretch, 0.0, 1.0)), y, way, limit


class PanelSearcher(Searcher):
    """Searches for a lay of all pieces on the panels there are, or of as much as goes on them."""

    def __init__(self, ways: Ways, *, seed: int, work: float, until: float, stop: Ints, meeting: Meeting | None = None) -> None:
        """See `Searcher`. A state's length is the area of what it leaves out."""
        super().__init__(ways, seed=seed, work=work, until=until, stop=stop, meeting=meeting)
        self.limit = ways.panels_end

    def run(self) -> None:
        """Search until all is laid or the work is done; what is found goes to `told`, None at the end."""
        try:
            while not self.is_over and (self.best is None or self.best.length > 0):
                state = self.start()
                if state is not None:
                    self.improve(state)
        finally:
            self.meeting.leave()
            self.told.put(None)

    def measured(self, x: Floats, y: Floats, way: Ints) -> State:
        """The state with the area that it leaves out."""
        return State(x, y, way, float(self.table.area[way < 0].sum()))

    def start(self) -> State | None:
        """The best of several lays in chance orders; the first of all by size, the pieces with priority before all others."""
        best: State | None = None
        until = self.work_left - STARTING * self.work
        while not self.is_over and (best is None or (self.work_left > until and best.length > 0)):
            order = np.argsort(-self.table.area, kind="stable") if self.best is None and best is None else self.order()
            x, y, way = np.zeros(self.n), np.zeros(self.n), np.full(self.n, -1, dtype=np.int64)
            step = float(self.chance.choice((5.0, 10.0, 20.0)))
            order = order[np.argsort(~self.ways.priority[order], kind="stable")]
            _, work = scan.lay_in_order(self.table, order, -FAR, FAR, step, x, y, way, self.stop)
            self.work_left -= work + TRY_WORK
            laid = self.measured(x, y, way)
            if best is None or laid.length < best.length:
                best = laid
        if best is not None:
            self.keep(best)
        return best

    def improve(self, state: State) -> None:
        """Bring in what is left out, in the place of smaller pieces too, until that stands still for long."""
        moved = self.work_left
        while not self.is_over and state.length > 0 and moved - self.work_left < 2 * PATIENCE * self.work:
            x, y, way = state.copy()
            missing, laid = np.flatnonzero(way < 0), np.flatnonzero(way >= 0)
            one = int(self.chance.choice(missing, p=self.table.area[missing] / self.table.area[missing].sum()))
            smaller = laid[self.table.area[laid] < self.table.area[one] - 1.0]
            if len(smaller) and self.chance.random() < FROM_POOL:
                way[int(self.chance.choice(smaller))] = -1
            elif len(laid) > 1 and self.chance.random() < CHANGING:
                a, b = (int(v) for v in self.chance.choice(laid, 2, replace=False))
                x[a], x[b], y[a], y[b] = x[b], x[a], y[b], y[a]
            x[one], way[one] = 1e7, self.table.way_first[one]
            self.brought_inside(self.limit, x, y, way)
            least, x, y, way = self.driven(self.limit, x, y, way)
            self.work_left -= TRY_WORK
            if least > 0:
                continue
            found = self.filled(x, y, way)
            if found.length < state.length:
                state, moved = found, self.work_left
                self.keep(found)

    def filled(self, x: Floats, y: Floats, way: Ints) -> State:
        """The state with everything laid that still finds a place, biggest first."""
        missing = np.flatnonzero(way < 0)
        if len(missing):
            _, work = scan.lay_in_order(self.table, missing[np.argsort(-self.table.area[missing])], -FAR, FAR, 10.0, x, y, way, self.stop)
            self.work_left -= work
        return self.measured(x, y, way)


class Nest:
    """The engine: two searchers in threads of their own, since the compiled search leaves Python free."""

    name = "nest"

    def takes(self, request: LayRequest) -> bool:
        """Take every request with something to place."""
        return bool(request.pieces)

    def search(self, request: LayRequest, *, seconds: float, seed: int, stopped: Stopped) -> Iterator[Found | None]:
        """Yield every better lay as it is found, at the end the few best for their strips; see `Engine`."""
        begun = time.monotonic()
        ways = Ways(request)
        if not ways.items:
            yield request.pinned
            return
        stop = np.zeros(1, dtype=np.int64)
        meeting = Meeting(SEARCHERS)
        kind = PanelSearcher if request.on_panels else RollSearcher
        searchers = [
            kind(ways, seed=seed * SEARCHERS + k, work=WORK_A_SECOND * seconds, until=begun + seconds, stop=stop, meeting=meeting)
            for k in range(SEARCHERS)
        ]
        threads = [threading.Thread(target=s.run, daemon=True) for s in searchers]
        for thread in threads:
            thread.start()
        try:
            yield from self._told(ways, searchers, lambda: stopped() or time.monotonic() > begun + seconds + LOOK_UP)
        finally:
            stop[0] = 1
            for thread in threads:
                thread.join()
        for state in sorted((s for one in searchers for s in one.kept), key=lambda s: s.length)[:KEPT]:
            yield laid(ways, state.x, state.y, state.way)

    def _told(self, ways: Ways, searchers: Sequence[Searcher], stopped: Stopped) -> Iterator[Found | None]:
        """What the searchers tell, as long as it is better than all before, until all are through or it is stopped."""
        least = np.inf
        running = list(searchers)
        while running and not stopped():
            for searcher in list(running):
                try:
                    state = searcher.told.get(timeout=LOOK_UP / SEARCHERS)
                except Empty:
                    yield None
                    continue
                if state is None:
                    running.remove(searcher)
                elif state.length < least:
                    least = state.length
                    yield laid(ways, state.x, state.y, state.way)
