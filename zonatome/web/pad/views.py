"""Pad: layers with sizes, what to buy, and what a thicker pad does to the block."""

from __future__ import annotations

from datetime import timedelta

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect
from django.utils import timezone
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput
from zonatome.core.pad.layers import GLUE_SETS, GLUE_USUAL, PadChoice, layer_sizes, measured_pad, to_buy
from zonatome.core.units import format_length
from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.loading import load_job, panel_or_404
from zonatome.web.jobs.models import Job, JobPart, Wait
from zonatome.web.lay.services import cloth_standing
from zonatome.web.pad.forms import BoardForm, PadForm
from zonatome.web.pad.services import extra_layers, pad_choice, set_board, set_pad
from zonatome.web.rack.pages import job_page
from zonatome.web.trace.boards import board_of
from zonatome.web.trace.services import shape_of_part

GLUE_MINUTES = {str(minutes): f"{minutes // 60} h" for minutes in GLUE_SETS}


def home(request: BenchRequest, number: int) -> HttpResponse:
    """Show the pads of the job."""
    return _page(request, load_job(number))


def _page(
    request: BenchRequest, job: Job, *, key: str = "", pad: PadForm | None = None, board: BoardForm | None = None
) -> HttpResponse:
    units = request.workroom.units
    rows = []
    for part in job.padded():
        mine = part.key == key
        choice = pad_choice(part) if part.has_pad else PadChoice()
        initial = {
            "foam": choice.foam,
            "wadding": choice.wadding,
            "oversize": choice.oversize,
            "webbing": choice.webbing,
        }
        layers = (
            layer_sizes(board_of(part), choice, pads=job.count, rules=job.rules)
            if part.has_board and part.has_pad
            else ()
        )
        measured = {
            k: getattr(part, k)
            for k in ("board_width", "board_back", "board_depth", "board_thickness")
            if getattr(part, k) is not None
        }
        rows.append(
            {
                "part": part,
                "choice": choice,
                "measured": measured_pad(choice),
                "layers": layers,
                "buy": to_buy(layers),
                "cut": shape_of_part(part).cut_line if part.shape and part.shape_way == "block" else None,
                "section": _section(part, choice),
                "form": pad if mine and pad else PadForm(units=units, initial=initial, prefix=part.key),
                "board_form": board
                if mine and board
                else BoardForm(
                    units=units, initial=measured, prefix=f"{part.key}-board", is_round=part.part.form == "disc"
                ),
                "board_open": bool(mine and board),
            }
        )
    stale = [c.cloth.name for c in job.cloths.all() if cloth_standing(c).is_stale]
    waits = [w for w in job.waits.all() if w.until > timezone.now()]
    context = {
        "rows": rows,
        "stale": stale,
        "glue": GLUE_MINUTES.items(),
        "glue_usual": str(GLUE_USUAL),
        "waits": waits,
        "layers_usual": job.kind.layers,
        "extra": extra_layers(job),
        "buttoned": [p for p in job.kind.panels if p.buttons],
    }
    return job_page(request, job, "pad", "pad/home.html", context, status=422 if pad or board else 200)


def _section(part: JobPart, choice: PadChoice) -> dict[str, str]:
    """The pad cut through, to scale: thicknesses as heights of a drawing 100 wide, 1 mm a unit."""
    board = min(60.0, part.board_thickness or 18.0)
    foam, wadding = min(150.0, choice.foam), min(50.0, choice.wadding)
    y_wadding = 8.0
    y_foam = y_wadding + wadding
    y_board = y_foam + foam
    return {
        k: f"{v:.1f}"
        for k, v in {
            "wadding": wadding,
            "foam": foam,
            "board": board,
            "y_wadding": y_wadding,
            "y_foam": y_foam,
            "y_board": y_board,
            "height": y_board + board + 8,
            "t_wadding": y_wadding + wadding / 2 + 3,
            "t_foam": y_foam + foam / 2 + 3,
            "t_board": y_board + board / 2 + 3,
        }.items()
    }


@require_POST
def choose(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Choose the layers of one pad."""
    job = load_job(number)
    part = panel_or_404(job.padded(), key)
    units = request.workroom.units
    form = PadForm(request.POST, units=units, prefix=key)
    if not form.is_valid():
        return _page(request, job, key=key, pad=form)
    try:
        growth = set_pad(part, PadChoice(**form.cleaned_data))
    except BadInput as refusal:
        form.refuse(refusal)
        return _page(request, job, key=key, pad=form)
    words = f"{part.name}: the pad measures {format_length(part.pad_measured or 0.0, units, 'small')} under the cover."
    if growth and abs(growth.each_way) > 0.05:
        verb = "grows" if growth.each_way > 0 else "shrinks"
        before, after = (
            f"{format_length(w, units)} × {format_length(h, units)}" for w, h in (growth.before, growth.after)
        )
        words += (
            f" Its cut {verb} by {format_length(abs(growth.each_way), units, 'small')} each way, from {before} "
            f"to {after}."
        )
    messages.success(request, words)
    return redirect("pad:home", number=number)


@require_POST
def measure(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Measure the board under a pad."""
    job = load_job(number)
    part = panel_or_404(job.padded(), key)
    form = BoardForm(
        request.POST, units=request.workroom.units, prefix=f"{key}-board", is_round=part.part.form == "disc"
    )
    if not form.is_valid():
        return _page(request, job, key=key, board=form)
    try:
        set_board(part, **form.cleaned_data)
    except BadInput as refusal:
        form.refuse(refusal)
        return _page(request, job, key=key, board=form)
    back = request.POST.get("then")
    return redirect("fasten:panel", number=number, key=key) if back == "fasten" else redirect("pad:home", number=number)


@require_POST
def glued(request: BenchRequest, number: int) -> HttpResponse:
    """Start the wait for the glue."""
    job = load_job(number)
    minutes = request.POST.get("minutes", str(GLUE_USUAL))
    if minutes not in GLUE_MINUTES:
        raise Http404
    now = timezone.now()
    Wait.objects.create(
        job=job, step="pad", words="foam glue sets", began=now, until=now + timedelta(minutes=int(minutes))
    )
    return redirect("pad:home", number=number)


@require_POST
def end_wait(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """End a wait early."""
    Wait.objects.filter(job__number=number, pk=pk).update(until=timezone.now())
    return redirect("pad:home", number=number)
