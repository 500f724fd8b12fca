"""The no-fit polygons of all pairs of ways, straight as rows, compiled.

Two figures in convex parts may lie so that none of the sums of a part and a turned part, each grown by the gap, takes
in the reference point. A sum of two convex parts is convex, and so it has one left and one right side at every height.
Between the heights of all corners these sides are straight; where none crosses another there, the stretches follow
from their order. A band ends only where a side of the union does.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from typing import NamedTuple, TypeVar

import numpy as np

from zonatome.core.arrays import Bools, Floats, Ints
from zonatome.core.lay.cancel import Cancelled, IsCancelled, never_cancelled
from zonatome.core.lay.geometry.no_fit import Bands, arc_steps, bands_of, no_fits
from zonatome.core.lay.kernel.bands import HAIR
from zonatome.core.lay.kernel.pair_rows import every_pair, grown_sums, pairs_worked_out

Found = TypeVar("Found")

TOUCH = 1e-7  # mm between two that keep no gap: less than the press keeps off
CORES = 2
BATCH = 100  # pairs worked out at a time on each
PAIR_SECONDS = 0.0002  # what a pair takes, both cores at work, on the machine it was measured on


class Parts(NamedTuple):
    """The convex parts of several figures, end to end."""

    first: Ints  # a figure's first part, one more at the end
    corner: Ints  # a part's first corner, one more at the end
    corners: Floats  # (corners, 2), anticlockwise


class Figures(NamedTuple):
    """The rows of several figures (`Bands`), end to end."""

    counts: Ints  # how many levels each has; none where there is nothing
    levels: Floats
    first: Ints  # of every level, the first stretch of the band above it
    sides: Floats  # (stretches, 4)


def parts_of(figures: Sequence[Sequence[Floats]]) -> Parts:
    """Return the convex parts of several figures in one table."""
    flat = [part for parts in figures for part in parts]
    return Parts(
        np.concatenate([[0], np.cumsum([len(parts) for parts in figures])]).astype(np.int64),
        np.concatenate([[0], np.cumsum([len(part) for part in flat])]).astype(np.int64),
        np.concatenate(flat) if flat else np.empty((0, 2)),
    )


def figures_of(rows: Sequence[Bands]) -> Figures:
    """Return the rows of several figures in one table."""
    full = [r for r in rows if not r.is_empty]
    begins = np.cumsum([0, *(len(r.sides) for r in full)])
    return Figures(
        np.array([len(r.levels) for r in rows], dtype=np.int64),
        np.concatenate([np.empty(0), *(r.levels for r in full)]),
        np.concatenate([np.empty(0, dtype=np.int64), *(r.first + at for r, at in zip(full, begins, strict=False))]),
        np.concatenate([np.empty((0, 4)), *(r.sides for r in full)]),
    )


def end_to_end(several: Sequence[Figures]) -> Figures:
    """Return all figures in one table, in order."""
    begins = np.cumsum([0, *(len(f.sides) for f in several)])
    return Figures(
        np.concatenate([f.counts for f in several]),
        np.concatenate([f.levels for f in several]),
        np.concatenate([f.first + at for f, at in zip(several, begins, strict=False)]),
        np.concatenate([f.sides for f in several]),
    )


class Halves(NamedTuple):
    """Which figures are others turned half round: two that are turned together lie against each other as before, one
    pair serves both.
    """

    turned: Ints  # of every figure, which one it is turned half round; -1 where that is none of them
    sizes: Floats  # (figures, 2): the boxes, whose least corner is the reference point


def no_fits_of(
    figures: Sequence[Sequence[Floats]],
    gap: float,
    *,
    touching: Bools | None = None,
    halves: Halves | None = None,
    stopped: IsCancelled = never_cancelled,
) -> Figures:
    """Return the no-fit polygons of every two figures, which are given in convex parts, anticlockwise, in mm.

    Two that are both `touching` keep no gap. The pair of a and b is number a times the count of figures, plus b.
    Raises Cancelled when `stopped`, asked some times a second, says so. Source: the no-fit polygon as a Minkowski sum,
    de Berg et al. 2008, chapter 13.
    """
    k = len(figures)
    if not k:
        return figures_of([])
    halves = halves or Halves(np.full(k, -1, dtype=np.int64), np.zeros((k, 2)))
    index = pairs_worked_out(halves.turned)
    first, second = np.nonzero(index >= 0)
    parts = parts_of(figures)

    def worked_out(at: int) -> Figures:
        one, other = first[at : at + BATCH], second[at : at + BATCH]
        if gap > HAIR:
            grow = np.full(len(one), gap - HAIR)
            if touching is not None:
                grow[touching[one] & touching[other]] = TOUCH
            return Figures(*grown_sums(parts, one, other, grow, arc_steps(gap)))
        # what is made smaller by a hair is the whole, not its parts: between two of them a slit would open
        return figures_of(
            [bands_of(f) for f in no_fits([(figures[a], figures[b]) for a, b in zip(one, other, strict=True)], gap)]
        )

    made = end_to_end(list(on_cores(worked_out, range(0, len(first), BATCH), stopped=stopped)))
    return Figures(*every_pair(index, halves, made))


def on_cores(work: Callable[[int], Found], numbers: Sequence[int], *, stopped: IsCancelled) -> Iterator[Found]:
    """Yield what a piece of work comes to for every number, in order, some at a time on both cores.

    `stopped` is asked in between, by the thread that called (it may well look into a store that is this thread's own);
    raises Cancelled.
    """
    with ThreadPoolExecutor(CORES) as pool:
        for at in range(0, len(numbers), 2 * CORES):
            if stopped():
                raise Cancelled
            yield from pool.map(work, numbers[at : at + 2 * CORES])
