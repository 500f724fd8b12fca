"""The furniture in the round: its page, its pictures, the file to give away, the measures that it is built from."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from django.contrib import messages
from django.http import Http404, HttpResponse, HttpResponseNotModified
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_POST

from zonatome.core.body.views import USUAL_VIEW, View, view_named
from zonatome.core.errors import BadInput
from zonatome.core.survey.furniture import with_variants
from zonatome.core.survey.kinds import KINDS
from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job
from zonatome.web.lay.asking import request_for
from zonatome.web.lay.models import Cloth, JobCloth
from zonatome.web.lay.under_hand import hand_lay, handwork_of
from zonatome.web.rack.pages import job_page
from zonatome.web.round import services
from zonatome.web.round.drawing import said_apart
from zonatome.web.round.forms import MeasuresForm

SVG = "image/svg+xml"
GLB = "model/gltf-binary"
MOST_TONES = 4000  # characters


def home(request: BenchRequest, number: int) -> HttpResponse:
    """Show the furniture in the round, beside it the cloths on trial, and what its measures are."""
    job = load_job(number)
    return job_page(request, job, "round", "round/home.html", _context(request, job))


def _context(request: BenchRequest, job: Job) -> dict[str, object]:
    body = services.body_of_job(job)
    trials = []
    for job_cloth in job.cloths.all():
        for trial in job_cloth.trials.select_related("cloth"):
            if trial.cloth_id != job_cloth.cloth_id and trial.state == "done":
                trials.append({"name": trial.cloth.name, "query": f"?of={job_cloth.pk}&cloth={trial.cloth_id}"})
    return {
        "trials": trials[:3],
        "form": MeasuresForm(units=request.workroom.units, lines=services.measure_lines(job)),
        "has_shapes": any(p.shape for p in job.parts.all()),
        "apart": said_apart(job, services.not_alike(job, body), request.workroom.units),
        "pieces": range(1, job.count + 1),
        "piece": _piece(request, job),
        "query": f"?piece={_piece(request, job)}",
        "is_dressed": job.cloths.exists(),
    }


def _piece(request: BenchRequest, job: Job) -> int:
    which = request.GET.get("piece", "1")
    return min(int(which), job.count) if which.isdigit() and 0 < len(which) < 4 and int(which) else 1


def _worn(request: BenchRequest, job: Job) -> services.Worn:
    """What the furniture wears in the picture that is asked for: as it stands, with a cloth on trial, by a lay under
    the hand.
    """
    of, cloth, hand = (request.GET.get(name, "") for name in ("of", "cloth", "hand"))
    trial = None
    if of or cloth:
        trial = (_job_cloth(job, of), get_object_or_404(Cloth, pk=cloth if cloth.isdigit() and len(cloth) < 10 else 0))
    under_hand = None
    if hand:
        job_cloth = _job_cloth(job, hand)
        work = handwork_of(hand_lay(job_cloth))
        under_hand = (job_cloth, request_for(job_cloth), {(p.piece, p.copy): p for p in work.placements})
    return services.worn_by(job, piece=_piece(request, job), trial=trial, by_hand=under_hand)


def _job_cloth(job: Job, key: str) -> JobCloth:
    for job_cloth in job.cloths.all():
        if str(job_cloth.pk) == key:
            return job_cloth
    raise Http404


def _tones(request: BenchRequest) -> dict[str, str]:
    """The tones of panels as the page has them: `key:tone` with commas between."""
    told = request.GET.get("tones", "")[:MOST_TONES]
    pairs = (one.partition(":") for one in told.split(",") if one)
    return {key: tone for key, _, tone in pairs}


def _unless_kept(request: BenchRequest, job: Job, content_type: str, made: Callable[[], str | bytes]) -> HttpResponse:
    """Answer with what is made, or that what was sent before still holds."""
    version = job.picture_version if not request.GET.get("hand") else ""
    etag = f'"{version}"' if version else ""
    if etag and request.headers.get("If-None-Match") == etag:
        return HttpResponseNotModified(headers={"ETag": etag})
    answer = HttpResponse(made(), content_type=content_type)
    answer["Cache-Control"] = "private, no-cache" if etag else "no-store"
    if etag and request.GET.get("v") == version:  # its address is another one once it changes
        answer["Cache-Control"] = "private, max-age=31536000, immutable"
    if etag:
        answer["ETag"] = etag
    return answer


def picture(request: BenchRequest, number: int) -> HttpResponse:
    """Send the picture from one of the eight views."""
    job = load_job(number)
    try:
        shown = request.GET.get("show", "")[:60]
        view = services.view_showing(job, shown) if shown else view_named(request.GET.get("view", USUAL_VIEW))
        answer = _unless_kept(request, job, SVG, partial(_picture, request, job, view))
        answer["X-View"] = view.key
        return answer
    except BadInput as refused:
        return HttpResponse(refused.sentence, status=422, content_type="text/plain")


def _picture(request: BenchRequest, job: Job, view: View) -> str:
    worn = _worn(request, job)
    dress = services.toned(worn.dress, job.kind, _tones(request))
    return services.picture_svg(job, view, services.Worn(dress, worn.photos), with_parts=True)


def small(request: BenchRequest, number: int) -> HttpResponse:
    """Send the small picture of a tag; its address bears what changes with the tag."""
    job = load_job(number)
    return _unless_kept(request, job, SVG, partial(services.tag_svg, job))


def model(request: BenchRequest, number: int) -> HttpResponse:
    """Send the furniture as a GLB file, for the page and to give away."""
    job = load_job(number)

    def made() -> bytes:
        return services.model_glb(job, _worn(request, job))

    try:
        answer = _unless_kept(request, job, GLB, made)
    except BadInput as refused:
        return HttpResponse(refused.sentence, status=422, content_type="text/plain")
    if request.GET.get("save") == "1" and answer.status_code == 200:
        answer["Content-Disposition"] = f'attachment; filename="{job.number}-furniture.glb"'
    return answer


def kind(request: BenchRequest, key: str) -> HttpResponse:
    """Send the picture of a kind in some of its makes, for a new tag."""
    if key not in KINDS:
        raise Http404
    wanted = [v for v in request.GET.get("makes", "")[:200].split(",") if v]
    known = {v.key for v in KINDS[key].variants}
    made, standing = KINDS[key], list[str]()
    try:
        for variant in wanted:
            try:
                made = with_variants(KINDS[key], [*standing, variant])
                standing.append(variant)
            except BadInput:
                if variant not in known:
                    raise  # two that can't stand beside each other: the first of them is drawn
    except BadInput as refused:
        return HttpResponse(refused.sentence, status=422, content_type="text/plain")
    return HttpResponse(services.kind_svg(made), content_type=SVG, headers={"Cache-Control": "private, max-age=3600"})


@require_POST
def measures(request: BenchRequest, number: int) -> HttpResponse:
    """Keep measures of the furniture; an empty box is the usual one again."""
    job = load_job(number)
    form = MeasuresForm(request.POST, units=request.workroom.units, lines=services.measure_lines(job))
    if form.is_valid():
        try:
            services.take_measures(job, form.cleaned_data)
        except BadInput as refused:
            form.refuse(refused)
        else:
            messages.success(request, "The furniture is built from these measures now.")
            return redirect("round:home", number=number)
    again = load_job(number)
    return job_page(request, again, "round", "round/home.html", {**_context(request, again), "form": form}, status=422)
