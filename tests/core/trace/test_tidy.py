"""A tidy outline: straight where it was nearly so, corners kept, few points, and never far from what it was."""

import math
import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.often import examples
from zonatome.core.errors import BadInput
from zonatome.core.outline import outline_of
from zonatome.core.trace.tidy import FINENESS, STRAIGHT, tidied


def ragged(corners, seed, step=2.0, by=0.2):
    """An outline through corners, in short steps, each a little off."""
    points, chance = [], random.Random(seed)
    for (ax, ay), (bx, by_) in zip(corners, [*corners[1:], corners[0]], strict=True):
        count = max(1, int(math.dist((ax, ay), (bx, by_)) / step))
        for k in range(count):
            off = (0, 0) if k == 0 else (chance.uniform(-by, by), chance.uniform(-by, by))
            points.append((ax + (bx - ax) * k / count + off[0], ay + (by_ - ay) * k / count + off[1]))
    return outline_of(points)


@given(st.integers(0, 10**6), st.floats(120, 700), st.floats(120, 700), st.floats(0.5, 1))
def test_a_ragged_four_sided_cover_becomes_four_points_at_its_corners(seed, width, height, far):
    corners = [(0, 0), (width, 0), (width * (1 + far) / 2, height), (width * (1 - far) / 2, height)]
    tidy = tidied(ragged(corners, seed))
    assert len(tidy.points) == 4
    for corner in corners:
        assert min(math.dist(corner, p) for p in tidy.points) < 1.5


@examples(30)
@given(st.floats(60, 400), st.floats(0.6, 1))
def test_a_round_one_keeps_its_roundness_with_fewer_points(radius, flat):
    ring = outline_of(
        [(radius * math.cos(t / 400 * math.tau), radius * flat * math.sin(t / 400 * math.tau)) for t in range(400)]
    )
    tidy = tidied(ring)
    assert len(tidy.points) < 130
    assert tidy.polygon.hausdorff_distance(ring.polygon) <= FINENESS + 0.05


@given(st.integers(0, 10**6), st.lists(st.floats(80, 300), min_size=5, max_size=9))
def test_nothing_moves_further_than_the_bounds_say(seed, radii):
    star = [
        (r * math.cos(n / len(radii) * math.tau), r * math.sin(n / len(radii) * math.tau)) for n, r in enumerate(radii)
    ]
    rough = ragged(star, seed)
    tidy = tidied(rough)
    assert tidy.polygon.is_valid
    assert tidy.polygon.hausdorff_distance(rough.polygon) < STRAIGHT + FINENESS + 0.6
    assert len(tidy.points) <= len(rough.points)


def test_bounds_that_would_change_the_shape_are_refused():
    square = outline_of([(0, 0), (100, 0), (100, 100), (0, 100)])
    for wrong in ({"straight": 0}, {"fineness": 50}):
        with pytest.raises(BadInput, match=next(iter(wrong))):
            tidied(square, **wrong)
    assert tidied(square).points == square.points
