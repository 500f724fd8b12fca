"""The smallest change with which a tag that is late would be in time: an hour more, a Saturday, another pair of hands,
a later date.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from zonatome.core.shop.plan.due_order import best_order
from zonatome.core.shop.plan.request import DAY, Plan, PlanRequest, TagWork, Worker, late_of

HOUR = 4  # quarters
NOON = 50  # quarters from midnight
SECONDS = 0.12  # to look whether a change mends
ANOTHER = "another pair of hands"


@dataclass(frozen=True)
class Mend:
    """A change that mends: `sort` is hours, saturday, hands or date; whose, how many quarters more in all, in words;
    `due` the quarter at which the tag is ready, where a later date is all that is left.
    """

    sort: str
    worker: str
    quarters: int
    words: str
    due: int = 0


def smallest_mend(request: PlanRequest, plan: Plan, tag: TagWork, *, seconds: float = SECONDS) -> Mend:
    """Return the smallest change that brings a late tag in on its day, and no other one later in sum.

    Tried in the order of the work they ask for, each by whether an order of tags is found that does it, so a smaller
    one may be overlooked, but what is named does mend. A later date always does.
    """
    lasting = sum(late for number, late in plan.late.items() if number != tag.number)
    for mend, changed in sorted(_changes(request, tag), key=lambda one: one[0].quarters):
        made = best_order(changed, seconds=seconds)
        if made is None:
            continue
        late = late_of(changed.tags, made)
        if tag.number not in late and sum(late.values()) <= lasting:
            return mend
    ready = _ready(plan, tag.number)
    return Mend("date", "", 0, "a later date", ready)


def _ready(plan: Plan, number: int) -> int:
    return max((spell.ends for spell in plan.spells if spell.key.tag == number), default=0)


def _changes(request: PlanRequest, tag: TagWork) -> Iterator[tuple[Mend, PlanRequest]]:
    due = tag.due or 0
    for worker in request.workers:
        days = sorted({begin // DAY for begin, _ in worker.windows if begin < due})
        for hours in (1, 2):
            windows, more = _longer(worker, days, hours * HOUR)
            words = f"{'an hour' if hours == 1 else 'two hours'} more a day by {worker.name} until then"
            yield (Mend("hours", worker.name, more, words), _with(request, replace(worker, windows=windows)))
        free = _free_mornings(worker, due)
        if free:
            windows = tuple(sorted((*worker.windows, *free)))
            more = sum(end - begin for begin, end in free)
            words = f"{worker.name} on {'the Saturday' if len(free) == 1 else 'the Saturdays'} to noon"
            yield (Mend("saturday", worker.name, more, words), _with(request, replace(worker, windows=windows)))
    if request.workers:
        first = max(request.workers, key=lambda w: w.quarters)
        windows = tuple(window for window in first.windows if window[0] < due)
        skills = frozenset().union(*(w.skills for w in request.workers))
        other = Worker(ANOTHER, windows, skills)
        mend = Mend("hands", "", other.quarters, f"{ANOTHER} until then")
        yield (mend, replace(request, workers=(*request.workers, other)))


def _with(request: PlanRequest, worker: Worker) -> PlanRequest:
    return replace(request, workers=tuple(worker if w.name == worker.name else w for w in request.workers))


def _longer(worker: Worker, days: list[int], more: int) -> tuple[tuple[tuple[int, int], ...], int]:
    """The windows with the last one of each of these days so much longer, none past midnight."""
    last = {begin // DAY: (begin, end) for begin, end in worker.windows}
    found, added = [], 0
    for begin, end in worker.windows:
        day = begin // DAY
        longer = min(end + more, (day + 1) * DAY - HOUR) if day in days and last[day] == (begin, end) else end
        added += max(0, longer - end)
        found.append((begin, max(end, longer)))
    return tuple(found), added


def _free_mornings(worker: Worker, due: int) -> list[tuple[int, int]]:
    """The Saturday mornings before the date: the day after a Friday that is worked, before one that is not."""
    days = {begin // DAY: begin % DAY for begin, _ in reversed(worker.windows)}
    first = min((begin for begin, _ in worker.windows), default=0)
    return [
        (max((day + 1) * DAY + days[day], first), (day + 1) * DAY + NOON)
        for day in sorted(days)
        if day + 1 not in days and day + 2 not in days and (day + 1) * DAY + NOON <= due and days[day] < NOON
    ]
