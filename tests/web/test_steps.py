"""Each step's pages: what they store, what they refuse, how one step hands on to the next."""

from __future__ import annotations

import json
import re
from decimal import Decimal

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from tests.core.formats.test_files import BOMB, dxf, svg
from tests.web.conftest import block, found, pad
from zonatome.core.outline import Outline
from zonatome.web.fasten.models import KeepOutMark
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import JobPart, Photo
from zonatome.web.jobs.services import hang_tag
from zonatome.web.lay.models import Cloth, CutTick, JobCloth
from zonatome.web.lay.services import add_cloth, best_run, cloth_standing, start_lay
from zonatome.web.shop.services import money_of
from zonatome.web.trace.services import shape_of_part
from zonatome.web.trim.models import TrimLine


def seat_of(job) -> JobPart:
    return load_job(job.number).parts_by_key()["seat"]


def cut_size(job) -> tuple[float, float]:
    line: Outline = shape_of_part(seat_of(job)).cut_line
    return round(line.width, 1), round(line.height, 1)


# --- survey ----------------------------------------------------------------------------------------


def test_a_photo_is_turned_upright_made_small_and_loses_what_the_camera_wrote(bench, stool, jpeg):
    bench.post(f"/tags/{stool.number}/survey/photo/", {"photo": jpeg(3000, 1000, orientation=6)})
    photo = Photo.objects.get()
    from PIL import Image

    with Image.open(photo.path) as kept:
        assert kept.height > kept.width
        assert max(kept.size) == 1600
        assert not dict(kept.getexif())
    shown = bench.get(f"/tags/{stool.number}/photos/{photo.pk}.jpg")
    assert shown["Content-Type"] == "image/jpeg"
    shown.close()
    assert bench.get(f"/tags/999/photos/{photo.pk}.jpg").status_code == 404


@pytest.mark.parametrize(
    "upload",
    [
        pytest.param(
            lambda jpeg: SimpleUploadedFile("chair.jpg", b"not a photo", content_type="image/jpeg"),
            id="no photo at all",
        ),
        pytest.param(
            lambda jpeg: SimpleUploadedFile("chair.jpg", BOMB, content_type="image/jpeg"),
            id="an SVG that calls itself JPEG",
        ),
        pytest.param(lambda jpeg: SimpleUploadedFile("chair.jpg", b"", content_type="image/jpeg"), id="empty"),
        pytest.param(lambda jpeg: jpeg(12_000, 4_000), id="more pixels than any photo needs"),
        pytest.param(lambda jpeg: jpeg(kind="GIF"), id="another kind of picture"),
    ],
)
def test_what_is_no_photo_is_refused_and_nothing_stored(bench, stool, jpeg, upload, settings):
    answer = bench.post(f"/tags/{stool.number}/survey/photo/", {"photo": upload(jpeg)})
    assert answer.status_code == 422
    assert re.search("no photo: choose a JPEG or PNG|Choose a photo first|at most", answer.content.decode())
    assert not Photo.objects.exists()
    assert not settings.MEDIA_ROOT.exists()


def test_a_body_of_200_mb_is_refused_before_it_is_read(bench, stool):
    answer = bench.generic(
        "POST",
        f"/tags/{stool.number}/survey/photo/",
        b"x",
        content_type="multipart/form-data; boundary=b",
        CONTENT_LENGTH=str(200 * 2**20),
    )
    assert answer.status_code == 413
    assert "expected at most 16 MB, got 200 MB" in answer.content.decode()
    assert not Photo.objects.exists()


# --- strip -----------------------------------------------------------------------------------------


def test_one_press_takes_the_next_thing_off_and_undo_puts_it_back(bench, stool):
    number = stool.number
    assert 'Off next: <span class="underlined">seat screws' in bench.get(f"/tags/{number}/strip/").content.decode()
    bench.post(f"/tags/{number}/strip/off/", {"part": "screws", "fixing": "4 screws", "note": "one is stripped"})
    screws = JobPart.objects.get(key="screws")
    assert (screws.off_number, screws.bags.get().number, screws.note) == (1, 1, "one is stripped")
    bench.post(f"/tags/{number}/strip/off/", {"part": "bottom_cloth"})
    bench.post(f"/tags/{number}/strip/undo/")
    assert load_job(number).off_keys == ("screws",)
    assert bench.post(f"/tags/{number}/strip/off/", {"part": "seat"}).status_code == 422
    assert load_job(number).off_keys == ("screws",)


def test_undo_with_nothing_off_is_refused_in_words(bench, stool):
    answer = bench.post(f"/tags/{stool.number}/strip/undo/")
    assert answer.status_code == 422
    assert "something that is off" in answer.content.decode()


def test_the_rebuild_list_is_the_record_reversed(bench, stool, strip_all):
    strip_all(stool)
    page = bench.get(f"/tags/{stool.number}/finish/").content.decode()
    names = [page.index(f"<b>{name}</b>") for name in ("Seat", "Bottom cloth", "Seat screws")]
    assert names == sorted(names)


# --- trace -----------------------------------------------------------------------------------------


def test_a_block_is_kept_from_measures_in_any_unit(bench, stool):
    assert block(bench, stool).status_code == 302
    assert cut_size(stool) == (594.3, 606.0)  # 368.3 and 380, each + 2 (45 + 18 + 50)
    assert seat_of(stool).staples_planned > 40


@pytest.mark.parametrize(
    ("field", "value", "words"),
    [
        ("board_width", "wide", "a length such as"),
        ("board_width", "0", "a length above 0"),
        ("board_width", "2 mm", "10 to 10000 mm"),
        ("board_depth", "", "This field is required"),
        ("board_thickness", "4 m", "at most 300 mm"),
        ("wrap", "1", "at least 10 mm"),
    ],
)
def test_a_measure_that_makes_no_block_is_refused_by_its_box_and_nothing_changed(bench, stool, field, value, words):
    answer = block(bench, stool, **{field: value})
    assert answer.status_code == 422
    page = answer.content.decode()
    assert words in page
    assert "14 1/2 in" in page or field == "board_width", "what was typed is kept"
    assert seat_of(stool).shape is None
    assert not seat_of(stool).has_board


def upload(bench, job, content, name, key="seat"):
    return bench.post(f"/tags/{job.number}/trace/{key}/make/file/", {"file": SimpleUploadedFile(name, content)})


def test_a_shape_comes_from_svg_dxf_or_piece_and_goes_out_as_piece(bench, stool):
    assert upload(bench, stool, svg('<path d="M0 0H400V300H0Z"/>'), "old.svg").status_code == 302
    assert cut_size(stool) == (500, 400)
    assert upload(bench, stool, dxf([(0, 0), (420, 0), (420, 300), (0, 300)]), "old.dxf").status_code == 302
    assert cut_size(stool) == (520, 400)
    piece = bench.get(f"/tags/{stool.number}/trace/seat/file/json/")
    data = json.loads(piece.content)
    data["outline"] = [[x * 2, y] for x, y in data["outline"]]
    assert upload(bench, stool, json.dumps(data).encode(), "wide.json").status_code == 302
    assert cut_size(stool) == (940, 400)


@pytest.mark.parametrize(
    ("content", "name", "words"),
    [
        pytest.param(BOMB, "old.svg", "without entities of its own", id="an entity bomb"),
        pytest.param(
            svg('<path d="M0 0L100 100L100 0L0 100Z"/>'),
            "old.svg",
            "neither crosses nor touches",
            id="a path that crosses itself",
        ),
        pytest.param(
            b'{"format": "zonatome.piece", "version": 9}',
            "old.json",
            "version 1 of zonatome.piece",
            id="an unknown version",
        ),
        pytest.param(b"MZ", "old.exe", "an .svg or .dxf drawing", id="a program"),
        pytest.param(b"<svg>" + b" " * 2_100_000, "old.svg", "at most 2 MB", id="a drawing of 2.1 MB"),
    ],
)
def test_a_bad_drawing_is_refused_by_its_box_and_the_old_shape_stays(bench, stool, content, name, words):
    block(bench, stool)
    before = seat_of(stool).shape
    answer = upload(bench, stool, content, name)
    assert answer.status_code == 422
    assert words in answer.content.decode()
    assert seat_of(stool).shape == before


def test_a_pair_is_traced_once_and_mirrored(bench, workroom):
    job = hang_tag(title="Chairs", client="x", kind="side_chair", count=6)
    bench.post(
        f"/tags/{job.number}/trace/side_left/make/trapezoid/",
        {"bottom": "15", "top": "12", "height": "45", "pair": "on"},
    )
    parts = load_job(job.number).parts_by_key()
    assert parts["side_right"].shape_way == "mirrored"
    assert parts["side_right"].pieces == 6
    assert shape_of_part(parts["side_right"]).outline.area == pytest.approx(
        shape_of_part(parts["side_left"]).outline.area
    )


def test_an_edge_is_held_another_way_with_its_own_allowance(bench, stool):
    block(bench, stool)
    path = f"/tags/{stool.number}/trace/seat/edge/a/"
    assert bench.post(path, {"a-join": "turned_under", "a-adds": "2 cm"}).status_code == 302
    assert cut_size(stool) == (594.3, 576.0)
    assert bench.post(path, {"a-join": "turned_under", "a-adds": "a lot"}).status_code == 422
    assert bench.post(path, {"a-join": "magnet", "a-adds": "2"}).status_code == 422
    assert bench.post(f"/tags/{stool.number}/trace/seat/edge/q/", {"q-join": "sewn", "q-adds": "2"}).status_code == 422
    assert cut_size(stool) == (594.3, 576.0)


# --- pad and its consequences ----------------------------------------------------------------------


@pytest.fixture
def laid(bench, stool, skerry, strip_all):
    """Four stools, stripped, traced and laid; the search itself waits for a worker."""
    for finding in ("frame_sound", "support_sound", "filling_flat", "cover_worn"):
        found(bench, stool, finding)
    strip_all(stool)
    block(bench, stool)
    job_cloth = add_cloth(load_job(stool.number), skerry, "main")
    start_lay(next(c for c in load_job(stool.number).cloths.all() if c.pk == job_cloth.pk))
    return stool


def standing(job):
    return cloth_standing(load_job(job.number).cloths.all()[0])


def test_a_thicker_pad_grows_the_block_and_puts_the_lay_out_of_date(bench, laid):
    assert not standing(laid).is_stale
    answer = pad(bench, laid, foam="75", follow=True)
    page = answer.content.decode()
    # (75 + 10) x 0.9 is 76.5 mm, 31.5 more than the 45 typed before: 63 mm more each way
    assert "Its cut grows by 63 mm each way" in page
    assert cut_size(laid) == (657.3, 669.0)
    assert standing(laid).is_stale
    assert "is out of date" in page
    assert "out of date" in bench.get(f"/tags/{laid.number}/lay/", follow=True).content.decode()
    assert "shapes have changed, lay again" in bench.get("/").content.decode()


def test_a_pad_set_back_makes_the_lay_true_again(bench, laid):
    for foam, stale in (("75", True), ("40", False)):
        pad(bench, laid, foam=foam)
        assert standing(laid).is_stale is stale


def test_a_pad_that_nobody_sits_on_is_refused_and_the_block_stays(bench, laid):
    answer = pad(bench, laid, foam="2 m")
    assert answer.status_code == 422
    assert "3 to 300 mm thick" in answer.content.decode()
    assert cut_size(laid) == (594.3, 606.0)


def test_a_wait_for_glue_runs_and_can_be_ended(bench, laid):
    bench.post(f"/tags/{laid.number}/pad/glued/", {"glue": "contact"})
    wait = laid.waits.get()
    assert (wait.until - wait.began).total_seconds() == 7200
    assert "glue sets" in bench.get("/").content.decode()
    bench.post(f"/tags/{laid.number}/pad/waits/{wait.pk}/end/")
    assert "glue sets" not in bench.get("/").content.decode()
    assert bench.post(f"/tags/{laid.number}/pad/glued/", {"glue": "jam"}).status_code == 404


# --- fasten ----------------------------------------------------------------------------------------


def test_marks_move_the_staples_and_the_count_of_what_is_in_is_kept(bench, laid):
    base = f"/tags/{laid.number}/fasten/seat/"
    before = seat_of(laid).staples_planned
    assert bench.post(base + "holes/", {"x": "18", "y": "1.4", "radius": "30"}).status_code == 302
    assert seat_of(laid).staples_planned < before
    mark = KeepOutMark.objects.get()
    bench.post(f"{base}holes/{mark.pk}/remove/")
    assert seat_of(laid).staples_planned == before
    assert bench.post(base + "done/", {"done": "17"}, headers={"X-Staple": "1"}).json() == {"done": 17}
    assert seat_of(laid).staples_done == 17
    for wrong in ("-1", str(4 * before + 1), "many"):
        assert bench.post(base + "done/", {"done": wrong}).status_code == 422
    assert seat_of(laid).staples_done == 17


def test_another_order_or_pitch_plans_again_and_begins_again(bench, laid):
    base = f"/tags/{laid.number}/fasten/seat/"
    bench.post(base + "done/", {"done": "17"})
    bench.post(base + "choose/", {"pitch": "20", "order": "one side whole"})
    seat = seat_of(laid)
    assert (seat.pitch, seat.staple_order, seat.staples_done) == (20, "one side whole", 0)
    assert bench.post(base + "choose/", {"pitch": "2", "order": "one side whole"}).status_code == 422
    assert seat_of(laid).pitch == 20


def test_a_mark_off_the_board_is_refused(bench, laid):
    answer = bench.post(f"/tags/{laid.number}/fasten/seat/holes/", {"x": "90", "y": "5", "radius": "8"})
    assert answer.status_code == 422
    assert "a place on the board" in answer.content.decode()
    assert not KeepOutMark.objects.exists()


def test_staples_are_planned_along_the_edges_until_the_board_is_measured(bench, workroom):
    job = hang_tag(title="Chair", client="x", kind="drop_in")
    page = bench.get(f"/tags/{job.number}/fasten/seat/?stage=staples").content.decode()
    assert "Measure the board" in page
    assert "Seat, its face up" in page
    assert seat_of(job).staples_planned > 40
    measures = {
        "seat-board-board_width": "44",
        "seat-board-board_back": "39",
        "seat-board-board_depth": "42",
        "seat-board-board_thickness": "22",
    }
    answer = bench.post(f"/tags/{job.number}/pad/seat/board/", {**measures, "then": "fasten"})
    assert answer.url.endswith("/fasten/seat/")
    assert seat_of(job).staples_planned > 40


# --- trim ------------------------------------------------------------------------------------------


def test_welt_from_a_cloth_joins_its_lay(bench, laid):
    cloth = JobCloth.objects.get()
    bench.post(
        f"/tags/{laid.number}/trim/lines/", {"name": "Lower edge", "length": "1.48 m", "times": "1", "is_closed": "on"}
    )
    bench.post(f"/tags/{laid.number}/trim/choose/", {"kind": "welt", "cord": "5", "cloth": str(cloth.pk)})
    assert standing(laid).is_stale
    page = bench.get(f"/tags/{laid.number}/trim/").content.decode()
    assert "6.08 m" in page  # 4 x (1480 + 40)
    assert "48 mm" in page
    run = start_lay(load_job(laid.number).cloths.all()[0])
    assert sum(s["length"] for s in run.best["strips"]) >= 6080 * 1.1
    assert not standing(laid).is_stale


def test_lines_are_measured_offered_and_taken_away(bench, laid):
    base = f"/tags/{laid.number}/trim/"
    assert bench.post(base + "lines/", {"name": "", "length": "x", "times": "1"}).status_code == 422
    bench.post(base + "lines/", {"offer": "seat"})
    line = TrimLine.objects.get()
    assert line.length == pytest.approx(2 * (494.3 + 506.0))
    bench.post(f"{base}lines/{line.pk}/remove/")
    assert not TrimLine.objects.exists()


def test_the_bottom_cloth_is_cut_from_the_underside(bench, laid):
    bench.post(f"/tags/{laid.number}/trim/underside/", {"width": "370 mm", "depth": "370 mm"})
    assert "40 × 40 cm" in bench.get(f"/tags/{laid.number}/trim/").content.decode()


# --- finish, time and money ------------------------------------------------------------------------


def test_it_goes_home_only_when_the_list_is_empty(bench, laid, jpeg):
    base = f"/tags/{laid.number}/finish/"
    answer = bench.post(base + "go-home/")
    assert answer.status_code == 422
    assert "the list must be empty" in answer.content.decode()
    assert "0 of 4 pieces are cut" in answer.content.decode()
    run = best_run(load_job(laid.number).cloths.get())
    for placement in run.lay().placements:
        CutTick.objects.create(run=run, key=f"{placement.piece}.{placement.copy}")
    bench.post(base + "all-on/")
    bench.post(base + "bags/1/")
    for key in ("holes", "feet", "no-label"):
        bench.post(f"{base}tick/{key}/")
    bench.post(base + "photo/", {"photo": jpeg()})
    assert bench.post(base + "go-home/").url == "/"
    assert load_job(laid.number).finished_at is not None
    assert "Stools" not in bench.get("/").content.decode().split("gone home")[1]
    assert "Stools" in bench.get("/?home=1").content.decode()
    bench.post(base + "come-back/")
    assert load_job(laid.number).finished_at is None


def test_a_tick_can_be_taken_back_and_a_wrong_one_is_not_found(bench, laid):
    base = f"/tags/{laid.number}/finish/"
    bench.post(base + "tick/feet/")
    assert load_job(laid.number).feet_done
    bench.post(base + "tick/feet/", {"off": "1"})
    assert not load_job(laid.number).feet_done
    assert bench.post(base + "tick/wings/").status_code == 404
    assert bench.post(base + "parts/antler/").status_code == 404


def test_the_quote_follows_the_steps(bench, laid, workroom):
    before = money_of(load_job(laid.number), workroom)
    assert [m.what for m in before.materials] == ["Skerry", "staples"]
    pad(bench, laid)
    after = money_of(load_job(laid.number), workroom)
    assert [m.what for m in after.materials] == ["Skerry", "wadding, 10 mm", "medium foam, 40 mm", "staples"]
    assert after.quote.total > before.quote.total
    assert after.quote.new == Decimal("75.00") * 4
    page = bench.get(f"/tags/{laid.number}/money/").content.decode()
    assert f"{after.quote.total:,.2f}" in page


def test_what_stood_there_is_in_the_boxes_again_and_a_step_that_is_done_says_where_to_go_on(bench, skerry):
    job = hang_tag(title="Ottoman", client="Quay", kind="ottoman")
    front = f"/tags/{job.number}/trace/front/"
    bench.post(front + "make/rectangle/", {"width": "61", "height": "27"})
    again = bench.get(front + "?way=rectangle").content.decode()
    assert 'value="61"' in again
    assert 'value="27"' in again
    assert "autofocus" in again
    assert "autofocus" not in bench.get(f"/tags/{job.number}/trace/back/").content.decode(), "letters are keys there"
    assert "On to" not in bench.get(f"/tags/{job.number}/survey/").content.decode()
    for key in ("frame_sound", "support_sound", "filling_sound", "cover_worn"):
        found(bench, job, key)
    assert "On to Strip" in bench.get(f"/tags/{job.number}/survey/").content.decode()
    made = {
        "name": "Their own",
        "width": "140",
        "selvage": "12",
        "direction": "two_way",
        "thickness": "1",
        "sold_in": "m",
        "sold_by": "tenth",
    }
    assert bench.post("/cloths/", made).status_code == 302
    own = Cloth.objects.get(name="Their own")
    assert own.price == 0
    add_cloth(load_job(job.number), own, "main")
    assert f"To tag {job.number}" in bench.get(f"/cloths/{own.pk}/").content.decode()
