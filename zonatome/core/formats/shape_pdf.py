"""A shape on paper at true size, 1 : 1: on sheets to tape together, or on one long sheet of a wide printer."""

from __future__ import annotations

import io
import math
from dataclasses import dataclass

from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from zonatome.core.errors import BadInput
from zonatome.core.formats.labels_pdf import INK, LINE, SOFT
from zonatome.core.formats.shape_out import ROOM, strokes_of, words_of
from zonatome.core.trace.shape import Shape
from zonatome.core.units import MM_PER_INCH, Units, format_length

PAPERS: dict[str, tuple[float, float]] = {"a4": A4, "letter": LETTER}
EDGE = 10.0  # mm that no printer prints on
OVERLAP = 10.0  # mm by which neighbouring sheets show the same
# they tell whether the printer has kept the size: mm, and in words
SQUARES: dict[Units, tuple[float, str]] = {"metric": (100.0, "100 mm"), "imperial": (4 * MM_PER_INCH, "4 in")}
LONGEST_SHEET = 5_000.0  # mm: what a PDF page can be
MOST_SHEETS = 120
WIDTHS = {"finished": 0.5, "cut": 1.1, "notches": 1.1, "marks": 0.6}
CHECK = (
    "Print at actual size, 100 %.",
    "This square must measure {} each way",
    "if it does not, the pattern is wrong.",
)


@dataclass(frozen=True)
class Tiling:
    """How a drawing lies on sheets: columns, rows, what one sheet shows and how far the next one is moved on, all in
    mm.
    """

    columns: int
    rows: int
    shown: tuple[float, float]
    step: tuple[float, float]


def tiling(width: float, height: float, paper: str) -> Tiling:
    """Return how a drawing of this size lies on sheets of a paper.

    Raises BadInput for another paper or more than 120 sheets.
    """
    if paper not in PAPERS:
        raise BadInput("paper", paper, "one of " + ", ".join([*PAPERS, "long"]))
    page = PAPERS[paper]
    shown = (page[0] / mm - 2 * EDGE, page[1] / mm - 2 * EDGE)
    step = (shown[0] - OVERLAP, shown[1] - OVERLAP)
    columns = max(1, math.ceil((width - OVERLAP) / step[0]))
    rows = max(1, math.ceil((height - OVERLAP) / step[1]))
    if columns * rows > MOST_SHEETS:
        raise BadInput(
            "paper", f"{columns * rows} sheets", f"at most {MOST_SHEETS} sheets; use the long sheet or a plotter"
        )
    return Tiling(columns, rows, shown, step)


def shape_pdf(shape: Shape, *, paper: str, pieces: int = 1, units: Units = "metric") -> bytes:
    """Return the PDF: `paper` a4 or letter for sheets to tape together, or `long` for one sheet as large as the shape.

    The first page shows how the sheets lie and carries the test square; each sheet has its place written on it, marks
    in its corners and the strips that the neighbours overlap. Raises BadInput for a sheet that no PDF can be.
    """
    content = io.BytesIO()
    x0, y0, x1, y1 = shape.cut_line.bounds
    left, low, width, height = x0 - ROOM, y0 - ROOM, x1 - x0 + 2 * ROOM, y1 - y0 + 2 * ROOM
    if paper == "long":
        square, _ = SQUARES[units]
        page = (max(width, square + 2 * ROOM), height + square + 3 * ROOM)
        if max(page) > LONGEST_SHEET:
            raise BadInput(
                "paper",
                f"{max(page):.0f} mm",
                f"a shape that fits a sheet of {LONGEST_SHEET / 1000:.0f} m; tile it instead",
            )
        canvas = _canvas(content, (page[0] * mm, page[1] * mm), shape)
        _square(canvas, ROOM, height + ROOM, units)
        _drawing(canvas, shape, -left, -low, pieces, units)
        canvas.showPage()
        canvas.save()
        return content.getvalue()
    lies = tiling(width, height, paper)
    canvas = _canvas(content, PAPERS[paper], shape)
    _cover(canvas, shape, lies, (width, height), PAPERS[paper], pieces, units)
    for row in range(lies.rows):
        for column in range(lies.columns):
            _sheet(canvas, shape, lies, (row, column), (left, low), pieces, units)
    canvas.save()
    return content.getvalue()


def _canvas(content: io.BytesIO, page: tuple[float, float], shape: Shape) -> Canvas:
    canvas = Canvas(content, pagesize=page, pageCompression=0)
    canvas.setTitle(f"{shape.name}, true size")
    canvas.setAuthor("Zonatome")
    return canvas


def _square(canvas: Canvas, x: float, y: float, units: Units) -> None:
    side, said = SQUARES[units]
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(0.6)
    canvas.rect(x * mm, y * mm, side * mm, side * mm)
    canvas.setFillColor(INK)
    canvas.setFont("Helvetica-Bold", 12)
    canvas.drawCentredString((x + side / 2) * mm, (y + side / 2 + 2) * mm, f"{said} each way")
    canvas.setFont("Helvetica", 8)
    for n, line in enumerate(CHECK):
        canvas.drawCentredString((x + side / 2) * mm, (y + side / 2 - 5 - 4 * n) * mm, line.format(said))


def _drawing(canvas: Canvas, shape: Shape, x: float, y: float, pieces: int, units: Units) -> None:
    """The shape with its frame's origin at (x, y) mm of the page."""
    for stroke in strokes_of(shape):
        path = canvas.beginPath()
        for n, (px, py) in enumerate(stroke.points):
            (path.moveTo if n == 0 else path.lineTo)((px + x) * mm, (py + y) * mm)
        if stroke.is_closed:
            path.close()
        canvas.setStrokeColor(INK)
        canvas.setLineWidth(WIDTHS[stroke.layer])
        canvas.setDash(*((6, 3) if stroke.layer == "finished" else ()))
        canvas.drawPath(path)
    canvas.setDash()
    canvas.setFillColor(INK)
    for words in words_of(shape, pieces=pieces, units=units):
        canvas.setFont("Helvetica", words.size * mm)
        canvas.drawCentredString((words.at[0] + x) * mm, (words.at[1] + y - words.size / 3) * mm, words.text)


def place_of(row: int, column: int) -> str:
    """Return the name of a sheet: rows are letters from the bottom, columns numbers from the left.

    >>> place_of(0, 0), place_of(2, 1), place_of(27, 0)
    ('A1', 'C2', 'AB1')
    """
    letters = chr(65 + row % 26)
    return (chr(64 + row // 26) if row >= 26 else "") + f"{letters}{column + 1}"


def _cover(
    canvas: Canvas,
    shape: Shape,
    lies: Tiling,
    size: tuple[float, float],
    page: tuple[float, float],
    pieces: int,
    units: Units,
) -> None:
    top = page[1] / mm - 16
    canvas.setFillColor(INK)
    canvas.setFont("Helvetica-Bold", 17)
    canvas.drawString(15 * mm, top * mm, shape.name)
    canvas.setFont("Helvetica", 10)
    cut = shape.cut_line
    canvas.drawString(
        15 * mm, (top - 7) * mm,
        f"Cut {pieces}, face up. Cut line {format_length(cut.width, units)} x {format_length(cut.height, units)}. "
        f"{lies.columns * lies.rows} sheets, {lies.rows} high and {lies.columns} wide.",
    )  # fmt: skip
    canvas.setFillColor(SOFT)
    canvas.drawString(
        15 * mm,
        (top - 13) * mm,
        "Thick line: cut. Dashed: finished. Lay each sheet on its neighbour up to the thin line, crosses on crosses.",
    )
    square, _ = SQUARES[units]
    _square(canvas, (page[0] / mm - square) / 2, 22, units)
    room = (page[0] / mm - 30, top - 30 - square - 22)
    scale = min(room[0] / size[0], room[1] / size[1])
    x, y = (page[0] / mm - size[0] * scale) / 2, 22 + square + 10
    path = canvas.beginPath()
    x0, y0, _, _ = cut.bounds
    for n, (px, py) in enumerate(cut.points):
        (path.moveTo if n == 0 else path.lineTo)(
            (x + (px - x0 + ROOM) * scale) * mm, (y + (py - y0 + ROOM) * scale) * mm
        )
    path.close()
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(1)
    canvas.drawPath(path)
    canvas.setStrokeColor(LINE)
    canvas.setFillColor(SOFT)
    canvas.setFont("Helvetica-Bold", 9)
    for row in range(lies.rows):
        for column in range(lies.columns):
            w, h = (min(lies.step[i], size[i] - lies.step[i] * (column, row)[i]) * scale for i in (0, 1))
            sx, sy = x + column * lies.step[0] * scale, y + row * lies.step[1] * scale
            canvas.rect(sx * mm, sy * mm, w * mm, h * mm)
            canvas.drawString((sx + 1) * mm, (sy + 1.2) * mm, place_of(row, column))
    canvas.showPage()


def _sheet(
    canvas: Canvas,
    shape: Shape,
    lies: Tiling,
    place: tuple[int, int],
    corner: tuple[float, float],
    pieces: int,
    units: Units,
) -> None:
    row, column = place
    wide, high = lies.shown
    canvas.saveState()
    clip = canvas.beginPath()
    clip.rect(EDGE * mm, EDGE * mm, wide * mm, high * mm)
    canvas.clipPath(clip, stroke=0)
    _drawing(
        canvas, shape, EDGE - corner[0] - column * lies.step[0], EDGE - corner[1] - row * lies.step[1], pieces, units
    )
    canvas.restoreState()
    canvas.setStrokeColor(LINE)
    canvas.setLineWidth(0.4)
    right, upper = EDGE + lies.step[0], EDGE + lies.step[1]
    if column < lies.columns - 1:
        canvas.line(right * mm, EDGE * mm, right * mm, (EDGE + high) * mm)
    if row < lies.rows - 1:
        canvas.line(EDGE * mm, upper * mm, (EDGE + wide) * mm, upper * mm)
    canvas.setStrokeColor(INK)
    for x in (EDGE, right):
        for y in (EDGE, upper):
            canvas.line((x - 3) * mm, y * mm, (x + 3) * mm, y * mm)
            canvas.line(x * mm, (y - 3) * mm, x * mm, (y + 3) * mm)
    canvas.setFillColor(SOFT)
    canvas.setFont("Helvetica-Bold", 11)
    canvas.drawString((EDGE + 3) * mm, (EDGE + 3) * mm, place_of(row, column))
    canvas.setFont("Helvetica", 8)
    canvas.drawString((EDGE + 12) * mm, (EDGE + 3) * mm, shape.name)
    canvas.showPage()
