"""The fortnight by constraint programming (CP-SAT): first as little late as can be, then early where it is due first,
and as it was before.

Every spell is a piece of time of whole quarters. A task is seen through by one who can do it, within their hours; a
machine serves one task at a time; what must come before stands before, with the wait between. The least lateness in
sum is sought first, with the due order as a beginning, so that no plan is later than that; then, no later, the times at
which tags are ready, and spells that stand on another day or with somebody else than before. Source: the
job-shop model of OR-tools' documentation, with optional intervals for who does it.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from zonatome.core.shop.plan.bound import least_late
from zonatome.core.shop.plan.due_order import best_order, by_due
from zonatome.core.shop.plan.request import (
    DAY,
    Plan,
    PlanRequest,
    Spell,
    SpellKey,
    TagWork,
    Task,
    Worker,
    late_of,
    spell_keys,
)

LEAST_SECONDS = 0.2  # of each of the two searches
ORDERS_SHARE = 0.25  # of the time, to try orders of tags
FIRST_SHARE = 0.65  # of what is left, for the least lateness
PINS_SECONDS = 10  # for a plan of any kind that keeps the pins, before one of them is loosened for want of time
FIRST_DUE_WEIGHS = 10  # a quarter of the tag that is due first; of the last one 1
MOVED_WEIGHS = 40  # what it takes to move a spell to another day: one hour of the tag that is due first
ELSEWHERE_WEIGHS = 80  # the same, to have somebody else do a task


@dataclass
class _Model:
    """The model of a request, and its variables by what they stand for."""

    cp: Any
    model: Any
    request: PlanRequest
    starts: dict[SpellKey, Any] = field(default_factory=dict)
    lengths: dict[SpellKey, int] = field(default_factory=dict)
    does: dict[tuple[int, str], dict[str, Any]] = field(default_factory=dict)
    ready: dict[int, Any] = field(default_factory=dict)
    late: dict[int, Any] = field(default_factory=dict)


def plan(
    request: PlanRequest, *, seconds: float = 2.0, seed: int = 1, stopped: Callable[[], bool] = lambda: False
) -> Plan:
    """Return the plan of a request, the least late that is found within `seconds`.

    Tags that nobody has the skill or the time for are left out and named; pins that can't be kept together are
    loosened, the last ones first.
    """
    began = time.monotonic()
    request, left_out = _doable(request)
    request, hint = _fitting(request, left_out)
    loosened: list[Any] = []
    while True:
        made = _solved(request, hint, max(LEAST_SECONDS, seconds - (time.monotonic() - began)), seed, stopped)
        if made is not None or not request.pins:
            break
        loosened.append(request.pins[-1])
        request = replace(request, pins=request.pins[:-1])
        request, hint = _fitting(request, left_out)
    spells, bound = made if made is not None else (hint or [], 0)
    spells.sort(key=lambda s: (s.begins, s.worker))
    late = late_of(request.tags, spells)
    return Plan(tuple(spells), late, min(bound, sum(late.values())), left_out, tuple(loosened))


def quick_plan(request: PlanRequest) -> Plan:
    """Return the plan of the better of three orders, at once, without a search."""
    request, left_out = _doable(request)
    request, hint = _fitting(request, left_out)
    loosened: list[Any] = []
    while hint is None and request.pins:
        loosened.append(request.pins[-1])
        request = replace(request, pins=request.pins[:-1])
        request, hint = _fitting(request, left_out)
    spells = sorted(hint or [], key=lambda s: (s.begins, s.worker))
    return Plan(tuple(spells), late_of(request.tags, spells), 0, left_out, tuple(loosened))


def _doable(request: PlanRequest) -> tuple[PlanRequest, dict[int, str]]:
    """Leave out tags with a task for which nobody, or no machine, is there at all."""
    left_out: dict[int, str] = {}
    for tag in request.tags:
        for task in tag.tasks:
            long = max(task.spells)
            able = request.able(task)
            if not able:
                left_out[tag.number] = f"nobody does {task.key}"
            elif task.machine and not request.machines.get(task.machine):
                left_out[tag.number] = f"no {task.machine} for {task.key}"
            elif not any(end - max(begin, task.not_before) >= long for w in able for begin, end in w.windows):
                left_out[tag.number] = f"no spell long enough for {task.key}"
    return _without(request, left_out), left_out


def _fitting(request: PlanRequest, left_out: dict[int, str]) -> tuple[PlanRequest, list[Spell] | None]:
    """Leave out the tags that are due last until the rest fits into the time there is; adds them to `left_out`."""
    hint = best_order(request)
    if hint is not None or request.pins:
        return request, hint
    while request.tags:
        last = max(request.tags, key=lambda t: (t.due is None, t.due or 0, t.number))
        left_out[last.number] = "no time left for it"
        request = _without(request, {last.number: ""})
        hint = best_order(request)
        if hint is not None:
            break
    return request, hint


def _without(request: PlanRequest, numbers: dict[int, str]) -> PlanRequest:
    keys = {key for tag in request.tags if tag.number not in numbers for key, _, _ in spell_keys(tag)}
    return replace(
        request,
        tags=tuple(tag for tag in request.tags if tag.number not in numbers),
        pins=tuple(pin for pin in request.pins if pin.key in keys),
        before=tuple(spell for spell in request.before if spell.key in keys),
    )


def _solved(
    request: PlanRequest, hint: list[Spell] | None, seconds: float, seed: int, stopped: Callable[[], bool]
) -> tuple[list[Spell], int] | None:
    """Search twice: for the least lateness, then for an early plan that moves little; None where nothing is found."""
    if not request.tags:
        return [], 0
    if stopped():
        return (hint, 0) if hint is not None else None
    until, least = time.monotonic() + seconds, least_late(request)
    if hint is not None:
        hint = best_order(request, seconds=seconds * ORDERS_SHARE, least=least, seed=seed)
    made = _model(request)
    best, bound = _least_late(made, hint, least, (until - time.monotonic()) * FIRST_SHARE, seed)
    if best is None:
        return None
    _hint(made, best)
    if made.late:
        made.model.add(sum(made.late.values()) <= sum(late_of(request.tags, best).values()))
    made.model.minimize(_readiness(made) + _moved(made))
    if stopped():
        return best, bound
    solver = _solver(made, until - time.monotonic(), seed)
    if solver.solve(made.model) in (made.cp.OPTIMAL, made.cp.FEASIBLE):
        best = _read(made, solver)
    return best, bound


def _least_late(
    made: _Model, hint: list[Spell] | None, least: int, seconds: float, seed: int
) -> tuple[list[Spell] | None, int]:
    """The least late of `hint` and what is found, None where nothing is; and what no plan comes below."""
    if made.late:
        made.model.minimize(sum(made.late.values()))
    _hint(made, hint)
    solver, bound = _solver(made, seconds, seed), 0
    status = solver.solve(made.model, _until(made, least))
    if status in (made.cp.OPTIMAL, made.cp.FEASIBLE) and made.late:
        bound = max(least, round(solver.best_objective_bound))
    elif status == made.cp.UNKNOWN:
        bound = least
        if hint is None:  # no time was left: whether any plan keeps the pins is asked for longer
            made.model.clear_objective()
            solver = _solver(made, PINS_SECONDS, seed)
            solver.parameters.stop_after_first_solution = True
            status = solver.solve(made.model)
    found = [_read(made, solver)] if status in (made.cp.OPTIMAL, made.cp.FEASIBLE) else []
    if hint is not None:
        found.append(hint)
    return min(found, key=lambda spells: sum(late_of(made.request.tags, spells).values()), default=None), bound


def _until(made: _Model, least: int) -> Any:
    """End a search at what can't be bettered."""

    class AtTheBound(made.cp.CpSolverSolutionCallback):  # type: ignore[misc, name-defined]
        def on_solution_callback(self) -> None:
            if self.objective_value <= least:
                self.stop_search()

    return AtTheBound()


def _solver(made: _Model, seconds: float, seed: int) -> Any:
    solver = made.cp.CpSolver()
    solver.parameters.max_time_in_seconds = max(LEAST_SECONDS, seconds)
    solver.parameters.num_workers = 2
    solver.parameters.random_seed = seed
    solver.parameters.cp_model_presolve = False  # hours full of nights and breaks: it would take all the time there is
    solver.parameters.linearization_level = 0
    return solver


def _model(request: PlanRequest) -> _Model:
    from ortools.sat.python import cp_model  # noqa: PLC0415 a heavy library: only where it plans

    made = _Model(cp_model, cp_model.CpModel(), request)
    model = made.model
    on_worker: dict[str, list[Any]] = {worker.name: [] for worker in request.workers}
    on_machine: dict[str, list[Any]] = {}
    pins = {pin.key: pin for pin in request.pins}
    for tag in request.tags:
        ended: dict[str, Any] = {}
        for task in tag.tasks:
            ended[task.key] = _add_task(made, tag, task, ended, on_worker, on_machine)
        made.ready[tag.number] = model.new_int_var(0, request.horizon, "")
        for end in ended.values():
            model.add(made.ready[tag.number] >= end)
        if tag.due is not None:
            made.late[tag.number] = model.new_int_var(0, max(0, request.horizon - tag.due), "")
            model.add(made.late[tag.number] >= made.ready[tag.number] - tag.due)
    for intervals in on_worker.values():
        model.add_no_overlap(intervals)
    everyone = [model.new_fixed_size_interval_var(start, made.lengths[key], "") for key, start in made.starts.items()]
    model.add_cumulative(everyone, [1] * len(everyone), len(request.workers))  # says nothing new, and finds more
    for machine, intervals in on_machine.items():
        count = request.machines.get(machine, 0)
        if count == 1:
            model.add_no_overlap(intervals)
        else:
            model.add_cumulative(intervals, [1] * len(intervals), count)
    for key, pin in pins.items():
        if key in made.starts:
            model.add(made.starts[key] == pin.begins)
            who = made.does[key.tag, key.task].get(pin.worker)
            model.add_bool_or([who] if who is not None else [])
    return made


def _add_task(
    made: _Model,
    tag: TagWork,
    task: Task,
    ended: dict[str, Any],
    on_worker: dict[str, list[Any]],
    on_machine: dict[str, list[Any]],
) -> Any:
    """Add a task's spells, who does it, what it comes after; return when it ends."""
    model, able = made.model, made.request.able(task)
    does = {w.name: model.new_bool_var("") for w in able}
    made.does[tag.number, task.key] = does
    model.add_exactly_one(does.values())
    end_before: Any = None
    lengths = task.spells
    for n, long in enumerate(lengths):
        key = SpellKey(tag.number, task.key, len(lengths) - n)
        domains = {w.name: _domain(made.cp, w, long) for w in able}
        anyone = domains[able[0].name]
        for domain in domains.values():
            anyone = anyone.union_with(domain)
        start = made.starts[key] = model.new_int_var_from_domain(anyone, "")
        made.lengths[key] = long
        model.add(start >= task.not_before)
        if end_before is not None:
            model.add(start >= end_before)
        else:
            for other, wait in task.after:
                model.add(start >= ended[other] + wait)
        end_before = start + long
        for worker in able:
            mine = does[worker.name]
            if len(able) > 1 and domains[worker.name].flattened_intervals() != anyone.flattened_intervals():
                model.add_linear_expression_in_domain(start, domains[worker.name]).only_enforce_if(mine)
            on_worker[worker.name].append(model.new_optional_fixed_size_interval_var(start, long, mine, ""))
        if task.machine:
            on_machine.setdefault(task.machine, []).append(model.new_fixed_size_interval_var(start, long, ""))
    return end_before


def _domain(cp: Any, worker: Worker, long: int) -> Any:
    return cp.Domain.from_intervals([[begin, end - long] for begin, end in worker.windows if end - begin >= long])


def _readiness(made: _Model) -> Any:
    """The quarters at which tags are ready, those due first weighing most: room helps when something slips."""
    order = by_due(made.request.tags)
    last = len(order) - 1 or 1
    weights = {tag.number: 1 + round((FIRST_DUE_WEIGHS - 1) * (last - n) / last) for n, tag in enumerate(order)}
    return sum(weights[number] * ready for number, ready in made.ready.items())


def _moved(made: _Model) -> Any:
    """What it weighs that spells stand on another day, or a task with somebody else, than before."""
    weighs: list[Any] = []
    seen: set[tuple[int, str]] = set()
    for spell in made.request.before:
        start = made.starts.get(spell.key)
        if start is None:
            continue
        day = spell.begins - spell.begins % DAY
        stays = made.model.new_bool_var("")
        made.model.add_linear_constraint(start, day, day + DAY - 1).only_enforce_if(stays)
        weighs.append(MOVED_WEIGHS * (1 - stays))
        task = (spell.key.tag, spell.key.task)
        mine = made.does[task].get(spell.worker)
        if task not in seen and mine is not None:
            seen.add(task)
            weighs.append(ELSEWHERE_WEIGHS * (1 - mine))
    return sum(weighs)


def _hint(made: _Model, spells: Sequence[Spell] | None) -> None:
    made.model.clear_hints()
    if spells is None:
        return
    for spell in spells:
        made.model.add_hint(made.starts[spell.key], spell.begins)
    said: set[tuple[int, str]] = set()
    for spell in spells:
        task = (spell.key.tag, spell.key.task)
        if task not in said:
            said.add(task)
            for name, mine in made.does[task].items():
                made.model.add_hint(mine, name == spell.worker)
    late = late_of(made.request.tags, spells)
    for tag in made.request.tags:
        ready = max(s.ends for s in spells if s.key.tag == tag.number) if tag.tasks else 0
        made.model.add_hint(made.ready[tag.number], ready)
        if tag.number in made.late:
            made.model.add_hint(made.late[tag.number], late.get(tag.number, 0))


def _read(made: _Model, solver: Any) -> list[Spell]:
    found = []
    for key, start in made.starts.items():
        at = int(solver.value(start))
        who = next(n for n, mine in made.does[key.tag, key.task].items() if solver.boolean_value(mine))
        found.append(Spell(key, who, at, at + made.lengths[key]))
    return found
