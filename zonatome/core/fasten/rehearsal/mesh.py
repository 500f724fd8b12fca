"""A sheet of cloth parted into triangles. Lengths in mm."""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np
import shapely
from numpy.typing import NDArray

from zonatome.core.errors import BadInput
from zonatome.core.lazily import Lazily
from zonatome.core.outline import Point

if TYPE_CHECKING:
    from scipy import sparse, spatial
else:
    sparse, spatial = Lazily("scipy.sparse"), Lazily("scipy.spatial")

Grid = NDArray[np.float64]
Numbers = NDArray[np.int64]
MOST_NODES = 4000
FROM_EDGE = 0.55  # of the spacing: how near a row of places inside may come to the edge
MOST_OF_IT = 0.8  # of a sheet: a piece so large is the sheet, the others are off
LEAST_ANGLE = 1e-3  # of its longest side's square: a triangle of less area is no triangle


@dataclass(frozen=True)
class Mesh:
    """The places (nodes, 2) and the corners of the triangles (triangles, 3), anticlockwise."""

    nodes: Grid
    triangles: Numbers

    @cached_property
    def areas(self) -> Grid:
        """The area of every triangle."""
        a, b, c = (self.nodes[self.triangles[:, k]] for k in range(3))
        return np.asarray(((b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (c[:, 0] - a[:, 0]) * (b[:, 1] - a[:, 1])) / 2)

    @cached_property
    def strains(self) -> sparse.csc_array:
        """From the moves of all places, x and y in turn, to the strains along x of all triangles, then along y, then
        slant: (3 triangles, 2 nodes). Constant over each.

        Source: the constant-strain triangle (Turner and others, 1956).
        """
        x, y = self.nodes[self.triangles, 0], self.nodes[self.triangles, 1]
        after, before = np.array([1, 2, 0]), np.array([2, 0, 1])
        by_x = (y[:, after] - y[:, before]) / (2 * self.areas[:, None])
        by_y = (x[:, before] - x[:, after]) / (2 * self.areas[:, None])
        count = len(self.triangles)
        row = np.repeat(np.arange(count)[:, None], 3, axis=1)
        of_x, of_y = 2 * self.triangles, 2 * self.triangles + 1
        values = np.stack([by_x, by_y, by_y, by_x])
        rows = np.stack([row, row + count, row + 2 * count, row + 2 * count])
        columns = np.stack([of_x, of_y, of_x, of_y])
        shape = (3 * count, 2 * len(self.nodes))
        return sparse.csc_array((values.ravel(), (rows.ravel(), columns.ravel())), shape=shape)

    @cached_property
    def middles(self) -> Grid:
        """The middle of every triangle."""
        return np.asarray(self.nodes[self.triangles].mean(axis=1))

    @cached_property
    def shares_of_area(self) -> Grid:
        """How much of the sheet belongs to every place."""
        found = np.zeros(len(self.nodes))
        np.add.at(found, self.triangles.ravel(), np.repeat(self.areas / 3, 3))
        return found

    @cached_property
    def _tree(self) -> shapely.STRtree:
        return shapely.STRtree(shapely.polygons(self.nodes[self.triangles]))

    def within(self, places: Grid) -> tuple[Numbers, Grid]:
        """Return the triangle that each place (places, 2) lies in or next to, and the shares of its three corners."""
        number = self._tree.nearest(shapely.points(places))
        a, b, c = (self.nodes[self.triangles[number, k]] for k in range(3))
        whole = 2 * self.areas[number]
        u = ((b[:, 1] - c[:, 1]) * (places[:, 0] - c[:, 0]) + (c[:, 0] - b[:, 0]) * (places[:, 1] - c[:, 1])) / whole
        v = ((c[:, 1] - a[:, 1]) * (places[:, 0] - c[:, 0]) + (a[:, 0] - c[:, 0]) * (places[:, 1] - c[:, 1])) / whole
        shares = np.clip(np.stack([u, v, 1 - u - v], axis=1), 0, 1)
        return np.asarray(number), np.asarray(shares / shares.sum(axis=1, keepdims=True))

    def carrying(self, places: Grid) -> sparse.csc_array:
        """Return the map from the moves of all nodes to those of places, x and y in turn: (2 places, 2 nodes)."""
        number, shares = self.within(places)
        rows = np.repeat(2 * np.arange(len(places)), 3)
        columns = 2 * self.triangles[number].ravel()
        values = np.concatenate([shares.ravel()] * 2)
        shape = (2 * len(places), 2 * len(self.nodes))
        return sparse.csc_array(
            (values, (np.concatenate([rows, rows + 1]), np.concatenate([columns, columns + 1]))), shape=shape
        )


def mesh_of(
    outline: tuple[Point, ...],
    spacing: float,
    *,
    holes: tuple[tuple[Point, ...], ...] = (),
    slits: tuple[tuple[Point, Point], ...] = (),
) -> Mesh:
    """Return the triangles of a sheet: its outline and holes parted at the spacing, rows of places inside; a slit parts
    it. Even about the middle of the outline, so that a mirrored sheet has mirrored triangles.

    Raises BadInput for an outline that leaves nothing, or more than 4,000 places.
    """
    sheet = shapely.Polygon(outline)
    if holes:  # one that reaches over the edge is a notch of it
        sheet = sheet.difference(shapely.union_all([shapely.Polygon(hole) for hole in holes]))
    if slits:  # as narrow as a knife
        sheet = sheet.difference(
            shapely.union_all([shapely.LineString(s).buffer(spacing / 40, cap_style="flat") for s in slits])
        )
    if sheet.geom_type == "MultiPolygon":  # a corner that cuts part off from the rest is no part of the sheet
        most = max(sheet.geoms, key=lambda one: one.area)
        sheet = most if most.area >= MOST_OF_IT * sheet.area else sheet
    if sheet.is_empty or sheet.geom_type != "Polygon" or sheet.area < 4 * spacing**2:
        raise BadInput("outline", f"{sheet.area:.0f} mm2", "a sheet in one piece")
    if sheet.area / spacing**2 > MOST_NODES:
        raise BadInput("spacing", spacing, f"a spacing that gives at most {MOST_NODES} places")
    edge = np.concatenate([_parted(ring, spacing) for ring in (sheet.exterior, *sheet.interiors)])
    x0, y0, x1, y1 = sheet.bounds
    middle = np.array([(x0 + x1) / 2, (y0 + y1) / 2])
    high = spacing * np.sqrt(3) / 2
    rows, columns = int((y1 - y0) / high / 2) + 2, int((x1 - x0) / spacing / 2) + 2
    inside = []
    for row in range(-rows, rows + 1):
        steps = np.arange(-columns, columns + 1) if row % 2 == 0 else np.arange(-columns, columns) + 0.5
        inside.append(middle + np.stack([steps * spacing, np.full(len(steps), row * high)], axis=1))
    places = np.concatenate(inside)
    kept = shapely.contains_xy(sheet.buffer(-FROM_EDGE * spacing), places[:, 0], places[:, 1])
    nodes = np.concatenate([edge, places[kept]])
    corners = spatial.Delaunay(nodes).simplices.astype(np.int64)
    a, b, c = (nodes[corners[:, k]] for k in range(3))
    twice = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (c[:, 0] - a[:, 0]) * (b[:, 1] - a[:, 1])
    corners[twice < 0] = corners[twice < 0][:, ::-1]
    longest = np.max([np.sum((p - q) ** 2, axis=1) for p, q in ((a, b), (b, c), (c, a))], axis=0)
    mid = nodes[corners].mean(axis=1)
    whole = (np.abs(twice) > LEAST_ANGLE * longest) & shapely.contains_xy(sheet, mid[:, 0], mid[:, 1])
    corners = corners[whole]
    used, number = np.unique(corners, return_inverse=True)
    return Mesh(nodes[used], number.reshape(corners.shape))


def _parted(ring: shapely.LinearRing, spacing: float) -> Grid:
    """The places along a ring, its own corners among them, without the last, which is the first."""
    found = []
    points = np.array(ring.coords)
    for a, b in itertools.pairwise(points):
        long = float(np.hypot(*(b - a)))
        count = max(1, round(long / spacing))
        found.append(a + (b - a) * (np.arange(count) / count)[:, None])
    return np.concatenate(found)
