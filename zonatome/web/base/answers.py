"""Answers that every room gives: in words to a script, and back to where one came from."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse, HttpResponseRedirect, JsonResponse
from django.shortcuts import redirect
from django.utils.http import url_has_allowed_host_and_scheme

from zonatome.core.units import said_in
from zonatome.web.base.request import BenchRequest


def said(request: BenchRequest, words: str, *, status: int = 422, **more: Any) -> JsonResponse:
    """Answer a page's script in words, lengths in the workroom's unit."""
    return JsonResponse({"words": said_in(words, request.workroom.units), **more}, status=status)


def go_back(request: BenchRequest, otherwise: str) -> HttpResponse:
    """Go back to the page of this site that the form names in `back`; to another where it names none."""
    back = request.POST.get("back", "")
    here = back.startswith("/") and url_has_allowed_host_and_scheme(back, allowed_hosts={request.get_host()})
    return HttpResponseRedirect(back) if here else redirect(otherwise)
