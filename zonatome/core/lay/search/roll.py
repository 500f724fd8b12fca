"""The search for the shortest roll.

Pieces laid one after another in a chance order and pressed together are a start. Then the roll is made a little
shorter, by squeezing a stretch of it or by changing two pieces, and the overlaps are driven out (`kernel/scan.py`);
what remains of them the press (`search/compaction.py`) often settles. A searcher that stands still begins anew, and
comes back to its best at the end. Where pieces come several times, a lay of one set is searched for first, and laid
again and again (`search/repeated_sets.py`).
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from zonatome.core.arrays import Floats, Ints
from zonatome.core.lay.construct.bound_rows import biggest_first, in_order
from zonatome.core.lay.geometry.nesting_table import NestingTable
from zonatome.core.lay.kernel.periods import on_repeat, period
from zonatome.core.lay.search.compaction import Compactor
from zonatome.core.lay.search.repeated_sets import RepeatedSet, repeated_sets_of
from zonatome.core.lay.search.searcher import PATIENCE, SHORTER, STARTING, TRY_WORK, BestExchange, Searcher, State

PRESS_WORK = 20_000.0  # what the press counts, and for each item
PRESS_ITEM_WORK = 9_000.0
MEETINGS = (0.4, 0.7)  # of the work, at which the searchers go on from the best of all
MEETINGS_LATE = (0.72, 0.86)  # behind sets
GOING_ON = 0.5  # of the work, at which they meet where they go on from one lay
LOOKING = 0.15  # of the work, for looks at sets
DEEPER = 0.35  # for the best set
JOINING = 0.13  # for each joining of two
ENDING = 0.08  # for what is left over
MANY = 48  # from so many pieces on both searchers begin with sets
SETS_TRIED = 3  # different sets that are looked at
LOOSER = (0.0, 0.005, 0.01, 0.02, 0.04)  # so much longer, until what was laid again and again finds room among flaws
# what each sort of trial shortens by at first, of its span or of the roll
STEPS = {"change": 0.012, "stretch": 0.012, "whole": 0.01}
MOST_STEP = 0.02  # shortened by no more
LEAST_STEP = 0.0015  # and by no less
SMALLER = 0.8  # by how much a step shrinks that gained nothing
LARGER = 1.5  # by how much one grows that gained
FORGET = 0.8  # how much of what a sort of trial has gained is still counted after the next
NEVER_LESS = 0.12  # of the trials: every sort keeps so many
SPAN = 4.0  # widest pieces
FROM_POOL = 0.5  # of the changes begin with a roll that was too short for the search
RESIDUE = 200.0  # mm of overlap, all told, up to which the press is asked


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
class Once(State):
    """A set's lay; `length` is what all sets come to with it, `once` what it takes itself."""

    kit: RepeatedSet
    once: float


class RollSearcher(Searcher):
    """Searches for the shortest roll."""

    def __init__(
        self,
        ways: NestingTable,
        *,
        seed: int,
        work: float,
        until: float,
        stop: Ints,
        exchange: BestExchange | None = None,
        least: float = 0.0,
    ) -> None:
        """Take what a `Searcher` takes, and `least`, the mm below which no lay can end: there it rests."""
        super().__init__(ways, seed=seed, work=work, until=until, stop=stop, exchange=exchange)
        self.press = Compactor(ways)
        self.least = least
        self.pinned = max((p.on_cloth(ways.request.by_id[p.piece]).bounds[2] for p in ways.request.pinned), default=0.0)
        self.big = np.argsort(-self.table.area, kind="stable")[: max(2, int(self.n * 0.75))]
        self.seed = seed

    def run(self, *, whole: bool = True) -> None:
        """Search until the work is done; what is found goes to `told`, None at the end.

        Sets are looked into if `whole`.
        """
        try:
            sets = repeated_sets_of([number for number, _ in self.ways.items], self.table.area) if whole else []
            with_sets = bool(sets) and not (self.in_two_ways and self.seed % 2)
            if with_sets:
                self.start()
                self.search_by_sets(sets)
            first = True
            for share in (*(MEETINGS_LATE if sets else MEETINGS), 1.0):
                leave = (1.0 - share) * self.work
                begun_anew, first = first and not with_sets, False
                state = None if begun_anew else self.best
                while not self.is_over and self.work_left > leave:
                    state = state or self.start()
                    if state is not None:
                        self.improve(state, leave, restless=begun_anew)
                    state = None
                if share < 1.0 and (best := self.exchange.best_of_all(self.best, lambda: self.is_stopped)):
                    self.keep(best)
        finally:
            self.exchange.leave()
            self.told.put(None)

    def go_on(self, first: State) -> None:
        """Search on from a lay until the work is done, with one meeting on the way; told as by `run`."""
        try:
            self.keep(first)
            for share in (GOING_ON, 1.0):
                if self.best is not None:
                    self.improve(self.best, (1.0 - share) * self.work, restless=False)
                if share < 1.0 and (best := self.exchange.best_of_all(self.best, lambda: self.is_stopped)):
                    self.keep(best)
        finally:
            self.exchange.leave()
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
            if best is None or laid.cost < best.cost:
                best = laid
        if best is not None:
            self.keep(best)
        return best

    def search_by_sets(self, sets: list[RepeatedSet]) -> None:
        """Look into a few sets, go on with the best, join its copies to larger sets, and take in the rest at last."""
        sets = sets[:SETS_TRIED]
        best: Once | None = None
        for number, kit in enumerate(sets):
            best = self._better(best, self._once(kit, LOOKING * self.work / len(sets), seed=number))
        best = self._met(best)
        if best:
            best = self._met(self._better(best, self._once(best.kit, DEEPER * self.work, seed=50)))
        while best and not self.is_stopped and (larger := best.kit.joined()):
            begin = self._side_by_side(best, best.kit.times // larger.times)
            found = self._better(best, self._once(larger, JOINING * self.work, seed=60, first=begin))
            if found is best:
                break
            best = found
        if best and len(best.kit.rest) and not self.is_stopped:
            self._with_rest(best)

    @property
    def in_two_ways(self) -> bool:
        """Whether one of two searchers does without sets: where they meet flaws or skip to the next motif, and for
        fewer pieces.
        """
        return bool(self.ways.obstacles) or bool(self.table.bound[:, 0].any()) or self.n < MANY

    def _met(self, mine: Once | None) -> Once | None:
        """The best of all searchers' sets, where all of them look into sets."""
        if self.in_two_ways:
            return mine
        found = self.exchange.best_of_all(mine, lambda: self.is_stopped)
        return found if isinstance(found, Once) else mine

    def _better(self, one: Once | None, other: Once | None) -> Once | None:
        return min((o for o in (one, other) if o is not None), key=lambda o: o.cost, default=None)

    def _once(self, kit: RepeatedSet, work: float, *, seed: int, first: State | None = None) -> Once | None:
        """The best lay of a set in so much work, and what all come to with it; from a first one, where there is one."""
        found = self._searched(kit.copies[0], work, seed=seed, first=first)
        if found is None or self.is_stopped:
            return None
        once = Once(found.x, found.y, found.way, 0.0, kit, found.cost)
        again = self._side_by_side(once, kit.times)
        x, y, way = np.zeros(self.n), np.zeros(self.n), np.full(self.n, -1, dtype=np.int64)
        every = kit.copies.ravel()
        x[every], y[every], way[every] = again.x, again.y, again.way
        self.work_left -= biggest_first(self.table, kit.rest, x, y, way, self.stop)
        if self.stop[0]:
            return None
        all_laid = self.fitted_in(self.measured(x, y, way))
        if all_laid is None:
            return None
        self.keep(all_laid)
        return replace(once, cost=all_laid.cost)

    def _searched(self, items: Ints, work: float, *, seed: int, first: State | None = None) -> State | None:
        """The best lay of some of the items, on cloth without flaws."""
        self.work_left -= work
        some = RollSearcher(
            self.ways.of_some(items.tolist()), seed=self.seed * 100 + seed, work=work, until=self.until, stop=self.stop
        )
        if first is None:
            some.run(whole=False)
        else:
            some.keep(first)
            some.improve(first, 0.0, restless=False)
        return some.best

    def _side_by_side(self, once: Once, times: int) -> State:
        """A set's lay, so many times, each as near the last as it goes."""
        step = float(period(self.table, once.x, once.y, once.way))
        x = np.concatenate([once.x + k * step for k in range(times)])
        return State(x, np.tile(once.y, times), np.tile(once.way, times), once.once + (times - 1) * step)

    def _with_rest(self, once: Once) -> None:
        """Try a set's lay again and again, the last time one that takes in what is left over,
        searched for by itself.
        """
        kit, m = once.kit, len(once.x)
        n = m + len(kit.rest)
        x, y, way = np.zeros(n), np.zeros(n), np.full(n, -1, dtype=np.int64)
        x[:m], y[:m], way[:m] = once.x, once.y, once.way
        last = np.concatenate([kit.copies[-1], kit.rest])
        biggest_first(self.ways.of_some(last.tolist()).table, np.arange(m, n), x, y, way, self.stop)
        found = (
            None if self.stop[0] else self._searched(last, ENDING * self.work, seed=70, first=self.measured(x, y, way))
        )
        if found is None:
            return
        before = self._side_by_side(once, kit.times - 1)
        items = np.concatenate([kit.copies[:-1].ravel(), last])
        x, y, way = np.zeros(self.n), np.zeros(self.n), np.full(self.n, -1, dtype=np.int64)
        x[items] = np.concatenate(
            [before.x, found.x + on_repeat(self.table, found.way, before.cost + self.ways.request.gap)]
        )
        y[items], way[items] = np.concatenate([before.y, found.y]), np.concatenate([before.way, found.way])
        if fitted := self.fitted_in(self.measured(x, y, way)):
            self.keep(fitted)

    def fitted_in(self, whole: State) -> State | None:
        """A lay put together of others, with everything where the cloth allows it, a little longer where flaws take
        that; or None.
        """
        for looser in LOOSER:
            x, y, way = whole.copy()
            limit = whole.cost * (1 + looser)
            if not self.brought_inside(limit, x, y, way):
                continue
            least, x, y, way = self.driven(limit, x, y, way)
            settled = self.settled(x, y, way) if least < RESIDUE else None
            if settled or least <= 0:
                return settled or self.measured(x, y, way)
        return None

    def measured(self, x: Floats, y: Floats, way: Ints) -> State:
        """The state with its length."""
        return State(x, y, way, max(self.pinned, float((x + self.table.width[way]).max(initial=0.0))))

    def settled(self, x: Floats, y: Floats, way: Ints) -> State | None:
        """The lay that the press makes of this; None where things then still lie over each other."""
        compacted = self.press.compacted(x, y, way, stopped=lambda: bool(self.stop[0]))
        self.work_left -= PRESS_WORK + PRESS_ITEM_WORK * self.n
        if compacted is None or self.overlap(compacted[0], compacted[1], way) > 0:
            return None
        return self.measured(compacted[0], compacted[1], way)

    def improve(self, state: State, leave: float, *, restless: bool) -> None:
        """Make a lay shorter until so much work is left, or, if restless, until it stands still for long."""
        pool: list[tuple[float, Floats, Floats, Ints]] = []
        trials = {name: Trial(step) for name, step in STEPS.items()}
        moved = self.work_left
        while (
            not self.is_over
            and self.work_left > leave
            and not (restless and moved - self.work_left > PATIENCE * self.work)
        ):
            name = self.chosen(trials)
            trial, begun = trials[name], self.work_left
            x, y, way, limit = self.tried(name, state, trial.step, pool)
            if limit < self.pinned or state.cost - self.least < SHORTER:
                self.work_left = min(self.work_left, leave)
                return
            if not self.brought_inside(limit, x, y, way):
                trial.learn(0.0, begun - self.work_left)  # the repeat has no place for one of them on so short a roll
                continue
            least, x, y, way = self.driven(limit, x, y, way)
            self.work_left -= TRY_WORK
            found = self.measured(x, y, way) if least <= 0 else None
            if least < RESIDUE:
                settled = self.settled(x, y, way)
                found = settled if settled and (found is None or settled.cost < found.cost) else found
            gained = 0.0 if found is None else state.cost - found.cost
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
        """A way to begin on a shorter roll, and its length: two pieces changed, or a stretch, or the whole roll,
        squeezed.
        """
        x, y, way = state.copy()
        span = min(state.cost, SPAN * float(self.table.width.max()))
        shorter = max(0.2, step * (state.cost if name == "whole" else span))
        limit = state.cost - shorter
        if name == "change" and self.n > 1:
            if pool and self.chance.random() < FROM_POOL:
                _, x, y, way = pool[min(len(pool) - 1, int(abs(self.chance.normal(0, 0.25)) * len(pool)))]
                x, y, way = x.copy(), y.copy(), way.copy()
            one = int(self.chance.choice(self.big))
            others = self.big[
                (np.abs(x[self.big] - x[one]) < span)
                & (np.abs(self.table.area[self.big] - self.table.area[one]) > 1e-6)
            ]
            if len(others):
                other = int(self.chance.choice(others))
                x[one], x[other], y[one], y[other] = x[other], x[one], y[other], y[one]
            return x, y, way, limit
        stretch, begin = state.cost, 0.0
        if name != "whole":
            stretch = span * float(np.exp(self.chance.uniform(np.log(0.02), 0.0)))
            begin = float(self.chance.uniform(-0.3 * stretch, state.cost - 0.7 * stretch))
        middle = x + self.table.width[way] / 2
        return np.maximum(0.0, x - shorter * np.clip((middle - begin) / stretch, 0.0, 1.0)), y, way, limit
