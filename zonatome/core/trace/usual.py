"""The shape that a panel's usual measures give, before anybody has traced or measured it."""

from __future__ import annotations

from functools import lru_cache

from zonatome.core.rules import USUAL, Rules
from zonatome.core.survey.kind import Part
from zonatome.core.trace.by_tape import disc_shape, trapezoid_shape
from zonatome.core.trace.shape import Shape

UNUSUAL = 3.0  # so many times the usual measure, or that part of it, is asked about: a slip of the unit is ten times


def unusual(shape: Shape, part: Part) -> tuple[float, float] | None:
    """Return the panel's usual measures, across and up in mm, where a shape is nothing like them; else nothing.

    A panel of a seat that is 6 m wide is a slip of the unit and is asked about, not taken.
    """
    usual = (part.width, part.height)
    for size, known in zip((shape.outline.width, shape.outline.height), usual, strict=True):
        if known and not known / (2 * UNUSUAL) <= size <= known * UNUSUAL:
            return usual
    return None


def usual_shape(part: Part, rules: Rules = USUAL) -> Shape:
    """Return the shape of a panel's usual measures, its edges held as the panel's are, with what the workroom adds for
    that.
    """
    return _of_its_measures(part.form, part.name, part.width, part.width_above, part.height).held_as(part, rules)


@lru_cache(maxsize=2_000)  # the panels of some fifty pieces of furniture; pages ask for the same ones again and again
def _of_its_measures(form: str, name: str, width: float, above: float | None, height: float) -> Shape:
    if form == "disc":
        return disc_shape(name, width, {})
    return trapezoid_shape(name, width, width if above is None else above, height, {})
