"""A sheet of cloth on a board while it is stapled down: each staple pulled, then held; what that does to all of it.

Lengths in mm, forces in N, tension in N for each mm of width. The sheet lies flat as it is unrolled: what goes down
the side of the board and under it lies outside the line at which the cloth turns. x is to the right, y up, seen from
its face.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import TYPE_CHECKING, Literal

import numpy as np
import shapely
from numpy.typing import NDArray

from zonatome.core.errors import BadInput
from zonatome.core.fasten.rehearsal.descent import lowest
from zonatome.core.fasten.rehearsal.membrane import Slack, elastic, principal, relaxed
from zonatome.core.fasten.rehearsal.mesh import Mesh, mesh_of
from zonatome.core.fasten.rehearsal.openings import Seam, left_whole
from zonatome.core.fasten.rehearsal.threads import lines_before
from zonatome.core.fasten.rehearsal.weave import Grid, Weave
from zonatome.core.lazily import Lazily
from zonatome.core.outline import Outline, Point, outline_of

if TYPE_CHECKING:
    from scipy import linalg, sparse
    from scipy.sparse import linalg as solvers
else:
    linalg, sparse, solvers = Lazily("scipy.linalg"), Lazily("scipy.sparse"), Lazily("scipy.sparse.linalg")

Pull = Literal["light", "usual", "strong"]
USUAL_PULL = 40.0  # N of a hand at one staple


def pulls_of(usual: float = USUAL_PULL) -> dict[str, float]:
    """Return the forces of a light, a usual and a strong pull of a hand that usually pulls so hard, N.

    >>> pulls_of(50)["strong"]
    100
    """
    return {"light": usual / 2, "usual": usual, "strong": usual * 2}


PULLS = pulls_of()
LEANS = 0.35  # of the pull, sideways away from the last staple on its side
GRIP = 25.0  # mm to each side that a hand takes hold of
ON_PAD, AT_EDGE = 0.35, 0.3  # friction of cloth on wadding, and where it is drawn round the board's edge
TURN = math.pi / 2  # by how much it turns there
GIVES = 0.4  # mm that cloth gives before it slides
USUAL_TENSION = 0.8  # N/mm, to say how stiffly it sticks before it slides
LEAST_TENSION = 0.02  # N/mm of the hand that smooths it down
NODES = 900  # about how many places a sheet is parted into
ROUNDS, STILL = 30, 0.02  # of relaxing, at most, until nothing moves by more mm
OPPOSED = 0.25  # how squarely what is held must lie behind a pull
MOST_STAPLES = 200
ALMOST_NOTHING = 1e-12  # keeps a small system apart from one that can't be solved
LEAST_APART = 4.0  # mm between two staples, crown beside crown
LEAST_BEHIND = 6.0  # mm of cloth behind a staple
KEPT_MAPS = 6  # from the moves of all to those of some places
FLY = 90.0  # mm from its staples that a fly reaches in to the cloth it is sewn to


@dataclass(frozen=True)
class Board:
    """What a rehearsal is made on: the cloth as it is cut, the line at which it turns, how high the pad crowns in its
    middle, the cloth's weave and at what angle its warp runs; posts that it goes round and cuts toward them; edges at
    which something else holds it: a neighbour that it is sewn to, a strip.
    """

    cloth: Outline
    edge: Outline
    weave: Weave
    crown: float = 20.0
    warp_degrees: float = 90.0
    holes: tuple[tuple[Point, ...], ...] = ()
    slits: tuple[tuple[Point, Point], ...] = ()
    seams: tuple[Seam, ...] = ()
    nodes: int = NODES

    def __post_init__(self) -> None:
        """Refuse what no board has."""
        if not 0 <= self.crown <= 200:
            raise BadInput("crown", self.crown, "0 to 200 mm")
        if not self.cloth.polygon.buffer(1.0).contains(self.edge.polygon):
            raise BadInput("edge", "beyond the cloth", "a line at which the cloth turns, within it")


@dataclass(frozen=True)
class Pin:
    """One staple of a rehearsal: its place on the flat sheet, the way out, its side, how hard it is pulled (N)."""

    x: float
    y: float
    out: Point
    side: str = ""
    pull: float = PULLS["usual"]


def spot_of(pin: Pin) -> Point:
    """Return where a staple is, so roughly that the same place is found again."""
    return (round(pin.x, 2), round(pin.y, 2))


@dataclass(frozen=True)
class State:
    """A sheet after some staples: how far every place has moved, x and y in turn, by how much it slid of that; the
    staples that hold, with how far each is moved (x and y in turn).
    """

    moves: Grid
    slid: Grid
    pins: tuple[Pin, ...] = ()
    held: Grid = field(default_factory=lambda: np.zeros(0))


def reaching(cloth: Outline, pins: Sequence[Pin]) -> Outline:
    """Return the outline of a cloth with the flies that are sewn to it: where staples lie beyond its own edge, it goes
    on to them.
    """
    whole, sides = cloth.polygon, dict[str, list[Pin]]()
    for pin in pins:
        if not whole.buffer(-LEAST_BEHIND).contains(shapely.Point(pin.x, pin.y)):
            sides.setdefault(pin.side, []).append(pin)
    for those in sides.values():
        reach = [
            (p.x + by * p.out[0] + aside * p.out[1], p.y + by * p.out[1] - aside * p.out[0])
            for p in those
            for by in (LEAST_BEHIND * 2, -FLY)
            for aside in (-LEAST_BEHIND, LEAST_BEHIND)
        ]
        whole = whole.union(shapely.MultiPoint(reach).convex_hull)
    return outline_of(shapely.get_coordinates(whole.exterior)[:-1].tolist()) if sides else cloth


class Sheet:
    """A board's cloth, ready to be stapled: parted, its stiffness factorised once. What staples do to it is worked out
    from that one factorisation, a few rows more for each staple.
    """

    def __init__(self, board: Board) -> None:
        """Part the sheet and factorise it."""
        self.board = board
        spacing = math.sqrt(board.cloth.area / board.nodes * 2 / math.sqrt(3))
        self.mesh: Mesh = mesh_of(board.cloth.points, spacing, holes=board.holes, slits=board.slits)
        self.spacing = spacing
        self.stiffness = board.weave.stiffness(board.warp_degrees)
        self.count = 2 * len(self.mesh.nodes)
        per_place = self._usual_friction() / GIVES
        stuck = np.maximum(per_place, per_place.max() * 1e-4)
        self.sticks = np.repeat(np.where(self._seam_holds > 0, self._seam_holds, stuck), 2)
        whole = elastic(self.mesh, self.stiffness) + sparse.diags_array(self.sticks, format="csc")
        self._factor = solvers.splu(
            sparse.csc_array(whole), permc_spec="MMD_AT_PLUS_A", diag_pivot_thresh=0.0, options={"SymmetricMode": True}
        )
        self._before: tuple[tuple[Pin, ...], sparse.csr_array, Grid] = (
            (), sparse.csr_array((0, self.count)), np.zeros((self.count, 0)),
        )  # fmt: skip
        self._carried: dict[bytes, sparse.csr_array] = {}
        self._known: dict[tuple[float, float], tuple[sparse.csr_array, Grid, Grid]] = {}

    # ----------------------------------------------------------------- what it lies on

    @cached_property
    def _is_inside(self) -> NDArray[np.bool_]:
        """Which places lie on the pad."""
        x, y = self.mesh.nodes.T
        return np.asarray(shapely.contains_xy(self.board.edge.polygon, x, y))

    @cached_property
    def face(self) -> NDArray[np.bool_]:
        """Which triangles lie on the pad: what is seen."""
        x, y = self.mesh.middles.T
        return np.asarray(shapely.contains_xy(self.board.edge.polygon, x, y))

    @cached_property
    def _rounds(self) -> float:
        """How strongly the crown bends the cloth, 1/mm, both ways: of a dome so high on half the board's width."""
        half_x, half_y = self.board.edge.width / 2, self.board.edge.height / 2
        return 2 * self.board.crown / half_x**2 + 2 * self.board.crown / half_y**2

    @cached_property
    def _edge_run(self) -> Grid:
        """How much of the board's edge belongs to every place, mm."""
        line = shapely.LinearRing(self.board.edge.points)
        near = shapely.distance(line, shapely.points(self.mesh.nodes))
        share = np.maximum(1 - near / (1.2 * self.spacing), 0.0)
        return np.asarray(share * line.length / max(share.sum(), 1e-9))

    def _friction(self, tension: Grid) -> Grid:
        """How much force every place withstands before it slides, N, at a tension (places,)."""
        on_pad = ON_PAD * tension * self._rounds * self.mesh.shares_of_area * self._is_inside
        at_edge = (math.exp(AT_EDGE * TURN) - 1) * tension * self._edge_run
        return np.asarray(on_pad + at_edge)

    @cached_property
    def _seam_holds(self) -> Grid:
        """How stiffly seams hold every place, N/mm: as so much more of the same cloth would."""
        found = np.zeros(len(self.mesh.nodes))
        weave = self.board.weave
        for seam in self.board.seams:
            line = shapely.LineString(seam.points)
            share = np.maximum(1 - shapely.distance(line, shapely.points(self.mesh.nodes)) / (1.2 * self.spacing), 0.0)
            found += (weave.warp + weave.weft) / 2 / seam.away * share * line.length / max(float(share.sum()), 1e-9)
        return found

    def _usual_friction(self) -> Grid:
        return self._friction(np.full(len(self.mesh.nodes), USUAL_TENSION))

    @cached_property
    def dome(self) -> Grid:
        """The strain (3, triangles) that a cloth takes where it lies down over the crown and is not let in: half the
        square of the slope. Source: the shallow membrane of Föppl, 1907.
        """
        x0, y0, x1, y1 = self.board.edge.bounds
        half = np.array([(x1 - x0) / 2, (y1 - y0) / 2])
        at = (self.mesh.middles - np.array([(x0 + x1) / 2, (y0 + y1) / 2])) / half
        slope = -2 * self.board.crown * at / half * (np.sum(at * at, axis=1) < 1)[:, None]
        return np.stack([slope[:, 0] ** 2 / 2, slope[:, 1] ** 2 / 2, slope[:, 0] * slope[:, 1]])

    # ----------------------------------------------------------------- what is pulled and held

    def _at(self, pin: Pin) -> tuple[sparse.csr_array, Grid, Grid]:
        """Of a staple's place: the rows (2, places) that say where it is, those of the hand's grip round it, and what a
        unit of force at the first does to all places, (places, 2).
        """
        key = (round(pin.x, 3), round(pin.y, 3))
        if key not in self._known:
            along = np.array([-pin.out[1], pin.out[0]])
            at = np.array([pin.x, pin.y])
            gripped = at + np.linspace(-GRIP, GRIP, 7)[:, None] * along
            weights = 1 - np.abs(np.linspace(-1, 1, 7)) * 0.75
            both = self.mesh.carrying(np.concatenate([at[None], gripped])).toarray().reshape(8, 2, -1)
            hand = np.einsum("p,pij->ij", weights / weights.sum(), both[1:])
            self._known[key] = (sparse.csr_array(both[0]), hand, self._factor.solve(both[0].T))
        return self._known[key]

    def _held_by(self, pins: tuple[Pin, ...]) -> tuple[sparse.csr_array, Grid]:
        """The rows of all staples (2 staples, places), and what a unit of force at each does (places, 2 staples): those
        of the staples before and two more, where one was added.
        """
        known, rows, answers = self._before
        if pins == known:
            return rows, answers
        if len(pins) != len(known) + 1 or pins[:-1] != known:
            rows, answers = sparse.csr_array((0, self.count)), np.zeros((self.count, 0))
            known = ()
        at = [self._at(pin) for pin in pins[len(known) :]]
        rows = sparse.vstack([rows, *[one[0] for one in at]], format="csr")
        answers = np.concatenate([answers, *[one[2] for one in at]], axis=1)
        self._before = (pins, rows, answers)
        return rows, answers

    def flat(self) -> State:
        """Return the sheet as it is laid on the board, before any staple."""
        return self._settled(State(np.zeros(self.count), np.zeros(self.count)), None)

    def stapled(self, state: State, pin: Pin) -> State:
        """Return the sheet after one staple more, still in the hand: it is pulled against what holds already, away from
        the last staple on its side, then it holds. See `at_rest`.

        Raises BadInput for a place beyond the cloth, on another staple, or more staples than a board has.
        """
        if len(state.pins) >= MOST_STAPLES:
            raise BadInput("staples", len(state.pins) + 1, f"at most {MOST_STAPLES} staples")
        if not self.board.cloth.polygon.buffer(2.0).contains(shapely.Point(pin.x, pin.y)):
            raise BadInput("staple", f"{pin.x:.0f}, {pin.y:.0f} mm", "a place on the cloth")
        if any(math.dist((pin.x, pin.y), (p.x, p.y)) < LEAST_APART for p in state.pins):
            raise BadInput("staple", f"{pin.x:.0f}, {pin.y:.0f} mm", "a free place", words="There is a staple already.")
        point, hand, _ = self._at(pin)
        pulled = self._settled(state, hand.T @ self.pull_of(state, pin))
        held = np.concatenate([state.held, point @ pulled.moves])
        return replace(pulled, pins=(*state.pins, pin), held=held)

    def at_rest(self, state: State) -> State:
        """Return the sheet when the hand has let go of its last staple."""
        return self._settled(state, None)

    def pull_of(self, state: State, pin: Pin) -> Grid:
        """Return the force (2,) with which a staple is pulled: outward as far as something that holds lies behind it,
        else not; sideways away from the last staple on its side.
        """
        out = np.array(pin.out)
        force = np.zeros(2)
        holds = [(p.x, p.y) for p in state.pins] + [at for seam in self.board.seams for at in seam.points]
        if holds:
            behind = np.array(holds) - (pin.x, pin.y)
            far = np.maximum(np.hypot(behind[:, 0], behind[:, 1]), 1e-9)
            if bool((-(behind @ out) / far > OPPOSED).any()):
                force = pin.pull * out
        last = next((p for p in reversed(state.pins) if p.side == pin.side and pin.side), None)
        if last is not None:
            along = np.array([-out[1], out[0]])
            away = float(np.sign((pin.x - last.x) * along[0] + (pin.y - last.y) * along[1]))
            force = force + LEANS * pin.pull * away * along
        return force

    def let_go(self, state: State, number: int) -> State:
        """Return the sheet after one of its staples is taken out, counted from 0."""
        if not 0 <= number < len(state.pins):
            raise BadInput("staple", number + 1, f"one of the {len(state.pins)} that hold")
        kept = [n for n in range(len(state.pins)) if n != number]
        rows = np.array([m for n in kept for m in (2 * n, 2 * n + 1)], dtype=int)
        return self._settled(replace(state, pins=tuple(state.pins[n] for n in kept), held=state.held[rows]), None)

    def pulled_again(self, state: State, number: int, pull: float) -> State:
        """Return the sheet after one of its staples is taken out, pulled so hard and set once more."""
        pin = replace(state.pins[number], pull=pull) if 0 <= number < len(state.pins) else None
        without = self.let_go(state, number)
        if pin is None:
            return without
        again = self.stapled(without, pin)
        order = [*range(number), len(again.pins) - 1, *range(number, len(again.pins) - 1)]
        rows = np.array([m for n in order for m in (2 * n, 2 * n + 1)], dtype=int)
        return replace(again, pins=tuple(again.pins[n] for n in order), held=again.held[rows])

    def played(self, pins: Sequence[Pin]) -> State:
        """Return the sheet at rest after staples in their order."""
        state = self.flat()
        for pin in pins:
            state = self.stapled(state, pin)
        return self.at_rest(state)

    # ----------------------------------------------------------------- how it settles

    @cached_property
    def _watched(self) -> NDArray[np.int64]:
        """The coordinates of places on the pad: those beyond its edge may still flap."""
        return np.flatnonzero(np.repeat(self._is_inside, 2))

    @cached_property
    def _strains(self) -> sparse.csr_array:
        return sparse.csr_array(self.mesh.strains)

    @cached_property
    def _strains_back(self) -> sparse.csr_array:
        return sparse.csr_array(self.mesh.strains.T)

    def strain(self, state: State) -> Grid:
        """Return the strains of all triangles, (3, triangles)."""
        return self._strained(state.moves)

    def _strained(self, moves: Grid) -> Grid:
        return np.asarray((self._strains @ moves).reshape(3, -1) + self.dome)

    def slack(self, state: State) -> Slack:
        """Return the tension in all triangles, and where they lie slack."""
        return relaxed(self.strain(state), self.stiffness)

    def _settled(self, state: State, pulled: Grid | None) -> State:
        """The sheet at rest: wrinkles take up what would be pressed, places slide where friction does not hold them,
        the work is least.
        """
        rows, answers = self._held_by(state.pins)
        factor = linalg.cho_factor(rows @ answers + ALMOST_NOTHING * np.eye(rows.shape[0])) if state.pins else None
        limit, pull = self._limits(state), np.zeros(self.count) if pulled is None else pulled

        def kept(moved: Grid) -> Grid:
            """Moves as the staples allow them: none where they hold."""
            if factor is None:
                return moved
            return np.asarray(moved - answers @ linalg.cho_solve(factor, rows @ moved, check_finite=False))

        moves = state.moves
        if factor is not None:  # the last staple may not stand where it was set
            moves = moves + answers @ linalg.cho_solve(factor, state.held - rows @ moves, check_finite=False)
        moves = lowest(
            lambda moved: self._work(moved, state.slid, limit, pull),
            lambda slope: kept(self._factor.solve(slope)),
            moves,
            rounds=ROUNDS,
            still=lambda step: float(np.abs(step[self._watched]).max()) < STILL,
        )
        apart = moves - state.slid
        far = np.hypot(apart[::2], apart[1::2]) * self.sticks[::2]
        slid = state.slid + np.repeat(np.maximum(1 - limit / np.maximum(far, 1e-12), 0.0), 2) * apart
        return replace(state, moves=moves, slid=slid)

    def _work(self, moves: Grid, slid: Grid, limit: Grid, pull: Grid) -> tuple[float, Grid]:
        """The work that moves take, and how it changes with each: of the cloth stretched, of sticking and sliding, less
        that of the hand.
        """
        found = relaxed(self._strained(moves), self.stiffness)
        slope = self._strains_back @ (found.tension * self.mesh.areas).ravel()
        apart = moves - slid
        far = np.hypot(apart[::2], apart[1::2])
        sticks = self.sticks[::2]
        force = np.minimum(sticks * far, limit)
        sticking = force * (far - force / sticks / 2)
        slope += np.repeat(force / np.maximum(far, 1e-12), 2) * apart - pull
        work = float(found.work @ self.mesh.areas) + float(sticking.sum()) - float(pull @ moves)
        return work, slope

    def _limits(self, state: State) -> Grid:
        """How much every place withstands before it slides, at the tension that there is now."""
        if not state.pins:
            return self._held_fast(self._friction(np.full(len(self.mesh.nodes), LEAST_TENSION)))
        _, most = principal(self.slack(state).tension)
        corners = self.mesh.triangles.ravel()
        summed, count = np.bincount(corners, np.repeat(most, 3)), np.bincount(corners)
        return self._held_fast(self._friction(np.maximum(summed / count, LEAST_TENSION)))

    def _held_fast(self, limit: Grid) -> Grid:
        """What places withstand: at a seam anything."""
        return np.where(self._seam_holds > 0, np.inf, limit)

    # ----------------------------------------------------------------- what each staple does to the whole

    def responses(self, state: State) -> Grid:
        """Return how all places move when one staple after the other is moved outward by 1 mm while the others hold,
        (places, staples): of a sheet that is tight everywhere.
        """
        rows, answers = self._held_by(state.pins)
        out = np.zeros((2 * len(state.pins), len(state.pins)))
        for n, pin in enumerate(state.pins):
            out[2 * n : 2 * n + 2, n] = pin.out
        factor = linalg.cho_factor(rows @ answers + ALMOST_NOTHING * np.eye(rows.shape[0]))
        return np.asarray(answers @ linalg.cho_solve(factor, out))

    def strains_of(self, moves: Grid, triangles: NDArray[np.int64]) -> Grid:
        """Return the strains of some triangles under moves (places, n): (3, triangles, n)."""
        rows = (triangles + len(self.mesh.triangles) * np.arange(3)[:, None]).ravel()
        return np.asarray(self._strains[rows] @ moves).reshape(3, len(triangles), -1)

    def causes_of(self, state: State, triangles: NDArray[np.int64], across: float) -> tuple[int, ...]:
        """Return the staples that would take most of the slack out of some triangles were they pulled farther, in the
        direction in which the cloth there is too long, the first of all first.
        """
        c, s = math.cos(across), math.sin(across)
        strains = self.strains_of(self.responses(state), triangles)
        eased = np.einsum("itn,t,i->n", strains, self.mesh.areas[triangles], np.array([c * c, s * s, c * s]))
        return tuple(int(n) for n in np.argsort(-eased, kind="stable") if eased[n] > 0)

    # ----------------------------------------------------------------- its threads

    @cached_property
    def lines(self) -> list[tuple[bool, Grid]]:
        """The thread lines over the pad before any staple."""
        board = self.board
        return lines_before(board.edge, board.warp_degrees, left_whole(board.edge, board.holes, board.slits))

    @cached_property
    def _carrying(self) -> sparse.csr_array:
        return sparse.csr_array(self.mesh.carrying(np.concatenate([places for _, places in self.lines])))

    def carried(self, state: State) -> list[Grid]:
        """Return where the thread lines run."""
        return self.moved_lines(state.moves)

    def moved(self, places: Grid, state: State, *, is_kept: bool = False) -> Grid:
        """Return where places (places, 2) of the flat cloth lie now. `is_kept` keeps the map for the next time."""
        key = places.tobytes() if is_kept else b""
        carrying = self._carried.get(key)
        if carrying is None:
            carrying = sparse.csr_array(self.mesh.carrying(places))
            if is_kept:
                while len(self._carried) >= KEPT_MAPS:
                    self._carried.pop(next(iter(self._carried)))
                self._carried[key] = carrying
        return np.asarray(places + (carrying @ state.moves).reshape(-1, 2))

    def moved_lines(self, moves: Grid) -> list[Grid]:
        """Return the thread lines as moves of all places carry them."""
        by = (self._carrying @ moves).reshape(-1, 2)
        ends = np.cumsum([len(places) for _, places in self.lines])
        return [places + move for (_, places), move in zip(self.lines, np.split(by, ends[:-1]), strict=True)]
