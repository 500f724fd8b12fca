"""A panel while it is put on: its staples, its corners folding, cuts toward posts, pleats in a fan, seams in order."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

from zonatome.core.fasten.chosen import Found
from zonatome.core.fasten.folds import FoldStep
from zonatome.core.fasten.pleats import Pleats, fan
from zonatome.core.fasten.relief import CurvedEdge, ReliefCut
from zonatome.core.fasten.sewing import Run
from zonatome.core.fasten.stages import LOOKS, LookAt
from zonatome.core.fasten.staples import CORNER_OPEN, CROWN, PAIRS, Staple, StaplePlan
from zonatome.core.formats.fastening_json import read_seen
from zonatome.core.formats.svg_paths import bounds_of, down, fixed, path_of, view_round
from zonatome.core.outline import Outline, Point, offset_by_edge
from zonatome.core.survey.opened_out import seam_lines
from zonatome.core.trace.shape import Shape
from zonatome.web.jobs.drawing import opened_out_of
from zonatome.web.jobs.models import Job, JobPart, Photo

CLOTH = 46.0  # mm of cloth drawn round the board
ROOM = 26.0


@dataclass(frozen=True)
class StapleDrawing:
    """One staple: a rounded bar along the edge, its number outside, the arrow of its pull."""

    number: int
    path: str
    x: str
    y: str
    words_x: str
    words_y: str
    pull: str
    side: str
    at_corner: bool
    words: str


@dataclass(frozen=True)
class BoardDrawing:
    """The whole drawing."""

    view: str
    cloth: str
    board: str
    corners: tuple[Point, ...]
    corner_places: tuple[tuple[str, str], ...]
    corner_radius: str
    staples: tuple[StapleDrawing, ...]
    keep_outs: tuple[dict[str, str], ...]
    middle: tuple[str, ...]
    number_size: str
    ring: str


def board_drawing(
    part: JobPart, board: Outline, plan: StaplePlan, *, face_up: Shape | None = None, corners: Iterable[Point] = ()
) -> BoardDrawing:
    """Return the drawing: a board seen from below, its front edge at the bottom; or a panel face up, its outline with
    the cloth that is cut for it and the corners that are closed last.
    """
    cloth = face_up.cut_line if face_up else offset_by_edge(board, [CLOTH] * len(board.points))
    x0, y0, x1, y1 = cloth.bounds
    for staple in plan.staples:  # those through a fly lie beyond the cloth itself
        x0, x1 = min(x0, staple.x - CROWN), max(x1, staple.x + CROWN)
        y0, y1 = min(y0, staple.y - CROWN), max(y1, staple.y + CROWN)
    top = y1 + ROOM
    size = max(9.0, max(x1 - x0, y1 - y0) * 0.024)
    if face_up is None:
        corners = [board.points[i] for i in board.corners()] if len(board.corners()) <= 8 else []
    corners = tuple(corners)
    bx0, by0, bx1, by1 = board.bounds
    mx, my = (bx0 + bx1) / 2, (by0 + by1) / 2
    keep_outs = tuple(
        {"x": fixed(k.x), "y": fixed(top - k.y), "radius": fixed(k.radius), "pk": str(k.pk)}
        for k in part.keep_outs.all()
    )
    middle = (
        path_of([(mx, by0 - 20), (mx, by1 + 20)], top, closed=False),
        path_of([(bx0 - 20, my), (bx1 + 20, my)], top, closed=False),
    )
    return BoardDrawing(
        f"{fixed(x0 - ROOM)} 0 {fixed(x1 - x0 + 2 * ROOM)} {fixed(y1 - y0 + 2 * ROOM)}",
        path_of(cloth.points, top),
        path_of(board.points, top),
        corners,
        tuple(down(c, top) for c in corners),
        fixed(min(CORNER_OPEN, min(bx1 - bx0, by1 - by0) / 4)),
        tuple(_staple(s, plan, size, top) for s in plan.staples),
        keep_outs,
        middle,
        fixed(size),
        fixed(size * 1.5),
    )


def _staple(s: Staple, plan: StaplePlan, size: float, top: float) -> StapleDrawing:
    """A staple: its crown, its number inward of it, the arrow of its pull."""
    (out_x, out_y), half, inward = s.pull, CROWN / 2, size * 1.35
    ux, uy = out_y, -out_x  # along the edge
    tip = (s.x + out_x * CLOTH * 0.98, s.y + out_y * CLOTH * 0.98)
    back = (tip[0] - out_x * 9, tip[1] - out_y * 9)
    shaft = [(s.x + out_x * 8, s.y + out_y * 8), tip]
    head = [(back[0] + ux * 6, back[1] + uy * 6), tip, (back[0] - ux * 6, back[1] - uy * 6)]
    crown = [(s.x - ux * half, s.y - uy * half), (s.x + ux * half, s.y + uy * half)]
    return StapleDrawing(
        s.number,
        path_of(crown, top, closed=False),
        fixed(s.x),
        fixed(top - s.y),
        fixed(s.x - out_x * inward),
        fixed(top - s.y + out_y * inward + size * 0.35),
        path_of(shaft, top, closed=False) + path_of(head, top, closed=False),
        s.side,
        s.at_corner,
        _words(s.number, plan),
    )


OPPOSITE = dict((*PAIRS, *(pair[::-1] for pair in PAIRS)))


def _words(number: int, plan: StaplePlan) -> str:
    """What to do at this staple."""
    staple = plan.staples[number - 1]
    before = plan.staples[number - 2] if number > 1 else None
    if number == 1:
        where = f"At {staple.side}" if "o'clock" in staple.side else f"Middle of the {staple.side} edge"
        return f"{where}. Notch of the cloth on the mark of the rail; check top and nap before the second."
    if staple.row == 2:
        return f"Second row on the {staple.side} edge, between two of the first, never on one."
    if plan.order == "own":
        why = plan.why[number - 1] if number <= len(plan.why) else f"on the {staple.side} edge"
        return f"{why[:1].upper()}{why[1:]}. Take up only what lies slack; the order is the rehearsal's."
    if "o'clock" in staple.side:
        place = "12, 6, 3 and 9 o'clock first" if number <= 4 else "half way into the widest gap"
        return f"At {staple.side}, {place}. Take up only what lies slack; going round and round would gather it."
    if staple.at_corner:
        return "Corner: fold it, the same fold on the same side for all of a set, then staple it flat."
    if plan.order == "cross first" and before is not None and OPPOSITE.get(staple.side) == before.side:
        return f"Opposite staple {number - 1}. Take up only what lies slack; the thread line stays straight."
    if plan.order == "cross first":
        return f"On the {staple.side} edge, half way into the widest gap. Leave the last 6 cm before every corner open."
    return f"On the {staple.side} edge, from its middle out. Pull against the side that is fixed."


@dataclass(frozen=True)
class Sketch:
    """A small drawing on paper: its view box, its paths with what each is, and words with their places."""

    view: str
    paths: tuple[tuple[str, str], ...]
    words: tuple[tuple[str, str, str], ...] = ()
    size: str = "12"


def fold_sketch(step: FoldStep) -> Sketch:
    """Return one step of a fold, to scale, seen from below, the corner's front edge at the bottom."""
    points = [p for face in step.faces for p in face.points]
    x0, y0, x1, y1 = bounds_of(points)
    paths = []
    for face in step.faces:
        if face.kind == "arrow":
            paths.append((face.kind, _arrow(*face.points, top=y1)))
        else:
            paths.append((face.kind, path_of(face.points, y1, closed=len(face.points) > 2)))
    edge = 10.0
    view = view_round((x0, y0, x1, y1), edge)
    return Sketch(view, tuple(paths))


def _arrow(tail: Point, tip: Point, *, top: float) -> str:
    dx, dy = tip[0] - tail[0], tip[1] - tail[1]
    long_ = (dx * dx + dy * dy) ** 0.5 or 1.0
    u = (dx / long_, dy / long_)
    barbs = [(tip[0] - u[0] * 9 + s * u[1] * 6, tip[1] - u[1] * 9 - s * u[0] * 6) for s in (-1, 1)]
    return path_of([tail, tip], top, closed=False) + path_of([barbs[0], tip, barbs[1]], top, closed=False)


def cuts_sketch(
    shape: Shape, cuts: list[tuple[Point, float, ReliefCut | None]], curves: tuple[CurvedEdge, ...]
) -> Sketch:
    """Return a panel face up with its posts, the cuts toward them and the small ones on its curves."""
    outer = shape.cut_line
    x0, y0, x1, y1 = outer.bounds
    size = max(x1 - x0, y1 - y0)
    paths = [("cloth", path_of(outer.points, y1)), ("finished", path_of(shape.outline.points, y1))]
    words = []
    for number, (at, width, cut) in enumerate(cuts, 1):
        half = width / 2
        box = [(at[0] - half, at[1] - half), (at[0] + half, at[1] - half), (at[0] + half, at[1] + half),
               (at[0] - half, at[1] + half)]  # fmt: skip
        paths.append(("post", path_of(box, y1)))
        paths += [("cut", path_of(line, y1, closed=False)) for line in (cut.lines if cut else ())]
        words.append((fixed(at[0]), fixed(y1 - at[1] + size * 0.012), str(number)))
    for curve in curves:
        paths += [("snip", path_of(snip.line, y1, closed=False)) for snip in curve.snips]
    edge = size * 0.04
    view = view_round((x0, y0, x1, y1), edge)
    return Sketch(view, tuple(paths), tuple(words), fixed(max(9.0, size * 0.036)))


def pleats_sketch(made: Pleats, *, is_round: bool) -> Sketch:
    """Return pleats as a fan, all the way round where the edge closes."""
    drawn = fan(made, sweep=2 * math.pi if is_round else math.pi)
    x0, y0, x1, y1 = bounds_of(drawn.outer)
    paths = [("cloth", path_of(drawn.outer, y1, closed=is_round)), ("finished", path_of(drawn.inner, y1, closed=False))]
    paths += [("crease", path_of(crease, y1, closed=False)) for crease in drawn.creases]
    paths += [("hidden", path_of(line, y1, closed=False)) for line in drawn.hidden]
    edge = (x1 - x0) * 0.06
    view = view_round((x0, y0, x1, y1), edge)
    return Sketch(view, tuple(paths))


def facing_sketch(board: Outline) -> Sketch:
    """Return two facings' boards, the second the first one's mirror image, tops up."""
    x0, y0, x1, y1 = board.bounds
    apart = (x1 - x0) * 0.25
    one = [(x - x0, y - y0) for x, y in board.points]
    other = [(2 * (x1 - x0) + apart - x, y) for x, y in one]
    high, wide = y1 - y0, 2 * (x1 - x0) + apart
    paths = [("board", path_of(points, high)) for points in (one, other)]
    middle = wide / 2
    paths.append(("crease", path_of([(middle, -high * 0.04), (middle, high * 1.04)], high, closed=False)))
    for points in (one, other):
        at = sum(x for x, _ in points) / len(points)
        paths.append(("arrow", _arrow((at, high * 0.35), (at, high * 0.65), top=high)))
    edge = high * 0.08
    return Sketch(view_round((0, 0, wide, high), edge), tuple(paths))


def sewing_sketch(job: Job, group: tuple[str, ...], runs: tuple[Run, ...]) -> Sketch:
    """Return the panels of a sewn cover opened out, each run of seams a path `run-1`, `run-2` … in their order."""
    drawn = opened_out_of(job)
    parts = [part for part in drawn.parts if part.key in group]
    if not parts:
        return Sketch("0 0 100 100", ())
    points = [p for part in parts for p in part.points]
    x0, y0, x1, y1 = bounds_of(points)
    size = max(x1 - x0, y1 - y0)
    paths = [("cloth", path_of(part.points, y1)) for part in parts]
    meetings = [m for m in job.kind.meets if m.is_seam]
    lines = seam_lines(job.kind, drawn)
    for number, run in enumerate(runs, 1):
        places = {meetings.index(seam.meeting) for seam in run.seams if seam.meeting in meetings}
        paths += [(f"run-{number}", path_of([line.begins, line.ends], y1, closed=False))
                  for line in lines if line.number in places]  # fmt: skip
    words = tuple((fixed(part.middle[0]), fixed(y1 - part.middle[1]), job.kind.part(part.key).short) for part in parts)
    edge = size * 0.04
    view = view_round((x0, y0, x1, y1), edge)
    return Sketch(view, tuple(paths), words, fixed(size * 0.03))


@dataclass(frozen=True)
class SeenDrawing:
    """A line on a photo: the photo and the line's number on it, its path, where its number stands, what it shows, how
    far it runs off straight in hundredths of its length.
    """

    photo: int
    number: int
    path: str
    x: str
    y: str
    found: Found
    look: LookAt
    off: float


@dataclass(frozen=True)
class PhotoDrawing:
    """A photo with the lines on it."""

    photo: Photo
    width: int
    height: int
    lines: tuple[SeenDrawing, ...]
    size: str


def photo_drawing(photo: Photo) -> PhotoDrawing:
    """Return a photo as large as it is, with what was drawn on it."""
    wide, high = photo.file.width, photo.file.height
    lines = []
    for number, line in enumerate(read_seen(photo.lines)):
        drawn = [(x * wide, y * high) for x, y in line.points]
        x, y = map(fixed, drawn[len(drawn) // 2])
        path, off = "M" + "L".join(f"{fixed(px)} {fixed(py)}" for px, py in drawn), 100 * line.off_straight(wide, high)
        lines.append(SeenDrawing(photo.pk, number, path, x, y, line.found, LOOKS[line.found.look], off))
    return PhotoDrawing(photo, wide, high, tuple(lines), fixed(max(wide, high) / 30))
