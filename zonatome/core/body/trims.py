"""Trims along the lines of a body: where an exposed line of the cover runs on the furniture, and where buttons sit."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from zonatome.core.body.surfaces import at_shares, path_length
from zonatome.core.body.values import Body, Curve, Patch, TrimLine, TrimSort
from zonatome.core.body.worked_in import button_places
from zonatome.core.survey.kind import ROUND, RUN, Kind, Part, place_of_edge, side_of_edge
from zonatome.core.trim.lines import exposed_lines

PROUD = 3.0  # mm that a trim stands over its line
BUTTON = 11.0  # mm: half a button
THICK: dict[TrimSort, float] = {"welt": 8.0, "double_welt": 11.0, "gimp": 12.0, "nails": 9.0, "buttons": 2 * BUTTON}


def edge_curve(patch: Patch, part: Part, edge: str) -> Curve:
    """Return where an edge of a panel lies on the furniture, in the order of the run; of a parted side its part."""
    if edge == ROUND:
        sides = [patch.side(side) for side in RUN]
        return np.concatenate([sides[0], *[s[1:] for s in sides[1:]]])
    side = side_of_edge(edge)
    curve = patch.side(side)
    if side not in part.parted:
        return curve
    lengths = part.parted[side]
    number = place_of_edge(edge) - 1
    whole = sum(lengths)
    begins, ends = sum(lengths[:number]) / whole, sum(lengths[: number + 1]) / whole
    return stretch_of(curve, begins, ends)


def stretch_of(curve: Curve, begins: float, ends: float) -> Curve:
    """Return the stretch of a line from one share of its length to another."""
    far = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(curve, axis=0), axis=1))])
    inner = far[(far > begins * far[-1] + 1e-6) & (far < ends * far[-1] - 1e-6)]
    at = np.concatenate([[begins * far[-1]], inner, [ends * far[-1]]])
    return np.stack([np.interp(at, far, curve[:, k]) for k in range(curve.shape[1])], axis=1)


def trim_lines(kind: Kind, body: Body) -> tuple[TrimLine, ...]:
    """Return the trims of a kind on its body: welt in a seam or round a facing, double welt over raw edges; buttons."""
    found = []
    for each in exposed_lines(kind, kind.usual_length):
        patch = body.by_key.get(each.key)
        if patch is None or "lower edge" in each.why:
            continue
        curves = [edge_curve(patch, kind.part(each.key), edge) for edge in each.edges]
        sort: TrimSort = "double_welt" if "raw" in each.why else "welt"
        points = np.concatenate(curves)
        found.append(TrimLine(each.name, each.key, points + PROUD * _outward(patch, points), sort, THICK[sort]))
    for part in kind.panels:
        patch = body.by_key.get(part.key)
        if part.buttons is None or patch is None:
            continue
        for x, y in button_places(part.buttons):
            at, out = patch.at(x, y)
            found.append(TrimLine("Buttons", part.key, np.stack([at + out * 2, at + out * 8]), "buttons", 2 * BUTTON))
    return tuple(found)


def chosen_lines(body: Body, chosen: Mapping[str, TrimSort], spacing: Mapping[str, float]) -> tuple[TrimLine, ...]:
    """Return the trims of a body as they were chosen: lines by their names with their sort, buttons always; nails stand
    `spacing` mm apart along theirs, touching where nothing is said.
    """
    found = []
    for trim in body.lines:
        sort = trim.sort if trim.sort == "buttons" else chosen.get(trim.key)
        if sort is None:
            continue
        points = trim.points
        if sort == "nails":
            steps = max(1, round(path_length(points) / spacing.get(trim.key, THICK["nails"])))
            points = at_shares(points, np.linspace(0, 1, steps + 1))
        found.append(replace(trim, sort=sort, thick=THICK[sort], points=points))
    return tuple(found)


def _outward(patch: Patch, points: Curve) -> Curve:
    """The way out of a patch at places of its edge: away from its middle."""
    cells = patch.cells.mean(axis=1)
    nearest = np.argmin(np.linalg.norm(cells[None] - points[:, None], axis=2), axis=1)
    return np.asarray(patch.normals[nearest])
