"""The rack's app: when anything is saved that says how a job stands, what was kept of that is forgotten."""

from __future__ import annotations

from typing import Any

from django.apps import AppConfig, apps
from django.db.models import Model
from django.db.models.signals import post_delete, post_migrate, post_save

# model, and the way from it to its job
WATCHED = {
    "jobs.Job": "pk",
    "jobs.JobPart": "job_id",
    "jobs.Photo": "job_id",
    "survey.LayerFinding": "job_id",
    "survey.LayerVerdict": "job_id",
    "strip.Bag": "job_id",
    "strip.SetPiece": "job_id",
    "trim.TrimLine": "job_id",
    "lay.JobCloth": "job_id",
    "lay.LayRun": "job_cloth.job_id",
    "lay.CutTick": "run.job_cloth.job_id",
}


class JobsConfig(AppConfig):
    """Watches the rows that a job's tape, tag and minutes are made from."""

    name = "zonatome.web.jobs"

    def ready(self) -> None:
        """Forget how a job stands on every save that may change it; keep the index of what stands on the tags."""
        from zonatome.web.jobs.search import prepare

        post_migrate.connect(prepare, sender=self, dispatch_uid="tags-said")
        for label in (*WATCHED, "lay.Cloth"):
            model = apps.get_model(label)
            post_save.connect(forget, sender=model, dispatch_uid=f"standing-save-{label}")
            post_delete.connect(forget, sender=model, dispatch_uid=f"standing-delete-{label}")


def forget(sender: type[Model], instance: Any, **_: Any) -> None:
    """Empty what is kept of the jobs concerned; a cloth concerns all."""
    from zonatome.web.jobs.models import Job

    way = WATCHED.get(sender._meta.label)
    if way is None:
        Job.objects.all().forget_kept()
        return
    found: Any = instance
    for step in way.split("."):
        found = getattr(found, step)
    Job.objects.filter(pk=found).forget_kept()
    if sender._meta.label == "jobs.Job":
        instance.standing_cache = None
