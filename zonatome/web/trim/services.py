"""A job's trim from its lines; the lines that its cover offers."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from zonatome.core.errors import BadInput
from zonatome.core.formats.piece_json import read_piece
from zonatome.core.formats.trim_json import read_legs, write_legs
from zonatome.core.trace.shape import Shape
from zonatome.core.trim.bottom import BottomCloth, CutRound, Leg, bottom_cloth, cut_round
from zonatome.core.trim.lines import ExposedLine, JoinAt, exposed_lines, joins_along, sticks_of_glue, strips_for
from zonatome.core.trim.nails import Nails, nails
from zonatome.core.trim.welt import CUT_FROM_CLOTH, KINDS, USUAL_CLOTH, TrimRun, TrimSum, trim_sum
from zonatome.web.jobs.models import Job
from zonatome.web.trace.services import plan_staples
from zonatome.web.trim.models import TrimLine

USUAL_STRIP = 1500.0  # mm: what a strip is cut to where no lay says it
GLUED = ("double_welt", "gimp", "cord", "fringe")  # what is glued on; single welt is sewn in or stapled


def trims_of_job(job: Job) -> tuple[TrimSum, ...]:
    """Return the sums of each trim that a job's lines take, in the table's order: gimp here, double welt there."""
    thickness = job.trim_cloth.cloth.thickness if job.trim_cloth else USUAL_CLOTH
    lines: dict[str, list[TrimRun]] = {}
    for line in job.trim_lines.all():
        kind = line.kind or job.trim_kind
        if kind in KINDS:
            count = nails_of(line).count if kind == "nails" else 0
            lines.setdefault(kind, []).append(TrimRun(line.length, line.times, line.is_closed, count))
    return tuple(_sum_of(job, kind, tuple(lines[kind]), thickness) for kind in KINDS if kind in lines)


def _sum_of(job: Job, kind: str, runs: tuple[TrimRun, ...], thickness: float) -> TrimSum:
    return trim_sum(runs, kind=kind, furniture=job.count, cord=job.cord, thickness=thickness, rules=job.rules)


def nails_of(line: TrimLine) -> Nails:
    """Return the nails of a line, between its corners."""
    return nails(line.corners or [line.length], head=line.head, spacing=line.spacing, is_closed=line.is_closed)


def lines_offered(job: Job) -> tuple[ExposedLine, ...]:
    """Return the lines that a cover offers for trim, by its shapes, else by the kind's usual measures."""
    shapes: dict[str, Shape] = {p.key: read_piece(p.shape) for p in job.panels() if p.shape}

    def length(key: str, edge: str) -> float:
        return shapes[key].length_on(edge) if key in shapes else job.kind.usual_length(key, edge)

    def join(key: str, edge: str) -> str:
        if key in shapes:
            numbers = shapes[key].edges_on(edge)
            if numbers:
                return shapes[key].edges[numbers[0]].join
        return job.kind.part(key).joins.get(edge, "")

    return tuple(line for line in exposed_lines(job.kind, length, join) if line.length > 0)


@dataclass(frozen=True)
class LineOn:
    """A line with what its trim takes: its strips and where their joins fall, glue, nails; why not, where it can't."""

    line: TrimLine
    kind: str
    strips: tuple[float, ...]
    joins: tuple[JoinAt, ...]
    sticks: int
    nails: Nails | None
    why: str = ""

    @property
    def name(self) -> str:
        """Its trim in words."""
        return KINDS.get(self.kind, "no trim")


def lines_on(job: Job, longest: float = USUAL_STRIP) -> list[LineOn]:
    """Return the lines of a job, each with what its trim takes; `longest` is the longest strip that the lay of its
    cloth gives, mm.
    """
    offered = {line.key: line for line in lines_offered(job)}
    found = []
    for line in job.trim_lines.all():
        kind = line.kind or job.trim_kind or ""
        strips: tuple[float, ...] = ()
        joins: tuple[JoinAt, ...] = ()
        why = ""
        if kind in CUT_FROM_CLOTH:
            source = offered.get(line.key)
            try:
                strips = strips_for(line.length, longest)
                joins = joins_along(line.length, (*strips, strips[-1]), front=source.front if source else None)
            except BadInput as refusal:
                why = refusal.told
        sticks = sticks_of_glue(line.length * line.times * job.count) if kind in GLUED else 0
        found.append(LineOn(line, kind, strips, joins, sticks, nails_of(line) if kind == "nails" else None, why))
    return found


@dataclass(frozen=True)
class Bottom:
    """The bottom cloth of a job: its sizes, its legs, how it is cut round them; why it is not, where it can't be."""

    sizes: BottomCloth
    legs: tuple[Leg, ...]
    cut: CutRound | None
    why: str = ""


def bottom_of(job: Job) -> Bottom | None:
    """Return the bottom cloth of a job; None where there is none, or its underside has not been measured."""
    own = next((p for p in job.parts.all() if p.part.what == "bottom cloth"), None)
    if own is None or not (job.underside_width and job.underside_depth):
        return None
    sizes = bottom_cloth(job.underside_width, job.underside_depth, is_round=own.part.form == "disc", rules=job.rules)
    legs = read_legs(job.legs)
    try:
        return Bottom(sizes, legs, cut_round(sizes, legs, rules=job.rules))
    except BadInput as refusal:  # the underside was measured anew
        return Bottom(sizes, legs, None, refusal.told)


def set_legs(job: Job, legs: Sequence[Leg]) -> None:
    """Keep the legs under a job's furniture. Raises BadInput for legs round which no bottom cloth can be cut."""
    bottom = bottom_of(job)
    if bottom is None:
        words = "Measure the underside first: legs are measured from its left and front edges."
        raise BadInput("legs", None, "the underside first", words=words)
    cut_round(bottom.sizes, legs, rules=job.rules)
    job.legs = write_legs(legs)
    job.save(update_fields=["legs"])
    plan_bottom(job)


def plan_bottom(job: Job) -> None:
    """Its staples follow: the bottom cloth's edge has changed."""
    for part in job.parts.all():
        if part.part.what == "bottom cloth" and part.staples_planned:
            part.job = job
            plan_staples(part)
