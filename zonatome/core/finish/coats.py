"""Finishing a frame: grits in order, coats with amounts, hands-on minutes and waits. In minutes, mm, square metres."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Literal

from zonatome.core.errors import BadInput

Prepared = Literal["strip", "scrape", "sand"]
SET_UP = 10.0  # minutes for each coat
A_SQUARE_METRE = 12.0  # minutes a coat
GRITS = (80, 120, 180, 240)
SANDING = 15.0  # minutes a square metre and grit
STRIPPING = 45.0  # minutes a square metre
MASKING = 4.0  # minutes a metre of edge, tape and paper; a start, as the trade says none
UNMASKING = 1.0  # minutes a metre
MORE_TAPE = 1.1  # a tenth more than the edge: ends lap
SPILT = 1.1  # a tenth more than the tin's rule: brush, cloth, spilt
MOST_COATS = 12
LONGEST_EDGE = 1_000_000.0  # mm


@dataclass(frozen=True)
class Finish:
    """A finish that one brushes or wipes on: what a litre covers in m2 a coat, how long it dries by usual tins, how
    many coats are usual, what to know.
    """

    key: str
    name: str
    covers: float
    dries: float
    coats: int
    note: str


_ROWS = (
    Finish("primer", "primer", 10, 240, 1, "on glossy old paint, and under every new one"),
    Finish("paint", "paint", 11, 180, 2, "thin coats; sand lightly with 240 between"),
    Finish("stain", "stain", 12, 240, 1, "try it on the underside; wipe off what stands"),
    Finish("wash", "wash", 14, 120, 1, "thinned paint, wiped along the grain"),
    Finish("varnish", "varnish", 12, 360, 3, "the first one thinned; 240 between"),
    Finish("oil", "oil", 16, 720, 2, "wipe the rest off after a quarter of an hour; oily rags can catch fire by "
           "themselves: spread them out to dry, or keep them under water"),
    Finish("wax", "wax", 25, 60, 2, "polish when it has gone dull"),
)  # fmt: skip
FINISHES: dict[str, Finish] = {row.key: row for row in _ROWS}


@dataclass(frozen=True)
class Coat:
    """One coat: its finish, how long it dries by the maker's words, in minutes."""

    finish: str
    dries: float

    def __post_init__(self) -> None:
        """Refuse a finish that there is not, and a wait that no tin asks."""
        if self.finish not in FINISHES:
            raise BadInput("finish", self.finish, "one of " + ", ".join(FINISHES))
        if not (math.isfinite(self.dries) and 1 <= self.dries <= 20_160):
            raise BadInput("dries", self.dries, "1 minute to 14 days")


@dataclass(frozen=True)
class FinishStep:
    """One step of finishing: what, hands-on minutes, the wait after it."""

    what: str
    minutes: float
    wait: float = 0.0


@dataclass(frozen=True)
class FinishPlan:
    """How a frame is finished: its steps in order, how much of each finish in litres, mm of tape."""

    area: float
    steps: tuple[FinishStep, ...]
    litres: tuple[tuple[str, float], ...]
    tape: float = 0.0

    @property
    def minutes(self) -> float:
        """Hands-on minutes."""
        return sum(step.minutes for step in self.steps)

    @property
    def waits(self) -> float:
        """Minutes that run by themselves."""
        return sum(step.wait for step in self.steps)

    def waits_from(self, now: datetime) -> tuple[tuple[str, datetime, datetime], ...]:
        """Return each wait with its beginning and end, if one step follows the other from now on."""
        found = []
        for step in self.steps:
            now += timedelta(minutes=step.minutes)
            if step.wait:
                found.append((step.what, now, now + timedelta(minutes=step.wait)))
                now += timedelta(minutes=step.wait)
        return tuple(found)


def finish_plan(
    area: float,
    coats: Sequence[Coat],
    *,
    prepared: Prepared = "sand",
    grits: Sequence[int] = GRITS,
    masked: float | None = None,
) -> FinishPlan:
    """Return how a frame with so many m2 of wood is finished.

    Strip or scrape first, then the grits in order, then coat after coat, each 10 minutes and 12 a square metre; a litre
    covers what its finish says, a tenth more is taken. With the cloth on, `masked` mm of its edge are taped first, the
    cloth covered with paper, and the tape comes off while the last coat is soft: a dry one tears along it. Source:
    trade rules of finishing and the trade's minutes. Raises BadInput for an area beyond 0.01 to 30 m2, grits that do
    not get finer, more than 12 coats, an edge beyond 1 km.
    """
    if not 0.01 <= area <= 30:
        raise BadInput("area", area, "0.01 to 30 m2 of wood")
    if len(coats) > MOST_COATS:
        raise BadInput("coats", len(coats), f"at most {MOST_COATS} coats")
    if list(grits) != sorted(set(grits)) or any(not 24 <= grit <= 1200 for grit in grits):
        raise BadInput("grits", list(grits), "grits from 24 to 1200, each finer than the one before")
    if masked is not None and not 0 <= masked <= LONGEST_EDGE:
        raise BadInput("masked", masked, f"0 to {LONGEST_EDGE / 1000:.0f} m of edge")
    steps = []
    if masked is not None:
        steps.append(FinishStep("mask the edge of the cloth, cover it with paper", SET_UP + MASKING * masked / 1000))
    if prepared in ("strip", "scrape"):
        words = "strip the old finish" if prepared == "strip" else "scrape it along the grain"
        steps.append(FinishStep(words, STRIPPING * area))
    elif prepared != "sand":
        raise BadInput("prepared", prepared, "strip, scrape or sand")
    steps += [FinishStep(f"sand with {grit}", SANDING * area) for grit in grits]
    litres: dict[str, float] = {}
    for number, coat in enumerate(coats, 1):
        made = FINISHES[coat.finish]
        nth = sum(1 for c in coats[:number] if c.finish == coat.finish)
        of = sum(1 for c in coats if c.finish == coat.finish)
        words = made.name if of == 1 else f"{made.name}, coat {nth} of {of}"
        minutes = SET_UP + A_SQUARE_METRE * area
        if masked is not None and number == len(coats):
            words, minutes = f"{words}, then the tape off while it is soft", minutes + UNMASKING * masked / 1000
        steps.append(FinishStep(words, minutes, coat.dries))
        litres[made.name] = litres.get(made.name, 0.0) + area / made.covers * SPILT
    return FinishPlan(area, tuple(steps), tuple(litres.items()), (masked or 0.0) * MORE_TAPE)


def blocked(
    holes: Sequence[tuple[float, float, float]], staples: Sequence[tuple[float, float]], crown: float
) -> list[int]:
    """Return the numbers, from 0, of the screw holes that a staple blocks: those nearer to one than their radius and
    half a crown. `holes` are x, y and radius, `staples` their middles, mm.
    """
    return [
        number
        for number, (x, y, radius) in enumerate(holes)
        if any(math.hypot(x - sx, y - sy) < radius + crown / 2 for sx, sy in staples)
    ]
