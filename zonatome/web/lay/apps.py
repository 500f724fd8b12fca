"""The lay's app: when anything that a lay is made of is saved, what it wants is worked out anew."""

from __future__ import annotations

from typing import Any

from django.apps import AppConfig
from django.db.models import Model
from django.db.models.signals import post_delete, post_save


class LayConfig(AppConfig):
    """Watches the rows that a lay request is made from."""

    name = "zonatome.web.lay"

    def ready(self) -> None:
        """Forget the wanted fingerprint on every save that may change it."""
        from zonatome.web.jobs.models import Job, JobPart
        from zonatome.web.lay.models import Cloth, JobCloth
        from zonatome.web.trim.models import TrimLine

        for model in (Job, JobPart, Cloth, JobCloth, TrimLine):
            post_save.connect(forget_wanted, sender=model, dispatch_uid=f"wanted-save-{model.__name__}")
            post_delete.connect(forget_wanted, sender=model, dispatch_uid=f"wanted-delete-{model.__name__}")


def forget_wanted(sender: type[Model], instance: Any, **_: Any) -> None:
    """Empty `wants` of the cloths concerned."""
    from zonatome.web.lay.models import Cloth, JobCloth

    if isinstance(instance, Cloth):
        concerned = JobCloth.objects.filter(cloth=instance)
    else:
        concerned = JobCloth.objects.filter(job_id=getattr(instance, "job_id", None) or instance.pk)
    concerned.exclude(wants="").update(wants="")
