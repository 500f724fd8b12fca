"""Today's bench over all open tags: work above, waits that run by themselves below.

A simple order for now: nearest due first, a tag's steps in turn, one pair of hands, no tag twice before
the others had theirs.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime, timedelta

LONGEST_SPELL = 120.0  # minutes at one thing before another tag gets its turn
SHORTEST_SPELL = 10.0


@dataclass(frozen=True)
class OpenTag:
    """A tag with its next move: `minutes` of hands-on work left in that step, and what it waits for until when, if it
    does.
    """

    number: int
    name: str
    step: str
    move: str
    minutes: float
    due: date | None
    waits_until: datetime | None = None
    waits_for: str = ""
    wait_began: datetime | None = None


@dataclass(frozen=True)
class BenchSlot:
    """Work at the bench or a wait, from when to when."""

    number: int
    name: str
    step: str
    words: str
    begins: datetime
    ends: datetime


@dataclass(frozen=True)
class Day:
    """Today's spells of work and waits."""

    work: tuple[BenchSlot, ...]
    waits: tuple[BenchSlot, ...]
    minutes: float


def by_due(tags: tuple[OpenTag, ...]) -> list[OpenTag]:
    """Return the tags nearest due first; those without a date last."""
    return sorted(tags, key=lambda t: (t.due is None, t.due or date.max, t.number))


def plan_day(tags: tuple[OpenTag, ...], *, begins: datetime, ends: datetime) -> Day:
    """Return today's order between two times; a tag that waits is taken up when its wait is over."""
    at, work = begins, []
    queue = by_due(tags)
    while queue and at < ends:
        ready = next((t for t in queue if t.waits_until is None or t.waits_until <= at), None)
        if ready is None:
            freed = min(t.waits_until for t in queue if t.waits_until is not None)
            if freed >= ends:
                break
            at = freed
            continue
        queue.remove(ready)
        spell = timedelta(minutes=min(LONGEST_SPELL, max(SHORTEST_SPELL, ready.minutes)))
        stop = min(at + spell, ends)
        work.append(BenchSlot(ready.number, ready.name, ready.step, ready.move, at, stop))
        at = stop
    waits = tuple(
        BenchSlot(t.number, t.name, t.step, t.waits_for, max(t.wait_began or begins, begins), min(t.waits_until, ends))
        for t in by_due(tags)
        if t.waits_until is not None and t.waits_until > begins and (t.wait_began or begins) < ends
    )
    return Day(tuple(work), waits, sum((s.ends - s.begins).total_seconds() / 60 for s in work))
