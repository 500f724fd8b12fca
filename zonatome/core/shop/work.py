"""Sorts of work and what one of each takes: the table from which every estimate is summed. Minutes."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from zonatome.core.errors import BadInput
from zonatome.core.rules import USUAL, Rules
from zonatome.core.units import Units, a_metre

Step = Literal["survey", "strip", "trace", "lay", "pad", "fasten", "trim", "finish"]
AT_REST = 6  # of a set: from the sixth on none is faster than the one before
TRADE_SPREAD = (
    0.8,
    1.35,
)  # what a workroom takes of the trade's minutes, likely from and to, until its log says better


@dataclass(frozen=True)
class WorkSort:
    """A sort of work: its step, what it is called, what is counted. Its minutes are the rule `minutes_` and its key."""

    key: str
    step: Step
    words: str
    unit: str = ""


_ROWS = (
    WorkSort("survey", "survey", "looking it over"),
    WorkSort("shape", "trace", "shapes by tape"),
    WorkSort("shape_photo", "trace", "shapes from a photo"),
    WorkSort("piece", "lay", "pieces cut, plain"),
    WorkSort("piece_matched", "lay", "pieces cut, matched"),
    WorkSort("strap", "pad", "webbing straps"),
    WorkSort("sinuous", "pad", "sinuous springs"),
    WorkSort("coil", "pad", "coil springs tied"),
    WorkSort("hessian", "pad", "hessian laid"),
    WorkSort("edge_roll", "pad", "edge roll", "m"),
    WorkSort("foam_cut", "pad", "foam cut"),
    WorkSort("foam_glued", "pad", "foam glued"),
    WorkSort("wadding", "pad", "wadding laid"),
    WorkSort("seam", "fasten", "seams begun and ended"),
    WorkSort("seam_metre", "fasten", "seams sewn", "m"),
    WorkSort("zip", "fasten", "zips"),
    WorkSort("panel", "fasten", "panels set, centred, pulled"),
    WorkSort("staple", "fasten", "staples"),
    WorkSort("corner", "fasten", "corners folded"),
    WorkSort("cut", "fasten", "relief cuts"),
    WorkSort("pleat", "fasten", "pleats"),
    WorkSort("facing", "fasten", "facings made and put on"),
    WorkSort("button", "fasten", "buttons covered and drawn in"),
    WorkSort("strip_metre", "fasten", "card or tack strip", "m"),
    WorkSort("gripper_metre", "fasten", "gripper strip", "m"),
    WorkSort("ladder_metre", "fasten", "ladder stitch", "m"),
    WorkSort("glue_metre", "fasten", "edges glued", "m"),
    WorkSort("welt_made", "trim", "welt made", "m"),
    WorkSort("welt_sewn", "trim", "welt sewn on", "m"),
    WorkSort("gimp", "trim", "gimp, cord or fringe glued", "m"),
    WorkSort("double_welt", "trim", "double welt glued", "m"),
    WorkSort("nail", "trim", "nails"),
    WorkSort("bottom", "trim", "bottom cloths"),
    WorkSort("finish", "finish", "going home"),
)
WORK: dict[str, WorkSort] = {row.key: row for row in _ROWS}
PER_MINUTE = {"staple": "staples_set"}  # what the rules give a minute of, and not minutes of one
CLOSED_BY = {  # the sort of work of each closing; twist pins go like a strip
    "card_strip": "strip_metre", "tack_strip": "strip_metre", "gripper_strip": "gripper_metre",
    "ladder": "ladder_metre", "glued": "glue_metre", "twist_pins": "strip_metre",
}  # fmt: skip


@dataclass(frozen=True)
class Work:
    """So much of a sort of work on one piece of furniture; `once` for the whole set."""

    key: str
    amount: float = 1.0
    once: bool = False

    def __post_init__(self) -> None:
        """Refuse a sort that the table has not."""
        if self.key not in WORK:
            raise BadInput("work", self.key, "one of " + ", ".join(WORK))


@dataclass(frozen=True)
class WorkLine:
    """One line of an estimate: the sort of work, how much of it over the whole set, its minutes."""

    sort: WorkSort
    amount: float
    minutes: float

    @property
    def length(self) -> float:
        """What is counted in metres, in mm."""
        return self.amount * 1000


def minutes_read(key: str, minutes: float, units: Units) -> float:
    """Return the minutes of one of a sort of work as a workroom reads them: of a yard in inches for those of a metre.

    >>> round(minutes_read("edge_roll", 10, "imperial"), 3), minutes_read("corner", 4, "imperial")
    (9.144, 4)
    """
    return a_metre(minutes, units) if WORK[key].unit == "m" else minutes


def one_takes(key: str, rules: Rules = USUAL) -> float:
    """Return the minutes of one of a sort of work.

    >>> one_takes("corner"), round(one_takes("staple"), 3)
    (4.0, 0.167)
    """
    if key in PER_MINUTE:
        return 1 / rules[PER_MINUTE[key]]
    return float(rules[f"minutes_{key}"])


def whole_set(count: int, sixth: float = 0.6) -> float:
    """Return how many times as long as the first one a set of so many takes.

    The first takes its full time, each next one as much less until the sixth takes `sixth` of it; from then on none is
    faster. Source: trade rule of sets. Raises BadInput for fewer than one.

    >>> whole_set(1), whole_set(2), whole_set(6), whole_set(8)
    (1.0, 1.92, 4.8, 6.0)
    """
    if count < 1:
        raise BadInput("furniture", count, "at least 1")
    falls = (1 - sixth) / (AT_REST - 1)
    return round(sum(max(sixth, 1 - falls * nth) for nth in range(count)), 6)


def lines_of(works: Iterable[Work], *, furniture: int, rules: Rules = USUAL) -> tuple[WorkLine, ...]:
    """Return what a set of so many takes of each sort of work, in the order of the work; no line for nothing."""
    amounts: dict[tuple[str, bool], float] = {}
    for work in works:
        amounts[work.key, work.once] = amounts.get((work.key, work.once), 0.0) + work.amount
    like_full = whole_set(furniture, rules["sixth_of_a_set"])
    found = []
    for sort in _ROWS:
        once, each = amounts.get((sort.key, True), 0.0), amounts.get((sort.key, False), 0.0)
        if once or each:
            minutes = (once + each * like_full) * one_takes(sort.key, rules)
            found.append(WorkLine(sort, once + each * furniture, minutes))
    return tuple(found)
