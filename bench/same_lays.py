"""Whether the same seed still gives the same lays: for a change that only moves or renames what the search is made of.

    python -m bench.same_lays FOLDER KEPT.json [--work 3e6]

FOLDER holds lay requests as JSON. The first run writes KEPT.json, a later one compares with it. Each request is laid
at once and searched by one searcher with two seeds, its work counted, so that neither the clock nor another thread has
a say. Only on one and the same machine: another processor rounds in another way, and a search goes on from what it
rounded.
"""

from __future__ import annotations

import argparse
import json
import math
from pathlib import Path

import numpy as np

from zonatome.core.formats.lay_json import read_request
from zonatome.core.lay.geometry.nesting_table import NestingTable
from zonatome.core.lay.lay import easy_lay
from zonatome.core.lay.request import LayRequest
from zonatome.core.lay.search.panels import PanelSearcher
from zonatome.core.lay.search.roll import RollSearcher

SEEDS = (1, 2)
FEW = 70  # pieces: of more, one search takes minutes
Lying = list[list[float]]


def lays_of(request: LayRequest, work: float) -> dict[str, Lying]:
    """The first lay and the best of each seed: a row a piece, with its number, place and turn."""
    easy = easy_lay(request)
    numbers = {p.id: n for n, p in enumerate(request.pieces)}
    found = {"at once": [[numbers[p.piece], p.x, p.y, p.turn_degrees] for p in easy.placements]}
    found["at once"] += [[-1, *cut.outline.bounds] for cut in easy.strips]
    ways = NestingTable(request)
    kind = PanelSearcher if request.on_panels else RollSearcher
    for seed in SEEDS:
        searcher = kind(ways, seed=seed, work=work, until=math.inf, stop=np.zeros(1, dtype=np.int64))
        searcher.run()
        best = min(searcher.kept, key=lambda s: s.cost)
        rows = zip(best.x, best.y, best.way, strict=True)
        found[f"seed {seed}"] = [[float(w), float(x), float(y)] for x, y, w in rows]
    return found


def main() -> None:
    """Record, or compare with what was recorded."""
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("folder", type=Path)
    asked.add_argument("kept", type=Path)
    asked.add_argument("--work", type=float, default=3e6)
    told = asked.parse_args()
    now: dict[str, dict[str, Lying]] = {}
    for path in sorted(told.folder.glob("*.json")):
        document = json.loads(path.read_text())
        if document.get("format") == "zonatome.lay-request":
            request = read_request(document)
            if request.piece_count <= FEW:
                now[path.stem] = lays_of(request, told.work)
                print(path.stem, flush=True)
    if not told.kept.exists():
        told.kept.write_text(json.dumps(now))
        print(f"{sum(map(len, now.values()))} lays of {len(now)} requests recorded")
        return
    before = json.loads(told.kept.read_text())
    same = [f"{name} {what}" for name in now for what in now[name] if now[name][what] == before.get(name, {}).get(what)]
    other = [f"{name} {what}" for name in now for what in now[name] if f"{name} {what}" not in same]
    print(f"{len(same)} of {len(same) + len(other)} lays as before", *other, sep="\n  ")


if __name__ == "__main__":
    main()
