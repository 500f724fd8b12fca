"""What a kind of furniture is made of: parts, joins between panels, what lies over what, usual layers.

Left and right are as one sits in it.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

from zonatome.core.errors import BadInput

What = Literal["panel", "bottom cloth", "trim", "hardware"]
Side = Literal["top", "right", "bottom", "left"]
Form = Literal["four-sided", "disc"]
Cover = Literal["both", "old", "new"]
SIDES: tuple[Side, ...] = ("top", "right", "bottom", "left")
ACROSS: dict[Side, Side] = {"top": "bottom", "right": "left", "bottom": "top", "left": "right"}
SEAMS = ("sewn", "zip", "fly")  # joins in which two panels are sewn to each other, or each to the same narrow strip


@dataclass(frozen=True)
class ButtonGrid:
    """Buttons on a panel: rows, columns, how far apart in mm across and down, how deep they are drawn."""

    rows: int
    columns: int
    across: float
    down: float
    deep: float

    @property
    def count(self) -> int:
        """How many there are."""
        return self.rows * self.columns


@dataclass(frozen=True)
class Part:
    """One thing that comes off or goes on: a panel of the cover, the bottom cloth, a trim, or hardware.

    `width` and `height` are usual measures in mm, before a shape exists. `on` and `side` say which side of
    which neighbour it touches on the opened-out drawing; `far` is the length of its far side over its near
    one. `held` lists how its edges are usually held, `joins` the join of each side of its shape. `padded`
    parts wrap a board or a pad; `mirror` names the part that it is one of a pair with. `cover` says whether
    it belongs to the old cover only (not made again), to the new one only, or to both. `layer` is a foam
    layer in mm that restyling lays on the old pad; `contrast` parts are of the second cloth.
    """

    key: str
    name: str
    short: str
    what: What = "panel"
    width: float = 0
    height: float = 0
    on: str | None = None
    side: Side = "top"
    far: float = 1.0
    form: Form = "four-sided"
    held: tuple[str, ...] = ()
    joins: Mapping[Side, str] = field(default_factory=dict)
    padded: bool = False
    per_furniture: int = 1
    mirror: str | None = None
    deck: bool = False
    cover: Cover = "both"
    contrast: bool = False
    layer: float = 0
    buttons: ButtonGrid | None = None

    @property
    def is_cut(self) -> bool:
        """Whether it is cut from cloth by a shape of its own."""
        return self.what in ("panel", "bottom cloth")

    @property
    def is_loose(self) -> bool:
        """Whether it only lies there, as a loose cushion does."""
        return self.held == ("loose",)

    @property
    def is_on_old(self) -> bool:
        """Whether the furniture came in with it."""
        return self.cover != "new"

    @property
    def is_on_new(self) -> bool:
        """Whether the furniture goes home with it."""
        return self.cover != "old"


@dataclass(frozen=True)
class Meeting:
    """Where two panels meet: a side of one along a side of the other, and by which join."""

    one: str
    one_side: Side
    other: str
    other_side: Side
    join: str

    @property
    def is_seam(self) -> bool:
        """Whether the two are sewn, so that marks on both must meet."""
        return self.join in SEAMS

    def of(self, key: str) -> bool:
        """Whether a panel is one of the two."""
        return key in (self.one, self.other)

    def partner(self, key: str) -> str:
        """Return the other one of the two."""
        return self.other if key == self.one else self.one


@dataclass(frozen=True)
class Variant:
    """Another usual make of a kind: parts that it lacks or has besides, pairs and joins that go or come.

    `instead_of` names variants that cannot stand beside it.
    """

    key: str
    name: str
    lacks: tuple[str, ...] = ()
    parts: tuple[Part, ...] = ()
    not_over: tuple[tuple[str, str], ...] = ()
    over: tuple[tuple[str, str], ...] = ()
    meets: tuple[Meeting, ...] = ()
    layers: tuple[str, ...] = ()
    instead_of: tuple[str, ...] = ()


@dataclass(frozen=True)
class Kind:
    """A kind of furniture, or one job's own. `over` holds pairs (under, over): `under` goes on before `over`."""

    key: str
    name: str
    parts: tuple[Part, ...]
    over: tuple[tuple[str, str], ...]
    layers: tuple[str, ...]
    feet: int = 4
    screws: int = 0
    needs: tuple[str, ...] = ()
    cautions: tuple[str, ...] = ()
    new_price: float = 150.0
    meets: tuple[Meeting, ...] = ()
    variants: tuple[Variant, ...] = ()

    @cached_property
    def _by_key(self) -> dict[str, Part]:
        return {part.key: part for part in self.parts}

    def has(self, key: str) -> bool:
        """Whether there is a part of this key."""
        return key in self._by_key

    def part(self, key: str) -> Part:
        """Return a part by its key; BadInput names those there are."""
        if key not in self._by_key:
            raise BadInput("part", key, "one of " + ", ".join(self._by_key))
        return self._by_key[key]

    @property
    def panels(self) -> tuple[Part, ...]:
        """The parts that are cut from the cover's cloths (the bottom cloth is the trim step's)."""
        return tuple(p for p in self.parts if p.what == "panel" and p.is_on_new)

    @property
    def old(self) -> tuple[Part, ...]:
        """The parts that the furniture came in with: what can come off."""
        return tuple(p for p in self.parts if p.is_on_old)

    def meetings_of(self, key: str) -> tuple[Meeting, ...]:
        """Return where a panel meets its neighbours."""
        return tuple(m for m in self.meets if m.of(key))


def drawn_meetings(parts: tuple[Part, ...]) -> tuple[Meeting, ...]:
    """Return the joins that the drawing shows: each panel with the neighbour that it is drawn against.

    A seam on either of the two sides is a seam for both; else the join is the one of the panel that lies over.
    """
    by_key = {p.key: p for p in parts}
    made = []
    for part in parts:
        host = by_key.get(part.on or "")
        if host is None or part.what != "panel" or part.is_loose:
            continue
        mine, theirs = part.joins.get(ACROSS[part.side]), host.joins.get(part.side)
        join = next((j for j in (mine, theirs) if j in SEAMS), mine or theirs or "stapled_under")
        made.append(Meeting(host.key, part.side, part.key, ACROSS[part.side], join))
    return tuple(made)
