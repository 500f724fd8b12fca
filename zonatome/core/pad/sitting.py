"""How high one sits, and how far foam gives under a sitter: estimates, said as such."""

from __future__ import annotations

import math
from dataclasses import dataclass

from zonatome.core.errors import BadInput
from zonatome.core.pad.stack import Heights, Stack
from zonatome.core.rules import USUAL, Rules

SAT_ON = 0.14  # m2: the middle of what is sat on, 0.12 to 0.16
STATED_AT = 0.40  # the squeeze at which hardness is stated
DEEPEST = 0.75  # foam is hardly squeezed further
ROOM_FOR_LEGS = 250.0  # mm that thighs need under a table


def squeeze_share(pressure: float, hardness: float) -> float:
    """Return the share by which foam is squeezed under a pressure, both in kPa.

    Source: trade rule; 40 % x pressure / hardness up to the hardness as stated at 40 %, and more slowly beyond. How
    much more slowly is our own assumption: the rise falls off toward 75 %, without a step. An estimate.

    >>> squeeze_share(2.6, 5.2), round(squeeze_share(10.4, 5.2), 2)
    (0.2, 0.64)
    """
    if pressure < 0 or hardness <= 0:
        raise BadInput("hardness", hardness, "a hardness above 0 kPa, a pressure of 0 or more")
    ratio = pressure / hardness
    if ratio <= 1:
        return STATED_AT * ratio
    room = DEEPEST - STATED_AT
    return STATED_AT + room * (1 - math.exp(-STATED_AT * (ratio - 1) / room))


def pressure_under(weight: float, area: float = SAT_ON) -> float:
    """Return the pressure in kPa under a sitter of so many kg on so many m2: weight x 9.81 / area.

    >>> round(pressure_under(75), 2)
    5.26
    """
    if not 1 <= weight <= 300 or not 0.02 <= area <= 2:
        raise BadInput("weight", weight, "a sitter of 1 to 300 kg")
    return weight * 9.81 / area / 1000


@dataclass(frozen=True)
class Sitting:
    """How high a seat is: under its cover, under a sitter; against what it was, a table, the arms, its rebate. In mm,
    kg, kPa; None where nobody measured what it would be reckoned from.
    """

    pad: float
    squeezed: float
    weight: float
    pressure: float
    height: float | None
    before: float | None
    under_sitter: float | None
    to_table: float | None
    to_arms: float | None
    out_of_rebate: float | None

    @property
    def higher(self) -> float | None:
        """By how much one sits higher than before; below 0: lower."""
        return None if self.height is None or self.before is None else self.height - self.before

    @property
    def old_pad(self) -> float | None:
        """How high the old pad stood above the rail; None where nobody measured both."""
        if self.height is None or self.before is None:
            return None
        return self.before - (self.height - self.pad)

    @property
    def lower(self) -> float | None:
        """By how much one sits lower than before."""
        return None if self.higher is None else -self.higher

    @property
    def sunk(self) -> float | None:
        """By how much the pad lies below the edge of its rebate."""
        return None if self.out_of_rebate is None else -self.out_of_rebate

    @property
    def is_close_to_table(self) -> bool:
        """Whether less room is left under the table than legs need."""
        return self.to_table is not None and self.to_table < ROOM_FOR_LEGS


def sitting(stack: Stack, *, rules: Rules = USUAL) -> Sitting:
    """Return how one sits on a stack: the sum of its layers under the cover, on the rail's height where that is known.

    Foam alone is reckoned to give under the sitter, by its stated hardness; springs and other fillings give besides.
    """
    heights: Heights = stack.heights
    pad = stack.under_cover(rules)
    pressure = pressure_under(stack.sitter)
    squeezed = sum(
        layer.under_cover(rules) * squeeze_share(pressure, layer.foam_sort.hardness)
        for layer in stack.layers
        if layer.made.group == "foam"
    )
    height = heights.rail_top + pad if heights.rail_top is not None else None
    return Sitting(
        pad,
        squeezed,
        stack.sitter,
        pressure,
        height,
        heights.before,
        height - squeezed if height is not None else None,
        heights.table - height if heights.table is not None and height is not None else None,
        heights.arms - height if heights.arms is not None and height is not None else None,
        pad - heights.rebate if heights.rebate is not None else None,
    )
