"""The client's page: behind a signed link, without an account; nothing else is to be reached from it."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.decorators import login_not_required
from django.core.cache import cache
from django.http import FileResponse, Http404, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import redirect, render
from django.utils import timezone
from django.utils.safestring import mark_safe

from zonatome.core.errors import BadInput
from zonatome.core.formats.quote_pdf import quote_pdf
from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.loading import load_job
from zonatome.web.lay.in_place import cloth_in_place
from zonatome.web.lay.photo import tile_inline
from zonatome.web.lay.services import best_run
from zonatome.web.round.services import client_svgs
from zonatome.web.shop.models import SentQuote
from zonatome.web.shop.quotes import answer, answer_words, options_of, photos_shown, quote_behind, quote_page

MOST_ASKED = 60  # times that one address may ask within a minute
MINUTE = 60


def _is_too_many(request: HttpRequest) -> bool:
    """Whether this address asks too often: links are not to be guessed, answers not to be poured out."""
    key = f"client-quote-{request.META.get('REMOTE_ADDR', '')}"
    cache.add(key, 0, MINUTE)
    try:
        return cache.incr(key) > MOST_ASKED
    except ValueError:  # it ran out between the two
        return False


def _closed(request: HttpRequest, *, status: int = 404) -> HttpResponse:
    words = (
        "This link is not a quote that holds: it may have been withdrawn, be too old, or not be whole. Ask the "
        "workroom for a new one."
    )
    if status == 429:
        words = "Too many at once. Wait a minute, then open the link again."
    return render(request, "shop/client_closed.html", {"words": words}, status=status)


def _opened(request: HttpRequest, token: str) -> SentQuote | HttpResponse:
    if _is_too_many(request):
        return _closed(request, status=429)
    return quote_behind(token, timezone.localdate()) or _closed(request)


@login_not_required
def home(request: BenchRequest, token: str) -> HttpResponse:
    """Show the quote, and take a yes, a no or a question."""
    sent = _opened(request, token)
    if isinstance(sent, HttpResponse):
        return sent
    refusal = ""
    if request.method == "POST":
        told = request.POST
        try:
            answer(sent, told.get("answer", ""), option=told.get("option", "")[:40], words=told.get("words", "")[:2000])
            return redirect("client_quote", token=token)
        except BadInput as refused:
            refusal = refused.sentence
    elif sent.opened_at is None:
        SentQuote.objects.filter(pk=sent.pk).update(opened_at=timezone.now())
    job = load_job(sent.job.number)
    options = options_of(sent)
    context: dict[str, Any] = {
        "sent": sent,
        "job": job,
        "token": token,
        "options": [{"option": o, "letter": chr(ord("A") + n)} for n, o in enumerate(options)],
        "photos": photos_shown(job),
        "cloths": [],
        "rounds": [mark_safe(svg) for svg in client_svgs(job)],
        "said": answer_words(sent),
        "refusal": refusal,
    }
    for job_cloth in job.cloths.all():
        run = best_run(job_cloth)
        if run is not None:
            shown = cloth_in_place(job, job_cloth, run, tile=tile_inline(job_cloth.cloth))
            context["cloths"].append({"name": job_cloth.cloth.name, "drawing": shown.drawing})
    answered = render(request, "shop/client.html", context, status=422 if refusal else 200)
    answered["Cache-Control"] = "private, no-store"
    answered["X-Robots-Tag"] = "noindex"
    return answered


@login_not_required
def photo(request: BenchRequest, token: str, pk: int) -> HttpResponseBase:
    """Send one of the photos that the quote shows."""
    sent = _opened(request, token)
    if isinstance(sent, HttpResponse):
        return sent
    found = next((p for p in photos_shown(sent.job) if p.pk == pk), None)
    if found is None:
        return _closed(request)
    try:
        return FileResponse(found.file.open("rb"), content_type="image/jpeg", headers={"Cache-Control": "private"})
    except FileNotFoundError:
        raise Http404 from None


@login_not_required
def paper(request: BenchRequest, token: str) -> HttpResponse:
    """Send the quote as PDF."""
    sent = _opened(request, token)
    if isinstance(sent, HttpResponse):
        return sent
    content = quote_pdf(quote_page(sent, request.workroom), units=request.workroom.units)
    return HttpResponse(
        content, content_type="application/pdf", headers={"Content-Disposition": 'inline; filename="quote.pdf"'}
    )
