"""From a job's rows to the core's plain values: how it stands, and its opened-out drawing."""

from __future__ import annotations

import json
import logging
from dataclasses import asdict, dataclass
from typing import Any

from django.db import DatabaseError, transaction

import zonatome
from zonatome.core.errors import BadInput
from zonatome.core.formats.svg_paths import fixed
from zonatome.core.shop.progress import JobState, NextMove, StepState, next_move, step_states
from zonatome.core.strip.order import can_come_off, comes_with, least_set, thing_name, things
from zonatome.core.survey.findings import cautions_called
from zonatome.core.units import Units, format_length
from zonatome.web.finish.services import finish_list
from zonatome.web.jobs.drawing import drawing_of
from zonatome.web.jobs.loading import load_all
from zonatome.web.jobs.models import Job
from zonatome.web.lay.services import cloth_standing
from zonatome.web.shop.services import foreseen_of
from zonatome.web.strip.way_back import lacking
from zonatome.web.survey.verdicts import verdicts_of
from zonatome.web.trace.boards import staples_of
from zonatome.web.trim.services import trims_of_job

logger = logging.getLogger(__name__)


class Damaged(Exception):
    """A tag whose rows hold what can't be worked out; why."""


def job_state(job: Job, units: Units) -> JobState:
    """Return the counts that the tape and the next move are made from. Reads only what `with_all` has loaded."""
    verdicts = verdicts_of(job)
    off = job.off_keys
    wished = least_set(job.kind, [k for k in job.reach if job.kind.has(k)], off).order if job.reach else None
    ready = can_come_off(job.kind, off)
    next_off = next((k for k in ready if wished is None or k in wished), "")
    panels = job.panels()
    shapeless = [p for p in panels if p.shape is None]
    pads = job.pads()
    unpadded = [p for p in pads if not p.has_pad]
    cloths = [cloth_standing(c) for c in job.cloths.all()]
    laid = [c for c in cloths if c.is_laid]
    pieces = sum(p.pieces for p in panels if p.shape is not None)
    held = [(p, staples_of(p) * job.count) for p in panels]
    held = [(p, count) for p, count in held if count]
    loose = [p for p, count in held if p.staples_done < count]
    buy = " + ".join(format_length(c.buy, units, "cloth", up=True) for c in laid if c.buy)
    return JobState(
        findings=sum(1 for v in verdicts.values() if v.found),
        is_covered_over=verdicts["cover"].verdict in ("cover_over", "keep"),
        parts=len(things(job.kind, [p.key for p in job.kind.old] if wished is None else [*off, *wished])),
        parts_off=len(things(job.kind, off)),
        next_off=thing_name(job.kind, comes_with(job.kind, next_off)) if next_off else "",
        lacking=len(lacking(job)),
        furniture=job.count,
        stripped=sum(1 for p in job.set_pieces.all() if p.off_at and p.number <= job.count),
        shapes=len(panels),
        shapes_made=len(panels) - len(shapeless),
        next_shape=shapeless[0].name if shapeless else "",
        cloths=len([c for c in cloths if c.pieces]) if cloths else 0,
        panels_without_cloth=sum(1 for p in panels if p.shape is not None and p.cloth_id is None),
        lays=len(laid),
        stale_lays=sum(c.is_stale for c in cloths),
        buy=buy,
        pieces=pieces,
        pieces_cut=sum(c.cut for c in cloths),
        pads=len(pads),
        pads_made=len(pads) - len(unpadded),
        next_pad=unpadded[0].name if unpadded else "",
        staples=sum(count for _, count in held),
        staples_done=sum(min(p.staples_done, count) for p, count in held),
        next_fasten=(loose or panels)[0].name if panels else "",
        has_trim=bool(job.trim_kind and job.trim_kind != "none"),
        trim_done=job.trim_done,
        trim=_trim_words(job, units),
        to_finish=len(finish_list(job)),
        is_finished=job.finished_at is not None,
    )


def _trim_words(job: Job, units: Units) -> str:
    if not job.trim_kind:
        return ""
    if job.trim_kind == "none":
        return "none"

    words = [f"{format_length(s.total, units, 'cloth')} {s.kind.replace('_', ' ')}" for s in trims_of_job(job)]
    return " + ".join(words) or job.trim_kind.replace("_", " ")


@dataclass(frozen=True)
class Tape:
    """The tape of a job: its eight steps and its next move."""

    steps: tuple[StepState, ...]
    move: NextMove

    @property
    def share(self) -> float:
        """The share of the whole that is done."""
        return sum(s.share for s in self.steps) / len(self.steps)

    @property
    def words(self) -> str:
        """The tape for who can't see it: what is done and what comes next."""
        return "".join(f"{s.step} done, " for s in self.steps if s.is_done) + f"next {self.move.step}"

    @property
    def segments(self) -> tuple[dict[str, str], ...]:
        """For the little tape, 160 long: where each step begins and how much of it is done."""
        return tuple({"x": fixed(n * 20.0), "width": fixed(s.share * 20.0)} for n, s in enumerate(self.steps))


def tape_of(job: Job, units: Units) -> Tape:
    """Return the job's tape, from what is kept of how it stands; works that out where it is not kept."""
    return tape_from(kept_of(job, units)["state"])


def tape_from(kept: dict[str, Any]) -> Tape:
    """Return the tape of a state as it is kept."""
    state = JobState(**kept)
    return Tape(step_states(state), next_move(state))


def kept_of(job: Job, units: Units) -> dict[str, Any]:
    """Return how a job stands as plain values, kept with it until something is saved that may change it.

    Raises Damaged where it can't be worked out.
    """
    if not _is_fresh(job, units):
        keep_standing([job], units)
    kept: dict[str, Any] = job.standing_cache
    if "damaged" in kept:
        raise Damaged(kept["damaged"])
    return kept


def damage_of(job: Job, units: Units) -> str:
    """Return why a job can't be worked out; empty where it can."""
    try:
        kept_of(job, units)
    except Damaged as wrong:
        return str(wrong)
    return ""


def _is_fresh(job: Job, units: Units) -> bool:
    kept = job.standing_cache or {"damaged": ""}  # what could not be worked out is tried anew, it may have been mended
    return "damaged" not in kept and kept.get("version") == zonatome.__version__ and kept.get("units") == units


def _standing_of(job: Job, units: Units) -> dict[str, Any]:
    """How a job stands, or that it is damaged: one tag that can't be worked out keeps nobody from the others."""

    try:
        found: dict[str, Any] = {
            "state": asdict(job_state(job, units)),
            **foreseen_of(job),
            "found": list(cautions_called([f.finding for f in job.findings.all()])),
        }
        tape_from(found["state"])
        drawing_of(job)
        json.dumps(found, allow_nan=False)
    except (DatabaseError, MemoryError):
        raise
    except Exception as wrong:
        logger.warning("tag %s can't be worked out", job.number, exc_info=True)
        return {"damaged": (str(wrong) if isinstance(wrong, BadInput) else f"{type(wrong).__name__}: {wrong}")[:300]}
    return found


def keep_standing(jobs: list[Job], units: Units) -> None:
    """Work out how these jobs stand where it is not kept, and keep it: all of them in one go."""
    stale = {job.pk: job for job in jobs if not _is_fresh(job, units)}
    if not stale:
        return
    loaded = [job for job in stale.values() if "trim_lines" in getattr(job, "_prefetched_objects_cache", {})]
    bare = list(Job.objects.defer("furniture_past").filter(pk__in=[pk for pk in stale if stale[pk] not in loaded]))
    load_all(bare)
    made_for = {}
    for full in [*loaded, *bare]:
        made_for[full.pk] = full.cache_token
        stale[full.pk].standing_cache = {"version": zonatome.__version__, "units": units, **_standing_of(full, units)}
    with transaction.atomic():  # the store is ours alone: what was saved meanwhile is seen here, or comes after
        now = dict(Job.objects.filter(pk__in=stale).values_list("pk", "cache_token"))
        Job.objects.bulk_update(
            [job for pk, job in stale.items() if now.get(pk) == made_for.get(pk)], ["standing_cache"]
        )
