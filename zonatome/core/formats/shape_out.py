"""A shape as an open drawing at true size, SVG or DXF: finished line, cut line, notches, marks, the way up.

What goes out comes in again by `drawing_in` with the same outline, since the finished line stands in a layer of that
name.
"""

from __future__ import annotations

import io
from collections.abc import Iterator
from dataclasses import dataclass
from xml.sax.saxutils import escape, quoteattr

from zonatome.core.joins import JOINS
from zonatome.core.outline import Point
from zonatome.core.trace.cut_marks import mark_lines, notch_lines
from zonatome.core.trace.shape import Shape
from zonatome.core.units import Units, format_length

ROOM = 10.0  # mm round the cut line
# a layer's name and its colour number in a DXF
LAYERS = {"finished": 5, "cut": 7, "notches": 1, "marks": 3, "words": 8}


@dataclass(frozen=True)
class Stroke:
    """One line of the drawing in mm, y up: its layer, its points, whether it is closed."""

    layer: str
    points: tuple[Point, ...]
    is_closed: bool = False


@dataclass(frozen=True)
class Words:
    """A line of words about its middle, with its size in mm."""

    at: Point
    text: str
    size: float


def strokes_of(shape: Shape) -> Iterator[Stroke]:
    """Yield every line that a drawing of a shape has: both lines, notches to the cut line, marks,
    the arrow to the top.
    """
    yield Stroke("finished", shape.outline.points, True)
    yield Stroke("cut", shape.cut_line.points, True)
    for line in notch_lines(shape):
        yield Stroke("notches", line)
    for line in mark_lines(shape):
        yield Stroke("marks", line)
    x, y = shape.outline.polygon.representative_point().coords[0]
    tall = shape.outline.height * 0.12
    yield Stroke("marks", ((x, y + 8), (x, y + 8 + tall)))
    yield Stroke("marks", ((x - tall / 5, y + 8 + tall * 0.7), (x, y + 8 + tall), (x + tall / 5, y + 8 + tall * 0.7)))


def words_of(shape: Shape, *, pieces: int, units: Units) -> Iterator[Words]:
    """Yield the words on a shape: name, count, size, and how each edge is held."""
    x, y = shape.outline.polygon.representative_point().coords[0]
    size = max(3.0, min(12.0, shape.outline.width / max(12, len(shape.name)) * 1.2))
    yield Words((x, y - size), shape.name, size)
    cut = shape.cut_line
    yield Words(
        (x, y - 2.4 * size),
        f"face up, cut {pieces}; {format_length(cut.width, units)} x {format_length(cut.height, units)}",
        size * 0.6,
    )
    is_bare = all(edge.join == "on_fold" for edge in shape.edges)  # foam, wadding: nothing holds its edges
    for number, edge in () if is_bare else enumerate(shape.edges):
        points = shape.edge_points(number)
        a = points[len(points) // 2 - 1] if len(points) > 2 else points[0]
        b = points[len(points) // 2] if len(points) > 2 else points[1]
        at = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
        inward = (at[0] + (x - at[0]) * 0.08, at[1] + (y - at[1]) * 0.08)
        yield Words(inward, f"{edge.name}: {JOINS[edge.join].name}, {format_length(edge.adds, units, 'small')}", 4.0)
    for mark in shape.marks:
        if mark.means == "relief":
            yield Words(mark.points[1], "not yet: cut on the furniture", 4.0)
            break  # said once for all of them


def shape_svg(shape: Shape, *, pieces: int = 1, units: Units = "metric") -> bytes:
    """Return an SVG at true size, in millimetres, y down as SVG wants it."""
    x0, y0, x1, y1 = shape.cut_line.bounds
    left, top = x0 - ROOM, y1 + ROOM
    width, height = x1 - x0 + 2 * ROOM, y1 - y0 + 2 * ROOM
    tones = {"finished": "#2456a6", "cut": "#000000", "notches": "#b03020", "marks": "#2f7d46"}

    def path(stroke: Stroke) -> str:
        steps = " L ".join(f"{x - left:.3f} {top - y:.3f}" for x, y in stroke.points)
        return f"M {steps}{' Z' if stroke.is_closed else ''}"

    lines = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:.3f}mm" height="{height:.3f}mm" viewBox="0 0 '
        f'{width:.3f} {height:.3f}">',
        f"<title>{escape(shape.name)}</title>",
    ]
    for number, stroke in enumerate(strokes_of(shape)):
        key = stroke.layer if stroke.is_closed else f"{stroke.layer}-{number}"
        lines.append(
            f'<path id={quoteattr(key)} fill="none" stroke="{tones[stroke.layer]}" stroke-width="0.4" '
            f'd="{path(stroke)}"/>'
        )
    for words in words_of(shape, pieces=pieces, units=units):
        x, y = words.at[0] - left, top - words.at[1]
        lines.append(
            f'<text x="{x:.2f}" y="{y:.2f}" font-size="{words.size:.2f}" font-family="sans-serif" text-anchor="middle">'
            f"{escape(words.text)}</text>"
        )
    return "\n".join([*lines, "</svg>"]).encode()


def shape_dxf(shape: Shape, *, pieces: int = 1, units: Units = "metric") -> bytes:
    """Return a DXF (R2010) at true size, in millimetres, each kind of line on a layer of its own."""
    import ezdxf  # noqa: PLC0415 large, and wanted for a drawing only

    document = ezdxf.new("R2010", setup=False)
    document.header["$INSUNITS"] = 4
    document.header["$MEASUREMENT"] = 1
    for name, colour in LAYERS.items():
        document.layers.add(name.upper(), color=colour)
    space = document.modelspace()
    for stroke in strokes_of(shape):
        points = [(round(x, 4), round(y, 4)) for x, y in stroke.points]
        space.add_lwpolyline(points, close=stroke.is_closed, dxfattribs={"layer": stroke.layer.upper()})
    for words in words_of(shape, pieces=pieces, units=units):
        text = space.add_text(words.text, height=words.size, dxfattribs={"layer": "WORDS"})
        text.set_placement(words.at, align=ezdxf.enums.TextEntityAlignment.MIDDLE_CENTER)
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode("utf-8", errors="replace")
