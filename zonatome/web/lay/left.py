"""What a lay leaves over, on its way into the store; and pieces of the store on their way out."""

from __future__ import annotations

from collections.abc import Sequence

from django.db import transaction
from django.utils import timezone

from zonatome.core.lay.left_over import LeftOver, left_overs
from zonatome.core.lay.request import Lay, LayRequest
from zonatome.web.lay import services
from zonatome.web.lay.models import LayRun, Remnant


def rest_of(run: LayRun, asked: LayRequest, lay: Lay) -> tuple[LeftOver, ...]:
    """Return what a lay leaves of the cloth that was bought for it, or of the pieces from the store; nothing once it has been kept."""
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
    """Put the left-overs of these numbers, from 0, into the store, and call what the lay was cut from used; returns how many.

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
        Remnant.objects.filter(pk__in=[r.pk for n, r in enumerate(taken) if n in touched]).update(used_at=timezone.now())
    LayRun.objects.filter(pk=run.pk).update(rest_kept=True)
    return len(chosen)
