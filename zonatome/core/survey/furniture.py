"""One job's own furniture: variants chosen, parts added, dropped, renamed, split; joins and layering changed.

Every function takes a kind and returns another; what it refuses changes nothing.
"""

from __future__ import annotations

import itertools
import re
import unicodedata
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import replace
from typing import Literal, get_args

from zonatome.core.errors import BadInput
from zonatome.core.survey.kind import ACROSS, SIDES, Cover, Kind, Meeting, Part, Side, What, drawn_meetings
from zonatome.core.trace.joins import JOINS, join_named

MOST_PARTS = 60  # a piece of furniture with more parts than this is two pieces of furniture
MOST_NAME = 60
Way = Literal["across", "along"]


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
        if variant.key not in wanted:
            continue
        clash = wanted.intersection(variant.instead_of)
        if clash:
            other = next(v for v in kind.variants if v.key in clash)
            raise BadInput("variant", variant.name, f"not both this and “{other.name}”")
        if set(variant.lacks) >= {p.key for p in made.parts}:
            made = replace(made, parts=variant.parts, over=(), meets=())
        else:
            for key in variant.lacks:
                if made.has(key):
                    made = drop_part(made, key)
            made = replace(made, parts=(*made.parts, *variant.parts))
        new = tuple(m for m in drawn_meetings(made.parts) if any(m.of(p.key) for p in variant.parts))
        over = [pair for pair in made.over if pair not in variant.not_over] + [pair for pair in variant.over if pair not in made.over]
        over = [(a, b) for a, b in over if made.has(a) and made.has(b)]
        meets = (*made.meets, *new, *(m for m in variant.meets if made.has(m.one) and made.has(m.other)))
        made = replace(made, over=tuple(over), meets=meets, layers=(*made.layers, *variant.layers))
    return checked(replace(made, variants=kind.variants))


def checked(kind: Kind) -> Kind:
    """Return the kind when it holds together: names, neighbours, joins, and no circle. Raises BadInput, naming what does not."""
    keys = [p.key for p in kind.parts]
    if not keys or len(keys) > MOST_PARTS:
        raise BadInput("parts", len(keys), f"1 to {MOST_PARTS} parts")
    if len(set(keys)) < len(keys):
        raise BadInput("parts", sorted(k for k in keys if keys.count(k) > 1)[0], "each part once")
    if not any(p.what == "panel" for p in kind.parts):
        raise BadInput("parts", len(keys), "at least one panel")
    for part in kind.parts:
        if part.on is not None and (part.on == part.key or not kind.has(part.on) or not kind.part(part.on).is_cut):
            raise BadInput(f"{part.key}.on", part.on, "another panel of this furniture")
    if _runs_in_circle([(p.on, p.key) for p in kind.parts if p.on]):
        raise BadInput("parts", "on", "panels that are not drawn against each other in a circle")
    for pair in kind.over:
        for key in pair:
            if not kind.has(key):
                raise BadInput("over", key, "one of " + ", ".join(keys))
    if _runs_in_circle(kind.over):
        raise BadInput("over", "a circle", "parts that do not lie over each other in a circle")
    for meeting in kind.meets:
        for key in (meeting.one, meeting.other):
            if not kind.has(key) or not kind.part(key).is_cut:
                raise BadInput("meets", key, "two panels of this furniture")
        join_named(meeting.join, at=f"meets.{meeting.one}.{meeting.other}")
    return kind


def _runs_in_circle(pairs: Iterable[tuple[str, str]]) -> bool:
    """Whether following the pairs from first to second ever comes back."""
    after: dict[str, set[str]] = {}
    before: dict[str, int] = {}
    for first, second in pairs:
        if second not in after.setdefault(first, set()):
            after[first].add(second)
            before[second] = before.get(second, 0) + 1
    free = [key for key in after if not before.get(key)]
    while free:
        for second in after.pop(free.pop(), ()):
            before[second] -= 1
            if not before[second]:
                free.append(second)
    return any(after.values())


def key_for(name: str, taken: Collection[str]) -> str:
    """Return a key for a name that no other part has: `Front band, low` → `front_band_low`."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    base = re.sub(r"[^a-z0-9]+", "_", plain).strip("_")[:24] or "part"
    return next(k for k in (base, *(f"{base}_{n}" for n in range(2, MOST_PARTS + 3))) if k not in taken)


def _name(name: str) -> str:
    clean = " ".join(name.split())
    if not clean or len(clean) > MOST_NAME:
        raise BadInput("name", name[:80], f"a name of 1 to {MOST_NAME} characters")
    return clean[0].upper() + clean[1:]


def short_of(name: str) -> str:
    """Return a short name for the drawing: `Inside wing, left` → `in. wing L`."""
    words = name.lower().replace("inside", "in.").replace("outside", "out.").split(",")
    hand = {" left": " L", " right": " R"}.get(words[1], "") if len(words) > 1 else ""
    return (words[0][:14].strip() + hand) or name[:14]


def add_part(
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
    name = _name(name)
    if what not in get_args(What):
        raise BadInput("what", what, "one of " + ", ".join(get_args(What)))
    if side not in SIDES:
        raise BadInput("side", side, "one of " + ", ".join(SIDES))
    if cover not in get_args(Cover):
        raise BadInput("cover", cover, "one of " + ", ".join(get_args(Cover)))
    key = key_for(name, [p.key for p in kind.parts])
    if what not in ("panel", "bottom cloth"):
        return checked(replace(kind, parts=(*kind.parts, Part(key, name, short_of(name), what, held=held, cover=cover))))
    if not (0 < width <= 5000 and 0 < height <= 5000):
        raise BadInput("width", f"{width:g} x {height:g}", "a width and a height above 0, up to 5 m")
    joins: dict[Side, str] = dict.fromkeys(SIDES, "stapled_under")
    parts = list(kind.parts)
    meets = list(kind.meets)
    if on is not None:
        host = kind.part(on)
        if not host.is_cut:
            raise BadInput("on", host.name, "a panel, which the new one can lie against")
        joins[ACROSS[side]] = join_named(join).key
        for n, other in enumerate(parts):  # whoever lay there moves outward
            if other.on == on and other.side == side and other.what == "panel" and not other.is_loose:
                parts[n] = replace(other, on=key)
                meets = [_moved(m, other.key, on, key) for m in meets]
                break
        meets.append(Meeting(on, side, key, ACROSS[side], join))
    parts.append(Part(key, name, short_of(name), what, width, height, on, side, held=held, joins=joins, cover=cover))
    return checked(replace(kind, parts=tuple(parts), meets=tuple(meets)))


def _moved(meeting: Meeting, key: str, old: str, new: str) -> Meeting:
    """A meeting of `key` with `old`, with `new` in its place."""
    if not (meeting.of(key) and meeting.of(old)):
        return meeting
    return replace(meeting, one=new) if meeting.one == old else replace(meeting, other=new)


def drop_part(kind: Kind, key: str) -> Kind:
    """Return the kind without a part.

    What lay over it now lies over what it lay over; what was drawn against it moves onto its neighbour.
    """
    gone = kind.part(key)
    under = [a for a, b in kind.over if b == key]
    over = [b for a, b in kind.over if a == key]
    pairs = [pair for pair in kind.over if key not in pair]
    pairs += [(a, b) for a in under for b in over if (a, b) not in pairs]
    meets = [m for m in kind.meets if not m.of(key)]
    parts = []
    for part in kind.parts:
        if part.key == key:
            continue
        changed = replace(part, mirror=None) if part.mirror == key else part
        if part.on == key:
            changed = replace(changed, on=gone.on, side=gone.side if gone.on and part.side == gone.side else part.side)
        parts.append(changed)
    made = replace(kind, parts=_one_root(parts), over=tuple(pairs))
    touching = {frozenset((m.one, m.other)) for m in meets}
    orphans = {p.key for p in kind.parts if p.on == key}
    meets += [m for m in drawn_meetings(made.parts) if orphans & {m.one, m.other} and frozenset((m.one, m.other)) not in touching]
    return checked(replace(made, meets=tuple(meets)))


def _one_root(parts: Sequence[Part]) -> tuple[Part, ...]:
    """Give the drawing one middle: a panel that hung on the one that has gone, on the largest of them."""
    roots = [p for p in parts if p.what == "panel" and p.on is None and not p.is_loose]
    if len(roots) < 2:
        return tuple(parts)
    hung = {p.on for p in parts}
    middle = max(roots, key=lambda p: (p.key in hung, p.width * p.height))
    moving = [p for p in roots if p is not middle and not _is_above(parts, p.key, middle.key)]
    return tuple(replace(p, on=middle.key) if p in moving else p for p in parts)


def _is_above(parts: Sequence[Part], key: str, of: str) -> bool:
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
    name = _name(name)
    return replace(kind, parts=tuple(replace(p, name=name, short=short_of(name)) if p.key == key else p for p in kind.parts))


def change_part(kind: Kind, key: str, **fields: object) -> Kind:
    """Return the kind with some fields of a part changed."""
    kind.part(key)
    return checked(replace(kind, parts=tuple(replace(p, **fields) if p.key == key else p for p in kind.parts)))  # type: ignore[arg-type]


def split_part(kind: Kind, key: str, *, into: Sequence[tuple[str, float]], way: Way = "across", keeps: int = 0, new: bool = False) -> Kind:
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
    if not 2 <= len(into) <= 5 or any(share <= 0.02 for _, share in into) or abs(sum(share for _, share in into) - 1) > 1e-6:
        raise BadInput("shares", [round(s, 3) for _, s in into], "2 to 5 shares above 0.02 that make 1")
    near, far = ("left", "right") if way == "across" else ("bottom", "top")
    keys = [p.key for p in kind.parts]
    names: list[str] = []
    for n, (name, _) in enumerate(into):
        names.append(key if n == keeps else key_for(name, [*keys, *names]))
    strips = []
    for n, (name, share) in enumerate(into):
        joins = {**dict.fromkeys(SIDES, "sewn"), **old.joins}
        if n > 0:
            joins[near] = "sewn"  # type: ignore[index]
        if n < len(into) - 1:
            joins[far] = "sewn"  # type: ignore[index]
        place = {} if n == keeps else {"on": names[n + 1 if n < keeps else n - 1], "side": near if n < keeps else far}
        width, height = (old.width * share, old.height) if way == "across" else (old.width, old.height * share)
        strips.append(
            replace(old, key=names[n], name=_name(name), short=short_of(name), width=width, height=height, far=1.0, joins=joins,
                    mirror=None, padded=old.padded and n == keeps, buttons=old.buttons if n == keeps else None,
                    cover="new" if new and n != keeps else old.cover, **place)  # type: ignore[arg-type]
        )  # fmt: skip
    outer: dict[Side, str] = {near: names[0], far: names[-1]}  # type: ignore[dict-item]
    parts = []
    for part in kind.parts:
        if part.key == key:
            parts += strips
        elif part.on == key and part.side in outer:
            parts.append(replace(part, on=outer[part.side]))
        else:
            parts.append(replace(part, mirror=None) if part.mirror == key else part)
    if old.on is not None and old.side in (near, far):  # the strip next to the old neighbour carries the drawing
        parts = _hung_from(parts, names, old, first=old.side == far)
    over = list(kind.over)
    for a, b in kind.over:
        over += [(n, b) for n in names if a == key and n != key] + [(a, n) for n in names if b == key and n != key]
    meets = []
    for m in kind.meets:
        side = m.one_side if m.one == key else m.other_side
        holder = outer.get(side, "") if m.of(key) else ""
        meets.append(m if not holder else replace(m, one=holder) if m.one == key else replace(m, other=holder))
    meets += [Meeting(a, far, b, near, "sewn") for a, b in itertools.pairwise(names)]  # type: ignore[arg-type]
    return checked(replace(kind, parts=tuple(parts), over=tuple(dict.fromkeys(over)), meets=tuple(meets)))


def _hung_from(parts: list[Part], names: list[str], old: Part, *, first: bool) -> list[Part]:
    """Lay strips one after the other away from the neighbour that the whole panel was drawn against."""
    chain = names if first else names[::-1]
    hosts = dict(zip(chain, [old.on, *chain[:-1]], strict=True))
    return [replace(p, on=hosts[p.key], side=old.side) if p.key in hosts else p for p in parts]


def put_over(kind: Kind, under: str, over: str) -> Kind:
    """Return the kind in which `over` lies over an edge of `under`; refuses a circle, and a part over itself."""
    kind.part(under), kind.part(over)
    if under == over:
        raise BadInput("over", kind.part(over).name, "two different parts")
    if (under, over) in kind.over:
        return kind
    try:
        return checked(replace(kind, over=(*kind.over, (under, over))))
    except BadInput as refusal:
        names = f"{kind.part(under).name.lower()} lies over {kind.part(over).name.lower()} already, straight or through others"
        raise BadInput("over", kind.part(over).name, f"no circle: {names}") from refusal


def not_over(kind: Kind, under: str, over: str) -> Kind:
    """Return the kind in which `over` does not lie over `under` any more; BadInput when it did not."""
    if (under, over) not in kind.over:
        raise BadInput("over", over, f"a part that lies over {kind.part(under).name.lower()}")
    return replace(kind, over=tuple(pair for pair in kind.over if pair != (under, over)))


def join_panels(kind: Kind, one: str, one_side: Side, other: str, other_side: Side, join: str) -> Kind:
    """Return the kind in which two panels meet along these sides by this join; the sides' shapes follow it."""
    join_named(join)
    for key, side in ((one, one_side), (other, other_side)):
        if not kind.part(key).is_cut:
            raise BadInput("panel", kind.part(key).name, "a panel")
        if side not in SIDES:
            raise BadInput("side", side, "one of " + ", ".join(SIDES))
    if one == other:
        raise BadInput("panel", kind.part(other).name, "two different panels")
    meeting = Meeting(one, one_side, other, other_side, join)
    pair = {one, other}
    meets = tuple(m for m in kind.meets if {m.one, m.other} != pair)
    parts = []
    for part in kind.parts:
        held = {one: one_side, other: other_side}.get(part.key)
        parts.append(replace(part, joins={**part.joins, held: join}) if held else part)
    made = replace(kind, parts=tuple(parts), meets=(*meets, meeting))
    mover = next((k for k, host in ((other, one), (one, other)) if made.part(k).on is None and not _is_above(made.parts, k, host)), None)
    if mover is not None:  # one of the two stood by itself on the drawing: it now lies against the other
        side = one_side if mover == other else other_side
        host = one if mover == other else other
        made = replace(made, parts=tuple(replace(p, on=host, side=side) if p.key == mover else p for p in made.parts))
    return checked(made)


def part_panels(kind: Kind, one: str, other: str) -> Kind:
    """Return the kind in which two panels do not meet; on the drawing they are moved apart. BadInput when they did not."""
    pair = {one, other}
    if not any({m.one, m.other} == pair for m in kind.meets):
        raise BadInput("panel", kind.part(other).name, f"a panel that meets {kind.part(one).name.lower()}")
    meets = tuple(m for m in kind.meets if {m.one, m.other} != pair)
    parts = []
    for part in kind.parts:
        if part.on in pair and part.key in pair:
            elsewhere = next((m for m in meets if m.of(part.key) and not _is_above(kind.parts, part.key, m.partner(part.key))), None)
            if elsewhere is None:
                parts.append(replace(part, on=None))
            else:
                side = elsewhere.other_side if elsewhere.one == part.key else elsewhere.one_side
                parts.append(replace(part, on=elsewhere.partner(part.key), side=side))
        else:
            parts.append(part)
    return checked(replace(kind, parts=tuple(parts), meets=meets))


def joins_of_sides(part: Part) -> Mapping[Side, str]:
    """Return how each side of a panel is held, in words."""
    return {side: JOINS[part.joins[side]].name for side in SIDES if side in part.joins}
