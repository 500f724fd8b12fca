"""What a kind of furniture is made of: panels in their own frames, seams between their edges, what lies over what.

Every panel has a frame of its own: across and up, as one looks at its face with its up upward. A panel that *stands*
(a back, a wing, an arm, a band) has the furniture's up as its up, and pile runs down it; one that *lies* (a seat, a
deck, a top) has its up toward the back, and pile runs to the front. Left and right in a key or a name are as one sits
in it; an edge's left and right are as one looks at the face, so that what faces the front has the sitter's left on its
right.

Edges are named by their side, `right`, or by their part of it, `right.1`, `right.2`, in the order of the run: bottom
left to right, right upward, top right to left, left downward. A disc has one edge, `round`.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, Literal

from zonatome.core.errors import BadInput

What = Literal["panel", "bottom cloth", "trim", "hardware"]
Side = Literal["top", "right", "bottom", "left"]
Form = Literal["four-sided", "disc"]
Cover = Literal["both", "old", "new"]
Hand = Literal["left", "right"]
SIDES: tuple[Side, ...] = ("top", "right", "bottom", "left")
# the order of the sides, anticlockwise from the lower left corner
RUN: tuple[Side, ...] = ("bottom", "right", "top", "left")
ROUND = "round"  # the one edge of a disc
ACROSS: dict[Side, Side] = {"top": "bottom", "right": "left", "bottom": "top", "left": "right"}
SEAMS = ("sewn", "zip", "fly")  # joins in which two panels are sewn to each other, or each to the same narrow strip
MIRRORED = {"left": "right", "right": "left"}


def side_of_edge(edge: str) -> Side:
    """Return the side on which an edge of this name lies; a disc's one edge counts as its bottom.

    Raises BadInput for a name that is no edge's.
    """
    side = "bottom" if edge == ROUND else edge.partition(".")[0]
    for known in SIDES:
        if side == known:
            return known
    raise BadInput("edge", edge, "top, right, bottom, left or round, a parted side with its number, as in right.2")


def place_of_edge(edge: str) -> int:
    """Return the number of a part of a side, `right.2` → 2; 0 for a whole side."""
    number = edge.partition(".")[2]
    return int(number) if number.isdigit() else 0


def edge_words(edge: str) -> str:
    """Return the name of an edge in words: `right.2` → `right, part 2`."""
    side, _, number = edge.partition(".")
    return f"{side}, part {number}" if number else side


@dataclass(frozen=True)
class ButtonGrid:
    """Buttons on a panel: rows, columns, how far apart in mm across and down, how deep they are drawn; in a diamond
    every second row has one less and stands between the columns.
    """

    rows: int
    columns: int
    across: float
    down: float
    deep: float
    diamond: bool = False

    @property
    def count(self) -> int:
        """How many there are."""
        return self.rows * self.columns - (self.rows // 2 if self.diamond else 0)

    def places(self, across: float, down: float) -> tuple[tuple[float, float], ...]:
        """Return where they stand about their middle, up and to the right, at these steps; the top row first."""
        found = []
        for row in range(self.rows):
            count = self.columns - 1 if self.diamond and row % 2 else self.columns
            y = ((self.rows - 1) / 2 - row) * down
            found += [((column - (count - 1) / 2) * across, y) for column in range(count)]
        return tuple(found)


CHANNEL_DEEP = 8.0  # mm: how deep a channel is usually drawn


@dataclass(frozen=True)
class Channels:
    """Parallel stitched lines on a panel: how far apart in mm in the finished panel, how deep drawn, whether they run
    up and down.
    """

    apart: float
    deep: float
    upright: bool = True


@dataclass(frozen=True)
class Part:
    """One thing that comes off or goes on: a panel of the cover, the bottom cloth, a trim, or hardware.

    `width` and `height` are its finished measures across and up in its own frame, mm, usual ones before a shape
    exists; `width_above` is how wide it is at its top where that is less. `stands` says whether its up is up on the
    furniture, else toward the back. `parted` gives the lengths of the parts of a side that is held in several ways, in
    the order of the run. `joins` says of each edge how it is held; those of seams follow the furniture's seams.

    On the opened-out drawing it lies with its own side `by` against the side `side` of the neighbour `on`; `far` is
    the length of its far side over its near one there. `held` lists in words how it is usually held. `padded` parts
    wrap a board or a pad; `mirror` names the part that it is one of a pair with; a pattern is put in the middle of
    `centred` ones. `cover` says whether it belongs to the old cover only (not made again), to the new one only, or to
    both. `layer` is a foam layer in mm that restyling lays on the old pad; `contrast` parts are of the second cloth.
    """

    key: str
    name: str
    short: str
    what: What = "panel"
    width: float = 0
    height: float = 0
    on: str | None = None
    side: Side = "top"
    by: Side = "bottom"
    far: float = 1.0
    form: Form = "four-sided"
    stands: bool = True
    width_above: float | None = None
    held: tuple[str, ...] = ()
    joins: Mapping[str, str] = field(default_factory=dict)
    parted: Mapping[Side, tuple[float, ...]] = field(default_factory=dict)
    padded: bool = False
    centred: bool = False
    per_furniture: int = 1
    mirror: str | None = None
    deck: bool = False
    cover: Cover = "both"
    contrast: bool = False
    layer: float = 0
    buttons: ButtonGrid | None = None
    channels: Channels | None = None

    @property
    def edges(self) -> tuple[str, ...]:
        """The names of its edges in the order of the run; a disc has one."""
        if self.form == "disc":
            return (ROUND,)
        return tuple(
            edge
            for side in RUN
            for edge in ([f"{side}.{n + 1}" for n in range(len(self.parted[side]))] if side in self.parted else [side])
        )

    def edge_length(self, edge: str) -> float:
        """Return the usual finished length of an edge in mm, by the panel's measures.

        Raises BadInput for one that it has not.
        """
        if edge not in self.edges:
            raise BadInput("edge", edge, f"one of {', '.join(self.edges)}, the edges of {self.name.lower()}")
        if edge == ROUND:
            return math.pi * self.width
        side, above = side_of_edge(edge), self.width if self.width_above is None else self.width_above
        whole = {"bottom": self.width, "top": above}.get(side, math.hypot(self.height, (self.width - above) / 2))
        if side not in self.parted:
            return whole
        lengths = self.parted[side]
        return whole * lengths[place_of_edge(edge) - 1] / sum(lengths)

    def mirrored_edge(self, edge: str) -> str:
        """Return the edge that this one lies on when the panel is mirrored: left and right swapped, the run turned
        round.
        """
        side = side_of_edge(edge)
        if edge == ROUND:
            return edge
        swapped = MIRRORED.get(side, side)
        return f"{swapped}.{len(self.parted[side]) + 1 - place_of_edge(edge)}" if side in self.parted else swapped

    @property
    def mirror_image(self) -> Part:
        """The same part as its mirror image: edges, joins and parted sides swapped; key and names stay."""
        return replace(
            self,
            side=MIRRORED.get(self.side, self.side),  # type: ignore[arg-type]
            by=MIRRORED.get(self.by, self.by),  # type: ignore[arg-type]
            joins={self.mirrored_edge(edge): join for edge, join in self.joins.items()},
            parted={MIRRORED.get(side, side): lengths[::-1] for side, lengths in self.parted.items()},  # type: ignore[misc]
        )

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
    """Where two panels meet: an edge of one along an edge of the other, and by which join. A seam is one thing.

    `span` is how long they meet, in mm, where both edges go on beyond it; else the one that has no other partner
    says it with its whole length. A panel may meet itself, as boxing that closes round a disc does.
    """

    one: str
    one_edge: str
    other: str
    other_edge: str
    join: str
    span: float | None = None

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

    def with_end(self, key: str, name: str, edge: str) -> Meeting:
        """Return the meeting with the end at one panel moved: to a panel of another name, to another edge."""
        if self.one == key:
            return replace(self, one=name, one_edge=edge)
        return replace(self, other=name, other_edge=edge)

    @property
    def ends(self) -> tuple[tuple[str, str], tuple[str, str]]:
        """Both ends of it: panel and edge."""
        return (self.one, self.one_edge), (self.other, self.other_edge)

    def beyond(self, key: str, edge: str) -> tuple[str, str]:
        """Return the panel and edge that an edge meets here."""
        one, other = self.ends
        return other if (key, edge) == one else one


@dataclass(frozen=True)
class Variant:
    """Another usual make of a kind: parts that it lacks or has besides, and what its neighbours' edges become.

    `becomes` changes fields of parts that stay, by key; an edge that it names in `joins` is no seam any more, unless
    `meets` has it. `apart` takes parts out of the cover that they were sewn into, `together` sews others into one.
    `instead_of` names variants that cannot stand beside it.
    """

    key: str
    name: str
    lacks: tuple[str, ...] = ()
    parts: tuple[Part, ...] = ()
    becomes: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)
    not_over: tuple[tuple[str, str], ...] = ()
    over: tuple[tuple[str, str], ...] = ()
    meets: tuple[Meeting, ...] = ()
    apart: tuple[str, ...] = ()
    together: tuple[tuple[str, ...], ...] = ()
    layers: tuple[str, ...] = ()
    instead_of: tuple[str, ...] = ()


@dataclass(frozen=True)
class Span:
    """One partner along an edge: which edge of which panel, how long they meet, and from where to where on the
    partner, in mm.
    """

    key: str
    edge: str
    length: float
    begins: float
    ends: float
    join: str


@dataclass(frozen=True)
class Kind:
    """A kind of furniture, or one job's own. `over` holds pairs (under, over): `under` goes on before `over`.

    `meets` lists the seams; along an edge with several partners they lie in this order. `together` lists the panels
    that are sewn into one cover, which comes off and goes on as one thing.
    """

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
    together: tuple[tuple[str, ...], ...] = ()
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
    def button_count(self) -> int:
        """How many buttons its panels have, where it has buttons at all."""
        return sum(p.buttons.count for p in self.panels if p.buttons) if self.has("buttons") else 0

    @property
    def old(self) -> tuple[Part, ...]:
        """The parts that the furniture came in with: what can come off."""
        return tuple(p for p in self.parts if p.is_on_old)

    def meetings_of(self, key: str) -> tuple[Meeting, ...]:
        """Return where a panel meets its neighbours."""
        return tuple(m for m in self.meets if m.of(key))

    def meetings_at(self, key: str, edge: str) -> tuple[Meeting, ...]:
        """Return what an edge of a panel meets, in the order in which it lies along it."""
        return tuple(m for m in self.meets if (key, edge) in m.ends)

    def span_of(self, meeting: Meeting, lengths: Callable[[str, str], float]) -> float:
        """Return how long two edges meet, in mm, where `lengths` gives the length of an edge of a panel.

        The said span; else the length of the edge that has no other partner; else what the other partners leave of one
        of the two, where all of those are said; else the whole of the first.
        """
        if meeting.span is not None:
            return meeting.span
        whole = [end for end in meeting.ends if len(self.meetings_at(*end)) == 1]
        if whole:
            return lengths(*whole[0])
        for end in meeting.ends:
            others = [m for m in self.meetings_at(*end) if m is not meeting]
            if all(self._is_plain(m) for m in others):
                return max(0.0, lengths(*end) - sum(self.span_of(m, lengths) for m in others))
        return lengths(*meeting.ends[0])

    def _is_plain(self, meeting: Meeting) -> bool:
        return meeting.span is not None or any(len(self.meetings_at(*end)) == 1 for end in meeting.ends)

    def is_span_said(self, meeting: Meeting) -> bool:
        """Whether it follows from the furniture how long two edges meet: see `span_of`."""
        rest = (all(self._is_plain(m) for m in self.meetings_at(*end) if m is not meeting) for end in meeting.ends)
        return self._is_plain(meeting) or any(rest)

    def usual_length(self, key: str, edge: str) -> float:
        """Return the usual length of an edge of a panel, in mm."""
        return self.part(key).edge_length(edge)

    def spans_at(self, key: str, edge: str, lengths: Callable[[str, str], float] | None = None) -> tuple[Span, ...]:
        """Return the partners along an edge in order, each with the stretch of the partner that is met, by usual
        lengths or others.
        """
        length_of = lengths or self.usual_length
        found = []
        for meeting in self.meetings_at(key, edge):
            partner = meeting.beyond(key, edge)
            length = self.span_of(meeting, length_of)
            begins = 0.0
            for other in self.meetings_at(*partner):
                if other is meeting:
                    break
                begins += self.span_of(other, length_of)
            found.append(Span(*partner, length, begins, begins + length, meeting.join))
        return tuple(found)

    def sewn_with(self, key: str) -> tuple[str, ...]:
        """Return the panels of the cover that a part is sewn into, itself among them; only itself where it is sewn
        into none.
        """
        return next((group for group in self.together if key in group), (key,))


def held_by_seams(kind: Kind) -> Kind:
    """Return the kind with the joins of all edges that are seams read from the seams: a seam is written once."""
    joins: dict[str, dict[str, str]] = {}
    for meeting in kind.meets:
        for key, edge in meeting.ends:
            joins.setdefault(key, {})[edge] = meeting.join
    parts = tuple(
        part
        if not any(part.joins.get(e) != j for e, j in joins.get(part.key, {}).items())
        else replace(part, joins=in_run(part, joins))
        for part in kind.parts
    )
    return kind if parts == kind.parts else replace(kind, parts=parts)


def in_run(part: Part, joins: Mapping[str, Mapping[str, str]]) -> dict[str, str]:
    """Return the joins of a part with those of its seams, in the order of the run."""
    both = {**part.joins, **joins.get(part.key, {})}
    return {edge: both[edge] for edge in part.edges if edge in both}
