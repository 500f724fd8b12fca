"""Whether a spell can be put where a hand wants it, and why not."""

from __future__ import annotations

from zonatome.core.shop.plan.bound import earliest_starts
from zonatome.core.shop.plan.request import Pin, PlanRequest, Task, spell_keys
from zonatome.core.shop.plan.tasks import TASKS


def pin_fault(request: PlanRequest, pin: Pin) -> str:
    """Return in words why a spell can't be pinned there; empty where it can.

    Looked at: whether that one does it and is there for so long, what it waits for, what must come before it of the
    same tag, pins that stand there. What other tags do there gives way.
    """
    found = _task_of(request, pin)
    if found is None:
        return "There is no such work left."
    task, long = found
    worker = next((one for one in request.workers if one.name == pin.worker), None)
    if worker is None or task.key not in worker.skills:
        return f"{pin.worker} does not {TASKS[task.key].words}."
    if not any(begin <= pin.begins and pin.begins + long <= end for begin, end in worker.windows):
        return f"{pin.worker} is not there for so long then."
    if pin.begins < task.not_before:
        return f"Not before {task.waits_for or 'what it waits for'} is over."
    if pin.begins < _earliest(request, pin):
        return "What must come before it can’t be done by then."
    return _in_the_way(request, pin, task, long)


def _task_of(request: PlanRequest, pin: Pin) -> tuple[Task, int] | None:
    for tag in request.tags:
        if tag.number == pin.key.tag:
            return next(((task, long) for key, task, long in spell_keys(tag) if key == pin.key), None)
    return None


def _earliest(request: PlanRequest, pin: Pin) -> int:
    """The first quarter at which a spell could begin if all hands did nothing else."""
    tag = next(tag for tag in request.tags if tag.number == pin.key.tag)
    return (earliest_starts(request, tag) or {}).get(pin.key, request.horizon)


def _in_the_way(request: PlanRequest, pin: Pin, task: Task, long: int) -> str:
    at_machine = 0
    for other in request.pins:
        found = _task_of(request, other)
        if other.key == pin.key or found is None:
            continue
        theirs, length = found
        if other.begins >= pin.begins + long or pin.begins >= other.begins + length:
            continue
        if other.worker == pin.worker:
            return f"{other.key.tag} is pinned there for {other.worker}."
        at_machine += bool(task.machine) and theirs.machine == task.machine
    if task.machine and at_machine >= request.machines.get(task.machine, 0):
        return f"The {task.machine} is taken then by what is pinned there."
    return ""
