"""Make the sample workroom that is shipped."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser

from zonatome.web.demo.ready import READY, write_ready
from zonatome.web.demo.sample import load_sample
from zonatome.web.jobs.models import Job


class Command(BaseCommand):
    """`manage.py make_sample [FILE]`, in an empty folder."""

    help = (
        "Work out the sample workroom from its data and write it as it is shipped. ZONATOME_HOME must name an "
        "empty folder."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        """Where to."""
        parser.add_argument("file", nargs="?", default=str(READY))

    def handle(self, *_: Any, file: str, **__: Any) -> None:
        """Make it."""
        call_command("migrate", verbosity=0, interactive=False)
        if Job.every.exists():
            raise CommandError("There is a workroom in this folder already; name an empty one by ZONATOME_HOME.")
        load_sample()
        write_ready(Path(file))
        self.stdout.write(f"  Written: {file}, {Path(file).stat().st_size / 1e6:.1f} MB\n")
