"""What somebody does in a rehearsal, act by act: a staple set, taken out, pulled again."""

from __future__ import annotations

import math
from collections import OrderedDict
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import shapely

from zonatome.core.errors import BadInput
from zonatome.core.fasten.rehearsal.sheet import MOST_STAPLES, PULLS, Board, Pin, Sheet, State, spot_of
from zonatome.core.outline import Point

Doing = Literal["set", "out", "pull"]
MOST_ACTS = 400
NEAR = 28.0  # mm: what is pressed so near to a planned place is that place
STRONGEST = 400.0  # N: no hand pulls harder
HARDER = 1.5  # times as hard as before
BEYOND_EDGE = 46.0  # mm outside the line where the cloth turns that a staple is set, where no plan says
KEPT_SHEETS, KEPT_STATES = 6, 500


@dataclass(frozen=True)
class Act:
    """One act: a staple set at a place of the plan (`number` from 0) or anywhere (`at`), pulled so hard, N; one of
    those that hold (`number` from 0, in the order in which they went in) taken out, or pulled again.
    """

    doing: Doing
    number: int = -1
    at: Point | None = None
    pull: float = PULLS["usual"]


class Bench:
    """Sheets and states that were worked out already, kept while there is room: an act more is one step more."""

    def __init__(self) -> None:
        """Begin with nothing."""
        self._sheets: OrderedDict[Board, Sheet] = OrderedDict()
        self._states: OrderedDict[tuple[Board, tuple[Pin, ...], tuple[Act, ...]], State] = OrderedDict()

    def sheet(self, board: Board) -> Sheet:
        """Return a board's sheet."""
        if board not in self._sheets:
            self._sheets[board] = Sheet(board)
        self._sheets.move_to_end(board)
        while len(self._sheets) > KEPT_SHEETS:
            self._sheets.popitem(last=False)
        return self._sheets[board]

    def after(self, board: Board, plan: tuple[Pin, ...], acts: tuple[Act, ...]) -> State:
        """Return the sheet after acts, the last staple still in the hand. Raises BadInput for an act that can't be."""
        if len(acts) > MOST_ACTS:
            raise BadInput("acts", len(acts), f"at most {MOST_ACTS} acts")
        done = len(acts)
        while done and (board, plan, acts[:done]) not in self._states:
            done -= 1
        state = self._states[board, plan, acts[:done]] if done else self.sheet(board).flat()
        for number in range(done, len(acts)):
            state = done_by(self.sheet(board), plan, state, acts[number])
            self._states[board, plan, acts[: number + 1]] = state
        while len(self._states) > KEPT_STATES:
            self._states.popitem(last=False)
        return state


def done_by(sheet: Sheet, plan: Sequence[Pin], state: State, act: Act) -> State:
    """Return the sheet after one act."""
    if act.doing == "set":
        return sheet.stapled(state, pin_of(sheet.board, plan, act))
    if not 0 <= act.number < len(state.pins):
        raise BadInput("staple", act.number + 1, f"one of the {len(state.pins)} that hold")
    if act.doing == "out":
        return sheet.let_go(state, act.number)
    return sheet.pulled_again(state, act.number, act.pull)


def pulled_more(state: State, number: int, *, is_harder: bool) -> Act:
    """Return the act that pulls a staple that holds once more, harder or softer by a step. Raises BadInput for one that
    there is not.
    """
    if not 0 <= number < len(state.pins):
        raise BadInput("staple", number + 1, f"one of the {len(state.pins)} that hold")
    force = state.pins[number].pull * (HARDER if is_harder else 1 / HARDER)
    return Act("pull", number, None, round(min(STRONGEST, force), 1))


def pin_of(board: Board, plan: Sequence[Pin], act: Act) -> Pin:
    """Return the staple that an act sets. Raises BadInput for a place that the plan has not."""
    if act.at is not None:
        return free_pin(board, plan, act.at, act.pull)
    if not 0 <= act.number < len(plan):
        raise BadInput("place", act.number, f"one of the plan's {len(plan)} places")
    return replace(plan[act.number], pull=act.pull)


def left_of(plan: Sequence[Pin], state: State) -> list[int]:
    """Return the numbers of the plan's places, from 0, where no staple is."""
    taken = {spot_of(pin) for pin in state.pins}
    return [n for n, pin in enumerate(plan) if spot_of(pin) not in taken]


def pressed(board: Board, plan: Sequence[Pin], state: State, at: Point, pull: float) -> Act:
    """Return what a press on the board means: a staple at the plan's place that is nearest and free, else one there.

    Raises BadInput where a press is nowhere near the edge, or a board holds no more.
    """
    if len(state.pins) >= MOST_STAPLES:
        raise BadInput("staples", len(state.pins) + 1, f"at most {MOST_STAPLES} staples")
    free = left_of(plan, state)
    if free:
        nearest = min(free, key=lambda n: math.dist(at, (plan[n].x, plan[n].y)))
        if math.dist(at, (plan[nearest].x, plan[nearest].y)) <= NEAR:
            return Act("set", nearest, None, pull)
    line = shapely.LinearRing(board.edge.points)
    if line.distance(shapely.Point(at)) > 2 * BEYOND_EDGE:
        raise BadInput("place", f"{at[0]:.0f}, {at[1]:.0f} mm", "a place near the edge", words="Press near the edge.")
    free_pin(board, plan, at, pull)
    return Act("set", -1, (round(at[0], 1), round(at[1], 1)), pull)


def free_pin(board: Board, plan: Sequence[Pin], at: Point, pull: float) -> Pin:
    """Return a staple beside the plan's: on the line on which those next to it lie, square to the edge there."""
    line = shapely.LinearRing(board.edge.points)
    along = line.project(shapely.Point(at))
    a, foot, b = (line.interpolate((along + by) % line.length) for by in (-4.0, 0.0, 4.0))
    long = math.hypot(b.x - a.x, b.y - a.y) or 1.0
    out = ((b.y - a.y) / long, (a.x - b.x) / long)
    near = min(plan, key=lambda pin: math.dist(at, (pin.x, pin.y)), default=None)
    beyond = line.distance(shapely.Point(near.x, near.y)) if near is not None else BEYOND_EDGE
    return Pin(foot.x + out[0] * beyond, foot.y + out[1] * beyond, out, near.side if near is not None else "", pull)
