"""Choosing a pad; the block that wraps it grows with it."""

from __future__ import annotations

from dataclasses import dataclass

from django.db import transaction

from zonatome.core.pad.layers import PadChoice, measured_pad
from zonatome.core.trace.by_tape import Board
from zonatome.web.jobs.models import JobPart
from zonatome.web.trace.services import plan_staples, redo_block, shape_of_part


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
    """Take the layers, set what the pad measures by them, and make the block anew; returns its growth where there is a block."""
    is_block = part.shape_way == "block" and part.shape is not None
    before = shape_of_part(part).cut_line if is_block else None
    with transaction.atomic():
        part.foam, part.wadding, part.oversize, part.webbing = choice.foam, choice.wadding, choice.oversize, choice.webbing
        part.pad_measured = measured_pad(choice)
        part.save()
        redo_block(part)
    if before is None:
        return None
    after = shape_of_part(part).cut_line
    return Growth((before.width, before.height), (after.width, after.height))


def set_board(
    part: JobPart, *, board_width: float, board_thickness: float, board_depth: float | None = None, board_back: float | None = None
) -> None:
    """Take the board's measures for layers and staples. Raises BadInput; then nothing is changed."""
    is_round = part.part.form == "disc"
    board = Board(
        board_width, board_width if is_round else (board_depth or board_width), board_thickness, is_round, None if is_round else board_back
    )
    with transaction.atomic():
        part.board_width, part.board_depth, part.board_thickness, part.board_back = board.width, board.depth, board.thickness, board.back
        part.save()
        redo_block(part)
        plan_staples(part)
