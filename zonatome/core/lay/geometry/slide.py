"""Sliding pieces toward the squared end until they touch what lies before them, the gap kept.

Exact for polygons: the room between two outlines along x is piecewise linear in y, so it is least at a
vertex of either, or at an end of the heights they share.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from zonatome.core.arrays import Floats
from zonatome.core.lay.request import LayRequest, Placement
from zonatome.core.outline import Outline

SLIVER = 0.004  # heights shared by less than this only touch and may slide along each other
BEHIND = 0.2  # how far two outlines may already sink into each other and still count as touching
ROUND = 1.0012  # a buffer's straight steps lie inside its arcs; so much more brings them outside
ENOUGH = 0.02  # a pass that gains less than this ends the sliding


def spaced(outline: Outline, gap: float) -> Outline:
    """Return the outline grown by the gap all round, so that what touches it keeps the gap."""
    if gap <= 0:
        return outline
    ring = outline.polygon.buffer(gap * ROUND, quad_segs=16).exterior
    return Outline(tuple(ring.coords[:-1])[::-1])


def slid(request: LayRequest, placements: Sequence[Placement], *, passes: int = 6) -> tuple[Placement, ...]:
    """Return the placements, each slid toward x = 0 as far as it goes, nearest the end first; y and turns are kept."""
    lying = list(placements)
    outlines = [p.on_cloth(request.by_id[p.piece]) for p in lying]
    solid = [np.array(o.points) for o in outlines]
    grown = [np.array(spaced(o, request.gap).points) for o in outlines]
    for _ in range(passes):
        gained = 0.0
        for i in sorted(range(len(lying)), key=lambda k: float(solid[k][:, 0].min())):
            room = _room(i, solid, grown)
            if room > SLIVER:
                lying[i] = replace(lying[i], x=lying[i].x - room)
                solid[i] = solid[i] - (room, 0.0)
                grown[i] = grown[i] - (room, 0.0)
                gained = max(gained, room)
        if gained < ENOUGH:
            break
    return tuple(lying)


def _room(i: int, solid: Sequence[Floats], grown: Sequence[Floats]) -> float:
    mine, least = solid[i], float(solid[i][:, 0].min())
    room = least
    low, high = mine[:, 1].min(), mine[:, 1].max()
    others = [(float(g[:, 0].max()), k) for k, g in enumerate(grown) if k != i and g[:, 0].min() < mine[:, 0].max()]
    for reach, k in sorted(others, reverse=True):
        if least - reach >= room:
            break
        other = grown[k]
        if other[:, 1].max() - low > SLIVER and high - other[:, 1].min() > SLIVER:
            room = min(room, room_between(mine, other))
            if room <= 0:
                return 0.0
    return room


def room_between(right: Floats, left: Floats) -> float:
    """Return how far `right` can move toward -x before it meets `left`; infinite when it never does."""
    low = max(right[:, 1].min(), left[:, 1].min()) + SLIVER / 2
    high = min(right[:, 1].max(), left[:, 1].max()) - SLIVER / 2
    if high <= low:
        return float("inf")
    levels = np.concatenate([right[:, 1], left[:, 1]])
    levels = np.unique(np.concatenate([levels[(levels > low) & (levels < high)], [low, high]]))
    levels = np.unique(np.clip(np.concatenate([levels - 1e-6, levels + 1e-6]), low, high))
    a, b = _crossings(right, levels), _crossings(left, levels)
    apart = a[:, :, None] - b[:, None, :]
    ahead = apart[apart > -BEHIND]
    return max(0.0, float(ahead.min())) if ahead.size else float("inf")


def _crossings(points: Floats, levels: Floats) -> Floats:
    """x where the outline's edges cross each level, a row a level; NaN where an edge does not."""
    ends = np.roll(points, -1, axis=0)
    y0, y1 = points[:, 1][None, :], ends[:, 1][None, :]
    y = levels[:, None]
    with np.errstate(divide="ignore", invalid="ignore"):
        t = (y - y0) / (y1 - y0)
        x: Floats = points[:, 0][None, :] + t * (ends[:, 0] - points[:, 0])[None, :]
    return np.where((t >= 0) & (t <= 1), x, np.nan)
