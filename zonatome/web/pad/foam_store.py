"""Foam in the store: what a tag may take of it, keeps or has used, what is left, and the last of it taken back."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from django.db import transaction
from django.utils import timezone

from zonatome.core.errors import BadInput
from zonatome.core.outline import rectangle
from zonatome.core.pad.nest import FoamNest, Offcut, left_of_sheets
from zonatome.core.pad.stack import Layer
from zonatome.web.jobs.models import Job
from zonatome.web.pad.models import FoamOffcut, FoamStep

MOST_STEPS = 40  # that can be taken back


def offcuts_for(job: Job) -> list[Offcut]:
    """Return the foam in store that this job may take: what nobody has reserved, and its own."""
    rows = FoamOffcut.objects.filter(used_at=None).exclude(reserved_for__isnull=False, reserved_for__finished_at=None)
    own = FoamOffcut.objects.filter(used_at=None, reserved_for=job)
    found = {row.pk: row for row in (*rows, *own)}
    return [
        Offcut(row.pk, row.foam, row.thickness, row.shape(), row.reserved_for_id == job.pk) for row in found.values()
    ]


def keep_foam(foam: str, thickness: float, width: float, depth: float) -> FoamOffcut:
    """Put a rectangle of foam into the store. Raises BadInput for a sort or a size that there is not."""
    with transaction.atomic():
        kept = _kept(foam, thickness, width, depth)
        _noted(f"{kept.get_foam_display()} foam put in the store", made=[kept])
    return kept


def drop_foam(number: int) -> None:
    """A piece of foam is gone from the store."""
    for piece in FoamOffcut.objects.filter(pk=number, used_at=None):
        with transaction.atomic():
            _use([piece])
            _noted(f"{piece.get_foam_display()} foam that is gone", used=[piece])


def store_left_of(job: Job, nests: Iterable[FoamNest]) -> tuple[int, int]:
    """The foam of a job is cut: the offcuts that its nests take are used, what is left of each goes to the store.

    Returns how many offcuts were used and how many pieces were kept.
    """
    nests = tuple(nests)
    with transaction.atomic():
        used = list(FoamOffcut.objects.filter(pk__in=[pk for nest in nests for pk in nest.offcuts], used_at=None))
        _use(used)
        made = [
            _kept(nest.foam, nest.thickness, left.width, left.height, words=f"left of tag {job.number}", came_from=job)
            for nest in nests
            for _, left in left_of_sheets(nest)
        ]
        if used or made:
            _noted(f"the foam of {job.number} cut", made=made, used=used)
    return len(used), len(made)


def reserve_foam(job: Job, nests: Iterable[FoamNest]) -> int:
    """Keep the offcuts that a job's nests take for it, and no others; returns how many."""
    taken = {number for nest in nests for number in nest.offcuts}
    with transaction.atomic():
        own = FoamOffcut.objects.filter(reserved_for=job, used_at=None)
        wanted = FoamOffcut.objects.filter(pk__in=taken, used_at=None)
        before = {str(row.pk): row.reserved_for_id for row in (*own, *wanted)}
        own.exclude(pk__in=taken).update(reserved_for=None)
        count = wanted.update(reserved_for=job)
        if any(owner != (job.pk if int(pk) in taken else None) for pk, owner in before.items()):
            _noted(f"foam kept for {job.number}", reserved=before)
    return count


def last_step() -> FoamStep | None:
    """Return what was done last with the foam in store and can be taken back."""
    return FoamStep.objects.last()


def undo_foam() -> str:
    """Take back what was done last with the foam in store; returns it in words. Raises BadInput where there is
    nothing.
    """
    with transaction.atomic():
        step = last_step()
        if step is None:
            raise BadInput("", "", "", words="Nothing was done with the foam in store; nothing to take back.")
        FoamOffcut.objects.filter(pk__in=step.made).delete()
        FoamOffcut.objects.filter(pk__in=step.used).update(used_at=None)
        there = set(Job.objects.filter(pk__in=step.reserved.values()).values_list("pk", flat=True))
        for pk, owner in step.reserved.items():
            FoamOffcut.objects.filter(pk=pk).update(reserved_for=owner if owner in there else None)
        step.delete()
    return step.words


def _kept(
    foam: str, thickness: float, width: float, depth: float, *, words: str = "", came_from: Job | None = None
) -> FoamOffcut:
    Layer("foam", thickness, foam=foam)
    points = [list(p) for p in rectangle(width, depth).points]
    return FoamOffcut.objects.create(
        foam=foam, thickness=thickness, outline=points, words=words[:80], came_from=came_from
    )


def _use(pieces: Iterable[FoamOffcut]) -> None:
    FoamOffcut.objects.filter(pk__in=[piece.pk for piece in pieces]).update(used_at=timezone.now())


def _noted(
    words: str,
    *,
    made: Sequence[FoamOffcut] = (),
    used: Sequence[FoamOffcut] = (),
    reserved: dict[str, int | None] | None = None,
) -> None:
    """Remember a step, so that it can be taken back; the oldest are forgotten."""
    FoamStep.objects.create(
        words=words[:80], made=[row.pk for row in made], used=[row.pk for row in used], reserved=reserved or {}
    )
    kept = FoamStep.objects.order_by("-pk").values_list("pk", flat=True)[:MOST_STEPS]
    FoamStep.objects.exclude(pk__in=list(kept)).delete()
