"""A job's pieces laid on every cloth of the store, side by side."""

from __future__ import annotations

from dataclasses import dataclass

from django.conf import settings
from django.db import transaction

from zonatome.core.errors import BadInput
from zonatome.core.formats.lay_json import write_request
from zonatome.core.lay.prepared import is_prepared, is_quick
from zonatome.core.shop.buying import Purchase
from zonatome.web.lay.asking import request_on
from zonatome.web.lay.models import Cloth, ClothTrial, CutTick, JobCloth
from zonatome.web.lay.services import easy_lay, fingerprint_of, purchase_on

TRIAL_SECONDS = 6.0  # for each cloth on trial


def start_trials(job_cloth: JobCloth, *, seconds: float = TRIAL_SECONDS) -> None:
    """Lay a cloth's pieces on every cloth of the store: in rows at once, shorter by the worker; a cloth that can't be
    laid says why.
    """
    from zonatome.web.lay.tasks import lay_on_trial  # noqa: PLC0415 a task uses this room

    made = []
    with transaction.atomic():
        job_cloth.trials.all().delete()
        for cloth in Cloth.objects.filter(is_in_store=True):
            trial = ClothTrial(job_cloth=job_cloth, cloth=cloth, seconds=min(seconds, settings.LONGEST_SEARCH))
            try:
                request = request_on(job_cloth, cloth)
            except BadInput as refusal:
                trial.state, trial.words = "refused", refusal.told[:300]
            else:
                trial.request, trial.fingerprint = write_request(request), fingerprint_of(request)
                if is_prepared() and is_quick(request):
                    first = easy_lay(request)
                    trial.length, trial.used = first.length, first.used
                made.append(trial)
            trial.save()
    for trial in made:
        lay_on_trial.enqueue(trial.pk)


@dataclass(frozen=True)
class TrialStanding:
    """A cloth on trial: what to buy and what that costs, what is left whole behind the lay, and whether it is true to
    the shapes now.
    """

    trial: ClothTrial
    bought: Purchase | None
    left: float
    is_stale: bool
    is_own: bool


def trial_standings(job_cloth: JobCloth) -> list[TrialStanding]:
    """Return the cloths on trial, the cheapest first, those that are not offered last."""
    found = []
    for trial in job_cloth.trials.select_related("cloth"):
        bought = None
        left, is_stale = 0.0, False
        if trial.length is not None:
            bought = purchase_on(trial.cloth, job_cloth, trial.length)
            left = bought.length - bought.squaring - trial.length
        try:
            is_stale = (
                bool(trial.fingerprint) and fingerprint_of(request_on(job_cloth, trial.cloth)) != trial.fingerprint
            )
        except BadInput:
            is_stale = True
        found.append(TrialStanding(trial, bought, left, is_stale, trial.cloth_id == job_cloth.cloth_id))
    return sorted(found, key=lambda s: (s.bought is None, s.bought.cost if s.bought else 0, s.trial.cloth.name))


def take_instead(job_cloth: JobCloth, cloth: Cloth) -> None:
    """Put another cloth in the place of one of a job's; its panels stay on it, its lays are out of date then.

    Raises BadInput where the job has that cloth already, or pieces have been cut.
    """
    if job_cloth.job.cloths.filter(cloth=cloth).exclude(pk=job_cloth.pk).exists():
        raise BadInput("cloth", cloth.name, "a cloth that this job does not have yet")
    if CutTick.objects.filter(run__job_cloth=job_cloth).exists():
        raise BadInput("cloth", cloth.name, f"no piece of {job_cloth.cloth.name} cut yet")
    job_cloth.cloth = cloth
    job_cloth.save()
