"""A stack worked out on its frame: every layer's cut size, straps, springs, lashing, buttons, staples and twine."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache

from zonatome.core.errors import BadInput
from zonatome.core.outline import Outline, rectangle
from zonatome.core.pad.grids import ButtonPlan, ChannelPlan, button_plan, channel_lines
from zonatome.core.pad.outlines import corners_cut, foam_outline, grown, hessian_outline, wadding_outline
from zonatome.core.pad.sitting import Sitting, sitting
from zonatome.core.pad.sorts import Group, Sort
from zonatome.core.pad.spans import (
    CoilPlan,
    SinuousPlan,
    Way,
    Webbing,
    coil_springs,
    sinuous_springs,
    webbing,
)
from zonatome.core.pad.stack import Frame, Layer, Stack
from zonatome.core.pad.usual import Role
from zonatome.core.rules import USUAL, Rules

ROUND_THE_EDGE = 15.0  # mm that wadding goes on below the foam on a frame with rails
WRAP_OVER = 40.0  # mm that what is wrapped round a bolster lies over itself
EDGE_ENDS = 20.0  # mm that an edge roll is longer at each end, to be closed


@dataclass(frozen=True)
class Cut:
    """What is cut for one layer of one pad: its layer's place from the wood, its outline in the frame's own place, its
    thickness and how it is held. `length` is what is cut off a length: straps, springs, an edge roll; mm.
    """

    place: int
    layer: Layer
    outline: Outline | None = None
    length: float = 0.0
    count: int = 1
    corners: int = 0

    @property
    def made(self) -> Sort:
        """The data of its sort."""
        return self.layer.made

    @property
    def size(self) -> tuple[float, float] | None:
        """Width and depth of what is cut flat, mm."""
        return (self.outline.width, self.outline.height) if self.outline is not None else None


@dataclass(frozen=True)
class Worked:
    """A stack worked out: what is cut for each layer, what is hung in the opening, the buttons and channels, how one
    sits. `misfit` says what of it does not fit its frame and is left out.
    """

    stack: Stack
    frame: Frame
    cuts: tuple[Cut, ...]
    webbed: Webbing | None
    sinuous: SinuousPlan | None
    coils: CoilPlan | None
    buttons: ButtonPlan | None
    channels: ChannelPlan | None
    sitting: Sitting
    misfit: BadInput | None = None

    def cut_of(self, place: int) -> Cut | None:
        """Return what is cut for the layer at a place; None where nothing is."""
        return next((cut for cut in self.cuts if cut.place == place), None)


def worked(stack: Stack, frame: Frame, *, role: Role = "seat", rules: Rules = USUAL) -> Worked:
    """Return a stack worked out on its frame, from the wood out.

    Raises BadInput for what can't be built, in a sentence.
    """
    stack.checked(frame)
    building = _Building(stack, frame, role, rules)
    building.has_coils = any(layer.sort == "coil" for layer in stack.layers)
    for place, layer in enumerate(stack.layers):
        building.lay(place, layer)
    buttons = button_plan(frame.outline, stack.buttons, pad=stack.thickness()) if stack.buttons else None
    return Worked(
        stack,
        frame,
        tuple(building.cuts),
        building.webbed,
        building.sinuous,
        building.coils,
        buttons,
        _channels(stack, frame),
        sitting(stack, rules=rules),
    )


def _channels(stack: Stack, frame: Frame) -> ChannelPlan | None:
    if stack.channels is None:
        return None
    try:
        return channel_lines(frame.outline, stack.channels)
    except BadInput as refusal:  # buttons have an "apart" too
        raise BadInput(f"channel_{refusal.key}", refusal.value, refusal.expected) from refusal


@lru_cache(maxsize=256)  # a tag's standing asks for all its pads after each change of anything
def worked_as_far_as_it_fits(stack: Stack, frame: Frame, *, role: Role = "seat", rules: Rules = USUAL) -> Worked:
    """Return a stack worked out on a frame that may be another than it was chosen for: a shape traced since, a board
    measured anew. Its rails are the stack's.

    What does not fit is left out, buttons and channels first, then what hangs between rails, at last all layers;
    `misfit` says what was in the way.
    """
    plain = replace(stack, buttons=None, channels=None)
    on_a_board = replace(plain, rail=0.0, layers=tuple(one for one in stack.layers if not one.made.spans))
    misfit: BadInput | None = None
    for less in (stack, plain, on_a_board):
        try:
            done = worked(less, replace(frame, rail=less.rail), role=role, rules=rules)
        except BadInput as refusal:
            misfit = misfit or refusal.with_traceback(None)
        else:
            return replace(done, stack=stack, misfit=misfit)
    return Worked(
        stack, replace(frame, rail=0.0), (), None, None, None, None, None, sitting(stack, rules=rules), misfit
    )


class _Building:
    """A pad while it is built up: what the next layer lies on, how high the soft ones stand."""

    def __init__(self, stack: Stack, frame: Frame, role: Role, rules: Rules) -> None:
        self.frame, self.role, self.rules = frame, role, rules
        self.under, self.soft = frame.outline, 0.0
        if role == "bolster":
            self.under = grown(frame.outline, -round_the_core(stack), what="core")
        self.has_coils = False
        self.cuts: list[Cut] = []
        self.webbed: Webbing | None = None
        self.sinuous: SinuousPlan | None = None
        self.coils: CoilPlan | None = None

    def lay(self, place: int, layer: Layer) -> None:
        """Lay one layer on what is there. Raises BadInput where it can't lie."""
        ways: dict[Group, Callable[[int, Layer], Cut]] = {
            "under": self._straps,
            "springs": self._springs,
            "hessian": lambda place, layer: Cut(place, layer, hessian_outline(self.frame, self.rules)),
            "roll": lambda place, layer: Cut(place, layer, length=edge_roll_length(self.frame.outline, layer)),
            "wadding": self._wadding,
        }
        self.cuts.append(ways.get(layer.made.group, self._soft)(place, layer))

    def _straps(self, place: int, layer: Layer) -> Cut:
        self.webbed = webbing(self.frame.opening, stretch=layer.stretch, under_coils=self.has_coils, rules=self.rules)
        return Cut(place, layer, length=self.webbed.total, count=len(self.webbed.straps))

    def _springs(self, place: int, layer: Layer) -> Cut:
        if layer.sort == "sinuous":
            way: Way = "across" if layer.way == "across" else "deep"
            self.sinuous = sinuous_springs(self.frame.opening, crown=layer.thickness, way=way)
            return Cut(place, layer, length=sum(s.cut for s in self.sinuous.springs), count=len(self.sinuous.springs))
        if self.webbed is None:
            words = "Coil springs stand on webbing; expected webbing under them."
            raise BadInput("layers", layer.sort, "webbing under them", words=words)
        self.coils = coil_springs(self.frame.opening, self.webbed)
        return Cut(place, layer, length=self.coils.twine, count=len(self.coils.at))

    def _soft(self, place: int, layer: Layer) -> Cut:
        """Foam by its school; coir, cotton and the old pad as wide as what they lie on."""
        if self.role == "bolster":
            return self._round(place, layer)
        self.soft += layer.thickness
        if layer.made.group != "foam":
            return Cut(place, layer, self.under)
        foam = foam_outline(self.under, layer, self.rules)
        if layer.sort == "foam":
            self.under = foam
        return Cut(place, layer, foam)

    def _wadding(self, place: int, layer: Layer) -> Cut:
        """Over top and sides, down to the board's lower edge or just round the rail's upper one; round a cushion, both
        faces and the front in one.
        """
        if self.role == "bolster":
            return self._round(place, layer)
        if self.role == "cushion":
            wide = self.under.width + self.soft
            return Cut(place, layer, rectangle(wide, 2 * self.under.height + 2 * self.soft))
        if self.role == "thin":
            return Cut(place, layer, self.under)
        drop = self.soft + (self.frame.thickness if self.frame.is_board else ROUND_THE_EDGE)
        outline = wadding_outline(self.under, drop, corner=layer.corner)
        return Cut(place, layer, outline, corners=corners_cut(self.under) if layer.corner == "cut" else 0)

    def _round(self, place: int, layer: Layer) -> Cut:
        """A bolster: its first foam is its core, discs glued face to face; what follows is wrapped once round it,
        wadding over both ends to their middle.
        """
        length, through = self.frame.length, self.under.width
        if not any(cut.made.group == "foam" for cut in self.cuts) and layer.made.group == "foam":
            disc = foam_outline(self.under, layer, self.rules)
            self.under = disc
            return Cut(place, layer, disc, count=math.ceil(length / layer.thickness))
        long_ = length + through if layer.made.group == "wadding" else length
        if layer.made.group != "wadding":
            self.under = grown(self.under, layer.thickness)
        return Cut(place, layer, rectangle(long_, math.pi * (through + layer.thickness) + WRAP_OVER))


def round_the_core(stack: Stack) -> float:
    """Return how thick is what goes round a bolster's core before its wadding, mm."""
    foams = [n for n, layer in enumerate(stack.layers) if layer.made.group == "foam"]
    after = stack.layers[foams[0] + 1 :] if foams else ()
    return sum(layer.thickness for layer in after if layer.made.group != "wadding")


def edge_roll_length(outline: Outline, layer: Layer) -> float:
    """Return how long an edge roll is cut, mm: along the front edge, or all round, with its ends."""
    if layer.way == "round":
        return outline.perimeter + 2 * EDGE_ENDS
    return front_length(outline) + 2 * EDGE_ENDS


def front_length(outline: Outline) -> float:
    """Return how long an outline's front is, mm: what of its edge looks to the front more than to a side; at least its
    width there.
    """
    points = outline.points
    found = 0.0
    for a, b in zip(points, (*points[1:], points[0]), strict=True):
        across, along = b[0] - a[0], b[1] - a[1]
        if across > abs(along):  # anticlockwise: the front runs left to right
            found += math.hypot(across, along)
    return found


def zip_length(width: float, rounds: float) -> float:
    """Return the zip of a cushion, mm: across its back and round both corners.

    >>> zip_length(540, 90)
    720
    """
    return width + 2 * rounds
