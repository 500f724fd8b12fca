"""What a hand may do on the lay: each act by its name."""

from __future__ import annotations

from functools import lru_cache
from typing import TYPE_CHECKING

from zonatome.core.errors import BadInput
from zonatome.core.formats.lay_json import read_request
from zonatome.core.formats.reading import read_json
from zonatome.core.lay.table import by_hand
from zonatome.web.lay import services, under_hand
from zonatome.web.lay.asking import request_for
from zonatome.web.lay.models import JobCloth

if TYPE_CHECKING:
    from zonatome.core.lay.geometry.nesting_table import NestingTable

ACTS = ("move", "nudge", "turn", "flip", "pin", "undo", "anew", "keep", "rest")


@lru_cache(maxsize=8)
def _ways(document: str) -> NestingTable:
    """The table of a request, kept for the next move."""
    from zonatome.core.lay.geometry.nesting_table import NestingTable  # noqa: PLC0415 compiled code: only where a hand lays

    return NestingTable(read_request(read_json(document)))


def act_by_hand(job_cloth: JobCloth, act: str, key: str, along: float, across: float) -> bool:
    """Do one act; returns whether the lay that stands is another one now. Raises BadInput where it may not be done."""
    if act == "anew":
        under_hand.begin_by_hand(job_cloth)
        return False
    hand = under_hand.hand_lay(job_cloth)
    asked = request_for(job_cloth)
    if act == "move":
        ways = _ways(services.document_of(asked))
        under_hand.work_by_hand(hand, lambda work: by_hand.moved(asked, work, key, along, across, ways=ways))
    elif act == "nudge":
        under_hand.work_by_hand(hand, lambda work: by_hand.moved(asked, work, key, along, across))
    elif act == "turn":
        under_hand.work_by_hand(hand, lambda work: by_hand.turned(asked, work, key))
    elif act == "flip":
        under_hand.work_by_hand(hand, lambda work: by_hand.mirrored(asked, work, key))
    elif act == "pin":
        under_hand.work_by_hand(hand, lambda work: work.toggled(key))
    elif act == "undo":
        under_hand.undo_by_hand(hand)
    elif act == "rest":
        under_hand.lay_the_rest(job_cloth, hand)
        return True
    elif act == "keep":
        lay, wrong = by_hand.judged(asked, under_hand.handwork_of(hand), services.strips_that_stand(job_cloth))
        under_hand.keep_by_hand(job_cloth, lay, wrong)
        return True
    else:
        raise BadInput("act", act, "one of " + ", ".join(ACTS))
    return False
