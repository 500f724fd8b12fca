"""Simple polygons in millimetres: x to the right, y up, anticlockwise, not closed.

Everything that is cut, laid or stapled to is one. Shapely does the geometry; its figures are floats
and its touches are fuzzy, so what must hold exactly is checked against the tolerances.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache

from shapely.geometry import LineString, MultiPoint, Polygon
from shapely.geometry.polygon import orient
from shapely.ops import unary_union
from shapely.validation import explain_validity

from zonatome.core.errors import BadInput
from zonatome.core.tolerances import CORNER_DEGREES, LEAST_AREA, LONGEST, MOST_POINTS, SAME_POINT

Point = tuple[float, float]
MITRE_LIMIT = 3.0  # a mitre longer than three allowances is squared: sharper points fray and are trimmed anyway
STRAIGHT_DEGREES = 1e-4  # a turn below this is no corner
BLUNT_DEGREES = 45.0  # a corner that turns less than this is not squared
HAIR = (
    1e-6  # mm by which a slip overlaps the outline: two polygons that only touch are not always joined by their union
)
QUARTER_TURNS = {0.0: (1.0, 0.0), 90.0: (0.0, 1.0), 180.0: (-1.0, 0.0), 270.0: (0.0, -1.0)}


@dataclass(frozen=True)
class Outline:
    """A simple polygon; made by `outline_of`, which refuses what is not one."""

    points: tuple[Point, ...]

    @cached_property
    def polygon(self) -> Polygon:
        """The shapely polygon."""
        return Polygon(self.points)

    @property
    def area(self) -> float:
        """The area in mm2."""
        return float(self.polygon.area)

    @property
    def perimeter(self) -> float:
        """The length once round."""
        return float(self.polygon.exterior.length)

    @cached_property
    def bounds(self) -> tuple[float, float, float, float]:
        """Least x, least y, most x, most y."""
        x, y = zip(*self.points, strict=True)
        return min(x), min(y), max(x), max(y)

    @property
    def width(self) -> float:
        """The extent along x."""
        return self.bounds[2] - self.bounds[0]

    @property
    def height(self) -> float:
        """The extent along y."""
        return self.bounds[3] - self.bounds[1]

    def moved(self, x: float, y: float) -> Outline:
        """Return this outline moved by (x, y)."""
        return Outline(tuple((px + x, py + y) for px, py in self.points))

    def turned(self, degrees: float) -> Outline:
        """Return this outline turned about (0, 0), anticlockwise; quarter turns are exact."""
        c, s = turn_of(degrees)
        return Outline(tuple((c * x - s * y, s * x + c * y) for x, y in self.points))

    def mirrored(self) -> Outline:
        """Return the mirror image, y to -y, still anticlockwise."""
        return Outline(tuple((x, -y) for x, y in reversed(self.points)))

    def placed(self, x: float, y: float, *, turn_degrees: float = 0.0, flip: bool = False) -> Outline:
        """Return this outline mirrored if `flip`, then turned about (0, 0), then moved."""
        return (self.mirrored() if flip else self).turned(turn_degrees).moved(x, y)

    def corners(self) -> tuple[int, ...]:
        """Return the indexes of the points at which the outline turns by a corner's angle."""
        n = len(self.points)
        return tuple(
            i
            for i in range(n)
            if abs(turn_at(self.points[i - 1], self.points[i], self.points[(i + 1) % n])) > CORNER_DEGREES
        )


def degrees_apart(one: float, other: float) -> float:
    """Return by how much two directions differ, 0 to 180 degrees, the shorter way round.

    >>> degrees_apart(350, 20), degrees_apart(-90, 270)
    (30, 0)
    """
    return abs((one - other + 180) % 360 - 180)


def turn_of(degrees: float) -> tuple[float, float]:
    """Return cosine and sine, exact for quarter turns."""
    known = QUARTER_TURNS.get(degrees % 360)
    return known or (math.cos(math.radians(degrees)), math.sin(math.radians(degrees)))


def turn_at(before: Point, at: Point, after: Point) -> float:
    """Return by how many degrees a path turns at a point, left positive, in (-180, 180]."""
    first = math.atan2(at[1] - before[1], at[0] - before[0])
    second = math.atan2(after[1] - at[1], after[0] - at[0])
    return -((first - second) * 180 / math.pi + 180) % 360 - 180 if first != second else 0.0


def outline_of(points: Iterable[Sequence[float]], *, key: str = "outline", least_area: float = LEAST_AREA) -> Outline:
    """Return the outline through `points`, turned anticlockwise, doubled points and a closing point dropped.

    Raises BadInput for fewer than three points, more than 5,000, a coordinate that is no finite number
    or beyond 100 m, an outline that crosses or touches itself, and an area below `least_area` (1 cm2).
    """
    taken: list[Point] = []
    for number, point in enumerate(points):
        if number >= MOST_POINTS:
            raise BadInput(key, f"more than {MOST_POINTS}", f"at most {MOST_POINTS} points")
        taken.append(_point(point, f"{key}[{number}]"))
    clean = [p for i, p in enumerate(taken) if i == 0 or math.dist(p, taken[i - 1]) > SAME_POINT]
    while len(clean) > 1 and math.dist(clean[0], clean[-1]) <= SAME_POINT:
        clean.pop()
    if len(clean) < 3:
        raise BadInput(key, clean, "at least three different points")
    polygon = Polygon(clean)
    if not polygon.is_valid:
        raise BadInput(key, _crossing(polygon), "an outline that neither crosses nor touches itself")
    if polygon.area < least_area:
        raise BadInput(key, f"{polygon.area:.1f} mm2", f"an area of at least {least_area / 100:g} cm2")
    if not polygon.exterior.is_ccw:
        clean.reverse()
    return Outline(tuple(clean))


def _point(point: Sequence[float], key: str) -> Point:
    try:
        x, y = (float(v) for v in point)
    except (TypeError, ValueError, OverflowError):
        raise BadInput(key, point, "two numbers, x and y in millimetres") from None
    if any(isinstance(v, str | bool) for v in point) or not (
        math.isfinite(x) and math.isfinite(y) and max(abs(x), abs(y)) <= LONGEST
    ):
        raise BadInput(key, point, "x and y within 100 m of the origin")
    return x, y


def _crossing(polygon: Polygon) -> str:
    return str(explain_validity(polygon))


def rectangle(width: float, height: float) -> Outline:
    """Return a rectangle with a corner at (0, 0)."""
    return outline_of([(0, 0), (width, 0), (width, height), (0, height)])


def offset_by_edge(outline: Outline, allowances: Sequence[float]) -> Outline:
    """Return the outline grown by its own allowance along each segment: the line the shears follow.

    `allowances[i]`, 0 or more, belongs to the segment from point i to the next. Where two allowances meet
    on an outer corner they are mitred, or squared where a mitre would run past three allowances; inner
    corners come out clean. The result contains `outline` and never crosses itself: it is a union of the
    outline with one convex slip of cloth for each segment, and the outer ring of that.

    Source: geometry. Raises BadInput for another count of allowances or a negative one.

    >>> offset_by_edge(rectangle(100, 50), [10, 0, 10, 5]).bounds
    (-5.0, -10.0, 100.0, 60.0)
    """
    n = len(outline.points)
    if len(allowances) != n:
        raise BadInput("allowances", len(allowances), f"one for each of the {n} segments")
    if min(allowances) < 0:
        raise BadInput("allowances", min(allowances), "0 mm or more")
    return _grown(outline, tuple(allowances))


@lru_cache(maxsize=256)
def _grown(outline: Outline, allowances: tuple[float, ...]) -> Outline:
    slips = [outline.polygon]
    for i in range(len(allowances)):
        slip = _slip(outline.points, allowances, i)
        if slip is not None:
            slips.append(slip.buffer(HAIR, join_style="mitre"))
    grown = unary_union(slips)
    ring = Polygon(orient(grown).exterior)
    clean = ring.simplify(SAME_POINT / 10)
    points = [(round(float(x), 5), round(float(y), 5)) for x, y in clean.exterior.coords[:-1]]
    return Outline(tuple(p for i, p in enumerate(points) if math.dist(p, points[i - 1]) > SAME_POINT / 10))


def _slip(points: Sequence[Point], allowances: Sequence[float], i: int) -> Polygon | None:
    """The cloth outside segment i, with its share of the corner at either end."""
    n = len(points)
    a, b = points[i], points[(i + 1) % n]
    depth = allowances[i]
    reach = [a, b, _outside(a, b, depth, a), _outside(a, b, depth, b)]
    reach += _corner(points, allowances, i) + _corner(points, allowances, (i + 1) % n)
    hull = MultiPoint(reach).convex_hull
    return hull if isinstance(hull, Polygon) and hull.area > HAIR else None


def _outside(a: Point, b: Point, depth: float, at: Point) -> Point:
    length = math.dist(a, b)
    return at[0] + (b[1] - a[1]) / length * depth, at[1] - (b[0] - a[0]) / length * depth


def _corner(points: Sequence[Point], allowances: Sequence[float], i: int) -> list[Point]:
    """The mitre at point i, or nothing on an inner corner; squared, or of the lesser allowance, where it would run too
    far.
    """
    n = len(points)
    before, at, after = points[i - 1], points[i], points[(i + 1) % n]
    first, second = allowances[i - 1], allowances[i]
    turn = turn_at(before, at, after)
    if turn <= STRAIGHT_DEGREES or max(first, second) == 0:
        return []
    u = ((at[0] - before[0]) / math.dist(before, at), (at[1] - before[1]) / math.dist(before, at))
    v = ((after[0] - at[0]) / math.dist(at, after), (after[1] - at[1]) / math.dist(at, after))
    mitre = _mitre(at, u, v, first, second)
    if math.dist(mitre, at) <= MITRE_LIMIT * max(first, second):
        return [mitre]
    if turn < BLUNT_DEGREES:  # two allowances on a nearly straight line: a step, and no gap below the lesser one
        return [_mitre(at, u, v, min(first, second), min(first, second))]
    return _squared(at, u, v, first, second)


def _mitre(at: Point, u: Point, v: Point, first: float, second: float) -> Point:
    """Where the two offset lines meet."""
    p = (at[0] + u[1] * first, at[1] - u[0] * first)
    q = (at[0] + v[1] * second, at[1] - v[0] * second)
    t = ((q[0] - p[0]) * v[1] - (q[1] - p[1]) * v[0]) / (u[0] * v[1] - u[1] * v[0])
    return (p[0] + u[0] * t, p[1] + u[1] * t)


def _squared(at: Point, u: Point, v: Point, first: float, second: float) -> list[Point]:
    """A blunt point where a mitre would run too far: each allowance is carried on by its own depth."""
    return [
        (at[0] + u[1] * first + u[0] * first, at[1] - u[0] * first + u[1] * first),
        (at[0] + v[1] * second - v[0] * second, at[1] - v[0] * second - v[1] * second),
    ]


def crossings(outline: Outline, a: Point, b: Point) -> list[Point]:
    """Return where the line from a to b meets the outline's edge, ordered from a to b."""
    met = LineString([a, b]).intersection(outline.polygon.exterior)
    found: list[Point] = []
    for part in getattr(met, "geoms", [met]):
        found += [(float(x), float(y)) for x, y in part.coords]
    return sorted(found, key=lambda p: math.dist(a, p))
