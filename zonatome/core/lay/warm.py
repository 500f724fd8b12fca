"""Compiling the search before anybody waits for it. What is compiled is kept beside the sources, so it is done once a machine."""

from __future__ import annotations

import time

import numpy as np

from zonatome.core.lay import scan
from zonatome.core.lay.panel_search import PanelSearcher
from zonatome.core.lay.request import Flaw, LayRequest, Panels, PieceAsk, Roll, StripAsk
from zonatome.core.lay.roll_search import RollSearcher
from zonatome.core.lay.search import easy_lay
from zonatome.core.lay.ways import Ways
from zonatome.core.outline import outline_of, rectangle

WORK = 3e6
LONGEST = 900.0  # seconds, on the slowest machine


def warm() -> None:
    """Lay two small requests that between them use every compiled function."""
    shape = outline_of([(0, 0), (300, 20), (280, 200), (150, 120), (10, 220)])
    pieces = (PieceAsk("a", shape, 3, (0.0, 180.0), True), PieceAsk("b", rectangle(200, 300), 2))
    on_roll = LayRequest(Roll(900), 3, pieces, (StripAsk("welt", 40, 900, 30, 200, ("along",)),))
    easy_lay(on_roll)
    until, going = time.monotonic() + LONGEST, np.zeros(1, dtype=np.int64)
    RollSearcher(Ways(on_roll), seed=1, work=WORK, until=until, stop=going).run()
    here = np.zeros(1)
    scan.nearest_free(Ways(on_roll).table, 0, 10.0, 10.0, 30.0, here, here, np.zeros(1, dtype=np.int64))
    panels = Panels((rectangle(900, 600),), (Flaw(0, rectangle(20, 20).moved(400, 300)),))
    on_panels = LayRequest(panels, 3, (*pieces, PieceAsk("c", rectangle(500, 500), 2)))
    PanelSearcher(Ways(on_panels), seed=1, work=WORK, until=until, stop=going).run()
