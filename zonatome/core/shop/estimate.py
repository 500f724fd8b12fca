"""Hands-on minutes, waits and money, from the job's own quantities and default rates."""

from __future__ import annotations

import math
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal

from zonatome.core.errors import BadInput
from zonatome.core.pad.sorts import GLUES as FOAM_GLUES
from zonatome.core.rules import Rules
from zonatome.core.survey.glue import GLUES

FRAME_GLUE = float(max(glue.minutes for glue in GLUES.values()))  # minutes under the clamp: overnight
BENCH_HOURS = 6.0  # of a day, hands on
MOSTLY = 0.01  # of a day: a job that takes so little of one more does not take it
STEPS = ("survey", "strip", "trace", "lay", "pad", "fasten", "trim", "finish")


@dataclass(frozen=True)
class Rates:
    """A workroom's rates: minutes a unit, and money. Defaults until its own log says better."""

    staples_pulled_a_minute: float = 8.0
    staples_set_a_minute: float = 6.0
    minutes_a_shape: float = 12.0
    minutes_a_piece_cut: float = 5.0
    minutes_a_metre_of_seam: float = 6.0
    minutes_a_pad: float = 25.0
    minutes_a_metre_of_trim: float = 7.0
    survey_minutes: float = 15.0
    finish_minutes: float = 20.0
    later_in_a_set: float = 0.75  # the first of a set is slow, the last takes perhaps 0.6 of it: on average this
    hour: Decimal = Decimal("42.00")
    materials_margin: Decimal = Decimal("0.25")
    sundries: Decimal = Decimal("0.05")
    foam_sheets: tuple[tuple[float, Decimal], ...] = ()  # up to so many mm thick, a sheet
    foam_sheet: Decimal = Decimal("38.00")  # a thicker one
    gimp_metre: Decimal = Decimal("2.40")
    nail_box: Decimal = Decimal("6.50")
    strip_metre: Decimal = Decimal("0.90")
    zip_metre: Decimal = Decimal("3.20")
    lining_metre: Decimal = Decimal("4.80")
    cord_metre: Decimal = Decimal("0.35")
    bottom_cloth_metre: Decimal = Decimal("2.90")
    button: Decimal = Decimal("0.70")
    staple_box: Decimal = Decimal("6.50")

    def foam(self, thickness: float) -> Decimal:
        """Return the price of a sheet of foam so many mm thick."""
        return next((price for most, price in self.foam_sheets if thickness <= most), self.foam_sheet)


def rates_by(rules: Rules, *, hour: Decimal) -> Rates:
    """Return the rates that a workroom's rules and its hour give."""

    def money(key: str) -> Decimal:
        return Decimal(str(rules[key]))

    return Rates(
        staples_pulled_a_minute=rules["staples_pulled"],
        staples_set_a_minute=rules["staples_set"],
        minutes_a_shape=rules["minutes_shape"],
        minutes_a_piece_cut=rules["minutes_piece"],
        minutes_a_metre_of_seam=rules["minutes_seam"],
        minutes_a_pad=rules["minutes_pad"],
        minutes_a_metre_of_trim=rules["minutes_trim"],
        survey_minutes=rules["minutes_survey"],
        finish_minutes=rules["minutes_finish"],
        later_in_a_set=rules["later_in_a_set"],
        hour=hour,
        materials_margin=money("materials_margin"),
        sundries=money("sundries"),
        foam_sheets=tuple((float(t), money(f"foam_{t}")) for t in (25, 50, 75, 100)),
        foam_sheet=money("foam_thick"),
        gimp_metre=money("gimp_metre"),
        nail_box=money("nail_box"),
        strip_metre=money("strip_metre"),
        zip_metre=money("zip_metre"),
        lining_metre=money("lining_metre"),
        cord_metre=money("cord_metre"),
        bottom_cloth_metre=money("bottom_metre"),
        button=money("button"),
        staple_box=money("staple_box"),
    )


@dataclass(frozen=True)
class Quantities:
    """What a job has of everything: `strip_minutes` is for one piece of furniture,
    the other counts for the whole set.
    """

    furniture: int = 1
    strip_minutes: float = 0.0
    shapes: int = 0
    pieces: int = 0
    seam: float = 0.0
    pads: int = 0
    staples: int = 0
    trim: float = 0.0
    glue_waits: int = 0
    is_glued_frame: bool = False
    frame_minutes: float = 0.0  # stripping, sanding and coating the wood of all of them
    frame_waits: float = 0.0


@dataclass(frozen=True)
class StepTime:
    """Hands-on minutes of one step, and the minutes that run by themselves after it."""

    step: str
    minutes: float
    wait_minutes: float = 0.0
    waits_for: str = ""


def step_times(job: Quantities, rates: Rates) -> tuple[StepTime, ...]:
    """Return the time of each of the eight steps.

    Work that repeats for each of a set takes its full time once and `later_in_a_set` of it for the others.
    """
    if job.furniture < 1:
        raise BadInput("furniture", job.furniture, "at least 1")
    like_full = 1 + (job.furniture - 1) * rates.later_in_a_set
    share = like_full / job.furniture
    frame_wait = FRAME_GLUE if job.is_glued_frame else 0.0
    return (
        StepTime("survey", rates.survey_minutes, frame_wait, "frame glue overnight" if frame_wait else ""),
        StepTime("strip", job.strip_minutes * like_full),
        StepTime("trace", job.shapes * rates.minutes_a_shape),
        StepTime("lay", job.pieces * rates.minutes_a_piece_cut * share),
        StepTime(
            "pad",
            job.pads * rates.minutes_a_pad * share,
            float(FOAM_GLUES["contact"].minutes) if job.glue_waits else 0.0,
            "foam glue sets" if job.glue_waits else "",
        ),
        StepTime(
            "fasten",
            (job.staples / rates.staples_set_a_minute + job.seam / 1000 * rates.minutes_a_metre_of_seam) * share,
        ),
        StepTime("trim", job.trim / 1000 * rates.minutes_a_metre_of_trim * share),
        StepTime(
            "finish",
            rates.finish_minutes * like_full + job.frame_minutes,
            job.frame_waits,
            "coats dry" if job.frame_waits else "",
        ),
    )


def whole_days(minutes: float, waits: float) -> int:
    """Return the days that so many minutes at the bench take, six hours a day, and the minutes that run by themselves.

    At least 1; waits run by night too.

    >>> whole_days(6 * 60, 0), whole_days(6 * 60, 24 * 60), whole_days(20, 0)
    (1, 2, 1)
    """
    return max(1, math.ceil(minutes / 60 / BENCH_HOURS + waits / 60 / 24 - MOSTLY))


@dataclass(frozen=True)
class Material:
    """One line of materials: what, how much in words, what it costs the workroom."""

    what: str
    amount: str
    cost: Decimal


@dataclass(frozen=True)
class Quote:
    """The figure for the client and what it is made of; `new` is what buying new would cost,
    `saves` may be negative.
    """

    materials: Decimal
    materials_with_margin: Decimal
    labour: Decimal
    hours: float
    sundries: Decimal
    total: Decimal
    new: Decimal
    saves: Decimal

    @property
    def dearer(self) -> Decimal:
        """How much dearer than new it is; 0 or less where it is not."""
        return -self.saves


def quote(materials: tuple[Material, ...], times: tuple[StepTime, ...], rates: Rates, *, new: Decimal) -> Quote:
    """Return one figure: materials with the workroom's margin, labour, sundries on both, against buying new."""
    bought = sum((m.cost for m in materials), Decimal(0))
    minutes = sum(t.minutes for t in times)
    with_margin = _money(bought * (1 + rates.materials_margin))
    labour = _money(rates.hour * Decimal(minutes) / 60)
    sundries = _money((with_margin + labour) * rates.sundries)
    total = with_margin + labour + sundries
    return Quote(_money(bought), with_margin, labour, minutes / 60, sundries, total, new, new - total)


def _money(amount: Decimal) -> Decimal:
    return amount.quantize(Decimal("0.01"), rounding=ROUND_HALF_UP)
