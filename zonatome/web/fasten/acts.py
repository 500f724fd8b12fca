"""What can be pressed while a panel is put on: each changes what was chosen for it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from typing import Any

from zonatome.core.errors import BadInput
from zonatome.core.fasten.chosen import STAGES, Chosen, Found, PostCut
from zonatome.core.fasten.closings import closing_named
from zonatome.core.fasten.folds import NAMES
from zonatome.core.fasten.looked import MOST_LINES, drawn_line
from zonatome.core.fasten.pleats import pleat_marks, pleats
from zonatome.core.fasten.relief import Post, relief_cut
from zonatome.core.fasten.sewing import seam_key
from zonatome.core.fasten.stages import SQUARE
from zonatome.core.formats.fastening_json import read_seen, write_seen
from zonatome.core.trace.shape import Mark
from zonatome.core.units import Units
from zonatome.web.base.length_forms import WorkForm
from zonatome.web.fasten.forms import FoldForm, LookForm, PleatForm, PostForm, SeenForm
from zonatome.web.fasten.services import cuts_of, first_sewn, keep_chosen, pleats_of, runs_of
from zonatome.web.jobs.models import JobPart
from zonatome.web.trace.boards import chosen_of, shape_or_usual
from zonatome.web.trace.services import keep_shape

Sent = Mapping[str, Any]


class Refused(Exception):
    """Boxes that were not taken."""

    def __init__(self, form: WorkForm) -> None:
        """The form as it was sent."""
        super().__init__()
        self.form = form


def _toggle(field: str, known: Mapping[str, Any] | tuple[str, ...]) -> Callable[[JobPart, Sent, Units], None]:
    def act(part: JobPart, sent: Sent, _: Units) -> None:
        key = str(sent.get("key", ""))
        if key not in known:
            raise BadInput(field, key, "one of " + ", ".join(known), words="There is no such tick on this panel.")
        keep_chosen(part, lambda chosen: chosen.toggled(field, key), for_pair=False)

    return act


def _fold(part: JobPart, sent: Sent, _: Units) -> None:
    key = str(sent.get("key", ""))
    if key not in NAMES:
        raise BadInput("fold", key, "one of " + ", ".join(NAMES), words="There is no such fold.")
    keep_chosen(part, lambda chosen: replace(chosen, fold=key))


def _corner(part: JobPart, sent: Sent, units: Units) -> None:
    told = _read(FoldForm(sent, units=units))
    keep_chosen(part, lambda chosen: replace(chosen, wrap=told["wrap"], radius=told["radius"] or 0.0))


def _pleats(part: JobPart, sent: Sent, units: Units) -> None:
    form = PleatForm(sent, units=units)
    told = _read(form)
    deep = told["deep"] or Chosen.deep
    if told["outer"] and told["inner"]:
        try:
            pleats(told["outer"], told["inner"], deep=deep)
        except BadInput as refusal:
            form.refuse(refusal)
            raise Refused(form) from refusal
    keep_chosen(part, lambda chosen: replace(chosen, outer=told["outer"], inner=told["inner"], deep=deep))


def _post(part: JobPart, sent: Sent, units: Units) -> None:
    form = PostForm(sent, units=units)
    told = _read(form)
    shape = shape_or_usual(part)
    x0, y0, _, _ = shape.outline.bounds
    try:
        one = PostCut(Post((x0 + told["x"], y0 + told["y"]), told["width"]), told["sort"], told["stop"])
        relief_cut(shape, one.post, sort=one.sort, stop=one.stop)
        keep_chosen(part, lambda chosen: replace(chosen, posts=(*chosen.posts, one)), for_pair=False)
    except BadInput as refusal:
        form.refuse(refusal)
        raise Refused(form) from refusal
    _mark_cuts(part)


def _post_away(part: JobPart, sent: Sent, _: Units) -> None:
    number = _whole(sent, "number")
    keep_chosen(
        part, lambda c: replace(c, posts=tuple(p for n, p in enumerate(c.posts) if n != number)), for_pair=False
    )
    _mark_cuts(part)


def _mark_cuts(part: JobPart) -> None:
    """The cuts stand on the shape, and so on its print and on the cut sheet, as not yet."""
    if part.shape is None:
        return
    shape = shape_or_usual(part)
    lines = [line for _, cut, _ in cuts_of(shape, chosen_of(part)) if cut for line in cut.lines]
    others = tuple(mark for mark in shape.marks if mark.means != "relief")
    marked = replace(shape, marks=(*others, *(Mark("relief", line) for line in lines)))
    keep_shape(part, marked, part.shape_way, words=f"{part.name}: relief cuts marked")


def _mark_pleats(part: JobPart, _sent: Sent, _: Units) -> None:
    """The pleats stand on the shape, across its allowance; a second press takes them away."""
    if part.shape is None:
        raise BadInput("shape", None, "a shape first", words=f"The {part.name.lower()} has no shape yet to mark.")
    shape = shape_or_usual(part)
    others = tuple(mark for mark in shape.marks if mark.means != "pleat")
    is_marked = len(others) < len(shape.marks)
    marks = () if is_marked else pleat_marks(shape, pleats_of(part, shape, chosen_of(part)))
    words = "pleats not marked any more" if is_marked else f"{len(marks)} pleats marked"
    keep_shape(part, replace(shape, marks=(*others, *marks)), part.shape_way, words=f"{part.name}: {words}")


def _closing(part: JobPart, sent: Sent, _: Units) -> None:
    edge, key = str(sent.get("edge", "")), str(sent.get("key", ""))
    shape_or_usual(part).number_of(edge)
    if key:
        closing_named(key)
    keep_chosen(part, lambda c: replace(c, closings=_with(c.closings, edge, key)), for_pair=False)


def _with(closings: Mapping[str, str], edge: str, key: str) -> dict[str, str]:
    rest = {e: k for e, k in closings.items() if e != edge}
    return {**rest, edge: key} if key else rest


def _look(part: JobPart, sent: Sent, _: Units) -> None:
    form = LookForm(sent)
    if not form.is_valid():
        words = "Say what was found, in up to 200 letters."
        raise BadInput("look", sent.get("look"), "one of the list", words=words)
    told = form.cleaned_data
    found = Found(told["look"], told["piece"] or 1, told["words"])
    keep_chosen(part, lambda c: replace(c, found=(*c.found, found)), for_pair=False)


def _seen(part: JobPart, sent: Sent, _: Units) -> None:
    """A line on a photo of the panel, and what it shows."""
    form = SeenForm(sent)
    photo = part.photos.filter(pk=_whole(sent, "photo", most=2**31)).first()
    if not form.is_valid() or photo is None:
        words = "Choose one of this panel’s photos, draw a line on it and say what it shows."
        raise BadInput("photo", sent.get("photo"), "a line on a photo of this panel", words=words)
    told = form.cleaned_data
    line = drawn_line(told["points"], Found(told["look"], told["piece"] or 1, told["words"]))
    before = read_seen(photo.lines)
    if len(before) >= MOST_LINES:
        words = f"There are {MOST_LINES} lines on this photo; take another photo."
        raise BadInput("lines", len(before) + 1, f"at most {MOST_LINES} lines", words=words)
    photo.lines = write_seen((*before, line))
    photo.save(update_fields=["lines"])


def _seen_away(part: JobPart, sent: Sent, _: Units) -> None:
    photo, number = part.photos.filter(pk=_whole(sent, "photo", most=2**31)).first(), _whole(sent, "number")
    if photo is not None:
        photo.lines = [line for n, line in enumerate(photo.lines) if n != number]
        photo.save(update_fields=["lines"])


def _look_away(part: JobPart, sent: Sent, _: Units) -> None:
    number = _whole(sent, "number")
    keep_chosen(
        part, lambda c: replace(c, found=tuple(f for n, f in enumerate(c.found) if n != number)), for_pair=False
    )


def _seam(part: JobPart, sent: Sent, _: Units) -> None:
    first, field, key = first_sewn(part), str(sent.get("field", "")), str(sent.get("key", ""))
    known = {seam_key(seam.meeting) for run in runs_of(part) for seam in run.seams}
    if field not in ("top_stitched", "welted") or key not in known:
        raise BadInput("seam", key, "a seam of this cover", words="There is no such seam in this cover.")
    keep_chosen(first, lambda chosen: replace(chosen.toggled(field, key), sewn=0), for_pair=False)


def _sewn(part: JobPart, sent: Sent, _: Units) -> None:
    count = _whole(sent, "sewn", most=len(runs_of(part)))
    keep_chosen(first_sewn(part), lambda chosen: replace(chosen, sewn=count), for_pair=False)


def _on(part: JobPart, sent: Sent, _: Units) -> None:
    part.on_again = sent.get("off") != "1"
    part.save(update_fields=["on_again"])


def _read(form: WorkForm) -> dict[str, Any]:
    if not form.is_valid():
        raise Refused(form)
    return form.cleaned_data


def _whole(sent: Sent, key: str, most: int = 10_000) -> int:
    told = str(sent.get(key, ""))
    if not (told.isascii() and told.isdigit() and len(told) < 8 and int(told) <= most):
        raise BadInput(key, told, f"a whole number up to {most}", words=f"Expected a whole number up to {most}.")
    return int(told)


ACTS: dict[str, Callable[[JobPart, Sent, Units], None]] = {
    "tick": _toggle("ticks", SQUARE),
    "stage": _toggle("done", STAGES),
    "fold": _fold,
    "corner": _corner,
    "pleats": _pleats,
    "mark-pleats": _mark_pleats,
    "post": _post,
    "post-away": _post_away,
    "closing": _closing,
    "look": _look,
    "look-away": _look_away,
    "seen": _seen,
    "seen-away": _seen_away,
    "seam": _seam,
    "sewn": _sewn,
    "on": _on,
}
# the stage on whose page an act stands
AT: dict[str, str] = {
    "tick": "square", "fold": "corners", "corner": "corners", "pleats": "corners", "mark-pleats": "corners",
    "post": "cuts", "post-away": "cuts", "closing": "closings", "look": "look", "look-away": "look", "seen": "look",
    "seen-away": "look", "seam": "sew", "sewn": "sew", "on": "look",
}  # fmt: skip
