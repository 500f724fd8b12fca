"""Outlines from drawings, SVG or DXF, at the right size: paths, transforms, units, blocks, loose lines and arcs.

Both are bounded before they are parsed. An SVG that declares a document type, runs a script, refers to something
outside or multiplies itself is refused outright, so that nothing is ever expanded or fetched.
"""

from __future__ import annotations

import io
import itertools
import math
import re
from collections import Counter
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any
from xml.etree.ElementTree import Element, ParseError, tostring

import ezdxf
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring
from ezdxf import DXFError, edgeminer, edgesmith, recover
from ezdxf.disassemble import recursive_decompose
from ezdxf.math import Bezier3P, Bezier4P, Vec2
from ezdxf.path import make_path
from svgelements import SVG, Arc, Close, CubicBezier, Line, Move, Path, QuadraticBezier, Shape

from zonatome.core.errors import BadInput
from zonatome.core.intake.apart import Answer
from zonatome.core.outline import Outline, Point, outline_of
from zonatome.core.tolerances import LONGEST, MOST_POINTS

MOST_BYTES = 2_000_000
MOST_ELEMENTS = 20_000
MOST_DEPTH = 40
MOST_IN_ALL = 200_000  # points of all lines of one drawing
MOST_COMMANDS = 40_000  # of all paths of an SVG drawing, repeated ones counted each
MOST_AT_A_POINT = 12  # loose lines of a DXF that end where others do
FLAT = 0.03  # mm that a straight step may leave a curve of the drawing
CLOSED = 1.0  # mm between the ends of a line that is meant to be closed
JOINED = 0.05  # mm between loose lines that meet
FINISHED = "finished"  # the layer or group in which the application's own files carry the finished line
# $INSUNITS; 0 says nothing, taken as mm
MM_PER_DXF_UNIT = {0: 1.0, 1: 25.4, 2: 304.8, 4: 1.0, 5: 10.0, 6: 1000.0, 10: 914.4}
UNITS: dict[str, float] = {"mm": 1.0, "cm": 10.0, "in": 25.4, "pt": 25.4 / 72, "px": 25.4 / 96}
MEASURES = ("d", "points", "transform", "viewbox", "width", "height", "x", "y", "cx", "cy", "r", "rx", "ry")
PLAIN_DOCTYPE = re.compile(rb"<!DOCTYPE\s+svg(?:\s+PUBLIC\s+\"[^\"<>]*\"\s+\"[^\"<>]*\"|\s+SYSTEM\s+\"[^\"<>]*\")?\s*>")
NO_NUMBER = re.compile(r"nan|inf", re.IGNORECASE)
# what odd files end in
UNREADABLE = (ArithmeticError, AssertionError, AttributeError, LookupError, RecursionError, TypeError, ValueError)
DRAWN = "LINE ARC LWPOLYLINE POLYLINE CIRCLE ELLIPSE SPLINE"


@dataclass(frozen=True)
class Drawn:
    """One line of a drawing, in mm, y up: its points, whether it is closed, the layer or group it stands in."""

    points: tuple[Point, ...]
    is_closed: bool
    layer: str


@dataclass(frozen=True)
class Drawing:
    """All lines of a drawing, and whether the file itself says its unit."""

    lines: tuple[Drawn, ...]
    says_unit: bool

    def outlines(self) -> tuple[Outline, ...]:
        """Return the closed outlines, the finished line of the application's own files first, else the largest first,
        each at (0, 0).

        Raises BadInput with the key `file` where there is none.
        """
        found: list[tuple[bool, Outline]] = []
        refused: BadInput | None = None
        for line in self.lines:
            if not line.is_closed:
                continue
            try:
                found.append((line.layer.lower() == FINISHED, outline_of(line.points, key="file")))
            except BadInput as err:
                refused = err
        if not found:
            raise refused or BadInput("file", f"{len(self.lines)} open lines", "a closed outline in the drawing")
        found.sort(key=lambda row: (not row[0], -row[1].area))
        return tuple(o.moved(-o.bounds[0], -o.bounds[1]) for _, o in found)


def outline_from_drawing(content: bytes, *, name: str, unit: str = "", which: int = 1) -> Outline:
    """Return the closed outline number `which` of a drawing, the largest being 1.

    Raises BadInput with the key `file` or `which`.
    """
    outlines = read_drawing(content, name=name, unit=unit).outlines()
    if not 1 <= which <= len(outlines):
        raise BadInput("which", which, f"1 to {len(outlines)}: the drawing has {len(outlines)} closed outlines")
    return outlines[which - 1]


def drawing_work(told: Mapping[str, Any], content: bytes) -> Answer:
    """Read a drawing's outline for `outline_read_apart`."""
    return {
        "points": outline_from_drawing(content, name=told["name"], unit=told["unit"], which=told["which"]).points
    }, b""


def read_drawing(content: bytes, *, name: str, unit: str = "") -> Drawing:
    """Return the lines of an SVG or a DXF file, told apart by the name's ending and the content, in mm.

    `unit` (mm, cm, in, pt, px) says what one unit of the drawing is; without it the file's own word counts, and where
    it has none, 1 mm. Raises BadInput with the key `file`, or `unit`.
    """
    if unit and unit not in UNITS:
        raise BadInput("unit", unit, "one of " + ", ".join(UNITS))
    if len(content) > MOST_BYTES:
        raise BadInput("file", f"{len(content) / 1e6:.1f} MB", f"at most {MOST_BYTES / 1e6:.0f} MB")
    head = content[:1000].lstrip().lower()
    if name.lower().endswith(".svg") and head.startswith((b"<", b"\xef\xbb\xbf<")):
        return _bounded_lines(*_svg_lines(content, unit))
    if name.lower().endswith(".dxf"):
        return _bounded_lines(*_dxf_lines(content, unit))
    raise BadInput("file", name, "an .svg or .dxf drawing, or a piece .json")


def _bounded_lines(lines: Iterator[Drawn], says_unit: bool) -> Drawing:
    made, count = [], 0
    for line in lines:
        count += len(line.points)
        if count > MOST_IN_ALL:
            raise BadInput("file", f"more than {MOST_IN_ALL} points", f"a drawing of at most {MOST_IN_ALL} points")
        if any(not (math.isfinite(v) and abs(v) <= 10 * LONGEST) for p in line.points for v in p):
            raise BadInput("file", "a coordinate beyond 1 km, or none", "coordinates within 100 m")
        if len(line.points) >= 2:
            made.append(line)
    return Drawing(tuple(made), says_unit)


# --- SVG


def _svg_lines(content: bytes, unit: str) -> tuple[Iterator[Drawn], bool]:
    content = PLAIN_DOCTYPE.sub(b"", content, count=1)
    try:
        root = fromstring(content, forbid_dtd=True)
    except DefusedXmlException as err:
        raise BadInput(
            "file", "a document type with entities or outside parts", "an SVG drawing without entities of its own"
        ) from err
    except (ParseError, ValueError, LookupError) as err:
        raise BadInput("file", str(err)[:80], "an SVG drawing that can be read to its end") from err
    _bounded(root)
    _harmless(root)
    _few_commands(root)
    width = root.get("width", "")
    says = any(width.strip().lower().endswith(end) for end in ("mm", "cm", "in", "pt", "pc", "q", "px"))
    scale = 1.0
    if unit:  # one unit of the drawing itself, whatever its sheet says
        for key in ("width", "height"):
            root.attrib.pop(key, None)
        root.attrib.pop("viewBox", None)
        scale, content = UNITS[unit], _text_of(root)
    try:
        drawing = SVG.parse(
            io.BytesIO(content), ppi=25.4 if not width.strip().lower().endswith("px") or unit else 96.0, reify=True
        )
        shapes = [(Path(e), _layer(e)) for e in drawing.elements() if isinstance(e, Shape)]
    except UNREADABLE as err:
        raise BadInput("file", str(err)[:80], "an SVG drawing with readable paths") from err
    if width.strip().lower().endswith("px") and not unit:
        scale = UNITS["px"]
    return _svg_flat(shapes, scale), says


COMMAND = re.compile(r"[MmZzLlHhVvCcSsQqTtAa]|[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?")
CUBIC = 4  # points of a cubic Bezier curve; a quadratic one has three
# an arc's two flags may stand in one number
NUMBERS_EACH = {"m": 2, "l": 2, "h": 1, "v": 1, "c": 6, "s": 4, "q": 4, "t": 2, "a": 5}


def _few_commands(root: Element) -> None:
    """Refuse paths of more commands than a cover can have, before anything is drawn of them."""
    count = 0
    for element in root.iter():
        each, numbers = 2, 0
        for sign in COMMAND.findall(element.get("d", "") + " " + element.get("points", "")):
            if sign.lower() in NUMBERS_EACH or sign in "Zz":
                count += 1 + max(0, numbers // each - 1)
                each, numbers = NUMBERS_EACH.get(sign.lower(), 2), 0
            else:
                numbers += 1
        count += numbers // each
        if count > MOST_COMMANDS:
            raise BadInput(
                "file",
                f"more than {MOST_COMMANDS} steps",
                f"a drawing of at most {MOST_COMMANDS} steps in all its paths",
            )


def _text_of(root: Element) -> bytes:
    return bytes(tostring(root))


def _layer(element: Any) -> str:
    """The id of a shape, which is where the application's own files say what a line is."""
    return str(getattr(element, "id", None) or element.values.get("id") or "")


def _svg_flat(shapes: list[tuple[Any, str]], scale: float) -> Iterator[Drawn]:
    for path, layer in shapes:
        for segments in _runs(path):
            try:
                flat, closed = _flattened(segments, FLAT / scale)
            except BadInput:
                raise
            except UNREADABLE as err:
                raise BadInput("file", str(err)[:80], "an SVG drawing with readable paths") from err
            points = tuple((x * scale, -y * scale) for x, y in flat)
            near = len(points) > 3 and math.dist(points[0], points[-1]) < CLOSED
            yield Drawn(points, closed or near, layer)


def _runs(path: Any) -> Iterator[list[Any]]:
    """A path's segments, anew from each move of the pen on."""
    run: list[Any] = []
    for segment in path:
        if isinstance(segment, Move) and run:
            yield run
            run = []
        run.append(segment)
    if run:
        yield run


def _bounded(root: Element) -> None:
    waiting, count = [(root, 1)], 0
    while waiting:
        element, depth = waiting.pop()
        count += 1
        if count > MOST_ELEMENTS or depth > MOST_DEPTH:
            raise BadInput(
                "file", f"{count} elements, {depth} deep", f"at most {MOST_ELEMENTS} elements, {MOST_DEPTH} deep"
            )
        waiting += [(child, depth + 1) for child in element]


def _harmless(root: Element) -> None:
    """Refuse scripts, references to elsewhere, and elements that are used over and over until they fill the memory."""
    for element in root.iter():
        tag = _bare(str(element.tag)).lower()
        if tag in ("script", "foreignobject", "handler"):
            raise BadInput("file", tag, "a drawing without scripts or pages in it")
        for key, value in element.attrib.items():
            _harmless_attribute(tag, _bare(key).lower(), value)
    _not_too_heavy(root)


def _bare(name: str) -> str:
    """The name of an element or attribute without its namespace."""
    return name.rsplit("}", 1)[-1]


def _harmless_attribute(tag: str, name: str, value: str) -> None:
    if name.startswith("on") and len(name) > 3:
        raise BadInput("file", name, "a drawing without scripts in it")
    if name in MEASURES and NO_NUMBER.search(value):
        raise BadInput("file", value[:60], "numbers in its paths, measures and transforms")
    outside = name in ("href", "src") and not value.strip().startswith(("#", "data:image/"))
    calls = "url(" in value and "url(#" not in value and "url('#" not in value
    if tag != "a" and (outside or calls or "@import" in value):
        raise BadInput("file", value[:60], "a drawing that refers to nothing outside itself")


def _not_too_heavy(root: Element) -> None:
    """Refuse a drawing that has too many elements when all its uses are drawn, or uses in a circle."""
    by_id = {e.get("id"): e for e in root.iter() if e.get("id")}
    weights: dict[int, int] = {}

    def weigh(element: Element, under: frozenset[int]) -> int:
        if id(element) in under:
            raise BadInput("file", "an element that uses itself", "a drawing without circles of uses")
        if id(element) not in weights:
            below = under | {id(element)}
            if len(below) > 3 * MOST_DEPTH:
                raise BadInput("file", "uses within uses", f"uses at most {MOST_DEPTH} deep")
            whole = 1 + sum(weigh(child, below) for child in element)
            if _bare(str(element.tag)) == "use":
                wanted = next((v for k, v in element.attrib.items() if _bare(k) == "href"), "")
                used = by_id.get(wanted.strip().removeprefix("#"))
                whole += weigh(used, below) if used is not None else 0
            if whole > MOST_ELEMENTS:
                raise BadInput("file", f"{whole} elements when all uses are drawn", f"at most {MOST_ELEMENTS}")
            weights[id(element)] = whole
        return weights[id(element)]

    weigh(root, frozenset())


def _flattened(segments: Iterable[Any], within: float) -> tuple[list[Point], bool]:
    """The points of a run, no straight step leaving its curve by more than `within`, and whether it is closed."""
    points: list[Point] = []
    closed = False
    for segment in _without_arcs(segments):
        if isinstance(segment, Move | Line | Close):
            closed = closed or isinstance(segment, Close)
            if segment.end is not None:
                points.append((float(segment.end.x), float(segment.end.y)))
        elif isinstance(segment, CubicBezier | QuadraticBezier):
            inner = (segment.control1, segment.control2) if isinstance(segment, CubicBezier) else (segment.control,)
            hull = [(float(p.x), float(p.y)) for p in (segment.start, *inner, segment.end)]
            points += _curve(hull, within)
        if len(points) > MOST_POINTS:
            raise BadInput("file", f"more than {MOST_POINTS} points", f"a path of at most {MOST_POINTS} points")
    return points, closed


def _without_arcs(segments: Iterable[Any]) -> Iterator[Any]:
    """The segments, each arc as the curves that it is."""
    for segment in segments:
        if isinstance(segment, Arc):
            yield from segment.as_cubic_curves()
        else:
            yield segment


def _curve(hull: list[Point], within: float) -> list[Point]:
    """Points along a Bezier curve but for its start, none farther from it than `within`."""
    bend = max(
        math.hypot(a[0] - 2 * b[0] + c[0], a[1] - 2 * b[1] + c[1])
        for a, b, c in zip(hull, hull[1:], hull[2:], strict=False)
    )
    if not math.isfinite(bend) or bend > 10 * LONGEST:
        raise BadInput("file", "a coordinate beyond 1 km, or none", "coordinates within 100 m")
    if bend < within:
        return [hull[-1]]
    points = Vec2.list(hull)
    curve = Bezier4P(points) if len(hull) == CUBIC else Bezier3P(points)
    return [(point.x, point.y) for point in list(curve.flattening(within))[1:]]


# --- DXF


def _dxf_lines(content: bytes, unit: str) -> tuple[Iterator[Drawn], bool]:
    try:
        document = _dxf_document(content)
        said = int(document.header.get("$INSUNITS", 0)) if b"$INSUNITS" in content else 0
    except (DXFError, OSError, *UNREADABLE) as err:
        raise BadInput("file", str(err)[:80] or type(err).__name__, "a DXF drawing in text form") from err
    scale = UNITS[unit] if unit else MM_PER_DXF_UNIT.get(said, 1.0)
    return _dxf_flat(document, scale), said in MM_PER_DXF_UNIT and said != 0


def _dxf_document(content: bytes) -> Any:
    """The drawing as it is; where that is not quite sound, as it can be recovered."""
    try:
        return ezdxf.read(io.StringIO(content.decode("utf-8", errors="surrogateescape")))
    except (DXFError, OSError, *UNREADABLE):
        if b"SECTION" not in content[:2000]:
            raise
        recovered = recover.read(io.BytesIO(content))[0]
        if not len(recovered.modelspace()):
            raise
        return recovered


def _dxf_flat(document: Any, scale: float) -> Iterator[Drawn]:
    loose: dict[str, list[Any]] = {}
    for entity in _entities(document):
        layer = str(entity.dxf.get("layer", ""))
        if entity.dxftype() in ("LINE", "ARC"):
            loose.setdefault(layer, []).append(entity)
            continue
        try:
            flat = [
                (float(v.x) * scale, float(v.y) * scale)
                for v in itertools.islice(make_path(entity).flattening(FLAT / scale), MOST_POINTS + 1)
            ]
        except (DXFError, *UNREADABLE):
            continue
        if len(flat) > MOST_POINTS:
            raise BadInput("file", f"more than {MOST_POINTS} points", f"a line of at most {MOST_POINTS} points")
        near = len(flat) > 3 and math.dist(flat[0], flat[-1]) < CLOSED
        yield Drawn(
            tuple(flat), near or bool(getattr(entity, "closed", False) or getattr(entity, "is_closed", False)), layer
        )
    for layer, entities in loose.items():
        yield from _joined(entities, layer, scale)


def _entities(document: Any) -> Iterator[Any]:
    """The entities of the drawing that are lines, blocks taken apart, bounded in count before one is."""
    _few_entities(document)
    try:
        every = recursive_decompose(document.modelspace())
        for count, entity in enumerate(every):
            if count > MOST_ELEMENTS:
                raise BadInput(
                    "file", f"more than {MOST_ELEMENTS} entities", f"at most {MOST_ELEMENTS}, blocks taken apart"
                )
            if entity.dxftype() in DRAWN.split():
                yield entity
    except BadInput:
        raise
    except (DXFError, *UNREADABLE) as err:
        raise BadInput(
            "file", str(err)[:80] or type(err).__name__, "a DXF drawing whose blocks can be taken apart"
        ) from err


def _few_entities(document: Any) -> None:
    """Refuse blocks in blocks, and blocks laid in rows, that come to more entities than a cover can have."""
    weights: dict[str, int] = {}

    def weigh(layout: Any, under: tuple[str, ...]) -> int:
        whole = 0
        for entity in layout:
            each = 1
            if entity.dxftype() == "INSERT":
                name = str(entity.dxf.name)
                if name in under or len(under) > MOST_DEPTH:
                    raise BadInput(
                        "file", f"block {name} in itself", f"blocks at most {MOST_DEPTH} deep, none in itself"
                    )
                block = document.blocks.get(name)
                if block is not None and name not in weights:
                    weights[name] = weigh(block, (*under, name))
                rows, columns = (abs(int(entity.dxf.get(key, 1))) or 1 for key in ("row_count", "column_count"))
                each += weights.get(name, 0) * rows * columns
            whole += each
            if whole > MOST_ELEMENTS:
                raise BadInput(
                    "file", f"more than {MOST_ELEMENTS} entities", f"at most {MOST_ELEMENTS}, blocks taken apart"
                )
        return whole

    try:
        weigh(document.modelspace(), ())
    except BadInput:
        raise
    except (DXFError, *UNREADABLE) as err:
        raise BadInput(
            "file", str(err)[:80] or type(err).__name__, "a DXF drawing whose blocks can be taken apart"
        ) from err


def _is_drawn(entity: Any, scale: float) -> bool:
    """Whether a line or an arc has a length at all."""
    if entity.dxftype() == "ARC":
        return float(entity.dxf.radius) * scale > JOINED and entity.dxf.start_angle != entity.dxf.end_angle
    return bool(entity.dxf.start.distance(entity.dxf.end) * scale > JOINED / 10)


def _joined(entities: Iterable[Any], layer: str, scale: float) -> Iterator[Drawn]:
    """Loose lines and arcs, put together where their ends meet."""
    try:
        edges = list(
            edgesmith.edges_from_entities_2d([e for e in entities if _is_drawn(e, scale)], gap_tol=JOINED / scale)
        )
    except (DXFError, *UNREADABLE) as err:
        raise BadInput("file", str(err)[:80] or type(err).__name__, "a DXF drawing with readable lines") from err
    if not edges:
        return
    ends = Counter((round(v.x * scale), round(v.y * scale)) for edge in edges for v in (edge.start, edge.end))
    crowd = max(ends.values(), default=0)
    if crowd > MOST_AT_A_POINT:
        raise BadInput(
            "file", f"{crowd} loose lines that meet in one point", f"at most {MOST_AT_A_POINT}: an outline has two"
        )
    deposit = edgeminer.Deposit(edges, gap_tol=JOINED / scale)
    for chain in edgeminer.find_all_simple_chains(deposit):
        try:
            path = edgesmith.path2d_from_chain(chain)
            flat = [
                (float(v.x) * scale, float(v.y) * scale)
                for v in itertools.islice(path.flattening(FLAT / scale), MOST_POINTS + 1)
            ]
        except (DXFError, *UNREADABLE):
            continue
        yield Drawn(tuple(flat), len(flat) > 3 and math.dist(flat[0], flat[-1]) < CLOSED, layer)
