"""The cut sheet: where every corner lies, and in which order the shears go.

Stand at the squared end and look up the roll: distances are from the squared end and from the left selvage,
the edge y = width of the cloth's frame.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from zonatome.core.lay.request import Lay, LayRequest, Placement
from zonatome.core.outline import Outline, Point, turn_of

Line = tuple[Point, ...]

MOST_CORNERS = 12  # a piece with more is traced from its shape; its box says where to put it


@dataclass(frozen=True)
class Corner:
    """A corner on the cloth: mm from the squared end, mm from the left selvage."""

    from_end: float
    from_left: float


@dataclass(frozen=True)
class CutRow:
    """One thing to cut: its number in the order, its key for the tick, its name, corners, and whether they are those of its box."""

    number: int
    key: str
    name: str
    corners: tuple[Corner, ...]
    is_box: bool
    outline: Outline
    is_strip: bool = False
    turn_degrees: float = 0.0
    marks: tuple[Line, ...] = ()  # notches, buttons, stitch lines where they lie on the cloth


@dataclass(frozen=True)
class CutSheet:
    """Cross cuts first (mm from the squared end), then pieces, biggest first, then strips."""

    cross_cuts: tuple[float, ...]
    rows: tuple[CutRow, ...]


def cut_sheet(request: LayRequest, lay: Lay, names: dict[str, str], marks: Mapping[str, tuple[Line, ...]] | None = None) -> CutSheet:
    """Return the order of cutting for a lay.

    `names` gives the words for the ids of pieces and strips, `marks` the lines that a piece carries, in its own frame.
    """
    pieces = [(p, p.on_cloth(request.by_id[p.piece])) for p in lay.placements]
    pieces.sort(key=lambda entry: (-round(entry[1].area), entry[0].piece, entry[0].copy))
    rows: list[CutRow] = []
    for placement, outline in pieces:
        corners, is_box = _corners(request, outline)
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
                marks=tuple(_on_cloth(placement, line) for line in (marks or {}).get(placement.piece, ())),
            )
        )
    strips = sorted(lay.strips, key=lambda s: (s.strip, s.outline.bounds[0], s.outline.bounds[1]))
    for number, strip in enumerate(strips):
        corners, is_box = _corners(request, strip.outline)
        name = f"{names.get(strip.strip, strip.strip)} strip {number + 1}"
        rows.append(CutRow(len(rows) + 1, f"{strip.strip}.strip{number + 1}", name, corners, is_box, strip.outline, is_strip=True))
    return CutSheet(_cross_cuts(rows), tuple(rows))


def _on_cloth(placement: Placement, line: Line) -> Line:
    """A line of a piece where the piece lies: mirrored, turned about (0, 0), moved, as its outline is."""
    c, s = turn_of(placement.turn_degrees)
    way = -1.0 if placement.flip else 1.0
    return tuple((c * x - s * way * y + placement.x, s * x + c * way * y + placement.y) for x, y in line)


def _corners(request: LayRequest, outline: Outline) -> tuple[tuple[Corner, ...], bool]:
    found = [outline.points[i] for i in outline.corners()]
    is_box = not 3 <= len(found) <= MOST_CORNERS
    if is_box:
        x0, y0, x1, y1 = outline.bounds
        found = [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]
    found.sort(key=lambda p: (round(p[0]), -p[1]))
    return tuple(Corner(x, request.roll.width - y) for x, y in found), is_box


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
