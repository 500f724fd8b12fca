"""Cloths and remnants in the store, the cloths of a job, and the runs that lay its pieces on them."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import timedelta
from decimal import Decimal
from pathlib import Path
from typing import Any

from django.core.validators import MinValueValidator, RegexValidator
from django.db import models
from django.utils import timezone

from zonatome.core.formats import reading
from zonatome.core.formats.lay_json import MOST_FLAWS, read_lay, read_request
from zonatome.core.lay.pattern.centring import PATTERNS, repeat_of
from zonatome.core.lay.prepared import is_prepared
from zonatome.core.lay.request import Lay, LayRequest, Repeat
from zonatome.core.outline import Outline, Point, outline_of, turn_of
from zonatome.core.rules import USUAL
from zonatome.core.shop.buying import MOST_BREAKS, PriceBreak
from zonatome.core.tolerances import LEAST_FLAW, MOST_POINTS
from zonatome.core.trim.welt import USUAL_CLOTH
from zonatome.web.base.who import who
from zonatome.web.jobs.models import FlatPhoto, Job

# one that waits its turn behind others, or for a worker that is being started, is not lost yet
WAITING_LONGEST = timedelta(seconds=90)
SILENT_AFTER = timedelta(seconds=12)  # a worker that lives writes every second or so; a busy disk may hold it up


def tile_place(_: Cloth, __: str) -> str:
    """Return where the photo of one repeat of a cloth is kept: outside static, under a new name."""
    return str(Path("cloths") / f"{uuid.uuid4().hex}.jpg")


UNSAID_COLOURS = ("#8c4a5a", "#51708a", "#7a8450", "#b58a4a", "#7d6a8c", "#4f7f78", "#9a6248", "#8b8f96")


class Cloth(models.Model):
    """A cloth as the seller offers it; of one that comes in hides `price` is for the square metre or yard."""

    DIRECTIONS = [
        ("one_way", "one way (pile, one-way pattern)"),
        ("two_way", "two way (woven plain)"),
        ("any", "any way (vinyl and the like)"),
    ]
    SOLD_IN = [("m", "metre"), ("yd", "yard")]
    STRETCH = [("", "hardly"), ("across", "across the roll"), ("along", "along the roll"), ("both", "both ways")]
    SOLD_BY = [("whole", "whole"), ("half", "half"), ("quarter", "quarter"), ("tenth", "tenth")]

    name = models.CharField(max_length=60)
    width = models.FloatField()
    selvage = models.FloatField(default=12.0)
    direction = models.CharField(max_length=8, choices=DIRECTIONS, default="two_way")
    pattern = models.CharField(max_length=10, choices=list(PATTERNS.items()), default="plain")
    repeat_along = models.FloatField(null=True, blank=True)
    repeat_across = models.FloatField(null=True, blank=True)
    first_along = models.FloatField(default=0.0)
    first_across = models.FloatField(default=0.0)
    thickness = models.FloatField(default=USUAL_CLOTH)
    price = models.DecimalField(max_digits=8, decimal_places=2, validators=[MinValueValidator(0)])
    sold_in = models.CharField(max_length=2, choices=SOLD_IN, default="m")
    sold_by = models.CharField(max_length=8, choices=SOLD_BY, default="tenth")
    is_hide = models.BooleanField(default=False)
    least = models.FloatField(default=0.0)
    breaks = models.JSONField(default=list, blank=True)  # [from mm, price], rising
    lot = models.CharField(max_length=30, blank=True)
    stretch = models.CharField(max_length=8, choices=STRETCH, blank=True, default="")
    may_railroad = models.BooleanField(default=True)
    wear = models.CharField("what the seller says of wear", max_length=120, blank=True)
    # as measured on a sample, where that is another than was said
    sample_thickness = models.FloatField(null=True, blank=True)
    tile_photo = models.ImageField(upload_to=tile_place, blank=True)  # one repeat of the cloth, its top up
    colour = models.CharField(max_length=7, blank=True, default="", validators=[RegexValidator(r"^#[0-9a-fA-F]{6}$")])
    certified = models.CharField("what the seller certifies", max_length=120, blank=True)
    is_in_store = models.BooleanField(default=True)

    class Meta:
        ordering = ["name", "id"]

    def __str__(self) -> str:
        """Its name."""
        return self.name

    @property
    def seen_colour(self) -> str:
        """The colour of its ground as `#rrggbb`; where none was said one of the usual ones, so that cloths differ."""
        return self.colour or UNSAID_COLOURS[(self.pk or 0) % len(UNSAID_COLOURS)]

    @property
    def repeat(self) -> Repeat | None:
        """Where its stripes or motifs stand on the roll; None of a plain one."""
        # measured from the left selvage's edge, as corners are
        first = (self.first_along, self.width - self.first_across)
        return repeat_of(self.pattern, along=self.repeat_along, across=self.repeat_across, first=first)

    def price_breaks(self) -> tuple[PriceBreak, ...]:
        """The lengths from which it costs less. Raises BadInput where the row holds something else."""
        rows = reading.listed(self.breaks, "breaks", most=MOST_BREAKS)
        found = []
        for n, row in enumerate(rows):
            length, price = reading.listed(row, f"breaks[{n}]", least=2, most=2)
            told = reading.number(length, f"breaks[{n}][0]", least=1, most=1e6)
            found.append(PriceBreak(told, Decimal(str(reading.number(price, f"breaks[{n}][1]", least=0, most=1e6)))))
        return tuple(found)


class Remnant(models.Model):
    """A piece of cloth that lies in the store: a remnant, a length, or a hide,
    as it lies with its way up toward x = 0.
    """

    KINDS = [("remnant", "remnant"), ("length", "curtain or other length"), ("hide", "hide")]

    cloth = models.ForeignKey(Cloth, on_delete=models.CASCADE, related_name="remnants")
    kind = models.CharField(max_length=8, choices=KINDS, default="remnant")
    outline = models.JSONField()  # points in mm, x along with the top toward 0, y across
    # outlines of flaws, brands, holes, thin places, in the same frame
    flaws = models.JSONField(default=list, blank=True)
    # where a motif's middle stands, in the same frame; None: not measured
    motif_along = models.FloatField(null=True, blank=True)
    motif_across = models.FloatField(null=True, blank=True)
    words = models.CharField(max_length=80, blank=True)
    came_from = models.ForeignKey(Job, null=True, blank=True, on_delete=models.SET_NULL, related_name="left_overs")
    kept_at = models.DateTimeField(default=timezone.now)
    used_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["id"]

    def shape(self) -> Outline:
        """Its outline. Raises BadInput where the row holds none."""
        return outline_of(reading.listed(self.outline, "outline", least=3, most=MOST_POINTS))

    def marks(self) -> tuple[Outline, ...]:
        """What no piece may touch."""
        return outlines_in(self.flaws, "flaws")

    def repeat(self) -> Repeat | None:
        """Its cloth's repeat with the motif where it stands here; None of a plain cloth,
        and where nobody measured it.
        """
        steps = self.cloth.repeat
        if steps is None or self.motif_along is None or self.motif_across is None:
            return None
        return replace(steps, origin=(self.motif_along, self.motif_across))


def flat_place(_: RemnantPhoto, __: str) -> str:
    """Return where the flat photo of a remnant is kept: outside static, under a new name."""
    return str(Path("remnants") / f"{uuid.uuid4().hex}.jpg")


class RemnantPhoto(FlatPhoto):
    """The flat photo of a piece of cloth.

    The mat's frame turned by `turn_degrees`, then moved by `along`, `across`, is its outline's.
    """

    remnant = models.OneToOneField(Remnant, on_delete=models.CASCADE, related_name="photo")
    file = models.ImageField(upload_to=flat_place)
    turn_degrees = models.PositiveSmallIntegerField()
    along = models.FloatField()
    across = models.FloatField()

    def spot(self, x: float, y: float) -> Point:
        """Return a place of the flat picture, y downward, in the frame of the piece."""
        c, s = turn_of(self.turn_degrees)
        right, up = self.left + x, self.top - y
        return c * right - s * up + self.along, s * right + c * up + self.across

    def on_cloth(self, points: Sequence[Point]) -> Outline:
        """Return an outline of the flat picture, y downward, in the frame of the piece."""
        return outline_of([self.spot(x, y) for x, y in points])

    def in_picture(self, outline: Outline) -> list[Point]:
        """Return an outline of the piece's frame in the flat picture, y downward."""
        back = outline.moved(-self.along, -self.across).turned(-self.turn_degrees)
        return [(x - self.left, self.top - y) for x, y in back.points]


def outlines_in(rows: object, key: str) -> tuple[Outline, ...]:
    """Return the outlines of flaws in a JSON column. Raises BadInput, naming what is wrong."""
    return tuple(
        outline_of(
            reading.listed(points, f"{key}[{n}]", least=3, most=MOST_POINTS), key=f"{key}[{n}]", least_area=LEAST_FLAW
        )
        for n, points in enumerate(reading.listed(rows, key, most=MOST_FLAWS))
    )


@dataclass(frozen=True)
class HeldBlock:
    """Cloth held back for what is not off yet, or is wanted besides: a block of so much along and across, so many
    times, in mm.
    """

    words: str
    along: float
    across: float
    count: int


MOST_HELD = 20


class ClothsOn(models.Manager["JobCloth"]):
    """The cloths that jobs use; one that was taken off keeps its row and its lays, so that it can be put back."""

    def get_queryset(self) -> models.QuerySet[JobCloth]:
        """Leave out what was taken off."""
        return super().get_queryset().filter(put_away_at=None)


class JobCloth(models.Model):
    """A cloth that a job uses, and for what; a lay each."""

    objects = ClothsOn()
    every = models.Manager()

    ROLES = [("main", "main"), ("contrast", "contrast"), ("deck", "deck cloth"), ("other", "other")]

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="cloths")
    cloth = models.ForeignKey(Cloth, on_delete=models.PROTECT)
    role = models.CharField(max_length=8, choices=ROLES, default="main")
    gap = models.FloatField(default=4.0)
    squaring = models.FloatField(default=USUAL["squaring"])
    margin = models.FloatField(default=USUAL["margin"])
    railroaded = models.BooleanField(default=False)
    any_angle = models.BooleanField(default=False)  # vinyl and hide may lie at any angle, where that saves
    follow_on = models.BooleanField(default=False)  # front band and boxing go on from the seat's motif
    flaws = models.JSONField(default=list, blank=True)  # outlines on the roll, in the lay's frame
    held = models.JSONField(default=list, blank=True)  # blocks held back: words, along, across, count
    from_store = models.ManyToManyField(Remnant, blank=True, related_name="taken_for")
    laid_with = models.ForeignKey("self", null=True, blank=True, on_delete=models.SET_NULL, related_name="guests")
    put_away_at = models.DateTimeField(null=True, blank=True, editable=False)  # when it was taken off its job
    # of one taken off: its panels, pieces from the store, the trim
    was_for = models.JSONField(default=dict, blank=True, editable=False)
    # fingerprint of the lay it wants now; empty: work it out
    wanted_fingerprint = models.CharField(max_length=40, blank=True, editable=False)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["job", "cloth"], name="cloth_once_a_job")]

    def roll_flaws(self) -> tuple[Outline, ...]:
        """The flaws marked on the roll. Raises BadInput where the row holds something else."""
        return outlines_in(self.flaws, "flaws")

    def held_blocks(self) -> tuple[HeldBlock, ...]:
        """The blocks held back. Raises BadInput where the row holds something else."""
        found = []
        for n, row in enumerate(reading.listed(self.held, "held", most=MOST_HELD)):
            told, key = reading.table(row, f"held[{n}]"), f"held[{n}]."
            along, across = (
                reading.number(told.get(side), key + side, least=20, most=20_000) for side in ("along", "across")
            )
            words = reading.text(told.get("words"), key + "words", most=60)
            found.append(
                HeldBlock(words, along, across, reading.whole(told.get("count"), key + "count", least=1, most=60))
            )
        return tuple(found)


class LayRun(models.Model):
    """One search for a lay: what was asked, how far it is, the best so far."""

    STATES = [
        ("waiting", "waiting"),
        ("running", "running"),
        ("done", "done"),
        ("stopped", "stopped"),
        ("failed", "failed"),
    ]
    OPEN = ("waiting", "running")

    job_cloth = models.ForeignKey(JobCloth, on_delete=models.CASCADE, related_name="runs")
    state = models.CharField(max_length=8, choices=STATES, default="waiting")
    request: models.JSONField[Any, Any] = models.JSONField()
    fingerprint = models.CharField(max_length=40)
    seconds = models.FloatField()
    seed = models.PositiveIntegerField()
    version = models.CharField(max_length=20)
    best: models.JSONField[Any, Any] = models.JSONField(null=True)
    best_length = models.FloatField(null=True)
    first_length = models.FloatField(null=True)
    # how good the best is, the less the better: its length, on panels what finds no room
    rank = models.FloatField(default=0.0)
    row_lay = models.JSONField(null=True)  # the lay in rows that it began with, easy to cut
    improvements = models.PositiveIntegerField(default=0)
    progress = models.FloatField(default=0.0)
    stop_asked = models.BooleanField(default=False)
    rest_kept = models.BooleanField(default=False)  # what it left over has been put into the store
    # laid by hand, or round pieces pinned by hand: stands though another is shorter
    is_chosen = models.BooleanField(default=False)
    words = models.CharField(max_length=300, blank=True)
    asked_by = models.CharField(max_length=60, blank=True, default=who, editable=False)
    asked_at = models.DateTimeField(default=timezone.now)
    beat_at = models.DateTimeField(default=timezone.now)
    ended_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-id"]

    @property
    def is_open(self) -> bool:
        """Whether it still waits or searches, as far as the row says."""
        return self.state in self.OPEN

    @property
    def is_silent(self) -> bool:
        """Whether its worker has not been heard of for too long: killed, or not started; not while it prepares the
        search.
        """
        patience = SILENT_AFTER if self.state == "running" else WAITING_LONGEST
        return self.is_open and is_prepared() and timezone.now() - self.beat_at > patience

    @property
    def is_moving(self) -> bool:
        """Whether the page should go on looking."""
        return self.is_open and not self.is_silent

    @property
    def on_panels(self) -> bool:
        """Whether it is laid on pieces of cloth from the store."""
        return bool(self.best_length == 0.0)

    def lay(self) -> Lay:
        """Return the best lay, through the same reader that reads files."""
        return read_lay(self.best)

    def asked(self) -> LayRequest:
        """Return what was asked."""
        return read_request(self.request)


class CutTick(models.Model):
    """A piece that has been cut, on the sheet of one run."""

    run = models.ForeignKey(LayRun, on_delete=models.CASCADE, related_name="ticks")
    key = models.CharField(max_length=60)
    is_strip = models.BooleanField(default=False)
    cut_by = models.CharField(max_length=60, blank=True, default=who, editable=False)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["run", "key"], name="tick_once")]


class ClothTrial(models.Model):
    """The same pieces on another cloth of the store, laid to compare: its length so far, or why it is not offered."""

    STATES = [
        ("waiting", "waiting"),
        ("running", "being laid"),
        ("done", "laid"),
        ("refused", "not offered"),
        ("failed", "broke off"),
    ]
    OPEN = ("waiting", "running")

    job_cloth = models.ForeignKey(JobCloth, on_delete=models.CASCADE, related_name="trials")
    cloth = models.ForeignKey(Cloth, on_delete=models.CASCADE)
    state = models.CharField(max_length=8, choices=STATES, default="waiting")
    request: models.JSONField[Any, Any] = models.JSONField(null=True)
    fingerprint = models.CharField(max_length=40, blank=True)
    seconds = models.FloatField(default=0.0)
    length = models.FloatField(null=True)
    used = models.FloatField(null=True)
    words = models.CharField(max_length=300, blank=True)
    beat_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["job_cloth", "cloth"], name="trial_once_a_cloth")]

    @property
    def is_moving(self) -> bool:
        """Whether it is still being laid, or waits its turn, and its worker has been heard of."""
        return self.state in self.OPEN and (timezone.now() - self.beat_at < WAITING_LONGEST or not is_prepared())


class ClothOrder(models.Model):
    """A length that was ordered from the seller."""

    job_cloth = models.ForeignKey(JobCloth, on_delete=models.CASCADE, related_name="orders")
    number = models.CharField(max_length=40)
    lot = models.CharField(max_length=30)
    length = models.FloatField()
    cost = models.DecimalField(max_digits=10, decimal_places=2)
    arrives = models.DateField(null=True)
    asked_at = models.DateTimeField(default=timezone.now)
    came_at = models.DateTimeField(null=True)
    came_length = models.FloatField(null=True)  # as measured when it came

    class Meta:
        ordering = ["-id"]


class HandLay(models.Model):
    """A lay under the hand, kept at every move; nothing is lost when the page is closed."""

    job_cloth = models.OneToOneField(JobCloth, on_delete=models.CASCADE, related_name="hand_lay")
    fingerprint = models.CharField(max_length=40)
    placements = models.JSONField()
    pinned = models.JSONField(default=list)
    past = models.JSONField(default=list)
