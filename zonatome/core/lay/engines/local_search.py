"""The project's own packing: whatever binds the pieces, on rolls and on panels.

Two searchers run side by side, on two cores.
"""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Iterator, Sequence
from queue import Empty
from typing import TypeVar

import numpy as np

from zonatome.core.arrays import Ints
from zonatome.core.lay.cancel import Cancelled, IsCancelled
from zonatome.core.lay.construct.bound_rows import laid
from zonatome.core.lay.engines.protocol import Found
from zonatome.core.lay.geometry.nesting_table import SLOW_TABLE, NestingTable, table_seconds
from zonatome.core.lay.request import LayRequest
from zonatome.core.lay.search.panels import PanelSearcher
from zonatome.core.lay.search.roll import RollSearcher
from zonatome.core.lay.search.searcher import KEPT, LOOK_UP, BestExchange, Searcher

SearcherT = TypeVar("SearcherT", bound=Searcher)

SEARCHERS = 2
TABLE_SHARE = 0.4  # of the time that the table of plain cloth may take: otherwise the packer has it all
WORK_A_SECOND = 36e6  # of one searcher beside another; a machine half as fast as ours still does it in time


class Nest:
    """The engine: two searchers in threads of their own, since the compiled search leaves Python free."""

    name = "nest"

    def takes(self, request: LayRequest) -> bool:
        """Take every request with something to place."""
        return bool(request.pieces)

    def search(
        self, request: LayRequest, *, seconds: float, seed: int, stopped: IsCancelled, effort: float = 0.0
    ) -> Iterator[Found | None]:
        """Yield every better lay as it is found, at the end the few best for their strips; see `Engine`."""
        begun = time.monotonic()
        if request.is_plain and table_seconds(request) > max(SLOW_TABLE, TABLE_SHARE * seconds):
            return  # the packer is done sooner
        try:
            ways = NestingTable(request, stopped=lambda: stopped() or time.monotonic() > begun + seconds)
        except Cancelled:
            return
        if not ways.items:
            yield request.pinned
            return
        stop = np.zeros(1, dtype=np.int64)
        exchange = BestExchange(SEARCHERS)
        kind = PanelSearcher if request.on_panels else RollSearcher
        searchers = [
            kind(
                ways,
                seed=seed * SEARCHERS + k,
                work=WORK_A_SECOND * (effort or seconds),
                until=begun + seconds,
                stop=stop,
                exchange=exchange,
            )
            for k in range(SEARCHERS)
        ]
        yield from watched(
            ways,
            searchers,
            lambda s: s.run(),
            stop=stop,
            stopped=lambda: stopped() or time.monotonic() > begun + seconds + LOOK_UP,
        )
        few = KEPT if request.strips or request.on_panels else 1  # without strips the shortest is the best
        for state in sorted((s for one in searchers for s in one.kept), key=lambda s: s.cost)[:few]:
            yield laid(ways, state.x, state.y, state.way)


def watched(
    ways: NestingTable,
    searchers: Sequence[SearcherT],
    run: Callable[[SearcherT], None],
    *,
    stop: Ints,
    stopped: IsCancelled,
) -> Iterator[Found | None]:
    """Run searchers in threads of their own; yield what is better than all before, None at times, until all are
    through or it is stopped.

    `stop` is the searchers' own: it is set at the end, and every thread is waited for.
    """
    threads = [threading.Thread(target=run, args=(s,), daemon=True) for s in searchers]
    for thread in threads:
        thread.start()
    least, running = np.inf, list(searchers)
    try:
        while running and not stopped():
            for searcher in list(running):
                try:
                    state = searcher.told.get(timeout=LOOK_UP / SEARCHERS)
                except Empty:
                    yield None
                    continue
                if state is None:
                    running.remove(searcher)
                elif state.cost < least:
                    least = state.cost
                    yield laid(ways, state.x, state.y, state.way)
    finally:
        stop[0] = 1
        for thread in threads:
            thread.join()
