"""From a job's shapes and cloths to a lay request; starting, stopping and reading runs."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from decimal import Decimal

from django.conf import settings
from django.db import transaction
from django.utils import timezone

import zonatome
from zonatome.core.errors import BadInput
from zonatome.core.formats.lay_json import read_lay, write_lay, write_request
from zonatome.core.lay.buying import Purchase, purchase
from zonatome.core.lay.by_hand import Handwork, with_pins
from zonatome.core.lay.cutting import Line
from zonatome.core.lay.motif import centred_on, is_centred
from zonatome.core.lay.request import Lay, LayRequest, PieceAsk, Placement, Roll, StripAsk
from zonatome.core.lay.search import easy_lay, off_the_motif
from zonatome.core.trace.cut_marks import marks_up_the_roll, up_the_roll
from zonatome.core.trim.welt import JOIN
from zonatome.web.jobs.models import Job
from zonatome.web.lay.models import Cloth, ClothTrial, CutTick, HandLay, JobCloth, LayRun
from zonatome.web.trace.services import shape_of_part

TURNS = {"one_way": (0.0,), "two_way": (0.0, 180.0), "any": (0.0, 90.0, 180.0, 270.0)}
RAILROADED = {"one_way": (90.0,), "two_way": (90.0, 270.0), "any": TURNS["any"]}
SECONDS = 20.0
TRIAL_SECONDS = 6.0  # for each cloth on trial
SHORTEST_STRIP = 500.0
SAME_PIECE = 1.0  # mm2
NOT_LAYABLE = "not layable"


def request_for(job_cloth: JobCloth) -> LayRequest:
    """Return the lay request of one cloth of a job: its shapes' cut lines, its welt, its rules.

    Raises BadInput when no shape is on this cloth yet, or a piece is wider than it.
    """
    return request_on(job_cloth, job_cloth.cloth)


def request_on(job_cloth: JobCloth, cloth: Cloth) -> LayRequest:
    """Return the lay request of the panels of one cloth of a job on any cloth of the store; see `request_for`."""
    job = job_cloth.job
    turns = (RAILROADED if job_cloth.railroaded else TURNS)[cloth.direction]
    pieces = []
    for part in job.panels():
        if part.cloth_id == job_cloth.pk and part.shape:
            shape = shape_of_part(part)
            ask = PieceAsk(part.key, up_the_roll(shape.cut_line), part.pieces, turns)
            pieces.append(centred_on(ask, shape) if cloth.repeat and is_centred(part.key) else ask)
    roll = Roll(cloth.width, (cloth.selvage, cloth.selvage), cloth.repeat)
    if not pieces:
        raise BadInput("pieces", 0, f"at least one panel with a shape on {cloth.name}")
    for piece in pieces:
        if all(piece.outline.turned(t).height > roll.usable for t in turns):
            across = min(piece.outline.turned(t).height for t in turns)
            fits = f"pieces no wider than the {roll.usable:.0f} mm that {cloth.name} has between its selvages"
            other = "" if job_cloth.railroaded or piece.outline.width > roll.usable else "; railroaded it would fit"
            raise BadInput("pieces", f"{job.kind.part(piece.id).name}, {across:.0f} mm across", fits + other)
    request = LayRequest(roll, job_cloth.gap, tuple(pieces), _strips(job, job_cloth))
    nowhere = off_the_motif(request)
    if nowhere:
        lies = f"pieces that fit between the selvages with the {cloth.get_pattern_display()} of {cloth.name} in their middle"
        raise BadInput("pieces", job.kind.part(nowhere[0]).name, lies)
    return request


def _strips(job: Job, job_cloth: JobCloth) -> tuple[StripAsk, ...]:
    from zonatome.web.trim.services import trim_of_job

    if job.trim_cloth_id != job_cloth.pk:
        return ()
    welt = trim_of_job(job)
    if welt is None or not welt.strip_width:
        return ()
    shortest = min(SHORTEST_STRIP, welt.to_cut)
    return (StripAsk("welt", round(welt.strip_width, 1), round(welt.to_cut, 1), JOIN, max(shortest, JOIN + 10)),)


def marks_of(job: Job, asked: LayRequest) -> dict[str, tuple[Line, ...]]:
    """Return the marks of each piece as it lies up the roll; none of a shape that is another one since the lay was asked for."""
    laid, found = {piece.id: piece.outline for piece in asked.pieces}, {}
    for part in job.panels():
        if part.shape and part.key in laid:
            shape = shape_of_part(part)
            if abs(shape.cut_line.area - laid[part.key].area) < SAME_PIECE:
                found[part.key] = marks_up_the_roll(shape)
    return found


def fingerprint_of(request: LayRequest) -> str:
    """Return what tells one request from another."""
    return hashlib.sha1(document_of(request).encode(), usedforsecurity=False).hexdigest()


def document_of(request: LayRequest) -> str:
    """Return a request as one text."""
    return json.dumps(write_request(request), sort_keys=True)


def wanted_fingerprint(job_cloth: JobCloth) -> str:
    """Return the fingerprint of the lay that a cloth wants now, kept on its row until something is saved that changes it."""
    if not job_cloth.wants:
        try:
            job_cloth.wants = fingerprint_of(request_for(job_cloth))
        except BadInput:
            job_cloth.wants = NOT_LAYABLE
        JobCloth.objects.filter(pk=job_cloth.pk).update(wants=job_cloth.wants)
    return job_cloth.wants


def best_run(job_cloth: JobCloth) -> LayRun | None:
    """Return the run whose lay stands: of those that ask what the newest asks, the one being cut, else one by hand, else the shortest."""
    runs = [r for r in job_cloth.runs.all() if r.best_length is not None]
    if not runs:
        return None
    return min(
        (r for r in runs if r.fingerprint == runs[0].fingerprint), key=lambda r: (not r.ticks.all(), not r.is_chosen, r.best_length, r.pk)
    )


def newest_run(job_cloth: JobCloth) -> LayRun | None:
    """Return the newest run."""
    return next(iter(job_cloth.runs.all()), None)


def purchase_of(job_cloth: JobCloth, laid: float) -> Purchase:
    """Return what to buy of a job's cloth for a laid length."""
    return purchase_on(job_cloth.cloth, job_cloth, laid)


def purchase_on(cloth: Cloth, job_cloth: JobCloth, laid: float) -> Purchase:
    """Return what to buy of any cloth for a laid length, by the rules of one of a job's cloths."""
    return purchase(
        laid, price=Decimal(cloth.price), sold_in=cloth.sold_in, step=cloth.sold_by, squaring=job_cloth.squaring, margin=job_cloth.margin
    )


@dataclass(frozen=True)
class ClothStanding:
    """How far a cloth of a job is: pieces on it, whether a lay stands and is true to the shapes, what to buy, what is cut."""

    pieces: int
    is_laid: bool
    is_stale: bool
    buy: float
    cost: Decimal
    cut: int


def cloth_standing(job_cloth: JobCloth) -> ClothStanding:
    """Return a cloth's standing; works the request out only where a lay exists and something has changed."""
    pieces = sum(p.pieces for p in job_cloth.job.panels() if p.cloth_id == job_cloth.pk and p.shape)
    run = best_run(job_cloth)
    if run is None:
        return ClothStanding(pieces, False, False, 0.0, Decimal(0), 0)
    bought = purchase_of(job_cloth, run.best_length or 0.0)
    cut = sum(1 for tick in run.ticks.all() if not tick.is_strip)
    return ClothStanding(pieces, True, wanted_fingerprint(job_cloth) != run.fingerprint, bought.length, bought.cost, cut)


def add_cloth(job: Job, cloth: Cloth, role: str) -> JobCloth:
    """Put a cloth on a job; the first one takes all panels, a deck cloth the panels that are usually of it."""
    with transaction.atomic():
        made, _ = JobCloth.objects.get_or_create(job=job, cloth=cloth, defaults={"role": role})
        has_second = any(p.contrast for p in job.kind.panels)
        for part in job.parts.filter(cloth=None):
            part.job = job
            of_it = part.part.contrast == (role == "contrast") if has_second else True
            if part.part.what == "panel" and of_it and (role != "deck" or part.part.deck):
                part.cloth = made
                part.save(update_fields=["cloth"])
    return made


def start_lay(job_cloth: JobCloth, *, seconds: float = SECONDS, pins: Sequence[Placement] = ()) -> LayRun:
    """Lay in rows at once, store that as the first lay, and send the search to the worker; what is pinned stays where it is.

    Raises BadInput where the request is refused; then nothing is stored.
    """
    from zonatome.web.lay.tasks import search_for_lay

    request = request_for(job_cloth)
    seconds = min(seconds, settings.LONGEST_SEARCH)
    standing = best_run(job_cloth)
    if standing is not None and standing.ticks.all() and standing.fingerprint == fingerprint_of(request):
        raise BadInput(
            "lay", f"{len(standing.ticks.all())} ticked", "no piece of this lay cut yet; take the ticks on its sheet back to lay again"
        )
    fingerprint = fingerprint_of(request)
    request = with_pins(request, pins)
    first = easy_lay(request)
    with transaction.atomic():
        job_cloth.runs.filter(is_chosen=True).update(is_chosen=False)
        run = LayRun.objects.create(
            job_cloth=job_cloth,
            request=write_request(request),
            fingerprint=fingerprint,
            is_chosen=bool(pins),
            seconds=seconds,
            seed=job_cloth.runs.count() + 1,
            version=zonatome.__version__,
            best=write_lay(first),
            best_length=first.length,
            first_length=first.length,
        )
    search_for_lay.enqueue(run.pk)
    return run


def close_lost(run: LayRun) -> None:
    """Write into the row that its worker is gone."""
    if run.is_silent:
        words = "The worker ended before the search did. The best lay so far is kept."
        LayRun.objects.filter(pk=run.pk, state__in=LayRun.OPEN).update(state="failed", words=words, ended_at=timezone.now())


def ask_to_stop(run: LayRun) -> None:
    """Ask the search to end; the best found stays. One that no worker has taken up ends at once."""
    LayRun.objects.filter(pk=run.pk).update(stop_asked=True)
    LayRun.objects.filter(pk=run.pk, state="waiting").update(state="stopped", ended_at=timezone.now())


def set_tick(run: LayRun, key: str, *, is_cut: bool, is_strip: bool) -> None:
    """Tick a piece as cut, or take the tick back."""
    if is_cut:
        CutTick.objects.get_or_create(run=run, key=key, defaults={"is_strip": is_strip})
    else:
        CutTick.objects.filter(run=run, key=key).delete()


def start_trials(job_cloth: JobCloth, *, seconds: float = TRIAL_SECONDS) -> None:
    """Lay a cloth's pieces on every cloth of the store: in rows at once, shorter by the worker; a cloth that can't be laid says why."""
    from zonatome.web.lay.tasks import lay_on_trial

    made = []
    with transaction.atomic():
        job_cloth.trials.all().delete()
        for cloth in Cloth.objects.filter(is_in_store=True):
            trial = ClothTrial(job_cloth=job_cloth, cloth=cloth, seconds=min(seconds, settings.LONGEST_SEARCH))
            try:
                request = request_on(job_cloth, cloth)
            except BadInput as refusal:
                trial.state, trial.words = "refused", f"{refusal.value}: expected {refusal.expected}"[:300]
            else:
                first = easy_lay(request)
                trial.request, trial.fingerprint = write_request(request), fingerprint_of(request)
                trial.length, trial.used = first.length, first.used
                made.append(trial)
            trial.save()
    for trial in made:
        lay_on_trial.enqueue(trial.pk)


@dataclass(frozen=True)
class TrialStanding:
    """A cloth on trial: what to buy and what that costs, what is left whole behind the lay, and whether it is true to the shapes now."""

    trial: ClothTrial
    bought: Purchase | None
    left: float
    is_stale: bool
    is_own: bool


def trial_standings(job_cloth: JobCloth) -> list[TrialStanding]:
    """Return the cloths on trial, the cheapest first, those that are not offered last."""
    found = []
    for trial in job_cloth.trials.select_related("cloth"):
        bought = None
        left, is_stale = 0.0, False
        if trial.length is not None:
            bought = purchase_on(trial.cloth, job_cloth, trial.length)
            left = bought.length - bought.squaring - trial.length
        try:
            is_stale = bool(trial.fingerprint) and fingerprint_of(request_on(job_cloth, trial.cloth)) != trial.fingerprint
        except BadInput:
            is_stale = True
        found.append(TrialStanding(trial, bought, left, is_stale, trial.cloth_id == job_cloth.cloth_id))
    return sorted(found, key=lambda s: (s.bought is None, s.bought.cost if s.bought else 0, s.trial.cloth.name))


def take_instead(job_cloth: JobCloth, cloth: Cloth) -> None:
    """Put another cloth in the place of one of a job's; its panels stay on it, its lays are out of date then.

    Raises BadInput where the job has that cloth already, or pieces have been cut.
    """
    if job_cloth.job.cloths.filter(cloth=cloth).exclude(pk=job_cloth.pk).exists():
        raise BadInput("cloth", cloth.name, "a cloth that this job does not have yet")
    if CutTick.objects.filter(run__job_cloth=job_cloth).exists():
        raise BadInput("cloth", cloth.name, f"no piece of {job_cloth.cloth.name} cut yet")
    job_cloth.cloth = cloth
    job_cloth.save()


MOST_PAST = 100


def hand_lay(job_cloth: JobCloth) -> HandLay:
    """Return the lay under the hand; begun from the lay that stands, anew where the shapes, the cloth or the rules have changed.

    Raises BadInput where nothing is laid yet.
    """
    run = best_run(job_cloth)
    wanted = wanted_fingerprint(job_cloth)
    if run is None or run.fingerprint != wanted:
        raise BadInput("lay", "none" if run is None else "out of date", "a lay that is true to the shapes; lay the pieces first")
    begun = {"fingerprint": wanted, "placements": run.best["placements"], "pinned": [], "past": []}
    hand, _ = HandLay.objects.get_or_create(job_cloth=job_cloth, defaults=begun)
    if hand.fingerprint != wanted:
        HandLay.objects.filter(pk=hand.pk).update(**begun)
        hand.refresh_from_db()
    return hand


def handwork_of(hand: HandLay) -> Handwork:
    """Return a kept lay under the hand as the core has it, through the reader that reads files."""
    document = {"format": "zonatome.lay", "version": 1, "length": 0, "used": 0, "bound": 0, "placements": hand.placements}
    return Handwork(read_lay(document).placements, frozenset(hand.pinned))


def work_by_hand(hand: HandLay, change: Callable[[Handwork], Handwork]) -> None:
    """Make one change and keep it, and what was there before. Raises BadInput where the core refuses; then nothing is kept."""
    work = change(handwork_of(hand))
    hand.past = [*hand.past, {"placements": hand.placements, "pinned": hand.pinned}][-MOST_PAST:]
    hand.placements = write_lay(Lay(0, 0, 0, 0, work.placements))["placements"]
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
    """Keep a lay made by hand as the one that stands. Raises BadInput where something is wrong with it, or pieces have been cut."""
    if wrong:
        raise BadInput("lay", f"{len(wrong)} wrong", "a lay with nothing wrong in it")
    request = request_for(job_cloth)
    fingerprint = fingerprint_of(request)
    if any(r.ticks.all() for r in job_cloth.runs.all() if r.fingerprint == fingerprint):
        raise BadInput("lay", "ticked", "no piece of this lay cut yet; take the ticks on its sheet back first")
    with transaction.atomic():
        job_cloth.runs.filter(is_chosen=True).update(is_chosen=False)
        run = LayRun.objects.create(
            job_cloth=job_cloth, request=write_request(request), fingerprint=fingerprint, seconds=0.0, seed=0, version=zonatome.__version__,
            best=write_lay(lay), best_length=lay.length, first_length=lay.length, is_chosen=True, state="done", progress=1.0,
            ended_at=timezone.now(),
        )  # fmt: skip
        begin_by_hand(job_cloth)
    Job.objects.filter(pk=job_cloth.job_id).forget_kept()
    return run


def lay_the_rest(job_cloth: JobCloth, hand: HandLay) -> LayRun:
    """Lay what is not pinned round what is. Raises BadInput where nothing is pinned, or a pin can't stay."""
    pins = handwork_of(hand).pins()
    if not pins:
        raise BadInput("pinned", 0, "at least one pinned piece to lay the rest round")
    run = start_lay(job_cloth, pins=pins)
    begin_by_hand(job_cloth)
    return run
