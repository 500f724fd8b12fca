"""A shape as a file to take along: piece JSON, SVG, DXF, 1 : 1 on paper;
and what the plotter's stand-in makes of it.
"""

from __future__ import annotations

import base64
import json
from dataclasses import dataclass
from typing import TYPE_CHECKING

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect

from zonatome.core.errors import BadInput
from zonatome.core.formats.piece_json import write_piece
from zonatome.core.formats.shape_out import shape_dxf, shape_svg
from zonatome.core.formats.shape_pdf import shape_pdf
from zonatome.core.trace.shape import Shape
from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.loading import load_job, panel_or_404
from zonatome.web.jobs.models import JobPart
from zonatome.web.trace import services

if TYPE_CHECKING:
    from zonatome.standins.pattern_plotter import Plotted

TYPES = {"json": "application/json", "svg": "image/svg+xml", "dxf": "image/vnd.dxf", "pdf": "application/pdf"}
PAPERS = ("a4", "letter", "long")


@dataclass(frozen=True)
class OnPaper:
    """What the plotter says it has drawn, with the picture ready for a page."""

    told: Plotted
    picture: str
    minutes: int

    @property
    def size(self) -> str:
        """How large it came out, to the tenth of a millimetre."""
        return f"{self.told.width:.1f} × {self.told.height:.1f} mm"


def shape_file(request: BenchRequest, number: int, key: str, kind: str) -> HttpResponse:
    """Give the shape as a file of a kind: json, svg, dxf, a4, letter, long."""
    part = panel_or_404(load_job(number).panels(), key)
    if not part.shape or (kind not in TYPES and kind not in PAPERS) or kind == "pdf":
        raise Http404
    shape = services.shape_of_part(part)
    try:
        content = _written(request, part, shape, kind)
    except BadInput as refusal:
        messages.warning(request, f"Not made. {refusal.told}")
        answer = redirect("trace:panel", number=number, key=key)
        answer["Location"] += "?look=files"
        return answer
    ending = "pdf" if kind in PAPERS else kind
    name = f"{number}-{key}{f'-{kind}' if kind in PAPERS else ''}.{ending}"
    how = "inline" if kind in PAPERS else "attachment"
    return HttpResponse(
        content, content_type=TYPES[ending], headers={"Content-Disposition": f'{how}; filename="{name}"'}
    )


def _written(request: BenchRequest, part: JobPart, shape: Shape, kind: str) -> bytes:
    units = request.workroom.units
    if kind == "json":
        return json.dumps(write_piece(shape), indent=1).encode()
    if kind == "svg":
        return shape_svg(shape, pieces=part.pieces, units=units)
    if kind == "dxf":
        return shape_dxf(shape, pieces=part.pieces, units=units)
    return shape_pdf(shape, paper=kind, pieces=part.pieces, units=units)


def plotted(request: BenchRequest, part: JobPart, shape: Shape, kind: str) -> OnPaper:
    """Send a shape's file to the plotter's stand-in. Raises BadInput where it refuses."""
    from zonatome.standins.pattern_plotter import plot  # noqa: PLC0415 reads drawings, which nothing else on this page does

    told = plot(_written(request, part, shape, kind), name=f"{part.key}.{kind}")
    picture = base64.b64encode(told.picture).decode()
    return OnPaper(told, f"data:image/png;base64,{picture}", max(1, round(told.seconds / 60)))
