"""Lay: the cloths of a job, the lay of each as it is found, what to buy, and the cut sheet."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.db import transaction
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput
from zonatome.core.formats.lay_json import read_lay
from zonatome.core.lay.advice.suits import remarks_on
from zonatome.core.lay.advice.too_wide import too_large_for
from zonatome.core.lay.check import named
from zonatome.core.lay.prepared import is_prepared
from zonatome.core.lay.ranking import is_shortest
from zonatome.core.lay.request import Lay, LayRequest, Panels
from zonatome.core.lay.table import by_hand as by_hand_core
from zonatome.core.lay.table.cut_sheet import cut_sheet
from zonatome.core.units import Units, format_length, said_in
from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job
from zonatome.web.lay import acts, services, trials, under_hand
from zonatome.web.lay.asking import host_of, marks_of, members_of, names_in, request_for
from zonatome.web.lay.drawing import lay_drawing
from zonatome.web.lay.forms import ClothForm, HandForm, RulesForm, UseClothForm
from zonatome.web.lay.models import Cloth, JobCloth, LayRun
from zonatome.web.lay.pages import job_cloth_or_404, sheet_of
from zonatome.web.lay.photo import tile_address
from zonatome.web.rack.pages import job_page


def home(request: BenchRequest, number: int) -> HttpResponse:
    """Show the first cloth's lay, or ask for a cloth."""
    first = JobCloth.objects.filter(job__number=number).first()
    return redirect("lay:cloth", number=number, pk=first.pk) if first else _choose(request, load_job(number))


def _choose(
    request: BenchRequest, job: Job, *, use: UseClothForm | None = None, new: ClothForm | None = None
) -> HttpResponse:
    cloths = list(job.cloths.all())
    context = {
        "use_form": use or UseClothForm(initial={"role": "contrast" if cloths else "main"}, label_suffix=""),
        "cloth_form": new or ClothForm(units=request.workroom.units),
        "store": Cloth.objects.filter(is_in_store=True),
        "cloths": cloths,
        "taken_off": _taken_off(job),
    }
    return job_page(request, job, "lay", "lay/choose.html", context, status=422 if use or new else 200)


def _taken_off(job: Job) -> list[JobCloth]:
    return list(
        JobCloth.every.filter(job=job).exclude(put_away_at=None).select_related("cloth").order_by("-put_away_at")
    )


def choose(request: BenchRequest, number: int) -> HttpResponse:
    """Take another cloth for the job."""
    return _choose(request, load_job(number))


@require_POST
def use(request: BenchRequest, number: int) -> HttpResponse:
    """Take a cloth from the store for the job."""
    job = load_job(number)
    form = UseClothForm(request.POST)
    if not form.is_valid():
        return _choose(request, job, use=form)
    made = services.add_cloth(job, form.cleaned_data["cloth"], form.cleaned_data["role"])
    return redirect("lay:cloth", number=number, pk=made.pk)


@require_POST
def new_cloth(request: BenchRequest, number: int) -> HttpResponse:
    """Enter a new cloth and take it for the job."""
    job = load_job(number)
    form = ClothForm(request.POST, units=request.workroom.units)
    if not form.is_valid():
        return _choose(request, job, new=form)
    with transaction.atomic():
        made = services.add_cloth(job, form.save(), "contrast" if job.cloths.all() else "main")
    return redirect("lay:cloth", number=number, pk=made.pk)


def cloth(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Show the lay on one cloth."""
    job = load_job(number)
    return _cloth_page(request, job, job_cloth_or_404(job, pk))


def _cloth_page(
    request: BenchRequest, job: Job, job_cloth: JobCloth, *, refusal: str = "", rules: RulesForm | None = None
) -> HttpResponse:
    units = request.workroom.units
    panels_here = [p for p in job.panels() if p.cloth_id == job_cloth.pk]
    context = {
        **_board(job_cloth, units),
        "cloths": job.cloths.all(),
        "refusal": refusal,
        "panels_here": panels_here,
        "remarks": remarks_on(
            [p.part for p in panels_here],
            direction=job_cloth.cloth.direction,
            pattern=job_cloth.cloth.pattern,
            thickness=job_cloth.cloth.thickness,
            rules=job.rules,
            units=units,
        ),
        "rules_form": rules
        or RulesForm(
            units=units,
            initial={name: getattr(job_cloth, name) for name in RulesForm.base_fields},
        ),
        "shapeless": [p for p in job.panels() if p.shape is None],
        "taken_off": _taken_off(job),
    }
    return job_page(request, job, "lay", "lay/board.html", context, status=422 if refusal or rules else 200)


def _board(job_cloth: JobCloth, units: Units) -> dict[str, Any]:
    """What the drawing and the figures show; also sent alone while a search moves."""
    newest, run, host = services.newest_run(job_cloth), services.best_run(job_cloth), host_of(job_cloth)
    members = members_of(host)
    found: dict[str, Any] = {
        "job_cloth": job_cloth,
        "job": job_cloth.job,
        "newest": newest,
        "run": run,
        "host": host,
        "members": members,
    }
    found |= {"taken": job_cloth.from_store.count(), "flaws": len(job_cloth.flaws), "held": len(job_cloth.held)}
    if run is None:
        return {**found, "is_preparing": not is_prepared()}
    run.job_cloth = host
    asked, lay, sheet = sheet_of(run)
    photo = tile_address(host.cloth)
    on_roll: dict[str, Any] = {"cost": services.cost_from_store(host)}
    if not lay.on_panels:
        bought = services.purchase_of(host, lay.length)
        on_roll = {
            "bought": bought,
            "cost": bought.cost,
            "thumb": services.chart_for(host),
            "saved_on_chart": services.saved_on_chart(host, bought),
        }
    shares = services.shares_of(host, asked, on_roll["cost"]) if len(members) > 1 else {}
    return {
        **found,
        **on_roll,
        **({} if newest and newest.is_moving else _easy(run, asked, lay, units)),
        "lay": lay,
        "sheet": sheet,
        "drawing": lay_drawing(asked, sheet, units, photo=photo),
        "shares": [(m, shares[m.pk]) for m in members if shares],
        "unplaced": [f"{count} × {names_in(host)[piece]}" for piece, count in lay.unplaced],
        "short": [(names_in(host)[strip], missing) for strip, missing in lay.short],
        "too_large": _too_large(asked, lay, names_in(host), units),
        "is_stale": services.cloth_standing(job_cloth).is_stale,
        "is_rows": lay.method == "rows",
        "is_shortest": is_shortest(lay),
        "piece_count": asked.piece_count,
        "saved": max(0.0, (newest.first_length or lay.length) - lay.length) if newest else 0.0,
        "cross_words": [format_length(c, units, "sheet") for c in sheet.cross_cuts],
    }


def _too_large(asked: LayRequest, lay: Lay, names: dict[str, str], units: Units) -> list[str]:
    """Of what finds no room on pieces of the store: what is larger than all of them, and what helps."""
    if not isinstance(asked.cloth, Panels):
        return []
    told = ((piece, too_large_for(asked.by_id[piece], asked.cloth)) for piece, _ in lay.unplaced)
    return [f"{names[piece]}, {large.words(units)}." for piece, large in told if large]


def _easy(run: LayRun, asked: LayRequest, lay: Lay, units: Units) -> dict[str, Any]:
    """The lay that is easy to cut, beside a tight one."""
    if lay.on_panels or run.row_lay is None or lay.method == "rows":
        return {}
    easy = read_lay(run.row_lay)
    host = run.job_cloth
    cuts = cut_sheet(asked, easy, names_in(host))
    bought = services.purchase_of(host, easy.length)
    more = bought.cost - services.purchase_of(host, lay.length).cost
    drawing = lay_drawing(asked, cuts, units, photo=tile_address(host.cloth))
    return {
        "easy": easy,
        "easy_bought": bought,
        "easy_more": more,
        "easy_drawing": drawing,
        "easy_cuts": len(cuts.cross_cuts),
    }


@require_POST
def take_easy(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Let the lay in rows stand, though a shorter one is known, until one lays again."""
    job = load_job(number)
    job_cloth = job_cloth_or_404(job, pk)
    run = services.best_run(job_cloth)
    try:
        if run is None or run.row_lay is None or run.fingerprint != services.wanted_fingerprint(job_cloth):
            raise BadInput(
                "lay", "none that is true to the shapes", "a lay that is true to the shapes; lay the pieces first"
            )
        under_hand.keep_by_hand(job_cloth, read_lay(run.row_lay), ())
    except BadInput as refusal:
        return _cloth_page(request, job, job_cloth, refusal=refusal.sentence)
    messages.info(request, "The easy one stands. Lay again, and the shortest does.")
    return redirect("lay:cloth", number=number, pk=pk)


@require_POST
def start(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Lay in rows at once and send the search to the worker."""
    job = load_job(number)
    job_cloth = job_cloth_or_404(job, pk)
    if job_cloth.laid_with is not None:
        return redirect("lay:cloth", number=job_cloth.laid_with.job.number, pk=job_cloth.laid_with_id)
    newest = services.newest_run(job_cloth)
    if newest is not None and newest.is_moving:
        if newest.fingerprint == services.wanted_fingerprint(job_cloth):
            return redirect("lay:cloth", number=number, pk=pk)
        services.ask_to_stop(newest)  # it searches for what is not wanted any more
    if newest is not None:
        services.close_lost(newest)
    try:
        services.start_lay(job_cloth)
    except BadInput as refusal:
        return _cloth_page(request, job, job_cloth, refusal=said_in(refusal.told, request.workroom.units))
    return redirect("lay:cloth", number=number, pk=pk)


@require_POST
def stop(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Stop the search; the best so far is kept."""
    newest = services.newest_run(job_cloth_or_404(load_job(number), pk))
    if newest is not None and newest.is_open:
        services.ask_to_stop(newest)
    return redirect("lay:cloth", number=number, pk=pk)


def moving(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Send the board as it is now, for the page that watches."""
    job = load_job(number)
    return render(request, "lay/_board.html", _board(job_cloth_or_404(job, pk), request.workroom.units))


def _trial(job_cloth: JobCloth) -> dict[str, Any]:
    standings = trials.trial_standings(job_cloth)
    return {
        "job": job_cloth.job,
        "job_cloth": job_cloth,
        "standings": standings,
        "is_moving": any(s.trial.is_moving for s in standings),
        "is_stale": any(s.is_stale for s in standings),
    }


def trial(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Show the cloths on trial side by side."""
    job = load_job(number)
    return job_page(request, job, "lay", "lay/trial.html", _trial(job_cloth_or_404(job, pk)))


def trial_moving(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Send the cloths on trial as they are now, for the page that watches."""
    return render(request, "lay/_trial.html", _trial(job_cloth_or_404(load_job(number), pk)))


@require_POST
def start_trial(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Lay the pieces on every cloth of the store."""
    job_cloth = job_cloth_or_404(load_job(number), pk)
    trials.start_trials(job_cloth)
    return redirect("lay:trial", number=number, pk=pk)


@require_POST
def take_from_trial(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Take a cloth on trial in the place of the job's."""
    job = load_job(number)
    job_cloth = job_cloth_or_404(job, pk)
    chosen = get_object_or_404(job_cloth.trials, cloth_id=request.POST.get("cloth") or 0)
    try:
        trials.take_instead(job_cloth, chosen.cloth)
    except BadInput as refusal:
        context = {**_trial(job_cloth), "refusal": refusal.told}
        return job_page(request, job, "lay", "lay/trial.html", context, status=422)
    messages.info(request, f"The panels are on {chosen.cloth.name} now. Lay them.")
    return redirect("lay:cloth", number=number, pk=pk)


def _hand(job_cloth: JobCloth, units: Units, *, held: str = "", refusal: str = "") -> dict[str, Any]:
    hand = under_hand.hand_lay(job_cloth)
    work, asked = under_hand.handwork_of(hand), request_for(job_cloth)
    lay, wrong = by_hand_core.judged(asked, work, services.strips_that_stand(job_cloth))
    job, names = job_cloth.job, names_in(job_cloth)
    sheet = cut_sheet(asked, lay, names, marks_of(job_cloth, asked))
    states = {k.replace(":", "."): "is-pinned" for k in work.pinned} | {
        k.replace(":", "."): "is-wrong" for f in wrong for k in f.cuts
    }
    run = services.best_run(job_cloth)
    return {
        "job": job,
        "job_cloth": job_cloth,
        "lay": lay,
        "wrong": [said_in(named(f.words, names), units) for f in wrong],
        "drawing": lay_drawing(asked, sheet, units, states, photo=tile_address(job_cloth.cloth)),
        "pinned": len(work.pinned),
        "can_undo": bool(hand.past),
        "beside": by_hand_core.beside_words(lay, run.best_length if run else None, units),
        "held": held,
        "refusal": refusal,
    }


def by_hand(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Show the lay under the hand."""
    job = load_job(number)
    job_cloth = job_cloth_or_404(job, pk)
    try:
        context = _hand(job_cloth, request.workroom.units)
    except BadInput as refusal:
        return _cloth_page(request, job, job_cloth, refusal=refusal.told)
    return job_page(request, job, "lay", "lay/hand.html", {**context, "hand_query": f"?hand={pk}"})


@require_POST
def hand_act(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Do one thing by hand; answers with the table as it is then, or leads to the lay that it makes."""
    job = load_job(number)
    job_cloth = job_cloth_or_404(job, pk)
    form = HandForm(request.POST)
    refusal = ""
    try:
        if not form.is_valid():
            raise BadInput("act", request.POST.get("act"), "a move of the hand with numbers in millimetres")
        done = acts.act_by_hand(job_cloth, **form.cleaned_data)
    except BadInput as refused:
        words = named(refused.told, names_in(job_cloth))
        done, refusal = False, said_in(words, request.workroom.units)
    if done:
        return redirect("lay:cloth", number=number, pk=pk)
    held = request.POST.get("key", "")[:80]
    context = _hand(job_cloth_or_404(load_job(number), pk), request.workroom.units, held=held, refusal=refusal)
    if request.headers.get("X-Hand"):
        return render(request, "lay/_hand.html", context, status=422 if refusal else 200)
    context["hand_query"] = f"?hand={pk}"
    return job_page(request, job, "lay", "lay/hand.html", context, status=422 if refusal else 200)


@require_POST
def set_rules(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Change gap, squaring and margin."""
    job = load_job(number)
    job_cloth = job_cloth_or_404(job, pk)
    form = RulesForm(request.POST, units=request.workroom.units)
    if not form.is_valid():
        return _cloth_page(request, job, job_cloth, rules=form)
    for key, value in form.cleaned_data.items():
        setattr(job_cloth, key, value)
    job_cloth.save()
    return redirect("lay:cloth", number=number, pk=pk)


@require_POST
def put_away(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Take a cloth off the job; its panels have none then."""
    job = load_job(number)
    job_cloth = job_cloth_or_404(job, pk)
    services.take_off_job(job_cloth)
    messages.info(
        request, f"{job_cloth.cloth.name} is off this job; its panels have no cloth now. It can be put back below."
    )
    return redirect("lay:home", number=number)


@require_POST
def put_back(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Put a cloth back on the job that was taken off it."""
    back = services.put_back_on_job(load_job(number), pk)
    if back is None:
        raise Http404
    messages.success(request, f"{back.cloth.name} is on this job again, with its lays.")
    return redirect("lay:cloth", number=number, pk=pk)
