"""The strip record on paper: everything that came off, in order, with its photos, and the way back."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass

from PIL import Image
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.pdfgen.canvas import Canvas

from zonatome.core.formats.labels_pdf import INK, LINE, SOFT, wrapped
from zonatome.core.units import Units

MARGIN = 16 * mm
PHOTO = 34 * mm
NUMBER = 12 * mm
PHOTO_PIXELS = 640  # on paper 34 mm wide: 480 dots an inch
MOST_PHOTOS = 3  # beside one entry; the others are in the application


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


def record_pdf(record: RecordPage, *, units: Units) -> bytes:
    """Return the PDF, A4 or letter, upright; entries are never torn apart at a page's end."""
    content = io.BytesIO()
    page = LETTER if units == "imperial" else A4
    canvas = Canvas(content, pagesize=page)
    canvas.setTitle(f"Strip record {record.tag}")
    canvas.setAuthor("Zonatome")
    pen = _Pen(canvas, page, record)
    pen.paragraphs("What was found", record.survey)
    pen.heading("Came off, in this order")
    if not record.lines:
        pen.words("Nothing is off yet.")
    for line in record.lines:
        pen.entry(line)
    pen.paragraphs("Not in the record yet", record.lacking)
    pen.paragraphs("Bags", record.bags)
    pen.paragraphs("Goes back on, in this order", record.back)
    canvas.showPage()
    canvas.save()
    return content.getvalue()


class _Pen:
    """Writes down the page and turns it when it is full."""

    def __init__(self, canvas: Canvas, page: tuple[float, float], record: RecordPage) -> None:
        """Begin at the top of the first page."""
        self.canvas, self.page, self.record = canvas, page, record
        self.width = page[0] - 2 * MARGIN
        self.pages = 0
        self.y = 0.0
        self.turn()

    def turn(self) -> None:
        """Begin a page with its head."""
        if self.pages:
            self.canvas.showPage()
        self.pages += 1
        self.y = self.page[1] - MARGIN
        self.canvas.setFillColor(INK)
        self.canvas.setFont("Helvetica-Bold", 14)
        self.canvas.drawString(MARGIN, self.y - 8, f"Strip record: {self.record.tag}"[:80])
        self.canvas.setFont("Helvetica", 9)
        self.canvas.setFillColor(SOFT)
        self.canvas.drawString(MARGIN, self.y - 22, "Left and right as one sits in it.")
        self.canvas.drawRightString(self.page[0] - MARGIN, self.y - 22, f"{self.record.printed}, page {self.pages}")
        self.y -= 36

    def room(self, height: float) -> None:
        """Turn the page where so much does not fit any more."""
        if self.y - height < MARGIN:
            self.turn()

    def heading(self, words: str) -> None:
        """Write a heading, not alone at a page's end."""
        self.room(66)
        self.y -= 22
        self.canvas.setFillColor(INK)
        self.canvas.setFont("Helvetica-Bold", 11.5)
        self.canvas.drawString(MARGIN, self.y, words)
        self.y -= 8

    def words(self, text: str, left: float = 0.0, room: float | None = None) -> None:
        """Write a text, wrapped."""
        for line in wrapped(text, (room or self.width) - left, 9.5):
            self.room(13)
            self.canvas.setFillColor(INK)
            self.canvas.setFont("Helvetica", 9.5)
            self.y -= 12.5
            self.canvas.drawString(MARGIN + left, self.y, line)

    def paragraphs(self, heading: str, lines: Sequence[str]) -> None:
        """Write a heading and lines under it, or nothing where there are none."""
        if lines:
            self.heading(heading)
            for line in lines:
                self.words(line)

    def entry(self, line: RecordLine) -> None:
        """Write one entry with its photos beside it."""
        pictures = [_picture(photo) for photo in line.photos[:MOST_PHOTOS]]
        room = self.width - len(pictures) * (PHOTO + 2 * mm)
        texts = [part for words in line.lines for part in wrapped(words, room - NUMBER, 9.5)]
        tall = max([PHOTO * h / w for _, w, h in pictures], default=0.0)
        height = max(16 + 12.5 * len(texts), min(tall, PHOTO * 1.4)) + 10
        self.room(height)
        top = self.y - 4
        self.canvas.setStrokeColor(LINE)
        self.canvas.setLineWidth(0.5)
        self.canvas.line(MARGIN, top, MARGIN + self.width, top)
        self.canvas.setFillColor(SOFT)
        self.canvas.setFont("Helvetica-Bold", 15)
        self.canvas.drawString(MARGIN, top - 17, str(line.number))
        self.canvas.setFillColor(INK)
        self.canvas.setFont("Helvetica-Bold", 10.5)
        self.canvas.drawString(MARGIN + NUMBER, top - 14, line.name)
        self.canvas.setFont("Helvetica", 9.5)
        for n, text in enumerate(texts):
            self.canvas.drawString(MARGIN + NUMBER, top - 27 - 12.5 * n, text)
        for n, (picture, wide, high) in enumerate(pictures):
            shown = min(1.0, 1.4 * wide / high)
            x = MARGIN + self.width - (len(pictures) - n) * (PHOTO + 2 * mm) + 2 * mm
            tall = PHOTO * shown * high / wide
            self.canvas.drawImage(ImageReader(picture), x, top - 4 - tall, PHOTO * shown, tall)
        self.y = top - height + 6


def _picture(photo: bytes) -> tuple[io.BytesIO, int, int]:
    """A photo made small enough for paper, with its width and height."""
    with Image.open(io.BytesIO(photo), formats=("JPEG",)) as picture:
        picture.thumbnail((PHOTO_PIXELS, PHOTO_PIXELS))
        small = io.BytesIO()
        picture.convert("RGB").save(small, "JPEG", quality=80)
        return io.BytesIO(small.getvalue()), picture.width, picture.height
