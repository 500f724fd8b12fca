"""Signing in."""

from __future__ import annotations

from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.models import User
from django.contrib.auth.views import LoginView
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.shortcuts import redirect


@login_not_required
def sign_in(request: HttpRequest) -> HttpResponseBase:
    """Show the login; an empty workroom is set up first."""
    if request.method == "GET" and not User.objects.exists():
        return redirect("jobs:welcome")
    return LoginView.as_view(template_name="rack/login.html", redirect_authenticated_user=True)(request)
