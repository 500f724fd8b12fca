"""Rehearsing on its pages: acts kept and taken back, what is refused, orders side by side, faults, practice."""

from __future__ import annotations

import html
import io
import json
import re

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from tests.web.test_round import hung
from zonatome.core.errors import BadInput
from zonatome.core.fasten.chosen import Chosen, PostCut
from zonatome.core.fasten.questions import TOPICS, question
from zonatome.core.fasten.rehearsal import practice
from zonatome.core.fasten.rehearsal.orders import FOUND, SCHOOLS, cost_of
from zonatome.core.fasten.rehearsal.sheet import PULLS
from zonatome.core.fasten.relief import Post
from zonatome.core.formats.fastening_json import write_fastening
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import JobPart, Photo, Workroom
from zonatome.web.lay.models import Cloth, JobCloth
from zonatome.web.rack.archive import job_from_zip, job_zip
from zonatome.web.rack.tags import hang_like
from zonatome.web.rehearse import orders, services
from zonatome.web.rehearse.models import Answers, OrdersRun, Rehearsal, Try
from zonatome.web.rehearse.tasks import find_orders
from zonatome.web.trace import boards
from zonatome.web.trace.boards import shape_or_usual

QUIET = {"HTTP_X_QUIET": "1"}


@pytest.fixture
def stool(db):
    """A stool, its top on rails, stapled far apart so that it is quickly worked out."""
    job = hung("square_stool")
    JobPart.objects.filter(job=job, key="seat").update(pitch=75)
    return load_job(job.number)


def do(bench, job, what, **told):
    return bench.post(f"/tags/{job.number}/rehearse/seat/do/", {"what": what, **told}, **QUIET)


def count_of(answer) -> int:
    found = re.search(r"(\d+) staples? in", answer.content.decode())
    return int(found[1]) if found else 0


def off_of(answer) -> float:
    return float(re.search(r"Worst thread off by</dt><dd>([\d.]+) mm", answer.content.decode())[1])


def test_staples_are_set_taken_out_pulled_and_taken_back_and_the_page_shows_them_again(bench, stool):
    page = bench.get(f"/tags/{stool.number}/rehearse/seat/")
    assert page.status_code == 200
    assert "The cloth lies loose" in page.content.decode()
    spots = page.content.decode().count("data-spot=")
    top = float(re.search(r'data-top="([\d.]+)"', page.content.decode())[1])
    assert spots > 8
    assert count_of(do(bench, stool, "set", number=0)) == 1
    shown = do(bench, stool, "next").content.decode()
    assert "Next:" in shown
    assert "is-next" in shown
    assert count_of(do(bench, stool, "follow")) == 2
    part = next(p for p in stool.put_on() if p.key == "seat")
    plan = services.set_up_for(part).plan
    free = next(pin for pin in plan if pin.side == "left")
    assert count_of(do(bench, stool, "press", x=free.x + 3, y=free.y - 3)) == 3
    assert top > free.y
    harder = do(bench, stool, "harder", number=2)
    assert Rehearsal.objects.get().acts[-1] == ["pull", 2, 60.0]
    assert count_of(harder) == 3
    assert count_of(do(bench, stool, "out", number=2)) == 2
    assert count_of(do(bench, stool, "undo")) == 3
    again = bench.get(f"/tags/{stool.number}/rehearse/seat/").content.decode()
    assert "3 staples in" in again
    assert again.count("data-pin=") == 3
    do(bench, stool, "pull", pull="strong")
    do(bench, stool, "set", number=5)
    assert Rehearsal.objects.get().acts[-1] == ["set", 5, 80.0]
    assert count_of(do(bench, stool, "anew")) == 0
    assert Rehearsal.objects.get().acts == []


def test_what_can_t_be_done_is_said_and_changes_nothing(bench, stool):
    do(bench, stool, "set", number=0)
    kept = Rehearsal.objects.get().acts
    for told in (
        {"what": "fly"}, {"what": "set", "number": 999}, {"what": "set", "number": "x"}, {"what": "set", "number": 0},
        {"what": "out", "number": 7}, {"what": "harder", "number": 3}, {"what": "press", "x": "1e9", "y": 0},
        {"what": "press", "x": 100, "y": 100}, {"what": "play", "school": "spiral"}, {"what": "pull", "pull": "huge"},
        {"what": "press"},
    ):  # fmt: skip
        answer = bench.post(f"/tags/{stool.number}/rehearse/seat/do/", told, **QUIET)
        assert answer.status_code == 422, told
        assert answer.json()["words"]
        assert Rehearsal.objects.get().acts == kept, told
    plain = bench.post(f"/tags/{stool.number}/rehearse/seat/do/", {"what": "set", "number": 1})
    assert plain.status_code == 302
    assert len(Rehearsal.objects.get().acts) == 2
    for sights in ("", "[", "[]", json.dumps([["hole", [[0, 0], [30, 0]]]]), "9" * 70_000):
        answer = bench.post(f"/tags/{stool.number}/rehearse/seat/fault/", {"sights": sights}, **QUIET)
        assert answer.status_code == 422
    Rehearsal.objects.update(acts=[["set", 200, 40]])
    anew = bench.get(f"/tags/{stool.number}/rehearse/seat/").content.decode()
    assert "begins anew" in anew


def test_an_order_is_played_whole_another_stands_beside_it_and_a_fault_is_named(bench, stool):
    whole = do(bench, stool, "play", school="cross first")
    part = next(p for p in stool.put_on() if p.key == "seat")
    plan = services.set_up_for(part).plan
    assert count_of(whole) == len(plan)
    assert do(bench, stool, "play", school="cross first").status_code == 422
    beside = bench.get(f"/tags/{stool.number}/rehearse/seat/", {"beside": "round and round"}).content.decode()
    offs = [float(one) for one in re.findall(r"Worst thread off by</dt><dd>([\d.]+) mm", beside)]
    assert len(offs) == 2
    assert offs[0] == off_of(whole)
    assert beside.count("<svg class=") == 2
    near = plan[8]
    line = [[near.x - d * near.out[0], near.y - d * near.out[1]] for d in (70, 100, 130)]
    named = bench.post(
        f"/tags/{stool.number}/rehearse/seat/fault/", {"sights": json.dumps([["dent", line]])}, **QUIET
    ).content.decode()
    assert "Staple 9" in named
    assert "fault--1" in named
    assert "no certainty" in named


def test_the_cloth_of_the_panel_decides_how_it_gives_and_a_sewn_one_is_not_rehearsed(bench, stool):
    vinyl = Cloth.objects.create(name="Quay", width=1400, direction="any", price="20")
    hide = Cloth.objects.create(name="Hide", width=1400, direction="any", price="20", is_hide=True)
    velvet = Cloth.objects.create(name="Pile", width=1400, direction="one_way", price="20")
    knit = Cloth.objects.create(name="Knit", width=1400, direction="two_way", stretch="both", price="20")
    assert [services.sort_of(c) for c in (None, vinyl, hide, velvet, knit)] == [
        "weave", "vinyl", "hide", "velvet", "knit",
    ]  # fmt: skip
    boxed = hung("bench_box")
    page = bench.get(f"/tags/{boxed.number}/rehearse/top/")
    assert page.status_code == 200
    assert "nothing to rehearse" in page.content.decode()
    assert bench.get(f"/tags/{stool.number}/rehearse/nowhere/").status_code == 404
    sides = hung("side_chair")
    for part in load_job(sides.number).put_on():
        try:
            set_up = services.set_up_for(part)
        except BadInput:
            continue
        assert all(set_up.board.cloth.polygon.buffer(2).contains(p) for p in _places(set_up.plan)), part.key
    measured = JobPart.objects.filter(job=stool, key="seat")
    measured.update(board_width=400, board_depth=360, board_thickness=18)
    part = next(p for p in load_job(stool.number).put_on() if p.key == "seat")
    turned = services.set_up_for(part)
    assert turned.board.edge.width == pytest.approx(400)
    assert {p.side for p in turned.plan} == {"front", "back", "left", "right"}
    left = next(p for p in turned.plan if p.side == "right" and not p.out[1])  # right from below is left face up
    assert left.out[0] < 0
    assert left.x < turned.board.edge.bounds[0]


def _places(plan):
    from shapely.geometry import Point

    return [Point(p.x, p.y) for p in plan]


def test_a_practice_piece_is_tried_by_hand_helped_and_judged_and_the_best_is_kept(bench, django_user_model):
    home = bench.get("/practice/").content.decode()
    assert home.count("not tried yet") == len(practice.PIECES)
    piece = practice.BY_KEY["round_stool"]
    at = "/practice/round_stool/"
    assert "Your task" in bench.get(at).content.decode()
    assert bench.get("/practice/throne/").status_code == 404
    early = bench.post(f"{at}score/", **QUIET)
    assert early.status_code == 422
    assert "more staples" in early.json()["words"]
    assert bench.post(f"{at}do/", {"what": "play", "school": "cross first"}, **QUIET).status_code == 422
    for number in range(len(piece.planned())):
        assert bench.post(f"{at}do/", {"what": "set", "number": number}, **QUIET).status_code == 200
    judged = bench.post(f"{at}score/", **QUIET).content.decode()
    assert "100 of 100: all that was asked holds" in judged
    bench.post(f"{at}do/", {"what": "undo"}, **QUIET)
    assert "Next:" in bench.post(f"{at}do/", {"what": "next"}, **QUIET).content.decode()
    lower = bench.post(f"{at}score/", **QUIET).content.decode()
    assert "a point less for each" in lower
    row = Try.objects.get()
    assert (row.best, row.tries, row.helps) == (100, 2, 1)
    assert "<b>100</b> of 100, your best of 2" in bench.get("/practice/").content.decode()
    Workroom.objects.update(units="imperial")
    for inch in (bench.get("/practice/"), bench.get(at), bench.post(f"{at}score/", **QUIET)):
        assert re.search(r"\d lb/in", inch.content.decode())
        assert not re.search(r"\d N\b", inch.content.decode())
    assert "9 lb" in bench.get(at).content.decode()  # the usual hand, 40 N: a fourth of it and a little less in pounds
    Workroom.objects.update(units="metric")
    bench.post(f"{at}do/", {"what": "anew"}, **QUIET)
    assert Try.objects.get().helps == 0
    other = django_user_model.objects.create_user("tomas", password="made-up-for-this")
    bench.force_login(other)
    shown = bench.get("/practice/").content.decode()
    assert "best here 100" in shown
    assert Try.objects.count() == 1, "looking is no try"


def test_the_workrooms_own_hand_pulls(bench, stool):
    Workroom.objects.update(own_rules={"hand_pull": 30})
    page = do(bench, stool, "set", number=0).content.decode()
    assert all(f"{force} N" in page for force in (15, 30, 60))
    part = next(p for p in load_job(stool.number).put_on() if p.key == "seat")
    set_up = services.set_up_for(part)
    do(bench, stool, "pull", pull="strong")
    do(bench, stool, "set", number=3)
    assert Rehearsal.objects.get().acts[-1] == ["set", 3, 60.0]
    before = orders.fingerprint_of(set_up, "usual")
    Workroom.objects.update(own_rules={"hand_pull": 50})
    again = next(p for p in load_job(stool.number).put_on() if p.key == "seat")
    assert orders.fingerprint_of(services.set_up_for(again), "usual") != before  # orders are of one pull


def test_posts_that_are_cut_round_and_the_cloths_own_stripe_are_on_the_board(bench, stool):
    part = JobPart.objects.get(job__number=stool.number, key="seat")
    address = f"/tags/{stool.number}/rehearse/seat/"
    plain = bench.get(address).content.decode()
    assert 'class="sheet-post"' not in plain
    assert 'class="sheet-print"' not in plain
    low = shape_or_usual(part).cut_line.bounds[1]
    posts = (
        PostCut(Post((100.0, low + 90), 30)),
        PostCut(Post((9000.0, 50.0), 30)),
    )  # the second is not in it any more
    part.fastening = write_fastening(Chosen(posts=posts))
    cloth = Cloth.objects.create(name="Marram", width=1400, price=30, pattern="stripe", repeat_across=60)
    part.cloth = JobCloth.objects.create(job=stool, cloth=cloth)
    part.save()
    page = do(bench, stool, "set", number=0).content.decode()
    assert page.count('class="sheet-post"') == page.count('class="sheet-cut"') == 1
    assert 'class="sheet-print"' in page
    assert "<b>stripe</b>" in page
    set_up = services.set_up_for(part)
    assert set_up.board.holes
    assert not set_up.is_laid  # no lay yet: a stripe in the middle
    x0, y0, x1, y1 = set_up.board.edge.bounds
    assert set_up.marks[-1].at == pytest.approx(((x0 + x1) / 2, (y0 + y1) / 2))


# ------------------------------------------------------------------ orders of a board, and its plan


def asked(bench, stool):
    """All orders asked for, and played as the worker does it."""
    page = do(bench, stool, "orders").content.decode()
    assert "Waits for the worker" in page
    assert "data-moving" in page
    run = OrdersRun.objects.get()
    do(bench, stool, "orders")  # pressed twice, asked once
    assert OrdersRun.objects.get() == run
    find_orders.func(run.pk)
    run.refresh_from_db()
    return run


def test_all_orders_are_played_one_is_found_and_kept_as_the_plan_that_fasten_tells(bench, stool):
    run = asked(bench, stool)
    assert (run.state, [row.name for row in run.orders.all()]) == ("done", [*SCHOOLS, FOUND])
    part = next(p for p in stool.put_on() if p.key == "seat")
    set_up = services.set_up_for(part)
    rows = {row.name: row for row in orders.order_rows(set_up, run)}
    assert [name for name, row in rows.items() if row.is_plan] == ["cross first"]
    assert cost_of(rows[FOUND].seen) <= min(cost_of(row.seen) for row in rows.values())
    by_hand = services.school_stand(set_up, "round and round", PULLS["usual"])
    assert rows["round and round"].seen.off == pytest.approx(by_hand.seen.off)
    part.staples_done = 5
    part.save()
    page = bench.get(f"/tags/{stool.number}/rehearse/seat/orders/", **QUIET).content.decode()
    assert "5 are ticked off now" in page
    assert f"{rows['one side whole'].seen.off:.1f} mm" in page
    kept = do(bench, stool, "keep", school=rows["round and round"].name).content.decode()
    assert "the plan now" in kept
    part = JobPart.objects.get(pk=part.pk)
    assert (part.staple_order, part.staples_done) == ("own", 0)
    plan = boards.plan_of(part)
    spots = services.set_up_for(part).in_school("round and round", PULLS["usual"])
    assert [(p.x, p.y) for p in services.pins_of(plan.staples)] == [(p.x, p.y) for p in spots]
    assert [staple.number for staple in plan.staples] == list(range(1, len(spots) + 1))
    fasten = f"/tags/{stool.number}/fasten/seat/?stage=staples"
    assert "as it was kept from the rehearsal" in bench.get(fasten).content.decode()
    finding = bench.get(f"/tags/{stool.number}/rehearse/seat/?find=1").content.decode()
    assert f"{len(spots)} staples" not in finding
    assert finding.index('data-pin="0"') < finding.index('data-pin="1"')
    with_why = run.orders.get(name=FOUND)
    with_why.why = ["opposite staple 1: because it hangs 1.5 mm too far in"] * len(spots)
    with_why.save()
    do(bench, stool, "keep", school=FOUND)
    told = bench.get(fasten).content.decode()
    assert ("1.5 mm too far in" in told) == (JobPart.objects.get(pk=part.pk).staple_order == "own")
    back = do(bench, stool, "keep", school="cross first")
    assert back.status_code == 200
    assert JobPart.objects.get(pk=part.pk).staple_order == "cross first"
    assert "own_order" in JobPart.objects.get(pk=part.pk).fastening  # it can be chosen in Fasten again


def test_an_own_order_goes_with_the_tag_and_gives_way_when_the_plan_is_another(bench, stool):
    do(bench, stool, "play", school="round and round")
    do(bench, stool, "keep", school="yours")
    part = JobPart.objects.get(job__number=stool.number, key="seat")
    assert boards.plan_of(part).order == "own"
    like = hang_like(load_job(stool.number))
    again = JobPart.objects.get(job=like, key="seat")
    assert boards.plan_of(again).staples == boards.plan_of(part).staples
    brought = job_from_zip(io.BytesIO(job_zip(stool.number)))
    there = JobPart.objects.get(job=brought, key="seat")
    assert boards.plan_of(there).staples == boards.plan_of(part).staples
    assert services.acts_of(Rehearsal.objects.get(part=there)) == services.acts_of(Rehearsal.objects.get(part=part))
    JobPart.objects.filter(pk=part.pk).update(pitch=40)
    assert boards.plan_of(JobPart.objects.get(pk=part.pk)).order == "cross first"
    page = bench.get(f"/tags/{stool.number}/fasten/seat/?stage=staples").content.decode()
    assert 'value="cross first" checked' in " ".join(page.replace("id=", " id=").split()) or "checked" in page


def test_what_can_t_be_asked_of_the_worker_is_said_and_what_has_changed_is_not_played(bench, stool, monkeypatch):
    for told, words in (
        ({"what": "keep", "school": FOUND}, "not played yet"),
        ({"what": "keep", "school": "yours"}, "are left"),
        ({"what": "keep", "school": "x" * 500}, "not played yet"),
    ):
        assert words in do(bench, stool, **told).json()["words"]
    do(bench, stool, "orders")
    run = OrdersRun.objects.get()
    JobPart.objects.filter(key="seat").update(pitch=60)
    find_orders.func(run.pk)
    run.refresh_from_db()
    assert (run.state, run.orders.count()) == ("failed", 0)
    assert "Try all orders" in bench.get(f"/tags/{stool.number}/rehearse/seat/").content.decode()
    do(bench, stool, "orders")
    OrdersRun.objects.update(state="running")
    OrdersRun.say_lost()
    page = bench.get(f"/tags/{stool.number}/rehearse/seat/").content.decode()
    assert "The worker ended" in page
    assert "Try all orders" in page
    do(bench, stool, "orders")
    run = OrdersRun.objects.get()
    assert run.state == "waiting"
    monkeypatch.setattr("zonatome.web.rehearse.tasks.SCHOOLS", ("cross first",))

    def stopped(*_, **__):
        do(bench, stool, "stop")

    monkeypatch.setattr("zonatome.web.rehearse.tasks._keep", stopped)
    find_orders.func(run.pk)
    assert not OrdersRun.objects.exists()
    monkeypatch.setattr(orders, "AT_ONCE", 3)
    address = f"/tags/{stool.number}/rehearse/seat/?beside=round and round"
    page = bench.get(address).content.decode()
    assert "the worker" in page  # many staples: asked for at once, and shown when they are played
    assert page.count('class="rehearsal-board"') == 1
    monkeypatch.undo()
    find_orders.func(OrdersRun.objects.get().pk)
    monkeypatch.setattr(orders, "AT_ONCE", 3)
    assert bench.get(address).content.decode().count('class="rehearsal-board"') == 2


# ------------------------------------------------------------------ questions


@pytest.mark.parametrize("topic", list(TOPICS))
def test_questions_are_asked_one_after_the_other_and_each_answer_is_counted_once(bench, django_user_model, topic):
    here = f"/practice/questions/{topic}/"
    for number in range(6):
        one = question(topic, number)
        page = bench.get(here).content.decode()
        assert f"Question {number + 1}" in page
        assert page.count('name="chosen"') == len(one.choices)
        assert one.worked[0] not in html.unescape(page)  # not before it is answered
        if one.kind is not None:
            drawn = bench.get(f"{here}{number}.svg")
            assert drawn["Content-Type"] == "image/svg+xml"
            assert b"<svg" in drawn.content[:200]
        chosen = one.right if number != 2 else (one.right + 1) % len(one.choices)
        for _ in range(2):  # pressed twice
            answer = bench.post(f"{here}answer/", {"number": number, "chosen": chosen})
            assert answer["Location"] == f"{here}?number={number}&chosen={chosen}"
        told = html.unescape(bench.get(answer["Location"]).content.decode())
        assert all(line in told for line in one.worked)
        assert ("Right." in told) is (number != 2)
    row = Answers.objects.get(topic=topic)
    assert (row.count, row.right, row.in_a_row) == (6, 5, 3)
    assert "5 of 6 right" in bench.get("/practice/").content.decode()


def test_an_odd_answer_changes_nothing(bench):
    here = "/practice/questions/strip/"
    for told in (
        {}, {"number": "0"}, {"number": "0", "chosen": "9"}, {"number": "1", "chosen": "0"},
        {"number": "x", "chosen": "0"}, {"number": "-1", "chosen": "0"}, {"number": "0", "chosen": "²"},
        {"number": "9" * 40, "chosen": "1"},
    ):  # fmt: skip
        assert bench.post(f"{here}answer/", told)["Location"] == here
    assert not Answers.objects.exists()
    for odd in ("?number=0&chosen=0", "?number=-1", "?number=99999&chosen=1", "?number=%00&chosen=1"):
        page = bench.get(here + odd).content.decode()
        assert "Question 1" in page
        assert 'name="chosen"' in page
    for gone in (
        "/practice/questions/soup/",
        "/practice/questions/relief/0.svg",
        "/practice/questions/strip/9999999.svg",
    ):
        assert bench.get(gone).status_code == 404


# ------------------------------------------------------------------ the photo of the finished seat


def jpeg(colour=(150, 120, 90)) -> SimpleUploadedFile:
    made = io.BytesIO()
    Image.new("RGB", (640, 480), colour).save(made, "JPEG")
    return SimpleUploadedFile("seat.jpg", made.getvalue(), content_type="image/jpeg")


MARKS = [[0.2, 0.8], [0.8, 0.8], [0.75, 0.2], [0.25, 0.2]]


def test_a_photo_of_the_finished_seat_lies_under_the_board_and_its_stripe_is_compared(bench, stool):
    base = f"/tags/{stool.number}/rehearse/seat"
    assert "No photo of the finished" in bench.get(f"{base}/seat/").content.decode()
    assert 'data-key="p"' in bench.get(f"{base}/?find=1").content.decode()
    sent = bench.post(f"{base}/seat/photo/", {"photo": jpeg()})
    photo = Photo.objects.get()
    assert (photo.when, photo.part.key) == ("look", "seat")
    page = bench.get(sent["Location"]).content.decode()
    assert page.count("data-mark=") == 4
    kept = bench.post(f"{base}/seat/keep/", {"photo": photo.pk, "marks": json.dumps(MARKS)})
    assert kept["Location"] == f"{base}/?find=1"
    flat = bench.get(f"{base}/seat/flat.jpg")
    assert flat["Content-Type"] == "image/jpeg"
    assert Image.open(io.BytesIO(flat.content)).width > 900
    finding = bench.get(f"{base}/?find=1").content.decode()
    assert f'href="{base}/seat/flat.jpg"' in finding
    x0, y0, x1, y1 = services.set_up_for(photo.part).board.edge.bounds
    line = [[(x0 + x1) / 2 + 4 * (k % 2), y0 + 30 + (y1 - y0 - 60) * k / 9] for k in range(10)]
    told = {"what": "compare", "sights": json.dumps([["bow", line], ["bow", [[x0 + 20, y0 + 20], [x1 - 20, y1 - 20]]]])}
    shown = bench.post(f"{base}/fault/", told, **QUIET).content.decode()
    assert "mm apart" in shown
    assert "along no thread" in shown
    assert shown.count('class="sheet-foreseen"') == 1
    assert "flat.jpg" in shown
    assert (
        "Draw along a stripe"
        in bench.post(f"{base}/fault/", {"what": "compare", "sights": json.dumps([["dent", line]])}, **QUIET).json()[
            "words"
        ]
    )
    brought = job_from_zip(io.BytesIO(job_zip(stool.number)))
    again = Rehearsal.objects.get(part__job=brought)
    assert again.marks == MARKS
    assert again.photo == Photo.objects.get(job=brought)
    bench.post(f"{base}/seat/keep/", {"what": "away"})
    assert Rehearsal.objects.get(part=photo.part).photo is None
    assert Photo.objects.filter(pk=photo.pk).exists()
    assert bench.get(f"{base}/seat/flat.jpg").status_code == 404


def test_marks_that_are_none_and_photos_of_others_are_refused_and_nothing_is_kept(bench, stool):
    base = f"/tags/{stool.number}/rehearse/seat"
    bench.post(f"{base}/seat/photo/", {"photo": SimpleUploadedFile("x.jpg", b"no photo")})
    bench.post(f"{base}/seat/photo/", {})
    assert not Photo.objects.exists()
    bench.post(f"{base}/seat/photo/", {"photo": jpeg()})
    photo = Photo.objects.get()
    for odd in (
        "",
        "null",
        "[]",
        "{",
        "[" * 300,
        json.dumps(MARKS[:3]),
        json.dumps([[0.5, 0.5]] * 4),
        "9" * 9000,
        "[[1,2]]",
    ):
        answer = bench.post(f"{base}/seat/keep/", {"photo": photo.pk, "marks": odd})
        assert answer["Location"].startswith(f"{base}/seat/?photo="), odd
    other = hung("square_stool")
    for pk in (photo.pk + 99, "x", "", "9" * 40):
        assert bench.post(f"{base}/seat/keep/", {"photo": pk, "marks": json.dumps(MARKS)}).status_code == 404
    strange = f"/tags/{other.number}/rehearse/seat/seat/keep/"
    assert bench.post(strange, {"photo": photo.pk, "marks": json.dumps(MARKS)}).status_code == 404
    assert not Rehearsal.objects.exclude(marks=[]).exists()
    bench.post(f"{base}/seat/keep/", {"photo": photo.pk, "marks": json.dumps(MARKS)})
    Rehearsal.objects.update(marks=[[0, 0]])
    assert bench.get(f"{base}/?find=1").status_code == 200
    assert bench.get(f"{base}/seat/").status_code == 200
    photo.path.unlink()
    Rehearsal.objects.update(marks=MARKS)
    assert bench.get(f"{base}/seat/flat.jpg").status_code == 404
    assert bench.get(f"{base}/seat/").status_code == 200
