"""Which way pieces and strips may lie on a cloth: its nap, its stripe, railroaded or not."""

from __future__ import annotations

from typing import Literal, get_args

from zonatome.core.errors import BadInput
from zonatome.core.lay.request import Direction

Nap = Literal["one_way", "two_way", "any"]
TrimWay = Literal["", "across", "along", "bias"]
TRIM_WAYS: dict[str, str] = {
    "": "straight, as the cloth wants it",
    "across": "straight, across the roll",
    "along": "straight, along the roll",
    "bias": "on the bias, for tight curves",
}
QUARTERS = (0.0, 90.0, 180.0, 270.0)


def turns_allowed(
    nap: str, *, railroaded: bool = False, is_striped: bool = False, any_angle: bool = False
) -> tuple[float, ...] | None:
    """Return the turns that a piece may lie in, in degrees from its top toward the squared end; None for any turn at
    all.

    Pile and a one-way motif lie one way, a weave may turn half round, vinyl and hide lie as they save, at any angle
    when that is asked for. A stripe is laid sideways only for the whole piece of furniture, and then all of it: on
    striped cloth nothing turns a quarter alone. Source: trade rules. Raises BadInput for a nap that is none.
    """
    if nap not in get_args(Nap):
        raise BadInput("direction", nap, "one of " + ", ".join(get_args(Nap)))
    up = 90.0 if railroaded else 0.0
    if nap == "one_way":
        return (up,)
    if nap == "two_way" or is_striped:
        return (up, up + 180.0)
    return None if any_angle else QUARTERS


def strip_directions(nap: str, way: str = "", *, railroaded: bool = False) -> tuple[Direction, ...]:
    """Return the directions in which strips for welt may be cut.

    On pile all strips lie one way, the cord's pile across it as it runs down a boxing: cord cut the other way looks
    like another colour. Railroaded, that is along the roll. On other cloths both straight ways save. A way that is
    chosen is the only one. Raises BadInput for a way that is none.
    """
    if way not in TRIM_WAYS:
        raise BadInput("trim_way", way, "one of " + ", ".join(w for w in TRIM_WAYS if w))
    if way:
        return (way,)  # type: ignore[return-value]
    if nap == "one_way":
        return ("along",) if railroaded else ("across",)
    return ("across", "along")
