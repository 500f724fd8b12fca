"""Who is at the bench and when, from the rows to the core's hours."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, time, timedelta

from django.contrib.auth.models import User

from zonatome.core.errors import BadInput
from zonatome.core.formats import reading
from zonatome.core.shop.plan.hours import USUAL_BREAK, Hours
from zonatome.core.shop.plan.tasks import TASKS
from zonatome.web.fortnight.models import DayOff, Hands
from zonatome.web.jobs.models import Workroom


@dataclass(frozen=True)
class Person:
    """One who is at the bench: hours, tasks, days off."""

    user: User
    hours: Hours
    skills: frozenset[str]
    off: frozenset[date]

    @property
    def name(self) -> str:
        """The name to sign in, by which spells are theirs."""
        return self.user.get_username()


def usual_hours(workroom: Workroom) -> Hours:
    """Return the workroom's own hours, Monday to Friday, with a break at noon where its day reaches over it."""
    span = (workroom.opens, workroom.closes)
    return Hours((span,) * 5 + (None, None), USUAL_BREAK)


def hours_of(hands: Hands | None, workroom: Workroom) -> Hours:
    """Return the hours of one who works here. Raises BadInput where the row holds none."""
    if hands is None or not hands.days:
        return usual_hours(workroom)
    days = [_span(row, f"days[{n}]") for n, row in enumerate(reading.listed(hands.days, "days", least=7, most=7))]
    return Hours(tuple(days), _span(hands.pause, "pause"))


def _span(row: object, where: str) -> tuple[time, time] | None:
    if row is None:
        return None
    begins, ends = reading.listed(row, where, least=2, most=2)
    try:
        return time.fromisoformat(begins), time.fromisoformat(ends)
    except (TypeError, ValueError) as wrong:
        raise BadInput(where, row, "two times like 08:30") from wrong


def people_at_the_bench(workroom: Workroom, *, first: date, count: int) -> list[Person]:
    """Return who is at the bench, owners first; days off within so many days from the first."""
    found = []
    days = [first + timedelta(days=n) for n in range(count)]
    rows = list(DayOff.objects.filter(last__gte=first))
    for user in User.objects.filter(is_active=True).select_related("hands").order_by("-is_staff", "id"):
        hands = getattr(user, "hands", None)
        if hands is not None and not hands.is_at_bench:
            continue
        off = {d for row in rows if row.user_id in (None, user.pk) for d in days if row.first <= d <= row.last}
        skills = frozenset(TASKS) - frozenset(hands.leaves if hands else ())
        found.append(Person(user, hours_of(hands, workroom), skills, frozenset(off)))
    return found
