"""A workroom in the test store, a client that is signed in, and files to send."""

from __future__ import annotations

import io
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import date, datetime, time
from functools import cache

import pytest
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.test import Client
from django.utils import timezone
from PIL import Image

from zonatome.core.pad.stack import Layer, Stack
from zonatome.core.strip.order import usual_order
from zonatome.core.trace.take_up import taken_up
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job, Workroom
from zonatome.web.jobs.services import hang_tag
from zonatome.web.lay.models import Cloth
from zonatome.web.record.search import forget, prepare
from zonatome.web.strip.services import take_off

traced_once = cache(taken_up)  # the same photo on the same mat has the same outline; in this process, not apart


@pytest.fixture(autouse=True)
def _plain(settings, tmp_path, monkeypatch):
    """Photos go to a folder of the test's own; tasks are stored and not run, as when the worker is busy; a photo is
    traced once.
    """
    for room in ("zonatome.web.trace.services", "zonatome.web.lay.views.remnant_photo"):
        monkeypatch.setattr(f"{room}.taken_up_apart", traced_once)
    settings.MEDIA_ROOT = tmp_path / "photos"
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
    settings.ALLOWED_HOSTS = ["testserver"]


@pytest.fixture
def clock(monkeypatch):
    """A clock that stands still, at noon of a day where no hour is said, for all that asks Django for the time."""

    def stand_at(day: date, at: time = time(12)) -> None:
        moment = datetime.combine(day, at, tzinfo=timezone.get_current_timezone())
        monkeypatch.setattr(timezone, "now", lambda: moment)

    return stand_at


@pytest.fixture
def workroom(db) -> Workroom:
    return Workroom.the_one()


@contextmanager
def another_version() -> Iterator[None]:
    """Migrate to another version and back, as `migrate` does it: without the record's index meanwhile."""
    forget()
    try:
        yield
    finally:  # the other tests find the store as it is today
        executor = MigrationExecutor(connection)
        executor.migrate(executor.loader.graph.leaf_nodes())
        prepare()


class PageClient(Client):
    """Gives pages with each run of white space as one space: where a template breaks its lines means nothing."""

    def request(self, **request):
        answer = super().request(**request)
        if answer.get("Content-Type", "").startswith("text/html") and not answer.streaming:
            answer.content = b" ".join(answer.content.split())
        return answer


@pytest.fixture
def client() -> PageClient:
    return PageClient()


@pytest.fixture
def bench(client, workroom):
    """A client that is signed in."""
    client.force_login(User.objects.create_user("ines", password="quayside", is_staff=True))
    return client


@pytest.fixture
def stool(workroom) -> Job:
    """Four square stools, nothing done yet."""
    return load_job(hang_tag(title="Stools", client="Harbour Reading Room", kind="square_stool", count=4).number)


@pytest.fixture
def skerry(db) -> Cloth:
    return Cloth.objects.create(
        name="Skerry", width=1400, selvage=12, direction="two_way", price="34.50", sold_by="half"
    )


@pytest.fixture
def strip_all():
    def strip(job: Job) -> None:
        for key in usual_order(job.kind):
            if key not in load_job(job.number).off_keys:
                take_off(load_job(job.number), key, fixing="staples", note="")

    return strip


@pytest.fixture
def jpeg():
    def make(width=60, height=40, *, orientation=None, kind="JPEG", name="chair.jpg") -> SimpleUploadedFile:
        picture = Image.new("RGB", (width, height), "tan")
        exif = Image.Exif()
        if orientation:
            exif[0x0112] = orientation
            exif[0x010F] = "Maker of cameras"
            exif.get_ifd(0x8825)[2] = (51.0, 28.0, 0.0)
        content = io.BytesIO()
        picture.save(content, kind, exif=exif)
        return SimpleUploadedFile(name, content.getvalue(), content_type="image/jpeg")

    return make


def block(bench, job: Job, **more):
    """Send the block of a stool's seat as typed measures."""
    measures = {
        "board_width": "14 1/2 in",
        "board_depth": "38 cm",
        "board_thickness": "18",
        "pad": "45",
        "wrap": "50",
        **more,
    }
    return bench.post(f"/tags/{job.number}/trace/seat/make/block/", measures)


def pad(bench, job: Job, key: str = "seat", *, foam="40", wadding="10", follow=False, **more):
    """Send a pad of foam and wadding as it is typed."""
    typed = {"layer0-sort": "foam", "layer0-thickness": foam, "layer1-sort": "wadding", "layer1-thickness": wadding}
    return bench.post(f"/tags/{job.number}/pad/{key}/change/", {**typed, "act": "keep", **more}, follow=follow)


def padded_with(foam: float, wadding: float = 10, *, rail: float = 0.0, under: tuple[Layer, ...] = ()) -> Stack:
    """A stack of foam and wadding."""
    soft = (Layer("foam", foam), *((Layer("wadding", wadding),) if wadding else ()))
    return Stack((*under, *soft), rail=rail)


def found(bench, job: Job, *keys: str, **more):
    """Send what was found, layer by layer."""
    answer = None
    for layer in dict.fromkeys(k.split("_")[0] for k in keys):
        sent = {"layer": layer, "finding": [k for k in keys if k.startswith(layer)], **more}
        answer = bench.post(f"/tags/{job.number}/survey/find/", sent)
    return answer
