"""A plan and what it was made from as plain values, as the store keeps them: `zonatome.plan`, version 1."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from zonatome.core.formats import reading
from zonatome.core.shop.plan.request import (
    DAY,
    MOST_DAYS,
    Pin,
    Plan,
    PlanRequest,
    Spell,
    SpellKey,
    TagWork,
    Task,
    Worker,
)

FORMAT = "zonatome.plan"
LAST = MOST_DAYS * DAY


def write_plan_request(request: PlanRequest) -> dict[str, Any]:
    """Return a request as plain values; the plan before stands in its own row and is left out."""
    return {
        "format": FORMAT,
        "version": 1,
        "tags": [
            {
                "number": tag.number,
                "name": tag.name,
                "due": tag.due,
                "tasks": [
                    [t.key, t.quarters, t.machine, [list(a) for a in t.after], t.not_before, t.waits_for]
                    for t in tag.tasks
                ],
            }
            for tag in request.tags
        ],
        "workers": [[w.name, [list(window) for window in w.windows], sorted(w.skills)] for w in request.workers],
        "machines": dict(request.machines),
        "pins": [[*_key(pin.key), pin.worker, pin.begins] for pin in request.pins],
    }


def read_plan_request(data: object, *, before: tuple[Spell, ...] = ()) -> PlanRequest:
    """Return a request from plain values. Raises BadInput, naming what is wrong."""
    told = reading.table(data, "plan")
    reading.check_format(told, FORMAT)
    return PlanRequest(
        tuple(_tag(row, f"tags[{n}]") for n, row in enumerate(reading.listed(told.get("tags"), "tags", most=2000))),
        tuple(
            _worker(row, f"workers[{n}]")
            for n, row in enumerate(reading.listed(told.get("workers"), "workers", most=60))
        ),
        {
            reading.text(name, "machines", most=40): reading.whole(count, f"machines.{name}", least=0, most=60)
            for name, count in reading.table(told.get("machines"), "machines").items()
        },
        tuple(_pin(row, f"pins[{n}]") for n, row in enumerate(reading.listed(told.get("pins"), "pins"))),
        before,
    )


def write_spells(spells: tuple[Spell, ...]) -> list[list[Any]]:
    """Return spells as plain rows: tag, task, from its last one, who, from, to."""
    return [[*_key(spell.key), spell.worker, spell.begins, spell.ends] for spell in spells]


def read_spells(data: object, *, later: int = 0) -> tuple[Spell, ...]:
    """Return spells from plain rows, counted from so many quarters later. Raises BadInput, naming what is wrong."""
    found = []
    for n, row in enumerate(reading.listed(data, "spells", most=20_000)):
        told = reading.listed(row, f"spells[{n}]", least=6, most=6)
        begins, ends = (reading.whole(told[k], f"spells[{n}][{k}]", least=-LAST, most=LAST) for k in (4, 5))
        found.append(
            Spell(_read_key(told, f"spells[{n}]"), _name(told[3], f"spells[{n}]"), begins - later, ends - later)
        )
    return tuple(found)


def write_plan(plan: Plan) -> dict[str, Any]:
    """Return what is said of a plan beside its spells."""
    return {
        "late": {str(number): late for number, late in plan.late.items()},
        "bound": plan.bound,
        "left_out": {str(number): why for number, why in plan.left_out.items()},
        "loosened": [[*_key(pin.key), pin.worker, pin.begins] for pin in plan.loosened],
    }


def read_plan(data: Mapping[str, Any], spells: tuple[Spell, ...]) -> Plan:
    """Return a plan from its spells and what is said of it. Raises BadInput, naming what is wrong."""
    late, left_out = (reading.table(data.get(key), key) for key in ("late", "left_out"))
    return Plan(
        spells,
        {int(number): reading.whole(many, "late", least=0, most=LAST) for number, many in late.items()},
        reading.whole(data.get("bound"), "bound", least=0, most=LAST * 2000),
        {int(number): reading.text(why, "left_out", most=120) for number, why in left_out.items()},
        tuple(_pin(row, "loosened") for row in reading.listed(data.get("loosened"), "loosened")),
    )


def _key(key: SpellKey) -> list[Any]:
    return [key.tag, key.task, key.from_last]


def _read_key(row: list[Any], where: str) -> SpellKey:
    return SpellKey(
        reading.whole(row[0], where, least=1, most=10**9),
        reading.text(row[1], where, most=20),
        reading.whole(row[2], where, least=1, most=10_000),
    )


def _name(value: object, where: str) -> str:
    return reading.text(value, where, most=150)


def _word(value: object, where: str) -> str:
    return reading.text(value, where) if value else ""


def _pin(row: object, where: str) -> Pin:
    told = reading.listed(row, where, least=5, most=5)
    return Pin(_read_key(told, where), _name(told[3], where), reading.whole(told[4], where, least=-LAST, most=LAST))


def _tag(row: object, where: str) -> TagWork:
    told = reading.table(row, where)
    due = told.get("due")
    return TagWork(
        reading.whole(told.get("number"), f"{where}.number", least=1, most=10**9),
        reading.text(told.get("name"), f"{where}.name"),
        tuple(_task(one, f"{where}.tasks") for one in reading.listed(told.get("tasks"), f"{where}.tasks", most=40)),
        None if due is None else reading.whole(due, f"{where}.due", least=-(10**7), most=10**7),
    )


def _task(row: object, where: str) -> Task:
    key, quarters, machine, after, not_before, waits_for = reading.listed(row, where, least=6, most=6)
    return Task(
        reading.text(key, where, most=20),
        reading.whole(quarters, where, least=1, most=LAST),
        _word(machine, where),
        tuple((str(k), reading.whole(wait, where, least=0, most=LAST)) for k, wait in reading.listed(after, where)),
        reading.whole(not_before, where, least=0, most=10**7),
        _word(waits_for, where),
    )


def _worker(row: object, where: str) -> Worker:
    name, windows, skills = reading.listed(row, where, least=3, most=3)
    spans = [reading.listed(window, where, least=2, most=2) for window in reading.listed(windows, where)]
    return Worker(
        _name(name, where),
        tuple(
            (reading.whole(a, where, least=0, most=LAST), reading.whole(b, where, least=0, most=LAST)) for a, b in spans
        ),
        frozenset(reading.text(skill, where, most=20) for skill in reading.listed(skills, where, most=40)),
    )
