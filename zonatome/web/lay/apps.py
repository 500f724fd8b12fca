"""The lay's app: when anything that a lay is made of is saved, what it wants is worked out anew."""

from __future__ import annotations

from typing import Any

from django.apps import AppConfig
from django.db.models import Model, Q
from django.db.models.signals import m2m_changed, post_delete, post_save


class LayConfig(AppConfig):
    """Watches the rows that a lay request is made from."""

    name = "zonatome.web.lay"

    def ready(self) -> None:
        """Forget the wanted fingerprint on every save that may change it."""
        from zonatome.web.jobs.models import Job, JobPart
        from zonatome.web.lay.models import Cloth, JobCloth, Remnant
        from zonatome.web.trim.models import TrimLine

        for model in (Job, JobPart, Cloth, JobCloth, TrimLine, Remnant):
            post_save.connect(forget_wanted, sender=model, dispatch_uid=f"wanted-save-{model.__name__}")
            post_delete.connect(forget_wanted, sender=model, dispatch_uid=f"wanted-delete-{model.__name__}")
        m2m_changed.connect(forget_wanted_of_taken, sender=JobCloth.from_store.through, dispatch_uid="wanted-taken")


def forget_wanted(sender: type[Model], instance: Any, **_: Any) -> None:
    """Empty `wanted_fingerprint` of the cloths concerned.

    The job's own, those that it is laid in, those cut from a remnant.
    """
    from zonatome.web.lay.models import Cloth, JobCloth, Remnant

    if isinstance(instance, Cloth):
        concerned = Q(cloth=instance)
    elif isinstance(instance, Remnant):
        concerned = Q(from_store=instance)
    else:
        job = getattr(instance, "job_id", None) or instance.pk
        concerned = Q(job_id=job) | Q(guests__job_id=job)
    keys = list(JobCloth.objects.filter(concerned).exclude(wanted_fingerprint="").values_list("pk", flat=True))
    if keys:
        JobCloth.objects.filter(pk__in=keys).update(wanted_fingerprint="")


def forget_wanted_of_taken(sender: type[Model], instance: Any, action: str, **_: Any) -> None:
    """Empty it when pieces from the store are taken for a job's cloth, or put back."""
    from zonatome.web.lay.models import JobCloth

    if isinstance(instance, JobCloth) and action.startswith("post"):
        JobCloth.objects.filter(pk=instance.pk).update(wanted_fingerprint="")
