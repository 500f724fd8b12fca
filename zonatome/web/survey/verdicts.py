"""How each layer of a job stands: what was found, the rule's verdict, the one that holds."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from zonatome.core.survey.clearance import clearance
from zonatome.core.survey.findings import LAYERS, VERDICTS, Verdict, proposed
from zonatome.web.jobs.models import Job


def verdicts_of(job: Job) -> dict[str, LayerStanding]:
    """Return how each layer of a job stands: what was found, the rule's verdict, the one that holds."""
    found = [f.finding for f in job.findings.all()]
    by_hand = {v.layer: v for v in job.verdicts.all()}
    fits = fits_over(job)
    standing = {}
    for layer in LAYERS:
        rule = proposed(layer, found, fits_over=fits)
        own = by_hand.get(layer)
        chosen = own.verdict if own and own.verdict and rule else ""
        standing[layer] = LayerStanding(
            layer,
            tuple(f for f in job.findings.all() if f.layer == layer),
            rule,
            chosen or (rule.verdict if rule else ""),
            own.note if own else "",
        )
    return standing


def fits_over(job: Job) -> bool | None:
    """Return whether the seat still drops in with the cloth over the old cover; nothing where nobody has measured."""
    return clearance(**job.clearance).fits if job.clearance else None


@dataclass(frozen=True)
class LayerStanding:
    """One layer: what was found in it, what the rule says, the verdict that holds, a note."""

    layer: str
    found: tuple[Any, ...]
    rule: Verdict | None
    verdict: str
    note: str

    @property
    def is_by_hand(self) -> bool:
        """Whether a hand decided otherwise than the rule."""
        return bool(self.rule and self.verdict != self.rule.verdict)

    @property
    def words(self) -> str:
        """The verdict as one says it."""
        return VERDICTS.get(self.verdict, "")
