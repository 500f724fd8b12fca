"""The board under a part, and the staples that hold it: round a board, or along its rails."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import replace

from zonatome.core.errors import BadInput
from zonatome.core.fasten.chosen import Chosen
from zonatome.core.fasten.rails import HeldEdge, held_edges, rail_plan, staples_about
from zonatome.core.fasten.staples import KeepOut, Order, StaplePlan, in_own_order, staple_plan
from zonatome.core.formats.fastening_json import read_fastening
from zonatome.core.formats.piece_json import read_piece
from zonatome.core.formats.trim_json import read_legs
from zonatome.core.rules import USUAL
from zonatome.core.trace.by_tape import Board, disc_shape, rectangle_shape
from zonatome.core.trace.shape import Shape, shape_of
from zonatome.core.trace.usual import usual_shape
from zonatome.core.trim.bottom import bottom_cloth, cut_round
from zonatome.web.jobs.models import JobPart

TURNED = dict.fromkeys(("top", "right", "bottom", "left"), "turned_under")


def board_of(part: JobPart) -> Board:
    """Return the board under a part; BadInput when it has not been measured."""
    if part.board_width is None or part.board_thickness is None:
        raise BadInput("board_width", None, f"the board under the {part.name.lower()} measured first")
    is_round = part.part.form == "disc"
    deep = part.board_depth if part.board_depth is not None and not is_round else part.board_width
    return Board(part.board_width, deep, part.board_thickness, is_round, part.board_back)


def chosen_of(part: JobPart) -> Chosen:
    """Return what was chosen and done while a panel is put on. Raises BadInput where the row holds what is none."""
    return read_fastening(part.fastening)


def is_round_board(part: JobPart) -> bool:
    """Whether its staples go round the underside of a board that has been measured."""
    return goes_round_a_board(part) and part.has_board


def goes_round_a_board(part: JobPart) -> bool:
    """Whether each of its edges is pulled under a board of its own. A panel that is sewn to others or ends in a rebate
    goes on rails.
    """
    return part.part.padded and set(part.part.joins.values()) == {"stapled_under"}


def shape_or_usual(part: JobPart) -> Shape:
    """Return a panel's shape, else the usual one of its kind; a bottom cloth's by the underside that was measured."""
    if part.shape is not None:
        return read_piece(part.shape)
    job = part.job
    if part.part.what != "bottom cloth" or not (job.underside_width and job.underside_depth):
        return usual_shape(part.part)
    is_round = part.part.form == "disc"
    made = bottom_cloth(job.underside_width, job.underside_depth, is_round=is_round, rules=job.rules)
    wide, deep = made.finished
    shape = disc_shape(part.name, wide, TURNED) if is_round else rectangle_shape(part.name, wide, deep, TURNED)
    if (legs := read_legs(job.legs)) and not is_round:
        with suppress(BadInput):  # legs that no longer stand under it: Trim says so
            finished = cut_round(made, legs, rules=job.rules).finished
            finished = finished.moved(-finished.bounds[0], -finished.bounds[1])
            shape = shape_of(part.name, finished, finished.corners(), TURNED)
    return replace(shape, edges=tuple(replace(e, adds=job.rules["bottom_turned"]) for e in shape.edges))


def pitch_of(part: JobPart) -> float:
    """Return how far apart its staples stand, mm: a bottom cloth's by its own rule, until somebody says otherwise."""
    if part.part.what == "bottom cloth" and part.pitch == USUAL["pitch"]:
        return part.job.rules["pitch_bottom"]
    return part.pitch


def held_edges_of(part: JobPart) -> tuple[HeldEdge, ...]:
    """Return the edges of a panel that staples hold on rails."""
    return held_edges(shape_or_usual(part), stands=part.part.stands)


def plan_of(part: JobPart) -> StaplePlan:
    """Return the staples of a part: round its board from below where that has been measured, else along its rails, face
    up; in the order that was chosen, or in its own where a rehearsal found one that still fits. BadInput where no
    staple holds it.
    """
    if part.staple_order != "own":
        return plan_in(part, part.staple_order)
    plan, chosen = plan_in(part, "cross first"), chosen_of(part)
    with suppress(BadInput):  # its pitch or its holes have changed since: cross first until one is kept anew
        return in_own_order(plan, chosen.own_order, chosen.own_why)
    return plan


def plan_in(part: JobPart, order: Order) -> StaplePlan:
    """Return the staples of a part as `plan_of` does, in an order."""
    keep_outs = [KeepOut(k.x, k.y, k.radius) for k in part.keep_outs.all()]
    if is_round_board(part):
        board = board_of(part)
        return staple_plan(board.outline, pitch=part.pitch, order=order, keep_outs=keep_outs, is_round=board.is_round)
    rows = chosen_of(part).rows
    return rail_plan(held_edges_of(part), pitch=pitch_of(part), order=order, keep_outs=keep_outs, rows=rows)


def staples_of(part: JobPart) -> int:
    """Return how many staples one panel takes: as planned, else about as many as its edges are long."""
    if part.staples_planned:
        return part.staples_planned
    lengths = read_piece(part.shape).length_on if part.shape is not None else part.part.edge_length
    return staples_about(part.part, lengths, pitch=part.pitch)
