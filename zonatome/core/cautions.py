"""Short cautions, each for the step where the work can hurt someone. They defer to local rules."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass


@dataclass(frozen=True)
class Caution:
    """A caution: its key, what it is about, what to do."""

    key: str
    title: str
    words: str


_ROWS = (
    Caution("stubs", "Old dust and tack points.", "Mask and glasses on; feel for stubs with a gloved hand before an arm rests on the rail. Springs may be under tension."),
    Caution("foam_dust", "Crumbling or unknown filling.", "Mask on and bag it. If it looks like nothing you know, stop and ask a specialist."),
    Caution("unknown_filling", "A filling that you don't know.", "Leave it where it is and close it up. Old fillings can be harmful; ask a specialist before anything is opened."),
    Caution("mould", "Mould.", "Mask and gloves, out of doors, bag it at once. Nothing with mould goes back in; if it has gone far, ask a specialist."),
    Caution("insects", "Insects may live in it.", "Keep it apart from other furniture and cloth, bag what comes off, and ask a specialist before it goes on."),
    Caution("springs", "Springs under tension.", "Cut twine one knot at a time with a hand on the spring, glasses on, face out of line."),
    Caution("screws_under", "Something heavy comes loose.", "Support it before the last screw is out, and lift it with two."),
    Caution("gas_lift", "Gas lift.", "It is pressurised. Never open, heat or pierce it; if it fails, the whole lift is changed."),
    Caution("structure", "The seat carries people.", "Cracked rails and failed joints are a joiner's work; follow local rules before it goes back in use."),
    Caution("air_stapler", "Air stapler.", "Glasses on, the free hand out of the line of fire, air off before you clear a jam. Begin about 3 bar and try it on scrap."),
    Caution("blades", "Blades.", "Cut away from the hand that holds the cloth. A cut is final: check all pieces, arrows and pairs first."),
    Caution("blades_off", "Ripping blades.", "Cut away from you and along the seam, the free hand behind the blade."),
    Caution("spray_glue", "Solvent and spray glue.", "Open air, mask on, no flame near. Leave it as long as the tin says."),
    Caution("hot_glue", "Hot glue burns.", "Press with a stick, not with the finger."),
    Caution("needle", "Needle and fingers.", "Foot off the pedal before a hand goes near the needle."),
    Caution("fire_rules", "Fire behaviour is regulated in many places.", "Record what the seller certifies and ask your local rules and a qualified tester, above all for public seats. Nothing here says that a piece complies."),
    Caution("oily_rags", "Oily rags catch fire by themselves.", "Spread them flat outdoors or put them under water."),
    Caution("old_paint", "Old paint may hold lead.", "Test before you sand; follow local rules."),
    Caution("bleach", "Bleach is never mixed.", "Not with acid, ammonia or anything else, nor in the same bucket after it. Open air, gloves, and rinse."),
    Caution("saws", "Saws and drills.", "Work clamped, glasses on, no glove or loose sleeve near what turns; unplug before you change a blade or bit."),
    Caution("electric", "Anything electric.", "Reclining motors, heaters, lights in the seat: unplug it, and leave wiring to a licensed electrician."),
    Caution("foam_knife", "Long blades and hot wire.", "Cut foam away from the hand that holds it; a hot wire only in open air."),
    Caution("lifting", "Lifting.", "Two people for anything over a bench's height."),
)  # fmt: skip
CAUTIONS: dict[str, Caution] = {row.key: row for row in _ROWS}

BY_STEP: dict[str, tuple[str, ...]] = {
    "survey": ("structure", "electric", "lifting"),
    "strip": ("stubs", "lifting"),
    "lay": ("blades",),
    "pad": ("spray_glue", "foam_knife", "fire_rules"),
    "fasten": ("air_stapler", "needle"),
    "trim": ("hot_glue", "needle"),
    "finish": ("old_paint", "saws", "bleach", "oily_rags", "lifting", "fire_rules"),
}


BY_MATERIAL = ("spray_glue", "foam_knife")  # of the pad step: said where foam is cut and glued
WHERE_HANDS_GO = ("survey", "strip", "pad", "finish")
LAYERS_WITH_SPRINGS = "spring"


def cautions_for(step: str, *, kind_cautions: tuple[str, ...] = (), found: tuple[str, ...] = ()) -> tuple[Caution, ...]:
    """Return the cautions of a step: what was found in this piece and the furniture's own first, where hands go into
    it.

    `kind_cautions` are the kind's keys, `found` those that the survey's findings call for.
    """
    own = (*found, *kind_cautions) if step in WHERE_HANDS_GO else ()
    return tuple(CAUTIONS[key] for key in dict.fromkeys((*own, *BY_STEP.get(step, ()))))


def cautions_used(cautions: tuple[Caution, ...], used: Iterable[str]) -> tuple[Caution, ...]:
    """Return a step's cautions with those of what is used in it first, and without those of what is not.

    Of the step's own, only what belongs to no material stands whatever is used: the fire rules.
    """
    keys = dict.fromkeys((*used, *(c.key for c in cautions if c.key not in BY_MATERIAL)))
    return tuple(CAUTIONS[key] for key in keys)


def cautions_off(what: str, held: tuple[str, ...], layers: tuple[str, ...], *, is_seat: bool) -> tuple[Caution, ...]:
    """Return the cautions for taking one thing off: by what it is, how it is held, and what lies under a seat."""
    keys = []
    if any("staple" in h or "tack" in h or "strip" in h or "nails" in h for h in held):
        keys.append("stubs")
    if is_seat and any(LAYERS_WITH_SPRINGS in layer for layer in layers):
        keys.append("springs")
    if any("stitch" in h or "sewn" in h or "seam" in h or "twine" in h for h in held):
        keys.append("blades_off")
    if what == "hardware":
        keys.append("screws_under")
    return tuple(CAUTIONS[key] for key in keys)
