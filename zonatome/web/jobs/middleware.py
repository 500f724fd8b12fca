"""What every request passes through: a bound on its body, and the workroom it belongs to."""

from __future__ import annotations

from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils.functional import SimpleLazyObject

from zonatome.web.jobs.models import Workroom

JOBS_COME_IN = "/tags/bring-in/"
Answer = Callable[[HttpRequest], HttpResponse]


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


def with_workroom(get_response: Answer) -> Answer:
    """Give the request its `workroom`, loaded when first asked for."""

    def middleware(request: HttpRequest) -> HttpResponse:
        request.workroom = SimpleLazyObject(Workroom.the_one)  # type: ignore[attr-defined]
        answer = get_response(request)
        if answer.status_code == 405 and request.method == "GET":  # the address of a form, opened again after it was refused
            words = "A page sends its form to this address; there is nothing to open here. Nothing was changed."
            return render(request, "refused.html", {"heading": "Nothing to see here", "words": words}, status=405)
        return answer

    return middleware
