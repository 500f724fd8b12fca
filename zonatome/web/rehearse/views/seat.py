"""The photo of a finished seat: chosen, its corners pointed at, sent as it lies flat under the rehearsal."""

from __future__ import annotations

import json

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.views.decorators.http import require_POST
from PIL import Image

from zonatome.core.errors import BadInput
from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.models import Photo
from zonatome.web.jobs.photos import keep_sent_photo
from zonatome.web.rack.pages import job_page
from zonatome.web.rehearse import seat, services
from zonatome.web.rehearse.models import Rehearsal
from zonatome.web.rehearse.views.boards import part_in_hand

MOST_SENT = 400  # characters of four marks


def _back(number: int, key: str) -> str:
    return reverse("rehearse:panel", args=[number, key]) + "?find=1"


def corners(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Show the photos of a panel, and the one in hand with the marks that go on the seat's corners."""
    job, part = part_in_hand(number, key)
    try:
        set_up = services.set_up_for(part)
    except BadInput:
        return redirect("rehearse:panel", number, key)
    photos, row = seat.photos_for(part), services.rehearsal_of(part)
    told = request.GET.get("photo", "")
    shown = next((one for one in photos if str(one.pk) == told), None)
    shown = shown or next((one for one in photos if one.pk == row.photo_id), photos[-1] if photos else None)
    context = {"part": part, "photos": photos, "shown": shown, **_marked(row, shown, set_up)}
    return job_page(request, job, "fasten", "rehearse/corners.html", context)


def _marked(row: Rehearsal, shown: Photo | None, set_up: services.SetUp) -> dict[str, object]:
    """The marks on the photo in hand, in its pixels: where they were put, else where the corners may be."""
    if shown is None:
        return {}
    places = seat.corners_on(set_up)
    try:
        marks = seat.marks_of(row) if shown.pk == row.photo_id else ()
    except BadInput:
        marks = ()
    wide, high = _size(shown)
    marked = [
        (n, corner.name, f"{x * wide:.1f}", f"{y * high:.1f}")
        for n, (corner, (x, y)) in enumerate(zip(places, marks or seat.usual_marks(places), strict=True))
    ]
    return {"wide": wide, "high": high, "marked": marked, "radius": f"{max(wide, high) * 0.018:.1f}"}


def _size(photo: Photo) -> tuple[int, int]:
    try:
        with Image.open(photo.path) as opened:
            return opened.size
    except OSError:
        return (1200, 900)


@require_POST
def add_photo(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Keep a photo of the finished panel, and go on to its corners."""
    job, part = part_in_hand(number, key)
    here = reverse("rehearse:corners", args=[number, key])
    try:
        photo = keep_sent_photo(request, job, "look", part=part)
    except BadInput as refused:
        messages.error(request, refused.told)
        return redirect(here)
    return redirect(f"{here}?photo={photo.pk}")


@require_POST
def keep(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Keep where the corners are on a photo; or lay none under the rehearsal any more."""
    _, part = part_in_hand(number, key)
    row = services.rehearsal_of(part)
    if request.POST.get("what") == "away":
        seat.take_away(row)
        return redirect(_back(number, key))
    told, pk = request.POST.get("marks", ""), request.POST.get("photo", "")
    if not (pk.isascii() and pk.isdigit() and len(pk) < 12):
        raise Http404
    photo = get_object_or_404(Photo, pk=int(pk), pk__in=[one.pk for one in seat.photos_for(part)])
    try:
        seat.keep_marks(row, photo, _read(told))
    except BadInput as refused:
        messages.error(request, refused.told)
        return redirect(f"{reverse('rehearse:corners', args=[number, key])}?photo={photo.pk}")
    return redirect(_back(number, key))


def _read(told: str) -> object:
    try:
        return json.loads(told) if len(told) <= MOST_SENT else None
    except (ValueError, RecursionError):
        raise BadInput("marks", told[:20], "four places on the photo") from None


def flat(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Send the photo as it lies flat over the cloth."""
    _, part = part_in_hand(number, key)
    try:
        content = seat.flat_seat(services.rehearsal_of(part), services.set_up_for(part))
    except BadInput as refused:
        raise Http404(refused.told) from refused
    return HttpResponse(content, content_type="image/jpeg", headers={"Cache-Control": "private, no-cache"})
