"""Copies of the whole workroom: its store, by SQLite's own backup while it is open, its photos and its key, in one ZIP
that is checked.
"""

from __future__ import annotations

import contextlib
import hashlib
import json
import os
import shutil
import sqlite3
import tempfile
import threading
import time
import zipfile
from contextlib import closing
from datetime import date, datetime, timedelta
from pathlib import Path

from django.conf import settings
from django.utils import timezone

import zonatome
from zonatome.core.errors import BadInput

FORMAT = "zonatome.backup"
LIST = "backup.json"
STORE = "workroom.sqlite3"
PHOTOS = "photos"
KEPT = ("secret-key", "seller.json")  # beside the store, where they are
DAILY_KEPT = 14
LOOKS = 600.0  # seconds between two looks whether today's copy is there
MOST_FILES = 200_000
MOST_UNPACKED = 64 * 2**30
CHUNK = 2**20


def folder() -> Path:
    """Return where the daily copies lie, beside the store."""
    return Path(settings.HOME) / "backups"


def write_backup(to: Path, *, keys: bool = True) -> Path:
    """Write the whole workroom into a ZIP and check it; return where it lies. Without `keys` what is of this
    installation alone stays here.

    The store goes in as it is at one moment, while others go on working; a photo that was put away meanwhile is left
    out. Raises BadInput where what was written can't be read again, OSError where it can't be written; then nothing is
    left behind.
    """
    to.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    unready = to.with_name(f".{to.name}.unready")
    try:
        with tempfile.TemporaryDirectory(dir=to.parent, prefix=".copy-") as aside:
            store = Path(aside) / STORE
            _copy_store(store)
            with os.fdopen(os.open(unready, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as file:
                _write_zip(file, store, KEPT if keys else ())
                file.flush()
                os.fsync(file.fileno())
        check_backup(unready)
        unready.replace(to)
    except BaseException:
        unready.unlink(missing_ok=True)
        raise
    return to


def _copy_store(to: Path) -> None:
    with (
        closing(sqlite3.connect(Path(settings.HOME) / STORE, timeout=20)) as ours,
        closing(sqlite3.connect(to)) as copy,
    ):
        ours.backup(copy)
        copy.execute("PRAGMA journal_mode=DELETE")


def _write_zip(file: object, store: Path, beside: tuple[str, ...]) -> None:
    home, photos = Path(settings.HOME), Path(settings.MEDIA_ROOT)
    lying = [(STORE, store)]
    lying += [(name, home / name) for name in beside if (home / name).is_file()]
    lying += [(f"{PHOTOS}/{p.relative_to(photos).as_posix()}", p) for p in sorted(photos.rglob("*")) if p.is_file()]
    sums: dict[str, str] = {}
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive:  # type: ignore[call-overload]
        for name, path in lying:
            try:
                sums[name] = _put(archive, name, path)
            except FileNotFoundError:
                continue  # put away meanwhile
        said = {
            "format": FORMAT,
            "version": 1,
            "zonatome": zonatome.__version__,
            "made": timezone.now().isoformat(),
            "sums": sums,
        }
        archive.writestr(LIST, json.dumps(said, indent=1))


def _put(archive: zipfile.ZipFile, name: str, path: Path) -> str:
    told = hashlib.sha256()
    with path.open("rb") as source, archive.open(name, "w") as target:
        while part := source.read(CHUNK):
            told.update(part)
            target.write(part)
    return told.hexdigest()


def made_on(path: Path) -> date:
    """Return the day on which a backup was made. Raises BadInput where it does not say."""
    try:
        with zipfile.ZipFile(path) as archive:
            return timezone.localtime(datetime.fromisoformat(json.loads(archive.read(LIST))["made"])).date()
    except (zipfile.BadZipFile, KeyError, TypeError, ValueError) as wrong:
        raise BadInput("file", path.name, "a backup that says when it was made") from wrong


def check_backup(path: Path) -> dict[str, str]:
    """Read a backup to its end: every file by its sum, the store by SQLite's own check; return its sums by name.

    Raises BadInput with the key `file` and what is wrong.
    """
    try:
        with zipfile.ZipFile(path) as archive:
            sums = _sums_of(archive)
            with tempfile.TemporaryDirectory(prefix="zonatome-") as aside:
                for name, told in sums.items():
                    _take(archive, name, told, Path(aside) / "checked" if name != STORE else Path(aside) / STORE)
                _check_store(Path(aside) / STORE)
            return sums
    except BadInput:
        raise
    except (
        zipfile.BadZipFile,
        EOFError,
        KeyError,
        NotImplementedError,
        OSError,
        RuntimeError,
        ValueError,
        sqlite3.Error,
    ) as wrong:
        raise BadInput("file", path.name, f"a backup of a workroom that can be read to its end ({wrong})") from wrong


def _sums_of(archive: zipfile.ZipFile) -> dict[str, str]:
    if sum(i.file_size for i in archive.infolist()) > MOST_UNPACKED:
        raise BadInput("file", "", f"at most {MOST_UNPACKED // 2**30} GB unpacked")
    said = json.loads(archive.read(LIST))
    if not isinstance(said, dict) or said.get("format") != FORMAT or said.get("version") != 1:
        raise BadInput("file", LIST, "a backup that this version of Zonatome has written")
    sums = said.get("sums")
    if not isinstance(sums, dict) or STORE not in sums or len(sums) > MOST_FILES:
        raise BadInput("file", LIST, "a list of what is in it, with the store")
    for name, told in sums.items():
        parts = Path(name).parts
        if (
            not isinstance(told, str)
            or name.startswith("/")
            or ".." in parts
            or (name not in (STORE, *KEPT) and parts[:1] != (PHOTOS,))
        ):
            raise BadInput("file", name[:80], "files of a workroom only")
    return sums


def _take(archive: zipfile.ZipFile, name: str, told: str, to: Path) -> None:
    sum_ = hashlib.sha256()
    to.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    with (
        archive.open(name) as source,
        os.fdopen(os.open(to, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as target,
    ):
        while part := source.read(CHUNK):
            sum_.update(part)
            target.write(part)
    if sum_.hexdigest() != told:
        raise BadInput("file", name, "every file as it was when the backup was made")


def _check_store(path: Path) -> None:
    with closing(sqlite3.connect(path)) as store:
        answer = store.execute("PRAGMA integrity_check").fetchone()[0]
        tables = {row[0] for row in store.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
    if answer != "ok" or "jobs_job" not in tables:
        raise BadInput("file", STORE, f"a store of a workroom without faults ({answer})"[:200])


def restore_backup(path: Path) -> Path | None:
    """Put a backup in the place of what lies in the workroom's folder; return where that was moved to, None where
    nothing lay there.

    Everything is unpacked and checked beside it first; what was there is moved aside, never deleted. Only while
    nothing runs in the folder. Raises BadInput for what is no sound backup; then nothing has changed.
    """
    sums = check_backup(path)
    home = Path(settings.HOME)
    with tempfile.TemporaryDirectory(dir=home, prefix=".restored-") as made:
        fresh = Path(made)
        with zipfile.ZipFile(path) as archive:
            for name, told in sums.items():
                _take(archive, name, told, fresh / name)
        aside = _moved_aside(home)
        for one in sorted(fresh.iterdir()):
            one.replace(home / one.name)
    return aside


def _moved_aside(home: Path) -> Path | None:
    there = [home / name for name in (STORE, f"{STORE}-wal", f"{STORE}-shm", PHOTOS, *KEPT)]
    there = [path for path in there if path.exists()]
    if not there:
        return None
    aside = home / f"before-restore-{timezone.localtime():%Y%m%d-%H%M%S}"
    aside.mkdir(mode=0o700)
    for path in there:
        shutil.move(path, aside / path.name)
    return aside


def daily_copies() -> list[Path]:
    """Return the daily copies there are, the newest first."""
    return sorted(folder().glob("daily-*.zip"), reverse=True)


def copy_of_the_day() -> Path | None:
    """Write today's copy where there is none yet, and put away those before the last fourteen; return it, None where
    it was there.
    """
    path = folder() / f"daily-{timezone.localdate():%Y-%m-%d}.zip"
    made = None if path.exists() else write_backup(path)
    for old in daily_copies()[DAILY_KEPT:]:
        old.unlink(missing_ok=True)
    return made


def start_daily_copies() -> None:
    """Keep a copy a day from now on, in a thread of its own."""

    def run() -> None:
        while True:
            keep_copy_of_the_day()
            time.sleep(LOOKS)

    threading.Thread(target=run, daemon=True).start()


def keep_copy_of_the_day() -> None:
    """Write today's copy where there is none; what goes wrong is said in a file beside the copies, and tried again the
    next time.
    """
    trouble = folder() / "trouble.txt"
    try:
        copy_of_the_day()
        trouble.unlink(missing_ok=True)
    except (OSError, BadInput, sqlite3.Error) as wrong:
        with contextlib.suppress(OSError):  # the same trouble
            trouble.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
            trouble.write_text(f"{timezone.localtime():%d %b %Y, %H:%M}: no copy could be written ({wrong})")


def standing() -> dict[str, object]:
    """Return what the Workroom page says of the copies: how many, the newest, how old it is,
    and what went wrong last.
    """
    there = daily_copies()
    newest = datetime.fromtimestamp(there[0].stat().st_mtime, tz=timezone.get_current_timezone()) if there else None
    trouble = folder() / "trouble.txt"
    return {
        "count": len(there),
        "newest": newest,
        "is_old": newest is None or timezone.now() - newest > timedelta(days=2),
        "folder": str(folder()),
        "trouble": trouble.read_text()[:300] if trouble.is_file() else "",
    }
