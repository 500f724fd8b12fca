"""A frame's finish: worked by hand; holes that a staple blocks."""

import math
from datetime import UTC, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zonatome.core.errors import BadInput
from zonatome.core.finish.coats import FINISHES, Coat, blocked, finish_plan


def test_a_chair_s_frame_by_hand():
    """0.8 m2 scraped: 36; sanded with two grits: 12 each; primer and two of paint: 10 + 12 x 0.8 = 19.6 each.

    Primer 0.8 / 10 x 1.1 = 0.088 l; paint 2 x 0.8 / 11 x 1.1 = 0.16 l. Waits 240 + 180 + 180.
    """
    plan = finish_plan(0.8, [Coat("primer", 240), Coat("paint", 180), Coat("paint", 180)], prepared="scrape",
                       grits=(120, 180))  # fmt: skip
    assert plan.minutes == pytest.approx(36 + 24 + 3 * 19.6)
    assert plan.waits == 600
    assert dict(plan.litres) == {"primer": pytest.approx(0.088), "paint": pytest.approx(0.16)}
    assert [s.what for s in plan.steps][-2:] == ["paint, coat 1 of 2", "paint, coat 2 of 2"]
    at = datetime(2026, 12, 1, 8, 0, tzinfo=UTC)
    first, second, _ = plan.waits_from(at)
    assert (first[1] - at).total_seconds() / 60 == pytest.approx(36 + 24 + 19.6)
    assert (second[1] - first[2]).total_seconds() / 60 == pytest.approx(19.6), "the next coat when the last is dry"


def test_by_hand_a_chair_that_is_waxed_with_its_cloth_on():
    """2.4 m of edge: 10 + 4 * 2.4 to mask, 10 + 12 * 0.4 to wax and 2.4 for the tape, while the wax is soft; 2.64 m."""
    plan = finish_plan(0.4, [Coat("wax", 60)], grits=(), masked=2400)
    assert [(step.minutes, step.wait) for step in plan.steps] == [(pytest.approx(19.6), 0), (pytest.approx(17.2), 60)]
    assert "then the tape off while it is soft" in plan.steps[-1].what
    assert plan.tape == pytest.approx(2640)


@pytest.mark.parametrize("wrong", [
    {"area": 0}, {"area": math.nan}, {"area": 1, "grits": (240, 80)}, {"area": 1, "grits": (5,)},
    {"area": 1, "prepared": "burn"}, {"area": 1, "coats": [Coat("oil", 60)] * 13},
])  # fmt: skip
def test_what_cannot_be_finished_is_refused(wrong):
    with pytest.raises(BadInput):
        finish_plan(**{"coats": [], **wrong})


def test_coats_of_what_there_is_not_are_refused():
    for finish, dries in (("lacquer", 60), ("oil", 0), ("oil", 1e9), ("oil", math.inf)):
        with pytest.raises(BadInput):
            Coat(finish, dries)
    assert all(made.covers > 0 and made.note for made in FINISHES.values())


@given(st.lists(st.tuples(st.floats(0, 400), st.floats(0, 400), st.floats(2, 12)), max_size=6),
       st.lists(st.tuples(st.floats(0, 400), st.floats(0, 400)), max_size=40))  # fmt: skip
def test_blocked_holes_are_named_exactly(holes, staples):
    named = blocked(holes, staples, 10)
    for n, (x, y, r) in enumerate(holes):
        assert (n in named) == any(math.dist((x, y), s) < r + 5 for s in staples)
