"""The exposed lines of a cover, by how its edges are held; where the joins of their trim fall. Lengths in mm."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from shapely.geometry import LineString

from zonatome.core.errors import BadInput
from zonatome.core.outline import Outline, Point
from zonatome.core.survey.kind import Kind, Part, edge_words
from zonatome.core.trim.welt import JOIN

GLUE_A_TIME = (50.0, 75.0)  # mm that are glued at a time, before it sets
GLUE_STICK = 2500.0  # mm of trim that a stick of 11 x 200 holds
MIDDLE = 0.2  # of a front edge on each side of its middle, in which no join lies
START_SHARE = 0.85  # of a back edge from its middle, low at its end: where trim starts


@dataclass(frozen=True)
class ExposedLine:
    """A line that takes trim: its name, the panel and edges that it runs along, how long it is along each, whether it
    closes, why it is exposed, how often a piece of furniture has it.
    """

    name: str
    key: str
    edges: tuple[str, ...]
    stretches: tuple[float, ...]
    is_closed: bool
    why: str
    times: int = 1

    @property
    def length(self) -> float:
        """How long it is, mm."""
        return sum(self.stretches)

    @property
    def front(self) -> tuple[float, float] | None:
        """From where to where along it the front's edge lies, if it starts at the back; None where it has none."""
        if not self.is_closed or "bottom" not in self.edges:
            return None
        at = self.edges.index("bottom")
        before = [n for n in range(len(self.edges)) if self.edges[n].startswith("left")]
        begins = sum(self.stretches[n] for n in before)  # from the back's left corner, down the left side
        return (begins, begins + self.stretches[at])


Of = Callable[[str, str], float]


def exposed_lines(kind: Kind, lengths: Of, joins: Callable[[str, str], str] | None = None) -> tuple[ExposedLine, ...]:
    """Return the lines of a cover that take trim.

    What is held raw under trim: one line round a panel where all its edges are, else one for each run of such edges;
    the seam round a padded sewn top, for its welt; the lower edge of a padded one that is wrapped; a facing's edge.
    `lengths` gives the finished length of an edge of a panel, `joins` how it is held where that is another than the
    kind says. Source: trade rules of trim.
    """
    found = []
    for part in kind.panels:
        held = {edge: joins(part.key, edge) if joins else part.joins.get(edge, "") for edge in part.edges}
        raw = _runs(part, held, "raw_under_trim")
        for run in raw:
            found.append(_line(part, run, lengths, "raw edges under it"))
        if raw:
            continue
        if part.key.startswith(("facing", "arm_front")):
            found.append(_line(part, tuple(e for e in part.edges if e != "bottom"), lengths, "a welt round it"))
        elif part.padded and set(held.values()) <= {"sewn", "stapled_under"}:
            seams = _runs(part, held, "sewn")
            found += [_line(part, run, lengths, "a welt in its seam") for run in seams]
            if not seams:
                found.append(_line(part, part.edges, lengths, "its lower edge, where that shows"))
    return tuple(found)


def _line(part: Part, edges: tuple[str, ...], lengths: Of, why: str) -> ExposedLine:
    is_closed = len(edges) == len(part.edges)
    name = part.name if is_closed else f"{part.name}, {', '.join(edge_words(e) for e in edges)}"
    stretches = tuple(lengths(part.key, edge) for edge in edges)
    return ExposedLine(name[:60], part.key, edges, stretches, is_closed, why, part.per_furniture)


def _runs(part: Part, held: Mapping[str, str], join: str) -> list[tuple[str, ...]]:
    """Edges held in one way that follow each other, in the order of the run."""
    edges = part.edges
    is_so = [held.get(edge) == join for edge in edges]
    if edges and all(is_so):
        return [edges]
    first = next((n for n in range(len(edges)) if is_so[n] and not is_so[n - 1]), None)
    if first is None:
        return []
    runs: list[list[str]] = []
    was_so = False
    for n in range(len(edges)):
        at = (first + n) % len(edges)
        if is_so[at]:
            if not was_so:
                runs.append([])
            runs[-1].append(edges[at])
        was_so = is_so[at]
    return [tuple(run) for run in runs]


@dataclass(frozen=True)
class JoinAt:
    """A join of a trim's strips: how far along the line it lies, from where it starts."""

    along: float
    from_front_middle: float


def joins_along(
    length: float, strips: Sequence[float], *, front: tuple[float, float] | None = None
) -> tuple[JoinAt, ...]:
    """Return where the slanted joins of strips fall on a line that starts low at the back.

    `strips` are the lengths of the strips as the lay cuts them, in the order in which they are joined; `front` the
    stretch of the line along the front's edge. No join lies in the middle fifth each way of the front: there the strip
    before is shortened. Raises BadInput where the strips are too short for the line.
    """
    if not 0 < length <= 200_000:
        raise BadInput("length", length, "a line of up to 200 m")
    found: list[JoinAt] = []
    at = 0.0
    forbidden = _forbidden(front)
    middle = sum(front) / 2 if front else math.inf
    for strip in strips:
        if at >= length - 1e-6:
            break
        at += strip - JOIN
        if at >= length - 1e-6:
            break
        if forbidden[0] < at < forbidden[1]:
            at = forbidden[0]  # cut shorter: the join shows at the front's middle
            if found and at <= found[-1].along:
                words = f"Strips of {strip:.0f} mm do not reach across the front's middle; expected longer ones."
                raise BadInput("strips", strip, "strips that reach across the front's middle", words=words)
        found.append(JoinAt(at, abs(at - middle)))
    else:
        if at < length - 1e-6:
            raise BadInput(
                "strips", f"{sum(strips):.0f} mm", "strips as long as the line with their joins",
                words=f"The strips reach {at:.0f} mm of a line of {length:.0f} mm; expected one strip more.",
            )  # fmt: skip
    return tuple(found)


def _forbidden(front: tuple[float, float] | None) -> tuple[float, float]:
    if front is None:
        return (math.inf, math.inf)
    middle, wide = sum(front) / 2, (front[1] - front[0]) * MIDDLE
    return (middle - wide, middle + wide)


def strips_for(length: float, longest: float) -> tuple[float, ...]:
    """Return the strips that a line takes from a cloth that gives pieces of at most `longest` mm: as few as may be, all
    of one length, each with its join.

    >>> strips_for(4200, 1500)
    (1440.0, 1440.0, 1440.0)
    """
    if longest <= JOIN:
        raise BadInput("longest", longest, f"a strip longer than its join of {JOIN:.0f} mm")
    count = max(1, math.ceil(length / (longest - JOIN) - 1e-9))
    return (length / count + JOIN,) * count


def sticks_of_glue(length: float) -> int:
    """Return how many sticks a line takes glued: one every 2.5 m. Source: trade rule.

    >>> sticks_of_glue(5200)
    3
    """
    return math.ceil(length / GLUE_STICK)


def start_of(outline: Outline) -> Point:
    """Return where trim round a panel starts: low at the back, near the end of its back edge, seen least."""
    x0, _, x1, y1 = outline.bounds
    ring = LineString([*outline.points, outline.points[0]])
    place = ring.interpolate(ring.project(LineString([(x0 + (x1 - x0) * START_SHARE, y1), (x1, y1)]).centroid))
    return (float(place.x), float(place.y))
