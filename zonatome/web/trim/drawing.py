"""The lines of a cover's trim on its opened-out drawing; the nails of a line."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

from shapely.geometry import LineString
from shapely.geometry import Point as ShapelyPoint

from zonatome.core.fasten.relief import legs_of
from zonatome.core.formats.svg_paths import bounds_of, fixed, path_of, view_round
from zonatome.core.outline import Outline, Point, rectangle
from zonatome.core.survey.kind import side_of_edge
from zonatome.core.trace.by_tape import disc_shape
from zonatome.core.trim.bottom import BottomCloth, CutRound
from zonatome.core.trim.lines import ExposedLine
from zonatome.core.trim.nails import Nails, on_the_line
from zonatome.core.trim.skirt import SEAM, Skirt
from zonatome.web.jobs.drawing import opened_out_of
from zonatome.web.jobs.models import Job
from zonatome.web.trim.services import Bottom

CHORDS = 120  # of a circle as it is drawn
UPRIGHT = 3.0  # times as high as long: a skirt's strip is drawn so, or its pleats would hardly show
LEG = 40.0  # mm: as wide as a leg is drawn


@dataclass(frozen=True)
class TrimDrawing:
    """The opened-out cover: its panels, each line that takes trim with whether it is on the list, their names."""

    view: str
    panels: tuple[str, ...]
    lines: tuple[tuple[str, bool, str], ...]
    words: tuple[tuple[str, str, str], ...]
    size: str


def trim_drawing(job: Job, offered: Sequence[ExposedLine], listed: set[str]) -> TrimDrawing | None:
    """Return the drawing; None where no line is offered."""
    if not offered:
        return None
    drawn = opened_out_of(job)
    x0, y0, x1, y1 = drawn.bounds
    sides = {part.key: part for part in drawn.parts}
    lines = []
    for line in offered:
        part = sides.get(line.key)
        if part is None:
            continue
        for edge in line.edges:
            along = list(part.points) if edge == "round" else list(part.sides[side_of_edge(edge)])
            lines.append((path_of(along, y1, closed=edge == "round"), line.key in listed, line.name))
    size = max(x1 - x0, y1 - y0)
    edge_, with_lines = size * 0.03, {line.key for line in offered}
    return TrimDrawing(
        view_round((x0, y0, x1, y1), edge_),
        tuple(path_of(part.points, y1) for part in drawn.parts),
        tuple(lines),
        tuple(
            (fixed(p.middle[0]), fixed(y1 - p.middle[1]), job.kind.part(p.key).short)
            for p in drawn.parts
            if p.key in with_lines
        ),
        fixed(size * 0.026),
    )


@dataclass(frozen=True)
class BottomDrawing:
    """The bottom cloth flat: its cut line, the line at which it is turned under, the legs that it is cut round, and the
    cut toward each from the edge.
    """

    view: str
    cut: str
    finished: str
    legs: tuple[tuple[str, str], ...]
    cuts: tuple[str, ...]
    leg: str
    feet: tuple[str, ...] = ()


def bottom_drawing(bottom: Bottom, feet: int) -> BottomDrawing:
    """Return the bottom cloth cut round its legs as they were measured, else where so many usually stand."""
    return _round_legs(bottom, bottom.cut) if bottom.legs and bottom.cut else _usual_legs(bottom.sizes, feet)


def _round_legs(bottom: Bottom, cut: CutRound) -> BottomDrawing:
    x0, y0, x1, y1 = cut.cut.bounds
    edge = (x1 - x0) * 0.05

    def rings(*outlines: Outline) -> str:
        return "".join(path_of(outline.points, y1) for outline in outlines)

    return BottomDrawing(
        view_round((x0, y0, x1, y1), edge),
        rings(cut.cut, *cut.cut_holes),
        rings(cut.finished, *cut.finished_holes),
        (),
        tuple(path_of(line, y1, closed=False) for line in (*cut.snips, *cut.ways_in)),
        fixed(LEG / 2),
        tuple(rings(leg.outline) for leg in bottom.legs),
    )


def _usual_legs(bottom: BottomCloth, feet: int) -> BottomDrawing:
    """The bottom cloth with its legs where they usually stand: at the corners, else evenly round."""
    (wide, deep), (cut_wide, cut_deep) = bottom.finished, bottom.cut
    if bottom.is_round:
        finished, cut = (disc_shape("Bottom", size, {"bottom": "turned_under"}).outline for size in (wide, cut_wide))
    else:
        finished, cut = rectangle(wide, deep), rectangle(cut_wide, cut_deep)
    finished, cut = (o.moved(-sum(o.bounds[::2]) / 2, -sum(o.bounds[1::2]) / 2) for o in (finished, cut))
    x0, y0, x1, y1 = cut.bounds
    legs = legs_of(finished, feet) if feet else ()
    ring = LineString([*cut.points, cut.points[0]])
    lines = []
    for at in legs:
        near = ring.interpolate(ring.project(ShapelyPoint(at)))
        lines.append(path_of([(near.x, near.y), at], y1, closed=False))
    edge = (x1 - x0) * 0.05
    return BottomDrawing(
        view_round((x0, y0, x1, y1), edge),
        path_of(cut.points, y1),
        path_of(finished.points, y1),
        tuple((fixed(x), fixed(y1 - y)) for x, y in legs),
        tuple(lines),
        fixed(LEG / 2),
    )


@dataclass(frozen=True)
class SkirtDrawing:
    """A skirt's strip flat: its cut line, the line that is sewn and the hem, its folds."""

    view: str
    strip: str
    seams: str
    folds: tuple[str, ...]


def skirt_drawing(made: Skirt) -> SkirtDrawing:
    """Return the strip of a skirt as it is cut, with where it is folded; its height is drawn three times as high."""
    length, high = made.cloth[0], made.cloth[1] * UPRIGHT
    edge = length * 0.02
    seam = SEAM * UPRIGHT
    return SkirtDrawing(
        view_round((0, 0, length, high), edge),
        path_of(rectangle(length, high).points, high),
        f"M{fixed(SEAM)} {fixed(seam)}H{fixed(length - SEAM)}V{fixed(high - seam)}H{fixed(SEAM)}Z",
        tuple(f"M{fixed(at)} 0V{fixed(high)}" for at in made.folds),
    )


@dataclass(frozen=True)
class NailDrawing:
    """Nails on their line: the line, each nail with its number in the order of setting."""

    view: str
    line: str
    nails: tuple[dict[str, str], ...]
    radius: str


def _ring(length: float) -> list[Point]:
    """A closed line without corners: a circle of so many chords that its way round is `length`."""
    radius = length / (2 * CHORDS * math.sin(math.pi / CHORDS))
    turns = [2 * math.pi * k / CHORDS for k in range(CHORDS + 1)]
    return [(radius * math.sin(turn), -radius * math.cos(turn)) for turn in turns]


def nail_drawing(made: Nails) -> NailDrawing:
    """Return the nails on a line that turns by a quarter at each corner; one that closes without corners is round."""
    points: list[Point] = [(0.0, 0.0)]
    ways = itertools.cycle([(1.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.0, -1.0)])
    for run, way in zip(made.runs, ways, strict=False):
        x, y = points[-1]
        points.append((x + way[0] * run.length, y + way[1] * run.length))
    if made.is_closed and len(made.runs) == 1:
        points = _ring(made.runs[0].length)
    x0, y0, x1, y1 = bounds_of(points)
    edge = max(x1 - x0, y1 - y0) * 0.05 + made.head
    order = {round(place, 6): number for number, place in enumerate(made.order, 1)}
    found = []
    for place, (x, y) in zip(made.places, on_the_line(points, made), strict=True):
        is_corner = place in made.corners
        found.append(
            {
                "x": fixed(x),
                "y": fixed(y1 - y),
                "number": str(order.get(round(place, 6), 0)),
                "kind": "corner" if is_corner else "nail",
            }
        )
    view = view_round((x0, y0, x1, y1), edge)
    return NailDrawing(view, path_of(points, y1, closed=False), tuple(found), fixed(made.head / 2))
