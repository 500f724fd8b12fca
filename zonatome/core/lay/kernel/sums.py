"""The sum of two convex polygons."""

from __future__ import annotations

from typing import Any

from numba import njit

from zonatome.core.lay.kernel.compiled import COMPILED


@njit(**COMPILED)
def sum_into(one: Any, other: Any, sign: float, out: Any) -> int:
    """Fill in the sum of a convex polygon and another, times 1 or -1; return its corners.

    Its sides are those of both, in order of turn.
    """
    n, m = one.shape[0], other.shape[0]
    i = j = 0
    for k in range(n):
        if one[k, 1] < one[i, 1] or (one[k, 1] == one[i, 1] and one[k, 0] < one[i, 0]):
            i = k
    for k in range(m):
        x, y = sign * other[k, 0], sign * other[k, 1]
        if y < sign * other[j, 1] or (y == sign * other[j, 1] and x < sign * other[j, 0]):
            j = k
    a = b = 0
    for k in range(n + m):
        p, p2 = (i + a) % n, (i + a + 1) % n
        q, q2 = (j + b) % m, (j + b + 1) % m
        out[k, 0], out[k, 1] = one[p, 0] + sign * other[q, 0], one[p, 1] + sign * other[q, 1]
        along, up = one[p2, 0] - one[p, 0], one[p2, 1] - one[p, 1]
        other_along, other_up = sign * (other[q2, 0] - other[q, 0]), sign * (other[q2, 1] - other[q, 1])
        turn = along * other_up - up * other_along
        down = up < 0 or (up == 0 and along < 0)
        other_down = other_up < 0 or (other_up == 0 and other_along < 0)
        if b >= m or (a < n and (down < other_down or (down == other_down and turn >= 0))):
            a += 1
        else:
            b += 1
    return int(n + m)
