"""A pad as it is drawn: cut through its middle, and from above; lengths on paper, ready for a template."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass

from zonatome.core.formats.svg_paths import fixed
from zonatome.core.outline import Outline, Point
from zonatome.core.pad.grids import LEAST_APART
from zonatome.core.pad.nest import FoamNest, left_of_sheets
from zonatome.core.pad.section import Section
from zonatome.core.pad.spans import Sinuous, Strap, Webbing
from zonatome.core.pad.worked import Worked
from zonatome.core.survey.restyle import NARROWEST_CHANNEL
from zonatome.core.units import Units, format_length, format_size

SECTION_WIDE, SECTION_HIGH = 470.0, 250.0  # on paper, without its words
LEFT, RIGHT, ABOVE, BELOW = 190.0, 120.0, 26.0, 34.0
SQUARES: dict[Units, float] = {"metric": 50.0, "imperial": 50.8}  # mm: squares behind the section
BETWEEN_NAMES = 19.0  # on paper, from one name to the next
PLAN = 330.0  # on paper, the longer side
SHEET = 210.0
LOOP = 14.0  # mm from one bend of a sinuous spring to the next

Place = Callable[[Point], Point]  # from the furniture to the paper


@dataclass(frozen=True)
class Line:
    """A line or a closed path on paper, what it is; the number of its layer and how many mm thick that is; where a
    channel's line stands.
    """

    kind: str
    path: str
    place: int = -1
    mm: str = ""
    at: str = ""


@dataclass(frozen=True)
class Name:
    """A layer's name beside the section, with the line that leads to it."""

    place: int
    words: str
    x: str
    y: str
    leads: str


@dataclass(frozen=True)
class SectionDrawing:
    """The section on paper."""

    width: str
    height: str
    squares: str
    lines: tuple[Line, ...]
    names: tuple[Name, ...]
    rise_x: str
    rise_top: str
    rise_low: str
    rise_middle: str
    rise_words: str
    square: float
    scale: str


def section_drawing(section: Section, pad: float, units: Units) -> SectionDrawing:
    """Return the section to one scale both ways; `pad` is what it measures under the cover, mm."""
    low, high = -max(section.thickness, 8.0), max(section.top, 20.0)
    reach = max(section.half, *(abs(x) for x, _ in section.cover), *(abs(x) for x, _ in section.at_rest))
    scale = min(SECTION_WIDE / (2 * reach), SECTION_HIGH / (high - low), 2.2)
    wide, tall = LEFT + 2 * reach * scale + RIGHT, ABOVE + (high - low) * scale + BELOW

    def at(point: Point) -> Point:
        return LEFT + (point[0] + reach) * scale, ABOVE + (high - point[1]) * scale

    lines = [Line("wood", _closed(map(at, wood))) for wood in _wood(section)]
    for band in sorted(section.bands, key=lambda band: band.layer.made.group == "roll"):
        thick = fixed(band.layer.thickness)
        if band.layer.sort == "sinuous":
            lines.append(Line("zigzag", _open(map(at, _zigzag(band.points))), band.place, thick))
        elif band.layer.sort == "coil":
            lines += [Line("zigzag", _open(map(at, coil)), band.place, thick) for coil in _coils(band.points)]
        else:
            lines.append(Line(band.layer.made.group, _closed(map(at, band.points)), band.place, thick))
    lines.append(Line("cover", _open(map(at, section.cover))))
    others = {"rest": section.at_rest, "was": section.old, "sat": section.sat_on}
    lines += [Line(kind, _open(map(at, line))) for kind, line in others.items() if line]
    top = max(y for _, y in section.cover)
    x = at((reach, 0))[0] + 26
    return SectionDrawing(
        fixed(wide),
        fixed(tall),
        _squares(wide - RIGHT + 8, tall, SQUARES[units] * scale, at((0, 0))),
        tuple(lines),
        _names(section, at, units),
        fixed(x),
        fixed(at((0, top))[1]),
        fixed(at((0, 0))[1]),
        fixed((at((0, top))[1] + at((0, 0))[1]) / 2),
        format_length(pad, units, "small"),
        SQUARES[units],
        fixed(scale, 4),
    )


def _wood(section: Section) -> list[list[Point]]:
    half, low = section.half, -max(section.thickness, 4.0)
    if not section.thickness:
        return []
    if not section.rail:
        return [[(-half, 0), (half, 0), (half, low), (-half, low)]]
    rail = section.rail
    return [[(s * half, 0), (s * (half - rail), 0), (s * (half - rail), low), (s * half, low)] for s in (-1, 1)]


def _names(section: Section, at: Place, units: Units) -> tuple[Name, ...]:
    """The layers' names from top to bottom, none over another, each led to its layer's left end."""
    rows = []
    first = {band.place: band for band in reversed(section.bands)}  # discs beside each other have one name
    for band in first.values():
        thick = format_length(band.layer.thickness, units, "small")
        x, y = at(min(band.points, key=lambda p: (round(p[0]), abs(p[1] - band.middle))))
        rows.append((band, f"{band.layer.name} {thick}", x, y))
    rows.sort(key=lambda row: row[3])
    heights = _spread([y for *_, y in rows])
    return tuple(
        Name(band.place, words, fixed(LEFT - 34), fixed(height + 4), _open([(LEFT - 30, height), (x + 3, y)]))
        for (band, words, x, y), height in zip(rows, heights, strict=True)
    )


def _spread(wished: list[float]) -> list[float]:
    """Heights as near as may be to those wished, each at least so far below the one before."""
    found: list[float] = []
    for y in wished:
        found.append(max(y, found[-1] + BETWEEN_NAMES) if found else max(14.0, y))
    over = found[-1] - wished[-1] if found else 0.0
    up = min(over / 2, found[0] - 14.0) if found else 0.0
    return [y - up for y in found]


def _squares(wide: float, tall: float, step: float, zero: Point) -> str:
    steps = []
    x = zero[0] % step
    while x < wide:
        if x > LEFT - 24:
            steps.append(f"M{fixed(x)} 8V{fixed(tall - 8)}")
        x += step
    y = zero[1] % step
    while y < tall - 8:
        if y > 8:
            steps.append(f"M{fixed(LEFT - 24)} {fixed(y)}H{fixed(wide)}")
        y += step
    return "".join(steps)


def _zigzag(points: tuple[Point, ...]) -> list[Point]:
    """Sinuous springs seen from the side: bends from the spring's line to a little below it."""
    over = points[len(points) // 2 :][::-1]
    left, right = over[0][0], over[-1][0]
    count = max(6, int((right - left) / LOOP))
    found = []
    for k in range(count + 1):
        x = left + (right - left) * k / count
        y = _on(over, x)
        found.append((x, y if k % 2 else y - 9))
    return found


def _coils(points: tuple[Point, ...]) -> list[list[Point]]:
    over = points[len(points) // 2 :][::-1]
    left, right = over[0][0], over[-1][0]
    count = max(2, min(5, int((right - left) / 130)))
    coils = []
    for k in range(count):
        x = left + (right - left) * (k + 0.5) / count
        top = _on(over, x)
        coils.append([(x + (38 if n % 2 else -38) * (0.7 + 0.3 * abs(n - 4) / 4), top * n / 8) for n in range(9)])
    return coils


def _on(line: Iterable[Point], x: float) -> float:
    before: Point | None = None
    for point in line:
        if before is not None and before[0] <= x <= point[0]:
            wide = point[0] - before[0]
            return before[1] if not wide else before[1] + (point[1] - before[1]) * (x - before[0]) / wide
        before = point
    return before[1] if before else 0.0


@dataclass(frozen=True)
class FlatCut:
    """The outline of what is cut flat: foam or wadding, and the place of its layer."""

    kind: str
    outline: Outline
    place: int


@dataclass(frozen=True)
class PlanDrawing:
    """The pad from above on paper; how far buttons stand apart, and may at the least, in mm; the same of channels, and
    between which sides of the paper they lie.
    """

    width: str
    height: str
    lines: tuple[Line, ...]
    dots: tuple[dict[str, str], ...]
    numbers: tuple[dict[str, str], ...]
    across: str
    down: str
    least: str
    channels: dict[str, str]


def plan_drawing(done: Worked, *, joins: Iterable[tuple[Point, Point]] = ()) -> PlanDrawing:
    """Return the frame from above with what hangs in its opening, the foam's outline and joins, channels and buttons,
    front below.
    """
    outlines = [done.frame.outline, *(cut.outline for cut in _flat(done))]
    x0, y0 = min(o.bounds[0] for o in outlines), min(o.bounds[1] for o in outlines)
    x1, y1 = max(o.bounds[2] for o in outlines), max(o.bounds[3] for o in outlines)
    scale = PLAN / max(x1 - x0, y1 - y0)
    margin = 22.0

    def at(point: Point) -> Point:
        return margin + (point[0] - x0) * scale, margin + (y1 - point[1]) * scale

    dots, numbers = _dots(done, at, scale)
    return PlanDrawing(
        fixed((x1 - x0) * scale + 2 * margin),
        fixed((y1 - y0) * scale + 2 * margin),
        tuple(_lines_above(done, at, joins)),
        tuple(dots),
        tuple(numbers),
        fixed(done.buttons.across if done.buttons else 0.0),
        fixed(done.buttons.down if done.buttons else 0.0),
        fixed(LEAST_APART),
        _channels(done, at),
    )


def _channels(done: Worked, at: Place) -> dict[str, str]:
    if done.channels is None or done.stack.channels is None:
        return {}
    x0, y0, x1, y1 = done.frame.outline.bounds
    (left, low), (right, high) = at((x0, y0)), at((x1, y1))
    way, ends = ("upright", (left, right)) if done.stack.channels.upright else ("across", (low, high))
    begins, last = map(fixed, ends)
    apart, least = fixed(done.stack.channels.apart), fixed(NARROWEST_CHANNEL)
    return {"way": way, "begins": begins, "ends": last, "apart": apart, "least": least}


def _flat(done: Worked) -> list[FlatCut]:
    """The foam and the wadding that hangs over a pad's sides; round a cushion that is a wrap, which no plan shows."""
    shown = ("foam", "wadding") if done.frame.thickness else ("foam",)
    if done.frame.length:
        return [FlatCut("foam", c.outline, c.place) for c in done.cuts[:1] if c.outline is not None]
    return [
        FlatCut(c.made.group, c.outline, c.place)
        for c in done.cuts
        if c.made.group in shown and c.outline is not None and not (c.layer.kept and c.made.group == "wadding")
    ]


def _lines_above(done: Worked, at: Place, joins: Iterable[tuple[Point, Point]]) -> Iterator[Line]:
    """The frame, what hangs in it, the foam's edge and joins, channels, the folds between buttons."""

    def closed(outline: Outline) -> str:
        return _closed(map(at, outline.points))

    frame = closed(done.frame.outline)
    kind = "wood" if done.frame.thickness else "finished"
    yield Line(kind, frame if done.frame.is_board else frame + closed(done.frame.opening))
    if done.webbed is not None:
        yield from _woven(done.webbed, at)
    if done.sinuous is not None:
        yield from (Line("tie", _open(map(at, tie))) for tie in done.sinuous.ties)
        yield from (Line("zigzag", _open(map(at, _bends(spring)))) for spring in done.sinuous.springs)
    if done.coils is not None:
        yield from (Line("twine", _open(map(at, row))) for row in done.coils.rows)
    yield from (Line(f"edge-{cut.kind}", closed(cut.outline), cut.place) for cut in _flat(done))
    for line in joins:
        yield Line("join", _open(map(at, line)))
    if done.channels is not None:
        for line in done.channels.lines:
            is_upright = done.stack.channels is not None and done.stack.channels.upright
            x, y = at(line[0])
            yield Line("channel", _open(map(at, line)), at=fixed(x if is_upright else y))
    if done.buttons is not None:
        yield from (Line("crease", _open(map(at, fold))) for fold in done.buttons.folds)


def _dots(done: Worked, at: Place, scale: float) -> tuple[list[dict[str, str]], list[dict[str, str]]]:
    """Clips, coils and buttons; and the springs' numbers."""
    dots: list[tuple[Point, float, str]] = []
    springs = done.sinuous.springs if done.sinuous else ()
    if done.coils is not None:
        dots += [(point, done.coils.wide / 2, "coil") for point in done.coils.at]
    for spring in springs:
        dots += [(end, 5 / scale, "clip") for end in (spring.from_, spring.to)]
    if done.buttons is not None:
        dots += [(point, done.buttons.hole / 2, "button") for point in done.buttons.at]
    numbers = [{"words": str(s.number), "x": fixed(at(s.to)[0]), "y": fixed(at(s.to)[1] - 9)} for s in springs]
    return [
        {"x": fixed(at(p)[0]), "y": fixed(at(p)[1]), "r": fixed(max(2.5, r * scale)), "kind": kind}
        for p, r, kind in dots
    ], numbers


def _woven(webbed: Webbing, at: Place) -> list[Line]:
    """The straps: those across first, those front to back over them, then each crossing where the first lie over."""

    def strap(s: Strap, begins: float, ends: float, kind: str) -> Line:
        half = webbed.wide / 2
        box = [(s.at - half, begins), (s.at + half, begins), (s.at + half, ends), (s.at - half, ends)]
        points = box if s.way == "deep" else [(y, x) for x, y in box]
        return Line(kind, _closed(map(at, points)))

    across, deep = webbed.of("across"), webbed.of("deep")
    found = [strap(s, s.begins - 20, s.ends + 20, "strap") for s in (*across, *deep)]
    half = webbed.wide / 2
    for a in across:
        for d in deep:
            meets = a.begins < d.at < a.ends and d.begins < a.at < d.ends
            if meets and a.is_over(d):
                found.append(strap(a, d.at - half - 3, d.at + half + 3, "strap"))
    return found


def _bends(spring: Sinuous) -> list[Point]:
    """A sinuous spring from above."""
    (ax, ay), (bx, by) = spring.from_, spring.to
    length = max(1.0, spring.span)
    u, v = ((bx - ax) / length, (by - ay) / length), (-(by - ay) / length, (bx - ax) / length)
    count = max(8, int(length / 22))
    found = [spring.from_]
    for k in range(1, count):
        side = 14 if k % 2 else -14
        along = length * k / count
        found.append((ax + u[0] * along + v[0] * side, ay + u[1] * along + v[1] * side))
    return [*found, spring.to]


@dataclass(frozen=True)
class SheetDrawing:
    """A sheet or an offcut of foam with what is cut from it, on paper."""

    words: str
    width: str
    height: str
    outline: str
    pieces: tuple[dict[str, str], ...]


def nest_drawing(nest: FoamNest, units: Units) -> list[SheetDrawing]:
    """Return each offcut and sheet of a nest that something is cut from, with what is left of it in words."""
    found = []
    left_of: dict[int, list[str]] = {}
    for number, left in left_of_sheets(nest):
        left_of.setdefault(number, []).append(format_size(left.width, left.height, units))
    store, names = len(nest.offcuts), [piece.id for piece in nest.request.pieces]
    for number, outline in enumerate(nest.panels.outlines):
        placed = nest.on_panel(number)
        if not placed:
            continue
        x0, y0, x1, y1 = outline.bounds
        scale = SHEET / 2000.0

        def at(point: Point, corner: Point = (x0, y1), by: float = scale) -> Point:
            return (point[0] - corner[0]) * by + 2, (corner[1] - point[1]) * by + 2

        pieces = []
        for placement in placed:
            lying = placement.on_cloth(nest.request.by_id[placement.piece])
            middle = lying.polygon.representative_point()
            x, y = at((middle.x, middle.y))
            number_words = str(names.index(placement.piece) + 1)
            pieces.append(
                {"path": _closed(map(at, lying.points)), "words": number_words, "x": fixed(x), "y": fixed(y + 4)}
            )
        is_offcut = number < len(nest.panels.outlines) - nest.sheets and store
        found.append(
            SheetDrawing(
                ("from the store" if is_offcut else "a sheet")
                + (f"; left {' and '.join(left_of[number][:2])}" if number in left_of else ""),
                fixed((x1 - x0) * scale + 4),
                fixed((y1 - y0) * scale + 4),
                _closed(map(at, outline.points)),
                tuple(pieces),
            )
        )
    return found


def _closed(points: Iterable[Point]) -> str:
    return _open(points) + "Z"


def _open(points: Iterable[Point]) -> str:
    found = [f"{fixed(x)} {fixed(y)}" for x, y in points if math.isfinite(x) and math.isfinite(y)]
    return "M" + "L".join(found)
