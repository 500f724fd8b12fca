"""Runs of the lay: the first lay at once, the search in the worker, stopping, a lost worker, the sheet."""

from __future__ import annotations

import io
import json
from dataclasses import replace
from datetime import timedelta

import pytest
from django.utils import timezone
from pypdf import PdfReader

from tests.core.lay.independent import wrong_with
from tests.web.conftest import block
from zonatome.core.errors import BadInput
from zonatome.core.formats.lay_json import read_lay, read_request, write_lay
from zonatome.core.lay import lay as search
from zonatome.core.lay.request import Repeat
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.services import hang_tag
from zonatome.web.lay import models, services, tasks
from zonatome.web.lay.asking import request_for
from zonatome.web.lay.models import Cloth, CutTick, JobCloth, LayRun
from zonatome.web.lay.services import add_cloth, best_run, start_lay
from zonatome.web.lay.views import cloths as views
from zonatome.web.trace.services import keep_shape, shape_by_tape


@pytest.fixture
def cloth_of_stools(bench, stool, skerry, strip_all) -> JobCloth:
    strip_all(stool)
    block(bench, stool)
    add_cloth(load_job(stool.number), skerry, "main")
    return load_job(stool.number).cloths.all()[0]


def address(job_cloth: JobCloth, page: str = "") -> str:
    return f"/tags/{job_cloth.job.number}/lay/{job_cloth.pk}/{page}"


def test_the_first_lay_stands_before_any_worker_has_looked(bench, cloth_of_stools):
    bench.post(address(cloth_of_stools, "start/"))
    run = LayRun.objects.get()
    assert (run.state, run.improvements) == ("waiting", 0)
    assert wrong_with(run.asked(), run.lay()) == []
    page = bench.get(address(cloth_of_stools)).content.decode()
    assert "First lay in rows; the search begins" in page
    assert 'data-moving="yes"' in page
    assert page.count("<title>Seat ") == 4


@pytest.mark.parametrize(
    ("what", "words"),
    [
        pytest.param("is_prepared", "The search is being prepared", id="on a fresh machine"),
        pytest.param(
            "is_quick", "The first lay is being worked out", id="so many pieces that rows take longer than a second"
        ),
    ],
)
def test_a_first_lay_that_can_not_stand_at_once_is_the_worker_s(bench, cloth_of_stools, monkeypatch, what, words):
    for module in (services, models, views):
        if hasattr(module, what):
            monkeypatch.setattr(module, what, lambda *_: False)
    bench.post(address(cloth_of_stools, "start/"))
    run = LayRun.objects.get()
    assert (run.state, run.best) == ("waiting", None)
    page = bench.get(address(cloth_of_stools)).content.decode()
    assert words in page
    assert 'data-moving="yes"' in page
    assert bench.get("/").status_code == 200
    assert bench.get(address(cloth_of_stools, "hand/")).status_code == 422
    LayRun.objects.update(seconds=0.4)
    tasks.search_for_lay.func(run.pk)
    run.refresh_from_db()
    assert run.state == "done"
    assert run.row_lay is not None
    assert run.first_length >= run.best_length
    assert wrong_with(run.asked(), run.lay()) == []
    assert words not in bench.get(address(cloth_of_stools)).content.decode()


def test_the_worker_shortens_the_lay_and_the_row_tells(bench, cloth_of_stools, monkeypatch):
    run = start_lay(cloth_of_stools, seconds=0.8)
    tasks.search_for_lay.func(run.pk)
    run.refresh_from_db()
    assert (run.state, run.progress) == ("done", 1.0)
    assert run.best_length <= run.first_length
    assert wrong_with(run.asked(), run.lay()) == []
    assert 'data-moving="no"' in bench.get(address(cloth_of_stools, "moving/")).content.decode()


def test_what_is_proven_at_the_end_stands_beside_the_lay(bench, cloth_of_stools, monkeypatch):
    run = start_lay(cloth_of_stools, seconds=0.8)
    rows = run.lay()
    LayRun.objects.update(best=write_lay(replace(rows, bound=rows.length / 2)))
    assert "no lay can be shorter" not in bench.get(address(cloth_of_stools)).content.decode()
    longer = replace(rows, length=rows.length + 40, bound=rows.length)
    monkeypatch.setattr(search, "search_lay", lambda request, **how: longer)
    tasks.search_for_lay.func(run.pk)
    run.refresh_from_db()
    assert (run.state, run.improvements, run.best_length) == ("done", 0, rows.length)
    assert run.lay().bound == pytest.approx(rows.length, abs=0.01), "never more than the lay's own length"
    assert run.lay().placements == rows.placements
    assert "proven, no lay can be shorter" in bench.get(address(cloth_of_stools)).content.decode()


def test_a_search_that_was_stopped_before_it_began_never_begins(bench, cloth_of_stools):
    run = start_lay(cloth_of_stools)
    bench.post(address(cloth_of_stools, "stop/"))
    tasks.search_for_lay.func(run.pk)
    run.refresh_from_db()
    assert (run.state, run.improvements) == ("stopped", 0)
    assert "Stopped" in bench.get(address(cloth_of_stools)).content.decode()


def test_a_running_search_hears_the_stop_and_keeps_its_best(cloth_of_stools):
    run = start_lay(cloth_of_stools, seconds=60)
    LayRun.objects.filter(pk=run.pk).update(stop_asked=True)
    begun = timezone.now()
    tasks.search_for_lay.func(run.pk)
    run.refresh_from_db()
    assert run.state == "stopped"
    assert run.best is not None
    assert timezone.now() - begun < timedelta(seconds=30)


def test_a_killed_worker_leaves_a_run_that_says_so_and_can_be_taken_up(bench, cloth_of_stools):
    run = start_lay(cloth_of_stools)
    LayRun.objects.filter(pk=run.pk).update(state="running", beat_at=timezone.now() - timedelta(minutes=2))
    page = bench.get(address(cloth_of_stools)).content.decode()
    assert "The worker ended before the search did" in page
    assert 'data-moving="no"' in page
    bench.post(address(cloth_of_stools, "start/"))
    run.refresh_from_db()
    assert run.state == "failed"
    assert LayRun.objects.count() == 2
    assert best_run(load_job(cloth_of_stools.job.number).cloths.all()[0]) is not None


def test_a_run_that_waits_its_turn_is_not_called_lost(bench, cloth_of_stools):
    run = start_lay(cloth_of_stools)
    LayRun.objects.filter(pk=run.pk).update(beat_at=timezone.now() - timedelta(seconds=40))
    page = bench.get(address(cloth_of_stools)).content.decode()
    assert 'data-moving="yes"' in page
    LayRun.objects.filter(pk=run.pk).update(beat_at=timezone.now() - timedelta(seconds=100))
    assert "The worker ended" in bench.get(address(cloth_of_stools)).content.decode()


def test_a_search_that_breaks_says_so_and_keeps_the_first_lay(cloth_of_stools, monkeypatch):
    def broken(*_, **__):
        raise RuntimeError("no more memory")

    monkeypatch.setattr(search, "search_lay", broken)
    run = start_lay(cloth_of_stools)
    with pytest.raises(RuntimeError):
        tasks.search_for_lay.func(run.pk)
    run.refresh_from_db()
    assert (run.state, run.best is not None) == ("failed", True)


def test_a_second_press_while_it_moves_starts_nothing(bench, cloth_of_stools):
    for _ in range(3):
        bench.post(address(cloth_of_stools, "start/"))
    assert LayRun.objects.count() == 1


def test_a_search_for_what_is_not_wanted_any_more_is_stopped_and_a_new_one_begun(bench, cloth_of_stools):
    bench.post(address(cloth_of_stools, "start/"))
    JobCloth.objects.filter(pk=cloth_of_stools.pk).update(gap=9.0, wanted_fingerprint="")
    page = bench.get(address(cloth_of_stools)).content.decode()
    assert "This lay is out of date" in page
    assert "Lay again" in page
    bench.post(address(cloth_of_stools, "start/"))
    new, old = LayRun.objects.all()
    assert (old.state, old.stop_asked, new.state, new.asked().gap) == ("stopped", True, "waiting", 9.0)
    assert "This lay is out of date" not in bench.get(address(cloth_of_stools)).content.decode()


def test_the_shortest_of_the_runs_that_asked_the_same_stands(cloth_of_stools):
    first, second = start_lay(cloth_of_stools), start_lay(cloth_of_stools)
    LayRun.objects.filter(pk=first.pk).update(best_length=first.best_length - 50)
    fresh = load_job(cloth_of_stools.job.number).cloths.all()[0]
    assert best_run(fresh).pk == first.pk
    LayRun.objects.filter(pk=second.pk).update(fingerprint="of another request")
    fresh = load_job(cloth_of_stools.job.number).cloths.all()[0]
    assert best_run(fresh).pk == second.pk, "a lay of an older request does not count, however short"


def test_a_piece_wider_than_the_cloth_is_refused_by_name_and_nothing_stored(bench, cloth_of_stools):
    narrow = Cloth.objects.create(name="Ribbon", width=500, selvage=5, direction="one_way", price=3)
    job = load_job(cloth_of_stools.job.number)
    ribbon = JobCloth.objects.create(job=job, cloth=narrow)
    job.parts.filter(key="seat").update(cloth=ribbon)
    answer = bench.post(address(ribbon, "start/"))
    assert answer.status_code == 422
    page = answer.content.decode()
    assert "pieces no wider than the 49 cm that Ribbon has" in page
    assert "Seat, 59.4 cm across" in page
    assert not LayRun.objects.exists()


def test_a_cloth_without_shapes_is_refused_in_words(bench, stool, skerry):
    made = add_cloth(load_job(stool.number), skerry, "main")
    answer = bench.post(address(load_job(stool.number).cloths.get(pk=made.pk), "start/"))
    assert answer.status_code == 422
    assert "at least one panel with a shape on Skerry" in answer.content.decode()


@pytest.mark.parametrize(
    ("direction", "railroaded", "turns"),
    [
        ("one_way", False, (0,)),
        ("two_way", False, (0, 180)),
        ("any", False, (0, 90, 180, 270)),
        ("one_way", True, (90,)),
        ("two_way", True, (90, 270)),
    ],
)
def test_the_cloth_s_direction_decides_the_turns(cloth_of_stools, direction, railroaded, turns):
    cloth_of_stools.cloth.direction, cloth_of_stools.railroaded = direction, railroaded
    assert request_for(cloth_of_stools).pieces[0].turns == turns


def test_the_top_of_a_panel_lies_toward_the_squared_end(workroom, skerry):
    job = load_job(hang_tag(title="Chair", client="x", kind="side_chair").number)
    back = job.parts_by_key()["inside_back"]
    keep_shape(back, shape_by_tape(back, "trapezoid", {"bottom": 400, "top": 300, "height": 600}), "trapezoid")
    add_cloth(job, skerry, "main")
    piece = request_for(load_job(job.number).cloths.all()[0]).pieces[0]
    near_end = [y for x, y in piece.outline.points if x < 50]
    far_end = [y for x, y in piece.outline.points if x > 550]
    assert max(near_end) - min(near_end) < max(far_end) - min(far_end), "the narrow top is at x = 0"


def test_panels_on_two_cloths_make_two_lays(bench, cloth_of_stools, workroom):
    job = load_job(hang_tag(title="Chairs", client="x", kind="side_chair", count=2).number)
    for key in ("seat", "outside_back"):
        part = job.parts_by_key()[key]
        keep_shape(part, shape_by_tape(part, "rectangle", {"width": 400, "height": 500}), "rectangle")
    main = add_cloth(job, Cloth.objects.get(name="Skerry"), "main")
    oat = Cloth.objects.create(name="Oat", width=1400, price=20)
    bench.post(f"/tags/{job.number}/lay/use/", {"cloth": oat.pk, "role": "contrast"})
    contrast = JobCloth.objects.get(cloth=oat)
    bench.post(f"/tags/{job.number}/trace/outside_back/cloth/", {"cloth": contrast.pk})
    asked = {c.pk: [p.id for p in request_for(c).pieces] for c in load_job(job.number).cloths.all()}
    assert asked == {main.pk: ["seat"], contrast.pk: ["outside_back"]}
    bench.post(f"/tags/{job.number}/lay/{contrast.pk}/put-away/")
    assert load_job(job.number).parts_by_key()["outside_back"].cloth is None


def test_the_sheet_shows_corners_and_keeps_ticks(bench, cloth_of_stools):
    run = start_lay(cloth_of_stools)
    page = bench.get(address(cloth_of_stools, "cut-sheet/")).content.decode()
    assert page.count('x-on:change="tick"') == 4
    key = "seat.1"
    assert (
        bench.post(
            address(cloth_of_stools, "cut-sheet/tick/"), {"key": key, "cut": "1"}, headers={"X-Tick": "1"}
        ).status_code
        == 204
    )
    assert CutTick.objects.get().key == key
    assert "1</span> of 4 cut" in bench.get(address(cloth_of_stools, "cut-sheet/")).content.decode()
    bench.post(address(cloth_of_stools, "cut-sheet/tick/"), {"key": key, "cut": "0"})
    assert not CutTick.objects.exists()
    assert bench.post(address(cloth_of_stools, "cut-sheet/tick/"), {"key": "antler.1", "cut": "1"}).status_code == 404
    assert run.pk


def test_a_lay_that_is_being_cut_stands_and_is_not_laid_again(bench, cloth_of_stools):
    run = start_lay(cloth_of_stools)
    LayRun.objects.update(state="done")
    bench.post(address(cloth_of_stools, "cut-sheet/tick/"), {"key": "seat.1", "cut": "1"})
    answer = bench.post(address(cloth_of_stools, "start/"))
    assert answer.status_code == 422
    assert "no piece of this lay cut yet" in answer.content.decode()
    assert LayRun.objects.count() == 1
    bench.post(address(cloth_of_stools, "cut-sheet/tick/"), {"key": "seat.1", "cut": "0"})
    assert bench.post(address(cloth_of_stools, "start/")).status_code == 302
    assert run.pk


def test_the_lay_goes_out_as_pdf_svg_and_json(bench, cloth_of_stools):
    start_lay(cloth_of_stools)
    text = "".join(
        p.extract_text()
        for p in PdfReader(io.BytesIO(bench.get(address(cloth_of_stools, "cut-sheet.pdf")).content)).pages
    )
    for n in (1, 2, 3, 4):
        assert f"Seat {n}" in text
    assert bench.get(address(cloth_of_stools, "lay.svg")).content.startswith(b"<svg")
    request = read_request(json.loads(bench.get(address(cloth_of_stools, "request.json")).content))
    lay = read_lay(json.loads(bench.get(address(cloth_of_stools, "lay.json")).content))
    assert wrong_with(request, lay) == []


def test_gap_squaring_and_margin_are_rules_of_the_lay(bench, cloth_of_stools):
    start_lay(cloth_of_stools)
    assert (
        bench.post(address(cloth_of_stools, "rules/"), {"gap": "8", "squaring": "150", "margin": "0"}).status_code
        == 302
    )
    job_cloth = load_job(cloth_of_stools.job.number).cloths.all()[0]
    assert (job_cloth.gap, job_cloth.squaring, job_cloth.margin) == (8, 150, 0)
    assert request_for(job_cloth).gap == 8
    assert (
        bench.post(address(cloth_of_stools, "rules/"), {"gap": "wide", "squaring": "150", "margin": "0"}).status_code
        == 422
    )


def test_a_new_cloth_is_entered_in_any_unit_and_a_silly_one_refused(bench, stool):
    good = {
        "name": "Skerry",
        "width": "54 in",
        "selvage": "1/2 in",
        "direction": "two_way",
        "thickness": "1",
        "price": "34.50",
        "sold_in": "m",
        "sold_by": "half",
    }
    for wrong in ({"width": "narrow"}, {"width": "0"}, {"price": "-3"}, {"direction": "up"}, {"name": ""}):
        assert bench.post(f"/tags/{stool.number}/lay/new-cloth/", {**good, **wrong}).status_code == 422
    assert not Cloth.objects.exists()
    bench.post(f"/tags/{stool.number}/lay/new-cloth/", good)
    assert Cloth.objects.get().width == pytest.approx(1371.6)
    edited = bench.post(f"/cloths/{Cloth.objects.get().pk}/", {**good, "width": "140 cm"})
    assert edited.status_code == 302
    assert Cloth.objects.get().width == 1400


def test_a_patterned_cloth_is_entered_with_its_repeat_and_the_lay_centres_and_draws_it(bench, stool):
    motif = {
        "name": "Gannet",
        "width": "140",
        "selvage": "10 mm",
        "direction": "one_way",
        "thickness": "1",
        "price": "61",
        "sold_in": "m",
        "sold_by": "half",
        "pattern": "half_drop",
        "repeat_along": "32 cm",
        "repeat_across": "344 mm",
        "first_across": "528 mm",
        "first_along": "110 mm",
    }
    for missing, words in (("repeat_across", "across the roll"), ("repeat_along", "along the roll")):
        refused = bench.post(f"/tags/{stool.number}/lay/new-cloth/", {**motif, missing: ""})
        assert refused.status_code == 422
        assert words in refused.content.decode()
    bench.post(f"/tags/{stool.number}/lay/new-cloth/", motif)
    job = load_job(stool.number)
    used = job.cloths.get()
    assert used.cloth.repeat == Repeat(320, 344, 0.5, (110, 1400 - 528))
    panel = next(p for p in job.panels() if p.part.centred)
    keep_shape(panel, shape_by_tape(panel, "disc", {"diameter": 400.0}), "disc")
    bench.post(f"/tags/{stool.number}/lay/{used.pk}/start/")
    asked = bench.get(f"/tags/{stool.number}/lay/{used.pk}/request.json").json()
    (piece,) = asked["pieces"]
    assert asked["cloth"]["repeat"] == {"along": 320.0, "across": 344.0, "drop": 0.5, "origin": [110.0, 872.0]}
    assert piece["match"] == {"along": True, "across": True}
    wide = max(x for x, _ in piece["outline"])
    assert piece["anchor"] == pytest.approx([wide / 2, wide / 2], abs=0.1), "the middle of a round top"
    page = bench.get(f"/tags/{stool.number}/lay/{used.pk}/").content.decode()
    assert 'id="cloth-tile"' in page
    assert 'width="320.0" height="688.0"' in page, "one column, and the next dropped by half"
    bench.post(f"/cloths/{used.cloth.pk}/", {**motif, "repeat_across": "700 mm", "first_across": "1350 mm"})
    fresh = load_job(stool.number).cloths.get()
    panel = fresh.job.parts_by_key()[panel.key]
    keep_shape(panel, shape_by_tape(panel, "disc", {"diameter": 1200.0}), "disc")
    fresh = load_job(stool.number).cloths.get()
    with pytest.raises(BadInput, match="in their middle"):
        request_for(fresh)


def test_cloths_stand_side_by_side_cheapest_first_and_say_why_not(bench, cloth_of_stools):
    dear = Cloth.objects.create(name="Tern", width=1400, selvage=10, direction="one_way", price="90", sold_by="half")
    narrow = Cloth.objects.create(name="Braid", width=300, selvage=10, direction="one_way", price="5", sold_by="half")
    assert "No cloth on trial yet" in bench.get(address(cloth_of_stools, "trial/")).content.decode()
    bench.post(address(cloth_of_stools, "trial/start/"))
    for trial in cloth_of_stools.trials.filter(state="waiting"):
        tasks.lay_on_trial.func(trial.pk)
    own, tern, braid = (cloth_of_stools.trials.get(cloth=c) for c in (cloth_of_stools.cloth, dear, narrow))
    assert (own.state, tern.state, braid.state) == ("done", "done", "refused")
    assert "no wider than the 28 cm" in braid.words
    assert own.length <= start_lay(cloth_of_stools).first_length + 0.05
    page = bench.get(address(cloth_of_stools, "trial/moving/")).content.decode()
    assert page.index(cloth_of_stools.cloth.name) < page.index("Tern") < page.index("Braid")
    assert 'data-moving="no"' in page
    assert "Out of date" not in page
    cloth_of_stools.gap = 30.0
    cloth_of_stools.save()
    assert "Out of date" in bench.get(address(cloth_of_stools, "trial/")).content.decode()
    taken = bench.post(address(cloth_of_stools, "trial/take/"), {"cloth": dear.pk})
    assert taken.status_code == 302
    fresh = load_job(cloth_of_stools.job.number).cloths.get()
    assert (fresh.cloth, fresh.pk) == (dear, cloth_of_stools.pk)
    run = best_run(fresh)
    CutTick.objects.create(run=run, key="seat.1")
    assert bench.post(address(cloth_of_stools, "trial/take/"), {"cloth": own.cloth_id}).status_code == 422
    assert bench.post(address(cloth_of_stools, "trial/take/"), {"cloth": "9999"}).status_code == 404
    assert load_job(fresh.job.number).cloths.get().cloth == dear, "what has been cut stays on its cloth"


def hand(bench, job_cloth, act: str, **told):
    return bench.post(address(job_cloth, "hand/do/"), {"act": act, **told}, headers={"X-Hand": "1"})


def test_a_lay_is_changed_by_hand_judged_undone_and_kept(bench, cloth_of_stools):
    early = bench.get(address(cloth_of_stools, "hand/"))
    assert early.status_code == 422
    assert "lay the pieces first" in early.content.decode()
    start_lay(cloth_of_stools)
    LayRun.objects.update(state="done")
    page = bench.get(address(cloth_of_stools, "hand/")).content.decode()
    assert page.count('class="by-hand') == 4
    over = hand(bench, cloth_of_stools, "nudge", key="seat.2", along="-150", across="0").content.decode()
    assert "over" in over or "beyond the cut end" in over
    assert "is-wrong" in over
    assert "disabled" in over.split('data-key="k"')[1][:30], "what is wrong can't be kept"
    assert hand(bench, cloth_of_stools, "keep").status_code == 422
    hand(bench, cloth_of_stools, "undo")
    again = bench.get(address(cloth_of_stools, "hand/")).content.decode()
    assert "Nothing wrong" in again
    for key, act, words in (
        ("seat.2", "flip", "mirror image"),
        ("seat.77", "pin", "a piece of this lay"),
        ("seat.2", "dance", "one of move"),
        ("seat.2", "move", "numbers in millimetres"),
    ):
        refused = hand(bench, cloth_of_stools, act, key=key, along="far" if act == "move" else "0")
        assert refused.status_code == 422
        assert words in refused.content.decode()
    shortest = LayRun.objects.get().best_length
    hand(bench, cloth_of_stools, "nudge", key="seat.4", along="700", across="0")
    kept = hand(bench, cloth_of_stools, "keep")
    assert kept.status_code == 302
    run = best_run(load_job(cloth_of_stools.job.number).cloths.get())
    assert run.is_chosen
    assert run.best_length > shortest + 100, "by hand it may be longer, and stands"
    assert wrong_with(run.asked(), run.lay()) == []
    assert "out of date" not in bench.get(address(cloth_of_stools)).content.decode()
    bench.post(address(cloth_of_stools, "start/"))
    assert best_run(load_job(cloth_of_stools.job.number).cloths.get()).best_length == shortest, (
        "laid again, the shortest stands"
    )


def test_the_rest_is_laid_round_what_is_pinned_by_hand(bench, cloth_of_stools):
    start_lay(cloth_of_stools)
    LayRun.objects.update(state="done")
    assert hand(bench, cloth_of_stools, "rest").status_code == 422
    hand(bench, cloth_of_stools, "nudge", key="seat.1", along="400", across="0")
    hand(bench, cloth_of_stools, "undo")
    hand(bench, cloth_of_stools, "pin", key="seat.1")
    assert hand(bench, cloth_of_stools, "rest").status_code == 302
    run = LayRun.objects.latest("id")
    assert len(run.asked().pinned) == 1
    tasks.search_for_lay.func(run.pk)
    run.refresh_from_db()
    assert wrong_with(run.asked(), run.lay()) == []
    assert best_run(load_job(cloth_of_stools.job.number).cloths.get()).pk == run.pk
    cloth_of_stools.gap = 9.0
    cloth_of_stools.save()
    assert bench.get(address(cloth_of_stools, "hand/")).status_code == 422, "the rules have changed: lay first"
