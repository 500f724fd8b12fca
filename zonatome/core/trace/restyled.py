"""Shapes that restyling changes: split into strips with seams between, grown for a thicker pad or for buttons."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence

from shapely.geometry import LineString, Polygon
from shapely.ops import split

from zonatome.core.errors import BadInput
from zonatome.core.outline import Outline, Point
from zonatome.core.survey.kind import Side
from zonatome.core.tolerances import SAME_LENGTH
from zonatome.core.trace.joins import JOINS
from zonatome.core.trace.shape import Edge, Shape, edge_name

ON_LINE = 1e-4  # mm: how near a point must lie to count as on an old edge


def split_shape(shape: Shape, at: Sequence[float], names: Sequence[str]) -> tuple[Shape, ...]:
    """Return the strips of a shape cut by upright lines at these distances in mm from its left, from left to right.

    The new edges are sewn and get a seam's allowance each; every other edge keeps its join and what it adds. Raises
    BadInput for a line outside the shape, or one that cuts it into more pieces than strips.
    """
    x0, y0, x1, y1 = shape.outline.bounds
    if len(names) != len(at) + 1 or list(at) != sorted(at) or not all(SAME_LENGTH < a < x1 - x0 - SAME_LENGTH for a in at):
        raise BadInput("at", [round(a, 1) for a in at], f"{len(names) - 1} rising distances within the shape's {x1 - x0:.0f} mm")
    pieces = [Polygon(shape.outline.points)]
    for distance in at:
        line = LineString([(x0 + distance, y0 - 10), (x0 + distance, y1 + 10)])
        pieces = [part for piece in pieces for part in split(piece, line).geoms]
    if len(pieces) != len(names):
        raise BadInput("at", [round(a, 1) for a in at], f"lines that cut it into {len(names)} strips, not {len(pieces)}")
    pieces.sort(key=lambda p: p.bounds[0])
    return tuple(_strip(shape, piece, name) for piece, name in zip(pieces, names, strict=True))


def _strip(shape: Shape, piece: Polygon, name: str) -> Shape:
    points: list[Point] = [(float(x), float(y)) for x, y in list(piece.exterior.coords)[:-1]]
    if not piece.exterior.is_ccw:
        points.reverse()
    number = [_edge_under(shape, points[i], points[(i + 1) % len(points)]) for i in range(len(points))]
    if len(set(number)) > 1:
        while number[0] == number[-1]:  # begin where an edge begins
            points, number = points[1:] + points[:1], number[1:] + number[:1]
    edges: list[Edge] = []
    for i, edge in enumerate(number):
        if i and number[i - 1] == edge:
            continue
        if edge is None:
            side: Side = "right" if points[(i + 1) % len(points)][1] > points[i][1] else "left"
            edges.append(Edge(edge_name(len(edges)), i, "sewn", JOINS["sewn"].adds, side))
        else:
            old = shape.edges[edge]
            edges.append(Edge(edge_name(len(edges)), i, old.join, old.adds, old.side))
    left, low = min(x for x, _ in points), min(y for _, y in points)
    return Shape(name, Outline(tuple((x - left, y - low) for x, y in points)), tuple(edges))


def _edge_under(shape: Shape, a: Point, b: Point) -> int | None:
    """The number of the old edge on which a stretch lies; nothing for a new cut."""
    middle = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
    for number in range(len(shape.edges)):
        points = shape.edge_points(number)
        for p, q in itertools.pairwise(points):
            if all(_apart(p, q, at) < ON_LINE for at in (a, middle, b)):
                return number
    return None


def _apart(p: Point, q: Point, at: Point) -> float:
    """How far a point lies from a stretch, in mm."""
    length = math.dist(p, q)
    if not length:
        return math.dist(p, at)
    along = max(0.0, min(1.0, ((at[0] - p[0]) * (q[0] - p[0]) + (at[1] - p[1]) * (q[1] - p[1])) / length**2))
    return math.dist(at, (p[0] + along * (q[0] - p[0]), p[1] + along * (q[1] - p[1])))


def grown_shape(shape: Shape, wider: float, higher: float) -> Shape:
    """Return a shape grown by so many mm across and up, about its middle; edges keep their joins and allowances.

    Every point moves outward in proportion to where it lies, so that a taper stays a taper. Raises BadInput where
    nothing would be left.
    """
    width, height = shape.outline.width, shape.outline.height
    if width + wider <= 0 or height + higher <= 0:
        raise BadInput("wider", f"{wider:.0f} x {higher:.0f}", f"less than the shape's own {width:.0f} x {height:.0f} mm")
    across, up = (width + wider) / width, (height + higher) / height
    return Shape(shape.name, Outline(tuple((x * across, y * up) for x, y in shape.outline.points)), shape.edges)
