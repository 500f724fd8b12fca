"""Lays: nothing over anything, the gap kept, the bound a bound, the search never worse than rows."""

import time

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.awkward import stars
from tests.core.lay.independent import wrong_with
from tests.core.lay.requests_of_the_trade import ROLL, any_request, rectangles, six_chairs
from tests.often import examples
from zonatome.core.lay.bounds.length import length_bound
from zonatome.core.lay.check import faults
from zonatome.core.lay.construct.rows import boxes_of, rows_lay, unfit_pieces
from zonatome.core.lay.engines.general_packer import Packing
from zonatome.core.lay.engines.local_search import Nest
from zonatome.core.lay.engines.protocol import Engine
from zonatome.core.lay.geometry.slide import room_between, slid
from zonatome.core.lay.kernel.stretches import free_stretches
from zonatome.core.lay.lay import easy_lay, search_lay
from zonatome.core.lay.request import Lay, LayRequest, PieceAsk, Placement, Roll, StripAsk
from zonatome.core.outline import rectangle


@examples(30)
@given(any_request())
def test_a_lay_in_rows_may_be_cut(request_):
    lay = easy_lay(request_)
    assert wrong_with(request_, lay) == []
    assert lay.unplaced == ()


@examples(30)
@given(any_request())
def test_sliding_keeps_every_gap_and_never_makes_a_lay_longer(request_):
    rows = rows_lay(request_)
    moved = slid(request_, rows)
    before, after = (_as_lay(request_, p) for p in (rows, moved))
    assert [w for w in wrong_with(request_, after) if "short" not in w] == []
    assert after.length <= before.length + 0.01
    assert [p.y for p in moved] == [p.y for p in rows]


def _as_lay(request: LayRequest, placements: tuple[Placement, ...]) -> Lay:
    outlines = [p.on_cloth(request.by_id[p.piece]) for p in placements]
    length = max(o.bounds[2] for o in outlines)
    return Lay(length, sum(o.area for o in outlines) / length / request.roll.usable, 0.0, 0.0, placements)


def test_the_search_is_never_longer_than_rows_and_reports_only_shorter_lays():
    asked = six_chairs(welt=True)
    reported: list[Lay] = []
    best = search_lay(asked, seconds=1, seed=1, report=reported.append)
    assert wrong_with(asked, best) == []
    assert reported[0].method == "rows"
    lengths = [lay.length for lay in reported]
    assert lengths == sorted(lengths, reverse=True)
    assert len(set(lengths)) == len(lengths)
    assert best.length == lengths[-1] < lengths[0], "a search of two-way trapezoids beats straight rows"
    for lay in reported:
        assert wrong_with(asked, lay) == []


def test_a_search_ends_soon_after_it_is_told_to():
    asked = six_chairs()
    begun = time.monotonic()
    asked_at = []

    def stopped() -> bool:
        asked_at.append(time.monotonic())
        return time.monotonic() - begun > 0.6

    lay = search_lay(asked, seconds=60, stopped=stopped)
    assert time.monotonic() - begun < 20, "60 seconds were asked for; the stop was not heard"
    assert wrong_with(asked, lay) == []


def test_the_packer_takes_any_turn_and_one_way_pieces_alike():
    pieces = (PieceAsk("free", rectangle(700, 90), 5, None), PieceAsk("down", rectangle(400, 300), 3, (0.0,)))
    asked = LayRequest(ROLL, 3.0, pieces)
    assert wrong_with(asked, search_lay(asked, seconds=0.5)) == []


def test_a_bad_lay_of_an_engine_is_never_shown():
    class Liar:
        name = "liar"

        def takes(self, request):
            return True

        def search(self, request, *, seconds, seed, stopped, effort=0.0):
            yield tuple(Placement(p.id, c + 1, 0.0, request.roll.low) for p in request.pieces for c in range(p.count))

    engine: Engine = Liar()
    lay = search_lay(rectangles((300, 400, 4)), seconds=1, engines=[engine])
    assert lay.method != "liar"
    assert lay.length == pytest.approx(600)


def test_engines_share_one_protocol():
    packing: Engine = Packing()
    nest: Engine = Nest()
    loose = LayRequest(ROLL, 3.0, (PieceAsk("free", rectangle(700, 90), 5, None),))
    assert packing.takes(loose)
    assert not packing.takes(six_chairs()), "our own engine turns it by the same turns, and better"
    for engine in (packing, nest):
        assert not engine.takes(LayRequest(ROLL, 0, (), (StripAsk("welt", 40, 1000),)))
        found = [f for f in engine.search(loose, seconds=0.8, seed=1, stopped=lambda: False) if f]
        assert wrong_with(loose, _as_lay(loose, found[-1])) == []


@pytest.mark.parametrize(
    ("sizes", "gap", "length"),
    [
        pytest.param([(500, 1376, 3)], 0, 1500, id="full width, one behind the other"),
        pytest.param([(500, 1376, 3)], 4, 1508, id="and two gaps"),
        pytest.param([(500, 688, 4)], 0, 1000, id="two abreast fill the width to the millimetre"),
        pytest.param([(500, 688, 4)], 4, 2012, id="with a gap they no longer do"),
        pytest.param(
            [(495, 582, 2), (495, 580, 5), (495, 387, 4), (495, 385, 4), (495, 190, 5)],
            4,
            2990,
            id="rows that must be mixed to come out",
        ),
    ],
)
def test_rows_come_out_as_reckoned_by_hand(sizes, gap, length):
    asked = rectangles(*sizes, gap=gap)
    if length == 2990:
        asked = LayRequest(Roll(1380, (10, 10)), gap, asked.pieces)
    assert easy_lay(asked).length == pytest.approx(length, abs=0.2)


def test_rows_turn_a_piece_where_that_is_shorter_and_allowed():
    assert easy_lay(rectangles((1300, 400, 3), turns=(0.0, 90.0))).length == pytest.approx(1200)
    assert easy_lay(rectangles((1300, 400, 3))).length == pytest.approx(1300)
    assert [b.turn_degrees for b in boxes_of(PieceAsk("a", rectangle(1300, 400), 1, (0.0, 90.0)), 1376)] == [90.0, 0.0]


def test_a_piece_wider_than_the_cloth_is_left_out_and_said():
    asked = rectangles((300, 1500, 2), (300, 300, 1))
    assert [p.id for p in unfit_pieces(asked)] == ["r0"]
    lay = search_lay(asked, seconds=0.2)
    assert lay.unplaced == (("r0", 2),)
    assert wrong_with(asked, lay) == []


@examples(40)
@given(any_request())
def test_the_bound_is_below_any_lay_and_at_least_the_area(request_):
    bound = length_bound(request_)
    assert bound <= easy_lay(request_).length + 0.01
    area = sum(p.outline.area * p.count for p in request_.pieces) + sum(s.width * s.total for s in request_.strips)
    assert bound >= area / request_.roll.usable - 0.01


def test_the_bound_knows_the_gap_and_the_longest_piece():
    tight = rectangles((500, 688, 4))
    assert length_bound(tight) == pytest.approx(1000)
    spaced = rectangles((500, 688, 4), gap=10)
    assert length_bound(spaced) > 1000
    assert length_bound(rectangles((2000, 100, 1))) == pytest.approx(2000)
    assert length_bound(LayRequest(ROLL, 0, (PieceAsk("a", rectangle(2000, 100), 1, None),))) == pytest.approx(
        145.35, abs=0.1
    )


def test_strips_fill_what_the_pieces_leave_before_more_roll_is_taken():
    piece = PieceAsk("p", rectangle(3000, 1200), 1)
    asked = LayRequest(ROLL, 4.0, (piece,), (StripAsk("welt", 40, 8000, 40, 500, ("along", "across")),))
    lay = easy_lay(asked)
    assert wrong_with(asked, lay) == []
    assert lay.length == pytest.approx(3000), "172 mm beside the piece hold four strips of 3 m"


def test_strips_on_the_bias_lie_at_45_degrees():
    asked = LayRequest(
        ROLL, 4.0, (PieceAsk("p", rectangle(400, 600), 2),), (StripAsk("welt", 45, 4000, 40, 500, ("bias",)),)
    )
    lay = easy_lay(asked)
    assert lay.strips
    assert wrong_with(asked, lay) == []


def test_strips_alone_make_a_lay_too():
    asked = LayRequest(ROLL, 4.0, (), (StripAsk("welt", 40, 5000, 40, 500, ("across",)),))
    lay = easy_lay(asked)
    assert wrong_with(asked, lay) == []
    assert lay.length == pytest.approx(160)  # four across of at most 1376


@given(stars(), stars(), st.floats(0, 400))
def test_the_room_between_two_shapes_is_true(one, other, y):
    right = one.moved(2000, y)
    room = room_between(np.array(right.points), np.array(other.points))
    if room == float("inf"):
        assert right.bounds[1] >= other.bounds[3] - 0.01 or right.bounds[3] <= other.bounds[1] + 0.01
    else:
        assert right.moved(-room + 0.01, 0).polygon.intersection(other.polygon).area < 0.5
        assert right.moved(-room - 1.0, 0).polygon.intersects(other.polygon)


@given(stars(), st.floats(-500, 400), st.floats(5, 200))
def test_the_extent_in_a_band_is_that_of_the_part_in_it(outline, low, tall):
    from shapely.geometry import box

    hull = outline.polygon.convex_hull
    part = hull.intersection(box(-2000, low, 2000, low + tall))
    corners = np.array(hull.exterior.coords[:-1])
    free = free_stretches(corners, np.array([0, len(corners)]), low, low + tall, -5000.0, 5000.0, 0.0)
    if part.area > 0.01:
        (before, room), (after, _) = free
        assert (before + room, after) == pytest.approx((part.bounds[0], part.bounds[2]), abs=0.01)
    else:
        assert free[:, 1].sum() == pytest.approx(10_000, abs=0.5)


@pytest.mark.parametrize(
    ("spoil", "words"),
    [
        pytest.param(lambda p: Placement(p.piece, p.copy, p.x - 5, p.y), "beyond the cut end", id="beyond the cut end"),
        pytest.param(lambda p: Placement(p.piece, p.copy, p.x, p.y - 8), "selvage", id="on the selvage"),
        pytest.param(lambda p: Placement(p.piece, p.copy, p.x, p.y, 90.0), "turned by 90", id="turned against the nap"),
    ],
)
def test_the_check_finds_a_spoilt_lay(spoil, words):
    asked = rectangles((500, 600, 1), gap=4)
    good = easy_lay(asked)
    assert faults(asked, good) == []
    bad = Lay(good.length, good.used, good.bound, 0, tuple(spoil(p) for p in good.placements))
    assert any(words in fault for fault in faults(asked, bad))


def test_the_check_finds_pieces_too_near_missing_and_over_each_other():
    asked = rectangles((500, 600, 2), gap=4)
    first = Placement("r0", 1, 0, 12)
    near = Lay(1003, 0, 0, 0, (first, Placement("r0", 2, 503, 12)))
    assert any("1.0 mm too near to" in fault for fault in faults(asked, near))
    assert any("1 laid, 2 asked for" in fault for fault in faults(asked, Lay(500, 0, 0, 0, (first,))))
    no_gap = rectangles((500, 600, 2))
    assert any("mm over" in fault for fault in faults(no_gap, Lay(600, 0, 0, 0, (first, Placement("r0", 2, 100, 12)))))
