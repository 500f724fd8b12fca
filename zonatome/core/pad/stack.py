"""A panel's stack from the wood out: what it stands on, its layers in order, and how they are changed.

Every change returns a new stack, or raises BadInput with a sentence and leaves the old one as it was.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, fields, replace
from functools import cached_property

from shapely.geometry import Polygon

from zonatome.core.errors import BadInput
from zonatome.core.outline import Outline, outline_of
from zonatome.core.pad.sorts import FOAMS, GROUP_ORDER, SCHOOLS, SORTS, FoamSort, Sort
from zonatome.core.rules import USUAL, Rules
from zonatome.core.survey.kind import Channels

MOST_LAYERS = 16
WIDEST_RAIL = 200.0  # mm
SITTER = 75.0  # kg: the usual sitter
LONGEST_BOLSTER = 3000.0  # mm
LEAST_OPENING = 60.0  # mm: below this there is nothing to web
MITRE = 3.0  # a mitre longer than three times what is added is squared


@dataclass(frozen=True)
class Layer:
    """One layer: its sort, its thickness in mm at rest in the middle, and what belongs to its sort.

    `kept` layers were there and stay: nothing is bought for them. `over` is by how many mm foam stands out beyond what
    it lies on, each side (below 0: stays inside); None: as its school says. `stretch` is the share by which a strap is
    stretched. `way` says whether springs run front to back (`deep`) or `across`, and for an edge roll whether it lies
    in front (`front`) or all round (`round`). `corner` says how wadding goes round a corner: `cut` or `pinched`;
    `split` wadding is half of one twice as thick.
    """

    sort: str
    thickness: float
    kept: bool = False
    foam: str = "medium"
    school: str = "over"
    over: float | None = None
    hardness: float | None = None
    stretch: float = 0.0
    way: str = "deep"
    corner: str = "cut"
    split: bool = False

    def __post_init__(self) -> None:
        """Refuse what no pad has."""
        if self.sort not in SORTS:
            raise BadInput("sort", self.sort, "one of " + ", ".join(SORTS))
        made = SORTS[self.sort]
        _figure(
            "thickness", self.thickness, made.least, made.most, f"{made.name}: {made.least:g} to {made.most:g} mm thick"
        )
        if self.foam not in FOAMS:
            raise BadInput("foam", self.foam, "one of " + ", ".join(FOAMS))
        if self.school not in SCHOOLS:
            raise BadInput("school", self.school, "one of " + ", ".join(SCHOOLS))
        if self.over is not None:
            _figure("over", self.over, -30, 320, "foam: 30 mm inside to 320 mm beyond what it lies on")
        if self.hardness is not None:
            _figure("hardness", self.hardness, 0.5, 30, "a hardness of 0.5 to 30 kPa at 40 % squeeze")
        _figure("stretch", self.stretch, 0, 0.25, "webbing stretched by 0 to 25 %")
        if self.way not in ("deep", "across", "front", "round"):
            raise BadInput("way", self.way, "deep, across, front or round")
        if self.corner not in ("cut", "pinched"):
            raise BadInput("corner", self.corner, "cut or pinched")

    @property
    def made(self) -> Sort:
        """The data of its sort."""
        return SORTS[self.sort]

    @property
    def name(self) -> str:
        """Its name; foam with its grade."""
        return f"{FOAMS[self.foam].name} {self.made.name}" if self.made.group == "foam" else self.made.name

    @property
    def foam_sort(self) -> FoamSort:
        """The foam that it is, with the hardness that was typed for it."""
        made = FOAMS[self.foam]
        return replace(made, hardness=self.hardness) if self.hardness is not None else made

    def under_cover(self, rules: Rules = USUAL) -> float:
        """Return how thick it is under the cover, in mm: less what its material gives.

        >>> Layer("foam", 40).under_cover()
        36.0
        """
        return self.thickness * (1 - (rules[self.made.gives] if self.made.gives else 0.0))


@dataclass(frozen=True)
class Frame:
    """What a pad stands on, in mm: the outline of a board or of a frame with its opening, its back toward +y.

    `rail` is how wide the frame's rails are, 0 for a board; `thickness` is that of the board or the height of the
    rails, 0 for a loose cushion. A bolster stands on its round end and is `length` long.
    """

    outline: Outline
    thickness: float = 18.0
    rail: float = 0.0
    length: float = 0.0

    def __post_init__(self) -> None:
        """Refuse rails that leave no opening."""
        _figure("thickness", self.thickness, 0, 300, "a board or rail 0 to 300 mm thick")
        _figure("length", self.length, 0, LONGEST_BOLSTER, f"a bolster up to {LONGEST_BOLSTER:g} mm long")
        _figure("rail", self.rail, 0, WIDEST_RAIL, f"rails 0 to {WIDEST_RAIL:g} mm wide")
        if self.rail:
            self._opened()

    @property
    def is_board(self) -> bool:
        """Whether it is a board, without an opening."""
        return self.rail == 0

    @cached_property
    def opening(self) -> Outline:
        """The opening between the rails, in the same frame. Raises BadInput for a board."""
        if self.is_board:
            raise BadInput(
                "rail", 0, "the width of the rails", words="A board has no opening; say how wide its rails are."
            )
        return self._opened()

    def _opened(self) -> Outline:
        inner = self.outline.polygon.buffer(-self.rail, join_style="mitre", mitre_limit=MITRE)
        x0, y0, x1, y1 = inner.bounds if not inner.is_empty else (0, 0, 0, 0)
        if not isinstance(inner, Polygon) or min(x1 - x0, y1 - y0) < LEAST_OPENING:
            wide = min(self.outline.width, self.outline.height)
            raise BadInput(
                "rail",
                self.rail,
                "narrower rails",
                words=f"Rails {self.rail:.0f} mm wide leave no opening in a frame {wide:.0f} mm across; expected at "
                f"most {max(0.0, (wide - LEAST_OPENING) / 2):.0f} mm.",
            )
        return outline_of([(float(x), float(y)) for x, y in inner.exterior.coords[:-1]])


@dataclass(frozen=True)
class Buttons:
    """Buttons on a pad: rows, columns, straight or diamond, how far apart across and down, how deep they are drawn,
    their size; lengths in mm. Where nobody says how far apart, the outer ones stay `margin` from the edge.
    """

    rows: int
    columns: int
    diamond: bool = False
    margin: float = 100.0
    deep: float = 20.0
    size: float = 22.0
    across: float | None = None
    down: float | None = None


@dataclass(frozen=True)
class Heights:
    """Heights above the floor in mm, as far as somebody measured them: the top of the rail or board, the seat as it
    was, a table, the arms; and how deep the rebate is that the pad lies in.
    """

    rail_top: float | None = None
    before: float | None = None
    table: float | None = None
    arms: float | None = None
    rebate: float | None = None

    def __post_init__(self) -> None:
        """Refuse heights that no furniture has."""
        for one in fields(self):
            value = getattr(self, one.name)
            if value is not None:
                _figure(one.name, value, 0, 2000, "a height of 0 to 2000 mm above the floor")


@dataclass(frozen=True)
class Stack:
    """What a panel is padded with: its layers from the wood out; buttons drawn through them, channels stitched;
    heights, rails; how heavy a sitter is reckoned, kg.
    """

    layers: tuple[Layer, ...] = ()
    buttons: Buttons | None = None
    heights: Heights = Heights()
    rail: float = 0.0
    spring_tried: bool = False  # one was cut and tried; then the rest may be cut
    sitter: float = SITTER  # kg
    channels: Channels | None = None

    def checked(self, frame: Frame) -> Stack:
        """Return the stack if it can be built on this frame; BadInput says in a sentence what is in the way."""
        if len(self.layers) > MOST_LAYERS:
            raise BadInput("layers", len(self.layers), f"at most {MOST_LAYERS} layers")
        if not any(layer.made.sits for layer in self.layers):
            raise BadInput(
                "layers",
                [layer.sort for layer in self.layers],
                "foam, coir, cotton or the old pad among them",
                words="There is nothing to sit on in this stack; expected foam, coir, cotton or the old pad in it.",
            )
        spanning = next((layer for layer in self.layers if layer.made.spans), None)
        if spanning is not None and frame.is_board:
            raise BadInput(
                "rail",
                0,
                "the width of the rails",
                words=f"{spanning.name.capitalize()} needs an opening to span; say how wide the rails are, or drop it.",
            )
        return self

    def added(self, layer: Layer, at: int | None = None) -> Stack:
        """Return the stack with one layer more: at a place counted from the wood, else where its sort usually lies."""
        place = self.usual_place(layer) if at is None else max(0, min(at, len(self.layers)))
        return replace(self, layers=(*self.layers[:place], layer, *self.layers[place:]))

    def usual_place(self, layer: Layer) -> int:
        """Return where a layer of this sort usually lies: above the last of those that go under it."""
        rank = GROUP_ORDER.index(layer.made.group)
        under = [n for n, one in enumerate(self.layers) if GROUP_ORDER.index(one.made.group) <= rank]
        return under[-1] + 1 if under else 0

    def dropped(self, at: int) -> Stack:
        """Return the stack without one layer. Raises BadInput for a place that has none."""
        self.layer_at(at)
        return replace(self, layers=(*self.layers[:at], *self.layers[at + 1 :]))

    def moved(self, at: int, to: int) -> Stack:
        """Return the stack with one layer moved to another place. Raises BadInput for a place that has none."""
        layer = self.layer_at(at)
        rest = (*self.layers[:at], *self.layers[at + 1 :])
        to = max(0, min(to, len(rest)))
        return replace(self, layers=(*rest[:to], layer, *rest[to:]))

    def changed(self, at: int, layer: Layer) -> Stack:
        """Return the stack with another layer in one's place. Raises BadInput for a place that has none."""
        self.layer_at(at)
        return replace(self, layers=(*self.layers[:at], layer, *self.layers[at + 1 :]))

    def as_high_as(self, height: float) -> Stack:
        """Return the stack with its lowest foam as thick as so many mm in all leave room for; itself where none do."""
        foams = [n for n, layer in enumerate(self.layers) if layer.sort == "foam"]
        room = height - sum(self.layers[n].thickness for n in foams[1:])
        made = SORTS["foam"]
        if not foams or not made.least <= room <= made.most:
            return self
        return self.changed(foams[0], replace(self.layers[foams[0]], thickness=room))

    def layer_at(self, at: int) -> Layer:
        """Return the layer at a place counted from the wood. Raises BadInput where there is none."""
        if not 0 <= at < len(self.layers):
            raise BadInput(
                "layer",
                at,
                f"one of the {len(self.layers)} layers, counted from the wood",
                words="That layer is not there any more.",
            )
        return self.layers[at]

    def thickness(self) -> float:
        """Return how thick it is in the middle, at rest, in mm."""
        return sum(layer.thickness for layer in self.layers if layer.made.group != "roll")

    def under_cover(self, rules: Rules = USUAL) -> float:
        """Return what it measures in the middle under the cover, in mm: each layer less what its material gives.

        Source: trade rule for foam and wadding, about a tenth; the workroom may say otherwise of each.

        >>> Stack((Layer("foam", 40), Layer("wadding", 10))).under_cover()
        45.0
        """
        return sum(layer.under_cover(rules) for layer in self.layers if layer.made.group != "roll")

    def at_edge(self, rules: Rules = USUAL) -> float:
        """Return what it measures at the edge under the cover, in mm: springs and crowns do not reach there.

        >>> Stack((Layer("sinuous", 32), Layer("foam", 50))).at_edge()
        45.0
        """
        return sum(layer.under_cover(rules) for layer in self.layers if layer.made.reaches)


def _figure(key: str, value: float, least: float, most: float, expected: str) -> None:
    if not (math.isfinite(value) and least <= value <= most):
        raise BadInput(key, value, expected)
