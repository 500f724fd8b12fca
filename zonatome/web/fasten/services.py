"""Putting panels on: the order, the stages of each, what was chosen and done; what the whole job takes to buy."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from django.db import transaction

from zonatome.core.errors import BadInput
from zonatome.core.fasten.chosen import Chosen, PostCut
from zonatome.core.fasten.closings import CLOSED_FROM, ClosedEdge, ClosingBought, closed_edge, closings_bought
from zonatome.core.fasten.folds import Corner, FoldKey, corners_of, fits
from zonatome.core.fasten.pleats import Pleats, pleats, round_edge
from zonatome.core.fasten.rails import ON, edges_of_cut_outs
from zonatome.core.fasten.relief import CurvedEdge, ReliefCut, curved_edges, relief_cut
from zonatome.core.fasten.sewing import Run, seams_of, sewing_order
from zonatome.core.fasten.stages import LookAt, Stage, Tick, before_it, looks_for, stages_of, ticks_for
from zonatome.core.formats.fastening_json import write_fastening
from zonatome.core.outline import Point
from zonatome.core.strip.order import rebuild_order, thing_name, things, usual_order
from zonatome.core.trace.shape import Edge, Shape
from zonatome.web.jobs.models import Job, JobPart
from zonatome.web.strip.way_back import way_back_of
from zonatome.web.trace.boards import board_of, chosen_of, is_round_board, shape_or_usual, staples_of
from zonatome.web.trace.services import partner_of

USUAL_FOLD: FoldKey = "parcel"
SAME_POST = 5.0  # mm
USUAL_RAIL = 18.0  # mm, where no board is measured


@dataclass(frozen=True)
class Going:
    """One thing that goes on: its first panel, all its panels, what one calls it, how it is held, whether it is on."""

    part: JobPart
    members: tuple[JobPart, ...]
    name: str
    held: str
    state: str
    is_on: bool


def going_on(job: Job) -> list[Going]:
    """Return the panels in the order in which they go on: by the way back that stripping gave, else the kind's usual
    one; what is sewn together is one thing.
    """
    rows = {p.key: p for p in job.panels()}
    back = {key: line["back"] for line in way_back_of(job) for key in line["keys"]}
    off = [*job.off_keys, *(key for key in usual_order(job.kind) if key not in job.off_keys)]
    order = [key for key in rebuild_order(job.kind, off) if key in rows]
    order += [key for key in rows if key not in order]
    found = []
    for group in things(job.kind, order):
        members = tuple(rows[key] for key in group)
        line = back.get(group[0])
        held = ", ".join(line.held) if line else members[0].held
        found.append(
            Going(
                members[0], members, thing_name(job.kind, group), held, line.words if line else "",
                all(is_on(row) for row in members),
            )
        )  # fmt: skip
    return found


def alone(part: JobPart) -> Going:
    """Return what goes on by itself when all else is on: the bottom cloth."""
    return Going(part, (part,), part.name, part.held, "", is_on(part))


def is_on(part: JobPart) -> bool:
    """Whether a panel is on: all its staples are in, or somebody has said so."""
    count = staples_of(part) * part.job.count
    return part.on_again or (bool(count) and part.staples_done >= count)


def next_to_go_on(going: Sequence[Going]) -> JobPart | None:
    """Return the panel that goes on now, of all in their order: the first that is not on."""
    return next((row for thing in going for row in thing.members if not is_on(row)), going[0].part if going else None)


@dataclass(frozen=True)
class Facts:
    """What a panel is while it is put on: its shape, its corners and curves, its stages; whether it is sewn into a
    cover, and whether all seams of that one are sewn.
    """

    shape: Shape
    chosen: Chosen
    stages: tuple[Stage, ...]
    ticks: tuple[Tick, ...]
    looks: tuple[LookAt, ...]
    before: list[tuple[str, bool]]
    corners: tuple[Corner, ...]
    curves: tuple[CurvedEdge, ...]
    is_sewn: bool
    is_round: bool
    all_sewn: bool | None


def facts_of(part: JobPart) -> Facts:
    """Return what a panel is while it is put on."""
    job, shape, chosen = part.job, shape_or_usual(part), chosen_of(part)
    is_sewn = len(job.kind.sewn_with(part.key)) > 1
    is_round = part.part.form == "disc"
    corners = corners_for(part, shape, chosen)
    curves = curved_edges(shape)
    cloth = part.cloth.cloth if part.cloth else None
    cut_out = edges_of_cut_outs(shape)
    joins = {edge.name: edge.join for n, edge in enumerate(shape.edges) if n not in cut_out}
    on = [p.key for p in job.panels() if is_on(p)]
    has_pad = part.has_pad if part in job.pads() else None
    sewn = all_sewn(part) if is_sewn else None
    return Facts(
        shape,
        chosen,
        stages_of(part.part, joins, corners=len(corners), curves=len(curves), is_sewn=is_sewn, is_round=is_round),
        ticks_for(
            has_pattern=cloth is not None and cloth.pattern != "plain",
            has_nap=cloth is not None and cloth.direction == "one_way",
            is_sewn=is_sewn,
        ),
        looks_for(
            part.part,
            is_pair=bool(part.part.mirror),
            has_stripe=cloth is not None and cloth.pattern == "stripe",
            is_sewn=is_sewn,
        ),
        before_it(job.kind, part.part, on=on, has_pad=has_pad, is_sewn=sewn),
        corners,
        curves,
        is_sewn,
        is_round,
        sewn,
    )


def rail_of(part: JobPart) -> float:
    """Return how thick the board or rail under a panel is, mm."""
    return part.board_thickness if part.board_thickness else USUAL_RAIL


def corners_for(part: JobPart, shape: Shape, chosen: Chosen) -> tuple[Corner, ...]:
    """Return the corners at which a panel is folded: those of its board, or of its shape where two edges that are
    pulled under meet. Their wrap is what goes down the rail and under it, or what somebody measured.
    """
    if part.part.form == "disc":
        return ()
    if is_round_board(part):
        outline = board_of(part).outline
        at, wrap = outline.corners(), rail_of(part) + part.wrap
    else:
        edges = shape.edges
        at = tuple(
            edge.start for n, edge in enumerate(edges) if edge.join == edges[n - 1].join == "stapled_under"
        )  # fmt: skip
        outline, wrap = (
            shape.outline,
            rail_of(part) + max((e.adds for e in edges if e.join == "stapled_under"), default=0),
        )
    found = corners_of(outline.points, at, chosen.wrap or min(600.0, max(10.0, wrap)))
    return tuple(replace(corner, radius=chosen.radius) for corner in found)


def closed_last(shape: Shape) -> list[Point]:
    """Return the corners of a panel on rails that are closed last: where two edges that staples hold meet; of a cut-out
    the inner ones, since what lies round them is stapled last as well.
    """
    edges, cut_out = shape.edges, edges_of_cut_outs(shape)
    if len(edges) < 2:
        return []
    return [
        shape.outline.points[edge.start]
        for n, edge in enumerate(edges)
        if edge.join in ON and edges[n - 1].join in ON and (n in cut_out) == ((n - 1) % len(edges) in cut_out)
    ]


def fold_of(corner: Corner, chosen: Chosen) -> FoldKey:
    """Return the fold that was chosen for a panel's corners, else the usual one that goes with them."""
    for key in (chosen.fold, USUAL_FOLD, "gathers"):
        if key and not fits(key, corner):  # type: ignore[arg-type]
            return key  # type: ignore[return-value]
    return "triangle"


def pleats_of(part: JobPart, shape: Shape, chosen: Chosen) -> Pleats:
    """Return the pleats of a round panel: between the lengths that were measured, else between its cut edge and the rim
    of its board. The cloth that goes down the sides of a pad has to be taken up at the rim as well as what goes under.
    """
    if chosen.pleats is not None:
        return chosen.pleats
    radius = shape.outline.width / 2
    cut = radius + max((e.adds for e in shape.edges), default=part.wrap)
    rim = min(radius, board_of(part).width / 2) if is_round_board(part) else radius
    return pleats(*round_edge(rim, cut - rim), deep=chosen.deep)


def cuts_of(shape: Shape, chosen: Chosen) -> list[tuple[PostCut, ReliefCut | None, str]]:
    """Return the cut toward each post of a panel; where a post is not in its shape any more, why."""
    found: list[tuple[PostCut, ReliefCut | None, str]] = []
    for one in chosen.posts:
        try:
            found.append((one, relief_cut(shape, one.post, sort=one.sort, stop=one.stop), ""))
        except BadInput as refusal:
            found.append((one, None, refusal.told))
    return found


def side_words(edge: Edge) -> str:
    """Return the side of its panel on which an edge lies, in words."""
    return f"{edge.side}, part {edge.part}" if edge.part else edge.side


def posts_marked(shape: Shape, chosen: Chosen) -> list[Point]:
    """Return the posts that are marked on a shape and have no cut yet, from its left and lower edge, mm."""
    x0, y0, _, _ = shape.outline.bounds
    known = [one.post.at for one in chosen.posts]
    at = [mark.points[0] for mark in shape.marks if mark.means == "post"]
    return [(x - x0, y - y0) for x, y in at if all(math.dist((x, y), post) > SAME_POST for post in known)]


def closings_of(shape: Shape, chosen: Chosen) -> list[ClosedEdge]:
    """Return the edges of a panel that are closed on show, each in its way."""
    found = []
    for number, edge in enumerate(shape.edges):
        key = chosen.closings.get(edge.name, edge.join if edge.join in CLOSED_FROM else "")
        if key:
            found.append(closed_edge(side_words(edge), shape.edge_length(number), key))
    return found


def closings_of_job(job: Job) -> tuple[ClosingBought, ...]:
    """Return what the closings of all panels take to buy."""
    rows = [(edge, part.pieces) for part in job.panels() for edge in closed_edges(part)]
    return closings_bought(rows)


def closed_edges(part: JobPart) -> list[ClosedEdge]:
    """Return the edges of a panel that are closed on show, as they are chosen to be, else as they are held."""
    chosen = chosen_of(part)
    if not chosen.closings and not any(join in CLOSED_FROM for join in part.part.joins.values()):
        return []
    return closings_of(shape_or_usual(part), chosen)


def runs_of(part: JobPart) -> tuple[Run, ...]:
    """Return the seams of the cover that a panel is sewn into, in the order of sewing."""
    job = part.job
    group = job.kind.sewn_with(part.key)
    shapes = {p.key: p for p in job.panels()}

    def length(key: str, edge: str) -> float:
        row = shapes.get(key)
        return shape_or_usual(row).length_on(edge) if row is not None else job.kind.usual_length(key, edge)

    chosen = chosen_of(first_sewn(part))
    seams = seams_of(job.kind, group, length, top_stitched=chosen.top_stitched, welted=chosen.welted)
    return sewing_order(job.kind, seams)


def all_sewn(part: JobPart) -> bool:
    """Whether all seams of the cover that a panel is sewn into are sewn."""
    return chosen_of(first_sewn(part)).sewn >= len(runs_of(part))


def first_sewn(part: JobPart) -> JobPart:
    """Return the panel that keeps what belongs to a whole sewn cover: its first."""
    rows = {p.key: p for p in part.job.panels()}
    return next((rows[key] for key in part.job.kind.sewn_with(part.key) if key in rows), part)


def keep_chosen(part: JobPart, change: Callable[[Chosen], Chosen], *, for_pair: bool = True) -> Chosen:
    """Keep a change of what was chosen for a panel, for its partner too: a pair is put on alike.

    Raises BadInput for what no panel has; then nothing is changed.
    """
    with transaction.atomic():
        after = change(chosen_of(part))
        part.fastening = write_fastening(after)
        part.save(update_fields=["fastening"])
        partner = partner_of(part) if for_pair else None
        if partner is not None:
            theirs = chosen_of(partner)
            alike = {k: getattr(after, k) for k in ("rows", "fold", "radius", "wrap", "outer", "inner", "deep")}
            partner.fastening = write_fastening(replace(theirs, **alike))
            partner.save(update_fields=["fastening"])
    return after
