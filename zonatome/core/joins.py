"""How an edge is held, and what that adds outside the finished line.

The trade's usual allowances; a workroom or a single edge may take another.
"""

from __future__ import annotations

from dataclasses import dataclass

from zonatome.core.errors import BadInput

DEPTH_OF_GAP = 60.0  # how deep the gap between seat and back usually is before the rail is reached


@dataclass(frozen=True)
class Join:
    """A way to hold an edge: its key, its words, what it adds, what to know."""

    key: str
    name: str
    adds: float
    note: str = ""


_ROWS = (
    Join("sewn", "sewn", 13, "6 mm on tight curves and on stretchy covers that must fit snugly"),
    Join(
        "stapled_under",
        "pulled over and stapled under",
        50,
        "beyond the rail's lower edge; 75 to 100 mm for a hand-hold, trimmed later",
    ),
    Join(
        "tucked",
        "tucked through and stapled behind",
        DEPTH_OF_GAP + 50,
        "the depth of the gap + 50 mm, or a fly from the tuck line on",
    ),
    Join("fly", "on a fly", 13, "at the line where it goes out of sight"),
    Join("raw_under_trim", "raw, under trim", 25, "for the hand; trimmed flush to the rebate after stapling"),
    Join("turned_under", "turned under on show", 15, "around legs and arms"),
    Join("card_strip", "card strip", 20),
    Join("tack_strip", "tack strip", 22, "folded round the strip"),
    Join(
        "gripper_strip",
        "gripper strip",
        14,
        "trimmed to this only after the panel is tucked and pulled; cut early it comes out short",
    ),
    Join("glued", "glued and tucked", 10, "more sticks out"),
    Join("zip", "zip", 22),
    Join("cord_hem", "cord in a hem", 25),
    Join("on_fold", "on the fold", 0),
)
# held on the frame: a panel with no other edges wraps its pad, and grows with it
SHORT_OF_LINE = 5.0  # mm that a slit, a notch or a snip into what is turned under ends short of the finished line
WRAPPED = ("stapled_under", "raw_under_trim", "turned_under", "card_strip", "tack_strip", "gripper_strip", "glued")
JOINS: dict[str, Join] = {row.key: row for row in _ROWS}


def join_named(key: str, *, at: str = "join") -> Join:
    """Return the join of this key; BadInput names the ones there are."""
    if key not in JOINS:
        raise BadInput(at, key, "one of " + ", ".join(JOINS))
    return JOINS[key]
