"""Cuts that are made on the furniture: toward posts and legs, and small ones on curved edges.

Lengths in mm, in the shape's own frame, face up. All stand on the print and the cut sheet as *not yet*: they are made
when the panel lies on the furniture, in small snips, trying between them.
"""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass
from typing import Literal

from shapely.geometry import LineString
from shapely.geometry import Point as ShapelyPoint

from zonatome.core.errors import BadInput
from zonatome.core.joins import SHORT_OF_LINE
from zonatome.core.outline import Outline, Point
from zonatome.core.trace.shape import Shape

CutKey = Literal["straight", "y"]
STOP = (10.0, 12.0)  # mm that a cut ends short of its post
NOTCH_WIDE = 6.0  # mm: the widest notch that is cut out of an outward curve
SLIT_OPENS = 8.0  # mm: how far a slit of an inward curve may open
STRAIGHTER = 40.0  # times the allowance: an edge of a larger radius needs none
LEAST_ADDED = 8.0  # mm: a smaller allowance is not cut into
STEP = 10.0  # mm between two places at which a curve is looked at
SIGHT = 30.0  # mm each way over which its turn is measured
MOST_SNIPS = 400


@dataclass(frozen=True)
class Post:
    """A post, leg or arm that the panel goes round: the middle of its face in the shape's frame, how wide it is."""

    at: Point
    width: float

    def __post_init__(self) -> None:
        """Refuse what is no post."""
        if not 5 <= self.width <= 400:
            raise BadInput("width", self.width, "a post 5 to 400 mm wide")


@dataclass(frozen=True)
class ReliefCut:
    """A cut toward a post: its sort, its lines from the cut edge inward, the length of its stem and of each arm, how
    far from the post it stops, mm.
    """

    sort: CutKey
    lines: tuple[tuple[Point, Point], ...]
    stem: float
    arm: float
    stop: float
    words: str


def relief_cut(shape: Shape, post: Post, *, sort: CutKey = "straight", stop: float = STOP[0]) -> ReliefCut:
    """Return the cut from the nearest edge of the cut piece toward a post.

    With its face d from the cut edge a straight cut is d - `stop` long, toward the middle of the face, where cloth goes
    to both sides of it. A Y has a stem of d - w / 2 - `stop` and two arms that end `stop` short of the post's corners,
    where a flap folds against the face. Source: trade rule of relief cuts. Raises BadInput for a post outside the piece
    or so near its edge that nothing is left to cut.
    """
    if not STOP[0] <= stop <= STOP[1]:
        raise BadInput("stop", stop, f"a stop {STOP[0]:.0f} to {STOP[1]:.0f} mm short of the post")
    edge = LineString([*shape.cut_line.points, shape.cut_line.points[0]])
    at = ShapelyPoint(post.at)
    if not shape.cut_line.polygon.contains(at):
        raise BadInput("post", post.at, "a place inside the piece", words="The post must stand inside the cut piece.")
    near = edge.interpolate(edge.project(at))
    away = math.dist(post.at, (near.x, near.y))
    along = ((post.at[0] - near.x) / away, (post.at[1] - near.y) / away)
    across = (-along[1], along[0])
    half = post.width / 2
    stem = away - stop if sort == "straight" else away - half - stop
    if stem <= 0:
        raise BadInput(
            "post",
            f"{away:.0f} mm from the cut edge",
            "a post farther in",
            words=f"The post's face lies only {away:.0f} mm from the cut edge; expected more than {away - stem:.0f} mm "
            "for this cut.",
        )
    start = (near.x, near.y)
    end = (near.x + along[0] * stem, near.y + along[1] * stem)
    if sort == "straight":
        return ReliefCut(sort, ((start, end),), stem, 0.0, stop, f"straight toward the middle of the post, "
                         f"{stop:.0f} mm short of it; cloth goes to both sides")  # fmt: skip
    arms = []
    for way in (-1, 1):
        corner = (post.at[0] + across[0] * half * way, post.at[1] + across[1] * half * way)
        far = math.dist(end, corner)
        share = max(0.0, far - stop) / far
        arms.append((end, (end[0] + (corner[0] - end[0]) * share, end[1] + (corner[1] - end[1]) * share)))
    arm = math.dist(*arms[0])
    words = f"a Y: its arms end {stop:.0f} mm short of the post's corners; the flap folds against the face"
    return ReliefCut(sort, ((start, end), *arms), stem, arm, stop, words)


@dataclass(frozen=True)
class Snip:
    """A small cut on a curved edge: from the cut line inward, and which way the edge curves there."""

    line: tuple[Point, Point]
    sort: Literal["notch", "slit"]
    edge: str


@dataclass(frozen=True)
class CurvedEdge:
    """What a curved edge with its allowance wants: notches where it is too long, slits where it is too short.

    `radius` is the mean one of what is curved, `apart` how far the closest two stand from each other, `deep` how deep
    they go.
    """

    edge: str
    added: float
    radius: float
    deep: float
    apart: float
    snips: tuple[Snip, ...]

    @property
    def is_outward(self) -> bool:
        """Whether the edge bulges, so that its allowance is too long."""
        return bool(self.snips) and self.snips[0].sort == "notch"


def curved_edges(shape: Shape) -> tuple[CurvedEdge, ...]:
    """Return what every curved edge of a shape wants.

    Outward with radius R and allowance a the edge is too long by a / R of its length: notches at most 6 wide, one every
    6 R / a. Inward it is too short: slits that open by at most 8, one every 8 R / a. Both are a - 5 deep; an edge
    straighter than R = 40 a needs none. Source: trade rule of curved edges.
    """
    found = []
    for number, edge in enumerate(shape.edges):
        if edge.adds < LEAST_ADDED:
            continue
        points = shape.edge_points(number)
        for sort, wide, sign in (("notch", NOTCH_WIDE, 1.0), ("slit", SLIT_OPENS, -1.0)):
            one = _snips(points, edge.name, edge.adds, sort, wide, sign)  # type: ignore[arg-type]
            if one is not None:
                found.append(one)
    return tuple(found)


def _snips(
    points: tuple[Point, ...], name: str, added: float, sort: Literal["notch", "slit"], wide: float, sign: float
) -> CurvedEdge | None:
    is_closed = math.dist(points[0], points[-1]) < 1e-6
    line = LineString([*points, *points[1:]] if is_closed else points)  # a closed edge goes on where it began
    segments = sorted(math.dist(a, b) for a, b in itertools.pairwise(points))
    sight = max(SIGHT, 2 * segments[len(segments) // 2])  # an arc is a run of chords: look farther than one of them
    if line.length < 2 * sight or len(segments) < 3:
        return None
    deep = added - SHORT_OF_LINE
    # how many cuts a mm wants, summed along the edge: one more each time the sum passes another half
    wanted, snips, places, curved, turned = 0.5, list[Snip](), list[float](), 0.0, 0.0
    at = sight
    total = 0.0
    end = sight + line.length / 2 - STEP / 2 if is_closed else line.length - sight
    while at <= end and len(snips) < MOST_SNIPS:
        bend = sign * _turn(line, at, sight)  # outward is positive: the outline runs anticlockwise
        radius = 1 / bend if bend > 1e-9 else math.inf
        if radius < STRAIGHTER * added:
            curved, turned = curved + STEP, turned + STEP * bend
            total += STEP * added / (wide * radius)
            if total >= wanted:
                wanted += 1
                snips.append(Snip(_inward(line, at, added, deep), sort, name))
                places.append(at)
        at += STEP
    if not snips:
        return None
    gaps, radius = [b - a for a, b in itertools.pairwise(places)], curved / turned
    return CurvedEdge(name, added, radius, deep, min(gaps, default=wide * radius / added), tuple(snips))


def _turn(line: LineString, at: float, sight: float) -> float:
    """By how much an edge turns at a place, in radians a mm."""
    a, p, b = (line.interpolate(at + d) for d in (-sight, 0, sight))
    first, second = math.atan2(p.y - a.y, p.x - a.x), math.atan2(b.y - p.y, b.x - p.x)
    return ((second - first + math.pi) % (2 * math.pi) - math.pi) / sight


def _inward(line: LineString, at: float, added: float, deep: float) -> tuple[Point, Point]:
    a, p, b = line.interpolate(at - 1), line.interpolate(at), line.interpolate(at + 1)
    long_ = math.hypot(b.x - a.x, b.y - a.y) or 1.0
    out = ((b.y - a.y) / long_, -(b.x - a.x) / long_)
    return ((p.x + out[0] * added, p.y + out[1] * added),
            (p.x + out[0] * (added - deep), p.y + out[1] * (added - deep)))  # fmt: skip


def clear_of_post(cut: ReliefCut, post: Post) -> float:
    """Return how far a cut stays from its post's face, mm."""
    end = cut.lines[0][1]
    along = (post.at[0] - end[0], post.at[1] - end[1])
    long_ = math.hypot(*along) or 1.0
    across = (-along[1] / long_, along[0] / long_)
    half = post.width / 2
    face = LineString([(post.at[0] + across[0] * s * half, post.at[1] + across[1] * s * half) for s in (-1, 1)])
    return min(float(LineString(line).distance(face)) for line in cut.lines)


def legs_of(outline: Outline, feet: int) -> tuple[Point, ...]:
    """Return where feet usually stand under an outline: at its corners, else evenly round it; 30 mm inside."""
    inner = outline.polygon.buffer(-30)
    ring = LineString(inner.exterior.coords) if not inner.is_empty else LineString([*outline.points, outline.points[0]])
    at = [outline.points[i] for i in outline.corners()]
    if len(at) != feet:
        at = [(p.x, p.y) for p in (ring.interpolate(k / max(1, feet), normalized=True) for k in range(feet))]
    near = [ring.interpolate(ring.project(ShapelyPoint(p))) for p in at]
    return tuple((float(p.x), float(p.y)) for p in near)
