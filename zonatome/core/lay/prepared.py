"""Whether the search is compiled on this machine yet, and which lays are worked out while one waits. Imports nothing that is compiled."""

from __future__ import annotations

import contextlib
import hashlib
from functools import lru_cache
from importlib.metadata import version
from pathlib import Path

from zonatome.core.lay.request import LayRequest

COMPILED = (
    "kernel/compiled",
    "kernel/scan",
    "geometry/no_fit",
    "geometry/every_pair",
    "search/compaction",
    "search/repeated_sets",
    "construct/strips",
)
MOST_PIECES, MOST_KINDS, MOST_POINTS = 200, 80, 4_000  # a first lay of more takes longer than a second
MOST_STRIPS = 100_000.0  # mm of strips in all


@lru_cache(maxsize=1)
def _mark() -> Path:
    """The file that says that these very sources are compiled with this numba."""
    here = Path(__file__).parent
    sources = b"".join((here / f"{name}.py").read_bytes() for name in COMPILED)
    told = hashlib.sha256(sources + version("numba").encode() + version("numpy").encode()).hexdigest()
    return here / "__pycache__" / f"compiled-{told[:20]}"


def is_prepared() -> bool:
    """Whether the search's compiled code lies ready."""
    return _mark().exists()


def prepare() -> None:
    """Compile what is not compiled yet, in about a minute; costs nothing where it is."""
    if is_prepared():
        return
    from zonatome.core.lay.precompile import warm

    warm()
    with contextlib.suppress(OSError):  # a folder that can't be written to: compiled code is then kept elsewhere
        _mark().parent.mkdir(exist_ok=True)
        _mark().touch()


def is_quick(request: LayRequest) -> bool:
    """Whether a first lay of this request stands within a second, once the search is prepared."""
    points = sum(len(p.outline.points) for p in request.pieces) + sum(len(f.outline.points) for f in request.flaws)
    strips = sum(s.total for s in request.strips)
    return request.piece_count <= MOST_PIECES and len(request.pieces) <= MOST_KINDS and points <= MOST_POINTS and strips <= MOST_STRIPS


if __name__ == "__main__":
    prepare()
