"""The pad cut through its middle from front to back, to scale: the front at the left, x from the middle, y up from the
rail's top, in mm.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise

from shapely.geometry import MultiPolygon, Polygon, box
from shapely.geometry.polygon import orient

from zonatome.core.outline import Point
from zonatome.core.pad.outlines import CROWN_INSIDE, foam_over
from zonatome.core.pad.sitting import pressure_under, squeeze_share
from zonatome.core.pad.stack import Frame, Layer, Stack
from zonatome.core.pad.worked import round_the_core
from zonatome.core.rules import USUAL, Rules

STEPS = 24
SAT_WIDE = 340.0  # mm: how wide a sitter presses
SOFT_EDGE = 0.35  # of a foam's thickness: how far its edge is rounded under the cover
COILS_RISE = 5  # coils are lashed level in the middle and down toward the rails; other springs lie in an arc
OUTSIDE = 1.0  # mm that the cover's line lies outside what it covers, so that both are seen


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
    is_sat_on: bool = True,
    rules: Rules = USUAL,
) -> Section:
    """Return the section through the middle of the frame's width; of a bolster along its length, as it lies.

    Springs and crowns rise to their middle along a parabola; other layers lie as thick at the edge, foam rounded there
    a little, all of its thickness where its edge is pulled over. Foam stands out by its school; wadding goes down the
    sides. `old` is how high the old pad stood above the rail, where somebody knows.
    """
    if frame.length:
        return _along_bolster(stack, frame, rules)
    half = frame.outline.height / 2
    drawing = _Drawn(frame, half, rules)
    for place, layer in enumerate(stack.layers):
        drawing.lay(place, layer, is_last=place == len(stack.layers) - 1)
    return Section(
        tuple(drawing.bands),
        drawing.cover(),
        tuple(drawing.rest),
        _sat_on(stack, drawing.floor, rules) if is_sat_on else (),
        tuple((x, old) for x in (-half, half)) if old is not None else (),
        half,
        frame.thickness,
        frame.rail,
    )


def _along_bolster(stack: Stack, frame: Frame, rules: Rules) -> Section:
    """A bolster cut along its length: the discs of its core beside each other, what is wrapped round them."""
    radius = frame.outline.width / 2 - round_the_core(stack)
    half = frame.length / 2
    found: list[tuple[int, Layer, float, float]] = []  # from inside out, how far each reaches from the middle
    for place, layer in enumerate(stack.layers):
        if found:
            radius += layer.under_cover(rules)
        far = half + (layer.under_cover(rules) if layer.made.group == "wadding" else 0.0)
        found.append((place, layer, radius, far))
    bands = []
    for place, layer, reach, far in reversed(found):  # the outermost is drawn first, what is inside over it
        cuts = [-far, far]
        if place == 0:
            cuts = [-half + layer.thickness * k for k in range(math.ceil(frame.length / layer.thickness))] + [half]
        middle = radius + reach * 0.9
        for left, right in pairwise(cuts):
            low, high = radius - reach, radius + reach
            points = ((left, low), (right, low), (right, high), (left, middle), (left, high))
            bands.append(Band(place, layer, (*points[:3], points[4], points[3]), middle))
    far = max(reach for *_, reach in found) if found else half
    cover = ((-far, 0.0), (-far, 2 * radius), (far, 2 * radius), (far, 0.0), (-far, 0.0))
    return Section(tuple(bands), cover, (), (), (), half, 0.0, 0.0)


class _Drawn:
    """A section while it is drawn: the line that the next layer lies on, the tops at rest, how far foam reaches."""

    def __init__(self, frame: Frame, half: float, rules: Rules) -> None:
        self.frame, self.rules = frame, rules
        self.half, self.reach = half, half
        self.inner = max(10.0, half - frame.rail)
        self.floor = [(x, 0.0) for x in _steps(half)]
        self.rest = list(self.floor)
        self.bands: list[Band] = []
        self.low = -max(frame.thickness, 1.0)
        # the wood and all that lies on it
        self.body = box(-half, self.low, half, 0.0) if frame.thickness else Polygon()
        self.wrapped: Polygon | None = None

    def lay(self, place: int, layer: Layer, *, is_last: bool) -> None:
        """Draw one layer on those below it."""
        if layer.made.group == "roll":
            self.bands.append(Band(place, layer, _roll(self.half, layer.thickness), layer.thickness / 2))
            return
        self.reach, under = _under(self.floor, layer, self.reach, self.rules)
        over = [(x, y + _rise(layer, x, self.inner, self.reach, self.rules)) for x, y in under]
        self.rest = [(x, _at(self.rest, x) + _rise(layer, x, self.inner, self.reach, None)) for x, _ in over]
        middle = (_at(under, 0) + _at(over, 0)) / 2
        if layer.sort == "foam":
            soft = layer.thickness if layer.school == "rounded" else SOFT_EDGE * layer.thickness
            over = _rounded(over, min(soft, 0.4 * self.reach), layer.under_cover(self.rules))
        points = (*under, *reversed(over))
        if layer.made.group == "wadding" and is_last:
            points = self._wrap(layer)
        else:
            column = Polygon([(-self.reach, self.low), *over, (self.reach, self.low)])
            self.body = self.body.union(column.buffer(0))
        self.bands.append(Band(place, layer, points, middle))
        if layer.sort == "crown":
            over = [(x, _at(over, x) if abs(x) <= self.reach else y) for x, y in self.floor]
            self.reach = self.half
        self.floor = over

    def _wrap(self, layer: Layer) -> tuple[Point, ...]:
        """Wadding over the top and down the sides, not under it."""
        body, thick = self.body, layer.under_cover(self.rules)
        low = -self.frame.thickness if self.frame.is_board else -min(self.frame.thickness, 15.0)
        far = body.bounds[2] + 2 * thick
        kept = box(-far, low, far, 10_000)
        self.wrapped = body.buffer(thick).intersection(kept).union(body)
        ring = self.wrapped.difference(body.buffer(1e-6))
        ring = max(ring.geoms, key=lambda part: part.area) if isinstance(ring, MultiPolygon) else ring
        return tuple((float(x), float(y)) for x, y in ring.exterior.coords)

    def cover(self) -> tuple[Point, ...]:
        """The cover's line: up the front, over the top, down the back."""
        low = -self.frame.thickness
        body = self.wrapped if self.wrapped is not None else self.body
        body = (body if not body.is_empty else box(-self.half, self.low, self.half, 0.0)).buffer(OUTSIDE)
        body = max(body.geoms, key=lambda part: part.area) if isinstance(body, MultiPolygon) else body
        ring = [(float(x), float(y)) for x, y in orient(body, -1.0).exterior.coords[:-1]]
        lowest = min(y for _, y in ring)
        first = min(range(len(ring)), key=lambda n: (ring[n][1] > lowest + OUTSIDE + 0.5, ring[n][0]))
        turned = [*ring[first:], *ring[:first]]
        last = max(n for n, (x, _) in enumerate(turned) if x > 0)  # from there on it goes back under the wood
        return tuple((x, max(y, low)) for x, y in turned[: last + 1])


def _rounded(line: list[Point], by: float, high: float) -> list[Point]:
    """A line of which both ends go down over a quarter of an ellipse `by` mm wide."""
    reach = line[-1][0]
    if by < 1:
        return line
    drop = min(by, high)
    inside = [p for p in line if abs(p[0]) < reach - by]
    turn = [math.pi / 2 * k / 6 for k in range(7)]
    right = [
        (reach - by + by * math.sin(a), _at(line, reach - by + by * math.sin(a)) - drop * (1 - math.cos(a)))
        for a in turn
    ]
    left = [(-x, _at(line, -x) - (_at(line, x) - y)) for x, y in reversed(right)]
    return [*left, *inside, *right]


def _steps(half: float) -> list[float]:
    return [-half + 2 * half * k / STEPS for k in range(STEPS + 1)]


def _under(floor: list[Point], layer: Layer, reach: float, rules: Rules) -> tuple[float, list[Point]]:
    """How far a layer reaches to each side, and the line that it lies on."""
    if layer.sort == "crown":
        reach = max(20.0, reach - CROWN_INSIDE)
        return reach, [(x, _at(floor, x)) for x in _steps(reach)]
    if layer.made.group == "foam":
        reach = max(20.0, reach + (0.0 if layer.school == "rounded" else foam_over(layer, rules)))
    places = sorted({*_steps(reach), *(x for x, _ in floor if abs(x) < reach)})  # with the bends of what it lies on
    return reach, [(x, _at(floor, x)) for x in places]


def _rise(layer: Layer, x: float, inner: float, reach: float, rules: Rules | None) -> float:
    """How thick a layer is at a place, under the cover or, without rules, at rest."""
    thick = layer.thickness if rules is None else layer.under_cover(rules)
    if layer.made.reaches:
        return thick
    wide = reach if layer.sort == "crown" else inner
    return thick * max(0.0, 1 - abs(x / wide) ** (COILS_RISE if layer.sort == "coil" else 2))


def _at(line: list[Point], x: float) -> float:
    """The height of a line at x; beyond its ends, that of its end."""
    if x <= line[0][0]:
        return line[0][1]
    for (x0, y0), (x1, y1) in pairwise(line):
        if x <= x1:
            return y0 if x1 == x0 else y0 + (y1 - y0) * (x - x0) / (x1 - x0)
    return line[-1][1]


def _roll(half: float, thick: float) -> tuple[Point, ...]:
    """An edge roll on the front rail."""
    middle, radius = -half + thick / 2, thick / 2
    turns = [2 * math.pi * k / 12 for k in range(12)]
    return tuple((middle + radius * math.cos(a), radius + radius * math.sin(a)) for a in turns)


def _sat_on(stack: Stack, top: list[Point], rules: Rules) -> tuple[Point, ...]:
    """The top under a sitter: foam squeezed in the middle, less toward the edge of what is sat on."""
    pressure = pressure_under(stack.sitter)
    deep = sum(
        layer.under_cover(rules) * squeeze_share(pressure, layer.foam_sort.hardness)
        for layer in stack.layers
        if layer.made.group == "foam"
    )
    half = min(SAT_WIDE / 2, top[-1][0] * 0.8)
    found = [(x, _at(top, x) - deep * max(0.0, 1 - (x / half) ** 2)) for x in _steps(half)]
    return tuple(found) if deep else ()
