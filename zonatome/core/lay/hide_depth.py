"""The best of a hide is its middle: toward the edges come belly, neck and shanks.

How near to it the pieces with priority lie.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely
import shapely.affinity

from zonatome.core.arrays import Floats
from zonatome.core.lay.request import LayRequest, Panels, Placement


class HideDepth:
    """Panels as they stand on the imagined roll (`Panels.starts`): their edges, and how deep one can lie in them."""

    def __init__(self, panels: Panels) -> None:
        """Take the panels of a request."""
        self.starts = panels.starts
        standing = [
            shapely.affinity.translate(o.polygon, *s) for o, s in zip(panels.outlines, self.starts, strict=True)
        ]
        self.edge = shapely.union_all([p.exterior for p in standing])
        self.deepest = max(float(shapely.maximum_inscribed_circle(p).length) for p in standing)

    def edge_nearness(self, middles: Floats, areas: Floats) -> float:
        """Return how far from the heart pieces lie, from 0 (as deep as one can) to 1 (at the edge), weighed by their
        areas in mm2.

        `middles`: (n, 2), mm, on the imagined roll. 0 for none.
        """
        if not len(middles):
            return 0.0
        deep = shapely.distance(self.edge, shapely.points(middles)) / self.deepest
        return float(1.0 - np.average(np.minimum(deep, 1.0), weights=areas))


def edge_nearness(request: LayRequest, placements: Sequence[Placement]) -> float:
    """Return how far from the heart of the panels the pieces with priority lie, from 0 to 1; 0 where there are none,
    and on a roll.
    """
    chosen = [p for p in placements if request.by_id[p.piece].priority]
    if not isinstance(request.cloth, Panels) or not chosen:
        return 0.0
    heart = HideDepth(request.cloth)
    middles = [p.on_cloth(request.by_id[p.piece]).polygon.centroid.coords[0] for p in chosen]
    shifts = [heart.starts[p.panel] for p in chosen]
    return heart.edge_nearness(
        np.array(middles) + np.array(shifts), np.array([request.by_id[p.piece].outline.area for p in chosen])
    )
