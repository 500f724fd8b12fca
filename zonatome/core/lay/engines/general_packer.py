"""General strip packing for plain cloth, by spyrrow behind our own interface.

The pieces go to the packer grown by half the gap, on a strip wider by the gap: so the gap is kept between
pieces and none is lost to the selvages. The packer knows no mirror images and may overrun its time; it is
ended when the time is up.
"""

from __future__ import annotations

import itertools
import json
import math
import subprocess
import sys
import threading
import time
from collections import Counter
from collections.abc import Iterator
from queue import Empty, SimpleQueue
from typing import Any

from zonatome.core.lay.cancel import Cancelled, IsCancelled
from zonatome.core.lay.geometry.nesting_table import SLOW_TABLE, NestingTable, table_seconds
from zonatome.core.lay.geometry.slide import slid
from zonatome.core.lay.request import LayRequest, PieceAsk, Placement
from zonatome.core.lay.search.compaction import Compactor
from zonatome.core.outline import degrees_apart

CLEAR = 0.012  # mm added all round, above the packer's own rounding
MITRE = 2.0
LOOK_UP = 0.2  # seconds
WORKERS = 2
PATIENCE = 0.3  # share of the time without a better packing after which the search is begun anew
NEXT_SEED = 1000
LEAST_SECONDS = 2
MOST_RENEWED = 60  # pieces, up to which a search that stands still is begun anew
EVERY = 3.0  # seconds between packings of many pieces that are told: checking them takes time from the packer
PRESS_SHARE = 0.3  # of the time, that the press's table may take
PRESSING = 0.4  # seconds at the end, for the press


class Packing:
    """Spyrrow in a process of its own; a search that stands still is begun anew with another seed, the best is kept."""

    name = "packing"

    def takes(self, request: LayRequest) -> bool:
        """Take plain cloth where a piece may take any turn whatever, or for so many different pieces that the own
        table takes seconds.

        It turns by less than the project's own engine, and needs no table.
        """
        if not request.pieces or not request.is_plain:
            return False
        return any(p.turns is None for p in request.pieces) or table_seconds(request) > SLOW_TABLE

    def search(
        self,
        request: LayRequest,
        *,
        seconds: float,
        seed: int,
        stopped: IsCancelled,
        effort: float = 0.0,  # noqa: ARG002 its child takes seconds
    ) -> Iterator[tuple[Placement, ...] | None]:
        """Yield every better packing as it is found; see `Engine`."""
        until = time.monotonic() + seconds - PRESSING * (seconds > 2 * PRESSING)
        many = request.piece_count > MOST_RENEWED
        may_press = all(p.turns is not None for p in request.pieces)
        press = _press(request, until - (1 - PRESS_SHARE) * seconds, stopped) if may_press else None
        least, best, next_told = math.inf, None, 0.0
        for again in itertools.count():
            left = until - time.monotonic()
            if left < LEAST_SECONDS * (again > 0) or stopped():
                break
            renewed = left > (1 + PATIENCE) * PATIENCE * seconds and not many
            patience = PATIENCE * seconds if renewed else math.inf
            for packed in self._one(request, left, seed=seed + again * NEXT_SEED, patience=patience, stopped=stopped):
                if packed is None:
                    yield None
                elif packed["width"] < least:
                    least, best = packed["width"], _placements(request, packed)
                    if time.monotonic() >= next_told:
                        yield best if many else slid(request, best)
                        next_told = time.monotonic() + EVERY * many
        if best is None or stopped():
            return
        yield (press.of_placements(best) if press else None) or slid(request, best)

    def _one(
        self, request: LayRequest, seconds: float, *, seed: int, patience: float, stopped: IsCancelled
    ) -> Iterator[dict[str, Any] | None]:
        """One search in one child: its packings as they come, None now and then, until time or patience is out."""
        until = moved = time.monotonic()
        until += seconds
        lines: SimpleQueue[str | None] = SimpleQueue()
        child = _started(_asked(request, seconds, seed=seed), lines)
        try:
            while time.monotonic() < until and time.monotonic() - moved < patience and not stopped():
                try:
                    line = lines.get(timeout=max(0.01, min(LOOK_UP, until - time.monotonic())))
                except Empty:
                    yield None
                    continue
                line, last = _latest(line, lines)
                moved = time.monotonic()
                if line is not None:
                    yield json.loads(line)
                if last:
                    return
            line, _ = _latest(None, lines)
            if line is not None:
                yield json.loads(line)  # found while the one before was being looked at
        finally:
            child.kill()
            child.wait()
            for end in (child.stdin, child.stdout):
                if end is not None:
                    end.close()


def _press(request: LayRequest, until: float, stopped: IsCancelled) -> Compactor | None:
    """The press of what the packer finds; None where its table is not worked out in time."""
    try:
        table = NestingTable(request, pairs="none", stopped=lambda: stopped() or time.monotonic() > until)
    except Cancelled:
        return None
    return Compactor(table)


def _latest(line: str | None, lines: SimpleQueue[str | None]) -> tuple[str | None, bool]:
    """The newest of a line and of those that wait behind it, each better than the one before; and whether the child
    has ended.
    """
    waiting = [line]
    while not lines.empty():
        waiting.append(lines.get_nowait())
    told = [w for w in waiting if w is not None]
    return (told[-1] if told else None), waiting[-1] is None


def _pump(source: Any, lines: SimpleQueue[str | None]) -> None:
    try:
        for line in source:
            lines.put(line)
    except ValueError:
        pass  # closed under the reader's hands: the search is over
    lines.put(None)


def _started(asked: dict[str, Any], lines: SimpleQueue[str | None]) -> subprocess.Popen[str]:
    """A child that has been asked, its lines going into the queue, and None when it ends."""
    child = subprocess.Popen(
        [sys.executable, "-m", "zonatome.core.lay.engines.packer_child"],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
        text=True,
    )
    assert child.stdin is not None
    threading.Thread(target=_pump, args=(child.stdout, lines), daemon=True).start()
    child.stdin.write(json.dumps(asked) + "\n")
    child.stdin.flush()
    return child


def _asked(request: LayRequest, seconds: float, *, seed: int) -> dict[str, Any]:
    return {
        "height": request.roll.usable + request.gap + 2 * _clear(request.gap),
        "seconds": max(LEAST_SECONDS, int(seconds)),
        "workers": WORKERS,
        "seed": seed,
        "items": [
            {"id": str(n), "points": _grown(p, request.gap), "count": p.count, "turns": p.turns and list(p.turns)}
            for n, p in enumerate(request.pieces)
        ],
    }


def _clear(gap: float) -> float:
    """What is added all round; nothing where no gap is asked for, so that pieces that fill the width to the millimetre
    still do.
    """
    return CLEAR if gap else 0.0


def _grown(piece: PieceAsk, gap: float) -> list[list[float]]:
    if not gap:
        return [[x, y] for x, y in piece.outline.points]
    grown = piece.outline.polygon.buffer(gap / 2 + CLEAR, join_style="mitre", mitre_limit=MITRE)
    return [[x, y] for x, y in grown.exterior.coords[:-1]]


def _placements(request: LayRequest, packed: dict[str, Any]) -> tuple[Placement, ...]:
    """Back from the packer's strip to the cloth, its first piece against the squared end."""
    copies: Counter[str] = Counter()
    raw = []
    for number, x, y, turn in packed["placed"]:
        piece = request.pieces[int(number)]
        copies[piece.id] += 1
        across = y + request.roll.low - request.gap / 2 - _clear(request.gap)
        raw.append(Placement(piece.id, copies[piece.id], x, across, _snapped(turn, piece)))
    ends = [p.on_cloth(request.by_id[p.piece]).bounds for p in raw]
    first, low, high = min(b[0] for b in ends), min(b[1] for b in ends), max(b[3] for b in ends)
    down = max(0.0, high - request.roll.high) - max(0.0, request.roll.low - low)
    return tuple(Placement(p.piece, p.copy, p.x - first, p.y - down, p.turn_degrees) for p in raw)


def _snapped(turn: float, piece: PieceAsk) -> float:
    """The allowed turn that the packer meant; its own arithmetic is in single precision."""
    if piece.turns is None:
        return round(turn, 4) % 360
    return min(piece.turns, key=lambda t: degrees_apart(turn, t))
