"""What lands on a panel: the cloth's frame as it lies on the finished panel,
so that a pattern can be drawn in place.
"""

from __future__ import annotations

from dataclasses import replace

from zonatome.core.lay.request import LayRequest, Placement
from zonatome.core.outline import Point, turn_of
from zonatome.core.trace.shape import Shape

Affine = tuple[float, float, float, float, float, float]  # a b c d e f: (x, y) goes to (a x + c y + e, b x + d y + f)


def on_the_panel(shape: Shape, placement: Placement) -> Affine:
    """Return how a point of the cloth's frame lies on the panel as one looks at it: y up, (0, 0) the middle of its
    finished line.

    `placement` is of a piece that was laid as `up_the_roll` turns the shape's cut line: the way from the cloth back to
    the piece, from there to the shape (X = y + its left end, Y = its upper end - x), and to its middle.
    """
    c, s = turn_of(placement.turn_degrees)
    way = -1.0 if placement.flip else 1.0
    # cloth to piece: p = F R^-1 (q - t)
    pa, pc, pe = c, s, -(c * placement.x + s * placement.y)
    pb, pd, pf = -s * way, c * way, -(-s * placement.x + c * placement.y) * way
    x0, _, _, y1 = shape.cut_line.bounds
    left, low, right, high = shape.outline.bounds
    dx, dy = x0 - (left + right) / 2, y1 - (low + high) / 2
    return pb, -pa, pd, -pc, pf + dx, dy - pe


def in_step(request: LayRequest, placement: Placement) -> Placement:
    """Return a placement moved from its panel's frame to where the first panel's motif stands as its own does: one
    tile draws both.
    """
    first, mine = request.repeat, request.repeat_on(placement.panel)
    if first is None or mine is None:
        return placement
    return replace(
        placement,
        x=placement.x + first.origin[0] - mine.origin[0],
        y=placement.y + first.origin[1] - mine.origin[1],
        panel=0,
    )


def turned_on_drawing(affine: Affine, quarters: int) -> Affine:
    """Return how the cloth's frame lies on a panel that the opened-out drawing has turned by so many quarters,
    anticlockwise.
    """
    k, s = turn_of(90.0 * (quarters % 4))
    a, b, c, d, e, f = affine
    return k * a - s * b, s * a + k * b, k * c - s * d, s * c + k * d, k * e - s * f, s * e + k * f


def moved_by(affine: Affine, at: Point) -> Point:
    """Return where an affine takes a point."""
    a, b, c, d, e, f = affine
    return a * at[0] + c * at[1] + e, b * at[0] + d * at[1] + f
