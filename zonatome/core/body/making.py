"""What a body is put together on: panels are laid on it by key, split among their strips, mirrored by hand."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

import numpy as np

from zonatome.core.body.measures import OTHER_MEASURES, USUAL_MEASURES, Size, Sizes
from zonatome.core.body.surfaces import Plan, measured, mirrored, normals_at, resampled
from zonatome.core.body.values import Grid, Patch, Solid, Stuff, corners_of
from zonatome.core.survey.kind import Kind

FRAME_UNDER = ("outside", "front_band", "facing", "arm_front", "side", "band", "front", "back", "end")
BENEATH = 5.0  # mm: so far under a panel lies what is seen when it is off


@dataclass
class Making:
    """A body in the making: the furniture, its sizes and measures, how many cells a panel has each way."""

    kind: Kind
    sizes: Sizes
    measures: Mapping[str, float]
    cells: int = 10
    patches: list[Patch] = field(default_factory=list)
    solids: list[Solid] = field(default_factory=list)

    def __getitem__(self, key: str) -> float:
        """A measure of the furniture; the kind's usual one where this make of it is not asked for it."""
        usual = USUAL_MEASURES.get(self.kind.key, OTHER_MEASURES)
        return self.measures[key] if key in self.measures else usual[key]

    def has(self, key: str) -> bool:
        """Whether the furniture has a panel of this key, of either hand."""
        return self.sizes.has(key)

    def size(self, key: str, width: float = 100.0, height: float = 100.0) -> Size:
        """Return how large a panel's place is; the measures given where the furniture has not the panel."""
        return self.sizes.of(key, (width, height))

    def plan(self, key: str, width: float = 100.0, height: float = 100.0) -> Plan:
        """Return the plan of a panel's place."""
        return self.sizes.plan(key, (width, height))

    def lay(self, key: str, points: Grid, *, bare: Stuff = "bare", is_loose: bool = False, frame: bool = True) -> None:
        """Lay a panel on its place, shared among its strips; where there is no such panel, its frame is seen."""
        run = self.sizes.runs.get(key)
        if not self.kind.has(key):
            if frame:
                self.solids.append(Solid(f"{key} frame", corners_of(points), bare, is_loose))
            return
        keys, shares, is_across = (run.keys, run.shares, run.is_across) if run else ((key,), (1.0,), True)
        begins = 0.0
        for each, share in zip(keys, shares, strict=True):
            strip = points if len(keys) == 1 else part_of(points, begins, begins + share, is_across=is_across)
            self.patches.append(Patch(each, strip, measured(strip), _bare_of(each, bare), is_loose))
            begins += share

    def pair(self, key: str, points: Grid, *, bare: Stuff = "bare", frame: bool = True) -> None:
        """Lay both of a pair, as the sitter's left lies."""
        self.lay(f"{key}_left", points, bare=bare, frame=frame)
        self.lay(f"{key}_right", mirrored(points), bare=bare, frame=frame)

    def stand(self, key: str, faces: Grid | Iterable[Grid], stuff: Stuff = "wood", *, like: str = "") -> None:
        """Stand something there that is no panel; `like` names one whose cloth goes on over it."""
        every = faces if isinstance(faces, np.ndarray) else np.concatenate(list(faces))
        self.solids.append(Solid(key, every, stuff, like=like))

    def both(self, key: str, faces: Grid, stuff: Stuff = "wood") -> None:
        """Stand something there for both hands, as the sitter's left has it."""
        self.stand(key, [faces, faces[:, ::-1] * np.array([-1.0, 1.0, 1.0])], stuff)


def _bare_of(key: str, bare: Stuff) -> Stuff:
    """What is seen under a panel that is off: the frame where nothing is padded, hessian or springs where it is."""
    return "board" if bare == "bare" and key.startswith(FRAME_UNDER) else bare


def part_of(points: Grid, begins: float, ends: float, *, is_across: bool) -> Grid:
    """Return a strip of a surface, from one share of its way across (or up) to another, with as many cells."""
    count = points.shape[1] if is_across else points.shape[0]
    return resampled(points, np.linspace(begins, ends, count) * (count - 1), is_across=is_across)


def beneath(points: Grid, deep: float = BENEATH) -> Grid:
    """Return the surface so far under a panel; along its edges it meets the panel's own, where its neighbours end."""
    inside = np.zeros((*points.shape[:2], 1))
    inside[1:-1, 1:-1] = 1.0
    return np.asarray(points - deep * inside * normals_at(points))
