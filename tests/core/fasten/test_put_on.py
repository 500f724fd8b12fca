"""Panels put on: staples on rails, corners, cuts and pleats, closings, the order of sewing; each worked by hand."""

import itertools
import math

import pytest
from hypothesis import example, given
from hypothesis import strategies as st
from shapely.geometry import LineString, Polygon
from shapely.ops import unary_union

from tests.often import examples
from zonatome.core.errors import BadInput
from zonatome.core.fasten.closings import CLOSINGS, closed_edge, closings_bought
from zonatome.core.fasten.folds import NAMES, Corner, corners_of, fits, fold
from zonatome.core.fasten.pleats import fan, pleats, round_edge
from zonatome.core.fasten.rails import ROW_APART, held_edges, rail_plan
from zonatome.core.fasten.relief import Post, clear_of_post, curved_edges, legs_of, relief_cut
from zonatome.core.fasten.sewing import seam_key, seams_of, sewing_order
from zonatome.core.fasten.stages import before_it, looks_for, stages_of, ticks_for
from zonatome.core.fasten.staples import CORNER_OPEN, CROWN, KeepOut
from zonatome.core.outline import outline_of, rectangle
from zonatome.core.survey.kinds import KINDS
from zonatome.core.trace.by_tape import disc_shape, rectangle_shape
from zonatome.core.trace.shape import shape_of
from zonatome.core.trace.usual import usual_shape

UNDER = {"bottom": "stapled_under", "right": "stapled_under", "top": "stapled_under", "left": "stapled_under"}
PANELS = [(k.key, p.key) for k in KINDS.values() for p in k.panels if held_edges(usual_shape(p), stands=p.stands)]


def test_an_inside_back_on_its_rails_by_hand():
    """500 x 720, its top under the rail, its bottom tucked 110, sides sewn: top at 14 beyond its line, bottom at 85.

    The top is no corner at its ends: (250 - 7.5) / 15 = 16 each way and one in the middle: 33; the bottom the same.
    """
    shape = rectangle_shape(
        "Back", 500, 720, {"top": "stapled_under", "bottom": "tucked", "left": "sewn", "right": "sewn"}
    )
    edges = held_edges(shape)
    assert [(e.side, e.where) for e in edges] == [("bottom", "behind, on the rail"), ("top", "under the rail")]
    plan = rail_plan(edges, pitch=15)
    assert len(plan.staples) == 66
    assert {round(s.y) for s in plan.staples} == {720 + 14, -85}
    assert [(s.side, round(s.x)) for s in plan.staples[:2]] == [("top", 250), ("bottom", 250)], "middles first"
    assert plan.staples[2].x == pytest.approx(plan.staples[3].x), "each answered by its opposite"


@examples(80)
@given(
    st.sampled_from(PANELS), st.floats(10, 40), st.integers(1, 2),
    st.lists(st.builds(KeepOut, st.floats(0, 500), st.floats(-20, 700), st.floats(1, 20)), max_size=4),
    st.sampled_from(["cross first", "one side whole"]),
)  # fmt: skip
def test_staples_keep_pitch_marks_and_the_first_row_on_any_panel_of_any_kind(panel, pitch, rows, marks, order):
    part = KINDS[panel[0]].part(panel[1])
    edges = held_edges(usual_shape(part), stands=part.stands)
    plan = rail_plan(edges, pitch=pitch, keep_outs=marks, rows=rows, order=order)
    assert [s.number for s in plan.staples] == list(range(1, len(plan.staples) + 1))
    for staple in plan.staples:
        assert all(math.dist((staple.x, staple.y), (k.x, k.y)) >= k.radius + CROWN / 2 - 1e-6 for k in marks)
        edge = next(e for e in edges if e.side == staple.side or e.is_closed)
        away = edge.line.distance(LineString([(staple.x, staple.y)] * 2))
        assert away == pytest.approx(ROW_APART if staple.row == 2 else 0, abs=pitch if part.form == "disc" else 0.6)
    first = [s for s in plan.staples if s.row == 1]
    for second in (s for s in plan.staples if s.row == 2):
        assert min(math.dist((second.x, second.y), (s.x, s.y)) for s in first) > min(ROW_APART, pitch / 4)
    if not marks:
        for side in {s.side for s in first if "o'clock" not in s.side}:
            along = sorted((s.x, s.y) for s in first if s.side == side and not s.at_corner)
            gaps = [math.dist(a, b) for a, b in itertools.pairwise(along)]
            assert all(gap == pytest.approx(pitch, rel=0.1) for gap in gaps)
        assert plan.left_out == 0


@pytest.mark.parametrize("pitch", [30.0, 36.0, 38.0, 40.0])
def test_a_second_row_lies_half_way_between_the_first_and_none_behind_a_corner_s_own(pitch):
    """By hand, the front of a hall chair's seat at 38: 580 along, the first row at 62, 100 … 518, two more for each
    corner at 43 and 24, 537 and 556. Between 62 and 518 are twelve places, 81 … 499; from 518 to 537 is no room.
    """
    edges = held_edges(usual(("hall", "seat")), stands=KINDS["hall"].part("seat").stands)
    plan = rail_plan(edges, pitch=pitch, rows=2)
    rows = {row: sorted(s.x for s in plan.staples if s.side == "front" and s.row == row) for row in (1, 2)}
    if pitch == 38:
        assert rows[1] == pytest.approx([24, 43, *range(62, 519, 38), 537, 556])
        assert rows[2] == pytest.approx([*range(81, 500, 38)])
    assert len(rows[2]) > 8
    assert rows[2] == pytest.approx([580 - x for x in reversed(rows[2])]), "the same to the left and to the right"
    for x in rows[2]:
        assert min(abs(x - other) for other in rows[1]) > 0.37 * pitch
    rooms = [b - a for a, b in itertools.pairwise(rows[1])]
    assert len(rows[2]) == sum(room > 0.75 * pitch for room in rooms)


def test_what_no_staple_holds_is_refused():
    sewn = rectangle_shape("Cushion", 500, 500, dict.fromkeys(UNDER, "sewn"))
    assert held_edges(sewn) == ()
    stool = held_edges(usual(("square_stool", "seat")))
    for edges, more in (((), {}), (stool, {"pitch": 3}), (stool, {"rows": 3})):
        with pytest.raises(BadInput):
            rail_plan(edges, **{"pitch": 15, **more})


def usual(panel):
    return usual_shape(KINDS[panel[0]].part(panel[1]))


def test_a_square_corner_by_hand():
    """A wrap of 68: the surplus is 68 x 68, so the edge is 136 too long. One pleat 68 deep takes twice that; of the
    square 42 are cut away and 26 stay. Double: two of 34. Cut out: 48, 10 each side of what is hidden.
    """
    corner = Corner(90, 0, 68)
    parcel, double, cut = fold("parcel", corner), fold("double", corner), fold("cut", corner)
    assert corner.surplus == pytest.approx(136)
    assert (parcel.count, round(parcel.deep), round(parcel.cut), parcel.layers) == (1, 68, 42, 3)
    assert parcel.thick(1.3) == pytest.approx(3.9)
    assert (double.count, round(double.deep)) == (2, 34)
    assert round(cut.cut) == 48
    assert "42 mm" in parcel.steps[0].words
    with pytest.raises(BadInput, match="fold"):
        fold("gathers", corner)


def test_a_round_corner_by_hand():
    """Radius 60, a right angle, wrap 70: 1.571 x 70 = 110 too long; 110 / 10 = 11 gathers of 5, one every 94.2 / 11."""
    made = fold("gathers", Corner(90, 60, 70))
    assert (made.count, round(made.deep, 2), round(made.apart, 2)) == (11, 5.0, 8.57)


def test_the_staples_of_a_round_corner_by_hand():
    """Radius 60, its middle 60 from both edges. The wrap of 70 would cross it: gathers end 0.3 x 60 = 18 from it. A
    quarter of the 42 that they are long, 10.5 in from the edge, a staple's middle: 49.5 from the corner's. The first
    stands an eleventh of a right angle round, 8.18 degrees: 60 - 49.5 x 0.1423 = 52.96 along, 60 - 49.5 x 0.9898 =
    11.00 in; a crown of 10.
    """
    first, *others = [f for f in fold("gathers", Corner(90, 60, 70)).steps[2].faces if f.kind == "staple"]
    assert len(others) == 9
    (a, b), middle = first.points, LineString(first.points).centroid
    assert (round(middle.x, 2), round(middle.y, 2)) == (52.96, 11.0)
    assert math.dist(a, b) == pytest.approx(10)


@given(st.sampled_from(sorted(NAMES)), st.floats(25, 170), st.sampled_from([0.0, 5.0, 20.0, 80.0]), st.floats(25, 200))
@example("gathers", 25.0, 20.0, 25.0)  # its round end reaches further than three wraps
def test_folds_take_up_the_whole_surplus_and_every_step_can_be_drawn(key, angle, radius, wrap):
    corner = Corner(angle, radius, wrap)
    if fits(key, corner):
        with pytest.raises(BadInput):
            fold(key, corner)
        return
    made = fold(key, corner)
    assert made.takes == pytest.approx(corner.surplus)
    assert 0 <= made.cut < wrap
    assert len(made.steps) == 3
    for step in made.steps:
        assert all(math.isfinite(v) for face in step.faces for point in face.points for v in point)
        wood = next(f for f in step.faces if f.kind == "wood")
        assert Polygon(wood.points).is_valid


@given(st.floats(25, 170), st.floats(20, 120), st.floats(25, 200))
def test_gathers_are_drawn_on_the_cloth_and_stapled_between_two(angle, radius, wrap):
    made = fold("gathers", Corner(angle, radius, wrap))
    _, pinched, stapled = made.steps
    for step, under in ((pinched, ("back", "wood")), (stapled, ("wood",))):
        drawn = unary_union([Polygon(f.points).buffer(0.3) for f in step.faces if f.kind in under])  # an arc in steps
        creases = [LineString(f.points) for f in step.faces if f.kind == "crease"]
        assert len(creases) == made.count
        assert all(drawn.covers(crease) for crease in creases)
        assert all(a.disjoint(b) for a, b in itertools.pairwise(creases)), "none lies over the next"
    staples = [LineString(f.points).centroid for f in stapled.faces if f.kind == "staple"]
    assert len(staples) == made.count - 1
    for staple, (one, other) in zip(staples, itertools.pairwise(creases), strict=True):
        assert staple.distance(one) == pytest.approx(staple.distance(other), abs=0.01)


def test_corners_of_a_board_have_its_angles():
    tapered = outline_of([(0, 0), (440, 0), (400, 400), (40, 400)])
    found = corners_of(tapered.points, tapered.corners(), 60)
    assert [round(c.angle, 1) for c in found] == [84.3, 84.3, 95.7, 95.7]
    assert sum(c.turns for c in found) == pytest.approx(2 * math.pi)


def test_relief_cuts_by_hand():
    """A seat 560 x 540 with 25 for the hand; an arm post 40 wide, its face's middle 70 inside the finished line: 95
    from the cut edge. Straight: 95 - 10 = 85. Y: a stem of 95 - 20 - 10 = 65, its arms toward (+-20, 30) beyond it:
    36.06 - 10 = 26.06.
    """
    seat = rectangle_shape("Seat", 560, 540, dict.fromkeys(UNDER, "raw_under_trim"))
    post = Post((280, 70), 40)
    straight, y = relief_cut(seat, post), relief_cut(seat, post, sort="y")
    assert straight.stem == pytest.approx(85)
    assert straight.lines == (((280, pytest.approx(-25)), (280, pytest.approx(60))),)
    assert (y.stem, y.arm) == (pytest.approx(65), pytest.approx(26.06, abs=0.01))
    for wrong in (Post((280, -40), 40), Post((280, -10), 40)):
        with pytest.raises(BadInput):
            relief_cut(seat, wrong, sort="y")


@given(st.floats(60, 500), st.floats(60, 480), st.floats(10, 70), st.sampled_from(["straight", "y"]), st.floats(10, 12))
def test_relief_cuts_begin_at_the_edge_and_stop_short_of_their_post(x, y, width, sort, stop):
    seat = rectangle_shape("Seat", 560, 540, dict.fromkeys(UNDER, "raw_under_trim"))
    post = Post((x, y), width)
    cut = relief_cut(seat, post, sort=sort, stop=stop)
    edge = LineString([*seat.cut_line.points, seat.cut_line.points[0]])
    assert edge.distance(LineString([cut.lines[0][0]] * 2)) < 1e-6
    if sort == "straight":
        assert clear_of_post(cut, post) == pytest.approx(stop)
    else:
        (ax, ay), (bx, by) = cut.lines[0]
        across = (-(by - ay) / cut.stem * width / 2, (bx - ax) / cut.stem * width / 2)
        corners = [(x - across[0], y - across[1]), (x + across[0], y + across[1])]
        ends = [line[1] for line in cut.lines[1:]]
        assert [math.dist(*pair) for pair in zip(ends, corners, strict=True)] == pytest.approx([stop, stop])
        assert clear_of_post(cut, post) > 0.7 * stop
    assert all(seat.cut_line.polygon.buffer(1e-6).covers(LineString(line)) for line in cut.lines)


def test_curved_edges_by_hand():
    """A disc of radius 200 with 13 of seam is too long by 13 / 200: notches 6 wide, one every 6 x 200 / 13 = 92.3,
    which is 13.6 of them round 1256.6, 8 deep. Of radius 600 it is straighter than 40 x 13 = 520 and wants none.
    """
    (found,) = curved_edges(disc_shape("Top", 400, {"bottom": "sewn"}))
    assert (found.is_outward, found.deep, found.added) == (True, 8, 13)
    assert found.radius == pytest.approx(200, rel=0.03)
    assert len(found.snips) in (13, 14)
    assert found.apart == pytest.approx(92, abs=11), "looked at every 10 mm"
    assert curved_edges(disc_shape("Top", 1200, {"bottom": "sewn"})) == ()
    turn = [math.pi * k / 40 for k in range(41)]
    bay = [(150 * math.cos(a), 200 - 150 * math.sin(a)) for a in turn]
    hollow = outline_of([(-300, -80), (300, -80), (300, 200), *bay, (-300, 200)])
    cut = shape_of("Hollow", hollow, (0, 1, 2, 43), dict.fromkeys(("bottom", "right", "top", "left"), "sewn"))
    slits = [e for e in curved_edges(cut) if not e.is_outward]
    assert slits
    assert slits[0].snips[0].sort == "slit"
    assert slits[0].radius == pytest.approx(150, rel=0.1)


def test_pleats_by_hand():
    """An arm front of 420 outside and 300 inside: 120 too long, 120 / 20 = 6 pleats of 10, one every 50."""
    made = pleats(420, 300)
    assert (made.count, made.deep, made.apart) == (6, 10, 50)
    assert [round(p) for p in made.places] == [-175, -105, -35, 35, 105, 175]
    assert len(fan(made).creases) == 6
    outer, inner = round_edge(180, 50)
    assert pleats(outer, inner).count == 16, "314 too long"


@given(st.floats(50, 2000), st.floats(17, 900), st.floats(8, 12))
def test_pleats_take_the_difference_and_stand_evenly(inner, surplus, deep):
    made = pleats(inner + surplus, inner, deep=deep)
    assert made.takes == pytest.approx(surplus)
    assert made.count * made.apart == pytest.approx(inner)
    assert sum(made.places) == pytest.approx(0, abs=1e-6)
    assert 0.5 * deep < made.deep < 2 * deep


def test_closings_by_hand():
    """A ladder stitch along 520: thread of 1560, stitches of 8: 65. A card strip of 520 - 20. Three metres glued: two
    sticks; pins every 60 along 250: five.
    """
    assert closed_edge("top", 520, "ladder").takes == ("thread of 1560 mm", "65 stitches of 8 mm")
    assert closed_edge("top", 520, "card_strip").takes[0].startswith("card strip of 500 mm")
    assert closed_edge("top", 3000, "glued").takes == ("2 sticks of hot glue",)
    assert closed_edge("top", 250, "twist_pins").takes == ("5 pins",)
    assert closed_edge("top", 500, "ladder").minutes == pytest.approx(12.5)
    bought = closings_bought([(closed_edge("top", 500, "card_strip"), 6), (closed_edge("side", 400, "ladder"), 2)])
    assert [(b.what, b.amount, b.unit) for b in bought] == [("card strip", 3000, "mm"), ("waxed thread", 2400, "mm")]
    assert all(len(c.steps) >= 3 and c.starts for c in CLOSINGS.values())


def test_a_cushion_is_sewn_zip_first_then_the_ring_then_round_each_face():
    kind = KINDS["bench_box"]
    (group,) = kind.together
    runs = sewing_order(kind, seams_of(kind, group, kind.usual_length))
    assert "(zip)" in runs[0].what
    assert runs[0].minutes == pytest.approx(15 + 3 * 1.74)
    assert [len(r.seams) for r in runs[-2:]] == [6, 6]
    assert {r.what.split(",")[0] for r in runs[-2:]} == {"Round the cushion top", "Round the cushion bottom"}
    welted = seams_of(kind, group, kind.usual_length, welted=[seam_key(s.meeting) for s in runs[-1].seams])
    assert [r.is_heavy for r in sewing_order(kind, welted)][-2:].count(True) == 1, "eight layers where its welts meet"


def test_a_sewn_chair_has_its_long_run_round_the_outside_back_last():
    kind = KINDS["side_chair"]
    runs = sewing_order(kind, seams_of(kind, kind.together[0], kind.usual_length))
    assert "(on a fly)" in runs[0].what
    assert (runs[-1].what, len(runs[-1].seams)) == ("Round the outside back, 5 seams in one line", 5)
    assert runs[-1].length == max(run.length for run in runs)


SEWN = [(k.key, n) for k in KINDS.values() for n in range(len(k.together))]


@given(st.sampled_from(SEWN), st.data())
def test_no_seam_is_closed_before_what_needs_it_flat(cover, data):
    kind = KINDS[cover[0]]
    group = kind.together[cover[1]]
    plain = seams_of(kind, group, kind.usual_length)
    if not plain:
        return
    stitched = data.draw(st.lists(st.sampled_from([seam_key(s.meeting) for s in plain]), max_size=2, unique=True))
    runs = sewing_order(kind, seams_of(kind, group, kind.usual_length, top_stitched=stitched))
    done = [seam.meeting for run in runs for seam in run.seams]
    assert sorted(map(seam_key, done)) == sorted(seam_key(s.meeting) for s in plain), "each once"
    first = [seam.is_top_stitched for run in runs for seam in run.seams]
    assert first == sorted(first, reverse=True), "top-stitched ones while all lies flat"
    at = {seam_key(m): n for n, m in enumerate(done)}
    for zipped in (m for m in done if m.join == "zip"):
        for other in (m for m in done if m.join == "sewn" and seam_key(m) not in stitched):
            if set(other.ends[0][:1] + other.ends[1][:1]) & {zipped.one, zipped.other}:
                assert at[seam_key(zipped)] < at[seam_key(other)], "the zip before what it lies in is closed"
    if not stitched:
        assert all(run.is_flat for run in runs if run.seams[0].meeting.join in ("zip", "fly"))


@pytest.mark.parametrize("kind", KINDS)
def test_every_panel_of_every_kind_has_its_stages_and_what_is_before_it(kind):
    made = KINDS[kind]
    for part in made.panels:
        shape = usual_shape(part)
        joins = {e.name: e.join for e in shape.edges}
        is_sewn = len(made.sewn_with(part.key)) > 1
        stages = [
            s.key for s in stages_of(part, joins, corners=4, curves=0, is_sewn=is_sewn, is_round=part.form == "disc")
        ]
        assert stages[-1] == "look"
        assert ("sew" in stages) == is_sewn
        held = bool(held_edges(shape, stands=part.stands))
        assert ("staples" in stages) == held
        plain = stages_of(part, joins, corners=0, curves=0, is_sewn=is_sewn, is_round=part.form == "disc")
        assert ("corners" in {s.key for s in plain}) == (held and part.form == "disc"), "pleats where a round is pulled"
        for words, is_true in before_it(made, part, on=[], has_pad=False, is_sewn=False if is_sewn else None):
            assert words
            assert not is_true
        assert looks_for(part, is_pair=bool(part.mirror), has_stripe=False, is_sewn=is_sewn)
    assert [t.key for t in ticks_for(has_pattern=True, has_nap=False, is_sewn=True)] == ["top", "motif", "seams"]


def test_legs_stand_at_the_corners_or_evenly_round():
    at = legs_of(rectangle(400, 400), 4)
    assert [(round(x), round(y)) for x, y in at] == [(30, 30), (370, 30), (370, 370), (30, 370)]
    assert len(legs_of(disc_shape("x", 400, {"bottom": "sewn"}).outline, 3)) == 3
    assert CORNER_OPEN > 30
