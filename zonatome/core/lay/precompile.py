"""Compiling the search before anybody waits for it.

What is compiled is kept beside the sources, so it is done once a machine.
"""

from __future__ import annotations

import time
from dataclasses import replace

import numpy as np

from zonatome.core.lay.bounds.repeat import repeat_bound
from zonatome.core.lay.geometry.nesting_table import NestingTable
from zonatome.core.lay.kernel.figures import widest_stretch
from zonatome.core.lay.kernel.nearest import Wanted, nearest_free
from zonatome.core.lay.kernel.periods import on_repeat
from zonatome.core.lay.kernel.tables import Lying
from zonatome.core.lay.lay import easy_lay, search_lay
from zonatome.core.lay.request import Flaw, LayRequest, Panels, PieceAsk, Repeat, Roll, StripAsk
from zonatome.core.lay.search.panels import PanelSearcher
from zonatome.core.lay.search.roll import RollSearcher
from zonatome.core.outline import outline_of, rectangle

WORK = 3e6
SEARCHED = 1.0  # seconds, each
LONGEST_BOUND = 2000.0  # mm, of a roll that holds them
LONGEST = 900.0  # seconds, on the slowest machine


def precompile() -> None:
    """Lay small requests that between them use every compiled function in every way: what is left out compiles while
    somebody waits.

    All numbers are floats, as those of a request that was read: a function that is called with a whole number is
    compiled once more.
    """
    shape = outline_of([(0.0, 0.0), (300.0, 20.0), (280.0, 200.0), (150.0, 120.0), (10.0, 220.0)])
    pieces = (PieceAsk("a", shape, 3, (0.0, 180.0), True), PieceAsk("b", rectangle(200.0, 300.0), 2))
    on_roll = LayRequest(Roll(900.0), 3.0, pieces, (StripAsk("welt", 40.0, 900.0, 30.0, 200.0, ("along",)),))
    easy_lay(on_roll)
    until, going = time.monotonic() + LONGEST, np.zeros(1, dtype=np.int64)
    RollSearcher(NestingTable(on_roll), seed=1, work=WORK, until=until, stop=going).run()
    here = np.zeros(1)
    nearest_free(
        NestingTable(on_roll).table, Wanted(0, 10.0, 10.0, 30.0), Lying(here, here, np.zeros(1, dtype=np.int64))
    )
    widest_stretch(NestingTable(on_roll).table, 0, 10.0, 0)
    on_repeat(NestingTable(on_roll).table, np.zeros(1, dtype=np.int64), 10.0)  # a slow search may not come to it
    panels = Panels((rectangle(900.0, 600.0),), (Flaw(0, rectangle(20.0, 20.0).moved(400.0, 300.0)),))
    on_panels = LayRequest(panels, 3.0, (*pieces, PieceAsk("c", rectangle(500.0, 500.0), 2)))
    PanelSearcher(NestingTable(on_panels), seed=1, work=WORK, until=until, stop=going).run()
    seats = tuple(replace(p, count=6, turns=(0.0, 180.0), flip=False) for p in pieces)
    welt = StripAsk("welt", 38.0, 9000.0, 30.0, 300.0, ("across", "bias"))
    matched = PieceAsk(
        "m", rectangle(310.0, 280.0), 4, (0.0,), anchor=(155.0, 140.0), match_along=True, match_across=True
    )
    repeated = LayRequest(Roll(1400.0, (12.0, 12.0), Repeat(320.0, 230.0)), 3.0, (matched,))
    repeat_bound(NestingTable(repeated), LONGEST_BOUND, effort=0.1)
    striped = replace(matched, id="s", match_along=False)
    for request in (
        LayRequest(Roll(1400.0, (12.0, 12.0)), 3.0, seats, (welt,)),
        LayRequest(Roll(1400.0, (12.0, 12.0)), 0.0, seats),
        LayRequest(Roll(1400.0, (12.0, 12.0), Repeat(320.0, 230.0, 0.5)), 3.0, (matched, *seats)),
        LayRequest(Roll(1400.0, (12.0, 12.0), Repeat(None, 90.0)), 3.0, (striped, *seats)),
        replace(on_panels, strips=(welt,)),
    ):
        search_lay(request, seconds=SEARCHED)
