"""The board under a part."""

from __future__ import annotations

from zonatome.core.errors import BadInput
from zonatome.core.fasten.staples import KeepOut, StaplePlan, staple_plan
from zonatome.core.trace.by_tape import Board
from zonatome.web.jobs.models import JobPart


def board_of(part: JobPart) -> Board:
    """Return the board under a part; BadInput when it has not been measured."""
    if part.board_width is None or part.board_thickness is None:
        raise BadInput("board_width", None, f"the board under the {part.name.lower()} measured first")
    is_round = part.part.form == "disc"
    deep = part.board_depth if part.board_depth is not None and not is_round else part.board_width
    return Board(part.board_width, deep, part.board_thickness, is_round, part.board_back)


def plan_of(part: JobPart) -> StaplePlan:
    """Return the staples of the board under a part; BadInput when it has not been measured."""
    board = board_of(part)
    keep_outs = [KeepOut(k.x, k.y, k.radius) for k in part.keep_outs.all()]
    return staple_plan(
        board.outline, pitch=part.pitch, order=part.staple_order, keep_outs=keep_outs, is_round=board.is_round
    )
