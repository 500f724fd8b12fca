"""From a kind of furniture, its finished shapes and its measures to its body."""

from __future__ import annotations

from collections.abc import Callable, Mapping

import numpy as np

from zonatome.core.body.boxes import bench, desk_chair, ottoman, round_stool, sling, square_stool
from zonatome.core.body.chairs import drop_in, hall, seat_pad, show_wood, side_chair
from zonatome.core.body.making import Making
from zonatome.core.body.measures import Sizes, with_own
from zonatome.core.body.padded import padded_chair
from zonatome.core.body.surfaces import line, shares
from zonatome.core.body.trims import trim_lines
from zonatome.core.body.values import Body, Grid, Patch
from zonatome.core.body.worked_in import worked_in
from zonatome.core.survey.kind import Kind, Part
from zonatome.core.trace.shape import Shape

CELLS = 10  # how many cells a panel has each way, where the picture is large
MANY_CELLS = 14  # and in the model that is turned by hand
FEW_CELLS, FEWER_CELLS, MANY_PANELS = 6, 4, 8  # and on a tag, where furniture of many panels has less room for each
BUILDERS: dict[str, Callable[[Making], None]] = {
    "drop_in": drop_in,
    "side_chair": side_chair,
    "show_wood": show_wood,
    "armchair": padded_chair,
    "wing": padded_chair,
    "hall": hall,
    "round_stool": round_stool,
    "square_stool": square_stool,
    "ottoman": ottoman,
    "bench_box": bench,
    "desk_chair": desk_chair,
    "sling": sling,
}


def body_of(
    kind: Kind,
    shapes: Mapping[str, Shape] | None = None,
    own: Mapping[str, float] | None = None,
    *,
    cells: int = CELLS,
) -> Body:
    """Return the body of a kind of furniture as this job has it.

    `shapes` are finished shapes by panel, which size it; `own` are measures of the furniture by key, see
    `measures.MEASURES`. Raises BadInput for a measure that this kind has not, or out of its bounds.
    """
    sizes, measures = Sizes(kind, shapes), with_own(kind, own or {})
    make = Making(kind, sizes, measures, cells)
    BUILDERS.get(kind.key, _plain)(make)
    _added(make)
    patches = tuple(worked_in(patch, kind.part(patch.key)) for patch in make.patches)
    body = Body(patches, tuple(make.solids), measures=measures)
    return Body(patches, body.solids, trim_lines(kind, body), measures)


def few_cells(kind: Kind) -> int:
    """Return how many cells a panel has each way in a small picture of a kind."""
    return FEWER_CELLS if len(kind.panels) > MANY_PANELS else FEW_CELLS


def _plain(make: Making) -> None:
    """A kind that is not among ours: its first panel as a pad at the height of a seat; the others hang from it."""
    first = next(p for p in make.kind.panels if p.on is None or not make.kind.has(p.on))
    make.lay(first.key, seat_pad(make, first.key, make["seat_height"] - make["pad"], 0.0))


def _added(make: Making) -> None:
    """Lay the panels of this job's own that no place of the kind takes: against a side of their host."""
    waiting = [p for p in make.kind.panels if p.key not in {laid.key for laid in make.patches}]
    while waiting:
        laid = {patch.key: patch for patch in make.patches}
        ready = [p for p in waiting if p.on in laid]
        if not ready:
            _stand_alone(make, waiting)
            return
        for part in ready:
            make.lay(part.key, _against(laid[part.on or ""], make.kind.part(part.on or ""), part, make))
        waiting = [p for p in waiting if p not in ready]


def _against(host: Patch, on: Part, part: Part, make: Making) -> Grid:
    """A panel against a side of another: hanging down from one that lies, on outward beyond the edge of one that
    stands.
    """
    size, rows = make.size(part.key, part.width, part.height), max(make.cells // 3, 2)
    edge = host.side(part.side)  # in the order of the run, as one looks at the host's face
    if on.stands or not part.stands:
        beside = {
            "bottom": host.points[1],
            "right": host.points[:, -2],
            "top": host.points[-2, ::-1],
            "left": host.points[::-1, 1],
        }[part.side]
        way = edge - beside
        away = way / np.maximum(np.linalg.norm(way, axis=1, keepdims=True), 1e-9)
    else:
        out = edge - host.points.reshape(-1, 3).mean(axis=0)
        out[:, 2] = 0.0
        away = out / np.maximum(np.linalg.norm(out, axis=1, keepdims=True), 1e-9) * 0.04 + np.array([0.0, 0.0, -1.0])
    deep = size.height if part.by in ("top", "bottom") else size.width
    far = [edge + away * (deep * s + 1.0) for s in shares(rows)]
    # the near edge is the panel's own `by`; its run goes against the host's
    turned = {"top": far[::-1], "bottom": [row[::-1] for row in far]}
    if part.by in turned:
        return np.stack(turned[part.by])
    stacked = np.stack(far, axis=1)
    return stacked[::-1] if part.by == "left" else stacked[:, ::-1]


def _stand_alone(make: Making, parts: list[Part]) -> None:
    """Panels that hang on nothing lie flat before the furniture, as loose ones."""
    y = -120.0
    for part in parts:
        size = make.size(part.key, part.width, part.height)
        y -= size.height + 40
        rows = [
            line((-size.width / 2, y + size.height * s, 2.0), (size.width / 2, y + size.height * s, 2.0), make.cells)
            for s in shares(make.cells)
        ]
        make.lay(part.key, np.stack(rows))
