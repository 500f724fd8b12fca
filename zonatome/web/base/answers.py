"""Answers that every room gives: in words to a script, and back to where one came from."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from typing import Any

from django.http import HttpResponse, HttpResponseRedirect, JsonResponse
from django.shortcuts import redirect
from django.utils.http import url_has_allowed_host_and_scheme

from zonatome.core.units import said_in
from zonatome.web.base.request import BenchRequest

FORMULA = tuple("=+-@\t\r")  # a cell that begins so is worked out by spreadsheets


def said(request: BenchRequest, words: str, *, status: int = 422, **more: Any) -> JsonResponse:
    """Answer a page's script in words, lengths in the workroom's unit."""
    return JsonResponse({"words": said_in(words, request.workroom.units), **more}, status=status)


def go_back(request: BenchRequest, otherwise: str) -> HttpResponse:
    """Go back to the page of this site that the form names in `back`; to another where it names none."""
    back = request.POST.get("back", "")
    here = back.startswith("/") and url_has_allowed_host_and_scheme(back, allowed_hosts={request.get_host()})
    return HttpResponseRedirect(back) if here else redirect(otherwise)


def table(name: str, head: Sequence[str], rows: Iterable[Sequence[object]]) -> HttpResponse:
    """Answer with a table as CSV; what a spreadsheet would take for a formula is told to be text."""
    content = io.StringIO()
    writer = csv.writer(content)
    writer.writerow(head)
    for row in rows:
        writer.writerow([f"'{cell}" if isinstance(cell, str) and cell[:1] in FORMULA else cell for cell in row])
    return HttpResponse(
        content.getvalue(),
        content_type="text/csv; charset=utf-8",
        headers={"Content-Disposition": f'attachment; filename="{name}"'},
    )
