"""The panels of a cushion on a job: those that the furniture has take its shapes, the others are added, sewn as a
cushion is.
"""

from __future__ import annotations

from dataclasses import replace

from zonatome.core.rules import USUAL, Rules
from zonatome.core.survey.furniture import checked, key_for
from zonatome.core.survey.kind import Kind, Meeting, Part
from zonatome.core.survey.kinds import cushion_seams
from zonatome.core.trace.derived import Cushion
from zonatome.core.trace.shape import Shape

BOTTOM = "bottom"
BOXING = "boxing"
UPPER = "zip_upper"
LOWER = "zip_lower"
ROLES = {"Cushion bottom": BOTTOM, "Cushion back": BOTTOM, "Cushion boxing": BOXING, "Bolster end": "end"}
NAMES = {
    BOTTOM: "bottom",
    BOXING: "boxing",
    UPPER: "zip strip, upper half",
    LOWER: "zip strip, lower half",
    "end": "end",
}


def cushion_panels(
    kind: Kind, key: str, name: str, made: Cushion, *, rules: Rules = USUAL
) -> tuple[Kind, dict[str, Shape]]:
    """Return the furniture with all panels of a cushion on the face in hand, and the shape of each by its key.

    The face takes the cushion's first piece. Where it is sewn into a cushion already, those panels take the others;
    else they are added: boxing round front and both sides, the zip strip's halves round the back corners, the other
    face.
    """
    first, rest = made.pieces[0], made.pieces[1:]
    pieces: dict[str, tuple[Shape, int]] = {}
    for piece in rest:
        if piece.shape.name.startswith("Zip strip"):
            half = piece.shape
            pieces[UPPER] = (half.turned(2), 1)  # its zip below
            pieces[LOWER] = (half, 1)
        else:
            pieces[ROLES[piece.shape.name]] = (piece.shape, piece.count)
    known = _there(kind, key)
    if set(pieces) <= set(known):
        shapes = {known[role]: replace(shape, name=kind.part(known[role]).name) for role, (shape, _) in pieces.items()}
        shapes[key] = replace(first.shape, name=name)
        parts = tuple(_sized(p, shapes[p.key], pieces, known) if p.key in shapes else p for p in kind.parts)
        kind = checked(replace(kind, parts=parts))
        return kind, {k: s.held_as(kind.part(k), rules) for k, s in shapes.items()}
    return _with_new(kind, key, name, made, pieces, rules)


def _there(kind: Kind, key: str) -> dict[str, str]:
    """The panels of the cushion that a face is sewn into, by what they are."""
    found = {}
    for other in kind.sewn_with(key):
        if other == key:
            continue
        for role in (UPPER, LOWER):
            if "zip" in other and other.endswith(role.partition("_")[2]):
                found[role] = other
        if "boxing" in other and "end" not in other:
            found[BOXING] = other
        if other.endswith("bottom"):
            found[BOTTOM] = other
    if any("boxing_end" in other for other in kind.sewn_with(key)):
        found.pop(BOXING, None)  # this one has its boxing in three
    return found


def _sized(part: Part, shape: Shape, pieces: dict[str, tuple[Shape, int]], known: dict[str, str]) -> Part:
    count = next((n for role, (_, n) in pieces.items() if known.get(role) == part.key), part.per_furniture)
    return replace(part, width=shape.outline.width, height=shape.outline.height, width_above=None, per_furniture=count)


def _with_new(
    kind: Kind, key: str, name: str, made: Cushion, pieces: dict[str, tuple[Shape, int]], rules: Rules
) -> tuple[Kind, dict[str, Shape]]:
    keys = {"top": key}
    for role in pieces:
        keys[role] = key_for(f"{key} {role}", [p.key for p in kind.parts] + list(keys.values()))
    top = made.pieces[0].shape
    face = replace(kind.part(key), width=top.outline.width, height=top.outline.height, width_above=None)
    parts = [face if p.key == key else p for p in kind.parts]
    is_round = len(top.edges) == 1
    for role, (shape, count) in pieces.items():
        joins = {e: _join_on(shape, e) for e in ("bottom", "right", "top", "left")}
        part = Part(
            keys[role], f"{name}, {NAMES[role]}"[:60], NAMES[role].split(",")[0], width=shape.outline.width,
            height=shape.outline.height,
            on=None, held=("sewn",), joins={"round": "sewn"} if len(shape.edges) == 1 else joins,
            stands=role not in (BOTTOM, "end"),
            form="disc" if len(shape.edges) == 1 else "four-sided", per_furniture=count, cover="new",
            centred=role == BOTTOM and face.centred,
            contrast=face.contrast,
        )  # fmt: skip
        on, side, by = {BOXING: (key, "bottom", "top"), UPPER: (key, "top", "top"), LOWER: (keys.get(UPPER), "bottom",
        "top"),
                        BOTTOM: (keys.get(BOXING, key), "bottom", "bottom"), "end": (key, "left",
                        "right")}[role]  # fmt: skip
        parts.append(replace(part, on=on, side=side, by=by))  # type: ignore[arg-type]
    meets = [m for m in kind.meets if not m.of(key)]
    if made.sort in ("box", "T") and {BOXING, UPPER, LOWER, BOTTOM} <= set(pieces):
        meets += cushion_seams(*(keys[role] for role in ("top", BOXING, UPPER, LOWER, BOTTOM)))
    elif made.sort == "knife edge":
        meets += _knife_seams(keys, is_round)
    group = tuple(keys.values())
    together = (*(g for g in kind.together if key not in g), group) if len(group) > 1 else kind.together
    if made.sort in ("box", "T", "knife edge"):
        parts = [
            replace(p, joins={}) if p.key in group and p.form != "disc" and made.sort != "knife edge" else p
            for p in parts
        ]
    kind = checked(replace(kind, parts=tuple(parts), meets=tuple(meets), together=together))
    shapes = {keys[role]: replace(shape, name=kind.part(keys[role]).name) for role, (shape, _) in pieces.items()}
    shapes[key] = replace(top, name=name)
    held = {k: s.held_as(kind.part(k), rules) if made.sort in ("box", "T") else s for k, s in shapes.items()}
    return kind, held


def _join_on(shape: Shape, edge: str) -> str:
    return next((e.join for e in shape.edges if e.lies_on(edge)), "sewn")


def _knife_seams(keys: dict[str, str], is_round: bool) -> list[Meeting]:
    top, bottom = keys["top"], keys[BOTTOM]
    if is_round:
        return [Meeting(top, "round", bottom, "round", "sewn")]
    return [
        Meeting(top, "bottom", bottom, "bottom", "sewn"), Meeting(top, "right", bottom, "left", "sewn"),
        Meeting(top, "left", bottom, "right", "sewn"), Meeting(top, "top", bottom, "top", "zip"),
    ]  # fmt: skip
