"""What a lay leaves over, on its way into the store; and pieces of the store on their way out."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from django.db import transaction
from django.utils import timezone

from zonatome.core.errors import BadInput
from zonatome.core.lay.prepared import is_prepared
from zonatome.core.lay.request import Lay, LayRequest
from zonatome.core.lay.table.left_over import LeftOver, left_overs
from zonatome.core.lay.table.spare import no_room_for
from zonatome.web.jobs.models import Job
from zonatome.web.lay import services
from zonatome.web.lay.asking import panels_of, parts_laid, request_for
from zonatome.web.lay.models import LayRun, Remnant


def rest_of(run: LayRun, asked: LayRequest, lay: Lay) -> tuple[LeftOver, ...]:
    """Return what a lay leaves of the cloth that was bought for it, or of the pieces from the store; nothing once it
    has been kept.
    """
    if run.rest_kept:
        return ()
    bought = 0.0
    if not lay.on_panels:
        purchase = services.purchase_of(run.job_cloth, lay.length)
        here = services.cloth_here(run.job_cloth)
        bought = max(lay.length, (purchase.length if here is None else here) - purchase.squaring)
    return left_overs(asked, lay, bought=bought)


@transaction.atomic
def keep_rest(run: LayRun, numbers: Sequence[str]) -> int:
    """Put the left-overs of these numbers, from 0, into the store, and call what the lay was cut from used; returns
    how many.

    What is left over is put away once; a second time nothing is kept.
    """
    locked = LayRun.objects.select_for_update().select_related("job_cloth__cloth", "job_cloth__job").get(pk=run.pk)
    asked, lay = locked.asked(), locked.lay()
    rest = rest_of(locked, asked, lay)
    chosen = [rest[int(n)] for n in dict.fromkeys(numbers) if int(n) < len(rest)]
    if not chosen:
        return 0
    job_cloth = locked.job_cloth
    kind = "hide" if job_cloth.cloth.is_hide else "remnant"
    for one in chosen:
        along, across = one.motif or (None, None)
        Remnant.objects.create(
            cloth=job_cloth.cloth, kind=kind, outline=[list(p) for p in one.outline.points], came_from=job_cloth.job,
            motif_along=along, motif_across=across,
        )  # fmt: skip
    if lay.on_panels:
        touched = {p.panel for p in lay.placements} | {s.panel for s in lay.strips}
        taken = list(job_cloth.from_store.filter(cloth=job_cloth.cloth).order_by("id"))
        Remnant.objects.filter(pk__in=[r.pk for n, r in enumerate(taken) if n in touched]).update(
            used_at=timezone.now()
        )
    LayRun.objects.filter(pk=run.pk).update(rest_kept=True)
    return len(chosen)


@dataclass(frozen=True)
class Spare:
    """What is left in the store of a cloth of a set: how many pieces, their area in m2, and what of one piece of
    furniture has no room.
    """

    cloth: str
    count: int
    area: float
    lacking: tuple[str, ...]

    @property
    def is_enough(self) -> bool:
        """Whether one piece of the set can be covered once more."""
        return not self.lacking


def spares_of(job: Job) -> list[Spare]:
    """Return of every cloth with shapes what is left of it for one piece of the set, pieces that a tag is cut from not
    counted.
    """
    found = list[Spare]()
    for job_cloth in job.cloths.all() if is_prepared() else ():
        try:
            asked = request_for(job_cloth)
        except BadInput:
            continue  # nothing on it has a shape, or it can't be laid: its own page says what is wrong
        there = list(
            Remnant.objects.filter(cloth=job_cloth.cloth, used_at=None, taken_for=None)
            .select_related("cloth")
            .order_by("id")
        )
        mine = {key: part for key, part, member in parts_laid(job_cloth) if member.pk == job_cloth.pk}
        left = panels_of(there)
        lacking = no_room_for(asked, {key: part.part.per_furniture for key, part in mine.items()}, left)
        names = tuple(mine[key].name.lower() for key in lacking)
        found.append(Spare(job_cloth.cloth.name, len(there), left.area / 1e6, names))
    return found
