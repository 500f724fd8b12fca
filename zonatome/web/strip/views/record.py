"""Strip: what comes off next, one press each, what is written of it, and the way back."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.views.decorators.http import require_POST

from zonatome.core.cautions import cautions_off
from zonatome.core.errors import BadInput
from zonatome.core.strip.order import Reach, can_come_off, comes_with, least_set, lying_over, thing_name, things
from zonatome.core.strip.pulling import WAYS, WHY, Pace, pulled_as_one
from zonatome.core.strip.record import (
    FATES,
    FIXINGS,
    LEAST_LEFT,
    MARKS,
    SAVED,
    Check,
    LeftToHold,
    left_to_hold,
    marks_for,
    usual_fixings,
)
from zonatome.core.survey.furniture import put_over
from zonatome.core.survey.kind import Kind
from zonatome.core.units import said_in
from zonatome.web.base.answers import said
from zonatome.web.base.changed import ChangedMeanwhile, both_shown, sent_version
from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.drawing import drawing_of
from zonatome.web.jobs.loading import load_some, panel_or_404
from zonatome.web.jobs.models import Job, JobPart, Photo
from zonatome.web.rack.pages import job_page
from zonatome.web.rack.standing import keep_standing, kept_of
from zonatome.web.strip import services
from zonatome.web.strip.forms import KeptForm, OffForm, RecordForm
from zonatome.web.strip.models import Difference, Spell
from zonatome.web.strip.pace import pull_of
from zonatome.web.strip.way_back import lacking, way_back_of
from zonatome.web.survey.services import change_furniture

View = Callable[..., HttpResponse]
AT_THE_BENCH = ("photos", "bags", "spells", "seen")


def load_bench(number: int) -> Job:
    """Return a job with what the strip page shows: few queries, since it is opened after every press."""
    job = load_some(number, *AT_THE_BENCH)
    by_pk = {part.pk: part for part in job.parts.all()}
    for bag in job.bags.all():
        bag.part = by_pk.get(bag.part_id or 0)
    for spell in job.spells.all():
        spell.part = by_pk.get(spell.part_id or 0)
    return job


def home(request: BenchRequest, number: int) -> HttpResponse:
    """Show the next thing off, the one in hand, and the record so far."""
    return strip_page(request, number)


def strip_page(
    request: BenchRequest,
    number: int,
    *,
    refusal: str = "",
    status: int = 200,
    form: RecordForm | None = None,
    kept: tuple[str, KeptForm] | None = None,
) -> HttpResponse:
    """The page of the step; `kept` is a form that was refused, with the part in hand."""
    job = load_bench(number)
    kind, off, by_key = job.kind, job.off_keys, job.parts_by_key()
    ready = can_come_off(kind, off)
    reach = least_set(kind, [k for k in job.reach if kind.has(k)], off) if job.reach else None
    wanted = request.GET.get("part") or request.POST.get("part") or (kept[0] if kept else "")
    due = [k for k in ready if reach is None or k in reach.order]
    key = wanted if wanted in by_key and kind.part(wanted).is_on_old else (due[0] if due else "")
    # an older part in hand keeps nobody from the next one
    current = by_key.get(key if key not in off else due[0] if due else "")
    in_hand = by_key.get(key) if key in off else (by_key[off[-1]] if off else None)
    pace = request.workroom.pace
    photos: dict[int, list[Photo]] = {}
    for photo in job.photos.all():
        photos.setdefault(photo.part_id or 0, []).append(photo)
    context: dict[str, Any] = {
        **_comes_next(job, current, pace),
        **_still_on(job, reach, pace),
        **_reached(job, reach),
        "pace": pace,
        "ways": [{"key": k, "name": name, "why": WHY[k]} for k, name in WAYS.items()],
        "record": _record(kind, off, by_key, photos),
        "back": way_back_of(job),
        "checks": _checks(request, lacking(job)),
        "drawing": _drawing(job, ready, key),
        "refusal": refusal,
        "others": [by_key[k] for k in ready if k != key and not kind.part(k).is_cut],
        "running": services.running_spell(job),
        "spells": [s for s in job.spells.all() if s.ended],
        "bags": job.bags.all(),
        "is_covered_over": kept_of(job, request.workroom.units)["state"]["is_covered_over"],
    }
    if in_hand is not None:
        context |= _in_hand(request, job, in_hand, photos.get(in_hand.pk, []), form)
        context |= {"kept_form": kept[1]} if kept else {}
    if job.count > 1:
        context |= _others(job)
    return job_page(request, job, "strip", "strip/home.html", context, status=status)


def _comes_next(job: Job, current: JobPart | None, pace: Pace) -> dict[str, Any]:
    """The part that is next: what comes along with it and lies over it, how it is pulled, what is to be marked."""
    if current is None:
        return {"current": None, "off_cautions": _off_cautions(job, None)}
    kind, by_key = job.kind, job.parts_by_key()
    together = comes_with(kind, current.key)
    return {
        "current": current,
        "current_name": thing_name(kind, together),
        "comes_along": [by_key[k] for k in together[1:] if k in by_key],
        "over": [by_key[k] for k in lying_over(kind, current.key, job.off_keys).under if k in by_key],
        "pull": pulled_as_one([pull_of(by_key[k], pace) for k in together if k in by_key]),
        "marks_wanted": marks_for(kind, current.part),
        "off_cautions": _off_cautions(job, current),
    }


def _still_on(job: Job, reach: Reach | None, pace: Pace) -> dict[str, Any]:
    """How many things are still on that are to come off, with their staples and minutes."""
    by_key, off = job.parts_by_key(), job.off_keys
    left = [
        p.key for p in job.kind.old if p.key not in off and p.key in by_key and (reach is None or p.key in reach.order)
    ]
    pulls = [pulled_as_one([pull_of(by_key[k], pace) for k in group]) for group in things(job.kind, left)]
    return {
        "left": len(pulls),
        "left_staples": sum(p.handled for p in pulls),
        "left_minutes": sum(p.minutes for p in pulls),
    }


def _reached(job: Job, reach: Reach | None) -> dict[str, Any]:
    """Where only some parts are to be reached: which, what stays on, what is left of that to hold by."""
    by_key = job.parts_by_key()
    survives = reach.survives if reach else ()
    return {
        "reach": reach,
        "reach_names": [by_key[k] for k in job.reach if k in by_key],
        "least_left": _least_left(job, survives),
        "least_to_hold": LEAST_LEFT,
        "survives": [by_key[k] for k in survives if k in by_key],
        "reachable": [by_key[p.key] for p in job.kind.old if p.key in by_key],
    }


def _record(
    kind: Kind, off: tuple[str, ...], rows: dict[str, JobPart], photos: dict[int, list[Photo]]
) -> list[dict[str, Any]]:
    """What came off, last first: a sewn cover is one line, with its panels."""
    lines = []
    for group in reversed(things(kind, [k for k in off if k in rows])):
        members = [rows[k] for k in group]
        pictures = [photo for row in members for photo in photos.get(row.pk, [])]
        lines.append({"part": members[0], "rest": members[1:], "name": thing_name(kind, group), "photos": pictures})
    return lines


def _least_left(job: Job, survives: tuple[str, ...]) -> list[tuple[str, list[LeftToHold]]]:
    """The panels that are saved, each with the edges of which too little is left to hold; with the tightest where all
    hold.
    """
    found = []
    for part in (job.kind.part(k) for k in survives):
        edges = sorted(left_to_hold(part, job.rules), key=lambda e: e.left) if part.is_cut else []
        if edges:
            found.append((part.name, [e for e in edges if not e.is_enough] or edges[:1]))
    return found


def _checks(request: BenchRequest, found: tuple[Check, ...]) -> list[dict[str, str]]:
    """What the record lacks, in words, each with where it is mended: at its part, or at its bag."""
    units = request.workroom.units
    place = {"no_bag": "#bags", "empty_bag": "#bags"}
    return [
        {"part": c.part, "words": said_in(c.words, units), "address": place.get(c.key) or f"?part={c.part}#hand"}
        for c in found
    ]


def _off_cautions(job: Job, current: JobPart | None) -> Any:
    if current is None:
        return ()
    is_seat = current.key in ("seat", "top", "inner")
    return cautions_off(
        current.part.what, tuple(current.fixings) or current.part.held, job.kind.layers, is_seat=is_seat
    )


def _in_hand(
    request: BenchRequest, job: Job, part: JobPart, photos: list[Photo], form: RecordForm | None
) -> dict[str, Any]:
    """What the sheet of the part in hand shows."""
    wanted = {m.key for m in marks_for(job.kind, part.part)}
    near = {*usual_fixings(part.part), *(("screws", "bolts", "clips") if part.part.what == "hardware" else FIXINGS[:6])}
    return {
        "hand": part,
        "hand_form": form or RecordForm(instance=part, units=request.workroom.units),
        "hand_photos": photos,
        "hand_bag": next((b for b in job.bags.all() if b.part_id == part.pk), None),
        "hand_spell": next((s for s in reversed(list(job.spells.all())) if s.part_id == part.pk and s.ended), None),
        "fixings": [
            {"word": f, "is_on": f in part.fixings, "is_near": f in part.fixings or f in near} for f in FIXINGS
        ],
        "again": [
            {"word": f, "is_on": f in part.fixings_again, "is_near": f in part.fixings_again or f in near}
            for f in FIXINGS
        ],
        "marks": [
            {"mark": m, "is_on": m.key in part.marks, "is_wanted": m.key in wanted, "is_near": True}
            for m in MARKS.values()
        ],
        "fates": [{"key": k, "name": name, "is_on": part.fate == k} for k, name in FATES.items()],
        "saved_kinds": [{"what": what, "needs": needs} for what, needs in SAVED.items()],
        "kept_form": KeptForm(units=request.workroom.units),
    }


def _others(job: Job) -> dict[str, Any]:
    done = {p.number: p for p in job.set_pieces.all()}
    differences: dict[int, list[Difference]] = {}
    for row in job.differences.all():
        differences.setdefault(row.number, []).append(row)
    rows = [
        {"number": n, "is_off": n in done and done[n].off_at is not None, "differences": differences.get(n, [])}
        for n in range(2, job.count + 1)
    ]
    return {"set_rows": rows, "set_off": sum(r["is_off"] for r in rows), "first_differences": differences.get(1, [])}


def _drawing(job: Job, ready: tuple[str, ...], key: str) -> object:
    off = job.off_keys
    tones, badges, words = {}, {}, {}
    numbers = {key: n for n, group in enumerate(things(job.kind, off), 1) for key in group}
    for part in job.kind.parts:
        if part.key in off:
            number = numbers[part.key]
            tones[part.key], badges[part.key], words[part.key] = "off", str(number), f"off, number {number}"
        elif not part.is_on_old:
            tones[part.key], words[part.key] = "new", "only in the new cover"
        elif part.key in ready:
            tones[part.key], words[part.key] = "ready", "can come off next"
        else:
            tones[part.key], words[part.key] = "under", "can't come off yet"
        if part.key == key:
            tones[part.key] += " part--in-hand"
    return drawing_of(job, tones=tones, badges=badges, words=words)


def refused_in_words(view: View) -> View:
    """Answer what the core refuses on the strip page, in its words; nothing has been changed then."""

    @wraps(view)
    def answered(request: BenchRequest, number: int, *args: Any, **kwargs: Any) -> HttpResponse:
        try:
            return view(request, number, *args, **kwargs)
        except BadInput as refusal:
            return strip_page(request, number, refusal=refusal.sentence, status=422)
        except ChangedMeanwhile as changed:
            version = Job.objects.get(number=number).furniture_version
            return both_shown(request, changed, version=version, back=reverse("strip:home", args=[number]))

    return answered


# --- off, on, written down ---------------------------------------------------------------------------


@require_POST
def take_off(request: BenchRequest, number: int) -> HttpResponse:
    """Record one thing off."""
    job = load_bench(number)
    key = request.POST.get("part", "")
    form = OffForm(request.POST)
    try:
        services.take_off(
            job,
            key,
            version=sent_version(request),
            all_the_same=request.POST.get("all_the_same") == "1",
            written=form.written(),
        )
    except BadInput as refusal:
        return strip_page(request, number, refusal=refusal.sentence, status=422)
    except ChangedMeanwhile as changed:
        return both_shown(
            request,
            changed,
            version=job.parts_by_key()[key].version,
            back=reverse("strip:home", args=[number]) + f"?part={key}",
        )
    _stands(request, number)
    return redirect("strip:home", number=number)


def _stands(request: BenchRequest, number: int) -> None:
    """Work out how the job stands now, in the press that changed it: the page that follows is then there at once."""
    keep_standing([Job.objects.get(number=number)], request.workroom.units)


@require_POST
@refused_in_words
def undo(request: BenchRequest, number: int) -> HttpResponse:
    """Take the last entry back."""
    part = services.put_back(load_bench(number))
    _stands(request, number)
    name = thing_name(part.job.kind, comes_with(part.job.kind, part.key))
    messages.info(request, f"{name} is on again; its fixing and note are kept.")
    return redirect("strip:home", number=number)


@require_POST
def write(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Keep what is written of a part; asked by a script it answers with the new version, or with 409 where it has
    moved on.
    """
    job = load_bench(number)
    part = panel_or_404(list(job.parts.all()), key)
    form = RecordForm(request.POST, instance=part, units=request.workroom.units)
    quietly = bool(request.headers.get("X-Quiet"))
    if not form.is_valid():
        if quietly:
            return said(request, "; ".join(str(w) for errors in form.errors.values() for w in errors))
        return strip_page(request, number, status=422, form=form)
    fresh = next(p for p in load_bench(number).parts.all() if p.key == key)
    try:
        services.write_down(fresh, form.written(), version=sent_version(request))
    except BadInput as refusal:
        if quietly:
            return said(request, refusal.sentence)
        return strip_page(request, number, refusal=refusal.sentence, status=422)
    except ChangedMeanwhile as changed:
        if quietly:
            return said(request, "Changed meanwhile.", status=409)
        return both_shown(
            request, changed, version=fresh.version, back=reverse("strip:home", args=[number]) + f"?part={key}"
        )
    _stands(request, number)
    if quietly:
        job = load_bench(number)
        return JsonResponse({"version": fresh.version, "checks": _checks(request, lacking(job))})
    return redirect(reverse("strip:home", args=[number]) + f"?part={key}")


@require_POST
def mark_all(request: BenchRequest, number: int, key: str) -> HttpResponse:
    """Say with one key that all the marks that a part needs are on it."""
    part = panel_or_404(list(load_bench(number).parts.all()), key)
    kind, rows = part.job.kind, part.job.parts_by_key()
    for row in (rows[k] for k in comes_with(kind, key) if k in rows):  # of a sewn cover all panels lie there together
        marks = (*row.marks, *(m.key for m in marks_for(kind, row.part)))
        services.write_down(row, services.Written(marks=tuple(dict.fromkeys(marks))), version=None)
    _stands(request, number)
    return redirect(reverse("strip:home", args=[number]) + f"?part={key}")


@require_POST
@refused_in_words
def lies_over(request: BenchRequest, number: int) -> HttpResponse:
    """Learn that something lies over a part."""
    job = load_bench(number)
    under, over = request.POST.get("under", ""), request.POST.get("over", "")
    kind = put_over(job.kind, under, over)
    words = f"{kind.part(over).name.lower()} lies over {kind.part(under).name.lower()}"
    change_furniture(job, kind, words=words)
    messages.info(request, f"This tag knows now that the {words}.")
    return redirect("strip:home", number=number)


@require_POST
def reach(request: BenchRequest, number: int) -> HttpResponse:
    """Wish only some parts off, or the whole cover again."""
    job = load_bench(number)
    keys = request.POST.getlist("part")
    wished = [k for k in keys if k and job.kind.has(k) and job.kind.part(k).is_on_old]
    if keys != [""] and len(wished) < len([k for k in keys if k]):
        return strip_page(request, number, refusal="Expected parts of this piece of furniture.", status=422)
    job.reach = wished
    job.save(update_fields=["reach"])
    return redirect("strip:home", number=number)


@require_POST
def pull_way(request: BenchRequest, number: int) -> HttpResponse:
    """Choose between pulling all staples and leaving what lies flush."""
    job = load_some(number)
    way = next((key for key in WAYS if key == request.POST.get("way")), None)
    if way is None:
        raise Http404
    job.pull_way = way
    job.save(update_fields=["pull_way"])
    return redirect(reverse("strip:home", args=[number]) + _same_part(request))


def _same_part(request: BenchRequest) -> str:
    key = request.POST.get("part", "")
    return f"?part={key}" if key.replace("_", "").isalnum() else ""


@require_POST
def timer(request: BenchRequest, number: int) -> HttpResponse:
    """Start the clock, or stop the one that runs."""
    job = load_bench(number)
    if services.running_spell(job) is not None:
        spell = services.stop_timer(job)
        if spell is not None:
            messages.info(
                request,
                f"Stopped after {spell.minutes:.0f} min: {spell.staples} staples as foreseen. Another count goes "
                f"into its sheet.",
            )
    else:
        services.start_timer(job, job.parts_by_key().get(request.POST.get("part", "")))
    return redirect(reverse("strip:home", args=[number]) + _same_part(request))


@require_POST
@refused_in_words
def spell(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Say how many staples came out in a timed spell, or forget it."""
    row = get_object_or_404(Spell, pk=pk, job__number=number)
    if request.POST.get("forget"):
        row.delete()
        services.learn_pace()
        return redirect("strip:home", number=number)
    text = request.POST.get("staples", "")
    services.set_staples(row, int(text) if text.isdigit() and len(text) < 6 else -1)
    return redirect("strip:home", number=number)


# --- bags, saved things, photos, spoken notes --------------------------------------------------------


# --- a set, looking back -----------------------------------------------------------------------------


# --- the store of what was saved ---------------------------------------------------------------------
