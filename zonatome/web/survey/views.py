"""Survey: findings by layer, verdicts, the wish and its restyling, panels of one's own, photos before."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.contrib import messages
from django.db import transaction
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from zonatome.core.cautions import CAUTIONS
from zonatome.core.errors import BadInput
from zonatome.core.joins import JOINS
from zonatome.core.shop.estimate import whole_days
from zonatome.core.survey.clearance import STAYS_INSIDE, USUAL_COVER, USUAL_WRAP, Clearance, clearance, sits_in_rebate
from zonatome.core.survey.findings import LAYERS, VERDICTS, finding_named, findings_of, ways_to_test
from zonatome.core.survey.furniture import joins_of_sides
from zonatome.core.survey.glue import GLUES, glue_named
from zonatome.core.survey.kind import Meeting, edge_words
from zonatome.core.survey.kinds import kind_named
from zonatome.core.survey.restyle import arm_parts
from zonatome.web.base.answers import go_back
from zonatome.web.base.changed import ChangedMeanwhile, both_shown, sent_version
from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.drawing import Drawing, drawing_of
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job, Photo, Wait
from zonatome.web.jobs.photos import keep_sent_photo
from zonatome.web.lay.offcuts import spares_of
from zonatome.web.rack.pages import job_page
from zonatome.web.shop.services import money_of
from zonatome.web.survey import services
from zonatome.web.survey.acts import ACTS
from zonatome.web.survey.forms import RESTYLES, AddPartForm, ClearanceForm, JoinForm, SplitForm
from zonatome.web.survey.models import CautionSeen, LayerFinding, LayerVerdict
from zonatome.web.survey.verdicts import verdicts_of
from zonatome.web.trace.restyle import restyle as restyle_job


def home(request: BenchRequest, number: int) -> HttpResponse:
    """Show the furniture opened out and its four layers."""
    return _page(request, number)


def _page(
    request: BenchRequest,
    number: int,
    *,
    refusal: str = "",
    status: int = 200,
    clearance_form: ClearanceForm | None = None,
) -> HttpResponse:
    job = load_job(number)
    standing = verdicts_of(job)
    layers = [
        {
            "standing": standing[layer],
            "tests": ways_to_test(layer),
            "choices": [
                {"finding": f, "is_on": f.key in {x.finding for x in standing[layer].found}} for f in findings_of(layer)
            ],
        }
        for layer in LAYERS
    ]
    drops_in = sits_in_rebate(job.kind)
    money = money_of(job, request.workroom)
    context = {
        "layers": layers,
        "verdicts": VERDICTS.items(),
        "drawing": _own_drawing(job),
        "before": [p for p in job.photos.all() if p.when == "before"],
        "parts": list(job.parts.all()),
        "refusal": refusal,
        "spares": spares_of(job) if job.count > 1 else [],
        "money": money,
        "days_words": _days(money.minutes, money.waits),
        "drops_in": drops_in,
        "fit": _fit(job),
        "stays_inside": STAYS_INSIDE,
        "glues": GLUES.values() if any(f.finding == "frame_loose" for f in job.findings.all()) else (),
        "glue_waits": [w for w in job.waits.all() if w.step == "survey" and w.until > timezone.now()],
        "clearance_form": clearance_form
        or (
            ClearanceForm(units=request.workroom.units, initial=job.clearance or _usual_clearance(job))
            if drops_in
            else None
        ),
    }
    return job_page(request, job, "survey", "survey/home.html", context, status=status)


def _fit(job: Job) -> Clearance | None:
    return clearance(**job.clearance) if job.clearance else None


def _usual_clearance(job: Job) -> dict[str, float]:
    """What is known before anything is measured: the new cloth's thickness."""
    cloth = next((c.cloth for c in job.cloths.all()), None)
    thick = cloth.thickness if cloth else USUAL_COVER
    return {"new_cloth": thick, "old_cover": USUAL_COVER, "wrap": USUAL_WRAP}


def _days(minutes: float, waits: float) -> str:
    """How long it takes in words: hours at the bench, and days with its waits."""
    days = whole_days(minutes, waits)
    return f"{days} day{'s' if days > 1 else ''} with its waits"


@require_POST
def find(request: BenchRequest, number: int) -> HttpResponse:
    """Record what was found in one layer, and the verdict where a hand decides otherwise than the rule."""
    job = load_job(number)
    layer, verdict = request.POST.get("layer", ""), request.POST.get("verdict", "")
    try:
        keys = {f.key for f in findings_of(layer)}
        found = [finding_named(key).key for key in request.POST.getlist("finding")]
        for key in found:
            if key not in keys:
                raise BadInput("finding", key, "one of " + ", ".join(sorted(keys)))
        if verdict and verdict not in VERDICTS:
            raise BadInput("verdict", verdict, "one of " + ", ".join(VERDICTS.values()))
    except BadInput as refusal:
        return _page(request, number, refusal=refusal.sentence, status=422)
    with transaction.atomic():
        for row in LayerFinding.objects.filter(job=job, layer=layer).exclude(finding__in=found):
            row.delete()
        for key in found:
            LayerFinding.objects.get_or_create(job=job, layer=layer, finding=key)
        note = request.POST.get("note", "").strip()[:300]
        LayerVerdict.objects.update_or_create(
            job=job, layer=layer, defaults={"verdict": verdict if found else "", "note": note}
        )
    return redirect(reverse("survey:home", args=[number]) + f"#{layer}")


@require_POST
def glued(request: BenchRequest, number: int) -> HttpResponse:
    """Start the wait of a joint that has been glued and clamped."""
    job = load_job(number)
    try:
        glue = glue_named(request.POST.get("glue", ""))
    except BadInput as refusal:
        return _page(request, number, refusal=refusal.sentence, status=422)
    now = timezone.now()
    Wait.objects.create(
        job=job,
        step="survey",
        words=f"{glue.name} stands, clamped",
        began=now,
        until=now + timedelta(minutes=glue.minutes),
    )
    return redirect(reverse("survey:home", args=[number]) + "#frame")


@require_POST
def measure(request: BenchRequest, number: int) -> HttpResponse:
    """Keep the measures of the clearance sum, or forget them."""
    job = load_job(number)
    if request.POST.get("forget"):
        job.clearance = None
        job.save()
        return redirect("survey:home", number=number)
    form = ClearanceForm(request.POST, units=request.workroom.units)
    if form.is_valid():
        try:
            clearance(**form.cleaned_data)
        except BadInput as refusal:
            form.refuse(refusal)
    if not form.is_valid():
        return _page(request, number, status=422, clearance_form=form)
    job.clearance = form.cleaned_data
    job.save()
    return redirect(reverse("survey:home", args=[number]) + "#cover")


@require_POST
def seen(request: BenchRequest, number: int) -> HttpResponse:
    """Record that cautions have been seen on this tag, and go back to where they stood."""
    keys = request.POST.getlist("key")[: len(CAUTIONS)]
    if not keys or any(key not in CAUTIONS for key in keys):
        raise Http404
    job = get_object_or_404(Job, number=number)
    for key in keys:
        CautionSeen.objects.get_or_create(
            job=job, key=key, defaults={"by": request.user if request.user.is_authenticated else None}
        )
    return go_back(request, reverse("survey:home", args=[number]))


# --- photos ------------------------------------------------------------------------------------------


@require_POST
def add_photo(request: BenchRequest, number: int) -> HttpResponse:
    """Keep a photo before, pinned to a panel where one is chosen."""
    job = load_job(number)
    part = job.parts_by_key().get(request.POST.get("part", ""))
    try:
        keep_sent_photo(request, job, "before", part=part, words=request.POST.get("words", "").strip())
    except BadInput as refusal:
        return _page(request, number, refusal=refusal.sentence, status=422)
    messages.success(request, "Photo kept.")
    return redirect(reverse("survey:home", args=[number]) + "#photos")


@require_POST
def pin_photo(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Pin a photo to another panel, or take it away."""
    job = load_job(number)
    photo = get_object_or_404(Photo, pk=pk, job=job)
    if request.POST.get("forget"):
        photo.file.delete(save=False)
        photo.delete()
        messages.info(request, "Photo taken away.")
    else:
        photo.part = job.parts_by_key().get(request.POST.get("part", ""))
        photo.save()
    return go_back(request, reverse("survey:home", args=[number]) + "#photos")


# --- panels of one's own -----------------------------------------------------------------------------


def panels(request: BenchRequest, number: int) -> HttpResponse:
    """Show the panels, their joins and what lies over what, to change them."""
    return _panels(request, number)


def _panels(
    request: BenchRequest, number: int, *, refusal: str = "", forms: dict[str, Any] | None = None, status: int = 200
) -> HttpResponse:
    job = load_job(number)
    kind, units = job.kind, request.workroom.units
    key = request.GET.get("part") or request.POST.get("key") or ""
    key = key if kind.has(key) else next(p.key for p in kind.parts)
    part = kind.part(key)
    names = {p.key: p.name for p in kind.parts}
    rows = job.parts_by_key()
    context: dict[str, Any] = {
        "part": part,
        "row": rows.get(key),
        "kind": kind,
        "usual": kind_named(job.kind_key),
        "variants": [{"variant": v, "is_on": v.key in job.variants} for v in kind_named(job.kind_key).variants],
        "is_changed": job.furniture is not None,
        "meets": [_meeting(m, key, names) for m in kind.meetings_of(key)],
        "sides": {edge_words(e): join for e, join in joins_of_sides(part).items()},
        "over": [{"key": o, "name": names[o]} for u, o in kind.over if u == key],
        "under": [{"key": u, "name": names[u]} for u, o in kind.over if o == key],
        "others": [p for p in kind.parts if p.key != key],
        "not_drawn": [p for p in kind.parts if not p.is_cut],
        "past": list(reversed(job.furniture_past))[:6],
        "refusal": refusal,
        "drawing": _own_drawing(job, key),
        "add_form": AddPartForm(kind=kind, units=units, initial={"on": key if part.is_cut else ""}),
        "split_form": SplitForm(
            units=units, initial={"first": f"{part.name}, first", "second": f"{part.name}, second"}
        ),
        "join_form": JoinForm(kind=kind, key=key, units=units),
    } | (forms or {})
    return job_page(request, job, "survey", "survey/panels.html", context, status=status)


def _meeting(meeting: Meeting, key: str, names: dict[str, str]) -> dict[str, str]:
    """A join as it is seen from one panel."""
    side = meeting.one_edge if meeting.one == key else meeting.other_edge
    other = meeting.partner(key)
    return {"other": other, "name": names[other], "side": edge_words(side), "join": JOINS[meeting.join].name}


def _own_drawing(job: Job, key: str = "") -> Drawing:
    """The drawing coloured by what is of the old cover only, of the new one only, of the second cloth."""
    tones, words = {}, {}
    for part in job.kind.parts:
        tone, said = {"new": ("new", "only in the new cover"), "old": ("gone", "not made again")}.get(
            part.cover, ("plain", "")
        )
        if part.contrast:
            tone, said = "contrast", f"{said} in the second cloth".strip()
        tones[part.key] = tone + (" part--in-hand" if part.key == key else "")
        words[part.key] = said
    return drawing_of(job, tones=tones, words=words)


@require_POST
def change(request: BenchRequest, number: int, what: str) -> HttpResponse:
    """Change the furniture of one job: one of the acts, or variants, or undo."""
    if what not in (*ACTS, "variants", "undo"):
        raise Http404
    job = load_job(number)
    version = sent_version(request)
    key = request.POST.get("key", "")
    back, form = reverse("survey:panels", args=[number]), None
    try:
        if what == "undo":
            messages.info(request, f"Taken back: {services.undo_change(job)}.")
            return redirect(back)
        if what == "variants":
            services.choose_variants(job, request.POST.getlist("variant"), version=version)
            return redirect(back)
        form = _form_of(request, job, what, key)
        if form is not None and not form.is_valid():
            return _panels(request, number, forms={f"{what}_form": form}, status=422)
        typed = {name: request.POST.get(name, "") for name in ("count", "name", "other")}
        kind, words = ACTS[what](job.kind, key, form.cleaned_data if form else typed)
        services.change_furniture(job, kind, words=words[:120], version=version)
    except BadInput as refusal:
        kept = {f"{what}_form": form} if form is not None else {f"typed_{what}": request.POST}
        return _panels(request, number, refusal=refusal.told, forms=kept, status=422)
    except ChangedMeanwhile as changed:
        return both_shown(request, changed, version=job.furniture_version, back=back)
    return redirect(back + (f"?part={key}" if kind.has(key) else ""))


def _form_of(request: BenchRequest, job: Job, what: str, key: str) -> Any:
    units = request.workroom.units
    if what == "add":
        return AddPartForm(request.POST, kind=job.kind, units=units)
    if what == "split":
        return SplitForm(request.POST, units=units)
    return JoinForm(request.POST, kind=job.kind, key=key, units=units) if what == "join" else None


# --- restyling ---------------------------------------------------------------------------------------


def restyle(request: BenchRequest, number: int) -> HttpResponse:
    """Show what may be made other than before, and what follows from it."""
    return _restyle(request, number)


def _restyle(
    request: BenchRequest, number: int, *, bound: dict[str, Any] | None = None, refusal: str = "", status: int = 200
) -> HttpResponse:
    job = load_job(number)
    kind, units = job.kind, request.workroom.units
    forms = {}
    for what, form in RESTYLES.items():
        forms[what] = (bound or {}).get(what) or (form(units=units) if what == "arms" else form(kind=kind, units=units))
    if not arm_parts(kind):
        forms.pop("arms")
    context = {
        "forms": forms,
        "refusal": refusal,
        "restyled": job.restyled,
        "can_undo": bool(job.furniture_past),
        "drawing": _own_drawing(job),
        "has_second": any(c.role == "contrast" for c in job.cloths.all()),
        "needs_second": any(p.contrast for p in kind.panels),
        "new_parts": [p for p in kind.parts if p.cover == "new"],
        "trim": job.trim_kind.replace("_", " "),
    }
    return job_page(request, job, "survey", "survey/restyle.html", context, status=status)


@require_POST
def do_restyle(request: BenchRequest, number: int, what: str) -> HttpResponse:
    """Restyle one thing; what follows is said."""
    job = load_job(number)
    if what not in RESTYLES:
        raise Http404
    rest = {} if what == "arms" else {"kind": job.kind}
    form = RESTYLES[what](request.POST, units=request.workroom.units, **rest)
    if not form.is_valid():
        return _restyle(request, number, bound={what: form}, status=422)
    try:
        told = restyle_job(job, what, form.cleaned_data, version=sent_version(request))
    except BadInput as refusal:
        form.refuse(refusal)
        return _restyle(request, number, bound={what: form}, status=422)
    except ChangedMeanwhile as changed:
        return both_shown(
            request, changed, version=job.furniture_version, back=reverse("survey:restyle", args=[number])
        )
    follows = "; ".join(f"{step.capitalize()}: {words}" for step, words in told.follows)
    messages.success(request, f"{told.words[0].upper()}{told.words[1:]}. {follows}.")
    return redirect("survey:restyle", number=number)
