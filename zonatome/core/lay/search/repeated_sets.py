"""Sets of pieces that come several times: four chairs are four times one chair.

A few pieces are packed far better, in a given time, than many. So a lay of one set is searched for, and laid again
and again, each time as near the last as it goes. What is left over when the sets are made up comes behind.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from zonatome.core.arrays import Floats, Ints

LEAST = 2  # pieces of a set
MOST = 72  # pieces of a set
COVERED = 0.6  # of all pieces' area that the sets must take in


@dataclass(frozen=True)
class RepeatedSet:
    """A set of items that comes several times, a row of `copies` each time, and the items left over."""

    copies: Ints  # (times, items of one set): the same place in each row is the same piece
    rest: Ints

    @property
    def times(self) -> int:
        """How often it comes."""
        return len(self.copies)

    def joined(self) -> RepeatedSet | None:
        """The kit of two or three of these side by side; None where there are no more such, or they would be too many
        pieces.
        """
        for by in (2, 3):
            if self.times % by == 0 and by * self.copies.shape[1] <= MOST and self.times > by:
                return RepeatedSet(self.copies.reshape(self.times // by, -1), self.rest)
        return None


def repeated_sets_of(pieces: Sequence[int], area: Floats) -> list[RepeatedSet]:
    """Return the sets that the items can be made up from: most times first, each content once.

    `pieces` and `area` give every item's piece and its area in mm2. A set's pieces come as often in it as they go
    into the count without remainder; it is left out where it is one piece only, too many, or takes in too little.
    """
    items: dict[int, list[int]] = {}
    for item, piece in enumerate(pieces):
        items.setdefault(piece, []).append(item)
    found: list[RepeatedSet] = []
    seen: set[tuple[int, ...]] = set()
    for times in range(max(Counter(pieces).values(), default=0), 1, -1):
        content = tuple(len(i) // times for i in items.values())
        if content in seen or not LEAST <= sum(content) <= MOST:
            continue
        seen.add(content)
        rows = [
            [i for of, each in zip(items.values(), content, strict=True) for i in of[t * each : (t + 1) * each]]
            for t in range(times)
        ]
        copies = np.array(rows, dtype=np.int64)
        if area[copies].sum() >= COVERED * area.sum():
            found.append(RepeatedSet(copies, np.setdiff1d(np.arange(len(pieces)), copies)))
    return found
