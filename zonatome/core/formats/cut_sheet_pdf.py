"""The cut sheet on paper: the drawing to scale, then every piece with its corners and a box to tick; and a large one
for the wall.
"""

from __future__ import annotations

import io
import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any
from xml.sax.saxutils import escape

from reportlab.graphics.shapes import Drawing, Rect
from reportlab.lib import colors
from reportlab.lib.pagesizes import A3, A4, landscape
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import LongTable, PageBreak, Paragraph, Spacer

from zonatome.core.formats.record_pdf import WORDS, paper
from zonatome.core.lay.table.cut_sheet import Corner, CutRow, CutSheet, CuttingTable
from zonatome.core.outline import Point
from zonatome.core.units import Units, format_length

INK = colors.HexColor("#20252c")
SOFT = colors.HexColor("#666a70")
MADDER = colors.HexColor("#a43e2c")
PAPER_LINE = colors.HexColor("#d5cab4")
MARGIN = 14 * mm
HEAD = 20.0  # points for what stands above the table on every page
COLUMNS = (10 * mm, 10 * mm, 58 * mm)  # box, number and name; the corners have the rest
TICK = 3.4 * mm
ENDING = ParagraphStyle("ending", WORDS, fontSize=8, textColor=SOFT, spaceBefore=8)
FIRST = ParagraphStyle("first", WORDS, fontSize=9, leading=11, textColor=MADDER)
NAME = ParagraphStyle("name", WORDS, fontName="Helvetica-Bold", fontSize=9, leading=11)
CORNERS_A_LINE = 4
LAST_WORDS = {
    True: "A cut is final: all there, all the same way, pairs are pairs. Welt last.",
    False: "Largest first; a long blade held upright, so that the edges are square.",
}
WALL_WORDS = 15.0  # points: capitals of 4 mm, read from a metre away
WALL_NUMBER = 30.0
WALL_COLUMNS = 2


def how_to_read(sheet: CutSheet) -> str:
    """Return the words that say from where the distances of a sheet are taken."""
    end, side = sheet.read_from
    stand = f"Each {sheet.ground} lies as drawn" if sheet.on_panels else "Stand at the squared end and look up the roll"
    arrows = " Arrows point to the top." if sheet.has_top else ""
    return f"{stand}: distances are from {end} / from {side}.{arrows}"


@dataclass(frozen=True)
class SheetHead:
    """The words above the drawing: tag, cloth, what to buy; `printed` is the date in words."""

    tag: str
    cloth: str
    buy: str
    printed: str


def corner_words(corner: Corner, units: Units) -> str:
    """Return a corner as it is read off: from the squared end / from the left selvage, to the mm or the eighth of an
    inch.
    """
    return f"{format_length(corner.from_end, units, 'sheet')} / {format_length(corner.from_left, units, 'sheet')}"


def cut_sheet_pdf(sheet: CutSheet, head: SheetHead, *, units: Units) -> bytes:
    """Return the PDF, A4 on its side: one page with the drawing, then as many as the table takes."""
    content = io.BytesIO()
    page = landscape(A4)
    document = paper(content, page, margin=MARGIN, head=HEAD, title=f"Cut sheet {head.tag}")

    def drawing(canvas: Canvas, _: Any) -> None:
        _drawing(canvas, sheet, page, _head(canvas, head, page, how_to_read(sheet)), units)

    def table(canvas: Canvas, _: Any) -> None:
        _head(canvas, head, page)

    story = [
        Spacer(0, 1),
        PageBreak(),  # the drawing has the first page to itself
        _rows(sheet, page[0] - 2 * MARGIN, units),
        Paragraph(LAST_WORDS[sheet.has_top], ENDING),
    ]
    document.build(story, onFirstPage=drawing, onLaterPages=table)
    return content.getvalue()


def _rows(sheet: CutSheet, width: float, units: Units) -> LongTable:
    """The table of what is cut, its head on every page: a box to tick, number, name, corners."""
    rows: list[list[Any]] = [["cut", "no.", "piece", "corners: from " + " / from ".join(sheet.read_from)]]
    if sheet.cross_cuts:
        at = ", ".join(format_length(c, units, "sheet") for c in sheet.cross_cuts)
        rows.append(["", "", Paragraph(f"Right across first, at {at}", FIRST), ""])
    for row in sheet.rows:
        name = escape(_name_of(row, sheet))
        rows.append([_tick_box(), str(row.number), Paragraph(name, NAME), _corners(row, units)])
    looks = [
        ("FONT", (0, 0), (-1, 0), "Helvetica-Bold", 9),
        ("FONT", (0, 1), (-1, -1), "Helvetica", 9),
        ("TEXTCOLOR", (0, 0), (-1, -1), INK),
        ("ALIGN", (1, 0), (1, -1), "RIGHT"),
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("LINEBELOW", (0, 0), (-1, 0), 0.6, PAPER_LINE),
        ("LEFTPADDING", (0, 0), (0, -1), 0),
        ("TOPPADDING", (0, 0), (-1, -1), 1.5),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 2.5),
        *([("SPAN", (2, 1), (3, 1))] if sheet.cross_cuts else []),
    ]
    return LongTable(rows, colWidths=[*COLUMNS, width - sum(COLUMNS)], style=looks, repeatRows=1, splitByRow=1)


def _name_of(row: CutRow, sheet: CutSheet) -> str:
    return f"{row.name}, {sheet.ground} {row.panel + 1}" if sheet.on_panels else row.name


def _corners(row: CutRow, units: Units) -> str:
    """Where a piece's corners are, some to a line."""
    corners = [corner_words(c, units) for c in row.corners]
    lines = ["     ".join(corners[n : n + CORNERS_A_LINE]) for n in range(0, len(corners), CORNERS_A_LINE)] or [""]
    lines[0] += "   (its box; trace the shape)" if row.is_box else ""
    return "\n".join(lines)


def _tick_box() -> Drawing:
    """An empty box, to tick what is cut."""
    return Drawing(TICK, TICK, Rect(0, 0, TICK, TICK, fillColor=None, strokeColor=INK))


def _head(canvas: Canvas, head: SheetHead, page: tuple[float, float], how: str = "") -> float:
    y: float = page[1] - MARGIN
    canvas.setFillColor(INK)
    canvas.setFont("Helvetica-Bold", 15)
    canvas.drawString(MARGIN, y - 8, f"Cut sheet: {head.tag}")
    canvas.setFont("Helvetica", 9.5)
    canvas.setFillColor(SOFT)
    canvas.drawRightString(page[0] - MARGIN, y - 8, head.printed)
    if how:
        canvas.setFillColor(INK)
        canvas.drawString(MARGIN, y - 24, f"{head.cloth}.  {head.buy}.")
        canvas.setFillColor(SOFT)
        canvas.drawString(MARGIN, y - 37, how)
    return y - (46 if how else 20)


def _drawing(
    canvas: Canvas,
    sheet: CutSheet,
    page: tuple[float, float],
    top: float,
    units: Units,
    *,
    margin: float = MARGIN,
    numbers: bool = False,
) -> float:
    """The table to scale under `top`; where it ends. `numbers` marks each piece by its number alone, large."""
    table = sheet.table
    room_x, room_y = page[0] - 2 * margin, top - margin - 12 * mm
    scale = min(room_x / max(table.length, 1), room_y / table.width)
    left, base = margin, top - 8 * mm - table.width * scale
    canvas.setStrokeColor(INK)
    canvas.setFillColor(colors.HexColor("#f4efe2"))
    for ground in table.grounds:
        _filled(canvas, ground.points, left, base, scale)
    canvas.setFillColor(PAPER_LINE)
    for flaw in table.flaws:
        _filled(canvas, flaw.points, left, base, scale)
    if not sheet.on_panels:
        _ruler(canvas, table, left, base, scale, units, size=12.0 if numbers else 7.0)
    canvas.setStrokeColor(MADDER)
    canvas.setDash(4, 3)
    for cut in sheet.cross_cuts:
        canvas.line(left + cut * scale, base - 6, left + cut * scale, base + table.width * scale)
    canvas.setDash()
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(0.7)
    for row in sheet.rows:
        _outline(canvas, row, left, base, scale, numbers=numbers, has_top=sheet.has_top)
    return float(base)


def _filled(canvas: Canvas, points: Sequence[Point], left: float, base: float, scale: float) -> None:
    path = canvas.beginPath()
    for n, (x, y) in enumerate(points):
        (path.moveTo if n == 0 else path.lineTo)(left + x * scale, base + y * scale)
    path.close()
    canvas.drawPath(path, fill=1)


def _ruler(
    canvas: Canvas, table: CuttingTable, left: float, base: float, scale: float, units: Units, *, size: float
) -> None:
    length, y = table.length, base + table.width * scale
    step = 500.0 if units == "metric" else 457.2
    canvas.setFont("Helvetica", size)
    canvas.setFillColor(SOFT)
    at = 0.0
    while at <= length:
        canvas.line(left + at * scale, y, left + at * scale, y + 5)
        canvas.drawString(left + at * scale + 2, y + 3, format_length(at, units, "cloth") if at else "0")
        at += step


def _outline(
    canvas: Canvas, row: CutRow, left: float, base: float, scale: float, *, numbers: bool = False, has_top: bool = True
) -> None:
    canvas.setFillColor(colors.white)
    _filled(canvas, row.outline.points, left, base, scale)
    for mark in row.marks:
        for (ax, ay), (bx, by) in itertools.pairwise(mark):
            canvas.line(left + ax * scale, base + ay * scale, left + bx * scale, base + by * scale)
    x0, y0, x1, y1 = row.outline.bounds
    cx, cy = left + (x0 + x1) / 2 * scale, base + (y0 + y1) / 2 * scale
    canvas.setFillColor(INK)
    wide, high = (x1 - x0) * scale, (y1 - y0) * scale
    size = min(8.0, wide / max(1, len(row.name)) * 1.8, high * 0.8)
    label = row.name if size >= 4 and not numbers else str(row.number)
    if numbers:
        size = min(WALL_NUMBER, wide * 0.8 / len(label), high * 0.8)
        cy -= size * 0.3
    canvas.setFont("Helvetica-Bold", max(4.0, size))
    canvas.drawCentredString(cx, cy + (2 if not row.is_strip else -2), label)
    if has_top and not row.is_strip and min(wide, high) > (70 if numbers else 24):
        canvas.saveState()
        canvas.translate(cx, cy - 8)
        canvas.rotate(row.turn_degrees)
        canvas.line(8, 0, -8, 0)
        canvas.line(-8, 0, -5, 2)
        canvas.line(-8, 0, -5, -2)
        canvas.restoreState()


def wall_sheet_pdf(sheet: CutSheet, head: SheetHead, *, units: Units) -> bytes:
    """Return a sheet for the wall at the table, A3 on its side, read from a metre away: the drawing, then the order in
    large.
    """
    content = io.BytesIO()
    page = landscape(A3)
    line, wide = WALL_WORDS * 1.75, (page[0] - 2 * MARGIN) / WALL_COLUMNS
    canvas = Canvas(content, pagesize=page)
    canvas.setTitle(f"Wall sheet {head.tag}")
    canvas.setAuthor("Zonatome")
    y = page[1] - MARGIN - 24
    canvas.setFillColor(INK)
    canvas.setFont("Helvetica-Bold", 30)
    canvas.drawString(MARGIN, y, head.tag)
    canvas.setFont("Helvetica", WALL_WORDS)
    canvas.drawString(MARGIN, y - 26, f"{head.cloth}.  {head.buy}.")
    if sheet.cross_cuts:
        canvas.setFillColor(MADDER)
        words = "First right across at " + ", ".join(format_length(c, units, "sheet") for c in sheet.cross_cuts)
        canvas.drawString(MARGIN, y - 48, words)
    top = _drawing(canvas, sheet, page, y - 56, units, numbers=True) - 0.5 * line
    for number, (start, per_column) in enumerate(
        wall_pages(len(sheet.rows), top - 2 * MARGIN, page[1] - 3 * MARGIN, 2 * line)
    ):
        if number:
            canvas.showPage()
            top = page[1] - MARGIN
        elif not per_column:
            continue  # the drawing has the page to itself
        canvas.setFont("Helvetica", WALL_WORDS)
        canvas.setFillColor(SOFT)
        canvas.drawString(MARGIN, MARGIN, how_to_read(sheet))
        for n, row in enumerate(sheet.rows[start : start + WALL_COLUMNS * per_column]):
            x, at = MARGIN + (n // per_column) * wide, top - (n % per_column + 0.6) * 2 * line
            _wall_row(canvas, row, _name_of(row, sheet), (x, at, wide), units)
    canvas.showPage()
    canvas.save()
    return content.getvalue()


def wall_pages(count: int, first: float, others: float, row: float) -> list[tuple[int, int]]:
    """Return for each page the row it begins with and how many stand under each other: `first` and `others` are its
    heights, in points.
    """
    pages: list[tuple[int, int]] = []
    at = 0
    for room in itertools.chain([first], itertools.repeat(others)):
        per_column = max(0 if not pages else 1, int(room / row))
        if per_column or not pages:
            pages.append((at, min(per_column, math.ceil((count - at) / WALL_COLUMNS))))
        at += WALL_COLUMNS * per_column
        if at >= count:
            return pages
    return pages


def _wall_row(canvas: Canvas, row: CutRow, name: str, place: tuple[float, float, float], units: Units) -> None:
    """A number in large, the name, and under it where the piece begins and ends; `place` is x, y and how wide."""
    x, y, wide = place
    canvas.setFillColor(INK)
    canvas.setStrokeColor(INK)
    canvas.rect(x, y - 2, 7 * mm, 7 * mm)
    canvas.setFont("Helvetica-Bold", WALL_NUMBER * 0.8)
    canvas.drawRightString(x + 26 * mm, y, str(row.number))
    canvas.setFont("Helvetica-Bold", WALL_WORDS + 3)
    canvas.drawString(x + 30 * mm, y + 1, name[:44])
    ends, lefts = [c.from_end for c in row.corners], [c.from_left for c in row.corners]
    near, far, left, right = (format_length(v, units, "sheet") for v in (min(ends), max(ends), min(lefts), max(lefts)))
    canvas.setFont("Helvetica", WALL_WORDS)
    canvas.drawString(x + 30 * mm, y - WALL_WORDS * 1.25, f"{near} to {far}  /  {left} to {right}")
    canvas.setStrokeColor(PAPER_LINE)
    canvas.line(x, y - WALL_WORDS * 1.9, x + wide - 8 * mm, y - WALL_WORDS * 1.9)
