"""What the strip record lacks, and the way back that it gives."""

from __future__ import annotations

from typing import Any

from zonatome.core.strip.order import WasOff, way_back
from zonatome.core.strip.record import Check, Entry, checks
from zonatome.web.jobs.models import Job
from zonatome.web.strip.models import Bag


def entries_of(job: Job) -> dict[str, Entry]:
    """Return the strip record as the core's checks read it."""
    bags: dict[int | None, Bag] = {}
    for each in job.bags.all():
        bags.setdefault(each.part_id, each)
    made = {}
    for part in job.parts.all():
        bag = bags.get(part.pk)
        made[part.key] = Entry(
            part.off_number is not None,
            part.off_number or 0,
            tuple(part.marks),
            part.fate,
            bag.number if bag else None,
            bag.contents if bag else "",
        )
    return made


def lacking(job: Job) -> tuple[Check, ...]:
    """Return what the strip record lacks."""
    return checks(job.kind, entries_of(job))


def way_back_of(job: Job) -> list[dict[str, Any]]:
    """Return the rebuild list: each line of the core's with its row."""
    rows = job.parts_by_key()
    record = {
        key: WasOff(
            tuple(row.fixings) or ((row.fixing,) if row.fixing else ()), tuple(row.fixings_again), row.fate == "reuse"
        )
        for key, row in rows.items()
    }
    said: dict[str, list[str]] = {}
    for check in lacking(job):
        said.setdefault(check.part, []).append(check.words)
    lines = way_back(job.kind, job.off_keys, record)
    found = []
    for line in lines:
        members = [rows[key] for key in (line.key, *line.rest) if key in rows]
        if members:
            words = [w for row in members for w in said.get(row.key, [])]
            is_on = all(row.on_again for row in members)
            keys = [row.key for row in members]
            found.append(
                {"part": members[0], "members": members, "keys": keys, "back": line, "checks": words, "is_on": is_on}
            )
    return found
