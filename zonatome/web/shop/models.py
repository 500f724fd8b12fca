"""The log: time at the bench, kept on the server; quotes that were sent, and what the client says;
tools."""

from __future__ import annotations

import secrets
from typing import Any

from django.db import models
from django.utils import timezone

from zonatome.core.shop.estimate import STEPS
from zonatome.web.jobs.models import Job, JobPart


class TimeEntry(models.Model):
    """Time at one step of a tag, at a panel where one was in hand; it runs on while the page is closed. Pulling has a
    clock of its own, which counts staples.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="log")
    part = models.ForeignKey(JobPart, null=True, blank=True, on_delete=models.SET_NULL, related_name="log")
    step = models.CharField(max_length=8, choices=[(step, step.title()) for step in STEPS])
    by = models.CharField(max_length=150, blank=True)
    began = models.DateTimeField(default=timezone.now)
    ended = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-id"]
        indexes = [models.Index(fields=["by", "ended"], name="log_running")]

    @property
    def minutes(self) -> float:
        """How long it has run, or ran."""
        return ((self.ended or timezone.now()) - self.began).total_seconds() / 60


class StepTook(models.Model):
    """A step of a tag that was timed: minutes foreseen by the rules, minutes on the clock, whether it is done."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="steps_took")
    step = models.CharField(max_length=8)
    foreseen = models.FloatField()
    took = models.FloatField()
    is_done = models.BooleanField(default=False)
    # what it was made of: how many pieces of furniture, [sort of work, of the whole set, of each], minutes besides
    amounts: models.JSONField[Any, Any] = models.JSONField(default=dict, blank=True, editable=False)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "step"], name="step_took_once")]


def another_nonce() -> str:
    """Return something that nobody guesses."""
    return secrets.token_urlsafe(18)


class SentQuote(models.Model):
    """A quote as it was sent: its options with all their figures, until when it holds; what the client answered."""

    ANSWERS = [("yes", "yes"), ("no", "no"), ("question", "a question")]

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="quotes")
    options: models.JSONField[Any, Any] = models.JSONField()  # as `zonatome.quote` writes them
    words = models.CharField(max_length=600, blank=True)  # to the client
    holds_until = models.DateField()
    nonce = models.CharField(max_length=40, default=another_nonce, editable=False)
    by = models.CharField(max_length=150, blank=True)
    made_at = models.DateTimeField(default=timezone.now)
    opened_at = models.DateTimeField(null=True, blank=True)
    withdrawn_at = models.DateTimeField(null=True, blank=True)
    answer = models.CharField(max_length=8, blank=True, choices=ANSWERS)
    option = models.CharField(max_length=40, blank=True)  # which one they said yes to
    answer_words = models.CharField(max_length=600, blank=True)
    answered_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-id"]


class OwnTool(models.Model):
    """A tool as this workroom has it: whether it is there, what it costs here where that is known."""

    key = models.CharField(max_length=20, unique=True)
    is_owned = models.BooleanField(default=True)
    price = models.DecimalField(max_digits=8, decimal_places=2, null=True, blank=True)


class GatherTick(models.Model):
    """A thing that lies ready for a tag."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="gathered")
    key = models.CharField(max_length=80)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "key"], name="gathered_once")]


class OldPiece(models.Model):
    """What the old piece of a tag cost, and over how many such jobs tools that are bought for it are spread."""

    job = models.OneToOneField(Job, on_delete=models.CASCADE, related_name="old_piece")
    cost = models.DecimalField(max_digits=8, decimal_places=2, default=0)
    spread = models.PositiveSmallIntegerField(default=10)
