"""How much cloth to buy, and what it costs."""

from __future__ import annotations

import math
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal

from zonatome.core.errors import BadInput
from zonatome.core.units import MM_PER_YARD

SQUARING = 100.0  # mm: the seller's cut is not square; so much goes before x = 0 is true
MARGIN = 100.0  # mm: for a slip of the shears, and for a length measured short
SOLD_BY: dict[str, tuple[str, Decimal]] = {
    "whole": ("whole", Decimal(1)),
    "half": ("half", Decimal("0.5")),
    "quarter": ("quarter", Decimal("0.25")),
    "tenth": ("tenth", Decimal("0.1")),
}
MM_PER_SOLD = {"m": 1000.0, "yd": MM_PER_YARD}


@dataclass(frozen=True)
class Purchase:
    """What to buy: `length` is `sold_units` of a metre or yard; `margin` is what is left after squaring and the lay.

    `below` is the step below where it would still hold the lay, with `below_margin` left; else None.
    """

    laid: float
    squaring: float
    length: float
    sold_units: Decimal
    margin: float
    cost: Decimal
    step: float
    below: float | None
    below_margin: float
    below_saves: Decimal


def purchase(
    laid: float, *, price: Decimal, sold_in: str = "m", step: str = "tenth", squaring: float = SQUARING, margin: float = MARGIN
) -> Purchase:
    """Return what to buy for a laid length: laid + squaring + margin, up to the seller's next step.

    `price` is for a metre or a yard, as `sold_in` says. Source: trade rule. Raises BadInput for a step or
    unit that is not in the tables, and a negative price.

    >>> bought = purchase(4310, price=Decimal("38.50"), step="half")
    >>> bought.length, str(bought.cost), round(bought.margin), bought.below
    (5000.0, '192.50', 590, 4500.0)
    """
    if step not in SOLD_BY:
        raise BadInput("step", step, "one of " + ", ".join(SOLD_BY))
    if sold_in not in MM_PER_SOLD:
        raise BadInput("sold_in", sold_in, "m or yd")
    if price < 0:
        raise BadInput("price", price, "0 or more")
    share, unit = SOLD_BY[step][1], MM_PER_SOLD[sold_in]
    size = float(share) * unit
    steps = max(1, math.ceil((laid + squaring + margin) / size - 1e-9))
    left = steps * size - laid - squaring
    cost = _money(price * share * steps)
    fits_below = steps > 1 and (steps - 1) * size >= laid + squaring
    return Purchase(
        laid=laid,
        squaring=squaring,
        length=steps * size,
        sold_units=share * steps,
        margin=left,
        cost=cost,
        step=size,
        below=(steps - 1) * size if fits_below else None,
        below_margin=left - size,
        below_saves=cost - _money(price * share * (steps - 1)),
    )


def _money(amount: Decimal) -> Decimal:
    return amount.quantize(Decimal("0.01"), rounding=ROUND_HALF_UP)
