"""The pad cut through its middle, to scale: each layer as lines from left to right, x from the middle, y up from the
rail's top, in mm.
"""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

from zonatome.core.outline import Point
from zonatome.core.pad.outlines import CROWN_INSIDE, foam_over
from zonatome.core.pad.sitting import SITTER, pressure_under, squeeze_share
from zonatome.core.pad.stack import Frame, Layer, Stack
from zonatome.core.rules import USUAL, Rules

STEPS = 24
SAT_WIDE = 340.0  # mm: how wide a sitter presses
ROUND = 0.6  # of a pad's height at the edge: how far the cover rounds it


@dataclass(frozen=True)
class Band:
    """One layer between two lines: its place from the wood, what it is drawn as, its outline, where its name points."""

    place: int
    layer: Layer
    points: tuple[Point, ...]
    middle: float


@dataclass(frozen=True)
class Section:
    """A pad cut through: its layers under the cover, the cover's line; the top at rest, under a sitter, as it was."""

    bands: tuple[Band, ...]
    cover: tuple[Point, ...]
    at_rest: tuple[Point, ...]
    sat_on: tuple[Point, ...]
    old: tuple[Point, ...]
    half: float
    thickness: float
    rail: float

    @property
    def top(self) -> float:
        """The highest point that is drawn."""
        lines = (self.cover, self.at_rest, self.old)
        return max((y for line in lines for _, y in line), default=0.0)


def section(
    stack: Stack,
    frame: Frame,
    *,
    old: float | None = None,
    weight: float = SITTER,
    rules: Rules = USUAL,
) -> Section:
    """Return the section from side to side through the middle of the frame's depth.

    Springs and crowns rise to their middle along a parabola; other layers lie as thick at the edge. Foam stands out by
    its school. `old` is how high the old pad stood above the rail, where somebody knows.
    """
    half = frame.outline.width / 2
    inner = max(10.0, half - frame.rail)
    floor = [(x, 0.0) for x in _steps(half)]
    rest = list(floor)
    bands, reach = [], half
    for place, layer in enumerate(stack.layers):
        if layer.made.group == "roll":
            roll = layer.thickness
            bands.append(Band(place, layer, _roll(half, roll), roll / 2))
            continue
        reach, under = _under(floor, layer, reach, rules)
        over = [(x, y + _rise(layer, x, inner, reach, rules)) for x, y in under]
        rest = [(x, _at(rest, x) + _rise(layer, x, inner, reach, None)) for x, _ in over]
        bands.append(Band(place, layer, (*under, *reversed(over)), (_at(under, 0) + _at(over, 0)) / 2))
        floor = over if layer.sort != "crown" else [(x, _at(over, x) if abs(x) <= reach else y) for x, y in floor]
    return Section(
        tuple(bands),
        _cover(floor, frame),
        tuple(rest),
        _sat_on(stack, floor, weight, rules),
        tuple((x, old) for x in (-half, half)) if old is not None else (),
        half,
        frame.thickness,
        frame.rail,
    )


def _steps(half: float) -> list[float]:
    return [-half + 2 * half * k / STEPS for k in range(STEPS + 1)]


def _under(floor: list[Point], layer: Layer, reach: float, rules: Rules) -> tuple[float, list[Point]]:
    """How far a layer reaches to each side, and the line that it lies on."""
    if layer.sort == "crown":
        reach = max(20.0, reach - CROWN_INSIDE)
        return reach, [(x, _at(floor, x)) for x in _steps(reach)]
    if layer.made.group == "foam":
        reach = max(20.0, reach + (0.0 if layer.school == "rounded" else foam_over(layer, rules)))
    return reach, [(x, _at(floor, x)) for x in _steps(reach)]


def _rise(layer: Layer, x: float, inner: float, reach: float, rules: Rules | None) -> float:
    """How thick a layer is at a place, under the cover or, without rules, at rest."""
    thick = layer.thickness if rules is None else layer.under_cover(rules)
    if layer.made.reaches:
        return thick
    wide = reach if layer.sort == "crown" else inner
    return thick * max(0.0, 1 - (x / wide) ** 2)


def _at(line: list[Point], x: float) -> float:
    """The height of a line at x; beyond its ends, that of its end."""
    if x <= line[0][0]:
        return line[0][1]
    for (x0, y0), (x1, y1) in pairwise(line):
        if x <= x1:
            return y0 if x1 == x0 else y0 + (y1 - y0) * (x - x0) / (x1 - x0)
    return line[-1][1]


def _roll(half: float, thick: float) -> tuple[Point, ...]:
    return ((half - thick, 0.0), (half, 0.0), (half, thick), (half - thick, thick))


def _cover(top: list[Point], frame: Frame) -> tuple[Point, ...]:
    """The cover's line: up one side, rounded over the edge, across and down the other."""
    x1, edge = top[-1]
    turn = min(ROUND * max(edge, 1.0), 0.25 * x1)
    low = -frame.thickness
    across = [(x, y) for x, y in top if abs(x) < x1 - turn]
    right = [(x1 - turn, _at(top, x1 - turn)), (x1 - 0.3 * turn, edge - 0.1 * turn), (x1, edge - 0.5 * turn), (x1, low)]
    left = [(-x, y) for x, y in reversed(right)]
    return (*left, *across, *right)


def _sat_on(stack: Stack, top: list[Point], weight: float, rules: Rules) -> tuple[Point, ...]:
    """The top under a sitter: foam squeezed in the middle, less toward the edge of what is sat on."""
    pressure = pressure_under(weight)
    deep = sum(
        layer.under_cover(rules) * squeeze_share(pressure, layer.foam_sort.hardness)
        for layer in stack.layers
        if layer.made.group == "foam"
    )
    half = min(SAT_WIDE / 2, top[-1][0] * 0.8)
    found = [(x, _at(top, x) - deep * max(0.0, 1 - (x / half) ** 2)) for x in _steps(half)]
    return tuple(found) if deep else ()
