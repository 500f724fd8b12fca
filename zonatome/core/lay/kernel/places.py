"""The cheapest place of an item: which heights are worth trying, and then finer and finer about the best."""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit

from zonatome.core.lay.kernel.compiled import COMPILED
from zonatome.core.lay.kernel.row import best_of_row, boxes
from zonatome.core.lay.kernel.tables import FREE

WAYS_A_MOVE = 2  # ways of a piece that one move tries, taken by chance
COARSEST = 8.0  # mm: the first step about the best height
FINEST = 0.02  # mm: the last one
FINER = 0.45  # of a step that finds nothing cheaper
FINE = 8.0  # of a finer step looks so many steps to either side along the roll


@njit(**COMPILED)
def chance(state: Any) -> float:
    """A number from 0 to 1. Source: xorshift64*, Marsaglia 2003, Vigna 2016."""
    x = state[0]
    x ^= x >> np.uint64(12)
    x ^= x << np.uint64(25)
    x ^= x >> np.uint64(27)
    state[0] = x
    return float((x * np.uint64(2685821657736338717)) >> np.uint64(11)) / 9007199254740992.0


@njit(**COMPILED, forceinline=True)
def touching(
    table: Any, way: int, other: int, other_y: float, low: float, high: float, heights: Any, count: int
) -> int:
    """Add the heights at which a way would touch another from above and from below, and return how many heights there
    are.
    """
    figure = table.width.shape[0] * (1 + other) + way
    for side in range(1, -1, -1):
        y = other_y + table.reach[figure, side]
        if low <= y <= high:
            heights[count] = y
            count += 1
    return count


@njit(**COMPILED)
def _heights(
    table: Any,
    way: int,
    at_y: Any,
    ways: Any,
    own: float,
    state: Any,
    by_chance: int,
    contacts: int,
    many: int,
    space: Any,
) -> int:
    """Fill in the heights to be tried: all that a repeat allows, or edges, contacts, about its own,
    and some by chance.
    """
    heights = space.heights
    if table.bound[way, 1]:
        count = min(table.row_count[way], heights.shape[0])
        shift = int(chance(state) * count)
        for r in range(count):
            heights[r] = table.row_heights[table.row_first[way] + (r + shift) % count]
        return count
    start, bands = table.figure[way, 0], table.figure[way, 1]
    if bands == 0:
        return 0
    low, high = table.levels[start] + 1e-6, table.levels[start + bands] - 1e-6
    count = 0
    heights[count] = low
    heights[count + 1] = high
    count += 2
    tried = 0
    at = int(chance(state) * many)
    while tried < many and count < contacts + 2:
        at = (at + 1) % many
        tried += 1
        j = space.about[at]
        count = touching(table, way, ways[j], at_y[j], low, high, heights, count)
    for _ in range(by_chance):
        heights[count] = low + chance(state) * (high - low)
        count += 1
    if low <= own <= high:
        heights[count] = own
        count += 1
    # by chance in another order: the first free place is taken
    for r in range(count - 1, 0, -1):
        other = int(chance(state) * (r + 1))
        heights[r], heights[other] = heights[other], heights[r]
    return count


@njit(**COMPILED)
def list_about(table: Any, item: int, begin: float, limit: float, at_x: Any, ways: Any, space: Any) -> int:
    """List the other items that lie near enough to [begin, limit] to matter there."""
    many = 0
    for j in range(at_x.shape[0]):
        if (
            j != item
            and ways[j] >= 0
            and begin - table.widest[0] < at_x[j] + table.width[ways[j]]
            and at_x[j] < limit + table.widest[0]
        ):
            space.about[many] = j
            many += 1
    return many


@njit(**COMPILED)
def best_spot(
    table: Any,
    item: int,
    begin: float,
    limit: float,
    at_x: Any,
    at_y: Any,
    ways: Any,
    weight: Any,
    state: Any,
    by_chance: int,
    contacts: int,
    space: Any,
    best: float,
) -> tuple[float, float, float, int, float]:
    """The cheapest place of an item: cost, x, y, way, work done. Way -1 where none costs less than `best`."""
    best_x = best_y = 0.0
    best_way = -1
    work_done = 0.0
    many = list_about(table, item, begin, limit, at_x, ways, space)
    ways_here = table.way_count[item]
    skip = int(chance(state) * ways_here)
    for w in range(min(ways_here, WAYS_A_MOVE)):
        way = table.way_first[item] + (w + skip) % ways_here
        boxes(table, way, at_x, at_y, ways, many, space)
        count = _heights(table, way, at_y, ways, at_y[item], state, by_chance, contacts, many, space)
        for r in range(count):
            cost, x, work = best_of_row(
                table, way, space.heights[r], begin, limit, at_x, at_y, weight, many, space, best, False
            )
            work_done += work
            if cost < best:
                best, best_x, best_y, best_way = cost, x, space.heights[r], way
                if best <= FREE:
                    return best, best_x, best_y, best_way, work_done
    if best_way >= 0 and not table.bound[best_way, 1]:
        boxes(table, best_way, at_x, at_y, ways, many, space)
        step = COARSEST
        while step > FINEST:
            better = False
            for side in range(2):
                y = best_y + (step if side == 0 else -step)
                lower, upper = (
                    max(begin, best_x - FINE * step),
                    min(limit, best_x + FINE * step + table.width[best_way]),
                )
                cost, x, work = best_of_row(
                    table, best_way, y, lower, upper, at_x, at_y, weight, many, space, best, False
                )
                work_done += work
                if cost < best:
                    best, best_x, best_y = cost, x, y
                    better = True
                    if best <= FREE:
                        return best, best_x, best_y, best_way, work_done
            if not better:
                step *= FINER
    return best, best_x, best_y, best_way, work_done
