"""The photo of a finished seat: chosen, its corners pointed at, laid flat under the rehearsal, its stripes compared."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass

from django.core.cache import cache
from django.db.models import Q

from zonatome.core.errors import BadInput
from zonatome.core.fasten.rehearsal.faults import Sight
from zonatome.core.fasten.rehearsal.seat_photo import Compared, Corner, compared, corners_of, laid_flat
from zonatome.core.formats.rehearsal_json import read_marks
from zonatome.core.outline import Point
from zonatome.web.jobs.models import JobPart, Photo
from zonatome.web.rehearse.models import Rehearsal
from zonatome.web.rehearse.services import SetUp, Stand, alone

KEPT_SECONDS = 3600
INSET, FAR = 0.2, 0.8  # shares of a photo where the marks stand at first


@dataclass(frozen=True)
class StripeLine:
    """A stripe that was drawn, told off by its number from 1: what was found, or why it can't be compared."""

    number: int
    found: Compared | None
    words: str


def corners_on(set_up: SetUp) -> tuple[Corner, ...]:
    """Return the places of the board that are pointed at on a photo."""
    return corners_of(set_up.board.edge, stands=set_up.stands)


def photos_for(part: JobPart) -> list[Photo]:
    """Return the photos on which the finished panel may be: its own, and those of the whole piece afterwards."""
    photos = Photo.objects.filter(job=part.job).filter(Q(part=part, when__in=("look", "after")) | Q(when="after"))
    return list(photos.order_by("id"))


def marks_of(row: Rehearsal) -> tuple[Point, ...]:
    """Return where the corners are on the photo; none where nobody has pointed at them yet."""
    return read_marks(row.marks) if row.photo_id else ()


def usual_marks(corners: tuple[Corner, ...]) -> tuple[Point, ...]:
    """Return where the marks stand before somebody moves them: as the corners lie, a fifth inside the photo."""
    xs, ys = zip(*(corner.at for corner in corners), strict=True)
    wide, high = max(xs) - min(xs), max(ys) - min(ys)
    share = FAR - INSET
    return tuple(
        (INSET + share * (x - min(xs)) / wide, FAR - share * (y - min(ys)) / high) for x, y in (c.at for c in corners)
    )


def keep_marks(row: Rehearsal, photo: Photo, told: object) -> None:
    """Keep where the corners are on a photo. Raises BadInput for marks that are none."""
    marks = read_marks(told)
    if not marks:
        raise BadInput("marks", 0, "four places on the photo")
    row.photo, row.marks = photo, [list(mark) for mark in marks]
    row.save()


def take_away(row: Rehearsal) -> None:
    """Lay no photo under the rehearsal any more; the photo itself stays with the tag."""
    row.photo, row.marks = None, []
    row.save()


def flat_seat(row: Rehearsal, set_up: SetUp) -> bytes:
    """Return the photo laid flat over the cloth as it is cut, a JPEG. Raises BadInput where there is none."""
    marks = marks_of(row)
    if row.photo is None or not marks:
        raise BadInput("photo", None, "a photo with its corners")
    box = set_up.board.cloth.bounds
    told = repr((row.photo.pk, row.photo.file.name, marks, box, corners_on(set_up)))
    key = "seat-" + hashlib.sha256(told.encode()).hexdigest()
    found: bytes | None = cache.get(key)
    if found is None:
        try:
            content = row.photo.path.read_bytes()
        except FileNotFoundError:
            raise BadInput("photo", row.photo.file.name, "a photo that is there") from None
        found = laid_flat(content, marks, corners_on(set_up), box)
        cache.set(key, found, KEPT_SECONDS)
    return found


@alone
def stripes_of(stand: Stand, sights: tuple[Sight, ...]) -> list[StripeLine]:
    """Return each stripe that was drawn beside the one that was foreseen."""
    found = []
    for number, sight in enumerate((one for one in sights if one.sort == "bow"), 1):
        try:
            one = compared(stand.sheet, stand.state, sight.points, stands=stand.set_up.stands)
        except BadInput as refused:
            found.append(StripeLine(number, None, refused.told))
        else:
            found.append(StripeLine(number, one, one.words))
    return found
