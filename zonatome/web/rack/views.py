"""The rack, new tags, photos, units, the first start, and the pages for what goes wrong."""

from __future__ import annotations

import sys
from datetime import datetime
from typing import Any

from django.contrib import messages
from django.contrib.auth import login
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.models import User
from django.core.paginator import Paginator
from django.db import transaction
from django.http import FileResponse, Http404, HttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import get_object_or_404, redirect, render
from django.template.loader import get_template
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput
from zonatome.core.survey.kinds import kind_named
from zonatome.web.base import backup as copies
from zonatome.web.base.answers import go_back
from zonatome.web.base.faults import store_trouble
from zonatome.web.base.files import sent_photo
from zonatome.web.base.owners import owners_only
from zonatome.web.base.request import BenchRequest
from zonatome.web.fortnight.day import day_of
from zonatome.web.fortnight.services import asked_now, plan_in_hand, plan_of
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job, Photo, Workroom
from zonatome.web.jobs.search import tags_saying
from zonatome.web.jobs.services import hang_tag
from zonatome.web.rack.archive import job_from_zip, whole_job
from zonatome.web.rack.forms import EditTagForm, TagForm, WelcomeForm, WorkroomForm
from zonatome.web.rack.pages import job_page
from zonatome.web.rack.rooms import look_in
from zonatome.web.rack.standing import Damaged, keep_standing, tape_of
from zonatome.web.rack.tags import KEPT_DAYS, hang_again, hang_like, let_go, take_down, taken_down
from zonatome.web.shop.quotes import answers_lately

TAGS_A_PAGE = 24
SHEETS = ("vendor/bootstrap/bootstrap.min.css", "theme/fonts.css", "theme/theme.css", "theme/rack.css")
STEPS = ("survey", "strip", "trace", "lay", "pad", "fasten", "trim", "finish")


def rack(request: BenchRequest) -> HttpResponse:
    """Show the tags on the rail, nearest due first, and today's work above it."""
    wanted = request.GET.get("q", "").strip()[:80]
    show_home = request.GET.get("home") == "1"
    jobs = Job.objects.filter(finished_at__isnull=False).order_by("-finished_at") if show_home else Job.objects.open()
    if wanted:  # what went home is found too, after what hangs here
        jobs = tags_saying(wanted)
    page = Paginator(jobs.defer("furniture_past").prefetch_related("waits"), TAGS_A_PAGE).get_page(
        request.GET.get("page")
    )
    now = timezone.now()
    units = request.workroom.units
    keep_standing(list(page.object_list), units)
    answers = answers_lately([job.pk for job in page.object_list]) if request.sees_money else {}
    tags = [{**_tag(request, job, now), "answer": answers.get(job.pk)} for job in page.object_list]
    day = None
    if tags and not wanted and not show_home and page.number == 1:
        local = timezone.localtime()
        asked = asked_now(request.workroom, local)
        day = day_of(plan_of(plan_in_hand(asked, local)), asked, local)
    context = {
        "tags": tags,
        "page": page,
        "wanted": wanted,
        "day": day,
        "show_home": show_home,
        "nav": "rack",
        "home_count": Job.objects.exclude(finished_at=None).count(),
        "made_up": Job.objects.filter(is_made_up=True, finished_at=None).first(),
        "down_count": Job.every.exclude(taken_down_at=None).count(),
    }
    return render(request, "rack/rack.html", context)


def _tag(request: BenchRequest, job: Job, now: datetime) -> dict[str, Any]:
    """What a tag shows; `job` comes with its waits loaded and its standing kept. Of a damaged one only that it is."""
    if "damaged" in (job.standing_cache or {}):
        return {"job": job, "damaged": job.standing_cache["damaged"]}
    return {
        "job": job,
        "tape": tape_of(job, request.workroom.units),
        "wait": next((w for w in job.waits.all() if w.until > now), None),
        "is_late": bool(job.due and job.due < timezone.localdate() and job.finished_at is None),
    }


def new_tag(request: BenchRequest) -> HttpResponse:
    """Hang up a new tag."""
    form = TagForm(request.POST or None, units=request.workroom.units)
    ticked = request.POST.getlist("variant")
    if request.method == "POST" and form.is_valid():
        own = f"{form.cleaned_data['kind']}:"
        try:
            job = hang_tag(**form.cleaned_data, variants=[v.removeprefix(own) for v in ticked if v.startswith(own)])
            return redirect("survey:home", number=job.number)
        except BadInput as refusal:
            form.add_error("kind", refusal.told)
    kinds = [
        {
            "kind": k,
            "name": name,
            "variants": [
                {"key": f"{k}:{v.key}", "name": v.name, "is_on": f"{k}:{v.key}" in ticked}
                for v in kind_named(k).variants
            ],
        }
        for k, name in form.kinds()
    ]
    return render(
        request, "rack/new_tag.html", {"form": form, "kinds": kinds, "nav": "new"}, status=422 if form.is_bound else 200
    )


def edit_tag(request: BenchRequest, number: int) -> HttpResponse:
    """Change what stands on a tag; its kind stays, since its parts come from it."""
    job = load_job(number)
    form = EditTagForm(request.POST or None, instance=job, units=request.workroom.units)
    if request.method == "POST" and form.is_valid():
        form.save()
        return redirect("survey:home", number=number)
    context = {"form": form, "kept_days": KEPT_DAYS}
    return job_page(request, job, "survey", "rack/edit_tag.html", context, status=422 if form.is_bound else 200)


@require_POST
def copy(request: BenchRequest, number: int) -> HttpResponse:
    """Hang up a new tag like this one, and ask what stands on it."""
    made = hang_like(get_object_or_404(Job, number=number))
    messages.success(
        request, f"{made.number} is like {number}: its shapes, pads and cloths. What stands on it is yours to change."
    )
    return redirect("jobs:edit", number=made.number)


@require_POST
def down(request: BenchRequest, number: int) -> HttpResponse:
    """Take a tag from the rail, to where it can be hung up again for thirty days."""
    job = get_object_or_404(Job, number=number)
    take_down(job)
    messages.info(request, f"{job.number} {job.name} is taken down. It can be hung up again for {KEPT_DAYS} days.")
    return redirect("jobs:taken_down")


def taken_down_page(request: BenchRequest) -> HttpResponse:
    """Show the tags that were taken down."""
    return _taken_down(request)


def _taken_down(request: BenchRequest, *, refusal: str = "", of: int = 0) -> HttpResponse:
    context = {"jobs": taken_down(), "days": KEPT_DAYS, "nav": "rack", "refusal": refusal, "of": of}
    return render(request, "rack/taken_down.html", context, status=422 if refusal else 200)


@require_POST
def up_again(request: BenchRequest, number: int) -> HttpResponse:
    """Hang a tag up again that was taken down."""
    job = hang_again(number)
    if job is None:
        raise Http404
    messages.success(request, f"{job.number} {job.name} hangs on the rail again.")
    return redirect("jobs:rack")


@owners_only
@require_POST
def gone_for_good(request: BenchRequest, number: int) -> HttpResponse:
    """Forget a tag that was taken down, now."""
    job = get_object_or_404(Job.every.exclude(taken_down_at=None), number=number)
    if request.POST.get("sure") != "yes":
        return _taken_down(request, refusal="Tick that it shall go for good: nothing brings it back then.", of=number)
    let_go(job)
    messages.info(request, f"{number} {job.name} is gone for good.")
    return redirect("jobs:taken_down")


@owners_only
def workroom(request: BenchRequest) -> HttpResponse:
    """Change the workroom's name, money and hours."""
    form = WorkroomForm(request.POST or None, instance=Workroom.the_one())
    if request.method == "POST" and form.is_valid():
        form.save()
        messages.success(request, "Kept.")
        return redirect("jobs:workroom")
    return render(
        request,
        "rack/workroom.html",
        {"form": form, "nav": "workroom", "copies": copies.standing()},
        status=422 if form.is_bound else 200,
    )


def export(request: BenchRequest, number: int) -> FileResponse:
    """Send a job with all that belongs to it as one ZIP of open files."""
    get_object_or_404(Job, number=number)
    return FileResponse(
        whole_job(number), as_attachment=True, filename=f"tag-{number}.zip", content_type="application/zip"
    )


def bring_in(request: BenchRequest) -> HttpResponse:
    """Hang up a job from a ZIP that was sent from here or from another workroom."""
    refusal = ""
    if request.method == "POST":
        upload = request.FILES.get("file")
        try:
            if upload is None:
                raise BadInput("file", None, "a job's ZIP")
            job = job_from_zip(upload, lambda number: look_in(number, request))
            messages.success(request, f"{job.number} {job.name} hangs on the rail.")
            return redirect("jobs:next", number=job.number)
        except BadInput as wrong:
            refusal = str(wrong)
    return render(request, "rack/bring_in.html", {"refusal": refusal, "nav": "new"}, status=422 if refusal else 200)


def next_step(request: BenchRequest, number: int) -> HttpResponse:
    """Open a tag where its next move is."""
    job = load_job(number)
    if job.waits_for and request.user.is_staff:
        return redirect("shop:home", number=number)
    return redirect(f"{tape_of(job, request.workroom.units).move.step}:home", number=number)


@require_POST
def set_units(request: BenchRequest) -> HttpResponse:
    """Change the workroom's units and go back to where one was."""
    workroom = Workroom.the_one()
    workroom.units = "imperial" if request.POST.get("units") == "imperial" else "metric"
    workroom.save(update_fields=["units"])
    return go_back(request, "/")


def photo(request: BenchRequest, number: int, pk: int) -> HttpResponseBase:
    """Send a photo of a job."""
    return sent_photo(request, get_object_or_404(Photo, pk=pk, job__number=number).file)


@login_not_required
def welcome(request: BenchRequest) -> HttpResponse:
    """Set up an empty workroom: only while nobody can sign in."""
    if User.objects.exists():
        return redirect("jobs:rack")
    form = WelcomeForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        data = form.cleaned_data
        with transaction.atomic():
            workroom = Workroom.the_one()
            workroom.name, workroom.units = data["workroom"], data["units"]
            workroom.currency = "$" if data["units"] == "imperial" else "€"
            workroom.save()
            owner = User.objects.create_user(data["username"], password=data["password"], is_staff=True)
        login(request, owner, backend="django.contrib.auth.backends.ModelBackend")
        return redirect("jobs:rack")
    return render(request, "rack/welcome.html", {"form": form}, status=422 if form.is_bound else 200)


def _went_wrong(request: BenchRequest, heading: str, words: str, status: int) -> HttpResponse:
    return render(request, "refused.html", {"heading": heading, "words": words}, status=status)


def not_found(request: BenchRequest, exception: Exception) -> HttpResponse:
    """Say that there is nothing at this address."""
    return _went_wrong(
        request,
        "Nothing hangs here",
        "There is no such page or tag. It may have been taken down, or the address is mistyped.",
        404,
    )


def refused(request: BenchRequest, exception: Exception | None = None, reason: str = "") -> HttpResponse:
    """Say that this is not allowed, or that the page was too old to send."""
    return _went_wrong(
        request,
        "Not sent",
        "This page was open for too long or came from elsewhere. Go back, load it again and send it once more.",
        403,
    )


def broken(request: BenchRequest) -> HttpResponse:
    """Say what broke: the disk or the store, a tag that can't be worked out, or a fault of ours."""
    wrong = sys.exc_info()[1]
    trouble = store_trouble(wrong)
    if trouble is not None:
        return _bare(trouble.heading, trouble.words, 507 if trouble.is_full else 503)
    try:
        told = request.resolver_match.kwargs.get("number") if request.resolver_match else None
        job = Job.objects.filter(number=told).first() if told is not None else None
        if job is not None and request.method == "GET":
            return _damaged(request, job, wrong)
        return _went_wrong(
            request,
            "Something broke",
            "The fault is ours. Nothing of what you sent was stored; what was stored before is safe.",
            500,
        )
    except Exception:  # what breaks pages may break this one too
        return _bare("Something broke", "The fault is ours. What was stored before is safe.", 500)


def _damaged(request: BenchRequest, job: Job, wrong: BaseException | None) -> HttpResponse:
    """Say of a tag that this page of it can't be shown, with what one can still do."""
    said = str(wrong) if isinstance(wrong, Damaged | BadInput) else type(wrong).__name__
    rooms = [(name.title(), reverse(f"{name}:home", args=[job.number])) for name in STEPS]
    context = {
        "job": job,
        "said": said[:300],
        "rooms": [r for r in rooms if r[1] != request.path],
        "has_past": bool(job.furniture_past),
    }
    return render(request, "rack/damaged.html", context, status=500)


def _bare(heading: str, words: str, status: int) -> HttpResponse:
    """A page that asks nothing of the store."""
    return HttpResponse(
        get_template("bare.html").render({"heading": heading, "words": words, "sheets": SHEETS}), status=status
    )
