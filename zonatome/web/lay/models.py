"""Cloths in the store, the cloths of a job, and the runs that lay its pieces on them."""

from __future__ import annotations

from datetime import timedelta

from django.core.validators import MinValueValidator
from django.db import models
from django.utils import timezone

from zonatome.core.formats.lay_json import read_lay, read_request
from zonatome.core.lay.motif import PATTERNS, repeat_of
from zonatome.core.lay.request import Lay, LayRequest, Repeat
from zonatome.web.jobs.models import Job

WAITING_LONGEST = timedelta(seconds=90)  # one that waits its turn behind others, or for a worker that is being started, is not lost yet
SILENT_AFTER = timedelta(seconds=12)  # a worker that lives writes every second or so; a busy disk may hold it up


class Cloth(models.Model):
    """A cloth as the seller offers it."""

    DIRECTIONS = [
        ("one_way", "one way (pile, one-way pattern)"),
        ("two_way", "two way (woven plain)"),
        ("any", "any way (vinyl and the like)"),
    ]
    SOLD_IN = [("m", "metre"), ("yd", "yard")]
    SOLD_BY = [("whole", "whole"), ("half", "half"), ("quarter", "quarter"), ("tenth", "tenth")]

    name = models.CharField(max_length=60)
    width = models.FloatField()
    selvage = models.FloatField(default=12.0)
    direction = models.CharField(max_length=8, choices=DIRECTIONS, default="two_way")
    pattern = models.CharField(max_length=10, choices=list(PATTERNS.items()), default="plain")
    repeat_along = models.FloatField(null=True, blank=True)
    repeat_across = models.FloatField(null=True, blank=True)
    first_along = models.FloatField(default=0.0)
    first_across = models.FloatField(default=0.0)
    thickness = models.FloatField(default=1.0)
    price = models.DecimalField(max_digits=8, decimal_places=2, validators=[MinValueValidator(0)])
    sold_in = models.CharField(max_length=2, choices=SOLD_IN, default="m")
    sold_by = models.CharField(max_length=8, choices=SOLD_BY, default="tenth")
    certified = models.CharField("what the seller certifies", max_length=120, blank=True)
    is_in_store = models.BooleanField(default=True)

    class Meta:
        ordering = ["name", "id"]

    def __str__(self) -> str:
        """Its name."""
        return self.name

    @property
    def repeat(self) -> Repeat | None:
        """Where its stripes or motifs stand on the roll; None of a plain one."""
        first = (self.first_along, self.first_across)
        return repeat_of(self.pattern, along=self.repeat_along, across=self.repeat_across, first=first)


class JobCloth(models.Model):
    """A cloth that a job uses, and for what; a lay each."""

    ROLES = [("main", "main"), ("contrast", "contrast"), ("deck", "deck cloth"), ("other", "other")]

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="cloths")
    cloth = models.ForeignKey(Cloth, on_delete=models.PROTECT)
    role = models.CharField(max_length=8, choices=ROLES, default="main")
    gap = models.FloatField(default=4.0)
    squaring = models.FloatField(default=100.0)
    margin = models.FloatField(default=100.0)
    railroaded = models.BooleanField(default=False)
    wants = models.CharField(max_length=40, blank=True, editable=False)  # fingerprint of the lay it wants now; empty: work it out

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["job", "cloth"], name="cloth_once_a_job")]


class LayRun(models.Model):
    """One search for a lay: what was asked, how far it is, the best so far."""

    STATES = [("waiting", "waiting"), ("running", "running"), ("done", "done"), ("stopped", "stopped"), ("failed", "failed")]
    OPEN = ("waiting", "running")

    job_cloth = models.ForeignKey(JobCloth, on_delete=models.CASCADE, related_name="runs")
    state = models.CharField(max_length=8, choices=STATES, default="waiting")
    request = models.JSONField()
    fingerprint = models.CharField(max_length=40)
    seconds = models.FloatField()
    seed = models.PositiveIntegerField()
    version = models.CharField(max_length=20)
    best = models.JSONField(null=True)
    best_length = models.FloatField(null=True)
    first_length = models.FloatField(null=True)
    improvements = models.PositiveIntegerField(default=0)
    progress = models.FloatField(default=0.0)
    stop_asked = models.BooleanField(default=False)
    is_chosen = models.BooleanField(default=False)  # laid by hand, or round pieces pinned by hand: stands though another is shorter
    words = models.CharField(max_length=300, blank=True)
    asked_at = models.DateTimeField(default=timezone.now)
    beat_at = models.DateTimeField(default=timezone.now)
    ended_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-id"]

    @property
    def is_open(self) -> bool:
        """Whether it still waits or searches, as far as the row says."""
        return self.state in self.OPEN

    @property
    def is_silent(self) -> bool:
        """Whether its worker has not been heard of for too long: killed, or not started."""
        patience = SILENT_AFTER if self.state == "running" else WAITING_LONGEST
        return self.is_open and timezone.now() - self.beat_at > patience

    @property
    def is_moving(self) -> bool:
        """Whether the page should go on looking."""
        return self.is_open and not self.is_silent

    def lay(self) -> Lay:
        """Return the best lay, through the same reader that reads files."""
        return read_lay(self.best)

    def asked(self) -> LayRequest:
        """Return what was asked."""
        return read_request(self.request)


class CutTick(models.Model):
    """A piece that has been cut, on the sheet of one run."""

    run = models.ForeignKey(LayRun, on_delete=models.CASCADE, related_name="ticks")
    key = models.CharField(max_length=60)
    is_strip = models.BooleanField(default=False)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["run", "key"], name="tick_once")]


class ClothTrial(models.Model):
    """The same pieces on another cloth of the store, laid to compare: its length so far, or why it is not offered."""

    STATES = [("waiting", "waiting"), ("running", "being laid"), ("done", "laid"), ("refused", "not offered"), ("failed", "broke off")]
    OPEN = ("waiting", "running")

    job_cloth = models.ForeignKey(JobCloth, on_delete=models.CASCADE, related_name="trials")
    cloth = models.ForeignKey(Cloth, on_delete=models.CASCADE)
    state = models.CharField(max_length=8, choices=STATES, default="waiting")
    request = models.JSONField(null=True)
    fingerprint = models.CharField(max_length=40, blank=True)
    seconds = models.FloatField(default=0.0)
    length = models.FloatField(null=True)
    used = models.FloatField(null=True)
    words = models.CharField(max_length=300, blank=True)
    beat_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["job_cloth", "cloth"], name="trial_once_a_cloth")]

    @property
    def is_moving(self) -> bool:
        """Whether it is still being laid, or waits its turn, and its worker has been heard of."""
        return self.state in self.OPEN and timezone.now() - self.beat_at < WAITING_LONGEST


class HandLay(models.Model):
    """A lay under the hand, kept at every move; nothing is lost when the page is closed."""

    job_cloth = models.OneToOneField(JobCloth, on_delete=models.CASCADE, related_name="hand_lay")
    fingerprint = models.CharField(max_length=40)
    placements = models.JSONField()
    pinned = models.JSONField(default=list)
    past = models.JSONField(default=list)
