"""What can come off, the usual order, the least that must come off to reach a part, and how it goes back on.

A pair (under, over) says that `over` lies over an edge of `under`: it went on later and comes off first. The pairs of
a piece of furniture never run in a circle, so they are a graph with a first and a last. A cover that is sewn in one is
one thing in it: its panels come off together and go on together, and its seams are ripped afterwards. Of a pair the
second comes right after the first where nothing forbids it.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass
from graphlib import CycleError, TopologicalSorter

from zonatome.core.errors import BadInput
from zonatome.core.survey.furniture import not_over
from zonatome.core.survey.kind import Kind, Part


@dataclass(frozen=True)
class Lying:
    """Why a part cannot come off yet: the parts that lie over it."""

    key: str
    under: tuple[str, ...]


def lying_over(kind: Kind, key: str, off: Collection[str]) -> Lying:
    """Return what still lies over a part, or over a panel that it is sewn to, in the kind's order; nothing left: it
    can come off.
    """
    kind.part(key)
    own = set(kind.sewn_with(key))
    over = (b for a, b in kind.over if a in own and b not in own and b not in off and kind.part(b).is_on_old)
    return Lying(key, tuple(dict.fromkeys(over)))


def things(kind: Kind, keys: Sequence[str]) -> tuple[tuple[str, ...], ...]:
    """Return keys as the things that come off or go on in one: the panels of a sewn cover are one, at the place of its
    first.
    """
    made: dict[tuple[str, ...], list[str]] = {}
    for key in keys:
        made.setdefault(kind.sewn_with(key) if kind.has(key) else (key,), []).append(key)
    return tuple(tuple(group) for group in made.values())


def thing_name(kind: Kind, keys: Sequence[str]) -> str:
    """Return what one calls a thing that comes off in one: its name, both names, or the cover that it is."""
    names = [kind.part(key).name for key in keys]
    if len(names) == 1:
        return names[0]
    if all(kind.part(key).is_loose for key in keys):
        return "Loose cushion"
    if len(names) == 2:
        return f"{names[0]} and {names[1][0].lower()}{names[1][1:]}"
    return f"Sewn cover, {len(names)} panels"


def comes_with(kind: Kind, key: str) -> tuple[str, ...]:
    """Return what comes off as one thing with a part: the panels of the old cover that it is sewn to, itself first."""
    return tuple(dict.fromkeys((key, *(k for k in kind.sewn_with(key) if kind.part(k).is_on_old))))


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
    order = _sorted(kind, [p.key for p in kind.old], [(over, under) for under, over in kind.over], rank)
    if len(order) < len(kind.old):
        raise BadInput(
            "over", [p.key for p in kind.old if p.key not in order], "parts that do not lie over each other in a circle"
        )
    return order


def goes_on(kind: Kind) -> tuple[str, ...]:
    """Return all parts of the new cover in the order in which they go on: what comes off last goes on first."""
    rank = {part.key: (-_rank(part), n) for n, part in enumerate(kind.parts)}
    return _sorted(kind, [p.key for p in kind.parts if p.is_on_new], kind.over, rank)


def _sorted(
    kind: Kind,
    keys: Sequence[str],
    pairs: Sequence[tuple[str, str]],
    rank: Mapping[str, tuple[float, ...]],
    *,
    by_pairs: bool = True,
) -> tuple[str, ...]:
    """Keys in an order in which the first of each pair comes before the second; the least rank first where free.

    Covers sewn in one stay together, at the place of the first of them; the partner of a pair follows it where it is
    free, unless the ranks say what has happened.
    """
    of = {key: next((k for k in kind.sewn_with(key) if k in rank and k in set(keys)), key) for key in keys}
    members: dict[str, list[str]] = {}
    for key in keys:
        members.setdefault(of[key], []).append(key)
    lies_under: TopologicalSorter[str] = TopologicalSorter(dict.fromkeys(members, ()))
    for first, second in pairs:
        a, b = of.get(first), of.get(second)
        if a is not None and b is not None and a != b:
            lies_under.add(b, a)
    with suppress(CycleError):  # what runs in a circle never comes free
        lies_under.prepare()
    least = {key: min(rank[k] for k in group) for key, group in members.items()}
    free = set(lies_under.get_ready())
    order: list[str] = []
    while free:
        mirrors = {kind.part(k).mirror for k in members[of[order[-1]]]} if order and by_pairs else set()
        key = min(free & mirrors or free, key=lambda k: (least[k], k))
        order += sorted(members[key], key=lambda k: rank[k])
        lies_under.done(key)
        free = (free - {key}) | set(lies_under.get_ready())
    return tuple(order)


def _rank(part: Part) -> int:
    if part.what == "hardware":
        return 0
    if part.is_loose:
        return 1
    return 2 if part.what == "bottom cloth" else 3


def taken_off(kind: Kind, off: Sequence[str], key: str) -> tuple[str, ...]:
    """Return the record with one more part off, and all that is sewn to it; refuses a part that is off, or that others
    lie over.
    """
    _on_the_old(kind, key)
    if key in off:
        raise BadInput("part", key, f"a part that is still on; {kind.part(key).name} is off")
    over = lying_over(kind, key, off).under
    if over:
        names = " and ".join(kind.part(k).name.lower() for k in over)
        raise BadInput(
            "part",
            key,
            f"{names} to come off first: {'they lie' if len(over) > 1 else 'it lies'} over "
            f"{kind.part(key).name.lower()}",
        )
    return (*off, *(k for k in comes_with(kind, key) if k not in off))


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
            needed.update(comes_with(kind, key))
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
    own = set(kind.sewn_with(key))
    for under, over in kind.over:
        if under in own and over in wrong:
            kind = not_over(kind, under, over)
    return kind, wrong


# --- the way back ------------------------------------------------------------------------------------


@dataclass(frozen=True)
class WasOff:
    """What the record says of a part that came off: how it was held, how it shall be held,
    whether it goes back itself.
    """

    held: tuple[str, ...] = ()
    held_again: tuple[str, ...] = ()
    goes_back: bool = False


@dataclass(frozen=True)
class BackOn:
    """One line of the way back: the part, how it is held, whether it is the old one again, and what has changed.

    `rest` are the panels that are sewn to it and go on with it, `name` what one calls all of them.
    """

    key: str
    held: tuple[str, ...]
    state: str
    words: str
    rest: tuple[str, ...] = ()
    name: str = ""


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
    order = _sorted(kind, [*reversed(off), *added], kind.over, rank, by_pairs=False)
    return tuple(key for key in order if kind.part(key).is_on_new)


def way_back(kind: Kind, off: Sequence[str], record: Mapping[str, WasOff]) -> tuple[BackOn, ...]:
    """Return the rebuild list: each thing in order with its fixing, marked new, reused or changed; a sewn cover is one
    of them.
    """
    lines = []
    for group in things(kind, rebuild_order(kind, off)):
        key = group[0]
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
        lines.append(BackOn(key, after, state, words, group[1:], thing_name(kind, group)))
    return tuple(lines)
