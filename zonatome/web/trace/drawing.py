"""A shape drawn to scale: both lines, notches, marks, top arrow, ruler, edges with their letters; folded; walked along
its partner.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from shapely.geometry import LineString

from zonatome.core.formats.svg_paths import down, fixed, path_of
from zonatome.core.joins import JOINS
from zonatome.core.outline import Point
from zonatome.core.trace.partners import Seam, walk
from zonatome.core.trace.shape import Notch, Shape
from zonatome.core.trace.to_measure import Tape, ToMeasure
from zonatome.core.trace.truing import Fold
from zonatome.core.units import MM_PER_INCH, Units

EDGE_TONES = {
    "sewn": "chalk",
    "zip": "chalk",
    "on_fold": "chalk",
    "fly": "moss",
    "turned_under": "moss",
    "cord_hem": "moss",
}
RULER_OUT = 1.75  # letter sizes between the cut line and the rulers, so that the edges' letters stay clear of them
LETTER = 0.032  # of the longer side of the cut line: the size of the letters
GRID: dict[Units, float] = {"metric": 50.0, "imperial": 2 * MM_PER_INCH}  # mm from line to line
ROOM = 46.0  # mm round the cut line, for the ruler and the letters


@dataclass(frozen=True)
class EdgeDrawing:
    """One edge: its path, its letter and where that stands, its tone, how it is held."""

    name: str
    path: str
    x: str
    y: str
    tone: str
    join: str
    join_name: str
    adds: float
    length: float
    side: str


@dataclass(frozen=True)
class RulerMark:
    """One mark of a ruler: where, how long, its figure."""

    at: str
    end: str
    words: str
    words_at: str


@dataclass(frozen=True)
class ShapeDrawing:
    """Everything that the board of the trace step shows."""

    view: str
    finished: str
    cut: str
    edges: tuple[EdgeDrawing, ...]
    notches: tuple[str, ...]
    marks: tuple[str, ...]
    dots: tuple[tuple[str, str], ...]
    dot_radius: str
    arrow: str
    middle_x: str
    middle_y: str
    arrow_words_x: str
    arrow_words_y: str
    grid: tuple[str, ...]
    across: tuple[RulerMark, ...]
    up: tuple[RulerMark, ...]
    text_size: str
    ruler_size: str
    letter_radius: str
    ruler_x: str
    ruler_y: str


def shape_drawing(shape: Shape, units: Units) -> ShapeDrawing:
    """Return a shape's drawing; the ruler begins at the cut line's lower left."""
    x0, y0, x1, y1 = shape.cut_line.bounds
    wide, high = x1 - x0, y1 - y0
    room = max(ROOM, max(wide, high) * 0.13)
    top = _top_of(shape)
    size = max(wide, high) * LETTER
    mx, my = (x0 + x1) / 2, (y0 + y1) / 2
    tall = min(shape.outline.height * 0.22, wide * 0.3)
    tip = my + tall * 1.15
    head = tall * 0.22
    arrow = path_of([(mx, my + tall * 0.25), (mx, tip)], top, closed=False) + path_of(
        [(mx - head, tip - head), (mx, tip), (mx + head, tip - head)], top, closed=False
    )
    step = GRID[units]
    return ShapeDrawing(
        view=f"{fixed(x0 - room)} 0 {fixed(wide + 2 * room)} {fixed(high + 2 * room)}",
        finished=path_of(shape.outline.points, top),
        cut=path_of(shape.cut_line.points, top),
        edges=tuple(_edge(shape, number, top, size) for number in range(len(shape.edges))),
        notches=tuple(_notch(at, n.outward, top, size) for n in shape.notches for at in _beside(n, size)),
        marks=tuple(path_of(m.points, top, closed=False) for m in shape.marks if len(m.points) == 2),
        dots=tuple(down(m.points[0], top) for m in shape.marks if len(m.points) == 1),
        dot_radius=fixed(size * 0.3),
        arrow=arrow,
        middle_x=fixed(mx),
        middle_y=fixed(top - my + size * 1.1),
        arrow_words_x=fixed(mx + head * 1.5),
        arrow_words_y=fixed(top - tip + head),
        grid=_grid(x0, y0, wide, high, room, step, top),
        across=tuple(_across(x0, y0, k * step, units, top, size) for k in range(int(wide // step) + 1)),
        up=tuple(_up(x0, y0, k * step, units, top, size) for k in range(int(high // step) + 1)),
        text_size=fixed(size * 1.25),
        ruler_size=fixed(size * 0.82),
        letter_radius=fixed(size * 0.85),
        ruler_x=fixed(x0 - size * RULER_OUT),
        ruler_y=fixed(top - y0 + size * RULER_OUT),
    )


def _edge(shape: Shape, number: int, top: float, size: float) -> EdgeDrawing:
    edge = shape.edges[number]
    points = shape.edge_points(number)
    at = _half_way(points)
    cx, cy = shape.outline.polygon.representative_point().coords[0]
    away = max(1.0, ((at[0] - cx) ** 2 + (at[1] - cy) ** 2) ** 0.5)
    out = max(size * 1.1, min(edge.adds, 60.0) * 0.5)
    x, y = at[0] + (at[0] - cx) / away * out, at[1] + (at[1] - cy) / away * out
    tone = EDGE_TONES.get(edge.join, "madder")
    return EdgeDrawing(
        edge.name,
        path_of(points, top, closed=len(shape.edges) == 1),
        fixed(x),
        fixed(top - y),
        tone,
        edge.join,
        JOINS[edge.join].name,
        edge.adds,
        shape.edge_length(number),
        edge.side,
    )


def _half_way(points: tuple[Point, ...]) -> Point:
    middle = LineString(points).interpolate(0.5, normalized=True)
    return (middle.x, middle.y)


def _beside(notch: Notch, size: float) -> tuple[Point, ...]:
    """Where the triangles of a notch stand: one, or two beside each other."""
    if not notch.is_double:
        return (notch.at,)
    aside = size * 0.45
    (x, y), (u, v) = notch.at, notch.outward
    return ((x - v * aside, y + u * aside), (x + v * aside, y - u * aside))


def _notch(at: Point, outward: Point, top: float, size: float) -> str:
    wide, deep = size * 0.38, size * 0.62
    side = (-outward[1], outward[0])
    base = [(at[0] + side[0] * wide, at[1] + side[1] * wide), (at[0] - side[0] * wide, at[1] - side[1] * wide)]
    return path_of([*base, (at[0] - outward[0] * deep, at[1] - outward[1] * deep)], top)


def _grid(x0: float, y0: float, wide: float, high: float, room: float, step: float, top: float) -> tuple[str, ...]:
    lines = []
    reach = int(room // step) + 1
    for k in range(-reach, int((wide + room) // step) + 1):
        x = x0 + k * step
        lines.append(path_of([(x, y0 - room), (x, y0 + high + room)], top, closed=False))
    for k in range(-reach, int((high + room) // step) + 1):
        y = y0 + k * step
        lines.append(path_of([(x0 - room, y), (x0 + wide + room, y)], top, closed=False))
    return tuple(lines)


def _figure(at: float, units: Units) -> str:
    value = at / MM_PER_INCH if units == "imperial" else at / 10
    step = 4 if units == "imperial" else 10
    return f"{value:.0f}" if round(value) % step == 0 else ""


def _across(x0: float, y0: float, at: float, units: Units, top: float, size: float) -> RulerMark:
    words = _figure(at, units)
    y = top - y0 + size * RULER_OUT
    return RulerMark(fixed(x0 + at), fixed(y + size * (0.6 if words else 0.3)), words, fixed(y + size * 1.4))


def _up(x0: float, y0: float, at: float, units: Units, top: float, size: float) -> RulerMark:
    words = _figure(at, units)
    x = x0 - size * RULER_OUT
    return RulerMark(fixed(top - y0 - at), fixed(x - size * (0.6 if words else 0.3)), words, fixed(x - size * 0.75))


@dataclass(frozen=True)
class TapeDrawing:
    """One measure to take: its line with what leads to it, and where its box and its words stand."""

    key: str
    words: str
    line: str
    x: str
    y: str
    wide: str
    high: str
    words_x: str
    words_y: str


@dataclass(frozen=True)
class TriedDrawing:
    """A shape as it stands while it is measured."""

    shape: ShapeDrawing
    board: str
    tapes: tuple[TapeDrawing, ...]
    box_size: str


# of the size of the letters
BOX_WIDE = 8.4
BOX_HIGH = 3.1
# of the same: the room beside the shape, above and below it
TRIED_ACROSS = 11.2
TRIED_UP = 6.8


def tried_drawing(found: ToMeasure, units: Units) -> TriedDrawing:
    """Return the drawing of a shape that is being measured: no rulers, but a box at each measure."""
    shape = found.shape
    drawn = shape_drawing(shape, units)
    x0, y0, x1, y1 = shape.cut_line.bounds
    size, top = max(x1 - x0, y1 - y0) * LETTER, _top_of(shape)
    across, up = size * (TRIED_ACROSS if found.tapes else 2), size * (TRIED_UP if found.tapes else 2)
    view = f"{fixed(x0 - across)} {fixed(top - y1 - up)} {fixed(x1 - x0 + 2 * across)} {fixed(y1 - y0 + 2 * up)}"
    step = GRID[units]
    grid = _grid(x0, y0, x1 - x0, y1 - y0, across, step, top)
    return TriedDrawing(
        replace(drawn, view=view, grid=grid, across=(), up=()),
        path_of(found.board.points, top) if found.board else "",
        tuple(_tape(tape, (x0, y0, x1, y1), size, top) for tape in found.tapes),
        fixed(size * 1.1),
    )


def _tape(tape: Tape, bounds: tuple[float, float, float, float], size: float, top: float) -> TapeDrawing:
    x0, y0, x1, y1 = bounds
    (ax, ay), (bx, by) = tape.begins, tape.ends
    out = size * 0.9
    wide, high = size * BOX_WIDE, size * BOX_HIGH
    if tape.place in ("below", "above"):
        at = y0 - out if tape.place == "below" else y1 + out
        line, leads = [(ax, at), (bx, at)], [[tape.begins, (ax, at)], [tape.ends, (bx, at)]]
        cx, cy = (ax + bx) / 2, at + (-1 if tape.place == "below" else 1) * (high / 2 + size * 0.5)
        words = (cx, cy + (high / 2 + size * 0.5) if tape.place == "above" else cy - high / 2 - size * 1.3)
    else:
        at = x0 - out if tape.place == "left" else x1 + out
        line, leads = [(at, ay), (at, by)], [[tape.begins, (at, ay)], [tape.ends, (at, by)]]
        cx, cy = at + (-1 if tape.place == "left" else 1) * (wide / 2 + size * 0.6), (ay + by) / 2
        words = (cx, cy + high / 2 + size * 0.5)
    paths = "".join(path_of(points, top, closed=False) for points in (line, *leads))
    x, y = fixed(cx - wide / 2), fixed(top - cy - high / 2)
    return TapeDrawing(
        tape.key, tape.words, paths, x, y, fixed(wide), fixed(high), fixed(words[0]), fixed(top - words[1])
    )


@dataclass(frozen=True)
class FoldDrawing:
    """A fold on the board: the centre line, the left half folded over, the differences drawn out so many times, the
    worst place.
    """

    line: str
    folded: str
    ticks: tuple[str, ...]
    times: int
    worst_x: str
    worst_y: str
    radius: str


DRAWN_OUT = 40.0  # mm on the board for the greatest difference
SHOWN = 0.4  # mm: less is not drawn


def fold_drawing(shape: Shape, found: Fold) -> FoldDrawing:
    """Return a fold in the same frame as `shape_drawing` draws the shape in."""
    top = _top_of(shape)
    c, s = math.cos(math.radians(2 * found.degrees)), math.sin(math.radians(2 * found.degrees))
    ax, ay = found.line[0]
    folded = []
    for x, y in shape.outline.points:  # mirrored on the line that leans `degrees` to the left of upright
        dx, dy = x - ax, y - ay
        folded.append((ax - c * dx - s * dy, ay - s * dx + c * dy))
    times = max(1, round(DRAWN_OUT / found.most)) if found.most > SHOWN else 1
    ticks = []
    for apart in found.apart:
        if abs(apart.by) >= SHOWN:
            (x, y), (u, v), far = apart.at, apart.outward, apart.by * times
            ticks.append(path_of([(x, y), (x + u * far, y + v * far)], top, closed=False))
    worst = max(found.apart, key=lambda a: abs(a.by), default=None)
    at = worst.at if worst else found.line[0]
    size = max(shape.cut_line.width, shape.cut_line.height) * LETTER
    return FoldDrawing(
        path_of(found.line, top, closed=False),
        path_of(folded, top),
        tuple(ticks),
        times,
        fixed(at[0]),
        fixed(top - at[1]),
        fixed(size),
    )


def _top_of(shape: Shape) -> float:
    """Where the drawing's upper edge lies, in the shape's frame."""
    x0, y0, x1, y1 = shape.cut_line.bounds
    return y1 + max(ROOM, max(x1 - x0, y1 - y0) * 0.13)


@dataclass(frozen=True)
class WalkDrawing:
    """A seam walked: the view, both outlines and edges, and the partner's places (see `Step`) in its frame."""

    view: str
    one: str
    one_edge: str
    other: str
    other_edge: str
    steps: tuple[tuple[float, ...], ...]
    radius: str


def walk_drawing(seam: Seam, one: Shape, other: Shape) -> WalkDrawing:
    """Return the drawing of a seam that is walked: the first shape lies still, the partner rolls along it."""
    steps = walk(seam)
    x0, y0, x1, y1 = one.outline.bounds
    for step in steps[:: len(steps) // 4]:
        c, s = math.cos(math.radians(step.degrees)), math.sin(math.radians(step.degrees))
        for x, y in other.outline.points:
            px, py = c * x - s * y + step.x, s * x + c * y + step.y
            x0, y0, x1, y1 = min(x0, px), min(y0, py), max(x1, px), max(y1, py)
    room = max(x1 - x0, y1 - y0) * 0.04
    return WalkDrawing(
        f"{fixed(x0 - room)} {fixed(-y1 - room)} {fixed(x1 - x0 + 2 * room)} {fixed(y1 - y0 + 2 * room)}",
        path_of(one.outline.points, 0),
        path_of(seam.one.points, 0, closed=False),
        path_of(other.outline.points, 0),
        path_of(seam.other.points, 0, closed=False),
        tuple(tuple(round(v, 3) for v in (s.along, s.x, -s.y, -s.degrees, s.touch[0], -s.touch[1])) for s in steps),
        fixed(max(x1 - x0, y1 - y0) * 0.017),
    )
