"""What a repeat proves: lengths that no lay can beat because motifs stand where they stand.

Three programmes, all by OR-tools' CP-SAT, on one thread and with its deterministic clock:

- *spots*: pieces bound along and across can lie on few spots only. Which spots, so that none overlap and the last
  ends soonest? All other pieces are left out, so the answer is a bound.
- *lines*: a piece bound across lies at few heights only. A line along the roll crosses the pieces at their chords, and
chords and the gaps between them fit in no shorter roll. Which heights, so that the fullest line is as short as it can
be?
- *pairs*: of two pieces, at any two of their heights, one lies before the other by so and so much. Which heights and
  which order, so that the last ends soonest? Exact for pieces bound across; of one that lies at any height only what
  holds at all of them counts: that two that are too wide to lie abreast lie one behind the other. Only for few pieces.
"""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Iterator
from typing import NamedTuple

import numpy as np
from ortools.sat.python import cp_model

from zonatome.core.lay.cancel import SolverStop
from zonatome.core.lay.geometry.nesting_table import NestingTable
from zonatome.core.lay.geometry.no_fit import bands_of
from zonatome.core.lay.kernel.figures import motif_place, overlap_of, stands, widest_stretch
from zonatome.core.lay.kernel.tables import FREE, ScanTable

MOST_SPOTS = 700
MOST_CLASHES = 120_000
SCALE = 10  # CP-SAT counts whole tenths of a millimetre
MOST_PAIRED = 24
PAIRS_EFFORT = 3.0
LINES = 90
LEAST_CHORD = 0.5  # mm: a line that a piece only touches does not count


def repeat_bound(ways: NestingTable, longest: float, *, effort: float = 2.0) -> float:
    """Return a proven lower bound on the roll's length in mm, 0 where the repeat proves nothing.

    `longest`: a length that is known to do, `effort`: the solver's deterministic seconds for each programme.
    """
    return max(repeat_bounds(ways, longest, effort=effort), default=0.0)


def repeat_bounds(
    ways: NestingTable, longest: float, *, effort: float, halt: SolverStop | None = None
) -> Iterator[float]:
    """Yield the bounds in mm that one programme after the other proves, the quick ones first; see `repeat_bound`.

    `halt` ends the programme that is being solved, with what it has proven by then, and there is no other.
    """
    if ways.request.repeat is None or not ways.items:
        return
    halt = halt or SolverStop()
    yield _spots_bound(ways, longest, effort, halt)
    yield _lines_bound(ways, effort / 2, halt)
    yield _pairs_bound(ways, longest, PAIRS_EFFORT * effort, halt)


def _counts(ways: NestingTable) -> Counter[int]:
    return Counter(number for number, _ in ways.items)


def _spots(ways: NestingTable, way: int, longest: float) -> list[tuple[float, float]]:
    """All places of a way that is bound both ways, up to a length."""
    table = ways.table
    along = table.repeat[0]
    found = []
    first, count = int(table.row_first[way]), int(table.row_count[way])
    for y in table.row_heights[first : first + count]:
        x = motif_place(table, way, float(y))
        x += np.ceil(-x / along - 1e-9) * along
        while x + table.width[way] <= longest + 1e-6:
            if stands(table, way, float(x), float(y)):
                found.append((float(x), float(y)))
            x += along
    return found


def _spots_bound(ways: NestingTable, longest: float, effort: float, halt: SolverStop) -> float:
    table = ways.table
    spots = [
        (number, way, x, y)
        for number in _counts(ways)
        for way in ways.of_piece[number]
        if table.bound[way].all()
        for x, y in _spots(ways, way, longest)
    ]
    if not spots or len(spots) > MOST_SPOTS:
        return 0.0
    model = cp_model.CpModel()
    taken = [model.new_bool_var(f"s{k}") for k in range(len(spots))]
    for number, count in _counts(ways).items():
        mine = [taken[k] for k, s in enumerate(spots) if s[0] == number]
        if mine:
            model.add(sum(mine) == count)
    clashes = [
        (a, b)
        for a in range(len(spots))
        for b in range(a)
        if overlap_of(table, spots[a][1], spots[a][2], spots[a][3], spots[b][1], spots[b][2], spots[b][3]) > 2 * FREE
    ]
    if len(clashes) > MOST_CLASHES:
        return 0.0
    for group in _cliques(len(spots), clashes):
        model.add_at_most_one(taken[k] for k in group)
    end = model.new_int_var(0, int(longest * SCALE) + SCALE, "end")
    for k, (_, way, x, _) in enumerate(spots):
        model.add(end >= int((x + table.width[way]) * SCALE)).only_enforce_if(taken[k])
    model.minimize(end)
    return _solved(model, effort, halt)


def _cliques(count: int, clashes: list[tuple[int, int]]) -> list[list[int]]:
    """Groups of spots of which any two clash, so that every clash is in one: far stronger for the solver than pairs."""
    beside: list[set[int]] = [set() for _ in range(count)]
    for a, b in clashes:
        beside[a].add(b)
        beside[b].add(a)
    open_, groups = {frozenset(c) for c in clashes}, []
    for a, b in clashes:
        if frozenset((a, b)) not in open_:
            continue
        group = [a, b]
        common = beside[a] & beside[b]
        while common:
            k = max(common, key=lambda c: (len(beside[c] & common), -c))
            group.append(k)
            common = common & beside[k]
        open_ -= {frozenset((p, q)) for p in group for q in group if p != q}
        groups.append(group)
    return groups


def _lines_bound(ways: NestingTable, effort: float, halt: SolverStop) -> float:
    table, gap = ways.table, ways.request.gap
    low, high = ways.request.roll.low, ways.request.roll.high
    bound_ways = [w for number in _counts(ways) for w in ways.of_piece[number] if table.bound[w, 1]]
    if not bound_ways or sum(int(table.row_count[w]) for w in bound_ways) > MOST_SPOTS:
        return 0.0
    model = cp_model.CpModel()
    lines = np.linspace(low, high, LINES + 2)[1:-1]
    loads: list[list[tuple[int, cp_model.IntVar]]] = [[] for _ in lines]
    for number, count in _counts(ways).items():
        here = [w for w in ways.of_piece[number] if table.bound[w, 1]]
        if not here:
            continue
        chosen = []
        for way in here:
            rows = bands_of(ways.ways[way].outline.polygon)
            first, many = int(table.row_first[way]), int(table.row_count[way])
            for r, y in enumerate(table.row_heights[first : first + many]):
                variable = model.new_int_var(0, count, f"n{way}_{r}")
                chosen.append(variable)
                for k, line in enumerate(lines):
                    chord = rows.chord(float(line - y))
                    if chord > LEAST_CHORD:
                        loads[k].append((int((chord + gap) * SCALE), variable))
        model.add(sum(chosen) == count)
    end = model.new_int_var(0, 2**40, "end")
    for load in loads:
        if load:
            model.add(sum(c * v for c, v in load) <= end)
    model.minimize(end)
    found = _solved(model, effort, halt)
    return max(0.0, found - gap)


class _Height(NamedTuple):
    """A height, or all between two, that a way may lie at, and whether it does."""

    lies: cp_model.IntVar
    way: int
    low: float
    high: float


def _on_the_roll(
    model: cp_model.CpModel,
    table: ScanTable,
    place: cp_model.IntVar,
    end: cp_model.IntVar,
    heights: list[_Height],
    longest: float,
) -> None:
    """Say of one piece that it ends before the lay does, and where a motif binds it, that it lies on its step."""
    for height in heights:
        model.add(place + int(table.width[height.way] * SCALE) <= end).only_enforce_if(height.lies)
        if table.bound[height.way, 0] and height.low == height.high:
            x = motif_place(table, height.way, height.low)
            steps = np.arange(x % table.repeat[0], longest, table.repeat[0])
            domain = cp_model.Domain.from_values([int(v * SCALE) for v in steps])
            model.add_linear_expression_in_domain(place, domain).only_enforce_if(height.lies)


def _pairs_bound(ways: NestingTable, longest: float, effort: float, halt: SolverStop) -> float:
    table = ways.table
    items = list(range(len(ways.items)))
    if len(items) > MOST_PAIRED:
        items = [k for k in items if all(table.bound[w, 1] for w in ways.of_piece[ways.items[k][0]])]
    if not 2 <= len(items) <= MOST_PAIRED:
        return 0.0
    model = cp_model.CpModel()
    most = int(longest * SCALE) + SCALE
    end = model.new_int_var(0, most, "end")
    places: dict[int, cp_model.IntVar] = {}
    rows: dict[int, list[_Height]] = {}
    for k in items:
        rows[k] = [
            _Height(model.new_bool_var(f"r{k}_{w}_{r}"), w, low, high)
            for w in ways.of_piece[ways.items[k][0]]
            for r, (low, high) in enumerate(_heights_of(ways, w))
        ]
        model.add_exactly_one(h.lies for h in rows[k])
        places[k] = model.new_int_var(0, most, f"x{k}")
        _on_the_roll(model, table, places[k], end, rows[k], longest)
    for one, other in itertools.pairwise(items):
        if ways.items[one][0] == ways.items[other][0]:
            model.add(places[one] <= places[other])  # copies are alike
    for i, j in itertools.combinations(items, 2):
        before = model.new_bool_var(f"b{i}_{j}")
        for here, there in itertools.product(rows[i], rows[j]):
            left, right = _blocked(ways, here, there)
            if right - left > 1.0:
                apart = places[j] - places[i]
                model.add(apart >= int(right * SCALE) - 2).only_enforce_if(here.lies, there.lies, before)
                model.add(apart <= int(left * SCALE) + 2).only_enforce_if(here.lies, there.lies, ~before)
    _loaded(ways, model, end, rows)
    model.minimize(end)
    return _solved(model, effort, halt)


def _heights_of(ways: NestingTable, way: int) -> list[tuple[float, float]]:
    """The heights that a way may lie at: the repeat's, or all between the edges."""
    table = ways.table
    if table.bound[way, 1]:
        return [(y, y) for y in table.row_heights[table.row_first[way] :][: table.row_count[way]].tolist()]
    start, bands = table.figure[way]
    return [(float(table.levels[start]), float(table.levels[start + bands]))] if bands else []


def _blocked(ways: NestingTable, here: _Height, there: _Height) -> tuple[float, float]:
    """The stretch of x, from the one, in which the other can't begin at any of their heights; from 0 to 0 for none."""
    table = ways.table
    low, high = there.low - here.high, there.high - here.low
    if low == high:
        left, right = widest_stretch(table, there.way, low, here.way)
        return float(left), float(right)
    figure = len(table.width) * (1 + here.way) + there.way
    start, bands = table.figure[figure]
    levels = table.levels[start : start + bands + 1]
    if not bands or low <= levels[0] or high >= levels[-1]:
        return 0.0, 0.0
    left, right = -np.inf, np.inf
    for band in range(
        max(0, int(np.searchsorted(levels, low, side="right")) - 1), int(np.searchsorted(levels, high, side="left"))
    ):
        sides = table.sides[table.first[start + band] : table.first[start + band + 1]]
        if not len(sides):
            return 0.0, 0.0
        rise = np.array([max(low, levels[band]), min(high, levels[band + 1])]) - levels[band]
        begin, stop = sides[:, :1] + sides[:, 1:2] * rise, sides[:, 2:3] + sides[:, 3:] * rise
        widest = int(np.argmax((stop - begin).sum(axis=1)))
        left, right = max(left, float(begin[widest].max())), min(right, float(stop[widest].min()))
    return (left, right) if right > left else (0.0, 0.0)


def _loaded(ways: NestingTable, model: cp_model.CpModel, end: cp_model.IntVar, rows: dict[int, list[_Height]]) -> None:
    """What every line crosses fits in the roll: says nothing new, and helps the solver to prove."""
    gap, roll = ways.request.gap, ways.request.roll
    figures = {h.way: bands_of(ways.ways[h.way].outline.polygon) for heights in rows.values() for h in heights}
    for line in np.linspace(roll.low, roll.high, LINES + 2)[1:-1]:
        load = [
            (int((chord + gap) * SCALE), h.lies)
            for heights in rows.values()
            for h in heights
            if h.low == h.high and (chord := figures[h.way].chord(float(line - h.low))) > LEAST_CHORD
        ]
        if load:
            model.add(sum(c * v for c, v in load) <= end + int(gap * SCALE) + 1)


def _solved(model: cp_model.CpModel, effort: float, halt: SolverStop) -> float:
    """The bound that the solver proves, less what rounding down to whole tenths may hide."""
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    solver.parameters.max_deterministic_time = effort
    solver.parameters.max_time_in_seconds = 4 * effort
    halt.solver = solver
    if halt.is_on:
        return 0.0
    status = solver.solve(model)
    halt.solver = None
    if status in (cp_model.INFEASIBLE, cp_model.MODEL_INVALID):
        return 0.0
    return float(max(0.0, solver.best_objective_bound / SCALE - 0.1))
