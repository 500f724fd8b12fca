"""Gather: what the job is made of asks for its tools; what is owned is not bought; worth it counts all of it."""

from __future__ import annotations

from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zonatome.core.errors import BadInput
from zonatome.core.shop.estimate import STEPS
from zonatome.core.shop.gather import TOOLS, Needs, needle_words, to_buy, tools_for, worth_it
from zonatome.core.shop.work import WORK
from zonatome.core.strip.record import FIXINGS

needs = st.builds(
    Needs,
    held=st.sets(st.sampled_from(FIXINGS)),
    works=st.sets(st.sampled_from(sorted(WORK))),
    closings=st.sets(st.sampled_from(["ladder", "tack_strip", "gripper_strip", "glued"])),
    legs=st.dictionaries(st.sampled_from([0.0, 6.0, 10.0, 14.0]), st.integers(1, 900), max_size=3),
    trims=st.sets(st.sampled_from(["gimp", "nails", "welt", "double_welt"])),
    thickness=st.none() | st.floats(0.2, 4),
    has_coats=st.booleans(),
)


def detail(found, key: str) -> str | None:
    return next((one.detail for one in found if one.key == key), None)


@given(needs, st.sets(st.sampled_from(sorted(TOOLS))))
def test_tools_stand_in_the_order_of_the_steps_and_only_what_is_missing_is_bought(job, owned):
    found = tools_for(job)
    steps = [STEPS.index(one.step) for one in found]
    assert steps == sorted(steps)
    assert len({one.key for one in found}) == len(found)
    assert (detail(found, "stapler") is not None) == bool(job.legs)
    assert (detail(found, "stretcher") is not None) == ("strap" in job.works)
    assert (detail(found, "nail_hammer") is not None) == ("nails" in job.trims)
    buy = to_buy(found, owned)
    assert {one.key for one in buy.tools} == {one.key for one in found if one.price} - owned
    assert buy.cost == sum((TOOLS[one.key].price for one in buy.tools), Decimal(0))
    assert to_buy(found, set(TOOLS)).cost == 0
    more = tools_for(Needs(held=FIXINGS, works=WORK, closings=["ladder", "tack_strip", "gripper_strip"]))
    assert {one.key for one in found} - {"stapler", "glue_gun", "nail_hammer", "brushes"} <= {one.key for one in more}


def test_by_hand_a_drop_in_seat_and_a_wing_chair():
    # a drop-in seat: staples out, foam glued and cut, wrapped and stapled: no machine, no stretcher
    seat = tools_for(Needs(held=["staples"], works=["foam_cut", "foam_glued", "staple"], legs={10.0: 60}))
    assert [one.key for one in seat if one.step in ("strip", "pad", "fasten")] == [
        "mask", "lifter", "camera", "labels", "foam_blade", "spreader", "stapler",
    ]  # fmt: skip
    assert detail(seat, "lifter") == "for staples"
    assert detail(seat, "stapler") == "10 mm legs, about 60"
    wing = tools_for(
        Needs(
            held=["tack strip", "hand stitches", "screws"], works=["coil", "seam", "welt_sewn", "zip", "button"],
            closings=["ladder", "gripper_strip"], legs={14.0: 300, 0.0: 40}, trims=["gimp"], thickness=1.6,
            is_leathery=True, cord=5.0, has_coats=True, grits=(120, 180), is_masked=True,
        )
    )  # fmt: skip
    assert detail(wing, "stapler") == "14 mm legs, about 300; the leg of about 40 is not known yet: measure the rail"
    assert detail(wing, "machine") == "needle 110 (18), cutting point, strong polyester thread; try it on scrap"
    assert detail(wing, "welt_foot") == "for a cord of 5 mm"
    assert detail(wing, "brushes") == "120, 180"
    keys = {"mallet", "ripper", "drivers", "spring_pliers", "zip_foot", "curved", "button_needle", "soft_hammer"}
    assert keys < {one.key for one in wing}
    assert needle_words(None).startswith("strong polyester thread")
    assert needle_words(0.5).startswith("needle 90 (14)")


def test_worth_it_spreads_the_tools_and_counts_the_old_piece():
    # 300 asked, 40 paid for the old chair, tools of 120 that serve ten: 352 against 400 new
    found = worth_it(asked=Decimal(300), old_piece=Decimal(40), tools=Decimal(120), spread=10, new=Decimal(400))
    assert (found.tools, found.in_all, found.saves) == (12, 352, 48)
    with pytest.raises(BadInput):
        worth_it(asked=Decimal(1), old_piece=Decimal(0), tools=Decimal(0), spread=0, new=Decimal(1))
