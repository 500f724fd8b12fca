"""Survey and strip through their pages: what they store, learn, refuse and hand on; a job carried to another
workroom.
"""

from __future__ import annotations

import io
import json
import re
import zipfile
from datetime import timedelta

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.utils import timezone
from PIL import Image
from pypdf import PdfReader

from tests.web.conftest import block, found
from zonatome.core.shop.estimate import Rates, step_times
from zonatome.core.strip.order import usual_order
from zonatome.core.strip.pulling import Pace
from zonatome.core.trace.by_tape import trapezoid_shape
from zonatome.web.base.changed import ChangedMeanwhile
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job, JobPart, Photo, Workroom
from zonatome.web.jobs.services import hang_tag
from zonatome.web.lay.models import CutTick, JobCloth
from zonatome.web.lay.services import add_cloth, start_lay
from zonatome.web.shop.services import at_pace, foreseen_of, materials_of, quantities_of, rates_of, strip_minutes
from zonatome.web.strip.models import Bag, Difference, KeptThing, SetPiece, Spell, SpokenNote
from zonatome.web.strip.services import Written, take_off, write_down
from zonatome.web.strip.way_back import lacking, way_back_of
from zonatome.web.survey.models import CautionSeen, LayerFinding
from zonatome.web.survey.verdicts import verdicts_of
from zonatome.web.trace.services import keep_shape, shape_of_part


@pytest.fixture
def wing(workroom) -> Job:
    return load_job(hang_tag(title="Fireside chair", client="Oriel House", kind="wing").number)


def part_of(job, key) -> JobPart:
    return load_job(job.number).parts_by_key()[key]


def text(bench, path) -> str:
    return bench.get(path, follow=True).content.decode()


# --- survey ------------------------------------------------------------------------------------------


def test_findings_of_a_layer_are_several_and_the_verdict_is_the_rule_s_until_a_hand_decides(bench, stool):
    found(bench, stool, "filling_flat", "filling_thin", "frame_sound")
    assert LayerFinding.objects.filter(layer="filling").count() == 2
    assert verdicts_of(load_job(stool.number))["filling"].verdict == "renew"
    found(bench, stool, "filling_flat", verdict="keep", note="client insists")
    told = verdicts_of(load_job(stool.number))["filling"]
    assert (told.verdict, told.is_by_hand, told.note) == ("keep", True, "client insists")
    assert "The rule says renew" in text(bench, f"/tags/{stool.number}/survey/")
    bench.post(f"/tags/{stool.number}/survey/find/", {"layer": "filling"})
    assert verdicts_of(load_job(stool.number))["filling"].rule is None


@pytest.mark.parametrize(
    "sent",
    [{"layer": "roof"}, {"layer": "frame", "finding": "haunted"}, {"layer": "frame", "finding": "cover_worn"},
     {"layer": "frame", "finding": "frame_sound", "verdict": "burn"}, {}],
)  # fmt: skip
def test_a_finding_that_there_is_not_is_refused_and_nothing_stored(bench, stool, sent):
    answer = bench.post(f"/tags/{stool.number}/survey/find/", sent)
    assert answer.status_code == 422
    assert "Expected" in answer.content.decode()
    assert not LayerFinding.objects.exists()


def test_a_sound_cover_covered_over_needs_no_stripping_unless_it_does_not_drop_in(bench, workroom):
    job = hang_tag(title="Dining chairs", client="x", kind="drop_in", count=6)
    found(bench, job, "frame_sound", "support_sound", "filling_sound", "cover_sound")
    assert bench.get(f"/tags/{job.number}/").url.endswith("/trace/")
    measures = {
        "rebate_width": "41.2",
        "rebate_depth": "39.2",
        "board_width": "40",
        "board_depth": "38.2",
        "old_cover": "1.5",
        "new_cloth": "1.2",
        "wrap": "2",
    }
    assert bench.post(f"/tags/{job.number}/survey/measure/", measures).status_code == 302
    assert "0.3 mm to spare" in text(bench, f"/tags/{job.number}/survey/")
    assert bench.get(f"/tags/{job.number}/").url.endswith("/trace/")
    bench.post(f"/tags/{job.number}/survey/measure/", measures | {"new_cloth": "3"})
    assert "does not drop in any more" in text(bench, f"/tags/{job.number}/survey/")
    assert bench.get(f"/tags/{job.number}/").url.endswith("/strip/")
    answer = bench.post(f"/tags/{job.number}/survey/measure/", measures | {"board_width": "42"})
    assert answer.status_code == 422
    assert "no more than its rebate" in answer.content.decode()
    bench.post(f"/tags/{job.number}/survey/measure/", {"forget": "1"})
    assert Job.objects.get().clearance is None


def test_what_was_found_is_cautioned_at_strip_and_seen_is_recorded(bench, wing):
    found(bench, wing, "filling_mould", "frame_paint")
    for page in ("survey", "pad", "finish"):
        assert "Nothing with mould goes back in" in text(bench, f"/tags/{wing.number}/{page}/")
    bench.post(f"/tags/{wing.number}/survey/seen/", {"key": "mould"})
    seen = CautionSeen.objects.get()
    assert (seen.key, seen.by.username) == ("mould", "ines")
    assert bench.post(f"/tags/{wing.number}/survey/seen/", {"key": "dragons"}).status_code == 404


def test_a_tag_hung_up_in_a_variant_has_its_parts_and_can_be_made_otherwise_and_back(bench, workroom):
    sent = {
        "title": "Chair",
        "client": "x",
        "kind": "drop_in",
        "count": "1",
        "variant": ["drop_in:recessed_back", "wing:no_cushion"],
    }
    bench.post("/tags/new/", sent)
    job = load_job(Job.objects.get().number)
    assert job.variants == ["recessed_back"]
    assert {p.key for p in job.parts.all()} == {p.key for p in job.kind.parts} >= {"outside_back", "back_welt"}
    base = f"/tags/{job.number}/survey/panels/"
    bench.post(base + "variants/", {"version": job.furniture_version})
    assert {p.key for p in load_job(job.number).parts.all()} == {"seat", "bottom_cloth", "screws"}
    bench.post(base + "undo/")
    assert "outside_back" in load_job(job.number).parts_by_key()
    clash = bench.post("/tags/new/", sent | {"variant": ["drop_in:recessed_back", "drop_in:closed_back"]})
    assert clash.status_code == 422
    assert "not both this and" in clash.content.decode()


def test_panels_are_added_renamed_split_joined_dropped_and_everything_comes_back_with_undo(bench, wing):
    base = f"/tags/{wing.number}/survey/panels/"
    before = [p.key for p in wing.kind.parts]
    band = {
        "name": "Upper band",
        "what": "panel",
        "on": "seat",
        "side": "bottom",
        "join": "sewn",
        "width": "56",
        "height": "9",
    }
    assert bench.post(base + "add/", band).status_code == 302
    assert part_of(wing, "upper_band").part.width == 560
    bench.post(base + "rename/", {"key": "seat", "name": "platform"})
    assert part_of(wing, "seat").name == "Platform"
    split = {
        "key": "inside_back",
        "first": "Lower inside back",
        "second": "Upper inside back",
        "way": "along",
        "at": "40",
    }
    bench.post(base + "split/", split)
    assert load_job(wing.number).kind.part("inside_back").name == "Lower inside back"
    bench.post(base + "part/", {"key": "outside_arm_left", "other": "inside_arm_left"})
    joined = {
        "key": "outside_arm_left",
        "side": "top",
        "other": "inside_arm_left",
        "other_side": "top",
        "join": "zip",
        "span": "",
    }
    bench.post(base + "join/", joined)
    assert "zip" in text(bench, base + "?part=outside_arm_left")
    bench.post(base + "drop/", {"key": "cushion_boxing"})
    assert "cushion_boxing" not in load_job(wing.number).parts_by_key()
    page = text(bench, f"/tags/{wing.number}/strip/")
    assert "Upper band" in page
    assert "platform" in page
    for _ in range(6):
        assert bench.post(base + "undo/").status_code == 302
    job = load_job(wing.number)
    assert [p.key for p in job.kind.parts] == before
    assert set(job.parts_by_key()) == set(before)
    assert bench.post(base + "undo/").status_code == 422


def test_what_makes_no_furniture_and_an_older_page_are_refused(bench, wing):
    base = f"/tags/{wing.number}/survey/panels/"
    for what, sent in (
        ("over", {"key": "feet", "other": "seat"}),
        ("drop", {"key": "antler"}),
        ("add", {"name": "x", "what": "panel"}),
    ):
        assert bench.post(base + what + "/", sent).status_code == 422
    assert load_job(wing.number).furniture is None
    bench.post(base + "rename/", {"key": "seat", "name": "Platform", "version": "0"})
    late = bench.post(base + "rename/", {"key": "seat", "name": "Sitting place", "version": "0"})
    assert late.status_code == 409
    assert "What stands" in late.content.decode()
    assert part_of(wing, "seat").name == "Platform"
    take_off(load_job(wing.number), "feet")
    refused = bench.post(base + "drop/", {"key": "feet"})
    assert refused.status_code == 422
    assert "not off and recorded" in refused.content.decode()
    assert bench.post(base + "wish/", {"key": "seat"}).status_code == 404


# --- restyling ---------------------------------------------------------------------------------------


def test_a_stripe_splits_panel_shape_and_lay_and_undo_puts_all_of_it_back(bench, wing, skerry):
    add_cloth(wing, skerry, "main")
    row = part_of(wing, "inside_back")
    keep_shape(row, trapezoid_shape("Inside back", 500, 460, 640, row.part.joins), "trapezoid")
    oat = JobCloth.objects.create(
        job=wing, cloth=skerry.__class__.objects.create(name="Oat", width=1400, price="30"), role="contrast"
    )
    base = f"/tags/{wing.number}/survey/restyle/"
    told = bench.post(base + "stripe/", {"part": "inside_back", "width": "15"}, follow=True).content.decode()
    assert "one shape becomes three" in told
    job = load_job(wing.number)
    stripe = job.parts_by_key()["inside_back"]
    assert stripe.cloth_id == oat.pk
    assert shape_of_part(stripe).cut_line.width == pytest.approx(150 + 26)
    sides = [p for p in job.panels() if p.key.startswith("inside_back_")]
    assert [round(shape_of_part(p).outline.width) for p in sides] == [175, 175]
    assert all(p.cloth.cloth.name == "Skerry" for p in sides)
    assert "new, was not there before" in [line["back"].words for line in way_back_of(_all_off(job))]
    assert bench.post(f"/tags/{wing.number}/survey/panels/undo/").status_code == 302
    back = part_of(wing, "inside_back")
    assert shape_of_part(back).outline.width == pytest.approx(500)
    assert back.cloth.cloth.name == "Skerry"
    assert len(load_job(wing.number).panels()) == len(wing.panels())


def _all_off(job: Job) -> Job:
    for key in usual_order(load_job(job.number).kind):
        if key not in load_job(job.number).off_keys:
            take_off(load_job(job.number), key)
    return load_job(job.number)


def test_thicker_arms_buttons_and_a_second_cloth_reach_shapes_lists_and_lay(bench, wing, skerry, workroom):
    add_cloth(wing, skerry, "main")
    arm = part_of(wing, "inside_arm_left")
    keep_shape(arm, trapezoid_shape("Arm", 360, 360, 500, arm.part.joins), "trapezoid", pair=True)
    start_lay(load_job(wing.number).cloths.first())
    base = f"/tags/{wing.number}/survey/restyle/"
    bench.post(base + "arms/", {"thickness": "20"})
    for key in ("inside_arm_left", "inside_arm_right"):
        assert shape_of_part(part_of(wing, key)).outline.width == pytest.approx(400)
    assert "out of date" in text(bench, f"/tags/{wing.number}/lay/")
    assert "foam layer on the old pad" in text(bench, f"/tags/{wing.number}/pad/")
    bench.post(
        base + "buttons/",
        {"part": "inside_back", "rows": "3", "columns": "3", "across": "12", "down": "15", "deep": "30"},
    )
    whats = [m.what for m in materials_of(load_job(wing.number), rates_of(workroom), "metric")]
    assert "foam, 20 mm, on the old pads" in whats
    assert "buttons, covered, with twine" in whats
    bench.post(base + "contrast/", {"parts": ["outside_back"]})
    assert part_of(wing, "outside_back").cloth is None
    bench.post(base + "trim/", {"trim": "gimp"})
    assert load_job(wing.number).trim_kind == "gimp"
    page = text(bench, base)
    assert "second cloth is not chosen yet" in page
    assert len(load_job(wing.number).restyled) == 4
    for _ in range(4):
        bench.post(f"/tags/{wing.number}/survey/panels/undo/")
    assert load_job(wing.number).trim_kind == ""
    assert shape_of_part(part_of(wing, "inside_arm_left")).outline.width == pytest.approx(360)
    refused = bench.post(base + "stripe/", {"part": "inside_back", "width": "60"})
    assert refused.status_code == 422
    assert "seam" in refused.content.decode()


# --- strip -------------------------------------------------------------------------------------------


def test_the_least_that_must_come_off_is_said_and_what_survives(bench, wing):
    base = f"/tags/{wing.number}/strip/"
    bench.post(base + "reach/", {"part": "outside_back"})
    page = text(bench, base)
    assert "3 things must come off" in page
    assert "feet, bottom cloth" in page
    for _ in range(3):
        form = text(bench, base).split('id="off">')[1]
        bench.post(base + "off/", {"part": form.split('name="part" value="')[1].split('"')[0]})
    assert set(load_job(wing.number).off_keys) == {"feet", "bottom_cloth", "outside_back"}
    assert "Reached" in text(bench, base)
    assert "3 of 3 off" in text(bench, base)
    bench.post(base + "reach/", {"part": ""})
    assert "Off next" in text(bench, base)


def test_what_came_off_in_another_order_teaches_this_tag_and_no_other(bench, wing):
    base = f"/tags/{wing.number}/strip/"
    assert bench.post(base + "off/", {"part": "outside_back"}).status_code == 422
    assert "It came off all the same" in text(bench, base + "?part=outside_back")
    bench.post(base + "off/", {"part": "outside_back", "all_the_same": "1"})
    job = load_job(wing.number)
    assert job.off_keys == ("outside_back",)
    assert ("outside_back", "bottom_cloth") not in job.kind.over
    assert ("outside_back", "bottom_cloth") in hang_tag(title="Other", client="x", kind="wing").kind.over
    bench.post(base + "over/", {"under": "inside_wing_left", "over": "back_welt"})
    assert ("inside_wing_left", "back_welt") in load_job(wing.number).kind.over
    assert bench.post(base + "over/", {"under": "seat", "over": "front_band"}).status_code == 422


def test_the_sheet_keeps_what_is_ticked_and_says_what_is_missing(bench, wing):
    base = f"/tags/{wing.number}/strip/"
    for key in ("feet", "cushion_top", "bottom_cloth", "outside_back"):
        take_off(load_job(wing.number), key)
    assert "no top marked" in text(bench, base)
    assert [c.key for c in lacking(load_job(wing.number))].count("empty_bag") == 1
    bench.post(base + "parts/cushion_top/marked/")
    for key in ("cushion_top", "cushion_bottom", "cushion_boxing"):  # one thing off, its panels on the bench together
        assert {"top", "nap", "centre", "seam"} <= set(part_of(wing, key).marks)
    back = part_of(wing, "outside_back")
    sent = {
        "whole": "1",
        "version": str(back.version),
        "fixings": ["tack strip", "staples"],
        "fixings_again": ["gripper strip"],
        "marks": ["top"],
        "fate": "pattern",
        "note": "corner folded like a parcel",
        "pitch_found": "20",
        "rows_found": "2",
        "edge_found": "100",
        "fixing": "",
    }
    answer = bench.post(base + "parts/outside_back/", sent, headers={"X-Quiet": "1"})
    assert answer.json()["version"] == back.version + 1
    kept = part_of(wing, "outside_back")
    assert (kept.fixings, kept.marks, kept.pitch_found, kept.rows_found, kept.edge_found) == (
        ["staples", "tack strip"],
        ["top"],
        20,
        2,
        1000,
    )
    changed = next(line["back"] for line in way_back_of(load_job(wing.number)) if line["part"].key == "outside_back")
    assert changed.state == "changed"
    assert (
        bench.post(
            base + "parts/outside_back/", {"whole": "1", "fixings": "hope"}, headers={"X-Quiet": "1"}
        ).status_code
        == 422
    )
    assert bench.post(base + "parts/outside_back/", {"pitch_found": "1 km", "whole": "1"}).status_code == 422
    assert part_of(wing, "outside_back").version == kept.version


def test_an_older_version_is_refused_with_both_shown_and_may_be_saved_over_on_purpose(bench, wing):
    base = f"/tags/{wing.number}/strip/"
    take_off(load_job(wing.number), "feet")
    old = part_of(wing, "feet").version
    bench.post(base + "parts/feet/", {"whole": "1", "version": old, "note": "one is short", "fixings": ["screws"]})
    late = bench.post(base + "parts/feet/", {"whole": "1", "version": old, "note": "all sound", "fixings": ["bolts"]})
    assert late.status_code == 409
    page = late.content.decode()
    assert "one is short" in page
    assert "all sound" in page
    assert part_of(wing, "feet").note == "one is short"
    assert (
        bench.post(
            base + "parts/feet/", {"whole": "1", "version": old, "note": "x"}, headers={"X-Quiet": "1"}
        ).status_code
        == 409
    )
    bench.post(base + "parts/feet/", {"whole": "1", "version": old + 1, "note": "all sound", "fixings": ["bolts"]})
    assert part_of(wing, "feet").note == "all sound"
    assert bench.post(base + "off/", {"part": "cushion_top", "version": "0"}).status_code == 302
    twice = bench.post(base + "off/", {"part": "cushion_top", "version": "0"})
    assert twice.status_code == 409
    assert "off, number 2" in twice.content.decode()
    assert load_job(wing.number).off_keys[:2] == ("feet", "cushion_top")
    assert len(load_job(wing.number).off_keys) == 6, "the cushion's five panels come off as one"


def test_two_tablets_at_once_neither_share_a_number_nor_lose_a_shape(wing):
    one, other = load_job(wing.number), load_job(wing.number)
    take_off(one, "feet")
    take_off(other, "cushion_top")
    assert load_job(wing.number).off_keys[:2] == ("feet", "cushion_top")
    assert len(load_job(wing.number).off_keys) == 6, "the cushion's five panels come off as one"
    with pytest.raises(ChangedMeanwhile):
        take_off(other, "feet")
    late = part_of(wing, "cushion_top")
    traced = part_of(wing, "cushion_top")
    keep_shape(traced, trapezoid_shape("Cushion", 500, 460, 540, {}), "trapezoid")
    write_down(late, Written(note="feathers"), version=late.version)
    kept = part_of(wing, "cushion_top")
    assert kept.note == "feathers"
    assert kept.shape is not None


def test_the_clock_runs_on_the_server_and_three_spells_make_the_workroom_s_own_pace(bench, wing):
    base = f"/tags/{wing.number}/strip/"
    before = strip_minutes(load_job(wing.number), Workroom.the_one().pace)
    bench.post(base + "timer/", {"part": "feet"})
    assert "Stop the clock" in text(bench, base)
    bench.post(base + "timer/", {"part": "feet"})
    assert not Spell.objects.exists(), "a key pressed twice by mistake is no entry"
    for n, key in enumerate(("feet", "cushion_top", "bottom_cloth")):
        if key == "bottom_cloth":
            assert "at 8 a minute, assumed; 1 more timed" in text(bench, base)
        bench.post(base + "timer/", {"part": key})
        Spell.objects.filter(ended=None).update(began=timezone.now() - timedelta(minutes=10))
        bench.post(base + "off/", {"part": key})  # taking it off stops the clock
        spell = Spell.objects.get(part__key=key)
        assert spell.ended is not None
        bench.post(f"{base}spells/{spell.pk}/", {"staples": "20"})
        assert Workroom.the_one().pace.is_own is (n == 2)
    pace = Workroom.the_one().pace
    assert pace.a_minute == pytest.approx(2, rel=0.02)
    assert "at your own pace, 2.0 a minute from 3 timed" in text(bench, base + "?part=outside_back")
    assert strip_minutes(load_job(wing.number), pace) > before
    bench.post(base + "way/", {"way": "flush"})
    whole = strip_minutes(load_job(wing.number), pace)
    Job.objects.update(pull_way="all")
    assert whole < strip_minutes(load_job(wing.number), pace), "leaving what lies flush saves time"
    assert bench.post(f"{base}spells/{spell.pk}/", {"staples": "many"}).status_code == 422
    bench.post(f"{base}spells/{spell.pk}/", {"forget": "1"})
    assert not Workroom.the_one().pace.is_own


def test_bags_are_numbered_told_printed_and_can_be_none(bench, wing):
    base = f"/tags/{wing.number}/strip/"
    assert bench.get(base + "bags.pdf").status_code == 302
    bench.post(base + "off/", {"part": "feet"})
    bench.post(base + "bags/", {"number": "1", "contents": "4 feet, 12 screws", "came_from": "corners"})
    bench.post(base + "bags/", {"contents": "maker's label"})
    assert [(b.number, b.contents) for b in Bag.objects.all()] == [(1, "4 feet, 12 screws"), (2, "maker's label")]
    labels = PdfReader(io.BytesIO(bench.get(base + "bags.pdf").content)).pages[0].extract_text()
    assert "Bag 1" in labels
    assert "4 feet, 12" in labels
    panels = PdfReader(io.BytesIO(bench.get(base + "panels.pdf").content)).pages[0].extract_text()
    assert "Inside wing, left" in panels
    bench.post(base + "bags/1/drop/")
    assert "in no bag" in text(bench, base)
    assert bench.post(base + "bags/", {"contents": ""}).status_code == 422


def test_fates_and_saved_things_fill_the_store_and_leave_it_again(bench, wing):
    base = f"/tags/{wing.number}/strip/"
    for key in ("feet", "cushion_top", "bottom_cloth"):
        take_off(load_job(wing.number), key)
    bench.post(base + "parts/bottom_cloth/", {"fate": "spare"})
    thing = KeptThing.objects.get()
    assert (thing.what, thing.width, thing.length) == ("bottom cloth", 520, 500)
    bench.post(base + "parts/bottom_cloth/", {"fate": "waste"})
    assert not KeptThing.objects.exists()
    bench.post(base + "parts/cushion_top/keep/", {"what": "zip", "length": "62 cm", "count": "2"})
    assert (
        bench.post(base + "parts/cushion_top/keep/", {"what": "foam", "length": "50", "count": "1"}).status_code == 422
    )
    page = text(bench, "/saved/")
    assert "62 cm" in page
    thing = KeptThing.objects.get()
    bench.post(f"/saved/{thing.pk}/", {"used_for": "126"})
    assert "Nothing is saved yet" in text(bench, "/saved/")
    bench.post(f"/saved/{thing.pk}/", {"back": "1"})
    assert "62 cm" in text(bench, "/saved/?what=zip")


def test_from_the_second_of_a_set_on_there_is_a_short_list_with_differences(bench, stool):
    base = f"/tags/{stool.number}/strip/"
    bench.post(base + "off/", {"part": "screws"})
    bench.post(base + "set/", {"number": "3", "words": "left rail patched"})
    bench.post(base + "set/", {"number": "2", "off": "1"})
    page = text(bench, base)
    assert "1 of 3 off" in page
    assert "left rail patched" in page
    for sent in ({"number": "5", "off": "1"}, {"number": "1", "off": "1"}, {"number": "2", "words": " "}):
        assert bench.post(base + "set/", sent).status_code == 422
    bench.post(base + "set/", {"forget": str(Difference.objects.get().pk)})
    bench.post(base + "set/", {"number": "2", "off": "0"})
    assert not Difference.objects.exists()
    assert SetPiece.objects.get().off_at is None


def test_a_photo_and_a_spoken_note_are_pinned_to_their_part_and_looked_back_at(bench, wing, jpeg):
    base = f"/tags/{wing.number}/strip/"
    take_off(load_job(wing.number), "feet")
    bench.post(base + "parts/feet/photo/", {"photo": jpeg(300, 200)})
    assert Photo.objects.get().part.key == "feet"
    bench.post(f"/tags/{wing.number}/survey/photo/", {"photo": jpeg(300, 200), "part": "seat"})
    before = Photo.objects.get(when="before")
    assert before.part.key == "seat"
    bench.post(f"/tags/{wing.number}/survey/photo/{before.pk}/", {"part": "inside_back"})
    assert Photo.objects.get(when="before").part.key == "inside_back"
    sound = SimpleUploadedFile("note", b"\x1a\x45\xdf\xa3" + b"0" * 400)
    told = bench.post(base + "parts/feet/speak/", {"spoken": sound}).json()
    assert b"".join(bench.get(told["address"]).streaming_content).startswith(b"\x1a\x45")
    for wrong in (SimpleUploadedFile("note", b"<svg/>"), SimpleUploadedFile("note", b"OggS" + b"0" * (6 * 2**20))):
        assert bench.post(base + "parts/feet/speak/", {"spoken": wrong}).status_code == 422
    page = text(bench, f"{base}look/feet/?back=/tags/{wing.number}/fasten/seat/")
    assert f'href="/tags/{wing.number}/fasten/seat/"' in page
    assert "/photos/" in page
    assert told["address"] in page
    address = re.search(r'src="(/tags/\d+/photos/\d+[^"]*)"', page)[1]
    sent = bench.get(address)
    assert bench.get(address, HTTP_IF_NONE_MATCH=sent["ETag"]).status_code == 304  # it goes over the air once
    assert b"".join(sent.streaming_content)[:2] == b"\xff\xd8"
    assert b"".join(bench.get(address, HTTP_IF_NONE_MATCH='"another"').streaming_content)[:2] == b"\xff\xd8"
    elsewhere = text(bench, f"{base}look/feet/?back=https://example.org/")
    assert 'href="https://example.org' not in elsewhere
    assert f"/strip/look/feet/?back=/tags/{wing.number}/finish/" in text(bench, f"/tags/{wing.number}/finish/")
    bench.post(base + f"spoken/{SpokenNote.objects.get().pk}/drop/")
    assert not SpokenNote.objects.exists()
    bench.post(f"/tags/{wing.number}/survey/photo/{before.pk}/", {"forget": "1"})
    assert not before.path.exists()


@pytest.mark.parametrize(
    ("upload", "says"),
    [
        pytest.param(
            lambda jpeg: SimpleUploadedFile("cut.jpg", jpeg(900, 700).read()[:2500]),
            "cut.jpg is no photo: choose a JPEG or PNG",
            id="a truncated JPEG",
        ),
        pytest.param(lambda jpeg: _bomb(), "40 million pixels", id="a hundred megapixels in a few bytes"),
        pytest.param(
            lambda jpeg: SimpleUploadedFile("note.jpg", b"just some words\n" * 40),
            "note.jpg is no photo",
            id="a text that calls itself JPEG",
        ),
        pytest.param(
            lambda jpeg: SimpleUploadedFile("IMG_1.HEIC", b"\0\0\0\x18ftypheic" + b"\0" * 800),
            "most compatible format",
            id="HEIC",
        ),
    ],
)
def test_what_is_no_photo_is_answered_with_a_sentence_and_nothing_is_stored(bench, wing, jpeg, upload, says, settings):
    take_off(load_job(wing.number), "feet")
    for path in ("survey/photo/", "strip/parts/feet/photo/"):
        answer = bench.post(f"/tags/{wing.number}/{path}", {"photo": upload(jpeg)})
        assert answer.status_code == 422
        assert says in answer.content.decode()
    assert not Photo.objects.exists()
    assert not settings.MEDIA_ROOT.exists()


def _bomb() -> SimpleUploadedFile:
    content = io.BytesIO()
    Image.new("1", (10_000, 10_000)).save(content, "PNG")
    return SimpleUploadedFile("large.jpg", content.getvalue(), content_type="image/jpeg")


# --- on paper, and carried along ---------------------------------------------------------------------


@pytest.fixture
def recorded(bench, stool, skerry, strip_all, jpeg) -> Job:
    """Four stools with a bit of everything in their record."""
    found(
        bench,
        stool,
        "frame_sound",
        "support_sound",
        "filling_flat",
        "filling_crumbles",
        "cover_worn",
        verdict="",
        note="dusty",
    )
    base = f"/tags/{stool.number}/"
    band = {
        "name": "Band",
        "what": "panel",
        "on": "seat",
        "side": "bottom",
        "join": "sewn",
        "width": "37",
        "height": "6",
        "new": "on",
    }
    bench.post(base + "survey/panels/add/", band)
    bench.post(base + "survey/panels/drop/", {"key": "band"})
    bench.post(base + "survey/restyle/trim/", {"trim": "gimp"})
    bench.post(base + "survey/seen/stubs/")
    strip_all(stool)
    bench.post(
        base + "strip/parts/seat/",
        {
            "whole": "1",
            "fixings": ["staples"],
            "marks": ["top", "nap"],
            "fate": "spare",
            "note": "folded thrice",
            "pitch_found": "15",
        },
    )
    bench.post(base + "strip/bags/", {"number": "1", "contents": "16 screws", "came_from": "seat"})
    bench.post(base + "strip/timer/", {"part": "seat"})
    Spell.objects.update(began=timezone.now() - timedelta(minutes=7), ended=timezone.now(), staples=40)
    bench.post(base + "strip/set/", {"number": "3", "words": "left rail patched"})
    bench.post(base + "strip/set/", {"number": "2", "off": "1"})
    bench.post(base + "strip/parts/seat/photo/", {"photo": jpeg(640, 480)})
    bench.post(base + "survey/photo/", {"photo": jpeg(300, 500)})
    bench.post(base + "strip/parts/seat/speak/", {"spoken": SimpleUploadedFile("n", b"OggS" + b"1" * 50)})
    block(bench, stool)
    job_cloth = add_cloth(load_job(stool.number), skerry, "main")
    block(bench, stool)
    run = start_lay(JobCloth.objects.get(pk=job_cloth.pk))
    CutTick.objects.create(run=run, key="seat.1")
    return load_job(stool.number)


def opened(content: bytes) -> tuple[dict, dict[str, bytes]]:
    with zipfile.ZipFile(io.BytesIO(content)) as given:
        said = given.read("job.json").replace(b".000Z", b"Z")  # a whole second is written both ways
        return json.loads(said), {
            n: given.read(n) for n in given.namelist() if n not in ("job.json", "strip-record.pdf")
        }


def test_the_record_on_paper_says_what_the_page_says(bench, recorded):
    words = "\n".join(
        p.extract_text()
        for p in PdfReader(io.BytesIO(bench.get(f"/tags/{recorded.number}/strip/record.pdf").content)).pages
    )
    for said in ("folded thrice", "16 screws", "Filling: renew", "Goes back on, in this order", "Spare for repair"):
        assert said in words


def test_a_job_taken_along_comes_back_into_an_empty_workroom_without_loss(bench, recorded, settings, tmp_path):
    first = b"".join(bench.get(f"/tags/{recorded.number}/tag.zip").streaming_content)
    document, files = opened(first)
    assert {"parts", "findings", "bags", "spells", "set", "differences", "saved", "photos", "spoken", "lays"} <= set(
        document
    )
    assert {n.split("/")[0] for n in files} == {"photos", "spoken", "pieces", "lays"}
    Job.objects.all().delete()
    KeptThing.objects.all().delete()
    recorded.trim_cloth = None
    for model in (JobCloth,):
        assert not model.objects.exists()
    from zonatome.web.lay.models import Cloth

    Cloth.objects.all().delete()
    settings.MEDIA_ROOT = tmp_path / "another workroom"
    answer = bench.post("/tags/bring-in/", {"file": SimpleUploadedFile("tag.zip", first)})
    assert answer.status_code == 302, answer.content.decode()[-1800:]
    again, files_again = opened(b"".join(bench.get(f"/tags/{recorded.number}/tag.zip").streaming_content))
    assert again == document
    assert files_again == files
    for page in ("survey", "strip", "trace", "lay", "finish"):
        assert bench.get(f"/tags/{recorded.number}/{page}/", follow=True).status_code == 200
    assert bench.post("/tags/bring-in/", {"file": SimpleUploadedFile("tag.zip", first)}).status_code == 302
    assert Job.objects.count() == 2, "a number that is taken becomes the next"


@pytest.mark.parametrize(
    "spoil",
    [
        pytest.param(lambda d, f: d.update(version=3), id="a later version"),
        pytest.param(lambda d, f: d["job"].update(kind_key="throne"), id="an unknown kind"),
        pytest.param(lambda d, f: d["job"].update(count=0), id="a set of none"),
        pytest.param(lambda d, f: d["job"].update(hung_at="yesterday"), id="no date"),
        pytest.param(lambda d, f: d["parts"][0].update(shape={"format": "x"}), id="a shape that is none"),
        pytest.param(lambda d, f: d["parts"][0].update(marks=["smiley"]), id="an unknown mark"),
        pytest.param(lambda d, f: d["parts"][0].update(key="antler"), id="a part that it has not"),
        pytest.param(lambda d, f: d["bags"][0].update(part="antler"), id="a bag of a part that it has not"),
        pytest.param(lambda d, f: d["photos"][0].update(file="photos/999.jpg"), id="a photo that is not there"),
        pytest.param(lambda d, f: f.update({"photos/001.jpg": b"no photo"}), id="a photo that is none"),
        pytest.param(lambda d, f: f.update({"../../etc/passwd": b"x"}), id="a way out of the folder"),
        pytest.param(lambda d, f: f.update({"spoken/big.ogg": b"0" * (31 * 2**20)}), id="a bomb"),
        pytest.param(lambda d, f: d.update(lays=[{"cloth": 7}]), id="a lay on no cloth"),
        pytest.param(
            lambda d, f: d.update(findings=[{"layer": "frame", "finding": "haunted"}]), id="an unknown finding"
        ),
    ],
)
def test_a_zip_that_is_no_whole_job_is_refused_and_nothing_is_stored(bench, recorded, spoil):
    document, files = opened(b"".join(bench.get(f"/tags/{recorded.number}/tag.zip").streaming_content))
    spoil(document, files)
    content = io.BytesIO()
    with zipfile.ZipFile(content, "w", zipfile.ZIP_DEFLATED) as made:
        made.writestr("job.json", json.dumps(document))
        for name, data in files.items():
            made.writestr(name, data)
    photos = Photo.objects.count()
    answer = bench.post("/tags/bring-in/", {"file": SimpleUploadedFile("tag.zip", content.getvalue())})
    assert answer.status_code == 422
    assert "expected" in answer.content.decode()
    assert Job.objects.count() == 1
    assert Photo.objects.count() == photos


def test_what_is_no_zip_is_refused(bench):
    for content in (b"", b"PK\x03\x04 broken", b"words"):
        answer = bench.post("/tags/bring-in/", {"file": SimpleUploadedFile("tag.zip", content)})
        assert answer.status_code == 422
    assert bench.post("/tags/bring-in/").status_code == 422


def test_minutes_kept_at_the_assumed_pace_are_right_at_any_other(bench, wing):
    for pace in (Pace(2.5, 3), Pace(8, 0), Pace(30, 9)):
        kept = foreseen_of(load_job(wing.number))["minutes"]
        for step in step_times(quantities_of(load_job(wing.number), pace), Rates()):
            assert at_pace(kept, step.step, pace) == pytest.approx(step.minutes)


def test_two_tablets_that_change_the_panels_at_once_are_told_apart(bench, wing):
    one, other = load_job(wing.number), load_job(wing.number)
    take_off(one, "outside_back", all_the_same=True)
    with pytest.raises(ChangedMeanwhile):
        take_off(other, "inside_back", all_the_same=True)
    assert load_job(wing.number).off_keys == ("outside_back",)
    assert ("inside_back", "wing_welt") in load_job(wing.number).kind.over
    assert len(load_job(wing.number).furniture_past) == 1
