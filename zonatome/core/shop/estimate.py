"""Hands-on minutes, waits and money, from the job's own quantities and default rates."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from decimal import Decimal

from zonatome.core.pad.sorts import GLUES as FOAM_GLUES
from zonatome.core.rules import USUAL, Rules
from zonatome.core.shop.own_pace import OwnPace
from zonatome.core.shop.work import TRADE_SPREAD, Work, WorkLine, lines_of, whole_set
from zonatome.core.survey.glue import GLUES

FRAME_GLUE = float(max(glue.minutes for glue in GLUES.values()))  # minutes under the clamp: overnight
BENCH_HOURS = 6.0  # of a day, hands on
MOSTLY = 0.01  # of a day: a job that takes so little of one more does not take it
STEPS = ("survey", "strip", "trace", "lay", "pad", "fasten", "trim", "finish")


@dataclass(frozen=True)
class Rates:
    """A workroom's rates: minutes of each sort of work by its rules, and money. Defaults until its own log says
    better.
    """

    rules: Rules = USUAL
    own: Mapping[str, OwnPace] = field(default_factory=dict)  # of steps that its log says better
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


def rates_by(rules: Rules, *, hour: Decimal, own: Mapping[str, OwnPace] | None = None) -> Rates:
    """Return the rates that a workroom's rules, its hour and its own log give."""

    def money(key: str) -> Decimal:
        return Decimal(str(rules[key]))

    return Rates(
        rules=rules,
        own=own or {},
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
    """What a job has of everything: `strip_minutes` and what is not said to be done once are for one piece of
    furniture, the rest for the whole set.
    """

    furniture: int = 1
    strip_minutes: float = 0.0
    works: tuple[Work, ...] = ()
    glue_waits: int = 0
    is_glued_frame: bool = False
    frame_minutes: float = 0.0  # stripping, sanding and coating the wood of all of them
    frame_waits: float = 0.0


@dataclass(frozen=True)
class StepTime:
    """Hands-on minutes of one step, what they are made of, and the minutes that run by themselves after it."""

    step: str
    minutes: float
    wait_minutes: float = 0.0
    waits_for: str = ""
    lines: tuple[WorkLine, ...] = ()
    pace: OwnPace | None = None

    @property
    def likely(self) -> tuple[float, float]:
        """From how many to how many minutes it likely takes: by the workroom's own log, else as workrooms differ."""
        low, high = (self.pace.low / self.pace.factor, self.pace.high / self.pace.factor) if self.pace else TRADE_SPREAD
        return self.minutes * low, self.minutes * high


def step_times(job: Quantities, rates: Rates) -> tuple[StepTime, ...]:
    """Return the time of each of the eight steps, from the job's own quantities.

    A step that the workroom's own log tells better takes so many times the foreseen minutes (`rates.own`); its lines
    stay as they were foreseen. What repeats for each of a set takes its full time for the first and less for each next
    one (`whole_set`); shapes are traced once. Raises BadInput for a set of none.
    """
    lines = lines_of(job.works, furniture=job.furniture, rules=rates.rules)
    waits = {
        "survey": (FRAME_GLUE, "frame glue overnight") if job.is_glued_frame else (0.0, ""),
        "pad": (float(FOAM_GLUES["contact"].minutes), "foam glue sets") if job.glue_waits else (0.0, ""),
        "finish": (job.frame_waits, "coats dry") if job.frame_waits else (0.0, ""),
    }
    more = {
        "strip": job.strip_minutes * whole_set(job.furniture, rates.rules["sixth_of_a_set"]),
        "finish": job.frame_minutes,
    }
    found = []
    for step in STEPS:
        own = tuple(line for line in lines if line.sort.step == step)
        minutes = sum(line.minutes for line in own) + more.get(step, 0.0)
        pace = rates.own.get(step)
        wait, why = waits.get(step, (0.0, ""))
        found.append(StepTime(step, minutes * (pace.factor if pace else 1.0), wait, why, own, pace))
    return tuple(found)


def likely(times: Iterable[StepTime]) -> tuple[float, float]:
    """Return from how many to how many minutes all steps likely take: one who is slow is slow in all of them."""
    ranges = [time.likely for time in times]
    return sum(low for low, _ in ranges), sum(high for _, high in ranges)


@dataclass(frozen=True)
class UsualHours:
    """What the trade takes for so many of a kind, hands on: hours from and to, of these steps; in words."""

    low: float
    high: float
    words: str
    steps: tuple[str, ...] = STEPS

    def minutes_of(self, times: Iterable[StepTime]) -> float:
        """Return the minutes of an estimate that it is held against."""
        return sum(time.minutes for time in times if time.step in self.steps)


# a drop-in seat about an hour, six of them a day and a half to two, a wing chair two to four days
USUAL_HOURS: dict[tuple[str, int], UsualHours] = {
    ("drop_in", 1): UsualHours(
        0.75, 1.5, "a drop-in seat, pulled, cut, padded and put on", ("strip", "lay", "pad", "fasten")
    ),
    ("drop_in", 6): UsualHours(9.0, 12.0, "a set of six drop-in seats"),
    ("wing", 1): UsualHours(12.0, 24.0, "a wing chair"),
}


def usual_hours(kind: str, count: int) -> UsualHours | None:
    """Return what the trade takes for so many of a kind; None where it does not say."""
    return USUAL_HOURS.get((kind, count))


def whole_days(minutes: float, waits: float) -> int:
    """Return the days that so many minutes at the bench take, six hours a day, and the minutes that run by themselves.

    At least 1; waits run by night too.

    >>> whole_days(6 * 60, 0), whole_days(6 * 60, 24 * 60), whole_days(20, 0)
    (1, 2, 1)
    """
    return max(1, math.ceil(minutes / 60 / BENCH_HOURS + waits / 60 / 24 - MOSTLY))


@dataclass(frozen=True)
class Material:
    """One line of materials: what, how much in words, what it costs the workroom; how much of it as it lies in stock,
    in its unit (mm, sheets, pieces).
    """

    what: str
    amount: str
    cost: Decimal
    quantity: float = 0.0
    unit: str = ""
