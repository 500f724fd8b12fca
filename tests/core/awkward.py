"""Awkward shapes, used everywhere, and how two outlines are compared."""

from __future__ import annotations

import math

from hypothesis import assume
from hypothesis import strategies as st
from shapely.geometry import Polygon

from zonatome.core.outline import Outline, outline_of

SLIVER = outline_of([(0, 0), (900, 0), (900, 6), (0, 4)])
NOTCHED = outline_of([(0, 0), (500, 0), (500, 400), (300, 400), (300, 180), (200, 180), (200, 400), (0, 400)])
LOPSIDED = outline_of([(0, 0), (420, 30), (510, 380), (130, 520)])
SHARP = outline_of([(0, 0), (600, 0), (40, 60)])
STEP_ALONG_A_LINE = outline_of([(0, 0), (100, 0), (200, 0), (200, 100), (0, 100)])
DISC = outline_of([(180 * math.cos(2 * math.pi * k / 40), 180 * math.sin(2 * math.pi * k / 40)) for k in range(40)])
ALL = {
    "sliver": SLIVER,
    "notched": NOTCHED,
    "lopsided": LOPSIDED,
    "sharp": SHARP,
    "step along a line": STEP_ALONG_A_LINE,
    "disc": DISC,
}


def assert_same_outline(one: Outline, other: Outline, *, within: float = 0.01) -> None:
    """Fail unless no point of either lies farther than `within` mm from the other."""
    apart = max(
        one.polygon.exterior.hausdorff_distance(other.polygon.exterior),
        other.polygon.exterior.hausdorff_distance(one.polygon.exterior),
    )
    assert apart <= within, f"{apart:.3f} mm apart"


@st.composite
def stars(draw: st.DrawFn) -> Outline:
    """Simple polygons of 3 to 12 corners, convex or not: one corner in every sector round a middle."""
    count = draw(st.integers(3, 12))
    reach = draw(st.lists(st.floats(60, 600), min_size=count, max_size=count))
    turn = draw(st.floats(0, 1))
    points = [
        (r * math.cos(2 * math.pi * (k + turn) / count), r * math.sin(2 * math.pi * (k + turn) / count))
        for k, r in enumerate(reach)
    ]
    return outline_of(points)


@st.composite
def with_arcs(draw: st.DrawFn) -> Outline:
    """Four-sided outlines of which some sides bulge out or in as an arc, in short straight steps."""
    width, height = draw(st.floats(200, 800)), draw(st.floats(200, 800))
    corners = [
        (0.0, 0.0),
        (width, draw(st.floats(-40, 40))),
        (width - draw(st.floats(0, 80)), height),
        (draw(st.floats(0, 80)), height),
    ]
    points = []
    for (ax, ay), (bx, by) in zip(corners, corners[1:] + corners[:1], strict=True):
        bulge = draw(st.sampled_from([0.0, 0.0, 0.08, -0.08, 0.2]))
        count = 1 if bulge == 0 else 14
        for k in range(count):
            share = k / count
            out = 4 * bulge * share * (1 - share)
            points.append((ax + (bx - ax) * share + (by - ay) * out, ay + (by - ay) * share - (bx - ax) * out))
    assume(Polygon(points).is_valid)  # a long side may bulge in farther than the piece is wide
    return outline_of(points)
