"""A job's own furniture: whatever is added, dropped, split or joined, it holds together and can be drawn and kept."""

import json
from itertools import combinations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import Polygon

from zonatome.core.errors import BadInput
from zonatome.core.formats.furniture_json import read_furniture, write_furniture
from zonatome.core.joins import JOINS
from zonatome.core.strip.order import usual_order
from zonatome.core.survey.furniture import add_part, checked, drop_part, not_over, put_over, rename_part
from zonatome.core.survey.joining import join_panels, part_panels
from zonatome.core.survey.kind import SIDES
from zonatome.core.survey.kinds import KINDS, SIDE_CHAIR, SQUARE_STOOL, WING
from zonatome.core.survey.opened_out import opened_out
from zonatome.core.survey.splitting import split_part


def drawn(kind):
    return {d.key: Polygon(d.points) for d in opened_out(kind).parts}


def touch(kind, one, other):
    shapes = drawn(kind)
    return shapes[one].buffer(0.01).intersection(shapes[other].exterior).length > 20


@given(st.sampled_from(list(KINDS.values())), st.data())
def test_after_any_run_of_changes_it_holds_is_drawn_and_comes_back_from_its_file(kind, data):
    for _ in range(data.draw(st.integers(1, 7))):
        panels = [p.key for p in kind.parts if p.is_cut]
        key = data.draw(st.sampled_from([p.key for p in kind.parts]))
        one, other = data.draw(st.sampled_from(panels)), data.draw(st.sampled_from(panels))
        side, join = data.draw(st.sampled_from(SIDES)), data.draw(st.sampled_from(sorted(JOINS)))
        change = data.draw(st.sampled_from(["add", "drop", "rename", "split", "over", "not", "join", "part"]))
        try:
            if change == "add":
                kind = add_part(
                    kind, "Band", width=data.draw(st.floats(20, 900)), height=150, on=one, side=side, join=join
                )
            elif change == "drop":
                kind = drop_part(kind, key)
            elif change == "rename":
                kind = rename_part(kind, key, "Another name, left")
            elif change == "split":
                kind = split_part(
                    kind, one, into=(("A", 0.3), ("B", 0.7)), way=data.draw(st.sampled_from(["across", "along"]))
                )
            elif change == "over":
                kind = put_over(kind, key, data.draw(st.sampled_from([p.key for p in kind.parts])))
            elif change == "not" and kind.over:
                kind = not_over(kind, *data.draw(st.sampled_from(kind.over)))
            elif change == "join":
                kind = join_panels(kind, one, side, other, data.draw(st.sampled_from(SIDES)), join)
            elif change == "part":
                kind = part_panels(kind, one, other)
        except BadInput:
            continue
    assert checked(kind) is kind
    assert sorted(usual_order(kind)) == sorted(p.key for p in kind.parts)
    shapes = drawn(kind)
    assert sorted(shapes) == sorted(p.key for p in kind.parts if p.is_cut)
    for a, b in combinations(shapes.values(), 2):
        assert a.intersection(b, grid_size=0.01).area < 3.0
    assert read_furniture(json.loads(json.dumps(write_furniture(kind)))) == kind


@pytest.mark.parametrize("kind", KINDS.values(), ids=KINDS)
def test_every_kind_comes_back_from_its_file(kind):
    assert read_furniture(json.loads(json.dumps(write_furniture(kind)))) == kind


def test_a_band_added_below_the_seat_lies_against_it_and_what_lay_there_moves_outward():
    kind = add_part(WING, "Upper band", width=560, height=90, on="seat", side="bottom", join="sewn")
    assert touch(kind, "seat", "upper_band")
    assert touch(kind, "upper_band", "front_band")
    assert not touch(kind, "seat", "front_band")
    assert kind.part("front_band").on == "upper_band"
    assert any(m.of("upper_band") and m.of("front_band") for m in kind.meets)


def test_a_dropped_wing_leaves_the_order_that_went_through_it():
    kind = drop_part(drop_part(WING, "wing_welt"), "outside_wing_left")
    assert ("inside_back", "outside_arm_left") in kind.over
    assert not kind.has("outside_wing_left")
    assert kind.part("outside_wing_right").mirror is None
    assert sorted(drawn(kind)) == sorted(p.key for p in kind.parts if p.is_cut)
    alone = drop_part(drop_part(SQUARE_STOOL, "screws"), "bottom_cloth")
    with pytest.raises(BadInput, match="parts"):
        drop_part(alone, "seat")


@pytest.mark.parametrize("way", ["across", "along"])
def test_a_split_panel_lies_strip_by_strip_where_it_lay_and_its_neighbours_hold_on(way):
    kind = split_part(WING, "inside_back", into=(("First", 0.25), ("Second", 0.5), ("Third", 0.25)), way=way, keeps=1)
    assert touch(kind, "first", "inside_back")
    assert touch(kind, "inside_back", "third")
    assert kind.part("inside_back").name == "Second"
    size = "width" if way == "across" else "height"
    assert sum(getattr(kind.part(k), size) for k in ("first", "inside_back", "third")) == pytest.approx(
        getattr(WING.part("inside_back"), size)
    )
    for under, over in WING.over:  # whatever lay over or under it lies so with every strip
        for key in ("first", "third"):
            if "inside_back" in (under, over):
                assert tuple(key if k == "inside_back" else k for k in (under, over)) in kind.over
    ends = {
        "across": ("first", "inside_wing_right", "third", "inside_wing_left"),
        "along": ("first", "seat", "third", "outside_back"),
    }[way]
    assert touch(kind, ends[0], ends[1])
    assert touch(kind, ends[2], ends[3])


def test_panels_parted_stand_apart_and_joined_again_they_touch():
    kind = part_panels(SIDE_CHAIR, "seat", "side_left")
    assert not touch(kind, "seat", "side_left")
    assert not any(m.of("seat") and m.of("side_left") for m in kind.meets)
    joined = join_panels(part_panels(KINDS["desk_chair"], "seat", "back"), "seat", "bottom", "back", "top", "zip")
    assert touch(joined, "seat", "back")
    assert joined.part("back").joins["top"] == "zip"


@pytest.mark.parametrize(
    "call",
    [
        pytest.param(lambda: add_part(WING, "", width=1, height=1), id="no name"),
        pytest.param(lambda: add_part(WING, "Band", width=0, height=90), id="no measures"),
        pytest.param(lambda: add_part(WING, "Band", width=90, height=90, on="feet"), id="against the feet"),
        pytest.param(lambda: add_part(WING, "Band", width=90, height=90, on="seat", join="magnet"), id="by a magnet"),
        pytest.param(lambda: split_part(WING, "seat", into=(("A", 0.5), ("B", 0.4))), id="shares that make no whole"),
        pytest.param(lambda: split_part(WING, "feet", into=(("A", 0.5), ("B", 0.5))), id="feet"),
        pytest.param(lambda: split_part(KINDS["round_stool"], "top", into=(("A", 0.5), ("B", 0.5))), id="a disc"),
        pytest.param(lambda: put_over(WING, "seat", "seat"), id="over itself"),
        pytest.param(lambda: not_over(WING, "feet", "seat"), id="what never lay there"),
        pytest.param(lambda: join_panels(WING, "seat", "top", "seat", "left", "sewn"), id="joined with itself"),
        pytest.param(lambda: part_panels(WING, "seat", "outside_back"), id="what never met"),
        pytest.param(lambda: rename_part(WING, "seat", "x" * 61), id="a name too long"),
    ],
)
def test_what_makes_no_furniture_is_refused_with_what_was_expected(call):
    with pytest.raises(BadInput, match="expected"):
        call()


@pytest.mark.parametrize(
    "wrong",
    [
        {"version": 3},
        {"kind": "throne"},
        {"parts": []},
        {"parts": [{"key": "a", "name": "A"}]},
        {"over": [["seat", "ghost"]]},
        {"over": [["seat", "bottom_cloth"], ["bottom_cloth", "seat"]]},
        {"meets": [["seat", "top", "seat", "up", "sewn"]]},
        {"parts": [{"key": "a", "name": "A", "short": "a", "width": 1e9, "height": 3}]},
        {"parts": [{"key": "a", "name": "A", "short": "a", "width": 9, "height": 3, "on": "a"}]},
    ],
)
def test_a_file_that_makes_no_furniture_is_refused(wrong):
    with pytest.raises(BadInput, match="expected"):
        read_furniture({**write_furniture(SQUARE_STOOL), **wrong})
