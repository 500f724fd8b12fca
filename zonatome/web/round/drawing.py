"""What the page of the furniture in the round says of it."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass

from django.urls import reverse

from zonatome.core.body.agree import Apart
from zonatome.core.body.views import VIEWS, View
from zonatome.core.units import Units, format_length
from zonatome.web.jobs.models import Job

SHORT = {
    "front": "Front",
    "front_left": "Front L",
    "left": "Left",
    "back": "Behind",
    "right": "Right",
    "front_right": "Front R",
    "above": "Above",
    "below": "Below",
}


@dataclass(frozen=True)
class ViewButton:
    """One of the eight views as a button."""

    key: str
    name: str
    short: str


@dataclass(frozen=True)
class RoundAround:
    """What a page needs to show a tag's furniture in the round: addresses, the views and tones as its component reads
    them, the names of its panels.
    """

    name: str
    picture: str
    model: str
    views: str
    tones: str
    each: tuple[ViewButton, ...]
    names: tuple[tuple[str, str], ...]


BUTTONS = tuple(ViewButton(v.key, v.name, SHORT[v.key]) for v in VIEWS)


def _told(view: View) -> dict[str, object]:
    return {"key": view.key, "turn": view.turn_degrees, "high": view.high_degrees, "loosened": view.is_loosened}


VIEWS_TOLD = json.dumps({v.key: _told(v) for v in VIEWS})


def round_around(job: Job, in_hand: str = "") -> RoundAround:
    """Return what the pages of a tag need to show it in the round; `in_hand` is the panel that the page is about."""
    return RoundAround(
        name=job.name,
        picture=reverse("round:picture", args=[job.number]),
        model=reverse("round:model", args=[job.number]),
        views=VIEWS_TOLD,
        tones=json.dumps({in_hand: "next"} if in_hand else {}),
        each=BUTTONS,
        names=tuple((p.key, p.name) for p in job.kind.panels),
    )


@dataclass(frozen=True)
class SaidApart:
    """A panel that is not as large as its place: its name and key, what differs, what to measure."""

    key: str
    name: str
    words: str
    take: str


def said_apart(job: Job, found: Iterable[Apart], units: Units) -> list[SaidApart]:
    """Return in words where the body and finished shapes differ."""
    return [SaidApart(a.key, job.kind.part(a.key).name, _words(a, units), _take(a)) for a in found]


def _words(found: Apart, units: Units) -> str:
    more = "larger" if found.share > 0 else "smaller"
    if found.is_area:
        return f"its place is {abs(found.share):.0%} {more} than its finished shape"
    there, own = (format_length(value, units, "panel") for value in (found.on_body, found.finished))
    return f"{found.what}: {there} on the furniture, {own} on the shape"


def _take(found: Apart) -> str:
    if not found.take:
        return "measure the panel itself again"
    return "measure " + " and ".join(name.lower() for name in found.take)
