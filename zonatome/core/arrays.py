"""The arrays of the core by what they hold: their shapes and units stand where they are used."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
SmallInts = NDArray[np.int32]
Bools = NDArray[np.bool_]
Seeds = NDArray[np.uint64]
