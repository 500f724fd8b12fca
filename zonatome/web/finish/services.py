"""What is still open before a job goes home; its frame's finish; what goes with it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import timedelta

from django.db import transaction
from django.utils import timezone
from django.utils.dateformat import format as date_format

from zonatome.core.fasten.staples import CROWN
from zonatome.core.finish.coats import FinishStep, blocked
from zonatome.core.finish.handover import Open, Standing, still_open
from zonatome.core.finish.leaving import Frame, HandOver
from zonatome.core.formats.hand_over_pdf import HandOverPage
from zonatome.core.formats.leaving_json import read_frame, read_hand_over, write_frame, write_hand_over
from zonatome.core.trim.welt import KINDS
from zonatome.core.units import format_length
from zonatome.web.jobs.models import Job, Wait, Workroom, photos_of
from zonatome.web.lay.services import cloth_standing
from zonatome.web.strip.way_back import way_back_of
from zonatome.web.survey.verdicts import verdicts_of
from zonatome.web.trace.boards import plan_of
from zonatome.web.trim.services import lines_offered, trims_of_job


def finish_list(job: Job) -> tuple[Open, ...]:
    """Return what is still open before the job goes home."""
    going_back = way_back_of(job)
    panels = [] if verdicts_of(job)["cover"].verdict in ("cover_over", "keep") else job.panels()
    cloths = [cloth_standing(c) for c in job.cloths.all()] if panels else []
    bags = list(job.bags.all())
    return still_open(
        Standing(
            furniture=job.count,
            parts_on_again=sum(line["is_on"] for line in going_back),
            parts_off=len(going_back),
            bags=len(bags),
            bags_emptied=sum(b.emptied for b in bags),
            screws=job.kind.screws,
            holes_found=job.holes_found,
            had_label=job.had_label,
            label_on=job.label_on,
            feet=job.kind.feet,
            feet_done=job.feet_done,
            after_photos=len(photos_of(job.photos.all(), "after")),
            pieces=sum(p.pieces for p in panels if p.shape is not None and p.cloth_id is not None),
            pieces_cut=sum(c.cut for c in cloths),
        )
    )


def frame_of(job: Job) -> Frame:
    """Return how a job's frame is finished. Raises BadInput where the row holds what is none."""
    return read_frame(job.frame)


def keep_frame(job: Job, frame: Frame) -> None:
    """Keep how a job's frame is finished."""
    job.frame = write_frame(frame)
    job.save(update_fields=["frame"])


def edge_along_wood(job: Job) -> float:
    """Return how many mm of a cover's edge lie along wood on one piece of furniture: the lines that take trim, else
    those that its cover offers.
    """
    listed = [(line.length, line.times) for line in job.trim_lines.all()]
    offered = [(line.length, line.times) for line in lines_offered(job)]
    return sum(length * times for length, times in listed or offered)


def step_done(job: Job) -> FinishStep | None:
    """Tick the next step of the frame's finish: the wait after it begins now. Returns it; None where all are done."""
    frame = frame_of(job)
    plan = frame.plan(job.count)
    if plan is None or frame.done >= len(plan.steps):
        return None
    step = plan.steps[frame.done]
    with transaction.atomic():
        keep_frame(job, replace(frame, done=frame.done + 1))
        if step.wait:
            now = timezone.now()
            until = now + timedelta(minutes=step.wait)
            Wait.objects.create(job=job, step="finish", words=f"{step.what} dries"[:80], began=now, until=until)
    return step


def hand_over_of(job: Job) -> HandOver:
    """Return what goes with a job's furniture. Raises BadInput where the row holds what is none."""
    return read_hand_over(job.hand_over)


def keep_hand_over(job: Job, told: HandOver) -> None:
    """Keep what goes with a job's furniture."""
    job.hand_over = write_hand_over(told)
    job.save(update_fields=["hand_over"])


@dataclass(frozen=True)
class Hole:
    """A screw hole under a panel: where from the left and the front edge, mm, and whether a staple blocks it."""

    panel: str
    number: int
    x: float
    y: float
    is_blocked: bool


def holes_of(job: Job) -> list[Hole]:
    """Return the screw holes that are marked under the panels, against the staples as they are planned."""
    found = []
    for part in job.panels():
        marks = list(part.keep_outs.all())
        if not marks:
            continue
        staples = [(s.x, s.y) for s in plan_of(part).staples] if part.staples_planned else []
        is_in_way = blocked([(k.x, k.y, k.radius) for k in marks], staples, CROWN)
        found += [Hole(part.name, n + 1, k.x, k.y, n in is_in_way) for n, k in enumerate(marks)]
    return found


def hand_over_page(job: Job, workroom: Workroom) -> HandOverPage:
    """Return what the paper for the client says, by the record."""
    photos, told, units = list(job.photos.all()), hand_over_of(job), workroom.units
    verdicts = verdicts_of(job).values()
    going = way_back_of(job)
    cloths = []
    for one in job.cloths.all():
        lot = f", lot {one.cloth.lot}" if one.cloth.lot else ""
        panels = [p.name.lower() for p in job.panels() if p.cloth_id == one.pk]
        cloths.append(f"{one.cloth.name}{lot}: {', '.join(panels)}" if panels else f"{one.cloth.name}{lot}")
    trims = [f"{format_length(s.total, units, 'cloth')} {KINDS[s.kind]}" for s in trims_of_job(job)]
    renewed = [line["back"].name for line in going if line["back"].state != "reused"]
    padded = [p.name for p in job.pads() if p.has_pad]
    return HandOverPage(
        workroom=workroom.name,
        tag=f"{job.number} {job.name}, {job.client}",
        printed=date_format(timezone.localtime(), "j F Y"),
        before=tuple(p.path.read_bytes() for p in photos_of(photos, "before") if p.path.exists()),
        after=tuple(p.path.read_bytes() for p in photos_of(photos, "after") if p.path.exists()),
        found=tuple(
            f"{v.layer.capitalize()}: {', '.join(f.data.words.lower() for f in v.found)}" for v in verdicts if v.found
        ),
        kept=tuple(line["back"].name for line in going if line["back"].state == "reused"),
        renewed=(*renewed, *([f"Padding: {', '.join(padded).lower()}"] if padded else []), *trims),
        cloths=tuple(cloths),
        care=(told.care,) if told.care else (),
        certificates=tuple(f"{c.words}, {date_format(c.on, 'j F Y')}" for c in told.certificates),
        left=(told.left,) if told.left else (),
    )
