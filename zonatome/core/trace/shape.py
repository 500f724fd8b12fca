"""A shape: the finished outline of a panel, how each of its edges is held, and the marks that the cut piece carries.

Edges run anticlockwise, each from its start point to the next edge's; the join decides what is added
outside the finished line, and the cut line is the outline offset edge by edge.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from shapely.geometry import LineString

from zonatome.core.errors import BadInput
from zonatome.core.joins import JOINS, join_named
from zonatome.core.outline import Outline, Point, crossings, offset_by_edge, turn_of
from zonatome.core.rules import USUAL, Rules
from zonatome.core.survey.kind import MIRRORED, ROUND, RUN, SEAMS, Part, Side, place_of_edge, side_of_edge
from zonatome.core.tolerances import LEAST_AREA, SAME_LENGTH

MOST_ADDED = 500.0  # no edge needs half a metre beyond its finished line
MOST_EASE = 0.02  # trade rule: 0 to 2 % is eased in; a longer edge than this is gathered
MOST_MARKS = 400
ON_CORNER = 3.0  # mm: an edge parted so near to a point of the outline is parted at that point
# the trade's marks that lie inside a shape; notches lie on its edges
MARKS: dict[str, str] = {
    "button": "button",
    "channel": "stitch line of a channel",
    "fly": "the fly starts here",
    "tuck": "tuck line",
    "fold": "old fold",
    "post": "leg or arm post",
    "screw": "screw hole",
    "relief": "relief cut, not yet: on the furniture",
    "pleat": "pleat",
}
LINES = ("channel", "fly", "tuck", "fold", "relief", "pleat")


@dataclass(frozen=True)
class Edge:
    """A stretch of outline from point `start` to the next edge's start, with its join and what it adds.

    `side` is the panel's side on which it lies, `part` the number of its part where the panel holds that side in
    several ways, in the order of the run. `ease` is the share by which it may be longer than the edge that it is sewn
    to.
    """

    name: str
    start: int
    join: str
    adds: float
    side: Side
    ease: float = 0.0
    part: int = 0

    def __post_init__(self) -> None:
        """Refuse a join that is not in the table, an allowance that no edge has and an ease that none bears."""
        join_named(self.join, at=f"edges.{self.name}.join")
        if not (math.isfinite(self.adds) and 0 <= self.adds <= MOST_ADDED):
            raise BadInput(f"edges.{self.name}.adds", self.adds, f"0 to {MOST_ADDED:.0f} mm")
        if not 0 <= self.ease <= MOST_EASE:
            raise BadInput(f"edges.{self.name}.ease", self.ease, f"0 to {MOST_EASE:g}: a share of the length")

    def panel_edge(self, part: Part) -> str:
        """Return the edge of its panel on which it lies."""
        if part.form == "disc":
            return ROUND
        named = f"{self.side}.{self.part}"
        return (
            named if named in part.edges else next((e for e in part.edges if side_of_edge(e) == self.side), self.side)
        )

    def lies_on(self, edge: str) -> bool:
        """Whether it lies on an edge of the panel: `right`, a part of a side as `right.2`, or `round`, which is all of
        them.
        """
        if edge == ROUND:
            return True
        number = place_of_edge(edge)
        return self.side == side_of_edge(edge) and (not number or self.part == number)


@dataclass(frozen=True)
class Notch:
    """A mark on the edge: where, the way out of the shape, what it means, and whether it is doubled."""

    at: Point
    outward: Point
    means: str
    is_double: bool = False


@dataclass(frozen=True)
class Match:
    """A matching notch: so many mm along an edge from its start. Single toward the front, double toward the back."""

    edge: str
    along: float
    is_double: bool = False


@dataclass(frozen=True)
class Mark:
    """A mark inside the shape: one point, or a line of two, and what it means."""

    means: str
    points: tuple[Point, ...]

    def __post_init__(self) -> None:
        """Refuse a mark that the table has not, and one of the wrong count of points."""
        if self.means not in MARKS:
            raise BadInput("marks.means", self.means, "one of " + ", ".join(MARKS))
        wanted = 2 if self.means in LINES else 1
        if len(self.points) != wanted:
            raise BadInput(f"marks.{self.means}", len(self.points), f"{wanted} point{'s' if wanted > 1 else ''}")


@dataclass(frozen=True)
class Shape:
    """The flat shape of a panel, face up, its top toward +y.

    A `lopsided` one is meant to be: it is never mirrored true.
    """

    name: str
    outline: Outline
    edges: tuple[Edge, ...]
    matches: tuple[Match, ...] = ()
    marks: tuple[Mark, ...] = ()
    lopsided: bool = False

    def __post_init__(self) -> None:
        """Refuse edges that do not follow each other round the outline, and notches that lie on none of them."""
        starts = [edge.start for edge in self.edges]
        if not starts or starts != sorted(set(starts)) or starts[0] < 0 or starts[-1] >= len(self.outline.points):
            raise BadInput("edges", starts, f"rising start points from 0 to {len(self.outline.points) - 1}")
        if len(self.matches) + len(self.marks) > MOST_MARKS:
            raise BadInput("marks", len(self.matches) + len(self.marks), f"at most {MOST_MARKS} marks and notches")
        names = {edge.name for edge in self.edges}
        for match in self.matches:
            if match.edge not in names or not (math.isfinite(match.along) and match.along >= 0):
                raise BadInput(
                    "matches", f"{match.edge} {match.along:g}", "an edge of this shape and a distance along it"
                )

    def number_of(self, name: str) -> int:
        """Return the number of the edge of this name; BadInput names the ones there are."""
        for number, edge in enumerate(self.edges):
            if edge.name == name:
                return number
        raise BadInput("edge", name, "one of " + ", ".join(e.name for e in self.edges))

    def segments_of(self, number: int) -> tuple[int, ...]:
        """Return the segments of the outline that belong to one edge, in order."""
        n = len(self.outline.points)
        first = self.edges[number].start
        after = self.edges[(number + 1) % len(self.edges)].start
        count = (after - first) % n or n
        return tuple((first + k) % n for k in range(count))

    def edges_on(self, edge: str) -> tuple[int, ...]:
        """Return the numbers of the edges that lie on an edge of the panel, in the order of the run; see
        `Edge.lies_on`.
        """
        count = len(self.edges)
        wanted = [n for n, e in enumerate(self.edges) if e.lies_on(edge)]
        if edge == ROUND or not wanted:
            return tuple(wanted)
        first = next((n for n in wanted if (n - 1) % count not in wanted), wanted[0])
        return tuple(sorted(wanted, key=lambda n: (n - first) % count))

    def length_on(self, edge: str) -> float:
        """Return the finished length of all that lies on an edge of the panel, in mm; 0 where nothing does."""
        return sum(self.edge_length(n) for n in self.edges_on(edge))

    def edge_points(self, number: int) -> tuple[Point, ...]:
        """Return the points along one edge, both ends included."""
        n = len(self.outline.points)
        segments = self.segments_of(number)
        return tuple(self.outline.points[i] for i in (*segments, (segments[-1] + 1) % n))

    def edge_length(self, number: int) -> float:
        """Return the finished length of one edge."""
        points = self.edge_points(number)
        return sum(math.dist(a, b) for a, b in itertools.pairwise(points))

    @property
    def sewn_length(self) -> float:
        """The mm that the machine runs for this panel: half of each sewn edge, the other half is its partner's."""
        return sum(self.edge_length(n) for n, edge in enumerate(self.edges) if edge.join in SEAMS) / 2

    @cached_property
    def cut_line(self) -> Outline:
        """The line that the shears follow."""
        allowances = [0.0] * len(self.outline.points)
        for number, edge in enumerate(self.edges):
            for segment in self.segments_of(number):
                allowances[segment] = edge.adds
        return offset_by_edge(self.outline, allowances)

    @property
    def notches(self) -> tuple[Notch, ...]:
        """The centre notches, where the middle lines of the shape meet its edge,
        and the matching notches of its seams.
        """
        x0, y0, x1, y1 = self.outline.bounds
        mx, my, far = (x0 + x1) / 2, (y0 + y1) / 2, 10.0
        across = crossings(self.outline, (x0 - far, my), (x1 + far, my))
        upward = crossings(self.outline, (mx, y0 - far), (mx, y1 + far))
        made = []
        for ends, first, last in ((upward, (0.0, -1.0), (0.0, 1.0)), (across, (-1.0, 0.0), (1.0, 0.0))):
            if ends:
                made += [Notch(ends[0], first, "centre"), Notch(ends[-1], last, "centre")]
        return (*made, *(self._match_notch(m) for m in self.matches))

    def _match_notch(self, match: Match) -> Notch:
        points = self.edge_points(self.number_of(match.edge))
        return Notch(*along_points(points, match.along), "match", match.is_double)

    @property
    def halves_differ(self) -> float:
        """How far the two halves differ when folded on the centre line, in mm; 0 when within a tape's reading, or
        meant so.
        """
        if self.lopsided:
            return 0.0
        x0, _, x1, _ = self.outline.bounds
        folded = Outline(tuple((x0 + x1 - x, y) for x, y in reversed(self.outline.points)))
        apart = float(self.outline.polygon.hausdorff_distance(folded.polygon))
        return apart if apart > SAME_LENGTH else 0.0

    def moved_by(self, move: Callable[[Point], Point]) -> Shape:
        """Return the shape with every point moved; notches keep their share of their edge.

        Refuses what folds it over itself.
        """
        outline = Outline(tuple(move(p) for p in self.outline.points))
        if not outline.polygon.is_valid or not outline.polygon.exterior.is_ccw or outline.area < LEAST_AREA:
            raise BadInput("outline", self.name, "a change that keeps the outline simple and the way round")
        made = replace(
            self,
            outline=outline,
            matches=(),
            marks=tuple(Mark(m.means, tuple(move(p) for p in m.points)) for m in self.marks),
        )
        return replace(made, matches=self.matches_on(made))

    def at_corner(self) -> Shape:
        """Return the shape moved so that its box begins at (0, 0)."""
        x0, y0, _, _ = self.outline.bounds
        return self.moved_by(lambda p: (p[0] - x0, p[1] - y0))

    def matches_on(self, made: Shape) -> tuple[Match, ...]:
        """Return the matching notches at the same share of the edges of the same names of another shape."""
        kept = []
        for match in self.matches:
            number = next((n for n, e in enumerate(made.edges) if e.name == match.edge), None)
            if number is not None:
                share = match.along / self.edge_length(self.number_of(match.edge))
                kept.append(replace(match, along=share * made.edge_length(number)))
        return tuple(kept)

    def with_outline(self, outline: Outline) -> Shape:
        """Return the shape on another outline of about the same form: each edge begins at the point nearest to where
        it began.

        Where that does not give as many edges in the same order, the edges begin at the outline's corners and are
        held as the old edge nearest to them. Marks stay where they are, notches keep their share of their edge.
        """
        begin = _nearest(outline, self.outline.points[self.edges[0].start])
        outline = Outline((*outline.points[begin:], *outline.points[:begin]))
        starts = [_nearest(outline, self.outline.points[edge.start]) for edge in self.edges]
        turned = starts.index(min(starts))
        if [*starts[turned:], *starts[:turned]] == sorted(set(starts)):
            edges = [replace(edge, start=start) for edge, start in zip(self.edges, starts, strict=True)]
            edges.sort(key=lambda e: e.start)
        else:
            edges = self._edges_nearest(outline)
        made = replace(self, outline=outline, edges=tuple(edges), matches=())
        return replace(made, matches=self.matches_on(made))

    def _edges_nearest(self, outline: Outline) -> list[Edge]:
        lines = [LineString(self.edge_points(n)) for n in range(len(self.edges))]
        made = []
        starts = edges_by_corners(outline)
        for number, start in enumerate(starts):
            after = starts[(number + 1) % len(starts)]
            count = (after - start) % len(outline.points) or len(outline.points)
            way = LineString([outline.points[(start + k) % len(outline.points)] for k in range(count + 1)])
            middle = way.interpolate(0.5, normalized=True)
            old = min(range(len(lines)), key=lambda n: lines[n].distance(middle))
            made.append(replace(self.edges[old], name=edge_name(number), start=start))
        return made

    def with_edge(self, name: str, *, join: str, adds: float | None = None) -> Shape:
        """Return the shape with one edge held another way; without `adds`, the join's usual allowance."""
        if name not in {edge.name for edge in self.edges}:
            raise BadInput("edge", name, "one of " + ", ".join(e.name for e in self.edges))
        join_named(join)
        usual = USUAL.adds(join) if adds is None else adds
        return replace(
            self, edges=tuple(replace(e, join=join, adds=usual) if e.name == name else e for e in self.edges)
        )

    def edges_joined(self, name: str) -> Shape:
        """Return the shape with one edge and the next made one, held as the first; its notches stay where they are."""
        number = self.number_of(name)
        if len(self.edges) < 2:
            raise BadInput("edge", name, "a shape with more than one edge")
        after = self.edges[(number + 1) % len(self.edges)]
        length = self.edge_length(number)
        matches = tuple(
            replace(m, edge=name, along=m.along + length) if m.edge == after.name else m for m in self.matches
        )
        return replace(self, edges=tuple(e for e in self.edges if e is not after), matches=matches)

    def edge_parted(self, name: str, along: float) -> Shape:
        """Return the shape with an edge parted in two, so many mm from its start; a corner within 3 mm is taken, else
        a point is added.

        The second part gets the first letter that is free and is held as the whole was. Raises BadInput for a place
        that is not within the edge.
        """
        number = self.number_of(name)
        length = self.edge_length(number)
        if not (SAME_LENGTH < along < length - SAME_LENGTH):
            raise BadInput("along", f"{along:.0f} mm", f"more than 0 and less than the {length:.0f} mm of edge {name}")
        points, edges = list(self.outline.points), list(self.edges)
        run, at = 0.0, -1
        for segment in self.segments_of(number):
            a, b = points[segment], points[(segment + 1) % len(points)]
            step = math.dist(a, b)
            if run + step >= along - SAME_LENGTH:
                near = (segment + 1) % len(points)
                if abs(run + step - along) <= ON_CORNER and run + step < length - SAME_LENGTH:
                    at, along = near, run + step
                else:
                    share = (along - run) / step
                    at = segment + 1
                    points.insert(at, (a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share))
                    edges = [replace(e, start=e.start + 1) if e.start >= at else e for e in edges]
                break
            run += step
        taken = {e.name for e in edges}
        new = next(n for n in (edge_name(k) for k in range(len(edges) + 1)) if n not in taken)
        edges.append(replace(self.edges[number], name=new, start=at))
        edges.sort(key=lambda e: e.start)
        matches = tuple(
            replace(m, edge=new, along=m.along - along) if m.edge == name and m.along > along else m
            for m in self.matches
        )
        return replace(self, outline=Outline(tuple(points)), edges=tuple(edges), matches=matches)

    def facing(self, name: str, side: Side) -> Shape:
        """Return the shape with one edge said to lie on another side of it: which seams it belongs to follows from
        that.
        """
        self.number_of(name)
        return replace(self, edges=tuple(replace(e, side=side, part=0) if e.name == name else e for e in self.edges))

    def turned(self, quarters: int) -> Shape:
        """Return the shape turned by so many quarters, anticlockwise: what pointed up points to the left after one;
        sides go along.
        """
        quarters %= 4
        if not quarters:
            return self
        sides: dict[Side, Side] = {side: RUN[(RUN.index(side) + quarters) % 4] for side in RUN}
        outline = self.outline.turned(90 * quarters)
        x0, y0, _, _ = outline.bounds
        c, s = turn_of(90 * quarters)
        marks = tuple(
            Mark(m.means, tuple((c * x - s * y - x0, s * x + c * y - y0) for x, y in m.points)) for m in self.marks
        )
        edges = tuple(replace(e, side=sides[e.side]) for e in self.edges)
        return replace(self, outline=outline.moved(-x0, -y0), edges=edges, marks=marks)

    def held_as(self, part: Part, rules: Rules = USUAL) -> Shape:
        """Return the shape with every edge held as its panel's is, and adding what the workroom adds for that.

        A side that the panel holds in several ways is parted where the usual measures part it, by their shares of the
        side; a corner that lies near there is taken.
        """
        shape = self
        for side, lengths in part.parted.items():
            shape = shape._parted_as(side, lengths)
        round_join = part.joins.get(ROUND)
        edges = []
        for edge in shape.edges:
            name = f"{edge.side}.{edge.part}" if edge.part else edge.side
            join = round_join or part.joins.get(name) or part.joins.get(edge.side)
            edges.append(replace(edge, join=join, adds=rules.adds(join)) if join else edge)
        return replace(shape, edges=tuple(edges))

    def _parted_as(self, side: Side, lengths: Sequence[float]) -> Shape:
        shape, whole = self, self.length_on(side)
        if not whole:
            return self
        cuts = [whole * cut / sum(lengths) for cut in itertools.accumulate(lengths)]
        for cut in cuts[:-1]:
            begins = 0.0
            for number in shape.edges_on(side):
                length = shape.edge_length(number)
                if begins + ON_CORNER < cut < begins + length - ON_CORNER:
                    shape = shape.edge_parted(shape.edges[number].name, cut - begins)
                    break
                begins += length
        edges, begins = list(shape.edges), 0.0
        for number in shape.edges_on(side):
            middle = begins + shape.edge_length(number) / 2
            begins += shape.edge_length(number)
            edges[number] = replace(edges[number], part=1 + sum(cut < middle for cut in cuts[:-1]))
        return replace(shape, edges=tuple(edges))

    def mirrored(self, name: str) -> Shape:
        """Return the shape for the partner of a pair: left and right swapped, top kept; edges keep joins, names and
        marks.
        """
        n, right = len(self.outline.points), self.outline.bounds[2]
        outline = Outline(tuple((right - x, y) for x, y in reversed(self.outline.points)))
        most = {side: max((e.part for e in self.edges if e.side == side), default=0) for side in RUN}
        afters = [self.edges[(i + 1) % len(self.edges)].start for i in range(len(self.edges))]
        moved = [
            replace(
                e,
                start=(n - 1 - after) % n,
                side=MIRRORED.get(e.side, e.side),  # type: ignore[arg-type]
                part=most[e.side] + 1 - e.part if e.part else 0,
            )
            for e, after in zip(self.edges, afters, strict=True)
        ]
        matches = tuple(replace(m, along=self.edge_length(self.number_of(m.edge)) - m.along) for m in self.matches)
        marks = tuple(Mark(m.means, tuple((right - x, y) for x, y in m.points)) for m in self.marks)
        return Shape(name, outline, tuple(sorted(moved, key=lambda e: e.start)), matches, marks, self.lopsided)


def shape_of(name: str, outline: Outline, starts: Sequence[int], joins: Mapping[str, str]) -> Shape:
    """Return a shape whose edges begin at the given points, each held as its side usually is.

    An edge's side is the way it faces; where `joins` has none for it, it is sewn.
    """
    named = []
    for number, start in enumerate(starts):
        after = starts[(number + 1) % len(starts)]
        side = _side(outline, start, after)
        join = JOINS[joins.get(side, "sewn")]
        named.append(Edge(edge_name(number), start, join.key, join.adds, side))
    return Shape(name, outline, tuple(named))


def bare_shape(name: str, outline: Outline, marks: tuple[Mark, ...] = ()) -> Shape:
    """Return a flat piece without seams, from (0, 0): what is cut is what is drawn."""
    dx, dy = -outline.bounds[0], -outline.bounds[1]
    held = shape_of(name[:80], outline.moved(dx, dy), outline.corners() or (0,), {})
    moved = tuple(replace(mark, points=tuple((x + dx, y + dy) for x, y in mark.points)) for mark in marks)
    edges = tuple(replace(edge, join="on_fold", adds=0.0) for edge in held.edges)
    return Shape(held.name, held.outline, edges, marks=moved)


def edge_name(number: int) -> str:
    """Return the letter of an edge: a, b … z, then a1, b1 …"""
    letter = "abcdefghijklmnopqrstuvwxyz"[number % 26]
    return letter if number < 26 else f"{letter}{number // 26}"


def along_points(points: Sequence[Point], along: float) -> tuple[Point, Point]:
    """Return the point so many mm along a line of points, and the unit way out to its right: outward on an
    anticlockwise edge.
    """
    left = max(0.0, along)
    for n, (a, b) in enumerate(itertools.pairwise(points)):
        length = math.dist(a, b)
        if left <= length or n == len(points) - 2:
            share = min(1.0, left / length)
            at = (a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share)
            return at, ((b[1] - a[1]) / length, (a[0] - b[0]) / length)
        left -= length
    raise BadInput("points", len(points), "at least two points")


def _nearest(outline: Outline, to: Point) -> int:
    """The number of the outline's point nearest to a place;
    a corner wins over a point beside it that is hardly nearer.
    """
    corners = set(outline.corners())
    return min(
        range(len(outline.points)), key=lambda i: math.dist(outline.points[i], to) - (3.0 if i in corners else 0.0)
    )


def _side(outline: Outline, start: int, after: int) -> Side:
    """The side of the shape on which an edge lies: the way its middle looks from the shape's own middle."""
    if start == after:
        return "bottom"
    return side_of(outline.points[start], outline.points[after % len(outline.points)])


def side_of(a: Point, b: Point) -> Side:
    """Return the side of an anticlockwise outline on which a stretch from a to b lies, by the way that it runs."""
    dx, dy = b[0] - a[0], b[1] - a[1]
    if abs(dx) >= abs(dy):
        return "bottom" if dx > 0 else "top"
    return "right" if dy > 0 else "left"


def edges_by_corners(outline: Outline) -> tuple[int, ...]:
    """Return where edges begin on an outline from a file: at its corners, or once when it is round."""
    corners = outline.corners()
    return corners if len(corners) >= 2 else (0,)
