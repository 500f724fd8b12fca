"""Shapes from a tape: rectangle, trapezoid, disc, ellipse, rounded rectangle, T, typed offsets, and the block that
wraps a pad.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from zonatome.core.errors import BadInput
from zonatome.core.outline import Outline, Point, offset_by_edge, outline_of
from zonatome.core.survey.kind import Side
from zonatome.core.tolerances import CURVE
from zonatome.core.trace.shape import Shape, shape_of

MOST_ROWS = 60
LONGEST_SIDE = 10_000.0  # one panel; a longer one is made of several
STAPLED: dict[str, str] = {
    "top": "stapled_under",
    "right": "stapled_under",
    "bottom": "stapled_under",
    "left": "stapled_under",
}


def _checked(**measures: float) -> None:
    for key, value in measures.items():
        if not (math.isfinite(value) and 10 <= value <= LONGEST_SIDE):
            raise BadInput(key, value, f"10 to {LONGEST_SIDE:.0f} mm")


def arc_steps(radius: float, degrees: float = 360.0) -> int:
    """Return into how many straight steps an arc is cut so that none leaves it by more than the tolerance.

    Source: geometry, sagitta = r (1 - cos(step / 2)).
    """
    if radius <= CURVE:
        return 1
    step = 2 * math.acos(1 - CURVE / radius)
    return max(4, math.ceil(math.radians(degrees) / step))


def rectangle_shape(name: str, width: float, height: float, joins: Mapping[str, str]) -> Shape:
    """Return a rectangle, edges bottom, right, top, left."""
    return trapezoid_shape(name, width, width, height, joins)


def trapezoid_shape(name: str, bottom: float, top: float, height: float, joins: Mapping[str, str]) -> Shape:
    """Return a shape with a bottom and a top width about one centre line, edges bottom, right, top, left."""
    _checked(bottom=bottom, top=top, height=height)
    wide = max(bottom, top)
    low, high = (wide - bottom) / 2, (wide - top) / 2
    outline = outline_of([(low, 0), (low + bottom, 0), (high + top, height), (high, height)])
    return _facing(shape_of(name, outline, (0, 1, 2, 3), joins), ("bottom", "right", "top", "left"), joins)


def _facing(shape: Shape, sides: tuple[Side, ...], joins: Mapping[str, str]) -> Shape:
    """Name the sides of the edges in order; a strongly slanted side still is the left or the right one."""
    held = shape
    for edge, side in zip(shape.edges, sides, strict=True):
        held = held.with_edge(edge.name, join=joins.get(side, "sewn"))
    return replace(held, edges=tuple(replace(e, side=side) for e, side in zip(held.edges, sides, strict=True)))


def disc_shape(name: str, diameter: float, joins: Mapping[str, str]) -> Shape:
    """Return a round shape with one edge; its straight steps stand outside the circle by at most the tolerance."""
    _checked(diameter=diameter)
    radius = diameter / 2
    steps = math.ceil(arc_steps(radius) / 4) * 4
    points = [
        (radius + radius * math.cos(2 * math.pi * k / steps), radius + radius * math.sin(2 * math.pi * k / steps))
        for k in range(steps)
    ]
    return shape_of(name, outline_of(points), (0,), {"bottom": joins.get("bottom", "sewn")})


def rounded_shape(name: str, width: float, height: float, radius: float, joins: Mapping[str, str]) -> Shape:
    """Return a rectangle with round corners; an edge runs from the middle of one corner to the next."""
    _checked(width=width, height=height)
    if not 1 <= radius <= min(width, height) / 2:
        raise BadInput("radius", radius, f"1 to {min(width, height) / 2:.0f} mm, half of the shorter side")
    half = max(2, math.ceil(arc_steps(radius, 90) / 2))
    points: list[Point] = []
    starts: list[int] = []
    for quarter, (cx, cy) in enumerate(
        [(width - radius, radius), (width - radius, height - radius), (radius, height - radius), (radius, radius)]
    ):
        for k in range(2 * half + 1):
            angle = math.pi / 2 * (quarter - 1 + k / (2 * half))
            if k == half:
                starts.append(len(points))
            points.append((cx + radius * math.cos(angle), cy + radius * math.sin(angle)))
    outline = Outline(tuple(points))
    outline_of(outline.points)
    return _facing(shape_of(name, outline, starts, joins), ("right", "top", "left", "bottom"), joins)


def ellipse_shape(name: str, width: float, height: float, joins: Mapping[str, str]) -> Shape:
    """Return an ellipse with one edge, its straight steps within the tolerance of the curve."""
    _checked(width=width, height=height)
    a, b = width / 2, height / 2
    steps = math.ceil(arc_steps(max(a, b) ** 2 / min(a, b)) / 4) * 4  # as fine as its flattest part's circle needs
    turns = [2 * math.pi * k / steps for k in range(steps)]
    outline = outline_of([(a + a * math.cos(t), b + b * math.sin(t)) for t in turns])
    return shape_of(name, outline, (0,), {"bottom": joins.get("bottom", "sewn")})


def t_shape(name: str, width: float, height: float, body: float, ears: float, joins: Mapping[str, str]) -> Shape:
    """Return a T: so wide in front, where its ears lie before the arms, `ears` deep there, and `body` wide behind them.

    Edges: front, right ear, right notch, right side, back, left side, left notch, left ear. Raises BadInput for a body
    wider than the front or ears deeper than the whole.
    """
    _checked(width=width, height=height, body=body, ears=ears)
    if body > width - 20:
        raise BadInput("body", body, f"at most {width - 20:.0f} mm: the front less 10 mm for each ear")
    if ears > height - 20:
        raise BadInput("ears", ears, f"at most {height - 20:.0f} mm of the {height:.0f} mm depth")
    low, high = (width - body) / 2, (width + body) / 2
    points = [(0, 0), (width, 0), (width, ears), (high, ears), (high, height), (low, height), (low, ears), (0, ears)]
    sides: tuple[Side, ...] = ("bottom", "right", "right", "right", "top", "left", "left", "left")
    return _facing(shape_of(name, outline_of(points), range(8), joins), sides, joins)


def offsets_shape(name: str, rows: Sequence[tuple[float, float, float]], joins: Mapping[str, str]) -> Shape:
    """Return a shape from widths at heights: each row is (height, left of the centre, right of the centre) in mm, from
    the bottom up.

    Rows are joined straight; three or more on a gentle curve make a curve that needs no more points. Raises BadInput
    for fewer than two rows, heights that do not rise by 5 mm each, or a row without width.
    """
    if not 2 <= len(rows) <= MOST_ROWS:
        raise BadInput("rows", len(rows), f"2 to {MOST_ROWS} rows of height, left and right")
    for number, row in enumerate(rows):
        if not all(math.isfinite(v) and abs(v) <= LONGEST_SIDE for v in row) or row[1] + row[2] < 10:
            raise BadInput(f"rows[{number}]", row, "a height, and left and right of the centre at least 10 mm together")
        if number and row[0] < rows[number - 1][0] + 5:
            raise BadInput(
                f"rows[{number}]", row[0], f"more than {rows[number - 1][0]:.0f} mm: heights from the bottom up"
            )
    left = max(row[1] for row in rows)
    base = rows[0][0]
    right_side = [(left + r, h - base) for h, _, r in rows]
    left_side = [(left - w, h - base) for h, w, _ in reversed(rows)]
    outline = outline_of([*right_side, *left_side])
    if outline.points[0] != right_side[0]:
        raise BadInput("rows", len(rows), "rows that do not fold over each other")
    n = len(rows)
    return _facing(shape_of(name, outline, (0, n - 1, n, 2 * n - 1), joins), ("right", "top", "left", "bottom"), joins)


@dataclass(frozen=True)
class Board:
    """The board or frame that a cover wraps: width in front, depth, thickness, and the width at the back.

    A round one has its diameter as width and depth.
    """

    width: float
    depth: float
    thickness: float
    is_round: bool = False
    back: float | None = None

    def __post_init__(self) -> None:
        """Refuse measures that no seat has."""
        _checked(
            board_width=self.width,
            board_depth=self.depth,
            **({"board_back": self.back} if self.back is not None else {}),
        )
        if not 0 <= self.thickness <= 300:
            raise BadInput("board_thickness", self.thickness, "0 to 300 mm")
        if self.is_round and abs(self.width - self.depth) > 0.01:
            raise BadInput("board_depth", self.depth, "the diameter again: a round board is as deep as wide")

    @property
    def outline(self) -> Outline:
        """The board's own outline, its back toward +y."""
        if self.is_round:
            return disc_shape("board", self.width, {}).outline
        back = self.width if self.back is None else self.back
        return trapezoid_shape("board", self.width, back, self.depth, {}).outline


def off_the_board(name: str, board: Board, joins: Mapping[str, str]) -> Shape:
    """Return the board's own outline as a shape, as card drawn round it gives: facings, outside backs, thin pads."""
    if board.is_round:
        return disc_shape(name, board.width, joins)
    return trapezoid_shape(name, board.width, board.width if board.back is None else board.back, board.depth, joins)


def block_shape(name: str, board: Board, *, pad: float, wrap: float = 50.0) -> Shape:
    """Return the block that wraps a board with its pad: the cut side is W + 2 (t + b + u), for a tapered board edge by
    edge.

    `pad` is t, what it measures under the cover; `wrap` is u, what goes under the board. The finished line
    runs along the rail's lower edge, W + 2 (t + b), and the wrap is the allowance of a stapled edge.

    Source: trade rule (a flat pad; over a domed one use the tape). Raises BadInput for a pad beyond
    0 to 400 mm or a wrap beyond 10 to 200 mm.

    >>> block_shape("Seat", Board(370, 370, 18), pad=45, wrap=50).cut_line.width
    596.0
    """
    if not 0 <= pad <= 400:
        raise BadInput("pad", pad, "0 to 400 mm")
    if not 10 <= wrap <= 200:
        raise BadInput("wrap", wrap, "10 to 200 mm")
    around = pad + board.thickness
    if board.is_round:
        shape = disc_shape(name, board.width + 2 * around, STAPLED)
    else:
        board_outline = board.outline
        grown = offset_by_edge(board_outline, [around] * len(board_outline.points))
        x0, y0, _, _ = grown.bounds
        outline = outline_of(_from_lower_left(grown.moved(-x0, -y0).points))
        shape = _facing(shape_of(name, outline, (0, 1, 2, 3), STAPLED), ("bottom", "right", "top", "left"), STAPLED)
    return replace(shape, edges=tuple(replace(edge, adds=wrap) for edge in shape.edges))


def _from_lower_left(points: tuple[Point, ...]) -> list[Point]:
    first = min(range(len(points)), key=lambda i: (round(points[i][1]), points[i][0]))
    return [*points[first:], *points[:first]]
