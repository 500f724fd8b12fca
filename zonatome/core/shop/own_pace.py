"""What a workroom's own log says of its pace: how its minutes compare with those that were foreseen, step by step."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from statistics import median, quantiles

from zonatome.core.errors import BadInput

ENTRIES_WANTED = 3  # tags of which a step is done and timed, before the workroom's own pace holds
LEAST_FORESEEN = 2.0  # minutes: less says nothing of a pace
SLOWEST, QUICKEST = 10.0, 0.1  # times what was foreseen: a clock that was left running, or stopped at once
LEAST_SPREAD = 0.1  # each way: three alike do not make a workroom certain


@dataclass(frozen=True)
class Took:
    """A step of one tag that is done and was timed: minutes foreseen by the rules, minutes on the clock."""

    step: str
    foreseen: float
    took: float


@dataclass(frozen=True)
class OwnPace:
    """How a step goes in this workroom: how many times the foreseen minutes it takes, likely from and to, from how many
    tags.
    """

    factor: float
    low: float
    high: float
    entries: int

    def __post_init__(self) -> None:
        """Refuse a pace that no log gives."""
        if not 0 < self.low <= self.factor <= self.high <= SLOWEST * 2 or self.entries < 1:
            raise BadInput("factor", self.factor, "a factor between its low and its high")


def own_paces(log: Iterable[Took]) -> dict[str, OwnPace]:
    """Return the pace of each step that enough tags were timed at.

    The median of took over foreseen, so that a clock left running over night moves nothing; likely from the lower to
    the upper quartile, at least a tenth each way. What is ten times off or had nothing foreseen is left out.
    """
    ratios: dict[str, list[float]] = {}
    for one in log:
        if one.foreseen >= LEAST_FORESEEN and QUICKEST <= one.took / one.foreseen <= SLOWEST:
            ratios.setdefault(one.step, []).append(one.took / one.foreseen)
    return {step: _pace(own) for step, own in ratios.items() if len(own) >= ENTRIES_WANTED}


def _pace(ratios: list[float]) -> OwnPace:
    middle = median(ratios)
    low, _, high = quantiles(ratios, n=4, method="inclusive")
    return OwnPace(middle, min(low, middle * (1 - LEAST_SPREAD)), max(high, middle * (1 + LEAST_SPREAD)), len(ratios))


def write_paces(paces: Mapping[str, OwnPace]) -> dict[str, list[float]]:
    """Return paces as plain values."""
    return {step: [p.factor, p.low, p.high, p.entries] for step, p in paces.items()}


def read_paces(data: Mapping[str, list[float]]) -> dict[str, OwnPace]:
    """Return paces from plain values that this wrote."""
    return {step: OwnPace(row[0], row[1], row[2], int(row[3])) for step, row in data.items()}
