"""What no plan can come below: the least that all tags together are late, whatever the order."""

from __future__ import annotations

from collections import Counter

from zonatome.core.shop.plan.request import PlanRequest, SpellKey, TagWork, spell_keys


def least_late(request: PlanRequest) -> int:
    """Return a number of quarters below which no plan's lateness in sum can fall: the greater of two bounds.

    Each tag as if it were alone and hands without end were there. And, for those due first up to any of them, as if
    nothing else hung there and work could be parted at will: the one with the least work is done first by all hands,
    then the next one; the k-th that is ready is never ready earlier than this, and lateness is least where the k-th
    ready is the k-th due. Source: preemptive shortest remaining time is least in completion times (Schrage 1968);
    pairing sorted with sorted is least for a convex sum.
    """
    due_first = sorted((tag for tag in request.tags if tag.due is not None), key=lambda t: (t.due or 0, t.number))
    ends = _hands(request)
    together = max((_all_hands(due_first[:count], ends) for count in range(1, len(due_first) + 1)), default=0)
    return max(sum(_alone(request, tag) for tag in due_first), together)


def earliest_starts(request: PlanRequest, tag: TagWork) -> dict[SpellKey, int] | None:
    """Return when each spell of a tag could begin at the earliest, if hands without end did nothing else: each at once
    as somebody who can do it is there. None where one fits nowhere.
    """
    ended: dict[str, int] = {}
    found: dict[SpellKey, int] = {}
    for key, task, long in spell_keys(tag):
        ready = max([task.not_before, *(ended[before] + wait for before, wait in task.after)])
        at = ended.get(task.key, ready)
        starts = [max(b, at) for w in request.able(task) for b, e in w.windows if max(b, at) + long <= e]
        if not starts:
            return None
        found[key] = min(starts)
        ended[task.key] = found[key] + long
    return found


def _alone(request: PlanRequest, tag: TagWork) -> int:
    """How late a tag is at least: its longest chain of tasks."""
    starts = earliest_starts(request, tag)
    if not starts:
        return 0
    ready = max(starts[key] + long for key, _, long in spell_keys(tag))
    return max(0, ready - (tag.due or 0))


def _hands(request: PlanRequest) -> list[int]:
    """When each quarter of anybody's work ends, in order."""
    hands: Counter[int] = Counter()
    for worker in request.workers:
        for begin, end in worker.windows:
            hands.update(range(begin, end))
    return [at + 1 for at in sorted(hands) for _ in range(hands[at])]


def _all_hands(tags: list[TagWork], ends: list[int]) -> int:
    done, late = 0, 0
    works = sorted(sum(task.quarters for task in tag.tasks) for tag in tags)
    dues = sorted(tag.due or 0 for tag in tags)
    for work, due in zip(works, dues, strict=True):
        done += work
        ready = ends[min(done, len(ends)) - 1] if ends else 0
        late += max(0, ready - due)
    return late
