"""Whether a cloth suits what is cut from it: what is worth a thought before it is bought."""

from __future__ import annotations

from collections.abc import Iterable

from zonatome.core.rules import USUAL, Rules
from zonatome.core.survey.kind import Part
from zonatome.core.units import Units, format_length

STRONG = {"stripe": "a stripe", "check": "a check"}
PARCEL = 3  # layers: under the fold of a corner like a parcel
JOIN_OF_WELTS = 6  # where a welt's ends meet in a seam


def remarks_on(
    parts: Iterable[Part],
    *,
    direction: str,
    pattern: str,
    thickness: float,
    rules: Rules = USUAL,
    units: Units = "metric",
) -> tuple[str, ...]:
    """Return what to think of before a cloth is cut into these panels, in sentences; nothing where it suits them.

    A round seat or top in a strong direction (pile, a one-way motif, stripe, check) pulls unevenly: round it each
    thread is pulled another way, and the pattern shows it. Cloth from the workroom's own thickness on is heavy to
    turn: how thick a folded corner and a join of welts come out. `thickness` in mm. Source: trade rules of the lay and
    of corners.
    """
    found, panels = [], [p for p in parts if p.what == "panel"]
    round_ones = [p.name.lower() for p in panels if p.form == "disc" and p.padded]
    strong = (
        "pile"
        if direction == "one_way" and pattern == "plain"
        else STRONG.get(pattern, "one way" if direction == "one_way" else "")
    )
    if round_ones and strong:
        what = "it runs one way" if strong == "one way" else f"it has {strong}"
        found.append(
            f"Round ({', '.join(round_ones)}), and {what}: pulled the same all round it still shows unevenly. "
            "A plain cloth, or one with a pattern all over, is the quieter choice."
        )
    if panels and thickness >= rules["heavy"] - 1e-9:
        one, corner, welts = (format_length(thickness * n, units, "small") for n in (1, PARCEL, JOIN_OF_WELTS))
        found.append(
            f"At {one} it is heavy to turn: a corner folded like a parcel comes to {corner}, a join of welts in a "
            f"seam to {welts}. "
            "Cut surplus away at corners, and let one seam layer end before the next."
        )
    return tuple(found)
