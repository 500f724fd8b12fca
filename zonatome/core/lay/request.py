"""What a lay is asked for and what it is: plain values, in the cloth's frame.

x runs along the roll from the squared end at x = 0; y runs across it from one selvage edge at y = 0 to the
other at y = width. A piece is drawn as it lies up the roll, its top toward x = 0. Cloth in panels (remnants,
curtain lengths, hides) has a frame for each panel, x along, y across.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from zonatome.core.outline import Outline, Point, degrees_apart, turn_of

Direction = Literal["along", "across", "bias"]
STRIP_TURNS: dict[str, tuple[float, ...]] = {"along": (0.0,), "across": (-90.0,), "bias": (45.0, -45.0)}
WHOLE_DEGREES = tuple(float(d) for d in range(360))

BETWEEN_PANELS = 1_000.0  # mm: panels lie this far apart on the roll that the search imagines


@dataclass(frozen=True)
class Repeat:
    """Where motif centres stand: y = origin y + j across, x = origin x + (i + drop j) along, i and j whole.

    Where `along` or `across` is None, that coordinate is not bound: a lengthwise stripe has only `across`.
    """

    along: float | None = None
    across: float | None = None
    drop: float = 0.0
    origin: Point = (0.0, 0.0)

    def column(self, y: float) -> int:
        """The number j of the motif column nearest a height."""
        return round((y - self.origin[1]) / self.across) if self.across else 0

    def off(self, at: Point, *, along: bool, across: bool) -> Point:
        """How far a point is from the nearest motif centre, along and across; 0 where it is not bound."""
        column = self.column(at[1])
        off_x = off_y = 0.0
        if across and self.across:
            off_y = abs(at[1] - self.origin[1] - column * self.across)
        if along and self.along:
            x = at[0] - self.origin[0] - self.drop * column * self.along
            off_x = abs(x - self.along * round(x / self.along))
        return off_x, off_y


@dataclass(frozen=True)
class Roll:
    """A roll: its width, what is lost at the edge y = 0 and at the edge y = width, its repeat, its flaws."""

    width: float
    selvage: tuple[float, float] = (0.0, 0.0)
    repeat: Repeat | None = None
    flaws: tuple[Outline, ...] = ()

    @property
    def low(self) -> float:
        """Where the usable cloth begins, in y."""
        return self.selvage[0]

    @property
    def high(self) -> float:
        """Where it ends."""
        return self.width - self.selvage[1]

    @property
    def usable(self) -> float:
        """The usable width."""
        return self.high - self.low


@dataclass(frozen=True)
class Flaw:
    """A place on a panel that no piece may touch."""

    panel: int
    outline: Outline


@dataclass(frozen=True)
class Panels:
    """Cloth that is there: each panel's outline in its own frame, the flaws on them, and where each panel's motif
    stands.

    `repeats` is empty, or has one for every panel: of one cloth, so with the same steps, each with an origin of its
    own.
    """

    outlines: tuple[Outline, ...]
    flaws: tuple[Flaw, ...] = ()
    repeats: tuple[Repeat, ...] = ()

    @property
    def area(self) -> float:
        """The area of all panels in mm2, flaws included."""
        return sum(o.area for o in self.outlines)

    @property
    def starts(self) -> tuple[Point, ...]:
        """By how many mm each panel's frame is moved, along and across, so that all lie one behind the other on an
        imagined roll.

        Where they have a repeat, each is moved on until its motif falls in step with the first one's: one repeat then
        holds on all.
        """
        starts: list[Point] = []
        x = 0.0
        for number, outline in enumerate(self.outlines):
            x0, _, x1, _ = outline.bounds
            start = (x - x0, 0.0)
            if self.repeats and number:
                first, mine = self.repeats[0], self.repeats[number]
                on = (first.origin[0] + starts[0][0] - mine.origin[0] - start[0]) % first.along if first.along else 0.0
                start = (start[0] + on, first.origin[1] - mine.origin[1] if first.across else 0.0)
            starts.append(start)
            x = x1 + start[0] + BETWEEN_PANELS
        return tuple(starts)


@dataclass(frozen=True)
class PieceAsk:
    """A shape to cut `count` times. `turns`: the turns allowed in degrees, None for any.

    `anchor` is the point that must land on a motif centre, in the coordinates that `match_along` and
    `match_across` bind; without one the piece lies free. `priority` pieces get the best of a hide.
    Those that are `touches` keep no gap between each other: strips, where a search moves them too.
    """

    id: str
    outline: Outline
    count: int
    turns: tuple[float, ...] | None = (0.0,)
    flip: bool = False
    anchor: Point | None = None
    match_along: bool = False
    match_across: bool = False
    priority: bool = False
    touches: bool = False

    @cached_property
    def tried_turns(self) -> tuple[float, ...]:
        """The turns that a search over a fixed table tries: for any turn, every fifteenth degree."""
        return self.turns if self.turns is not None else WHOLE_DEGREES[::15]

    @property
    def flips(self) -> tuple[bool, ...]:
        """As drawn, and as its mirror image where that is allowed."""
        return (False, True) if self.flip else (False,)

    def bound(self, repeat: Repeat | None) -> tuple[bool, bool]:
        """Whether the piece is bound along and across on a cloth with this repeat."""
        if repeat is None or self.anchor is None:
            return False, False
        return self.match_along and repeat.along is not None, self.match_across and repeat.across is not None

    def may_turn(self, degrees: float) -> bool:
        """Whether a turn is among those allowed."""
        return self.turns is None or any(degrees_apart(degrees, t) <= 1e-6 for t in self.turns)


@dataclass(frozen=True)
class StripAsk:
    """Narrow cuts joined end to end: each of `width`, at least `shortest`; sum of (length - join) >= `total`.

    `one_way` strips, of pile, lie on the bias to one hand only: to the other the cord would look like another colour.
    """

    id: str
    width: float
    total: float
    join: float = 0.0
    shortest: float = 500.0
    directions: tuple[Direction, ...] = ("across", "along")
    one_way: bool = False

    @property
    def turns(self) -> tuple[float, ...]:
        """The turns in which its strips may lie, in degrees."""
        found = tuple(t for way in self.directions for t in STRIP_TURNS[way])
        return found[:1] if self.one_way else found

    @property
    def least_area(self) -> float:
        """The cloth that the strip takes at the least, in mm2: one cut, one join."""
        return self.width * (self.total + self.join)


@dataclass(frozen=True)
class Placement:
    """One copy of a piece on the cloth: mirrored if `flip`, turned about (0, 0), then moved by (x, y)."""

    piece: str
    copy: int
    x: float
    y: float
    turn_degrees: float = 0.0
    flip: bool = False
    panel: int = 0

    def on_cloth(self, ask: PieceAsk) -> Outline:
        """Return the outline where it lies."""
        return ask.outline.placed(self.x, self.y, turn_degrees=self.turn_degrees, flip=self.flip)

    def spot(self, at: Point) -> Point:
        """Return where a point of the piece lies."""
        x, y = at[0], -at[1] if self.flip else at[1]
        c, s = turn_of(self.turn_degrees)
        return c * x - s * y + self.x, s * x + c * y + self.y


@dataclass(frozen=True)
class LayRequest:
    """Cloth, gap, pieces and strips, and the pieces that stay where they were pinned: all that decides a lay."""

    cloth: Roll | Panels
    gap: float
    pieces: tuple[PieceAsk, ...]
    strips: tuple[StripAsk, ...] = ()
    pinned: tuple[Placement, ...] = ()

    @property
    def roll(self) -> Roll:
        """The roll; asked only of a request that has one."""
        if not isinstance(self.cloth, Roll):
            raise TypeError("a request on panels has no roll")
        return self.cloth

    @property
    def on_panels(self) -> bool:
        """Whether the cloth is what there is, rather than a roll of a length to be found."""
        return isinstance(self.cloth, Panels)

    @property
    def repeat(self) -> Repeat | None:
        """The cloth's repeat, on panels the first one's; None for a plain cloth, and where no motif was measured."""
        return self.repeat_on(0)

    def repeat_on(self, panel: int) -> Repeat | None:
        """The repeat in the frame of a panel; a roll is panel 0."""
        if isinstance(self.cloth, Roll):
            return self.cloth.repeat
        return self.cloth.repeats[panel] if self.cloth.repeats else None

    @property
    def flaws(self) -> tuple[Flaw, ...]:
        """The flaws, those of a roll on panel 0."""
        if isinstance(self.cloth, Panels):
            return self.cloth.flaws
        return tuple(Flaw(0, outline) for outline in self.cloth.flaws)

    @property
    def piece_count(self) -> int:
        """How many pieces there are to cut."""
        return sum(piece.count for piece in self.pieces)

    @cached_property
    def by_id(self) -> dict[str, PieceAsk]:
        """The pieces by their id."""
        return {piece.id: piece for piece in self.pieces}

    @property
    def is_plain(self) -> bool:
        """Whether nothing binds the pieces but nap and gap: a roll without repeat, flaws or pinned pieces."""
        bound = any(any(p.bound(self.repeat)) for p in self.pieces)
        return not (self.on_panels or self.flaws or self.pinned or bound)


@dataclass(frozen=True)
class StripCut:
    """One strip on the cloth, a rectangle with square ends; `length` is its long way."""

    strip: str
    outline: Outline
    length: float
    panel: int = 0


@dataclass(frozen=True)
class Lay:
    """A lay: what lies where, and its figures.

    `length` is the roll used, `bound` a length that no lay of the request can beat (both 0 on panels), `used`
    the share of the usable cloth covered; `method` says how it was found. `unplaced` counts what does not fit,
    `short` is what strips lack, in mm.
    """

    length: float
    used: float
    bound: float
    seconds: float
    placements: tuple[Placement, ...]
    strips: tuple[StripCut, ...] = ()
    unplaced: tuple[tuple[str, int], ...] = ()
    method: str = "rows"
    short: tuple[tuple[str, float], ...] = ()
    on_panels: bool = False

    @property
    def is_whole(self) -> bool:
        """Whether all that was asked for is laid."""
        return not (self.unplaced or self.short)


def whole_area(request: LayRequest, lay_panels: set[int], length: float) -> float:
    """The area that the share used is reckoned on: the roll's usable width times a length, or the panels touched."""
    if isinstance(request.cloth, Panels):
        return sum(request.cloth.outlines[k].area for k in lay_panels)
    return length * request.cloth.usable
