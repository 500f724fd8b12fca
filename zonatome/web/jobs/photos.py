"""Photos of a job: made anew from what was sent, and stored with their rows."""

from __future__ import annotations

from typing import Any

from django.core.files.uploadedfile import UploadedFile
from django.http import HttpRequest

from zonatome.core.errors import BadInput
from zonatome.core.intake.photo_in import MOST_BYTES, made_anew
from zonatome.web.base.files import store_file
from zonatome.web.jobs.models import Job, JobPart, Photo


def keep_sent_photo(
    request: HttpRequest, job: Job, when: str, *, part: JobPart | None = None, words: str = ""
) -> Photo:
    """Store the photo that a form sent. Raises BadInput where there is none, or it is none."""
    upload = request.FILES.get("photo")
    if upload is None:
        raise BadInput("photo", None, "a JPEG or PNG photo", words="Choose a photo first, a JPEG or PNG.")
    return keep_photo(job, when, upload, part=part, words=words)


def keep_photo(
    job: Job,
    when: str,
    upload: UploadedFile[Any],
    *,
    part: JobPart | None = None,
    words: str = "",
    as_it_is: bool = False,
) -> Photo:
    """Store a photo of a job, pinned to a part where one is given.

    With `as_it_is` a JPEG that bears no notes of a camera and is no larger than this application makes them is kept
    byte by byte: one that comes back from a job's ZIP does not get worse.

    Raises BadInput with the key `photo` for what is no photo; then nothing is stored.
    """
    if (upload.size or 0) > MOST_BYTES:
        raise BadInput("photo", f"{(upload.size or 0) / 2**20:.0f} MB", f"at most {MOST_BYTES // 2**20} MB")
    content = made_anew(upload.read(), name=str(upload.name), as_it_is=as_it_is)
    photo = Photo(job=job, when=when, part=part, words=words[:120])
    store_file(photo.file, "photo.jpg", content)
    return photo
