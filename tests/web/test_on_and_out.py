"""What hangs together over Fasten, Trim, Finish and Money: the order, what is bought, marks on print and cut sheet."""

from __future__ import annotations

import random
import re
from dataclasses import replace

import pytest

from tests.web.conftest import block, pad
from zonatome.core.fasten.chosen import Chosen, PostCut
from zonatome.core.fasten.relief import Post
from zonatome.core.formats.fastening_json import write_fastening
from zonatome.core.formats.shape_out import shape_svg
from zonatome.core.strip.order import can_come_off
from zonatome.core.strip.pulling import Pace
from zonatome.core.survey.kinds import KINDS
from zonatome.core.trace.by_tape import disc_shape, rectangle_shape
from zonatome.core.trace.shape import Mark
from zonatome.core.trace.usual import usual_shape
from zonatome.core.trim.bottom import bottom_cloth
from zonatome.web.fasten.services import (
    closings_of_job,
    corners_for,
    cuts_of,
    facts_of,
    going_on,
    is_on,
    next_to_go_on,
    pleats_of,
    runs_of,
)
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job, JobPart, Workroom
from zonatome.web.jobs.services import hang_tag
from zonatome.web.lay.asking import names_in
from zonatome.web.lay.models import JobCloth
from zonatome.web.lay.services import add_cloth
from zonatome.web.shop.services import quantities_of
from zonatome.web.strip.services import take_off
from zonatome.web.trace.boards import goes_round_a_board, is_round_board, plan_of, shape_or_usual, staples_of
from zonatome.web.trace.services import keep_new_shape, plan_staples, shape_of_part
from zonatome.web.trim.drawing import bottom_drawing
from zonatome.web.trim.models import TrimLine
from zonatome.web.trim.services import Bottom, lines_on, trims_of_job


def hung(kind: str, count: int = 1) -> Job:
    return load_job(hang_tag(title="x", client="y", kind=kind, count=count).number)


def part(job: Job, key: str) -> JobPart:
    return load_job(job.number).parts_by_key()[key]


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("seed", [1, 2])
def test_whatever_is_off_already_each_panel_goes_on_after_what_lies_under_it(workroom, kind, seed):
    told, job = random.Random(seed), hung(kind)
    for _ in range(told.randrange(len(job.kind.old) + 1)):
        ready = can_come_off(job.kind, job.off_keys)
        if ready:
            take_off(job, told.choice(ready), fixing="staples", note="")
            job = load_job(job.number)
    at = {row.key: n for n, thing in enumerate(going_on(job)) for row in thing.members}
    assert set(at) == {p.key for p in job.panels()}
    for under, over in job.kind.over:
        if under in at and over in at:
            assert at[under] <= at[over], (under, over)


def test_the_next_panel_is_the_first_that_is_not_on_and_a_staple_too_few_is_not_on(workroom):
    job = hung("wing")
    first = next_to_go_on(going_on(job))
    row = part(job, first.key)
    count = plan_staples(row)
    JobPart.objects.filter(pk=row.pk).update(staples_done=count - 1)
    assert not is_on(part(job, first.key))
    assert next_to_go_on(going_on(load_job(job.number))).key == first.key
    JobPart.objects.filter(pk=row.pk).update(staples_done=count)
    assert is_on(part(job, first.key))
    assert next_to_go_on(going_on(load_job(job.number))).key != first.key


def test_staples_are_reckoned_before_a_plan_is_drawn_and_near_what_is_drawn_then(workroom):
    for kind in KINDS:
        for row in hung(kind).panels():
            about = staples_of(row)
            count = plan_staples(row)
            assert about == pytest.approx(count, abs=max(4, 0.04 * count)), (kind, row.key)
            assert staples_of(row) == count or not count


def test_a_board_s_panel_is_stapled_from_below_and_a_sewn_one_on_its_rails(bench, workroom):
    sewn, wrapped = hung("side_chair"), hung("square_stool")
    measures = {"board_width": 440.0, "board_depth": 420.0, "board_thickness": 22.0}
    for job in (sewn, wrapped):
        JobPart.objects.filter(job=job, key="seat").update(**measures)
    assert not goes_round_a_board(part(sewn, "seat"))
    assert is_round_board(part(wrapped, "seat"))
    assert {s.side for s in plan_of(part(wrapped, "seat")).staples} == {"front", "back", "left", "right"}
    assert {s.side for s in plan_of(part(sewn, "seat")).staples} == {"front", "back"}
    assert corners_for(part(sewn, "seat"), shape_or_usual(part(sewn, "seat")), Chosen()) == ()
    assert len(corners_for(part(wrapped, "seat"), shape_or_usual(part(wrapped, "seat")), Chosen())) == 4


def test_an_armchair_s_closings_by_hand_and_what_they_cost(bench, workroom):
    """Outside back 520 x 560: card strip 520 above, tack strips 560 at both sides; two outside arms 480 x 300, a card
    strip 480 above each: 1480 of card strip, 1120 of tack strip; 0.90 a metre each.
    """
    job = hung("armchair")
    bought = {b.what: b.amount for b in closings_of_job(job)}
    assert bought == {"card strip": 520 + 2 * 480, "tack strip": 2 * 560}
    page = bench.get(f"/tags/{job.number}/money/").content.decode()
    for what, length, cost in (("Card strip", "1.48 m", "1.33"), ("Tack strip", "1.12 m", "1.01")):
        told = " ".join(re.sub("<[^>]+>", " ", page.split(what)[1][:300]).split())
        assert told.startswith(length)
        assert cost in told


def test_money_knows_nails_closings_and_the_frame_s_minutes(bench, workroom):
    """A seat's 88 nails, twice, and a tenth more: two boxes at 6.50. Two chairs with 0.3 m2 of wood each: sanded with
    two grits, 15 a m2 each: 18; two coats of 10 + 12 x 0.6: 34.4; they dry 4 + 3 hours.
    """
    job = hung("show_wood", 2)
    before = quantities_of(load_job(job.number), Pace())
    TrimLine.objects.create(job=job, name="Seat", length=2200, is_closed=True, kind="nails", head=11, spacing=25,
                            corners=[560, 540, 560, 540])  # fmt: skip
    at = f"/tags/{job.number}/finish/"
    bench.post(f"{at}frame/", {"area": "0.3", "prepared": "sand", "grits": "120, 180"})
    bench.post(f"{at}frame/coat/", {"finish": "primer", "hours": "4"})
    bench.post(f"{at}frame/coat/", {"finish": "paint", "hours": "3"})
    after = quantities_of(load_job(job.number), Pace())
    assert (before.frame_minutes, before.frame_waits) == (0, 0)
    assert after.frame_minutes == pytest.approx(18 + 2 * (10 + 12 * 0.6))
    assert after.frame_waits == 7 * 60
    (nailed,) = trims_of_job(load_job(job.number))
    assert nailed.nails == 2 * 88
    page = bench.get(f"/tags/{job.number}/money/").content.decode()
    assert "Decorative nails" in page
    assert "176, 2 boxes" in page
    assert "13.00" in page.split("Decorative nails")[1][:200]


def test_relief_cuts_are_said_as_not_yet_on_print_and_cut_sheet(bench, workroom, skerry):
    job = hung("show_wood")
    add_cloth(job, skerry, "main")
    seat = part(job, "seat")
    keep_new_shape(seat, rectangle_shape("Seat", 560, 540, seat.part.joins), "rectangle")
    assert b"not yet" not in shape_svg(shape_of_part(part(job, "seat")))
    sent = {"x": "28", "y": "7", "width": "40", "sort": "straight", "stop": "12"}
    bench.post(f"/tags/{job.number}/fasten/seat/do/post/", sent)
    assert b"not yet: cut on the furniture" in shape_svg(shape_of_part(part(job, "seat")))
    host = load_job(job.number).cloths.first() or JobCloth.objects.get()
    named = names_in(host)
    assert "not yet" in named["seat"]
    assert "not yet" not in named["inside_back"]
    row = part(job, "seat")
    assert [round(cut.stem) for _, cut, _ in cuts_of(shape_of_part(row), facts_of(row).chosen)] == [83]


def test_a_post_outside_a_shape_that_was_made_smaller_is_said_and_closes_no_page(bench, workroom):
    job = hung("show_wood")
    seat = part(job, "seat")
    seat.fastening = write_fastening(Chosen(posts=(PostCut(Post((900.0, 900.0), 40)),)))
    seat.save()
    page = bench.get(f"/tags/{job.number}/fasten/seat/?stage=cuts")
    assert page.status_code == 200
    assert "The post must stand inside the cut piece" in page.content.decode()


def test_pleats_of_a_round_stool_by_hand_measured_and_marked(bench, workroom):
    """360 across, 50 under: 2 pi x 50 = 314 too long, 16 pleats of 9.8. Measured 1300 to 1140: 160, 8 of 10."""
    job = hung("round_stool")
    top = part(job, "top")
    keep_new_shape(top, usual_shape(top.part), "usual")
    row = part(job, "top")
    made = pleats_of(row, shape_of_part(row), Chosen())
    assert (made.count, round(made.deep, 1)) == (16, 9.8)
    row.board_width, row.board_thickness = 340, 18
    padded = disc_shape("Top", 484, {"bottom": "stapled_under"})
    assert padded.edges[0].adds == 50
    made = pleats_of(row, padded, Chosen())
    assert (made.count, round(made.takes), round(made.deep, 1)) == (38, 767, 10.1), "2 pi (242 + 50 - 170); 767 / 20"
    row.board_width = 600
    assert pleats_of(row, padded, Chosen()).count == 16, "a board wider than its cover takes nothing away"
    at = f"/tags/{job.number}/fasten/top/do/"
    assert bench.post(f"{at}pleats/", {"outer": "130", "inner": "114", "deep": "10"}).status_code == 302
    assert "8 pleats, 10 mm deep" in bench.get(f"/tags/{job.number}/fasten/top/?stage=corners").content.decode()
    for _ in range(2):
        bench.post(f"{at}mark-pleats/")
        marks = [m for m in shape_of_part(part(job, "top")).marks if m.means == "pleat"]
        assert len(marks) in (0, 8)
    assert marks == [], "the second press takes them away"
    for wrong in ({"outer": "114", "inner": "130"}, {"deep": "40"}, {"outer": "x"}, {"outer": "114.1", "inner": "114"}):
        sent = {"outer": "130", "inner": "114", "deep": "10", **wrong}
        assert bench.post(f"{at}pleats/", sent).status_code == 422, wrong


def test_the_bottom_cloth_is_cut_round_its_legs(bench, stool):
    drawn = bottom_drawing(Bottom(bottom_cloth(370, 370), (), None), 4)
    assert len(drawn.legs) == len(drawn.cuts) == 4
    assert len(bottom_drawing(Bottom(bottom_cloth(360, 360, is_round=True), (), None), 3).legs) == 3
    assert bottom_drawing(Bottom(bottom_cloth(370, 370), (), None), 0).legs == ()
    bench.post(f"/tags/{stool.number}/trim/underside/", {"width": "37", "depth": "37"})
    page = bench.get(f"/tags/{stool.number}/trim/").content.decode()
    assert page.count('class="trim-leg"') == stool.kind.feet


def test_strips_are_as_long_as_the_line_and_joined_off_the_front_s_middle(workroom):
    job = hung("show_wood")
    Job.objects.filter(pk=job.pk).update(trim_kind="double_welt")
    TrimLine.objects.create(job=job, name="Seat", key="seat", length=2200, is_closed=True)
    TrimLine.objects.create(job=job, name="Short", length=300)
    for longest in (400.0, 900.0, 1500.0, 9000.0):
        seat, short = lines_on(load_job(job.number), longest)
        assert sum(seat.strips) - 40 * len(seat.strips) == pytest.approx(2200)
        assert all(strip <= longest + 1e-6 for strip in (*seat.strips, *short.strips))
        front = (540.0, 1100.0)  # down the left side from the back, then the front's 560
        middle, wide = sum(front) / 2, 560 * 0.2
        assert seat.why or all(abs(join.along - middle) >= wide - 1e-6 for join in seat.joins)
        assert short.joins == () or longest == 400
    (tiny,) = [on for on in lines_on(load_job(job.number), 30.0) if on.line.name == "Short"]
    assert "join" in tiny.why, "no strip is longer than its own join"


def test_a_sewn_cover_s_minutes_follow_its_own_shapes(bench, workroom):
    job = hung("ottoman")
    before = sum(run.length for run in runs_of(part(job, "top")))
    for key, wide, high in (("top", 700, 460), ("front", 700, 260), ("back", 700, 260)):
        row = part(job, key)
        keep_new_shape(row, rectangle_shape(row.name, wide, high, row.part.joins), "rectangle")
    after = sum(run.length for run in runs_of(part(job, "top")))
    assert after - before == pytest.approx(2 * (700 - 560)), "two long seams of the top are longer, no other"


def test_every_stage_s_page_offers_its_own_next_move_once(bench, stool, skerry):
    block(bench, stool)
    pad(bench, stool)
    for stage in ("square", "staples", "corners", "cuts", "surplus", "look"):
        page = bench.get(f"/tags/{stool.number}/fasten/seat/?stage={stage}").content.decode()
        main = page.split("<main", 1)[1].split("</main>")[0] if "</main>" in page else page
        assert len(re.findall(r'data-key="enter"', main)) == 1, stage


def test_a_bottom_cloth_is_stapled_last_at_its_own_pitch_and_does_not_hold_up_the_trim(bench, stool):
    """An underside of 370: 350 finished, staples 5 inside it every 45: (350 / 2 - 60) / 45 = 2 each way from the
    middle, 5 a side, and each corner's own.
    """
    bench.post(f"/tags/{stool.number}/trim/underside/", {"width": "37", "depth": "37"})
    assert "Staple it" in bench.get(f"/tags/{stool.number}/trim/").content.decode()
    page = bench.get(f"/tags/{stool.number}/fasten/bottom_cloth/?stage=staples").content.decode()
    assert "every 45 mm" in page
    plan = plan_of(part(stool, "bottom_cloth"))
    assert sum(not s.at_corner for s in plan.staples) == 4 * 5
    assert {round(min(s.x, s.y, 350 - s.x, 350 - s.y)) for s in plan.staples} == {5}
    bench.post(
        f"/tags/{stool.number}/fasten/bottom_cloth/choose/", {"pitch": "40", "rows": "1", "order": "cross first"}
    )
    assert "every 40 mm" in bench.get(f"/tags/{stool.number}/fasten/bottom_cloth/?stage=staples").content.decode()
    assert "bottom_cloth" not in {row.key for thing in going_on(load_job(stool.number)) for row in thing.members}


def test_a_post_that_is_marked_on_the_shape_is_offered_its_cut_once(bench, workroom):
    job = hung("show_wood")
    seat = part(job, "seat")
    shape = rectangle_shape("Seat", 560, 540, seat.part.joins)
    keep_new_shape(seat, replace(shape, marks=(Mark("post", ((280.0, 70.0),)),)), "rectangle")
    at = f"/tags/{job.number}/fasten/seat/"
    page = bench.get(f"{at}?stage=cuts").content.decode()
    assert "A post is marked on the shape at 28 cm × 70 mm" in page
    x, y = re.findall(r'name="[xy]" value="([\d.]+ mm)"', page)
    sent = {"x": x, "y": y, "width": "40", "sort": "straight", "stop": "10 mm"}
    assert bench.post(f"{at}do/post/", sent).status_code == 302
    page = bench.get(f"{at}?stage=cuts").content.decode()
    assert "A post is marked" not in page
    assert "Straight, 85 mm" in page


def test_an_arm_front_s_pleats_are_reckoned_between_its_two_lengths(bench, workroom):
    """420 outside, 300 inside: 6 pleats of 10, one every 50; drawn beside the folds of its corners."""
    job = hung("wing")
    at = f"/tags/{job.number}/fasten/arm_front_left/"
    assert "Pleats</b>" not in bench.get(f"{at}?stage=corners").content.decode()
    assert bench.post(f"{at}do/pleats/", {"outer": "42", "inner": "30", "deep": "10"}).status_code == 302
    page = bench.get(f"{at}?stage=corners").content.decode()
    assert "6 pleats, 10 mm deep</b>, one every 50 mm" in page
    assert page.count('class="crease"') == 6
    assert "6 pleats" in bench.get(at.replace("left", "right") + "?stage=corners").content.decode(), "its partner too"
    assert bench.post(f"{at}do/pleats/", {"outer": "30", "inner": "42", "deep": "10"}).status_code == 422


@pytest.mark.parametrize("kind", ["side_chair", "wing", "round_stool"])
def test_an_inch_workroom_hears_no_millimetre_at_any_stage(bench, workroom, kind):
    job = hung(kind, 2)
    Workroom.objects.update(units="imperial")
    for row in job.panels():
        at = f"/tags/{job.number}/fasten/{row.key}/"
        stages = set(re.findall(r'href="\?stage=([a-z]+)"', bench.get(at).content.decode()))
        assert stages
        for stage in stages:
            main = bench.get(f"{at}?stage={stage}").content.decode().split("<main", 1)[1]
            assert re.findall(r"[^<>]{0,40}\d (?:mm|cm)\b", main) == [], (row.key, stage)


def test_a_frame_with_its_cloth_on_is_masked_first_and_the_tape_comes_off_while_the_last_coat_is_soft(bench, workroom):
    """Two chairs, 2.4 m of edge each: masking 10 + 4 x 4.8; the only coat 10 + 12 x 0.6, and 4.8 for the tape; 5.28 m
    of tape; unmasked again, the steps that were done begin anew.
    """
    job = hung("show_wood", 2)
    at = f"/tags/{job.number}/finish/"
    told = {"area": "0.3", "prepared": "sand", "grits": "", "is_masked": "on", "masked_along": "2.4"}
    bench.post(f"{at}frame/", told | {"grits": "120"})
    bench.post(f"{at}frame/coat/", {"finish": "wax", "hours": "1"})
    shown = " ".join(bench.get(at).content.decode().split())
    assert "5.28 m of tape" in shown
    assert "Mask the edge of the cloth, cover it with paper" in shown
    assert "Wax, then the tape off while it is soft" in shown
    assert quantities_of(load_job(job.number), Pace()).frame_minutes == pytest.approx(29.2 + 9 + 17.2 + 4.8)
    bench.post(f"{at}frame/done/", {})
    for wrong in ({"masked_along": "-3"}, {"masked_along": "far"}, {"masked_along": "9 km"}):
        assert bench.post(f"{at}frame/", told | {"grits": "120"} | wrong).status_code == 422, wrong
    bench.post(f"{at}frame/", {"area": "0.3", "prepared": "sand", "grits": "120"})
    again = " ".join(bench.get(at).content.decode().split())
    assert "of tape" not in again
    assert "✓" not in again.split("puton__runs")[1].split("</ol>")[0], "what was done begins anew"


def test_the_edge_along_wood_is_offered_from_the_lines_that_take_trim(bench, workroom):
    job = hung("show_wood", 1)
    TrimLine.objects.create(job=job, name="Seat", length=2100, is_closed=True)
    TrimLine.objects.create(job=job, name="Arms", length=600, times=2)
    shown = " ".join(bench.get(f"/tags/{job.number}/finish/").content.decode().split())
    assert re.search(r'name="masked_along" value="3\.30?"', shown)
