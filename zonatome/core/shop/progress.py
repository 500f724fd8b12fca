"""How far a job is, step by step, and its next move in words."""

from __future__ import annotations

from dataclasses import dataclass

from zonatome.core.shop.estimate import STEPS


@dataclass(frozen=True)
class JobState:
    """A job in plain counts, as the record has it. Names are the next thing's, empty when there is none."""

    findings: int = 0
    layers: int = 4
    is_covered_over: bool = False
    parts: int = 0
    parts_off: int = 0
    next_off: str = ""
    lacking: int = 0
    furniture: int = 1
    stripped: int = 0
    shapes: int = 0
    shapes_made: int = 0
    next_shape: str = ""
    cloths: int = 0
    panels_without_cloth: int = 0
    lays: int = 0
    stale_lays: int = 0
    buy: str = ""
    pieces: int = 0
    pieces_cut: int = 0
    pads: int = 0
    pads_made: int = 0
    next_pad: str = ""
    staples: int = 0
    staples_done: int = 0
    next_fasten: str = ""
    has_trim: bool = False
    trim_done: bool = False
    trim: str = ""
    to_finish: int = 0
    is_finished: bool = False


@dataclass(frozen=True)
class StepState:
    """One step on the tape: its figure in words, the share that is done, from 0 to 1."""

    step: str
    figure: str
    share: float

    @property
    def is_done(self) -> bool:
        """Whether nothing is left to do in it."""
        return self.share >= 1


@dataclass(frozen=True)
class NextMove:
    """The next move: at which step, in words."""

    step: str
    words: str


def step_states(job: JobState) -> tuple[StepState, ...]:
    """Return the eight steps in order, each with its figure."""
    strip_share = (
        1.0 if job.is_covered_over else _share(job.parts_off + job.stripped * job.parts, job.parts * job.furniture)
    )
    lay_share = 0.0
    if job.lays and not job.stale_lays and not job.panels_without_cloth and job.lays >= job.cloths:
        lay_share = 0.5 + 0.5 * _share(job.pieces_cut, job.pieces)
    lay_figure = "out of date" if job.stale_lays else job.buy or (f"{job.pieces} pieces" if job.pieces else "—")
    off = f"{job.parts_off} of {job.parts} off"
    if job.furniture > 1 and job.parts_off >= job.parts:
        off = f"{1 + job.stripped} of {job.furniture} stripped"
    off += f", {job.lacking} to note" if job.lacking else ""
    shares = {
        "survey": (
            _share(job.findings, job.layers),
            "done" if job.findings >= job.layers else f"{job.findings} of {job.layers}",
        ),
        "strip": (strip_share, "covered over" if job.is_covered_over else off),
        "trace": (_share(job.shapes_made, job.shapes), f"{job.shapes_made} of {job.shapes} shapes"),
        "lay": (lay_share, lay_figure),
        "pad": (_share(job.pads_made, job.pads), f"{job.pads_made} of {job.pads} pads" if job.pads else "no pad"),
        "fasten": (
            _share(job.staples_done, job.staples),
            f"{job.staples_done} of {job.staples}" if job.staples else "—",
        ),
        "trim": (1.0 if job.trim_done else 0.5 if job.has_trim else 0.0, job.trim or "—"),
        "finish": (1.0 if job.is_finished else 0.0, "home" if job.is_finished else f"{job.to_finish} open"),
    }
    return tuple(StepState(step, shares[step][1], 1.0 if job.is_finished else shares[step][0]) for step in STEPS)


def _share(done: int, whole: int) -> float:
    return min(1.0, done / whole) if whole else 0.0


def next_move(job: JobState) -> NextMove:
    """Return the one obvious next move; the words follow the step's name and a colon."""
    if job.is_finished:
        return NextMove("finish", "gone home")
    moves = (
        (job.findings < job.layers, "survey", f"{job.layers - job.findings} of {job.layers} layers to look at"),
        (not job.is_covered_over and job.parts_off < job.parts, "strip", f"{job.next_off.lower()} comes off next"),
        (job.shapes_made < job.shapes, "trace", f"a shape for the {job.next_shape.lower()}"),
        (job.cloths == 0, "lay", "choose the cloth"),
        (job.panels_without_cloth > 0, "lay", f"{job.panels_without_cloth} panels have no cloth yet"),
        (job.stale_lays > 0, "lay", "shapes have changed, lay again"),
        (job.lays < job.cloths, "lay", f"{job.pieces} pieces to lay"),
        (job.pieces_cut < job.pieces, "lay", f"{job.buy}, {job.pieces - job.pieces_cut} of {job.pieces} pieces to cut"),
        (
            not job.is_covered_over and job.stripped < job.furniture - 1,
            "strip",
            f"{job.furniture - 1 - job.stripped} more of the set to strip",
        ),
        (job.pads_made < job.pads, "pad", f"the layers of the {job.next_pad.lower()}"),
        (job.pads > 0 and job.staples == 0, "fasten", f"measure the board under the {job.next_fasten.lower()}"),
        (
            job.staples_done < job.staples,
            "fasten",
            f"{job.next_fasten.lower()}, {job.staples - job.staples_done} staples to go",
        ),
        (not job.trim_done, "trim", f"{job.trim}, start low at the back" if job.has_trim else "welt, gimp or none"),
    )
    for is_open, step, words in moves:
        if is_open:
            return NextMove(step, words)
    return NextMove("finish", f"{job.to_finish} things before it goes home" if job.to_finish else "ready to go home")
