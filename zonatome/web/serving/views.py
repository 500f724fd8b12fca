"""The workroom's copies, on its page."""

from __future__ import annotations

import sqlite3
import tempfile
from pathlib import Path

from django.contrib import messages
from django.http import FileResponse, HttpRequest
from django.http.response import HttpResponseBase
from django.shortcuts import redirect
from django.utils import timezone
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput
from zonatome.web.base import backup
from zonatome.web.base.faults import store_trouble
from zonatome.web.base.owners import owners_only


@owners_only
@require_POST
def take_copy(request: HttpRequest) -> HttpResponseBase:
    """Send the whole workroom as one file, written and checked now."""
    backup.folder().mkdir(parents=True, exist_ok=True, mode=0o700)
    name = f"zonatome-{timezone.localtime():%Y-%m-%d-%H%M}.zip"
    try:
        with tempfile.TemporaryDirectory(dir=backup.folder(), prefix=".sent-") as aside:
            made = backup.write_backup(Path(aside) / name).open("rb")  # open, it can be sent when its folder is gone
    except (OSError, sqlite3.Error, BadInput) as wrong:
        trouble = store_trouble(wrong)
        messages.error(request, f"No copy was written: {trouble.words if trouble else wrong}")
        return redirect("jobs:workroom")
    return FileResponse(made, as_attachment=True, filename=name, content_type="application/zip")
