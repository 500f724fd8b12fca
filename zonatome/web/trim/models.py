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
    key = models.CharField(max_length=30, blank=True, default="", editable=False)  # the panel that it runs along
    corners = models.JSONField(default=list, blank=True, editable=False)  # mm between corners that have a nail each
    head = models.FloatField(default=11.0)  # of its nails, mm
    spacing = models.FloatField(null=True, blank=True)  # of its nails, mm; empty: touching

    @property
    def kind_name(self) -> str:
        """Its own trim in words."""
        return KINDS.get(self.kind, "")

    class Meta:
        ordering = ["id"]
