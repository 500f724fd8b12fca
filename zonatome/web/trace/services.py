"""Shapes of a job's panels: from a tape, a board, a file or a partner."""

from __future__ import annotations

from typing import Any

import cv2
from django.core.files.base import ContentFile
from django.db import transaction

from zonatome.core.errors import BadInput, NoAnswer
from zonatome.core.formats import reading
from zonatome.core.formats.drawing_in import MOST_BYTES, outline_from_drawing
from zonatome.core.formats.piece_json import read_piece, write_piece
from zonatome.core.formats.reading import read_json
from zonatome.core.outline import Outline, outline_of
from zonatome.core.pad.layers import PadChoice, measured_pad
from zonatome.core.tolerances import MOST_POINTS
from zonatome.core.trace.by_tape import Board, block_shape, disc_shape, rectangle_shape, rounded_shape, trapezoid_shape
from zonatome.core.trace.mat import Mat
from zonatome.core.trace.photo import flat_photo, read_photo, trace_photo
from zonatome.core.trace.shape import Shape, edges_by_corners, shape_of
from zonatome.core.trace.tidy import tidied
from zonatome.web.jobs.models import JobPart
from zonatome.web.trace.models import CoverPhoto

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


def photo_of_cover(part: JobPart, content: bytes, mat: Mat) -> CoverPhoto:
    """Trace a photo, lay it flat and keep both with the part.

    Where the markers are there and no cover can be told from the table, the flat photo is kept with a square to be drawn
    out by hand. Raises BadInput and NoAnswer, in words; then nothing is changed.
    """
    picture = read_photo(content)
    flat = flat_photo(picture, mat)
    try:
        traced = trace_photo(picture, mat)
        outline, error, words = tidied(traced.outline).points, traced.error, ""
    except NoAnswer as refusal:
        x, y, half = mat.width / 2, mat.height / 2, min(mat.width, mat.height) / 4
        outline, error, words = ((x - half, y - half), (x + half, y - half), (x + half, y + half), (x - half, y + half)), None, str(refusal)
    _, jpeg = cv2.imencode(".jpg", flat.picture, [cv2.IMWRITE_JPEG_QUALITY, 82])
    height, width = flat.picture.shape[:2]
    fields = {"mat_width": mat.width, "mat_height": mat.height, "left": flat.left, "top": flat.top, "width": width, "height": height}
    with transaction.atomic():
        before = CoverPhoto.objects.filter(part=part).first()
        kept = CoverPhoto(part=part, error=error, words=words[:300], outline=[list(p) for p in outline], **fields)
        if before:
            kept.pk = before.pk
        kept.file.save("flat.jpg", ContentFile(jpeg.tobytes()), save=False)
        kept.save()
    if before:
        before.file.delete(save=False)
    return kept


def points_sent(text: str) -> Outline:
    """Return the outline in a JSON list of points, as a page sends it. Raises BadInput, naming what is wrong."""
    points = read_json(f'{{"points": {text or "null"}}}', key="points").get("points")
    listed = reading.listed(points, "points", least=3, most=MOST_POINTS)
    return outline_of([reading.listed(p, f"points[{n}]", least=2, most=2) for n, p in enumerate(listed)], key="points")


def shape_from_photo(part: JobPart, outline: Outline, quarter_turns: int) -> Shape:
    """Return the shape of an outline in the mat's frame, its top turned up by so many quarter turns to the left."""
    turned = outline.turned(90 * (quarter_turns % 4))
    x0, y0, _, _ = turned.bounds
    moved = turned.moved(-x0, -y0)
    return shape_of(part.name, moved, edges_by_corners(moved), part.part.joins)


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
