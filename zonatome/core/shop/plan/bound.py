"""What no plan can come below: the least that all tags together are late, whatever the order."""

from __future__ import annotations

from collections import Counter

from zonatome.core.shop.plan.request import PlanRequest, TagWork


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


def _alone(request: PlanRequest, tag: TagWork) -> int:
    """How late a tag is at least: its longest chain of tasks, each spell at once as somebody who can do it is there."""
    ended: dict[str, int] = {}
    for task in tag.tasks:
        at = max([task.not_before, *(ended[key] + wait for key, wait in task.after)])
        for long in task.spells:
            starts = [
                max(begin, at)
                for worker in request.able(task)
                for begin, end in worker.windows
                if max(begin, at) + long <= end
            ]
            if not starts:
                return 0
            at = min(starts) + long
        ended[task.key] = at
    return max(0, max(ended.values(), default=0) - (tag.due or 0))


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
