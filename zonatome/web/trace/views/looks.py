"""What each look at a shape shows: its edges, how it is trued, its seams, marks, what is made of it, its files."""

from __future__ import annotations

from typing import Any

from django.http import Http404

from zonatome.core.errors import BadInput
from zonatome.core.formats.shape_pdf import SQUARES
from zonatome.core.survey.kind import CHANNEL_DEEP
from zonatome.core.trace.ready import Readiness
from zonatome.core.trace.restyled import PAST_TUCK
from zonatome.core.trace.shape import LINES, MARKS, MOST_EASE, Shape
from zonatome.core.trace.truing import angles, bows, can_be_squared, circle_of, fold
from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.models import JobPart
from zonatome.web.trace import forms as asked
from zonatome.web.trace.acts import seam_named
from zonatome.web.trace.drawing import fold_drawing, walk_drawing
from zonatome.web.trace.views.files import plotted


def _look_edges(request: BenchRequest, part: JobPart, shape: Shape, found: Readiness) -> dict[str, Any]:
    return {}


def _look_true(request: BenchRequest, part: JobPart, shape: Shape, found: Readiness) -> dict[str, Any]:
    units = request.workroom.units
    line_form = asked.LineForm(request.GET if "low" in request.GET else None, units=units)
    line, words = None, ""
    if (
        line_form.is_bound
        and line_form.is_valid()
        and line_form.cleaned_data["low"] is not None
        and line_form.cleaned_data["high"] is not None
    ):
        x0, y0, _, y1 = shape.outline.bounds
        line = ((x0 + line_form.cleaned_data["low"], y0), (x0 + line_form.cleaned_data["high"], y1))
    try:
        folded = fold(shape.outline, line)
    except BadInput as refusal:
        folded, line, words = fold(shape.outline), None, refusal.sentence
    circle = circle_of(shape.outline)
    is_round = len(shape.edges) == 1 or circle.is_likely
    bent = [b for b in bows(shape) if b.is_slight]
    corners = [a for a in angles(shape) if a.is_nearly_square]
    return {
        "fold": folded,
        "fold_drawing": fold_drawing(shape, folded),
        "line_form": line_form,
        "line_words": words,
        "drawn_line": line is not None,
        "circle": circle if is_round else None,
        "bent": bent,
        "corners": corners,
        "can_square": bool(corners) and can_be_squared(shape),
        "stretch_form": asked.StretchForm(auto_id="stretch_%s", units=units),
    }


def _look_seams(request: BenchRequest, part: JobPart, shape: Shape, found: Readiness) -> dict[str, Any]:
    mine = [s for s in found.seams if part.key == s.one.key or part.key in [o.key for o in s.others]]
    context: dict[str, Any] = {
        "seams": mine,
        "ease_form": asked.EaseForm(auto_id="ease_%s", units=request.workroom.units),
        "most_ease": MOST_EASE * 100,
    }
    key = request.GET.get("walk", "")
    if key:
        try:
            seam, shapes = seam_named(part, key)
        except BadInput:
            raise Http404 from None
        drawn = walk_drawing(seam, shapes[seam.one.key], shapes[seam.other.key])
        context |= {"walk": drawn, "walked": seam, "walk_ends": seam.end_words(request.workroom.units)}
    return context


def _look_marks(request: BenchRequest, part: JobPart, shape: Shape, found: Readiness) -> dict[str, Any]:
    units = request.workroom.units
    grid = part.part.buttons
    buttons = (
        {"rows": grid.rows, "columns": grid.columns, "across": grid.across, "down": grid.down, "deep": grid.deep}
        if grid
        else {}
    )
    counts = {means: len([m for m in shape.marks if m.means == means]) for means in MARKS}
    return {
        "counts": [(means, MARKS[means], n, means in LINES) for means, n in counts.items() if n],
        "notch_form": asked.NotchForm(auto_id="notch_%s", units=units),
        "buttons_form": asked.ButtonsForm(auto_id="buttons_%s", units=units, initial=buttons),
        "channels_form": asked.ChannelsForm(auto_id="channels_%s", units=units, initial={"deep": CHANNEL_DEEP}),
        "point_form": asked.PointForm(auto_id="point_%s", units=units),
    }


def _look_more(request: BenchRequest, part: JobPart, shape: Shape, found: Readiness) -> dict[str, Any]:
    units = request.workroom.units
    return {
        "band_form": asked.BandForm(
            auto_id="band_%s", units=units, initial={"name": f"Band, {part.name.lower()}", "lower": "stapled_under"}
        ),
        "fly_form": asked.FlyForm(auto_id="fly_%s", units=units),
        "past_tuck": PAST_TUCK,
        "cushion_form": asked.CushionForm(
            auto_id="cushion_%s",
            units=units,
            initial={"zip_round": 90.0, "sort": "round" if len(shape.edges) == 1 else "box"},
        ),
        "mirror": part.job.kind.part(part.part.mirror) if part.part.mirror else None,
        "strips_form": asked.StripsForm(auto_id="strips_%s", units=units),
    }


def _look_files(request: BenchRequest, part: JobPart, shape: Shape, found: Readiness) -> dict[str, Any]:

    kind, shown = request.GET.get("plot", ""), {"test_square": SQUARES[request.workroom.units][1]}
    if kind not in ("svg", "dxf"):
        return shown
    try:
        return shown | {"plot": kind, "plotted": plotted(request, part, shape, kind)}
    except BadInput as refusal:
        return shown | {"plot_refusal": f"The plotter refused it. {refusal.told}"}


SHOWN_AT = {
    "edges": _look_edges,
    "true": _look_true,
    "seams": _look_seams,
    "marks": _look_marks,
    "more": _look_more,
    "files": _look_files,
}
