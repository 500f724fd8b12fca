"""Options of a quote: the same job done otherwise, each worked out from the job's own rows, changed in memory only."""

from __future__ import annotations

from dataclasses import dataclass, replace
from decimal import Decimal

from zonatome.core.errors import BadInput
from zonatome.core.formats.stack_json import write_stack
from zonatome.core.lay.prepared import is_prepared, is_quick
from zonatome.core.shop.estimate import step_times
from zonatome.core.shop.materials import ClothBought
from zonatome.core.shop.quote import Option, Sort, quote, terms_by
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job, Workroom
from zonatome.web.lay.asking import request_on
from zonatome.web.lay.models import JobCloth
from zonatome.web.lay.services import easy_lay, purchase_on
from zonatome.web.lay.trials import trial_standings
from zonatome.web.pad.services import stack_of
from zonatome.web.shop.services import is_covered_over, materials_of, quantities_of, rates_of
from zonatome.web.survey.verdicts import verdicts_of

MOST_COUNT = 60
MOST_OPTIONS = 6
AS_PLANNED = "as_planned"


@dataclass(frozen=True)
class Offered:
    """An option that could be worked out: its key, what it is in words; why not, where it can't."""

    key: str
    words: str
    why_not: str = ""


def offered(job: Job) -> list[Offered]:
    """Return what a quote of this job can be held against: other cloths on trial, the foam kept or renewed, the old
    cover stripped or covered over. Another count is asked for by its number.
    """
    found = []
    for job_cloth in job.cloths.all():
        for one in trial_standings(job_cloth):
            if one.bought is not None and not one.is_own and not one.is_stale:
                words = f"{one.trial.cloth.name} instead of {job_cloth.cloth.name}"
                found.append(Offered(f"cloth-{job_cloth.pk}-{one.trial.cloth_id}", words))
    kept, new = _foam(job)
    if new:
        found.append(Offered("keep_foam", "keep the foam that is in it"))
    if kept:
        found.append(Offered("renew_foam", "renew the foam that stays now"))
    if is_covered_over(job):
        found.append(Offered("strip", "strip the old cover first"))
    else:
        found.append(Offered("cover_over", "cover over what is on it", _not_over(job)))
    return found


def _foam(job: Job) -> tuple[int, int]:
    """How many layers of foam stay, and how many are new."""
    layers = [one for part in job.pads() if part.stack is not None for one in stack_of(part).layers]
    foam = [one for one in layers if one.made.group == "foam"]
    return sum(one.kept for one in foam), sum(not one.kept for one in foam)


def _not_over(job: Job) -> str:
    standing = verdicts_of(job)["cover"]
    if not standing.found:
        return "look at the old cover first"
    is_sound = standing.rule is not None and standing.rule.verdict == "cover_over"
    return "" if is_sound else "the old cover is not sound for it"


def option_of(number: int, key: str, workroom: Workroom) -> Option:
    """Return one way to do a job, worked out. Raises BadInput for a key that is none or can't be worked out now."""
    job = load_job(number)
    job.__dict__["_workroom_kept"] = workroom
    sort, words, rests_on, cloths = _changed(job, key)
    rates = rates_of(workroom)
    materials = materials_of(job, rates, workroom.units, cloths)
    times = step_times(quantities_of(job, workroom.pace), rates)
    figure = quote(materials, times, rates, new=Decimal(job.new_price) * job.count, terms=terms_by(workroom.rules))
    return Option(key, sort, words, figure, materials, rests_on)


def _changed(job: Job, key: str) -> tuple[Sort, str, str, dict[int, ClothBought]]:
    """Change a loaded job as an option has it; return its sort, its words, what it rests on, cloths that it buys
    otherwise.
    """
    if key == AS_PLANNED:
        return "as_planned", "as planned", "", {}
    if key in ("keep_foam", "renew_foam"):
        stays, new = _foam(job)
        if not (new if key == "keep_foam" else stays):
            raise BadInput("option", key, f"foam that {'is new' if key == 'keep_foam' else 'stays'}, to do otherwise")
        _set_foam(job, is_kept=key == "keep_foam")
        words = "foam kept" if key == "keep_foam" else "all foam new"
        rests = "only where the foam springs back and does not crumble" if key == "keep_foam" else ""
        return key, words, rests, {}  # type: ignore[return-value]
    if key in ("cover_over", "strip"):
        why = _not_over(job) if key == "cover_over" else ""
        if why:
            raise BadInput("option", key, f"another option: {why}")
        job.__dict__["_covered_over"] = key == "cover_over"
        return key, "covered over" if key == "cover_over" else "stripped first", "", {}  # type: ignore[return-value]
    sort, _, rest = key.partition("-")
    if sort == "count" and rest.isdigit() and len(rest) < 4:
        return _other_count(job, int(rest))
    if sort == "cloth":
        return _other_cloth(job, rest)
    raise BadInput("option", key, "an option of this job")


def _set_foam(job: Job, *, is_kept: bool) -> None:
    for part in job.pads():
        if part.stack is None:
            continue
        stack = stack_of(part)
        layers = tuple(replace(one, kept=is_kept) if one.made.group == "foam" else one for one in stack.layers)
        part.stack = write_stack(replace(stack, layers=layers))


def _other_count(job: Job, count: int) -> tuple[Sort, str, str, dict[int, ClothBought]]:
    if not 1 <= count <= MOST_COUNT:
        raise BadInput("count", count, f"1 to {MOST_COUNT} pieces of furniture")
    job.count = count
    used = {p.cloth_id for p in job.panels() if p.shape}
    cloths = {c.pk: _laid_in_rows(c) for c in job.cloths.all() if c.pk in used}
    rests = "cloth as laid in rows; a searched lay is shorter" if cloths else ""
    return "count", "one of them" if count == 1 else f"{count} of them", rests, cloths


def _laid_in_rows(job_cloth: JobCloth) -> ClothBought:
    request = request_on(job_cloth, job_cloth.cloth)
    if not (is_prepared() and is_quick(request)):
        raise BadInput("count", job_cloth.job.count, "fewer pieces, which are laid while one waits")
    bought = purchase_on(job_cloth.cloth, job_cloth, easy_lay(request).length)
    return ClothBought(job_cloth.cloth.name, bought.length, bought.cost)


def _other_cloth(job: Job, rest: str) -> tuple[Sort, str, str, dict[int, ClothBought]]:
    on, _, other = rest.partition("-")
    for job_cloth in job.cloths.all():
        for one in trial_standings(job_cloth) if str(job_cloth.pk) == on else []:
            if str(one.trial.cloth_id) == other and one.bought is not None:
                cloth = one.trial.cloth
                old = job_cloth.cloth.name
                for part in job.parts.all():
                    if part.cloth_id == job_cloth.pk and part.cloth is not None:
                        part.cloth.cloth = cloth
                job_cloth.cloth = cloth
                bought = {job_cloth.pk: ClothBought(cloth.name, one.bought.length, one.bought.cost)}
                return "cloth", f"{cloth.name} instead of {old}", "as laid on trial", bought
    raise BadInput("option", rest, "a cloth that was laid on trial")
