"""What was found in each layer, and the verdict."""

from django.db import models

from zonatome.core.survey.findings import FINDINGS, LAYERS, VERDICTS, Finding
from zonatome.web.jobs.models import Job


class LayerFinding(models.Model):
    """The finding and verdict of one layer of one job."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="findings")
    layer = models.CharField(max_length=10, choices=[(layer, layer) for layer in LAYERS])
    finding = models.CharField(max_length=30)
    verdict = models.CharField(max_length=12, choices=list(VERDICTS.items()))
    note = models.CharField(max_length=300, blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "layer"], name="finding_once_a_layer")]

    @property
    def data(self) -> Finding:
        """The finding's words and reason."""
        return FINDINGS[self.finding]
