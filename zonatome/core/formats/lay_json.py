"""Lay requests and lays as JSON, `zonatome.lay-request` and `zonatome.lay`, version 1."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, cast, get_args

from zonatome.core.errors import BadInput
from zonatome.core.formats import reading
from zonatome.core.lay.request import Direction, Lay, LayRequest, PieceAsk, Placement, Roll, StripAsk, StripCut
from zonatome.core.outline import outline_of
from zonatome.core.tolerances import LONGEST, MOST_POINTS

REQUEST, LAY = "zonatome.lay-request", "zonatome.lay"
MOST_PIECES = 2_000
WIDEST = 10_000.0


def read_request(data: Mapping[str, Any]) -> LayRequest:
    """Return the lay request in a document.

    Rolls of plain cloth; a repeat, flaws and panels are refused by name, since no engine here lays on them
    yet. Raises BadInput, naming the key.
    """
    reading.check_format(data, REQUEST)
    roll = _roll(reading.table(reading.wanted(data, "cloth"), "cloth"))
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
    request = LayRequest(roll, gap, pieces, strips)
    if request.piece_count > MOST_PIECES:
        raise BadInput("pieces", request.piece_count, f"at most {MOST_PIECES} pieces in all")
    return request


def _all_different(ids: list[str], key: str) -> None:
    for one in ids:
        if ids.count(one) > 1:
            raise BadInput(f"{key}.id", one, "an id that stands once")


def _roll(cloth: dict[str, Any]) -> Roll:
    kind = reading.wanted(cloth, "kind", "cloth.")
    if kind == "panels" or cloth.get("panels"):
        raise BadInput("cloth.kind", kind, "'roll': cloth in panels is not built yet")
    if kind != "roll":
        raise BadInput("cloth.kind", kind, "'roll'")
    if cloth.get("repeat"):
        raise BadInput("cloth.repeat", cloth["repeat"], "null: cloth with a repeat is not built yet")
    if cloth.get("flaws"):
        raise BadInput("cloth.flaws", f"{len(cloth['flaws'])} flaws", "none: laying round flaws is not built yet")
    width = reading.number(reading.wanted(cloth, "width", "cloth."), "cloth.width", least=50, most=WIDEST)
    edges = reading.listed(cloth.get("selvage") or [0, 0], "cloth.selvage", least=2, most=2)
    low, high = (reading.number(v, f"cloth.selvage[{i}]", least=0, most=width) for i, v in enumerate(edges))
    if width - low - high < 10:
        raise BadInput("cloth.selvage", edges, f"edges that leave cloth between them on a width of {width:g} mm")
    return Roll(width, (low, high))


def _piece(data: dict[str, Any], where: str) -> PieceAsk:
    points = reading.listed(reading.wanted(data, "outline", where), where + "outline", least=3, most=MOST_POINTS)
    return PieceAsk(
        reading.text(reading.wanted(data, "id", where), where + "id"),
        outline_of(points, key=where + "outline"),
        reading.whole(data.get("count", 1), where + "count", least=1, most=MOST_PIECES),
        _turns(data.get("turns", [0]), where + "turns"),
        _yes_or_no(data.get("flip", False), where + "flip"),
    )


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
    )


def write_request(request: LayRequest) -> dict[str, Any]:
    """Return a request as its JSON document; reading it back gives the same request, to a thousandth of a mm."""
    return {
        "format": REQUEST,
        "version": 1,
        "cloth": {"kind": "roll", "width": request.roll.width, "selvage": list(request.roll.selvage)},
        "gap": request.gap,
        "pieces": [
            {
                "id": p.id,
                "outline": [[round(x, 3), round(y, 3)] for x, y in p.outline.points],
                "count": p.count,
                "turns": "any" if p.turns is None else list(p.turns),
                "flip": p.flip,
            }
            for p in request.pieces
        ],
        "strips": [
            {"id": s.id, "width": s.width, "total": s.total, "join": s.join, "shortest": s.shortest, "directions": list(s.directions)}
            for s in request.strips
        ],
    }


def write_lay(lay: Lay) -> dict[str, Any]:
    """Return a lay as its JSON document."""
    return {
        "format": LAY,
        "version": 1,
        "length": round(lay.length, 3),
        "used": round(lay.used, 5),
        "bound": round(lay.bound, 3),
        "seconds": round(lay.seconds, 2),
        "method": lay.method,
        "placements": [
            {"piece": p.piece, "copy": p.copy, "x": round(p.x, 4), "y": round(p.y, 4), "turn": round(p.turn_degrees, 6), "flip": p.flip}
            for p in lay.placements
        ],
        "strips": [
            {"strip": s.strip, "outline": [[round(x, 4), round(y, 4)] for x, y in s.outline.points], "length": round(s.length, 4)}
            for s in lay.strips
        ],
        "unplaced": [{"piece": piece, "count": count} for piece, count in lay.unplaced],
    }


def read_lay(data: Mapping[str, Any]) -> Lay:
    """Return the lay in a document. Raises BadInput, naming the key."""
    reading.check_format(data, LAY)
    placements = tuple(
        Placement(
            reading.text(reading.wanted(p, "piece"), f"placements[{i}].piece"),
            reading.whole(reading.wanted(p, "copy"), f"placements[{i}].copy", least=1, most=MOST_PIECES),
            reading.number(reading.wanted(p, "x"), f"placements[{i}].x"),
            reading.number(reading.wanted(p, "y"), f"placements[{i}].y"),
            reading.number(p.get("turn", 0), f"placements[{i}].turn"),
            _yes_or_no(p.get("flip", False), f"placements[{i}].flip"),
        )
        for i, p in enumerate(reading.listed(reading.wanted(data, "placements"), "placements"))
    )
    strips = tuple(
        StripCut(s["strip"], outline_of(s["outline"], key=f"strips[{i}].outline"), reading.number(s["length"], f"strips[{i}].length"))
        for i, s in enumerate(reading.listed(data.get("strips") or [], "strips"))
    )
    return Lay(
        reading.number(reading.wanted(data, "length"), "length", least=0),
        reading.number(reading.wanted(data, "used"), "used", least=0, most=1.001),
        reading.number(reading.wanted(data, "bound"), "bound", least=0),
        reading.number(data.get("seconds", 0), "seconds", least=0),
        placements,
        strips,
        tuple((u["piece"], u["count"]) for u in data.get("unplaced") or [] if "piece" in u),
        str(data.get("method", "rows"))[:40],
    )
