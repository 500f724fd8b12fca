"""Cloth that stretches: panels that are sewn snug are cut smaller, by the workroom's per cent, across or along as the
cloth gives.
"""

from __future__ import annotations

from zonatome.core.errors import BadInput
from zonatome.core.rules import USUAL, Rules
from zonatome.core.survey.kind import SEAMS
from zonatome.core.trace.shape import Shape

STRETCHES = ("", "across", "along", "both")


def snug_shape(shape: Shape, stretch: str, *, railroaded: bool = False, rules: Rules = USUAL) -> Shape:
    """Return a shape as it is cut from cloth that stretches so: shrunk across where both its sides are sewn, up where
    top and bottom are.

    `stretch` is the way the roll gives: across it, along it, or both; up the roll a panel's width lies across it.
    Allowances stay. Source: trade rule, a stretchy cover that must fit snugly is cut smaller. Raises BadInput for a
    stretch that is none.
    """
    if stretch not in STRETCHES:
        raise BadInput("stretch", stretch, "one of across, along, both, or nothing")
    across, up = stretch in ("across", "both"), stretch in ("along", "both")
    if railroaded:
        across, up = up, across
    share = 1 - rules["stretch"]
    x = share if across and _is_sewn(shape, "left", "right") else 1.0
    y = share if up and _is_sewn(shape, "top", "bottom") else 1.0
    return shape if x == y == 1.0 else shape.moved_by(lambda p: (p[0] * x, p[1] * y))


def _is_sewn(shape: Shape, *sides: str) -> bool:
    """Whether every edge on these sides is sewn, and each side has one; a round shape where its edge is."""
    if len(shape.edges) == 1:
        return shape.edges[0].join in SEAMS
    found = [[e for e in shape.edges if e.side == side] for side in sides]
    return all(edges and all(e.join in SEAMS for e in edges) for edges in found)
