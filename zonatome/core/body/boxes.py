"""Bodies of stools, ottomans, benches and cushions, and of what stands on metal: desk chair, sling. Lengths in mm."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass

import numpy as np

from zonatome.core.body.chairs import BACK, LEFT, RIGHT, leaning, seat_pad, under
from zonatome.core.body.making import Making
from zonatome.core.body.surfaces import (
    along,
    bar,
    between,
    box,
    cornered,
    line,
    pad,
    padded,
    post,
    round_post,
    shares,
    steps_of,
    tube,
)
from zonatome.core.body.values import Curve, Grid, corners_of
from zonatome.core.survey.kinds import ZIP_ROUND

ROUNDED = 8.0  # mm: how far a cushion's corners are cut in plan
BULGE_FROM = 60.0  # mm from its ends a boxing bulges as far as it does
CUSHION_CROWN = 26.0  # mm: how high a cushion's face stands over its seam


def square_stool(make: Making) -> None:
    """A square stool, or one for a bar: a wrapped board on four legs with stretchers."""
    z = make["seat_height"] - make["pad"]
    size = make.size("seat", 370, 370)
    seat = seat_pad(make, "seat", z, -size.height / 2 + 15, roll=3.4)
    seat = seat - np.array([0.0, float(seat[:, :, 1].mean()), 0.0])
    make.lay("seat", seat)
    under(make, 0, z - 17)
    _on_four(make, float(seat[:, :, 0].max()), float(seat[:, :, 1].max()), z)


def _on_four(make: Making, half_x: float, half_y: float, z: float) -> None:
    """A board, rails, four legs and stretchers under a wrapped seat about the middle."""
    x, y = half_x - 14, half_y - 14
    make.stand("board", box((-half_x + 20, -half_y + 20, z - 16), (half_x - 20, half_y - 20, z - 4)), "board")
    make.stand("front rail", box((-x, -y, z - 75), (x, -y + 20, z - 15)))
    make.stand("back rail", box((-x, y - 20, z - 75), (x, y, z - 15)))
    make.both("side rail", box((x - 20, -y, z - 75), (x, y, z - 15)))
    low = z * 0.32
    for name, at in (("front leg", -1), ("back leg", 1)):
        edge = at * y
        near, far = sorted((edge, edge - at * 36))
        foot = sorted((edge + at * 6, edge - at * 24))
        make.both(name, post((x - 24, foot[0]), (x + 6, foot[1]), 0, (x - 36, near), (x, far), z - 15))
        if z > 330:
            make.stand(f"{name} stretcher", bar((-x, at * (y - 14), low), (x, at * (y - 14), low), 24))
    if z > 330:
        make.both("side stretcher", bar((x - 12, -y, low + 40), (x - 12, y, low + 40), 24))


def round_stool(make: Making) -> None:
    """A round stool, wrapped or with a boxing."""
    boxing = make.size("boxing", 1131, 60)
    boxed = make.has("boxing")
    z = make["seat_height"] - make["pad"]
    top_z = z + (boxing.height if boxed else 0.0)
    crown = make["pad"] if not boxed else max(make["pad"] - boxing.height, 12.0)
    cells = (make.cells + 2, make.cells + 2)
    top = pad(make.plan("top", 360, 360), at=(0, 0, top_z), right=RIGHT, up=BACK, crown=crown,
              roll=2.0 if boxed else 3.0, cells=cells)  # fmt: skip
    make.lay("top", top)
    radius = float(top[:, :, 0].max())
    if boxed:
        turns = np.radians(90 + 360 * shares(4 * make.cells))
        ring = np.stack([radius * np.cos(turns), radius * np.sin(turns), np.full_like(turns, z)], axis=1)
        rows = [ring + np.array([0, 0, boxing.height * s]) for s in shares(max(make.cells // 4, 2))]
        make.lay("boxing", np.stack(rows))
    under(make, 0, z - 17)
    make.stand("board", round_post((0, 0), radius - 16, z - 16, z - 4, sides=24), "board")
    for k in range(4):
        turn = math.radians(45 + 90 * k)
        out = np.array([math.cos(turn), math.sin(turn), 0.0])
        make.stand("leg", bar(out * (radius - 46) + (0, 0, z - 15), out * (radius - 12), 34))
    low = z * 0.34
    for k in range(2):
        turn = math.radians(45 + 90 * k)
        reach = np.array([math.cos(turn), math.sin(turn), 0.0]) * (radius - 26)
        make.stand("stretcher", bar((reach[0], reach[1], low), (-reach[0], -reach[1], low), 20))


def ottoman(make: Making) -> None:
    """An ottoman: sewn, wrapped or with a lid; with a skirt in some makes."""
    leg = make["leg"]
    if make.has("cover"):
        _wrapped_ottoman(make, leg)
        return
    top, front, end = make.size("top", 560, 460), make.size("front", 560, 260), make.size("end", 460, 260)
    high, cells = front.height, make.cells
    x, y = top.width / 2, (top.height + end.width) / 4
    z = leg + high
    is_lid = make.kind.has("hinges")
    face = pad(
        make.plan("top", 560, 460),
        at=(0, 0, z + (14 if is_lid else 0)),
        right=RIGHT,
        up=BACK,
        crown=make["pad"],
        roll=2.4,
        cells=(cells, cells),
    )
    make.lay("top", face)
    x, y = float(face[:, :, 0].max()), float(face[:, :, 1].max())
    rise = shares(max(cells // 2, 3))

    def wall(a: tuple[float, float], b: tuple[float, float]) -> Grid:
        return padded(np.stack([line((*a, leg + high * s), (*b, leg + high * s), cells) for s in rise]), 5, roll=2.0)

    make.lay("front", wall((-x, -y), (x, -y)))
    make.lay("back", wall((x, y), (-x, y)))
    make.pair("end", wall((x, -y), (x, y)))
    if is_lid:
        make.stand("lid", box((-x + 2, -y + 2, z), (x - 2, y - 2, z + 14)), "board")
    _skirt(make, x, y, leg)
    under(make, 0, leg + 2)
    within = 90 if make.has("skirt_front") else 26
    _feet(make, x - within, y - within, leg)


def _skirt(make: Making, x: float, y: float, leg: float) -> None:
    """A skirt's four lengths, a little outward at their hem."""
    if not make.has("skirt_front"):
        return
    high, out = min(make.size("skirt_front").height, leg + 60.0), 6.0
    top = max(leg + 30.0, high + 10.0)

    def fall(a: tuple[float, float], b: tuple[float, float]) -> Grid:
        rows = []
        for s in shares(max(make.cells // 3, 2)):
            (ax, ay), (bx, by) = (
                (px + math.copysign(out * (1.4 - s), px), py + math.copysign(out * (1.4 - s), py)) for px, py in (a, b)
            )
            rows.append(line((ax, ay, top - high * (1 - s)), (bx, by, top - high * (1 - s)), make.cells))
        return np.stack(rows)

    make.lay("skirt_front", fall((-x, -y), (x, -y)))
    make.lay("skirt_back", fall((x, y), (-x, y)))
    make.pair("skirt_end", fall((x, -y), (x, y)))


def _wrapped_ottoman(make: Making, leg: float) -> None:
    """Top and four sides in one piece: a third of it hangs down all round, its corners folded."""
    size = make.size("cover", 1080, 980)
    down = 260.0 * min(size.width / 1080, size.height / 980)
    x, y, cells = (size.width - 2 * down) / 2, (size.height - 2 * down) / 2, make.cells
    z = leg + down
    side = max(cells // 2, 3)

    # places along the flat cover from its middle, closer where it turns over the edge
    def places(half: float) -> Curve:
        turn = [-half - down + down * s for s in shares(side)]
        return np.array([*turn[:-1], *(-half + 2 * half * shares(cells)), *[-t for t in turn[:-1]][::-1]])

    across, upward = places(x), places(y)
    flat_x, flat_y = np.meshgrid(across, upward)
    over_x, over_y = np.abs(flat_x) - x, np.abs(flat_y) - y
    fallen = np.maximum(np.maximum(over_x, over_y), 0.0)
    rise = np.clip(1 - (flat_x / x) ** 4, 0, 1) * np.clip(1 - (flat_y / y) ** 4, 0, 1) * make["pad"] * 0.7
    points = np.stack([np.clip(flat_x, -x, x), np.clip(flat_y, -y, y), z - fallen + rise], axis=2)
    make.lay("cover", points)
    under(make, 0, leg + 2)
    _feet(make, x - 26, y - 26, leg)


def _feet(make: Making, x: float, y: float, leg: float) -> None:
    if leg > 5:
        for hand in (-1, 1):
            make.stand("foot", round_post((x, hand * y), 17, 0, leg + 2, 24))
            make.stand("foot", round_post((-x, hand * y), 17, 0, leg + 2, 24))


@dataclass(frozen=True)
class BoxCushion:
    """The panels of a box cushion by what they are, where its front edge's middle lies, and how its faces rise."""

    top: str
    bottom: str
    upper: str
    lower: str
    at: tuple[float, float, float]
    boxing: str = ""  # of front and both sides in one
    front: str = ""
    end: str = ""
    slope: float = 0.0
    is_loose: bool = False


def box_cushion(make: Making, of: BoxCushion) -> None:
    """Lay a box cushion: faces, boxing, the zip strip's halves round both back corners."""
    size = make.size(of.top, 540, 540)
    high = make.size(of.boxing or of.front, 1440, 110).height
    cells, x0 = make.cells, np.asarray(of.at, float)

    def sloped(points: Grid) -> Grid:
        made = points.copy()
        made[:, :, 2] += of.slope * points[:, :, 1]
        return np.asarray(made + x0)

    middle = (0.0, size.height / 2, high)
    top = pad(
        make.plan(of.top, 540, 540),
        at=middle,
        right=RIGHT,
        up=BACK,
        crown=CUSHION_CROWN,
        roll=2.2,
        cells=(cells, cells),
    )
    x, near, far = float(top[:, :, 0].max()), float(top[:, :, 1].min()), float(top[:, :, 1].max())
    make.lay(of.top, sloped(top), is_loose=of.is_loose, frame=False)
    below = pad(
        make.plan(of.bottom, 540, 540),
        at=(0.0, size.height / 2, 0.0),
        right=LEFT,
        up=BACK,
        crown=CUSHION_CROWN,
        roll=2.2,
        cells=(cells, cells),
    )
    make.lay(of.bottom, sloped(below), is_loose=of.is_loose, frame=False)
    turn = far - ZIP_ROUND
    rise = shares(max(cells // 4, 2))

    def wall(key: str, path: list[tuple[float, float]], low: float, top_: float, count: int) -> None:
        ring = cornered([(px, py, 0.0) for px, py in path], count)
        climb = low + (top_ - low) * rise
        bulge = 5.0 * np.sin(np.pi * climb / high)
        along = np.gradient(ring[:, :2], axis=0)
        out = along[:, [1, 0]] * (1.0, -1.0) / np.maximum(np.hypot(along[:, 0], along[:, 1]), 1e-9)[:, None]
        far = np.concatenate([[0.0], np.cumsum(steps_of(ring))])
        from_end = np.clip(np.minimum(far, far[-1] - far) / BULGE_FROM, 0, 1)  # nothing where it is sewn to the next
        grid = np.empty((len(rise), len(ring), 3))
        grid[:, :, :2] = ring[:, :2] + (bulge[:, None] * from_end[None, :])[:, :, None] * out[None]
        grid[:, :, 2] = climb[:, None]
        make.lay(key, sloped(grid), is_loose=of.is_loose, frame=False)

    left_side, right_side = [(-x, turn), (-x, near)], [(x, near), (x, turn)]
    if of.boxing:
        wall(of.boxing, [*left_side, *right_side], 0, high, 4 * cells)
    else:
        wall(of.front, [(-x, near), (x, near)], 0, high, 2 * cells)
        wall(f"{of.end}_left", right_side, 0, high, cells)
        wall(f"{of.end}_right", left_side, 0, high, cells)
    behind = [(x, turn), (x, far), (-x, far), (-x, turn)]
    wall(of.upper, behind, high / 2, high, 3 * cells)
    wall(of.lower, behind, 0, high / 2, 3 * cells)


def bench(make: Making) -> None:
    """A bench with a box cushion, or a fixed pad."""
    if make.has("seat"):
        z = make["seat_height"] - make["pad"]
        seat = seat_pad(make, "seat", z, 0.0, roll=3.6)
        make.lay("seat", seat)
        under(make, float(seat[:, :, 1].mean()), z - 17)
        half, deep = float(seat[:, :, 0].max()), float(seat[:, :, 1].max())
        make.stand("board", box((-half + 20, 20, z - 16), (half - 20, deep - 20, z - 4)), "board")
        _bench_frame(make, half - 10, 10, deep - 10, z + 8, has_board=False)
        return
    size, high = make.size("top", 1560, 420), make.size("boxing_front", 1560, 80).height
    z = make["seat_height"] - high - CUSHION_CROWN
    box_cushion(
        make,
        BoxCushion(
            "top",
            "bottom",
            "zip_strip_upper",
            "zip_strip_lower",
            (0, 8, z),
            front="boxing_front",
            end="boxing_end",
            is_loose=True,
        ),
    )
    _bench_frame(make, size.width / 2 + 4, 0, size.height + 10, z - CUSHION_CROWN + 6, has_board=True)


def _bench_frame(make: Making, half: float, near: float, far: float, top: float, *, has_board: bool) -> None:
    """A bench's wooden frame; a cushion lies on a board, a fixed pad on the rails."""
    if has_board:
        make.stand("bench board", box((-half, near, top - 26), (half, far, top)))
    make.stand("front rail", box((-half + 30, near + 24, top - 86), (half - 30, near + 46, top - 26)))
    make.stand("back rail", box((-half + 30, far - 46, top - 86), (half - 30, far - 24, top - 26)))
    for at in (near + 20, far - 62):
        make.both(
            "leg", post((half - 66, at), (half - 28, at + 38), 0, (half - 72, at), (half - 24, at + 42), top - 26)
        )
    make.both("stretcher", bar((half - 48, near + 40, 110), (half - 48, far - 40, 110), 30))
    make.stand("long stretcher", bar((-half + 48, (near + far) / 2, 110), (half - 48, (near + far) / 2, 110), 30))


def desk_chair(make: Making) -> None:
    """A swivel desk chair: two wrapped boards with shells, a gas lift, five feet."""
    z = make["seat_height"] - make["pad"]
    seat = seat_pad(make, "seat", z, 0.0, roll=2.6)
    make.lay("seat", seat)
    middle_y = float(seat[:, :, 1].mean())
    deep = float(seat[:, :, 1].max())
    shell = seat[::-1].copy()
    shell[:, :, 2] = 2 * z - shell[:, :, 2] * 1.0
    shell = shell * (0.96, 0.96, 1) + (0, deep * 0.02, 0)
    shell[:, :, 2] = z - (z - shell[:, :, 2]) * 0.5
    make.stand("seat shell", corners_of(shell), "plastic")
    size, up = make.size("back", 440, 480), np.array(leaning(make["rake"]))
    out = np.array([0.0, -up[2], up[1]])
    at = np.array([0.0, deep + 30.0, make["seat_height"] + make["gap"]]) + up * size.height / 2
    back = pad(make.plan("back"), at=at, right=RIGHT, up=tuple(up), crown=make["back_pad"], roll=2.6,
               cells=(make.cells, make.cells))  # fmt: skip
    make.lay("back", back)
    rear = pad(make.plan("back"), at=at - out * 3, right=LEFT, up=tuple(up), crown=26, roll=2.4,
               cells=(make.cells, make.cells))  # fmt: skip
    make.stand("back shell", corners_of(rear), "plastic")
    foot = at - up * size.height * 0.28 - out * 32
    spine = [(0, middle_y + 60, z - 50), (0, deep + 46, z - 44), tuple(foot + np.array([0, 14, -120])), tuple(foot)]
    make.stand("back bar", tube(along(spine, 8), 34, sides=4), "metal")
    make.stand("under seat", box((-90, middle_y - 90, z - 62), (90, middle_y + 90, z - 32)), "metal")
    make.stand(
        "gas lift", [round_post((0, middle_y), 14, 230, z - 60), round_post((0, middle_y), 25, 110, 235)], "metal"
    )
    make.stand("hub", round_post((0, middle_y), 40, 78, 122, 30), "plastic")
    for k in range(5):
        turn = math.radians(90 + 72 * k)
        tip = np.array([math.cos(turn) * 290, middle_y + math.sin(turn) * 290, 66.0])
        make.stand("foot", bar((0, middle_y, 100), tip, 36, 26), "plastic")
        make.stand("castor", round_post((tip[0], tip[1]), 24, 0, 50, sides=10), "plastic")


def sling(make: Making) -> None:
    """A sling of two panels between the tubes of a metal frame: its seat and back in one."""
    inner = make.size("inner", 480, 760)
    cells, half = make.cells, inner.width / 2
    low, high = make["seat_height"], make["back_height"]
    # a hammock's line in the side view: back along the seat, up the back; drawn to the finished length
    plain = np.array([(0, 0.0), (110, -12), (250, -18), (360, 6), (430, 90), (480, 220), (520, 360)], float)
    plain[:, 1] *= max(high - low, 60.0) / 360.0
    smooth = along(_smoothed([(0.0, y, t) for y, t in plain]), 2 * cells)
    smooth *= inner.height / float(np.linalg.norm(np.diff(smooth, axis=0), axis=1).sum())
    path = smooth + np.array([0, 20, low])
    path[:, 2] = np.maximum.accumulate(path[:, 2] + np.linspace(0, 2, len(path)))
    side = np.array([half, 0.0, 0.0])
    grid = between(path - side, path + side, cells)
    make.lay("inner", padded(grid, 7, roll=2), frame=False)
    make.lay("outer", padded(grid[:, ::-1], 7, roll=2), frame=False)
    for end, name in ((path[0], "front tube"), (path[-1], "top tube")):
        aside = np.array([half + 24, 0, 0])
        make.stand(name, bar(end - aside, end + aside, 22, sides=8), "metal")
    x = half + 24
    front, rear = (x, float(path[0][1]), float(path[0][2])), (x, float(path[-1][1]) + 40, 0.0)
    make.both("side frame", tube(line((x, 40.0, 0.0), front, 2), 24, sides=8), "metal")
    make.both("side rail", tube(line(front, rear, 6), 24, sides=8), "metal")
    share = (float(path[cells][1]) - front[1]) / (rear[1] - front[1])
    knee = (x, float(path[cells][1]), front[2] * (1 - share))  # on the rail
    make.both("back upright", tube(line(knee, path[-1] + np.array([x, 0, 0]), 4), 24, sides=8), "metal")
    make.both("foot bar", tube(line((x, 40.0, 12.0), (x, rear[1], 12.0), 2), 20, sides=8), "metal")


def _smoothed(places: list[tuple[float, float, float]]) -> list[tuple[float, float, float]]:
    """Places of a line drawn round: each corner cut twice at its quarters (Chaikin)."""
    for _ in range(3):
        cut = [places[0]]
        for a, b in itertools.pairwise(places):
            cut += [
                (s * a[0] + (1 - s) * b[0], s * a[1] + (1 - s) * b[1], s * a[2] + (1 - s) * b[2]) for s in (0.75, 0.25)
            ]
        places = [*cut, places[-1]]
    return places
