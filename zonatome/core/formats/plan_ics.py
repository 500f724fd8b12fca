"""A plan as a calendar that any calendar program reads (iCalendar, RFC 5545): spells of work, due dates."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, datetime, timedelta, tzinfo

from icalendar import Calendar, Event

from zonatome.core.shop.plan.hours import moment_of
from zonatome.core.shop.plan.request import Spell
from zonatome.core.shop.plan.tasks import TASKS


def plan_calendar(
    spells: Iterable[Spell],
    names: dict[int, str],
    dues: Iterable[tuple[int, date]],
    *,
    first: date,
    zone: tzinfo,
    made: datetime,
    workroom: str,
) -> bytes:
    """Return the calendar: an event a spell, a whole-day event where a tag is due. `made` is when the plan was made.

    Spells keep their identity from plan to plan, so that what moved moves in the calendar that reads this too.
    """
    calendar = Calendar()
    calendar.add("prodid", "-//Zonatome//fortnight//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", workroom)
    for spell in spells:
        event = Event()
        key = spell.key
        event.add("uid", f"{key.tag}-{key.task}-{key.from_last}@zonatome")
        event.add("dtstamp", made)
        event.add("dtstart", moment_of(spell.begins, first).replace(tzinfo=zone))
        event.add("dtend", moment_of(spell.ends, first).replace(tzinfo=zone))
        event.add("summary", f"{key.tag} {names.get(key.tag, '')}: {TASKS[key.task].words}")
        event.add("description", spell.worker)
        calendar.add_component(event)
    for number, due in dues:
        event = Event()
        event.add("uid", f"{number}-due@zonatome")
        event.add("dtstamp", made)
        event.add("dtstart", due)
        event.add("dtend", due + timedelta(days=1))
        event.add("summary", f"{number} {names.get(number, '')} is due")
        calendar.add_component(event)
    return bytes(calendar.to_ical())
