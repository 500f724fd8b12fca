"""What a job's pads take to buy: webbing, springs, roll goods, foam by the sheet, with amounts and prices."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from zonatome.core.outline import Outline
from zonatome.core.pad.nest import FOAM_SHEET, FoamNest, FoamPiece, Offcut, nest_what_can_be, off_the_roll
from zonatome.core.pad.sorts import FOAMS
from zonatome.core.pad.usual import Role
from zonatome.core.pad.worked import Worked
from zonatome.core.rules import USUAL, Rules

SHEETS_PRICED = (25, 50, 75, 100)  # mm: up to these thicknesses a sheet has a price of its own


@dataclass(frozen=True)
class PadAsk:
    """One pad of a job: its name, what it is for, its stack worked out, how many of it there are."""

    key: str
    name: str
    role: Role
    worked: Worked
    pads: int


@dataclass(frozen=True)
class Bought:
    """An amount to buy: what, how much in `unit` (mm of length, sheets, pieces), and what one unit costs (a metre, a
    sheet, a piece).
    """

    what: str
    amount: float
    unit: str
    price: float
    note: str = ""

    @property
    def cost(self) -> float:
        """What it costs, in the workroom's money."""
        return self.price * (self.amount / 1000 if self.unit == "mm" else self.amount)


@dataclass(frozen=True)
class PadsBought:
    """What all pads of a job take: the amounts, the foam's nests; and what is not among them, each with why."""

    bought: tuple[Bought, ...]
    nests: tuple[FoamNest, ...]
    left_out: tuple[tuple[str, str], ...] = ()


def foam_pieces(pads: Iterable[PadAsk]) -> tuple[FoamPiece, ...]:
    """Return the foam that these pads take, kept layers left out."""
    found = []
    for pad in pads:
        foams = [c for c in pad.worked.cuts if c.made.group == "foam" and not c.layer.kept and c.outline is not None]
        for cut in foams:
            name = pad.name if len(foams) == 1 else f"{pad.name}, {cut.layer.name} {cut.layer.thickness:g}"
            outline = cut.outline
            assert outline is not None  # noqa: S101  # asked for just above
            found.append(FoamPiece(name, outline, pad.pads * cut.count, cut.layer.foam, cut.layer.thickness, pad.role))
    return tuple(found)


def pads_bought(pads: Sequence[PadAsk], offcuts: Iterable[Offcut] = (), rules: Rules = USUAL) -> PadsBought:
    """Return what the pads of a whole job take to buy, kept layers left out, foam from the store first."""
    nests, refused = nest_what_can_be(foam_pieces(pads), offcuts)
    left_out = [(pad.name, pad.worked.misfit.told) for pad in pads if pad.worked.misfit is not None]
    left_out += [(what, refusal.told) for what, refusal in refused]
    found = [*_by_length(pads, rules), *_off_rolls(pads, rules), *(_sheets(nest, rules) for nest in nests)]
    return PadsBought(tuple(b for b in found if b.amount > 0), nests, tuple(left_out))


def _by_length(pads: Sequence[PadAsk], rules: Rules) -> list[Bought]:
    straps: dict[str, float] = {}
    sinuous = coils = twine = wire = roll = 0.0
    for pad in pads:
        for cut in pad.worked.cuts:
            if cut.layer.kept:
                continue
            if cut.made.bought == "strap":
                straps[cut.made.name] = straps.get(cut.made.name, 0.0) + cut.length * pad.pads
            elif cut.made.key == "sinuous" and pad.worked.sinuous:
                sinuous += cut.count * pad.pads
                wire += pad.worked.sinuous.wire * pad.pads
            elif cut.made.key == "coil":
                coils += cut.count * pad.pads
                twine += cut.length * pad.pads
            elif cut.made.bought == "edge":
                roll += cut.length * pad.pads
        if pad.worked.buttons:
            twine += pad.worked.buttons.twine * pad.pads
    return [
        *(
            Bought(name, length, "mm", rules["webbing_metre"], f"{rules['strap']:g} mm wide")
            for name, length in straps.items()
        ),
        Bought("sinuous springs", sinuous, "pieces", rules["sinuous_spring"], "with two clips each"),
        Bought("tie wire", wire, "mm", rules["twine_metre"]),
        Bought("coil springs", coils, "pieces", rules["coil_spring"]),
        Bought("twine", twine, "mm", rules["twine_metre"], "lashing and buttons"),
        Bought("edge roll", roll, "mm", rules["edge_roll_metre"]),
    ]


def _off_rolls(pads: Sequence[PadAsk], rules: Rules) -> list[Bought]:
    goods: dict[tuple[str, str, float], list[tuple[Outline, int]]] = {}
    for pad in pads:
        for cut in pad.worked.cuts:
            if cut.made.bought == "roll goods" and not cut.layer.kept and cut.outline is not None:
                halves = 2 if cut.layer.split else 1  # one sheet twice as thick gives two
                at = (cut.made.name, cut.made.price, cut.layer.thickness * halves)
                goods.setdefault(at, []).append((cut.outline, math.ceil(pad.pads / halves)))
    found = []
    for (name, price, thickness), pieces in goods.items():
        what = name if name == "hessian" else f"{name}, {thickness:g} mm"
        found.append(Bought(what, off_the_roll(tuple(pieces)), "mm", rules[price], "off a roll of 150 cm"))
    return found


def _sheets(nest: FoamNest, rules: Rules) -> Bought:
    made = FOAMS[nest.foam]
    wide, high = (side / 10 for side in FOAM_SHEET)
    note = f"sheets of {wide:g} x {high:g} cm" + (
        f", {len(nest.offcuts)} from the store besides" if nest.offcuts else ""
    )
    what = f"{made.name} foam, {nest.thickness:g} mm"
    return Bought(what, nest.sheets, "sheets", sheet_price(nest.thickness, rules) * made.dearer, note)


def sheet_price(thickness: float, rules: Rules = USUAL) -> float:
    """Return what a sheet of foam of the usual grade costs at this thickness.

    >>> sheet_price(50), sheet_price(60)
    (38, 55)
    """
    up_to = next((most for most in SHEETS_PRICED if thickness <= most), None)
    return rules[f"foam_{up_to}"] if up_to else rules["foam_thick"]
