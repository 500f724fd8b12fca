"""Tracing from a photo through its pages: the stand-in's photo, an upload, what is refused, mending and keeping."""

from __future__ import annotations

import io
import json
import zipfile
from pathlib import Path

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from tests.core.trace.test_photo import MAT, apart
from tests.photographed import photographed
from zonatome.core.outline import outline_of
from zonatome.standins.bench_camera import Shot
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job
from zonatome.web.jobs.services import hang_tag
from zonatome.web.trace.models import CoverPhoto
from zonatome.web.trace.services import shape_of_part


@pytest.fixture
def chair(workroom) -> Job:
    return hang_tag(title="Chair", client="x", kind="wing")


def sent(points) -> str:
    """Points as the page sends them, from the picture's corner, y upward."""
    photo = CoverPhoto.objects.get()
    return json.dumps([[x - photo.left, y - photo.top] for x, y in points])


def take(bench, job, shot=None, content=None, key="inside_wing_left", **mat):
    content = content or photographed(shot or Shot("side, lopsided"), MAT)[0]
    data = {"width": "120 cm", "height": "800 mm", **mat, "photo": SimpleUploadedFile("cover.jpg", content)}
    return bench.post(f"/tags/{job.number}/trace/{key}/photo/take/", data)


def test_a_photo_becomes_an_outline_over_it_and_that_the_panel_s_shape_and_its_partner_s(bench, chair):
    content, true = photographed(Shot("side, lopsided"), MAT)
    assert take(bench, chair, content=content).status_code == 302
    photo = CoverPhoto.objects.get()
    assert apart(photo.outline, true)[0] < 2
    assert photo.error < 1
    flat = bench.get(f"/tags/{chair.number}/trace/inside_wing_left/photo/flat.jpg")
    with Image.open(io.BytesIO(b"".join(flat.streaming_content))) as picture:
        assert picture.size == (photo.width, photo.height) == (1420, 1020)
    page = bench.get(f"/tags/{chair.number}/trace/inside_wing_left/photo/").content.decode()
    assert "May be out by about" in page
    keep = f"/tags/{chair.number}/trace/inside_wing_left/photo/keep/"
    assert bench.post(keep, {"points": sent(photo.outline), "turns": "0", "pair": "1"}).status_code == 302
    parts = load_job(chair.number).parts_by_key()
    left, right = (shape_of_part(parts[k]) for k in ("inside_wing_left", "inside_wing_right"))
    assert left.outline.polygon.area == pytest.approx(right.outline.polygon.area)
    assert left.outline.bounds[:2] == (0, 0)
    assert {e.join for e in left.edges} >= {"sewn", "stapled_under"}
    bench.post(keep, {"points": sent(photo.outline), "turns": "1"})
    turned = shape_of_part(load_job(chair.number).parts_by_key()["inside_wing_left"])
    assert (turned.outline.width, turned.outline.height) == pytest.approx(
        (left.outline.height, left.outline.width), abs=0.01
    )


def test_a_mended_outline_is_kept_with_the_photo_and_a_crossing_one_is_not(bench, chair):
    take(bench, chair)
    keep = f"/tags/{chair.number}/trace/inside_wing_left/photo/keep/"
    mended = [[100, 100], [700, 100], [650, 600], [120, 580]]
    assert bench.post(keep, {"points": sent(mended), "only_mend": "1"}).status_code == 204
    assert apart(CoverPhoto.objects.get().outline, mended)[0] < 0.01
    assert load_job(chair.number).parts_by_key()["inside_wing_left"].shape is None
    for wrong in (
        "[[0,0],[9,9],[0,9],[9,0]]",
        "[[0,0],[1e308,0],[0,5]]",
        "[[0,0],[NaN,0],[0,5]]",
        "[]",
        "no",
        '[[0,0],["a",0],[3,3]]',
        "[" * 5000,
    ):
        assert bench.post(keep, {"points": wrong, "only_mend": "1"}).status_code == 422, wrong
    assert apart(CoverPhoto.objects.get().outline, mended)[0] < 0.01


def test_tidy_straightens_and_thins_and_stores_nothing(bench, chair):
    take(bench, chair)
    bowed = [[0, 0], [100, 0.4], [200, 0.6], [300, 0.3], [400, 0], [400, 300], [0, 300]]
    told = bench.post(
        f"/tags/{chair.number}/trace/inside_wing_left/photo/tool/tidy/", {"points": json.dumps(bowed)}
    ).json()
    assert len(told["points"]) == 4
    assert all(y <= 0 for _, y in told["points"]), "y downward, as the page draws"
    assert (
        bench.post(f"/tags/{chair.number}/trace/inside_wing_left/photo/tool/tidy/", {"points": "[[0,0]]"}).status_code
        == 422
    )


@pytest.mark.parametrize(
    ("tool", "more", "corners"),
    [
        pytest.param("round", {"at": "1", "radius": "30"}, 3, id="rounded"),
        pytest.param("cut", {"at": "0", "to": "2"}, 3, id="cut with a line"),
        pytest.param("pull", {"at": "2"}, 4, id="a corner pulled"),
        pytest.param("straight", {"at": "1", "to": "3"}, 3, id="straight between two points"),
    ],
)
def test_each_tool_of_the_desk_sends_the_points_back_changed_and_stores_nothing(bench, chair, tool, more, corners):
    take(bench, chair)
    before = CoverPhoto.objects.get().outline
    square = {"points": "[[0,0],[400,0],[400,300],[0,300]]"}
    told = bench.post(f"/tags/{chair.number}/trace/inside_wing_left/photo/tool/{tool}/", square | more).json()
    ring = outline_of([(x, -y) for x, y in told["points"]])
    assert len(ring.corners()) == corners
    assert CoverPhoto.objects.get().outline == before
    wrong = {
        "round": {"at": "1", "radius": "9 m"},
        "cut": {"at": "0", "to": "1"},
        "pull": {"at": "77"},
        "straight": {"at": "0", "to": "1"},
    }[tool]
    answer = bench.post(f"/tags/{chair.number}/trace/inside_wing_left/photo/tool/{tool}/", square | wrong)
    assert answer.status_code == 422
    assert answer.json()["words"]
    assert bench.post(f"/tags/{chair.number}/trace/inside_wing_left/photo/tool/axe/", square).status_code == 404


def test_where_no_cover_can_be_told_from_the_table_it_is_drawn_by_hand(bench, chair):
    answer = take(bench, chair, Shot(is_bare=True))
    assert answer.status_code == 302
    photo = CoverPhoto.objects.get()
    assert photo.error is None
    assert len(photo.outline) == 4
    page = bench.get(answer.url).content.decode()
    assert "Drawn by hand" in page
    assert "Not traced: no cover can be told" in page


@pytest.mark.parametrize(
    ("content", "says"),
    [
        pytest.param(
            lambda: photographed(Shot(hidden_marker=3), MAT)[0],
            "marker 3 (bottom left) cannot be seen",
            id="a marker hidden",
        ),
        pytest.param(lambda: b"words", "photo: expected", id="no photo"),
        pytest.param(lambda: photographed(Shot(width=1600), MAT)[0][:9000], "can be read", id="cut off"),
    ],
)
def test_a_photo_that_cannot_be_used_changes_nothing(bench, chair, content, says, settings):
    answer = take(bench, chair, content=content())
    assert answer.status_code == 422
    assert says in answer.content.decode()
    assert not CoverPhoto.objects.exists()
    take(bench, chair)
    before = CoverPhoto.objects.get().outline
    assert take(bench, chair, content=content()).status_code == 422
    assert take(bench, chair, width="3 mm").status_code == 422
    assert CoverPhoto.objects.get().outline == before
    assert len(list(settings.MEDIA_ROOT.rglob("*.jpg"))) == 1


def test_the_bench_camera_stands_in_and_a_newer_photo_takes_the_older_one_s_place(bench, chair, settings):
    base = f"/tags/{chair.number}/trace/seat/photo/"
    assert "Trace it" in bench.get(base).content.decode()
    shot = {"cover": "stool top", "cloth": "striped", "table": "wood", "light": "1", "tilt": "12", "shadow": "on"}
    for _ in range(2):
        assert bench.post(base + "bench/", shot).status_code == 302
    assert CoverPhoto.objects.count() == 1
    assert len(list(settings.MEDIA_ROOT.rglob("*.jpg"))) == 1
    assert bench.post(base + "bench/", shot | {"cover": "a throne"}).status_code == 422
    assert bench.get(f"/tags/{chair.number}/trace/mat.pdf")["Content-Type"] == "application/pdf"
    assert bench.get(f"/tags/{chair.number}/trace/antler/photo/").status_code == 404


def test_the_photo_goes_along_in_the_tag_s_zip_and_comes_back(bench, chair):
    take(bench, chair)
    before = CoverPhoto.objects.get()
    content = b"".join(bench.get(f"/tags/{chair.number}/tag.zip").streaming_content)
    with zipfile.ZipFile(io.BytesIO(content)) as given:
        assert "covers/inside_wing_left.jpg" in given.namelist()
    flat = Path(before.file.path).read_bytes()
    Job.objects.all().delete()
    assert bench.post("/tags/bring-in/", {"file": SimpleUploadedFile("tag.zip", content)}).status_code == 302
    after = CoverPhoto.objects.get()
    assert (after.outline, after.error, Path(after.file.path).read_bytes()) == (before.outline, before.error, flat)
