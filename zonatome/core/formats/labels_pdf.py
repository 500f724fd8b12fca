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
    canvas.setFont("Helvetica", 8.5)
    line = y + height - PAD - 25
    left_over = [word for words in label.lines for word in (*words.split(), "\n")]
    while left_over and line >= y + PAD:
        beside_code = line < y + PAD + CODE + 6
        text, left_over = _one_line(left_over, width - 2 * PAD - (CODE + PAD if beside_code else 0))
        canvas.drawString(x + PAD, line, text)
        line -= 10.5


def _one_line(words: list[str], room: float) -> tuple[str, list[str]]:
    """As many words as fit on a line, and the rest; a line break among them ends the line."""
    taken = 0
    while (
        taken < len(words)
        and words[taken] != "\n"
        and (not taken or stringWidth(" ".join(words[: taken + 1]), "Helvetica", 8.5) <= room)
    ):
        taken += 1
    rest = words[taken + 1 :] if taken < len(words) and words[taken] == "\n" else words[taken:]
    return " ".join(words[:taken]), rest


def _size_for(text: str, room: float, most: float) -> float:
    wide = stringWidth(text, "Helvetica-Bold", most)
    return most if wide <= room else max(7.0, most * room / wide)


def wrapped(text: str, room: float, size: float, font: str = "Helvetica") -> list[str]:
    """Return a text in lines no wider than `room` points, broken between words; a longer word stands alone."""
    lines: list[str] = []
    for word in text.split():
        if lines and stringWidth(f"{lines[-1]} {word}", font, size) <= room:
            lines[-1] += f" {word}"
        else:
            lines.append(word)
    return lines


def _arrow(canvas: Canvas, x: float, top: float) -> None:
    """An arrow to the top of the panel."""
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(1.4)
    canvas.line(x, top - 9 * mm, x, top)
    canvas.line(x, top, x - 1.8 * mm, top - 2.6 * mm)
    canvas.line(x, top, x + 1.8 * mm, top - 2.6 * mm)
