"""Finish: the rebuild list and what must be empty before it goes home."""

from __future__ import annotations

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.utils import timezone
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput
from zonatome.web.base.photo_form import PhotoForm
from zonatome.web.base.request import BenchRequest
from zonatome.web.finish.services import finish_list
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import JobPart, photos_of
from zonatome.web.jobs.photos import keep_sent_photo
from zonatome.web.rack.pages import job_page
from zonatome.web.strip.models import Bag
from zonatome.web.strip.way_back import way_back_of

BY_HAND = {"holes": "holes_found", "label": "label_on", "feet": "feet_done"}


def home(request: BenchRequest, number: int) -> HttpResponse:
    """Show what is open."""
    return _page(request, number)


def _page(request: BenchRequest, number: int, *, refusal: str = "", status: int = 200) -> HttpResponse:
    job = load_job(number)
    photos = list(job.photos.all())
    context = {
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
    messages.success(request, f"{job.number} {job.name} has gone home.")
    return redirect("jobs:rack")


@require_POST
def come_back(request: BenchRequest, number: int) -> HttpResponse:
    """Hang the tag up again."""
    job = load_job(number)
    job.finished_at = None
    job.save()
    return redirect("finish:home", number=number)
