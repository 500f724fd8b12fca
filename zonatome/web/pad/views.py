"""Pad: a panel built up from the wood, seen from the side and from above; what is cut and bought for it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.utils.dateformat import format as date_format
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput
from zonatome.core.formats.cut_sheet_files import cut_sheet_dxf
from zonatome.core.formats.cut_sheet_pdf import SheetHead, cut_sheet_pdf
from zonatome.core.pad.nest import SAT_ON, foam_cut_sheet
from zonatome.core.pad.section import section
from zonatome.core.pad.sitting import SAT_ON as AREA_SAT_ON
from zonatome.core.pad.sitting import STATED_AT
from zonatome.core.pad.sorts import FOAMS, GLUES, SORTS
from zonatome.core.pad.usual import usual_stacks
from zonatome.core.pad.worked import Worked
from zonatome.core.trace.shape import bare_shape
from zonatome.core.units import format_length
from zonatome.web.base.answers import said
from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.loading import load_job, panel_or_404
from zonatome.web.jobs.models import Job, JobPart, Wait
from zonatome.web.lay.pages import as_file
from zonatome.web.lay.services import cloth_standing
from zonatome.web.pad import foam_store, services
from zonatome.web.pad.acts import acted, is_known
from zonatome.web.pad.drawing import nest_drawing, plan_drawing, section_drawing
from zonatome.web.pad.forms import BoardForm, FoamForm, StackForms
from zonatome.web.pad.models import FoamOffcut, OwnStack
from zonatome.web.pad.tables import cut_rows, growth_rows, span_rows
from zonatome.web.rack.pages import job_page
from zonatome.web.rack.standing import tape_of
from zonatome.web.trace.shape_files import KINDS, shape_as_file

QUIET = "X-Quiet"  # what a page's script sends: it wants the pad alone, not the page round it


@dataclass(frozen=True)
class Refused:
    """The boxes that were sent and not taken: those of the stack, of the board, of foam for the store."""

    boxes: StackForms | None = None
    board: BoardForm | None = None
    foam: FoamForm | None = None


NOT_REFUSED = Refused()


def home(request: BenchRequest, number: int) -> HttpResponse:
    """Show the first pad that has not been chosen yet, else the first."""
    job = load_job(number)
    pads = job.pads()
    if not pads:
        return job_page(request, job, "pad", "pad/none.html", {"extra": services.extra_layers(job)})
    return _page(request, job, next((p for p in pads if not p.has_pad), pads[0]))


def panel(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Show one pad."""
    job = load_job(number)
    return _page(request, job, panel_or_404(job.pads(), key))


def _page(
    request: BenchRequest,
    job: Job,
    part: JobPart,
    *,
    refused: Refused = NOT_REFUSED,
    grown: services.Growth | None = None,
    quiet: bool = False,
) -> HttpResponse:
    """The page of a pad, or for a script the pad alone; with the boxes as they were sent where they were refused."""
    context = _pad_context(request, job, part, boxes=refused.boxes, board=refused.board) | {
        "grown": growth_rows(part, grown),
        "foam_form": refused.foam or FoamForm(units=request.workroom.units, prefix="foam"),
        "foam_refused": refused.foam is not None,
        "foam_step": foam_store.last_step(),
        "in_store": FoamOffcut.objects.filter(used_at=None).select_related("reserved_for"),
    }
    if quiet:
        context |= {"job": job, "figure": _figure(job, request)}
        return render(request, "pad/_pad.html", context, status=200 if refused == NOT_REFUSED else 422)
    return job_page(request, job, "pad", "pad/home.html", context, status=200 if refused == NOT_REFUSED else 422)


def _figure(job: Job, request: BenchRequest) -> str:
    return next(s.figure for s in tape_of(job, request.workroom.units).steps if s.step == "pad")


def _pad_context(
    request: BenchRequest, job: Job, part: JobPart, *, boxes: StackForms | None, board: BoardForm | None
) -> dict[str, Any]:
    units = request.workroom.units
    stack = services.stack_of(part)
    pads = job.pads()
    after = next((p for p in (*pads[pads.index(part) + 1 :], *pads) if not p.has_pad and p.key != part.key), None)
    bought = services.bought_of(job)
    measured = {k: getattr(part, k) for k in services.BOARD if getattr(part, k) is not None}
    return {
        "part": part,
        "pads": pads,
        "boxes": boxes or StackForms(stack, units),
        "ways": usual_stacks(job.kind, part.part),
        "own": OwnStack.objects.filter(role=services.role_of_part(part)),
        "sorts": SORTS.values(),
        "after": after,
        "board_form": board
        or BoardForm(units=units, initial=measured, prefix=f"{part.key}-board", is_round=part.part.form == "disc"),
        "board_open": board is not None or not part.has_board,
        "verdict": services.verdict_words(part, stack),
        "step_cautions": services.cautions_of(job, stack),
        "stale": [c.cloth.name for c in job.cloths.all() if cloth_standing(c).is_stale],
        "bought": bought.bought,
        "left_out": bought.left_out,
        "nests": [(nest, nest_drawing(nest, units)) for nest in bought.nests],
        "extra": services.extra_layers(job),
        "buttoned": [p for p in job.kind.panels if p.buttons],
        "waits": [w for w in job.waits.all() if w.until > timezone.now()],
        "glues": GLUES.values(),
        **_drawn(request, part, services.worked_of(part)),
    }


def _drawn(request: BenchRequest, part: JobPart, done: Worked) -> dict[str, Any]:
    """What is drawn and said of a stack, kept or only tried."""
    units = request.workroom.units
    role = services.role_of_part(part)
    is_sat_on = role in SAT_ON
    cut = section(done.stack, done.frame, old=done.sitting.old_pad, is_sat_on=is_sat_on, rules=part.job.rules)
    return {
        "part": part,
        "done": done,
        "cut_through": section_drawing(cut, cut.top if done.frame.length else done.sitting.pad, units),
        "plan": plan_drawing(done, joins=services.joins_of(part, done)),
        "cuts": cut_rows(done, part.job.count * part.part.per_furniture, units),
        "spans": span_rows(done, units),
        "is_sat_on": is_sat_on,
        "reckoned": {"area": AREA_SAT_ON, "stated_at": STATED_AT},
        "role": role,
        "zip": services.zip_of(part),
    }


@require_POST
def change(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Take the boxes of a pad, with what was pressed: a layer added, dropped or moved, a usual stack taken."""
    job = load_job(number)
    part = panel_or_404(job.pads(), key)
    quiet = QUIET in request.headers
    act = request.POST.get("act", "keep")
    if not is_known(act):
        raise Http404
    boxes = StackForms(services.stack_of(part), request.workroom.units, request.POST)
    try:
        if not boxes.is_valid():
            return _page(request, job, part, refused=Refused(boxes=boxes), quiet=quiet)
        stack = acted(part, boxes.read(), act, request.POST)
        growth = services.set_stack(part, stack)
    except BadInput as refusal:
        boxes.refuse(refusal)
        return _page(request, load_job(number), part, refused=Refused(boxes=boxes), quiet=quiet)
    if quiet:
        fresh = load_job(number)
        return _page(request, fresh, panel_or_404(fresh.pads(), key), grown=growth, quiet=True)
    _tell(request, part, growth)
    return redirect("pad:panel", number=number, key=key)


def _tell(request: BenchRequest, part: JobPart, growth: services.Growth | None) -> None:
    units = request.workroom.units
    words = f"{part.name}: the pad measures {format_length(part.pad_measured or 0.0, units, 'small')} at its edge."
    if growth and abs(growth.each_way) > 0.05:
        verb = "grows" if growth.each_way > 0 else "shrinks"
        before, after = (
            f"{format_length(w, units)} × {format_length(h, units)}" for w, h in (growth.before, growth.after)
        )
        by = format_length(abs(growth.each_way), units, "small")
        words += f" Its cut {verb} by {by} each way, from {before} to {after}."
    messages.success(request, words)


@require_POST
def tried(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Draw a pad as its boxes stand, for a script; nothing is kept."""
    job = load_job(number)
    part = panel_or_404(job.pads(), key)
    boxes = StackForms(services.stack_of(part), request.workroom.units, request.POST)
    if not boxes.is_valid():
        wrong = next(str(e) for form in (boxes.main, *boxes.layers) for errors in form.errors.values() for e in errors)
        return said(request, wrong)
    try:
        done = services.worked_of(part, boxes.read())
    except BadInput as refusal:
        return said(request, refusal.told)
    return render(request, "pad/_tried.html", {"job": job, **_drawn(request, part, done)})


@require_POST
def undo(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Take the last change of a pad back."""
    job = load_job(number)
    part = panel_or_404(job.pads(), key)
    quiet = QUIET in request.headers
    try:
        services.undo_stack(part)
    except BadInput as refusal:
        if quiet:
            return said(request, refusal.told)
        messages.error(request, refusal.told)
        return redirect("pad:panel", number=number, key=key)
    if quiet:
        fresh = load_job(number)
        return _page(request, fresh, panel_or_404(fresh.pads(), key), quiet=True)
    messages.success(request, f"{part.name}: taken back.")
    return redirect("pad:panel", number=number, key=key)


@require_POST
def measure(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Measure the board under a pad."""
    job = load_job(number)
    part = panel_or_404(job.panels(), key)
    form = BoardForm(
        request.POST, units=request.workroom.units, prefix=f"{key}-board", is_round=part.part.form == "disc"
    )
    if form.is_valid():
        try:
            services.set_board(part, **form.cleaned_data)
        except BadInput as refusal:
            form.refuse(refusal)
    if form.errors:
        fresh = load_job(number)
        return _page(request, fresh, panel_or_404(fresh.pads(), key), refused=Refused(board=form))
    if request.POST.get("then") == "fasten":
        return redirect("fasten:panel", number=number, key=key)
    return redirect("pad:panel", number=number, key=key)


def template(request: BenchRequest, number: int, key: str, place: int, kind: str) -> HttpResponse:
    """Give the outline of one layer at true size: as SVG, DXF or on sheets of paper."""
    job = load_job(number)
    part = panel_or_404(job.pads(), key)
    cut = services.worked_of(part).cut_of(place)
    if cut is None or cut.outline is None or kind not in KINDS:
        raise Http404
    shape = bare_shape(f"{part.name}, {cut.layer.name} {cut.layer.thickness:g}", cut.outline)
    name, paper = f"{job.number}-{key}-{cut.layer.sort}-{place + 1}", request.GET.get("paper", "a4")
    return shape_as_file(shape, kind, name, count=part.pieces, units=request.workroom.units, paper=paper)


def foam_sheet(request: BenchRequest, number: int, which: int, kind: str) -> HttpResponse:
    """Give the cut sheet of one sort and thickness of foam: on paper, or as DXF."""
    job, units = load_job(number), request.workroom.units
    nests = services.bought_of(job).nests
    if not 1 <= which <= len(nests) or kind not in ("pdf", "dxf"):
        raise Http404
    nest = nests[which - 1]
    sheet, name = foam_cut_sheet(nest, services.holes_of(job)), f"{number}-foam-{nest.foam}-{nest.thickness:g}"
    if kind == "dxf":
        return as_file(cut_sheet_dxf(sheet), "image/vnd.dxf", f"{name}.dxf")
    foam = f"{FOAMS[nest.foam].name} foam, {format_length(nest.thickness, units, 'small')}"
    used = len(nest.offcuts)
    store = f", {used} from the store first" if used else ""
    head = SheetHead(
        f"{number} {job.name}", foam, f"{nest.sheets} to buy{store}", date_format(timezone.localtime(), "j F Y")
    )
    return as_file(cut_sheet_pdf(sheet, head, units=units), "application/pdf", f"{name}.pdf")


@require_POST
def keep_foam(request: BenchRequest, number: int) -> HttpResponse:
    """Put a piece of foam into the store."""
    job = load_job(number)
    form = FoamForm(request.POST, units=request.workroom.units, prefix="foam")
    if form.is_valid():
        try:
            foam_store.keep_foam(**form.cleaned_data)
        except BadInput as refusal:
            form.refuse(refusal)
    if form.errors:
        pads = job.pads()
        return _page(request, job, next((p for p in pads if not p.has_pad), pads[0]), refused=Refused(foam=form))
    return redirect("pad:home", number=number)


@require_POST
def drop_foam(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Take a piece of foam out of the store."""
    foam_store.drop_foam(pk)
    return redirect("pad:home", number=number)


@require_POST
def undo_foam(request: BenchRequest, number: int) -> HttpResponse:
    """Take back what was done last with the foam in store."""
    try:
        messages.info(request, f"Taken back: {foam_store.undo_foam()}.")
    except BadInput as refusal:
        messages.error(request, refusal.told)
    return redirect("pad:home", number=number)


@require_POST
def take_foam(request: BenchRequest, number: int) -> HttpResponse:
    """Keep the offcuts for this tag; or, the foam being cut, take them off the store and keep what is left."""
    job = load_job(number)
    if request.POST.get("act") == "cut":
        used, kept = foam_store.store_left_of(job, services.bought_of(job).nests)
        messages.success(request, f"{used} offcuts used; {kept} pieces of what is left are in the store.")
    else:
        kept = foam_store.reserve_foam(job, services.bought_of(job).nests)
        messages.success(request, f"{kept} offcuts are kept for this tag.")
    return redirect("pad:home", number=number)


@require_POST
def glued(request: BenchRequest, number: int) -> HttpResponse:
    """Start the wait of the glue that was used."""
    job = load_job(number)
    glue = GLUES.get(request.POST.get("glue", ""))
    if glue is None:
        raise Http404
    now = timezone.now()
    Wait.objects.create(
        job=job, step="pad", words="foam glue sets", began=now, until=now + timedelta(minutes=glue.minutes)
    )
    return redirect("pad:home", number=number)


@require_POST
def end_wait(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """End a wait early."""
    Wait.objects.filter(job__number=number, pk=pk).update(until=timezone.now())
    return redirect("pad:home", number=number)
