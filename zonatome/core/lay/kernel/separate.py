"""The search by guided weights: pieces may lie over each other, and that is driven out.

Each pass moves every piece that overlaps to the cheapest place that it finds; after it the pairs that overlap still
weigh more, and the others fade. Source: guided local search as in Umetani et al. 2009, with the order and weights of
Gardeyn and Wauters 2024, here on rows instead of samples. On its own it fails where a height has to be met within a
hair that no contact gives.
"""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
from numba import njit

from zonatome.core.arrays import Floats, Ints, Seeds
from zonatome.core.lay.kernel.compiled import COMPILED
from zonatome.core.lay.kernel.figures import overlap_of, overlaps, stands
from zonatome.core.lay.kernel.places import best_spot, chance
from zonatome.core.lay.kernel.tables import FAR, FREE, Lying, ScanTable, workspace_for

LOCAL = 0.5  # of the moves look about where the piece lies, the others about a place taken by chance
MANY = 160  # from so many pieces on only those near by are looked over
NEAR_BY = 3.0  # widest pieces to either side
HEAVIER = 1.2  # by how much a pair's weight grows while it overlaps a little
HEAVIEST = 2.0  # and while it overlaps the most of all
LIGHTER = 0.95  # by how much it fades while it does not
PROGRESS = 0.98  # of the least sum of overlaps: only less than that counts as getting on
HEIGHTS = 24  # by chance, that are tried for what has to come inside a limit
TOUCHES = 64  # by touch, that are tried for it
BEYOND = 1e-9  # mm


class Pressure(NamedTuple):
    """How pairs of n items weigh, and how deep each lies in the other."""

    weight: Floats  # (n, n)
    size: Floats  # n: no pair weighs less than its two sizes multiplied
    depth: Floats  # (n, n), in mm


class Tries(NamedTuple):
    """How much is tried."""

    by_chance: int  # heights a move
    contacts: int  # others that a move may touch
    near: float  # mm to either side that a move looks over; 0 for all
    work_most: float
    passes_most: int  # without progress


def into_limit(
    table: ScanTable, limit: float, lying: Lying, weight: Floats, state: Seeds, stop: Ints
) -> tuple[bool, float]:
    """Bring what lies beyond a limit, off its ground or off the repeat to its cheapest place.

    Return whether all found one, and the work done. Of very many pieces it looks only about where each lay: looking
    everywhere would cost the square of their number.
    """
    all_in, work = _into_limit(table, limit, lying, weight, state, workspace_for(len(lying.x)), stop)
    return bool(all_in), float(work)


@njit(**COMPILED)
def _into_limit(
    table: Any, limit: float, lying: Any, weight: Any, state: Any, space: Any, stop: Any
) -> tuple[bool, float]:
    """As `into_limit`, in arrays that it is given."""
    at_x, at_y, ways = lying.x, lying.y, lying.way
    n = at_x.shape[0]
    work_done = 0.0
    for i in range(n):
        beyond = at_x[i] + table.width[ways[i]] > limit + BEYOND
        if ways[i] >= 0 and (beyond or not stands(table, ways[i], at_x[i], at_y[i])):
            if stop[0] != 0:
                return False, work_done
            begin = -FAR
            end = limit
            if n > MANY:
                begin = min(at_x[i], limit) - NEAR_BY * table.widest[0]
                end = min(limit, begin + 2 * NEAR_BY * table.widest[0])
            _, x, y, way, used = best_spot(
                table, i, begin, end, at_x, at_y, ways, weight[i], state, HEIGHTS, TOUCHES, space, FAR
            )
            work_done += used
            if way < 0:
                return False, work_done
            at_x[i], at_y[i], ways[i] = x, y, way
    return True, work_done


def separate(
    table: ScanTable,
    limit: float,
    lying: Lying,
    best: Lying,
    pressure: Pressure,
    tries: Tries,
    state: Seeds,
    stop: Ints,
) -> tuple[float, float, float]:
    """Drive overlaps out within a limit: return the least sum of overlaps met, the work done, and the sum at the end.

    `best` is filled with how all lay at the least sum. Ends when nothing overlaps, after `passes_most` passes without
    progress, when `work_most` is done, or when `stop[0]` is set.
    """
    space = workspace_for(len(lying.x))
    least, work_done, total = _separated(table, limit, lying, best, pressure, tries, state, space, stop)
    return float(least), float(work_done), float(total)


@njit(**COMPILED)
def _separated(
    table: Any, limit: float, lying: Any, best: Any, pressure: Any, tries: Any, state: Any, space: Any, stop: Any
) -> tuple[float, float, float]:
    """As `separate`, in arrays that it is given."""
    total = overlaps(table, lying.x, lying.y, lying.way, pressure.depth)
    least = mark = total
    _remember(lying, best)
    work_done = 0.0
    idle = 0
    while total > 0 and idle < tries.passes_most and work_done < tries.work_most and stop[0] == 0:
        _shuffle(space.order, state)
        work_done = _one_pass(table, limit, lying, pressure, tries, state, space, work_done)
        total, deepest = _sum_and_deepest(pressure.depth)
        idle += 1
        if total < least:
            least = total
            _remember(lying, best)
            if total < PROGRESS * mark:
                mark = total
                idle = 0
        if total <= 0:
            break
        _weigh_anew(pressure, deepest)
    return least, work_done, total


@njit(**COMPILED)
def _remember(lying: Any, best: Any) -> None:
    """Write down where everything lies."""
    for i in range(lying.x.shape[0]):
        best.x[i], best.y[i], best.way[i] = lying.x[i], lying.y[i], lying.way[i]


@njit(**COMPILED)
def _shuffle(order: Any, state: Any) -> None:
    """Bring items into an order by chance."""
    for r in range(order.shape[0] - 1, 0, -1):
        other = int(chance(state) * (r + 1))
        order[r], order[other] = order[other], order[r]


@njit(**COMPILED)
def _one_pass(
    table: Any, limit: float, lying: Any, pressure: Any, tries: Any, state: Any, space: Any, work_done: float
) -> float:
    """Move every item that overlaps to the cheapest place found; return the work done by then."""
    at_x, at_y, ways = lying.x, lying.y, lying.way
    for i in space.order:
        now = 0.0
        for j in range(at_x.shape[0]):
            now += pressure.weight[i, j] * pressure.depth[i, j]
        if now <= FREE or ways[i] < 0:
            continue
        begin, end = _stretch_to_look_over(table, limit, at_x[i], ways[i], tries.near, state)
        cost, x, y, way, used = best_spot(
            table,
            i,
            begin,
            end,
            at_x,
            at_y,
            ways,
            pressure.weight[i],
            state,
            tries.by_chance,
            tries.contacts,
            space,
            FAR,
        )
        work_done += used
        if way >= 0 and cost <= now:
            at_x[i], at_y[i], ways[i] = x, y, way
            _measure_overlaps(table, lying, pressure.depth, i)
    return work_done


@njit(**COMPILED)
def _stretch_to_look_over(table: Any, limit: float, x: float, way: int, near: float, state: Any) -> tuple[float, float]:
    """Where along the roll a move looks: all of it, or about its own place or one taken by chance."""
    if not (near > 0 and limit > 2 * near):
        return -FAR, limit
    middle = x
    if chance(state) > LOCAL:
        middle = chance(state) * limit
    return min(middle - near, limit - 2 * near), min(limit, middle + near + table.width[way])


@njit(**COMPILED)
def _measure_overlaps(table: Any, lying: Any, depth: Any, i: int) -> None:
    """Measure anew how deep one item lies in each other."""
    for j in range(lying.x.shape[0]):
        if j == i:
            continue
        d = 0.0
        if lying.way[j] >= 0:
            d = overlap_of(table, lying.way[i], lying.x[i], lying.y[i], lying.way[j], lying.x[j], lying.y[j])
            if d <= FREE:
                d = 0.0
        depth[i, j] = depth[j, i] = d


@njit(**COMPILED)
def _sum_and_deepest(depth: Any) -> tuple[float, float]:
    """The sum of all overlaps, each pair once, and the deepest."""
    total = deepest = 0.0
    for i in range(depth.shape[0]):
        for j in range(i):
            total += depth[i, j]
            deepest = max(deepest, depth[i, j])
    return total, deepest


@njit(**COMPILED)
def _weigh_anew(pressure: Any, deepest: float) -> None:
    """Make pairs that overlap heavier, the deepest the most, and let the others fade."""
    weight, size, depth = pressure.weight, pressure.size, pressure.depth
    for i in range(weight.shape[0]):
        for j in range(i):
            w = weight[i, j]
            if depth[i, j] > 0:
                w *= HEAVIER + (HEAVIEST - HEAVIER) * depth[i, j] / deepest
            else:
                w = max(size[i] * size[j], w * LIGHTER)
            weight[i, j] = weight[j, i] = w


def pressure_of(weight: Floats, size: Floats) -> Pressure:
    """Return weights (n, n) and sizes with room for the depths."""
    return Pressure(weight, size, np.empty_like(weight))
