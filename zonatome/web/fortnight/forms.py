"""Boxes of hours, days off and pins."""

from __future__ import annotations

from datetime import date, time
from typing import Any

from django import forms
from django.contrib.auth.models import User

from zonatome.core.errors import BadInput
from zonatome.core.shop.plan.hours import WEEKDAYS, Hours
from zonatome.core.shop.plan.tasks import TASKS
from zonatome.web.fortnight.hands import Person
from zonatome.web.fortnight.models import Hands

LONGEST_OFF = 366  # days


def _time(label: str) -> forms.TimeField:
    widget = forms.TimeInput(attrs={"type": "time", "step": 900}, format="%H:%M")
    return forms.TimeField(label=label, required=False, widget=widget)


class HoursForm(forms.Form):
    """The week of one who works here: from and to on each day, the break, what is left to others."""

    is_at_bench = forms.BooleanField(label="Works at the bench", required=False)
    pause_from, pause_to = _time("Break from"), _time("to")
    does = forms.MultipleChoiceField(
        label="Does", required=False, choices=[(row.key, row.words) for row in TASKS.values()],
        widget=forms.CheckboxSelectMultiple,
    )  # fmt: skip

    def __init__(self, *args: Any, hours: Hours, hands: Hands | None, **kwargs: Any) -> None:
        """Fill in the hours as they are."""
        initial: dict[str, Any] = {
            "is_at_bench": hands is None or hands.is_at_bench,
            "does": [key for key in TASKS if hands is None or key not in hands.leaves],
        }
        for name, span in zip((*WEEKDAYS, "pause"), (*hours.days, hours.pause), strict=True):
            initial[f"{name}_from"], initial[f"{name}_to"] = span or (None, None)
        kwargs.update(label_suffix="", initial=initial)
        super().__init__(*args, **kwargs)
        for day in WEEKDAYS:
            self.fields[f"{day}_from"], self.fields[f"{day}_to"] = _time(f"{day} from"), _time(f"{day} to")

    @property
    def week(self) -> list[dict[str, Any]]:
        """The boxes of each day."""
        return [{"name": day, "from": self[f"{day}_from"], "to": self[f"{day}_to"]} for day in WEEKDAYS]

    def clean(self) -> dict[str, Any]:
        """Refuse half a span, and a week that is none."""
        told = super().clean() or {}
        if self.errors:
            return told
        spans: dict[str, tuple[time, time] | None] = {}
        for name in (*WEEKDAYS, "pause"):
            begins, ends = told.get(f"{name}_from"), told.get(f"{name}_to")
            if (begins is None) != (ends is None):
                self.add_error(f"{name}_{'to' if begins else 'from'}", "Expected both times, or neither.")
                return told
            spans[name] = (begins, ends) if begins and ends else None
        try:
            told["hours"] = Hours(tuple(spans[day] for day in WEEKDAYS), spans["pause"])
        except BadInput as wrong:
            key = "pause" if wrong.key == "break" else wrong.key
            self.add_error(f"{key}_to", wrong.sentence)
        if not told.get("does"):
            self.add_error("does", "Expected at least one kind of work.")
        return told


class DayOffForm(forms.Form):
    """Days on which somebody is not there."""

    user = forms.ChoiceField(label="Who", required=False)
    first = forms.DateField(label="From", widget=forms.DateInput(attrs={"type": "date"}))
    last = forms.DateField(label="To, that day too", required=False, widget=forms.DateInput(attrs={"type": "date"}))
    words = forms.CharField(label="Why", required=False, max_length=60)

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        """Ask for one of those who are here, or everybody."""
        kwargs["label_suffix"] = ""
        super().__init__(*args, **kwargs)
        people = User.objects.filter(is_active=True).order_by("-is_staff", "id")
        self.fields["user"].choices = [("", "everybody"), *((str(u.pk), u.get_username()) for u in people)]  # type: ignore[attr-defined]

    def clean(self) -> dict[str, Any]:
        """Refuse an end before the beginning."""
        told = super().clean() or {}
        first: date | None = told.get("first")
        last: date | None = told.get("last") or first
        if first and last and not 0 <= (last - first).days <= LONGEST_OFF:
            self.add_error("last", "Expected a day not before the first, within a year.")
        told["last"] = last
        return told


class PinForm(forms.Form):
    """Where a spell shall stand."""

    worker = forms.ChoiceField(label="Who")
    day = forms.DateField(label="Day", widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"))
    at = _time("From")
    share = forms.FloatField(required=False, min_value=0, max_value=1, widget=forms.HiddenInput)  # of the day drawn

    def __init__(self, *args: Any, people: tuple[Person, ...], **kwargs: Any) -> None:
        """Ask for one of those at the bench."""
        kwargs["label_suffix"] = ""
        super().__init__(*args, **kwargs)
        self.fields["worker"].choices = [(p.name, p.name) for p in people]  # type: ignore[attr-defined]
