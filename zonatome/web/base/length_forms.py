"""Length boxes: they take metric and imperial with fractions, keep millimetres, and say what was expected."""

from __future__ import annotations

from typing import Any

from django import forms

from zonatome.core.errors import BadInput
from zonatome.core.units import Size, Units, bare_unit, exact_length, parse_length


class LengthField(forms.CharField):
    """A length in millimetres; a bare number is in the unit written beside the box."""

    def __init__(
        self, *, size: Size = "panel", least: float = 0.0, most: float = 100_000.0, zero: bool = False, **rest: Any
    ) -> None:
        """`zero` lets a plain 0 through, for what may be absent."""
        super().__init__(**rest)
        self.size, self.least, self.most, self.zero = size, least, most, zero
        self.bare = bare_unit("metric", size)
        self.widget.attrs.update({"inputmode": "text", "autocomplete": "off", "class": "length-box"})

    def use(self, units: Units) -> None:
        """Take bare numbers in the workroom's units."""
        self.bare = bare_unit(units, self.size)

    def prepare_value(self, value: Any) -> Any:
        """Show millimetres as the number for this box; what was typed is shown as it was typed."""
        return exact_length(value, bare=self.bare) if isinstance(value, int | float) else value

    def clean(self, value: Any) -> float | None:
        """Return millimetres, or refuse with what was expected."""
        text = super().clean(value)
        if not text:
            return None
        if self.zero and text.strip().split(" ")[0] in ("0", "0.0", "0,0"):
            return 0.0
        try:
            return parse_length(text, bare=self.bare, key=str(self.label or "Length"), least=self.least, most=self.most)
        except BadInput as refusal:
            raise forms.ValidationError(refusal.told, code="length") from refusal


class SpeaksUnits(forms.BaseForm):
    """A form whose length boxes speak the workroom's units, and that knows refusals of the core."""

    def __init__(self, *args: Any, units: Units, **kwargs: Any) -> None:
        """Tell every length box the units."""
        kwargs.setdefault("label_suffix", "")
        super().__init__(*args, **kwargs)
        self.units = units
        for field in self.fields.values():
            if isinstance(field, LengthField):
                field.use(units)

    def clean(self) -> dict[str, Any] | None:
        """Keep a length that was left as it stood to its last digit: the fraction of an inch that is shown is seldom
        the millimetres themselves.
        """
        cleaned = super().clean()
        told = self.cleaned_data if cleaned is None else cleaned
        for name, field in self.fields.items():
            stood = self.get_initial_for_field(field, name)
            if not isinstance(field, LengthField) or not told.get(name) or not isinstance(stood, int | float):
                continue
            if str(self[name].data).strip() == str(field.prepare_value(stood)):
                told[name] = float(stood)
        return told

    def refuse(self, refusal: BadInput) -> None:
        """Show a refusal of the core by the field it belongs to, or above the form."""
        words = refusal.told
        self.add_error(refusal.key if refusal.key in self.fields else None, words)


class WorkForm(SpeaksUnits, forms.Form):
    """A form that speaks the workroom's units."""


class WorkModelForm(SpeaksUnits, forms.ModelForm):  # type: ignore[type-arg]
    """The same for a form on a row."""
