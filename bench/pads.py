"""How long pads take: a stack worked out and drawn while a figure is dragged, foam of a six-chair set nested.

python bench/pads.py
"""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from dataclasses import replace

from zonatome.core.outline import outline_of, rectangle
from zonatome.core.pad.nest import FoamPiece, nest_foam
from zonatome.core.pad.section import section
from zonatome.core.pad.stack import Frame, Stack
from zonatome.core.pad.usual import pads_of, role_of, usual_stacks
from zonatome.core.pad.worked import worked
from zonatome.core.survey.kinds import KINDS


def seconds(work: Callable[[int], object], times: int = 15) -> tuple[float, float]:
    """Median and longest of a piece of work, which is told how often it was done before so that nothing is kept."""
    took = []
    for n in range(times):
        begun = time.perf_counter()
        work(n)
        took.append(time.perf_counter() - begun)
    return statistics.median(took), max(took)


def drawn(n: int) -> None:
    """A wing chair's seat on springs, its foam another millimetre thick."""
    kind = KINDS["wing"]
    part = pads_of(kind)[0]
    usual = usual_stacks(kind, part)[0].stack
    layers = tuple(replace(one, thickness=40 + n) if one.sort == "foam" else one for one in usual.layers)
    frame = Frame(rectangle(600, 580), 60, usual.rail)
    stack = Stack(layers, rail=usual.rail)
    worked(stack, frame, role=role_of(kind, part) or "seat")
    section(stack, frame)


def six_chairs(n: int) -> None:
    """Seats and backs of six chairs, none of a size that was nested before."""
    more = n / 10
    seat = outline_of([(0, 0), (450 + more, 0), (425, 430), (25, 430)])
    pieces = [
        FoamPiece("Seat", seat, 6, "firm", 50.0),
        FoamPiece("Inside back", rectangle(430 + more, 330), 6, "soft", 40.0, "back"),
        FoamPiece("Arm pad", rectangle(110 + more, 300), 12, "firm", 20.0, "arm pad"),
    ]
    nest_foam(pieces)


if __name__ == "__main__":
    nest_foam([FoamPiece("warm", rectangle(500, 400), 1, "firm", 50.0)])
    for name, work in (("a stack worked out and drawn", drawn), ("foam of six chairs nested", six_chairs)):
        median, longest = seconds(work)
        print(f"{name:32} median {median * 1000:6.0f} ms  longest {longest * 1000:6.0f} ms")
