"""Where the staples go on a board, and in which order.

Seen from the underside, front edge at the bottom: x to the right, y up, the board's own outline. A staple's
crown lies along the edge.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from shapely.geometry import LineString

from zonatome.core.errors import BadInput
from zonatome.core.outline import Outline, Point
from zonatome.core.rules import USUAL, Rules

Order = Literal["cross first", "one side whole", "own"]  # own: as it was found in a rehearsal
INSET = 14.0  # mm from the board's edge to the staple line
CROWN = 10.0  # mm: the crown of a usual upholstery staple
CORNER_OPEN = 60.0  # mm left open before each corner until the last
STAPLES_A_CORNER = 4
BITE = (6.0, 8.0)  # mm that a leg goes into wood
LEFT_BELOW = 3.0  # mm of the rail that must remain under the leg
LEGS = (6.0, 8.0, 10.0, 12.0, 14.0, 16.0)
PAIRS = (("back", "front"), ("top", "bottom"), ("left", "right"))  # sides that answer each other
SIDES = tuple(side for pair in PAIRS for side in pair)
BOX = 1000  # staples in a box
MOST_THROUGH = 20.0  # mm, squeezed, that a staple is set through
FOLDED = 2  # the cover is folded once under its edge
SQUEEZED_PAD = 0.5  # mm of wadding left between
MOST_TEMPORARY = 12  # staples that hold a cover while it is centred


@dataclass(frozen=True)
class KeepOut:
    """A round place to keep clear of: a screw hole, T-nut or leg plate, its middle and radius."""

    x: float
    y: float
    radius: float


@dataclass(frozen=True)
class Staple:
    """One staple: its number in the order (from 1), middle, the crown's direction in degrees, which side, which way to
    pull.
    """

    number: int
    x: float
    y: float
    turn_degrees: float
    side: str
    at_corner: bool
    pull: Point
    row: int = 1


@dataclass(frozen=True)
class StaplePlan:
    """All staples of one board in order, the order's name, and how many were left out for keep-outs; of an order that
    was found in a rehearsal why each staple comes where it does.
    """

    staples: tuple[Staple, ...]
    order: Order
    left_out: int
    why: tuple[str, ...] = ()

    @property
    def first_row(self) -> tuple[Staple, ...]:
        """The staples of the first row, in their order; of a plan of one row all of them."""
        return tuple(staple for staple in self.staples if staple.row == 1)


@dataclass(frozen=True)
class Spot:
    """A place for a staple before the order is known: `from_middle` is how far along its side it lies, from its middle;
    on a closed line the share of the way round.
    """

    x: float
    y: float
    turn_degrees: float
    side: str
    from_middle: float
    at_corner: bool
    outward: Point
    row: int = 1


def clear_of(x: float, y: float, keep_outs: Sequence[KeepOut]) -> bool:
    """Say whether a staple here, its whole crown, is clear of every keep-out."""
    return all(math.hypot(x - k.x, y - k.y) >= k.radius + CROWN / 2 for k in keep_outs)


def staple_plan(
    board: Outline,
    *,
    pitch: float,
    order: Order = "cross first",
    keep_outs: Sequence[KeepOut] = (),
    is_round: bool = False,
) -> StaplePlan:
    """Return the staples of a wrapped board: at `pitch` along every side, centre first, corners last.

    A side is a stretch between the board's corners, its staples on a line INSET inside it, symmetric about
    its middle, the last CORNER_OPEN before each corner open. A staple that a keep-out meets moves along its
    line by less than half a pitch, or is left out. A round board is stapled at 12, 6, 3 and 9 o'clock, then every gap
    is halved.

    Source: trade rules of fastening. Raises BadInput for a pitch beyond 8 to 80 mm, another order, or a
    board too small to staple.
    """
    if not 8 <= pitch <= 80:
        raise BadInput("pitch", pitch, "8 to 80 mm")
    if order not in ("cross first", "one side whole"):
        raise BadInput("order", order, "cross first or one side whole")
    if min(board.width, board.height) < 4 * INSET:
        raise BadInput(
            "board", f"{board.width:.0f} x {board.height:.0f} mm", f"a board of at least {4 * INSET:.0f} mm each way"
        )
    spots = _round_spots(board, pitch) if is_round or len(board.corners()) < 3 else _straight_spots(board, pitch)
    wanted = len(spots)
    spots = [moved for s in spots if (moved := moved_clear(s, pitch, keep_outs, board)) is not None]
    ordered = by_halving(spots) if is_round or len(board.corners()) < 3 else in_order(spots, order)
    return numbered(ordered, order, wanted)


def numbered(ordered: Sequence[Spot], order: Order, wanted: int) -> StaplePlan:
    """Return the plan of spots that are in order; `wanted` is how many there were before keep-outs."""
    staples = tuple(
        Staple(n + 1, s.x, s.y, s.turn_degrees, s.side, s.at_corner, s.outward, s.row) for n, s in enumerate(ordered)
    )
    return StaplePlan(staples, order, wanted - len(staples))


def in_own_order(plan: StaplePlan, sequence: Sequence[int], why: Sequence[str] = ()) -> StaplePlan:
    """Return a plan in an order of its own: `sequence` names its first row's staples by their place in the plan as it
    is, from 0, and `why` says why each comes there; a second row follows as it was.

    Raises BadInput where the sequence is not one of these staples, each once: the plan has changed since.

    >>> board = Outline(((0, 0), (300, 0), (300, 300), (0, 300)))
    >>> plan = staple_plan(board, pitch=80)
    >>> own = in_own_order(plan, range(len(plan.staples) - 1, -1, -1))
    >>> own.order, own.staples[0].number, own.staples[0].x == plan.staples[-1].x
    ('own', 1, True)
    """
    first = plan.first_row
    if sorted(sequence) != list(range(len(first))):
        raise BadInput("order", len(sequence), f"each of the {len(first)} staples of the plan once")
    ordered = [first[n] for n in sequence] + [staple for staple in plan.staples if staple.row != 1]
    return StaplePlan(tuple(replace(s, number=n + 1) for n, s in enumerate(ordered)), "own", plan.left_out, tuple(why))


def moved_clear(spot: Spot, pitch: float, keep_outs: Sequence[KeepOut], board: Outline | None = None) -> Spot | None:
    """Return the spot, or the nearest place along its line that is clear and on the board; None where there is none."""
    ux, uy = math.cos(math.radians(spot.turn_degrees)), math.sin(math.radians(spot.turn_degrees))
    room = max(0.0, pitch - CROWN) / 2
    half = CROWN / 2
    for step in (0.0, 0.25, -0.25, 0.5, -0.5, 0.75, -0.75, 1.0, -1.0):
        x, y = spot.x + ux * step * room, spot.y + uy * step * room
        crown = LineString([(x - ux * half, y - uy * half), (x + ux * half, y + uy * half)])
        if clear_of(x, y, keep_outs) and (board is None or board.polygon.contains(crown)):
            return replace(spot, x=x, y=y)
    return None


def _straight_spots(board: Outline, pitch: float) -> list[Spot]:
    corners = [board.points[i] for i in board.corners()]
    made: list[Spot] = []
    names = _side_names(corners)
    for n, a in enumerate(corners):
        b = corners[(n + 1) % len(corners)]
        length = math.dist(a, b)
        if length < 2 * INSET:
            continue
        u = ((b[0] - a[0]) / length, (b[1] - a[1]) / length)
        out = (u[1], -u[0])
        side = names[n]
        turn = math.degrees(math.atan2(u[1], u[0]))
        half = length / 2
        for offset, at_corner in along(length, pitch):
            x = a[0] + u[0] * (half + offset) - out[0] * INSET
            y = a[1] + u[1] * (half + offset) - out[1] * INSET
            made.append(Spot(x, y, turn, side, offset, at_corner, out))
    return made


def along(
    length: float, pitch: float, *, corner_before: bool = True, corner_after: bool = True
) -> list[tuple[float, bool]]:
    """Return offsets from the middle of a side so many mm long, each with whether it is the corner's own: one in the
    middle, then outward at the pitch, the last CORNER_OPEN before a corner open until its own staples close it. Where
    an end is no corner they go on to half a pitch before it.
    """
    half = length / 2
    found = [(0.0, False)]
    for sign, is_corner in ((-1.0, corner_before), (1.0, corner_after)):
        reach = half - (min(CORNER_OPEN, length / 4) if is_corner else pitch / 2)
        count = max(0, math.floor(reach / pitch + 1e-9))
        found += [(sign * k * pitch, False) for k in range(1, count + 1)]
        if not is_corner:
            continue
        end = half - INSET - CROWN  # clear of the other side's last staple
        last, per_end = count * pitch, STAPLES_A_CORNER // 2
        for k in range(per_end):
            at = last + (end - last) * (k + 1) / per_end
            if at - last >= CROWN:
                found.append((sign * at, True))
    return sorted(found)


def _side_names(corners: list[Point]) -> list[str]:
    """A side's name by the way it faces; of four sides, by their order from the front, however slanted."""
    n = len(corners)
    outward = [(corners[(i + 1) % n][1] - corners[i][1], corners[i][0] - corners[(i + 1) % n][0]) for i in range(n)]
    if n != 4:
        return [_side_name(out) for out in outward]
    front = min(range(4), key=lambda i: outward[i][1] / math.hypot(*outward[i]))
    return [("front", "right", "back", "left")[(i - front) % 4] for i in range(4)]


def _side_name(out: Point) -> str:
    if abs(out[0]) > abs(out[1]):
        return "right" if out[0] > 0 else "left"
    return "back" if out[1] > 0 else "front"


def _round_spots(board: Outline, pitch: float) -> list[Spot]:
    x0, y0, x1, y1 = board.bounds
    cx, cy = (x0 + x1) / 2, (y0 + y1) / 2
    radius = min(x1 - x0, y1 - y0) / 2 - INSET
    count = 4 * max(1, math.ceil(2 * math.pi * radius / pitch / 4 - 1e-9))
    made = []
    for k in range(count):
        angle = math.pi / 2 - 2 * math.pi * k / count
        out = (math.cos(angle), math.sin(angle))
        made.append(
            Spot(
                cx + radius * out[0],
                cy + radius * out[1],
                math.degrees(angle) - 90,
                o_clock(k / count),
                k / count,
                False,
                out,
            )
        )
    return made


def o_clock(share: float) -> str:
    """Return where a share of the way round from the back is, by the clock.

    >>> o_clock(0), o_clock(0.25), o_clock(0.98)
    ("12 o'clock", "3 o'clock", "12 o'clock")
    """
    return f"{round(12 * share) % 12 or 12} o'clock"


def by_halving(spots: list[Spot]) -> list[Spot]:
    """Return spots round a closed line in order: 12, 6, 3, 9 o'clock, then the one farthest from all that are in, its
    opposite right after it.
    """
    left, placed = list(spots), list[Spot]()
    nearest = [1.0] * len(left)  # how far each that is left is from all that are in, as a share of the way round

    def place(n: int) -> None:
        placed.append(left.pop(n))
        nearest.pop(n)
        for k, spot in enumerate(left):
            nearest[k] = min(nearest[k], _turn_apart(spot.from_middle, placed[-1].from_middle))

    def take(at: float) -> None:
        if left:
            place(min(range(len(left)), key=lambda n: _turn_apart(left[n].from_middle, at)))

    for at in (0.0, 0.5, 0.25, 0.75):
        take(at)
    while left:
        farthest = max(range(len(left)), key=lambda n: (round(nearest[n], 6), -left[n].from_middle))
        opposite = (left[farthest].from_middle + 0.5) % 1
        place(farthest)
        take(opposite)
    return placed


def _turn_apart(a: float, b: float) -> float:
    apart = abs(a - b) % 1
    return min(apart, 1 - apart)


def in_order(spots: list[Spot], order: Order) -> list[Spot]:
    """Return spots along sides in order: cross first or one side whole, the corners' own last."""
    sides: dict[str, list[Spot]] = {}
    for s in spots:
        if not s.at_corner:
            sides.setdefault(s.side, []).append(s)
    names = sorted(sides, key=lambda name: SIDES.index(name) if name in SIDES else len(SIDES))
    if order == "one side whole":
        ordered = [s for name in names for s in sorted(sides[name], key=lambda s: (abs(s.from_middle), s.from_middle))]
    else:
        ordered = _cross_first(sides, names)
    corners = sorted((s for s in spots if s.at_corner), key=lambda s: (_corner_of(s), abs(s.from_middle)))
    return ordered + corners


def _cross_first(sides: dict[str, list[Spot]], names: Sequence[str]) -> list[Spot]:
    """Middles of opposite sides, then of the other two; then the widest gap of each side is halved, answered by its
    opposite.
    """
    middles = [min(sides[name], key=lambda s: abs(s.from_middle)) for name in names]
    placed = list(middles)
    left = {name: [s for s in sides[name] if s not in placed] for name in names}
    while any(left.values()):
        for pair in (*PAIRS, *((name, "") for name in names if name not in SIDES)):
            first = next((name for name in pair if left.get(name)), None)
            if first is None:
                continue
            other = pair[1] if first == pair[0] else pair[0]
            for sign in (-1, 1):
                spot = _next_half_way(left[first], [s for s in placed if s.side == first], sign)
                if spot is None:
                    continue
                left[first].remove(spot)
                placed.append(spot)
                answers = left.get(other) or []
                if answers:  # seen from below, the opposite side runs the other way
                    answer = min(answers, key=lambda s: abs(s.from_middle + spot.from_middle))
                    left[other].remove(answer)
                    placed.append(answer)
    return placed


def _next_half_way(left: list[Spot], placed: list[Spot], sign: int) -> Spot | None:
    """Of one half of a side: the place farthest from what is in, the one nearer the middle if equal."""
    half = [s for s in left if s.from_middle * sign > 0] or left
    if not half:
        return None
    return max(
        half,
        key=lambda s: (
            round(min((abs(s.from_middle - p.from_middle) for p in placed), default=0.0), 3),
            -abs(s.from_middle),
        ),
    )


def _corner_of(spot: Spot) -> tuple[str, bool]:
    return (spot.side, spot.from_middle > 0)


@dataclass(frozen=True)
class LegChoice:
    """The staple leg for a job: its length, and the words for why, or for why none fits."""

    leg: float | None
    words: str


def staple_leg(*, through: float, rail: float) -> LegChoice:
    """Return the leg: what it goes through, squeezed, + 6 to 8 mm into wood, and 3 mm short of the rail.

    `through` is the cloth and what lies with it, squeezed; `rail` the thickness of the board. Source: trade rule.

    >>> staple_leg(through=2, rail=18).leg
    8.0
    """
    if not 0 <= through <= MOST_THROUGH:
        raise BadInput("through", through, f"0 to {MOST_THROUGH:g} mm")
    if not 1 <= rail <= 200:
        raise BadInput("rail", rail, "1 to 200 mm")
    fits = [leg for leg in LEGS if leg >= through + BITE[0] and leg - through <= rail - LEFT_BELOW]
    if fits:
        return LegChoice(
            fits[0], f"{through:g} mm to go through and {fits[0] - through:g} mm into a rail of {rail:g} mm: safe"
        )
    return LegChoice(
        None, f"no staple holds in {rail:g} mm without coming near its face: screw a batten behind it, or glue"
    )


def through_cloth(thickness: float) -> float:
    """Return the mm that a staple goes through before it reaches wood: the cloth folded once, the wadding squeezed.

    Source: trade rule of fastening.

    >>> through_cloth(1.2)
    2.9
    """
    return min(MOST_THROUGH, FOLDED * thickness + SQUEEZED_PAD)


def temporary_staples(count: int) -> int:
    """Return how many of a first row's staples are set half in first, to be drawn again: a dozen, of fewer all.

    >>> temporary_staples(64), temporary_staples(8)
    (12, 8)
    """
    return min(MOST_TEMPORARY, count)


def bottom_staples(board: Outline, rules: Rules = USUAL) -> int:
    """Return the staples of one bottom cloth: along the board's edge, at the bottom cloth's own pitch."""
    return round(board.perimeter / rules["pitch_bottom"])


def boxes_for(count: int) -> int:
    """Return the boxes of 1,000 that a count of staples takes, rounded up."""
    return max(1, math.ceil(count / BOX))
