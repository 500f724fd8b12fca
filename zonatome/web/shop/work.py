"""What there is to do on one piece of furniture, counted from its tag's own rows; what is not chosen yet, as usual."""

from __future__ import annotations

from collections.abc import Iterator

from zonatome.core.errors import BadInput
from zonatome.core.fasten.rails import ON
from zonatome.core.shop.work import CLOSED_BY, Work
from zonatome.web.fasten.services import closed_edges, first_sewn, pleats_of, runs_of
from zonatome.web.jobs.models import Job, JobPart
from zonatome.web.pad.services import worked_of
from zonatome.web.shop.zips_and_skirt import skirt_of, zips_of
from zonatome.web.trace.boards import chosen_of, shape_or_usual, staples_of
from zonatome.web.trim.services import trims_of_job

OF_TRIM = {
    "welt": ("welt_made", "welt_sewn"), "double_welt": ("welt_made", "double_welt"), "gimp": ("gimp",),
    "cord": ("gimp",), "fringe": ("gimp",),
}  # fmt: skip


def works_of(job: Job) -> tuple[Work, ...]:
    """Return all work on a job but the pulling of its old cover and the finish of its wood, which have sums of their
    own.
    """
    return (Work("survey", once=True), *_shapes(job), *_pads(job), *_put_on(job), *_sewn(job), *_trimmed(job),
            Work("finish"))  # fmt: skip


def _shapes(job: Job) -> Iterator[Work]:
    """Each pair is traced once, and each piece is cut."""
    traced: set[str] = set()
    for part in job.panels():
        if part.part.mirror not in traced:
            yield Work("shape_photo" if part.shape_way == "photo" else "shape", once=True)
        traced.add(part.key)
        cloth = part.cloth.cloth if part.cloth else None
        is_matched = cloth is not None and bool(cloth.repeat_along or cloth.repeat_across)
        yield Work("piece_matched" if is_matched else "piece", part.part.per_furniture)


def _pads(job: Job) -> Iterator[Work]:
    for part in job.pads():
        each, done = part.part.per_furniture, worked_of(part)
        for key, count in (
            ("strap", len(done.webbed.straps) if done.webbed else 0),
            ("sinuous", len(done.sinuous.springs) if done.sinuous else 0),
            ("coil", len(done.coils.at) if done.coils else 0),
            ("button", done.buttons.count if done.buttons else 0),
        ):
            if count:
                yield Work(key, count * each)
        new = {one.made.group for one in done.stack.layers if not one.kept}
        for group, keys in (("hessian", ("hessian",)), ("foam", ("foam_cut", "foam_glued")), ("wadding", ("wadding",))):
            if group in new:
                yield from (Work(key, each) for key in keys)
        rolls = [cut.length for cut in done.cuts if cut.layer.sort == "edge_roll" and not cut.layer.kept]
        if rolls:
            yield Work("edge_roll", sum(rolls) / 1000 * each)


def _put_on(job: Job) -> Iterator[Work]:
    pads = job.pads()
    for part in job.panels():
        each, chosen = part.part.per_furniture, chosen_of(part)
        staples = staples_of(part)
        if staples:
            yield Work("panel", each)
            yield Work("staple", staples * each)
        corners = _corners(part)
        if corners:
            yield Work("corner", corners * each)
        elif part.part.form == "disc" and staples:
            yield Work("pleat", _pleats(part) * each)
        if chosen.posts:
            yield Work("cut", len(chosen.posts) * each)
        if part.key.startswith(("facing", "arm_front")):
            yield Work("facing", each)
        for edge in closed_edges(part):
            yield Work(CLOSED_BY[edge.closing.key], edge.length / 1000 * each)
        if part.part.buttons and part not in pads:
            yield Work("button", part.part.buttons.count * each)
    if any(part.part.what == "bottom cloth" for part in job.parts.all()):
        yield Work("bottom")


def _corners(part: JobPart) -> int:
    """Corners where what is pulled under both edges is folded."""
    joins = [part.part.joins.get(edge) for edge in part.part.edges]
    if len(joins) < 3:
        return 0
    return sum(a == b == "stapled_under" for a, b in zip(joins, (*joins[1:], joins[0]), strict=True) if a in ON)


def _pleats(part: JobPart) -> int:
    try:
        return pleats_of(part, shape_or_usual(part), chosen_of(part)).count
    except BadInput:  # it is eased in
        return 0


def _sewn(job: Job) -> Iterator[Work]:
    seen: set[str] = set()
    for part in job.panels():
        group = job.kind.sewn_with(part.key)
        if len(group) < 2 or part.key in seen:
            continue
        seen |= set(group)
        each = first_sewn(part).part.per_furniture
        seams = [seam for run in runs_of(part) for seam in run.seams]
        sewn = [seam for seam in seams if seam.meeting.join != "zip"]
        yield Work("seam", len(sewn) * each)
        yield Work("seam_metre", sum(seam.length for seam in sewn) / 1000 * each)
        welted = sum(seam.length for seam in sewn if seam.has_welt) / 1000
        if welted:
            yield Work("welt_sewn", welted * each)
    count = sum(one.count for one in zips_of(job))
    if count:
        yield Work("zip", count / job.count)


def _trimmed(job: Job) -> Iterator[Work]:
    for trim in trims_of_job(job):
        if trim.kind == "nails":
            yield Work("nail", trim.nails / job.count)
        for key in OF_TRIM.get(trim.kind, ()):
            yield Work(key, trim.per_furniture / 1000)
    skirt = skirt_of(job)
    if skirt is not None:  # sewn to its line and hemmed or lined
        yield Work("seam", 2)
        yield Work("seam_metre", 2 * skirt.made.cloth[0] / 1000)
