"""Mending a traced outline under the hand: round a corner, pull one out, cut off with a line, straighten, smooth."""

from __future__ import annotations

import math

import numpy as np
from shapely.geometry import LineString, Polygon
from shapely.ops import split

from zonatome.core.errors import BadInput
from zonatome.core.outline import Outline, Point, outline_of
from zonatome.core.trace.by_tape import arc_steps

LEG = 40.0  # mm along each side over which the straight that meets in a corner is taken
SKIP = 12.0  # mm beside a worn corner that tell nothing about it
FURTHEST = 60.0  # mm: a corner is not pulled out further than this


def _at(outline: Outline, number: int) -> int:
    if not 0 <= number < len(outline.points):
        raise BadInput("at", number, f"a point of the outline, 0 to {len(outline.points) - 1}")
    return number


def point_at(outline: Outline, number: int) -> Point:
    """Return a point of an outline by its number. Raises BadInput where there is none."""
    return outline.points[_at(outline, number)]


def rounded_at(outline: Outline, number: int, radius: float) -> Outline:
    """Return the outline with the corner at one point rounded by an arc of so many mm that touches both sides.

    Raises BadInput for a radius that the sides beside it are too short for, and for a point that is no corner.
    """
    points, n = outline.points, len(outline.points)
    at = points[_at(outline, number)]
    before, after = points[number - 1], points[(number + 1) % n]
    u = _unit(at, before)
    v = _unit(at, after)
    between = math.acos(max(-1.0, min(1.0, u[0] * v[0] + u[1] * v[1])))
    if not 0.05 < between < math.pi - 0.05:
        raise BadInput("at", number, "a point at which the outline has a corner")
    back = radius / math.tan(between / 2)
    most = min(math.dist(at, before), math.dist(at, after)) * math.tan(between / 2)
    if not (math.isfinite(radius) and radius >= 1 and back <= min(math.dist(at, before), math.dist(at, after))):
        raise BadInput("radius", radius, f"1 to {most:.0f} mm, so that the arc begins on the sides beside the corner")
    start = (at[0] + u[0] * back, at[1] + u[1] * back)
    middle = ((u[0] + v[0]), (u[1] + v[1]))
    far = radius / math.sin(between / 2) / math.hypot(*middle)
    centre = (at[0] + middle[0] * far, at[1] + middle[1] * far)
    first = math.atan2(start[1] - centre[1], start[0] - centre[0])
    turn = math.pi - between
    way = 1.0 if u[0] * v[1] - u[1] * v[0] < 0 else -1.0
    steps = max(2, arc_steps(radius, math.degrees(turn)) if radius > 1 else 2)
    arc = [
        (
            centre[0] + radius * math.cos(first + way * turn * k / steps),
            centre[1] + radius * math.sin(first + way * turn * k / steps),
        )
        for k in range(steps + 1)
    ]
    return outline_of([*points[:number], *arc, *points[number + 1 :]])


def _unit(a: Point, b: Point) -> Point:
    length = math.dist(a, b)
    return ((b[0] - a[0]) / length, (b[1] - a[1]) / length)


def corner_pulled(outline: Outline, number: int) -> Outline:
    """Return the outline with a worn or rounded-off corner pulled out to where the straights on both sides would meet.

    Each straight is fitted to the 40 mm of outline that begin 12 mm beside the point. Raises BadInput where the two do
    not meet, or only further than 60 mm away.
    """
    n = len(outline.points)
    at = outline.points[_at(outline, number)]
    there = _leg([outline.points[(number + k) % n] for k in range(n)])
    here = _leg([outline.points[(number - k) % n] for k in range(n)])
    (p, u), (q, v) = _line(there), _line(here)
    cross = u[0] * v[1] - u[1] * v[0]
    if abs(cross) < 0.15:
        raise BadInput("at", number, "a place where two straights meet at an angle")
    t = ((q[0] - p[0]) * v[1] - (q[1] - p[1]) * v[0]) / cross
    corner = (float(p[0] + u[0] * t), float(p[1] + u[1] * t))
    if math.dist(corner, at) > FURTHEST:
        raise BadInput(
            "at", number, f"straights that meet within {FURTHEST:.0f} mm, not {math.dist(corner, at):.0f} mm away"
        )
    gone: set[int] = set()
    for way in (1, -1):
        run, k = 0.0, 0
        while run < SKIP and len(gone) < n - 3:
            gone.add((number + way * k) % n)
            run += math.dist(outline.points[(number + way * k) % n], outline.points[(number + way * (k + 1)) % n])
            k += 1
    ring = [outline.points[(number + k) % n] for k in range(n)]
    kept = [p for k, p in enumerate(ring) if (number + k) % n not in gone]
    return outline_of([corner, *kept])


def _leg(points: list[Point]) -> list[Point]:
    """Points every 2 mm of the stretch from SKIP to SKIP + LEG along a line of points."""
    line = LineString(points)
    places = np.arange(SKIP, min(SKIP + LEG, line.length / 2), 2.0)
    if len(places) < 3:
        raise BadInput("at", 0, f"{SKIP + 6:.0f} mm of outline on each side")
    found = [line.interpolate(float(s)) for s in places]
    return [(p.x, p.y) for p in found]


def _line(points: list[Point]) -> tuple[Point, Point]:
    """The line of least squares through points: one of its points and its direction."""
    array = np.array(points)
    middle = array.mean(axis=0)
    _, _, axes = np.linalg.svd(array - middle)
    return (float(middle[0]), float(middle[1])), (float(axes[0][0]), float(axes[0][1]))


def cut_off(outline: Outline, a: Point, b: Point) -> Outline:
    """Return the greater part of an outline cut by the line through two points.

    Raises BadInput for a line that cuts nothing off.
    """
    if math.dist(a, b) < 1:
        raise BadInput("line", (a, b), "two points at least 1 mm apart")
    u = _unit(a, b)
    far = 2 * (outline.width + outline.height) + math.dist(a, outline.points[0])
    line = LineString([(a[0] - u[0] * far, a[1] - u[1] * far), (b[0] + u[0] * far, b[1] + u[1] * far)])
    parts = [p for p in split(outline.polygon, line).geoms if isinstance(p, Polygon)]
    if len(parts) < 2:
        raise BadInput("line", f"{a[0]:.0f}, {a[1]:.0f} to {b[0]:.0f}, {b[1]:.0f}", "a line that cuts something off")
    best = max(parts, key=lambda p: p.area)
    return outline_of(list(best.exterior.coords)[:-1])


def straight_between(outline: Outline, first: int, last: int) -> Outline:
    """Return the outline straight from one point to another, the shorter way round. Raises BadInput for neighbours."""
    n = len(outline.points)
    _at(outline, first), _at(outline, last)
    ring = [outline.points[(first + k) % n] for k in range(n + 1)]
    ahead = (last - first) % n
    if LineString(ring[: ahead + 1] if ahead else ring[:1] * 2).length > outline.perimeter / 2:
        first, last, ahead = last, first, n - ahead
    if ahead < 2:
        raise BadInput("at", (first, last), "two points with others between them")
    gone = {(first + k) % n for k in range(1, ahead)}
    return outline_of([p for i, p in enumerate(outline.points) if i not in gone])
