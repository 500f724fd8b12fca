"""Shapes of a job's panels: from a tape, a board, a file or a partner."""

from __future__ import annotations

from typing import Any

from django.db import transaction

from zonatome.core.errors import BadInput
from zonatome.core.formats.drawing_in import MOST_BYTES, outline_from_drawing
from zonatome.core.formats.piece_json import read_piece, write_piece
from zonatome.core.formats.reading import read_json
from zonatome.core.pad.layers import PadChoice, measured_pad
from zonatome.core.trace.by_tape import Board, block_shape, disc_shape, rectangle_shape, rounded_shape, trapezoid_shape
from zonatome.core.trace.shape import Shape, edges_by_corners, shape_of
from zonatome.web.jobs.models import JobPart

WAYS = {
    "block": "a block round board and pad",
    "rectangle": "rectangle",
    "trapezoid": "trapezoid",
    "disc": "disc",
    "rounded": "rounded rectangle",
}


def shape_of_part(part: JobPart) -> Shape:
    """Return the shape kept with a part, through the reader that reads files."""
    return read_piece(part.shape)


def keep_shape(part: JobPart, shape: Shape, way: str, *, pair: bool = False) -> None:
    """Store a shape with its part, and its mirror image with the partner when `pair`."""
    with transaction.atomic():
        part.shape, part.shape_way = write_piece(shape), way
        part.save()
        if pair and part.part.mirror:
            partner = part.job.parts.get(key=part.part.mirror)
            partner.shape, partner.shape_way = write_piece(shape.mirrored(partner.name)), "mirrored"
            partner.save()


def board_of(part: JobPart) -> Board:
    """Return the board under a part; BadInput when it has not been measured."""
    if not part.has_board:
        raise BadInput("board_width", None, f"the board under the {part.name.lower()} measured first")
    is_round = part.part.form == "disc"
    return Board(part.board_width, part.board_width if is_round else part.board_depth, part.board_thickness, is_round, part.board_back)


def shape_by_tape(part: JobPart, way: str, measures: dict[str, Any]) -> Shape:
    """Return the shape that measures give; the keys are those of the core's functions."""
    joins = part.part.joins
    if way == "rectangle":
        return rectangle_shape(part.name, measures["width"], measures["height"], joins)
    if way == "trapezoid":
        return trapezoid_shape(part.name, measures["bottom"], measures["top"], measures["height"], joins)
    if way == "disc":
        return disc_shape(part.name, measures["diameter"], joins)
    if way == "rounded":
        return rounded_shape(part.name, measures["width"], measures["height"], measures["radius"], joins)
    raise BadInput("way", way, "one of " + ", ".join(WAYS))


def set_block(
    part: JobPart,
    *,
    board_width: float,
    board_depth: float | None,
    board_thickness: float,
    pad: float,
    wrap: float,
    board_back: float | None = None,
) -> None:
    """Take board, pad and wrap, and make the block of them. Raises BadInput; then nothing is changed."""
    is_round = part.part.form == "disc"
    board = Board(
        board_width, board_width if is_round else (board_depth or board_width), board_thickness, is_round, None if is_round else board_back
    )
    shape = block_shape(part.name, board, pad=pad, wrap=wrap)
    part.board_width, part.board_depth, part.board_thickness = board.width, board.depth, board.thickness
    part.board_back, part.wrap, part.pad_measured = board.back, wrap, pad
    keep_shape(part, shape, "block")
    plan_staples(part)


def redo_block(part: JobPart) -> None:
    """Make a block anew after its pad has changed; other shapes stay as they are."""
    if part.shape_way == "block" and part.has_board:
        keep_shape(part, block_shape(part.name, board_of(part), pad=part.pad_measured or 0.0, wrap=part.wrap), "block")


def plan_staples(part: JobPart) -> None:
    """Keep the count of a part's staples beside it, for the tape."""
    from zonatome.web.fasten.services import plan_of

    part.staples_planned = len(plan_of(part).staples)
    part.save(update_fields=["staples_planned"])


def shape_from_file(part: JobPart, name: str, content: bytes) -> Shape:
    """Return the shape in a piece JSON, SVG or DXF file; BadInput says what is wrong with it."""
    if len(content) > MOST_BYTES:
        raise BadInput("file", f"{len(content) / 1e6:.1f} MB", f"at most {MOST_BYTES / 1e6:.0f} MB")
    if name.lower().endswith(".json"):
        return read_piece(read_json(content), joins=part.part.joins)
    outline = outline_from_drawing(content, name=name)
    return shape_of(part.name, outline, edges_by_corners(outline), part.part.joins)


def set_edges(part: JobPart, joins: dict[str, tuple[str, float]]) -> None:
    """Hold edges another way: name to join and allowance."""
    shape = shape_of_part(part)
    for name, (join, adds) in joins.items():
        shape = shape.with_edge(name, join=join, adds=adds)
    keep_shape(part, shape, part.shape_way)


def usual_pad(part: JobPart) -> float:
    """Return what the pad measures: as chosen, as typed before, or of the usual layers."""
    if part.pad_measured is not None:
        return part.pad_measured
    return measured_pad(PadChoice())
