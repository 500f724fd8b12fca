"""A job's opened-out drawing, as SVG wants it."""

from __future__ import annotations

import json
import math
from dataclasses import dataclass
from functools import lru_cache

from zonatome.core.formats.furniture_json import read_furniture
from zonatome.core.formats.svg_paths import down, fixed, path_of, view_round
from zonatome.core.survey.kind import Kind
from zonatome.core.survey.kinds import kind_named
from zonatome.core.survey.opened_out import DrawnPart, OpenedOut, opened_out, seam_lines
from zonatome.core.trace.shape import edge_name
from zonatome.web.jobs.models import Job, JobPart

SIGN = 0.021  # of the drawing's size: the letter of a seam


ASIDE = 0.72  # of half a side: how far from its middle the arrow stands


ARROW = 0.036  # of the drawing's size: how long an arrow to a part's top is


LETTER = 0.54  # how wide a letter is on average, over its size


# text size over the drawing's width: below the least nobody reads it from the bench
LABEL_LEAST = 0.031
LABEL_MOST = 0.042


LOW_LABEL = 0.66  # of the least size, in a part that is lower than its name


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
    def said(self) -> str:
        """Its name and what is to be said of it."""
        return f"{self.name}: {self.words}" if self.words else self.name

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
    job: Job,
    *,
    tones: dict[str, str] | None = None,
    badges: dict[str, str] | None = None,
    words: dict[str, str] | None = None,
) -> Drawing:
    """Return the opened-out drawing of a job, true to its shapes; `tones` colours parts, `words` says the same for who
    can't see it.
    """
    measures = tuple((p.key, *_measures(p)) for p in job.parts.all() if p.shape)
    return _drawing(job.kind, measures, tones or {}, badges or {}, words or {}, furniture=_document(job))


def opened_out_of(job: Job) -> OpenedOut:
    """Return the opened-out drawing of a job in mm, true to its shapes."""
    return _opened_out(job.kind.key, _document(job), tuple((p.key, *_measures(p)) for p in job.parts.all() if p.shape))


def _document(job: Job) -> str:
    return json.dumps(job.furniture, sort_keys=True) if job.furniture else ""


def _drawing(
    kind: Kind,
    measures: tuple[tuple[str, float, float], ...],
    tones: dict[str, str],
    badges: dict[str, str],
    words: dict[str, str],
    *,
    furniture: str,
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
            PartDrawing(
                part.key,
                data.name,
                path_of(part.points, y1),
                *middle,
                placed,
                turn,
                fixed(size),
                tone,
                badge,
                said,
                arrow,
            )
        )
    view = view_round((x0, y0, x1, y1), edge)
    seams = _seams(kind.key, furniture, measures)
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
        found.append(SeamDrawing(path, sign, *down(middle, top)))
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
        return min(
            wide * 0.92 / max(len(line) for line in lines) / LETTER, high * 0.88 / rows / 1.05, whole * LABEL_MOST
        )

    best = max(choices, key=lambda lines: (round(size(lines), 1), -len(lines)))
    return best, max(size(best), whole * LABEL_LEAST)


def _measures(part: JobPart) -> tuple[float, float]:
    points = part.shape["outline"]
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    return max(xs) - min(xs), max(ys) - min(ys)
