"""Time and money of a job."""

from __future__ import annotations

from django.http import HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from zonatome.core.shop.own_pace import read_paces
from zonatome.core.shop.work import TRADE_SPREAD
from zonatome.web.base.owners import money_seen, owners_only
from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job
from zonatome.web.rack.pages import job_page
from zonatome.web.shop.gather import worth_of
from zonatome.web.shop.models import OldPiece, SentQuote
from zonatome.web.shop.quotes import answer_words
from zonatome.web.shop.services import money_of, rates_of
from zonatome.web.shop.views.gather import OldPieceForm


@money_seen
def home(request: BenchRequest, number: int) -> HttpResponse:
    """Show hours, waits, materials and the quote."""
    return money_page(request, load_job(number))


def money_page(request: BenchRequest, job: Job, *, old_form: OldPieceForm | None = None) -> HttpResponse:
    """Return the page of time and money; with a form that was refused as it was sent."""
    money = money_of(job, request.workroom)
    old = OldPiece.objects.filter(job=job).first() or OldPiece(job=job)
    context = {
        "money": money,
        "worth": worth_of(job, request.workroom, asked=money.quote.total),
        "old_form": old_form or OldPieceForm(instance=old),
        "answer": next((answer_words(one) for one in SentQuote.objects.filter(job=job).exclude(answer="")), ""),
        "rates": rates_of(request.workroom),
        "spread": [f"{share * 100:.0f} %" for share in TRADE_SPREAD],
        "own_paces": read_paces(request.workroom.own_times),
        "sixth": request.workroom.rules["sixth_of_a_set"],
    }
    return job_page(request, job, "money", "shop/home.html", context, status=422 if old_form else 200)


@owners_only
@require_POST
def waits_for(request: BenchRequest, number: int) -> HttpResponse:
    """Say what the tag waits for, a yes or a cloth on order; with nothing said it waits no more."""
    job = load_job(number)
    job.waits_for = request.POST.get("waits_for", "").strip()[:80]
    job.save()
    return redirect("shop:home", number=number)
