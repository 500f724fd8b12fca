"""Rehearsing: what a panel or a practice piece is rehearsed on, the acts so far, what stands after them."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache, wraps
from threading import RLock
from typing import ParamSpec, TypeVar

from django.db import transaction

from zonatome.core.errors import BadInput
from zonatome.core.fasten.rehearsal import practice
from zonatome.core.fasten.rehearsal.acts import Act, Bench, left_of, pressed
from zonatome.core.fasten.rehearsal.faults import Sight, Suspect, find_fault
from zonatome.core.fasten.rehearsal.openings import Opening, opening_of, seams_of
from zonatome.core.fasten.rehearsal.orders import Next, School, in_school, next_staple, pins_of
from zonatome.core.fasten.rehearsal.printed import (
    UP_THE_ROLL,
    Mark,
    OffMark,
    marks_off,
    motif_on,
    notches_of,
    printed_on,
    warp_of,
)
from zonatome.core.fasten.rehearsal.seen import Seen, seen
from zonatome.core.fasten.rehearsal.sheet import USUAL_PULL, Board, Pin, Sheet, State, pulls_of, reaching
from zonatome.core.fasten.rehearsal.weave import Grid, Sort, Stretch, weave_of
from zonatome.core.fasten.staples import INSET, Order
from zonatome.core.formats.rehearsal_json import read_acts, write_acts
from zonatome.core.lay.request import Repeat
from zonatome.core.lay.table.on_a_panel import Affine
from zonatome.core.outline import Outline
from zonatome.web.fasten.services import cuts_of
from zonatome.web.jobs.models import JobPart
from zonatome.web.lay.in_place import placed_on_panels
from zonatome.web.lay.models import Cloth
from zonatome.web.lay.services import best_run
from zonatome.web.pad.services import stack_of
from zonatome.web.rehearse.models import Rehearsal, Try
from zonatome.web.trace.boards import board_of, chosen_of, is_round_board, plan_in, plan_of, shape_or_usual

SETTLES = 0.3  # of a pad's height is how much its middle stands above its edge
LEAST_CROWN, MOST_CROWN = 5.0, 80.0
SPARE = 24.0  # mm of cloth beyond the staples of a board that has no shape yet
FEWEST = 3  # places of a plan that make a board
BENCH = Bench()
ALONE = RLock()  # sheets are kept between requests: one is worked on at a time
Planned = Callable[[Order | None], tuple[Pin, ...]]


P = ParamSpec("P")
T = TypeVar("T")


def alone(work: Callable[P, T]) -> Callable[P, T]:
    """Let nobody else work on a sheet meanwhile."""

    @wraps(work)
    def worked(*args: P.args, **kwargs: P.kwargs) -> T:
        with ALONE:
            return work(*args, **kwargs)

    return worked


@dataclass(frozen=True)
class SetUp:
    """What is rehearsed on: the board with its cloth, the plan in an order, the cloth in words and its colour."""

    board: Board
    planned: Planned
    cloth: str
    colour: str
    name: str
    repeats: tuple[Repeat, ...] = ()
    lies: Affine = UP_THE_ROLL
    is_laid: bool = False
    stands: bool = False
    hand: float = USUAL_PULL

    @property
    def pulls(self) -> dict[str, float]:
        """The forces of a light, a usual and a strong pull, as the workroom has its hand, N."""
        return pulls_of(self.hand)

    @property
    def printed(self) -> tuple[Grid, ...]:
        """The figures of its cloth as they lie on the panel before any staple."""
        return _printed(self.board.edge, self.repeats, self.lies)

    @cached_property
    def marks(self) -> tuple[Mark, ...]:
        """The notches that belong on the board's marks, and the motif or stripe in the middle."""
        motifs = [motif_on(self.board.edge, repeat, self.lies) for repeat in self.repeats[:1]]
        return (*notches_of(self.board, self.plan), *motifs)

    @cached_property
    def plan(self) -> tuple[Pin, ...]:
        """The places of its staples, by the number that the page and the acts know."""
        return self.planned("cross first")

    @cached_property
    def in_force(self) -> tuple[Pin, ...]:
        """The places of its staples in the order of the panel's plan, as Fasten numbers them."""
        return self.planned(None)

    def in_school(self, school: School, pull: float) -> tuple[Pin, ...]:
        """Return the places in a school's order, each pulled alike."""
        pins = in_school(self.plan, school, self._by_school)
        return tuple(replace(pin, pull=pull) for pin in pins)

    def _by_school(self, school: School) -> tuple[Pin, ...]:
        return self.planned("one side whole" if school == "one side whole" else "cross first")


@dataclass(frozen=True)
class Stand:
    """How a rehearsal stands: its set-up, the acts, the sheet at rest after them, what one sees; places left."""

    set_up: SetUp
    acts: tuple[Act, ...]
    sheet: Sheet
    state: State
    seen: Seen
    left: list[int]

    @cached_property
    def offs(self) -> tuple[OffMark, ...]:
        """How far notches and the motif are off their marks."""
        return marks_off(self.sheet, self.state, self.set_up.marks) if self.state.pins else ()

    @property
    def offs_said(self) -> list[tuple[str, str]]:
        """Of each mark its name, and which way it is off in words."""
        return [(off.name, off.words(stands=self.set_up.stands)) for off in self.offs]


def set_up_for(part: JobPart) -> SetUp:
    """Return what a panel is rehearsed on: its face up, its board's or its rails' staples as they are planned.

    Raises BadInput where staples do not hold it, or too few.
    """
    cloth = part.cloth.cloth if part.cloth else None
    sort = sort_of(cloth)
    stretch: Stretch = cloth.stretch if cloth else ""  # type: ignore[assignment]  # one of its choices
    edge, whole, planned = _on_a_board(part) if is_round_board(part) else _on_rails(part)
    if len(planned("cross first")) < FEWEST:
        raise BadInput("staples", 0, "a panel that staples hold", words="No edge of this panel is held by staples.")
    repeats, lies = laid_on(part)
    turn = warp_of(lies or UP_THE_ROLL)
    opened = openings_of(part)
    board = Board(
        whole,
        edge,
        weave_of(sort, stretch),
        crown=crown_of(part),
        warp_degrees=turn,
        holes=tuple(one.hole for one in opened),
        slits=tuple(one.slit for one in opened),
        seams=() if is_round_board(part) else seams_of(shape_or_usual(part)),
    )
    words = cloth.name if cloth else "a usual weave"
    colour = cloth.seen_colour if cloth else "#b9a98a"
    is_laid, lies = lies is not None, lies or UP_THE_ROLL
    return SetUp(
        board, planned, words, colour, part.name, repeats, lies, is_laid, part.part.stands, part.job.rules["hand_pull"]
    )


def openings_of(part: JobPart) -> tuple[Opening, ...]:
    """Return what the relief cuts that are chosen for a panel open, where it goes on rails; none for a cut that can't
    be, which Fasten says.
    """
    if is_round_board(part):
        return ()
    cuts = cuts_of(shape_or_usual(part), chosen_of(part))
    return tuple(opening_of(cut, one.post) for one, cut, _ in cuts if cut is not None)


def laid_on(part: JobPart) -> tuple[tuple[Repeat, ...], Affine | None]:
    """Return the repeat of a panel's cloth, none of a plain one, and how the cloth lies on the panel as its lay has it;
    None where it is not laid yet: then a motif or a stripe is in the middle.
    """
    if part.cloth is None:
        return (), None
    run = best_run(part.cloth)
    if run is None or run.best is None:
        with suppress(BadInput):
            repeat = part.cloth.cloth.repeat
            return ((replace(repeat, origin=(0.0, 0.0)),) if repeat else ()), None
        return (), None
    asked = run.asked()
    at = {(p.piece, p.copy): p for p in run.lay().placements}
    repeats = (asked.repeat,) if asked.repeat else ()
    return repeats, placed_on_panels(part.cloth, asked, at).get(part.key)


@lru_cache(maxsize=24)
def _printed(edge: Outline, repeats: tuple[Repeat, ...], lies: Affine) -> tuple[Grid, ...]:
    return printed_on(edge, repeats, lies)


def sort_of(cloth: Cloth | None) -> Sort:
    """Return which sort a cloth is taken for, by what is known of it."""
    if cloth is None:
        return "weave"
    if cloth.is_hide:
        return "hide"
    if cloth.direction == "any":
        return "vinyl"
    if cloth.stretch == "both":
        return "knit"
    return "velvet" if cloth.direction == "one_way" and cloth.pattern == "plain" else "weave"


def crown_of(part: JobPart) -> float:
    """Return how much the middle of a panel's pad stands above its edge, mm: a share of the pad's height."""
    try:
        high = sum(layer.thickness for layer in stack_of(part).layers)
    except BadInput:
        high = 0.0
    return min(MOST_CROWN, max(LEAST_CROWN, SETTLES * high))


def _on_rails(part: JobPart) -> tuple[Outline, Outline, Planned]:
    shape = shape_or_usual(part)

    def planned(order: Order | None) -> tuple[Pin, ...]:
        return _planned(part, order)

    return shape.outline, reaching(shape.cut_line, planned("cross first")), planned


def _on_a_board(part: JobPart) -> tuple[Outline, Outline, Planned]:
    """A board with its own staples: they are planned as seen from below and are unrolled face up, beyond its edge."""
    board = board_of(part)
    x0, _, x1, _ = board.outline.bounds
    edge = Outline(tuple((x0 + x1 - x, y) for x, y in reversed(board.outline.points)))
    beyond = board.thickness + 2 * INSET
    adds = max(board.thickness + part.wrap, beyond + SPARE)

    def planned(order: Order | None) -> tuple[Pin, ...]:
        found = _planned(part, order)
        return tuple(
            replace(p, x=x0 + x1 - p.x - p.out[0] * beyond, y=p.y + p.out[1] * beyond, out=(-p.out[0], p.out[1]))
            for p in found
        )

    return edge, practice.grown(edge, adds), planned


def _planned(part: JobPart, order: Order | None) -> tuple[Pin, ...]:
    """The places of a panel's staples in an order; None: in that of its plan."""
    plan = plan_of(part) if order is None else plan_in(part, order)
    return pins_of(plan.first_row)


def practice_set_up(piece: practice.Piece) -> SetUp:
    """Return what a practice piece is rehearsed on."""

    def planned(order: Order | None) -> tuple[Pin, ...]:
        return piece.planned(order or "cross first")

    return SetUp(piece.board, planned, piece.cloth, COLOURS[piece.sort], piece.name, piece.repeats)


COLOURS = {"weave": "#7a8450", "velvet": "#8c4a5a", "vinyl": "#51708a", "hide": "#9a6248", "knit": "#7d6a8c"}


@alone
def stand_of(set_up: SetUp, acts: tuple[Act, ...]) -> Stand:
    """Return how a rehearsal stands. Raises BadInput for acts that the board does not know: its plan has changed."""
    rest, found = _rested(set_up.board, set_up.plan, acts)
    return Stand(set_up, acts, BENCH.sheet(set_up.board), rest, found, left_of(set_up.plan, rest))


@lru_cache(maxsize=48)
def _rested(board: Board, plan: tuple[Pin, ...], acts: tuple[Act, ...]) -> tuple[State, Seen]:
    """The sheet at rest after acts and what one sees of it, which an act asks for before and after it."""
    sheet = BENCH.sheet(board)
    rest = sheet.at_rest(BENCH.after(board, plan, acts))
    return rest, seen(sheet, rest)


@lru_cache(maxsize=24)
def _played_seen(board: Board, pins: tuple[Pin, ...]) -> tuple[State, Seen]:
    sheet = BENCH.sheet(board)
    state = sheet.played(pins)
    return state, seen(sheet, state)


@alone
def school_stand(set_up: SetUp, school: School, pull: float) -> Stand:
    """Return how a board stands that was stapled whole in a school's order."""
    return played_stand(set_up, set_up.in_school(school, pull))


@alone
def played_stand(set_up: SetUp, pins: tuple[Pin, ...]) -> Stand:
    """Return how a board stands that was stapled whole with these staples, in their order."""
    state, found = _played_seen(set_up.board, pins)
    return Stand(set_up, (), BENCH.sheet(set_up.board), state, found, [])


def pull_of(set_up: SetUp, words: str) -> float:
    """Return the force of a pull by its name. Raises BadInput for another."""
    if words not in set_up.pulls:
        raise BadInput("pull", words[:20], "light, usual or strong")
    return set_up.pulls[words]


# ------------------------------------------------------------------------------------------ what is done


@alone
def act_pressed(stand: Stand, x: float, y: float, pull: float) -> Act:
    """Return the act that a press at a place of the sheet means."""
    return pressed(stand.set_up.board, stand.set_up.plan, stand.state, (x, y), pull)


@alone
def what_next(stand: Stand, pull: float) -> tuple[Next, int]:
    """Return which staple comes next and its number in the plan. Raises BadInput where all are in."""
    left = [replace(stand.set_up.plan[n], pull=pull) for n in stand.left]
    found = next_staple(stand.sheet, stand.state, left)
    return found, stand.left[found.number]


def played_on(stand: Stand, school: School, pull: float, count: int) -> tuple[Act, ...]:
    """Return the acts that go on in a school's order with so many staples of those that are left."""
    plan, order = stand.set_up.plan, stand.set_up.in_school(school, pull)
    number = {(round(pin.x, 2), round(pin.y, 2)): n for n, pin in enumerate(plan)}
    left = set(stand.left)
    following = [number[round(p.x, 2), round(p.y, 2)] for p in order if number[round(p.x, 2), round(p.y, 2)] in left]
    return (*stand.acts, *(Act("set", n, None, pull) for n in following[:count]))


@alone
def as_planned(set_up: SetUp) -> Stand:
    """Return the board as it should be, stapled in its plan's order."""
    return played_stand(set_up, tuple(replace(pin, pull=set_up.hand) for pin in set_up.in_force))


@alone
def suspects_of(stand: Stand, sights: tuple[Sight, ...]) -> tuple[Suspect, ...]:
    """Return the staples that are likely at fault, of a board as it should be."""
    return find_fault(stand.sheet, stand.state, sights)


# ------------------------------------------------------------------------------------------ what is kept


def rehearsal_of(part: JobPart) -> Rehearsal:
    """Return what is kept of a panel's rehearsal, a new one where there is none."""
    return Rehearsal.objects.filter(part=part).first() or Rehearsal(part=part)


def try_of(who: str, piece: practice.Piece) -> Try:
    """Return somebody's try at a practice piece, a new one where there is none."""
    return Try.objects.filter(who=who, piece=piece.key).first() or Try(who=who, piece=piece.key)


def acts_of(row: Rehearsal | Try) -> tuple[Act, ...]:
    """Return the acts that are kept. Raises BadInput where the row holds something else."""
    return read_acts(row.acts)


def keep_acts(row: Rehearsal | Try, acts: tuple[Act, ...]) -> None:
    """Keep acts."""
    row.acts = write_acts(acts)
    row.save()


def judge(row: Try, piece: practice.Piece) -> practice.Scored:
    """Score a try and keep it if it is the best so far. Raises BadInput for a board that is not stapled yet."""
    stand = stand_of(practice_set_up(piece), acts_of(row))
    count = len(stand.state.pins)
    least = practice.least_staples(stand.set_up.plan)
    found = practice.scored(piece, stand.seen, count, least=least, helps=row.helps)
    with transaction.atomic():
        row.tries += 1
        if row.best is None or found.points > row.best:
            row.best, row.best_words = found.points, "; ".join(found.words)[:200]
        row.save()
    return found
