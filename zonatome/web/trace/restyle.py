"""Restyling a job: its furniture, its shapes and its cloths follow."""

from __future__ import annotations

from typing import Any

from django.db import transaction

from zonatome.core.errors import BadInput
from zonatome.core.formats.piece_json import read_piece, write_piece
from zonatome.core.survey.kind import ButtonGrid, Channels
from zonatome.core.survey.restyle import (
    Restyled,
    another_trim,
    arm_parts,
    buttoned,
    centre_stripe,
    channelled_panel,
    contrast,
    on_the_pair,
    sawn_off,
    strips_of,
    thicker_arms,
)
from zonatome.core.trace.restyled import split_in_strips
from zonatome.core.trace.shape import Shape
from zonatome.core.trim.welt import KINDS as TRIMS
from zonatome.web.jobs.models import Job, JobPart
from zonatome.web.survey.services import FURNITURE, change_furniture


def restyle(job: Job, what: str, data: dict[str, Any], *, version: int | None = None) -> Restyled:
    """Restyle a job: its furniture, its shapes and its cloths follow. Raises BadInput; then nothing is changed."""
    with transaction.atomic():
        if what == "arms":
            told = thicker_arms(job.kind, data["thickness"])
        elif what == "contrast":
            told = contrast(job.kind, data["parts"])
        elif what == "stripe":
            told = centre_stripe(job.kind, data["part"], data["width"], _size(job, data["part"])[0])
        elif what == "buttons":
            grid = ButtonGrid(data["rows"], data["columns"], data["across"], data["down"], data["deep"])
            told = on_the_pair(job.kind, data["part"], lambda kind, key: buttoned(kind, key, grid))
        elif what == "channels":
            lines, size = Channels(data["apart"], data["deep"], data["way"] == "upright"), _size(job, data["part"])
            told = on_the_pair(job.kind, data["part"], lambda kind, key: channelled_panel(kind, key, lines, size=size))
        elif what == "trim":
            told = another_trim(job.kind, TRIMS.get(data["trim"], ""))
        elif what == "off":
            told = sawn_off(job.kind, data["part"])
        else:
            raise BadInput("what", what, "one of arms, contrast, stripe, buttons, channels, trim, off")
        shapes = _strips_after(job, told) if what == "stripe" else {}
        change_furniture(
            job, told.kind, words=told.words[:120], version=version, restyled=told.words, touched=told.touched
        )
        if what == "trim":
            job.trim_kind, job.trim_done = data["trim"], data["trim"] == "none"
            job.save(update_fields=FURNITURE)
        second = next((c for c in job.cloths.all() if c.role == "contrast"), None)
        for row in JobPart.objects.filter(job=job, key__in=told.touched):
            row.job = job
            if row.key in shapes:
                row.shape = write_piece(shapes[row.key])
                row.shape_way = row.shape_way or "split"
            if what == "arms" and row.pad_measured is not None and job.kind.part(row.key) in arm_parts(job.kind):
                row.pad_measured += data["thickness"]
            if job.kind.part(row.key).contrast:
                row.cloth = second
            row.save()
            if what in ("arms", "buttons", "channels"):
                _take_wishes(row)
    return told


def _take_wishes(row: JobPart) -> None:
    """Let a shape that is there take the wish at once; without one the wish waits with the panel."""
    from zonatome.web.trace.services import wishes_now

    wishes_now(row)


def _size(job: Job, key: str) -> tuple[float, float]:
    """How wide and high a panel is: its shape where there is one, else the usual measures."""
    part, row = job.kind.part(key), job.parts_by_key().get(key)
    if row is None or not row.shape:
        return part.width, part.height
    outline = read_piece(row.shape).outline
    return outline.width, outline.height


def _strips_after(job: Job, told: Restyled) -> dict[str, Shape]:
    """The shapes of the strips, where the panel that is split has one."""
    row = next((r for r in job.parts.all() if r.key in told.touched and r.shape), None)
    if row is None:
        return {}
    strips = strips_of(told.kind, row.key)
    return dict(zip(strips, split_in_strips(told.kind, read_piece(row.shape), strips), strict=True))
