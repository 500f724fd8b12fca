"""A traced outline made tidy, as a pattern cutter would: straight sides straight, corners kept, curves with few points."""

from __future__ import annotations

import numpy as np
from shapely.geometry import LineString

from zonatome.core.errors import BadInput
from zonatome.core.outline import Outline, outline_of
from zonatome.core.trace.mat import Array

STRAIGHT = 0.8  # mm: a side that bows by no more than this is straight
FINENESS = 0.25  # mm that a curve's fewer points may leave out
NEAR = 5.0  # mm to each side over which a corner is looked for
CORNER = 0.5  # radians that the line turns there
SPACING = 1.0
SHORTEST = 12.0  # mm: a shorter run between two corners is part of one of them


def tidied(outline: Outline, *, straight: float = STRAIGHT, fineness: float = FINENESS) -> Outline:
    """Return the outline with its straight sides straightened and its curves thinned, within so many mm of what it was.

    Corners stay where they are; nothing moves further than the greater of the two bounds. Raises BadInput for bounds
    that would change the shape.
    """
    for key, value in (("straight", straight), ("fineness", fineness)):
        if not 0 < value <= 10:
            raise BadInput(key, value, "more than 0, up to 10 mm")
    dense = _dense(outline)
    corners = _corners(dense)
    if not corners:
        ring = list(LineString([*dense, dense[0]]).simplify(fineness).coords)[:-1]
        return outline_of(ring) if len(ring) >= 3 else outline
    made: list[tuple[float, float]] = []
    for at, to in zip(corners, [*corners[1:], corners[0] + len(dense)], strict=True):
        side = dense[np.arange(at, to + 1) % len(dense)]
        line = LineString([side[0], side[-1]])
        bow = max((line.distance(LineString([p, p])) for p in side[1:-1]), default=0.0)
        kept = [tuple(side[0]), tuple(side[-1])] if bow <= straight else list(LineString(side).simplify(fineness).coords)
        made += kept[:-1]
    try:
        return outline_of(made)
    except BadInput:
        return outline  # so small that straightening would fold it: as it was


def _dense(outline: Outline) -> Array:
    """Points along the outline, evenly, the outline's own points among them."""
    found = []
    points = np.array(outline.points)
    for a, b in zip(points, np.roll(points, -1, axis=0), strict=True):
        count = max(1, round(float(np.linalg.norm(b - a)) / SPACING))
        found.append(a + (b - a) * (np.arange(count) / count)[:, None])
    return np.concatenate(found)


def _corners(dense: Array) -> list[int]:
    """Where the line turns by a corner's angle within a few millimetres."""
    count, near = len(dense), max(1, round(NEAR / SPACING))
    if count < 4 * near:
        return []
    before = dense - np.roll(dense, near, axis=0)
    after = np.roll(dense, -near, axis=0) - dense
    turn = np.abs(np.arctan2(before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0], (before * after).sum(axis=1)))
    found: list[int] = []
    for at in np.argsort(-turn, kind="stable"):
        if turn[at] < CORNER:
            break
        if all(min(abs(int(at) - k), count - abs(int(at) - k)) * SPACING >= SHORTEST for k in found):
            found.append(int(at))
    return sorted(found)
