"""Time and money of a job."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse

from zonatome.web.jobs.pages import job_page, load_job
from zonatome.web.shop.services import money_of, rates_of


def home(request: HttpRequest, number: int) -> HttpResponse:
    """Show hours, waits, materials and the quote."""
    job = load_job(number)
    return job_page(
        request, job, "money", "shop/home.html", {"money": money_of(job, request.workroom), "rates": rates_of(request.workroom)}
    )
