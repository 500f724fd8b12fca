"""The strip record on paper: everything that came off, in order, with its photos, and the way back."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any
from xml.sax.saxutils import escape

from PIL import Image
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable, KeepTogether, Paragraph, SimpleDocTemplate, Table
from reportlab.platypus import Image as Picture

from zonatome.core.formats.labels_pdf import INK, LINE, SOFT
from zonatome.core.units import Units

MARGIN = 16 * mm
PHOTO = 34 * mm
NUMBER = 12 * mm
PHOTO_PIXELS = 640  # on paper 34 mm wide: 480 dots an inch
MOST_PHOTOS = 3  # beside one entry; the others are in the application
HEAD = 50.0  # points for what stands above every page
FRAME = 6.0  # points that the frame of a page keeps free at each side
WORDS = ParagraphStyle("words", fontName="Helvetica", fontSize=9.5, leading=12.5, textColor=INK)
NAME = ParagraphStyle("name", WORDS, fontName="Helvetica-Bold", fontSize=10.5)
COUNT = ParagraphStyle("count", WORDS, fontName="Helvetica-Bold", fontSize=15, leading=18, textColor=SOFT)
TITLE = ParagraphStyle("title", WORDS, fontName="Helvetica-Bold", fontSize=14, leading=16)
HEADING = ParagraphStyle("heading", NAME, fontSize=11.5, leading=14, spaceBefore=10, spaceAfter=4, keepWithNext=1)


@dataclass(frozen=True)
class RecordLine:
    """One thing that came off: its number, name, lines of words, the photos as JPEG bytes."""

    number: int
    name: str
    lines: tuple[str, ...]
    photos: tuple[bytes, ...] = ()


@dataclass(frozen=True)
class RecordPage:
    """The whole record: whose it is, what is said above, the lines, checks that are open, bags, the way back."""

    tag: str
    printed: str
    survey: tuple[str, ...]
    lines: tuple[RecordLine, ...]
    lacking: tuple[str, ...]
    bags: tuple[str, ...]
    back: tuple[str, ...]


def paper(
    content: io.BytesIO, page: tuple[float, float], *, margin: float, head: float, title: str
) -> SimpleDocTemplate:
    """Return an empty document with so much room about its text, in points; above it there is `head` more."""
    return SimpleDocTemplate(
        content,
        pagesize=page,
        leftMargin=margin - FRAME,
        rightMargin=margin - FRAME,
        topMargin=margin + head,
        bottomMargin=margin,
        title=title,
        author="Zonatome",
    )


def record_pdf(record: RecordPage, *, units: Units) -> bytes:
    """Return the PDF, A4 or letter, upright; entries are never torn apart at a page's end."""
    content = io.BytesIO()
    page = LETTER if units == "imperial" else A4
    document = paper(content, page, margin=MARGIN, head=HEAD, title=f"Strip record {record.tag}")
    width = page[0] - 2 * MARGIN
    story = [*paragraphs("What was found", record.survey), Paragraph("Came off, in this order", HEADING)]
    story += [_entry(line, width) for line in record.lines] or [Paragraph("Nothing is off yet.", WORDS)]
    story += paragraphs("Not in the record yet", record.lacking)
    story += paragraphs("Bags", record.bags)
    story += paragraphs("Goes back on, in this order", record.back)

    def head(canvas: Canvas, _: Any) -> None:
        _head_of(canvas, page, record)

    document.build(story, onFirstPage=head, onLaterPages=head)
    return content.getvalue()


def _head_of(canvas: Canvas, page: tuple[float, float], record: RecordPage) -> None:
    """Draw what stands above every page: whose it is, on one line or two, when it was printed, which page it is."""
    title = Paragraph(escape(f"Strip record: {record.tag}"), TITLE)
    top = page[1] - MARGIN
    _, high = title.wrapOn(canvas, page[0] - 2 * MARGIN, HEAD)
    title.drawOn(canvas, MARGIN, top - high)
    canvas.setFont("Helvetica", 9)
    canvas.setFillColor(SOFT)
    canvas.drawString(MARGIN, top - high - 12, "Left and right as one sits in it.")
    canvas.drawRightString(page[0] - MARGIN, top - high - 12, f"{record.printed}, page {canvas.getPageNumber()}")


def paragraphs(heading: str, lines: Sequence[str]) -> list[Flowable]:
    """Return a heading and lines under it, or nothing where there are none."""
    return [Paragraph(heading, HEADING), *(Paragraph(escape(line), WORDS) for line in lines)] if lines else []


def _entry(line: RecordLine, width: float) -> Flowable:
    """One entry with its photos beside it."""
    pictures = [picture_for_paper(photo) for photo in line.photos[:MOST_PHOTOS]]
    shown = [Picture(picture, *_size_on_paper(wide, high)) for picture, wide, high in pictures]
    words = [Paragraph(escape(line.name), NAME), *(Paragraph(escape(each), WORDS) for each in line.lines)]
    columns = [NUMBER, width - NUMBER - len(shown) * (PHOTO + 2 * mm), *([PHOTO + 2 * mm] * len(shown))]
    looks = [
        ("LINEABOVE", (0, 0), (-1, 0), 0.5, LINE),
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("LEFTPADDING", (0, 0), (-1, -1), 0),
        ("RIGHTPADDING", (0, 0), (-1, -1), 0),
        ("LEFTPADDING", (2, 0), (-1, -1), 2 * mm),
        ("TOPPADDING", (0, 0), (-1, -1), 4),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 6),
    ]
    row = [Paragraph(str(line.number), COUNT), words, *shown]
    return KeepTogether([Table([row], colWidths=columns, style=looks, splitByRow=0)])


def _size_on_paper(wide: float, high: float) -> tuple[float, float]:
    """How large a photo is printed: as wide as its column, unless it is much higher than wide."""
    shown = min(1.0, 1.4 * wide / high)
    return PHOTO * shown, PHOTO * shown * high / wide


def picture_for_paper(photo: bytes) -> tuple[io.BytesIO, int, int]:
    """Return a photo made small enough for paper, as JPEG, with its width and height."""
    with Image.open(io.BytesIO(photo), formats=("JPEG",)) as picture:
        picture.thumbnail((PHOTO_PIXELS, PHOTO_PIXELS))
        small = io.BytesIO()
        picture.convert("RGB").save(small, "JPEG", quality=80)
        return io.BytesIO(small.getvalue()), picture.width, picture.height
