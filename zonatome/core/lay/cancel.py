"""How work that takes long is told to end."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

IsCancelled = Callable[[], bool]


class Cancelled(Exception):
    """What was being made is not wanted any more."""


def never_cancelled() -> bool:
    """Return False: for what nobody cancels."""
    return False


class SolverStop:
    """Ends what another thread is solving: it says what that is, and asks before it begins anew."""

    def __init__(self) -> None:
        """Nothing is being solved, nothing is to end."""
        self.solver: Any = None
        self.is_on = False

    def stop(self) -> None:
        """Ask for the end; may be asked again, since what has only just begun may not have heard it."""
        self.is_on = True
        if (solver := self.solver) is not None:
            solver.stop_search()
