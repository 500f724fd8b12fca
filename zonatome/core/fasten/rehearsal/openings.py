"""What posts and the cuts toward them open in a sheet, and the seams that hold it. In mm, in the panel's own frame."""

from __future__ import annotations

import math
from dataclasses import dataclass

import shapely

from zonatome.core.fasten.relief import Post, ReliefCut
from zonatome.core.outline import Outline, Point
from zonatome.core.trace.shape import Shape

DEEPEST = 0.6  # of the way from the cut edge that a post takes up at most
SEWN = ("sewn", "zip", "on_fold")  # ways to hold an edge at which another panel pulls back
CLOSED = ("tack_strip", "gripper_strip", "glued", "cord_hem")  # those at which the frame does
NEIGHBOUR, STRIP = 150.0, 8.0  # mm of cloth between such an edge and what is fast
WIDE = 0.5  # mm of a slit where it parts a thread


@dataclass(frozen=True)
class Opening:
    """Where a post stands in the sheet, its four corners, and the slit from the cut edge to it."""

    hole: tuple[Point, ...]
    slit: tuple[Point, Point]


def opening_of(cut: ReliefCut, post: Post) -> Opening:
    """Return what a relief cut toward a post opens: the post's own square, from where the cut ends back toward the cut
    edge, in which no cloth carries a pull, and the slit that leads to it. The arms of a Y lie within that square.

    Source: the trade rule of relief cuts, after which the cloth lies at both sides of the post, and stops short of its
    face.
    """
    start = cut.lines[0][0]
    away = math.dist(start, post.at)
    along = ((post.at[0] - start[0]) / away, (post.at[1] - start[1]) / away)
    across = (-along[1], along[0])
    inner = max((x - start[0]) * along[0] + (y - start[1]) * along[1] for _, (x, y) in cut.lines)
    outer = inner - min(post.width, DEEPEST * inner)
    half = post.width / 2

    def at(far: float, aside: float) -> Point:
        return (start[0] + along[0] * far + across[0] * aside, start[1] + along[1] * far + across[1] * aside)

    hole = (at(outer, -half), at(outer, half), at(inner, half), at(inner, -half))
    return Opening(hole, (start, at(outer, 0.0)))


def left_whole(
    edge: Outline, holes: tuple[tuple[Point, ...], ...], slits: tuple[tuple[Point, Point], ...]
) -> shapely.Geometry:
    """Return what posts and cuts leave of a panel: over it threads run."""
    gone = [shapely.Polygon(hole) for hole in holes]
    gone += [shapely.LineString(slit).buffer(WIDE, cap_style="flat") for slit in slits]
    return edge.polygon.difference(shapely.union_all(gone)) if gone else edge.polygon


@dataclass(frozen=True)
class Seam:
    """An edge at which something else holds a panel, and how much cloth lies between it and what is fast, mm: so much
    it gives.
    """

    points: tuple[Point, ...]
    away: float = NEIGHBOUR


def seams_of(shape: Shape) -> tuple[Seam, ...]:
    """Return the edges of a panel that hold it without staples: those that are sewn to a neighbour, which gives, and
    those that a strip or glue closes, which does not.
    """
    return tuple(
        Seam(shape.edge_points(n), NEIGHBOUR if edge.join in SEWN else STRIP)
        for n, edge in enumerate(shape.edges)
        if edge.join in (*SEWN, *CLOSED)
    )
