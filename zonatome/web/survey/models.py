"""What was found in each layer, the verdicts set by hand, and the cautions that somebody has seen."""

from django.conf import settings
from django.db import models
from django.utils import timezone

from zonatome.core.survey.findings import FINDINGS, LAYERS, VERDICTS, Finding
from zonatome.web.jobs.models import Job


class LayerFinding(models.Model):
    """One finding of one layer of one job; a layer may have several."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="findings")
    layer = models.CharField(max_length=10, choices=[(layer, layer) for layer in LAYERS])
    finding = models.CharField(max_length=30)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["job", "finding"], name="finding_once_a_job")]

    @property
    def data(self) -> Finding:
        """The finding's words and reason."""
        return FINDINGS[self.finding]


class LayerVerdict(models.Model):
    """What was decided by hand for a layer, and a note; without a verdict the rule's stands."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="verdicts")
    layer = models.CharField(max_length=10, choices=[(layer, layer) for layer in LAYERS])
    verdict = models.CharField(max_length=12, blank=True, choices=list(VERDICTS.items()))
    note = models.CharField(max_length=300, blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "layer"], name="verdict_once_a_layer")]


class CautionSeen(models.Model):
    """That somebody has seen a caution on a tag, who and when."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="seen")
    key = models.CharField(max_length=30)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    at = models.DateTimeField(default=timezone.now)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "key"], name="seen_once_a_job")]
