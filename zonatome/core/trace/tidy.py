"""A traced outline made tidy, as a pattern cutter would: straight sides straight, corners kept,
curves with few points.
"""

from __future__ import annotations

import math

import numpy as np
import shapely
from shapely.geometry import LineString

from zonatome.core.errors import BadInput
from zonatome.core.outline import Outline, outline_of
from zonatome.core.trace.mat import Array

# mm: bounds of how far, on the mean, the smooth curve may leave the traced line; its own raggedness decides
FIT = (0.03, 0.45)
FURTHEST = 1.0  # mm that the smooth curve may leave the traced line anywhere
STRAIGHT = 0.8  # mm: a side that bows by no more than this is straight
FINENESS = 0.25  # mm that a curve's fewer points may leave out
NEAR = 5.0  # mm to each side over which a corner is looked for
CORNER = 0.5  # radians that the line turns there
SPACING = 1.0
SHORTEST = 12.0  # mm: a shorter run between two corners is part of one of them


def tidied(outline: Outline, *, straight: float = STRAIGHT, fineness: float = FINENESS) -> Outline:
    """Return the outline with its straight sides straight and its curves smooth, with few points.

    A curve is fitted by a cubic spline that leaves the traced line by at most 1 mm, and drawn with straight steps that
    leave the spline by no more than `fineness`; corners stay where they are. Source: smoothing spline of least squares
    (scipy's splprep). Raises BadInput for bounds that would change the shape.
    """
    for key, value in (("straight", straight), ("fineness", fineness)):
        if not 0 < value <= 10:
            raise BadInput(key, value, "more than 0, up to 10 mm")
    dense = _dense(outline)
    corners = _corners(dense)
    if not corners:
        ring = _smooth(np.concatenate([dense, dense[:1]]), fineness, closed=True)[:-1]
        return outline_of(ring) if len(ring) >= 3 else outline
    made: list[tuple[float, float]] = []
    for at, to in zip(corners, [*corners[1:], corners[0] + len(dense)], strict=True):
        side = dense[np.arange(at, to + 1) % len(dense)]
        line = LineString([side[0], side[-1]])
        bow = float(shapely.distance(line, shapely.points(side)).max())
        kept = [tuple(side[0]), tuple(side[-1])] if bow <= straight else _smooth(side, fineness)
        made += kept[:-1]
    try:
        return outline_of(made)
    except BadInput:
        return outline  # so small that straightening would fold it: as it was


def _smooth(line: Array, fineness: float, *, closed: bool = False) -> list[tuple[float, float]]:
    """A smooth curve along a dense line, its ends kept, in as few straight steps as the fineness allows."""
    from scipy.interpolate import splev, splprep  # noqa: PLC0415 large, and wanted for a photo only
    from scipy.signal import savgol_filter  # noqa: PLC0415 as above

    thin = [(float(x), float(y)) for x, y in LineString(line).simplify(fineness).coords]
    if len(line) < 12:
        return thin
    weights = np.ones(len(line))
    if not closed:
        weights[[0, -1]] = 1e3  # the corners stay
    traced = LineString(line)
    shapely.prepare(traced)
    ragged = float(
        np.sqrt(
            ((line - savgol_filter(line, min(15, len(line) - 1 + len(line) % 2), 2, axis=0)) ** 2).sum(axis=1).mean()
        )
    )
    fit = max(FIT[0], min(FIT[1], ragged))
    while fit > 0.02:
        knots, _ = splprep(line.T, w=weights, s=len(line) * fit * fit, k=3, per=closed)
        curve = np.array(splev(np.linspace(0, 1, 4 * len(line)), knots)).T
        if shapely.dwithin(traced, shapely.points(curve), FURTHEST).all():
            curve[0], curve[-1] = line[0] if not closed else curve[0], line[-1] if not closed else curve[0]
            drawn = [(float(x), float(y)) for x, y in LineString(curve).simplify(fineness * 0.65).coords]
            return drawn if all(math.isfinite(v) for p in drawn for v in p) else thin
        fit /= 2
    return thin


def _dense(outline: Outline) -> Array:
    """Points along the outline, evenly, the outline's own points among them."""
    return np.asarray(shapely.get_coordinates(shapely.segmentize(outline.polygon.exterior, SPACING))[:-1])


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
