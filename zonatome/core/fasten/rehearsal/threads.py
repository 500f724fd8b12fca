"""Thread lines over a pad: stripes or a check as they lie before any staple. Lengths in mm."""

from __future__ import annotations

import math

import numpy as np
import shapely

from zonatome.core.fasten.rehearsal.weave import Grid
from zonatome.core.outline import Outline

THREADS = 11  # lines each way, whose middle one is the middle of the board
PLACES = 33  # on each line
SHORTEST = 60.0  # a shorter one says nothing


def lines_before(
    outline: Outline, warp_degrees: float, whole: shapely.Geometry | None = None
) -> list[tuple[bool, Grid]]:
    """Return the thread lines over a pad before any staple: warp lines first, each with its places (places, 2). `whole`
    is what posts and cuts leave of it: a thread that they part is followed where it is longest.
    """
    edge = outline.polygon.buffer(-1.0)
    left = edge if whole is None else edge.intersection(whole)
    middle = shapely.get_coordinates(shapely.envelope(edge).centroid)[0]
    turn = math.radians(warp_degrees)
    along = np.array([math.cos(turn), math.sin(turn)])
    across = np.array([-along[1], along[0]])
    reach = math.hypot(outline.width, outline.height)
    found = []
    for is_warp, way, aside in ((True, along, across), (False, across, along)):
        corners = (np.array(edge.exterior.coords) - middle) @ aside
        half = max(-float(corners.min()), float(corners.max()))
        for k in range(-(THREADS // 2), THREADS // 2 + 1):
            at = middle + aside * (half * k / (THREADS // 2 + 0.6))
            inside = shapely.LineString([at - way * reach, at + way * reach]).intersection(left)
            if inside.geom_type == "MultiLineString":
                inside = max(inside.geoms, key=lambda one: one.length)
            if inside.is_empty or inside.length < SHORTEST:
                continue
            a, b = np.array(inside.coords)
            found.append((is_warp, a + (b - a) * np.linspace(0, 1, PLACES)[:, None]))
    return found


def off_line(before: Grid, now: Grid) -> float:
    """Return by how much a thread leaves the straight line along which it should run, at most, mm: that along which it
    lay when the cloth was flat (both (places, 2)), wherever it lies beside it. A thread that is straight but aslant is
    off: so a stripe shows it.

    >>> flat = np.array([[0.0, 0.0], [0.0, 50.0], [0.0, 100.0]])
    >>> off_line(flat, flat + [[3, 0], [3, 0], [3, 0]]), off_line(flat, flat + [[0, 0], [1, 0], [2, 0]])
    (0.0, 1.0)
    """
    way = before[-1] - before[0]
    aside = np.array([-way[1], way[0]]) / float(np.hypot(*way))
    off = (now - before) @ aside
    return float(off.max() - off.min()) / 2


def off_straight(places: Grid) -> float:
    """Return by how much places leave the straight line that fits them best, at most, mm."""
    middle = places - places.mean(axis=0)
    _, _, ways = np.linalg.svd(middle, full_matrices=False)
    return float(np.abs(middle @ ways[1]).max())


def evenly(line: Grid, count: int) -> Grid:
    """Return so many places along a line (places, 2), equally far apart along it."""
    far = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(line, axis=0).T))])
    at = np.linspace(0, far[-1], count)
    return np.stack([np.interp(at, far, line[:, k]) for k in (0, 1)], axis=1)
