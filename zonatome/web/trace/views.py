"""Trace: a shape for every panel, its edges and joins, both lines to scale."""

from __future__ import annotations

import json

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput
from zonatome.core.formats.piece_json import write_piece
from zonatome.core.formats.svg_paths import fixed, path_of
from zonatome.web.jobs.models import Job, JobPart
from zonatome.web.jobs.pages import job_page, load_job, panel_or_404
from zonatome.web.trace import services
from zonatome.web.trace.drawing import shape_drawing
from zonatome.web.trace.forms import FORMS, EdgeForm, WorkForm

WORDS = {
    **services.WAYS,
    "file": "from a file",
    "mirrored": "mirrored from its partner",
    "photo": "from a photo",
    "split": "a strip of the whole",
}


def home(request: HttpRequest, number: int) -> HttpResponse:
    """Show the panel whose shape is missing first."""
    job = load_job(number)
    panels = job.panels()
    first = next((p for p in panels if p.shape is None), panels[0])
    return redirect("trace:panel", number=number, key=first.key)


def panel(request: HttpRequest, number: int, key: str) -> HttpResponse:
    """Show one panel's shape, or the ways to get one."""
    job = load_job(number)
    return _page(request, job, panel_or_404(job.panels(), key))


def _page(
    request: HttpRequest,
    job: Job,
    part: JobPart,
    *,
    bound: WorkForm | None = None,
    way: str = "",
    edge_form: EdgeForm | None = None,
    edge: str = "",
) -> HttpResponse:
    units = request.workroom.units
    shape = services.shape_of_part(part) if part.shape else None
    way = way or request.GET.get("way", "")
    way = way if way in FORMS else (part.shape_way if part.shape_way in FORMS else _usual_way(part))
    editing = shape is None or bound is not None or "way" in request.GET
    edges = []
    if shape:
        for drawn in shape_drawing(shape, units).edges:
            form = (
                edge_form
                if edge_form is not None and edge == drawn.name
                else EdgeForm(units=units, initial={"join": drawn.join, "adds": drawn.adds}, prefix=drawn.name)
            )
            edges.append({"drawn": drawn, "form": form})
    context = {
        "part": part,
        "shape": shape,
        "drawing": shape_drawing(shape, units) if shape else None,
        "edges": edges,
        "way": way,
        "editing": editing,
        "ways": [(k, WORDS[k]) for k in FORMS if k != "block" or part.part.padded],
        "form": bound or _blank(request, part, way),
        "panels": [{"part": p, "thumb": _thumb(p), "way": WORDS.get(p.shape_way, "no shape yet")} for p in job.panels()],
        "grid_step": "5 cm" if units == "metric" else "2 in",
        "cloths": job.cloths.all(),
        "missing": [p for p in job.panels() if p.shape is None],
    }
    refused = bound is not None or edge_form is not None
    return job_page(request, job, "trace", "trace/panel.html", context, status=422 if refused else 200)


def _usual_way(part: JobPart) -> str:
    data = part.part
    if data.padded and set(data.joins.values()) == {"stapled_under"}:
        return "block"
    return "disc" if data.form == "disc" else "trapezoid" if data.far != 1 else "rectangle"


def _thumb(part: JobPart) -> dict[str, str] | None:
    if not part.shape:
        return None
    outline = services.shape_of_part(part).outline
    x0, y0, x1, y1 = outline.bounds
    side = max(x1 - x0, y1 - y0) * 1.08
    view = f"{fixed((x0 + x1 - side) / 2)} {fixed((y1 - y0 - side) / 2)} {fixed(side)} {fixed(side)}"
    return {"view": view, "path": path_of(outline.points, y1)}


def _blank(request: HttpRequest, part: JobPart, way: str) -> WorkForm:
    units = request.workroom.units
    if way == "block":
        initial = {
            "board_width": part.board_width,
            "board_depth": part.board_depth,
            "board_back": part.board_back,
            "board_thickness": part.board_thickness,
            "pad": services.usual_pad(part),
            "wrap": part.wrap,
        }
        return FORMS[way](units=units, initial={k: v for k, v in initial.items() if v is not None}, is_round=part.part.form == "disc")
    return FORMS[way](units=units, has_partner=part.part.mirror is not None)


@require_POST
def make(request: HttpRequest, number: int, key: str, way: str) -> HttpResponse:
    """Make a panel's shape from measures or a file."""
    job = load_job(number)
    part = panel_or_404(job.panels(), key)
    if way not in FORMS:
        raise Http404
    rest = {"is_round": part.part.form == "disc"} if way == "block" else {"has_partner": part.part.mirror is not None}
    form = FORMS[way](request.POST, request.FILES, units=request.workroom.units, **rest)
    if not form.is_valid():
        return _page(request, job, part, bound=form, way=way)
    data = dict(form.cleaned_data)
    pair = bool(data.pop("pair", False))
    try:
        if way == "block":
            services.set_block(part, **data)
        elif way == "file":
            upload = data["file"]
            if upload.size > services.MOST_BYTES:
                raise BadInput("file", f"{upload.size / 1e6:.1f} MB", f"at most {services.MOST_BYTES / 1e6:.0f} MB")
            services.keep_shape(part, services.shape_from_file(part, upload.name, upload.read()), "file", pair=pair)
        else:
            services.keep_shape(part, services.shape_by_tape(part, way, data), way, pair=pair)
    except BadInput as refusal:
        form.refuse(refusal)
        return _page(request, job, part, bound=form, way=way)
    messages.success(request, f"{part.name}: shape kept.")
    return redirect("trace:panel", number=number, key=key)


@require_POST
def hold_edge(request: HttpRequest, number: int, key: str, edge: str) -> HttpResponse:
    """Hold one edge another way."""
    job = load_job(number)
    part = panel_or_404(job.panels(), key)
    if not part.shape:
        raise Http404
    form = EdgeForm(request.POST, units=request.workroom.units, prefix=edge)
    if not form.is_valid():
        return _page(request, job, part, edge_form=form, edge=edge)
    try:
        services.set_edges(part, {edge: (form.cleaned_data["join"], form.cleaned_data["adds"])})
    except BadInput as refusal:
        form.refuse(refusal)
        return _page(request, job, part, edge_form=form, edge=edge)
    return redirect("trace:panel", number=number, key=key)


@require_POST
def choose_cloth(request: HttpRequest, number: int, key: str) -> HttpResponse:
    """Cut a panel from another of the job's cloths."""
    job = load_job(number)
    part = panel_or_404(job.panels(), key)
    chosen = next((c for c in job.cloths.all() if str(c.pk) == request.POST.get("cloth")), None)
    part.cloth = chosen
    part.save()
    return redirect("trace:panel", number=number, key=key)


def piece_file(request: HttpRequest, number: int, key: str) -> HttpResponse:
    """Give the shape as a piece file."""
    part = panel_or_404(load_job(number).panels(), key)
    if not part.shape:
        raise Http404
    body = json.dumps(write_piece(services.shape_of_part(part)), indent=1)
    return HttpResponse(
        body, content_type="application/json", headers={"Content-Disposition": f'attachment; filename="{number}-{key}.json"'}
    )
