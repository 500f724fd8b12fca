"""Lay requests like those of real jobs, made up."""

from __future__ import annotations

from hypothesis import strategies as st

from tests.core.awkward import stars
from zonatome.core.lay.request import LayRequest, PieceAsk, Roll, StripAsk
from zonatome.core.outline import rectangle
from zonatome.core.trace.by_tape import rounded_shape, trapezoid_shape

ROLL = Roll(1400, (12, 12))


def six_chairs(*, turns=(0.0, 180.0), gap=4.0, welt=False) -> LayRequest:
    """31 pieces and a bottom: six seats, inside backs, outside backs, twelve sides, one sample."""
    shapes = [
        ("seat", trapezoid_shape("s", 500, 560, 590, {}).outline, 6),
        ("inside-back", trapezoid_shape("b", 450, 500, 660, {}).outline, 6),
        ("outside-back", trapezoid_shape("o", 430, 470, 680, {}).outline, 6),
        ("side", trapezoid_shape("f", 150, 210, 470, {}).outline, 12),
        ("sample", rounded_shape("r", 220, 180, 60, {}).outline, 1),
    ]
    strips = (StripAsk("welt", 48, 9000, 40, 500, ("across", "along")),) if welt else ()
    return LayRequest(ROLL, gap, tuple(PieceAsk(n, o.turned(90), c, turns) for n, o, c in shapes), strips)


def rectangles(*sizes: tuple[float, float, int], gap=0.0, turns=(0.0,)) -> LayRequest:
    """Rectangles of length along, width across, count."""
    return LayRequest(ROLL, gap, tuple(PieceAsk(f"r{i}", rectangle(a, b), n, turns) for i, (a, b, n) in enumerate(sizes)))


@st.composite
def any_request(draw: st.DrawFn) -> LayRequest:
    """A few simple shapes, one-way, two-way or any quarter turn, with or without welt."""
    turns = draw(st.sampled_from([(0.0,), (0.0, 180.0), (0.0, 90.0, 180.0, 270.0)]))
    outlines = draw(st.lists(stars(), min_size=1, max_size=4))
    pieces = [PieceAsk(f"p{i}", o, draw(st.integers(1, 4)), turns) for i, o in enumerate(outlines)]
    strips = ()
    if draw(st.booleans()):
        ways = draw(st.sampled_from([("across",), ("along",), ("across", "along"), ("bias",)]))
        strips = (StripAsk("welt", draw(st.floats(20, 90)), draw(st.floats(300, 6000)), 40, draw(st.floats(200, 700)), ways),)
    return LayRequest(ROLL, draw(st.sampled_from([0.0, 3.0, 8.0])), tuple(pieces), strips)
