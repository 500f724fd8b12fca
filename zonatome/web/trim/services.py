"""A job's trim from its lines."""

from __future__ import annotations

from zonatome.core.trim.welt import KINDS, TrimRun, TrimSum, trim_sum
from zonatome.web.jobs.models import Job


def trim_of_job(job: Job) -> TrimSum | None:
    """Return the sums of a job's trim, or None while there is no line or no kind."""
    lines = job.trim_lines.all()
    if job.trim_kind not in KINDS or not lines:
        return None
    thickness = job.trim_cloth.cloth.thickness if job.trim_cloth_id else 1.0
    runs = tuple(TrimRun(line.length, line.times, line.is_closed) for line in lines)
    return trim_sum(runs, kind=job.trim_kind, furniture=job.count, cord=job.cord, thickness=thickness, rules=job.rules)
