"""In which order flat faces are painted, so that those before hide those behind. Lengths in mm."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from zonatome.core.body.values import Curve, Grid

TOUCH = 1.0  # mm: of faces that are no farther apart neither lies before the other
APART = 0.5  # mm on the picture: faces that meet on less do not lie over each other
WITHIN = ((0.5, 0.5), (0.12, 0.12), (0.88, 0.12), (0.88, 0.88), (0.12, 0.88))  # shares of a face where it is looked at
SLANT = 1e-6  # of a ray that only grazes a face
CLEAR = 4.0  # mm: what is no farther behind a face lies on it
STEP = 0.01  # mm between what is painted one after the other
ROUNDS = 16


@dataclass(frozen=True)
class Quads:
    """Flat faces that face the eye: their corners in the room (n, 4, 3), ways out, corners on the picture (n, 4, 2),
    how far off each corner is (n, 4); which are `asked` about (n,), where not all are: of two faces one at the least.
    """

    corners: Grid
    out: Grid
    seen: Grid
    depth: Grid
    asked: NDArray[np.bool_] | None = None

    def within(self, of: Grid) -> Grid:
        """Return places within every face: (n, places, …) of what its corners have."""
        shares = np.array([[(1 - u) * (1 - v), u * (1 - v), u * v, (1 - u) * v] for u, v in WITHIN])
        return np.asarray(np.einsum("pc,nc...->np...", shares, of))


def put_in_order(quads: Quads, far: Curve, eye: Curve) -> Curve:
    """Return how far off faces are taken to be, so that of two that lie over each other on the picture that behind is
    painted first; `far` is where they begin from, `eye` where the eye is.

    Two faces are told apart where a ray from the eye goes through both, as Newell, Newell and Sancha's method asks for
    (1972); a face is put behind those that it lies behind, round after round. Of faces that lie over each other in a
    ring, which only cutting would undo, some stay wrong.
    """
    a, b = _over_each_other(quads, far)
    places, middles = quads.within(quads.seen), quads.within(quads.corners)
    votes = np.zeros(len(a))
    for one, other, sign in ((a, b, 1.0), (b, a, -1.0)):
        votes += sign * _before(
            places[one], middles[one], quads.seen[other], quads.corners[other, 0], quads.out[other], eye
        )
    behind, front = np.where(votes > 0, a, b)[votes != 0], np.where(votes > 0, b, a)[votes != 0]
    far = far.copy()
    for _ in range(ROUNDS):
        wrong = far[behind] <= far[front]
        if not wrong.any():
            break
        np.maximum.at(far, behind[wrong], far[front[wrong]] + STEP)
    return far


def hidden_behind(quads: Quads, far: Curve, places: Grid, seen: Grid, eye: Curve) -> Curve:
    """Return how far off what lies at places must be at the least, so that the faces before them hide them: places in
    the room (n, 3) and on the picture (n, 2); of what nothing hides, less than anything.
    """
    is_over = np.ones((len(places), len(far)), dtype=bool)
    for k in range(4):
        corner, after = quads.seen[:, k], quads.seen[:, (k + 1) % 4]
        by = after - corner
        is_over &= by[:, 0] * (seen[:, None, 1] - corner[:, 1]) > by[:, 1] * (seen[:, None, 0] - corner[:, 0])
    at, face = np.nonzero(is_over)
    is_before = _beyond(places[at] - eye, quads.corners[face, 0] - eye, quads.out[face]) < -CLEAR
    least = np.full(len(places), -np.inf)
    np.maximum.at(least, at[is_before], far[face[is_before]] + STEP)
    return least


def _over_each_other(quads: Quads, far: Curve) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """The pairs of faces whose boxes on the picture meet, without those that are in order beyond doubt: the whole of
    one behind the whole of the other, and so painted.
    """
    low, high = quads.seen.min(axis=1) + APART, quads.seen.max(axis=1)
    near, deep = quads.depth.min(axis=1), quads.depth.max(axis=1)
    rows = np.arange(len(far)) if quads.asked is None else np.flatnonzero(quads.asked)
    over = np.ones((len(rows), len(far)), dtype=bool)
    for k in (0, 1):
        over &= (low[rows, None, k] < high[:, k]) & (high[rows, None, k] > low[:, k])
    over &= ~(
        (near[rows, None] >= deep) & (far[rows, None] > far) | (deep[rows, None] <= near) & (far[rows, None] < far)
    )
    a, b = np.nonzero(over)
    a = rows[a]
    once = a < b if quads.asked is None else (a < b) | ~quads.asked[b] & (a != b)
    return a[once], b[once]


def _before(seen: Grid, there: Grid, outline: Grid, place: Grid, out: Grid, eye: Curve) -> Curve:
    """How many places of faces have another face before them, less how many have it behind, (pairs,): places on the
    picture (pairs, places, 2) and in the room; the other's outline there (pairs, 4, 2), a place in it, its way out.
    """
    by = outline[:, [1, 2, 3, 0]] - outline
    is_within = np.ones(seen.shape[:2], dtype=bool)
    for k in range(4):
        off = seen - outline[:, k, None]
        is_within &= by[:, k, :1] * off[..., 1] > by[:, k, 1:] * off[..., 0]
    pair, at = np.nonzero(is_within)
    ray, out = there[pair, at] - eye, out[pair]
    beyond = _beyond(ray, place[pair] - eye, out)
    told = (beyond < -TOUCH).astype(float) - (beyond > TOUCH)
    return np.asarray(np.bincount(pair, told, minlength=len(seen)), float)


def _beyond(ray: Grid, place: Grid, out: Grid) -> Curve:
    """How far beyond the ends of rays from the eye planes lie, each by a place in it from the eye and its way out."""
    slant = np.vecdot(ray, out)
    share = np.vecdot(place, out) / np.where(np.abs(slant) > SLANT, slant, np.inf)
    return np.asarray((share - 1) * np.sqrt(np.vecdot(ray, ray)))
