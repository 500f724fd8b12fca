"""An old cover, or a piece of cloth, taken up from its photo on the mat: traced, and laid flat for mending over it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from typing import TYPE_CHECKING, Any

from zonatome.core.errors import NoAnswer
from zonatome.core.intake.apart import Answer, worked_apart
from zonatome.core.lazily import Lazily
from zonatome.core.trace.mat import Mat
from zonatome.core.trace.photo import flat_photo, photo_camera, read_photo, trace_photo
from zonatome.core.trace.tidy import tidied

if TYPE_CHECKING:
    import cv2
else:
    cv2 = Lazily("cv2")

QUALITY = 82  # of the flat picture as JPEG


@dataclass(frozen=True)
class TakenUp:
    """A photo laid flat, as JPEG with its place in the mat's frame, and the outline traced on it; `error` empty: not
    traced.
    """

    jpeg: bytes
    place: dict[str, float]
    outline: tuple[tuple[float, float], ...]
    error: float | None
    words: str


def taken_up(content: bytes, mat: Mat) -> TakenUp:
    """Trace a photo and lay it flat. Nothing is stored.

    Where the markers are there and no cover can be told from the table, the outline is a square to be drawn out by
    hand. Raises BadInput and NoAnswer, in words.
    """
    picture = read_photo(content)
    camera = photo_camera(picture, mat)
    flat = flat_photo(picture, mat, camera)
    try:
        traced = trace_photo(picture, mat, camera)
        outline, error, words = tidied(traced.outline).points, traced.error, ""
    except NoAnswer as refusal:
        x, y, half = mat.width / 2, mat.height / 2, min(mat.width, mat.height) / 4
        outline, error, words = (
            ((x - half, y - half), (x + half, y - half), (x + half, y + half), (x - half, y + half)),
            None,
            str(refusal),
        )
    _, jpeg = cv2.imencode(".jpg", flat.picture, [cv2.IMWRITE_JPEG_QUALITY, QUALITY])
    height, width = flat.picture.shape[:2]
    place = {
        "mat_width": mat.width,
        "mat_height": mat.height,
        "left": flat.left,
        "top": flat.top,
        "width": width,
        "height": height,
    }
    return TakenUp(jpeg.tobytes(), place, outline, error, words)


def taken_up_apart(content: bytes, mat: Mat) -> TakenUp:
    """Do the same in a process of its own, with limits of seconds and memory.

    Raises BadInput and NoAnswer, in words.
    """
    told, jpeg = worked_apart("cover", asdict(mat), content, key="photo")
    outline = tuple((float(x), float(y)) for x, y in told.pop("outline"))
    return TakenUp(jpeg=jpeg, outline=outline, **told)


def cover_work(told: Mapping[str, Any], content: bytes) -> Answer:
    """Trace a photo on the mat that is told, for `taken_up_apart`."""
    taken = taken_up(content, Mat(**told))
    return {"place": taken.place, "outline": taken.outline, "error": taken.error, "words": taken.words}, taken.jpeg
