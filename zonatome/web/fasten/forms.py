"""Forms of the fasten step."""

from __future__ import annotations

import math
from typing import Any

from django import forms

from zonatome.core.fasten.stages import LOOKS
from zonatome.core.outline import Point
from zonatome.web.base.length_forms import LengthField, WorkForm

ORDERS = [
    ("cross first", "Cross first: middles, then always answer with the opposite"),
    ("one side whole", "One side whole, then pull against it"),
]


class StapleForm(WorkForm):
    """Pitch and order."""

    pitch = LengthField(label="A staple every", size="small", least=8, most=80, help_text="12 to 20 mm on covers.")
    rows = forms.TypedChoiceField(
        label="Rows", coerce=int, choices=[(1, "one"), (2, "two, the second between")], required=False, initial=1
    )
    order = forms.ChoiceField(
        label="Order",
        choices=ORDERS,
        widget=forms.RadioSelect,
    )

    def __init__(self, *args: Any, has_own: bool = False, **more: Any) -> None:
        """Offer the panel's own order too, where a rehearsal has left one."""
        super().__init__(*args, **more)
        if has_own:
            order: forms.ChoiceField = self.fields["order"]  # type: ignore[assignment]
            order.choices = [*ORDERS, ("own", "Its own order, as it was kept from the rehearsal")]


class KeepOutForm(WorkForm):
    """A screw hole: its middle and how much to keep clear."""

    x = LengthField(label="From the left edge", zero=True)
    y = LengthField(label="From the front edge", zero=True)
    radius = LengthField(label="Keep clear, round it", size="small", least=1, most=100, initial=8.0)


class FoldForm(WorkForm):
    """What a corner measures."""

    wrap = LengthField(label="Wrap: side and under", size="small", least=10, most=600, required=False)
    radius = LengthField(label="Radius of the corner", size="small", most=1000, zero=True, required=False)


class PleatForm(WorkForm):
    """The lengths between which pleats are laid."""

    outer = LengthField(label="Outer length, the cloth", most=20_000, required=False)
    inner = LengthField(label="Inner length, the edge", most=20_000, required=False)
    deep = LengthField(label="A pleat, deep", size="small", least=8, most=12, required=False)


class PostForm(WorkForm):
    """A post that the panel goes round."""

    x = LengthField(label="Its middle, from the left", zero=True)
    y = LengthField(label="From the front or lower edge", zero=True)
    width = LengthField(label="How wide", size="small", least=5, most=400)
    sort = forms.ChoiceField(
        label="Cut", choices=[("straight", "straight: cloth to both sides"), ("y", "Y: a flap folds against its face")]
    )
    stop = LengthField(label="Stop short of it", size="small", least=10, most=12, initial=10.0)


class LookForm(forms.Form):
    """What was found when a panel was looked over."""

    look = forms.ChoiceField(choices=[(key, look.wrong) for key, look in LOOKS.items()])
    piece = forms.IntegerField(min_value=1, max_value=10_000, required=False)
    words = forms.CharField(max_length=200, required=False)


class SeenForm(LookForm):
    """The same, with the line that was drawn on a photo of it."""

    photo = forms.IntegerField(min_value=1, max_value=2**31)
    points = forms.CharField(max_length=40_000, required=False)

    def clean_points(self) -> list[Point]:
        """The points of the line, parts of the photo's width and height."""
        pairs = [point.split(",") for point in self.cleaned_data["points"].split()]
        try:
            return [(float(x), float(y)) for x, y in pairs if math.isfinite(float(x)) and math.isfinite(float(y))]
        except ValueError as wrong:
            raise forms.ValidationError("A line is written x,y x,y.") from wrong
