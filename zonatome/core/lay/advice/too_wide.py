"""What helps where a panel is larger than the cloth: railroading, a seam where it is least seen, a fly, other cloth;
what each takes.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from zonatome.core.lay.request import Panels, PieceAsk
from zonatome.core.outline import Outline
from zonatome.core.rules import USUAL, Rules
from zonatome.core.units import Units, format_length

What = Literal["railroad", "seam", "fly", "wider", "longer"]
HIDDEN_MOST = 0.3  # of what there is: no fly hides more
NEAR = 0.1  # mm


@dataclass(frozen=True)
class WayOut:
    """One way out: what, and its figure in mm: what it takes of the roll, how large each part is, what is hidden, how
    large a cloth.
    """

    what: What
    figure: float
    parts: int = 1

    def words(self, units: Units) -> str:
        """Return it in words, lengths in the workroom's units."""
        length = format_length(self.figure, units)
        if self.what == "railroad":
            return f"railroad it, which takes {length} of the roll"
        if self.what == "seam":
            return (
                f"{self.parts} parts of {length}: in like strips on Trace under More, or split on Panels with the "
                f"seams where least seen"
            )
        if self.what == "fly":
            return f"end it at its tuck line with a fly, if {length} of it are out of sight"
        return f"a length of {length}" if self.what == "longer" else f"a cloth with {length} between its selvages"


def ways_out(cut: Outline, usable: float, *, may_railroad: bool, rules: Rules = USUAL) -> tuple[WayOut, ...]:
    """Return what helps for a piece, lying up the roll, that is wider than the usable cloth; railroading only where it
    fits then.

    A seam takes two allowances for each cut: n parts of (width + 2 (n - 1) seams) / n, no wider than the cloth.
    """
    railroad = (WayOut("railroad", cut.height),) if may_railroad and cut.width <= usable else ()
    return (*railroad, *_seam_or_fly(cut.height, usable, rules), WayOut("wider", math.ceil(cut.height)))


def _seam_or_fly(needs: float, there: float, rules: Rules) -> list[WayOut]:
    """A seam or a fly for what needs more than there is, in one direction."""
    found, seams = list[WayOut](), 2 * rules.adds("sewn")
    parts = next((n for n in range(2, 20) if (needs + seams * (n - 1)) / n <= there), 0)
    if parts:
        found.append(WayOut("seam", (needs + seams * (parts - 1)) / parts, parts))
    if needs - there < there * HIDDEN_MOST:
        found.append(WayOut("fly", needs - there + rules.adds("fly")))
    return found


@dataclass(frozen=True)
class TooLarge:
    """A piece that goes on none of the lengths there are: whether it is too long (else too wide), how many mm it is,
    and what helps.
    """

    is_too_long: bool
    measures: float
    ways: tuple[WayOut, ...]

    def words(self, units: Units) -> str:
        """Return it in words, lengths in the workroom's units."""
        than = "longer" if self.is_too_long else "wider"
        helps = "; or ".join(w.words(units) for w in self.ways)
        return f"{format_length(self.measures, units)}, is {than} than every piece of cloth here. What helps: {helps}"


def too_large_for(piece: PieceAsk, panels: Panels, *, rules: Rules = USUAL) -> TooLarge | None:
    """Return why a piece can't lie on any of the lengths, remnants or hides there are, however it may turn; None where
    one could hold it.

    Told by the longest and widest of each: one whose outline is cut in may still have no room for it. What is wide
    enough and not long enough counts as too long. A fly or a seam is reckoned on the piece that comes nearest.
    """
    bounds = [(o.width, o.height) for o in panels.outlines]
    asked = [(o.width, o.height) for o in (piece.outline.turned(t) for t in piece.tried_turns)]
    if any(long <= x + NEAR and wide <= y + NEAR for long, wide in asked for x, y in bounds):
        return None
    wide_enough = [(long, x) for long, wide in asked for x, y in bounds if wide <= y + NEAR]
    if wide_enough:
        needs, there = min(wide_enough, key=lambda at: at[0] - at[1])
        return TooLarge(True, needs, (*_seam_or_fly(needs, there, rules), WayOut("longer", math.ceil(needs))))
    needs, there = min(((wide, y) for _, wide in asked for _, y in bounds), key=lambda at: at[0] - at[1])
    return TooLarge(False, needs, (*_seam_or_fly(needs, there, rules), WayOut("wider", math.ceil(needs))))
