"""What every page of a job shows around its own: the tag, the tape, the cautions of the step."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.shortcuts import render
from django.urls import reverse

from zonatome.core.cautions import cautions_for
from zonatome.core.shop.estimate import STEPS
from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.models import Job, JobPart
from zonatome.web.rack.log import running
from zonatome.web.rack.standing import kept_of, tape_of
from zonatome.web.round.drawing import round_around

SAYS_NEXT = ("survey", "trace", "lay", "pad", "fasten", "trim")  # Strip and Finish have a next move of their own


def job_page(
    request: BenchRequest, job: Job, step: str, template: str, context: dict[str, Any], *, status: int = 200
) -> HttpResponse:
    """Render a page of a job under its tape."""
    tape = tape_of(job, request.workroom.units)
    found = tuple(kept_of(job, request.workroom.units)["found"])
    cautions = cautions_for(step, kind_cautions=job.kind.cautions, found=found)
    in_hand = context.get("part")
    there = (
        ("strip:look", [job.number, in_hand.key])
        if isinstance(in_hand, JobPart)
        else ("strip:look_first", [job.number])
    )
    how_it_was = reverse(there[0], args=there[1])
    around = {
        "clock": running() if step in STEPS and step != "strip" else None,
        "has_clock": step in STEPS and step != "strip",
        "job": job,
        "around": round_around(job, in_hand.key if isinstance(in_hand, JobPart) and in_hand.part.is_cut else ""),
        "how_it_was": how_it_was,
        "tape": tape,
        "step": step,
        "step_cautions": cautions,
        "seen": {s.key for s in job.seen.all()},
        "here": f"{step}:home",
        "next_move": tape.move
        if step in SAYS_NEXT and any(s.is_done for s in tape.steps if s.step == step) and tape.move.step != step
        else None,
    }
    return render(request, template, {**around, **context}, status=status)
