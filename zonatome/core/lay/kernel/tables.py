"""What the row scan reads and works in.

A *way* is a piece in one turn, an *item* one copy of a piece. Lengths are millimetres.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from zonatome.core.arrays import Bools, Floats, Ints, SmallInts

FREE = 0.008  # mm: an overlap below this is none; with the hair it stays far below what the check allows
FAR = 1e30  # mm: beyond everything
HINTS = 32  # heights a figure at which its band is known without a search


class ScanTable(NamedTuple):
    """All that the compiled search reads. K ways (a piece in a turn), n items (a copy of a piece)."""

    way_first: Ints  # n: an item's first way
    way_count: Ints  # n
    width: Floats  # K: along the roll
    height: Floats  # K: across
    anchor: Floats  # (K, 2), from the way's reference point
    bound: Bools  # (K, 2): along, across
    row_first: Ints  # K: the heights allowed to a way that is bound across
    row_count: Ints  # K
    row_heights: Floats
    # (F, 2): where a figure's levels begin, how many bands; figure w is way w's ground, K + a * K + b the pair's
    figure: Ints
    levels: Floats
    first: Ints
    sides: Floats  # (stretches, 4)
    reach: Floats  # (F, 5): a figure's lowest and highest level, its least and greatest x, hints a mm
    hints: SmallInts  # (F, HINTS): the level at or under each of so many heights
    repeat: Floats  # along, across, drop, origin x, origin y; 0 where there is none
    area: Floats  # n
    widest: Floats  # 1: the widest way, and the gap


class Workspace(NamedTuple):
    """Arrays to work in, for n items."""

    about: Ints  # the items that are looked over
    boxes: Floats  # (4, n): what each of them blocks at the most: lowest, highest, leftmost, rightmost
    figures: Ints  # its figure with the way that is moved
    starts: Floats  # stretches that are blocked at a height
    ends: Floats
    weights: Floats
    outs: Floats
    heights: Floats  # to be tried
    order: Ints
    ones: Floats


class Lying(NamedTuple):
    """Where n items lie: their reference points, and each one's way, -1 where it lies nowhere."""

    x: Floats
    y: Floats
    way: Ints


def workspace_for(n: int, heights: int = 0) -> Workspace:
    """Return arrays for n items, with room for so many heights more than a few for each item."""
    stretches = 4 * n + 64
    return Workspace(
        np.arange(n),
        np.empty((4, n)),
        np.empty(n, dtype=np.int64),
        np.empty(stretches),
        np.empty(stretches),
        np.empty(stretches),
        np.empty(stretches),
        np.empty(4 * n + 4096 + heights),
        np.arange(n),
        np.ones(n),
    )
