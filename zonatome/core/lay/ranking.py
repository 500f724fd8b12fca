"""Which of two lays is the better one, and whether none can be. Imports nothing of the search: every page asks it."""

from __future__ import annotations

from zonatome.core.lay.hide_depth import edge_nearness
from zonatome.core.lay.request import Lay, LayRequest, Panels

SHORTER = 0.05  # mm by which a lay must be shorter to be called better
PROVEN = (
    0.5  # mm from what is proven, at which a lay is the shortest: bounds keep off by hairs, and no shears cut finer
)
WIDER = 10.0  # mm2 by which one must cover more
DEEPER = 0.01  # by how much nearer to the heart pieces with priority must lie, of the way to the edge


def is_shortest(lay: Lay) -> bool:
    """Return whether no lay can be shorter: all is laid, on a roll, and within PROVEN of what is proven."""
    return not lay.on_panels and lay.is_whole and lay.length <= lay.bound + PROVEN


def better(request: LayRequest, lay: Lay, than: Lay) -> bool:
    """Whether a lay is better: on panels one that covers more, as much on fewer, or has the best of the hide; on a
    roll a shorter one.
    """
    if isinstance(request.cloth, Panels):
        mine, other = _left_out(request, lay), _left_out(request, than)
        if abs(mine - other) > WIDER or abs(lay.used - than.used) > 1e-4:
            return mine < other - WIDER or (mine < other + WIDER and lay.used > than.used)
        return edge_nearness(request, lay.placements) < edge_nearness(request, than.placements) - DEEPER
    return lay.length < than.length - SHORTER


def rank(request: LayRequest, lay: Lay) -> float:
    """Return a number by which lays of one request can be told apart later, the less the better.

    On a roll its length in mm; on panels the area in cm2 that found no room, a thousandth for each whole of the panels
    not used, and a millionth for pieces with priority that lie at the edge.
    """
    if not isinstance(request.cloth, Panels):
        return lay.length
    return _left_out(request, lay) / 100 + (1 - lay.used) / 1000 + edge_nearness(request, lay.placements) / 1e6


def _left_out(request: LayRequest, lay: Lay) -> float:
    """The area in mm2 of what is asked for and finds no room; a strip that is longer than it need be is no more cover
    for that.
    """
    whole = sum(p.outline.area * p.count for p in request.pieces) + sum(s.least_area for s in request.strips)
    pieces = sum(request.by_id[p.piece].outline.area for p in lay.placements)
    return max(0.0, whole - pieces - sum(s.outline.area for s in lay.strips))
