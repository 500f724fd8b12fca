"""Pressing a lay together: all pieces move at once, each keeping to the side of the others on which it lies.

Two convex figures are apart when one side of their no-fit polygon has all of the way between them before it. So
for every pair of convex parts that are near, the side that is farthest ahead becomes a straight condition, and the
shortest roll under all conditions is a linear programme. Source: Li and Milenkovic 1995, "Compaction and separation
algorithms". It moves to the nearest valley only: the search decides who lies beside whom.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from ortools.linear_solver.python.model_builder_helper import ModelBuilderHelper, ModelSolverHelper, SolveStatus
from scipy.sparse import csr_matrix

from zonatome.core.arrays import Floats, Ints
from zonatome.core.lay.cancel import IsCancelled, never_cancelled
from zonatome.core.lay.geometry.every_pair import Parts, parts_of
from zonatome.core.lay.geometry.nesting_table import NestingTable
from zonatome.core.lay.kernel.conditions import conditions_into
from zonatome.core.lay.kernel.tables import ScanTable
from zonatome.core.lay.request import Placement

LEFTWARD = 1e-4  # how much a piece that does not decide the length is drawn to the squared end
LONGEST_ROUND = 1.5  # seconds; far more than a hundred pieces take
ENOUGH = 0.05  # mm: a round that gains less is the last
REACH = 100.0  # mm a round: pairs farther apart than twice this, and the gap, can't meet in it


class Compactor:
    """The linear programmes of one request on a roll."""

    def __init__(self, ways: NestingTable, *, give: float = 0.0) -> None:
        """Take a request's ways. `give` is by how many mm every condition may be missed: less than the check's own
        tolerance.
        """
        self.ways, self.give = ways, give
        self.obstacles = len(ways.obstacles)
        self.parts: Parts = parts_of([*(w.parts for w in ways.ways), *ways.obstacles])
        self.touching = np.concatenate([ways.touching, np.zeros(self.obstacles, dtype=np.bool_)])

    def compacted(
        self, x: Floats, y: Floats, way: Ints, rounds: int = 6, *, stopped: IsCancelled = never_cancelled
    ) -> tuple[Floats, Floats, float] | None:
        """Return places and their length, from which no round gains any more; None where the programme finds nothing.

        Pieces that lie over each other a little are brought apart, by a longer roll where that takes one. `stopped` is
        asked before every round; after it says so there is none.
        """
        length = np.inf
        for _ in range(rounds):
            found = None if stopped() else self._round(x, y, way)
            if found is None:
                break
            now = self._length(found[0], way)
            if now >= length:
                break
            x, y = found
            gained, length = length - now, now
            if gained < ENOUGH:
                break
        return None if np.isinf(length) else (x, y, length)

    def of_placements(self, placements: Sequence[Placement]) -> tuple[Placement, ...] | None:
        """Return placements pressed together; None where one lies in a turn that the ways do not have, or nothing is
        gained.
        """
        where = self.ways.where(placements)
        if where is None:
            return None
        x, y, way_of = where
        compacted = self.compacted(x, y, way_of)
        if compacted is None or compacted[2] >= self._length(x, way_of):
            return None
        return tuple(
            self.ways.placement(i, float(compacted[0][i]), float(compacted[1][i]), int(w)) for i, w in enumerate(way_of)
        )

    def _length(self, x: Floats, way: Ints) -> float:
        return float((x + self.ways.table.width[way]).max())

    def _round(self, x: Floats, y: Floats, way: Ints) -> tuple[Floats, Floats] | None:
        """One programme: places moved by at most REACH each way, all conditions kept, the roll as short as it goes."""
        n, table, roll = len(x), self.ways.table, self.ways.request.roll
        pairs, normals, room = _conditions(
            self.parts, self.touching, table, x, y, way, self.obstacles, self.ways.request.gap, 3 * REACH
        )
        m = len(room)
        row = np.arange(m)
        free = pairs[:, 0] >= 0
        ends = np.arange(n)
        lines = [row, row, row[free], row[free], m + ends, m + ends]
        columns = [pairs[:, 1], n + pairs[:, 1], pairs[free, 0], n + pairs[free, 0], ends, np.full(n, 2 * n)]
        values = [-normals[:, 0], -normals[:, 1], normals[free, 0], normals[free, 1], np.ones(n), -np.ones(n)]
        matrix = csr_matrix(
            (np.concatenate(values), (np.concatenate(lines), np.concatenate(columns))), shape=(m + n, 2 * n + 1)
        )
        most = np.concatenate([room + self.give, -(x + table.width[way])])
        low, high = roll.low - self.give - y, roll.high + self.give - table.height[way] - y
        tied = table.bound[way, 1] | (low > high)
        bounds = np.zeros((2 * n + 1, 2))
        bounds[:n, 0] = np.where(table.bound[way, 0], 0.0, -np.minimum(REACH, np.maximum(x + self.give, 0.0)))
        bounds[:n, 1] = np.where(table.bound[way, 0], 0.0, REACH)
        bounds[n : 2 * n, 0] = np.where(tied, 0.0, np.maximum(-REACH, np.minimum(low, 0.0)))
        bounds[n : 2 * n, 1] = np.where(tied, 0.0, np.minimum(REACH, np.maximum(high, 0.0)))
        bounds[2 * n, 1] = np.inf
        cost = np.full(2 * n + 1, 0.0)
        cost[:n] = LEFTWARD / n
        cost[2 * n] = 1.0
        model: Any = ModelBuilderHelper()
        model.fill_model_from_sparse_data(
            bounds[:, 0].copy(), bounds[:, 1].copy(), cost, np.full(m + n, -np.inf), most, matrix
        )
        solver = ModelSolverHelper("GLOP")
        solver.set_time_limit_in_seconds(LONGEST_ROUND)
        solver.solve(model)
        if not solver.has_solution() or solver.status() != SolveStatus.OPTIMAL:
            return None
        moved = solver.variable_values()
        return x + moved[:n], y + moved[n : 2 * n]


def _conditions(  # noqa: PLR0913 it hands them on to compiled code
    parts: Parts,
    touching: Any,
    table: ScanTable,
    x: Floats,
    y: Floats,
    way: Ints,
    obstacles: int,
    gap: float,
    reach: float,
) -> tuple[Ints, Floats, Floats]:
    """For every two convex parts that are near: which items (-1: it stands still), the side's normal, and the room
    before it.
    """
    figure = np.empty((2 * int(np.diff(parts.corner).max()), 2))
    size = 8 * len(x) + 64
    while True:
        pairs, normals, room = np.empty((size, 2), dtype=np.int64), np.empty((size, 2)), np.empty(size)
        count = conditions_into(
            parts, touching, table, x, y, way, obstacles, float(gap), reach, figure, pairs, normals, room
        )
        if count <= size:
            return pairs[:count], normals[:count], room[:count]
        size = count
