"""Finish: the rebuild list and what must be empty before it goes home."""

from __future__ import annotations

from dataclasses import replace

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.utils import timezone
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput
from zonatome.core.finish.coats import FINISHES, Coat
from zonatome.core.finish.leaving import Certificate, HandOver
from zonatome.core.formats.hand_over_pdf import hand_over_pdf
from zonatome.web.base.photo_form import PhotoForm
from zonatome.web.base.request import BenchRequest
from zonatome.web.finish import services
from zonatome.web.finish.forms import CertificateForm, CoatForm, FrameForm, LeavingForm, area_unit
from zonatome.web.finish.services import finish_list
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import JobPart, photos_of
from zonatome.web.jobs.photos import keep_sent_photo
from zonatome.web.lay.pages import as_file
from zonatome.web.rack.log import learn
from zonatome.web.rack.pages import job_page
from zonatome.web.strip.models import Bag
from zonatome.web.strip.way_back import way_back_of

BY_HAND = {"holes": "holes_found", "label": "label_on", "feet": "feet_done"}


def home(request: BenchRequest, number: int) -> HttpResponse:
    """Show what is open."""
    return _page(request, number)


def _page(
    request: BenchRequest,
    number: int,
    *,
    refusal: str = "",
    status: int = 200,
    frame_form: FrameForm | None = None,
    certificate_form: CertificateForm | None = None,
    coat_form: CoatForm | None = None,
) -> HttpResponse:
    job = load_job(number)
    photos = list(job.photos.all())
    frame, units = services.frame_of(job), request.workroom.units
    plan = frame.plan(job.count)
    told = services.hand_over_of(job)
    initial = {
        "area": round(frame.area / area_unit(units)[1], 3) if frame.area else None,
        "prepared": frame.prepared,
        "grits": ", ".join(map(str, frame.grits)),
        "is_masked": frame.is_masked,
        "masked_along": frame.masked_along or services.edge_along_wood(job) or None,
    }
    context = {
        "frame": frame,
        "plan": plan,
        "plan_steps": [(step, n < frame.done) for n, step in enumerate(plan.steps)] if plan else [],
        "finishes": FINISHES.values(),
        "frame_form": frame_form or FrameForm(units=units, initial=initial, auto_id="frame_%s"),
        "coat_form": coat_form or CoatForm(auto_id="coat_%s"),
        "frame_waits": [w for w in job.waits.all() if w.step == "finish" and w.until > timezone.now()],
        "holes": services.holes_of(job),
        "told": told,
        "leaving_form": LeavingForm(initial={"care": told.care, "left": told.left}),
        "certificate_form": certificate_form or CertificateForm(),
        "open": finish_list(job),
        "rebuild": way_back_of(job),
        "bags": job.bags.all(),
        "before": photos_of(photos, "before"),
        "after": photos_of(photos, "after"),
        "photo_form": PhotoForm(),
        "refusal": refusal,
        "ticked": [
            (key, words)
            for key, words in (("holes", "Screw holes found"), ("label", "Label back on"), ("feet", "Feet looked at"))
            if getattr(job, BY_HAND[key])
        ],
    }
    return job_page(request, job, "finish", "finish/home.html", context, status=status)


@require_POST
def tick(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Tick one of what a hand ticks, or take it back."""
    job = load_job(number)
    if key == "no-label":
        job.had_label = False
    elif key in BY_HAND:
        setattr(job, BY_HAND[key], request.POST.get("off") != "1")
    else:
        raise Http404
    job.save()
    return redirect("finish:home", number=number)


@require_POST
def part(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Say that a part is on again."""
    job = load_job(number)
    row = job.parts_by_key().get(key)
    if row is None:
        raise Http404
    line = next((line for line in way_back_of(job) if key in line["keys"]), None)
    for member in line["members"] if line else [row]:  # a sewn cover goes on as one thing
        member.on_again = request.POST.get("off") != "1"
        member.save()
    return redirect("finish:home", number=number)


@require_POST
def bag(request: BenchRequest, number: int, bag: int) -> HttpResponse:
    """Say that a bag is empty, or not yet."""
    row = get_object_or_404(Bag, job__number=number, number=bag)
    row.emptied = request.POST.get("off") != "1"
    row.save()
    return redirect("finish:home", number=number)


@require_POST
def all_on(request: BenchRequest, number: int) -> HttpResponse:
    """Say that everything that came off is on again."""
    job = load_job(number)
    going_back = [row.pk for line in way_back_of(job) for row in line["members"]]
    JobPart.objects.filter(pk__in=going_back).update(on_again=True)
    job.save()
    return redirect("finish:home", number=number)


@require_POST
def add_photo(request: BenchRequest, number: int) -> HttpResponse:
    """Keep a photo after."""
    job = load_job(number)
    try:
        keep_sent_photo(request, job, "after")
    except BadInput as refusal:
        return _page(request, number, refusal=refusal.sentence, status=422)
    return redirect("finish:home", number=number)


@require_POST
def set_frame(request: BenchRequest, number: int) -> HttpResponse:
    """Take how much wood there is and how it is prepared; what was ticked begins again where the steps are others."""
    job, units = load_job(number), request.workroom.units
    form = FrameForm(request.POST, units=units, auto_id="frame_%s")
    if form.is_valid():
        told, frame = form.cleaned_data, services.frame_of(job)
        try:
            after = replace(
                frame, area=told["area"] * area_unit(units)[1], prepared=told["prepared"], grits=form.numbers(),
                is_masked=told["is_masked"], masked_along=told["masked_along"] or 0.0,
            )  # fmt: skip
            if (after.prepared, after.grits, after.is_masked) != (frame.prepared, frame.grits, frame.is_masked):
                after = replace(after, done=0)
            services.keep_frame(job, after)
        except BadInput as refusal:
            form.refuse(refusal)
    if form.errors:
        return _page(request, number, frame_form=form, status=422)
    return redirect("finish:home", number=number)


@require_POST
def coat(request: BenchRequest, number: int) -> HttpResponse:
    """Add a coat, or take the last one away."""
    job = load_job(number)
    frame = services.frame_of(job)
    try:
        if request.POST.get("act") == "away":
            after = replace(frame, coats=frame.coats[:-1])
        else:
            form = CoatForm(request.POST, auto_id="coat_%s")
            if not form.is_valid():
                words = "Say which finish, and how many hours it dries: 0.02 to 336."
                return _page(request, number, refusal=words, coat_form=form, status=422)
            key, hours = form.cleaned_data["finish"], form.cleaned_data["hours"]
            dries = hours * 60 if hours is not None else FINISHES[key].dries
            after = replace(frame, coats=(*frame.coats, Coat(key, dries)))
        steps = after.plan(job.count)
        services.keep_frame(job, replace(after, done=min(after.done, len(steps.steps) if steps else 0)))
    except BadInput as refusal:
        return _page(request, number, refusal=refusal.told, status=422)
    return redirect("finish:home", number=number)


@require_POST
def coat_done(request: BenchRequest, number: int) -> HttpResponse:
    """Tick the next step of the frame's finish, or take the last tick back."""
    job = load_job(number)
    if request.POST.get("off") == "1":
        frame = services.frame_of(job)
        services.keep_frame(job, replace(frame, done=max(0, frame.done - 1)))
    else:
        services.step_done(job)
    return redirect("finish:home", number=number)


@require_POST
def leaving(request: BenchRequest, number: int) -> HttpResponse:
    """Take the care that a seller states, and what is left."""
    job = load_job(number)
    form = LeavingForm(request.POST)
    if not form.is_valid():
        return _page(request, number, refusal="Up to 300 letters in each box.", status=422)
    services.keep_hand_over(job, replace(services.hand_over_of(job), **form.cleaned_data))
    return redirect("finish:home", number=number)


@require_POST
def certificate(request: BenchRequest, number: int) -> HttpResponse:
    """Name what a seller has certified, or take the last one away."""
    job = load_job(number)
    told: HandOver = services.hand_over_of(job)
    if request.POST.get("act") == "away":
        services.keep_hand_over(job, replace(told, certificates=told.certificates[:-1]))
        return redirect("finish:home", number=number)
    form = CertificateForm(request.POST)
    if not form.is_valid():
        return _page(request, number, certificate_form=form, status=422)
    try:
        one = Certificate(form.cleaned_data["words"], form.cleaned_data["on"])
        services.keep_hand_over(job, replace(told, certificates=(*told.certificates, one)))
    except BadInput as refusal:
        return _page(request, number, refusal=refusal.told, status=422)
    return redirect("finish:home", number=number)


def hand_over(request: BenchRequest, number: int) -> HttpResponse:
    """Give the paper for the client."""
    content = hand_over_pdf(services.hand_over_page(load_job(number), request.workroom), units=request.workroom.units)
    return as_file(content, "application/pdf", f"{number}-hand-over.pdf")


@require_POST
def go_home(request: BenchRequest, number: int) -> HttpResponse:
    """Take the tag off the rail; refused while the list is not empty."""
    job = load_job(number)
    left = finish_list(job)
    if left:
        return _page(
            request,
            number,
            refusal=f"{len(left)} things are still open; the list must be empty before it goes home.",
            status=422,
        )
    job.finished_at = timezone.now()
    job.save()
    learn(load_job(number))
    messages.success(request, f"{job.number} {job.name} has gone home.")
    return redirect("jobs:rack")


@require_POST
def come_back(request: BenchRequest, number: int) -> HttpResponse:
    """Hang the tag up again."""
    job = load_job(number)
    job.finished_at = None
    job.save()
    return redirect("finish:home", number=number)
