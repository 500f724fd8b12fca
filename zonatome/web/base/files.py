"""Files that belong to a row: both are stored, or neither; photos are sent once."""

from __future__ import annotations

import contextlib
import zlib
from pathlib import Path

from django.core.files.base import ContentFile
from django.db.models.fields.files import FieldFile
from django.http import FileResponse, Http404, HttpRequest, HttpResponseNotModified


def store_file(file: FieldFile, name: str, content: bytes) -> None:
    """Store a file under a name of its own and the row that it belongs to: both, or neither, as when the disk is full
    half-way.
    """
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


def sent_photo(request: HttpRequest, file: FieldFile) -> FileResponse | HttpResponseNotModified:
    """Send a photo, or that the one sent before still holds; Http404 where it is not there."""
    try:
        stands = Path(file.path).stat()
        etag = f'"{zlib.crc32(str(file.name).encode()):x}-{stands.st_size:x}-{stands.st_mtime_ns:x}"'
        headers = {"ETag": etag, "Cache-Control": "private, no-cache"}
        if request.headers.get("If-None-Match") == etag:
            return HttpResponseNotModified(headers=headers)
        return FileResponse(file.open("rb"), content_type="image/jpeg", headers=headers)
    except FileNotFoundError:
        raise Http404 from None
