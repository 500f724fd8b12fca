"""The figure for the client: materials with margin, labour, sundries, tax, rounding, deposit; options side by side.

All money is decimal and rounds to the cent at each line, half up, so that the lines sum to the total.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import ROUND_HALF_UP, Decimal
from typing import Literal

from zonatome.core.errors import BadInput
from zonatome.core.rules import USUAL, Rules
from zonatome.core.shop.estimate import Material, Rates, StepTime

CENT = Decimal("0.01")
Sort = Literal["as_planned", "cloth", "keep_foam", "renew_foam", "count", "cover_over", "strip"]


@dataclass(frozen=True)
class Terms:
    """What a workroom asks beside its prices: the share of tax, to what amount it rounds (0: to the cent), the share
    that is paid at once, for how many days a quote holds.
    """

    tax: Decimal = Decimal(0)
    round_to: Decimal = Decimal(1)
    deposit: Decimal = Decimal("0.4")
    days: int = 30


def terms_by(rules: Rules = USUAL) -> Terms:
    """Return the terms that a workroom's rules give."""
    return Terms(
        tax=Decimal(str(rules["tax"])),
        round_to=Decimal(str(rules["round_to"])),
        deposit=Decimal(str(rules["deposit"])),
        days=int(rules["quote_days"]),
    )


@dataclass(frozen=True)
class Quote:
    """The figure for the client and what it is made of; `new` is what buying new would cost, `saves` may be negative.

    `materials_with_margin` + `labour` + `sundries` + `tax` + `rounding` is `total`; `deposit` + `balance` too.
    """

    materials: Decimal
    materials_with_margin: Decimal
    labour: Decimal
    hours: float
    sundries: Decimal
    tax: Decimal
    rounding: Decimal
    total: Decimal
    deposit: Decimal
    balance: Decimal
    new: Decimal
    saves: Decimal

    @property
    def dearer(self) -> Decimal:
        """How much dearer than new it is; 0 or less where it is not."""
        return -self.saves

    @property
    def before_tax(self) -> Decimal:
        """What is asked before tax and rounding."""
        return self.materials_with_margin + self.labour + self.sundries


def quote(
    materials: Iterable[Material], times: Iterable[StepTime], rates: Rates, *, new: Decimal, terms: Terms | None = None
) -> Quote:
    """Return one figure: materials with the workroom's margin, labour, sundries on both, tax on all of it, rounded.

    `terms` are those of the trade's rules where none are given. Raises BadInput for shares that are none.
    """
    asked = terms or terms_by()
    for key in ("tax", "deposit"):
        if not 0 <= getattr(asked, key) <= 1:
            raise BadInput(key, getattr(asked, key), "a share from 0 to 1")
    bought = _cents(sum((m.cost for m in materials), Decimal(0)))
    minutes = sum(t.minutes for t in times)
    with_margin = _cents(bought * (1 + rates.materials_margin))
    labour = _cents(rates.hour * Decimal(minutes) / 60)
    sundries = _cents((with_margin + labour) * rates.sundries)
    tax = _cents((with_margin + labour + sundries) * asked.tax)
    exact = with_margin + labour + sundries + tax
    total = rounded(exact, asked.round_to)
    deposit = min(total, rounded(total * asked.deposit, asked.round_to))
    return Quote(
        bought, with_margin, labour, minutes / 60, sundries, tax, total - exact, total, deposit, total - deposit, new,
        new - total,
    )  # fmt: skip


def rounded(amount: Decimal, step: Decimal) -> Decimal:
    """Return an amount to the nearest step, half up; to the cent where there is no step.

    >>> rounded(Decimal("187.50"), Decimal(5)), rounded(Decimal("187.505"), Decimal(0))
    (Decimal('190.00'), Decimal('187.51'))
    """
    if step <= 0:
        return _cents(amount)
    return _cents((amount / step).quantize(Decimal(1), rounding=ROUND_HALF_UP) * step)


def _cents(amount: Decimal) -> Decimal:
    return amount.quantize(CENT, rounding=ROUND_HALF_UP)


def holds_until(made: date, terms: Terms) -> date:
    """Return the last day on which a quote that was made on a day holds."""
    return made + timedelta(days=terms.days)


@dataclass(frozen=True)
class Option:
    """One way to do a job: its key, what it is in words, its figure, lines of materials; what it rests on."""

    key: str
    sort: Sort
    words: str
    quote: Quote
    materials: tuple[Material, ...]
    rests_on: str = ""


@dataclass(frozen=True)
class Difference:
    """A line that an option has otherwise than another one: what, there and here."""

    what: str
    there: str
    here: str
    more: Decimal


def differences(there: Option, here: Option) -> tuple[Difference, ...]:
    """Return what an option has otherwise than another: lines of materials, labour, then what follows from both.

    The sum of their `more` is the difference of the totals.
    """
    found = []
    one, other = ({m.what: m for m in option.materials} for option in (there, here))
    for what in [*one, *(key for key in other if key not in one)]:
        was, now = one.get(what), other.get(what)
        more = (now.cost if now else Decimal(0)) - (was.cost if was else Decimal(0))
        if more or (was and was.amount) != (now and now.amount):
            found.append(Difference(what, was.amount if was else "—", now.amount if now else "—", _cents(more)))
    a, b = there.quote, here.quote
    if a.labour != b.labour:
        found.append(Difference("labour", _hours(a.hours), _hours(b.hours), b.labour - a.labour))
    rest = (b.total - a.total) - sum((d.more for d in found), Decimal(0))
    if rest:
        found.append(Difference("margin, sundries, tax, rounding", "", "", rest))
    return tuple(found)


def _hours(hours: float) -> str:
    return f"{hours:.1f} h"
