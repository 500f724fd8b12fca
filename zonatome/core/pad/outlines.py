"""The outlines of what is cut flat for a pad: foam by its school, wadding with its corners, hessian over its rails."""

from __future__ import annotations

import math
from itertools import pairwise

from shapely.geometry import LineString, Polygon
from shapely.ops import unary_union

from zonatome.core.errors import BadInput
from zonatome.core.joins import WRAPPED
from zonatome.core.outline import Outline, Point, outline_of
from zonatome.core.pad.sorts import SCHOOLS
from zonatome.core.pad.stack import MITRE, Frame, Layer
from zonatome.core.rules import USUAL, Rules
from zonatome.core.trace.restyled import grown_at_edges
from zonatome.core.trace.shape import Shape

HAIR = 1e-6  # mm by which flaps overlap what they hang on, so that their union is one
HELD_UNDER = ("stapled_under", "turned_under")
LEAST_FRAME = 40.0  # mm: nothing narrower is padded
CROWN_INSIDE = 60.0  # mm: a crown's sheet ends so far inside the foam, all round


def foam_over(layer: Layer, rules: Rules = USUAL) -> float:
    """Return by how many mm a foam's outline stands beyond what it lies on, each side; below 0 inside it.

    By its school: flush; over by the rule (0 to 10); a sewn cushion's finished size + 6 to 12 in all; a thin stitched
    panel inside its seams; a rounded edge, pulled over, adds its thickness. Source: trade rules of foam.

    >>> foam_over(Layer("foam", 50, school="rounded")), foam_over(Layer("foam", 100, school="cushion"))
    (50.0, 4.5)
    """
    if layer.over is not None:
        return layer.over
    if layer.sort == "crown":
        return -CROWN_INSIDE
    school = SCHOOLS[layer.school]
    if school.adds_thickness:
        return float(layer.thickness)
    if not school.over:
        return 0.0
    return school.sign * rules[school.over] / (2 if school.overall else 1)


def grown(outline: Outline, by: float, *, what: str = "foam") -> Outline:
    """Return an outline offset by so many mm all round, corners mitred, inward below 0. BadInput: nothing is left."""
    if not by:
        return outline
    polygon = outline.polygon.buffer(by, join_style="mitre", mitre_limit=MITRE)
    if not isinstance(polygon, Polygon) or polygon.is_empty or polygon.area < 100:
        raise BadInput(
            "over",
            by,
            "less taken off",
            words=f"Nothing is left of the {what} {-by:.0f} mm inside a panel {min(outline.width, outline.height):.0f} "
            "mm across; expected less.",
        )
    return _outline(polygon)


def frame_under(shape: Shape, pad: float, thickness: float) -> Outline:
    """Return the outline of the board or frame that a cover goes round, mm: the block rule backwards.

    A cover that is pulled over a pad t and a board or rail b and held under it comes out W + 2 (t + b) to the rail's
    lower edge; so each edge that is held under lies t + b inside, one that ends beside the wood t inside, sewn and
    tucked ones stay. `pad` is the t that the shape was made for, `thickness` b. Where nothing would be left of it the
    shape's own outline is returned. Source: trade rule of blocks.
    """
    under = {
        edge.name: -(pad + (thickness if edge.join in HELD_UNDER else 0.0))
        for edge in shape.edges
        if edge.join in WRAPPED
    }
    if not any(under.values()):
        return shape.outline
    try:
        found = grown_at_edges(shape, under).outline
    except BadInput:
        return shape.outline
    is_less = found.area < shape.outline.area and min(found.width, found.height) >= LEAST_FRAME
    return found if is_less else shape.outline


def foam_outline(under: Outline, layer: Layer, rules: Rules = USUAL) -> Outline:
    """Return the outline that a layer of foam is cut to on what it lies on."""
    return grown(under, foam_over(layer, rules), what=layer.name)


def hessian_outline(frame: Frame, rules: Rules = USUAL) -> Outline:
    """Return the outline that hessian is cut to: over the opening and on to its rails, its edge folded; over a board to
    its edge and under.
    """
    return grown(frame.outline if frame.is_board else frame.opening, rules["hessian_over"], what="hessian")


def wadding_outline(foam: Outline, drop: float, *, corner: str = "cut") -> Outline:
    """Return the outline of wadding that goes over a pad's top and `drop` mm down its sides, not under it.

    At each corner a square of the drop is cut out, so that nothing bulges; `pinched` keeps the cloth of the corner, to
    be pinched, glued and trimmed. Along curves it is pinched. Source: trade rule of wadding.

    >>> wadding_outline(outline_of([(0, 0), (400, 0), (400, 300), (0, 300)]), 50).area
    190000.0
    """
    if drop <= 0:
        return foam
    if corner == "pinched":
        return grown(foam, drop, what="wadding")
    flaps = [foam.polygon]
    for run in _runs(foam):
        flap = LineString(run).buffer(-drop, single_sided=True, join_style="mitre", mitre_limit=MITRE)
        flaps.append(flap.buffer(HAIR, join_style="mitre"))
    joined = unary_union(flaps)
    if not isinstance(joined, Polygon):
        joined = max(joined.geoms, key=lambda part: part.area)
    return _outline(Polygon(joined.exterior))


def corners_cut(foam: Outline) -> int:
    """Return at how many corners wadding is cut out."""
    points = foam.points
    turns = (_turn(points[i - 1], points[i], points[(i + 1) % len(points)]) for i in range(len(points)))
    return sum(1 for turn in turns if turn > CORNER)


CORNER = 30.0  # degrees: an outline that turns by more at a point has a corner there


def _turn(before: Point, at: Point, after: Point) -> float:
    one = math.atan2(at[1] - before[1], at[0] - before[0])
    other = math.atan2(after[1] - at[1], after[0] - at[0])
    return (math.degrees(other - one) + 180) % 360 - 180


def _runs(outline: Outline) -> list[list[Point]]:
    """The outline parted at its corners."""
    points = list(outline.points)
    n = len(points)
    at = [i for i in range(n) if abs(_turn(points[i - 1], points[i], points[(i + 1) % n])) > CORNER]
    if not at:
        return [[*points, points[0]]]
    ends = [*at, at[0] + n]
    return [[points[i % n] for i in range(first, last + 1)] for first, last in pairwise(ends)]


def _outline(polygon: Polygon) -> Outline:
    points = [(round(float(x), 4), round(float(y), 4)) for x, y in polygon.simplify(1e-3).exterior.coords[:-1]]
    return outline_of(points)
