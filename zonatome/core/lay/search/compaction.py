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
from numba import njit
from ortools.linear_solver.python.model_builder_helper import ModelBuilderHelper, ModelSolverHelper, SolveStatus
from scipy.sparse import csr_matrix

from zonatome.core.lay.engines.protocol import Stopped, never
from zonatome.core.lay.geometry.every_pair import Ints, Parts, parts_of
from zonatome.core.lay.geometry.nesting_table import Ways
from zonatome.core.lay.geometry.no_fit import HAIR, Floats, sum_into
from zonatome.core.lay.kernel.compiled import COMPILED
from zonatome.core.lay.kernel.scan import Table
from zonatome.core.lay.request import Placement

LEFTWARD = 1e-4  # how much a piece that does not decide the length is drawn to the squared end
CLEAR = 1e-6  # mm by which the press keeps off the very edge of the table's figures
LONGEST_ROUND = 1.5  # seconds; far more than a hundred pieces take
ENOUGH = 0.05  # mm: a round that gains less is the last
REACH = 100.0  # mm a round: pairs farther apart than twice this, and the gap, can't meet in it


class Press:
    """The linear programmes of one request on a roll."""

    def __init__(self, ways: Ways, *, give: float = 0.0) -> None:
        """Take a request's ways. `give` is by how many mm every condition may be missed: less than the check's own tolerance."""
        self.ways, self.give = ways, give
        still: list[Sequence[Floats]] = [[part + np.array(shift) for part in parts] for parts, shift in ways.obstacles]
        self.obstacles = len(still)
        self.parts: Parts = parts_of([*(w.parts for w in ways.ways), *still])
        self.touching = np.concatenate([ways.touching, np.zeros(self.obstacles, dtype=np.bool_)])

    def pressed(self, x: Floats, y: Floats, way: Ints, rounds: int = 6, *, stopped: Stopped = never) -> tuple[Floats, Floats, float] | None:
        """Return places and their length, from which no round gains any more; None where the programme finds nothing.

        Pieces that lie over each other a little are brought apart, by a longer roll where that takes one. `stopped` is asked before every
        round; after it says so there is none.
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
        """Return placements pressed together; None where one lies in a turn that the ways do not have, or nothing is gained."""
        where = self.ways.where(placements)
        if where is None:
            return None
        x, y, way_of = where
        pressed = self.pressed(x, y, way_of)
        if pressed is None or pressed[2] >= self._length(x, way_of):
            return None
        return tuple(self.ways.placement(i, float(pressed[0][i]), float(pressed[1][i]), int(w)) for i, w in enumerate(way_of))

    def _length(self, x: Floats, way: Ints) -> float:
        return float((x + self.ways.table.width[way]).max())

    def _round(self, x: Floats, y: Floats, way: Ints) -> tuple[Floats, Floats] | None:
        """One programme: places moved by at most REACH each way, all conditions kept, the roll as short as it goes."""
        n, table, roll = len(x), self.ways.table, self.ways.request.roll
        pairs, normals, room = _conditions(self.parts, self.touching, table, x, y, way, self.obstacles, self.ways.request.gap, 3 * REACH)
        m = len(room)
        row = np.arange(m)
        free = pairs[:, 0] >= 0
        ends = np.arange(n)
        lines = [row, row, row[free], row[free], m + ends, m + ends]
        columns = [pairs[:, 1], n + pairs[:, 1], pairs[free, 0], n + pairs[free, 0], ends, np.full(n, 2 * n)]
        values = [-normals[:, 0], -normals[:, 1], normals[free, 0], normals[free, 1], np.ones(n), -np.ones(n)]
        matrix = csr_matrix((np.concatenate(values), (np.concatenate(lines), np.concatenate(columns))), shape=(m + n, 2 * n + 1))
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
        model.fill_model_from_sparse_data(bounds[:, 0].copy(), bounds[:, 1].copy(), cost, np.full(m + n, -np.inf), most, matrix)
        solver = ModelSolverHelper("GLOP")
        solver.set_time_limit_in_seconds(LONGEST_ROUND)
        solver.solve(model)
        if not solver.has_solution() or solver.status() != SolveStatus.OPTIMAL:
            return None
        moved = solver.variable_values()
        return x + moved[:n], y + moved[n : 2 * n]


def _conditions(
    parts: Parts, touching: Any, table: Table, x: Floats, y: Floats, way: Ints, obstacles: int, gap: float, reach: float
) -> tuple[Ints, Floats, Floats]:
    """For every two convex parts that are near: which items (-1: it stands still), the side's normal, and the room before it."""
    figure = np.empty((2 * int(np.diff(parts.corner).max()), 2))
    size = 8 * len(x) + 64
    while True:
        pairs, normals, room = np.empty((size, 2), dtype=np.int64), np.empty((size, 2)), np.empty(size)
        count = _written(parts, touching, table, x, y, way, obstacles, gap, reach, figure, pairs, normals, room)
        if count <= size:
            return pairs[:count], normals[:count], room[:count]
        size = count


@njit(**COMPILED)
def _written(
    parts: Any,
    touching: Any,
    table: Any,
    x: Any,
    y: Any,
    way: Any,
    obstacles: int,
    gap: float,
    reach: float,
    figure: Any,
    pairs: Any,
    normals: Any,
    room: Any,
) -> int:
    """Fill in the conditions as far as there is room for them, and return how many there are."""
    n = x.shape[0]
    ways = table.width.shape[0]
    count = 0
    for j in range(n):
        for i in range(-obstacles, j):
            at_x, at_y = x[j], y[j]
            if i >= 0:
                at_x -= x[i]
                at_y -= y[i]
                far = reach + gap
                if at_x > table.width[way[i]] + far or -at_x > table.width[way[j]] + far:
                    continue
                if at_y > table.height[way[i]] + far or -at_y > table.height[way[j]] + far:
                    continue
            one = way[i] if i >= 0 else ways - 1 - i
            # of several parts none may be made smaller: between two of them a slit would open, inside the outline
            alone = parts.first[one + 1] - parts.first[one] == 1 and parts.first[way[j] + 1] - parts.first[way[j]] == 1
            apart = gap - HAIR + CLEAR if gap > HAIR or alone else CLEAR
            if touching[one] and touching[way[j]]:
                apart = CLEAR
            for a in range(parts.first[one], parts.first[one + 1]):
                for b in range(parts.first[way[j]], parts.first[way[j] + 1]):
                    theirs = parts.corners[parts.corner[b] : parts.corner[b + 1]]
                    corners = sum_into(parts.corners[parts.corner[a] : parts.corner[a + 1]], theirs, -1.0, figure)
                    best = -1e30
                    best_x = best_y = 0.0
                    for k in range(corners):
                        after = (k + 1) % corners
                        step_x, step_y = figure[after, 0] - figure[k, 0], figure[after, 1] - figure[k, 1]
                        length = np.sqrt(step_x * step_x + step_y * step_y)
                        if length < 1e-7:
                            continue
                        ahead = ((at_x - figure[k, 0]) * step_y - (at_y - figure[k, 1]) * step_x) / length
                        if ahead > best:
                            best, best_x, best_y = ahead, step_y / length, -step_x / length
                    best -= apart
                    if best < reach:
                        if count < room.shape[0]:
                            pairs[count, 0], pairs[count, 1] = i if i >= 0 else -1, j
                            normals[count, 0], normals[count, 1] = best_x, best_y
                            room[count] = best
                        count += 1
    return count
