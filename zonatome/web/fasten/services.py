"""A part's staple plan."""

from __future__ import annotations

from zonatome.core.fasten.staples import KeepOut, StaplePlan, staple_plan
from zonatome.web.jobs.models import JobPart
from zonatome.web.trace.services import board_of


def plan_of(part: JobPart) -> StaplePlan:
    """Return the staples of the board under a part; BadInput when it has not been measured."""
    board = board_of(part)
    keep_outs = [KeepOut(k.x, k.y, k.radius) for k in part.keep_outs.all()]
    return staple_plan(board.outline, pitch=part.pitch, order=part.staple_order, keep_outs=keep_outs, is_round=board.is_round)
