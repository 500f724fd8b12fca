"""What can come off now, the usual order, and how it goes back on.

A pair (under, over) says that `over` lies over an edge of `under`: it went on later and comes off first.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass

from zonatome.core.errors import BadInput
from zonatome.core.survey.kind import Kind, Part

ROWS_PITCH = 18.0  # staples on old covers stand 10 to 25 mm apart; the middle of it
STAPLES_A_MINUTE = 8.0  # until the workroom's own log says better
QUICK_MINUTES = 2.0  # a thing that is not stapled: unscrew, unclip, lift off


@dataclass(frozen=True)
class Lying:
    """Why a part cannot come off yet: the parts that lie over it."""

    key: str
    under: tuple[str, ...]


def lying_over(kind: Kind, key: str, off: Collection[str]) -> Lying:
    """Return what still lies over a part, in the kind's order; nothing left means it can come off."""
    kind.part(key)
    return Lying(key, tuple(over for under, over in kind.over if under == key and over not in off))


def can_come_off(kind: Kind, off: Collection[str]) -> tuple[str, ...]:
    """Return the parts that nothing lies over any more, in the usual order."""
    return tuple(key for key in usual_order(kind) if key not in off and not lying_over(kind, key, off).under)


def usual_order(kind: Kind) -> tuple[str, ...]:
    """Return all parts in the order in which they usually come off.

    Hardware that lies over nothing else's edge first, then loose things, the bottom cloth, and from the
    outside in; ties by the kind's own listing, last listed first. Raises BadInput when the kind's pairs
    run in a circle.
    """
    off: list[str] = []
    rank = {part.key: (_rank(part), -n) for n, part in enumerate(kind.parts)}
    while len(off) < len(kind.parts):
        ready = [p.key for p in kind.parts if p.key not in off and not lying_over(kind, p.key, off).under]
        if not ready:
            raise BadInput("over", [p.key for p in kind.parts if p.key not in off], "parts that do not lie over each other in a circle")
        off.append(min(ready, key=lambda key: rank[key]))
    return tuple(off)


def _rank(part: Part) -> int:
    if part.what == "hardware":
        return 0
    if part.held == ("loose",):
        return 1
    return 2 if part.what == "bottom cloth" else 3


def taken_off(kind: Kind, off: Sequence[str], key: str) -> tuple[str, ...]:
    """Return the record with one more part off; refuses a part that is off, or that others lie over."""
    if key in off:
        raise BadInput("part", key, f"a part that is still on; {kind.part(key).name} is off")
    over = lying_over(kind, key, off).under
    if over:
        names = " and ".join(kind.part(k).name.lower() for k in over)
        raise BadInput("part", key, f"{names} to come off first: it lies over {kind.part(key).name.lower()}")
    return (*off, key)


def rebuild_order(kind: Kind, off: Sequence[str]) -> tuple[str, ...]:
    """Return how it goes back on: what came off last goes on first; what is still on is not in it."""
    for key in off:
        kind.part(key)
    return tuple(reversed(off))


def staples_in(part: Part, *, pitch: float = ROWS_PITCH) -> int:
    """Return about how many staples hold a part: its fixed edge over the pitch found, one row.

    Source: trade rule, length of fixed edge / pitch. Parts held without staples or tacks give 0.
    """
    if not any("staples" in held or "tack" in held for held in part.held):
        return 0
    if part.what == "trim":
        return round(1200 / pitch)
    edge = 3.1416 * part.width if part.form == "disc" else 2 * (part.width + part.height)
    return round(edge / pitch)


def minutes_to_strip(part: Part, *, staples_a_minute: float = STAPLES_A_MINUTE, pitch: float = ROWS_PITCH) -> float:
    """Return the hands-on minutes for taking one part off, at this pace.

    >>> from zonatome.core.survey.kinds import SQUARE_STOOL
    >>> round(minutes_to_strip(SQUARE_STOOL.part("seat")), 1)
    12.2
    """
    if staples_a_minute <= 0:
        raise BadInput("staples_a_minute", staples_a_minute, "a pace above 0")
    return QUICK_MINUTES + staples_in(part, pitch=pitch) / staples_a_minute
