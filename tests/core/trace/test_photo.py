"""Tracing from a photo: the stand-in camera's covers come back true to the millimetre, and what cannot be traced is
said.
"""

from __future__ import annotations

import io
import json
import subprocess
import sys

import cv2
import numpy as np
import pytest
from PIL import Image
from pypdf import PdfReader
from shapely.geometry import Polygon

from tests.photographed import photographed
from zonatome.__main__ import main
from zonatome.core.errors import BadInput, NoAnswer
from zonatome.core.formats.mat_pdf import mat_pdf
from zonatome.core.formats.piece_json import read_piece
from zonatome.core.trace import photo as photo_module
from zonatome.core.trace.mat import Mat, camera_of
from zonatome.core.trace.photo import read_photo, trace_photo
from zonatome.core.trace.take_up import taken_up, taken_up_apart
from zonatome.standins.bench_camera import Shot

MAT = Mat(1200, 800)


def apart(got, true) -> tuple[float, float, float]:
    """Farthest and mean distance in mm either way, and the difference in area in per cent."""
    one, other = Polygon(got), Polygon(true)
    found = []
    for here, there in ((one, other), (other, one)):
        line = here.exterior
        found += [there.exterior.distance(line.interpolate(k)) for k in range(int(line.length))]
    return max(found), float(np.mean(found)), abs(one.area - other.area) / other.area * 100


@pytest.mark.parametrize(
    "shot",
    [
        pytest.param(Shot(tilt=0, roll=0, lens=0), id="straight from above"),
        pytest.param(
            Shot("inside back", "woven rust", "wood", tilt=22, roll=-3, lens=0.01, shadow=True, hole=True),
            id="tilted, a shadow, a hole",
        ),
        pytest.param(Shot("stool top", "striped", "kraft paper", tilt=10, lens=-0.008), id="stripes along the edge"),
        pytest.param(
            Shot("side, lopsided", "pale oat", "dark mat", tilt=16, turn=-17), id="on a mat with lines, askew"
        ),
        pytest.param(
            Shot("arm front", "plain teal", "grey board", tilt=6, frayed=True, light=1), id="frayed, in uneven light"
        ),
    ],
)
def test_a_cover_is_traced_to_the_millimetre(shot):
    content, true = photographed(shot, MAT)
    traced = trace_photo(read_photo(content), MAT)
    farthest, mean, area = apart(traced.outline.points, true)
    assert farthest < (3 if shot.frayed else 2)
    assert mean < 0.3
    assert area < 0.35
    assert mean < traced.error * 1.5 + 0.05, "it knows about how far it may be out"
    assert traced.error < 1
    assert len(traced.outline.points) <= 1000


def test_cover_and_table_are_told_apart_until_they_are_settled_and_going_on_would_change_nothing(monkeypatch):
    rounds, cut = [0], cv2.grabCut
    monkeypatch.setattr(cv2, "grabCut", lambda *told: (rounds.append(rounds.pop() + 1), cut(*told)))
    picture = read_photo(photographed(Shot(width=1296), MAT)[0])
    settled = trace_photo(picture, MAT)
    assert 0 < rounds[0] < photo_module.CUTS, "a plain cover is soon told from the table"
    monkeypatch.setattr(photo_module, "CUTS", 6)
    monkeypatch.setattr(photo_module, "SETTLED", -1.0)
    rounds[0] = 0
    longer = trace_photo(picture, MAT)
    assert rounds[0] == 6
    assert apart(settled.outline.points, longer.outline.points)[0] < 0.3


def test_the_camera_s_bend_is_worked_out_from_the_markers_alone():
    bent = camera_of(cv2.cvtColor(read_photo(photographed(Shot(lens=0.012, tilt=8), MAT)[0]), cv2.COLOR_BGR2GRAY), MAT)
    straight = camera_of(cv2.cvtColor(read_photo(photographed(Shot(lens=0, tilt=8), MAT)[0]), cv2.COLOR_BGR2GRAY), MAT)
    assert bent.lens == pytest.approx(-0.012, abs=0.002)
    assert straight.lens == pytest.approx(0, abs=0.002)
    assert straight.error < 0.2
    middle = straight.pixels(np.array([[600.0, 400.0]]))[0]
    assert abs(middle[0] - 1296) < 60


def test_a_picture_stored_sideways_is_turned_upright_first():
    content, true = photographed(Shot(), MAT)
    picture = Image.open(io.BytesIO(content)).transpose(Image.Transpose.ROTATE_90)
    exif = Image.Exif()
    exif[0x0112] = 6
    turned = io.BytesIO()
    picture.save(turned, "JPEG", quality=92, exif=exif)
    assert apart(trace_photo(read_photo(turned.getvalue()), MAT).outline.points, true)[0] < 2


@pytest.mark.parametrize(
    ("photo", "says"),
    [
        pytest.param(
            lambda: read_photo(photographed(Shot(hidden_marker=2, width=1296), MAT)[0]),
            r"marker 2 \(bottom right\) cannot be seen",
            id="a marker hidden",
        ),
        pytest.param(
            lambda: read_photo(photographed(Shot(is_bare=True, shadow=True, table="wood", width=1296), MAT)[0]),
            "no cover can be told",
            id="a bare table",
        ),
        pytest.param(
            lambda: cv2.GaussianBlur(read_photo(photographed(Shot(), MAT)[0]), (0, 0), 3.2),
            "blurred|cannot be seen",
            id="blurred",
        ),
        pytest.param(
            lambda: np.random.default_rng(1).integers(0, 255, (900, 1200, 3), dtype=np.uint8),
            "no marker can be seen",
            id="noise",
        ),
        pytest.param(lambda: np.full((900, 1200, 3), 90, np.uint8), "no marker can be seen", id="nothing at all"),
    ],
)
def test_what_cannot_be_traced_is_said_with_what_to_do(photo, says):
    with pytest.raises(NoAnswer, match=says):
        trace_photo(photo(), MAT)


def test_a_mat_of_other_measures_than_were_said_is_noticed():
    content, _ = photographed(Shot(), MAT)
    with pytest.raises(NoAnswer, match="don't lie as the mat says"):
        trace_photo(read_photo(content), Mat(900, 900))
    for wrong in ((0, 800), (1200, 9000), (float("nan"), 800)):
        with pytest.raises(BadInput, match="mat"):
            Mat(*wrong)


@pytest.mark.parametrize("content", [b"", b"words", b"\xff\xd8\xff\xe0 cut", b"\x89PNG\r\n\x1a\n" + b"\0" * 40])
def test_what_is_no_photo_is_refused(content):
    with pytest.raises(BadInput, match="photo"):
        read_photo(content)


def test_the_command_line_prints_a_piece_or_one_line_that_says_why(tmp_path, capsys):
    path = tmp_path / "cover.jpg"
    told = ["trace", str(path), "--mat", "1200", "800"]
    content, true = photographed(Shot("stool top"), MAT)
    path.write_bytes(content)
    done = subprocess.run(
        [sys.executable, "-m", "zonatome", *told], capture_output=True, text=True, timeout=120, check=False
    )
    assert (done.returncode, done.stderr) == (0, "")
    assert apart(read_piece(json.loads(done.stdout)).outline.points, true)[0] < 2
    for wrong, status, says in (
        (photographed(Shot(hidden_marker=0, width=1296), MAT)[0], 3, "marker 0"),
        (b"no photo", 2, "photo: expected"),
    ):
        path.write_bytes(wrong)
        assert main(told) == status
        out, err = capsys.readouterr()
        assert out == ""
        assert says in err
        assert len(err.strip().splitlines()) == 1


def test_in_a_process_of_its_own_a_photo_is_taken_up_the_same_and_refused_in_the_same_words():
    content, _ = photographed(Shot(width=1296), MAT)
    assert taken_up_apart(content, MAT) == taken_up(content, MAT)
    covered, _ = photographed(Shot(hidden_marker=0, width=1296), MAT)
    said = []
    for way in (taken_up_apart, taken_up):
        with pytest.raises(NoAnswer) as refused:
            way(covered, MAT)
        said.append(str(refused.value))
    assert said[0] == said[1]
    assert "marker 0" in said[0]


def test_the_markers_are_printed_at_true_size_with_a_ruler():
    pdf = PdfReader(io.BytesIO(mat_pdf(units="metric")))
    assert len(pdf.pages) == 2
    text = "\n".join(p.extract_text() for p in pdf.pages)
    for number, place in enumerate(("top left", "top right", "bottom right", "bottom left")):
        assert f"Marker {number}: lies at the {place}" in text
    assert "must measure 150 mm" in text
    assert "must measure 6 in." in PdfReader(io.BytesIO(mat_pdf(units="imperial"))).pages[0].extract_text()
    squares = [
        line
        for line in pdf.pages[0].get_contents().get_data().decode().splitlines()
        if line.endswith(" re f") or " re" in line
    ]
    sides = [float(part) for line in squares for part in line.split(" re")[0].split()[2:4]]
    cell = 60 / 6 * 72 / 25.4
    assert sum(abs(side - cell) < 0.05 for side in sides) > 40, "cells of ten millimetres"
