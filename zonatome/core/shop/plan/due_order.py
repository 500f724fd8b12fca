"""A plan in a given order of tags, each spell as early as it fits: how one plans by hand, and where the solver begins.

Quarters are bits of whole numbers: who is free, where a machine is free, and where both are for long enough.
"""

from __future__ import annotations

import time
from collections.abc import Iterable, Sequence
from random import Random

from zonatome.core.shop.plan.check import faults_of
from zonatome.core.shop.plan.request import (
    Pin,
    PlanRequest,
    Spell,
    SpellKey,
    TagWork,
    Task,
    Worker,
    late_of,
    spell_keys,
)


def by_due(tags: Iterable[TagWork]) -> list[TagWork]:
    """Return the tags nearest due first; those without a date last."""
    return sorted(tags, key=lambda t: (t.due is None, t.due or 0, t.number))


def in_order(request: PlanRequest, tags: Sequence[TagWork]) -> list[Spell] | None:
    """Return the spells of these tags in this order, each as early as it fits into what is free; None where one fits
    nowhere.

    Pinned spells stand first. Who is free earliest does a task, and sees it through.
    """
    free = {worker.name: sum(_bits(begin, end) for begin, end in worker.windows) for worker in request.workers}
    machines = {name: [_bits(0, request.horizon)] * count for name, count in request.machines.items()}
    pins = {pin.key: pin for pin in request.pins}
    kept: dict[SpellKey, Spell] = {}
    for tag in tags:
        for key, task, long in spell_keys(tag):
            if key in pins and not _reserve(pins[key], task, long, free, machines, kept):
                return None
    made: list[Spell] = []
    for tag in tags:
        ended: dict[str, int] = {}
        for task in tag.tasks:
            ready = max([task.not_before, *(ended[key] + wait for key, wait in task.after)])
            best = _earliest(request, tag.number, task, ready, free, machines, kept)
            if best is None:
                return None
            for spell in best:
                if spell.key not in kept:
                    _take(spell.worker, task, spell.begins, spell.ends, free, machines)
            made += best
            ended[task.key] = best[-1].ends
    return made


def best_order(request: PlanRequest, *, seconds: float = 0.0, least: int = 0, seed: int = 1) -> list[Spell] | None:
    """Return the spells of the least late order of tags that is found; None where none fits.

    It begins with three orders: by due date, by the time to spare, the shortest first; of equal ones the due order.
    Where spells are pinned, also with their tags first, in the order of the pins; if none fits, the plan before, where
    it keeps them.
    Then, for so many seconds or until `least` quarters late in sum, one tag after the other is put to another place of
    the order.
    """
    work = {tag.number: sum(task.quarters for task in tag.tasks) for tag in request.tags}
    never = request.horizon
    orders = [
        by_due(request.tags),
        sorted(request.tags, key=lambda t: ((never if t.due is None else t.due) - 3 * work[t.number], t.number)),
        sorted(request.tags, key=lambda t: (t.due is None, work[t.number], t.number)),
    ]
    pinned = {pin.key.tag: pin.begins for pin in sorted(request.pins, key=lambda pin: -pin.begins)}
    if pinned:
        orders.append(sorted(orders[0], key=lambda t: pinned.get(t.number, never)))
    found = [(order, made) for order in orders if (made := in_order(request, order)) is not None]
    if not found:
        return _before(request)
    order, best = min(found, key=lambda one: _lateness(request, one[1]))
    chance, until, late = Random(seed), time.monotonic() + seconds, _lateness(request, best)
    while late > least and len(order) > 1 and time.monotonic() < until:
        other = list(order)
        other.insert(chance.randrange(len(order)), other.pop(chance.randrange(len(order))))
        made = in_order(request, other)
        if made is not None and _lateness(request, made) <= late:
            order, best, late = other, made, _lateness(request, made)
    return best


def _before(request: PlanRequest) -> list[Spell] | None:
    """The plan before where it still is one of this request, pins and all."""
    stands = {(spell.key, spell.worker, spell.begins) for spell in request.before}
    is_whole = {spell.key for spell in request.before} == {k for tag in request.tags for k, _, _ in spell_keys(tag)}
    if not is_whole or any((pin.key, pin.worker, pin.begins) not in stands for pin in request.pins):
        return None
    return None if faults_of(request, request.before) else list(request.before)


def _lateness(request: PlanRequest, spells: list[Spell]) -> int:
    return sum(late_of(request.tags, spells).values())


def _bits(begin: int, end: int) -> int:
    return ((1 << (end - begin)) - 1) << begin if end > begin else 0


def _first(free: int, ready: int, long: int) -> int | None:
    """The first quarter from `ready` on at which `long` quarters in a row are free."""
    runs = (free >> ready) << ready
    for _ in range(long - 1):
        runs &= runs >> 1
        if not runs:
            return None
    return (runs & -runs).bit_length() - 1 if runs else None


def _earliest(
    request: PlanRequest,
    tag: int,
    task: Task,
    ready: int,
    free: dict[str, int],
    machines: dict[str, list[int]],
    kept: dict[SpellKey, Spell],
) -> list[Spell] | None:
    pinned = {spell.worker for key, spell in kept.items() if (key.tag, key.task) == (tag, task.key)}
    if len(pinned) > 1:
        return None
    found: list[list[Spell]] = []
    for worker in request.able(task):
        if not pinned or worker.name in pinned:
            made = _seen_through(worker, tag, task, ready, free[worker.name], machines, kept)
            if made is not None:
                found.append(made)
    return min(found, key=lambda made: made[-1].ends, default=None)


def _seen_through(
    worker: Worker,
    tag: int,
    task: Task,
    ready: int,
    free: int,
    machines: dict[str, list[int]],
    kept: dict[SpellKey, Spell],
) -> list[Spell] | None:
    made: list[Spell] = []
    lengths = task.spells
    for n, long in enumerate(lengths):
        key = SpellKey(tag, task.key, len(lengths) - n)
        there = kept.get(key)
        if there is not None:
            if there.begins < ready:
                return None
            spell = there
        else:
            open_at = [free & machine for machine in machines.get(task.machine, ())] if task.machine else [free]
            starts = [at for at in (_first(one, ready, long) for one in open_at) if at is not None]
            if not starts:
                return None
            spell = Spell(key, worker.name, min(starts), min(starts) + long)
            free &= ~_bits(spell.begins, spell.ends)
        made.append(spell)
        ready = spell.ends
    return made


def _take(worker: str, task: Task, begin: int, end: int, free: dict[str, int], machines: dict[str, list[int]]) -> bool:
    bits = _bits(begin, end)
    if free[worker] & bits != bits:
        return False
    if task.machine:
        rows = machines.get(task.machine, [])
        place = next((n for n, row in enumerate(rows) if row & bits == bits), None)
        if place is None:
            return False
        rows[place] &= ~bits
    free[worker] &= ~bits
    return True


def _reserve(
    pin: Pin,
    task: Task,
    long: int,
    free: dict[str, int],
    machines: dict[str, list[int]],
    kept: dict[SpellKey, Spell],
) -> bool:
    if pin.worker not in free or not _take(pin.worker, task, pin.begins, pin.begins + long, free, machines):
        return False
    kept[pin.key] = Spell(pin.key, pin.worker, pin.begins, pin.begins + long)
    return True
