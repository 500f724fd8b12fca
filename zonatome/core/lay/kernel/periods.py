"""How far along a lay must be moved to lie wholly behind itself."""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit

from zonatome.core.lay.kernel.compiled import COMPILED
from zonatome.core.lay.kernel.figures import farthest
from zonatome.core.lay.kernel.tables import FAR


@njit(**COMPILED)
def on_repeat(table: Any, way: Any, shift: float) -> float:
    """Return the least shift in mm, from the given one up, that leaves all that is bound along on its motif."""
    for w in way:
        if table.bound[w, 0] and table.repeat[0] > 0:
            return float(np.ceil(shift / table.repeat[0] - 1e-9) * table.repeat[0])
    return shift


@njit(**COMPILED)
def period(table: Any, x: Any, y: Any, way: Any) -> float:
    """Return by how many mm along a lay must be moved at the least to lie wholly behind itself, on its repeat too."""
    least = 0.0
    for i in range(x.shape[0]):
        for j in range(x.shape[0]):
            right = farthest(table, way[i], y[i] - y[j], way[j])
            if right > -FAR:
                least = max(least, right + x[j] - x[i])
    return on_repeat(table, way, least)
