"""How the cost of a lay grows with its pieces, and how soon a search stops: a table, and a plot for docs/lay.md.

    python bench/lay_growth.py [--plot docs/lay-growth.svg]

For 10 to 640 pieces: the first lay, the tables of the search, laying every piece once, one by one, as the search
begins, and how long a search goes on after it has been asked to stop. All in one run, on a quiet machine.
"""

from __future__ import annotations

import argparse
import math
import statistics
import sys
import time
from pathlib import Path

import numpy as np

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from zonatome.core.lay.construct.bound_rows import in_order
from zonatome.core.lay.geometry.nesting_table import NestingTable
from zonatome.core.lay.lay import easy_lay, search_lay
from zonatome.core.lay.prepare import prepare
from zonatome.core.lay.request import LayRequest, PieceAsk, Roll
from zonatome.core.trace.by_tape import rounded_shape, trapezoid_shape

COUNTS = (10, 20, 40, 80, 160, 320, 640)
SHAPES = [trapezoid_shape("s", 300 + 40 * k, 360 + 30 * k, 380 + 25 * k, {}).outline for k in range(6)]
SHAPES += [rounded_shape("r", 240 + 30 * k, 200 + 20 * k, 50, {}).outline for k in range(4)]


def chairs(pieces: int) -> LayRequest:
    """So many pieces of ten shapes, which may be turned half round."""
    counts = [pieces // 10 + (k < pieces % 10) for k in range(10)]
    asks = [
        PieceAsk(f"p{k}", o.turned(90), n, (0.0, 180.0))
        for k, (o, n) in enumerate(zip(SHAPES, counts, strict=True))
        if n
    ]
    return LayRequest(Roll(1400, (12, 12)), 4, tuple(asks))


def looked(request: LayRequest) -> float:
    """Seconds for laying every piece once, one by one, as the search begins."""
    ways = NestingTable(request)
    n = len(ways.items)
    x, y, way = np.zeros(n), np.zeros(n), np.full(n, -1, dtype=np.int64)
    begun = time.monotonic()
    in_order(ways.table, np.arange(n), 20.0, x, y, way, np.zeros(1, dtype=np.int64))
    return time.monotonic() - begun


def stopping(request: LayRequest) -> float:
    """Seconds from the wish to stop to the answer; the middle of three."""
    found = []
    for seed in range(3):
        begun, wished = time.monotonic(), []

        def stopped(begun: float = begun, wished: list[float] = wished) -> bool:
            if not wished and time.monotonic() - begun > 1.5:
                wished.append(time.monotonic())
            return bool(wished)

        search_lay(request, seconds=60, seed=seed + 1, stopped=stopped)
        found.append(time.monotonic() - (wished[0] if wished else time.monotonic()))
    return statistics.median(found)


def main() -> None:
    """Measure, print, and draw."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--plot", type=Path)
    asked = parser.parse_args()
    prepare()
    looked(chairs(10)), search_lay(chairs(10), seconds=0.3)
    rows = []
    print(f"{'pieces':>7} {'rows s':>8} {'table s':>8} {'one by one s':>13} {'stop s':>7}")
    for count in COUNTS:
        request = chairs(count)
        begun = time.monotonic()
        easy_lay(request)
        rows_s = time.monotonic() - begun
        begun = time.monotonic()
        NestingTable(request)
        table_s = time.monotonic() - begun
        one = min(looked(request) for _ in range(3))
        stop = stopping(request)
        rows.append((count, rows_s, one, stop))
        print(f"{count:>7} {rows_s:>8.3f} {table_s:>8.3f} {one:>13.4f} {stop:>7.2f}", flush=True)
    for name, k in (("rows", 1), ("one by one", 2)):
        big = [r for r in rows if r[0] >= 40]
        slope = np.polyfit(np.log([r[0] for r in big]), np.log([r[k] for r in big]), 1)[0]
        print(f"{name}: grows as pieces to the power of {slope:.2f} from 40 pieces on")
    if asked.plot:
        asked.plot.write_text(plotted(rows))


def plotted(rows: list[tuple[int, float, float, float]]) -> str:
    """The plot: seconds over pieces, both by powers of ten, with the square beside it."""
    wide, high, left, low = 640, 420, 70, 360
    tens = (-4, 1)

    def at(pieces: float, seconds: float) -> tuple[float, float]:
        return left + (math.log10(pieces) - 1) * 290, low - (math.log10(seconds) - tens[0]) / (tens[1] - tens[0]) * 330

    def line(points: list[tuple[float, float]], look: str) -> str:
        return f'<polyline fill="none" {look} points="{" ".join(f"{x:.1f},{y:.1f}" for x, y in points)}"/>'

    def words(x: float, y: float, text: str, anchor: str = "start") -> str:
        return (
            f'<text x="{x:.1f}" y="{y:.1f}" text-anchor="{anchor}" font-family="sans-serif" font-size="13" '
            f'fill="#20252c">{text}</text>'
        )

    drawn = [f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {wide} {high}" width="{wide}" height="{high}">']
    drawn.append(f'<rect width="{wide}" height="{high}" fill="#fbf8f1"/>')
    for ten in range(tens[0], tens[1] + 1):
        y = at(10, 10.0**ten)[1]
        drawn += [
            f'<path d="M{left} {y:.1f}H{wide - 30}" stroke="#d5cab4"/>',
            words(left - 8, y + 4, f"{10.0**ten:g} s", "end"),
        ]
    for count in COUNTS:
        x = at(count, 1)[0]
        drawn += [f'<path d="M{x:.1f} 30V{low}" stroke="#eee6d4"/>', words(x, low + 20, str(count), "middle")]
    drawn.append(words(wide / 2, low + 44, "pieces", "middle"))
    square = [at(n, rows[-1][2] * (n / rows[-1][0]) ** 2) for n in (40, 640)]
    drawn.append(line(square, 'stroke="#a43e2c" stroke-width="1.5" stroke-dasharray="6 4"'))
    drawn.append(words(square[0][0] + 6, square[0][1] + 16, "the square"))
    for k, tone, name in (
        (1, "#235c8c", "the first lay, in rows"),
        (2, "#52713b", "every piece laid once by the search"),
    ):
        points = [at(r[0], max(r[k], 1e-4)) for r in rows]
        drawn.append(line(points, f'stroke="{tone}" stroke-width="2.5"'))
        drawn.append(words(points[-1][0] - 4, points[-1][1] - 8, name, "end"))
    return "\n".join([*drawn, "</svg>", ""])


if __name__ == "__main__":
    main()
