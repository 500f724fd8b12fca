"""The tasks of a tag: its steps where they differ in what they need. Who can do them, on which machine, after what."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from zonatome.core.errors import BadInput
from zonatome.core.shop.estimate import StepTime
from zonatome.core.shop.plan.request import QUARTER, Task

LEAST_LEFT = 1.0  # minutes: less is nothing to plan
SHORTER = 0.2  # of a quarter: so much more does not take another one


@dataclass(frozen=True)
class TaskSort:
    """A sort of task: its step, what it is called, the machine it takes, which tasks come before it."""

    key: str
    step: str
    words: str
    machine: str = ""
    after: tuple[str, ...] = ()


TABLE, SEWING_MACHINE, COMPRESSOR = "big table", "sewing machine", "compressor"
MACHINES = (TABLE, SEWING_MACHINE, COMPRESSOR)
_ROWS = (
    TaskSort("survey", "survey", "look over"),
    TaskSort("strip", "strip", "strip", after=("survey",)),
    TaskSort("trace", "trace", "trace", after=("strip",)),
    TaskSort("cut", "lay", "cut", TABLE, ("trace",)),
    TaskSort("coats", "finish", "finish the wood", after=("strip",)),
    TaskSort("pad", "pad", "pad", after=("strip",)),
    TaskSort("sew", "fasten", "sew", SEWING_MACHINE, ("cut",)),
    TaskSort("put_on", "fasten", "put on", COMPRESSOR, ("cut", "sew", "pad", "coats")),
    TaskSort("trim", "trim", "trim", after=("put_on", "sew")),
    TaskSort("finish", "finish", "going home", after=("trim", "coats")),
)
TASKS: dict[str, TaskSort] = {row.key: row for row in _ROWS}
AT_THE_MACHINE = ("seam", "seam_metre", "zip", "welt_made", "welt_sewn")  # sorts of work that are sewn
WAIT_HOLDS = {  # which tasks a wait that runs holds up, by the step that began it
    "survey": ("coats", "pad"), "strip": ("coats", "pad"), "lay": ("cut",), "pad": ("put_on",),
    "fasten": ("trim",), "trim": ("finish",), "finish": ("coats", "put_on", "finish"),
}  # fmt: skip


@dataclass(frozen=True)
class Held:
    """Until which quarter a task waits, and what for."""

    until: int
    words: str


def minutes_by_task(times: Iterable[StepTime], *, coats: float = 0.0) -> dict[str, float]:
    """Return the minutes of each task of a whole tag from those of its steps; `coats` are those of the wood, which
    stand in the last step.
    """
    found: dict[str, float] = dict.fromkeys(TASKS, 0.0)
    own_task = {"lay": "cut", "fasten": "put_on"}
    for time in times:
        factor = time.pace.factor if time.pace else 1.0
        sewn = sum(line.minutes for line in time.lines if line.sort.key in AT_THE_MACHINE) * factor
        wood = coats * factor if time.step == "finish" else 0.0
        found["sew"] += sewn
        found["coats"] += wood
        found[own_task.get(time.step, time.step)] += max(0.0, time.minutes - sewn - wood)
    return found


def tasks_left(
    minutes: Mapping[str, float],
    done: Mapping[str, float],
    *,
    waits: Mapping[str, float] | None = None,
    held: Mapping[str, Held] | None = None,
) -> tuple[Task, ...]:
    """Return what is left to plan of a tag, in an order in which it can be done.

    `minutes` of each whole task, `done` the share of it that is done; `waits` are the minutes that run by themselves
    after a task that is still to be done: after `strip` for the glue of a frame, after `pad` and `coats`. `held` says
    what can't begin yet. A task that is done hands on what came before it. Raises BadInput for a task there is not.
    """
    for key in (*minutes, *done, *(waits or {}), *(held or {})):
        if key not in TASKS:
            raise BadInput("task", key, "one of " + ", ".join(TASKS))
    left: dict[str, Task] = {}
    before: dict[str, dict[str, int]] = {}  # of each task: which of those left must be ended how many quarters before
    for sort in TASKS.values():
        own = minutes.get(sort.key, 0.0) * (1 - done.get(sort.key, 0.0))
        first: dict[str, int] = {}
        for key in sort.after:
            handed = {key: _wait(key, sort.key, waits or {})} if key in left else before[key]
            for name, wait in handed.items():
                first[name] = max(first.get(name, 0), wait)
        before[sort.key] = first
        if own < LEAST_LEFT:
            continue
        hold = (held or {}).get(sort.key)
        left[sort.key] = Task(
            sort.key,
            max(1, math.ceil(own / QUARTER - SHORTER)),
            sort.machine,
            tuple(first.items()),
            hold.until if hold else 0,
            hold.words if hold else "",
        )
    return tuple(left.values())


def _wait(key: str, onward: str, waits: Mapping[str, float]) -> int:
    if key == "strip" and onward not in WAIT_HOLDS["strip"]:
        return 0
    return math.ceil(waits.get(key, 0.0) / QUARTER)
