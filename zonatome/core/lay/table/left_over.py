"""What a lay leaves over that is worth keeping: the end of the roll, and the bays that a hand can still cut a piece
from.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

import shapely
from shapely.geometry import MultiPolygon, Polygon, box

from zonatome.core.lay.request import Lay, LayRequest, Panels, Repeat
from zonatome.core.outline import Outline, Point, outline_of

NARROWEST = 120.0  # mm: a tongue slimmer than this is a rag
LEAST_KEPT = 40_000.0  # mm2: 20 x 20 cm; smaller goes in the rag bag
WORTH = 250_000.0  # mm2
SHEARS = 2.0  # mm that the shears take along a cut
STRAIGHTER = 4.0  # mm by which a left-over's edge may be straightened


@dataclass(frozen=True)
class LeftOver:
    """A piece of cloth that is left: its outline in a frame of its own, x along the roll toward the top's end at x =
    0, as it lay.

    `is_whole` says that it is the full width behind the last cut; `panel` is where it lay, `at` its corner there,
    `motif` where a motif stands in its own frame, None on a plain cloth.
    """

    outline: Outline
    panel: int
    at: tuple[float, float]
    is_whole: bool = False
    motif: Point | None = None

    @property
    def area(self) -> float:
        """Its area in mm2."""
        return self.outline.area

    @property
    def is_worth(self) -> bool:
        """Whether most would keep it: a whole end, or a bay, of a quarter of a square metre."""
        return self.area >= WORTH


def left_overs(request: LayRequest, lay: Lay, *, bought: float = 0.0) -> tuple[LeftOver, ...]:
    """Return what is left of the cloth that a lay was cut from, the largest first; nap and the way up stay as they lay.

    `bought` is the length of a roll in mm from the squared end (what was bought less the squaring). Of a roll the end
    behind the last cut comes off right across; elsewhere what the pieces leave is opened by half of NARROWEST, so that
    no tongue slimmer than that remains, and what is under LEAST_KEPT is dropped. Flaws are cut out. Pieces that are
    not laid are not missed.
    """
    found: list[LeftOver] = []
    for number, ground, is_end in grounds_of(request, lay, bought):
        cut = []
        if not is_end:  # nothing reaches behind the last cut
            cut += [p.on_cloth(request.by_id[p.piece]).polygon for p in lay.placements if p.panel == number]
            cut += [s.outline.polygon for s in lay.strips if s.panel == number]
        cut += [f.outline.polygon for f in request.flaws if f.panel == number]
        rest = (
            ground.difference(shapely.union_all([c.buffer(SHEARS, join_style="mitre") for c in cut])) if cut else ground
        )
        for polygon in _pieces(_opened(rest)):
            made = _left_over(polygon, number, is_whole=is_end and polygon.area > ground.area - 1.0)
            if made is not None:
                found.append(_with_motif(made, request.repeat_on(number)))
    return tuple(sorted(found, key=lambda f: (-round(f.area), f.panel, f.at)))


def grounds_of(request: LayRequest, lay: Lay, bought: float) -> Iterator[tuple[int, Polygon, bool]]:
    """Yield (panel, ground, whether it is the whole end) of the cloth that was touched."""
    if isinstance(request.cloth, Panels):
        touched = {p.panel for p in lay.placements} | {s.panel for s in lay.strips}
        for number in sorted(touched):
            yield number, request.cloth.outlines[number].polygon, False
        return
    roll = request.cloth
    yield 0, box(0.0, roll.low, lay.length, roll.high), False
    if bought - lay.length > NARROWEST:
        yield 0, box(lay.length + SHEARS, 0.0, bought, roll.width), True


def _opened(region: shapely.Geometry) -> shapely.Geometry:
    """What of a region is not slimmer than NARROWEST."""
    return (
        region.buffer(-NARROWEST / 2, join_style="mitre").buffer(NARROWEST / 2, join_style="mitre").intersection(region)
    )


def _with_motif(left: LeftOver, repeat: Repeat | None) -> LeftOver:
    """The left-over with the motif that stands nearest its upper left corner, y = 0 below."""
    if repeat is None:
        return left
    x, y = repeat.origin[0] - left.at[0], repeat.origin[1] - left.at[1]
    column = math.floor((left.outline.bounds[3] - y) / repeat.across) if repeat.across else 0
    along = (x + repeat.drop * column * (repeat.along or 0.0)) % repeat.along if repeat.along else 0.0
    return replace(left, motif=(round(along, 1), round(y + column * (repeat.across or 0.0), 1)))


def _pieces(region: shapely.Geometry) -> Iterator[Polygon]:
    """The polygons of a region; one with a hole is cut through it, along or across, as leaves more: then each has one
    edge all round.
    """
    waiting = list(region.geoms) if isinstance(region, MultiPolygon) else [region]
    while waiting:
        polygon = waiting.pop()
        if not isinstance(polygon, Polygon):
            waiting += [g for g in getattr(polygon, "geoms", ()) if isinstance(g, Polygon | MultiPolygon)]
        elif polygon.interiors:
            x0, y0, x1, y1 = polygon.bounds
            x, y = polygon.interiors[0].centroid.coords[0]
            across = [_opened(polygon.intersection(half)) for half in (box(x0, y0, x, y1), box(x, y0, x1, y1))]
            along = [_opened(polygon.intersection(half)) for half in (box(x0, y0, x1, y), box(x0, y, x1, y1))]
            waiting += max(across, along, key=lambda halves: sum(h.area for h in halves))
        elif not polygon.is_empty:
            yield polygon


def _left_over(polygon: Polygon, panel: int, *, is_whole: bool) -> LeftOver | None:
    # straightened inward: all of it is there
    inside = polygon.buffer(-STRAIGHTER / 2, join_style="mitre").simplify(STRAIGHTER / 2)
    if not isinstance(inside, Polygon) or inside.is_empty or inside.area < LEAST_KEPT:
        return None
    straight = inside if not is_whole else polygon
    x0, y0, _, _ = straight.bounds
    points = [(round(x - x0, 1), round(y - y0, 1)) for x, y in straight.exterior.coords[:-1]]
    return LeftOver(outline_of(points), panel, (round(x0, 1), round(y0, 1)), is_whole)
