"""The clock on a step, on every page of a tag; what it says of the workroom's pace."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta
from typing import Any

from django.db import transaction
from django.db.models import F, Sum
from django.utils import timezone

from zonatome.core.errors import BadInput
from zonatome.core.formats.leaving_json import read_frame
from zonatome.core.rules import RULES
from zonatome.core.shop.estimate import STEPS
from zonatome.core.shop.own_pace import Took, own_paces, write_paces
from zonatome.core.shop.own_rates import OwnRates, TimedStep, own_rates
from zonatome.core.shop.work import PER_MINUTE, WORK, one_takes
from zonatome.core.units import Units
from zonatome.web.base.who import who
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job, JobPart, Workroom
from zonatome.web.rack.standing import Damaged, kept_of, tape_of
from zonatome.web.shop.models import StepTook, TimeEntry
from zonatome.web.shop.services import at_pace
from zonatome.web.shop.work import works_of

SHORTEST = 0.5  # minutes: shorter is a slip of the finger
LONGEST = 24 * 60.0  # minutes of one entry


def running() -> TimeEntry | None:
    """Return the entry whose clock runs for whoever is at this page; one has one clock."""
    return TimeEntry.objects.filter(by=who(), ended=None).select_related("job", "part").first()


def start_clock(job: Job, step: str, part: JobPart | None = None) -> TimeEntry:
    """Start the clock on a step; the one that ran elsewhere ends. Raises BadInput for a step that there is not."""
    if step not in STEPS:
        raise BadInput("step", step, "one of " + ", ".join(STEPS))
    with transaction.atomic():
        stop_clock()
        return TimeEntry.objects.create(job=job, step=step, part=part, by=who())


def stop_clock() -> TimeEntry | None:
    """Stop the clock and keep the entry; too short a one is forgotten, one of days ends after a day."""
    entry = running()
    if entry is None:
        return None
    if entry.minutes < SHORTEST:
        entry.delete()
        return None
    entry.ended = min(timezone.now(), entry.began + timedelta(minutes=LONGEST))
    entry.save(update_fields=["ended"])
    _learn_of(entry.job)
    return entry


def correct(entry: TimeEntry, minutes: float) -> None:
    """Say how long an entry really took. Raises BadInput beyond a day."""
    if not 0 < minutes <= LONGEST:
        raise BadInput("minutes", minutes, "1 minute to 24 hours")
    entry.ended = entry.began + timedelta(minutes=minutes)
    entry.save(update_fields=["ended"])
    _learn_of(entry.job)


def forget(entry: TimeEntry) -> None:
    """Forget an entry."""
    job = entry.job
    entry.delete()
    _learn_of(job)


def _learn_of(job: Job) -> None:
    """Learn from a tag as it stands; one that was taken down meanwhile says nothing new."""
    if job.taken_down_at is None:
        learn(load_job(job.number))


@dataclass(frozen=True)
class StepLog:
    """A step of a tag: minutes foreseen, minutes on the clock so far."""

    step: str
    foreseen: float
    took: float


def took_of(job: Job) -> dict[str, float]:
    """Return the minutes on the clock at each step of a job, pulling by its own clock with them."""
    rows = TimeEntry.objects.filter(job=job).exclude(ended=None)
    sums = rows.values("step").annotate(ran=Sum(F("ended") - F("began"))).values_list("step", "ran")
    found = {step: ran.total_seconds() / 60 for step, ran in sums}
    spells = sum(spell.minutes for spell in job.spells.exclude(ended=None))
    if spells:
        found["strip"] = found.get("strip", 0.0) + spells
    return found


def steps_of(job: Job, units: Units) -> list[StepLog]:
    """Return each step of a job with its minutes foreseen by the rules, and on the clock."""
    minutes, took, pace = kept_of(job, units)["minutes"], took_of(job), Workroom.the_one().pace
    return [StepLog(step, at_pace(minutes, step, pace), took.get(step, 0.0)) for step in STEPS]


def learn(job: Job) -> None:
    """Keep what a job's steps took, and the workroom's own pace by all that are done: pulling has a pace of its own."""
    workroom = Workroom.the_one()
    try:
        rows, tape = steps_of(job, workroom.units), tape_of(job, workroom.units)
    except Damaged:
        return
    done = {state.step for state in tape.steps if state.is_done or job.finished_at}
    amounts = amounts_of(job)
    with transaction.atomic():
        StepTook.objects.filter(job=job).delete()
        StepTook.objects.bulk_create(
            StepTook(
                job=job,
                step=row.step,
                foreseen=row.foreseen,
                took=row.took,
                is_done=row.step in done,
                amounts=amounts.get(row.step, {}),
            )
            for row in rows
            if row.took and row.step != "strip"
        )
        _keep_paces(workroom)


def amounts_of(job: Job) -> dict[str, dict[str, Any]]:
    """Return what each step of a job is made of, as the log keeps it: so much of each sort of work."""
    found: dict[str, dict[str, Any]] = {}
    besides = read_frame(job.frame).plan(job.count)
    for work in works_of(job):
        if not work.amount:
            continue
        step = found.setdefault(WORK[work.key].step, {"furniture": job.count, "once": {}, "each": {}})
        kind = step["once" if work.once else "each"]
        kind[work.key] = kind.get(work.key, 0.0) + work.amount
    if besides is not None and "finish" in found:
        found["finish"]["besides"] = besides.minutes
    return found


def own_rates_now(workroom: Workroom) -> OwnRates:
    """Return what the log says of single rates."""
    rows = StepTook.objects.filter(is_done=True).exclude(amounts={}).values_list("took", "amounts")
    told = [
        TimedStep(a["furniture"], took, a["once"], a["each"], a.get("besides", 0.0))
        for took, a in rows
        if set(a["once"]) | set(a["each"]) <= set(WORK)
    ]
    return own_rates(told, workroom.rules)


def take_rates(workroom: Workroom) -> int:
    """Set the workroom's rules to the rates that its log says, and foresee all timed steps by them; return how many."""
    said = own_rates_now(workroom)
    rules = dict(workroom.own_rules)
    for one in said.rates:
        key = PER_MINUTE.get(one.key, f"minutes_{one.key}")
        rule = RULES[key]
        value = 1 / one.minutes if one.key in PER_MINUTE else one.minutes
        rules[key] = round(min(rule.most, max(rule.least, value)), 4)
    if said.sixth is not None:
        rules["sixth_of_a_set"] = said.sixth
    with transaction.atomic():
        workroom.own_rules = rules
        workroom.save(update_fields=["own_rules"])
        Job.objects.all().forget_kept()
        rates = {key: one_takes(key, workroom.rules) for key in WORK}
        for row in StepTook.objects.exclude(amounts={}):
            a = row.amounts
            timed = TimedStep(a["furniture"], row.took, a["once"], a["each"], a.get("besides", 0.0))
            row.foreseen = timed.foreseen(rates, float(workroom.rules["sixth_of_a_set"]))
            row.save(update_fields=["foreseen"])
        _keep_paces(workroom)
    return len(said.rates)


def _keep_paces(workroom: Workroom) -> None:
    told = StepTook.objects.filter(is_done=True).values_list("step", "foreseen", "took")
    paces = write_paces(own_paces(Took(*row) for row in told))
    if paces != workroom.own_times:
        workroom.own_times = paces
        workroom.save(update_fields=["own_times"])
