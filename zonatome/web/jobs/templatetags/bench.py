"""Template tags used everywhere: lengths and money as the workroom reads them, boxes."""

from __future__ import annotations

from collections.abc import Sequence
from decimal import Decimal
from typing import Any

from django import template
from django.forms import BoundField
from django.urls import reverse

from zonatome.core.cautions import Caution
from zonatome.core.shop.work import WORK, minutes_read
from zonatome.core.units import (
    PUSHES,
    Push,
    Size,
    format_length,
    format_pull,
    format_size,
    format_tension,
    said_in,
)

register = template.Library()


@register.simple_tag(takes_context=True)
def length(context: dict[str, Any], mm: float | None, size: Size = "panel") -> str:
    """Return a length in the workroom's units, or a dash."""
    return "—" if mm is None else format_length(float(mm), context["request"].workroom.units, size)


@register.simple_tag(takes_context=True)
def size_of(context: dict[str, Any], width: float, height: float, size: Size = "panel") -> str:
    """Return width × height in the workroom's units."""
    return format_size(float(width), float(height), context["request"].workroom.units, size)


@register.simple_tag(takes_context=True)
def pull(context: dict[str, Any], newtons: float) -> str:
    """Return a force in the workroom's units."""
    return format_pull(float(newtons), context["request"].workroom.units)


@register.simple_tag(takes_context=True)
def tension(context: dict[str, Any], per_cm: float) -> str:
    """Return a tension, given in N/cm, in the workroom's units."""
    return format_tension(float(per_cm), context["request"].workroom.units)


@register.simple_tag(takes_context=True)
def in_units(context: dict[str, Any], words: object) -> str:
    """Return a sentence with its lengths in the workroom's unit: refusals, messages and notes are written in metric."""
    request = context.get("request")
    workroom = getattr(request, "workroom", None)  # a refusal of the house stands before the workroom is known
    return said_in(str(words), workroom.units) if workroom is not None else str(words)


@register.simple_tag(takes_context=True)
def arrow_push(context: dict[str, Any]) -> Push:
    """Return by how much an arrow key moves what is in hand."""
    return PUSHES[context["request"].workroom.units]


@register.simple_tag
def unit_choices() -> list[tuple[str, str]]:
    """Return the two ways of reading lengths, each with the word on its switch."""
    return [("metric", "cm"), ("imperial", "inch")]


@register.simple_tag(takes_context=True)
def money(context: dict[str, Any], amount: Decimal | None) -> str:
    """Return an amount in the workroom's currency."""
    if amount is None:
        return "—"
    return f"{'−' if amount < 0 else ''}{context['request'].workroom.currency} {abs(amount):,.2f}"


@register.simple_tag(takes_context=True)
def sort_of_work(context: dict[str, Any], key: str) -> str:
    """Return what a sort of work is called, with what is counted of it."""
    sort = WORK[key]
    words = sort.words[0].upper() + sort.words[1:]
    return said_in(f"{words}, a metre", context["request"].workroom.units) if sort.unit == "m" else words


@register.simple_tag(takes_context=True)
def minutes_of_one(context: dict[str, Any], key: str, minutes: float) -> str:
    """Return the minutes that one of a sort of work takes; of what is counted in metres a yard in inches."""
    return f"{minutes_read(key, minutes, context['request'].workroom.units):.2f}"


@register.filter
def hours(minutes: float) -> str:
    """Return minutes as hours and minutes: `2 h 05`, `40 min`."""
    whole = round(minutes)
    return f"{whole // 60} h {whole % 60:02d}" if whole >= 60 else f"{whole} min"


@register.filter
def percent(share: float) -> str:
    """Return a share as a percentage with one decimal."""
    return f"{share * 100:.1f} %"


@register.inclusion_tag("_box.html", takes_context=True)
def box(context: dict[str, Any], field: BoundField) -> dict[str, Any]:
    """Render a form field: its label, the box with its unit, help, and what was wrong with it."""
    widget = field.field.widget
    return {
        "request": context["request"],
        "field": field,
        "suffix": getattr(field.field, "bare", ""),
        "is_check": getattr(widget, "input_type", "") == "checkbox",
    }


@register.inclusion_tag("_caution_strip.html", takes_context=True)
def caution_strip(context: dict[str, Any], cautions: Sequence[Caution]) -> dict[str, Any]:
    """Render the cautions of a step: loud until somebody has seen them on this tag."""
    request = context["request"]
    unseen = [c for c in cautions if c.key not in context["seen"]]
    back = (
        request.get_full_path() if request.method == "GET" else reverse(context["here"], args=[context["job"].number])
    )
    return {
        "cautions": cautions,
        "unseen": unseen,
        "job": context["job"],
        "back": back,
        "csrf_token": context.get("csrf_token"),
    }
