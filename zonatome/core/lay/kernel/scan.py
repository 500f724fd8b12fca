"""The row scan and the search by guided weights, compiled.

A piece is moved like this: at a height, every other piece blocks the stretches of x that the table of its no-fit
polygon gives there (`geometry/no_fit.py`); between them, and at their ends, lie the only places worth trying, since the
cost of lying in a stretch grows from both its ends. So a height is searched exactly, whatever binds the piece: a
stripe allows some heights only, a motif some places along each, a flaw or a hide's edge takes places away. What
remains to choose is the heights: where the piece would touch another, the edges of the cloth, some by chance, and
then finer and finer about the best.

The search allows pieces to lie over each other and drives that out. Source: guided local search as in Umetani et
al. 2009, with the order and weights of Gardeyn and Wauters 2024, here on rows instead of samples. On its own it
fails where a height has to be met within a hair that no contact gives.
"""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zonatome.core.lay.kernel.compiled import COMPILED

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

FREE = 0.008  # mm: an overlap below this is none; with the hair it stays far below what the check allows
FAR = 1e30
HINTS = 32  # heights a figure at which its band is known without a search
LOCAL = 0.5  # of the moves look about where the piece lies, the others about a place taken by chance
WAYS_A_MOVE = 2  # ways of a piece that one move tries, taken by chance
MANY, NEAR_BY = 160, 3.0  # from so many pieces on only so many widest pieces to either side are looked over
FINE = 8.0  # of a finer step looks so many steps to either side along the roll
FINEST = 0.02  # mm: the finest step about the best height
EDGE = 3e-4  # mm: so far off its ground, at an edge of the cloth, the press may leave a piece
MOST_CONTACTS = 240  # heights that touch another piece, which laying one by one tries
LONGEST_WIDTH = 60_000.0  # mm across: more heights than that are not laid at
HEAVIER, HEAVIEST, LIGHTER = 1.2, 2.0, 0.95  # how a pair's weight grows while it overlaps, and fades


class Table(NamedTuple):
    """All that the compiled search reads. K ways (a piece in a turn), n items (a copy of a piece)."""

    way_first: Ints  # n: an item's first way
    way_count: Ints  # n
    width: Floats  # K: along the roll
    height: Floats  # K: across
    anchor: Floats  # (K, 2), from the way's reference point
    bound: NDArray[np.bool_]  # (K, 2): along, across
    row_first: Ints  # K: the heights allowed to a way that is bound across
    row_count: Ints  # K
    row_heights: Floats
    figure: Ints  # (F, 2): where a figure's levels begin, how many bands; figure w is way w's ground, K + a * K + b the pair's
    levels: Floats
    first: Ints
    sides: Floats  # (stretches, 4)
    reach: Floats  # (F, 5): a figure's lowest and highest level, its least and greatest x, hints a mm
    hints: NDArray[np.int32]  # (F, HINTS): the level at or under each of so many heights
    repeat: Floats  # along, across, drop, origin x, origin y; 0 where there is none
    area: Floats  # n
    widest: Floats  # 1: the widest way, and the gap


class Desk(NamedTuple):
    """Arrays to work in, for n items."""

    about: Ints  # the items that are looked over
    boxes: Floats  # (4, n): what each of them blocks at the most: lowest, highest, leftmost, rightmost
    figures: Ints  # its figure with the way that is moved
    starts: Floats  # stretches that are blocked at a height
    ends: Floats
    weights: Floats
    outs: Floats
    heights: Floats  # to be tried
    order: Ints
    ones: Floats


def desk_for(n: int, heights: int = 0) -> Desk:
    """Return arrays for n items, with room for so many heights more than a few for each item."""
    stretches = 4 * n + 64
    return Desk(
        np.arange(n),
        np.empty((4, n)),
        np.empty(n, dtype=np.int64),
        np.empty(stretches),
        np.empty(stretches),
        np.empty(stretches),
        np.empty(stretches),
        np.empty(4 * n + 4096 + heights),
        np.arange(n),
        np.ones(n),
    )


@njit(**COMPILED)
def _chance(state: Any) -> float:
    """A number from 0 to 1. Source: xorshift64*, Marsaglia 2003, Vigna 2016."""
    x = state[0]
    x ^= x >> np.uint64(12)
    x ^= x << np.uint64(25)
    x ^= x >> np.uint64(27)
    state[0] = x
    return float((x * np.uint64(2685821657736338717)) >> np.uint64(11)) / 9007199254740992.0


@njit(**COMPILED)
def _band(table: Any, figure: int, y: float) -> int:
    """The index of the level under a height, -1 where the figure does not reach it."""
    start = table.figure[figure, 0]
    bands = table.figure[figure, 1]
    if bands == 0 or y <= table.levels[start] or y >= table.levels[start + bands]:
        return -1
    low, high = start, start + bands
    while high - low > 1:
        middle = (low + high) >> 1
        if table.levels[middle] <= y:
            low = middle
        else:
            high = middle
    return low


@njit(**COMPILED)
def overlap_of(table: Any, way: int, x: float, y: float, other: int, other_x: float, other_y: float) -> float:
    """How deep one lies in another: the least way out along x, or past the no-fit polygon's top or bottom."""
    k = table.width.shape[0]
    figure = k + other * k + way
    rise = y - other_y
    band = _band(table, figure, rise)
    if band < 0:
        return 0.0
    start, bands = table.figure[figure, 0], table.figure[figure, 1]
    out = min(rise - table.levels[start], table.levels[start + bands] - rise)
    run = x - other_x
    up = rise - table.levels[band]
    for s in range(table.first[band], table.first[band + 1]):
        left = table.sides[s, 0] + table.sides[s, 1] * up
        right = table.sides[s, 2] + table.sides[s, 3] * up
        if left < run < right:
            return min(out, min(run - left, right - run))
    return 0.0


@njit(**COMPILED)
def widest_stretch(table: Any, way: int, rise: float, other: int) -> tuple[float, float]:
    """The widest stretch that one way blocks for another that lies so much higher: its least and greatest x from there."""
    k = table.width.shape[0]
    figure = k + other * k + way
    band = _band(table, figure, rise)
    best_left = best_right = 0.0
    if band >= 0:
        up = rise - table.levels[band]
        for s in range(table.first[band], table.first[band + 1]):
            left = table.sides[s, 0] + table.sides[s, 1] * up
            right = table.sides[s, 2] + table.sides[s, 3] * up
            if right - left > best_right - best_left:
                best_left, best_right = left, right
    return best_left, best_right


@njit(**COMPILED)
def farthest(table: Any, way: int, rise: float, other: int) -> float:
    """The greatest x, from the other, that one way blocks for another lying so much higher; -FAR where it blocks none."""
    band = _band(table, table.width.shape[0] * (1 + other) + way, rise)
    right = -FAR
    if band >= 0:
        up = rise - table.levels[band]
        for s in range(table.first[band], table.first[band + 1]):
            right = max(right, table.sides[s, 2] + table.sides[s, 3] * up)
    return right


@njit(**COMPILED, forceinline=True)
def _boxes(table: Any, way: int, at_x: Any, at_y: Any, ways: Any, many: int, desk: Any) -> None:
    """Fill in what each of the pieces looked over blocks for a way: lowest, highest, leftmost, rightmost; and the pair's figure."""
    k = table.width.shape[0]
    for m in range(many):
        j = desk.about[m]
        figure = k + ways[j] * k + way
        desk.figures[m] = figure
        desk.boxes[0, m] = at_y[j] + table.reach[figure, 0]
        desk.boxes[1, m] = at_y[j] + table.reach[figure, 1]
        desk.boxes[2, m] = at_x[j] + table.reach[figure, 2]
        desk.boxes[3, m] = at_x[j] + table.reach[figure, 3]


@njit(**COMPILED, forceinline=True)
def _gather(table: Any, y: float, at_x: Any, at_y: Any, weight: Any, left: float, right: float, many: int, desk: Any) -> int:
    """Fill in the stretches at a height within [left, right]: start, end, weight, way out across."""
    count = 0
    most = desk.starts.shape[0]
    levels, first, sides, reach, hints = table.levels, table.first, table.sides, table.reach, table.hints
    for m in range(many):
        if y <= desk.boxes[0, m] or y >= desk.boxes[1, m] or desk.boxes[2, m] >= right or desk.boxes[3, m] <= left:
            continue
        j, figure = desk.about[m], desk.figures[m]
        rise = y - at_y[j]
        low, high = reach[figure, 0], reach[figure, 1]
        if rise <= low or rise >= high:
            continue  # by a rounding
        band = hints[figure, int((rise - low) * reach[figure, 4])]
        while levels[band + 1] <= rise:
            band += 1
        out = min(rise - low, high - rise)
        up = rise - levels[band]
        for s in range(first[band], first[band + 1]):
            a = at_x[j] + sides[s, 0] + sides[s, 1] * up
            b = at_x[j] + sides[s, 2] + sides[s, 3] * up
            if b > left and a < right and b > a and count < most:
                desk.starts[count] = a
                desk.ends[count] = b
                desk.weights[count] = weight[j]
                desk.outs[count] = out
                count += 1
    return count


@njit(**COMPILED, fastmath=True, forceinline=True)
def _cost(desk: Any, count: int, x: float) -> float:
    """What it costs to lie at x; written so that the compiler takes several stretches at once."""
    total = 0.0
    for m in range(count):
        depth = x - desk.starts[m]
        right = desk.ends[m] - x
        depth = right if right < depth else depth
        out = desk.outs[m]
        depth = out if out < depth else depth
        depth = depth if depth > 0.0 else 0.0
        total += desk.weights[m] * depth
    return total


@njit(**COMPILED)
def motif_place(table: Any, way: int, y: float) -> float:
    """A place of the reference point, at a height, at which the anchor lies on the repeat along."""
    along, across, drop, origin_x, origin_y = table.repeat
    column = 0.0
    if across > 0:
        column = np.floor((y + table.anchor[way, 1] - origin_y) / across + 0.5)
    return origin_x + drop * column * along - table.anchor[way, 0]


@njit(**COMPILED, forceinline=True)
def _best_in_row(
    table: Any, way: int, y: float, desk: Any, count: int, left: float, right: float, best: float, leftmost: bool
) -> tuple[float, float]:
    """The cheapest place in [left, right] at a height that costs less than `best`; the first free one if `leftmost`."""
    found = 0.0
    if table.bound[way, 0]:
        along = table.repeat[0]
        x = motif_place(table, way, y)
        x += np.ceil((left - x) / along - 1e-9) * along
        while x <= right + 1e-9:
            cost = _cost(desk, count, x)
            if cost < best:
                best, found = cost, x
                if best <= FREE:
                    return best, found
            x += along
        return best, found
    cost = _cost(desk, count, left)
    if cost < best:
        best, found = cost, left
        if best <= FREE:
            return 0.0, found
    if leftmost:
        # the first free place: after one stretch, unless another covers it
        x = left
        moved = True
        while moved and x <= right:
            moved = False
            for m in range(count):
                if desk.starts[m] <= x and desk.ends[m] > x + FREE:
                    x = desk.ends[m]
                    moved = True
        if x <= right + 1e-9:
            return 0.0, min(x, right)
        return best, found
    cost = _cost(desk, count, right)
    if cost < best:
        best, found = cost, right
    for m in range(count):
        for side in range(2):
            x = desk.starts[m] if side == 0 else desk.ends[m]
            if x < left or x > right:
                continue
            cost = _cost(desk, count, x)
            if cost < best:
                best, found = cost, x
    return best, found


@njit(**COMPILED, forceinline=True)
def _row(
    table: Any,
    way: int,
    y: float,
    begin: float,
    limit: float,
    at_x: Any,
    at_y: Any,
    weight: Any,
    many: int,
    desk: Any,
    best: float,
    leftmost: bool,
) -> tuple[float, float, float]:
    """The cheapest place at a height that costs less than `best`, from `begin` to an end at `limit`, on the ground; and the work."""
    band = _band(table, way, y)
    found = 0.0
    done = 4.0 + many
    if band < 0:
        return best, found, done
    up = y - table.levels[band]
    for s in range(table.first[band], table.first[band + 1]):
        left = max(table.sides[s, 0] + table.sides[s, 1] * up, begin)
        right = min(table.sides[s, 2] + table.sides[s, 3] * up, limit - table.width[way])
        if left > right:
            continue
        count = _gather(table, y, at_x, at_y, weight, left, right, many, desk)
        done += 2.0 + count
        if not leftmost:
            done += 0.25 * count * count
        cost, x = _best_in_row(table, way, y, desk, count, left, right, best, leftmost)
        if cost < best:
            best, found = cost, x
            if best <= FREE:
                return best, found, done
    return best, found, done


@njit(**COMPILED, forceinline=True)
def _touching(table: Any, way: int, other: int, other_y: float, low: float, high: float, heights: Any, count: int) -> int:
    """Add the heights at which a way would touch another from above and from below, and return how many heights there are."""
    figure = table.width.shape[0] * (1 + other) + way
    for side in range(1, -1, -1):
        y = other_y + table.reach[figure, side]
        if low <= y <= high:
            heights[count] = y
            count += 1
    return count


@njit(**COMPILED)
def _heights(
    table: Any, way: int, at_y: Any, ways: Any, own: float, state: Any, by_chance: int, contacts: int, many: int, desk: Any
) -> int:
    """Fill in the heights to be tried: all that a repeat allows, or edges, contacts, about its own, and some by chance."""
    heights = desk.heights
    if table.bound[way, 1]:
        count = min(table.row_count[way], heights.shape[0])
        shift = int(_chance(state) * count)
        for r in range(count):
            heights[r] = table.row_heights[table.row_first[way] + (r + shift) % count]
        return count
    start, bands = table.figure[way, 0], table.figure[way, 1]
    if bands == 0:
        return 0
    low, high = table.levels[start] + 1e-6, table.levels[start + bands] - 1e-6
    count = 0
    heights[count] = low
    heights[count + 1] = high
    count += 2
    tried = 0
    at = int(_chance(state) * many)
    while tried < many and count < contacts + 2:
        at = (at + 1) % many
        tried += 1
        j = desk.about[at]
        count = _touching(table, way, ways[j], at_y[j], low, high, heights, count)
    for _ in range(by_chance):
        heights[count] = low + _chance(state) * (high - low)
        count += 1
    if low <= own <= high:
        heights[count] = own
        count += 1
    # by chance in another order: the first free place is taken
    for r in range(count - 1, 0, -1):
        other = int(_chance(state) * (r + 1))
        heights[r], heights[other] = heights[other], heights[r]
    return count


@njit(**COMPILED)
def _about(table: Any, item: int, begin: float, limit: float, at_x: Any, ways: Any, desk: Any) -> int:
    """List the other items that lie near enough to [begin, limit] to matter there."""
    many = 0
    for j in range(at_x.shape[0]):
        if j != item and ways[j] >= 0 and begin - table.widest[0] < at_x[j] + table.width[ways[j]] and at_x[j] < limit + table.widest[0]:
            desk.about[many] = j
            many += 1
    return many


@njit(**COMPILED)
def _best_spot(
    table: Any,
    item: int,
    begin: float,
    limit: float,
    at_x: Any,
    at_y: Any,
    ways: Any,
    weight: Any,
    state: Any,
    by_chance: int,
    contacts: int,
    desk: Any,
    best: float,
) -> tuple[float, float, float, int, float]:
    """The cheapest place of an item: cost, x, y, way, work done. Way -1 where none costs less than `best`."""
    best_x = best_y = 0.0
    best_way = -1
    work_done = 0.0
    many = _about(table, item, begin, limit, at_x, ways, desk)
    ways_here = table.way_count[item]
    skip = int(_chance(state) * ways_here)
    for w in range(min(ways_here, WAYS_A_MOVE)):
        way = table.way_first[item] + (w + skip) % ways_here
        _boxes(table, way, at_x, at_y, ways, many, desk)
        count = _heights(table, way, at_y, ways, at_y[item], state, by_chance, contacts, many, desk)
        for r in range(count):
            cost, x, work = _row(table, way, desk.heights[r], begin, limit, at_x, at_y, weight, many, desk, best, False)
            work_done += work
            if cost < best:
                best, best_x, best_y, best_way = cost, x, desk.heights[r], way
                if best <= FREE:
                    return best, best_x, best_y, best_way, work_done
    if best_way >= 0 and not table.bound[best_way, 1]:
        _boxes(table, best_way, at_x, at_y, ways, many, desk)
        step = 8.0
        while step > FINEST:
            better = False
            for side in range(2):
                y = best_y + (step if side == 0 else -step)
                lower, upper = max(begin, best_x - FINE * step), min(limit, best_x + FINE * step + table.width[best_way])
                cost, x, work = _row(table, best_way, y, lower, upper, at_x, at_y, weight, many, desk, best, False)
                work_done += work
                if cost < best:
                    best, best_x, best_y = cost, x, y
                    better = True
                    if best <= FREE:
                        return best, best_x, best_y, best_way, work_done
            if not better:
                step *= 0.45
    return best, best_x, best_y, best_way, work_done


def lay_in_order(
    table: Table, order: Ints, begin: float, limit: float, step: float, at_x: Floats, at_y: Floats, ways: Ints, stop: Ints
) -> tuple[int, float]:
    """Lay items in an order, each with its far end as near the squared end as it goes; -1 as way where it fits nowhere.

    Fills `at_x`, `at_y`, `ways`, of which items not in `order` are kept; all lie within [begin, limit], at heights that
    touch something and at every `step` mm. Returns how many could not be laid, and the work done.
    """
    desk = desk_for(len(at_x), int(LONGEST_WIDTH / step))
    left_out, work_done = _laid_in_order(table, order, begin, limit, step, at_x, at_y, ways, desk, stop)
    return int(left_out), float(work_done)


@njit(**COMPILED)
def _laid_in_order(
    table: Any, order: Any, begin: float, limit: float, step: float, at_x: Any, at_y: Any, ways: Any, desk: Any, stop: Any
) -> tuple[int, float]:
    """See `lay_in_order`."""
    left_out = 0
    work_done = 0.0
    for item in order:
        ways[item] = -1
    for item in order:
        if stop[0] != 0:
            return left_out + 1, work_done
        best_end = FAR
        best_x = best_y = 0.0
        best_way = -1
        many = _about(table, item, begin, limit, at_x, ways, desk)
        for w in range(table.way_count[item]):
            way = table.way_first[item] + w
            start, bands = table.figure[way, 0], table.figure[way, 1]
            if bands == 0:
                continue
            low, high = table.levels[start] + 1e-6, table.levels[start + bands] - 1e-6
            _boxes(table, way, at_x, at_y, ways, many, desk)
            count = 0
            heights = desk.heights
            if table.bound[way, 1]:
                count = min(table.row_count[way], heights.shape[0])
                for r in range(count):
                    heights[r] = table.row_heights[table.row_first[way] + r]
            else:
                heights[0], heights[1] = low, high
                count = 2
                # of very many others only every second, third … is touched, so that the cost stays the square of the pieces
                for m in range(0, many, max(1, 2 * many // MOST_CONTACTS)):
                    j = desk.about[m]
                    count = _touching(table, way, ways[j], at_y[j], low, high, heights, count)
                y = low + step
                while y < high:
                    heights[count] = y
                    count += 1
                    y += step
            for r in range(count):
                y = heights[r]
                cap = min(limit, best_end + table.width[way])
                cost, x, work = _row(table, way, y, begin, min(limit, best_end + 1e-9), at_x, at_y, desk.ones, many, desk, FREE, True)
                work_done += work
                if cost < FREE and x + table.width[way] <= cap:
                    end = x + table.width[way]
                    if end < best_end - 1e-6 or (end < best_end + 1e-6 and y < best_y):
                        best_end, best_x, best_y, best_way = end, x, y, way
        if best_way < 0:
            left_out += 1
        else:
            at_x[item], at_y[item], ways[item] = best_x, best_y, best_way
    return left_out, work_done


@njit(**COMPILED)
def overlaps(table: Any, at_x: Any, at_y: Any, ways: Any, depth: Any) -> float:
    """Fill the symmetric matrix of overlaps and return their sum, each pair once."""
    n = at_x.shape[0]
    total = 0.0
    for i in range(n):
        depth[i, i] = 0.0
        for j in range(i):
            d = 0.0
            if ways[i] >= 0 and ways[j] >= 0:
                d = overlap_of(table, ways[i], at_x[i], at_y[i], ways[j], at_x[j], at_y[j])
                if d <= FREE:
                    d = 0.0
            depth[i, j] = depth[j, i] = d
            total += d
    return total


@njit(**COMPILED)
def stands(table: Any, way: int, x: float, y: float) -> bool:
    """Whether the cloth allows a place: on its ground, on the repeat. What touches the ground's edge across stands on it."""
    start, bands = table.figure[way, 0], table.figure[way, 1]
    if bands == 0:
        return False
    low, high = table.levels[start], table.levels[start + bands]
    if low - EDGE < y < high + EDGE:
        y = min(max(y, low + 1e-6), high - 1e-6)
    band = _band(table, way, y)
    if band < 0:
        return False
    if table.bound[way, 0]:
        along = table.repeat[0]
        off = x - motif_place(table, way, y)
        if abs(off - along * np.floor(off / along + 0.5)) > 1e-6:
            return False
    if table.bound[way, 1]:
        across, origin = table.repeat[1], table.repeat[4]
        off = y + table.anchor[way, 1] - origin
        if abs(off - across * np.floor(off / across + 0.5)) > 1e-4:
            return False
    up = y - table.levels[band]
    for s in range(table.first[band], table.first[band + 1]):
        if table.sides[s, 0] + table.sides[s, 1] * up - 1e-9 <= x <= table.sides[s, 2] + table.sides[s, 3] * up + 1e-9:
            return True
    return False


def into_limit(
    table: Table, limit: float, at_x: Floats, at_y: Floats, ways: Ints, weight: Floats, state: NDArray[np.uint64], stop: Ints
) -> tuple[bool, float]:
    """Bring what lies beyond a limit, off its ground or off the repeat to the cheapest place; return whether all found one, and the work done.

    Of very many pieces it looks only about where each lay: looking everywhere would cost the square of their number.
    """
    all_in, work = _into_limit(table, limit, at_x, at_y, ways, weight, state, desk_for(len(at_x)), stop)
    return bool(all_in), float(work)


@njit(**COMPILED)
def _into_limit(
    table: Any, limit: float, at_x: Any, at_y: Any, ways: Any, weight: Any, state: Any, desk: Any, stop: Any
) -> tuple[bool, float]:
    """See `into_limit`."""
    n = at_x.shape[0]
    work_done = 0.0
    for i in range(n):
        beyond = at_x[i] + table.width[ways[i]] > limit + 1e-9
        if ways[i] >= 0 and (beyond or not stands(table, ways[i], at_x[i], at_y[i])):
            if stop[0] != 0:
                return False, work_done
            begin = -FAR
            end = limit
            if n > MANY:
                begin = min(at_x[i], limit) - NEAR_BY * table.widest[0]
                end = min(limit, begin + 2 * NEAR_BY * table.widest[0])
            _, x, y, way, used = _best_spot(table, i, begin, end, at_x, at_y, ways, weight[i], state, 24, 64, desk, FAR)
            work_done += used
            if way < 0:
                return False, work_done
            at_x[i], at_y[i], ways[i] = x, y, way
    return True, work_done


@njit(**COMPILED)
def _remember(at_x: Any, at_y: Any, ways: Any, best_x: Any, best_y: Any, best_ways: Any) -> None:
    """Write down where everything lies."""
    for i in range(at_x.shape[0]):
        best_x[i], best_y[i], best_ways[i] = at_x[i], at_y[i], ways[i]


def separate(
    table: Table,
    limit: float,
    at_x: Floats,
    at_y: Floats,
    ways: Ints,
    weight: Floats,
    size: Floats,
    best_x: Floats,
    best_y: Floats,
    best_ways: Ints,
    state: NDArray[np.uint64],
    by_chance: int,
    contacts: int,
    near: float,
    work_most: float,
    passes_most: int,
    stop: Ints,
) -> tuple[float, float, float]:
    """Drive overlaps out within a limit: return the least sum of overlaps met, the work done, and the sum at the end.

    `best_*` holds the state of the least sum. Ends when nothing overlaps, after `passes_most` passes without
    progress, when `work_most` is done, or when `stop[0]` is set.
    """
    least, work_done, total = _separated(
        table,
        limit,
        at_x,
        at_y,
        ways,
        weight,
        size,
        best_x,
        best_y,
        best_ways,
        state,
        by_chance,
        contacts,
        near,
        work_most,
        passes_most,
        desk_for(len(at_x)),
        np.empty((len(at_x), len(at_x))),
        stop,
    )
    return float(least), float(work_done), float(total)


@njit(**COMPILED)
def _separated(
    table: Any,
    limit: float,
    at_x: Any,
    at_y: Any,
    ways: Any,
    weight: Any,
    size: Any,
    best_x: Any,
    best_y: Any,
    best_ways: Any,
    state: Any,
    by_chance: int,
    contacts: int,
    near: float,
    work_most: float,
    passes_most: int,
    desk: Any,
    depth: Any,
    stop: Any,
) -> tuple[float, float, float]:
    """See `separate`."""
    n = at_x.shape[0]
    order = desk.order
    total = overlaps(table, at_x, at_y, ways, depth)
    least = total
    mark = total
    _remember(at_x, at_y, ways, best_x, best_y, best_ways)
    work_done = 0.0
    idle = 0
    while total > 0 and idle < passes_most and work_done < work_most and stop[0] == 0:
        for r in range(n - 1, 0, -1):
            other = int(_chance(state) * (r + 1))
            order[r], order[other] = order[other], order[r]
        for i in order:
            now = 0.0
            for j in range(n):
                now += weight[i, j] * depth[i, j]
            if now <= FREE or ways[i] < 0:
                continue
            begin, end = -FAR, limit
            if near > 0 and limit > 2 * near:
                middle = at_x[i]
                if _chance(state) > LOCAL:
                    middle = _chance(state) * limit
                begin = min(middle - near, limit - 2 * near)
                end = min(limit, middle + near + table.width[ways[i]])
            cost, x, y, way, used = _best_spot(table, i, begin, end, at_x, at_y, ways, weight[i], state, by_chance, contacts, desk, FAR)
            work_done += used
            if way >= 0 and cost <= now:
                at_x[i], at_y[i], ways[i] = x, y, way
                for j in range(n):
                    if j == i:
                        continue
                    d = 0.0
                    if ways[j] >= 0:
                        d = overlap_of(table, way, x, y, ways[j], at_x[j], at_y[j])
                        if d <= FREE:
                            d = 0.0
                    total += d - depth[i, j]
                    depth[i, j] = depth[j, i] = d
        total = 0.0
        deepest = 0.0
        for i in range(n):
            for j in range(i):
                total += depth[i, j]
                deepest = max(deepest, depth[i, j])
        if total < least:
            least = total
            _remember(at_x, at_y, ways, best_x, best_y, best_ways)
            if total < 0.98 * mark:
                mark = total
                idle = 0
            else:
                idle += 1
        else:
            idle += 1
        if total <= 0:
            break
        for i in range(n):
            for j in range(i):
                w = weight[i, j]
                if depth[i, j] > 0:
                    w *= HEAVIER + (HEAVIEST - HEAVIER) * depth[i, j] / deepest
                else:
                    w = max(size[i] * size[j], w * LIGHTER)
                weight[i, j] = weight[j, i] = w
    return least, work_done, total


def nearest_free(
    table: Table, way: int, x: float, y: float, reach: float, at_x: Floats, at_y: Floats, ways: Ints
) -> tuple[float, float, bool]:
    """The place nearest to (x, y) where a way lies free of the others, within reach; else the nearest on its motif, and False.

    On a repeat that binds it, the nearest motifs are tried however far they are.
    """
    desk = desk_for(len(at_x), int(table.row_count[way]))
    near_x, near_y, is_free = _nearest_free(table, way, x, y, reach, at_x, at_y, ways, desk)
    return float(near_x), float(near_y), bool(is_free)


@njit(**COMPILED)
def _nearest_free(
    table: Any, way: int, x: float, y: float, reach: float, at_x: Any, at_y: Any, ways: Any, desk: Any
) -> tuple[float, float, bool]:
    """See `nearest_free`."""
    n = at_x.shape[0]
    _boxes(table, way, at_x, at_y, ways, n, desk)
    begin, bands = table.figure[way, 0], table.figure[way, 1]
    if bands == 0:
        return x, y, False
    low, high = table.levels[begin] + 1e-6, table.levels[begin + bands] - 1e-6
    heights = desk.heights
    count = 0
    if table.bound[way, 1]:
        for r in range(table.row_count[way]):
            heights[count] = table.row_heights[table.row_first[way] + r]
            count += 1
    else:
        heights[0], heights[1], heights[2] = min(max(y, low), high), low, high
        count = 3
        for j in range(n):
            count = _touching(table, way, ways[j], at_y[j], low, high, heights, count)
        for step in range(1, 31):
            for side in range(2):
                at = y + (step if side == 0 else -step) * reach / 30.0
                if low <= at <= high:
                    heights[count] = at
                    count += 1
    best = FAR
    best_x, best_y = x, y
    loose = FAR
    loose_x, loose_y = x, y
    for r in range(count):
        row = heights[r]
        if not table.bound[way, 1] and abs(row - y) > reach:
            continue
        band = _band(table, way, row)
        if band < 0:
            continue
        up = row - table.levels[band]
        for s in range(table.first[band], table.first[band + 1]):
            left = table.sides[s, 0] + table.sides[s, 1] * up
            right = table.sides[s, 2] + table.sides[s, 3] * up
            many = _gather(table, row, at_x, at_y, desk.ones, left, right, n, desk)
            if table.bound[way, 0]:
                along = table.repeat[0]
                home = motif_place(table, way, row)
                nearest = home + np.floor((x - home) / along + 0.5) * along
                for shift in range(-1, 2):
                    place = nearest + shift * along
                    if place < left - 1e-9 or place > right + 1e-9:
                        continue
                    far = (place - x) ** 2 + (row - y) ** 2
                    if far < loose:
                        loose, loose_x, loose_y = far, place, row
                    if far < best and _cost(desk, many, place) <= FREE:
                        best, best_x, best_y = far, place, row
                continue
            inside = min(max(x, left), right)
            far = (inside - x) ** 2 + (row - y) ** 2
            if far < loose:
                loose, loose_x, loose_y = far, inside, row
            for m in range(-3, 2 * many):
                place = (
                    inside if m == -3 else left if m == -2 else right if m == -1 else desk.starts[m] if m < many else desk.ends[m - many]
                )
                if place < left or place > right or abs(place - x) > reach:
                    continue
                far = (place - x) ** 2 + (row - y) ** 2
                if far < best and _cost(desk, many, place) <= FREE:
                    best, best_x, best_y = far, place, row
    if best < FAR:
        return best_x, best_y, True
    return loose_x, loose_y, False
