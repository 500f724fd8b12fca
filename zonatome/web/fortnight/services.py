"""The plan of the fortnight: what it is made from, the one that holds, what is pinned."""

from __future__ import annotations

import hashlib
import json
import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from zonatome.core.errors import BadInput
from zonatome.core.formats.plan_json import read_plan, read_spells, write_plan, write_plan_request, write_spells
from zonatome.core.shop.own_pace import OwnPace, read_paces
from zonatome.core.shop.plan.hours import moment_of, quarter_of, windows
from zonatome.core.shop.plan.pins import pin_fault
from zonatome.core.shop.plan.request import DAY, MOST_DAYS, Pin, Plan, PlanRequest, Spell, SpellKey, TagWork, Worker
from zonatome.core.shop.plan.solver import quick_plan
from zonatome.core.shop.plan.tasks import COMPRESSOR, SEWING_MACHINE, TABLE, TASKS, WAIT_HOLDS, Held, tasks_left
from zonatome.core.shop.progress import JobState, step_states
from zonatome.web.fortnight.hands import Person, people_at_the_bench
from zonatome.web.fortnight.models import FortnightPlan, SpellPin
from zonatome.web.jobs.models import Job, Workroom
from zonatome.web.rack.standing import keep_standing
from zonatome.web.shop.services import at_pace

FORTNIGHT = 14  # days that are always looked at
SPARE = 1.5  # times the days that the work takes if nothing waited
KEPT = 30  # plans
MOST_TAGS = 60  # that are planned, those due first
SILENT_AFTER = timedelta(seconds=30)
BEHIND = 1  # quarters after its end at which a spell that is still to be done makes the plan stale
MACHINE_RULES = {TABLE: "big_tables", SEWING_MACHINE: "sewing_machines", COMPRESSOR: "compressors"}


@dataclass(frozen=True)
class Asked:
    """All that a plan is made from now: the request, the day from which its quarters count, who works, the tags by
    number, those that are not planned and why.
    """

    request: PlanRequest
    first: date
    fingerprint: str
    people: tuple[Person, ...]
    jobs: Mapping[int, Job]
    waiting: Mapping[int, str]
    whole_windows: tuple[tuple[int, int], ...] = ()  # of everybody, as if the day had just begun
    has_more: bool = False  # tags that are due later than those that are planned


def asked_now(workroom: Workroom, now: datetime) -> Asked:
    """Return what a plan is to be made from at a moment, in the workroom's own time."""
    first = now.date()
    hanging = list(Job.objects.open().defer("furniture_past").prefetch_related("waits")[: MOST_TAGS + 1])
    has_more, jobs = len(hanging) > MOST_TAGS, {job.number: job for job in hanging[:MOST_TAGS]}
    keep_standing(list(jobs.values()), workroom.units)
    sound = {number: job for number, job in jobs.items() if "damaged" not in job.standing_cache}
    waiting = {number: job.waits_for for number, job in sound.items() if job.waits_for}
    paces = read_paces(workroom.own_times)
    tags = [_tag_work(job, workroom, paces, now, first) for job in sound.values() if not job.waits_for]
    work = sum(task.quarters for tag in tags for task in tag.tasks)
    people = tuple(people_at_the_bench(workroom, first=first, count=MOST_DAYS))
    count = _days(work, people, tags)
    whole = [Worker(p.name, windows(p.hours, first=first, count=count, off=p.off), p.skills) for p in people]
    machines = {name: int(workroom.rules[rule]) for name, rule in MACHINE_RULES.items()}
    pins = _pins(first, sound, now)
    request = PlanRequest(tuple(tag for tag in tags if tag.tasks), tuple(whole), machines, pins)
    told = json.dumps(write_plan_request(request), sort_keys=True)
    left = tuple(
        replace(w, windows=windows(p.hours, first=first, count=count, off=p.off, now=now))
        for w, p in zip(whole, people, strict=True)
    )
    fingerprint = hashlib.sha1(told.encode()).hexdigest()
    all_windows = tuple(window for worker in whole for window in worker.windows)
    return Asked(replace(request, workers=left), first, fingerprint, people, sound, waiting, all_windows, has_more)


def _days(work: int, people: tuple[Person, ...], tags: list[TagWork]) -> int:
    a_week = sum(p.hours.minutes for p in people) / 15 or 1
    latest = max((task.not_before for tag in tags for task in tag.tasks), default=0) // DAY
    return min(MOST_DAYS, FORTNIGHT + latest + math.ceil(work / a_week * 7 * SPARE))


def _tag_work(job: Job, workroom: Workroom, paces: Mapping[str, OwnPace], now: datetime, first: date) -> TagWork:
    kept = job.standing_cache
    shares = {state.step: state.share for state in step_states(JobState(**kept["state"]))}
    state, told = kept["state"], kept["plan"]
    done = {key: shares[row.step] for key, row in TASKS.items()}
    done["cut"] = min(1.0, state["pieces_cut"] / state["pieces"]) if state["pieces"] else 0.0
    done.update({**told["done"], "trim": 1.0 if state["trim_done"] else 0.0})  # what is chosen only is not done
    minutes = {}
    for key, row in TASKS.items():
        own = paces.get(row.step)
        minutes[key] = told["minutes"][key] * (own.factor if own else 1.0)
    minutes["strip"] += at_pace(kept["minutes"], "strip", workroom.pace) - kept["minutes"]["strip"]
    due = None
    if job.due is not None:
        due = ((job.due - first).days + 1) * DAY
    left = tasks_left(minutes, done, waits=told["waits"], held=_held(job, now, first))
    return TagWork(job.number, job.name, left, due)


def _held(job: Job, now: datetime, first: date) -> dict[str, Held]:
    found: dict[str, Held] = {}
    for wait in job.waits.all():
        until = timezone.localtime(wait.until)
        if until <= now:
            continue
        quarter = quarter_of(until.replace(tzinfo=None), first, up=True)
        for task in WAIT_HOLDS.get(wait.step, ()):
            if task not in found or found[task].until < quarter:
                found[task] = Held(quarter, wait.words)
    return found


def _pins(first: date, jobs: Mapping[int, Job], now: datetime) -> tuple[Pin, ...]:
    rows = SpellPin.objects.filter(job__number__in=list(jobs), begins__gte=now).select_related("job", "user")
    return tuple(
        Pin(
            SpellKey(row.job.number, row.task, row.from_last),
            row.user.get_username(),
            quarter_of(timezone.localtime(row.begins).replace(tzinfo=None), first),
        )
        for row in rows
    )


def plan_in_hand(asked: Asked, now: datetime) -> FortnightPlan:
    """Return the plan that holds; where something has changed since, a quick one, and a better one is sought by the
    worker.
    """
    from zonatome.web.fortnight.tasks import plan_fortnight  # noqa: PLC0415 the task itself asks these services

    newest = FortnightPlan.objects.first()
    if newest is not None and newest.fingerprint == asked.fingerprint and not _is_behind(newest, asked, now):
        return newest
    begins = spells_before(asked.first)
    quick = quick_plan(replace(asked.request, before=begins))
    with transaction.atomic():
        row = FortnightPlan.objects.create(
            first=asked.first,
            fingerprint=asked.fingerprint,
            request=write_plan_request(asked.request),
            spells=write_spells(quick.spells),
            said=write_plan(quick),
            made_at=timezone.now(),
        )
        old = list(FortnightPlan.objects.values_list("pk", flat=True)[KEPT:])
        FortnightPlan.objects.filter(pk__in=old).delete()
    plan_fortnight.enqueue(row.pk)
    return row


def _is_behind(row: FortnightPlan, asked: Asked, now: datetime) -> bool:
    """Whether a spell should have ended by now, and its work is still to be done."""
    at = quarter_of(now.replace(tzinfo=None), asked.first)
    return row.state == "done" and any(spell.ends + BEHIND <= at for spell in spells_in(row))


def spells_in(row: FortnightPlan, first: date | None = None) -> tuple[Spell, ...]:
    """Return the spells of a plan, counted from another first day where one is given."""
    later = ((first or row.first) - row.first).days * DAY
    return read_spells(row.spells, later=later)


def plan_of(row: FortnightPlan) -> Plan:
    """Return the plan that a row holds."""
    return read_plan(row.said, spells_in(row))


def spells_before(first: date, *, than: int | None = None) -> tuple[Spell, ...]:
    """Return the spells of the newest plan that was thought through, counted from this day; none where there is none.
    `than` names the plan before which it was made.
    """
    rows = FortnightPlan.objects.filter(state="done")
    row = (rows.filter(pk__lt=than) if than else rows).first()
    return spells_in(row, first) if row is not None else ()


def baseline_of(row: FortnightPlan) -> FortnightPlan | None:
    """Return the plan with which another is compared: the last one of an earlier day, else the one before."""
    done = FortnightPlan.objects.filter(state="done", pk__lt=row.pk)
    return done.filter(first__lt=row.first).first() or done.first()


def pin_spell(asked: Asked, key: SpellKey, person: Person, begins: datetime) -> None:
    """Pin a spell to somebody and a time. Raises BadInput with why it can't be there."""
    pin = Pin(key, person.name, quarter_of(begins, asked.first))
    others = tuple(p for p in asked.request.pins if p.key != key)
    why = pin_fault(replace(asked.request, pins=others), pin)
    if why:
        raise BadInput("begins", f"{begins:%a %-d %b %H:%M}", "a time at which it can be done", words=why)
    SpellPin.objects.update_or_create(
        job=asked.jobs[key.tag],
        task=key.task,
        from_last=key.from_last,
        defaults={"user": person.user, "begins": timezone.make_aware(moment_of(pin.begins, asked.first))},
    )


def unpin(key: SpellKey) -> bool:
    """Take a pin out; return whether there was one."""
    gone, _ = SpellPin.objects.filter(job__number=key.tag, task=key.task, from_last=key.from_last).delete()
    return bool(gone)


def found_in(asked: Asked, key: SpellKey) -> dict[str, Any] | None:
    """Return the tag and the pin of a spell that is to be done; None where there is none."""
    tag = next((tag for tag in asked.request.tags if tag.number == key.tag), None)
    task = next((task for task in tag.tasks if task.key == key.task), None) if tag else None
    if tag is None or task is None or not 1 <= key.from_last <= len(task.spells):
        return None
    pin = next((pin for pin in asked.request.pins if pin.key == key), None)
    lengths = task.spells
    return {"tag": tag, "task": task, "quarters": lengths[len(lengths) - key.from_last], "pin": pin}
