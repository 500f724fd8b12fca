"""Lines drawn on a photo when a panel is looked over: what each shows, and how far it runs off straight."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from shapely.geometry import LineString

from zonatome.core.errors import BadInput
from zonatome.core.fasten.chosen import Found
from zonatome.core.outline import Point

MOST_POINTS = 60  # of a line as it is kept
MOST_DRAWN = 2000  # as a hand draws it
MOST_LINES = 20  # on one photo
LEAST_LONG = 0.02  # of the photo's width: shorter is a slip of the hand
THINNED = 0.002


@dataclass(frozen=True)
class SeenLine:
    """A line on a photo: what was found there, and its points as parts of the photo's width and height, from the upper
    left.
    """

    found: Found
    points: tuple[Point, ...]

    def __post_init__(self) -> None:
        """Refuse a line that is none, or leaves the photo."""
        if not 2 <= len(self.points) <= MOST_POINTS:
            raise BadInput("points", len(self.points), f"2 to {MOST_POINTS} points")
        if not all(0 <= value <= 1 for point in self.points for value in point):
            raise BadInput("points", "a point beside the photo", "points from 0 to 1")

    def off_straight(self, wide: float, high: float) -> float:
        """Return how far it leaves the straight line between its ends, as a part of that line's length, on a photo of
        `wide` by `high` pixels; 0 for one that comes back to where it began.

        A thread line that was straight on the table shows by this how far the cloth was pulled out of true.
        """
        drawn = [(x * wide, y * high) for x, y in self.points]
        long = math.dist(drawn[0], drawn[-1])
        if long < LEAST_LONG * wide:
            return 0.0
        (ax, ay), (bx, by) = drawn[0], drawn[-1]
        return max(abs((bx - ax) * (y - ay) - (by - ay) * (x - ax)) for x, y in drawn) / long**2


def drawn_line(points: Sequence[Point], found: Found) -> SeenLine:
    """Return a line as a hand drew it, thinned to the points that it needs. Raises BadInput where nothing was drawn."""
    if not 2 <= len(points) <= MOST_DRAWN or LineString(points).length < LEAST_LONG:
        raise BadInput("points", len(points), "a line", words="Draw a line on the photo first.")
    kept = LineString([(min(1.0, max(0.0, x)), min(1.0, max(0.0, y))) for x, y in points])
    by = THINNED
    while len((thin := kept.simplify(by)).coords) > MOST_POINTS:
        by *= 2
    return SeenLine(found, tuple((round(x, 4), round(y, 4)) for x, y in thin.coords))
