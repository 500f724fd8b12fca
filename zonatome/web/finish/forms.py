"""Forms of the finish step: the frame's finish, its coats, what goes with the furniture."""

from __future__ import annotations

from typing import Any

from django import forms

from zonatome.core.errors import BadInput
from zonatome.core.finish.coats import FINISHES
from zonatome.core.finish.leaving import LONGEST
from zonatome.core.units import Units
from zonatome.web.base.length_forms import LengthField, WorkForm

SQUARE_FOOT = 0.09290304  # m2
MOST_GRITS = 10


def area_unit(units: Units) -> tuple[str, float]:
    """Return the unit in which an area of wood is typed, and its m2."""
    return ("sq ft", SQUARE_FOOT) if units == "imperial" else ("m²", 1.0)


class FrameForm(WorkForm):
    """The wood of one piece of furniture, and how it is prepared."""

    area = forms.FloatField(label="Wood of one", min_value=0.01, max_value=300)
    prepared = forms.ChoiceField(
        label="First", choices=[("sand", "sand it"), ("scrape", "scrape it"), ("strip", "strip the old finish")]
    )
    grits = forms.CharField(label="Grits in order", max_length=80, help_text="As 80, 120, 180, 240")
    is_masked = forms.BooleanField(label="The cloth is on: the edge is masked", required=False)
    masked_along = LengthField(label="Edge of the cloth along wood, of one", size="cloth", most=50_000, zero=True,
                               required=False, help_text="Tape and minutes follow")  # fmt: skip

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        """Say the unit of the area."""
        super().__init__(*args, **kwargs)
        self.fields["area"].label = f"Wood of one, {area_unit(self.units)[0]}"

    def numbers(self) -> tuple[int, ...]:
        """Return the grits that were typed. Raises BadInput for what is no number."""
        words = [word.strip() for word in self.cleaned_data["grits"].split(",") if word.strip()]
        if len(words) > MOST_GRITS or not all(word.isascii() and word.isdigit() and len(word) < 5 for word in words):
            raise BadInput("grits", self.cleaned_data["grits"], f"up to {MOST_GRITS} grits, as 80, 120, 180")
        return tuple(int(word) for word in words)


class CoatForm(forms.Form):
    """One coat more."""

    finish = forms.ChoiceField(label="A coat of", choices=[(f.key, f.name) for f in FINISHES.values()])
    hours = forms.FloatField(label="Dries, hours, as its tin says", min_value=0.02, max_value=336, required=False)


class LeavingForm(forms.Form):
    """What goes with the furniture."""

    care = forms.CharField(label="Care, as the seller of the cloth states it", max_length=LONGEST, required=False)
    left = forms.CharField(label="What is left of cloth and trim, and where", max_length=LONGEST, required=False)


class CertificateForm(forms.Form):
    """What a seller has certified."""

    words = forms.CharField(label="A seller’s certificate, by its name", max_length=LONGEST)
    on = forms.DateField(label="Dated", widget=forms.DateInput(attrs={"type": "date"}))
