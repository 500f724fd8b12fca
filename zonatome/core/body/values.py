"""A body: the furniture as it stands in the room, its panels as patches of surface. Lengths in mm.

The furniture's frame is the sitter's: x toward the sitter's left, y toward the back, z up; the floor is z = 0, the
front edge of the seat y = 0, the middle x = 0. Whoever stands before it has x on the right.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

Grid = NDArray[np.float64]  # (rows, columns, 3), or 2 for places on a flat panel
Curve = NDArray[np.float64]  # (points, 3)
Stuff = Literal["wood", "metal", "plastic", "board", "bare", "webbing", "foam", "wadding"]
TrimSort = Literal["welt", "double_welt", "gimp", "nails", "buttons"]


@dataclass(frozen=True)
class Patch:
    """A panel of the cover as it lies on the furniture.

    `points` is a grid of places, rows going up in the panel's own frame, columns to its right as one looks at its face;
    `flat` has each one's place on the finished panel, from its middle, along the surface. The face is where across × up
    points. `bare` is what is seen when it is off.
    """

    key: str
    points: Grid
    flat: Grid
    bare: Stuff = "bare"
    is_loose: bool = False

    @cached_property
    def cells(self) -> Grid:
        """The four corners of every cell, anticlockwise from its lower left: (cells, 4, 3)."""
        return corners_of(self.points)

    @cached_property
    def middles(self) -> Grid:
        """The middle of every cell: (cells, 3)."""
        return np.asarray(self.cells.mean(axis=1))

    @cached_property
    def flat_cells(self) -> Grid:
        """The same corners on the flat panel: (cells, 4, 2)."""
        return corners_of(self.flat)

    @cached_property
    def normals(self) -> Grid:
        """The way out of every cell, of length 1: (cells, 3)."""
        return way_out(self.cells)

    @cached_property
    def area(self) -> float:
        """Its area on the furniture, mm2."""
        corners = self.cells
        across, up = corners[:, 2] - corners[:, 0], corners[:, 3] - corners[:, 1]
        return float(np.linalg.norm(crossed(across, up), axis=1).sum() / 2)

    @property
    def across(self) -> float:
        """How far it is across its middle, along the surface."""
        row = self.flat[self.flat.shape[0] // 2, :, 0]
        return float(row[-1] - row[0])

    @property
    def up(self) -> float:
        """How far it is up its middle, along the surface."""
        column = self.flat[:, self.flat.shape[1] // 2, 1]
        return float(column[-1] - column[0])

    def side(self, name: str) -> Curve:
        """Return a side of it as it runs: bottom left to right, right upward, top right to left, left downward."""
        sides: dict[str, Curve] = {
            "bottom": self.points[0],
            "right": self.points[:, -1],
            "top": self.points[-1, ::-1],
            "left": self.points[::-1, 0],
        }
        return sides[name]

    def at(self, x: float, y: float) -> tuple[Curve, Curve]:
        """Return where a place of the flat panel, from its middle, lies on the furniture, and the way out there.

        A place beyond its edge is taken to the nearest cell and carried on from there.
        """
        cell = int(np.argmin(np.hypot(*(self.flat_cells.mean(axis=1) - (x, y)).T)))
        return carried(self.flat_cells[cell], self.cells[cell], np.array([[x, y]]))[0], self.normals[cell]

    def moved(self, by: Curve) -> Patch:
        """Return it moved."""
        return replace(self, points=self.points + by)


def corners_of(grid: Grid) -> Grid:
    """Return the corners of the cells of a grid, anticlockwise from the lower left: (cells, 4, 2 or 3)."""
    quads = np.stack([grid[:-1, :-1], grid[:-1, 1:], grid[1:, 1:], grid[1:, :-1]], axis=2)
    return quads.reshape(-1, 4, grid.shape[2])


def way_out(cells: Grid) -> Grid:
    """Return the unit normals of cells, toward their faces; of a cell that is no area, none."""
    out = crossed(cells[:, 2] - cells[:, 0], cells[:, 3] - cells[:, 1])
    return np.asarray(out / np.maximum(np.sqrt(np.vecdot(out, out)), 1e-9)[:, None])


def crossed(a: Grid, b: Grid) -> Grid:
    """Return a × b of ways, (…, 3); quicker for few than numpy's own, which takes any axis."""
    out = np.empty_like(a)
    out[..., 0] = a[..., 1] * b[..., 2] - a[..., 2] * b[..., 1]
    out[..., 1] = a[..., 2] * b[..., 0] - a[..., 0] * b[..., 2]
    out[..., 2] = a[..., 0] * b[..., 1] - a[..., 1] * b[..., 0]
    return out


def carried(flat: Grid, there: Grid, places: Grid) -> Grid:
    """Return places of the flat panel carried onto the furniture by the affine map that is nearest to one cell's own.

    `flat` (4, 2) and `there` (4, 3) are the cell's corners, `places` (n, 2).
    """
    middle, home = flat.mean(axis=0), there.mean(axis=0)
    way, *_ = np.linalg.lstsq(flat - middle, there - home, rcond=None)
    return np.asarray((places - middle) @ way + home)


@dataclass(frozen=True)
class Solid:
    """What is no panel: legs, show wood, frames, tubes, shells; flat faces (faces, 4, 3), what it is made of. Where a
    panel's cloth goes on over it, it looks `like` that panel.
    """

    key: str
    faces: Grid
    stuff: Stuff = "wood"
    is_loose: bool = False
    like: str = ""


@dataclass(frozen=True)
class TrimLine:
    """A trim along a line of a panel, as thick as it is: (points, 3)."""

    key: str
    panel: str
    points: Curve
    sort: TrimSort = "welt"
    thick: float = 7.0


@dataclass(frozen=True)
class Body:
    """The whole of it: patches by panel, what is no cloth, trims along their lines; how deep the furniture is."""

    patches: tuple[Patch, ...]
    solids: tuple[Solid, ...] = ()
    lines: tuple[TrimLine, ...] = ()
    measures: Mapping[str, float] = field(default_factory=dict)

    @cached_property
    def by_key(self) -> dict[str, Patch]:
        """The patches by their panel."""
        return {patch.key: patch for patch in self.patches}

    @cached_property
    def bounds(self) -> tuple[Curve, Curve]:
        """The least and the most of x, y, z."""
        places = [p.points.reshape(-1, 3) for p in self.patches] + [s.faces.reshape(-1, 3) for s in self.solids]
        every = np.concatenate(places)
        return every.min(axis=0), every.max(axis=0)

    def loosened(self) -> Body:
        """Return the body with what lies there loose, as a cushion does, put down before it."""
        by = np.array([0.0, -1.25 * (self.bounds[1][1] - self.bounds[0][1]), 0.0])
        return replace(
            self,
            patches=tuple(p.moved(by) if p.is_loose else p for p in self.patches),
            solids=tuple(replace(s, faces=s.faces + by) if s.is_loose else s for s in self.solids),
            lines=tuple(
                replace(t, points=t.points + by) if t.panel in self.by_key and self.by_key[t.panel].is_loose else t
                for t in self.lines
            ),
        )
