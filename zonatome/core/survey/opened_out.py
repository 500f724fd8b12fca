"""The opened-out drawing: a piece of furniture unfolded like a carton, neighbours touching along their joins.

The first part lies in the middle; every other is laid against a side of the neighbour it names, so the two
share that side and the drawing holds whatever the measures are. y is up; left and right as one sits,
seen from the front with the back folded up.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from zonatome.core.outline import Point
from zonatome.core.survey.kind import Kind, Part, Side

AWAY: dict[Side, Point] = {"top": (0, 1), "right": (1, 0), "bottom": (0, -1), "left": (-1, 0)}
DISC_POINTS = 48
LOOSE_GAP = 36.0  # what is not joined to anything lies this far off


@dataclass(frozen=True)
class DrawnPart:
    """A part on the drawing: its corners, the middle for its label, and the box that the label may fill."""

    key: str
    points: tuple[Point, ...]
    middle: Point
    width: float
    height: float


@dataclass(frozen=True)
class OpenedOut:
    """The whole drawing and its bounds: least x, least y, most x, most y."""

    parts: tuple[DrawnPart, ...]
    bounds: tuple[float, float, float, float]


def opened_out(kind: Kind, measures: Mapping[str, tuple[float, float]] | None = None) -> OpenedOut:
    """Return the drawing of a kind's cut parts.

    `measures` gives width and height in mm of the parts whose shape is known; the others keep the usual ones.
    """
    known = measures or {}
    sides: dict[str, dict[Side, tuple[Point, Point]]] = {}
    drawn: list[DrawnPart] = []
    loose: list[Part] = []
    for part in kind.parts:
        if not part.is_cut:
            continue
        width, height = known.get(part.key, (part.width, part.height))
        if part.what == "bottom cloth" or part.held == ("loose",):
            loose.append(part)
            continue
        points = _first(part, width, height) if part.on is None else _against(part, width, height, sides[part.on][part.side])
        sides[part.key] = _sides(points, None if part.on is None else part.side)
        drawn.append(_drawn(part, points))
    drawn += _in_a_row_below(drawn, [(part, *known.get(part.key, (part.width, part.height))) for part in loose])
    return OpenedOut(tuple(drawn), _bounds(drawn))


def _first(part: Part, width: float, height: float) -> list[Point]:
    if part.form == "disc":
        return _disc(width / 2, height / 2, (width / 2, height / 2))
    top = width * part.far
    return [(0, 0), (width, 0), (width / 2 + top / 2, height), (width / 2 - top / 2, height)]


def _disc(rx: float, ry: float, middle: Point) -> list[Point]:
    turns = (2 * math.pi * i / DISC_POINTS for i in range(DISC_POINTS))
    return [(middle[0] + rx * math.cos(t), middle[1] + ry * math.sin(t)) for t in turns]


def _against(part: Part, width: float, height: float, host: tuple[Point, Point]) -> list[Point]:
    """The four corners of a part laid against a neighbour's side: near a, near b, far b, far a."""
    a, b = host
    along, depth = (height, width) if part.side in ("left", "right") else (width, height)
    length = math.dist(a, b)
    u = ((b[0] - a[0]) / length, (b[1] - a[1]) / length)
    middle = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
    near = min(along, length)
    n1 = (middle[0] - u[0] * near / 2, middle[1] - u[1] * near / 2)
    n2 = (middle[0] + u[0] * near / 2, middle[1] + u[1] * near / 2)
    out = AWAY[part.side]
    straight = (0.0, math.copysign(1, u[1])) if part.side in ("left", "right") else (math.copysign(1, u[0]), 0.0)
    far = near * part.far / 2
    f = (middle[0] + out[0] * depth, middle[1] + out[1] * depth)
    return [n1, n2, (f[0] + straight[0] * far, f[1] + straight[1] * far), (f[0] - straight[0] * far, f[1] - straight[1] * far)]


def _sides(points: list[Point], near: Side | None) -> dict[Side, tuple[Point, Point]]:
    """Which pair of corners is which side, for four corners; a disc lends the sides of its box."""
    if len(points) != 4:
        xs, ys = [p[0] for p in points], [p[1] for p in points]
        points = [(min(xs), min(ys)), (max(xs), min(ys)), (max(xs), max(ys)), (min(xs), max(ys))]
    pairs = [(points[i], points[(i + 1) % 4]) for i in range(4)]
    middles = [((a[0] + b[0]) / 2, (a[1] + b[1]) / 2) for a, b in pairs]
    return {
        "top": pairs[max(range(4), key=lambda i: middles[i][1])],
        "bottom": pairs[min(range(4), key=lambda i: middles[i][1])],
        "right": pairs[max(range(4), key=lambda i: middles[i][0])],
        "left": pairs[min(range(4), key=lambda i: middles[i][0])],
    }


def _in_a_row_below(joined: list[DrawnPart], loose: list[tuple[Part, float, float]]) -> list[DrawnPart]:
    """Loose parts and the bottom cloth, side by side under all the rest, about its middle."""
    left, floor, right, _ = _bounds(joined)
    x = (left + right - sum(width for _, width, _ in loose) - LOOSE_GAP * (len(loose) - 1)) / 2
    top = floor - LOOSE_GAP
    row = []
    for part, width, height in loose:
        y = top - height
        box = [(x, y), (x + width, y), (x + width, top), (x, top)]
        row.append(_drawn(part, _disc(width / 2, height / 2, (x + width / 2, y + height / 2)) if part.form == "disc" else box))
        x += width + LOOSE_GAP
    return row


def _drawn(part: Part, points: list[Point]) -> DrawnPart:
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    middle = (sum(xs) / len(xs), sum(ys) / len(ys))
    return DrawnPart(part.key, tuple(points), middle, max(xs) - min(xs), max(ys) - min(ys))


def _bounds(drawn: list[DrawnPart]) -> tuple[float, float, float, float]:
    xs = [p[0] for d in drawn for p in d.points]
    ys = [p[1] for d in drawn for p in d.points]
    return min(xs), min(ys), max(xs), max(ys)
