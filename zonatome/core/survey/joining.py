"""How the edges of one job's own furniture are held: panels joined and parted, a side held in several ways."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from zonatome.core.errors import BadInput
from zonatome.core.joins import join_named
from zonatome.core.survey.furniture import checked, is_drawn_above, unsewn
from zonatome.core.survey.kind import (
    SEAMS,
    Kind,
    Meeting,
    Side,
    in_run,
    side_of_edge,
)


def join_panels(
    kind: Kind, one: str, one_edge: str, other: str, other_edge: str, join: str, *, span: float | None = None
) -> Kind:
    """Return the kind in which two edges meet by this join; both are held by it from now on.

    Where both go on beyond it, `span` says how many mm of them meet.
    """
    join_named(join)
    for key, edge in ((one, one_edge), (other, other_edge)):
        if not kind.part(key).is_cut:
            raise BadInput("panel", kind.part(key).name, "a panel")
        if edge not in kind.part(key).edges:
            raise BadInput("side", edge, "one of " + ", ".join(kind.part(key).edges))
    if one == other:
        raise BadInput("panel", kind.part(other).name, "two different panels")
    if span is not None and not 0 < span <= 10_000:
        raise BadInput("span", span, "more than 0, up to 10 m")
    meeting = Meeting(one, one_edge, other, other_edge, join, span)
    again = next((m for m in kind.meets if set(m.ends) == set(meeting.ends)), None)
    meets = tuple(meeting if m is again else m for m in kind.meets) if again else (*kind.meets, meeting)
    made = _joined_along(replace(kind, meets=meets), (one, one_edge), join)
    mover = next(
        (
            k
            for k, host in ((other, one), (one, other))
            if made.part(k).on is None and not is_drawn_above(made.parts, k, host)
        ),
        None,
    )
    # one of the two stood by itself on the drawing: it now lies against the other
    if mover is not None and not made.part(mover).is_loose:
        side, by = (one_edge, other_edge) if mover == other else (other_edge, one_edge)
        host = one if mover == other else other
        moved = {"on": host, "side": side_of_edge(side), "by": side_of_edge(by)}
        made = replace(made, parts=tuple(replace(p, **moved) if p.key == mover else p for p in made.parts))  # type: ignore[arg-type]
    return checked(made)


def edge_held(kind: Kind, key: str, edge: str, join: str) -> Kind:
    """Return the kind in which an edge is held by this join; where it is a seam, the seam is, and so the partner's
    edge.

    A join in which nothing is sewn ends the seam: the partner's edge is then stapled under.
    """
    join_named(join)
    part = kind.part(key)
    if edge not in part.edges:
        raise BadInput("edge", edge, "one of " + ", ".join(part.edges))
    if kind.meetings_at(key, edge) and join in SEAMS:
        return checked(_joined_along(kind, (key, edge), join))
    made = unsewn(kind, lambda m: (key, edge) in m.ends and m.is_seam)
    parts = tuple(replace(p, joins=in_run(p, {key: {edge: join}})) if p.key == key else p for p in made.parts)
    return checked(replace(made, parts=parts))


def _joined_along(kind: Kind, end: tuple[str, str], join: str) -> Kind:
    """The kind with the seams of an edge joined so, and with them all that run on along the same edges: an edge is
    held one way.
    """
    ends, grown = {end}, True
    while grown:
        more = {e for m in kind.meets if ends & set(m.ends) for e in m.ends}
        grown = not more <= ends
        ends |= more
    return replace(kind, meets=tuple(replace(m, join=join) if ends & set(m.ends) else m for m in kind.meets))


def edge_parted_in(kind: Kind, key: str, side: Side, lengths: Sequence[float]) -> Kind:
    """Return the kind in which a side of a panel is held in so many ways, parted at these lengths in mm in the order
    of its run.

    Each part is held as the side was; a seam of the side stays with its first part. One length makes it whole again.
    """
    part = kind.part(key)
    if part.form == "disc" or not part.is_cut:
        raise BadInput("side", side, "a side of a four-sided panel")
    if not 1 <= len(lengths) <= 6 or any(not 5 <= length <= 10_000 for length in lengths):
        raise BadInput("lengths", list(lengths), "1 to 6 lengths of at least 5 mm")
    old = [e for e in part.edges if side_of_edge(e) == side]
    parted = {s: x for s, x in part.parted.items() if s != side} | ({side: tuple(lengths)} if len(lengths) > 1 else {})
    bare = replace(part, parted=parted, joins={})
    new = [e for e in bare.edges if side_of_edge(e) == side]
    joins = {e: j for e, j in part.joins.items() if side_of_edge(e) != side}
    joins |= {e: part.joins.get(old[min(n, len(old) - 1)], "stapled_under") for n, e in enumerate(new)}
    name = {e: new[min(n, len(new) - 1)] for n, e in enumerate(old)}
    meets = [
        m.with_end(key, key, name[_edge_of(m, key)]) if m.of(key) and _edge_of(m, key) in name else m
        for m in kind.meets
    ]
    made = replace(bare, joins=in_run(bare, {key: joins}))
    return checked(
        replace(kind, parts=tuple(made if p.key == key else p for p in kind.parts), meets=tuple(dict.fromkeys(meets)))
    )


def _edge_of(meeting: Meeting, key: str) -> str:
    return meeting.one_edge if meeting.one == key else meeting.other_edge


def part_panels(kind: Kind, one: str, other: str) -> Kind:
    """Return the kind in which two panels do not meet; on the drawing they are moved apart.

    BadInput when they did not.
    """
    pair = {one, other}
    drawn = any(p.on in pair and p.key in pair for p in kind.parts)
    if not drawn and not any({m.one, m.other} == pair for m in kind.meets):
        raise BadInput("panel", kind.part(other).name, f"a panel that meets {kind.part(one).name.lower()}")
    kind = unsewn(kind, lambda m: {m.one, m.other} == pair)
    parts = []
    for part in kind.parts:
        if part.on in pair and part.key in pair:
            elsewhere = next(
                (
                    m
                    for m in kind.meets
                    if m.of(part.key) and not is_drawn_above(kind.parts, part.key, m.partner(part.key))
                ),
                None,
            )
            if elsewhere is None:
                parts.append(replace(part, on=None))
            else:
                mine, (host, edge) = (
                    _edge_of(elsewhere, part.key),
                    elsewhere.beyond(part.key, _edge_of(elsewhere, part.key)),
                )
                parts.append(replace(part, on=host, side=side_of_edge(edge), by=side_of_edge(mine)))
        else:
            parts.append(part)
    return checked(replace(kind, parts=tuple(parts), together=_still_sewn(kind)))


def _still_sewn(kind: Kind) -> tuple[tuple[str, ...], ...]:
    """The covers sewn in one, without panels that no seam holds to another of them any more."""
    groups = []
    for group in kind.together:
        left = tuple(k for k in group if any(m.is_seam and m.of(k) and m.partner(k) in group for m in kind.meets))
        if len(left) > 1:
            groups.append(left)
    return tuple(groups)
