"""A lay drawn to scale: cloth, selvages, ruler, pieces with their names and arrows, strips, cross cuts."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

from django.urls import reverse

from zonatome.core.formats.svg_paths import fixed, path_of, view_round
from zonatome.core.lay.pattern.centring import tile_of
from zonatome.core.lay.request import LayRequest, Panels, Repeat
from zonatome.core.lay.table.cut_sheet import CutRow, CutSheet, CuttingTable
from zonatome.core.lay.table.on_a_panel import Affine, turned_on_drawing
from zonatome.core.outline import Outline, turn_of
from zonatome.core.survey.opened_out import OpenedOut
from zonatome.core.units import MM_PER_YARD, Units
from zonatome.web.lay.models import RemnantPhoto

# mm of the drawing kept for the ruler, the ends and the cross cuts' figures
ABOVE = 105.0
BESIDE = 14.0
BELOW = 40.0
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

    @property
    def state_words(self) -> str:
        """The same for who can't see it, after the title."""
        return {"": "", "is-pinned": ", pinned"}.get(self.state, ", wrong here")


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
    photo: str = ""  # the address of the photo of one repeat, where there is one
    cells: tuple[str, ...] = ()  # how that photo is turned and moved, once for each motif of the tile
    photo_width: str = ""
    photo_height: str = ""


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
    grounds: tuple[str, ...] = ()  # panels: the paths of their edges
    # panels: their edges in the tile's frame, and how that is moved to where they lie
    patterned: tuple[tuple[str, str], ...] = ()
    flaws: tuple[str, ...] = ()


def lay_drawing(
    request: LayRequest,
    sheet: CutSheet,
    units: Units,
    states: Mapping[str, str] | None = None,
    *,
    photo: str = "",
) -> LayDrawing:
    """Return a lay's drawing: the squared end at the left, the left selvage at the top. `states` are of pieces under
    the hand.

    `photo` is the address of a photo of one repeat, to draw the cloth with.
    """
    table = sheet.table
    top = table.width + ABOVE
    shown = table.length + (0 if sheet.on_panels else 120)
    selvage = (0.0, 0.0) if sheet.on_panels else request.roll.selvage
    tones = {piece.id: f"tone-{n % TONES}" for n, piece in enumerate(request.pieces)}
    made = [
        _strip(row, top)
        if row.is_strip
        else _piece(row, tones[row.key.rsplit(".", 1)[0]], top, (states or {}).get(row.key, ""))
        for row in sheet.rows
    ]
    return LayDrawing(
        view=f"{fixed(-BESIDE)} 0 {fixed(shown + 2 * BESIDE)} {fixed(table.width + ABOVE + BELOW)}",
        width=fixed(shown + 2 * BESIDE),
        height=fixed(table.width + ABOVE + BELOW),
        cloth_x="0.0",
        cloth_y=fixed(ABOVE),
        cloth_width=fixed(shown),
        cloth_height=fixed(table.width),
        low_selvage=fixed(selvage[0]),
        high_selvage=fixed(selvage[1]),
        low_selvage_y=fixed(top - selvage[0]),
        placements=tuple(made),
        marks=_marks(shown, units),
        mark_size=fixed(46.0),
        cross_cuts=tuple(fixed(c) for c in sheet.cross_cuts[:-1]),
        end=fixed(table.length),
        bottom=fixed(table.width + ABOVE + BELOW),
        tile=_tile(request.repeat, top, photo),
        grounds=tuple(path_of(g.points, top) for g in table.grounds) if sheet.on_panels else (),
        patterned=_patterned(request, table, top),
        flaws=tuple(path_of(f.points, top) for f in table.flaws),
    )


def _strip(row: CutRow, top: float) -> PlacementDrawing:
    """A strip where it lies: it has no name and no arrow of its own."""
    return PlacementDrawing(row.key, row.name, path_of(row.outline.points, top), "tone-strip", (), "0", "0", "", True)


def _piece(row: CutRow, tone: str, top: float, state: str) -> PlacementDrawing:
    """A piece where it lies, its name in its middle, the arrow toward its top below that or beside it."""
    x0, _, x1, _ = row.outline.bounds
    centre = row.outline.polygon.centroid
    words = _label(row.name, x1 - x0, row.outline.height)
    x, y = centre.x + words.aside, top - centre.y
    first = y - words.size * 0.55 * (len(words.lines) - (1 if words.aside else 0))
    long = min(90.0, (x1 - x0) * 0.3)
    arrow_x = x0 + long * 0.8 if words.aside else x
    arrow_y = y if words.aside else y + words.size * (0.55 * len(words.lines) + 0.35)
    return PlacementDrawing(
        key=row.key,
        title=row.name,
        path=path_of(row.outline.points, top),
        tone=tone,
        lines=tuple((line, fixed(first + n * words.size * 1.1)) for n, line in enumerate(words.lines)),
        x=fixed(x),
        size=fixed(words.size),
        arrow=_arrow(arrow_x, arrow_y, long, row.turn_degrees),
        is_strip=False,
        marks="".join(path_of(line, top, closed=False) for line in row.marks),
        state=state,
    )


def _patterned(request: LayRequest, table: CuttingTable, top: float) -> tuple[tuple[str, str], ...]:
    """Each panel's edge where the first one's motif is in step with its own, and the way from there to where it lies
    on the table.
    """
    if not isinstance(request.cloth, Panels) or not request.cloth.repeats:
        return ()
    first, found = request.cloth.repeats[0].origin, []
    for outline, repeat, shift in zip(request.cloth.outlines, request.cloth.repeats, table.shifts, strict=True):
        dx, dy = first[0] - repeat.origin[0], first[1] - repeat.origin[1]
        path = path_of(outline.moved(dx, dy).points, top)
        found.append((path, f"translate({fixed(shift[0] - dx)} {fixed(dy - shift[1])})"))
    return tuple(found)


def _tile(repeat: Repeat | None, top: float, photo: str) -> TileDrawing | None:
    """The pattern's tile, y down from the drawing's upper edge."""
    if repeat is None:
        return None
    tile = tile_of(repeat)
    path = "".join(path_of(figure, tile.height) for figure in tile.figures)
    box = (fixed(tile.x), fixed(top - tile.y - tile.height), fixed(tile.width), fixed(tile.height))
    if not photo:
        return TileDrawing(*box, path)
    along, across = tile.width, tile.height / (2 if repeat.drop else 1)
    spots = [(0.0, tile.height - across)]  # a motif's cell in the tile, from its left and upper corner
    if repeat.drop:
        spots += [((repeat.drop % 1 + k) * along, 0.0) for k in (-1, 0)]
    # its top, up in the photo, is toward the end
    cells = tuple(f"translate({fixed(x)} {fixed(y + across)}) rotate(-90)" for x, y in spots)
    return TileDrawing(*box, path, photo, cells, fixed(across), fixed(along))


@dataclass(frozen=True)
class SeenPanel:
    """A panel of the opened-out drawing with its cloth in place: its edge, how the tile lies in it, an arrow up the
    roll.
    """

    key: str
    name: str
    path: str
    pattern: str
    arrow: str
    tone: str
    label_x: str
    label_y: str


@dataclass(frozen=True)
class SeenDrawing:
    """The opened-out drawing with the cloth in place."""

    view: str
    size: str
    panels: tuple[SeenPanel, ...]
    tile: TileDrawing | None


def seen_drawing(
    opened: OpenedOut,
    names: Mapping[str, str],
    laid: Mapping[str, tuple[Affine, str]],
    repeat: Repeat | None,
    photo: str,
) -> SeenDrawing:
    """Return the opened-out drawing with the cloth on each panel as the lay puts it there.

    `laid` gives of each panel how the cloth's frame lies on it about its middle, and its tone; the others are drawn
    bare.
    """
    x0, y0, x1, y1 = opened.bounds
    edge = (x1 - x0) * 0.02 + 6
    made = []
    for part in opened.parts:
        mx, my = part.middle
        path = path_of(part.points, y1)
        if part.key not in laid:
            made.append(
                SeenPanel(part.key, names.get(part.key, part.key), path, "", "", "bare", fixed(mx), fixed(y1 - my))
            )
            continue
        affine, tone = laid[part.key]
        a, b, c, d, e, f = turned_on_drawing(affine, part.turn)
        # the tile is drawn y down with its upper edge at y = 0: cloth (x, -v) goes to the page (X + mx, y1 - my - Y)
        matrix = (a, -b, -c, d, e + mx, y1 - my - f)
        up = (-a, -b)  # toward the squared end
        long = min(part.width, part.height) * (0.14 if repeat else 0.22)
        ax, ay = (mx + part.width * 0.3, my - part.height * 0.28) if repeat and part.width > 3.4 * long else (mx, my)
        tail, tip = (ax - up[0] * long, ay - up[1] * long), (ax + up[0] * long, ay + up[1] * long)
        wing = long * 0.45
        barbs = [
            (tip[0] - (up[0] - s * up[1]) * wing * 0.7, tip[1] - (up[1] + s * up[0]) * wing * 0.7) for s in (1, -1)
        ]
        arrow = path_of((tail, tip), y1, closed=False) + path_of((barbs[0], tip, barbs[1]), y1, closed=False)
        pattern = "matrix(" + " ".join(fixed(v, 4) for v in matrix) + ")"
        made.append(
            SeenPanel(part.key, names.get(part.key, part.key), path, pattern, arrow, tone, fixed(mx), fixed(y1 - my))
        )
    view = view_round((x0, y0, x1, y1), edge)
    return SeenDrawing(view, fixed(0.022 * (x1 - x0 + y1 - y0)), tuple(made), _tile(repeat, 0.0, photo))


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
    choices = [
        _Words(lines, min(wide * 0.88 / _ems(lines), high * 0.74 / (1.1 * len(lines) + 1.0)), 0.0) for lines in stacked
    ]
    choices.append(_Words((plain,), min(wide * 0.56 / _ems((plain,)), high * 0.6), wide * 0.14))
    best = max(choices, key=lambda w: (round(min(MOST_TEXT, w.size), 1), -w.aside, -len(w.lines)))
    return _Words(best.lines, min(MOST_TEXT, best.size), best.aside)


def _ems(lines: tuple[str, ...]) -> float:
    return max(len(line) for line in lines) * 0.54


def _arrow(x: float, y: float, long: float, turn_degrees: float) -> str:
    """An arrow toward the piece's top: turn 0 points to the squared end, which lies at the left."""
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


@dataclass(frozen=True)
class ClothDrawing:
    """A piece of cloth to scale, to mark flaws on: its edge, what is marked, the ruler over it; the top of the way up
    is at the left.
    """

    view: str
    path: str
    flaws: tuple[str, ...]
    marks: tuple[Mark, ...]
    mark_size: str
    edge: str
    width: float
    height: float
    laid: tuple[str, ...] = ()  # what lies there now
    photo: PhotoUnder | None = None
    tile: TileDrawing | None = None


@dataclass(frozen=True)
class PhotoUnder:
    """A photo that lies under a drawing: its address and size, and how it is turned and moved there."""

    address: str
    width: int
    height: int
    transform: str


def cloth_drawing(
    outline: Outline,
    flaws: tuple[Outline, ...],
    units: Units,
    laid: Iterable[Outline] = (),
    photo: RemnantPhoto | None = None,
    *,
    repeat: Repeat | None = None,
    tile_photo: str = "",
) -> ClothDrawing:
    """Return the drawing of a piece of cloth, its left end at x = 0 and its upper edge at y = ABOVE; `laid` lies on it
    faintly.

    `repeat` is the cloth's where its motif stands on this piece, drawn with the photo at `tile_photo` where there is
    one.
    """
    x0, y0, x1, y1 = outline.bounds
    top, wide, high = y1 + ABOVE, x1 - x0, y1 - y0
    return ClothDrawing(
        view=f"{fixed(-BESIDE)} 0 {fixed(wide + 2 * BESIDE)} {fixed(high + ABOVE + BESIDE)}",
        path=path_of(outline.moved(-x0, 0).points, top),
        flaws=tuple(path_of(f.moved(-x0, 0).points, top) for f in flaws),
        marks=_marks(wide, units),
        mark_size=fixed(46.0),
        edge=fixed(ABOVE),
        width=wide,
        height=high,
        laid=tuple(path_of(o.moved(-x0, 0).points, top) for o in laid),
        photo=_under(photo, x0, top) if photo else None,
        tile=_tile(replace(repeat, origin=(repeat.origin[0] - x0, repeat.origin[1])), top, tile_photo)
        if repeat
        else None,
    )


def _under(photo: RemnantPhoto, x0: float, top: float) -> PhotoUnder:
    """A photo where its piece is drawn."""
    (x, y), (right_x, right_y), (down_x, down_y) = (photo.spot(*at) for at in ((0, 0), (1, 0), (0, 1)))
    parts = (right_x - x, y - right_y, down_x - x, y - down_y, x - x0, top - y)
    transform = f"matrix({' '.join(f'{part:.6f}' for part in parts)})"
    return PhotoUnder(reverse("store:flat", args=[photo.remnant_id]), photo.width, photo.height, transform)
