"""How edges are closed on show: each way with its steps, where it starts, what it takes. Lengths in mm."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

from zonatome.core.errors import BadInput

GLUE_STICK = 2500.0  # mm that a stick of 11 x 200 goes
STITCH = (6.0, 10.0)  # mm: a stitch of a ladder
THREAD_TIMES = 3.0  # times the run
TWIST_PIN_EVERY = 60.0  # mm
STRIP_END = 10.0  # mm that a strip ends short of a corner
CLOSED_FROM = "card_strip", "tack_strip", "gripper_strip", "glued"


@dataclass(frozen=True)
class Closing:
    """A way to close an edge: its key, its name, its steps, where it starts, how many minutes a metre takes."""

    key: str
    name: str
    starts: str
    steps: tuple[str, ...]
    minutes_a_metre: float
    bought: str = ""  # what is bought by length


_ROWS = (
    Closing("card_strip", "card strip", "at the middle of the edge, out to both corners", (
        "Lay the panel face down over the edge, its cut edge up, the notch on the rail's mark.",
        "Staple it along the edge with three or four staples, so that it hangs straight.",
        "Lay the card on top, its edge exactly on the line that shall show, and staple through it every 20 to 25 mm.",
        "Lay the padding on, fold the panel back over the card and pull it down: the line must be straight.",
    ), 6, "card strip"),
    Closing("tack_strip", "tack strip", "at the top, down to the rail", (
        "Fold the edge round the strip, its points through the fold, wrong side to wrong side.",
        "Hold the strip to the rail and look along it: the fold lies on the edge, no point shows.",
        "Tap it in with a soft hammer over scrap cloth, in the old holes where they hold, from the top down.",
        "Pull the panel smooth before each blow; a strip that is in does not come out without marks.",
    ), 6, "tack strip"),
    Closing("gripper_strip", "gripper strip", "at the middle of the curve, out to both ends", (
        "Nail the strip along the curve, its open jaw outward, the teeth in.",
        "Close the jaw half with the mallet, so that cloth can still be tucked in.",
        "Tuck and pull the panel in with a blunt blade; mark the line where it goes in, and trim to it only now.",
        "When it lies smooth, close the jaw with the mallet over scrap cloth.",
    ), 10, "gripper strip"),
    Closing("ladder", "ladder stitch", "at the end that is seen least", (
        "Turn both edges in on their lines and pin them, notch on notch.",
        "Curved needle, waxed thread three times the run, its knot inside the fold.",
        "Straight across from fold to fold, then along inside the fold to the next; pull every third one tight.",
        "End with two small stitches in place; run the thread back inside.",
    ), 25, "waxed thread"),
    Closing("glued", "glue, for a cover-over", "on a centre line, one half at a time", (
        "Mask the show wood. Mark the centre line on panel and frame.",
        "Fold one half back on the centre line, glue both faces, let it go dull as the tin says.",
        "Lay it down from the centre line out, smooth it with the flat hand; then the other half.",
        "Tuck 6 to 12 mm under the show wood with a blunt blade; staple in the crease where there is wood behind.",
    ), 8, "glue"),
    Closing("twist_pins", "twist pins", "at the middle of the front", (
        "For a seat's front edge or a loose corner where nothing can be sewn or stapled.",
        "Push the pin through the cover into the padding, at a flat angle, one every 60 mm.",
        "Turn it a turn and a half until it holds; its head lies in the cord's shadow.",
    ), 6, "twist pins"),
)  # fmt: skip
CLOSINGS: dict[str, Closing] = {row.key: row for row in _ROWS}


@dataclass(frozen=True)
class ClosedEdge:
    """An edge that is closed on show: its words, its length, how, and what that takes."""

    edge: str
    length: float
    closing: Closing
    takes: tuple[str, ...]

    @property
    def minutes(self) -> float:
        """The hands-on minutes by the trade's table."""
        return self.closing.minutes_a_metre * self.length / 1000


def closing_named(key: str) -> Closing:
    """Return the closing of this key; BadInput names those there are."""
    if key not in CLOSINGS:
        raise BadInput("closing", key, "one of " + ", ".join(CLOSINGS))
    return CLOSINGS[key]


def closed_edge(edge: str, length: float, key: str) -> ClosedEdge:
    """Return an edge closed in one way, with what it takes: strips 10 mm short of each corner, thread three times the
    run, stitches, sticks of glue, pins. Source: trade rules of closing.

    >>> closed_edge("top", 520, "ladder").takes
    ('thread of 1560 mm', '65 stitches of 8 mm')
    """
    made = closing_named(key)
    if not 0 < length <= 20_000:
        raise BadInput("length", length, "an edge of up to 20 m")
    if key in ("card_strip", "tack_strip", "gripper_strip"):
        strip = max(0.0, length - 2 * STRIP_END)
        takes: tuple[str, ...] = (f"{made.name} of {strip:.0f} mm, {STRIP_END:.0f} mm short of each corner",)
    elif key == "ladder":
        stitch = sum(STITCH) / 2
        takes = (
            f"thread of {THREAD_TIMES * length:.0f} mm",
            f"{math.ceil(length / stitch)} stitches of {stitch:.0f} mm",
        )
    elif key == "glued":
        sticks = math.ceil(length / GLUE_STICK)
        takes = (f"{sticks} stick{'s' if sticks > 1 else ''} of hot glue",)
    else:
        takes = (f"{max(2, math.ceil(length / TWIST_PIN_EVERY))} pins",)
    return ClosedEdge(edge, length, made, takes)


@dataclass(frozen=True)
class ClosingBought:
    """What the closings of a job take to buy: what, how much in mm, or how many."""

    what: str
    amount: float
    unit: str


def closings_bought(edges: Iterable[tuple[ClosedEdge, int]]) -> tuple[ClosingBought, ...]:
    """Return what closed edges take together, each so many times: strips and thread by length, sticks and pins by
    count; the longest list first.
    """
    length: dict[str, float] = {}
    for edge, times in edges:
        length[edge.closing.key] = length.get(edge.closing.key, 0.0) + edge.length * times
    found = []
    for key, total in length.items():
        made = CLOSINGS[key]
        if key == "ladder":
            found.append(ClosingBought(made.bought, THREAD_TIMES * total, "mm"))
        elif key == "glued":
            found.append(ClosingBought("sticks of hot glue", math.ceil(total / GLUE_STICK), "pieces"))
        elif key == "twist_pins":
            found.append(ClosingBought(made.bought, math.ceil(total / TWIST_PIN_EVERY), "pieces"))
        else:
            found.append(ClosingBought(made.bought, total, "mm"))
    return tuple(found)
