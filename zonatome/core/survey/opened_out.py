"""The opened-out drawing: a piece of furniture unfolded like a carton, neighbours touching along their joins.

One sees the faces as from the front, the back folded up on top: the sitter's left is on the right of the drawing. The
first part lies in the middle; every other is laid against a side of the neighbour it names, turned by quarters so that
its own side lies there, and the two share that side whatever the measures are. Only this drawing turns a panel;
everything else reads the panel's own frame. y is up.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from shapely.geometry import LineString, Polygon
from shapely.geometry import Point as ShapelyPoint

from zonatome.core.outline import Point
from zonatome.core.survey.kind import ACROSS, ROUND, RUN, Kind, Meeting, Part, Side, side_of_edge

AWAY: dict[Side, Point] = {"top": (0, 1), "right": (1, 0), "bottom": (0, -1), "left": (-1, 0)}
DISC_POINTS = 48
SHALLOWER = (1.0, 0.7, 0.5, 0.3)  # how deep a panel is drawn where there is no room for its whole depth
OVERLAP = 1.0  # mm2 that rounding may make two neighbours share
GRID = 0.01  # mm: sides that two neighbours share are exactly one line only on a grid
STRIP = 1.35  # a neighbour so much longer than the side it lies against is not narrowed to it where there is room
LONG_STRIP = 2.0  # but what is so much longer goes round corners, as boxing does
TOUCHING = 2.0  # mm: two sides that lie so near are one line on the drawing
LOOSE_GAP = 36.0  # what is not joined to anything lies this far off


@dataclass(frozen=True)
class DrawnPart:
    """A part on the drawing: its corners, the middle for its label, the box that the label may fill, and how it is
    turned.

    `turn` counts quarters, anticlockwise, from the panel's own frame: after one its up points to the left. `sides` are
    its own sides, from corner to corner.
    """

    key: str
    points: tuple[Point, ...]
    middle: Point
    width: float
    height: float
    turn: int = 0
    sides: Mapping[Side, tuple[Point, Point]] = field(default_factory=dict)


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
    turns: dict[str, int] = {}
    seen: dict[str, Part] = {}  # as each lies on the drawing: sides, width and height of the drawing, no more its own
    for part in _hosts_first(kind):
        host = part.on if part.on in turns else None
        width, height = known.get(part.key, (part.width, part.height))
        facing = turned_side(part.side, turns[host]) if host else part.side
        turns[part.key] = (RUN.index(ACROSS[facing]) - RUN.index(part.by)) % 4 if host else 0
        if turns[part.key] % 2:
            width, height = height, width
        seen[part.key] = replace(part, on=host, side=facing, width=width, height=height)
    rows: list[list[DrawnPart]] = []
    for root in (p for p in seen.values() if p.on is None):
        drawn, without_room = _cluster(kind, root, seen, turns)
        rows.append(drawn)
        rows += [[_standing_alone(part, turns[part.key])] for part in without_room]
    joined = next((row for row in rows if not _stands_apart(kind.part(row[0].key))), rows[0])
    drawn = joined + _in_a_row_below(joined, [row for row in rows if row is not joined])
    return OpenedOut(tuple(drawn), _bounds(drawn))


@dataclass(frozen=True)
class SeamLine:
    """One side of a seam on the drawing: from where to where, on which panel; both sides of a seam bear the same
    number.

    `touches` says that the two sides lie on each other there.
    """

    number: int
    key: str
    begins: Point
    ends: Point
    touches: bool


def seam_lines(kind: Kind, drawing: OpenedOut) -> tuple[SeamLine, ...]:
    """Return both sides of every seam, where they lie on the drawing: an edge,
    or the part of it that the seam takes.
    """
    drawn = {d.key: d for d in drawing.parts}
    made = []
    for number, meeting in enumerate(m for m in kind.meets if m.is_seam):
        lines = [_on_drawing(kind, drawn[key], key, edge, meeting) for key, edge in meeting.ends if key in drawn]
        if len(lines) < 2:
            continue
        middles = [((a[0] + b[0]) / 2, (a[1] + b[1]) / 2) for a, b in lines]
        reach = max(math.dist(a, b) for a, b in lines) / 4 + TOUCHING
        touches = math.dist(*middles) < reach and _distance(middles[0], lines[1]) < TOUCHING
        made += [SeamLine(number, key, *line, touches) for (key, _), line in zip(meeting.ends, lines, strict=True)]
    return tuple(made)


def _distance(point: Point, line: tuple[Point, Point]) -> float:
    return float(LineString(line).distance(ShapelyPoint(point)))


def _on_drawing(kind: Kind, drawn: DrawnPart, key: str, edge: str, meeting: Meeting) -> tuple[Point, Point]:
    """The line on which a seam lies along an edge, in the order of the run."""
    side = side_of_edge(edge)
    a, b = _in_run(drawn.sides[side], drawn.sides[RUN[RUN.index(side) - 1]])
    low, high = (0.0, 1.0) if edge == ROUND else _share_of_side(kind, key, edge, meeting)
    return _between(a, b, low), _between(a, b, high)


def turned_side(side: Side, quarters: int) -> Side:
    """Return the side of the drawing to which a panel's own side points after so many quarter turns, anticlockwise."""
    return RUN[(RUN.index(side) + quarters) % 4]


def _stands_apart(part: Part) -> bool:
    return part.what == "bottom cloth" or part.is_loose


def _hosts_first(kind: Kind) -> list[Part]:
    """The cut parts, each behind the neighbour that it is drawn against; the bottom cloth and what is loose hang on
    nothing joined.
    """
    waiting = [p for p in kind.parts if p.is_cut]
    cut, placed, order = {p.key for p in waiting}, set[str](), list[Part]()
    while waiting:
        part = next((p for p in waiting if p.on not in cut or p.on in placed or _hangs_on_nothing(kind, p)), waiting[0])
        waiting.remove(part)
        placed.add(part.key)
        order.append(replace(part, on=None) if _hangs_on_nothing(kind, part) else part)
    return order


def _hangs_on_nothing(kind: Kind, part: Part) -> bool:
    host = part.on
    if part.what == "bottom cloth" or host is None or not kind.has(host):
        return True
    return _stands_apart(part) != _stands_apart(kind.part(host))


def _cluster(
    kind: Kind, root: Part, seen: Mapping[str, Part], turns: Mapping[str, int]
) -> tuple[list[DrawnPart], list[Part]]:
    """A part with all that is laid against it, and against those; and the parts for which there was no room."""
    points = _first(root, root.width, root.height)
    sides = {root.key: _sides(points, None)}
    drawn, without_room = [_drawn(root, points, turns[root.key], sides[root.key])], list[Part]()
    for part in seen.values():
        if part.on not in sides:
            continue
        room = _with_room(part, part.width, part.height, _met_line(kind, part, sides[part.on], turns[part.on]), drawn)
        if room is None:
            without_room.append(part)
            continue
        sides[part.key] = _sides(room, part.side)
        drawn.append(_drawn(part, room, turns[part.key], sides[part.key]))
    stranded = [p for p in seen.values() if p.on in {w.key for w in without_room}]
    while stranded:  # what hung on one without room stands alone too
        without_room += stranded
        stranded = [p for p in seen.values() if p.on in {w.key for w in stranded}]
    return drawn, without_room


def _met_line(kind: Kind, part: Part, facing: Mapping[Side, tuple[Point, Point]], turn: int) -> tuple[Point, Point]:
    """The side of the neighbour that a part is laid against, or the stretch of it that a seam of the two takes."""
    host = part.on or ""
    line = facing[part.side]
    for meeting in kind.meetings_of(part.key):
        if not (meeting.of(host) and meeting.is_seam) or host == part.key:
            continue
        (key, edge), (_, mine) = meeting.ends if meeting.one == host else meeting.ends[::-1]
        if (
            edge != ROUND
            and turned_side(side_of_edge(edge), turn) == part.side
            and side_of_edge(mine) == kind.part(part.key).by
        ):
            low, high = _share_of_side(kind, key, edge, meeting)
            a, b = _in_run(line, facing[RUN[RUN.index(part.side) - 1]])
            return _between(a, b, low), _between(a, b, high)
    return line


def _in_run(line: tuple[Point, Point], before: tuple[Point, Point]) -> tuple[Point, Point]:
    """A side's two ends in the order of the run: it begins where the side before it ends."""
    a, b = line
    return (b, a) if min(math.dist(a, p) for p in before) > min(math.dist(b, p) for p in before) else (a, b)


def _between(a: Point, b: Point, share: float) -> Point:
    return a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share


def _share_of_side(kind: Kind, key: str, edge: str, meeting: Meeting) -> tuple[float, float]:
    """From where to where a seam lies on the side of a panel, as shares of the side, in the order of the run."""
    part = kind.part(key)
    same = [e for e in part.edges if side_of_edge(e) == side_of_edge(edge)]
    whole = sum(part.edge_length(e) for e in same)
    start = sum(part.edge_length(e) for e in same[: same.index(edge)])
    for other in kind.meetings_at(key, edge):
        length = kind.span_of(other, kind.usual_length)
        if other is meeting:
            return min(0.98, start / whole), min(1.0, (start + length) / whole)
        start += length
    return 0.0, 1.0


def _standing_alone(part: Part, turn: int) -> DrawnPart:
    return _drawn(part, _box(part), turn, _sides(_box(part), None))


def _box(part: Part) -> list[Point]:
    if part.form == "disc":
        return _disc(part.width / 2, part.height / 2, (part.width / 2, part.height / 2))
    return [(0, 0), (part.width, 0), (part.width, part.height), (0, part.height)]


def _with_room(
    part: Part, width: float, height: float, host: tuple[Point, Point], drawn: list[DrawnPart]
) -> list[Point] | None:
    """A part laid against a side, as deep as there is room for; nothing where there is none."""
    others = [Polygon(d.points) for d in drawn]
    deep = "width" if part.side in ("left", "right") else "height"
    along = height if deep == "width" else width
    past = STRIP * math.dist(*host) < along <= LONG_STRIP * math.dist(*host)
    # it may reach past the ends of a short side; what goes round corners is drawn short
    wide = (True, False) if past else (False,)
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


def _against(
    part: Part, width: float, height: float, host: tuple[Point, Point], *, past_ends: bool = False
) -> list[Point]:
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
    return [
        n1,
        n2,
        (f[0] + straight[0] * far, f[1] + straight[1] * far),
        (f[0] - straight[0] * far, f[1] - straight[1] * far),
    ]


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


def _in_a_row_below(joined: list[DrawnPart], rows: list[list[DrawnPart]]) -> list[DrawnPart]:
    """Loose parts and the bottom cloth, side by side under all the rest, about its middle."""
    left, floor, right, _ = _bounds(joined)
    boxes = [_bounds(row) for row in rows]
    x = (left + right - sum(b[2] - b[0] for b in boxes) - LOOSE_GAP * (len(boxes) - 1)) / 2
    top = floor - LOOSE_GAP
    placed = []
    for row, (x0, _, x1, y1) in zip(rows, boxes, strict=True):
        placed += [_moved(d, x - x0, top - y1) for d in row]
        x += x1 - x0 + LOOSE_GAP
    return placed


def _moved(drawn: DrawnPart, x: float, y: float) -> DrawnPart:
    points = tuple((px + x, py + y) for px, py in drawn.points)
    sides = {side: ((a[0] + x, a[1] + y), (b[0] + x, b[1] + y)) for side, (a, b) in drawn.sides.items()}
    return replace(drawn, points=points, middle=(drawn.middle[0] + x, drawn.middle[1] + y), sides=sides)


def _drawn(part: Part, points: list[Point], turn: int, facing: Mapping[Side, tuple[Point, Point]]) -> DrawnPart:
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    middle = (sum(xs) / len(xs), sum(ys) / len(ys))
    return DrawnPart(part.key, tuple(points), middle, max(xs) - min(xs), max(ys) - min(ys), turn,
                     {own: facing[turned_side(own, turn)] for own in RUN})  # fmt: skip


def _bounds(drawn: list[DrawnPart]) -> tuple[float, float, float, float]:
    xs = [p[0] for d in drawn for p in d.points]
    ys = [p[1] for d in drawn for p in d.points]
    return min(xs), min(ys), max(xs), max(ys)
