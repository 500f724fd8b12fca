"""A second opinion on a lay, written apart from the application's own check: brute force over every pair."""

from __future__ import annotations

import math
from itertools import combinations

from shapely.geometry import Polygon

from zonatome.core.lay.request import Lay, LayRequest, Panels


def _placed(points, turn, flip, x, y):
    angle = math.radians(turn)
    c, s = round(math.cos(angle), 15), round(math.sin(angle), 15)
    return Polygon(
        [(c * px - s * py + x, s * px + c * py + y) for px, py in ((px, -py if flip else py) for px, py in points)]
    )


def _off_the_repeat(request: LayRequest, lay: Lay) -> list[str]:
    """The anchors that miss the nearest of all motif centres about them, looked for one by one."""
    said = []
    for p in lay.placements:
        repeat = (
            request.cloth.repeats[p.panel]
            if isinstance(request.cloth, Panels) and request.cloth.repeats
            else request.repeat
        )
        piece = next(q for q in request.pieces if q.id == p.piece)
        if repeat is None or piece.anchor is None or not (piece.match_along or piece.match_across):
            continue
        x, y = next(iter(_placed([piece.anchor, (1e4, 0), (0, 1e4)], p.turn_degrees, p.flip, p.x, p.y).exterior.coords))
        columns = range(-80, 400) if repeat.across else [0]
        misses = []
        for j in columns:
            off_y = abs(y - repeat.origin[1] - j * repeat.across) if repeat.across else 0.0
            if off_y > (repeat.across or 0) / 2 + 1:
                continue
            off_x = 0.0
            if repeat.along:
                steps = (x - repeat.origin[0] - repeat.drop * j * repeat.along) / repeat.along
                off_x = abs(steps - round(steps)) * repeat.along
            misses.append(max(off_x * piece.match_along, off_y * piece.match_across))
        if min(misses) > 0.5:
            said.append(f"{p.piece} is {min(misses):.2f} off its motif")
    return said


def wrong_with(request: LayRequest, lay: Lay) -> list[str]:
    """Say what is wrong with a lay; nothing when it may be cut."""
    said = []
    asked = {p.id: p for p in request.pieces}
    on_panels = isinstance(request.cloth, Panels)
    cuts = [
        (p.piece, _placed(asked[p.piece].outline.points, p.turn_degrees, p.flip, p.x, p.y), "piece", p.panel)
        for p in lay.placements
    ]
    cuts += [(s.strip, Polygon(s.outline.points), "strip", s.panel) for s in lay.strips]
    for name, polygon, _, panel in cuts:
        x0, y0, _, y1 = polygon.bounds
        if on_panels:
            if not request.cloth.outlines[panel].polygon.buffer(0.05).covers(polygon):
                said.append(f"{name} is off panel {panel}")
        elif x0 < -0.05 or y0 < request.roll.low - 0.05 or y1 > request.roll.high + 0.05:
            said.append(f"{name} is off the cloth")
        for flaw in request.flaws:
            apart = polygon.distance(flaw.outline.polygon)
            sunk = polygon.buffer(-0.026).intersects(flaw.outline.polygon.buffer(-0.026))
            if flaw.panel == panel and (apart < request.gap - 0.05 or sunk):
                said.append(f"{name} is {apart:.3f} from a flaw")
    said += _off_the_repeat(request, lay)
    laid = {(p.piece, p.copy): p for p in lay.placements}
    said += [f"{pin.piece} {pin.copy} moved" for pin in request.pinned if laid.get((pin.piece, pin.copy)) != pin]
    for (one, a, kind, here), (other, b, other_kind, there) in combinations(cuts, 2):
        if here != there:
            continue
        gap = 0 if kind == other_kind == "strip" else request.gap
        if gap and a.distance(b) < gap - 0.05:
            said.append(f"{one} and {other} are {a.distance(b):.3f} apart, the gap is {gap}")
        if not gap and a.buffer(-0.026).intersects(b.buffer(-0.026)):
            said.append(f"{one} lies on {other}")
    for piece in request.pieces:
        copies = sorted(p.copy for p in lay.placements if p.piece == piece.id)
        missing = dict(lay.unplaced).get(piece.id, 0)
        if (
            len(set(copies)) != len(copies)
            or len(copies) + missing != piece.count
            or not set(copies) <= set(range(1, piece.count + 1))
        ):
            said.append(f"{piece.id}: copies {copies}")
        if any(p.flip and not piece.flip for p in lay.placements if p.piece == piece.id):
            said.append(f"{piece.id} is flipped")
        turns = {round(p.turn_degrees % 360, 3) for p in lay.placements if p.piece == piece.id}
        if piece.turns is not None and not turns <= {t % 360 for t in piece.turns}:
            said.append(f"{piece.id} is turned by {turns}")
    for strip in request.strips:
        lengths = [s.length for s in lay.strips if s.strip == strip.id]
        if sum(length - strip.join for length in lengths) + dict(lay.short).get(strip.id, 0) < strip.total - 0.5:
            said.append(f"{strip.id} is short")
        if any(length < strip.shortest - 0.05 for length in lengths):
            said.append(f"{strip.id} has a strip that is too short")
        for s in lay.strips:
            x, y = s.outline.points[1][0] - s.outline.points[0][0], s.outline.points[1][1] - s.outline.points[0][1]
            way = {0: "along", 90: "across", 45: "bias", 135: "bias"}.get(round(math.degrees(math.atan2(y, x))) % 180)
            if way not in strip.directions and s.strip == strip.id:
                said.append(f"{strip.id} lies {way}")
    if on_panels:
        whole = sum(request.cloth.outlines[k].area for k in {c[3] for c in cuts})
        if whole and abs(lay.used - sum(c[1].area for c in cuts) / whole) > 0.002:
            said.append("the share used is wrong")
        return said
    if lay.short:
        said.append("a roll has strip without end")
    far = max((c[1].bounds[2] for c in cuts), default=0)
    if abs(far - lay.length) > 0.5:
        said.append(f"length {lay.length} but the furthest cut is at {far}")
    if lay.bound > lay.length + 0.5:
        said.append("the bound is above the length")
    whole = far * request.roll.usable
    if whole and abs(lay.used - sum(c[1].area for c in cuts) / whole) > 0.002:
        said.append("the share used is wrong")
    return said
