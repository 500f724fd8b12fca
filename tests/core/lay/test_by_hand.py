"""Laying by hand: snapping, turning, pinning, and what the check says of it."""

from dataclasses import replace

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from tests.core.lay.independent import wrong_with
from tests.core.lay.requests_of_the_trade import any_cloth, rectangles, six_chairs
from tests.often import examples
from zonatome.core.errors import BadInput
from zonatome.core.lay.check import named
from zonatome.core.lay.geometry.nesting_table import NestingTable
from zonatome.core.lay.lay import easy_lay, search_lay
from zonatome.core.lay.request import LayRequest, PieceAsk, Placement, Repeat, Roll
from zonatome.core.lay.table.by_hand import (
    REACH,
    Handwork,
    beside_words,
    judged,
    key_of,
    mirrored,
    moved,
    turned,
    with_pins,
)
from zonatome.core.outline import rectangle


@examples(25)
@given(any_cloth(), st.floats(-20, 20), st.floats(-20, 20), st.data())
def test_a_piece_let_go_near_its_place_finds_one_where_it_fits(request_, along, across, data):
    request_ = replace(request_, strips=())
    lay = easy_lay(request_)
    assume(lay.placements)
    ways = NestingTable(request_)
    work = Handwork(lay.placements)
    piece = data.draw(st.sampled_from(lay.placements))
    after = moved(request_, work, key_of(piece), along, across, ways=ways)
    found, wrong = judged(request_, after)
    assert wrong == [], "its old place is within reach"
    assert wrong_with(request_, replace(found, bound=min(found.bound, found.length))) == []
    now = after.placed(key_of(piece))
    if request_.repeat is None:
        assert abs(now.x - piece.x) < abs(along) + REACH + 1
        assert abs(now.y - piece.y) < abs(across) + REACH + 1


@pytest.mark.parametrize(
    ("longer", "units", "words"),
    [
        pytest.param(12.0, "metric", "12 mm longer than the lay that stands", id="longer"),
        pytest.param(25.4, "imperial", "1 in longer than the lay that stands", id="in inches"),
        pytest.param(0.3, "metric", "as long as the lay that stands", id="less than a tape reads"),
        pytest.param(-40.0, "metric", "shorter than the lay that stands", id="shorter"),
    ],
)
def test_a_lay_by_hand_is_compared_with_the_one_that_stands(longer, units, words):
    lay = easy_lay(rectangles((500, 600, 2), gap=4))
    assert beside_words(lay, lay.length - longer, units) == words
    assert beside_words(lay, None, units) == ""
    assert beside_words(replace(lay, on_panels=True), lay.length, units) == "on what is in the store"


def test_a_piece_dropped_on_another_stays_there_and_both_are_named():
    asked = rectangles((500, 600, 2), gap=4)
    work = Handwork(easy_lay(asked).placements)
    dropped = moved(asked, work, "r0:2", 0, -300, ways=NestingTable(asked))
    lay, wrong = judged(asked, dropped)
    assert len(wrong) == 1
    assert set(wrong[0].cuts) == {"r0:1", "r0:2"}
    assert named(wrong[0].words, {"r0": "Seat"}).startswith("Seat 1 lies")
    back = moved(asked, dropped, "r0:2", 0, 296, ways=NestingTable(asked))
    assert judged(asked, back)[1] == [], "it snaps to its neighbour, the gap kept"
    assert judged(asked, back)[0].length == pytest.approx(500, abs=0.1)
    assert lay.length == pytest.approx(500, abs=0.1)


def test_a_motif_draws_a_piece_from_far():
    seat = PieceAsk("seat", rectangle(400, 400), 1, (0.0,), False, (200, 200), True, True)
    asked = LayRequest(Roll(1400, (0, 0), Repeat(600, 700, 0.0, (200, 300))), 3, (seat,))
    work = Handwork((Placement("seat", 1, 0.0, 100.0),))
    now = moved(asked, work, "seat:1", 520.0, 90.0, ways=NestingTable(asked)).placed("seat:1")
    assert (now.x, now.y) == pytest.approx((600, 100), abs=1e-3)


def test_turning_and_mirroring_go_about_the_middle_and_only_where_allowed():
    two_way = six_chairs()
    work = Handwork(easy_lay(two_way).placements)
    before = work.placed("seat:1").on_cloth(two_way.by_id["seat"]).bounds
    after = turned(two_way, work, "seat:1").placed("seat:1")
    assert after.turn_degrees == 180.0
    assert after.on_cloth(two_way.by_id["seat"]).bounds == pytest.approx(before)
    with pytest.raises(BadInput, match="mirror image"):
        mirrored(two_way, work, "seat:1")
    with pytest.raises(BadInput, match="nap or pattern holds"):
        turned(six_chairs(turns=(0.0,)), work, "seat:1")


def test_three_pinned_pieces_stay_and_the_rest_is_laid_round_them():
    asked = six_chairs()
    work = Handwork(search_lay(asked, seconds=0.4).placements)
    for key in ("seat:1", "seat:2", "side:3"):
        work = work.toggled(key)
    with pytest.raises(BadInput, match="not pinned"):
        moved(asked, work, "seat:1", 5, 5)
    pinned = with_pins(asked, work.pins())
    lay = search_lay(pinned, seconds=0.4)
    assert wrong_with(pinned, lay) == []
    assert {key_of(p) for p in lay.placements if p in work.pins()} == {"seat:1", "seat:2", "side:3"}
    assert work.toggled("seat:1").pinned == {"seat:2", "side:3"}
    with pytest.raises(BadInput, match="a piece of this lay"):
        work.toggled("seat:99")
    with pytest.raises(BadInput, match="millimetres"):
        moved(asked, work, "seat:3", float("nan"), 0)
