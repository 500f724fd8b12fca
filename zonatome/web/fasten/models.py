"""What staples must keep clear of."""

from django.db import models

from zonatome.web.jobs.models import JobPart


class KeepOutMark(models.Model):
    """A screw hole or plate on a board's underside: its middle from the board's left and front edges, its radius, in
    mm.
    """

    part = models.ForeignKey(JobPart, on_delete=models.CASCADE, related_name="keep_outs")
    x = models.FloatField()
    y = models.FloatField()
    radius = models.FloatField(default=8.0)

    class Meta:
        ordering = ["id"]
