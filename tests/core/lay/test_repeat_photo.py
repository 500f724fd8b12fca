"""One repeat found in photos of cloth that are drawn here with a known one."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.cloth_photos import HIGH, WIDE, photo_of
from zonatome.core.lay.motif import repeat_of
from zonatome.core.lay.repeat_photo import repeat_in


@settings(max_examples=25, deadline=None)
@given(
    st.sampled_from(["stripe", "check", "half_drop"]), st.floats(90, 200), st.floats(0.75, 1.3), st.floats(0, 60), st.floats(0, 60),
    st.floats(0, 12), st.integers(0, 9),
)  # fmt: skip
def test_the_repeat_of_a_photo_is_the_one_it_was_drawn_with(pattern, across, shape, x, y, noise, seed):
    along = None if pattern == "stripe" else across * shape
    scale = 200 / max(across, along or 0.0)
    found = repeat_in(
        photo_of(pattern, along, across, scale=scale, first=(x, y), noise=noise, seed=seed), pattern, along=along, across=across
    )
    assert found is not None
    assert 0 <= found.left < found.right <= 1 + 1e-9
    assert 0 <= found.upper < found.lower <= 1 + 1e-9
    assert (found.right - found.left) * WIDE / scale == pytest.approx(across, rel=0.015)
    if along:
        assert (found.lower - found.upper) * HIGH / scale == pytest.approx(along, rel=0.015)
        middle = (found.upper + found.lower) / 2 * HIGH / scale, (found.left + found.right) / 2 * WIDE / scale
        off = repeat_of(pattern, along=along, across=across, first=(x, y)).off(middle, along=True, across=True)
        assert max(map(abs, off)) < 0.12 * across, "a motif stands in its middle"


@pytest.mark.parametrize("pattern", ["stripe", "check", "half_drop"])
def test_where_there_is_no_repeat_none_is_found(pattern):
    grain = np.random.default_rng(3).integers(0, 255, (HIGH, WIDE, 3)).astype(np.uint8)
    assert repeat_in(grain, pattern, along=100, across=100) is None
    assert repeat_in(np.full((HIGH, WIDE, 3), 128, np.uint8), pattern) is None
    one = photo_of("check", 900, 900, scale=0.5, first=(500, 500))
    assert repeat_in(one, "check", along=900, across=900) is None, "less than one and a half of it"
