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
        return Next(first, _first_words(left[first]), 0.0)
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


def _first_words(pin: Pin) -> str:
    is_there = "o'clock" in pin.side or not pin.side
    where = _at_side(pin.side) if is_there else f"the middle of the {pin.side} edge"
    return f"{where}: notch on mark, nothing is pulled yet"


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
    """Return the best order that was found for these staples: from the middles outward in answering pairs, axis after
    axis or both in turn, against the schools that were played; the best of all of them, with why each staple comes
    where it does. `watch` is told again and again how many of so many staples it is through, all tries together.
    """
    tries = outward_orders(pins)
    tried = list(schools)
    for number, order in enumerate(tries):

        def told(count: int, before: int = number) -> None:
            if watch:
                watch((before * len(pins) + count) // len(tries))

        tried.append(played_order(sheet, FOUND, order, watch=told))
    best = min(tried, key=lambda one: cost_of(one.seen))
    return replace(best, name=FOUND, why=_whys(sheet, best.pins))


def _whys(sheet: Sheet, pins: Sequence[Pin]) -> tuple[str, ...]:
    """Why each staple of an order comes where it does."""
    state, found = sheet.flat(), list[str]()
    for pin in pins:
        found.append(_why(sheet, state, pin) if state.pins else _first_words(pin))
        state = sheet.stapled(state, pin)
    return tuple(found)


def outward_orders(pins: Sequence[Pin]) -> tuple[tuple[Pin, ...], ...]:
    """Return orders from the middle of each side outward, every staple answered by its opposite: each pair of sides
    first, one pair whole and then the other, or both in turn; round a closed line from each pair of quarters.
    """
    sides: dict[str, list[Pin]] = {}
    for pin in pins:
        sides.setdefault(pin.side, []).append(pin)
    if all("o'clock" in side for side in sides):
        return tuple(_round_outward(pins, turn) for turn in (0.0, math.pi / 2))
    found = []
    for first in (PAIRS[0] + PAIRS[1], PAIRS[2]):
        axes = _axes(sides, first)
        found.append(tuple(pin for axis in axes for pin in axis))
        if len(axes) > 1:
            found.append(_in_turn(axes))
    return tuple(dict.fromkeys(found))


def _axes(sides: dict[str, list[Pin]], first: Sequence[str]) -> list[list[Pin]]:
    """The staples of each pair of sides, from their middles outward, each answered; a side alone is one of its own."""
    axes, done = [], set[str]()
    for name in sorted(sides, key=lambda side: (side not in first, side)):
        if name in done:
            continue
        other = OPPOSITE.get(name, "")
        done |= {name, other}
        answers = _from_the_middle(sides.get(other, []))
        axis: list[Pin] = []
        for off, pin in sorted(_from_the_middle(sides[name]), key=lambda one: (round(abs(one[0]), 2), one[0])):
            axis.append(pin)
            if answers:  # seen from outside, the opposite side runs the other way
                answer = min(answers, key=lambda one: abs(one[0] + off))
                answers.remove(answer)
                axis.append(answer[1])
        axes.append(axis + [pin for _, pin in sorted(answers, key=lambda one: abs(one[0]))])
    return axes


def _in_turn(axes: Sequence[Sequence[Pin]]) -> tuple[Pin, ...]:
    """Axes by turns, a staple and its answer of each."""
    longest = max(len(axis) for axis in axes)
    return tuple(pin for at in range(0, longest, 2) for axis in axes for pin in axis[at : at + 2])


def _from_the_middle(pins: Sequence[Pin]) -> list[tuple[float, Pin]]:
    """The staples of a side, each with how far along it lies from the middle, mm."""
    if not pins:
        return []
    along = (-pins[0].out[1], pins[0].out[0])
    at = [pin.x * along[0] + pin.y * along[1] for pin in pins]
    middle = (min(at) + max(at)) / 2
    return [(far - middle, pin) for far, pin in zip(at, pins, strict=True)]


def _round_outward(pins: Sequence[Pin], turn: float) -> tuple[Pin, ...]:
    """Staples round a closed line: a pair that faces each other, then the pairs beside it, by turns to both sides."""
    turns = {pin: math.atan2(pin.out[1], pin.out[0]) for pin in pins}

    def apart(a: float, b: float) -> float:
        return abs((a - b + math.pi) % (2 * math.pi) - math.pi)

    left, found = list(pins), list[Pin]()
    while left:
        pin = min(left, key=lambda one: (round(apart(turns[one], turn), 6), turns[one]))
        left.remove(pin)
        found.append(pin)
        if left:
            answer = min(left, key=lambda one: (round(apart(turns[one], turns[pin] + math.pi), 6), turns[one]))
            left.remove(answer)
            found.append(answer)
    return tuple(found)


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
