"""The steps that a tag of the sample workroom is made by: each is what a workroom does on a page, through the same
services.

A tag is one file in `data/tags/`: what stands on it, and its steps in order, `do` naming one of STEPS.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from types import MappingProxyType
from typing import Any

from django.utils import timezone

from zonatome.core.fasten.rehearsal.orders import School
from zonatome.core.outline import outline_of
from zonatome.core.pad.stack import Heights
from zonatome.core.pad.usual import usual_stacks
from zonatome.core.strip.order import things, usual_order
from zonatome.core.strip.record import marks_for
from zonatome.core.survey.findings import finding_named
from zonatome.core.trace.partners import mended, seams_of
from zonatome.core.trace.take_up import TakenUp
from zonatome.core.trace.usual import usual_shape
from zonatome.web.demo.pictures import picture_of
from zonatome.web.fasten.models import KeepOutMark
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job, JobPart, Wait
from zonatome.web.jobs.photos import keep_photo
from zonatome.web.lay.models import Cloth, CutTick, JobCloth, LayRun
from zonatome.web.lay.services import add_cloth, best_run, start_lay
from zonatome.web.lay.tasks import search_for_lay
from zonatome.web.pad.services import set_board, set_stack, stack_of
from zonatome.web.rehearse.orders import ask_for_orders
from zonatome.web.rehearse.services import keep_acts, played_on, rehearsal_of, set_up_for, stand_of
from zonatome.web.strip.models import Spell
from zonatome.web.strip.services import (
    Written,
    keep_thing,
    learn_pace,
    note_difference,
    set_bag,
    set_piece_off,
    take_off,
    write_down,
)
from zonatome.web.survey.models import LayerFinding
from zonatome.web.trace import acts
from zonatome.web.trace.changes import change_shapes
from zonatome.web.trace.restyle import restyle
from zonatome.web.trace.services import (
    held_as_panel,
    keep_new_shape,
    keep_shape,
    keep_taken,
    plan_staples,
    set_block,
    shape_by_tape,
    shape_from_photo,
    shape_of_part,
    shapes_of,
)
from zonatome.web.trim.models import TrimLine

BAGS = {
    "feet": ("4 feet, 12 screws", "front left and right, back left and right"),
    "arm_screws": ("6 screws, long", "arm pads, from below"),
    "shell_seat": ("4 screws", "seat shell"),
}
ANY_BAG = ("4 screws, 4 washers", "under the seat rails")
SEARCHED = 2.0  # seconds, for the lays that are cut already
MENDING_ROUNDS = 3  # a length that follows one seam may part another
GLUE_SETS = "foam glue sets"
GLUED_AGO = timedelta(minutes=35)
GLUE_STILL = timedelta(minutes=85)
EVENING = 16  # o'clock: what is glued from then on is set tomorrow


@dataclass(frozen=True)
class Making:
    """A tag that is being made: its number, the store's cloths by name, and what was taken up from the photos of its
    old covers, by panel.
    """

    number: int
    cloths: Mapping[str, Cloth]
    taken: Mapping[str, Callable[[], TakenUp]]

    @property
    def job(self) -> Job:
        """The tag as it is now."""
        return load_job(self.number)

    def part(self, key: str) -> JobPart:
        """One of its parts as it is now."""
        return self.job.parts_by_key()[key]


# --- survey and strip


def _find(at: Making, *, keys: Sequence[str]) -> None:
    for key in keys:
        LayerFinding.objects.create(job=at.job, layer=finding_named(key).layer, finding=key)


def _strip(at: Making, *, most: int = 99, notes: Mapping[str, str] | None = None, unmarked: Sequence[str] = ()) -> None:
    """Take things off in the usual order, each with its marks and what is in its bag."""
    kind = at.job.kind
    for group in things(kind, usual_order(kind))[:most]:
        take_off(at.job, group[0])
        rows = at.job.parts_by_key()
        for row in (rows[key] for key in group):
            marks = () if row.key in unmarked else tuple(m.key for m in marks_for(kind, row.part))
            write_down(row, Written(note=(notes or {}).get(row.key, ""), marks=marks), version=None)
    for bag in at.job.bags.all():
        contents, came_from = BAGS.get(bag.part.key if bag.part else "", ANY_BAG)
        set_bag(at.job, bag.number, contents=contents, came_from=came_from)


def _note_differences(at: Making, *, words: Mapping[str, str]) -> None:
    for number, told in words.items():
        note_difference(at.job, int(number), told)


def _take_pieces_off(at: Making, *, numbers: Sequence[int]) -> None:
    for number in numbers:
        set_piece_off(at.job, number, is_off=True)


def _photograph(at: Making, *, rows: Sequence[tuple[str, str, str]]) -> None:
    """Keep made-up photos, drawn for the sample workroom: when, of which part, of what."""
    parts = at.job.parts_by_key()
    for n, (when, key, words) in enumerate(rows):
        keep_photo(at.job, when, picture_of(words, n), part=parts.get(key), words=words)


def _write(at: Making, *, part: str, fixings_again: Sequence[str] | None = None, fate: str | None = None) -> None:
    again = None if fixings_again is None else tuple(fixings_again)
    write_down(at.part(part), Written(fixings_again=again, fate=fate), version=None)


def _save(at: Making, *, part: str, what: str, **size: Any) -> None:
    keep_thing(at.job, at.part(part), what, **size)


def _time(at: Making, *, rows: Sequence[tuple[str, int, int]]) -> None:
    """Timed spells at pulling: part, minutes, staples."""
    now = timezone.now() - timedelta(days=1)
    for key, minutes, staples in rows:
        ended = now + timedelta(minutes=minutes)
        Spell.objects.create(job=at.job, part=at.part(key), began=now, ended=ended, staples=staples)
        now = ended + timedelta(minutes=6)
    learn_pace()


def _restyle(at: Making, *, what: str, data: dict[str, Any]) -> None:
    restyle(at.job, what, data)


# --- trace


def _tape(at: Making, *, panel: str, way: str, measures: dict[str, Any], pair: bool = False) -> None:
    part = at.part(panel)
    keep_new_shape(part, shape_by_tape(part, way, measures), way, pair=pair)


def _trace_photo(at: Making, *, panel: str, shot: object, keep: bool = False) -> None:  # noqa: ARG001 see SHOTS
    """Keep the photo of an old cover by the bench camera's stand-in; `keep` makes the traced outline the panel's
    shape.
    """
    part = at.part(panel)
    photo = keep_taken(part, at.taken[panel]())
    if keep:
        keep_new_shape(part, shape_from_photo(part, outline_of(photo.outline), 0), "photo")


def _usual_shapes(at: Making) -> None:
    for panel in at.job.kind.panels:
        row = at.part(panel.key)
        keep_new_shape(row, held_as_panel(row, usual_shape(panel)), "rectangle")


def _agree(at: Making) -> None:
    """Mend the seams one after the other, as one does at the bench: lengths follow the first panel, notches are put on
    both.
    """
    for _ in range(MENDING_ROUNDS):
        for seam in seams_of(at.job.kind, shapes_of(at.job)):
            fresh = at.job
            shapes = shapes_of(fresh)
            now = next((s for s in seams_of(fresh.kind, shapes) if s.key == seam.key), None)
            for finding in now.findings if now else ():
                made = mended(now, shapes, finding.mends[0][0])  # type: ignore[arg-type]
                rows = fresh.parts_by_key()
                change_shapes(fresh, {key: (shape, rows[key].shape_way) for key, shape in made.items()}, "seams mended")
                shapes |= made


def _mirror(at: Making, *, panel: str) -> None:
    part = at.part(panel)
    keep_shape(part, shape_of_part(part), part.shape_way, pair=True)


def _in_strips(at: Making, *, panel: str, strips: int) -> None:
    """Where the roll is narrower than the way round."""
    acts.ACTS["strips"].do(at.part(panel), {"strips": strips})


# --- pad, cloth, lay, trim, fasten


def _measure_board(at: Making, *, panel: str, **measures: float) -> None:
    set_board(at.part(panel), **measures)


def _block(at: Making, *, panel: str, **measures: Any) -> None:
    set_block(at.part(panel), **measures)


NO_HEIGHTS: Mapping[str, float] = MappingProxyType({})


def _pad(
    at: Making, *, panel: str, usual: str, foam: float | None = None, heights: Mapping[str, float] = NO_HEIGHTS
) -> None:
    """A pad as it is usually built, its foam as thick as said."""
    part = at.part(panel)
    stack = next(u.stack for u in usual_stacks(part.job.kind, part.part) if u.key == usual)
    layers = [replace(one, thickness=foam) if foam and one.sort == "foam" else one for one in stack.layers]
    set_stack(part, replace(stack, layers=tuple(layers), heights=Heights(**heights)))


def _usual_pads(at: Making) -> None:
    """What is not padded yet, as it usually is."""
    for part in at.job.pads():
        fresh = at.part(part.key)
        if not fresh.has_pad:
            set_stack(fresh, stack_of(fresh))


def _take_cloth(at: Making, *, name: str, role: str) -> None:
    if role == "main":
        add_cloth(at.job, at.cloths[name], role)
    else:
        JobCloth.objects.create(job=at.job, cloth=at.cloths[name], role=role)


def _railroad(at: Making) -> None:
    JobCloth.objects.filter(job=at.job).update(railroaded=True)


def _lay(at: Making, *, cloth: str, seconds: float) -> None:
    start_lay(next(c for c in at.job.cloths.all() if c.cloth.name == cloth), seconds=seconds)


def _cut(at: Making) -> None:
    """Search for a moment, as one does before the shears, and cut everything of what was found."""
    runs = LayRun.objects.filter(job_cloth__job=at.job)
    for run in runs.filter(state="waiting"):
        LayRun.objects.filter(pk=run.pk).update(seconds=SEARCHED)
        search_for_lay.func(run.pk)
    for best in filter(None, map(best_run, at.job.cloths.all())):
        CutTick.objects.bulk_create(CutTick(run=best, key=f"{p.piece}.{p.copy}") for p in best.lay().placements)
    runs.update(state="done", progress=1.0, ended_at=timezone.now())


def _write_on_tag(at: Making, *, of_first_cloth: bool = False, **fields: Any) -> None:
    """Set what the tag says of trim, feet and underside; `of_first_cloth` cuts the trim from its first cloth."""
    job = at.job
    for name, value in fields.items():
        setattr(job, name, value)
    if of_first_cloth:
        job.trim_cloth = job.cloths.first()
    job.save()


def _trim(at: Making, **line: Any) -> None:
    TrimLine.objects.create(job=at.job, **line)


def _keep_clear(at: Making, *, panel: str, radius: float, places: Sequence[tuple[float, float]]) -> None:
    for x, y in places:
        KeepOutMark.objects.create(part=at.part(panel), x=x, y=y, radius=radius)
    plan_staples(at.part(panel))


def _staple(at: Making, *, panel: str = "", done: int | None = None) -> None:
    """Set so many staples of a panel, or of all; all of the whole set where none is said."""
    for part in [at.part(panel)] if panel else load_job(at.job.number).panels():
        part.staples_done = plan_staples(part) * at.job.count if done is None else done
        part.save()


def _rehearse(at: Making, *, panel: str, school: School, staples: int) -> None:
    """Rehearse so many staples of a panel in a school's order, and ask for all orders."""
    part = next(one for one in at.job.put_on() if one.key == panel)
    set_up, row = set_up_for(part), rehearsal_of(part)
    keep_acts(row, played_on(stand_of(set_up, ()), school, set_up.pulls[row.pull], staples))
    row.save()
    ask_for_orders(part, set_up, row.pull)


def _put_on_again(at: Making, *, but: Sequence[str]) -> None:
    at.job.parts.exclude(off_number=None).exclude(key__in=but).update(on_again=True)


def _wait_for_glue(at: Making) -> None:
    Wait.objects.create(job=at.job, step="pad", words=GLUE_SETS, **glued_lately())


def glued_lately() -> dict[str, datetime]:
    """Return when glue was sprayed that still sets now, and when it will have: in the evening, tomorrow."""
    now = timezone.localtime()
    tomorrow = (now + timedelta(days=1)).replace(hour=11, minute=0)
    return {"began": now - GLUED_AGO, "until": tomorrow if now.hour >= EVENING else now + GLUE_STILL}


def _wait_for(at: Making, *, words: str) -> None:
    Job.objects.filter(number=at.number).update(waits_for=words)


STEPS: dict[str, Callable[..., None]] = {
    step.__name__.removeprefix("_"): step
    for step in (
        _find,
        _strip,
        _note_differences,
        _take_pieces_off,
        _photograph,
        _write,
        _save,
        _time,
        _restyle,
        _tape,
        _trace_photo,
        _usual_shapes,
        _agree,
        _mirror,
        _in_strips,
        _measure_board,
        _block,
        _pad,
        _usual_pads,
        _take_cloth,
        _railroad,
        _lay,
        _cut,
        _write_on_tag,
        _trim,
        _keep_clear,
        _staple,
        _rehearse,
        _put_on_again,
        _wait_for_glue,
        _wait_for,
    )
}
