"""Rows across the roll where a repeat, flaws, pins or panels bind: straight rips between them, as in
`construct/rows.py`.

A row begins behind the last, with the piece that comes first in order; what else fits between there and that piece's
end is laid beside it. Each piece lies where its motif, the flaws and what is pinned let it.
"""

from __future__ import annotations

import numpy as np

from zonatome.core.arrays import Floats, Ints
from zonatome.core.lay.geometry.nesting_table import NestingTable
from zonatome.core.lay.kernel.in_order import lay_in_order
from zonatome.core.lay.kernel.tables import ScanTable
from zonatome.core.lay.request import Placement

FAR = 1e9
MANY = 160  # pieces laid in one go
GROUP = 40  # of more, so many at a time
BEHIND = 4.0  # widest pieces that a group looks back
STEP = 20.0  # mm between the heights tried besides contacts
FINE = 10.0  # mm between those for what is left over


def in_rows(ways: NestingTable) -> tuple[Placement, ...]:
    """Return the pieces in rows, pinned ones first; on panels those that fit."""
    table, n = ways.table, len(ways.items)
    x, y, way = np.zeros(n), np.zeros(n), np.full(n, -1, dtype=np.int64)
    going = np.zeros(1, dtype=np.int64)
    longest = table.width[table.way_first]
    left = [int(i) for i in np.lexsort((-table.area, -longest, ~ways.priority))]
    begin = 0.0
    while left:
        lead = left[0]
        missing, _ = lay_in_order(table, np.array([lead]), begin, FAR, STEP, x, y, way, going)
        left.remove(lead)
        if missing:
            continue  # it fits nowhere behind: on panels it stays out
        begin, end = float(x[lead]), float(x[lead] + table.width[way[lead]])
        failed: set[int] = set()
        for item in list(left):
            if ways.items[item][0] in failed:
                continue
            missing, _ = lay_in_order(table, np.array([item]), begin, end, STEP, x, y, way, going)
            if missing:
                failed.add(ways.items[item][0])
            else:
                left.remove(item)
        begin = end + ways.request.gap
    return laid(ways, x, y, way)


def in_order(
    table: ScanTable, order: Ints, step: float, x: Floats, y: Floats, way: Ints, stop: Ints
) -> tuple[int, float]:
    """Lay items in an order as near the squared end as each goes (`lay_in_order`); the missing, and the work done.

    Of very many the later ones look for room only near the far end: looking everywhere would cost the cube of their
    number.
    """
    if len(order) <= MANY:
        missing, work = lay_in_order(table, order, -FAR, FAR, step, x, y, way, stop)
        return int(missing), float(work)
    way[order] = -1
    missing, work, begin = 0, 0.0, -FAR
    for at in range(0, len(order), GROUP):
        group = order[at : at + GROUP]
        left, done = lay_in_order(table, group, begin, FAR, step, x, y, way, stop)
        missing, work = missing + int(left), work + float(done)
        if stop[0]:
            break
        laid = way >= 0
        begin = float((x[laid] + table.width[way[laid]]).max(initial=0.0)) - BEHIND * float(table.widest[0])
    return missing, work


def biggest_first(table: ScanTable, items: Ints, x: Floats, y: Floats, way: Ints, stop: Ints) -> float:
    """Lay what is left over, biggest first, where it finds a place among what lies already; the work done."""
    _, work = lay_in_order(
        table, items[np.argsort(-table.area[items], kind="stable")], -FAR, FAR, FINE, x, y, way, stop
    )
    return float(work)


def by_size(ways: NestingTable) -> tuple[Placement, ...]:
    """Return the pieces laid one by one, biggest first, each as near the squared end as it goes; on panels those that
    fit.
    """
    n = len(ways.items)
    x, y, way = np.zeros(n), np.zeros(n), np.full(n, -1, dtype=np.int64)
    order = np.lexsort((-ways.table.area, ~ways.priority))
    in_order(ways.table, order, STEP, x, y, way, np.zeros(1, dtype=np.int64))
    return laid(ways, x, y, way)


def laid(ways: NestingTable, x: Floats, y: Floats, way: Ints) -> tuple[Placement, ...]:
    """Return the placements of what has a way, pinned pieces first."""
    found = [ways.placement(i, float(x[i]), float(y[i]), int(w)) for i, w in enumerate(way) if w >= 0]
    return (*ways.request.pinned, *found)
