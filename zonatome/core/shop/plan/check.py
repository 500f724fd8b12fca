"""Whether a plan holds: nobody and no machine in two places, no order broken, nothing out of hours or in a wait."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping

from zonatome.core.shop.plan.request import PlanRequest, Spell, SpellKey, Task, spell_keys


def faults_of(request: PlanRequest, spells: Iterable[Spell]) -> list[str]:
    """Return in words what is wrong with spells as a plan of this request; it need not hold all tags, but each whole.

    Works nothing out as the planners do: it counts quarter by quarter.
    """
    by_key: dict[SpellKey, Spell] = {}
    wrong: list[str] = []
    for spell in spells:
        if spell.key in by_key:
            wrong.append(f"{_named(spell.key)} stands twice")
        by_key[spell.key] = spell
    at_work: Counter[tuple[str, int]] = Counter()
    on_machine: Counter[tuple[str, int]] = Counter()
    for tag in request.tags:
        keys = spell_keys(tag)
        if not any(key in by_key for key, _, _ in keys):
            continue
        ended: dict[str, int] = {}
        for key, task, long in keys:
            if key not in by_key:
                wrong.append(f"{_named(key)} is missing")
                continue
            spell = by_key.pop(key)
            wrong += _wrong_with(request, spell, task, long, ended)
            ended[task.key] = spell.ends
            at_work.update((spell.worker, at) for at in range(spell.begins, spell.ends))
            if task.machine:
                on_machine.update((task.machine, at) for at in range(spell.begins, spell.ends))
    wrong += [f"{_named(key)} is no work of this request" for key in by_key]
    wrong += sorted({f"{name} is in two places" for (name, _), times in at_work.items() if times > 1})
    most = request.machines
    wrong += sorted({f"more than one at the {name}" for (name, _), n in on_machine.items() if n > most.get(name, 0)})
    return wrong


def _wrong_with(request: PlanRequest, spell: Spell, task: Task, long: int, ended: Mapping[str, int]) -> list[str]:
    wrong, name = [], _named(spell.key)
    worker = next((one for one in request.workers if one.name == spell.worker), None)
    if spell.ends - spell.begins != long:
        wrong.append(f"{name} takes {long} quarters, not {spell.ends - spell.begins}")
    if worker is None or task.key not in worker.skills:
        wrong.append(f"{spell.worker} does not do {task.key}")
    elif not any(begin <= spell.begins and spell.ends <= end for begin, end in worker.windows):
        wrong.append(f"{name} is out of the hours of {spell.worker}")
    if spell.begins < max([task.not_before, *(ended.get(key, 0) + wait for key, wait in task.after)]):
        wrong.append(f"{name} begins before it can")
    if spell.begins < ended.get(task.key, 0):
        wrong.append(f"{name} begins before the spell before it ends")
    return wrong


def _named(key: SpellKey) -> str:
    return f"{key.tag} {key.task} {key.from_last}"
