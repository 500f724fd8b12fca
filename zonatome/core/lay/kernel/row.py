"""The cheapest place at one height.

A piece is moved like this: at a height, every other piece blocks the stretches of x that the table of its no-fit
polygon gives there (`geometry/no_fit.py`); between them, and at their ends, lie the only places worth trying, since the
cost of lying in a stretch grows from both its ends. So a height is searched exactly, whatever binds the piece: a
stripe allows some heights only, a motif some places along each, a flaw or a hide's edge takes places away.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit

from zonatome.core.lay.kernel.compiled import COMPILED
from zonatome.core.lay.kernel.figures import band_at, motif_place
from zonatome.core.lay.kernel.tables import FREE


@njit(**COMPILED, forceinline=True)
def boxes(table: Any, way: int, at_x: Any, at_y: Any, ways: Any, many: int, space: Any) -> None:
    """Fill in what each of the pieces looked over blocks for a way: lowest, highest, leftmost, rightmost; and the
    pair's figure.
    """
    k = table.width.shape[0]
    for m in range(many):
        j = space.about[m]
        figure = k + ways[j] * k + way
        space.figures[m] = figure
        space.boxes[0, m] = at_y[j] + table.reach[figure, 0]
        space.boxes[1, m] = at_y[j] + table.reach[figure, 1]
        space.boxes[2, m] = at_x[j] + table.reach[figure, 2]
        space.boxes[3, m] = at_x[j] + table.reach[figure, 3]


@njit(**COMPILED, forceinline=True)
def gather(
    table: Any, y: float, at_x: Any, at_y: Any, weight: Any, left: float, right: float, many: int, space: Any
) -> int:
    """Fill in the stretches at a height within [left, right]: start, end, weight, way out across."""
    count = 0
    most = space.starts.shape[0]
    levels, first, sides, reach, hints = table.levels, table.first, table.sides, table.reach, table.hints
    for m in range(many):
        if y <= space.boxes[0, m] or y >= space.boxes[1, m] or space.boxes[2, m] >= right or space.boxes[3, m] <= left:
            continue
        j, figure = space.about[m], space.figures[m]
        rise = y - at_y[j]
        low, high = reach[figure, 0], reach[figure, 1]
        if rise <= low or rise >= high:
            continue  # by a rounding
        band = hints[figure, int((rise - low) * reach[figure, 4])]
        while levels[band + 1] <= rise:
            band += 1
        out = min(rise - low, high - rise)
        up = rise - levels[band]
        for s in range(first[band], first[band + 1]):
            a = at_x[j] + sides[s, 0] + sides[s, 1] * up
            b = at_x[j] + sides[s, 2] + sides[s, 3] * up
            if b > left and a < right and b > a and count < most:
                space.starts[count] = a
                space.ends[count] = b
                space.weights[count] = weight[j]
                space.outs[count] = out
                count += 1
    return count


@njit(**COMPILED, fastmath=True, forceinline=True)
def cost_at(space: Any, count: int, x: float) -> float:
    """What it costs to lie at x; written so that the compiler takes several stretches at once."""
    total = 0.0
    for m in range(count):
        depth = x - space.starts[m]
        right = space.ends[m] - x
        depth = right if right < depth else depth
        out = space.outs[m]
        depth = out if out < depth else depth
        depth = depth if depth > 0.0 else 0.0
        total += space.weights[m] * depth
    return total


@njit(**COMPILED, forceinline=True)
def _best_in_row(
    table: Any, way: int, y: float, space: Any, count: int, left: float, right: float, best: float, leftmost: bool
) -> tuple[float, float]:
    """The cheapest place in [left, right] at a height that costs less than `best`; the first free one if `leftmost`."""
    found = 0.0
    if table.bound[way, 0]:
        along = table.repeat[0]
        x = motif_place(table, way, y)
        x += np.ceil((left - x) / along - 1e-9) * along
        while x <= right + 1e-9:
            cost = cost_at(space, count, x)
            if cost < best:
                best, found = cost, x
                if best <= FREE:
                    return best, found
            x += along
        return best, found
    cost = cost_at(space, count, left)
    if cost < best:
        best, found = cost, left
        if best <= FREE:
            return 0.0, found
    if leftmost:
        # the first free place: after one stretch, unless another covers it
        x = left
        moved = True
        while moved and x <= right:
            moved = False
            for m in range(count):
                if space.starts[m] <= x and space.ends[m] > x + FREE:
                    x = space.ends[m]
                    moved = True
        if x <= right + 1e-9:
            return 0.0, min(x, right)
        return best, found
    cost = cost_at(space, count, right)
    if cost < best:
        best, found = cost, right
    for m in range(count):
        for side in range(2):
            x = space.starts[m] if side == 0 else space.ends[m]
            if x < left or x > right:
                continue
            cost = cost_at(space, count, x)
            if cost < best:
                best, found = cost, x
    return best, found


@njit(**COMPILED, forceinline=True)
def best_of_row(
    table: Any,
    way: int,
    y: float,
    begin: float,
    limit: float,
    at_x: Any,
    at_y: Any,
    weight: Any,
    many: int,
    space: Any,
    best: float,
    leftmost: bool,
) -> tuple[float, float, float]:
    """The cheapest place at a height that costs less than `best`, from `begin` to an end at `limit`, on the ground;
    and the work.
    """
    band = band_at(table, way, y)
    found = 0.0
    done = 4.0 + many
    if band < 0:
        return best, found, done
    up = y - table.levels[band]
    for s in range(table.first[band], table.first[band + 1]):
        left = max(table.sides[s, 0] + table.sides[s, 1] * up, begin)
        right = min(table.sides[s, 2] + table.sides[s, 3] * up, limit - table.width[way])
        if left > right:
            continue
        count = gather(table, y, at_x, at_y, weight, left, right, many, space)
        done += 2.0 + count
        if not leftmost:
            done += 0.25 * count * count
        cost, x = _best_in_row(table, way, y, space, count, left, right, best, leftmost)
        if cost < best:
            best, found = cost, x
            if best <= FREE:
                return best, found, done
    return best, found, done
