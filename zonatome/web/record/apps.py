"""The record's app: keeps its index after the store was migrated."""

from __future__ import annotations

from django.apps import AppConfig, apps
from django.db.models.signals import post_migrate, pre_migrate


class RecordConfig(AppConfig):
    """Makes the index of all that was done."""

    name = "zonatome.web.record"

    def ready(self) -> None:
        """Take the index away before any table is altered, and make it when all migrations are done."""
        from zonatome.web.record.search import forget, prepare

        pre_migrate.connect(forget, sender=apps.get_app_config("stock"), dispatch_uid="record-not-said")
        post_migrate.connect(prepare, sender=apps.get_app_config("stock"), dispatch_uid="record-said")
