"""The photo of a finished seat laid under its rehearsal, and a real stripe beside the one that was foreseen. In mm."""

from __future__ import annotations

import io
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from PIL import Image

from zonatome.core.errors import BadInput
from zonatome.core.fasten.rehearsal.sheet import Sheet, State
from zonatome.core.fasten.rehearsal.threads import evenly, off_straight
from zonatome.core.fasten.rehearsal.weave import Grid
from zonatome.core.outline import Outline, Point

MARKS = 4
LEAST_SHARE = 0.02  # of a photo that a seat takes up at least
SHORTEST = 80.0  # mm of a stripe that says something
SLANT = 30.0  # degrees that a stripe may lean from its thread
PLACES = 41
ROUNDS = 12  # until the flat place is known that lies where a stripe was drawn
UNTOLD = 0.05  # mm
LONGEST_SIDE = 1400  # pixels of the photo as it is laid flat


@dataclass(frozen=True)
class Corner:
    """A place of the board that can be pointed at on a photo: its name, where it is."""

    name: str
    at: Point


def up_and_down(*, stands: bool) -> tuple[str, str]:
    """Return what one calls the upper and the lower side of a panel as it is drawn, of one that stands or lies."""
    return ("top", "bottom") if stands else ("back", "front")


def corners_of(edge: Outline, *, stands: bool = False) -> tuple[Corner, ...]:
    """Return the four places of a board that one points at on a photo, anticlockwise from the front left: its corners
    that lie nearest those of the box round it, or of a round board 9, 6, 3 and 12 o'clock.
    """
    x0, y0, x1, y1 = edge.bounds
    found = [edge.points[i] for i in edge.corners()]
    if len(found) < MARKS:
        mid_x, mid_y = (x0 + x1) / 2, (y0 + y1) / 2
        clock = {
            "9 o'clock": (x0, mid_y), "6 o'clock": (mid_x, y0), "3 o'clock": (x1, mid_y), "12 o'clock": (mid_x, y1),
        }  # fmt: skip
        return tuple(Corner(name, at) for name, at in clock.items())
    high, low = up_and_down(stands=stands)
    box = {f"{low} left": (x0, y0), f"{low} right": (x1, y0), f"{high} right": (x1, y1), f"{high} left": (x0, y1)}
    return tuple(Corner(name, min(found, key=lambda at: math.dist(at, corner))) for name, corner in box.items())


def checked_marks(marks: Sequence[Point]) -> tuple[Point, ...]:
    """Return four places on a photo, in shares of its width and height, x to the right and y down, in the order of
    `corners_of`. Raises BadInput where they lie beyond it, crosswise, or too close.
    """
    if len(marks) != MARKS:
        raise BadInput("marks", len(marks), "four places on the photo")
    if not all(math.isfinite(x) and math.isfinite(y) and 0 <= x <= 1 and 0 <= y <= 1 for x, y in marks):
        raise BadInput("marks", "beyond the photo", "places on the photo", words="A mark lies beyond the photo.")
    turns = []
    for n in range(MARKS):
        (ax, ay), (bx, by), (cx, cy) = (marks[(n + k) % MARKS] for k in range(3))
        turns.append((bx - ax) * (cy - by) - (by - ay) * (cx - bx))
    area = shapely.Polygon(marks).area
    if not (all(turn < 0 for turn in turns) or all(turn > 0 for turn in turns)) or area < LEAST_SHARE:
        raise BadInput(
            "marks", f"{100 * area:.0f} % of the photo", "the four corners of the seat, each in its place",
            words="The four marks lie crosswise or too close together: put each on its own corner of the seat.",
        )  # fmt: skip
    return tuple((float(x), float(y)) for x, y in marks)


def laid_flat(
    photo: bytes, marks: Sequence[Point], corners: Sequence[Corner], box: tuple[float, float, float, float]
) -> bytes:
    """Return a JPEG of a photo as if one looked straight down on the seat, over a box (x0, y0, x1, y1) in mm, y up.

    Source: the map between two planes by four pairs of points (a homography). Raises BadInput for marks that are none,
    or a photo that can't be read.
    """
    checked_marks(marks)
    x0, y0, x1, y1 = box
    scale = LONGEST_SIDE / max(x1 - x0, y1 - y0)
    wide, high = max(1, round((x1 - x0) * scale)), max(1, round((y1 - y0) * scale))
    try:
        with Image.open(io.BytesIO(photo)) as opened:
            picture = opened.convert("RGB")
    except OSError as wrong:
        raise BadInput("photo", len(photo), "a photo that can be read") from wrong
    there = [((corner.at[0] - x0) * scale, (y1 - corner.at[1]) * scale) for corner in corners]
    here = [(x * picture.width, y * picture.height) for x, y in marks]
    flat = picture.transform(
        (wide, high), Image.Transform.PERSPECTIVE, homography(there, here)[:8].tolist(), Image.Resampling.BICUBIC
    )
    made = io.BytesIO()
    flat.save(made, "JPEG", quality=86)
    return made.getvalue()


def homography(one: Sequence[Point], other: Sequence[Point]) -> Grid:
    """Return the nine figures, the last 1, of the map that takes four places to four others: x' = (a x + b y + c) /
    (g x + h y + 1), y' = (d x + e y + f) / (g x + h y + 1). Raises BadInput where three of them lie on one line.
    """
    rows, right = [], []
    for (x, y), (u, v) in zip(one, other, strict=True):
        rows += [[x, y, 1, 0, 0, 0, -u * x, -u * y], [0, 0, 0, x, y, 1, -v * x, -v * y]]
        right += [u, v]
    try:
        return np.append(np.linalg.solve(np.array(rows, dtype=float), np.array(right, dtype=float)), 1.0)
    except np.linalg.LinAlgError:
        raise BadInput("marks", "on one line", "four corners") from None


@dataclass(frozen=True)
class Compared:
    """A stripe as it runs on the real seat beside the one that was foreseen: whether it runs along the warp, by how
    much each bows, to which side as one looks at the panel, and how far they lie apart at most, mm; where the foreseen
    one runs (places, 2).
    """

    is_warp: bool
    real: float
    real_side: str
    foreseen: float
    foreseen_side: str
    apart: float
    foreseen_line: Grid

    @property
    def words(self) -> str:
        """Both in a sentence.

        >>> line = np.zeros((2, 2))
        >>> Compared(True, 4.24, "left", 1.8, "left", 2.6, line).words
        'the real one bows 4.2 mm to the left, the foreseen one 1.8 mm to the left; at most 2.6 mm apart'
        """
        told = [
            f"{name} {f'bows {by:.1f} mm to the {side}' if by >= UNTOLD else 'is straight'}"
            for name, by, side in (
                ("the real one", self.real, self.real_side),
                ("the foreseen one", self.foreseen, self.foreseen_side),
            )
        ]
        second = told[1].replace("the foreseen one bows", "the foreseen one")
        return f"{told[0]}, {second}; at most {self.apart:.1f} mm apart"


def compared(sheet: Sheet, state: State, drawn: Sequence[Point], *, stands: bool = False) -> Compared:
    """Return a stripe as it was drawn on the real seat beside where its thread was foreseen to run.

    The thread is that on which most of the stripe lay when the cloth was flat. Raises BadInput for a line that is
    short, lies beyond the pad, or along no thread.
    """
    line = np.array(drawn, dtype=float)
    if len(line) < 2 or float(np.hypot(*(line[-1] - line[0]))) < SHORTEST:
        raise BadInput(
            "stripe", len(line), f"a stripe of {SHORTEST:.0f} mm and more",
            words=f"Draw along a stripe for {SHORTEST:.0f} mm at least: a shorter one says nothing.",
        )  # fmt: skip
    if not sheet.board.edge.polygon.buffer(5.0).covers(shapely.LineString(line)):
        raise BadInput("stripe", "beyond the pad", "a stripe on the pad", words="Draw it within the edge of the pad.")
    places = evenly(line, PLACES)
    flat = _was_flat(sheet, state, places)
    turn = math.radians(sheet.board.warp_degrees)
    warp = np.array([math.cos(turn), math.sin(turn)])
    way = flat[-1] - flat[0]
    lean = math.degrees(math.acos(min(1.0, abs(float(way @ warp)) / float(np.hypot(*way)))))
    if SLANT < lean < 90 - SLANT:
        raise BadInput(
            "stripe", f"{lean:.0f} degrees", "a line along a thread",
            words="That line runs along no thread: a stripe runs along the warp or across it.",
        )  # fmt: skip
    is_warp = lean <= SLANT
    along = warp if is_warp else np.array([-warp[1], warp[0]])
    aside = np.array([-along[1], along[0]])
    thread = along * (flat @ along)[:, None] + aside * float((flat @ aside).mean())
    foreseen = sheet.moved(thread, state)
    real_by, real_side = _bow(places, stands=stands)
    by, side = _bow(foreseen, stands=stands)
    apart = float(np.hypot(*(places - foreseen).T).max())
    return Compared(is_warp, real_by, real_side, by, side, apart, foreseen)


def _was_flat(sheet: Sheet, state: State, places: Grid) -> Grid:
    """Where places of the cloth as it lies were when it was flat."""
    flat = places
    for _ in range(ROUNDS):
        flat = flat - (sheet.moved(flat, state) - places)
    return flat


def _bow(line: Grid, *, stands: bool) -> tuple[float, str]:
    """By how much a line bows off the straight one that fits it best, and toward which side of the drawing."""
    ends = line[-1] - line[0]
    aside = np.array([-ends[1], ends[0]]) / max(float(np.hypot(*ends)), 1e-9)
    off = (line - line[0]) @ aside
    most = float(off[int(np.argmax(np.abs(off)))])
    x, y = aside * (1 if most >= 0 else -1)
    side = ("right" if x > 0 else "left") if abs(x) > abs(y) else up_and_down(stands=stands)[int(y <= 0)]
    return off_straight(line), side
