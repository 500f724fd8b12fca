"""A lay drawn to scale: cloth, selvages, ruler, pieces with their names and arrows, strips, cross cuts."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from zonatome.core.formats.svg_paths import fixed, path_of
from zonatome.core.lay.cutting import CutSheet
from zonatome.core.lay.motif import tile_of
from zonatome.core.lay.request import Lay, LayRequest
from zonatome.core.units import MM_PER_YARD, Units

ABOVE, BESIDE, BELOW = 105.0, 14.0, 40.0  # mm of the drawing kept for the ruler, the ends and the cross cuts' figures
TONES = 6
MOST_TEXT = 56.0  # mm


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
    marks: str = ""
    state: str = ""  # is-pinned or is-wrong, by hand


@dataclass(frozen=True)
class Mark:
    """A mark of the ruler: where, how far down it reaches, its figure."""

    x: str
    y: str
    words: str


@dataclass(frozen=True)
class TileDrawing:
    """One tile of the cloth's pattern: its place and size, and its figures as one path."""

    x: str
    y: str
    width: str
    height: str
    path: str


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
    tile: TileDrawing | None = None


def lay_drawing(
    request: LayRequest, lay: Lay, sheet: CutSheet, names: dict[str, str], units: Units, states: Mapping[str, str] | None = None
) -> LayDrawing:
    """Return a lay's drawing: the squared end at the left, the left selvage at the top. `states` are of pieces under the hand."""
    order = [p.id for p in request.pieces]
    top = request.roll.width + ABOVE
    shown = lay.length + 120
    made = []
    for row in sheet.rows:
        piece = row.key.rsplit(".", 1)[0]
        tone = "tone-strip" if row.is_strip else f"tone-{order.index(piece) % TONES}"
        x0, y0, x1, y1 = row.outline.bounds
        path = path_of(row.outline.points, top)
        if row.is_strip:
            made.append(PlacementDrawing(row.key, row.name, path, tone, (), "0", "0", "", True))
            continue
        centre = row.outline.polygon.centroid
        words = _label(row.name, x1 - x0, y1 - y0)
        x, y = centre.x + words.aside, top - centre.y
        first = y - words.size * 0.55 * (len(words.lines) - (1 if words.aside else 0))
        placed = tuple((line, fixed(first + n * words.size * 1.1)) for n, line in enumerate(words.lines))
        long = min(90.0, (x1 - x0) * 0.3)
        arrow_at = (x0 + long * 0.8, y) if words.aside else (x, y + words.size * (0.55 * len(words.lines) + 0.35))
        arrow = _arrow(*arrow_at, long, row.turn_degrees)
        marks = "".join(path_of(line, top, closed=False) for line in row.marks)
        made.append(
            PlacementDrawing(
                row.key, row.name, path, tone, placed, fixed(x), fixed(words.size), arrow, False, marks, (states or {}).get(row.key, "")
            )
        )
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
        tile=_tile(request, top),
    )


def _tile(request: LayRequest, top: float) -> TileDrawing | None:
    """The pattern's tile, y down from the drawing's upper edge."""
    if request.repeat is None:
        return None
    tile = tile_of(request.repeat)
    path = "".join(path_of(figure, tile.height) for figure in tile.figures)
    return TileDrawing(fixed(tile.x), fixed(top - tile.y - tile.height), fixed(tile.width), fixed(tile.height), path)


@dataclass(frozen=True)
class _Words:
    """A piece's name on its lines, their size, and how far it stands aside for the arrow on a slim piece."""

    lines: tuple[str, ...]
    size: float
    aside: float


def _label(name: str, wide: float, high: float) -> _Words:
    """The name on one line or two with the arrow under it, or on one line beside the arrow, whichever is larger."""
    plain = name.replace(", ", " ")
    words = plain.split()
    stacked = [(plain,)] + [(" ".join(words[:k]), " ".join(words[k:])) for k in range(1, len(words))]
    choices = [_Words(lines, min(wide * 0.88 / _ems(lines), high * 0.74 / (1.1 * len(lines) + 1.0)), 0.0) for lines in stacked]
    choices.append(_Words((plain,), min(wide * 0.56 / _ems((plain,)), high * 0.6), wide * 0.14))
    best = max(choices, key=lambda w: (round(min(MOST_TEXT, w.size), 1), -w.aside, -len(w.lines)))
    return _Words(best.lines, min(MOST_TEXT, best.size), best.aside)


def _ems(lines: tuple[str, ...]) -> float:
    return max(len(line) for line in lines) * 0.54


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
