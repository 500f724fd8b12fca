"""Who works here: the owner, who sets up the workroom, and others at the bench, each with a sign-in of their own."""

from __future__ import annotations

from typing import Any

from django import forms
from django.contrib import messages
from django.contrib.auth import update_session_auth_hash
from django.contrib.auth.forms import PasswordChangeForm
from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from zonatome.web.base.owners import MONEY, let_see_money, owners_only
from zonatome.web.rack.forms import SignInForm


class PersonForm(SignInForm):
    """Somebody new: a name and a first password."""

    is_owner = forms.BooleanField(label="Is an owner too", required=False)

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        """Keep the labels free of a colon."""
        kwargs["label_suffix"] = ""
        super().__init__(*args, **kwargs)


def _page(request: HttpRequest, *, form: PersonForm | None = None, refusal: str = "") -> HttpResponse:
    people = User.objects.filter(is_active=True).order_by("-is_staff", "username")
    let = set(User.objects.filter(groups__name=MONEY).values_list("pk", flat=True))
    context = {"people": people, "form": form or PersonForm(), "refusal": refusal, "nav": "workroom", "let": let}
    return render(request, "rack/people.html", context, status=422 if form or refusal else 200)


@owners_only
def people(request: HttpRequest) -> HttpResponse:
    """Show who works here, and take somebody in."""
    if request.method != "POST":
        return _page(request)
    form = PersonForm(request.POST)
    if not form.is_valid():
        return _page(request, form=form)
    told = form.cleaned_data
    User.objects.create_user(told["username"], password=told["password"], is_staff=told["is_owner"])
    messages.success(request, f"{told['username']} can sign in now.")
    return redirect("jobs:people")


@owners_only
@require_POST
def person(request: HttpRequest, pk: int) -> HttpResponse:
    """Make somebody an owner or not, give a new password, or close the sign-in; one owner always stays."""
    who = get_object_or_404(User, pk=pk, is_active=True)
    what = request.POST.get("what")
    others = User.objects.filter(is_staff=True, is_active=True).exclude(pk=pk).exists()
    if what in ("bench", "close") and who.is_staff and not others:
        return _page(request, refusal=f"{who.username} is the only owner: make somebody else one first.")
    if what == "close":
        who.is_active = False  # what is recorded of them stays
    elif what in ("money", "no_money"):
        let_see_money(who, is_let=what == "money")
    elif what in ("owner", "bench"):
        who.is_staff = what == "owner"
    elif what == "password":
        try:
            validate_password(request.POST.get("password", ""))
        except forms.ValidationError as weak:
            return _page(request, refusal=f"{who.username}: {' '.join(weak.messages)}")
        who.set_password(request.POST["password"])
    who.save()
    if who == request.user and what == "password":
        update_session_auth_hash(request, who)
    words = {
        "close": "can sign in no longer",
        "owner": "is an owner now",
        "bench": "is at the bench now",
        "password": "has a new password",
        "money": "sees money now",
        "no_money": "sees money no longer",
    }
    messages.success(request, f"{who.username} {words.get(what or '', 'is as before')}.")
    return redirect("jobs:people")


def password(request: HttpRequest) -> HttpResponse:
    """Change one's own password."""
    form = PasswordChangeForm(request.user, request.POST or None)  # type: ignore[arg-type]
    form.label_suffix = ""
    if request.method == "POST" and form.is_valid():
        update_session_auth_hash(request, form.save())
        messages.success(request, "Your password is another one now.")
        return redirect("jobs:rack")
    return render(
        request, "rack/password.html", {"form": form, "nav": "workroom"}, status=422 if form.is_bound else 200
    )
