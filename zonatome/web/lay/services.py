"""Starting, stopping and reading the runs of a lay; what stands, what it takes; cloths on trial; the lay under the
hand.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Any

from django.conf import settings
from django.db import transaction
from django.utils import timezone

import zonatome
from zonatome.core.errors import BadInput, NoAnswer
from zonatome.core.formats.lay_json import write_lay, write_request
from zonatome.core.lay.pattern.direction import TRIM_WAYS, strip_directions
from zonatome.core.lay.prepared import is_prepared, is_quick
from zonatome.core.lay.ranking import rank
from zonatome.core.lay.request import Lay, LayRequest, Placement, StripCut
from zonatome.core.lay.table.by_hand import with_pins
from zonatome.core.shop.buying import Purchase, priced_by_area, purchase, rule_of_thumb, shared, short_by
from zonatome.web.jobs.models import Job
from zonatome.web.lay.asking import host_of, members_of, owner_of, request_for
from zonatome.web.lay.models import Cloth, ClothTrial, CutTick, HandLay, JobCloth, LayRun, Remnant
from zonatome.web.trace.services import shape_of_part

SECONDS = 20.0
NOT_LAYABLE = "not layable"
LOST = "The worker ended before the search did. The best lay so far is kept."


def fingerprint_of(request: LayRequest) -> str:
    """Return what tells one request from another."""
    return hashlib.sha1(document_of(request).encode(), usedforsecurity=False).hexdigest()


def document_of(request: LayRequest) -> str:
    """Return a request as one text."""
    return json.dumps(write_request(request), sort_keys=True)


def wanted_fingerprint(job_cloth: JobCloth) -> str:
    """Return the fingerprint of the lay that a cloth wants now, kept on its row until something is saved that changes
    it.
    """
    if not job_cloth.wanted_fingerprint:
        try:
            job_cloth.wanted_fingerprint = fingerprint_of(request_for(job_cloth))
        except BadInput:
            job_cloth.wanted_fingerprint = NOT_LAYABLE
        JobCloth.objects.filter(pk=job_cloth.pk).update(wanted_fingerprint=job_cloth.wanted_fingerprint)
    return job_cloth.wanted_fingerprint


def best_run(job_cloth: JobCloth) -> LayRun | None:
    """Return the run whose lay stands: of those that ask what the newest asks, the one being cut, else one by hand,
    else the best.

    That of a cloth which is laid together with another tag's is the other's.
    """
    runs = [r for r in host_of(job_cloth).runs.all() if r.best_length is not None]
    if not runs:
        return None
    return min(
        (r for r in runs if r.fingerprint == runs[0].fingerprint),
        key=lambda r: (not r.ticks.all(), not r.is_chosen, r.rank, r.pk),
    )


def newest_run(job_cloth: JobCloth) -> LayRun | None:
    """Return the newest run."""
    return next(iter(host_of(job_cloth).runs.all()), None)


def purchase_of(job_cloth: JobCloth, laid: float) -> Purchase:
    """Return what to buy of a job's cloth for a laid length."""
    return purchase_on(job_cloth.cloth, job_cloth, laid)


def cloth_here(job_cloth: JobCloth) -> float | None:
    """Return how much of a cloth has come for this lay, as measured, in mm; None where none has, or some is still to
    come.
    """
    orders = list(job_cloth.orders.all())
    if not orders or any(o.came_length is None for o in orders):
        return None
    return sum(o.came_length or 0.0 for o in orders)


def short_of_cloth(job_cloth: JobCloth, laid: float) -> float:
    """Return by how many mm what has come is too short for a laid length and squaring; 0 where it does, or nothing has
    come.
    """
    here = cloth_here(job_cloth)
    return 0.0 if here is None else short_by(laid, job_cloth.squaring, here)


def purchase_on(cloth: Cloth, job_cloth: JobCloth, laid: float) -> Purchase:
    """Return what to buy of any cloth for a laid length, by the rules of one of a job's cloths."""
    return _bought(cloth, laid, squaring=job_cloth.squaring, margin=job_cloth.margin)


def _bought(cloth: Cloth, laid: float, *, squaring: float, margin: float) -> Purchase:
    return purchase(
        laid, price=Decimal(cloth.price), sold_in=cloth.sold_in, step=cloth.sold_by, squaring=squaring,
        margin=margin, least=cloth.least, breaks=cloth.price_breaks(),
    )  # fmt: skip


def chart_for(job_cloth: JobCloth) -> float | None:
    """Return what a chart's rule of thumb says for the tags in a lay, in mm; None where the chart does not know one of
    them.

    Where only some panels of a tag are of this cloth, so much of the chart's figure as their share of all its shapes.
    """
    cloth, whole = job_cloth.cloth, 0.0
    repeat = (
        max((step for step in (cloth.repeat_along, cloth.repeat_across) if step), default=0.0) if cloth.repeat else 0.0
    )
    for member in members_of(job_cloth):
        panels = [p for p in member.job.panels() if p.shape]
        areas = {p.pk: p.pieces * shape_of_part(p).cut_line.area for p in panels}
        mine = sum(areas[p.pk] for p in panels if p.cloth_id == member.pk)
        if not mine:
            continue
        said = rule_of_thumb(
            member.job.kind_key, member.job.count, width=cloth.width, repeat=repeat, share=mine / sum(areas.values())
        )
        if said is None:
            return None
        whole += said
    return whole or None


def saved_on_chart(job_cloth: JobCloth, bought: Purchase) -> tuple[float, Decimal] | None:
    """Return how much less is bought than a chart says, in mm and in money; None without a chart, negative where the
    lay takes more.
    """
    said = chart_for(job_cloth)
    if said is None:
        return None
    by_chart = _bought(job_cloth.cloth, said, squaring=0.0, margin=0.0)
    return by_chart.length - bought.length, by_chart.cost - bought.cost


def easy_lay(request: LayRequest) -> Lay:
    """Return the lay in rows. What is compiled for it is loaded when the first lay is asked for."""
    from zonatome.core.lay.lay import easy_lay as laid  # noqa: PLC0415 compiled code: only where it is wanted

    return laid(request)


def cost_from_store(job_cloth: JobCloth) -> Decimal:
    """Return what the pieces from the store that a cloth is cut from cost: hides by their area,
    remnants nothing more.
    """
    if not job_cloth.cloth.is_hide:
        return Decimal(0)
    area = sum(remnant.shape().area for remnant in job_cloth.from_store.all())
    return priced_by_area(area, Decimal(job_cloth.cloth.price), job_cloth.cloth.sold_in)


def shares_of(host: JobCloth, asked: LayRequest, cost: Decimal) -> dict[int, Decimal]:
    """Return each tag's part of a lay's cost by the area of its pieces and strips, by the keys of the jobs' cloths."""
    members = members_of(host)
    areas = dict.fromkeys((m.pk for m in members), 0.0)
    for piece in asked.pieces:
        areas[owner_of(host, piece.id).pk] += piece.outline.area * piece.count
    for strip in asked.strips:
        areas[owner_of(host, strip.id).pk] += strip.least_area
    return dict(zip(areas, shared(cost, list(areas.values())), strict=True))


@dataclass(frozen=True)
class ClothStanding:
    """How far a cloth of a job is: pieces on it, whether a lay stands and is true to the shapes, what to buy, what is
    cut.

    Of a cloth that is laid together with another tag's, `buy` and `cost` are its share.
    """

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
    if run is None or not pieces:  # a cloth from which nothing is cut any more asks for nothing
        return ClothStanding(pieces, False, False, 0.0, Decimal(0), 0)
    host = host_of(job_cloth)
    if run.on_panels:
        buy, cost = 0.0, cost_from_store(host)
    else:
        bought = purchase_of(host, run.best_length or 0.0)
        buy, cost = bought.length, bought.cost
    cut = [tick.key for tick in run.ticks.all() if not tick.is_strip]
    if len(members_of(host)) > 1:
        mine = shares_of(host, run.asked(), cost)[job_cloth.pk] if cost else Decimal(0)
        buy, cost = (buy * float(mine / cost) if cost else 0.0), mine
        cut = [key for key in cut if owner_of(host, key).pk == job_cloth.pk]
    return ClothStanding(pieces, True, wanted_fingerprint(host) != run.fingerprint, buy, cost, len(cut))


def add_cloth(job: Job, cloth: Cloth, role: str) -> JobCloth:
    """Put a cloth on a job; the first one takes all panels, a deck cloth the panels that are usually of it."""
    with transaction.atomic():
        JobCloth.every.filter(job=job, cloth=cloth).exclude(put_away_at=None).delete()  # it begins anew
        usual = {"role": role, "squaring": job.rules["squaring"], "margin": job.rules["margin"]}
        made, _ = JobCloth.objects.get_or_create(job=job, cloth=cloth, defaults=usual)
        has_second = any(p.contrast for p in job.kind.panels)
        for part in job.parts.filter(cloth=None):
            part.job = job
            of_it = part.part.contrast == (role == "contrast") if has_second else True
            if part.part.what == "panel" and of_it and (role != "deck" or part.part.deck):
                part.cloth = made
                part.save(update_fields=["cloth"])
    return made


def first_lay_of(request: LayRequest, first: Lay) -> dict[str, Any]:
    """Return what a run keeps of the lay in rows that it begins with."""
    laid = write_lay(first)
    return {
        "best": laid,
        "row_lay": laid,
        "best_length": first.length,
        "first_length": first.length,
        "rank": rank(request, first),
    }


def start_lay(job_cloth: JobCloth, *, seconds: float = SECONDS, pins: Sequence[Placement] = ()) -> LayRun:
    """Lay in rows at once, store that as the first lay, and send the search to the worker; what is pinned stays where
    it is.

    Where the rows themselves would take longer than a second, or the search is still being prepared, the worker lays
    them too. Raises BadInput where the request is refused; then nothing is stored.
    """
    from zonatome.web.lay.tasks import search_for_lay  # noqa: PLC0415 a task uses this room

    request = request_for(job_cloth)
    seconds = min(seconds, settings.LONGEST_SEARCH)
    standing = best_run(job_cloth)
    if standing is not None and standing.ticks.all() and standing.fingerprint == fingerprint_of(request):
        raise BadInput(
            "lay",
            f"{len(standing.ticks.all())} ticked",
            "no piece of this lay cut yet; take the ticks on its sheet back to lay again",
        )
    fingerprint = fingerprint_of(request)
    request = with_pins(request, pins)
    first = first_lay_of(request, easy_lay(request)) if is_prepared() and is_quick(request) else {}
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
            **first,
        )
    search_for_lay.enqueue(run.pk)
    return run


def close_lost(run: LayRun) -> None:
    """Write into the row that its worker is gone."""
    if run.is_silent:
        LayRun.objects.filter(pk=run.pk, state__in=LayRun.OPEN).update(
            state="failed", words=LOST, ended_at=timezone.now()
        )


def lost_runs() -> None:
    """Write into every run that was at work that its worker is gone.

    Only for a worker that has the folder to itself.
    """
    LayRun.objects.filter(state="running").update(state="failed", words=LOST, ended_at=timezone.now())
    ClothTrial.objects.filter(state="running").update(
        state="failed", words="The worker ended; the shortest length so far is kept."
    )


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


def now_or_later() -> None:
    """Refuse what needs the compiled search while that is being prepared. Raises BadInput."""
    if not is_prepared():
        raise BadInput(
            "lay", "being prepared", "the search to be ready: it is prepared once on this machine, in about a minute"
        )


def strips_that_stand(job_cloth: JobCloth) -> tuple[StripCut, ...]:
    """Return the strips of the lay that stands; none where there is none."""
    run = best_run(job_cloth)
    return run.lay().strips if run else ()


def forget_together(host: JobCloth, others: Sequence[JobCloth]) -> None:
    """Forget what lays and jobs were worked out to be, of tags that were joined or parted."""
    keys = [host.pk, *(o.pk for o in others)]
    JobCloth.objects.filter(pk__in=keys).update(wanted_fingerprint="")
    HandLay.objects.filter(job_cloth__in=keys).delete()
    Job.objects.filter(cloths__in=keys).forget_kept()


def take_off_job(job_cloth: JobCloth) -> None:
    """Take a cloth off its job: its panels have none then. Its lays are kept, and it can be put back as it was."""
    job = job_cloth.job
    with transaction.atomic():
        part_lays(job, [job_cloth])
        was_for = {
            "parts": [p.key for p in job.parts.all() if p.cloth_id == job_cloth.pk],
            "from_store": list(job_cloth.from_store.values_list("pk", flat=True)),
            "is_trim": job.trim_cloth_id == job_cloth.pk,
        }
        job.parts.filter(cloth=job_cloth).update(cloth=None)
        if was_for["is_trim"]:
            Job.objects.filter(pk=job.pk).update(trim_cloth=None)
        job_cloth.from_store.clear()
        job_cloth.put_away_at, job_cloth.was_for = timezone.now(), was_for
        job_cloth.save()


def put_back_on_job(job: Job, pk: int) -> JobCloth | None:
    """Put a cloth back on its job, with the panels that have no other one since, its lays and its pieces from the
    store that are free.
    """
    with transaction.atomic():
        found = JobCloth.every.filter(job=job, pk=pk).exclude(put_away_at=None).select_related("cloth", "job").first()
        if found is None:
            return None
        was_for = found.was_for
        found.put_away_at, found.was_for = None, {}
        found.save()
        job.parts.filter(key__in=was_for["parts"], cloth=None).update(cloth=found)
        found.from_store.set(Remnant.objects.filter(pk__in=was_for["from_store"], used_at=None, taken_for=None))
        if was_for["is_trim"]:
            Job.objects.filter(pk=job.pk, trim_cloth=None).update(trim_cloth=found)
        Job.objects.filter(pk=job.pk).forget_kept()
    return found


def part_lays(job: Job, cloths: Sequence[JobCloth] | None = None) -> None:
    """Part a tag, or some of its cloths, from the lays that it shares with others, both ways, and end its searches."""
    for own in job.cloths.all() if cloths is None else cloths:
        others = [*own.guests.all(), *([own.laid_with] if own.laid_with else [])]
        if others:
            own.guests.update(laid_with=None)
            JobCloth.objects.filter(pk=own.pk).update(laid_with=None)
            forget_together(own, others)
        for run in own.runs.filter(state__in=LayRun.OPEN):
            ask_to_stop(run)


def forget_standing(job_cloth: JobCloth) -> None:
    """Forget how the jobs stand whose pieces lie in a lay."""
    Job.objects.filter(pk__in=[m.job_id for m in members_of(host_of(job_cloth))]).forget_kept()


def strip_ways(job: Job) -> list[dict[str, Any]]:
    """Return what the cloth of a job's welt takes, laid in rows, with its strips across, along, and on the bias."""
    job_cloth = job.trim_cloth
    if job_cloth is None:
        return []
    found = []
    chosen = strip_directions(job_cloth.cloth.direction, job.trim_way, railroaded=job_cloth.railroaded)
    for way in ("across", "along", "bias"):
        row: dict[str, Any] = {
            "way": way,
            "words": TRIM_WAYS[way],
            "length": None,
            "why": "",
            "is_chosen": way in chosen,
        }
        try:
            now_or_later()
            asked = request_for(job_cloth)
            strips = tuple(replace(s, directions=(way,)) for s in asked.strips)
            row["length"] = easy_lay(replace(asked, strips=strips)).length
        except (BadInput, NoAnswer) as refusal:
            row["why"] = str(refusal)
        found.append(row)
    return found
