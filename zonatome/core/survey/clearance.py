"""Whether a seat still drops into its rebate when the new cloth goes over the old cover."""

from __future__ import annotations

from dataclasses import dataclass

from zonatome.core.errors import BadInput
from zonatome.core.survey.kind import Kind

STAYS_INSIDE = ("the old cover and its staples", "the dust in it", "any smell", "the old filling, as it is")
MOST_THICK = 40.0
USUAL_COVER = 1.2  # mm: a cover of plain weave, old or new, until it is measured
USUAL_WRAP = 1.0  # mm: wadding pressed thin
FOLDS = 2.0  # at a corner the cloth lies double


def sits_in_rebate(kind: Kind) -> bool:
    """Whether a padded panel sits in a rebate or drops into a frame, so that what is added must still fit beside it."""
    return kind.key == "drop_in" or any(p.padded and "raw_under_trim" in p.joins.values() for p in kind.panels)


@dataclass(frozen=True)
class Clearance:
    """Room on each side in mm, what is needed there, and what is over; `corner` is what a corner needs, where the
    cloth lies double.
    """

    gap_across: float
    gap_deep: float
    needs: float
    corner: float

    @property
    def gap(self) -> float:
        """The lesser of the two gaps."""
        return min(self.gap_across, self.gap_deep)

    @property
    def spare(self) -> float:
        """What is over on each side; below 0 it is short by that much."""
        return self.gap - self.needs

    @property
    def fits(self) -> bool:
        """Whether it still drops in."""
        return self.spare >= 0

    @property
    def fits_at_corners(self) -> bool:
        """Whether it does where the cloth is folded."""
        return self.gap >= self.corner


def clearance(
    *,
    rebate_width: float,
    rebate_depth: float,
    board_width: float,
    board_depth: float,
    old_cover: float,
    new_cloth: float,
    wrap: float,
) -> Clearance:
    """Return the clearance sum of a drop-in seat, all in mm.

    Rebate and bare board are measured at the same height; `old_cover` is the thickness that stays on the
    board's edge (0 when it is stripped), `new_cloth` the new one's, `wrap` the wadding pressed thin between.
    The gap each side must be at least old cover + new cloth + wrap (trade rule: clearance each side at least
    the new cloth's thickness and the wrap). Raises BadInput for a board wider than its rebate.
    """
    for key, value in (("old_cover", old_cover), ("new_cloth", new_cloth), ("wrap", wrap)):
        if not 0 <= value <= MOST_THICK:
            raise BadInput(key, value, f"0 to {MOST_THICK:.0f} mm")
    for key, rebate, board in (("board_width", rebate_width, board_width), ("board_depth", rebate_depth, board_depth)):
        if not 0 < board <= rebate:
            raise BadInput(key, board, f"more than 0 and no more than its rebate's {rebate:g} mm")
    needs = old_cover + new_cloth + wrap
    return Clearance(
        (rebate_width - board_width) / 2,
        (rebate_depth - board_depth) / 2,
        needs,
        FOLDS * (old_cover + new_cloth) + wrap,
    )
