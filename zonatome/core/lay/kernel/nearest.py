"""The nearest place at which a piece lies free, for a hand that lets go of it."""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
from numba import njit

from zonatome.core.lay.kernel.compiled import COMPILED
from zonatome.core.lay.kernel.figures import band_at, motif_place
from zonatome.core.lay.kernel.places import touching
from zonatome.core.lay.kernel.row import boxes, cost_at, gather
from zonatome.core.lay.kernel.tables import FAR, FREE, Lying, ScanTable, workspace_for

STEPS = 30  # heights that are tried to either side within reach
BESIDE = 1  # motifs to either side of the nearest one
# rows of what was found
FREE_PLACE = 0
ANY_PLACE = 1


class Wanted(NamedTuple):
    """Where a way is let go, and how far it may go from there, in mm."""

    way: int
    x: float
    y: float
    reach: float


def nearest_free(table: ScanTable, wanted: Wanted, lying: Lying) -> tuple[float, float, bool]:
    """The place nearest to the wanted one where a way lies free of the others, within reach; else on its motif, and
    False.

    On a repeat that binds it, the nearest motifs are tried however far they are.
    """
    space = workspace_for(len(lying.x), int(table.row_count[wanted.way]))
    found = np.array([[FAR, wanted.x, wanted.y], [FAR, wanted.x, wanted.y]])
    _nearest_free(table, wanted, lying, space, found)
    is_free = bool(found[FREE_PLACE, 0] < FAR)
    _, x, y = found[FREE_PLACE if is_free else ANY_PLACE]
    return float(x), float(y), is_free


@njit(**COMPILED)
def _nearest_free(table: Any, wanted: Any, lying: Any, space: Any, found: Any) -> None:
    """Fill in the square of the distance and the place of the nearest free one, and of the nearest there is."""
    n = lying.x.shape[0]
    boxes(table, wanted.way, lying.x, lying.y, lying.way, n, space)
    count = _heights_within_reach(table, wanted, lying, space.heights)
    for r in range(count):
        y = space.heights[r]
        band = band_at(table, wanted.way, y)
        if band < 0:
            continue
        up = y - table.levels[band]
        for s in range(table.first[band], table.first[band + 1]):
            left = table.sides[s, 0] + table.sides[s, 1] * up
            right = table.sides[s, 2] + table.sides[s, 3] * up
            many = gather(table, y, lying.x, lying.y, space.ones, left, right, n, space)
            if table.bound[wanted.way, 0]:
                _nearest_on_motif(table, wanted, y, left, right, many, space, found)
            else:
                _nearest_in_stretch(wanted, y, left, right, many, space, found)


@njit(**COMPILED)
def _heights_within_reach(table: Any, wanted: Any, lying: Any, heights: Any) -> int:
    """Fill in the heights to be tried: all that a repeat allows, else its own, the edges, contacts and steps, within
    reach.
    """
    way, begin, bands = wanted.way, table.figure[wanted.way, 0], table.figure[wanted.way, 1]
    if bands == 0:
        return 0
    count = 0
    if table.bound[way, 1]:
        for r in range(table.row_count[way]):
            heights[count] = table.row_heights[table.row_first[way] + r]
            count += 1
        return count
    low, high = table.levels[begin] + 1e-6, table.levels[begin + bands] - 1e-6
    heights[0], heights[1], heights[2] = min(max(wanted.y, low), high), low, high
    count = 3
    for j in range(lying.x.shape[0]):
        count = touching(table, way, lying.way[j], lying.y[j], low, high, heights, count)
    for step in range(1, STEPS + 1):
        for side in range(2):
            at = wanted.y + (step if side == 0 else -step) * wanted.reach / STEPS
            if low <= at <= high:
                heights[count] = at
                count += 1
    near = 0
    for r in range(count):
        if abs(heights[r] - wanted.y) <= wanted.reach:
            heights[near] = heights[r]
            near += 1
    return near


@njit(**COMPILED)
def _nearest_on_motif(
    table: Any, wanted: Any, y: float, left: float, right: float, many: int, space: Any, found: Any
) -> None:
    """Of the motifs at a height nearest to what is wanted: write down what is nearer than all before."""
    along = table.repeat[0]
    home = motif_place(table, wanted.way, y)
    nearest = home + np.floor((wanted.x - home) / along + 0.5) * along
    for shift in range(-BESIDE, BESIDE + 1):
        x = nearest + shift * along
        if left - 1e-9 <= x <= right + 1e-9:
            _take_if_nearer(wanted, x, y, ANY_PLACE, found)
            if cost_at(space, many, x) <= FREE:
                _take_if_nearer(wanted, x, y, FREE_PLACE, found)


@njit(**COMPILED)
def _nearest_in_stretch(wanted: Any, y: float, left: float, right: float, many: int, space: Any, found: Any) -> None:
    """Of the wanted x, the stretch's ends and those of what blocks it: write down what is nearer than all before."""
    inside = min(max(wanted.x, left), right)
    _take_if_nearer(wanted, inside, y, ANY_PLACE, found)
    for x in (inside, left, right):
        _take_if_free(wanted, x, y, left, right, many, space, found)
    for m in range(many):
        _take_if_free(wanted, space.starts[m], y, left, right, many, space, found)
        _take_if_free(wanted, space.ends[m], y, left, right, many, space, found)


@njit(**COMPILED)
def _take_if_free(
    wanted: Any, x: float, y: float, left: float, right: float, many: int, space: Any, found: Any
) -> None:
    """Write a place down where it lies in its stretch, within reach and free, and is nearer than the one before."""
    if left <= x <= right and abs(x - wanted.x) <= wanted.reach and cost_at(space, many, x) <= FREE:
        _take_if_nearer(wanted, x, y, FREE_PLACE, found)


@njit(**COMPILED)
def _take_if_nearer(wanted: Any, x: float, y: float, row: int, found: Any) -> None:
    """Write a place down where it is nearer to what is wanted than the one before."""
    far = (x - wanted.x) ** 2 + (y - wanted.y) ** 2
    if far < found[row, 0]:
        found[row, 0], found[row, 1], found[row, 2] = far, x, y
