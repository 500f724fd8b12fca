"""The plan as a drawing: two weeks beside each other."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from typing import Any

from django.utils import timezone

from zonatome.core.shop.plan.hours import moment_of, quarter_of
from zonatome.core.shop.plan.request import DAY, Plan, Spell
from zonatome.core.shop.plan.tasks import COMPRESSOR, SEWING_MACHINE, TABLE, TASKS
from zonatome.web.fortnight.services import Asked

WEEKS, DAYS_A_WEEK = 2, 5
LEFT, WIDE, GAP = 104, 620, 6  # of a week's drawing: where its days begin, its width, between two days
ROW, LOW, TOP = 66, 24, 30  # heights: a person's row, the others', above the first
LETTER = 6.4  # width of one
TONES = 8
ONE_BREAK = 4  # quarters: what one does before and after it is one block
MOST_WAIT_ROWS = 4
MACHINE_ORDER = (SEWING_MACHINE, COMPRESSOR, TABLE)


@dataclass(frozen=True)
class Block:
    """Spells of one tag that somebody does in a row on one day."""

    spells: tuple[Spell, ...]

    @property
    def first(self) -> Spell:
        """The spell that it begins with."""
        return self.spells[0]

    @property
    def begins(self) -> int:
        """When it begins."""
        return self.first.begins

    @property
    def ends(self) -> int:
        """When it ends."""
        return self.spells[-1].ends

    @property
    def words(self) -> str:
        """What is done in it."""
        return ", ".join(dict.fromkeys(TASKS[spell.key.task].words for spell in self.spells))


def blocks_of(spells: Iterable[Spell]) -> list[Block]:
    """Return the spells of one person as blocks, in order of time."""
    found: list[list[Spell]] = []
    for spell in sorted(spells, key=lambda s: s.begins):
        last = found[-1][-1] if found else None
        if (
            last is not None
            and last.key.tag == spell.key.tag
            and last.begins // DAY == spell.begins // DAY
            and spell.begins - last.ends <= ONE_BREAK
        ):
            found[-1].append(spell)
        else:
            found.append([spell])
    return [Block(tuple(row)) for row in found]


@dataclass(frozen=True)
class Frame:
    """The days of one drawing and the hours that it shows of each."""

    days: tuple[int, ...]  # numbers of days from the plan's first one
    opens: int  # quarter of the day
    closes: int

    @property
    def day_width(self) -> float:
        """Width of one day."""
        return (WIDE - LEFT - GAP * (len(self.days) - 1)) / len(self.days)

    def x(self, quarter: int) -> float | None:
        """Where a quarter lies; None on a day that is not shown. Out of hours lies at the day's edge."""
        day, at = divmod(quarter, DAY)
        if day not in self.days:
            return None
        share = min(1.0, max(0.0, (at - self.opens) / (self.closes - self.opens)))
        return LEFT + self.days.index(day) * (self.day_width + GAP) + share * self.day_width

    def span(self, begins: int, ends: int) -> tuple[float, float] | None:
        """From where to where something reaches that may begin before and end after the days shown; None where it
        does not touch them.
        """
        inside = [d for d in self.days if begins < (d + 1) * DAY and ends > d * DAY]
        if not inside:
            return None
        first, last = max(begins, inside[0] * DAY), min(ends, inside[-1] * DAY + self.closes)
        left, right = self.x(first), self.x(max(last, first))
        if left is None or right is None or right - left < 1:
            return None
        return left, right


def _bar(frame: Frame, begins: int, ends: int) -> dict[str, Any] | None:
    reach = frame.span(begins, ends)
    if reach is None:
        return None
    left, right = reach
    width = max(3.0, right - left - 1.5)
    return {"x": round(left, 1), "width": round(width, 1), "letters": max(0, int((width - 8) / LETTER))}


def times(begins: int, ends: int, first: date) -> str:
    """Return in words from when to when something is done, in quarters from the plan's first day."""
    begin, end = moment_of(begins, first), moment_of(ends, first)
    return f"{begin:%a %-d %b, %H:%M} to {end:%H:%M}"


def working_days(asked: Asked) -> list[int]:
    """Return the next ten days on which anybody is at the bench."""
    days = sorted({begin // DAY for w in asked.request.workers for begin, _ in w.windows})
    return days[: WEEKS * DAYS_A_WEEK]


def weeks_of(plan: Plan, asked: Asked, now: datetime, waits: Sequence[dict[str, Any]]) -> list[dict[str, Any]]:
    """Return the drawings of the next ten working days, five in each."""
    days, (opens, closes) = working_days(asked), _hours_shown(asked)
    tones = tones_of(asked)
    made = []
    for n in range(0, len(days), DAYS_A_WEEK):
        frame = Frame(tuple(days[n : n + DAYS_A_WEEK]), opens, closes)
        made.append(_week(frame, plan, asked, now, waits, tones))
    return made


def _hours_shown(asked: Asked) -> tuple[int, int]:
    """From which to which quarter of a day somebody is at the bench."""
    spans = asked.whole_windows
    return min((begin % DAY for begin, _ in spans), default=0), max((end % DAY or DAY for _, end in spans), default=DAY)


def dropped_at(asked: Asked, share: float) -> time:
    """Return the time at a share of a day as it is drawn, to the nearest quarter of an hour."""
    opens, closes = _hours_shown(asked)
    return moment_of(min(DAY - 1, round(opens + share * (closes - opens))), asked.first).time()


def tones_of(asked: Asked) -> dict[int, int]:
    """Return the colour of each tag, in the order of their numbers."""
    return {number: n % TONES for n, number in enumerate(sorted(asked.jobs))}


def _week(
    frame: Frame,
    plan: Plan,
    asked: Asked,
    now: datetime,
    waits: Sequence[dict[str, Any]],
    tones: Mapping[int, int],
) -> dict[str, Any]:
    people, y = _people_rows(frame, plan, asked, tones)
    rows, y = _wait_rows(frame, waits, y)
    machines, y = _machine_rows(frame, plan, asked, tones, y)
    dues, y = _dues(frame, plan, asked, y + 4)
    at = frame.x(quarter_of(now.replace(tzinfo=None), asked.first))
    return {
        "width": WIDE,
        "height": y + 4,
        "days": _days(frame, asked.first, y - 26),
        "opens": frame.opens,
        "closes": frame.closes,
        "people": people,
        "wait_rows": rows,
        "machines": machines,
        "dues": dues,
        "due_label": y - 10,
        "now": None if at is None or 0 not in frame.days else round(at, 1),
        "row": ROW,
        "low": LOW,
        "top": TOP - 4,
    }


def _days(frame: Frame, first: date, height: int) -> list[dict[str, Any]]:
    """The days of a week as columns so high."""
    return [
        {
            "x": round(frame.x(d * DAY + frame.opens) or 0, 1),
            "width": round(frame.day_width, 1),
            "name": f"{first + timedelta(days=d):%a %-d}",
            "date": (first + timedelta(days=d)).isoformat(),
            "height": height,
        }
        for d in frame.days
    ]


def _people_rows(frame: Frame, plan: Plan, asked: Asked, tones: Mapping[int, int]) -> tuple[list[dict[str, Any]], int]:
    """A row for everybody at the bench, and where the next row begins."""
    pinned = {pin.key for pin in asked.request.pins}
    rows: list[dict[str, Any]] = []
    for n, worker in enumerate(asked.request.workers):
        y = TOP + n * (ROW + 8)
        bars = []
        for block in blocks_of(s for s in plan.spells if s.worker == worker.name):
            bar = _bar(frame, block.begins, block.ends)
            if bar is None:
                continue
            key = block.first.key
            name = asked.jobs[key.tag].name if key.tag in asked.jobs else ""
            bar.update(
                key=key,
                number=key.tag,
                tone=tones.get(key.tag, 0),
                lines=in_lines(block.words, bar["letters"]),
                is_pinned=any(s.key in pinned for s in block.spells),
                dot=round(bar["width"] - 8, 1),
                title=f"{times(block.begins, block.ends, asked.first)}: {key.tag} {name}, {block.words}",
            )
            bars.append(bar)
        rows.append({"name": worker.name, "y": y, "bars": bars, "label": y + 20})
    return rows, TOP + len(rows) * (ROW + 8)


def _machine_rows(
    frame: Frame, plan: Plan, asked: Asked, tones: Mapping[int, int], y: int
) -> tuple[list[dict[str, Any]], int]:
    """A row for each machine: whose work is on it."""
    rows = []
    for machine in MACHINE_ORDER:
        bars = []
        for block in blocks_of(s for s in plan.spells if TASKS[s.key.task].machine == machine):
            bar = _bar(frame, block.begins, block.ends)
            if bar is None:
                continue
            tag = block.first.key.tag
            title = f"{times(block.begins, block.ends, asked.first)}: {tag}, {block.first.worker}"
            bars.append({**bar, "number": tag, "tone": tones.get(tag, 0), "title": title})
        rows.append({"name": machine, "y": y, "bars": bars, "label": y + 16})
        y += LOW + 6
    return rows, y


def in_lines(words: str, letters: int, most: int = 2) -> list[str]:
    """Return words in a few lines of so many letters; nothing where none has room."""
    if letters < 4:
        return []
    lines, line = [], ""
    for word in words.split():
        longer = f"{line} {word}".strip()
        if len(longer) <= letters:
            line = longer
            continue
        if line:
            lines.append(line)
        line = word if len(word) <= letters else word[: letters - 1] + "…"
    lines.append(line)
    return lines[:most]


def _wait_rows(frame: Frame, waits: Sequence[dict[str, Any]], y: int) -> tuple[list[dict[str, Any]], int]:
    """The waits in as few rows as they find room in."""
    rows: list[list[dict[str, Any]]] = []
    for wait in waits:
        bar = _bar(frame, wait["begins"], wait["ends"])
        if bar is None:
            continue
        bar.update(number=wait["number"], title=wait["title"], words=in_lines(wait["words"], bar["letters"] - 5)[:1])
        row = next((r for r in rows if r[-1]["x"] + r[-1]["width"] <= bar["x"]), None)
        if row is None:
            if len(rows) == MOST_WAIT_ROWS:
                continue
            row = []
            rows.append(row)
        row.append(bar)
    made = []
    for n, row in enumerate(rows or [[]]):
        top = y + n * (LOW + 4)
        made.append({"y": top, "bars": row, "label": top + 16, "is_first": not n})
    return made, y + len(made) * (LOW + 4) + 8


def _dues(frame: Frame, plan: Plan, asked: Asked, y: int) -> tuple[list[dict[str, Any]], int]:
    """Marks where tags are due, those of one day one below the other."""
    found: list[dict[str, Any]] = []
    depth: dict[int, int] = {}
    for number, job in sorted(asked.jobs.items(), key=lambda one: (one[1].due or date.max, one[0])):
        if job.due is None:
            continue
        day = (job.due - asked.first).days
        if day not in frame.days:
            continue
        x = frame.x(day * DAY + frame.closes - 1) or 0
        n = depth.get(day, 0)
        depth[day] = n + 1
        found.append(
            {
                "number": number,
                "x": round(x, 1),
                "y": y + n * 18,
                "is_late": number in plan.late,
                "title": f"{number} {job.name} is due",
            }
        )
    return found, y + max([*depth.values(), 1]) * 18 + 4


def waits_in(plan: Plan, asked: Asked, now: datetime) -> list[dict[str, Any]]:
    """Return what runs by itself: waits that run now, and those that the plan foresees, the earliest first."""
    found = []
    first = asked.first
    for number, job in asked.jobs.items():
        for row in job.waits.all():
            begins, ends = (quarter_of(_wall(m), first, up=True) for m in (row.began, row.until))
            if ends > quarter_of(now.replace(tzinfo=None), first):
                found.append(_wait(number, max(0, begins), ends, row.words, first))
    ended: dict[tuple[int, str], int] = {}
    for spell in plan.spells:
        ended[spell.key.tag, spell.key.task] = max(ended.get((spell.key.tag, spell.key.task), 0), spell.ends)
    for tag in asked.request.tags:
        said: set[str] = set()
        for task in tag.tasks:
            for key, wait in task.after:
                if wait and key not in said and (tag.number, key) in ended:
                    said.add(key)
                    begins = ended[tag.number, key]
                    found.append(_wait(tag.number, begins, begins + wait, FORESEEN.get(key, "sets"), first))
    return sorted(found, key=lambda w: (w["begins"], w["number"]))


FORESEEN = {"strip": "frame glue sets", "pad": "foam glue sets", "coats": "coats dry"}


def _wall(moment: datetime) -> datetime:
    return timezone.localtime(moment).replace(tzinfo=None)


def _wait(number: int, begins: int, ends: int, words: str, first: date) -> dict[str, Any]:
    until = moment_of(ends, first)
    return {
        "number": number,
        "begins": begins,
        "ends": ends,
        "words": words,
        "title": f"{number}: {words}, until {until:%a %-d %b %H:%M}",
    }


def filled(plan: Plan, waits: Iterable[Mapping[str, Any]]) -> int:
    """Return during how many waits another tag is worked on."""

    def is_filled(wait: Mapping[str, Any]) -> bool:
        others = (s for s in plan.spells if s.key.tag != wait["number"])
        return any(s.begins < wait["ends"] and wait["begins"] < s.ends for s in others)

    return sum(is_filled(wait) for wait in waits)
