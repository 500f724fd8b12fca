"""Furniture JSON, `zonatome.furniture` version 1: one piece of furniture's own parts, joins and layering."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, replace
from typing import Any, get_args

from zonatome.core.errors import BadInput
from zonatome.core.formats import reading
from zonatome.core.formats.version_1 import brought_over
from zonatome.core.joins import join_named
from zonatome.core.survey.furniture import MOST_NAME, MOST_PARTS, checked
from zonatome.core.survey.kind import (
    SIDES,
    ButtonGrid,
    Channels,
    Cover,
    Form,
    Kind,
    Meeting,
    Part,
    Side,
    What,
    side_of_edge,
)
from zonatome.core.survey.kinds import kind_named

FORMAT = "zonatome.furniture"
VERSION = 2  # each panel in its own frame; version 1 wrote sides as they lay on the opened-out drawing
PLAIN = Part("", "", "")


def write_furniture(kind: Kind) -> dict[str, Any]:
    """Return a piece of furniture as the JSON document that files and the store hold; what is as usual is left out."""
    return {
        "format": FORMAT,
        "version": VERSION,
        "kind": kind.key,
        "parts": [_part(p) for p in kind.parts],
        "over": [list(pair) for pair in kind.over],
        "meets": [
            [m.one, m.one_edge, m.other, m.other_edge, m.join] + ([m.span] if m.span is not None else [])
            for m in kind.meets
        ],
        "together": [list(group) for group in kind.together],
        "layers": list(kind.layers),
    }


def _part(part: Part) -> dict[str, Any]:
    data = {k: v for k, v in asdict(part).items() if v != getattr(PLAIN, k) or k in ("key", "name", "short")}
    data["joins"] = {edge: part.joins[edge] for edge in part.edges if edge in part.joins}
    data["parted"] = {side: list(lengths) for side, lengths in part.parted.items()}
    return {k: list(v) if isinstance(v, tuple) else v for k, v in data.items() if v != {}}


def read_furniture(data: Mapping[str, Any]) -> Kind:
    """Return the furniture in a document, on the ground of its kind; one of version 1 is brought over first.

    Raises BadInput, naming the key.
    """
    if data.get("version") == 1:
        return brought_over(data).kind
    reading.check_format(data, FORMAT, version=VERSION)
    kind = kind_named(reading.text(reading.wanted(data, "kind"), "kind", most=30))
    parts = [
        _read_part(p, f"parts[{n}]")
        for n, p in enumerate(reading.listed(reading.wanted(data, "parts"), "parts", least=1, most=MOST_PARTS))
    ]
    over = [
        _strings(p, f"over[{n}]", 2)
        for n, p in enumerate(reading.listed(reading.wanted(data, "over"), "over", most=1000))
    ]
    meets = [
        _meeting(m, f"meets[{n}]")
        for n, m in enumerate(reading.listed(reading.wanted(data, "meets"), "meets", most=1000))
    ]
    groups = reading.listed(data.get("together", []), "together", most=MOST_PARTS)
    together = [
        tuple(reading.text(k, "together", most=30) for k in reading.listed(g, "together", least=2, most=MOST_PARTS))
        for g in groups
    ]
    layers = [reading.text(x, "layers", most=80) for x in reading.listed(data.get("layers", []), "layers", most=40)]
    return checked(
        replace(
            kind,
            parts=tuple(parts),
            over=tuple((a, b) for a, b in over),
            meets=tuple(meets),
            together=tuple(together),
            layers=tuple(layers),
        )
    )


def _meeting(value: Any, where: str) -> Meeting:
    row = reading.listed(value, where, least=5, most=6)
    one, one_edge, other, other_edge, join = (reading.text(x, where, most=60) for x in row[:5])
    for edge in (one_edge, other_edge):
        side_of_edge(edge)
    return Meeting(
        one,
        one_edge,
        other,
        other_edge,
        join,
        reading.number(row[5], where, least=1, most=10_000) if len(row) > 5 else None,
    )


def _strings(value: Any, key: str, count: int) -> list[str]:
    return [reading.text(x, key, most=60) for x in reading.listed(value, key, least=count, most=count)]


def _side(value: Any, key: str) -> Side:
    return _one_of(value, key, SIDES)  # type: ignore[no-any-return]


def _one_of(value: Any, key: str, choices: tuple[Any, ...]) -> Any:
    if value not in choices:
        raise BadInput(key, value, "one of " + ", ".join(map(str, choices)))
    return value


def _read_part(value: Any, where: str) -> Part:
    data = reading.table(value, where)

    def number(key: str, least: float, most: float, usual: float = 0.0) -> float:
        return reading.number(data.get(key, usual), f"{where}.{key}", least=least, most=most)

    def text(key: str, most: int) -> str:
        return reading.text(reading.wanted(data, key, f"{where}."), f"{where}.{key}", most=most)

    def flag(key: str, usual: bool = False) -> bool:
        return bool(_one_of(data.get(key, usual), f"{where}.{key}", (True, False)))

    joins = {}
    for edge, join in reading.table(data.get("joins", {}), f"{where}.joins").items():
        side_of_edge(edge)
        joins[edge] = join_named(join, at=f"{where}.joins.{edge}").key
    parted = {}
    for side, lengths in reading.table(data.get("parted", {}), f"{where}.parted").items():
        rows = reading.listed(lengths, f"{where}.parted.{side}", least=2, most=6)
        parted[_side(side, f"{where}.parted")] = tuple(
            reading.number(x, f"{where}.parted.{side}", least=1, most=10_000) for x in rows
        )
    above = data.get("width_above")
    return Part(
        key=text("key", 30),
        name=text("name", MOST_NAME),
        short=text("short", MOST_NAME),
        what=_one_of(data.get("what", "panel"), f"{where}.what", get_args(What)),
        width=number("width", 0, 20_000),
        height=number("height", 0, 20_000),
        on=None if data.get("on") is None else text("on", 30),
        side=_side(data.get("side", "top"), f"{where}.side"),
        by=_side(data.get("by", "bottom"), f"{where}.by"),
        far=number("far", 0.05, 20, 1.0),
        form=_one_of(data.get("form", "four-sided"), f"{where}.form", get_args(Form)),
        stands=flag("stands", True),
        width_above=None if above is None else reading.number(above, f"{where}.width_above", least=1, most=10_000),
        held=tuple(
            reading.text(x, f"{where}.held", most=60)
            for x in reading.listed(data.get("held", []), f"{where}.held", most=12)
        ),
        joins=joins,
        parted=parted,
        padded=flag("padded"),
        centred=flag("centred"),
        per_furniture=reading.whole(data.get("per_furniture", 1), f"{where}.per_furniture", least=1, most=40),
        mirror=None if data.get("mirror") is None else text("mirror", 30),
        deck=flag("deck"),
        cover=_one_of(data.get("cover", "both"), f"{where}.cover", get_args(Cover)),
        contrast=flag("contrast"),
        layer=number("layer", 0, 400),
        buttons=_grid(data.get("buttons"), f"{where}.buttons"),
        channels=_channels(data.get("channels"), f"{where}.channels"),
    )


def _channels(value: Any, where: str) -> Channels | None:
    if value is None:
        return None
    data = reading.table(value, where)
    apart, deep = (
        reading.number(reading.wanted(data, k, f"{where}."), f"{where}.{k}", least=0, most=2000)
        for k in ("apart", "deep")
    )
    return Channels(apart, deep, bool(_one_of(data.get("upright", True), f"{where}.upright", (True, False))))


def _grid(value: Any, where: str) -> ButtonGrid | None:
    if value is None:
        return None
    data = reading.table(value, where)
    counts = [
        reading.whole(reading.wanted(data, k, f"{where}."), f"{where}.{k}", least=1, most=40)
        for k in ("rows", "columns")
    ]
    sizes = [
        reading.number(reading.wanted(data, k, f"{where}."), f"{where}.{k}", least=0, most=2000)
        for k in ("across", "down", "deep")
    ]
    diamond = _one_of(data.get("diamond", False), f"{where}.diamond", (True, False))
    return ButtonGrid(counts[0], counts[1], sizes[0], sizes[1], sizes[2], bool(diamond))
