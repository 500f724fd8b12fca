"""How soon the first lay stands, and the search against the packer alone, in one run.

    python bench/lay_speed.py [--seconds 10] [--seed 1] [REQUEST.json ...]

Without files it lays its own 31 pieces of six chairs. For each request it prints the seconds until the first
lay, the packer's length alone in the given time (its own separation of pieces, as it comes), ours, and the ratio.
Run it on a quiet machine: the packer's result depends on how much of the processor it gets.
"""

from __future__ import annotations

import argparse
import sys
import time
from dataclasses import replace
from pathlib import Path

import spyrrow

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from tests.core.lay.requests_of_the_trade import six_chairs
from zonatome.core.formats.lay_json import read_request
from zonatome.core.formats.reading import read_json
from zonatome.core.lay.check import faults
from zonatome.core.lay.lay import easy_lay, search_lay
from zonatome.core.lay.request import LayRequest


def packer_alone(request: LayRequest, *, seconds: int, seed: int) -> float:
    """Return the length of the packer's own lay, its pieces' true extent."""
    items = [
        spyrrow.Item(str(n), list(p.outline.points), p.count, p.turns and list(p.turns))
        for n, p in enumerate(request.pieces)
    ]
    instance = spyrrow.StripPackingInstance("alone", request.roll.usable, items)
    config = spyrrow.StripPackingConfig(
        early_termination=False,
        total_computation_time=seconds,
        num_workers=2,
        seed=seed,
        min_items_separation=request.gap or None,
    )
    placed = instance.solve(config).placed_items
    bounds = [request.pieces[int(p.id)].outline.placed(*p.translation, turn_degrees=p.rotation).bounds for p in placed]
    return max(b[2] for b in bounds) - min(b[0] for b in bounds)


def main() -> None:
    """Measure and print one line a request."""
    parser = argparse.ArgumentParser()
    parser.add_argument("requests", nargs="*", type=Path)
    parser.add_argument("--seconds", type=int, default=10)
    parser.add_argument("--seed", type=int, default=1)
    asked = parser.parse_args()
    requests = {p.stem: read_request(read_json(p.read_text())) for p in asked.requests} or {
        "six chairs, two-way": six_chairs(),
        "six chairs, one-way": six_chairs(turns=(0.0,)),
        "six chairs, any turn": six_chairs(turns=(0.0, 90.0, 180.0, 270.0)),
    }
    print(
        f"{'request':28} {'pieces':>6} {'first s':>8} {'alone mm':>9} {'ours mm':>9} {'ratio':>7} {'bound mm':>9}  "
        f"found by"
    )
    for name, request in requests.items():
        pieces = replace(request, strips=())
        begun = time.perf_counter()
        easy_lay(request)
        first = time.perf_counter() - begun
        alone = packer_alone(pieces, seconds=asked.seconds, seed=asked.seed)
        begun = time.perf_counter()
        lay = search_lay(pieces, seconds=asked.seconds, seed=asked.seed)
        took = time.perf_counter() - begun
        wrong = faults(pieces, lay)
        note = f"{lay.method}, {took:.1f} s" + (f", FAULTS {wrong}" if wrong else "")
        figures = f"{first:8.3f} {alone:9.1f} {lay.length:9.1f} {lay.length / alone:7.4f} {lay.bound:9.1f}"
        print(f"{name:28} {pieces.piece_count:6d} {figures}  {note}", flush=True)


if __name__ == "__main__":
    main()
