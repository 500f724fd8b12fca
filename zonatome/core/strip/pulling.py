"""Pulling staples: how many there are, how long it takes at this workroom's pace, all or only what stands proud."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from zonatome.core.errors import BadInput
from zonatome.core.survey.kind import Part

ROWS_PITCH = 18.0  # staples on old covers stand 10 to 25 mm apart; the middle of it
STAPLES_A_MINUTE = 8.0  # until the workroom's own log says better
QUICK_MINUTES = 2.0  # a thing that is not stapled: unscrew, unclip, lift off
ENTRIES_WANTED = 3  # timed entries after which the workroom's own pace replaces the assumed one
PROUD_SHARE = (
    0.35  # of an old row, about what stands proud and must be dealt with; the rest lies flush and holds the padding
)
TRIM_EDGE = 1200.0  # mm: a trim's length before one has measured it
Way = Literal["all", "flush"]
WAYS: dict[Way, str] = {"all": "pull all", "flush": "leave what lies flush"}
WHY: dict[Way, str] = {
    "all": "a clean rail, and no new staple meets an old one",
    "flush": "what lies flush and holds the padding stays; what stands proud is pulled or hammered down",
}
STAPLED_JOINS = ("stapled_under", "raw_under_trim", "tucked", "card_strip", "turned_under", "fly")


@dataclass(frozen=True)
class Pace:
    """Staples a minute, and whether it is the workroom's own or assumed."""

    a_minute: float = STAPLES_A_MINUTE
    entries: int = 0

    @property
    def is_own(self) -> bool:
        """Whether there are enough timed entries."""
        return self.entries >= ENTRIES_WANTED

    @property
    def words(self) -> str:
        """Say which pace is used."""
        if self.is_own:
            return f"at your own pace, {self.a_minute:.1f} a minute from {self.entries} timed"
        left = ENTRIES_WANTED - self.entries
        return f"at {self.a_minute:.0f} a minute, assumed; {left} more timed and it is your own pace"


@dataclass(frozen=True)
class Pull:
    """An estimate: staples there, how many of them one handles, the hands-on minutes."""

    staples: int
    handled: int
    minutes: float


def pace_of(log: Sequence[tuple[float, float]]) -> Pace:
    """Return the pace from timed entries of (staples, minutes): all staples over all minutes once there are three.

    Entries without staples or time say nothing and don't count.
    """
    told = [(staples, minutes) for staples, minutes in log if staples > 0 and minutes > 0]
    if len(told) < ENTRIES_WANTED:
        return Pace(entries=len(told))
    return Pace(sum(s for s, _ in told) / sum(m for _, m in told), len(told))


def is_stapled(part: Part, held: Sequence[str] = ()) -> bool:
    """Whether staples or tacks hold it, as found or as usual."""
    return any("staple" in way or way in ("tacks", "tack") for way in held or part.held)


def fixed_edge(part: Part) -> float:
    """Return the length in mm of the edge that staples hold: the sides whose join is stapled; a disc's whole round."""
    if part.what == "trim":
        return TRIM_EDGE
    if not part.joins:
        return 2 * (part.width + part.height)
    return sum(part.edge_length(edge) for edge in part.edges if part.joins.get(edge) in STAPLED_JOINS)


def staples_in(
    part: Part, *, pitch: float = ROWS_PITCH, rows: int = 1, edge: float | None = None, held: Sequence[str] = ()
) -> int:
    """Return about how many staples hold a part: its fixed edge in mm over the pitch found, times the rows.

    Source: trade rule, length of fixed edge / pitch for each row. Parts held without staples or tacks give 0.
    Raises BadInput for a pitch or rows that no cover has.
    """
    if not 2 <= pitch <= 200:
        raise BadInput("pitch", pitch, "2 to 200 mm between staples")
    if not 1 <= rows <= 6:
        raise BadInput("rows", rows, "1 to 6 rows")
    if not is_stapled(part, held):
        return 0
    return round((fixed_edge(part) if edge is None else edge) / pitch) * rows


def pulled_as_one(pulls: Sequence[Pull]) -> Pull:
    """Return staples and minutes of a cover that comes off in one: it is handled once, not panel by panel."""
    if not pulls:
        return Pull(0, 0, 0.0)
    minutes = sum(p.minutes for p in pulls) - QUICK_MINUTES * (len(pulls) - 1)
    return Pull(sum(p.staples for p in pulls), sum(p.handled for p in pulls), minutes)


def pulling(
    part: Part,
    *,
    pace: Pace | None = None,
    way: Way = "all",
    pitch: float = ROWS_PITCH,
    rows: int = 1,
    edge: float | None = None,
    held: Sequence[str] = (),
) -> Pull:
    """Return staples and hands-on minutes for taking one part off, all of them or only what stands proud.

    >>> from zonatome.core.survey.kinds import SQUARE_STOOL
    >>> round(pulling(SQUARE_STOOL.part("seat")).minutes, 1)
    12.2
    """
    if way not in WAYS:
        raise BadInput("way", way, "one of " + ", ".join(WAYS))
    speed = (pace or Pace()).a_minute
    if speed <= 0:
        raise BadInput("staples_a_minute", speed, "a pace above 0")
    there = staples_in(part, pitch=pitch, rows=rows, edge=edge, held=held)
    handled = there if way == "all" else round(there * PROUD_SHARE)
    return Pull(there, handled, QUICK_MINUTES + handled / speed)
