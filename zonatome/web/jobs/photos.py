"""Photos: bounded before they are parsed, put right, made anew as JPEG without what the camera wrote beside them."""

from __future__ import annotations

import io
import warnings

from django.core.files.base import ContentFile
from django.core.files.uploadedfile import UploadedFile
from django.http import HttpRequest
from PIL import Image, ImageOps, UnidentifiedImageError

from zonatome.core.errors import BadInput
from zonatome.web.jobs.models import Job, Photo

MOST_BYTES = 14 * 1024 * 1024
MOST_PIXELS = 40_000_000
LONG_SIDE = 1600
KINDS = ("JPEG", "PNG")


def keep_sent_photo(request: HttpRequest, job: Job, when: str) -> Photo:
    """Store the photo that a form sent. Raises BadInput where there is none, or it is none."""
    upload = request.FILES.get("photo")
    if upload is None:
        raise BadInput("photo", None, "a JPEG or PNG photo")
    return keep_photo(job, when, upload)


def keep_photo(job: Job, when: str, upload: UploadedFile) -> Photo:
    """Store a photo of a job. Raises BadInput with the key `photo` for what is no photo; then nothing is stored."""
    if (upload.size or 0) > MOST_BYTES:
        raise BadInput("photo", f"{(upload.size or 0) / 2**20:.0f} MB", f"at most {MOST_BYTES // 2**20} MB")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            picture = Image.open(upload, formats=KINDS)
            if picture.width * picture.height > MOST_PIXELS:
                raise BadInput("photo", f"{picture.width} x {picture.height}", f"at most {MOST_PIXELS // 10**6} million pixels")
            picture = ImageOps.exif_transpose(picture)
            picture.thumbnail((LONG_SIDE, LONG_SIDE))
            kept = io.BytesIO()
            picture.convert("RGB").save(kept, "JPEG", quality=85)
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError, Image.DecompressionBombWarning) as err:
        if isinstance(err, BadInput):
            raise
        raise BadInput("photo", upload.name, "a JPEG or PNG photo that can be read") from err
    photo = Photo(job=job, when=when)
    photo.file.save("photo.jpg", ContentFile(kept.getvalue()), save=True)
    return photo
