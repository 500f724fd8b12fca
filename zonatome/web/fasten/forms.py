"""Forms of the fasten step."""

from __future__ import annotations

from django import forms

from zonatome.web.base.length_forms import LengthField, WorkForm


class StapleForm(WorkForm):
    """Pitch and order."""

    pitch = LengthField(label="A staple every", size="small", least=8, most=80, help_text="12 to 20 mm on covers.")
    order = forms.ChoiceField(
        label="Order",
        choices=[
            ("cross first", "Cross first: middles, then always answer with the opposite"),
            ("one side whole", "One side whole, then pull against it"),
        ],
        widget=forms.RadioSelect,
    )


class KeepOutForm(WorkForm):
    """A screw hole: its middle and how much to keep clear."""

    x = LengthField(label="From the left edge", zero=True)
    y = LengthField(label="From the front edge", zero=True)
    radius = LengthField(label="Keep clear, round it", size="small", least=1, most=100, initial=8.0)
