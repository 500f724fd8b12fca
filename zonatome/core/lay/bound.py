"""A length that no lay of a request can beat."""

from __future__ import annotations

import itertools
import math

from zonatome.core.lay.request import LayRequest, PieceAsk
from zonatome.core.tolerances import SAME_POINT


def length_bound(request: LayRequest) -> float:
    """Return a proven lower bound on the roll's length, in mm; needs no time. `lattice.py` proves more where a repeat binds.

    The greatest of four: the area of all pieces and strips over the usable width; the same
    with every piece grown by half the gap, which then may not overlap either, on a roll longer and wider by the
    gap; the longest piece in its best turn; and the end of what is pinned.

    Source: area argument; pieces at least a gap apart keep discs of half a gap to themselves.
    """
    pieces = request.pieces
    strips = sum(s.least_area for s in request.strips)
    area = sum(p.outline.area * p.count for p in pieces) + strips
    plain = area / request.roll.usable
    half = request.gap / 2
    grown = sum(float(p.outline.polygon.buffer(half, quad_segs=16).area) * p.count for p in pieces) + strips
    spaced = grown / (request.roll.usable + request.gap) - request.gap
    pinned = max((p.on_cloth(request.by_id[p.piece]).bounds[2] for p in request.pinned), default=0.0)
    return max([plain, spaced, pinned, *(_shortest_lie(p, request.roll.usable) for p in pieces)])


def _shortest_lie(piece: PieceAsk, usable: float) -> float:
    """How much roll one copy takes at the least: its least extent along, over the turns that fit across.

    For any turn: the least distance between two parallels that hold it, which is met along a side of its hull.
    """
    if piece.turns is None:
        hull = list(piece.outline.polygon.convex_hull.exterior.coords)
        sides = [(a, b) for a, b in itertools.pairwise(hull) if math.dist(a, b) > SAME_POINT]
        return float(
            min(max(abs((b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0])) / math.dist(a, b) for p in hull) for a, b in sides)
        )
    fits = [t for t in (piece.outline.turned(turn) for turn in piece.turns) if t.height <= usable + 0.05]
    return min((t.width for t in fits), default=0.0)
