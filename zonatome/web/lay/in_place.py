"""The cloth in place: what lands on each panel, on the opened-out drawing."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from zonatome.core.lay.request import LayRequest, Placement
from zonatome.core.lay.table.on_a_panel import Affine, in_step, on_the_panel
from zonatome.web.jobs.drawing import opened_out_of
from zonatome.web.jobs.models import Job
from zonatome.web.lay.asking import host_of, parts_laid
from zonatome.web.lay.cut_shape import laid_shape
from zonatome.web.lay.drawing import TONES, SeenDrawing, seen_drawing
from zonatome.web.lay.models import JobCloth, LayRun
from zonatome.web.lay.photo import tile_address


@dataclass(frozen=True)
class InPlace:
    """The drawing with one cloth in place on one of a set, and the panels that are not of it."""

    drawing: SeenDrawing
    missing: list[str]


def placed_on_panels(
    job_cloth: JobCloth, asked: LayRequest, at: Mapping[tuple[str, int], Placement], piece: int = 1
) -> dict[str, Affine]:
    """Return how the cloth's frame lies on each panel of the `piece`-th of a set about its middle, where a lay has it.

    `at` are the lay's placements by piece and copy.
    """
    found = {}
    for key, part, member in parts_laid(host_of(job_cloth)):
        placement = at.get((key, (piece - 1) * part.part.per_furniture + 1))
        if member.pk == job_cloth.pk and placement is not None:
            found[part.key] = on_the_panel(laid_shape(part, member.cloth), in_step(asked, placement))
    return found


def cloth_in_place(job: Job, job_cloth: JobCloth, run: LayRun, piece: int = 1, *, tile: str | None = None) -> InPlace:
    """Return what lands on each panel of the `piece`-th of a set, as a run's best lay has it; `tile` is the address of
    the cloth's photo, where it is another one than usual.
    """
    asked, host = run.asked(), host_of(job_cloth)
    order = {p.id: n for n, p in enumerate(asked.pieces)}
    at = {(p.piece, p.copy): p for p in run.lay().placements}
    tone = {part.key: f"tone-{order[key] % TONES}" for key, part, _ in parts_laid(host) if key in order}
    placed = placed_on_panels(job_cloth, asked, at, piece)
    laid = {key: (affine, tone[key]) for key, affine in placed.items() if key in tone}
    names = {p.key: p.name for p in job.kind.parts}
    photo = tile_address(job_cloth.cloth) if tile is None else tile
    drawing = seen_drawing(opened_out_of(job), names, laid, asked.repeat, photo)
    return InPlace(drawing, [names[p.key] for p in job.kind.panels if p.key not in laid])
