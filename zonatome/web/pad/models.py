"""Foam that lies in the store, and the workroom's own stacks."""

from __future__ import annotations

from typing import Any

from django.db import models
from django.utils import timezone

from zonatome.core.formats import reading
from zonatome.core.outline import Outline, outline_of
from zonatome.core.pad.sorts import FOAMS
from zonatome.core.tolerances import MOST_POINTS
from zonatome.web.jobs.models import Job


class FoamOffcut(models.Model):
    """A piece of foam in store: its sort, thickness and outline in mm; reserved for a tag until it is used."""

    foam = models.CharField(max_length=12, choices=[(f.key, f.name) for f in FOAMS.values()], default="medium")
    thickness = models.FloatField()
    outline = models.JSONField()
    words = models.CharField(max_length=80, blank=True)
    came_from = models.ForeignKey(Job, null=True, blank=True, on_delete=models.SET_NULL, related_name="foam_left")
    reserved_for = models.ForeignKey(Job, null=True, blank=True, on_delete=models.SET_NULL, related_name="foam_taken")
    kept_at = models.DateTimeField(default=timezone.now)
    used_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["id"]

    def shape(self) -> Outline:
        """Its outline. Raises BadInput where the row holds none."""
        return outline_of(reading.listed(self.outline, "outline", least=3, most=MOST_POINTS))


class FoamStep(models.Model):
    """What was done with the foam in store, so that it can be taken back: the pieces that came, that went, and for
    which tag each was reserved before.
    """

    words = models.CharField(max_length=80)
    made: models.JSONField[Any, Any] = models.JSONField(default=list)
    used: models.JSONField[Any, Any] = models.JSONField(default=list)
    reserved: models.JSONField[Any, Any] = models.JSONField(default=dict)

    class Meta:
        ordering = ["id"]


class OwnStack(models.Model):
    """A stack that the workroom builds again and again, for one sort of pad."""

    name = models.CharField(max_length=60)
    role = models.CharField(max_length=12)
    stack: models.JSONField[Any, Any] = models.JSONField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["role", "name"], name="own_stack_once")]
        ordering = ["name"]
