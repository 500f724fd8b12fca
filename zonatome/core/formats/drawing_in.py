"""Outlines from drawings: an SVG path or a DXF polyline. The largest closed one is taken.

Both are bounded before they are parsed, and an SVG that declares a document type is refused outright,
so that no entity is ever expanded.
"""

from __future__ import annotations

import io
import math
from collections.abc import Iterable
from typing import Any
from xml.etree.ElementTree import Element, ParseError

import ezdxf
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring
from ezdxf import DXFError
from ezdxf.path import make_path
from svgelements import SVG, Close, Line, Move, Path, Shape
from svgelements import Point as SvgPoint

from zonatome.core.errors import BadInput
from zonatome.core.outline import Outline, Point, outline_of
from zonatome.core.tolerances import CURVE, MOST_POINTS

MOST_BYTES = 2_000_000
MOST_ELEMENTS = 20_000
MOST_DEPTH = 40
MM_PER_DXF_UNIT = {0: 1.0, 1: 25.4, 2: 304.8, 4: 1.0, 5: 10.0, 6: 1000.0, 10: 914.4}  # $INSUNITS; 0 says nothing, taken as mm


def outline_from_drawing(content: bytes, *, name: str) -> Outline:
    """Return the largest closed outline in an SVG or a DXF file, told apart by the name's ending and the content.

    SVG: one user unit is 1 mm, unless the drawing's own width says what it is. Raises BadInput with the
    key `file`.
    """
    if len(content) > MOST_BYTES:
        raise BadInput("file", f"{len(content) / 1e6:.1f} MB", f"at most {MOST_BYTES / 1e6:.0f} MB")
    head = content[:1000].lstrip().lower()
    if name.lower().endswith(".svg") and head.startswith((b"<", b"\xef\xbb\xbf<")):
        return _largest(_svg_rings(content), "a closed path in the SVG")
    if name.lower().endswith(".dxf"):
        return _largest(_dxf_rings(content), "a closed polyline in the DXF")
    raise BadInput("file", name, "an .svg or .dxf drawing, or a piece .json")


def _largest(rings: Iterable[list[Point]], expected: str) -> Outline:
    found: list[Outline] = []
    refused: BadInput | None = None
    for ring in rings:
        try:
            found.append(outline_of(ring, key="file"))
        except BadInput as err:
            refused = err
    if not found:
        raise refused or BadInput("file", "none", expected)
    best = max(found, key=lambda outline: outline.area)
    x0, y0, _, _ = best.bounds
    return best.moved(-x0, -y0)


def _svg_rings(content: bytes) -> Iterable[list[Point]]:
    try:
        root = fromstring(content, forbid_dtd=True)
    except (ParseError, DefusedXmlException, ValueError) as err:
        raise BadInput("file", type(err).__name__, "an SVG drawing without a document type or entities") from err
    _bounded(root)
    try:
        drawing = SVG.parse(io.BytesIO(content), ppi=25.4, reify=True)
        shapes = [Path(e) for e in drawing.elements() if isinstance(e, Shape)]
    except (ValueError, TypeError, AttributeError, ZeroDivisionError, IndexError, KeyError) as err:
        raise BadInput("file", str(err), "an SVG drawing with readable paths") from err
    for path in shapes:
        for sub in path.as_subpaths():
            yield [(x, -y) for x, y in _flattened(Path(sub))]


def _bounded(root: Element) -> None:
    waiting, count = [(root, 1)], 0
    while waiting:
        element, depth = waiting.pop()
        count += 1
        if count > MOST_ELEMENTS or depth > MOST_DEPTH:
            raise BadInput("file", f"{count} elements, {depth} deep", f"at most {MOST_ELEMENTS} elements, {MOST_DEPTH} deep")
        waiting += [(child, depth + 1) for child in element]


def _flattened(path: Any) -> list[Point]:
    points: list[Point] = []
    for segment in path:
        if isinstance(segment, Move | Line | Close):
            ends: list[SvgPoint] = [segment.end]
        else:
            length = segment.length(error=1e-2)
            steps = max(4, min(96, math.ceil(length / max(2.0, 8 * CURVE))))
            ends = [segment.point(k / steps) for k in range(1, steps + 1)]
        points += [(float(p.x), float(p.y)) for p in ends if p is not None]
        if len(points) > MOST_POINTS:
            raise BadInput("file", f"more than {MOST_POINTS} points", f"a path of at most {MOST_POINTS} points")
    return points


def _dxf_rings(content: bytes) -> Iterable[list[Point]]:
    try:
        document = ezdxf.read(io.StringIO(content.decode("utf-8", errors="surrogateescape")))
    except (DXFError, OSError, ValueError, IndexError, KeyError, TypeError, AttributeError) as err:
        raise BadInput("file", str(err) or type(err).__name__, "a DXF drawing in text form") from err
    scale = MM_PER_DXF_UNIT.get(int(document.header.get("$INSUNITS", 0)), 1.0)
    entities = document.modelspace().query("LWPOLYLINE POLYLINE CIRCLE ELLIPSE SPLINE")
    if len(entities) > MOST_ELEMENTS:
        raise BadInput("file", f"{len(entities)} entities", f"at most {MOST_ELEMENTS}")
    for entity in entities:
        try:
            flat = [(v.x * scale, v.y * scale) for v in make_path(entity).flattening(CURVE / scale)]
        except (DXFError, TypeError, ValueError):
            continue
        closed = len(flat) > 3 and math.dist(flat[0], flat[-1]) < 1.0
        if closed or getattr(entity, "closed", False) or getattr(entity, "is_closed", False):
            yield flat
