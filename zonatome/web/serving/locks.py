"""Who works in the workroom's folder: one site, one worker.

The machine lets a lock go when its process ends, however it ends.
"""

from __future__ import annotations

import fcntl
import os
import signal
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

LOOKS = 0.5  # seconds between two looks whether the process that started us is still there


class Taken(Exception):
    """Somebody else holds the lock; what they have written into it."""


@contextmanager
def held(path: Path, words: str = "", *, wait: bool = False) -> Iterator[None]:
    """Hold a lock as long as the block runs, with `words` in it for whoever comes second; wait for it, or raise Taken
    at once.
    """
    with path.open("a+") as file:
        os.chmod(path, 0o600)
        try:
            fcntl.flock(file, fcntl.LOCK_EX | (0 if wait else fcntl.LOCK_NB))
        except BlockingIOError:
            file.seek(0)
            raise Taken(file.read().strip()) from None
        file.truncate(0)
        file.write(words)
        file.flush()
        yield


def is_held(path: Path) -> bool:
    """Whether somebody holds a lock now."""
    try:
        with held(path):
            return False
    except Taken:
        return True


def end_with(parent: int) -> None:
    """End this process and all that it has started as soon as the process that started it is gone, killed or not."""

    def look() -> None:
        while os.getppid() == parent:
            time.sleep(LOOKS)
        os.killpg(os.getpgrp(), signal.SIGKILL)

    threading.Thread(target=look, daemon=True).start()
