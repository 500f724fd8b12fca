"""The free stretches of a band between convex figures."""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit

from zonatome.core.lay.kernel.compiled import ALLOCATING

TOUCH = 1e-6  # mm: less than this is a touch


@njit(**ALLOCATING)
def free_stretches(
    corners: Any, first: Any, low: float, high: float, start: float, stop: float, shortest: float
) -> Any:
    """The free stretches between two heights from start to stop that are long enough: rows of start and length."""
    taken = np.empty((first.shape[0], 2))
    count = 0
    for s in range(first.shape[0] - 1):
        least, most = np.inf, -np.inf
        begin, end = first[s], first[s + 1]
        bottom, top = np.inf, -np.inf
        for k in range(begin, end):
            bottom, top = min(bottom, corners[k, 1]), max(top, corners[k, 1])
        if top <= low + TOUCH or bottom >= high - TOUCH:
            continue
        for k in range(begin, end):
            x, y = corners[k, 0], corners[k, 1]
            after = k + 1 if k + 1 < end else begin
            run, rise = corners[after, 0] - x, corners[after, 1] - y
            if min(y, y + rise) > high or max(y, y + rise) < low:
                continue
            from_, to = 0.0, 1.0
            if rise != 0.0:
                from_ = min(1.0, max(0.0, (low - y) / rise))
                to = min(1.0, max(0.0, (high - y) / rise))
            least = min(least, x + from_ * run, x + to * run)
            most = max(most, x + from_ * run, x + to * run)
        if least <= most:
            taken[count, 0], taken[count, 1] = least, most
            count += 1
    order = np.argsort(taken[:count, 0])
    found = np.empty((count + 1, 2))
    many = 0
    for n in range(count + 1):
        until = stop if n == count else min(taken[order[n], 0], stop)
        if until - start >= shortest:
            found[many, 0], found[many, 1] = start, until - start
            many += 1
        if n < count:
            start = max(start, taken[order[n], 1])
    return found[:many]


@njit(**ALLOCATING)
def stretches_between(region: Any, corners: Any, first: Any, low: float, high: float, shortest: float) -> Any:
    """The free stretches between two heights of a convex region that are long enough: rows of start and length."""
    start, stop = -np.inf, np.inf
    for level in (low + 3 * TOUCH, high - 3 * TOUCH):
        least, most = np.inf, -np.inf
        for k in range(region.shape[0]):
            x, y = region[k]
            run, rise = region[(k + 1) % region.shape[0]] - region[k]
            if min(y, y + rise) > level or max(y, y + rise) < level:
                continue
            for part in (0.0, 1.0) if rise == 0.0 else ((level - y) / rise, (level - y) / rise):
                least, most = min(least, x + part * run), max(most, x + part * run)
        start, stop = max(start, least), min(stop, most)
    if not stop > start:
        return np.empty((0, 2))
    return free_stretches(corners, first, low, high, start, stop, shortest)
