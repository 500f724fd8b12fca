"""What is chosen while a panel is put on: kept and read again, refused by its name; marks on the shape."""

import itertools
import json
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zonatome.core.errors import BadInput
from zonatome.core.fasten.chosen import STAGES, Chosen, Found, PostCut
from zonatome.core.fasten.closings import CLOSINGS
from zonatome.core.fasten.folds import NAMES
from zonatome.core.fasten.pleats import pleat_marks, pleats, round_edge
from zonatome.core.fasten.relief import Post
from zonatome.core.fasten.sewing import sewn_with
from zonatome.core.fasten.stages import LOOKS, SQUARE
from zonatome.core.fasten.staples import CORNER_OPEN, along
from zonatome.core.formats.fastening_json import read_fastening, write_fastening
from zonatome.core.trace.by_tape import disc_shape, rectangle_shape

lengths = st.floats(0, 5000).map(lambda v: round(v, 3))
names = st.text(st.characters(codec="ascii", categories=("L", "N")), min_size=1, max_size=12)
posts = st.builds(
    PostCut, st.builds(Post, st.tuples(lengths, lengths), st.floats(5, 400)), st.sampled_from(["straight", "y"]),
    st.floats(10, 12),
)  # fmt: skip
chosen = st.builds(
    Chosen,
    rows=st.sampled_from([1, 2]),
    fold=st.sampled_from(["", *NAMES]),
    radius=lengths,
    wrap=st.none() | lengths,
    outer=st.none() | lengths,
    inner=st.none() | lengths,
    deep=st.floats(8, 12),
    posts=st.lists(posts, max_size=4).map(tuple),
    closings=st.dictionaries(names, st.sampled_from(sorted(CLOSINGS)), max_size=4),
    ticks=st.lists(st.sampled_from(sorted(SQUARE)), unique=True).map(tuple),
    done=st.lists(st.sampled_from(STAGES), unique=True).map(tuple),
    found=st.lists(st.builds(Found, st.sampled_from(sorted(LOOKS)), st.integers(1, 99), names), max_size=4).map(tuple),
    top_stitched=st.lists(names, max_size=3, unique=True).map(tuple),
    welted=st.lists(names, max_size=3, unique=True).map(tuple),
    sewn=st.integers(0, 40),
)


@given(chosen)
def test_all_that_is_chosen_comes_back_from_its_document(told):
    document = json.loads(json.dumps(write_fastening(told)))
    assert document == write_fastening(told), "plain at once, not only once it has been in the store"
    assert read_fastening(document) == told
    assert read_fastening(None) == read_fastening({}) == Chosen()


@given(chosen, st.sampled_from(["ticks", "done"]), st.data())
def test_a_tick_pressed_twice_is_as_before(told, field, data):
    key = data.draw(st.sampled_from(sorted(SQUARE) if field == "ticks" else STAGES))
    once = told.toggled(field, key)
    assert (key in getattr(once, field)) != (key in getattr(told, field))
    assert sorted(getattr(once.toggled(field, key), field)) == sorted(getattr(told, field))
    assert told.is_square(told.ticks)


@pytest.mark.parametrize(("wrong", "names_it"), [
    ({"rows": 3}, "rows"), ({"rows": True}, "rows"), ({"fold": "origami"}, "fold"), ({"fold": ["cut"]}, "fold"),
    ({"posts": [{"post": {"at": [1], "width": 40}}]}, "at"), ({"posts": [{}] * 13}, "posts"),
    ({"posts": [{"post": {"at": [1, 2], "width": 1}}]}, "width"), ({"closings": {"a": "spit"}}, "ticks"),
    ({"posts": [{"post": {"at": [1, 2], "width": 40}, "sort": "z"}]}, "sort"),
    ({"ticks": ["tail"]}, "ticks"), ({"done": 4}, "done"), ({"found": [{"look": "ghost"}]}, "look"),
    ({"found": [{"look": "dent", "piece": 0}]}, "piece"), ({"sewn": -1}, "sewn"),
    ({"closings": []}, "closings"), ({"radius": "wide"}, "radius"), ({"wrap": -4}, "wrap"), ({"deep": 0}, "deep"),
    ({"format": "zonatome.stack"}, "format"), ({"version": 9}, "version"),
])  # fmt: skip
def test_a_fastening_with_an_odd_value_is_refused_by_its_name(wrong, names_it):
    with pytest.raises(BadInput) as refused:
        read_fastening({**write_fastening(Chosen()), **wrong})
    assert names_it in str(refused.value)


def test_pleats_are_marked_evenly_across_a_disc_s_allowance():
    disc = disc_shape("Top", 360, {"bottom": "stapled_under"})
    made = pleats(*round_edge(180, disc.edges[0].adds))
    marks = pleat_marks(disc, made)
    assert len(marks) == made.count
    middle = disc.outline.polygon.centroid
    turns = []
    for mark in marks:
        near, far = (math.dist(p, (middle.x, middle.y)) for p in mark.points)
        assert near == pytest.approx(180, abs=0.6)
        assert far == pytest.approx(230, abs=0.6)
        turns.append(math.atan2(mark.points[0][1] - middle.y, mark.points[0][0] - middle.x))
    turns.sort()
    steps = [b - a for a, b in itertools.pairwise(turns)]
    assert steps == pytest.approx([2 * math.pi / made.count] * len(steps), abs=0.02)
    with pytest.raises(BadInput):
        pleat_marks(rectangle_shape("Seat", 400, 400, {}), made)


@given(st.floats(120, 2000), st.floats(10, 40), st.booleans(), st.booleans())
def test_staples_along_a_side_stand_at_the_pitch_and_leave_its_corners_open(length, pitch, before, after):
    found = along(length, pitch, corner_before=before, corner_after=after)
    plain = [offset for offset, is_corner in found if not is_corner]
    assert 0.0 in plain, "one on the middle"
    assert all(b - a == pytest.approx(pitch) for a, b in itertools.pairwise(plain))
    assert all(abs(offset) <= length / 2 for offset, _ in found)
    for sign, is_corner in ((-1, before), (1, after)):
        reach = max(sign * offset for offset in plain)
        left = length / 2 - reach
        if is_corner:
            assert left >= min(CORNER_OPEN, length / 4) - 1e-6
        else:
            assert left <= 1.5 * pitch + 1e-6, "no corner: staples go on to its end"
        of_corner = [offset for offset, is_own in found if is_own and offset * sign > 0]
        assert bool(of_corner) <= is_corner


def test_a_thicker_cloth_has_a_thicker_needle_and_a_longer_stitch():
    found = [sewn_with(thickness) for thickness in (0.4, 0.9, 1.4, 2.5)]
    assert [one.stitch for one in found] == sorted(one.stitch for one in found)
    assert len({one.needle for one in found}) == 4
