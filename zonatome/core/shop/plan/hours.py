"""When somebody is at the bench: hours of each weekday, breaks, days off, as windows of quarters."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta

from zonatome.core.errors import BadInput
from zonatome.core.shop.plan.request import DAY, QUARTER

WEEKDAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")
USUAL_BREAK = (time(12, 30), time(13, 15))


@dataclass(frozen=True)
class Hours:
    """The hours of a week: from and to on each weekday, Monday first, None where one does not work; the break of each
    day.
    """

    days: tuple[tuple[time, time] | None, ...]
    pause: tuple[time, time] | None = USUAL_BREAK

    def __post_init__(self) -> None:
        """Refuse a week without seven days, and an end before its beginning."""
        if len(self.days) != len(WEEKDAYS):
            raise BadInput("days", len(self.days), "seven days")
        for name, span in zip((*WEEKDAYS, "break"), (*self.days, self.pause), strict=True):
            if span is not None and span[0] >= span[1]:
                raise BadInput(name, f"{span[0]:%H:%M} to {span[1]:%H:%M}", "an end after its beginning")

    @property
    def minutes(self) -> int:
        """Minutes at the bench in a whole week."""
        week = windows(self, first=date(2024, 1, 1), count=7)
        return sum(end - begin for begin, end in week) * QUARTER


def windows(
    hours: Hours, *, first: date, count: int, off: Collection[date] = (), now: datetime | None = None
) -> tuple[tuple[int, int], ...]:
    """Return the windows of so many days from the first on, in whole quarters inside the hours, none before now.

    >>> windows(Hours(((time(8), time(16)),) * 7), first=date(2024, 1, 1), count=1)
    ((32, 50), (53, 64))
    """
    least = quarter_of(now, first, up=True) if now else 0
    found = []
    for n in range(count):
        day = first + timedelta(days=n)
        span = hours.days[day.weekday()]
        if span is None or day in off:
            continue
        spans = [span]
        if hours.pause is not None and span[0] < hours.pause[1] and hours.pause[0] < span[1]:
            spans = [(span[0], hours.pause[0]), (hours.pause[1], span[1])]
        for begins, ends in spans:
            begin, end = max(least, n * DAY + -(-_minutes(begins) // QUARTER)), n * DAY + _minutes(ends) // QUARTER
            if begin < end:
                found.append((begin, end))
    return tuple(found)


def quarter_of(moment: datetime, first: date, *, up: bool = False) -> int:
    """Return the quarter in which a moment lies, counted from midnight of the first day; `up` for the next full one."""
    minutes = (moment.date() - first).days * 24 * 60 + _minutes(moment.time())
    return -(-minutes // QUARTER) if up else minutes // QUARTER


def moment_of(quarter: int, first: date) -> datetime:
    """Return when a quarter begins, by the clock on the wall.

    >>> moment_of(DAY + 33, date(2024, 1, 1)).isoformat()
    '2024-01-02T08:15:00'
    """
    return datetime.combine(first, time()) + timedelta(minutes=quarter * QUARTER)


def _minutes(at: time) -> int:
    return at.hour * 60 + at.minute
