"""Short cautions, each for the step where the work can hurt someone. They defer to local rules."""

from __future__ import annotations

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
    Caution("gas_lift", "Gas lift.", "It is pressurised. Never open, heat or pierce it; if it fails, the whole lift is changed."),
    Caution("structure", "The seat carries people.", "Cracked rails and failed joints are a joiner's work; follow local rules before it goes back in use."),
    Caution("air_stapler", "Air stapler.", "Glasses on, the free hand out of the line of fire, air off before you clear a jam. Begin about 3 bar and try it on scrap."),
    Caution("blades", "Blades.", "Cut away from the hand that holds the cloth. A cut is final: check all pieces, arrows and pairs first."),
    Caution("spray_glue", "Solvent and spray glue.", "Open air, mask on, no flame near. Leave it as long as the tin says."),
    Caution("hot_glue", "Hot glue burns.", "Press with a stick, not with the finger."),
    Caution("needle", "Needle and fingers.", "Foot off the pedal before a hand goes near the needle."),
    Caution("fire_rules", "Fire behaviour is regulated in many places.", "Record what the seller certifies and ask your local rules and a qualified tester, above all for public seats. Nothing here says that a piece complies."),
    Caution("oily_rags", "Oily rags catch fire by themselves.", "Spread them flat outdoors or put them under water."),
    Caution("old_paint", "Old paint may hold lead.", "Test before you sand; follow local rules."),
    Caution("lifting", "Lifting.", "Two people for anything over a bench's height."),
)  # fmt: skip
CAUTIONS: dict[str, Caution] = {row.key: row for row in _ROWS}

BY_STEP: dict[str, tuple[str, ...]] = {
    "survey": ("structure",),
    "strip": ("stubs",),
    "lay": ("blades",),
    "pad": ("spray_glue", "fire_rules"),
    "fasten": ("air_stapler",),
    "trim": ("hot_glue",),
    "finish": ("fire_rules", "oily_rags"),
}


def cautions_for(step: str, *, kind_cautions: tuple[str, ...] = ()) -> tuple[Caution, ...]:
    """Return the cautions of a step, the furniture's own first at the steps where hands go into it."""
    own = kind_cautions if step in ("survey", "strip", "finish") else ()
    return tuple(CAUTIONS[key] for key in (*own, *BY_STEP.get(step, ())))
