"""What is the owner's alone."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Any

from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.shortcuts import render

View = Callable[..., HttpResponseBase]


def owners_only(view: View) -> View:
    """Answer in words where somebody at the bench opens what is the owner's: money, rules, people, copies, what goes
    for good.
    """

    @wraps(view)
    def answered(request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponseBase:
        if request.user.is_staff:
            return view(request, *args, **kwargs)
        words = "This is for the owner of the workroom to see and to set. Everything at the bench is yours."
        return render(request, "refused.html", {"heading": "The owner\u2019s", "words": words}, status=403)

    return answered
