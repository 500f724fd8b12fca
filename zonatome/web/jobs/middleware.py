"""What every request passes through: the workroom it belongs to, and what its pages did not say themselves."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils.functional import SimpleLazyObject

from zonatome.core.errors import BadInput, NoAnswer
from zonatome.web.base.answers import said
from zonatome.web.base.owners import sees_money
from zonatome.web.jobs.models import Workroom

OF_SCRIPTS = ("X-Hand", "X-Quiet", "X-Staple", "X-Tick")  # what a page sends without being left
Answer = Callable[[HttpRequest], HttpResponse]


def with_workroom(get_response: Answer) -> Answer:
    """Give the request its `workroom` and whether money is seen, each looked up when first asked for."""

    def middleware(request: HttpRequest) -> HttpResponse:
        request.workroom = SimpleLazyObject(Workroom.the_one)  # type: ignore[attr-defined]
        request.sees_money = SimpleLazyObject(lambda: sees_money(request.user))  # type: ignore[attr-defined]
        answer = get_response(request)
        # the address of a form, opened again after it was refused
        if answer.status_code == 405 and request.method == "GET":
            words = "A page sends its form to this address; there is nothing to open here. Nothing was changed."
            return render(request, "refused.html", {"heading": "Nothing to see here", "words": words}, status=405)
        return answer

    return middleware


def says_refusals(get_response: Answer) -> Answer:
    """Say what the core refused where a page does not say it beside the box it was typed into: in words, lengths in
    the workroom's unit, and to a script as it expects them.
    """

    def middleware(request: HttpRequest) -> HttpResponse:
        return get_response(request)

    def process_exception(request: HttpRequest, refused: Exception) -> HttpResponse | None:
        if not isinstance(refused, BadInput | NoAnswer):
            return None
        words = refused.told if isinstance(refused, BadInput) else f"{refused}."
        if any(mark in request.headers for mark in OF_SCRIPTS):
            return said(request, words)  # type: ignore[arg-type]
        words = f"{words} Go a step back: what was typed still stands there."
        return render(request, "refused.html", {"heading": "Not taken", "words": words}, status=422)

    middleware.process_exception = process_exception  # type: ignore[attr-defined]
    return middleware
