"""Rehearsals: how the schools end on random boards and on the sample's, how often a fault is found, how long it takes.

python -m bench.rehearsals [boards]        random boards
python -m bench.rehearsals workroom        every panel of the workroom in ZONATOME_HOME that staples hold
"""

from __future__ import annotations

import math
import os
import random
import sys
import time
from dataclasses import replace
from statistics import median

import numpy as np
import shapely

from zonatome.core.errors import BadInput
from zonatome.core.fasten.rehearsal.faults import Sight, find_fault
from zonatome.core.fasten.rehearsal.membrane import principal, way_of_most
from zonatome.core.fasten.rehearsal.orders import SCHOOLS, Tried, cost_of, found_order, in_school, pins_of
from zonatome.core.fasten.rehearsal.practice import grown
from zonatome.core.fasten.rehearsal.seen import seen
from zonatome.core.fasten.rehearsal.sheet import PULLS, Board, Pin, Sheet, State
from zonatome.core.fasten.rehearsal.weave import WEAVES, weave_of
from zonatome.core.fasten.staples import staple_plan
from zonatome.core.outline import outline_of

FAULTS = 3  # on each board
BAND = 70.0  # mm from the edge in which one looks for a dent
AROUND = 120.0  # mm: what a tight place is compared with


def random_board(rng: random.Random, nodes: int = 900) -> tuple[Board, dict[str, tuple[Pin, ...]]]:
    """Return a board and its staples in every school's order."""
    wide, high, taper = rng.uniform(300, 620), rng.uniform(280, 560), rng.uniform(0, 60)
    edge = outline_of([(0, 0), (wide, 0), (wide - taper / 2, high), (taper / 2, high)])
    sort, stretch = rng.choice(list(WEAVES)), rng.choice(["", "across", "along", "both"])
    board = Board(grown(edge, 60), edge, weave_of(sort, stretch), crown=rng.uniform(5, 50), nodes=nodes)
    wood = grown(edge, 46)

    def planned(order):
        return pins_of(staple_plan(wood, pitch=40, order=order).staples)

    first = planned("cross first")
    return board, {school: in_school(first, school, planned) for school in SCHOOLS}


def dent_seen(sheet: Sheet, state: State, rng: random.Random) -> Sight:
    """Return what somebody would draw of a seat that has a dent: the tightest place near the edge, along its pull, by a
    hand that is not exact. Nothing else of the state is used.
    """
    tension = sheet.slack(state).tension
    most, way, middles = principal(tension)[1], way_of_most(tension), sheet.mesh.middles
    far = shapely.distance(shapely.LinearRing(sheet.board.edge.points), shapely.points(middles))
    band = np.flatnonzero(sheet.face & (far < BAND))
    near = np.hypot(*(middles[band][:, None] - middles[band][None]).transpose(2, 0, 1)) < AROUND
    tight = band[np.argmax(most[band] - (near * most[band]).sum(axis=1) / near.sum(axis=1))]
    at = middles[tight] + [rng.gauss(0, 6), rng.gauss(0, 6)]
    along = 35 * np.array([math.cos(way[tight]), math.sin(way[tight])])
    return Sight("dent", (tuple(at - along), tuple(at + along)))


def fault_trial(sheet: Sheet, pins: tuple[Pin, ...], good: State, rng: random.Random) -> bool:
    """Return whether a staple on a side, pulled three times too hard, is among those that are named."""
    sides = [n for n, pin in enumerate(pins) if n > 3 and not _is_at_corner(pin, pins)]
    number = rng.choice(sides)
    wrong = [replace(pin, pull=3 * pin.pull) if n == number else pin for n, pin in enumerate(pins)]
    found = find_fault(sheet, good, [dent_seen(sheet, sheet.played(wrong), rng)])
    return number in [suspect.number for suspect in found]


def _is_at_corner(pin: Pin, pins: tuple[Pin, ...]) -> bool:
    """Whether it is one of the two staples next to a corner on its side."""
    along = sorted((p for p in pins if p.side == pin.side), key=lambda p: p.x * -pin.out[1] + p.y * pin.out[0])
    return pin in (*along[:2], *along[-2:])


def seat_of_80() -> tuple[int, float]:
    """Return how many staples a usual seat of about 80 takes, and the seconds in which it is stapled cross first."""
    edge = outline_of([(0, 0), (480, 0), (460, 440), (20, 440)])
    plan = pins_of(staple_plan(grown(edge, 46), pitch=26).staples)
    sheet = Sheet(Board(grown(edge, 60), edge, weave_of("weave")))
    begins = time.perf_counter()
    sheet.played(plan)
    return len(plan), time.perf_counter() - begins


def of_workroom() -> None:
    """Print how the schools end on every panel that staples hold, of all tags of a workroom."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "zonatome.web.settings")
    import django

    django.setup()
    from zonatome.web.jobs.models import Job
    from zonatome.web.rehearse.services import set_up_for

    straighter = count = 0
    for job in Job.objects.order_by("number"):
        for part in job.put_on():
            try:
                set_up = set_up_for(part)
            except BadInput:
                continue  # sewn, loose, or held by nothing yet
            sheet = Sheet(set_up.board)
            ends = {}
            for school in ("cross first", "round and round"):
                ends[school] = seen(sheet, sheet.played(set_up.in_school(school, PULLS["usual"])))
            better = ends["cross first"].off < ends["round and round"].off
            straighter, count = straighter + better, count + 1
            told = "  ".join(f"{s} {e.off:.1f} mm, slack {1000 * e.slack:.1f}" for s, e in ends.items())
            print(
                f"{job.number} {part.key:18} {len(set_up.plan):3} staples  {told}  {'' if better else 'NOT straighter'}"
            )
    print(f"cross first straighter than round and round: {straighter} of {count}")


def main() -> None:
    """Print a row for each board, then what it all came to."""
    if sys.argv[1:] == ["workroom"]:
        of_workroom()
        return
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 20
    straighter = named = trials = 0
    taken, looked, gains = [], [], []
    for seed in range(count):
        rng = random.Random(seed)
        board, orders = random_board(rng)
        sheet, ends, states = Sheet(board), {}, {}
        for school, pins in orders.items():
            begins = time.perf_counter()
            states[school] = sheet.played(pins)
            taken.append((time.perf_counter() - begins) / len(pins))
            ends[school] = seen(sheet, states[school])
        straighter += ends["cross first"].off < ends["round and round"].off
        tried = [Tried(school, orders[school], states[school], ends[school]) for school in SCHOOLS]
        begins = time.perf_counter()
        best = found_order(sheet, orders["cross first"], tried)
        looked.append(time.perf_counter() - begins)
        gains.append(min(cost_of(one.seen) for one in tried) - cost_of(best.seen))
        hits = [fault_trial(sheet, orders["cross first"], states["cross first"], rng) for _ in range(FAULTS)]
        named, trials = named + sum(hits), trials + len(hits)
        told = "  ".join(f"{s} {e.off:.1f} mm, slack {1000 * e.slack:.1f}, {cost_of(e):.1f}" for s, e in ends.items())
        print(f"{seed:3} {len(orders['cross first']):3} staples  {told}  found {best.seen.off:.1f} mm, "
              f"{cost_of(best.seen):.1f}  named {sum(hits)} of {len(hits)}", flush=True)  # fmt: skip
    print(f"cross first straighter than round and round: {straighter} of {count}")
    print(f"staple at fault among the first three: {named} of {trials}")
    print(f"found better than the best school by 0.05 and more: {sum(gain >= 0.05 for gain in gains)} of {count}, "
          f"by {median(gains):.2f} in the median; {median(looked):.0f} s")  # fmt: skip
    staples, seconds = seat_of_80()
    print(f"a seat of {staples} staples: {seconds:.2f} s")
    print(f"a staple: {1000 * median(taken):.0f} ms in the median, {len(sheet.mesh.nodes)} places")


if __name__ == "__main__":
    main()
