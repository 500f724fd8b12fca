"""Restyling a job: its furniture, its shapes and its cloths follow."""

from __future__ import annotations

from collections.abc import Callable
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
    unbuttoned,
    unchannelled,
)
from zonatome.core.trace.restyled import split_in_strips
from zonatome.core.trace.shape import Shape
from zonatome.core.trim.welt import KINDS as TRIMS
from zonatome.web.jobs.models import Job, JobPart
from zonatome.web.survey.services import FURNITURE, change_furniture
from zonatome.web.trace.services import wishes_now

Data = dict[str, Any]


def _arms(job: Job, data: Data) -> Restyled:
    return thicker_arms(job.kind, data["thickness"])


def _contrast(job: Job, data: Data) -> Restyled:
    return contrast(job.kind, data["parts"])


def _stripe(job: Job, data: Data) -> Restyled:
    return centre_stripe(job.kind, data["part"], data["width"], _size(job, data["part"])[0])


def _buttons(job: Job, data: Data) -> Restyled:
    if not data["rows"]:
        return on_the_pair(job.kind, data["part"], unbuttoned)
    sizes = (data["across"], data["down"], data["deep"])
    grid = ButtonGrid(data["rows"], data["columns"], *sizes, bool(data.get("diamond")))
    return on_the_pair(job.kind, data["part"], lambda kind, key: buttoned(kind, key, grid))


def _channels(job: Job, data: Data) -> Restyled:
    if not data["apart"]:
        return on_the_pair(job.kind, data["part"], unchannelled)
    lines, size = Channels(data["apart"], data["deep"], data["way"] == "upright"), _size(job, data["part"])
    return on_the_pair(job.kind, data["part"], lambda kind, key: channelled_panel(kind, key, lines, size=size))


def _trim(job: Job, data: Data) -> Restyled:
    return another_trim(job.kind, TRIMS.get(data["trim"], ""))


def _off(job: Job, data: Data) -> Restyled:
    return sawn_off(job.kind, data["part"])


RESTYLINGS: dict[str, Callable[[Job, Data], Restyled]] = {
    "arms": _arms,
    "contrast": _contrast,
    "stripe": _stripe,
    "buttons": _buttons,
    "channels": _channels,
    "trim": _trim,
    "off": _off,
}
WISHED = ("arms", "buttons", "channels")  # a shape that is there takes these at once; else they wait with the panel


def restyle(job: Job, what: str, data: Data, *, version: int | None = None) -> Restyled:
    """Restyle a job: its furniture, its shapes and its cloths follow. Raises BadInput; then nothing is changed."""
    if what not in RESTYLINGS:
        raise BadInput("what", what, "one of " + ", ".join(RESTYLINGS))
    with transaction.atomic():
        told = RESTYLINGS[what](job, data)
        shapes = _strips_after(job, told) if what == "stripe" else {}
        words = told.words[:120]
        change_furniture(job, told.kind, words=words, version=version, restyled=told.words, touched=told.touched)
        if what == "trim":
            job.trim_kind, job.trim_done = data["trim"], data["trim"] == "none"
            job.save(update_fields=FURNITURE)
        second = next((c for c in job.cloths.all() if c.role == "contrast"), None)
        padded = arm_parts(job.kind) if what == "arms" else []
        for row in JobPart.objects.filter(job=job, key__in=told.touched):
            row.job = job
            if row.key in shapes:
                row.shape = write_piece(shapes[row.key])
                row.shape_way = row.shape_way or "split"
            if row.pad_measured is not None and job.kind.part(row.key) in padded:
                row.pad_measured += data["thickness"]
            if job.kind.part(row.key).contrast:
                row.cloth = second
            row.save()
            if what in WISHED:
                wishes_now(row)
    return told


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
