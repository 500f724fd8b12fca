"""The strip record: one thing off, back on, written down; bags, time, the others of a set, what is saved."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from django.core.files.uploadedfile import UploadedFile
from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from zonatome.core.errors import BadInput
from zonatome.core.strip.order import learned, taken_off
from zonatome.core.strip.pulling import pace_of, staples_in
from zonatome.core.strip.record import (
    FATES,
    KEPT_FATES,
    SAVED,
    bag_number,
    known_fixings,
    known_marks,
    saved_as,
    usual_fate,
    usual_fixings,
)
from zonatome.web.base.changed import ChangedMeanwhile, Line
from zonatome.web.base.files import store_file
from zonatome.web.base.who import who
from zonatome.web.jobs.models import Job, JobPart, Workroom
from zonatome.web.strip.models import Bag, Difference, KeptThing, SetPiece, Spell, SpokenNote
from zonatome.web.strip.pace import pull_of
from zonatome.web.survey.services import change_furniture

RECORD = (
    "off_number", "off_at", "off_by", "on_again", "fixing", "fixings", "fixings_again", "fate", "marks", "note",
    "pitch_found", "rows_found", "edge_found", "version",
)  # fmt: skip
SHORTEST_SPELL = 0.15  # minutes: a key pressed twice by mistake
SPOKEN_MOST = 6 * 2**20
SPOKEN_KINDS = {b"\x1a\x45\xdf\xa3": ("webm", 0), b"OggS": ("ogg", 0), b"ftyp": ("mp4", 4), b"RIFF": ("wav", 0)}


@dataclass(frozen=True)
class Written:
    """What is written down of a part that is off; what is None stays as it is."""

    fixings: tuple[str, ...] | None = None
    fixing: str | None = None
    fixings_again: tuple[str, ...] | None = None
    fate: str | None = None
    marks: tuple[str, ...] | None = None
    note: str | None = None
    pitch_found: float | None = None
    rows_found: int | None = None
    edge_found: float | None = None
    measured: bool = False

    def checked(self) -> Written:
        """Return it when everything in it is of the tables; BadInput names what is not."""
        known_fixings(self.fixings or ())
        known_fixings(self.fixings_again or ())
        known_marks(self.marks or ())
        if self.fate and self.fate not in FATES:
            raise BadInput("fate", self.fate, "one of " + ", ".join(FATES.values()))
        return self

    def values(self) -> dict[str, Any]:
        """The fields that are set."""
        found: dict[str, Any] = {}
        if self.fixings is not None:
            found["fixings"] = list(known_fixings(self.fixings))
        if self.fixings_again is not None:
            found["fixings_again"] = list(known_fixings(self.fixings_again))
        if self.marks is not None:
            found["marks"] = list(known_marks(self.marks))
        for key, most in (("fixing", 120), ("note", 300)):
            value = getattr(self, key)
            if value is not None:
                found[key] = " ".join(value.split())[:most]
        if self.fate is not None:
            found["fate"] = self.fate
        if self.measured:
            found |= {
                "pitch_found": self.pitch_found,
                "edge_found": self.edge_found,
                "rows_found": self.rows_found or 1,
            }
        return found


NAMES = {
    "fixings": "How it was held",
    "fixing": "In words",
    "fixings_again": "How it shall be held",
    "fate": "What becomes of it",
    "marks": "Marks on it",
    "note": "Note",
    "pitch_found": "Pitch found",
    "edge_found": "Fixed edge",
    "rows_found": "Rows",
}


def _shown(value: Any) -> str:
    if isinstance(value, list):
        return ", ".join(map(str, value))
    return "" if value is None else FATES.get(value, str(value)) if isinstance(value, str) else f"{value:g}"


def check_version(part: JobPart, version: int | None, sent: Mapping[str, Any], *, now: str = "") -> None:
    """Refuse what was made on an older version of a part's record: ChangedMeanwhile says what stands and what was
    sent.
    """
    if version is None or version == part.version:
        return
    lines = [Line(NAMES[key], _shown(getattr(part, key)), _shown(value)) for key, value in sent.items()]
    lines = [line for line in lines if line.stands != line.sent] or lines
    if now:
        lines.insert(0, Line("Where it is", now, "off"))
    raise ChangedMeanwhile(part.name, lines)


def take_off(
    job: Job,
    key: str,
    *,
    fixing: str = "",
    note: str = "",
    version: int | None = None,
    all_the_same: bool = False,
    written: Written | None = None,
) -> JobPart:
    """Record that a part is off; hardware goes into the next numbered bag.

    With `all_the_same` it came off although others were thought to lie over it: the job's graph learns that. Raises
    BadInput when it can't be off yet, ChangedMeanwhile when the record has moved on since the page was opened.
    """
    rows = job.parts_by_key()
    part = rows.get(key)
    told = (written or Written(fixing=fixing, note=note)).checked()
    if part is not None and version is not None and version != part.version:
        now = f"off, number {part.off_number}" if part.off_number is not None else "on"
        check_version(part, version, told.values(), now=now)
    kind = job.kind
    if all_the_same:
        kind, wrong = learned(kind, job.off_keys, key)
    off = taken_off(kind, job.off_keys, key)
    part = rows[key]
    others = [rows[k] for k in off if k not in job.off_keys and k != key and k in rows]
    with transaction.atomic():
        if all_the_same and wrong:
            names = " and ".join(kind.part(k).name.lower() for k in wrong)
            change_furniture(
                job, kind, words=f"{names} {'do' if len(wrong) > 1 else 'does'} not lie over {part.name.lower()}"
            )
        _still_the_same(part, told.values())
        last = JobPart.objects.filter(job=job).aggregate(last=Max("off_number"))["last"] or 0
        number, off_at = int(last) + 1, timezone.now()
        for field, value in told.values().items():
            setattr(part, field, value)
        for row in (part, *others):  # what is sewn into one cover comes off as one thing, under one number
            row.off_number, row.off_at, row.off_by = number, off_at, who()
            if not row.fixings and not row.fixing:
                row.fixings = list(usual_fixings(row.part))
            row.fate = row.fate or usual_fate(row.part)
            if row.part.what == "hardware" and not row.bags.exists():
                taken = list(Bag.objects.filter(job=job).values_list("number", flat=True))
                Bag.objects.create(job=job, number=bag_number(taken), part=row, came_from=row.name)
            _keep(row)
            stop_timer(job, of=row)
            _by_fate(row)
    return part


def put_back(job: Job) -> JobPart:
    """Undo the last thing taken off; what was written of it is kept."""
    off = job.off_keys
    if not off:
        raise BadInput("part", None, "something that is off")
    rows = job.parts_by_key()
    part = rows[off[-1]]
    with transaction.atomic():
        for row in (r for r in rows.values() if r.off_number == part.off_number):
            row.off_number, row.off_at, row.off_by, row.on_again = None, None, "", False
            _keep(row)
            row.bags.filter(contents="", emptied=False).delete()
            KeptThing.objects.filter(part=row, by_fate=True, used_at=None).delete()
    return part


def write_down(part: JobPart, written: Written, *, version: int | None) -> JobPart:
    """Keep what is written of a part. Raises BadInput and ChangedMeanwhile; then nothing is changed."""
    values = written.checked().values()
    if written.measured:
        staples_in(part.part, pitch=written.pitch_found or 18, rows=written.rows_found or 1)
    check_version(part, version, values)
    with transaction.atomic():
        _still_the_same(part, values)
        for field, value in values.items():
            setattr(part, field, value)
        _keep(part)
        _by_fate(part)
    return part


def _still_the_same(part: JobPart, sent: Mapping[str, Any]) -> None:
    """Refuse what another has changed between the reading and now; the store is ours alone within the transaction."""
    stands = JobPart.every.get(pk=part.pk)
    stands.job = part.job
    if stands.version != part.version:
        check_version(stands, part.version, sent)


def _keep(part: JobPart) -> None:
    """Save the record of a part, and nothing else of its row: its shape may be changed elsewhere at the same time."""
    part.version += 1
    part.save(update_fields=RECORD)


def _by_fate(part: JobPart) -> None:
    """Put a part into the store, or take it out again, as its fate says."""
    mine = KeptThing.objects.filter(part=part, by_fate=True)
    if part.off_number is None or part.fate not in KEPT_FATES:
        mine.filter(used_at=None).delete()
        return
    what = saved_as(part.part)
    points = part.shape["outline"] if part.shape else [(0, 0), (part.part.width, part.part.height)]
    wide, high = (max(p[i] for p in points) - min(p[i] for p in points) for i in (0, 1))
    size = {"length": high or None, "width": wide or None} if SAVED[what] == "size" else {"length": None, "width": None}
    words = f"{part.name.lower()}, {FATES[part.fate]}"
    known = {"words": words[:120], "came_from": _from(part.job), "count": part.job.count}
    KeptThing.objects.update_or_create(
        part=part, by_fate=True, defaults={"what": what, "job": part.job, **known, **size}
    )


def _from(job: Job) -> str:
    return f"{job.number} {job.title}, {job.client}"[:160]


def keep_thing(
    job: Job,
    part: JobPart | None,
    what: str,
    *,
    words: str = "",
    length: float | None = None,
    width: float | None = None,
    count: int = 1,
) -> KeptThing:
    """Put something that was saved into the store. Raises BadInput for what is not worth a place there, or has no
    size.
    """
    if what not in SAVED:
        raise BadInput("what", what, "one of " + ", ".join(SAVED))
    if SAVED[what] == "length" and not length:
        raise BadInput("length", length, f"how long the {what} is")
    if SAVED[what] == "size" and not (length and width):
        raise BadInput("width", width, f"length and width of the {what}")
    return KeptThing.objects.create(
        what=what, words=words[:120], length=length, width=width, count=count, job=job, part=part, came_from=_from(job)
    )


# --- bags --------------------------------------------------------------------------------------------


def set_bag(job: Job, number: int | None, *, contents: str, came_from: str, part: JobPart | None = None) -> Bag:
    """Number a new bag, or change what stands on one. The number is made where nobody else can take it meanwhile."""
    if not contents and not came_from:
        raise BadInput("contents", contents, "what is in the bag, or where it came from")
    said = {"contents": contents[:120], "came_from": came_from[:120]}
    with transaction.atomic():  # the store is ours alone in here
        if number is None:
            number = bag_number(list(Bag.objects.filter(job=job).values_list("number", flat=True)))
            return Bag.objects.create(job=job, number=number, part=part, **said)
        return Bag.objects.update_or_create(
            job=job, number=number, defaults=said, create_defaults={**said, "part": part}
        )[0]


# --- time --------------------------------------------------------------------------------------------


def running_spell(job: Job) -> Spell | None:
    """Return the spell that runs on this tag."""
    return next((s for s in job.spells.all() if s.ended is None), None)


def start_timer(job: Job, part: JobPart | None) -> Spell:
    """Start the clock; one that ran on this tag ends."""
    with transaction.atomic():
        stop_timer(job)
        return Spell.objects.create(job=job, part=part, way=job.pull_way)


def stop_timer(job: Job, *, of: JobPart | None = None, staples: int | None = None) -> Spell | None:
    """Stop the clock and keep the spell, with as many staples as are said or as were foreseen; too short a one is
    forgotten.
    """
    spell = Spell.objects.filter(job=job, ended=None).first()
    if spell is None or (of is not None and spell.part_id != of.pk):
        return None
    if spell.minutes < SHORTEST_SPELL and staples is None:
        spell.delete()
        return None
    foreseen = 0
    if spell.part is not None:
        spell.part.job = job
        foreseen = pull_of(spell.part, Workroom.the_one().pace).handled
    spell.ended = timezone.now()
    spell.staples = foreseen if staples is None else staples
    spell.save()
    learn_pace()
    return spell


def set_staples(spell: Spell, staples: int) -> None:
    """Say how many staples came out in a spell."""
    if not 0 <= staples <= 5000:
        raise BadInput("staples", staples, "0 to 5000 staples")
    spell.staples = staples
    spell.save()
    learn_pace()


def learn_pace() -> None:
    """Work the workroom's pace out from its timed spells; estimates are made anew when it has changed."""
    pace = pace_of([(s.staples, s.minutes) for s in Spell.objects.exclude(ended=None)])
    workroom = Workroom.the_one()
    if (workroom.own_pace, workroom.timed) != (pace.a_minute, pace.entries):
        workroom.own_pace, workroom.timed = pace.a_minute, pace.entries
        workroom.save()


# --- the others of a set -----------------------------------------------------------------------------


def set_piece_off(job: Job, number: int, *, is_off: bool) -> SetPiece:
    """Say that the cover of one of the others is off, or not yet."""
    if not 2 <= number <= job.count:
        raise BadInput("number", number, f"2 to {job.count}" if job.count > 1 else "a set of more than one")
    piece, _ = SetPiece.objects.get_or_create(job=job, number=number)
    piece.off_at = timezone.now() if is_off else None
    piece.save()
    return piece


def note_difference(job: Job, number: int, words: str, part: JobPart | None = None) -> Difference:
    """Note in what one of the set differs from the first."""
    if not 1 <= number <= job.count:
        raise BadInput("number", number, f"1 to {job.count}")
    words = " ".join(words.split())
    if not words:
        raise BadInput(
            "words", words, "in what it differs", words="Say in what it differs, such as “left rail patched”."
        )
    return Difference.objects.create(job=job, number=number, part=part, words=words[:200])


# --- spoken notes ------------------------------------------------------------------------------------


def keep_spoken(part: JobPart, upload: UploadedFile[Any] | None) -> SpokenNote:
    """Keep a spoken note. Raises BadInput for what is no sound recording; then nothing is stored."""
    if upload is None:
        raise BadInput("spoken", None, "a sound recording")
    if (upload.size or 0) > SPOKEN_MOST:
        raise BadInput("spoken", f"{(upload.size or 0) / 2**20:.0f} MB", f"at most {SPOKEN_MOST // 2**20} MB")
    content = upload.read()
    kind = next((kind for sign, (kind, at) in SPOKEN_KINDS.items() if content[at : at + 4] == sign), None)
    if kind is None:
        raise BadInput("spoken", upload.name, "a sound recording as WebM, Ogg, MP4 or WAV")
    note = SpokenNote(part=part, kind=kind)
    store_file(note.file, f"note.{kind}", content)
    return note


def reserve_thing(thing: KeptThing, told: str) -> None:
    """Keep a saved thing for the tag of this number; for nobody where none is told. Raises BadInput for no such tag."""
    job = Job.objects.open().filter(number=int(told)).first() if told.isdigit() and len(told) < 8 else None
    if told and job is None:
        raise BadInput("used_for", told, "the number of a tag that hangs here")
    thing.reserved_for = job


def may_be_used(thing: KeptThing, told: str) -> None:
    """Refuse to use a saved thing for another tag than the one it is kept for. Raises BadInput, naming that."""
    kept_for = thing.reserved_for
    if kept_for is not None and kept_for.finished_at is None and str(kept_for.number) not in told.split():
        raise BadInput(
            "used_for", told, f"{kept_for.number}, for which it is kept",
            words=f"It is kept for {kept_for.number}: free it first, or write that number.",
        )  # fmt: skip
