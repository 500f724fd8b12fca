"""The straight conditions that keep near convex parts to their sides of each other."""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit

from zonatome.core.lay.kernel.bands import HAIR
from zonatome.core.lay.kernel.compiled import COMPILED
from zonatome.core.lay.kernel.sums import sum_into

CLEAR = 1e-6  # mm by which the compactor keeps off the very edge of the table's figures


@njit(**COMPILED)
def conditions_into(
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
