"""Pads on their pages: chosen, changed, taken back; the cover grows with them; foam from the store and what is left."""

from __future__ import annotations

import io
import json
import random
import re
import zipfile
from dataclasses import replace

import pytest
from django.db import connection
from django.db.migrations.executor import MigrationExecutor

from tests.web.conftest import another_version, block, found, pad, padded_with
from zonatome.core.formats.stack_json import read_stack, write_stack
from zonatome.core.pad.stack import Buttons, Layer, Stack
from zonatome.core.pad.usual import usual_stacks
from zonatome.core.survey.kind import Channels
from zonatome.core.survey.kinds import KINDS
from zonatome.core.trace.by_tape import rectangle_shape
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job, JobPart, Workroom
from zonatome.web.jobs.services import hang_tag
from zonatome.web.lay.services import add_cloth, cloth_standing, start_lay
from zonatome.web.pad.drawing import plan_drawing
from zonatome.web.pad.models import FoamOffcut
from zonatome.web.pad.services import (
    asks_of,
    bought_of,
    set_board,
    set_stack,
    stack_of,
    undo_stack,
    worked_of,
)
from zonatome.web.rack.archive import job_from_zip, job_zip
from zonatome.web.rack.standing import tape_of
from zonatome.web.trace.services import keep_new_shape, keep_shape, shape_of_part


@pytest.fixture
def wing(workroom) -> Job:
    return load_job(hang_tag(title="Wing chair", client="Oriel House", kind="wing").number)


def part(job: Job, key: str) -> JobPart:
    return load_job(job.number).parts_by_key()[key]


def page(bench, job: Job, key: str) -> str:
    answer = bench.get(f"/tags/{job.number}/pad/{key}/")
    assert answer.status_code == 200
    return answer.content.decode()


def sent(job: Job, key: str) -> dict[str, str]:
    """What the page's boxes hold, as a browser would send it."""
    stack = stack_of(part(job, key))
    boxes = {"rail": f"{stack.rail:g} mm"}
    for n, layer in enumerate(stack.layers):
        boxes |= {f"layer{n}-sort": layer.sort, f"layer{n}-thickness": f"{layer.thickness:g} mm"}
        boxes |= {f"layer{n}-foam": layer.foam, f"layer{n}-school": layer.school, f"layer{n}-corner": layer.corner}
        boxes |= {f"layer{n}-state": "kept" if layer.kept else "new", f"layer{n}-stretch": f"{layer.stretch * 100:g}"}
    return boxes


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("units", ["metric", "imperial"])
def test_every_pad_of_every_kind_is_padded_from_its_usual_stack_and_the_tape_counts_it(bench, workroom, kind, units):
    Workroom.objects.update(units=units)
    job = load_job(hang_tag(title="x", client="y", kind=kind).number)
    pads = [p.key for p in job.pads()]
    assert pads, kind
    for key in pads:
        row = part(job, key)
        for usual in usual_stacks(job.kind, row.part):
            answer = bench.post(
                f"/tags/{job.number}/pad/{key}/change/", {**sent(job, key), "act": f"usual:{usual.key}"}
            )
            assert answer.status_code == 302, (key, usual.key)
            assert stack_of(part(job, key)).layers == usual.stack.layers
        shown = page(bench, job, key)
        assert "To cut" in shown
        assert "To buy" in shown
    step = next(s for s in tape_of(load_job(job.number), units).steps if s.step == "pad")
    assert (step.is_done, step.figure) == (True, f"{len(pads)} of {len(pads)} pads")
    assert {a.key for a in asks_of(load_job(job.number))} == set(pads)


def test_layers_are_added_moved_dropped_kept_for_next_time_and_taken_again(bench, wing):
    at = f"/tags/{wing.number}/pad/seat/change/"

    def press(act: str, **more: str) -> list[str]:
        assert bench.post(at, {**sent(wing, "seat"), "act": act, **more}).status_code == 302
        return [layer.sort for layer in stack_of(part(wing, "seat")).layers]

    assert press("keep") == ["sinuous", "hessian", "edge_roll", "foam", "wadding"]
    assert press("add", layer="cotton") == ["sinuous", "hessian", "edge_roll", "cotton", "foam", "wadding"]
    where = press("keep").index("cotton")
    assert press(f"drop:{where}") == ["sinuous", "hessian", "edge_roll", "foam", "wadding"]
    assert press("up:3")[-1] == "foam"
    assert press("move:4:3")[-1] == "wadding"
    press("remember", own_name="Our lounge seat")
    press("usual:coil")
    own = page(bench, wing, "seat").split("Our lounge seat")[0].rsplit("own:", 1)[1].split('"')[0]
    assert press(f"own:{own}") == ["sinuous", "hessian", "edge_roll", "foam", "wadding"]
    for act, status in (("drop:99", 422), ("move:1:x", 422), ("usual:thatch", 422), ("own:9999", 422), ("burn", 404)):
        assert bench.post(at, {**sent(wing, "seat"), "act": act}).status_code == status, act
    assert bench.post(at, {**sent(wing, "seat"), "act": "remember", "own_name": ""}).status_code == 422


@pytest.mark.parametrize("seed", [1, 2, 3])
def test_any_changes_of_a_pad_are_taken_back_one_by_one_cover_and_lay_with_them(bench, wing, skerry, seed):
    chance = random.Random(seed)
    back = part(wing, "inside_back")
    keep_new_shape(back, rectangle_shape("Back", 500, 720, back.part.joins), "rectangle")
    add_cloth(load_job(wing.number), skerry, "main")
    set_stack(part(wing, "inside_back"), stack_of(part(wing, "inside_back")))
    start_lay(load_job(wing.number).cloths.get())

    def seen() -> tuple:
        row = part(wing, "inside_back")
        stale = cloth_standing(load_job(wing.number).cloths.get()).is_stale
        outline = [(round(x, 2), round(y, 2)) for x, y in shape_of_part(row).outline.points]
        return row.stack, row.pad_measured, outline, json.dumps(row.part.buttons, default=str), stale

    states = [seen()]
    for _ in range(5):
        stack = stack_of(part(wing, "inside_back"))
        place = next(n for n, layer in enumerate(stack.layers) if layer.sort == "foam")
        change = chance.choice(["thicker", "another", "buttons", "none"])
        if change == "thicker":
            stack = stack.changed(place, Layer("foam", chance.randint(20, 120), foam="soft"))
        elif change == "another":
            stack = stack.added(Layer("cotton", chance.randint(10, 40)))
        else:
            grid = Buttons(3, chance.randint(2, 4), chance.random() < 0.5) if change == "buttons" else None
            stack = Stack(stack.layers, grid, stack.heights, stack.rail)
        set_stack(part(wing, "inside_back"), stack)
        states.append(seen())
    for before in states[-2::-1]:
        undo_stack(part(wing, "inside_back"))
        assert seen() == before
    assert not cloth_standing(load_job(wing.number).cloths.get()).is_stale


def test_a_cover_grows_along_the_edges_that_wrap_its_pad_and_only_those(wing, workroom):
    """A wing chair's inside back: pulled over at its top, tucked at its bottom, tucked and sewn at its sides. 30 mm
    more foam, less a tenth: 27 mm more at the top, nothing elsewhere.
    """
    back = part(wing, "inside_back")
    keep_shape(
        back, rectangle_shape("Back", 500, 720, {**back.part.joins, "right": "tucked", "left": "sewn"}), "rectangle"
    )
    set_stack(part(wing, "inside_back"), padded_with(50))
    growth = set_stack(part(wing, "inside_back"), padded_with(80))
    shape = shape_of_part(part(wing, "inside_back"))
    wrapped = [shape.edges[shape.number_of(name)].side for name, _ in growth.edges]
    assert wrapped == ["top"]
    assert growth.edges[0][1] == pytest.approx(27)
    assert (shape.outline.width, shape.outline.height) == (pytest.approx(500), pytest.approx(747))
    set_stack(part(wing, "inside_back"), padded_with(50))
    assert shape_of_part(part(wing, "inside_back")).outline.height == pytest.approx(720)


def test_buttons_set_on_the_pad_s_page_reach_shape_furniture_and_list(bench, wing):
    """Its top goes round a pad of 57 and a rail of 18, so 645 of 720 are padded: 3 rows of 4, 100 apart and 222.5, a
    diamond of 11. Aslant sqrt(50² + 222.5²) = 228.05; drawn 30 deep 235.81; the cloth goes 3.403 % further both ways:
    300 x 3.403 % = 10.2 and 445 x 3.403 % = 15.1.
    """
    back = part(wing, "inside_back")
    keep_new_shape(back, rectangle_shape("Back", 500, 720, back.part.joins), "rectangle")
    typed = {**sent(wing, "inside_back"), "rows": "3", "columns": "4", "grid": "diamond", "deep": "30"}
    assert bench.post(f"/tags/{wing.number}/pad/inside_back/change/", typed).status_code == 302
    shape = shape_of_part(part(wing, "inside_back"))
    assert shape.outline.width == pytest.approx(510.2, abs=0.05)
    assert shape.outline.height == pytest.approx(735.1, abs=0.05)
    assert len([m for m in shape.marks if m.means == "button"]) == 11
    job = load_job(wing.number)
    assert job.kind.button_count == 11
    assert "11 buttons" in page(bench, wing, "inside_back")
    typed = {**sent(wing, "inside_back"), "rows": "", "columns": ""}
    assert bench.post(f"/tags/{wing.number}/pad/inside_back/change/", typed).status_code == 302
    shape = shape_of_part(part(wing, "inside_back"))
    assert (round(shape.outline.width), len(shape.marks)) == (500, 0)
    assert not load_job(wing.number).kind.has("buttons")


def test_what_a_cover_goes_round_stays_as_large_while_its_pad_its_buttons_and_channels_change(bench, wing):
    """An inside back 500 x 720, only its top pulled over: made for 54, so 720 - (54 + 18) of rail is under it."""
    back = part(wing, "inside_back")
    keep_new_shape(back, rectangle_shape("Back", 500, 720, back.part.joins), "rectangle")
    set_stack(part(wing, "inside_back"), padded_with(50))
    under = worked_of(part(wing, "inside_back")).frame.outline
    assert (round(under.width), round(under.height)) == (500, 648)
    at = f"/tags/{wing.number}/pad/inside_back/change/"
    for more in ({"layer0-thickness": "80"}, {"rows": "2", "columns": "3", "deep": "25"}, {"channel_apart": "10"}):
        assert bench.post(at, {**sent(wing, "inside_back"), **more}).status_code == 302
        now = worked_of(part(wing, "inside_back")).frame.outline
        assert (now.width, now.height) == (pytest.approx(under.width, abs=0.1), pytest.approx(under.height, abs=0.1))
    assert shape_of_part(part(wing, "inside_back")).outline.height == pytest.approx(747, abs=0.1), "0.9 x 30 at its top"


def test_channels_set_on_the_pad_s_page_reach_shape_and_furniture_and_go_again(bench, wing):
    """500 across in channels of 100, drawn 20 deep: each takes sqrt(100² + 4 x 20²) = 107.7, five 38.5 more."""
    back = part(wing, "inside_back")
    keep_new_shape(back, rectangle_shape("Back", 500, 720, back.part.joins), "rectangle")
    at, plain = f"/tags/{wing.number}/pad/inside_back/change/", sent(wing, "inside_back")
    typed = {"channel_apart": "10", "channel_deep": "20", "channel_way": "upright"}
    assert bench.post(at, {**plain, **typed}).status_code == 302
    assert shape_of_part(part(wing, "inside_back")).outline.width == pytest.approx(538.5, abs=0.05)
    assert "the cloth takes 108 mm for each" in page(bench, wing, "inside_back")
    both = {**plain, **typed, "channel_apart": "12.5", "rows": "2", "columns": "2"}
    assert bench.post(at, both).status_code == 302
    assert load_job(wing.number).kind.part("inside_back").buttons is not None
    for wrong, says in (("40", "two channels at least"), ("1", "20 mm to 250 mm"), ("x", "Type a length")):
        answer = bench.post(at, {**plain, **typed, "channel_apart": wrong})
        assert answer.status_code == 422
        assert says in answer.content.decode().split("Lines apart")[1]
    undo_stack(part(wing, "inside_back"))
    part_now = load_job(wing.number).kind.part("inside_back")
    assert (part_now.channels.apart, part_now.buttons) == (100, None), "one press, buttons and channels"
    assert bench.post(at, {**plain, "channel_apart": "0"}).status_code == 302
    assert load_job(wing.number).kind.part("inside_back").channels is None
    assert shape_of_part(part(wing, "inside_back")).outline.width == pytest.approx(500)


def test_a_typed_board_is_taken_back_with_its_block_and_staples(bench, stool):
    block(bench, stool)
    pad(bench, stool)
    before = part(stool, "seat")
    at = f"/tags/{stool.number}/pad/seat/"
    bench.post(f"{at}board/", {"seat-board-board_width": "50", "seat-board-board_depth": "42",
                               "seat-board-board_thickness": "15"})  # fmt: skip
    after = part(stool, "seat")
    assert (after.board_width, shape_of_part(after).outline.width) == (500, pytest.approx(500 + 2 * (45 + 15)))
    assert after.staples_planned > before.staples_planned
    bench.post(f"{at}undo/")
    back = part(stool, "seat")
    assert (back.board_width, back.board_depth, back.board_thickness) == (
        before.board_width, before.board_depth, before.board_thickness)  # fmt: skip
    assert (back.shape["outline"], back.staples_planned) == (before.shape["outline"], before.staples_planned)
    assert back.stack == before.stack


def test_a_pad_whose_frame_became_too_small_says_so_and_closes_no_page(bench, wing):
    sprung = next(u.stack for u in usual_stacks(wing.kind, part(wing, "seat").part) if u.key == "sinuous")
    set_stack(part(wing, "seat"), sprung)
    seat = part(wing, "seat")
    keep_new_shape(seat, rectangle_shape("Seat", 130, 500, seat.part.joins), "rectangle")
    shown = page(bench, wing, "seat")
    assert "no longer fits what it stands on" in shown
    assert "leave no opening in a frame 130 mm across" in shown
    assert "Not among what is bought: Seat" in shown
    for room in ("money", "pad", "fasten", "trim", "finish"):
        assert bench.get(f"/tags/{wing.number}/{room}/", follow=True).status_code == 200, room
    assert bench.post(f"/tags/{wing.number}/pad/seat/change/", {**sent(wing, "seat"), "act": "keep"}).status_code == 422
    assert bench.post(f"/tags/{wing.number}/pad/seat/change/", {"act": "usual:kept"}).status_code == 302
    assert "no longer fits" not in page(bench, wing, "seat")


def test_more_foam_than_a_job_can_take_is_said_and_the_rest_is_bought(bench, workroom):
    many = load_job(hang_tag(title="Hall", client="x", kind="square_stool", count=999).number)
    assert pad(bench, many).status_code == 302
    shown = page(bench, many, "seat")
    assert "Not among what is bought: medium foam, 40 mm" in shown
    assert "wadding, 10 mm" in shown.split("To buy")[1]
    assert bench.get(f"/tags/{many.number}/money/").status_code == 200


def test_a_bolster_made_in_trace_is_padded_and_its_cut_sheet_printed(bench, stool):
    at = f"/tags/{stool.number}"
    made = {"sort": "bolster", "height": "18", "length": "60", "zip_round": "0"}
    assert bench.post(f"{at}/trace/seat/do/cushion/", made).status_code == 302
    assert [p.key for p in load_job(stool.number).pads()] == ["seat"], "its ends have no pad of their own"
    shown = page(bench, stool, "seat")
    assert "18 cm through, 60 cm long" in shown
    assert "Zip of 50 cm, in the long seam of its sheet" in shown
    assert bench.post(f"{at}/pad/seat/change/", {**sent(stool, "seat"), "act": "keep"}).status_code == 302
    assert "6 discs glued face to face" in page(bench, stool, "seat")
    for kind, begins in (("pdf", b"%PDF"), ("dxf", b"  0")):
        assert bench.get(f"{at}/pad/foam/1/cut-sheet.{kind}").content.startswith(begins)
    assert bench.get(f"{at}/pad/foam/2/cut-sheet.pdf").status_code == 404
    assert bench.get(f"{at}/pad/foam/1/cut-sheet.exe").status_code == 404


def test_the_panels_of_a_loose_cushion_have_one_pad_among_them(bench, stool):
    block(bench, stool)
    made = {"sort": "box", "height": "8", "length": "", "zip_round": "90 mm"}
    assert bench.post(f"/tags/{stool.number}/trace/seat/do/cushion/", made).status_code == 302
    job = load_job(stool.number)
    assert {"seat_boxing", "seat_bottom"} <= {p.key for p in job.panels()}
    assert [p.key for p in job.pads()] == ["seat"]
    stack = stack_of(job.parts_by_key()["seat"])
    assert (stack.layers[0].thickness, stack.layers[0].school) == (80, "cushion"), "as high as its boxing"
    assert "across the back and round both corners" in page(bench, stool, "seat")


def test_offcuts_in_store_are_used_first_kept_for_a_tag_and_what_is_left_is_kept(bench, stool):
    other = load_job(hang_tag(title="Other", client="x", kind="square_stool", count=4).number)
    set_stack(part(stool, "seat"), padded_with(40))
    bench.post(f"/tags/{stool.number}/pad/foam/keep/", {
        "foam-foam": "medium", "foam-thickness": "40", "foam-width": "160", "foam-depth": "40",
    })  # fmt: skip
    offcut = FoamOffcut.objects.get()
    (nest,) = bought_of(load_job(stool.number)).nests
    assert (nest.sheets, nest.offcuts) == (0, (offcut.pk,)), "four of 380 x 380 on 1600 x 400"
    bench.post(f"/tags/{stool.number}/pad/foam/take/", {"act": "reserve"})
    set_stack(part(other, "seat"), padded_with(40))
    (elsewhere,) = bought_of(load_job(other.number)).nests
    assert (elsewhere.sheets, elsewhere.offcuts) == (1, ()), "it is kept for the other tag"
    assert "kept for" in page(bench, other, "seat")
    bench.post(f"/tags/{other.number}/pad/foam/take/", {"act": "cut"})
    left = FoamOffcut.objects.exclude(pk=offcut.pk)
    assert {o.came_from for o in left} == {other}
    kept = [(round(o.shape().width), round(o.shape().height)) for o in left]
    assert kept == [(2000 - 768, 1000), (768, 1000 - 768)], "two and two of 380, each with its cut of 4"
    bench.post(f"/tags/{stool.number}/pad/foam/take/", {"act": "cut"})
    offcut.refresh_from_db()
    assert offcut.used_at is not None
    wrong = {"foam-foam": "straw", "foam-thickness": "0", "foam-width": "9 km", "foam-depth": "40"}
    assert bench.post(f"/tags/{stool.number}/pad/foam/keep/", wrong).status_code == 422


def test_what_is_done_with_foam_in_store_is_taken_back_step_by_step(bench, stool):
    """A piece put in, kept for the tag, cut with the rest, one thrown away: back to an empty store, last first."""
    set_stack(part(stool, "seat"), padded_with(40))
    at = f"/tags/{stool.number}/pad/foam/"

    def stands() -> list:
        return [(o.pk, o.reserved_for, o.used_at is None) for o in FoamOffcut.objects.all()]

    piece = {"foam-foam": "medium", "foam-thickness": "40", "foam-width": "160", "foam-depth": "90"}
    presses = [("keep/", piece), ("take/", {"act": "reserve"}), ("take/", {"act": "cut"})]
    seen = [stands()]
    for where, told in presses:
        bench.post(at + where, told)
        seen.append(stands())
    left = FoamOffcut.objects.filter(used_at=None).first()
    bench.post(f"{at}{left.pk}/drop/")
    assert len({str(one) for one in [*seen, stands()]}) == 5, "each press did something"
    for before, words in zip(seen[::-1], ("gone", "cut", "kept for", "put in"), strict=True):
        assert words in bench.get(f"/tags/{stool.number}/pad/").content.decode().split("Take back: ")[1][:60]
        bench.post(f"{at}undo/")
        assert stands() == before
    answer = bench.post(f"{at}undo/", follow=True).content.decode()
    assert "nothing to take back" in answer
    assert "Take back" not in answer
    bench.post(f"{at}take/", {"act": "reserve"})
    assert "Take back" not in bench.get(f"/tags/{stool.number}/pad/").content.decode(), "nothing was kept by that"


def test_what_stays_has_its_verdict_and_cautions_are_those_of_what_is_used(bench, wing):
    found(bench, wing, "filling_thin")
    at = f"/tags/{wing.number}/pad/seat/change/"
    bench.post(at, {**sent(wing, "seat"), "act": "usual:kept"})
    shown = page(bench, wing, "seat")
    assert "Old pad</b> stays; the survey says:" in shown
    assert "Crumbling or unknown filling" in shown
    assert "Springs under tension" not in shown
    bench.post(at, {**sent(wing, "seat"), "act": "usual:coil"})
    shown = page(bench, wing, "seat")
    assert "Springs under tension" in shown
    assert "Solvent and spray glue" not in shown, "no foam is glued"
    assert "Fire behaviour" in shown


def test_a_pair_is_padded_in_one_go_and_taken_back_from_either_side(bench, wing):
    bench.post(f"/tags/{wing.number}/pad/inside_arm_left/change/", {**sent(wing, "inside_arm_left"), "act": "keep"})
    assert part(wing, "inside_arm_right").stack == part(wing, "inside_arm_left").stack is not None
    assert bench.post(f"/tags/{wing.number}/pad/inside_arm_right/undo/").status_code == 302
    assert part(wing, "inside_arm_left").stack is part(wing, "inside_arm_right").stack is None
    quiet = bench.post(f"/tags/{wing.number}/pad/inside_arm_left/undo/", headers={"X-Quiet": "1"})
    assert (quiet.status_code, quiet.json()["words"]) == (422, "Nothing was changed on this pad.")


BAD = [
    ({"layer0-thickness": "0"}, "3 to 300 mm thick"),
    ({"layer0-thickness": "2 m"}, "3 to 300 mm thick"),
    ({"layer0-thickness": "thick"}, "Type a length"),
    ({"rail": "25 cm"}, "rails"),
    ({"rail": "180", "layer0-sort": "webbing", "layer0-thickness": "2"}, "leave no opening"),
    ({"layer0-sort": "hessian", "layer0-thickness": "1"}, "nothing to sit on"),
    ({"layer2-sort": "sinuous", "layer2-thickness": "32"}, "how wide the rails are"),
    ({"rows": "9", "columns": "9"}, "do not fit"),
    ({"rows": "900", "columns": "9"}, "30"),
    ({"rail_top": "9 m"}, "at most 2"),
]


@pytest.mark.parametrize(("typed", "says"), BAD, ids=range(len(BAD)))
def test_a_pad_that_cannot_be_built_is_refused_by_its_box_and_nothing_changes(bench, stool, typed, says):
    block(bench, stool)
    pad(bench, stool)
    before = part(stool, "seat").stack, part(stool, "seat").shape
    answer = pad(bench, stool, **typed)
    assert answer.status_code == 422
    shown = answer.content.decode()
    assert says in shown
    assert (part(stool, "seat").stack, part(stool, "seat").shape) == before
    boxes = {
        "layer0-sort": "foam",
        "layer0-thickness": "40",
        "layer1-sort": "wadding",
        "layer1-thickness": "10",
        **typed,
    }
    tried = bench.post(f"/tags/{stool.number}/pad/seat/tried/", boxes, headers={"X-Quiet": "1"})
    assert (tried.status_code, says in tried.json()["words"]) == (422, True)


def test_a_pad_goes_out_at_true_size_as_svg_dxf_and_paper(bench, stool):
    set_board(part(stool, "seat"), board_width=370, board_depth=360, board_thickness=18)
    pad(bench, stool)
    for kind, begins in (("svg", b"<?xml"), ("dxf", b"  0"), ("pdf", b"%PDF")):
        answer = bench.get(f"/tags/{stool.number}/pad/seat/layer/0.{kind}")
        content = b"".join(answer) if answer.streaming else answer.content
        assert content.startswith(begins), kind
        if kind == "svg":
            assert b'width="400.000mm" height="390.000mm"' in content, "380 x 370 and a margin"
            assert b"fold" not in content
    assert bench.get(f"/tags/{stool.number}/pad/seat/layer/9.svg").status_code == 404
    assert bench.get(f"/tags/{stool.number}/pad/seat/layer/0.exe").status_code == 404


def test_a_tag_comes_back_with_its_pads_from_its_zip_and_one_of_an_earlier_version_becomes_stacks(bench, stool):
    pad(bench, stool)
    told = job_zip(stool.number)
    again = job_from_zip(io.BytesIO(told))
    assert part(again, "seat").stack == part(stool, "seat").stack
    older = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(told)) as whole, zipfile.ZipFile(older, "w") as out:
        for name in whole.namelist():
            content = whole.read(name)
            if name == "job.json":
                document = json.loads(content)
                for row in document["parts"]:
                    if row.pop("stack", None) is not None:
                        row |= {"foam": 40, "wadding": 10, "oversize": 5, "webbing": True}
                content = json.dumps(document).encode()
            out.writestr(name, content)
    older.seek(0)
    sorts = [layer.sort for layer in read_stack(part(job_from_zip(older), "seat").stack).layers]
    assert sorts == ["webbing", "hessian", "foam", "wadding"]


@pytest.mark.django_db(transaction=True)
def test_pads_of_an_older_store_become_stacks():
    with another_version():
        executor = MigrationExecutor(connection)
        executor.migrate([("pad", None), ("jobs", "0012_fields_say_what_they_hold")])
        old = executor.loader.project_state([("jobs", "0012_fields_say_what_they_hold")]).apps
        job = old.get_model("jobs", "Job").objects.create(
            number=7, title="x", client="y", kind_key="drop_in", new_price=1
        )
        parts = old.get_model("jobs", "JobPart").objects
        parts.create(job=job, key="seat", foam=50, wadding=10, oversize=7, webbing=False)
        parts.create(job=job, key="bottom_cloth")
        executor = MigrationExecutor(connection)
        executor.migrate([("jobs", "0013_pads_in_layers")])
        new = executor.loader.project_state([("jobs", "0013_pads_in_layers")]).apps.get_model("jobs", "JobPart").objects
        assert read_stack(new.get(key="seat").stack) == Stack((Layer("foam", 50, over=7), Layer("wadding", 10)))
        assert new.get(key="bottom_cloth").stack is None


def test_a_stack_comes_back_from_its_file():
    for kind in KINDS.values():
        for panel in kind.panels:
            for usual in usual_stacks(kind, panel):
                whole = Stack(usual.stack.layers, Buttons(3, 4, True), usual.stack.heights, usual.stack.rail)
                assert read_stack(json.loads(json.dumps(write_stack(whole)))) == whole


def test_what_is_typed_in_inches_is_kept_in_millimetres_and_shown_in_inches_again(bench, stool, workroom):
    """By hand: 1 1/2 in of foam is 38.1 mm, 3/8 in of wadding 9.525; a tenth less is 42.86 mm, 1 11/16 in, said to the
    eighth.
    """
    Workroom.objects.update(units="imperial")
    pad(bench, stool, foam="1 1/2", wadding="3/8 in")
    assert [layer.thickness for layer in stack_of(part(stool, "seat")).layers] == [38.1, 9.525]
    shown = page(bench, stool, "seat")
    assert "1 3/4 in under the cover" in shown
    assert 'value="1 1/2"' in shown
    assert " mm" not in shown.split("data-part", 1)[1].split("Foam in store")[0]


def test_heights_are_said_beside_the_drawing(bench, stool):
    """Rail at 40 cm, 45 mm of pad: 44.5 cm, 5 mm lower than before; 20.5 cm below a table at 65, too little."""
    heights = {"rail_top": "40", "before": "45", "table": "65", "arms": "62", "rebate": "40"}
    pad(bench, stool, sitter="110", **heights)
    shown = page(bench, stool, "seat")
    assert "A sitter of 110 kg" in shown
    assert "= 7.7 kPa" in shown, "110 x 9.81 / 0.14 m2"
    for words in ("Sits 5 mm lower", "Seat at 44.5 cm, it was 45 cm", "The arms stay 17.5 cm above it"):
        assert words in shown
    assert 'class="pad-warn">20.5 cm stay under the table' in shown
    assert "It stands 5 mm out of its rebate" in shown
    assert "as it was" in shown
    assert stack_of(part(stool, "seat")).heights.before == 450


def test_what_is_only_tried_is_drawn_and_not_kept(bench, stool):
    pad(bench, stool)
    boxes = {"layer0-sort": "foam", "layer0-thickness": "90", "layer1-sort": "wadding", "layer1-thickness": "10"}
    tried = bench.post(f"/tags/{stool.number}/pad/seat/tried/", boxes, headers={"X-Quiet": "1"})
    assert tried.status_code == 200
    assert "90 mm under the cover" in tried.content.decode()
    assert "<html" not in tried.content.decode()
    assert stack_of(part(stool, "seat")).layers[0].thickness == 40
    quiet = bench.post(f"/tags/{stool.number}/pad/seat/change/", boxes, headers={"X-Quiet": "1"})
    assert (quiet.status_code, "<html" in quiet.content.decode()) == (200, False)
    assert stack_of(part(stool, "seat")).layers[0].thickness == 90


def test_a_wider_strap_and_dearer_foam_of_the_workroom_s_own_rules_reach_every_pad(bench, workroom):
    """Opening 460 x 450: straps of 50: 5 and 4; of 80: (460 - 80) / 160 = 2.4, so 3, and 2.3, so 3."""
    job = load_job(hang_tag(title="x", client="y", kind="armchair").number)
    set_board(part(job, "seat"), board_width=550, board_depth=540, board_thickness=60)
    webbed = next(u.stack for u in usual_stacks(job.kind, job.kind.part("seat")) if u.key == "webbed")
    set_stack(part(job, "seat"), webbed)
    before = {b.what: b for b in bought_of(load_job(job.number)).bought}
    assert len(worked_of(part(job, "seat")).webbed.straps) == 9
    Workroom.objects.update(own_rules={"strap": 80.0, "foam_75": 100.0})
    after = {b.what: b for b in bought_of(load_job(job.number)).bought}
    assert len(worked_of(part(job, "seat")).webbed.straps) == 6
    assert after["elastic webbing"].amount < before["elastic webbing"].amount
    assert after["firm foam, 75 mm"].cost == pytest.approx(100 * 1.15)


def test_pads_that_no_tag_or_panel_has_are_not_found_and_a_bare_undo_says_so(bench, stool):
    base = f"/tags/{stool.number}/pad/"
    assert bench.get(f"{base}antlers/").status_code == 404
    assert bench.get("/tags/9999/pad/").status_code == 404
    assert bench.post(f"{base}antlers/change/").status_code == 404
    assert bench.get(f"{base}seat/change/").status_code == 405
    answer = bench.post(f"{base}seat/undo/", follow=True)
    assert "Nothing was changed on this pad" in answer.content.decode()
    assert part(stool, "seat").stack is None
    assert bench.post(f"{base}foam/99/drop/").status_code == 302
    assert bench.post(f"{base}foam/take/", {"act": "cut"}).status_code == 302
    assert not FoamOffcut.objects.exists()


@pytest.mark.parametrize("way", ["upright", "across"])
def test_each_channel_s_line_says_where_it_stands_for_the_hand_that_drags_it(bench, wing, way):
    """Lines evenly between the two sides that the drawing names, each as far from the last as its channels are wide."""
    back = part(wing, "inside_back")
    set_stack(back, replace(stack_of(back), channels=Channels(100.0, 10.0, way == "upright")))
    drawn = plan_drawing(worked_of(part(wing, "inside_back")))
    told = drawn.channels
    begins, ends = float(told["begins"]), float(told["ends"])
    at = sorted(float(line.at) for line in drawn.lines if line.at)
    assert (told["way"], told["apart"], told["least"]) == (way, "100.0", "20.0")
    step = abs(ends - begins) / (len(at) + 1)
    assert at == pytest.approx([min(begins, ends) + step * (n + 1) for n in range(len(at))], abs=0.11)
    assert plan_drawing(worked_of(part(wing, "seat"))).channels == {}


@pytest.mark.parametrize(("key", "box", "group"), [
    ("seat", "rail_top", "Heights"), ("inside_back", "deep", "Buttons"), ("inside_back", "channel_apart", "Channels"),
])  # fmt: skip
def test_a_box_that_was_refused_is_seen(bench, wing, key, box, group):
    """What lies folded away opens where something in it was refused."""
    answer = bench.post(f"/tags/{wing.number}/pad/{key}/change/", {**sent(wing, key), box: "abc"})
    assert answer.status_code == 422
    folded = re.findall(r"<details([^>]*)>\s*<summary>([^<]+)", answer.content.decode())
    assert [("open" in how) for how, words in folded if words.startswith(group)] == [True], folded
