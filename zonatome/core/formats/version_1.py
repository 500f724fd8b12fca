"""Furniture and shapes as version 1 wrote them, brought over into each panel's own frame.

Version 1 wrote a panel's sides as they lay on the opened-out drawing, and that drawing was a mirror image: the
sitter's left lay on its left. So a measured panel is mirrored, and one that was drawn beside its neighbour is turned
by a quarter besides. A shape that was traced, from a photo or a file, has its true hand and is turned only. What the
kinds said then stands in `kinds_version_1.json`: what differs from it was changed by a workroom, and stays.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from functools import cache
from itertools import combinations
from pathlib import Path
from typing import Any

from zonatome.core.errors import BadInput
from zonatome.core.formats import reading
from zonatome.core.formats.piece_json import read_piece, write_piece
from zonatome.core.joins import JOINS, join_named
from zonatome.core.rules import USUAL, Rules
from zonatome.core.strip.order import thing_name
from zonatome.core.survey.furniture import change_part, checked, drop_part, not_over, put_over, with_variants
from zonatome.core.survey.joining import edge_held
from zonatome.core.survey.kind import ACROSS, MIRRORED, RUN, SIDES, ButtonGrid, Kind, Meeting, Part, Side, side_of_edge
from zonatome.core.survey.kinds import kind_named
from zonatome.core.trace.shape import Shape

# by how many quarters, anticlockwise, the left one of a pair is turned out of the drawing; its partner the other way
TURNS = {"inside_arm": 1, "outside_arm": -1, "side": -1, "end": -1, "boxing_end": -1}
RENAMED = {"cushion": "cushion_top", "zip_strip": "zip_strip_upper", "skirt": "skirt_front"}
COPIED = {"cushion_bottom": "cushion", "zip_strip_lower": "zip_strip", "skirt_back": "skirt"}
TRACED = ("photo", "file", "library")
SAME_ALLOWANCE = 0.05  # mm


@cache
def kinds_then() -> dict[str, Any]:
    """Return what the kinds said in version 1: parts by key, and of each make its parts and what lay over what."""
    told: dict[str, Any] = json.loads((Path(__file__).parent / "kinds_version_1.json").read_text())
    return told


def quarters_of(key: str) -> int:
    """Return by how many quarters a panel of version 1 is turned out of the drawing, anticlockwise."""
    base, _, hand = key.rpartition("_")
    turn = TURNS.get(base, 0) if hand in ("left", "right") else 0
    return turn if hand == "left" else -turn


def side_now(side: Side, key: str, *, mirrored: bool = True) -> Side:
    """Return the side of a panel's own frame that a side of the drawing of version 1 was; a traced shape is not
    mirrored.
    """
    seen: str = MIRRORED.get(side, side) if mirrored else side
    return RUN[(RUN.index(side_of_edge(seen)) + quarters_of(key)) % 4]


@dataclass(frozen=True)
class BroughtOver:
    """The furniture in today's terms; and in words what a workroom had changed, which stays and is to be looked at, by
    part.
    """

    kind: Kind
    variants: tuple[str, ...]
    kept: tuple[tuple[str, str], ...]


def brought_over(data: Mapping[str, Any], variants: Iterable[str] | None = None) -> BroughtOver:
    """Return the furniture in a document of version 1. Without `variants` the make is told by its parts.

    Raises BadInput, naming the key.
    """
    if data.get("format") != "zonatome.furniture":
        raise BadInput("format", data.get("format"), "'zonatome.furniture'")
    usual = kind_named(reading.text(reading.wanted(data, "kind"), "kind", most=30))
    then = kinds_then()[usual.key]
    rows: dict[str, dict[str, Any]] = {}
    for n, value in enumerate(reading.listed(reading.wanted(data, "parts"), "parts", least=1, most=60)):
        told = reading.table(value, f"parts[{n}]")
        rows[reading.text(reading.wanted(told, "key", f"parts[{n}]."), f"parts[{n}].key", most=30)] = dict(told)
    chosen = tuple(variants) if variants is not None else _make_of(usual, then, set(rows), _over_of(data))
    kind, kept = with_variants(usual, chosen), list[tuple[str, str]]()
    now = {RENAMED.get(k, k): k for k in then["parts"]} | COPIED
    for part in kind.parts:
        if (
            now.get(part.key, part.key) in then["parts"]
            and now.get(part.key, part.key) not in rows
            and len(kind.panels) > 1
        ):
            kind = drop_part(kind, part.key)
    added = []
    for key, row in rows.items():
        name = RENAMED.get(key, key)
        if kind.has(name):
            kind = _with_changes(kind, name, row, then["parts"].get(key, {}), kept)
        elif key not in then["parts"]:
            added.append(_added_part(row, kind))
            kept.append((key, f"{added[-1].name}: a panel of your own; say on Panels how it is joined now"))
    kind = replace(kind, parts=(*kind.parts, *added))
    keys, own = {p.key for p in kind.parts}, {p.key for p in added}
    kind = replace(kind, parts=tuple(p if p.on in keys else replace(p, on=None) for p in kind.parts))
    kind = checked(replace(kind, meets=(*kind.meets, *_meetings_of(data, own, keys))))
    return BroughtOver(_layered(kind, data, then["makes"].get("+".join(chosen), {})), chosen, tuple(kept))


def _make_of(usual: Kind, then: Mapping[str, Any], keys: set[str], over: set[tuple[str, str]]) -> tuple[str, ...]:
    """The make whose parts, and what lies over what, differ least from a document's; of those alike the one with
    fewest variants.
    """
    makes = [tuple(m.split("+")) if m else () for m in then["makes"]]
    known = [v.key for v in usual.variants]
    makes = [m for m in makes if set(m) <= set(known)] or [c for n in range(2) for c in combinations(known, n)]

    def differs(make: tuple[str, ...]) -> tuple[int, int, int]:
        told = then["makes"]["+".join(make)]
        return len(keys ^ set(told["parts"])), len(over ^ {(a, b) for a, b in told["over"]}), len(make)

    return min(makes, key=differs)


def _over_of(data: Mapping[str, Any]) -> set[tuple[str, str]]:
    """What lies over what, as a document says it."""
    said = []
    for n, row in enumerate(reading.listed(data.get("over", []), "over", most=1000)):
        under, over = (
            reading.text(k, f"over[{n}]", most=30) for k in reading.listed(row, f"over[{n}]", least=2, most=2)
        )
        said.append((under, over))
    return set(said)


def _with_changes(
    kind: Kind, key: str, row: Mapping[str, Any], then: Mapping[str, Any], kept: list[tuple[str, str]]
) -> Kind:
    """The furniture with what a workroom had changed of one of its parts."""
    where = f"parts.{key}"
    fields = _changed_fields(kind, key, row, then)
    if fields:
        kind = change_part(kind, key, **fields)
    held = reading.table(row.get("joins", {}), f"{where}.joins")
    for side in SIDES:
        join = held.get(side)
        if join is None or join == then.get("joins", {}).get(side):
            continue
        edge = side_now(side, key)
        if edge in kind.part(key).edges and kind.part(key).joins.get(edge) != join:
            kind = edge_held(kind, key, edge, join_named(join, at=f"{where}.joins.{side}").key)
            kept.append((key, f"{kind.part(key).name}: its {edge} stays {JOINS[join].name}, as you had it"))
    return kind


def _changed_fields(kind: Kind, key: str, row: Mapping[str, Any], then: Mapping[str, Any]) -> dict[str, Any]:
    """What a workroom had written otherwise of a part than the trade's kind had it then, by field."""
    where = f"parts.{key}"
    fields: dict[str, Any] = {}
    if "name" in row and row["name"] != then.get("name"):
        fields["name"] = reading.text(row["name"], f"{where}.name", most=60)
        fields["short"] = reading.text(row.get("short", row["name"]), f"{where}.short", most=60)
    if row.get("cover", "both") != then.get("cover", "both") and row["cover"] in ("old", "new", "both"):
        fields["cover"] = row["cover"]
    for flag in ("contrast", "deck"):
        if bool(row.get(flag)) != bool(then.get(flag)):
            fields[flag] = bool(row.get(flag))
    if row.get("layer"):
        fields["layer"] = reading.number(row["layer"], f"{where}.layer", least=0, most=400)
    if row.get("buttons") and row["buttons"] != then.get("buttons"):
        grid = reading.table(row["buttons"], f"{where}.buttons")
        counts = [reading.whole(grid.get(k), f"{where}.buttons", least=1, most=40) for k in ("rows", "columns")]
        across, down, deep = (
            reading.number(grid.get(k), f"{where}.buttons", least=0, most=2000) for k in ("across", "down", "deep")
        )
        fields["buttons"] = ButtonGrid(counts[0], counts[1], across, down, deep)
    size = [reading.number(row.get(k, 0), f"{where}.{k}", least=0, most=20_000) for k in ("width", "height")]
    if kind.part(key).is_cut and size != [then.get("width"), then.get("height")] and min(size) > 0:
        wide, high = reversed(size) if quarters_of(key) % 2 else size
        fields |= {"width": wide, "height": high, "width_above": None}
    return fields


def _added_part(row: Mapping[str, Any], kind: Kind) -> Part:
    """A part that a workroom had added: it stands on the drawing as it stood, mirrored."""
    key = str(row["key"])
    where = f"parts.{key}"
    what = row.get("what", "panel")
    if what not in ("panel", "bottom cloth", "trim", "hardware"):
        raise BadInput(f"{where}.what", what, "one of panel, bottom cloth, trim, hardware")
    side = row.get("side", "top")
    if side not in SIDES:
        raise BadInput(f"{where}.side", side, "one of " + ", ".join(SIDES))
    on = row.get("on")
    host = RENAMED.get(on, on) if isinstance(on, str) else None
    drawn = side_of_edge(MIRRORED.get(side, side))
    joins = {
        MIRRORED.get(s, s): join_named(str(j), at=f"{where}.joins.{s}").key
        for s, j in reading.table(row.get("joins", {}), f"{where}.joins").items()
        if s in SIDES
    }
    cover = row.get("cover", "both")
    mirror = row.get("mirror")
    return Part(
        key,
        reading.text(row.get("name"), f"{where}.name", most=60),
        reading.text(row.get("short", row.get("name")), f"{where}.short", most=60),
        what,
        reading.number(row.get("width", 0), f"{where}.width", least=0, most=20_000),
        reading.number(row.get("height", 0), f"{where}.height", least=0, most=20_000),
        host,
        side_now(side, host) if host and kind.has(host) else drawn,
        ACROSS[drawn],
        held=tuple(str(h)[:60] for h in reading.listed(row.get("held", []), f"{where}.held", most=12)),
        joins=joins if what in ("panel", "bottom cloth") else {},
        padded=bool(row.get("padded")),
        per_furniture=reading.whole(row.get("per_furniture", 1), f"{where}.per_furniture", least=1, most=40),
        mirror=mirror if isinstance(mirror, str) else None,
        deck=bool(row.get("deck")),
        cover=cover if cover in ("both", "old", "new") else "both",
        contrast=bool(row.get("contrast")),
        form="disc" if row.get("form") == "disc" else "four-sided",
    )


def _meetings_of(data: Mapping[str, Any], own: set[str], keys: set[str]) -> list[Meeting]:
    """The seams of the panels that a workroom had added."""
    found = []
    for n, row in enumerate(reading.listed(data.get("meets", []), "meets", most=1000)):
        five = reading.listed(row, f"meets[{n}]", least=5, most=5)
        one, one_side, other, other_side, join = (reading.text(x, f"meets[{n}]", most=60) for x in five)
        one, other = RENAMED.get(one, one), RENAMED.get(other, other)
        if {one, other} & own and {one, other} <= keys:
            edges = [side_now(side_of_edge(side), key) for side, key in ((one_side, one), (other_side, other))]
            found.append(Meeting(one, edges[0], other, edges[1], join_named(join).key))
    return found


def _layered(kind: Kind, data: Mapping[str, Any], make: Mapping[str, Any]) -> Kind:
    """The furniture with what a workroom had learned of what lies over what."""
    then = {(a, b) for a, b in make.get("over", [])}
    said = _over_of(data)
    for a, b in sorted(then - said):
        pair = RENAMED.get(a, a), RENAMED.get(b, b)
        if pair in kind.over:
            kind = not_over(kind, *pair)
    for a, b in sorted(said - then):
        pair = RENAMED.get(a, a), RENAMED.get(b, b)
        if kind.has(pair[0]) and kind.has(pair[1]) and pair[1] not in kind.sewn_with(pair[0]):
            try:
                kind = put_over(kind, *pair)
            except BadInput:
                continue  # what lies over what has been told otherwise since; the kind's own order holds
    return kind


def shape_brought_over(
    shape: Shape, key: str, part: Part, *, was: Mapping[str, str], traced: bool, rules: Rules = USUAL
) -> tuple[Shape, tuple[str, ...]]:
    """Return a shape of version 1 in its panel's own frame, and what of it a workroom had changed, in words.

    `was` says how each side of the drawing was usually held then: an edge that is held so still takes what the panel's
    edge has now, one that was changed keeps what it has.
    """
    mirrored = shape if traced else shape.mirrored(shape.name)
    turned = mirrored.turned(quarters_of(key))
    fresh = turned.held_as(part, rules)
    before = {e.name: e for e in shape.edges}
    edges, words = [], []
    for edge in fresh.edges:
        old = before.get(edge.name)  # a parted edge's second part has a new name
        source = old or next((before[e.name] for e in turned.edges if e.side == edge.side and e.name in before), None)
        if source is None or (
            was.get(source.side) == source.join and abs(source.adds - JOINS[source.join].adds) < SAME_ALLOWANCE
        ):
            edges.append(edge)
            continue
        if was.get(source.side) == source.join and edge.join == source.join:
            words.append(f"edge {edge.name} still adds {source.adds:.0f} mm")
        elif source.join != edge.join:
            words.append(f"edge {edge.name} is still {JOINS[source.join].name}")
        edges.append(replace(edge, join=source.join, adds=source.adds))
    return replace(fresh, edges=tuple(edges)), tuple(words)


# --- a whole job ---------------------------------------------------------------------------------------


@dataclass(frozen=True)
class JobBroughtOver:
    """A job of version 1 in today's terms: its furniture or None where it is as its kind is, its rows, and what to
    look at.

    `rows` are the parts as plain columns, those that are new with the key of the row that they come from under `from`.
    """

    kind: Kind
    furniture: Kind | None
    rows: tuple[dict[str, Any], ...]
    to_look_at: tuple[str, ...]


def _rows_now(kind: Kind, old: Mapping[str, Mapping[str, Any]]) -> dict[str, dict[str, Any]]:
    """The rows of a job's parts by the keys they have now; `from` is the key that each had, "" where it is new."""
    made: dict[str, dict[str, Any]] = {}
    for key, row in old.items():
        now = RENAMED.get(key, key) if kind.has(RENAMED.get(key, key)) else key
        made[now] = {**row, "key": now, "from": key}
    for key, source in COPIED.items():
        if kind.has(key) and source in old and key not in made:
            made[key] = {**old[source], "key": key, "from": source}
    for part in kind.parts:
        if part.key not in made:
            made[part.key] = {"key": part.key, "from": "", "is_there": True}
    return made


def _shape_now(
    row: dict[str, Any], part: Part, was: Mapping[str, str], partner: Mapping[str, Any], rules: Rules
) -> list[str]:
    """Bring the shape of one row over, in its place; what there is to look at, in words.

    `was` says how its edges were held then, `partner` is the row that it was mirrored from.
    """
    source, way = row["from"], row.get("shape_way")
    traced = way in TRACED or (way == "mirrored" and partner.get("shape_way") in TRACED)
    shape = read_piece(row["shape"])
    if part.key == "zip_strip_lower":
        shape = shape.turned(2)
        was = {"bottom": "sewn", "top": "zip", "left": "sewn", "right": "sewn"}
    elif part.key.endswith("bottom") and source == "cushion":
        shape = shape.mirrored(part.name)
    fresh, said = shape_brought_over(replace(shape, name=part.name), source, part, was=was, traced=traced, rules=rules)
    row["shape"] = write_piece(fresh)
    if traced and quarters_of(source):
        said = (*said, "traced when its back was drawn on top, and turned; see that its arrow points up")
    return [f"{part.name}: {words}" for words in said]


def job_brought_over(
    kind_key: str,
    variants: Iterable[str],
    furniture: Mapping[str, Any] | None,
    rows: Iterable[Mapping[str, Any]],
    rules: Rules = USUAL,
) -> JobBroughtOver:
    """Return a job of version 1 with every panel in its own frame.

    `rows` are the columns of its parts: `key`, `shape`, `shape_way`, `off_number`, `is_there` and whatever else, which
    is passed on. Raises BadInput, naming what can't be read.
    """
    usual = kind_named(kind_key)
    chosen = tuple(v.key for v in usual.variants if v.key in set(variants))
    told = brought_over(furniture, chosen) if furniture is not None else None
    kind = told.kind if told else with_variants(usual, chosen)
    words = [w for _, w in told.kept] if told else []
    old = {r["key"]: dict(r) for r in rows}  # the last one counts where a key stands twice; the reader refuses that
    joins = {p["key"]: p.get("joins", {}) for p in (furniture or {}).get("parts", []) if isinstance(p, dict)}
    made = _rows_now(kind, old)
    for key, row in made.items():
        if row.get("shape") and kind.has(key):
            then = kinds_then()[kind_key]["parts"].get(row["from"], {})
            was = joins.get(row["from"]) or then.get("joins", {})
            words += _shape_now(row, kind.part(key), was, old.get(str(then.get("mirror")), {}), rules)
    words += _in_one(kind, made)
    new = ", ".join(p.name for p in kind.panels if not made[p.key]["from"])
    if new:
        words.append(f"{new}: panels of their own now; give them a shape, or say on Panels that there are none")
    looked = tuple(dict.fromkeys(words))
    return JobBroughtOver(kind, kind if told or chosen else None, tuple(made.values()), looked)


def _in_one(kind: Kind, rows: Mapping[str, dict[str, Any]]) -> list[str]:
    """Let a cover that is sewn in one be off as one thing, where all that was recorded of it is off; else it is on,
    and that is said.
    """
    words = []
    for group in kind.together:
        members = [rows[k] for k in group if kind.part(k).is_on_old]
        known = [r for r in members if r["from"]]
        numbers = [r["off_number"] for r in known if r.get("off_number") is not None]
        whole = bool(numbers) and len(numbers) == len(known)
        if numbers and not whole:
            words.append(
                f"{thing_name(kind, group)}: sewn in one; it was off in part, and stands as on until it is off as one"
            )
        when = next((r.get("off_at") for r in members if r.get("off_at")), None)
        for row in members:
            row["off_number"], row["off_at"] = (max(numbers), row.get("off_at") or when) if whole else (None, None)
            row["fate"] = (row.get("fate") or "pattern") if whole else row.get("fate", "")
    return words
