"""Practice: ten made-up pieces, each with a cloth and a task, and what a try at one is worth. Lengths in mm."""

from __future__ import annotations

import math
from dataclasses import dataclass

from zonatome.core.errors import BadInput
from zonatome.core.fasten.rehearsal.orders import pins_of
from zonatome.core.fasten.rehearsal.seen import Seen
from zonatome.core.fasten.rehearsal.sheet import Board, Pin
from zonatome.core.fasten.rehearsal.weave import Sort, Stretch, weave_of
from zonatome.core.fasten.staples import INSET, Order, staple_plan
from zonatome.core.lay.request import Repeat
from zonatome.core.outline import Outline, Point, offset_by_edge, outline_of

PRINTED: dict[str, tuple[Repeat, ...]] = {  # of cloths that are not plain
    "striped weave": (Repeat(None, 60.0),),
    "checked weave": (Repeat(None, 85.0), Repeat(85.0, None)),
}
ROUND = 48  # sides of a round board as it is drawn
WHOLE, PARTS = 100, (45, 25, 20)  # points: for threads, slack and tension; the rest for staples
FOR_A_HELP = 1  # point less for each time that it was asked what comes next
FOR_STAPLES = 1  # point less for each staple above what was asked


@dataclass(frozen=True)
class Task:
    """What is asked of a try: the worst thread off by so much at most, mm; slack of so much at most, in mm of a metre;
    not more staples than so many; a tension of so much at the least, N for each cm of width.
    """

    off: float
    slack: float
    staples: int
    tension: float


@dataclass(frozen=True)
class Piece:
    """A made-up piece: its name, its board, how it is stapled, its cloth in words, its task, what it teaches."""

    key: str
    name: str
    points: tuple[Point, ...]
    sort: Sort
    cloth: str
    task: Task
    teaches: str
    stretch: Stretch = ""
    crown: float = 20.0
    thick: float = 16.0
    pitch: float = 40.0
    is_round: bool = False

    @property
    def edge(self) -> Outline:
        """The line at which its cloth turns."""
        return outline_of(self.points)

    @property
    def repeats(self) -> tuple[Repeat, ...]:
        """Its stripes, or its check; none of a plain cloth."""
        return PRINTED.get(self.cloth, ())

    @property
    def board(self) -> Board:
        """What it is rehearsed on."""
        adds = self.thick + INSET + 30.0
        return Board(grown(self.edge, adds), self.edge, weave_of(self.sort, self.stretch), crown=self.crown)

    def planned(self, order: Order = "cross first") -> tuple[Pin, ...]:
        """Return the places of its staples, in an order."""
        wood = grown(self.edge, self.thick + 2 * INSET)
        return pins_of(staple_plan(wood, pitch=self.pitch, order=order, is_round=self.is_round).staples)


def grown(edge: Outline, by: float) -> Outline:
    """Return an outline moved outward all round."""
    return offset_by_edge(edge, [by] * len(edge.points))


def _box(width: float, height: float, above: float | None = None) -> tuple[Point, ...]:
    half = ((above if above is not None else width) - width) / 2
    return ((0.0, 0.0), (width, 0.0), (width + half, height), (-half, height))


def _disc(across: float) -> tuple[Point, ...]:
    turns = [2 * math.pi * k / ROUND for k in range(ROUND)]
    return tuple((across / 2 * (1 + math.cos(t)), across / 2 * (1 + math.sin(t))) for t in turns)


PIECES: tuple[Piece, ...] = (
    Piece("stool", "A square stool", _box(360, 360), "weave", "striped weave", Task(1.4, 0.5, 60, 4.0),
          "Middles first."),
    Piece("drop_in", "A drop-in seat", _box(460, 400, 410), "weave", "striped weave", Task(1.3, 0.5, 60, 4.0),
          "It narrows: mark its middle before all else."),
    Piece("round_stool", "A round stool", _disc(340), "weave", "checked weave", Task(1.5, 0.3, 40, 4.0),
          "12, 6, 3 and 9 o’clock, then every gap halved.", is_round=True),
    Piece("vinyl", "A kitchen chair’s seat", _box(420, 400, 380), "vinyl", "vinyl", Task(1.0, 0.5, 48, 4.0),
          "It gives much and forgives nothing: not a staple too many."),
    Piece("velvet", "A stool in velvet", _box(500, 380), "velvet", "velvet", Task(1.3, 0.2, 60, 4.0),
          "Pull no dent into the pile."),
    Piece("knit", "A cushion board in knit", _box(440, 440), "knit", "knit", Task(2.2, 0.4, 60, 1.5),
          "Little pull is enough.", stretch="both"),
    Piece("crowned", "A crowned seat", _box(480, 440, 430), "weave", "striped weave", Task(3.3, 0.6, 60, 5.0),
          "A high crown takes up more in the middle than at the corners.", crown=45.0),
    Piece("bench", "A bench", _box(1000, 340), "weave", "striped weave", Task(1.5, 0.3, 62, 3.0),
          "Long edges: the stripe bows where the middle is pulled more than the ends.", pitch=50.0),
    Piece("hide", "A seat in hide", _box(500, 460), "hide", "hide", Task(0.8, 0.2, 56, 3.5),
          "An even pull, and no hole twice.", pitch=45.0),
    Piece("inside_wing", "A wing’s inside back", _box(520, 620, 560), "velvet", "velvet", Task(1.2, 0.3, 76, 2.0),
          "Taller than wide: the long threads show every pull.", crown=30.0),
)  # fmt: skip
BY_KEY = {piece.key: piece for piece in PIECES}


@dataclass(frozen=True)
class Scored:
    """What a try is worth: points of 100, whether all that was asked holds, and what it was, in words."""

    points: int
    is_held: bool
    words: tuple[str, ...]


def scored(piece: Piece, found: Seen, staples: int, *, least: int, helps: int = 0) -> Scored:
    """Return what a try is worth: most for threads, then slack, tension and staples; all of it where everything
    that was asked holds. `least` are the staples that it takes at the least to hold the edge.

    Raises BadInput for a board that is not stapled yet.
    """
    if staples < least:
        raise BadInput(
            "staples",
            staples,
            f"at least {least}",
            words=f"{least - staples} more staples are wanted before it is judged.",
        )
    task = piece.task
    slack = found.too_long
    threads = min(1.0, task.off / max(found.off, 1e-6))
    taut = min(1.0, task.slack / max(slack, 1e-6))
    over = max(0, staples - task.staples)
    tension = found.tension_per_cm
    firm = min(1.0, tension / task.tension)
    shares = sum(part * share for part, share in zip(PARTS, (threads, taut, firm), strict=True))
    points = max(0, round(shares) + max(0, WHOLE - sum(PARTS) - FOR_STAPLES * over) - FOR_A_HELP * helps)
    told = (
        _said("the worst thread is off by", found.off, task.off, " mm"),
        _said("the cloth is too long, in a thousand, by", slack, task.slack, ""),
        f"the tension is {tension:.1f} N/cm; {task.tension:.1f} N/cm asked: {_held(firm >= 1)}",
        f"{staples} staples, {f'{over} more than asked' if over else 'as asked'}",
        *([f"what comes next was asked {helps} times, a point less for each"] if helps else []),
    )
    return Scored(points, min(threads, taut, firm) >= 1 and not over, told)


def _said(what: str, found: float, asked: float, unit: str) -> str:
    return f"{what} {found:.1f}{unit}; {asked:.1f}{unit} asked: {_held(found <= asked)}"


def _held(is_so: bool) -> str:
    return "holds" if is_so else "does not hold"


def least_staples(plan: tuple[Pin, ...]) -> int:
    """Return how many staples a board takes at the least: half its plan."""
    return (len(plan) + 1) // 2
