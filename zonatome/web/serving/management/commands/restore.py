"""Put a backup in the place of the workroom."""

from __future__ import annotations

import sqlite3
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser

from zonatome.core.errors import BadInput
from zonatome.web.base.backup import restore_backup
from zonatome.web.serving.locks import Taken, held


class Command(BaseCommand):
    """`manage.py restore FILE`."""

    help = "Put a backup in the place of the workroom; what was there is moved aside. End Zonatome first."

    def add_arguments(self, parser: CommandParser) -> None:
        """Which."""
        parser.add_argument("file")

    def handle(self, *_: Any, file: str, **__: Any) -> None:
        """Restore it."""
        path = Path(file).expanduser()
        if not path.is_file():
            raise CommandError(f"There is no file {path}.")
        try:
            with held(settings.HOME / "site.lock"), held(settings.HOME / "worker.lock"):
                aside = restore_backup(path)
        except Taken as who:
            raise CommandError(f"Zonatome runs in this folder ({who}). End it first; nothing was changed.") from who
        except (OSError, BadInput, sqlite3.Error) as wrong:
            raise CommandError(f"Nothing was changed: {wrong}") from wrong
        self.stdout.write(f"  Restored from {path}." + (f" What was there lies in {aside}.\n" if aside else "\n"))
