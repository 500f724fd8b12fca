"""Is a shape ready to be cut, and is the set? Outline, joins, partners, pairs, tops, counts: each with what to do."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from typing import Literal

from zonatome.core.survey.kind import Kind
from zonatome.core.trace.partners import AGREES, Seam, seams_of
from zonatome.core.trace.shape import Shape

What = Literal["missing", "outline", "join", "seam", "notch", "pair", "top", "even", "pad", "count"]
UNEVEN = 6.0  # mm between the halves of a shape that is nearly even: more, and it is likely meant to be lopsided


@dataclass(frozen=True)
class Lack:
    """One thing that a shape is not ready for: which, of what sort, in words; `weight` 2 stops the cut, 1 is a warning.

    `partner` is the other one of a pair, where mirroring its shape makes the one that is missing.
    """

    key: str
    what: What
    words: str
    weight: int = 2
    partner: str = ""


@dataclass(frozen=True)
class Readiness:
    """What the shapes of a job lack, how many are ready, how many pieces there are to cut, and the seams."""

    lacks: tuple[Lack, ...]
    ready: tuple[str, ...]
    shapes: int
    panels: int
    pieces: int
    seams: tuple[Seam, ...]

    def of(self, key: str) -> tuple[Lack, ...]:
        """Return what one panel lacks."""
        return tuple(lack for lack in self.lacks if lack.key == key)

    @property
    def is_ready(self) -> bool:
        """Whether nothing stands in the way of cutting."""
        return not any(lack.weight == 2 for lack in self.lacks)


def readiness(
    kind: Kind,
    shapes: Mapping[str, Shape],
    *,
    count: int,
    untopped: Collection[str] = (),
    pads: Mapping[str, float] | None = None,
) -> Readiness:
    """Return whether the shapes of a set of `count` can be cut, by the trade's rule for a good one: every panel has
    one, seams agree, pairs are pairs, tops are marked.

    `untopped` names panels whose shape was traced from an old cover on which no top was marked; `pads` the ones whose
    pad has grown by so many mm (thinner: less than 0) since their shape was made.
    """
    seams = seams_of(kind, shapes)
    lacks: list[Lack] = []
    for part in kind.panels:
        shape = shapes.get(part.key)
        if shape is None:
            lacks.append(
                Lack(
                    part.key,
                    "missing",
                    f"{part.name} has no shape yet",
                    partner=part.mirror if part.mirror and part.mirror in shapes else "",
                )
            )
            continue
        if not shape.outline.polygon.is_valid:
            lacks.append(Lack(part.key, "outline", f"{part.name}: its outline crosses itself"))
        bare = [e.name for e in shape.edges if e.adds == 0 and e.join != "on_fold"]
        if bare:
            lacks.append(Lack(part.key, "join", f"{part.name}: edge {', '.join(bare)} adds nothing to be held by"))
        if part.key in untopped:
            lacks.append(
                Lack(part.key, "top", f"{part.name}: no top was marked on the old one; make sure which way up it goes")
            )
        differ = shape.halves_differ
        if AGREES < differ <= UNEVEN and not part.mirror:
            lacks.append(Lack(part.key, "even", f"{part.name}: its halves differ by {differ:.0f} mm", 1))
        lacks += _pair(kind, part.key, shapes)
        grown = (pads or {}).get(part.key, 0.0)
        if abs(grown) >= 1:
            words = (
                f"made for a pad {abs(grown):.0f} mm {'thinner' if grown > 0 else 'thicker'} than the one chosen "
                f"now: it no longer fits"
            )
            lacks.append(Lack(part.key, "pad", f"{part.name}: {words}"))
    for seam in seams:
        for finding in seam.findings:
            weight = 2 if finding.what == "length" else 1
            what: What = "seam" if finding.what == "length" else "notch"
            words = f"{finding.words[0].lower()}{finding.words[1:]}"
            lacks.append(Lack(seam.one.key, what, f"{seam.one.name} to {seam.other.name.lower()}: {words}", weight))
    stopped = {lack.key for lack in lacks if lack.weight == 2}
    ready = tuple(p.key for p in kind.panels if p.key in shapes and p.key not in stopped)
    pieces = sum(p.per_furniture * count for p in kind.panels if p.key in shapes)
    return Readiness(
        tuple(lacks), ready, len([p for p in kind.panels if p.key in shapes]), len(kind.panels), pieces, seams
    )


def _pair(kind: Kind, key: str, shapes: Mapping[str, Shape]) -> list[Lack]:
    """A left and a right panel whose shapes are not each other's mirror image, said once, at the right one."""
    part = kind.part(key)
    other = shapes.get(part.mirror or "")
    if other is None or part.mirror is None or not kind.has(part.mirror) or key > part.mirror:
        return []
    apart = pair_apart(shapes[key], other)
    if apart <= AGREES:
        return []
    partner = kind.part(part.mirror)
    return [
        Lack(key, "pair", f"{part.name} and {partner.name.lower()} are no pair: mirrored they differ by {apart:.0f} mm")
    ]


def pair_apart(one: Shape, other: Shape) -> float:
    """Return how far two shapes are from being each other's mirror image, in mm, boxes laid on each other's middle."""
    image = one.mirrored(one.name).outline
    x0, y0, x1, y1 = image.bounds
    a0, b0, a1, b1 = other.outline.bounds
    laid = image.moved((a0 + a1 - x0 - x1) / 2, (b0 + b1 - y0 - y1) / 2)
    return float(laid.polygon.hausdorff_distance(other.outline.polygon))
