"""The workroom's own rules: every default figure of the trade that a workroom may set otherwise, as one value.

It is passed in wherever something is computed; without one the trade's figures hold. Which figures there are, in what
unit and within what bounds, says one table, `RULES`; what a workroom has changed is a mapping from key to figure.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from zonatome.core.errors import BadInput
from zonatome.core.joins import JOINS
from zonatome.core.units import Units, a_metre, format_length, parse_length

Unit = Literal["length", "share", "minutes", "count", "money"]


@dataclass(frozen=True)
class Rule:
    """One figure: its key, what it is, the group it stands in, the trade's figure, its unit and bounds, and what it
    touches.

    `touches` names what comes out otherwise when it is changed: `shapes`, `lays`, `pads`, `trim`, `fasten`, `money` or
    `plan`.
    """

    key: str
    name: str
    group: str
    figure: float
    unit: Unit
    least: float
    most: float
    touches: str
    note: str = ""

    def shown(self, figure: float, units: Units) -> float:
        """Return a figure as it is read: a share in per cent; what is said of a metre of a yard in an inch workroom.
        Lengths stay in mm.

        >>> RULES["sixth_of_a_set"].shown(0.6, "metric"), round(RULES["minutes_edge_roll"].shown(10, "imperial"), 3)
        (60.0, 9.144)
        """
        if self.unit == "share":
            return figure * 100
        return a_metre(figure, units) if self.is_a_metre_s else figure

    @property
    def is_a_metre_s(self) -> bool:
        """Whether it says what a metre takes or costs."""
        return "a metre" in self.name

    def in_box(self, figure: float, units: Units) -> str:
        """Return a figure that is no length as it stands in its box; a yard's to the hundredth.

        >>> RULES["minutes_edge_roll"].in_box(10, "metric"), RULES["minutes_edge_roll"].in_box(10, "imperial")
        ('10', '9.14')
        """
        shown = self.shown(figure, units)
        return f"{round(shown, 2) if self.is_a_metre_s and units == 'imperial' else shown:.6g}"

    @property
    def in_inches(self) -> str:
        """The trade's length as the trade says it in inches."""
        return format_length(self.figure, "imperial", "small").removesuffix(" in")

    def meant(self, typed: float, units: Units) -> float:
        """Return the figure that is meant by what was typed: the trade's where that is said so in this workroom.

        >>> edge_roll = RULES["minutes_edge_roll"]
        >>> edge_roll.meant(9.14, "imperial"), edge_roll.meant(9.144, "imperial"), edge_roll.meant(18.288, "imperial")
        (10, 10.0, 20.0)
        >>> RULES["adds_sewn"].meant(12.7, "imperial"), RULES["adds_sewn"].meant(12.7, "metric")
        (13, 12.7)
        """
        if self.unit == "length":
            is_the_trade_s = units == "imperial" and typed == parse_length(self.in_inches, bare="in")
            return self.figure if is_the_trade_s else round(typed, 4)
        is_the_trade_s = f"{typed:.6g}" == self.in_box(self.figure, units)
        return self.figure if is_the_trade_s else round(typed / self.shown(1.0, units), 6)


def _allowance(key: str) -> Rule:
    join = JOINS[key]
    return Rule(f"adds_{key}", join.name, "What an edge adds", join.adds, "length", 0, 200, "shapes", join.note)


_PADS = "Pads"
_CUT = "Cloth"
_FASTEN = "Fastening"
_TRIM = "Trim"
_TIME = "Minutes"
_MONEY = "Prices"
_ROOM = "Machines"
_ROWS = (
    *(_allowance(key) for key in JOINS if key not in ("tucked", "on_fold")),
    Rule("tuck_gap", "gap between seat and back, until it is measured", "What an edge adds", 60, "length", 0, 300, "shapes", "to the rail"),
    Rule("tuck_behind", "tucked: beyond the gap, to staple behind", "What an edge adds", 50, "length", 0, 200, "shapes"),
    Rule("wrap", "wrapped under a board", "What an edge adds", 50, "length", 10, 200, "shapes", "75 to 100 mm for a hand-hold, trimmed later"),
    Rule("give", "foam and wadding give under the cover", _PADS, 0.10, "share", 0, 0.5, "pads"),
    Rule("foam_over", "foam stands out over the board, all round", _PADS, 5, "length", 0, 30, "pads", "0 to 10 mm, so that the edge stays soft"),
    Rule("give_coir", "coir gives under the cover", _PADS, 0.15, "share", 0, 0.5, "pads"),
    Rule("give_cotton", "cotton gives under the cover", _PADS, 0.30, "share", 0, 0.7, "pads", "it packs down; lay it full"),
    Rule("foam_fills", "foam in a sewn cushion is larger than it, in all", _PADS, 9, "length", 0, 30, "pads", "6 to 12 mm, so that it fills"),
    Rule("foam_inside", "foam of a thin stitched panel stays inside its seams", _PADS, 4, "length", 0, 30, "pads"),
    Rule("hessian_over", "hessian beyond the opening, each side", _PADS, 40, "length", 10, 120, "pads", "on the rail, with its fold"),
    Rule("strap_staples", "staples at each end of a strap", _PADS, 9, "count", 2, 30, "pads", "5 before it is folded over, 4 after"),
    Rule("strap", "a webbing strap, and the widest gap between two", _PADS, 50, "length", 20, 120, "pads"),
    Rule("strap_ends", "a strap folded over, each end", _PADS, 40, "length", 10, 120, "pads"),
    Rule("stretch", "snug panels of cloth that stretches are cut smaller by", _CUT, 0.02, "share", 0, 0.15, "lays", "where they are sewn on both sides"),
    Rule("squaring", "squaring the cut end", _CUT, 100, "length", 0, 1000, "lays", "for cloths that are added from now on"),
    Rule("margin", "margin for a slip of the shears", _CUT, 100, "length", 0, 2000, "lays", "for cloths that are added from now on"),
    Rule("heavy", "cloth is heavy to turn from this thickness on", _CUT, 1.5, "length", 0.5, 10, "lays", "a corner is three times as thick"),
    Rule("pitch", "staples on covers, apart", _FASTEN, 16, "length", 8, 40, "fasten", "12 to 20 mm"),
    Rule("pitch_bottom", "staples on bottom cloth, apart", _FASTEN, 45, "length", 20, 90, "fasten", "40 to 50 mm"),
    Rule("hand_pull", "a hand pulls at a staple, in newtons", _FASTEN, 40, "count", 5, 200, "fasten", "for rehearsals: a luggage scale hooked into the cloth tells it, 4 kg or 9 lb are 40"),
    Rule("staples_set", "staples set, a minute", _TIME, 6, "count", 1, 60, "money"),
    Rule("staples_pulled", "staples pulled, a minute", _TIME, 8, "count", 1, 60, "money", "until the workroom's own log says better"),
    Rule("minutes_survey", "survey", _TIME, 15, "minutes", 0, 240, "money"),
    Rule("minutes_shape", "a shape by tape", _TIME, 12, "minutes", 0, 120, "money"),
    Rule("minutes_shape_photo", "a shape from a photo", _TIME, 8, "minutes", 0, 120, "money"),
    Rule("minutes_piece", "a piece cut, plain", _TIME, 4, "minutes", 0, 60, "money"),
    Rule("minutes_piece_matched", "a piece cut, matched", _TIME, 7, "minutes", 0, 60, "money"),
    Rule("minutes_strap", "a webbing strap", _TIME, 3, "minutes", 0, 60, "money"),
    Rule("minutes_sinuous", "a sinuous spring", _TIME, 5, "minutes", 0, 60, "money"),
    Rule("minutes_coil", "a coil spring tied", _TIME, 8, "minutes", 0, 60, "money"),
    Rule("minutes_hessian", "hessian on a frame", _TIME, 8, "minutes", 0, 120, "money"),
    Rule("minutes_edge_roll", "a metre of edge roll", _TIME, 10, "minutes", 0, 120, "money"),
    Rule("minutes_foam_cut", "foam cut, a pad", _TIME, 10, "minutes", 0, 120, "money"),
    Rule("minutes_foam_glued", "foam glued, a pad", _TIME, 5, "minutes", 0, 120, "money"),
    Rule("minutes_wadding", "wadding, a pad", _TIME, 5, "minutes", 0, 120, "money"),
    Rule("minutes_seam", "a seam, each", _TIME, 2, "minutes", 0, 60, "money", "and a metre of it"),
    Rule("minutes_seam_metre", "a metre of seam", _TIME, 3, "minutes", 0, 60, "money"),
    Rule("minutes_zip", "a zip", _TIME, 15, "minutes", 0, 120, "money"),
    Rule("minutes_panel", "a panel set, centred, pulled", _TIME, 12, "minutes", 0, 120, "money", "and its staples"),
    Rule("minutes_corner", "a corner folded", _TIME, 4, "minutes", 0, 60, "money"),
    Rule("minutes_cut", "a relief cut", _TIME, 3, "minutes", 0, 60, "money"),
    Rule("minutes_pleat", "a pleat", _TIME, 1.5, "minutes", 0, 60, "money"),
    Rule("minutes_facing", "a facing made and put on", _TIME, 20, "minutes", 0, 240, "money"),
    Rule("minutes_button", "a button covered and drawn in", _TIME, 6, "minutes", 0, 60, "money"),
    Rule("minutes_strip_metre", "a metre of card or tack strip", _TIME, 6, "minutes", 0, 60, "money"),
    Rule("minutes_gripper_metre", "a metre of gripper strip", _TIME, 10, "minutes", 0, 60, "money"),
    Rule("minutes_ladder_metre", "a metre of ladder stitch", _TIME, 25, "minutes", 0, 120, "money"),
    Rule("minutes_glue_metre", "a metre glued, for a cover-over", _TIME, 8, "minutes", 0, 60, "money"),
    Rule("minutes_welt_made", "a metre of welt made", _TIME, 4, "minutes", 0, 60, "money"),
    Rule("minutes_welt_sewn", "a metre of welt sewn on", _TIME, 6, "minutes", 0, 60, "money"),
    Rule("minutes_gimp", "a metre of gimp, cord or fringe glued", _TIME, 4, "minutes", 0, 60, "money"),
    Rule("minutes_double_welt", "a metre of double welt glued", _TIME, 6, "minutes", 0, 60, "money"),
    Rule("minutes_nail", "a nail", _TIME, 0.5, "minutes", 0, 10, "money"),
    Rule("minutes_bottom", "a bottom cloth", _TIME, 12, "minutes", 0, 120, "money"),
    Rule("minutes_finish", "going home", _TIME, 20, "minutes", 0, 240, "money"),
    Rule("sixth_of_a_set", "the sixth of a set takes, of the first", _TIME, 0.6, "share", 0.3, 1, "money"),
    Rule("welt_seam", "each seam of a welt's strip", _TRIM, 13, "length", 5, 30, "trim"),
    Rule("trim_end", "trim, each end", _TRIM, 40, "length", 0, 100, "trim", "25 to 50 mm, folded in"),
    Rule("more_welt", "cut more welt than the sum says, by", _TRIM, 0.10, "share", 0, 0.5, "trim"),
    Rule("bottom_less", "bottom cloth stays inside the underside, a side", _TRIM, 10, "length", 0, 60, "trim"),
    Rule("bottom_turned", "bottom cloth turned under, a side", _TRIM, 25, "length", 0, 60, "trim"),
    Rule("sewing_machines", "sewing machines", _ROOM, 1, "count", 0, 20, "plan"),
    Rule("compressors", "compressors, or other ways to drive a stapler", _ROOM, 1, "count", 0, 20, "plan"),
    Rule("big_tables", "tables on which one can cut", _ROOM, 1, "count", 0, 20, "plan"),
    Rule("materials_margin", "margin on materials", _MONEY, 0.25, "share", 0, 3, "money"),
    Rule("sundries", "sundries, on materials and labour", _MONEY, 0.05, "share", 0, 1, "money"),
    Rule("tax", "tax on a quote", _MONEY, 0, "share", 0, 1, "money", "as your own rules on tax have it; 0: none is shown"),
    Rule("round_to", "a quote is rounded to", _MONEY, 1, "money", 0, 1000, "money", "0: to the cent"),
    Rule("deposit", "paid at once", _MONEY, 0.40, "share", 0, 1, "money"),
    Rule("quote_days", "days that a quote holds", _MONEY, 30, "count", 1, 365, "money"),
    Rule("foam_25", "a sheet of foam, up to 25 mm", _MONEY, 21, "money", 0, 9999, "money", "sheets of 200 × 100 cm"),
    Rule("foam_50", "a sheet of foam, up to 50 mm", _MONEY, 38, "money", 0, 9999, "money"),
    Rule("foam_75", "a sheet of foam, up to 75 mm", _MONEY, 55, "money", 0, 9999, "money"),
    Rule("foam_100", "a sheet of foam, up to 100 mm", _MONEY, 72, "money", 0, 9999, "money"),
    Rule("foam_thick", "a sheet of foam, thicker", _MONEY, 90, "money", 0, 9999, "money"),
    Rule("wadding_metre", "wadding, a metre", _MONEY, 4.20, "money", 0, 9999, "money"),
    Rule("webbing_metre", "webbing, a metre", _MONEY, 1.10, "money", 0, 9999, "money"),
    Rule("hessian_metre", "hessian, a metre", _MONEY, 3.60, "money", 0, 9999, "money"),
    Rule("edge_roll_metre", "edge roll, a metre", _MONEY, 2.60, "money", 0, 9999, "money"),
    Rule("coir_metre", "coir, a metre", _MONEY, 7.50, "money", 0, 9999, "money", "150 mm wide"),
    Rule("cotton_metre", "cotton, a metre", _MONEY, 6.20, "money", 0, 9999, "money", "150 mm wide"),
    Rule("sinuous_spring", "a sinuous spring with its clips", _MONEY, 2.90, "money", 0, 9999, "money"),
    Rule("coil_spring", "a coil spring", _MONEY, 1.90, "money", 0, 9999, "money"),
    Rule("twine_metre", "twine, a metre", _MONEY, 0.12, "money", 0, 9999, "money"),
    Rule("gimp_metre", "gimp, cord or fringe, a metre", _MONEY, 2.40, "money", 0, 9999, "money"),
    Rule("nail_box", "decorative nails, a box of 100", _MONEY, 6.50, "money", 0, 9999, "money"),
    Rule("zip_metre", "zip, a metre", _MONEY, 3.20, "money", 0, 9999, "money"),
    Rule("lining_metre", "lining of a skirt, a metre", _MONEY, 4.80, "money", 0, 9999, "money"),
    Rule("strip_metre", "card, tack or gripper strip, a metre", _MONEY, 0.90, "money", 0, 9999, "money"),
    Rule("cord_metre", "welt cord, a metre", _MONEY, 0.35, "money", 0, 9999, "money"),
    Rule("bottom_metre", "bottom cloth, a metre", _MONEY, 2.90, "money", 0, 9999, "money"),
    Rule("button", "a button, covered", _MONEY, 0.70, "money", 0, 9999, "money"),
    Rule("staple_box", "a box of staples", _MONEY, 6.50, "money", 0, 9999, "money"),
)  # fmt: skip
RULES: dict[str, Rule] = {row.key: row for row in _ROWS}


@dataclass(frozen=True)
class Rules:
    """A workroom's figures: `own` holds what it has set otherwise, by key; all others are the trade's."""

    own: tuple[tuple[str, float], ...] = ()

    def __getitem__(self, key: str) -> float:
        """Return the figure of this key; lengths in mm, shares of one."""
        return dict(self.own).get(key, RULES[key].figure)

    def adds(self, join: str) -> float:
        """Return what an edge held by this join adds outside its finished line, in mm; a tuck its gap and what is
        stapled behind.
        """
        if join == "on_fold":
            return 0.0
        return self["tuck_gap"] + self["tuck_behind"] if join == "tucked" else self[f"adds_{join}"]


USUAL = Rules()


def rules_of(own: Mapping[str, object]) -> Rules:
    """Return the rules in which these figures are the workroom's own. Raises BadInput for a key that is none, or a
    figure out of bounds.
    """
    made = []
    for key, value in own.items():
        if key not in RULES:
            raise BadInput("rules", key, "one of the workroom's rules")
        rule = RULES[key]
        if (
            isinstance(value, bool)
            or not isinstance(value, int | float)
            or not math.isfinite(value)
            or not rule.least <= value <= rule.most
        ):
            raise BadInput(key, value, f"{rule.least:g} to {rule.most:g}")
        if value != rule.figure:
            made.append((key, float(value)))
    return Rules(tuple(sorted(made)))
