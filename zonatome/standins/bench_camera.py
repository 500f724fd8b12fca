"""A stand-in for a camera over the bench: it photographs made-up covers on the mat, with a tilt, a light and a lens of
one's choice.

What it returns is a JPEG as a phone would send it, and the true outline beside it, for those who want to compare.
"""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from zonatome.core.lazily import Lazily
from zonatome.core.trace.mat import IDS, Mat

if TYPE_CHECKING:
    import cv2
else:
    cv2 = Lazily("cv2")

DRAWN = 0.5  # mm a pixel of the table that is drawn before it is photographed
BORDER = 260.0  # mm of table round the mat
PAPER = 14.0  # mm of white round a marker
NOISE = np.float32(2.2)  # of 255, in each of a pixel's three colours

TABLES = {
    "grey board": (122, 128, 128),
    "wood": (92, 132, 172),
    "dark mat": (66, 62, 60),
    "kraft paper": (112, 148, 178),
}
CLOTHS = {
    "plain teal": (96, 92, 22),
    "woven rust": (52, 78, 156),
    "striped": (70, 120, 60),
    "flowered": (150, 150, 226),
    "pale oat": (186, 206, 216),
}
COVERS: dict[str, tuple[tuple[float, float], ...]] = {
    "seat, tapered": ((-230, -215), (230, -215), (205, 0), (190, 215), (0, 226), (-190, 215), (-205, 0)),
    "inside back": (
        (-210, -270),
        (0, -282),
        (210, -270),
        (232, 120),
        (206, 250),
        (110, 292),
        (0, 302),
        (-110, 292),
        (-206, 250),
        (-232, 120),
    ),
    "arm front": (
        (-60, -200),
        (60, -200),
        (52, -40),
        (84, 60),
        (96, 130),
        (60, 190),
        (0, 212),
        (-60, 190),
        (-96, 130),
        (-84, 60),
        (-52, -40),
    ),
    "stool top": tuple((200 * np.cos(t), 200 * np.sin(t)) for t in np.linspace(0, 2 * np.pi, 72, endpoint=False)),
    "stool, square": ((-232, -236), (0, -238), (234, -233), (236, 0), (233, 235), (0, 238), (-235, 234), (-237, 0)),
    "end, oblong": ((-136, -236), (137, -234), (139, 0), (136, 237), (-135, 235), (-138, 0)),
    "side, lopsided": ((-180, -220), (150, -230), (190, 60), (60, 230), (-160, 210)),
}


@dataclass(frozen=True)
class Shot:
    """What is photographed and how: angles in degrees, lens as the share that a corner is drawn out, light 0 to 1 for
    uneven.
    """

    cover: str = "seat, tapered"
    cloth: str = "plain teal"
    table: str = "grey board"
    tilt: float = 12.0
    roll: float = 2.0
    turn: float = 6.0
    lens: float = 0.004
    light: float = 0.4
    shadow: bool = False
    frayed: bool = False
    hole: bool = False
    hidden_marker: int | None = None
    is_bare: bool = False  # nothing lies on the mat
    width: int = 2592
    seed: int = 1


def photograph(shot: Shot, mat: Mat) -> tuple[bytes, tuple[tuple[float, float], ...]]:
    """Return the photo as JPEG and the true outline in mm in the mat's frame.

    Raises KeyError for what it has not got.
    """
    chance = np.random.default_rng(shot.seed)
    outline = _placed(shot, mat)
    table = _table(shot, mat, chance)
    _lay(table, shot, mat, outline, chance)
    seen = _seen(table, shot, mat)
    bright = NOISE * chance.standard_normal(seen.shape, dtype=np.float32)
    bright += seen * _light(seen.shape, shot)
    seen = np.clip(bright, 0, 255, out=bright).astype(np.uint8)
    _, content = cv2.imencode(".jpg", cv2.GaussianBlur(seen, (0, 0), 0.7), [cv2.IMWRITE_JPEG_QUALITY, 91])
    return content.tobytes(), tuple((float(x), float(y)) for x, y in outline)


def _placed(shot: Shot, mat: Mat) -> NDArray[np.float64]:
    points = np.array(COVERS[shot.cover], float)
    angle = np.radians(shot.turn)
    turned = points @ np.array([[np.cos(angle), np.sin(angle)], [-np.sin(angle), np.cos(angle)]])
    placed: NDArray[np.float64] = (
        turned + np.array([mat.width / 2, mat.height / 2]) - (turned.max(axis=0) + turned.min(axis=0)) / 2
    )
    return placed


def _pixel(points: NDArray[np.float64], mat: Mat) -> NDArray[np.float64]:
    return np.column_stack([(points[:, 0] + BORDER) / DRAWN, (mat.height + BORDER - points[:, 1]) / DRAWN]) - 0.5


def _soft(rows: int, columns: int, size: float, chance: np.random.Generator) -> NDArray[np.float32]:
    """Soft patches about 0, a few hundred pixels wide."""
    small = chance.normal(0, 1, (max(2, int(rows / size)), max(2, int(columns / size)))).astype(np.float32)
    return np.asarray(cv2.resize(small, (columns, rows), interpolation=cv2.INTER_CUBIC))


def _table(shot: Shot, mat: Mat, chance: np.random.Generator) -> NDArray[np.float32]:
    rows, columns = int((mat.height + 2 * BORDER) / DRAWN), int((mat.width + 2 * BORDER) / DRAWN)
    table = np.full((rows, columns, 3), TABLES[shot.table], np.float32)
    if shot.table == "wood":
        grain = _soft(rows, columns, 5, chance)
        table *= 1 + 0.06 * cv2.blur(grain, (301, 1))[:, :, None] * 4 + 0.05 * _soft(rows, 2, 120, chance)[:, :1, None]
    elif shot.table == "dark mat":
        for k in range(0, max(rows, columns), int(50 / DRAWN)):
            table[k : k + 2] += 34
            table[:, k : k + 2] += 34
    table *= 1 + 0.03 * _soft(rows, columns, 160, chance)[:, :, None]
    return table


def _lay(
    table: NDArray[np.float32], shot: Shot, mat: Mat, outline: NDArray[np.float64], chance: np.random.Generator
) -> None:
    cover = _cover_on_the_table(table.shape[:2], shot, mat, outline, chance)
    ys, xs = np.flatnonzero(cover.any(axis=1)), np.flatnonzero(cover.any(axis=0))
    is_there = len(ys) > 0
    lies = (slice(ys[0], ys[-1] + 1), slice(xs[0], xs[-1] + 1)) if is_there else (slice(0), slice(0))
    cloth = _cloth_of(table.shape, lies, shot, chance)
    if is_there:
        share = (cover[lies].astype(np.float32) / 255)[:, :, None]
        table[lies] = table[lies] * (1 - share) + cloth * share
    for centre, key in zip(mat.centres, IDS, strict=True):
        if key != shot.hidden_marker:
            _marker(table, key, centre, mat, chance.normal(0, 1.5))


def _cover_on_the_table(
    size: tuple[int, int], shot: Shot, mat: Mat, outline: NDArray[np.float64], chance: np.random.Generator
) -> NDArray[np.uint8]:
    """Where the cover lies, 0 to 255 a pixel: with its loose threads and the hole worn into it."""
    rows, columns = size
    cover = np.zeros((rows, columns), np.uint8) if shot.is_bare else _filled(_pixel(outline, mat), rows, columns)
    if shot.frayed:
        closed = np.vstack([outline, outline[:1]])
        for a, b in itertools.pairwise(closed):
            way = (b - a) / (np.linalg.norm(b - a) + 1e-9)
            out = np.array([way[1], -way[0]])
            for _ in range(int(np.linalg.norm(b - a) / 4)):
                at = a + (b - a) * chance.random()
                end = at + out * chance.uniform(1, 3) + way * chance.normal(0, 0.5)
                thread = _pixel(np.array([at, end]), mat).round().astype(int)
                cv2.line(cover, thread[0].tolist(), thread[1].tolist(), 255, 1, cv2.LINE_AA)
    if shot.hole:
        middle = _pixel(outline.mean(axis=0, keepdims=True), mat)[0].round().astype(int)
        cv2.circle(cover, middle.tolist(), int(22 / DRAWN), 0, -1, cv2.LINE_AA)
    return cover


def _cloth_of(
    shape: tuple[int, ...], lies: tuple[slice, slice], shot: Shot, chance: np.random.Generator
) -> NDArray[np.float32]:
    """The colour of the cloth where it lies: its weave, stripes or flowers, unevenly worn."""
    rows, columns = shape[:2]
    down, right = np.arange(rows)[lies[0]], np.arange(columns)[lies[1]]
    cloth = np.full((len(down), len(right), 3), CLOTHS[shot.cloth], np.float32)
    across = right[None, :] + 0.25 * down[:, None]
    if shot.cloth == "striped":
        cloth[(across * DRAWN) % 36 < 18] = (110, 214, 170)
    elif shot.cloth == "woven rust":
        cloth *= (1 + 0.1 * np.sin(across * 1.3) * np.sin(down * 1.1)[:, None])[:, :, None]
    elif shot.cloth == "flowered":
        whole = np.full(shape, CLOTHS[shot.cloth], np.float32)
        for _ in range(int(rows * columns / 9000)):
            at = (int(chance.integers(columns)), int(chance.integers(rows)))
            colour = [(60, 120, 170), (170, 90, 60), (90, 200, 240)][int(chance.integers(3))]
            cv2.circle(whole, at, int(chance.integers(6, 15)), colour, -1, cv2.LINE_AA)
        cloth = whole[lies]
    cloth *= 1 + 0.05 * _soft(rows, columns, 120, chance)[lies][:, :, None]
    return cloth


def _filled(points: NDArray[np.float64], rows: int, columns: int) -> NDArray[np.uint8]:
    """A polygon filled true to a sixteenth of a pixel: drawn eight times as large, where its own line's width counts
    little.
    """
    times = 8
    low, high = np.floor(points.min(axis=0)).astype(int) - 2, np.ceil(points.max(axis=0)).astype(int) + 2
    width, height = (high - low).tolist()
    large = np.zeros((height * times, width * times), np.uint8)
    cv2.fillPoly(large, [(((points - low + 0.5) * times - 0.5) * 16).round().astype(np.int32)], 255, shift=4)
    large = cv2.erode(large, np.ones((2, 2), np.uint8))  # half of the line's width, on the side on which it is laid
    cover = np.zeros((rows, columns), np.uint8)
    cover[low[1] : high[1], low[0] : high[0]] = cv2.resize(large, (width, height), interpolation=cv2.INTER_AREA)
    return cover


def _marker(table: NDArray[np.float32], key: int, centre: NDArray[np.float64], mat: Mat, turn: float) -> None:
    whole = mat.marker + 2 * PAPER
    size = int(whole / DRAWN) * 2
    picture = np.full((size, size), 238, np.uint8)
    inner = round(size * mat.marker / whole)
    edge = (size - inner) // 2
    marks = cv2.aruco.generateImageMarker(cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_4X4_50), key, inner)
    picture[edge : edge + inner, edge : edge + inner] = np.clip(marks, 22, 238)
    angle = np.radians(turn)
    corner = np.array([[-1, 1], [1, 1], [1, -1], [-1, -1]]) * (inner / 2 / size) * whole
    corner = (
        corner
        @ np.array([[np.cos(angle), np.sin(angle)], [-np.sin(angle), np.cos(angle)]])
        * mat.marker
        / (inner / size * whole)
    )
    to = _pixel(centre + corner, mat).astype(np.float32)
    lo, hi = edge - 0.5, edge + inner - 0.5
    room = int(whole / DRAWN)  # only the paper's own part of the table is drawn on
    left, top = np.maximum(0, to.min(axis=0).astype(int) - room).tolist()
    part = table[top : int(to[:, 1].max()) + room, left : int(to[:, 0].max()) + room]
    place = cv2.getPerspectiveTransform(
        np.array([[lo, lo], [hi, lo], [hi, hi], [lo, hi]], np.float32), to - np.array([left, top], np.float32)
    )
    laid = cv2.warpPerspective(picture, place, (part.shape[1], part.shape[0]), flags=cv2.INTER_AREA)
    mask = cv2.warpPerspective(np.full_like(picture, 255), place, (part.shape[1], part.shape[0]))
    share = (mask.astype(np.float32) / 255)[:, :, None]
    part[:] = part * (1 - share) + laid.astype(np.float32)[:, :, None] * share


def _seen(table: NDArray[np.float32], shot: Shot, mat: Mat) -> NDArray[np.uint8]:
    """The table through the camera: turned, tilted, drawn out by the lens."""
    width, height = shot.width, int(shot.width * 0.75)
    focal, away = width * 1.05, 1.0
    tilt, roll = np.radians(shot.tilt), np.radians(shot.roll)
    turn_x = np.array([[1, 0, 0], [0, np.cos(tilt), -np.sin(tilt)], [0, np.sin(tilt), np.cos(tilt)]])
    turn_z = np.array([[np.cos(roll), -np.sin(roll), 0], [np.sin(roll), np.cos(roll), 0], [0, 0, 1]])
    span = max(mat.width + 210, (mat.height + 210) / 0.75)
    away = span / width * focal * 1.06
    middle = np.array([mat.width / 2, mat.height / 2])
    view = turn_x @ turn_z @ np.diag([1.0, -1.0, -1.0])
    plane = np.column_stack([view[:, 0], view[:, 1], -view @ np.array([*middle, 0]) + np.array([0, 0, away])])
    lens = np.array([[focal, 0, width / 2 - 0.5], [0, focal, height / 2 - 0.5], [0, 0, 1]])
    from_pixel = np.array([[DRAWN, 0, -BORDER + DRAWN / 2], [0, -DRAWN, mat.height + BORDER - DRAWN / 2], [0, 0, 1]])
    rows = np.linalg.inv(lens @ plane @ from_pixel).tolist()
    xs, ys = np.meshgrid(np.arange(width, dtype=np.float32), np.arange(height, dtype=np.float32))
    dx, dy = xs - (width / 2 - 0.5), ys - (height / 2 - 0.5)
    out = 1 + shot.lens * (dx**2 + dy**2) / ((width / 2) ** 2 + (height / 2) ** 2)
    dx, dy = dx * out + width / 2 - 0.5, dy * out + height / 2 - 0.5
    across, down, depth = (a * dx + b * dy + c for a, b, c in rows)
    seen = cv2.remap(table, across / depth, down / depth, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT)
    return np.asarray(np.clip(seen, 0, 255, out=seen).astype(np.uint8))


def _light(shape: tuple[int, ...], shot: Shot) -> NDArray[np.float32]:
    rows, columns = shape[:2]
    x = np.linspace(-1, 1, columns, dtype=np.float32)[None, :]
    y = np.linspace(-1, 1, rows, dtype=np.float32)[:, None]
    light = 1.02 + shot.light * 0.3 * (0.6 * x - 0.8 * y) / 2
    if shot.shadow:
        light = light * (1 - 0.38 / (1 + np.exp(-12 * (x * 0.7 + y * 0.5 - 0.15))))
    return np.asarray(light, np.float32)[:, :, None]
