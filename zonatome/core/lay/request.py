"""What a lay is asked for and what it is: plain values, in the cloth's frame.

x runs along the roll from the squared end at x = 0; y runs across it from one selvage edge at y = 0 to the
other at y = width. A piece is drawn as it lies up the roll, its top toward x = 0.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from zonatome.core.outline import Outline

Direction = Literal["along", "across", "bias"]
WHOLE_DEGREES = tuple(float(d) for d in range(360))


@dataclass(frozen=True)
class Roll:
    """A roll of plain cloth: its width and what is lost at the edge y = 0 and at the edge y = width."""

    width: float
    selvage: tuple[float, float] = (0.0, 0.0)

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
class PieceAsk:
    """A shape to cut `count` times. `turns`: the turns allowed in degrees, None for any."""

    id: str
    outline: Outline
    count: int
    turns: tuple[float, ...] | None = (0.0,)
    flip: bool = False

    @cached_property
    def tried_turns(self) -> tuple[float, ...]:
        """The turns that a search over a fixed table tries: for any turn, every fifteenth degree."""
        return self.turns if self.turns is not None else WHOLE_DEGREES[::15]


@dataclass(frozen=True)
class StripAsk:
    """Narrow cuts joined end to end: each of `width`, at least `shortest`; sum of (length - join) >= `total`."""

    id: str
    width: float
    total: float
    join: float = 0.0
    shortest: float = 500.0
    directions: tuple[Direction, ...] = ("across", "along")


@dataclass(frozen=True)
class LayRequest:
    """Cloth, gap, pieces and strips: all that decides a lay."""

    roll: Roll
    gap: float
    pieces: tuple[PieceAsk, ...]
    strips: tuple[StripAsk, ...] = ()

    @property
    def piece_count(self) -> int:
        """How many pieces there are to cut."""
        return sum(piece.count for piece in self.pieces)

    @cached_property
    def by_id(self) -> dict[str, PieceAsk]:
        """The pieces by their id."""
        return {piece.id: piece for piece in self.pieces}


@dataclass(frozen=True)
class Placement:
    """One copy of a piece on the cloth: mirrored if `flip`, turned about (0, 0), then moved by (x, y)."""

    piece: str
    copy: int
    x: float
    y: float
    turn_degrees: float = 0.0
    flip: bool = False

    def on_cloth(self, ask: PieceAsk) -> Outline:
        """Return the outline where it lies."""
        return ask.outline.placed(self.x, self.y, turn_degrees=self.turn_degrees, flip=self.flip)


@dataclass(frozen=True)
class StripCut:
    """One strip on the cloth, a rectangle with square ends; `length` is its long way."""

    strip: str
    outline: Outline
    length: float


@dataclass(frozen=True)
class Lay:
    """A lay: what lies where, and its figures.

    `length` is the roll used, `bound` a length that no lay of the request can beat, `used` the share of
    the usable cloth covered; `method` says how it was found.
    """

    length: float
    used: float
    bound: float
    seconds: float
    placements: tuple[Placement, ...]
    strips: tuple[StripCut, ...] = ()
    unplaced: tuple[tuple[str, int], ...] = ()
    method: str = "rows"
