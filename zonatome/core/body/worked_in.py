"""What is worked into a panel: buttons drawn deep, channels stitched along it. Lengths in mm."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from zonatome.core.body.surfaces import normals_at, resampled
from zonatome.core.body.values import Grid, Patch
from zonatome.core.survey.kind import ButtonGrid, Channels, Part

FINER = 2  # so many times as many cells has a panel that is worked
DIMPLE = 0.36  # of the way to the next button: how wide the hollow round one is
MOST_HOLLOW = 30.0


def worked_in(patch: Patch, part: Part) -> Patch:
    """Return a panel's patch with its buttons and channels drawn in; where it lies flat stays as it was."""
    if part.buttons is None and part.channels is None:
        return patch
    points, flat = _finer(patch.points), _finer(patch.flat)
    hollow = np.zeros(points.shape[:2])
    if part.buttons is not None:
        hollow = np.maximum(hollow, _round_buttons(flat, part.buttons))
    if part.channels is not None:
        hollow = np.maximum(hollow, _along_channels(flat, part.channels))
    return replace(patch, points=points - hollow[:, :, None] * normals_at(points), flat=flat)


def _finer(grid: Grid) -> Grid:
    """The same surface with more cells both ways."""
    for is_across in (True, False):
        count = (grid.shape[1] if is_across else grid.shape[0]) - 1
        grid = resampled(grid, np.linspace(0, count, FINER * count + 1), is_across=is_across)
    return grid


def button_places(grid: ButtonGrid) -> tuple[tuple[float, float], ...]:
    """Return where buttons stand on a finished panel, from its middle."""
    return grid.places(grid.across, grid.down)


def _round_buttons(flat: Grid, grid: ButtonGrid) -> Grid:
    wide = DIMPLE * min(grid.across, grid.down)
    hollow = np.zeros(flat.shape[:2])
    for x, y in button_places(grid):
        off = np.hypot(flat[:, :, 0] - x, flat[:, :, 1] - y)
        hollow = np.maximum(hollow, np.exp(-((off / wide) ** 2)))
    return hollow * min(grid.deep, MOST_HOLLOW)


def _along_channels(flat: Grid, channels: Channels) -> Grid:
    at = flat[:, :, 0] if channels.upright else flat[:, :, 1]
    off = (
        np.abs((at / channels.apart + 0.5) % 1.0 - 0.5) * 2
    )  # 0 on a line that passes through the middle, 1 between two
    return np.asarray((1 - np.sqrt(np.clip(off, 0, 1))) * min(channels.deep, MOST_HOLLOW))
