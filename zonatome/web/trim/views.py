"""Trim: lengths, strips, what to buy, the bottom cloth."""

from __future__ import annotations

from collections.abc import Sequence

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput
from zonatome.core.formats.nail_strip_pdf import nail_strip_pdf
from zonatome.core.formats.trim_json import read_legs, write_skirt
from zonatome.core.trim.bottom import Leg, bottom_shape, mirrored
from zonatome.core.trim.lines import ExposedLine
from zonatome.core.trim.nails import boxes_of_nails, nails
from zonatome.core.trim.skirt import SkirtAsk
from zonatome.core.trim.welt import CUT_FROM_CLOTH, DOUBLE_SEAM, KINDS
from zonatome.core.units import Units, bare_unit, exact_length, format_length
from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job
from zonatome.web.lay.pages import as_file
from zonatome.web.lay.services import best_run, cloth_standing, strip_ways
from zonatome.web.rack.pages import job_page
from zonatome.web.shop.zips_and_skirt import SkirtOn, buttons_of, skirt_of, zips_of
from zonatome.web.trace.shape_files import KINDS as SHAPE_KINDS
from zonatome.web.trace.shape_files import shape_as_file
from zonatome.web.trim.drawing import bottom_drawing, nail_drawing, skirt_drawing, trim_drawing
from zonatome.web.trim.forms import LegForm, LineForm, NailForm, SkirtForm, TrimForm, UndersideForm
from zonatome.web.trim.models import TrimLine
from zonatome.web.trim.services import (
    USUAL_STRIP,
    bottom_of,
    lines_offered,
    lines_on,
    nails_of,
    plan_bottom,
    set_legs,
    trims_of_job,
)

MOST_LINES = 30


def home(request: BenchRequest, number: int) -> HttpResponse:
    """Show the trim's lines and sums."""
    return _page(request, load_job(number))


def _cloths(job: Job) -> list[tuple[str, str]]:
    return [(str(c.pk), c.cloth.name) for c in job.cloths.all()]


def _page(
    request: BenchRequest,
    job: Job,
    *,
    trim: TrimForm | None = None,
    line: LineForm | None = None,
    underside: UndersideForm | None = None,
    skirted: SkirtForm | None = None,
    leg: LegForm | None = None,
) -> HttpResponse:
    units = request.workroom.units
    offered = lines_offered(job)
    initial = {
        "kind": job.trim_kind or "welt",
        "cord": job.cord,
        "cloth": str(job.trim_cloth_id or ""),
        "way": job.trim_way,
    }
    has_bottom = any(p.part.what == "bottom cloth" for p in job.parts.all())
    first = next((p for p in job.padded() if p.has_board), None)
    under = {
        "width": job.underside_width or (first and first.board_width),
        "depth": job.underside_depth or (first and first.board_depth),
    }
    bottom, skirt = bottom_of(job), skirt_of(job)
    context = {
        "trim_form": trim or TrimForm(units=units, initial=initial, cloths=_cloths(job)),
        "line_form": line or LineForm(units=units, auto_id="line_%s"),
        "lines": lines_on(job, _longest_strip(job)),
        "drawing": trim_drawing(job, offered, {line.key for line in job.trim_lines.all()}),
        "sums": [{"sum": s, "name": KINDS[s.kind]} for s in trims_of_job(job)],
        "welt_seam": job.rules["welt_seam"],
        "double_seam": DOUBLE_SEAM,
        "has_bottom": has_bottom,
        "stale": [c.cloth.name for c in job.cloths.all() if cloth_standing(c).is_stale],
        "underside_form": underside or UndersideForm(units=units, initial={k: v for k, v in under.items() if v}),
        "bottom": bottom,
        "bottom_key": next((p.key for p in job.parts.all() if p.part.what == "bottom cloth"), ""),
        "bottom_drawing": bottom_drawing(bottom, job.kind.feet) if bottom else None,
        "leg_form": leg or LegForm(units=units, auto_id="leg_%s"),
        "leg_staples": round(bottom.cut.round_holes / job.rules["pitch_bottom"]) if bottom and bottom.cut else 0,
        "offers": _offers(job, offered),
        "skirt_form": skirted or SkirtForm(units=units, auto_id="skirt_%s", initial=_typed_skirt(skirt, units)),
        "skirt": skirt,
        "skirt_drawing": skirt_drawing(skirt.made) if skirt else None,
        "zips": zips_of(job),
        "buttons": buttons_of(job),
        "ways": strip_ways(job) if request.GET.get("ways") else None,
    }
    refused = trim or line or underside or skirted or leg
    return job_page(request, job, "trim", "trim/home.html", context, status=422 if refused else 200)


def _typed_skirt(skirt: SkirtOn | None, units: Units) -> dict[str, object]:
    """A skirt as it was typed."""
    if skirt is None:
        return {}
    ask, bare = skirt.ask, bare_unit(units, "panel")
    sides = ", ".join(exact_length(side, bare=bare) for side in ask.sides)
    return {"sides": sides, "drop": ask.drop, "sort": ask.sort, "deep": ask.deep, "pleat": ask.pleat,
            "lined": ask.lined}  # fmt: skip


def _longest_strip(job: Job) -> float:
    """The longest strip that the lay of the trim's cloth gives; the usual one where nothing is laid."""
    run = best_run(job.trim_cloth) if job.trim_cloth is not None else None
    lengths = [max(s.outline.width, s.outline.height) for s in run.lay().strips] if run is not None else []
    return max(lengths, default=USUAL_STRIP)


def _offers(job: Job, offered: Sequence[ExposedLine]) -> list[ExposedLine]:
    """Lines of the cover that are not on the list yet, by their name or, under another name, by their panel."""
    names = {line.name for line in offered}
    known = {line.name for line in job.trim_lines.all()}
    renamed = {line.key for line in job.trim_lines.all() if line.name not in names}
    return [line for line in offered if line.name not in known and line.key not in renamed]


@require_POST
def choose(request: BenchRequest, number: int) -> HttpResponse:
    """Choose the trim."""
    job = load_job(number)
    form = TrimForm(request.POST, units=request.workroom.units, cloths=_cloths(job))
    if not form.is_valid():
        return _page(request, job, trim=form)
    job.trim_kind, job.cord = form.cleaned_data["kind"], form.cleaned_data["cord"]
    job.trim_cloth_id = (
        int(form.cleaned_data["cloth"]) if form.cleaned_data["cloth"] and job.trim_kind in CUT_FROM_CLOTH else None
    )
    job.trim_way = form.cleaned_data["way"]
    job.trim_done = job.trim_kind == "none"
    job.save()
    return redirect("trim:home", number=number)


@require_POST
def add_line(request: BenchRequest, number: int) -> HttpResponse:
    """Add an exposed line, measured or offered by a shape."""
    job = load_job(number)
    wanted = request.POST.get("offer")
    offered = [o for o in _offers(job, lines_offered(job)) if wanted in (o.name, o.key, "all")]
    if offered:
        for offer in offered[: MOST_LINES - job.trim_lines.count()]:
            TrimLine.objects.create(
                job=job, name=offer.name, length=round(offer.length, 1), times=offer.times, is_closed=offer.is_closed,
                key=offer.key, corners=[round(v, 1) for v in offer.stretches],
            )  # fmt: skip
        return redirect("trim:home", number=number)
    form = LineForm(request.POST, units=request.workroom.units, auto_id="line_%s")
    if not form.is_valid():
        return _page(request, job, line=form)
    if job.trim_lines.count() >= MOST_LINES:
        form.refuse(BadInput("name", MOST_LINES + 1, f"at most {MOST_LINES} lines"))
        return _page(request, job, line=form)
    TrimLine.objects.create(job=job, **form.cleaned_data)
    return redirect("trim:home", number=number)


@require_POST
def remove_line(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Take a line away; a word on how to get it back."""
    line = TrimLine.objects.filter(job__number=number, pk=pk).first()
    if line:
        messages.info(request, f"{line.name} is off the list.")
        line.delete()
    return redirect("trim:home", number=number)


@require_POST
def underside(request: BenchRequest, number: int) -> HttpResponse:
    """Measure the underside."""
    job = load_job(number)
    form = UndersideForm(request.POST, units=request.workroom.units)
    if not form.is_valid():
        return _page(request, job, underside=form)
    job.underside_width, job.underside_depth = form.cleaned_data["width"], form.cleaned_data["depth"]
    job.save()
    plan_bottom(job)
    return redirect("trim:home", number=number)


@require_POST
def add_leg(request: BenchRequest, number: int) -> HttpResponse:
    """Measure a leg that the bottom cloth is cut round, alone or at every corner."""
    job = load_job(number)
    form = LegForm(request.POST, units=request.workroom.units, auto_id="leg_%s")
    if form.is_valid():
        told, before = form.cleaned_data, read_legs(job.legs)
        try:
            new: tuple[Leg, ...] = (Leg(told["x"], told["y"], told["width"], told["depth"]),)
            if told["mirrored"]:
                new = mirrored(new[0], job.underside_width or 0.0, job.underside_depth or 0.0)
            set_legs(job, (*before, *new))
        except BadInput as refusal:
            form.refuse(refusal)
    if form.errors:
        return _page(request, load_job(number), leg=form)
    return redirect("trim:home", number=number)


@require_POST
def no_legs(request: BenchRequest, number: int) -> HttpResponse:
    """Take the measured legs away."""
    job = load_job(number)
    job.legs = []
    job.save(update_fields=["legs"])
    plan_bottom(job)
    messages.info(request, "The legs are off the bottom cloth; measure them anew.")
    return redirect("trim:home", number=number)


def bottom_file(request: BenchRequest, number: int, kind: str) -> HttpResponse:
    """Give the bottom cloth's cut line at true size, with what is cut on the furniture: as SVG, DXF or on paper."""
    job = load_job(number)
    bottom = bottom_of(job)
    if bottom is None or bottom.cut is None or kind not in SHAPE_KINDS:
        raise Http404
    return shape_as_file(bottom_shape(bottom.cut), kind, f"{number}-bottom-cloth", count=job.count,
                         units=request.workroom.units, paper=request.GET.get("paper", "a4"))  # fmt: skip


@require_POST
def done(request: BenchRequest, number: int) -> HttpResponse:
    """Say that the trim is on, or not yet."""
    job = load_job(number)
    job.trim_done = request.POST.get("done") == "1"
    job.save()
    return redirect("trim:home", number=number)


def nailed(request: BenchRequest, number: int, pk: int, *, refused: NailForm | None = None) -> HttpResponse:
    """Show the nails of a line: where each stands, in which order they are set."""
    job = load_job(number)
    line = get_object_or_404(TrimLine, job=job, pk=pk)
    made, units = nails_of(line), request.workroom.units
    typed = ", ".join(exact_length(v, bare=bare_unit(units, "panel")) for v in line.corners)
    initial = {"head": line.head, "spacing": line.spacing, "stretches": typed}
    context = {
        "line": line,
        "nails": made,
        "boxes": boxes_of_nails(made.count * line.times * job.count),
        "in_all": made.count * line.times * job.count,
        "nail_drawing": nail_drawing(made),
        "nail_form": refused or NailForm(units=units, initial=initial),
        "shown_data": {
            "steps": [
                {"title": f"Nail {n}", "words": f"{format_length(place, units)} along the line"}
                for n, place in enumerate(made.order, 1)
            ]
        },
    }
    return job_page(request, job, "trim", "trim/nails.html", context, status=422 if refused else 200)


@require_POST
def set_nails(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Take heads, spacing and corners of a line's nails."""
    line = get_object_or_404(TrimLine, job__number=number, pk=pk)
    form = NailForm(request.POST, units=request.workroom.units)
    if form.is_valid():
        try:
            stretches = form.lengths(request.workroom.units)
            told = form.cleaned_data
            nails(stretches or [line.length], head=told["head"], spacing=told["spacing"], is_closed=line.is_closed)
        except BadInput as refusal:
            form.refuse(refusal)
    if form.errors:
        return nailed(request, number, pk, refused=form)
    line.head, line.spacing, line.corners = told["head"], told["spacing"], stretches
    if stretches:
        line.length = sum(stretches)
    line.kind = "nails"
    line.save()
    return redirect("trim:nails", number=number, pk=pk)


def nail_strip(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Give the paper strip with the marks of a line's nails."""
    line = get_object_or_404(TrimLine, job__number=number, pk=pk)
    words = f"{number} {line.name}"
    content = nail_strip_pdf(nails_of(line), words, units=request.workroom.units)
    return as_file(content, "application/pdf", f"{number}-nails.pdf")


@require_POST
def skirted(request: BenchRequest, number: int) -> HttpResponse:
    """Reckon a skirt and keep it; or none any more."""
    job, units = load_job(number), request.workroom.units
    if request.POST.get("act") == "none":
        job.skirt = None
        job.save(update_fields=["skirt"])
        messages.info(request, "No skirt any more.")
        return redirect("trim:home", number=number)
    form = SkirtForm(request.POST, units=units, auto_id="skirt_%s")
    if form.is_valid():
        told = form.cleaned_data
        try:
            ask = SkirtAsk(
                tuple(form.lengths(units)), told["drop"], told["sort"], told["deep"], told["pleat"], told["lined"]
            )
            ask.made()
        except BadInput as refusal:
            form.refuse(refusal)
    if form.errors:
        return _page(request, job, skirted=form)
    job.skirt = write_skirt(ask)
    job.save(update_fields=["skirt"])
    return redirect("trim:home", number=number)
