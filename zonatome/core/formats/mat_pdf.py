"""The tracing mat's four markers on paper, at true size, with a ruler to check the printer by."""

from __future__ import annotations

import io
from typing import TYPE_CHECKING

from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from zonatome.core.formats.labels_pdf import INK, LINE, SOFT
from zonatome.core.lazily import Lazily
from zonatome.core.trace.mat import IDS, MARKER, NAMES
from zonatome.core.units import MM_PER_INCH, Units

if TYPE_CHECKING:
    import cv2
else:
    cv2 = Lazily("cv2")

CELLS = 6  # four of the code and one of black all round
WHITE = 16.0  # mm of white paper round the black square
# marks, mm from one to the next, every so many longer, every so many with a figure, its length in words
RULERS: dict[Units, tuple[int, float, int, int, str]] = {
    "metric": (150, 1.0, 5, 10, "150 mm"),
    "imperial": (48, MM_PER_INCH / 8, 4, 8, "6 in"),
}


def mat_pdf(*, units: Units) -> bytes:
    """Return the PDF: two markers a page to cut out, each with its white margin, and a ruler under them, of 150 mm or
    six inches.

    The black squares are 60 mm on a side and drawn as areas, so that no printer blurs them.
    """
    content = io.BytesIO()
    page = LETTER if units == "imperial" else A4
    canvas = Canvas(content, pagesize=page)
    canvas.setTitle("Tracing markers")
    canvas.setAuthor("Zonatome")
    for first in (0, 2):
        for place, key in enumerate(IDS[first : first + 2]):
            _marker(canvas, key, page[0] / 2, page[1] - (28 + place * 106) * mm)
        _ruler(canvas, page, units)
        canvas.showPage()
    canvas.save()
    return content.getvalue()


def _marker(canvas: Canvas, key: int, middle: float, top: float) -> None:
    side, cell = MARKER * mm, MARKER * mm / CELLS
    left = middle - side / 2
    canvas.setFillColor(INK)
    canvas.setFont("Helvetica-Bold", 11)
    canvas.drawCentredString(middle, top + 8, f"Marker {key}: lies at the {NAMES[key]} of the mat, this way up")
    top -= WHITE * mm
    canvas.setStrokeColor(LINE)
    canvas.setLineWidth(0.5)
    canvas.setDash(3, 3)
    canvas.rect(left - WHITE * mm, top - side - WHITE * mm, side + 2 * WHITE * mm, side + 2 * WHITE * mm)
    canvas.setDash()
    bits = cv2.aruco.generateImageMarker(cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_4X4_50), key, CELLS)
    canvas.setFillColorRGB(0, 0, 0)
    overlap = 0.02  # a hair, so that neighbouring cells print without a white line between
    for row in range(CELLS):
        for column in range(CELLS):
            if bits[row, column] < 128:
                canvas.rect(
                    left + column * cell, top - (row + 1) * cell, cell + overlap, cell + overlap, stroke=0, fill=1
                )


def _ruler(canvas: Canvas, page: tuple[float, float], units: Units) -> None:
    """A ruler: laid beside a steel one it says whether the printer has kept the size."""
    marks, apart, longer, figures, said = RULERS[units]
    left, y = page[0] / 2 - marks * apart * mm / 2, 24 * mm
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(0.6)
    canvas.line(left, y, left + marks * apart * mm, y)
    canvas.setFillColor(INK)
    canvas.setFont("Helvetica", 8)
    for k in range(marks + 1):
        x = left + k * apart * mm
        canvas.line(x, y, x, y + (5 if k % figures == 0 else 3 if k % longer == 0 else 1.8) * mm)
        if k % figures == 0:
            canvas.drawCentredString(x, y + 6 * mm, str(k if units == "metric" else k // figures))
    canvas.setFillColor(SOFT)
    squares = f"; the black squares {MARKER:.0f} mm" if units == "metric" else ""
    words = f"Print at actual size, 100 %. This ruler must measure {said}{squares}. Cut along the dashes."
    canvas.drawCentredString(page[0] / 2, y - 12, words)
