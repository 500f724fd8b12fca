"""The rows of the grown sums of convex parts, and of all pairs.

A sum of two convex parts is convex, and so it has one left and one right side at every height. Between the heights of
all corners these sides are straight; where none crosses another there, the stretches follow from their order. A band
ends only where a side of the union does.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit

from zonatome.core.lay.kernel.bands import FLAT
from zonatome.core.lay.kernel.compiled import ALLOCATING, COMPILED
from zonatome.core.lay.kernel.sums import sum_into

MOST_TURN = 3.3  # radians: no corner of a convex figure turns by more than half round
SAME = 1e-6  # mm: sides that run nearer than this to each other are one
FEW = 6  # sums that are united in one go


@njit(**ALLOCATING)
def pairs_worked_out(turned: Any) -> Any:
    """The number among those that are worked out of every pair, its second figure not before its first; -1 for all
    others.
    """
    k = turned.shape[0]
    index = np.full((k, k), -1, dtype=np.int64)
    count = 0
    for a in range(k):
        for b in range(a, k):
            one, other = min(turned[a], turned[b]), max(turned[a], turned[b])
            if one >= 0 and (one < a or (one == a and other < b)):
                continue  # as that one, which comes before
            index[a, b] = count
            count += 1
    return index


@njit(**ALLOCATING)
def grown_sums(parts: Any, one: Any, other: Any, grow: Any, steps: int) -> Any:
    """The rows of each pair's grown sums; see `Figures`."""
    counts = np.zeros(one.shape[0], dtype=np.int64)
    levels, first, sides = (
        np.empty(64 * one.shape[0] + 64),
        np.empty(64 * one.shape[0] + 64, dtype=np.int64),
        np.empty((64, 4)),
    )
    level_at = side_at = 0
    for pair in range(one.shape[0]):
        own_levels, own_counts, own_sides = _sums_of_pair(parts, one[pair], other[pair], grow[pair], steps)
        n = own_levels.shape[0]
        counts[pair] = n
        while level_at + n > levels.shape[0]:
            levels, first = (
                np.concatenate((levels, np.empty_like(levels))),
                np.concatenate((first, np.empty_like(first))),
            )
        while side_at + own_sides.shape[0] > sides.shape[0]:
            sides = np.concatenate((sides, np.empty_like(sides)))
        sides[side_at : side_at + own_sides.shape[0]] = own_sides
        for level in range(n):
            levels[level_at] = own_levels[level]
            first[level_at] = side_at
            level_at += 1
            if level < n - 1:
                side_at += own_counts[level]
    return counts, levels[:level_at].copy(), first[:level_at].copy(), sides[:side_at].copy()


@njit(**ALLOCATING)
def _sums_of_pair(parts: Any, one: int, other: int, grow: float, steps: int) -> Any:
    """The rows of a pair's grown sums, of many first of each part's, then of them all: so most corners are soon out of
    the way.
    """
    begin, end = parts.first[one], parts.first[one + 1]
    others = parts.first[other + 1] - parts.first[other]
    if end - begin == 1 or others == 1 or (end - begin) * others <= FEW:
        return _union(*_sides_of_sums(parts, begin, end, other, grow, steps))
    whole = np.empty((64, 4))
    count = 0
    for part in range(begin, end):
        levels, counts, sides = _union(*_sides_of_sums(parts, part, part + 1, other, grow, steps))
        while count + 2 * sides.shape[0] > whole.shape[0]:
            whole = np.concatenate((whole, np.empty_like(whole)))
        stretch = 0
        for band in range(counts.shape[0]):
            for _ in range(counts[band]):
                for side in (0, 2):
                    whole[count, 0], whole[count, 1] = levels[band], levels[band + 1]
                    whole[count, 2], whole[count, 3] = sides[stretch, side], sides[stretch, side + 1]
                    count += 1
                stretch += 1
    return _union(whole[:count], np.arange(count + 1))


@njit(**ALLOCATING)
def _sides_of_sums(parts: Any, begin: int, end: int, other: int, grow: float, steps: int) -> Any:
    """The straight pieces of every grown sum's left side, then of its right one, upward: low and high end, x, slope;
    where each begins.
    """
    sums = (end - begin) * (parts.first[other + 1] - parts.first[other])
    begins = np.zeros(2 * sums + 1, dtype=np.int64)
    edges = np.empty((64, 4))
    at = side = 0
    for a in range(begin, end):
        for b in range(parts.first[other], parts.first[other + 1]):
            mine = parts.corners[parts.corner[a] : parts.corner[a + 1]]
            theirs = parts.corners[parts.corner[b] : parts.corner[b + 1]]
            figure = np.empty((mine.shape[0] + theirs.shape[0], 2))
            sum_into(mine, theirs, -1.0, figure)
            ring = _grown(figure, grow, steps)
            n = ring.shape[0]
            while at + 2 * n > edges.shape[0]:
                edges = np.concatenate((edges, np.empty_like(edges)))
            low = np.argmin(ring[:, 1])
            high = np.argmax(ring[:, 1])
            for step in (-1, 1):
                k = low
                while k != high:
                    after = (k + step + n) % n
                    rise = ring[after, 1] - ring[k, 1]
                    if rise > FLAT:
                        edges[at, 0], edges[at, 1], edges[at, 2] = ring[k, 1], ring[after, 1], ring[k, 0]
                        edges[at, 3] = (ring[after, 0] - ring[k, 0]) / rise
                        at += 1
                    k = after
                side += 1
                begins[side] = at
    return edges[:at], begins


@njit(**ALLOCATING)
def _grown(figure: Any, grow: float, steps: int) -> Any:
    """A convex figure, anticlockwise, grown all round: its sides moved outward, between them arcs of so many steps a
    quarter.
    """
    n = 0
    corners = np.empty_like(figure)
    for k in range(figure.shape[0]):
        before = corners[n - 1] if n else figure[figure.shape[0] - 1]
        if abs(figure[k, 0] - before[0]) > FLAT or abs(figure[k, 1] - before[1]) > FLAT:
            corners[n] = figure[k]
            n += 1
    ring = np.empty((2 * n + 4 * steps + 2 * n + 8, 2))
    at = 0
    step = np.pi / 2 / steps
    for k in range(n):
        here, before, after = corners[k], corners[(k + n - 1) % n], corners[(k + 1) % n]
        # where the side behind faces: its direction turned right
        begin = np.arctan2(before[0] - here[0], here[1] - before[1])
        turn = np.arctan2(here[0] - after[0], after[1] - here[1]) - begin
        turn -= 2 * np.pi * np.floor(turn / (2 * np.pi) + 1e-4)  # by a hair it may turn back
        count = max(1, int(np.ceil(turn / step - 1e-9))) if 1e-9 < turn < MOST_TURN else 0
        for s in range(count + 1):
            angle = begin + (turn * s / count if count else 0.0)
            ring[at, 0], ring[at, 1] = here[0] + grow * np.cos(angle), here[1] + grow * np.sin(angle)
            at += 1
    return ring[:at]


@njit(**ALLOCATING)
def _union(edges: Any, begins: Any) -> Any:
    """The rows of the union of figures with one left and one right side each: levels, stretches of each band, their
    sides.
    """
    n = begins.shape[0] - 1
    tops = edges[begins[1:] - 1, 1]
    heights = np.sort(np.concatenate((edges[:, 0], tops)))
    low_y, high_y, low_x, slope = edges[:, 0].copy(), edges[:, 1].copy(), edges[:, 2].copy(), edges[:, 3].copy()
    at = begins[:-1].copy()  # the straight piece of each side at the height that is looked at
    waiting, waits = np.argsort(low_y[at]), 0  # the sides by their lower ends, and how many are in the line already
    line, many = np.empty(n, dtype=np.int64), 0  # the sides there are, from left to right
    foot, head = np.empty(n), np.empty(n)
    order, found = np.empty(n, dtype=np.int64), np.empty(64)
    levels, counts, sides = np.empty(64), np.empty(64, dtype=np.int64), np.empty((64 + n, 4))
    now = np.empty((n + 1, 4))
    bands = total = 0
    low = heights[0]
    for k in range(1, heights.shape[0]):
        high = heights[k]
        if high - low <= FLAT:
            continue
        many, waits = _alive((low + high) / 2, begins, low_y, high_y, tops, at, waiting, waits, line, many)
        if not _in_line(low_y, low_x, slope, at, line, many, low, high, foot, head):
            bands, total = _written(line, many, low, high, foot, head, now, levels, counts, sides, bands, total)
        else:
            crossed = _crossings(foot, head, many, low, high, order, found)
            if crossed >= found.shape[0]:
                found = np.empty(2 * crossed)
                _crossings(foot, head, many, low, high, order, found)
            found[crossed] = high
            begin = low
            for c in range(crossed + 1):
                end = found[c]
                if end - begin > FLAT:
                    _in_line(low_y, low_x, slope, at, line, many, begin, end, foot, head)
                    bands, total = _written(
                        line, many, begin, end, foot, head, now, levels, counts, sides, bands, total
                    )
                    begin = end
                if bands + 2 > levels.shape[0] or total + n > sides.shape[0]:
                    levels, counts, sides = _more(levels), _more(counts), np.concatenate((sides, np.empty_like(sides)))
        if bands + 2 > levels.shape[0] or total + n > sides.shape[0]:
            levels, counts, sides = _more(levels), _more(counts), np.concatenate((sides, np.empty_like(sides)))
        low = high
    levels[bands] = low
    return levels[: bands + 1], counts[:bands], sides[:total]


@njit(**ALLOCATING)
def _more(array: Any) -> Any:
    """As much room again."""
    return np.concatenate((array, np.empty_like(array)))


@njit(**COMPILED, forceinline=True)
def _alive(
    middle: float,
    begins: Any,
    low_y: Any,
    high_y: Any,
    tops: Any,
    at: Any,
    waiting: Any,
    waits: int,
    line: Any,
    many: int,
) -> tuple[int, int]:
    """Take out of the line what ends below a height, bring in what begins there, go on to the straight pieces there:
    how many now.
    """
    while waits < waiting.shape[0] and low_y[begins[waiting[waits]]] < middle:
        line[many] = waiting[waits]
        many += 1
        waits += 1
    kept = 0
    for m in range(many):
        side = line[m]
        if tops[side] > middle:
            line[kept] = side
            kept += 1
            while high_y[at[side]] <= middle and at[side] < begins[side + 1] - 1:
                at[side] += 1
    return kept, waits


@njit(**COMPILED, forceinline=True)
def _written(
    line: Any,
    many: int,
    low: float,
    high: float,
    foot: Any,
    head: Any,
    now: Any,
    levels: Any,
    counts: Any,
    sides: Any,
    bands: int,
    total: int,
) -> tuple[int, int]:
    """Write down a band in which no sides cross, unless it goes straight on from the one below; how many bands and
    stretches there are.
    """
    count = _stretches(line, many, foot, head, now)
    begun = total - counts[bands - 1] if bands else 0
    if bands and counts[bands - 1] == count and _go_on(sides, begun, levels[bands - 1], now, count, low, high):
        return bands, total
    levels[bands], counts[bands] = low, count
    for s in range(count):
        for side in (0, 2):
            sides[total + s, side], sides[total + s, side + 1] = (
                now[s, side],
                (now[s, side + 1] - now[s, side]) / (high - low),
            )
    return bands + 1, total + count


@njit(**COMPILED, forceinline=True)
def _in_line(
    low_y: Any, low_x: Any, slope: Any, at: Any, line: Any, many: int, low: float, high: float, foot: Any, head: Any
) -> bool:
    """Sort sides from left to right by their middles in a band, fill in where they begin and end, and say whether any
    cross.
    """
    for k in range(many):
        side = line[k]
        e = at[side]
        begin = low_x[e] + slope[e] * (low - low_y[e])
        end = low_x[e] + slope[e] * (high - low_y[e])
        m = k
        while m > 0 and foot[m - 1] + head[m - 1] > begin + end:
            foot[m], head[m], line[m] = foot[m - 1], head[m - 1], line[m - 1]
            m -= 1
        foot[m], head[m], line[m] = begin, end, side
    crossed = False
    for k in range(1, many):
        crossed |= foot[k] < foot[k - 1] - SAME or head[k] < head[k - 1] - SAME
    return crossed


@njit(**COMPILED)
def _crossings(foot: Any, head: Any, many: int, low: float, high: float, order: Any, found: Any) -> int:
    """Fill in the heights in a band at which sides cross, sorted, as far as there is room, and return how many there
    are.

    They are where sides change places from their order at the band's foot to that at its head.
    """
    for k in range(many):
        m = k
        while m > 0 and foot[order[m - 1]] > foot[k]:
            order[m] = order[m - 1]
            m -= 1
        order[m] = k
    count = 0
    for k in range(1, many):
        side = order[k]
        m = k
        while m > 0 and head[order[m - 1]] > head[side]:
            apart, crossed = foot[side] - foot[order[m - 1]], head[order[m - 1]] - head[side]
            if apart > SAME and crossed > SAME:
                if count < found.shape[0]:
                    height = low + (high - low) * apart / (apart + crossed)
                    at = count
                    while at > 0 and found[at - 1] > height:
                        found[at] = found[at - 1]
                        at -= 1
                    found[at] = height
                count += 1
            order[m] = order[m - 1]
            m -= 1
        order[m] = side
    return count


@njit(**COMPILED, forceinline=True)
def _stretches(line: Any, many: int, foot: Any, head: Any, now: Any) -> int:
    """Fill in the stretches of the union in a band in which no sides cross, left foot, left head, right foot, right
    head; their number.
    """
    count = depth = 0
    for k in range(many):
        if line[k] % 2 == 0:
            depth += 1
            if depth > 1:
                continue
            if count and foot[k] <= now[count - 1, 2] + SAME and head[k] <= now[count - 1, 3] + SAME:
                continue  # it goes on where the last one ended
            now[count, 0], now[count, 1] = foot[k], head[k]
            count += 1
        else:
            depth -= 1
            if depth == 0:
                now[count - 1, 2], now[count - 1, 3] = foot[k], head[k]
    return count


@njit(**COMPILED, forceinline=True)
def _go_on(sides: Any, begun: int, level: float, now: Any, count: int, low: float, high: float) -> bool:
    """Whether the stretches of a band run straight on from those of the one below, which begins at a level."""
    for s in range(count):
        for side in (0, 2):
            x, slope = sides[begun + s, side], sides[begun + s, side + 1]
            if (
                abs(now[s, side] - x - slope * (low - level)) > SAME
                or abs(now[s, side + 1] - x - slope * (high - level)) > SAME
            ):
                return False
    return True


@njit(**ALLOCATING)
def every_pair(index: Any, halves: Any, made: Any) -> Any:
    """Every pair, of those that are worked out: as it is, turned half round for the opposite one, moved for figures
    that are turned.
    """
    k, n = index.shape[0], made.counts.shape[0]
    level_at, side_at = np.zeros(n + 1, dtype=np.int64), np.zeros(n + 1, dtype=np.int64)
    for p in range(n):
        level_at[p + 1] = level_at[p] + made.counts[p]
        side_at[p + 1] = made.first[level_at[p + 1] - 1] if made.counts[p] else side_at[p]
    counts, source = np.zeros(k * k, dtype=np.int64), np.zeros((k * k, 2), dtype=np.int64)
    moved = np.zeros((k * k, 2))
    all_levels = all_sides = 0
    for a in range(k):
        for b in range(k):
            c, d, at = a, b, a * k + b
            if index[min(a, b), max(a, b)] < 0:
                c, d = halves.turned[b], halves.turned[a]
                moved[at] = halves.sizes[a] - halves.sizes[b]
            p = index[min(c, d), max(c, d)]
            source[at, 0], source[at, 1] = p, 1 if c <= d else -1
            counts[at] = made.counts[p]
            all_levels += made.counts[p]
            all_sides += side_at[p + 1] - side_at[p]
    levels, first, sides = np.empty(all_levels), np.empty(all_levels, dtype=np.int64), np.empty((all_sides, 4))
    level = side = 0
    for at in range(k * k):
        p, way = source[at]
        m, begin, stretches = made.counts[p], level_at[p], side_at[p + 1] - side_at[p]
        for j in range(m):
            if way > 0:
                levels[level] = made.levels[begin + j] + moved[at, 1]
                first[level] = side + made.first[begin + j] - side_at[p]
            else:
                levels[level] = moved[at, 1] - made.levels[begin + m - 1 - j]
                first[level] = side + side_at[p + 1] - made.first[begin + m - 1 - j]
            level += 1
        for j in range(m - 1):
            band = begin + j
            tall = made.levels[band + 1] - made.levels[band]
            for s in range(made.first[band], made.first[band + 1]):
                left, left_slope, right, right_slope = made.sides[s]
                if way > 0:
                    to = side + s - side_at[p]
                    sides[to, 0], sides[to, 2] = moved[at, 0] + left, moved[at, 0] + right
                    sides[to, 1], sides[to, 3] = left_slope, right_slope
                else:
                    to = side + side_at[p + 1] - 1 - s  # from the topmost band on, and from the last stretch
                    sides[to, 0], sides[to, 2] = (
                        moved[at, 0] - right - right_slope * tall,
                        moved[at, 0] - left - left_slope * tall,
                    )
                    sides[to, 1], sides[to, 3] = right_slope, left_slope
        side += stretches
    return counts, levels, first, sides


@njit(**ALLOCATING)
def marks_of(figures: Any, hints: int) -> Any:
    """Return where each figure begins and its bands (F, 2), its reach (F, 5), and the levels under so many heights (F,
    hints).
    """
    n = figures.counts.shape[0]
    spans, reach, under = np.zeros((n, 2), dtype=np.int64), np.zeros((n, 5)), np.zeros((n, hints), dtype=np.int32)
    at = 0
    for f in range(n):
        m = figures.counts[f]
        spans[f, 0], spans[f, 1] = at, max(0, m - 1)
        under[f, :] = at
        if not m:
            continue
        low, high = figures.levels[at], figures.levels[at + m - 1]
        least, most = 1e30, -1e30
        for band in range(at, at + m - 1):
            tall = figures.levels[band + 1] - figures.levels[band]
            for s in range(figures.first[band], figures.first[band + 1]):
                least = min(least, figures.sides[s, 0], figures.sides[s, 0] + figures.sides[s, 1] * tall)
                most = max(most, figures.sides[s, 2], figures.sides[s, 2] + figures.sides[s, 3] * tall)
        reach[f, 0], reach[f, 1], reach[f, 2], reach[f, 3] = low, high, least, most
        reach[f, 4] = (hints - 1e-6) / (high - low)
        band = at
        for h in range(hints):
            while band < at + m - 2 and figures.levels[band + 1] <= low + (high - low) * h / hints:
                band += 1
            under[f, h] = band
        at += m
    return spans, reach, under
