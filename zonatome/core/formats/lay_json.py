"""Lay requests and lays as JSON, `zonatome.lay-request` and `zonatome.lay`, version 1."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace
from itertools import zip_longest
from typing import Any, cast, get_args

from zonatome.core.errors import BadInput
from zonatome.core.formats import reading
from zonatome.core.lay.request import (
    Direction,
    Flaw,
    Lay,
    LayRequest,
    Panels,
    PieceAsk,
    Placement,
    Repeat,
    Roll,
    StripAsk,
    StripCut,
)
from zonatome.core.outline import Outline, Point, outline_of
from zonatome.core.tolerances import LEAST_FLAW, LONGEST, MOST_POINTS

REQUEST = "zonatome.lay-request"
LAY = "zonatome.lay"
MOST_PIECES = 2_000
MOST_POINTS_IN_ALL = 60_000  # of all pieces
MOST_MATCHED = 200  # different pieces on a roll that is not plain
MOST_ON_PANELS = 60  # different pieces on panels
WIDEST = 10_000.0
MOST_FLAWS = 200
MOST_PANELS = 60
LEAST_REPEAT = 5.0  # mm: a finer repeat is a texture, and matches everywhere


def read_request(data: Mapping[str, Any]) -> LayRequest:
    """Return the lay request in a document.

    Besides the format's own keys it reads `pinned`, placements that stay, and a piece's `priority`. Raises
    BadInput, naming the key, the value and what was expected.
    """
    reading.check_format(data, REQUEST)
    cloth = _cloth(reading.table(reading.wanted(data, "cloth"), "cloth"))
    gap = reading.number(data.get("gap", 0) or 0, "gap", least=0, most=500)
    entries = reading.listed(reading.wanted(data, "pieces"), "pieces", most=MOST_PIECES)
    pieces = tuple(_piece(reading.table(p, f"pieces[{i}]"), f"pieces[{i}].") for i, p in enumerate(entries))
    strips = tuple(
        _strip(reading.table(s, f"strips[{i}]"), f"strips[{i}].")
        for i, s in enumerate(reading.listed(data.get("strips") or [], "strips", most=100))
    )
    if not pieces and not strips:
        raise BadInput("pieces", [], "at least one piece or strip")
    _all_different([p.id for p in pieces], "pieces")
    _all_different([s.id for s in strips], "strips")
    if sum(p.count for p in pieces) > MOST_PIECES:
        raise BadInput("pieces", sum(p.count for p in pieces), f"at most {MOST_PIECES} pieces in all")
    pinned = tuple(
        _placement(reading.table(p, f"pinned[{i}]"), f"pinned[{i}].")
        for i, p in enumerate(reading.listed(data.get("pinned") or [], "pinned", most=MOST_PIECES))
    )
    request = LayRequest(cloth, gap, pieces, strips, pinned)
    _pins_belong(request)
    _of_a_size(request)
    return request


def _of_a_size(request: LayRequest) -> None:
    """Refuse at once what no search can lay within its time: it grows with the square of the different pieces and of
    their corners.
    """
    points = sum(len(p.outline.points) for p in request.pieces)
    if points > MOST_POINTS_IN_ALL:
        raise BadInput("pieces", f"{points} points", f"at most {MOST_POINTS_IN_ALL} points of all outlines together")
    cloth, most = ("panels", MOST_ON_PANELS) if request.on_panels else ("a roll with a repeat or flaws", MOST_MATCHED)
    if len(request.pieces) > most and (request.on_panels or not request.is_plain):
        raise BadInput("pieces", f"{len(request.pieces)} different", f"at most {most} different pieces on {cloth}")


def _pins_belong(request: LayRequest) -> None:
    seen = set()
    for i, pin in enumerate(request.pinned):
        piece = request.by_id.get(pin.piece)
        if piece is None:
            raise BadInput(f"pinned[{i}].piece", pin.piece, "the id of a piece of the request")
        if pin.copy > piece.count or (pin.piece, pin.copy) in seen:
            raise BadInput(f"pinned[{i}].copy", pin.copy, f"a copy from 1 to {piece.count}, each once")
        if isinstance(request.cloth, Panels) and pin.panel >= len(request.cloth.outlines):
            raise BadInput(f"pinned[{i}].panel", pin.panel, f"a panel from 0 to {len(request.cloth.outlines) - 1}")
        seen.add((pin.piece, pin.copy))


def _all_different(ids: list[str], key: str) -> None:
    for one in ids:
        if ids.count(one) > 1:
            raise BadInput(f"{key}.id", one, "an id that stands once")


def _cloth(cloth: dict[str, Any]) -> Roll | Panels:
    kind = reading.wanted(cloth, "kind", "cloth.")
    if kind == "panels":
        return _panels(cloth)
    if kind != "roll":
        raise BadInput("cloth.kind", kind, "'roll' or 'panels'")
    width = reading.number(reading.wanted(cloth, "width", "cloth."), "cloth.width", least=50, most=WIDEST)
    edges = reading.listed(
        [0, 0] if cloth.get("selvage") is None else cloth["selvage"], "cloth.selvage", least=2, most=2
    )
    low, high = (reading.number(v, f"cloth.selvage[{i}]", least=0, most=width) for i, v in enumerate(edges))
    if width - low - high < 10:
        raise BadInput("cloth.selvage", edges, f"edges that leave cloth between them on a width of {width:g} mm")
    flaws = reading.listed(cloth.get("flaws") or [], "cloth.flaws", most=MOST_FLAWS)
    return Roll(
        width,
        (low, high),
        _repeat(cloth.get("repeat"), "cloth.repeat"),
        tuple(_flaw(f, f"cloth.flaws[{i}]") for i, f in enumerate(flaws)),
    )


def _flaw(points: Any, key: str) -> Outline:
    return outline_of(reading.listed(points, key, least=3, most=MOST_POINTS), key=key, least_area=LEAST_FLAW)


def _repeat(value: Any, where: str) -> Repeat | None:
    if value is None:
        return None
    told = reading.table(value, where)
    steps = {
        key: None
        if told.get(key) is None
        else reading.number(told[key], f"{where}.{key}", least=LEAST_REPEAT, most=WIDEST)
        for key in ("along", "across")
    }
    if steps["along"] is None and steps["across"] is None:
        return None
    origin = reading.listed(told.get("origin") or [0, 0], where + ".origin", least=2, most=2)
    x, y = (reading.number(v, f"{where}.origin[{i}]", least=-LONGEST, most=LONGEST) for i, v in enumerate(origin))
    drop = reading.number(told.get("drop") or 0, where + ".drop", least=-1, most=1)
    return Repeat(steps["along"], steps["across"], drop, (x, y))


def _panels(cloth: dict[str, Any]) -> Panels:
    if cloth.get("repeat"):
        raise BadInput(
            "cloth.repeat", cloth["repeat"], "none: of cloth in panels each panel has its own, with its own origin"
        )
    entries = reading.listed(reading.wanted(cloth, "panels", "cloth."), "cloth.panels", least=1, most=MOST_PANELS)
    outlines, repeats = [], []
    for i, entry in enumerate(entries):
        key = f"cloth.panels[{i}]"
        points = reading.wanted(reading.table(entry, key), "outline", key + ".")
        outlines.append(
            outline_of(reading.listed(points, key + ".outline", least=3, most=MOST_POINTS), key=key + ".outline")
        )
        repeats.append(_repeat(entry.get("repeat"), key + ".repeat"))
    flaws = []
    for i, entry in enumerate(reading.listed(cloth.get("flaws") or [], "cloth.flaws", most=MOST_FLAWS)):
        key = f"cloth.flaws[{i}]"
        told = reading.table(entry, key)
        panel = reading.whole(reading.wanted(told, "panel", key + "."), key + ".panel", least=0, most=len(outlines) - 1)
        flaws.append(Flaw(panel, _flaw(reading.wanted(told, "outline", key + "."), key + ".outline")))
    return Panels(tuple(outlines), tuple(flaws), _of_one_cloth(repeats))


def _of_one_cloth(repeats: list[Repeat | None]) -> tuple[Repeat, ...]:
    """The repeats of panels: all have one with the same steps, or none has."""
    told = tuple(r for r in repeats if r is not None)
    for i, one in enumerate(repeats):
        if told and (one is None or replace(one, origin=told[0].origin) != told[0]):
            found = "none" if one is None else f"{one.along} x {one.across}, drop {one.drop:g}"
            first = f"{told[0].along} x {told[0].across}, drop {told[0].drop:g}"
            expected = f"the repeat of the other panels, {first}: they are of one cloth"
            raise BadInput(f"cloth.panels[{i}].repeat", found, expected)
    return told


def _piece(data: dict[str, Any], where: str) -> PieceAsk:
    points = reading.listed(reading.wanted(data, "outline", where), where + "outline", least=3, most=MOST_POINTS)
    match = reading.table(data.get("match") or {}, where + "match")
    return PieceAsk(
        reading.text(reading.wanted(data, "id", where), where + "id"),
        outline_of(points, key=where + "outline"),
        reading.whole(data.get("count", 1), where + "count", least=1, most=MOST_PIECES),
        _turns(data.get("turns", [0]), where + "turns"),
        _yes_or_no(data.get("flip", False), where + "flip"),
        _anchor(data.get("anchor"), where + "anchor"),
        _yes_or_no(match.get("along", False), where + "match.along"),
        _yes_or_no(match.get("across", False), where + "match.across"),
        _yes_or_no(data.get("priority", False), where + "priority"),
    )


def _anchor(value: Any, key: str) -> Point | None:
    if value is None:
        return None
    x, y = (
        reading.number(v, f"{key}[{i}]", least=-LONGEST, most=LONGEST)
        for i, v in enumerate(reading.listed(value, key, least=2, most=2))
    )
    return x, y


def _turns(value: Any, key: str) -> tuple[float, ...] | None:
    if value == "any":
        return None
    if not isinstance(value, list) or not 1 <= len(value) <= 360:
        raise BadInput(key, value, "a list of turns in degrees, or 'any'")
    return tuple(sorted({reading.number(v, f"{key}[{i}]", least=-360, most=360) % 360 for i, v in enumerate(value)}))


def _yes_or_no(value: Any, key: str) -> bool:
    if not isinstance(value, bool):
        raise BadInput(key, value, "true or false")
    return value


def _strip(data: dict[str, Any], where: str) -> StripAsk:
    ways = reading.listed(data.get("directions", ["across", "along"]), where + "directions", least=1, most=3)
    for way in ways:
        if way not in get_args(Direction):
            raise BadInput(where + "directions", way, "along, across or bias")
    join = reading.number(data.get("join", 0), where + "join", least=0, most=500)
    shortest = reading.number(data.get("shortest", 0), where + "shortest", least=0, most=LONGEST)
    return StripAsk(
        reading.text(reading.wanted(data, "id", where), where + "id"),
        reading.number(reading.wanted(data, "width", where), where + "width", least=3, most=2_000),
        reading.number(reading.wanted(data, "total", where), where + "total", least=1, most=10 * LONGEST),
        join,
        max(shortest, join + 10.0),
        cast(tuple[Direction, ...], tuple(ways)),
        _yes_or_no(data.get("one_way", False), where + "one_way"),
    )


def write_request(request: LayRequest) -> dict[str, Any]:
    """Return a request as its JSON document; reading it back gives the same request, to a thousandth of a mm."""
    document: dict[str, Any] = {
        "format": REQUEST,
        "version": 1,
        "cloth": _cloth_out(request.cloth),
        "gap": request.gap,
        "pieces": [_piece_out(p) for p in request.pieces],
        "strips": [
            {
                "id": s.id,
                "width": s.width,
                "total": s.total,
                "join": s.join,
                "shortest": s.shortest,
                "directions": list(s.directions),
            }
            | ({"one_way": True} if s.one_way else {})
            for s in request.strips
        ],
    }
    if request.pinned:
        document["pinned"] = [_placement_out(p, on_panels=request.on_panels) for p in request.pinned]
    return document


def _points(outline: Outline, digits: int = 3) -> list[list[float]]:
    return [[round(x, digits), round(y, digits)] for x, y in outline.points]


def _cloth_out(cloth: Roll | Panels) -> dict[str, Any]:
    if isinstance(cloth, Panels):
        return {
            "kind": "panels",
            "panels": [{"outline": _points(o)} | _repeat_out(r) for o, r in zip_longest(cloth.outlines, cloth.repeats)],
            "flaws": [{"panel": f.panel, "outline": _points(f.outline)} for f in cloth.flaws],
        }
    told: dict[str, Any] = {"kind": "roll", "width": cloth.width, "selvage": list(cloth.selvage)}
    told |= _repeat_out(cloth.repeat)
    if cloth.flaws:
        told["flaws"] = [_points(f) for f in cloth.flaws]
    return told


def _repeat_out(step: Repeat | None) -> dict[str, Any]:
    if step is None:
        return {}
    return {"repeat": {"along": step.along, "across": step.across, "drop": step.drop, "origin": list(step.origin)}}


def _piece_out(piece: PieceAsk) -> dict[str, Any]:
    told: dict[str, Any] = {
        "id": piece.id,
        "outline": _points(piece.outline),
        "count": piece.count,
        "turns": "any" if piece.turns is None else list(piece.turns),
        "flip": piece.flip,
    }
    if piece.anchor is not None:
        told["anchor"] = [round(v, 3) for v in piece.anchor]
        told["match"] = {"along": piece.match_along, "across": piece.match_across}
    if piece.priority:
        told["priority"] = True
    return told


def _placement_out(p: Placement, *, on_panels: bool) -> dict[str, Any]:
    told = {
        "piece": p.piece,
        "copy": p.copy,
        "x": round(p.x, 4),
        "y": round(p.y, 4),
        "turn": round(p.turn_degrees, 6),
        "flip": p.flip,
    }
    return told | {"panel": p.panel} if on_panels else told


def write_lay(lay: Lay) -> dict[str, Any]:
    """Return a lay as its JSON document."""
    strips = [
        {"strip": s.strip, "outline": _points(s.outline, 4), "length": round(s.length, 4)}
        | ({"panel": s.panel} if lay.on_panels else {})
        for s in lay.strips
    ]
    return {
        "format": LAY,
        "version": 1,
        "length": None if lay.on_panels else round(lay.length, 3),
        "used": round(lay.used, 5),
        "bound": None if lay.on_panels else round(lay.bound, 3),
        "seconds": round(lay.seconds, 2),
        "method": lay.method,
        "placements": write_placements(lay.placements, on_panels=lay.on_panels),
        "strips": strips,
        "unplaced": [{"piece": piece, "count": count} for piece, count in lay.unplaced]
        + [{"strip": strip, "total": round(missing, 1)} for strip, missing in lay.short],
    }


def write_placements(placements: Iterable[Placement], *, on_panels: bool) -> list[dict[str, Any]]:
    """Return what lies where as the list that a lay's document has; on panels each with its panel's number."""
    return [_placement_out(p, on_panels=on_panels) for p in placements]


def read_placements(data: object) -> tuple[Placement, ...]:
    """Return what lies where from the list of a document. Raises BadInput, naming the key."""
    listed = reading.listed(data, "placements")
    return tuple(_placement(reading.table(p, f"placements[{i}]"), f"placements[{i}].") for i, p in enumerate(listed))


def read_lay(data: Mapping[str, Any]) -> Lay:
    """Return the lay in a document. Raises BadInput, naming the key."""
    reading.check_format(data, LAY)
    placements = read_placements(reading.wanted(data, "placements"))
    strips = tuple(
        StripCut(
            s["strip"],
            outline_of(s["outline"], key=f"strips[{i}].outline"),
            reading.number(s["length"], f"strips[{i}].length"),
            reading.whole(s.get("panel", 0), f"strips[{i}].panel", least=0, most=MOST_PANELS),
        )
        for i, s in enumerate(reading.listed(data.get("strips") or [], "strips"))
    )
    on_panels = reading.wanted(data, "length") is None
    missing = reading.listed(data.get("unplaced") or [], "unplaced")
    return Lay(
        0.0 if on_panels else reading.number(data["length"], "length", least=0),
        reading.number(reading.wanted(data, "used"), "used", least=0, most=1.001),
        0.0 if on_panels else reading.number(reading.wanted(data, "bound"), "bound", least=0),
        reading.number(data.get("seconds", 0), "seconds", least=0),
        placements,
        strips,
        tuple((u["piece"], u["count"]) for u in missing if "piece" in u),
        str(data.get("method", "rows"))[:40],
        tuple((u["strip"], u["total"]) for u in missing if "strip" in u),
        on_panels,
    )


def _placement(told: Mapping[str, Any], where: str) -> Placement:
    return Placement(
        reading.text(reading.wanted(told, "piece", where), where + "piece"),
        reading.whole(reading.wanted(told, "copy", where), where + "copy", least=1, most=MOST_PIECES),
        reading.number(reading.wanted(told, "x", where), where + "x", least=-LONGEST, most=LONGEST),
        reading.number(reading.wanted(told, "y", where), where + "y", least=-LONGEST, most=LONGEST),
        reading.number(told.get("turn", 0), where + "turn", least=-360, most=360),
        _yes_or_no(told.get("flip", False), where + "flip"),
        reading.whole(told.get("panel", 0), where + "panel", least=0, most=MOST_PANELS),
    )
