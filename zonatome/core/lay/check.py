"""Is a lay true to its request? Asked of every lay before it is shown, and by the tests."""

from __future__ import annotations

from collections import Counter

import numpy as np
from shapely import STRtree

from zonatome.core.lay.request import Lay, LayRequest

APART = 0.05  # mm: nearer than the gap by more than this is a fault
SUNK = 0.5  # mm2 that two outlines may share where no gap is asked for


def faults(request: LayRequest, lay: Lay) -> list[str]:
    """Return what is wrong with a lay, a sentence each; an empty list means that it may be cut."""
    found = _counted(request, lay)
    cuts = [(f"{p.piece} {p.copy}", p.on_cloth(request.by_id[p.piece]).polygon, False) for p in lay.placements]
    cuts += [(f"strip {n + 1} of {s.strip}", s.outline.polygon, True) for n, s in enumerate(lay.strips)]
    for name, polygon, _ in cuts:
        x0, y0, _, y1 = polygon.bounds
        if x0 < -APART or y0 < request.roll.low - APART or y1 > request.roll.high + APART:
            found.append(f"{name} lies beyond the cut end or on a selvage")
    polygons = [c[1] for c in cuts]
    pairs = STRtree(polygons).query(polygons, predicate="dwithin", distance=request.gap + 1).T if cuts else np.empty((0, 2), dtype=int)
    for a, b in ((int(a), int(b)) for a, b in pairs if a < b):
        need = 0.0 if cuts[a][2] and cuts[b][2] else request.gap
        apart = polygons[a].distance(polygons[b])
        if apart < need - APART:
            found.append(f"{cuts[a][0]} and {cuts[b][0]} are {apart:.2f} mm apart; the gap is {need:g}")
        elif apart == 0 and polygons[a].intersection(polygons[b]).area > SUNK:
            shrunk = polygons[a].buffer(-APART / 2).intersection(polygons[b].buffer(-APART / 2))
            if shrunk.area > 1e-6:
                found.append(f"{cuts[a][0]} and {cuts[b][0]} lie over each other")
    return found


def _counted(request: LayRequest, lay: Lay) -> list[str]:
    found = []
    missing = dict(lay.unplaced)
    laid = Counter(p.piece for p in lay.placements)
    for piece in request.pieces:
        if laid[piece.id] + missing.get(piece.id, 0) != piece.count:
            found.append(f"{piece.id}: {laid[piece.id]} laid, {piece.count} asked for")
        if piece.turns is not None:
            found += [
                f"{p.piece} {p.copy} is turned by {p.turn_degrees:g}, which it may not be"
                for p in lay.placements
                if p.piece == piece.id and all(abs((p.turn_degrees - t + 180) % 360 - 180) > 1e-6 for t in piece.turns)
            ]
    for strip in request.strips:
        got = sum(s.length - strip.join for s in lay.strips if s.strip == strip.id)
        if got < strip.total - 0.5:
            found.append(f"{strip.id}: {got:.0f} mm of strip, {strip.total:.0f} asked for")
    return found
