"""The sample workroom as it is shipped: made once by `make sample`, loaded on a first start with its dates brought to
today.
"""

from __future__ import annotations

from datetime import timedelta
from pathlib import Path

from django.apps import apps
from django.conf import settings
from django.db import connections, models, transaction
from django.db.models import F
from django.utils import timezone
from django_tasks_db.models import DBTaskResult

from zonatome.web.base.backup import STORE, made_on, restore_backup, write_backup
from zonatome.web.demo.making import GLUE_SETS, glued_lately
from zonatome.web.jobs.models import Job, Wait
from zonatome.web.lay.models import LayRun
from zonatome.web.lay.tasks import search_for_lay
from zonatome.web.rack.standing import keep_standing
from zonatome.web.rehearse.models import OrdersRun
from zonatome.web.rehearse.tasks import find_orders

READY = Path(__file__).parent / "sample.zip"
OURS = "zonatome.web."


def write_ready(to: Path) -> None:
    """Write the workroom in this installation's folder as the sample that is shipped: every search done, every
    order played, every standing worked out.
    """
    for run in LayRun.objects.filter(state="waiting"):
        search_for_lay.func(run.pk)
    for asked in OrdersRun.objects.filter(state="waiting"):
        find_orders.func(asked.pk)
    DBTaskResult.objects.all().delete()
    keep_standing(list(Job.objects.all()), "metric")
    with connections["default"].cursor() as cursor:
        cursor.execute("VACUUM")
    write_backup(to, keys=False)


def load_ready() -> None:
    """Put the sample that is shipped in the place of an empty store, and bring its dates to today; the store is
    migrated afterwards.
    """
    connections.close_all()
    for path in Path(settings.HOME).glob(f"{STORE}*"):
        path.unlink()
    restore_backup(READY)


def bring_to_today() -> None:
    """Move every day and moment of the sample by the days that have gone by since it was made; its glue sets now."""
    days = (timezone.localdate() - made_on(READY)).days
    with transaction.atomic():
        for model in apps.get_models():
            if not model.__module__.startswith(OURS):
                continue
            told = [f.name for f in model._meta.concrete_fields if isinstance(f, models.DateField)]
            if told:
                rows = getattr(model, "every", model._default_manager)
                rows.update(**{name: F(name) + timedelta(days=days) for name in told})
        Wait.objects.filter(words=GLUE_SETS).update(**glued_lately())
