"""Staples of a panel on rails: along every edge that staples hold, in the panel's own frame, face up."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from shapely.geometry import LineString

from zonatome.core.errors import BadInput
from zonatome.core.fasten.staples import (
    INSET,
    KeepOut,
    Order,
    Spot,
    StaplePlan,
    along,
    by_halving,
    in_order,
    moved_clear,
    numbered,
    o_clock,
)
from zonatome.core.joins import DEPTH_OF_GAP
from zonatome.core.outline import Point
from zonatome.core.survey.kind import Part, Side
from zonatome.core.trace.shape import Shape

ROW_APART = 8.0  # mm between two rows
ROOM_BETWEEN = 0.75  # of the pitch: two of the first row that are nearer have none of the second between them
BEHIND = 25.0  # mm from the cut edge of what is tucked through and stapled behind
IN_REBATE = 5.0  # mm inside the finished line of what is raw under trim or turned under
THROUGH_CARD = 6.0  # mm from the line of a card strip to the staples through it
CUT_OUT = 2.0  # times as long as an edge of a cut-out is the longest on its side
LEAST_EDGE = 30.0  # mm: a shorter edge has no staples of its own
STAND: dict[Side, str] = {"top": "top", "bottom": "bottom", "left": "left", "right": "right"}
LIE: dict[Side, str] = {"top": "back", "bottom": "front", "left": "left", "right": "right"}
ON: dict[str, str] = {
    "stapled_under": "under the rail",
    "tucked": "behind, on the rail",
    "fly": "behind, through the fly",
    "raw_under_trim": "in the rebate",
    "turned_under": "beside the edge, turned under",
    "card_strip": "through the card",
}


@dataclass(frozen=True)
class HeldEdge:
    """One edge that staples hold: its side, where on the wood, its staple line along the run, whether a corner lies
    before and after it; whether it is one of a cut-out, stapled with the corners.
    """

    side: str
    where: str
    points: tuple[Point, ...]
    corner_before: bool
    corner_after: bool
    is_closed: bool = False
    is_last: bool = False

    @property
    def line(self) -> LineString:
        """Its staple line."""
        return LineString(self.points)


def edges_of_cut_outs(shape: Shape) -> frozenset[int]:
    """Return the numbers of the edges that belong to a cut-out, round a leg or a post: short ones on a side that has
    another edge twice as long. They are closed with the corners.
    """
    lengths = [LineString(shape.edge_points(n)).length for n in range(len(shape.edges))]
    longest: dict[str, float] = {}
    for edge, length in zip(shape.edges, lengths, strict=True):
        longest[edge.side] = max(longest.get(edge.side, 0.0), length)
    return frozenset(
        n
        for n, (edge, length) in enumerate(zip(shape.edges, lengths, strict=True))
        if not edge.part and CUT_OUT * length < longest[edge.side]
    )


def held_edges(shape: Shape, *, stands: bool = True) -> tuple[HeldEdge, ...]:
    """Return the edges of a shape that staples hold, with the line on which they lie.

    Under the rail 14 mm beyond the finished line, which runs along the rail's lower edge; behind, 25 mm inside the cut
    edge; in a rebate or turned under 5 mm inside the line; through a card 6 mm beyond it.
    """
    names, last = STAND if stands else LIE, edges_of_cut_outs(shape)
    found = []
    count = len(shape.edges)
    for number, edge in enumerate(shape.edges):
        if edge.join not in ON:
            continue
        points = shape.edge_points(number)
        is_closed = count == 1
        line = LineString(points).offset_curve(-_beyond(edge.join, edge.adds), join_style="mitre", mitre_limit=2.0)
        if line.is_empty or line.geom_type != "LineString" or line.length < LEAST_EDGE:
            continue
        before, after = shape.edges[number - 1], shape.edges[(number + 1) % count]
        found.append(
            HeldEdge(
                names[edge.side] + (f", part {edge.part}" if edge.part else ""),
                ON[edge.join],
                tuple((float(x), float(y)) for x, y in line.coords),
                before.join in ON and not is_closed,
                after.join in ON and not is_closed,
                is_closed,
                number in last,
            )
        )
    return tuple(found)


def staples_about(part: Part, lengths: Callable[[str], float], *, pitch: float, rows: int = 1) -> int:
    """Return about how many staples a panel takes on its rails, before its plan is drawn: each held edge at the pitch.

    `lengths` gives the finished length of an edge of the panel, mm.
    """
    edges = part.edges
    is_held = [part.joins.get(edge) in ON for edge in edges]
    count = 0
    for number, edge in enumerate(edges):
        length = lengths(edge)
        if not is_held[number] or length < LEAST_EDGE:
            continue
        if len(edges) == 1:
            count += _round_count(length, pitch)
        else:
            before, after = is_held[number - 1], is_held[(number + 1) % len(edges)]
            count += len(along(length, pitch, corner_before=before, corner_after=after))
    return count * rows


def _beyond(join: str, adds: float) -> float:
    """How far beyond the finished line the staples lie."""
    if join == "stapled_under":
        return min(INSET, adds / 2)
    if join == "tucked":
        return max(adds - BEHIND, adds / 2)
    if join == "fly":
        return DEPTH_OF_GAP
    return THROUGH_CARD if join == "card_strip" else -IN_REBATE


def rail_plan(
    edges: Sequence[HeldEdge],
    *,
    pitch: float,
    order: Order = "cross first",
    keep_outs: Sequence[KeepOut] = (),
    rows: int = 1,
) -> StaplePlan:
    """Return the staples of a panel on its rails: on every held edge from its middle, corners last; a second row lies 8
    mm beside the first, each half way between two of it, so that none is on another.

    Source: trade rules of fastening. Raises BadInput for a pitch beyond 8 to 80 mm, more rows than two, or a panel of
    which no edge is stapled.
    """
    if not 8 <= pitch <= 80:
        raise BadInput("pitch", pitch, "8 to 80 mm")
    if rows not in (1, 2):
        raise BadInput("rows", rows, "one row of staples, or two")
    if not edges:
        raise BadInput("edges", 0, "an edge that staples hold", words="No edge of this panel is held by staples.")
    found: list[Spot] = []
    wanted = 0
    for row in range(1, rows + 1):
        spots = [s for edge in edges for s in _spots(edge, pitch, row)]
        wanted += len(spots)
        clear = [moved for s in spots if (moved := moved_clear(s, pitch, keep_outs)) is not None]
        is_closed = all(edge.is_closed for edge in edges)
        found += by_halving(clear) if is_closed else in_order(clear, order)
    return numbered(found, order, wanted)


def _spots(edge: HeldEdge, pitch: float, row: int) -> list[Spot]:
    line = edge.line
    if row == 2:
        line = line.offset_curve(ROW_APART, join_style="mitre", mitre_limit=2.0)
        if line.is_empty or line.geom_type != "LineString":
            return []
    length = float(line.length)
    if edge.is_closed:
        return _round(line, pitch, row)
    offsets = along(length, pitch, corner_before=edge.corner_before, corner_after=edge.corner_after)
    if row == 2:  # half way between two of the first that leave room for it
        between = [(a + b) / 2 for (a, _), (b, _) in pairwise(offsets) if b - a > ROOM_BETWEEN * pitch]
        offsets = [(offset, False) for offset in between]
    return [
        replace(
            _at(line, length / 2 + offset, edge.side),
            from_middle=offset,
            at_corner=at_corner or edge.is_last,
            row=row,
        )
        for offset, at_corner in offsets
    ]


def _round_count(finished: float, pitch: float) -> int:
    """How many staples go round an edge so long: on the wood they lie INSET inside it, and are told off in quarters."""
    return 4 * max(1, math.ceil((finished - 2 * math.pi * INSET) / pitch / 4 - 1e-9))


def _round(line: LineString, pitch: float, row: int) -> list[Spot]:
    """Round a closed line, from its top, clockwise."""
    length = float(line.length)
    count = _round_count(length - 2 * math.pi * INSET, pitch)
    top = max(range(len(line.coords)), key=lambda n: line.coords[n][1])
    from_ = float(LineString(line.coords[: top + 1]).length) if top else 0.0
    found = []
    for k in range(count):
        share = (k + (0.5 if row == 2 else 0.0)) / count
        spot = _at(line, (from_ - share * length) % length, o_clock(share))
        found.append(replace(spot, from_middle=share, row=row))
    return found


def _at(line: LineString, at: float, side: str) -> Spot:
    """A place on a line that runs anticlockwise, its crown along it, the way out of the panel."""
    a, p, b = line.interpolate(max(0.0, at - 2)), line.interpolate(at), line.interpolate(at + 2)
    long_ = math.hypot(b.x - a.x, b.y - a.y) or 1.0
    u = ((b.x - a.x) / long_, (b.y - a.y) / long_)
    return Spot(
        float(p.x), float(p.y), math.degrees(math.atan2(u[1], u[0])), side, 0.0, at_corner=False, outward=(u[1], -u[0])
    )
