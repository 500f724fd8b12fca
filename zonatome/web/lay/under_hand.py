"""The lay under the hand: begun from the one that stands, changed step by step, kept as the one that stands."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from django.db import transaction
from django.utils import timezone

import zonatome
from zonatome.core.errors import BadInput
from zonatome.core.formats.lay_json import read_placements, write_lay, write_placements, write_request
from zonatome.core.lay.ranking import rank
from zonatome.core.lay.request import Lay
from zonatome.core.lay.table.by_hand import Handwork
from zonatome.web.lay.asking import request_for
from zonatome.web.lay.models import HandLay, JobCloth, LayRun
from zonatome.web.lay.services import (
    best_run,
    fingerprint_of,
    forget_standing,
    now_or_later,
    start_lay,
    wanted_fingerprint,
)

MOST_PAST = 100


def hand_lay(job_cloth: JobCloth) -> HandLay:
    """Return the lay under the hand; begun from the lay that stands, anew where the shapes, the cloth or the rules
    have changed.

    Raises BadInput where nothing is laid yet.
    """
    now_or_later()
    run = best_run(job_cloth)
    wanted = wanted_fingerprint(job_cloth)
    if run is None or run.fingerprint != wanted:
        raise BadInput(
            "lay", "none" if run is None else "out of date", "a lay that is true to the shapes; lay the pieces first"
        )
    begun = {"fingerprint": wanted, "placements": run.best["placements"], "pinned": [], "past": []}
    hand, _ = HandLay.objects.get_or_create(job_cloth=job_cloth, defaults=begun)
    if hand.fingerprint != wanted:
        HandLay.objects.filter(pk=hand.pk).update(**begun)
        hand.refresh_from_db()
    return hand


def handwork_of(hand: HandLay) -> Handwork:
    """Return a kept lay under the hand as the core has it, through the reader that reads files."""
    return Handwork(read_placements(hand.placements), frozenset(hand.pinned))


def work_by_hand(hand: HandLay, change: Callable[[Handwork], Handwork]) -> None:
    """Make one change and keep it, and what was there before.

    Raises BadInput where the core refuses; then nothing is kept.
    """
    work = change(handwork_of(hand))
    hand.past = [*hand.past, {"placements": hand.placements, "pinned": hand.pinned}][-MOST_PAST:]
    # with its panel, whatever the cloth
    hand.placements = write_placements(work.placements, on_panels=True)
    hand.pinned = sorted(work.pinned)
    hand.save()


def undo_by_hand(hand: HandLay) -> None:
    """Take the last change back."""
    if hand.past:
        *hand.past, last = hand.past
        hand.placements, hand.pinned = last["placements"], last["pinned"]
        hand.save()


def begin_by_hand(job_cloth: JobCloth) -> None:
    """Drop the lay under the hand; it begins anew from the lay that stands."""
    HandLay.objects.filter(job_cloth=job_cloth).delete()


def keep_by_hand(job_cloth: JobCloth, lay: Lay, wrong: Sequence[object]) -> LayRun:
    """Keep a lay made by hand as the one that stands.

    Raises BadInput where something is wrong with it, or pieces have been cut.
    """
    if wrong:
        raise BadInput("lay", f"{len(wrong)} wrong", "a lay with nothing wrong in it")
    request = request_for(job_cloth)
    fingerprint = fingerprint_of(request)
    if any(r.ticks.all() for r in job_cloth.runs.all() if r.fingerprint == fingerprint):
        raise BadInput("lay", "ticked", "no piece of this lay cut yet; take the ticks on its sheet back first")
    with transaction.atomic():
        job_cloth.runs.filter(is_chosen=True).update(is_chosen=False)
        run = LayRun.objects.create(
            job_cloth=job_cloth, request=write_request(request), fingerprint=fingerprint, seconds=0.0, seed=0,
            version=zonatome.__version__,
            best=write_lay(lay), best_length=lay.length, first_length=lay.length,
            rank=rank(request, lay), is_chosen=True, state="done", progress=1.0,
            ended_at=timezone.now(),
        )  # fmt: skip
        begin_by_hand(job_cloth)
    forget_standing(job_cloth)
    return run


def lay_the_rest(job_cloth: JobCloth, hand: HandLay) -> LayRun:
    """Lay what is not pinned round what is. Raises BadInput where nothing is pinned, or a pin can't stay."""
    pins = handwork_of(hand).pins()
    if not pins:
        raise BadInput("pinned", 0, "at least one pinned piece to lay the rest round")
    run = start_lay(job_cloth, pins=pins)
    begin_by_hand(job_cloth)
    return run
