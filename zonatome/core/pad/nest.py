"""Foam nested on the sheets that are sold and the offcuts in store, by the lay engine, thicknesses apart."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import pairwise
from typing import TYPE_CHECKING

import numpy as np
import shapely
from shapely.geometry import LineString
from shapely.geometry import box as box_of
from shapely.geometry.base import BaseGeometry
from shapely.ops import split

from zonatome.core.arrays import Floats
from zonatome.core.errors import BadInput
from zonatome.core.lay.request import Lay, LayRequest, Panels, PieceAsk, Placement, Roll
from zonatome.core.lay.table.cut_sheet import CutSheet, cut_sheet
from zonatome.core.lazily import Lazily
from zonatome.core.outline import Outline, Point, outline_of, rectangle
from zonatome.core.pad.sorts import FOAMS
from zonatome.core.pad.usual import Role

if TYPE_CHECKING:
    from zonatome.core.lay import lay as laying
else:
    laying = Lazily("zonatome.core.lay.lay")  # compiled code: only where foam is nested

FOAM_SHEET = (2000.0, 1000.0)  # mm: the usual foam sheet
WADDING_ROLL = 1500.0  # mm: the usual width of a roll of wadding, hessian, coir, cotton
KERF = 4.0  # mm between two pieces of foam: the blade, and a hand
QUARTERS = (0.0, 90.0, 180.0, 270.0)
SITTER_WIDE = 500.0  # mm of a bench for each sitter: a join lies between two
MOST_SHEETS = 40
LEAST_KEPT = 150.0  # mm: a smaller piece of foam is not worth its place in the store
HAIR = 1e-6  # mm
ROUNDED = 9  # places after the point: what is smaller is no length, and nothing can be reckoned with it
CROSS = 8.0  # mm: half of the cross that marks a button hole
PARTED = 16  # parts of a sheet whose edges slant, each way, in which what is left is looked for
MOST_CORNERS = 40  # of an offcut by whose corners what is left is looked for
TRIED = 0.35  # seconds that a search is given before one sheet more is bought
SAT_ON: tuple[Role, ...] = ("seat", "stool", "cushion")


@dataclass(frozen=True)
class FoamPiece:
    """Foam to cut: its name, its outline, how many, what sort, how thick, and what it is for."""

    key: str
    outline: Outline
    count: int
    foam: str
    thickness: float
    role: Role = "seat"


@dataclass(frozen=True)
class Offcut:
    """Foam in store: its number, sort, thickness and outline, and whether it is kept for the job in hand."""

    number: int
    foam: str
    thickness: float
    outline: Outline
    is_own: bool = False


@dataclass(frozen=True)
class Join:
    """A piece that is glued from parts, since no sheet is large enough; where the joins lie, mm from its left."""

    key: str
    at: tuple[float, ...]
    is_of_offcuts: bool = False  # nobody sits on it, and it saves a sheet


@dataclass(frozen=True)
class FoamNest:
    """The foam of one sort and thickness: sheets to buy, offcuts that are used, where each piece lies, joins."""

    foam: str
    thickness: float
    sheets: int
    offcuts: tuple[int, ...]
    request: LayRequest
    lay: Lay
    joins: tuple[Join, ...]

    @property
    def panels(self) -> Panels:
        """The offcuts, then the sheets."""
        assert isinstance(self.request.cloth, Panels)  # noqa: S101  # always asked so, below
        return self.request.cloth

    def on_panel(self, number: int) -> tuple[Placement, ...]:
        """Return what lies on one offcut or sheet."""
        return tuple(p for p in self.lay.placements if p.panel == number)

    @property
    def used(self) -> float:
        """The share of the foam's area that pieces take."""
        taken = sum(p.on_cloth(self.request.by_id[p.piece]).area for p in self.lay.placements)
        return taken / self.panels.area


def nest_foam(pieces: Iterable[FoamPiece], offcuts: Iterable[Offcut] = ()) -> tuple[FoamNest, ...]:
    """Return the foam of a whole job nested: offcuts first, then as few sheets as hold the rest, thicknesses apart.

    A piece larger than a sheet is joined, glued edge to edge, where no sitter sits on the join. Raises BadInput for
    a piece that no few joins make, and for more foam than 40 sheets hold.
    """
    nests, refused = nest_what_can_be(pieces, offcuts)
    for _, refusal in refused:
        raise refusal
    return nests


def nest_what_can_be(
    pieces: Iterable[FoamPiece], offcuts: Iterable[Offcut] = ()
) -> tuple[tuple[FoamNest, ...], tuple[tuple[str, BadInput], ...]]:
    """Return the same as far as it can be done, and what could not: foam of which sort and thickness, and why."""
    groups: dict[tuple[str, float], list[FoamPiece]] = {}
    for piece in pieces:
        groups.setdefault((piece.foam, piece.thickness), []).append(piece)
    in_store = tuple(offcuts)
    nests, refused = [], []
    for (foam, thickness), group in sorted(groups.items(), key=lambda one: (-one[0][1], one[0][0])):
        same = tuple(o for o in in_store if (o.foam, o.thickness) == (foam, thickness))
        try:
            nests.append(_nested(foam, thickness, tuple(group), same))
        except BadInput as refusal:
            refused.append((f"{FOAMS[foam].name} foam, {thickness:g} mm", refusal))
    return tuple(nests), tuple(refused)


@lru_cache(maxsize=128)
def _nested(foam: str, thickness: float, pieces: tuple[FoamPiece, ...], offcuts: tuple[Offcut, ...]) -> FoamNest:
    asks: list[PieceAsk] = []
    joins: list[Join] = []
    for piece in pieces:
        parts, at = parted_for_sheet(piece)
        if at:
            joins.append(Join(piece.key, at))
        asks += _asks(piece, parts)
    area = sum(ask.outline.area * ask.count for ask in asks)
    spare = sum(o.outline.area for o in offcuts)
    sheet = FOAM_SHEET[0] * FOAM_SHEET[1]
    least = max(0 if offcuts else 1, math.ceil((area - spare) / sheet))
    for sheets in range(least, MOST_SHEETS + 1):
        if not sheets and not offcuts:
            continue
        request = _request(asks, offcuts, sheets)
        lay = _whole(request)
        if lay is not None:
            if sheets and offcuts:
                glued = _from_offcuts(pieces, joins, offcuts, sheets)
                if glued is not None:
                    joins, asks, sheets, request, lay = glued
            offcuts, request, lay = _on_fewer(asks, offcuts, sheets, (request, lay))
            used = tuple(o.number for n, o in enumerate(offcuts) if any(p.panel == n for p in lay.placements))
            return FoamNest(foam, thickness, _sheets_used(lay, len(offcuts)), used, request, lay, tuple(joins))
    words = f"This job takes more than {MOST_SHEETS} sheets of {thickness:.0f} mm foam; expected less for one job."
    raise BadInput("foam", f"{area / 1e6:.1f} m2", f"at most {MOST_SHEETS} sheets", words=words)


def _asks(piece: FoamPiece, parts: Sequence[Outline]) -> list[PieceAsk]:
    names = [piece.key] if len(parts) == 1 else [f"{piece.key} {n + 1}" for n in range(len(parts))]
    return [PieceAsk(name, part, piece.count, QUARTERS, flip=True) for name, part in zip(names, parts, strict=True)]


Glued = tuple[list[Join], list[PieceAsk], int, LayRequest, Lay]


def _from_offcuts(
    pieces: Sequence[FoamPiece], joins: list[Join], offcuts: tuple[Offcut, ...], sheets: int
) -> Glued | None:
    """The same with pieces that nobody sits on glued from halves, where that saves a sheet; None where it does not."""
    joined = {join.key for join in joins}
    halved = [p for p in pieces if p.role not in SAT_ON and p.key not in joined]
    asks: list[PieceAsk] = []
    made = list(joins)
    for piece in pieces:
        if piece in halved:
            x0, y0, _, y1 = piece.outline.bounds
            middle = piece.outline.width / 2
            line = LineString([(x0 + middle, y0 - 1), (x0 + middle, y1 + 1)])
            parts = [_outline_of(part) for part in split(piece.outline.polygon, line).geoms]
            made.append(Join(piece.key, (middle,), is_of_offcuts=True))
            asks += _asks(piece, parts)
        else:
            asks += _asks(piece, parted_for_sheet(piece)[0])
    if not halved:
        return None
    for fewer in range(sheets):
        request = _request(asks, offcuts, fewer)
        lay = laying.easy_lay(request)
        if not lay.unplaced:
            return made, asks, fewer, request, lay
    return None


def _outline_of(part: BaseGeometry) -> Outline:
    return outline_of([(float(x), float(y)) for x, y in part.exterior.coords[:-1]])


def _request(asks: Sequence[PieceAsk], offcuts: Sequence[Offcut], sheets: int) -> LayRequest:
    cloth = Panels((*(_at_corner(o.outline) for o in offcuts), *([rectangle(*FOAM_SHEET)] * sheets)))
    return LayRequest(cloth, KERF, tuple(asks))


def _on_fewer(
    asks: Sequence[PieceAsk], offcuts: tuple[Offcut, ...], sheets: int, found: tuple[LayRequest, Lay]
) -> tuple[tuple[Offcut, ...], LayRequest, Lay]:
    """The same on as few offcuts as hold it: the largest is left in store first, what is kept for the job last."""
    for offcut in sorted(offcuts, key=lambda o: (o.is_own, -o.outline.area)):
        fewer = tuple(o for o in offcuts if o is not offcut)
        if not fewer and not sheets:
            break
        request = _request(asks, fewer, sheets)
        lay = laying.easy_lay(request)
        if not lay.unplaced:
            offcuts, found = fewer, (request, lay)
    return offcuts, *found


def _whole(request: LayRequest) -> Lay | None:
    """A lay that leaves nothing out: in rows, or found in a short search; None where there is none."""
    lay = laying.easy_lay(request)
    if not lay.unplaced:
        return lay
    area = sum(p.outline.area * p.count for p in request.pieces)
    if isinstance(request.cloth, Panels) and area > 0.93 * request.cloth.area:
        return None
    lay = laying.search_lay(request, seconds=TRIED, seed=1)
    return None if lay.unplaced else lay


def _sheets_used(lay: Lay, offcuts: int) -> int:
    return len({p.panel for p in lay.placements if p.panel >= offcuts})


def _at_corner(outline: Outline) -> Outline:
    x0, y0, _, _ = outline.bounds
    return outline.moved(-x0, -y0)


def parted_for_sheet(piece: FoamPiece) -> tuple[tuple[Outline, ...], tuple[float, ...]]:
    """Return the parts that a piece is glued from, itself where a sheet holds it; where they join, mm from its left.

    The joins run front to back, between two sitters where one sits on it: sitters are reckoned 500 mm wide, evenly
    over the width. Raises BadInput for a piece deeper than a sheet is wide.
    """
    long_, short = FOAM_SHEET[0] - 2 * KERF, FOAM_SHEET[1] - 2 * KERF
    wide, deep = piece.outline.width, piece.outline.height
    if min(wide, deep) <= short and max(wide, deep) <= long_:
        return (piece.outline,), ()
    if deep > long_ or wide > 6 * long_:
        raise BadInput(
            "foam",
            f"{wide:.0f} x {deep:.0f}",
            "a piece that few joins make",
            words=f"{piece.key}: {wide:.0f} × {deep:.0f} mm of foam is more than joined sheets of 2000 × 1000 mm make "
            f"well; expected it at most {long_:.0f} mm deep.",
        )
    most = long_ if deep <= short else short
    x0, y0, _, y1 = piece.outline.bounds
    at = _joins_at(wide, most, piece.role)
    parts = [piece.outline.polygon]
    for place in at:
        line = LineString([(x0 + place, y0 - 1), (x0 + place, y1 + 1)])
        parts = [part for whole in parts for part in split(whole, line).geoms]
    parts.sort(key=lambda part: part.bounds[0])
    return tuple(_outline_of(part) for part in parts), at


def _joins_at(wide: float, most: float, role: Role) -> tuple[float, ...]:
    """Where a width is joined so that no part is wider than `most`: evenly, or between two sitters."""
    for count in range(math.ceil(wide / most), 40):
        even = [wide * k / count for k in range(1, count)]
        if role not in SAT_ON:
            return tuple(even)
        sitters = max(count, round(wide / SITTER_WIDE))
        between = [wide * k / sitters for k in range(1, sitters)]
        at = sorted({min(between, key=lambda place, e=e: abs(place - e)) for e in even})  # type: ignore[misc]
        if max(b - a for a, b in zip((0.0, *at), (*at, wide), strict=True)) <= most:
            return tuple(at)
    return ()


@lru_cache(maxsize=256)
def off_the_roll(pieces: tuple[tuple[Outline, int], ...], width: float = WADDING_ROLL) -> float:
    """Return the mm of a roll that pieces of this outline and count take, laid in rows across it.

    What is wider than the roll is laid along it, and joined where it is wider both ways: its area then counts.
    """
    fitting = tuple(
        PieceAsk(f"piece {n}", outline, count, QUARTERS)
        for n, (outline, count) in enumerate(pieces)
        if min(outline.width, outline.height) <= width
    )
    too_wide = sum(o.area * count for o, count in pieces if min(o.width, o.height) > width)
    length = laying.easy_lay(LayRequest(Roll(width), 0.0, fitting)).length if fitting else 0.0
    return length + too_wide / width


def left_of_sheets(nest: FoamNest, *, least: float = LEAST_KEPT) -> tuple[tuple[int, Outline], ...]:
    """Return what is left of each panel that something is cut from: its number, and rectangles of at least `least` mm
    both ways, the largest first, none over another, clear of all pieces by the blade.
    """
    found = []
    for number, outline in enumerate(nest.panels.outlines):
        laid = [p.on_cloth(nest.request.by_id[p.piece]).bounds for p in nest.on_panel(number)]
        if laid:
            taken = [(x0 - KERF, y0 - KERF, x1 + KERF, y1 + KERF) for x0, y0, x1, y1 in laid]
            found += [(number, left) for left in free_rectangles(outline, taken, least)]
    return tuple(found)


def foam_cut_sheet(nest: FoamNest, holes: Mapping[str, Sequence[Point]] | None = None) -> CutSheet:
    """Return where every corner of the foam lies on its sheet, largest pieces first; `holes` are a piece's button holes
    in its own frame, marked by a cross.
    """
    marks = {
        key: tuple(line for x, y in at for line in (((x - CROSS, y), (x + CROSS, y)), ((x, y - CROSS), (x, y + CROSS))))
        for key, at in (holes or {}).items()
    }
    return replace(cut_sheet(nest.request, nest.lay, {}, marks), ground="sheet", has_top=False)


Box = tuple[float, float, float, float]


def free_rectangles(outline: Outline, taken: Sequence[Box], least: float) -> list[Outline]:
    """Return rectangles inside an outline that meet none of the boxes, each at least `least` mm wide and high: a large
    one, then a large one of what remains, until none is left; the largest first.

    Where no edge slants and the corners are few, each is the largest there is.
    """
    sheet = outline.polygon.buffer(HAIR)
    shapely.prepare(sheet)
    boxes: list[Box] = [(*np.round(box, ROUNDED).tolist(),) for box in taken]
    found = []
    while (best := _large_free(outline, sheet, boxes, least)) is not None:
        x0, y0, x1, y1 = best
        found.append(rectangle(x1 - x0, y1 - y0).moved(*_middle(best)))
        boxes.append(best)
    return sorted(found, key=lambda one: one.area, reverse=True)


def _large_free(outline: Outline, sheet: BaseGeometry, boxes: Sequence[Box], least: float) -> Box | None:
    """The largest rectangle between lines, or a square where there is none but a square fits; where edges slant it is
    grown as far as it goes.
    """
    best = _largest_between_lines(outline, sheet, boxes, least)
    if not _between(outline):
        return best
    free = outline.polygon.difference(shapely.union_all([box_of(*each) for each in boxes]))
    best = best or _square_free(outline, free, boxes, least)
    return max((_grown(best, free, first=way) for way in "xy"), key=_size) if best else None


def _size(box: Box) -> float:
    return (box[2] - box[0]) * (box[3] - box[1])


def _square_free(outline: Outline, free: BaseGeometry, boxes: Sequence[Box], side: float) -> Box | None:
    """A square that lies free, or None: wherever one fits at all. Its lower left corner may lie on the sheet where no
    edge and no box is, each drawn out by a square to the left and down (Lozano-Pérez, Spatial Planning, 1983).
    """
    drawn_out = np.array([(dx, dy) for dx in (-side, 0.0) for dy in (-side, 0.0)])
    ends = np.array(outline.points)[:, None, :] + drawn_out
    edges = np.concatenate([ends, np.roll(ends, -1, axis=0)], axis=1)  # (edges, 8 corners, 2)
    in_the_way = [*shapely.convex_hull(shapely.multipoints(edges)),
        *(box_of(x0 - side, y0 - side, x1, y1) for x0, y0, x1, y1 in boxes)]  # fmt: skip
    corners = shapely.get_parts(outline.polygon.difference(shapely.union_all(in_the_way)))
    sizes, room = shapely.area(corners), free.buffer(HAIR)
    for at in shapely.point_on_surface(corners[np.argsort(-sizes)][: np.count_nonzero(sizes)]):
        square = (at.x, at.y, at.x + side, at.y + side)
        if room.covers(box_of(*square)):  # what is as thin as a rounding is no place for it
            return square
    return None


def _grown(box: Box, free: BaseGeometry, *, first: str) -> Box:
    """A free rectangle drawn out as far as it goes, both ways along x or along y first."""
    sides = list(box)
    for n in (2, 0, 3, 1) if first == "x" else (3, 1, 2, 0):  # the place of a side in the box
        beside = [x + HAIR if k < 2 else x - HAIR for k, x in enumerate(sides)]
        beside[n], beside[n - 2] = free.bounds[n], sides[n]
        blocked = box_of(*beside).difference(free)
        sides[n] = beside[n] if blocked.is_empty else blocked.bounds[n - 2]
    return sides[0], sides[1], sides[2], sides[3]


def _middle(box: Box) -> Point:
    """By how much a rectangle about the origin is moved to lie there."""
    at = rectangle(box[2] - box[0], box[3] - box[1]).bounds
    return box[0] - at[0], box[1] - at[1]


def _largest_between_lines(outline: Outline, sheet: BaseGeometry, boxes: Sequence[Box], least: float) -> Box | None:
    """The largest rectangle between lines on which an edge of the sheet or of a box lies, or that part a sheet whose
    edges slant; None where all are less.
    """
    x0, y0, x1, y1 = outline.bounds
    shares = _between(outline)
    corners = outline.points if len(outline.points) <= MOST_CORNERS else ()
    across = _lines(x0, x1, shares, [*(x for x, _ in corners), *(x for box in boxes for x in box[::2])])
    up = _lines(y0, y1, shares, [*(y for _, y in corners), *(y for box in boxes for y in box[1::2])])
    left, low = np.meshgrid(across[:-1], up[:-1])
    right, high = np.meshgrid(across[1:], up[1:])
    is_free = shapely.covers(sheet, shapely.box(left, low, right, high))
    for box in boxes:
        is_free &= (right < box[0] + HAIR) | (left > box[2] - HAIR) | (high < box[1] + HAIR) | (low > box[3] - HAIR)
    best, largest = None, 0.0
    for n, bottom in enumerate(up[:-1]):
        between = np.ones(len(across) - 1, dtype=bool)
        for k in range(n, len(up) - 1):
            between &= is_free[k]
            walls = np.flatnonzero(~between)
            begins, ends = across[np.append(0, walls + 1)], across[np.append(walls, len(across) - 1)]
            widest, height = np.argmax(ends - begins), up[k + 1] - bottom
            width = ends[widest] - begins[widest]
            if min(width, height) >= least and width * height > largest:
                best, largest = (begins[widest], bottom, ends[widest], up[k + 1]), width * height
    return best and (float(best[0]), float(best[1]), float(best[2]), float(best[3]))


def _lines(low: float, high: float, shares: Sequence[float], edges: Sequence[float]) -> Floats:
    """Where a sheet is parted, from its one end to the other."""
    return np.unique(
        [low, high, *(low + share * (high - low) for share in shares), *(x for x in edges if low < x < high)]
    )


def _between(outline: Outline) -> tuple[float, ...]:
    """Where a sheet is parted by more lines, as shares of its width and height: nowhere if none of its edges slants and
    its corners are few, the largest rectangle then lies between its own. In a triangle it lies half way (Euclid,
    Elements VI 27).
    """
    ends = [*outline.points, outline.points[0]]
    slants = any(min(abs(a[0] - b[0]), abs(a[1] - b[1])) > HAIR for a, b in pairwise(ends))
    return tuple(n / PARTED for n in range(1, PARTED)) if slants or len(outline.points) > MOST_CORNERS else ()
