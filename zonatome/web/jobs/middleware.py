"""What every request passes through: a bound on its body, and the workroom it belongs to."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils.functional import SimpleLazyObject

from zonatome.web.jobs.models import Workroom

Answer = Callable[[HttpRequest], HttpResponse]


def with_workroom(get_response: Answer) -> Answer:
    """Give the request its `workroom`, loaded when first asked for."""

    def middleware(request: HttpRequest) -> HttpResponse:
        request.workroom = SimpleLazyObject(Workroom.the_one)  # type: ignore[attr-defined]
        answer = get_response(request)
        # the address of a form, opened again after it was refused
        if answer.status_code == 405 and request.method == "GET":
            words = "A page sends its form to this address; there is nothing to open here. Nothing was changed."
            return render(request, "refused.html", {"heading": "Nothing to see here", "words": words}, status=405)
        return answer

    return middleware
