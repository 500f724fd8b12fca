"""What a job needs at the bench, in the order of its steps: tools from what it is made of, then its materials.

The prices of tools are a start, for good plain ones; a workroom sets its own.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass, field
from decimal import Decimal

from zonatome.core.errors import BadInput

PULLED = ("staples", "tacks", "nails", "tack strip", "card strip", "gripper strip")  # fixings that are pulled
THIN, MIDDLE = 0.8, 1.4  # mm: cloth up to so thick takes the finer needles
FEW_STEPS = ("survey", "strip", "trace", "lay", "pad", "fasten", "trim", "finish")


@dataclass(frozen=True)
class Tool:
    """Something that lies at the bench and is used again: its step, what it is called, what it costs about."""

    key: str
    step: str
    words: str
    price: Decimal


def _tool(key: str, step: str, words: str, price: str) -> Tool:
    return Tool(key, step, words, Decimal(price))


_ROWS = (
    _tool("torch", "survey", "torch and a thin probe", "12"),
    _tool("tape", "survey", "tape measure, chalk, pencil", "9"),
    _tool("mask", "strip", "dust mask, glasses, gloves, bags", "18"),
    _tool("lifter", "strip", "staple lifter and side cutters", "24"),
    _tool("mallet", "strip", "ripping chisel and mallet", "26"),
    _tool("ripper", "strip", "seam ripper", "4"),
    _tool("drivers", "strip", "screwdrivers and spanners", "25"),
    _tool("camera", "strip", "camera or phone", "0"),
    _tool("labels", "strip", "bags and tags for what is small", "6"),
    _tool("markers", "trace", "the four printed markers and a plain floor", "0"),
    _tool("iron", "trace", "iron, to lay an old cover flat", "30"),
    _tool("rule", "lay", "long straight rule and set square", "28"),
    _tool("shears", "lay", "shears", "38"),
    _tool("weights", "lay", "weights, so that nothing slips", "10"),
    _tool("foam_blade", "pad", "long foam blade", "22"),
    _tool("spreader", "pad", "mask and gloves for glue, a board under it", "12"),
    _tool("stretcher", "pad", "webbing stretcher", "26"),
    _tool("spring_pliers", "pad", "spring pliers", "24"),
    _tool("regulator", "pad", "regulator", "11"),
    _tool("stapler", "fasten", "air stapler with its compressor", "220"),
    _tool("machine", "fasten", "sewing machine that takes upholstery thread", "450"),
    _tool("welt_foot", "fasten", "welt foot", "14"),
    _tool("zip_foot", "fasten", "zip foot", "9"),
    _tool("curved", "fasten", "curved needles, skewers", "9"),
    _tool("button_needle", "fasten", "double-pointed long needle", "13"),
    _tool("button_press", "fasten", "button press with its dies", "60"),
    _tool("soft_hammer", "fasten", "soft hammer and scrap cloth", "21"),
    _tool("tucker", "fasten", "blunt blade for tucking", "7"),
    _tool("glue_gun", "trim", "hot glue gun and a stick to press", "22"),
    _tool("nail_hammer", "trim", "nylon-tipped hammer and a spacing strip", "29"),
    _tool("brushes", "finish", "brushes, tack cloth, paper in the grits", "24"),
    _tool("masking", "finish", "masking tape and paper", "8"),
)
TOOLS: dict[str, Tool] = {row.key: row for row in _ROWS}


@dataclass(frozen=True)
class Needs:
    """What a job is made of, as far as it asks for tools.

    `held` are the fixings found or usual; `works` the keys of sorts of work that it has; `legs` how many staples of
    each leg in mm, nothing under 0 where none is chosen yet; `thickness` of its cloth in mm; `cord` of its welt.
    """

    held: Collection[str] = ()
    works: Collection[str] = ()
    closings: Collection[str] = ()
    legs: Mapping[float, int] = field(default_factory=dict)
    trims: Collection[str] = ()
    thickness: float | None = None
    is_leathery: bool = False
    cord: float | None = None
    has_covers: bool = True  # something is traced and cut
    has_coats: bool = False
    grits: tuple[int, ...] = ()
    is_masked: bool = False


@dataclass(frozen=True)
class Gathered:
    """One thing to lay out: its step, key, what it is, what is to be known of it; its price where it is a tool."""

    step: str
    key: str
    words: str
    detail: str = ""
    price: Decimal | None = None


def tools_for(needs: Needs) -> tuple[Gathered, ...]:
    """Return the tools that a job takes, in the order of its steps, each with what it must be for this job."""
    wanted: dict[str, str] = {"torch": "", "tape": ""}
    wanted |= _to_strip(needs)
    if needs.has_covers:
        wanted |= {"markers": "", "iron": "", "rule": "", "shears": "", "weights": ""}
    wanted |= _to_pad(needs)
    wanted |= _to_put_on(needs)
    wanted |= _to_trim(needs)
    if needs.has_coats:
        wanted["brushes"] = ", ".join(str(grit) for grit in needs.grits)
    if needs.is_masked:
        wanted["masking"] = ""
    return tuple(Gathered(t.step, t.key, t.words, wanted[t.key], t.price) for t in _ROWS if t.key in wanted)


def _to_strip(needs: Needs) -> dict[str, str]:
    held = set(needs.held)
    wanted = {"mask": "", "camera": "", "labels": ""}
    pulled = [fixing for fixing in PULLED if any(fixing.rstrip("s") in way for way in held)]
    if pulled:
        wanted["lifter"] = "for " + ", ".join(pulled)
    if any("tack" in way or "nail" in way for way in held):
        wanted["mallet"] = ""
    if any(way in held for way in ("sewn", "stitching", "machine seam", "hand stitches", "hems")):
        wanted["ripper"] = ""
    if any(way in held for way in ("screws", "bolts")):
        wanted["drivers"] = ""
    return wanted


def _to_pad(needs: Needs) -> dict[str, str]:
    works = set(needs.works)
    wanted = {}
    if "foam_cut" in works:
        wanted["foam_blade"] = ""
    if "foam_glued" in works:
        wanted["spreader"] = ""
    if "strap" in works:
        wanted["stretcher"] = ""
    if works & {"sinuous", "coil"}:
        wanted["spring_pliers"] = ""
    if works & {"coil", "edge_roll", "hessian"}:
        wanted["regulator"] = ""
    return wanted


def _to_put_on(needs: Needs) -> dict[str, str]:
    works, wanted = set(needs.works), {}
    legs = [f"{leg:.0f} mm legs, about {count}" for leg, count in sorted(needs.legs.items()) if leg > 0 and count]
    unknown = sum(count for leg, count in needs.legs.items() if leg <= 0)
    if unknown:
        legs.append(f"the leg of about {unknown} is not known yet: measure the rail")
    if legs:
        wanted["stapler"] = "; ".join(legs)
    if works & {"seam", "seam_metre", "welt_made", "welt_sewn", "zip"}:
        wanted["machine"] = needle_words(needs.thickness, is_leathery=needs.is_leathery)
    if works & {"welt_made", "welt_sewn"}:
        wanted["welt_foot"] = f"for a cord of {needs.cord:.0f} mm" if needs.cord else ""
    if "zip" in works:
        wanted["zip_foot"] = ""
    if "ladder" in needs.closings or works & {"facing", "edge_roll", "coil"}:
        wanted["curved"] = ""
    if "button" in works:
        wanted |= {"button_needle": "longer than the pad is thick", "button_press": ""}
    if set(needs.closings) & {"tack_strip", "gripper_strip"}:
        wanted["soft_hammer"] = ""
    if "gripper_strip" in needs.closings or "glued" in needs.closings:
        wanted["tucker"] = ""
    return wanted


def _to_trim(needs: Needs) -> dict[str, str]:
    wanted = {}
    if set(needs.trims) & {"gimp", "cord", "fringe", "double_welt"}:
        wanted["glue_gun"] = ""
    if "nails" in needs.trims:
        wanted["nail_hammer"] = ""
    return wanted


MADE_OF = {"pad": ("foam", "wadding", "webbing", "hessian", "spring", "twine", "edge roll", "coir", "cotton", "hair"),
           "fasten": ("buttons", "zips", "strip", "pins", "glue", "waxed", "staples"),
           "trim": ("welt", "gimp", "cord", "fringe", "nails", "skirt", "bottom")}  # fmt: skip


def step_of_material(what: str) -> str:
    """Return the step at which a line of the bill of materials is first wanted; cloth, by whatever name, is cut.

    >>> step_of_material("wadding, 10 mm"), step_of_material("Skerry, slate")
    ('pad', 'lay')
    """
    words = what.lower()
    return next((step for step, things in MADE_OF.items() if any(thing in words for thing in things)), "lay")


def needle_words(thickness: float | None, *, is_leathery: bool = False) -> str:
    """Return the needle for a cloth of so many mm, as a start that is tried on scrap: four layers meet in a welted
    seam. Sizes are metric, the older number beside.

    >>> needle_words(1.0)
    'needle 100 (16), strong polyester thread; try it on scrap'
    """
    if thickness is None:
        return "strong polyester thread; the needle follows from the cloth"
    size = "90 (14)" if thickness <= THIN else "100 (16)" if thickness <= MIDDLE else "110 (18)"
    point = ", cutting point" if is_leathery else ""
    return f"needle {size}{point}, strong polyester thread; try it on scrap"


@dataclass(frozen=True)
class ToBuy:
    """What a first-timer would have to buy: tools that are not there, what they cost together."""

    tools: tuple[Gathered, ...]
    cost: Decimal


def to_buy(gathered: Iterable[Gathered], owned: Collection[str], prices: Mapping[str, Decimal] | None = None) -> ToBuy:
    """Return the tools among what is gathered that this workroom does not own, at its own prices where it has some;
    without what costs nothing.
    """
    missing = tuple(one for one in gathered if one.price and one.key not in owned)
    known = prices or {}
    return ToBuy(missing, sum((known.get(one.key, one.price or Decimal(0)) for one in missing), Decimal(0)))


@dataclass(frozen=True)
class Worth:
    """Whether it is worth it: what the piece costs in all beside buying new; `tools` is this piece's share of them."""

    asked: Decimal
    old_piece: Decimal
    tools: Decimal
    new: Decimal

    @property
    def in_all(self) -> Decimal:
        """What it comes to."""
        return self.asked + self.old_piece + self.tools

    @property
    def saves(self) -> Decimal:
        """What is saved against new; negative where it costs more."""
        return self.new - self.in_all


def worth_it(*, asked: Decimal, old_piece: Decimal, tools: Decimal, spread: int, new: Decimal) -> Worth:
    """Return what a job comes to when the old piece and a share of the tools bought for it are counted too.

    The tools serve `spread` jobs, this one among them. Raises BadInput for fewer than one.
    """
    if spread < 1:
        raise BadInput("spread", spread, "at least this job")
    return Worth(asked, old_piece, (tools / spread).quantize(Decimal("0.01")), new)
