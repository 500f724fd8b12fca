"""The orders of a panel's staples beside each other: asked of the worker, kept as they are found, one made the plan."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass, replace
from functools import lru_cache

from django.db import transaction

from zonatome.core.errors import BadInput
from zonatome.core.fasten.rehearsal.orders import FOUND, SCHOOLS, gained, sequence_of
from zonatome.core.fasten.rehearsal.seen import Seen, seen
from zonatome.core.fasten.rehearsal.sheet import Board, Pin, State
from zonatome.core.formats.fastening_json import write_fastening
from zonatome.core.formats.sheet_npz import read_sheet
from zonatome.web.jobs.models import JobPart
from zonatome.web.rehearse.models import OrdersRun, PlayedOrder
from zonatome.web.rehearse.services import BENCH, SetUp, Stand, alone, as_planned, school_stand
from zonatome.web.trace.boards import chosen_of

AT_ONCE = 80  # staples: what takes more is played by the worker, not while somebody waits for the page
NAMES = (*SCHOOLS, FOUND)


def words_of(name: str) -> str:
    """Return what an order is called on the page."""
    return "Found for this board" if name == FOUND else name.capitalize()


@dataclass(frozen=True)
class OrderRow:
    """One order in the table: its name, what one sees in the end, what the found one gains over it, whether it is the
    panel's plan.
    """

    name: str
    seen: Seen
    gains: str
    is_plan: bool

    @property
    def is_found(self) -> bool:
        """Whether it is the one that was found for this board."""
        return self.name == FOUND

    @property
    def words(self) -> str:
        """Its name on the page."""
        return words_of(self.name)


def fingerprint_of(set_up: SetUp, pull: str) -> str:
    """Return what tells one board with its cloth, its plan and a pull from another."""
    return hashlib.sha1(
        repr((set_up.board, set_up.plan, set_up.pulls[pull])).encode(), usedforsecurity=False
    ).hexdigest()


def run_of(part: JobPart, set_up: SetUp, pull: str) -> OrdersRun | None:
    """Return the run of a panel as it is now; None where there is none, or what it was made from has changed."""
    return OrdersRun.objects.filter(part=part, fingerprint=fingerprint_of(set_up, pull)).first()


def ask_for_orders(part: JobPart, set_up: SetUp, pull: str) -> OrdersRun:
    """Ask the worker to play the schools and to find an order; what is asked already is not asked twice."""
    from zonatome.web.rehearse.tasks import find_orders  # noqa: PLC0415 the task itself asks these services

    run = run_of(part, set_up, pull)
    if run is not None and run.state != "failed":
        return run
    with transaction.atomic():
        OrdersRun.objects.filter(part=part).delete()
        run = OrdersRun.objects.create(
            part=part, pull=pull, fingerprint=fingerprint_of(set_up, pull), whole=len(set_up.plan)
        )
    find_orders.enqueue(run.pk)
    return run


def give_up(part: JobPart) -> None:
    """Take back what was asked of the worker; a run at work ends at its next staple."""
    OrdersRun.objects.filter(part=part, state__in=OrdersRun.OPEN).delete()


@alone
def stand_of_order(set_up: SetUp, row: PlayedOrder) -> Stand:
    """Return the board as an order left it. Raises BadInput where the row holds something else."""
    state, found = _left(set_up.board, pins_in(set_up, row), bytes(row.sheet))
    return Stand(set_up, (), BENCH.sheet(set_up.board), state, found, [])


@lru_cache(maxsize=32)
def _left(board: Board, pins: tuple[Pin, ...], content: bytes) -> tuple[State, Seen]:
    """The sheet that was kept and what one sees of it, which every look at the page asks for."""
    sheet = BENCH.sheet(board)
    state = read_sheet(content, pins, sheet.count)
    return state, seen(sheet, state)


def pins_in(set_up: SetUp, row: PlayedOrder) -> tuple[Pin, ...]:
    """Return the staples of an order that was played."""
    pull = set_up.pulls[row.run.pull]
    return tuple(replace(set_up.plan[n], pull=pull) for n in row.sequence)


def beside(set_up: SetUp, run: OrdersRun | None, name: str, pull: float) -> Stand | None:
    """Return the board as an order leaves it: as the worker has played it, else played at once where that is soon
    done; None where it is not.
    """
    row = run.orders.filter(name=name).first() if run is not None else None
    if row is not None:
        return stand_of_order(set_up, row)
    school = next((one for one in SCHOOLS if one == name), None)
    if school is None or len(set_up.plan) > AT_ONCE:
        return None
    return school_stand(set_up, school, pull)


def planned_stand(part: JobPart, set_up: SetUp) -> Stand | None:
    """Return the board as its plan leaves it: as the worker has played it, else played at once where that is soon done,
    or nobody else plays it; None where the worker is to be asked.
    """
    run = run_of(part, set_up, "usual")
    plan = sequence_of(set_up.plan, set_up.in_force)
    row = next((one for one in run.orders.all() if tuple(one.sequence) == plan), None) if run is not None else None
    if row is not None:
        return stand_of_order(set_up, row)
    if len(set_up.plan) <= AT_ONCE or part.staple_order not in SCHOOLS or (run is not None and run.state == "failed"):
        return as_planned(set_up)
    return None


def order_rows(set_up: SetUp, run: OrdersRun) -> list[OrderRow]:
    """Return the orders of a run as the table shows them, in the order in which they were played."""
    plan = sequence_of(set_up.plan, set_up.in_force)
    rows: dict[tuple[int, ...], PlayedOrder] = {}  # round a closed line two schools are one order
    for row in run.orders.all():
        rows.setdefault((*row.sequence, int(row.name == FOUND)), row)
    shown = [(row, stand_of_order(set_up, row).seen) for row in rows.values()]
    best = next((look for row, look in shown if row.name == FOUND), None)
    return [
        OrderRow(
            row.name,
            look,
            gained(best, look) if best is not None and row.name != FOUND else "",
            tuple(row.sequence) == plan,
        )
        for row, look in shown
    ]


def keep_played(part: JobPart, set_up: SetUp, run: OrdersRun | None, name: str) -> None:
    """Make an order that the worker has played the plan of the set. Raises BadInput for one that there is not."""
    row = run.orders.filter(name=name).first() if run is not None else None
    if row is None:
        raise BadInput("order", name[:20], "an order that was played", words="That order is not played yet.")
    keep_order(part, set_up, tuple(row.sequence), tuple(row.why))


def keep_rehearsed(part: JobPart, stand: Stand) -> None:
    """Make the order of a rehearsal the plan of the set. Raises BadInput where a place is left, or a staple stands
    beside the plan.
    """
    keep_order(part, stand.set_up, sequence_of(stand.set_up.plan, stand.state.pins))


def keep_order(part: JobPart, set_up: SetUp, sequence: tuple[int, ...], why: tuple[str, ...] = ()) -> None:
    """Make an order the plan of the set; what was ticked off begins at the first staple again, where it is another."""
    if sequence == sequence_of(set_up.plan, set_up.in_force):
        return
    by_name = {
        sequence_of(set_up.plan, set_up.planned("cross first")): "cross first",
        sequence_of(set_up.plan, set_up.planned("one side whole")): "one side whole",
    }
    part.staple_order = by_name.get(sequence, "own")  # type: ignore[assignment]  # one of its orders
    if part.staple_order == "own":
        part.fastening = write_fastening(replace(chosen_of(part), own_order=sequence, own_why=why))
    part.staples_done = 0
    part.save(update_fields=["staple_order", "fastening", "staples_done"])
