"""What goes home with the furniture, for the client, on paper: before and after, what was found, kept and renewed, the
cloth and its care, what sellers have certified.
"""

from __future__ import annotations

import io
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any
from xml.sax.saxutils import escape

from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable, KeepTogether, Paragraph, Spacer, Table
from reportlab.platypus import Image as Picture

from zonatome.core.formats.labels_pdf import SOFT
from zonatome.core.formats.record_pdf import (
    MARGIN,
    TITLE,
    WORDS,
    paper,
    paragraphs,
    picture_for_paper,
)
from zonatome.core.units import Units

HEAD = 44.0  # points for what stands above every page
GAP = 4 * mm
HIGHEST = 92 * mm  # a photo
MOST_PAIRS = 4
CAPTION = ParagraphStyle("caption", WORDS, textColor=SOFT, fontSize=8.5)
NO_CLAIM = (
    "This paper says what was done and what sellers have stated. It does not say that the piece meets any rule on "
    "fire, strength or health: local codes and a qualified tester decide that."
)


@dataclass(frozen=True)
class HandOverPage:
    """All that the paper says, in words; photos as JPEG bytes, each before beside its after."""

    workroom: str
    tag: str
    printed: str
    before: tuple[bytes, ...]
    after: tuple[bytes, ...]
    found: tuple[str, ...]
    kept: tuple[str, ...]
    renewed: tuple[str, ...]
    cloths: tuple[str, ...]
    care: tuple[str, ...]
    certificates: tuple[str, ...]
    left: tuple[str, ...]


def hand_over_pdf(told: HandOverPage, *, units: Units) -> bytes:
    """Return the PDF, A4 or letter, upright."""
    content = io.BytesIO()
    page = LETTER if units == "imperial" else A4
    document = paper(content, page, margin=MARGIN, head=HEAD, title=f"{told.workroom}: {told.tag}")
    width = page[0] - 2 * MARGIN
    story: list[Flowable] = _photos(told, width)
    for heading, lines in (
        ("What was found", told.found),
        ("Kept", told.kept),
        ("Made new", told.renewed),
        ("Cloth", told.cloths),
        ("Care, as the seller of the cloth states it", told.care),
        ("Certified by sellers", told.certificates),
        ("Left over, and where it is", told.left),
    ):
        story += paragraphs(heading, lines)
    story += [Spacer(0, 10), Paragraph(escape(NO_CLAIM), CAPTION)]

    head = head_of(page, told.tag, told.workroom, told.printed)
    document.build(story, onFirstPage=head, onLaterPages=head)
    return content.getvalue()


def head_of(page: tuple[float, float], title: str, workroom: str, printed: str) -> Callable[[Canvas, Any], None]:
    """Return what draws the head of every page of a paper for the client: its title, whose, when, which page."""
    width = page[0] - 2 * MARGIN

    def head(canvas: Canvas, _: Any) -> None:
        words = Paragraph(escape(title), TITLE)
        top = page[1] - MARGIN
        _, high = words.wrapOn(canvas, width, HEAD)
        words.drawOn(canvas, MARGIN, top - high)
        canvas.setFont("Helvetica", 9)
        canvas.setFillColor(SOFT)
        canvas.drawString(MARGIN, top - high - 12, workroom)
        canvas.drawRightString(page[0] - MARGIN, top - high - 12, f"{printed}, page {canvas.getPageNumber()}")

    return head


def _photos(told: HandOverPage, width: float) -> list[Flowable]:
    """Before and after side by side, as many pairs as there are of both; a lone one beside nothing."""
    count = min(MOST_PAIRS, max(len(told.before), len(told.after)))
    room = (width - GAP) / 2
    found: list[Flowable] = []
    for n in range(count):
        cells = [_cell(side[n] if n < len(side) else None, room) for side in (told.before, told.after)]
        words = [Paragraph("before" if n < len(told.before) else "", CAPTION),
                 Paragraph("after" if n < len(told.after) else "", CAPTION)]  # fmt: skip
        looks = [("LEFTPADDING", (0, 0), (-1, -1), 0), ("VALIGN", (0, 0), (-1, -1), "TOP")]
        found.append(KeepTogether([Table([cells, words], colWidths=[room + GAP, room], style=looks)]))
    return found


def _cell(photo: bytes | None, room: float) -> Flowable | str:
    if photo is None:
        return ""
    picture, wide, high = picture_for_paper(photo)
    scale = min(room / wide, HIGHEST / high)
    return Picture(picture, wide * scale, high * scale)
