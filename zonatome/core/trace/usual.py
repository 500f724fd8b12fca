"""The shape that a panel's usual measures give, before anybody has traced or measured it."""

from __future__ import annotations

from zonatome.core.rules import USUAL, Rules
from zonatome.core.survey.kind import Part
from zonatome.core.trace.by_tape import disc_shape, trapezoid_shape
from zonatome.core.trace.shape import Shape


def usual_shape(part: Part, rules: Rules = USUAL) -> Shape:
    """Return the shape of a panel's usual measures, its edges held as the panel's are, with what the workroom adds for that."""
    if part.form == "disc":
        return disc_shape(part.name, part.width, {}).held_as(part, rules)
    above = part.width if part.width_above is None else part.width_above
    return trapezoid_shape(part.name, part.width, above, part.height, {}).held_as(part, rules)
