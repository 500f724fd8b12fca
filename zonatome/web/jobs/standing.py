"""From a job's rows to the core's plain values: how it stands, and its opened-out drawing."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from zonatome.core.finish.handover import Open, Standing, still_open
from zonatome.core.formats.svg_paths import fixed, path_of
from zonatome.core.shop.progress import JobState, NextMove, StepState, next_move, step_states
from zonatome.core.strip.order import can_come_off
from zonatome.core.survey.kind import Kind
from zonatome.core.survey.kinds import kind_named
from zonatome.core.survey.opened_out import OpenedOut, opened_out
from zonatome.core.units import Units, format_length
from zonatome.web.jobs.models import Job, JobPart, photos_of
from zonatome.web.lay.services import cloth_standing

LABEL_LEAST, LABEL_MOST = 0.031, 0.042  # text size over the drawing's width: below the least nobody reads it from the bench


def job_state(job: Job, units: Units) -> JobState:
    """Return the counts that the tape and the next move are made from. Reads only what `with_all` has loaded."""
    parts = list(job.parts.all())
    by_key = {p.key: p for p in parts}
    findings = list(job.findings.all())
    off = job.off_keys
    next_off = next(iter(can_come_off(job.kind, off)), "")
    panels, padded = job.panels(), job.padded()
    shapeless = [p for p in panels if p.shape is None]
    unpadded = [p for p in padded if not p.has_pad]
    cloths = [cloth_standing(c) for c in job.cloths.all()]
    laid = [c for c in cloths if c.is_laid]
    pieces = sum(p.pieces for p in panels if p.shape is not None)
    loose = [p for p in padded if p.staples_done < p.staples_planned * job.count]
    buy = " + ".join(format_length(c.buy, units, "cloth", up=True) for c in laid if c.buy)
    return JobState(
        findings=len(findings),
        is_covered_over=any(f.layer == "cover" and f.verdict in ("cover_over", "keep") for f in findings),
        parts=len(parts),
        parts_off=len(off),
        next_off=by_key[next_off].name if next_off else "",
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
    from zonatome.web.trim.services import trim_of_job

    summed = trim_of_job(job)
    name = job.trim_kind.replace("_", " ")
    return f"{format_length(summed.total, units, 'cloth')} {name}" if summed else name


def finish_list(job: Job) -> tuple[Open, ...]:
    """Return what is still open before the job goes home."""
    parts = list(job.parts.all())
    bags = [p for p in parts if p.bag is not None]
    return still_open(
        Standing(
            furniture=job.count,
            parts_on_again=sum(p.on_again for p in parts if p.off_number is not None),
            parts_off=sum(p.off_number is not None for p in parts),
            bags=len(bags),
            bags_emptied=sum(p.bag_emptied for p in bags),
            screws=job.kind.screws,
            holes_found=job.holes_found,
            had_label=job.had_label,
            label_on=job.label_on,
            feet=job.kind.feet,
            feet_done=job.feet_done,
            after_photos=len(photos_of(job.photos.all(), "after")),
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
    """Return the job's tape."""
    state = job_state(job, units)
    return Tape(step_states(state), next_move(state))


@dataclass(frozen=True)
class PartDrawing:
    """One part on the opened-out drawing, as SVG wants it."""

    key: str
    name: str
    path: str
    x: str
    y: str
    lines: tuple[tuple[str, str], ...]
    size: str
    tone: str
    badge: str
    words: str


@dataclass(frozen=True)
class Drawing:
    """The opened-out drawing: its view box and its parts."""

    view: str
    parts: tuple[PartDrawing, ...]


@lru_cache(maxsize=256)
def _opened_out(kind_key: str, measures: tuple[tuple[str, float, float], ...]) -> OpenedOut:
    return opened_out(kind_named(kind_key), {key: (width, height) for key, width, height in measures})


def drawing_of(
    job: Job, *, tones: dict[str, str] | None = None, badges: dict[str, str] | None = None, words: dict[str, str] | None = None
) -> Drawing:
    """Return the opened-out drawing of a job, true to its shapes; `tones` colours parts, `words` says the same for who can't see it."""
    measures = tuple((p.key, *_measures(p)) for p in job.parts.all() if p.shape)
    return _drawing(job.kind, measures, tones or {}, badges or {}, words or {})


def drawing_of_kind(kind: Kind) -> Drawing:
    """Return the opened-out drawing of a kind with its usual measures."""
    return _drawing(kind, (), {}, {}, {})


def _drawing(
    kind: Kind, measures: tuple[tuple[str, float, float], ...], tones: dict[str, str], badges: dict[str, str], words: dict[str, str]
) -> Drawing:
    drawn = _opened_out(kind.key, measures)
    x0, y0, x1, y1 = drawn.bounds
    edge = (x1 - x0) * 0.02 + 6
    made = []
    for part in drawn.parts:
        data = kind.part(part.key)
        badge = badges.get(part.key, "")
        lines, size = _label(data.short, part.width, part.height, max(x1 - x0, (y1 - y0) * 0.8), bool(badge))
        shown = (*lines, badge) if badge else lines
        first = y1 - part.middle[1] - size * 1.05 * (len(shown) - 1) / 2
        placed = tuple((line, fixed(first + n * size * 1.05)) for n, line in enumerate(shown))
        tone, said = tones.get(part.key, "plain"), words.get(part.key, "")
        middle = (fixed(part.middle[0]), fixed(y1 - part.middle[1]))
        made.append(PartDrawing(part.key, data.name, path_of(part.points, y1), *middle, placed, fixed(size), tone, badge, said))
    view = f"{fixed(x0 - edge)} {fixed(-edge)} {fixed(x1 - x0 + 2 * edge)} {fixed(y1 - y0 + 2 * edge)}"
    return Drawing(view, tuple(made))


def _label(short: str, wide: float, high: float, whole: float, has_badge: bool) -> tuple[tuple[str, ...], float]:
    """A short name on as many lines as make it largest, and its size: readable even where it overhangs a little."""
    words = short.split()
    choices = [(short,), *[(" ".join(words[:k]), " ".join(words[k:])) for k in range(1, len(words))], tuple(words)]

    def size(lines: tuple[str, ...]) -> float:
        rows = len(lines) + (1 if has_badge else 0)
        return min(wide * 0.92 / max(len(line) for line in lines) / 0.54, high * 0.88 / rows / 1.05, whole * LABEL_MOST)

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
