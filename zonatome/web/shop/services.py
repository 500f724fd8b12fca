"""A job's quantities, materials and quote; what it takes of the plan."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Any

from zonatome.core.formats.leaving_json import read_frame
from zonatome.core.formats.svg_paths import fixed
from zonatome.core.shop.estimate import (
    Material,
    Quantities,
    Rates,
    StepTime,
    UsualHours,
    likely,
    rates_by,
    step_times,
    usual_hours,
)
from zonatome.core.shop.materials import ClothBought, FoamOnOldPads, SkirtBought, Takes, bill_of_materials
from zonatome.core.shop.own_pace import read_paces
from zonatome.core.shop.plan.tasks import minutes_by_task
from zonatome.core.shop.quote import Quote, quote, terms_by
from zonatome.core.strip.order import least_set, things
from zonatome.core.strip.pulling import Pace, pulled_as_one
from zonatome.core.units import Units
from zonatome.web.fasten.services import closings_of_job, first_sewn, runs_of
from zonatome.web.jobs.models import Job, Workroom
from zonatome.web.lay.services import cloth_standing
from zonatome.web.pad.services import bought_of, extra_layers, is_foamed
from zonatome.web.shop.work import works_of
from zonatome.web.shop.zips_and_skirt import skirt_of, zips_of
from zonatome.web.strip.pace import pull_of
from zonatome.web.survey.verdicts import verdicts_of
from zonatome.web.trace.boards import chosen_of, staples_of
from zonatome.web.trim.services import bottom_of, trims_of_job


def rates_of(workroom: Workroom) -> Rates:
    """Return the workroom's rates: by its rules and its own hour."""
    return rates_by(workroom.rules, hour=Decimal(workroom.hour), own=read_paces(workroom.own_times))


def strip_minutes(job: Job, pace: Pace) -> float:
    """Return the minutes for taking the whole cover off one piece of furniture,
    as the job is pulled and as was found.
    """
    rows = job.parts_by_key()
    wished = {*least_set(job.kind, [k for k in job.reach if job.kind.has(k)]).order} if job.reach else None
    off = [p.key for p in job.kind.old if p.key in rows and (wished is None or p.key in wished)]
    return sum(pulled_as_one([pull_of(rows[k], pace) for k in group]).minutes for group in things(job.kind, off))


def foreseen_of(job: Job) -> dict[str, Any]:
    """Return what a job takes, as plain values: `minutes` of its steps and `plan`, what its work in the plan is.

    Both at the assumed pace of pulling; under `staples` stands how many are handled in all, so that a changed pace
    changes no row: `at_pace` makes the difference. `plan` has the minutes of each task, the minutes that run by
    themselves after one, and the share that is done of those that are no step of their own.
    """
    rates = rates_by(job.rules, hour=Decimal(0))
    counted = quantities_of(job, Pace())
    times = step_times(counted, rates)
    minutes = {t.step: t.minutes for t in times}
    slow = step_times(replace(counted, strip_minutes=strip_minutes(job, Pace(Pace().a_minute / 2))), rates)
    minutes["staples"] = (next(t.minutes for t in slow if t.step == "strip") - minutes["strip"]) * Pace().a_minute
    waits = {t.step: t.wait_minutes for t in times}
    plan = {
        "minutes": minutes_by_task(times, coats=counted.frame_minutes),
        "waits": {"strip": waits["survey"], "pad": waits["pad"], "coats": waits["finish"]},
        "done": {"pad": _share_padded(job), "sew": _share_sewn(job), "coats": _share_coated(job)},
    }
    return {"minutes": minutes, "plan": plan}


def _share_padded(job: Job) -> float:
    """How many of the pads are made, and not only chosen: their glue has been set to dry, or their cover goes on."""
    pads = job.pads()
    if any(wait.step == "pad" for wait in job.waits.all()):
        return 1.0
    begun = [p for p in pads if p.staples_done or p.on_again or chosen_of(p).done or chosen_of(p).ticks]
    return len(begun) / len(pads) if pads else 0.0


def _share_sewn(job: Job) -> float:
    """How much of the sewing is done: runs of the sewn covers, all of it where nothing is sewn or all is on."""
    firsts = {first_sewn(part).key: first_sewn(part) for part in job.panels() if len(job.kind.sewn_with(part.key)) > 1}
    runs = {key: len(runs_of(part)) for key, part in firsts.items()}
    done = sum(min(chosen_of(part).sewn, runs[key]) for key, part in firsts.items())
    return done / sum(runs.values()) if sum(runs.values()) else 0.0


def _share_coated(job: Job) -> float:
    frame = read_frame(job.frame)
    plan = frame.plan(job.count)
    return min(1.0, frame.done / len(plan.steps)) if plan and plan.steps else 0.0


def at_pace(minutes: dict[str, float], step: str, pace: Pace) -> float:
    """Return a step's minutes at this pace of pulling staples."""
    if step != "strip":
        return minutes[step]
    return minutes["strip"] + minutes["staples"] * (1 / pace.a_minute - 1 / Pace().a_minute)


def is_covered_over(job: Job) -> bool:
    """Whether the old cover stays on under the new one: as the survey has it, or an option of the quote."""
    asked: bool | None = job.__dict__.get("_covered_over")
    return verdicts_of(job)["cover"].verdict == "cover_over" if asked is None else asked


def quantities_of(job: Job, pace: Pace) -> Quantities:
    """Return what the job has of everything, from its rows."""
    plan = read_frame(job.frame).plan(job.count)
    return Quantities(
        furniture=job.count,
        strip_minutes=0.0 if is_covered_over(job) else strip_minutes(job, pace),
        works=works_of(job),
        glue_waits=1 if any(is_foamed(p) for p in job.panels()) else 0,
        frame_minutes=plan.minutes if plan else 0.0,
        frame_waits=plan.waits if plan else 0.0,
        is_glued_frame=any(f.finding == "frame_loose" for f in job.findings.all()),
    )


def materials_of(
    job: Job, rates: Rates, units: Units, cloths: Mapping[int, ClothBought] | None = None
) -> tuple[Material, ...]:
    """Return what the job takes to buy, from the sums of its steps; `cloths` stand in the place of what is laid."""
    return bill_of_materials(_taken(job, cloths or {}), rates, units)


def _taken(job: Job, instead: Mapping[int, ClothBought]) -> Takes:
    standings = [(c, cloth_standing(c)) for c in job.cloths.all() if c.pk not in instead]
    laid = [ClothBought(c.cloth.name, s.buy, s.cost) for c, s in standings if s.is_laid]
    bottom, skirted = bottom_of(job), skirt_of(job)
    skirt = None
    if skirted is not None:
        name = skirted.cloth.name if skirted.cloth else "the cover’s cloth"
        lining = skirted.lining.run if skirted.lining else 0.0
        skirt = SkirtBought(name, skirted.strips.run, lining, skirted.cost)
    return Takes(
        furniture=job.count,
        cloths=(*instead.values(), *laid),
        pads=bought_of(job).bought,
        on_old_pads=tuple(
            FoamOnOldPads(row.part.layer, row.part.width * row.part.height * row.pieces) for row in extra_layers(job)
        ),
        buttons=job.kind.button_count * job.count,
        trims=trims_of_job(job),
        closings=closings_of_job(job),
        zips=tuple(one.length for one in zips_of(job) for _ in range(one.count)),
        skirt=skirt,
        bottom=bottom.sizes if bottom else None,
        staples=sum(staples_of(p) for p in job.panels()) * job.count,
    )


@dataclass(frozen=True)
class MoneyPage:
    """Time and money of a job."""

    times: tuple[StepTime, ...]
    minutes: float
    likely: tuple[float, float]
    usual: UsualHours | None
    waits: float
    materials: tuple[Material, ...]
    quote: Quote

    @property
    def held_against(self) -> float:
        """The minutes that are held against what the trade usually takes."""
        return self.usual.minutes_of(self.times) if self.usual else 0.0

    @property
    def bars(self) -> list[dict[str, Any]]:
        """The steps with the lengths of their bars and of what they likely take, the longest 400."""
        longest = max((t.likely[1] for t in self.times), default=0) or 1
        return [
            {
                "time": t,
                "width": fixed(t.minutes / longest * 400),
                "from": fixed(t.likely[0] / longest * 400),
                "spread": fixed((t.likely[1] - t.likely[0]) / longest * 400),
            }
            for t in self.times
        ]


def money_of(job: Job, workroom: Workroom) -> MoneyPage:
    """Return a job's times, materials and quote."""
    rates = rates_of(workroom)
    times = step_times(quantities_of(job, workroom.pace), rates)
    materials = materials_of(job, rates, workroom.units)
    new = Decimal(job.new_price) * job.count
    figure = quote(materials, times, rates, new=new, terms=terms_by(workroom.rules))
    minutes, waits = sum(t.minutes for t in times), sum(t.wait_minutes for t in times)
    return MoneyPage(times, minutes, likely(times), usual_hours(job.kind_key, job.count), waits, materials, figure)
