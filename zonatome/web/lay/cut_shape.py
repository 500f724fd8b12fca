"""The shape of a part as it is cut from its cloth."""

from __future__ import annotations

from zonatome.core.trace.shape import Shape
from zonatome.core.trace.snug import snug_shape
from zonatome.web.jobs.models import JobPart
from zonatome.web.lay.models import Cloth
from zonatome.web.trace.services import shape_of_part


def laid_shape(part: JobPart, cloth: Cloth) -> Shape:
    """Return the shape of a part as it is cut from a cloth: of one that stretches smaller where it is sewn snug."""
    railroaded = part.cloth is not None and part.cloth.railroaded
    return snug_shape(shape_of_part(part), cloth.stretch, railroaded=railroaded, rules=part.job.rules)
