"""What a kind of furniture is made of: parts, what lies over what, usual layers.

Left and right are as one sits in it.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from zonatome.core.errors import BadInput

What = Literal["panel", "bottom cloth", "trim", "hardware"]
Side = Literal["top", "right", "bottom", "left"]
Form = Literal["four-sided", "disc"]


@dataclass(frozen=True)
class Part:
    """One thing that comes off: a panel of the cover, the bottom cloth, a trim, or hardware.

    `width` and `height` are usual measures in mm, before a shape exists. `on` and `side` say which side of
    which neighbour it touches on the opened-out drawing; `far` is the length of its far side over its near
    one. `held` lists how its edges are usually held, `joins` the join of each side of its shape. `padded`
    parts wrap a board or a pad; `mirror` names the part that it is one of a pair with.
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
    joins: dict[Side, str] = field(default_factory=dict)
    padded: bool = False
    per_furniture: int = 1
    mirror: str | None = None
    deck: bool = False

    @property
    def is_cut(self) -> bool:
        """Whether it is cut from cloth by a shape of its own."""
        return self.what in ("panel", "bottom cloth")


@dataclass(frozen=True)
class Kind:
    """A kind of furniture. `over` holds pairs (under, over): `under` goes on before `over`."""

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

    def part(self, key: str) -> Part:
        """Return a part by its key; BadInput names those there are."""
        for part in self.parts:
            if part.key == key:
                return part
        raise BadInput("part", key, "one of " + ", ".join(p.key for p in self.parts))

    @property
    def panels(self) -> tuple[Part, ...]:
        """The parts that are cut from the cover's cloths (the bottom cloth is the trim step's)."""
        return tuple(p for p in self.parts if p.what == "panel")
