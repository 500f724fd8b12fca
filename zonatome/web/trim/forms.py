"""Forms of the trim step."""

from __future__ import annotations

from typing import Any

from django import forms

from zonatome.core.errors import BadInput
from zonatome.core.lay.pattern.direction import TRIM_WAYS
from zonatome.core.trim.bottom import LEG_SIZES
from zonatome.core.trim.welt import KINDS
from zonatome.core.units import Units, bare_unit, parse_length
from zonatome.web.base.length_forms import LengthField, WorkForm

MOST_STRETCHES = 40


def _lengths(told: str, key: str, units: Units) -> list[float]:
    """Lengths with commas between them, mm."""
    words = [word.strip() for word in told.split(",") if word.strip()]
    if len(words) > MOST_STRETCHES:
        raise BadInput(key, len(words), f"at most {MOST_STRETCHES} lengths")
    bare = bare_unit(units, "panel")
    return [parse_length(word, bare=bare, key=key, most=50_000) for word in words]


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


class LegForm(WorkForm):
    """A leg under the furniture."""

    x = LengthField(label="Its middle, from the left", most=10_000, zero=True)
    y = LengthField(label="From the front edge", most=10_000, zero=True)
    width = LengthField(label="Wide, or across", size="small", least=LEG_SIZES[0], most=LEG_SIZES[1])
    depth = LengthField(label="Deep", size="small", least=LEG_SIZES[0], most=LEG_SIZES[1], required=False,
                        help_text="Empty: round")  # fmt: skip
    mirrored = forms.BooleanField(label="The same at the other corners", required=False, initial=True)


class NailForm(WorkForm):
    """The nails of a line."""

    head = LengthField(label="Head, across", size="small", least=4, most=40)
    spacing = LengthField(label="Apart, middle to middle", size="small", most=500, required=False,
                          help_text="Empty: touching")  # fmt: skip
    stretches = forms.CharField(
        label="From corner to corner", max_length=200, required=False, help_text="As 48, 42, 48, 42; empty: no corner"
    )

    def lengths(self, units: Units) -> list[float]:
        """Return the stretches that were typed, mm. Raises BadInput for what is no length, and for more than 40."""
        return _lengths(self.cleaned_data["stretches"], "stretches", units)


class SkirtForm(WorkForm):
    """A skirt round the furniture."""

    sides = forms.CharField(label="Its sides", max_length=200, help_text="As 56, 46, 56, 46")
    drop = LengthField(label="Drop", least=40, most=400)
    sort = forms.ChoiceField(label="Pleats", choices=[("kick", "kick pleats"), ("box", "box pleats")])
    deep = LengthField(label="A kick pleat, deep each way", size="small", least=75, most=100, initial=75.0)
    pleat = LengthField(label="A box pleat, wide", size="small", least=20, most=150, initial=60.0)
    lined = forms.BooleanField(label="Lined", required=False, initial=True)

    def lengths(self, units: Units) -> list[float]:
        """Return the sides that were typed, mm. Raises BadInput for what is no length, and for more than 40."""
        return _lengths(self.cleaned_data["sides"], "sides", units)
