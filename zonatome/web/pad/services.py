"""Choosing a pad's layers; the cover that wraps it grows with it, edge by edge."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from django.db import transaction

from zonatome.core.cautions import Caution, cautions_for, cautions_used
from zonatome.core.errors import BadInput
from zonatome.core.formats.stack_json import read_stack, write_stack
from zonatome.core.joins import WRAPPED
from zonatome.core.outline import Outline, Point
from zonatome.core.pad.buying import PadAsk, PadsBought, foam_pieces, pads_bought
from zonatome.core.pad.nest import FoamPiece, parted_for_sheet
from zonatome.core.pad.outlines import frame_under
from zonatome.core.pad.sorts import SURVEYED
from zonatome.core.pad.stack import Buttons, Frame, Stack
from zonatome.core.pad.usual import CUSHION_HEIGHT, Role, role_of, sewn_to_face, usual_stack
from zonatome.core.pad.worked import Worked, worked, worked_as_far_as_it_fits, zip_length
from zonatome.core.survey.findings import cautions_called
from zonatome.core.survey.kind import ButtonGrid, Channels
from zonatome.core.survey.kinds import ZIP_ROUND
from zonatome.core.trace.by_tape import Board
from zonatome.core.trace.derived import short_zip
from zonatome.core.trace.restyled import grown_at_edges
from zonatome.core.trace.usual import usual_shape
from zonatome.core.trace.wishes import wishes_in, without_wishes
from zonatome.web.jobs.models import Job, JobPart
from zonatome.web.pad.foam_store import offcuts_for
from zonatome.web.survey.services import undo_change
from zonatome.web.survey.verdicts import verdicts_of
from zonatome.web.trace.boards import board_of
from zonatome.web.trace.restyle import restyle
from zonatome.web.trace.services import (
    board_to_partner,
    keep_shape,
    partner_of,
    plan_staples,
    redo_block,
    shape_of_part,
)

MOST_PAST = 40  # changes of a pad that can be taken back
GRID = ("rows", "columns", "across", "down", "deep", "diamond")
BOARD = ("board_width", "board_back", "board_depth", "board_thickness")
OF_THE_SHAPE = ["shape", "shape_has", "shape_pad", "shape_wraps", "pad_measured"]
LOOSE: tuple[Role, ...] = ("cushion", "bolster", "thin")  # they stand on no wood
USUAL_BOARD = 18.0  # mm thick, where nobody measured it
USUAL_FACING = 3.0  # mm: a facing is wrapped on thin board


@dataclass(frozen=True)
class Growth:
    """What a changed pad did to the cover: by how many mm each edge that wraps it lies further out, and its cut size
    before and after.
    """

    edges: tuple[tuple[str, float], ...]
    before: tuple[float, float]
    after: tuple[float, float]

    @property
    def each_way(self) -> float:
        """By how much the cut grew across."""
        return self.after[0] - self.before[0]


def role_of_part(part: JobPart) -> Role:
    """Return what a panel's pad is for."""
    return role_of(part.job.kind, part.part) or "seat"


def stack_of(part: JobPart) -> Stack:
    """Return the stack that was chosen for a panel, else the usual one. Raises BadInput where the row holds none."""
    stack = read_stack(part.stack) if part.stack is not None else usual_stack(part.job.kind, part.part)
    if part.stack is None and role_of_part(part) == "cushion":
        stack = stack.as_high_as(height_of_cushion(part))
    stack, grid = replace(stack, channels=part.part.channels), part.part.buttons
    size = stack.buttons.size if stack.buttons else Buttons.size
    if grid is None:
        return replace(stack, buttons=None)
    return replace(
        stack,
        buttons=Buttons(
            grid.rows, grid.columns, grid.diamond, deep=grid.deep, size=size, across=grid.across, down=grid.down
        ),
    )


def zip_of(part: JobPart) -> tuple[float, str] | None:
    """Return the zip of a loose cushion, mm, and where it lies in words; None for another pad."""
    role, others = role_of_part(part), sewn_to_face(part.job.kind, part.key)
    if role == "bolster":
        return short_zip(length_of_bolster(part)), "in the long seam of its sheet"
    if role != "cushion":
        return None
    if others and "boxing" not in others:
        return short_zip(outline_under(part, stack_of(part)).width), "in the seam behind, its ends sewn"
    words = "across the back and round both corners; both faces and the boxing as they are traced"
    return zip_length(outline_under(part, stack_of(part)).width, ZIP_ROUND), words


def joins_of(part: JobPart, done: Worked) -> list[tuple[Point, Point]]:
    """Return where a panel's foam is glued together because no sheet is large enough, as lines on its frame."""
    lines = []
    for cut in done.cuts:
        if cut.layer.sort != "foam" or cut.layer.kept or cut.outline is None:
            continue
        x0, y0, _, y1 = cut.outline.bounds
        piece = FoamPiece(part.name, cut.outline, 1, cut.layer.foam, cut.layer.thickness, role_of_part(part))
        lines += [((x0 + at, y0), (x0 + at, y1)) for at in parted_for_sheet(piece)[1]]
    return lines


def verdict_words(part: JobPart, stack: Stack) -> list[tuple[str, str]]:
    """Return what the survey says of what was there and stays in a stack: each layer, the verdict in words."""
    verdicts = verdicts_of(part.job)
    told = []
    for layer in stack.layers:
        if layer.kept:
            said = verdicts[SURVEYED.get(layer.made.group, "filling")]
            told.append((layer.name, said.words or "not looked at yet"))
    return told


def cautions_of(job: Job, stack: Stack) -> tuple[Caution, ...]:
    """Return what to take care of at this step: by what is used, what was found and the furniture's own."""
    found = cautions_called([f.finding for f in job.findings.all()])
    usual = cautions_for("pad", kind_cautions=job.kind.cautions, found=tuple(found))
    used = [key for layer in stack.layers for key in layer.made.cautions if not (layer.kept and key == "spray_glue")]
    return cautions_used(usual, used)


def board_thickness(part: JobPart) -> float:
    """Return how thick the board or rail under a panel is, mm: as measured, else the usual; 0 where there is none."""
    if role_of_part(part) in LOOSE:
        return 0.0
    if part.board_thickness is not None:
        return part.board_thickness
    return USUAL_FACING if role_of_part(part) == "facing" else USUAL_BOARD


def outline_under(part: JobPart, stack: Stack) -> Outline:
    """Return the outline of the board or frame under a panel, its front toward -y: its board as measured, else what its
    shape goes round, else the kind's measures.

    The shape is reckoned for the pad that it was made for; before a pad is chosen, for this one.
    """
    if role_of_part(part) == "bolster":
        end = part.job.parts_by_key()[sewn_to_face(part.job.kind, part.key)["end"].key]
        return shape_of_part(end).outline if end.shape is not None else usual_shape(end.part).outline
    if part.has_board:
        return board_of(part).outline
    if part.shape is None:
        return usual_shape(part.part).outline
    made_for = part.shape_pad if part.shape_wraps is None else part.shape_wraps
    pad = made_for if made_for is not None else stack.at_edge(part.job.rules) + part.part.layer
    shape = without_wishes(shape_of_part(part), part.part, wishes_in(part.shape_has))
    return frame_under(shape, pad, board_thickness(part))


def length_of_bolster(part: JobPart) -> float:
    """Return how long a bolster is, by its sheet; 0 for another pad, mm."""
    if role_of_part(part) != "bolster":
        return 0.0
    return shape_of_part(part).outline.height if part.shape is not None else part.part.height


def worked_of(part: JobPart, stack: Stack | None = None) -> Worked:
    """Return a panel's pad worked out: as it was chosen, as far as it still fits; or another, which must.

    Raises BadInput for another one that can't be built.
    """
    role, taken = role_of_part(part), stack if stack is not None else stack_of(part)
    frame = Frame(outline_under(part, taken), board_thickness(part), 0.0, length_of_bolster(part))
    if stack is None:
        return worked_as_far_as_it_fits(taken, frame, role=role, rules=part.job.rules)
    return worked(stack, replace(frame, rail=stack.rail), role=role, rules=part.job.rules)


def set_stack(part: JobPart, stack: Stack) -> Growth | None:
    """Take the layers; a cover that wraps the pad grows with it along the edges that wrap it, and only those.

    Returns the growth of such a cover. A sewn one stays: the trace step says that it no longer fits. Raises BadInput
    for what can't be built; then nothing is changed.
    """
    plan = worked_of(part, stack).buttons
    with transaction.atomic():
        before = _as_it_is(part)
        before["furniture"] = _wished(part, plan.grid if plan else None, stack.channels)
        part.stack_past = [*part.stack_past[1 - MOST_PAST :], before]
        part.stack = write_stack(stack)
        return _follow(part, stack.at_edge(part.job.rules) + part.part.layer)  # restyling lays a layer on the pad


def _as_it_is(part: JobPart) -> dict[str, Any]:
    """What undo brings back: the stack, the board under it, and what of the furniture is changed with it."""
    return {
        "stack": part.stack,
        "pad": part.pad_measured,
        "furniture": [],
        "board": {field: getattr(part, field) for field in (*BOARD, "staples_planned")},
    }


def _wished(part: JobPart, grid: ButtonGrid | None, channels: Channels | None) -> list[str]:
    """The furniture says what is buttoned and channelled: its shape and its lists follow. Returns what was changed."""
    told = []
    if grid != part.part.buttons:
        sizes = {"rows": 0} if grid is None else {k: getattr(grid, k) for k in GRID}
        told.append(restyle(part.job, "buttons", {"part": part.key, **sizes}).words[:120])
    if channels != part.part.channels:
        sizes = {"apart": 0} if channels is None else {"apart": channels.apart, "deep": channels.deep}
        way = "upright" if channels is None or channels.upright else "across"
        told.append(restyle(part.job, "channels", {"part": part.key, "way": way, **sizes}).words[:120])
    if told:
        part.refresh_from_db(fields=OF_THE_SHAPE)
    return told


def _follow(part: JobPart, pad: float | None) -> Growth | None:
    """Take what the pad measures up the side, for the partner too, and let the cover follow."""
    shape = shape_of_part(part) if part.shape is not None else None
    edges: tuple[tuple[str, float], ...] = ()
    part.pad_measured = pad
    part.save()
    board_to_partner(part)
    made_for = part.shape_pad if part.shape_wraps is None else part.shape_wraps
    if pad is not None and made_for is not None:
        edges = _wrapped(part, pad - made_for)
    if part.shape_way == "block":
        redo_block(part)
    elif shape is not None and part.shape_pad is None:
        # the first pad that is chosen for it is the one that it was made for
        part.shape_pad = part.shape_wraps = pad
        part.save(update_fields=["shape_pad", "shape_wraps"])
    elif shape is not None and edges:
        words, sewn_for = f"{part.name}: grown for its pad", part.shape_pad
        keep_shape(part, grown_at_edges(shape, dict(edges)), part.shape_way, words=words)
        if len(edges) < len(shape.edges):  # the others stay as they were made: the trace step says so
            part.shape_pad = sewn_for
            part.shape_wraps = pad
            JobPart.objects.filter(pk__in=[p.pk for p in (part, partner_of(part)) if p]).update(shape_pad=sewn_for)
    if shape is None:
        return None
    before, after = shape.cut_line, shape_of_part(part).cut_line
    return Growth(edges, (before.width, before.height), (after.width, after.height))


def _wrapped(part: JobPart, more: float) -> tuple[tuple[str, float], ...]:
    """By how much each edge that wraps the pad must lie further out; none where nothing changes."""
    if abs(more) < 0.01:
        return ()
    return tuple((e.name, more) for e in shape_of_part(part).edges if e.join in WRAPPED)


def undo_stack(part: JobPart) -> None:
    """Take the last change of a panel's pad back. Raises BadInput where there is none."""
    if not part.stack_past:
        raise BadInput("stack", None, "a change that can be taken back", words="Nothing was changed on this pad.")
    *past, last = part.stack_past
    changed = last.get("furniture") or []
    changed = [changed] if isinstance(changed, str) else changed  # one, as earlier versions kept it
    with transaction.atomic():
        for words in reversed(changed):
            if [before["words"] for before in part.job.furniture_past[-1:]] == [words]:
                undo_change(part.job)
        if changed:
            part.refresh_from_db(fields=OF_THE_SHAPE)
        part.stack, part.stack_past = last["stack"], past
        _board_follows(part, last.get("board", {}))
        _follow(part, last["pad"])


def set_board(
    part: JobPart,
    *,
    board_width: float,
    board_thickness: float,
    board_depth: float | None = None,
    board_back: float | None = None,
) -> None:
    """Take the board's measures for layers and staples. Raises BadInput; then nothing is changed."""
    is_round = part.part.form == "disc"
    board = Board(
        board_width,
        board_width if is_round else (board_depth or board_width),
        board_thickness,
        is_round,
        None if is_round else board_back,
    )
    with transaction.atomic():
        before = _as_it_is(part)
        typed = dict(zip(BOARD, (board.width, board.back, board.depth, board.thickness), strict=True))
        if _board_follows(part, typed):
            part.stack_past = [*part.stack_past[1 - MOST_PAST :], before]
            part.save(update_fields=["stack_past"])
        worked_of(part, stack_of(part))


def _board_follows(part: JobPart, measures: Mapping[str, float | None]) -> bool:
    """Take a board's measures, for the partner too; its block and staples follow. Returns whether it is another."""
    another = {field: value for field, value in measures.items() if getattr(part, field) != value}
    if not another:
        return False
    for field, value in another.items():
        setattr(part, field, value)
    part.save()
    board_to_partner(part)
    redo_block(part)
    if part.part.padded and part.has_board:
        plan_staples(part)
    return True


def asks_of(job: Job) -> list[PadAsk]:
    """Return the pads of a job that have been chosen, worked out."""
    return [
        PadAsk(part.key, part.name, role_of_part(part), worked_of(part), part.pieces)
        for part in job.pads()
        if part.has_pad
    ]


def holes_of(job: Job) -> dict[str, tuple[Point, ...]]:
    """Return the button holes of each buttoned pad's foam, by the names that the foam has on its sheets."""
    pads = [pad for pad in asks_of(job) if pad.worked.buttons]
    return {piece.key: pad.worked.buttons.at for pad in pads if pad.worked.buttons for piece in foam_pieces([pad])}


def bought_of(job: Job) -> PadsBought:
    """Return what the pads of a job take to buy."""
    return pads_bought(asks_of(job), offcuts_for(job), job.rules)


def is_foamed(part: JobPart) -> bool:
    """Whether new foam is glued under a panel."""
    return part.has_pad and any(one.made.group == "foam" and not one.kept for one in stack_of(part).layers)


def extra_layers(job: Job) -> list[JobPart]:
    """Return the panels under which restyling lays a foam layer on the old pad, where no pad was chosen instead."""
    return [p for p in job.panels() if p.part.layer and not p.has_pad]


def height_of_cushion(part: JobPart) -> float:
    """Return how high a loose cushion is, by its own boxing, else by the kind's; the usual height where it has none."""
    own = sewn_to_face(part.job.kind, part.key)
    if own and "boxing" not in own:
        return CUSHION_HEIGHT
    boxing = own.get("boxing") or next((p for p in part.job.kind.panels if "boxing" in p.key), None)
    return boxing.height if boxing is not None else CUSHION_HEIGHT
