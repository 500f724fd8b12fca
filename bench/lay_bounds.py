"""Whether a search ends when it was told to, whatever legal request it is given: seconds + 20 % + 2 s, or a refusal at
once.

    python -m bench.lay_bounds CASES... [--seconds 1] [--rounds 2] [--seed 1]

Takes lay requests (those of a bench, hostile ones) and makes harder ones of each: more pieces, all of them different,
toothed edges, any turn, small repeats, many flaws, narrow strips, and most of that at once. Each runs in a process of
its own. Prints how far over each was.
"""

from __future__ import annotations

import argparse
import copy
import json
import math
import random
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from zonatome.core.formats.lay_json import MOST_MATCHED, MOST_ON_PANELS

Document = dict[str, Any]
ONE = """
import json, sys, time
from zonatome.core.errors import ZonatomeError
from zonatome.core.formats.lay_json import read_request
from zonatome.core.lay.lay import search_lay
request, seconds = read_request(json.load(sys.stdin)), float(sys.argv[1])
begun = time.monotonic()
try:
    lay = search_lay(request, seconds=seconds)
    said = f"{lay.method}, {len(lay.placements)} laid"
except ZonatomeError as refused:
    said = "refused: " + str(refused)[:90]
print(json.dumps([time.monotonic() - begun, said]))
"""
HANGS = 120.0  # seconds beyond what was asked


def toothed(points: list[list[float]], told: random.Random) -> list[list[float]]:
    """An outline with teeth along its edges, up to some hundred points."""
    made = []
    deep = told.uniform(0.5, 6)
    for (x0, y0), (x1, y1) in zip(points, [*points[1:], points[0]], strict=True):
        long = math.dist((x0, y0), (x1, y1))
        many = max(1, int(min(80, long / 8)))
        for k in range(many):
            t, out = k / many, deep * (k % 2)
            made.append(
                [x0 + t * (x1 - x0) - out * (y1 - y0) / (long or 1), y0 + t * (y1 - y0) + out * (x1 - x0) / (long or 1)]
            )
    return [[round(x, 3), round(y, 3)] for x, y in made]


def harder(document: Document, told: random.Random) -> dict[str, Document]:
    """Harder requests made of one, by what was done to it."""

    def change(work: Callable[[Document], None]) -> Document:
        made = copy.deepcopy(document)
        work(made)
        return made

    def more(made: Document) -> None:
        for piece in made["pieces"]:
            piece["count"] = min(200, piece["count"] * told.choice((4, 8)))

    def different(made: Document) -> None:
        pieces = []
        for piece in made["pieces"]:
            for n in range(min(40, piece["count"] * 8)):
                by = told.uniform(0.6, 0.99)
                pieces.append(
                    {
                        **piece,
                        "id": f"{piece['id']}-{n}",
                        "count": 1,
                        "outline": [[x * by, y * by] for x, y in piece["outline"]],
                    }
                )
        is_roll = made["cloth"]["kind"] == "roll"
        is_plain = not made["cloth"].get("repeat") and not made["cloth"].get("flaws")
        most = MOST_ON_PANELS if not is_roll else 600 if is_plain else MOST_MATCHED
        made["pieces"] = pieces[:most]

    def teeth(made: Document) -> None:
        for piece in made["pieces"]:
            piece["outline"] = toothed(piece["outline"], told)

    def any_turn(made: Document) -> None:
        for piece in made["pieces"]:
            piece["turns"], piece["flip"] = "any", True

    def repeats(made: Document) -> None:
        if made["cloth"]["kind"] == "roll":
            made["cloth"]["repeat"] = {
                "along": told.uniform(8, 30),
                "across": told.uniform(8, 30),
                "drop": 0.5,
                "origin": [0, 0],
            }
            for piece in made["pieces"]:
                xs, ys = [p[0] for p in piece["outline"]], [p[1] for p in piece["outline"]]
                piece["anchor"] = [(min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2]
                piece["match"] = {"along": True, "across": True}

    def flaws(made: Document) -> None:
        if made["cloth"]["kind"] == "roll":
            made["cloth"]["flaws"] = [
                [[x, y], [x + 9, y], [x + 9, y + 9], [x, y + 9]]
                for x, y in ((told.uniform(0, 9000), told.uniform(20, made["cloth"]["width"] - 40)) for _ in range(150))
            ]

    def strips(made: Document) -> None:
        made["strips"] = [
            {"id": f"w{n}", "width": told.uniform(4, 40), "total": 30_000, "join": 20, "shortest": told.uniform(300,
            1300),
             "directions": told.choice((["bias"], ["across", "bias"], ["along", "across"]))}
            for n in range(3)
        ]  # fmt: skip

    def everything(made: Document) -> None:
        for work in (different, any_turn, flaws, strips):
            work(made)
        made["pieces"] = made["pieces"][:MOST_MATCHED]

    return {
        work.__name__: change(work) for work in (more, different, teeth, any_turn, repeats, flaws, strips, everything)
    }


def timed(document: Document, seconds: float) -> tuple[float, str]:
    """Search one in a process of its own; how long it took in all its seconds, and what came out."""
    begun = time.monotonic()
    try:
        told = subprocess.run(
            [sys.executable, "-c", ONE, str(seconds)], input=json.dumps(document), capture_output=True, text=True,
            timeout=seconds + HANGS,
            check=False,
        )  # fmt: skip
        took, said = json.loads(told.stdout)
        return float(took), str(said)
    except subprocess.TimeoutExpired:
        return time.monotonic() - begun, "ended by force"
    except ValueError:
        lines = told.stderr.strip().splitlines()
        refused = bool(lines) and "BadInput" in lines[-1]
        return (
            (0.0, "refused: " + lines[-1][-90:])
            if refused
            else (math.inf, "FAULT: " + (lines[-1] if lines else "nothing said"))
        )


def main() -> None:
    """Run all and print what was over."""
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("cases", nargs="+", type=Path)
    asked.add_argument("--seconds", type=float, default=1.0)
    asked.add_argument("--rounds", type=int, default=1)
    asked.add_argument("--seed", type=int, default=1)
    asked.add_argument("--as-they-are", action="store_true", help="only the cases themselves")
    told = asked.parse_args()
    most, over, count = 1.2 * told.seconds + 2, 0, 0
    for path in told.cases:
        document = json.loads(path.read_text())
        if document.get("format") != "zonatome.lay-request":
            continue
        tried = {"as it is": document}
        if not told.as_they_are:
            for number in range(told.rounds):
                tried |= {
                    f"{k} {number}": d
                    for k, d in harder(document, random.Random(f"{told.seed} {number} {path.stem}")).items()
                }
        for name, made in tried.items():
            took, said = timed(made, told.seconds)
            count, over = count + 1, over + (took > most)
            print(f"{'OVER ' if took > most else '     '}{took:7.2f} s  {path.stem:28} {name:14} {said}", flush=True)
    print(f"{count} requests, {over} over {most:.1f} s")


if __name__ == "__main__":
    main()
