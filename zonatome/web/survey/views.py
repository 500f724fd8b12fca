"""Survey: findings by layer, verdicts, the wish, photos before."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput
from zonatome.core.survey.findings import LAYERS, VERDICTS, findings_of, proposed_verdict
from zonatome.web.jobs.forms import PhotoForm
from zonatome.web.jobs.models import photos_of
from zonatome.web.jobs.pages import job_page, load_job
from zonatome.web.jobs.photos import keep_sent_photo
from zonatome.web.jobs.standing import drawing_of
from zonatome.web.shop.services import money_of
from zonatome.web.survey.models import LayerFinding

ABOUT = {
    "frame": "Rock it, press the joints apart, look under.",
    "support": "Press the middle with a fist, look from below.",
    "filling": "Press and let go, smell it.",
    "cover": "Look along the edges and the front rail, smell it.",
}


def home(request: HttpRequest, number: int) -> HttpResponse:
    """Show the furniture opened out and its four layers."""
    return _page(request, number)


def _page(request: HttpRequest, number: int, *, refusal: str = "", status: int = 200) -> HttpResponse:
    job = load_job(number)
    found = {f.layer: f for f in job.findings.all()}
    layers = [{"key": layer, "about": ABOUT[layer], "choices": findings_of(layer), "found": found.get(layer)} for layer in LAYERS]
    context = {
        "layers": layers,
        "verdicts": VERDICTS.items(),
        "drawing": drawing_of(job),
        "photo_form": PhotoForm(),
        "before": photos_of(job.photos.all(), "before"),
        "refusal": refusal,
        "money": money_of(job, request.workroom),
    }
    return job_page(request, job, "survey", "survey/home.html", context, status=status)


@require_POST
def find(request: HttpRequest, number: int) -> HttpResponse:
    """Record the finding of one layer, with the verdict it leads to or the one chosen by hand."""
    job = load_job(number)
    try:
        finding = proposed_verdict(request.POST.get("finding", ""))
    except BadInput as refusal:
        return _page(request, number, refusal=str(refusal), status=422)
    verdict = request.POST.get("verdict") or finding.verdict
    if verdict not in VERDICTS:
        return _page(request, number, refusal=str(BadInput("verdict", verdict, "one of " + ", ".join(VERDICTS.values()))), status=422)
    note = request.POST.get("note", "").strip()[:300]
    LayerFinding.objects.update_or_create(job=job, layer=finding.layer, defaults={"finding": finding.key, "verdict": verdict, "note": note})
    return redirect("survey:home", number=number)


@require_POST
def add_photo(request: HttpRequest, number: int) -> HttpResponse:
    """Keep a photo before."""
    job = load_job(number)
    try:
        keep_sent_photo(request, job, "before")
    except BadInput as refusal:
        return _page(request, number, refusal=str(refusal), status=422)
    messages.success(request, "Photo kept.")
    return redirect("survey:home", number=number)
