"""Rows across the roll: what people chalk by hand, straight rips and easy to cut; also every search's first lay.

A row is as long as its longest piece. The longest piece left begins a row, and the rest of its width is
filled with the most cloth that fits, by a knapsack over whole millimetres.
"""

from __future__ import annotations

import math
from collections import Counter
from dataclasses import dataclass
from itertools import product

import numpy as np

from zonatome.core.lay.request import LayRequest, PieceAsk, Placement

# cells of all knapsacks together: what has more is filled by whole millimetres, and then in one way only, since a first
# lay is wanted at once
MOST_CELLS = 3e8
A_PIECE = 5_000  # cells that take as long as a piece does besides
BESIDE = 4  # pieces in a row, about
MOST_NEAR = 80  # different pieces that a row is filled from
WEIGHTS = (0.0, 0.5, 1.0, 2.0, 4.0)  # how much a row prefers long pieces over merely wide ones
WIDER = 1e-6  # of two fills as good as each other, take the one with the wider piece: small ones fit later rows


@dataclass(frozen=True)
class Box:
    """A piece in one turn, as the box it takes: length along, width across, where its corner lies."""

    piece: str
    turn_degrees: float
    length: float
    width: float
    corner: tuple[float, float]


def boxes_of(piece: PieceAsk, usable: float) -> tuple[Box, ...]:
    """Return the boxes of a piece in the turns that fit across the cloth, the shortest along the roll first."""
    made = []
    for turn in piece.tried_turns:
        lying = piece.outline.turned(turn)
        x0, y0, x1, y1 = lying.bounds
        if y1 - y0 <= usable + 1e-6:
            made.append(Box(piece.id, turn, x1 - x0, y1 - y0, (x0, y0)))
    return tuple(sorted(made, key=lambda box: (round(box.length, 3), box.turn_degrees)))


def unfit_pieces(request: LayRequest) -> tuple[PieceAsk, ...]:
    """Return the pieces that are wider than the cloth in every turn they may take."""
    return tuple(p for p in request.pieces if not boxes_of(p, request.roll.usable))


def rows_lay(request: LayRequest) -> tuple[Placement, ...]:
    """Return the shortest of several lays in rows. Pieces that fit in no turn are left out.

    Each way takes every piece either in its shortest or in its narrowest turn and fills rows with another
    preference for long pieces.
    """
    choices = {p.id: boxes_of(p, request.roll.usable) for p in request.pieces}
    picks = [lambda b: b[0]]
    if any(len(b) > 1 for b in choices.values()):
        picks.append(lambda b: min(b, key=lambda box: (round(box.width, 3), box.turn_degrees)))
    best: tuple[Placement, ...] = ()
    least = math.inf
    weights, grid = _pains(request, len(picks))
    for pick, weight in product(picks, weights):
        boxes = {key: pick(b) for key, b in choices.items() if b}
        rows = _fill(request, boxes, weight, grid)
        length = sum(max(box.length for box in row) for row in rows) + request.gap * max(0, len(rows) - 1)
        if length < least:
            least, best = length, _placed(request, rows)
    return best


def _pains(request: LayRequest, picks: int) -> tuple[tuple[float, ...], int]:
    """How many ways to try, and into how many parts of a millimetre a row's width is divided."""
    items = min(sum(min(p.count, 40) for p in request.pieces), MOST_NEAR)
    tries = request.piece_count / BESIDE * items * picks
    for weights, grid in ((WEIGHTS, 10), (WEIGHTS, 1)):
        if tries * len(weights) * (request.roll.usable * grid + A_PIECE) <= MOST_CELLS:
            return weights, grid
    return WEIGHTS[2:3], 1


def _fill(request: LayRequest, boxes: dict[str, Box], weight: float, grid: int) -> list[list[Box]]:
    left = Counter({p.id: p.count for p in request.pieces if p.id in boxes})
    order = sorted(left, key=lambda key: (-boxes[key].length, -boxes[key].width))
    rows: list[list[Box]] = []
    while order:
        lead = boxes[order[0]]
        left[lead.piece] -= 1
        near = [key for key in order if left[key]]
        if len(near) > MOST_NEAR:  # of very many different ones those about as long as the row, and the shortest
            near = [*near[: MOST_NEAR * 3 // 4], *near[-MOST_NEAR // 4 :]]
        filled = _knapsack(
            [(boxes[key], left[key]) for key in near], request.roll.usable - lead.width, request.gap, weight, grid
        )
        left.subtract(box.piece for box in filled)
        rows.append([lead, *filled])
        order = [key for key in order if left[key] > 0]
    return rows


def _knapsack(stock: list[tuple[Box, int]], room: float, gap: float, weight: float, grid: int) -> list[Box]:
    """The boxes that fill a row's room best; each needs its width and a gap, rounded up to parts of a mm, `grid` of
    them to one.
    """
    space = math.floor(room * grid + 1e-6)
    items = [box for box, count in stock for _ in range(min(count, int(room // max(1.0, box.width + gap)) + 1))]
    sizes = [math.ceil((box.width + gap) * grid - 1e-6) for box in items]
    best = np.zeros(max(space, 0) + 1)
    taken = np.zeros((len(items), best.size), dtype=bool)
    offers, least = np.empty_like(best), np.empty_like(best)
    for box, size, take in zip(items, sizes, taken, strict=True):
        if size < best.size:
            offer, over = offers[size:], least[size:]
            np.add(best[:-size], box.width * (1 + WIDER * box.width) * box.length**weight, out=offer)
            np.add(best[size:], 1e-9, out=over)
            np.greater(offer, over, out=take[size:])
            np.copyto(best[size:], offer, where=take[size:])
    row, at = [], best.size - 1
    for box, size, take in zip(reversed(items), reversed(sizes), taken[::-1], strict=True):
        if take[at]:
            row.append(box)
            at -= size
    return sorted(row, key=lambda box: -box.length)


def _placed(request: LayRequest, rows: list[list[Box]]) -> tuple[Placement, ...]:
    copies: Counter[str] = Counter()
    placements = []
    x = 0.0
    for row in rows:
        y = request.roll.low
        for box in row:
            copies[box.piece] += 1
            placements.append(
                Placement(box.piece, copies[box.piece], x - box.corner[0], y - box.corner[1], box.turn_degrees)
            )
            y += box.width + request.gap
        x += max(box.length for box in row) + request.gap
    return tuple(placements)
