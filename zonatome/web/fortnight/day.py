"""The plan as a drawing: one day, above the rail."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from zonatome.core.shop.plan.hours import quarter_of
from zonatome.core.shop.plan.request import DAY, Plan, Worker
from zonatome.web.fortnight.drawing import (
    MOST_WAIT_ROWS,
    Frame,
    blocks_of,
    in_lines,
    times,
    tones_of,
    waits_in,
    working_days,
)
from zonatome.web.fortnight.services import Asked

DAY_WIDE, NAMED_WIDE = 1000, 935  # of its hours; where names stand at their end
USUAL_HOURS = (34, 68)  # quarters of a day on which nobody is there: 8:30 to 17:00
PERSON, WAIT = 42, 26  # heights of a row
NAME_LETTER, WORD_LETTER = 7.2, 6.6  # width of one


@dataclass(frozen=True)
class _Hours:
    """The hours of the day that is drawn, and how wide they are together."""

    day: int  # from the plan's first one
    opens: int  # quarter of the day
    closes: int
    wide: int

    def place(self, quarter: float) -> int:
        """Where a quarter lies; out of hours at an end."""
        share = (quarter - self.day * DAY - self.opens) / (self.closes - self.opens)
        return round(min(1.0, max(0.0, share)) * self.wide)

    def is_on(self, quarter: int) -> bool:
        """Whether a quarter is of this day."""
        return quarter // DAY == self.day


@dataclass(frozen=True)
class _Drawn:
    """What bars are drawn with: the hours, and the tags with their colours."""

    hours: _Hours
    asked: Asked
    tones: Mapping[int, int]

    def name(self, number: int) -> str:
        """What a tag is called."""
        return self.asked.jobs[number].name if number in self.asked.jobs else ""

    def bar(self, begins: int, ends: int, number: int, words: str, title: str) -> dict[str, Any]:
        """What is done with a tag, or goes on by itself, from when to when."""
        x = self.hours.place(begins)
        width = max(4, self.hours.place(ends) - x - 4)
        return {
            "x": x,
            "width": width,
            "number": number,
            "tone": self.tones.get(number, 0),
            "name": in_lines(f"{number} {self.name(number)}", max(3, int((width - 8) / NAME_LETTER)), most=1),
            "words": in_lines(words, max(0, int((width - 8) / WORD_LETTER)), most=1),
            "is_wide": width > 70,
            "is_narrow": width > 26,
            "title": title,
        }


def day_of(plan: Plan, asked: Asked, now: datetime) -> dict[str, Any]:
    """Return the day that is drawn above the rail: today, or the next day with work once nobody is there any more.

    Places are in thousandths of its hours; a row for everybody who is there.
    """
    hours = _hours_of(asked)
    drawn = _Drawn(hours, asked, tones_of(asked))
    rows, minutes = _rows(drawn, plan, asked.request.workers)
    top = 2 + PERSON * len(rows)
    frame = Frame((hours.day,), hours.opens, hours.closes)
    waits = [w for w in waits_in(plan, asked, now) if _is_seen(w, frame, hours.day)]
    shown, lanes = _wait_bars(drawn, waits, top)
    floor = top + WAIT * lanes
    begins = asked.first + timedelta(days=hours.day)
    return {
        "name": f"{begins:%A}",
        "date": f"{begins:%-d %B}" + {0: "", 1: ", tomorrow"}.get(hours.day, ""),
        "minutes": minutes,
        "rows": rows,
        "has_names": len(rows) > 1,
        "waits": shown,
        "waits_words": _waits_words(len(waits)),
        "hours": [
            {"x": hours.place(hours.day * DAY + h * 4), "words": str(h)}
            for h in range(hours.opens // 4 + 1, hours.closes // 4)
        ],
        "now": None if hours.day else hours.place(quarter_of(now.replace(tzinfo=None), asked.first)),
        "height": floor + 16,
        "floor": floor,
    }


def _hours_of(asked: Asked) -> _Hours:
    """From when to when somebody is there, on the first day with hours that are left."""
    day = next(iter(working_days(asked)), 0)
    left = [(b, e) for worker in asked.request.workers for b, e in worker.windows if b // DAY == day]
    usual = [window for window in asked.whole_windows if window[0] // DAY == day] or left
    opens = min((begin % DAY for begin, _ in usual), default=USUAL_HOURS[0])
    closes = max((end - day * DAY for _, end in usual), default=USUAL_HOURS[1])
    return _Hours(day, opens, closes, NAMED_WIDE if len(asked.request.workers) > 1 else DAY_WIDE)


def _rows(drawn: _Drawn, plan: Plan, workers: Sequence[Worker]) -> tuple[list[dict[str, Any]], int]:
    """A row for everybody who is there or has work, and how many minutes of work they all have."""
    hours, rows, minutes = drawn.hours, list[dict[str, Any]](), 0
    for worker in workers:
        mine = blocks_of(s for s in plan.spells if s.worker == worker.name and hours.is_on(s.begins))
        minutes += sum((s.ends - s.begins) * 15 for block in mine for s in block.spells)
        bars = []
        for block in mine:
            tag, when = block.first.key.tag, times(block.begins, block.ends, drawn.asked.first)
            title = f"{when}, {worker.name}: {tag} {drawn.name(tag)}, {block.words}"
            bars.append(drawn.bar(block.begins, block.ends, tag, block.words, title))
        if bars or any(hours.is_on(begin) for begin, _ in worker.windows):
            rows.append({"name": worker.name, "y": 2 + PERSON * len(rows), "bars": bars})
    return rows, minutes


def _is_seen(wait: Mapping[str, Any], frame: Frame, day: int) -> bool:
    return frame.span(wait["begins"], wait["ends"]) is not None and wait["begins"] < (day + 1) * DAY


def _wait_bars(drawn: _Drawn, waits: Sequence[Mapping[str, Any]], top: int) -> tuple[list[dict[str, Any]], int]:
    """What runs by itself, each in the first row that has room for it, and how many rows that takes."""
    shown, lanes = list[dict[str, Any]](), list[int]()
    for wait in waits:
        bar = drawn.bar(wait["begins"], wait["ends"], wait["number"], wait["words"], wait["title"])
        lane = next((n for n, right in enumerate(lanes) if right <= bar["x"]), len(lanes))
        if lane >= MOST_WAIT_ROWS:
            continue
        lanes[lane : lane + 1] = [bar["x"] + bar["width"]]
        shown.append({**bar, "y": top + lane * WAIT})
    return shown, len(lanes)


def _waits_words(count: int) -> str:
    """How many waits run, in words."""
    return {0: "no wait runs", 1: "1 wait runs by itself"}.get(count, f"{count} waits run by themselves")
