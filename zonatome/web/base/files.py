"""Files that belong to a row: both are stored, or neither."""

from __future__ import annotations

import contextlib

from django.core.files.base import ContentFile
from django.db.models.fields.files import FieldFile


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
