"""Tracing from a photo: the mat's markers, the photo, mending the outline under the hand, keeping it as the panel's
shape.
"""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.http import Http404, HttpResponse, JsonResponse
from django.http.response import HttpResponseBase
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput, NoAnswer, ZonatomeError
from zonatome.core.formats.mat_pdf import mat_pdf
from zonatome.core.tolerances import CORNER_DEGREES
from zonatome.core.trace.mat import Mat
from zonatome.core.trace.photo import MOST_BYTES
from zonatome.standins.bench_camera import Shot, photograph
from zonatome.web.base.answers import said
from zonatome.web.base.files import sent_photo
from zonatome.web.base.length_forms import LengthField
from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.loading import load_job, panel_or_404
from zonatome.web.jobs.models import Job, JobPart
from zonatome.web.rack.pages import job_page
from zonatome.web.trace import services
from zonatome.web.trace.forms import BenchForm, MatForm
from zonatome.web.trace.models import CoverPhoto

USUAL_MAT = {"width": 1200.0, "height": 800.0}
BENCH_MAT = Mat(1200, 800)


def mat(request: BenchRequest, number: int = 0) -> HttpResponse:
    """Print the mat's markers at true size."""
    content = mat_pdf(units=request.workroom.units)
    return HttpResponse(
        content, content_type="application/pdf", headers={"Content-Disposition": 'inline; filename="markers.pdf"'}
    )


def _found(number: int, key: str) -> tuple[Job, JobPart, CoverPhoto | None]:
    job = load_job(number)
    part = panel_or_404(job.panels(), key)
    return job, part, CoverPhoto.objects.filter(part=part).first()


def desk(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Show the flat photo under its outline, or how to take one."""
    return _page(request, number, key)


def _page(
    request: BenchRequest, number: int, key: str, *, refusal: str = "", forms: dict[str, Any] | None = None
) -> HttpResponse:
    job, part, photo = _found(number, key)
    units = request.workroom.units
    context: dict[str, Any] = {
        "part": part,
        "photo": photo,
        "points": [[x - photo.left, photo.top - y] for x, y in photo.outline] if photo else [],
        "mat_form": MatForm(
            units=units, initial={"width": photo.mat_width, "height": photo.mat_height} if photo else USUAL_MAT
        ),
        "bench_form": BenchForm(units=units),
        "has_partner": part.part.mirror is not None,
        "refusal": refusal,
        "corner": CORNER_DEGREES,
        "is_new": photo is None or "again" in request.GET or bool(refusal),
    } | (forms or {})
    return job_page(request, job, "trace", "trace/photo.html", context, status=422 if refusal or forms else 200)


def photo_sent(request: BenchRequest, of: str) -> bytes:
    """Return the photo that a request brings, bounded before it is read.

    Raises BadInput where there is none, or too much of it.
    """
    upload = request.FILES.get("photo")
    if upload is None:
        raise BadInput(
            "photo", None, f"a JPEG or PNG photo of {of}", words=f"Choose a photo of {of} first, a JPEG or PNG."
        )
    if (upload.size or 0) > MOST_BYTES:
        raise BadInput("photo", f"{(upload.size or 0) / 2**20:.0f} MB", f"at most {MOST_BYTES // 2**20} MB")
    return bytes(upload.read())


@require_POST
def take(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Trace a photo that was sent."""
    _, part, _ = _found(number, key)
    form = MatForm(request.POST, units=request.workroom.units)
    if not form.is_valid():
        return _page(request, number, key, forms={"mat_form": form, "is_new": True})
    try:
        content = photo_sent(request, "the cover on the mat")
        photo = services.photo_of_cover(part, content, Mat(form.cleaned_data["width"], form.cleaned_data["height"]))
    except (BadInput, NoAnswer) as refusal:
        return _page(request, number, key, refusal=str(refusal))
    return _told(request, number, key, photo)


@require_POST
def bench(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Have the bench camera's stand-in photograph one of its covers, and trace that."""
    _, part, _ = _found(number, key)
    form = BenchForm(request.POST, units=request.workroom.units)
    if not form.is_valid():
        return _page(request, number, key, forms={"bench_form": form, "is_new": True})
    chosen = form.cleaned_data
    content, _ = photograph(
        Shot(**{**chosen, "tilt": float(chosen["tilt"]), "light": float(chosen["light"])}), BENCH_MAT
    )
    try:
        photo = services.photo_of_cover(part, content, BENCH_MAT)
    except ZonatomeError as refusal:
        return _page(request, number, key, refusal=str(refusal))
    return _told(request, number, key, photo)


def _told(request: BenchRequest, number: int, key: str, photo: CoverPhoto) -> HttpResponse:
    if photo.error is None:
        messages.warning(request, f"Not traced: {photo.words}. Draw the square out to the cover's edge by hand.")
    return redirect("trace:photo", number=number, key=key)


@require_POST
def tool(request: BenchRequest, number: int, key: str, tool: str) -> JsonResponse:
    """Do one thing to the points that a page sends, and send them back; nothing is stored."""
    _found(number, key)
    return tool_used(request, tool)


def tool_used(request: BenchRequest, tool: str) -> JsonResponse:
    """Return the points that a request holds as a tool leaves them, or why it can't."""
    if tool not in services.TOOLS:
        raise Http404
    try:
        outline = services.points_sent(request.POST.get("points", ""))
        numbers = {k: _whole(request.POST.get(k, "")) for k in ("at", "to")}
        radius = LengthField(label="Radius", size="small", most=2000)
        radius.use(request.workroom.units)
        given = radius.clean(request.POST.get("radius", "")) if tool == "round" else 0.0
        made = services.TOOLS[tool](outline, numbers["at"], numbers["to"], given or 0.0)
        return JsonResponse({"points": [[x, -y] for x, y in made.points]})
    except BadInput as refusal:
        return said(request, refusal.sentence)
    except ValidationError as refusal:
        return said(request, " ".join(refusal.messages))


def _whole(text: str) -> int:
    return int(text) if text.isdigit() and len(text) < 6 else 0


@require_POST
def keep(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Keep the outline as the panel's shape, and with the photo as it was mended."""
    _, part, photo = _found(number, key)
    if photo is None:
        raise Http404
    turns = request.POST.get("turns", "0")
    try:
        outline = services.points_sent(request.POST.get("points", ""))
        moved = outline.moved(photo.left, photo.top)
        shape = services.shape_from_photo(part, moved, int(turns) if turns in ("0", "1", "2", "3") else 0)
        photo.outline = [list(p) for p in moved.points]
        photo.save(update_fields=["outline"])
        if request.POST.get("only_mend") != "1":
            words = services.keep_new_shape(part, shape, "photo", pair=request.POST.get("pair") == "1")
    except BadInput as refusal:
        return _page(request, number, key, refusal=refusal.sentence)
    if request.POST.get("only_mend") == "1":
        return HttpResponse(status=204)
    messages.success(request, f"{part.name}: shape kept{''.join(f', {w}' for w in words)}.")
    return redirect("trace:panel", number=number, key=key)


def flat(request: BenchRequest, number: int, key: str) -> HttpResponseBase:
    """Send the flat photo."""
    _, _, photo = _found(number, key)
    if photo is None:
        raise Http404
    return sent_photo(request, photo.file)
