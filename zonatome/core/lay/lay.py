"""From a request to a lay: one at once, then better ones for as long as one watches."""

from __future__ import annotations

import math
import threading
import time
from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from zonatome.core.errors import BadInput
from zonatome.core.lay.bounds.length import length_bound
from zonatome.core.lay.cancel import IsCancelled, SolverStop, never_cancelled
from zonatome.core.lay.check import examined, faults
from zonatome.core.lay.construct.bound_rows import by_size, in_rows
from zonatome.core.lay.construct.rows import rows_lay
from zonatome.core.lay.construct.strips import Allowance, TooLate, lay_strips, longest_strip, strips_behind
from zonatome.core.lay.engines.general_packer import Packing
from zonatome.core.lay.engines.local_search import Nest
from zonatome.core.lay.engines.protocol import Engine, Found
from zonatome.core.lay.engines.with_strips import may_move, moved_together
from zonatome.core.lay.geometry.nesting_table import NestingTable, Pairs, table_seconds
from zonatome.core.lay.ranking import better, is_shortest
from zonatome.core.lay.request import Lay, LayRequest, Placement, StripCut, whole_area

ENGINES: tuple[Engine, ...] = (Nest(), Packing())
EVERY = 0.1  # seconds between two lays that are finished while the search goes on
CALM = 4.0  # and as long as the last one took, so often
MOST_BY_SIZE = 300  # pieces that are laid by size before the search begins; of more that would take seconds
NOT_AT_ONCE = 0.3  # seconds for a table that the first lay does not wait for
STRIPS_AT_ONCE = 60e6  # corners to look at for strips among the rows: where it takes more they are cut behind them
MOST_FINISHED = 16  # lays whose strips are laid at the end
FEW_FINISHED = 6  # where pieces and strips are moved then
BEFORE = 0.2  # of the time, at the most, that an engine asked before another takes of the other's
LATER = 1.2  # of the time asked for, after which with LATEST no more strips are laid
LATEST = 0.5  # seconds
AT_ONCE = 0.15  # seconds that the end of a proof is waited for when one is stopped
BY_ITSELF = 5.0  # seconds that it is waited for when the time is up
SEARCHING = 0.85  # of the time, where strips must still be laid at the end

PIECES_ALONE = 0.5  # of the time, for the pieces, where strips may be moved too
TOGETHER = 0.45  # of the time, for both
ROUNDS = 3
SHORT = 0.1  # mm
MOST_FLIPPED = 150  # different pieces of plain cloth that may be turned over: of more the first lay does without that
MOST_PROVEN = 60  # different pieces
MOST_PLACES = (
    20_000  # places of a repeat, times the pieces: what has more is not proven, a small repeat binds hardly anything
)

Aim = Literal["tight", "easy"]
Strips = tuple[tuple[StripCut, ...], tuple[tuple[str, float], ...]]
Report = Callable[[Lay], None]


def _nothing(_: Lay) -> None:
    return None


@dataclass(frozen=True)
class FeasibleRequest:
    """A request without what fits its cloth nowhere, and what that is."""

    whole: LayRequest
    fits: LayRequest
    unfit: tuple[tuple[str, int], ...]
    first_ways: NestingTable | None  # each piece in its first turn that fits; None where rows do without


def feasible_part(request: LayRequest) -> FeasibleRequest:
    """Return the request ready to be laid.

    Raises BadInput where a pinned piece can't lie where it was pinned, or a strip nowhere.
    """
    wrong = pin_faults(request)
    if wrong:
        raise BadInput("pinned", wrong[0], "pinned pieces that may lie where they are")
    if not request.on_panels:
        for number, strip in enumerate(request.strips):
            longest = longest_strip(request.roll, strip)
            if strip.shortest > longest + SHORT or strip.width > request.roll.usable:
                directions = " or ".join(dict.fromkeys(strip.directions))
                lies = f"at most {longest:.0f} mm: no strip {strip.width:g} mm wide is longer here, {directions}"
                raise BadInput(f"strips[{number}].shortest", strip.shortest, lies)
    rows_do = request.is_plain and (not any(p.flip for p in request.pieces) or len(request.pieces) > MOST_FLIPPED)
    ways = None if rows_do else _first_ways(request)
    unfit = dict(ways.unfit) if ways else {p.id: p.count for p in request.pieces if not _fits_across(request, p.id)}
    fits = replace(request, pieces=tuple(p for p in request.pieces if p.id not in unfit)) if unfit else request
    return FeasibleRequest(request, fits, tuple(unfit.items()), _first_ways(fits) if unfit and ways else ways)


def _first_ways(request: LayRequest) -> NestingTable:
    """Each piece in its first turn, of very many different ones with eight sides: the first lay is wanted at once."""
    pairs: Pairs = "eight-sided" if table_seconds(request, first_turn_only=True) > NOT_AT_ONCE else "whole"
    return NestingTable(request, first_turn_only=True, pairs=pairs)


def _fits_across(request: LayRequest, piece_id: str) -> bool:
    piece = request.by_id[piece_id]
    return any(piece.outline.turned(turn).height <= request.roll.usable + 1e-6 for turn in piece.tried_turns)


def pin_faults(request: LayRequest) -> list[str]:
    """Return what is wrong with the pinned pieces by themselves, a sentence each."""
    if not request.pinned:
        return []
    counts = Counter(p.piece for p in request.pinned)
    rest = tuple((p.id, p.count - counts[p.id]) for p in request.pieces)
    alone = replace(request, strips=())
    return [
        f.words for f in examined(alone, Lay(0, 0, 0, 0, request.pinned, unplaced=rest, on_panels=request.on_panels))
    ]


def off_the_motif(request: LayRequest) -> tuple[str, ...]:
    """Return the pieces that are narrow enough for the roll and fit it nowhere with their anchor on the repeat."""
    if not any(any(p.bound(request.repeat)) for p in request.pieces):
        return ()
    return tuple(piece for piece, _ in NestingTable(request, first_turn_only=True, pairs="none").unfit)


def easy_lay(request: LayRequest) -> Lay:
    """Return the lay in straight rows: easy to cut, and on screen within a second of asking."""
    ask = feasible_part(request)
    lay = _easy(ask, time.monotonic())
    return lay if request.on_panels else replace(lay, bound=min(lay.length, length_bound(ask.fits)))


def _easy(ask: FeasibleRequest, started: float) -> Lay:
    placements = in_rows(ask.first_ways) if ask.first_ways else rows_lay(ask.fits)
    try:
        cut = lay_strips(ask.fits, placements, allowed=Allowance(work=STRIPS_AT_ONCE))
    except TooLate:
        cut = strips_behind(ask.fits, placements)
    lay = _finished(ask, placements, started=started, method="rows", bound=0.0, cut=cut)
    wrong = faults(ask.whole, lay)
    if wrong:
        raise AssertionError(f"a lay in rows that may not be cut: {wrong[0]}")
    return lay


def search_lay(
    request: LayRequest,
    *,
    seconds: float = 10.0,
    seed: int = 1,
    report: Report = _nothing,
    stopped: IsCancelled = never_cancelled,
    engines: Sequence[Engine] = ENGINES,
) -> Lay:
    """Return the best lay found in about `seconds`: the shortest on a roll, on panels the one that leaves out least.

    `report` is called with the lay in rows first and then with every better one; `stopped` is asked a few
    times a second. Pieces that fit the cloth in no turn, and on panels those that find no room, are listed in
    `unplaced`. Every lay is checked against the request before it counts, and the best is never worse than
    the rows. The same seed gives the same lay, unless a piece may take any turn whatever, pieces are very many and all
    different, or the machine is slow.
    """
    started = time.monotonic()
    ask = feasible_part(request)
    lay_search = LaySearch(ask, started, report)
    lay_search.latest = started + LATER * seconds + LATEST
    if ask.first_ways and len(ask.first_ways.items) <= MOST_BY_SIZE:
        lay_search.take(by_size(ask.first_ways), "by size")
    if stopped():
        return lay_search.ended()
    bounding = lay_search.bounding(seconds)
    takers = [e for e in engines if e.takes(ask.fits)]
    moving = may_move(ask.fits, lay_search.best, seconds=seconds)
    alone = PIECES_ALONE * seconds if moving else seconds
    for number, engine in enumerate(takers):
        share = (started + alone - time.monotonic()) / (len(takers) - number)
        effort = alone * (1.0 - BEFORE * number) / (len(takers) - number)
        if share > 0 and not lay_search.is_shortest:
            finish = (FEW_FINISHED, started + seconds) if moving else (MOST_FINISHED, time.monotonic() + share)
            lay_search.follow(engine, seconds=share, effort=effort, seed=seed, stopped=stopped, finish=finish)
    if moving:
        lay_search.move_strips_too(until=started + seconds, effort=TOGETHER * seconds, seed=seed, stopped=stopped)
    if bounding:
        bounding.join(timeout=max(0.0, started + seconds - time.monotonic()) if not stopped() else 0.0)
        lay_search.halt_proof(bounding, AT_ONCE if stopped() else BY_ITSELF)
    return lay_search.ended()


def finished(
    ask: FeasibleRequest, placements: Sequence[Placement], *, method: str, strips: Sequence[StripCut] = ()
) -> Lay:
    """Return the lay that placements make: strips as given, or else in what they leave, figures, the bound.

    It is not checked.
    """
    bound = 0.0 if ask.fits.on_panels else length_bound(ask.fits)
    return _finished(
        ask,
        placements,
        started=time.monotonic(),
        method=method,
        bound=bound,
        cut=(tuple(strips), ()) if strips else None,
    )


class LaySearch:
    """The best lay so far, and what is done with each that an engine finds."""

    def __init__(self, ask: FeasibleRequest, started: float, report: Report) -> None:
        """Begin with the lay in rows."""
        self.ask, self.started, self.report, self.halt = ask, started, report, SolverStop()
        self.latest = math.inf  # the moment after which no more strips are laid
        self.bound = 0.0 if ask.fits.on_panels else length_bound(ask.fits)
        self.best = replace(_easy(ask, started), bound=self.bound)
        self.searched: Lay | None = None  # the best at the end of an engine; rows may still be better with their strips
        self.report(self._told())

    def take(self, found: Found, method: str) -> Lay | None:
        """Finish a lay with strips and figures, check it, and keep it if it is better; None where it is too late."""
        try:
            lay = self._laid(found, method, None)
        except TooLate:
            return None
        self._consider(lay)
        return lay

    def _laid(self, found: Found, method: str, strips: Strips | None) -> Lay:
        ask, started, bound = self.ask, self.started, self.bound
        return _finished(ask, found, started=started, method=method, bound=bound, cut=strips, until=self.latest)

    def _consider(self, lay: Lay) -> None:
        if better(self.ask.whole, lay, self.best) and not faults(self.ask.whole, lay):
            self.best = lay
            self.report(self._told())

    def follow(
        self,
        engine: Engine,
        *,
        seconds: float,
        effort: float,
        seed: int,
        stopped: IsCancelled,
        finish: tuple[int, float],
    ) -> None:
        """Take what an engine finds until it ends. Where strips make finishing slow, one a moment, and at the end the
        best few.

        `finish` is how many those are, and the moment on the monotonic clock until which there are more of them. A
        roll a little longer for its pieces alone can be the shorter one with its strips.
        """
        waiting: list[Found] = []
        looked = 0.0
        most, until = finish
        part = SEARCHING if self.ask.fits.strips else 1.0
        for found in engine.search(
            self.ask.fits, seconds=part * seconds, seed=seed, stopped=stopped, effort=part * effort
        ):
            if found is not None and found not in waiting:
                waiting.append(found)
            if self.is_shortest:
                return
            if waiting and (not self.ask.fits.strips or time.monotonic() - looked > EVERY):
                begun = time.monotonic()
                self.take(waiting.pop(0), engine.name)
                looked = time.monotonic() + CALM * (time.monotonic() - begun)
        for number, found in enumerate(sorted(waiting, key=self._extent)[: most if self.ask.fits.strips else None]):
            if number and (stopped() or time.monotonic() > until):
                break
            lay = self.take(found, engine.name)
            if lay is not None and (self.searched is None or lay.length < self.searched.length):
                self.searched = lay

    def move_strips_too(self, *, until: float, effort: float, seed: int, stopped: IsCancelled) -> None:
        """Move pieces and strips together, in rounds; after each the strips are cut anew from what is left.

        The first round begins with what the search found, although rows may be the shorter lay by then: they leave
        less to move.
        """
        for number in range(ROUNDS):
            left = (until - time.monotonic()) / (ROUNDS - number)
            if left <= 0 or stopped() or self.is_shortest:
                return
            begin = self.searched if number == 0 and self.searched else self.best
            for found in moved_together(
                self.ask.fits, begin, seconds=left, effort=effort / ROUNDS, seed=seed + ROUNDS * number, stopped=stopped
            ):
                if found is not None:
                    self._consider(self._laid(found.placements, begin.method, (found.strips, ())))
            if not stopped():
                self.take(self.best.placements, begin.method)

    def _extent(self, found: Found) -> float:
        return max((p.on_cloth(self.ask.fits.by_id[p.piece]).bounds[2] for p in found), default=0.0)

    def bounding(self, seconds: float) -> threading.Thread | None:
        """A thread that proves what the repeat proves, where there is one."""
        ways = self.ask.first_ways
        if (
            ways is None
            or self.ask.fits.on_panels
            or not any(any(p.bound(self.ask.fits.repeat)) for p in self.ask.fits.pieces)
        ):
            return None
        if any(len(p.tried_turns) > 1 or p.flip for p in self.ask.fits.pieces):
            return None  # proven for one turn only
        longest, effort, repeat = self.best.length, min(3.0, 0.1 * seconds), self.ask.fits.repeat
        along = longest / repeat.along if repeat and repeat.along else 1.0
        across = self.ask.fits.roll.usable / repeat.across if repeat and repeat.across else 1.0
        if along * across * len(ways.items) > MOST_PLACES or len(ways.ways) > MOST_PROVEN:
            return None

        def prove() -> None:
            from zonatome.core.lay.bounds.repeat import repeat_bounds  # noqa: PLC0415 here, since OR-tools take a second to come in

            whole = ways if ways.pairs == "whole" else NestingTable(self.ask.fits, first_turn_only=True)
            for bound in repeat_bounds(whole, longest, effort=effort, halt=self.halt):
                self.bound = max(self.bound, bound)

        thread = threading.Thread(target=prove, daemon=True)
        thread.start()
        return thread

    def halt_proof(self, proving: threading.Thread, seconds: float) -> None:
        """End the proof and wait for that so long: a process must not end while a thread of it is still solving."""
        until = time.monotonic() + seconds
        while proving.is_alive() and time.monotonic() < until:
            self.halt.stop()
            proving.join(timeout=0.05)

    @property
    def is_shortest(self) -> bool:
        """Whether nothing can be shorter: all is laid, and no longer than is proven."""
        return is_shortest(replace(self.best, bound=self.bound))

    def ended(self) -> Lay:
        """The best lay, its time and bound as they are now."""
        return replace(self._told(), seconds=time.monotonic() - self.started)

    def _told(self) -> Lay:
        return self.best if self.best.on_panels else replace(self.best, bound=min(self.best.length, self.bound))


def _finished(
    ask: FeasibleRequest,
    placements: Sequence[Placement],
    *,
    started: float,
    method: str,
    bound: float,
    cut: Strips | None = None,
    until: float = math.inf,
) -> Lay:
    """Strips into what is left, unless they are cut already, and the figures; raises TooLate after `until`."""
    request = ask.whole
    strips, short = cut or lay_strips(ask.fits, placements, allowed=Allowance(until))
    cuts = [(p.panel, p.on_cloth(request.by_id[p.piece])) for p in placements] + [(s.panel, s.outline) for s in strips]
    length = max((o.bounds[2] for _, o in cuts), default=0.0)
    whole = whole_area(request, {panel for panel, _ in cuts}, length)
    laid = Counter(p.piece for p in placements)
    return Lay(
        length=0.0 if request.on_panels else length,
        used=sum(o.area for _, o in cuts) / whole if whole else 0.0,
        bound=min(length, bound) if not request.on_panels else 0.0,
        seconds=time.monotonic() - started,
        placements=tuple(placements),
        strips=strips,
        unplaced=tuple((p.id, p.count - laid[p.id]) for p in request.pieces if laid[p.id] < p.count),
        method=method,
        short=short,
        on_panels=request.on_panels,
    )
