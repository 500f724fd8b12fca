"""Shapes derived from others: a band from the edge it is sewn to, boxing from a perimeter, cushions of five sorts."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Literal

from zonatome.core.errors import BadInput
from zonatome.core.joins import JOINS
from zonatome.core.survey.kind import Side
from zonatome.core.survey.kinds import ZIP_ROUND
from zonatome.core.trace.by_tape import disc_shape, rectangle_shape
from zonatome.core.trace.shape import Shape

Sort = Literal["box", "knife edge", "T", "round", "bolster"]
SORTS: dict[Sort, str] = {
    "box": "box: top, bottom, boxing between",
    "knife edge": "knife-edge: two faces, one seam round",
    "T": "T-shaped box: ears before the arms",
    "round": "round box",
    "bolster": "bolster: a roll with two ends",
}
ROUND_ZIP = 0.4  # of a round cushion's edge that its zip takes
LEAST_STRIP = 100.0  # mm: a shorter strip is all seams
LONGEST_STRIP = 2_000.0  # mm: a boxing longer than this is joined from two or more
SEWN: dict[str, str] = {"top": "sewn", "right": "sewn", "bottom": "sewn", "left": "sewn"}


@dataclass(frozen=True)
class CushionPiece:
    """One shape of a cushion, how many are cut of it for one cushion, and what to know."""

    shape: Shape
    count: int
    note: str = ""


@dataclass(frozen=True)
class Cushion:
    """Everything that is cut and bought for one cushion: pieces, the zip's length and the welt's along its seams, in
    mm.
    """

    sort: Sort
    pieces: tuple[CushionPiece, ...]
    zip_length: float
    welt: float


def perimeter(shape: Shape) -> float:
    """Return the finished length once round a shape."""
    return sum(shape.edge_length(n) for n in range(len(shape.edges)))


def side_length(shape: Shape, side: Side) -> float:
    """Return the finished length of all edges on a side. Raises BadInput where none lies there."""
    numbers = [n for n, e in enumerate(shape.edges) if e.side == side or len(shape.edges) == 1]
    if not numbers:
        raise BadInput("side", side, "a side of the shape: " + ", ".join(sorted({e.side for e in shape.edges})))
    return sum(shape.edge_length(n) for n in numbers)


def band_from_edge(name: str, shape: Shape, side: Side, height: float, joins: Mapping[str, str]) -> Shape:
    """Return the band that is sewn to a side of a shape: as long as that side, so many mm high, its top sewn to it."""
    return rectangle_shape(name, side_length(shape, side), height, {**joins, "top": "sewn"})


def boxing_round(name: str, top: Shape, height: float, joins: Mapping[str, str], *, strips: int = 1) -> Shape:
    """Return one of so many equal strips of boxing that go all round a top; together they are as long as its edge.

    Raises BadInput for a height beyond 20 to 400 mm or more than 12 strips.
    """
    if not 20 <= height <= 400:
        raise BadInput("height", height, "20 to 400 mm of boxing")
    if not 1 <= strips <= 12:
        raise BadInput("strips", strips, "1 to 12 strips")
    return rectangle_shape(name, perimeter(top) / strips, height, {**joins, "top": "sewn"})


def boxing_strips(name: str, around: float, height: float, *, longest: float = LONGEST_STRIP) -> CushionPiece:
    """Return the strips of boxing that go round so many mm: as many as no one is longer than `longest`, all the same.

    Finished, they are together as long as the way round; each seam between two adds its allowances at the cut.
    """
    if not 20 <= height <= 400:
        raise BadInput("height", height, "20 to 400 mm of boxing")
    count = max(1, math.ceil(around / longest))
    strip = rectangle_shape(name, around / count, height, SEWN)
    return CushionPiece(strip, count, f"{count} strips sewn end to end" if count > 1 else "")


def in_strips(shape: Shape, strips: int) -> Shape:
    """Return one of so many like strips that a four-sided panel is cut in, sewn end to end; finished, they are
    together as wide as it.

    For boxing and bands that are longer than the cloth is wide. Raises BadInput for what has not four straight sides,
    and for strips that are none or shorter than 10 cm.
    """
    sides = [e.side for e in shape.edges]
    if sorted(sides) != ["bottom", "left", "right", "top"] or len(shape.outline.points) != 4:
        raise BadInput("strips", shape.name, "a four-sided panel with straight sides")
    if not 2 <= strips <= 12 or shape.outline.width / strips < LEAST_STRIP:
        raise BadInput("strips", strips, f"2 to 12 strips of at least {LEAST_STRIP:.0f} mm")
    joins: dict[str, str] = {**{e.side: e.join for e in shape.edges}, "left": "sewn", "right": "sewn"}
    adds = {e.side: e.adds for e in shape.edges}
    strip = rectangle_shape(shape.name, shape.outline.width / strips, shape.outline.height, joins)
    edges = tuple(replace(e, adds=adds[e.side]) if e.side in ("top", "bottom") else e for e in strip.edges)
    return replace(strip, edges=edges)


def zip_halves(name: str, length: float, height: float) -> CushionPiece:
    """Return the zip strip, split lengthwise: two halves, each with the zip's allowance on its inner edge."""
    half = rectangle_shape(name, length, height / 2, {**SEWN, "top": "zip"})
    return CushionPiece(half, 2, "the zip goes between the two; two short zips end to end are fine")


def _boxed(sort: Sort, top: Shape, height: float, zip_length: float) -> Cushion:
    around = perimeter(top)
    zip_length = min(zip_length, around * 0.6)
    face = _all_sewn(top)
    return Cushion(
        sort,
        (
            CushionPiece(replace(face, name="Cushion top"), 1),
            CushionPiece(
                face.mirrored("Cushion bottom"), 1, "the top's mirror image: face to face they lie on each other"
            ),
            boxing_strips("Cushion boxing", around - zip_length, height),
            zip_halves("Zip strip, half", zip_length, height),
        ),
        zip_length,
        2 * around,
    )


def _all_sewn(shape: Shape) -> Shape:
    sewn = JOINS["sewn"]
    return replace(shape, edges=tuple(replace(e, join=sewn.key, adds=sewn.adds) for e in shape.edges))


def box_cushion(top: Shape, height: float, *, zip_round: float = ZIP_ROUND, sort: Sort = "box") -> Cushion:
    """Return a box cushion on a top: top, bottom, boxing, zip strip in two halves, welt twice round.

    The zip runs along the back, the top's upper side, and `zip_round` mm on round both corners; on a round top it takes
    four tenths of the way round. Boxing and zip strip together are as long as the top's edge. Source: trade rule.
    """
    if not 0 <= zip_round <= 200:
        raise BadInput("zip_round", zip_round, "0 to 200 mm round each corner")
    is_round = len(top.edges) == 1
    length = ROUND_ZIP * perimeter(top) if is_round else side_length(top, "top") + 2 * zip_round
    return _boxed("round" if is_round else sort, top, height, length)


def short_zip(seam: float) -> float:
    """Return the zip in a seam of so many mm: 100 less, so that both its ends are sewn; at least 100.

    >>> short_zip(600)
    500
    """
    return max(100.0, seam - 100)


def knife_edge_cushion(face: Shape) -> Cushion:
    """Return a knife-edge cushion: two faces, each other's mirror image, one seam round, the zip in the back or lower
    seam.
    """
    sewn = _all_sewn(face)
    back: Side = "top" if any(e.side == "top" for e in sewn.edges) else "bottom"
    zipped = tuple(
        replace(e, join="zip", adds=JOINS["zip"].adds) if e.side == back and len(sewn.edges) > 1 else e
        for e in sewn.edges
    )
    made = replace(sewn, name="Cushion face", edges=zipped)
    length = short_zip(side_length(made, back)) if len(made.edges) > 1 else 0.45 * perimeter(made)
    around = perimeter(made)
    pieces = (CushionPiece(made, 1), CushionPiece(made.mirrored("Cushion back"), 1, "the face's mirror image"))
    return Cushion("knife edge", pieces, length, around)


def bolster_cushion(diameter: float, length: float) -> Cushion:
    """Return a bolster: a sheet as wide as its way round, and two ends; the zip lies in the sheet's one long seam.

    The sheet's short sides are as long as an end's edge, so that they ease in without a pleat.
    """
    if not 50 <= diameter <= 600:
        raise BadInput("diameter", diameter, "50 to 600 mm")
    end = disc_shape("Bolster end", diameter, {"bottom": "sewn"})
    around = perimeter(end)
    body = rectangle_shape(
        "Bolster sheet", around, length, {"top": "sewn", "bottom": "sewn", "left": "zip", "right": "zip"}
    )
    return Cushion("bolster", (CushionPiece(body, 1), CushionPiece(end, 2)), short_zip(length), 2 * around)


def cushion_of(
    sort: str, shape: Shape | None, *, height: float = 0, length: float = 0, zip_round: float = ZIP_ROUND
) -> Cushion:
    """Return a cushion of one of the five sorts on a top's shape; a bolster takes its diameter as `height` and its
    length.

    Raises BadInput for another sort, or one that its shape cannot make.
    """
    if sort not in SORTS:
        raise BadInput("sort", sort, "one of " + ", ".join(SORTS))
    if sort == "bolster":
        return bolster_cushion(height, length)
    if shape is None:
        raise BadInput("shape", None, "the top's shape first: measured, or traced from the old one")
    if sort == "knife edge":
        return knife_edge_cushion(shape)
    if (sort == "round") != (len(shape.edges) == 1):
        raise BadInput("sort", sort, "a round top for a round cushion, one with corners for the others")
    if sort == "T" and len(shape.edges) < 8:
        raise BadInput("sort", sort, "a T-shaped top, with its ears")
    return box_cushion(shape, height, zip_round=zip_round, sort="T" if sort == "T" else "box")
