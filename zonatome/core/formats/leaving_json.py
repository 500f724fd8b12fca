"""A frame's finish and what goes with the furniture, as JSON: `zonatome.frame`, `zonatome.hand_over`."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import Any

from zonatome.core.errors import BadInput
from zonatome.core.finish.coats import LONGEST_EDGE, MOST_COATS, Coat, Prepared
from zonatome.core.finish.leaving import LONGEST, MOST_CERTIFICATES, Certificate, Frame, HandOver
from zonatome.core.formats import reading

FRAME, HAND_OVER = "zonatome.frame", "zonatome.hand_over"
PREPARED: dict[str, Prepared] = {"strip": "strip", "scrape": "scrape", "sand": "sand"}
MOST_GRITS = 10


def write_frame(frame: Frame) -> dict[str, Any]:
    """Return a frame's finish as plain values."""
    return {
        "format": FRAME, "version": 1, "area": frame.area, "prepared": frame.prepared, "grits": list(frame.grits),
        "coats": [{"finish": c.finish, "dries": c.dries} for c in frame.coats], "is_masked": frame.is_masked,
        "done": frame.done, "masked_along": frame.masked_along,
    }  # fmt: skip


def read_frame(data: Mapping[str, Any] | None) -> Frame:
    """Return a frame's finish; nothing decided for none. Raises BadInput, naming what is wrong where."""
    if data is None:
        return Frame()
    told = reading.table(data, "frame")
    reading.check_format(told, FRAME)
    prepared = reading.text(told.get("prepared", "sand"), "prepared", most=10)
    if prepared not in PREPARED:
        raise BadInput("prepared", prepared, "one of " + ", ".join(PREPARED))
    masked = told.get("is_masked", False)
    if not isinstance(masked, bool):
        raise BadInput("is_masked", masked, "true or false")
    coats = [reading.table(c, "coats") for c in reading.listed(told.get("coats", []), "coats", most=MOST_COATS)]
    area = told.get("area")
    return Frame(
        None if area is None else reading.number(area, "area", least=0, most=100),
        PREPARED[prepared],
        tuple(
            reading.whole(g, "grits", least=1, most=5000)
            for g in reading.listed(told.get("grits", []), "grits", most=MOST_GRITS)
        ),
        tuple(
            Coat(reading.text(c.get("finish"), "coats.finish", most=20), reading.number(c.get("dries"), "coats.dries"))
            for c in coats
        ),
        masked,
        reading.whole(told.get("done", 0), "done", least=0, most=100),
        reading.number(told.get("masked_along", 0.0), "masked_along", least=0, most=LONGEST_EDGE),
    )


def write_hand_over(told: HandOver) -> dict[str, Any]:
    """Return what goes with the furniture as plain values."""
    return {
        "format": HAND_OVER, "version": 1, "care": told.care, "left": told.left,
        "certificates": [{"words": c.words, "on": c.on.isoformat()} for c in told.certificates],
    }  # fmt: skip


def read_hand_over(data: Mapping[str, Any] | None) -> HandOver:
    """Return what goes with the furniture; nothing for none. Raises BadInput, naming what is wrong where."""
    if data is None:
        return HandOver()
    told = reading.table(data, "hand_over")
    reading.check_format(told, HAND_OVER)
    rows = reading.listed(told.get("certificates", []), "certificates", most=MOST_CERTIFICATES)
    return HandOver(
        reading.words(told, "care", most=LONGEST),
        tuple(_certificate(reading.table(row, "certificates")) for row in rows),
        reading.words(told, "left", most=LONGEST),
    )


def _certificate(told: dict[str, Any]) -> Certificate:
    on = reading.text(told.get("on"), "certificates.on", most=10)
    try:
        day = date.fromisoformat(on)
    except ValueError as err:
        raise BadInput("certificates.on", on, "a day as 2026-11-30") from err
    return Certificate(reading.text(told.get("words"), "certificates.words", most=LONGEST), day)
