"""The form of a furniture's own measures."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from django import forms

from zonatome.core.units import format_length
from zonatome.web.base.length_forms import LengthField, SpeaksUnits
from zonatome.web.round.services import MeasureLine


class MeasuresForm(SpeaksUnits, forms.Form):
    """A box for each measure that the body is built from; an empty one means the usual."""

    def __init__(self, *args: Any, lines: Iterable[MeasureLine], **kwargs: Any) -> None:
        """Make the boxes; those of this job's own hold their value."""
        super().__init__(*args, **kwargs)
        for line in lines:
            known = line.measure
            usual = f"{line.usual:g}°" if known.is_degrees else format_length(line.usual, self.units, "panel")
            help_text = f"{known.how}; usual {usual}"
            if known.is_degrees:
                field: forms.Field = forms.FloatField(
                    label=f"{known.name}, degrees",
                    required=False,
                    min_value=known.least,
                    max_value=known.most,
                    help_text=help_text,
                )
            else:
                length = LengthField(
                    label=known.name,
                    least=known.least,
                    most=known.most,
                    zero=known.least == 0,
                    required=False,
                    help_text=help_text,
                )
                length.use(self.units)
                field = length
            self.fields[known.key] = field
            if line.is_own:
                self.initial[known.key] = line.value
