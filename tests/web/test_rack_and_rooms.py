"""The rack, new tags, the eight rooms of every kind, units, sign-in and headers."""

from __future__ import annotations

import html
import re
from collections import Counter
from datetime import timedelta
from functools import cache
from urllib.parse import urljoin

import pytest
from axes.models import AccessAttempt
from django.contrib.auth.models import User
from django.utils import timezone

from tests.web.conftest import block
from zonatome.core.survey.kinds import KINDS
from zonatome.web.demo import making, sample
from zonatome.web.demo.sample import NAME, PASSWORD, load_sample
from zonatome.web.jobs.models import Job, Wait, Workroom
from zonatome.web.jobs.services import hang_tag
from zonatome.web.lay.services import add_cloth
from zonatome.web.trace.models import CoverPhoto

ROOMS = ["survey", "strip", "trace", "lay", "pad", "fasten", "trim", "finish", "money"]


def test_an_empty_rail_says_what_to_do_first(bench):
    page = bench.get("/").content.decode()
    assert "The rail is empty" in page
    assert "Hang up a tag" in page


def test_the_nearest_due_hangs_first_and_each_tag_says_its_next_move(bench):
    today = timezone.localdate()
    for title, days in (("Later", 30), ("Soon", 2), ("Undated", None)):
        hang_tag(
            title=title,
            client="Oriel House",
            kind="round_stool",
            due=None if days is None else today + timedelta(days=days),
        )
    page = bench.get("/").content.decode()
    assert page.index("Soon") < page.index("Later") < page.index("Undated")
    assert page.count("<b>Survey</b>: 4 of 4 layers to look at") == 3


def test_a_tag_is_found_by_number_name_client_or_wish(bench):
    hang_tag(title="Wing chair", client="Oriel House", kind="wing", wish="softer cushion", number=240)
    hang_tag(title="Stool", client="Playhouse", kind="round_stool", number=118)
    for wanted in ("240", "wing", "oriel", "softer"):
        page = bench.get("/", {"q": wanted}).content.decode()
        assert "Wing chair" in page
        assert "Playhouse" not in page
    assert "No tag says that" in bench.get("/", {"q": "zebra"}).content.decode()


def test_a_late_tag_and_a_waiting_one_say_so(bench):
    late = hang_tag(title="Late", client="x", kind="round_stool", due=timezone.localdate() - timedelta(days=1))
    Wait.objects.create(job=late, step="pad", words="foam glue sets", until=timezone.now() + timedelta(hours=3))
    page = bench.get("/").content.decode()
    assert "late, " in page
    assert "foam glue sets" in page


def test_the_rack_takes_a_fixed_number_of_queries(bench, django_assert_max_num_queries, skerry, stool, strip_all):
    def count(pages: int) -> int:
        from django.db import connection
        from django.test.utils import CaptureQueriesContext

        with CaptureQueriesContext(connection) as caught:
            assert bench.get("/").status_code == 200
        return len(caught)

    strip_all(stool)
    block(bench, stool)
    add_cloth(stool, skerry, "main")
    count(1)  # the first look works out what the lays want
    few = count(1)
    for n in range(15):
        job = hang_tag(title=f"Chair {n}", client="x", kind=list(KINDS)[n % len(KINDS)], count=2)
        add_cloth(job, skerry, "main")
    count(2)  # and works out how the new ones stand
    assert count(2) <= few
    assert few <= 16


@pytest.mark.parametrize("kind", KINDS)
def test_every_room_of_every_kind_opens_on_a_fresh_tag(bench, kind):
    made = bench.post("/tags/new/", {"title": "A thing", "client": "Somebody", "kind": kind, "count": 3})
    job = Job.objects.get()
    assert made.url == f"/tags/{job.number}/survey/"
    assert job.parts.count() == len(KINDS[kind].parts)
    for room in ROOMS:
        page = bench.get(f"/tags/{job.number}/{room}/", follow=True)
        assert page.status_code == 200, room
        assert "A thing × 3" in page.content.decode()
    assert bench.get(f"/tags/{job.number}/", follow=True).redirect_chain[-1][0].endswith("/survey/")


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"title": ""}, "This field is required"),
        ({"kind": "throne"}, "valid choice"),
        ({"count": "0"}, "greater than or equal to 1"),
        ({"count": "900"}, "less than or equal to 60"),
        ({"due": "next week"}, "valid date"),
        ({"title": "x" * 100}, "at most 80"),
    ],
)
def test_a_tag_that_says_too_little_is_not_hung_up_and_keeps_what_was_typed(bench, change, words):
    sent = {"title": "Stools", "client": "Kept Client", "kind": "square_stool", "count": "4", **change}
    page = bench.post("/tags/new/", sent)
    assert page.status_code == 422
    assert words in page.content.decode()
    assert "Kept Client" in page.content.decode()
    assert not Job.objects.exists()


def test_the_switch_changes_units_for_the_eye_and_comes_back(bench, stool):
    block(bench, stool)
    assert "59.4 × 60.6 cm" in bench.get(f"/tags/{stool.number}/trace/seat/").content.decode()
    back = bench.post("/units/", {"units": "imperial", "back": f"/tags/{stool.number}/trace/seat/"})
    assert back.url == f"/tags/{stool.number}/trace/seat/"
    page = bench.get(back.url).content.decode()
    assert "23 3/8 × 23 7/8 in" in page  # 594.3 x 606 mm
    assert bench.post("/units/", {"units": "furlongs", "back": "https://elsewhere.example/"}).url == "/"
    assert Workroom.the_one().units == "metric"


def test_bare_numbers_are_inches_in_an_imperial_workroom(bench, stool):
    bench.post("/units/", {"units": "imperial"})
    block(bench, stool, board_width="14 1/2", board_depth="15", board_thickness="3/4", pad="1 3/4", wrap="2")
    seat = stool.parts.get(key="seat")
    assert seat.board_width == pytest.approx(368.3)
    assert seat.board_thickness == pytest.approx(19.05)


def test_nothing_is_shown_to_who_is_not_signed_in(client, workroom, stool):
    User.objects.create_user("ines", password="quayside")
    for path in ("/", "/tags/new/", "/cloths/", *(f"/tags/{stool.number}/{room}/" for room in ROOMS)):
        answer = client.get(path)
        assert answer.status_code == 302
        assert answer.url.startswith("/login/")


def test_sign_in_is_throttled(client, workroom):
    User.objects.create_user("ines", password="quayside")
    for _ in range(6):
        last = client.post("/login/", {"username": "ines", "password": "guess"})
    assert last.status_code == 429
    assert "Wait six minutes" in last.content.decode()
    assert client.post("/login/", {"username": "ines", "password": "quayside"}).status_code == 429
    until = AccessAttempt.objects.get().attempt_time
    assert client.post("/login/", {"username": "ines", "password": "guess"}).status_code == 429
    assert AccessAttempt.objects.get().attempt_time == until, (
        "a try while it is locked keeps the owner out for no longer"
    )
    AccessAttempt.objects.update(attempt_time=timezone.now() - timedelta(minutes=7))
    assert client.post("/login/", {"username": "ines", "password": "quayside"}).status_code == 302


def test_pages_carry_a_policy_that_allows_nothing_inline_or_foreign(bench):
    answer = bench.get("/")
    policy = answer["Content-Security-Policy"]
    assert "default-src 'none'" in policy
    assert "unsafe" not in policy
    assert "http" not in policy
    assert answer["X-Frame-Options"] == "DENY"
    assert answer["X-Content-Type-Options"] == "nosniff"
    assert answer["Referrer-Policy"] == "same-origin"


def test_an_empty_workroom_is_opened_by_its_first_owner_and_only_once(client, db):
    assert client.get("/login/").url == "/welcome/"
    weak = client.post(
        "/welcome/", {"workroom": "Mole End", "units": "imperial", "username": "rat", "password": "river"}
    )
    assert weak.status_code == 422
    assert not User.objects.exists()
    client.post(
        "/welcome/", {"workroom": "Mole End", "units": "imperial", "username": "rat", "password": "messing-in-boats"}
    )
    assert (Workroom.the_one().name, Workroom.the_one().units) == ("Mole End", "imperial")
    assert client.get("/").status_code == 200
    client.post(
        "/welcome/", {"workroom": "Stolen", "units": "metric", "username": "weasel", "password": "messing-in-boats"}
    )
    assert User.objects.count() == 1


def test_a_page_that_is_not_there_says_so_kindly(bench):
    answer = bench.get("/tags/999/survey/")
    assert answer.status_code == 404
    assert "Nothing hangs here" in answer.content.decode()
    posted = bench.get("/tags/999/strip/off/")
    assert (posted.status_code, "A page sends its form" in posted.content.decode()) == (405, True)
    for odd in ("abc%00", '"%22%22', "*()", "½½½", "a" * 500, "NEAR(", "-"):
        assert bench.get(f"/?q={odd}").status_code == 200


OF_EACH_SORT = 2  # pages
PLACED = re.compile(r"\d+")
METRIC = re.compile(r".{0,30}\b\d[\d.,]* ?(?:mm|cm|m|metres?|mm2|m2|N)\b.{0,12}")
SPOKEN = re.compile(r'(?:placeholder|title|aria-label|alt|data-words)="([^"]*)"')
FILE_UNITS = re.compile(
    r"<select[^>]*name=\"unit\".*?</select>", re.DOTALL
)  # what one unit of a drawing is: millimetres are one of them


def sort_of(address: str) -> str:
    """An address without its numbers and its panels: of each sort one page is read."""
    path, _, query = address.partition("?")
    told = "&".join(p for p in query.split("&") if p.startswith(("look=", "way=", "q=", "home=")))
    return PLACED.sub("N", re.sub(r"(trace|fasten|look|practice|rehearse)/[a-z_]+/", r"\1/P/", path)) + "?" + told


def metric_words(client) -> list[str]:
    """Read every room of every tag and two pages of every other sort that a link leads to, and what is said to who
    can't see it; what is in metric words there.
    """
    rooms = [f"/tags/{job.number}/{room}/" for job in Job.objects.all() for room in ROOMS]
    photos = [f"/tags/{photo.part.job.number}/trace/{photo.part.key}/photo/" for photo in CoverPhoto.objects.all()[:2]]
    open_still, read, metric = [*photos, "/", *rooms], Counter(), []
    own_words = re.compile(
        "Window bench, 1.6 m|5 mm, cotton|cord sound, 1.9 m"
    )  # what the sample's people wrote themselves
    while open_still:
        address = open_still.pop()
        if (read[sort_of(address)] >= OF_EACH_SORT and address not in rooms) or "/logout" in address:
            continue
        read[sort_of(address)] += 1
        answer = client.get(address, follow=True)
        assert answer.status_code == 200 or address not in rooms, address
        rooms = [room for room in rooms if room != address]
        if answer.streaming or "html" not in answer["Content-Type"]:
            continue
        shown = own_words.sub("", answer.content.decode())
        links = [html.unescape(link) for link in re.findall(r'<a [^>]*href="([^"#]+)"', shown)]
        open_still += [
            urljoin(answer.wsgi_request.get_full_path(), link)
            for link in links
            if not link.startswith(("http", "data:", "mailto"))
        ]
        seen = re.sub(r"<script\b.*?</script>|<[^>]+>", " ", FILE_UNITS.sub("", shown), flags=re.DOTALL)
        metric += [f"{address}: {found}" for text in (seen, *SPOKEN.findall(shown)) for found in METRIC.findall(text)]
    assert len(read) > 60
    return metric


def test_the_sample_workroom_shows_something_real_at_every_step(client, db, monkeypatch):
    of_cover = {shot.cover: (tag.number, key) for tag in sample.tags() for key, shot in tag.shots.items()}
    shots = {(tag.number, key): shot.cover for tag in sample.tags() for key, shot in tag.shots.items()}
    taken = cache(sample._taken)  # each cover is taken up once, from one of its photos
    monkeypatch.setattr(sample, "_taken", lambda *place: taken(*of_cover[shots[place]]))
    monkeypatch.setattr(making, "SEARCHED", 0.3)
    load_sample()
    assert client.post("/login/", {"username": NAME, "password": PASSWORD}).url == "/"
    page = client.get("/").content.decode()
    moves = set(re.findall(r"<b>(\w+)</b>:", page))
    assert {"Survey", "Strip", "Lay", "Fasten", "Trim", "Finish"} <= moves
    assert page.count("Waits") >= 2
    Workroom.objects.update(units="imperial")
    Job.objects.all().forget_kept()
    metric = metric_words(client)
    assert not metric, "an inch workroom speaks inches: " + "; ".join(metric)


def test_what_stands_on_a_tag_can_be_changed_and_another_count_reaches_the_lay(bench, stool, skerry):
    block(bench, stool)
    add_cloth(stool, skerry, "main")
    page = bench.get(f"/tags/{stool.number}/edit/").content.decode()
    assert "Harbour Reading Room" in page
    sent = {
        "title": "Stools",
        "client": "Oriel House",
        "count": "6",
        "due": "2027-01-08",
        "wish": "firm",
        "new_price": "80",
    }
    assert bench.post(f"/tags/{stool.number}/edit/", {**sent, "count": "0"}).status_code == 422
    assert Job.objects.get().count == 4
    bench.post(f"/tags/{stool.number}/edit/", sent)
    job = Job.objects.get()
    assert (job.count, job.client, job.kind_key) == (6, "Oriel House", "square_stool")
    assert "6 to cut" in bench.get(f"/tags/{stool.number}/trace/seat/").content.decode()


def test_a_tag_waits_for_a_yes_until_it_has_come(bench, stool):
    bench.post(f"/tags/{stool.number}/money/waits/", {"waits_for": "their yes on the quote"})
    assert "for their yes on the quote" in bench.get("/").content.decode()
    assert bench.get(f"/tags/{stool.number}/").url.endswith("/money/"), "a waiting tag opens where the wait is ended"
    assert "It has come" in bench.get(f"/tags/{stool.number}/money/").content.decode()
    bench.post(f"/tags/{stool.number}/money/waits/", {"waits_for": ""})
    assert "Waits" not in bench.get("/").content.decode()


def test_the_workroom_s_hour_goes_into_the_quote_and_a_day_must_have_hours(bench, stool):
    sent = {"name": "Mole End", "currency": "£", "hour": "60", "opens": "09:00", "closes": "16:30"}
    assert bench.post("/workroom/", {**sent, "closes": "09:30"}).status_code == 422
    assert bench.post("/workroom/", {**sent, "hour": "-1"}).status_code == 422
    assert Workroom.the_one().name != "Mole End"
    bench.post("/workroom/", sent)
    assert "at £ 60.00" in bench.get(f"/tags/{stool.number}/money/").content.decode()
