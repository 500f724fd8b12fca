"""A plane figure cut into bands between the heights of its corners."""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit

from zonatome.core.lay.kernel.compiled import ALLOCATING

# mm by which every obstacle is made smaller, so that what fits to the millimetre fits; far below the check's 0.05
HAIR = 0.01
FLAT = 1e-7  # mm: heights nearer than this are one


@njit(**ALLOCATING)
def bands_between(low: Any, high: Any, level: Any) -> Any:
    """The first stretch of every band, and the stretches, of sides from their lower to their upper ends."""
    bands = level.shape[0] - 1
    first = np.zeros(bands + 1, dtype=np.int64)
    sides = np.empty((bands * 4 + low.shape[0], 4))
    here = np.empty((low.shape[0], 3))  # x in the middle of the band, x at its bottom, slope
    total = 0
    rising = np.argsort(low[:, 1])
    crossing = np.empty(low.shape[0], dtype=np.int64)  # the sides that reach into the band, in their own order
    reached, crossed = 0, 0
    for band in range(bands):
        middle = (level[band] + level[band + 1]) / 2
        kept = 0
        for n in range(crossed):
            if high[crossing[n], 1] > middle:
                crossing[kept] = crossing[n]
                kept += 1
        crossed = kept
        while reached < rising.shape[0] and low[rising[reached], 1] < middle:
            if high[rising[reached], 1] > middle:
                at = crossed
                while at > 0 and crossing[at - 1] > rising[reached]:
                    crossing[at] = crossing[at - 1]
                    at -= 1
                crossing[at] = rising[reached]
                crossed += 1
            reached += 1
        count = 0
        for n in range(crossed):
            e = crossing[n]
            slope = (high[e, 0] - low[e, 0]) / max(high[e, 1] - low[e, 1], FLAT)
            x = low[e, 0] + slope * (middle - low[e, 1])
            at = count
            while at > 0 and here[at - 1, 0] > x:
                here[at] = here[at - 1]
                at -= 1
            here[at, 0], here[at, 1], here[at, 2] = x, low[e, 0] + slope * (level[band] - low[e, 1]), slope
            count += 1
        if total + count > sides.shape[0]:
            larger = np.empty((2 * sides.shape[0] + count, 4))
            larger[:total] = sides[:total]
            sides = larger
        for s in range(0, count - 1, 2):
            sides[total, 0], sides[total, 1] = here[s, 1], here[s, 2]
            sides[total, 2], sides[total, 3] = here[s + 1, 1], here[s + 1, 2]
            total += 1
        first[band + 1] = total
    return first, sides[:total].copy()
