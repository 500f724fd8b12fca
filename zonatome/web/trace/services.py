"""Shapes of a job's panels: from a tape, a board, a file or a partner."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import cv2
from django.core.files.base import ContentFile
from django.db import transaction

from zonatome.core.errors import BadInput, NoAnswer
from zonatome.core.formats import reading
from zonatome.core.formats.drawing_in import MOST_BYTES, outline_from_drawing
from zonatome.core.formats.piece_json import read_piece
from zonatome.core.formats.reading import read_json
from zonatome.core.outline import Outline, outline_of
from zonatome.core.pad.layers import PadChoice, measured_pad
from zonatome.core.survey.kind import SIDES, Side
from zonatome.core.tolerances import MOST_POINTS
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
from zonatome.core.trace.derived import band_from_edge, boxing_round, perimeter, side_length
from zonatome.core.trace.mat import Mat
from zonatome.core.trace.mend import corner_pulled, cut_off, point_at, rounded_at, straight_between
from zonatome.core.trace.photo import flat_photo, photo_camera, read_photo, trace_photo
from zonatome.core.trace.ready import Readiness, readiness
from zonatome.core.trace.shape import Shape, edges_by_corners, shape_of
from zonatome.core.trace.tidy import tidied
from zonatome.core.trace.truing import fold, stood_upright
from zonatome.core.units import Units, format_length
from zonatome.web.jobs.models import Job, JobPart
from zonatome.web.trace.changes import change_shapes
from zonatome.web.trace.models import CoverPhoto

WAYS = {
    "block": "a block round board and pad",
    "rectangle": "rectangle",
    "trapezoid": "trapezoid",
    "disc": "disc",
    "ellipse": "ellipse",
    "rounded": "rounded rectangle",
    "t": "T with ears",
    "offsets": "widths at heights",
    "board": "off the board",
}
WORDS = {
    **WAYS,
    "file": "from a file",
    "edge": "from an edge of another",
    "library": "from another tag",
    "mirrored": "mirrored from its partner",
    "photo": "from a photo",
    "split": "a strip of the whole",
    "band": "from the edge it is sewn to",
    "cushion": "from its cushion",
    "fly": "from a tuck line",
}
MOST_ASKEW_APART = 4.0  # mm of mean difference above which a photo's outline is not turned by its own centre line


def shape_of_part(part: JobPart) -> Shape:
    """Return the shape kept with a part, through the reader that reads files."""
    return read_piece(part.shape)


def keep_shape(part: JobPart, shape: Shape, way: str, *, pair: bool = False, words: str = "") -> None:
    """Store a shape with its part, and its mirror image with the partner when `pair`; what was there before can be had back."""
    shapes = {part.key: (shape, way)}
    if pair and part.part.mirror:
        shapes[part.part.mirror] = (shape.mirrored(part.job.kind.part(part.part.mirror).name), "mirrored")
    change_shapes(part.job, shapes, words or f"{part.name}: {WORDS.get(way, way)}")
    fresh = JobPart.objects.get(pk=part.pk)
    part.shape, part.shape_way, part.shape_pad = fresh.shape, fresh.shape_way, fresh.shape_pad


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
    if way == "ellipse":
        return ellipse_shape(part.name, measures["width"], measures["height"], joins)
    if way == "t":
        return t_shape(part.name, measures["width"], measures["height"], measures["body"], measures["ears"], joins)
    if way == "offsets":
        return offsets_shape(part.name, measures["rows"], joins)
    if way == "board":
        return off_the_board(part.name, _board(part, measures), joins)
    raise BadInput("way", way, "one of " + ", ".join(WAYS))


def _board(part: JobPart, measures: dict[str, Any]) -> Board:
    is_round = part.part.form == "disc"
    width, depth = measures["board_width"], measures.get("board_depth")
    return Board(width, width if is_round else (depth or width), 0.0, is_round, None if is_round else measures.get("board_back"))


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
    part.save()
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


def shape_from_file(part: JobPart, name: str, content: bytes, *, unit: str = "", which: int = 1) -> Shape:
    """Return the shape in a piece JSON, SVG or DXF file; BadInput says what is wrong with it."""
    if len(content) > MOST_BYTES:
        raise BadInput("file", f"{len(content) / 1e6:.1f} MB", f"at most {MOST_BYTES / 1e6:.0f} MB")
    if name.lower().endswith(".json"):
        return read_piece(read_json(content), joins=part.part.joins)
    outline = outline_from_drawing(content, name=name, unit=unit, which=which)
    return shape_of(part.name, outline, edges_by_corners(outline), part.part.joins)


@dataclass(frozen=True)
class TakenUp:
    """A photo laid flat, as JPEG with its place in the mat's frame, and the outline traced on it; `error` empty: not traced."""

    jpeg: bytes
    place: dict[str, float]
    outline: tuple[tuple[float, float], ...]
    error: float | None
    words: str


def taken_up(content: bytes, mat: Mat) -> TakenUp:
    """Trace a photo and lay it flat. Nothing is stored.

    Where the markers are there and no cover can be told from the table, the outline is a square to be drawn out by hand.
    Raises BadInput and NoAnswer, in words.
    """
    picture = read_photo(content)
    camera = photo_camera(picture, mat)
    flat = flat_photo(picture, mat, camera)
    try:
        traced = trace_photo(picture, mat, camera)
        outline, error, words = tidied(traced.outline).points, traced.error, ""
    except NoAnswer as refusal:
        x, y, half = mat.width / 2, mat.height / 2, min(mat.width, mat.height) / 4
        outline, error, words = ((x - half, y - half), (x + half, y - half), (x + half, y + half), (x - half, y + half)), None, str(refusal)
    _, jpeg = cv2.imencode(".jpg", flat.picture, [cv2.IMWRITE_JPEG_QUALITY, 82])
    height, width = flat.picture.shape[:2]
    place = {"mat_width": mat.width, "mat_height": mat.height, "left": flat.left, "top": flat.top, "width": width, "height": height}
    return TakenUp(jpeg.tobytes(), place, outline, error, words)


def photo_of_cover(part: JobPart, content: bytes, mat: Mat) -> CoverPhoto:
    """Trace a photo, lay it flat and keep both with the part. Raises BadInput and NoAnswer; then nothing is changed."""
    return keep_taken(part, taken_up(content, mat))


def keep_taken(part: JobPart, taken: TakenUp) -> CoverPhoto:
    """Keep a flat photo and its outline with the part, in place of the one before."""
    with transaction.atomic():
        before = CoverPhoto.objects.filter(part=part).first()
        kept = CoverPhoto(part=part, error=taken.error, words=taken.words[:300], outline=[list(p) for p in taken.outline], **taken.place)
        if before:
            kept.pk = before.pk
        kept.file.save("flat.jpg", ContentFile(taken.jpeg), save=False)
        kept.save()
    if before:
        before.file.delete(save=False)
    return kept


def points_sent(text: str) -> Outline:
    """Return the outline in a JSON list of points, as a page sends it. Raises BadInput, naming what is wrong."""
    points = read_json(f'{{"points": {text or "null"}}}', key="points").get("points")
    listed = reading.listed(points, "points", least=3, most=MOST_POINTS)
    return outline_of([reading.listed(p, f"points[{n}]", least=2, most=2) for n, p in enumerate(listed)], key="points")


TOOLS: dict[str, Callable[[Outline, int, int, float], Outline]] = {
    "tidy": lambda outline, _at, _to, _radius: tidied(outline),
    "round": lambda outline, at, _to, radius: rounded_at(outline, at, radius),
    "pull": lambda outline, at, _to, _radius: corner_pulled(outline, at),
    "straight": lambda outline, at, to, _radius: straight_between(outline, at, to),
    "cut": lambda outline, at, to, _radius: cut_off(outline, point_at(outline, at), point_at(outline, to)),
}
MOST_SHOWN = 300


def library(part: JobPart, units: Units) -> list[tuple[str, str]]:
    """Return the shapes of other tags, those of a panel of the same name first, as (key, words)."""
    rows = (
        JobPart.objects.filter(shape__isnull=False).exclude(job=part.job).select_related("job").order_by("-job__number", "id")[:MOST_SHOWN]
    )
    found = []
    for row in rows:
        if row.job.kind.has(row.key):
            outline = shape_of_part(row).outline
            size = f"{format_length(outline.width, units)} × {format_length(outline.height, units)}"
            found.append((row.name != part.name, f"{row.pk}", f"{row.job.number} {row.job.title}: {row.name.lower()}, {size}"))
    return [(key, words) for _, key, words in sorted(found, key=lambda r: r[0])]


def edges_to_follow(part: JobPart, units: Units) -> list[tuple[str, str]]:
    """Return the sides of the other panels' shapes, and their way all round, as (key, words): what a band or boxing can be made from."""
    found = []
    for row in part.job.panels():
        if row.shape and row.key != part.key:
            shape = shape_of_part(row)
            found.append((f"{row.key}.round", f"{row.name}, all round: {format_length(perimeter(shape), units)}"))
            if len(shape.edges) > 1:
                found += [
                    (f"{row.key}.{s}", f"{row.name}, {s}: {format_length(side_length(shape, s), units)}")
                    for s in SIDES
                    if any(e.side == s for e in shape.edges)
                ]
    return found


def shape_from_edge(part: JobPart, source: str, height: float, strips: int) -> Shape:
    """Return the band that is sewn to a side of another panel, or a strip of boxing round it. Raises BadInput where it is not there."""
    key, _, side = source.rpartition(".")
    row = next((p for p in part.job.panels() if p.key == key and p.shape), None)
    if row is None:
        raise BadInput("source", source, "an edge of another shape of this tag")
    if side == "round":
        return boxing_round(part.name, shape_of_part(row), height, part.part.joins, strips=strips)
    return band_from_edge(part.name, shape_of_part(row), side, height, part.part.joins)  # type: ignore[arg-type]


def shape_from_library(part: JobPart, source: str) -> Shape:
    """Return the shape of another tag's panel, under this panel's name. Raises BadInput where it is not there any more."""
    row = JobPart.objects.filter(pk=source if source.isdigit() else 0, shape__isnull=False).exclude(job=part.job).first()
    if row is None:
        raise BadInput("source", source, "a shape of another tag")
    return replace(shape_of_part(row), name=part.name)


def shape_from_photo(part: JobPart, outline: Outline, quarter_turns: int) -> Shape:
    """Return the shape of an outline in the mat's frame, its top turned up by so many quarter turns to the left."""
    turned = outline.turned(90 * (quarter_turns % 4))
    x0, y0, _, _ = turned.bounds
    moved = turned.moved(-x0, -y0)
    shape = shape_of(part.name, moved, edges_by_corners(moved), part.part.joins)
    found = fold(shape.outline)
    if found.degrees and found.mean <= MOST_ASKEW_APART:
        upright = stood_upright(shape, found.degrees).outline
        return shape_of(part.name, upright, edges_by_corners(upright), part.part.joins)
    return shape


def shapes_of(job: Job) -> dict[str, Shape]:
    """Return the shapes of a job's panels by key."""
    return {p.key: shape_of_part(p) for p in job.panels() if p.shape}


def readiness_of(job: Job) -> Readiness:
    """Return whether the job's shapes can be cut, and what they lack."""
    parts = job.panels()
    traced = [p for p in parts if p.shape and p.shape_way in ("photo", "file") and not p.top_sure]
    untopped = [p.key for p in traced if p.off_number is not None and "top" not in p.marks]
    pads = {
        p.key: p.pad_measured - p.shape_pad
        for p in parts
        if p.part.padded and p.shape and p.pad_measured is not None and p.shape_pad is not None
    }
    return readiness(job.kind, shapes_of(job), count=job.count, untopped=untopped, pads=pads)


def set_edges(part: JobPart, joins: dict[str, tuple[str, float]], *, sides: dict[str, Side] | None = None) -> None:
    """Hold edges another way: name to join and allowance; and to the side that they lie on."""
    shape = shape_of_part(part)
    for name, (join, adds) in joins.items():
        shape = shape.with_edge(name, join=join, adds=adds)
    for name, side in (sides or {}).items():
        shape = shape.facing(name, side)
    keep_shape(part, shape, part.shape_way, words=f"{part.name}: edge {', '.join(joins)} held another way")


def usual_pad(part: JobPart) -> float:
    """Return what the pad measures: as chosen, as typed before, or of the usual layers."""
    if part.pad_measured is not None:
        return part.pad_measured
    return measured_pad(PadChoice())
