"""A shape: the finished outline of a panel, and how each of its edges is held.

Edges run anticlockwise, each from its start point to the next edge's; the join decides what is added
outside the finished line, and the cut line is the outline offset edge by edge.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from zonatome.core.errors import BadInput
from zonatome.core.outline import Outline, Point, crossings, offset_by_edge
from zonatome.core.survey.kind import Side
from zonatome.core.tolerances import SAME_LENGTH
from zonatome.core.trace.joins import JOINS, join_named

MOST_ADDED = 500.0  # no edge needs half a metre beyond its finished line


@dataclass(frozen=True)
class Edge:
    """A stretch of outline from point `start` to the next edge's start, with its join and what it adds."""

    name: str
    start: int
    join: str
    adds: float
    side: Side

    def __post_init__(self) -> None:
        """Refuse a join that is not in the table and an allowance that no edge has."""
        join_named(self.join, at=f"edges.{self.name}.join")
        if not (math.isfinite(self.adds) and 0 <= self.adds <= MOST_ADDED):
            raise BadInput(f"edges.{self.name}.adds", self.adds, f"0 to {MOST_ADDED:.0f} mm")


@dataclass(frozen=True)
class Notch:
    """A mark on the edge: where, the way out of the shape, what it means."""

    at: Point
    outward: Point
    means: str


@dataclass(frozen=True)
class Shape:
    """The flat shape of a panel, face up, its top toward +y."""

    name: str
    outline: Outline
    edges: tuple[Edge, ...]

    def __post_init__(self) -> None:
        """Refuse edges that do not follow each other round the outline."""
        starts = [edge.start for edge in self.edges]
        if not starts or starts != sorted(set(starts)) or starts[0] < 0 or starts[-1] >= len(self.outline.points):
            raise BadInput("edges", starts, f"rising start points from 0 to {len(self.outline.points) - 1}")

    def segments_of(self, number: int) -> tuple[int, ...]:
        """Return the segments of the outline that belong to one edge, in order."""
        n = len(self.outline.points)
        first = self.edges[number].start
        after = self.edges[(number + 1) % len(self.edges)].start
        count = (after - first) % n or n
        return tuple((first + k) % n for k in range(count))

    def edge_points(self, number: int) -> tuple[Point, ...]:
        """Return the points along one edge, both ends included."""
        n = len(self.outline.points)
        segments = self.segments_of(number)
        return tuple(self.outline.points[i] for i in (*segments, (segments[-1] + 1) % n))

    def edge_length(self, number: int) -> float:
        """Return the finished length of one edge."""
        points = self.edge_points(number)
        return sum(math.dist(a, b) for a, b in itertools.pairwise(points))

    @cached_property
    def cut_line(self) -> Outline:
        """The line that the shears follow."""
        allowances = [0.0] * len(self.outline.points)
        for number, edge in enumerate(self.edges):
            for segment in self.segments_of(number):
                allowances[segment] = edge.adds
        return offset_by_edge(self.outline, allowances)

    @property
    def notches(self) -> tuple[Notch, ...]:
        """The centre notches: where the middle lines of the shape meet its edge."""
        x0, y0, x1, y1 = self.outline.bounds
        mx, my, far = (x0 + x1) / 2, (y0 + y1) / 2, 10.0
        across = crossings(self.outline, (x0 - far, my), (x1 + far, my))
        upward = crossings(self.outline, (mx, y0 - far), (mx, y1 + far))
        made = []
        for ends, first, last in ((upward, (0.0, -1.0), (0.0, 1.0)), (across, (-1.0, 0.0), (1.0, 0.0))):
            if ends:
                made += [Notch(ends[0], first, "centre"), Notch(ends[-1], last, "centre")]
        return tuple(made)

    @property
    def halves_differ(self) -> float:
        """How far the two halves differ when folded on the centre line, in mm; 0 when within a tape's reading."""
        x0, _, x1, _ = self.outline.bounds
        folded = Outline(tuple((x0 + x1 - x, y) for x, y in reversed(self.outline.points)))
        apart = float(self.outline.polygon.hausdorff_distance(folded.polygon))
        return apart if apart > SAME_LENGTH else 0.0

    def with_edge(self, name: str, *, join: str, adds: float | None = None) -> Shape:
        """Return the shape with one edge held another way; without `adds`, the join's usual allowance."""
        if name not in {edge.name for edge in self.edges}:
            raise BadInput("edge", name, "one of " + ", ".join(e.name for e in self.edges))
        usual = join_named(join).adds if adds is None else adds
        return replace(self, edges=tuple(replace(e, join=join, adds=usual) if e.name == name else e for e in self.edges))

    def mirrored(self, name: str) -> Shape:
        """Return the shape for the partner of a pair: left and right swapped, top kept; edges keep their joins."""
        n = len(self.outline.points)
        outline = Outline(tuple((-x, y) for x, y in reversed(self.outline.points)))
        swap: dict[Side, Side] = {"left": "right", "right": "left", "top": "top", "bottom": "bottom"}
        afters = [self.edges[(i + 1) % len(self.edges)].start for i in range(len(self.edges))]
        moved = [replace(e, start=(n - 1 - after) % n, side=swap[e.side]) for e, after in zip(self.edges, afters, strict=True)]
        return Shape(name, outline.moved(self.outline.bounds[2], 0), tuple(sorted(moved, key=lambda e: e.start)))


def shape_of(name: str, outline: Outline, starts: Sequence[int], joins: Mapping[Side, str]) -> Shape:
    """Return a shape whose edges begin at the given points, each held as its side usually is.

    An edge's side is the way it faces; where `joins` has none for it, it is sewn.
    """
    named = []
    for number, start in enumerate(starts):
        after = starts[(number + 1) % len(starts)]
        side = _side(outline, start, after)
        join = JOINS[joins.get(side, "sewn")]
        named.append(Edge(edge_name(number), start, join.key, join.adds, side))
    return Shape(name, outline, tuple(named))


def edge_name(number: int) -> str:
    """Return the letter of an edge: a, b … z, then a1, b1 …"""
    letter = "abcdefghijklmnopqrstuvwxyz"[number % 26]
    return letter if number < 26 else f"{letter}{number // 26}"


def _side(outline: Outline, start: int, after: int) -> Side:
    """The side of the shape on which an edge lies: the way its middle looks from the shape's own middle."""
    n = len(outline.points)
    a, b = outline.points[start], outline.points[after % n]
    dx, dy = (b[0] - a[0], b[1] - a[1])
    if start == after:
        return "bottom"
    if abs(dx) >= abs(dy):
        return "bottom" if dx > 0 else "top"
    return "right" if dy > 0 else "left"


def edges_by_corners(outline: Outline) -> tuple[int, ...]:
    """Return where edges begin on an outline from a file: at its corners, or once when it is round."""
    corners = outline.corners()
    return corners if len(corners) >= 2 else (0,)
