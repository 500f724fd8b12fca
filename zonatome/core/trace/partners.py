"""Seam partners: two edges that are sewn together are as long as each other, less a stated ease, and their notches
meet.

Which edges are sewn to which is said by the furniture's seams, never guessed from a length. An edge with several
partners is compared with all of them in a row; a partner that is met along a part only counts by the length that the
seam says.

Both shapes are drawn face up. Sewn and opened flat they lie side by side, so that one edge is walked from its start and
the other from its end.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Literal

from zonatome.core.errors import BadInput
from zonatome.core.outline import Point, outline_of
from zonatome.core.survey.kind import MIRRORED, SEAMS, Kind, Meeting, edge_words, place_of_edge, side_of_edge
from zonatome.core.trace.shape import Match, Shape, along_points
from zonatome.core.units import Units, format_length

AGREES = 2.0  # mm: two edges whose lengths differ by less are eased in by hand, and so are their notches
NOTCHED_FROM = 150.0  # mm: a shorter seam cannot be sewn together the wrong way round unseen
FRAMES = 48
Mend = Literal["length of one", "length of other", "notches of one", "notches of other", "new notches"]


@dataclass(frozen=True)
class Stretch:
    """One edge of a panel as a seam sees it: the panel's key and name, the edge, the shape's edges on it, points,
    length, ease in mm.

    `met` is how much of it the seam takes; all of it, where that is not said.
    """

    key: str
    name: str
    side: str
    edges: tuple[str, ...]
    points: tuple[Point, ...]
    length: float
    ease: float
    met: float | None = None

    @property
    def words(self) -> str:
        """The edge in words."""
        return edge_words(self.side)

    @property
    def counted(self) -> float:
        """How long it is for its partner, in mm."""
        return self.length if self.met is None else self.met


@dataclass(frozen=True)
class Disagreement:
    """What does not agree at a seam: by how many mm, in words, and the mends that one press makes (key, words)."""

    what: Literal["length", "notch"]
    by: float
    words: str
    mends: tuple[tuple[Mend, str], ...]


@dataclass(frozen=True)
class Seam:
    """An edge with what it is sewn to, one partner or several in a row; what does not agree there, or why it can't be
    compared.
    """

    one: Stretch
    others: tuple[Stretch, ...]
    findings: tuple[Disagreement, ...]
    why_not: str = ""

    @property
    def other(self) -> Stretch:
        """The first partner, in most seams the only one."""
        return self.others[0]

    @property
    def is_partial(self) -> bool:
        """Whether one of them is sewn along a part of itself only."""
        return any(o.met is not None for o in self.others)

    @property
    def can_be_walked(self) -> bool:
        """Whether both edges are there to be walked along each other: an edge of one panel with an edge of another."""
        return bool(self.one.edges and self.other.edges and self.one.key != self.other.key)

    @property
    def agrees(self) -> bool:
        """Whether it has been compared, and nothing is wrong with it."""
        return not self.findings and not self.why_not

    def end_words(self, units: Units) -> str:
        """Return what is left when both edges are walked from their beginning to the end of the shorter one, a
        sentence.
        """
        left = self.one.length - self.other.length
        if abs(left) <= AGREES:
            return "Both end together."
        longer = self.one if left > 0 else self.other
        place = "for its next partner" if left > 0 and len(self.others) > 1 else "over"
        return f"Then {format_length(abs(left), units, 'small')} of {longer.name.lower()} is left {place}."

    @property
    def key(self) -> str:
        """What names it in an address: both panels with their edges."""
        return f"{self.one.key}.{self.one.side}-{self.other.key}.{self.other.side}"


def stretch_of(key: str, shape: Shape, edge: str, *, met: float | None = None) -> Stretch | None:
    """Return the sewn edges of a shape that lie on an edge of its panel, in order; nothing where none is sewn there."""
    numbers = [n for n in shape.edges_on(edge) if shape.edges[n].join in SEAMS]
    if not numbers:
        return None
    points = list(shape.edge_points(numbers[0]))
    for number in numbers[1:]:
        points += shape.edge_points(number)[1:]
    length = sum(shape.edge_length(n) for n in numbers)
    ease = sum(shape.edge_length(n) * shape.edges[n].ease for n in numbers)
    return Stretch(key, shape.name, edge, tuple(shape.edges[n].name for n in numbers), tuple(points), length, ease, met)


def seams_of(kind: Kind, shapes: Mapping[str, Shape]) -> tuple[Seam, ...]:
    """Return the seams between panels that have a shape, with what does not agree at each.

    An edge that is sewn to several partners is compared with all of them together; only pairs are asked for notches. A
    seam of which a partner has no shape yet, or an edge that is not sewn, is there too and says why it can't be
    compared.
    """
    made = []
    for hub, meetings in _hubs(kind):
        if hub[0] not in shapes:
            continue
        ends = [m.beyond(*hub) for m in meetings]
        names = [kind.part(key).name.lower() for key, _ in ends if key not in shapes]
        one = stretch_of(hub[0], shapes[hub[0]], hub[1])
        others = []
        for meeting, (key, edge) in zip(meetings, ends, strict=True):
            partly = len(kind.meetings_at(key, edge)) > 1
            span = kind.span_of(meeting, _lengths(kind, shapes)) if partly and kind.is_span_said(meeting) else None
            found = stretch_of(key, shapes[key], edge, met=span) if key in shapes else None
            strips = kind.part(key).per_furniture  # boxing that is cut in several like strips, sewn end to end
            if found and strips > 1 and span is None:
                found = replace(found, met=found.length * strips)
            others.append(found or Stretch(key, kind.part(key).name, edge, (), (), 0.0, 0.0, span))
        if len(names) == len(ends):
            continue  # nothing to compare it with yet
        bare = [o.name for o in others if o.key in shapes and not o.edges]
        if one is None:
            one = Stretch(hub[0], kind.part(hub[0]).name, hub[1], (), (), 0.0, 0.0)
            bare.append(one.name)
        why = ""
        if names:
            why = (
                f"Not compared yet: {' and '.join(dict.fromkeys(names))} "
                f"{'have' if len(set(names)) > 1 else 'has'} no shape"
            )
        elif bare:
            why = (
                f"Not compared: {' and '.join(n.lower() for n in dict.fromkeys(bare))} has no sewn edge there; say "
                f"which edge it is"
            )
        elif any(o.met is None and len(kind.meetings_at(o.key, o.side)) > 1 for o in others):
            why = "Not compared: both edges go on beyond this seam; say on Panels how long it is"
        findings = () if why else _findings(one, tuple(others), shapes)
        made.append(Seam(one, tuple(others), findings, why))
    order = [p.key for p in kind.parts]
    return tuple(sorted(made, key=lambda s: (order.index(s.one.key), order.index(s.other.key))))


def _lengths(kind: Kind, shapes: Mapping[str, Shape]) -> Callable[[str, str], float]:
    """The length of an edge: by its panel's shape where there is one, else the usual one."""
    return lambda key, edge: shapes[key].length_on(edge) if key in shapes else kind.usual_length(key, edge)


def _hubs(kind: Kind) -> list[tuple[tuple[str, str], list[Meeting]]]:
    """The edges at which seams are compared, each with its seams: one with several partners takes all of them.

    Each seam is compared at least once: at both its ends where both have several partners, else where the most meet.
    """
    found: list[tuple[tuple[str, str], list[Meeting]]] = []
    done: set[int] = set()
    ends = dict.fromkeys(end for m in kind.meets if m.is_seam for end in m.ends)
    seams = {end: [m for m in kind.meetings_at(*end) if m.is_seam] for end in ends}
    for end, meetings in seams.items():
        if len(meetings) > 1:
            found.append((end, meetings))
            done.update(id(m) for m in meetings)
    found += [(m.ends[0], [m]) for m in kind.meets if m.is_seam and id(m) not in done]
    return found


def _findings(one: Stretch, others: tuple[Stretch, ...], shapes: Mapping[str, Shape]) -> tuple[Disagreement, ...]:
    found: list[Disagreement] = []
    whole = sum(o.counted for o in others)
    differ = one.length - whole
    allowed = one.ease if differ > 0 else sum(o.ease for o in others)
    names = " and ".join(dict.fromkeys(o.name.lower() for o in others))
    if abs(differ) - allowed > AGREES:
        longer, by = (one.name, differ) if differ > 0 else (names, -differ)
        eased = f" after {allowed:.0f} mm of ease" if allowed else ""
        mends: list[tuple[Mend, str]] = []
        if len(others) == 1:
            mends = [
                ("length of other", f"{others[0].name}: take the length of {one.name.lower()}"),
                ("length of one", f"{one.name}: take the length of {others[0].name.lower()}"),
            ]
        else:
            mends = [("length of one", f"{one.name}: take the length of its {len(others)} partners")]
        found.append(
            Disagreement(
                "length",
                by - allowed,
                f"{longer[0].upper()}{longer[1:]} is longer by {by - allowed:.1f} mm{eased}",
                tuple(mends),
            )
        )
    if len(others) == 1 and one.key != others[0].key:
        found += _notches(one, others[0], shapes)
    return tuple(found)


def _places(stretch: Stretch, shape: Shape) -> list[tuple[float, Match]]:
    """The notches on a stretch, each with its share of the stretch's length from its start."""
    begin, found = 0.0, []
    for name in stretch.edges:
        found += [((begin + m.along) / stretch.length, m) for m in shape.matches if m.edge == name]
        begin += shape.edge_length(shape.number_of(name))
    return sorted(found, key=lambda row: row[0])


def _notches(one: Stretch, other: Stretch, shapes: Mapping[str, Shape]) -> list[Disagreement]:
    mine = _places(one, shapes[one.key])
    theirs = [(1 - at, m) for at, m in reversed(_places(other, shapes[other.key]))]
    copies: tuple[tuple[Mend, str], ...] = (
        ("notches of other", f"{other.name}: take the notches of {one.name.lower()}"),
        ("notches of one", f"{one.name}: take the notches of {other.name.lower()}"),
    )
    if not mine and not theirs:
        if min(one.length, other.length) < NOTCHED_FROM:
            return []
        new: tuple[tuple[Mend, str], ...] = (("new notches", "put notches on both: one in front, two behind"),)
        return [Disagreement("notch", 0.0, "No matching notches on either", new)]
    if [m.is_double for _, m in mine] != [m.is_double for _, m in theirs]:
        words = f"{one.name} has {_counted(mine)}, {other.name.lower()} {_counted(theirs)}"
        if len(mine) == len(theirs):
            words = (
                f"Single and double notches of {one.name.lower()} and {other.name.lower()} are not in the same order"
            )
        keep = tuple(c for c, rows in zip(copies, (mine, theirs), strict=True) if rows)
        return [Disagreement("notch", 0.0, words, keep)]
    longer = max(one.length, other.length)
    apart = max((abs(a - b) * longer for (a, _), (b, _) in zip(mine, theirs, strict=True)), default=0.0)
    if apart <= AGREES:
        return []
    return [Disagreement("notch", apart, f"A notch misses its partner by {apart:.1f} mm", copies)]


def _counted(rows: list[tuple[float, Match]]) -> str:
    count = len(rows)
    return "no notch" if not count else f"{count} notch{'es' if count > 1 else ''}"


def mended(seam: Seam, shapes: Mapping[str, Shape], mend: str) -> dict[str, Shape]:
    """Return the shapes that a mend changes, by key.

    Raises BadInput for one that is not offered or that would fold a shape.
    """
    offered = {key for finding in seam.findings for key, _ in finding.mends}
    if mend not in offered:
        raise BadInput("mend", mend, "one of " + (", ".join(sorted(offered)) or "none: this seam agrees"))
    one, other = seam.one, seam.other
    if mend == "length of one":
        return {one.key: _both_sides(shapes[one.key], one, sum(o.counted for o in seam.others))}
    if mend == "length of other":
        return {other.key: _both_sides(shapes[other.key], other, one.length)}
    if mend == "notches of other":
        return {
            other.key: _with_notches(
                shapes[other.key], other, [(1 - at, m.is_double) for at, m in _places(one, shapes[one.key])]
            )
        }
    if mend == "notches of one":
        return {
            one.key: _with_notches(
                shapes[one.key], one, [(1 - at, m.is_double) for at, m in _places(other, shapes[other.key])]
            )
        }
    front = _front_first(one)
    new = [(0.35, not front), (0.65, front)]
    return {
        one.key: _with_notches(shapes[one.key], one, new),
        other.key: _with_notches(shapes[other.key], other, [(1 - at, double) for at, double in new]),
    }


def _front_first(one: Stretch) -> bool:
    """Whether the stretch's start lies nearer to the front, the lower end of a shape; where both lie alike, its start
    is the front.
    """
    return one.points[0][1] <= one.points[-1][1]


def _with_notches(shape: Shape, stretch: Stretch, places: list[tuple[float, bool]]) -> Shape:
    lengths = [(name, shape.edge_length(shape.number_of(name))) for name in stretch.edges]
    kept = [m for m in shape.matches if m.edge not in stretch.edges]
    for share, double in sorted(places):
        left = share * stretch.length
        for n, (name, length) in enumerate(lengths):
            if left <= length or n == len(lengths) - 1:
                kept.append(Match(name, min(left, length), double))
                break
            left -= length
    return replace(shape, matches=tuple(kept))


def _both_sides(shape: Shape, stretch: Stretch, wanted: float) -> Shape:
    """The shape with a stretch so long; an even shape stays even: its other side, as long until now, goes with it."""
    made = with_length(shape, stretch, wanted)
    side, part = side_of_edge(stretch.side), place_of_edge(stretch.side)
    if shape.lopsided or shape.halves_differ or side not in ("left", "right"):
        return made
    opposite = MIRRORED[side]
    if part:
        opposite += f".{max(e.part for e in shape.edges if e.side == side) + 1 - part}"
    across = stretch_of(stretch.key, made, opposite)
    if across is None or abs(across.length - stretch.length) > AGREES:
        return made
    return with_length(made, across, wanted)


def with_length(shape: Shape, stretch: Stretch, wanted: float) -> Shape:
    """Return the shape with a stretch of its outline so many mm long: its two ends move apart or together by the same.

    The edges beside it follow, less and less the further away; what lies opposite stays. A closed, round stretch grows
    all round. Raises BadInput for a length above 10 m, one that is less than half or more than twice the old one, and
    where the outline would cross itself.
    """
    if not (0.5 * stretch.length <= wanted <= 2 * stretch.length and wanted <= 10_000):
        raise BadInput(
            "length",
            f"{wanted:.0f} mm",
            f"{stretch.length / 2:.0f} to {stretch.length * 2:.0f} mm, no other piece than this",
        )
    if stretch.points[0] == stretch.points[-1]:
        share = wanted / stretch.length
        return shape.moved_by(lambda p: (p[0] * share, p[1] * share))
    low, high = -stretch.length, stretch.length * 2
    for _ in range(60):
        middle = (low + high) / 2
        if _stretched_length(shape, stretch, middle) < wanted:
            low = middle
        else:
            high = middle
    points = _stretched(shape, stretch, (low + high) / 2)
    outline = outline_of(points)
    made = replace(shape, outline=outline, matches=())
    return replace(made, matches=shape.matches_on(made))


def _stretched_length(shape: Shape, stretch: Stretch, more: float) -> float:
    points = _stretched(shape, stretch, more)
    segments = [s for name in stretch.edges for s in shape.segments_of(shape.number_of(name))]
    return sum(math.dist(points[s], points[(s + 1) % len(points)]) for s in segments)


def _stretched(shape: Shape, stretch: Stretch, more: float) -> list[Point]:
    """The outline's points with the stretch's ends moved apart along its chord, the edges beside it following to their
    far ends.
    """
    (ax, ay), (bx, by) = stretch.points[0], stretch.points[-1]
    chord = math.dist((ax, ay), (bx, by))
    u = ((bx - ax) / chord, (by - ay) / chord)
    points = list(shape.outline.points)
    numbers = [shape.number_of(name) for name in stretch.edges]
    count = len(shape.edges)
    before, after = (numbers[0] - 1) % count, (numbers[-1] + 1) % count
    inner = [s for n in numbers for s in shape.segments_of(n)]
    gone = 0.0
    for segment in inner:  # within the stretch: from -1/2 at its start to +1/2 at its end
        share = gone / stretch.length - 0.5
        points[segment] = _by(shape.outline.points[segment], u, more * share)
        gone += math.dist(shape.outline.points[segment], shape.outline.points[(segment + 1) % len(points)])
    for number, share_of, at_end in ((after, 0.5, False), (before, -0.5, True)):
        if number in numbers:
            continue
        segments, length, run = shape.segments_of(number), shape.edge_length(number), 0.0
        for segment in segments:
            fade = run / length if at_end else 1 - run / length
            points[segment] = _by(points[segment], u, more * share_of * fade)
            run += math.dist(shape.outline.points[segment], shape.outline.points[(segment + 1) % len(points)])
    return points


def _by(point: Point, u: Point, far: float) -> Point:
    return (point[0] + u[0] * far, point[1] + u[1] * far)


@dataclass(frozen=True)
class Step:
    """One moment of walking a partner along an edge: how far along in mm, the partner's place (x, y, degrees), where
    they touch.
    """

    along: float
    x: float
    y: float
    degrees: float
    touch: Point


def walk(seam: Seam, *, frames: int = FRAMES) -> tuple[Step, ...]:
    """Return the partner's places while it is walked along the first edge, touching and turned to lie along it at each
    step.

    At the end the shorter of the two runs out: what is left of the longer one is the difference. A place is applied as
    a turn about (0, 0), then a move, in the first shape's frame.
    """
    one, other = seam.one.points, seam.other.points[::-1]
    far = min(seam.one.length, seam.other.length)
    made = []
    for k in range(frames + 1):
        along = far * k / frames
        at, out = along_points(one, along)
        meets, theirs = along_points(other, along)
        turn = math.atan2(out[1], out[0]) - math.atan2(theirs[1], theirs[0])
        c, s = math.cos(turn), math.sin(turn)
        made.append(
            Step(
                along, at[0] - c * meets[0] + s * meets[1], at[1] - s * meets[0] - c * meets[1], math.degrees(turn), at
            )
        )
    return tuple(made)
