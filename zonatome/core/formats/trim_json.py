"""The legs that a bottom cloth is cut round, and a skirt, as JSON; lengths in mm."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import asdict
from typing import Any

from zonatome.core.errors import BadInput
from zonatome.core.formats import reading
from zonatome.core.trim.bottom import MOST_LEGS, Leg
from zonatome.core.trim.skirt import SkirtAsk

MOST = 20_000.0  # mm
MOST_SIDES = 40


def write_legs(legs: Iterable[Leg]) -> list[dict[str, Any]]:
    """Return legs as plain values."""
    return [asdict(leg) for leg in legs]


def read_legs(data: Any) -> tuple[Leg, ...]:
    """Return legs; none for none. Raises BadInput, naming what is wrong where."""
    return tuple(_leg(reading.table(row, "legs")) for row in reading.listed(data or [], "legs", most=MOST_LEGS))


def _leg(told: Mapping[str, Any]) -> Leg:
    x, y = (reading.number(told.get(key), f"legs.{key}", least=-MOST, most=MOST) for key in ("x", "y"))
    width = reading.number(told.get("width"), "legs.width", least=0, most=MOST)
    depth = told.get("depth")
    return Leg(x, y, width, None if depth is None else reading.number(depth, "legs.depth", least=0, most=MOST))


def write_skirt(ask: SkirtAsk | None) -> dict[str, Any] | None:
    """Return a skirt as plain values; none for none."""
    return None if ask is None else {**asdict(ask), "sides": list(ask.sides)}


def read_skirt(data: Any) -> SkirtAsk | None:
    """Return a skirt; none for none. Raises BadInput, naming what is wrong where, for what can't be made too."""
    if data is None:
        return None
    told = reading.table(data, "skirt")
    lined, sort = told.get("lined", True), reading.text(told.get("sort", "kick"), "skirt.sort", most=10)
    if not isinstance(lined, bool):
        raise BadInput("skirt.lined", lined, "true or false")
    if sort not in ("kick", "box"):
        raise BadInput("skirt.sort", sort, "kick or box")

    def length(key: str, usual: float | None = None) -> float:
        return reading.number(told.get(key, usual), f"skirt.{key}", least=0, most=MOST)

    sides = reading.listed(told.get("sides"), "skirt.sides", least=1, most=MOST_SIDES)
    ask = SkirtAsk(
        tuple(reading.number(side, "skirt.sides", least=0, most=MOST) for side in sides), length("drop"),
        "kick" if sort == "kick" else "box", length("deep", SkirtAsk.deep), length("pleat", SkirtAsk.pleat), lined,
    )  # fmt: skip
    ask.made()
    return ask
