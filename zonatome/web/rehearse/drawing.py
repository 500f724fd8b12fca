"""A rehearsal from above: the cloth, its threads, what is tight and what is slack, the staples."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from zonatome.core.body.build import body_of
from zonatome.core.body.cloth import Look, colour_of, usual_piece
from zonatome.core.body.picture import Dress, picture_of
from zonatome.core.body.views import USUAL_VIEW, best_view, view_named
from zonatome.core.fasten.questions import Growing, Question
from zonatome.core.fasten.rehearsal.faults import Suspect
from zonatome.core.fasten.rehearsal.practice import Piece
from zonatome.core.fasten.rehearsal.printed import printed_on
from zonatome.core.fasten.rehearsal.weave import Grid
from zonatome.core.fasten.relief import Post, ReliefCut
from zonatome.core.formats.body_svg import body_svg
from zonatome.core.formats.svg_paths import fixed, path_of
from zonatome.core.outline import Outline
from zonatome.core.survey.kind import Kind
from zonatome.web.rehearse.seat import StripeLine
from zonatome.web.rehearse.services import COLOURS, Stand

SHOWN = 4  # times as large as they are threads leave their lines in the drawing
ROOM = 26.0
TOLD_EVERY = 5  # of crowded staples
SOFTLY = 0.45  # of the triangles' size, by which shading is blurred
SLACK_FROM = (0.001, 0.003, 0.007, 0.015, 0.03)  # shares, each shaded deeper
TIGHT_FROM = (1.5, 2.0, 2.8)  # times the mean tension
OFF_FROM = 1.0  # mm: a thread that is straighter is drawn as one that is
WAVES = 3  # strokes for one place that wrinkles
LONGEST_WAVE = 60.0
SKETCHED = 160.0  # mm to each side of a post
LARGEST_PIECE = 1180.0  # mm across a small drawing


@dataclass(frozen=True)
class Shade:
    """Triangles of one depth of shading."""

    kind: str
    level: int
    path: str


@dataclass(frozen=True)
class ThreadLine:
    """A thread as it runs, its way off its line drawn SHOWN times as large; whether it is off enough to be seen."""

    path: str
    is_warp: bool
    is_off: bool


@dataclass(frozen=True)
class PinDot:
    """A staple, or a place for one: its number, as it is written too, where it is, how hard it was pulled, what it is
    to the page.
    """

    number: int
    index: int
    told: str
    x: str
    y: str
    tip_x: str
    tip_y: str
    words_x: str
    words_y: str
    kind: str
    label: str


@dataclass(frozen=True)
class SheetDrawing:
    """The whole drawing."""

    name: str
    view: str
    top: float
    softly: str
    cloth: str
    edge: str
    colour: str
    shades: tuple[Shade, ...]
    printed: str
    posts: tuple[str, ...]
    cuts: tuple[str, ...]
    threads: tuple[ThreadLine, ...]
    waves: tuple[str, ...]
    foreseen: tuple[str, ...]
    photo: tuple[str, str, str, str] | None
    pins: tuple[PinDot, ...]
    size: str
    radius: str


@dataclass(frozen=True)
class PieceSketch:
    """A practice piece in small: its view box, its cloth, its pad, its pattern, the colour."""

    view: str
    cloth: str
    pad: str
    printed: str
    colour: str


def piece_sketch(piece: Piece) -> PieceSketch:
    """Return a practice piece's small drawing, all of them to one scale."""
    board = piece.board
    x0, y0, x1, y1 = board.cloth.bounds
    side = LARGEST_PIECE
    view = f"{fixed((x0 + x1 - side) / 2)} {fixed((y1 - y0 - side * 0.62) / 2)} {fixed(side)} {fixed(side * 0.62)}"
    figures = printed_on(board.edge, piece.repeats)
    printed = "".join(path_of([(x, y) for x, y in one.tolist()], y1) for one in figures)
    paths = (path_of(board.cloth.points, y1), path_of(board.edge.points, y1), printed)
    return PieceSketch(view, *paths, COLOURS[piece.sort])


@dataclass(frozen=True)
class QuestionSketch:
    """What a question is about, drawn to scale: its view box, what one sees in words, its paths with what each is."""

    view: str
    words: str
    paths: tuple[tuple[str, str], ...]


def question_sketch(question: Question, *, is_answered: bool) -> QuestionSketch | None:
    """Return the drawing of a question about a cut or a pad; None of one about a piece of furniture."""
    if question.cut is not None and question.post is not None and question.piece is not None:
        return _cut_sketch(question.cut, question.post, question.piece, is_answered=is_answered)
    if question.pad is not None:
        return _pad_sketch(question.pad)
    return None


def _cut_sketch(cut: ReliefCut, post: Post, piece: Outline, *, is_answered: bool) -> QuestionSketch:
    """A post before the cut edge; the cut toward it once it is answered."""
    x, face = post.at
    half, low = post.width / 2, piece.bounds[1]
    top = face + SKETCHED * 0.4
    body = [
        (x - half, face),
        (x + half, face),
        (x + half, max(low, face - post.width)),
        (x - half, max(low, face - post.width)),
    ]
    paths = [("sketch-cloth", path_of(piece.points, top)), ("sketch-post", path_of(body, top))]
    paths.append(("sketch-face", path_of(body[:2], top, closed=False)))
    if is_answered:
        paths += [("sketch-cut", path_of(line, top, closed=False)) for line in cut.lines]
    view = f"{fixed(x - SKETCHED)} 0 {fixed(2 * SKETCHED)} {fixed(top - low + 24)}"
    return QuestionSketch(
        view,
        "To scale: red is the face of the post, the line below is the cut edge"
        + (", dashed the cut." if is_answered else "."),
        tuple(paths),
    )


def question_picture(question: Question, kind: Kind) -> str:
    """Return the picture of the furniture that a question is about, as SVG: in velvet, bare where panels are off, the
    panel that is asked about in another tone.
    """
    body = body_of(kind)
    look = usual_piece(Look(colour_of(COLOURS["velvet"])))
    on_body = {patch.key for patch in body.patches}
    is_on_it = question.panel in on_body
    view = best_view(body, question.panel) if is_on_it else view_named(USUAL_VIEW)
    tones = {question.panel: "next"} if is_on_it else {}
    dress = Dress(dict.fromkeys(on_body, look), off=frozenset(question.off), tones=tones)
    return body_svg(picture_of(body, view, dress), title=kind.name)


def _pad_sketch(pad: Growing) -> QuestionSketch:
    """A pad on its board seen from the front, as it was and as it is."""
    top = pad.after + 30
    half = pad.wide / 2

    def box(low: float, high: float) -> str:
        return path_of([(-half, low), (half, low), (half, high), (-half, high)], top)

    paths = [("sketch-foam", box(0, pad.after)), ("sketch-before", box(0, pad.before))]
    if pad.board:
        paths.append(("sketch-post", box(-pad.board, 0)))
    view = f"{fixed(-half - 30)} 0 {fixed(pad.wide + 60)} {fixed(top + pad.board + 30)}"
    return QuestionSketch(view, "From the front, to scale: dashed the pad as it was.", tuple(paths))


def sheet_drawing(
    stand: Stand,
    *,
    name: str = "own",
    next_spot: int = -1,
    suspects: Sequence[Suspect] = (),
    stripes: Sequence[StripeLine] = (),
    is_over_photo: bool = False,
) -> SheetDrawing:
    """Return a rehearsal's drawing, the panel face up; the place that comes next and staples at fault stand out. Over
    a photo of the seat threads are drawn where they are, and foreseen stripes beside real ones.
    """
    times = 1 if is_over_photo else SHOWN
    board = stand.set_up.board
    x0, y0, x1, y1 = board.cloth.bounds
    top = y1 + ROOM
    pitch = _pitch(stand)
    size = max(x1 - x0, y1 - y0) * 0.021
    return SheetDrawing(
        name,
        f"{fixed(x0 - ROOM)} 0 {fixed(x1 - x0 + 2 * ROOM)} {fixed(y1 - y0 + 2 * ROOM)}",
        top,
        fixed(SOFTLY * stand.sheet.spacing),
        path_of(board.cloth.points, top),
        path_of(board.edge.points, top),
        stand.set_up.colour,
        _shades(stand, top),
        "" if is_over_photo else _printed(stand, top),
        tuple(path_of(hole, top) for hole in board.holes),
        tuple(path_of(slit, top, closed=False) for slit in board.slits),
        tuple(_threads(stand, top, times)),
        tuple(_waves(stand, top)),
        _foreseen(stripes, top),
        (fixed(x0), fixed(top - y1), fixed(x1 - x0), fixed(y1 - y0)) if is_over_photo else None,
        (
            *_left(stand, top, next_spot),
            *_pins(stand, top, size, suspects, every=1 if pitch > 1.4 * size else TOLD_EVERY),
        ),
        fixed(size),
        fixed(min(size, 0.6 * pitch) * 0.62),
    )


def _foreseen(stripes: Sequence[StripeLine], top: float) -> tuple[str, ...]:
    """Where stripes were foreseen that were drawn on the photo."""
    lines = [one.found.foreseen_line.tolist() for one in stripes if one.found is not None]
    return tuple(path_of([(x, y) for x, y in line], top, closed=False) for line in lines)


def _pitch(stand: Stand) -> float:
    """How far apart the places of the plan stand, mm, where they stand closest."""
    at = np.array([[pin.x, pin.y] for pin in stand.set_up.plan])
    far = np.hypot(*(at[:, None] - at[None]).transpose(2, 0, 1))
    np.fill_diagonal(far, np.inf)
    return float(np.median(far.min(axis=1)))


def _shades(stand: Stand, top: float) -> tuple[Shade, ...]:
    sheet, found = stand.sheet, stand.seen
    corners = sheet.mesh.nodes[sheet.mesh.triangles[found.numbers]]
    shades = []
    if len(stand.state.pins) > 1:
        most = np.maximum(found.warp, found.weft)
        rate = most / max(found.tension, 0.05)
        shades += _levels("tight", rate, TIGHT_FROM, corners, top)
    return (*shades, *_levels("slack", found.shorter, SLACK_FROM, corners, top))


def _levels(kind: str, rate: Grid, steps: tuple[float, ...], corners: Grid, top: float) -> list[Shade]:
    found = []
    for level, least in enumerate(steps):
        most = steps[level + 1] if level + 1 < len(steps) else np.inf
        chosen = corners[(rate >= least) & (rate < most)]
        if len(chosen):
            path = "".join(path_of([(x, y) for x, y in triangle], top) for triangle in chosen.tolist())
            found.append(Shade(kind, level + 1, path))
    return found


def _printed(stand: Stand, top: float) -> str:
    """The cloth's own figures as they lie now, their way off drawn as that of the threads."""
    figures = stand.set_up.printed
    if not figures:
        return ""
    flat = np.concatenate(figures)
    now = flat + SHOWN * (stand.sheet.moved(flat, stand.state, is_kept=True) - flat)
    ends = np.cumsum([len(figure) for figure in figures])
    return "".join(path_of([(x, y) for x, y in one.tolist()], top) for one in np.split(now, ends[:-1]))


def _threads(stand: Stand, top: float, times: int) -> list[ThreadLine]:
    lines = []
    for thread in stand.seen.threads:
        drawn = thread.before + times * (thread.now - thread.before)
        path = path_of([(x, y) for x, y in drawn.tolist()], top, closed=False)
        lines.append(ThreadLine(path, thread.is_warp, thread.off >= OFF_FROM))
    return lines


def _waves(stand: Stand, top: float) -> list[str]:
    """Where cloth wrinkles, strokes the way that the wrinkles run."""
    found = []
    for wrinkle in stand.seen.wrinkles:
        turn = np.radians(wrinkle.degrees)
        way, aside = np.array([np.cos(turn), np.sin(turn)]), np.array([-np.sin(turn), np.cos(turn)])
        half = min(LONGEST_WAVE, np.sqrt(wrinkle.area)) / 2
        for k in range(WAVES):
            middle = np.array([wrinkle.x, wrinkle.y]) + aside * (k - (WAVES - 1) / 2) * 9
            ends = [middle - way * half, middle + aside * 3, middle + way * half]
            found.append(path_of([(float(x), float(y)) for x, y in ends], top, closed=False))
    return found


def _left(stand: Stand, top: float, next_spot: int) -> list[PinDot]:
    plan = stand.set_up.plan
    return [
        PinDot(
            0, n, "", fixed(plan[n].x), fixed(top - plan[n].y), "", "", "", "",
            "next" if n == next_spot else "left", f"A place on the {plan[n].side} edge",
        )
        for n in stand.left
    ]  # fmt: skip


def _pins(stand: Stand, top: float, size: float, suspects: Sequence[Suspect], *, every: int) -> list[PinDot]:
    """The staples that hold; where they stand so close that their numbers would meet, every fifth is told, and those
    at fault.
    """
    named = {suspect.number: rank for rank, suspect in enumerate(suspects, 1)}
    found = []
    for n, pin in enumerate(stand.state.pins):
        long = size * 1.9 * (pin.pull / stand.set_up.hand) ** 0.5
        tip = (pin.x + pin.out[0] * long, pin.y + pin.out[1] * long)
        words = (pin.x - pin.out[0] * size * 1.35, pin.y - pin.out[1] * size * 1.35 - size * 0.35)
        kind = f"fault fault--{named[n]}" if n in named else "last" if n == len(stand.state.pins) - 1 else "in"
        is_told = n in named or every == 1 or n in (0, len(stand.state.pins) - 1) or (n + 1) % every == 0
        found.append(
            PinDot(
                n + 1, n, str(n + 1) if is_told else "",
                fixed(pin.x), fixed(top - pin.y), fixed(tip[0]), fixed(top - tip[1]), fixed(words[0]),
                fixed(top - words[1]), kind, f"Staple {n + 1}, on the {pin.side} edge",
            )
        )  # fmt: skip
    return found
