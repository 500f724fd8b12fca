"""Choosing a pad; the block that wraps it grows with it."""

from __future__ import annotations

from dataclasses import dataclass

from django.db import transaction

from zonatome.core.joins import WRAPPED
from zonatome.core.pad.layers import PadChoice, measured_pad
from zonatome.core.trace.by_tape import Board
from zonatome.core.trace.restyled import grown_shape
from zonatome.web.jobs.models import Job, JobPart
from zonatome.web.trace.services import board_to_partner, keep_shape, plan_staples, redo_block, shape_of_part


@dataclass(frozen=True)
class Growth:
    """What a changed pad did to a block: its cut size before and after, in mm; `each_way` is the growth."""

    before: tuple[float, float]
    after: tuple[float, float]

    @property
    def each_way(self) -> float:
        """By how much the cut grew each way."""
        return self.after[0] - self.before[0]


def set_pad(part: JobPart, choice: PadChoice) -> Growth | None:
    """Take the layers and set what the pad measures by them; a shape that wraps the pad grows with it.

    Returns the growth of a shape that wraps. A sewn one stays: the trace step says that it no longer fits.
    """
    shape = shape_of_part(part) if part.shape is not None else None
    wraps = shape is not None and part.shape_pad is not None and all(e.join in WRAPPED for e in shape.edges)
    before = shape.cut_line if shape is not None and (part.shape_way == "block" or wraps) else None
    with transaction.atomic():
        part.foam, part.wadding, part.oversize, part.webbing = (
            choice.foam,
            choice.wadding,
            choice.oversize,
            choice.webbing,
        )
        part.pad_measured = measured_pad(choice, part.job.rules) + part.part.layer  # restyling lays a layer on the pad
        part.save()
        board_to_partner(part)
        if part.shape_way == "block":
            redo_block(part)
        elif shape is not None and wraps:
            more = 2 * (part.pad_measured - (part.shape_pad or 0))
            if more:
                keep_shape(
                    part, grown_shape(shape, more, more), part.shape_way, words=f"{part.name}: grown for its pad"
                )
        elif shape is not None and part.shape_pad is None:
            # the first pad that is chosen for it is the one that it was made for
            part.shape_pad = part.pad_measured
            part.save(update_fields=["shape_pad"])
    if before is None:
        return None
    after = shape_of_part(part).cut_line
    return Growth((before.width, before.height), (after.width, after.height))


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
        part.board_width, part.board_depth, part.board_thickness, part.board_back = (
            board.width,
            board.depth,
            board.thickness,
            board.back,
        )
        part.save()
        board_to_partner(part)
        redo_block(part)
        plan_staples(part)


def pad_choice(part: JobPart) -> PadChoice:
    """Return the layers chosen for a part."""
    return PadChoice(part.foam or 0.0, part.wadding or 0.0, part.oversize, part.webbing)


def extra_layers(job: Job) -> list[JobPart]:
    """Return the panels under which restyling lays a foam layer on the old pad."""
    return [p for p in job.panels() if p.part.layer]
