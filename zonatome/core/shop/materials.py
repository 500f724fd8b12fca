"""The bill of materials: what a whole job takes to buy, line by line, and what each line costs."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal

from zonatome.core.fasten.closings import ClosingBought
from zonatome.core.fasten.staples import boxes_for
from zonatome.core.pad.buying import Bought
from zonatome.core.pad.nest import FOAM_SHEET
from zonatome.core.shop.estimate import Material, Rates
from zonatome.core.trim.bottom import BottomCloth
from zonatome.core.trim.nails import boxes_of_nails
from zonatome.core.trim.welt import KINDS, TrimSum
from zonatome.core.units import Units, format_length

LOST_CUTTING_FOAM = 1.15  # a layer takes so much of a sheet for each of its own area
BOTTOM_ROLL_WIDTH = 1500.0  # mm: the usual width of bottom cloth
MM, SHEETS, PIECES, CLOTH = "mm", "sheets", "pieces", "cloth"  # units of a line: cloth is bought by lot, for a tag
CORDS = {"welt": 1, "double_welt": 2}  # beside each other in the strip


@dataclass(frozen=True)
class ClothBought:
    """A cloth of the job: its name, the length to buy in mm, what that costs."""

    name: str
    length: float
    cost: Decimal


@dataclass(frozen=True)
class FoamOnOldPads:
    """A layer that restyling lays on pads that stay: its thickness in mm, its area in mm2 over the whole set."""

    thickness: float
    area: float


@dataclass(frozen=True)
class SkirtBought:
    """A skirt over the whole set: the name of its cloth, what it and its lining take of their rolls in mm, what the
    cloth costs.
    """

    cloth: str
    run: float
    lining: float
    cost: Decimal


@dataclass(frozen=True)
class Takes:
    """What a job takes of everything, over the whole set of `furniture`; `bottom` is one bottom cloth, `zips` are their
    lengths in mm.
    """

    furniture: int = 1
    cloths: tuple[ClothBought, ...] = ()
    pads: tuple[Bought, ...] = ()
    on_old_pads: tuple[FoamOnOldPads, ...] = ()
    buttons: int = 0
    trims: tuple[TrimSum, ...] = ()
    zips: tuple[float, ...] = ()
    skirt: SkirtBought | None = None
    closings: tuple[ClosingBought, ...] = ()
    bottom: BottomCloth | None = None
    staples: int = 0


def bill_of_materials(takes: Takes, rates: Rates, units: Units) -> tuple[Material, ...]:
    """Return one line a material, in the order of the work, amounts rounded up in the workroom's units.

    Foam is bought by the sheet, staples by the box, all that comes off a roll by its length; a double welt has two
    cords. Source: trade rules of buying.
    """
    found = [Material(c.name, _length(c.length, units), c.cost, c.length, CLOTH) for c in takes.cloths]
    found += [_for_pads(thing, units) for thing in takes.pads]
    found += _on_old_pads(takes.on_old_pads, rates)
    if takes.buttons:
        found.append(
            Material(
                "buttons, covered, with twine", f"{takes.buttons}", rates.button * takes.buttons, takes.buttons, PIECES
            )
        )
    if takes.zips:
        words = f"{len(takes.zips)}, {_length(sum(takes.zips), units)}"
        found.append(Material("zips", words, _metres(sum(takes.zips)) * rates.zip_metre, sum(takes.zips), MM))
    found += [_trim(trim, rates, units) for trim in takes.trims]
    if takes.skirt:
        found.append(
            Material(
                f"skirt, of {takes.skirt.cloth}",
                _length(takes.skirt.run, units),
                takes.skirt.cost,
                takes.skirt.run,
                CLOTH,
            )
        )
        if takes.skirt.lining:
            lining = takes.skirt.lining
            found.append(
                Material(
                    "lining of the skirt", _length(lining, units), _metres(lining) * rates.lining_metre, lining, MM
                )
            )
    found += [_closing(thing, rates, units) for thing in takes.closings]
    if takes.bottom:
        run = bottom_run(takes.bottom, takes.furniture)
        found.append(Material("bottom cloth", _length(run, units), _metres(run) * rates.bottom_cloth_metre, run, MM))
    if takes.staples:
        boxes = boxes_for(takes.staples)
        words = f"{takes.staples}, {_counted(boxes, 'box', 'boxes')}"
        found.append(Material("staples", words, rates.staple_box * boxes, takes.staples, PIECES))
    return tuple(found)


def foam_sheets(area: float) -> int:
    """Return the sheets of foam that layers of so many mm2 take, with what cutting loses.

    >>> foam_sheets(1_800_000)
    2
    """
    return math.ceil(area * LOST_CUTTING_FOAM / (FOAM_SHEET[0] * FOAM_SHEET[1]))


def bottom_run(bottom: BottomCloth, count: int) -> float:
    """Return the mm of bottom cloth that `count` of them take, side by side across the roll.

    >>> bottom_run(BottomCloth((350, 350), (400, 400)), 4)
    800
    """
    across = max(1, int(BOTTOM_ROLL_WIDTH // bottom.cut[0]))
    return math.ceil(count / across) * bottom.cut[1]


def _for_pads(thing: Bought, units: Units) -> Material:
    cost = Decimal(str(round(thing.cost, 2)))
    if thing.unit == "mm":
        return Material(thing.what, _length(thing.amount, units), cost, thing.amount, MM)
    if thing.unit == "sheets":
        return Material(thing.what, _counted(int(thing.amount), "sheet", "sheets"), cost, thing.amount, SHEETS)
    return Material(thing.what, f"{thing.amount:.0f}", cost, thing.amount, PIECES)


def _on_old_pads(layers: Iterable[FoamOnOldPads], rates: Rates) -> list[Material]:
    areas: dict[float, float] = {}
    for layer in layers:
        areas[layer.thickness] = areas.get(layer.thickness, 0.0) + layer.area
    found = []
    for thickness, area in sorted(areas.items()):
        sheets = foam_sheets(area)
        what = f"foam, {thickness:.0f} mm, on the old pads"
        found.append(
            Material(what, _counted(sheets, "sheet", "sheets"), rates.foam(thickness) * sheets, sheets, SHEETS)
        )
    return found


def _trim(trim: TrimSum, rates: Rates, units: Units) -> Material:
    if trim.kind == "nails":
        boxes = boxes_of_nails(trim.nails)
        words = f"{trim.nails}, {_counted(boxes, 'box', 'boxes')}"
        return Material("decorative nails", words, rates.nail_box * boxes, trim.nails, PIECES)
    if trim.kind not in CORDS:
        return Material(
            KINDS[trim.kind], _length(trim.total, units), _metres(trim.total) * rates.gimp_metre, trim.total, MM
        )
    cords = CORDS[trim.kind]
    cost = _metres(trim.total) * (rates.cord_metre * cords)
    return Material("welt cord", _length(trim.total * cords, units), cost, trim.total * cords, MM)


def _closing(thing: ClosingBought, rates: Rates, units: Units) -> Material:
    """Strips by length; thread, glue and pins are sundries, named without a price."""
    if thing.unit != "mm":
        return Material(thing.what, f"{thing.amount:.0f}", Decimal(0), thing.amount, PIECES)
    price = rates.strip_metre if "strip" in thing.what else Decimal(0)
    return Material(thing.what, _length(thing.amount, units), _metres(thing.amount) * price, thing.amount, MM)


def _counted(count: int, one: str, more: str) -> str:
    return f"{count} {one if count == 1 else more}"


def _length(mm: float, units: Units) -> str:
    return format_length(mm, units, "cloth", up=True)


def _metres(mm: float) -> Decimal:
    return Decimal(str(round(mm / 1000, 3)))
