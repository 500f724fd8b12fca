"""Photos: bounded before they are parsed, put right, made anew as JPEG without what the camera wrote beside them."""

from __future__ import annotations

import contextlib
import io
import warnings

from django.core.files.base import ContentFile
from django.core.files.uploadedfile import UploadedFile
from django.db.models.fields.files import FieldFile
from django.http import HttpRequest
from PIL import Image, ImageOps, UnidentifiedImageError

from zonatome.core.errors import BadInput
from zonatome.core.trace.photo import refuse_heic
from zonatome.web.jobs.models import Job, JobPart, Photo

MOST_BYTES = 14 * 1024 * 1024
MOST_PIXELS = 40_000_000
LONG_SIDE = 1600
KINDS = ("JPEG", "PNG")


def keep_sent_photo(request: HttpRequest, job: Job, when: str, *, part: JobPart | None = None, words: str = "") -> Photo:
    """Store the photo that a form sent. Raises BadInput where there is none, or it is none."""
    upload = request.FILES.get("photo")
    if upload is None:
        raise BadInput("photo", None, "a JPEG or PNG photo", words="Choose a photo first, a JPEG or PNG.")
    return keep_photo(job, when, upload, part=part, words=words)


def keep_photo(job: Job, when: str, upload: UploadedFile, *, part: JobPart | None = None, words: str = "", as_it_is: bool = False) -> Photo:
    """Store a photo of a job, pinned to a part where one is given.

    With `as_it_is` a JPEG that bears no notes of a camera and is no larger than this application makes them is kept
    byte by byte: one that comes back from a job's ZIP does not get worse.

    Raises BadInput with the key `photo` for what is no photo; then nothing is stored.
    """
    content = made_anew(upload, as_it_is=as_it_is)
    photo = Photo(job=job, when=when, part=part, words=words[:120])
    store_file(photo.file, "photo.jpg", content)
    return photo


def store_file(file: FieldFile, name: str, content: bytes) -> None:
    """Store a file under a name of its own and the row that it belongs to: both, or neither, as when the disk is full half-way."""
    row, field = file.instance, file.field
    place = field.generate_filename(row, name)  # new each time
    try:
        file.name = file.storage.save(place, ContentFile(content))
        setattr(row, field.attname, file.name)
        row.save()
    except BaseException:
        with contextlib.suppress(OSError):
            file.storage.delete(place)
        raise


def made_anew(upload: UploadedFile, *, as_it_is: bool = False) -> bytes:
    """Return a photo that was sent as a new JPEG, upright, of at most LONG_SIDE. Raises BadInput with the key `photo` for what is none."""
    if (upload.size or 0) > MOST_BYTES:
        raise BadInput("photo", f"{(upload.size or 0) / 2**20:.0f} MB", f"at most {MOST_BYTES // 2**20} MB")
    refuse_heic(upload.read(12))
    upload.seek(0)
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            picture = Image.open(upload, formats=KINDS)
            if picture.width * picture.height > MOST_PIXELS:
                raise BadInput("photo", f"{picture.width} x {picture.height}", f"at most {MOST_PIXELS // 10**6} million pixels")
            ours = as_it_is and picture.format == "JPEG" and max(picture.size) <= LONG_SIDE and not picture.getexif()
            picture = ImageOps.exif_transpose(picture)
            picture.thumbnail((LONG_SIDE, LONG_SIDE))
            kept = io.BytesIO()
            if ours:
                picture.load()
                upload.seek(0)
                kept.write(upload.read())
            else:
                picture.convert("RGB").save(kept, "JPEG", quality=85)
    except (Image.DecompressionBombError, Image.DecompressionBombWarning) as err:
        raise BadInput("photo", upload.name, f"at most {MOST_PIXELS // 10**6} million pixels") from err
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError) as err:
        if isinstance(err, BadInput):
            raise
        words = f"{str(upload.name)[-60:]} is no photo: choose a JPEG or PNG."
        raise BadInput("photo", upload.name, "a JPEG or PNG photo that can be read", words=words) from err
    return kept.getvalue()
