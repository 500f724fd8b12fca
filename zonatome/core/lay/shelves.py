"""Rows across the roll where a repeat, flaws, pins or panels bind: straight rips between them, as in `rows.py`.

A row begins behind the last, with the piece that comes first in order; what else fits between there and that piece's
end is laid beside it. Each piece lies where its motif, the flaws and what is pinned let it.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zonatome.core.lay import scan
from zonatome.core.lay.nofit import Floats
from zonatome.core.lay.request import Placement
from zonatome.core.lay.ways import Ways

FAR = 1e9
STEP = 20.0  # mm between the heights tried besides contacts


def in_rows(ways: Ways) -> tuple[Placement, ...]:
    """Return the pieces in rows, pinned ones first; on panels those that fit."""
    table, n = ways.table, len(ways.items)
    x, y, way = np.zeros(n), np.zeros(n), np.full(n, -1, dtype=np.int64)
    going = np.zeros(1, dtype=np.int64)
    longest = table.width[table.way_first]
    left = [int(i) for i in np.lexsort((-table.area, -longest, ~ways.priority))]
    begin = 0.0
    while left:
        lead = left[0]
        missing, _ = scan.lay_in_order(table, np.array([lead]), begin, FAR, STEP, x, y, way, going)
        left.remove(lead)
        if missing:
            continue  # it fits nowhere behind: on panels it stays out
        begin, end = float(x[lead]), float(x[lead] + table.width[way[lead]])
        failed: set[int] = set()
        for item in list(left):
            if ways.items[item][0] in failed:
                continue
            missing, _ = scan.lay_in_order(table, np.array([item]), begin, end, STEP, x, y, way, going)
            if missing:
                failed.add(ways.items[item][0])
            else:
                left.remove(item)
        begin = end + ways.request.gap
    return laid(ways, x, y, way)


def by_size(ways: Ways) -> tuple[Placement, ...]:
    """Return the pieces laid one by one, biggest first, each as near the squared end as it goes; on panels those that fit."""
    n = len(ways.items)
    x, y, way = np.zeros(n), np.zeros(n), np.full(n, -1, dtype=np.int64)
    order = np.lexsort((-ways.table.area, ~ways.priority))
    scan.lay_in_order(ways.table, order, -FAR, FAR, STEP, x, y, way, np.zeros(1, dtype=np.int64))
    return laid(ways, x, y, way)


def laid(ways: Ways, x: Floats, y: Floats, way: NDArray[np.int64]) -> tuple[Placement, ...]:
    """Return the placements of what has a way, pinned pieces first."""
    found = [ways.placement(i, float(x[i]), float(y[i]), int(w)) for i, w in enumerate(way) if w >= 0]
    return (*ways.request.pinned, *found)
