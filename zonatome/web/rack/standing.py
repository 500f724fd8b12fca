"""From a job's rows to the core's plain values: how it stands, and its opened-out drawing."""

from __future__ import annotations

import json
import logging
import math
from dataclasses import asdict, dataclass
from functools import lru_cache
from typing import Any

from django.db import DatabaseError, transaction
from django.template.loader import render_to_string
from django.utils.safestring import SafeString

import zonatome
from zonatome.core.errors import BadInput
from zonatome.core.finish.handover import Open, Standing, still_open
from zonatome.core.formats.furniture_json import read_furniture, write_furniture
from zonatome.core.formats.svg_paths import fixed, path_of
from zonatome.core.shop.progress import JobState, NextMove, StepState, next_move, step_states
from zonatome.core.strip.order import WasOff, can_come_off, comes_with, least_set, thing_name, things, way_back
from zonatome.core.strip.record import Check, Entry, checks
from zonatome.core.survey.clearance import clearance
from zonatome.core.survey.findings import LAYERS, VERDICTS, Verdict, cautions_called, proposed
from zonatome.core.survey.kind import Kind
from zonatome.core.survey.kinds import KINDS, kind_named
from zonatome.core.survey.opened_out import DrawnPart, OpenedOut, opened_out, seam_lines
from zonatome.core.trace.shape import edge_name
from zonatome.core.units import Units, format_length
from zonatome.web.jobs.models import Job, JobPart, photos_of
from zonatome.web.lay.services import cloth_standing

logger = logging.getLogger(__name__)

SIGN = 0.021  # of the drawing's size: the letter of a seam
ASIDE = 0.72  # of half a side: how far from its middle the arrow stands
ARROW = 0.036  # of the drawing's size: how long an arrow to a part's top is
LETTER = 0.54  # how wide a letter is on average, over its size
LABEL_LEAST, LABEL_MOST = 0.031, 0.042  # text size over the drawing's width: below the least nobody reads it from the bench
LOW_LABEL = 0.66  # of the least size, in a part that is lower than its name


class Damaged(Exception):
    """A tag whose rows hold what can't be worked out; why."""


def verdicts_of(job: Job) -> dict[str, LayerStanding]:
    """Return how each layer of a job stands: what was found, the rule's verdict, the one that holds."""
    found = [f.finding for f in job.findings.all()]
    by_hand = {v.layer: v for v in job.verdicts.all()}
    fits = fits_over(job)
    standing = {}
    for layer in LAYERS:
        rule = proposed(layer, found, fits_over=fits)
        own = by_hand.get(layer)
        chosen = own.verdict if own and own.verdict and rule else ""
        standing[layer] = LayerStanding(
            layer,
            tuple(f for f in job.findings.all() if f.layer == layer),
            rule,
            chosen or (rule.verdict if rule else ""),
            own.note if own else "",
        )
    return standing


def fits_over(job: Job) -> bool | None:
    """Return whether the seat still drops in with the cloth over the old cover; nothing where nobody has measured."""
    return clearance(**job.clearance).fits if job.clearance else None


@dataclass(frozen=True)
class LayerStanding:
    """One layer: what was found in it, what the rule says, the verdict that holds, a note."""

    layer: str
    found: tuple[Any, ...]
    rule: Verdict | None
    verdict: str
    note: str

    @property
    def is_by_hand(self) -> bool:
        """Whether a hand decided otherwise than the rule."""
        return bool(self.rule and self.verdict != self.rule.verdict)

    @property
    def words(self) -> str:
        """The verdict as one says it."""
        return VERDICTS.get(self.verdict, "")


def job_state(job: Job, units: Units) -> JobState:
    """Return the counts that the tape and the next move are made from. Reads only what `with_all` has loaded."""
    verdicts = verdicts_of(job)
    off = job.off_keys
    wished = least_set(job.kind, [k for k in job.reach if job.kind.has(k)], off).order if job.reach else None
    ready = can_come_off(job.kind, off)
    next_off = next((k for k in ready if wished is None or k in wished), "")
    panels, padded = job.panels(), job.padded()
    shapeless = [p for p in panels if p.shape is None]
    unpadded = [p for p in padded if not p.has_pad]
    cloths = [cloth_standing(c) for c in job.cloths.all()]
    laid = [c for c in cloths if c.is_laid]
    pieces = sum(p.pieces for p in panels if p.shape is not None)
    loose = [p for p in padded if p.staples_done < p.staples_planned * job.count]
    buy = " + ".join(format_length(c.buy, units, "cloth", up=True) for c in laid if c.buy)
    return JobState(
        findings=sum(1 for v in verdicts.values() if v.found),
        is_covered_over=verdicts["cover"].verdict in ("cover_over", "keep"),
        parts=len(things(job.kind, [p.key for p in job.kind.old] if wished is None else [*off, *wished])),
        parts_off=len(things(job.kind, off)),
        next_off=thing_name(job.kind, comes_with(job.kind, next_off)) if next_off else "",
        lacking=len(lacking(job)),
        furniture=job.count,
        stripped=sum(1 for p in job.set_pieces.all() if p.off_at and p.number <= job.count),
        shapes=len(panels),
        shapes_made=len(panels) - len(shapeless),
        next_shape=shapeless[0].name if shapeless else "",
        cloths=len([c for c in cloths if c.pieces]) if cloths else 0,
        panels_without_cloth=sum(1 for p in panels if p.shape is not None and p.cloth_id is None),
        lays=len(laid),
        stale_lays=sum(c.is_stale for c in cloths),
        buy=buy,
        pieces=pieces,
        pieces_cut=sum(c.cut for c in cloths),
        pads=len(padded),
        pads_made=len(padded) - len(unpadded),
        next_pad=unpadded[0].name if unpadded else "",
        staples=sum(p.staples_planned for p in padded) * job.count,
        staples_done=sum(min(p.staples_done, p.staples_planned * job.count) for p in padded),
        next_fasten=(loose or padded or panels)[0].name if panels else "",
        has_trim=bool(job.trim_kind and job.trim_kind != "none"),
        trim_done=job.trim_done,
        trim=_trim_words(job, units),
        to_finish=len(finish_list(job)),
        is_finished=job.finished_at is not None,
    )


def _trim_words(job: Job, units: Units) -> str:
    if not job.trim_kind:
        return ""
    if job.trim_kind == "none":
        return "none"
    from zonatome.web.trim.services import trims_of_job

    words = [f"{format_length(s.total, units, 'cloth')} {s.kind.replace('_', ' ')}" for s in trims_of_job(job)]
    return " + ".join(words) or job.trim_kind.replace("_", " ")


def entries_of(job: Job) -> dict[str, Entry]:
    """Return the strip record as the core's checks read it."""
    bags: dict[int, Any] = {}
    for bag in job.bags.all():
        bags.setdefault(bag.part_id, bag)
    made = {}
    for part in job.parts.all():
        bag = bags.get(part.pk)
        made[part.key] = Entry(
            part.off_number is not None,
            part.off_number or 0,
            tuple(part.marks),
            part.fate,
            bag.number if bag else None,
            bag.contents if bag else "",
        )
    return made


def lacking(job: Job) -> tuple[Check, ...]:
    """Return what the strip record lacks."""
    return checks(job.kind, entries_of(job))


def way_back_of(job: Job) -> list[dict[str, Any]]:
    """Return the rebuild list: each line of the core's with its row."""
    rows = job.parts_by_key()
    record = {
        key: WasOff(tuple(row.fixings) or ((row.fixing,) if row.fixing else ()), tuple(row.fixings_again), row.fate == "reuse")
        for key, row in rows.items()
    }
    said: dict[str, list[str]] = {}
    for check in lacking(job):
        said.setdefault(check.part, []).append(check.words)
    lines = way_back(job.kind, job.off_keys, record)
    found = []
    for line in lines:
        members = [rows[key] for key in (line.key, *line.rest) if key in rows]
        if members:
            words = [w for row in members for w in said.get(row.key, [])]
            is_on = all(row.on_again for row in members)
            keys = [row.key for row in members]
            found.append({"part": members[0], "members": members, "keys": keys, "back": line, "checks": words, "is_on": is_on})
    return found


def finish_list(job: Job) -> tuple[Open, ...]:
    """Return what is still open before the job goes home."""
    going_back = way_back_of(job)
    panels = [] if verdicts_of(job)["cover"].verdict in ("cover_over", "keep") else job.panels()
    cloths = [cloth_standing(c) for c in job.cloths.all()] if panels else []
    bags = list(job.bags.all())
    return still_open(
        Standing(
            furniture=job.count,
            parts_on_again=sum(line["is_on"] for line in going_back),
            parts_off=len(going_back),
            bags=len(bags),
            bags_emptied=sum(b.emptied for b in bags),
            screws=job.kind.screws,
            holes_found=job.holes_found,
            had_label=job.had_label,
            label_on=job.label_on,
            feet=job.kind.feet,
            feet_done=job.feet_done,
            after_photos=len(photos_of(job.photos.all(), "after")),
            pieces=sum(p.pieces for p in panels if p.shape is not None and p.cloth_id is not None),
            pieces_cut=sum(c.cut for c in cloths),
        )
    )


@dataclass(frozen=True)
class Tape:
    """The tape of a job: its eight steps and its next move."""

    steps: tuple[StepState, ...]
    move: NextMove

    @property
    def share(self) -> float:
        """The share of the whole that is done."""
        return sum(s.share for s in self.steps) / len(self.steps)

    @property
    def segments(self) -> tuple[dict[str, str], ...]:
        """For the little tape, 160 long: where each step begins and how much of it is done."""
        return tuple({"x": fixed(n * 20.0), "width": fixed(s.share * 20.0)} for n, s in enumerate(self.steps))


def tape_of(job: Job, units: Units) -> Tape:
    """Return the job's tape, from what is kept of how it stands; works that out where it is not kept."""
    return tape_from(kept_of(job, units)["state"])


def tape_from(kept: dict[str, Any]) -> Tape:
    """Return the tape of a state as it is kept."""
    state = JobState(**kept)
    return Tape(step_states(state), next_move(state))


def kept_of(job: Job, units: Units) -> dict[str, Any]:
    """Return how a job stands as plain values, kept with it until something is saved that may change it.

    Raises Damaged where it can't be worked out.
    """
    if not _is_fresh(job, units):
        keep_standing([job], units)
    kept: dict[str, Any] = job.kept  # type: ignore[assignment]
    if "damaged" in kept:
        raise Damaged(kept["damaged"])
    return kept


def damage_of(job: Job, units: Units) -> str:
    """Return why a job can't be worked out; empty where it can."""
    try:
        kept_of(job, units)
    except Damaged as wrong:
        return str(wrong)
    return ""


def _is_fresh(job: Job, units: Units) -> bool:
    kept = job.kept or {"damaged": ""}  # what could not be worked out is tried anew, it may have been mended
    return "damaged" not in kept and kept.get("version") == zonatome.__version__ and kept.get("units") == units


def _standing_of(job: Job, units: Units) -> dict[str, Any]:
    """How a job stands, or that it is damaged: one tag that can't be worked out keeps nobody from the others."""
    from zonatome.web.shop.services import minutes_of

    try:
        found = {
            "state": asdict(job_state(job, units)),
            "tones": tag_tones(job),
            "measures": [[p.key, *_measures(p)] for p in job.parts.all() if p.shape],
            "minutes": minutes_of(job),
            "found": list(cautions_called([f.finding for f in job.findings.all()])),
        }
        tape_from(found["state"])
        _drawing(job.kind, tuple((k, w, h) for k, w, h in found["measures"]), found["tones"], {}, {}, furniture=_document(job))
        json.dumps(found, allow_nan=False)
    except (DatabaseError, MemoryError):
        raise
    except Exception as wrong:
        logger.warning("tag %s can't be worked out", job.number, exc_info=True)
        return {"damaged": (str(wrong) if isinstance(wrong, BadInput) else f"{type(wrong).__name__}: {wrong}")[:300]}
    return found


def keep_standing(jobs: list[Job], units: Units) -> None:
    """Work out how these jobs stand where it is not kept, and keep it: all of them in one go."""
    stale = {job.pk: job for job in jobs if not _is_fresh(job, units)}
    if not stale:
        return
    loaded = [job for job in stale.values() if "trim_lines" in getattr(job, "_prefetched_objects_cache", {})]
    made_for = {}
    for full in [*loaded, *Job.objects.with_all().defer("furniture_past").filter(pk__in=[pk for pk in stale if stale[pk] not in loaded])]:
        for row in (*full.parts.all(), *full.cloths.all()):
            row.job = full
        made_for[full.pk] = full.kept_for
        stale[full.pk].kept = {"version": zonatome.__version__, "units": units, **_standing_of(full, units)}
    with transaction.atomic():  # the store is ours alone: what was saved meanwhile is seen here, or comes after
        now = dict(Job.objects.filter(pk__in=stale).values_list("pk", "kept_for"))
        Job.objects.bulk_update([job for pk, job in stale.items() if now.get(pk) == made_for.get(pk)], ["kept"])


@dataclass(frozen=True)
class PartDrawing:
    """One part on the opened-out drawing, as SVG wants it."""

    key: str
    name: str
    path: str
    x: str
    y: str
    lines: tuple[tuple[str, str], ...]
    turn: str
    size: str
    tone: str
    badge: str
    words: str
    arrow: str = ""  # to its own top; only where the drawing has turned it

    @property
    def shown(self) -> str:
        """What is written on it."""
        return " ".join(line for line, _ in self.lines)

    @property
    def is_in_hand(self) -> bool:
        """Whether it is the one that the page is about."""
        return "in-hand" in self.tone


@dataclass(frozen=True)
class SeamDrawing:
    """One side of a seam: its line, and where its sign stands when its other side lies elsewhere on the drawing."""

    path: str
    sign: str
    x: str
    y: str


@dataclass(frozen=True)
class Drawing:
    """The opened-out drawing: its view box and its parts."""

    view: str
    parts: tuple[PartDrawing, ...]
    seams: tuple[SeamDrawing, ...] = ()
    sign_size: str = "0"


def _kind_of(kind_key: str, furniture: str) -> Kind:
    return read_furniture(json.loads(furniture)) if furniture else kind_named(kind_key)


@lru_cache(maxsize=512)
def _opened_out(kind_key: str, furniture: str, measures: tuple[tuple[str, float, float], ...]) -> OpenedOut:
    return opened_out(_kind_of(kind_key, furniture), {key: (width, height) for key, width, height in measures})


def drawing_of(
    job: Job, *, tones: dict[str, str] | None = None, badges: dict[str, str] | None = None, words: dict[str, str] | None = None
) -> Drawing:
    """Return the opened-out drawing of a job, true to its shapes; `tones` colours parts, `words` says the same for who can't see it."""
    measures = tuple((p.key, *_measures(p)) for p in job.parts.all() if p.shape)
    return _drawing(job.kind, measures, tones or {}, badges or {}, words or {}, furniture=_document(job))


def opened_out_of(job: Job) -> OpenedOut:
    """Return the opened-out drawing of a job in mm, true to its shapes."""
    return _opened_out(job.kind.key, _document(job), tuple((p.key, *_measures(p)) for p in job.parts.all() if p.shape))


def _document(job: Job) -> str:
    return json.dumps(job.furniture, sort_keys=True) if job.furniture else ""


def tag_picture(job: Job, units: Units) -> SafeString:
    """Return the small drawing of a tag as SVG, from what is kept of how it stands."""
    kept = kept_of(job, units)
    measures = tuple((key, width, height) for key, width, height in kept["measures"])
    return _picture(job.kind_key, _document(job), measures, tuple(sorted(kept["tones"].items())))


@lru_cache(maxsize=512)
def _picture(
    kind_key: str, furniture: str, measures: tuple[tuple[str, float, float], ...], tones: tuple[tuple[str, str], ...]
) -> SafeString:
    kind = _kind_of(kind_key, furniture)
    drawing = _drawing(kind, measures, dict(tones), {}, {}, furniture=furniture, has_seams=False)
    return render_to_string("_opened_out.html", {"drawing": drawing, "plain": True})


def drawing_of_kind(kind: Kind) -> Drawing:
    """Return the opened-out drawing of a kind with its usual measures."""
    return _drawing(kind, (), {}, {}, {}, furniture=json.dumps(write_furniture(kind)) if kind != KINDS[kind.key] else "")


def _drawing(
    kind: Kind,
    measures: tuple[tuple[str, float, float], ...],
    tones: dict[str, str],
    badges: dict[str, str],
    words: dict[str, str],
    *,
    furniture: str,
    has_seams: bool = True,
) -> Drawing:
    drawn = _opened_out(kind.key, furniture, measures)
    x0, y0, x1, y1 = drawn.bounds
    edge = (x1 - x0) * 0.02 + 6
    made = []
    for part in drawn.parts:
        data = kind.part(part.key)
        badge = badges.get(part.key, "")
        whole = max(x1 - x0, (y1 - y0) * 0.8)
        lines, size = _label(data.short, part.width, part.height, whole, bool(badge))
        turned = False
        if not _fits(lines, size, part.width) and part.height > part.width:  # a narrow one is read along its height
            along = _label(data.short, part.height, part.width, whole, bool(badge))
            turned = _fits(*along, part.height)
            lines, size = along if turned else (lines, size)
        shown = (*lines, badge) if badge else lines
        low = max(size * LOW_LABEL, min(size, part.height * 0.9))
        if len(shown) * size * 1.05 > part.height and not turned and _fits((" ".join(shown),), low, part.width):
            shown, size = (" ".join(shown),), low  # a zip strip's half, a boxing: too low for two lines
        first = y1 - part.middle[1] - size * 1.05 * (len(shown) - 1) / 2
        placed = tuple((line, fixed(first + n * size * 1.05)) for n, line in enumerate(shown))
        tone, said = tones.get(part.key, "plain"), words.get(part.key, "")
        middle = (fixed(part.middle[0]), fixed(y1 - part.middle[1]))
        turn = f"rotate(-90 {middle[0]} {middle[1]})" if turned else ""
        arrow = _arrow(part, y1, whole) if part.turn else ""
        made.append(
            PartDrawing(part.key, data.name, path_of(part.points, y1), *middle, placed, turn, fixed(size), tone, badge, said, arrow)
        )
    view = f"{fixed(x0 - edge)} {fixed(-edge)} {fixed(x1 - x0 + 2 * edge)} {fixed(y1 - y0 + 2 * edge)}"
    seams = _seams(kind.key, furniture, measures) if has_seams else ()
    return Drawing(view, tuple(made), seams, fixed(max(x1 - x0, y1 - y0) * SIGN))


def _arrow(part: DrawnPart, top: float, whole: float) -> str:
    """An arrow at a part's own top, pointing to it."""
    a, b = part.sides["top"]
    middle = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
    far = math.dist(middle, part.middle) or 1.0
    out = ((middle[0] - part.middle[0]) / far, (middle[1] - part.middle[1]) / far)
    edge = (middle[0] + (a[0] - middle[0]) * ASIDE, middle[1] + (a[1] - middle[1]) * ASIDE)  # beside the name
    long, head = min(whole * ARROW, far * 0.5), min(whole * ARROW, far * 0.5) * 0.45
    tip = (edge[0] - out[0] * whole * 0.008, edge[1] - out[1] * whole * 0.008)
    tail = (tip[0] - out[0] * long, tip[1] - out[1] * long)
    barbs = [(tip[0] - out[0] * head + s * out[1] * head, tip[1] - out[1] * head - s * out[0] * head) for s in (-1, 1)]
    return path_of([tail, tip], top, closed=False) + path_of([barbs[0], tip, barbs[1]], top, closed=False)


@lru_cache(maxsize=512)
def _seams(kind_key: str, furniture: str, measures: tuple[tuple[str, float, float], ...]) -> tuple[SeamDrawing, ...]:
    """Both sides of every seam in the same mark; where they do not touch on the drawing, with the same letter."""
    kind, drawn = _kind_of(kind_key, furniture), _opened_out(kind_key, furniture, measures)
    top = drawn.bounds[3]
    lines = [line for line in seam_lines(kind, drawn) if line.touches or not kind.part(line.key).is_loose]
    apart = list(dict.fromkeys(line.number for line in lines if not line.touches))
    found = []
    for line in lines:
        middle = ((line.begins[0] + line.ends[0]) / 2, (line.begins[1] + line.ends[1]) / 2)
        sign = edge_name(apart.index(line.number)) if line.number in apart else ""
        path = path_of([line.begins, line.ends], top, closed=False)
        found.append(SeamDrawing(path, sign, fixed(middle[0]), fixed(top - middle[1])))
    return tuple(found)


def _fits(lines: tuple[str, ...], size: float, wide: float) -> bool:
    """Whether lines of this size stay within so many millimetres."""
    return max(len(line) for line in lines) * size * LETTER <= wide * 1.02


def _label(short: str, wide: float, high: float, whole: float, has_badge: bool) -> tuple[tuple[str, ...], float]:
    """A short name on as many lines as make it largest, and its size: readable even where it overhangs a little."""
    words = short.split()
    choices = [(short,), *[(" ".join(words[:k]), " ".join(words[k:])) for k in range(1, len(words))], tuple(words)]

    def size(lines: tuple[str, ...]) -> float:
        rows = len(lines) + (1 if has_badge else 0)
        return min(wide * 0.92 / max(len(line) for line in lines) / LETTER, high * 0.88 / rows / 1.05, whole * LABEL_MOST)

    best = max(choices, key=lambda lines: (round(size(lines), 1), -len(lines)))
    return best, max(size(best), whole * LABEL_LEAST)


def tag_tones(job: Job) -> dict[str, str]:
    """Return how far each part is, for the small drawing on the tag: still on, can come off, off, has its shape, on again."""
    off = job.off_keys
    ready = can_come_off(job.kind, off)
    tones = {}
    for part in job.parts.all():
        if part.on_again:
            tones[part.key] = "on"
        elif part.shape:
            tones[part.key] = "shaped"
        elif part.key in off:
            tones[part.key] = "off"
        else:
            tones[part.key] = "ready" if part.key in ready and off else "plain"
    return tones


def _measures(part: JobPart) -> tuple[float, float]:
    points = part.shape["outline"]
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    return max(xs) - min(xs), max(ys) - min(ys)
