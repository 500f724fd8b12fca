"""The photo of a finished seat: laid flat by its corners, and its stripes beside those that were foreseen."""

from __future__ import annotations

import io
import math
from dataclasses import replace

import numpy as np
import pytest
from PIL import Image, ImageDraw

from zonatome.core.errors import BadInput
from zonatome.core.fasten.rehearsal import practice
from zonatome.core.fasten.rehearsal.seat_photo import (
    checked_marks,
    compared,
    corners_of,
    homography,
    laid_flat,
)
from zonatome.core.fasten.rehearsal.sheet import Board, Sheet
from zonatome.core.fasten.rehearsal.weave import weave_of
from zonatome.core.formats.rehearsal_json import read_marks
from zonatome.core.outline import outline_of

EDGE = outline_of([(0, 0), (400, 0), (360, 300), (40, 300)])
QUAD = ((0.2, 0.85), (0.9, 0.8), (0.75, 0.2), (0.3, 0.1))


@pytest.fixture(scope="module")
def sheet():
    return Sheet(Board(practice.grown(EDGE, 50), EDGE, weave_of("weave"), nodes=300))


def test_the_four_corners_are_those_of_the_board_and_of_a_round_one_its_quarters():
    assert [(c.name, c.at) for c in corners_of(EDGE)] == [
        ("front left", (0, 0)), ("front right", (400, 0)), ("back right", (360, 300)), ("back left", (40, 300)),
    ]  # fmt: skip
    assert corners_of(EDGE, stands=True)[2].name == "top right"
    disc = outline_of([(100 * math.cos(t), 100 * math.sin(t)) for t in np.linspace(0, 2 * math.pi, 49)[:-1]])
    assert [c.name for c in corners_of(disc)] == ["9 o'clock", "6 o'clock", "3 o'clock", "12 o'clock"]
    assert np.allclose([c.at for c in corners_of(disc)], [(-100, 0), (0, -100), (100, 0), (0, 100)])
    notched = outline_of([(0, 0), (400, 0), (400, 280), (370, 280), (370, 300), (30, 300), (30, 280), (0, 280)])
    assert {c.at for c in corners_of(notched)} <= set(notched.points)


def test_a_photo_is_laid_flat_so_that_what_is_straight_on_the_seat_is_straight():
    wide, high = 900, 700
    quad = [(x * wide, y * high) for x, y in QUAD]
    photo = Image.new("RGB", (wide, high), (40, 40, 40))
    draw = ImageDraw.Draw(photo)
    draw.polygon(quad, fill=(190, 170, 130))
    # where the diagonals of the four corners cross on the photo, those of the board cross too: no map is asked
    (ax, ay), (bx, by), (cx, cy), (dx, dy) = quad
    t = ((bx - ax) * (dy - by) - (by - ay) * (dx - bx)) / ((cx - ax) * (dy - by) - (cy - ay) * (dx - bx))
    middle = (ax + t * (cx - ax), ay + t * (cy - ay))
    draw.ellipse([middle[0] - 6, middle[1] - 6, middle[0] + 6, middle[1] + 6], fill=(250, 20, 20))
    kept = io.BytesIO()
    photo.save(kept, "PNG")
    box = (-20.0, -20.0, 420.0, 320.0)
    made = Image.open(io.BytesIO(laid_flat(kept.getvalue(), QUAD, corners_of(EDGE), box)))
    scale = made.width / 440
    assert made.height == pytest.approx(340 * scale, abs=1)
    pixels = np.asarray(made.convert("RGB")).astype(int)
    ys, xs = np.nonzero((pixels[..., 0] > 180) & (pixels[..., 1] < 110))
    # by hand: the board's diagonals from (0, 0) to (360, 300) and from (400, 0) to (40, 300) cross at (200, 166.67)
    assert xs.mean() / scale - 20 == pytest.approx(200, abs=1.5)
    assert 320 - ys.mean() / scale == pytest.approx(166.67, abs=1.5)
    on = pixels[..., 0] > 120
    for x, y, is_seat in ((200, 20, True), (5, 295, False), (395, 295, False), (60, 290, True), (-10, -10, False)):
        assert on[round((320 - y) * scale), round((x + 20) * scale)] == is_seat, (x, y)


def test_marks_that_are_no_corners_are_refused():
    for wrong in (
        QUAD[:3], (*QUAD, (0.5, 0.5)), ((0.2, 0.85), (0.75, 0.2), (0.9, 0.8), (0.3, 0.1)), ((0.5, 0.5),) * 4,
        ((0.1, 0.1), (0.5, 0.1), (0.9, 0.1), (0.5, 0.9)), ((0.2, 1.2), *QUAD[1:]), ((math.nan, 0.5), *QUAD[1:]),
    ):  # fmt: skip
        with pytest.raises(BadInput):
            checked_marks(wrong)
    assert checked_marks(QUAD) == QUAD
    assert read_marks([list(mark) for mark in QUAD]) == QUAD
    assert read_marks([]) == ()
    for odd in ([[0.1, 0.2]] * 3, "marks", [[0.1], [0.2], [0.3], [0.4]], [["x", 1]] * 4, {"a": 1}):
        with pytest.raises(BadInput):
            read_marks(odd)
    with pytest.raises(BadInput):
        laid_flat(b"no photo", QUAD, corners_of(EDGE), (0, 0, 1, 1))
    there = homography(QUAD, [(0, 0), (1, 0), (1, 1), (0, 1)])
    assert np.allclose(there[[0, 1, 2, 6, 7, 8]] @ [0.9, 0.8, 1, 0, 0, 0] / (there[6:] @ [0.9, 0.8, 1]), 1.0)
    with pytest.raises(BadInput):
        homography([(0, 0), (1, 1), (2, 2), (3, 3)], QUAD)


@pytest.mark.parametrize("is_warp", [True, False])
@pytest.mark.parametrize("bow", [0.0, 3.0, -5.0])
def test_a_real_stripe_is_compared_with_its_own_thread(sheet, is_warp, bow):
    """A cloth that is moved and bent by a known map; a stripe of it, bent by so much more."""
    flat = sheet.flat()
    x, y = sheet.mesh.nodes.T
    by = np.stack([2.0 * np.sin(np.pi * y / 300) + 0.8, 1.5 * np.sin(np.pi * x / 400) - 0.5], axis=1)
    state = replace(flat, moves=by.ravel())
    at = np.linspace(60, 240, 50)
    thread = np.stack([np.full(50, 170.0), at], axis=1) if is_warp else np.stack([at + 60, np.full(50, 140.0)], axis=1)
    more = bow * np.sin(np.pi * (at - 60) / 180)
    real = sheet.moved(thread, state) + (
        np.stack([more, 0 * at], axis=1) if is_warp else np.stack([0 * at, more], axis=1)
    )
    found = compared(sheet, state, [tuple(p) for p in real])
    assert found.is_warp is is_warp
    # the thread is the one that fits: of a bow so high half its mean lies to each side of it
    mean = abs(bow) * 2 / math.pi
    assert found.apart == pytest.approx(max(mean, abs(bow) - mean), abs=0.35)
    if bow == 0:
        assert found.real == pytest.approx(found.foreseen, abs=0.2)
    elif bow > 0:
        assert found.real > found.foreseen + 0.3 * bow
        assert found.real_side == ("right" if is_warp else "back")
        standing = compared(sheet, state, [tuple(p) for p in real], stands=True)
        assert standing.real_side == ("right" if is_warp else "top")
    assert f"{found.apart:.1f} mm apart" in found.words


def test_what_is_no_stripe_of_the_pad_is_refused(sheet):
    state = sheet.flat()
    for wrong, words in (
        ([(100, 100), (120, 100)], "Draw along a stripe"),
        ([(100, 100)], "Draw along a stripe"),
        ([(100, 100), (100, 900)], "within the edge"),
        ([(80, 60), (250, 230)], "along no thread"),
    ):
        with pytest.raises(BadInput) as refused:
            compared(sheet, state, wrong)
        assert words in refused.value.told
