"""From a request to a lay: rows at once, then better ones for as long as one watches."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from dataclasses import replace

from zonatome.core.lay.bound import length_bound
from zonatome.core.lay.check import faults
from zonatome.core.lay.engine import Engine, Stopped
from zonatome.core.lay.packing import Packing
from zonatome.core.lay.request import Lay, LayRequest, Placement
from zonatome.core.lay.rows import rows_lay, unfit_pieces
from zonatome.core.lay.slide import slid
from zonatome.core.lay.strips import lay_strips

ENGINES: tuple[Engine, ...] = (Packing(),)
EVERY = 1.0  # seconds between two packings that are finished with strips and checks while the search goes on
SHORTER = 0.05  # mm by which a lay must be shorter to be called better

Report = Callable[[Lay], None]


def _nothing(_: Lay) -> None:
    return None


def _never() -> bool:
    return False


def easy_lay(request: LayRequest) -> Lay:
    """Return the lay in straight rows: easy to cut, and on screen within a second of asking."""
    return _finished(request, rows_lay(request), started=time.monotonic(), method="rows")


def search_lay(
    request: LayRequest,
    *,
    seconds: float = 10.0,
    seed: int = 1,
    report: Report = _nothing,
    stopped: Stopped = _never,
    engines: Sequence[Engine] = ENGINES,
) -> Lay:
    """Return the shortest lay found in about `seconds`.

    `report` is called with the lay in rows first and then with every better one; `stopped` is asked a few
    times a second. Pieces wider than the cloth in every turn are listed in `unplaced`. Every lay is checked
    against the request before it counts, and the best is never worse than the rows.
    """
    started = time.monotonic()
    until = started + seconds
    best = easy_lay(request)
    report(best)
    fits = _without_unfit(request)

    def take(found: Sequence[Placement], method: str) -> None:
        nonlocal best
        lay = _finished(request, slid(fits, found), started=started, method=method)
        if lay.length < best.length - SHORTER and not faults(request, lay):
            best = lay
            report(best)

    for engine in engines:
        left = until - time.monotonic()
        if left <= 0 or not engine.takes(fits):
            continue
        newest: tuple[Placement, ...] | None = None
        looked = 0.0  # when a packing was last finished: that takes time from the engine, so it is not done for every one
        for found in engine.search(fits, seconds=left, seed=seed, stopped=stopped):
            newest = found or newest
            if newest is not None and time.monotonic() - looked > EVERY:
                begun = time.monotonic()
                take(newest, engine.name)
                looked = time.monotonic() + 4 * (time.monotonic() - begun)
                newest = None
        if newest is not None:
            take(newest, engine.name)
    if not stopped():
        take(rows_lay(fits), "rows, slid")
    return best


def _without_unfit(request: LayRequest) -> LayRequest:
    unfit = {p.id for p in unfit_pieces(request)}
    return replace(request, pieces=tuple(p for p in request.pieces if p.id not in unfit)) if unfit else request


def _finished(request: LayRequest, placements: Sequence[Placement], *, started: float, method: str) -> Lay:
    """Strips into what is left, and the figures."""
    fits = _without_unfit(request)
    strips = lay_strips(fits, placements)
    outlines = [p.on_cloth(request.by_id[p.piece]) for p in placements] + [s.outline for s in strips]
    length = max((o.bounds[2] for o in outlines), default=0.0)
    area = sum(o.area for o in outlines)
    laid_ids = {p.id for p in fits.pieces}
    unplaced = tuple((p.id, p.count) for p in request.pieces if p.id not in laid_ids)
    return Lay(
        length=length,
        used=area / (length * request.roll.usable) if length else 0.0,
        bound=min(length, length_bound(fits)),
        seconds=time.monotonic() - started,
        placements=tuple(placements),
        strips=strips,
        unplaced=unplaced,
        method=method,
    )
