"""Stripes, checks and motifs: what a cloth's pattern binds, which panels it is centred on, and how it is drawn."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from zonatome.core.errors import BadInput
from zonatome.core.lay.request import PieceAsk, Repeat
from zonatome.core.outline import Point
from zonatome.core.survey.kind import Kind
from zonatome.core.trace.shape import Shape

PATTERNS = {
    "plain": "plain, or too fine to match",
    "stripe": "stripe along the roll",
    "check": "check, or motifs in straight rows",
    "half_drop": "motifs with a half drop",
}
PATTERNED = ("stripe", "check", "half_drop")  # come again across the roll
WITH_MOTIF = ("check", "half_drop")  # come again along it too


def repeat_of(pattern: str, *, along: float | None, across: float | None, first: Point = (0.0, 0.0)) -> Repeat | None:
    """Return the repeat of a cloth, None for a plain one. `first`: a motif's centre from the squared end and the right
    edge, y = 0.

    Raises BadInput where a pattern lacks a repeat that it needs.
    """
    if pattern not in PATTERNED:
        return None
    if across is None:
        raise BadInput("repeat_across", across, "how far it is from one motif or stripe to the next, across the roll")
    if pattern not in WITH_MOTIF:
        return Repeat(None, across, 0.0, (0.0, first[1]))
    if along is None:
        raise BadInput("repeat_along", along, "how far it is from one motif to the next, along the roll")
    return Repeat(along, across, 0.5 if pattern == "half_drop" else 0.0, first)


def centred_on(ask: PieceAsk, shape: Shape) -> PieceAsk:
    """Return a piece, lying up the roll, bound to the repeat by the middle of its finished line."""
    x0, _, _, y1 = shape.cut_line.bounds
    left, low, right, high = shape.outline.bounds
    at = (y1 - (low + high) / 2, (left + right) / 2 - x0)
    return replace(ask, anchor=at, match_along=True, match_across=True)


def following_on(ask: PieceAsk, shape: Shape, host: Shape) -> PieceAsk:
    """Return a piece, lying up the roll, bound to the repeat so that it goes on where its host ends: the same place
    across, the next along.

    `host` is centred on a motif, and its lower finished edge is sewn to this shape's upper one: on the host, half its
    height lies between the motif and that edge, so the motif's centre would lie as far above this shape's finished
    top.
    """
    x0, _, _, y1 = shape.cut_line.bounds
    left, _, right, high = shape.outline.bounds
    at = (y1 - high - host.outline.height / 2, (left + right) / 2 - x0)
    return replace(ask, anchor=at, match_along=True, match_across=True)


def follows(kind: Kind) -> dict[str, str]:
    """Return the panels that follow on from the front edge of a centred one, each with that one: front band, boxing, a
    front side.
    """
    found = {}
    for meeting in kind.meets:
        for (key, edge), (host, met) in (meeting.ends, meeting.ends[::-1]):
            part = kind.part(key)
            if kind.part(host).centred and met == "bottom" and edge == "top" and part.stands and not part.centred:
                found[key] = host
    return found


@dataclass(frozen=True)
class PatternTile:
    """One tile of a cloth's pattern, in the roll's frame: where it begins, its size, and closed figures in it."""

    x: float
    y: float
    width: float
    height: float
    figures: tuple[tuple[Point, ...], ...]


def tile_of(repeat: Repeat) -> PatternTile:
    """Return the tile that, laid side by side over the roll, shows where every motif stands.

    The motif's top is toward x = 0.
    """
    x, y = repeat.origin
    if repeat.along is None or repeat.across is None:
        step = repeat.across or repeat.along or 1.0
        bars = [(0.36, 0.64), (0.08, 0.11), (0.89, 0.92)]
        if repeat.across is None:
            return PatternTile(
                x - step / 2, 0.0, step, step, tuple(_bar(a * step, 0.0, b * step, step) for a, b in bars)
            )
        return PatternTile(0.0, y - step / 2, step, step, tuple(_bar(0.0, a * step, step, b * step) for a, b in bars))
    along, across = repeat.along, repeat.across
    size = 0.31 * min(along, across)
    if not repeat.drop:
        return PatternTile(x - along / 2, y - across / 2, along, across, _sprig(along / 2, across / 2, size))
    second = across * 1.5
    dropped = [_sprig(at, second, size) for at in (along * (0.5 + repeat.drop) % along + k * along for k in (-1, 0, 1))]
    figures = (*_sprig(along / 2, across / 2, size), *(f for group in dropped for f in group))
    return PatternTile(x - along / 2, y - across / 2, along, 2 * across, figures)


def _bar(x0: float, y0: float, x1: float, y1: float) -> tuple[Point, ...]:
    return ((x0, y0), (x1, y0), (x1, y1), (x0, y1))


def _sprig(x: float, y: float, size: float) -> tuple[tuple[Point, ...], ...]:
    """A sprig of sea holly: a stem, three pairs of leaves, a round head at its top."""
    figures = [_leaf(x + 0.9 * size, y, math.pi, 1.5 * size, 0.05)]
    for at, long in ((0.65, 0.72), (0.2, 0.62), (-0.2, 0.46)):
        for side in (-1, 1):
            figures.append(_leaf(x + at * size, y, math.pi - side * 0.95, long * size, 0.2))
    head = 0.2 * size
    figures.append(
        tuple(
            (x - 0.78 * size + head * math.cos(k * math.pi / 8), y + head * math.sin(k * math.pi / 8))
            for k in range(16)
        )
    )
    return tuple(figures)


def _leaf(x: float, y: float, angle: float, long: float, wide: float) -> tuple[Point, ...]:
    """A leaf from a point along an angle, as wide as a share of its length to either side."""
    c, s = math.cos(angle), math.sin(angle)
    rim = [(t / 6, wide * math.sin(math.pi * t / 6)) for t in range(7)] + [
        (t / 6, -wide * math.sin(math.pi * t / 6)) for t in range(5, 0, -1)
    ]
    return tuple((x + long * (c * a - s * b), y + long * (s * a + c * b)) for a, b in rim)
