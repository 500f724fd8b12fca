"""Pieces that fit each other edge to edge, as those of one sheet that was cut apart: put together again by their corners.

If nothing is to be left over, the foremost corner of what is still free, in any one direction, belongs to the foremost corner
of some piece. So there is one place for each piece at a time, and what doesn't lie in the free cloth is out. The piece that has
most of its edge against what is there is tried first. Where edges lie nearly square to the direction, which corner is foremost
is a matter of a hair: then another direction is taken. It finds a lay without waste or, after so many tries, nothing.
"""

from __future__ import annotations

import math
import time
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import MultiPolygon, Polygon, box

from zonatome.core.lay.engines.protocol import Found, Stopped
from zonatome.core.lay.geometry.every_pair import Halted
from zonatome.core.lay.geometry.nesting_table import Ways
from zonatome.core.lay.request import LayRequest, Panels
from zonatome.core.lay.search.compaction import Press
from zonatome.core.outline import Point

SLIVER = 0.25  # mm: half of what is so thin that no piece is meant for it
NEAR = 0.5  # mm within which two corners or edges are one
GIVES = (0.0, 0.01, 0.02, 0.03, 0.045)  # mm that edges measured a hair too long may lie over each other; the check lets 0.05 pass
DIRECTIONS = (0.21, -0.37, 0.65, 0.1, 1.02, -0.65)  # radians from the roll's: none that edges often are square to
MOST_TRIES = 220  # free figures that are looked at in each direction, and as many as there are pieces twice
MOST_PIECES = 160
MOST_TIME = 0.3  # of the time it is given
PROMISE, AT_LEAST = 0.3, 2  # of the pieces that must have fitted in one of so many directions for another one to be worth a try
FULL = 0.02  # of the roll that may be left over, for edges that were measured a little short


@dataclass(frozen=True)
class _Cut:
    """A way of a piece: its figure with its foremost corner at (0, 0)."""

    number: int
    way: int
    figure: Polygon
    corner: Point  # from the corner of its box


class Fitted:
    """The engine for pieces that leave nothing between them."""

    name = "fitted"

    def takes(self, request: LayRequest) -> bool:
        """Take plain rolls without a gap, with a few to many pieces, not all of them rectangles (rows are better at those)."""
        few = 3 <= request.piece_count <= MOST_PIECES
        shaped = any(p.outline.area < 0.999 * p.outline.width * p.outline.height for p in request.pieces)
        return few and shaped and request.gap == 0 and request.is_plain and not request.strips and not isinstance(request.cloth, Panels)

    def search(self, request: LayRequest, *, seconds: float, seed: int, stopped: Stopped, effort: float = 0.0) -> Iterator[Found | None]:
        """Yield the lay without waste where there is one and it is found; `seed` has no say in it."""
        until = time.monotonic() + MOST_TIME * seconds
        try:
            ways = Ways(request, stopped=lambda: stopped() or time.monotonic() > until)
        except Halted:
            return
        found, promise = None, 0.0
        for number, direction in enumerate(DIRECTIONS):
            if found is None and (number < AT_LEAST or promise > PROMISE):
                puzzle = _Puzzle(ways, lambda: stopped() or time.monotonic() > until, direction)
                found = puzzle.solved()
                promise = max(promise, puzzle.deepest / len(ways.items))
            yield None
        if found is None:
            return
        x, y = np.zeros(len(ways.items)), np.zeros(len(ways.items))
        way = np.full(len(ways.items), -1, dtype=np.int64)
        free = {number: [k for k, item in enumerate(ways.items) if item[0] == number] for number in range(len(request.pieces))}
        for cut, at in found:
            item = free[cut.number].pop(0)
            x[item], y[item], way[item] = at[0] - cut.corner[0], at[1] - cut.corner[1], cut.way
        roll = request.roll
        over = np.maximum(0.0, ways.table.height[way] - roll.usable) / 2  # one across the whole roll, measured a hair too wide
        y = np.clip(y, roll.low - over, np.maximum(roll.low - over, roll.high + over - ways.table.height[way]))
        pressed = next((p for p in (Press(ways, give=give).pressed(x, y, way) for give in GIVES) if p is not None), None)
        if pressed is not None:
            yield tuple(ways.placement(k, float(pressed[0][k]), float(pressed[1][k]), int(way[k])) for k in range(len(way)))


class _Puzzle:
    """What is free, and the pieces that are left."""

    def __init__(self, ways: Ways, stopped: Stopped, direction: float) -> None:
        self.stopped, self.tries, self.ahead = stopped, 0, (math.cos(direction), math.sin(direction))
        request = ways.request
        roll = request.roll
        self.cuts = [self._cut(ways, number, way) for number, of in enumerate(ways.of_piece) for way in of]
        self.left = Counter({number: piece.count for number, piece in enumerate(request.pieces) if len(ways.of_piece[number])})
        area = sum(request.pieces[number].outline.area * count for number, count in self.left.items())
        self.spare, self.deepest = 1.5 * FULL * area, 0
        self.most = MOST_TRIES + 2 * sum(self.left.values())
        self.free = box(0.0, roll.low, area / roll.usable * (1 + FULL), roll.high)

    def solved(self) -> list[tuple[_Cut, Point]] | None:
        """The pieces in the order in which they were put, each with where its corner lies; None where none was found."""
        placed: list[tuple[_Cut, Point]] = []
        return placed if self._put(self.free, placed) else None

    def _put(self, free: shapely.Geometry, placed: list[tuple[_Cut, Point]]) -> bool:
        if not self.left:
            return True
        self.tries += 1
        self.deepest = max(self.deepest, len(placed))
        if self.tries > self.most or self.stopped():
            return False
        parts = free.geoms if isinstance(free, MultiPolygon) else [free]
        at = self._foremost([c for p in parts for c in p.exterior.coords[:-1]])
        room = free.buffer(NEAR, join_style="mitre")
        shapely.prepare(room)
        edge = free.boundary.buffer(NEAR)
        waiting = []
        for cut in self.cuts:
            if self.left[cut.number]:
                lying = shapely.affinity.translate(cut.figure, *at)
                if room.covers(lying):
                    waiting.append((float(lying.boundary.intersection(edge).length) / float(lying.length), cut, lying))
        waiting.sort(key=lambda w: (-round(w[0], 6), w[1].way))
        for _, cut, lying in waiting:
            rest = (
                free.difference(lying)
                .buffer(-SLIVER, join_style="mitre", mitre_limit=40)
                .buffer(SLIVER, join_style="mitre", mitre_limit=40)
            )
            if self._wasted(rest):
                continue
            if self.stopped():
                return False
            self.left[cut.number] -= 1
            if not self.left[cut.number]:
                del self.left[cut.number]
            placed.append((cut, at))
            if self._put(rest, placed):
                return True
            placed.pop()
            self.left[cut.number] += 1
            if self.tries > self.most:
                return False
        return False

    def _wasted(self, rest: shapely.Geometry) -> bool:
        """Whether a free part is smaller than every piece that is left: more waste than there may be."""
        parts = rest.geoms if isinstance(rest, MultiPolygon) else [rest]
        least = min((c.figure.area for c in self.cuts if self.left[c.number]), default=0.0)
        return bool(sum(p.area for p in parts if p.area < 0.98 * least) > self.spare)

    def _foremost(self, points: list[Point]) -> Point:
        x, y = min(points, key=lambda p: p[0] * self.ahead[0] + p[1] * self.ahead[1])
        return x, y

    def _cut(self, ways: Ways, number: int, way: int) -> _Cut:
        figure = shapely.union_all([Polygon(part) for part in ways.ways[way].parts])
        outline = Polygon(figure.exterior) if isinstance(figure, Polygon) else Polygon(figure.convex_hull)
        x, y = self._foremost(list(outline.exterior.coords[:-1]))
        return _Cut(number, way, shapely.affinity.translate(outline, -x, -y), (x, y))
