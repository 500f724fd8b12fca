"""Beside the record of the part in hand: bags, saved things, photos, spoken notes; the store of what was saved."""

from __future__ import annotations

from django.contrib import messages
from django.http import FileResponse, Http404, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput
from zonatome.web.base.answers import said
from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.loading import load_some, panel_or_404
from zonatome.web.jobs.models import Photo
from zonatome.web.jobs.photos import keep_sent_photo
from zonatome.web.strip import services
from zonatome.web.strip.forms import KeptForm
from zonatome.web.strip.models import Bag, KeptThing, SpokenNote
from zonatome.web.strip.views.record import load_bench, refused_in_words, strip_page


@require_POST
@refused_in_words
def bag(request: BenchRequest, number: int) -> HttpResponse:
    """Number a bag, or change what stands on it."""
    job = load_bench(number)
    text = request.POST.get("number", "")
    which = int(text) if text.isdigit() and len(text) < 5 else None
    part = job.parts_by_key().get(request.POST.get("part", ""))
    made = services.set_bag(
        job,
        which,
        contents=request.POST.get("contents", "").strip(),
        came_from=request.POST.get("came_from", "").strip(),
        part=part,
    )
    messages.success(request, f"Bag {made.number} kept.")
    return redirect("strip:home", number=number)


@require_POST
def drop_bag(request: BenchRequest, number: int, bag: int) -> HttpResponse:
    """Take a bag off the list: there is none."""
    get_object_or_404(Bag, job__number=number, number=bag).delete()
    return redirect("strip:home", number=number)


@require_POST
@refused_in_words
def keep(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Put something saved from a part into the workroom's store."""
    job = load_bench(number)
    part = panel_or_404(list(job.parts.all()), key)
    form = KeptForm(request.POST, units=request.workroom.units)
    if not form.is_valid():
        words = "; ".join(str(w) for e in form.errors.values() for w in e)
        return strip_page(request, number, refusal=words, status=422, kept=(key, form))
    thing = services.keep_thing(job, part, **form.cleaned_data)
    messages.success(request, f"{thing.what.capitalize()} is in the store.")
    return redirect(reverse("strip:home", args=[number]) + f"?part={key}")


def hand_photos(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Send the photos of a part where there are others than the page that asks has; 204 where there are not."""
    photos = list(Photo.objects.filter(job__number=number, part__key=key).order_by("id"))
    if request.GET.get("there") == str(len(photos)):
        return HttpResponse(status=204)
    job = load_some(number)
    context = {"job": job, "hand": panel_or_404(list(job.parts.all()), key), "hand_photos": photos}
    answer = render(request, "strip/_hand_photos.html", context)
    answer.headers["X-There"] = str(len(photos))
    return answer


@require_POST
def add_photo(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Keep a photo of a part."""
    job = load_bench(number)
    part = panel_or_404(list(job.parts.all()), key)
    try:
        keep_sent_photo(request, job, "strip", part=part)
    except BadInput as refusal:
        return strip_page(request, number, refusal=refusal.sentence, status=422)
    messages.success(request, f"Photo of the {part.name.lower()} kept.")
    return redirect(reverse("strip:home", args=[number]) + f"?part={key}")


@require_POST
def speak(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Keep a spoken note of a part."""
    part = panel_or_404(list(load_some(number).parts.all()), key)
    try:
        note = services.keep_spoken(part, request.FILES.get("spoken"))
    except BadInput as refusal:
        return said(request, refusal.sentence)
    return JsonResponse({"address": reverse("strip:spoken", args=[number, note.pk])})


def spoken(request: BenchRequest, number: int, pk: int) -> FileResponse:
    """Send a spoken note."""
    note = get_object_or_404(SpokenNote, pk=pk, part__job__number=number)
    try:
        return FileResponse(note.file.open("rb"), content_type=f"audio/{note.kind}")
    except FileNotFoundError:
        raise Http404 from None


@require_POST
def drop_spoken(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Forget a spoken note."""
    note = get_object_or_404(SpokenNote.objects.select_related("part"), pk=pk, part__job__number=number)
    key = note.part.key
    note.file.delete(save=False)
    note.delete()
    return redirect("strip:look", number=number, key=key)


def store(request: BenchRequest) -> HttpResponse:
    """Show what has been saved for another piece."""
    wanted = request.GET.get("what", "")
    things = KeptThing.objects.filter(used_at=None)
    kinds = sorted(set(things.values_list("what", flat=True)))
    if wanted in kinds:
        things = things.filter(what=wanted)
    used = KeptThing.objects.exclude(used_at=None).order_by("-used_at")[:20]
    context = {
        "things": things.select_related("job", "reserved_for"),
        "kinds": kinds,
        "wanted": wanted,
        "used": used,
        "nav": "kept",
    }
    return render(request, "strip/store.html", context)


@require_POST
def use_thing(request: BenchRequest, pk: int) -> HttpResponse:
    """Say that a saved thing has been used, that it is back, or that it is kept for a tag."""
    thing = get_object_or_404(KeptThing.objects.select_related("reserved_for"), pk=pk)
    told, act = request.POST.get("used_for", "").strip()[:80], request.POST.get("act", "")
    if act in ("keep", "free"):
        services.reserve_thing(thing, told if act == "keep" else "")
    elif request.POST.get("back"):
        thing.used_at, thing.used_for = None, ""
    else:
        services.may_be_used(thing, told)
        thing.used_at, thing.used_for = timezone.now(), told
    thing.save()
    return redirect("kept:home")
