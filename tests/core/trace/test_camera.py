"""The camera is worked out from sixteen corners alone, whatever tilt, turn and lens they were seen through."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from zonatome.core.errors import NoAnswer
from zonatome.core.trace.mat import IDS, Camera, Mat, camera_from

WIDTH, HEIGHT = 4000, 3000
MIDDLE, RADIUS = (WIDTH / 2 - 0.5, HEIGHT / 2 - 0.5), float(np.hypot(WIDTH, HEIGHT) / 2)


def looked_at(mat: Mat, tilt: float, roll: float, lens: float) -> Camera:
    """A camera above the mat's middle, tilted and turned by so many degrees."""
    t, r = np.radians(tilt), np.radians(roll)
    turned = np.array([[1, 0, 0], [0, np.cos(t), -np.sin(t)], [0, np.sin(t), np.cos(t)]]) @ np.array(
        [[np.cos(r), -np.sin(r), 0], [np.sin(r), np.cos(r), 0], [0, 0, 1]]
    )
    view = turned @ np.diag([1.0, -1.0, -1.0])
    focal = WIDTH * 1.05
    away = max(mat.width, mat.height / 0.75) * 1.3 / WIDTH * focal
    plane = np.column_stack(
        [view[:, 0], view[:, 1], -view @ np.array([mat.width / 2, mat.height / 2, 0]) + np.array([0, 0, away])]
    )
    homography = np.array([[focal, 0, MIDDLE[0]], [0, focal, MIDDLE[1]], [0, 0, 1]]) @ plane
    return Camera(homography / homography[2, 2], lens, MIDDLE, RADIUS, (0.0,) * 4, 0.0)


def corners(mat: Mat, camera: Camera, turns: list[float], ink: float = 0.0) -> dict[int, np.ndarray]:
    """Where that camera sees each marker's corners, each marker lying a little askew, its ink run by so much."""
    half = mat.marker / 2 * (1 + ink)
    square = np.array([[-half, half], [half, half], [half, -half], [-half, -half]])
    found = {}
    for key, centre, degrees in zip(IDS, mat.centres, turns, strict=True):
        a = np.radians(degrees)
        found[key] = camera.pixels(centre + square @ np.array([[np.cos(a), np.sin(a)], [-np.sin(a), np.cos(a)]]))
    return found


@given(
    st.floats(0, 25), st.floats(-12, 12), st.floats(-0.014, 0.014), st.lists(st.floats(-6, 6), min_size=4, max_size=4),
    st.floats(-0.01, 0.01), st.floats(400, 2000), st.floats(400, 1500),
)  # fmt: skip
def test_every_point_of_the_table_is_found_where_it_is_seen(tilt, roll, lens, turns, ink, width, height):
    mat = Mat(width, height)
    true = looked_at(mat, tilt, roll, lens)
    fitted = camera_from(corners(mat, true, turns, ink), WIDTH, HEIGHT, mat)
    assert fitted.error < 0.02
    assert fitted.lens == pytest.approx(lens, abs=2e-4)
    assert np.degrees(fitted.turns) == pytest.approx(turns, abs=0.05)
    table = np.stack(np.meshgrid(np.linspace(-60, width + 60, 9), np.linspace(-60, height + 60, 9)), axis=-1).reshape(
        -1, 2
    )
    assert np.abs(fitted.pixels(table) - true.pixels(table)).max() < 0.3


@given(st.integers(0, 10**6), st.floats(0, 20))
def test_corners_that_are_a_little_out_put_the_table_out_by_no_more_than_that(seed, tilt):
    mat = Mat(1200, 800)
    true = looked_at(mat, tilt, 2, 0.006)
    chance = np.random.default_rng(seed)
    found = {k: c + chance.normal(0, 0.08, c.shape) for k, c in corners(mat, true, [1, -1, 0, 2]).items()}
    fitted = camera_from(found, WIDTH, HEIGHT, mat)
    table = np.stack(np.meshgrid(np.linspace(0, 1200, 7), np.linspace(0, 800, 7)), axis=-1).reshape(-1, 2)
    per_mm = true.scale_at((600, 400))
    assert np.linalg.norm(fitted.pixels(table) - true.pixels(table), axis=1).max() / per_mm < 0.6
    assert fitted.error < 0.2


@pytest.mark.parametrize(
    "spoil",
    [
        pytest.param(lambda f: f | {0: f[1], 1: f[0]}, id="two markers in each other's place"),
        pytest.param(lambda f: {k: np.roll(c, 1, axis=0) for k, c in f.items()}, id="all of them lying on their sides"),
        pytest.param(lambda f: f | {2: f[2] + 400}, id="one far from where it should lie"),
        pytest.param(lambda f: {k: np.full((4, 2), 7.0) for k in f}, id="all in one point"),
    ],
)
def test_markers_that_lie_otherwise_than_the_mat_says_are_noticed(spoil):
    mat = Mat(1200, 800)
    with pytest.raises(NoAnswer, match="markers"):
        camera_from(spoil(corners(mat, looked_at(mat, 8, 1, 0.0), [0, 0, 0, 0])), WIDTH, HEIGHT, mat)
