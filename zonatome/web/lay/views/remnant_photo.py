"""Pieces of cloth by their photo on the mat: traced as old covers are, mended over the photo, flaws seen in it."""

from __future__ import annotations

from django.contrib import messages
from django.db import transaction
from django.http import HttpResponse, JsonResponse
from django.http.response import HttpResponseBase
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput, NoAnswer
from zonatome.core.outline import Outline, outline_of
from zonatome.core.tolerances import CORNER_DEGREES
from zonatome.core.trace.mat import Mat
from zonatome.core.trace.take_up import TakenUp, taken_up_apart
from zonatome.web.base.files import sent_photo, store_file
from zonatome.web.base.request import BenchRequest
from zonatome.web.lay.forms import MatPhotoForm
from zonatome.web.lay.models import Cloth, Remnant, RemnantPhoto
from zonatome.web.lay.views.store import cloth_page
from zonatome.web.trace.services import points_sent
from zonatome.web.trace.views.photos import photo_sent, tool_used


@require_POST
def take(request: BenchRequest, pk: int) -> HttpResponse:
    """Put a piece of cloth into the store by its photo on the mat; where no edge can be told, it is drawn over the
    photo.
    """
    row = get_object_or_404(Cloth, pk=pk)
    form = MatPhotoForm(request.POST, units=request.workroom.units, auto_id="photo_%s")
    if not form.is_valid():
        return cloth_page(request, row, forms={"photo_form": form})
    told = form.cleaned_data
    try:
        taken = taken_up_apart(photo_sent(request, "the cloth on the mat"), Mat(told["width"], told["height"]))
    except (BadInput, NoAnswer) as refusal:
        return cloth_page(request, row, refusal=f"{refusal}. Nothing was stored.")
    made = _kept(Remnant(cloth=row, kind=told["kind"], words=told["words"]), taken, 90 * int(told["turns"]) + 90)
    if taken.error is None:
        messages.warning(
            request,
            f"Number {made.pk} is in the store, not traced: {taken.words}. Draw the square out to the cloth's edge.",
        )
    else:
        messages.success(request, f"Number {made.pk} is in the store, traced to about {taken.error:.1f} mm.")
    return redirect("store:mend", pk=made.pk)


def _kept(remnant: Remnant, taken: TakenUp, turn_degrees: int) -> Remnant:
    """Keep a piece with its photo: its way up toward x = 0, its corner at (0, 0)."""
    turned = outline_of(taken.outline).turned(turn_degrees)
    along, across = -turned.bounds[0], -turned.bounds[1]
    remnant.outline = _rounded(turned.moved(along, across))
    place = {key: taken.place[key] for key in ("left", "top", "width", "height")}
    photo = RemnantPhoto(turn_degrees=turn_degrees % 360, along=along, across=across, error=taken.error, **place)
    with transaction.atomic():
        remnant.save()
        photo.remnant = remnant
        store_file(photo.file, "flat.jpg", taken.jpeg)
    return remnant


def _rounded(outline: Outline) -> list[list[float]]:
    return [[round(x, 1), round(y, 1)] for x, y in outline.points]


def mend(request: BenchRequest, pk: int) -> HttpResponse:
    """Show the photo of a piece of cloth under its outline, to be mended."""
    return _desk(request, _photo(pk))


def _photo(pk: int) -> RemnantPhoto:
    return get_object_or_404(RemnantPhoto.objects.select_related("remnant__cloth"), remnant_id=pk)


def _desk(request: BenchRequest, photo: RemnantPhoto, *, refusal: str = "") -> HttpResponse:
    row = photo.remnant
    context = {
        "row": row,
        "heading": f"No. {row.pk}, {row.get_kind_display()} of {row.cloth.name}",
        "error": photo.error,
        "width": photo.width,
        "height": photo.height,
        "points": photo.in_picture(row.shape()),
        "image": reverse("store:flat", args=[row.pk]),
        "keep": reverse("store:keep_outline", args=[row.pk]),
        "tool": reverse("store:tool", args=[row.pk, "tidy"]),
        "corner": CORNER_DEGREES,
        "refusal": refusal,
        "nav": "cloths",
    }
    return render(request, "lay/remnant_mend.html", context, status=422 if refusal else 200)


@require_POST
def keep(request: BenchRequest, pk: int) -> HttpResponse:
    """Keep an outline as it was mended. What is cut already, and what another tag was laid on, says so."""
    photo = _photo(pk)
    try:
        if photo.remnant.used_at is not None:
            raise BadInput("remnant", pk, "a piece that is not cut yet")
        sent = points_sent(request.POST.get("points", ""))
        _mended(photo, photo.on_cloth([(x, -y) for x, y in sent.points]))
    except BadInput as refusal:
        return _desk(request, photo, refusal=refusal.sentence)
    if request.POST.get("only_mend") == "1":
        return HttpResponse(status=204)
    messages.success(request, f"Number {pk}: outline kept.")
    return redirect("store:remnant", pk=pk)


def _mended(photo: RemnantPhoto, outline: Outline) -> None:
    """Keep an outline, its corner at (0, 0) again, and flaws and photo where they lie on it."""
    row = photo.remnant
    along, across = -outline.bounds[0], -outline.bounds[1]
    row.outline = _rounded(outline.moved(along, across))
    row.flaws = [_rounded(flaw.moved(along, across)) for flaw in row.marks()]
    photo.along, photo.across = photo.along + along, photo.across + across
    with transaction.atomic():
        row.save()
        photo.save()


@require_POST
def tool(request: BenchRequest, pk: int, tool: str) -> JsonResponse:
    """Do one thing to the points that the page sends; nothing is stored."""
    _photo(pk)
    return tool_used(request, tool)


def flat(request: BenchRequest, pk: int) -> HttpResponseBase:
    """Send the flat photo."""
    return sent_photo(request, _photo(pk).file)
