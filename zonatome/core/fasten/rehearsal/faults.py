"""Which staple is at fault: what one sees on the real seat, against what each staple would do. Lengths in mm."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np

from zonatome.core.errors import BadInput
from zonatome.core.fasten.rehearsal.sheet import Sheet, State
from zonatome.core.fasten.rehearsal.threads import evenly
from zonatome.core.fasten.rehearsal.weave import Grid
from zonatome.core.outline import Point

SightKey = Literal["dent", "bow", "bunch"]
NAMED = 3
MOST_SIGHTS = 12
WORDS: dict[SightKey, str] = {
    "dent": "a dent, a tight line running in from the edge",
    "bow": "a stripe that bows",
    "bunch": "a bunch, cloth that is too long",
}


@dataclass(frozen=True)
class Sight:
    """What one sees, as it is drawn: a dent along a line; a stripe along a line, bowed toward its middle place; a bunch
    whose folds run along a line.
    """

    sort: SightKey
    points: tuple[Point, ...]

    def __post_init__(self) -> None:
        """Refuse what is no sight."""
        if self.sort not in get_args(SightKey):
            raise BadInput("sort", self.sort, "dent, bow or bunch")
        if not 2 <= len(self.points) <= 200 or math.dist(self.points[0], self.points[-1]) < 5:
            raise BadInput("points", len(self.points), "a line of at least 5 mm and at most 200 places")

    @property
    def length(self) -> float:
        """How long it is from end to end."""
        return math.dist(self.points[0], self.points[-1])


@dataclass(frozen=True)
class Suspect:
    """A staple that may be at fault: its number from 0, whether it is too tight or too loose, how well that would look
    like what is seen, 0 to 1.
    """

    number: int
    is_tight: bool
    likeness: float

    @property
    def words(self) -> str:
        """What to do with it."""
        return "pulled too hard: take it out and let the cloth back" if self.is_tight else "too loose: pull it again"


def find_fault(sheet: Sheet, state: State, sights: Sequence[Sight]) -> tuple[Suspect, ...]:
    """Return the staples most likely at fault, one to three, the likeliest first: each is thought a little too tight
    and a little too loose, and what that would show where something was drawn is compared with what was.

    `state` is the board as it should be: all staples in. Raises BadInput where nothing is drawn or nothing is held.
    """
    if not sights or len(sights) > MOST_SIGHTS:
        raise BadInput("sights", len(sights), f"one to {MOST_SIGHTS} things that are seen")
    if len(state.pins) < 3:
        raise BadInput("staples", len(state.pins), "a board that is stapled")
    moves = sheet.responses(state)
    shows = np.array([_shown(sheet, moves, sight) for sight in sights])  # of each sight, by each staple too tight
    most = np.abs(shows).max(axis=1, keepdims=True)
    likeness = (shows / np.maximum(most, 1e-12)).mean(axis=0)
    order = np.argsort(-np.abs(likeness), kind="stable")
    best = abs(float(likeness[order[0]]))
    named = [int(n) for n in order[:NAMED] if abs(float(likeness[n])) > 0.25 * best]
    return tuple(Suspect(n, bool(likeness[n] > 0), abs(float(likeness[n]))) for n in named)


def _shown(sheet: Sheet, moves: Grid, sight: Sight) -> Grid:
    """How strongly each staple, pulled too hard, would show as a sight does: (staples,)."""
    line = np.array(sight.points)
    way = (line[-1] - line[0]) / sight.length
    places = evenly(line, 9)
    if sight.sort == "bow":
        moved = np.asarray(sheet.mesh.carrying(places) @ moves).reshape(len(places), 2, -1)
        aside = np.array([-way[1], way[0]])
        bowed = (places - places[0]) @ aside
        side = 1.0 if bowed[np.argmax(np.abs(bowed))] >= 0 else -1.0
        shares = np.linspace(0, 1, len(places))[:, None]
        off = np.einsum("pkn,k->pn", moved, aside)
        off = off - off[0] * (1 - shares) - off[-1] * shares
        return np.asarray(side * off[1:-1].mean(axis=0))
    triangles = np.unique(sheet.mesh.within(places)[0])
    strains = sheet.strains_of(moves, triangles).mean(axis=1)
    along = _strain_along(strains, way)
    across = _strain_along(strains, np.array([-way[1], way[0]]))
    return along - across if sight.sort == "dent" else across


def _strain_along(strains: Grid, way: Grid) -> Grid:
    return np.asarray(strains[0] * way[0] ** 2 + strains[1] * way[1] ** 2 + strains[2] * way[0] * way[1])
