"""A lay drawn to scale: cloth, selvages, ruler, pieces with their names and arrows, strips, cross cuts."""

from __future__ import annotations

from dataclasses import dataclass

from zonatome.core.formats.svg_paths import fixed, path_of
from zonatome.core.lay.cutting import CutSheet
from zonatome.core.lay.request import Lay, LayRequest
from zonatome.core.units import MM_PER_YARD, Units

ABOVE, BESIDE, BELOW = 105.0, 14.0, 40.0  # mm of the drawing kept for the ruler, the ends and the cross cuts' figures
TONES = 6


@dataclass(frozen=True)
class PlacementDrawing:
    """One piece or strip: its path, its name over at most two lines, its arrow toward the top."""

    key: str
    title: str
    path: str
    tone: str
    lines: tuple[tuple[str, str], ...]
    x: str
    size: str
    arrow: str
    is_strip: bool


@dataclass(frozen=True)
class Mark:
    """A mark of the ruler: where, how far down it reaches, its figure."""

    x: str
    y: str
    words: str


@dataclass(frozen=True)
class LayDrawing:
    """The whole drawing; `height` over `width` is its proportion."""

    view: str
    width: str
    height: str
    cloth_x: str
    cloth_y: str
    cloth_width: str
    cloth_height: str
    low_selvage: str
    high_selvage: str
    low_selvage_y: str
    placements: tuple[PlacementDrawing, ...]
    marks: tuple[Mark, ...]
    mark_size: str
    cross_cuts: tuple[str, ...]
    end: str
    bottom: str


def lay_drawing(request: LayRequest, lay: Lay, sheet: CutSheet, names: dict[str, str], units: Units) -> LayDrawing:
    """Return a lay's drawing: the squared end at the left, the left selvage at the top."""
    order = [p.id for p in request.pieces]
    top = request.roll.width + ABOVE
    shown = lay.length + 120
    made = []
    for row in sheet.rows:
        piece = row.key.rsplit(".", 1)[0]
        tone = "strip" if row.is_strip else f"tone-{order.index(piece) % TONES}"
        x0, y0, x1, y1 = row.outline.bounds
        lines, size = ((), 0.0) if row.is_strip else _label(row.name, x1 - x0, y1 - y0)
        centre = row.outline.polygon.centroid
        first = top - centre.y - size * (0.55 * (len(lines) - 1) + 0.35)
        placed = tuple((line, fixed(first + n * size * 1.1)) for n, line in enumerate(lines))
        arrow = "" if row.is_strip else _arrow(centre.x, top - centre.y + size * (0.55 * len(lines) + 0.7), min(90.0, (x1 - x0) * 0.3), row.turn_degrees)
        made.append(PlacementDrawing(row.key, row.name, path_of(row.outline.points, top), tone, placed, fixed(centre.x), fixed(size), arrow, row.is_strip))
    return LayDrawing(
        view=f"{fixed(-BESIDE)} 0 {fixed(shown + 2 * BESIDE)} {fixed(request.roll.width + ABOVE + BELOW)}",
        width=fixed(shown + 2 * BESIDE),
        height=fixed(request.roll.width + ABOVE + BELOW),
        cloth_x="0.0",
        cloth_y=fixed(ABOVE),
        cloth_width=fixed(shown),
        cloth_height=fixed(request.roll.width),
        low_selvage=fixed(request.roll.selvage[0]),
        high_selvage=fixed(request.roll.selvage[1]),
        low_selvage_y=fixed(top - request.roll.selvage[0]),
        placements=tuple(made),
        marks=_marks(shown, units),
        mark_size=fixed(46.0),
        cross_cuts=tuple(fixed(c) for c in sheet.cross_cuts[:-1]),
        end=fixed(lay.length),
        bottom=fixed(request.roll.width + ABOVE + BELOW),
    )


def _label(name: str, wide: float, high: float) -> tuple[tuple[str, ...], float]:
    """The name on one line or two, whichever is larger, and its size."""
    words = name.replace(", ", " ").split()
    half = (len(words)) // 2
    splits = [(name.replace(", ", " "),)] + [(" ".join(words[:k]), " ".join(words[k:])) for k in range(1, len(words))]

    def size(lines: tuple[str, ...]) -> float:
        return min(58.0, wide * 0.88 / max(len(line) for line in lines) / 0.54, high * 0.62 / (1.2 * len(lines) + 0.6))

    best = max(splits, key=lambda lines: (round(size(lines), 1), -len(lines), -abs(len(lines[0].split()) - half)))
    return best, size(best)


def _arrow(x: float, y: float, long: float, turn_degrees: float) -> str:
    """An arrow toward the piece's top: turn 0 points to the squared end, which lies at the left."""
    from zonatome.core.outline import turn_of

    c, s = turn_of(turn_degrees)

    def at(along: float, side: float) -> tuple[float, float]:
        dx, dy = -along, side
        return (x + c * dx - s * dy, -y + s * dx + c * dy)

    shaft = path_of([at(-long / 2, 0), at(long / 2, 0)], 0, closed=False)
    return shaft + path_of([at(long / 2 - 22, 15), at(long / 2, 0), at(long / 2 - 22, -15)], 0, closed=False)


def _marks(shown: float, units: Units) -> tuple[Mark, ...]:
    step, whole, name = (100.0, 10, "m") if units == "metric" else (MM_PER_YARD / 4, 4, "yd")
    half = whole // 2
    marks = []
    for k in range(int(shown // step) + 1):
        words = f"{k // whole} {name}" if k % whole == 0 else ""
        reach = 40.0 if words else 26.0 if k % half == 0 else 16.0
        marks.append(Mark(fixed(k * step), fixed(ABOVE - reach), words))
    return tuple(marks)
