"""How near the search comes to a sheet that was cut apart with a gap, or with a piece less: the shortest lay is all
but known.

    python -m bench.near_jigsaws [--seconds 5] [--sheets 6] [--seed 1]

A sheet across the whole roll is cut by straight cuts, in three ways: each piece 3 mm smaller all round than what it
was cut from, one piece taken out of it, and both. Prints each lay's length over the sheet's, for every number of
pieces and their mean.
"""

from __future__ import annotations

import argparse
import math
import random
import statistics
from dataclasses import replace

import shapely
from shapely.geometry import LineString
from shapely.ops import split

from zonatome.core.lay.lay import search_lay
from zonatome.core.lay.prepare import prepare
from zonatome.core.lay.request import LayRequest, PieceAsk, Roll
from zonatome.core.outline import outline_of

ROLL = Roll(1400.0, (12.0, 12.0))
GAP = 3.0  # mm
A_PIECE = 120.0  # mm of the sheet for each piece
COUNTS = (8, 16, 30)
SLANT = 0.35  # radians by which a cut is off the square


def sheet_cut_apart(chance: random.Random, count: int) -> list[shapely.Polygon]:
    """Return the pieces of a sheet as long as its pieces are many, in no order."""
    parts = [shapely.box(0, 0, A_PIECE * count, ROLL.usable)]
    while len(parts) < count:
        parts.sort(key=lambda p: -p.area)
        part = parts.pop(0)
        x0, y0, x1, y1 = part.bounds
        angle = (math.pi / 2 if x1 - x0 > y1 - y0 else 0.0) + chance.uniform(-SLANT, SLANT)
        x = part.centroid.x + chance.uniform(-0.15, 0.15) * (x1 - x0)
        y = part.centroid.y + chance.uniform(-0.15, 0.15) * (y1 - y0)
        far_x, far_y = 1e5 * math.cos(angle), 1e5 * math.sin(angle)
        parts += list(split(part, LineString([(x - far_x, y - far_y), (x + far_x, y + far_y)])).geoms)
    chance.shuffle(parts)
    return parts


def request_of(parts: list[shapely.Polygon], *, gap: float) -> LayRequest:
    """Return a request for the pieces, each smaller by half the gap all round where there is one."""
    cut = [part.buffer(-gap / 2, join_style="mitre") for part in parts]
    outlines = [outline_of(list(part.exterior.coords[:-1])) for part in cut]
    return LayRequest(ROLL, gap, tuple(PieceAsk(f"p{n}", outline, 1, (0.0,)) for n, outline in enumerate(outlines)))


def main() -> None:
    """Cut sheets apart, lay them and print how much longer the lays are."""
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--seconds", type=float, default=5.0)
    asked.add_argument("--sheets", type=int, default=6)
    asked.add_argument("--seed", type=int, default=1)
    told = asked.parse_args()
    prepare()
    print(f"{'pieces':>6}  {'a gap':>8}  {'a piece less':>12}  {'both':>8}")
    for count in COUNTS:
        ratios: dict[str, list[float]] = {"gap": [], "less": [], "both": []}
        for sheet in range(told.sheets):
            parts = sheet_cut_apart(random.Random(f"{told.seed} {count} {sheet}"), count)
            whole = request_of(parts, gap=GAP)
            for name, request in (
                ("gap", whole),
                ("less", request_of(parts[1:], gap=0.0)),
                ("both", replace(whole, pieces=whole.pieces[1:])),
            ):
                lay = search_lay(request, seconds=told.seconds, seed=told.seed)
                ratios[name].append(lay.length / (A_PIECE * count))
        mean = {name: statistics.fmean(each) for name, each in ratios.items()}
        print(f"{count:>6}  {mean['gap']:>8.4f}  {mean['less']:>12.4f}  {mean['both']:>8.4f}", flush=True)


if __name__ == "__main__":
    main()
