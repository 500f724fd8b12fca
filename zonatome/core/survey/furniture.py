"""One job's own furniture: variants chosen, parts added, dropped, renamed, split; joins and layering changed.

Every function takes a kind and returns another; what it refuses changes nothing.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from dataclasses import replace
from functools import partial
from graphlib import CycleError, TopologicalSorter
from typing import get_args

from zonatome.core.errors import BadInput
from zonatome.core.joins import JOINS, join_named
from zonatome.core.survey.kind import (
    ACROSS,
    SIDES,
    Cover,
    Kind,
    Meeting,
    Part,
    Side,
    Variant,
    What,
    held_by_seams,
    in_run,
    side_of_edge,
)

MOST_PARTS = 60  # a piece of furniture with more parts than this is two pieces of furniture
MOST_NAME = 60


def with_variants(kind: Kind, chosen: Iterable[str]) -> Kind:
    """Return a kind in the chosen variants, in the kind's own order.

    Raises BadInput for a variant that the kind has not, or two that cannot stand beside each other.
    """
    wanted = set(chosen)
    known = {v.key for v in kind.variants}
    if wanted - known:
        there_are = ", ".join(v.key for v in kind.variants) or "none: this kind has no variants"
        raise BadInput("variant", sorted(wanted - known)[0], f"one of {there_are}")
    made = kind
    for variant in kind.variants:
        if variant.key in wanted:
            clash = wanted.intersection(variant.instead_of)
            if clash:
                other = next(v for v in kind.variants if v.key in clash)
                raise BadInput("variant", variant.name, f"not both this and “{other.name}”")
            made = _as_variant(made, variant)
    bare = [f"{p.key}.{e}" for p in made.panels for e in p.edges if e not in p.joins]
    if bare:
        raise BadInput("variant", ", ".join(bare), "a make that says how every edge is held")
    return checked(replace(made, variants=kind.variants))


def _as_variant(kind: Kind, variant: Variant) -> Kind:
    """A kind in one of its variants: what it lacks, what its neighbours' edges become, what it has besides."""
    made = kind
    if set(variant.lacks) >= {p.key for p in made.parts}:
        made = replace(made, parts=(), over=(), meets=(), together=())
    for key in variant.lacks:
        if made.has(key):
            made = _dropped(made, key)
    for key, fields in variant.becomes.items():
        if made.has(key):
            part = made.part(key)
            joins: Mapping[str, str] = fields.get("joins", {})
            of_these = partial(_joins_one_of, key, joins)
            made = unsewn(made, of_these)
            part = replace(made.part(key), **{**fields, "joins": in_run(made.part(key), {key: joins})})
            made = replace(made, parts=tuple(part if p.key == key else p for p in made.parts))
    parts = (*made.parts, *variant.parts)
    keys = {p.key for p in parts}
    over = [pair for pair in made.over if pair not in variant.not_over] + [
        pair for pair in variant.over if pair not in made.over
    ]
    groups = [tuple(k for k in group if k not in variant.apart) for group in made.together] + [
        tuple(k for k in group if k in keys) for group in variant.together
    ]
    return held_by_seams(
        replace(
            made,
            parts=parts,
            over=tuple((a, b) for a, b in over if {a, b} <= keys),
            meets=(*made.meets, *(m for m in variant.meets if {m.one, m.other} <= keys)),
            together=tuple(group for group in groups if len(group) > 1),
            layers=(*made.layers, *variant.layers),
        )
    )


def _joins_one_of(key: str, edges: Collection[str], seam: Meeting) -> bool:
    """Whether a seam ends at one of a part's edges."""
    return any(end[0] == key and end[1] in edges for end in seam.ends)


def unsewn(kind: Kind, gone: Callable[[Meeting], bool]) -> Kind:
    """Return a kind without some of its seams: an edge that was one of them, and of no other,
    is not said to be held any more.
    """
    kept = tuple(m for m in kind.meets if not gone(m))
    if len(kept) == len(kind.meets):
        return kind
    sewn = {end for m in kept for end in m.ends}
    loose = {end for m in kind.meets for end in m.ends} - sewn
    parts = tuple(
        replace(p, joins={e: j for e, j in p.joins.items() if (p.key, e) not in loose})
        if any(k == p.key for k, _ in loose)
        else p
        for p in kind.parts
    )
    return replace(kind, parts=parts, meets=kept)


def checked(kind: Kind) -> Kind:
    """Return the kind when it holds together: names, neighbours, seams, covers sewn in one, and no circle.

    Edges of seams are held as their seam says; an edge of a panel of which nothing is said is stapled under. Raises
    BadInput, naming what does not hold.
    """
    keys = [p.key for p in kind.parts]
    if not keys or len(keys) > MOST_PARTS:
        raise BadInput("parts", len(keys), f"1 to {MOST_PARTS} parts")
    if len(set(keys)) < len(keys):
        raise BadInput("parts", sorted(k for k in keys if keys.count(k) > 1)[0], "each part once")
    if not any(p.what == "panel" for p in kind.parts):
        raise BadInput("parts", len(keys), "at least one panel")
    _parts_hold(kind)
    _order_holds(kind)
    for meeting in kind.meets:
        _meets_what_is_there(kind, meeting)
    return _whole(held_by_seams(kind))


def _parts_hold(kind: Kind) -> None:
    """Refuse a part that is drawn against what is not there, or held where it has no edge."""
    for part in kind.parts:
        if part.on is not None and (part.on == part.key or not kind.has(part.on) or not kind.part(part.on).is_cut):
            raise BadInput(f"{part.key}.on", part.on, "another panel of this furniture")
        for edge, join in part.joins.items():
            join_named(join, at=f"{part.key}.joins.{edge}")
            if part.is_cut and edge not in part.edges:
                raise BadInput(f"{part.key}.joins", edge, "one of its edges: " + ", ".join(part.edges))
    if _runs_in_circle([(p.on, p.key) for p in kind.parts if p.on]):
        raise BadInput("parts", "on", "panels that are not drawn against each other in a circle")


def _order_holds(kind: Kind) -> None:
    """Refuse an order of what lies over what that can't come off, and a panel that is sewn into two covers."""
    for key in (key for pair in kind.over for key in pair):
        if not kind.has(key):
            raise BadInput("over", key, "one of " + ", ".join(p.key for p in kind.parts))
    sewn = [key for group in kind.together for key in group]
    if len(set(sewn)) < len(sewn) or any(not kind.has(key) or kind.part(key).what != "panel" for key in sewn):
        raise BadInput("together", sewn, "panels of this furniture, each sewn into one cover")
    if _runs_in_circle([(a, b) for a, b in as_one(kind) if a != b]):
        raise BadInput("over", "a circle", "parts that do not lie over each other in a circle")


def _meets_what_is_there(kind: Kind, meeting: Meeting) -> None:
    for key, edge in meeting.ends:
        if not kind.has(key) or not kind.part(key).is_cut:
            raise BadInput("meets", key, "two panels of this furniture")
        if edge not in kind.part(key).edges:
            raise BadInput("meets", f"{key}.{edge}", "an edge of it: " + ", ".join(kind.part(key).edges))
    if meeting.ends[0] == meeting.ends[1]:
        raise BadInput("meets", f"{meeting.one}.{meeting.one_edge}", "two different edges")
    join_named(meeting.join, at=f"meets.{meeting.one}.{meeting.other}")


def _whole(kind: Kind) -> Kind:
    """The kind with every edge of its cut parts held by something."""
    bare = {
        p.key: dict.fromkeys((e for e in p.edges if e not in p.joins), "stapled_under") for p in kind.parts if p.is_cut
    }
    if not any(bare.values()):
        return kind
    return replace(kind, parts=tuple(replace(p, joins=in_run(p, bare)) if bare.get(p.key) else p for p in kind.parts))


def as_one(kind: Kind) -> tuple[tuple[str, str], ...]:
    """Return the pairs (under, over) with every cover that is sewn in one as one thing, under its first panel's key."""
    first = {key: group[0] for group in kind.together for key in group}
    return tuple(dict.fromkeys((first.get(a, a), first.get(b, b)) for a, b in kind.over))


def _runs_in_circle(pairs: Iterable[tuple[str, str]]) -> bool:
    """Whether following the pairs from first to second ever comes back."""
    order: TopologicalSorter[str] = TopologicalSorter()
    for first, second in pairs:
        order.add(second, first)
    try:
        order.prepare()
    except CycleError:
        return True
    return False


def key_for(name: str, taken: Collection[str]) -> str:
    """Return a key for a name that no other part has: `Front band, low` → `front_band_low`."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    base = re.sub(r"[^a-z0-9]+", "_", plain).strip("_")[:24] or "part"
    return next(k for k in (base, *(f"{base}_{n}" for n in range(2, MOST_PARTS + 3))) if k not in taken)


def checked_name(name: str) -> str:
    """Return a name with single spaces and a capital; BadInput for none, or one too long."""
    clean = " ".join(name.split())
    if not clean or len(clean) > MOST_NAME:
        raise BadInput("name", name[:80], f"a name of 1 to {MOST_NAME} characters")
    return clean[0].upper() + clean[1:]


def short_of(name: str) -> str:
    """Return a short name for the drawing: `Inside wing, left` → `in. wing L`."""
    words = name.lower().replace("inside", "in.").replace("outside", "out.").split(",")
    hand = {" left": " L", " right": " R"}.get(words[1], "") if len(words) > 1 else ""
    return (words[0][:14].strip() + hand) or name[:14]


def add_part(  # noqa: PLR0913 by name: each says one thing of the part
    kind: Kind,
    name: str,
    *,
    what: What = "panel",
    width: float = 0.0,
    height: float = 0.0,
    on: str | None = None,
    side: Side = "bottom",
    join: str = "sewn",
    held: tuple[str, ...] = ("staples",),
    cover: Cover = "both",
) -> Kind:
    """Return the kind with one more part, laid against a side of a neighbour in mm width and height.

    A neighbour that lay there moves outward, onto the far side of the new one. Raises BadInput for a name that
    is none, a panel without measures, or a host that is no panel.
    """
    name = checked_name(name)
    if what not in get_args(What):
        raise BadInput("what", what, "one of " + ", ".join(get_args(What)))
    if side not in SIDES:
        raise BadInput("side", side, "one of " + ", ".join(SIDES))
    if cover not in get_args(Cover):
        raise BadInput("cover", cover, "one of " + ", ".join(get_args(Cover)))
    key = key_for(name, [p.key for p in kind.parts])
    if what not in ("panel", "bottom cloth"):
        return checked(
            replace(kind, parts=(*kind.parts, Part(key, name, short_of(name), what, held=held, cover=cover)))
        )
    if not (0 < width <= 5000 and 0 < height <= 5000):
        raise BadInput("width", f"{width:g} x {height:g}", "a width and a height above 0, up to 5 m")
    joins: dict[str, str] = dict.fromkeys(SIDES, "stapled_under")
    parts = list(kind.parts)
    meets = list(kind.meets)
    by: Side = "top"
    if on is not None:
        host = kind.part(on)
        if not host.is_cut:
            raise BadInput("on", host.name, "a panel, which the new one can lie against")
        by = ACROSS[side] if host.stands else "top"  # what is added round a seat or a top hangs down from its edge
        joins[by] = join_named(join).key
        edge = host.edges[0] if host.form == "disc" else next(e for e in host.edges if side_of_edge(e) == side)
        for n, other in enumerate(parts):  # whoever lay there moves outward
            if other.on == on and other.side == side and other.what == "panel" and not other.is_loose:
                parts[n] = replace(other, on=key, side=ACROSS[by])
                meets = [_moved(m, other.key, (on, edge), (key, ACROSS[by])) for m in meets]
                break
        meets.append(Meeting(on, edge, key, by, join))
    made = Part(key, name, short_of(name), what, width, height, on, side, by, held=held, joins=joins, cover=cover)
    return checked(replace(kind, parts=(*parts, made), meets=tuple(meets)))


def _moved(meeting: Meeting, key: str, old: tuple[str, str], new: tuple[str, str]) -> Meeting:
    """A meeting of `key` with the edge `old`, with the edge `new` in its place."""
    if not meeting.of(key) or old not in meeting.ends:
        return meeting
    if meeting.ends[0] == old:
        return replace(meeting, one=new[0], one_edge=new[1])
    return replace(meeting, other=new[0], other_edge=new[1])


def drop_part(kind: Kind, key: str) -> Kind:
    """Return the kind without a part.

    What lay over it now lies over what it lay over; what was drawn against it moves onto its neighbour; an edge that
    was sewn to it alone is stapled under.
    """
    kind.part(key)
    return checked(_dropped(kind, key))


def _dropped(kind: Kind, key: str) -> Kind:
    gone = kind.part(key)
    under = [a for a, b in kind.over if b == key]
    over = [b for a, b in kind.over if a == key]
    pairs = [pair for pair in kind.over if key not in pair]
    pairs += [(a, b) for a in under for b in over if (a, b) not in pairs and a != b]
    kind = unsewn(kind, lambda m: m.of(key))
    parts = []
    for part in kind.parts:
        if part.key == key:
            continue
        changed = replace(part, mirror=None) if part.mirror == key else part
        if part.on == key:
            changed = replace(
                changed, on=gone.on, side=gone.side if gone.on and part.side == ACROSS[gone.by] else part.side
            )
        parts.append(changed)
    together = tuple(left for group in kind.together if len(left := tuple(k for k in group if k != key)) > 1)
    return replace(kind, parts=_one_root(parts), over=tuple(pairs), together=together)


def _one_root(parts: Sequence[Part]) -> tuple[Part, ...]:
    """Give the drawing one middle: a panel that hung on the one that has gone, on the largest of them."""
    roots = [p for p in parts if p.what == "panel" and p.on is None and not p.is_loose]
    if len(roots) < 2:
        return tuple(parts)
    hung = {p.on for p in parts}
    middle = max(roots, key=lambda p: (p.key in hung, p.width * p.height))
    moving = [p for p in roots if p is not middle and not is_drawn_above(parts, p.key, middle.key)]
    return tuple(replace(p, on=middle.key) if p in moving else p for p in parts)


def is_drawn_above(parts: Sequence[Part], key: str, of: str) -> bool:
    """Whether a part is the other, or one of those that the other is drawn against."""
    by_key = {p.key: p for p in parts}
    at: str | None = of
    while at is not None and at in by_key:
        if at == key:
            return True
        at = by_key[at].on
    return False


def rename_part(kind: Kind, key: str, name: str) -> Kind:
    """Return the kind with a part under another name; its key stays, and with it all that is recorded."""
    kind.part(key)
    name = checked_name(name)
    return replace(
        kind, parts=tuple(replace(p, name=name, short=short_of(name)) if p.key == key else p for p in kind.parts)
    )


def change_part(kind: Kind, key: str, **fields: object) -> Kind:
    """Return the kind with some fields of a part changed."""
    kind.part(key)
    return checked(replace(kind, parts=tuple(replace(p, **fields) if p.key == key else p for p in kind.parts)))  # type: ignore[arg-type]


def put_over(kind: Kind, under: str, over: str) -> Kind:
    """Return the kind in which `over` lies over an edge of `under`; refuses a circle, and a part over itself."""
    kind.part(under), kind.part(over)
    if under == over:
        raise BadInput("over", kind.part(over).name, "two different parts")
    if over in kind.sewn_with(under):
        raise BadInput(
            "over", kind.part(over).name, f"a part that is not sewn into one cover with {kind.part(under).name.lower()}"
        )
    if (under, over) in kind.over:
        return kind
    try:
        return checked(replace(kind, over=(*kind.over, (under, over))))
    except BadInput as refusal:
        names = (
            f"{kind.part(under).name.lower()} lies over {kind.part(over).name.lower()} already, straight or "
            f"through others"
        )
        raise BadInput("over", kind.part(over).name, f"no circle: {names}") from refusal


def not_over(kind: Kind, under: str, over: str) -> Kind:
    """Return the kind in which `over` does not lie over `under` any more; BadInput when it did not."""
    if (under, over) not in kind.over:
        raise BadInput("over", over, f"a part that lies over {kind.part(under).name.lower()}")
    return replace(kind, over=tuple(pair for pair in kind.over if pair != (under, over)))


def joins_of_sides(part: Part) -> Mapping[str, str]:
    """Return how each edge of a panel is held, in words."""
    return {edge: JOINS[part.joins[edge]].name for edge in part.edges if edge in part.joins}
