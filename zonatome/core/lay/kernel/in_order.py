"""Laying items one by one, each as near the squared end as it goes."""

from __future__ import annotations

from typing import Any

from numba import njit

from zonatome.core.arrays import Floats, Ints
from zonatome.core.lay.kernel.compiled import COMPILED
from zonatome.core.lay.kernel.places import list_about, touching
from zonatome.core.lay.kernel.row import best_of_row, boxes
from zonatome.core.lay.kernel.tables import FAR, FREE, ScanTable, workspace_for

MOST_CONTACTS = 240  # heights that touch another piece, which laying one by one tries
LONGEST_WIDTH = 60_000.0  # mm across: more heights than that are not laid at


def lay_in_order(
    table: ScanTable,
    order: Ints,
    begin: float,
    limit: float,
    step: float,
    at_x: Floats,
    at_y: Floats,
    ways: Ints,
    stop: Ints,
) -> tuple[int, float]:
    """Lay items in an order, each with its far end as near the squared end as it goes; -1 as way where it fits nowhere.

    Fills `at_x`, `at_y`, `ways`, of which items not in `order` are kept; all lie within [begin, limit], at heights that
    touch something and at every `step` mm. Returns how many could not be laid, and the work done.
    """
    space = workspace_for(len(at_x), int(LONGEST_WIDTH / step))
    left_out, work_done = _laid_in_order(table, order, begin, limit, step, at_x, at_y, ways, space, stop)
    return int(left_out), float(work_done)


@njit(**COMPILED)
def _laid_in_order(
    table: Any,
    order: Any,
    begin: float,
    limit: float,
    step: float,
    at_x: Any,
    at_y: Any,
    ways: Any,
    space: Any,
    stop: Any,
) -> tuple[int, float]:
    """As `lay_in_order`, in arrays that it is given."""
    left_out = 0
    work_done = 0.0
    for item in order:
        ways[item] = -1
    for item in order:
        if stop[0] != 0:
            return left_out + 1, work_done
        best_end = FAR
        best_x = best_y = 0.0
        best_way = -1
        many = list_about(table, item, begin, limit, at_x, ways, space)
        for w in range(table.way_count[item]):
            way = table.way_first[item] + w
            start, bands = table.figure[way, 0], table.figure[way, 1]
            if bands == 0:
                continue
            low, high = table.levels[start] + 1e-6, table.levels[start + bands] - 1e-6
            boxes(table, way, at_x, at_y, ways, many, space)
            count = 0
            heights = space.heights
            if table.bound[way, 1]:
                count = min(table.row_count[way], heights.shape[0])
                for r in range(count):
                    heights[r] = table.row_heights[table.row_first[way] + r]
            else:
                heights[0], heights[1] = low, high
                count = 2
                # of very many others only every second, third … is touched, so that the cost stays the square of the
                # pieces
                for m in range(0, many, max(1, 2 * many // MOST_CONTACTS)):
                    j = space.about[m]
                    count = touching(table, way, ways[j], at_y[j], low, high, heights, count)
                y = low + step
                while y < high:
                    heights[count] = y
                    count += 1
                    y += step
            for r in range(count):
                y = heights[r]
                cap = min(limit, best_end + table.width[way])
                cost, x, work = best_of_row(
                    table, way, y, begin, min(limit, best_end + 1e-9), at_x, at_y, space.ones, many, space, FREE, True
                )
                work_done += work
                if cost < FREE and x + table.width[way] <= cap:
                    end = x + table.width[way]
                    if end < best_end - 1e-6 or (end < best_end + 1e-6 and y < best_y):
                        best_end, best_x, best_y, best_way = end, x, y, way
        if best_way < 0:
            left_out += 1
        else:
            at_x[item], at_y[item], ways[item] = best_x, best_y, best_way
    return left_out, work_done
