"""Decorative nails: touching or spaced, one at each corner, a whole number between; and the paper strip with their
marks.

Lengths in mm.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from shapely.geometry import LineString

from zonatome.core.errors import BadInput
from zonatome.core.outline import Point

MOST_NAILS = 5000
BOX = 100


@dataclass(frozen=True)
class NailRun:
    """The nails between two corners: how many steps, how far apart from middle to middle."""

    length: float
    steps: int
    apart: float


@dataclass(frozen=True)
class Nails:
    """All nails of a line in order: their places along it, the corners first; its runs between corners."""

    head: float
    runs: tuple[NailRun, ...]
    places: tuple[float, ...]
    corners: tuple[float, ...]
    is_closed: bool

    @property
    def count(self) -> int:
        """How many there are."""
        return len(self.places)

    @property
    def order(self) -> tuple[float, ...]:
        """The order of setting: corners, then every run from its middle out, so that a last gap is never left over."""
        rest = [place for place in self.places if place not in self.corners]
        return (*self.corners, *sorted(rest, key=self._how_late))

    def _how_late(self, place: float) -> tuple[int, float]:
        at = 0.0
        for n, run in enumerate(self.runs):
            if place <= at + run.length + 1e-6:
                return n, round(abs(place - at - run.length / 2), 6)
            at += run.length
        return len(self.runs), place


def nails(lengths: Sequence[float], *, head: float, spacing: float | None = None, is_closed: bool = False) -> Nails:
    """Return the nails of a line whose corners lie so far from each other.

    Between two corners, each with one nail, n = round(length / spacing), at least one, and spacing = length / n;
    touching ones have the head as spacing and never overlap: n is rounded down. Source: trade rule of nails. Raises
    BadInput for a head beyond 4 to 40 mm, a spacing less than the head, a stretch too short for two.
    """
    if not 4 <= head <= 40:
        raise BadInput("head", head, "a head of 4 to 40 mm")
    if spacing is not None and not head <= spacing <= 500:
        raise BadInput("spacing", spacing, f"{head:g} mm, a head's width, to 500 mm")
    if not lengths or any(not (math.isfinite(v) and head <= v <= 100_000) for v in lengths):
        raise BadInput("lengths", list(lengths), f"stretches of at least {head:g} mm, a head's width")
    runs = []
    for length in lengths:
        steps = math.floor(length / head + 1e-9) if spacing is None else round(length / spacing)
        steps = min(max(1, steps), math.floor(length / head + 1e-9))
        runs.append(NailRun(length, steps, length / steps))
    if sum(run.steps for run in runs) > MOST_NAILS:
        raise BadInput("spacing", spacing, f"at most {MOST_NAILS} nails on a line")
    places, corners, at = [0.0], [0.0], 0.0
    for n, run in enumerate(runs):
        inside = run.steps if not (is_closed and n == len(runs) - 1) else run.steps - 1
        places += [at + run.apart * k for k in range(1, inside + 1)]
        at += run.length
        if not (is_closed and n == len(runs) - 1):
            corners.append(places[-1])
    return Nails(head, tuple(runs), tuple(places), tuple(corners), is_closed)


def boxes_of_nails(count: int) -> int:
    """Return how many boxes of a hundred, a tenth more for those that bend.

    >>> boxes_of_nails(96)
    2
    """
    return max(1, math.ceil(count * 1.1 / BOX))


def on_the_line(points: Sequence[Point], made: Nails) -> tuple[Point, ...]:
    """Return where each nail lies on a line of these points, in the order of its places."""
    line = LineString(points)
    found = [line.interpolate(min(place, line.length)) for place in made.places]
    return tuple((float(p.x), float(p.y)) for p in found)
