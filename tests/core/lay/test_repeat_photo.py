"""One repeat found in photos of cloth that are drawn here with a known one."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.cloth_photos import HIGH, WIDE, photo_of
from tests.often import examples
from zonatome.core.errors import BadInput
from zonatome.core.lay.pattern.centring import repeat_of
from zonatome.core.lay.pattern.repeat_photo import one_repeat, repeat_in


def in_light(even, across, along, bend):
    """A photo under a lamp to the side that bends, warm: up to `across` and `along` brighter at its borders."""
    y, x = np.meshgrid(np.linspace(-1, 1, HIGH), np.linspace(-1, 1, WIDE), indexing="ij")
    light = 0.8 * (1 + across * x + along * y - bend * (x**2 + y**2)) * np.array([1.0, 0.97, 0.9])[:, None, None]
    return np.clip(even * light.transpose(1, 2, 0), 0, 255).astype(np.uint8)


@examples(25)
@given(
    st.sampled_from(["stripe", "check", "half_drop"]),
    st.floats(90, 200),
    st.floats(0.75, 1.3),
    st.floats(0.7, 1.1),
    st.tuples(st.floats(0, 60), st.floats(0, 60)),
    st.floats(0, 12),
    st.tuples(st.floats(-0.3, 0.3), st.floats(-0.3, 0.3), st.floats(0, 0.15)),
    st.booleans(),
    st.integers(0, 9),
)
def test_the_repeat_of_a_photo_is_the_one_it_was_drawn_with_however_it_is_lit(
    pattern, across, shape, near, first, noise, lamp, measured, seed
):
    along = None if pattern == "stripe" else across * shape
    scale = near * 200 / max(across, along or 0.0)
    photo = photo_of(pattern, along, across, scale=scale, first=first, noise=noise, shade=0, seed=seed)
    known = {"along": along, "across": across} if measured else {}
    found = repeat_in(in_light(photo, *lamp), pattern, **known)
    assert found is not None
    assert 0 <= found.left < found.right <= 1 + 1e-9
    assert 0 <= found.upper < found.lower <= 1 + 1e-9
    assert (found.right - found.left) * WIDE / scale == pytest.approx(across, rel=0.015)
    if along:
        assert (found.lower - found.upper) * HIGH / scale == pytest.approx(along, rel=0.015)
        middle = (found.upper + found.lower) / 2 * HIGH / scale, (found.left + found.right) / 2 * WIDE / scale
        off = repeat_of(pattern, along=along, across=across, first=first).off(middle, along=True, across=True)
        assert max(map(abs, off)) < 0.12 * across, "a motif stands in its middle"


@pytest.mark.parametrize("pattern", ["stripe", "check", "half_drop"])
def test_where_there_is_no_repeat_none_is_found(pattern):
    grain = np.random.default_rng(3).integers(0, 255, (HIGH, WIDE, 3)).astype(np.uint8)
    assert repeat_in(grain, pattern, along=100, across=100) is None
    assert repeat_in(np.full((HIGH, WIDE, 3), 128, np.uint8), pattern) is None
    one = photo_of("check", 900, 900, scale=0.5, first=(500, 500))
    assert repeat_in(one, "check", along=900, across=900) is None, "less than one and a half of it"


def joins(cell):
    """How far the borders of one repeat are apart where they meet the next one, across and along."""
    borders = (cell[:, :3], cell[:, -3:]), (cell[:3], cell[-3:])
    return [float(np.abs(a.mean(axis=(0, 1)) - b.mean(axis=(0, 1))).max()) for a, b in borders]


@examples(20)
@given(
    st.sampled_from(["stripe", "check", "half_drop"]),
    st.floats(-0.3, 0.3),
    st.floats(-0.3, 0.3),
    st.floats(0, 0.15),
    st.floats(0, 60),
    st.integers(0, 9),
)
def test_a_repeat_cut_from_a_photo_lit_from_one_side_shows_no_joins(pattern, across, along, bend, first, seed):
    along_mm = None if pattern == "stripe" else 170
    lit = in_light(
        photo_of(pattern, along_mm, 150, scale=1.2, first=(first, 20), noise=4, shade=0, seed=seed),
        across,
        along,
        bend,
    )
    found = repeat_in(lit, pattern, along=along_mm, across=150)
    assert found is not None
    cell = one_repeat(lit, (found.left, found.upper, found.right, found.lower))
    assert cell.shape[1] == pytest.approx(150 * 1.2, abs=2)
    assert max(joins(cell)) < 3.0, "a lamp to the side alone makes up to 40"
    box = round(found.upper * HIGH), round(found.lower * HIGH), round(found.left * WIDE), round(found.right * WIDE)
    seen = lit[box[0] : box[1], box[2] : box[3]]
    assert cell.mean(axis=(0, 1)) == pytest.approx(seen.mean(axis=(0, 1)), abs=4), (
        "neither paler nor darker than it was"
    )


def test_a_photo_of_one_repeat_only_is_left_as_it_is_and_a_sliver_is_no_repeat():
    photo = photo_of("check", 150, 150, scale=2, first=(75, 75), shade=30)
    assert (one_repeat(photo, (0, 0, 1, 1)) == photo).all(), "nothing to tell its light by"
    with pytest.raises(BadInput, match="one whole repeat"):
        one_repeat(photo, (0.5, 0, 0.505, 1))
