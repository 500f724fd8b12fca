"""Orders of a panel's staples played and found, in the worker."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from django_tasks import task

from zonatome.core.errors import BadInput
from zonatome.core.fasten.rehearsal.orders import FOUND, SCHOOLS, Tried, found_order, played_order, sequence_of
from zonatome.core.fasten.rehearsal.sheet import Sheet
from zonatome.core.formats.sheet_npz import write_sheet
from zonatome.web.rehearse.models import OrdersRun, PlayedOrder
from zonatome.web.rehearse.orders import fingerprint_of
from zonatome.web.rehearse.services import SetUp, set_up_for

SOON = 40  # before lays that wait: it takes seconds, they take many


class GivenUpError(Exception):
    """Nobody wants the run any more."""


@task(priority=SOON)
def find_orders(run_id: int) -> None:
    """Play the schools on a panel's board and find an order for it; each is kept as soon as it is played."""
    rows = OrdersRun.objects.filter(pk=run_id)
    if not rows.filter(state="waiting").update(state="running"):
        return  # taken back meanwhile
    run = rows.select_related("part__job").get()
    try:
        set_up = set_up_for(run.part)
        if fingerprint_of(set_up, run.pull) != run.fingerprint:
            rows.update(state="failed", words="The panel was changed meanwhile: ask once more.")
            return
        _play(run, set_up)
    except GivenUpError:
        return
    except BadInput as refused:
        rows.update(state="failed", words=refused.told[:200])
        return
    except Exception:
        rows.update(state="failed", words="It broke off; what was played is kept.")
        raise
    rows.update(state="done", now="")


def _play(run: OrdersRun, set_up: SetUp) -> None:
    sheet, tried = Sheet(set_up.board), list[Tried]()
    pull = set_up.pulls[run.pull]
    for school in SCHOOLS:
        tried.append(played_order(sheet, school, set_up.in_school(school, pull), watch=_watch(run, school)))
        _keep(run, set_up, tried[-1])
    places = [replace(pin, pull=pull) for pin in set_up.plan]
    _keep(run, set_up, found_order(sheet, places, tried, watch=_watch(run, FOUND)))


def _watch(run: OrdersRun, name: str) -> Callable[[int], None]:
    def watch(count: int) -> None:
        if not OrdersRun.objects.filter(pk=run.pk).update(now=name, done=count):
            raise GivenUpError

    return watch


def _keep(run: OrdersRun, set_up: SetUp, one: Tried) -> None:
    sequence = list(sequence_of(set_up.plan, one.pins))
    PlayedOrder.objects.create(
        run=run, name=one.name, sequence=sequence, why=list(one.why), sheet=write_sheet(one.state)
    )
