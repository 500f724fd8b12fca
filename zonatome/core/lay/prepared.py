"""Whether the search is compiled on this machine yet, and which lays are worked out while one waits.

Imports nothing that is compiled.
"""

from __future__ import annotations

from zonatome.core.lay.compiled_folder import is_all_compiled
from zonatome.core.lay.request import LayRequest

MOST_PIECES = 200  # a first lay of more takes longer than a second
MOST_KINDS = 80  # of different pieces: the same
MOST_POINTS = 4_000  # of all outlines: the same
MOST_STRIPS = 100_000.0  # mm of strips in all


def is_prepared() -> bool:
    """Whether the search's compiled code lies ready."""
    return is_all_compiled()


def is_quick(request: LayRequest) -> bool:
    """Whether a first lay of this request stands within a second, once the search is prepared."""
    points = sum(len(p.outline.points) for p in request.pieces) + sum(len(f.outline.points) for f in request.flaws)
    strips = sum(s.total for s in request.strips)
    return (
        request.piece_count <= MOST_PIECES
        and len(request.pieces) <= MOST_KINDS
        and points <= MOST_POINTS
        and strips <= MOST_STRIPS
    )
