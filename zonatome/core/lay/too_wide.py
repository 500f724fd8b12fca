"""What helps where a panel is wider than the cloth: railroading, a seam where it is least seen, a fly, a wider cloth; what each takes."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from zonatome.core.outline import Outline
from zonatome.core.rules import USUAL, Rules
from zonatome.core.units import Units, format_length

What = Literal["railroad", "seam", "fly", "wider"]


@dataclass(frozen=True)
class WayOut:
    """One way out: what, and its figure in mm: what it takes of the roll, how wide each part is, what is hidden, how wide a cloth."""

    what: What
    figure: float
    parts: int = 1

    def words(self, units: Units) -> str:
        """Return it in words, lengths in the workroom's units."""
        length = format_length(self.figure, units)
        if self.what == "railroad":
            return f"railroad it, which takes {length} of the roll"
        if self.what == "seam":
            return f"{self.parts} parts of {length}: in like strips on Trace under More, or split on Panels with the seams where least seen"
        if self.what == "fly":
            return f"end it at its tuck line with a fly, if {length} of it are out of sight"
        return f"a cloth with {length} between its selvages"


def ways_out(cut: Outline, usable: float, *, may_railroad: bool, rules: Rules = USUAL) -> tuple[WayOut, ...]:
    """Return what helps for a piece, lying up the roll, that is wider than the usable cloth; railroading only where it fits then.

    A seam takes two allowances for each cut: n parts of (width + 2 (n - 1) seams) / n, no wider than the cloth.
    """
    wide, found = cut.height, list[WayOut]()
    if may_railroad and cut.width <= usable:
        found.append(WayOut("railroad", wide))
    seams = 2 * rules.adds("sewn")
    parts = next((n for n in range(2, 20) if (wide + seams * (n - 1)) / n <= usable), 0)
    if parts:
        found.append(WayOut("seam", (wide + seams * (parts - 1)) / parts, parts))
    if wide - usable < usable * 0.3:
        found.append(WayOut("fly", wide - usable + rules.adds("fly")))
    found.append(WayOut("wider", math.ceil(wide)))
    return tuple(found)
