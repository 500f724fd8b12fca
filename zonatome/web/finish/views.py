"""Finish: the rebuild list and what must be empty before it goes home."""

from __future__ import annotations

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.utils import timezone
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput
from zonatome.core.strip.order import rebuild_order
from zonatome.web.jobs.forms import PhotoForm
from zonatome.web.jobs.models import photos_of
from zonatome.web.jobs.pages import job_page, load_job
from zonatome.web.jobs.photos import keep_sent_photo
from zonatome.web.jobs.standing import finish_list

BY_HAND = {"holes": "holes_found", "label": "label_on", "feet": "feet_done"}


def home(request: HttpRequest, number: int) -> HttpResponse:
    """Show what is open."""
    return _page(request, number)


def _page(request: HttpRequest, number: int, *, refusal: str = "", status: int = 200) -> HttpResponse:
    job = load_job(number)
    by_key = job.parts_by_key()
    photos = list(job.photos.all())
    context = {
        "open": finish_list(job),
        "rebuild": [by_key[k] for k in rebuild_order(job.kind, job.off_keys)],
        "bags": [p for p in by_key.values() if p.bag is not None],
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
def tick(request: HttpRequest, number: int, key: str) -> HttpResponse:
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
def part(request: HttpRequest, number: int, key: str) -> HttpResponse:
    """Say that a part is on again, or its bag empty."""
    job = load_job(number)
    row = job.parts_by_key().get(key)
    if row is None:
        raise Http404
    value = request.POST.get("off") != "1"
    if request.POST.get("what") == "bag":
        row.bag_emptied = value
    else:
        row.on_again = value
    row.save()
    return redirect("finish:home", number=number)


@require_POST
def all_on(request: HttpRequest, number: int) -> HttpResponse:
    """Say that everything that came off is on again."""
    load_job(number).parts.exclude(off_number=None).update(on_again=True)
    return redirect("finish:home", number=number)


@require_POST
def add_photo(request: HttpRequest, number: int) -> HttpResponse:
    """Keep a photo after."""
    job = load_job(number)
    try:
        keep_sent_photo(request, job, "after")
    except BadInput as refusal:
        return _page(request, number, refusal=str(refusal), status=422)
    return redirect("finish:home", number=number)


@require_POST
def go_home(request: HttpRequest, number: int) -> HttpResponse:
    """Take the tag off the rail; refused while the list is not empty."""
    job = load_job(number)
    left = finish_list(job)
    if left:
        return _page(request, number, refusal=f"{len(left)} things are still open; the list must be empty before it goes home.", status=422)
    job.finished_at = timezone.now()
    job.save()
    messages.success(request, f"{job.number} {job.name} has gone home.")
    return redirect("jobs:rack")


@require_POST
def come_back(request: HttpRequest, number: int) -> HttpResponse:
    """Hang the tag up again."""
    job = load_job(number)
    job.finished_at = None
    job.save()
    return redirect("finish:home", number=number)
