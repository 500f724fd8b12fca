"""A job carried from one workroom to another: everything of it into one ZIP of open files, and back without loss."""

from __future__ import annotations

import io
import json
import logging
from collections.abc import Callable, Iterable, Mapping
from functools import partial
from pathlib import Path
from typing import IO, Any

from django.conf import settings
from django.core.exceptions import ValidationError
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.serializers.json import DjangoJSONEncoder
from django.db import IntegrityError, models, transaction
from django.db.models.fields.files import FieldFile

from zonatome.core.errors import BadInput
from zonatome.core.fasten.rehearsal.sheet import PULLS
from zonatome.core.formats import reading
from zonatome.core.formats.fastening_json import read_fastening, read_seen
from zonatome.core.formats.furniture_json import read_furniture, write_furniture
from zonatome.core.formats.job_zip import read_job_zip, write_job_zip
from zonatome.core.formats.lay_json import read_lay, read_request
from zonatome.core.formats.leaving_json import read_frame, read_hand_over
from zonatome.core.formats.piece_json import read_piece
from zonatome.core.formats.quote_json import read_options
from zonatome.core.formats.rehearsal_json import read_acts, read_marks
from zonatome.core.formats.stack_json import read_stack, stack_of_thicknesses, write_stack
from zonatome.core.formats.trim_json import read_legs, read_skirt
from zonatome.core.formats.version_1 import job_brought_over
from zonatome.core.intake.photo_in import made_anew
from zonatome.core.lay.ranking import rank
from zonatome.core.outline import outline_of
from zonatome.core.strip.record import known_fixings, known_marks
from zonatome.core.survey.findings import finding_named
from zonatome.core.tolerances import MOST_POINTS
from zonatome.core.trace.wishes import wishes_of
from zonatome.web.base.files import store_file
from zonatome.web.fasten.models import KeepOutMark
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job, JobPart, Photo, Wait
from zonatome.web.jobs.photos import keep_photo
from zonatome.web.jobs.services import next_number
from zonatome.web.lay.models import Cloth, CutTick, JobCloth, LayRun, Remnant, RemnantPhoto, outlines_in
from zonatome.web.lay.services import best_run
from zonatome.web.rehearse.models import Rehearsal
from zonatome.web.shop.models import GatherTick, OldPiece, SentQuote, TimeEntry
from zonatome.web.strip.models import Bag, Difference, KeptThing, SetPiece, Spell, SpokenNote
from zonatome.web.strip.record import record_of
from zonatome.web.survey.models import CautionSeen, LayerFinding, LayerVerdict
from zonatome.web.trace.models import CoverPhoto
from zonatome.web.trim.models import TrimLine

logger = logging.getLogger(__name__)

# made anew, or only true here
NOT_CARRIED = {
    "id",
    "standing_cache",
    "cache_token",
    "wanted_fingerprint",
    "row_lay",
    "rank",
    "rest_kept",
    "stack_past",
    "nonce",
}
# the rows of a job: their name in the document, the model, what points at the job, the references beside it
ROWS: tuple[tuple[str, type[models.Model]], ...] = (
    ("findings", LayerFinding),
    ("verdicts", LayerVerdict),
    ("seen", CautionSeen),
    ("waits", Wait),
    ("bags", Bag),
    ("spells", Spell),
    ("set", SetPiece),
    ("differences", Difference),
    ("saved", KeptThing),
    ("trim_lines", TrimLine),
    ("log", TimeEntry),
    ("quotes", SentQuote),
    ("gathered", GatherTick),
    ("old_piece", OldPiece),
)
MOST_ROWS = 5000
LONG_FLAT = 5400  # pixels: a photo laid flat has one a millimetre, and no mat is larger
MOST_NUMBER = 10**7  # mm, staples, seconds: no column holds more
# what odd values end in
NO_SUCH_VALUE = (TypeError, KeyError, IndexError, AttributeError, ValueError, ArithmeticError, RecursionError)


def _plain(row: models.Model, *, leave: Iterable[str] = ()) -> dict[str, Any]:
    """The plain columns of a row: no keys, no files; references are said by name."""
    found = {}
    for field in row._meta.concrete_fields:
        if field.is_relation or field.name in NOT_CARRIED or field.name in leave or isinstance(field, models.FileField):
            continue
        found[field.name] = getattr(row, field.attname)
    if any(f.name == "part" for f in row._meta.concrete_fields) and row.part:  # type: ignore[attr-defined]
        found["part"] = row.part.key  # type: ignore[attr-defined]
    return found


def _past(job: Job, places: dict[Any, Any]) -> list[dict[str, Any]]:
    """What the furniture was before each change, its cloths said by other names: keys to places, or places to keys."""
    return [
        {
            **before,
            "rows": {key: {**row, "cloth_id": places.get(row.get("cloth_id"))} for key, row in before["rows"].items()},
        }
        for before in job.furniture_past
    ]


def job_zip(number: int) -> bytes:
    """Return a job with all that belongs to it as one ZIP."""
    job = load_job(number)
    parts = list(JobPart.every.filter(job=job).select_related("cloth"))
    cloths = list(job.cloths.all())
    places = {c.pk: n for n, c in enumerate(cloths)}
    files: dict[str, bytes] = {}
    document: dict[str, Any] = {
        "job": {**_plain(job), "furniture_past": _past(job, places), "trim_cloth": places.get(job.trim_cloth_id or 0)},
        "parts": [{**_plain(p), "cloth": places.get(p.cloth_id or 0)} for p in parts],
        "cloths": [_cloth(c, f"cloths/{n + 1}", files) for n, c in enumerate(cloths)],
    }
    for name, model in ROWS:
        rows = model.objects.filter(job=job)  # type: ignore[attr-defined]
        related = rows.select_related("part") if any(f.name == "part" for f in model._meta.fields) else rows
        document[name] = [_plain(row) for row in related]
    document["keep_outs"] = [_plain(k) for k in KeepOutMark.objects.filter(part__job=job).select_related("part")]
    document["photos"] = []
    carried: dict[int, int] = {}  # the place of each photo in the document
    for n, photo in enumerate(job.photos.select_related("part"), 1):
        if content := _stored(photo.file):
            carried[photo.pk] = len(document["photos"])
            files[f"photos/{n:03d}.jpg"] = content
            document["photos"].append({**_plain(photo), "file": f"photos/{n:03d}.jpg"})
    document["rehearsals"] = [
        {**_plain(row), "photo": carried.get(row.photo_id or 0)}
        for row in Rehearsal.objects.filter(part__job=job).select_related("part")
    ]
    document["cover_photos"] = []
    for cover in CoverPhoto.objects.filter(part__job=job).select_related("part"):
        if content := _stored(cover.file):
            files[f"covers/{cover.part.key}.jpg"] = content
            document["cover_photos"].append({**_plain(cover), "file": f"covers/{cover.part.key}.jpg"})
    document["spoken"] = []
    for n, note in enumerate(SpokenNote.objects.filter(part__job=job).select_related("part"), 1):
        name = f"spoken/{n:03d}.{note.kind}"
        files[name] = (Path(settings.MEDIA_ROOT) / str(note.file.name)).read_bytes()
        document["spoken"].append({**_plain(note), "file": name})
    document["lays"] = _lays(cloths, files)
    for part in parts:
        if part.shape:
            files[f"pieces/{part.key}.json"] = json.dumps(part.shape, indent=1).encode()
    try:
        files["strip-record.pdf"] = record_of(job)
    except NO_SUCH_VALUE:
        logger.warning("tag %s goes along without its strip record, which can't be drawn", number, exc_info=True)
    return write_job_zip(json.loads(json.dumps(document, cls=DjangoJSONEncoder)), files)


def _cloth(job_cloth: JobCloth, folder: str, files: dict[str, bytes]) -> dict[str, Any]:
    """A cloth of the job, the remnants it is cut from, and with which tag it is laid; photos of them go into a folder
    of the files.
    """
    cloth = _plain(job_cloth.cloth)
    if tile := _stored(job_cloth.cloth.tile_photo):
        cloth["tile_file"] = f"{folder}-repeat.jpg"
        files[cloth["tile_file"]] = tile
    pieces = [
        _remnant(r, f"{folder}-piece-{n}.jpg", files)
        for n, r in enumerate(job_cloth.from_store.select_related("photo").order_by("id"), 1)
    ]
    said = {**_plain(job_cloth), "cloth": cloth, "from_store": pieces}
    if job_cloth.laid_with:
        said["laid_with"] = job_cloth.laid_with.job.number
    return said


def _remnant(row: Remnant, name: str, files: dict[str, bytes]) -> dict[str, Any]:
    """A piece of cloth with its flat photo, where it has one."""
    photo = getattr(row, "photo", None)
    if photo is None or not (content := _stored(photo.file)):
        return _plain(row)
    files[name] = content
    return {**_plain(row), "photo": {**_plain(photo), "file": name}}


def _stored(file: FieldFile) -> bytes | None:
    """What is in a stored file; None where there is none."""
    path = Path(settings.MEDIA_ROOT) / str(file.name) if file else None
    return path.read_bytes() if path and path.exists() else None


def _lays(cloths: list[JobCloth], files: dict[str, bytes]) -> list[dict[str, Any]]:
    """The lay that stands for each cloth, as request and lay files, with its ticks."""
    found = []
    for n, job_cloth in enumerate(cloths):
        run = best_run(job_cloth)
        if run is None:
            continue
        names = {"request_file": f"lays/{n + 1}-request.json", "lay_file": f"lays/{n + 1}-lay.json"}
        files[names["request_file"]] = json.dumps(run.request).encode()
        files[names["lay_file"]] = json.dumps(run.best).encode()
        ticks = [{"key": t.key, "is_strip": t.is_strip} for t in run.ticks.all()]
        said = _plain(run, leave=("request", "best"))
        if run.is_open:
            said["state"] = "stopped"  # a search is not carried along, only what it has found so far
        found.append({"cloth": n, **names, **said, "ticks": ticks})
    return found


def job_from_zip(content: IO[bytes], look_in: Callable[[int], None] | None = None) -> Job:
    """Hang up the job in a ZIP and return it; a number that is taken becomes the next free one.

    `look_in` opens every room of it before it is kept, and raises BadInput where one can't show it.
    Raises BadInput, naming what is wrong where; then nothing is stored.
    """
    document, files = read_job_zip(content)
    coming_in = JobImport(_brought_over(document) if document.get("version") == 1 else document, files)
    try:
        with transaction.atomic():
            job = coming_in.hang_up()
            if look_in is not None:
                look_in(job.number)
            return job
    except Exception as refusal:
        for file in coming_in.stored:
            file.delete(save=False)
        if isinstance(refusal, ValidationError):
            raise BadInput(
                "job.json", "; ".join(refusal.messages)[:200], "values as this version writes them"
            ) from refusal
        if isinstance(refusal, NO_SUCH_VALUE) and not isinstance(refusal, BadInput):
            raise BadInput(
                "job.json", f"{type(refusal).__name__}: {refusal}"[:200], "values as this version writes them"
            ) from refusal
        raise


def _brought_over(document: dict[str, Any]) -> dict[str, Any]:
    """A job's document of version 1 in today's terms; photos,
    bags and marks of a part that has another name go along.
    """
    job = reading.table(reading.wanted(document, "job"), "job")
    parts = [
        reading.table(p, f"parts[{n}]")
        for n, p in enumerate(reading.listed(document.get("parts", []), "parts", most=MOST_ROWS))
    ]
    for n, part in enumerate(parts):
        reading.text(part.get("key"), f"parts[{n}].key", most=30)
        if part.get("shape") is not None:
            reading.table(part["shape"], f"parts[{n}].shape")
    kind = reading.text(job.get("kind_key"), "job.kind_key", most=30)
    variants = [
        reading.text(v, "job.variants", most=30)
        for v in reading.listed(job.get("variants", []), "job.variants", most=20)
    ]
    furniture = None if job.get("furniture") is None else reading.table(job["furniture"], "job.furniture")
    told = job_brought_over(kind, variants, furniture, parts)
    made: dict[str, Any] = dict(document)
    furniture_now = write_furniture(told.furniture) if told.furniture is not None else None
    made["job"] = {**job, "furniture": furniture_now, "furniture_past": [], "to_look_at": list(told.to_look_at)}
    there = {p.key: p for p in told.kind.parts}
    plain = {"cloth": None, "off_number": None}
    made["parts"] = [
        plain
        | {k: v for k, v in row.items() if k != "from"}
        | {"is_there": bool(row.get("is_there", True)) and row["key"] in there}
        | {"shape_has": wishes_of(there[row["key"]]).as_data() if row.get("shape") and row["key"] in there else {}}
        for row in told.rows
    ]
    names: dict[str, str] = {}
    for row in told.rows:
        names.setdefault(row["from"], row["key"])
    for name in (*(n for n, _ in ROWS), "keep_outs", "photos", "cover_photos", "spoken"):
        rows = made.get(name)
        if isinstance(rows, list):
            made[name] = [{**r, "part": names.get(r["part"], r["part"])} if _has_part(r) else r for r in rows]
    return made


def _pad_brought_over(row: dict[str, Any], where: str) -> dict[str, Any]:
    """A part with its pad as a stack, which earlier versions said by the thickness of foam and wadding.

    Raises BadInput for a stack that is none, and for what nobody can choose at Fasten.
    """
    read_fastening(row.get("fastening"))
    if row.get("stack") is not None:
        read_stack(row["stack"])
        return row
    thick = {
        key: reading.number(row[key], f"{where}.{key}", least=0, most=MOST_NUMBER)
        for key in ("foam", "wadding", "oversize")
        if row.get(key) is not None
    }
    if "foam" not in thick:
        return row
    stack = stack_of_thicknesses(
        thick["foam"], thick.get("wadding"), thick.get("oversize", 0.0), webbing=row.get("webbing") is True
    )
    return {**row, "stack": write_stack(stack) if stack.layers else None}


def _has_part(row: object) -> bool:
    return isinstance(row, dict) and isinstance(row.get("part"), str)


def _told(field: models.Field[Any, Any], value: Any, where: str) -> Any:
    """A plain value as its column holds it.

    Raises BadInput for one of another type, and for a number that no length or count is.
    """
    if value is None:
        if not field.null:
            raise BadInput(where, None, f"a value for {field.verbose_name}")
        return None
    if isinstance(field, models.FloatField):
        return reading.number(value, where, least=-MOST_NUMBER, most=MOST_NUMBER)
    if isinstance(field, models.IntegerField):
        return reading.whole(value, where, least=-MOST_NUMBER, most=MOST_NUMBER)
    if isinstance(field, models.JSONField):
        return value
    if isinstance(value, bool) != isinstance(field, models.BooleanField) or not isinstance(value, bool | str):
        raise BadInput(where, value, f"a value for {field.verbose_name}")
    try:
        return field.to_python(value)
    except ValidationError as err:
        raise BadInput(where, value, f"a value for {field.verbose_name}") from err


class JobImport:
    """A job on its way into the store."""

    def __init__(self, document: dict[str, Any], files: Mapping[str, bytes]) -> None:
        """Nothing is stored yet."""
        self.document, self.files = document, files
        self.parts: dict[str, JobPart] = {}
        self.cloths: list[JobCloth] = []
        self.photos: list[Photo] = []
        self.stored: list[FieldFile] = []  # taken away again where the job is refused further on
        self.job = Job()

    def rows(self, name: str) -> list[dict[str, Any]]:
        """The rows of one name."""
        return [
            reading.table(r, f"{name}[{n}]")
            for n, r in enumerate(reading.listed(self.document.get(name, []), name, most=MOST_ROWS))
        ]

    def fill(self, row: models.Model, data: dict[str, Any], where: str) -> Any:
        """Set the plain columns of a row, each through its own field; unknown keys are passed over."""
        for field in row._meta.concrete_fields:
            if (
                field.is_relation
                or field.name in NOT_CARRIED
                or field.name not in data
                or isinstance(field, models.FileField)
            ):
                continue
            setattr(row, field.attname, _told(field, data[field.name], f"{where}.{field.name}"))
        if isinstance(data.get("part"), str):
            if data["part"] not in self.parts:
                raise BadInput(f"{where}.part", data["part"], "one of " + ", ".join(self.parts))
            row.part = self.parts[data["part"]]  # type: ignore[attr-defined]
        fields = row._meta.concrete_fields
        apart = [
            f.name
            for f in fields
            if f.is_relation or isinstance(f, models.FileField) or (f.null and getattr(row, f.attname) is None)
        ]
        row.full_clean(exclude=apart, validate_unique=False, validate_constraints=False)
        return row

    def cloth_at(self, place: Any, where: str) -> JobCloth | None:
        """The cloth of the job that a place in the document's list means."""
        if place is None:
            return None
        return self.cloths[reading.whole(place, where, least=0, most=len(self.cloths) - 1)]

    def hang_up(self) -> Job:
        """Store everything, in the order in which it refers to each other."""
        data = reading.table(reading.wanted(self.document, "job"), "job")
        self.fill(self.job, data, "job")
        self.furniture_can_be_read()
        if Job.every.filter(number=self.job.number).exists():
            self.job.number = next_number()
        self.job.save()
        self.take_all("cloths", lambda row, where: self.cloths.append(self.take_cloth(row, where)))
        self.take_all("parts", self.take_part)
        self.job.furniture_past = _past(self.job, {n: c.pk for n, c in enumerate(self.cloths)})
        self.job.trim_cloth = self.cloth_at(data.get("trim_cloth"), "job.trim_cloth")
        self.job.save()
        for name, model in ROWS:
            self.take_all(name, partial(self.take_row, model))
        self.take_all("keep_outs", lambda row, where: self.fill(KeepOutMark(), row, where).save())
        self.take_all("photos", self.take_photo)
        self.take_all("rehearsals", self.take_rehearsal)
        self.take_all("cover_photos", self.take_cover)
        self.take_all("spoken", self.take_note)
        self.take_all("lays", self.take_lay)
        return self.job

    def furniture_can_be_read(self) -> None:
        """Refuse a job whose furniture, or one that undo would bring back, is none."""
        if self.job.furniture is not None:
            read_furniture(self.job.furniture)
        read_frame(self.job.frame)
        read_legs(self.job.legs)
        read_skirt(self.job.skirt)
        read_hand_over(self.job.hand_over)
        for n, before in enumerate(reading.listed(self.job.furniture_past, "job.furniture_past", most=MOST_ROWS)):
            if reading.table(before, f"job.furniture_past[{n}]").get("furniture") is not None:
                read_furniture(before["furniture"])

    def take_all(self, name: str, take: Callable[[dict[str, Any], str], object]) -> None:
        """Take every row of one list of the document, each with where it stands."""
        for n, row in enumerate(self.rows(name)):
            take(row, f"{name}[{n}]")

    def take_row(self, model: type[models.Model], row: dict[str, Any], where: str) -> None:
        """Store a row that belongs to the job and to nothing else."""
        if model is LayerFinding:
            finding_named(row.get("finding", ""))
        made = model()
        made.job = self.job  # type: ignore[attr-defined]
        self.fill(made, row, where)
        if isinstance(made, TimeEntry):
            if made.ended is None:
                return  # a clock does not run on in another workroom
            if made.ended < made.began:
                raise BadInput(f"{where}.ended", made.ended, "a time after it began")
        if isinstance(made, SentQuote):
            read_options(made.options)
        try:
            with transaction.atomic():
                made.save()
        except IntegrityError as twice:
            raise BadInput(where, row, "a row that stands there once") from twice

    def take_note(self, row: dict[str, Any], where: str) -> None:
        """Store a spoken note with its sound."""
        note = self.fill(SpokenNote(), row, where)
        self.store(note.file, f"note.{note.kind}", self.file_of(row, where))

    def file_of(self, row: dict[str, Any], where: str, key: str = "file") -> bytes:
        """The file that a row names."""
        name = reading.text(row.get(key), f"{where}.{key}", most=120)
        if name not in self.files:
            raise BadInput(f"{where}.{key}", name, "a file of this ZIP")
        return self.files[name]

    def store(self, file: FieldFile, name: str, content: bytes) -> None:
        """Store a file of a row, and the row."""
        store_file(file, name, content)
        self.stored.append(file)

    def photo_of(self, row: dict[str, Any], where: str, key: str = "file") -> bytes:
        """The photo that a row names."""
        content = self.file_of(row, where, key)
        return made_anew(content, as_it_is=True, long_side=LONG_FLAT)

    def take_cloth(self, row: dict[str, Any], where: str) -> JobCloth:
        """Take a cloth: the one of that name, width and price in the store, or a new one."""
        said = self.fill(Cloth(), reading.table(row.get("cloth"), f"{where}.cloth"), f"{where}.cloth")
        said.price_breaks()
        known = Cloth.objects.filter(
            name=said.name, width=said.width, price=said.price, direction=said.direction
        ).first()
        if known is None:
            said.save()
            known = said
        if "tile_file" in row["cloth"] and not known.tile_photo:
            self.store(known.tile_photo, "tile.jpg", self.photo_of(row["cloth"], f"{where}.cloth", "tile_file"))
        made = JobCloth(job=self.job, cloth=known)
        self.fill(made, {k: v for k, v in row.items() if k != "cloth"}, where)
        made.roll_flaws(), made.held_blocks()
        if row.get("laid_with") is not None:
            number = reading.whole(row["laid_with"], f"{where}.laid_with", least=1, most=10**9)
            made.laid_with = JobCloth.objects.filter(job__number=number, cloth=known, laid_with=None).first()
        made.save()
        taken = reading.listed(row.get("from_store", []), f"{where}.from_store", most=MOST_ROWS)
        found = [self.take_remnant(known, told, f"{where}.from_store[{n}]") for n, told in enumerate(taken)]
        # what another tag is cut from is not there twice
        made.from_store.set([r for r in found if not r.taken_for.exists()])
        return made

    def take_remnant(self, cloth: Cloth, told: object, where: str) -> Remnant:
        """Take a remnant that a cloth is cut from: the one in the store that is the same, or a new one."""
        row = reading.table(told, where)
        said: Remnant = self.fill(Remnant(cloth=cloth), row, where)
        outline_of(reading.listed(said.outline, f"{where}.outline", least=3, most=MOST_POINTS), key=f"{where}.outline")
        outlines_in(said.flaws, f"{where}.flaws")
        known: Remnant
        for known in Remnant.objects.filter(cloth=cloth, kind=said.kind, words=said.words):
            if (known.outline, known.flaws) == (said.outline, said.flaws):
                return known
        said.save()
        if row.get("photo") is not None:
            flat = reading.table(row["photo"], f"{where}.photo")
            photo = self.fill(RemnantPhoto(remnant=said), flat, f"{where}.photo")
            self.store(photo.file, "flat.jpg", self.photo_of(flat, f"{where}.photo"))
        return said

    def take_part(self, row: dict[str, Any], where: str) -> None:
        """Take a part with its record and its shape."""
        row = _pad_brought_over(row, where)
        made = JobPart(job=self.job, cloth=self.cloth_at(row.get("cloth"), f"{where}.cloth"))
        self.fill(made, row, where)
        if made.is_there:
            self.job.kind.part(made.key)
        if made.shape is not None:
            read_piece(reading.table(made.shape, f"{where}.shape"))
        for words in (made.fixings, made.fixings_again):
            known_fixings(reading.listed(words, f"{where}.fixings", most=40))
        known_marks(reading.listed(made.marks, f"{where}.marks", most=40))
        made.save()
        self.parts[made.key] = made

    def take_rehearsal(self, row: dict[str, Any], where: str) -> None:
        """Take what was tried of stapling a panel."""
        rehearsal = self.fill(Rehearsal(), row, where)
        read_acts(rehearsal.acts)
        if rehearsal.pull not in PULLS:
            raise BadInput(f"{where}.pull", rehearsal.pull, "one of " + ", ".join(PULLS))
        read_marks(rehearsal.marks)
        if row.get("photo") is not None:
            rehearsal.photo = self.photos[
                reading.whole(row["photo"], f"{where}.photo", least=0, most=len(self.photos) - 1)
            ]
        rehearsal.save()

    def take_photo(self, row: dict[str, Any], where: str) -> None:
        """Take a photo as it is; one that no camera or this application made is refused."""
        content = self.file_of(row, where)
        photo = self.fill(Photo(job=self.job), row, where)
        read_seen(photo.lines)
        kept = keep_photo(
            self.job,
            photo.when,
            SimpleUploadedFile("photo.jpg", content),
            part=photo.part,
            words=photo.words,
            as_it_is=True,
        )
        self.stored.append(kept.file)
        kept.taken_at, kept.lines = photo.taken_at, photo.lines
        kept.save()
        self.photos.append(kept)

    def take_cover(self, row: dict[str, Any], where: str) -> None:
        """Take the flat photo of an old cover with its outline."""
        cover = self.fill(CoverPhoto(), row, where)
        outline_of(reading.listed(cover.outline, f"{where}.outline", least=3, most=MOST_POINTS), key=f"{where}.outline")
        self.store(cover.file, "flat.jpg", self.photo_of(row, where))

    def take_lay(self, row: dict[str, Any], where: str) -> None:
        """Take the lay that stands for a cloth, with what is cut of it."""
        request = reading.read_json(self.file_of(row, where, "request_file"), key=f"{where}.request")
        lay = reading.read_json(self.file_of(row, where, "lay_file"), key=f"{where}.lay")
        asked, laid = read_request(request), read_lay(lay)
        job_cloth = self.cloth_at(row.get("cloth"), f"{where}.cloth")
        run = self.fill(LayRun(job_cloth=job_cloth, request=request, best=lay), row, where)
        if run.is_open:
            raise BadInput(f"{where}.state", run.state, "a lay whose search has ended")
        run.rank = rank(asked, laid)
        run.save()
        for tick in reading.listed(row.get("ticks", []), f"{where}.ticks", most=MOST_ROWS):
            said = reading.table(tick, f"{where}.ticks")
            key = reading.text(said.get("key"), f"{where}.ticks.key", most=60)
            CutTick.objects.create(run=run, key=key, is_strip=bool(said.get("is_strip")))


def whole_job(number: int) -> IO[bytes]:
    """Return the ZIP as a file to send."""
    return io.BytesIO(job_zip(number))
