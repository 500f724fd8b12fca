"""How cloth gives: along its threads, across them and on the bias. Tension in N for each mm of width."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from zonatome.core.errors import BadInput

Grid = NDArray[np.float64]
Sort = Literal["weave", "velvet", "vinyl", "hide", "knit"]
Stretch = Literal["", "across", "along", "both"]
GIVES_MORE = 0.35  # of the stiffness is left the way that a cloth stretches


@dataclass(frozen=True)
class Weave:
    """The stiffness of a cloth, N/mm: how much tension a stretch of its own length would take along the warp, along the
    weft; by how much it resists slanting on the bias; by how much it narrows as it is stretched along the warp.
    """

    warp: float
    weft: float
    bias: float
    narrows: float = 0.1

    def __post_init__(self) -> None:
        """Refuse what is no cloth."""
        if min(self.warp, self.weft, self.bias) <= 0 or not 0 <= self.narrows**2 * self.weft < 0.9 * self.warp:
            raise BadInput("weave", (self.warp, self.weft, self.bias, self.narrows), "a cloth that holds its shape")

    def stiffness(self, turn_degrees: float = 90.0) -> Grid:
        """Return its plane-stress stiffness (3, 3), for strains along x, along y and the slant between them, its warp
        at an angle to x: 90 where the warp runs up the panel.

        Source: the textbook matrix of an orthotropic sheet, turned (Jones, Mechanics of Composite Materials).
        """
        across = self.narrows * self.weft / self.warp
        share = 1 / (1 - self.narrows * across)
        own = np.array(
            [
                [self.warp * share, self.narrows * self.weft * share, 0.0],
                [self.narrows * self.weft * share, self.weft * share, 0.0],
                [0.0, 0.0, self.bias],
            ]
        )
        c, s = np.cos(np.radians(turn_degrees)), np.sin(np.radians(turn_degrees))
        to_own = np.array([[c * c, s * s, c * s], [s * s, c * c, -c * s], [-2 * c * s, 2 * c * s, c * c - s * s]])
        return np.asarray(to_own.T @ own @ to_own)


WEAVES: dict[Sort, Weave] = {
    "weave": Weave(70.0, 55.0, 4.0),
    "velvet": Weave(60.0, 45.0, 3.0),
    "vinyl": Weave(24.0, 24.0, 9.0, 0.3),
    "hide": Weave(36.0, 36.0, 13.0, 0.35),
    "knit": Weave(12.0, 9.0, 4.0, 0.3),
}


def weave_of(sort: Sort, stretch: Stretch = "") -> Weave:
    """Return the usual stiffness of a sort of cloth that stretches as entered: usual figures, not its own.

    >>> weave_of("weave", "across").weft < weave_of("weave").weft
    True
    """
    found = WEAVES[sort]
    if stretch in ("along", "both"):
        found = replace(found, warp=found.warp * GIVES_MORE)
    if stretch in ("across", "both"):
        found = replace(found, weft=found.weft * GIVES_MORE)
    return replace(found, narrows=min(found.narrows, 0.5 * (found.warp / found.weft) ** 0.5))
