"""The cut sheet: where every corner lies, and in which order the shears go.

Stand at the squared end and look up the roll: distances are from the squared end and from the left selvage, the edge y
= width of the cloth's frame. On panels they are from each panel's own left end and upper edge, as it is drawn.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from zonatome.core.lay.check import OFF_MOTIF, off_motif
from zonatome.core.lay.request import Lay, LayRequest, Panels, Placement, StripCut
from zonatome.core.outline import Outline, Point, rectangle, turn_of

Line = tuple[Point, ...]

BETWEEN_PANELS = 120.0  # mm between two panels side by side on the table

MOST_CORNERS = 12  # a piece with more is traced from its shape; its box says where to put it


@dataclass(frozen=True)
class Corner:
    """A corner on the cloth: mm from the squared end, mm from the left selvage."""

    from_end: float
    from_left: float


@dataclass(frozen=True)
class CuttingTable:
    """The cloth on the cutting table: each panel beside the other, their upper edges in a line; a roll is one panel at
    (0, 0).

    `shifts` say by how much each panel's frame is moved to lie there, `flaws` lie on the table.
    """

    length: float
    width: float
    grounds: tuple[Outline, ...]
    shifts: tuple[Point, ...]
    flaws: tuple[Outline, ...] = ()

    def panel_at(self, x: float) -> int:
        """Return the panel over which a place on the table lies, or the nearest along it."""
        return min(
            range(len(self.grounds)),
            key=lambda k: max(self.grounds[k].bounds[0] - x, x - self.grounds[k].bounds[2], 0.0),
        )


def table_for(request: LayRequest, length: float) -> CuttingTable:
    """Return the table that a request's cloth lies on; of a roll so much of it as `length` in mm."""
    if not isinstance(request.cloth, Panels):
        roll = request.cloth
        return CuttingTable(length, roll.width, (rectangle(max(length, 1.0), roll.width),), ((0.0, 0.0),), roll.flaws)
    width = max(o.height for o in request.cloth.outlines)
    x, shifts = 0.0, []
    for outline in request.cloth.outlines:
        x0, _, x1, y1 = outline.bounds
        shifts.append((x - x0, width - y1))
        x += x1 - x0 + BETWEEN_PANELS
    grounds = tuple(o.moved(*shift) for o, shift in zip(request.cloth.outlines, shifts, strict=True))
    flaws = tuple(f.outline.moved(*shifts[f.panel]) for f in request.cloth.flaws)
    return CuttingTable(x - BETWEEN_PANELS, width, grounds, tuple(shifts), flaws)


@dataclass(frozen=True)
class CutRow:
    """One thing to cut: its number in the order, its key for the tick, its name, corners, and whether they are those
    of its box.

    `outline` and `marks` lie on the table; `panel` is the number of the panel it is cut from, from 0.
    """

    number: int
    key: str
    name: str
    corners: tuple[Corner, ...]
    is_box: bool
    outline: Outline
    is_strip: bool = False
    turn_degrees: float = 0.0
    marks: tuple[Line, ...] = ()  # notches, buttons, stitch lines where they lie on the cloth
    panel: int = 0


@dataclass(frozen=True)
class CutSheet:
    """Cross cuts first (mm from the squared end; none on panels), then pieces, biggest first, then strips.

    `ground` is what a panel is called; cloth has a top, foam has none.
    """

    cross_cuts: tuple[float, ...]
    rows: tuple[CutRow, ...]
    table: CuttingTable
    on_panels: bool = False
    ground: str = "panel"
    has_top: bool = True

    @property
    def read_from(self) -> tuple[str, str]:
        """What the two distances of a corner are from."""
        return (
            (f"the {self.ground}'s left end", "its upper edge")
            if self.on_panels
            else ("the squared end", "the left selvage")
        )


def cut_sheet(
    request: LayRequest, lay: Lay, names: dict[str, str], marks: Mapping[str, tuple[Line, ...]] | None = None
) -> CutSheet:
    """Return the order of cutting for a lay.

    `names` gives the words for the ids of pieces and strips, `marks` the lines that a piece carries, in its own frame.
    """
    table = table_for(request, lay.length)
    pieces = [(p, p.on_cloth(request.by_id[p.piece]).moved(*table.shifts[p.panel])) for p in lay.placements]
    pieces.sort(key=lambda entry: (-round(entry[1].area), entry[0].piece, entry[0].copy))
    rows: list[CutRow] = []
    for placement, outline in pieces:
        corners, is_box = _corners(table, placement.panel, outline)
        name = names.get(placement.piece, placement.piece)
        count = request.by_id[placement.piece].count
        rows.append(
            CutRow(
                len(rows) + 1,
                f"{placement.piece}.{placement.copy}",
                f"{name} {placement.copy}" if count > 1 else name,
                corners,
                is_box,
                outline,
                turn_degrees=placement.turn_degrees,
                marks=tuple(
                    _on_cloth(placement, line, table.shifts[placement.panel])
                    for line in (marks or {}).get(placement.piece, ())
                ),
                panel=placement.panel,
            )
        )
    strips = sorted(lay.strips, key=lambda s: (s.strip, s.panel, s.outline.bounds[0], s.outline.bounds[1]))
    for number, strip in enumerate(strips):
        lying = strip.outline.moved(*table.shifts[strip.panel])
        corners, is_box = _corners(table, strip.panel, lying)
        name = f"{names.get(strip.strip, strip.strip)} strip {number + 1}"
        rows.append(
            CutRow(
                len(rows) + 1,
                f"{strip.strip}.strip{number + 1}",
                name,
                corners,
                is_box,
                lying,
                is_strip=True,
                panel=strip.panel,
            )
        )
    return CutSheet(() if request.on_panels else _cross_cuts(rows), tuple(rows), table, request.on_panels)


def _on_cloth(placement: Placement, line: Line, shift: Point) -> Line:
    """A line of a piece where the piece lies: mirrored, turned about (0, 0), moved, as its outline is."""
    c, s = turn_of(placement.turn_degrees)
    way = -1.0 if placement.flip else 1.0
    dx, dy = placement.x + shift[0], placement.y + shift[1]
    return tuple((c * x - s * way * y + dx, s * x + c * way * y + dy) for x, y in line)


def _corners(table: CuttingTable, panel: int, outline: Outline) -> tuple[tuple[Corner, ...], bool]:
    found = [outline.points[i] for i in outline.corners()]
    is_box = not 3 <= len(found) <= MOST_CORNERS
    if is_box:
        x0, y0, x1, y1 = outline.bounds
        found = [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]
    found.sort(key=lambda p: (round(p[0]), -p[1]))
    end, _, _, top = table.grounds[panel].bounds
    return tuple(Corner(x - end, top - y) for x, y in found), is_box


def _cross_cuts(rows: list[CutRow]) -> tuple[float, ...]:
    """Where the roll may be cut right across without meeting anything; the last is behind everything.

    Strips that lie side by side are one block: they are cut apart last.
    """
    cuts: list[float] = []
    reach = 0.0
    was_strip = False
    for row in sorted(rows, key=lambda r: r.outline.bounds[0]):
        x0, _, x1, _ = row.outline.bounds
        if reach > 0 and x0 >= reach - 0.05 and not (row.is_strip and was_strip):
            cuts.append((x0 + reach) / 2)
        if x1 > reach:
            reach, was_strip = x1, row.is_strip
    return (*cuts, reach) if rows else ()


@dataclass(frozen=True)
class BeforeTheShears:
    """One thing to be sure of before the first cut: whether it is so, and in words what was looked at."""

    holds: bool
    words: str


def before_the_shears(
    request: LayRequest, lay: Lay, names: Mapping[str, str], pairs: Sequence[tuple[str, str]] = ()
) -> list[BeforeTheShears]:
    """Return the check before the shears: all there, all the same way, motif on centre, pairs are pairs.

    `pairs` are ids of panels that are each other's mirror image. Source: trade rule: a check before the shears, since
    a cut is final.
    """
    said = []
    missing = [f"{count} × {names.get(piece, piece)}" for piece, count in lay.unplaced] + [
        names.get(s, s) for s, _ in lay.short
    ]
    laid = len(lay.placements)
    words = f"{laid} of {request.piece_count} pieces are laid"
    said.append(
        BeforeTheShears(not missing, f"{words}; no room for {', '.join(missing)}" if missing else f"All there: {words}")
    )
    one_way = [p for p in request.pieces if p.turns is not None and len(p.turns) == 1]
    if one_way:
        turned = [p for p in lay.placements if not request.by_id[p.piece].may_turn(p.turn_degrees)]
        way = "railroaded" if all(p.turns == (90.0,) for p in one_way) else "up the roll"
        said.append(
            BeforeTheShears(
                not turned, f"All the same way: every top {way}" if not turned else f"{len(turned)} lie another way"
            )
        )
    if one_way and lay.strips:
        ways = {_runs_along(s) for s in lay.strips}
        held = (
            "all strips lie one way"
            if len(ways) == 1
            else "strips lie both ways: on pile one of them will look like another colour"
        )
        said.append(BeforeTheShears(len(ways) == 1, held[0].upper() + held[1:]))
    bound = [p for p in lay.placements if any(request.by_id[p.piece].bound(request.repeat))]
    if bound:
        off = [p for p in bound if max(off_motif(request, p)) > OFF_MOTIF]
        centred = ", ".join(dict.fromkeys(names.get(p.piece, p.piece).lower() for p in bound))
        said.append(
            BeforeTheShears(not off, f"Motif on centre of {centred}" if not off else f"{len(off)} are off their motif")
        )
    for one, other in pairs:
        if one in request.by_id and other in request.by_id:
            a, b = request.by_id[one], request.by_id[other]
            alike = a.count == b.count and _mirrored(a.outline, b.outline)
            both = f"{names.get(one, one)} and {names.get(other, other).lower()}"
            said.append(
                BeforeTheShears(alike, f"{both} are a pair" if alike else f"{both} are not each other's mirror image")
            )
    return said


def _runs_along(strip: StripCut) -> int:
    """The way a strip lies on the cloth, to a degree, whichever end one begins at."""
    points = strip.outline.points
    (ax, ay), (bx, by) = max(zip(points, points[1:] + points[:1], strict=True), key=lambda s: math.dist(*s))
    return round(math.degrees(math.atan2(by - ay, bx - ax))) % 180


PAIR_OFF = 0.01  # of the area that two halves of a pair may differ by


def _mirrored(one: Outline, other: Outline) -> bool:
    """Whether two outlines that lie up the roll are mirror images, left for right."""
    turned_over = other.mirrored()
    (ax, ay, _, _), (bx, by, _, _) = one.bounds, turned_over.bounds
    moved = turned_over.moved(ax - bx, ay - by).polygon
    return bool(one.polygon.symmetric_difference(moved).area < PAIR_OFF * one.area)
