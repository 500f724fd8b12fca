"""Template tags used everywhere: lengths and money as the workroom reads them, boxes."""

from __future__ import annotations

from decimal import Decimal
from typing import Any

from django import template
from django.forms import BoundField

from zonatome.core.units import Size, format_length

register = template.Library()


@register.simple_tag(takes_context=True)
def length(context: dict[str, Any], mm: float | None, size: Size = "panel") -> str:
    """Return a length in the workroom's units, or a dash."""
    return "—" if mm is None else format_length(float(mm), context["request"].workroom.units, size)


@register.simple_tag(takes_context=True)
def size_of(context: dict[str, Any], width: float, height: float, size: Size = "panel") -> str:
    """Return width × height in the workroom's units."""
    units = context["request"].workroom.units
    first, second = (format_length(float(v), units, size) for v in (width, height))
    if first.split()[-1] == second.split()[-1]:
        first = first.rsplit(" ", 1)[0]
    return f"{first} × {second}"


@register.simple_tag(takes_context=True)
def money(context: dict[str, Any], amount: Decimal | None) -> str:
    """Return an amount in the workroom's currency."""
    return "—" if amount is None else f"{context['request'].workroom.currency} {amount:,.2f}"


@register.filter
def hours(minutes: float) -> str:
    """Return minutes as hours and minutes: `2 h 05`, `40 min`."""
    whole = round(minutes)
    return f"{whole // 60} h {whole % 60:02d}" if whole >= 60 else f"{whole} min"


@register.filter
def percent(share: float) -> str:
    """Return a share as a percentage with one decimal."""
    return f"{share * 100:.1f} %"


@register.inclusion_tag("_box.html")
def box(field: BoundField) -> dict[str, Any]:
    """Render a form field: its label, the box with its unit, help, and what was wrong with it."""
    widget = field.field.widget
    return {"field": field, "suffix": getattr(field.field, "bare", ""), "is_check": getattr(widget, "input_type", "") == "checkbox"}
