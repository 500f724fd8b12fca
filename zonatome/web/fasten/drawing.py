"""The board from below with its staples, numbered in order."""

from __future__ import annotations

from dataclasses import dataclass

from zonatome.core.fasten.staples import CORNER_OPEN, CROWN, StaplePlan
from zonatome.core.formats.svg_paths import down, fixed, path_of
from zonatome.core.outline import Outline, Point, offset_by_edge
from zonatome.web.jobs.models import JobPart

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


def board_drawing(part: JobPart, board: Outline, plan: StaplePlan) -> BoardDrawing:
    """Return the drawing: seen from below, front edge at the bottom."""
    cloth = offset_by_edge(board, [CLOTH] * len(board.points))
    x0, y0, x1, y1 = cloth.bounds
    top = y1 + ROOM
    size = max(9.0, max(x1 - x0, y1 - y0) * 0.024)
    corners = [board.points[i] for i in board.corners()] if len(board.corners()) <= 8 else []
    bx0, by0, bx1, by1 = board.bounds
    mx, my = (bx0 + bx1) / 2, (by0 + by1) / 2
    staples = []
    for s in plan.staples:
        ux, uy = s.pull[1], -s.pull[0]
        half = CROWN / 2
        out = size * 1.35
        tip = (s.x + s.pull[0] * CLOTH * 0.98, s.y + s.pull[1] * CLOTH * 0.98)
        back = (tip[0] - s.pull[0] * 9, tip[1] - s.pull[1] * 9)
        pull = path_of([(s.x + s.pull[0] * 8, s.y + s.pull[1] * 8), tip], top, closed=False)
        pull += path_of(
            [(back[0] + ux * 6, back[1] + uy * 6), tip, (back[0] - ux * 6, back[1] - uy * 6)], top, closed=False
        )
        staples.append(
            StapleDrawing(
                s.number,
                path_of([(s.x - ux * half, s.y - uy * half), (s.x + ux * half, s.y + uy * half)], top, closed=False),
                fixed(s.x),
                fixed(top - s.y),
                fixed(s.x - s.pull[0] * out),
                fixed(top - s.y + s.pull[1] * out + size * 0.35),
                pull,
                s.side,
                s.at_corner,
                _words(s.number, plan),
            )
        )
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
        tuple(corners),
        tuple(down(c, top) for c in corners),
        fixed(min(CORNER_OPEN, min(bx1 - bx0, by1 - by0) / 4)),
        tuple(staples),
        keep_outs,
        middle,
        fixed(size),
        fixed(size * 1.5),
    )


OPPOSITE = {"back": "front", "front": "back", "left": "right", "right": "left"}


def _words(number: int, plan: StaplePlan) -> str:
    """What to do at this staple."""
    staple = plan.staples[number - 1]
    before = plan.staples[number - 2] if number > 1 else None
    if number == 1:
        where = f"At {staple.side}" if "o'clock" in staple.side else f"Middle of the {staple.side} edge"
        return f"{where}. Notch of the cloth on the mark of the rail; check top and nap before the second."
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
