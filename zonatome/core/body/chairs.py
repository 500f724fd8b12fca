"""Bodies of chairs in a wooden frame, and of the chair that is covered all over. Lengths in mm.

Each function lays its kind's panels on a `Making`; what it takes for granted stands in its constants.
"""

from __future__ import annotations

import math

import numpy as np

from zonatome.core.body.making import Making
from zonatome.core.body.surfaces import arc, bar, between, box, coons, line, pad, padded, post, rounded, shares
from zonatome.core.body.values import Curve, Grid

RIGHT, LEFT, BACK = (1.0, 0.0, 0.0), (-1.0, 0.0, 0.0), (0.0, 1.0, 0.0)
RAIL = 62.0  # a seat rail's height
LEG = 42.0  # a leg's thickness at the rail
FOOT = 30.0  # and at the floor


def leaning(rake_degrees: float) -> tuple[float, float, float]:
    """Return the way up of what leans back."""
    turn = math.radians(rake_degrees)
    return (0.0, math.sin(turn), math.cos(turn))


def under(make: Making, middle_y: float, z: float) -> None:
    """Lay the bottom cloth, face down."""
    if make.has("bottom_cloth"):
        plan = make.plan("bottom_cloth")
        cells = (make.cells, make.cells)
        points = pad(plan, at=(0, middle_y, z), right=LEFT, up=BACK, crown=0.2, cells=cells)
        make.lay("bottom_cloth", points, bare="board")


def seat_pad(make: Making, key: str, z: float, front: float, *, roll: float = 3.0, is_rounded: bool = True) -> Grid:
    """Return the cover of a seat on its board, its front edge at y = `front`."""
    size = make.size(key, 460, 420)
    cells = (make.cells, make.cells)
    plan = make.plan(key, size.width, size.height)
    points = pad(rounded(plan) if is_rounded else plan, at=(0, 0, z), right=RIGHT, up=BACK, crown=make["pad"],
                 roll=roll, cells=cells)  # fmt: skip
    return np.asarray(points + np.array([0.0, front - points[:, :, 1].min(), 0.0]))


def wooden_frame(
    make: Making, seat: Grid, z: float, top: float, *, proud: float = 12.0, back_wide: float = 0.0
) -> tuple[float, float, float]:
    """Stand rails, legs and back posts round a seat; return half the width between the posts, where they stand at the
    seat's height, and how they lean, as mm a mm.
    """
    front, back = (float(seat[k, :, 0].max()) + proud for k in (0, -1))
    widest = float(seat[:, :, 0].max()) + proud
    front, back = max(front, widest - 20), max(back, widest - 75, back_wide / 2 + LEG + 3 if back_wide else 0.0)
    near, far = float(seat[:, :, 1].min()) - proud, float(seat[:, :, 1].max()) + proud
    z = z - 4
    low, lean = z - RAIL, math.tan(math.radians(make["rake"]))
    make.stand("front rail", box((-front, near, low), (front, near + proud, z)))
    make.stand("back rail", box((-back, far - proud, low), (back, far, z)))
    make.both("side rail", _slab((front, near), (back, far), proud, low, z))
    make.both(
        "front leg", post((front - FOOT, near), (front, near + FOOT), 0, (front - LEG, near), (front, near + LEG), low)
    )
    splay = 45.0
    make.both(
        "back leg",
        post((back - FOOT, far + splay - FOOT), (back, far + splay), 0, (back - LEG, far - LEG), (back, far), z),
    )
    rise = lean * (top - z)
    make.both(
        "back post",
        post((back - LEG, far - LEG), (back, far), z, (back - LEG + 6, far - 28 + rise), (back - 2, far + rise), top),
    )
    return back - LEG, far - LEG / 2, lean


def _back_wide(make: Making) -> float:
    """How far apart back posts must stand for the panels between them; 0 where there are none."""
    return max((make.size(key).width for key in ("inside_back", "outside_back") if make.has(key)), default=0.0)


def _slab(a: tuple[float, float], b: tuple[float, float], thick: float, low: float, high: float) -> Grid:
    """The faces of a board on edge between two places in plan, on the inner side of the line."""
    inner_a, inner_b = (a[0] - thick, a[1]), (b[0] - thick, b[1])
    foot = [(*inner_a, low), (*a, low), (*b, low), (*inner_b, low)]
    head = [(x, y, high) for x, y, _ in foot]
    sides = [[foot[k], foot[(k + 1) % 4], head[(k + 1) % 4], head[k]] for k in range(4)]
    return np.array([*sides, head, foot[::-1]], float)


def back_in_frame(make: Making, middle: tuple[float, float, float], thick: float) -> None:
    """Lay inside and outside back on both sides of an open frame, their middle here, and the wood round them."""
    up = leaning(make["rake"])
    cells = (make.cells, make.cells)
    out = np.array([0.0, -up[2], up[1]])
    face = pad(
        make.plan("inside_back"),
        at=np.asarray(middle) + out * thick / 2,
        right=RIGHT,
        up=up,
        crown=make["back_pad"],
        cells=cells,
    )
    make.lay("inside_back", face)
    rear = pad(make.plan("outside_back"), at=np.asarray(middle) - out * thick / 2, right=LEFT, up=up, crown=6, roll=4,
               cells=cells)  # fmt: skip
    make.lay("outside_back", rear, bare="bare")


def wood_round_back(
    make: Making, middle: tuple[float, float, float], wide: float, high: float, thick: float, *, crest: float
) -> None:
    """Stand the wood round a panelled back: rails above and below between the posts, and a crest."""
    up = np.array(leaning(make["rake"]))
    at = np.asarray(middle)
    half = wide / 2
    for name, low, tall in (("lower back rail", -high / 2 - 30, 30.0), ("crest rail", high / 2, crest)):
        centre = at + up * (low + tall / 2)
        make.stand(name, bar(centre - np.array([half, 0, 0]), centre + np.array([half, 0, 0]), tall, thick))


def stiles(make: Making, half: float, middle: tuple[float, float, float], high: float) -> None:
    """Stand the wood that is left on both sides of a back which is narrower than its posts stand apart."""
    gap = half - _back_wide(make) / 2
    if gap <= 2:
        return
    rise = np.array(leaning(make["rake"])) * (high / 2 + 2)
    for hand in (-1, 1):
        at = np.array([hand * (half - gap / 2), middle[1], middle[2]])
        make.stand("back stile", bar(at - rise, at + rise, gap - 1, 20))


def drop_in(make: Making) -> None:
    """A chair whose seat drops into its frame, with a padded back in some makes."""
    z = make["seat_height"] - make["pad"]
    seat = seat_pad(make, "seat", z, 14.0)
    make.lay("seat", seat)
    under(make, float(seat[:, :, 1].mean()), z - 6)
    top = make["back_height"]
    half, at_y, lean = wooden_frame(make, seat, z, top, proud=14, back_wide=_back_wide(make))
    if make.has("inside_back") or make.has("outside_back"):
        size = make.size("inside_back", 400, 330)
        room, up = 2 * half, leaning(make["rake"])
        middle_z = top - 50 - size.height / 2 * up[2]
        middle = (0.0, at_y + lean * (middle_z - z), middle_z)
        back_in_frame(make, middle, 26)
        wood_round_back(make, middle, room + 6, size.height, 26, crest=44)
        stiles(make, half, middle, size.height)
        return
    for name, at_z, tall in (("crest rail", top - 34, 64.0), ("middle back rail", (z + top) / 2 + 40, 44.0)):
        at_back = at_y + lean * (at_z - z)
        make.stand(name, bar((-half - 4, at_back, at_z), (half + 4, at_back, at_z), tall, 20))


def show_wood(make: Making) -> None:
    """An armchair whose frame shows: seat and back in rebates, arm pads on the arms."""
    z = make["seat_height"] - make["pad"]
    seat = seat_pad(make, "seat", z, 12.0, roll=2.6)
    make.lay("seat", seat)
    under(make, float(seat[:, :, 1].mean()), z - RAIL + 6)
    top, arm = make["back_height"], make["arm_height"]
    half, at_y, lean = wooden_frame(make, seat, z, top, proud=16, back_wide=_back_wide(make))
    size, up = make.size("inside_back", 480, 440), leaning(make["rake"])
    middle_z = top - 62 - size.height / 2 * up[2]
    middle = (0.0, at_y + lean * (middle_z - z), middle_z)
    back_in_frame(make, middle, 30)
    wood_round_back(make, middle, 2 * half + 6, size.height, 32, crest=56)
    stiles(make, half, middle, size.height)
    arms(make, seat, z, arm, half, at_y + lean * (arm - z), proud=16)


def arms(make: Making, seat: Grid, z: float, arm: float, half: float, back_y: float, *, proud: float) -> None:
    """Stand wooden arms from the front of the seat to the back posts, with a pad on each."""
    front = float(seat[:, :, 0].max()) + proud
    size = make.size("arm_pad", 110, 280)
    wide = min(size.width * 0.62, 70.0)
    front_y = 95.0
    x_front, x_back = front + 8, half + LEG / 2 + 8
    make.both("arm", bar((x_front, front_y - 40, arm - 16), (x_back, back_y, arm - 10), wide, 30))
    make.both("arm post", post((front - 22, front_y - 6), (front + 16, front_y + 30), z - RAIL / 2,
                               (x_front - 18, front_y - 14), (x_front + 18, front_y + 22), arm - 20))  # fmt: skip
    if not make.has("arm_pad"):
        return
    way = np.array([x_back - x_front, back_y - front_y, 0.0])
    way /= np.linalg.norm(way)
    aside = np.array([way[1], -way[0], 0.0])  # toward the sitter's left, which is the right of what faces up
    reach = (back_y - front_y) * 0.46
    at = np.array([x_front, front_y, arm + 2]) + way * reach
    grid = pad(make.plan("arm_pad"), at=at, right=aside, up=way, crown=26, roll=2.4,
               cells=(max(make.cells // 2, 4), make.cells))  # fmt: skip
    make.pair("arm_pad", grid)


def hall(make: Making) -> None:
    """A tall chair with a buttoned back, a deck behind its seat, and padded wooden arms."""
    z = make["seat_height"] - make["pad"]
    seat = seat_pad(make, "seat", z, 12.0, roll=2.8, is_rounded=False)
    make.lay("seat", seat)
    deck, back_edge = make.size("seat_deck", 540, 160), seat[-1]
    if make.has("seat_deck"):
        left = line(back_edge[0], back_edge[0] + np.array([0, deck.height, -30]), max(make.cells // 2, 3))
        right = line(back_edge[-1], back_edge[-1] + np.array([0, deck.height, -30]), max(make.cells // 2, 3))
        make.lay("seat_deck", between(left, right, make.cells))
    far = float(back_edge[:, 1].max()) + (deck.height if make.has("seat_deck") else 0.0)
    whole = np.concatenate([seat, [back_edge + np.array([0.0, far - float(back_edge[:, 1].max()), 0.0])]])
    under(make, far / 2, z - RAIL + 6)
    top, arm = make["back_height"], make["arm_height"]
    half, at_y, lean = wooden_frame(make, whole, z, top, proud=14, back_wide=_back_wide(make))
    size, up = make.size("inside_back", 520, 860), leaning(make["rake"])
    low_z = z - 25
    middle_z = low_z + size.height / 2 * up[2]
    middle = (0.0, at_y - 14 + lean * (middle_z - z), middle_z)
    back_in_frame(make, middle, 30)
    if top - (low_z + size.height * up[2]) > 20:
        crest = top - (low_z + size.height * up[2])
        centre = np.asarray(middle) + np.array(up) * (size.height / 2 + crest / 2 - 6)
        make.stand(
            "crest rail", bar(centre - np.array([half + 8, 0, 0]), centre + np.array([half + 8, 0, 0]), crest + 12, 30)
        )
    stiles(make, half, middle, size.height)
    arms(make, whole, z, arm, half, at_y + lean * (arm - z), proud=14)


def _swept(lines: list[Curve]) -> Grid:
    """A surface through lines across it, the lowest first."""
    return np.stack(lines)


def side_chair(make: Making) -> None:
    """A chair covered all over by one sewn cover, or in two shells."""
    if make.has("band"):
        _two_shells(make)
        return
    z = make["seat_height"]
    seat, side = make.size("seat", 480, 640), make.size("side", 450, 190)
    inside, outside = make.size("inside_back", 420, 560), make.size("outside_back", 410, 750)
    drop, deep = side.height, max(seat.height - side.height, 60.0)
    behind = (seat.above + inside.width + outside.width) / 3
    low = z - drop
    n, cells = max(make.cells // 3, 2), make.cells
    # the seat: up the front, round its edge, back to the back's foot
    rows = [(0.0, low + drop * s) for s in shares(n)[:-1]] + [(0.0, z - 10), *arc((10, z - 10), (10, 10), 165, 90, 2)]
    rows += [(10 + (deep - 10) * s, z) for s in shares(cells)[1:]]
    half = [seat.width / 2 + (behind - seat.width) / 2 * max(y, 0.0) / deep for y, _ in rows]
    points = _swept([line((-h, y, t), (h, y, t), cells) for (y, t), h in zip(rows, half, strict=True)])
    first = n + 3
    top_rows = points[first:]
    points[first:] = padded(top_rows, make["pad"] * 0.6, roll=2.2)
    make.lay("seat", points)
    # sides: from the front edge back, their tops along the seat's
    front, back = (seat.width / 2, 0.0), (behind / 2, deep)
    low_edge, top_edge = line((*front, low), (*back, low), cells), line((*front, z), (*back, z), cells)
    make.pair("side", _swept([low_edge * (1 - s) + top_edge * s for s in shares(max(cells // 2, 3))]))
    # both backs meet along their sides and their top
    up = np.array(leaning(make["rake"]))
    flat = make.plan("inside_back", 420, 560)(shares(cells), np.linspace(0, 1, cells + 1))
    flat[:, :, 1] -= flat[0, 0, 1]
    fit = behind / max(float(np.ptp(flat[0, :, 0])), 1.0)  # its foot is as wide as the seat is behind
    spread = 1 + (fit - 1) * (1 - shares(cells))
    foot = np.array([0.0, deep, z])
    sheet = foot + flat[:, :, :1] * spread[:, None, None] * np.array([1.0, 0.0, 0.0]) + flat[:, :, 1:] * up
    make.lay("inside_back", padded(sheet, make["back_pad"], roll=2.4))
    edge_x = behind / 2
    lower = [np.array([edge_x, deep, low + drop * s]) for s in shares(max(cells // 3, 2))[:-1]]
    own_left, own_right = (np.array([*lower, *edge]) for edge in (sheet[:, -1], sheet[:, 0]))
    own_right[: len(lower), 0] *= -1
    bottom = line((edge_x, deep, low), (-edge_x, deep, low), cells)
    climbed = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(own_left, axis=0), axis=1))])
    grid = coons(bottom, own_right, sheet[-1, ::-1], own_left, climbed / climbed[-1], np.linspace(0, 1, cells + 1))
    make.lay("outside_back", padded(grid, 16, roll=2.0))
    under(make, deep / 2, low + 2)
    _four_legs(make, seat.width / 2 - 12, behind / 2 - 12, 12, deep - 12, low)


def _four_legs(make: Making, front: float, back: float, near: float, far: float, top: float) -> None:
    """Four tapering wooden legs under a covered frame; the back ones splay."""
    foot, head = 26.0, 44.0
    make.both(
        "front leg",
        post((front - foot, near), (front, near + foot), 0, (front - head, near), (front, near + head), top + 4),
    )
    splay = min(50.0, top * 0.2)
    make.both(
        "back leg",
        post(
            (back - foot, far + splay - foot), (back, far + splay), 0, (back - head, far - head), (back, far), top + 4
        ),
    )


def _two_shells(make: Making) -> None:
    """A seat and a back, each closed by itself, bolted together: its faces meet at the top, bands at the sides."""
    z = make["seat_height"] - make["pad"]
    seat = seat_pad(make, "seat", z, 0.0)
    make.lay("seat", seat)
    inside, outside, band = (
        make.size("inside_back", 420, 560),
        make.size("outside_back", 420, 560),
        make.size("band", 90, 560),
    )
    deep, cells = float(seat[:, :, 1].max()), make.cells
    thick, high = band.width, (inside.height + outside.height) / 2
    lean = math.radians(make["rake"])
    up, behind = np.array([0.0, math.sin(lean), math.cos(lean)]), np.array([0.0, math.cos(lean), -math.sin(lean)])
    foot = np.array([0.0, deep - 20, z + 25.0])
    round_ = thick / 2
    straight = high - math.pi / 2 * round_
    profile = [(0.0, straight * s) for s in shares(cells)] + [
        (round_ - x, straight + y) for x, y in arc((0, 0), (round_, round_), 0, 90, max(cells // 3, 3))[1:]
    ]
    front = np.array([foot + up * rise + behind * into for into, rise in profile])
    rear = np.array([foot + up * rise + behind * (thick - into) for into, rise in profile])
    half = np.array([(inside.width + outside.width) / 4, 0.0, 0.0])
    make.lay("inside_back", padded(between(front - half, front + half, cells), make["back_pad"] * 0.5, roll=2.0))
    make.lay("outside_back", padded(between(rear + half, rear - half, cells), 10, roll=2.0))
    make.pair("band", between(front + half, rear + half, max(cells // 3, 3)))
    under(make, deep / 2, z - 22)
    make.stand("seat frame", box((-half[0], 18, z - 26), (half[0], deep - 18, z)))
    _four_legs(make, half[0], half[0] - 6, 22, deep - 26, z - 26)
