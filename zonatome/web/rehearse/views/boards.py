"""Rehearsing a panel or a practice piece: a staple set and seen, orders beside each other, the fault found."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput
from zonatome.core.fasten.questions import TOPICS
from zonatome.core.fasten.rehearsal.acts import Act, pulled_more
from zonatome.core.fasten.rehearsal.orders import SCHOOLS, School
from zonatome.core.fasten.rehearsal.practice import BY_KEY, PIECES, Piece, least_staples
from zonatome.core.fasten.rehearsal.sheet import MOST_STAPLES
from zonatome.core.formats.rehearsal_json import read_sights
from zonatome.web.base.answers import said
from zonatome.web.base.request import BenchRequest
from zonatome.web.base.who import who
from zonatome.web.jobs.loading import load_job, panel_or_404
from zonatome.web.jobs.models import Job, JobPart
from zonatome.web.rack.pages import job_page
from zonatome.web.rehearse import orders, seat, services
from zonatome.web.rehearse.drawing import SHOWN, piece_sketch, sheet_drawing
from zonatome.web.rehearse.models import Answers, Rehearsal, Try
from zonatome.web.rehearse.services import SetUp, Stand

OF_ORDERS = ("orders", "stop", "keep")
DOINGS = ("press", "set", "out", "harder", "softer", "follow", "play", "next", *OF_ORDERS, "pull", "undo", "anew")
OWN = "yours"  # the order of the rehearsal itself
MARK = "X-Quiet"  # a script asks for the changed parts of the page only
MOST_SENT = 60_000  # characters of what somebody drew


# ------------------------------------------------------------------------------------------ what both show


def _shown(stand: Stand, row: Rehearsal | Try, **more: Any) -> dict[str, Any]:
    """What the board and the side of a rehearsal show."""
    state = stand.state
    return {
        "stand": stand,
        "row": row,
        "count": len(state.pins),
        "places": len(stand.set_up.plan),
        "acts_done": len(stand.acts),
        "pulls": [(name, force, name == row.pull) for name, force in stand.set_up.pulls.items()],
        "schools": SCHOOLS,
        "shown_times": SHOWN,
        "drawing": sheet_drawing(
            stand,
            next_spot=more.pop("next_spot", -1),
            suspects=more.get("suspects", ()),
            stripes=more.get("stripes", ()),
            is_over_photo=bool(more.get("has_seat")),
        ),
        **more,
    }


def _beside(request: BenchRequest, set_up: SetUp, row: Rehearsal | Try) -> dict[str, Any]:
    """The order that stands beside, played whole, where one is asked for."""
    name, pull = request.GET.get("beside", ""), services.pull_of(set_up, row.pull)
    if isinstance(row, Try):
        school = next((one for one in SCHOOLS if one == name), None)
        other = services.school_stand(set_up, school, pull) if school else None
    elif name in orders.NAMES:
        other = orders.beside(set_up, orders.run_of(row.part, set_up, row.pull), name, pull)
    else:
        return {"beside": ""}
    if other is None:
        awaited = name if isinstance(row, Rehearsal) else ""
        return {"beside": "", "awaited": awaited, "awaited_words": orders.words_of(awaited)}
    return {
        "beside": name,
        "beside_words": orders.words_of(name),
        "other": other,
        "other_drawing": sheet_drawing(other, name="other"),
    }


def _seat(row: Rehearsal) -> dict[str, Any]:
    """The photo of the finished seat under the board, where its corners are known."""
    try:
        has_seat = bool(seat.marks_of(row))
    except BadInput:
        has_seat = False
    return {"has_seat": has_seat}


def _orders(set_up: SetUp, row: Rehearsal) -> dict[str, Any]:
    """The orders that were played on a panel, and how far the worker is."""
    run = orders.run_of(row.part, set_up, row.pull)
    return {
        "run": run,
        "order_rows": orders.order_rows(set_up, run) if run else [],
        "is_moving": run is not None and run.state in run.OPEN,
        "played_names": "|".join(run.orders.values_list("name", flat=True)) if run else "",
    }


def _acted(request: BenchRequest, set_up: SetUp, row: Rehearsal | Try) -> dict[str, Any]:
    """Do what was pressed and keep it; return what more the page shows. Raises BadInput for what can't be done; then
    nothing is changed.
    """
    what, acts = request.POST.get("what", ""), services.acts_of(row)
    pull = services.pull_of(set_up, row.pull)
    more: dict[str, Any] = {}
    if what == "pull":
        services.pull_of(set_up, request.POST.get("pull", ""))
        row.pull = request.POST["pull"]
        services.keep_acts(row, acts)
        return more
    if what == "undo":
        services.keep_acts(row, acts[:-1])
        return more
    if what == "anew":
        if isinstance(row, Try):
            row.helps = 0
        services.keep_acts(row, ())
        return more
    if isinstance(row, Rehearsal) and what in OF_ORDERS:
        return _ordered(request, set_up, row, what)
    stand = services.stand_of(set_up, acts)
    if isinstance(row, Try):
        if what in ("play", *OF_ORDERS):
            raise BadInput("what", what, "a staple of your own", words="Practice is by your own hand.")
        row.helps += what in ("next", "follow")
        services.keep_acts(row, acts)
    if what == "next":
        found, number = services.what_next(stand, pull)
        return {"next_spot": number, "next_words": found.words}
    services.keep_acts(row, _acts_after(request, stand, what, pull))
    return more


def _ordered(request: BenchRequest, set_up: SetUp, row: Rehearsal, what: str) -> dict[str, Any]:
    """Do what was pressed at a panel's orders: all of them asked of the worker, taken back, one made the plan."""
    part, name = row.part, request.POST.get("school", "")
    if what == "orders":
        orders.ask_for_orders(part, set_up, row.pull)
        return {}
    if what == "stop":
        orders.give_up(part)
        return {}
    if name == OWN:
        orders.keep_rehearsed(part, services.stand_of(set_up, services.acts_of(row)))
    else:
        orders.keep_played(part, set_up, orders.run_of(part, set_up, row.pull), name)
    return {"kept": "This order is the plan now: Fasten tells it staple by staple."}


def _acts_after(request: BenchRequest, stand: Stand, what: str, pull: float) -> tuple[Act, ...]:
    acts = stand.acts
    if what == "press":
        x, y = (_number(request, name) for name in ("x", "y"))
        after = (*acts, services.act_pressed(stand, x, y, pull))
    elif what == "set":
        after = (*acts, Act("set", int(_number(request, "number")), None, pull))
    elif what == "out":
        after = (*acts, Act("out", int(_number(request, "number"))))
    elif what in ("harder", "softer"):
        number = int(_number(request, "number"))
        after = (*acts, pulled_more(stand.state, number, is_harder=what == "harder"))
    elif what == "follow":
        _, number = services.what_next(stand, pull)
        after = (*acts, Act("set", number, None, pull))
    elif what == "play":
        count = int(_number(request, "count")) if request.POST.get("count") else MOST_STAPLES
        after = services.played_on(stand, _school(request), pull, max(1, count))
        if after == acts:
            raise BadInput(
                "staples", 0, "a place that is left", words="All places of the plan are taken: begin anew first."
            )
    else:
        raise BadInput("what", what[:20], "one of " + ", ".join(DOINGS))
    services.stand_of(stand.set_up, after)  # refused before it is kept
    return after


def _school(request: BenchRequest) -> School:
    school = request.POST.get("school", "")
    if school not in SCHOOLS:
        raise BadInput("school", school[:20], "one of " + ", ".join(SCHOOLS))
    return school


def _number(request: BenchRequest, name: str) -> float:
    told = request.POST.get(name, "")[:20]
    try:
        found = float(told)
    except ValueError:
        found = float("nan")
    if not -5000 <= found <= 5000:
        raise BadInput(name, told, "a number, -5000 to 5000")
    return found


def _done(
    request: BenchRequest, make: Callable[[], dict[str, Any]], back: str, template: str, **around: Any
) -> HttpResponse:
    """Answer an act: the changed parts to a script, else back to the page; a refusal in words."""
    try:
        shown = make()
    except BadInput as refused:
        if request.headers.get(MARK):
            return said(request, refused.told)
        messages.error(request, refused.told)
        return redirect(back)
    return render(request, template, {**around, **shown}) if request.headers.get(MARK) else redirect(back)


# ------------------------------------------------------------------------------------------ a panel of a tag


def part_in_hand(number: int, key: str) -> tuple[Job, JobPart]:
    """Return a tag and one of its panels; no page for one that it has not."""
    job = load_job(number)
    return job, panel_or_404(job.put_on(), key)


def _stand_or_anew(set_up: SetUp, row: Rehearsal | Try) -> tuple[Stand, bool]:
    """How a rehearsal stands; begun anew where its acts do not fit the plan any more, and whether it was."""
    try:
        return services.stand_of(set_up, services.acts_of(row)), False
    except BadInput:
        return services.stand_of(set_up, ()), True


def panel(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Show a panel's rehearsal."""
    job, part = part_in_hand(number, key)
    row = services.rehearsal_of(part)
    others = list(job.padded())
    try:
        set_up = services.set_up_for(part)
    except BadInput as refused:
        context = {"part": part, "others": others, "refusal": refused.told}
        return job_page(request, job, "fasten", "rehearse/none.html", context)
    stand, is_anew = _stand_or_anew(set_up, row)
    context = {
        "part": part,
        "others": others,
        "is_anew": is_anew,
        "is_finding": request.GET.get("find") == "1",
        **_beside(request, set_up, row),
    }
    if context["is_finding"]:
        planned = orders.planned_stand(part, set_up)
        if planned is None:
            context |= {"awaited": part.staple_order, "awaited_words": "The plan", "is_finding": False}
        else:
            stand = planned
            context |= _seat(row)
    if context.get("awaited"):  # many staples: the worker plays them, the page shows them when they are there
        orders.ask_for_orders(part, set_up, row.pull if not request.GET.get("find") else "usual")
    context |= _orders(set_up, row)
    return job_page(
        request,
        job,
        "fasten",
        "rehearse/panel.html",
        {**_shown(stand, row, has_seat=context.get("has_seat", False)), **context},
    )


@require_POST
def do_panel(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Do what was pressed in a panel's rehearsal."""
    job, part = part_in_hand(number, key)

    def make() -> dict[str, Any]:
        row = services.rehearsal_of(part)
        set_up = services.set_up_for(part)
        more = _acted(request, set_up, row)
        if "kept" in more:  # its plan is another now
            set_up = services.set_up_for(part)
        return {
            **_shown(services.stand_of(set_up, services.acts_of(row)), row, **more),
            **_beside(request, set_up, row),
            **_orders(set_up, row),
        }

    return _done(
        request, make, reverse("rehearse:panel", args=[number, key]), "rehearse/_parts.html", job=job, part=part
    )


def orders_now(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Show how far the worker is with a panel's orders, to a page that watches it."""
    job, part = part_in_hand(number, key)
    row = services.rehearsal_of(part)
    try:
        set_up = services.set_up_for(part)
    except BadInput:
        return redirect("rehearse:panel", number, key)
    if not request.headers.get(MARK):
        return redirect("rehearse:panel", number, key)
    context = {"job": job, "part": part, "row": row, **_orders(set_up, row)}
    return render(request, "rehearse/_orders.html", context)


@require_POST
def fault(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Name the staples that may be at fault for what somebody drew."""
    job, part = part_in_hand(number, key)

    def make() -> dict[str, Any]:
        row = services.rehearsal_of(part)
        told = request.POST.get("sights", "")
        if len(told) > MOST_SENT:
            raise BadInput("sights", len(told), f"at most {MOST_SENT} characters")
        try:
            stored = json.loads(told)
        except ValueError:
            raise BadInput("sights", told[:20], "what was drawn, as JSON") from None
        sights, set_up = read_sights(stored), services.set_up_for(part)
        stand = orders.planned_stand(part, set_up) or services.as_planned(set_up)
        found: dict[str, Any] = {"is_finding": True, **_seat(row)}
        if request.POST.get("what") == "compare":
            found["stripes"] = seat.stripes_of(stand, sights)
            if not found["stripes"]:
                raise BadInput("sights", 0, "a stripe", words="Draw along a stripe of the photo first.")
        else:
            found["suspects"] = services.suspects_of(stand, sights)
        return {**_shown(stand, row, **found), **found}

    back = reverse("rehearse:panel", args=[number, key]) + "?find=1"
    return _done(request, make, back, "rehearse/_parts.html", job=job, part=part)


# ------------------------------------------------------------------------------------------ practice


def practice_home(request: BenchRequest) -> HttpResponse:
    """Show the practice pieces with the best try at each."""
    mine = {row.piece: row for row in Try.objects.filter(who=who())}
    best: dict[str, Try] = {}
    for row in Try.objects.exclude(best=None).order_by("-best", "who"):
        best.setdefault(row.piece, row)
    rows = [(one, piece_sketch(one), mine.get(one.key), best.get(one.key)) for one in PIECES]
    answered = {row.topic: row for row in Answers.objects.filter(who=who())}
    topics = [(key, words, answered.get(key)) for key, words in TOPICS.items()]
    return render(request, "rehearse/practice.html", {"rows": rows, "topics": topics})


def _piece_or_404(key: str) -> Piece:
    if key not in BY_KEY:
        raise Http404
    return BY_KEY[key]


def piece(request: BenchRequest, key: str) -> HttpResponse:
    """Show a practice piece as it stands."""
    one = _piece_or_404(key)
    row = services.try_of(who(), one)
    set_up = services.practice_set_up(one)
    stand, is_anew = _stand_or_anew(set_up, row)
    context = {**_shown(stand, row), **_beside(request, set_up, row), "is_anew": is_anew, **_around(one)}
    return render(request, "rehearse/piece.html", context)


def _around(one: Piece) -> dict[str, Any]:
    return {
        "piece": one,
        "least": least_staples(one.planned()),
    }


@require_POST
def do_piece(request: BenchRequest, key: str) -> HttpResponse:
    """Do what was pressed at a practice piece."""
    one = _piece_or_404(key)

    def make() -> dict[str, Any]:
        row = services.try_of(who(), one)
        set_up = services.practice_set_up(one)
        more = _acted(request, set_up, row)
        return {
            **_shown(services.stand_of(set_up, services.acts_of(row)), row, **more),
            **_beside(request, set_up, row),
        }

    return _done(request, make, reverse("rehearse:piece", args=[key]), "rehearse/_parts.html", **_around(one))


@require_POST
def score(request: BenchRequest, key: str) -> HttpResponse:
    """Score a try as it stands."""
    one = _piece_or_404(key)

    def make() -> dict[str, Any]:
        row = services.try_of(who(), one)
        found = services.judge(row, one)
        return {**_shown(services.stand_of(services.practice_set_up(one), services.acts_of(row)), row), "scored": found}

    return _done(request, make, reverse("rehearse:piece", args=[key]), "rehearse/_parts.html", **_around(one))
