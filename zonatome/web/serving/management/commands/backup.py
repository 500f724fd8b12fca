"""Write the whole workroom into one file."""

from __future__ import annotations

import sqlite3
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.utils import timezone

from zonatome.core.errors import BadInput
from zonatome.web.base.backup import write_backup


class Command(BaseCommand):
    """`manage.py backup [FILE]`."""

    help = "Write the whole workroom, photos included, into one file and check it; it may run meanwhile."

    def add_arguments(self, parser: CommandParser) -> None:
        """Where to."""
        parser.add_argument(
            "file", nargs="?", help="where to; a name with today's date in the current folder where none is given"
        )

    def handle(self, *_: Any, file: str | None, **__: Any) -> None:
        """Write it."""
        if not Path(str(settings.DATABASES["default"]["NAME"])).exists():
            raise CommandError(f"There is no workroom in {settings.HOME}.")
        to = Path(file or f"zonatome-{timezone.localtime():%Y-%m-%d-%H%M}.zip").expanduser().absolute()
        if to.exists():
            raise CommandError(f"{to} is there already; name another file.")
        try:
            write_backup(to)
        except (OSError, BadInput, sqlite3.Error) as wrong:
            raise CommandError(f"No backup was written: {wrong}") from wrong
        self.stdout.write(f"  Written and checked: {to} ({to.stat().st_size / 1e6:.1f} MB)\n")
