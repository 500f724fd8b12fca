"""From a job's shapes, cloths and what lies in the store to a lay request, with the names and marks of its pieces."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from zonatome.core.errors import BadInput
from zonatome.core.lay.advice.too_wide import ways_out
from zonatome.core.lay.pattern.centring import centred_on, following_on, follows
from zonatome.core.lay.pattern.direction import QUARTERS, strip_directions, turns_allowed
from zonatome.core.lay.prepared import is_prepared
from zonatome.core.lay.request import Flaw, LayRequest, Panels, PieceAsk, Roll, StripAsk
from zonatome.core.lay.table.cut_sheet import Line
from zonatome.core.outline import rectangle
from zonatome.core.trace.cut_marks import marks_up_the_roll, up_the_roll
from zonatome.core.trim.welt import JOIN, shortest_strip
from zonatome.core.units import format_length
from zonatome.web.jobs.models import JobPart
from zonatome.web.lay.cut_shape import laid_shape
from zonatome.web.lay.models import Cloth, HeldBlock, JobCloth, Remnant
from zonatome.web.trim.services import trims_of_job

NOT_YET = " (relief cuts: not yet, on the furniture)"  # beside the name of a piece that bears some

SAME_PIECE = 1.0  # mm2
HELD = "held"  # how the ids of blocks held back begin


def members_of(host: JobCloth) -> list[JobCloth]:
    """Return the cloths of jobs that are laid together: the one whose lay it is first, then its guests by tag."""
    return [host, *sorted(host.guests.all(), key=lambda guest: guest.job.number)]


def host_of(job_cloth: JobCloth) -> JobCloth:
    """Return the cloth of a job whose lay a job's cloth is laid in; its own where it is laid alone."""
    return job_cloth.laid_with or job_cloth


def _mark(host: JobCloth, member: JobCloth) -> str:
    """What the ids of a guest's pieces begin with."""
    return "" if member.pk == host.pk else f"t{member.job.number}-"


def parts_laid(host: JobCloth) -> Iterator[tuple[str, JobPart, JobCloth]]:
    """Yield (piece id, part, whose cloth it is) of every panel with a shape that is laid in a lay."""
    for member in members_of(host):
        for part in member.job.panels():
            if part.cloth_id == member.pk and part.shape:
                yield _mark(host, member) + part.key, part, member


def request_for(job_cloth: JobCloth) -> LayRequest:
    """Return the lay request of one cloth of a job: its shapes' cut lines, its welt, its rules, what it is cut from.

    Raises BadInput when no shape is on this cloth yet, or a piece is wider than it.
    """
    return request_on(job_cloth, job_cloth.cloth)


def request_on(job_cloth: JobCloth, cloth: Cloth) -> LayRequest:
    """Return the lay request of the panels of one cloth of a job on any cloth of the store; see `request_for`.

    On its own cloth flaws that were marked count, and pieces from the store that were taken for it instead of a roll.
    """
    own = cloth.pk == job_cloth.cloth_id
    on = _panels(job_cloth, cloth) if own else None
    if on is None and cloth.is_hide:
        raise BadInput(
            "cloth",
            "no hide",
            "hides chosen from the store" if own else "hides, which are chosen one by one on the job's own lay",
        )
    turns = turns_allowed(
        cloth.direction,
        railroaded=job_cloth.railroaded,
        is_striped=cloth.pattern == "stripe",
        any_angle=job_cloth.any_angle,
    )
    repeat = cloth.repeat if on is None else (on.repeats or (None,))[0]
    pieces, names = [], names_in(job_cloth)
    hosts = {m.pk: follows(m.job.kind) for m in members_of(job_cloth)} if repeat and job_cloth.follow_on else {}
    for key, part, member in parts_laid(job_cloth):
        shape = laid_shape(part, cloth)
        ask = PieceAsk(
            key, up_the_roll(shape.cut_line), part.pieces, turns, priority=cloth.is_hide and part.part.centred
        )
        host = member.job.parts_by_key().get(hosts.get(member.pk, {}).get(part.key, ""))
        if repeat and part.part.centred:
            ask = centred_on(ask, shape)
        elif repeat and host is not None and host.shape and host.cloth_id == member.pk:
            ask = following_on(ask, shape, laid_shape(host, cloth))
        pieces.append(ask)
    if not pieces:
        raise BadInput("pieces", 0, f"at least one panel with a shape on {cloth.name}")
    pieces += [PieceAsk(key, rectangle(b.along, b.across), b.count, turns) for key, b in _held(job_cloth)]
    roll = Roll(cloth.width, (cloth.selvage, cloth.selvage), repeat, job_cloth.roll_flaws() if own else ())
    if on is None:
        _fits_between_the_selvages(job_cloth, cloth, roll, pieces, turns, names)
    strips = tuple(strip for member in members_of(job_cloth) for strip in _strips(job_cloth, member))
    request = LayRequest(on or roll, job_cloth.gap, tuple(pieces), strips)
    binds = on is None and any(any(p.bound(request.repeat)) for p in request.pieces)
    nowhere = _off_the_motif(request) if binds and is_prepared() else ()
    if nowhere:
        lies = (
            f"pieces that fit between the selvages with the {cloth.get_pattern_display()} of {cloth.name} in "
            f"their middle"
        )
        raise BadInput("pieces", names[nowhere[0]], lies)
    return request


def _off_the_motif(request: LayRequest) -> tuple[str, ...]:
    from zonatome.core.lay.lay import off_the_motif  # noqa: PLC0415 compiled code: only where a motif binds

    return off_the_motif(request)


def _fits_between_the_selvages(
    job_cloth: JobCloth,
    cloth: Cloth,
    roll: Roll,
    pieces: list[PieceAsk],
    turns: tuple[float, ...] | None,
    names: dict[str, str],
) -> None:
    for piece in pieces:
        across = min(piece.outline.turned(t).height for t in turns or QUARTERS)
        if across > roll.usable:
            units = job_cloth.job.units
            usable, wide = format_length(roll.usable, units), format_length(across, units)
            ways = ways_out(piece.outline, roll.usable, may_railroad=cloth.may_railroad and not job_cloth.railroaded)
            offers = "; or ".join(w.words(units) for w in ways)
            fits = f"pieces no wider than the {usable} that {cloth.name} has between its selvages. What helps: {offers}"
            raise BadInput("pieces", f"{names[piece.id]}, {wide} across", fits)
    if job_cloth.railroaded and not cloth.may_railroad:
        raise BadInput("railroaded", "railroaded", f"panels up the roll: {cloth.name} may not be railroaded")


def _panels(job_cloth: JobCloth, cloth: Cloth) -> Panels | None:
    """The pieces of cloth from the store that it is cut from; None where it is a roll."""
    chosen = list(job_cloth.from_store.filter(cloth=cloth).select_related("cloth").order_by("id"))
    return panels_of(chosen) if chosen else None


def panels_of(chosen: Sequence[Remnant]) -> Panels:
    """Return pieces of the store as the cloth of a lay request; their motif counts where it was measured on all of
    them.
    """
    flaws = tuple(Flaw(n, mark) for n, remnant in enumerate(chosen) for mark in remnant.marks())
    repeats = tuple(r for r in (remnant.repeat() for remnant in chosen) if r is not None)
    return Panels(tuple(remnant.shape() for remnant in chosen), flaws, repeats if len(repeats) == len(chosen) else ())


def _held(job_cloth: JobCloth) -> list[tuple[str, HeldBlock]]:
    return [(f"{HELD}{n}", block) for n, block in enumerate(job_cloth.held_blocks(), 1)]


def _strips(host: JobCloth, member: JobCloth) -> tuple[StripAsk, ...]:
    if member.job.trim_cloth_id != member.pk:
        return ()
    ways = strip_directions(member.cloth.direction, member.job.trim_way, railroaded=host.railroaded)
    one_way, found = member.cloth.direction == "one_way", []
    welts = [t for t in trims_of_job(member.job) if t.strip_width]
    for welt in welts:
        key = _mark(host, member) + ("welt" if len(welts) == 1 else welt.kind)
        cut, shortest = round(welt.to_cut, 1), shortest_strip(welt.to_cut)
        found.append(StripAsk(key, round(welt.strip_width, 1), cut, JOIN, shortest, ways, one_way))
    return tuple(found)


def names_in(job_cloth: JobCloth) -> dict[str, str]:
    """Return the words for the ids of a lay's pieces, strips and blocks; with the tag's number where it takes in
    several tags.
    """
    members = members_of(job_cloth)
    found: dict[str, str] = {}
    for member in members:
        before = f"{member.job.number} " if len(members) > 1 else ""
        mark = _mark(job_cloth, member)
        rows = member.job.parts_by_key()
        for p in member.job.kind.parts:
            name = before + (p.name if not before else p.name.lower())
            found[mark + p.key] = name + (NOT_YET if p.key in rows and _has_relief(rows[p.key]) else "")
        found[mark + "welt"] = before + ("welt" if before else "Welt")
        found[mark + "double_welt"] = before + ("double welt" if before else "Double welt")
    return found | {f"{HELD}{n}": f"Held: {b.words}" for n, b in enumerate(job_cloth.held_blocks(), 1)}


def pairs_in(job_cloth: JobCloth) -> list[tuple[str, str]]:
    """Return the ids of the panels of a lay that are each other's mirror image."""
    found = []
    for member in members_of(job_cloth):
        mark = _mark(job_cloth, member)
        found += [(mark + p.key, mark + p.mirror) for p in member.job.kind.panels if p.mirror and p.key < p.mirror]
    return found


def _has_relief(part: JobPart) -> bool:
    """Whether cuts are drawn on it that are made on the furniture, and not at the table."""
    return part.shape is not None and any(mark["means"] == "relief" for mark in part.shape.get("marks", []))


def marks_of(job_cloth: JobCloth, asked: LayRequest) -> dict[str, tuple[Line, ...]]:
    """Return the marks of each piece as it lies up the roll; none of a shape that is another one since the lay was
    asked for.
    """
    laid = {piece.id: piece.outline for piece in asked.pieces}
    found: dict[str, tuple[Line, ...]] = {}
    for key, part, _ in parts_laid(job_cloth):
        if key in laid and part.cloth:
            shape = laid_shape(part, part.cloth.cloth)
            if abs(shape.cut_line.area - laid[key].area) < SAME_PIECE:
                found[key] = marks_up_the_roll(shape)
    return found


def owner_of(job_cloth: JobCloth, key: str) -> JobCloth:
    """Return whose cloth a piece or strip of a lay belongs to; blocks held back are the host's."""
    for member in members_of(job_cloth)[1:]:
        if key.startswith(_mark(job_cloth, member)):
            return member
    return job_cloth
