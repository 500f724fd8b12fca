"""The general strip packer in a process of its own, so that a search can be stopped at once.

Reads one JSON line from standard input, writes a JSON line for every better packing, ends when told to or
when nobody reads any more. Not for use by hand: `engines/general_packer.py` speaks with it.
"""

from __future__ import annotations

import json
import sys
import threading
from typing import Any

import spyrrow

EVERY = 0.1  # seconds between looks at the packer's reports


def main() -> None:
    """Pack what standard input asks for."""
    asked: dict[str, Any] = json.loads(sys.stdin.readline())
    items = [spyrrow.Item(i["id"], [tuple(p) for p in i["points"]], i["count"], i["turns"]) for i in asked["items"]]
    instance = spyrrow.StripPackingInstance("lay", asked["height"], items)
    config = spyrrow.StripPackingConfig(
        early_termination=False,
        total_computation_time=asked["seconds"],
        num_workers=asked["workers"],
        seed=asked["seed"],
    )
    queue = spyrrow.ProgressQueue()
    ended = threading.Event()

    last: list[Any] = []

    def solve() -> None:
        try:
            last.append(instance.solve(config, queue))
        finally:
            ended.set()

    threading.Thread(target=solve, daemon=True).start()
    least = float("inf")
    while not ended.wait(EVERY):
        for kind, solution in queue.drain():
            if kind in (spyrrow.ReportType.ExplFeas, spyrrow.ReportType.CmprFeas) and solution.width < least:
                least = solution.width
                _say(solution)
    for solution in last:
        if solution.width < least:
            _say(solution)


def _say(solution: Any) -> None:
    placed = [[p.id, p.translation[0], p.translation[1], p.rotation] for p in solution.placed_items]
    try:
        print(json.dumps({"width": solution.width, "placed": placed}), flush=True)
    except BrokenPipeError:
        sys.exit(0)


if __name__ == "__main__":
    main()
