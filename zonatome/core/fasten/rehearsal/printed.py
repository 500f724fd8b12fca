"""What a cloth shows on its panel, and the marks on it: where they lie before any staple, and how far they are moved.

Lengths in mm, in the panel's own frame, face up.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from zonatome.core.fasten.rehearsal.sheet import Board, Pin, Sheet, State
from zonatome.core.fasten.rehearsal.weave import Grid
from zonatome.core.lay.pattern.centring import PatternTile, tile_of
from zonatome.core.lay.request import Repeat
from zonatome.core.lay.table.on_a_panel import Affine, moved_by
from zonatome.core.outline import Outline, Point

UP_THE_ROLL: Affine = (0.0, -1.0, 1.0, 0.0, 0.0, 0.0)  # the roll's end up, a motif's middle on the panel's
EVERY = 12.0  # mm between two places of a figure's edge: so finely it bends with the cloth
MOST_FIGURES = 900  # a finer pattern is not drawn: its threads are
UNTOLD = 0.05  # mm: less is no way off


@dataclass(frozen=True)
class Mark:
    """A mark of the cloth that belongs on a mark of the board: its name, its place."""

    name: str
    at: Point


@dataclass(frozen=True)
class OffMark:
    """How far a mark is off its place: to the right and up as one looks at the panel, mm."""

    name: str
    right: float
    up: float

    @property
    def far(self) -> float:
        """How far it is off, mm."""
        return math.hypot(self.right, self.up)

    def words(self, *, stands: bool = False) -> str:
        """Return which way it is off, in words; nothing where it is in its place.

        >>> OffMark("front", 1.2, -0.01).words()
        '1.2 mm to the right'
        >>> OffMark("motif", -0.4, -2.0).words()
        '2.0 mm forward, 0.4 mm to the left'
        >>> OffMark("motif", 0.01, 3.0).words(stands=True)
        '3.0 mm up'
        """
        ways = ("up", "down") if stands else ("back", "forward")
        told = [
            (abs(self.up), f"{abs(self.up):.1f} mm {ways[self.up < 0]}"),
            (abs(self.right), f"{abs(self.right):.1f} mm to the {'left' if self.right < 0 else 'right'}"),
        ]
        return ", ".join(words for far, words in sorted(told, reverse=True) if far >= UNTOLD)


def warp_of(affine: Affine) -> float:
    """Return the angle at which the warp of a cloth runs on a panel, degrees from its x, 0 to 180.

    >>> warp_of(UP_THE_ROLL)
    90.0
    """
    return math.degrees(math.atan2(affine[1], affine[0])) % 180.0


def printed_on(edge: Outline, repeats: Sequence[Repeat], affine: Affine = UP_THE_ROLL) -> tuple[Grid, ...]:
    """Return the figures of a cloth's patterns as they lie on a panel, each closed, (places, 2), its places so close
    that it bends with the cloth; none where the pattern is so fine that they would be more than MOST_FIGURES.

    `affine` says how the cloth's frame lies on the panel about the middle of its edge, as a lay puts it there.
    """
    x0, y0, x1, y1 = edge.bounds
    middle = np.array([(x0 + x1) / 2, (y0 + y1) / 2])
    back = _back(affine)
    box = np.array([moved_by(back, (x - middle[0], y - middle[1])) for x in (x0, x1) for y in (y0, y1)])
    low, high = box.min(axis=0), box.max(axis=0)
    found: list[Grid] = []
    for repeat in repeats:
        tile = tile_of(repeat)
        tiles = _tiles(tile, repeat, low, high)
        if len(tiles) * len(tile.figures) > MOST_FIGURES:  # refused before they are made
            return ()
        for dx, dy in tiles:
            for figure in tile.figures:
                lies = _along(np.array(figure) + np.array([dx, dy]), repeat, low, high)
                found.append(np.array([moved_by(affine, (x, y)) for x, y in lies.tolist()]) + middle)
    pad = edge.polygon
    return tuple(figure for figure in found if pad.intersects(shapely.Polygon(figure)))


def _tiles(tile: PatternTile, repeat: Repeat, low: Grid, high: Grid) -> list[Point]:
    """By how much the tile is moved to lie over a box; a stripe's only aside, since it goes on along itself."""
    begin = np.array([tile.x, tile.y])
    size = np.array([tile.width, tile.height])
    first, last = np.floor((low - begin) / size), np.floor((high - begin) / size)
    columns = [0] if repeat.along is None else range(int(first[0]), int(last[0]) + 1)
    rows = [0] if repeat.across is None else range(int(first[1]), int(last[1]) + 1)
    if len(columns) * len(rows) > MOST_FIGURES:
        return [(0.0, 0.0)] * (MOST_FIGURES + 1)
    return [(tile.x + column * tile.width, tile.y + row * tile.height) for column in columns for row in rows]


def _along(figure: Grid, repeat: Repeat, low: Grid, high: Grid) -> Grid:
    """A figure with places every few mm; a bar of a stripe drawn out over the box."""
    if repeat.along is None or repeat.across is None:
        axis = 0 if repeat.along is None else 1
        ends = np.where(figure[:, axis] <= figure[:, axis].mean(), low[axis], high[axis])
        figure = figure.copy()
        figure[:, axis] = ends
    ring = shapely.segmentize(shapely.LinearRing(figure), EVERY)
    return np.asarray(shapely.get_coordinates(ring)[:-1])


def motif_on(edge: Outline, repeat: Repeat, affine: Affine = UP_THE_ROLL) -> Mark:
    """Return the motif, or the stripe, whose middle lies nearest the middle of a panel."""
    x0, y0, x1, y1 = edge.bounds
    middle = ((x0 + x1) / 2, (y0 + y1) / 2)
    x, y = moved_by(_back(affine), (0.0, 0.0))
    if repeat.across:
        column = repeat.column(y)
        y = repeat.origin[1] + column * repeat.across
        if repeat.along:
            begin = repeat.origin[0] + repeat.drop * column * repeat.along
            x = begin + repeat.along * round((x - begin) / repeat.along)
    at = moved_by(affine, (x, y))
    return Mark("motif" if repeat.along else "stripe", (middle[0] + at[0], middle[1] + at[1]))


def _back(affine: Affine) -> Affine:
    """The affine that takes back what another does."""
    a, b, c, d, e, f = affine
    whole = a * d - b * c
    return d / whole, -b / whole, -c / whole, a / whole, (c * f - d * e) / whole, (b * e - a * f) / whole


def notches_of(board: Board, plan: Sequence[Pin]) -> tuple[Mark, ...]:
    """Return the notches that belong on the board's marks: the middle of every side that staples hold, on the line at
    which the cloth turns; of a round board at 12, 3, 6 and 9 o'clock.
    """
    sides: dict[str, list[Pin]] = {}
    for pin in plan:
        sides.setdefault(pin.side, []).append(pin)
    if any("o'clock" in side for side in sides):
        sides = {side: pins for side, pins in sides.items() if side in QUARTERS}
    line = shapely.LinearRing(board.edge.points)
    found = []
    for side, pins in sides.items():
        x, y = (sum(getattr(pin, axis) for pin in pins) / len(pins) for axis in "xy")
        foot = line.interpolate(line.project(shapely.Point(x, y)))
        found.append(Mark(side, (foot.x, foot.y)))
    return tuple(found)


QUARTERS = ("12 o'clock", "3 o'clock", "6 o'clock", "9 o'clock")


def marks_off(sheet: Sheet, state: State, marks: Sequence[Mark]) -> tuple[OffMark, ...]:
    """Return how far marks of the cloth are off their places, as the sheet lies."""
    if not marks:
        return ()
    moves = sheet.moved(np.array([mark.at for mark in marks]), state) - np.array([mark.at for mark in marks])
    return tuple(OffMark(mark.name, float(x), float(y)) for mark, (x, y) in zip(marks, moves.tolist(), strict=True))
