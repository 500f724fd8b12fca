"""What goes wrong under the workroom: values that no page can show, a full disk, tags taken down, copies and their
return.
"""

from __future__ import annotations

import errno
import io
import json
import random
import sqlite3
import zipfile
from contextlib import closing
from datetime import timedelta
from pathlib import Path

import pytest
from django.core.files.storage import FileSystemStorage
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import OperationalError
from django.utils import timezone

from tests.web.conftest import block, pad
from zonatome.core.errors import BadInput, NoAnswer
from zonatome.core.formats.job_zip import read_job_zip, write_job_zip
from zonatome.web.base import backup
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job, JobPart, Photo, Workroom
from zonatome.web.jobs.services import hang_tag
from zonatome.web.lay.models import JobCloth
from zonatome.web.lay.services import add_cloth, start_lay
from zonatome.web.rack.archive import job_zip
from zonatome.web.rack.rooms import rooms_of
from zonatome.web.rack.tags import KEPT_DAYS, let_go_for_good
from zonatome.web.strip.services import set_bag


@pytest.fixture
def laid(bench, stool, skerry, strip_all) -> Job:
    """Four stools: off, with a board, a pad, a shape, staples, a cloth and its lay."""
    strip_all(stool)
    block(bench, stool)
    pad(bench, stool)
    add_cloth(load_job(stool.number), skerry, "main")
    start_lay(JobCloth.objects.get(job=stool))
    set_bag(load_job(stool.number), None, contents="8 screws", came_from="legs")
    return load_job(stool.number)


def brought_in(bench, document, files):
    content = write_job_zip(document, files)
    return bench.post("/tags/bring-in/", {"file": SimpleUploadedFile("tag.zip", content, "application/zip")})


ODD = (
    None,
    True,
    -1,
    0,
    0.5,
    250,
    10**9,
    1e30,
    1e308,
    "",
    "x",
    "-1",
    "9" * 400,
    [],
    [1],
    {},
    {"a": 1},
    "2026-13-45",
    10**400,
)


def odd_places(data, path=()):
    """Every place in a document."""
    rows = data.items() if isinstance(data, dict) else enumerate(data) if isinstance(data, list) else ()
    for key, value in rows:
        yield (*path, key)
        yield from odd_places(value, (*path, key))


def changed(document, path, value):
    made = json.loads(json.dumps(document))
    at = made
    for key in path[:-1]:
        at = at[key]
    at[path[-1]] = value
    return made


def test_tags_with_any_value_changed_are_refused_in_words_or_every_room_opens(bench, laid):
    document, files = read_job_zip(io.BytesIO(job_zip(laid.number)))
    places = [
        p for p in odd_places(document) if not (p[0] == "parts" and len(p) > 4)
    ]  # points of outlines have a reader of their own
    told = random.Random(14)
    known = [
        ("parts", 0, "pitch_found", 250),
        ("parts", 0, "pitch_found", 1),
        ("parts", 0, "pitch_found", True),
        ("parts", 0, "pitch_found", 1e30),
        ("parts", 0, "board_back", 0.5),
        ("parts", 0, "board_thickness", 1e30),
        ("parts", 0, "staple_order", "-1"),
        ("parts", 0, "stack", {"format": "zonatome.stack", "version": 1, "layers": [{"sort": "foam"}]}),
        ("parts", 0, "stack", {"layers": 3}),
        ("cloths", 0, "cloth", "thickness", 1e308),
        ("cloths", 0, "cloth", "thickness", -3),
        ("lays", 0, "best_length", 1e308),
        ("lays", 0, "best_length", 0),
        ("job", "count", "4"),
        ("job", "furniture_past", [{}]),
        ("job", "restyled", [1]),
        ("job", "own", {}),
    ]
    taken = refused = 0
    for *path, value in [*known, *((*told.choice(places), told.choice(ODD)) for _ in range(24))]:
        if len(path) > 2 and path[0] == "parts":
            path[1] = (
                next(n for n, p in enumerate(document["parts"]) if p["key"] == "seat") if path[1] == 0 else path[1]
            )
        answer = brought_in(bench, changed(document, path, value), files)
        if answer.status_code == 422:
            refused += 1
            assert "Nothing" in answer.content.decode() or "expected" in answer.content.decode(), (path, value)
            continue
        assert answer.status_code == 302, (path, value, answer.content.decode()[:300])
        taken += 1
        number = int(answer["Location"].split("/")[2])
        for room in rooms_of(load_job(number)):
            assert bench.get(room).status_code in (200, 302), (path, value, room)
        assert bench.get("/").status_code == 200, (path, value)
        Job.objects.filter(number=number).delete()
    assert taken > 3
    assert refused > 10


@pytest.mark.parametrize("refused", [BadInput("width", 9, "12.7 mm to 254 mm"), NoAnswer("no strip is 254 mm wide")])
def test_what_a_page_forgets_to_refuse_is_said_in_words_all_the_same(bench, stool, monkeypatch, refused):
    def refuse(*_, **__):
        raise refused

    Workroom.objects.update(units="imperial")
    monkeypatch.setattr("zonatome.web.finish.views.job_page", refuse)
    page = bench.get(f"/tags/{stool.number}/finish/")
    assert page.status_code == 422
    assert "10 in" in page.content.decode()
    assert " mm" not in page.content.decode()
    quiet = bench.get(f"/tags/{stool.number}/finish/", headers={"X-Quiet": "1"})
    assert quiet.status_code == 422
    assert "10 in" in quiet.json()["words"]


def test_one_damaged_tag_keeps_nobody_from_the_others_and_can_be_taken_along_mended_or_taken_down(bench, laid):
    other = hang_tag(title="Sound", client="Inn", kind="ottoman")
    row = laid.parts_by_key()["seat"]
    JobPart.objects.filter(pk=row.pk).update(shape={"outline": "gone"})
    Job.objects.all().forget_kept()
    bench.raise_request_exception = False
    rack = bench.get("/")
    assert rack.status_code == 200
    page = rack.content.decode()
    assert "damaged" in page
    assert "Sound" in page
    broken = bench.get(f"/tags/{laid.number}/strip/")
    assert broken.status_code == 500
    words = broken.content.decode()
    assert f"{laid.number} Stools" in words
    for way in ("Take it along", "Take it down", "Survey"):
        assert way in words
    along = bench.get(f"/tags/{laid.number}/tag.zip")
    assert along.status_code == 200
    assert "job.json" in zipfile.ZipFile(io.BytesIO(b"".join(along.streaming_content))).namelist()
    assert bench.get(f"/tags/{other.number}/strip/").status_code == 200
    bench.post(f"/tags/{laid.number}/take-down/")
    assert "damaged" not in bench.get("/").content.decode()
    assert brought_in(bench, *read_job_zip(io.BytesIO(job_zip(other.number)))).status_code == 302


def test_what_is_taken_down_hangs_again_as_it_was_for_thirty_days_and_then_goes_with_its_files(
    bench, laid, jpeg, settings
):
    bench.post(f"/tags/{laid.number}/survey/photo/", {"photo": jpeg(), "words": "front"})
    photo = Photo.objects.get(job=laid)
    before = json.loads(zipfile.ZipFile(io.BytesIO(job_zip(laid.number))).read("job.json"))
    answer = bench.post(f"/tags/{laid.number}/take-down/", follow=True)
    assert "can be hung up again" in answer.content.decode()
    assert bench.get(f"/tags/{laid.number}/strip/").status_code == 404
    assert f">{laid.number}<" not in bench.get("/").content.decode()
    assert "1 taken down" in bench.get("/").content.decode()
    made = bench.post("/tags/new/", {"title": "New", "client": "C", "kind": "ottoman", "count": "1"})
    assert made.status_code == 302
    assert Job.objects.get(title="New").number > laid.number, "its number is not given away"
    bench.post(f"/tags/{laid.number}/hang-again/")
    after = json.loads(zipfile.ZipFile(io.BytesIO(job_zip(laid.number))).read("job.json"))
    del before["lays"][0]["state"], after["lays"][0]["state"]  # its search was ended
    before["lays"][0].pop("ended_at"), after["lays"][0].pop("ended_at")
    before["lays"][0].pop("stop_asked", None), after["lays"][0].pop("stop_asked", None)
    assert after == before
    bench.post(f"/tags/{laid.number}/take-down/")
    Job.every.filter(pk=laid.pk).update(taken_down_at=timezone.now() - timedelta(days=KEPT_DAYS - 1))
    assert let_go_for_good() == 0
    Job.every.filter(pk=laid.pk).update(taken_down_at=timezone.now() - timedelta(days=KEPT_DAYS + 1))
    assert let_go_for_good() == 1
    assert not Job.every.filter(pk=laid.pk).exists()
    assert not photo.path.exists()
    assert bench.post(f"/tags/{laid.number}/hang-again/").status_code == 404


def test_a_tag_goes_for_good_only_when_that_is_said(bench, stool):
    bench.post(f"/tags/{stool.number}/take-down/")
    asked = bench.post(f"/tags/{stool.number}/let-go/")
    assert asked.status_code == 422
    assert "nothing brings it back" in asked.content.decode()
    assert bench.post(f"/tags/{stool.number}/let-go/", {"sure": "yes"}).status_code == 302
    assert not Job.every.filter(pk=stool.pk).exists()


@pytest.mark.parametrize(
    ("wrong", "status", "words"),
    [
        pytest.param(OperationalError("database or disk is full"), 507, "The disk is full", id="no room for the store"),
        pytest.param(
            OSError(errno.ENOSPC, "No space left on device"), 507, "The disk is full", id="no room for a photo"
        ),
        pytest.param(
            OperationalError("attempt to write a readonly database"), 503, "can be read, not written to", id="read-only"
        ),
        pytest.param(OperationalError("database is locked"), 503, "Close it", id="held by another program"),
        pytest.param(ValueError("a fault"), 500, "The fault is ours", id="anything else"),
    ],
)
def test_what_the_machine_lacks_is_said_in_words_and_nothing_is_left_half_way(
    bench, stool, jpeg, monkeypatch, settings, wrong, status, words
):
    def fails(self, name, content, **more):
        (Path(settings.MEDIA_ROOT) / "1").mkdir(parents=True, exist_ok=True)
        Path(self.path(name)).parent.mkdir(parents=True, exist_ok=True)
        Path(self.path(name)).write_bytes(b"half")
        raise wrong

    monkeypatch.setattr(FileSystemStorage, "_save", fails)
    bench.raise_request_exception = False
    answer = bench.post(f"/tags/{stool.number}/survey/photo/", {"photo": jpeg()})
    assert answer.status_code == status
    assert words in answer.content.decode()
    assert not Photo.objects.exists()
    assert not [p for p in Path(settings.MEDIA_ROOT).rglob("*") if p.is_file()]


def asked_of(home, question):
    """What a store answers; it is closed at once, so that it leaves nothing beside it."""
    with closing(sqlite3.connect(home / "workroom.sqlite3")) as store:
        return store.execute(question).fetchall()


def test_the_whole_workroom_comes_back_from_a_backup_photos_included(tmp_path, settings, jpeg):
    home = tmp_path / "home"
    settings.HOME, settings.MEDIA_ROOT = home, home / "photos"
    (home / "photos" / "7").mkdir(parents=True)
    (home / "photos" / "7" / "chair.jpg").write_bytes(jpeg().read())
    (home / "secret-key").write_text("key")
    store = sqlite3.connect(home / "workroom.sqlite3")
    store.executescript(
        "PRAGMA journal_mode=WAL; CREATE TABLE jobs_job (n INTEGER); INSERT INTO jobs_job VALUES (118);"
    )
    store.commit()
    made = backup.write_backup(tmp_path / "out" / "copy.zip")  # while it is open
    assert made.stat().st_mode & 0o077 == 0
    store.execute("INSERT INTO jobs_job VALUES (119)")
    store.commit()
    store.close()
    (home / "photos" / "7" / "chair.jpg").unlink()
    (home / "photos" / "late.jpg").write_bytes(b"late")
    aside = backup.restore_backup(made)
    assert asked_of(home, "SELECT n FROM jobs_job") == [(118,)]
    assert (home / "photos" / "7" / "chair.jpg").read_bytes() == jpeg().read()
    assert not (home / "photos" / "late.jpg").exists()
    assert asked_of(aside, "SELECT count(*) FROM jobs_job") == [(2,)], "nothing is thrown away"
    assert (aside / "photos" / "late.jpg").exists()
    content = made.read_bytes()
    there = sorted(p.name for p in home.rglob("*"))
    with zipfile.ZipFile(made) as archive:
        parts = {n: archive.read(n) for n in archive.namelist()}
    spoilt = {
        "cut short": content[:-200],
        "no ZIP": b"a photo",
        "a flipped byte": content[:600] + bytes([content[600] ^ 255]) + content[601:],
        "another photo": zipped({**parts, "photos/7/chair.jpg": b"another"}),
        "a torn store": zipped(summed({**parts, backup.STORE: parts[backup.STORE][:4096] + b"\0" * 4096})),
        "out of the folder": zipped(summed({**parts, "../evil": b"x"})),
        "of a later version": zipped(
            {**parts, backup.LIST: parts[backup.LIST].replace(b'"version": 1', b'"version": 2')}
        ),
    }
    for why, wrong in spoilt.items():
        (tmp_path / "wrong.zip").write_bytes(wrong)
        with pytest.raises(BadInput):
            backup.restore_backup(tmp_path / "wrong.zip")
        assert sorted(p.name for p in home.rglob("*")) == there, why


def zipped(parts):
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w") as archive:
        for name, content in parts.items():
            archive.writestr(name, content)
    return made.getvalue()


def summed(parts):
    said = json.loads(parts[backup.LIST])
    said["sums"] = {n: backup.hashlib.sha256(c).hexdigest() for n, c in parts.items() if n != backup.LIST}
    return {**parts, backup.LIST: json.dumps(said).encode()}


def test_a_copy_a_day_is_kept_fourteen_days_and_what_goes_wrong_is_said(
    workroom, tmp_path, settings, monkeypatch, bench
):
    settings.HOME = tmp_path
    for day in range(1, 20):
        (tmp_path / "backups").mkdir(exist_ok=True)
        (tmp_path / "backups" / f"daily-2026-10-{day:02d}.zip").write_bytes(b"old")
    monkeypatch.setattr(backup, "write_backup", lambda to: to.write_bytes(b"today") and to)
    backup.keep_copy_of_the_day()
    kept = backup.daily_copies()
    assert len(kept) == backup.DAILY_KEPT
    assert kept[0].read_bytes() == b"today"
    assert kept[-1].name == "daily-2026-10-07.zip"
    kept[0].unlink()

    def full(to):
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(backup, "write_backup", full)
    backup.keep_copy_of_the_day()
    page = bench.get("/workroom/").content.decode()
    assert "No space left" in page
    assert Workroom.objects.exists()
