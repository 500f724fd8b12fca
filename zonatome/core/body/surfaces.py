"""Surfaces that bodies are put together from: grids of places between curves, pads, strips round a line, solids."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Sequence
from functools import lru_cache

import numpy as np

from zonatome.core.body.values import Curve, Grid, crossed

Place = Sequence[float] | Curve
CORNER = 9.0  # the greater, the nearer to its corners a pad stays high
ROUNDS = 7  # how often a pad's plan is fitted to its cover


@lru_cache(maxsize=256)
def shares(count: int, *, ends: float = 0.0) -> Curve:
    """Return `count` + 1 shares from 0 to 1, not to be written to; with `ends` above 0 they stand closer at both ends,
    where edges roll.
    """
    even = np.linspace(0.0, 1.0, count + 1)
    made: Curve = (1 - ends) * even + ends * (1 - np.cos(np.pi * even)) / 2
    made.setflags(write=False)
    return made


def line(a: Place, b: Place, count: int) -> Curve:
    """Return `count` + 1 places on the straight line from a to b."""
    begins = np.asarray(a, float)
    return np.asarray(begins + (np.asarray(b, float) - begins) * shares(count)[:, None])


def steps_of(path: Grid) -> Grid:
    """Return how far it is from each place of a line to the next, or of every row of a grid: (…, places - 1)."""
    by = path[..., 1:, :] - path[..., :-1, :]
    return np.asarray(np.sqrt(np.vecdot(by, by)))


def along(places: Sequence[Place], count: int) -> Curve:
    """Return `count` + 1 places evenly along a line through places."""
    path = np.asarray(places, float)
    return at_shares(path, shares(count))


def cornered(places: Sequence[Place], count: int, steps: Sequence[int] = ()) -> Curve:
    """Return about `count` + 1 places along a line through places, those among them: its corners are not cut;
    `steps` says how many from each to the next, where that must not rest on their lengths.
    """
    ends = [np.asarray(place, float) for place in places]
    long = [float(np.linalg.norm(b - a)) for a, b in itertools.pairwise(ends)]
    counts = steps or [max(1, round(count * one / sum(long))) for one in long]
    runs = [line(a, b, n) for (a, b), n in zip(itertools.pairwise(ends), counts, strict=True)]
    return np.concatenate([runs[0], *[run[1:] for run in runs[1:]]])


def arc(middle: Place, radii: tuple[float, float], begins: float, ends: float, count: int) -> list[tuple[float, float]]:
    """Return places of a flat ellipse from one angle to another, degrees."""
    turns = np.radians(np.linspace(begins, ends, count + 1))
    return [(middle[0] + radii[0] * math.cos(t), middle[1] + radii[1] * math.sin(t)) for t in turns]


def between(left: Curve, right: Curve, columns: int, *, ends: float = 0.0) -> Grid:
    """Return the ruled surface between two lines that go up: (rows, columns + 1, 3)."""
    share = shares(columns, ends=ends)[None, :, None]
    return left[:, None, :] * (1 - share) + right[:, None, :] * share


def path_length(path: Curve) -> float:
    """Return how long a line of places is."""
    return float(steps_of(path).sum())


def measured(points: Grid) -> Grid:
    """Return where each place of a surface lies when it is laid flat about its middle: across along its row, up along
    the middle column.

    A flat panel whose rows are parallel keeps its true measures; on a crowned one rows and the middle column do.
    """
    rows, columns = points.shape[:2]
    middle = columns // 2
    flat = np.zeros((rows, columns, 2))
    x, y = flat[:, :, 0], flat[:, :, 1]
    np.cumsum(steps_of(points), axis=1, out=x[:, 1:])
    x -= (x[:, middle] if columns % 2 else (x[:, middle] + x[:, middle - 1]) / 2)[:, None]
    y[1:] = np.cumsum(steps_of(points[:, middle]))[:, None]
    y -= y[-1] / 2
    return flat


def normals_at(points: Grid) -> Grid:
    """Return the way out at every place of a grid, of length 1."""
    out = crossed(np.gradient(points, axis=1), np.gradient(points, axis=0))
    return np.asarray(out / np.maximum(np.sqrt((out * out).sum(axis=2, keepdims=True)), 1e-9))


def resampled(grid: Grid, at: Curve, *, is_across: bool) -> Grid:
    """Return a grid's columns (or rows) at these places between its own, counted from 0."""
    last = (grid.shape[1] if is_across else grid.shape[0]) - 1
    low = np.clip(np.floor(at).astype(int), 0, last - 1)
    share = at - low
    if is_across:
        return np.asarray(grid[:, low] * (1 - share)[None, :, None] + grid[:, low + 1] * share[None, :, None])
    return np.asarray(grid[low] * (1 - share)[:, None, None] + grid[low + 1] * share[:, None, None])


def dome(share: Curve, roll: float) -> Curve:
    """Return how high a pad stands from one edge to the other, 0 to 1: the greater `roll`, the flatter its top and the
    rounder its edges.
    """
    return np.asarray(np.power(np.clip(1 - np.abs(2 * share - 1) ** roll, 0, 1), 1 / roll))


def padded(points: Grid, height: float, *, roll: float = 2.6) -> Grid:
    """Return a surface raised by a pad under it, as high in its middle as said, nothing at its edges."""
    rows, columns = (shares(n - 1) for n in points.shape[:2])
    rise = dome(rows, roll)[:, None] * dome(columns, roll)[None, :]
    return points + height * rise[:, :, None] * normals_at(points)


def dome_excess(width: float, crown: float, roll: float) -> float:
    """Return by how much the way over a dome is longer than across its foot."""
    share = shares(40)
    return path_length(np.stack([share * width, crown * dome(share, roll)], axis=1)) - width


def curved(points: Grid, height: float) -> Grid:
    """Return a surface raised like a hill across it, nothing at its left and right edge."""
    columns = shares(points.shape[1] - 1)
    return points + height * (1 - (2 * columns - 1) ** 2)[None, :, None] * normals_at(points)


# shares of the way up and across → places of a flat panel from the middle of its box: (rows, columns, 2)
Plan = Callable[[Curve, Curve], Grid]


def straight_plan(width: float, above: float, height: float) -> Plan:
    """Return the plan of a panel whose sides are straight."""

    def places(up: Curve, across: Curve) -> Grid:
        wide = width + (above - width) * up[:, None]
        return np.stack(
            [wide * (across[None, :] - 0.5), np.repeat((up - 0.5)[:, None] * height, len(across), axis=1)], axis=2
        )

    return places


def round_plan(width: float) -> Plan:
    """Return the plan of a disc."""

    def places(up: Curve, across: Curve) -> Grid:
        wide = width * np.sqrt(np.clip(1 - (2 * up - 1) ** 2, 0, 1))[:, None]
        return np.stack(
            [wide * (across[None, :] - 0.5), np.repeat((up - 0.5)[:, None] * width, len(across), axis=1)], axis=2
        )

    return places


def sided_plan(bottom: Curve, right: Curve, top: Curve, left: Curve) -> Plan:
    """Return the plan of a panel whose four sides are lines of places, bottom and top from left to right, left and
    right upward: Coons' patch of them.
    """

    def places(up: Curve, across: Curve) -> Grid:
        return coons(bottom, right, top, left, up, across)

    return places


def coons(bottom: Curve, right: Curve, top: Curve, left: Curve, up: Curve, across: Curve) -> Grid:
    """Return the surface between four lines that meet at their ends, at these shares up and across. Source: Coons,
    1967.
    """
    low, high = (at_shares(side, across)[None, :] for side in (bottom, top))
    near, far = (at_shares(side, up)[:, None] for side in (left, right))
    u, v = across[None, :, None], up[:, None, None]
    corners = bottom[0] * (1 - u) * (1 - v) + bottom[-1] * u * (1 - v) + top[0] * (1 - u) * v + top[-1] * u * v
    return np.asarray(low * (1 - v) + high * v + near * (1 - u) + far * u - corners)


def at_shares(path: Curve, share: Curve) -> Curve:
    """Return the places at these shares of a line's length."""
    far = np.concatenate([[0.0], np.cumsum(steps_of(path))])
    return np.stack([np.interp(share * far[-1], far, path[:, k]) for k in range(path.shape[1])], axis=1)


def rounded(plan: Plan, radius: float = 20.0) -> Plan:
    """Return a plan with its corners rounded, as those of a board that is wrapped are."""

    def places(up: Curve, across: Curve) -> Grid:
        found = plan(up, across)
        height = float(np.ptp(found[:, :, 1]))
        from_end = np.clip(np.minimum(up, 1 - up) * height, 0, radius)
        inward = radius - np.sqrt(radius**2 - (radius - from_end) ** 2)
        half = np.maximum(np.abs(found[:, [0, -1], 0]).max(axis=1), 1.0)
        found[:, :, 0] *= np.clip(1 - inward / half, 0, 1)[:, None]
        return found

    return places


def pad(
    plan: Plan,
    *,
    at: Place,
    right: Place,
    up: Place,
    crown: float,
    roll: float = 3.0,
    cells: tuple[int, int] = (10, 10),
) -> Grid:
    """Return the cover of a board: a pad of this crown on a plan, so large that the cover's way over it is the plan's.

    `at` is the middle of the board's face, `right` and `up` its directions. Where edges roll down the board is less
    wide than its cover; the plan is drawn in until both lines through the middle are as long as the finished panel's.
    """
    share_up, share_across = shares(cells[1], ends=0.75), shares(cells[0], ends=0.75)
    flat = plan(share_up, share_across)
    across, upward = flat[:, :, 0], flat[:, :, 1]
    half = max(float(np.max(across)), 1e-9)
    toward_edge = _toward_edge(share_up, share_across, across / half, is_round=float(np.ptp(across[0])) < 1e-6)
    rise = np.power(np.clip(1 - toward_edge**roll, 0, 1), 1 / roll)
    ex, ey = np.asarray(right, float), np.asarray(up, float)
    ez = np.cross(ex, ey)
    # the lines through the middle, across and up, in the pad's own frame
    plain = np.stack([across, upward, crown * rise], axis=2)
    lines = (plain[across.shape[0] // 2], plain[:, across.shape[1] // 2])
    wanted = [path_length(line[:, :2]) for line in lines]
    fit = np.array([1.0, 1.0, 1.0])
    for _ in range(ROUNDS):
        for n, (long, through) in enumerate(zip(wanted, [path_length(line * fit) for line in lines], strict=True)):
            fit[n] *= long / through
    return np.asarray(np.asarray(at, float) + (plain * fit) @ np.stack([ex, ey, ez]))


def _toward_edge(share_up: Curve, share_across: Curve, across: Grid, *, is_round: bool) -> Grid:
    """How near to its edge each place of a pad's plan is, 0 in the middle to 1: of a disc by its radius."""
    v = np.abs(2 * share_up - 1)[:, None]
    if is_round:
        return np.asarray(np.minimum(np.hypot(across, v), 1.0))
    u = np.abs(2 * share_across - 1)[None, :]
    return np.asarray(np.minimum((u**CORNER + v**CORNER) ** (1 / CORNER), 1.0))


def mirrored(points: Grid) -> Grid:
    """Return a surface of the sitter's left as it lies on the right: left and right swapped, its face still out."""
    return np.asarray(points[:, ::-1] * np.array([-1.0, 1.0, 1.0]))


def box(low: Place, high: Place) -> Grid:
    """Return the six faces of a box between two corners."""
    (x0, y0, z0), (x1, y1, z1) = low, high
    return post((x0, y0), (x1, y1), z0, (x0, y0), (x1, y1), z1)


def post(low: Place, high: Place, floor: float, low_above: Place, high_above: Place, top: float) -> Grid:
    """Return the faces of a post: a rectangle in plan at its foot, another at its top."""
    foot = _rectangle(low, high, floor)
    head = _rectangle(low_above, high_above, top)
    sides = [[foot[k], foot[(k + 1) % 4], head[(k + 1) % 4], head[k]] for k in range(4)]
    return np.array([*sides, head, foot[::-1]], float)


def _rectangle(low: Place, high: Place, z: float) -> list[tuple[float, float, float]]:
    return [(low[0], low[1], z), (high[0], low[1], z), (high[0], high[1], z), (low[0], high[1], z)]


def bar(a: Place, b: Place, wide: float, deep: float | None = None, *, sides: int = 4) -> Grid:
    """Return the faces of a bar from a to b: square of so many mm, or a tube of more sides, without its ends' lids."""
    a_, b_ = np.asarray(a, float), np.asarray(b, float)
    way = (b_ - a_) / max(float(np.linalg.norm(b_ - a_)), 1e-9)
    aside = np.cross(way, (0.0, 0.0, 1.0) if abs(way[2]) < 0.9 else (0.0, 1.0, 0.0))
    aside /= np.linalg.norm(aside)
    over = np.cross(aside, way)
    radii = (wide / 2, (deep or wide) / 2)
    first = math.pi / sides
    turns = [first + 2 * math.pi * k / sides for k in range(sides)]
    grow = 1 / math.cos(first)
    ring = [grow * (math.cos(t) * radii[0] * aside + math.sin(t) * radii[1] * over) for t in turns]
    faces = [[a_ + ring[k], a_ + ring[k - 1], b_ + ring[k - 1], b_ + ring[k]] for k in range(sides)]
    if sides == 4:
        faces += [[a_ + r for r in ring], [b_ + r for r in ring[::-1]]]
    return np.array(faces, float)


def tube(path: Curve, thick: float, *, sides: int = 6) -> Grid:
    """Return the faces of a tube along a line."""
    steps = [(a, b) for a, b in itertools.pairwise(path) if np.linalg.norm(b - a) > 0.05]
    return np.concatenate([bar(a, b, thick, sides=sides) for a, b in steps])


def round_post(
    middle: Place, radius: float, floor: float, top: float, radius_above: float | None = None, *, sides: int = 12
) -> Grid:
    """Return the faces of a round post, or of a cone's part, with its lid."""
    above = radius if radius_above is None else radius_above
    turns = [2 * math.pi * k / sides for k in range(sides)]
    foot = [(middle[0] + radius * math.cos(t), middle[1] + radius * math.sin(t), floor) for t in turns]
    head = [(middle[0] + above * math.cos(t), middle[1] + above * math.sin(t), top) for t in turns]
    faces = [[foot[k - 1], foot[k], head[k], head[k - 1]] for k in range(sides)]
    lid = (middle[0], middle[1], top)
    faces += [[head[k - 1], head[k], lid, lid] for k in range(sides)]
    return np.array(faces, float)
