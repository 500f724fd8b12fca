"""The search for a lay on panels: of all pieces, or of as much as goes on them; then pieces with priority move to the
best of it.

Of two lays that cover as much, the better one has its priority pieces nearer to the heart of the hide
(`hide_depth.py`).
"""

from __future__ import annotations

import numpy as np

from zonatome.core.arrays import Floats, Ints
from zonatome.core.lay.construct.bound_rows import biggest_first
from zonatome.core.lay.geometry.nesting_table import NestingTable
from zonatome.core.lay.hide_depth import HideDepth
from zonatome.core.lay.kernel.in_order import lay_in_order
from zonatome.core.lay.search.searcher import FAR, PATIENCE, STARTING, TRY_WORK, BestExchange, Searcher, State

CHANGING = 0.3  # of the trials change two pieces
SWAPPING = 0.5  # of the trials take a smaller piece out, or change one with priority against another
ALL_LAID = 1.0  # mm2: what leaves out less leaves out nothing
DEEPENING = 0.4  # of the work at the most, to bring pieces with priority to the middle
STANDING = 0.15  # of the work at the most without success at it


class PanelSearcher(Searcher):
    """Searches for a lay of all pieces on the panels there are, or of as much as goes on them."""

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
        """Take what a `Searcher` takes. What a lay costs is the area of what finds no room on the panels."""
        super().__init__(ways, seed=seed, work=work, until=until, stop=stop, exchange=exchange)
        self.limit = ways.panels_end
        self.first_choice = np.flatnonzero(ways.priority)
        self.hide_depth = HideDepth(ways.panels)
        self.middle = np.array([w.outline.polygon.centroid.coords[0] for w in ways.ways]).reshape(-1, 2)

    def run(self) -> None:
        """Search until all is laid or the work is done; what is found goes to `told`, None at the end."""
        try:
            while not self.is_over and (self.best is None or self.best.cost >= ALL_LAID):
                state = self.start()
                if state is not None:
                    self.improve(state)
            if self.best is not None and len(self.first_choice) and not self.is_over:
                self.deepen(self.best)
        finally:
            self.exchange.leave()
            self.told.put(None)

    def measured(self, x: Floats, y: Floats, way: Ints) -> State:
        """The state with the area that it leaves out, and less than a square millimetre for what lies shallow."""
        return State(x, y, way, float(self.table.area[way < 0].sum()) + ALL_LAID * 0.9 * self.edge_nearness(x, y, way))

    def edge_nearness(self, x: Floats, y: Floats, way: Ints) -> float:
        """How far from the heart of the hide the pieces with priority lie, from 0 to 1; see `hide_depth.py`."""
        chosen = self.first_choice[way[self.first_choice] >= 0]
        spots = np.stack([x[chosen], y[chosen]], axis=1) + self.middle[way[chosen]]
        return self.hide_depth.edge_nearness(spots, self.table.area[chosen])

    def deepen(self, state: State) -> None:
        """Change pieces with priority against others, or move them, as long as everything keeps its room and they come
        to lie deeper.
        """
        until, moved = self.work_left - DEEPENING * self.work, self.work_left
        while not self.is_over and self.work_left > until and moved - self.work_left < STANDING * self.work:
            x, y, way = state.copy()
            one = int(self.chance.choice(self.first_choice))
            others = np.setdiff1d(np.flatnonzero(way >= 0), self.first_choice)
            if way[one] < 0:
                self.work_left -= TRY_WORK
                continue
            if len(others) and self.chance.random() < SWAPPING:
                other = int(self.chance.choice(others))
                x[one], x[other], y[one], y[other] = x[other], x[one], y[other], y[one]
            else:
                x[one] += self.chance.normal(0, self.hide_depth.deepest / 3)
                y[one] += self.chance.normal(0, self.hide_depth.deepest / 3)
            self.brought_inside(self.limit, x, y, way)
            least, x, y, way = self.driven(self.limit, x, y, way)
            self.work_left -= TRY_WORK
            found = self.measured(x, y, way)
            if least <= 0 and found.cost < state.cost - 1e-3:
                state, moved = found, self.work_left
                self.keep(found)

    def start(self) -> State | None:
        """The best of several lays in chance orders; the first of all by size, the pieces with priority before all
        others.
        """
        best: State | None = None
        until = self.work_left - STARTING * self.work
        while not self.is_over and (best is None or (self.work_left > until and best.cost >= ALL_LAID)):
            order = np.argsort(-self.table.area, kind="stable") if self.best is None and best is None else self.order()
            x, y, way = np.zeros(self.n), np.zeros(self.n), np.full(self.n, -1, dtype=np.int64)
            step = float(self.chance.choice((5.0, 10.0, 20.0)))
            order = order[np.argsort(~self.ways.priority[order], kind="stable")]
            _, work = lay_in_order(self.table, order, -FAR, FAR, step, x, y, way, self.stop)
            self.work_left -= work + TRY_WORK
            laid = self.measured(x, y, way)
            if best is None or laid.cost < best.cost:
                best = laid
        if best is not None:
            self.keep(best)
        return best

    def improve(self, state: State) -> None:
        """Bring in what is left out, in the place of smaller pieces too, until that stands still for long."""
        moved = self.work_left
        while not self.is_over and state.cost >= ALL_LAID and moved - self.work_left < 2 * PATIENCE * self.work:
            x, y, way = state.copy()
            missing, laid = np.flatnonzero(way < 0), np.flatnonzero(way >= 0)
            one = int(self.chance.choice(missing, p=self.table.area[missing] / self.table.area[missing].sum()))
            smaller = laid[self.table.area[laid] < self.table.area[one] - 1.0]
            if len(smaller) and self.chance.random() < SWAPPING:
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
            if found.cost < state.cost:
                state, moved = found, self.work_left
                self.keep(found)

    def filled(self, x: Floats, y: Floats, way: Ints) -> State:
        """The state with everything laid that still finds a place, biggest first."""
        missing = np.flatnonzero(way < 0)
        if len(missing):
            self.work_left -= biggest_first(self.table, missing, x, y, way, self.stop)
        return self.measured(x, y, way)
