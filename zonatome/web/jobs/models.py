"""The workroom, its tags, and what each piece of furniture is made of."""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from datetime import time
from pathlib import Path
from typing import Any

from django.apps import apps
from django.conf import settings
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models
from django.utils import timezone

from zonatome import __version__
from zonatome.core.fasten.staples import Order
from zonatome.core.formats.furniture_json import read_furniture
from zonatome.core.lay.pattern.direction import TRIM_WAYS
from zonatome.core.pad.usual import pads_of
from zonatome.core.rules import USUAL, Rules, rules_of
from zonatome.core.strip.pulling import ENTRIES_WANTED, STAPLES_A_MINUTE, WAYS, Pace, Way
from zonatome.core.strip.record import FATES, MARKS
from zonatome.core.survey.kind import Kind, Part
from zonatome.core.survey.kinds import KINDS, kind_named
from zonatome.core.trim.welt import WIDE_WELT_CORD
from zonatome.core.units import Units

UNITS = [("metric", "Metric"), ("imperial", "Imperial")]


class Workroom(models.Model):
    """The one workroom of this installation and its settings."""

    name = models.CharField(max_length=80, default="My workroom")
    units: models.CharField[Units, Units] = models.CharField(max_length=8, choices=UNITS, default="metric")
    currency = models.CharField(max_length=8, default="€")
    hour = models.DecimalField(max_digits=7, decimal_places=2, default=42)
    opens = models.TimeField(default=time(8, 30))
    closes = models.TimeField(default=time(17, 0))
    # what it has set otherwise than the trade, by key
    own_rules = models.JSONField(default=dict, blank=True, editable=False)
    own_times: models.JSONField[Any, Any] = models.JSONField(default=dict, blank=True, editable=False)  # by its own log
    own_pace = models.FloatField(default=STAPLES_A_MINUTE, editable=False)  # staples a minute, from the timed entries
    timed = models.PositiveIntegerField(default=0, editable=False)

    @classmethod
    def the_one(cls) -> Workroom:
        """Return the workroom, made with its defaults if there is none yet."""
        workroom, _ = cls.objects.get_or_create(pk=1)
        return workroom

    @property
    def rules(self) -> Rules:
        """Its rules: the trade's figures with its own."""
        return rules_of(self.own_rules)

    @property
    def pace(self) -> Pace:
        """How fast staples come out here: its own log once that says enough."""
        return Pace(self.own_pace if self.timed >= ENTRIES_WANTED else self.rules["staples_pulled"], self.timed)


def everything() -> tuple[str | models.Prefetch[Any], ...]:
    """Return what hangs on a tag and is read by its tape and its next move."""
    runs = apps.get_model("lay.LayRun").objects.defer("request", "best").order_by("-id")
    return (
        "parts",
        "findings",
        "verdicts",
        "photos",
        "bags",
        "set_pieces",
        "waits",
        "cloths",
        "cloths__cloth",
        "cloths__guests",
        models.Prefetch("cloths__runs", queryset=runs),
        "cloths__runs__ticks",
        "trim_lines",
        "parts__keep_outs",
    )


class JobQuerySet(models.QuerySet["Job"]):
    """How jobs are loaded, said once."""

    def with_all(self) -> JobQuerySet:
        """Load everything that the tape and the next move read, in a fixed number of queries."""
        return self.prefetch_related(*everything())

    def forget_kept(self) -> int:
        """Forget how these jobs stand: something that it was worked out from has changed."""
        return self.update(standing_cache=None, cache_token=uuid.uuid4().hex)

    def open(self) -> JobQuerySet:
        """Return the jobs that have not gone home, nearest due first."""
        return self.filter(finished_at=None).order_by(models.F("due").asc(nulls_last=True), "number")


class JobsThere(models.Manager.from_queryset(JobQuerySet)):  # type: ignore[misc]
    """The tags there are; one that was taken down keeps its row, so that it can be hung up again."""

    def get_queryset(self) -> JobQuerySet:
        """Leave out what was taken down."""
        return super().get_queryset().filter(taken_down_at=None)  # type: ignore[no-any-return]


class Job(models.Model):
    """A tag on the rail: one piece of furniture or a set of the same."""

    number = models.PositiveIntegerField(unique=True)
    title = models.CharField(max_length=80)
    client = models.CharField(max_length=80)
    kind_key = models.CharField(max_length=30, choices=[(k.key, k.name) for k in KINDS.values()])
    count = models.PositiveSmallIntegerField(default=1, validators=[MinValueValidator(1), MaxValueValidator(60)])
    due = models.DateField(null=True, blank=True)
    wish = models.CharField(max_length=300, blank=True)
    new_price = models.DecimalField(max_digits=9, decimal_places=2)
    waits_for = models.CharField(max_length=80, blank=True)
    hung_at = models.DateTimeField(default=timezone.now)
    finished_at = models.DateTimeField(null=True, blank=True)
    is_made_up = models.BooleanField(default=False, editable=False)  # hung up to try everything on
    taken_down_at = models.DateTimeField(null=True, blank=True, editable=False)
    holes_found = models.BooleanField(default=False)
    # its `zonatome.frame` and `zonatome.hand_over`: the wood's finish, what goes with the furniture; empty: nothing yet
    frame: models.JSONField[Any, Any] = models.JSONField(null=True, blank=True, editable=False)
    hand_over: models.JSONField[Any, Any] = models.JSONField(null=True, blank=True, editable=False)
    had_label = models.BooleanField(default=True)
    label_on = models.BooleanField(default=False)
    feet_done = models.BooleanField(default=False)
    trim_kind = models.CharField(max_length=12, blank=True)
    cord = models.FloatField(default=WIDE_WELT_CORD)
    trim_cloth = models.ForeignKey(
        "lay.JobCloth", null=True, blank=True, on_delete=models.SET_NULL, related_name="trims"
    )
    # how its strips lie on the cloth
    trim_way = models.CharField(max_length=8, blank=True, default="", choices=list(TRIM_WAYS.items()))
    trim_done = models.BooleanField(default=False)
    underside_width = models.FloatField(null=True, blank=True)
    underside_depth = models.FloatField(null=True, blank=True)
    legs: models.JSONField[Any, Any] = models.JSONField(default=list, blank=True, editable=False)  # under it
    skirt: models.JSONField[Any, Any] = models.JSONField(null=True, blank=True, editable=False)
    # its own `zonatome.furniture`; empty: as its kind usually is
    furniture: models.JSONField[Any, Any] = models.JSONField(null=True, blank=True, editable=False)
    # what it was before each change, newest last
    furniture_past = models.JSONField(default=list, blank=True, editable=False)
    furniture_version = models.PositiveIntegerField(default=0, editable=False)
    variants = models.JSONField(default=list, blank=True, editable=False)
    restyled = models.JSONField(default=list, blank=True, editable=False)  # what shall be other than before, in words
    clearance = models.JSONField(null=True, blank=True, editable=False)  # measures of the drop-in sum, mm
    pull_way: models.CharField[Way, Way] = models.CharField(max_length=8, default="all", choices=list(WAYS.items()))
    reach = models.JSONField(default=list, blank=True, editable=False)  # keys of the parts that alone are wished off
    # how it stands, worked out once; emptied by any save that may change it
    standing_cache: models.JSONField[Any, Any] = models.JSONField(null=True, blank=True, editable=False)
    # another one after each such save: what was worked out before is not kept
    cache_token = models.CharField(max_length=32, blank=True, editable=False)

    # measures of the furniture itself that its body is built from, by key, mm or degrees; empty: the usual ones
    body_measures: models.JSONField[Any, Any] = models.JSONField(default=dict, blank=True, editable=False)

    # what an older version had otherwise, in words
    to_look_at = models.JSONField(default=list, blank=True, editable=False)

    objects = JobsThere()
    every = JobQuerySet.as_manager()

    @property
    def kind(self) -> Kind:
        """What it is made of: the kind's data, or its own where something has been changed."""
        if self.furniture is None:
            return kind_named(self.kind_key)
        known = self.__dict__.get("_own")
        if known is None or known[0] is not self.furniture:
            known = (self.furniture, read_furniture(self.furniture))
            self.__dict__["_own"] = known
        return known[1]

    @property
    def rules(self) -> Rules:
        """The workroom's rules, loaded when first asked for."""
        return self._workroom.rules

    @property
    def units(self) -> Units:
        """How the workroom reads lengths."""
        return self._workroom.units

    @property
    def _workroom(self) -> Workroom:
        if "_workroom_kept" not in self.__dict__:
            self.__dict__["_workroom_kept"] = Workroom.the_one()
        kept: Workroom = self.__dict__["_workroom_kept"]
        return kept

    @property
    def picture_version(self) -> str:
        """What changes with the pictures of its furniture: with the tag, and with how they are drawn; empty: nothing is
        kept of it.
        """
        return f"{self.cache_token}-{__version__}" if self.cache_token else ""

    @property
    def has_off(self) -> bool:
        """Whether anything is off yet."""
        return any(p.off_number is not None for p in self.parts.all())

    @property
    def name(self) -> str:
        """The title with the count of a set."""
        return f"{self.title} × {self.count}" if self.count > 1 else self.title

    @property
    def off_keys(self) -> tuple[str, ...]:
        """What is off, in the order it came off."""
        off = [(p.off_number, p.key) for p in self.parts.all() if p.off_number is not None]
        return tuple(key for _, key in sorted(off, key=lambda one: one[0]))

    def parts_by_key(self) -> dict[str, JobPart]:
        """Return the parts by their key, from what is loaded."""
        return {p.key: p for p in self.parts.all()}

    def panels(self) -> list[JobPart]:
        """Return the panels of the cover, in the kind's order."""
        by_key = self.parts_by_key()
        return [by_key[p.key] for p in self.kind.panels if p.key in by_key]

    def padded(self) -> list[JobPart]:
        """Return the panels that wrap a pad on a board of their own: those that are stapled round it."""
        return [p for p in self.panels() if p.part.padded]

    def put_on(self) -> list[JobPart]:
        """Return what is put on: the panels of the cover, and the bottom cloth that closes it at last."""
        by_key = self.parts_by_key()
        last = [by_key[p.key] for p in self.kind.parts if p.what == "bottom cloth" and p.is_on_new and p.key in by_key]
        return [*self.panels(), *last]

    def pads(self) -> list[JobPart]:
        """Return the panels that have a pad under them."""
        by_key = self.parts_by_key()
        return [by_key[p.key] for p in pads_of(self.kind) if p.key in by_key]


class PartsThere(models.Manager["JobPart"]):
    """The parts that a piece of furniture has; one that was dropped keeps its row,
    so that undo brings all of it back.
    """

    def get_queryset(self) -> models.QuerySet[JobPart]:
        """Leave out what was dropped."""
        return super().get_queryset().filter(is_there=True)


class JobPart(models.Model):
    """One part of one job: its record from stripping, its shape, its pad and its staples."""

    objects = PartsThere()
    every = models.Manager()

    is_there = models.BooleanField(default=True, editable=False)
    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="parts")
    key = models.CharField(max_length=30)
    off_number = models.PositiveSmallIntegerField(null=True, blank=True)
    off_at = models.DateTimeField(null=True, blank=True)
    off_by = models.CharField(max_length=60, blank=True, editable=False)
    fixing = models.CharField(max_length=120, blank=True)  # how it was held, in words beside the ticked ones
    fixings = models.JSONField(default=list, blank=True)
    fixings_again = models.JSONField(default=list, blank=True)  # how it shall be held; empty: as before
    fate = models.CharField(max_length=8, blank=True, choices=list(FATES.items()))
    marks = models.JSONField(default=list, blank=True)
    pitch_found = models.FloatField(null=True, blank=True)
    rows_found = models.PositiveSmallIntegerField(default=1)
    edge_found = models.FloatField(null=True, blank=True)
    note = models.CharField(max_length=300, blank=True)
    version = models.PositiveIntegerField(default=0, editable=False)
    on_again = models.BooleanField(default=False)
    cloth = models.ForeignKey("lay.JobCloth", null=True, blank=True, on_delete=models.SET_NULL, related_name="parts")
    shape: models.JSONField[Any, Any] = models.JSONField(null=True, blank=True)
    shape_way = models.CharField(max_length=20, blank=True)
    shape_pad = models.FloatField(null=True, blank=True)  # what the pad measured when the shape was made for it, mm
    # the same for the edges that wrap it, which follow by themselves
    shape_wraps = models.FloatField(null=True, blank=True, editable=False)
    # wishes of the panel that its shape has been grown for
    shape_has = models.JSONField(default=dict, blank=True, editable=False)
    # somebody has said that its top is up, though none was marked on the old cover
    top_sure = models.BooleanField(default=False)
    board_width = models.FloatField(null=True, blank=True)
    board_depth = models.FloatField(null=True, blank=True)
    board_thickness = models.FloatField(null=True, blank=True)
    board_back = models.FloatField(null=True, blank=True)
    wrap = models.FloatField(default=USUAL["wrap"])
    pad_measured = models.FloatField(null=True, blank=True)
    # its own `zonatome.stack`; empty: not chosen yet
    stack: models.JSONField[Any, Any] = models.JSONField(null=True, blank=True, editable=False)
    # what it was before each change, newest last
    stack_past = models.JSONField(default=list, blank=True, editable=False)
    pitch = models.FloatField(default=USUAL["pitch"])
    staple_order: models.CharField[Order, Order] = models.CharField(max_length=20, default="cross first")
    # its own `zonatome.fastening`: what was chosen and done while it is put on; empty: nothing yet
    fastening: models.JSONField[Any, Any] = models.JSONField(null=True, blank=True, editable=False)
    staples_done = models.PositiveIntegerField(default=0)
    staples_planned = models.PositiveIntegerField(default=0)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "key"], name="part_once_a_job")]
        ordering = ["id"]

    @property
    def part(self) -> Part:
        """The kind's data of this part."""
        return self.job.kind.part(self.key)

    @property
    def name(self) -> str:
        """Its name."""
        return self.part.name

    @property
    def held(self) -> str:
        """How it was held, or usually is, in words."""
        return ", ".join([*self.fixings, *([self.fixing] if self.fixing else [])]) or ", ".join(self.part.held)

    @property
    def mark_names(self) -> list[str]:
        """The marks written on it, in words."""
        return [MARKS[m].name.lower() for m in self.marks if m in MARKS]

    @property
    def has_board(self) -> bool:
        """Whether the board under it has been measured."""
        return self.board_width is not None

    @property
    def has_pad(self) -> bool:
        """Whether its layers have been chosen."""
        return self.stack is not None

    @property
    def pieces(self) -> int:
        """How many pieces are cut from its shape, for the whole set."""
        return self.part.per_furniture * self.job.count


class Wait(models.Model):
    """Something that runs by itself: glue, paint, a cloth on order."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="waits")
    step = models.CharField(max_length=10)
    words = models.CharField(max_length=80)
    began = models.DateTimeField(default=timezone.now)
    until = models.DateTimeField()

    class Meta:
        ordering = ["until"]


class FlatPhoto(models.Model):
    """A photo on the mat laid flat at 1 mm a pixel; `left` and `top` are its upper left corner in the mat's frame."""

    left = models.FloatField()
    top = models.FloatField()
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    error = models.FloatField(null=True)  # mm that the tracing may be out; empty: drawn by hand

    class Meta:
        abstract = True


def photo_place(photo: Photo, _: str) -> str:
    """Return where a photo is kept: outside static, under a new name."""
    return str(Path(str(photo.job_id)) / f"{uuid.uuid4().hex}.jpg")


class Photo(models.Model):
    """A photo of a job, before or after; always a JPEG made anew from what was sent."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="photos")
    when = models.CharField(
        max_length=8,
        choices=[
            ("before", "Before"),
            ("strip", "While stripping"),
            ("look", "While looking it over"),
            ("after", "After"),
        ],
    )
    part = models.ForeignKey(JobPart, null=True, blank=True, on_delete=models.SET_NULL, related_name="photos")
    words = models.CharField(max_length=120, blank=True)
    file = models.ImageField(upload_to=photo_place)
    taken_at = models.DateTimeField(default=timezone.now)
    lines: models.JSONField[Any, Any] = models.JSONField(default=list, blank=True)  # drawn on it, of what was seen

    class Meta:
        ordering = ["id"]

    @property
    def path(self) -> Path:
        """Where it lies."""
        return Path(settings.MEDIA_ROOT) / str(self.file.name)


def photos_of(photos: Iterable[Photo], when: str) -> list[Photo]:
    """Return those taken before or after."""
    return [p for p in photos if p.when == when]
