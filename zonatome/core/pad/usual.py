"""Which panels of a kind have a pad, and what each is usually built of: the schools there are, as data."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from zonatome.core.pad.stack import Layer, Stack
from zonatome.core.survey.kind import Kind, Part

Role = Literal["seat", "back", "arm", "wing", "facing", "arm pad", "stool", "cushion", "bolster", "thin"]
RAIL = 45.0  # mm: the usual width of a seat frame's rails
CUSHION_HEIGHT = 100.0  # mm, where no boxing says it


@dataclass(frozen=True)
class UsualStack:
    """A usual way to build a pad: its key, its name, its layers from the wood out, the rails that it needs."""

    key: str
    name: str
    stack: Stack


_ROLES: tuple[tuple[str, Role], ...] = (
    ("inside_back", "back"), ("inside_arm", "arm"), ("inside_wing", "wing"), ("arm_pad", "arm pad"), ("arm_front", "facing"),
    ("facing", "facing"), ("cushion_top", "cushion"), ("inner", "thin"), ("seat", "seat"), ("back", "back"), ("top", "stool"),
    ("cover", "stool"),
)  # fmt: skip
_ON_BOARDS = ("drop_in", "square_stool", "round_stool", "ottoman", "bench_box", "desk_chair")
NO_PADS = ("seat_deck",)
OF_A_CUSHION = ("bottom", "boxing", "zip_upper", "zip_lower", "end")  # what Trace adds to the face of a loose one


def role_of(kind: Kind, part: Part) -> Role | None:
    """Return what a panel's pad is for: seat, back, arm and so on; None for a panel without one."""
    if part.what != "panel" or part.key.startswith(NO_PADS) or _face_of(kind, part) is not None:
        return None
    sewn_to = sewn_to_face(kind, part.key)
    if "end" in sewn_to or "bottom" in sewn_to:
        return "bolster" if "end" in sewn_to else "cushion"
    if part.key == "top" and kind.key == "bench_box" and any(p.key.startswith("boxing") for p in kind.panels):
        return "cushion"
    if part.key == "back" and not part.padded:
        return None  # a box has a back too
    found = next((role for stem, role in _ROLES if part.key == stem or part.key.startswith(f"{stem}_")), None)
    if found is not None:
        return found
    return "seat" if part.padded else None


def _what_of(part: Part, face: str) -> str:
    """What a panel is of the loose cushion with this face; nothing where it is none of its panels."""
    stem, _, rest = part.key.partition(f"{face}_")
    what = rest.rstrip("0123456789").rstrip("_")
    return what if not stem and what in OF_A_CUSHION else ""


def _face_of(kind: Kind, part: Part) -> str | None:
    """The face of the loose cushion that a panel is sewn into as another of its panels; None for all others."""
    return next((p.key for p in kind.panels if part.key.startswith(f"{p.key}_") and _what_of(part, p.key)), None)


def sewn_to_face(kind: Kind, face: str) -> dict[str, Part]:
    """Return the panels that Trace has added to the face of a loose cushion, by what they are: `bottom`, `boxing`,
    `zip_upper`, `zip_lower`; the `end` of a bolster.
    """
    return {what: part for part in kind.panels if (what := _what_of(part, face))}


def pads_of(kind: Kind) -> tuple[Part, ...]:
    """Return the panels of the new cover that have a pad under them, in the kind's order."""
    return tuple(part for part in kind.panels if role_of(kind, part) is not None)


def _foam(thickness: float, grade: str = "medium", school: str = "over") -> Layer:
    return Layer("foam", thickness, foam=grade, school=school)


_WADDING = Layer("wadding", 10)
_THIN_WADDING = Layer("wadding", 6)
_HESSIAN = Layer("hessian", 1)
_SEAT_ELASTIC = Layer("elastic", 2, stretch=0.12)
_BACK_ELASTIC = Layer("elastic", 2, stretch=0.08)
_OLD = Layer("old_pad", 40, kept=True)


def _kept(foam: float) -> UsualStack:
    return UsualStack("kept", "old pad kept, a layer on it", Stack((_OLD, _foam(foam, "medium"), _WADDING)))


_SEATS = (
    UsualStack("sinuous", "sinuous springs and foam", Stack((Layer("sinuous", 32), _HESSIAN, Layer("edge_roll", 20, way="front"), _foam(75, "firm"), _WADDING), rail=RAIL)),
    UsualStack("coil", "coil springs, coir and cotton", Stack((Layer("webbing", 2), Layer("coil", 110), _HESSIAN, Layer("edge_roll", 25, way="front"), Layer("coir", 30), Layer("cotton", 20), _WADDING), rail=RAIL)),
    UsualStack("webbed", "webbing and foam", Stack((_SEAT_ELASTIC, _HESSIAN, _foam(75, "firm"), _WADDING), rail=RAIL)),
    _kept(25),
)  # fmt: skip
_DINING = (
    UsualStack("board", "foam on a board", Stack((_foam(40), _WADDING))),
    UsualStack("webbed", "webbing, hessian and foam", Stack((Layer("webbing", 2), _HESSIAN, _foam(40, "firm"), _WADDING), rail=40)),
    UsualStack("coir", "webbing, coir and cotton", Stack((Layer("webbing", 2), _HESSIAN, Layer("coir", 25), Layer("cotton", 20), _WADDING), rail=40)),
    _kept(15),
)  # fmt: skip
_BACKS = (
    UsualStack("webbed", "elastic webbing and foam", Stack((_BACK_ELASTIC, _HESSIAN, _foam(50, "soft"), _WADDING), rail=RAIL)),
    UsualStack("coir", "webbing, coir and cotton", Stack((Layer("webbing", 2), _HESSIAN, Layer("coir", 20), Layer("cotton", 25), _WADDING), rail=RAIL)),
    UsualStack("board", "foam on a board", Stack((_foam(40, "soft"), _WADDING))),
    _kept(20),
)  # fmt: skip
_ARMS = (
    UsualStack("foam", "foam on the arm's panel", Stack((_foam(25), _WADDING))),
    UsualStack(
        "coir", "hessian, coir and cotton", Stack((_HESSIAN, Layer("coir", 15), Layer("cotton", 20), _THIN_WADDING))
    ),
    _kept(12),
)
_USUAL: dict[Role, tuple[UsualStack, ...]] = {
    "seat": _SEATS,
    "back": _BACKS,
    "arm": _ARMS,
    "wing": (
        UsualStack("foam", "thin foam", Stack((_foam(20, "soft"), _WADDING))),
        UsualStack("cotton", "hessian and cotton", Stack((_HESSIAN, Layer("cotton", 20), _THIN_WADDING))),
        _kept(10),
    ),
    "facing": (
        UsualStack("foam", "thin foam on its board", Stack((_foam(10, school="flush"), _THIN_WADDING))),
        UsualStack("cotton", "cotton on its board", Stack((Layer("cotton", 10),))),
    ),
    "arm pad": (
        UsualStack("foam", "foam, edge pulled over", Stack((_foam(20, "firm", "rounded"), _THIN_WADDING))),
        UsualStack("coir", "coir and cotton", Stack((_HESSIAN, Layer("coir", 15), Layer("cotton", 15), _THIN_WADDING))),
        _kept(10),
    ),
    "stool": (
        UsualStack("board", "foam on a board", Stack((_foam(50, "firm"), _WADDING))),
        UsualStack("crowned", "foam with a crown", Stack((Layer("crown", 20, foam="firm"), _foam(40, "firm"), _WADDING))),
        UsualStack("coir", "coir and cotton", Stack((Layer("coir", 30), Layer("cotton", 20), _WADDING))),
        _kept(15),
    ),
    "cushion": (
        UsualStack("foam", "foam wrapped in wadding", Stack((_foam(100, "medium", "cushion"), _WADDING))),
        UsualStack("two", "firm foam, soft above", Stack((_foam(75, "firm", "cushion"), _foam(25, "soft", "cushion"), _WADDING))),
    ),
    "bolster": (
        UsualStack("discs", "discs of foam, wrapped in wadding", Stack((_foam(100, "medium", "cushion"), _WADDING))),
        UsualStack("round", "firm discs, soft foam round them", Stack((_foam(100, "firm", "cushion"), _foam(25, "soft", "flush"), _WADDING))),
    ),
    "thin": (UsualStack("thin", "thin foam inside the seams", Stack((_foam(10, "medium", "thin"),))),),
}  # fmt: skip


def usual_stacks(kind: Kind, part: Part) -> tuple[UsualStack, ...]:
    """Return the ways in which this panel's pad is usually built, the most usual first; none for one without a pad."""
    role = role_of(kind, part)
    if role is None:
        return ()
    if role in ("seat", "back") and (kind.key in _ON_BOARDS or part.height <= 380):
        return _DINING if role == "seat" else (_BACKS[2], _BACKS[0], _BACKS[3])
    if kind.key == "side_chair" and role == "seat":
        return (_DINING[1], _SEATS[0], _DINING[2], _DINING[3])
    if kind.key in ("show_wood", "hall") and role == "seat":
        return (_SEATS[1], _SEATS[2], _SEATS[3])
    return _USUAL[role]


def usual_stack(kind: Kind, part: Part) -> Stack:
    """Return the most usual stack of a panel; foam and wadding for one whose kind says nothing of a pad."""
    found = usual_stacks(kind, part)
    return found[0].stack if found else _DINING[0].stack
