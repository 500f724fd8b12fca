"""What can come off, what lies over it, the least to reach a part, and the way back."""

from itertools import combinations, permutations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.makes import EVERY_KIND, EVERY_MAKE, MAKES
from tests.often import examples
from zonatome.core.errors import BadInput
from zonatome.core.strip.order import (
    WasOff,
    can_come_off,
    learned,
    least_set,
    lying_over,
    rebuild_order,
    taken_off,
    usual_order,
    way_back,
)
from zonatome.core.strip.pulling import Pace, fixed_edge, pace_of, pulling, staples_in
from zonatome.core.survey.furniture import add_part, put_over
from zonatome.core.survey.kind import Kind, Part
from zonatome.core.survey.kinds import KINDS, SQUARE_STOOL, WING
from zonatome.core.survey.restyle import centre_stripe, sawn_off


@st.composite
def layered(draw, most=14):
    """Furniture of up to `most` panels that lie over each other without a circle."""
    count = draw(st.integers(1, most))
    keys = draw(st.permutations([f"p{n}" for n in range(count)]))
    pairs = draw(st.sets(st.sampled_from(list(combinations(keys, 2))), max_size=24)) if count > 1 else ()
    parts = tuple(Part(k, k, k, width=100, height=100, held=("staples",)) for k in sorted(keys))
    return Kind("made_up", "Made up", parts, tuple(sorted(pairs)), ())


def comes_off(kind, these, wished):
    """Whether taking off only these, in some order, gets the wished ones off: by trying, not by the graph's rules.

    A cover that is sewn in one can only be taken off whole.
    """
    off: set[str] = set()
    moving = True
    while moving:
        moving = False
        for key in these:
            cover = kind.sewn_with(key)
            free = all(over in off or over in cover for under, over in kind.over if under in cover)
            if key not in off and free and set(cover) <= {*these, *off}:
                off.update(cover)
                moving = True
    return set(wished) <= off


@EVERY_MAKE
def test_the_usual_order_takes_everything_off_and_never_from_under_something(kind):
    order = usual_order(kind)
    assert sorted(order) == sorted(p.key for p in kind.parts)
    for under, over in kind.over:
        if over not in kind.sewn_with(under):
            assert order.index(over) < order.index(under), f"{under} came off from under {over}"


@EVERY_KIND
@examples(8)
@given(data=st.data())
def test_any_order_that_the_graph_allows_ends_with_everything_off_and_goes_back_reversed(kind, data):
    off: tuple[str, ...] = ()
    while len(off) < len(kind.parts):
        ready = can_come_off(kind, off)
        assert ready, "stuck with parts still on"
        off = taken_off(kind, off, data.draw(st.sampled_from(ready)))
    back = rebuild_order(kind, off)
    assert back == off[::-1]
    for under, over in kind.over:
        assert over in kind.sewn_with(under) or back.index(under) < back.index(over)


@EVERY_MAKE
def test_the_least_set_for_each_part_works_and_loses_its_way_without_any_member(kind):
    for part in kind.parts:
        reach = least_set(kind, [part.key])
        assert comes_off(kind, reach.order, [part.key])
        for member in reach.order:
            assert not comes_off(kind, [k for k in reach.order if k != member], [part.key]), (
                f"{member} need not come off for {part.key}"
            )
        assert set(reach.survives) == set(reach.order) - {part.key}


@pytest.mark.parametrize("kind", [k for k in KINDS.values() if len(k.parts) <= 7], ids=lambda k: k.key)
def test_on_small_kinds_no_smaller_set_reaches_it_tried_one_by_one(kind):
    keys = [p.key for p in kind.parts]
    for wished in (c for n in (1, 2) for c in combinations(keys, n)):
        least = least_set(kind, wished).order
        for size in range(len(least)):
            assert not any(comes_off(kind, these, wished) for these in combinations(keys, size))


@given(layered(), st.data())
def test_on_any_furniture_the_least_set_is_least_in_order_and_minds_what_is_off(kind, data):
    keys = [p.key for p in kind.parts]
    wished = data.draw(st.lists(st.sampled_from(keys), min_size=1, max_size=3, unique=True))
    off: tuple[str, ...] = ()
    for _ in range(data.draw(st.integers(0, len(keys)))):
        off = taken_off(kind, off, data.draw(st.sampled_from(can_come_off(kind, off))))
    reach = least_set(kind, wished, off)
    assert comes_off(kind, [*off, *reach.order], wished)
    for member in reach.order:
        assert not comes_off(kind, [*off, *(k for k in reach.order if k != member)], wished)
    done = off
    for key in reach.order:
        done = done if key in done else taken_off(kind, done, key)  # the order itself is allowed, step by step


def test_the_recessed_back_wants_everything_off_and_what_goes_back_is_named():
    make = next(p.values[0] for p in MAKES if p.id == "drop_in+recessed_back")
    reach = least_set(make, ["outside_back"])
    assert reach.order == ("back_welt", "inside_back", "outside_back")
    assert reach.survives == ("back_welt", "inside_back")
    assert least_set(KINDS["wing"], ["outside_back"]).survives == ("feet", "bottom_cloth")
    assert least_set(KINDS["wing"], ["outside_back"], ["feet", "bottom_cloth", "outside_back"]).order == ()


def test_what_lies_over_a_part_is_named_and_refused():
    assert lying_over(SQUARE_STOOL, "seat", ()).under == ("bottom_cloth",)
    with pytest.raises(BadInput, match="bottom cloth to come off first"):
        taken_off(SQUARE_STOOL, ("screws",), "seat")
    with pytest.raises(BadInput, match="is off"):
        taken_off(SQUARE_STOOL, ("screws",), "screws")
    with pytest.raises(BadInput, match="one of"):
        taken_off(SQUARE_STOOL, (), "antler")


def test_parts_that_lie_over_each_other_in_a_circle_are_refused():
    circle = Kind("knot", "Knot", (Part("a", "A", "a"), Part("b", "B", "b")), (("a", "b"), ("b", "a")), ())
    with pytest.raises(BadInput, match="circle"):
        usual_order(circle)
    for under, over in permutations(["seat", "screws"]):
        if (under, over) == ("screws", "seat"):
            with pytest.raises(BadInput, match="no circle"):
                put_over(SQUARE_STOOL, under, over)


@given(layered(), st.data())
def test_the_graph_learns_from_whatever_order_things_came_off_in(kind, data):
    order = data.draw(st.permutations([p.key for p in kind.parts]))
    off: tuple[str, ...] = ()
    for key in order:
        kind, wrong = learned(kind, off, key)
        assert not set(wrong) & set(off)
        off = taken_off(kind, off, key)
    assert off == tuple(order)
    assert rebuild_order(kind, off) == off[::-1]
    assert learned(kind, (), order[0])[1] == ()


# --- the way back ------------------------------------------------------------------------------------


def test_the_way_back_marks_new_reused_and_changed_and_leaves_out_what_is_not_made_again():
    kind = sawn_off(centre_stripe(WING, "inside_back", 150, 500).kind, "wing_welt").kind
    off = usual_order(kind)
    record = {
        "outside_back": WasOff(("tack strip",), ("gripper strip",)),
        "bottom_cloth": WasOff(("staples",), (), goes_back=True),
        "seat": WasOff(("staples",), ("staples",)),
    }
    lines = {line.key: line for line in way_back(kind, off, record)}
    assert "wing_welt" not in lines
    assert (lines["outside_back"].state, lines["outside_back"].held) == ("changed", ("gripper strip",))
    assert "before: tack strip" in lines["outside_back"].words
    assert lines["bottom_cloth"].state == "reused"
    assert lines["feet"].state == "reused"
    assert lines["seat"].state == "new"
    assert lines["inside_back_left_strip"].words == "new, was not there before"
    order = list(lines)
    for under, over in kind.over:
        if under in order and over in order and over not in kind.sewn_with(under):
            assert order.index(under) < order.index(over)


@given(layered(10), st.data())
def test_what_is_added_finds_its_place_between_what_it_lies_over_and_under(kind, data):
    keys = [p.key for p in kind.parts]
    made = add_part(kind, "Band", what="trim", cover="new")
    for key in data.draw(st.sets(st.sampled_from(keys), max_size=3)):
        made = put_over(made, key, "band")
    off: tuple[str, ...] = ()
    while len(off) < len(keys):
        off = taken_off(made, off, data.draw(st.sampled_from(can_come_off(made, off))))
    back = rebuild_order(made, off)
    assert [k for k in back if k != "band"] == list(reversed(off))
    for under, over in made.over:
        assert back.index(under) < back.index(over)


# --- staples and time --------------------------------------------------------------------------------


def test_staples_are_the_stapled_edge_over_the_pitch_times_the_rows():
    seat = SQUARE_STOOL.part("seat")  # 370 x 370: an edge of 1480
    assert staples_in(seat, pitch=20) == 74
    assert staples_in(seat, pitch=20, rows=2) == 148
    assert staples_in(seat, edge=500, pitch=25) == 20
    assert staples_in(SQUARE_STOOL.part("screws")) == 0
    assert staples_in(SQUARE_STOOL.part("screws"), held=("tacks",), edge=200, pitch=20) == 10
    back = WING.part(
        "outside_back"
    )  # card strip above and staples below are stapled, the tack strips at the sides are not
    assert fixed_edge(back) == 2 * 520
    for wrong in ({"pitch": 1}, {"rows": 0}, {"pitch": 500}):
        with pytest.raises(BadInput, match=next(iter(wrong))):
            staples_in(seat, **wrong)


def test_time_is_the_staples_over_the_pace_and_leaving_flush_ones_saves_most_of_it():
    seat = SQUARE_STOOL.part("seat")
    told = pulling(seat, pitch=20, pace=Pace(37))
    assert (told.staples, told.handled, told.minutes) == (74, 74, pytest.approx(2 + 2))
    flush = pulling(seat, pitch=20, pace=Pace(37), way="flush")
    assert flush.staples == 74
    assert flush.handled == 26
    assert flush.minutes < told.minutes
    with pytest.raises(BadInput, match="a pace above 0"):
        pulling(seat, pace=Pace(0))
    with pytest.raises(BadInput, match="one of"):
        pulling(seat, way="half")


def test_the_workroom_s_own_pace_takes_over_at_the_third_timed_entry():
    assert pace_of([]).a_minute == 8
    assert not pace_of([(60, 10), (40, 10)]).is_own
    assert "1 more timed" in pace_of([(60, 10), (40, 10), (0, 5), (30, 0)]).words
    own = pace_of([(60, 10), (40, 10), (20, 4)])
    assert own.is_own
    assert own.a_minute == pytest.approx(5)
    assert "your own pace, 5.0 a minute from 3 timed" in own.words
