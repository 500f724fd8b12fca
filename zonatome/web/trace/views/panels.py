"""Trace: a shape for every panel, its edges and joins, both lines to scale; truing, seams, marks, what is made from
it, files.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput
from zonatome.core.formats.drawing_apart import MOST_BYTES
from zonatome.core.formats.svg_paths import fixed, path_of
from zonatome.core.trace.ready import Readiness
from zonatome.core.trace.shape import Shape
from zonatome.core.trace.to_measure import usual_way
from zonatome.core.trace.usual import unusual
from zonatome.core.units import Units, format_length
from zonatome.web.base.answers import go_back
from zonatome.web.base.length_forms import LengthField, WorkForm
from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.loading import load_job, load_some, panel_or_404
from zonatome.web.jobs.models import Job, JobPart
from zonatome.web.lay.cut_shape import laid_shape
from zonatome.web.rack.pages import job_page
from zonatome.web.trace import forms as asked
from zonatome.web.trace import services
from zonatome.web.trace.acts import ACTS, WITHOUT_SHAPE
from zonatome.web.trace.boards import held_edges_of, is_round_board
from zonatome.web.trace.changes import undo_shapes
from zonatome.web.trace.drawing import shape_drawing, tried_drawing
from zonatome.web.trace.forms import FORMS, EdgeForm, PairForm
from zonatome.web.trace.models import ShapeChange
from zonatome.web.trace.views.looks import SHOWN_AT

LOOKS = {
    "edges": "Edges", "true": "True it", "seams": "Seams", "marks": "Marks", "more": "More", "files": "Files",
}  # fmt: skip
LOOK_OF = {  # where a refused act is shown
    "halve": "true", "upright": "true", "round": "true", "straighten": "true", "square": "true", "stretch": "true",
    "lopsided": "true",
    "notch": "marks", "unnotch": "marks", "buttons": "marks", "channels": "marks", "point": "marks", "unmark": "marks",
    "mend": "seams", "ease": "seams", "band": "more", "fly": "more", "cushion": "more", "pair": "more",
    "strips": "more",
}  # fmt: skip


def home(request: BenchRequest, number: int) -> HttpResponse:
    """Show the panel whose shape is missing first."""
    job = load_job(number)
    panels = job.panels()
    first = next((p for p in panels if p.shape is None), panels[0])
    return redirect("trace:panel", number=number, key=first.key)


def panel(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Show one panel's shape, or the ways to get one."""
    job = load_job(number)
    return _page(request, job, panel_or_404(job.panels(), key))


def ready(request: BenchRequest, number: int) -> HttpResponse:
    """Show what the set still lacks before it can be cut."""
    job = load_job(number)
    found = services.readiness_of(job)
    rows = [
        {
            "part": p,
            "thumb": _thumb(p),
            "way": services.WORDS.get(p.shape_way, "no shape yet"),
            "lacks": found.of(p.key),
        }
        for p in job.panels()
    ]
    return job_page(
        request, job, "trace", "trace/ready.html", {"found": found, "rows": rows, "last_change": _last_change(job)}
    )


def _last_change(job: Job) -> ShapeChange | None:
    return ShapeChange.objects.filter(job=job).defer("before").first()


def _page(  # noqa: PLR0913 by name: what was refused, and where
    request: BenchRequest,
    job: Job,
    part: JobPart,
    *,
    bound: WorkForm | None = None,
    way: str = "",
    edge_form: EdgeForm | None = None,
    edge: str = "",
    act: str = "",
    refusal: str = "",
) -> HttpResponse:
    units = request.workroom.units
    shape = services.shape_of_part(part) if part.shape else None
    way = way or request.GET.get("way", "")
    way = way if way in FORMS else (part.shape_way if part.shape_way in FORMS else usual_way(part.part))
    editing = shape is None or (bound is not None and not act) or "way" in request.GET
    look = LOOK_OF.get(act, request.GET.get("look", "edges"))
    look = look if look in LOOKS else "edges"
    found = services.readiness_of(job)
    form = bound if bound is not None and not act else _blank(request, part, way)
    context: dict[str, Any] = {
        "part": part,
        "tried": _tried(part, way, form) if editing and (shape is None or way not in OTHERWISE) else None,
        "shape": shape,
        "drawing": shape_drawing(shape, units) if shape else None,
        "way": way,
        "editing": editing,
        "by_tape": _by_tape(part),
        "otherwise": [(k, services.WORDS[k]) for k in OTHERWISE],
        "form": form,
        "panels": [_row(p, found) for p in job.panels()],
        "grid_step": "5 cm" if units == "metric" else "2 in",
        "cloths": job.cloths.all(),
        "missing": [p for p in job.panels() if p.shape is None],
        "look": look,
        "wishes": services.wishes_in_words(part),
        "snug": _snug(part, shape) if shape is not None else None,
        "is_stapled": is_round_board(part) or bool(held_edges_of(part)),
        "looks": LOOKS.items(),
        "lacks": [lack for lack in found.of(part.key) if lack.what not in ("seam", "notch")],
        "seams_wrong": len(
            [s for s in found.seams if part.key in (s.one.key, *(o.key for o in s.others)) and not s.agrees]
        ),
        "set_lacks": len([lack for lack in found.lacks if lack.weight == 2 and lack.what != "missing"]),
        "last_change": _last_change(job),
        "refusal": refusal,
        "act_form": bound if act else None,
        "act": act,
    }
    if shape is not None and not editing:
        context |= SHOWN_AT[look](request, part, shape, found)
        if look == "edges":
            context["edges"] = _edges(part, shape, units, edge_form, edge)
    elif shape is None:
        context["cushion_form"] = asked.CushionForm(auto_id="cushion_%s", units=units, initial={"zip_round": 90.0})
    if act and bound is not None:
        _as_it_was_typed(context, act, bound)
    refused = bound is not None or edge_form is not None or bool(refusal)
    return job_page(request, job, "trace", "trace/panel.html", context, status=422 if refused else 200)


def _as_it_was_typed(context: dict[str, Any], act: str, bound: WorkForm) -> None:
    """Put what was typed for an act that was refused back into the boxes of its form."""
    blank = context.get(f"{act}_form")
    if blank is not None:
        context[f"{act}_form"] = type(bound)(bound.data, units=bound.units, auto_id=blank.auto_id)
    for row in context.get("edges", ()):
        if act == "part" and bound.data.get("edge") == row["drawn"].name:
            row["part_form"] = type(bound)(bound.data, units=bound.units, auto_id=row["part_form"].auto_id)


def tried(request: BenchRequest, number: int, key: str, way: str) -> HttpResponse:
    """Draw the outline that what is typed gives so far, usual where nothing is; nothing is kept."""
    job = load_some(number)
    part = panel_or_404(job.panels(), key)
    if way not in FORMS or way in OTHERWISE:
        raise Http404
    form = FORMS[way](request.GET, units=request.workroom.units, **_rest(part, way, request.workroom.units))
    return render(request, "trace/_tried.html", {"tried": _tried(part, way, form), "part": part})


def _tried(part: JobPart, way: str, form: WorkForm) -> dict[str, Any]:
    """What the board shows while a panel is measured, from what stands in the boxes of a form."""
    if way in OTHERWISE:
        found, _ = services.tried_by_tape(part, usual_way(part.part), {})
        return {
            "drawing": tried_drawing(replace(found, tapes=()), form.units),
            "boxes": [],
            "way": way,
            "is_measured": False,
            "is_usual": True,
        }
    texts = {name: form[name].value() for name in form.fields if name not in ("pair", "sure")}
    texts = {name: str(text)[:MOST_TYPED] for name, text in texts.items() if text not in (None, "")}
    read = FORMS[way](texts, units=form.units, **_rest(part, way, form.units))
    for field in read.fields.values():
        field.required = False
    read.is_valid()
    typed = {name: read.cleaned_data[name] for name in texts if read.cleaned_data.get(name) not in (None, [])}
    found, refusal = services.tried_by_tape(part, way, typed)
    drawing = tried_drawing(found, form.units)
    usual = services.usual_of(part, way)
    boxes = [
        {
            "tape": tape,
            "label": read.fields[tape.key].label,
            "text": texts.get(tape.key, ""),
            "usual": format_length(usual.get(tape.key) or usual["board_width"], form.units),
            "is_wrong": tape.key in read.errors or (refusal is not None and refusal.key == tape.key),
        }
        for tape in drawing.tapes
    ]
    words = {box["tape"].key: box["tape"].words for box in boxes}
    missing = [name for name, field in form.fields.items() if field.required and not texts.get(name)]
    wrong = [f"{read.fields[name].label}: {errors[0]}" for name, errors in read.errors.items() if name in texts]
    return {
        "drawing": drawing,
        "boxes": boxes,
        "way": way,
        "is_measured": True,
        "is_usual": bool(missing or wrong or refusal),
        "wrong": wrong[0] if wrong else refusal.told if refusal else "",
        "untyped": [words.get(name) or str(form.fields[name].label).lower() for name in missing],
        "wishes": services.wishes_in_words(part),
        "cut": found.shape.cut_line,
    }


def _snug(part: JobPart, shape: Shape) -> Shape | None:
    """The shape as it is cut from its cloth, where that stretches and the panel is sewn snug."""
    if not part.cloth_id:
        return None
    cut = laid_shape(part, part.cloth.cloth)  # type: ignore[union-attr]
    return None if cut is shape or cut == shape else cut


def _row(part: JobPart, found: Readiness) -> dict[str, Any]:
    return {
        "part": part,
        "thumb": _thumb(part),
        "way": services.WORDS.get(part.shape_way, "no shape yet"),
        "stops": any(lack.weight == 2 and lack.what != "missing" for lack in found.of(part.key)),
        "is_ready": part.key in found.ready,
    }


def _edges(part: JobPart, shape: Shape, units: Units, edge_form: EdgeForm | None, edge: str) -> list[dict[str, Any]]:
    rows, kind = [], part.job.kind
    for drawn in shape_drawing(shape, units).edges:
        panel_edge = shape.edges[shape.number_of(drawn.name)].panel_edge(part.part)
        meets = [
            kind.part(m.beyond(part.key, panel_edge)[0]).name.lower() for m in kind.meetings_at(part.key, panel_edge)
        ]
        mine = edge_form if edge_form is not None and edge == drawn.name else None
        form = mine or EdgeForm(
            units=units, initial={"join": drawn.join, "adds": drawn.adds, "side": drawn.side}, prefix=drawn.name
        )
        rows.append(
            {
                "drawn": drawn,
                "meets": list(dict.fromkeys(meets)),
                "form": form,
                "part_form": asked.PartForm(auto_id=f"part_{drawn.name}_%s", units=units),
            }
        )
    return rows


# --- what each look shows


MOST_TYPED = 4000  # characters of one box
OTHERWISE = ("file", "library", "edge")  # from the old cover drawn elsewhere, or from a shape that there is


def _by_tape(part: JobPart) -> list[tuple[str, str]]:
    """The ways by the tape, the likeliest of this panel first."""
    usual = usual_way(part.part)
    keys = [k for k in FORMS if k not in OTHERWISE and (k != "block" or part.part.padded)]
    return [(k, services.WORDS[k]) for k in sorted(keys, key=lambda k: k != usual)]


def _thumb(part: JobPart) -> dict[str, str] | None:
    if not part.shape:
        return None
    outline = services.shape_of_part(part).outline
    x0, y0, x1, y1 = outline.bounds
    side = max(x1 - x0, y1 - y0) * 1.08
    view = f"{fixed((x0 + x1 - side) / 2)} {fixed((y1 - y0 - side) / 2)} {fixed(side)} {fixed(side)}"
    x, y, long = (x0 + x1) / 2, (y0 + y1) / 2, min((y1 - y0) * 0.5, side * 0.3)
    shaft, head = [(x, y - long / 2), (x, y + long / 2)], long * 0.35
    barbs = [(x - head, y + long / 2 - head), (x, y + long / 2), (x + head, y + long / 2 - head)]
    arrow = path_of(shaft, y1, closed=False) + path_of(barbs, y1, closed=False)
    return {"view": view, "path": path_of(outline.points, y1), "arrow": arrow}


def _rest(part: JobPart, way: str, units: Units) -> dict[str, Any]:
    """What the form of a way has to know of the part."""
    rest: dict[str, Any] = {"has_partner": part.part.mirror is not None}
    if way == "block":
        rest["is_round"] = part.part.form == "disc"
    sources = {"library": services.library, "edge": services.edges_to_follow}.get(way)
    return rest | ({"sources": sources(part, units)} if sources else {})


def _blank(request: BenchRequest, part: JobPart, way: str) -> WorkForm:
    units = request.workroom.units
    board = {
        "board_width": part.board_width,
        "board_depth": part.board_depth,
        "board_back": part.board_back,
        "board_thickness": part.board_thickness,
        "pad": services.usual_pad(part) if way == "block" else None,
        "wrap": part.wrap,
    }
    initial = (
        {k: v for k, v in board.items() if v is not None} if way in ("block", "board") else _as_it_measures(part, way)
    )
    form = FORMS[way](units=units, initial=initial | ({"which": 1} if way == "file" else {}), **_rest(part, way, units))
    first = next((f for f in form.visible_fields() if isinstance(f.field, LengthField)), None)
    if first is not None and "way" in request.GET:  # a way was chosen: one measures now; else letters are keys
        first.field.widget.attrs["autofocus"] = True
    return form


def _as_it_measures(part: JobPart, way: str) -> dict[str, float]:
    """What stands in the boxes of a way when a shape that came by it is measured again;
    empty where it came by another.
    """
    if not part.shape or part.shape_way != way:
        return {}
    outline = services.shape_of_part(part).outline
    return {
        "rectangle": {"width": outline.width, "height": outline.height},
        "rounded": {"width": outline.width, "height": outline.height},
        "ellipse": {"width": outline.width, "height": outline.height},
        "disc": {"diameter": outline.width},
        "trapezoid": {"height": outline.height},
        "t": {"width": outline.width, "height": outline.height},
    }.get(way, {})


@require_POST
def make(request: BenchRequest, number: int, key: str, way: str) -> HttpResponse:
    """Make a panel's shape from measures or a file."""
    job = load_job(number)
    part = panel_or_404(job.panels(), key)
    if way not in FORMS:
        raise Http404
    units = request.workroom.units
    form = FORMS[way](request.POST, request.FILES, units=units, **_rest(part, way, units))
    if not form.is_valid():
        return _page(request, job, part, bound=form, way=way)
    data = dict(form.cleaned_data)
    pair, sure = bool(data.pop("pair", False)), bool(data.pop("sure", False))
    try:
        words: tuple[str, ...] = ()
        if way == "file":
            upload = data["file"]
            if upload.size > MOST_BYTES:
                raise BadInput("file", f"{upload.size / 1e6:.1f} MB", f"at most {MOST_BYTES / 1e6:.0f} MB")
            shape = services.shape_from_file(
                part, upload.name, upload.read(), unit=data["unit"], which=data["which"] or 1
            )
            words = services.keep_new_shape(part, shape, "file", pair=pair)
        elif way == "edge":
            made = services.shape_from_edge(part, data["source"], data["height"], data["strips"] or 1)
            words = services.keep_new_shape(part, made, "edge", pair=pair)
        elif way == "library":
            words = services.keep_new_shape(
                part, services.shape_from_library(part, data["source"]), "library", pair=pair
            )
        else:
            shape = services.shape_by_tape(part, way, data)
            usual = None if sure else unusual(shape, services.whole_of(part))
            if usual and isinstance(form, PairForm):
                size = " × ".join(format_length(v, units) for v in (shape.outline.width, shape.outline.height))
                common = " × ".join(format_length(v, units) for v in usual)
                form.ask(f"{part.name}: {size}? Usual is about {common}.")
                return _page(request, job, part, bound=form, way=way)
            is_block = way == "block"
            words = (
                services.set_block(part, **data, pair=pair)
                if is_block
                else services.keep_new_shape(part, shape, way, pair=pair)
            )
    except BadInput as refusal:
        form.refuse(refusal)
        return _page(request, job, part, bound=form, way=way)
    messages.success(request, f"{part.name}: shape kept{''.join(f', {w}' for w in words)}.")
    return redirect("trace:panel", number=number, key=key)


@require_POST
def do(request: BenchRequest, number: int, key: str, act: str) -> HttpResponse:
    """Do one act with a panel's shape."""
    job = load_job(number)
    part = panel_or_404(job.panels(), key)
    if act not in ACTS or (part.shape is None and act not in WITHOUT_SHAPE):
        raise Http404
    form = ACTS[act].form(request.POST, units=request.workroom.units)
    if not form.is_valid():
        words = " ".join(
            f"{form.fields[k].label or k}: {v[0]}" if k in form.fields else str(v[0]) for k, v in form.errors.items()
        )
        return _page(request, job, part, bound=form, act=act, refusal=words)
    try:
        words = ACTS[act].do(part, form.cleaned_data)
    except BadInput as refusal:
        return _page(request, job, part, bound=form, act=act, refusal=f"Nothing changed. {refusal.told}")
    messages.success(request, words)
    return _back(request, number, key, LOOK_OF.get(act, "edges"))


def _back(request: BenchRequest, number: int, key: str, look: str) -> HttpResponse:
    if request.POST.get("back") == "ready":
        return redirect("trace:ready", number=number)
    answer = redirect("trace:panel", number=number, key=key)
    if look != "edges":
        answer["Location"] += f"?look={look}"
    return answer


@require_POST
def undo(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Take the last change of the job's shapes back."""
    job = load_job(number)
    try:
        messages.success(request, f"Taken back: {undo_shapes(job)}.")
    except BadInput as refusal:
        messages.warning(request, f"Nothing taken back. {refusal.sentence}")
    look = request.POST.get("look", "edges")
    there = any(p.key == key for p in load_job(number).panels())
    return (
        _back(request, number, key, look if look in LOOKS else "edges")
        if there
        else redirect("trace:home", number=number)
    )


@require_POST
def hold_edge(request: BenchRequest, number: int, key: str, edge: str) -> HttpResponse:
    """Hold one edge another way."""
    job = load_job(number)
    part = panel_or_404(job.panels(), key)
    if not part.shape:
        raise Http404
    form = EdgeForm(request.POST, units=request.workroom.units, prefix=edge)
    if not form.is_valid():
        return _page(request, job, part, edge_form=form, edge=edge)
    try:
        data = form.cleaned_data
        adds = data["adds"]
        if data["join"] == "tucked" and data["gap"] is not None:  # what this gap takes, and what is stapled behind it
            adds = data["gap"] + job.rules["tuck_behind"]
        services.set_edge(part, edge, join=data["join"], adds=adds, side=data["side"] or None)
    except BadInput as refusal:
        form.refuse(refusal)
        return _page(request, job, part, edge_form=form, edge=edge)
    return redirect("trace:panel", number=number, key=key)


@require_POST
def looked_at(request: BenchRequest, number: int) -> HttpResponse:
    """Say that what an older version had otherwise has been looked at."""
    job = load_job(number)
    job.to_look_at = []
    job.save(update_fields=["to_look_at"])
    return go_back(request, reverse("trace:ready", args=[number]))


@require_POST
def choose_cloth(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Cut a panel from another of the job's cloths."""
    job = load_job(number)
    part = panel_or_404(job.panels(), key)
    chosen = next((c for c in job.cloths.all() if str(c.pk) == request.POST.get("cloth")), None)
    part.cloth = chosen
    part.save()
    return redirect("trace:panel", number=number, key=key)
