"""What a pad can be built of, as data: each sort of layer with its bounds, how it behaves and how it is bought.

Figures are the trade's usual ones and a start: what the seller states, or the hand on the furniture, overrules them.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from zonatome.core.errors import BadInput
from zonatome.core.survey.glue import Glue

Group = Literal["under", "springs", "hessian", "roll", "filling", "foam", "wadding", "old"]
Bought = Literal["strap", "spring", "roll goods", "edge", "sheet", "nothing"]
GROUP_ORDER: tuple[Group, ...] = ("under", "springs", "hessian", "roll", "old", "filling", "foam", "wadding")


@dataclass(frozen=True)
class Sort:
    """A sort of layer. Thickness in mm at rest, in the middle of the panel: usual, least, most.

    `gives` is the rule that says how much of it gives under the cover, empty for what does not; `spans` sorts are
    hung in an opening and need one; `reaches` sorts lie as thick at the edge as in the middle; `sits` sorts are soft
    enough to sit on. `bought` says in what it is sold, `price` by which rule, `cautions` what to
    take care of where it is used.
    """

    key: str
    name: str
    group: Group
    usual: float
    least: float
    most: float
    gives: str = ""
    spans: bool = False
    reaches: bool = True
    sits: bool = False
    bought: Bought = "roll goods"
    price: str = ""
    held: str = ""
    cautions: tuple[str, ...] = ()


_ROWS = (
    Sort("webbing", "webbing", "under", 2, 1, 5, spans=True, bought="strap", price="webbing_metre", held="stapled, its ends folded over"),
    Sort("elastic", "elastic webbing", "under", 2, 1, 5, spans=True, bought="strap", price="webbing_metre", held="stretched, stapled, its ends folded over"),
    Sort("sinuous", "sinuous springs", "springs", 32, 15, 60, spans=True, reaches=False, bought="spring", price="sinuous_spring", held="in clips, two each", cautions=("springs",)),
    Sort("coil", "coil springs", "springs", 110, 60, 250, spans=True, reaches=False, bought="spring", price="coil_spring", held="sewn to the webbing, lashed", cautions=("springs",)),
    Sort("hessian", "hessian", "hessian", 1, 0.5, 5, bought="roll goods", price="hessian_metre", held="stapled, its edge folded"),
    Sort("edge_roll", "edge roll", "roll", 20, 8, 50, reaches=False, bought="edge", price="edge_roll_metre", held="stapled along the edge"),
    Sort("coir", "coir", "filling", 25, 8, 80, gives="give_coir", sits=True, price="coir_metre", held="laid, bridled down"),
    Sort("cotton", "cotton", "filling", 20, 5, 80, gives="give_cotton", sits=True, price="cotton_metre", held="laid, not pulled"),
    Sort("foam", "foam", "foam", 40, 3, 300, gives="give", sits=True, bought="sheet", held="glued", cautions=("spray_glue", "foam_knife")),
    Sort("crown", "crown of foam", "foam", 20, 5, 100, gives="give", reaches=False, bought="sheet", held="glued under the foam", cautions=("spray_glue", "foam_knife")),
    Sort("wadding", "wadding", "wadding", 10, 3, 80, gives="give", price="wadding_metre", held="laid over, not glued under"),
    Sort("old_pad", "old pad", "old", 40, 3, 300, sits=True, bought="nothing", held="as it was", cautions=("foam_dust",)),
)  # fmt: skip
SURVEYED: dict[Group, str] = {"under": "support", "springs": "support", "hessian": "support"}  # else it is the filling
SORTS: dict[str, Sort] = {row.key: row for row in _ROWS}


@dataclass(frozen=True)
class FoamSort:
    """A foam as the seller states it: density in kg/m3, hardness in kPa at 40 % squeeze, what a sheet costs beside the
    usual.
    """

    key: str
    name: str
    density: float
    hardness: float
    dearer: float = 1.0


# The usual grades of upholstery foam, hardness as stated at 40 % squeeze: a start, the seller's own figures hold.
_FOAMS = (
    FoamSort("soft", "soft", 28, 2.5, 0.85),
    FoamSort("medium", "medium", 33, 3.8),
    FoamSort("firm", "firm", 38, 5.2, 1.15),
    FoamSort("very_firm", "very firm", 45, 7.0, 1.35),
)
FOAMS: dict[str, FoamSort] = {row.key: row for row in _FOAMS}


@dataclass(frozen=True)
class School:
    """A way to size foam beside what it lies on; `over` names the rule that says by how much, `sign` whether it stands
    out or in, `overall` whether that is said of the whole width rather than of each side.
    """

    key: str
    name: str
    over: str = ""
    sign: int = 1
    overall: bool = False
    adds_thickness: bool = False
    note: str = ""


_SCHOOLS = (
    School("flush", "flush with it", note="square to the edge"),
    School("over", "a little over it", "foam_over", note="so that the edge stays soft"),
    School("cushion", "to fill a sewn cushion", "foam_fills", overall=True, note="the finished size and a little more, so that it fills"),
    School("thin", "inside the seams", "foam_inside", sign=-1, note="a thin stitched panel"),
    School("rounded", "edge pulled over", adds_thickness=True, note="the top is pulled over and glued or stapled to the board"),
)  # fmt: skip
SCHOOLS: dict[str, School] = {row.key: row for row in _SCHOOLS}


_GLUES = (  # how long foam glue is left before it carries
    Glue("spray", "spray glue", minutes=10),
    Glue("contact", "contact glue, brushed", minutes=120),
    Glue("water", "water-based glue", minutes=720),
)
GLUES: dict[str, Glue] = {row.key: row for row in _GLUES}


def sort_named(key: str, *, at: str = "sort") -> Sort:
    """Return the sort of this key; BadInput names those there are."""
    if key not in SORTS:
        raise BadInput(at, key, "one of " + ", ".join(SORTS))
    return SORTS[key]
