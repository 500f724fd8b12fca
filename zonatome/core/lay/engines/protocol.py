"""What every engine of the lay is: it takes a request and yields better and better placements.

Others join by standing in `ENGINES` of `lay.py`: each says by `takes` whether a request is for it.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any, Protocol

from zonatome.core.lay.request import LayRequest, Placement

Stopped = Callable[[], bool]
Found = tuple[Placement, ...]


def never() -> bool:
    """Return False: for what is not stopped."""
    return False


class Halt:
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


class Engine(Protocol):
    """A way to place the pieces of a request; strips, figures and checks are not its business."""

    name: str

    def takes(self, request: LayRequest) -> bool:
        """Say whether the engine can lay this request."""
        ...

    def search(self, request: LayRequest, *, seconds: float, seed: int, stopped: Stopped, effort: float = 0.0) -> Iterator[Found | None]:
        """Yield placements, on a roll of all pieces, each better than the last; None now and then, so that the caller can look up.

        `seconds` is the time that is left, `effort` the seconds that it is meant to have, the same at every call: a search that is to
        come out the same again measures its work by that. Without one it is `seconds`.
        """
        ...
