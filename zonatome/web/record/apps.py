"""The record's app: keeps its index after the store was migrated."""

from __future__ import annotations

from django.apps import AppConfig, apps
from django.db.models.signals import post_migrate


class RecordConfig(AppConfig):
    """Makes the index of all that was done."""

    name = "zonatome.web.record"

    def ready(self) -> None:
        """Make the index when the tables that it follows are there: after the last of all migrations."""
        from zonatome.web.record.search import prepare

        post_migrate.connect(prepare, sender=apps.get_app_config("stock"), dispatch_uid="record-said")
