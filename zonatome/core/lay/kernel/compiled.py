"""How this folder is compiled: everything in it is, and all that is compiled lies in it.

The inner functions do without numba's count of references. It takes two atomic operations for every array that is
looked at, which were more than half of the search's time, and two threads wait for each other at them. So such a
function may allocate nothing: arrays to work in are handed in by the one that is called from Python.
"""

from numba import config, njit

from zonatome.core.lay.compiled_folder import compiled_folder

config.CACHE_DIR = str(compiled_folder())  # before anything is compiled: numba looks there for each function

COMPILED = {"cache": True, "nogil": True, "_nrt": False}
ALLOCATING = {"cache": True, "nogil": True}


@njit("float64(float64)", **COMPILED)
def _ready(x: float) -> float:
    """Nothing: that it is compiled here has numba set itself up on import, and not when a first lay is waited for."""
    return x
