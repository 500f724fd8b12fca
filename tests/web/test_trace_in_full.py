"""The trace step in full through its pages: ways to a shape, truing, seams, marks, what is made from a shape, files,
undo.
"""

from __future__ import annotations

import json
import re
from dataclasses import replace

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from tests.web.conftest import block, padded_with
from zonatome.core.formats.drawing_in import read_drawing
from zonatome.core.outline import outline_of
from zonatome.core.survey.furniture import rename_part
from zonatome.core.survey.kinds import KINDS
from zonatome.core.trace.by_tape import rectangle_shape, trapezoid_shape
from zonatome.core.trace.shape import shape_of
from zonatome.core.trace.usual import usual_shape
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job, JobPart
from zonatome.web.jobs.services import hang_tag
from zonatome.web.lay.asking import request_for
from zonatome.web.lay.services import add_cloth
from zonatome.web.pad.services import set_board, set_stack
from zonatome.web.survey.services import change_furniture, undo_change
from zonatome.web.trace.models import ShapeChange
from zonatome.web.trace.services import keep_shape, readiness_of, shape_of_part


@pytest.fixture
def chair(workroom) -> Job:
    """A fully covered side chair, a set of four."""
    return load_job(hang_tag(title="Chairs", client="x", kind="side_chair", count=4).number)


@pytest.fixture
def ottoman(workroom) -> Job:
    """A made ottoman: a top and four sides."""
    return load_job(hang_tag(title="Ottoman", client="x", kind="ottoman").number)


def part_of(job: Job, key: str) -> JobPart:
    return load_job(job.number).parts_by_key()[key]


def shape(job: Job, key: str):
    return shape_of_part(part_of(job, key))


def keep(job: Job, key: str, made, way="trapezoid") -> None:
    keep_shape(part_of(job, key), made, way)


def do(bench, job: Job, key: str, act: str, **data):
    return bench.post(f"/tags/{job.number}/trace/{key}/do/{act}/", data)


def look(bench, job: Job, key: str, name: str, more: str = "") -> str:
    answer = bench.get(f"/tags/{job.number}/trace/{key}/?look={name}{more}")
    assert answer.status_code == 200
    return answer.content.decode()


def lopsided(name="Inside back"):
    return shape_of(name, outline_of([(0, 0), (412, 0), (400, 560), (8, 556)]), (0, 1, 2, 3), {"bottom": "fly"})


# --- ways


@pytest.mark.parametrize(
    ("way", "measures", "cut"),
    [
        pytest.param("ellipse", {"width": "70", "height": "42"}, (726, 446), id="an ellipse"),
        pytest.param(
            "t", {"width": "60 cm", "body": "50 cm", "height": "56 cm", "ears": "12 cm"}, (626, 586), id="a T"
        ),
        pytest.param("offsets", {"rows": "0; 21; 22\n15; 23; 23.5\n\n52; 19; 20"}, (491, 546), id="widths at heights"),
        pytest.param(
            "board", {"board_width": "40", "board_back": "36", "board_depth": "38"}, (427, 406), id="off the board"
        ),
    ],
)
def test_each_way_by_tape_gives_its_shape_with_the_panel_s_joins(bench, workroom, way, measures, cut):
    bench_box = hang_tag(title="Bench", client="x", kind="bench_box")
    assert bench.get(f"/tags/{bench_box.number}/trace/bottom/?way={way}").status_code == 200
    assert bench.post(f"/tags/{bench_box.number}/trace/bottom/make/{way}/", measures).status_code == 302
    line = shape(bench_box, "bottom").cut_line
    assert (line.width, line.height) == pytest.approx(cut, abs=1.5)


@pytest.mark.parametrize(
    ("rows", "words"),
    [
        ("0; 21; 22\n15; 23", "Line 2: expected height; left; right"),
        ("0; 21; 22\nhigh; 2; 3", "Line 2: Type a length"),
        ("20; 21; 22\n10; 23; 23", "heights from the bottom up"),
        ("0; 21; 22", "2 to 60 rows"),
    ],
)
def test_offsets_that_make_no_shape_are_refused_by_their_line(bench, chair, rows, words):
    answer = bench.post(f"/tags/{chair.number}/trace/seat/make/offsets/", {"rows": rows})
    assert answer.status_code == 422
    assert words in answer.content.decode()
    assert part_of(chair, "seat").shape is None


def test_a_shape_is_copied_from_another_tag_and_a_drawing_in_another_unit_and_a_smaller_outline_is_taken(
    bench, chair, stool
):
    block(bench, stool)
    page = bench.get(f"/tags/{chair.number}/trace/seat/?way=library").content.decode()
    assert f"{stool.number} Stools: seat" in page
    source = part_of(stool, "seat").pk
    bench.post(f"/tags/{chair.number}/trace/seat/make/library/", {"source": source})
    copied = shape(chair, "seat")
    assert copied.outline.points == shape(stool, "seat").outline.points
    assert bench.post(f"/tags/{chair.number}/trace/seat/make/library/", {"source": "99999"}).status_code == 422
    two = b'<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0h20v20h-20z"/><path d="M40 0h10v12h-10z"/></svg>'
    bench.post(
        f"/tags/{chair.number}/trace/seat/make/file/",
        {"file": SimpleUploadedFile("a.svg", two), "unit": "in", "which": "2"},
    )
    assert shape(chair, "seat").outline.width == pytest.approx(254)
    answer = bench.post(
        f"/tags/{chair.number}/trace/seat/make/file/", {"file": SimpleUploadedFile("a.svg", two), "which": "3"}
    )
    assert "the drawing has 2 closed outlines" in answer.content.decode()


def test_boxing_and_a_band_are_made_from_the_edges_that_they_go_along(bench, workroom):
    job = hang_tag(title="Bench", client="x", kind="bench_box")
    keep(job, "top", rectangle_shape("Top", 1500, 420, {}), "rectangle")
    page = bench.get(f"/tags/{job.number}/trace/boxing_front/?way=edge").content.decode()
    assert "all round: 384 cm" in page
    bench.post(f"/tags/{job.number}/trace/boxing_front/make/edge/", {"source": "top.bottom", "height": "9"})
    assert shape(job, "boxing_front").outline.width == pytest.approx(1500)
    bench.post(
        f"/tags/{job.number}/trace/zip_strip_upper/make/edge/", {"source": "top.round", "height": "9", "strips": "2"}
    )
    assert shape(job, "zip_strip_upper").outline.width == pytest.approx(1920)
    answer = bench.post(
        f"/tags/{job.number}/trace/zip_strip_upper/make/edge/", {"source": "bottom.round", "height": "9"}
    )
    assert answer.status_code == 422


# --- truing


def test_a_cover_is_folded_and_a_half_taken_and_taken_back(bench, chair):
    keep(chair, "inside_back", lopsided(), "photo")
    page = look(bench, chair, "inside_back", "true")
    assert "the halves differ at most" in page
    assert "fold-tick" in page
    before = part_of(chair, "inside_back").shape
    assert do(bench, chair, "inside_back", "halve", take="right").status_code == 302
    assert shape(chair, "inside_back").halves_differ == 0
    bench.post(f"/tags/{chair.number}/trace/inside_back/undo/", {"look": "true"})
    assert part_of(chair, "inside_back").shape == before
    # a centre line of one's own, and one that does not pass through it
    assert "fold-line" in look(bench, chair, "inside_back", "true", "&low=20&high=20.5")
    assert "passes through the shape" in look(bench, chair, "inside_back", "true", "&low=300&high=300")
    do(bench, chair, "inside_back", "lopsided")
    answer = do(bench, chair, "inside_back", "halve", take="left")
    assert answer.status_code == 422
    assert "meant to be lopsided" in answer.content.decode()
    assert shape(chair, "inside_back").lopsided


def test_straightening_squaring_stretch_and_standing_upright_each_do_what_they_say(bench, chair):
    bowed = shape_of("Seat", outline_of([(0, 0), (240, -5), (480, 0), (484, 440), (0, 444)]), (0, 2, 3, 4), {})
    keep(chair, "seat", bowed)
    page = look(bench, chair, "seat", "true")
    assert re.search(r"Edge <b>a</b> bows\s+out by 5 mm", page)
    do(bench, chair, "seat", "straighten", edge="a")
    assert len(shape(chair, "seat").outline.points) == 4
    do(bench, chair, "seat", "square")
    assert shape(chair, "seat").outline.area == pytest.approx(
        shape(chair, "seat").outline.width * shape(chair, "seat").outline.height
    )
    width = shape(chair, "seat").outline.width
    do(bench, chair, "seat", "stretch", across="5", along="0")
    assert shape(chair, "seat").outline.width == pytest.approx(width * 0.95, abs=0.01)
    assert do(bench, chair, "seat", "stretch", across="50", along="0").status_code == 422
    leaning = trapezoid_shape("Seat", 480, 420, 450, {}).moved_by(
        lambda p: (0.9976 * p[0] - 0.0698 * p[1], 0.0698 * p[0] + 0.9976 * p[1])
    )
    keep(chair, "seat", leaning)
    assert "leans 4.0° to the left" in look(bench, chair, "seat", "true")
    do(bench, chair, "seat", "upright")
    assert shape(chair, "seat").outline.width == pytest.approx(480, abs=1)
    answer = do(bench, chair, "seat", "upright")
    assert "a centre line that leans" in answer.content.decode()


def test_an_edge_is_parted_held_by_two_joins_turned_to_another_side_and_joined_again(bench, chair):
    keep(chair, "seat", rectangle_shape("Seat", 480, 450, chair.kind.part("seat").joins))
    do(bench, chair, "seat", "part", edge="b", along="15 cm")
    assert [(e.name, e.side) for e in shape(chair, "seat").edges] == [
        ("a", "bottom"),
        ("b", "right"),
        ("e", "right"),
        ("c", "top"),
        ("d", "left"),
    ]
    bench.post(f"/tags/{chair.number}/trace/seat/edge/e/", {"e-join": "stapled_under", "e-adds": "50", "e-side": "top"})
    edge = shape(chair, "seat").edges[2]
    assert (edge.join, edge.adds, edge.side) == ("stapled_under", 50, "top")
    do(bench, chair, "seat", "join", edge="b")
    assert [e.name for e in shape(chair, "seat").edges] == ["a", "b", "c", "d"]
    answer = do(bench, chair, "seat", "part", edge="b", along="2 m")
    assert "less than the 450 mm of edge b" in answer.content.decode()


# --- seams


def test_a_seam_that_disagrees_is_said_mended_by_one_press_and_walked(bench, ottoman):
    chair, seat = ottoman, "top"
    keep(chair, "top", usual_shape(replace(chair.kind.part("top"), height=450)))
    keep(chair, "end_left", usual_shape(replace(chair.kind.part("end_left"), width=470)))
    page = look(bench, chair, seat, "seams")
    assert "End, left is longer by 20.0 mm" in page
    assert "No matching notches on either" in page
    seam = readiness_of(load_job(chair.number)).seams[0]
    assert "walk-steps" in look(bench, chair, seat, "seams", f"&walk={seam.key}")
    for mend in ("length of other", "new notches"):
        assert do(bench, chair, seat, "mend", seam=seam.key, mend=mend).status_code == 302
    assert "Lengths agree, notches meet" in look(bench, chair, seat, "seams")
    bench.post(f"/tags/{chair.number}/trace/{seat}/undo/")
    assert "No matching notches on either" in look(bench, chair, "end_left", "seams"), "one press takes both back"
    answer = do(bench, chair, seat, "mend", seam=seam.key, mend="length of one")
    assert answer.status_code == 422
    assert do(bench, chair, seat, "mend", seam="a.b-c.d", mend="new notches").status_code == 422
    assert bench.get(f"/tags/{chair.number}/trace/{seat}/?look=seams&walk=a.b-c.d").status_code == 404
    keep(chair, "front", usual_shape(chair.kind.part("front")))
    bench.post(f"/tags/{chair.number}/trace/front/edge/d/", {"d-join": "card_strip", "d-adds": "20", "d-side": "left"})
    kind = load_job(chair.number).kind
    assert (kind.part("front").joins["left"], kind.part("end_right").joins["left"]) == ("card_strip", "sewn")
    assert kind.part("end_right").joins["right"] == "stapled_under", "a seam is one thing: what it held is free"


def test_a_seam_that_cannot_be_compared_says_why(bench, chair):
    keep(chair, "outside_back", usual_shape(chair.kind.part("outside_back")))
    keep(chair, "inside_back", usual_shape(chair.kind.part("inside_back")))
    assert "Not compared yet: side, left has no shape" in look(bench, chair, "outside_back", "seams")


def test_ease_lets_a_longer_edge_be(bench, ottoman):
    keep(ottoman, "top", usual_shape(ottoman.kind.part("top")))
    keep(ottoman, "end_left", usual_shape(replace(ottoman.kind.part("end_left"), width=468)))
    assert "longer by 8.0 mm" in look(bench, ottoman, "top", "seams")
    do(bench, ottoman, "end_left", "ease", edge="c", percent="1.5")
    assert "longer by" not in look(bench, ottoman, "top", "seams")
    for edge, percent in (("q", "1"), ("c", "3")):
        assert do(bench, ottoman, "end_left", "ease", edge=edge, percent=percent).status_code == 422


# --- marks and what is made from a shape


def test_marks_are_put_drawn_and_taken_away(bench, chair):
    keep(chair, "inside_back", rectangle_shape("Inside back", 420, 560, {}))
    do(bench, chair, "inside_back", "notch", edge="b", along="12 cm", double="on")
    do(bench, chair, "inside_back", "buttons", rows="3", columns="4", across="9", down="10", deep="20")
    do(bench, chair, "inside_back", "point", means="post", left="5", up="6")
    do(bench, chair, "inside_back", "point", means="fly", left="0", up="4")
    page = look(bench, chair, "inside_back", "marks")
    for words in ("Double notch on", "12 × button", "1 × leg or arm post", "1 × the fly starts here"):
        assert words in page
    assert page.count("mark-dot") == 13
    do(bench, chair, "inside_back", "unmark", means="button")
    do(bench, chair, "inside_back", "unnotch", which="0")
    assert [m.means for m in shape(chair, "inside_back").marks] == ["post", "fly"]
    width = shape(chair, "inside_back").outline.width
    do(bench, chair, "inside_back", "channels", apart="6", deep="10", way="upright")
    assert shape(chair, "inside_back").outline.width > width + 20
    for act, wrong in (
        ("notch", {"edge": "b", "along": "9 m"}),
        ("buttons", {"rows": "3", "columns": "12", "across": "20", "down": "10", "deep": "20"}),
        ("channels", {"apart": "50", "deep": "10", "way": "upright"}),
        ("point", {"means": "fly", "left": "0", "up": "900"}),
        ("unnotch", {"which": "7"}),
    ):
        answer = do(bench, chair, "inside_back", act, **wrong)
        assert answer.status_code == 422, act
        assert "xpected" in answer.content.decode() or "Ensure" in answer.content.decode()


def test_a_fly_a_band_and_a_cushion_become_panels_with_shapes_and_one_press_takes_each_back(bench, chair, skerry):
    cloth = add_cloth(load_job(chair.number), skerry, "main")
    keep(chair, "seat", rectangle_shape("Seat", 480, 560, chair.kind.part("seat").joins))
    parts = {p.key for p in load_job(chair.number).panels()}
    whole = request_for(load_job(chair.number).cloths.get()).pieces[0].outline.area
    answer = do(bench, chair, "seat", "fly", side="top", hidden="15 cm")
    assert answer.status_code == 302
    fly = next(p for p in load_job(chair.number).panels() if p.key not in parts)
    assert fly.name == "Fly, seat"
    assert fly.cloth is None, "a fly is not of face cloth"
    assert request_for(load_job(chair.number).cloths.get()).pieces[0].outline.area < whole, "face cloth is saved"
    bench.post(f"/tags/{chair.number}/trace/seat/undo/")
    assert {p.key for p in load_job(chair.number).panels()} == parts
    assert shape(chair, "seat").outline.height == 560

    # a later change of the panels stands in the way until it is taken back where it was made
    do(bench, chair, "seat", "fly", side="top", hidden="15 cm")
    job = load_job(chair.number)
    change_furniture(job, rename_part(job.kind, "seat", "Cushioned seat"), words="another name")
    answer = bench.post(f"/tags/{chair.number}/trace/seat/undo/", follow=True)
    assert "take the later change back in the survey first" in answer.content.decode()
    undo_change(load_job(chair.number))
    undo_change(load_job(chair.number))
    bench.post(f"/tags/{chair.number}/trace/seat/undo/")
    assert shape(chair, "seat").outline.height == 560

    do(bench, chair, "seat", "band", name="Front band", side="bottom", height="9", lower="stapled_under")
    band = next(p for p in load_job(chair.number).panels() if p.name == "Front band")
    assert shape_of_part(band).outline.width == pytest.approx(480)
    assert band.cloth == cloth
    assert "Front band" in look(bench, chair, "seat", "seams")


def test_a_loose_cushion_s_five_sorts_make_their_panels_with_counts_for_the_set(bench, workroom):
    job = load_job(hang_tag(title="Wing chairs", client="x", kind="wing", count=2).number)
    keep(job, "cushion_top", rectangle_shape("Cushion", 530, 520, {}), "rectangle")
    do(bench, job, "cushion_top", "cushion", sort="box", height="10", zip_round="90")
    mine = {p.key: p for p in load_job(job.number).panels() if p.key.startswith("cushion")}
    sizes = {k: (shape_of_part(p).outline.width, shape_of_part(p).outline.height, p.pieces) for k, p in mine.items()}
    assert sizes == {  # by hand: boxing 530 + 2 (520 - 90), zip 530 + 2 x 90 in halves of 50; two chairs
        "cushion_top": (530, 520, 2), "cushion_bottom": (530, 520, 2), "cushion_boxing": (1390, 100, 2),
        "cushion_zip_upper": (710, 50, 2), "cushion_zip_lower": (710, 50, 2),
    }  # fmt: skip
    edges = {k: {e.side: e.join for e in shape_of_part(p).edges} for k, p in mine.items()}
    assert (edges["cushion_zip_upper"]["bottom"], edges["cushion_zip_lower"]["top"]) == ("zip", "zip")
    seams = [s for s in readiness_of(load_job(job.number)).seams if s.one.key.startswith("cushion")]
    assert seams
    assert not [f for s in seams for f in s.findings if f.what == "length"]
    assert not [s.why_not for s in seams if s.why_not]
    bench.post(f"/tags/{job.number}/trace/cushion_top/undo/")
    answer = do(bench, job, "cushion_top", "cushion", sort="round", height="10", zip_round="90")
    assert "a round top for a round cushion" in answer.content.decode()
    stool = load_job(hang_tag(title="Bench", client="x", kind="square_stool", count=2).number)
    do(bench, stool, "seat", "cushion", sort="bolster", height="16", length="50", zip_round="0")
    named = {p.name: p.pieces for p in load_job(stool.number).panels()}
    assert named == {"Seat": 2, "Seat, end": 4}


# --- ready?


def test_readiness_says_what_the_set_lacks_and_each_press_mends_it(bench, chair):
    page = bench.get(f"/tags/{chair.number}/trace/ready/").content.decode()
    assert "Not yet" in page
    assert "Seat has no shape yet" in page
    job = load_job(hang_tag(title="Arm chair", client="x", kind="show_wood").number)
    keep(job, "arm_pad_left", rectangle_shape("Arm pad, left", 100, 280, {}))
    odd = shape_of("Arm pad, right", outline_of([(0, 0), (100, 0), (120, 280), (0, 280)]), (0, 1, 2, 3), {})
    keep(job, "arm_pad_right", odd)
    keep(job, "seat", rectangle_shape("Seat", 500, 480, {}), "photo")
    JobPart.objects.filter(job__number=job.number, key="seat").update(off_number=1)
    page = bench.get(f"/tags/{job.number}/trace/ready/").content.decode()
    assert "are no pair" in page
    assert "no top was marked on the old one" in page
    do(bench, job, "arm_pad_left", "pair", back="ready")
    assert do(bench, job, "seat", "top", back="ready")["Location"].endswith("/trace/ready/")
    page = bench.get(f"/tags/{job.number}/trace/ready/").content.decode()
    assert "are no pair" not in page
    assert "no top was marked" not in page


def test_a_pad_changed_later_grows_what_wraps_it_and_says_of_what_is_sewn_that_it_no_longer_fits(
    bench, chair, workroom
):
    show = load_job(hang_tag(title="Show wood", client="x", kind="show_wood").number)
    raw = show.kind.part("seat").joins
    set_board(part_of(show, "seat"), board_width=500, board_depth=480, board_thickness=20)
    set_stack(part_of(show, "seat"), padded_with(50))
    keep(show, "seat", rectangle_shape("Seat", 560, 540, raw), "rectangle")
    growth = set_stack(part_of(show, "seat"), padded_with(80))
    assert growth.each_way == pytest.approx(2 * 27)
    assert shape(show, "seat").outline.width == pytest.approx(560 + 54)

    set_stack(part_of(chair, "seat"), padded_with(50))
    keep(chair, "seat", rectangle_shape("Seat", 480, 450, chair.kind.part("seat").joins))
    set_stack(part_of(chair, "seat"), padded_with(80))
    assert shape(chair, "seat").outline.width == 480
    page = look(bench, chair, "seat", "edges")
    assert "made for a pad 27 mm thinner" in page
    do(bench, chair, "seat", "grow")
    assert shape(chair, "seat").outline.width == pytest.approx(534)
    assert "thinner" not in look(bench, chair, "seat", "edges")
    bench.post(f"/tags/{chair.number}/trace/seat/undo/")
    do(bench, chair, "seat", "fits")
    assert "thinner" not in look(bench, chair, "seat", "edges")


def test_undo_goes_back_step_by_step_to_nothing_and_then_says_so(bench, stool):
    block(bench, stool)
    block(bench, stool, wrap="80")
    for wanted in (596, None):
        bench.post(f"/tags/{stool.number}/trace/seat/undo/")
        part = part_of(stool, "seat")
        assert (shape_of_part(part).cut_line.width if part.shape else None) == (
            pytest.approx(596, abs=30) if wanted else None
        )
    assert not ShapeChange.objects.exists()
    answer = bench.post(f"/tags/{stool.number}/trace/seat/undo/", follow=True)
    assert "Nothing taken back" in answer.content.decode()


# --- files


def test_a_shape_goes_out_as_each_file_and_the_plotter_draws_it(bench, stool):
    block(bench, stool)
    there = f"/tags/{stool.number}/trace/seat/file"
    finished = shape(stool, "seat").outline
    for kind in ("svg", "dxf"):
        answer = bench.get(f"{there}/{kind}/")
        assert answer.status_code == 200
        assert f"{stool.number}-seat.{kind}" in answer["Content-Disposition"]
        assert read_drawing(answer.content, name=f"a.{kind}").outlines()[0].width == pytest.approx(
            finished.width, abs=0.05
        )
        page = look(bench, stool, "seat", "files", f"&plot={kind}")
        assert "data:image/png;base64" in page
        assert "596.3 × 606.0 mm" in page or re.search(r"\d+\.\d × \d+\.\d mm", page)
    assert json.loads(bench.get(f"{there}/json/").content)["format"] == "zonatome.piece"
    for paper in ("a4", "letter", "long"):
        assert bench.get(f"{there}/{paper}/").content.startswith(b"%PDF")
    assert bench.get(f"{there}/exe/").status_code == 404
    keep(stool, "seat", rectangle_shape("Seat", 6000, 400, {}))
    answer = bench.get(f"{there}/long/", follow=True)
    assert "tile it instead" in answer.content.decode()


def test_what_is_no_act_or_comes_without_a_shape_is_not_there(bench, chair):
    assert do(bench, chair, "seat", "halve", take="left").status_code == 404
    assert do(bench, chair, "seat", "explode").status_code == 404
    assert bench.get(f"/tags/{chair.number}/trace/seat/do/halve/").status_code in (404, 405)
    assert bench.get(f"/tags/{chair.number}/trace/seat/?look=nonsense").status_code == 200


def test_what_the_board_says_will_be_cut_is_what_is_kept(bench, stool):
    """By hand: 37 in front, nothing at the back (so as wide), 38 deep, 18 under 45, 50 under it: 37 + 2 x 11.3 = 59.6,
    60.6.
    """
    typed = {
        "board_width": "37",
        "board_depth": "38",
        "board_thickness": "",
        "pad": "45",
        "wrap": "50",
        "board_back": "",
    }
    base = f"/tags/{stool.number}/trace/seat/"
    assert "So it is cut" not in bench.get(f"{base}tried/block/", typed).content.decode(), (
        "the board's thickness is not there yet"
    )
    typed["board_thickness"] = "18"
    assert "59.6 × 60.6 cm" in bench.get(f"{base}tried/block/", typed).content.decode()
    assert bench.post(f"{base}make/block/", typed).status_code == 302
    assert "59.6 × 60.6 cm" in bench.get(base).content.decode()
    assert (
        "Board, width in front: Type a length"
        in bench.get(f"{base}tried/block/", typed | {"board_width": "wide"}).content.decode()
    )
    assert bench.get(f"{base}tried/file/").status_code == 404


def test_every_panel_of_every_kind_shows_its_usual_outline_by_every_way(bench, workroom):
    for kind in KINDS:
        job = hang_tag(title="A thing", client="x", kind=kind)
        for panel in load_job(job.number).panels():
            for way in ("block", "rectangle", "trapezoid", "disc", "ellipse", "rounded", "t", "offsets", "board"):
                assert bench.get(f"/tags/{job.number}/trace/{panel.key}/tried/{way}/").status_code == 200, (
                    kind,
                    panel.key,
                    way,
                )
