"""In which order a board is stapled: the schools, which staple comes next, an order found for this board and cloth."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from zonatome.core.errors import BadInput
from zonatome.core.fasten.rehearsal.seen import Seen, seen
from zonatome.core.fasten.rehearsal.sheet import PULLS, Pin, Sheet, State, spot_of
from zonatome.core.fasten.staples import PAIRS, Staple

School = Literal["cross first", "one side whole", "round and round"]
SCHOOLS: tuple[School, ...] = ("cross first", "one side whole", "round and round")
OPPOSITE = dict((*PAIRS, *(pair[::-1] for pair in PAIRS)))
TRIED = 6  # of the staples that might come next, as many are tried out in full
FOUND = "found"
TOLD_OFF, TOLD_SLACK = 0.05, 0.05  # mm and in a thousand: less is no difference
MUCH_SLACK = 0.01  # a share of slack that weighs as much as a thread that is off by a millimetre


@dataclass(frozen=True)
class Next:
    """Which staple comes next: its number from 0 in what is left, why, by how much the worst thread is off after it."""

    number: int
    words: str
    off: float


@dataclass(frozen=True)
class Tried:
    """An order that was played: its name, the staples, the sheet at rest in the end, what one sees of it; of one that
    was found why each staple comes where it does.
    """

    name: str
    pins: tuple[Pin, ...]
    state: State
    seen: Seen
    why: tuple[str, ...] = ()


def pins_of(staples: Sequence[Staple], pull: float = PULLS["usual"]) -> tuple[Pin, ...]:
    """Return a plan's staples as those of a rehearsal, each pulled alike, in the plan's own order."""
    return tuple(Pin(s.x, s.y, s.pull, s.side, pull) for s in staples)


def in_school(
    pins: Sequence[Pin], school: School, planned: Callable[[School], Sequence[Pin]] | None = None
) -> tuple[Pin, ...]:
    """Return staples in a school's order. Round and round goes clockwise from the middle of the back; the other two are
    the plan's, which `planned` gives.
    """
    if school == "round and round":
        x, y = (sum(getattr(pin, axis) for pin in pins) / len(pins) for axis in "xy")
        return tuple(sorted(pins, key=lambda pin: (math.pi / 2 - math.atan2(pin.y - y, pin.x - x)) % (2 * math.pi)))
    if planned is None:
        raise BadInput("school", school, "a plan that knows this order")
    return tuple(planned(school))


def cost_of(found: Seen) -> float:
    """Return how far a sheet is from what one wants, mm: its worst thread, and what lies slack."""
    return found.off + found.slack / MUCH_SLACK


def next_staple(sheet: Sheet, state: State, left: Sequence[Pin]) -> Next:
    """Return which of the staples that are left evens the cloth most, and why.

    Those that pull against the most slack and the emptiest stretch of edge are tried out, each for itself; the one
    after which threads run straightest is named. Raises BadInput where none is left.
    """
    if not left:
        raise BadInput("staples", 0, "a staple that is left", words="All staples are in.")
    if not state.pins:
        first = min(range(len(left)), key=lambda n: (left[n].side not in ("back", "top"), _from_middle(left, n)))
        return Next(first, f"{_at_middle(left[first].side)}: notch on mark, nothing is pulled yet", 0.0)
    tried = []
    for n in _promising(state, left):
        after = seen(sheet, sheet.at_rest(sheet.stapled(state, left[n])))
        tried.append((cost_of(after), n, after))
    _, number, after = min(tried, key=lambda one: one[:2])
    return Next(number, _why(sheet, state, left[number]), after.off)


def _from_middle(pins: Sequence[Pin], number: int) -> float:
    """How far a staple lies from the middle of its side."""
    pin = pins[number]
    same = [p for p in pins if p.side == pin.side]
    x, y = (sum(getattr(p, axis) for p in same) / len(same) for axis in "xy")
    return math.hypot(pin.x - x, pin.y - y)


def _promising(state: State, left: Sequence[Pin]) -> list[int]:
    """The staples that are worth a try: those farthest from all that hold, and those that answer the last one."""
    held = np.array([[pin.x, pin.y] for pin in state.pins])
    at = np.array([[pin.x, pin.y] for pin in left])
    far = np.hypot(*(at[:, None] - held[None]).transpose(2, 0, 1)).min(axis=1)
    last = state.pins[-1]
    facing = np.array([-(pin.out[0] * last.out[0] + pin.out[1] * last.out[1]) for pin in left])
    aside = np.abs((at - held[-1]) @ np.array([-last.out[1], last.out[0]]))
    answer = np.where(facing > 0.9, aside, np.inf)
    found = [int(n) for n in np.argsort(answer, kind="stable")[:2] if np.isfinite(answer[n])]
    found += [int(n) for n in np.argsort(-far, kind="stable") if int(n) not in found]
    return found[:TRIED]


def _why(sheet: Sheet, state: State, pin: Pin) -> str:
    """Why a staple comes next: what it answers, what hangs there."""
    last = state.pins[-1]
    facing = -(pin.out[0] * last.out[0] + pin.out[1] * last.out[1]) > 0.9
    where = f"opposite staple {len(state.pins)}" if facing else _at_side(pin.side)
    slackest = _slackest_near(sheet, state, pin)
    hangs = _hangs(sheet, state, pin)
    if hangs > 0.3:
        return f"{where}: the threads before it hang {hangs:.1f} mm too far in"
    if slackest > 0.001:
        return f"{where}: the cloth before it is too long, by {1000 * slackest:.0f} in a thousand"
    return f"{where}: the longest stretch of edge that nothing holds"


def _at_middle(side: str) -> str:
    return _at_side(side) if "o'clock" in side or not side else f"the middle of the {side} edge"


def _at_side(side: str) -> str:
    """Where a staple is, by its side: of a round board by the clock."""
    if "o'clock" in side:
        return f"at {side}"
    return f"on the {side} edge" if side else "there"


def _slackest_near(sheet: Sheet, state: State, pin: Pin) -> float:
    """By how much the cloth on the pad before a staple is too long, as a share."""
    far = np.hypot(sheet.mesh.middles[:, 0] - pin.x, sheet.mesh.middles[:, 1] - pin.y)
    near = sheet.face & (far < 150.0)
    return float(sheet.slack(state).shorter[near].mean()) if near.any() else 0.0


def _hangs(sheet: Sheet, state: State, pin: Pin) -> float:
    """By how much threads that run along an edge lie inward of their own line before a staple, mm."""
    worst, out = 0.0, np.array(pin.out)
    for (_, before), now in zip(sheet.lines, sheet.carried(state), strict=True):
        way = before[-1] - before[0]
        if abs(float(way @ out)) > 0.3 * float(np.hypot(*way)):
            continue  # runs toward the edge, not along it
        nearest = int(np.argmin(np.hypot(*(before - (pin.x, pin.y)).T)))
        mean = float(((now - before) @ out).mean())
        worst = min(worst, float((now[nearest] - before[nearest]) @ out) - mean)
    return -worst


def played_order(sheet: Sheet, name: str, pins: Sequence[Pin], *, watch: Callable[[int], None] | None = None) -> Tried:
    """Return how a board ends whose staples are set in an order. `watch` is told after each how many are in."""
    state = sheet.flat()
    for pin in pins:
        state = sheet.stapled(state, pin)
        if watch:
            watch(len(state.pins))
    rest = sheet.at_rest(state)
    return Tried(name, state.pins, rest, seen(sheet, rest))


def found_order(
    sheet: Sheet, pins: Sequence[Pin], schools: Sequence[Tried], *, watch: Callable[[int], None] | None = None
) -> Tried:
    """Return the best order that was found for these staples: the staple that evens most, one after the other, against
    the schools that were played; the best of all of them, with why each comes where it does. `watch` is told after each
    staple how many are in.
    """
    left, state, why = list(pins), sheet.flat(), list[str]()
    while left:
        following = next_staple(sheet, state, left)
        why.append(following.words)
        state = sheet.stapled(state, left.pop(following.number))
        if watch:
            watch(len(state.pins))
    rest = sheet.at_rest(state)
    own = Tried(FOUND, state.pins, rest, seen(sheet, rest), tuple(why))
    best = min((own, *schools), key=lambda one: cost_of(one.seen))
    return own if best is own else replace(best, name=FOUND)


def gained(found: Seen, other: Seen) -> str:
    """Return in words what one order gains over another: its worst thread, mm, and its slack, in a thousand.

    >>> from types import SimpleNamespace as S
    >>> gained(S(off=1.2, too_long=0.31), S(off=1.9, too_long=0.35))
    'straighter by 0.7 mm'
    >>> gained(S(off=1.2, too_long=0.9), S(off=1.0, too_long=2.4))
    'less slack by 1.5 in a thousand, its worst thread off by 0.2 mm more'
    >>> gained(S(off=1.2, too_long=0.9), S(off=1.22, too_long=0.95))
    'no better and no worse'
    """
    straighter, tauter = other.off - found.off, other.too_long - found.too_long
    good, bad = [], []
    if straighter >= TOLD_OFF:
        good.append(f"straighter by {straighter:.1f} mm")
    elif straighter <= -TOLD_OFF:
        bad.append(f"its worst thread off by {-straighter:.1f} mm more")
    if tauter >= TOLD_SLACK:
        good.append(f"less slack by {tauter:.1f} in a thousand")
    elif tauter <= -TOLD_SLACK:
        bad.append(f"more slack by {-tauter:.1f} in a thousand")
    return ", ".join([*good, *bad]) or "no better and no worse"


def sequence_of(plan: Sequence[Pin], pins: Sequence[Pin]) -> tuple[int, ...]:
    """Return the places of a plan, from 0, in the order in which staples took them. Raises BadInput where a staple
    stands beside the plan, or a place is left: such an order is no plan.
    """
    place = {spot_of(pin): n for n, pin in enumerate(plan)}
    found = tuple(place[spot_of(pin)] for pin in pins if spot_of(pin) in place)
    if len(found) < len(pins):
        raise BadInput(
            "staples", len(pins) - len(found), "staples at places of the plan",
            words="A staple stands beside the plan's places: such an order can't be the plan.",
        )  # fmt: skip
    if len(found) < len(plan):
        raise BadInput(
            "staples", len(found), f"all {len(plan)} places",
            words=f"{len(plan) - len(found)} places of the plan are left: set them first.",
        )  # fmt: skip
    return found
