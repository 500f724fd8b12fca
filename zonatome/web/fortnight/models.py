"""Who is at the bench when, what is pinned, and the plans that were made."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from django.db import models
from django.utils import timezone

from zonatome.core.shop.plan.tasks import TASKS
from zonatome.web.jobs.models import Job

TASK_CHOICES = [(row.key, row.words) for row in TASKS.values()]


class Hands(models.Model):
    """The hours of one who works here, where they are others than the workroom's, and what this one does not do."""

    user = models.OneToOneField(User, on_delete=models.CASCADE, related_name="hands")
    is_at_bench = models.BooleanField(default=True)
    days: models.JSONField[Any, Any] = models.JSONField(default=list, blank=True)  # seven of ["08:30", "17:00"] or null
    pause: models.JSONField[Any, Any] = models.JSONField(null=True, blank=True)  # ["12:30", "13:15"]; null: none
    leaves = models.JSONField(default=list, blank=True)  # tasks to others


class DayOff(models.Model):
    """Days on which somebody is not there, or nobody."""

    user = models.ForeignKey(User, null=True, blank=True, on_delete=models.CASCADE, related_name="days_off")
    first = models.DateField()
    last = models.DateField()
    words = models.CharField(max_length=60, blank=True)

    class Meta:
        ordering = ["first", "id"]


class SpellPin(models.Model):
    """A spell of work that a hand has put somewhere."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="spell_pins")
    task = models.CharField(max_length=10, choices=TASK_CHOICES)
    from_last = models.PositiveIntegerField()
    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="spell_pins")
    begins = models.DateTimeField()

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["job", "task", "from_last"], name="spell_pinned_once")]


class FortnightPlan(models.Model):
    """One plan: what it was made from, its spells, what is said of it. The newest one holds."""

    STATES = [("waiting", "waiting"), ("running", "running"), ("done", "done"), ("failed", "failed")]
    OPEN = ("waiting", "running")

    first = models.DateField()  # its quarters are counted from midnight of this day
    state = models.CharField(max_length=8, choices=STATES, default="waiting")
    fingerprint = models.CharField(max_length=40)
    request: models.JSONField[Any, Any] = models.JSONField()
    spells: models.JSONField[Any, Any] = models.JSONField()
    said: models.JSONField[Any, Any] = models.JSONField()  # late, bound, left out, loosened
    moved: models.JSONField[Any, Any] = models.JSONField(default=list)  # sentences
    mends: models.JSONField[Any, Any] = models.JSONField(default=dict)  # of each late tag, by its number
    seconds = models.FloatField(null=True)
    made_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["-id"]
