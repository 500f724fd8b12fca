"""Shapes that restyling changes: split into strips with seams between, grown for a thicker pad or for buttons."""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from shapely.geometry import LineString, Polygon
from shapely.geometry import Point as ShapelyPoint
from shapely.ops import split

from zonatome.core.errors import BadInput
from zonatome.core.joins import JOINS
from zonatome.core.outline import Outline, Point
from zonatome.core.survey.kind import ButtonGrid, Channels, Kind, Side
from zonatome.core.survey.restyle import button_travel, channels_fit
from zonatome.core.tolerances import SAME_LENGTH
from zonatome.core.trace.shape import Edge, Mark, Shape, edge_name, side_of

NEARLY_STRAIGHT = 0.03  # sine of a corner's angle below which two edges count as one line
ON_LINE = 1e-4  # mm: how near a point must lie to count as on an old edge


def split_shape(shape: Shape, at: Sequence[float], names: Sequence[str]) -> tuple[Shape, ...]:
    """Return the strips of a shape cut by upright lines at these distances in mm from its left, from left to right.

    The new edges are sewn and get a seam's allowance each; every other edge keeps its join and what it adds. Raises
    BadInput for a line outside the shape, or one that cuts it into more pieces than strips.
    """
    x0, y0, x1, y1 = shape.outline.bounds
    if (
        len(names) != len(at) + 1
        or list(at) != sorted(at)
        or not all(SAME_LENGTH < a < x1 - x0 - SAME_LENGTH for a in at)
    ):
        raise BadInput(
            "at", [round(a, 1) for a in at], f"{len(names) - 1} rising distances within the shape's {x1 - x0:.0f} mm"
        )
    pieces = [Polygon(shape.outline.points)]
    for distance in at:
        line = LineString([(x0 + distance, y0 - 10), (x0 + distance, y1 + 10)])
        pieces = [part for piece in pieces for part in split(piece, line).geoms]
    if len(pieces) != len(names):
        raise BadInput(
            "at", [round(a, 1) for a in at], f"lines that cut it into {len(names)} strips, not {len(pieces)}"
        )
    pieces.sort(key=lambda p: p.bounds[0])
    return tuple(_strip(shape, piece, name).at_corner() for piece, name in zip(pieces, names, strict=True))


def split_in_strips(kind: Kind, shape: Shape, strips: Sequence[str]) -> tuple[Shape, ...]:
    """Return the shapes of the strips that a whole panel is cut in: the middle one, a stripe, as wide as it shall be,
    about the centre.
    """
    middle, wide = shape.outline.width / 2, kind.part(strips[1]).width / 2
    return split_shape(shape, (middle - wide, middle + wide), [kind.part(k).name for k in strips])


def cut_by_line(shape: Shape, a: Point, b: Point, *, join: str, names: tuple[str, str]) -> tuple[Shape, Shape]:
    """Return the two parts of a shape cut by the line through a and b, the one to the left of it first; the new edges
    get a join.

    The parts stay where they were. Raises BadInput for a line without length, and one that does not cut it in two.
    """
    if math.dist(a, b) < 1:
        raise BadInput("line", (a, b), "two points at least 1 mm apart")
    x0, y0, x1, y1 = shape.outline.bounds
    far = 2 * (x1 - x0 + y1 - y0 + math.dist(a, (x0, y0))) / math.dist(a, b)
    u = ((b[0] - a[0]) * far, (b[1] - a[1]) * far)
    parts = list(
        split(Polygon(shape.outline.points), LineString([(a[0] - u[0], a[1] - u[1]), (a[0] + u[0], a[1] + u[1])])).geoms
    )
    if len(parts) != 2:
        raise BadInput("line", f"{len(parts)} parts", "a line that cuts the shape in two")
    parts.sort(key=lambda p: (p.centroid.x - a[0]) * u[1] - (p.centroid.y - a[1]) * u[0])
    return _strip(shape, parts[0], names[0], join), _strip(shape, parts[1], names[1], join)


def _strip(shape: Shape, piece: Polygon, name: str, join: str = "sewn") -> Shape:
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
            edges.append(
                Edge(
                    edge_name(len(edges)), i, join, JOINS[join].adds, side_of(points[i], points[(i + 1) % len(points)])
                )
            )
        else:
            old = shape.edges[edge]
            edges.append(replace(old, name=edge_name(len(edges)), start=i))
    outline = Outline(tuple(points))
    marks = tuple(m for m in shape.marks if all(outline.polygon.covers(ShapelyPoint(p)) for p in m.points))
    return Shape(name, outline, tuple(edges), marks=marks)


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
        raise BadInput(
            "wider", f"{wider:.0f} x {higher:.0f}", f"less than the shape's own {width:.0f} x {height:.0f} mm"
        )
    across, up = (width + wider) / width, (height + higher) / height
    return shape.moved_by(lambda p: (p[0] * across, p[1] * up))


def grown_at_edges(shape: Shape, more: Mapping[str, float]) -> Shape:
    """Return a shape whose edges lie so many mm further out, by their names; below 0 further in; others stay where
    they are.

    Two edges that meet are carried on to where their new lines cross, so that a straight one stays straight and in its
    direction; edges keep their joins and allowances. Source: geometry. Raises BadInput where the edges would cross.
    """
    points = shape.outline.points
    n = len(points)
    by = [0.0] * n
    for number, edge in enumerate(shape.edges):
        for segment in shape.segments_of(number):
            by[segment] = more.get(edge.name, 0.0)
    moved = {p: _carried_on(points[i - 1], p, points[(i + 1) % n], by[i - 1], by[i]) for i, p in enumerate(points)}
    return shape.moved_by(lambda p: moved.get(p, p)).at_corner()


def _carried_on(before: Point, at: Point, after: Point, first: float, second: float) -> Point:
    """Where the lines before and after a corner cross when each is moved outward."""
    u, v = _along(before, at), _along(at, after)
    cross = u[0] * v[1] - u[1] * v[0]
    p = (at[0] + u[1] * first, at[1] - u[0] * first)
    if abs(cross) < NEARLY_STRAIGHT:
        by = (first + second) / 2
        return (at[0] + u[1] * by, at[1] - u[0] * by)
    q = (at[0] + v[1] * second, at[1] - v[0] * second)
    t = ((q[0] - p[0]) * v[1] - (q[1] - p[1]) * v[0]) / cross
    return (p[0] + u[0] * t, p[1] + u[1] * t)


def _along(a: Point, b: Point) -> Point:
    length = math.dist(a, b) or 1.0
    return (b[0] - a[0]) / length, (b[1] - a[1]) / length


def buttoned_shape(shape: Shape, grid: ButtonGrid, travel: tuple[float, float]) -> Shape:
    """Return a shape with a grid of button marks about its middle, so far apart across and up as the cloth travels, in
    mm.

    Marks of an earlier grid go. Raises BadInput where a button would lie outside the shape.
    """
    cx, cy = shape.outline.polygon.centroid.coords[0]
    made = []
    for x, y in grid.places(*travel):
        at = (cx + x, cy + y)
        if not shape.outline.polygon.contains(ShapelyPoint(at)):
            raise BadInput("across", f"{grid.columns} x {grid.rows}", "a grid of buttons that lies within the shape")
        made.append(Mark("button", (at,)))
    return replace(shape, marks=(*(m for m in shape.marks if m.means != "button"), *made))


ROUNDED = 0.02  # mm: what a shape in its file may be narrower by than it was drawn


def channelled(shape: Shape, *, apart: float, deep: float, upright: bool) -> tuple[Shape, float]:
    """Return the shape grown for parallel stitched channels, their lines marked, and by how many mm it grew.

    Lines lie `apart` mm in the finished panel and are drawn `deep`; between two lines the cloth travels
    sqrt(s² + 4 d²), the same sum as between buttons. Raises BadInput for channels narrower than 20 mm, deeper than
    half their width, or fewer than two.
    """
    width = shape.outline.width if upright else shape.outline.height
    channels_fit(width, apart, deep)
    count = int((width + ROUNDED) // apart)
    travel = button_travel(apart, deep)
    growth = count * (travel - apart)
    bare = replace(shape, marks=tuple(m for m in shape.marks if m.means != "channel"))
    grown = grown_shape(bare, growth if upright else 0, 0 if upright else growth)
    x0, y0, x1, y1 = grown.outline.bounds
    middle = (x0 + x1) / 2 if upright else (y0 + y1) / 2
    lines = []
    for k in range(count + 1):
        at = middle + (k - count / 2) * travel
        line = LineString([(at, y0 - 1), (at, y1 + 1)] if upright else [(x0 - 1, at), (x1 + 1, at)]).intersection(
            grown.outline.polygon
        )
        if isinstance(line, LineString) and line.length > 20:
            lines.append(Mark("channel", tuple((float(x), float(y)) for x, y in line.coords)))
    return replace(grown, marks=(*grown.marks, *lines)), growth


def without_channels(shape: Shape, channels: Channels) -> Shape:
    """Return a shape as it was before it grew for channels, their lines taken away.

    Of a width W with its channels floor(W / travel) of them fit, since what was left over is less than one channel's
    width.
    """
    travel = button_travel(channels.apart, channels.deep)
    width = shape.outline.width if channels.upright else shape.outline.height
    growth = int((width + ROUNDED) / travel) * (travel - channels.apart)
    bare = replace(shape, marks=tuple(m for m in shape.marks if m.means != "channel"))
    return grown_shape(bare, -growth if channels.upright else 0, 0 if channels.upright else -growth)


@dataclass(frozen=True)
class Flied:
    """A shape that ends where it goes out of sight, the fly sewn on there, and the face cloth that this saves,
    in mm2.
    """

    face: Shape
    fly: Shape
    saved: float


PAST_TUCK = 25.0  # mm that the face cloth runs on beyond the tuck line


def with_fly(shape: Shape, side: Side, hidden: float) -> Flied:
    """Return a shape whose outermost `hidden` mm on a side run out of sight, as face cloth with a fly sewn on.

    The face cloth ends 25 mm past the tuck line (trade rule); the rest is of old or cheap cloth. The tuck line is
    marked on the face. Raises BadInput where no more than those 25 mm are hidden, or most of the shape is.
    """
    x0, y0, x1, y1 = shape.outline.bounds
    whole = y1 - y0 if side in ("top", "bottom") else x1 - x0
    if not PAST_TUCK + 15 <= hidden <= 0.7 * whole:
        raise BadInput(
            "hidden",
            f"{hidden:.0f} mm",
            f"{PAST_TUCK + 15:.0f} to {0.7 * whole:.0f} mm from that side to the tuck line",
        )
    at = hidden - PAST_TUCK
    lines: dict[Side, tuple[Point, Point]] = {  # each with the face on its left
        "bottom": ((x0, y0 + at), (x1, y0 + at)),
        "top": ((x1, y1 - at), (x0, y1 - at)),
        "left": ((x0 + at, y1), (x0 + at, y0)),
        "right": ((x1 - at, y0), (x1 - at, y1)),
    }
    a, b = lines[side]
    face, fly = cut_by_line(shape, a, b, join="fly", names=(shape.name, f"Fly, {shape.name.lower()}"[:80]))
    tuck = {"bottom": (0.0, PAST_TUCK), "top": (0.0, -PAST_TUCK), "left": (PAST_TUCK, 0.0), "right": (-PAST_TUCK, 0.0)}[
        side
    ]
    line = LineString([(p[0] + tuck[0], p[1] + tuck[1]) for p in (a, b)]).intersection(face.outline.polygon)
    if isinstance(line, LineString) and line.length > 1:
        mark = Mark("tuck", tuple((float(x), float(y)) for x, y in (line.coords[0], line.coords[-1])))
        face = replace(face, marks=(*(m for m in face.marks if m.means != "tuck"), mark))
    saved = shape.cut_line.area - face.cut_line.area
    return Flied(face.at_corner(), fly.at_corner(), saved)
