"""What one figure of the table says at a height: how deep two lie in each other, what one blocks, whether the cloth
allows a place.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit

from zonatome.core.lay.kernel.compiled import COMPILED
from zonatome.core.lay.kernel.tables import FAR, FREE

EDGE = 3e-4  # mm: so far off its ground, at an edge of the cloth, the compactor may leave a piece


@njit(**COMPILED)
def band_at(table: Any, figure: int, y: float) -> int:
    """The index of the level under a height, -1 where the figure does not reach it."""
    start = table.figure[figure, 0]
    bands = table.figure[figure, 1]
    if bands == 0 or y <= table.levels[start] or y >= table.levels[start + bands]:
        return -1
    low, high = start, start + bands
    while high - low > 1:
        middle = (low + high) >> 1
        if table.levels[middle] <= y:
            low = middle
        else:
            high = middle
    return low


@njit(**COMPILED)
def overlap_of(table: Any, way: int, x: float, y: float, other: int, other_x: float, other_y: float) -> float:
    """How deep one lies in another: the least way out along x, or past the no-fit polygon's top or bottom."""
    k = table.width.shape[0]
    figure = k + other * k + way
    rise = y - other_y
    band = band_at(table, figure, rise)
    if band < 0:
        return 0.0
    start, bands = table.figure[figure, 0], table.figure[figure, 1]
    out = min(rise - table.levels[start], table.levels[start + bands] - rise)
    run = x - other_x
    up = rise - table.levels[band]
    for s in range(table.first[band], table.first[band + 1]):
        left = table.sides[s, 0] + table.sides[s, 1] * up
        right = table.sides[s, 2] + table.sides[s, 3] * up
        if left < run < right:
            return min(out, min(run - left, right - run))
    return 0.0


@njit(**COMPILED)
def overlaps(table: Any, at_x: Any, at_y: Any, ways: Any, depth: Any) -> float:
    """Fill the symmetric matrix of overlaps and return their sum, each pair once."""
    n = at_x.shape[0]
    total = 0.0
    for i in range(n):
        depth[i, i] = 0.0
        for j in range(i):
            d = 0.0
            if ways[i] >= 0 and ways[j] >= 0:
                d = overlap_of(table, ways[i], at_x[i], at_y[i], ways[j], at_x[j], at_y[j])
                if d <= FREE:
                    d = 0.0
            depth[i, j] = depth[j, i] = d
            total += d
    return total


@njit(**COMPILED)
def widest_stretch(table: Any, way: int, rise: float, other: int) -> tuple[float, float]:
    """The widest stretch that one way blocks for another that lies so much higher:
    its least and greatest x from there.
    """
    k = table.width.shape[0]
    figure = k + other * k + way
    band = band_at(table, figure, rise)
    best_left = best_right = 0.0
    if band >= 0:
        up = rise - table.levels[band]
        for s in range(table.first[band], table.first[band + 1]):
            left = table.sides[s, 0] + table.sides[s, 1] * up
            right = table.sides[s, 2] + table.sides[s, 3] * up
            if right - left > best_right - best_left:
                best_left, best_right = left, right
    return best_left, best_right


@njit(**COMPILED)
def farthest(table: Any, way: int, rise: float, other: int) -> float:
    """The greatest x, from the other, that one way blocks for another lying so much higher;
    -FAR where it blocks none.
    """
    band = band_at(table, table.width.shape[0] * (1 + other) + way, rise)
    right = -FAR
    if band >= 0:
        up = rise - table.levels[band]
        for s in range(table.first[band], table.first[band + 1]):
            right = max(right, table.sides[s, 2] + table.sides[s, 3] * up)
    return right


@njit(**COMPILED)
def motif_place(table: Any, way: int, y: float) -> float:
    """A place of the reference point, at a height, at which the anchor lies on the repeat along."""
    along, across, drop, origin_x, origin_y = table.repeat
    column = 0.0
    if across > 0:
        column = np.floor((y + table.anchor[way, 1] - origin_y) / across + 0.5)
    return origin_x + drop * column * along - table.anchor[way, 0]


@njit(**COMPILED)
def stands(table: Any, way: int, x: float, y: float) -> bool:
    """Whether the cloth allows a place: on its ground, on the repeat.

    What touches the ground's edge across stands on it.
    """
    start, bands = table.figure[way, 0], table.figure[way, 1]
    if bands == 0:
        return False
    low, high = table.levels[start], table.levels[start + bands]
    if low - EDGE < y < high + EDGE:
        y = min(max(y, low + 1e-6), high - 1e-6)
    band = band_at(table, way, y)
    if band < 0:
        return False
    if table.bound[way, 0]:
        along = table.repeat[0]
        off = x - motif_place(table, way, y)
        if abs(off - along * np.floor(off / along + 0.5)) > 1e-6:
            return False
    if table.bound[way, 1]:
        across, origin = table.repeat[1], table.repeat[4]
        off = y + table.anchor[way, 1] - origin
        if abs(off - across * np.floor(off / across + 0.5)) > 1e-4:
            return False
    up = y - table.levels[band]
    for s in range(table.first[band], table.first[band + 1]):
        if table.sides[s, 0] + table.sides[s, 1] * up - 1e-9 <= x <= table.sides[s, 2] + table.sides[s, 3] * up + 1e-9:
            return True
    return False
