"""The figures of a cloth's pattern on the panels that it covers. Lengths in mm."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray

from zonatome.core.body.cloth import Piece
from zonatome.core.body.values import Grid, Patch
from zonatome.core.lay.pattern.centring import PatternTile

OF_A_SPRIG, LEAST_LEAVES = 8, (5, 6)  # figures of a motif, and those that a small picture leaves out
LEAST_STRIPE = 0.5  # mm: a narrower sliver of a stripe is not drawn
LEAST_FIGURE = 1.0  # mm2: a smaller bit of a figure is not drawn

Numbers = NDArray[np.int64]


@dataclass(frozen=True)
class Figures:
    """Figures of a pattern: the corners of all one after the other in the room, how many each has, the number of the
    panel that each lies on, and of that panel's cell.
    """

    there: Grid
    sizes: Numbers
    panels: Numbers
    cells: Numbers


def begins_of(sizes: Numbers) -> Numbers:
    """Return where each run of a row begins, by how many each has.

    >>> begins_of(np.array([4, 2, 3])).tolist()
    [0, 4, 6]
    """
    return np.asarray(np.cumsum(sizes) - sizes)


def figures_on(laid: Sequence[tuple[Patch, Piece]], *, is_small: bool) -> list[Figures]:
    """Return the figures of all patterns on panels, each on its piece of cloth; plainer for a small picture."""
    found = []
    tiled = dict[int, tuple[PatternTile, list[int]]]()
    for n, (patch, piece) in enumerate(laid):
        tile, repeat = piece.look.tile, piece.look.repeat
        if tile is None or repeat is None:
            continue
        if repeat.along is None or repeat.across is None:
            found.append(_stripes_on(n, patch, piece, tile, is_small=is_small))
        else:
            tiled.setdefault(id(tile), (tile, []))[1].append(n)
    found += [_motifs_on(tile, panels, laid, is_small=is_small) for tile, panels in tiled.values()]
    return [figures for figures in found if len(figures.sizes)]


def _stripes_on(number: int, patch: Patch, piece: Piece, tile: PatternTile, *, is_small: bool) -> Figures:
    """The stripes of a cloth on a panel, cut at every row of cells; on a small picture only the broad one."""
    is_along = piece.look.repeat is not None and piece.look.repeat.along is None
    axis, start, long = (1, tile.y, tile.height) if is_along else (0, tile.x, tile.width)
    drawn = tile.figures[: 1 if is_small else None]
    bars = np.array([[min(p[axis] for p in told), max(p[axis] for p in told)] for told in drawn])
    on_roll = piece.on_roll(patch.flat)[:, :, axis]
    # stripes go up the panel where the roll's measure changes most along its rows, else across it
    is_upright = bool(np.ptp(on_roll[on_roll.shape[0] // 2]) >= np.ptp(on_roll[:, on_roll.shape[1] // 2]))
    points = patch.points if is_upright else patch.points.swapaxes(0, 1)
    lines = on_roll if is_upright else on_roll.T
    first = int(np.floor((lines.min() - start - bars.max()) / long))
    last = int(np.ceil((lines.max() - start - bars.min()) / long))
    ends = (bars[:, None, :] + start + (np.arange(first, last + 1) * long)[None, :, None]).reshape(-1, 2)
    is_turned = bool(lines[0, -1] < lines[0, 0])
    if is_turned:  # the measure rises along each line
        lines, points = lines[:, ::-1], points[:, ::-1]
    chosen = np.array([*range(0, len(lines) - 1, 2 if is_small else 1), len(lines) - 1])
    there, column = _along(lines[chosen], points[chosen], ends)
    wide = np.minimum(ends[:, 1], lines[chosen, -1:]) - np.maximum(ends[:, 0], lines[chosen, :1])
    row, bar = np.nonzero(np.maximum(wide[:-1], wide[1:]) > LEAST_STRIPE)
    quads = np.stack([there[row, bar, 0], there[row, bar, 1], there[row + 1, bar, 1], there[row + 1, bar, 0]], axis=1)
    columns, column = points.shape[1] - 1, column[row, bar].sum(axis=1) // 2
    column = columns - 1 - column if is_turned else column
    cells = chosen[row] * columns + column if is_upright else column * (len(lines) - 1) + chosen[row]
    return Figures(quads.reshape(-1, 3), np.full(len(row), 4), np.full(len(row), number), cells)


def _along(measures: Grid, points: Grid, wanted: Grid) -> tuple[Grid, Numbers]:
    """Places along rows of points (rows, columns, 3) at wanted values of a measure that rises along each, and the
    numbers of the columns before them: (rows, wanted…, 3) and (rows, wanted…). What is beyond a row's end is at it.
    """
    row = np.arange(len(measures))[:, None]
    before = (measures[:, None, 1:-1] <= wanted.reshape(-1)[None, :, None]).sum(axis=2)
    low, high = measures[row, before], measures[row, before + 1]
    share = np.clip((wanted.reshape(-1) - low) / np.maximum(high - low, 1e-9), 0, 1)[..., None]
    there = points[row, before] * (1 - share) + points[row, before + 1] * share
    return there.reshape(len(measures), *wanted.shape, 3), before.reshape(len(measures), *wanted.shape)


def _motifs_on(tile: PatternTile, panels: list[int], laid: Sequence[tuple[Patch, Piece]], *, is_small: bool) -> Figures:
    """The motifs of one pattern on all panels that it covers: each figure in one, carried onto the surface place by
    place; plainer where the picture is small.
    """
    patches, pieces = [laid[n][0] for n in panels], [laid[n][1] for n in panels]
    edges = [_edge_of(patch.flat) for patch in patches]
    joined, sizes, boxes = _drawn_figures(tile, is_small=is_small)
    steps, of = _steps_within(tile, boxes, [piece.on_roll(edge) for piece, edge in zip(pieces, edges, strict=True)])
    onto = np.array([piece.onto for piece in pieces])
    corners = _moved(steps[:, None] + boxes[:, None], onto[of][:, None])  # (4, tiles, figures, 2)
    least, most = corners.min(axis=0), corners.max(axis=0)
    low, high = (np.array([get(edge, axis=0) for edge in edges])[of][:, None] for get in (np.min, np.max))
    inner = np.array([_inner_box(patch.flat) for patch in patches])[of]  # what lies within needs no cutting
    is_near = _both(most > low) & _both(least < high)
    is_within = _both(least > inner[:, None, 0]) & _both(most < inner[:, None, 1])
    found = []
    for is_cut in (False, True):
        tiles, numbers = np.nonzero(is_near & (is_within != is_cut))
        if not len(tiles):
            continue
        many, panel = sizes[numbers], of[tiles]
        places = joined[_runs(begins_of(sizes)[numbers], many)] + np.repeat(steps[tiles], many, axis=0)
        told = (_moved(places, np.repeat(onto[panel], many, axis=0)), many, panel)
        found.append(_cut(*told, edges) if is_cut else told)
    if not found:
        return Figures(np.empty((0, 3)), *(np.empty(0, dtype=int) for _ in range(3)))
    whole, sizes, panel = (np.concatenate(each) for each in zip(*found, strict=True))
    there, nearest = _carried(patches, whole, np.repeat(panel, sizes))
    return Figures(there, sizes, np.array(panels)[panel], nearest[begins_of(sizes) + sizes // 2])


def _runs(begins: Numbers, sizes: Numbers) -> Numbers:
    """The numbers from each beginning on, so many of each, one run after the other."""
    return np.asarray(np.repeat(begins - begins_of(sizes), sizes) + np.arange(sizes.sum()))


def _both(is_so: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Where it is so of x and of y."""
    return np.asarray(is_so[..., 0] & is_so[..., 1])


def _moved(at: Grid, onto: Grid) -> Grid:
    """Places (…, 2) moved each by its own map (…, 6)."""
    x, y = at[..., 0], at[..., 1]
    made = np.empty(at.shape)
    for k in (0, 1):
        made[..., k] = onto[..., k] * x + onto[..., k + 2] * y + onto[..., k + 4]
    return made


@lru_cache(maxsize=64)
def _drawn_figures(tile: PatternTile, *, is_small: bool) -> tuple[Grid, Numbers, Grid]:
    """The places of a tile's figures one after the other, how many each has, the corners of the box of each,
    (4, figures, 2): on a small picture fewer.
    """
    figures = [np.array(told, float)[:: 3 if is_small and len(told) > 6 else 1] for told in tile.figures]
    if is_small:  # without its least leaves
        figures = [figure for n, figure in enumerate(figures) if n % OF_A_SPRIG not in LEAST_LEAVES]
    boxes = []
    for figure in figures:
        (x0, y0), (x1, y1) = figure.min(axis=0), figure.max(axis=0)
        boxes.append([(x0, y0), (x1, y0), (x1, y1), (x0, y1)])
    return (
        np.concatenate(figures),
        np.array([len(figure) for figure in figures]),
        np.ascontiguousarray(np.array(boxes).swapaxes(0, 1)),
    )


def _steps_within(tile: PatternTile, boxes: Grid, edges: list[Grid]) -> tuple[Grid, Numbers]:
    """By how much a tile is moved to lie on each outline on the roll, for every tile that touches its box: (tiles, 2),
    and the number of the outline.
    """
    step, start = np.array([tile.width, tile.height]), np.array([tile.x, tile.y])
    low, high = (np.array([get(edge, axis=0) for edge in edges]) for get in (np.min, np.max))
    first = np.floor((low - start - boxes.max(axis=(0, 1))) / step).astype(int).tolist()
    last = np.ceil((high - start - boxes.min(axis=(0, 1))) / step).astype(int).tolist()
    made = [
        (i, j, n)
        for n, ((i0, j0), (i1, j1)) in enumerate(zip(first, last, strict=True))
        for i in range(i0, i1 + 1)
        for j in range(j0, j1 + 1)
    ]
    counted = np.array(made)
    return start + counted[:, :2] * step, counted[:, 2]


def _edge_of(flat: Grid) -> Grid:
    """The outline of a flat panel, without the places at which it does not turn."""
    edge = np.concatenate([flat[0], flat[1:, -1], flat[-1, -2::-1], flat[-2:0:-1, 0]])
    beyond = np.concatenate([edge[-1:], edge, edge[:1]])
    steps = np.diff(beyond, axis=0)
    before, after = steps[:-1], steps[1:]
    turn = np.abs(before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0])
    long = np.sqrt((before * before).sum(axis=1) * (after * after).sum(axis=1))
    kept = edge[turn > 0.02 * np.maximum(long, 1e-9)]
    return kept if len(kept) > 2 else edge


def _inner_box(flat: Grid) -> list[list[float]]:
    """A box that lies within a flat panel: its least and its most x, y."""
    return [[flat[:, 0, 0].max(), flat[0, :, 1].max()], [flat[:, -1, 0].min(), flat[-1, :, 1].min()]]


def _cut(figures: Grid, sizes: Numbers, of: Numbers, edges: list[Grid]) -> tuple[Grid, Numbers, Numbers]:
    """What of some figures lies within the outline of each, all flat: the places of all one after the other, how many
    each has, the number of its outline. Of one figure there may be none, one or more pieces.
    """
    whole = shapely.polygons(shapely.linearrings(figures, indices=np.repeat(np.arange(len(sizes)), sizes)))
    outlines = shapely.make_valid(np.array([shapely.Polygon(edge) for edge in edges]))
    parts, figure = shapely.get_parts(shapely.intersection(shapely.make_valid(whole), outlines[of]), return_index=True)
    is_kept = shapely.area(parts) > LEAST_FIGURE  # bits of lines are not
    places, ring = shapely.get_coordinates(shapely.get_exterior_ring(parts[is_kept]), return_index=True)
    is_last = np.append(np.diff(ring) > 0, [True] * bool(len(ring)))  # which is the first once more
    return places[~is_last], np.bincount(ring[~is_last], minlength=int(is_kept.sum())), of[figure[is_kept]]


def _carried(patches: list[Patch], at: Grid, panel: Numbers) -> tuple[Grid, Numbers]:
    """Where places of flat panels, by the panel of each, lie on the furniture, each by its nearest cell; and that
    cell's number.
    """
    flats, cells = [patch.flat_cells for patch in patches], [patch.cells for patch in patches]
    sizes = np.array([len(each) for each in flats])
    flat, there = np.concatenate(flats), np.concatenate(cells)
    middles = flat.mean(axis=1)
    # cells of every panel in a row of one length: those beyond its own are the last, once more
    row = np.minimum(np.arange(sizes.max())[None], sizes[:, None] - 1) + begins_of(sizes)[:, None]
    x, y = middles[row, 0][panel] - at[:, :1], middles[row, 1][panel] - at[:, 1:]
    nearest = np.argmin(x * x + y * y, axis=1)
    cell = row[panel, nearest]
    return _on_cells(flat[cell], there[cell], at, middles[cell]), nearest


def _on_cells(flat: Grid, there: Grid, at: Grid, middles: Grid) -> Grid:
    """Where places of the flat panel lie on the furniture, each by the cell that is said."""
    across = (flat[:, 1] + flat[:, 2] - flat[:, 0] - flat[:, 3]) / 2
    up = (flat[:, 2] + flat[:, 3] - flat[:, 0] - flat[:, 1]) / 2
    scale = across[:, 0] * up[:, 1] - across[:, 1] * up[:, 0]
    scale = np.where(np.abs(scale) > 1e-6, scale, np.inf)
    off = at - middles
    u = (off[:, 0] * up[:, 1] - off[:, 1] * up[:, 0]) / scale
    v = (across[:, 0] * off[:, 1] - across[:, 1] * off[:, 0]) / scale
    way_across = (there[:, 1] + there[:, 2] - there[:, 0] - there[:, 3]) / 2
    way_up = (there[:, 2] + there[:, 3] - there[:, 0] - there[:, 1]) / 2
    return np.asarray(there.mean(axis=1) + u[:, None] * way_across + v[:, None] * way_up)
