"""Welt strips and other narrow cuts in what the pieces leave.

Bands of the strip's width are swept over the cloth; the longest free stretch is cut, again and again. What is still
missing is taken from the roll behind the last piece. Pieces, flaws and the outside of a panel block by their convex
parts, so a bay in a piece's side is used. It is greedy: a block of strips moved by hand may do better.
"""

from __future__ import annotations

import math
import time
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from shapely.geometry import Polygon, box

from zonatome.core.arrays import Floats, Ints
from zonatome.core.lay.geometry.no_fit import MOST_CORNERS, coarse, convex_parts
from zonatome.core.lay.geometry.slide import spaced
from zonatome.core.lay.kernel.stretches import stretches_between
from zonatome.core.lay.request import LayRequest, Panels, Placement, Roll, StripAsk, StripCut
from zonatome.core.outline import Outline, turn_of

SAFE = 0.02  # what a float's rounding may hide between a strip and its neighbours
MOST_LEVELS = 160  # heights at which strips are tried at first; cord of a few millimetres would make thousands
MUCH = 20_000  # solids times heights: of so many the roll is let out in larger steps
SMALL_STEP, LARGE_STEP, AT_ONCE = 0.5, 1.5, 4.0  # by which share of the cloth that is missing the roll is let out
A_CORNER = 20_000  # and one of a piece that is taken apart and grown
AMONG_FLAWS = 20e6  # corners to look at for strips behind the pieces, among flaws
A_LEVEL = 3_000  # corners that take as long as a height takes besides
STEPS_OF_ROLL = 300  # how often the roll is let out before the search gives up
MOST_SWEPT = 400  # pieces: behind more of them strips are cut from the roll's end alone
STEPS_BEFORE = 60  # after so many each step is longer: a strip that hardly fits is not felt for half a minute


class TooLate(Exception):
    """The moment until which strips were to be laid has gone by, or the work is used up: what was begun is dropped."""


@dataclass
class Allowance:
    """How long strips may be laid: until a moment on the monotonic clock, and for so much work, the same everywhere."""

    until: float = math.inf
    work: float = math.inf  # in corners that are looked at

    def take(self, work: float = 0.0) -> None:
        """Take some of it; raises TooLate where there is none left."""
        self.work -= work
        if self.work < 0 or time.monotonic() > self.until:
            raise TooLate


@dataclass(frozen=True)
class Stretch:
    """A free stretch of a band, in the frame of its sweep, where the band lies along x."""

    length: float
    start: float
    low: float


@dataclass(frozen=True)
class Solids:
    """Convex figures that block, end to end: `first` their first corners, one more at the end."""

    corners: Floats
    first: Ints

    def turned(self, degrees: float) -> Solids:
        """Return them turned about (0, 0)."""
        c, s = turn_of(degrees)
        return Solids(np.ascontiguousarray(self.corners @ np.array([[c, s], [-s, c]])), self.first)

    def and_also(self, outlines: Sequence[Outline]) -> Solids:
        """Return them with others."""
        return solids([corners_of(o) for o in outlines], self)


def corners_of(outline: Outline) -> Floats:
    """The corners of an outline."""
    return np.array(outline.points, dtype=np.float64)


def solids(figures: Sequence[Floats], before: Solids | None = None) -> Solids:
    """Return convex figures in one table, after those of another."""
    parts = [before.corners] if before is not None else [np.empty((0, 2))]
    first = list(before.first) if before is not None else [0]
    for figure in figures:
        parts.append(figure)
        first.append(first[-1] + len(figure))
    return Solids(np.concatenate(parts), np.array(first, dtype=np.int64))


class Sweep:
    """The free stretches for one strip in one direction, kept true while strips are cut."""

    def __init__(
        self, cloth: Outline, blocked: Solids, ask: StripAsk, *, turn_degrees: float, allowed: Allowance
    ) -> None:
        """`cloth` is convex; `turn_degrees` is how the strip lies on it; the sweep turns the cloth back by it."""
        self.turn_degrees, self.width, self.shortest = turn_degrees, ask.width, ask.shortest
        self.allowed = allowed
        self.region = corners_of(cloth.turned(-turn_degrees))
        self.solid = blocked.turned(-turn_degrees)
        self.by_level = {low: self._free(low) for low in self._levels()}

    def longest(self) -> Stretch | None:
        """Return the longest stretch, of equal ones that nearest the start."""
        every = (s for stretches in self.by_level.values() for s in stretches)
        return max(every, key=lambda s: (round(s.length, 1), -s.low, -s.start), default=None)

    def block(self, cut: Outline) -> None:
        """Take a newly cut strip out of what is free."""
        lying = cut.turned(-self.turn_degrees)
        self.solid = self.solid.and_also([lying])
        _, low, _, high = lying.bounds
        touched = [level for level in self.by_level if level < high and level + self.width > low]
        bottom, top = self._range()
        for level in {*touched, low - self.width, high}:
            if bottom <= level <= top + 1e-9:
                self.by_level[level] = self._free(level)

    def on_cloth(self, stretch: Stretch, length: float) -> Outline:
        """Return the strip cut from the start of a stretch, where it lies on the cloth."""
        lying = _between(stretch.start, stretch.low, stretch.start + length, stretch.low + self.width)
        return lying.turned(self.turn_degrees)

    def _range(self) -> tuple[float, float]:
        return float(self.region[:, 1].min()), float(self.region[:, 1].max()) - self.width

    def _levels(self) -> list[float]:
        bottom, top = self._range()
        step = self.width * max(1, math.ceil((top - bottom) / self.width / MOST_LEVELS))
        levels = {bottom, top, *(bottom + step * k for k in range(math.floor((top - bottom) / step) + 1))}
        heights = self.solid.corners[:, 1]
        if len(heights):
            begins = self.solid.first[:-1]
            levels |= {float(v) for v in np.minimum.reduceat(heights, begins) - self.width} | {
                float(v) for v in np.maximum.reduceat(heights, begins)
            }
        return sorted(level for level in levels if bottom <= level <= top)

    def _free(self, low: float) -> tuple[Stretch, ...]:
        self.allowed.take(A_LEVEL + len(self.solid.corners))
        shortest = float(self.shortest)  # with a whole number it would be compiled once more, while somebody waits
        found = stretches_between(self.region, self.solid.corners, self.solid.first, low, low + self.width, shortest)
        return tuple(Stretch(length, at, low) for at, length in found.tolist())


def longest_strip(roll: Roll, ask: StripAsk) -> float:
    """Return how long a strip can be at the most on a roll of any length: across it ends at the selvages, at 45
    degrees sooner or later.
    """
    across = {
        "across": roll.usable if ask.width <= roll.usable else 0.0,
        "bias": roll.usable * math.sqrt(2) - ask.width,
    }
    return max((across.get(direction, math.inf) for direction in ask.directions), default=0.0)


def lay_strips(
    request: LayRequest, placements: Sequence[Placement], *, allowed: Allowance | None = None
) -> tuple[tuple[StripCut, ...], tuple[tuple[str, float], ...]]:
    """Return the strips of a request, and what they lack: cut from what the pieces leave, on a roll from as little
    more of it as it takes.

    Widest first, since narrow ones find room more easily. Every strip keeps the gap to pieces and flaws; strips may
    touch. On a roll nothing is ever lacking. Raises TooLate when more is `allowed` no longer; without that it takes as
    long as it takes.
    """
    allowed = allowed or Allowance()
    if not request.strips:
        return (), ()
    allowed.take()
    if isinstance(request.cloth, Panels):
        return _on_panels(request, request.cloth, placements, allowed)
    if len(placements) > MOST_SWEPT:
        return strips_behind(request, placements)
    return _on_roll(request, _blocked(request, placements, 0, allowed), 0.0, _end_of(request, placements), allowed)


def strips_behind(
    request: LayRequest, placements: Sequence[Placement]
) -> tuple[tuple[StripCut, ...], tuple[tuple[str, float], ...]]:
    """Return the strips of a request as `lay_strips` does, on a roll all behind the pieces: soon done, with more cloth.

    Among very many flaws they lie behind the last of those too. On panels nothing lies behind; there they are all
    lacking.
    """
    if request.on_panels:
        return (), tuple((s.id, s.total) for s in request.strips)
    end = _end_of(request, placements)
    flaws = tuple(o for o in request.roll.flaws if o.bounds[2] > end)
    try:
        among = _blocked(replace(request, cloth=replace(request.roll, flaws=flaws)), (), 0, Allowance())
        return _on_roll(request, among, end + request.gap, end, Allowance(work=AMONG_FLAWS))
    except TooLate:
        clear = _blocked(replace(request, cloth=replace(request.roll, flaws=())), (), 0, Allowance())
        behind = max([end, *(o.bounds[2] for o in flaws)]) + request.gap
        return _on_roll(request, clear, behind, end, Allowance())


def _end_of(request: LayRequest, placements: Sequence[Placement]) -> float:
    return max((p.on_cloth(request.by_id[p.piece]).bounds[2] for p in placements), default=0.0)


def _on_roll(
    request: LayRequest, blocked: Solids, begins: float, pieces_end: float, allowed: Allowance
) -> tuple[tuple[StripCut, ...], tuple[tuple[str, float], ...]]:
    length, cut = pieces_end, list[StripCut]()
    for ask in sorted(request.strips, key=lambda s: -s.width):
        found: list[StripCut] = []
        # of what is missing, cut right across
        many = len(blocked.first) * request.roll.usable / ask.width >= MUCH
        share = AT_ONCE if begins > 0 else LARGE_STEP if many else SMALL_STEP
        for step in range(STEPS_OF_ROLL):
            regions = [_between(begins, request.roll.low, length, request.roll.high)] if length >= begins + 1 else []
            solid = [blocked.and_also([c.outline for c in cut])][: len(regions)]
            found, missing = _cut_from(regions, solid, ask, allowed)
            if missing <= 0:
                break
            length += max(ask.width / 2, missing * ask.width / request.roll.usable * share) * (1 + step // STEPS_BEFORE)
        cut += found
        length = max([pieces_end, *(c.outline.bounds[2] for c in cut)])
    return tuple(cut), ()


def _on_panels(
    request: LayRequest, cloth: Panels, placements: Sequence[Placement], allowed: Allowance
) -> tuple[tuple[StripCut, ...], tuple[tuple[str, float], ...]]:
    cut: list[StripCut] = []
    short = []
    for ask in sorted(request.strips, key=lambda s: -s.width):
        regions, blocked = [], []
        for number, panel in enumerate(cloth.outlines):
            regions.append(_between(*panel.bounds))
            here = [c.outline for c in cut if c.panel == number]
            blocked.append(solids(_outside(panel), _blocked(request, placements, number, allowed)).and_also(here))
        found, missing = _cut_from(regions, blocked, ask, allowed)
        cut += found
        if missing > 0.5:
            short.append((ask.id, missing))
    return tuple(cut), tuple(short)


def _outside(panel: Outline) -> list[Floats]:
    """Convex parts of what is not panel in the box about it."""
    rest = box(*panel.bounds).difference(panel.polygon)
    parts = []
    for polygon in getattr(rest, "geoms", [rest]):
        if isinstance(polygon, Polygon) and polygon.area > 0.01:
            parts += convex_parts(Outline(tuple(polygon.exterior.coords[:-1])))
    return parts


def _blocked(request: LayRequest, placements: Sequence[Placement], panel: int, allowed: Allowance) -> Solids:
    """What blocks strips on a panel, in convex parts: pieces and flaws, each with the gap about it."""
    grown: list[Outline] = []
    for p in placements:
        if p.panel == panel:
            outline = request.by_id[p.piece].outline
            allowed.take(A_CORNER * min(len(outline.points), MOST_CORNERS))
            parts = _spaced_parts(outline, request.gap)
            grown += [part.placed(p.x, p.y, turn_degrees=p.turn_degrees, flip=p.flip) for part in parts]
    grown += [part for f in request.flaws if f.panel == panel for part in _spaced_parts(f.outline, request.gap)]
    return solids([corners_of(o) for o in grown])


@lru_cache(maxsize=1024)
def _spaced_parts(outline: Outline, gap: float) -> tuple[Outline, ...]:
    """The convex parts of an outline, each with the gap about it."""
    return tuple(spaced(Outline(tuple(map(tuple, part))), gap + SAFE) for part in convex_parts(coarse(outline)))


def _between(x0: float, y0: float, x1: float, y1: float) -> Outline:
    """The rectangle between two corners, on a lay of any length."""
    return Outline(((x0, y0), (x1, y0), (x1, y1), (x0, y1)))


def _cut_from(
    regions: Sequence[Outline], blocked: Sequence[Solids], ask: StripAsk, allowed: Allowance
) -> tuple[list[StripCut], float]:
    """The strips that the regions give, region k as panel k, and the millimetres still missing."""
    allowed.take()
    missing = ask.total
    found: list[StripCut] = []
    turns = ask.turns
    sweeps = [
        (panel, Sweep(region, solid, ask, turn_degrees=turn, allowed=allowed))
        for panel, (region, solid) in enumerate(zip(regions, blocked, strict=True))
        for turn in turns
    ]
    while missing > 0:
        allowed.take()
        offers = [(stretch.length, panel, sweep, stretch) for panel, sweep in sweeps if (stretch := sweep.longest())]
        best = max(offers, key=lambda b: b[0], default=None)
        if best is None:
            break
        _, panel, sweep, stretch = best
        size = min(stretch.length, max(ask.shortest, missing + ask.join))
        lying = sweep.on_cloth(stretch, size)
        found.append(StripCut(ask.id, lying, size, panel))
        missing -= size - ask.join
        for other, each in sweeps:
            if other == panel:
                each.block(lying)
    return found, missing
