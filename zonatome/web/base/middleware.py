"""A bound on the body of every request."""

from __future__ import annotations

from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

Answer = Callable[[HttpRequest], HttpResponse]
JOBS_COME_IN = "/tags/bring-in/"


def bounded_body(get_response: Answer) -> Answer:
    """Refuse a body above the bound before anything reads it."""

    def middleware(request: HttpRequest) -> HttpResponse:
        try:
            size = int(request.META.get("CONTENT_LENGTH") or 0)
        except ValueError:
            size = 0
        bound = settings.MOST_JOB_BODY if request.path == JOBS_COME_IN else settings.MOST_BODY
        if size > bound:
            most = bound // 2**20
            words = f"file: expected at most {most} MB, got {size / 2**20:.0f} MB. Nothing was changed."
            return render(request, "refused.html", {"heading": "Too large to take", "words": words}, status=413)
        return get_response(request)

    return middleware
