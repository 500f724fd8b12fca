"""A sheet that carries tension and no pressure: what it weighs in work to stretch it, where it lies slack."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from zonatome.core.fasten.rehearsal.mesh import Mesh
from zonatome.core.fasten.rehearsal.weave import Grid
from zonatome.core.lazily import Lazily

if TYPE_CHECKING:
    from scipy import sparse
    from scipy.sparse import linalg as solvers
else:
    sparse, solvers = Lazily("scipy.sparse"), Lazily("scipy.sparse.linalg")

NEARER, FARTHEST = 2, 0.3  # steps of a secant toward the best direction, and radians that one may go
DIRECTIONS = 10  # in which a triangle is tried for slack before the best is refined
STIFF = 0.01  # of its stiffness is left to cloth that wrinkles: it does not bend for nothing, and the search settles
FLAT = 1e-15  # of a gain that is the same all round
_ANGLES = np.pi * np.arange(DIRECTIONS) / DIRECTIONS
# The strain of a unit of shortening in a direction, along x, along y and slant: by 1 and the cosine and the sine of
# twice its angle.
_SHORTENING = np.array([[0.5, 0.5, 0.0], [0.5, -0.5, 0.0], [0.0, 0.0, 1.0]])


def _doubled(angles: Grid) -> Grid:
    """1, the cosine and the sine of twice each angle, (3, …)."""
    made = np.ones((3, *angles.shape))
    twice = 2 * angles
    np.cos(twice, out=made[1])
    np.sin(twice, out=made[2])
    return made


_TRIED = _doubled(_ANGLES)


@dataclass(frozen=True)
class Slack:
    """How every triangle lies slack: the tension that is left in it (3, triangles), N/mm; by how much it is shorter
    than its cloth, as a share, and in which direction, radians from x: across the wrinkles; the work of stretching it,
    N/mm.
    """

    tension: Grid
    shorter: Grid
    across: Grid
    work: Grid


def elastic(mesh: Mesh, stiffness: Grid) -> sparse.csc_array:
    """Return the stiffness of a whole sheet that carries pressure too, (2 nodes, 2 nodes), N/mm."""
    per_triangle = sparse.kron(stiffness, sparse.diags_array(mesh.areas), format="csc")
    return sparse.csc_array(mesh.strains.T @ per_triangle @ mesh.strains)


def relaxed(strain: Grid, stiffness: Grid) -> Slack:
    """Return what strains (3, triangles) leave of tension in a sheet that wrinkles rather than carry pressure.

    Each triangle shortens in one direction by as much as takes most from the work of its strain; what then still is
    pressed is slack altogether. A hundredth of its stiffness against pressure stays. Source: tension-field theory by a
    relaxed energy (Pipkin, 1986), of an orthotropic sheet, the direction found by trial and a secant.
    """
    tension = stiffness @ strain
    found = Slack(tension, np.zeros(strain.shape[1]), np.zeros(strain.shape[1]), _work(tension, strain))
    pressed = np.flatnonzero(principal(tension)[0] < 0)  # what is drawn every way stays as it is
    if len(pressed):
        part, whole = strain.take(pressed, axis=1), tension.take(pressed, axis=1)
        left, shorter, across, way = _eased(part, whole, stiffness)
        work = np.where((left == 0).all(axis=0), 0.0, _work(left, part + shorter * way))
        found.work[pressed] = work + STIFF * (found.work[pressed] - work)
        found.tension[:, pressed] = left + STIFF * (whole - left)
        found.shorter[pressed], found.across[pressed] = shorter, across
    return found


def _work(tension: Grid, strain: Grid) -> Grid:
    return np.asarray((tension[0] * strain[0] + tension[1] * strain[1] + tension[2] * strain[2]) / 2)


def _eased(strain: Grid, tension: Grid, stiffness: Grid) -> tuple[Grid, Grid, Grid, Grid]:
    """The tension that is left where a sheet is pressed, by how much it shortens, in which direction, the strain of a
    unit of shortening in that.
    """
    pulls, stiff = _SHORTENING.T @ tension, _SHORTENING.T @ stiffness @ _SHORTENING  # of tension, against shortening
    pressed = np.minimum(_TRIED.T @ pulls, 0.0)
    best = np.argmax(pressed * pressed / _along(stiff @ _TRIED, _TRIED)[:, None], axis=0)
    across, slant = _ANGLES.take(best), _slant_left(pulls, stiff, _TRIED.take(best, axis=1))
    step = np.full(len(across), 0.5 * np.pi / DIRECTIONS)
    for _ in range(NEARER):  # where the best direction is, what is left has no slant against it
        tried = _slant_left(pulls, stiff, _doubled(across + step))
        apart = slant - tried
        next_step = tried * step / np.where(np.abs(apart) > FLAT, apart, np.inf)
        across, slant, step = across + step, tried, np.minimum(np.maximum(next_step, -FARTHEST), FARTHEST)
    across = across + step
    doubled = _doubled(across)
    shorter = np.maximum(-_along(pulls, doubled) / _along(stiff @ doubled, doubled), 0.0)
    way = _SHORTENING @ doubled
    left = tension + shorter * (stiffness @ way)
    # It can be shortened every way until nothing is left.
    is_slack = (strain[0] + strain[1] <= 0) & (4 * strain[0] * strain[1] >= strain[2] * strain[2])
    left[:, is_slack] = 0.0
    shorter[is_slack] = -principal_strain(strain[:, is_slack])[0]
    return left, shorter, across, way


def _slant_left(pulls: Grid, stiff: Grid, doubled: Grid) -> Grid:
    """The slant, against directions by what `_doubled` says of them, of the tension that is left when cloth is
    shortened in them as much as it may.
    """
    by = stiff @ doubled
    shorter = _along(pulls, doubled) / _along(by, doubled)
    return np.asarray((pulls[2] - shorter * by[2]) * doubled[1] - (pulls[1] - shorter * by[1]) * doubled[2])


def _along(pulls: Grid, doubled: Grid) -> Grid:
    """How much pulls, by the same, are of each direction."""
    return np.asarray(pulls[0] + pulls[1] * doubled[1] + pulls[2] * doubled[2])


def principal(tension: Grid) -> tuple[Grid, Grid]:
    """Return the least and the most tension of each (3, …), in whatever direction."""
    middle = (tension[0] + tension[1]) / 2
    radius = np.hypot((tension[0] - tension[1]) / 2, tension[2])
    return middle - radius, middle + radius


def principal_strain(strain: Grid) -> tuple[Grid, Grid]:
    """Return the least and the most strain of each."""
    return principal(strain * np.array([[1.0], [1.0], [0.5]]))


def held_solution(mesh: Mesh, stiffness: Grid, held: dict[int, float], loads: Grid) -> Grid:
    """Return the moves of all places, x and y in turn, of an elastic sheet under loads, where some of them are held: by
    number of the coordinate, with how far it is moved.
    """
    whole = elastic(mesh, stiffness)
    fixed = np.array(sorted(held))
    free = np.setdiff1d(np.arange(whole.shape[0]), fixed)
    moved = np.zeros(whole.shape[0])
    moved[fixed] = [held[n] for n in fixed.tolist()]
    rest = loads - whole @ moved
    moved[free] = solvers.spsolve(whole[free][:, free], rest[free])
    return moved


def way_of_most(tension: Grid) -> Grid:
    """Return the direction of the greatest tension of each (3, …), radians from x."""
    return np.asarray(0.5 * np.arctan2(2 * tension[2], tension[0] - tension[1]))
