"""What is done to put one panel on, in order; what must be true before it, and what one looks at when it is on."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from zonatome.core.fasten.closings import CLOSED_FROM
from zonatome.core.fasten.rails import ON
from zonatome.core.survey.kind import Kind, Part

TRIMMED = 10.0  # mm that the surplus keeps beyond the staples


@dataclass(frozen=True)
class Tick:
    """One thing to be sure of: its key, the words, what to look at."""

    key: str
    words: str
    look: str


SQUARE = {
    "top": Tick("top", "Its top is up", "the arrow on the back of the cloth points up, or to the back where it lies"),
    "nap": Tick(
        "nap", "The nap runs as on its neighbours", "stroke it: down where it stands, to the front where it lies"
    ),
    "motif": Tick("motif", "The motif sits in the middle", "the notch of its middle on the mark of the rail"),
    "seams": Tick("seams", "Seams fall on the corners", "each seam on its leg or post, turned one way"),
}


@dataclass(frozen=True)
class Stage:
    """One stage of putting a panel on: its key, its title, one line of what it is."""

    key: str
    title: str
    words: str


@dataclass(frozen=True)
class LookAt:
    """What people look at on a finished panel: what is wrong, the usual cause, the cure."""

    key: str
    wrong: str
    cause: str
    cure: str


LOOK_OVER: tuple[LookAt, ...] = (
    LookAt("ripple", "A ripple along an edge", "staples too far apart, or pulled from one side only",
           "draw the staples of that stretch, pull from the middle out, answer each with its opposite"),
    LookAt("lines", "Tight lines from a staple", "that one was pulled harder than its neighbours",
           "take out that one staple, let it lie, set it again"),
    LookAt("dent", "A dent or a bump", "padding torn or folded, a staple's crown below, a hole in the foam",
           "lift the edge there and lay wadding in, split thin to its edge"),
    LookAt("stripe", "The stripe runs off at the front rail", "the middle was beside its mark, or a side pulled first",
           "back to the middle: notch on mark, front and back first, then the sides"),
    LookAt("seam", "A seam beside its corner", "the cover is turned on its pad, or the pad is not square",
           "loosen the sides, turn the cover over wadding or a plastic bag, pull down again"),
    LookAt("alike", "Both arms are not alike", "pads of different height, or pulled by two hands",
           "measure both from the floor, start the second with the first one's plan"),
    LookAt("corner", "A corner gapes or stands off", "cut too deep, or too much cloth left under the fold",
           "close it with a ladder stitch; on the next, cut less"),
    LookAt("loose", "It can be pushed aside by hand", "the pad gave more than was reckoned",
           "draw one side and pull again, or lay wadding on and start anew"),
)  # fmt: skip
LOOKS: dict[str, LookAt] = {row.key: row for row in LOOK_OVER}


def looks_for(part: Part, *, is_pair: bool, has_stripe: bool, is_sewn: bool) -> tuple[LookAt, ...]:
    """Return what to look at on this panel: stripes, seams and a pair's arms where it has them."""
    left_out = {
        "stripe": not has_stripe,
        "seam": not is_sewn,
        "alike": not is_pair,
        "loose": not part.padded and part.key.startswith("outside"),
    }
    return tuple(look for look in LOOK_OVER if not left_out.get(look.key))


def ticks_for(*, has_pattern: bool, has_nap: bool, is_sewn: bool) -> tuple[Tick, ...]:
    """Return the ticks before the second staple: its top; its nap, motif and seams where it has them."""
    wanted = {"top": True, "nap": has_nap, "motif": has_pattern, "seams": is_sewn}
    return tuple(SQUARE[key] for key, is_wanted in wanted.items() if is_wanted)


def before_it(
    kind: Kind, part: Part, *, on: Sequence[str], has_pad: bool | None, is_sewn: bool | None
) -> list[tuple[str, bool]]:
    """Return what must be true before a panel goes on, each with whether it is.

    `on` are the parts that are on already; `has_pad` says whether its pad is chosen, `is_sewn` whether the seams of the
    cover that it belongs to are all sewn; None where it has none.
    """
    found: list[tuple[str, bool]] = []
    if has_pad is not None:
        found.append(("its pad is built up", has_pad))
    for under, over in kind.over:
        if over == part.key and kind.has(under) and kind.part(under).what == "panel" and kind.part(under).is_on_new:
            name = kind.part(under).name
            found.append((f"{name[0].lower()}{name[1:]} is on", under in on))
    if is_sewn is not None:
        found.append(("its seams are sewn, seam surplus trimmed", is_sewn))
    if "fly" in part.joins.values():
        found.append(("flies are sewn on, and pulled through first", bool(is_sewn) or part.key in on))
    return found


def stages_of(
    part: Part, joins: Mapping[str, str], *, corners: int, curves: int, is_sewn: bool, is_round: bool
) -> tuple[Stage, ...]:
    """Return the stages of putting one panel on.

    `joins` says how each of its edges is held; `corners` how many corners it is folded at, `curves` how many of its
    edges are curved enough to be snipped.
    """
    held = [join for join in joins.values() if join in ON]
    closed = [join for join in joins.values() if join in CLOSED_FROM]
    stages = []
    if is_sewn:
        stages.append(Stage("sew", "Sew it", "seam after seam, the long run last"))
    if part.key.startswith(("facing", "arm_front")):
        stages.append(Stage("facing", "Make the facing", "two, mirrored, on thin board"))
    if held or closed:
        stages.append(Stage("square", "Lay it square", "before the second staple"))
    if held:
        sides = len(held)
        words = "round, by halving" if is_round else f"{sides} side{'s' if sides > 1 else ''}, the middle first"
        stages.append(Stage("staples", "Staple it", words))
    if corners:
        stages.append(Stage("corners", "Fold the corners", f"{corners}, the same fold on each"))
    elif is_round and held:
        stages.append(Stage("corners", "Lay the pleats", "even, all the same way"))
    stages.append(Stage("cuts", "Cuts on the furniture", "posts, legs, curved edges" if curves else "posts and legs"))
    if closed:
        stages.append(Stage("closings", "Close it", f"{len(closed)} edge{'s' if len(closed) > 1 else ''} on show"))
    if held:
        stages.append(Stage("surplus", "Trim the surplus", f"{TRIMMED:.0f} mm beyond the staples"))
    stages.append(Stage("look", "Look over", "what people look at"))
    return tuple(stages)


FACING_STEPS = (
    "Cut two from thin board, 3 mm, the second the first one's mirror image: lay them face to face, they lie on each "
    "other.",
    "Wadding of 12 mm on each face, its edge torn thin, 10 mm over the edge of the board.",
    "Wrap the cover, its middle on the board's middle; snips on the curves; staple or glue it on the back.",
    "Push it on with clips, or pin it with nails whose heads lie under the weave; the arm's cloth and the welt lie "
    "under its edge.",
)  # fmt: skip
