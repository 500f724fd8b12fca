"""A length that no lay of a request can beat."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable

import numpy as np
from shapely.geometry import Polygon

from zonatome.core.arrays import Floats
from zonatome.core.lay.check import APART
from zonatome.core.lay.request import LayRequest, PieceAsk
from zonatome.core.outline import Outline
from zonatome.core.tolerances import SAME_POINT

Weight = Callable[[Floats], Floats]

MANY_POINTS = 60  # of an outline with more, arcs about its corners are taken in coarser steps, which lie inside them
MANY_LIES = 300  # turns of all pieces: of more, arcs are taken in coarser steps too
PARTS = 8  # of every straight stretch of a profile, in each of which its least counts


def length_bound(request: LayRequest) -> float:
    """Return a proven lower bound on the roll's length, in mm; needs no time. `bounds/repeat.py` proves more where a
    repeat binds.

    The greatest of five: the area of all pieces and strips over the usable width; the same
    with every piece grown by half the gap, which then may not overlap either, on a roll longer and wider by the
    gap; what can't share a width (`dual_feasible_bound`); the longest piece in its best turn; and the end of what is
    pinned.

    Source: area argument; pieces at least a gap apart keep discs of half a gap to themselves.
    """
    pieces = request.pieces
    strips = sum(s.least_area for s in request.strips)
    area = sum(p.outline.area * p.count for p in pieces) + strips
    plain = area / request.roll.usable
    half = request.gap / 2
    grown = sum(float(_grown(p.outline, half, steps=16).area) * p.count for p in pieces) + strips
    spaced = grown / (request.roll.usable + request.gap) - request.gap
    pinned = max((p.on_cloth(request.by_id[p.piece]).bounds[2] for p in request.pinned), default=0.0)
    return max(
        [plain, spaced, dual_feasible_bound(request), pinned, *(_shortest_lie(p, request.roll.usable) for p in pieces)]
    )


def dual_feasible_bound(request: LayRequest) -> float:
    """Return a proven lower bound in mm from what can't lie side by side: wide pieces need a length each, however
    narrow the rest.

    At any place along the roll, what all pieces measure across there adds up to the usable width at most, gap and all.
    So it does when measures are weighed unevenly, as long as what fits the width never weighs more than the width:
    over half of it as all of it, over a third as half of it and so on, slivers as nothing. The weights along each
    piece, in its best turn, add up to a length. Pieces that may take any turn count nothing, nor do strips.

    Source: dual feasible functions, Fekete and Schepers 2001, on the pieces' profiles.
    """
    width, half = request.roll.usable + request.gap, request.gap / 2
    steps = 8 if sum(len(p.turns or ()) for p in request.pieces) <= MANY_LIES else 2
    profiles, first_lies, counts = list[tuple[Floats, Floats]](), list[int](), list[int]()
    for piece in request.pieces:
        lies = [o for o in map(piece.outline.turned, piece.turns or ()) if o.height <= request.roll.usable + APART]
        if lies:
            first_lies.append(len(profiles))
            counts.append(piece.count)
            profiles += [_profile(_grown(o, max(0.0, half - APART), steps=steps), width) for o in lies]
    if not profiles:
        return -request.gap
    shares, lengths = (np.concatenate([profile[k] for profile in profiles]) for k in (0, 1))
    begins = np.cumsum([0, *(len(share) for share, _ in profiles[:-1])])
    weighed = np.array([np.add.reduceat(weight(shares) * lengths, begins) for weight in _WEIGHTS])
    totals = np.minimum.reduceat(weighed, first_lies, axis=1) @ np.array(counts, dtype=float)
    return float(totals.max()) - request.gap


def _grown(outline: Outline, by: float, *, steps: int) -> Polygon:
    """An outline grown, nowhere too far: a quarter of an arc in so many steps, of very many points in fewer."""
    grown: Polygon = outline.polygon.buffer(
        by, quad_segs=steps if len(outline.points) <= MANY_POINTS else max(1, steps // 8)
    )
    return grown


def _profile(grown: Polygon, width: float) -> tuple[Floats, Floats]:
    """How much of the width a figure takes along x, at the least, as a share, in stretches of these lengths in mm.

    So the sum of weights times lengths is never more than the integral of its profile's weight.
    """
    ring = np.array(grown.exterior.coords)
    begin, end = ring[:-1], ring[1:]
    levels = np.unique(ring[:, 0])
    low, high = levels[:-1], levels[1:]
    left, right = np.minimum(begin[:, 0], end[:, 0])[:, None], np.maximum(begin[:, 0], end[:, 0])[:, None]
    over = (left <= low) & (right >= high) & (right > left)
    run = (end[:, 0] - begin[:, 0])[:, None]
    slope = (end[:, 1] - begin[:, 1])[:, None] / np.where(run == 0, 1.0, run)
    side = np.where(run > 0, -1.0, 1.0) * (1.0 if grown.exterior.is_ccw else -1.0)
    at_low, at_high = (
        (np.where(over, side * (begin[:, 1][:, None] + slope * (x - begin[:, 0][:, None])), 0.0)).sum(axis=0)
        for x in (low, high)
    )
    share = np.linspace(0.0, 1.0, PARTS + 1)[:, None]
    across = at_low + (at_high - at_low) * share
    least = np.maximum(0.0, np.minimum(across[:-1], across[1:]) - 2 * APART) / width
    return least.ravel(), np.broadcast_to((high - low) / PARTS, least.shape).ravel()


def _stepped(parts: int) -> Weight:
    return lambda share: np.floor((parts + 1) * share) / parts


def _without_slivers(sliver: float, then: Weight) -> Weight:
    return lambda share: then(np.where(share > 1 - sliver, 1.0 - 1e-9, np.where(share < sliver, 0.0, share)))


def _shortest_lie(piece: PieceAsk, usable: float) -> float:
    """How much roll one copy takes at the least: its least extent along, over the turns that fit across.

    For any turn: the least distance between two parallels that hold it, which is met along a side of its hull.
    """
    if piece.turns is None:
        hull = list(piece.outline.polygon.convex_hull.exterior.coords)
        sides = [(a, b) for a, b in itertools.pairwise(hull) if math.dist(a, b) > SAME_POINT]
        return float(
            min(
                max(abs((b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0])) / math.dist(a, b) for p in hull)
                for a, b in sides
            )
        )
    fits = [t for t in (piece.outline.turned(turn) for turn in piece.turns) if t.height <= usable + APART]
    return min((t.width for t in fits), default=0.0)


_WEIGHTS: tuple[Weight, ...] = (
    *(_stepped(parts) for parts in range(1, 7)),
    *(
        _without_slivers(sliver, lambda share: share)
        for sliver in (0.05, 0.08, 0.1, 0.15, 0.2, 0.25, 0.3, 0.35, 0.4, 0.45, 0.5)
    ),
    *(_without_slivers(sliver, _stepped(parts)) for sliver in (0.1, 0.2, 0.3) for parts in (2, 3, 4)),
)
