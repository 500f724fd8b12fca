"""From a photo of an old cover on the mat to its outline in millimetres.

The picture is laid flat to scale, cover and table are told apart by colour on a coarse grid, and then every point of
the edge is looked for anew in the photo itself, to a fraction of a pixel, along its own normal.
"""

from __future__ import annotations

import io
import warnings
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageOps, UnidentifiedImageError
from shapely.geometry import Polygon

from zonatome.core.errors import BadInput, NoAnswer
from zonatome.core.intake.photo_in import refuse_heic
from zonatome.core.lazily import Lazily
from zonatome.core.outline import Outline, outline_of
from zonatome.core.trace.mat import Array, Camera, Mat, camera_of

if TYPE_CHECKING:
    import cv2
    from scipy import ndimage
else:
    cv2 = Lazily("cv2")
    ndimage = Lazily("scipy.ndimage")

Pixels = NDArray[np.uint8]
MOST_BYTES = 30 * 2**20
MOST_PIXELS = 60_000_000
MOST_LOOKED_AT = 16_000_000  # pixels: of a larger photo every other one each way
LEAST_SIDE = 400
COARSE = 2.0  # mm a pixel of the grid on which cover and table are told apart
BEYOND = 160.0  # mm past the markers' rectangle that a cover may reach
SHOWN = 110.0  # mm past the markers' centres that the flat picture shows
KEEP_CLEAR = 26.0  # mm round a marker's black square: its white paper
NEAR_MARKER = 34.0  # mm round that paper that is surely table
LEAST_COVER = 2500.0  # mm2: a smaller patch is a scrap or a stain
DENT = 26.0  # mm: how wide a dent of the coarse edge may be to be filled
DEEPEST_DENT = 11.0  # mm: how deep
CUTS, SETTLED = 4, 400.0  # times that they are told apart at most, until less than so many mm2 change sides
NO_COVER = "no cover can be told from the table: lay it on a table of another tone, all of it between the markers"
LEAST_CONTRAST = (
    5.0  # of colour and lightness together across the edge, at its middle: a shadow's edge is softer than a cloth's
)
SURELY = 30.0  # what is so far from the table's colour is cover, however much further the cloth's other colours are
LEAST_APART = 3.0  # how far cover and table must differ, in steps of lightness or colour
NARROW = 4  # points to each side by whose middle a jump is told from the edge
WIDE = 9  # points to each side, in the first and coarsest round
SPACING = 1.5  # mm between points of the edge
REACH = 7.0  # mm to each side that the edge is looked for
FINE = 0.2  # mm a step of that look
ALONG = 3.0  # mm along the edge over which looks are averaged
CORNER_NEAR = 4.5  # mm from a corner from which on its sides are looked at
CORNER_FAR = 18.0  # mm from it up to which they are
CORNER_TURN = 0.5  # radians
BLUNTED = 2.1  # mm that averaging takes off a sharp corner at most
FINENESS = 0.12  # mm: what the outline may leave out
MOST_POINTS = 1000
BLURRED_MOST = (
    3.5  # mm: where the markers' black and white run into each other over more than this the picture is blurred
)


@dataclass(frozen=True)
class Traced:
    """A traced cover: its outline in mm in the mat's frame, the camera, and the error to be expected in mm.

    `error` is made of the misfit of the markers' corners and of how uncertain the edge itself was found.
    """

    outline: Outline
    camera: Camera
    error: float


def read_photo(content: bytes, *, least: int = LEAST_SIDE) -> Pixels:
    """Return a photo as blue, green, red, shape (rows, columns, 3), turned upright as its orientation flag says.

    Raises BadInput for what is no JPEG or PNG, too large, or of less than `least` pixels a side: too small to find
    anything in.
    """
    refuse_heic(content[:12])
    if len(content) > MOST_BYTES:
        raise BadInput("photo", f"{len(content) / 2**20:.0f} MB", f"at most {MOST_BYTES // 2**20} MB")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            picture = Image.open(io.BytesIO(content), formats=("JPEG", "PNG"))
            if picture.width * picture.height > MOST_PIXELS or min(picture.size) < least:
                raise BadInput(
                    "photo",
                    f"{picture.width} x {picture.height}",
                    f"{least} pixels a side to {MOST_PIXELS // 10**6} million pixels",
                )
            # so much is told from fewer: an edge lies within a fraction of a pixel
            if picture.width * picture.height > MOST_LOOKED_AT:
                picture.draft("RGB", (picture.width // 2, picture.height // 2))
            plain = picture.convert("RGB")
            if plain.width * plain.height > MOST_LOOKED_AT:
                plain = plain.reduce(2)
            upright = ImageOps.exif_transpose(plain)
    except (Image.DecompressionBombWarning, Image.DecompressionBombError) as err:
        raise BadInput("photo", "more", f"at most {MOST_PIXELS // 10**6} million pixels") from err
    except BadInput:
        raise
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError) as err:
        raise BadInput(
            "photo",
            str(err)[:60],
            "a JPEG or PNG photo that can be read",
            words="This is no photo: choose a JPEG or PNG.",
        ) from err
    return np.ascontiguousarray(np.asarray(upright)[:, :, ::-1])


def photo_camera(photo: Pixels, mat: Mat) -> Camera:
    """Return how a photo sees the mat, for tracing it and laying it flat. Raises NoAnswer without all markers."""
    return camera_of(np.asarray(cv2.cvtColor(photo, cv2.COLOR_BGR2GRAY), np.uint8), mat)


def trace_photo(photo: Pixels, mat: Mat, camera: Camera | None = None) -> Traced:
    """Return the outline of the largest cover on the mat; `camera` where it is known already.

    Raises NoAnswer where a marker is missing, the picture is blurred, or no cover can be told from the table.
    """
    grey = np.asarray(cv2.cvtColor(photo, cv2.COLOR_BGR2GRAY), np.uint8)
    camera = camera or camera_of(grey, mat)
    soft = _softness(grey, camera, mat)
    if soft > BLURRED_MOST:
        raise NoAnswer(
            f"the picture is blurred: edges are {soft:.1f} mm soft; hold the camera still, in better light, and take "
            f"it again"
        )
    flat = _Flat.of(photo, camera, mat)
    coarse = _coarse_edge(flat, mat)
    smooth = np.asarray(cv2.GaussianBlur(photo, (0, 0), 0.8), np.uint8)
    points, spread = _fine_edge(smooth, camera, coarse)
    outline = _simple(_thinned(points))
    return Traced(outline, camera, float(np.hypot(np.hypot(camera.error, spread), soft / 4)))


def _simple(points: Array) -> Outline:
    """The outline of these points; where they cross themselves, of the largest part that they go round."""
    whole = Polygon(points)
    if not whole.is_valid:
        parts = [g for g in getattr(whole.buffer(0), "geoms", [whole.buffer(0)]) if g.area > LEAST_COVER]
        if not parts:
            raise NoAnswer(NO_COVER)
        points = np.asarray(max(parts, key=lambda g: g.area).exterior.coords, float)[:-1]
    try:
        return outline_of([(round(float(x), 3), round(float(y), 3)) for x, y in points])
    except BadInput as refusal:
        raise NoAnswer(NO_COVER) from refusal


def _softness(grey: Pixels, camera: Camera, mat: Mat) -> float:
    """Over how many mm the markers' black edge becomes white: the median of looks across all their sides."""
    steps = np.arange(-8, 8, 0.1)
    half = mat.marker / 2
    widths = []
    for centre, turn in zip(mat.centres, camera.turns, strict=True):
        for quarter in range(4):
            angle = turn + quarter * np.pi / 2
            out, side = np.array([np.cos(angle), np.sin(angle)]), np.array([-np.sin(angle), np.cos(angle)])
            for offset in (-0.3, -0.1, 0.1, 0.3):
                looks = centre + out * half + side * offset * mat.marker + out * steps[:, None]
                seen = camera.pixels(looks).astype(np.float32)
                line = cv2.remap(grey, seen[:, 0], seen[:, 1], cv2.INTER_LINEAR).astype(float).flatten()
                low, high = np.quantile(line[:40], 0.5), np.quantile(line[-40:], 0.5)
                if high - low > 25:
                    share = np.clip((line - low) / (high - low), 0, 1)
                    widths.append(float(((share > 0.15) & (share < 0.85)).sum() * 0.1))
    return float(np.median(widths)) if widths else BLURRED_MOST + 1


@dataclass(frozen=True)
class FlatPhoto:
    """The photo laid flat at 1 mm a pixel: its picture, and its upper left corner in mm in the mat's frame."""

    picture: Pixels
    left: float
    top: float


def flat_photo(photo: Pixels, mat: Mat, camera: Camera | None = None) -> FlatPhoto:
    """Return the photo upright and to scale, the mat and a hand's breadth round it.

    Raises NoAnswer without all markers.
    """
    camera = camera or photo_camera(photo, mat)
    xs = np.arange(-SHOWN, mat.width + SHOWN) + 0.5
    ys = np.arange(mat.height + SHOWN, -SHOWN, -1.0) - 0.5
    grid = np.stack(np.meshgrid(xs, ys), axis=-1).reshape(-1, 2)
    seen = camera.pixels(grid).astype(np.float32)
    shape = (len(ys), len(xs))
    flat = cv2.remap(
        photo, seen[:, 0].reshape(shape), seen[:, 1].reshape(shape), cv2.INTER_AREA, borderMode=cv2.BORDER_CONSTANT
    )
    return FlatPhoto(np.asarray(flat, np.uint8), -SHOWN, mat.height + SHOWN)


@dataclass(frozen=True)
class _Flat:
    """The photo laid flat on the coarse grid: its picture, the corner of it in mm,
    which pixels the photo really shows.
    """

    picture: Pixels
    left: float
    top: float
    seen: NDArray[np.bool_]

    @classmethod
    def of(cls, photo: Pixels, camera: Camera, mat: Mat) -> _Flat:
        """Lay the table and a bit beyond flat."""
        xs = np.arange(-BEYOND, mat.width + BEYOND, COARSE)
        ys = np.arange(mat.height + BEYOND, -BEYOND, -COARSE)
        grid = np.stack(np.meshgrid(xs, ys), axis=-1).reshape(-1, 2)
        seen = camera.pixels(grid).astype(np.float32)
        shape = (len(ys), len(xs))
        at_x, at_y = seen[:, 0].reshape(shape), seen[:, 1].reshape(shape)
        blurred = cv2.GaussianBlur(
            photo, (0, 0), max(0.6, COARSE * camera.scale_at((mat.width / 2, mat.height / 2)) / 2)
        )
        picture = np.asarray(
            cv2.remap(blurred, at_x, at_y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE), np.uint8
        )
        rows, columns = photo.shape[:2]
        return cls(picture, xs[0], ys[0], (at_x > 1) & (at_y > 1) & (at_x < columns - 2) & (at_y < rows - 2))

    def box(self, centre: Array, half: float) -> tuple[slice, slice]:
        """The pixels of a square round a point in mm."""
        column, row = (centre[0] - self.left) / COARSE, (self.top - centre[1]) / COARSE
        size = half / COARSE
        return slice(max(0, round(row - size)), max(0, round(row + size) + 1)), slice(
            max(0, round(column - size)), max(0, round(column + size) + 1)
        )


def _features(picture: Pixels) -> NDArray[np.float32]:
    """Colour as it is told apart: lightness counts less than hue,
    since a shadow changes it on one and the same table.
    """
    lab = np.asarray(cv2.cvtColor(picture.astype(np.float32) / 255, cv2.COLOR_BGR2LAB), np.float32)
    lab[:, :, 0] *= np.float32(0.6)
    return lab


def _coarse_edge(flat: _Flat, mat: Mat) -> Array:
    """The outer edge of the largest cover on the coarse grid, in mm, anticlockwise."""
    features = _features(np.asarray(cv2.bilateralFilter(flat.picture, 5, 18, 3), np.uint8))
    paper = np.zeros(flat.seen.shape, bool)
    table = np.zeros(flat.seen.shape, bool)
    for centre in mat.centres:
        table[flat.box(centre, mat.marker / 2 + KEEP_CLEAR + NEAR_MARKER)] = True
    for centre in mat.centres:
        paper[flat.box(centre, mat.marker / 2 + KEEP_CLEAR)] = True
    table &= ~paper & flat.seen
    cover = _told_apart(features, table, paper | ~flat.seen)
    cover &= ~paper & flat.seen
    solid = cv2.morphologyEx(
        cover.astype(np.uint8), cv2.MORPH_OPEN, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (5, 5))
    )
    count, labels, stats, _ = cv2.connectedComponentsWithStats(solid, connectivity=4)
    if count < 2 or stats[1:, cv2.CC_STAT_AREA].max() * COARSE**2 < LEAST_COVER:
        raise NoAnswer(NO_COVER)
    largest = _undented((labels == 1 + int(stats[1:, cv2.CC_STAT_AREA].argmax())).astype(np.uint8))
    contours, _ = cv2.findContours(largest, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    contour = max(contours, key=cv2.contourArea).reshape(-1, 2)
    points = np.column_stack([flat.left + contour[:, 0] * COARSE, flat.top - contour[:, 1] * COARSE])
    area = float((points[:, 0] * np.roll(points[:, 1], -1) - np.roll(points[:, 0], -1) * points[:, 1]).sum())
    return points if area > 0 else points[::-1].copy()


def _undented(cover: Pixels) -> Pixels:
    """The cover with its small dents filled: a flower of the table's own colour at the edge looks like one.

    What is deeper than a flower, a slot or a relief cut, stays open; a true notch is found again when the edge is
    looked for.
    """
    size = 2 * round(DENT / COARSE / 2) + 1
    closed = cv2.morphologyEx(cover, cv2.MORPH_CLOSE, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size)))
    count, labels, _, _ = cv2.connectedComponentsWithStats(
        np.asarray((closed > 0) & (cover == 0), np.uint8), connectivity=4
    )
    inward = cv2.distanceTransform(np.asarray(closed, np.uint8), cv2.DIST_L2, 3)
    made = cover.copy()
    for number in range(1, count):
        here = labels == number
        if inward[here].max() * COARSE <= DEEPEST_DENT:
            made[here] = 1
    return np.asarray(made, np.uint8)


def _told_apart(
    features: NDArray[np.float32], table: NDArray[np.bool_], unknown: NDArray[np.bool_]
) -> NDArray[np.bool_]:
    """Which pixels are cover: first by how far each is from the table's colours, then by colours of both and
    neighbours.
    """
    seeds = features[table].reshape(-1, 3)
    if len(seeds) < 50:
        raise NoAnswer("the table round the markers cannot be seen: leave some of it in the picture")
    rows, columns = features.shape[:2]
    criteria = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 20, 0.5)
    cv2.setRNGSeed(1)
    _, _, colours = cv2.kmeans(seeds, min(4, len(seeds)), np.empty(0), criteria, 2, cv2.KMEANS_PP_CENTERS)
    flat = features.reshape(-1, 3)
    apart = np.min(np.linalg.norm(flat[:, None, :] - colours[None, :, :], axis=2), axis=1).reshape(rows, columns)
    inside = ~unknown
    scaled = np.clip(apart * 6, 0, 255).astype(np.uint8)
    level, _ = cv2.threshold(scaled[inside].reshape(-1, 1), 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    level = max(level / 6, LEAST_APART)
    guess = np.where(apart > level, cv2.GC_PR_FGD, cv2.GC_PR_BGD).astype(np.uint8)
    guess[table | unknown] = cv2.GC_BGD
    if (guess == cv2.GC_PR_FGD).sum() * COARSE**2 < LEAST_COVER:
        raise NoAnswer(NO_COVER)
    picture = np.clip(features + np.array([0, 128, 128], np.float32), 0, 255).astype(np.uint8)
    table_colours, cover_colours = np.zeros((1, 65)), np.zeros((1, 65))
    for cut in range(CUTS):
        before = guess.copy()
        way = cv2.GC_EVAL if cut else cv2.GC_INIT_WITH_MASK
        cv2.grabCut(picture, guess, (0, 0, 1, 1), table_colours, cover_colours, 1, way)
        if (guess != before).sum() * COARSE**2 < SETTLED:
            break
    return np.asarray((guess == cv2.GC_FGD) | (guess == cv2.GC_PR_FGD))


# --- the edge itself -----------------------------------------------------------------------------------


def _evenly(points: Array, spacing: float) -> Array:
    """A closed line with points at even distances."""
    closed = np.vstack([points, points[:1]])
    along = np.concatenate([[0], np.cumsum(np.linalg.norm(np.diff(closed, axis=0), axis=1))])
    count = max(12, int(along[-1] / spacing))
    at = np.linspace(0, along[-1], count, endpoint=False)
    return np.column_stack([np.interp(at, along, closed[:, 0]), np.interp(at, along, closed[:, 1])])


def _eased(values: Array, sigma: float) -> Array:
    """A closed row of values, each averaged with its neighbours; sigma in points."""
    reach = max(1, int(3 * sigma))
    return np.asarray(ndimage.gaussian_filter1d(values, sigma, axis=0, mode="wrap", radius=reach))


def _normals(points: Array) -> Array:
    """The way out at each point of an anticlockwise line."""
    way = np.roll(points, -1, axis=0) - np.roll(points, 1, axis=0)
    way /= np.linalg.norm(way, axis=1, keepdims=True) + 1e-12
    return np.column_stack([way[:, 1], -way[:, 0]])


def _fine_edge(photo: Pixels, camera: Camera, coarse: Array) -> tuple[Array, float]:
    """The edge found anew in the photo, in mm, and how far its points scatter about it."""
    points = _evenly(_eased(_evenly(coarse, SPACING), 1.6), SPACING)
    spread, contrast = 0.0, np.zeros(1)
    for reach, along, ease, of_table in (
        (REACH, ALONG, 2.0, True),
        (REACH * 0.6, ALONG * 0.7, 0.9, False),
        (REACH * 0.45, ALONG * 0.5, 0.6, False),
    ):
        shift, trust, contrast = _found_along(photo, camera, points, reach, along, of_table=of_table)
        steady = _steadied(shift, trust, WIDE if of_table else NARROW)
        spread = float(np.median(np.abs(shift - _eased(shift, 4.0)))) * 1.5
        points = points + _normals(points) * steady[:, None]
        points = _evenly(_eased(points, ease), SPACING)
    if float(np.median(contrast)) < LEAST_CONTRAST:
        raise NoAnswer(NO_COVER)
    return _sharpened(points), min(spread, 2.0)


def _sharpened(points: Array) -> Array:
    """The line with the corners that averaging has blunted drawn out again: to where the two straight sides meet.

    Only where both sides are straight for a hand's breadth, and the meeting is no further off than averaging blunts; a
    corner that the cloth itself has rounded stays round.
    """
    count = len(points)
    near, far = round(CORNER_NEAR / SPACING), round(CORNER_FAR / SPACING)
    if count < 4 * far:
        return points
    before = points - np.roll(points, near, axis=0)
    after = np.roll(points, -near, axis=0) - points
    turn = np.abs(np.arctan2(before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0], (before * after).sum(axis=1)))
    made = points.copy()
    drop = np.zeros(count, bool)
    for at in np.nonzero(turn > CORNER_TURN)[0]:
        around = turn[np.arange(at - near, at + near + 1) % count]
        if turn[at] < around.max():
            continue
        sides = [_straight(points[np.arange(at + sign * near, at + sign * far, sign) % count]) for sign in (-1, 1)]
        if any(side is None for side in sides):
            continue
        (p, u), (q, v) = sides  # type: ignore[misc]
        cross = u[0] * v[1] - u[1] * v[0]
        if abs(cross) < 0.3:
            continue
        meet = p + u * ((q - p)[0] * v[1] - (q - p)[1] * v[0]) / cross
        if np.linalg.norm(points - meet, axis=1).min() < BLUNTED:
            made[at] = meet
            reach = np.arange(at - near + 1, at + near) % count
            drop[reach[reach != at]] = True
    return made[~drop]


def _straight(side: Array) -> tuple[Array, Array] | None:
    """The line through points that lie on one: a point of it and its way; nothing where they don't."""
    middle = side.mean(axis=0)
    _, sizes, ways = np.linalg.svd(side - middle)
    return (middle, ways[0]) if sizes[1] / np.sqrt(len(side)) < 0.25 else None


def _found_along(
    photo: Pixels, camera: Camera, points: Array, reach: float, along: float, *, of_table: bool
) -> tuple[Array, Array, Array]:
    """How far out of each point the edge lies in mm, how far that is to be trusted, 0 to 1,
    and the contrast across it.
    """
    normals = _normals(_eased(points, 1.5))
    steps = np.arange(-reach, reach + FINE / 2, FINE)
    looks = points[:, None, :] + normals[:, None, :] * steps[None, :, None]
    seen = camera.pixels(looks.reshape(-1, 2)).astype(np.float32)
    shape = (len(points), len(steps))
    colours = cv2.remap(
        photo, seen[:, 0].reshape(shape), seen[:, 1].reshape(shape), cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
    )
    # told from the table by lightness and hue; the edge itself in the photo's own values, in which half of each is
    # halfway
    lab = (
        cv2.cvtColor(colours.astype(np.float32) / 255, cv2.COLOR_BGR2LAB).astype(float)
        if reach > REACH * 0.5
        else colours.astype(float) * 0.39
    )
    calm = np.stack([_eased(lab[:, :, k], along / SPACING) for k in range(3)], axis=2)
    side = max(3, int(len(steps) * 0.28))
    inner = np.median(calm[:, :side], axis=1)
    outer = np.median(calm[:, -side:], axis=1)
    inner, outer = _eased(inner, 2.0), _eased(outer, 2.0)
    way = inner - outer
    contrast = np.linalg.norm(way, axis=1)
    if of_table:  # whatever is not like the table is cover: a stripe that runs along the edge is no edge
        away = np.linalg.norm(calm - outer[:, None, :], axis=2)
        level = _eased(np.quantile(away[:, : len(steps) // 3], 0.2, axis=1), 2.0)
        share = away / (np.clip(level, LEAST_APART, SURELY)[:, None])
    else:
        # 1 inside, 0 outside
        share = ((calm - outer[:, None, :]) * way[:, None, :]).sum(axis=2) / (contrast[:, None] ** 2 + 1e-6)
    share = np.clip(share, 0, 1)
    # the cut at which the fewest steps lie on the wrong side: a thread, a flower or a grain counts only with its width
    wrong = np.cumsum(1 - share, axis=1) + (share.sum(axis=1, keepdims=True) - np.cumsum(share, axis=1))
    best = wrong.argmin(axis=1)
    rows = np.arange(len(points))
    low, high = np.clip(best, 0, len(steps) - 2), np.clip(best + 1, 1, len(steps) - 1)
    a, b = share[rows, low], share[rows, high]
    part = np.where(np.abs(a - b) > 1e-6, (a - 0.5) / np.where(np.abs(a - b) > 1e-6, a - b, 1), 0.5)
    shift = steps[low] + np.clip(part, 0, 1) * FINE
    trust = np.clip((contrast - 2) / 8, 0, 1) * (np.abs(shift) < reach * 0.93)
    return shift, trust, contrast


def _steadied(shift: Array, trust: Array, window: int) -> Array:
    """Shifts with what is not to be trusted, or jumps away from its neighbours, taken from them."""
    count = len(shift)
    around = np.stack([np.roll(shift, k) for k in range(-window, window + 1)])
    middle = np.median(around, axis=0)
    good = (trust > 0.15) & (np.abs(shift - middle) < 1.2)
    if good.sum() < count * 0.2:
        return np.clip(middle, -REACH, REACH)
    at = np.arange(count)
    known = at[good]
    return np.interp(at, np.concatenate([known - count, known, known + count]), np.tile(shift[good], 3))


def _thinned(points: Array) -> Array:
    """The line with as few points as its fineness allows."""
    for fineness in (FINENESS, FINENESS * 2, FINENESS * 4, 1.0, 2.0):
        thin = cv2.approxPolyDP(points.astype(np.float32).reshape(-1, 1, 2), fineness, closed=True).reshape(-1, 2)
        if len(thin) <= MOST_POINTS:
            break
    return np.asarray(thin, float)
