"""Welt strips and other narrow cuts in what the pieces leave.

Bands of the strip's width are swept over the cloth; the longest free stretch is cut, again and again. What
is still missing is taken from the roll behind the last piece. It is greedy, and a piece blocks the whole
of its extent in a band, so a bay in its side is not used: a block cut by hand may do better.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from zonatome.core.lay.request import LayRequest, Placement, StripAsk, StripCut
from zonatome.core.lay.slide import spaced
from zonatome.core.outline import Outline, Point, outline_of, rectangle

TURNS = {"along": (0.0,), "across": (-90.0,), "bias": (45.0, -45.0)}
SAFE = 0.02  # what a float's rounding may hide between a strip and its neighbours
TOUCH = 1e-6  # mm: less than this is a touch
STEPS_OF_ROLL = 300  # how often the roll is let out before the search gives up


@dataclass(frozen=True)
class Stretch:
    """A free stretch of a band, in the frame of its sweep, where the band lies along x."""

    length: float
    start: float
    low: float


class Sweep:
    """The free stretches for one strip in one direction, kept true while strips are cut."""

    def __init__(self, cloth: Outline, blocked: Iterable[Outline], *, width: float, shortest: float, turn_degrees: float) -> None:
        """`turn_degrees` is how the strip lies on the cloth; the sweep turns the cloth back by it."""
        self.turn_degrees, self.width, self.shortest = turn_degrees, width, shortest
        self.region = Solid(cloth.turned(-turn_degrees).points)
        self.solid = [Solid(o.turned(-turn_degrees).points) for o in blocked]
        self.by_level = {low: self._free(low) for low in self._levels()}

    def longest(self) -> Stretch | None:
        """Return the longest stretch, of equal ones that nearest the start."""
        every = (s for stretches in self.by_level.values() for s in stretches)
        return max(every, key=lambda s: (round(s.length, 1), -s.low, -s.start), default=None)

    def block(self, cut: Outline) -> None:
        """Take a newly cut strip out of what is free."""
        solid = Solid(cut.turned(-self.turn_degrees).points)
        self.solid.append(solid)
        low, high = solid.low, solid.high
        touched = [level for level in self.by_level if level < high and level + self.width > low]
        bottom, top = self._range()
        for level in {*touched, low - self.width, high}:
            if bottom <= level <= top + 1e-9:
                self.by_level[level] = self._free(level)

    def on_cloth(self, stretch: Stretch, length: float) -> Outline:
        """Return the strip cut from the start of a stretch, where it lies on the cloth."""
        return rectangle(length, self.width).moved(stretch.start, stretch.low).turned(self.turn_degrees)

    def _range(self) -> tuple[float, float]:
        return self.region.low, self.region.high - self.width

    def _levels(self) -> list[float]:
        bottom, top = self._range()
        levels = {bottom, top, *(bottom + self.width * k for k in range(math.floor((top - bottom) / self.width) + 1))}
        for solid in self.solid:
            levels |= {solid.low - self.width, solid.high}
        return sorted(level for level in levels if bottom <= level <= top)

    def _free(self, low: float) -> tuple[Stretch, ...]:
        high = low + self.width
        ends = [e for e in (self.region.chord(low), self.region.chord(high)) if e is not None]
        if not ends:
            return ()
        start, stop = max(e[0] for e in ends), min(e[1] for e in ends)
        taken = sorted(e for e in (solid.in_band(low, high) for solid in self.solid) if e is not None)
        found = []
        for first, last in [*taken, (stop, stop)]:
            if min(first, stop) - start >= self.shortest:
                found.append(Stretch(min(first, stop) - start, start, low))
            start = max(start, last)
        return tuple(found)


class Solid:
    """An outline made ready for many bands: its edges, and the heights between which it lies."""

    def __init__(self, points: Sequence[Point]) -> None:
        """Take an outline's points in the frame of a sweep."""
        self.points = np.array(points)
        self.x, self.y = self.points[:, 0], self.points[:, 1]
        self.run, self.rise = np.roll(self.x, -1) - self.x, np.roll(self.y, -1) - self.y
        self.slope = np.where(self.rise == 0, 1.0, self.rise)
        self.low, self.high = float(self.y.min()), float(self.y.max())

    def in_band(self, low: float, high: float) -> Point | None:
        """Return the least and the most x between two heights, or None where it at most touches the band."""
        if self.high <= low + TOUCH or self.low >= high - TOUCH:
            return None
        return self._extent(low, high)

    def chord(self, level: float) -> Point | None:
        """Return where a chord at a height begins and ends."""
        return self._extent(level - TOUCH, level + TOUCH)

    def _extent(self, low: float, high: float) -> Point | None:
        met = (np.minimum(self.y, self.y + self.rise) <= high) & (np.maximum(self.y, self.y + self.rise) >= low)
        if not met.any():
            return None
        x, y, run, rise, slope = self.x[met], self.y[met], self.run[met], self.rise[met], self.slope[met]
        first = np.where(rise == 0, 0.0, np.clip((low - y) / slope, 0.0, 1.0))
        last = np.where(rise == 0, 1.0, np.clip((high - y) / slope, 0.0, 1.0))
        ends = np.concatenate([x + first * run, x + last * run])
        return float(ends.min()), float(ends.max())


def lay_strips(request: LayRequest, placements: Sequence[Placement]) -> tuple[StripCut, ...]:
    """Return the strips of a request, cut from what the pieces leave and from as little more roll as it takes.

    Widest first, since narrow ones find room more easily. Every strip keeps the gap to pieces; strips may touch.
    """
    outlines = [p.on_cloth(request.by_id[p.piece]) for p in placements]
    blocked = [spaced(o, request.gap + SAFE) for o in outlines]
    length = max((o.bounds[2] for o in outlines), default=0.0)
    cut: list[StripCut] = []
    for ask in sorted(request.strips, key=lambda s: -s.width):
        found: list[StripCut] = []
        for _ in range(STEPS_OF_ROLL):
            found, missing = _cut_from(request, ask, length, [*blocked, *(c.outline for c in cut)])
            if missing <= 0:
                break
            length += max(ask.width / 2, missing * ask.width / request.roll.usable / 2)
        cut += found
        length = max([*(o.bounds[2] for o in outlines), *(c.outline.bounds[2] for c in cut)])
    return tuple(cut)


def _cut_from(request: LayRequest, ask: StripAsk, length: float, blocked: list[Outline]) -> tuple[list[StripCut], float]:
    """The strips that a length of roll gives, and the millimetres still missing."""
    missing = ask.total
    found: list[StripCut] = []
    if length < 1:
        return found, missing
    cloth = rectangle(length, request.roll.usable).moved(0, request.roll.low)
    turns = [t for way in ask.directions for t in TURNS[way]]
    sweeps = [Sweep(cloth, blocked, width=ask.width, shortest=ask.shortest, turn_degrees=t) for t in turns]
    while missing > 0:
        best = max(((s.length, sweep, s) for sweep in sweeps if (s := sweep.longest())), key=lambda b: b[0], default=None)
        if best is None:
            break
        _, sweep, stretch = best
        size = min(stretch.length, max(ask.shortest, missing + ask.join))
        lying = sweep.on_cloth(stretch, size)
        found.append(StripCut(ask.id, outline_of(lying.points), size))
        missing -= size - ask.join
        for each in sweeps:
            each.block(lying)
    return found, missing
