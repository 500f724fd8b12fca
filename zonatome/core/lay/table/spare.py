"""Whether the cloth that is left covers one piece of a set once more: a set is as good as its worst."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from zonatome.core.lay.request import LayRequest, Panels

MOST_LOOKED_AT = 8  # pieces of cloth, the largest


def no_room_for(request: LayRequest, per_piece: Mapping[str, int], left: Panels) -> dict[str, int]:
    """Return how many of which panels of one piece of furniture find no room on the cloth that is left; nothing: it
    can be redone.

    `request` is of the whole set, `per_piece` how many of each panel one piece of furniture has, `left` what lies in
    the store. Laid in rows, so a search may find room where this finds none, never the other way about. Source: trade
    rule: when one piece of a matched set tears and no cloth is left, all of them are redone.
    """
    pieces = tuple(replace(p, count=per_piece[p.id]) for p in request.pieces if per_piece.get(p.id))
    largest = sorted(range(len(left.outlines)), key=lambda k: -left.outlines[k].area)[:MOST_LOOKED_AT]
    flaws = tuple(replace(f, panel=largest.index(f.panel)) for f in left.flaws if f.panel in largest)
    repeats = tuple(left.repeats[k] for k in largest) if left.repeats else ()
    kept = Panels(tuple(left.outlines[k] for k in largest), flaws, repeats)
    if not kept.outlines or not pieces:
        return {p.id: p.count for p in pieces}
    from zonatome.core.lay.lay import easy_lay  # noqa: PLC0415 compiled code: only where cloth is left

    return dict(easy_lay(LayRequest(kept, request.gap, pieces)).unplaced)
