"""Lengths as people write them, metric and imperial, kept in millimetres.

A workroom chooses how lengths are shown; every box takes either. `bare` is the unit a number
without one is taken in, and the page writes it beside the box.
"""

from __future__ import annotations

import math
import re
import unicodedata
from collections import defaultdict
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from zonatome.core.errors import BadInput
from zonatome.core.tolerances import LONGEST

Units = Literal["metric", "imperial"]
Size = Literal["small", "panel", "cloth", "sheet", "fine"]

MM_PER_INCH = 25.4
MM_PER_YARD = 914.4
NEWTONS_PER_POUND = 4.4482216  # of force
EXPECTED = "a length such as 52 cm, 520 mm, 20 1/2 in, 1' 8\" or 1 1/4 yd"
LONGEST_TEXT = 60  # characters: no length needs more

MM_PER: dict[str, Fraction] = {
    "mm": Fraction(1),
    "cm": Fraction(10),
    "m": Fraction(1000),
    "in": Fraction(254, 10),
    "ft": Fraction(3048, 10),
    "yd": Fraction(9144, 10),
}
SPELT = {
    "mm": "mm", "millimetre": "mm", "millimetres": "mm", "cm": "cm", "centimetre": "cm", "centimetres": "cm",
    "m": "m", "metre": "m", "metres": "m", "meter": "m", "meters": "m",
    "in": "in", "inch": "in", "inches": "in", '"': "in", "''": "in", "ft": "ft", "foot": "ft", "feet": "ft", "'": "ft",
    "yd": "yd", "yds": "yd", "yard": "yd", "yards": "yd",
}  # fmt: skip
PART = re.compile(
    r"\s*(?:(?P<whole>\d+)\s+(?P<top>\d+)/(?P<under>\d+)|(?P<ftop>\d+)/(?P<funder>\d+)|(?P<dec>\d+(?:[.,]\d+)?|[.,]\d+))"
    r"\s*(?P<unit>[a-z]+|''|\"|')?\s*"
)


def _spelt_out(sign: str) -> str:
    """A sign such as ½ as a space and `1/2`; any other sign as it is."""
    if not unicodedata.decomposition(sign).startswith("<fraction>"):
        return sign
    return " " + unicodedata.normalize("NFKC", sign).replace("\N{FRACTION SLASH}", "/")


def parse_length(
    text: str, *, bare: str = "cm", key: str = "length", least: float = 0.0, most: float = LONGEST
) -> float:
    """Return the millimetres that a written length means.

    Takes decimals (point or comma), fractions and mixed numbers, signs for inch and foot, and sums of
    falling units (`1' 8"`, `2 yd 9 in`). A number alone is in `bare` (mm, cm, m, in, ft or yd).

    Raises BadInput for anything else, for a length below `least` or not above 0 when `least` is 0,
    and above `most`; `key` names the box.

    >>> parse_length('20½"'), parse_length("2 yd 9 in"), parse_length("52"), parse_length("1,5 m")
    (520.7, 2057.4, 520.0, 1500.0)
    """
    if not isinstance(text, str) or not text.strip():
        raise _no_length(key, text)
    if len(text) > LONGEST_TEXT:
        raise BadInput(key, text, f"{EXPECTED}, in at most {LONGEST_TEXT} characters")
    total = float(_sum_of_parts(text, bare, key))
    if total <= 0 and least <= 0:
        raise BadInput(key, text, "a length above 0", words=f"Type a length above 0; “{text}” is not.")
    if total < least:
        raise BadInput(
            key,
            text,
            wanted := f"at least {exact_length(least, bare=bare)} {bare}",
            words=f"“{text}” is too little: {wanted}.",
        )
    if total > most:
        raise BadInput(
            key,
            text,
            wanted := f"at most {exact_length(most, bare=bare)} {bare}",
            words=f"“{text}” is too much: {wanted}.",
        )
    return total


def _no_length(key: str, text: object) -> BadInput:
    return BadInput(key, text, EXPECTED, words=f"Type {EXPECTED}; “{text}” is none." if text else f"Type {EXPECTED}.")


def _sum_of_parts(text: str, bare: str, key: str) -> Fraction:
    plain = (
        text.strip().lower().replace("″", '"').replace("”", '"').replace("“", '"').replace("′", "'").replace("’", "'")
    )
    plain = "".join(map(_spelt_out, plain))
    total, at, last = Fraction(0), 0, math.inf
    plain = plain.strip()
    while at < len(plain):
        part = PART.match(plain, at)
        if part is None:
            raise _no_length(key, text)
        unit = SPELT.get(part["unit"]) if part["unit"] else (bare if at == 0 and part.end() == len(plain) else None)
        if unit is None or MM_PER[unit] >= last:
            raise _no_length(key, text)
        total += _number(part, text, key) * MM_PER[unit]
        last, at = float(MM_PER[unit]), part.end()
    return total


def _number(part: re.Match[str], text: str, key: str) -> Fraction:
    if part["dec"]:
        return Fraction(part["dec"].replace(",", "."))
    under = int(part["under"] or part["funder"])
    if under == 0:
        raise _no_length(key, text)
    return Fraction(int(part["top"] or part["ftop"]), under) + int(part["whole"] or 0)


def format_length(mm: float, units: Units = "metric", size: Size = "panel", *, up: bool = False) -> str:
    """Return a length as a workroom reads it, with its unit.

    `size` says what is measured: `small` (thickness, pitch: mm), `panel` (mm below 10 cm, else cm), `cloth` (metres,
    two decimals), `sheet` (cm always, to the millimetre: a cut sheet speaks one unit) or `fine` (tenths of a
    millimetre, hundredths of an inch). Imperial: inches in eighths, what is small and below half an inch in
    sixteenths, cloth in yards in eighths. `up` never rounds down, for what must be enough.

    >>> format_length(520.7), format_length(520.7, "imperial"), format_length(5600, size="cloth")
    ('52.1 cm', '20 1/2 in', '5.60 m')
    >>> format_length(1.27, size="fine"), format_length(1.27, "imperial", "fine")
    ('1.3 mm', '0.05 in')
    """
    if size == "fine":
        return f"{mm / MM_PER_INCH:.2f} in" if units == "imperial" else f"{mm:.1f} mm"
    if units == "imperial":
        per, name = (MM_PER_YARD, "yd") if size == "cloth" else (MM_PER_INCH, "in")
        parts = 16 if size == "small" and abs(mm) < MM_PER_INCH / 2 else 8
        count = math.ceil(mm / per * parts - 1e-6) if up else round(mm / per * parts)
        return f"{mixed(Fraction(count, parts))} {name}"
    if size == "cloth":
        return f"{_rounded(mm / 1000, 2, up):.2f} m"
    if size == "sheet":
        return f"{_rounded(mm / 10, 1, up):.1f} cm"
    if size == "small" or abs(mm) < 100:
        return f"{_trimmed(_rounded(mm, 1 if abs(mm) < 20 else 0, up))} mm"
    return f"{_trimmed(_rounded(mm / 10, 1, up))} cm"


def a_metre(figure: float, units: Units = "metric") -> float:
    """Return what a workroom reads for so much a metre: in inches so much a yard, as `said_in` says it.

    >>> a_metre(10), round(a_metre(10, "imperial"), 3)
    (10, 9.144)
    """
    return figure * MM_PER_YARD / 1000 if units == "imperial" else figure


@dataclass(frozen=True)
class Push:
    """By how much an arrow key moves what is in hand, alone and with Shift: in mm, and as the workroom says it."""

    fine: float
    coarse: float
    fine_words: str
    coarse_words: str


PUSHES: dict[Units, Push] = {
    "metric": Push(1.0, 10.0, "1 mm", "10 mm"),
    "imperial": Push(MM_PER_INCH / 32, MM_PER_INCH / 4, "1/32 in", "1/4 in"),
}


def format_size(width: float, height: float, units: Units = "metric", size: Size = "panel") -> str:
    """Return mm as width × height for reading, the unit once where it is the same.

    >>> format_size(520, 703), format_size(520, 703, "imperial")
    ('52 × 70.3 cm', '20 1/2 × 27 5/8 in')
    """
    first, second = (format_length(v, units, size) for v in (width, height))
    if first.split()[-1] == second.split()[-1]:
        first = first.rsplit(" ", 1)[0]
    return f"{first} × {second}"


def format_pull(newtons: float, units: Units = "metric") -> str:
    """Return a force as a workroom reads it: whole newtons, or pounds.

    >>> format_pull(40), format_pull(40, "imperial")
    ('40 N', '9 lb')
    """
    return f"{newtons / NEWTONS_PER_POUND:.0f} lb" if units == "imperial" else f"{newtons:.0f} N"


def format_tension(per_cm: float, units: Units = "metric") -> str:
    """Return a tension, given in N/cm, as a workroom reads it: to the tenth of a newton a centimetre, or of a pound an
    inch.

    >>> format_tension(3.5), format_tension(3.5, "imperial")
    ('3.5 N/cm', '2.0 lb/in')
    """
    return f"{per_cm / NEWTONS_PER_POUND * 2.54:.1f} lb/in" if units == "imperial" else f"{per_cm:.1f} N/cm"


def said_in(words: str, units: Units) -> str:
    """Return a sentence with its metric lengths, and tensions, in the workroom's unit: `8.0 mm` as it is, or as eighths
    of an inch.

    Ranges and sizes are taken as a whole: `12 to 20 mm`, `200 × 100 cm`. How a length may be typed stays as it is.

    >>> said_in("Seat 1 lies 12.7 mm over Seat 2", "imperial")
    'Seat 1 lies 1/2 in over Seat 2'
    >>> said_in("Each side; 0 to 10 mm", "imperial")
    'Each side; 0 to 3/8 in'
    >>> said_in("straighter by 0.7 mm", "imperial")
    'straighter by 0.03 in'
    >>> said_in("the tension is 3.5 N/cm", "imperial")
    'the tension is 2.0 lb/in'
    >>> said_in("a metre of edge roll", "imperial")
    'a yard of edge roll'

    Two that differ and would be told as the same are told finely.

    >>> said_in("is 149.9 mm wide; expected at least 150 mm", "imperial")
    'is 5.90 in wide; expected at least 5.91 in'
    """
    if units == "metric":
        return words
    if EXPECTED in words:
        return EXPECTED.join(said_in(part, units) for part in words.split(EXPECTED))
    words = PER_METRE.sub("a yard", words)
    words = METRIC_TENSION.sub(lambda found: format_tension(float(found[1]), units), words)
    finely = _alike(words)
    return METRIC_LENGTH.sub(lambda found: _in_inches(found, finely), words)


PER_METRE = re.compile(r"(?<!half )\ba metre\b")
METRIC_TENSION = re.compile(r"(\d+(?:\.\d+)?) N/cm\b")
HUNDREDTH = 0.005  # mm either way: a hundredth of a millimetre
FINEST = 5.0  # mm: shorter ones are told as finely as they were measured
METRIC_LENGTH = re.compile(r"(?<![\w.])(?:(\d[\d,]*(?:\.\d+)?)( to | and | × | x ))?(\d[\d,]*(?:\.\d+)?) (mm|cm|m)\b")


def _alike(words: str) -> set[float]:
    """The lengths of a sentence, mm, that eighths would tell as another one of it."""
    told: dict[str, set[float]] = defaultdict(set)
    for first, _, second, unit in METRIC_LENGTH.findall(words):
        for each in filter(None, (first, second)):
            mm = _mm(each, unit)
            if mm >= MM_PER_INCH / 16:
                told[format_length(mm, "imperial")].add(mm)
    return {mm for same in told.values() if len(same) > 1 for mm in same}


def _mm(told: str, unit: str) -> float:
    return round(float(told.replace(",", "")) * float(MM_PER[unit]), 3)


def _in_inches(found: re.Match[str], finely: set[float]) -> str:
    first, between, second, unit = found.groups()
    last = _little(second, unit, finely)
    if first is None:
        return last
    begins = _little(first, unit, finely).removesuffix(" in") if _mm(first, unit) else "0"
    return f"{begins}{between}{last}"


def _little(told: str, unit: str, finely: set[float]) -> str:
    """A length in inches, as it was told in its unit: in eighths; one that was told to the tenth of a mm and is shorter
    than FINEST, or is one of `finely`, in hundredths; another that is less than a sixteenth is less than an eighth.
    Long ones in feet are left to the tape.
    """
    mm = _mm(told, unit)
    if mm in finely or (unit == "mm" and "." in told and mm < FINEST):
        return format_length(mm, "imperial", "fine")
    return format_length(mm, "imperial") if mm >= MM_PER_INCH / 16 else "less than 1/8 in"


def _rounded(value: float, decimals: int, up: bool) -> float:
    if not up:
        return round(value, decimals) + 0.0  # no length is "-0"
    scale: int = 10**decimals
    return math.ceil(value * scale - 1e-6) / scale


def _trimmed(value: float) -> str:
    return f"{value:.2f}".rstrip("0").rstrip(".") or "0"


def mixed(value: Fraction) -> str:
    """Return a mixed number as it is written on a tape: `20 1/2`, `3/8`, `4`."""
    sign, value = ("-", -value) if value < 0 else ("", value)
    whole, rest = divmod(value.numerator, value.denominator)
    if not rest:
        return f"{sign}{whole}"
    part = f"{rest}/{value.denominator}"
    return f"{sign}{whole} {part}" if whole else f"{sign}{part}"


def exact_length(mm: float, *, bare: str = "cm") -> str:
    """Return the number for a box whose unit is `bare`, without the unit, that reads back as `mm`.

    Imperial: a fraction down to 1/64 where that is the length to a hundredth of a millimetre, else as few decimals as
    say it so.

    >>> exact_length(368.3, bare="in"), exact_length(368.3), exact_length(68, bare="in")
    ('14 1/2', '36.83', '2.677')
    """
    per = float(MM_PER[bare])
    if bare in ("in", "yd", "ft"):
        nearest = Fraction(round(mm / per * 64), 64)
        if abs(float(nearest) * per - mm) < HUNDREDTH:
            return mixed(nearest)
        for decimals in range(1, 6):
            if abs(round(mm / per, decimals) * per - mm) < HUNDREDTH:
                return f"{mm / per:.{decimals}f}"
    decimals = {"mm": 2, "cm": 3, "m": 5}.get(bare, 6)
    return f"{mm / per:.{decimals}f}".rstrip("0").rstrip(".") or "0"


def bare_unit(units: Units, size: Size) -> str:
    """Return the unit that a bare number is taken in, by what is measured."""
    if units == "imperial":
        return "yd" if size == "cloth" else "in"
    return {"small": "mm", "panel": "cm", "cloth": "m", "sheet": "cm"}[size]
