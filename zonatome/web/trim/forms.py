"""Forms of the trim step."""

from __future__ import annotations

from typing import Any

from django import forms

from zonatome.core.lay.pattern.direction import TRIM_WAYS
from zonatome.core.trim.welt import KINDS
from zonatome.web.base.length_forms import LengthField, WorkForm


class TrimForm(WorkForm):
    """Which trim, over which cord, cut from which cloth."""

    kind = forms.ChoiceField(label="Trim", choices=[*KINDS.items(), ("none", "no trim")])
    cord = LengthField(label="Cord", size="small", least=1, most=40)
    cloth = forms.ChoiceField(label="Strips cut from", required=False)
    way = forms.ChoiceField(label="Strips lie", required=False, choices=list(TRIM_WAYS.items()))

    def __init__(self, *args: Any, cloths: list[tuple[str, str]], **kwargs: Any) -> None:
        """Offer the job's cloths."""
        super().__init__(*args, **kwargs)
        self.fields["cloth"].choices = [("", "bought, or another cloth"), *cloths]  # type: ignore[attr-defined]


class LineForm(WorkForm):
    """One exposed line."""

    name = forms.CharField(label="Along", max_length=60)
    length = LengthField(label="Length", most=50_000)
    kind = forms.ChoiceField(label="Trimmed with", required=False, choices=[("", "as the tag is"), *KINDS.items()])
    times = forms.IntegerField(label="Times a piece of furniture", min_value=1, max_value=50, initial=1)
    is_closed = forms.BooleanField(label="Closes on itself", required=False)


class UndersideForm(WorkForm):
    """The underside that the bottom cloth closes."""

    width = LengthField(label="Underside, width", least=40, most=10_000)
    depth = LengthField(label="Underside, depth", least=40, most=10_000)
