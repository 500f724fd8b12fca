"""Corners folded: what the cloth has too much at a corner, and how each school takes it up.

Lengths in mm. Drawn from below, in a frame of the corner: its point at (0, 0), one edge along +x, the other turned from
it by the corner's inside angle; the cloth lies beyond both edges, its wrong side up. All figures are a start: the hand
on the furniture overrules them.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from zonatome.core.errors import BadInput
from zonatome.core.fasten.staples import CROWN
from zonatome.core.outline import Point

FoldKey = Literal["parcel", "double", "triangle", "cut", "gathers"]
LEFT_TO_FOLD = 26.0  # mm of the surplus that stay for a pleat; the rest of the square may be cut away
LEFT_TO_HIDE = 20.0  # mm: a corner cut out leaves 10 each side of its hidden seam
GATHER = 5.0  # mm: how deep a small gather usually is, 4 to 6
GATHERS_FROM = 12.0  # mm of radius: a sharper corner is folded
SHORT_OF_FACE = 2.0  # mm that a pleat's edge stays inside the corner, so that nothing shows from in front
ROUND = 24  # straight steps round a corner
CLOSEST = 0.3  # of a corner's radius: gathers end before they meet
SHOWN = 2.1  # times the wrap: how much of each edge a drawing shows


@dataclass(frozen=True)
class Corner:
    """A corner of a board or frame: its inside angle in degrees, its radius, the wrap: what goes down the side and
    under, mm.
    """

    angle: float
    radius: float
    wrap: float

    def __post_init__(self) -> None:
        """Refuse what is no corner."""
        if not 20 <= self.angle <= 175:
            raise BadInput("angle", self.angle, "an inside angle of 20 to 175 degrees")
        if not 0 <= self.radius <= 1000:
            raise BadInput("radius", self.radius, "0 to 1000 mm")
        if not 10 <= self.wrap <= 600:
            raise BadInput("wrap", self.wrap, "10 to 600 mm of side and under")

    @property
    def turns(self) -> float:
        """By how much the edge turns there, in radians."""
        return math.radians(180 - self.angle)

    @property
    def is_round(self) -> bool:
        """Whether it is round enough to be gathered."""
        return self.radius >= GATHERS_FROM

    @property
    def surplus(self) -> float:
        """By how much the cloth's edge is longer than the line it goes to: of a round corner the turn times the wrap,
        of a sharp one the two sides of what lies beyond it. Source: trade rule of corners; of a square one 2 x wrap.
        """
        if self.is_round:
            return self.turns * self.wrap
        return 2 * self.wrap * math.tan(self.turns / 2)


@dataclass(frozen=True)
class Face:
    """One piece of a drawing: what it is (wood, face, back, cut, crease, staple, dotted, arrow) and its points."""

    kind: str
    points: tuple[Point, ...]


@dataclass(frozen=True)
class FoldStep:
    """One step of a fold: a short title, what to do, the drawing after it."""

    title: str
    words: str
    faces: tuple[Face, ...]


@dataclass(frozen=True)
class Fold:
    """A way to take a corner's surplus up.

    `count` folds `deep` mm deep each take 2 x count x deep, the whole surplus, less what is `cut` away; `layers` lie on
    each other at its thickest; `apart` is how far gathers stand from each other along the corner's line.
    """

    key: FoldKey
    name: str
    count: int
    deep: float
    cut: float
    layers: int
    apart: float
    shows: str
    steps: tuple[FoldStep, ...]
    creases: int = 0  # that are seen from the front, at a corner

    @property
    def takes(self) -> float:
        """What its folds take up along the cloth's edge, mm."""
        return 2 * self.count * self.deep

    def thick(self, cloth: float) -> float:
        """Return how thick it gets under the furniture with a cloth so many mm thick."""
        return self.layers * cloth


NAMES: dict[FoldKey, str] = {
    "parcel": "One pleat",
    "double": "Double pleat",
    "triangle": "Triangle",
    "cut": "Cut out",
    "gathers": "Gathers",
}


def fits(key: FoldKey, corner: Corner) -> str:
    """Return why a fold does not go with a corner, in a sentence; nothing where it does."""
    if key == "gathers" and not corner.is_round:
        return f"Gathers are for round corners; this one has {corner.radius:.0f} mm radius."
    if key != "gathers" and corner.is_round:
        return f"This corner is round, {corner.radius:.0f} mm: a fold would stand off it; gather it."
    if key == "cut" and corner.wrap <= LEFT_TO_HIDE:
        return f"A wrap of {corner.wrap:.0f} mm leaves nothing to cut away."
    return ""


def fold(key: FoldKey, corner: Corner) -> Fold:
    """Return how a corner is folded by one school, step by step. Raises BadInput where it does not go with it."""
    if key not in NAMES:
        raise BadInput("fold", key, "one of " + ", ".join(NAMES))
    why = fits(key, corner)
    if why:
        raise BadInput("fold", key, "a fold for this corner", words=why)
    draw = _Paper(corner)
    cut = max(0.0, corner.wrap - LEFT_TO_FOLD)
    half = corner.surplus / 2
    if key == "parcel":
        steps = (draw.flat(cut), draw.side_in(cut), draw.front_in(1))
        shows = "one upright crease, at the corner's side"
        return Fold(key, NAMES[key], 1, half, cut, 3, 0.0, shows, steps, 1)
    if key == "double":
        steps = (draw.flat(0.0), draw.middle_in(), draw.front_in(2))
        shows = "two creases, one each side of the corner, alike"
        return Fold(key, NAMES[key], 2, half / 2, 0.0, 3, 0.0, shows, steps, 2)
    if key == "triangle":
        steps = (draw.flat(0.0), draw.point_in(), draw.front_in(1, is_flat=True))
        shows = "no crease from the front: the surplus lies flat underneath"
        return Fold(key, NAMES[key], 1, half, 0.0, 3, 0.0, shows, steps)
    if key == "cut":
        away = corner.wrap - LEFT_TO_HIDE
        steps = (draw.flat(away), draw.seam(away), draw.front_in(0))
        shows = "one line straight down the corner, sewn or stitched by hand"
        return Fold(key, NAMES[key], 1, half, away, 2, 0.0, shows, steps, 1)
    count = gathers(corner)
    along = corner.turns * corner.radius
    steps = (draw.flat(0.0), draw.gathered(count), draw.gathered(count, stapled=True))
    shows = f"{count} small gathers, as deep as each other, none on the face"
    return Fold(key, NAMES[key], count, corner.surplus / (2 * count), 0.0, 3, along / count, shows, steps)


def gathers(corner: Corner) -> int:
    """Return how many small gathers take a round corner up: t w / (2 x 5). Source: trade rule.

    >>> gathers(Corner(90, 30, 70))
    11
    """
    return max(1, round(corner.surplus / (2 * GATHER)))


def corners_of(points: tuple[Point, ...], at: tuple[int, ...], wrap: float) -> tuple[Corner, ...]:
    """Return the corners of an outline at these of its points, in order, all with one wrap, sharp ones."""
    found = []
    n = len(points)
    for i in at:
        a, p, b = points[i - 1], points[i], points[(i + 1) % n]
        back, on = math.atan2(a[1] - p[1], a[0] - p[0]), math.atan2(b[1] - p[1], b[0] - p[0])
        angle = math.degrees((back - on) % (2 * math.pi))
        if 20 <= angle <= 175:
            found.append(Corner(angle, 0.0, wrap))
    return tuple(found)


class _Paper:
    """The drawings of a corner, to scale: long edges cut off at SHOWN, or a little beyond a round corner's end."""

    def __init__(self, corner: Corner) -> None:
        self.w = corner.wrap
        self.radius = corner.radius if corner.is_round else 0.0
        self.turns = corner.turns
        self.reach = self.radius * math.tan(self.turns / 2)  # from the point to where an edge is straight again
        a = math.radians(corner.angle)
        self.shown = max(SHOWN * corner.wrap, 2.2 * self.radius, 1.4 * self.reach)
        self.side = (math.cos(a), math.sin(a))  # along the second edge
        self.out_side = (-math.sin(a), math.cos(a))  # away from the wood there
        self.apex = self._apex()

    def _apex(self) -> Point:
        """Where the outer lines of both flaps cross: the far point of the surplus."""
        far = self.w * math.tan(self.turns / 2)
        return (-far, -self.w)

    def along(self, x: float, y: float) -> Point:
        """A place by its distance along the second edge and beyond it."""
        return (
            x * self.side[0] + y * self.out_side[0],
            x * self.side[1] + y * self.out_side[1],
        )

    def wood(self) -> Face:
        """The wood, its corner rounded where it is; one that is pointed ends in a lozenge."""
        far = self.shown
        beside = self.along(far, 0.0)
        end = (far + beside[0], beside[1]) if self.side[0] > 0 else (far, far)
        return Face("wood", (*self._edge(), (far, 0.0), end, beside))

    def _edge(self) -> list[Point]:
        """The wood's edge round its corner, from its second edge to its first."""
        return [self._on_round(k, ROUND, self.radius) for k in range(ROUND, -1, -1)] if self.radius else [(0.0, 0.0)]

    def _on_round(self, k: float, of: int, away: float) -> Point:
        """A place so far from the middle of a round corner, `k` of `of` steps round it from its first edge."""
        turned = self._turned(k, of)
        return (self.reach + away * math.cos(turned), self.radius + away * math.sin(turned))

    def _turned(self, k: float, of: int) -> float:
        """The way there from the middle of the corner, in radians."""
        return -math.pi / 2 - self.turns * k / of

    def _pulled_in(self) -> list[Face]:
        """The cloth of a round corner pulled in under the wood."""
        front = [(self.reach, 0.0), (self.shown, 0.0), (self.shown, self.w), (self.reach, self.w)]
        side = [self.along(x, -y) for x, y in front]
        inner = max(self.radius - self.w, 0.0)
        ring = [*self._edge(), *(self._on_round(k, ROUND, inner) for k in range(ROUND + 1))]
        return [Face("back", tuple(face)) for face in (side, front, ring)]

    def front_flap(self) -> tuple[Point, ...]:
        """The flap beyond the first edge."""
        return ((0.0, 0.0), (self.shown, 0.0), (self.shown, -self.w), (0.0, -self.w))

    def side_flap(self) -> tuple[Point, ...]:
        """The flap beyond the second edge."""
        return (self.along(0, 0), self.along(self.shown, 0), self.along(self.shown, self.w), self.along(0, self.w))

    def surplus(self) -> tuple[Point, ...]:
        """What lies beyond both edges."""
        return ((0.0, 0.0), (0.0, -self.w), self.apex, self.along(0, self.w))

    def _laid_flat(self) -> list[Face]:
        """The wood on the cloth that lies flat; before a round corner too, as far as the point that it would have."""
        cloth = [self.front_flap(), self.side_flap(), self.surplus()]
        if self.radius:
            cloth.append(((0.0, 0.0), *reversed(self._edge())))
        return [*(Face("back", face) for face in cloth), self.wood()]

    def flat(self, cut: float) -> FoldStep:
        """The cloth laid out flat, what is cut away marked."""
        faces = [*self._laid_flat(), Face("crease", ((0.0, 0.0), self.apex))]
        words = "Lay the corner flat: the surplus is what lies beyond both edges. Nothing is cut away."
        if cut > 0:
            share = 1 - cut / self.w
            near = (self.apex[0] * share, self.apex[1] * share)
            a, b = self._mixed((0.0, -self.w), self.apex, share), self._mixed(self.along(0, self.w), self.apex, share)
            faces.append(Face("cut", (near, a, self.apex, b)))
            words = (
                f"Cut a square of {cut:.0f} mm away from its tip; {self.w - cut:.0f} mm stay. A deeper cut would gape."
            )
        return FoldStep("Cut the tip away" if cut > 0 else "Lay it flat", words, tuple(faces))

    @staticmethod
    def _mixed(a: Point, b: Point, share: float) -> Point:
        return (a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share)

    def _side_done(self) -> list[Face]:
        """The side flap pulled in under the wood, seen from below."""
        inner = (self.along(0, 0), self.along(self.shown, 0), self.along(self.shown, -self.w), self.along(0, -self.w))
        return [self.wood(), Face("back", inner)]

    def side_in(self, cut: float) -> FoldStep:
        """The side pulled in and stapled, the surplus laid round the corner on to the front."""
        left = max(self.w - cut, LEFT_TO_FOLD if cut else self.w)
        faces = [
            *self._side_done(),
            Face("back", self.front_flap()),
            Face("face", ((0.0, 0.0), (0.0, -self.w), (left * 0.9, -self.w * 0.82))),
            Face("crease", ((0.0, 0.0), (0.0, -self.w))),
            Face("arrow", ((-18.0, -self.w * 0.7), (left * 0.6, -self.w * 1.1))),
        ]
        words = (
            "Pull the side in and staple it. Lay the surplus round the corner on to the front, the crease upright on "
            f"the corner's line, {SHORT_OF_FACE:.0f} mm short of the face, so that nothing shows from in front."
        )
        return FoldStep("Side over the front", words, tuple(faces))

    def middle_in(self) -> FoldStep:
        """The surplus's middle pressed on the corner: a loop each side of it."""
        half = self.w / 2
        faces = [
            self.wood(), Face("back", self.front_flap()), Face("back", self.side_flap()),
            Face("face", ((0.0, 0.0), (0.0, -self.w), (half, -self.w))),
            Face("face", (self.along(0, 0), self.along(0, self.w), self.along(half, self.w))),
            Face("crease", ((0.0, 0.0), (half, -self.w))), Face("crease", ((0.0, 0.0), self.along(half, self.w))),
            Face("staple", self._bar((0.0, 0.0), 5.0, -math.pi / 4)),
        ]  # fmt: skip
        words = (
            "Pull the tip straight over the corner and set one staple there. A loop stands each side of it: lay each "
            "away from the corner, half of the surplus in either, alike."
        )
        return FoldStep("The tip over the corner", words, tuple(faces))

    def point_in(self) -> FoldStep:
        """The tip turned in over the corner, a triangle flat under it."""
        tip = self._toward_middle(self.w * 0.95)
        faces = [
            self.wood(), Face("back", self.front_flap()), Face("back", self.side_flap()),
            Face("face", ((0.0, -self.w), self.along(0, self.w), tip)),
            Face("crease", ((0.0, -self.w), self.along(0, self.w))), Face("arrow", (self.apex, tip)),
        ]  # fmt: skip
        words = (
            "Turn the tip in over the corner until the crease lies on its point, and press the triangle flat under the "
            "wood: a leg or a frame closes over it."
        )
        return FoldStep("The tip turned in", words, tuple(faces))

    def seam(self, away: float) -> FoldStep:
        """What is left each side of the cut, turned in and closed."""
        faces = [
            self.wood(), Face("back", self.front_flap()), Face("back", self.side_flap()),
            Face("crease", ((0.0, 0.0), (-4.0, -self.w))), Face("crease", ((0.0, 0.0), self.along(-4.0, self.w))),
            Face("arrow", ((-LEFT_TO_HIDE, -self.w), (0.0, -self.w * 0.6))),
        ]  # fmt: skip
        words = (
            f"Turn {LEFT_TO_HIDE / 2:.0f} mm in on each side of the cut of {away:.0f} mm and close it down the corner: "
            "sewn from inside before it goes on, or with a ladder stitch, or glued."
        )
        return FoldStep("Turn both edges in", words, tuple(faces))

    def front_in(self, creases: int, *, is_flat: bool = False) -> FoldStep:
        """All pulled in and stapled."""
        inner = ((0.0, 0.0), (self.shown, 0.0), (self.shown, self.w), (0.0, self.w))
        diagonal = self._toward_middle(self.w * 1.3)
        faces = [*self._side_done(), Face("back", inner), Face("crease", ((0.0, 0.0), diagonal))]
        for n in range(creases):
            beside = self._mixed((self.w * (0.35 + 0.35 * n), 0.0), diagonal, 0.0)
            faces.append(Face("crease", (beside, self._mixed(beside, diagonal, 0.8))))
        at = [self._toward_middle(self.w * k) for k in (0.45, 0.8)]
        faces += [Face("staple", self._bar(p, 5.0, math.pi / 4)) for p in at]
        faces += [Face("staple", self._bar((self.w * 1.15, self.w * 0.45), 5.0, 0.0))]
        words = "Pull the front in over it. Two staples across the fold, then one each side of it."
        if is_flat:
            words = "Pull the front in over the triangle. Two staples across it, set flat: a frame closes over them."
        elif not creases:
            words = "Pull the front in. One staple each side of the closed line, none through it."
        return FoldStep("Pull in, staple", words, tuple(faces))

    def gathered(self, count: int, *, stapled: bool = False) -> FoldStep:
        """Small gathers in a fan round the corner."""
        faces = [self.wood(), *self._pulled_in()] if stapled else self._laid_flat()
        to = max(self.radius - self.w, CLOSEST * self.radius) if stapled else self.radius + self.w
        faces += [Face("crease", (self._on_round(k + 0.5, count, self.radius), self._on_round(k + 0.5, count, to)))
                  for k in range(count)]  # fmt: skip
        if stapled:
            half = min(CROWN / 2, CLOSEST * self.radius)
            at = self.radius - max(0.25 * (self.radius - to), half + 2)
            faces += [Face("staple", self._bar(self._on_round(k, count, at), half, self._turned(k, count)))
                      for k in range(1, count)]  # fmt: skip
        words = (
            f"Divide the surplus by eye into {count} and pinch each small: halve, then halve again. All turn the same "
            "way, and none reaches the face."
            if not stapled
            else "Pull each in and set a staple between two gathers, along them, from the middle of the corner out."
        )
        return FoldStep("Pinch them evenly" if not stapled else "Pull in, staple", words, tuple(faces))

    def _toward_middle(self, far: float) -> Point:
        """A place so far from the corner on the line that halves its angle."""
        half = math.atan2(self.side[1], self.side[0]) / 2
        return (far * math.cos(half), far * math.sin(half))

    @staticmethod
    def _bar(at: Point, half: float, angle: float) -> tuple[Point, ...]:
        x, y = half * math.cos(angle), half * math.sin(angle)
        return ((at[0] - x, at[1] - y), (at[0] + x, at[1] + y))
