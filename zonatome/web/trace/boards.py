"""The board under a part, and the staples that hold it: round a board, or along its rails."""

from __future__ import annotations

from zonatome.core.errors import BadInput
from zonatome.core.fasten.chosen import Chosen
from zonatome.core.fasten.rails import ON, HeldEdge, held_edges, rail_plan, staples_about
from zonatome.core.fasten.staples import KeepOut, StaplePlan, staple_plan
from zonatome.core.formats.fastening_json import read_fastening
from zonatome.core.formats.piece_json import read_piece
from zonatome.core.trace.by_tape import Board
from zonatome.core.trace.shape import Shape
from zonatome.core.trace.usual import usual_shape
from zonatome.web.jobs.models import JobPart


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
    """Whether each of its edges is held on a board of its own. A panel that is sewn to others goes on rails, as they
    do.
    """
    return part.part.padded and all(join in ON for join in part.part.joins.values())


def shape_or_usual(part: JobPart) -> Shape:
    """Return a panel's shape, else the usual one of its kind."""
    return read_piece(part.shape) if part.shape is not None else usual_shape(part.part)


def held_edges_of(part: JobPart) -> tuple[HeldEdge, ...]:
    """Return the edges of a panel that staples hold on rails."""
    return held_edges(shape_or_usual(part), stands=part.part.stands)


def plan_of(part: JobPart) -> StaplePlan:
    """Return the staples of a part: round its board from below where that has been measured, else along its rails, face
    up. BadInput where no staple holds it.
    """
    keep_outs = [KeepOut(k.x, k.y, k.radius) for k in part.keep_outs.all()]
    if is_round_board(part):
        board = board_of(part)
        return staple_plan(
            board.outline, pitch=part.pitch, order=part.staple_order, keep_outs=keep_outs, is_round=board.is_round
        )
    rows = chosen_of(part).rows
    return rail_plan(held_edges_of(part), pitch=part.pitch, order=part.staple_order, keep_outs=keep_outs, rows=rows)


def staples_of(part: JobPart) -> int:
    """Return how many staples one panel takes: as planned, else about as many as its edges are long."""
    if part.staples_planned:
        return part.staples_planned
    lengths = read_piece(part.shape).length_on if part.shape is not None else part.part.edge_length
    return staples_about(part.part, lengths, pitch=part.pitch)
