"""A phone or tablet on the workroom's own network: its address as a QR code, with a sign-in that serves once."""

from __future__ import annotations

import secrets

import segno
from django.conf import settings
from django.contrib.auth import login
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.models import User
from django.core.cache import cache
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse

SERVES = 600  # seconds that a code can be used


def _key(code: str) -> str:
    return f"come-in-{code[:64]}"


def phone(request: HttpRequest) -> HttpResponse:
    """Show the code that signs a phone in as whoever looks at this page; each look makes a new one."""
    context = {"nav": "workroom", "lan": settings.LAN_ADDRESS, "minutes": SERVES // 60}
    if settings.LAN_ADDRESS:
        code = secrets.token_urlsafe(24)
        cache.set(_key(code), request.user.pk, SERVES)
        address = settings.LAN_ADDRESS + reverse("come_in", args=[code])
        context |= {
            "address": address,
            "picture": segno.make(address, error="m").svg_data_uri(scale=6, border=2, dark="#1f252c"),
        }
    return render(request, "serving/phone.html", context)


@login_not_required
def come_in(request: HttpRequest, code: str) -> HttpResponse:
    """Sign a phone in by a code, once: looking at the page only asks, so that what looks ahead of links does not use
    it up.
    """
    who = User.objects.filter(pk=cache.get(_key(code)), is_active=True).first()
    if who is None:
        words = (
            "This code has been used, or is older than ten minutes. Open Workroom, A phone or tablet, at the "
            "bench for a new one."
        )
        return render(request, "refused.html", {"heading": "A new code is needed", "words": words}, status=410)
    if request.method != "POST":
        return render(request, "serving/come_in.html", {"who": who})
    if not cache.delete(_key(code)):  # somebody else was quicker
        return redirect("login")
    login(request, who, backend="django.contrib.auth.backends.ModelBackend")
    return redirect("jobs:rack")
