"""Boxes of the stock: amounts in the unit of the thing, lengths as the workroom reads them."""

from __future__ import annotations

from typing import Any

from django import forms

from zonatome.core.units import Units
from zonatome.web.base.length_forms import LengthField, WorkForm
from zonatome.web.stock.models import UNITS

MOST = 1_000_000
LONGEST = 10_000_000  # mm


class AmountForm(WorkForm):
    """So much of a thing; `least` is what shall lie there, where it is asked for."""

    def __init__(self, *args: Any, unit: str, units: Units, has_least: bool = False, **kwargs: Any) -> None:
        """Ask in the unit of the thing."""
        super().__init__(*args, units=units, **kwargs)
        for key, label in (("amount", "Lies there"), *((("least", "Least"),) if has_least else ())):
            self.fields[key] = _box(unit, label, units)


def _box(unit: str, label: str, units: Units) -> forms.Field:
    if unit == "mm":
        box = LengthField(label=label, size="cloth", least=0, most=LONGEST, zero=True)
        box.use(units)
        return box
    return forms.FloatField(label=label, min_value=0, max_value=MOST)


class NewThingForm(forms.Form):
    """A thing that no tag takes yet: its name and unit."""

    name = forms.CharField(label="Another thing", max_length=80)
    unit = forms.ChoiceField(label="Counted", choices=UNITS)
