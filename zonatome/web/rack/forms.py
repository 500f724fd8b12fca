"""Forms of the rack: a new tag, photos, the first start."""

from __future__ import annotations

from datetime import date
from typing import Any

from django import forms
from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.utils import timezone

from zonatome.core.survey.kinds import KINDS
from zonatome.web.base.length_forms import WorkForm, WorkModelForm
from zonatome.web.jobs.models import UNITS, Job, Workroom


class TagForm(WorkForm):
    """What hangs on the rail: who, what, how many, when, the wish."""

    title = forms.CharField(
        label="What it is", max_length=80, widget=forms.TextInput(attrs={"placeholder": "Kitchen stools"})
    )
    client = forms.CharField(label="Whose it is", max_length=80)
    kind = forms.ChoiceField(label="Kind", choices=[(k.key, k.name) for k in KINDS.values()], widget=forms.RadioSelect)
    count = forms.IntegerField(label="How many of them", min_value=1, max_value=60, initial=1)
    due = forms.DateField(
        label="Due", required=False, widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d")
    )
    wish = forms.CharField(
        label="Wish",
        max_length=300,
        required=False,
        widget=forms.TextInput(attrs={"placeholder": "same again, contrast outside back"}),
    )
    new_price = forms.DecimalField(
        label="Price of a new one",
        max_digits=9,
        decimal_places=2,
        min_value=0,
        required=False,
        help_text="Left empty: the kind's usual price.",
    )

    def kinds(self) -> list[tuple[str, str]]:
        """Return the kinds that one can choose from: key and name."""
        return [(k.key, k.name) for k in KINDS.values()]

    def clean_due(self) -> date | None:
        """Refuse a day that has gone by: a new tag can't be due then."""
        due = self.cleaned_data["due"]
        if due is not None and due < timezone.localdate():
            raise forms.ValidationError("That day has gone by: choose today or later, or leave it empty.")
        return due  # type: ignore[no-any-return]


class EditTagForm(WorkModelForm):
    """What stands on a tag that hangs already."""

    class Meta:
        model = Job
        fields = ("title", "client", "count", "due", "wish", "new_price")
        labels = {
            "title": "What it is",
            "client": "Whose it is",
            "count": "How many of them",
            "new_price": "Price of a new one",
        }
        widgets = {"due": forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d")}


class WorkroomForm(forms.ModelForm):  # type: ignore[type-arg]
    """The workroom's own figures."""

    class Meta:
        model = Workroom
        fields = ("name", "currency", "hour", "opens", "closes")
        labels = {"hour": "An hour at the bench costs", "currency": "Currency, as it is written before an amount"}
        widgets = {
            "opens": forms.TimeInput(attrs={"type": "time"}, format="%H:%M"),
            "closes": forms.TimeInput(attrs={"type": "time"}, format="%H:%M"),
        }

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        """Keep the labels free of a colon."""
        kwargs["label_suffix"] = ""
        super().__init__(*args, **kwargs)

    def clean(self) -> dict[str, Any]:
        """Refuse a day that ends before it begins."""
        data = super().clean() or {}
        if data.get("opens") and data.get("closes") and (data["closes"].hour - data["opens"].hour) < 2:
            self.add_error("closes", "Expected a closing time at least two hours after opening.")
        if data.get("hour") is not None and data["hour"] < 0:
            self.add_error("hour", "Expected 0 or more.")
        return data


class SignInForm(forms.Form):
    """A name that is not taken and a password that is not weak, for somebody who can sign in from then on."""

    username = forms.CharField(label="Name to sign in", max_length=60)
    password = forms.CharField(label="Password", widget=forms.PasswordInput, help_text="Eight characters or more.")

    def clean_password(self) -> str:
        """Refuse a weak password."""
        validate_password(self.cleaned_data["password"])
        return str(self.cleaned_data["password"])

    def clean_username(self) -> str:
        """Refuse a name that stands already."""
        name = str(self.cleaned_data["username"]).strip()
        if User.objects.filter(username__iexact=name).exists():
            raise forms.ValidationError(f"{name} stands already: choose another name.")
        return name


class WelcomeForm(SignInForm):
    """The first start of an empty workroom: its name and its owner."""

    workroom = forms.CharField(label="Your workroom", max_length=80)
    units = forms.ChoiceField(label="Units", choices=UNITS, initial="metric", widget=forms.RadioSelect)
    username = forms.CharField(label="Your name to sign in", max_length=60)

    field_order = ("workroom", "units", "username", "password")
