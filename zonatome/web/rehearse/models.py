"""Rehearsals: the acts of one, kept as they are made."""

from __future__ import annotations

from typing import Any

from django.db import models

from zonatome.web.jobs.models import JobPart, Photo


class Rehearsal(models.Model):
    """What was tried of stapling a panel: its acts, and how hard the hand pulls."""

    part = models.OneToOneField(JobPart, on_delete=models.CASCADE, related_name="rehearsal")
    acts = models.JSONField(default=list, blank=True)
    pull = models.CharField(max_length=8, default="usual")
    photo = models.ForeignKey(Photo, null=True, blank=True, on_delete=models.SET_NULL, related_name="+")
    # where the board's corners are on it, in shares of its width and height
    marks: models.JSONField[Any, Any] = models.JSONField(default=list, blank=True)


class OrdersRun(models.Model):
    """The orders of a panel's staples, played and found by the worker: of one board, cloth and pull."""

    STATES = [("waiting", "waiting"), ("running", "running"), ("done", "done"), ("failed", "failed")]
    OPEN = ("waiting", "running")

    part = models.OneToOneField(JobPart, on_delete=models.CASCADE, related_name="orders_run")
    pull = models.CharField(max_length=8)
    fingerprint = models.CharField(max_length=40)
    state = models.CharField(max_length=8, choices=STATES, default="waiting")
    words = models.CharField(max_length=200, blank=True)
    now = models.CharField(max_length=30, blank=True)  # the order that is played
    done = models.PositiveIntegerField(default=0)  # staples of it that are in
    whole = models.PositiveIntegerField(default=0)

    @classmethod
    def say_lost(cls) -> None:
        """Write into what was at work that its worker is gone. Only for a worker that has the folder to itself."""
        cls.objects.filter(state="running").update(
            state="failed", words="The worker ended; what was played is kept. Ask once more."
        )


class PlayedOrder(models.Model):
    """One order of a run: its staples by their places in the plan, what one sees in the end, the sheet itself."""

    run = models.ForeignKey(OrdersRun, on_delete=models.CASCADE, related_name="orders")
    name = models.CharField(max_length=30)
    sequence: models.JSONField[Any, Any] = models.JSONField()
    why: models.JSONField[Any, Any] = models.JSONField(default=list)
    sheet = models.BinaryField()

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["run", "name"], name="order_once_a_run")]


class Try(models.Model):
    """Somebody's try at a practice piece: the acts so far, and the best that was scored."""

    who = models.CharField(max_length=60)
    piece = models.CharField(max_length=40)
    acts = models.JSONField(default=list, blank=True)
    pull = models.CharField(max_length=8, default="usual")
    best = models.IntegerField(null=True, blank=True)
    best_words = models.CharField(max_length=200, blank=True)
    tries = models.IntegerField(default=0)
    helps = models.IntegerField(default=0)  # how often it was asked what comes next, in this try

    class Meta:
        constraints = [models.UniqueConstraint(fields=["who", "piece"], name="one_try_a_piece")]


class Answers(models.Model):
    """Somebody's answers to the questions of a topic: how many so far, how many right, how many right in a row now."""

    who = models.CharField(max_length=60)
    topic = models.CharField(max_length=10)
    count = models.PositiveIntegerField(default=0)
    right = models.PositiveIntegerField(default=0)
    in_a_row = models.PositiveIntegerField(default=0)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["who", "topic"], name="answers_once_a_topic")]
