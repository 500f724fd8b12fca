"""The exposed lines that get a trim."""

from django.db import models

from zonatome.web.jobs.models import Job


class TrimLine(models.Model):
    """One line: what it runs along, its length in mm, how many a piece of furniture has, whether it closes on itself."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="trim_lines")
    name = models.CharField(max_length=60)
    length = models.FloatField()
    times = models.PositiveSmallIntegerField(default=1)
    is_closed = models.BooleanField(default=False)

    class Meta:
        ordering = ["id"]
