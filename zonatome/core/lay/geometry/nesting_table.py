"""The ways in which pieces may lie, and the table that the compiled search reads."""

from __future__ import annotations

import copy
import itertools
import math
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal, NamedTuple

import numpy as np
import shapely
import shapely.affinity
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from zonatome.core.arrays import Bools, Floats
from zonatome.core.lay.cancel import IsCancelled, never_cancelled
from zonatome.core.lay.geometry.every_pair import (
    PAIR_SECONDS,
    TOUCH,
    Figures,
    Halves,
    end_to_end,
    figures_of,
    no_fits_of,
    on_cores,
)
from zonatome.core.lay.geometry.no_fit import (
    GRID,
    Bands,
    bands_of,
    beside_boxes,
    coarse,
    convex_parts,
    eight_sided,
    hull_of,
    inner_fit_on_panel,
    inner_fit_on_roll,
    no_fits,
)
from zonatome.core.lay.kernel.bands import HAIR
from zonatome.core.lay.kernel.pair_rows import marks_of
from zonatome.core.lay.kernel.tables import HINTS, ScanTable
from zonatome.core.lay.request import LayRequest, Panels, PieceAsk, Placement, Repeat
from zonatome.core.outline import Outline, Point, turn_of
from zonatome.core.tolerances import LONGEST

Pairs = Literal["whole", "eight-sided", "none"]
SLIVER = 1e-4  # mm: what is narrower between sides that should coincide is no ground
SLOW_TABLE = 2.5  # seconds; on plain cloth the packer lays what takes longer
MOST_WAYS = 120  # of all pieces: the table grows with their square


@dataclass(frozen=True)
class Orientation:
    """A piece in one turn: its box's size, where its box's least corner is, its anchor from there, its convex parts."""

    piece: int
    turn_degrees: float
    flip: bool
    width: float
    height: float
    corner: Point
    anchor: Point
    bound: tuple[bool, bool]
    outline: Outline  # its box's least corner at (0, 0)
    parts: tuple[Floats, ...]

    def placement(self, ask: PieceAsk, copy: int, x: float, y: float, panel: int = 0) -> Placement:
        """Return the placement with the box's least corner at (x, y)."""
        return Placement(ask.id, copy, x - self.corner[0], y - self.corner[1], self.turn_degrees, self.flip, panel)


class Ground(NamedTuple):
    """Where a way may lie on the cloth: from which height, up to which, and in what stretches."""

    low: float
    high: float
    bands: Bands


def table_seconds(request: LayRequest, *, first_turn_only: bool = False) -> float:
    """Return about how long the table of a request's pairs takes to work out, in seconds on the machine it was
    measured on.
    """
    turns = [
        1 if first_turn_only else len(t) * len(p.flips)
        for t, p in zip(_tried_turns(request), request.pieces, strict=True)
    ]
    ways = sum(turns)
    alike = 1 if max(turns, default=1) == 1 else 2  # of ways that come turned half round too, one pair serves for two
    return ways * (ways + 1) / 2 / alike * PAIR_SECONDS


def ways_of(
    request: LayRequest, number: int, turns: Sequence[float], *, in_parts: bool = True
) -> Iterator[Orientation]:
    """Yield the different ways of a piece that fit the cloth at all; turns that bring the same outline count once.

    Without `in_parts` the hull stands for an outline, and one of at most eight sides about it for its convex parts.
    """
    ask = request.pieces[number]
    bound = ask.bound(request.repeat)
    made: list[Orientation] = []
    parts: dict[bool, list[Floats]] = {}
    outline = coarse(ask.outline) if in_parts else hull_of(ask.outline)
    for flip in ask.flips:
        for turn in turns:
            way = replace(_lying(ask, outline, turn, flip, bound), piece=number)
            if any(_same(way, other) for other in made):
                continue
            made.append(way)
            if not in_parts:
                yield replace(way, parts=(eight_sided(way.outline),))
                continue
            if flip not in parts:
                parts[flip] = convex_parts(outline.placed(0, 0, flip=flip))
            yield _with_parts(way, parts[flip])


def _lying(ask: PieceAsk, outline: Outline, turn: float, flip: bool, bound: tuple[bool, bool]) -> Orientation:
    """A piece, by an outline about it, in a turn; without its number and its parts."""
    placed = outline.placed(0, 0, turn_degrees=turn, flip=flip)
    x0, y0, x1, y1 = placed.bounds
    spot = Placement(ask.id, 1, 0, 0, turn, flip).spot(ask.anchor) if any(bound) and ask.anchor else (x0, y0)
    return Orientation(
        -1, turn, flip, x1 - x0, y1 - y0, (x0, y0), (spot[0] - x0, spot[1] - y0), bound, placed.moved(-x0, -y0), ()
    )


def _with_parts(way: Orientation, base: Sequence[Floats]) -> Orientation:
    turn = _turn(way.turn_degrees)
    return Orientation(**{**way.__dict__, "parts": tuple(p @ turn - np.array(way.corner) for p in base)})


def _same(one: Orientation, other: Orientation) -> bool:
    if abs(one.width - other.width) > 1e-6 or abs(one.height - other.height) > 1e-6:
        return False
    if any(one.bound) and math.dist(one.anchor, other.anchor) > 1e-6:
        return False
    mine = {(round(x, 4), round(y, 4)) for x, y in one.outline.points}
    return mine == {(round(x, 4), round(y, 4)) for x, y in other.outline.points}


class NestingTable:
    """All ways of a request's pieces and the compiled search's table of them."""

    def __init__(
        self,
        request: LayRequest,
        *,
        first_turn_only: bool = False,
        pairs: Pairs = "whole",
        stopped: IsCancelled = never_cancelled,
    ) -> None:
        """Work out every way, ground and pair. A piece that fits nowhere has no way and is in `unfit`.

        With `first_turn_only` each piece has one way, the first that fits: much sooner done. Pairs "eight-sided" keep
        polygons of at most eight sides about the pieces apart, which is sooner done still; with "none" the table serves
        the press only. `stopped` is asked several times a second; raises Cancelled when it says so.
        """
        self.request, self.pairs = request, pairs
        self._halt = stopped
        turns = _tried_turns(request)
        pinned = Counter(p.piece for p in request.pinned)
        self.ways: list[Orientation] = []
        self.of_piece: list[range] = []
        grounds: list[Ground] = []
        for found in on_cores(
            lambda n: self._standing(n, turns[n], first_turn_only), range(len(request.pieces)), stopped=stopped
        ):
            begin = len(self.ways)
            self.ways += [way for way, _ in found]
            grounds += [ground for _, ground in found]
            self.of_piece.append(range(begin, len(self.ways)))
        self.items: list[tuple[int, int]] = []  # (piece number, copy) of every item
        pins = {(p.piece, p.copy) for p in request.pinned}
        for number, piece in enumerate(request.pieces):
            if len(self.of_piece[number]):
                self.items += [(number, c) for c in range(1, piece.count + 1) if (piece.id, c) not in pins]
        self.unfit = tuple(
            (p.id, p.count - pinned[p.id])
            for k, p in enumerate(request.pieces)
            if not len(self.of_piece[k]) and p.count > pinned[p.id]
        )
        self.table = self._table(grounds)

    def _standing(self, number: int, turns: Sequence[float], first_only: bool) -> list[tuple[Orientation, Ground]]:
        """The ways of a piece that find a place on the cloth, or the first one, each with its ground."""
        found: list[tuple[Orientation, Ground]] = []
        for way in ways_of(self.request, number, turns, in_parts=not self._is_rough):
            ground = self._ground(way)
            if ground is not None and self._heights(way, ground) != []:
                found.append((way, ground))
                if first_only:
                    break
        return found

    @cached_property
    def panel_starts(self) -> tuple[Point, ...]:
        """Where each panel's frame stands on the imagined roll."""
        return self.request.cloth.starts if isinstance(self.request.cloth, Panels) else ((0.0, 0.0),)

    @cached_property
    def repeat(self) -> Repeat | None:
        """The repeat on the roll, or on the imagined one."""
        repeat, (x, y) = self.request.repeat, self.panel_starts[0]
        return None if repeat is None else replace(repeat, origin=(repeat.origin[0] + x, repeat.origin[1] + y))

    @property
    def panels(self) -> Panels:
        """The panels; asked only of a request that has them."""
        if not isinstance(self.request.cloth, Panels):
            raise TypeError("a roll has no panels")
        return self.request.cloth

    @property
    def panels_end(self) -> float:
        """Where the last panel ends on the imagined roll."""
        return max(o.bounds[2] + s[0] for o, s in zip(self.panels.outlines, self.panel_starts, strict=True))

    def of_some(self, items: Sequence[int]) -> NestingTable:
        """The same ways for some of the items, on a roll without flaws and pinned pieces."""
        some = copy.copy(self)
        some.request = replace(self.request, cloth=replace(self.request.roll, flaws=()), pinned=())
        some.items = [self.items[i] for i in items]
        for name in ("obstacles", "obstacle_boxes", "priority"):
            some.__dict__.pop(name, None)
        if self.obstacles:
            some.table = some._table([g for w in self.ways if (g := some._ground(w))])  # noqa: SLF001 its own copy
        else:
            chosen = np.asarray(items, dtype=np.int64)
            table = self.table
            some.table = table._replace(
                way_first=table.way_first[chosen], way_count=table.way_count[chosen], area=table.area[chosen]
            )
        return some

    @cached_property
    def priority(self) -> Bools:
        """Of every item, whether its piece gets the best of the cloth."""
        return np.array([self.request.pieces[number].priority for number, _ in self.items], dtype=np.bool_)

    def where(self, placements: Sequence[Placement]) -> tuple[Floats, Floats, NDArray[np.int64]] | None:
        """Return x, y and way of every item that placements lay; None where one is not laid, or in a turn that no way
        has.
        """
        at, numbers = {}, {p.id: k for k, p in enumerate(self.request.pieces)}
        for placement in placements:
            number = numbers[placement.piece]
            ask = self.request.pieces[number]
            outline = hull_of(ask.outline) if self._is_rough else coarse(ask.outline)
            lying = _lying(ask, outline, placement.turn_degrees, placement.flip, ask.bound(self.request.repeat))
            way = next((w for w in self.of_piece[number] if _same(self.ways[w], lying)), None)
            if way is not None:
                at[number, placement.copy] = (placement.x + lying.corner[0], placement.y + lying.corner[1], way)
        if any(item not in at for item in self.items):
            return None
        x, y, way_of = (np.array([at[item][k] for item in self.items]) for k in range(3))
        return x, y, way_of.astype(np.int64)

    def placement(self, item: int, x: float, y: float, way: int) -> Placement:
        """Return an item's placement, from where the search has it."""
        number, copy = self.items[item]
        panel = 0
        if self.request.on_panels:
            lows = [o.bounds[0] + s[0] for o, s in zip(self.request.cloth.outlines, self.panel_starts, strict=True)]  # type: ignore[union-attr]
            panel = max(k for k, low in enumerate(lows) if x >= low - 1.0)
            x, y = x - self.panel_starts[panel][0], y - self.panel_starts[panel][1]
        return self.ways[way].placement(self.request.pieces[number], copy, x, y, panel)

    def _ground(self, way: Orientation) -> Ground | None:
        """Where a way may lie; None where it fits nowhere."""
        request = self.request
        if isinstance(request.cloth, Panels):
            shifted = [
                shapely.affinity.translate(inner_fit_on_panel(o, way.parts), *s)
                for o, s in zip(request.cloth.outlines, self.panel_starts, strict=True)
            ]
            return self._clear(way, shapely.union_all(shifted))
        room = inner_fit_on_roll(request.cloth.low, request.cloth.high, way.height, 4 * LONGEST)
        if room is None:
            return None
        if self._is_rough:
            return Ground(float(room[1]), float(room[3]), beside_boxes(room, self._boxed(way)))
        return self._clear(way, shapely.box(*room))

    def _clear(self, way: Orientation, ground: BaseGeometry) -> Ground | None:
        """What flaws and pinned pieces leave of a ground."""
        if self.obstacles and not ground.is_empty:
            blocked = no_fits([(o, way.parts) for o in self.obstacles], self.request.gap)
            ground = ground.difference(shapely.union_all(blocked, grid_size=GRID))
        if self.obstacles or self.request.on_panels:
            ground = ground.buffer(-SLIVER, join_style="mitre")
        if ground.is_empty:
            return None
        _, low, _, high = ground.bounds
        return Ground(low, high, bands_of(ground))

    @cached_property
    def _is_rough(self) -> bool:
        """Whether figures about the pieces do: a roll always goes on behind its flaws, on panels room is short."""
        return self.pairs == "eight-sided" and not self.request.on_panels

    def _boxed(self, way: Orientation) -> Floats:
        """Where a way's box would lie on the box about an obstacle, for each of them."""
        gap = self.request.gap + SLIVER
        boxes: Floats = self.obstacle_boxes + np.array([-way.width - gap, -way.height - gap, gap, gap])
        return boxes

    @cached_property
    def obstacle_boxes(self) -> Floats:
        """The boxes about the obstacles: least x and y, greatest x and y."""
        corners = [np.concatenate(parts) for parts in self.obstacles]
        return np.array([(*c.min(axis=0), *c.max(axis=0)) for c in corners]).reshape(-1, 4)

    @cached_property
    def obstacles(self) -> list[list[Floats]]:
        """Flaws and pinned pieces in convex parts, where they lie on the roll or the imagined one."""
        solid = [(f.outline, f.panel) for f in self.request.flaws]
        solid += [(p.on_cloth(self.request.by_id[p.piece]), p.panel) for p in self.request.pinned]
        return [[part + np.array(self.panel_starts[panel]) for part in convex_parts(o)] for o, panel in solid]

    def _heights(self, way: Orientation, ground: Ground) -> list[float] | None:
        """The heights allowed to a way by the repeat; None where it is free across."""
        repeat = self.repeat
        if not way.bound[1] or repeat is None or repeat.across is None:
            return None
        low, high = ground.low, ground.high
        begin = math.ceil((low + way.anchor[1] - repeat.origin[1]) / repeat.across - 1e-9)
        end = math.floor((high + way.anchor[1] - repeat.origin[1]) / repeat.across + 1e-9)
        heights = [repeat.origin[1] + j * repeat.across - way.anchor[1] for j in range(begin, end + 1)]
        return [min(max(h, low + 1e-6), high - 1e-6) for h in heights]

    def _table(self, grounds: Sequence[Ground]) -> ScanTable:
        k = len(self.ways)
        figures = end_to_end([figures_of([g.bands for g in grounds]), self._pairs])
        spans, reach, hints = marks_of(figures, HINTS)
        allowed = [self._heights(w, g) or [] for w, g in zip(self.ways, grounds, strict=True)]
        repeat = self.repeat
        ranges = [self.of_piece[number] for number, _ in self.items]
        return ScanTable(
            np.array([r.start for r in ranges], dtype=np.int64),
            np.array([len(r) for r in ranges], dtype=np.int64),
            np.array([w.width for w in self.ways], dtype=np.float64),
            np.array([w.height for w in self.ways], dtype=np.float64),
            np.array([w.anchor for w in self.ways], dtype=np.float64).reshape(k, 2),
            np.array([w.bound for w in self.ways], dtype=np.bool_).reshape(k, 2),
            np.concatenate([[0], np.cumsum([len(a) for a in allowed])]).astype(np.int64)[:k],
            np.array([len(a) for a in allowed], dtype=np.int64),
            np.array([h for a in allowed for h in a], dtype=np.float64),
            spans,
            figures.levels,
            figures.first,
            figures.sides,
            reach,
            hints,
            np.array(
                [(repeat.along or 0, repeat.across or 0, repeat.drop, *repeat.origin) if repeat else (0, 0, 0, 0, 0)],
                dtype=np.float64,
            )[0],
            np.array([self.request.pieces[number].outline.area for number, _ in self.items], dtype=np.float64),
            np.array([max((w.width for w in self.ways), default=0.0) + self.request.gap]),
        )

    @cached_property
    def _pairs(self) -> Figures:
        """The no-fit polygon of every pair, the first way's number times the count of ways plus the second's."""
        if self.pairs == "none":
            return figures_of([])
        figures = [w.parts if self.pairs == "whole" else (eight_sided(w.outline),) for w in self.ways]
        sizes = np.array([(w.width, w.height) for w in self.ways]).reshape(-1, 2)
        halves = Halves(self._turned_half, sizes)
        # those of eight sides do not slide past each other by a hair, which is worked out at once
        gap = self.request.gap if self.pairs == "whole" else max(self.request.gap, HAIR + TOUCH)
        return no_fits_of(figures, gap, touching=self.touching, halves=halves, stopped=self._halt)

    @property
    def touching(self) -> Bools:
        """Of every way, whether it may lie against others such."""
        return np.array([self.request.pieces[w.piece].touches for w in self.ways], dtype=np.bool_)

    @property
    def _turned_half(self) -> NDArray[np.int64]:
        """Of every way, which one is the same piece turned half round; -1 where there is none."""
        found = np.full(len(self.ways), -1, dtype=np.int64)
        for ways in self.of_piece:
            for one, other in itertools.permutations(ways, 2):
                mine, theirs = self.ways[one], self.ways[other]
                if mine.flip == theirs.flip and abs((mine.turn_degrees - theirs.turn_degrees) % 360 - 180) < 1e-9:
                    found[one] = other
        return found


def _turn(degrees: float) -> Floats:
    c, s = turn_of(degrees)
    return np.array([[c, s], [-s, c]])


def _tried_turns(request: LayRequest) -> list[tuple[float, ...]]:
    """The turns that are tried of each piece: all that are allowed, fewer where there would be too many ways."""
    wanted = [p.tried_turns for p in request.pieces]
    ways = sum(len(t) * len(p.flips) for t, p in zip(wanted, request.pieces, strict=True))
    if ways <= MOST_WAYS:
        return wanted
    each = max(4, MOST_WAYS // max(1, sum(len(p.flips) for p in request.pieces)))
    return [t if len(t) <= each else t[:: math.ceil(len(t) / each)] for t in wanted]
