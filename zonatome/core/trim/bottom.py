"""The bottom cloth: its size, and how it is cut round the legs. Lengths in mm."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

from shapely.affinity import translate
from shapely.geometry import MultiPolygon, Polygon
from shapely.geometry import Point as ShapelyPoint
from shapely.geometry.base import BaseGeometry
from shapely.ops import nearest_points, unary_union

from zonatome.core.errors import BadInput
from zonatome.core.joins import JOINS, SHORT_OF_LINE
from zonatome.core.outline import Outline, Point, outline_of, rectangle
from zonatome.core.rules import USUAL, Rules
from zonatome.core.trace.by_tape import disc_shape
from zonatome.core.trace.shape import Mark, Shape, bare_shape

MOST_LEGS = 12
LEG_SIZES = (8.0, 300.0)  # mm across
LEAST_HOLE = 100.0  # mm2: nobody cuts out a smaller one, snips open it
TOUCHES = 0.5  # mm
SNIPS_ROUND = 8  # into the cloth that is turned under round a round leg


@dataclass(frozen=True)
class BottomCloth:
    """The bottom cloth's finished size and its cut size, in mm."""

    finished: tuple[float, float]
    cut: tuple[float, float]
    is_round: bool = False


def bottom_cloth(width: float, depth: float, *, is_round: bool = False, rules: Rules = USUAL) -> BottomCloth:
    """Return the bottom cloth of an underside: 10 mm less a side, 25 mm turned under.

    Source: trade rule. Raises BadInput for an underside too small to close.

    >>> bottom_cloth(370, 370).cut
    (400.0, 400.0)
    """
    for key, value in (("width", width), ("depth", depth)):
        if not 40 <= value <= 10_000:
            raise BadInput(key, value, "40 to 10000 mm")
    less, turned = rules["bottom_less"], rules["bottom_turned"]
    finished = (float(width - 2 * less), float(depth - 2 * less))
    return BottomCloth(finished, (finished[0] + 2 * turned, finished[1] + 2 * turned), is_round)


@dataclass(frozen=True)
class Leg:
    """A leg under furniture: its middle from the left and the front of the underside, its width and depth; no depth: it
    is round.
    """

    x: float
    y: float
    width: float
    depth: float | None = None

    def __post_init__(self) -> None:
        """Refuse what is no leg."""
        for key, value in (("width", self.width), ("depth", self.depth or self.width)):
            if not LEG_SIZES[0] <= value <= LEG_SIZES[1]:
                raise BadInput(key, value, f"a leg {LEG_SIZES[0]:.0f} to {LEG_SIZES[1]:.0f} mm across")

    @property
    def outline(self) -> Outline:
        """Its outline on the underside."""
        if self.depth is None:
            return _disc(self.width).moved(self.x - self.width / 2, self.y - self.width / 2)
        return rectangle(self.width, self.depth).moved(self.x - self.width / 2, self.y - self.depth / 2)


@dataclass(frozen=True)
class CutRound:
    """A bottom cloth cut round legs, on the underside's own frame: the line at which it is turned under and the line
    along which it is cut, each with the holes that do not reach the edge; the snips into what is turned under, the cuts
    from the edge to a hole; how long the turned edges round holes are.
    """

    finished: Outline
    finished_holes: tuple[Outline, ...]
    cut: Outline
    cut_holes: tuple[Outline, ...]
    snips: tuple[tuple[Point, Point], ...]
    ways_in: tuple[tuple[Point, Point], ...]
    round_holes: float


def cut_round(bottom: BottomCloth, legs: Sequence[Leg], *, rules: Rules = USUAL) -> CutRound:
    """Return a bottom cloth as it is cut round the legs of its underside.

    It is turned under along each leg by what is turned under on show, 15 mm: the hole is so much smaller than the leg
    on each side, open to the edge where the leg comes as near to it as that, with snips toward the corners of the fold
    that end 5 mm short of it; a leg too thin for a hole has snips only. A leg that stands in from the edge is reached
    by a cut from the nearest edge. Source: trade rules of the bottom cloth and of what is turned under around legs.
    Raises BadInput for a leg that stands beside the underside, legs that leave no whole cloth, more than 12.
    """
    if len(legs) > MOST_LEGS:
        raise BadInput("legs", len(legs), f"at most {MOST_LEGS} legs")
    less, turned, around = rules["bottom_less"], rules["bottom_turned"], JOINS["turned_under"].adds
    whole = _shape(bottom, bottom.finished).moved(less, less)
    cloth = _shape(bottom, bottom.cut).moved(less - turned, less - turned)
    under = whole.polygon.buffer(less, join_style="mitre")
    for leg in legs:
        if not under.intersects(leg.outline.polygon):
            words = (
                f"A leg {leg.x:.0f} mm from the left and {leg.y:.0f} mm from the front stands beside the underside; "
            )
            words += "expected its middle on it."
            raise BadInput("x", f"{leg.x:.0f}, {leg.y:.0f} mm", "a leg on the underside", words=words)
    feet = [leg.outline.polygon for leg in legs]
    holes = [_hole(foot, around) for foot in feet]
    out = [_ways_out(foot, around, whole, is_round=bottom.is_round) for foot in feet]
    finished = _less(whole.polygon, [_swept(foot, ways) for foot, ways in zip(feet, out, strict=True)])
    cut = _less(cloth.polygon, [_swept(hole, ways) for hole, ways in zip(holes, out, strict=True)])
    ways_in = [
        _way_in(cut, foot.centroid if hole.is_empty else hole)
        for foot, hole, ways in zip(feet, holes, out, strict=True)
        if not ways
    ]
    return CutRound(
        outline_of(finished.exterior.coords[:-1]),
        tuple(outline_of(ring.coords[:-1]) for ring in finished.interiors),
        outline_of(cut.exterior.coords[:-1]),
        tuple(outline_of(ring.coords[:-1]) for ring in cut.interiors),
        tuple(snip for leg in legs for snip in _snips(leg, around, finished)),
        tuple(ways_in),
        sum(ring.length for ring in finished.interiors),
    )


def _disc(diameter: float) -> Outline:
    return disc_shape("Bottom", diameter, {}).outline


def _shape(bottom: BottomCloth, size: tuple[float, float]) -> Outline:
    return _disc(size[0]) if bottom.is_round else rectangle(*size)


def _hole(foot: Polygon, around: float) -> Polygon:
    hole = foot.buffer(-around, join_style="mitre")
    return hole if hole.area >= LEAST_HOLE else Polygon()


def _ways_out(foot: Polygon, around: float, whole: Outline, *, is_round: bool) -> list[Point]:
    """The ways from a leg to the edges that it reaches, or comes so near that nothing could be turned under there."""
    if foot.within(whole.polygon.buffer(-around, join_style="mitre")):
        return []
    x0, y0, x1, y1 = whole.bounds
    left, low, right, high = foot.bounds
    far = x1 - x0 + y1 - y0
    if is_round:
        dx, dy = foot.centroid.x - (x0 + x1) / 2, foot.centroid.y - (y0 + y1) / 2
        long = math.hypot(dx, dy) or 1.0
        return [(far * dx / long, far * dy / long)]
    across = far * ((right >= x1 - around) - (left <= x0 + around))
    up = far * ((high >= y1 - around) - (low <= y0 + around))
    return [(across, 0.0), (0.0, up), (across, up)]


def _swept(outline: Polygon, ways: Sequence[Point]) -> Polygon:
    """What an outline covers that is drawn out along these ways."""
    if outline.is_empty:
        return outline
    return MultiPolygon([outline, *(translate(outline, dx, dy) for dx, dy in ways)]).convex_hull


def _less(cloth: Polygon, taken: Sequence[Polygon]) -> Polygon:
    left = cloth.difference(unary_union(list(taken)))
    if isinstance(left, MultiPolygon) or left.is_empty:
        words = "These legs would cut the bottom cloth into pieces; expected legs that leave it whole."
        raise BadInput("legs", len(taken), "legs that leave one whole cloth", words=words)
    return left


def _way_in(cut: Polygon, to: BaseGeometry) -> tuple[Point, Point]:
    """The cut from the nearest edge to the hole of a leg, or to the middle of one that has none."""
    a, b = nearest_points(cut.exterior, to)
    return (a.x, a.y), (b.x, b.y)


def _snips(leg: Leg, around: float, finished: Polygon) -> list[tuple[Point, Point]]:
    """From the corners of the hole toward those of the fold; from its middle where the leg is too thin for a hole."""
    if leg.depth is None:
        turns = [2 * math.pi * k / SNIPS_ROUND for k in range(SNIPS_ROUND)]
        half = deep = leg.width / 2
        ways = [(math.cos(turn), math.sin(turn)) for turn in turns]
    else:
        half, deep = leg.width / 2, leg.depth / 2
        ways = [(-1.0, -1.0), (1.0, -1.0), (1.0, 1.0), (-1.0, 1.0)]
    found = []
    for x, y in ways:
        begin = (leg.x + x * max(0.0, half - around), leg.y + y * max(0.0, deep - around))
        fold = (leg.x + x * half, leg.y + y * deep)
        long = math.dist(begin, fold)
        is_folded = finished.boundary.distance(ShapelyPoint(fold)) < TOUCHES
        at_edge = finished.convex_hull.exterior.distance(ShapelyPoint(fold)) < TOUCHES
        if long <= SHORT_OF_LINE or not is_folded or at_edge:
            continue
        share = 1 - SHORT_OF_LINE / long
        found.append((begin, (begin[0] + (fold[0] - begin[0]) * share, begin[1] + (fold[1] - begin[1]) * share)))
    return found


def bottom_shape(cut: CutRound) -> Shape:
    """Return a bottom cloth as it is cut, with what is cut on the furniture as marks that say *not yet*: the holes of
    legs, the snips, the ways in.
    """
    rings = [(*hole.points, hole.points[0]) for hole in cut.cut_holes]
    lines = [*(pair for ring in rings for pair in itertools.pairwise(ring)), *cut.snips, *cut.ways_in]
    return bare_shape("Bottom cloth", cut.cut, tuple(Mark("relief", line) for line in lines))


def mirrored(leg: Leg, width: float, depth: float) -> tuple[Leg, ...]:
    """Return a leg and its likes at the other corners of an underside; one on a middle line has fewer."""
    places = {(x, y): None for x in (leg.x, width - leg.x) for y in (leg.y, depth - leg.y)}
    return tuple(Leg(x, y, leg.width, leg.depth) for x, y in places)
