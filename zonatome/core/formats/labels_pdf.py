"""Labels for bags and panels: several a sheet, each with a code that opens the tag's page."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.graphics import renderPDF
from reportlab.graphics.barcode.qr import QrCodeWidget
from reportlab.graphics.shapes import Drawing
from reportlab.lib import colors
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.units import mm
from reportlab.lib.utils import simpleSplit
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.pdfgen.canvas import Canvas

from zonatome.core.errors import BadInput
from zonatome.core.units import Units

COLUMNS = 3
ROWS = 7
MARGIN = 8 * mm
PAD = 3 * mm
CODE = 21 * mm
MOST_LABELS = 400
SMALL = 8.5  # points
INK = colors.HexColor("#20252c")
SOFT = colors.HexColor("#5d6167")
LINE = colors.HexColor("#9b927c")


@dataclass(frozen=True)
class Label:
    """One label: the large word, lines under it, an address for the code, and whether an arrow to the top is wanted."""

    head: str
    lines: tuple[str, ...]
    address: str
    has_arrow: bool = False


def labels_pdf(labels: Sequence[Label], *, units: Units, title: str = "Labels") -> bytes:
    """Return the PDF: three labels across and seven down, on A4, or on letter paper for imperial workrooms.

    Thin lines show where to cut. Raises BadInput for no label or for more than 400.
    """
    if not 1 <= len(labels) <= MOST_LABELS:
        raise BadInput("labels", len(labels), f"1 to {MOST_LABELS} labels")
    content = io.BytesIO()
    page = LETTER if units == "imperial" else A4
    canvas = Canvas(content, pagesize=page)
    canvas.setTitle(title)
    canvas.setAuthor("Zonatome")
    width, height = (page[0] - 2 * MARGIN) / COLUMNS, (page[1] - 2 * MARGIN) / ROWS
    for n, label in enumerate(labels):
        at = n % (COLUMNS * ROWS)
        if n and not at:
            canvas.showPage()
        x = MARGIN + (at % COLUMNS) * width
        y = page[1] - MARGIN - (at // COLUMNS + 1) * height
        _label(canvas, label, x, y, width, height)
    canvas.showPage()
    canvas.save()
    return content.getvalue()


def _label(canvas: Canvas, label: Label, x: float, y: float, width: float, height: float) -> None:
    canvas.setStrokeColor(LINE)
    canvas.setLineWidth(0.4)
    canvas.setDash(2, 2)
    canvas.rect(x, y, width, height)
    canvas.setDash()
    code = QrCodeWidget(label.address, barLevel="M", barBorder=0)
    left, low, right, top = code.getBounds()
    drawing = Drawing(CODE, CODE, transform=[CODE / (right - left), 0, 0, CODE / (top - low), 0, 0])
    drawing.add(code)
    renderPDF.draw(drawing, canvas, x + width - CODE - PAD, y + PAD)
    canvas.setFillColor(INK)
    room = width - 2 * PAD - (6 * mm if label.has_arrow else 0)
    size = _size_for(label.head, room, 15)
    canvas.setFont("Helvetica-Bold", size)
    canvas.drawString(x + PAD, y + height - PAD - size * 0.8, label.head)
    if label.has_arrow:
        _arrow(canvas, x + width - PAD - 2.5 * mm, y + height - PAD)
    canvas.setFont("Helvetica", SMALL)
    line = y + height - PAD - 25
    left_over = [" ".join(words.split()) for words in label.lines]
    while left_over and line >= y + PAD:
        beside_code = line < y + PAD + CODE + 6
        room = width - 2 * PAD - (CODE + PAD if beside_code else 0)
        text = next(iter(simpleSplit(left_over[0], "Helvetica", SMALL, room)), "")
        rest = left_over[0][len(text) :].strip()
        left_over[:1] = [rest] if rest else []
        canvas.drawString(x + PAD, line, text)
        line -= 10.5


def _size_for(text: str, room: float, most: float) -> float:
    wide = stringWidth(text, "Helvetica-Bold", most)
    return most if wide <= room else max(7.0, most * room / wide)


def _arrow(canvas: Canvas, x: float, top: float) -> None:
    """An arrow to the top of the panel."""
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(1.4)
    canvas.line(x, top - 9 * mm, x, top)
    canvas.line(x, top, x - 1.8 * mm, top - 2.6 * mm)
    canvas.line(x, top, x + 1.8 * mm, top - 2.6 * mm)
