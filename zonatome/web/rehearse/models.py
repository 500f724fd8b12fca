"""Rehearsals: the acts of one, kept as they are made."""

from django.db import models

from zonatome.web.jobs.models import JobPart


class Rehearsal(models.Model):
    """What was tried of stapling a panel: its acts, and how hard the hand pulls."""

    part = models.OneToOneField(JobPart, on_delete=models.CASCADE, related_name="rehearsal")
    acts = models.JSONField(default=list, blank=True)
    pull = models.CharField(max_length=8, default="usual")


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
