"""A pad's stack as JSON, `zonatome.stack`: its layers from the wood out, the rails, buttons, heights; lengths in mm."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

from zonatome.core.errors import BadInput
from zonatome.core.formats import reading
from zonatome.core.pad.stack import MOST_LAYERS, SITTER, Buttons, Heights, Layer, Stack

FORMAT = "zonatome.stack"
MOST = 5000.0  # mm: no figure of a pad is larger


def write_stack(stack: Stack) -> dict[str, Any]:
    """Return a stack as plain values."""
    return {
        "format": FORMAT,
        "version": 1,
        "rail": stack.rail,
        "layers": [asdict(layer) for layer in stack.layers],
        "buttons": asdict(stack.buttons) if stack.buttons else None,
        "heights": asdict(stack.heights),
        "spring_tried": stack.spring_tried,
        "sitter": stack.sitter,
    }


def read_stack(data: Mapping[str, Any]) -> Stack:
    """Return the stack that plain values say. Raises BadInput, naming what is wrong where."""
    told = reading.table(data, "stack")
    reading.check_format(told, FORMAT)
    layers = reading.listed(reading.wanted(told, "layers"), "layers", most=MOST_LAYERS)
    return Stack(
        tuple(_layer(reading.table(layer, f"layers[{n}]"), f"layers[{n}]") for n, layer in enumerate(layers)),
        _buttons(told.get("buttons")),
        _heights(told.get("heights")),
        reading.number(told.get("rail", 0.0), "rail", least=0, most=MOST),
        _yes(told, "spring_tried", "stack"),
        reading.number(told.get("sitter", SITTER), "sitter", least=1, most=300),
    )


def _layer(told: dict[str, Any], where: str) -> Layer:
    def text(key: str, usual: str) -> str:
        return reading.text(told.get(key, usual), f"{where}.{key}", most=20)

    def number(key: str) -> float | None:
        value = told.get(key)
        return None if value is None else reading.number(value, f"{where}.{key}", least=-MOST, most=MOST)

    kept, split = _yes(told, "kept", where), _yes(told, "split", where)
    return Layer(
        reading.text(reading.wanted(told, "sort", where), f"{where}.sort", most=20),
        reading.number(reading.wanted(told, "thickness", where), f"{where}.thickness", least=0, most=MOST),
        kept,
        text("foam", "medium"),
        text("school", "over"),
        number("over"),
        number("hardness"),
        number("stretch") or 0.0,
        text("way", "deep"),
        text("corner", "cut"),
        split,
    )


def _yes(told: Mapping[str, Any], key: str, where: str) -> bool:
    value = told.get(key, False)
    if not isinstance(value, bool):
        raise BadInput(f"{where}.{key}", value, "true or false")
    return value


def _buttons(value: Any) -> Buttons | None:
    if value is None:
        return None
    told = reading.table(value, "buttons")
    diamond = _yes(told, "diamond", "buttons")

    def apart(key: str) -> float | None:
        found = told.get(key)
        return None if found is None else reading.number(found, f"buttons.{key}", least=0, most=MOST)

    return Buttons(
        reading.whole(told.get("rows"), "buttons.rows", least=1, most=30),
        reading.whole(told.get("columns"), "buttons.columns", least=1, most=30),
        diamond,
        reading.number(told.get("margin", 100), "buttons.margin", least=0, most=MOST),
        reading.number(told.get("deep", 20), "buttons.deep", least=0, most=200),
        reading.number(told.get("size", 22), "buttons.size", least=5, most=80),
        apart("across"),
        apart("down"),
    )


def _heights(value: Any) -> Heights:
    told = reading.table(value, "heights") if value is not None else {}

    def height(key: str) -> float | None:
        found = told.get(key)
        return None if found is None else reading.number(found, f"heights.{key}", least=0, most=2000)

    return Heights(height("rail_top"), height("before"), height("table"), height("arms"), height("rebate"))


def stack_of_thicknesses(foam: float | None, wadding: float | None, over: float, *, webbing: bool) -> Stack:
    """Return the stack of a pad as earlier versions kept it: foam and wadding by thickness, webbing or not."""
    layers = []
    if webbing:
        layers += [Layer("webbing", 2), Layer("hessian", 1)]
    if foam and 3 <= foam <= 300:
        layers.append(Layer("foam", foam, over=max(0.0, min(30.0, over))))
    if wadding and 3 <= wadding <= 80:
        layers.append(Layer("wadding", wadding))
    return Stack(tuple(layers), rail=45.0 if webbing else 0.0)
