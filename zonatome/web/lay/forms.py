"""Forms of the lay step and the cloth store."""

from __future__ import annotations

from django import forms

from zonatome.web.jobs.length_forms import LengthField, WorkForm, WorkModelForm
from zonatome.web.lay.models import Cloth, JobCloth


class ClothForm(WorkModelForm):
    """A cloth as the seller offers it."""

    width = LengthField(label="Width, edge to edge", least=100, most=10_000)
    selvage = LengthField(label="Selvage, each edge", size="small", most=200, zero=True, initial=12.0)
    thickness = LengthField(label="Thickness", size="small", most=10, initial=1.0)

    class Meta:
        model = Cloth
        fields = ("name", "width", "selvage", "direction", "thickness", "price", "sold_in", "sold_by", "certified")
        labels = {"price": "Price a metre or yard", "sold_in": "Priced by the", "sold_by": "Sold in steps of", "direction": "Direction"}


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
