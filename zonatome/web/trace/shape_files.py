"""A flat piece as a file at true size."""

from __future__ import annotations

from django.http import HttpResponse

from zonatome.core.formats.shape_out import shape_dxf, shape_svg
from zonatome.core.formats.shape_pdf import shape_pdf
from zonatome.core.trace.shape import Shape
from zonatome.core.units import Units

KINDS = ("svg", "dxf", "pdf")


def shape_as_file(shape: Shape, kind: str, name: str, *, count: int, units: Units, paper: str = "a4") -> HttpResponse:
    """Return a shape to keep, as one of `KINDS`: on sheets of paper, or for a cutter. `count` stands on it."""
    if kind == "svg":
        answer = HttpResponse(shape_svg(shape, pieces=count, units=units), content_type="image/svg+xml")
    elif kind == "dxf":
        answer = HttpResponse(shape_dxf(shape, pieces=count, units=units), content_type="image/vnd.dxf")
    else:
        content = shape_pdf(shape, paper=paper, pieces=count, units=units)
        answer = HttpResponse(content, content_type="application/pdf")
    answer["Content-Disposition"] = f'attachment; filename="{name}.{kind}"'
    return answer
