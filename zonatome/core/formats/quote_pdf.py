"""The quote on paper: what is asked for each way to do it, what that holds, deposit, how long it holds."""

from __future__ import annotations

import io
from dataclasses import dataclass
from decimal import Decimal
from xml.sax.saxutils import escape

from reportlab.lib import colors
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.platypus import Flowable, KeepTogether, Paragraph, Spacer, Table
from reportlab.platypus import Image as Picture

from zonatome.core.body.picture import Picture as BodySeen
from zonatome.core.formats.body_pdf import BodyPicture
from zonatome.core.formats.hand_over_pdf import CAPTION, GAP, HEAD, head_of
from zonatome.core.formats.record_pdf import MARGIN, WORDS, paper, paragraphs, picture_for_paper
from zonatome.core.shop.quote import Option
from zonatome.core.units import Units

HIGHEST = 170.0  # points of a photo
NO_CLAIM = (
    "Cloth and filling are not tested by the workroom: what their sellers certify is handed over with the piece; local "
    "rules on fire, and a qualified tester, decide where it may stand."
)


@dataclass(frozen=True)
class QuotePage:
    """All that the paper says: for whom, what, its options, until when it holds; a photo as JPEG bytes, how the
    furniture will look.
    """

    workroom: str
    tag: str
    client: str
    printed: str
    holds_until: str
    currency: str
    words: str
    options: tuple[Option, ...]
    photo: bytes | None = None
    furniture: BodySeen | None = None


def quote_pdf(told: QuotePage, *, units: Units) -> bytes:
    """Return the PDF, A4 or letter, upright."""
    content = io.BytesIO()
    page = LETTER if units == "imperial" else A4
    document = paper(content, page, margin=MARGIN, head=HEAD, title=f"{told.workroom}: quote for {told.tag}")
    width = page[0] - 2 * MARGIN
    story: list[Flowable] = [Paragraph(escape(f"For {told.client}. This quote holds until {told.holds_until}."), WORDS)]
    if told.words:
        story += [Spacer(0, 6), Paragraph(escape(told.words), WORDS)]
    story.append(Spacer(0, 8))
    if told.photo is not None:
        picture, wide, high = picture_for_paper(told.photo)
        scale = min(width / wide, HIGHEST / high)
        story += [Picture(picture, wide * scale, high * scale, hAlign="LEFT"), Spacer(0, GAP)]
    if told.furniture is not None:
        drawn = BodyPicture(told.furniture, wide=width, high=HIGHEST)
        story += [drawn, Paragraph("As it will look, as it is measured and laid so far.", CAPTION), Spacer(0, GAP)]
    for number, option in enumerate(told.options):
        story.append(KeepTogether(_option(option, number, told, width)))
    story += paragraphs("To say yes", ["Sign here, or open the link that came with this quote:", " ", "_" * 46])
    story += [Spacer(0, 10), Paragraph(escape(NO_CLAIM), CAPTION)]

    head = head_of(page, f"Quote: {told.tag}", told.workroom, told.printed)
    document.build(story, onFirstPage=head, onLaterPages=head)
    return content.getvalue()


def _option(option: Option, number: int, told: QuotePage, width: float) -> list[Flowable]:
    """One way to do it: its lines sum to its total."""
    figure = option.quote
    letter = chr(ord("A") + number)
    rows = [
        ("Materials", figure.materials_with_margin),
        (f"Work, about {figure.hours:.0f} hours", figure.labour),
        ("Thread, glue, staples, twine", figure.sundries),
    ]
    if figure.tax:
        rows.append(("Tax", figure.tax))
    if figure.rounding:
        rows.append(("Rounded by", figure.rounding))
    rows += [("In all", figure.total), ("of which at once", figure.deposit), ("when it goes home", figure.balance)]
    materials = ", ".join(f"{m.what} {m.amount}" for m in option.materials)
    table = Table(
        [[what, _money(amount, told.currency)] for what, amount in rows],
        colWidths=[width - 110, 110],
        hAlign="LEFT",
        style=[
            ("ALIGN", (1, 0), (1, -1), "RIGHT"),
            ("FONTNAME", (0, -3), (-1, -3), "Helvetica-Bold"),
            ("LINEABOVE", (0, -3), (-1, -3), 0.8, colors.black),
            ("LEFTPADDING", (0, 0), (-1, -1), 0),
            ("TOPPADDING", (0, 0), (-1, -1), 1.5),
            ("BOTTOMPADDING", (0, 0), (-1, -1), 1.5),
        ],
    )
    words = option.words[0].upper() + option.words[1:]
    heading = words if len(told.options) == 1 else f"{letter}. {words}"
    made: list[Flowable] = [*paragraphs(heading, [materials] if materials else [])]
    if option.rests_on:
        made.append(Paragraph(escape(option.rests_on[0].upper() + option.rests_on[1:] + "."), CAPTION))
    return [*made, Spacer(0, 4), table, Spacer(0, 8)]


def _money(amount: Decimal, currency: str) -> str:
    return f"{currency} {amount:,.2f}"
