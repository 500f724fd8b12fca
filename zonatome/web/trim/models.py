"""The exposed lines that get a trim."""

from django.db import models

from zonatome.core.trim.welt import KINDS
from zonatome.web.jobs.models import Job


class TrimLine(models.Model):
    """One line: what it runs along, its length in mm, how many a piece of furniture has,
    whether it closes on itself.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="trim_lines")
    name = models.CharField(max_length=60)
    length = models.FloatField()
    times = models.PositiveSmallIntegerField(default=1)
    is_closed = models.BooleanField(default=False)
    kind = models.CharField(max_length=12, blank=True, default="")  # of its own; empty: what the tag is trimmed with

    @property
    def kind_name(self) -> str:
        """Its own trim in words."""
        return KINDS.get(self.kind, "")

    class Meta:
        ordering = ["id"]
