"""The cut sheet on paper: the drawing to scale, then every piece with its corners and a box to tick."""

from __future__ import annotations

import io
import itertools
from dataclasses import dataclass

from reportlab.lib import colors
from reportlab.lib.pagesizes import A4, landscape
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from zonatome.core.lay.cutting import Corner, CutRow, CutSheet
from zonatome.core.lay.request import Lay, LayRequest
from zonatome.core.units import Units, format_length

INK, SOFT, MADDER, PAPER_LINE = (
    colors.HexColor("#20252c"),
    colors.HexColor("#666a70"),
    colors.HexColor("#a43e2c"),
    colors.HexColor("#d5cab4"),
)
MARGIN = 14 * mm
ROW = 5.4 * mm
CORNERS_A_LINE = 4
HOW_TO_READ = (
    "Stand at the squared end and look up the roll: distances are from the squared end / from the left selvage. Arrows point to the top."
)


@dataclass(frozen=True)
class SheetHead:
    """The words above the drawing: tag, cloth, what to buy; `printed` is the date in words."""

    tag: str
    cloth: str
    buy: str
    printed: str


def corner_words(corner: Corner, units: Units) -> str:
    """Return a corner as it is read off: from the squared end / from the left selvage."""
    return f"{format_length(corner.from_end, units)} / {format_length(corner.from_left, units)}"


def cut_sheet_pdf(request: LayRequest, lay: Lay, sheet: CutSheet, head: SheetHead, *, units: Units) -> bytes:
    """Return the PDF, A4 on its side: one page with the drawing, then as many as the table takes."""
    content = io.BytesIO()
    page = landscape(A4)
    canvas = Canvas(content, pagesize=page)
    canvas.setTitle(f"Cut sheet {head.tag}")
    canvas.setAuthor("Zonatome")
    top = _head(canvas, head, page, first=True)
    _drawing(canvas, request, lay, sheet, page, top, units)
    canvas.showPage()
    y = _table_head(canvas, head, page)
    y = _cross_cuts(canvas, sheet, y, units)
    for row in sheet.rows:
        lines = max(1, -(-len(row.corners) // CORNERS_A_LINE))
        if y - lines * ROW < MARGIN + ROW:
            canvas.showPage()
            y = _table_head(canvas, head, page)
        y = _row(canvas, row, y, units)
    canvas.setFont("Helvetica", 8)
    canvas.setFillColor(SOFT)
    canvas.drawString(MARGIN, MARGIN - 2 * mm, "A cut is final: all there, all the same way, pairs are pairs. Welt last.")
    canvas.showPage()
    canvas.save()
    return content.getvalue()


def _head(canvas: Canvas, head: SheetHead, page: tuple[float, float], *, first: bool) -> float:
    y: float = page[1] - MARGIN
    canvas.setFillColor(INK)
    canvas.setFont("Helvetica-Bold", 15)
    canvas.drawString(MARGIN, y - 8, f"Cut sheet: {head.tag}")
    canvas.setFont("Helvetica", 9.5)
    canvas.setFillColor(SOFT)
    canvas.drawRightString(page[0] - MARGIN, y - 8, head.printed)
    if first:
        canvas.setFillColor(INK)
        canvas.drawString(MARGIN, y - 24, f"{head.cloth}.  {head.buy}.")
        canvas.setFillColor(SOFT)
        canvas.drawString(MARGIN, y - 37, HOW_TO_READ)
    return y - (46 if first else 20)


def _drawing(canvas: Canvas, request: LayRequest, lay: Lay, sheet: CutSheet, page: tuple[float, float], top: float, units: Units) -> None:
    room_x, room_y = page[0] - 2 * MARGIN, top - MARGIN - 12 * mm
    scale = min(room_x / max(lay.length, 1), room_y / request.roll.width)
    left, base = MARGIN, top - 8 * mm - request.roll.width * scale
    canvas.setStrokeColor(INK)
    canvas.setFillColor(colors.HexColor("#f4efe2"))
    canvas.rect(left, base, lay.length * scale, request.roll.width * scale, fill=1)
    canvas.setFillColor(PAPER_LINE)
    for y, height in ((0, request.roll.selvage[0]), (request.roll.high, request.roll.selvage[1])):
        canvas.rect(left, base + y * scale, lay.length * scale, height * scale, fill=1, stroke=0)
    _ruler(canvas, lay.length, left, base + request.roll.width * scale, scale, units)
    canvas.setStrokeColor(MADDER)
    canvas.setDash(4, 3)
    for cut in sheet.cross_cuts:
        canvas.line(left + cut * scale, base - 6, left + cut * scale, base + request.roll.width * scale)
    canvas.setDash()
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(0.7)
    for row in sheet.rows:
        _outline(canvas, row, left, base, scale)


def _ruler(canvas: Canvas, length: float, left: float, y: float, scale: float, units: Units) -> None:
    step = 500.0 if units == "metric" else 457.2
    canvas.setFont("Helvetica", 7)
    canvas.setFillColor(SOFT)
    at = 0.0
    while at <= length:
        canvas.line(left + at * scale, y, left + at * scale, y + 5)
        canvas.drawString(left + at * scale + 2, y + 3, format_length(at, units, "cloth") if at else "0")
        at += step


def _outline(canvas: Canvas, row: CutRow, left: float, base: float, scale: float) -> None:
    path = canvas.beginPath()
    for n, (x, y) in enumerate(row.outline.points):
        (path.moveTo if n == 0 else path.lineTo)(left + x * scale, base + y * scale)
    path.close()
    canvas.setFillColor(colors.white)
    canvas.drawPath(path, fill=1)
    for mark in row.marks:
        for (ax, ay), (bx, by) in itertools.pairwise(mark):
            canvas.line(left + ax * scale, base + ay * scale, left + bx * scale, base + by * scale)
    x0, y0, x1, y1 = row.outline.bounds
    cx, cy = left + (x0 + x1) / 2 * scale, base + (y0 + y1) / 2 * scale
    canvas.setFillColor(INK)
    wide, high = (x1 - x0) * scale, (y1 - y0) * scale
    size = min(8.0, wide / max(1, len(row.name)) * 1.8, high * 0.8)
    label = row.name if size >= 4 else str(row.number)
    canvas.setFont("Helvetica-Bold", max(4.0, size))
    canvas.drawCentredString(cx, cy + (2 if not row.is_strip else -2), label)
    if not row.is_strip and min(wide, high) > 24:
        canvas.saveState()
        canvas.translate(cx, cy - 8)
        canvas.rotate(row.turn_degrees)
        canvas.line(8, 0, -8, 0)
        canvas.line(-8, 0, -5, 2)
        canvas.line(-8, 0, -5, -2)
        canvas.restoreState()


def _table_head(canvas: Canvas, head: SheetHead, page: tuple[float, float]) -> float:
    y = _head(canvas, head, page, first=False)
    canvas.setFont("Helvetica-Bold", 9)
    canvas.setFillColor(INK)
    canvas.drawString(MARGIN, y, "cut")
    canvas.drawString(MARGIN + 12 * mm, y, "no.")
    canvas.drawString(MARGIN + 22 * mm, y, "piece")
    canvas.drawString(MARGIN + 78 * mm, y, "corners: from the squared end / from the left selvage")
    canvas.setStrokeColor(PAPER_LINE)
    canvas.line(MARGIN, y - 4, page[0] - MARGIN, y - 4)
    return float(y - ROW - 2)


def _cross_cuts(canvas: Canvas, sheet: CutSheet, y: float, units: Units) -> float:
    if not sheet.cross_cuts:
        return y
    canvas.setFont("Helvetica", 9)
    canvas.setFillColor(MADDER)
    canvas.drawString(MARGIN + 22 * mm, y, "Right across first, at " + ", ".join(format_length(c, units) for c in sheet.cross_cuts))
    return float(y - ROW)


def _row(canvas: Canvas, row: CutRow, y: float, units: Units) -> float:
    canvas.setStrokeColor(INK)
    canvas.setFillColor(INK)
    canvas.rect(MARGIN + 1 * mm, y - 1, 3.4 * mm, 3.4 * mm)
    canvas.setFont("Helvetica", 9)
    canvas.drawRightString(MARGIN + 18 * mm, y, str(row.number))
    canvas.setFont("Helvetica-Bold", 9)
    canvas.drawString(MARGIN + 22 * mm, y, row.name)
    canvas.setFont("Helvetica", 9)
    for n in range(0, len(row.corners), CORNERS_A_LINE):
        words = "     ".join(corner_words(c, units) for c in row.corners[n : n + CORNERS_A_LINE])
        canvas.drawString(MARGIN + 78 * mm, y, words + ("   (its box; trace the shape)" if row.is_box and n == 0 else ""))
        y -= ROW
    return y
