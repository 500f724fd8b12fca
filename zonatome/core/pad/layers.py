"""Layers from the wood out: sizes from the board and the chosen thicknesses, and what to buy."""

from __future__ import annotations

import math
from dataclasses import dataclass

from zonatome.core.errors import BadInput
from zonatome.core.rules import USUAL, Rules
from zonatome.core.trace.by_tape import Board

WADDING_ROLL = 1500.0  # mm: the usual width of a wadding roll
FOAM_SHEET = (2000.0, 1000.0)  # mm: the usual foam sheet
GLUE_SETS = (60, 120, 720, 1440)  # minutes: what tins of foam glue say
GLUE_USUAL = 120  # minutes


@dataclass(frozen=True)
class PadChoice:
    """What a pad is made of: thicknesses of foam and wadding, how far foam stands out, webbing or not."""

    foam: float = 40.0
    wadding: float = 10.0
    oversize: float = USUAL["foam_over"]
    webbing: bool = False

    def __post_init__(self) -> None:
        """Refuse thicknesses that nobody sits on."""
        for key, value, most in (
            ("foam", self.foam, 300),
            ("wadding", self.wadding, 80),
            ("oversize", self.oversize, 30),
        ):
            if not 0 <= value <= most:
                raise BadInput(key, value, f"0 to {most} mm")
        if self.foam + self.wadding <= 0:
            raise BadInput("foam", self.foam, "foam or wadding above 0 mm")


@dataclass(frozen=True)
class LayerSize:
    """One layer of one pad: what, its size in mm, how it is held, for how many pads."""

    what: str
    width: float
    depth: float
    thickness: float
    held: str
    count: int
    is_round: bool = False


@dataclass(frozen=True)
class ToBuy:
    """An amount to buy: what, how much, in which unit (m2, mm of roll, pieces)."""

    what: str
    amount: float
    unit: str
    note: str = ""
    thickness: float = 0.0


def measured_pad(choice: PadChoice, rules: Rules = USUAL) -> float:
    """Return what the pad measures under the cover: its layers less the give.

    Source: trade rule, about a tenth; the workroom may say otherwise.

    >>> measured_pad(PadChoice(foam=40, wadding=10))
    45.0
    """
    return (choice.foam + choice.wadding) * (1 - rules["give"])


def block_growth(before: PadChoice, after: PadChoice) -> float:
    """Return by how much the cut of a wrapped block grows each way: 2 x the difference of the pads.

    >>> block_growth(PadChoice(foam=25), PadChoice(foam=50))
    45.0
    """
    return 2 * (measured_pad(after) - measured_pad(before))


def layer_sizes(board: Board, choice: PadChoice, *, pads: int, rules: Rules = USUAL) -> tuple[LayerSize, ...]:
    """Return the layers of a pad on its board, from the wood out, each for `pads` boards.

    Foam is the board and its oversize all round. Wadding goes over the foam's top and sides and just round
    the edge, not under it. Webbing: straps each way, gaps no wider than a strap.
    """
    if pads < 1:
        raise BadInput("pads", pads, "at least 1")
    made = []
    if choice.webbing:
        strap, ends = rules["strap"], rules["strap_ends"]
        across = straps_across(board.width, rules)
        deep = straps_across(board.depth, rules)
        made.append(
            LayerSize(
                "webbing strap, front to back",
                strap,
                board.depth + 2 * ends,
                0,
                "staples, end folded over",
                across * pads,
            )
        )
        made.append(
            LayerSize(
                "webbing strap, side to side", strap, board.width + 2 * ends, 0, "interlaced, staples", deep * pads
            )
        )
        made.append(
            LayerSize("hessian", board.width + 40, board.depth + 40, 0, "staples, edge folded", pads, board.is_round)
        )
    grown = 2 * choice.oversize
    if choice.foam:
        made.append(
            LayerSize(
                "foam",
                board.width + grown,
                board.depth + grown,
                choice.foam,
                "spray glue to the board",
                pads,
                board.is_round,
            )
        )
    if choice.wadding:
        over = grown + 2 * (choice.foam + board.thickness)
        made.append(
            LayerSize(
                "wadding",
                board.width + over,
                board.depth + over,
                choice.wadding,
                "laid over, cut out at the corners",
                pads,
                board.is_round,
            )
        )
    return tuple(made)


def straps_across(opening: float, rules: Rules = USUAL) -> int:
    """Return how many straps cover an opening with gaps no wider than a strap.

    n straps leave n + 1 gaps: n strap + (n + 1) strap >= opening.
    """
    return max(1, math.ceil((opening - rules["strap"]) / (2 * rules["strap"]) - 1e-9))


def to_buy(layers: tuple[LayerSize, ...]) -> tuple[ToBuy, ...]:
    """Return what to buy for the layers of all pads, one entry a material."""
    bought = []
    straps = [s for s in layers if s.what.startswith("webbing")]
    if straps:
        bought.append(ToBuy("webbing", sum(s.depth * s.count for s in straps), "mm", f"{straps[0].width:g} mm wide"))
    for layer in layers:
        if layer.what == "foam":
            fits = _per_sheet(layer)
            sheets = math.ceil(layer.count / fits) if fits else layer.count
            note = (
                f"{layer.count} cut from sheets of 200 x 100 cm"
                if fits
                else "larger than a sheet: joined from offcuts, glued edge to edge"
            )
            bought.append(ToBuy(f"foam, {layer.thickness:g} mm", sheets, "sheets", note, layer.thickness))
        elif layer.what in ("wadding", "hessian"):
            across = max(1, int(WADDING_ROLL // min(layer.width, layer.depth)))
            long_way = max(layer.width, layer.depth)
            bought.append(
                ToBuy(layer.what, math.ceil(layer.count / across) * long_way, "mm", f"{across} across a roll of 150 cm")
            )
    return tuple(bought)


def _per_sheet(layer: LayerSize) -> int:
    sheet_width, sheet_depth = FOAM_SHEET
    straight = int(sheet_width // layer.width) * int(sheet_depth // layer.depth)
    turned = int(sheet_width // layer.depth) * int(sheet_depth // layer.width)
    return max(straight, turned)
