"""The furniture of a tag in the round: its body from its shapes and measures, in its cloth as the lay cuts it."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from django.core.cache import cache
from django.db import transaction

from zonatome.core.body.agree import Apart, apart
from zonatome.core.body.build import CELLS, MANY_CELLS, body_of, few_cells
from zonatome.core.body.cloth import Look, Piece, colour_of, usual_piece
from zonatome.core.body.making import FRAME_UNDER
from zonatome.core.body.measures import MEASURES, BodyMeasure, usual_measures, with_own
from zonatome.core.body.picture import Dress, Picture, picture_of
from zonatome.core.body.trims import chosen_lines
from zonatome.core.body.values import Body, Stuff, TrimLine, TrimSort
from zonatome.core.body.views import USUAL_VIEW, View, best_view, view_named
from zonatome.core.errors import BadInput
from zonatome.core.formats import reading
from zonatome.core.formats.body_glb import ClothPhoto, body_glb, photo_colours
from zonatome.core.formats.body_svg import body_svg
from zonatome.core.formats.stack_json import read_stack
from zonatome.core.lay.request import LayRequest, Placement
from zonatome.core.survey.kind import Kind
from zonatome.core.trace.shape import Shape
from zonatome.web.fasten.services import is_on
from zonatome.web.jobs.models import Job
from zonatome.web.lay.in_place import placed_on_panels
from zonatome.web.lay.models import Cloth, JobCloth
from zonatome.web.lay.services import best_run
from zonatome.web.survey.verdicts import verdicts_of
from zonatome.web.trace.services import shape_of_part

RENEWED = ("renew",)
SORTS: dict[str, TrimSort] = {
    "welt": "welt",
    "double_welt": "double_welt",
    "gimp": "gimp",
    "nails": "nails",
    "cord": "welt",
    "fringe": "gimp",
}
TONES = ("off", "next", "done", "wrong")
KEPT_SECONDS = 3600
SMALL = 480  # units of a tag's picture: fine enough for a thumb's size


def shapes_of(job: Job) -> dict[str, Shape]:
    """Return the finished shapes of the panels that have one. Reads what `load_job` has loaded."""
    return {p.key: shape_of_part(p) for p in job.parts.all() if p.shape and job.kind.has(p.key)}


def body_of_job(job: Job, *, cells: int = CELLS, shapes: Mapping[str, Shape] | None = None) -> Body:
    """Return the body of a tag's furniture: its kind, its shapes, its own measures."""
    known = shapes_of(job) if shapes is None else shapes
    body = body_of(job.kind, known, own_measures(job), cells=cells)
    return replace(body, lines=_trims(job, body)) if job.trim_kind else body


def _trims(job: Job, body: Body) -> tuple[TrimLine, ...]:
    """The trims as they were chosen: the lines on the tag's list, by their names or the panels they run along, each
    in its own sort or the tag's.
    """
    rows = {} if job.trim_kind == "none" else {row.name: row for row in job.trim_lines.all()}
    by_panel = {row.key: row for row in rows.values() if row.key}
    sorts: dict[str, TrimSort] = {}
    apart: dict[str, float] = {}
    for line in body.lines:
        row = rows.get(line.key) or by_panel.get(line.panel)
        sort = SORTS.get(row.kind or job.trim_kind) if row else None
        if row and sort:
            sorts[line.key] = sort
            apart[line.key] = row.spacing or row.head
    return chosen_lines(body, sorts, apart)


def own_measures(job: Job) -> dict[str, float]:
    """Return the furniture's own measures that were taken. Raises BadInput where the row holds something else."""
    told = reading.table(job.body_measures or {}, "body_measures")
    known = usual_measures(job.kind)
    return {
        key: reading.number(told[key], f"body_measures.{key}", least=MEASURES[key].least, most=MEASURES[key].most)
        for key in known
        if key in told
    }


def look_of(cloth: Cloth) -> Look:
    """Return how a cloth looks on the furniture: plain cloth that lies one way has a pile; of a patterned one it is the
    motif that shows the way.
    """
    has_pile = cloth.direction == "one_way" and cloth.pattern == "plain"
    return Look(colour_of(cloth.seen_colour), cloth.repeat, has_pile, _photo_colours(cloth))


def _photo_colours(cloth: Cloth) -> tuple[tuple[tuple[int, int, int], ...], ...]:
    data = _photo_data(cloth)
    if data is None:
        return ()
    key = f"cloth-colours-{cloth.pk}-{cloth.tile_photo.name}"
    found: Any = cache.get(key)
    if found is None:
        found = photo_colours(data)
        cache.set(key, found, KEPT_SECONDS)
    return tuple(tuple(row) for row in found)


def _photo_data(cloth: Cloth) -> bytes | None:
    """The bytes of the photo of one repeat; None where there is none, or its file is gone."""
    if not cloth.tile_photo or cloth.repeat is None:
        return None
    try:
        with cloth.tile_photo.open("rb") as file:
            return bytes(file.read())
    except FileNotFoundError:
        return None


@dataclass(frozen=True)
class Worn:
    """What the furniture of a tag wears: its dress, and the photos of cloths by the id of their look."""

    dress: Dress
    photos: dict[int, ClothPhoto]


def worn_by(
    job: Job,
    *,
    piece: int = 1,
    trial: tuple[JobCloth, Cloth] | None = None,
    by_hand: tuple[JobCloth, LayRequest, Mapping[tuple[str, int], Placement]] | None = None,
) -> Worn:
    """Return what the `piece`-th of a set wears: each panel its cloth as the lay that stands cuts it, else up the roll
    with a motif on its middle.

    `trial` puts another cloth of the store in the place of one of the tag's; `by_hand` a lay under the hand.
    """
    pieces: dict[str, Piece] = {}
    photos: dict[int, ClothPhoto] = {}
    looks: dict[int, Look] = {}
    rows = [p for p in job.parts.all() if p.cloth_id and job.kind.has(p.key)]
    for job_cloth in job.cloths.all():
        cloth = trial[1] if trial and trial[0].pk == job_cloth.pk else job_cloth.cloth
        look = looks.setdefault(job_cloth.pk, look_of(cloth))
        run = best_run(job_cloth)
        if by_hand is not None and by_hand[0].pk == job_cloth.pk:
            laid, repeat = placed_on_panels(job_cloth, by_hand[1], by_hand[2], piece), by_hand[1].repeat
        elif run is not None and cloth is job_cloth.cloth:
            asked = run.asked()
            laid, repeat = (
                placed_on_panels(job_cloth, asked, {(p.piece, p.copy): p for p in run.lay().placements}, piece),
                asked.repeat,
            )
        else:
            laid, repeat = {}, look.repeat
        look = looks[job_cloth.pk] = replace(look, repeat=repeat) if laid else look
        data = _photo_data(cloth)
        if data is not None:
            photos[id(look)] = ClothPhoto(data)
        for row in rows:
            if row.cloth_id == job_cloth.pk:
                pieces[row.key] = Piece(look, laid[row.key]) if row.key in laid else usual_piece(look)
    trim = colour_of(job.trim_cloth.cloth.seen_colour) if job.trim_cloth_id and job.trim_cloth else None
    return Worn(Dress(pieces, off_now(job), under_now(job), trim=_deeper(trim) if trim else None), photos)


def _deeper(colour: tuple[int, int, int]) -> tuple[int, int, int]:
    return (round(colour[0] * 0.78), round(colour[1] * 0.78), round(colour[2] * 0.78))


def off_now(job: Job) -> frozenset[str]:
    """Return the panels that are off and not on again: their place is bare."""
    if job.finished_at:
        return frozenset()
    return frozenset(
        p.key for p in job.parts.all() if p.off_number is not None and job.kind.has(p.key) and not is_on(p)
    )


def under_now(job: Job) -> dict[str, Stuff]:
    """Return what is seen under a panel that is off, where that is not what is usual: the top layer of its pad where
    that is chosen; webbing where the filling is to be renewed.
    """
    found: dict[str, Stuff] = {}
    is_out = verdicts_of(job)["filling"].verdict in RENEWED
    has_webbing = "webbing" in job.kind.layers[0] if job.kind.layers else False
    for part in job.parts.all():
        if part.stack is not None:
            top = read_stack(part.stack).layers[-1:]
            found[part.key] = "foam" if top and top[0].sort == "foam" else "wadding"
        elif not job.kind.has(part.key) or part.key.startswith(FRAME_UNDER):
            continue
        elif part.part.is_loose:
            found[part.key] = "foam"
        elif is_out and has_webbing:
            found[part.key] = "webbing"
    return found


def toned(dress: Dress, kind: Kind, tones: Mapping[str, str]) -> Dress:
    """Return a dress with more panels off or some in a tone, by key: `off`, or one of `picture.TONES`."""
    known = {key: tone for key, tone in tones.items() if kind.has(key) and tone in TONES}
    off = dress.off | {key for key, tone in known.items() if tone == "off"}
    return replace(dress, off=off, tones={key: tone for key, tone in known.items() if tone != "off"})


def tag_svg(job: Job) -> str:
    """Return the small picture of a tag: standing, in its cloth, what is off bare. Kept until the tag changes."""
    key = f"round-{job.pk}-{job.cache_token}"
    found: str | None = cache.get(key) if job.cache_token else None
    if found is None:
        dress = replace(worn_by(job).dress, is_small=True)
        body = body_of_job(job, cells=few_cells(job.kind))
        found = body_svg(picture_of(body, view_named(USUAL_VIEW), dress), size=SMALL)
        if job.cache_token:
            cache.set(key, found, KEPT_SECONDS)
    return found


def picture_svg(job: Job, view: View, worn: Worn, *, with_parts: bool = False) -> str:
    """Return the picture of a tag's furniture from a view."""
    return body_svg(
        picture_of(body_of_job(job), view, worn.dress), title=f"{job.name}, {view.name}", with_parts=with_parts
    )


def furniture_seen(job: Job) -> Picture:
    """Return the picture of a tag's furniture whole, for a client's paper: nothing off, from the usual view."""
    return picture_of(body_of_job(job), view_named(USUAL_VIEW), replace(worn_by(job).dress, off=frozenset()))


def client_svgs(job: Job) -> list[str]:
    """Return pictures of a tag's furniture whole, for a client's page: from the front, the other side, behind."""
    body, dress = body_of_job(job), replace(worn_by(job).dress, off=frozenset())
    views = [view_named(key) for key in CLIENT_VIEWS]
    return [body_svg(picture_of(body, view, dress), title=f"{job.name}, {view.name}") for view in views]


def view_showing(job: Job, key: str) -> View:
    """Return the set view that shows most of a panel. Raises BadInput for one that it has not."""
    kept = f"round-view-{job.pk}-{job.cache_token}-{key[:40]}"
    found: str | None = cache.get(kept) if job.cache_token else None
    if found is None:
        found = best_view(body_of_job(job, cells=few_cells(job.kind)), key).key
        if job.cache_token:
            cache.set(kept, found, KEPT_SECONDS)
    return view_named(found)


def kind_svg(kind: Kind) -> str:
    """Return the picture of a kind as it usually is, in plain cloth."""
    parts = hashlib.sha256(repr(kind.parts).encode()).hexdigest()  # makes of a kind may differ late in a long list
    key = f"round-kind-{kind.key}-{parts}"
    found: str | None = cache.get(key)
    if found is None:
        look = usual_piece(Look(colour_of(KIND_COLOUR)))
        body = body_of(kind, cells=few_cells(kind))
        found = body_svg(
            picture_of(body, view_named(USUAL_VIEW), Dress({p.key: look for p in body.patches})),
            size=SMALL,
            title=kind.name,
        )
        cache.set(key, found, KEPT_SECONDS)
    return found


KIND_COLOUR = "#8f4d57"
CLIENT_VIEWS = ("front_right", "front_left", "back")


def model_glb(job: Job, worn: Worn) -> bytes:
    """Return the furniture as a GLB file."""
    return body_glb(body_of_job(job, cells=MANY_CELLS), worn.dress, worn.photos)


@dataclass(frozen=True)
class MeasureLine:
    """A measure of the furniture as the page shows it: what it is, its value, the usual one, whether it is this job's
    own.
    """

    measure: BodyMeasure
    value: float
    usual: float
    is_own: bool


def measure_lines(job: Job) -> list[MeasureLine]:
    """Return the measures that this furniture's body is built from."""
    own = own_measures(job)
    return [
        MeasureLine(MEASURES[key], own.get(key, usual), usual, key in own)
        for key, usual in usual_measures(job.kind).items()
    ]


def take_measures(job: Job, sent: Mapping[str, float | None]) -> None:
    """Keep measures of the furniture; one without a value is the usual one again. Raises BadInput for one out of
    bounds, or measures that make no body.
    """
    own = own_measures(job)
    for key, value in sent.items():
        if value is None:
            own.pop(key, None)
        else:
            own[key] = value
    with_own(job.kind, own)
    with transaction.atomic():
        job.body_measures = own
        job.save(update_fields=["body_measures"])
        if not all(patch.area > 1 for patch in body_of_job(job, cells=few_cells(job.kind)).patches):
            raise BadInput("measures", "measures that leave a panel no room", "measures of furniture that can stand")


def not_alike(job: Job, body: Body) -> tuple[Apart, ...]:
    """Return the panels whose finished shape and place on the body differ by more than 5 %."""
    return apart(job.kind, body, shapes_of(job))
