"""The cloth store: cloths with all that is known of them, and the remnants, lengths and hides that lie there."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.db import transaction
from django.http import Http404, HttpResponse, JsonResponse
from django.http.response import HttpResponseBase
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput
from zonatome.core.lay.pattern.repeat_photo import cell_apart, repeat_apart
from zonatome.core.outline import rectangle
from zonatome.core.units import Units
from zonatome.web.base.answers import said
from zonatome.web.base.files import sent_photo, store_file
from zonatome.web.base.request import BenchRequest
from zonatome.web.lay.drawing import cloth_drawing
from zonatome.web.lay.forms import ClothForm, MarkForm, MatPhotoForm, MotifForm, RemnantForm, TileForm
from zonatome.web.lay.models import Cloth, CutTick, JobCloth, Remnant, RemnantPhoto
from zonatome.web.lay.pages import without
from zonatome.web.lay.photo import tile_address
from zonatome.web.trace.views.photos import photo_sent

MAT = {"width": 1200.0, "height": 800.0}


def store(request: BenchRequest) -> HttpResponse:
    """Show the cloths that the workroom knows, and take a new one."""
    form = ClothForm(request.POST or None, units=request.workroom.units)
    if request.method == "POST" and form.is_valid():
        form.save()
        return redirect("store:home")
    cloths = Cloth.objects.filter(is_in_store=True).prefetch_related("remnants")
    rows = [{"cloth": c, "there": [r for r in c.remnants.all() if r.used_at is None]} for c in cloths]
    context = {"rows": rows, "form": form, "nav": "cloths"}
    return render(request, "lay/store.html", context, status=422 if form.is_bound else 200)


def cloth(request: BenchRequest, pk: int) -> HttpResponse:
    """Show a cloth, what lies of it in the store, and change it; lays on it then say that they are out of date where
    that matters.
    """
    row = get_object_or_404(Cloth, pk=pk)
    form = ClothForm(request.POST or None, instance=row, units=request.workroom.units)
    if request.method == "POST" and form.is_valid():
        form.save()
        messages.success(request, f"{row.name}: kept.")
        return redirect("store:cloth", pk=pk)
    return cloth_page(request, get_object_or_404(Cloth, pk=pk), forms={"form": form} if form.is_bound else None)


def cloth_page(
    request: BenchRequest, row: Cloth, *, refusal: str = "", forms: dict[str, Any] | None = None
) -> HttpResponse:
    """The page of a cloth, with a refusal or with forms that were wrong."""
    units = request.workroom.units
    context = {
        "cloth": row,
        "on_tags": JobCloth.objects.filter(cloth=row, job__finished_at=None, job__taken_down_at=None).select_related(
            "job"
        )[:6],
        "form": ClothForm(instance=row, units=units),
        "there": [
            {"row": r, "drawing": cloth_drawing(r.shape(), r.marks(), units), "area": r.shape().area / 1e6}
            for r in row.remnants.filter(used_at=None).prefetch_related("taken_for__job").select_related("came_from")
        ],
        "remnant_form": RemnantForm(
            units=units, auto_id="remnant_%s", initial={"kind": "hide" if row.is_hide else "remnant"}
        ),
        "photo_form": MatPhotoForm(
            units=units, auto_id="photo_%s", initial={**MAT, "kind": "hide" if row.is_hide else "remnant"}
        ),
        "tile_form": TileForm(auto_id="tile_%s"),
        "tile_shape": f"{row.repeat_along / row.repeat_across:.5f}" if row.repeat_along and row.repeat_across else "",
        "nav": "cloths",
        "refusal": refusal,
    } | (forms or {})
    return render(request, "lay/cloth.html", context, status=422 if refusal or forms else 200)


@require_POST
def drop_cloth(request: BenchRequest, pk: int) -> HttpResponse:
    """Let a cloth go for good, with what lies of it in the store; one that a tag uses, or that something was cut from,
    stays.
    """
    row = get_object_or_404(Cloth, pk=pk)
    tags = sorted({c.job.number for c in JobCloth.objects.filter(cloth=row).select_related("job")})
    if tags:
        words = (
            f"{row.name} is on {'tag' if len(tags) == 1 else 'tags'} {', '.join(map(str, tags))}. Take it off "
            f"there first."
        )
        return cloth_page(request, row, refusal=words)
    if CutTick.objects.filter(run__job_cloth__cloth=row).exists():
        return cloth_page(request, row, refusal=f"Pieces have been cut from {row.name}: their record needs it.")
    lying = row.remnants.filter(used_at=None).count()
    if lying and request.POST.get("sure") != "yes":
        there = f"A piece of {row.name} lies" if lying == 1 else f"{lying} pieces of {row.name} lie"
        words = f"{there} in the store and would go too: tick that."
        return cloth_page(request, row, refusal=words)
    files = [row.tile_photo, *(p.file for p in RemnantPhoto.objects.filter(remnant__cloth=row))]
    with transaction.atomic():
        JobCloth.every.filter(cloth=row).delete()  # what was taken off its tag, and can't be put back any more
        row.delete()
    for file in files:
        if file:
            file.delete(save=False)
    messages.info(request, f"{row.name} is gone from the store.")
    return redirect("store:home")


@require_POST
def add_remnant(request: BenchRequest, pk: int) -> HttpResponse:
    """Put a piece of cloth into the store by its length and width."""
    row = get_object_or_404(Cloth, pk=pk)
    form = RemnantForm(request.POST, units=request.workroom.units, auto_id="remnant_%s")
    if not form.is_valid():
        return cloth_page(request, row, forms={"remnant_form": form})
    told = form.cleaned_data
    points = [list(p) for p in rectangle(told["along"], told["across"]).points]
    made = Remnant.objects.create(cloth=row, kind=told["kind"], outline=points, words=told["words"])
    messages.success(request, f"Number {made.pk} is in the store.")
    return redirect("store:cloth", pk=pk)


def remnant(request: BenchRequest, pk: int) -> HttpResponse:
    """Show a piece of cloth in the store, and mark flaws, brands, holes and thin places on it."""
    return _remnant_page(request, get_object_or_404(Remnant.objects.select_related("cloth", "came_from"), pk=pk))


def _remnant_page(
    request: BenchRequest,
    row: Remnant,
    *,
    refusal: str = "",
    form: MarkForm | None = None,
    motif_form: MotifForm | None = None,
) -> HttpResponse:
    units = request.workroom.units
    outline = row.shape()
    context = {
        "row": row,
        "drawing": cloth_drawing(
            outline,
            row.marks(),
            units,
            photo=RemnantPhoto.objects.filter(remnant=row).first(),
            repeat=row.repeat(),
            tile_photo=tile_address(row.cloth),
        ),
        "flaws": [f.bounds for f in row.marks()],
        "mark_form": form or MarkForm(units=units),
        "motif_form": motif_form or _motif_form(row, units),
        "outline": outline,
        "area": outline.area / 1e6,
        "taken_for": [j.job for j in row.taken_for.select_related("job")],
        "nav": "cloths",
        "refusal": refusal,
    }
    return render(request, "lay/remnant.html", context, status=422 if refusal or form or motif_form else 200)


def _motif_form(row: Remnant, units: Units) -> MotifForm | None:
    """Where a motif stands on the piece, as it was measured; None of a plain cloth."""
    repeat = row.cloth.repeat
    if repeat is None:
        return None
    x0, _, _, high = row.shape().bounds
    told = {} if row.repeat() is None else {"from_end": row.motif_along - x0, "from_upper": high - row.motif_across}  # type: ignore[operator]
    return MotifForm(units=units, auto_id="motif_%s", initial=told, repeat=repeat)


@require_POST
def place_motif(request: BenchRequest, pk: int) -> HttpResponse:
    """Keep where a motif stands on a piece of cloth, or forget it again; lays on it are out of date then."""
    row = get_object_or_404(Remnant.objects.select_related("cloth", "came_from"), pk=pk)
    repeat = row.cloth.repeat
    if repeat is None:
        return _remnant_page(request, row, refusal=f"Expected a patterned cloth; {row.cloth.name} is plain.")
    if request.POST.get("forget"):
        row.motif_along = row.motif_across = None
    else:
        form = MotifForm(request.POST, units=request.workroom.units, auto_id="motif_%s", repeat=repeat)
        if not form.is_valid():
            return _remnant_page(request, row, motif_form=form)
        row.motif_along, row.motif_across = form.spot(row.shape())
    row.save()
    return redirect("store:remnant", pk=pk)


@require_POST
def mark_remnant(request: BenchRequest, pk: int) -> HttpResponse:
    """Mark a place that no piece may touch, or take the mark back."""
    row = get_object_or_404(Remnant, pk=pk)
    form = MarkForm(request.POST, units=request.workroom.units)
    back = request.POST.get("take_back", "")
    if not back and not form.is_valid():
        return _remnant_page(request, row, form=form)
    try:
        outline = row.shape()
        if back:
            row.flaws = without(row.flaws, back)
        else:
            row.flaws = [*row.flaws, form.points_on(outline)]
        row.marks()
    except BadInput as refused:
        return _remnant_page(request, get_object_or_404(Remnant, pk=pk), refusal=refused.sentence)
    row.save()
    return redirect("store:remnant", pk=pk)


@require_POST
def drop_remnant(request: BenchRequest, pk: int) -> HttpResponse:
    """Take a piece out of the store for good; one that a job is cut from stays."""
    row = get_object_or_404(Remnant, pk=pk)
    if row.taken_for.exists():
        return _remnant_page(
            request, row, refusal="Expected a piece that no job is laid on; choose another cloth for that job first."
        )
    where, photo = row.cloth_id, RemnantPhoto.objects.filter(remnant=row).first()
    row.delete()
    if photo is not None:
        photo.file.delete(save=False)
    messages.info(request, "Out of the store.")
    return redirect("store:cloth", pk=where)


@require_POST
def set_tile(request: BenchRequest, pk: int) -> HttpResponse:
    """Draw a patterned cloth with a photo of one of its repeats, or with the built-in motif again."""
    row = get_object_or_404(Cloth, pk=pk)
    before = row.tile_photo.name
    if "take_back" in request.POST:
        row.tile_photo = ""
        row.save()
    else:
        form = TileForm(request.POST, auto_id="tile_%s")
        if not form.is_valid():
            return cloth_page(request, row, forms={"tile_form": form})
        try:
            content = _one_repeat(request, form)
        except BadInput as refused:
            return cloth_page(request, row, refusal=refused.sentence)
        store_file(row.tile_photo, "tile.jpg", content)
    if before:
        Cloth._meta.get_field("tile_photo").storage.delete(before)
    return redirect("store:cloth", pk=pk)


def _one_repeat(request: BenchRequest, form: TileForm) -> bytes:
    """The repeat that is boxed in the photo that was sent, as if lit evenly, as a JPEG."""
    return cell_apart(photo_sent(request, "the cloth"), form.box())


@require_POST
def see_repeat(request: BenchRequest, pk: int) -> HttpResponse:
    """Send back the boxed repeat of a photo as it would be kept; nothing is stored."""
    get_object_or_404(Cloth, pk=pk)
    form = TileForm(request.POST)
    try:
        if not form.is_valid():
            raise BadInput("box", "", "a box of one whole repeat, in hundredths of the photo's sides")
        return HttpResponse(_one_repeat(request, form), content_type="image/jpeg")
    except BadInput as refused:
        return said(request, refused.sentence)


@require_POST
def find_repeat(request: BenchRequest, pk: int) -> JsonResponse:
    """Say where one repeat of a patterned cloth lies in a photo that was sent; nothing is stored."""
    row = get_object_or_404(Cloth, pk=pk)
    try:
        sent = photo_sent(request, "the cloth")
        found = repeat_apart(sent, row.pattern, along=row.repeat_along, across=row.repeat_across)
    except BadInput as refused:
        return said(request, refused.sentence)
    if found is None:
        words = (
            "No repeat can be told in it: there must be nearly one and a half of them each way. Drag the box by hand."
        )
        return said(request, words, status=200)
    words = (
        f"One repeat was found: moved by it, the photo is {100 * found.likeness:.0f} % like itself. Drag the box "
        f"where you want the joins."
    )
    box = {"left": found.left, "right": found.right, "upper": found.upper, "lower": found.lower}
    return said(request, words, status=200, box=box)


def tile(request: BenchRequest, pk: int) -> HttpResponseBase:
    """Send the photo of one repeat."""
    row = get_object_or_404(Cloth, pk=pk)
    if not row.tile_photo:
        raise Http404
    return sent_photo(request, row.tile_photo)
