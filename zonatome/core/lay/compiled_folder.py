"""Where the search's compiled code is kept. Imports nothing that is compiled, so every page may ask.

numba keeps compiled code beside each source file and looks at that file alone: a function whose callee, or whose
constant, changed in another file would go on as before. So the code is kept in a folder named after all files of the
kernel: what they hold, where they lie and when they were written (numba takes a copied or touched file for another
one), and after numba and numpy.
"""

from __future__ import annotations

import hashlib
import os
import shutil
from functools import lru_cache
from importlib.metadata import version
from pathlib import Path

KERNEL = Path(__file__).parent / "kernel"
NAME = "compiled-"
DONE = "all-is-compiled"


def sources_mark(kernel: Path = KERNEL) -> str:
    """Return a name that changes with any source in a folder, with its place, with numba and with numpy."""
    sources = hashlib.sha256(f"{kernel.resolve()} {version('numba')} {version('numpy')}".encode())
    for path in sorted(kernel.glob("*.py")):
        sources.update(f"{path.name} {path.stat().st_mtime_ns}".encode() + path.read_bytes())
    return f"{NAME}{sources.hexdigest()[:20]}"


@lru_cache(maxsize=1)
def compiled_folder() -> Path:
    """Return the folder of these very sources' compiled code, made where it is missing.

    It lies in the kernel's own cache; where that can't be written to, in the user's.
    """
    mark = sources_mark()
    for kept in (KERNEL / "__pycache__", Path.home() / ".cache" / "zonatome"):
        folder = kept / mark
        try:
            folder.mkdir(parents=True, exist_ok=True)
        except OSError:
            continue
        if os.access(folder, os.W_OK):
            return folder
    return KERNEL / "__pycache__" / mark  # nothing can be written: all is compiled anew at every start


def is_all_compiled() -> bool:
    """Whether every function's compiled code lies ready."""
    return (compiled_folder() / DONE).exists()


def say_all_is_compiled() -> None:
    """Remember that it does, and take away what is left of other sources."""
    folder = compiled_folder()
    try:
        (folder / DONE).touch()
    except OSError:
        return
    for other in folder.parent.glob(f"{NAME}*"):
        if other != folder:
            shutil.rmtree(other, ignore_errors=True)
