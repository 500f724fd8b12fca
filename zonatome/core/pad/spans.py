"""What is hung in a frame's opening: straps, sinuous springs, coil springs; where each lies and how long it is cut."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

from shapely.geometry import LineString, MultiPolygon, Polygon, box
from shapely.geometry import Point as ShapelyPoint

from zonatome.core.errors import BadInput
from zonatome.core.outline import Outline, Point
from zonatome.core.rules import USUAL, Rules

Way = Literal["deep", "across"]
STRAIGHT = 0.5  # mm: a side that leaves its line by less is straight
SINUOUS_APART = (90.0, 115.0)  # mm: source, trade rule
SINUOUS_FROM_SIDE = (75.0, 100.0)  # mm: source, trade rule
TIES_FROM = 450.0  # mm of span from which two rows of ties are usual; one below
COIL_WIDE = 90.0  # mm: the usual width of a coil at its top
COIL_APART = 30.0  # mm left between two coils, so that they do not rub
TINY = 1.0  # mm: a strap's way across an opening shorter than this holds nothing


@dataclass(frozen=True)
class Strap:
    """A strap: its way, its line's number, its middle across, where the opening begins and ends along it, and how long
    it is cut; mm.

    `marks` are the two places on the cut strap, from its end, that come to the rails' inner edges.
    """

    way: Way
    line: int
    at: float
    begins: float
    ends: float
    cut: float
    marks: tuple[float, float]

    @property
    def span(self) -> float:
        """The way from rail to rail, in mm."""
        return self.ends - self.begins

    def is_over(self, other: Strap) -> bool:
        """Whether it passes over a strap of the other way where they cross: over and under alternate both ways.

        >>> a, b = Strap("deep", 0, 0, 0, 9, 9, (0, 9)), Strap("across", 0, 0, 0, 9, 9, (0, 9))
        >>> a.is_over(b), b.is_over(a)
        (True, False)
        """
        return ((self.line + other.line) % 2 == 0) == (self.way == "deep")


@dataclass(frozen=True)
class Webbing:
    """The straps of an opening, how wide they are, and what they take in all; mm."""

    straps: tuple[Strap, ...]
    wide: float
    staples: int

    @property
    def total(self) -> float:
        """The webbing to cut off the roll, mm."""
        return sum(strap.cut for strap in self.straps)

    def of(self, way: Way) -> tuple[Strap, ...]:
        """Return the straps of one way."""
        return tuple(strap for strap in self.straps if strap.way == way)


def webbing(opening: Outline, *, stretch: float = 0.0, under_coils: bool = False, rules: Rules = USUAL) -> Webbing:
    """Return the straps both ways of an opening, evenly spaced, no gap wider than a strap, interlaced.

    `stretch` is the share by which a strap is stretched when it is on (0 for jute, strained hand-tight; elastic 0.07
    to 0.10 on backs, 0.10 to 0.15 on seats): it is cut that much shorter between its marks, and each end takes the
    fold beside it. Source: trade rule of webbing. A strap that would lie half on an edge of the frame which runs along
    it moves to one side of that edge. Under coil springs there is an odd number each way, so that the springs stand on
    every second crossing, the outer ones among them. Raises BadInput for a stretch out of bounds.
    """
    if not 0 <= stretch <= 0.25:
        raise BadInput("stretch", stretch, "webbing stretched by 0 to 25 %")
    wide, fold = rules["strap"], rules["strap_ends"]
    straps = []
    ways: tuple[Way, ...] = ("deep", "across")
    for way in ways:
        turned = opening if way == "deep" else _swapped(opening)
        x0, _, x1, _ = turned.bounds
        for line, left in enumerate(strap_places(x0, x1, wide, _edges_along(turned, wide), odd=under_coils)):
            for begins, ends in _ways_through(turned, left, left + wide):
                drawn = (ends - begins) / (1 + stretch)
                straps.append(Strap(way, line, left + wide / 2, begins, ends, drawn + 2 * fold, (fold, fold + drawn)))
    return Webbing(tuple(straps), wide, round(rules["strap_staples"]) * 2 * len(straps))


def strap_places(
    low: float, high: float, wide: float, edges: tuple[float, ...] = (), *, odd: bool = False
) -> list[float]:
    """Return where straps begin across an opening from `low` to `high`, in mm, so that no gap is wider than a strap.

    n straps leave n + 1 gaps: n wide + (n + 1) wide >= the opening. A strap lies over none of the `edges`: it moves
    to the nearer side of one, and there is one strap more where the gaps would grow too wide.

    >>> [round(place, 1) for place in strap_places(0, 500, 50)]
    [41.7, 133.3, 225.0, 316.7, 408.3]
    """
    room = high - low
    count = max(1, math.ceil((room - wide) / (2 * wide) - 1e-9))
    count += odd and count % 2 == 0 and room >= (count + 1) * wide
    for n in range(count, count + len(edges) + 2):
        gap = (room - n * wide) / (n + 1)
        places = [low + gap + k * (wide + gap) for k in range(n)]
        moved = _beside_edges(places, wide, edges)
        if moved is not None and widest_gap(moved, low, high, wide) <= max(wide, gap) + 1e-6:
            return moved
    gap = (room - count * wide) / (count + 1)
    return [low + gap + k * (wide + gap) for k in range(count)]  # an edge that can't be kept clear is lain over


def widest_gap(places: list[float], low: float, high: float, wide: float) -> float:
    """Return the widest gap that straps at these places leave between `low` and `high`, mm."""
    ends = [low, *(place + wide for place in places)]
    begins = [*places, high]
    return max(begin - end for begin, end in zip(begins, ends, strict=True))


def _beside_edges(places: list[float], wide: float, edges: tuple[float, ...]) -> list[float] | None:
    moved: list[float] = []
    for place in places:
        met = next((e for e in edges if place + 1e-6 < e < place + wide - 1e-6), None)
        if met is not None:
            place = min((met - wide, met), key=lambda to: abs(to - place))
        if moved and place < moved[-1] + wide - 1e-6:
            return None
        moved.append(place)
    return moved


def _edges_along(opening: Outline, least: float) -> tuple[float, ...]:
    """Where the frame has an edge that runs along the straps inside the opening's width, mm across."""
    x0, _, x1, _ = opening.bounds
    found = []
    points = opening.points
    for a, b in zip(points, (*points[1:], points[0]), strict=True):
        at = (a[0] + b[0]) / 2
        if abs(a[0] - b[0]) < STRAIGHT and abs(a[1] - b[1]) > least and x0 + STRAIGHT < at < x1 - STRAIGHT:
            found.append(at)
    return tuple(sorted(found))


def _ways_through(opening: Outline, left: float, right: float) -> list[tuple[float, float]]:
    """From where to where a strap crosses the opening: once, or more often where the frame comes between."""
    _, y0, _, y1 = opening.bounds
    met = opening.polygon.intersection(box(left, y0 - 1, right, y1 + 1))
    parts = met.geoms if isinstance(met, MultiPolygon) else [met]
    found = [(part.bounds[1], part.bounds[3]) for part in parts if isinstance(part, Polygon) and not part.is_empty]
    ways: list[tuple[float, float]] = []
    for low, high in sorted(found):
        if ways and low <= ways[-1][1]:  # beside each other under one strap: it goes on over both
            ways[-1] = (ways[-1][0], max(high, ways[-1][1]))
        elif high - low > TINY:
            ways.append((low, high))
    return ways


def _swapped(opening: Outline) -> Outline:
    """The same opening with its axes changed over."""
    return Outline(tuple((y, x) for x, y in reversed(opening.points)))


@dataclass(frozen=True)
class Sinuous:
    """A sinuous spring: its number from the left, its two ends on the rails, its span and cut length; mm."""

    number: int
    from_: Point
    to: Point
    span: float
    cut: float


@dataclass(frozen=True)
class SinuousPlan:
    """The sinuous springs of an opening, how far apart and from the sides, their crown, the cross ties; mm."""

    springs: tuple[Sinuous, ...]
    apart: float
    from_side: float
    crown: float
    ties: tuple[tuple[Point, Point], ...]

    @property
    def clips(self) -> int:
        """Two for each spring."""
        return 2 * len(self.springs)

    @property
    def wire(self) -> float:
        """The wire of the cross ties with 50 mm to turn back at each end, mm."""
        return sum(math.dist(a, b) + 100 for a, b in self.ties)


def sinuous_length(span: float, crown: float) -> float:
    """Return how long a sinuous spring is cut for a span and a crown, mm: span + 8 h² / (3 span).

    Source: trade rule; the length of a flat arc.

    >>> round(sinuous_length(500, 32), 1)
    505.5
    """
    return span + 8 * crown**2 / (3 * span)


def sinuous_places(room: float) -> tuple[int, float, float]:
    """Return for an opening `room` mm wide how many springs, how far apart, how far the outer ones lie from the sides.

    Source: trade rule, 90 to 115 apart and 75 to 100 from the side rails; where both can't hold, the springs stand
    closer. Raises BadInput for an opening too narrow for one.

    >>> sinuous_places(540)
    (5, 97.5, 75.0)
    """
    near, far = SINUOUS_FROM_SIDE
    wide = round(room, 1)  # as it is told, or one of 149.96 would be refused for being 150
    if wide < 2 * near:
        raise BadInput(
            "opening",
            f"{wide:g} mm",
            f"an opening at least {2 * near:.0f} mm wide",
            words=f"The opening is {wide:g} mm wide and the outer springs lie {near:.0f} mm from its sides; expected "
            f"at least {2 * near:.0f} mm.",
        )
    if room <= 2 * far:
        return 1, 0.0, room / 2
    wished = sum(SINUOUS_APART) / 2
    best: tuple[float, int, float] | None = None
    for count in range(2, 60):
        least, most = (room - 2 * far) / (count - 1), (room - 2 * near) / (count - 1)
        low, high = max(least, SINUOUS_APART[0]), min(most, SINUOUS_APART[1])
        if low <= high:
            apart = min(max(wished, low), high)
            if best is None or abs(apart - wished) < best[0] - 1e-9:
                best = (abs(apart - wished), count, apart)
    if best is None:  # between one spring and two: closer to each other rather than far from the sides
        return 2, room - 2 * near, near
    _, count, apart = best
    return count, apart, (room - (count - 1) * apart) / 2


def sinuous_springs(opening: Outline, *, crown: float, way: Way = "deep") -> SinuousPlan:
    """Return the sinuous springs of an opening: number and places by the rule, each cut length by its own span.

    On an opening that is narrower behind, the springs draw together toward the back as its sides do. Two rows of cross
    ties from a span of 450 mm on, one below it. Raises BadInput for an opening too narrow.
    """
    turned = opening if way == "deep" else _swapped(opening)
    _, y0, _, y1 = turned.bounds
    front, back = _chord(turned, y0 + TINY), _chord(turned, y1 - TINY)
    middle = _chord(turned, (y0 + y1) / 2)
    room = middle[1] - middle[0]
    count, apart, from_side = sinuous_places(room)
    straight = min(front[1] - front[0], back[1] - back[0]) > 0.6 * room
    springs = []
    for number in range(count):
        share = (from_side + number * apart) / room
        if straight:
            a = (front[0] + share * (front[1] - front[0]), y0)
            b = (back[0] + share * (back[1] - back[0]), y1)
        else:
            a = b = (middle[0] + share * room, 0.0)
        ends = _on_rails(turned, a, b)
        span = math.dist(*ends)
        here = ends if way == "deep" else tuple((y, x) for x, y in ends)
        springs.append(Sinuous(number + 1, here[0], here[1], span, sinuous_length(span, crown)))
    deep = y1 - y0
    shares = (1 / 3, 2 / 3) if deep >= TIES_FROM else (1 / 2,)
    ties = []
    for share in shares:
        at = y0 + share * deep
        left, right = _chord(turned, at)
        tie = ((left, at), (right, at))
        ties.append(tie if way == "deep" else ((at, left), (at, right)))
    return SinuousPlan(tuple(springs), apart, from_side, crown, tuple(ties))


def _chord(opening: Outline, at: float) -> tuple[float, float]:
    """From where to where a line across at this depth lies in the opening; its longest part."""
    x0, _, x1, _ = opening.bounds
    parts = _lines_in(opening, LineString([(x0 - 1, at), (x1 + 1, at)]))
    if not parts:
        return (x0 + x1) / 2, (x0 + x1) / 2
    longest = max(parts, key=lambda p: p.length)
    return longest.bounds[0], longest.bounds[2]


def _on_rails(opening: Outline, a: Point, b: Point) -> tuple[Point, Point]:
    """The two places on the opening's edge that a line through a and b meets first and last, its longest part."""
    _, y0, _, y1 = opening.bounds
    deep = max(b[1] - a[1], 1.0)
    slope = (b[0] - a[0]) / deep
    line = LineString([(a[0] + slope * (y - a[1]), y) for y in (y0 - 1, y1 + 1)])
    longest = max(_lines_in(opening, line), key=lambda p: p.length)
    first, last = longest.coords[0], longest.coords[-1]
    ends = sorted([(float(first[0]), float(first[1])), (float(last[0]), float(last[1]))], key=lambda p: p[1])
    return ends[0], ends[1]


@dataclass(frozen=True)
class CoilPlan:
    """Coil springs on the crossings of the webbing: where each stands, and the lashing both ways and on the diagonals;
    mm.
    """

    at: tuple[Point, ...]
    wide: float
    rows: tuple[tuple[Point, Point], ...]

    @property
    def twine(self) -> float:
        """The lashing twine, mm: twice the span for each row both ways and each diagonal. Source: trade rule."""
        return sum(2 * math.dist(a, b) for a, b in self.rows)


def coil_springs(opening: Outline, webbed: Webbing, *, wide: float = COIL_WIDE) -> CoilPlan:
    """Return coil springs on crossings of the straps, so far apart that they do not rub, and none over a rail.

    Lashed from rail to rail along every row both ways and along every diagonal that holds two springs or more. Raises
    BadInput where none fits.
    """
    inside = opening.polygon.buffer(-wide / 2)
    stands: dict[tuple[int, int], Point] = {}
    for columns in _lines_apart([s.at for s in webbed.of("deep")], wide + COIL_APART):
        for rows in _lines_apart([s.at for s in webbed.of("across")], wide + COIL_APART):
            found = {
                (c, r): (x, y)
                for c, x in enumerate(columns)
                for r, y in enumerate(rows)
                if inside.covers(ShapelyPoint(x, y))
            }
            stands = found if len(found) > len(stands) else stands
    if not stands:
        raise BadInput(
            "opening",
            f"{opening.width:.0f} x {opening.height:.0f} mm",
            "an opening that a coil spring fits in",
            words=f"No coil spring {wide:.0f} mm wide fits between these rails.",
        )
    lashed = []
    for along, groups in (
        ((0.0, 1.0), _groups(stands, lambda column, _: column)),
        ((1.0, 0.0), _groups(stands, lambda _, row: row)),
        (None, [g for g in _groups(stands, lambda column, row: column - row) if len(g) > 1]),
        (None, [g for g in _groups(stands, lambda column, row: column + row) if len(g) > 1]),
    ):
        lashed += [_from_rail_to_rail(opening, group, along) for group in groups]
    return CoilPlan(tuple(stands[n] for n in sorted(stands)), wide, tuple(lashed))


def _lines_apart(lines: list[float], least: float) -> list[list[float]]:
    """Choices among the lines, each that far from the next: every so many, those about the middle first; last, one."""
    lines = sorted(set(lines))
    found = []
    for step in range(1, len(lines) + 1):
        rest = (len(lines) - 1) % step
        for begin in sorted(range(step), key=lambda n, r=rest: abs(n - r / 2)):  # type: ignore[misc]
            taken = lines[begin::step]
            if all(b - a >= least - 1e-6 for a, b in pairwise(taken)):
                found.append(taken)
    return found


def _groups(stands: dict[tuple[int, int], Point], by: Callable[[int, int], int]) -> list[list[Point]]:
    groups: dict[int, list[Point]] = {}
    for number in sorted(stands):
        groups.setdefault(by(*number), []).append(stands[number])
    return list(groups.values())


def _from_rail_to_rail(opening: Outline, points: list[Point], along: Point | None) -> tuple[Point, Point]:
    """The line through the springs of a row, carried on to the rails; `along` says where it runs, None: by its ends."""
    a, b = points[0], points[-1]
    length = math.dist(a, b)
    u = along or ((b[0] - a[0]) / length, (b[1] - a[1]) / length)
    far = opening.width + opening.height
    line = LineString([(a[0] - u[0] * far, a[1] - u[1] * far), (a[0] + u[0] * far, a[1] + u[1] * far)])
    parts = _lines_in(opening, line)
    (ax, ay), (bx, by) = min(parts, key=lambda p: p.distance(LineString([a, (a[0] + 1e-6, a[1])]))).coords
    return (float(ax), float(ay)), (float(bx), float(by))


def _lines_in(opening: Outline, line: LineString) -> list[LineString]:
    met = opening.polygon.intersection(line)
    return [p for p in getattr(met, "geoms", [met]) if isinstance(p, LineString) and not p.is_empty]
