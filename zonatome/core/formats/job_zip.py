"""A job as one ZIP of open files, `zonatome.job` version 2: job.json, and beside it photos, sound and papers."""

from __future__ import annotations

import io
import json
import lzma
import re
import zipfile
import zlib
from collections.abc import Iterator, Mapping
from typing import IO, Any

from zonatome.core.errors import BadInput
from zonatome.core.formats import reading

FORMAT = "zonatome.job"
VERSION = 2  # each panel in its own frame; version 1 is still read
DOCUMENT = "job.json"
MOST_FILES = 2000
MOST_FILE = 30 * 2**20
MOST_WHOLE = 300 * 2**20
MOST_GROWN = 25  # times, all in all: photos hardly, lists of numbers by ten or so
UNREADABLE = (
    zipfile.BadZipFile, zipfile.LargeZipFile, NotImplementedError, EOFError, OSError, RuntimeError, ValueError,
    zlib.error, lzma.LZMAError,
)  # fmt: skip
MOST_DOCUMENT = 20 * 2**20
NAME = re.compile(r"[a-z0-9_-]{1,40}/[A-Za-z0-9._-]{1,80}|[A-Za-z0-9_-]{1,60}\.(json|pdf)")


def write_job_zip(document: Mapping[str, Any], files: Mapping[str, bytes]) -> bytes:
    """Return the ZIP: the document as job.json, the files under their names.

    Raises BadInput for a name that is none.
    """
    content = io.BytesIO()
    with zipfile.ZipFile(content, "w", zipfile.ZIP_DEFLATED) as made:
        made.writestr(
            DOCUMENT, json.dumps({"format": FORMAT, "version": VERSION, **document}, indent=1, ensure_ascii=False)
        )
        for name, data in files.items():
            _checked_name(name)
            pictures = name.endswith((".jpg", ".webm", ".ogg", ".mp4"))
            made.writestr(name, data, zipfile.ZIP_STORED if pictures else zipfile.ZIP_DEFLATED)
    return content.getvalue()


def _checked_name(name: str) -> str:
    if not NAME.fullmatch(name) or ".." in name:
        raise BadInput("file", name, "a plain file name in at most one folder")
    return name


class Packed(Mapping[str, bytes]):
    """The files of a job's ZIP by their names, each unpacked when it is asked for: never all of them in memory."""

    def __init__(self, given: zipfile.ZipFile, entries: Mapping[str, zipfile.ZipInfo]) -> None:
        """Take an open ZIP and its entries, their sum checked already."""
        self.given, self.entries = given, entries

    def __getitem__(self, name: str) -> bytes:
        """Return what a file holds.

        Raises KeyError where there is none of that name, BadInput for one that is torn or too large.
        """
        entry = self.entries[name]
        most = MOST_DOCUMENT if name == DOCUMENT else MOST_FILE
        try:
            with self.given.open(entry) as file:
                data = file.read(most + 1)
        except UNREADABLE as err:
            raise BadInput("file", str(err)[:60], "a ZIP that can be read") from err
        if len(data) > most:
            raise BadInput(name, f"more than {most // 2**20} MB", f"at most {most // 2**20} MB")
        return data

    def __iter__(self) -> Iterator[str]:
        """Yield the names."""
        return iter(self.entries)

    def __len__(self) -> int:
        """Return how many there are."""
        return len(self.entries)


def read_job_zip(content: IO[bytes]) -> tuple[dict[str, Any], Mapping[str, bytes]]:
    """Return the document and the other files of a job's ZIP, unpacked one by one; `content` stays open as long as
    they are wanted.

    Every bound is checked before anything is unpacked, and again while it is: a file that says it is small is not
    believed. Raises BadInput for what is no ZIP, or no job, naming what was expected.
    """
    try:
        given = zipfile.ZipFile(content)
    except UNREADABLE as err:
        raise BadInput("file", str(err)[:60], "a ZIP that can be read") from err
    entries = [e for e in given.infolist() if not e.is_dir()]
    if len(entries) > MOST_FILES or sum(e.file_size for e in entries) > MOST_WHOLE:
        raise BadInput(
            "file", f"{len(entries)} files", f"at most {MOST_FILES} files of {MOST_WHOLE // 2**20} MB together"
        )
    if sum(e.file_size for e in entries) > MOST_GROWN * sum(e.compress_size for e in entries) + MOST_DOCUMENT:
        raise BadInput(
            "file",
            "files that grow without end when they are unpacked",
            f"files that unpack to at most {MOST_GROWN} times their size",
        )
    if DOCUMENT not in {e.filename for e in entries}:
        raise BadInput("file", ", ".join(e.filename for e in entries)[:60], f"a job's ZIP with {DOCUMENT} in it")
    named = {_checked_name(e.filename): e for e in entries}
    if len(named) < len(entries):
        raise BadInput("file", "two files of one name", "files of different names")
    packed = Packed(given, named)
    try:
        document = json.loads(packed[DOCUMENT])
    except (ValueError, RecursionError) as err:
        if isinstance(err, BadInput):
            raise
        raise BadInput(DOCUMENT, str(err)[:60], "a JSON object") from err
    document = reading.table(document, DOCUMENT)
    reading.check_format(document, FORMAT, version=1 if document.get("version") == 1 else VERSION)
    return document, Packed(given, {name: entry for name, entry in named.items() if name != DOCUMENT})
