"""Pieces and strips moved together: where strips cost length, each is one more piece of a search that goes on from the
lay.

Strips are cut from what the pieces leave (`construct/strips.py`), and a lay whose pieces alone end soonest does not
leave its waste where strips need it. So the strips of the best lay become pieces of their own, as long as they are,
that keep no gap between each other, and all are pressed and squeezed together. How long each strip is changes only
when they are cut anew.
"""

from __future__ import annotations

import time
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from zonatome.core.lay.cancel import Cancelled, IsCancelled
from zonatome.core.lay.engines.local_search import SEARCHERS, WORK_A_SECOND, watched
from zonatome.core.lay.engines.protocol import Found
from zonatome.core.lay.geometry.nesting_table import NestingTable, table_seconds
from zonatome.core.lay.request import Lay, LayRequest, PieceAsk, Placement, StripCut
from zonatome.core.lay.search.roll import RollSearcher
from zonatome.core.lay.search.searcher import BestExchange
from zonatome.core.outline import rectangle

# no piece's name begins so
STRIP = "\0strip"
TURNED = "\0turned"
TABLE_SHARE = 0.1  # of the time that the table of pieces and strips may take
MOST_STRIPS = 60
MUCH = 0.35  # of a first lay's waste: a good one leaves half of that, and not all of it is where a strip fits


@dataclass(frozen=True)
class Together:
    """What lies where after pieces and strips were moved."""

    placements: Found
    strips: tuple[StripCut, ...]


@dataclass(frozen=True)
class _Lying:
    """A request without strips, where all of its pieces lie, and which placement those stand for that go by another
    name.
    """

    request: LayRequest
    placements: Found
    named: dict[tuple[str, int], Placement]


def may_move(request: LayRequest, lay: Lay, *, seconds: float) -> bool:
    """Say whether strips are worth a search of so many seconds: on a roll, where a first lay's waste is not much more
    than they take.

    The table of the pieces must be soon made, and none be pinned that may be turned any way.
    """
    if (
        not request.strips
        or request.on_panels
        or not request.pieces
        or any(request.by_id[p.piece].turns is None for p in request.pinned)
    ):
        return False
    end = max(p.on_cloth(request.by_id[p.piece]).bounds[2] for p in lay.placements)
    waste = end * request.roll.usable - sum(p.outline.area * p.count for p in request.pieces)
    much = sum(s.least_area for s in request.strips) > MUCH * waste
    return much and table_seconds(_as_they_lie(request, lay.placements).request) < TABLE_SHARE * seconds


def moved_together(
    request: LayRequest, lay: Lay, *, seconds: float, effort: float, seed: int, stopped: IsCancelled
) -> Iterator[Together | None]:
    """Yield what the pieces and strips of a lay come to when they are moved together, each on a shorter roll than the
    last; None at times.

    `seconds`, `effort`, `seed` and `stopped` are as in `Engine`. Yields nothing where a piece lies in a turn that the
    table lacks.
    """
    begun = time.monotonic()
    if len(lay.strips) > MOST_STRIPS:
        return
    whole = _with_strips(request, lay)
    try:
        ways = NestingTable(whole.request, stopped=lambda: stopped() or time.monotonic() > begun + seconds)
    except Cancelled:
        return
    at = ways.where(whole.placements)
    if at is None:
        return
    stop, exchange = np.zeros(1, dtype=np.int64), BestExchange(SEARCHERS)
    work, until = WORK_A_SECOND * effort, begun + seconds
    searchers = [
        RollSearcher(ways, seed=seed * SEARCHERS + k, work=work, until=until, stop=stop, exchange=exchange)
        for k in range(SEARCHERS)
    ]
    first = searchers[0].measured(*at)
    for found in watched(
        ways, searchers, lambda s: s.go_on(first), stop=stop, stopped=lambda: stopped() or time.monotonic() > until
    ):
        yield None if found is None else _apart(whole, found, lay.strips)


def _as_they_lie(request: LayRequest, placements: Found) -> _Lying:
    """The request without strips, and where its pieces lie; pieces that may be turned any way are told apart by how
    they lie.
    """
    kept = {p.id: p for p in request.pieces if p.turns is not None}
    turned: dict[tuple[str, float], list[Placement]] = {}
    for placement in placements:
        if placement.piece not in kept:
            turned.setdefault((placement.piece, placement.turn_degrees), []).append(placement)
    pieces = list(kept.values())
    named: dict[tuple[str, int], Placement] = {}
    for number, ((piece, degrees), found) in enumerate(turned.items()):
        ask = replace(request.by_id[piece], id=f"{TURNED}{number}", count=len(found), turns=(degrees,))
        pieces.append(ask)
        named |= {(ask.id, copy): placement for copy, placement in enumerate(found, 1)}
    lying = [p for p in placements if p.piece in kept]
    lying += [replace(p, piece=piece, copy=copy) for (piece, copy), p in named.items()]
    return _Lying(replace(request, pieces=tuple(pieces), strips=()), tuple(lying), named)


def _with_strips(request: LayRequest, lay: Lay) -> _Lying:
    """As `_as_they_lie`, with every strip of a lay as a piece."""
    found = _as_they_lie(request, lay.placements)
    asks = {s.id: s for s in request.strips}
    pieces, lying = list(found.request.pieces), list(found.placements)
    for number, cut in enumerate(lay.strips):
        ask = asks[cut.strip]
        piece = PieceAsk(f"{STRIP}{number}", rectangle(cut.length, ask.width), 1, ask.turns, touches=True)
        pieces.append(piece)
        lying.append(_lying(piece, cut))
    return _Lying(replace(found.request, pieces=tuple(pieces)), tuple(lying), found.named)


def _lying(piece: PieceAsk, cut: StripCut) -> Placement:
    """Where a strip lies, as a piece: in the one of its turns that brings its outline."""
    x0, y0, _, _ = cut.outline.bounds
    found = []
    for turn in piece.turns or ():
        left, low, _, _ = piece.outline.turned(turn).bounds
        found.append(Placement(piece.id, 1, x0 - left, y0 - low, turn))
    return min(found, key=lambda p: p.on_cloth(piece).polygon.symmetric_difference(cut.outline.polygon).area)


def _apart(whole: _Lying, found: Found, before: tuple[StripCut, ...]) -> Together:
    """Pieces and strips told apart again, under their own names."""
    lying = {
        int(p.piece.removeprefix(STRIP)): p.on_cloth(whole.request.by_id[p.piece])
        for p in found
        if p.piece.startswith(STRIP)
    }
    strips = tuple(replace(cut, outline=lying[number]) for number, cut in enumerate(before))
    pieces = []
    for p in found:
        if not p.piece.startswith(STRIP):
            mine = whole.named.get((p.piece, p.copy))
            pieces.append(replace(p, piece=mine.piece, copy=mine.copy) if mine else p)
    return Together(tuple(pieces), strips)
