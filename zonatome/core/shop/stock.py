"""What lies in stock, for which tag it is meant, what is short and how much of it is ordered."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta

from zonatome.core.errors import BadInput

SLACK = 1e-6  # of a unit: less is nothing


@dataclass(frozen=True)
class Want:
    """So much of a thing that a tag still takes, in the thing's unit; `by` is the day on which it is wanted."""

    thing: str
    tag: int
    amount: float
    by: date | None = None


@dataclass(frozen=True)
class OnItsWay:
    """So much of a thing that was ordered and has not come, and when it is to come."""

    thing: str
    amount: float
    arrives: date


@dataclass(frozen=True)
class Lying:
    """A thing in stock: its unit, how much lies there, the least that shall lie there."""

    thing: str
    unit: str
    there: float = 0.0
    least: float = 0.0

    def __post_init__(self) -> None:
        """Refuse less than nothing."""
        if self.there < -SLACK or self.least < 0:
            raise BadInput(self.thing, (self.there, self.least), "amounts from 0")


@dataclass(frozen=True)
class StockLine:
    """A thing over all tags: what lies there, how much of that is kept for which tag, what is still short for whom
    after what is on its way, and by when; how much is to be ordered in all, the least stock with it.
    """

    lying: Lying
    kept: Mapping[int, float] = field(default_factory=dict)
    on_its_way: float = 0.0
    short: Mapping[int, float] = field(default_factory=dict)
    short_by: date | None = None
    late: bool = False  # what is on its way comes after it is wanted
    to_order: float = 0.0

    @property
    def free(self) -> float:
        """What lies there and is kept for nobody."""
        return self.lying.there - sum(self.kept.values())

    @property
    def is_short(self) -> bool:
        """Whether a tag lacks it, or less than the least lies there."""
        return self.to_order > SLACK


def stock_lines(
    lying: Iterable[Lying],
    wants: Iterable[Want],
    on_its_way: Iterable[OnItsWay] = (),
    units: Mapping[str, str] | None = None,
) -> tuple[StockLine, ...]:
    """Return all things that lie there, are wanted or are on their way, by name.

    What lies there is kept for tags in the order in which they want it, those without a day last; never more than lies
    there. What is on its way serves those after them. The rest is short; with it, what the least stock lacks is to be
    ordered. `units` are those of things that have never lain there.
    """
    known = {one.thing: one for one in lying}
    wanted: dict[str, list[Want]] = {}
    for want in wants:
        if want.amount > SLACK:
            wanted.setdefault(want.thing, []).append(want)
    coming: dict[str, list[OnItsWay]] = {}
    for one in on_its_way:
        coming.setdefault(one.thing, []).append(one)
    found = []
    for thing in sorted({*known, *wanted, *coming}):
        row = known.get(thing) or Lying(thing, (units or {}).get(thing, "pieces"))
        rows = sorted(wanted.get(thing, ()), key=lambda w: (w.by is None, w.by or date.max, w.tag))
        found.append(_line(row, rows, sorted(coming.get(thing, ()), key=lambda one: one.arrives)))
    return tuple(found)


def _line(lying: Lying, wants: Sequence[Want], coming: Sequence[OnItsWay]) -> StockLine:
    left, kept, short = lying.there, dict[int, float](), dict[int, float]()
    ahead = [one.amount for one in coming]  # of each part, what nobody waits for yet
    by, late = None, False
    for want in wants:
        held = min(left, want.amount)
        left -= held
        if held > SLACK:
            kept[want.tag] = kept.get(want.tag, 0.0) + held
        lacking = want.amount - held
        for n, part in enumerate(coming):
            taken = min(ahead[n], lacking)
            ahead[n] -= taken
            lacking -= taken
            late = late or (taken > SLACK and want.by is not None and part.arrives > want.by)
        if lacking > SLACK:
            short[want.tag] = short.get(want.tag, 0.0) + lacking
            by = by or want.by
    lacks = sum(short.values()) + max(0.0, lying.least - left - sum(ahead))
    whole = sum(one.amount for one in coming)
    return StockLine(lying, kept, whole, short, by, late, lacks if lacks > SLACK else 0.0)


def packs_for(amount: float, pack: float) -> int:
    """Return the packs that so much takes, rounded up. Raises BadInput for a pack that holds nothing.

    >>> packs_for(17_610, 50_000), packs_for(2, 1)
    (1, 2)
    """
    if pack <= 0:
        raise BadInput("pack", pack, "more than 0")
    return max(0, math.ceil(amount / pack - SLACK))


def order_by(wanted: date, lead_days: int) -> date:
    """Return the last day on which to order what is wanted on a day."""
    return wanted - timedelta(days=lead_days)


def amount_words(amount: float, unit: str, metres: str) -> str:
    """Return an amount as one says it; `metres` are the words of a length, for what is measured.

    >>> amount_words(3, "sheets", ""), amount_words(960, "pieces", "")
    ('3 sheets', '960')
    """
    if unit in ("mm", "cloth"):
        return metres
    return f"{amount:g} sheet{'' if amount == 1 else 's'}" if unit == "sheets" else f"{amount:,.0f}"
