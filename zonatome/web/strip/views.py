"""Strip: what comes off next, one press each, and the way back."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput
from zonatome.core.strip.order import can_come_off, lying_over, minutes_to_strip, rebuild_order, staples_in
from zonatome.web.jobs.models import Job
from zonatome.web.jobs.pages import job_page, load_job
from zonatome.web.jobs.standing import drawing_of
from zonatome.web.strip import services


def home(request: HttpRequest, number: int) -> HttpResponse:
    """Show the next thing off and the record so far."""
    return _page(request, number)


def _page(request: HttpRequest, number: int, *, refusal: str = "", status: int = 200) -> HttpResponse:
    job = load_job(number)
    kind, off = job.kind, job.off_keys
    ready = can_come_off(kind, off)
    wanted = request.GET.get("part") or request.POST.get("part") or ""
    by_key = job.parts_by_key()
    key = wanted if wanted in by_key else (ready[0] if ready else "")
    current = by_key.get(key)
    over = lying_over(kind, key, off).under if key else ()
    context = {
        "current": current,
        "is_off": key in off,
        "over": [kind.part(k).name for k in over],
        "staples": staples_in(kind.part(key)) if key else 0,
        "minutes": minutes_to_strip(kind.part(key)) if key else 0,
        "record": [by_key[k] for k in reversed(off)],
        "rebuild": [by_key[k] for k in rebuild_order(kind, off)],
        "drawing": _drawing(job, ready, key),
        "refusal": refusal,
        "left": len(by_key) - len(off),
        "others": [by_key[k] for k in ready if k != key and not kind.part(k).is_cut],
    }
    return job_page(request, job, "strip", "strip/home.html", context, status=status)


def _drawing(job: Job, ready: tuple[str, ...], key: str) -> object:
    off = job.off_keys
    tones, badges, words = {}, {}, {}
    for part in job.kind.parts:
        if part.key in off:
            tones[part.key], badges[part.key], words[part.key] = "off", str(off.index(part.key) + 1), "off"
        elif part.key in ready:
            tones[part.key], words[part.key] = "ready", "can come off next"
        else:
            tones[part.key], words[part.key] = "under", "can't come off yet"
        if part.key == key:
            tones[part.key] += " part--in-hand"
    return drawing_of(job, tones=tones, badges=badges, words=words)


@require_POST
def take_off(request: HttpRequest, number: int) -> HttpResponse:
    """Record one thing off."""
    job = load_job(number)
    key = request.POST.get("part", "")
    try:
        services.take_off(job, key, fixing=request.POST.get("fixing", "").strip(), note=request.POST.get("note", "").strip())
    except BadInput as refusal:
        return _page(request, number, refusal=f"Expected {refusal.expected}.", status=422)
    return redirect("strip:home", number=number)


@require_POST
def undo(request: HttpRequest, number: int) -> HttpResponse:
    """Take the last entry back."""
    try:
        part = services.put_back(load_job(number))
    except BadInput as refusal:
        return _page(request, number, refusal=f"Expected {refusal.expected}.", status=422)
    messages.info(request, f"{part.name} is on again; its fixing and note are kept.")
    return redirect("strip:home", number=number)
