"""Every case of a folder: our lay, the independent check, and the packer alone, in one run.

    python bench/lay_cases.py FOLDER [--seconds 10] [--seed 1] [--alone] [NAME ...]

FOLDER holds lay requests as JSON, and may hold `reference-11.json`, `known.json` and `verify.py`. `--alone` also gives
the general packer its ten seconds on every roll of plain cloth, right before ours. Run it on a quiet machine of two
cores.
"""

from __future__ import annotations

import argparse
import importlib.util
import json
import sys
import time
from pathlib import Path
from types import ModuleType
from typing import Any

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from bench.lay_speed import packer_alone
from zonatome.core.formats.lay_json import read_request, write_lay
from zonatome.core.lay.lay import search_lay
from zonatome.core.lay.prepare import prepare


def _loaded(path: Path) -> dict[str, Any]:
    return json.loads(path.read_text()) if path.exists() else {}


def _verifier(folder: Path) -> ModuleType | None:
    path = folder / "verify.py"
    if not path.exists():
        return None
    spec = importlib.util.spec_from_file_location("verify", path)
    if spec is None or spec.loader is None:
        return None
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    return module


def main() -> None:
    """Measure and print one line a case."""
    parser = argparse.ArgumentParser()
    parser.add_argument("folder", type=Path)
    parser.add_argument("names", nargs="*")
    parser.add_argument("--seconds", type=float, default=10.0)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--alone", action="store_true")
    asked = parser.parse_args()
    prepare()
    reference, known, verifier = (
        _loaded(asked.folder / "reference-11.json"),
        _loaded(asked.folder / "known.json"),
        _verifier(asked.folder),
    )
    print(
        f"{'case':24} {'first s':>8} {'alone':>9} {'ours':>9} {'ratio':>7} {'ref':>9} {'ratio':>7} {'bound':>9} "
        f"{'used':>6}  found by"
    )
    for path in sorted(asked.folder.glob("*.json")):
        data = _loaded(path)
        if data.get("format") != "zonatome.lay-request" or (asked.names and path.stem not in asked.names):
            continue
        request = read_request(data)
        told = reference.get(path.stem, {})
        alone = (
            packer_alone(request, seconds=int(asked.seconds), seed=asked.seed)
            if asked.alone and request.is_plain
            else 0.0
        )
        firsts: list[float] = []
        begun = time.perf_counter()

        def note(_: object, firsts: list[float] = firsts, begun: float = begun) -> None:
            firsts.append(time.perf_counter() - begun)

        lay = search_lay(request, seconds=asked.seconds, seed=asked.seed, report=note)
        wrong = verifier.check(data, write_lay(lay)) if verifier else []
        best = known.get(path.stem, {}).get("optimum") or told.get("best_length") or 0.0
        missing = f", {sum(c for _, c in lay.unplaced)} left out" if lay.unplaced else ""
        print(
            f"{path.stem:24} {firsts[0]:8.2f} {alone:9.1f} {lay.length:9.1f} "
            f"{lay.length / alone if alone else 0:7.4f} {best:9.1f} "
            f"{lay.length / best if best else 0:7.4f} {lay.bound:9.1f} {lay.used:6.3f}  {lay.method}{missing} "
            f"{wrong[:2] or 'checked'}",
            flush=True,
        )


if __name__ == "__main__":
    main()
