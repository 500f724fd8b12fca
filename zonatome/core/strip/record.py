"""What is recorded of a thing that comes off: how it was held, marks written on it, its fate, what is saved from it."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

from zonatome.core.errors import BadInput
from zonatome.core.rules import USUAL, Rules
from zonatome.core.survey.kind import Kind, Meeting, Part

FIXINGS = (
    "staples", "tacks", "tack strip", "card strip", "gripper strip", "hand stitches", "machine seam", "glue", "pins",
    "twine", "zip", "screws", "bolts", "clips", "nails", "loose",
)  # fmt: skip


@dataclass(frozen=True)
class Mark:
    """A mark written on an old panel before it leaves the frame."""

    key: str
    name: str
    how: str


_MARKS = (
    Mark("top", "Top", "an arrow to its top"),
    Mark("nap", "Nap", "an arrow the way the pile lies"),
    Mark("centre", "Centre", "a notch at the middle of each side"),
    Mark("seam", "Seam meetings", "where a seam meets a neighbour, on both"),
    Mark("fly", "Fly", "where a fly starts and where it ends"),
    Mark("screws", "Screw holes", "where a screw goes through"),
    Mark("buttons", "Buttons", "where a button sits"),
    Mark("fold", "Fold", "where the fold was"),
)
MARKS: dict[str, Mark] = {m.key: m for m in _MARKS}
FATES = {
    "pattern": "pattern for the new one",
    "reuse": "goes back on this piece",
    "scrap": "reference scrap",
    "spare": "spare for repair",
    "waste": "waste",
}
KEPT_FATES = ("scrap", "spare")  # these go to the workroom's store
USUAL_FATE = {"panel": "pattern", "hardware": "reuse"}
_SAVED_AS = {"bottom cloth": "bottom cloth", "trim": "trim", "hardware": "screws and bolts"}
SAVED = {
    "card strip": "length", "tack strip": "length", "gripper strip": "length", "welt cord": "length", "zip": "length",
    "trim": "length", "foam": "size", "board": "size", "bottom cloth": "size", "cloth scrap": "size",
    "screws and bolts": "count", "buttons": "count",
}  # fmt: skip
LEAST_LEFT = 12.0  # mm all round that must be left to hold, where a cover is saved


def marks_for(kind: Kind, part: Part) -> tuple[Mark, ...]:
    """Return the marks that a part needs before it leaves the frame; hardware and trim need none.

    Seam meetings where it is sewn to another, fly start and end where it runs out of sight, screws where hardware goes
    through what it covers, folds where it is wrapped round a corner, buttons where it has them. Source: trade rules of
    stripping."""
    if part.what != "panel":
        return ()
    keys = ["top", "nap", "centre"]
    if any(m.is_seam for m in kind.meetings_of(part.key)):
        keys.append("seam")
    if "fly" in part.joins.values() or "tucked" in part.joins.values():
        keys.append("fly")
    if _is_screwed(kind, part):
        keys.append("screws")
    if part.buttons:
        keys.append("buttons")
    wrapped = [part.joins.get(edge) in ("stapled_under", "turned_under") for edge in part.edges]
    if part.form != "disc" and any(a and b for a, b in zip(wrapped, wrapped[1:] + wrapped[:1], strict=True)):
        keys.append("fold")
    return tuple(MARKS[k] for k in MARKS if k in keys)


def _is_screwed(kind: Kind, part: Part) -> bool:
    """Whether screws go into what it covers: hardware held by screws lies over it, straight or over its bottom
    cloth.
    """
    if not part.padded or not kind.screws:
        return False
    over = {b for a, b in kind.over if a == part.key}
    over |= {b for a, b in kind.over if a in over and kind.part(a).what == "bottom cloth"}
    return any(kind.part(k).what == "hardware" and "screws" in kind.part(k).held for k in over)


@dataclass(frozen=True)
class LeftToHold:
    """An edge of a cover that is saved: how it was held, how many mm are left of it to hold, and whether that is
    enough.
    """

    edge: str
    join: str
    left: float

    @property
    def is_enough(self) -> bool:
        """Whether it can be held again: 12 mm at the least."""
        return self.left >= LEAST_LEFT


FRAYS = 5.0  # mm that a woven edge loses when it comes off and goes on once more


def left_to_hold(part: Part, rules: Rules = USUAL, *, frays: float = FRAYS) -> tuple[LeftToHold, ...]:
    """Return what is left to hold of each edge of a cover that is saved: what it had beyond its line, less what frays
    away.

    A seam that is not ripped stays whole and is not among them. Source: trade rule, at least 12 mm all round.
    """
    ripped = ((edge, join) for edge, join in part.joins.items() if join not in ("sewn", "zip", "fly", "on_fold"))
    return tuple(LeftToHold(edge, join, rules.adds(join) - frays) for edge, join in ripped)


def known_marks(keys: Collection[str]) -> tuple[str, ...]:
    """Return the keys in the table's order; BadInput for one that is not in it."""
    for key in keys:
        if key not in MARKS:
            raise BadInput("marks", key, "one of " + ", ".join(MARKS))
    return tuple(key for key in MARKS if key in keys)


def known_fixings(words: Collection[str]) -> tuple[str, ...]:
    """Return the fixings in the table's order; BadInput for one that is not in it."""
    for word in words:
        if word not in FIXINGS:
            raise BadInput("fixings", word, "one of " + ", ".join(FIXINGS))
    return tuple(word for word in FIXINGS if word in words)


def usual_fixings(part: Part) -> tuple[str, ...]:
    """Return the fixings of the table that usually hold a part."""
    told = " ".join(part.held)
    usual = [f for f in FIXINGS if f in told or (f == "machine seam" and ("sewn" in told or "stitching" in told))]
    return tuple(usual)


def usual_fate(part: Part) -> str:
    """Return what usually becomes of a part that comes off: panels are patterns, hardware goes back; "" else."""
    return USUAL_FATE.get(part.what, "")


def saved_as(part: Part) -> str:
    """Return as what a part that is kept lies in the workroom's store: one of SAVED; a panel is a scrap of cloth."""
    return _SAVED_AS.get(part.what, "cloth scrap")


@dataclass(frozen=True)
class Entry:
    """One part as the record has it now. `bag` is the number of its bag, `contents` what is written on that."""

    is_off: bool = False
    off_number: int = 0
    marks: tuple[str, ...] = ()
    fate: str = ""
    bag: int | None = None
    contents: str = ""

    @property
    def is_kept(self) -> bool:
        """Whether it is still needed as a pattern or to go back on."""
        return self.fate in ("", "pattern", "reuse")


@dataclass(frozen=True)
class Check:
    """Something that the record lacks: its key, the part, what is wrong and what to do, in words."""

    key: str
    part: str
    words: str


def checks(kind: Kind, entries: Mapping[str, Entry]) -> tuple[Check, ...]:
    """Return what the record lacks, in the order in which things came off: each is a mistake that costs a panel later.

    No top marked; marks where a seam meets on one of the two only; one of a pair off while the work has gone
    on without the other, or kept while the other is thrown away; hardware with no bag, or a bag that says
    nothing of what is in it. Source: trade rules of stripping.
    """
    found: list[Check] = []
    last = max((e.off_number for e in entries.values()), default=0)
    off = sorted((k for k, e in entries.items() if e.is_off and kind.has(k)), key=lambda k: entries[k].off_number)
    for key in off:
        part, entry = kind.part(key), entries[key]
        if part.what == "panel" and entry.is_kept and "top" not in entry.marks:
            found.append(Check("no_top", key, f"{part.name}: no top marked. Draw the arrow before it is turned round."))
        if part.what == "hardware" and entry.fate != "waste":
            found += _about_its_bag(part, entry)
        if part.mirror and part.mirror in entries and kind.has(part.mirror):
            found += _about_the_pair(part, entry, kind.part(part.mirror), entries[part.mirror], last)
    for meeting in kind.meets:
        if meeting.is_seam:
            found += _about_a_seam(kind, meeting, entries)
    return tuple(found)


def _about_its_bag(part: Part, entry: Entry) -> list[Check]:
    if entry.bag is None:
        return [Check("no_bag", part.key, f"{part.name}: in no bag. Bag it and number it.")]
    if not entry.contents:
        return [Check("empty_bag", part.key, f"Bag {entry.bag}: what is in it? Count the {part.name.lower()}.")]
    return []


def _about_the_pair(part: Part, entry: Entry, other: Part, partner: Entry, last: int) -> list[Check]:
    if not partner.is_off and last > entry.off_number and other.is_on_old:
        words = f"{other.name}: still on, and {part.name.lower()} is off. A pair goes together."
        return [Check("pair", other.key, words)]
    if partner.is_off and entry.is_kept and entry.fate and partner.fate == "waste":
        words = f"{other.name}: thrown away. {part.name} alone is left of the pair; mirror it for the other."
        return [Check("pair", other.key, words)]
    return []


def _about_a_seam(kind: Kind, meeting: Meeting, entries: Mapping[str, Entry]) -> list[Check]:
    first, second = entries.get(meeting.one), entries.get(meeting.other)
    if first is None or second is None or not all(e.is_off and e.is_kept for e in (first, second)):
        return []
    if ("seam" in first.marks) == ("seam" in second.marks):
        return []
    has, lacks = (meeting.one, meeting.other) if "seam" in first.marks else (meeting.other, meeting.one)
    marked = kind.part(has).name.lower()
    words = f"{kind.part(lacks).name}: no mark where its seam meets the {marked}, which has one. Mark the partner."
    return [Check("seam", lacks, words)]


def bag_number(taken: Sequence[int]) -> int:
    """Return the next number for a bag: the least that no bag has."""
    return next(n for n in range(1, len(taken) + 2) if n not in taken)
