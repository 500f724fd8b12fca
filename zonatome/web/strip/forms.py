"""What is written of a part that is off, and what is saved from it."""

from __future__ import annotations

from typing import Any

from django import forms

from zonatome.core.strip.record import FATES, FIXINGS, MARKS, SAVED
from zonatome.web.base.length_forms import LengthField, WorkForm
from zonatome.web.jobs.models import JobPart
from zonatome.web.strip.services import Written


class OffForm(forms.Form):
    """What may be said in the press that takes a thing off."""

    fixing = forms.CharField(max_length=120, required=False)
    note = forms.CharField(max_length=300, required=False)

    def written(self) -> Written:
        """Return it as it shall be kept; what was not said stays as it is, what is too long is cut."""
        fixing, note = self.data.get("fixing"), self.data.get("note")
        return Written(fixing=None if fixing is None else fixing[:120], note=None if note is None else note[:300])


class RecordForm(WorkForm):
    """The sheet of a part: held how, marks, fate, note, what was measured."""

    fixings = forms.MultipleChoiceField(choices=[(f, f) for f in FIXINGS], required=False)
    fixing = forms.CharField(label="In your own words", max_length=120, required=False)
    fixings_again = forms.MultipleChoiceField(choices=[(f, f) for f in FIXINGS], required=False)
    marks = forms.MultipleChoiceField(choices=[(m, m) for m in MARKS], required=False)
    fate = forms.ChoiceField(choices=[("", "not said yet"), *FATES.items()], required=False)
    note = forms.CharField(label="Note", max_length=300, required=False, widget=forms.Textarea(attrs={"rows": 2}))
    pitch_found = LengthField(label="Staples stand apart", size="small", least=2, most=200, required=False)
    edge_found = LengthField(label="Fixed edge, if measured", least=10, most=30_000, required=False)
    rows_found = forms.IntegerField(label="Rows", min_value=1, max_value=6, required=False)

    def __init__(self, *args: Any, instance: JobPart, **kwargs: Any) -> None:
        """Begin with what is kept."""
        self.instance = instance
        names = ("fixing", "note", "pitch_found", "edge_found", "rows_found")
        super().__init__(*args, initial={name: getattr(instance, name) for name in names}, **kwargs)

    def written(self) -> Written:
        """Return what was sent; a box that was not on the page leaves its value as it is."""
        data, sent = self.cleaned_data, self.data
        is_whole = "whole" in sent  # the sheet's own form: a box without a tick is no, not absent
        measured = {k: data[k] for k in ("pitch_found", "edge_found", "rows_found")} if "pitch_found" in sent else {}
        return Written(
            fixings=tuple(data["fixings"]) if is_whole or "fixings" in sent else None,
            fixing=data["fixing"] if "fixing" in sent else None,
            fixings_again=tuple(data["fixings_again"]) if is_whole or "fixings_again" in sent else None,
            fate=data["fate"] if "fate" in sent else None,
            marks=tuple(data["marks"]) if is_whole or "marks" in sent else None,
            note=data["note"] if "note" in sent else None,
            measured=bool(measured),
            **measured,
        )


class KeptForm(WorkForm):
    """Something saved for the store, with its size."""

    what = forms.ChoiceField(label="Saved", choices=[(s, s) for s in SAVED])
    length = LengthField(label="Length", least=10, most=30_000, required=False)
    width = LengthField(label="Width", least=5, most=10_000, required=False)
    count = forms.IntegerField(label="How many", min_value=1, max_value=999, initial=1)
    words = forms.CharField(label="What it is like", max_length=120, required=False)
