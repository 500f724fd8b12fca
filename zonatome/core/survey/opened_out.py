"""The opened-out drawing: a piece of furniture unfolded like a carton, neighbours touching along their joins.

The first part lies in the middle; every other is laid against a side of the neighbour it names, so the two
share that side and the drawing holds whatever the measures are. y is up; left and right as one sits,
seen from the front with the back folded up.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from shapely.geometry import Polygon

from zonatome.core.outline import Point
from zonatome.core.survey.kind import ACROSS, Kind, Part, Side

AWAY: dict[Side, Point] = {"top": (0, 1), "right": (1, 0), "bottom": (0, -1), "left": (-1, 0)}
DISC_POINTS = 48
SHALLOWER = (1.0, 0.7, 0.5, 0.3)  # how deep a panel is drawn where there is no room for its whole depth
OVERLAP = 1.0  # mm2 that rounding may make two neighbours share
GRID = 0.01  # mm: sides that two neighbours share are exactly one line only on a grid
STRIP = 1.35  # a neighbour so much longer than the side it lies against is not narrowed to it where there is room
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
    A panel for which there is no room beside its neighbour is drawn shallower there; where even that covers
    another, it stands in the row below, as do the bottom cloth and what is joined to nothing.
    """
    known = measures or {}
    sides: dict[str, dict[Side, tuple[Point, Point]]] = {}
    drawn: list[DrawnPart] = []
    loose: list[Part] = []
    waiting = [p for p in kind.parts if p.is_cut]
    while waiting:
        part = next((p for p in waiting if p.on is None or p.on in sides or p.what == "bottom cloth" or p.is_loose), waiting[0])
        waiting.remove(part)
        width, height = known.get(part.key, (part.width, part.height))
        points: list[Point] | None = None
        if part.what != "bottom cloth" and not part.is_loose and (part.on in sides or not drawn):
            points = _first(part, width, height) if not drawn else _with_room(part, width, height, sides[part.on or ""][part.side], drawn)
        if points is None:
            loose.append(part)
            continue
        sides[part.key] = _sides(points, part.side if part.on in sides else None)
        drawn.append(_drawn(part, points))
    drawn += _in_a_row_below(drawn, [(part, *known.get(part.key, (part.width, part.height))) for part in loose])
    return OpenedOut(tuple(drawn), _bounds(drawn))


def _with_room(part: Part, width: float, height: float, host: tuple[Point, Point], drawn: list[DrawnPart]) -> list[Point] | None:
    """A part laid against a side, as deep as there is room for; nothing where there is none."""
    others = [Polygon(d.points) for d in drawn]
    deep = "width" if part.side in ("left", "right") else "height"
    along = height if deep == "width" else width
    wide = (True, False) if along > STRIP * math.dist(*host) else (False,)  # beside a strip it may reach past its ends
    for past_ends, share in ((p, s) for p in wide for s in SHALLOWER):
        w, h = (width * share, height) if deep == "width" else (width, height * share)
        points = _against(part, w, h, host, past_ends=past_ends)
        shape = Polygon(points)
        if shape.is_valid and all(shape.intersection(other, grid_size=GRID).area < OVERLAP for other in others):
            return points
    return None


def _first(part: Part, width: float, height: float) -> list[Point]:
    if part.form == "disc":
        return _disc(width / 2, height / 2, (width / 2, height / 2))
    top = width * part.far
    return [(0, 0), (width, 0), (width / 2 + top / 2, height), (width / 2 - top / 2, height)]


def _disc(rx: float, ry: float, middle: Point) -> list[Point]:
    turns = (2 * math.pi * i / DISC_POINTS for i in range(DISC_POINTS))
    return [(middle[0] + rx * math.cos(t), middle[1] + ry * math.sin(t)) for t in turns]


def _against(part: Part, width: float, height: float, host: tuple[Point, Point], *, past_ends: bool = False) -> list[Point]:
    """The four corners of a part laid against a neighbour's side: near a, near b, far b, far a."""
    a, b = host
    along, depth = (height, width) if part.side in ("left", "right") else (width, height)
    length = math.dist(a, b)
    u = ((b[0] - a[0]) / length, (b[1] - a[1]) / length)
    middle = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
    near = along if past_ends else min(along, length)
    n1 = (middle[0] - u[0] * near / 2, middle[1] - u[1] * near / 2)
    n2 = (middle[0] + u[0] * near / 2, middle[1] + u[1] * near / 2)
    out = AWAY[part.side]
    straight = (0.0, math.copysign(1, u[1])) if part.side in ("left", "right") else (math.copysign(1, u[0]), 0.0)
    far = near * part.far / 2
    f = (middle[0] + out[0] * depth, middle[1] + out[1] * depth)
    return [n1, n2, (f[0] + straight[0] * far, f[1] + straight[1] * far), (f[0] - straight[0] * far, f[1] - straight[1] * far)]


def _sides(points: list[Point], away: Side | None) -> dict[Side, tuple[Point, Point]]:
    """Which pair of corners is which side: four corners begin with the near side, which faces the neighbour.

    The first part's near side is its bottom; a disc lends the sides of its box.
    """
    if len(points) != 4:
        xs, ys = [p[0] for p in points], [p[1] for p in points]
        points, away = [(min(xs), min(ys)), (max(xs), min(ys)), (max(xs), max(ys)), (min(xs), max(ys))], None
    far = away or "top"
    near, one, opposite, other = [(points[i], points[(i + 1) % 4]) for i in range(4)]
    axis = 1 if far in ("left", "right") else 0  # the two ends are told apart by height, or by left and right
    low, high = sorted((one, other), key=lambda pair: pair[0][axis] + pair[1][axis])
    ends: tuple[Side, Side] = ("bottom", "top") if axis else ("left", "right")
    return {far: opposite, ACROSS[far]: near, ends[0]: low, ends[1]: high}


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
