"""What every engine of the lay is: it takes a request and yields better and better placements.

Others join by standing in `ENGINES` of `lay.py`: each says by `takes` whether a request is for it.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Protocol

from zonatome.core.lay.cancel import IsCancelled
from zonatome.core.lay.request import LayRequest, Placement

Found = tuple[Placement, ...]


class Engine(Protocol):
    """A way to place the pieces of a request; strips, figures and checks are not its business."""

    name: str

    def takes(self, request: LayRequest) -> bool:
        """Say whether the engine can lay this request."""
        ...

    def search(
        self, request: LayRequest, *, seconds: float, seed: int, stopped: IsCancelled, effort: float = 0.0
    ) -> Iterator[Found | None]:
        """Yield placements, on a roll of all pieces, each better than the last; None now and then, so that the caller
        can look up.

        `seconds` is the time that is left, `effort` the seconds that it is meant to have, the same at every call: a
        search that is to come out the same again measures its work by that. Without one it is `seconds`.
        """
        ...
