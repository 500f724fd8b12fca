"""A job's trim from its lines."""

from __future__ import annotations

from zonatome.core.trim.welt import KINDS, USUAL_CLOTH, TrimRun, TrimSum, trim_sum
from zonatome.web.jobs.models import Job


def trims_of_job(job: Job) -> tuple[TrimSum, ...]:
    """Return the sums of each trim that a job's lines take, in the table's order: gimp here, double welt there."""
    thickness = job.trim_cloth.cloth.thickness if job.trim_cloth else USUAL_CLOTH
    lines: dict[str, list[TrimRun]] = {}
    for line in job.trim_lines.all():
        kind = line.kind or job.trim_kind
        if kind in KINDS:
            lines.setdefault(kind, []).append(TrimRun(line.length, line.times, line.is_closed))
    return tuple(_sum_of(job, kind, tuple(lines[kind]), thickness) for kind in KINDS if kind in lines)


def _sum_of(job: Job, kind: str, runs: tuple[TrimRun, ...], thickness: float) -> TrimSum:
    return trim_sum(runs, kind=kind, furniture=job.count, cord=job.cord, thickness=thickness, rules=job.rules)
