"""Fasten: panels put on in their order, each through its stages; staples stepped through."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import redirect
from django.urls import reverse
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput
from zonatome.core.fasten.chosen import STAGES
from zonatome.core.fasten.closings import CLOSINGS
from zonatome.core.fasten.folds import NAMES, fits, fold
from zonatome.core.fasten.sewing import Seam, seam_key, sewn_with
from zonatome.core.fasten.stages import FACING_STEPS, LOOKS, TRIMMED, Stage
from zonatome.core.fasten.staples import (
    KeepOut,
    bottom_staples,
    boxes_for,
    staple_leg,
    temporary_staples,
    through_cloth,
)
from zonatome.core.survey.kind import edge_words
from zonatome.core.trim.welt import USUAL_CLOTH
from zonatome.core.units import said_in
from zonatome.web.base.answers import said
from zonatome.web.base.length_forms import WorkForm
from zonatome.web.base.request import BenchRequest
from zonatome.web.fasten import services
from zonatome.web.fasten.acts import ACTS, AT, Refused
from zonatome.web.fasten.drawing import (
    board_drawing,
    cuts_sketch,
    facing_sketch,
    fold_sketch,
    photo_drawing,
    pleats_sketch,
    sewing_sketch,
)
from zonatome.web.fasten.forms import FoldForm, KeepOutForm, PleatForm, PostForm, StapleForm
from zonatome.web.fasten.models import KeepOutMark
from zonatome.web.jobs.loading import load_job, panel_or_404
from zonatome.web.jobs.models import Job, JobPart
from zonatome.web.jobs.photos import keep_sent_photo
from zonatome.web.pad.forms import BoardForm
from zonatome.web.pad.services import outline_under, stack_of
from zonatome.web.rack.pages import job_page
from zonatome.web.trace.boards import (
    board_of,
    chosen_of,
    goes_round_a_board,
    held_edges_of,
    is_round_board,
    pitch_of,
    plan_of,
    shape_or_usual,
    staples_of,
)
from zonatome.web.trace.services import keep_staple_count, plan_staples

MOST_KEEP_OUTS = 40


@dataclass(frozen=True)
class Sent:
    """What was sent and not taken: a form with its boxes, or words."""

    staple: StapleForm | None = None
    hole: KeepOutForm | None = None
    form: WorkForm | None = None
    words: str = ""

    def of(self, sort: type[WorkForm]) -> WorkForm | None:
        """The form that was sent, if it is of this sort."""
        return self.form if isinstance(self.form, sort) else None


NOTHING = Sent()


def home(request: BenchRequest, number: int) -> HttpResponse:
    """Show the panel that goes on now."""
    job = load_job(number)
    part = services.next_to_go_on(services.going_on(job))
    if part is None:
        return job_page(request, job, "fasten", "fasten/none.html", {})
    return redirect("fasten:panel", number=number, key=part.key)


def panel(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Show one panel at one of its stages."""
    job = load_job(number)
    return _page(request, job, panel_or_404(job.put_on(), key), stage=request.GET.get("stage", ""))


def _page(request: BenchRequest, job: Job, part: JobPart, *, stage: str = "", sent: Sent = NOTHING) -> HttpResponse:
    facts = services.facts_of(part)
    stages = [(one, one.key in facts.chosen.done or _is_done(part, facts, one)) for one in facts.stages]
    now = next((one for one in facts.stages if one.key == stage), None) or next(
        (one for one, is_done in stages if not is_done), facts.stages[-1]
    )
    going = services.going_on(job)
    context: dict[str, Any] = {
        "part": part,
        "going": going,
        "thing": next((t for t in going if part in t.members), services.alone(part)),
        "facts": facts,
        "stages": stages,
        "stage": now,
        "stage_view": f"fasten/_{now.key}_view.html",
        "stage_side": f"fasten/_{now.key}_side.html",
        "after": _after(facts, now),
        "next_panel": services.next_to_go_on(going),
        "refusal": sent.words,
        "is_board": is_round_board(part),
    }
    context |= STAGE_CONTEXT[now.key](request, part, facts, sent)
    status = 200 if sent == NOTHING else 422
    return job_page(request, job, "fasten", "fasten/panel.html", context, status=status)


def _is_done(part: JobPart, facts: services.Facts, stage: Stage) -> bool:
    """Whether a stage is done by what was counted or ticked on it."""
    if stage.key == "square":
        return part.staples_done > 0 or facts.chosen.is_square(tuple(t.key for t in facts.ticks))
    if stage.key == "staples":
        return bool(part.staples_planned) and part.staples_done >= part.staples_planned * part.job.count
    if stage.key == "sew":
        return bool(facts.all_sewn)
    return False


def _after(facts: services.Facts, now: Stage) -> Stage | None:
    at = facts.stages.index(now)
    return facts.stages[at + 1] if at + 1 < len(facts.stages) else None


def _staples(request: BenchRequest, part: JobPart, _: services.Facts, sent: Sent) -> dict[str, Any]:
    units, job = request.workroom.units, part.job
    plan = plan_of(part)
    keep_staple_count(part, len(plan.staples))  # what the page says of the whole tag counts this plan, not a guess
    shape = shape_or_usual(part)
    board = board_of(part) if is_round_board(part) else None
    drawing = (
        board_drawing(part, board.outline, plan)
        if board
        else board_drawing(part, shape.outline, plan, face_up=shape, corners=services.closed_last(shape))
    )
    each = len(plan.staples)
    a_set = each * job.count
    piece, at = divmod(min(part.staples_done, a_set), max(1, each))
    through = through_cloth(part.cloth.cloth.thickness if part.cloth else USUAL_CLOTH)
    bottom = bottom_staples(board.outline, job.rules) if board else 0
    chosen = chosen_of(part)
    in_all = sum(staples_of(row) for row in job.panels()) * job.count
    return {
        "plan": plan,
        "drawing": drawing,
        "held": [] if board else held_edges_of(part),
        "leg": staple_leg(through=through, rail=max(1.0, services.rail_of(part))),
        "whole": a_set,
        "bottom": bottom * job.count,
        "in_all": in_all,
        "pitch": pitch_of(part),
        "boxes": boxes_for(in_all + bottom * job.count),
        "piece": min(piece + 1, job.count),
        "at": at if part.staples_done < a_set else each,
        "form": sent.staple
        or StapleForm(
            units=units,
            initial={"pitch": pitch_of(part), "order": plan.order, "rows": chosen.rows},
            has_own=bool(chosen.own_order),
        ),
        "hole_form": sent.hole or KeepOutForm(units=units),
        "board_form": BoardForm(units=units, prefix=f"{part.key}-board", is_round=part.part.form == "disc")
        if goes_round_a_board(part) and not part.has_board
        else None,
        "corner_count": sum(s.at_corner for s in plan.staples),
        "temporary": temporary_staples(len(plan.first_row)),
        "data": {
            "each": each,
            "count": job.count,
            "done": part.staples_done,
            "words": [said_in(s.words, units) for s in drawing.staples],
        },
    }


def _corners(request: BenchRequest, part: JobPart, facts: services.Facts, sent: Sent) -> dict[str, Any]:
    units, chosen = request.workroom.units, facts.chosen
    initial = {"outer": chosen.outer, "inner": chosen.inner, "deep": chosen.deep}
    made, eased = chosen.pleats, ""
    if facts.is_round:
        try:
            made = services.pleats_of(part, facts.shape, chosen)
        except BadInput as refusal:
            eased = refusal.told
    context: dict[str, Any] = {
        "pleats": made,
        "eased": eased,
        "pleats_marked": any(mark.means == "pleat" for mark in facts.shape.marks),
        "pleats_sketch": pleats_sketch(made, is_round=facts.is_round and chosen.pleats is None) if made else None,
        "pleat_form": sent.of(PleatForm) or PleatForm(units=units, initial=initial),
    }
    if facts.is_round:
        return context
    corner = facts.corners[0]
    made_fold = fold(services.fold_of(corner, chosen), corner)
    cloth = part.cloth.cloth.thickness if part.cloth else USUAL_CLOTH
    return context | {
        "corner": corner,
        "fold": made_fold,
        "thick": made_fold.thick(cloth),
        "folds": [(key, words, fits(key, corner)) for key, words in NAMES.items()],
        "fold_steps": [(step, fold_sketch(step)) for step in made_fold.steps],
        "fold_data": {"steps": [{"title": s.title, "words": said_in(s.words, units)} for s in made_fold.steps]},
        "fold_form": sent.of(FoldForm) or FoldForm(units=units, initial={"wrap": corner.wrap, "radius": chosen.radius}),
    }


def _cuts(request: BenchRequest, part: JobPart, facts: services.Facts, sent: Sent) -> dict[str, Any]:
    cuts = services.cuts_of(facts.shape, facts.chosen)
    drawn = [(one.post.at, one.post.width, cut) for one, cut, _ in cuts]
    return {
        "cuts": cuts,
        "cuts_sketch": cuts_sketch(facts.shape, drawn, facts.curves),
        "post_form": sent.of(PostForm) or PostForm(units=request.workroom.units),
        "on_shape": part.shape is not None,
        "posts_marked": services.posts_marked(facts.shape, facts.chosen),
    }


def _closings(_request: BenchRequest, _part: JobPart, facts: services.Facts, _: Sent) -> dict[str, Any]:
    return {"closed": services.closings_of(facts.shape, facts.chosen), "ways": CLOSINGS.values(),
            "edges": [(edge, services.side_words(edge)) for edge in facts.shape.edges]}  # fmt: skip


def _look(request: BenchRequest, part: JobPart, facts: services.Facts, _: Sent) -> dict[str, Any]:
    photos = [p for p in part.job.photos.all() if p.part_id == part.pk and p.path.exists()]
    wanted = request.GET.get("photo", "")
    shown = next((p for p in photos if str(p.pk) == wanted), photos[-1] if photos else None)
    return {
        "found": [(n, one, LOOKS[one.look]) for n, one in enumerate(facts.chosen.found)],
        "seen": [line for p in photos if p.lines for line in photo_drawing(p).lines],
        "seen_count": len(facts.chosen.found) + sum(len(p.lines) for p in photos),
        "looks": LOOKS.values(),
        "pieces": range(1, part.job.count + 1),
        "photos": photos,
        "shown": photo_drawing(shown) if shown else None,
    }


def _sew(request: BenchRequest, part: JobPart, _: services.Facts, _sent: Sent) -> dict[str, Any]:
    runs = services.runs_of(part)
    first = services.first_sewn(part)
    chosen = chosen_of(first)
    cloth = part.cloth.cloth.thickness if part.cloth else USUAL_CLOTH
    return {
        "runs": runs,
        "sewn": min(chosen.sewn, len(runs)),
        "first": first,
        "machine": sewn_with(cloth),
        "sewing_sketch": sewing_sketch(part.job, part.job.kind.sewn_with(part.key), runs),
        "seams": [_seam_row(part.job, seam) for run in runs for seam in run.seams],
        "minutes": sum(run.minutes for run in runs),
        "sew_data": {
            "runs": [{"what": r.what, "words": said_in(r.words, request.workroom.units)} for r in runs],
            "sewn": min(chosen.sewn, len(runs)),
        },
    }


def _seam_row(job: Job, seam: Seam) -> dict[str, Any]:
    """A seam as one ticks what is in it: its name in words, whether it is top-stitched or welted."""
    ends = " to ".join(f"{job.kind.part(key).short} {edge_words(edge)}" for key, edge in seam.meeting.ends)
    return {"key": seam_key(seam.meeting), "words": ends, "seam": seam}


def _facing(_request: BenchRequest, part: JobPart, facts: services.Facts, _: Sent) -> dict[str, Any]:
    board = outline_under(part, stack_of(part))
    return {
        "facing_steps": FACING_STEPS,
        "board": board,
        "facing_sketch": facing_sketch(board),
        "cut": facts.shape.cut_line,
    }


def _nothing(_request: BenchRequest, _part: JobPart, _facts: services.Facts, _: Sent) -> dict[str, Any]:
    return {"trimmed": TRIMMED}


STAGE_CONTEXT = {
    "sew": _sew,
    "facing": _facing,
    "square": _nothing,
    "staples": _staples,
    "corners": _corners,
    "cuts": _cuts,
    "closings": _closings,
    "surplus": _nothing,
    "look": _look,
}


def _at_stage(number: int, key: str, stage: str, *, photo: str = "") -> HttpResponse:
    """On to the page of a panel at one of its stages, a photo open where one is in hand."""
    in_hand = f"&photo={photo}" if photo.isdigit() else ""
    return redirect(reverse("fasten:panel", args=[number, key]) + f"?stage={stage}{in_hand}")


@require_POST
def act(request: BenchRequest, number: int, key: str, what: str) -> HttpResponse:
    """Take what was pressed at a stage."""
    job = load_job(number)
    part = panel_or_404(job.put_on(), key)
    if what not in ACTS:
        raise Http404
    sent_from = request.POST.get("stage", "")
    stage = sent_from if sent_from in STAGES else AT.get(what, "")
    try:
        ACTS[what](part, request.POST, request.workroom.units)
    except Refused as refused:
        return _page(request, load_job(number), part, stage=stage, sent=Sent(form=refused.form))
    except BadInput as refusal:
        fresh = load_job(number)
        return _page(request, fresh, panel_or_404(fresh.put_on(), key), stage=stage, sent=Sent(words=refusal.told))
    if request.headers.get("X-Staple"):
        return JsonResponse({"kept": True})
    then = request.POST.get("then", "")
    return _at_stage(number, key, then if then in STAGES else stage, photo=request.POST.get("photo", ""))


@require_POST
def add_photo(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Keep a photo of a panel that is looked over."""
    job = load_job(number)
    part = panel_or_404(job.put_on(), key)
    try:
        keep_sent_photo(request, job, "look", part=part)
    except BadInput as refusal:
        return _page(request, job, part, stage="look", sent=Sent(words=refusal.sentence))
    return _at_stage(number, key, "look")


@require_POST
def choose(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Choose pitch, rows and order; the count of what is done begins again when the plan changes."""
    job = load_job(number)
    part = panel_or_404(job.put_on(), key)
    form = StapleForm(request.POST, units=request.workroom.units, has_own=bool(chosen_of(part).own_order))
    if not form.is_valid():
        return _page(request, job, part, stage="staples", sent=Sent(staple=form))
    told, rows = form.cleaned_data, form.cleaned_data["rows"] or 1
    before = chosen_of(part).rows
    changed = (part.pitch, part.staple_order, before) != (told["pitch"], told["order"], rows)
    part.pitch, part.staple_order = told["pitch"], told["order"]
    if changed:
        part.staples_done = 0
    part.save()
    if rows != before:
        services.keep_chosen(part, lambda chosen: replace(chosen, rows=rows))
    plan_staples(part)
    return _at_stage(number, key, "staples")


@require_POST
def add_hole(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Mark a screw hole to keep clear of."""
    job = load_job(number)
    part = panel_or_404(job.put_on(), key)
    form = KeepOutForm(request.POST, units=request.workroom.units)
    if not form.is_valid():
        return _page(request, job, part, stage="staples", sent=Sent(hole=form))
    under = board_of(part).outline if is_round_board(part) else shape_or_usual(part).outline
    x0, y0, x1, y1 = under.bounds
    mark = KeepOut(x0 + form.cleaned_data["x"], y0 + form.cleaned_data["y"], form.cleaned_data["radius"])
    if not (x0 <= mark.x <= x1 and y0 <= mark.y <= y1):
        form.refuse(
            BadInput("x", f"{mark.x:.0f}, {mark.y:.0f} mm", f"a place on the board of {x1 - x0:.0f} × {y1 - y0:.0f} mm")
        )
        return _page(request, job, part, stage="staples", sent=Sent(hole=form))
    if part.keep_outs.count() >= MOST_KEEP_OUTS:
        form.refuse(BadInput("holes", MOST_KEEP_OUTS + 1, f"at most {MOST_KEEP_OUTS} marks"))
        return _page(request, job, part, stage="staples", sent=Sent(hole=form))
    KeepOutMark.objects.create(part=part, x=mark.x, y=mark.y, radius=mark.radius)
    return _replanned(number, key)


@require_POST
def remove_hole(request: BenchRequest, number: int, key: str, pk: int) -> HttpResponse:
    """Take a mark away."""
    KeepOutMark.objects.filter(part__job__number=number, part__key=key, pk=pk).delete()
    return _replanned(number, key)


def _replanned(number: int, key: str) -> HttpResponse:
    plan_staples(panel_or_404(load_job(number).put_on(), key))
    return _at_stage(number, key, "staples")


@require_POST
def done(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Keep how many staples are in, over the whole set."""
    job = load_job(number)
    part = panel_or_404(job.put_on(), key)
    most = plan_staples(part) * job.count
    try:
        count = int(request.POST.get("done", ""))
    except ValueError:
        count = -1
    if not 0 <= count <= most:
        return said(request, f"done: expected 0 to {most}")
    JobPart.objects.filter(pk=part.pk).update(staples_done=count)
    Job.objects.filter(pk=part.job_id).forget_kept()
    if request.headers.get("X-Staple"):
        return JsonResponse({"done": count})
    return _at_stage(number, key, "staples")
