"""Quotes that are sent: their link, what the client answers, the paper."""

from __future__ import annotations

from datetime import date, timedelta

from django.core import signing
from django.db import transaction
from django.urls import reverse
from django.utils import timezone
from django.utils.dateformat import format as date_format

from zonatome.core.errors import BadInput
from zonatome.core.formats.quote_json import read_options, write_options
from zonatome.core.formats.quote_pdf import QuotePage
from zonatome.core.shop.quote import Option, holds_until, terms_by
from zonatome.web.base.who import who
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job, Photo, Workroom, photos_of
from zonatome.web.round.services import furniture_seen
from zonatome.web.shop.models import SentQuote
from zonatome.web.shop.options import AS_PLANNED, MOST_OPTIONS, option_of

SALT = "client-quote"
THEIR_YES = "their yes on the quote"
THEIR_QUESTION = "your answer to their question"
THEIR_NO = "what becomes of it: they said no"
MOST_WORDS = 600
MOST_PHOTOS = 6
LATELY = timedelta(days=7)


def send_quote(job: Job, keys: list[str], workroom: Workroom, *, words: str = "") -> SentQuote:
    """Keep a quote with the figures as they are now, withdraw those before it, and let the tag wait for the client.

    Raises BadInput for options that can't be worked out, too many or none.
    """
    wanted = list(dict.fromkeys(keys or [AS_PLANNED]))
    if len(wanted) > MOST_OPTIONS:
        raise BadInput("options", len(wanted), f"at most {MOST_OPTIONS} options")
    options = tuple(option_of(job.number, key, workroom) for key in wanted)
    if all(option.quote.total <= 0 for option in options):
        raise BadInput("options", 0, "something to be paid: nothing is counted on this tag yet")
    with transaction.atomic():
        for old in SentQuote.objects.filter(job=job, withdrawn_at=None, answer=""):
            withdraw(old)
        made = SentQuote.objects.create(
            job=job,
            options=write_options(options),
            words=words[:MOST_WORDS],
            holds_until=holds_until(timezone.localdate(), terms_by(workroom.rules)),
            by=who(),
            made_at=timezone.now(),
        )
        job.waits_for = THEIR_YES
        job.save(update_fields=["waits_for"])
    return made


def withdraw(sent: SentQuote) -> None:
    """Withdraw a quote: its link is refused from now on, and the tag waits for it no more."""
    with transaction.atomic():
        SentQuote.objects.filter(pk=sent.pk).update(withdrawn_at=timezone.now())
        if sent.job.waits_for in (THEIR_YES, THEIR_QUESTION, THEIR_NO):
            sent.job.waits_for = ""
            sent.job.save(update_fields=["waits_for"])


def link_of(sent: SentQuote) -> str:
    """Return the path of the client's page: signed, so that none can be made up."""
    return reverse("client_quote", args=[signing.dumps([sent.pk, sent.nonce], salt=SALT)])


def quote_behind(token: str, today: date) -> SentQuote | None:
    """Return the quote that a link leads to; None for one that was altered, guessed, withdrawn or is too old."""
    try:
        told = signing.loads(token, salt=SALT)
    except (signing.BadSignature, ValueError):
        return None
    if not isinstance(told, list) or [type(one) for one in told] != [int, str]:
        return None
    pk, nonce = told
    rows = SentQuote.objects.filter(pk=pk, nonce=nonce, withdrawn_at=None, holds_until__gte=today)
    return rows.select_related("job").filter(job__taken_down_at=None).first()


def answer(sent: SentQuote, what: str, *, option: str = "", words: str = "") -> None:
    """Keep what the client says; a yes sets the tag going again, a no or a question waits for the workroom. The last
    word holds.

    Raises BadInput for a yes to no option, and for a question of no words.
    """
    keys = [one.key for one in options_of(sent)]
    if what == "yes" and option not in keys:
        raise BadInput("option", option, "one of what is offered", words="Pick what you say yes to.")
    if what == "question" and not words.strip():
        raise BadInput("words", words, "a question", words="Write your question.")
    if what not in ("yes", "no", "question"):
        raise BadInput("answer", what, "yes, no or a question")
    with transaction.atomic():
        sent.answer, sent.option = what, option if what == "yes" else ""
        sent.answer_words, sent.answered_at = words.strip()[:MOST_WORDS], timezone.now()
        sent.save(update_fields=["answer", "option", "answer_words", "answered_at"])
        sent.job.waits_for = {"yes": "", "no": THEIR_NO, "question": THEIR_QUESTION}[what]
        sent.job.save(update_fields=["waits_for"])


def options_of(sent: SentQuote) -> tuple[Option, ...]:
    """Return the options of a quote as they were sent. Raises BadInput where the row holds none."""
    return read_options(sent.options)


def answer_words(sent: SentQuote) -> str:
    """Return the answer as it stands on the tag."""
    if not sent.answer or sent.answered_at is None:
        return ""
    day = date_format(timezone.localtime(sent.answered_at), "j M")
    if sent.answer == "question":
        return f"A question on {day}: {sent.answer_words}"
    said = f"{sent.answer.title()} on {day}"
    chosen = next((o.words for o in options_of(sent) if o.key == sent.option), "")
    if chosen and len(options_of(sent)) > 1:
        said += f", {chosen}"
    return f"{said}: {sent.answer_words}" if sent.answer_words else said


def answers_lately(jobs: list[int]) -> dict[int, str]:
    """Return what clients have said of these jobs within a week, by the job's key; the newest of each."""
    since = timezone.now() - LATELY
    rows = SentQuote.objects.filter(job__in=jobs, answered_at__gte=since).exclude(answer="").order_by("id")
    return {row.job_id: answer_words(row) for row in rows}


def photos_shown(job: Job) -> list[Photo]:
    """Return the photos that a client sees: of before, and nothing of how it is done."""
    return photos_of(job.photos.all(), "before")[:MOST_PHOTOS]


def quote_page(sent: SentQuote, workroom: Workroom) -> QuotePage:
    """Return what stands on the paper of a quote."""
    photo = next(iter(photos_shown(sent.job)), None)
    content = None
    if photo is not None:
        try:
            content = photo.path.read_bytes()
        except OSError:
            content = None
    return QuotePage(
        workroom.name,
        f"{sent.job.number} {sent.job.name}",
        sent.job.client,
        date_format(timezone.localtime(sent.made_at), "j F Y"),
        date_format(sent.holds_until, "j F Y"),
        workroom.currency,
        sent.words,
        options_of(sent),
        content,
        furniture_seen(load_job(sent.job.number)),
    )
