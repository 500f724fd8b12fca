"""What the tape measures for each way to a shape: where each measure runs on the panel, and its usual figure until it
is taken.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any, Literal

from zonatome.core.errors import BadInput
from zonatome.core.outline import Outline, Point
from zonatome.core.rules import USUAL, Rules
from zonatome.core.survey.kind import Part
from zonatome.core.trace.by_tape import (
    Board,
    block_shape,
    disc_shape,
    ellipse_shape,
    off_the_board,
    offsets_shape,
    rectangle_shape,
    rounded_shape,
    t_shape,
    trapezoid_shape,
)
from zonatome.core.trace.shape import Shape

Place = Literal["below", "above", "left", "right"]
LEAST = 10.0  # mm that anything measures
USUAL_THICKNESS = 18.0  # mm, a seat board of ply
ROUNDED_BY = 0.12  # of the shorter side: a cushion's corner, until it is measured
T_BODY = 0.8  # of the front: a T cushion's body, until it is measured
T_EARS = 0.22  # of the depth: its ears, until they are measured


WORDS = {
    "board_width": "board, front",
    "board_back": "board, back",
    "board_depth": "board, deep",
    "bottom": "bottom",
    "top": "top",
    "width": "width",
    "height": "height",
    "diameter": "diameter",
    "radius": "radius",
    "body": "behind the ears",
    "ears": "ears, deep",
}


@dataclass(frozen=True)
class Tape:
    """One measure to take: its key in the form, the line that the tape runs along in mm, and beside which side that is
    drawn.
    """

    key: str
    begins: Point
    ends: Point
    place: Place
    called: str = ""

    @property
    def words(self) -> str:
        """What is measured, in two or three words."""
        return self.called or WORDS[self.key]


@dataclass(frozen=True)
class ToMeasure:
    """A shape as it stands while it is measured: with its board, where it wraps one, and where each measure runs."""

    shape: Shape
    tapes: tuple[Tape, ...]
    board: Outline | None = None


def shape_by_tape(name: str, way: str, measures: Mapping[str, Any], *, is_round: bool = False) -> Shape:
    """Return the shape that measures in mm give, by the way's own keys; a board that is round has its diameter only.

    Raises BadInput for a way that is none or for measures that give no shape.
    """
    joins: dict[str, str] = {}
    if way == "rectangle":
        return rectangle_shape(name, measures["width"], measures["height"], joins)
    if way == "trapezoid":
        return trapezoid_shape(name, measures["bottom"], measures["top"], measures["height"], joins)
    if way == "disc":
        return disc_shape(name, measures["diameter"], joins)
    if way == "rounded":
        return rounded_shape(name, measures["width"], measures["height"], measures["radius"], joins)
    if way == "ellipse":
        return ellipse_shape(name, measures["width"], measures["height"], joins)
    if way == "t":
        return t_shape(name, measures["width"], measures["height"], measures["body"], measures["ears"], joins)
    if way == "offsets":
        return offsets_shape(name, measures["rows"], joins)
    if way == "board":
        return off_the_board(name, board_measured(measures, is_round=is_round), joins)
    if way == "block":
        return block_shape(
            name, board_measured(measures, is_round=is_round), pad=measures["pad"], wrap=measures["wrap"]
        )
    raise BadInput("way", way, "a way to a shape by the tape")


def board_measured(measures: Mapping[str, Any], *, is_round: bool) -> Board:
    """Return the board of these measures in mm; one without a depth is as deep as wide. Raises BadInput as `Board`
    does.
    """
    width, thickness = measures["board_width"], measures.get("board_thickness") or 0.0
    if is_round:
        return Board(width, width, thickness, is_round=True)
    return Board(width, measures.get("board_depth") or width, thickness, back=measures.get("board_back"))


def usual_way(part: Part) -> str:
    """Return the likeliest way to a panel's shape: a pad that is wrapped all round is a block, else what its usual
    outline is.
    """
    if part.padded and set(part.joins.values()) == {"stapled_under"}:
        return "block"
    return "disc" if part.form == "disc" else "trapezoid" if part.far != 1 else "rectangle"


def usual_measures(part: Part, way: str, *, pad: float, rules: Rules = USUAL) -> dict[str, Any]:
    """Return what a way's measures usually are for a panel, in mm: from the kind's own, under a pad of `pad` where it
    wraps one.
    """
    width, height = part.width, part.height
    above = width if part.width_above is None else part.width_above
    wide, high = max(width, 10 * LEAST), max(height, 4 * LEAST)  # no T is smaller
    if way in ("block", "board"):
        around = pad + USUAL_THICKNESS if way == "block" else 0.0
        inside = [max(v - 2 * around, v / 2, LEAST) for v in (width, height, above)]
        board = {
            "board_width": inside[0],
            "board_depth": inside[1],
            "board_back": inside[2] if inside[2] != inside[0] else None,
        }
        return (
            board if way == "board" else board | {"board_thickness": USUAL_THICKNESS, "pad": pad, "wrap": rules["wrap"]}
        )
    if way == "offsets":
        return {"rows": [(0.0, width / 2, width / 2), (height, above / 2, above / 2)]}
    return {
        "rectangle": {"width": width, "height": height},
        "ellipse": {"width": width, "height": height},
        "rounded": {"width": width, "height": height, "radius": min(width, height) * ROUNDED_BY},
        "trapezoid": {"bottom": width, "top": above, "height": height},
        "disc": {"diameter": width},
        "t": {"width": wide, "body": wide * T_BODY, "height": high, "ears": max(high * T_EARS, LEAST)},
    }.get(way, {})


def to_measure(name: str, way: str, measures: Mapping[str, Any], *, is_round: bool = False) -> ToMeasure:
    """Return the shape of these measures with the line along which each of them is taken. Raises BadInput as
    `shape_by_tape` does.
    """
    shape = shape_by_tape(name, way, measures, is_round=is_round)
    x0, y0, x1, y1 = shape.outline.bounds
    middle = (x0 + x1) / 2
    if way in ("block", "board"):
        board = board_measured(measures, is_round=is_round)
        bx0, by0, bx1, by1 = board.outline.bounds
        inner = board.outline.moved(middle - (bx0 + bx1) / 2, (y0 + y1) / 2 - (by0 + by1) / 2)
        return ToMeasure(shape, _board_tapes(board, inner), inner if way == "block" else None)
    across, up = Tape("width", (x0, y0), (x1, y0), "below"), Tape("height", (x0, y0), (x0, y1), "left")
    found: tuple[Tape, ...] = {
        "rectangle": (across, up),
        "ellipse": (across, up),
        "rounded": (across, up),
        "disc": (Tape("diameter", (x0, y0), (x1, y0), "below"),),
        "t": (across, up),
        "trapezoid": (up,),
    }.get(way, ())
    if way == "trapezoid":
        found = (
            _level("bottom", middle, measures["bottom"], y0, "below"),
            *found,
            _level("top", middle, measures["top"], y1, "above"),
        )
    elif way == "rounded":
        found += (Tape("radius", (x1, y1 - measures["radius"]), (x1, y1), "right"),)
    elif way == "t":
        ears = Tape("ears", (x1, y0), (x1, y0 + measures["ears"]), "right")
        found += (_level("body", middle, measures["body"], y1, "above"), ears)
    return ToMeasure(shape, found)


def _level(key: str, middle: float, width: float, at: float, place: Place) -> Tape:
    return Tape(key, (middle - width / 2, at), (middle + width / 2, at), place)


def _board_tapes(board: Board, inner: Outline) -> tuple[Tape, ...]:
    x0, y0, x1, y1 = inner.bounds
    middle = (x0 + x1) / 2
    front = _level("board_width", middle, board.width, y0, "below")
    if board.is_round:
        return (replace(front, called="board, across"),)
    back = _level("board_back", middle, board.width if board.back is None else board.back, y1, "above")
    return (front, Tape("board_depth", (x0, y0), (x0, y1), "left"), back)
