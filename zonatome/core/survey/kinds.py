"""The kinds of furniture as data: usual parts, what lies under what, how it is held.

Makers differ, and any job may differ too; these are the usual ways. Measures are usual ones in mm.
"""

from __future__ import annotations

from zonatome.core.errors import BadInput
from zonatome.core.survey.kind import Kind, Part, Side

UNDER: dict[Side, str] = {"top": "stapled_under", "right": "stapled_under", "bottom": "stapled_under", "left": "stapled_under"}
RAW: dict[Side, str] = {"top": "raw_under_trim", "right": "raw_under_trim", "bottom": "raw_under_trim", "left": "raw_under_trim"}
SEWN: dict[Side, str] = {"top": "sewn", "right": "sewn", "bottom": "sewn", "left": "sewn"}
OUTSIDE_BACK: dict[Side, str] = {"top": "card_strip", "right": "tack_strip", "bottom": "stapled_under", "left": "tack_strip"}
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
)

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
        *_pair("side", "Side", "side", on="seat", on_sides=("left", "right"), width=190, height=440, far=0.9,
               held=("sewn", "staples"), joins={"top": "sewn", "right": "sewn", "bottom": "stapled_under", "left": "sewn"}),
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
)

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
)  # fmt: skip

BENCH_BOX = Kind(
    "bench_box",
    "Bench with box cushion",
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

KINDS: dict[str, Kind] = {
    kind.key: kind for kind in (DROP_IN, SIDE_CHAIR, SHOW_WOOD, WING, ROUND_STOOL, SQUARE_STOOL, OTTOMAN, BENCH_BOX, DESK_CHAIR)
}


def kind_named(key: str) -> Kind:
    """Return the kind of this key; BadInput names the ones there are."""
    if key not in KINDS:
        raise BadInput("kind", key, "one of " + ", ".join(KINDS))
    return KINDS[key]
