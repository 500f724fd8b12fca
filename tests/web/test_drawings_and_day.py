"""Drawings: numbers as SVG wants them, words that fit, marks where they belong; and the day above the rail."""

from __future__ import annotations

import itertools
import re
from dataclasses import asdict
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from django.contrib.auth.models import User
from django.utils import timezone

from tests.core.lay.requests_of_the_trade import six_chairs
from zonatome.core.fasten.staples import staple_plan
from zonatome.core.formats.svg_paths import fixed, path_of
from zonatome.core.lay.lay import easy_lay
from zonatome.core.lay.table.cut_sheet import cut_sheet
from zonatome.core.shop.plan.solver import quick_plan
from zonatome.core.survey.kinds import KINDS
from zonatome.core.trace.by_tape import Board, block_shape, disc_shape, trapezoid_shape
from zonatome.web.fasten.drawing import board_drawing
from zonatome.web.fortnight.day import day_of
from zonatome.web.fortnight.services import asked_now
from zonatome.web.jobs.drawing import drawing_of
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job, Wait, Workroom
from zonatome.web.jobs.services import hang_tag
from zonatome.web.lay.drawing import lay_drawing
from zonatome.web.trace.drawing import shape_drawing

NUMBERS = re.compile(r"-?\d+(\.\d+)?")


def numbers_in(value) -> list[str]:
    """Every text of a drawing that is meant to be a number or a path."""
    if isinstance(value, dict):
        return [n for v in value.values() for n in numbers_in(v)]
    if isinstance(value, list | tuple):
        return [n for v in value for n in numbers_in(v)]
    return [value] if isinstance(value, str) and re.match(r"^[MLZ\d .\-]+$", value) else []


@pytest.mark.parametrize("units", ["metric", "imperial"])
def test_no_drawing_holds_a_comma_an_exponent_or_a_number_that_is_none(units):
    asked = six_chairs(welt=True)
    lay = easy_lay(asked)
    drawings = [
        asdict(shape_drawing(trapezoid_shape("Back", 500, 440, 640, {"top": "stapled_under"}), units)),
        asdict(shape_drawing(disc_shape("Top", 340, {}), units)),
        asdict(lay_drawing(asked, cut_sheet(asked, lay, {}), units)),
    ]
    for drawing in drawings:
        found = numbers_in(drawing)
        assert len(found) > 10
        for text in found:
            assert not re.search(r"[,e]|nan|inf", text), text
            assert all(len(part.partition(".")[2]) == 1 for part in re.findall(r"-?\d+\.\d+", text)), text


def test_numbers_keep_a_fixed_count_of_decimals_and_no_minus_nought():
    assert [fixed(v) for v in (1, -0.01, 1234.56)] == ["1.0", "0.0", "1234.6"]
    assert path_of([(0, 0), (1, 2)], 10, closed=False) == "M0.0 10.0L1.0 8.0"


def test_a_piece_s_name_stands_inside_it_and_its_arrow_points_to_its_top():
    asked = six_chairs()
    lay = easy_lay(asked)
    names = {
        "seat": "Seat",
        "inside-back": "Inside back",
        "outside-back": "Outside back",
        "side": "Side, left",
        "sample": "Sample",
    }
    sheet = cut_sheet(asked, lay, names)
    drawing = lay_drawing(asked, sheet, "metric")
    rows = {r.key: r for r in sheet.rows}
    for placed in drawing.placements:
        x0, _, x1, _ = rows[placed.key].outline.bounds
        for line, _ in placed.lines:
            half = len(line) * 0.5 * float(placed.size) / 2
            assert x0 - 1 <= float(placed.x) - half, placed.title
            assert float(placed.x) + half <= x1 + 1, placed.title
        tail, tip = [tuple(map(float, p.split())) for p in re.match(r"M(.*)L(.*?)M", placed.arrow).groups()]
        if rows[placed.key].turn_degrees == 0:
            assert tip[0] < tail[0], "turn 0: the top lies toward the squared end, at the left"


def test_rulers_stand_at_true_places_in_both_units():
    shape = block_shape("Seat", Board(370, 370, 18), pad=45)
    metric, imperial = (shape_drawing(shape, u) for u in ("metric", "imperial"))
    at = [float(m.at) for m in metric.across if m.words]
    assert [b - a for a, b in itertools.pairwise(at)] == pytest.approx([100.0] * (len(at) - 1), abs=0.11)
    assert [m.words for m in imperial.across if m.words][:3] == ["0", "4", "8"]
    assert float(imperial.across[1].at) - float(imperial.across[0].at) == pytest.approx(50.8, abs=0.11)
    assert len(metric.notches) == 4
    assert [e.name for e in metric.edges] == ["a", "b", "c", "d"]


def test_every_staple_is_drawn_with_words_of_what_to_do(stool):
    board = Board(370, 370, 18).outline
    seat = load_job(stool.number).parts_by_key()["seat"]
    for order in ("cross first", "one side whole"):
        plan = staple_plan(board, pitch=16, order=order)
        drawing = board_drawing(seat, board, plan)
        assert [s.number for s in drawing.staples] == [s.number for s in plan.staples]
        assert "Middle of the back edge" in drawing.staples[0].words
        assert all("Corner: fold it" in s.words for s in drawing.staples if s.at_corner)
    answered = board_drawing(seat, board, staple_plan(board, pitch=16)).staples[1]
    assert answered.words.startswith("Opposite staple 1")


def test_a_round_board_has_no_corners_to_speak_of(stool):
    board = Board(340, 340, 18, is_round=True).outline
    seat = load_job(stool.number).parts_by_key()["seat"]
    drawing = board_drawing(seat, board, staple_plan(board, pitch=16, is_round=True))
    assert drawing.corner_places == ()
    assert not any("orner" in s.words for s in drawing.staples)
    assert "At 12 o'clock" in drawing.staples[0].words


@pytest.mark.parametrize("kind", KINDS)
def test_every_panel_on_the_opened_out_drawing_has_its_words(workroom, kind):
    job = load_job(hang_tag(title="x", client="y", kind=kind).number)
    drawing = drawing_of(job)
    for part in drawing.parts:
        assert part.lines, part.key
        assert " ".join(line for line, _ in part.lines) == KINDS[kind].part(part.key).short
        assert part.tone == "plain"


# --- the day ---------------------------------------------------------------------------------------

LONDON = ZoneInfo("Europe/London")


def at(hour: int, minute: int = 0) -> datetime:
    return datetime(2026, 12, 2, hour, minute, tzinfo=LONDON)


def day_at(moment: datetime) -> dict:
    asked = asked_now(Workroom.the_one(), moment)
    return day_of(quick_plan(asked.request), asked, moment)


@pytest.fixture
def alone(workroom):
    """One who works here, from half past eight to five."""
    return User.objects.create_user("ines", password="quayside", is_staff=True)


def test_the_day_begins_now_and_shows_where_now_is(alone):
    hang_tag(title="Stool", client="x", kind="round_stool")
    day = day_at(at(11))
    assert day["name"] == "Wednesday"
    assert day["now"] == pytest.approx((11 - 8.5) / 8.5 * 1000, abs=1)
    first = day["rows"][0]["bars"][0]
    assert first["x"] == day["now"]
    assert "look over" in first["title"]


def test_when_nobody_is_there_any_more_it_is_tomorrow(alone):
    hang_tag(title="Stool", client="x", kind="round_stool")
    day = day_at(at(18, 30))
    assert (day["name"], day["now"]) == ("Thursday", None)
    assert day["date"].endswith("tomorrow")
    assert day["rows"][0]["bars"][0]["x"] == 0


def test_a_wait_is_drawn_and_its_tag_worked_on_after_it(alone):
    waiting = hang_tag(title="Bench", client="x", kind="bench_box", due=at(9).date())
    hang_tag(title="Stool", client="x", kind="round_stool")
    Job.objects.update(waits_for="")
    Wait.objects.create(job=waiting, step="lay", words="Skerry", began=at(9), until=at(15))
    asked = asked_now(Workroom.the_one(), at(10))
    cuts = [s for s in quick_plan(asked.request).spells if s.key.tag == waiting.number and s.key.task == "cut"]
    assert all(s.begins >= 15 * 4 for s in cuts)
    day = day_at(at(10))
    assert day["waits"][0]["title"].startswith(f"{waiting.number}: Skerry, until Wed 2 Dec 15:00")
    assert day["waits_words"] == "1 wait runs by itself"


def test_a_tag_that_waits_for_its_client_takes_no_bench_time(alone):
    job = hang_tag(title="Stools", client="x", kind="square_stool")
    Job.objects.filter(pk=job.pk).update(waits_for="their yes on the quote")
    assert day_at(at(10))["rows"][0]["bars"] == []


def test_a_wait_of_a_tag_farther_along_the_rail_is_seen_too(bench):
    for n in range(30):
        hang_tag(title=f"Chair {n}", client="x", kind="round_stool", due=timezone.localdate() + timedelta(days=n + 1))
    last = Job.objects.get(title="Chair 29")
    Wait.objects.create(
        job=last, step="finish", words="second oil coat dries", until=timezone.now() + timedelta(days=2)
    )
    page = bench.get("/").content.decode()
    assert "Chair 29</span>" not in page
    assert "second oil coat dries" in page
    assert "at the bench" not in bench.get("/?page=2").content.decode()
