"""Forms of the lay step and the cloth store."""

from __future__ import annotations

from typing import Any

from django import forms

from zonatome.core.errors import BadInput
from zonatome.core.lay.motif import repeat_of
from zonatome.web.jobs.length_forms import LengthField, WorkForm, WorkModelForm
from zonatome.web.lay.models import Cloth, JobCloth

REPEAT = ("repeat_across", "repeat_along", "first_across", "first_along")


class ClothForm(WorkModelForm):
    """A cloth as the seller offers it."""

    width = LengthField(label="Width, edge to edge", least=100, most=10_000)
    selvage = LengthField(label="Selvage, each edge", size="small", most=200, zero=True, initial=12.0)
    repeat_across = LengthField(label="Repeat across the roll", size="small", least=5, most=3000, required=False)
    repeat_along = LengthField(label="Repeat along the roll", size="small", least=5, most=3000, required=False)
    first_across = LengthField(
        label="First motif's middle, from the right edge", size="small", most=3000, zero=True, initial=0.0, required=False
    )
    first_along = LengthField(label="and from the squared end", size="small", most=3000, zero=True, initial=0.0, required=False)
    thickness = LengthField(label="Thickness", size="small", most=10, initial=1.0)

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        """A cloth of which no pattern is told is plain."""
        super().__init__(*args, **kwargs)
        self.fields["pattern"].required = False

    class Meta:
        model = Cloth
        fields = ("name", "width", "selvage", "direction", "pattern", *REPEAT, "thickness", "price", "sold_in", "sold_by", "certified")
        labels = {
            "price": "Price a metre or yard",
            "sold_in": "Priced by the",
            "sold_by": "Sold in steps of",
            "direction": "Direction",
            "pattern": "Pattern",
        }

    def clean(self) -> dict[str, Any]:
        """Ask for the repeats that the pattern needs."""
        told = super().clean() or self.cleaned_data
        told["pattern"] = told.get("pattern") or "plain"
        for key in ("first_across", "first_along"):
            told[key] = told.get(key) or 0.0
        along, across = (None if key in self.errors else told.get(key) for key in ("repeat_along", "repeat_across"))
        if "pattern" in told and not self.errors:
            try:
                repeat_of(told["pattern"], along=along, across=across)
            except BadInput as refusal:
                self.add_error(refusal.key, f"Expected {refusal.expected}.")
        return told


class UseClothForm(forms.Form):
    """Take a cloth from the store for a job."""

    cloth = forms.ModelChoiceField(queryset=Cloth.objects.filter(is_in_store=True), empty_label=None, label="Cloth from the store")
    role = forms.ChoiceField(choices=JobCloth.ROLES, label="For")


class RulesForm(WorkForm):
    """Gap, squaring and margin of one lay."""

    gap = LengthField(label="Gap between pieces", size="small", most=100, zero=True)
    squaring = LengthField(label="For squaring", size="small", most=2000, zero=True)
    margin = LengthField(label="Margin", size="small", most=5000, zero=True)
    railroaded = forms.BooleanField(label="Railroaded: up and down of the panels across the roll", required=False)


class HandForm(forms.Form):
    """One act of the hand on the lay: which, on which piece, by how many millimetres."""

    act = forms.CharField(max_length=8)
    key = forms.CharField(max_length=80, required=False)
    along = forms.FloatField(required=False, min_value=-100_000, max_value=100_000)
    across = forms.FloatField(required=False, min_value=-100_000, max_value=100_000)

    def clean_key(self) -> str:
        """Name the piece as the core does: the page writes a point between piece and copy."""
        return ":".join(self.cleaned_data["key"].rsplit(".", 1))

    def clean_along(self) -> float:
        """Nothing told is no way along."""
        return self.cleaned_data["along"] or 0.0

    def clean_across(self) -> float:
        """Nothing told is no way across."""
        return self.cleaned_data["across"] or 0.0
