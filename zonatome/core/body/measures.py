"""The measures that a body is built from: those of its panels' finished shapes, and those that one reads off a chair
with a tape. Lengths in mm, rakes in degrees.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from zonatome.core.body.surfaces import Plan, round_plan, sided_plan, straight_plan
from zonatome.core.body.values import Curve
from zonatome.core.errors import BadInput
from zonatome.core.survey.kind import ACROSS, RUN, SIDES, Kind, Part, Side, side_of_edge
from zonatome.core.survey.kinds import KINDS
from zonatome.core.trace.shape import Shape


@dataclass(frozen=True)
class BodyMeasure:
    """A measure of the furniture itself, which no panel gives: its name, how it is taken, its bounds, whether it is an
    angle.
    """

    key: str
    name: str
    how: str
    least: float
    most: float
    is_degrees: bool = False


MEASURES: dict[str, BodyMeasure] = {
    m.key: m
    for m in (
        BodyMeasure("seat_height", "Seat height", "from the floor to the top of the seat, in front", 150, 950),
        BodyMeasure("leg", "Leg", "from the floor to where the cover begins", 0, 800),
        BodyMeasure("back_height", "Back height", "from the floor to the top of the back's frame", 300, 1600),
        BodyMeasure("arm_height", "Arm height", "from the floor to the top of the arm's wood", 200, 1000),
        BodyMeasure("rake", "Rake of the back", "how far the back leans from upright", 0, 40, is_degrees=True),
        BodyMeasure("pad", "Pad of the seat", "how high the seat's middle stands over its board", 0, 250),
        BodyMeasure("back_pad", "Pad of the back", "how far the back's middle stands before its edge", 0, 200),
        BodyMeasure(
            "back_thickness", "Thickness of the back", "from the inside back's edge to the outside back", 10, 300
        ),
        BodyMeasure("arm_thickness", "Thickness of the arm", "across the arm, behind its front", 30, 300),
        BodyMeasure(
            "wing_lean", "Lean of the wings", "how far a wing's front edge stands outward of its back edge", 0, 200
        ),
        BodyMeasure("gap", "Gap", "between the seat and the lower edge of the back", 0, 400),
    )
}

USUAL_MEASURES: dict[str, dict[str, float]] = {
    "drop_in": {"seat_height": 470, "pad": 45, "back_height": 880, "rake": 9, "back_pad": 25},
    "side_chair": {"seat_height": 470, "pad": 40, "rake": 9, "back_pad": 36},
    "show_wood": {"seat_height": 450, "pad": 70, "back_height": 900, "arm_height": 640, "rake": 13, "back_pad": 40},
    "armchair": {"leg": 160, "pad": 30, "rake": 13, "back_pad": 60, "arm_thickness": 120},
    "wing": {
        "leg": 170,
        "pad": 30,
        "rake": 11,
        "back_pad": 45,
        "back_thickness": 70,
        "arm_thickness": 110,
        "wing_lean": 55,
    },
    "hall": {"seat_height": 480, "pad": 70, "back_height": 1330, "arm_height": 690, "rake": 6, "back_pad": 45},
    "round_stool": {"seat_height": 450, "pad": 60},
    "square_stool": {"seat_height": 450, "pad": 50},
    "ottoman": {"leg": 110, "pad": 35},
    "bench_box": {"seat_height": 470, "pad": 25},
    "desk_chair": {"seat_height": 490, "pad": 60, "rake": 10, "back_pad": 45, "gap": 110},
    "sling": {"seat_height": 430, "back_height": 800},
}
OTHER_MEASURES = {"seat_height": 450.0, "pad": 50.0}  # of a kind that is not among ours


def usual_measures(kind: Kind) -> dict[str, float]:
    """Return the measures that a kind's body is built from beside its panels', with their usual values: only those that
    this make of it has.
    """
    found = dict(USUAL_MEASURES.get(kind.key, OTHER_MEASURES))
    keys = {p.key.removesuffix("_left") for p in kind.parts}
    without = {
        "back_pad": not keys & {"inside_back", "back"},
        "pad": bool(keys & {"front_band", "boxing_front"}),  # under a cushion it is the cushion that one measures
        "arm_thickness": bool(keys & {"facing", "arm_front"}) or not keys & {"inside_arm", "outside_arm"},
        "back_thickness": not keys & {"inside_wing", "outside_wing"},
        "wing_lean": not keys & {"inside_wing", "outside_wing"},
    }
    return {key: value for key, value in found.items() if not without.get(key, False)}


def with_own(kind: Kind, own: Mapping[str, float]) -> dict[str, float]:
    """Return the usual measures with a job's own in their place.

    Raises BadInput for one that the kind's body has not, or beyond its bounds.
    """
    found = usual_measures(kind)
    for key, value in own.items():
        if key not in found:
            raise BadInput(f"measures.{key}", value, "one of " + ", ".join(found))
        known = MEASURES[key]
        if not (math.isfinite(value) and known.least <= value <= known.most):
            unit = "degrees" if known.is_degrees else "mm"
            raise BadInput(f"measures.{key}", value, f"{known.least:g} to {known.most:g} {unit}")
        found[key] = value
    return found


@dataclass(frozen=True)
class Run:
    """The panels that lie where a kind has one: from left to right, or from the bottom up, each with its share."""

    keys: tuple[str, ...]
    shares: tuple[float, ...]
    is_across: bool


@dataclass(frozen=True)
class Size:
    """How large the place of a panel is: across at its bottom and at its top, up."""

    width: float
    above: float
    height: float


class Sizes:
    """The finished measures of a kind's panels: of those that have a shape, its own; of the others, the usual ones.

    A panel that one job has split, or sewn another onto, takes its place with its strips: see `Run`.
    """

    def __init__(self, kind: Kind, shapes: Mapping[str, Shape] | None = None) -> None:
        """Read what is known."""
        self.kind = kind
        self.shapes = {k: s for k, s in (shapes or {}).items() if kind.has(k)}

    @cached_property
    def usual_keys(self) -> frozenset[str]:
        """The panels that the kind usually has, in any of its makes."""
        base = KINDS.get(self.kind.key)
        if base is None:
            return frozenset(p.key for p in self.kind.parts if p.is_cut)
        return frozenset(p.key for parts in (base.parts, *(v.parts for v in base.variants)) for p in parts)

    @cached_property
    def runs(self) -> dict[str, Run]:
        """The panels with strips beside them, by the key that the kind knows; each panel is in one run at most."""
        found: dict[str, Run] = {}
        taken = {p.key for p in self.kind.panels if p.key in self.usual_keys}
        if len(taken) == len(self.kind.panels):
            return found  # nothing of this job's own that could be a strip
        for key in sorted(taken):
            for near, far in (("left", "right"), ("bottom", "top")):
                keys = self._chain(key, near, far, taken)
                if len(keys) > 1 and key not in found:
                    long = [self._own(k).width if near == "left" else self._own(k).height for k in keys]
                    whole = sum(long) or 1.0
                    found[key] = Run(tuple(keys), tuple(n / whole for n in long), near == "left")
                    taken |= set(keys)
        return found

    def _chain(self, key: str, near: str, far: str, taken: set[str]) -> list[str]:
        """A panel with those of this job's own that are sewn to it in a line, one behind the other."""
        keys = [key]
        for edge, first in ((near, True), (far, False)):
            at = key
            while (beyond := self._sewn_on(at, edge)) and beyond not in taken and beyond not in keys:
                keys = [beyond, *keys] if first else [*keys, beyond]
                at = beyond
        return keys

    def _sewn_on(self, key: str, edge: str) -> str | None:
        """The one panel that is sewn along a whole side, with its opposite side, and stands or lies alike."""
        met = [
            m.beyond(key, e)
            for e in self.kind.part(key).edges
            if side_of_edge(e) == edge
            for m in self.kind.meetings_at(key, e)
        ]
        if len(met) != 1:
            return None
        other, its = met[0]
        side: Side = side_of_edge(its)
        alike = self.kind.part(other).stands == self.kind.part(key).stands
        return other if alike and ACROSS[side] == edge and other in {p.key for p in self.kind.panels} else None

    def has(self, key: str) -> bool:
        """Whether there is a panel of this key, or of either hand."""
        return any(self.kind.has(k) for k in (key, f"{key}_left", f"{key}_right"))

    def _named(self, key: str) -> str | None:
        return next((k for k in (key, f"{key}_left", f"{key}_right") if self.kind.has(k)), None)

    def _own(self, key: str) -> Size:
        part = self.kind.part(key)
        if key not in self.shapes:
            return Size(part.width, part.width if part.width_above is None else part.width_above, part.height)
        outline = self.shapes[key].outline
        sides = None if part.form == "disc" else sides_of(self.shapes[key])
        if sides is None or part.per_furniture > 1:  # cut in so many strips, which are sewn end to end
            wide = outline.width * part.per_furniture
            return Size(wide, wide, outline.height)
        return Size(float(np.ptp(sides["bottom"][:, 0])), float(np.ptp(sides["top"][:, 0])), outline.height)

    def of(self, key: str, usual: tuple[float, float] = (100.0, 100.0)) -> Size:
        """Return how large the place of a panel is, with its strips; `usual` where this job has not the panel."""
        named = self._named(key)
        if named is None:
            return Size(usual[0], usual[0], usual[1])
        own, run = self._own(named), self.runs.get(named)
        if run is None:
            return own
        sizes = [self._own(k) for k in run.keys]
        if run.is_across:
            return Size(sum(s.width for s in sizes), sum(s.above for s in sizes), own.height)
        return Size(sizes[0].width, sizes[-1].above, sum(s.height for s in sizes))

    def plan(self, key: str, usual: tuple[float, float] = (100.0, 100.0)) -> Plan:
        """Return the plan of a panel's place: of its finished outline where that is not straight-sided."""
        named, size = self._named(key), self.of(key, usual)
        part: Part | None = self.kind.part(named) if named else None
        if part is not None and part.form == "disc":
            return round_plan(size.width)
        shape = self.shapes.get(named or "")
        if shape is None or named in self.runs or len(shape.outline.points) == len(SIDES):
            return straight_plan(size.width, size.above, size.height)
        sides = sides_of(shape)
        return (
            sided_plan(**sides)
            if sides
            else straight_plan(shape.outline.width, shape.outline.width, shape.outline.height)
        )


def sides_of(shape: Shape) -> dict[str, Curve] | None:
    """Return the four sides of a finished shape from the middle of its box: bottom and top from left to right, left and
    right upward; nothing for one that has not all four.
    """
    x0, y0, x1, y1 = shape.outline.bounds
    found: dict[str, Curve] = {}
    for side in RUN:
        numbers = shape.edges_on(side)
        if not numbers:
            return None
        points = [p for n in numbers for p in shape.edge_points(n)]
        line = np.array([p for k, p in enumerate(points) if k == 0 or p != points[k - 1]]) - (
            (x0 + x1) / 2,
            (y0 + y1) / 2,
        )
        found[side] = line[::-1] if side in ("top", "left") else line
    return found
