"""How true a tracing is: photos with known outlines, or the stand-in camera's covers in every cloth on every table.

python bench/trace_photos.py [FOLDER]

FOLDER holds photos and a `truth.json` with `photos`: file, mat, expect, outline. Without it 100 photos of the stand-in
are traced. Prints the farthest and the mean distance either way in mm, the difference in area in per cent, seconds and
memory.
"""

from __future__ import annotations

import itertools
import json
import resource
import sys
import time
from collections.abc import Iterator
from pathlib import Path

import numpy as np
from shapely.geometry import Polygon

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))
from zonatome.core.errors import NoAnswer
from zonatome.core.trace.mat import Mat
from zonatome.core.trace.photo import read_photo, trace_photo
from zonatome.standins.bench_camera import CLOTHS, COVERS, TABLES, Shot, photograph

Points = list[tuple[float, float]]


def apart(got: Points, true: Points) -> tuple[float, float, float]:
    """Farthest and mean distance in mm, and the difference in area in per cent."""
    one, other = Polygon(got), Polygon(true)
    found = [
        there.exterior.distance(here.exterior.interpolate(k / 2))
        for here, there in ((one, other), (other, one))
        for k in range(int(here.exterior.length * 2))
    ]
    return max(found), float(np.mean(found)), abs(one.area - other.area) / other.area * 100


def cases(folder: Path | None) -> Iterator[tuple[str, bytes, Mat, Points | None]]:
    """Photos with what is true of them; nothing where no answer is right."""
    if folder:
        for photo in json.loads((folder / "truth.json").read_text())["photos"]:
            yield photo["file"], (folder / photo["file"]).read_bytes(), Mat(*photo["mat"]), photo["outline"]
        return
    for n, (cover, cloth, table) in enumerate(itertools.product(COVERS, CLOTHS, TABLES)):
        shot = Shot(cover, cloth, table, tilt=n * 7 % 24, roll=n % 7 - 3, turn=n * 13 % 40 - 20,
        lens=(n % 5 - 2) * 0.005,
                    light=n % 3 / 3, shadow=n % 4 == 0, frayed=n % 5 == 0, hole=n % 3 == 0, seed=n)  # fmt: skip
        content, true = photograph(shot, Mat(1200, 800))
        yield f"{cover}, {cloth}, {table}{', frayed' if shot.frayed else ''}", content, Mat(1200, 800), list(true)


def main() -> None:
    """Trace them all and print how far each is out."""
    told = []
    for name, content, mat, true in cases(Path(sys.argv[1]) if len(sys.argv) > 1 else None):
        begun = time.perf_counter()
        try:
            traced = trace_photo(read_photo(content), mat)
        except NoAnswer as refusal:
            print(f"{name}: {'right, ' if true is None else ''}no answer: {refusal}")
            continue
        took = time.perf_counter() - begun
        if true is None:
            print(f"{name}: traced, where there is no answer")
            continue
        told.append(apart(list(traced.outline.points), true))
        print(f"{name}: farthest {told[-1][0]:.2f} mm, mean {told[-1][1]:.3f}, area {told[-1][2]:.3f} %, {took:.2f} s")
    far, mean, area = (np.array([t[k] for t in told]) for k in range(3))
    print(
        f"{len(told)} traced; farthest > 2 mm: {(far > 2).sum()}, mean > 0.3: {(mean > 0.3).sum()}, area > 0.3 %: "
        f"{(area > 0.3).sum()}"
    )
    print(f"{resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB")


if __name__ == "__main__":
    main()
