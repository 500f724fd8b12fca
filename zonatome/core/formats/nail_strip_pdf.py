"""A paper strip with the marks of nails, 1 : 1: cut it out, lay it along the line, prick the marks through."""

from __future__ import annotations

import io

from reportlab.lib.pagesizes import A4, landscape
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from zonatome.core.errors import BadInput
from zonatome.core.formats.labels_pdf import INK, LINE, SOFT
from zonatome.core.formats.shape_pdf import CHECK
from zonatome.core.trim.nails import Nails
from zonatome.core.units import MM_PER_INCH, Units, format_length

SHOWN = 260.0  # mm of the line on one strip
HIGH = 18.0  # mm: how wide a strip is
BETWEEN = 9.0
MARGIN = 16.0
TOP = 44.0  # mm that the head and the test square take on the first page
MOST_STRIPS = 200
CHECKED: dict[Units, float] = {"metric": 20.0, "imperial": MM_PER_INCH}  # mm: the square that tells the size


def nail_strip_pdf(made: Nails, words: str, *, units: Units) -> bytes:
    """Return the strips, A4 on its side, as many as the line is long; each says where along the line it begins.

    The first page carries a square that tells whether the printer has kept the size. Raises BadInput for a line that
    takes more than 200 strips.
    """
    length = sum(run.length for run in made.runs)
    count = int(length // SHOWN) + 1
    if count > MOST_STRIPS:
        raise BadInput("length", length, f"a line of up to {MOST_STRIPS * SHOWN / 1000:.0f} m")
    content = io.BytesIO()
    page = landscape(A4)
    canvas = Canvas(content, pagesize=page)
    canvas.setTitle(words)
    canvas.setAuthor("Zonatome")
    side = CHECKED[units]
    canvas.setFillColor(INK)
    canvas.setFont("Helvetica-Bold", 14)
    y = page[1] / mm - MARGIN
    canvas.drawString(MARGIN * mm, y * mm, words)
    canvas.setFont("Helvetica", 9)
    canvas.setFillColor(SOFT)
    apart = ", ".join(dict.fromkeys(format_length(run.apart, units, "small") for run in made.runs))
    canvas.drawString(MARGIN * mm, (y - 6) * mm, f"{made.count} nails, {apart} apart; corners are crosses.")
    shown = format_length(side, units, "small")
    canvas.drawString(MARGIN * mm, (y - 11) * mm, f"{CHECK[0]} {CHECK[1].format(shown)}; {CHECK[2]}")
    canvas.setStrokeColor(INK)
    canvas.rect((page[0] / mm - MARGIN - side) * mm, (y - 14) * mm, side * mm, side * mm)
    y -= TOP - MARGIN
    for number in range(count):
        if y < MARGIN + HIGH:
            canvas.showPage()
            y = page[1] / mm - MARGIN
        _strip(canvas, made, number, min(SHOWN, length - number * SHOWN), y, units)
        y -= HIGH + BETWEEN
    canvas.showPage()
    canvas.save()
    return content.getvalue()


def _strip(canvas: Canvas, made: Nails, number: int, length: float, top: float, units: Units) -> None:
    begins = number * SHOWN
    middle = top - HIGH / 2
    canvas.setStrokeColor(LINE)
    canvas.setDash(2, 2)
    canvas.rect(MARGIN * mm, (top - HIGH) * mm, length * mm, HIGH * mm)
    canvas.setDash()
    canvas.setStrokeColor(INK)
    canvas.line(MARGIN * mm, middle * mm, (MARGIN + length) * mm, middle * mm)
    canvas.setFillColor(SOFT)
    canvas.setFont("Helvetica", 7)
    canvas.drawString((MARGIN + 1) * mm, (top - 3.2) * mm, f"{number + 1}: from {format_length(begins, units)}")
    for place in made.places:
        if not begins - 1e-6 <= place <= begins + length + 1e-6:
            continue
        x = MARGIN + place - begins
        canvas.circle(x * mm, middle * mm, made.head / 2 * mm)
        if place in made.corners:
            canvas.line((x - 3) * mm, (middle - 3) * mm, (x + 3) * mm, (middle + 3) * mm)
            canvas.line((x - 3) * mm, (middle + 3) * mm, (x + 3) * mm, (middle - 3) * mm)
        else:
            canvas.line(x * mm, (middle - 1.5) * mm, x * mm, (middle + 1.5) * mm)
