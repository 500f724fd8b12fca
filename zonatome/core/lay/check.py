"""Is a lay true to its request?

Asked of every lay before it is shown or kept, of every move by hand, and by the tests.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np
from shapely import STRtree
from shapely.geometry import Polygon

from zonatome.core.lay.request import Lay, LayRequest, Panels, Placement, StripAsk, StripCut

APART = 0.05  # mm: nearer than the gap by more than this is a fault
SUNK = 0.5  # mm2 that two outlines may share where no gap is asked for
OFF_MOTIF = 0.5  # mm
SIDE = 0.1  # mm: a strip's sides
MISSING = 0.5  # mm of strip
DEGREES = 0.1


@dataclass(frozen=True)
class Fault:
    """One thing that is wrong: in words, by how many mm (0 where that says nothing), and the cuts that it concerns."""

    words: str
    amount: float = 0.0
    cuts: tuple[str, ...] = ()


@dataclass(frozen=True)
class Cut:
    """A piece or strip where it lies; `key` is `piece:copy` or `strip:number`."""

    key: str
    name: str
    panel: int
    polygon: Polygon
    is_strip: bool


def faults(request: LayRequest, lay: Lay) -> list[str]:
    """Return what is wrong with a lay, a sentence each; an empty list means that it may be cut."""
    return [fault.words for fault in examined(request, lay)]


def examined(request: LayRequest, lay: Lay) -> list[Fault]:
    """Return what is wrong with a lay: counts, turns, pins, places on the cloth, repeat, flaws, distances, strips."""
    cuts = _cuts(request, lay)
    return [
        *_counted(request, lay),
        *_strips(request, lay),
        *placed_faults(request, lay.placements),
        *_outside(request, cuts),
        *_on_flaws(request, cuts),
        *_too_near(request, cuts),
    ]


def placed_faults(request: LayRequest, placements: tuple[Placement, ...]) -> Iterator[Fault]:
    """Yield what is wrong with pieces one by one: turn, mirror image, repeat, and pins that moved."""
    at = {(p.piece, p.copy): p for p in placements}
    for pin in request.pinned:
        found = at.get((pin.piece, pin.copy))
        if found is None or max(abs(found.x - pin.x), abs(found.y - pin.y)) > APART or found.panel != pin.panel:
            yield Fault(f"{pin.piece} {pin.copy} was pinned and does not lie there", cuts=(f"{pin.piece}:{pin.copy}",))
    for p in placements:
        ask, key, name = request.by_id[p.piece], (f"{p.piece}:{p.copy}",), f"{p.piece} {p.copy}"
        if not ask.may_turn(p.turn_degrees):
            yield Fault(f"{name} is turned by {p.turn_degrees:g} degrees, which it may not be", cuts=key)
        if p.flip and not ask.flip:
            yield Fault(f"{name} is a mirror image, which it may not be", cuts=key)
        off_x, off_y = off_motif(request, p)
        if off_x > OFF_MOTIF:
            yield Fault(f"{name} is {off_x:.1f} mm off its motif along the roll", off_x, key)
        if off_y > OFF_MOTIF:
            yield Fault(f"{name} is {off_y:.1f} mm off its motif across", off_y, key)


def off_motif(request: LayRequest, placement: Placement) -> tuple[float, float]:
    """Return by how many mm a piece misses the nearest motif along the roll and across; 0 where it is not bound."""
    ask = request.by_id[placement.piece]
    repeat = request.repeat_on(placement.panel)
    along, across = ask.bound(repeat)
    if repeat is None or ask.anchor is None or not (along or across):
        return 0.0, 0.0
    return repeat.off(placement.spot(ask.anchor), along=along, across=across)


def _cuts(request: LayRequest, lay: Lay) -> list[Cut]:
    cuts = [
        Cut(f"{p.piece}:{p.copy}", f"{p.piece} {p.copy}", p.panel, p.on_cloth(request.by_id[p.piece]).polygon, False)
        for p in lay.placements
    ]
    return cuts + [
        Cut(f"{s.strip}:{n + 1}", f"strip {n + 1} of {s.strip}", s.panel, s.outline.polygon, True)
        for n, s in enumerate(lay.strips)
    ]


def _outside(request: LayRequest, cuts: list[Cut]) -> Iterator[Fault]:
    if isinstance(request.cloth, Panels):
        rooms = [o.polygon.buffer(APART) for o in request.cloth.outlines]
        for cut in cuts:
            if not 0 <= cut.panel < len(rooms) or not rooms[cut.panel].covers(cut.polygon):
                yield Fault(f"{cut.name} lies beyond the edge of panel {cut.panel + 1}", cuts=(cut.key,))
        return
    roll = request.cloth
    for cut in cuts:
        x0, y0, _, y1 = cut.polygon.bounds
        if x0 < -APART:
            yield Fault(f"{cut.name} reaches {-x0:.1f} mm beyond the cut end", -x0, (cut.key,))
        for over, where in ((roll.low - y0, "right"), (y1 - roll.high, "left")):
            if over > APART:
                yield Fault(f"{cut.name} reaches {over:.1f} mm into the {where} selvage", over, (cut.key,))


def _on_flaws(request: LayRequest, cuts: list[Cut]) -> Iterator[Fault]:
    for number, flaw in enumerate(request.flaws):
        polygon = flaw.outline.polygon
        for cut in cuts:
            if cut.panel == flaw.panel and (by := _nearer(cut.polygon, polygon, request.gap)):
                yield Fault(f"{cut.name} lies {_apart(by, request.gap)} flaw {number + 1}", by, (cut.key,))


def _too_near(request: LayRequest, cuts: list[Cut]) -> Iterator[Fault]:
    polygons = [c.polygon for c in cuts]
    if not cuts:
        return
    pairs = STRtree(polygons).query(polygons, predicate="dwithin", distance=max(0.0, request.gap - APART)).T
    for a, b in ((cuts[int(a)], cuts[int(b)]) for a, b in np.asarray(pairs) if a < b):
        need = 0.0 if a.is_strip and b.is_strip else request.gap
        if a.panel == b.panel and (by := _nearer(a.polygon, b.polygon, need)):
            yield Fault(f"{a.name} lies {_apart(by, need)} {b.name}", by, (a.key, b.key))


def _apart(by: float, need: float) -> str:
    return f"{by:.1f} mm over" if by > need else f"{by:.1f} mm too near to"


def _nearer(one: Polygon, other: Polygon, need: float) -> float:
    """By how much two lie nearer than they may, 0 where they do not;
    how deep they lie over each other adds to the gap.
    """
    apart = float(one.distance(other))
    if apart > 0:
        return need - apart if apart < need - APART else 0.0
    shared = one.intersection(other)
    if need > APART and shared.area <= 0:
        return need
    if shared.area <= SUNK and need <= APART:
        return 0.0
    if need <= APART and one.buffer(-APART / 2).intersection(other.buffer(-APART / 2)).area <= 1e-6:
        return 0.0
    x0, y0, x1, y1 = shared.bounds
    return float(max(need + min(x1 - x0, y1 - y0), 2 * APART))


def _counted(request: LayRequest, lay: Lay) -> Iterator[Fault]:
    missing = Counter(dict(lay.unplaced))
    seen: Counter[str] = Counter()
    for (piece, copy), often in Counter((p.piece, p.copy) for p in lay.placements).items():
        if piece not in request.by_id:
            yield Fault(f"{piece} is no piece of the request")
            continue
        seen[piece] += often
        if often > 1 or not 1 <= copy <= request.by_id[piece].count:
            yield Fault(
                f"{piece} {copy} is laid {often} times, of {request.by_id[piece].count} copies",
                cuts=(f"{piece}:{copy}",),
            )
    for ask in request.pieces:
        if seen[ask.id] + missing[ask.id] != ask.count:
            yield Fault(f"{ask.id}: {seen[ask.id]} laid, {ask.count} asked for")


def _strips(request: LayRequest, lay: Lay) -> Iterator[Fault]:
    short = dict(lay.short)
    asks = {s.id: s for s in request.strips}
    for number, cut in enumerate(lay.strips):
        if cut.strip not in asks:
            yield Fault(f"{cut.strip} is no strip of the request")
        elif words := _strip_fault(asks[cut.strip], cut):
            yield Fault(f"strip {number + 1} of {cut.strip} {words}", cuts=(f"{cut.strip}:{number + 1}",))
    for ask in request.strips:
        got = sum(s.length - ask.join for s in lay.strips if s.strip == ask.id)
        if got + short.get(ask.id, 0.0) < ask.total - MISSING:
            yield Fault(f"{ask.id}: {got:.0f} mm of strip, {ask.total:.0f} asked for", ask.total - got)


def _strip_fault(ask: StripAsk, cut: StripCut) -> str:
    """What is wrong with one strip by itself, in words; empty where nothing is."""
    points = np.array(cut.outline.points)
    if len(points) != 4 or abs(np.hypot(*(points[0] - points[2])) - np.hypot(*(points[1] - points[3]))) > SIDE:
        return "is no rectangle"
    sides = np.roll(points, -1, axis=0) - points
    size = np.hypot(sides[:, 0], sides[:, 1])
    long_way = next(
        (k for k in (0, 1) if abs(size[k] - cut.length) <= SIDE and abs(size[1 - k] - ask.width) <= SIDE), None
    )
    if long_way is None:
        return f"measures {size[0]:.1f} x {size[1]:.1f} mm, not {cut.length:.1f} x {ask.width:g}"
    if cut.length < ask.shortest - APART:
        return f"is {cut.length:.0f} mm long, the shortest allowed is {ask.shortest:.0f}"
    angles = (
        np.degrees(np.arctan2(sides[:, 1], sides[:, 0]))[[k for k in (0, 1) if abs(size[k] - cut.length) <= SIDE]] % 180
    )
    allowed = [
        a for way in ask.directions for a in {"along": (0.0, 180.0), "across": (90.0,), "bias": (45.0, 135.0)}[way]
    ]
    if not any(abs(angle - a) < DEGREES for angle in angles for a in allowed):
        return f"lies at {angles[0]:.0f} degrees, allowed is {', '.join(ask.directions)}"
    return ""


def named(words: str, names: Mapping[str, str]) -> str:
    """Return a sentence with the pieces' names for their ids."""
    for key in sorted(names, key=len, reverse=True):
        words = re.sub(rf"(?<![\w-]){re.escape(key)}(?![\w-])", names[key], words)
    return words
