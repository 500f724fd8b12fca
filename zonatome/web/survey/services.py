"""Changing what a job is made of, and restyling it: panels, shapes and cloths follow; undo brings all of it back."""

from __future__ import annotations

from dataclasses import replace

from django.db import transaction

from zonatome.core.errors import BadInput
from zonatome.core.formats.furniture_json import write_furniture
from zonatome.core.formats.piece_json import read_piece, write_piece
from zonatome.core.survey.furniture import with_variants
from zonatome.core.survey.kind import Kind
from zonatome.core.survey.kinds import kind_named
from zonatome.core.trace.shape import Shape
from zonatome.web.base.changed import ChangedMeanwhile, Line
from zonatome.web.jobs.models import Job, JobPart

MOST_PAST = 30
FURNITURE = ("furniture", "furniture_past", "furniture_version", "variants", "restyled", "trim_kind", "trim_done")
KEPT_FIELDS = ("shape", "shape_way", "shape_has", "shape_pad", "shape_wraps", "cloth_id", "pad_measured", "board_width")


def change_furniture(
    job: Job,
    kind: Kind,
    *,
    words: str,
    version: int | None = None,
    variants: list[str] | None = None,
    restyled: str = "",
    touched: tuple[str, ...] = (),
) -> None:
    """Make a job's furniture another: parts that are new get a row, what is dropped keeps its own for undo.

    `touched` are the parts whose shape or cloth the caller changes with it; what they have now is remembered.

    Raises BadInput where something that is off and recorded would vanish, ChangedMeanwhile when it was changed since
    the page was opened.
    """
    if version is not None and version != job.furniture_version:
        past = job.furniture_past[-1]["words"] if job.furniture_past else ""
        raise ChangedMeanwhile(
            f"the panels of {job.number}",
            [Line("Last change", past, words), Line("Parts", _names(job.kind), _names(kind))],
        )
    rows = {row.key: row for row in JobPart.every.filter(job=job)}
    for row in rows.values():
        if row.is_there and row.off_number is not None and not kind.has(row.key):
            was = job.kind.part(row.key).name
            raise BadInput(
                "part", was, "a part that is not off and recorded; put it back first, or say that it is not made again"
            )
    with transaction.atomic():
        stands = Job.objects.get(pk=job.pk)
        if stands.furniture_version != job.furniture_version:
            raise _changed_meanwhile(stands, kind, words)
        before = {
            "words": words,
            "furniture": job.furniture,
            "variants": job.variants,
            "restyled": job.restyled,
            "trim": [job.trim_kind, job.trim_done],
            "rows": {row.key: {f: getattr(row, f) for f in KEPT_FIELDS} for row in rows.values() if row.key in touched},
        }
        shapes = followed(job, kind)
        before["rows"] |= {
            key: {f: getattr(rows[key], f) for f in KEPT_FIELDS} for key in shapes if key not in before["rows"]
        }
        job.furniture_past = [*job.furniture_past, before][-MOST_PAST:]
        job.furniture = write_furniture(kind)
        if variants is not None:
            job.variants = variants
        if restyled:
            job.restyled = [*job.restyled, restyled]
        job.furniture_version += 1
        job.save(update_fields=FURNITURE)
        for key, shape in shapes.items():
            rows[key].shape = write_piece(shape)
            rows[key].save()
        _match_rows(job, kind, rows)
    _forget_loaded(job)


def followed(job: Job, kind: Kind) -> dict[str, Shape]:
    """Return the shapes whose edges are held another way in a changed furniture, by key.

    An edge that was held as its panel's edge was takes what that has become, with what the workroom adds; one that
    somebody has held otherwise stays.
    """
    found = {}
    for row in job.parts.all():
        if not (row.shape and kind.has(row.key) and job.kind.has(row.key)):
            continue
        was, now = job.kind.part(row.key), kind.part(row.key)
        if was.joins == now.joins and was.parted == now.parted:
            continue
        shape = read_piece(row.shape)
        fresh = shape.held_as(now, job.rules)
        held = {e.name: e for e in shape.edges}
        edges = []
        for edge in fresh.edges:
            old = held.get(edge.name)
            own = old is not None and old.join != was.joins.get(old.panel_edge(was))
            same = old is not None and old.join == edge.join
            edges.append(replace(edge, join=old.join, adds=old.adds) if old is not None and (own or same) else edge)
        made = replace(fresh, edges=tuple(edges))
        if made != shape:
            found[row.key] = made
    return found


def _changed_meanwhile(stands: Job, kind: Kind, words: str) -> ChangedMeanwhile:
    past = stands.furniture_past[-1]["words"] if stands.furniture_past else ""
    lines = [Line("Last change", past, words), Line("Parts", _names(stands.kind), _names(kind))]
    return ChangedMeanwhile(f"the panels of {stands.number}", lines)


def _names(kind: Kind) -> str:
    return ", ".join(p.name.lower() for p in kind.parts)


def _match_rows(job: Job, kind: Kind, rows: dict[str, JobPart]) -> None:
    """Give every part a row, and set those aside that the furniture has no more."""
    main = next((c for c in job.cloths.all() if c.role == "main"), None)
    for part in kind.parts:
        row = rows.get(part.key)
        if row is None:
            cloth = main if part.what == "panel" and not part.contrast else None
            JobPart.objects.create(job=job, key=part.key, cloth=cloth)
        elif not row.is_there:
            row.is_there = True
            row.save()
    for key, row in rows.items():
        if row.is_there and not kind.has(key):
            row.is_there = False
            row.save()


def _forget_loaded(job: Job) -> None:
    """Read the parts again when they are next asked for."""
    getattr(job, "_prefetched_objects_cache", {}).pop("parts", None)


def undo_change(job: Job) -> str:
    """Take the last change of the furniture back, shapes and cloths with it; returns what it was."""
    if not job.furniture_past:
        raise BadInput("change", None, "something that has been changed")
    before = job.furniture_past[-1]
    with transaction.atomic():
        job.furniture, job.variants, job.restyled = before["furniture"], before["variants"], before["restyled"]
        job.trim_kind, job.trim_done = before["trim"]
        rows = {row.key: row for row in JobPart.every.filter(job=job)}
        for row in rows.values():
            if row.off_number is not None and row.is_there and not job.kind.has(row.key):
                raise BadInput("part", row.key, "a part that is not off and recorded; put it back first")
        job.furniture_past = job.furniture_past[:-1]
        job.furniture_version += 1
        job.save(update_fields=FURNITURE)
        _match_rows(job, job.kind, rows)
        for key, fields in before["rows"].items():
            row = rows[key]
            if any(getattr(row, f) != v for f, v in fields.items()):
                for field, value in fields.items():
                    setattr(row, field, value)
                row.save()
    _forget_loaded(job)
    return str(before["words"])


def choose_variants(job: Job, chosen: list[str], *, version: int | None) -> None:
    """Make it another usual make of its kind; what was changed by hand before starts anew, and undo brings it back."""
    usual = kind_named(job.kind_key)
    kind = with_variants(usual, chosen)
    keys = [v.key for v in usual.variants if v.key in chosen]
    names = ", ".join(v.name.lower() for v in usual.variants if v.key in chosen) or "as usual"
    change_furniture(job, kind, words=f"make: {names}"[:120], version=version, variants=keys)


# --- restyling ---------------------------------------------------------------------------------------
