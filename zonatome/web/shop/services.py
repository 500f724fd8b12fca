"""A job's quantities, materials, quote, and the day over all open tags."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from decimal import Decimal
from typing import Any

from zonatome.core.formats.leaving_json import read_frame
from zonatome.core.formats.svg_paths import fixed
from zonatome.core.shop.day import Day, OpenTag, plan_day
from zonatome.core.shop.estimate import (
    Material,
    Quantities,
    Quote,
    Rates,
    StepTime,
    UsualHours,
    likely,
    quote,
    rates_by,
    step_times,
    usual_hours,
)
from zonatome.core.shop.materials import ClothBought, FoamOnOldPads, SkirtBought, Takes, bill_of_materials
from zonatome.core.shop.own_pace import OwnPace, read_paces
from zonatome.core.strip.order import least_set, things
from zonatome.core.strip.pulling import Pace, pulled_as_one
from zonatome.core.units import Units
from zonatome.web.fasten.services import closings_of_job
from zonatome.web.jobs.models import Job, Workroom
from zonatome.web.lay.services import cloth_standing
from zonatome.web.pad.services import bought_of, extra_layers, is_foamed
from zonatome.web.shop.work import works_of
from zonatome.web.shop.zips_and_skirt import skirt_of, zips_of
from zonatome.web.strip.pace import pull_of
from zonatome.web.trace.boards import staples_of
from zonatome.web.trim.services import bottom_of, trims_of_job

LAST_HOUR = timedelta(hours=1)


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


def minutes_of(job: Job) -> dict[str, float]:
    """Return the hands-on minutes of each step at the assumed pace of pulling, and under `staples` how many are
    handled in all.

    So a changed pace changes no row: `at_pace` makes the difference.
    """
    rates = rates_by(job.rules, hour=Decimal(0))
    counted = quantities_of(job, Pace())
    minutes = {t.step: t.minutes for t in step_times(counted, rates)}
    slow = step_times(replace(counted, strip_minutes=strip_minutes(job, Pace(Pace().a_minute / 2))), rates)
    minutes["staples"] = (next(t.minutes for t in slow if t.step == "strip") - minutes["strip"]) * Pace().a_minute
    return minutes


def at_pace(minutes: dict[str, float], step: str, pace: Pace) -> float:
    """Return a step's minutes at this pace of pulling staples."""
    if step != "strip":
        return minutes[step]
    return minutes["strip"] + minutes["staples"] * (1 / pace.a_minute - 1 / Pace().a_minute)


def quantities_of(job: Job, pace: Pace) -> Quantities:
    """Return what the job has of everything, from its rows."""
    plan = read_frame(job.frame).plan(job.count)
    return Quantities(
        furniture=job.count,
        strip_minutes=strip_minutes(job, pace),
        works=works_of(job),
        glue_waits=1 if any(is_foamed(p) for p in job.panels()) else 0,
        frame_minutes=plan.minutes if plan else 0.0,
        frame_waits=plan.waits if plan else 0.0,
        is_glued_frame=any(f.finding == "frame_loose" for f in job.findings.all()),
    )


def materials_of(job: Job, rates: Rates, units: Units) -> tuple[Material, ...]:
    """Return what the job takes to buy, from the sums of its steps."""
    return bill_of_materials(_taken(job), rates, units)


def _taken(job: Job) -> Takes:
    standings = [(c.cloth.name, cloth_standing(c)) for c in job.cloths.all()]
    bottom, skirted = bottom_of(job), skirt_of(job)
    skirt = None
    if skirted is not None:
        name = skirted.cloth.name if skirted.cloth else "the cover’s cloth"
        lining = skirted.lining.run if skirted.lining else 0.0
        skirt = SkirtBought(name, skirted.strips.run, lining, skirted.cost)
    return Takes(
        furniture=job.count,
        cloths=tuple(ClothBought(name, s.buy, s.cost) for name, s in standings if s.is_laid),
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
    figure = quote(materials, times, rates, new=Decimal(job.new_price) * job.count)
    minutes, waits = sum(t.minutes for t in times), sum(t.wait_minutes for t in times)
    return MoneyPage(times, minutes, likely(times), usual_hours(job.kind_key, job.count), waits, materials, figure)


def day_of(tags: list[dict[str, Any]], workroom: Workroom, now: datetime) -> dict[str, Any]:
    """Return today's bench over the tags on the rail, from now on; in the last hour and after closing, tomorrow's.

    Places along the bar are in thousandths of the working day.
    """
    begins, ends = _hours_on(now, workroom)
    is_today = now < ends - LAST_HOUR
    if not is_today:
        begins, ends = _hours_on(now + timedelta(days=1), workroom)
    paces = read_paces(workroom.own_times)
    rows = [_open_tag(tag, workroom.pace, paces) for tag in tags if not tag["job"].waits_for]
    day: Day = plan_day(tuple(rows), begins=max(begins, now), ends=ends)
    whole = (ends - begins).total_seconds()

    def place(moment: datetime) -> int:
        return round(max(0.0, min(1.0, (moment - begins).total_seconds() / whole)) * 1000)

    def bars(spells: Any) -> list[dict[str, Any]]:
        made = []
        for s in spells:
            width = max(4, place(s.ends) - place(s.begins) - 4)
            made.append(
                {
                    "spell": s,
                    "x": place(s.begins),
                    "width": width,
                    "is_wide": width > 70,
                    "is_narrow": width > 30,
                    "letters": max(3, int(width / 7.2) - 5),
                }
            )
        return made

    marks = [begins.replace(hour=h, minute=0) for h in range(workroom.opens.hour + 1, workroom.closes.hour)]
    count = len(day.waits)
    words = (
        "no wait runs" if not count else "1 wait runs by itself" if count == 1 else f"{count} waits run by themselves"
    )
    return {
        "name": f"{begins:%A}",
        "date": f"{begins.day} {begins:%B}{'' if is_today else ', tomorrow'}",
        "minutes": day.minutes,
        "work": bars(day.work),
        "waits": bars(day.waits),
        "waits_words": words,
        "hours": [{"x": place(m), "words": f"{m.hour}"} for m in marks],
        "now": place(now) if is_today and now >= begins else None,
    }


def _hours_on(moment: datetime, workroom: Workroom) -> tuple[datetime, datetime]:
    begins = moment.replace(hour=workroom.opens.hour, minute=workroom.opens.minute, second=0, microsecond=0)
    return begins, moment.replace(hour=workroom.closes.hour, minute=workroom.closes.minute, second=0, microsecond=0)


def _open_tag(tag: dict[str, Any], pace: Pace, paces: Mapping[str, OwnPace]) -> OpenTag:
    job, move, wait = tag["job"], tag["tape"].move, tag["wait"]
    share = next(s.share for s in tag["tape"].steps if s.step == move.step)
    own = paces.get(move.step)
    minutes = at_pace(job.standing_cache["minutes"], move.step, pace) * (own.factor if own else 1.0) * (1 - share)
    until, words, began = (wait.until, wait.words, wait.began) if wait else (None, "", None)
    return OpenTag(job.number, job.title, move.step, move.words, minutes, job.due, until, words, began)
