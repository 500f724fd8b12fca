"""A save that would overwrite somebody's newer one: it is refused, and both are shown."""

from __future__ import annotations

from dataclasses import dataclass

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render


@dataclass(frozen=True)
class Line:
    """One thing that differs: its name, what stands now, what was sent."""

    name: str
    stands: str
    sent: str


class ChangedMeanwhile(Exception):
    """What was sent was made on an older version than the one that stands."""

    def __init__(self, what: str, lines: list[Line]) -> None:
        """`what` was changed; `lines` are what differs."""
        super().__init__(what)
        self.what, self.lines = what, lines


def both_shown(request: HttpRequest, changed: ChangedMeanwhile, *, version: int, back: str) -> HttpResponse:
    """Answer with both: what stands and what was sent; the second can then be sent over the first on purpose."""
    sent = [
        (key, value)
        for key, values in request.POST.lists()
        if key not in ("csrfmiddlewaretoken", "version")
        for value in values
    ]
    context = {"changed": changed, "sent": sent, "version": version, "back": back, "address": request.path}
    return render(request, "changed.html", context, status=409)


def sent_version(request: HttpRequest) -> int | None:
    """Return the version that a form was made on, or nothing where it says none."""
    text = request.POST.get("version", "")
    return int(text) if text.isdigit() and len(text) < 10 else None
