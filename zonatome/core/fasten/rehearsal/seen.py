"""What one sees of a sheet that is stapled: where its threads run, how tight it is, where it lies slack. In mm."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from zonatome.core.fasten.rehearsal.membrane import principal
from zonatome.core.fasten.rehearsal.sheet import Sheet, State
from zonatome.core.fasten.rehearsal.threads import off_line
from zonatome.core.fasten.rehearsal.weave import Grid

WAVE = 18.0  # mm from one wrinkle to the next
SEEN_SLACK = 0.004  # shorter than its cloth by so much, it shows
LEAST_PATCH = 500.0  # mm2 of slack that is told of
CAUSES = 3
LEAST_TOLD = 0.05  # N/mm: what is looser is not told off by its own mean
SEEN_HIGH = 0.6  # mm: lower wrinkles are not told of


@dataclass(frozen=True)
class Thread:
    """A thread line over the pad: along the warp or across it, where it lay before any staple and where it runs now,
    (places, 2); by how much it leaves the line along which it should run at most.
    """

    is_warp: bool
    before: Grid
    now: Grid
    off: float


@dataclass(frozen=True)
class Wrinkles:
    """Where cloth lies slack in one place: its middle, how large it is, mm2, how high its wrinkles stand and which way
    they run, degrees from x; the staples that cause it, by their number from 0, the likeliest first.
    """

    x: float
    y: float
    area: float
    high: float
    degrees: float
    causes: tuple[int, ...]


@dataclass(frozen=True)
class Seen:
    """What one sees: the threads; of every triangle on the pad, in the order of `numbers`, its tension along warp and
    weft, its area and its slack; wrinkles; how even it is; how far the whole pattern lies off its place, mm, and by how
    many degrees it is turned.
    """

    threads: tuple[Thread, ...]
    numbers: NDArray[np.int64]
    warp: Grid
    weft: Grid
    areas: Grid
    shorter: Grid
    wrinkles: tuple[Wrinkles, ...]
    tension: float
    uneven: float
    aside: float
    turned: float

    @property
    def off(self) -> float:
        """By how much the worst thread leaves the straight line along which it should run, mm."""
        return max((thread.off for thread in self.threads), default=0.0)

    @property
    def too_long(self) -> float:
        """How much of the pad's cloth is too long for it, in a thousand."""
        return 1000 * self.slack

    @property
    def tension_per_cm(self) -> float:
        """The tension in the mean, N for each cm of width."""
        return 10 * self.tension

    @property
    def along_threads(self) -> tuple[float, float]:
        """The tension along the warp and along the weft in the mean over the pad, N for each cm of width."""
        return 10 * float(np.average(self.warp, weights=self.areas)), 10 * float(
            np.average(self.weft, weights=self.areas)
        )

    @property
    def uneven_share(self) -> float:
        """By how much tension differs from place to place, in hundredths of the mean."""
        return 100 * self.uneven / max(self.tension, LEAST_TOLD)

    @property
    def slack(self) -> float:
        """How much of the pad's cloth is too long for it, as a share, in the mean."""
        return float(self.shorter.mean()) if len(self.shorter) else 0.0


def threads_of(sheet: Sheet, state: State) -> tuple[Thread, ...]:
    """Return where the thread lines over the pad run."""
    return tuple(
        Thread(is_warp, before, now, off_line(before, now))
        for (is_warp, before), now in zip(sheet.lines, sheet.carried(state), strict=True)
    )


def seen(sheet: Sheet, state: State) -> Seen:
    """Return what one sees of a sheet at rest."""
    found = sheet.slack(state)
    face = np.flatnonzero(sheet.face)
    turn = math.radians(sheet.board.warp_degrees)
    tension = found.tension[:, face]
    warp, weft = (_along(tension, turn + by) for by in (0.0, math.pi / 2))
    most = principal(tension)[1]
    weight = sheet.mesh.areas[face]
    mean = float(np.average(most, weights=weight))
    uneven = float(np.sqrt(np.average((most - mean) ** 2, weights=weight)))
    shorter = found.shorter[face]
    threads = threads_of(sheet, state)
    return Seen(
        threads, face, warp, weft, weight, shorter, _wrinkles(sheet, state, face, shorter, found.across[face]),
        mean, uneven, *_out_of_place(threads),
    )  # fmt: skip


def _out_of_place(threads: Sequence[Thread]) -> tuple[float, float]:
    """How far the pattern as a whole is moved, mm, and turned, degrees: the stiff move that fits its lines best.

    Source: the plane case of Procrustes' problem, Schönemann, 1966.
    """
    if not threads:
        return 0.0, 0.0
    before, now = (np.concatenate([getattr(thread, name) for thread in threads]) for name in ("before", "now"))
    one, other = before - before.mean(axis=0), now - now.mean(axis=0)
    turn = math.atan2(float((one[:, 0] * other[:, 1] - one[:, 1] * other[:, 0]).sum()), float((one * other).sum()))
    return float(np.hypot(*(now - before).mean(axis=0))), abs(math.degrees(turn))


def _along(tension: Grid, turn: float) -> Grid:
    c, s = math.cos(turn), math.sin(turn)
    return np.asarray(np.array([c * c, s * s, 2 * c * s]) @ tension)


def high_of(shorter: float) -> float:
    """Return how high wrinkles stand in cloth that is too long by a share: of a wave so long as WAVE, mm.

    Source: the length of a shallow sine, a quarter of the square of its slope.
    """
    return 2 * WAVE / math.pi * math.sqrt(max(shorter, 0.0)) / 2


def _wrinkles(sheet: Sheet, state: State, face: NDArray[np.int64], shorter: Grid, across: Grid) -> tuple[Wrinkles, ...]:
    """Slack triangles that touch, as one place each, the largest first."""
    slack = shorter > SEEN_SLACK
    if not slack.any():
        return ()
    polygons = shapely.polygons(sheet.mesh.nodes[sheet.mesh.triangles[face[slack]]])
    parts = shapely.get_parts(shapely.union_all(shapely.buffer(polygons, 0.3)))
    tree = shapely.STRtree(parts)
    of = tree.query(shapely.centroid(polygons), predicate="within")
    found = []
    for n in range(len(parts)):
        inside = np.flatnonzero(slack)[of[0][of[1] == n]]
        area = float(sheet.mesh.areas[face[inside]].sum())
        weight = sheet.mesh.areas[face[inside]] * shorter[inside]
        most = float(np.average(shorter[inside], weights=weight))
        if area < LEAST_PATCH or high_of(most) < SEEN_HIGH:
            continue
        at = np.average(sheet.mesh.middles[face[inside]], axis=0, weights=weight)
        double = np.array([np.average(f(2 * across[inside]), weights=weight) for f in (np.cos, np.sin)])
        turn = 0.5 * math.atan2(double[1], double[0])
        causes = sheet.causes_of(state, face[inside], turn)[:CAUSES] if state.pins else ()
        found.append(Wrinkles(float(at[0]), float(at[1]), area, high_of(most), (math.degrees(turn) + 90) % 180, causes))
    return tuple(sorted(found, key=lambda one: -one.area))
