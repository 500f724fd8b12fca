"""Pleats where a longer edge goes to a shorter one: round arm fronts, the edges of round stools. Lengths in mm."""

from __future__ import annotations

import math
from dataclasses import dataclass

from zonatome.core.errors import BadInput
from zonatome.core.outline import Point
from zonatome.core.trace.shape import Mark, Shape, along_points

DEEP = (8.0, 12.0)  # mm: how deep a pleat usually is
USUAL_DEEP = 10.0
MOST_PLEATS = 200


@dataclass(frozen=True)
class Pleats:
    """How many pleats take an outer edge to an inner one: how deep each is, how far apart along the inner line, where
    each begins on the outer edge, from its middle.
    """

    outer: float
    inner: float
    count: int
    deep: float
    apart: float
    places: tuple[float, ...]

    @property
    def takes(self) -> float:
        """What they take together: twice their depth each."""
        return 2 * self.count * self.deep


def pleats(outer: float, inner: float, *, deep: float = USUAL_DEEP) -> Pleats:
    """Return the pleats between an outer and an inner length.

    A pleat d deep takes 2 d; n = round(surplus / 2 d), then d such that n of them take all of it; spacing = inner
    length / n. Source: trade rule of pleats. Raises BadInput for an inner length that is not shorter, a depth beyond 8
    to 12 mm, or a surplus too small for one pleat.

    >>> pleats(420, 300).count
    6
    """
    if not (0 < inner < outer <= 20_000):
        raise BadInput("inner", inner, f"an inner length shorter than the outer one, {outer:.0f} mm")
    if not DEEP[0] <= deep <= DEEP[1]:
        raise BadInput("deep", deep, f"pleats {DEEP[0]:.0f} to {DEEP[1]:.0f} mm deep")
    surplus = outer - inner
    count = round(surplus / (2 * deep))
    if count < 1:
        raise BadInput(
            "outer", f"{surplus:.0f} mm too long", "a surplus of a pleat at least",
            words=f"Only {surplus:.0f} mm are too long: that is eased in, without a pleat.",
        )  # fmt: skip
    if count > MOST_PLEATS:
        raise BadInput("outer", outer, f"at most {MOST_PLEATS} pleats")
    each, step = surplus / (2 * count), outer / count
    places = tuple((k - (count - 1) / 2) * step for k in range(count))
    return Pleats(outer, inner, count, each, inner / count, places)


def pleat_marks(shape: Shape, made: Pleats) -> tuple[Mark, ...]:
    """Return a mark across the allowance for each pleat, evenly along the one edge of a round shape. Raises BadInput
    for a shape of several edges.
    """
    if len(shape.edges) != 1:
        raise BadInput("pleats", shape.name, "a round panel, of one edge")
    points, length = shape.edge_points(0), shape.edge_length(0)
    found = []
    for k in range(made.count):
        (x, y), out = along_points(points, (k + 0.5) * length / made.count)
        added = shape.edges[0].adds
        found.append(Mark("pleat", ((x, y), (x + out[0] * added, y + out[1] * added))))
    return tuple(found)


def round_edge(radius: float, wrap: float) -> tuple[float, float]:
    """Return the outer and the inner length of a round top pulled over its edge, mm: the cut edge, all the cloth that
    reaches beyond the rim (down the sides and under, `wrap`), and the rim of radius `radius` that it is laid round.

    >>> [round(v) for v in round_edge(180, 50)]
    [1445, 1131]
    """
    return 2 * math.pi * (radius + wrap), 2 * math.pi * radius


@dataclass(frozen=True)
class Fan:
    """Pleats drawn round an edge: the inner line, the outer one, each pleat's crease and its hidden edge."""

    inner: tuple[Point, ...]
    outer: tuple[Point, ...]
    creases: tuple[tuple[Point, Point], ...]
    hidden: tuple[tuple[Point, Point], ...]


def fan(made: Pleats, *, sweep: float = math.pi) -> Fan:
    """Return the pleats drawn as a fan over an arc, all laid the same way, from the middle out."""
    radius = made.inner / sweep
    far = made.outer / sweep
    start = math.pi / 2 + sweep / 2

    def at(share: float, reach: float) -> Point:
        angle = start - sweep * share
        return reach * math.cos(angle), reach * math.sin(angle)

    inner = tuple(at(k / 48, radius) for k in range(49))
    outer = tuple(at(k / 48, far) for k in range(49))
    creases, hidden = [], []
    width = min(0.9, made.deep / made.apart) / made.count
    for k in range(made.count):
        share = (k + 0.5) / made.count
        creases.append((at(share, radius), at(share, far)))
        hidden.append((at(share + width * 0.5, radius), at(share + width, far)))
    return Fan(inner, outer, tuple(creases), tuple(hidden))
