"""Options of a quote as plain values: `zonatome.quote`, version 1. Money is written as texts: no cent is lost."""

from __future__ import annotations

from decimal import Decimal, InvalidOperation
from typing import Any, cast, get_args

from zonatome.core.errors import BadInput
from zonatome.core.formats import reading
from zonatome.core.shop.estimate import Material
from zonatome.core.shop.quote import Option, Quote, Sort

FORMAT = "zonatome.quote"
MONEY = (
    "materials", "materials_with_margin", "labour", "sundries", "tax", "rounding", "total", "deposit", "balance", "new",
    "saves",
)  # fmt: skip
MOST = Decimal(10**9)


def write_options(options: tuple[Option, ...]) -> dict[str, Any]:
    """Return options as plain values."""
    return {
        "format": FORMAT,
        "version": 1,
        "options": [
            {
                "key": option.key,
                "sort": option.sort,
                "words": option.words,
                "rests_on": option.rests_on,
                "hours": round(option.quote.hours, 4),
                "figures": {key: str(getattr(option.quote, key)) for key in MONEY},
                "materials": [[m.what, m.amount, str(m.cost)] for m in option.materials],
            }
            for option in options
        ],
    }


def read_options(data: object) -> tuple[Option, ...]:
    """Return options from plain values. Raises BadInput, naming what is wrong."""
    told = reading.table(data, "quote")
    reading.check_format(told, FORMAT)
    rows = reading.listed(told.get("options"), "options", least=1, most=20)
    return tuple(_option(row, f"options[{n}]") for n, row in enumerate(rows))


def _option(row: object, where: str) -> Option:
    told = reading.table(row, where)
    if told.get("sort") not in get_args(Sort):
        raise BadInput(f"{where}.sort", told.get("sort"), "one of " + ", ".join(get_args(Sort)))
    figures = reading.table(told.get("figures"), f"{where}.figures")
    money = {key: _money(figures.get(key), f"{where}.figures.{key}") for key in MONEY}
    hours = reading.number(told.get("hours"), f"{where}.hours", least=0, most=100_000)
    return Option(
        reading.text(told.get("key"), f"{where}.key", most=40),
        cast(Sort, told["sort"]),
        reading.text(told.get("words"), f"{where}.words", most=160),
        Quote(hours=hours, **money),
        tuple(_material(m, f"{where}.materials") for m in reading.listed(told.get("materials"), f"{where}.materials")),
        reading.text(told["rests_on"], f"{where}.rests_on") if told.get("rests_on") else "",
    )


def _material(row: object, where: str) -> Material:
    what, amount, cost = reading.listed(row, where, least=3, most=3)
    return Material(reading.text(what, where), reading.text(amount, where), _money(cost, where))


def _money(value: object, where: str) -> Decimal:
    try:
        found = Decimal(reading.text(value, where, most=20))
    except InvalidOperation as wrong:
        raise BadInput(where, value, "an amount of money") from wrong
    if not found.is_finite() or abs(found) > MOST:
        raise BadInput(where, value, "an amount of money")
    return found
