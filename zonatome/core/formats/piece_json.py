"""Piece JSON, `zonatome.piece` version 1: an outline, and the application's own edges, notches and marks beside it."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any, get_args

from zonatome.core.errors import BadInput
from zonatome.core.formats import reading
from zonatome.core.outline import outline_of
from zonatome.core.survey.kind import Side
from zonatome.core.tolerances import LONGEST, MOST_POINTS
from zonatome.core.trace.shape import MOST_EASE, MOST_MARKS, Edge, Mark, Match, Shape, edges_by_corners, shape_of

FORMAT = "zonatome.piece"


def write_piece(shape: Shape) -> dict[str, Any]:
    """Return a shape as the JSON document that files and the store hold."""
    made: dict[str, Any] = {
        "format": FORMAT,
        "version": 1,
        "name": shape.name,
        "outline": [[round(x, 3), round(y, 3)] for x, y in shape.outline.points],
        "edges": [
            {"name": e.name, "start": e.start, "join": e.join, "adds": round(e.adds, 3), "side": e.side}
            | ({"part": e.part} if e.part else {})
            | ({"ease": e.ease} if e.ease else {})
            for e in shape.edges
        ],
    }
    if shape.matches:
        made["matches"] = [
            {"edge": m.edge, "along": round(m.along, 3)} | ({"double": True} if m.is_double else {})
            for m in shape.matches
        ]
    if shape.marks:
        made["marks"] = [
            {"means": m.means, "points": [[round(x, 3), round(y, 3)] for x, y in m.points]} for m in shape.marks
        ]
    return made | ({"lopsided": True} if shape.lopsided else {})


def piece_text(shape: Shape) -> str:
    """Return the document as text."""
    return json.dumps(write_piece(shape), indent=1)


def read_piece(data: Mapping[str, Any], *, joins: Mapping[str, str] | None = None) -> Shape:
    """Return the shape in a piece document.

    Without `edges` they begin at the outline's corners and are held by `joins`, side by side. Raises
    BadInput, naming the key.
    """
    reading.check_format(data, FORMAT)
    name = reading.text(data.get("name") or "Piece", "name", most=80)
    points = reading.listed(reading.wanted(data, "outline"), "outline", least=3, most=MOST_POINTS)
    outline = outline_of(points)
    if "edges" not in data:
        return shape_of(name, outline, edges_by_corners(outline), joins or {})
    if [tuple(map(float, p)) for p in points] != list(outline.points):
        raise BadInput(
            "outline", f"{len(points)} points", "anticlockwise points, none of them doubled, where edges refer to them"
        )
    edges = [
        _edge(e, f"edges[{i}].")
        for i, e in enumerate(reading.listed(data["edges"], "edges", least=1, most=MOST_POINTS))
    ]
    matches = [
        _match(m, f"matches[{i}].")
        for i, m in enumerate(reading.listed(data.get("matches", []), "matches", most=MOST_MARKS))
    ]
    marks = [
        _mark(m, f"marks[{i}].") for i, m in enumerate(reading.listed(data.get("marks", []), "marks", most=MOST_MARKS))
    ]
    return Shape(name, outline, tuple(edges), tuple(matches), tuple(marks), bool(data.get("lopsided")))


def size_of_piece(data: Mapping[str, Any]) -> tuple[float, float]:
    """Return the finished width and height in mm of a piece document that has been read before, without reading all of
    it again.
    """
    xs, ys = zip(*data["outline"], strict=True)
    return max(xs) - min(xs), max(ys) - min(ys)


def _match(value: Any, where: str) -> Match:
    data = reading.table(value, where[:-1])
    return Match(
        reading.text(reading.wanted(data, "edge", where), where + "edge", most=8),
        reading.number(reading.wanted(data, "along", where), where + "along", least=0, most=LONGEST),
        bool(data.get("double")),
    )


def _mark(value: Any, where: str) -> Mark:
    data = reading.table(value, where[:-1])
    points = []
    for n, point in enumerate(reading.listed(reading.wanted(data, "points", where), where + "points", least=1, most=2)):
        x, y = (
            reading.number(v, f"{where}points[{n}]", least=-LONGEST, most=LONGEST)
            for v in reading.listed(point, f"{where}points[{n}]", least=2, most=2)
        )
        points.append((x, y))
    return Mark(reading.text(reading.wanted(data, "means", where), where + "means", most=20), tuple(points))


def _edge(value: Any, where: str) -> Edge:
    data = reading.table(value, where[:-1])
    side = data.get("side", "bottom")
    if side not in get_args(Side):
        raise BadInput(where + "side", side, "one of " + ", ".join(get_args(Side)))
    return Edge(
        reading.text(reading.wanted(data, "name", where), where + "name", most=8),
        reading.whole(reading.wanted(data, "start", where), where + "start", least=0, most=MOST_POINTS),
        reading.text(reading.wanted(data, "join", where), where + "join", most=40),
        reading.number(reading.wanted(data, "adds", where), where + "adds", least=0, most=500),
        side,
        min(MOST_EASE, reading.number(data.get("ease", 0), where + "ease", least=0, most=0.05)),  # 5 % was taken before
        reading.whole(data.get("part", 0), where + "part", least=0, most=6),
    )
