"""Who is at work: the name of whoever sent the request in hand, for the record of what was done."""

from __future__ import annotations

from collections.abc import Callable
from contextvars import ContextVar

from django.http import HttpRequest, HttpResponse

_WHO: ContextVar[str] = ContextVar("who", default="")


def who() -> str:
    """Return the name; empty in the worker and on the command line."""
    return _WHO.get()[:60]


def says_who(get_response: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Remember whose request it is while it is answered."""

    def middleware(request: HttpRequest) -> HttpResponse:
        before = _WHO.set(request.user.get_username() if request.user.is_authenticated else "")
        try:
            return get_response(request)
        finally:
            _WHO.reset(before)

    return middleware
