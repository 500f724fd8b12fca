"""Exposed lines and their joins, nails, skirts: worked by hand, and for any."""

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zonatome.core.errors import BadInput
from zonatome.core.outline import rectangle
from zonatome.core.survey.kinds import KINDS
from zonatome.core.trim.lines import exposed_lines, joins_along, start_of, sticks_of_glue, strips_for
from zonatome.core.trim.nails import boxes_of_nails, nails, on_the_line
from zonatome.core.trim.skirt import skirt
from zonatome.core.trim.welt import JOIN


def test_a_show_wood_chair_s_lines_are_those_of_its_raw_edges():
    kind = KINDS["show_wood"]
    lines = {line.key: line for line in exposed_lines(kind, kind.usual_length)}
    assert lines["seat"].length == pytest.approx(2 * (560 + 540))
    assert (lines["seat"].is_closed, lines["seat"].name) == (True, "Seat")
    assert set(lines) == {"seat", "inside_back", "outside_back", "arm_pad_left", "arm_pad_right"}
    hall = {line.key: line for line in exposed_lines(KINDS["hall"], KINDS["hall"].usual_length)}
    assert (hall["seat"].is_closed, hall["seat"].edges) == (False, ("left", "bottom", "right")), (
        "one line, round the front"
    )


@pytest.mark.parametrize(
    ("joins", "kind", "key", "lines"),
    [
        pytest.param(
            ("raw_under_trim", "sewn", "raw_under_trim", "sewn"), "square_stool", "seat", [370, 370], id="two"
        ),
        pytest.param(("sewn",) * 4, "square_stool", "seat", [1480], id="the seam round a sewn top"),
        pytest.param(("sewn", "sewn", "zip", "sewn"), "square_stool", "seat", [], id="a zip has none"),
        pytest.param(("stapled_under",) * 4, "square_stool", "seat", [1480], id="wrapped under: its lower edge"),
        pytest.param(("tucked",) * 4, "square_stool", "seat", [], id="tucked: nothing shows"),
        pytest.param(("sewn",) * 4, "side_chair", "side_left", [], id="sewn and not padded: no welt"),
    ],
)
def test_trim_is_offered_where_an_edge_shows_it(joins, kind, key, lines):
    held = dict(zip(("bottom", "right", "top", "left"), joins, strict=True))
    made = KINDS[kind]
    found = exposed_lines(made, made.usual_length, lambda k, edge: held[edge] if k == key else "tucked")
    assert [line.length for line in found if line.key == key] == pytest.approx(lines)


def test_joins_by_hand():
    """A line of 2200 from its back corner, the front from 820 to 1380: no join from 988 to 1212. Strips of 1100 reach
    1060, which lies there: that one is cut to end at 988; the next reaches 2048, the third the end.
    """
    found = joins_along(2200, (1100, 1100, 1100), front=(820, 1380))
    assert [round(j.along) for j in found] == [988, 2048]
    assert strips_for(2200, 1500) == (1140, 1140)
    with pytest.raises(BadInput, match="strip"):
        joins_along(2200, (1100,), front=(820, 1380))


@given(st.floats(200, 8000), st.floats(60, 3000), st.floats(0.1, 0.6), st.floats(0.05, 0.3))
def test_no_join_falls_at_the_front_s_middle(length, longest, begins, share):
    front = (begins * length, min(length, (begins + share) * length))
    strips = (longest,) * 400
    try:
        found = joins_along(length, strips, front=front)
    except BadInput:
        assert 400 * (longest - JOIN) < length or longest - JOIN < 0.4 * (front[1] - front[0]) + 1e-6
        return
    wide = (front[1] - front[0]) * 0.2
    assert all(j.from_front_middle >= wide - 1e-6 for j in found)
    reach = [0.0, *(j.along for j in found)]
    assert all(0 <= b - a <= longest - JOIN + 1e-6 for a, b in itertools.pairwise(reach))


def test_trim_starts_low_at_the_back_and_glue_is_counted():
    x, y = start_of(rectangle(400, 300))
    assert y == pytest.approx(300)
    assert x > 340
    assert sticks_of_glue(2500) == 1
    with pytest.raises(BadInput):
        strips_for(1000, JOIN)


def test_nails_by_hand():
    """A front of 480 at 25: 19.2, so 19 steps of 25.26, 20 nails. Touching, heads of 11: 43 steps of 11.16."""
    spaced = nails([480], head=11, spacing=25)
    assert (spaced.count, round(spaced.runs[0].apart, 2)) == (20, 25.26)
    touching = nails([480], head=11)
    assert (touching.count, round(touching.runs[0].apart, 2)) == (44, 11.16)
    seat = nails([480, 420, 480, 420], head=11, spacing=25, is_closed=True)
    assert (seat.count, seat.corners) == (19 + 17 + 19 + 17, (0.0, 480.0, 900.0, 1380.0))
    assert seat.order[:4] == seat.corners
    assert abs(seat.order[4] - 240) < 13, "then from the middle of the first stretch out"
    assert boxes_of_nails(96) == 2


@given(
    st.lists(st.floats(30, 1500), min_size=1, max_size=6),
    st.floats(5, 20),
    st.floats(0, 60),
    st.booleans(),
    st.booleans(),
)
def test_nails_are_whole_and_even_between_corners(lengths, head, more, touching, is_closed):
    made = nails(lengths, head=head, spacing=None if touching else head + more, is_closed=is_closed)
    gaps = [b - a for a, b in itertools.pairwise([*made.places, *([sum(lengths)] if is_closed else [])])]
    assert sum(gaps) == pytest.approx(sum(lengths))
    assert min(gaps) >= head - 1e-6, "heads do not overlap"
    at = 0
    for run in made.runs:
        assert all(gap == pytest.approx(run.apart) for gap in gaps[at : at + run.steps])
        at += run.steps
    assert sorted(made.order) == pytest.approx(list(made.places))
    line = [(0.0, 0.0), (sum(lengths), 0.0)]
    assert [round(x, 6) for x, _ in on_the_line(line, made)] == pytest.approx(list(made.places), abs=1e-5)


def test_skirts_by_hand():
    """An ottoman of 560 x 460: round it 2040. Kick pleats 75 deep: 4 x 75 more at each of four corners: 3240, + seams.
    Box pleats: three times 2040, pleats of 60: 34 of exactly 60.
    """
    sides = [560, 460, 560, 460]
    kick, box = skirt(sides, 150), skirt(sides, 150, sort="box", lined=False)
    assert kick.cloth == (3240 + 26, 150 + 26)
    assert kick.lining == (3266, 163)
    assert (kick.pleats, kick.pleat) == (4, 150)
    assert box.cloth == (6120 + 26, 150 + 13 + 38)
    assert (box.pleats, box.pleat, box.lining) == (34, 60, None)
    for wrong in ({"drop": 20}, {"deep": 40}, {"sort": "frill"}, {"sort": "box", "pleat": 5}):
        with pytest.raises(BadInput):
            skirt(sides, **{"drop": 150, **wrong})


@pytest.mark.parametrize("wrong", [
    {"lengths": [480], "head": 2}, {"lengths": [], "head": 11}, {"lengths": [5], "head": 11},
    {"lengths": [480], "head": 11, "spacing": 8}, {"lengths": [90_000], "head": 4},
])  # fmt: skip
def test_nails_that_no_line_takes_are_refused(wrong):
    with pytest.raises(BadInput):
        nails(**wrong)
