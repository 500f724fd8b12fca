"""A sheet of a rehearsal as it lies, in numpy's own open format: what was worked out once is not worked out again."""

from __future__ import annotations

import io
import zipfile
import zlib
from collections.abc import Sequence

import numpy as np

from zonatome.core.errors import BadInput
from zonatome.core.fasten.rehearsal.sheet import Pin, State

MOST_BYTES = 2_000_000


def write_sheet(state: State) -> bytes:
    """Return how far every place has moved and slid, and its staples, mm."""
    held = io.BytesIO()
    np.savez_compressed(held, moves=state.moves, slid=state.slid, held=state.held)
    return held.getvalue()


def read_sheet(content: bytes, pins: Sequence[Pin], places: int) -> State:
    """Return the sheet that was written, held by these staples. `places` is how many numbers its moves have. Raises
    BadInput for anything else.
    """
    wrong = BadInput("sheet", len(content), f"a sheet of {places // 2} places that {len(pins)} staples hold")
    if len(content) > MOST_BYTES:
        raise wrong
    try:
        with np.load(io.BytesIO(content), allow_pickle=False) as kept:
            moves, slid, held = (np.asarray(kept[name], dtype=float) for name in ("moves", "slid", "held"))
    except (OSError, EOFError, ValueError, KeyError, zipfile.BadZipFile, zlib.error):
        raise wrong from None
    if moves.shape != (places,) or slid.shape != (places,) or held.shape != (2 * len(pins),):
        raise wrong
    if not all(bool(np.isfinite(each).all()) for each in (moves, slid, held)):
        raise wrong
    return State(moves, slid, tuple(pins), held)
