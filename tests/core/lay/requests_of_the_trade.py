"""Lay requests like those of real jobs, made up."""

from __future__ import annotations

import math
import random

import shapely
from hypothesis import strategies as st
from shapely.geometry import LineString
from shapely.ops import split

from tests.core.awkward import stars
from zonatome.core.lay.request import Flaw, LayRequest, Panels, PieceAsk, Repeat, Roll, StripAsk
from zonatome.core.outline import outline_of, rectangle
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
    return LayRequest(
        ROLL, gap, tuple(PieceAsk(f"r{i}", rectangle(a, b), n, turns) for i, (a, b, n) in enumerate(sizes))
    )


@st.composite
def any_request(draw: st.DrawFn) -> LayRequest:
    """A few simple shapes, one-way, two-way or any quarter turn, with or without welt."""
    turns = draw(st.sampled_from([(0.0,), (0.0, 180.0), (0.0, 90.0, 180.0, 270.0)]))
    outlines = draw(st.lists(stars(), min_size=1, max_size=4))
    pieces = [PieceAsk(f"p{i}", o, draw(st.integers(1, 4)), turns) for i, o in enumerate(outlines)]
    strips = ()
    if draw(st.booleans()):
        ways = draw(st.sampled_from([("across",), ("along",), ("across", "along"), ("bias",)]))
        strips = (
            StripAsk("welt", draw(st.floats(20, 90)), draw(st.floats(300, 6000)), 40, draw(st.floats(200, 700)), ways),
        )
    return LayRequest(ROLL, draw(st.sampled_from([0.0, 3.0, 8.0])), tuple(pieces), strips)


def a_repeat() -> st.SearchStrategy[Repeat]:
    """A stripe, bars across, or a motif, straight or dropped."""
    step = st.floats(40, 700)
    origin = st.tuples(st.floats(-50, 900), st.floats(-50, 900))
    return st.one_of(
        st.builds(Repeat, st.none(), step, st.just(0.0), origin),
        st.builds(Repeat, step, st.none(), st.just(0.0), origin),
        st.builds(Repeat, step, step, st.sampled_from([0.0, 0.5]), origin),
    )


def flaws() -> st.SearchStrategy[tuple]:
    """Up to three small flaws."""
    spot = st.builds(
        lambda o, x, y: o.turned(20).moved(x, y), st.just(rectangle(40, 60)), st.floats(0, 1500), st.floats(100, 1200)
    )
    return st.lists(spot, max_size=3).map(tuple)


HIDE = outline_of(
    [
        (0, 300),
        (200, 60),
        (900, 0),
        (1500, 140),
        (1800, 90),
        (2100, 500),
        (2000, 900),
        (1600, 1000),
        (1500, 1300),
        (700, 1350),
        (150, 1100),
    ]
)


@st.composite
def any_cloth(draw: st.DrawFn) -> LayRequest:
    """Every family: a repeat with matched and free pieces, flaws, panels with a hide among them; flips and quarter
    turns.
    """
    asked = draw(any_request())
    family = draw(st.sampled_from(["repeat", "flaws", "repeat and flaws", "panels"]))
    repeat = draw(a_repeat()) if "repeat" in family else None
    pieces = []
    for piece in asked.pieces:
        matched = repeat is not None and draw(st.booleans())
        x0, y0, x1, y1 = piece.outline.bounds
        ways = (piece.turns or (0.0,))[:1] if repeat else piece.turns
        pieces.append(
            PieceAsk(
                piece.id, piece.outline, piece.count, ways, draw(st.booleans()) and not matched,
                ((x0 + x1) / 2, (y0 + y1) / 2) if matched else None, matched and draw(st.booleans()), matched,
            )
        )  # fmt: skip
    if family == "panels":
        panels = (rectangle(draw(st.floats(400, 1500)), 900), HIDE)[: draw(st.integers(1, 2))]
        marks = tuple(Flaw(0, f.moved(0, -100)) for f in draw(flaws()))
        return LayRequest(Panels(panels, marks), asked.gap, tuple(pieces), asked.strips)
    return LayRequest(
        Roll(1400, (12, 12), repeat, draw(flaws()) if "flaws" in family else ()), asked.gap, tuple(pieces), asked.strips
    )


def cut_apart(
    seed: int, pieces: int, *, slant: float = 0.35, jitter: float = 0.02, turns: tuple[float, ...] = (0.0,)
) -> LayRequest:
    """One sheet across the whole roll, 120 mm of it for each piece, cut apart by straight cuts; each corner measured a
    hair wrong.
    """
    chance = random.Random(seed)
    parts = [shapely.box(0, 0, 120 * pieces, ROLL.usable)]
    while len(parts) < pieces:
        parts.sort(key=lambda p: -p.area)
        part = parts.pop(0)
        x0, y0, x1, y1 = part.bounds
        angle = (math.pi / 2 if x1 - x0 > y1 - y0 else 0.0) + chance.uniform(-slant, slant)
        x = part.centroid.x + chance.uniform(-0.15, 0.15) * (x1 - x0)
        y = part.centroid.y + chance.uniform(-0.15, 0.15) * (y1 - y0)
        dx, dy = 1e5 * math.cos(angle), 1e5 * math.sin(angle)
        parts += list(split(part, LineString([(x - dx, y - dy), (x + dx, y + dy)])).geoms)
    chance.shuffle(parts)
    asks = []
    for number, part in enumerate(parts):
        x0, y0, _, _ = part.bounds
        points = [
            (x - x0 + chance.uniform(-jitter, jitter), y - y0 + chance.uniform(-jitter, jitter))
            for x, y in part.exterior.coords[:-1]
        ]
        asks.append(PieceAsk(f"p{number}", outline_of(points).turned(turns[-1]), 1, turns))
    return LayRequest(ROLL, 0.0, tuple(asks))
