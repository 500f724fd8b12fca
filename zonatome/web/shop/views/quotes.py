"""The quote: its options side by side, sent as a link and on paper."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.utils import timezone
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput
from zonatome.core.formats.quote_pdf import quote_pdf
from zonatome.core.shop.quote import differences, holds_until, terms_by
from zonatome.web.base.owners import money_seen, owners_only
from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job
from zonatome.web.rack.pages import job_page
from zonatome.web.shop.models import SentQuote
from zonatome.web.shop.options import AS_PLANNED, MOST_COUNT, MOST_OPTIONS, offered, option_of
from zonatome.web.shop.quotes import (
    MOST_WORDS,
    answer_words,
    link_of,
    options_of,
    quote_page,
    send_quote,
    withdraw,
)


def _asked(told: Any) -> list[str]:
    """The options that are ticked; another count by its number."""
    keys = [AS_PLANNED, *(key[:40] for key in told.getlist("with"))]
    count = told.get("count", "").strip()[:8]
    if count:
        keys.append(f"count-{count}")
    return list(dict.fromkeys(keys))


def _page(request: BenchRequest, job: Job, asked: list[str], *, refusal: str = "", words: str = "") -> HttpResponse:
    options, wrong = [], refusal
    for key in asked[:MOST_OPTIONS]:
        try:
            options.append(option_of(job.number, key, request.workroom))
        except BadInput as refused:
            wrong = wrong or refused.told
    if len(asked) > MOST_OPTIONS:
        wrong = wrong or f"Expected at most {MOST_OPTIONS} options."
    terms = terms_by(request.workroom.rules)
    context = {
        "options": [
            {"option": o, "letter": chr(ord("A") + n), "differs": differences(options[0], o) if n else ()}
            for n, o in enumerate(options)
        ],
        "offered": [{"row": row, "is_on": row.key in asked} for row in offered(job)],
        "count": next((key.removeprefix("count-") for key in asked if key.startswith("count-")), ""),
        "most_count": MOST_COUNT,
        "most_words": MOST_WORDS,
        "keys": [o.key for o in options],
        "terms": terms,
        "holds_until": holds_until(timezone.localdate(), terms),
        "sent": [_sent(request, one) for one in SentQuote.objects.filter(job=job).select_related("job")],
        "refusal": wrong,
        "words": words,
    }
    return job_page(request, job, "money", "shop/quote.html", context, status=422 if wrong else 200)


def _sent(request: BenchRequest, one: SentQuote) -> dict[str, Any]:
    total = [o.quote.total for o in options_of(one)]
    return {
        "row": one,
        "link": request.build_absolute_uri(link_of(one)),
        "answer": answer_words(one),
        "least": min(total),
        "most": max(total),
        "is_over": one.holds_until < timezone.localdate(),
    }


@money_seen
def home(request: BenchRequest, number: int) -> HttpResponse:
    """Show the options side by side, and what was sent."""
    return _page(request, load_job(number), _asked(request.GET))


@owners_only
@require_POST
def send(request: BenchRequest, number: int) -> HttpResponse:
    """Keep the quote and make its link."""
    job = load_job(number)
    words = request.POST.get("words", "").strip()
    asked = _asked(request.POST)
    if len(words) > MOST_WORDS:
        return _page(request, job, asked, refusal=f"Expected at most {MOST_WORDS} letters.", words=words)
    try:
        send_quote(job, asked, request.workroom, words=words)
    except BadInput as refused:
        return _page(request, job, asked, refusal=refused.told, words=words)
    messages.success(request, "The quote is kept as it stands. Give the client its link or the paper.")
    return redirect("shop:quote", number=number)


@owners_only
@require_POST
def take_back(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Withdraw a quote."""
    withdraw(get_object_or_404(SentQuote, pk=pk, job__number=number, withdrawn_at=None))
    messages.info(request, "Withdrawn: its link leads nowhere now.")
    return redirect("shop:quote", number=number)


@money_seen
def paper(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Send a quote as PDF."""
    sent = get_object_or_404(SentQuote, pk=pk, job__number=number)
    content = quote_pdf(quote_page(sent, request.workroom), units=request.workroom.units)
    return HttpResponse(
        content,
        content_type="application/pdf",
        headers={"Content-Disposition": f'inline; filename="quote-{number}.pdf"'},
    )
