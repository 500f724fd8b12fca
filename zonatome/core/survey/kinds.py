"""The kinds of furniture as data: panels in their own frames, seams, what lies under what, how it is held.

Makers differ, and any job may differ too; these are the usual ways. Measures are usual ones in mm, across x up as one
looks at a panel's face with its up upward. Of a pair only the sitter's left is written; the right is its mirror image.
Edges are held as a row of letters says, top, right, bottom, left: see `LETTERS`.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Any

from zonatome.core.errors import BadInput
from zonatome.core.survey.kind import (
    ACROSS,
    RUN,
    SIDES,
    ButtonGrid,
    Kind,
    Meeting,
    Part,
    Variant,
    held_by_seams,
)

LETTERS = {
    "U": "stapled_under", "T": "tucked", "F": "fly", "C": "card_strip", "K": "tack_strip", "G": "gripper_strip", "R": "raw_under_trim",
    "B": "turned_under", "H": "cord_hem", "S": "sewn",
}  # fmt: skip
SEAM = "-"  # in a row of letters: this edge is a seam, which says how it is held
ZIP_ROUND = 90.0  # mm that a cushion's zip runs on round each back corner: 75 to 100


def held(letters: str) -> dict[str, str]:
    """Return the joins that a row of letters says: top, right, bottom, left, or one letter for a disc; a parted side as
    `TU`.
    """
    sides: dict[str, str] = {}
    rows = letters.split()
    if len(rows) == 1:
        return {"round": LETTERS[rows[0]]} if rows[0] != SEAM else {}
    for side, row in zip(SIDES, rows, strict=True):
        for n, letter in enumerate(row):
            if letter != SEAM:
                sides[f"{side}.{n + 1}" if len(row) > 1 else side] = LETTERS[letter]
    return {edge: sides[edge] for side in RUN for edge in sides if edge.partition(".")[0] == side}


def _panel(key: str, name: str, short: str, width: float, height: float, letters: str, **rest: Any) -> Part:
    """A panel of the cover; what is drawn against a side lies there with the side across, where nothing else is
    said.
    """
    if "on" in rest and "by" not in rest:
        rest["by"] = ACROSS[rest.get("side", "top")]
    return Part(key, name, short, width=width, height=height, joins=held(letters), **rest)


def _pair(
    key: str, name: str, short: str, width: float, height: float, letters: str, *, mirror_on: bool = False, **rest: Any
) -> tuple[Part, Part]:
    """A pair, as the sitter's left is written; with `mirror_on` each is drawn on the part of its own hand."""
    on = rest.pop("on")
    left = _panel(f"{key}_left", f"{name}, left", f"{short} L", width, height, letters, on=f"{on}_left" if mirror_on else on,
                  mirror=f"{key}_right", **rest)  # fmt: skip
    right = replace(left.mirror_image, key=f"{key}_right", name=f"{name}, right", short=f"{short} R", mirror=left.key,
                    on=f"{on}_right" if mirror_on else on)  # fmt: skip
    return left, right


def _bottom(width: float, height: float, on: str, form: str = "four-sided") -> Part:
    joins = held("B") if form == "disc" else held("B B B B")
    return Part(
        "bottom_cloth", "Bottom cloth", "bottom", "bottom cloth", width, height, on, "bottom", "top", held=("staples",), stands=False,
        joins=joins, form="disc" if form == "disc" else "four-sided",
    )  # fmt: skip


def _screws(name: str = "Seat screws") -> Part:
    return Part("screws", name, "screws", "hardware", held=("screws",))


def _hands(key: str) -> str:
    """The key of the same panel on the other side of the sitter."""
    if key.endswith("_left"):
        return key[:-5] + "_right"
    return key[:-6] + "_left" if key.endswith("_right") else key


def seams(parts: Iterable[Part], *rows: str, join: str = "sewn", first: str = "right") -> tuple[Meeting, ...]:
    """Return seams written `panel.edge panel.edge`, with a span in mm behind where both edges go on beyond it.

    Each row stands for itself and for its mirror image, where that is another. The order is the one in which the seams
    lie along the edges: rows of the left in the order written, those of the right turned round, and `first` says whose
    come first, with what lies in the middle between."""
    by_key = {p.key: p for p in parts}
    lefts, middles, rights = list[Meeting](), list[Meeting](), list[Meeting]()
    for row in rows:
        one, other, *span = row.split()
        (a, a_edge), (b, b_edge) = (end.split(".", 1) for end in (one, other))
        mine = Meeting(a, a_edge, b, b_edge, join, float(span[0]) if span else None)
        theirs = Meeting(
            _hands(a), by_key[a].mirrored_edge(a_edge), _hands(b), by_key[b].mirrored_edge(b_edge), join, mine.span
        )
        if set(mine.ends) == set(theirs.ends):
            middles.append(mine)
        else:
            lefts.append(mine)
            rights.insert(0, theirs)
    return (*rights, *middles, *lefts) if first == "right" else (*lefts, *middles, *rights)


def _made(kind: Kind, *groups: tuple[Meeting, ...]) -> Kind:
    """A kind with its seams, and the joins of their edges read from them."""
    return held_by_seams(replace(kind, meets=tuple(m for group in groups for m in group)))


def _cushion(width: float, depth: float, height: float) -> tuple[Part, ...]:
    """The panels of a box cushion: faces, one boxing of front and both sides, the zip strip's halves round both back
    corners.
    """
    half = {"held": ("loose",), "on": "cushion_top", "side": "top"}
    return (
        _panel("cushion_top", "Cushion top", "cushion", width, depth, "- - - -", stands=False, centred=True, held=("loose",)),
        _panel("cushion_boxing", "Cushion boxing", "boxing", width + 2 * (depth - ZIP_ROUND), height, "- - - -", on="cushion_top",
               side="bottom", held=("loose",)),
        _panel("cushion_zip_upper", "Cushion zip strip, upper half", "zip", width + 2 * ZIP_ROUND, height / 2, "- - - -", **half, by="top"),
        _panel("cushion_zip_lower", "Cushion zip strip, lower half", "zip", width + 2 * ZIP_ROUND, height / 2, "- - - -",
               held=("loose",), on="cushion_zip_upper", side="bottom"),
        _panel("cushion_bottom", "Cushion bottom", "cu. bottom", width, depth, "- - - -", stands=False, centred=True, held=("loose",)),
    )  # fmt: skip


CUSHION = ("cushion_top", "cushion_boxing", "cushion_zip_upper", "cushion_zip_lower", "cushion_bottom")


def cushion_seams(top: str, boxing: str, upper: str, lower: str, bottom: str) -> tuple[Meeting, ...]:
    """Return the seams of a box cushion whose panels have these keys, in the order in which they lie along every edge.

    The sitter's left is on the top's right, and on the left of the bottom's face, which looks down. The zip strip's
    halves run on for ZIP_ROUND mm round both back corners, where the boxing takes over."""
    rows: tuple[tuple[str, str, str, str, float | None], ...] = (
        (boxing, "top", top, "right", None), (boxing, "top", top, "bottom", None), (upper, "top", top, "left", ZIP_ROUND),
        (upper, "top", top, "top", None), (upper, "top", top, "right", ZIP_ROUND), (boxing, "top", top, "left", None),
        (boxing, "bottom", bottom, "right", None), (boxing, "bottom", bottom, "bottom", None),
        (lower, "bottom", bottom, "left", ZIP_ROUND), (lower, "bottom", bottom, "top", None),
        (lower, "bottom", bottom, "right", ZIP_ROUND), (boxing, "bottom", bottom, "left", None),
        (boxing, "right", lower, "left", None), (boxing, "right", upper, "left", None),
        (boxing, "left", upper, "right", None), (boxing, "left", lower, "right", None),
    )  # fmt: skip
    sewn = (Meeting(one, edge, other, far, "sewn", span) for one, edge, other, far, span in rows)
    return (*sewn, Meeting(upper, "bottom", lower, "top", "zip"))


BACK_PARTS = (
    _panel("inside_back", "Inside back", "in. back", 400, 330, "R R R R", on="seat", side="top", far=0.94, centred=True,
           held=("staples in the rebate",)),
    _panel("outside_back", "Outside back", "out. back", 400, 330, "R R R R", on="inside_back", side="top", by="top", centred=True,
           held=("staples in the rebate",)),
    Part("back_welt", "Double welt round the back", "back welt", "trim", held=("glue", "staples")),
)  # fmt: skip

DROP_IN = Kind(
    "drop_in",
    "Drop-in seat chair",
    (
        _panel("seat", "Seat", "seat", 460, 420, "U U U U", stands=False, far=0.88, held=("staples",), padded=True, centred=True),
        _bottom(400, 360, "seat"),
        _screws(),
    ),
    (("seat", "bottom_cloth"), ("bottom_cloth", "screws")),
    ("board or webbing", "foam", "wadding", "cover"),
    screws=4,
    new_price=95,
    variants=(
        Variant("recessed_back", "A padded back too, its outside put in first from the front", parts=BACK_PARTS,
                over=(("outside_back", "inside_back"), ("inside_back", "back_welt")),
                layers=("back: outside back, webbing, hessian, foam, inside back",), instead_of=("closed_back",)),
        Variant("closed_back", "A padded back too, closed from behind last", instead_of=("recessed_back",),
                parts=(*BACK_PARTS, Part("rear_welt", "Trim round the outside back", "rear trim", "trim", held=("glue",))),
                over=(("inside_back", "back_welt"), ("back_welt", "outside_back"), ("outside_back", "rear_welt"))),
    ),
)  # fmt: skip

_SIDE_CHAIR = Kind(
    "side_chair",
    "Fully covered side chair",
    (
        _panel("seat", "Seat", "seat", 480, 640, "- - U -", stands=False, width_above=420, far=0.875, held=("sewn", "staples"), padded=True,
               centred=True),
        _panel("inside_back", "Inside back", "in. back", 420, 560, "- - - -", width_above=410, on="seat", side="top", far=0.976,
               held=("sewn",), centred=True),
        _panel("outside_back", "Outside back", "out. back", 410, 750, "- - U -", on="inside_back", side="top", by="top",
               held=("sewn", "staples"), centred=True),
        *_pair("side", "Side", "side", 450, 190, "- - U -", on="seat", side="right", by="top", far=0.9, held=("sewn", "staples")),
        _bottom(420, 400, "seat"),
        Part("flies", "Flies, seat and back", "flies", "trim", held=("staples",)),
    ),
    (("seat", "flies"), ("inside_back", "flies"), ("flies", "bottom_cloth"), ("seat", "bottom_cloth"), ("outside_back", "bottom_cloth")),
    ("webbing or springs", "hessian", "foam", "wadding", "cover"),
    needs=("sewing machine",),
    new_price=180,
    together=(("seat", "inside_back", "outside_back", "side_left", "side_right"),),
    variants=(
        Variant("two_shells", "Two shells, each closed by itself, bolted together last",
                lacks=("side_left", "side_right", "flies"),
                becomes={"seat": {"height": 470, "width_above": None, "joins": held("U U U U"), "held": ("staples",)},
                         "inside_back": {"width_above": None, "joins": held("- - U -")},
                         "outside_back": {"width": 420, "height": 560}},
                parts=(
                    *_pair("band", "Side band", "band", 90, 560, "B - U -", on="inside_back", side="right", held=("sewn",)),
                    Part("bolts", "Shell bolts", "bolts", "hardware", held=("bolts",)),
                ),
                not_over=(("outside_back", "bottom_cloth"),),
                over=(("outside_back", "bolts"), ("bottom_cloth", "bolts")),
                apart=("seat", "inside_back", "outside_back"),
                together=(("inside_back", "outside_back", "band_left", "band_right"),)),
    ),
)  # fmt: skip
_BANDS = (*_SIDE_CHAIR.parts, *_SIDE_CHAIR.variants[0].parts)

SHOW_WOOD = Kind(
    "show_wood",
    "Show-wood armchair",
    (
        _panel("seat", "Seat", "seat", 560, 540, "R R R R", stands=False, far=0.86, held=("staples in the rebate",), padded=True, centred=True),
        _panel("inside_back", "Inside back", "in. back", 480, 440, "R R R R", on="seat", side="top", far=0.94, centred=True,
               held=("staples in the rebate",)),
        _panel("outside_back", "Outside back", "out. back", 480, 440, "R R R R", on="inside_back", side="top", by="top", centred=True,
               held=("staples in the rebate",)),
        *_pair("arm_pad", "Arm pad", "pad", 110, 280, "R R R R", on="seat", side="right", stands=False, far=0.9,
               held=("staples in the rebate",)),
        _bottom(500, 480, "seat"),
        Part("trim", "Gimp or double welt", "trim", "trim", held=("glue",)),
    ),
    (
        ("inside_back", "seat"), ("seat", "outside_back"), ("outside_back", "trim"), ("arm_pad_left", "trim"), ("arm_pad_right", "trim"),
        ("seat", "bottom_cloth"),
    ),
    ("webbing", "springs", "hessian", "coir or foam", "wadding", "cover"),
    new_price=420,
    variants=(Variant("no_arm_pads", "Arms bare, without pads", lacks=("arm_pad_left", "arm_pad_right")),),
)  # fmt: skip

_PULLED_OVER = Variant(
    "no_cushion", "Seat pulled over, no loose cushion", lacks=(*CUSHION, "front_band"),
    becomes={"seat": {"name": "Seat", "height": 740, "deck": False, "centred": True, "joins": {"bottom": "stapled_under"}}},
    over=(("seat", "bottom_cloth"),),
)  # fmt: skip
_PLATFORM = (
    _panel(
        "seat",
        "Seat platform",
        "seat",
        540,
        540,
        "F T - T",
        stands=False,
        far=0.94,
        held=("staples",),
        padded=True,
        deck=True,
    ),
    _panel("front_band", "Front band", "band", 540, 190, "- U U U", on="seat", side="bottom", held=("sewn", "staples")),
)

_ARMCHAIR = Kind(
    "armchair",
    "Padded armchair or tub",
    (
        _PLATFORM[0],
        _panel("inside_back", "Inside back", "in. back", 500, 520, "U U T U", on="seat", side="top", held=("staples",), centred=True),
        _panel("outside_back", "Outside back", "out. back", 520, 560, "C K U K", on="inside_back", side="top", by="top",
               held=("card strip", "tack strip", "staples"), centred=True),
        *_pair("inside_arm", "Inside arm", "in. arm", 500, 340, "U U T T", on="seat", side="right", by="bottom", held=("staples",)),
        *_pair("outside_arm", "Outside arm", "out. arm", 480, 300, "C U U U", on="inside_arm", side="top", by="top", mirror_on=True, far=0.96,
               held=("card strip", "staples")),
        *_pair("facing", "Arm facing", "facing", 160, 300, "U U U U", on="inside_arm", side="right", by="top", mirror_on=True, far=0.8,
               held=("pins", "glue"), padded=True),
        _PLATFORM[1],
        *_cushion(540, 540, 110),
        _bottom(520, 500, "outside_back"),
        Part("facing_welt", "Welts round the facings", "welts", "trim", held=("staples",)),
        Part("feet", "Feet", "feet", "hardware", held=("screws",)),
    ),
    (
        ("seat", "inside_arm_left"), ("seat", "inside_arm_right"), ("inside_arm_left", "inside_back"), ("inside_arm_right", "inside_back"),
        ("front_band", "facing_welt"), ("inside_back", "facing_welt"), ("inside_arm_left", "facing_welt"), ("inside_arm_right", "facing_welt"),
        ("facing_welt", "facing_left"), ("facing_welt", "facing_right"), ("facing_left", "outside_arm_left"),
        ("facing_right", "outside_arm_right"), ("outside_arm_left", "outside_back"), ("outside_arm_right", "outside_back"),
        ("outside_back", "bottom_cloth"), ("front_band", "bottom_cloth"), ("bottom_cloth", "feet"), ("seat", "cushion_top"),
    ),
    ("webbing", "springs", "hessian", "edge roll", "foam", "wadding", "cover"),
    needs=("sewing machine",),
    new_price=780,
    together=(("seat", "front_band"), CUSHION),
    variants=(
        Variant("pleated_fronts", "Arm fronts pleated from the inside arm, without facings",
                lacks=("facing_left", "facing_right", "facing_welt"),
                becomes={"outside_arm_left": {"joins": {"left": "tack_strip"}}, "outside_arm_right": {"joins": {"right": "tack_strip"}}},
                over=(("inside_arm_left", "outside_arm_left"), ("inside_arm_right", "outside_arm_right"),
                      ("inside_back", "outside_arm_left"), ("inside_back", "outside_arm_right"))),
        _PULLED_OVER,
        Variant("no_arms", "Without arms", lacks=("inside_arm_left", "inside_arm_right", "outside_arm_left", "outside_arm_right",
                                                "facing_left", "facing_right", "facing_welt"),
                becomes={"seat": {"joins": {"right": "stapled_under", "left": "stapled_under"}}},
                over=(("seat", "inside_back"), ("inside_back", "outside_back"), ("seat", "bottom_cloth")), instead_of=("pleated_fronts",)),
    ),
)  # fmt: skip

_HALL = Kind(
    "hall",
    "Tall hall chair, buttoned",
    (
        _panel("seat", "Seat", "seat", 580, 440, "- R R R", stands=False, width_above=540, far=0.93, held=("staples",), padded=True, centred=True),
        _panel("seat_deck", "Deck cloth behind the seat", "deck", 540, 160, "U U - U", stands=False, on="seat", side="top",
               held=("sewn", "staples"), deck=True),
        _panel("inside_back", "Inside back", "in. back", 520, 860, "R R R R", on="seat_deck", side="top", far=0.9, held=("staples",),
               centred=True, buttons=ButtonGrid(4, 3, 130, 160, 35)),
        _panel("outside_back", "Outside back", "out. back", 520, 860, "R R R R", on="inside_back", side="top", by="top", held=("staples",),
               centred=True),
        *_pair("arm_pad", "Arm pad", "pad", 110, 300, "U U U U", on="seat", side="right", stands=False, far=0.9, held=("staples",), padded=True),
        _bottom(520, 480, "seat"),
        Part("buttons", "Buttons, with twine and slip knots", "buttons", "trim", held=("twine",)),
        Part("arm_screws", "Arm pad screws", "screws", "hardware", held=("screws",)),
        Part("welt", "Double welts", "welt", "trim", held=("glue",)),
    ),
    (
        ("inside_back", "buttons"), ("buttons", "outside_back"), ("outside_back", "welt"), ("seat", "welt"),
        ("arm_pad_left", "arm_screws"), ("arm_pad_right", "arm_screws"), ("seat", "bottom_cloth"),
    ),
    ("webbing", "springs", "hessian", "edge roll", "coir", "foam", "cotton", "wadding", "cover"),
    needs=("sewing machine",),
    screws=4,
    new_price=860,
    together=(("seat", "seat_deck"),),
    variants=(
        Variant("plain_back", "Back not buttoned", lacks=("buttons",), becomes={"inside_back": {"buttons": None}}),
        Variant("no_arm_pads", "Arms bare, without pads", lacks=("arm_pad_left", "arm_pad_right", "arm_screws")),
    ),
)  # fmt: skip

_WING = Kind(
    "wing",
    "Wing chair",
    (
        _PLATFORM[0],
        _panel("inside_back", "Inside back", "in. back", 500, 720, "U T- T -T", parted={"right": (300, 420), "left": (420, 300)}, on="seat",
               side="top", held=("sewn", "staples"), centred=True),
        # as tall as what its sides close over: an outside arm of 300 and an outside wing of 400
        _panel("outside_back", "Outside back", "out. back", 520, 700, "C K U K", on="inside_back", side="top", by="top",
               held=("card strip", "tack strip", "staples"), centred=True),
        *_pair("inside_wing", "Inside wing", "in. wing", 240, 420, "U U C -", on="inside_back", side="right", far=0.72,
               held=("sewn", "staples", "card strip")),
        *_pair("outside_wing", "Outside wing", "out. wing", 190, 400, "G U U G", on="inside_wing", side="right", by="left", mirror_on=True,
               far=0.9, held=("gripper strip", "staples")),
        *_pair("inside_arm", "Inside arm", "in. arm", 500, 360, "U U T T", on="seat", side="right", by="bottom", held=("staples",)),
        *_pair("outside_arm", "Outside arm", "out. arm", 500, 300, "C U U K", on="inside_arm", side="top", by="top", mirror_on=True, far=0.96,
               held=("card strip", "tack strip", "staples")),
        *_pair("arm_front", "Arm front", "facing", 160, 300, "U U U U", on="inside_arm", side="right", by="top", mirror_on=True, far=0.7,
               held=("pins", "glue"), padded=True),
        _PLATFORM[1],
        *_cushion(540, 540, 110),
        _bottom(520, 500, "outside_back"),
        Part("wing_welt", "Wing welts", "wing welt", "trim", held=("staples",)),
        Part("back_welt", "Back welt", "back welt", "trim", held=("staples",)),
        Part("feet", "Feet", "feet", "hardware", held=("screws",)),
    ),
    (
        ("front_band", "arm_front_left"), ("front_band", "arm_front_right"),
        ("arm_front_left", "inside_arm_left"), ("arm_front_right", "inside_arm_right"),
        ("inside_arm_left", "inside_wing_left"), ("inside_arm_right", "inside_wing_right"),
        ("inside_wing_left", "inside_back"), ("inside_wing_right", "inside_back"),
        ("inside_back", "wing_welt"), ("wing_welt", "outside_wing_left"), ("wing_welt", "outside_wing_right"),
        ("outside_wing_left", "outside_arm_left"), ("outside_wing_right", "outside_arm_right"),
        ("outside_arm_left", "back_welt"), ("outside_arm_right", "back_welt"), ("back_welt", "outside_back"),
        ("outside_back", "bottom_cloth"), ("front_band", "bottom_cloth"), ("bottom_cloth", "feet"), ("seat", "cushion_top"),
    ),
    ("webbing", "springs", "hessian", "edge roll", "foam", "cotton", "wadding", "cover"),
    needs=("sewing machine",),
    new_price=1150,
    together=(("seat", "front_band"), CUSHION),
    variants=(
        Variant("back_before_wings", "Inside wings put on after the inside back",
                not_over=(("inside_wing_left", "inside_back"), ("inside_wing_right", "inside_back")),
                over=(("inside_back", "inside_wing_left"), ("inside_back", "inside_wing_right"), ("inside_wing_left", "wing_welt"),
                      ("inside_wing_right", "wing_welt"))),
        Variant("facings_after_arms", "Arm fronts put on after the inside arms",
                not_over=(("arm_front_left", "inside_arm_left"), ("arm_front_right", "inside_arm_right")),
                over=(("inside_arm_left", "arm_front_left"), ("inside_arm_right", "arm_front_right"), ("arm_front_left", "outside_arm_left"),
                      ("arm_front_right", "outside_arm_right"))),
        replace(_PULLED_OVER, over=(("seat", "bottom_cloth"), ("seat", "arm_front_left"), ("seat", "arm_front_right"))),
        Variant("no_wings", "Without wings", lacks=("inside_wing_left", "inside_wing_right", "outside_wing_left", "outside_wing_right", "wing_welt"),
                becomes={"inside_back": {"joins": {"right.2": "stapled_under", "left.1": "stapled_under"}}},
                instead_of=("back_before_wings",)),
        Variant("recessed_back", "Outside back put in first, from the front",
                not_over=(("back_welt", "outside_back"), ("outside_back", "bottom_cloth")),
                over=(("outside_back", "inside_back"), ("inside_back", "bottom_cloth"))),
    ),
)  # fmt: skip

_STOOL_BOXING = _panel(
    "boxing", "Boxing", "boxing", 1131, 60, "- - U -", on="top", side="bottom", held=("sewn", "staples")
)
ROUND_STOOL = Kind(
    "round_stool",
    "Round stool",
    (
        _panel("top", "Top", "top", 360, 360, "U", form="disc", stands=False, held=("staples",), padded=True, centred=True),
        _bottom(320, 320, "top", "disc"),
        _screws(),
    ),
    (("top", "bottom_cloth"), ("bottom_cloth", "screws")),
    ("board", "foam", "wadding", "cover"),
    screws=4,
    new_price=60,
    variants=(
        Variant("boxed", "Top with boxing round it and a welt between",
                parts=(_STOOL_BOXING, Part("welt", "Welt between top and boxing", "welt", "trim", held=("sewn",))),
                becomes={"top": {"held": ("sewn",)}},
                meets=(Meeting("top", "round", "boxing", "top", "sewn"), Meeting("boxing", "right", "boxing", "left", "sewn")),
                over=(("top", "welt"), ("boxing", "welt"), ("boxing", "bottom_cloth"), ("welt", "bottom_cloth")), together=(("top", "boxing"),)),
    ),
)  # fmt: skip

SQUARE_STOOL = Kind(
    "square_stool",
    "Square or bar stool",
    (
        _panel("seat", "Seat", "seat", 370, 370, "U U U U", stands=False, held=("staples",), padded=True, centred=True),
        _bottom(330, 330, "seat"),
        _screws(),
    ),
    (("seat", "bottom_cloth"), ("bottom_cloth", "screws")),
    ("board", "foam", "wadding", "cover"),
    screws=4,
    new_price=75,
    variants=(Variant("no_bottom", "Without a bottom cloth", lacks=("bottom_cloth",)),),
)

_SKIRT = (
    _panel(
        "skirt_front", "Skirt, front", "skirt", 560, 150, "S - B -", on="front", side="bottom", held=("sewn", "staples")
    ),
    _panel(
        "skirt_back",
        "Skirt, back",
        "skirt",
        560,
        150,
        "S - B -",
        on="back",
        side="bottom",
        by="top",
        held=("sewn", "staples"),
    ),
    *_pair(
        "skirt_end",
        "Skirt, end",
        "skirt",
        460,
        150,
        "S - B -",
        on="end",
        side="bottom",
        by="top",
        mirror_on=True,
        held=("sewn", "staples"),
    ),
)
_OTTOMAN = Kind(
    "ottoman",
    "Ottoman",
    (
        _panel("top", "Top", "top", 560, 460, "- - - -", stands=False, held=("sewn",), padded=True, centred=True),
        _panel("front", "Front side", "front", 560, 260, "- - U -", on="top", side="bottom", held=("sewn", "staples")),
        _panel("back", "Back side", "back", 560, 260, "- - U -", on="top", side="top", by="top", held=("sewn", "staples")),
        *_pair("end", "End", "end", 460, 260, "- - U -", on="top", side="right", by="top", held=("sewn", "staples")),
        _bottom(520, 420, "front"),
        Part("welt", "Welt round the top", "welt", "trim", held=("sewn",)),
    ),
    (("top", "welt"), ("welt", "bottom_cloth"), ("front", "bottom_cloth"), ("back", "bottom_cloth"), ("end_left", "bottom_cloth"),
     ("end_right", "bottom_cloth")),
    ("board", "foam", "wadding", "cover"),
    needs=("sewing machine",),
    new_price=210,
    together=(("top", "front", "back", "end_left", "end_right"),),
    variants=(
        Variant("wrapped", "Wrapped: top and four sides in one piece",
                lacks=("top", "front", "back", "end_left", "end_right", "bottom_cloth", "welt"),
                parts=(_panel("cover", "Cover, top and sides", "cover", 1080, 980, "U U U U", stands=False, held=("staples",), padded=True,
                              centred=True),
                       _bottom(520, 420, "cover")),
                over=(("cover", "bottom_cloth"),), layers=("corner seams closed last",), instead_of=("skirt",)),
        Variant("lid", "With a lid: lid like a stool, box below like an outside arm", lacks=("welt",),
                becomes={"top": {"name": "Lid", "joins": held("U U U U"), "held": ("staples",)},
                         **{key: {"joins": {"top": "stapled_under"}} for key in ("front", "back", "end_left", "end_right")}},
                parts=(Part("hinges", "Hinges and stay", "hinges", "hardware", held=("screws",)),),
                over=(("top", "hinges"), ("front", "hinges"), ("back", "hinges")), apart=("top",), instead_of=("wrapped",)),
        Variant("skirt", "With a skirt", instead_of=("wrapped",), parts=_SKIRT,
                over=(("front", "skirt_front"), ("back", "skirt_back"), ("end_left", "skirt_end_left"), ("end_right", "skirt_end_right"),
                      ("skirt_front", "bottom_cloth")),
                together=(tuple(p.key for p in _SKIRT),)),
    ),
)  # fmt: skip

_BENCH_BOX = Kind(
    "bench_box",
    "Bench, box cushion or fixed pad",
    (
        _panel("top", "Cushion top", "top", 1560, 420, "- - - -", stands=False, held=("sewn",), padded=True, centred=True),
        _panel("boxing_front", "Boxing, front", "boxing", 1560, 80, "- - - -", on="top", side="bottom", held=("sewn",)),
        *_pair("boxing_end", "Boxing, end", "end", 420 - ZIP_ROUND, 80, "- - - -", on="top", side="right", by="top", held=("sewn",)),
        _panel("zip_strip_upper", "Zip strip, upper half", "zip", 1560 + 2 * ZIP_ROUND, 40, "- - - -", on="top", side="top", by="top",
               held=("sewn", "zip")),
        _panel("zip_strip_lower", "Zip strip, lower half", "zip", 1560 + 2 * ZIP_ROUND, 40, "- - - -", on="zip_strip_upper", side="bottom",
               held=("sewn", "zip")),
        _panel("bottom", "Cushion bottom", "bottom", 1560, 420, "- - - -", stands=False, on="boxing_front", side="bottom", by="bottom",
               held=("sewn",), centred=True),
        Part("welt", "Welt, twice round", "welt", "trim", held=("sewn",)),
    ),
    (("top", "welt"), ("bottom", "welt")),
    ("bench board", "foam", "wadding", "cover"),
    needs=("sewing machine",),
    new_price=260,
    together=(("top", "boxing_front", "boxing_end_left", "boxing_end_right", "zip_strip_upper", "zip_strip_lower", "bottom"),),
    variants=(
        Variant("fixed_pad", "A fixed pad, screwed on from below",
                lacks=("top", "boxing_front", "boxing_end_left", "boxing_end_right", "zip_strip_upper", "zip_strip_lower", "bottom", "welt"),
                parts=(_panel("seat", "Seat", "seat", 1200, 360, "U U U U", stands=False, held=("staples",), padded=True, centred=True),
                       _bottom(1160, 320, "seat"), _screws()),
                over=(("seat", "bottom_cloth"), ("bottom_cloth", "screws")), instead_of=("ties",)),
        Variant("ties", "Cushion tied to the bench", parts=(Part("ties", "Ties", "ties", "trim", held=("sewn",)),),
                over=(("zip_strip_lower", "ties"),), instead_of=("fixed_pad",)),
    ),
)  # fmt: skip

DESK_CHAIR = Kind(
    "desk_chair",
    "Swivel desk chair",
    (
        _panel(
            "seat",
            "Seat",
            "seat",
            490,
            470,
            "U U U U",
            stands=False,
            far=0.96,
            held=("staples",),
            padded=True,
            centred=True,
        ),
        _panel(
            "back",
            "Back",
            "back",
            440,
            480,
            "U U U U",
            on="seat",
            side="top",
            far=0.9,
            held=("staples",),
            padded=True,
            centred=True,
        ),
        Part("shell_seat", "Seat shell", "shell", "hardware", held=("screws",)),
        Part("shell_back", "Back shell", "shell", "hardware", held=("clips",)),
    ),
    (("seat", "shell_seat"), ("back", "shell_back")),
    ("board", "foam", "wadding", "cover"),
    feet=5,
    screws=8,
    cautions=("gas_lift",),
    new_price=190,
)

_SLING = Kind(
    "sling",
    "Sling seat on a metal frame",
    (
        _panel("inner", "Inner panel, sat on", "inner", 480, 760, "H - H -", held=("sewn",), centred=True),
        _panel("outer", "Outer panel", "outer", 480, 760, "H - H -", on="inner", side="right", held=("sewn",)),
        Part("channels", "Stitched channels", "channels", "trim", held=("stitching",)),
        Part("stiffener", "Stiffener and thin foam", "stiffener", "trim", held=("channels",)),
        Part("edge_strips", "Edge strips in the hems", "strips", "hardware", held=("hems",)),
        Part("screws", "Screws through the edge strips", "screws", "hardware", held=("screws",)),
    ),
    (
        ("outer", "stiffener"), ("inner", "stiffener"), ("stiffener", "channels"), ("channels", "edge_strips"), ("edge_strips", "screws"),
    ),
    ("metal frame", "outer panel", "stiffener", "thin foam", "inner panel"),
    feet=4,
    screws=8,
    needs=("sewing machine",),
    new_price=320,
    together=(("outer", "inner"),),
)  # fmt: skip

_BOXED = ("front.right end_left.left", "back.left end_left.right")


def _varied(kind: Kind, **meets: tuple[Meeting, ...]) -> Kind:
    """A kind whose variants of these keys bring seams with them."""
    return replace(kind, variants=tuple(replace(v, meets=meets[v.key]) if v.key in meets else v for v in kind.variants))


_SKIRTED: Mapping[str, tuple[Meeting, ...]] = {
    "skirt": seams(_SKIRT, "skirt_front.right skirt_end_left.left", "skirt_back.left skirt_end_left.right")
}
SIDE_CHAIR = _varied(
    _made(
        _SIDE_CHAIR,
        seams(_SIDE_CHAIR.parts, "seat.top inside_back.bottom", join="fly"),
        seams(_SIDE_CHAIR.parts, "inside_back.top outside_back.top", "inside_back.right outside_back.left",
              "seat.right side_left.left", "seat.right side_left.top", "side_left.right outside_back.left"),
    ),
    two_shells=seams(_BANDS, "inside_back.right band_left.left", "band_left.right outside_back.left"),
)  # fmt: skip
ARMCHAIR = _made(_ARMCHAIR, seams(_ARMCHAIR.parts, "seat.bottom front_band.top"), cushion_seams(*CUSHION))
HALL = _made(_HALL, seams(_HALL.parts, "seat.top seat_deck.bottom"))
WING = _made(
    _WING,
    seams(_WING.parts, "seat.bottom front_band.top", "inside_back.right.2 inside_wing_left.left"),
    cushion_seams(*CUSHION),
)
OTTOMAN = _varied(
    _made(
        _OTTOMAN, seams(_OTTOMAN.parts, "top.bottom front.top", "top.top back.top", "top.right end_left.top", *_BOXED)
    ),
    **_SKIRTED,
)
BENCH_BOX = _made(
    _BENCH_BOX,
    seams(_BENCH_BOX.parts, "top.bottom boxing_front.top", "boxing_front.right boxing_end_left.left", "top.right boxing_end_left.top",
          f"top.right zip_strip_upper.top {ZIP_ROUND}", "top.top zip_strip_upper.top",
          "boxing_end_left.right zip_strip_lower.left", "boxing_end_left.right zip_strip_upper.left"),
    seams(_BENCH_BOX.parts, "boxing_front.bottom bottom.bottom", f"bottom.left zip_strip_lower.bottom {ZIP_ROUND}",
          "bottom.left boxing_end_left.bottom", "bottom.top zip_strip_lower.bottom", first="left"),
    seams(_BENCH_BOX.parts, "zip_strip_upper.bottom zip_strip_lower.top", join="zip"),
)  # fmt: skip
SLING = _made(_SLING, seams(_SLING.parts, "inner.right outer.left"))
KINDS: dict[str, Kind] = {
    kind.key: kind
    for kind in (
        DROP_IN, SIDE_CHAIR, SHOW_WOOD, ARMCHAIR, WING, HALL, ROUND_STOOL, SQUARE_STOOL, OTTOMAN, BENCH_BOX, DESK_CHAIR, SLING,
    )
}  # fmt: skip


def kind_named(key: str) -> Kind:
    """Return the kind of this key; BadInput names the ones there are."""
    if key not in KINDS:
        raise BadInput("kind", key, "one of " + ", ".join(KINDS))
    return KINDS[key]
