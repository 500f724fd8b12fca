"""Lay: the cloths of a job, the lay of each as it is found, what to buy, and the cut sheet."""

from __future__ import annotations

import json
from typing import Any

from django.contrib import messages
from django.db import transaction
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput
from zonatome.core.formats.cut_sheet_pdf import SheetHead, corner_words, cut_sheet_pdf
from zonatome.core.formats.lay_svg import lay_svg
from zonatome.core.lay import by_hand as by_hand_core
from zonatome.core.lay.check import named
from zonatome.core.lay.cutting import CutSheet, cut_sheet
from zonatome.core.units import Units, format_length
from zonatome.web.jobs.models import Job
from zonatome.web.jobs.pages import job_page, load_job
from zonatome.web.lay import acts, services
from zonatome.web.lay.drawing import lay_drawing
from zonatome.web.lay.forms import ClothForm, HandForm, RulesForm, UseClothForm
from zonatome.web.lay.models import Cloth, JobCloth, LayRun


def home(request: HttpRequest, number: int) -> HttpResponse:
    """Show the first cloth's lay, or ask for a cloth."""
    job = load_job(number)
    cloths = list(job.cloths.all())
    if cloths:
        return redirect("lay:cloth", number=number, pk=cloths[0].pk)
    return _choose(request, job)


def _choose(request: HttpRequest, job: Job, *, use: UseClothForm | None = None, new: ClothForm | None = None) -> HttpResponse:
    cloths = list(job.cloths.all())
    context = {
        "use_form": use or UseClothForm(initial={"role": "contrast" if cloths else "main"}, label_suffix=""),
        "cloth_form": new or ClothForm(units=request.workroom.units),
        "store": Cloth.objects.filter(is_in_store=True),
        "cloths": cloths,
    }
    return job_page(request, job, "lay", "lay/choose.html", context, status=422 if use or new else 200)


def choose(request: HttpRequest, number: int) -> HttpResponse:
    """Take another cloth for the job."""
    return _choose(request, load_job(number))


@require_POST
def use(request: HttpRequest, number: int) -> HttpResponse:
    """Take a cloth from the store for the job."""
    job = load_job(number)
    form = UseClothForm(request.POST)
    if not form.is_valid():
        return _choose(request, job, use=form)
    made = services.add_cloth(job, form.cleaned_data["cloth"], form.cleaned_data["role"])
    return redirect("lay:cloth", number=number, pk=made.pk)


@require_POST
def new_cloth(request: HttpRequest, number: int) -> HttpResponse:
    """Enter a new cloth and take it for the job."""
    job = load_job(number)
    form = ClothForm(request.POST, units=request.workroom.units)
    if not form.is_valid():
        return _choose(request, job, new=form)
    with transaction.atomic():
        made = services.add_cloth(job, form.save(), "contrast" if job.cloths.all() else "main")
    return redirect("lay:cloth", number=number, pk=made.pk)


def cloth(request: HttpRequest, number: int, pk: int) -> HttpResponse:
    """Show the lay on one cloth."""
    job = load_job(number)
    return _cloth_page(request, job, _job_cloth(job, pk))


def _job_cloth(job: Job, pk: int) -> JobCloth:
    for job_cloth in job.cloths.all():
        if job_cloth.pk == pk:
            return job_cloth
    raise Http404


def _cloth_page(request: HttpRequest, job: Job, job_cloth: JobCloth, *, refusal: str = "", rules: RulesForm | None = None) -> HttpResponse:
    units = request.workroom.units
    context = {
        **_board(job_cloth, units),
        "cloths": job.cloths.all(),
        "refusal": refusal,
        "panels_here": [p for p in job.panels() if p.cloth_id == job_cloth.pk],
        "rules_form": rules
        or RulesForm(
            units=units,
            initial={"gap": job_cloth.gap, "squaring": job_cloth.squaring, "margin": job_cloth.margin, "railroaded": job_cloth.railroaded},
        ),
        "shapeless": [p for p in job.panels() if p.shape is None],
    }
    return job_page(request, job, "lay", "lay/board.html", context, status=422 if refusal or rules else 200)


def _names(job: Job) -> dict[str, str]:
    return {**{p.key: p.name for p in job.kind.parts}, "welt": "Welt"}


def _sheet(run: LayRun) -> tuple[Any, Any, CutSheet]:
    asked, lay = run.asked(), run.lay()
    return asked, lay, cut_sheet(asked, lay, _names(run.job_cloth.job), services.marks_of(run.job_cloth.job, asked))


def _board(job_cloth: JobCloth, units: Units) -> dict[str, Any]:
    """What the drawing and the figures show; also sent alone while a search moves."""
    newest, run = services.newest_run(job_cloth), services.best_run(job_cloth)
    found: dict[str, Any] = {"job_cloth": job_cloth, "job": job_cloth.job, "newest": newest, "run": run}
    if run is None:
        return found
    run.job_cloth = job_cloth
    asked, lay, sheet = _sheet(run)
    bought = services.purchase_of(job_cloth, lay.length)
    rows = lay if lay.method == "rows" else None
    return {
        **found,
        "lay": lay,
        "sheet": sheet,
        "drawing": lay_drawing(asked, lay, sheet, _names(job_cloth.job), units),
        "bought": bought,
        "is_stale": services.cloth_standing(job_cloth).is_stale,
        "is_rows": rows is not None,
        "piece_count": asked.piece_count,
        "saved": max(0.0, (newest.first_length or lay.length) - lay.length) if newest else 0.0,
        "cross_words": [format_length(c, units) for c in sheet.cross_cuts[:-1]],
    }


@require_POST
def start(request: HttpRequest, number: int, pk: int) -> HttpResponse:
    """Lay in rows at once and send the search to the worker."""
    job = load_job(number)
    job_cloth = _job_cloth(job, pk)
    newest = services.newest_run(job_cloth)
    if newest is not None and newest.is_moving:
        return redirect("lay:cloth", number=number, pk=pk)
    if newest is not None:
        services.close_lost(newest)
    try:
        services.start_lay(job_cloth)
    except BadInput as refusal:
        return _cloth_page(request, job, job_cloth, refusal=f"Expected {refusal.expected}; got {refusal.value}.")
    return redirect("lay:cloth", number=number, pk=pk)


@require_POST
def stop(request: HttpRequest, number: int, pk: int) -> HttpResponse:
    """Stop the search; the best so far is kept."""
    newest = services.newest_run(_job_cloth(load_job(number), pk))
    if newest is not None and newest.is_open:
        services.ask_to_stop(newest)
    return redirect("lay:cloth", number=number, pk=pk)


def moving(request: HttpRequest, number: int, pk: int) -> HttpResponse:
    """Send the board as it is now, for the page that watches."""
    job = load_job(number)
    return render(request, "lay/_board.html", _board(_job_cloth(job, pk), request.workroom.units))


def _trial(job_cloth: JobCloth) -> dict[str, Any]:
    standings = services.trial_standings(job_cloth)
    return {
        "job": job_cloth.job,
        "job_cloth": job_cloth,
        "standings": standings,
        "is_moving": any(s.trial.is_moving for s in standings),
        "is_stale": any(s.is_stale for s in standings),
    }


def trial(request: HttpRequest, number: int, pk: int) -> HttpResponse:
    """Show the cloths on trial side by side."""
    job = load_job(number)
    return job_page(request, job, "lay", "lay/trial.html", _trial(_job_cloth(job, pk)))


def trial_moving(request: HttpRequest, number: int, pk: int) -> HttpResponse:
    """Send the cloths on trial as they are now, for the page that watches."""
    return render(request, "lay/_trial.html", _trial(_job_cloth(load_job(number), pk)))


@require_POST
def start_trial(request: HttpRequest, number: int, pk: int) -> HttpResponse:
    """Lay the pieces on every cloth of the store."""
    job_cloth = _job_cloth(load_job(number), pk)
    services.start_trials(job_cloth)
    return redirect("lay:trial", number=number, pk=pk)


@require_POST
def take_from_trial(request: HttpRequest, number: int, pk: int) -> HttpResponse:
    """Take a cloth on trial in the place of the job's."""
    job = load_job(number)
    job_cloth = _job_cloth(job, pk)
    chosen = get_object_or_404(job_cloth.trials, cloth_id=request.POST.get("cloth") or 0)
    try:
        services.take_instead(job_cloth, chosen.cloth)
    except BadInput as refusal:
        context = {**_trial(job_cloth), "refusal": f"Expected {refusal.expected}; got {refusal.value}."}
        return job_page(request, job, "lay", "lay/trial.html", context, status=422)
    messages.info(request, f"The panels are on {chosen.cloth.name} now. Lay them.")
    return redirect("lay:cloth", number=number, pk=pk)


def _hand(job_cloth: JobCloth, units: Units, *, held: str = "", refusal: str = "") -> dict[str, Any]:
    hand = services.hand_lay(job_cloth)
    work, asked = services.handwork_of(hand), services.request_for(job_cloth)
    lay, wrong = by_hand_core.judged(asked, work)
    job = job_cloth.job
    sheet = cut_sheet(asked, lay, _names(job), services.marks_of(job, asked))
    states = {k.replace(":", "."): "is-pinned" for k in work.pinned} | {k.replace(":", "."): "is-wrong" for f in wrong for k in f.cuts}
    run = services.best_run(job_cloth)
    return {
        "job": job,
        "job_cloth": job_cloth,
        "lay": lay,
        "wrong": [named(f.words, _names(job)) for f in wrong],
        "drawing": lay_drawing(asked, lay, sheet, _names(job), units, states),
        "pinned": len(work.pinned),
        "can_undo": bool(hand.past),
        "longer": lay.length - (run.best_length or 0.0) if run else 0.0,
        "held": held,
        "refusal": refusal,
    }


def by_hand(request: HttpRequest, number: int, pk: int) -> HttpResponse:
    """Show the lay under the hand."""
    job = load_job(number)
    job_cloth = _job_cloth(job, pk)
    try:
        context = _hand(job_cloth, request.workroom.units)
    except BadInput as refusal:
        return _cloth_page(request, job, job_cloth, refusal=f"Expected {refusal.expected}; it is {refusal.value}.")
    return job_page(request, job, "lay", "lay/hand.html", context)


@require_POST
def hand_act(request: HttpRequest, number: int, pk: int) -> HttpResponse:
    """Do one thing by hand; answers with the table as it is then, or leads to the lay that it makes."""
    job = load_job(number)
    job_cloth = _job_cloth(job, pk)
    form = HandForm(request.POST)
    refusal = ""
    try:
        if not form.is_valid():
            raise BadInput("act", request.POST.get("act"), "a move of the hand with numbers in millimetres")
        done = acts.act_by_hand(job_cloth, **form.cleaned_data)
    except BadInput as refused:
        done, refusal = False, f"Expected {named(refused.expected, _names(job))}; got {named(str(refused.value), _names(job))}."
    if done:
        return redirect("lay:cloth", number=number, pk=pk)
    held = request.POST.get("key", "")[:80]
    context = _hand(_job_cloth(load_job(number), pk), request.workroom.units, held=held, refusal=refusal)
    if request.headers.get("X-Hand"):
        return render(request, "lay/_hand.html", context, status=422 if refusal else 200)
    return job_page(request, job, "lay", "lay/hand.html", context, status=422 if refusal else 200)


@require_POST
def set_rules(request: HttpRequest, number: int, pk: int) -> HttpResponse:
    """Change gap, squaring and margin."""
    job = load_job(number)
    job_cloth = _job_cloth(job, pk)
    form = RulesForm(request.POST, units=request.workroom.units)
    if not form.is_valid():
        return _cloth_page(request, job, job_cloth, rules=form)
    for key, value in form.cleaned_data.items():
        setattr(job_cloth, key, value)
    job_cloth.save()
    return redirect("lay:cloth", number=number, pk=pk)


@require_POST
def put_away(request: HttpRequest, number: int, pk: int) -> HttpResponse:
    """Take a cloth off the job; its panels have none then, its lays are gone."""
    job = load_job(number)
    job_cloth = _job_cloth(job, pk)
    messages.info(request, f"{job_cloth.cloth.name} is back in the store; its panels have no cloth now.")
    job_cloth.delete()
    return redirect("lay:home", number=number)


def _run_or_404(number: int, pk: int) -> tuple[Job, LayRun]:
    job = load_job(number)
    job_cloth = _job_cloth(job, pk)
    run = services.best_run(job_cloth)
    if run is None:
        raise Http404
    run.job_cloth = job_cloth
    return job, run


def sheet(request: HttpRequest, number: int, pk: int) -> HttpResponse:
    """Show the cut sheet, with its ticks."""
    job, run = _run_or_404(number, pk)
    units = request.workroom.units
    asked, lay, cuts = _sheet(run)
    ticked = {t.key for t in run.ticks.all()}
    rows = [{"row": r, "is_cut": r.key in ticked, "corners": [corner_words(c, units) for c in r.corners]} for r in cuts.rows]
    context = {
        "job_cloth": run.job_cloth,
        "run": run,
        "lay": lay,
        "rows": rows,
        "drawing": lay_drawing(asked, lay, cuts, _names(job), units),
        "cross_words": [format_length(c, units) for c in cuts.cross_cuts],
        "cut": len(ticked),
        "bought": services.purchase_of(run.job_cloth, lay.length),
        "is_stale": services.cloth_standing(run.job_cloth).is_stale,
    }
    return job_page(request, job, "lay", "lay/sheet.html", context)


@require_POST
def tick(request: HttpRequest, number: int, pk: int) -> HttpResponse:
    """Tick a piece as cut, or take the tick back."""
    _, run = _run_or_404(number, pk)
    _, _, cuts = _sheet(run)
    row = next((r for r in cuts.rows if r.key == request.POST.get("key")), None)
    if row is None:
        raise Http404
    services.set_tick(run, row.key, is_cut=request.POST.get("cut") == "1", is_strip=row.is_strip)
    if request.headers.get("X-Tick"):
        return HttpResponse(status=204)
    return redirect("lay:sheet", number=number, pk=pk)


def sheet_pdf(request: HttpRequest, number: int, pk: int) -> HttpResponse:
    """Give the cut sheet on paper."""
    job, run = _run_or_404(number, pk)
    units = request.workroom.units
    asked, lay, cuts = _sheet(run)
    bought = services.purchase_of(run.job_cloth, lay.length)
    fabric = run.job_cloth.cloth
    words = f"{fabric.name}, {format_length(fabric.width, units)} wide, {fabric.get_direction_display()}"
    buy = f"Laid {format_length(lay.length, units, 'cloth')}, buy {format_length(bought.length, units, 'cloth', up=True)}"
    now = timezone.localtime()
    head = SheetHead(f"{job.number} {job.name}, {job.client}", words, buy, f"{now.day} {now:%B %Y}")
    return _file(cut_sheet_pdf(asked, lay, cuts, head, units=units), "application/pdf", f"{number}-cut-sheet.pdf")


def lay_as_svg(request: HttpRequest, number: int, pk: int) -> HttpResponse:
    """Give the lay as SVG in millimetres."""
    job, run = _run_or_404(number, pk)
    asked, lay, cuts = _sheet(run)
    return _file(lay_svg(asked, lay, cuts, title=f"{job.number} {job.name}").encode(), "image/svg+xml", f"{number}-lay.svg")


def lay_as_json(request: HttpRequest, number: int, pk: int) -> HttpResponse:
    """Give the lay as a lay file."""
    _, run = _run_or_404(number, pk)
    return _file(json.dumps(run.best, indent=1).encode(), "application/json", f"{number}-lay.json")


def request_as_json(request: HttpRequest, number: int, pk: int) -> HttpResponse:
    """Give what was asked as a lay request, for the command line."""
    _, run = _run_or_404(number, pk)
    return _file(json.dumps(run.request, indent=1).encode(), "application/json", f"{number}-lay-request.json")


def _file(content: bytes, kind: str, name: str) -> HttpResponse:
    return HttpResponse(content, content_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'})


def store(request: HttpRequest) -> HttpResponse:
    """Show the cloths that the workroom knows, and take a new one."""
    form = ClothForm(request.POST or None, units=request.workroom.units)
    if request.method == "POST" and form.is_valid():
        form.save()
        return redirect("store:home")
    cloths = Cloth.objects.filter(is_in_store=True)
    return render(
        request, "lay/store.html", {"cloths": cloths, "form": form, "editing": None, "nav": "cloths"}, status=422 if form.is_bound else 200
    )


def edit_cloth(request: HttpRequest, pk: int) -> HttpResponse:
    """Change a cloth; lays on it then say that they are out of date where that matters."""
    row = get_object_or_404(Cloth, pk=pk)
    form = ClothForm(request.POST or None, instance=row, units=request.workroom.units)
    if request.method == "POST" and form.is_valid():
        form.save()
        return redirect("store:home")
    cloths = Cloth.objects.filter(is_in_store=True)
    return render(
        request, "lay/store.html", {"cloths": cloths, "form": form, "editing": row, "nav": "cloths"}, status=422 if form.is_bound else 200
    )
