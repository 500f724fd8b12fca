"""Shapes of a job's panels: from a tape, a board, a file or a partner."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from django.db import transaction
from django.db.models import QuerySet

from zonatome.core.errors import BadInput
from zonatome.core.formats import reading
from zonatome.core.formats.drawing_apart import MOST_BYTES, outline_read_apart
from zonatome.core.formats.piece_json import read_piece, size_of_piece, write_piece
from zonatome.core.formats.reading import read_json
from zonatome.core.outline import Outline, outline_of
from zonatome.core.pad.usual import usual_stack
from zonatome.core.survey.joining import edge_held, edge_parted_in
from zonatome.core.survey.kind import SIDES, Kind, Part, Side
from zonatome.core.survey.kinds import kind_named
from zonatome.core.survey.restyle import strips_of
from zonatome.core.tolerances import MOST_POINTS
from zonatome.core.trace.by_tape import Board, block_shape
from zonatome.core.trace.derived import band_from_edge, boxing_round, perimeter, side_length
from zonatome.core.trace.mat import Mat
from zonatome.core.trace.mend import corner_pulled, cut_off, point_at, rounded_at, straight_between
from zonatome.core.trace.partners import AGREES
from zonatome.core.trace.ready import Readiness, pair_apart, readiness
from zonatome.core.trace.restyled import split_in_strips
from zonatome.core.trace.shape import Shape, edges_by_corners, shape_of
from zonatome.core.trace.take_up import TakenUp, taken_up_apart
from zonatome.core.trace.tidy import tidied
from zonatome.core.trace.to_measure import ToMeasure, board_measured, to_measure, usual_measures
from zonatome.core.trace.to_measure import shape_by_tape as by_tape
from zonatome.core.trace.truing import fold, stood_upright
from zonatome.core.trace.wishes import Wishes, old_cover_had, wished, wishes_in, wishes_of
from zonatome.core.units import Units, format_length
from zonatome.web.base.files import store_file
from zonatome.web.jobs.models import Job, JobPart
from zonatome.web.survey.services import change_furniture, followed
from zonatome.web.trace.boards import board_of, plan_of
from zonatome.web.trace.changes import change_shapes, forget_parts, put_shape, remember
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
    "board": "drawn round the board",
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
    """Store a shape with its part; what was there before can be had back.

    Its mirror image goes to the partner when `pair`, or where the two were each other's mirror image before: a pair
    stays one.
    """
    shapes = {part.key: (shape, way)}
    partner = partner_of(part)
    if partner is not None and (pair or is_pair(part, partner)):
        shapes[partner.key] = (shape.mirrored(partner.name), "mirrored")
    with transaction.atomic():
        change_shapes(part.job, shapes, words or f"{part.name}: {WORDS.get(way, way)}")
        if partner is not None and partner.key in shapes:
            JobPart.objects.filter(pk=partner.pk).update(shape_has=part.shape_has)
    fresh = JobPart.objects.get(pk=part.pk)
    for field in ("shape", "shape_way", "shape_pad", "shape_wraps", "shape_has"):
        setattr(part, field, getattr(fresh, field))


TRACED = ("photo", "file")  # of an old cover, which was buttoned and drawn in already


def keep_new_shape(part: JobPart, shape: Shape, way: str, *, pair: bool = False) -> tuple[str, ...]:
    """Store a shape that was just traced, measured or copied, with what its panel shall have otherwise; returns that
    in words.

    A shape of the whole of a panel that shall have a stripe is split into the strips. Raises BadInput; nothing is
    stored then.
    """
    data = part.part
    usual = kind_named(part.job.kind_key)
    has = old_cover_had(data, usual.part(part.key) if usual.has(part.key) else None) if way in TRACED else Wishes()
    if way == "block":
        has = replace(has, layer=data.layer)  # the pad that was measured has the layer in it
    made, words = wished(shape, data, has)
    strips = strips_of(part.job.kind, part.key)
    with transaction.atomic():
        part.shape_has = wishes_of(data).as_data()
        JobPart.objects.filter(pk=part.pk).update(shape_has=part.shape_has)
        if strips and made.outline.width > sum(part.job.kind.part(k).width for k in strips) * WHOLE:
            shapes = dict(zip(strips, split_in_strips(part.job.kind, made, strips), strict=True))
            change_shapes(
                part.job,
                {k: (v, way if k == part.key else "split") for k, v in shapes.items()},
                f"{part.name}: {WORDS[way]}",
            )
            fresh = JobPart.objects.get(pk=part.pk)
            for field in ("shape", "shape_way", "shape_pad", "shape_wraps"):
                setattr(part, field, getattr(fresh, field))
            return (*words, f"split into {len(strips)} strips for the stripe")
        keep_shape(part, made, way, pair=pair)
    return words


def wishes_in_words(part: JobPart) -> list[str]:
    """Return what a panel shall have otherwise than the old cover, in words."""
    data, units, found = part.part, part.job.units, []
    if data.layer:
        found.append(f"{format_length(data.layer, units, 'small')} more foam on the arms")
    if data.buttons:
        found.append(f"{data.buttons.count} buttons, drawn {format_length(data.buttons.deep, units, 'small')} deep")
    if data.channels:
        found.append(
            f"channels {format_length(data.channels.apart, units)} apart, drawn "
            f"{format_length(data.channels.deep, units, 'small')} deep"
        )
    if strips_of(part.job.kind, part.key):
        found.append(f"a stripe of {format_length(data.width, units, 'small')} down the middle")
    return found


WHOLE = (
    0.75  # of the strips' usual width together: a shape at least so wide is one of the whole panel, not of its stripe
)


def wishes_now(part: JobPart) -> None:
    """Let a shape that is there take what its panel's wishes lack in it, as after restyling.

    Raises BadInput; nothing changes then.
    """
    if not part.shape:
        return
    made, words = wished(shape_of_part(part), part.part, wishes_in(part.shape_has))
    has, layer = wishes_of(part.part), part.part.layer - wishes_in(part.shape_has).layer
    part.shape_has = has.as_data()
    JobPart.objects.filter(pk=part.pk).update(shape_has=part.shape_has)
    if words:
        keep_shape(part, made, part.shape_way, words=f"{part.name}: {', '.join(words)}")
    if layer and part.shape_pad is not None:
        part.shape_pad += layer
        part.shape_wraps = part.shape_pad
        JobPart.objects.filter(pk=part.pk).update(shape_pad=part.shape_pad, shape_wraps=part.shape_wraps)


def partner_of(part: JobPart) -> JobPart | None:
    """Return the other one of a pair."""
    return part.job.parts_by_key().get(part.part.mirror or "")


def is_pair(part: JobPart, partner: JobPart) -> bool:
    """Whether two parts have shapes that are each other's mirror image, as they are stored."""
    if not (part.shape and partner.shape):
        return False
    return pair_apart(shape_of_part(part), shape_of_part(partner)) <= AGREES


def held_as_panel(part: JobPart, shape: Shape) -> Shape:
    """Return a shape with its edges held as the panel's, seams among them, with what the workroom adds for each."""
    return shape.held_as(part.part, part.job.rules)


def shape_by_tape(part: JobPart, way: str, measures: dict[str, Any]) -> Shape:
    """Return the shape that measures give; the keys are those of the core's functions."""
    return _held(part, way, by_tape(part.name, way, measures, is_round=part.part.form == "disc"))


def _held(part: JobPart, way: str, shape: Shape) -> Shape:
    return _wrapped(part, shape) if way == "block" else held_as_panel(part, shape)


def whole_of(part: JobPart) -> Part:
    """Return what is measured for a part: itself, or the whole that it is a strip of, where it shall have a stripe."""
    strips = strips_of(part.job.kind, part.key)
    return replace(part.part, width=sum(part.job.kind.part(key).width for key in strips)) if strips else part.part


def usual_of(part: JobPart, way: str) -> dict[str, Any]:
    """Return what a way's measures usually are for a part, in mm."""
    return usual_measures(whole_of(part), way, pad=usual_pad(part), rules=part.job.rules)


def tried_by_tape(part: JobPart, way: str, typed: dict[str, Any]) -> tuple[ToMeasure, BadInput | None]:
    """Return a panel's shape while it is measured, usual where nothing is typed; where what was typed gives none, the
    usual one and why.
    """
    usual = usual_of(part, way)
    if "board_width" in typed:
        usual["board_back"] = None  # left empty it is as wide as in front, here as when it is kept
    is_round = part.part.form == "disc"
    refusal = None
    try:
        found = to_measure(part.name, way, usual | typed, is_round=is_round)
    except BadInput as wrong:
        found, refusal = to_measure(part.name, way, usual, is_round=is_round), wrong
    return replace(found, shape=_held(part, way, found.shape)), refusal


def set_block(  # noqa: PLR0913 by name: what the tape measured
    part: JobPart,
    *,
    board_width: float,
    board_depth: float | None,
    board_thickness: float,
    pad: float,
    wrap: float,
    board_back: float | None = None,
    pair: bool = True,
) -> tuple[str, ...]:
    """Take board, pad and wrap, and make the block of them, for the partner too where it is a pair; returns what it
    has otherwise.

    Raises BadInput; then nothing is changed.
    """
    measures = {
        "board_width": board_width,
        "board_depth": board_depth,
        "board_thickness": board_thickness,
        "board_back": board_back,
    }
    board = board_measured(measures, is_round=part.part.form == "disc")
    shape = block_of(part, board, pad, wrap)
    part.board_width, part.board_depth, part.board_thickness = board.width, board.depth, board.thickness
    part.board_back, part.wrap, part.pad_measured = board.back, wrap, pad
    with transaction.atomic():
        part.save()
        words = keep_new_shape(part, shape, "block", pair=pair)
        if pair:
            board_to_partner(part)
        plan_staples(part)
    return words


PADDED = (
    "stack",
    "stack_past",
    "pad_measured",
    "board_width",
    "board_depth",
    "board_thickness",
    "board_back",
    "wrap",
)


def board_to_partner(part: JobPart) -> None:
    """Give the partner of a pair the same board and pad: a pair stays a pair, and nobody is asked twice."""
    partner = partner_of(part)
    if partner is None:
        return
    for field in PADDED:
        setattr(partner, field, getattr(part, field))
    partner.save()
    if partner.has_board and partner.part.padded:
        plan_staples(partner)


def block_of(part: JobPart, board: Board, pad: float, wrap: float) -> Shape:
    """Return the block that wraps a board and its pad; edges that are seams are held as those, the others wrapped
    under.
    """
    return _wrapped(part, block_shape(part.name, board, pad=pad, wrap=wrap))


def _wrapped(part: JobPart, block: Shape) -> Shape:
    held, wrap = held_as_panel(part, block), block.edges[0].adds
    return replace(held, edges=tuple(replace(e, adds=wrap) if e.join == "stapled_under" else e for e in held.edges))


def redo_block(part: JobPart) -> None:
    """Make a block anew after its pad has changed; other shapes stay as they are."""
    if part.shape_way == "block" and part.has_board:
        keep_new_shape(part, block_of(part, board_of(part), part.pad_measured or 0.0, part.wrap), "block")


def plan_staples(part: JobPart) -> int:
    """Keep the count of a part's staples beside it, for the tape; returns it, 0 where none hold it."""
    try:
        count = len(plan_of(part).staples)
    except BadInput:
        count = 0
    keep_staple_count(part, count)
    return count


def keep_staple_count(part: JobPart, count: int) -> None:
    """Keep how many staples a part takes."""
    if count != part.staples_planned:
        part.staples_planned = count
        part.save(update_fields=["staples_planned"])


def shape_from_file(part: JobPart, name: str, content: bytes, *, unit: str = "", which: int = 1) -> Shape:
    """Return the shape in a piece JSON, SVG or DXF file; BadInput says what is wrong with it."""
    if len(content) > MOST_BYTES:
        raise BadInput("file", f"{len(content) / 1e6:.1f} MB", f"at most {MOST_BYTES / 1e6:.0f} MB")
    if name.lower().endswith(".json"):
        data = read_json(content)
        shape = read_piece(data)
        return shape if "edges" in data else held_as_panel(part, shape)
    outline = outline_read_apart(content, name=name, unit=unit, which=which)
    return held_as_panel(part, shape_of(part.name, outline, edges_by_corners(outline), {}))


def photo_of_cover(part: JobPart, content: bytes, mat: Mat) -> CoverPhoto:
    """Trace a photo, lay it flat and keep both with the part. Raises BadInput and NoAnswer; then nothing is changed."""
    return keep_taken(part, taken_up_apart(content, mat))


def keep_taken(part: JobPart, taken: TakenUp) -> CoverPhoto:
    """Keep a flat photo and its outline with the part, in place of the one before."""
    with transaction.atomic():
        before = CoverPhoto.objects.filter(part=part).first()
        kept = CoverPhoto(
            part=part,
            error=taken.error,
            words=taken.words[:300],
            outline=[list(p) for p in taken.outline],
            **taken.place,
        )
        if before:
            kept.pk = before.pk
        store_file(kept.file, "flat.jpg", taken.jpeg)
    if before:
        before.file.delete(save=False)
    return kept


def points_sent(text: str) -> Outline:
    """Return the outline in a JSON list of points, as a page sends it. Raises BadInput, naming what is wrong."""
    points = read_json(f'{{"points": {text or "null"}}}', key="points").get("points")
    if not points:
        raise BadInput("points", points, "an outline", words="There is no outline yet: set at least three points.")
    listed = reading.listed(points, "points", least=3, most=MOST_POINTS)
    return outline_of([reading.listed(p, f"points[{n}]", least=2, most=2) for n, p in enumerate(listed)], key="points")


TOOLS: dict[str, Callable[[Outline, int, int, float], Outline]] = {
    "tidy": lambda outline, _at, _to, _radius: tidied(outline),
    "round": lambda outline, at, _to, radius: rounded_at(outline, at, radius),
    "pull": lambda outline, at, _to, _radius: corner_pulled(outline, at),
    "straight": lambda outline, at, to, _radius: straight_between(outline, at, to),
    "cut": lambda outline, at, to, _radius: cut_off(outline, point_at(outline, at), point_at(outline, to)),
}
MOST_SHOWN = 120  # shapes of other tags
MOST_TAGS = 100  # tags that they are looked for on, the newest first


def library(part: JobPart, units: Units) -> list[tuple[str, str]]:
    """Return the shapes of other tags, those of a panel of the same name first, as (key, words)."""
    newest = (
        Job.objects.exclude(pk=part.job.pk)
        .only("number", "title", "kind_key", "furniture")
        .order_by("-number")[:MOST_TAGS]
    )
    jobs = {job.pk: job for job in newest}
    rows = JobPart.objects.filter(shape__isnull=False, job__in=jobs).order_by("-job__number", "id")
    told = rows.values_list("pk", "key", "job", "shape")
    alike = list(told.filter(key=part.key)[:MOST_SHOWN])
    found = []
    for pk, key, job_pk, shape in (*alike, *told.exclude(key=part.key)[: MOST_SHOWN - len(alike)]):
        job = jobs[job_pk]
        if job.kind.has(key):
            name = job.kind.part(key).name
            size = " × ".join(format_length(v, units) for v in size_of_piece(shape))
            found.append((name != part.name, f"{pk}", f"{job.number} {job.title}: {name.lower()}, {size}"))
    return [(key, words) for _, key, words in sorted(found, key=lambda r: r[0])]


def edges_to_follow(part: JobPart, units: Units) -> list[tuple[str, str]]:
    """Return the sides of the other panels' shapes, and their way all round, as (key, words): what a band or boxing
    can be made from.
    """
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
    """Return the band that is sewn to a side of another panel, or a strip of boxing round it.

    Raises BadInput where it is not there.
    """
    key, _, side = source.rpartition(".")
    row = next((p for p in part.job.panels() if p.key == key and p.shape), None)
    if row is None:
        raise BadInput("source", source, "an edge of another shape of this tag")
    if side == "round":
        return held_as_panel(part, boxing_round(part.name, shape_of_part(row), height, {}, strips=strips))
    return held_as_panel(part, band_from_edge(part.name, shape_of_part(row), side, height, {}))  # type: ignore[arg-type]


def _shaped_elsewhere(part: JobPart) -> QuerySet[JobPart]:
    """The panels of other tags, not taken down, that have a shape."""
    return JobPart.objects.filter(shape__isnull=False, job__taken_down_at=None).exclude(job=part.job)


def shape_from_library(part: JobPart, source: str) -> Shape:
    """Return the shape of another tag's panel, under this panel's name.

    Raises BadInput where it is not there any more.
    """
    row = (
        JobPart.objects.filter(pk=source if source.isdigit() else 0, shape__isnull=False, job__taken_down_at=None)
        .exclude(job=part.job)
        .first()
    )
    if row is None:
        raise BadInput("source", source, "a shape of another tag")
    return held_as_panel(part, replace(shape_of_part(row), name=part.name))


def shape_from_photo(part: JobPart, outline: Outline, quarter_turns: int) -> Shape:
    """Return the shape of an outline in the mat's frame, its top turned up by so many quarter turns to the left."""
    turned = outline.turned(90 * (quarter_turns % 4))
    x0, y0, _, _ = turned.bounds
    moved = turned.moved(-x0, -y0)
    shape = held_as_panel(part, shape_of(part.name, moved, edges_by_corners(moved), {}))
    found = fold(shape.outline)
    if found.degrees and found.mean <= MOST_ASKEW_APART:
        upright = stood_upright(shape, found.degrees).outline
        return held_as_panel(part, shape_of(part.name, upright, edges_by_corners(upright), {}))
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


def set_edge(part: JobPart, name: str, *, join: str, adds: float | None, side: Side | None = None) -> None:
    """Hold one edge of a shape another way. A seam is one thing: its partner, and the partner of a pair, are held so
    too.

    Where several edges of the shape lie on one side of the panel, the side is parted, and each part is held its own
    way. Raises BadInput; then nothing is changed.
    """
    job, shape = part.job, shape_of_part(part)
    if side is not None and shape.edges[shape.number_of(name)].side != side:
        shape = shape.facing(name, side)
    words = f"{part.name}: edge {name} held another way"
    kind, shape = _parted_for(job.kind, part, shape, name, join)
    panel_edge = shape.edges[shape.number_of(name)].panel_edge(kind.part(part.key))
    if kind.part(part.key).joins.get(panel_edge) != join:
        kind = edge_held(kind, part.key, panel_edge, join)
        if part.part.mirror and kind.has(part.part.mirror):
            image = kind.part(part.key).mirrored_edge(panel_edge)
            if image in kind.part(part.part.mirror).edges:
                kind = edge_held(kind, part.part.mirror, image, join)
    shape = shape.with_edge(name, join=join, adds=job.rules.adds(join) if adds is None else adds)
    if kind == job.kind:
        keep_shape(part, shape, part.shape_way, words=words)
        return
    shapes = {key: made for key, made in followed(job, kind).items() if key != part.key} | {part.key: shape}
    partner = partner_of(part)
    if partner is not None and is_pair(part, partner):
        shapes[partner.key] = shape.mirrored(partner.name)
    rows = job.parts_by_key()
    with transaction.atomic():
        remember(job, shapes, words, with_furniture=True)
        change_furniture(job, kind, words=words[:120])
        for row in JobPart.objects.filter(job=job, key__in=list(shapes)):
            row.job = job
            put_shape(row, shapes[row.key], rows[row.key].shape_way)
    forget_parts(job)
    part.shape = write_piece(shape)


def _parted_for(kind: Kind, part: JobPart, shape: Shape, name: str, join: str) -> tuple[Kind, Shape]:
    """The furniture and the shape with the side of an edge parted,
    where other edges lie on it that are held otherwise.
    """
    edge = shape.edges[shape.number_of(name)]
    data = kind.part(part.key)
    panel_edge = edge.panel_edge(data)
    others = [n for n in shape.edges_on(panel_edge) if shape.edges[n].name != name and shape.edges[n].join != join]
    if data.form == "disc" or not others:
        return kind, shape
    numbers = shape.edges_on(edge.side)
    kind = edge_parted_in(kind, part.key, edge.side, [max(5.0, shape.edge_length(n)) for n in numbers])
    place = {n: k + 1 for k, n in enumerate(numbers)}
    return kind, replace(shape, edges=tuple(replace(e, part=place.get(n, e.part)) for n, e in enumerate(shape.edges)))


def usual_pad(part: JobPart) -> float:
    """Return what the pad measures up the side: as chosen, as typed before, or of the usual layers."""
    if part.pad_measured is not None:
        return part.pad_measured
    return usual_stack(part.job.kind, part.part).at_edge(part.job.rules)
