"""What a lay is cut from, and for: flaws on the roll, blocks held back, pieces from the store, other tags on the same
cloth.
"""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.db import transaction
from django.db.models import QuerySet
from django.http import Http404, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput
from zonatome.core.outline import rectangle
from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job
from zonatome.web.lay import services, under_hand
from zonatome.web.lay.drawing import cloth_drawing
from zonatome.web.lay.forms import HeldForm, MarkForm
from zonatome.web.lay.models import MOST_HELD, CutTick, JobCloth, Remnant
from zonatome.web.lay.pages import job_cloth_or_404, sheet_of, without
from zonatome.web.rack.pages import job_page

SHOWN = 3000.0  # mm of roll that are drawn to mark flaws on where nothing is laid yet


def set_up(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Show what this lay is cut from."""
    job = load_job(number)
    return _page(request, job, job_cloth_or_404(job, pk))


def _page(
    request: BenchRequest, job: Job, job_cloth: JobCloth, *, refusal: str = "", forms: dict[str, Any] | None = None
) -> HttpResponse:
    units = request.workroom.units
    run = services.best_run(job_cloth)
    shown = max(SHOWN, (run.best_length or 0.0) + 500) if run else SHOWN
    taken = {r.pk for r in job_cloth.from_store.all()}
    laid = [] if run is None or run.on_panels else [row.outline for row in sheet_of(run)[2].rows if not row.is_strip]
    context = {
        "job_cloth": job_cloth,
        "drawing": cloth_drawing(rectangle(shown, job_cloth.cloth.width), job_cloth.roll_flaws(), units, laid),
        "flaws": [f.bounds for f in job_cloth.roll_flaws()],
        "mark_form": MarkForm(units=units),
        "held": job_cloth.held_blocks(),
        "held_form": HeldForm(units=units, auto_id="held_%s"),
        "remnants": [
            {"row": r, "is_taken": r.pk in taken, "drawing": cloth_drawing(r.shape(), r.marks(), units)}
            for r in _there(job_cloth)
        ],
        "others": _others(job_cloth),
        "guests": list(job_cloth.guests.select_related("job")),
        "refusal": refusal,
    } | (forms or {})
    return job_page(request, job, "lay", "lay/set_up.html", context, status=422 if refusal or forms else 200)


def _there(job_cloth: JobCloth) -> QuerySet[Remnant]:
    """The pieces of this cloth in the store that are not used up, and not promised to another job."""
    mine = job_cloth.from_store.values_list("pk", flat=True)
    free = Remnant.objects.filter(cloth=job_cloth.cloth, used_at=None, taken_for=None)
    return (free | Remnant.objects.filter(pk__in=list(mine))).distinct().order_by("id")


def _others(job_cloth: JobCloth) -> list[JobCloth]:
    """The same cloth on other tags that are open, laid alone, with shapes and without a cut yet."""
    rows = JobCloth.objects.filter(
        cloth=job_cloth.cloth, job__finished_at=None, job__taken_down_at=None, laid_with=None, guests=None
    )
    rows = rows.exclude(job=job_cloth.job).filter(parts__shape__isnull=False).distinct().select_related("job")
    return [row for row in rows.order_by("job__number") if not CutTick.objects.filter(run__job_cloth=row).exists()]


def not_begun(job_cloth: JobCloth) -> None:
    """Refuse a change of what a lay is cut from once its first piece is cut."""
    run = services.best_run(job_cloth)
    if run is not None and run.ticks.all():
        raise BadInput(
            "lay", f"{len(run.ticks.all())} cut", "no piece of this lay cut yet; take the ticks on its sheet back first"
        )


@require_POST
def mark(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Mark a flaw on the roll, or take the mark of one back."""
    job = load_job(number)
    job_cloth = job_cloth_or_404(job, pk)
    units = request.workroom.units
    try:
        not_begun(job_cloth)
        if "take_back" in request.POST:
            job_cloth.flaws = without(job_cloth.flaws, request.POST["take_back"])
        else:
            form = MarkForm(request.POST, units=units)
            if not form.is_valid():
                return _page(request, job, job_cloth, forms={"mark_form": form})
            job_cloth.flaws = [*job_cloth.flaws, form.points_on(rectangle(1.0, job_cloth.cloth.width))]
        job_cloth.roll_flaws()
    except BadInput as refused:
        return _page(request, load_job(number), job_cloth_or_404(load_job(number), pk), refusal=refused.sentence)
    job_cloth.save()
    return redirect("lay:set_up", number=number, pk=pk)


@require_POST
def hold(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Hold a block of cloth back, or let one go."""
    job = load_job(number)
    job_cloth = job_cloth_or_404(job, pk)
    try:
        not_begun(job_cloth)
        if "take_back" in request.POST:
            job_cloth.held = without(job_cloth.held, request.POST["take_back"])
        else:
            form = HeldForm(request.POST, units=request.workroom.units, auto_id="held_%s")
            if not form.is_valid():
                return _page(request, job, job_cloth, forms={"held_form": form})
            if len(job_cloth.held) >= MOST_HELD:
                raise BadInput("held", len(job_cloth.held), f"at most {MOST_HELD} blocks")
            job_cloth.held = [*job_cloth.held, form.cleaned_data]
        job_cloth.held_blocks()
    except BadInput as refused:
        return _page(request, load_job(number), job_cloth_or_404(load_job(number), pk), refusal=refused.sentence)
    job_cloth.save()
    return redirect("lay:set_up", number=number, pk=pk)


@require_POST
def take(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Cut from pieces in the store instead of a roll; from none of them, and it is a roll again."""
    job = load_job(number)
    job_cloth = job_cloth_or_404(job, pk)
    chosen = list(
        _there(job_cloth).filter(pk__in=[k for k in request.POST.getlist("remnant") if k.isdigit() and len(k) < 10])
    )
    try:
        not_begun(job_cloth)
        if job_cloth.railroaded and chosen:
            raise BadInput(
                "railroaded", "railroaded", "a lay up the roll: pieces from the store lie as they do in the store"
            )
    except BadInput as refused:
        return _page(request, job, job_cloth, refusal=refused.sentence)
    with transaction.atomic():
        job_cloth.from_store.set(chosen)
        under_hand.begin_by_hand(job_cloth)
    if chosen:
        messages.info(request, f"Cut from {len(chosen)} of the store’s own. Lay the pieces.")
    return redirect("lay:cloth" if chosen else "lay:set_up", number=number, pk=pk)


@require_POST
def together(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Lay other tags on the same cloth together with this one; those that are not ticked are laid alone again."""
    job = load_job(number)
    job_cloth = job_cloth_or_404(job, pk)
    if job_cloth.laid_with_id:
        raise Http404
    wished = {int(k) for k in request.POST.getlist("other") if k.isdigit() and len(k) < 10}
    possible = {row.pk: row for row in (*_others(job_cloth), *job_cloth.guests.all())}
    try:
        not_begun(job_cloth)
    except BadInput as refused:
        return _page(request, job, job_cloth, refusal=refused.sentence)
    with transaction.atomic():
        for key, row in possible.items():
            row.laid_with = job_cloth if key in wished else None
            row.save()
        services.forget_together(job_cloth, list(possible.values()))
    if wished & set(possible):
        messages.info(request, "Laid together from now on. Lay the pieces; each tag carries its share of the cost.")
    return redirect("lay:cloth", number=number, pk=pk)


@require_POST
def lay_alone(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Take a tag out of the lay that it shares with another."""
    job_cloth = job_cloth_or_404(load_job(number), pk)
    host = job_cloth.laid_with
    if host is None:
        return redirect("lay:cloth", number=number, pk=pk)
    try:
        not_begun(host)
    except BadInput as refused:
        messages.error(request, refused.sentence)
        return redirect("lay:cloth", number=number, pk=pk)
    with transaction.atomic():
        job_cloth.laid_with = None
        job_cloth.save()
        services.forget_together(host, [job_cloth])
    return redirect("lay:cloth", number=number, pk=pk)
