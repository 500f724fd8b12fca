"""Photos of patterned cloth, drawn."""

import cv2
import numpy as np

from zonatome.core.lay.pattern.centring import repeat_of, tile_of

WIDE, HIGH = 640, 520  # pixels


def photo_of(pattern, along, across, *, scale, first, noise=5.0, shade=20.0, seed=1):
    """A cloth from above, lit from one side, `scale` pixels a mm, its top up."""
    chance = np.random.default_rng(seed)
    tile = tile_of(repeat_of(pattern, along=along, across=across, first=first))
    picture = np.full((HIGH, WIDE, 3), (170, 190, 200), np.uint8)
    for down in np.arange(tile.x - 9 * tile.width, HIGH / scale + tile.width, tile.width):
        for right in np.arange(tile.y - 9 * tile.height, WIDE / scale + tile.height, tile.height):
            for figure in tile.figures:
                corners = [((right + y) * scale, (down + x) * scale) for x, y in figure]
                cv2.fillPoly(picture, [np.array(corners).round().astype(np.int32)], (90, 110, 60), cv2.LINE_AA)
    lit = picture + np.linspace(-shade, shade, WIDE)[None, :, None] + chance.normal(0, noise, picture.shape)
    return np.clip(lit, 0, 255).astype(np.uint8)
