"""One repeat of a cloth, found in a photo of it.

A patterned cloth moved by one repeat lies on itself. So the photo, its light evened out, is compared with itself at
every shift: the least shift, across and along, at which it is alike is the repeat. Of all boxes of that size one is
taken that cuts few figures and has what stands in it in its middle, where the lay puts a motif's centre.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from itertools import product
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from zonatome.core.arrays import Floats
from zonatome.core.errors import BadInput
from zonatome.core.intake.apart import Answer, worked_apart
from zonatome.core.intake.photo_in import as_jpeg
from zonatome.core.lazily import Lazily
from zonatome.core.trace.photo import read_photo

if TYPE_CHECKING:
    import cv2
else:
    cv2 = Lazily("cv2")


LOOKED_AT = 480  # pixels of the longer side
LEAST_SHIFT = 12  # pixels of that: a finer repeat is not worth a photo
MOST_SHIFT = 0.72  # of a side: at least so much more than one repeat must be seen
LIKE = 0.3  # how alike the photo must be to itself, from 0 to 1
AS_GOOD = 0.92  # of the best likeness, that the least shift must have
GROUND = 2.0  # times what a pixel is off the ground as a rule: what is nearer is ground
CUT = 0.3  # what a border that cuts as much as borders do weighs against lying a whole box aside
LEAST_CELL = 8  # pixels a side of one repeat
FALLS = 0.25  # repeats by which the photo must be longer that its light can be told to fall off
BENDS = 1.0  # repeats by which it must be longer that its light can be told to bend too
EVERY = 3  # of so many pixels each way, one is looked at for the light, which is smooth
MOST_LIGHT = 3.0  # times brighter or darker than it is in the middle, at the most
LEAST_SPREAD = 1e-9  # squared steps of 256 by which what lies on itself differs: less is plain
SCALE_OFF = 0.08  # by how much the scale along may differ from that across: a photo is never quite from above


@dataclass(frozen=True)
class RepeatFound:
    """One repeat in a photo: its box in shares of the photo's sides, and how alike the photo is to itself moved by it,
    0 to 1.
    """

    left: float
    upper: float
    right: float
    lower: float
    likeness: float


def repeat_in(
    photo: NDArray[np.uint8], pattern: str, *, along: float | None = None, across: float | None = None
) -> RepeatFound | None:
    """Return one repeat of a pattern ("stripe", "check" or "half_drop") in a photo of shape (rows, columns, 3), its
    top up; or None.

    `along` and `across` are the measured repeat in mm, where it is known: of shifts that are alike those count that
    make one scale. Source: the autocorrelation of an image is the inverse transform of its power spectrum (Wiener and
    Khinchin).
    """
    small = _smaller(photo)
    rows, columns = small.shape[:2]
    grey, whole = small.astype(np.float64), (0, 0, columns, rows)
    even = grey / _light(small, (1, 1), whole)  # as well as it can be told before a repeat is known
    alike = np.mean([_likeness(even[:, :, k]) for k in range(3)], axis=0)
    if pattern == "stripe":
        found = [(like, across_px, float(min(rows, across_px))) for like, across_px in _peaks(alike[0, :], columns)]
    else:
        found = _cells(
            alike, rows, columns, half_drop=pattern == "half_drop", shape=along / across if along and across else None
        )
    if not found:
        return None
    best = max(f[0] for f in found)
    if best < LIKE:
        return None
    likeness, width, height = min((f for f in found if f[0] >= AS_GOOD * best), key=lambda f: f[1] * f[2])
    lit = _light(small, (round(height), round(width)), whole)
    left, upper = _least_cut(grey / lit, width, height, striped=pattern == "stripe")
    return RepeatFound(left / columns, upper / rows, (left + width) / columns, (upper + height) / rows, likeness)


def one_repeat(photo: NDArray[np.uint8], box: tuple[float, float, float, float]) -> NDArray[np.uint8]:
    """Return one repeat cut from a photo of shape (rows, columns, 3), as if the photo were lit evenly: then no joins
    are seen.

    `box` is left, upper, right, lower in shares of the photo's sides. The mean over one repeat is the same wherever it
    is taken; where it is not, that is the light. Raises BadInput with the key `photo` for a box of less than
    LEAST_CELL pixels a side.
    """
    rows, columns = photo.shape[:2]
    left, upper, right, lower = (round(share * side) for share, side in zip(box, (columns, rows) * 2, strict=True))
    if right - left < LEAST_CELL or lower - upper < LEAST_CELL:
        raise BadInput("photo", "a box too small", f"a box of one whole repeat, at least {LEAST_CELL} pixels a side")
    cell = photo[upper:lower, left:right].astype(np.float64)
    even = cell / _light(photo, (lower - upper, right - left), (left, upper, right, lower))
    return np.asarray(np.clip(even, 0, 255).round().astype(np.uint8))


def repeat_apart(
    content: bytes, pattern: str, *, along: float | None = None, across: float | None = None
) -> RepeatFound | None:
    """Look for one repeat in a photo as it was sent, in a process of its own. Raises BadInput with the key `photo`."""
    told, _ = worked_apart("repeat", {"pattern": pattern, "along": along, "across": across}, content, key="photo")
    return RepeatFound(**told) if told else None


def repeat_work(told: Mapping[str, Any], content: bytes) -> Answer:
    """Look for one repeat, for `repeat_apart`."""
    found = repeat_in(
        read_photo(content, least=LEAST_CELL), told["pattern"], along=told["along"], across=told["across"]
    )
    return asdict(found) if found else {}, b""


def cell_apart(content: bytes, box: tuple[float, float, float, float]) -> bytes:
    """Return the boxed repeat of a photo as it was sent, as a JPEG lit evenly, made in a process of its own.

    Raises BadInput.
    """
    return worked_apart("cell", {"box": box}, content, key="photo")[1]


def cell_work(told: Mapping[str, Any], content: bytes) -> Answer:
    """Cut one repeat from a photo, for `cell_apart`."""
    cell = one_repeat(read_photo(content, least=LEAST_CELL), tuple(told["box"]))
    return {}, as_jpeg(Image.fromarray(cell[:, :, ::-1]))


def _smaller(photo: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """The photo, its longer side LOOKED_AT pixels at the most."""
    scale = LOOKED_AT / max(photo.shape[:2])
    return (
        np.asarray(cv2.resize(photo, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA), np.uint8)
        if scale < 1
        else photo
    )


def _light(photo: NDArray[np.uint8], cell: tuple[int, int], box: tuple[int, int, int, int]) -> Floats:
    """How bright each channel is lit in a box of pixels, of shape (rows, columns, 3), 1 on the whole.

    A smooth curve is laid through the means over one repeat, whose rows and columns are `cell`.
    """
    left, upper, right, lower = box
    rows, columns = photo.shape[:2]
    small = _smaller(photo)
    scale = small.shape[0] / rows
    sides = zip(cell, small.shape[:2], strict=True)
    high, wide = (min(most, max(1, round(side * scale))) for side, most in sides)
    spare = small.shape[0] - high, small.shape[1] - wide
    degrees = [2 if s >= BENDS * side else int(s >= FALLS * side) for s, side in zip(spare, (high, wide), strict=True)]
    terms = [(i, j) for i, j in product(range(degrees[0] + 1), range(degrees[1] + 1)) if i + j <= 2]
    summed = np.pad(small.astype(np.float64).cumsum(axis=0).cumsum(axis=1), ((1, 0), (1, 0), (0, 0)))
    whole = summed[high:, wide:] - summed[high:, :-wide] - summed[:-high, wide:] + summed[:-high, :-wide]
    v, u = np.mgrid[: whole.shape[0] : EVERY, : whole.shape[1] : EVERY]

    def curve(y: Floats, x: Floats) -> Floats:
        return np.stack([(y / rows - 0.5) ** i * (x / columns - 0.5) ** j for i, j in terms], axis=-1)

    at = curve(((v + high / 2) / scale).ravel(), ((u + wide / 2) / scale).ravel())
    means = np.log(np.maximum(whole[::EVERY, ::EVERY] / (high * wide), 1.0)).reshape(-1, 3)
    fitted = np.linalg.lstsq(at, means, rcond=None)[0]
    y, x = np.mgrid[upper:lower, left:right] + 0.5
    seen = curve(y, x) @ fitted
    light = np.exp(np.clip(seen - seen.mean(axis=(0, 1)), -np.log(MOST_LIGHT), np.log(MOST_LIGHT)))
    return np.asarray(light / light.mean(axis=(0, 1)))


def _likeness(channel: Floats) -> Floats:
    """How alike a channel is to itself at every shift down and right, from -1 to 1, which is at none.

    What lies on itself is compared by its own mean and spread on either side, so that what is left of a lamp's light
    tells nothing. Source: the correlation coefficient, its products by Fourier transform and its sums from running
    sums (Lewis, Fast Normalized Cross-Correlation, 1995).
    """
    rows, columns = channel.shape
    centred = channel - channel.mean()
    size = (2 * rows, 2 * columns)
    power = np.abs(np.fft.rfft2(centred, size)) ** 2
    products = np.fft.irfft2(power, size)[:rows, :columns]
    counted = np.outer(np.arange(rows, 0, -1), np.arange(columns, 0, -1))

    def means(values: Floats) -> tuple[Floats, Floats]:
        """The mean of what is moved and of what it comes to lie on, at every shift."""
        summed = np.pad(values.cumsum(axis=0).cumsum(axis=1), ((1, 0), (1, 0)))
        under = summed[-1, -1] - summed[:-1, -1:] - summed[-1:, :-1] + summed[:-1, :-1]
        return summed[:0:-1, :0:-1] / counted, under / counted

    moved, under = means(centred)
    moved_spread, under_spread = (
        np.maximum(squares - mean**2, LEAST_SPREAD)
        for squares, mean in zip(means(centred**2), (moved, under), strict=True)
    )
    return np.asarray((products / counted - moved * under) / np.sqrt(moved_spread * under_spread))


def _peaks(line: Floats, side: int) -> list[tuple[float, float]]:
    """The shifts along a line at which the likeness is greatest round about: how alike, and the shift to a part of a
    pixel.
    """
    found = []
    for k in range(LEAST_SHIFT, min(int(MOST_SHIFT * side), len(line) - 1)):
        before, here, after = line[k - 1], line[k], line[k + 1]
        if here >= before and here > after and here >= line[max(0, k - 5) : k + 6].max():
            bend = before - 2 * here + after
            found.append((float(here), k + (0.5 * float(before - after) / float(bend) if bend < 0 else 0.0)))
    return found


def _cells(
    alike: Floats, rows: int, columns: int, *, half_drop: bool, shape: float | None
) -> list[tuple[float, float, float]]:
    """Cells that the photo may repeat in: how alike, width, height.

    With a half drop the next column lies half a height lower.
    """
    found = []
    for down, height in _peaks(alike[:, 0], rows):
        beside = alike[min(rows - 1, round(height / 2)), :] if half_drop else alike[0, :]
        for right, width in _peaks(beside, columns):
            if shape is None or abs(height / width / shape - 1) <= SCALE_OFF:
                found.append((min(down, right), width, height))
    return found


def _least_cut(grey: Floats, width: float, height: float, *, striped: bool) -> tuple[float, float]:
    """Where a box of that size cuts next to no figures, its border on the cloth's ground, with what stands in it in
    its middle.
    """
    ground = np.median(grey.reshape(-1, 3), axis=0)
    off = np.abs(grey - ground).sum(axis=2)
    off = np.maximum(0.0, off - GROUND * np.median(off))
    rows, columns = off.shape
    wide, high = min(columns, round(width)), min(rows, round(height))
    ups = np.array([(rows - high) // 2]) if striped else np.arange(rows - high + 1)
    u, v = np.meshgrid(ups, np.arange(columns - wide + 1), indexing="ij")
    y, x = np.mgrid[:rows, :columns] + 0.5

    def inside(values: Floats) -> Floats:
        summed = np.pad(values.cumsum(axis=0).cumsum(axis=1), ((1, 0), (1, 0)))
        return np.asarray(summed[u + high, v + wide] - summed[u, v + wide] - summed[u + high, v] + summed[u, v])

    down, along = (np.pad(off.cumsum(axis=k), ((1 - k, 0), (k, 0))) for k in (0, 1))
    border = down[u + high, v] - down[u, v] + down[u + high, v + wide - 1] - down[u, v + wide - 1]
    if not striped:
        border += along[u, v + wide] - along[u, v] + along[u + high - 1, v + wide] - along[u + high - 1, v]
    weight = np.maximum(inside(off), 1e-9)
    aside = np.hypot(
        (inside(off * x) / weight - v - wide / 2) / wide,
        (inside(off * y) / weight - u - high / 2) / high * (not striped),
    )
    at = np.unravel_index(np.argmin(aside + CUT * border / max(float(border.mean()), 1e-9)), u.shape)
    return min(float(v[at]), max(0.0, columns - width)), min(float(u[at]), max(0.0, rows - height))
