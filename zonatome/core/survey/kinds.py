"""The kinds of furniture as data: usual parts, what lies under what, how it is held.

Makers differ, and any job may differ too; these are the usual ways. Measures are usual ones in mm.
"""

from __future__ import annotations

from dataclasses import replace

from zonatome.core.errors import BadInput
from zonatome.core.survey.kind import SIDES, ButtonGrid, Kind, Meeting, Part, Side, Variant, drawn_meetings

UNDER: dict[Side, str] = {"top": "stapled_under", "right": "stapled_under", "bottom": "stapled_under", "left": "stapled_under"}
RAW: dict[Side, str] = {"top": "raw_under_trim", "right": "raw_under_trim", "bottom": "raw_under_trim", "left": "raw_under_trim"}
SEWN: dict[Side, str] = {"top": "sewn", "right": "sewn", "bottom": "sewn", "left": "sewn"}
OUTSIDE_BACK: dict[Side, str] = {"top": "card_strip", "right": "tack_strip", "bottom": "stapled_under", "left": "tack_strip"}
SIDE_OF_SEAT: dict[Side, str] = {"top": "sewn", "right": "sewn", "bottom": "stapled_under", "left": "stapled_under"}  # of the left one
TURNED: dict[Side, str] = {"top": "turned_under", "right": "turned_under", "bottom": "turned_under", "left": "turned_under"}


def _bottom(width: float, height: float, on: str, form: str = "four-sided") -> Part:
    return Part(
        "bottom_cloth", "Bottom cloth", "bottom", "bottom cloth", width, height, on, "bottom", held=("staples",),
        joins=TURNED, form="disc" if form == "disc" else "four-sided",
    )  # fmt: skip


def _screws(name: str = "Seat screws") -> Part:
    return Part("screws", name, "screws", "hardware", held=("screws",))


def _pair(
    key: str, name: str, short: str, *, on: str, on_sides: tuple[Side, Side], mirror_on: bool = False, **rest: object
) -> tuple[Part, Part]:
    """A left and a right part; with `mirror_on` each sits on the part of its own side."""
    made = []
    for hand, letter, side, other in (("left", "L", on_sides[0], "right"), ("right", "R", on_sides[1], "left")):
        host = f"{on}_{hand}" if mirror_on else on
        made.append(
            Part(f"{key}_{hand}", f"{name}, {hand}", f"{short} {letter}", on=host, side=side, mirror=f"{key}_{other}", **rest)  # type: ignore[arg-type]
        )
    return made[0], made[1]


def _seams(*rows: str, join: str = "sewn") -> tuple[Meeting, ...]:
    """Joins written `one.side other.side`; `_left` in a row stands for itself and, mirrored, for the right."""
    made = []
    for row in rows:
        for hand in (row, _mirrored(row)) if "_left" in row else (row,):
            (one, one_side), (other, other_side) = (end.rsplit(".", 1) for end in hand.split())
            sides = {side: side for side in SIDES}
            made.append(Meeting(one, sides[one_side], other, sides[other_side], join))  # type: ignore[index]
    return tuple(made)


def _mirrored(row: str) -> str:
    swap = {"left": "right", "right": "left"}
    ends = []
    for end in row.split():
        key, side = end.rsplit(".", 1)
        ends.append(f"{key.replace('_left', '_right')}.{swap.get(side, side)}")
    return " ".join(ends)


def _made(kind: Kind, *seams: tuple[Meeting, ...]) -> Kind:
    """A kind with the joins that its drawing shows, and those that it cannot show."""
    return replace(kind, meets=(*drawn_meetings(kind.parts), *(m for row in seams for m in row)))


BACK_PARTS = (
    Part("inside_back", "Inside back", "in. back", width=400, height=330, on="seat", side="top", far=0.94,
         held=("staples in the rebate",), joins=RAW),
    Part("outside_back", "Outside back", "out. back", width=390, height=320, on="inside_back", side="top",
         held=("staples in the rebate",), joins=RAW),
    Part("back_welt", "Double welt round the back", "back welt", "trim", held=("glue", "staples")),
)  # fmt: skip


DROP_IN = Kind(
    "drop_in",
    "Drop-in seat chair",
    (
        Part("seat", "Seat", "seat", width=460, height=420, far=0.88, held=("staples",), joins=UNDER, padded=True),
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

SIDE_CHAIR = Kind(
    "side_chair",
    "Fully covered side chair",
    (
        Part("seat", "Seat", "seat", width=480, height=470, far=0.86, held=("staples",), padded=True,
             joins={"top": "fly", "right": "sewn", "bottom": "stapled_under", "left": "sewn"}),
        Part("inside_back", "Inside back", "in. back", width=420, height=560, on="seat", side="top", far=0.92, held=("sewn",),
             joins={"top": "sewn", "right": "sewn", "bottom": "fly", "left": "sewn"}),
        Part("outside_back", "Outside back", "out. back", width=390, height=600, on="inside_back", side="top", far=1.04,
             held=("sewn", "staples"), joins={"top": "sewn", "right": "sewn", "bottom": "stapled_under", "left": "sewn"}),
        *(replace(side, joins=joins)
          for side, joins in zip(
              _pair("side", "Side", "side", on="seat", on_sides=("left", "right"), width=190, height=440, far=0.9, held=("sewn", "staples")),
              (SIDE_OF_SEAT, {**SIDE_OF_SEAT, "right": "stapled_under", "left": "sewn"}), strict=True)),
        _bottom(420, 400, "seat"),
        Part("flies", "Flies, seat and back", "flies", "trim", held=("staples",)),
    ),
    (
        ("inside_back", "flies"), ("seat", "flies"), ("flies", "side_left"), ("flies", "side_right"), ("side_left", "outside_back"),
        ("side_right", "outside_back"), ("seat", "bottom_cloth"), ("outside_back", "bottom_cloth"),
    ),
    ("webbing or springs", "hessian", "foam", "wadding", "cover"),
    needs=("sewing machine",),
    new_price=180,
    variants=(
        Variant("two_shells", "Two shells, each closed by itself, bolted together last",
                lacks=("side_left", "side_right", "flies"),
                parts=(
                    *_pair("band", "Side band", "band", on="inside_back", on_sides=("left", "right"), width=90, height=480, held=("sewn",), joins=SEWN),
                    Part("bolts", "Shell bolts", "bolts", "hardware", held=("bolts",)),
                ),
                not_over=(("outside_back", "bottom_cloth"),),
                over=(("inside_back", "band_left"), ("inside_back", "band_right"), ("band_left", "outside_back"), ("band_right", "outside_back"),
                      ("outside_back", "bolts"), ("bottom_cloth", "bolts")),
                meets=_seams("band_left.left outside_back.left")),
    ),
)  # fmt: skip

SHOW_WOOD = Kind(
    "show_wood",
    "Show-wood armchair",
    (
        Part("seat", "Seat", "seat", width=560, height=540, far=0.86, held=("staples in the rebate",), joins=RAW, padded=True),
        Part("inside_back", "Inside back", "in. back", width=480, height=440, on="seat", side="top", far=0.94,
             held=("staples in the rebate",), joins=RAW),
        Part("outside_back", "Outside back", "out. back", width=470, height=430, on="inside_back", side="top", far=1.0,
             held=("staples in the rebate",), joins=RAW),
        *_pair("arm_pad", "Arm pad", "pad", on="seat", on_sides=("left", "right"), width=110, height=280, far=0.9,
               held=("staples in the rebate",), joins=RAW),
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

ARMCHAIR = Kind(
    "armchair",
    "Padded armchair or tub",
    (
        Part("seat", "Seat platform", "seat", width=540, height=540, far=0.94, held=("staples",), padded=True, deck=True,
             joins={"top": "fly", "right": "tucked", "bottom": "sewn", "left": "tucked"}),
        Part("inside_back", "Inside back", "in. back", width=500, height=520, on="seat", side="top", far=1.0, held=("staples",),
             joins={"top": "stapled_under", "right": "stapled_under", "bottom": "tucked", "left": "stapled_under"}),
        Part("outside_back", "Outside back", "out. back", width=520, height=560, on="inside_back", side="top", far=1.0,
             held=("card strip", "tack strip", "staples"), joins=OUTSIDE_BACK),
        *_pair("inside_arm", "Inside arm", "in. arm", on="seat", on_sides=("left", "right"), width=340, height=500, far=1.0,
               held=("staples",), joins={"top": "tucked", "right": "tucked", "bottom": "stapled_under", "left": "stapled_under"}),
        *_pair("outside_arm", "Outside arm", "out. arm", on="inside_arm", on_sides=("left", "right"), mirror_on=True, width=300,
               height=480, far=0.96, held=("card strip", "staples"),
               joins={"top": "card_strip", "right": "stapled_under", "bottom": "stapled_under", "left": "stapled_under"}),
        *_pair("facing", "Arm facing", "facing", on="inside_arm", on_sides=("bottom", "bottom"), mirror_on=True, width=160, height=300,
               far=0.8, held=("pins", "glue"), joins=UNDER, padded=True),
        Part("front_band", "Front band", "band", width=540, height=190, on="seat", side="bottom", held=("sewn", "staples"),
             joins={"top": "sewn", "right": "stapled_under", "bottom": "stapled_under", "left": "stapled_under"}),
        Part("cushion", "Cushion top and bottom", "cushion", width=530, height=530, on="front_band", side="bottom", held=("loose",),
             joins=SEWN, per_furniture=2),
        _bottom(520, 500, "outside_back"),
        Part("facing_welt", "Welts round the facings", "welts", "trim", held=("staples",)),
        Part("feet", "Feet", "feet", "hardware", held=("screws",)),
    ),
    (
        ("seat", "front_band"), ("seat", "inside_arm_left"), ("seat", "inside_arm_right"), ("inside_arm_left", "inside_back"),
        ("inside_arm_right", "inside_back"), ("inside_back", "facing_welt"), ("inside_arm_left", "facing_welt"),
        ("inside_arm_right", "facing_welt"), ("facing_welt", "facing_left"), ("facing_welt", "facing_right"),
        ("facing_left", "outside_arm_left"), ("facing_right", "outside_arm_right"), ("outside_arm_left", "outside_back"),
        ("outside_arm_right", "outside_back"), ("outside_back", "bottom_cloth"), ("front_band", "bottom_cloth"),
        ("bottom_cloth", "feet"), ("seat", "cushion"),
    ),
    ("webbing", "springs", "hessian", "edge roll", "foam", "wadding", "cover"),
    needs=("sewing machine",),
    new_price=780,
    variants=(
        Variant("pleated_fronts", "Arm fronts pleated from the inside arm, without facings",
                lacks=("facing_left", "facing_right", "facing_welt"),
                over=(("inside_arm_left", "outside_arm_left"), ("inside_arm_right", "outside_arm_right"),
                      ("inside_back", "outside_arm_left"), ("inside_back", "outside_arm_right"))),
        Variant("no_cushion", "Seat pulled over, no loose cushion", lacks=("cushion",)),
        Variant("no_arms", "Without arms", lacks=("inside_arm_left", "inside_arm_right", "outside_arm_left", "outside_arm_right",
                                                "facing_left", "facing_right", "facing_welt"),
                over=(("seat", "inside_back"), ("inside_back", "outside_back")), instead_of=("pleated_fronts",)),
    ),
)  # fmt: skip

HALL = Kind(
    "hall",
    "Tall hall chair, buttoned",
    (
        Part("seat", "Seat", "seat", width=580, height=440, far=0.94, held=("staples",), joins=RAW, padded=True),
        Part("seat_deck", "Deck cloth behind the seat", "deck", width=520, height=160, on="seat", side="top", held=("sewn", "staples"), deck=True,
             joins={"top": "stapled_under", "right": "stapled_under", "bottom": "sewn", "left": "stapled_under"}),
        Part("inside_back", "Inside back", "in. back", width=520, height=860, on="seat_deck", side="top", far=0.9, held=("staples",), joins=RAW,
             buttons=ButtonGrid(4, 3, 130, 160, 35)),
        Part("outside_back", "Outside back", "out. back", width=500, height=840, on="inside_back", side="top", held=("staples",), joins=RAW),
        *_pair("arm_pad", "Arm pad", "pad", on="seat", on_sides=("left", "right"), width=110, height=300, far=0.9, held=("staples",),
               joins=UNDER, padded=True),
        _bottom(520, 480, "seat"),
        Part("buttons", "Buttons, with twine and slip knots", "buttons", "trim", held=("twine",)),
        Part("arm_screws", "Arm pad screws", "screws", "hardware", held=("screws",)),
        Part("welt", "Double welts", "welt", "trim", held=("glue",)),
    ),
    (
        ("seat_deck", "seat"), ("inside_back", "buttons"), ("buttons", "outside_back"), ("outside_back", "welt"), ("seat", "welt"),
        ("arm_pad_left", "arm_screws"), ("arm_pad_right", "arm_screws"), ("seat", "bottom_cloth"),
    ),
    ("webbing", "springs", "hessian", "edge roll", "coir", "foam", "cotton", "wadding", "cover"),
    needs=("sewing machine",),
    screws=4,
    new_price=860,
    variants=(
        Variant("plain_back", "Back not buttoned", lacks=("buttons",)),
        Variant("no_arm_pads", "Arms bare, without pads", lacks=("arm_pad_left", "arm_pad_right", "arm_screws")),
    ),
)  # fmt: skip

WING = Kind(
    "wing",
    "Wing chair",
    (
        Part("seat", "Seat", "seat", width=560, height=560, far=0.9, held=("staples",), padded=True, deck=True,
             joins={"top": "fly", "right": "tucked", "bottom": "sewn", "left": "tucked"}),
        Part("inside_back", "Inside back", "in. back", width=500, height=720, on="seat", side="top", far=1.0, held=("staples",),
             joins={"top": "stapled_under", "right": "sewn", "bottom": "fly", "left": "sewn"}),
        Part("outside_back", "Outside back", "out. back", width=520, height=700, on="inside_back", side="top", far=1.0,
             held=("card strip", "tack strip", "staples"), joins=OUTSIDE_BACK),
        *_pair("inside_wing", "Inside wing", "in. wing", on="inside_back", on_sides=("left", "right"), width=240, height=420,
               far=0.72, held=("staples", "card strip"),
               joins={"top": "stapled_under", "right": "stapled_under", "bottom": "tucked", "left": "sewn"}),
        *_pair("outside_wing", "Outside wing", "out. wing", on="inside_wing", on_sides=("left", "right"), mirror_on=True, width=190,
               height=302, far=0.9, held=("gripper strip",),
               joins={"top": "gripper_strip", "right": "gripper_strip", "bottom": "stapled_under", "left": "stapled_under"}),
        *_pair("inside_arm", "Inside arm", "in. arm", on="seat", on_sides=("left", "right"), width=360, height=500, far=1.0,
               held=("staples",), joins={"top": "stapled_under", "right": "stapled_under", "bottom": "tucked", "left": "tucked"}),
        *_pair("outside_arm", "Outside arm", "out. arm", on="inside_arm", on_sides=("left", "right"), mirror_on=True, width=300,
               height=500, far=0.96, held=("card strip", "tack strip", "staples"),
               joins={"top": "card_strip", "right": "tack_strip", "bottom": "stapled_under", "left": "stapled_under"}),
        *_pair("arm_front", "Arm front", "facing", on="inside_arm", on_sides=("bottom", "bottom"), mirror_on=True, width=160, height=300,
               far=0.7, held=("pins", "glue"), joins=UNDER, padded=True),
        Part("front_band", "Front band", "band", width=560, height=200, on="seat", side="bottom", held=("sewn", "staples"),
             joins={"top": "sewn", "right": "stapled_under", "bottom": "stapled_under", "left": "stapled_under"}),
        Part("cushion", "Cushion top and bottom", "cushion", width=540, height=540, on="front_band", side="bottom", held=("loose",),
             joins=SEWN, per_furniture=2),
        _bottom(520, 500, "outside_back"),
        Part("wing_welt", "Wing welts", "wing welt", "trim", held=("staples",)),
        Part("back_welt", "Back welt", "back welt", "trim", held=("staples",)),
        Part("feet", "Feet", "feet", "hardware", held=("screws",)),
    ),
    (
        ("seat", "arm_front_left"), ("seat", "arm_front_right"), ("seat", "front_band"),
        ("arm_front_left", "inside_arm_left"), ("arm_front_right", "inside_arm_right"),
        ("inside_arm_left", "inside_wing_left"), ("inside_arm_right", "inside_wing_right"),
        ("inside_wing_left", "inside_back"), ("inside_wing_right", "inside_back"),
        ("inside_back", "wing_welt"), ("wing_welt", "outside_wing_left"), ("wing_welt", "outside_wing_right"),
        ("outside_wing_left", "outside_arm_left"), ("outside_wing_right", "outside_arm_right"),
        ("outside_arm_left", "back_welt"), ("outside_arm_right", "back_welt"), ("back_welt", "outside_back"),
        ("outside_back", "bottom_cloth"), ("front_band", "bottom_cloth"), ("bottom_cloth", "feet"), ("seat", "cushion"),
    ),
    ("webbing", "springs", "hessian", "edge roll", "foam", "cotton", "wadding", "cover"),
    needs=("sewing machine",),
    new_price=1150,
    variants=(
        Variant("back_before_wings", "Inside wings put on after the inside back",
                not_over=(("inside_wing_left", "inside_back"), ("inside_wing_right", "inside_back")),
                over=(("inside_back", "inside_wing_left"), ("inside_back", "inside_wing_right"), ("inside_wing_left", "wing_welt"),
                      ("inside_wing_right", "wing_welt"))),
        Variant("facings_after_arms", "Arm fronts put on after the inside arms",
                not_over=(("arm_front_left", "inside_arm_left"), ("arm_front_right", "inside_arm_right")),
                over=(("inside_arm_left", "arm_front_left"), ("inside_arm_right", "arm_front_right"), ("arm_front_left", "outside_arm_left"),
                      ("arm_front_right", "outside_arm_right"))),
        Variant("no_cushion", "Seat pulled over, no loose cushion", lacks=("cushion",)),
        Variant("no_wings", "Without wings", lacks=("inside_wing_left", "inside_wing_right", "outside_wing_left", "outside_wing_right", "wing_welt"),
                instead_of=("back_before_wings",)),
        Variant("recessed_back", "Outside back put in first, from the front",
                not_over=(("back_welt", "outside_back"), ("outside_back", "bottom_cloth")),
                over=(("outside_back", "inside_back"), ("inside_back", "bottom_cloth"))),
    ),
)  # fmt: skip

ROUND_STOOL = Kind(
    "round_stool",
    "Round stool",
    (
        Part("top", "Top", "top", width=360, height=360, form="disc", held=("staples",), joins=UNDER, padded=True),
        _bottom(320, 320, "top", "disc"),
        _screws(),
    ),
    (("top", "bottom_cloth"), ("bottom_cloth", "screws")),
    ("board", "foam", "wadding", "cover"),
    screws=4,
    new_price=60,
    variants=(
        Variant("boxed", "Top with boxing round it and a welt between",
                parts=(Part("boxing", "Boxing", "boxing", width=360, height=60, on="top", side="bottom", held=("sewn", "staples"),
                            joins={"top": "sewn", "right": "sewn", "bottom": "stapled_under", "left": "sewn"}),
                       Part("welt", "Welt round the top", "welt", "trim", held=("sewn",))),
                over=(("top", "welt"), ("welt", "boxing"), ("boxing", "bottom_cloth"))),
    ),
)  # fmt: skip

SQUARE_STOOL = Kind(
    "square_stool",
    "Square or bar stool",
    (
        Part("seat", "Seat", "seat", width=370, height=370, held=("staples",), joins=UNDER, padded=True),
        _bottom(330, 330, "seat"),
        _screws(),
    ),
    (("seat", "bottom_cloth"), ("bottom_cloth", "screws")),
    ("board", "foam", "wadding", "cover"),
    screws=4,
    new_price=75,
    variants=(Variant("no_bottom", "Without a bottom cloth", lacks=("bottom_cloth",)),),
)

OTTOMAN = Kind(
    "ottoman",
    "Ottoman",
    (
        Part("top", "Top", "top", width=560, height=460, held=("sewn",), joins=SEWN, padded=True),
        Part("front", "Front side", "front", width=560, height=260, on="top", side="bottom", held=("sewn", "staples"),
             joins={"top": "sewn", "right": "sewn", "bottom": "stapled_under", "left": "sewn"}),
        Part("back", "Back side", "back", width=560, height=260, on="top", side="top", held=("sewn", "staples"),
             joins={"top": "sewn", "right": "sewn", "bottom": "stapled_under", "left": "sewn"}),
        *_pair("end", "End", "end", on="top", on_sides=("left", "right"), width=260, height=460, held=("sewn", "staples"),
               joins={"top": "sewn", "right": "sewn", "bottom": "stapled_under", "left": "sewn"}),
        _bottom(520, 420, "front"),
        Part("welt", "Welt round the top", "welt", "trim", held=("sewn",)),
    ),
    (
        ("top", "welt"), ("welt", "front"), ("welt", "back"), ("welt", "end_left"), ("welt", "end_right"), ("front", "bottom_cloth"),
        ("back", "bottom_cloth"), ("end_left", "bottom_cloth"), ("end_right", "bottom_cloth"),
    ),
    ("board", "foam", "wadding", "cover"),
    needs=("sewing machine",),
    new_price=210,
    variants=(
        Variant("wrapped", "Wrapped: top and four sides in one piece",
                lacks=("top", "front", "back", "end_left", "end_right", "bottom_cloth", "welt"),
                parts=(Part("cover", "Cover, top and sides", "cover", width=1040, height=940, held=("staples",), joins=UNDER, padded=True),
                       _bottom(520, 420, "cover")),
                over=(("cover", "bottom_cloth"),), layers=("corner seams closed last",), instead_of=("skirt",)),
        Variant("lid", "With a lid: lid like a stool, box below like an outside arm", lacks=("welt",),
                parts=(Part("hinges", "Hinges and stay", "hinges", "hardware", held=("screws",)),),
                over=(("top", "hinges"), ("front", "hinges"), ("back", "hinges")), instead_of=("wrapped",)),
        Variant("skirt", "With a skirt", instead_of=("wrapped",),
                parts=(Part("skirt", "Skirt", "skirt", width=560, height=150, on="front", side="bottom", held=("sewn", "staples"), per_furniture=4,
                            joins={"top": "sewn", "right": "sewn", "bottom": "turned_under", "left": "sewn"}),),
                over=(("front", "skirt"), ("back", "skirt"), ("end_left", "skirt"), ("end_right", "skirt"), ("skirt", "bottom_cloth"))),
    ),
)  # fmt: skip

BENCH_BOX = Kind(
    "bench_box",
    "Bench, box cushion or fixed pad",
    (
        Part("top", "Cushion top", "top", width=1560, height=420, held=("sewn",), joins=SEWN, padded=True),
        Part("boxing_front", "Boxing, front", "boxing", width=1560, height=80, on="top", side="bottom", held=("sewn",), joins=SEWN),
        *_pair("boxing_end", "Boxing, end", "end", on="top", on_sides=("left", "right"), width=80, height=420, held=("sewn",), joins=SEWN),
        Part("zip_strip", "Zip strip", "zip", width=1560, height=55, on="top", side="top", held=("sewn", "zip"), per_furniture=2,
             joins={"top": "sewn", "right": "sewn", "bottom": "zip", "left": "sewn"}),
        Part("bottom", "Cushion bottom", "bottom", width=1560, height=420, on="boxing_front", side="bottom", held=("sewn",), joins=SEWN),
        Part("welt", "Welt, twice round", "welt", "trim", held=("sewn",)),
    ),
    (
        ("top", "welt"), ("bottom", "welt"), ("welt", "boxing_front"), ("welt", "boxing_end_left"), ("welt", "boxing_end_right"),
        ("boxing_front", "zip_strip"), ("boxing_end_left", "zip_strip"), ("boxing_end_right", "zip_strip"),
    ),
    ("bench board", "foam", "wadding", "cover"),
    needs=("sewing machine",),
    new_price=260,
    variants=(
        Variant("fixed_pad", "A fixed pad, screwed on from below",
                lacks=("top", "boxing_front", "boxing_end_left", "boxing_end_right", "zip_strip", "bottom", "welt"),
                parts=(Part("seat", "Seat", "seat", width=1200, height=360, held=("staples",), joins=UNDER, padded=True),
                       _bottom(1160, 320, "seat"), _screws()),
                over=(("seat", "bottom_cloth"), ("bottom_cloth", "screws")), instead_of=("ties",)),
        Variant("ties", "Cushion tied to the bench", parts=(Part("ties", "Ties", "ties", "trim", held=("sewn",)),),
                over=(("zip_strip", "ties"),), instead_of=("fixed_pad",)),
    ),
)  # fmt: skip

DESK_CHAIR = Kind(
    "desk_chair",
    "Swivel desk chair",
    (
        Part("seat", "Seat", "seat", width=490, height=470, far=0.96, held=("staples",), joins=UNDER, padded=True),
        Part("back", "Back", "back", width=440, height=480, on="seat", side="top", far=0.9, held=("staples",), joins=UNDER, padded=True),
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

SLING = Kind(
    "sling",
    "Sling seat on a metal frame",
    (
        Part("inner", "Inner panel, sat on", "inner", width=480, height=760, held=("sewn",), joins={"top": "cord_hem", "right": "sewn", "bottom": "cord_hem", "left": "sewn"}),
        Part("outer", "Outer panel", "outer", width=480, height=760, on="inner", side="right", held=("sewn",),
             joins={"top": "cord_hem", "right": "sewn", "bottom": "cord_hem", "left": "sewn"}),
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
)  # fmt: skip

_ALL = (
    DROP_IN,
    _made(SIDE_CHAIR, _seams("outside_back.left inside_back.left", "outside_back.right inside_back.right", "outside_back.left side_left.top")),
    SHOW_WOOD,
    _made(ARMCHAIR, _seams("inside_arm_left.top inside_back.left", join="tucked"), _seams("outside_arm_left.left outside_back.left", join="tack_strip")),
    _made(WING,
          _seams("inside_arm_left.top inside_wing_left.bottom", join="card_strip"),
          _seams("outside_wing_left.bottom outside_arm_left.top", join="card_strip"),
          _seams("outside_arm_left.left outside_back.left", join="tack_strip")),
    HALL,
    ROUND_STOOL,
    SQUARE_STOOL,
    _made(OTTOMAN, _seams("front.left end_left.bottom", "back.left end_left.top", "front.right end_right.bottom", "back.right end_right.top")),
    _made(BENCH_BOX, _seams("boxing_front.left boxing_end_left.bottom", "boxing_front.right boxing_end_right.bottom",
                            "zip_strip.left boxing_end_left.top", "zip_strip.right boxing_end_right.top",
                            "bottom.left boxing_end_left.left")),
    DESK_CHAIR,
    SLING,
)  # fmt: skip
KINDS: dict[str, Kind] = {kind.key: kind if kind.meets else _made(kind) for kind in _ALL}
DROP_IN, SIDE_CHAIR, SHOW_WOOD, ARMCHAIR, WING, HALL, ROUND_STOOL, SQUARE_STOOL, OTTOMAN, BENCH_BOX, DESK_CHAIR, SLING = KINDS.values()


def kind_named(key: str) -> Kind:
    """Return the kind of this key; BadInput names the ones there are."""
    if key not in KINDS:
        raise BadInput("kind", key, "one of " + ", ".join(KINDS))
    return KINDS[key]
