"""Laying by hand: a piece moved, turned, mirrored, pinned; what is wrong then; snapping to motif, neighbours, selvage
and cut end.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np

from zonatome.core.errors import BadInput
from zonatome.core.lay.check import Fault, examined
from zonatome.core.lay.request import Lay, LayRequest, Placement, StripCut
from zonatome.core.lay.table.cut_sheet import table_for
from zonatome.core.outline import degrees_apart
from zonatome.core.tolerances import SAME_LENGTH
from zonatome.core.units import Units, format_length

if TYPE_CHECKING:
    from zonatome.core.lay.geometry.nesting_table import NestingTable

REACH = 30.0  # mm within which a piece that is let go snaps to a place where it fits


@dataclass(frozen=True)
class Handwork:
    """A lay under the hand: where everything lies, which pieces are pinned."""

    placements: tuple[Placement, ...]
    pinned: frozenset[str] = frozenset()  # keys, `piece:copy`

    def placed(self, key: str) -> Placement:
        """Return one piece's placement. Raises BadInput for a key that is not there."""
        for placement in self.placements:
            if key_of(placement) == key:
                return placement
        raise BadInput("key", key, "a piece of this lay")

    def with_placed(self, placement: Placement) -> Handwork:
        """Return it with one piece lying elsewhere."""
        key = key_of(placement)
        return replace(self, placements=tuple(placement if key_of(p) == key else p for p in self.placements))

    def toggled(self, key: str) -> Handwork:
        """Return it with a piece pinned, or let go."""
        self.placed(key)
        return replace(self, pinned=self.pinned ^ {key})

    def pins(self) -> tuple[Placement, ...]:
        """Return the pinned placements."""
        return tuple(p for p in self.placements if key_of(p) in self.pinned)


def key_of(placement: Placement) -> str:
    """Return what names a piece's copy, as the check names it."""
    return f"{placement.piece}:{placement.copy}"


def moved(
    request: LayRequest, work: Handwork, key: str, along: float, across: float, *, ways: NestingTable | None = None
) -> Handwork:
    """Return the lay with a piece moved by so much; with `ways` it snaps to the nearest place within REACH where it
    fits.

    Raises BadInput for a pinned piece, an unknown key and a move that is no finite number or beyond 100 m.
    """
    if not (math.isfinite(along) and math.isfinite(across) and max(abs(along), abs(across)) < 100_000):
        raise BadInput("move", (along, across), "millimetres along and across, at most 100 m")
    placement = _free(work, key)
    there = _on_its_panel(request, replace(placement, x=placement.x + along, y=placement.y + across))
    return work.with_placed(snapped(work, there, ways) if ways else there)


def _on_its_panel(request: LayRequest, placement: Placement) -> Placement:
    """A placement that was moved over another panel, as the panels lie beside each other on the table,
    is on that one.
    """
    if not request.on_panels:
        return placement
    table = table_for(request, 0.0)
    x0, _, x1, _ = placement.on_cloth(request.by_id[placement.piece]).bounds
    (here_x, here_y), panel = (
        table.shifts[placement.panel],
        table.panel_at((x0 + x1) / 2 + table.shifts[placement.panel][0]),
    )
    there_x, there_y = table.shifts[panel]
    return replace(placement, x=placement.x + here_x - there_x, y=placement.y + here_y - there_y, panel=panel)


def turned(request: LayRequest, work: Handwork, key: str) -> Handwork:
    """Return the lay with a piece in its next turn, about its middle. Raises BadInput where it has one turn only."""
    placement = _free(work, key)
    turns = request.by_id[placement.piece].tried_turns
    if len(turns) < 2:
        raise BadInput(
            "turn", placement.piece, "a piece that may lie in more than one turn: nap or pattern holds this one"
        )
    now = min(range(len(turns)), key=lambda k: degrees_apart(placement.turn_degrees, turns[k]))
    return work.with_placed(
        _about_its_middle(request, placement, replace(placement, turn_degrees=turns[(now + 1) % len(turns)]))
    )


def mirrored(request: LayRequest, work: Handwork, key: str) -> Handwork:
    """Return the lay with a piece as its own mirror image. Raises BadInput where it may not be."""
    placement = _free(work, key)
    if not request.by_id[placement.piece].flip:
        raise BadInput("flip", placement.piece, "a piece that may be cut as its mirror image")
    return work.with_placed(_about_its_middle(request, placement, replace(placement, flip=not placement.flip)))


def _about_its_middle(request: LayRequest, before: Placement, after: Placement) -> Placement:
    old, new = (p.on_cloth(request.by_id[p.piece]).bounds for p in (before, after))
    return replace(
        after, x=after.x + (old[0] + old[2] - new[0] - new[2]) / 2, y=after.y + (old[1] + old[3] - new[1] - new[3]) / 2
    )


def _free(work: Handwork, key: str) -> Placement:
    placement = work.placed(key)
    if key in work.pinned:
        raise BadInput("key", key, "a piece that is not pinned; let it go first")
    return placement


def snapped(work: Handwork, placement: Placement, ways: NestingTable, *, reach: float = REACH) -> Placement:
    """Return a placement at the nearest place where the piece fits, on its motif; where there is none, the nearest
    motif, or as it is.
    """
    from zonatome.core.lay.kernel.nearest import Wanted, nearest_free  # noqa: PLC0415 compiled code: only where a hand lets go
    from zonatome.core.lay.kernel.tables import Lying  # noqa: PLC0415 compiled code: only where it is wanted

    number = next(k for k, p in enumerate(ways.request.pieces) if p.id == placement.piece)
    way = next(
        (
            k
            for k in ways.of_piece[number]
            if degrees_apart(ways.ways[k].turn_degrees, placement.turn_degrees) < 1e-6
            and ways.ways[k].flip == placement.flip
        ),
        None,
    )
    if way is None:
        return placement  # a turn that the table leaves out because another looks the same
    along, across = ways.panel_starts[placement.panel]
    corner = ways.ways[way].corner
    others = [p for p in work.placements if key_of(p) != key_of(placement)]
    at = [(p, _way_of(ways, p)) for p in others]
    known = [(p, w) for p, w in at if w is not None]
    x = np.array([p.x + ways.ways[w].corner[0] + ways.panel_starts[p.panel][0] for p, w in known])
    y = np.array([p.y + ways.ways[w].corner[1] + ways.panel_starts[p.panel][1] for p, w in known])
    which = np.array([w for _, w in known], dtype=np.int64)
    wanted = Wanted(way, placement.x + corner[0] + along, placement.y + corner[1] + across, reach)
    found_x, found_y, fits = nearest_free(ways.table, wanted, Lying(x, y, which))
    if not fits and not ways.table.bound[way].any():
        return placement
    return replace(placement, x=found_x - corner[0] - along, y=found_y - corner[1] - across)


def _way_of(ways: NestingTable, placement: Placement) -> int | None:
    for number, piece in enumerate(ways.request.pieces):
        if piece.id == placement.piece:
            for k in ways.of_piece[number]:
                turn = degrees_apart(ways.ways[k].turn_degrees, placement.turn_degrees)
                if turn < 1e-6 and ways.ways[k].flip == placement.flip:
                    return k
    return None


def judged(request: LayRequest, work: Handwork, strips: Sequence[StripCut] = ()) -> tuple[Lay, list[Fault]]:
    """Return the lay with its figures, and what is wrong with it. Strips are laid only where the pieces lie right.

    `strips` are those of the lay it began with: they stay as long as they still may, and cutting anew makes no shorter
    lay.
    """
    from zonatome.core.lay.lay import feasible_part, finished  # noqa: PLC0415 compiled code: only where it is wanted

    bare = finished(feasible_part(replace(request, strips=(), pinned=())), work.placements, method="by hand")
    wrong = examined(replace(request, strips=(), pinned=()), bare)
    if wrong or not request.strips:
        return bare, wrong
    free = replace(request, pinned=())
    anew = finished(feasible_part(free), work.placements, method="by hand")
    if strips and not request.on_panels:
        as_before = finished(feasible_part(free), work.placements, method="by hand", strips=strips)
        if as_before.length < anew.length and not examined(free, as_before):
            return as_before, []
    return anew, []


def beside_words(lay: Lay, stands: float | None, units: Units) -> str:
    """Return how a lay by hand compares with the length in mm of the one that stands, in words; "" where none does."""
    if lay.on_panels:
        return "on what is in the store"
    if stands is None:
        return ""
    longer = lay.length - stands
    if longer > SAME_LENGTH:
        return f"{format_length(longer, units, 'small')} longer than the lay that stands"
    return ("shorter than" if longer < -SAME_LENGTH else "as long as") + " the lay that stands"


def with_pins(request: LayRequest, placements: Sequence[Placement]) -> LayRequest:
    """Return the request with these pieces staying where they lie; the rest is laid round them."""
    return replace(request, pinned=tuple(placements))
