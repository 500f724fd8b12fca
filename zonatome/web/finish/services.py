"""What is still open before a job goes home."""

from __future__ import annotations

from zonatome.core.finish.handover import Open, Standing, still_open
from zonatome.web.jobs.models import Job, photos_of
from zonatome.web.lay.services import cloth_standing
from zonatome.web.strip.way_back import way_back_of
from zonatome.web.survey.verdicts import verdicts_of


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
