"""Welt, gimp and bottom cloth: lengths, the strip that covers a cord, what to buy."""

from __future__ import annotations

import math
from dataclasses import dataclass

from zonatome.core.errors import BadInput
from zonatome.core.rules import USUAL, Rules

DOUBLE_SEAM = 20.0  # mm: what a double welt's strip has beyond its two cords
JOIN = 40.0  # mm that a slanted join takes
WIDE_WELT_CORD = 5.0  # mm: the usual cord
USUAL_CLOTH = 1.0  # mm thick, until a cloth is chosen
SHORTEST_STRIP = 500.0  # mm: a shorter piece makes a join that shows
BESIDE_JOIN = 10.0  # mm that a strip is longer than its join at least
CUT_FROM_CLOTH = ("welt", "double_welt")  # the others are bought
KINDS = {
    "welt": "single welt",
    "double_welt": "double welt",
    "gimp": "gimp",
    "cord": "cord",
    "fringe": "fringe",
    "nails": "nails",
}


def welt_strip_width(cord: float, *, thickness: float, seam: float = USUAL["welt_seam"]) -> float:
    """Return the width of the strip that goes around a cord and leaves two seams: pi (cord + 2 x cloth) + 2 x seam.

    Source: trade rule; the strip's outer face goes round the cord and both thicknesses of cloth. Raises
    BadInput for a cord beyond 1 to 40 mm or a cloth beyond 0 to 10 mm.

    >>> round(welt_strip_width(5, thickness=1), 1)
    48.0
    """
    _checked(cord, thickness)
    return math.pi * (cord + 2 * thickness) + 2 * seam


def double_welt_strip_width(cord: float, *, thickness: float) -> float:
    """Return the strip's width for two cords side by side: 2 pi (cord + cloth) + 20.

    Source: trade rule.

    >>> round(double_welt_strip_width(5, thickness=1), 1)
    57.7
    """
    _checked(cord, thickness)
    return 2 * math.pi * (cord + thickness) + DOUBLE_SEAM


def _checked(cord: float, thickness: float) -> None:
    if not 1 <= cord <= 40:
        raise BadInput("cord", cord, "a diameter from 1 to 40 mm")
    if not 0 <= thickness <= 10:
        raise BadInput("thickness", thickness, "0 to 10 mm")


@dataclass(frozen=True)
class TrimRun:
    """One exposed line: its length once, how many such lines there are on one piece of furniture, whether it closes on
    itself; how many nails it takes, where it is nailed.
    """

    length: float
    times: int = 1
    is_closed: bool = False
    nails: int = 0


@dataclass(frozen=True)
class TrimSum:
    """The trim of a job: `per_furniture` and `total` in mm with their ends; `to_cut` is a tenth more, `strip_width` 0
    for a bought trim. `nails` is how many nails, where those are the trim: they have no ends.
    """

    kind: str
    per_furniture: float
    total: float
    to_cut: float
    strip_width: float
    nails: int = 0


def trim_sum(
    runs: tuple[TrimRun, ...],
    *,
    kind: str,
    furniture: int,
    cord: float = WIDE_WELT_CORD,
    thickness: float = USUAL_CLOTH,
    rules: Rules = USUAL,
) -> TrimSum:
    """Return lengths and strip width: every exposed line + an end allowance per end, times the set, a tenth more to
    cut.

    A closed line has one join, an open one two ends. Source: trade rule.
    """
    if kind not in KINDS:
        raise BadInput("kind", kind, "one of " + ", ".join(KINDS))
    if furniture < 1:
        raise BadInput("furniture", furniture, "at least 1")
    if kind == "nails":
        once = sum(run.length * run.times for run in runs)
        count = sum(run.nails * run.times for run in runs) * furniture
        return TrimSum(kind, once, once * furniture, once * furniture, 0.0, count)
    for run in runs:
        if not (0 < run.length <= 100_000 and 1 <= run.times <= 50):
            raise BadInput("length", run.length, "a line of up to 100 m, 1 to 50 times")
    once = sum((run.length + (JOIN if run.is_closed else 2 * rules["trim_end"])) * run.times for run in runs)
    width = 0.0
    if kind == "welt":
        width = welt_strip_width(cord, thickness=thickness, seam=rules["welt_seam"])
    elif kind == "double_welt":
        width = double_welt_strip_width(cord, thickness=thickness)
    total = once * furniture
    return TrimSum(kind, once, total, total * (1 + rules["more_welt"]), width)


def shortest_strip(to_cut: float) -> float:
    """Return the mm below which no strip is cut for a welt of `to_cut` mm: half a metre, or all of a shorter welt.

    >>> shortest_strip(4200), shortest_strip(320), shortest_strip(20)
    (500.0, 320, 50.0)
    """
    return max(min(SHORTEST_STRIP, to_cut), JOIN + BESIDE_JOIN)
