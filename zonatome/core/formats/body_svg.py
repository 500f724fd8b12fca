"""A body's picture as SVG."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import groupby

import numpy as np

from zonatome.core.body.picture import Face, Picture
from zonatome.core.body.values import Grid

OVER = 4.4  # units: faces are edged in their own colour, so that no light comes through; more, and seams end in teeth
LEAST_LINE = 1.6


def body_svg(picture: Picture, *, size: int = 1000, title: str = "", with_parts: bool = False) -> str:
    """Return a picture as an SVG document, as large as its longer side is in whole units; with `with_parts` every face
    says of which panel it is, so that it can be pressed.
    """
    x0, y0, x1, y1 = picture.bounds
    edge = 0.02 * max(x1 - x0, y1 - y0)
    scale = size / max(x1 - x0 + 2 * edge, y1 - y0 + 2 * edge, 1.0)
    wide, high = round((x1 - x0 + 2 * edge) * scale), round((y1 - y0 + 2 * edge) * scale)
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {wide} {high}" stroke-linecap="round" '
        f'stroke-linejoin="round" stroke-width="{OVER}">'
    ]
    if title:
        parts.append(f"<title>{_escaped(title)}</title>")
    places = _units(picture.faces, np.array([x0 - edge, y1 + edge]), scale)
    for (key, colour, stroke, is_figure), group in groupby(
        zip(picture.faces, places, strict=True),
        key=lambda one: (one[0].key if with_parts else "", one[0].colour, one[0].stroke, one[0].is_figure),
    ):
        path = "".join(_path(face, at) for face, at in group)
        data = f' data-part="{_escaped(key)}"' if key else ""
        code = _code(colour)
        if stroke:
            paint = f'fill="none" stroke="#{code}" stroke-width="{max(stroke * scale, LEAST_LINE):.1f}"'
        else:
            paint = f'fill="#{code}"' if is_figure else f'fill="#{code}" stroke="#{code}"'
        parts.append(f'<path{data} {paint} d="{path}"/>')
    parts.append("</svg>")
    return "".join(parts)


def _units(faces: tuple[Face, ...], home: Grid, scale: float) -> Iterator[list[list[int]]]:
    """The places of every face in whole units of the drawing, y down."""
    if not faces:
        return
    every = np.rint((np.concatenate([face.points for face in faces]) - home) * (scale, -scale)).astype(int).tolist()
    begins = 0
    for face in faces:
        yield every[begins : begins + len(face.points)]
        begins += len(face.points)


def _path(face: Face, places: list[list[int]]) -> str:
    x, y = places[0]
    if face.is_dot:
        return f"M{x} {y}h.1"
    steps, first = [], f"M{x} {y}l"
    for to_x, to_y in places[1:]:
        if to_x != x or to_y != y:
            steps.append(f"{_number(to_x - x)}{_number(to_y - y)}")
            x, y = to_x, to_y
    return first + "".join(steps).lstrip() + ("" if face.stroke else "z") if steps else ""


def _number(n: int) -> str:
    return f"{n}" if n < 0 else f" {n}"


def _code(colour: tuple[int, int, int]) -> str:
    code = "".join(f"{min(max(c, 0), 255):02x}" for c in colour)
    return code if code[0] != code[1] or code[2] != code[3] or code[4] != code[5] else code[::2]


def _escaped(text: str) -> str:
    return text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;").replace('"', "&quot;")
