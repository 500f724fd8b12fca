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
    """A skirt round furniture: its strip of cloth as it is cut, its lining, how many pleats, how wide each lies."""

    sort: SkirtKey
    run: float
    cloth: tuple[float, float]
    lining: tuple[float, float] | None
    pleats: int
    pleat: float


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
    return Skirt(sort, run, (length + 2 * SEAM, height), lining, count, wide)
