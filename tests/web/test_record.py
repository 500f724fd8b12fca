"""The record: found by words and boxes, true after every change; the log and quotes as tables."""

from __future__ import annotations

import csv
import io
from datetime import timedelta

import pytest
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from django.utils import timezone

from tests.web.conftest import PageClient
from zonatome.core.errors import BadInput
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job, JobPart, Photo
from zonatome.web.jobs.services import hang_tag
from zonatome.web.rack.clock import SHOWN
from zonatome.web.record.search import FOUND, Asked, look_up, words_asked
from zonatome.web.shop.models import SentQuote, StepTook, TimeEntry
from zonatome.web.strip.models import Bag


def found(words: str = "", **more) -> list[tuple[int, str]]:
    return [(row.number, row.part_key) for row in look_up(Asked(words, **more))[0]]


@pytest.fixture
def wing(workroom):
    job = hang_tag(title="Fireside chair", client="Oriel House", kind="wing")
    told = {"fixing": "blind stitches", "note": "corner folded like a parcel", "off_at": timezone.now()}
    JobPart.objects.filter(job=job, key="outside_back").update(**told)
    return load_job(job.number)


def test_words_find_what_was_recorded_whatever_their_ending(bench, wing):
    number = wing.number
    assert (number, "outside_back") in found("fold corners")
    assert (number, "outside_back") in found("wing outside back parc")  # the last word may go on
    assert found("parcels of gold") == []
    assert (number, "") in found("oriel")
    Bag.objects.create(job=wing, number=1, contents="eight brass screws", came_from="left arm")
    assert (number, "") in found("brass screw")
    part = wing.parts_by_key()["seat"]
    photo = Photo.objects.create(job=wing, when="strip", part=part, words="knot of the button twine", file="1/a.jpg")
    assert (number, "seat") in found("twine knots")
    assert (number, "seat") in found("twine", with_photos=True)
    photo.delete()
    assert found("twine knots") == []
    JobPart.objects.filter(pk=part.pk).update(note="old horsehair")  # past the models, by the store alone
    assert found("horsehair") == [(number, "seat")]
    JobPart.objects.filter(pk=part.pk).update(note="")
    assert found("horsehair") == []
    Job.objects.filter(pk=wing.pk).update(taken_down_at=timezone.now())
    assert found("corner") == []
    Job.every.filter(pk=wing.pk).delete()
    assert found("oriel") == []


def test_boxes_narrow_it_and_the_page_says_where(bench, wing, stool, strip_all):
    strip_all(stool)
    number = wing.number
    JobPart.objects.filter(job=wing, key="outside_back").update(fixings=["tack strip"])
    assert found(kind="wing", fixing="tack strip") == [(number, "outside_back")]
    assert found("tack", kind="square_stool") == []
    assert {n for n, _ in found(kind="square_stool")} == {stool.number}
    assert {key for _, key in found(panel="seat")} == {"seat"}
    today = timezone.localdate()
    assert found("parcel", since=today, until=today) == [(number, "outside_back")]
    assert found("parcel", until=today - timedelta(days=1)) == []
    page = bench.get("/record/?q=parcel").content.decode()
    assert "<mark>parcel</mark>" in page
    assert f"/tags/{number}/strip/look/outside_back/" in page
    assert "How was that done?" in bench.get("/record/").content.decode()
    odd_ones = ("?q=%22%27%29%28*", "?q=AND+OR+NOT", "?page=999&q=x", "?page=-1", "?page=x", "?q=%F0%9F%AA%91")
    for odd in odd_ones:
        assert bench.get(f"/record/{odd}").status_code == 200
    for wrong in ("?q=%00", "?since=x", "?kind=boat", "?q=" + "+a" * 13, "?q=" + "a" * 121):
        assert bench.get(f"/record/{wrong}").status_code == 422
    with pytest.raises(BadInput):
        words_asked("a " * 20)
    note = "<script>alert(1)</script> fold"
    JobPart.objects.filter(job=wing, key="outside_back").update(note=note)
    assert "<script>alert" not in bench.get("/record/?q=fold").content.decode()


def test_the_log_and_the_quotes_are_tables(bench, wing):
    began = timezone.now() - timedelta(minutes=30)
    TimeEntry.objects.create(job=wing, step="strip", by="=cmd()", began=began, ended=timezone.now())
    rows = list(csv.DictReader(io.StringIO(bench.get("/record/log.csv").content.decode())))
    assert (rows[0]["tag"], rows[0]["step"], rows[0]["minutes"]) == (str(wing.number), "strip", "30.0")
    assert rows[0]["by"] == "'=cmd()"  # a spreadsheet is told that it is text
    bench.post(f"/tags/{wing.number}/money/quote/send/", {})
    rows = list(csv.DictReader(io.StringIO(bench.get("/record/quotes.csv").content.decode())))
    assert rows[0]["total"] == SentQuote.objects.get().options["options"][0]["figures"]["total"]
    helper = PageClient()
    helper.force_login(User.objects.create_user("tomas", password="quayside"))
    assert helper.get("/record/quotes.csv").status_code == 403
    assert helper.get("/record/log.csv").status_code == 200


def test_own_rates_of_what_is_counted_in_metres_are_a_yard_s_in_inches(bench, workroom):
    """By hand: welt at 8 minutes a metre, twice the trade's four, takes 7.32 a yard of 0.9144 m, for 3.66."""
    type(workroom).objects.update(units="imperial")
    for n in range(1, 5):
        job = hang_tag(title=f"Stool {n}", client="x", kind="square_stool")
        amounts = {"furniture": 1, "once": {}, "each": {"welt_made": n}}
        StepTook.objects.create(job=job, step="trim", foreseen=4 * n, took=8 * n, is_done=True, amounts=amounts)
    page = bench.get(f"/tags/{job.number}/log/").content.decode()
    assert "Welt made, a yard" in page
    assert "7.32 min" in page
    assert ">3.66<" in page
    assert "metre" not in page


def test_own_rates_are_shown_and_taken_as_the_workroom_s(bench, workroom):
    """Four tags on which a panel took twice the trade's twelve minutes, and a corner twice its four."""
    for n in range(1, 5):
        job = hang_tag(title=f"Chair {n}", client="x", kind="ottoman")
        amounts = {"furniture": 1, "once": {}, "each": {"panel": n, "corner": 2 * n}}
        StepTook.objects.create(job=job, step="fasten", foreseen=20 * n, took=40 * n, is_done=True, amounts=amounts)
    page = bench.get(f"/tags/{job.number}/log/").content.decode()
    assert "Your own rates" in page
    assert "Panels set, centred, pulled" in page
    assert bench.post(f"/tags/{job.number}/log/rates/").status_code == 302
    workroom.refresh_from_db()
    assert workroom.rules["minutes_panel"] == pytest.approx(24, rel=0.05)
    assert workroom.rules["minutes_corner"] == pytest.approx(8, rel=0.05)
    assert {round(t.foreseen / t.took, 1) for t in StepTook.objects.all()} == {1.0}  # foreseen by the new rates
    assert workroom.own_times["fasten"][0] == pytest.approx(1, abs=0.05)  # so the step's own pace counts nothing twice
    plot = bench.get(f"/tags/{job.number}/log/took.svg")
    assert plot["Content-Type"] == "image/svg+xml"
    helper = PageClient()
    helper.force_login(User.objects.create_user("tomas", password="quayside"))
    assert helper.post(f"/tags/{job.number}/log/rates/").status_code == 403


def test_the_index_stands_after_a_migration_a_zip_and_a_copy(bench, wing):
    number = wing.number
    content = b"".join(bench.get(f"/tags/{number}/tag.zip").streaming_content)
    call_command("migrate", verbosity=0, interactive=False)
    assert (number, "outside_back") in found("parcel")
    assert bench.post("/tags/bring-in/", {"file": SimpleUploadedFile("tag.zip", content)}).status_code == 302
    both = {n for n, key in found("parcel") if key == "outside_back"}
    assert both == {number, Job.objects.exclude(pk=wing.pk).get().number}
    bench.post(f"/tags/{number}/copy/")
    assert len({n for n, _ in found("oriel")}) == 3  # a copy is the beginning of a new one, found by its client
    assert {n for n, _ in found("parcel")} == both  # its record is its own


def test_many_rows_come_a_page_at_a_time_and_none_twice(bench, workroom):
    for n in range(9):
        hang_tag(title=f"Chair {n}", client="x", kind="wing")
    seen: list[tuple[int, str]] = []
    page, more = 1, True
    while more:
        rows, more = look_up(Asked("wing"), page=page)
        seen += [(row.number, row.part_key) for row in rows]
        assert len(rows) == FOUND or not more
        page += 1
    assert len(seen) == len(set(seen)) == JobPart.objects.count() + 9
    first = bench.get("/record/?q=wing").content.decode()
    assert 'href="?q=wing&amp;page=2"' in first
    assert "Before" not in first
    assert 'href="?q=wing&amp;page=1"' in bench.get("/record/?q=wing&page=2").content.decode()


def test_the_log_comes_a_page_at_a_time_with_its_plot(bench, wing):
    began = timezone.now() - timedelta(days=1)
    TimeEntry.objects.bulk_create(
        TimeEntry(job=wing, step="pad", by="ines", began=began, ended=began + timedelta(minutes=n + 1))
        for n in range(SHOWN + 5)
    )
    page = bench.get(f"/tags/{wing.number}/log/").content.decode()
    assert page.count("It took so long") == SHOWN
    assert 'href="?page=2"' in page
    assert bench.get(f"/tags/{wing.number}/log/?page=2").content.decode().count("It took so long") == 5
    assert bench.get(f"/tags/{wing.number}/log/?page=x").status_code == 200
    rows = list(csv.DictReader(io.StringIO(bench.get("/record/log.csv").content.decode())))
    assert sum(float(row["minutes"]) for row in rows) == sum(range(1, SHOWN + 6))
