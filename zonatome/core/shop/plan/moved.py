"""What stands elsewhere in a plan than in the one before, and why."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import date

from zonatome.core.shop.plan.hours import moment_of
from zonatome.core.shop.plan.request import DAY, PlanRequest, Spell, TagWork, Task
from zonatome.core.shop.plan.tasks import TASKS

FOLLOWS = ("to make room", "since it fits", "as ")  # how reasons begin of what only gave way or followed


@dataclass(frozen=True)
class Moved:
    """A task of a tag that begins on another day, or that somebody else does; why, in words."""

    tag: int
    name: str
    task: str
    day_before: date
    day: date
    worker_before: str
    worker: str
    why: str

    @property
    def words(self) -> str:
        """It as a sentence."""
        what = f"{self.tag}: {TASKS[self.task].words}"
        if self.day != self.day_before:
            return f"{what} moved from {self.day_before:%a %-d} to {self.day:%a %-d %b}, {self.why}."
        return f"{what} goes from {self.worker_before} to {self.worker}, {self.why}."


def moved(
    was: PlanRequest, spells_before: Iterable[Spell], now: PlanRequest, spells: Iterable[Spell], *, first: date
) -> list[Moved]:
    """Return what moved between two plans whose quarters are counted from the same first day: first what has a cause of
    its own, then what gave way or followed, each the earliest first.

    Why is looked for near at hand first: a pin, the tag's own due date, what it waits for or how much is left of it,
    then who is there; else whoever stands now where it stood.
    """
    spells = list(spells)
    began, begins = _first_spells(spells_before), _first_spells(spells)
    tags_before, tags = {t.number: t for t in was.tags}, {t.number: t for t in now.tags}
    pinned = {(pin.key.tag, pin.key.task) for pin in now.pins} - {(pin.key.tag, pin.key.task) for pin in was.pins}
    found = []
    for key, spell in sorted(begins.items(), key=lambda one: one[1].begins):
        old = began.get(key)
        number, task = key
        if old is None or number not in tags_before:
            continue
        if old.begins // DAY == spell.begins // DAY and old.worker == spell.worker:
            continue
        why = (
            "where you put it"
            if key in pinned
            else _own_reason(tags_before[number], tags[number], task)
            or _who_is_there(was, now, old)
            or _what_comes_before(tags[number], task, began, begins)
            or _in_its_place(old, spells, number)
        )
        days = moment_of(old.begins, first).date(), moment_of(spell.begins, first).date()
        found.append(Moved(number, tags[number].name, task, *days, old.worker, spell.worker, why))
    return sorted(found, key=lambda one: one.why.startswith(FOLLOWS))


def counted_later(request: PlanRequest, days: int) -> PlanRequest:
    """Return a request whose quarters are counted from so many days later: what it says stays where it was."""
    by = days * DAY

    def later(task: Task) -> Task:
        return replace(task, not_before=task.not_before - by) if task.not_before else task

    return replace(
        request,
        tags=tuple(
            replace(t, due=None if t.due is None else t.due - by, tasks=tuple(map(later, t.tasks)))
            for t in request.tags
        ),
        workers=tuple(
            replace(w, windows=tuple((begin - by, end - by) for begin, end in w.windows)) for w in request.workers
        ),
        pins=tuple(replace(pin, begins=pin.begins - by) for pin in request.pins),
    )


def _first_spells(spells: Iterable[Spell]) -> dict[tuple[int, str], Spell]:
    found: dict[tuple[int, str], Spell] = {}
    for spell in sorted(spells, key=lambda s: s.begins, reverse=True):
        found[spell.key.tag, spell.key.task] = spell
    return found


def _own_reason(before: TagWork, now: TagWork, task: str) -> str:
    if before.due != now.due:
        return "because its due date is another one" if now.due is not None else "because it has no date any more"
    old, new = ({t.key: t for t in tag.tasks} for tag in (before, now))
    for key in _upstream(now, task):
        if key in old and key in new and old[key].not_before != new[key].not_before:
            later = new[key].not_before > old[key].not_before
            what = new[key].waits_for or old[key].waits_for or "what it waits for"
            return f"because {what} {'takes longer' if later else 'is over sooner'}"
    for key in _upstream(now, task):
        more = new[key].quarters - old[key].quarters if key in old and key in new else 0
        if more > 1:
            return f"because there is more to {TASKS[key].words} than before"
    return ""


def _upstream(tag: TagWork, task: str) -> list[str]:
    """The task and all that come before it, nearest first."""
    before: Mapping[str, tuple[str, ...]] = {t.key: tuple(key for key, _ in t.after) for t in tag.tasks}
    found, left = [], [task]
    while left:
        key = left.pop(0)
        if key not in found and key in before:
            found.append(key)
            left += before[key]
    return found


def _what_comes_before(
    tag: TagWork, task: str, began: Mapping[tuple[int, str], Spell], begins: Mapping[tuple[int, str], Spell]
) -> str:
    """A task that must come before it and moved to a later day, or an earlier one, as it did."""
    own = (tag.number, task)
    shift = begins[own].begins // DAY - began[own].begins // DAY
    for key in _upstream(tag, task)[1:]:
        other = (tag.number, key)
        moved_by = begins[other].begins // DAY - began[other].begins // DAY if other in began else 0
        if shift and moved_by * shift > 0:
            return f"as {TASKS[key].words} did, which comes before it"
    return ""


def _who_is_there(was: PlanRequest, now: PlanRequest, old: Spell) -> str:
    there = next((w for w in now.workers if w.name == old.worker), None)
    if there is None:
        return f"because {old.worker} is not here"
    if not any(begin <= old.begins and old.ends <= end for begin, end in there.windows):
        return f"because {old.worker} is not there then"
    if {w.name for w in now.workers} - {w.name for w in was.workers}:
        return "because there are more hands"
    return ""


def _in_its_place(old: Spell, spells: Iterable[Spell], number: int) -> str:
    there = [s for s in spells if s.worker == old.worker and s.begins < old.ends and old.begins < s.ends]
    others = sorted({s.key.tag for s in there if s.key.tag != number})
    return f"to make room for {others[0]}" if others else "since it fits better there"
