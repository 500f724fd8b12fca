"""What one press does to a shape at the trace step: true it, mark it, mend its seams, derive others from it.

Each act takes the part in hand and a checked form, changes shapes through the one history, and returns what it did in
words.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

from django.db import transaction

from zonatome.core.errors import BadInput
from zonatome.core.joins import WRAPPED
from zonatome.core.outline import crossings
from zonatome.core.survey.furniture import add_part, change_part
from zonatome.core.survey.kind import SIDES, ButtonGrid, Channels, Kind, Side
from zonatome.core.survey.restyle import Restyled, buttoned, channelled_panel, on_the_pair
from zonatome.core.trace.cushion_panels import cushion_panels
from zonatome.core.trace.derived import band_from_edge, cushion_of, in_strips
from zonatome.core.trace.partners import Seam, mended, seams_of
from zonatome.core.trace.restyled import grown_at_edges, with_fly
from zonatome.core.trace.shape import MARKS, Mark, Match, Shape
from zonatome.core.trace.truing import (
    fold,
    halved,
    line_from_left,
    made_round,
    squared,
    stood_upright,
    straightened,
    unstretched,
)
from zonatome.core.trace.wishes import wished, wishes_in, wishes_of
from zonatome.core.units import format_length
from zonatome.web.base.length_forms import WorkForm
from zonatome.web.jobs.models import JobPart
from zonatome.web.survey.services import change_furniture
from zonatome.web.trace import forms
from zonatome.web.trace.changes import change_shapes, forget_parts, put_shape, remember
from zonatome.web.trace.services import keep_shape, shape_of_part, shapes_of

Data = dict[str, Any]


@dataclass(frozen=True)
class Act:
    """One act: the form that bounds what is sent for it, and what it does; returns what it did."""

    form: type[WorkForm]
    do: Callable[[JobPart, Data], str]


def _kept(part: JobPart, shape: Shape, words: str) -> str:
    keep_shape(part, shape, part.shape_way, words=f"{part.name}: {words}")
    return f"{part.name}: {words}."


# --- truing


def line_of(data: Data, shape: Shape) -> tuple[tuple[float, float], tuple[float, float]] | None:
    """Return the centre line that was typed, as distances from the left at the bottom and at the top; nothing: the one
    that is found.
    """
    if data.get("low") is None or data.get("high") is None:
        return None
    return line_from_left(shape.outline, data["low"], data["high"])


def _halve(part: JobPart, data: Data) -> str:
    shape = shape_of_part(part)
    words = {"left": "the left half mirrored", "right": "the right half mirrored", "average": "both halves averaged"}
    return _kept(part, halved(shape, fold(shape.outline, line_of(data, shape)), data["take"]), words[data["take"]])


def _lopsided(part: JobPart, _: Data) -> str:
    shape = shape_of_part(part)
    return _kept(
        part,
        replace(shape, lopsided=not shape.lopsided),
        "meant to be even again" if shape.lopsided else "left as it is, meant to be lopsided",
    )


def _upright(part: JobPart, data: Data) -> str:
    shape = shape_of_part(part)
    degrees = fold(shape.outline, line_of(data, shape)).degrees
    if not degrees:
        raise BadInput("low", "upright", "a centre line that leans")
    return _kept(
        part, stood_upright(shape, degrees), f"turned by {abs(degrees):.1f}° to stand upright on its centre line"
    )


def _round(part: JobPart, _: Data) -> str:
    made = made_round(shape_of_part(part))
    return _kept(part, made, f"made a circle of {made.outline.width:.0f} mm")


def _straighten(part: JobPart, data: Data) -> str:
    return _kept(part, straightened(shape_of_part(part), data["edge"]), f"edge {data['edge']} straight")


def _join(part: JobPart, data: Data) -> str:
    return _kept(part, shape_of_part(part).edges_joined(data["edge"]), f"edge {data['edge']} joined with the next")


def _part(part: JobPart, data: Data) -> str:
    return _kept(
        part, shape_of_part(part).edge_parted(data["edge"], data["along"]), f"edge {data['edge']} parted in two"
    )


def _square(part: JobPart, _: Data) -> str:
    return _kept(part, squared(shape_of_part(part)), "squared")


def _stretch(part: JobPart, data: Data) -> str:
    made = unstretched(shape_of_part(part), data["across"], data["along"])
    return _kept(part, made, f"shrunk by {data['across']:g} % across and {data['along']:g} % along")


# --- marks


def _notch(part: JobPart, data: Data) -> str:
    shape = shape_of_part(part)
    length = shape.edge_length(shape.number_of(data["edge"]))
    if data["along"] > length:
        raise BadInput("along", f"{data['along']:.0f} mm", f"0 to {length:.0f} mm, the length of edge {data['edge']}")
    notch = Match(data["edge"], data["along"], data["double"])
    return _kept(part, replace(shape, matches=(*shape.matches, notch)), f"a notch on edge {data['edge']}")


def _unnotch(part: JobPart, data: Data) -> str:
    shape = shape_of_part(part)
    if data["which"] >= len(shape.matches):
        raise BadInput("which", data["which"], "a notch that is there")
    return _kept(
        part,
        replace(shape, matches=tuple(m for n, m in enumerate(shape.matches) if n != data["which"])),
        "a notch taken away",
    )


def _buttons(part: JobPart, data: Data) -> str:
    grid = ButtonGrid(data["rows"], data["columns"], data["across"], data["down"], data["deep"])
    return _wished(part, lambda kind, key: buttoned(kind, key, grid), f"{part.name}: {grid.count} buttons")


def _channels(part: JobPart, data: Data) -> str:
    lines = Channels(data["apart"], data["deep"], data["way"] == "upright")
    outline = shape_of_part(part).outline
    size = (outline.width, outline.height)
    return _wished(part, lambda kind, key: channelled_panel(kind, key, lines, size=size), f"{part.name}: channels")


def _wished(part: JobPart, change: Callable[[Kind, str], Restyled], words: str) -> str:
    """Buttons and channels are wishes of the panel and its partner, whichever door they come in by: their shapes grow
    for them.
    """
    told = on_the_pair(part.job.kind, part.key, change)
    with transaction.atomic():
        remember(part.job, list(told.touched), words, with_furniture=True)
        change_furniture(part.job, told.kind, words=words, touched=told.touched)
        said: tuple[str, ...] = ()
        for row in JobPart.objects.filter(job=part.job, key__in=told.touched).exclude(shape=None):
            row.job = part.job
            made, did = wished(shape_of_part(row), told.kind.part(row.key), wishes_in(row.shape_has))
            said = did if row.key == part.key else said
            row.shape_has = wishes_of(told.kind.part(row.key)).as_data()
            put_shape(row, made, row.shape_way)
    forget_parts(part.job)
    return f"{words}{''.join(f', {w}' for w in said)}."


def _point(part: JobPart, data: Data) -> str:
    shape = shape_of_part(part)
    x0, y0, x1, _ = shape.outline.bounds
    at = (x0 + data["left"], y0 + data["up"])
    if data["means"] in ("fold", "fly", "tuck", "channel"):
        met = crossings(shape.outline, (x0 - 1, at[1]), (x1 + 1, at[1]))
        if len(met) < 2:
            raise BadInput("up", f"{data['up']:.0f} mm", "a height within the shape")
        mark = Mark(data["means"], (met[0], met[-1]))
    else:
        mark = Mark(data["means"], (at,))
    return _kept(part, replace(shape, marks=(*shape.marks, mark)), f"{MARKS[data['means']]} marked")


def _unmark(part: JobPart, data: Data) -> str:
    shape = shape_of_part(part)
    return _kept(
        part,
        replace(shape, marks=tuple(m for m in shape.marks if m.means != data["means"])),
        f"no {MARKS[data['means']]} marked any more",
    )


# --- readiness


def _top(part: JobPart, _: Data) -> str:
    remember(part.job, [part.key], f"{part.name}: its top is up")
    part.top_sure = True
    part.save(update_fields=["top_sure"])
    return f"{part.name}: its top is up, as you say."


def _fits(part: JobPart, _: Data) -> str:
    remember(part.job, [part.key], f"{part.name}: fits the pad")
    part.shape_pad = part.shape_wraps = part.pad_measured
    part.save(update_fields=["shape_pad", "shape_wraps"])
    return f"{part.name}: kept as it fits."


def _grow(part: JobPart, _: Data) -> str:
    if part.pad_measured is None or part.shape_pad is None:
        raise BadInput("pad", None, "a pad that has changed since the shape was made")
    shape = shape_of_part(part)
    sewn = part.pad_measured - part.shape_pad
    wrapped = part.pad_measured - (part.shape_pad if part.shape_wraps is None else part.shape_wraps)
    more = {e.name: wrapped if e.join in WRAPPED else sewn for e in shape.edges}
    return _kept(part, grown_at_edges(shape, more), f"grown by {sewn:.0f} mm at each edge for its pad")


def _pair(part: JobPart, _: Data) -> str:
    mirror = part.part.mirror
    if not mirror:
        raise BadInput("part", part.name, "one of a pair")
    name = part.job.kind.part(mirror).name
    change_shapes(
        part.job, {mirror: (shape_of_part(part).mirrored(name), "mirrored")}, f"{name}: mirrored from its partner"
    )
    return f"{name}: mirrored from {part.name.lower()}."


# --- seams


def seam_named(part: JobPart, key: str) -> tuple[Seam, dict[str, Shape]]:
    """Return the seam of this key at a part, and the job's shapes. Raises BadInput where there is none."""
    shapes = shapes_of(part.job)
    for seam in seams_of(part.job.kind, shapes):
        if seam.key == key:
            return seam, shapes
    raise BadInput("seam", key, "a seam between two shapes that are there")


def _mend(part: JobPart, data: Data) -> str:
    seam, shapes = seam_named(part, data["seam"])
    rows = part.job.parts_by_key()
    made = mended(seam, shapes, data["mend"])
    names = " and ".join(shapes[key].name.lower() for key in made)
    words = {"new notches": "matching notches put"}.get(data["mend"], f"{data['mend'].split(' ')[0]} mended")
    change_shapes(part.job, {key: (shape, rows[key].shape_way) for key, shape in made.items()}, f"{names}: {words}")
    return f"{names[0].upper()}{names[1:]}: {words}."


def _ease(part: JobPart, data: Data) -> str:
    shape = shape_of_part(part)
    shape.number_of(data["edge"])
    edges = tuple(replace(e, ease=data["percent"] / 100) if e.name == data["edge"] else e for e in shape.edges)
    return _kept(part, replace(shape, edges=edges), f"edge {data['edge']} eased in by up to {data['percent']:g} %")


# --- others from it


def _with_parts(part: JobPart, kind: Kind, made: dict[str, tuple[Shape, str]], words: str) -> str:
    """Change the furniture and the shapes in one go, so that one press takes both back."""
    job = part.job
    with transaction.atomic():
        remember(job, made, words, with_furniture=True)
        change_furniture(job, kind, words=words[:120], touched=(part.key,))
        # a fly is of cheap cloth, or of none of the job's
        deck = next((c for c in job.cloths.all() if c.role == "deck"), None)
        rows = {row.key: row for row in JobPart.objects.filter(job=job, key__in=list(made))}
        for key, (shape, way) in made.items():
            row = rows[key]
            row.job = job
            if row.key != part.key:
                row.cloth = deck if row.part.deck else part.cloth
            put_shape(row, shape, way)
    forget_parts(job)
    return words + "."


def _added(
    kind: Kind, host: str, side: Side, shape: Shape, *, join: str = "sewn", deck: bool = False
) -> tuple[Kind, str]:
    """The kind with one more panel for a shape, laid against a side of another, and the new panel's key."""
    known = {p.key for p in kind.parts}
    made = add_part(
        kind,
        shape.name,
        width=shape.outline.width,
        height=shape.outline.height,
        on=host,
        side=side,
        join=join,
        held=("sewn",),
        cover="new",
    )
    key = next(p.key for p in made.parts if p.key not in known)
    part = made.part(key)
    joins = {e: next((x.join for x in shape.edges if x.lies_on(e)), part.joins[e]) for e in part.edges} | {
        part.by: join
    }
    return change_part(made, key, joins=joins, deck=deck), key


def _band(part: JobPart, data: Data) -> str:
    side: Side = data["side"]
    joins: dict[str, str] = {**dict.fromkeys(SIDES, "sewn"), "bottom": data["lower"]}
    band = band_from_edge(data["name"], shape_of_part(part), side, data["height"], joins)
    kind, key = _added(part.job.kind, part.key, side, band)
    band = band.held_as(kind.part(key), part.job.rules)
    return _with_parts(
        part, kind, {key: (band, "band")}, f"{band.name}: a band as long as the {side} of {part.name.lower()}"
    )


def _fly(part: JobPart, data: Data) -> str:
    made = with_fly(shape_of_part(part), data["side"], data["hidden"])
    kind, key = _added(part.job.kind, part.key, data["side"], made.fly, join="fly", deck=True)
    words = f"{part.name}: ends past its tuck line, {made.saved / 100:.0f} cm² of face cloth saved by a fly"
    return _with_parts(part, kind, {part.key: (made.face, part.shape_way), key: (made.fly, "fly")}, words)


def _strips(part: JobPart, data: Data) -> str:
    """Cut a long panel in like strips, sewn end to end: so many more of a shorter shape."""
    made = in_strips(shape_of_part(part), data["strips"])
    kind = change_part(part.job.kind, part.key, per_furniture=part.part.per_furniture * data["strips"])
    words = f"{part.name}: {data['strips']} like strips sewn end to end"
    return _with_parts(part, kind, {part.key: (made, part.shape_way)}, words)


def _cushion(part: JobPart, data: Data) -> str:
    shape = shape_of_part(part) if part.shape else None
    made = cushion_of(
        data["sort"], shape, height=data["height"] or 0, length=data["length"] or 0, zip_round=data["zip_round"]
    )
    kind, shapes = cushion_panels(part.job.kind, part.key, part.name, made, rules=part.job.rules)
    zip_words = format_length(made.zip_length, "metric" if part.job.units == "metric" else "imperial")
    words = f"{part.name}: a {data['sort']} cushion, {sum(p.count for p in made.pieces)} pieces, zip {zip_words}"
    ways = {key: (s, (part.shape_way or "cushion") if key == part.key else "cushion") for key, s in shapes.items()}
    return _with_parts(part, kind, ways, words)


ACTS: dict[str, Act] = {
    "halve": Act(forms.HalveForm, _halve),
    "lopsided": Act(forms.NothingForm, _lopsided),
    "upright": Act(forms.LineForm, _upright),
    "round": Act(forms.NothingForm, _round),
    "straighten": Act(forms.EdgeNameForm, _straighten),
    "join": Act(forms.EdgeNameForm, _join),
    "part": Act(forms.PartForm, _part),
    "square": Act(forms.NothingForm, _square),
    "stretch": Act(forms.StretchForm, _stretch),
    "notch": Act(forms.NotchForm, _notch),
    "unnotch": Act(forms.WhichForm, _unnotch),
    "buttons": Act(forms.ButtonsForm, _buttons),
    "channels": Act(forms.ChannelsForm, _channels),
    "point": Act(forms.PointForm, _point),
    "unmark": Act(forms.MeansForm, _unmark),
    "top": Act(forms.NothingForm, _top),
    "fits": Act(forms.NothingForm, _fits),
    "grow": Act(forms.NothingForm, _grow),
    "pair": Act(forms.NothingForm, _pair),
    "mend": Act(forms.MendForm, _mend),
    "ease": Act(forms.EaseForm, _ease),
    "band": Act(forms.BandForm, _band),
    "fly": Act(forms.FlyForm, _fly),
    "cushion": Act(forms.CushionForm, _cushion),
    "strips": Act(forms.StripsForm, _strips),
}
WITHOUT_SHAPE = ("cushion",)  # a bolster needs no shape to begin with
