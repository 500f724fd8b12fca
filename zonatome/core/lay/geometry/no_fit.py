"""Where one outline may not lie: no-fit polygons, and their table of rows.

**No-fit polygon** of A and B: the places of B's reference point, A's at (0, 0), at which they would lie nearer
than the gap. It is the Minkowski sum of A and the mirrored B, grown by the gap; here the union of the sums of
their convex parts. **Ground** of B: the places at which B lies on the cloth, clear of flaws and of what is pinned.
**Rows**: either is cut into bands between the heights of its corners; in a band every stretch lies between two
straight sides, so that the stretches at any height come from a search and a line each, exactly.

A reference point is the least corner of the box about an outline.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely
import shapely.affinity
from shapely.geometry import Polygon, box
from shapely.geometry.base import BaseGeometry
from shapely.geometry.polygon import orient

from zonatome.core.arrays import Floats, Ints
from zonatome.core.lay.kernel.bands import FLAT, HAIR, bands_between
from zonatome.core.lay.kernel.sums import sum_into
from zonatome.core.outline import Outline

ARC = 0.015  # mm by which a straight step of an arc may cut into the gap
COARSE = 0.12  # mm within which an outline of many points is simplified, outward only
COARSER = (0.25, 0.5, 1.0, 2.0, 4.0, 8.0)  # mm, for what still has more than MOST_CORNERS
MORE = 1.05  # times as much is it grown where that was not enough
MANY_POINTS = 24
MOST_CORNERS = 64
GRID = 1e-4  # mm
EIGHT = np.array([(1, 0), (1, 1), (0, 1), (-1, 1), (-1, 0), (-1, -1), (0, -1), (1, -1)], dtype=np.float64)


@dataclass(frozen=True)
class Bands:
    """The bands of a plane figure: `levels` between them (k + 1), and for each the stretches, left and right side.

    `first[b]` to `first[b + 1]` are band b's stretches; a side is its x at the band's lower level and its slope.
    """

    levels: Floats
    first: Ints
    sides: Floats  # shape (stretches, 4): left x, left slope, right x, right slope

    @property
    def is_empty(self) -> bool:
        """Whether there is nothing."""
        return len(self.levels) == 0

    def chord(self, y: float) -> float:
        """How much of a line at a height lies in the figure."""
        if self.is_empty or not self.levels[0] < y < self.levels[-1]:
            return 0.0
        band = int(np.searchsorted(self.levels, y, side="right")) - 1
        here, up = self.sides[self.first[band] : self.first[band + 1]], y - self.levels[band]
        return float((here[:, 2] + here[:, 3] * up - here[:, 0] - here[:, 1] * up).sum())


def convex_parts(outline: Outline) -> list[Floats]:
    """Return convex polygons that make up an outline, of shape (n, 2), anticlockwise.

    Triangles are joined to their neighbours while the result stays convex. Source: Hertel and Mehlhorn 1983.
    """
    polygon = outline.polygon
    if polygon.convex_hull.area - polygon.area < 1e-6 * polygon.area:
        return [_corners(polygon.convex_hull)]
    parts = [g for g in shapely.constrained_delaunay_triangles(polygon).geoms if g.area > 1e-9]
    parts.sort(key=lambda g: -g.area)
    joined = True
    while joined:
        joined = False
        for i, one in enumerate(parts):
            for j in range(i + 1, len(parts)):
                other = parts[j]
                if not one.touches(other) and not one.intersects(other):
                    continue
                both = one.union(other)
                if both.geom_type == "Polygon" and both.convex_hull.area - both.area < 1e-7 * both.area + 1e-6:
                    parts[i] = both.convex_hull
                    del parts[j]
                    joined = True
                    break
            if joined:
                break
    return [_corners(g.convex_hull) for g in parts]


def eight_sided(outline: Outline) -> Floats:
    """Return the least polygon about an outline whose sides run level, upright or at 45 degrees, anticlockwise."""
    points = np.asarray(outline.points)
    reach = (points @ EIGHT.T).max(axis=0)
    following = np.roll(EIGHT, -1, axis=0)
    cross = EIGHT[:, 0] * following[:, 1] - EIGHT[:, 1] * following[:, 0]
    beyond = np.roll(reach, -1)
    corners = np.column_stack([
        (reach * following[:, 1] - beyond * EIGHT[:, 1]) / cross,
        (EIGHT[:, 0] * beyond - following[:, 0] * reach) / cross,
    ])  # fmt: skip
    kept: Floats = corners[np.hypot(*(corners - np.roll(corners, 1, axis=0)).T) > GRID]
    return kept


def _corners(polygon: Polygon) -> Floats:
    return np.asarray(orient(polygon).exterior.coords[:-1], dtype=np.float64)


def coarse(outline: Outline) -> Outline:
    """Return the outline with fewer points where it has many, nowhere smaller, at most 0.25 mm larger.

    One that is pinked or frayed all round, with more than MOST_CORNERS corners even then, is taken with its teeth
    filled; one with deep teeth too is taken as its hull.
    """
    if len(outline.points) <= MANY_POINTS:
        return outline
    made = _within(outline, COARSE)
    for coarser in COARSER:
        if len(made.points) <= MOST_CORNERS:
            break
        made = _within(outline, coarser)
    return made if len(made.points) <= 2 * MOST_CORNERS else hull_of(outline)


def hull_of(outline: Outline) -> Outline:
    """Return the convex hull of an outline."""
    return Outline(tuple(orient(outline.polygon.convex_hull).exterior.coords[:-1]))


def _within(outline: Outline, within: float) -> Outline:
    """The outline grown by so much or a little more and simplified by as much, nowhere smaller; as it is where that
    makes nothing simpler, or takes something off: GEOS may leave a corner farther away than it was asked to.
    """
    for more in (1.0, MORE):
        grown = outline.polygon.buffer(more * within, join_style="mitre", mitre_limit=2).simplify(within)
        if within > COARSE:
            grown = grown.intersection(box(*outline.bounds))  # as wide as the cloth it stays as wide as the cloth
        if grown.geom_type != "Polygon" or not grown.is_valid or len(grown.exterior.coords) > len(outline.points):
            return outline
        if grown.buffer(GRID).covers(outline.polygon):
            return Outline(tuple(orient(grown).exterior.coords[:-1]))
    return outline


def minkowski(parts: Sequence[Floats], others: Sequence[Floats]) -> BaseGeometry:
    """Return the Minkowski sum of two figures given by their convex parts, each anticlockwise.

    On a grid: where sides all but coincide, GEOS otherwise raises, or leaves a whole part out without a word.
    """
    sums = _polygons_of([convex_sum(a, b) for a in parts for b in others])
    return sums[0] if len(sums) == 1 else shapely.union_all(sums, grid_size=GRID)


def _polygons_of(rings: Sequence[Floats]) -> Any:
    """All rings as polygons, at once."""
    corners = np.repeat(np.arange(len(rings)), [len(r) for r in rings])
    return shapely.polygons(shapely.linearrings(np.concatenate(rings), indices=corners))


def convex_sum(one: Floats, other: Floats) -> Floats:
    """Return the sum of two convex polygons, anticlockwise; a side of two points counts as a polygon."""
    out = np.empty((len(one) + len(other), 2))
    sum_into(one, other, 1.0, out)
    return out


def grown_by(figure: BaseGeometry, gap: float) -> BaseGeometry:
    """Return a figure grown by the gap, less a hair; without a gap it is made smaller by the hair."""
    grown: BaseGeometry = _grown(figure, gap)
    return grown


def _grown(figures: Any, gap: float) -> Any:
    if gap <= HAIR:
        return shapely.buffer(figures, -HAIR, join_style="mitre")
    # the buffer's arcs are cut short into steps of up to one and a half times the angle asked for
    return shapely.buffer(figures, gap - HAIR, quad_segs=math.ceil(1.5 * arc_steps(gap)))


def arc_steps(gap: float) -> int:
    """Return in how many steps a quarter of a circle about a corner is cut, so that none cuts into the gap by more
    than ARC.
    """
    return max(2, math.ceil(math.pi / 4 / math.acos(max(0.0, 1 - ARC / gap))))


def no_fits(pairs: Sequence[tuple[Sequence[Floats], Sequence[Floats]]], gap: float) -> list[BaseGeometry]:
    """Return `no_fit` of many pairs of figures in convex parts: far sooner than one by one, since GEOS has them all at
    once.
    """
    if not pairs:
        return []
    sums = [[convex_sum(a, -b) for a in parts for b in others] for parts, others in pairs]
    polygons = _polygons_of([s for one in sums for s in one])
    counts = np.array([len(one) for one in sums])
    table = np.full((len(sums), counts.max()), None, dtype=object)
    table[np.arange(counts.max()) < counts[:, None]] = polygons
    return list(_grown(shapely.union_all(table, axis=1, grid_size=GRID), gap))


def no_fit(parts: Sequence[Floats], others: Sequence[Floats], gap: float) -> BaseGeometry:
    """Return where the second's reference point may not be, the first's at (0, 0)."""
    return grown_by(minkowski(parts, [-b for b in others]), gap)


def inner_fit_on_panel(panel: Outline, parts: Sequence[Floats]) -> BaseGeometry:
    """Return where the reference point may be for all of a figure to lie on a panel.

    Its first corner must lie on the panel, and no side of the panel may cross it.
    """
    room = panel.polygon.buffer(HAIR, join_style="mitre")
    ring = np.asarray(room.exterior.coords)
    sides = [np.array([a, b]) for a, b in itertools.pairwise(ring)]
    crossing = minkowski(sides, [-p for p in parts])
    corner = parts[0][0]
    return shapely.affinity.translate(room, -corner[0], -corner[1]).difference(crossing)


def inner_fit_on_roll(low: float, high: float, height: float, longest: float) -> Floats | None:
    """Return the box in which the reference point of something so high may be on a roll; None where it is too wide."""
    room = high - low - height
    if room < -HAIR:
        return None
    middle = (low + high - height) / 2
    return np.array([-HAIR / 2, middle - max(room, HAIR) / 2, longest, middle + max(room, HAIR) / 2])


def beside_boxes(room: Floats, boxes: Floats) -> Bands:
    """Return what boxes leave of a room, both as least x and y, greatest x and y, in mm."""
    low, high = room[:2], room[2:]
    least, most = np.clip(boxes[:, :2], low, high), np.clip(boxes[:, 2:], low, high)
    least[least - low < GRID] = np.broadcast_to(low, least.shape)[least - low < GRID]
    most[high - most < GRID] = np.broadcast_to(high, most.shape)[high - most < GRID]
    xs, ys = (np.unique([low[k], high[k], *least[:, k], *most[:, k]]) for k in (0, 1))
    starts, ends = ((np.searchsorted(ys, c[:, 1]), np.searchsorted(xs, c[:, 0])) for c in (least, most))
    change = np.zeros((len(ys), len(xs)), dtype=np.int32)
    for sign, rows, columns in ((1, 0, 0), (-1, 1, 0), (-1, 0, 1), (1, 1, 1)):
        np.add.at(change, ((starts, ends)[rows][0], (starts, ends)[columns][1]), sign)
    free = change.cumsum(axis=0, dtype=np.int32).cumsum(axis=1, dtype=np.int32)[:-1, :-1] == 0
    kept = np.concatenate([[True], (free[1:] != free[:-1]).any(axis=1)])  # of rows alike the first begins their band
    edges = np.diff(np.pad(free[kept], ((0, 0), (1, 1))).astype(np.int8), axis=1)
    (row, begin), (_, end) = np.nonzero(edges == 1), np.nonzero(edges == -1)
    first = np.concatenate([[0], np.cumsum(np.bincount(row, minlength=int(kept.sum())))])
    level = np.concatenate([ys[:-1][kept], ys[-1:]])
    flat = np.zeros(len(begin))
    return Bands(level, first.astype(np.int64), np.column_stack([xs[begin], flat, xs[end], flat]))


def bands_of(figure: BaseGeometry) -> Bands:
    """Return a figure's table of rows. It may have several parts and holes."""
    rings = [r for polygon in _polygons(figure) for r in (polygon.exterior, *polygon.interiors)]
    if not rings:
        return Bands(np.empty(0), np.zeros(1, dtype=np.int64), np.empty((0, 4)))
    ends = [np.asarray(r.coords) for r in rings]
    starts, stops = np.concatenate([e[:-1] for e in ends]), np.concatenate([e[1:] for e in ends])
    upward = starts[:, 1] <= stops[:, 1]
    low, high = np.where(upward[:, None], starts, stops), np.where(upward[:, None], stops, starts)
    level = np.unique(np.concatenate([low[:, 1], high[:, 1]]))
    level = level[np.concatenate([[True], np.diff(level) > FLAT])]
    first, sides = bands_between(low, high, level)
    return Bands(level, first, sides)


def _polygons(figure: BaseGeometry) -> Iterable[Polygon]:
    parts = getattr(figure, "geoms", [figure])
    return [p for p in parts if p.geom_type == "Polygon" and not p.is_empty]
