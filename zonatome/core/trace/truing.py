"""Truing a traced shape: the fold test, circle, straight sides and right angles, stretch taken back.

An old cover has stretched and skewed. What it was meant to be is found by folding it on its centre line and
by fitting circle and line; what to do about a difference is the user's to say, and a shape that is meant to be
lopsided is never made even.
"""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
import numpy.typing as npt
import shapely
from shapely.geometry import LineString, Polygon, box

from zonatome.core.errors import BadInput
from zonatome.core.outline import Outline, Point, outline_of, turn_of
from zonatome.core.tolerances import LONGEST, SAME_POINT
from zonatome.core.trace.by_tape import disc_shape
from zonatome.core.trace.shape import Edge, Shape

Array = npt.NDArray[np.float64]
Half = Literal["left", "right", "average"]
SPACING = 4.0  # mm between the points at which two halves are compared
MOST_ASKEW = 15.0  # degrees: a cover that lies further off is turned by hand first
WORTH_TURNING = 0.15  # mm of mean difference that a turn must save before it is believed
NEARLY_SQUARE = 6.0  # degrees off a right angle that count as meant to be one
LEG = 80.0  # mm along each edge over which a corner's angle is taken
MOST_STRETCH = 15.0  # per cent
EVEN = 1e-6
NEARLY_ROUND = 0.06  # of the radius: an outline that leaves its circle by less is likely meant to be round
BESIDE = 0.01  # mm from the centre line: a point so near lies on it, and would be merged with its image
KINK = 2.0  # mm: mirroring a side that leans a little breaks it on the centre line; by so little it is meant straight


@dataclass(frozen=True)
class Apart:
    """At one place of the right half: by how many mm it is fuller than the left one folded over; less than 0: narrower.

    `outward` is the way out of the shape there.
    """

    at: Point
    by: float
    outward: Point


@dataclass(frozen=True)
class Fold:
    """A shape folded on its centre line, from its lower to its upper end: where the halves differ, at most and on the
    mean, in mm.

    `degrees` is how far the line leans from upright, to the left positive.
    """

    line: tuple[Point, Point]
    degrees: float
    apart: tuple[Apart, ...]
    most: float
    mean: float

    @property
    def fuller(self) -> Literal["left", "right", "neither"]:
        """Which half is the fuller one, taken all in all."""
        whole = sum(a.by for a in self.apart) / max(1, len(self.apart))
        return "neither" if abs(whole) < 0.1 else "right" if whole > 0 else "left"


def _dense(outline: Outline, spacing: float = SPACING) -> Array:
    ring = outline.polygon.exterior
    count = max(60, math.ceil(ring.length / spacing))
    places = shapely.line_interpolate_point(ring, np.arange(count) / count, normalized=True)
    return np.concatenate([shapely.get_coordinates(places), np.array(outline.points)])


def _off(dense: Array, ring: LineString, middle: Array, degrees: float) -> float:
    """The mean distance of the points, mirrored on a line through `middle`, from the outline."""
    return float(shapely.distance(shapely.points(_mirror(dense, middle, degrees)), ring).mean())


def _mirror(points: Array, middle: Array, degrees: float) -> Array:
    """Points mirrored on the line through `middle` that leans so many degrees to the left of upright."""
    c, s = turn_of(degrees)
    along = np.array([-s, c])
    rel = points - middle
    return np.asarray(middle + 2 * (rel @ along)[:, None] * along - rel)


def centre_line(outline: Outline) -> tuple[Point, float]:
    """Return a point of the line on which the outline is most nearly even, and how many degrees it leans to the left.

    The line is sought within 15 degrees of upright; an upright one stands unless another is clearly better, so that a
    round shape is not turned. Source: the centroid of an even shape lies on its axis; the least mean distance decides.
    """
    dense, ring = _dense(outline), outline.polygon.exterior
    middle = np.array(outline.polygon.centroid.coords[0])
    best = min(np.arange(-MOST_ASKEW, MOST_ASKEW + 0.1, 1.0), key=lambda d: _off(dense, ring, middle, float(d)))
    degrees, step = float(best), 0.5
    while step > 0.01:
        degrees = min((degrees - step, degrees, degrees + step), key=lambda d: _off(dense, ring, middle, d))
        step /= 2
    middle = _shifted(dense, ring, middle, degrees)
    straight = _shifted(dense, ring, middle, 0.0)
    upright = _off(dense, ring, straight, 0.0)
    if upright - _off(dense, ring, middle, degrees) < max(WORTH_TURNING, upright / 5):
        degrees, middle = 0.0, straight
    return (float(middle[0]), float(middle[1])), degrees


def _shifted(dense: Array, ring: LineString, middle: Array, degrees: float) -> Array:
    """The point moved across the line so that the two halves differ least."""
    c, s = turn_of(degrees)
    across, at, step = np.array([c, s]), 0.0, 4.0
    while step > 0.01:
        at = min((at - step, at, at + step), key=lambda d: _off(dense, ring, middle + d * across, degrees))
        step /= 2
    return np.asarray(middle + at * across)


def fold(outline: Outline, line: tuple[Point, Point] | None = None) -> Fold:
    """Return how the two halves of an outline differ when folded on a drawn line, or on the one that is found.

    Raises BadInput for a line without length or one that does not pass through the shape.
    """
    if line is None:
        middle, degrees = centre_line(outline)
    else:
        (ax, ay), (bx, by) = line
        if not all(math.isfinite(v) and abs(v) <= LONGEST for v in (ax, ay, bx, by)) or math.dist(*line) < 10:
            raise BadInput("line", line, "two points of the centre line at least 10 mm apart")
        if by < ay:
            ax, ay, bx, by = bx, by, ax, ay
        middle, degrees = (ax, ay), math.degrees(math.atan2(ax - bx, by - ay))
    c, s = turn_of(degrees)
    at, along, across = np.array(middle), np.array([-s, c]), np.array([c, s])
    reach = 2 * (outline.width + outline.height) + float(np.abs(at).max())
    met = LineString([at - reach * along, at + reach * along]).intersection(outline.polygon)
    if met.is_empty or met.length < 10:
        raise BadInput("line", line, "a centre line that passes through the shape")
    ends = sorted(
        ((float(x), float(y)) for x, y in shapely.get_coordinates(met)), key=lambda p: float(np.dot(p, along))
    )
    dense = _dense(outline)
    right = dense[(dense - at) @ across > 0.01]
    folded = shapely.points(_mirror(right, at, degrees))
    away = shapely.distance(folded, outline.polygon.exterior) * np.where(
        shapely.contains(outline.polygon, folded), -1.0, 1.0
    )
    order = np.argsort(right @ along, kind="stable")
    ways = _outward(right, outline.polygon.exterior)
    found = tuple(
        Apart((float(right[i][0]), float(right[i][1])), float(away[i]), (float(ways[i][0]), float(ways[i][1])))
        for i in order
    )
    size = np.abs(away) if len(away) else np.zeros(1)
    return Fold((ends[0], ends[-1]), degrees, found, float(size.max()), float(size.mean()))


def _outward(points: Array, ring: LineString) -> Array:
    """The unit way out of an anticlockwise ring at each of the points on it, at corners half way between both sides."""
    along = shapely.line_locate_point(ring, shapely.points(points))
    ahead, behind = (
        shapely.get_coordinates(shapely.line_interpolate_point(ring, (along + d) % ring.length)) for d in (1.0, -1.0)
    )
    way = ahead - behind
    out = np.column_stack([way[:, 1], -way[:, 0]])
    return np.asarray(out / np.maximum(np.linalg.norm(out, axis=1), 1e-9)[:, None])


def line_from_left(outline: Outline, low: float, high: float) -> tuple[Point, Point]:
    """Return the centre line that stands so many mm from an outline's left at its bottom and at its top."""
    x0, y0, _, y1 = outline.bounds
    return (x0 + low, y0), (x0 + high, y1)


def stood_upright(shape: Shape, degrees: float) -> Shape:
    """Return the shape turned so that a line leaning so many degrees to the left stands upright,
    its box from (0, 0).
    """
    c, s = turn_of(-degrees)
    return shape.moved_by(lambda p: (c * p[0] - s * p[1], s * p[0] + c * p[1])).at_corner()


def halved(shape: Shape, found: Fold, take: Half) -> Shape:
    """Return the shape made even about its centre line: the left or the right half mirrored, or the mean of both.

    It comes out upright, its box from (0, 0); edges keep their joins. Raises BadInput for a shape that is meant to be
    lopsided, and for one that the line cuts more than twice.
    """
    if shape.lopsided:
        raise BadInput("take", take, "leave: this shape is meant to be lopsided")
    c, s = turn_of(-found.degrees)
    upright = shape.moved_by(lambda p: (c * p[0] - s * p[1], s * p[0] + c * p[1]))
    axis = c * found.line[0][0] - s * found.line[0][1]
    right = _half(upright.outline, axis)
    left = _half(upright.outline, axis, mirrored=True)
    chain = right if take == "right" else left if take == "left" else _between(right, left)
    chain = [chain[0], *(p for p in chain[1:-1] if p[0] > BESIDE), chain[-1]]
    ring = [*_without_kink(chain[:1], chain[1]), *chain[1:-1], *_without_kink(chain[-1:], chain[-2])]
    ring += [(-x, y) for x, y in reversed(chain[1:-1])]
    outline = outline_of([(axis + x, y) for x, y in ring])
    return upright.with_outline(outline).at_corner()


def _without_kink(end: list[Point], beside: Point) -> list[Point]:
    """The end of a half on the centre line, left out where the outline crosses it all but straight."""
    rise = abs(end[0][1] - beside[1])
    return [] if rise <= KINK and rise < abs(beside[0]) / 20 else end


def _half(outline: Outline, axis: float, *, mirrored: bool = False) -> list[Point]:
    """One half from the line's lower end to its upper one, as distances from the line; `mirrored`: the left half,
    folded over.
    """
    polygon = outline.polygon
    x0, y0, x1, y1 = polygon.bounds
    if mirrored:
        polygon, axis = shapely.transform(polygon, lambda p: p * [-1.0, 1.0]), -axis
        x0, x1 = -x1, -x0
    part = polygon.intersection(box(axis, y0 - 1, max(x1, axis) + 1, y1 + 1))
    if not isinstance(part, Polygon) or part.is_empty:
        raise BadInput("line", f"x = {axis:.0f}", "a centre line that cuts the outline just twice")
    ring = list(shapely.geometry.polygon.orient(part).exterior.coords)[:-1]
    on = [i for i, (x, _) in enumerate(ring) if abs(x - axis) < EVEN]
    if len(on) != 2 or (on[1] - on[0]) % len(ring) not in (1, len(ring) - 1):
        raise BadInput("line", f"x = {axis:.0f}", "a centre line that cuts the outline just twice")
    low = min(on, key=lambda i: ring[i][1])
    chain = [ring[(low + k) % len(ring)] for k in range(len(ring))]
    return [(0.0 if abs(x - axis) < EVEN else float(x - axis), float(y)) for x, y in chain]


def _between(right: list[Point], left: list[Point]) -> list[Point]:
    """The mean of two halves, corner by corner where they have as many, else by their length."""
    ones, others = _runs(right), _runs(left)
    if len(ones) != len(others):
        ones, others = [right], [left]
    made: list[Point] = []
    for one, other in zip(ones, others, strict=True):
        a, b = LineString(one), LineString(other)
        shares = sorted(
            {round(line.project(shapely.Point(p), normalized=True), 9) for line in (a, b) for p in line.coords}
            | {0.0, 1.0}
        )
        for share in shares[:-1]:
            p, q = a.interpolate(share, normalized=True), b.interpolate(share, normalized=True)
            made.append(((p.x + q.x) / 2, (p.y + q.y) / 2))
    made.append((0.0, (right[-1][1] + left[-1][1]) / 2))
    made[0] = (0.0, made[0][1])
    return [p for i, p in enumerate(made) if i == 0 or math.dist(p, made[i - 1]) > SAME_POINT]


def _runs(chain: list[Point]) -> list[list[Point]]:
    """A half cut at its corners; a corner is where the line turns by more than a corner's angle within a few
    millimetres.
    """
    whole = outline_of([*chain, *((-x, y) for x, y in reversed(chain[1:-1]))])
    corners = {whole.points[i] for i in whole.corners()}
    cuts = [0, *(i for i in range(1, len(chain) - 1) if chain[i] in corners), len(chain) - 1]
    return [chain[a : b + 1] for a, b in itertools.pairwise(cuts)]


@dataclass(frozen=True)
class Circle:
    """The circle that fits best: centre, radius, and how far the outline leaves it at most and on the mean, in mm."""

    centre: Point
    radius: float
    most: float
    mean: float

    @property
    def is_likely(self) -> bool:
        """Whether the outline is likely meant to be this circle."""
        return self.most < NEARLY_ROUND * self.radius

    @property
    def diameter(self) -> float:
        """Twice the radius."""
        return 2 * self.radius


def circle_of(outline: Outline) -> Circle:
    """Return the circle of least squares through an outline.

    Source: algebraic fit, then Gauss-Newton on the distances; here and not by a package, since a page asks for it, and
    the package for it takes a site 40 MB and half a second.
    """
    points = _dense(outline)
    system = np.column_stack([points, np.ones(len(points))])
    (a, b, c), *_ = np.linalg.lstsq(system, (points**2).sum(axis=1), rcond=None)
    centre, radius = np.array([a / 2, b / 2]), math.sqrt(max(1.0, c + a * a / 4 + b * b / 4))
    for _ in range(12):
        away = points - centre
        far = np.maximum(np.linalg.norm(away, axis=1), 1e-9)
        step, *_ = np.linalg.lstsq(
            np.column_stack([away / far[:, None], np.ones(len(points))]), far - radius, rcond=None
        )
        centre, radius = centre + step[:2], radius + float(step[2])
    off = np.abs(np.linalg.norm(points - centre, axis=1) - radius)
    return Circle((float(centre[0]), float(centre[1])), float(radius), float(off.max()), float(off.mean()))


def made_round(shape: Shape) -> Shape:
    """Return the disc of the circle that fits a shape best, held as its first edge is."""
    found, first = circle_of(shape.outline), shape.edges[0]
    disc = disc_shape(shape.name, 2 * found.radius, {})
    x, y = found.radius - found.centre[0], found.radius - found.centre[1]
    marks = tuple(replace(m, points=tuple((px + x, py + y) for px, py in m.points)) for m in shape.marks)
    return replace(disc, edges=(replace(first, name="a", start=0, side="bottom"),), marks=marks)


@dataclass(frozen=True)
class Bow:
    """How far an edge bows from the straight line between its ends, in mm: outward more than 0, inward less."""

    edge: str
    by: float
    length: float

    @property
    def is_slight(self) -> bool:
        """Whether the edge is likely meant to be straight, and is not: more than a tape's reading,
        less than 2 in 100.
        """
        return 0.3 <= self.depth <= 0.02 * self.length

    @property
    def depth(self) -> float:
        """How far, whichever way."""
        return abs(self.by)


def bows(shape: Shape) -> tuple[Bow, ...]:
    """Return how straight each edge is; a shape of one edge, a round one, has none to be straight."""
    found = []
    for number, edge in enumerate(shape.edges if len(shape.edges) > 1 else ()):
        points = shape.edge_points(number)
        (ax, ay), (bx, by) = points[0], points[-1]
        length = math.dist(points[0], points[-1])
        out = [((by - ay) * (x - ax) - (bx - ax) * (y - ay)) / length for x, y in points]
        found.append(Bow(edge.name, max(out, key=abs), length))
    return tuple(found)


def straightened(shape: Shape, name: str) -> Shape:
    """Return the shape with one edge straight between its ends. Raises BadInput where that folds it over itself."""
    number = shape.number_of(name)
    if len(shape.edges) < 2:
        raise BadInput("edge", name, "an edge between two corners")
    inner = set(shape.segments_of(number)[1:])
    return _with_points(shape, lambda n: n not in inner)


def _with_points(shape: Shape, keep: object) -> Shape:
    kept = [n for n in range(len(shape.outline.points)) if keep(n)]  # type: ignore[operator]
    where = {old: new for new, old in enumerate(kept)}
    outline = outline_of([shape.outline.points[n] for n in kept])
    edges = tuple(sorted((replace(e, start=where[e.start]) for e in shape.edges), key=lambda e: e.start))
    made = replace(shape, outline=outline, edges=edges, matches=())
    return replace(made, matches=shape.matches_on(made))


@dataclass(frozen=True)
class Angle:
    """The corner at which an edge begins: its inner angle in degrees."""

    before: str
    edge: str
    degrees: float

    @property
    def off_square(self) -> float:
        """How far it is from a right angle, in degrees."""
        return self.degrees - 90.0

    @property
    def off_words(self) -> str:
        """How far it is from a right angle, in words."""
        return f"{abs(self.off_square):.1f}° {'over' if self.off_square > 0 else 'under'}"

    @property
    def is_nearly_square(self) -> bool:
        """Whether it is likely meant to be a right angle, and is none."""
        return 0.2 < abs(self.off_square) <= NEARLY_SQUARE


def angles(shape: Shape) -> tuple[Angle, ...]:
    """Return the inner angle at each corner between two edges, taken over the first 80 mm of each."""
    found = []
    count = len(shape.edges)
    for number in range(count if count > 1 else 0):
        here, there = shape.edge_points(number - 1), shape.edge_points(number)
        at = there[0]
        out, back = _towards(there), _towards(here[::-1])
        first = (
            math.degrees(math.atan2(back[1] - at[1], back[0] - at[0]) - math.atan2(out[1] - at[1], out[0] - at[0]))
            % 360
        )
        found.append(Angle(shape.edges[number - 1].name, shape.edges[number].name, first))
    return tuple(found)


def _towards(points: tuple[Point, ...]) -> Point:
    line = LineString(points)
    at = line.interpolate(min(LEG, line.length))
    return (at.x, at.y)


def can_be_squared(shape: Shape) -> bool:
    """Whether a shape has four edges that meet nearly at right angles."""
    found = angles(shape)
    return len(found) == 4 and all(abs(a.off_square) <= NEARLY_SQUARE for a in found)


def squared(shape: Shape) -> Shape:
    """Return a four-edged shape, all of its corners nearly right angles, as the rectangle of its mean width and height.

    Raises BadInput for another count of edges or a corner too far off.
    """
    if not can_be_squared(shape):
        raise BadInput("shape", shape.name, f"four edges that meet within {NEARLY_SQUARE:.0f} degrees of a right angle")
    corner = [shape.outline.points[e.start] for e in shape.edges]
    spans = [math.dist(corner[i], corner[(i + 1) % 4]) for i in range(4)]
    lies = [abs(corner[(i + 1) % 4][0] - corner[i][0]) >= abs(corner[(i + 1) % 4][1] - corner[i][1]) for i in range(2)]
    first, second = (spans[0] + spans[2]) / 2, (spans[1] + spans[3]) / 2
    width, height = (first, second) if lies[0] else (second, first)
    turned: list[Edge] = list(shape.edges)
    begin = min(range(4), key=lambda i: corner[i][0] + corner[i][1])
    turned = [replace(turned[(begin + k) % 4], start=k) for k in range(4)]
    outline = outline_of([(0, 0), (width, 0), (width, height), (0, height)])
    made = replace(shape, outline=outline, edges=tuple(turned), matches=())
    return replace(made, matches=shape.matches_on(made))


def unstretched(shape: Shape, across: float, along: float) -> Shape:
    """Return the shape shrunk by so many per cent across and along: what an old cover of vinyl or knit had stretched.

    Raises BadInput beyond 0 to 15 per cent.
    """
    for key, value in (("across", across), ("along", along)):
        if not (math.isfinite(value) and 0 <= value <= MOST_STRETCH):
            raise BadInput(key, value, f"0 to {MOST_STRETCH:.0f} per cent")
    return shape.moved_by(lambda p: (p[0] * (1 - across / 100), p[1] * (1 - along / 100)))
