"""Furniture JSON, `zonatome.furniture` version 1: one piece of furniture's own parts, joins and layering."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, replace
from typing import Any, get_args

from zonatome.core.errors import BadInput
from zonatome.core.formats import reading
from zonatome.core.survey.furniture import MOST_NAME, MOST_PARTS, checked
from zonatome.core.survey.kind import SIDES, ButtonGrid, Cover, Form, Kind, Meeting, Part, Side, What
from zonatome.core.survey.kinds import kind_named
from zonatome.core.trace.joins import join_named

FORMAT = "zonatome.furniture"
PLAIN = Part("", "", "")


def write_furniture(kind: Kind) -> dict[str, Any]:
    """Return a piece of furniture as the JSON document that files and the store hold; what is as usual is left out."""
    return {
        "format": FORMAT,
        "version": 1,
        "kind": kind.key,
        "parts": [_part(p) for p in kind.parts],
        "over": [list(pair) for pair in kind.over],
        "meets": [[m.one, m.one_side, m.other, m.other_side, m.join] for m in kind.meets],
        "layers": list(kind.layers),
    }


def _part(part: Part) -> dict[str, Any]:
    data = {k: v for k, v in asdict(part).items() if v != getattr(PLAIN, k) or k in ("key", "name", "short")}
    data["joins"] = {side: part.joins[side] for side in SIDES if side in part.joins}
    return {k: list(v) if isinstance(v, tuple) else v for k, v in data.items() if v != {}}


def read_furniture(data: Mapping[str, Any]) -> Kind:
    """Return the furniture in a document, on the ground of its kind. Raises BadInput, naming the key."""
    reading.check_format(data, FORMAT)
    kind = kind_named(reading.text(reading.wanted(data, "kind"), "kind", most=30))
    parts = [
        _read_part(p, f"parts[{n}]") for n, p in enumerate(reading.listed(reading.wanted(data, "parts"), "parts", least=1, most=MOST_PARTS))
    ]
    over = [_strings(p, f"over[{n}]", 2) for n, p in enumerate(reading.listed(reading.wanted(data, "over"), "over", most=1000))]
    meets = [_strings(m, f"meets[{n}]", 5) for n, m in enumerate(reading.listed(reading.wanted(data, "meets"), "meets", most=1000))]
    layers = [reading.text(x, "layers", most=80) for x in reading.listed(data.get("layers", []), "layers", most=40)]
    return checked(
        replace(
            kind,
            parts=tuple(parts),
            over=tuple((a, b) for a, b in over),
            meets=tuple(Meeting(one, _side(s, "meets"), other, _side(t, "meets"), join) for one, s, other, t, join in meets),
            layers=tuple(layers),
        )
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

    def text(key: str, most: int) -> str:
        return reading.text(reading.wanted(data, key, f"{where}."), f"{where}.{key}", most=most)

    def number(key: str, usual: float, most: float) -> float:
        return reading.number(data.get(key, usual), f"{where}.{key}", least=0, most=most)

    def flag(key: str) -> bool:
        return bool(_one_of(data.get(key, False), f"{where}.{key}", (True, False)))

    joins: dict[Side, str] = {}
    for side, join in reading.table(data.get("joins", {}), f"{where}.joins").items():
        joins[_side(side, f"{where}.joins")] = join_named(join, at=f"{where}.joins.{side}").key
    return Part(
        text("key", 30),
        text("name", MOST_NAME),
        text("short", MOST_NAME),
        _one_of(data.get("what", "panel"), f"{where}.what", get_args(What)),
        number("width", 0, 20_000),
        number("height", 0, 20_000),
        None if data.get("on") is None else text("on", 30),
        _side(data.get("side", "top"), f"{where}.side"),
        reading.number(data.get("far", 1.0), f"{where}.far", least=0.05, most=20),
        _one_of(data.get("form", "four-sided"), f"{where}.form", get_args(Form)),
        tuple(reading.text(x, f"{where}.held", most=60) for x in reading.listed(data.get("held", []), f"{where}.held", most=12)),
        joins,
        flag("padded"),
        reading.whole(data.get("per_furniture", 1), f"{where}.per_furniture", least=1, most=40),
        None if data.get("mirror") is None else text("mirror", 30),
        flag("deck"),
        _one_of(data.get("cover", "both"), f"{where}.cover", get_args(Cover)),
        flag("contrast"),
        number("layer", 0, 400),
        _grid(data.get("buttons"), f"{where}.buttons"),
    )


def _grid(value: Any, where: str) -> ButtonGrid | None:
    if value is None:
        return None
    data = reading.table(value, where)
    counts = [reading.whole(reading.wanted(data, k, f"{where}."), f"{where}.{k}", least=1, most=40) for k in ("rows", "columns")]
    sizes = [reading.number(reading.wanted(data, k, f"{where}."), f"{where}.{k}", least=0, most=2000) for k in ("across", "down", "deep")]
    return ButtonGrid(counts[0], counts[1], sizes[0], sizes[1], sizes[2])
