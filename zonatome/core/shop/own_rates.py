"""What the log says of single rates: minutes a staple, a metre of seam, a corner; and how much faster a set goes.

The clock knows steps, not staples: what a step took is the sum of its amounts times their rates. Those are sought that
say it best over all tags, so that one clock left running moves little; rates that always come together move together,
and one of which the log says nothing stays where it was. Source: robust least squares (soft L1 loss), as in scipy's
`least_squares`; rates in logarithms, so that none falls below nothing.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from statistics import median, quantiles
from typing import TYPE_CHECKING

import numpy as np

from zonatome.core.arrays import Floats
from zonatome.core.lazily import Lazily
from zonatome.core.rules import USUAL, Rules
from zonatome.core.shop.own_pace import ENTRIES_WANTED, LEAST_FORESEEN, QUICKEST, SLOWEST
from zonatome.core.shop.work import WORK, one_takes, whole_set

if TYPE_CHECKING:
    from scipy import optimize
else:
    optimize = Lazily("scipy.optimize")

HELD_NEAR = 0.15  # how much a rate is held where it was: a whole doubling costs as much as a tag that is a tenth off
FASTEST_SET, SLOWEST_SET = 0.3, 1.0  # what the sixth of a set may take of the first
OFF = 0.15  # of what a step took: so far off is usual from tag to tag
STEP = 1e-3  # by which each is moved to see what it does: sums of sets are rounded, less would be lost in that


@dataclass(frozen=True)
class TimedStep:
    """A step of a tag that is done and was timed: how many pieces of furniture, `once` amounts of the whole set and
    those of `each`, by sort of work; minutes of it that have no rate, minutes on the clock.
    """

    furniture: int
    took: float
    once: Mapping[str, float] = field(default_factory=dict)
    each: Mapping[str, float] = field(default_factory=dict)
    besides: float = 0.0

    def foreseen(self, rates: Mapping[str, float], sixth: float) -> float:
        """Return the minutes that these rates foresee."""
        whole = whole_set(self.furniture, sixth)
        once = sum(amount * rates[key] for key, amount in self.once.items())
        return self.besides + once + whole * sum(amount * rates[key] for key, amount in self.each.items())


@dataclass(frozen=True)
class OwnRate:
    """A rate as the log says it: minutes of one, likely from and to, from how many tags; `usual` is what it was."""

    key: str
    minutes: float
    low: float
    high: float
    entries: int
    usual: float


@dataclass(frozen=True)
class OwnRates:
    """The rates that a log says, and what the sixth of a set takes of the first; None where no set was timed."""

    rates: tuple[OwnRate, ...]
    sixth: float | None = None
    sets: int = 0


def own_rates(log: Iterable[TimedStep], rules: Rules = USUAL) -> OwnRates:
    """Return the rates of all sorts of work that enough tags were timed at.

    What took ten times as long as foreseen, or a tenth, is left out, as a clock that was forgotten.
    """
    usual = {key: one_takes(key, rules) for key in WORK}
    sixth = float(rules["sixth_of_a_set"])
    told = [one for one in log if _says_something(one, usual, sixth)]
    counts = {key: sum(key in one.once or key in one.each for one in told) for key in WORK}
    keys = [key for key, count in counts.items() if count >= ENTRIES_WANTED]
    sets = sum(one.furniture > 1 and bool(one.each) for one in told)
    if not keys:
        return OwnRates((), None, sets)
    fits_sets = sets >= ENTRIES_WANTED
    begin = np.array([0.0] * len(keys) + ([sixth] if fits_sets else []))
    low = [-np.log(SLOWEST)] * len(keys) + ([FASTEST_SET] if fits_sets else [])
    high = [np.log(SLOWEST)] * len(keys) + ([SLOWEST_SET] if fits_sets else [])

    near = {key: usual[key] * _whole_pace(key, told, usual, sixth) for key in keys}

    def rates_at(x: Floats) -> tuple[dict[str, float], float]:
        rates = {**usual, **{key: near[key] * float(np.exp(x[n])) for n, key in enumerate(keys)}}
        return rates, float(x[-1]) if fits_sets else sixth

    def wrong(x: Floats) -> Floats:
        rates, set_rate = rates_at(x)
        off = [float(np.log(one.foreseen(rates, set_rate) / one.took)) / OFF for one in told]
        return np.array([*off, *(HELD_NEAR * x[: len(keys)])])

    found = optimize.least_squares(wrong, begin, bounds=(low, high), loss="soft_l1", f_scale=1.0, diff_step=STEP)
    rates, set_rate = rates_at(found.x)
    return OwnRates(
        tuple(_rate(key, rates, set_rate, told, counts[key], usual[key]) for key in keys),
        round(set_rate, 3) if fits_sets else None,
        sets,
    )


def _whole_pace(key: str, told: Sequence[TimedStep], usual: Mapping[str, float], sixth: float) -> float:
    """How many times the foreseen minutes the tags took that have this sort of work, as a whole."""
    return median(one.took / one.foreseen(usual, sixth) for one in told if key in one.once or key in one.each)


def _says_something(one: TimedStep, usual: Mapping[str, float], sixth: float) -> bool:
    foreseen = one.foreseen(usual, sixth)
    return foreseen >= LEAST_FORESEEN and one.took > 0 and QUICKEST <= one.took / foreseen <= SLOWEST


def _rate(
    key: str, rates: Mapping[str, float], sixth: float, told: Sequence[TimedStep], entries: int, usual: float
) -> OwnRate:
    """A rate with its spread: by how much the tags that have it were off as a whole, from quartile to quartile."""
    ratios = [one.took / one.foreseen(rates, sixth) for one in told if key in one.once or key in one.each]
    low, _, high = quantiles(ratios, n=4, method="inclusive") if len(ratios) > 1 else (1.0, 1.0, 1.0)
    middle = median(ratios)
    value = rates[key]
    return OwnRate(key, value, value * min(low, middle, 0.9), value * max(high, middle, 1.1), entries, usual)
