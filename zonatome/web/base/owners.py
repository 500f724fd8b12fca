"""What is the owner's alone."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Any

from django.contrib.auth.models import Group, User
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.shortcuts import render

View = Callable[..., HttpResponseBase]


MONEY = "sees money"  # the group of those at the bench who are let


def sees_money(user: Any) -> bool:
    """Whether somebody sees prices: an owner, or one at the bench whom an owner has let."""
    return bool(user.is_staff or (user.is_authenticated and user.groups.filter(name=MONEY).exists()))


def let_see_money(user: User, *, is_let: bool) -> None:
    """Let somebody at the bench see prices, or no longer."""
    group, _ = Group.objects.get_or_create(name=MONEY)
    (user.groups.add if is_let else user.groups.remove)(group)


def money_seen(view: View) -> View:
    """Answer in words where somebody at the bench opens money and has not been let see it."""

    @wraps(view)
    def answered(request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponseBase:
        if sees_money(request.user):
            return view(request, *args, **kwargs)
        words = "Money is for the owner to see, and for whom the owner lets. Everything at the bench is yours."
        return render(request, "refused.html", {"heading": "The owner\u2019s", "words": words}, status=403)

    return answered


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
