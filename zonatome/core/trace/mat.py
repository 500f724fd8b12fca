"""The tracing mat: four printed markers, found in a photo, give every pixel its place on the table in millimetres.

The mat's frame: origin at marker 3's centre, x toward marker 2, y toward marker 0. Markers are of the 4x4 dictionary of
50; ids 0, 1, 2, 3 stand at the top left, top right, bottom right and bottom left as one looks at the mat.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from zonatome.core.errors import BadInput, NoAnswer
from zonatome.core.lazily import Lazily

if TYPE_CHECKING:
    import cv2
    from scipy import optimize
else:
    cv2 = Lazily("cv2")
    optimize = Lazily("scipy.optimize")

Array = NDArray[np.float64]
IDS = (0, 1, 2, 3)
NAMES = ("top left", "top right", "bottom right", "bottom left")
MARKER = 60.0  # mm: the black square's side
LEAST_MAT = 100.0
MOST_MAT = 5000.0
# how near two squares may lie: the paper's edge must not be taken for the marker's, nor hide it
NEAREST = (0.125, 0.09, 0.06, 0.04)
TURNED_MOST = 0.35  # radians: a marker that lies more askew than 20 degrees has been put in another's place


@dataclass(frozen=True)
class Mat:
    """The mat: distances between marker centres across and down, the marker's side, all in mm."""

    width: float
    height: float
    marker: float = MARKER

    def __post_init__(self) -> None:
        """Refuse a mat that nobody can lay out."""
        for key, value in (("width", self.width), ("height", self.height)):
            if not LEAST_MAT <= value <= MOST_MAT:
                raise BadInput(f"mat.{key}", value, f"{LEAST_MAT:.0f} to {MOST_MAT:.0f} mm between marker centres")
        if not 10 <= self.marker <= min(self.width, self.height) / 2:
            raise BadInput("marker", self.marker, "a side of 10 mm or more, less than half the mat")

    @property
    def centres(self) -> Array:
        """The marker centres in mm, in the order of their ids."""
        return np.array([[0, self.height], [self.width, self.height], [self.width, 0], [0, 0]], float)


@dataclass(frozen=True)
class Camera:
    """How the table is seen: a homography from mm to pixels, a lens term about the photo's middle, and how well the
    corners fit.

    `turns` are the markers' own small turns in radians; `error` is the root mean square of the sixteen corners' misfit
    in mm.
    """

    homography: Array
    lens: float
    middle: tuple[float, float]
    radius: float
    turns: tuple[float, ...]
    error: float

    def pixels(self, points: Array) -> Array:
        """Return where points in mm, shape (n, 2), are seen, in pixels."""
        return _seen(points, self.homography, self.lens, self.middle, self.radius)

    def scale_at(self, point: tuple[float, float]) -> float:
        """Return pixels a millimetre at a point in mm."""
        x, y = point
        seen = self.pixels(np.array([[x, y], [x + 1, y], [x, y + 1]]))
        return float((np.linalg.norm(seen[1] - seen[0]) + np.linalg.norm(seen[2] - seen[0])) / 2)


def _seen(points: Array, homography: Array, lens: float, middle: tuple[float, float], radius: float) -> Array:
    x, y = np.ascontiguousarray(points[:, 0]), np.ascontiguousarray(points[:, 1])  # a whole photo's: row by row
    to_x, to_y, to_depth = (row[0] * x + row[1] * y + row[2] for row in homography)
    right, down = to_x / to_depth - middle[0], to_y / to_depth - middle[1]
    bent = 1 + lens / radius**2 * (right * right + down * down)
    return np.column_stack([middle[0] + right * bent, middle[1] + down * bent])


def find_markers(grey: NDArray[np.uint8]) -> dict[int, Array]:
    """Return the four markers' corners in pixels, shape (4, 2) each: top left, top right, bottom right, bottom left.

    Raises NoAnswer naming each marker that cannot be seen, and what to do.
    """
    settings = cv2.aruco.DetectorParameters()
    settings.cornerRefinementMethod = cv2.aruco.CORNER_REFINE_SUBPIX
    settings.cornerRefinementWinSize = 5
    settings.cornerRefinementMaxIterations = 60
    settings.cornerRefinementMinAccuracy = 0.005
    settings.adaptiveThreshWinSizeMax = 53
    found: dict[int, Array] = {}
    for apart in NEAREST:
        settings.minMarkerDistanceRate = apart
        detector = cv2.aruco.ArucoDetector(cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_4X4_50), settings)
        for key, quad in _largest(*detector.detectMarkers(grey)[:2]).items():
            found.setdefault(key, quad)
        if not 0 < len(found) < len(IDS):
            break
    missing = [i for i in IDS if i not in found]
    if len(missing) == len(IDS):
        raise NoAnswer(
            "no marker can be seen: lay the four printed markers 0 to 3 round the cover, all in the picture and sharp"
        )
    if missing:
        names = " and ".join(f"marker {i} ({NAMES[i]})" for i in missing)
        raise NoAnswer(
            f"{names} cannot be seen: uncover {'them' if len(missing) > 1 else 'it'}, no glare on it, all of it in "
            f"the picture and sharp"
        )
    return found


def _largest(corners: Sequence[object], ids: object) -> dict[int, Array]:
    """The corners of each of the mat's markers; of several that read the same, the largest."""
    found: dict[int, Array] = {}
    for quad, number in zip(corners, np.asarray(ids).flatten() if ids is not None else (), strict=True):
        here, key = np.asarray(quad, float).reshape(4, 2), int(number)
        if key in IDS and (
            key not in found
            or cv2.contourArea(here.astype(np.float32)) > cv2.contourArea(found[key].astype(np.float32))
        ):
            found[key] = here
    return found


def camera_of(grey: NDArray[np.uint8], mat: Mat) -> Camera:
    """Return how the photo sees the mat.

    Fitted to the sixteen corners by Gauss and Newton's least squares: eight terms of perspective, one of the lens, each
    marker's own turn, and one for ink and light that make all black squares seem a little larger or smaller. Raises
    NoAnswer where a marker is missing, or where they don't lie as the mat says.
    """
    height, width = grey.shape[:2]
    return camera_from(find_markers(grey), width, height, mat)


def camera_from(found: Mapping[int, Array], width: int, height: int, mat: Mat) -> Camera:
    """Return the camera that sees the four markers' corners, shape (4, 2) each, where they were found on a photo of
    this size.

    Raises NoAnswer where they don't lie as the mat says.
    """
    middle, radius = (width / 2 - 0.5, height / 2 - 0.5), float(np.hypot(width, height) / 2)
    seen = np.concatenate([found[i] for i in IDS])
    half = mat.marker / 2
    square = np.array([[-half, half], [half, half], [half, -half], [-half, -half]])

    def corners(own: Array) -> Array:
        made = []
        for centre, turn in zip(mat.centres, own[:4], strict=True):
            c, s = np.cos(turn), np.sin(turn)
            made.append(centre + square * (1 + own[4]) @ np.array([[c, s], [-s, c]]))
        return np.asarray(np.concatenate(made), float)

    first, _ = cv2.findHomography(corners(np.zeros(5)), seen)
    if first is None:
        raise NoAnswer("the markers lie on one line: lay them at the four corners of the mat")
    terms = np.concatenate([(first / first[2, 2]).flatten()[:8], [0.0], np.zeros(5)])
    scale = np.abs(terms) + np.array([1e-3, 1e-3, 1, 1e-3, 1e-3, 1, 1e-7, 1e-7, 1e-2, *[1e-2] * 5])

    def misfit(values: Array) -> Array:
        homography = np.append(values[:8], 1.0).reshape(3, 3)
        return np.asarray((_seen(corners(values[9:]), homography, float(values[8]), middle, radius) - seen).flatten())

    terms = optimize.least_squares(misfit, terms, x_scale=scale, method="lm", xtol=1e-12).x
    homography = np.append(terms[:8], 1.0).reshape(3, 3)
    per_mm = (
        float(np.mean([np.linalg.norm(found[i][k] - found[i][(k + 1) % 4]) for i in IDS for k in range(4)]))
        / mat.marker
    )
    error = float(np.sqrt((misfit(terms) ** 2).mean() * 2)) / per_mm
    turns = tuple(float(t) for t in terms[9:13])
    if max(map(abs, turns)) > TURNED_MOST or error > mat.marker / 12 or not np.isfinite(error):
        raise NoAnswer(
            f"the markers don't lie as the mat says ({mat.width:.0f} x {mat.height:.0f} mm, misfit {error:.1f} mm): "
            "measure between their centres, 0 and 1 above, 3 and 2 below"
        )
    return Camera(homography, float(terms[8]), middle, radius, turns, error)
