"""The fortnight: who does what when, and where a hand wants something else."""

from __future__ import annotations

from datetime import datetime, time, timedelta
from typing import Any

from django.contrib import messages
from django.contrib.auth.models import User
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput
from zonatome.core.formats.plan_ics import plan_calendar
from zonatome.core.shop.plan.hours import moment_of
from zonatome.core.shop.plan.request import DAY, Plan, SpellKey
from zonatome.core.shop.plan.tasks import TASKS
from zonatome.web.base.answers import said
from zonatome.web.base.owners import owners_only
from zonatome.web.base.request import BenchRequest
from zonatome.web.fortnight.drawing import blocks_of, dropped_at, filled, waits_in, weeks_of, working_days
from zonatome.web.fortnight.forms import DayOffForm, HoursForm, PinForm
from zonatome.web.fortnight.hands import hours_of
from zonatome.web.fortnight.models import DayOff, FortnightPlan, Hands, SpellPin
from zonatome.web.fortnight.services import (
    SILENT_AFTER,
    Asked,
    asked_now,
    found_in,
    pin_spell,
    plan_in_hand,
    plan_of,
    unpin,
)
from zonatome.web.jobs.models import Job
from zonatome.web.lay.models import LayRun


def _in_hand(request: BenchRequest) -> tuple[Asked, FortnightPlan, Plan]:
    now = timezone.localtime()
    asked = asked_now(request.workroom, now)
    row = plan_in_hand(asked, now)
    return asked, row, plan_of(row)


def _board(request: BenchRequest) -> dict[str, Any]:
    now = timezone.localtime()
    asked, row, plan = _in_hand(request)
    waits = waits_in(plan, asked, now)
    days = working_days(asked)
    until = (days[-1] + 1) * DAY if days else 0
    shown = [s for s in plan.spells if s.ends <= until]
    there = sum(min(e, until) - b for w in asked.request.workers for b, e in w.windows if b < until)
    is_moving = row.state in FortnightPlan.OPEN
    is_busy = is_moving and LayRun.objects.filter(state="running").exists()
    is_late = is_moving and timezone.now() - row.made_at >= SILENT_AFTER
    return {
        "asked": asked,
        "row": row,
        "plan": plan,
        "weeks": weeks_of(plan, asked, now, waits),
        "heading": _heading(plan, asked),
        "hands": len(asked.request.workers),
        "taken": sum(s.ends - s.begins for s in shown) * 15,
        "there": there * 15,
        "filled": filled(plan, waits),
        "lates": _lates(plan, asked, row),
        "left_out": [(asked.jobs[n], why) for n, why in plan.left_out.items() if n in asked.jobs],
        "waiting": [(asked.jobs[n], why) for n, why in asked.waiting.items()],
        "loosened": plan.loosened,
        "days": _agenda(plan, asked, days),
        "is_moving": is_moving and (is_busy or not is_late),
        "is_busy": is_busy,
        "is_silent": is_late and not is_busy,
        "gap": (plan.late_in_sum - plan.bound) * 15,
        "pins": SpellPin.objects.filter(begins__gte=timezone.now()).count(),
        "nav": "fortnight",
    }


def _heading(plan: Plan, asked: Asked) -> str:
    dated = [tag for tag in asked.request.tags if tag.due is not None and tag.number not in plan.left_out]
    late = len(plan.late)
    if not asked.request.tags:
        return "Nothing to plan"
    if not late:
        return "All in time" if dated else "No tag has a date"
    if late == len(dated):
        return "It will be late" if late == 1 else f"All {late} will be late"
    return "All but one in time" if late == 1 else f"{late} of {len(dated)} will be late"


def _lates(plan: Plan, asked: Asked, row: FortnightPlan) -> list[dict[str, Any]]:
    found = []
    for number in sorted(plan.late, key=lambda n: (asked.jobs[n].due, n) if n in asked.jobs else (asked.first, n)):
        if number not in asked.jobs:
            continue
        ready = moment_of(max(s.ends for s in plan.spells if s.key.tag == number), asked.first)
        mend = row.mends.get(str(number))
        found.append(
            {
                "job": asked.jobs[number],
                "ready": ready,
                "mend": mend["words"] if mend and mend["sort"] != "date" else "",
                "is_known": mend is not None,
            }
        )
    return found


def _agenda(plan: Plan, asked: Asked, days: list[int]) -> list[dict[str, Any]]:
    """The same as words, day by day: for whoever can't see the drawing, on a phone, and for the wall."""
    found = []
    for day in days:
        people = []
        for worker in asked.request.workers:
            blocks = blocks_of(s for s in plan.spells if s.worker == worker.name and s.begins // DAY == day)
            rows = [
                {
                    "begins": moment_of(b.begins, asked.first),
                    "ends": moment_of(b.ends, asked.first),
                    "job": asked.jobs.get(b.first.key.tag),
                    "key": b.first.key,
                    "words": b.words,
                }
                for b in blocks
            ]
            if rows:
                people.append({"name": worker.name, "rows": rows})
        due = [job for job in asked.jobs.values() if job.due and (job.due - asked.first).days == day]
        found.append({"date": asked.first + timedelta(days=day), "people": people, "due": due})
    return found


def home(request: BenchRequest) -> HttpResponse:
    """Show the next ten working days."""
    return render(request, "fortnight/home.html", _board(request))


def moving(request: BenchRequest) -> HttpResponse:
    """Send the board alone, as long as a better plan is sought."""
    return render(request, "fortnight/_board.html", _board(request))


def wall(request: BenchRequest) -> HttpResponse:
    """Show the fortnight for the wall: on paper, a day a line."""
    return render(request, "fortnight/print.html", {**_board(request), "today": timezone.localdate()})


def calendar(request: BenchRequest) -> HttpResponse:
    """Send the plan as a calendar file: all of it, or one's own with `?who=`."""
    asked, row, plan = _in_hand(request)
    who = request.GET.get("who", "")
    spells = [s for s in plan.spells if not who or s.worker == who]
    content = plan_calendar(
        spells,
        {number: job.name for number, job in asked.jobs.items()},
        [(number, job.due) for number, job in asked.jobs.items() if job.due],
        first=row.first,
        zone=timezone.get_current_timezone(),
        made=row.made_at,
        workroom=request.workroom.name,
    )
    return HttpResponse(
        content,
        content_type="text/calendar; charset=utf-8",
        headers={"Content-Disposition": 'attachment; filename="fortnight.ics"'},
    )


@require_POST
def again(request: BenchRequest) -> HttpResponse:
    """Plan anew; with `loose` all pins are taken out first."""
    if request.POST.get("loose"):
        SpellPin.objects.all().delete()
    FortnightPlan.objects.filter(state__in=FortnightPlan.OPEN).update(state="failed")
    FortnightPlan.objects.filter(pk=getattr(FortnightPlan.objects.first(), "pk", 0)).update(fingerprint="")
    _in_hand(request)
    return redirect("fortnight:home")


def spell(request: BenchRequest, number: int, task: str, from_last: int) -> HttpResponse:
    """Show a spell of work, and pin it to somebody and a time; a script that dragged it gets an answer in words."""
    asked, _, plan = _in_hand(request)
    key = SpellKey(number, task, from_last)
    found = found_in(asked, key)
    dragged = request.headers.get("X-Drag") == "1"
    if found is None:
        if dragged:
            return said(request, "That work is done or gone. Load the page again.", status=404)
        raise Http404
    here = next((s for s in plan.spells if s.key == key), None)
    begins = moment_of(here.begins, asked.first) if here else timezone.localtime().replace(tzinfo=None)
    initial = {"worker": here.worker if here else "", "day": begins.date(), "at": begins.time()}
    form = PinForm(request.POST or None, people=asked.people, initial=initial)
    if request.method == "POST" and form.is_valid():
        told = form.cleaned_data
        person = next(p for p in asked.people if p.name == told["worker"])
        try:
            at = told["at"] or dropped_at(asked, told["share"] or 0.0)
            pin_spell(asked, key, person, datetime.combine(told["day"], at))
        except BadInput as refused:
            if dragged:
                return said(request, refused.sentence)
            form.add_error("at", refused.sentence)
        else:
            where = f"{told['day']:%a %-d %b, }{at:%H:%M}, {person.name}"
            words = f"{number}: {TASKS[task].words} is pinned to {where}."
            if dragged:
                return said(request, words, status=200)
            messages.success(request, words)
            return redirect("fortnight:home")
    elif dragged and request.method == "POST":
        return said(request, "Expected a day, a time and somebody at the bench.")
    context = {
        **found,
        "job": asked.jobs[number],
        "sort": TASKS[task],
        "step_address": f"{TASKS[task].step}:home",
        "quarters_in_all": found["task"].quarters * 15,
        "key": key,
        "here": here,
        "begins": begins,
        "ends": moment_of(here.ends, asked.first) if here else None,
        "form": form,
        "nav": "fortnight",
    }
    return render(request, "fortnight/spell.html", context, status=422 if form.is_bound else 200)


@require_POST
def unpin_spell(request: BenchRequest, number: int, task: str, from_last: int) -> HttpResponse:
    """Take a pin out."""
    if unpin(SpellKey(number, task, from_last)):
        messages.info(request, f"{number} is free to move again.")
    return redirect("fortnight:home")


@require_POST
def later_date(request: BenchRequest, number: int) -> HttpResponse:
    """Give a tag that will be late the day on which it is ready."""
    job = get_object_or_404(Job, number=number)
    asked, _, plan = _in_hand(request)
    ends = [s.ends for s in plan.spells if s.key.tag == number]
    if not ends or number not in plan.late:
        messages.info(request, f"{number} is in time as it is planned now.")
        return redirect("fortnight:home")
    job.due = moment_of(max(ends), asked.first).date()
    job.save(update_fields=["due"])
    messages.success(request, f"{number} is due {job.due:%a %-d %b} now. Tell the client.")
    return redirect("fortnight:home")


def _hours_page(
    request: BenchRequest, *, forms: dict[int, HoursForm] | None = None, off: DayOffForm | None = None
) -> HttpResponse:
    rows = []
    for user in User.objects.filter(is_active=True).select_related("hands").order_by("-is_staff", "id"):
        hands = getattr(user, "hands", None)
        form = (forms or {}).get(user.pk) or HoursForm(
            hours=hours_of(hands, request.workroom), hands=hands, auto_id=f"id_{user.pk}_%s"
        )
        rows.append({"user": user, "form": form, "minutes": hours_of(hands, request.workroom).minutes, "own": hands})
    context = {
        "people": rows,
        "off_form": off or DayOffForm(),
        "days_off": DayOff.objects.filter(last__gte=timezone.localdate()).select_related("user"),
        "rules": request.workroom.rules,
        "nav": "fortnight",
    }
    return render(request, "fortnight/hours.html", context, status=422 if forms or off else 200)


def hours(request: BenchRequest) -> HttpResponse:
    """Show who is at the bench when."""
    return _hours_page(request)


@owners_only
@require_POST
def hours_of_one(request: BenchRequest, pk: int) -> HttpResponse:
    """Keep the hours of one who works here."""
    user = get_object_or_404(User, pk=pk, is_active=True)
    hands = Hands.objects.filter(user=user).first()
    form = HoursForm(request.POST, hours=hours_of(hands, request.workroom), hands=hands, auto_id=f"id_{user.pk}_%s")
    if not form.is_valid():
        return _hours_page(request, forms={user.pk: form})
    told = form.cleaned_data
    week: list[list[str] | None] = [_written(span) for span in told["hours"].days]
    Hands.objects.update_or_create(
        user=user,
        defaults={
            "is_at_bench": told["is_at_bench"],
            "days": week,
            "pause": _written(told["hours"].pause),
            "leaves": [key for key in TASKS if key not in told["does"]],
        },
    )
    messages.success(request, f"Kept: the hours of {user.get_username()}.")
    return redirect("fortnight:hours")


def _written(span: tuple[time, time] | None) -> list[str] | None:
    return [f"{at:%H:%M}" for at in span] if span else None


@require_POST
def day_off(request: BenchRequest) -> HttpResponse:
    """Take down days on which somebody is not there; one at the bench only their own."""
    form = DayOffForm(request.POST)
    if not form.is_valid():
        return _hours_page(request, off=form)
    told = form.cleaned_data
    if not request.user.is_staff and told["user"] != str(request.user.pk):
        form.add_error("user", "Expected yourself: others’ days are the owner’s to set.")
        return _hours_page(request, off=form)
    DayOff.objects.create(
        user_id=int(told["user"]) if told["user"] else None, first=told["first"], last=told["last"], words=told["words"]
    )
    return redirect("fortnight:hours")


@require_POST
def day_on(request: BenchRequest, pk: int) -> HttpResponse:
    """Take days off back."""
    row = get_object_or_404(DayOff, pk=pk)
    if request.user.is_staff or row.user_id == request.user.pk:
        row.delete()
    else:
        messages.info(request, "That is the owner’s to take back.")
    return redirect("fortnight:hours")
