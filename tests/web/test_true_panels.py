"""What follows from panels in their own frames, page by page: wishes that wait, pairs, tucked gaps, slips, glue, trims,
stretch.
"""

from __future__ import annotations

from dataclasses import replace

import pytest

from tests.web.conftest import found, padded_with
from zonatome.core.errors import BadInput
from zonatome.core.rules import Rules
from zonatome.core.survey.kinds import KINDS
from zonatome.core.trace.snug import snug_shape
from zonatome.core.trace.usual import unusual, usual_shape
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job, JobPart, Wait
from zonatome.web.jobs.services import hang_tag
from zonatome.web.lay.asking import request_for
from zonatome.web.lay.models import Cloth
from zonatome.web.lay.services import add_cloth
from zonatome.web.pad.services import set_board, set_stack
from zonatome.web.shop.services import materials_of, rates_of
from zonatome.web.strip.services import take_off
from zonatome.web.trace.restyle import restyle
from zonatome.web.trace.services import keep_new_shape, shape_of_part
from zonatome.web.trim.models import TrimLine
from zonatome.web.trim.services import trims_of_job


@pytest.fixture
def wing(workroom) -> Job:
    return load_job(hang_tag(title="Wing chair", client="x", kind="wing").number)


def row(job: Job, key: str) -> JobPart:
    return load_job(job.number).parts_by_key()[key]


def size(job: Job, key: str) -> tuple[int, int]:
    outline = shape_of_part(row(job, key)).outline
    return round(outline.width), round(outline.height)


def tape(bench, job: Job, key: str, width: str, height: str, **more):
    return bench.post(f"/tags/{job.number}/trace/{key}/make/rectangle/", {"width": width, "height": height, **more})


# --- restyling waits for the shape


def test_channels_wait_for_the_shape_grow_a_pair_once_and_follow_when_the_wish_changes(bench, wing):
    """By hand: 480 wide, lines 60 apart, 20 deep: 8 channels of sqrt(60² + 4 · 20²) = 72.11 mm, so 96.9 more; 80 apart:
    6 of 89.44: 56.7.
    """
    base = f"/tags/{wing.number}/survey/restyle/channels/"
    wish = {"part": "inside_arm_left", "deep": "20", "way": "upright"}
    for wrong in ({"apart": "90"}, {"apart": "6", "deep": "50"}, {"apart": "1"}, {"apart": "6", "part": "screws"}):
        assert bench.post(base, wish | wrong).status_code == 422, wrong
    assert bench.post(base, wish | {"apart": "6"}).status_code == 302
    assert "channels 60 mm apart" in bench.get(f"/tags/{wing.number}/trace/inside_arm_left/").content.decode()
    tape(bench, wing, "inside_arm_left", "48", "36", pair="on")
    assert size(wing, "inside_arm_left") == size(wing, "inside_arm_right") == (577, 360)
    assert sum(m.means == "channel" for m in shape_of_part(row(wing, "inside_arm_right")).marks) >= 8
    bench.post(base, wish | {"apart": "8"})
    assert size(wing, "inside_arm_left") == size(wing, "inside_arm_right") == (537, 360)
    bench.post(
        f"/tags/{wing.number}/trace/inside_arm_right/do/channels/", {"apart": "8", "deep": "20", "way": "upright"}
    )
    assert size(wing, "inside_arm_right") == (537, 360), "the same channels once more grow nothing"
    bench.post(f"/tags/{wing.number}/survey/restyle/arms/", {"thickness": "20"})
    assert size(wing, "inside_arm_left") == size(wing, "inside_arm_right") == (577, 400), (
        "480 + 40 are 6 channels of 80 still"
    )
    bench.post(f"/tags/{wing.number}/survey/panels/undo/", {})


def test_thicker_arms_before_the_shape_reach_it_once_when_it_is_measured_and_again_when_the_wish_grows(bench, wing):
    """By hand: 20 mm more foam, then 500 x 360 traced: 540 x 400; 10 mm more: 560 x 420; the facing's board 160 x 300
    to 200 x 320.
    """
    base = f"/tags/{wing.number}/survey/restyle/"
    bench.post(base + "arms/", {"thickness": "20"})
    answer = bench.get(f"/tags/{wing.number}/trace/inside_arm_left/")
    assert "20 mm more foam on the arms" in answer.content.decode()
    answer = tape(bench, wing, "inside_arm_left", "50", "36", pair="on")
    assert answer.status_code == 302
    assert size(wing, "inside_arm_left") == size(wing, "inside_arm_right") == (540, 400)
    tape(bench, wing, "arm_front_left", "16", "30", pair="on")
    assert size(wing, "arm_front_left") == (200, 320)
    tape(bench, wing, "outside_arm_left", "50", "30", pair="on")
    assert size(wing, "outside_arm_left") == (500, 320)
    bench.post(base + "arms/", {"thickness": "10"})
    assert size(wing, "inside_arm_left") == size(wing, "inside_arm_right") == (560, 420)
    assert size(wing, "outside_arm_right") == (500, 330)
    bench.post(f"/tags/{wing.number}/survey/panels/undo/")
    assert size(wing, "inside_arm_left") == (540, 400)
    tape(bench, wing, "inside_arm_left", "50", "36", pair="on")
    assert size(wing, "inside_arm_left") == (540, 400), "measured anew, it takes the wish once, not twice"


def test_the_pad_knows_the_layer_and_neither_asks_to_grow_nor_drops_it(bench, wing):
    restyle(load_job(wing.number), "arms", {"thickness": 20.0})
    front = row(wing, "arm_front_left")
    keep_new_shape(front, usual_shape(replace(front.part, width=160, height=300)), "rectangle", pair=True)
    set_board(row(wing, "arm_front_left"), board_width=150, board_depth=290, board_thickness=3)
    set_stack(row(wing, "arm_front_left"), padded_with(10, 0))
    assert row(wing, "arm_front_left").pad_measured == pytest.approx(29), "10 less a tenth, and the layer of 20"
    page = bench.get(f"/tags/{wing.number}/trace/arm_front_left/").content.decode()
    assert "thinner" not in page
    assert size(wing, "arm_front_left") == size(wing, "arm_front_right")
    assert row(wing, "arm_front_right").board_width == 150, "a pair stays a pair through board and pad"


@pytest.mark.parametrize("door", ["survey first", "survey after", "trace"])
def test_buttons_grow_the_shape_whichever_door_they_come_in_by(bench, wing, door):
    """By hand: 3 columns 120 apart drawn 30: 2 (sqrt(120² + 60²) - 120) = 28; 4 rows 150 apart: 3 (sqrt(150² + 60²) -
    150) = 35.
    """
    grid = {"rows": "4", "columns": "3", "across": "12", "down": "15", "deep": "30"}
    if door == "survey first":
        bench.post(f"/tags/{wing.number}/survey/restyle/buttons/", {"part": "inside_back", **grid})
    tape(bench, wing, "inside_back", "50", "72")
    if door == "survey after":
        bench.post(f"/tags/{wing.number}/survey/restyle/buttons/", {"part": "inside_back", **grid})
    if door == "trace":
        bench.post(f"/tags/{wing.number}/trace/inside_back/do/buttons/", grid)
    assert size(wing, "inside_back") == (528, 755)
    assert len([m for m in shape_of_part(row(wing, "inside_back")).marks if m.means == "button"]) == 12


def test_a_buttoned_old_cover_that_is_traced_has_its_buttons_in_it_already(workroom):
    hall = load_job(hang_tag(title="Hall chair", client="x", kind="hall").number)
    back = row(hall, "inside_back")
    keep_new_shape(back, usual_shape(back.part), "photo")
    assert size(hall, "inside_back") == (520, 860)
    assert len([m for m in shape_of_part(row(hall, "inside_back")).marks if m.means == "button"]) == 12


def test_a_stripe_s_strips_follow_the_block_together(bench, stool):
    """By hand: board 370, pad 45, board 18: 370 + 126 = 496 across; a stripe of 100 leaves 198 each side; a pad of 54
    adds 18 in all.
    """
    restyle(load_job(stool.number), "stripe", {"part": "seat", "width": 100.0})
    sent = {"board_width": "37", "board_depth": "37", "board_thickness": "18", "pad": "45", "wrap": "50"}
    assert bench.post(f"/tags/{stool.number}/trace/seat/make/block/", sent).status_code == 302
    strips = ["seat_left_strip", "seat", "seat_right_strip"]
    assert [size(stool, k)[0] for k in strips] == [198, 100, 198]
    set_stack(row(stool, "seat"), padded_with(50))
    assert [size(stool, k)[0] for k in strips] == [207, 100, 207]
    joins = {e.side: e.join for e in shape_of_part(row(stool, "seat")).edges}
    assert joins == {"bottom": "stapled_under", "right": "sewn", "top": "stapled_under", "left": "sewn"}


# --- measures


def test_a_slip_of_the_unit_is_asked_about_and_taken_when_it_is_meant(bench, stool, skerry):
    answer = tape(bench, stool, "seat", "370", "370")
    assert answer.status_code == 422
    assert "370 cm × 370 cm? Usual is about 37 cm × 37 cm" in answer.content.decode()
    assert row(stool, "seat").shape is None
    assert tape(bench, stool, "seat", "370", "370", sure="on").status_code == 302
    assert unusual(usual_shape(KINDS["wing"].part("seat")), KINDS["wing"].part("seat")) is None
    told = {
        "name": "Braid",
        "width": "14",
        "selvage": "0",
        "thickness": "1",
        "direction": "two_way",
        "price": "9",
        "sold_in": "m",
        "sold_by": "tenth",
    }
    assert bench.post("/cloths/", told).status_code == 422
    assert not Cloth.objects.filter(name="Braid").exists()
    assert bench.post("/cloths/", told | {"sure": "on"}).status_code == 302
    late = {"title": "Chair", "client": "x", "kind": "wing", "count": "1", "due": "2020-01-01"}
    assert "has gone by" in bench.post("/tags/new/", late).content.decode()


def test_the_depth_of_a_gap_is_asked_for_at_the_tucked_edge(bench, wing):
    tape(bench, wing, "inside_arm_left", "50", "36", pair="on")
    shape = shape_of_part(row(wing, "inside_arm_left"))
    name = next(e.name for e in shape.edges if e.side == "bottom")
    page = bench.get(f"/tags/{wing.number}/trace/inside_arm_left/").content.decode()
    assert "how deep the gap is" in page
    sent = {f"{name}-join": "tucked", f"{name}-adds": "110", f"{name}-side": "bottom", f"{name}-gap": "85 mm"}
    bench.post(f"/tags/{wing.number}/trace/inside_arm_left/edge/{name}/", sent)
    for key in ("inside_arm_left", "inside_arm_right"):
        assert next(e.adds for e in shape_of_part(row(wing, key)).edges if e.side == "bottom") == 135


def test_cloth_that_stretches_is_cut_smaller_where_it_is_sewn_snug_and_the_board_says_so(bench, workroom):
    """By hand: a sewn top of 560 x 460 at 2 %: 548.8 + 26 across; its front is sewn at both sides, stapled below:
    across only.
    """
    ottoman = load_job(hang_tag(title="Ottoman", client="x", kind="ottoman").number)
    for key in ("top", "front"):
        keep_new_shape(row(ottoman, key), usual_shape(row(ottoman, key).part), "rectangle")
    give = Cloth.objects.create(name="Jersey", width=1500, direction="any", price="30", sold_by="tenth", stretch="both")
    add_cloth(load_job(ottoman.number), give, "main")
    pieces = {p.id: p.outline for p in request_for(load_job(ottoman.number).cloths.get()).pieces}
    assert (pieces["top"].height, pieces["top"].width) == (pytest.approx(574.8), pytest.approx(460 * 0.98 + 26))
    assert (pieces["front"].height, pieces["front"].width) == (pytest.approx(574.8), pytest.approx(323))
    assert "Jersey stretches" in bench.get(f"/tags/{ottoman.number}/trace/top/").content.decode()
    top = usual_shape(ottoman.kind.part("top"))
    assert snug_shape(top, "along", rules=Rules((("stretch", 0.1),))).outline.height == pytest.approx(414)
    with pytest.raises(BadInput, match="one of"):
        snug_shape(top, "sideways")


# --- survey, strip, trim


def test_an_open_joint_is_glued_by_either_school_and_the_wait_runs(bench, stool):
    found(bench, stool, "frame_loose")
    page = bench.get(f"/tags/{stool.number}/survey/").content.decode()
    assert "Hot hide glue" in page
    assert "Modern wood glue" in page
    assert bench.post(f"/tags/{stool.number}/survey/glued/", {"glue": "hide"}).status_code == 302
    wait = Wait.objects.get()
    assert (wait.until - wait.began).total_seconds() == 12 * 3600
    assert "hot hide glue stands" in bench.get(f"/tags/{stool.number}/survey/").content.decode().lower()
    assert bench.post(f"/tags/{stool.number}/survey/glued/", {"glue": "spit"}).status_code == 422


def test_of_a_cover_that_is_saved_what_is_left_to_hold_is_counted(bench, wing):
    bench.post(f"/tags/{wing.number}/strip/reach/", {"part": "inside_wing_left"})
    page = bench.get(f"/tags/{wing.number}/strip/").content.decode()
    assert "Outside wing, left" in page
    assert "about 9 mm left to hold" in page, "a gripper strip's 14 less 5 that fray"
    assert "too little" in page


def test_a_sewn_cover_comes_off_in_one_under_one_number_and_goes_back_in_one_line(bench, workroom):
    chair = load_job(hang_tag(title="Chair", client="x", kind="side_chair").number)
    for key in ("bottom_cloth", "flies"):
        take_off(load_job(chair.number), key)
    page = bench.get(f"/tags/{chair.number}/strip/").content.decode()
    assert "sewn cover, 5 panels" in page
    bench.post(f"/tags/{chair.number}/strip/off/", {"part": "inside_back"})
    numbers = {p.key: p.off_number for p in load_job(chair.number).parts.all()}
    assert {numbers[k] for k in ("seat", "inside_back", "outside_back", "side_left", "side_right")} == {3}
    assert "3 of 3 off" in bench.get(f"/tags/{chair.number}/strip/").content.decode()
    bench.post(f"/tags/{chair.number}/finish/parts/seat/")
    assert load_job(chair.number).parts_by_key()["side_left"].on_again
    bench.post(f"/tags/{chair.number}/strip/undo/")
    assert set(load_job(chair.number).off_keys) == {"bottom_cloth", "flies"}


def test_one_shape_is_cut_four_times_as_two_mirrored_pairs(bench, wing, skerry):
    tape(bench, wing, "arm_front_left", "16", "30", pair="on")
    bench.post(f"/tags/{wing.number}/survey/panels/count/", {"key": "arm_front_left", "count": "2"})
    add_cloth(load_job(wing.number), skerry, "main")
    counts = {p.id: p.count for p in request_for(load_job(wing.number).cloths.get()).pieces}
    assert counts == {"arm_front_left": 2, "arm_front_right": 2}
    assert (
        bench.post(f"/tags/{wing.number}/survey/panels/count/", {"key": "arm_front_left", "count": "0"}).status_code
        == 422
    )


def test_several_trims_on_one_chair_each_with_its_lines(bench, wing, skerry, workroom):
    """By hand: welt 1000 open: 1080; double welt 500 closed: 540; the gimp is bought, its 2000 open: 2080."""
    add_cloth(load_job(wing.number), skerry, "main")
    cloth = load_job(wing.number).cloths.get()
    tape(bench, wing, "front_band", "54", "19")
    base = f"/tags/{wing.number}/trim/"
    bench.post(base + "choose/", {"kind": "welt", "cord": "5", "cloth": str(cloth.pk), "way": "bias"})
    for name, length, kind, closed in (
        ("Wings", "100", "", ""),
        ("Seat", "50", "double_welt", "on"),
        ("Back", "200", "gimp", ""),
    ):
        bench.post(base + "lines/", {"name": name, "length": length, "kind": kind, "times": "1", "is_closed": closed})
    sums = {s.kind: round(s.total) for s in trims_of_job(load_job(wing.number))}
    assert sums == {"welt": 1080, "double_welt": 540, "gimp": 2080}
    strips = {s.id: s.directions for s in request_for(load_job(wing.number).cloths.get()).strips}
    assert strips == {"welt": ("bias",), "double_welt": ("bias",)}
    whats = [m.what for m in materials_of(load_job(wing.number), rates_of(workroom), "metric")]
    assert whats.count("welt cord") == 2
    assert "gimp" in whats
    page = bench.get(base + "?ways=1").content.decode()
    assert "on the bias" in page
    assert TrimLine.objects.count() == 3
