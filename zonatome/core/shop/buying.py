"""How much cloth to buy, and what it costs: squaring, margin, the seller's step, least cut and price breaks, lots, a
rule of thumb.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal

from zonatome.core.errors import BadInput
from zonatome.core.outline import Outline, rectangle
from zonatome.core.tolerances import SAME_LENGTH
from zonatome.core.units import MM_PER_YARD

LEAST_USE = 10.0  # mm of length that squaring must leave
SQUARING = 100.0  # mm: the seller's cut is not square; so much goes before x = 0 is true
MARGIN = 100.0  # mm: for a slip of the shears, and for a length measured short
SOLD_BY: dict[str, tuple[str, Decimal]] = {
    "whole": ("whole", Decimal(1)),
    "half": ("half", Decimal("0.5")),
    "quarter": ("quarter", Decimal("0.25")),
    "tenth": ("tenth", Decimal("0.1")),
}
MM_PER_SOLD = {"m": 1000.0, "yd": MM_PER_YARD}
MM2_PER_SQUARE = {"m": 1e6, "yd": MM_PER_YARD**2}
MOST_BREAKS = 12


@dataclass(frozen=True)
class PriceBreak:
    """From a length on, in mm, the whole cut costs another price a metre or yard."""

    from_length: float
    price: Decimal


@dataclass(frozen=True)
class Purchase:
    """What to buy: `length` is `sold_units` of a metre or yard; `margin` is what is left after squaring and the lay.

    `below` is the step below where it would still hold the lay, with `below_margin` left; else None. `is_least` says
    that the seller's least cut decides. `price` is what a metre or yard costs at this length; `break_length` is a
    longer cut that a price break makes cheaper by `break_saves`, or None.
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
    is_least: bool = False
    price: Decimal = Decimal(0)
    break_length: float | None = None
    break_saves: Decimal = Decimal(0)


def price_at(length: float, price: Decimal, breaks: Sequence[PriceBreak] = ()) -> Decimal:
    """Return the price a metre or yard of a cut of a length in mm: that of the last break it reaches."""
    reached = [b for b in breaks if length >= b.from_length - 1e-6]
    return max(reached, key=lambda b: b.from_length).price if reached else price


def purchase(  # noqa: PLR0913 by name: each is a term of sale
    laid: float,
    *,
    price: Decimal,
    sold_in: str = "m",
    step: str = "tenth",
    squaring: float = SQUARING,
    margin: float = MARGIN,
    least: float = 0.0,
    breaks: Sequence[PriceBreak] = (),
) -> Purchase:
    """Return what to buy for a laid length: laid + squaring + margin, up to the seller's next step, not under the
    least cut.

    `price` is for a metre or a yard, as `sold_in` says; lengths in mm. Source: trade rule. Raises BadInput for a step
    or unit that is not in the tables, and a negative price or least cut.

    >>> bought = purchase(4310, price=Decimal("38.50"), step="half")
    >>> bought.length, str(bought.cost), round(bought.margin), bought.below
    (5000.0, '192.50', 590, 4500.0)
    """
    if step not in SOLD_BY:
        raise BadInput("step", step, "one of " + ", ".join(SOLD_BY))
    if sold_in not in MM_PER_SOLD:
        raise BadInput("sold_in", sold_in, "m or yd")
    if price < 0 or any(b.price < 0 for b in breaks):
        raise BadInput("price", price, "0 or more")
    if least < 0:
        raise BadInput("least", least, "0 or more")
    share, unit = SOLD_BY[step][1], MM_PER_SOLD[sold_in]
    size = float(share) * unit
    fewest = max(1, math.ceil(least / size - 1e-9))
    wanted = math.ceil((laid + squaring + margin) / size - 1e-9)
    steps = max(fewest, wanted)

    def cost_of(number: int) -> Decimal:
        return _money(price_at(number * size, price, breaks) * share * number)

    left = steps * size - laid - squaring
    fits_below = steps > fewest and (steps - 1) * size >= laid + squaring
    further = [
        n for n in (math.ceil(b.from_length / size - 1e-9) for b in breaks) if n > steps and cost_of(n) < cost_of(steps)
    ]
    best = min(further, key=cost_of, default=None)
    return Purchase(
        laid=laid,
        squaring=squaring,
        length=steps * size,
        sold_units=share * steps,
        margin=left,
        cost=cost_of(steps),
        step=size,
        below=(steps - 1) * size if fits_below else None,
        below_margin=left - size,
        below_saves=cost_of(steps) - cost_of(steps - 1) if steps > 1 else Decimal(0),
        is_least=steps > wanted,
        price=price_at(steps * size, price, breaks),
        break_length=best * size if best else None,
        break_saves=cost_of(steps) - cost_of(best) if best else Decimal(0),
    )


def priced_by_area(area: float, price: Decimal, sold_in: str = "m") -> Decimal:
    """Return what hides of an area in mm2 cost, at a price the square metre or square yard.

    Raises BadInput for another unit.
    """
    if sold_in not in MM2_PER_SQUARE:
        raise BadInput("sold_in", sold_in, "m or yd")
    return _money(price * Decimal(repr(round(area / MM2_PER_SQUARE[sold_in], 4))))


def _money(amount: Decimal) -> Decimal:
    return amount.quantize(Decimal("0.01"), rounding=ROUND_HALF_UP)


def shared(cost: Decimal, areas: Sequence[float]) -> tuple[Decimal, ...]:
    """Return each one's part of a cost, by its area; the parts add up to the cost to the last cent. Raises BadInput
    without an area.

    >>> [str(part) for part in shared(Decimal("100.00"), [1.0, 1.0, 1.0])]
    ['33.34', '33.33', '33.33']
    """
    whole = sum(areas)
    if not areas or whole <= 0 or min(areas) < 0:
        raise BadInput("areas", list(areas), "areas above 0")
    parts = [_money(cost * Decimal(repr(area / whole))) for area in areas]
    over = cost - sum(parts)
    parts[max(range(len(areas)), key=lambda n: areas[n])] += over
    return tuple(parts)


# --- one lot for all


@dataclass(frozen=True)
class StockLot:
    """What a seller has of one dye lot, in mm."""

    lot: str
    length: float


@dataclass(frozen=True)
class LotAdvice:
    """Whether one lot holds a length: the lot to take and what it has to spare,
    or the fewest lots that together would.
    """

    holds: bool
    lots: tuple[StockLot, ...]
    spare: float


def short_by(laid: float, squaring: float, here: float) -> float:
    """Return by how many mm what has come (`here`) is too short for a laid length with its squaring;
    0 where it does.
    """
    return max(0.0, laid + squaring - here)


def length_of(here: float, *, squaring: float, width: float, selvage: float) -> Outline:
    """Return what can be cut from a length of cloth that has come: what squaring leaves of it, between its selvages;
    in mm.

    Raises BadInput where squaring leaves nothing.
    """
    if here <= squaring + LEAST_USE:
        raise BadInput("came", here, f"more than the {squaring:.0f} mm that squaring takes")
    return rectangle(here - squaring, width - 2 * selvage)


def holds(lot: StockLot, length: float) -> bool:
    """Return whether a lot is long enough for a cut of a length in mm: less than a tape reads is nothing lacking."""
    return lot.length >= length - SAME_LENGTH


def lots_for(length: float, stock: Sequence[StockLot]) -> LotAdvice:
    """Return the lot to cut a length from: the shortest that holds it, so that long ones stay whole; else the fewest
    lots together.

    Lengths in mm. `spare` is negative by what is missing. Source: trade rule, one lot for all; two are two dyes.
    """
    single = [s for s in stock if holds(s, length)]
    if single:
        best = min(single, key=lambda s: s.length)
        return LotAdvice(True, (best,), best.length - length)
    taken: list[StockLot] = []
    for one in sorted(stock, key=lambda s: -s.length):
        if sum(s.length for s in taken) < length and one.length > 0:
            taken.append(one)
    return LotAdvice(False, tuple(taken), sum(s.length for s in taken) - length)


# --- the rule of thumb

CHART_WIDTH = 1370.0  # mm: the cloth that charts are made for
# metres of plain cloth of that width for one; our own chart, in the manner of those that hang in workrooms
CHART: dict[str, float] = {
    "drop_in": 0.7,
    "side_chair": 1.6,
    "show_wood": 1.9,
    "armchair": 5.5,
    "hall": 3.2,
    "wing": 6.0,
    "round_stool": 0.8,
    "square_stool": 0.8,
    "ottoman": 1.8,
    "bench_box": 2.8,
    "desk_chair": 1.4,
    "sling": 1.3,
}
# mm of repeat, and by how much a chart adds for it
FOR_REPEAT = ((150.0, 1.1), (350.0, 1.15), (500.0, 1.2), (math.inf, 1.25))
CHART_STEP = 500.0  # mm: charts speak in half metres


def rule_of_thumb(kind: str, count: int, *, width: float, repeat: float = 0.0, share: float = 1.0) -> float | None:
    """Return the mm of cloth that a chart would say for `count` of a kind, up to the half metre; None for a kind that
    no chart has.

    `width` is the cloth's in mm, `repeat` the longer of its repeats in mm (0: plain), `share` the part of the cover
    that is of this cloth. Source: the trade's charts; rough, made for one piece alone and for the worst of it, which
    is why a lay saves.

    >>> rule_of_thumb("side_chair", 6, width=1400)
    9500.0
    """
    if kind not in CHART:
        return None
    more = 1.0 if repeat <= 0 else next(times for most, times in FOR_REPEAT if repeat <= most)
    length = CHART[kind] * 1000 * count * more * share * CHART_WIDTH / width
    return math.ceil(length / CHART_STEP - 1e-9) * CHART_STEP
