"""Does the body agree with the finished shapes: where it does not, which measure to take. Lengths in mm."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from zonatome.core.body.measures import MEASURES
from zonatome.core.body.surfaces import path_length
from zonatome.core.body.trims import edge_curve
from zonatome.core.body.values import Body
from zonatome.core.outline import crossings
from zonatome.core.survey.kind import Kind, edge_words
from zonatome.core.trace.shape import Shape

MOST_APART = 0.05  # of an area or a length: more is said
WRAPPED = {"stapled_under", "raw_under_trim", "turned_under"}
LEAST_APART = 12.0  # mm: less on an edge is a tape's reading and a pad's roundness
# the measures of the furniture that a panel's place depends on, beside its own shape
RESTS_ON: dict[str, tuple[str, ...]] = {
    "seat": ("pad", "leg"),
    "inside_back": ("back_pad", "back_thickness"),
    "outside_back": ("back_thickness", "rake"),
    "inside_arm": ("arm_thickness",),
    "outside_arm": ("arm_thickness", "back_thickness"),
    "outside_wing": ("back_thickness", "wing_lean"),
    "inside_wing": ("wing_lean", "back_pad"),
    "arm_pad": ("arm_height",),
    "top": ("pad",),
    "cover": ("pad",),
    "back": ("back_pad",),
    "band": ("back_thickness",),
    "side": ("seat_height",),
    "inner": ("back_height",),
}


@dataclass(frozen=True)
class Apart:
    """A panel whose place on the body is not as large as its finished shape: what differs, both figures (mm, or mm2
    where it is the area), and the measures of the furniture to take.
    """

    key: str
    what: str
    on_body: float
    finished: float
    take: tuple[str, ...]

    @property
    def share(self) -> float:
        """By how much the body's is larger, as a share of the finished one; below 0 it is smaller."""
        return self.on_body / self.finished - 1

    @property
    def is_area(self) -> bool:
        """Whether areas differ; else lengths of an edge."""
        return self.what == "area"


def apart(kind: Kind, body: Body, shapes: Mapping[str, Shape]) -> tuple[Apart, ...]:
    """Return the panels whose place on the body and finished shape differ by more than 5 % in area or along an edge.

    One line a panel: its area where that differs, else the edge that differs most. A panel that is wrapped round a
    board, all its edges held under or behind it, is compared by its middle lines: its corners fold away, its edges lie
    under.
    """
    found = []
    for key, shape in shapes.items():
        patch = body.by_key.get(key)
        if patch is None or not kind.has(key):
            continue
        part = kind.part(key)
        if set(part.joins.values()) <= WRAPPED:
            pairs = [("across", patch.across, middle_of(shape)[0]), ("up", patch.up, middle_of(shape)[1])]
        elif part.per_furniture > 1 or abs(patch.area / shape.outline.area - 1) > MOST_APART:
            pairs = [("area", patch.area, shape.outline.area * part.per_furniture)]
        else:
            edges = [(edge, shape.length_on(edge)) for edge in part.edges]
            pairs = [(edge_words(e), path_length(edge_curve(patch, part, e)), own) for e, own in edges if own]
        far = [Apart(key, *one, measures_to_take(key, body)) for one in pairs if _differ(*one)]
        if far:
            found.append(max(far, key=lambda one: abs(one.share)))
    return tuple(found)


def _differ(what: str, on_body: float, finished: float) -> bool:
    least = 0.0 if what == "area" else LEAST_APART
    return abs(on_body - finished) > max(MOST_APART * finished, least)


def middle_of(shape: Shape) -> tuple[float, float]:
    """Return how far a finished shape is across its middle, and up it."""
    x0, y0, x1, y1 = shape.outline.bounds
    across = crossings(shape.outline, (x0 - 1, (y0 + y1) / 2), (x1 + 1, (y0 + y1) / 2))
    up = crossings(shape.outline, ((x0 + x1) / 2, y0 - 1), ((x0 + x1) / 2, y1 + 1))
    return math.dist(across[0], across[-1]), math.dist(up[0], up[-1])


def measures_to_take(key: str, body: Body) -> tuple[str, ...]:
    """Return the names of the measures that a panel's place rests on: those of the furniture which this body has; none
    where the panel's own shape is all there is to measure.
    """
    plain = key.removesuffix("_left").removesuffix("_right")
    wanted = RESTS_ON.get(plain, ())
    return tuple(MEASURES[m].name for m in wanted if m in body.measures)
