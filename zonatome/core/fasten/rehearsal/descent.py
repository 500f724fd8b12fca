"""Down to the least work: a convex function's lowest place, by its slope and a stiffness that is near enough."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from zonatome.core.fasten.rehearsal.weave import Grid

Work = Callable[[Grid], tuple[float, Grid]]
HALVINGS, ENOUGH, REMEMBERED = 6, 1e-4, 8
FLAT = 1e-14  # a turn of the slope that says nothing of how it bends


def lowest(
    work: Work, softly: Callable[[Grid], Grid], start: Grid, *, rounds: int, still: Callable[[Grid], bool]
) -> Grid:
    """Return where work is least: `work` gives it and its slope, `softly` says how far a slope moves the sheet by the
    stiffness that was factorised, `still` whether a step is none.

    Source: the limited-memory method of Broyden, Fletcher, Goldfarb and Shanno in its two loops (Nocedal, 1980), that
    stiffness its first guess; steps are halved until they take enough (Armijo, 1966).
    """
    at = start
    least, slope = work(at)
    steps: list[tuple[Grid, Grid, float]] = []
    for _ in range(rounds):
        way = _downhill(slope, steps, softly)
        step, least, after = _taken(work, at, least, slope, way)
        turn = after - slope
        bend = float(step @ turn)
        if bend > FLAT:
            steps = [*steps[1 - REMEMBERED :], (step, turn, 1 / bend)]
        at, slope = at + step, after
        if still(step):
            break
    return at


def _downhill(slope: Grid, steps: list[tuple[Grid, Grid, float]], softly: Callable[[Grid], Grid]) -> Grid:
    way = slope.copy()
    weights = []
    for step, turn, share in reversed(steps):
        weights.append(share * float(step @ way))
        way -= weights[-1] * turn
    way = softly(-way)
    for (step, turn, share), weight in zip(steps, reversed(weights), strict=True):
        way -= step * (share * float(turn @ way) + weight)
    return way


def _taken(work: Work, at: Grid, least: float, slope: Grid, way: Grid) -> tuple[Grid, float, Grid]:
    """The step that is taken on a way, the work after it, its slope."""
    downhill, size = float(slope @ way), 1.0
    for _ in range(HALVINGS):
        found, after = work(at + size * way)
        if found <= least + ENOUGH * size * downhill:
            break
        size /= 2
    return np.asarray(size * way), found, after
