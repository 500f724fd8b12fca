"""What can come off, the usual order, the least that must come off to reach a part, and how it goes back on.

A pair (under, over) says that `over` lies over an edge of `under`: it went on later and comes off first. The
pairs of a piece of furniture never run in a circle, so they are a graph with a first and a last.
"""

from __future__ import annotations

import heapq
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

from zonatome.core.errors import BadInput
from zonatome.core.survey.furniture import not_over
from zonatome.core.survey.kind import Kind, Part


@dataclass(frozen=True)
class Lying:
    """Why a part cannot come off yet: the parts that lie over it."""

    key: str
    under: tuple[str, ...]


def lying_over(kind: Kind, key: str, off: Collection[str]) -> Lying:
    """Return what still lies over a part, in the kind's order; nothing left means it can come off."""
    kind.part(key)
    return Lying(key, tuple(over for under, over in kind.over if under == key and over not in off and kind.part(over).is_on_old))


def can_come_off(kind: Kind, off: Collection[str]) -> tuple[str, ...]:
    """Return the parts that nothing lies over any more, in the usual order."""
    return tuple(key for key in usual_order(kind) if key not in off and not lying_over(kind, key, off).under)


def usual_order(kind: Kind) -> tuple[str, ...]:
    """Return all parts of the old cover in the order in which they usually come off.

    Hardware that lies over nothing else's edge first, then loose things, the bottom cloth, and from the
    outside in; ties by the kind's own listing, last listed first. Raises BadInput when the kind's pairs
    run in a circle.
    """
    rank = {part.key: (_rank(part), -n) for n, part in enumerate(kind.parts)}
    order = _sorted([p.key for p in kind.old], [(over, under) for under, over in kind.over], rank)
    if len(order) < len(kind.old):
        raise BadInput("over", [p.key for p in kind.old if p.key not in order], "parts that do not lie over each other in a circle")
    return order


def _sorted(keys: Sequence[str], pairs: Sequence[tuple[str, str]], rank: Mapping[str, tuple[float, ...]]) -> tuple[str, ...]:
    """Keys in an order in which the first of each pair comes before the second; the least rank first where free."""
    among = set(keys)
    after: dict[str, set[str]] = {key: set() for key in keys}
    before = dict.fromkeys(keys, 0)
    for first, second in pairs:
        if first in among and second in among and second not in after[first]:
            after[first].add(second)
            before[second] += 1
    free = [(rank[key], key) for key in keys if not before[key]]
    heapq.heapify(free)
    order = []
    while free:
        _, key = heapq.heappop(free)
        order.append(key)
        for second in after[key]:
            before[second] -= 1
            if not before[second]:
                heapq.heappush(free, (rank[second], second))
    return tuple(order)


def _rank(part: Part) -> int:
    if part.what == "hardware":
        return 0
    if part.is_loose:
        return 1
    return 2 if part.what == "bottom cloth" else 3


def taken_off(kind: Kind, off: Sequence[str], key: str) -> tuple[str, ...]:
    """Return the record with one more part off; refuses a part that is off, or that others lie over."""
    _on_the_old(kind, key)
    if key in off:
        raise BadInput("part", key, f"a part that is still on; {kind.part(key).name} is off")
    over = lying_over(kind, key, off).under
    if over:
        names = " and ".join(kind.part(k).name.lower() for k in over)
        raise BadInput(
            "part", key, f"{names} to come off first: {'they lie' if len(over) > 1 else 'it lies'} over {kind.part(key).name.lower()}"
        )
    return (*off, key)


def _on_the_old(kind: Kind, key: str) -> Part:
    part = kind.part(key)
    if not part.is_on_old:
        raise BadInput("part", part.name, "a part that it came in with; this one is only in the new cover")
    return part


# --- the least set -----------------------------------------------------------------------------------


@dataclass(frozen=True)
class Reach:
    """What must come off to reach some parts: all of it in order, and what of that goes back on as it is.

    `wished` are the parts that one wants off; `survives` the others, which must be saved.
    """

    wished: tuple[str, ...]
    order: tuple[str, ...]

    @property
    def survives(self) -> tuple[str, ...]:
        """What comes off only to make way, in the order in which it comes off."""
        return tuple(key for key in self.order if key not in self.wished)


def least_set(kind: Kind, wished: Collection[str], off: Collection[str] = ()) -> Reach:
    """Return the least that must still come off until the wished parts are off, in an order that works.

    That is the wished parts and everything that lies over one of them, straight or through others: without
    any one of these the rest cannot be reached. Raises BadInput for a part that there is not.
    """
    for key in wished:
        _on_the_old(kind, key)
    needed: set[str] = set()
    looking = [key for key in wished if key not in off]
    while looking:
        key = looking.pop()
        if key not in needed:
            needed.add(key)
            looking += lying_over(kind, key, off).under
    order = tuple(key for key in usual_order(kind) if key in needed)
    return Reach(tuple(key for key in order if key in set(wished)), order)


# --- learning ----------------------------------------------------------------------------------------


def learned(kind: Kind, off: Collection[str], key: str) -> tuple[Kind, tuple[str, ...]]:
    """Return the furniture as it shows itself when a part comes off although others were thought to lie over it.

    The pairs that this proves wrong are taken out; also returned are the keys of what does not lie over it.
    """
    _on_the_old(kind, key)
    wrong = lying_over(kind, key, off).under
    for over in wrong:
        kind = not_over(kind, key, over)
    return kind, wrong


# --- the way back ------------------------------------------------------------------------------------


@dataclass(frozen=True)
class WasOff:
    """What the record says of a part that came off: how it was held, how it shall be held, whether it goes back itself."""

    held: tuple[str, ...] = ()
    held_again: tuple[str, ...] = ()
    goes_back: bool = False


@dataclass(frozen=True)
class BackOn:
    """One line of the way back: the part, how it is held, whether it is the old one again, and what has changed."""

    key: str
    held: tuple[str, ...]
    state: str
    words: str


def rebuild_order(kind: Kind, off: Sequence[str]) -> tuple[str, ...]:
    """Return how it goes back on: what came off last goes on first; what is still on is not in it.

    What is only in the new cover goes on as soon as all that it lies over is on; what is not made again is left out.
    """
    off = [key for key in off if kind.part(key).is_on_old]
    rank = {key: (float(n), 0.0) for n, key in enumerate(reversed(off))}
    added = [p.key for p in kind.parts if not p.is_on_old] if off else []
    for n, key in enumerate(added):
        unders = [rank[under][0] for under, over in kind.over if over == key and under in rank]
        rank[key] = (max(unders, default=-1.0) + 0.5, float(n))
    order = _sorted([*reversed(off), *added], kind.over, rank)
    return tuple(key for key in order if kind.part(key).is_on_new)


def way_back(kind: Kind, off: Sequence[str], record: Mapping[str, WasOff]) -> tuple[BackOn, ...]:
    """Return the rebuild list: each part in order with its fixing, marked new, reused or changed."""
    lines = []
    for key in rebuild_order(kind, off):
        part, was = kind.part(key), record.get(key, WasOff())
        before = was.held or part.held
        after = was.held_again or before
        changed = bool(was.held_again) and set(was.held_again) != set(before)
        if not part.is_on_old:
            state, words = "new", "new, was not there before"
        elif was.goes_back or part.what == "hardware":
            state, words = "reused", "the old one again"
        else:
            state, words = "new", "made new"
        if changed:
            state, words = "changed", f"{words}; before: {', '.join(before)}"
        lines.append(BackOn(key, after, state, words))
    return tuple(lines)
