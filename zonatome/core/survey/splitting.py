"""A panel of one job's own furniture split into strips that are sewn to each other."""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Literal, get_args

from zonatome.core.errors import BadInput
from zonatome.core.survey.furniture import checked, checked_name, key_for, short_of
from zonatome.core.survey.kind import (
    ACROSS,
    SIDES,
    Kind,
    Meeting,
    Part,
    Side,
    place_of_edge,
    side_of_edge,
)

Way = Literal["across", "along"]


ENDS: dict[Way, tuple[Side, Side]] = {"across": ("left", "right"), "along": ("bottom", "top")}  # of a run of strips


def _strip(
    old: Part, number: int, names: Sequence[str], into: Sequence[tuple[str, float]], way: Way, keeps: int, *, new: bool
) -> Part:
    """One strip of a panel that is split: it keeps the panel's joins at its own ends and along the split sides."""
    near, far = ENDS[way]
    name, share = into[number]
    is_kept = number == keeps
    ends = {side for side, at_end in ((near, number == 0), (far, number == len(into) - 1)) if at_end}
    joins = {e: j for e, j in old.joins.items() if side_of_edge(e) in ends}
    for side in SIDES:
        if side not in ends:
            as_before = (j for e, j in old.joins.items() if side_of_edge(e) == side and side not in (near, far))
            joins[side] = next(as_before, "sewn")
    strip = replace(
        old,
        key=names[number],
        name=checked_name(name),
        short=short_of(name),
        width=old.width * (share if way == "across" else 1),
        height=old.height * (1 if way == "across" else share),
        width_above=None,
        far=1.0,
        joins=joins,
        parted={s: old.parted[s] for s in old.parted if s in ends},
        mirror=None,
    )
    if is_kept:
        return strip
    on, side, by = (names[number + 1], near, far) if number < keeps else (names[number - 1], far, near)
    return replace(
        strip, on=on, side=side, by=by, padded=False, centred=False, buttons=None, channels=None,
        cover="new" if new else old.cover,
    )  # fmt: skip


def _with_strips(kind: Kind, key: str, strips: Sequence[Part], outer: Mapping[Side, str]) -> list[Part]:
    """The parts with strips in the place of a panel; what was drawn against its ends is drawn against theirs."""
    parts: list[Part] = []
    for part in kind.parts:
        if part.key == key:
            parts += strips
        elif part.on == key and part.side in outer:
            parts.append(replace(part, on=outer[part.side]))
        else:
            parts.append(replace(part, mirror=None) if part.mirror == key else part)
    return parts


def split_part(
    kind: Kind, key: str, *, into: Sequence[tuple[str, float]], way: Way = "across", keeps: int = 0, new: bool = False
) -> Kind:
    """Return the kind with a panel split into strips that are sewn to each other.

    `into` lists names and shares of the width (`across`, from the left) or of the height (`along`, from the
    bottom); the strip number `keeps` keeps the old key and so the record. With `new` only the new cover is
    split: the others are not there to come off. Raises BadInput for fewer than two strips or shares that
    don't make a whole.
    """
    old = kind.part(key)
    if way not in get_args(Way):
        raise BadInput("way", way, "one of " + ", ".join(get_args(Way)))
    if old.what != "panel" or old.form == "disc":
        raise BadInput("part", old.name, "a four-sided panel")
    if (
        not 2 <= len(into) <= 5
        or any(share <= 0.02 for _, share in into)
        or abs(sum(share for _, share in into) - 1) > 1e-6
    ):
        raise BadInput("shares", [round(s, 3) for _, s in into], "2 to 5 shares above 0.02 that make 1")
    near, far = ENDS[way]
    keys = [p.key for p in kind.parts]
    names: list[str] = []
    for n, (name, _) in enumerate(into):
        names.append(key if n == keeps else key_for(name, [*keys, *names]))
    strips = [_strip(old, n, names, into, way, keeps, new=new) for n in range(len(into))]
    parts = _with_strips(kind, key, strips, {near: names[0], far: names[-1]})
    if old.on is not None and old.by in (near, far):  # the strip next to the old neighbour carries the drawing
        parts = _hung_from(parts, names, old, first=old.by == near)
    over = list(kind.over)
    for a, b in kind.over:
        over += [(n, b) for n in names if a == key and n != key] + [(a, n) for n in names if b == key and n != key]
    shares = [share for _, share in into]
    meets = [one for m in kind.meets for one in _meetings_of_strips(m, old, names, shares, (near, far))]
    meets += [Meeting(a, far, b, near, "sewn") for a, b in itertools.pairwise(names)]
    group = kind.sewn_with(key)
    groups = [g for g in kind.together if key not in g]
    groups.append(tuple(dict.fromkeys(k for g in group for k in (names if g == key else [g]))))
    return checked(
        replace(kind, parts=tuple(parts), over=tuple(dict.fromkeys(over)), meets=tuple(meets), together=tuple(groups))
    )


def _meetings_of_strips(
    meeting: Meeting, old: Part, names: Sequence[str], shares: Sequence[float], ends: tuple[str, str]
) -> list[Meeting]:
    """The seams of the strips that a panel was split into, in place of one of the whole.

    A seam on an outer side goes to the strip that lies there; one along all strips becomes one for each, in the order
    in which the partner passes them, which is against the run of the panel's own side.
    """
    if not meeting.of(old.key):
        return [meeting]
    edge = meeting.one_edge if meeting.one == old.key else meeting.other_edge
    side, place = side_of_edge(edge), place_of_edge(edge)
    if side in ends:
        return [meeting.with_end(old.key, names[0] if side == ends[0] else names[-1], edge)]
    if place:  # the strip in which the middle of the part lies
        lengths = old.parted[side] if side in ("bottom", "right") else old.parted[side][::-1]
        number = place - 1 if side in ("bottom", "right") else len(lengths) - place
        middle = (sum(lengths[:number]) + lengths[number] / 2) / sum(lengths)
        past = list(itertools.accumulate(shares))
        return [
            meeting.with_end(old.key, next(n for n, p in zip(names, past, strict=True) if p >= middle - 1e-9), side)
        ]
    passed = list(reversed(names)) if side in ("bottom", "right") else list(names)
    return [meeting.with_end(old.key, name, side) for name in passed]


def _hung_from(parts: list[Part], names: list[str], old: Part, *, first: bool) -> list[Part]:
    """Lay strips one after the other away from the neighbour that the whole panel was drawn against."""
    chain = names if first else names[::-1]
    place = {chain[0]: (old.on, old.side)} | {name: (host, ACROSS[old.by]) for host, name in itertools.pairwise(chain)}
    return [replace(p, on=place[p.key][0], side=place[p.key][1], by=old.by) if p.key in place else p for p in parts]
