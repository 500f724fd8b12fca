"""What is to be planned and what a plan is: tags with their tasks, people with their hours, machines, in quarters of an
hour from midnight of the first day.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

from zonatome.core.errors import BadInput

QUARTER = 15  # minutes: the grain of the plan
DAY = 24 * 60 // QUARTER  # quarters
LONGEST_SPELL = 5  # quarters at one thing before one gets up; three of them fill a morning or an afternoon
MOST_DAYS = 120


@dataclass(frozen=True)
class Worker:
    """Somebody at the bench: when, as windows of quarters from and to in their order, and which tasks they can do."""

    name: str
    windows: tuple[tuple[int, int], ...]
    skills: frozenset[str]

    @property
    def quarters(self) -> int:
        """How many quarters of an hour this one is at the bench in all."""
        return sum(end - begin for begin, end in self.windows)


@dataclass(frozen=True)
class Task:
    """A tag's work of one sort that is left: quarters of it, which machine it takes.

    `after` are the tasks that must be ended so many quarters before; `not_before` is when it can begin at all, and
    `waits_for` what it then waits for.
    """

    key: str
    quarters: int
    machine: str = ""
    after: tuple[tuple[str, int], ...] = ()
    not_before: int = 0
    waits_for: str = ""

    @property
    def spells(self) -> tuple[int, ...]:
        """Its spells in quarters, none longer than LONGEST_SPELL, as alike as can be; the longer ones last.

        >>> Task("pad", 14).spells
        (4, 5, 5)
        """
        count = max(1, -(-self.quarters // LONGEST_SPELL))
        short, more = divmod(self.quarters, count)
        return tuple([short] * (count - more) + [short + 1] * more)


@dataclass(frozen=True)
class TagWork:
    """All that is left to do on a tag, in an order in which it can be done; `due` is the quarter by which it is to be
    ready.
    """

    number: int
    name: str
    tasks: tuple[Task, ...]
    due: int | None = None

    def __post_init__(self) -> None:
        """Refuse tasks of nothing, twice the same, or before what they come after."""
        known: set[str] = set()
        for task in self.tasks:
            if task.quarters < 1:
                raise BadInput(f"{self.number}.{task.key}", task.quarters, "at least a quarter of an hour")
            if task.key in known or any(key not in known for key, _ in task.after):
                raise BadInput(f"{self.number}.{task.key}", task.after, "tasks once each, after those that come before")
            known.add(task.key)


@dataclass(frozen=True, order=True)
class SpellKey:
    """Which spell: of a tag, of a task, counted from its last one, 1, so that it keeps its name while work is done."""

    tag: int
    task: str
    from_last: int


@dataclass(frozen=True)
class Spell:
    """A spell of work: which one, who, from when to when."""

    key: SpellKey
    worker: str
    begins: int
    ends: int


@dataclass(frozen=True)
class Pin:
    """A spell that shall stay where a hand has put it."""

    key: SpellKey
    worker: str
    begins: int


@dataclass(frozen=True)
class PlanRequest:
    """All that a plan is made from. `machines` says how many there are of each; `before` is the plan so far, from which
    as little as possible shall move.
    """

    tags: tuple[TagWork, ...]
    workers: tuple[Worker, ...]
    machines: Mapping[str, int] = field(default_factory=dict)
    pins: tuple[Pin, ...] = ()
    before: tuple[Spell, ...] = ()

    def __post_init__(self) -> None:
        """Refuse a name twice."""
        for what, names in (("tags", [t.number for t in self.tags]), ("workers", [w.name for w in self.workers])):
            if len(set(names)) < len(names):
                raise BadInput(what, names, "each once")

    @property
    def horizon(self) -> int:
        """The quarter after which nobody works."""
        return max((window[1] for worker in self.workers for window in worker.windows), default=0)

    def able(self, task: Task) -> tuple[Worker, ...]:
        """Return who can do a task."""
        return tuple(worker for worker in self.workers if task.key in worker.skills)


@dataclass(frozen=True)
class Plan:
    """Spells in order of time. `late` are the quarters between due and ready, by tag; `bound` is what no order can
    come below in sum; `left_out` are tags for which nobody has the time or the skill, and why; `loosened` are pins that
    could not be kept.
    """

    spells: tuple[Spell, ...]
    late: Mapping[int, int] = field(default_factory=dict)
    bound: int = 0
    left_out: Mapping[int, str] = field(default_factory=dict)
    loosened: tuple[Pin, ...] = ()

    @property
    def late_in_sum(self) -> int:
        """Quarters that all tags together are late."""
        return sum(self.late.values())

    @property
    def is_proven(self) -> bool:
        """Whether no order is less late."""
        return self.late_in_sum <= self.bound


def spell_keys(tag: TagWork) -> list[tuple[SpellKey, Task, int]]:
    """Return the spells of a tag in the order of its tasks, each with its task and its quarters."""
    found = []
    for task in tag.tasks:
        lengths = task.spells
        found += [(SpellKey(tag.number, task.key, len(lengths) - n), task, long) for n, long in enumerate(lengths)]
    return found


def late_of(tags: Iterable[TagWork], spells: Iterable[Spell]) -> dict[int, int]:
    """Return the quarters between due and ready, of the tags that are late."""
    ready: dict[int, int] = {}
    for spell in spells:
        ready[spell.key.tag] = max(ready.get(spell.key.tag, 0), spell.ends)
    return {
        tag.number: ready[tag.number] - tag.due
        for tag in tags
        if tag.due is not None and ready.get(tag.number, 0) > tag.due
    }
