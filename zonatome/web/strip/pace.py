"""How long it takes to pull what holds a part."""

from __future__ import annotations

from zonatome.core.strip.pulling import Pace, Pull, pulling
from zonatome.web.jobs.models import JobPart


def pull_of(row: JobPart, pace: Pace) -> Pull:
    """Return staples and minutes of one part, with the pitch, rows and edge that were found on it."""
    found = {"pitch": row.pitch_found} if row.pitch_found else {}
    return pulling(
        row.part,
        pace=pace,
        way=row.job.pull_way,
        rows=row.rows_found,
        edge=row.edge_found,
        held=tuple(row.fixings),
        **found,
    )
