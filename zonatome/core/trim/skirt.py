"""A skirt: boxed all round, or straight with a kick pleat at each corner. Lengths in mm."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from zonatome.core.errors import BadInput

SkirtKey = Literal["kick", "box"]
KICK = (75.0, 100.0)  # mm: how deep a kick pleat goes each way
TIMES_IN_KICK = 4  # times its depth that a kick pleat takes in cloth: in and out, both ways
BOX_TIMES = 3.0  # times the run that box pleats take
SEAM = 13.0
HEM = 38.0  # mm turned up below, where it is not lined
LINING_LESS = 13.0  # mm that a lining ends above the skirt's edge


@dataclass(frozen=True)
class Skirt:
    """A skirt round furniture: its strip of cloth as it is cut, its lining, how many pleats, how wide each lies, and
    where along the strip it is folded.
    """

    sort: SkirtKey
    run: float
    cloth: tuple[float, float]
    lining: tuple[float, float] | None
    pleats: int
    pleat: float
    folds: tuple[float, ...] = ()


@dataclass(frozen=True)
class SkirtAsk:
    """A skirt as somebody wishes it: the sides that it goes round, how deep it hangs, its pleats, lined or not."""

    sides: tuple[float, ...]
    drop: float
    sort: SkirtKey = "kick"
    deep: float = KICK[0]
    pleat: float = 60.0
    lined: bool = True

    def made(self) -> Skirt:
        """Return what it takes. Raises BadInput for what can't be made."""
        return skirt(self.sides, self.drop, sort=self.sort, deep=self.deep, lined=self.lined, pleat=self.pleat)


@dataclass(frozen=True)
class SkirtStrips:
    """The strips that a skirt is cut in, across the roll: how many, how long each, and what they take of the roll."""

    count: int
    length: float
    run: float


def skirt_strips(size: tuple[float, float], width: float, *, furniture: int = 1, repeat: float = 0.0) -> SkirtStrips:
    """Return the strips of a skirt `size` long and high from a roll so wide, for so many pieces of furniture.

    Strips are cut across the roll and joined with a seam of 13 each side, all of the same length; with a repeat along
    the roll, of a mm at least, each is cut a whole repeat after the last, so that they match. Source: trade practice of
    skirts. Raises BadInput for a roll that is too narrow to be joined.

    >>> skirt_strips((2566.0, 176.0), 1400.0)
    SkirtStrips(count=2, length=1296.0, run=352.0)
    """
    length, high = size
    if width <= 4 * SEAM:
        raise BadInput("width", width, "a roll wider than its seams")
    count = max(1, math.ceil((length - 2 * SEAM) / (width - 2 * SEAM) - 1e-9))
    each = (length + (count - 1) * 2 * SEAM) / count
    step = math.ceil(high / repeat - 1e-9) * repeat if repeat >= 1 else high
    return SkirtStrips(count, each, count * furniture * step)


def skirt(
    sides: Sequence[float], drop: float, *, sort: SkirtKey = "kick", deep: float = KICK[0], lined: bool = True,
    pleat: float = 60.0,
) -> Skirt:  # fmt: skip
    """Return the skirt of furniture with these sides, so deep below its line.

    Kick pleats: one at each corner, 75 to 100 deep each way, which takes four times that in cloth. Box pleats: three
    times the run, a whole number of pleats each `pleat` wide at most. Lined: the same again, 13 shorter below; else 38
    turned up. Source: trade rules of skirts. Raises BadInput for a drop beyond 40 to 400 mm, a pleat beyond its depth.
    """
    if not sides or any(not 50 <= side <= 10_000 for side in sides):
        raise BadInput("sides", list(sides), "sides of 50 to 10000 mm")
    if not 40 <= drop <= 400:
        raise BadInput("drop", drop, "a drop of 40 to 400 mm")
    run = float(sum(sides))
    if sort == "kick":
        if not KICK[0] <= deep <= KICK[1]:
            raise BadInput("deep", deep, f"a kick pleat {KICK[0]:.0f} to {KICK[1]:.0f} mm deep")
        length, count, wide = run + TIMES_IN_KICK * deep * len(sides), len(sides), 2 * deep
    elif sort == "box":
        if not 20 <= pleat <= 150:
            raise BadInput("pleat", pleat, "a box pleat 20 to 150 mm wide")
        count = math.ceil(run / pleat - 1e-9)
        length, wide = BOX_TIMES * run, run / count
    else:
        raise BadInput("sort", sort, "kick or box")
    height = drop + SEAM + (SEAM if lined else HEM)
    lining = (length + 2 * SEAM, height - LINING_LESS) if lined else None
    folds = _kick_folds(sides, deep) if sort == "kick" else _box_folds(count, wide)
    return Skirt(sort, run, (length + 2 * SEAM, height), lining, count, wide, folds)


def _kick_folds(sides: Sequence[float], deep: float) -> tuple[float, ...]:
    """Where a strip with kick pleats is folded. It begins and ends in the middle of a pleat, where its seam is hidden;
    from a side's end a pleat goes in, lies twice its depth across the corner, and comes out again to the next side.
    """
    at, found = SEAM, []
    for side in sides:
        found += [at + deep, at + 2 * deep, at + 2 * deep + side, at + 3 * deep + side]
        at += 4 * deep + side
    return tuple(found)


def _box_folds(count: int, wide: float) -> tuple[float, ...]:
    """Where a strip with box pleats is folded: from the middle behind two faces half a face on, the face, in again."""
    return tuple(SEAM + (k * BOX_TIMES + part) * wide for k in range(count) for part in (0.5, 1.0, 2.0, 2.5))
