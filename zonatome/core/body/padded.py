"""Bodies of padded armchairs and wing chairs. Lengths in mm.

What is tucked through or stapled behind is there too, out of sight: an inside back goes down to its rail, a platform
runs on under the back.
"""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass

import numpy as np

from zonatome.core.body.boxes import BoxCushion, box_cushion
from zonatome.core.body.chairs import RIGHT, leaning, under
from zonatome.core.body.making import Making
from zonatome.core.body.surfaces import (
    along,
    arc,
    between,
    box,
    cornered,
    curved,
    dome_excess,
    line,
    mirrored,
    pad,
    padded,
    path_length,
    post,
    shares,
)
from zonatome.core.body.values import Curve, Grid, corners_of

FACING_AT = 36.0  # mm behind the band's face: where a facing's board is fixed
FACING_CROWN = 20.0
ARM_CROWN = 34.0  # how high an arm's pad stands over the line where the outside arm begins
OVER_SEAT = 24.0  # so far an arm's front stands over the seat's edge
DISH = 34.0  # how far a platform lies below the edge of its band
FALL = 38.0  # and how much lower at the back than in front
NARROWED = 0.97  # a platform at the back, between the arms, as a share of its front
TOP_ROLL = 30.0  # the height of the roll over the top of a back
WING_THICK = 30.0  # a wing's thickness at its front edge
WING_BEHIND = 32.0  # how far an inside wing is pulled on behind that
ARM_PULLED = 6.0


@dataclass(frozen=True)
class _Frame:
    """Where the parts of a padded chair stand: half the seat's width, where covers begin, the deck's edge, the arms'
    line, the back's plane at the deck's height, the half width of the outside back and the way up and out of it.
    """

    half: float
    low: float
    edge: float
    arm: float
    back: float
    rear_half: float
    thick: float
    up: Curve
    behind: Curve
    outer: float
    arm_wide: float

    def plane(self, rise: float) -> Curve:
        """The place in the middle of the inside back so far up its plane, from the height where covers begin: upright
        to the deck, leaning above it.
        """
        bend = self.edge - self.low
        foot = np.array([0.0, self.back, self.low + min(rise, bend)])
        return np.asarray(foot + self.up * max(rise - bend, 0.0))

    def rear(self, rise: float) -> Curve:
        """The same place in the middle of the outside back."""
        share = min(max((rise - (self.edge - self.low)) / 80.0, 0.0), 1.0)
        way = self.behind * share + np.array([0.0, 1.0, 0.0]) * (1 - share)
        return np.asarray(self.plane(rise) + self.thick * way)

    def rise_at(self, z: float) -> float:
        """How far up the plane a height lies."""
        bend = self.edge - self.low
        above = z - self.low - bend
        return z - self.low if above <= 0 else bend + above / float(self.up[2])


def _framed(make: Making) -> _Frame:
    low, seat = make["leg"], make.size("seat", 540, 540)
    band, outer_arm = make.size("front_band", 540, 190), make.size("outside_arm", 480, 300)
    inside, outside = make.size("inside_back", 500, 520), make.size("outside_back", 520, 560)
    has_wings = make.has("inside_wing") or make.has("outside_wing")
    thick = make["back_thickness"] * 0.65 if has_wings else 0.0
    up = np.array(leaning(make["rake"]))
    behind = np.array([0.0, up[2], -up[1]])
    half = seat.width / 2
    over = 0.0 if has_wings else dome_excess(inside.width, make["back_pad"], 2.4)
    rear_half = outside.width / 2 if has_wings else (inside.width - over + outside.width) / 4
    drop = band.height if make.has("front_band") else min(200.0, seat.height / 3)
    front_arm = make.size("facing" if make.has("facing") else "arm_front", make["arm_thickness"] + 40, 300)
    arm_wide = min(front_arm.width, 220.0)
    outer = half - OVER_SEAT + arm_wide
    if make.has("outside_arm") or make.has("inside_arm"):
        aside = outer - rear_half - 4
        rear = FACING_AT + math.sqrt(max((0.99 * outer_arm.width) ** 2 - aside * aside, 200.0**2))
        back = rear - thick
    else:
        back = (seat.height if make.has("front_band") else seat.height - drop) - 30
    return _Frame(half, low, low + drop, low + outer_arm.height, back, rear_half, thick, up, behind, outer, arm_wide)


def padded_chair(make: Making) -> None:
    """An armchair or a wing chair, with its cushion, band, arms and wings where it has them."""
    at = _framed(make)
    _seat(make, at)
    edges = _back(make, at)
    if make.has("inside_arm") or make.has("outside_arm"):
        _arms(make, at)
    if make.has("inside_wing") or make.has("outside_wing"):
        _wings(make, at, edges)
    if make.has("cushion_top"):
        size = make.size("cushion_top", 540, 540)
        z = at.edge - DISH + 8
        box_cushion(
            make,
            BoxCushion(
                "cushion_top",
                "cushion_bottom",
                "cushion_zip_upper",
                "cushion_zip_lower",
                (0.0, at.back - (4 if at.thick else 28) - size.height, z),
                boxing="cushion_boxing",
                slope=-FALL / size.height,
                is_loose=True,
            ),
        )
    rear = at.plane(0.0)[1] + at.thick
    under(make, rear / 2, at.low + 2)
    _legs(make, at, rear)


def _legs(make: Making, at: _Frame, rear: float) -> None:
    wide = at.outer - 24 if make.has("inside_arm") or make.has("outside_arm") else at.half - 10
    make.both("front leg", post((wide - 30, 34), (wide, 64), 0, (wide - 46, 26), (wide, 72), at.low + 3))
    back = at.rear_half - 8
    make.both(
        "back leg",
        post((back - 30, rear + 4), (back, rear + 34), 0, (back - 44, rear - 52), (back, rear - 8), at.low + 3),
    )


def _seat(make: Making, at: _Frame) -> None:
    """The platform with its band, or a seat pulled over the front in one."""
    seat, cells = make.size("seat", 540, 540), make.cells
    if not (make.has("inside_arm") or make.has("outside_arm")):  # its cloth goes down over the sides of the frame
        sides = box((-at.half + 1, 6, at.low), (at.half - 1, float(at.plane(0.0)[1]), at.edge - DISH))
        make.stand("seat's sides", sides, "bare", like="seat")
    half = np.array([at.half, 0.0, 0.0])
    if make.has("front_band"):
        rows = [(0.0, at.edge), (14, at.edge - 2), (36, at.edge - 16), (70, at.edge - DISH)]
        deep = min(seat.height - 82, at.back - (64 if at.thick else 96))
        rows += [(70 + deep * s, at.edge - DISH - FALL * s) for s in shares(cells)[1:]]
        rows += _tucked(rows[-1], seat.height - 82 - deep, at.low + 8)
        path = np.array([(0.0, y, z) for y, z in rows])
        narrow = np.interp(path[:, 1], [0.0, at.back], [1.0, NARROWED])
        half = half[None] * narrow[:, None]
        make.lay("seat", between(path - half, path + half, cells))
        band = np.stack(
            [
                line(
                    (-at.half, 0, at.low + (at.edge - at.low) * s), (at.half, 0, at.low + (at.edge - at.low) * s), cells
                )
                for s in shares(max(cells // 2, 3))
            ]
        )
        make.lay("front_band", padded(band, 8, roll=2.0))
        if make.has("inside_arm") or make.has("outside_arm"):  # it turns in to the arms
            behind = box((1 - at.half, 1, at.low), (at.half - 1, FACING_AT, at.edge - DISH))
            make.stand("end of band", behind, "bare", like="front_band")
        return
    high = at.edge
    rows = [(0.0, at.low + (high - 30 - at.low) * s) for s in shares(max(cells // 3, 2))[:-1]]
    rows += arc((26, high - 30), (26, 30), 180, 90, 4)
    deep = seat.height - (high - at.low)
    top = min(deep - 10, at.back - (12 if at.thick else 46))
    rows += [(26 + top * s, high - 24 * s) for s in shares(cells)[1:]]
    path = np.array([(0.0, y, z) for y, z in rows])
    grid = between(path - half, path + half, cells)
    crowned = max(cells // 3, 2) + 3
    grid[crowned:] = padded(grid[crowned:], make["pad"] + 12, roll=2.2)
    tuck = np.array([(0.0, y, z) for y, z in _tucked(rows[-1], deep - 10 - top, at.low + 8)]).reshape(-1, 3)
    make.lay("seat", np.concatenate([grid, between(tuck - half, tuck + half, cells)]) if len(tuck) else grid)


def _tucked(end: tuple[float, float], rest: float, floor: float) -> list[tuple[float, float]]:
    """Where a seat's cloth goes on behind, out of sight: down to the rail."""
    return [(end[0] + 4, max(end[1] - rest, floor))] if rest > 10 else []


def _back(make: Making, at: _Frame) -> tuple[Curve, Grid]:
    """Both backs; return the inside back's right edge from the wing's foot up, and the outside back."""
    inside, outside, cells = make.size("inside_back", 500, 520), make.size("outside_back", 520, 560), make.cells
    rises = shares(cells)
    rear_half = np.array([at.rear_half, 0.0, 0.0])
    rear_path = np.array([at.rear(outside.height * s) for s in rises])
    rear = curved(between(rear_path + rear_half, rear_path - rear_half, cells), 14)
    make.lay("outside_back", rear)
    roll = TOP_ROLL if at.thick else 0.0
    straight = outside.height - roll
    over = [at.plane(straight) + at.behind * (at.thick + x) + at.up * y
            for x, y in arc((0, 0), (at.thick, roll), 180, 90, max(cells // 3, 3))[1:]] if at.thick else []  # fmt: skip
    over_length = path_length(np.array([at.plane(straight), *over])) if over else 0.0
    over_pad = dome_excess(inside.height, make["back_pad"], 2.4)
    begins = float(np.clip(straight + over_length + over_pad - inside.height, 0.0, at.edge - at.low - DISH - 20))
    has_wings = make.has("inside_wing") or make.has("outside_wing")
    wing = make.size("inside_wing", 240, 420).height if has_wings else 0.0
    whole = straight + over_length - begins
    parting = begins + (straight - begins) / 2
    if has_wings:  # as the side is parted: along the arm below, along the wing above
        parting = float(np.clip(begins + whole * (1 - wing / inside.height), begins + 20, straight - 20))
    lower = [at.plane(begins + (parting - begins) * s) for s in shares(max(cells // 2, 3))]
    upper = [at.plane(parting + (straight - parting) * s) for s in rises[1:]]
    path = np.array([*lower, *upper, *over])
    half = np.array([inside.width / 2 if has_wings else at.rear_half, 0.0, 0.0])
    halves = np.repeat(half[None], len(path), axis=0)
    if make.has("inside_arm") and has_wings:  # below, it reaches the arms
        halves[: len(lower)] = np.linspace(min(at.half - 3, 1.045 * half[0]), half[0], len(lower) + 2)[
            : len(lower), None
        ] * np.array([1.0, 0, 0])
    grid = between(path - halves, path + halves, cells)
    front = len(lower) + len(upper)
    grid[:front] = padded(grid[:front], make["back_pad"], roll=2.4)
    if not over:
        grid = padded(between(path - half, path + half, cells), make["back_pad"], roll=2.4)
    make.lay("inside_back", grid)
    return grid[len(lower) - 1 :, -1], rear


def _arms(make: Making, at: _Frame) -> None:
    """Inside arms over their pads, outside arms, facings."""
    cells, inside = make.cells, make.size("inside_arm", 500, 340)
    front_in, front_out = at.half - OVER_SEAT, at.outer
    faced = _facings(make, at, front_in, front_out)
    if faced is not None:
        front_in, front_out = float(faced[:, :, 0].min()) + 1, float(faced[:, :, 0].max()) - 1
    mid_y = float(at.plane(at.rise_at(at.arm))[1])
    back_in = at.half - 6
    back_out = max(at.rear_half + 4, back_in + 20)
    columns = []
    top = at.arm + ARM_CROWN
    for s in shares(cells):  # from the back to the front
        inner, outer = back_in + (front_in - back_in) * s, back_out + (front_out - back_out) * s
        wide = outer - inner
        r = min(26.0, wide / 2.4)
        over = [
            *arc((inner + r, top - r), (r, r), 180, 90, 4),
            *arc((outer - r, top - r - 4), (r, r), 90, 0, 4),
            (outer, at.arm - ARM_PULLED),
        ]
        length = path_length(np.array(over))
        begins = max(top - r - max(inside.height - length, 40.0), at.low + 12)
        rise = [(inner, begins + (top - r - begins) * t) for t in shares(max(cells // 2, 4))[:-1]]
        y = FACING_AT + (1 - s) * (mid_y + at.thick * 0.8 - FACING_AT)
        columns.append(np.array([(x, y, z) for x, z in [*rise, *over]]))
    arm = np.stack(columns, axis=1)
    make.pair("inside_arm", arm)
    end = arm[:, 0]
    middle = np.array([end[:, 0].mean(), end[:, 1].mean() + 2, end[:, 2].mean()])
    closing = np.array([[b, middle, middle, a] for a, b in itertools.pairwise(end)])
    _like_arm(make, "end of arm", closing)
    rows = []
    for s in shares(max(cells // 2, 4)):
        z = at.low + (at.arm - at.low) * s
        rear = at.rear(at.rise_at(z))
        way = [(front_out, FACING_AT, z), (back_out, float(rear[1]) - 6, z), (at.rear_half + 3, float(rear[1]), z)]
        rows.append(cornered(way, cells, (cells - 1, 1)))
    make.pair("outside_arm", np.stack(rows))
    if faced is None:
        _pleated(make, at, front_in, front_out, top)


def _facings(make: Making, at: _Frame, inner: float, outer: float) -> Grid | None:
    """Lay the facings before the arms; return the left one, or nothing where there are none."""
    key = "facing" if make.has("facing") else "arm_front"
    if not make.has(key):
        return None
    size, cells = make.size(key, 160, 300), make.cells
    grid = pad(
        make.plan(key, size.width, size.height),
        at=((inner + outer) / 2, FACING_AT, 0.0),
        right=RIGHT,
        up=(0, 0, 1),
        crown=FACING_CROWN,
        roll=3.4,
        cells=(max(cells // 2, 4), cells),
    )
    grid = grid + np.array([0.0, 0.0, at.arm + ARM_CROWN - 1 - float(grid[:, :, 2].max())])
    make.pair(key, grid)
    foot = float(grid[:, :, 2].min())
    if foot > at.low + 6:
        near, far = (inner + 5, FACING_AT - 8), (outer - 12, FACING_AT + 20)
        make.both("arm block", post(near, far, at.low, near, far, foot + 6))
    return np.asarray(grid)


def _pleated(make: Making, at: _Frame, inner: float, outer: float, top: float) -> None:
    """The front of an arm without a facing: the inside arm's cloth pleated round it, its frame below."""
    r = min(26.0, (outer - inner) / 2.4)
    ring = [(inner, at.low), (inner, top - r), *arc((inner + r, top - r), (r, r), 180, 90, 4),
            *arc((outer - r, top - r - 4), (r, r), 90, 0, 4), (outer, at.low)]  # fmt: skip
    edge = np.array([(x, FACING_AT, z) for x, z in ring])
    middle = np.array([(inner + outer) / 2, FACING_AT - 16.0, (top + at.low) / 2 + 40])
    faces = np.array([[a, middle, middle, b] for a, b in itertools.pairwise(edge)])
    _like_arm(make, "pleats", faces)


def _like_arm(make: Making, name: str, faces: Grid) -> None:
    """Stand something on both arms that their inside cloth goes on over, as the sitter's left has it."""
    turned = faces[:, ::-1] * np.array([-1.0, 1.0, 1.0])
    for hand, own in (("left", faces), ("right", turned)):
        make.stand(f"{name}, {hand}", own, "bare", like=f"inside_arm_{hand}")


def _wings(make: Making, at: _Frame, edges: tuple[Curve, Grid]) -> None:
    """Inside wings from the back's seam forward, over their front edges; outside wings behind them."""
    seam, rear = edges
    cells = make.cells
    inside = make.size("inside_wing", 240, 420)
    round_front = math.pi / 2 * WING_THICK
    reach = max(inside.width - round_front - WING_BEHIND, 40.0)
    count = len(seam)
    v = np.linspace(0, 1, count)
    # the straight line that the seam follows, without its roll over the top
    foot = seam[0]
    height = max(inside.height + 16, float(seam[-1][2] - foot[2]))
    base = foot + v[:, None] * height * at.up
    fuller = _forward(make, v)
    lean = make["wing_lean"]
    front = base + np.stack([lean * fuller, at.thick * v**6 - reach * fuller, -22.0 * v * v], axis=1)
    front[:, 2] += (at.arm + ARM_CROWN - 4 - front[0, 2]) * (1 - v) ** 2
    n, k = max(cells * 2 // 3, 4), 4
    grid = np.zeros((count, n + 1 + k + 1, 3))
    share = shares(n)
    grid[:, : n + 1] = seam[:, None] * (1 - share)[None, :, None] + front[:, None] * share[None, :, None]
    for column, (out, ahead) in enumerate(arc((0, 0), (1, 1), 90, -90, k)[1:], start=1):
        grid[:, n + column] = front + np.stack(
            [np.full(count, WING_THICK / 2 * (1 - ahead)), np.full(count, -WING_THICK / 2 * out), np.zeros(count)],
            axis=1,
        )
    grid[:, -1] = grid[:, -2] + np.array([0.0, WING_BEHIND, 0.0])
    over = np.clip((v - 0.82) / 0.18, 0, 1)[:, None] * np.clip(np.linspace(0, 2.5, n + k + 2), 0, 1)[None, :]
    already = grid[:, :, 0] - (seam[:, None, 0] * 0 + np.minimum(grid[:, :, 0], front[:, None, 0]))
    grid[:, :, 0] += np.maximum(over * over * WING_THICK - already, 0.0)
    grid[:, :, 2] += (over * (1 - over)) * 18
    make.pair("inside_wing", grid)
    # the outside: from behind the front edge to the outside back's edge, from the arm's line up
    edge = grid[:, -1]
    rows, low, top = [], at.arm, at.low + make.size("outside_back", 520, 700).height * at.up[2]
    for s in shares(cells):
        z = low + (top - low) * s
        a = np.array([np.interp(z, edge[:, 2], edge[:, 0]), np.interp(z, edge[:, 2], edge[:, 1]), z])
        b = np.array([at.rear_half + 2, np.interp(z, rear[:, 0, 2], rear[:, 0, 1]), z])
        a[2] = min(z, float(edge[-1, 2]) + (z - top) * 0.2)
        rows.append(line(a, b, max(cells // 2, 4)))
    outer = curved(np.stack(rows), 6)
    make.pair("outside_wing", outer)
    # the wood between both tops
    rim = along([tuple(p) for p in outer[-1][::-1]], len(grid[-1]) - 1)
    closing = np.stack([grid[-1], rim], axis=0)
    for hand, faces in (("left", corners_of(closing)), ("right", corners_of(mirrored(closing)))):
        make.stand(f"top of wing, {hand}", faces, "bare", like=f"inside_wing_{hand}")


def _forward(make: Making, v: Curve) -> Curve:
    """How far a wing reaches forward from its foot to its top, as a share of its width: of its finished outline where
    that is known, else as wings usually are.
    """
    if make.kind.has("inside_wing_left") and "inside_wing_left" in make.sizes.shapes:
        wide = np.ptp(make.plan("inside_wing")(v, np.linspace(0, 1, 3))[:, :, 0], axis=1)
        return np.asarray(wide / max(float(wide.max()), 1.0))
    return np.asarray(1.03 + 0.08 * np.sin(np.pi * np.clip(v * 1.3, 0, 1)) - 0.28 * v**3)
