"""The marks that a cut piece carries, as lines: notches across the allowance, buttons and posts as crosses, stitch and
tuck lines.
"""

from __future__ import annotations

from shapely.geometry import LineString
from shapely.geometry import Point as ShapelyPoint

from zonatome.core.outline import Outline, Point
from zonatome.core.trace.shape import LINES, Notch, Shape

Line = tuple[Point, ...]
LEAST = 6.0  # mm that a notch is long where the edge adds less
ASIDE = 2.0  # mm to each side at which the two of a double notch stand
ARM = 4.0  # mm: the arms of a cross


def notch_lines(shape: Shape) -> tuple[Line, ...]:
    """Return the notches as lines from the finished line to the cut line; where nothing is added, inward.

    A double one is two.
    """
    edges = [LineString(shape.edge_points(n)) for n in range(len(shape.edges))]
    made: list[Line] = []
    for notch in shape.notches:
        at = ShapelyPoint(notch.at)
        nearest = min(range(len(edges)), key=lambda n: edges[n].distance(at))
        made += _strokes(notch, shape.edges[nearest].adds)
    return tuple(made)


def _strokes(notch: Notch, adds: float) -> list[Line]:
    (x, y), (u, v) = notch.at, notch.outward
    far = adds if adds >= LEAST else adds - LEAST if adds == 0 else LEAST
    return [
        ((x - v * s, y + u * s), (x - v * s + u * far, y + u * s + v * far))
        for s in ((-ASIDE, ASIDE) if notch.is_double else (0.0,))
    ]


def mark_lines(shape: Shape) -> tuple[Line, ...]:
    """Return the marks inside the shape as lines: points as crosses."""
    made: list[Line] = []
    for mark in shape.marks:
        if mark.means in LINES:
            made.append(mark.points)
        else:
            ((x, y),) = mark.points
            made += [((x - ARM, y), (x + ARM, y)), ((x, y - ARM), (x, y + ARM))]
    return tuple(made)


def up_the_roll(outline: Outline) -> Outline:
    """Return an outline as it lies up the roll, its top toward x = 0, its box from (0, 0)."""
    turned = outline.turned(90)
    x0, y0, _, _ = turned.bounds
    return turned.moved(-x0, -y0)


def marks_up_the_roll(shape: Shape) -> tuple[Line, ...]:
    """Return all marks in the frame in which the cut piece lies up the roll: its top toward x = 0, its cut line's box
    from (0, 0).
    """
    x0, _, _, y1 = shape.cut_line.bounds
    return tuple(tuple((y1 - y, x - x0) for x, y in line) for line in (*notch_lines(shape), *mark_lines(shape)))
