"""What a lay is cut from and for: flaws, held back, the store, several tags; what is left over; buying from the seller;
the cloth in place.
"""

from __future__ import annotations

import contextlib
import csv
import io
import json
import re
import socket
import threading
import time
from datetime import date, timedelta
from decimal import Decimal
from pathlib import Path
from wsgiref.simple_server import WSGIRequestHandler, make_server

import cv2
import ezdxf
import numpy as np
import pytest
from django.core.files.base import ContentFile
from django.core.files.uploadedfile import SimpleUploadedFile
from django.utils import timezone
from PIL import Image

from tests.core.cloth_photos import HIGH, WIDE, photo_of
from tests.core.lay.independent import wrong_with
from tests.photographed import photographed
from tests.web.conftest import block
from tests.web.test_lay_runs import address
from zonatome.core.errors import BadInput, NoAnswer
from zonatome.core.formats.job_zip import read_job_zip, write_job_zip
from zonatome.core.trace.mat import Mat
from zonatome.standins.bench_camera import Shot
from zonatome.standins.cloth_seller import EVERY, Seller, first_stock, service
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job, Wait
from zonatome.web.jobs.services import hang_tag
from zonatome.web.lay import seller, tasks
from zonatome.web.lay.asking import request_for
from zonatome.web.lay.forms import ClothForm
from zonatome.web.lay.models import Cloth, ClothOrder, CutTick, JobCloth, LayRun, Remnant, RemnantPhoto
from zonatome.web.lay.offcuts import rest_of
from zonatome.web.lay.seller import HttpSeller
from zonatome.web.lay.services import (
    add_cloth,
    best_run,
    chart_for,
    cloth_standing,
    set_tick,
    start_lay,
    wanted_fingerprint,
)
from zonatome.web.rack.archive import job_from_zip, job_zip
from zonatome.web.trace.services import keep_shape, shape_by_tape


@pytest.fixture
def seats(bench, stool, skerry, strip_all) -> JobCloth:
    """Four stools on Skerry, not laid yet."""
    strip_all(stool)
    block(bench, stool)
    add_cloth(load_job(stool.number), skerry, "main")
    return fresh(load_job(stool.number).cloths.all()[0])


def fresh(job_cloth: JobCloth) -> JobCloth:
    return next(c for c in load_job(job_cloth.job.number).cloths.all() if c.pk == job_cloth.pk)


def another_tag(skerry: Cloth, title: str = "Footstools", count: int = 2) -> JobCloth:
    """Another tag with shapes on the same cloth."""
    job = load_job(hang_tag(title=title, client="y", kind="square_stool", count=count).number)
    part = job.parts_by_key()["seat"]
    keep_shape(part, shape_by_tape(part, "rectangle", {"width": 420, "height": 380}), "rectangle")
    return fresh(add_cloth(job, skerry, "main"))


FLAW = {"from_end": "20 cm", "from_left": "300 mm", "along": "60", "across": "80"}


def test_a_flaw_is_marked_laid_round_makes_the_lay_stale_and_can_be_taken_back(bench, seats):
    start_lay(seats)
    assert bench.post(address(seats, "from/flaws/"), FLAW).status_code == 302
    job_cloth = fresh(seats)
    x0, y0, x1, y1 = job_cloth.roll_flaws()[0].bounds
    width = job_cloth.cloth.width
    assert (x0, x1, y0, y1) == (200, 260, width - 380, width - 300), (
        "from the squared end, and from the left selvage, which is y = width"
    )
    assert cloth_standing(job_cloth).is_stale
    assert "This lay is out of date" in bench.get(address(seats)).content.decode()
    run = start_lay(job_cloth)
    assert wrong_with(run.asked(), run.lay()) == []
    assert len(run.asked().flaws) == 1
    assert not cloth_standing(fresh(seats)).is_stale
    page = bench.get(address(seats)).content.decode()
    assert "flaw 1</title>" in page
    assert "1 flaw" in page
    assert bench.post(address(seats, "from/flaws/"), {"take_back": "5"}).status_code == 422
    bench.post(address(seats, "from/flaws/"), {"take_back": "0"})
    assert fresh(seats).flaws == []


@pytest.mark.parametrize(
    ("wrong", "words"),
    [
        ({"from_left": "3 m"}, "a place on the cloth"),
        ({"along": "0"}, "is too little: at least"),
        ({"along": "nan"}, "“nan” is none"),
        ({"from_end": ""}, "required"),
        ({"across": "1e9 m"}, "Type a length such as"),
    ],
)
def test_a_flaw_that_cannot_be_is_refused_and_nothing_kept(bench, seats, wrong, words):
    answer = bench.post(address(seats, "from/flaws/"), FLAW | wrong)
    assert answer.status_code == 422
    assert words in answer.content.decode()
    assert fresh(seats).flaws == []


def test_a_block_is_held_back_laid_named_and_let_go(bench, seats):
    assert (
        bench.post(
            address(seats, "from/held/"), {"words": "the cushion", "along": "50", "across": "45", "count": "2"}
        ).status_code
        == 302
    )
    run = start_lay(fresh(seats))
    assert {p.id: p.count for p in run.asked().pieces} == {"seat": 4, "held1": 2}
    page = bench.get(address(seats, "cut-sheet/")).content.decode()
    assert page.count("Held: the cushion") >= 2
    assert (
        bench.post(address(seats, "from/held/"), {"words": "", "along": "50", "across": "45", "count": "2"}).status_code
        == 422
    )
    set_tick(run, "seat.1", is_cut=True, is_strip=False)
    refused = bench.post(address(seats, "from/held/"), {"take_back": "0"})
    assert refused.status_code == 422
    assert "no piece of this lay cut yet" in refused.content.decode()
    CutTick.objects.all().delete()
    bench.post(address(seats, "from/held/"), {"take_back": "0"})
    assert fresh(seats).held == []


def test_a_lay_on_remnants_of_the_store_buys_nothing_and_uses_them_up(bench, seats, skerry):
    bench.post(f"/cloths/{skerry.pk}/pieces/", {"kind": "remnant", "along": "150", "across": "130", "words": "shelf 2"})
    bench.post(f"/cloths/{skerry.pk}/pieces/", {"kind": "length", "along": "90", "across": "80", "words": ""})
    one, other = Remnant.objects.all()
    assert (
        bench.post(
            f"/cloths/pieces/{one.pk}/mark/", {"from_end": "70", "from_left": "60", "along": "50", "across": "50"}
        ).status_code
        == 302
    )
    one.refresh_from_db()
    assert one.marks()[0].bounds == (700, 650, 750, 700)
    page = bench.get(address(seats, "from/")).content.decode()
    assert page.count('name="remnant"') == 2
    bench.post(address(seats, "from/store/"), {"remnant": [one.pk, other.pk]})
    run = start_lay(fresh(seats), seconds=0.4)
    tasks.search_for_lay.func(run.pk)
    run.refresh_from_db()
    lay = run.lay()
    assert (run.state, lay.on_panels) == ("done", True)
    assert wrong_with(run.asked(), lay) == []
    standing = cloth_standing(fresh(seats))
    assert (standing.is_laid, standing.buy, standing.cost, standing.is_stale) == (True, 0.0, Decimal(0), False)
    page = bench.get(address(seats)).content.decode()
    assert "From the store" in page
    assert ("No room for" in page) == bool(lay.unplaced)
    assert bench.get(address(seats, "buy/")).status_code == 404
    taken = fresh(another_tag(skerry))
    assert 'name="remnant"' not in bench.get(address(taken, "from/")).content.decode(), "promised to the first tag"
    for name in ("cut-sheet.pdf", "wall-sheet.pdf", "cut-sheet.csv", "lay.dxf", "lay.svg", "lay.json", "request.json"):
        assert bench.get(address(seats, name)).status_code == 200, name
    rest = re.findall(r'name="keep" value="(\d+)"', bench.get(address(seats, "cut-sheet/")).content.decode())
    before = Remnant.objects.count()
    bench.post(address(seats, "cut-sheet/left-over/"), {"keep": rest[:1]})
    assert Remnant.objects.count() == before + len(rest[:1])
    bench.post(address(seats, "cut-sheet/left-over/"), {"keep": ["0"]})
    assert Remnant.objects.count() == before + len(rest[:1]), "put away once"
    if rest:
        touched = {p.panel for p in lay.placements}
        assert {r.pk for r in Remnant.objects.exclude(used_at=None)} == {[one.pk, other.pk][n] for n in touched}
    refused = bench.post(f"/cloths/pieces/{one.pk}/drop/")
    assert refused.status_code == 422
    assert "no job is laid on" in refused.content.decode()


def test_the_whole_end_of_a_roll_goes_into_the_store_and_a_next_lay_is_cut_from_it(bench, seats, skerry):
    Cloth.objects.filter(pk=skerry.pk).update(sold_by="whole")
    run = start_lay(fresh(seats))
    page = bench.get(address(seats, "cut-sheet/")).content.decode()
    assert "the whole end" in page
    bench.post(address(seats, "cut-sheet/left-over/"), {"keep": re.findall(r'name="keep" value="(\d+)"', page)})
    end = max(Remnant.objects.all(), key=lambda r: r.shape().area)
    bought = 2000 if run.best_length + 200 <= 2000 else 1000 * -(-(run.best_length + 200) // 1000)
    assert end.shape().width == pytest.approx(bought - 100 - run.best_length, abs=3)
    assert end.shape().height == pytest.approx(skerry.width, abs=0.2)
    assert end.came_from == seats.job
    assert "is in the" in bench.get(address(seats, "cut-sheet/")).content.decode()
    small = another_tag(skerry, count=1)
    bench.post(address(small, "from/store/"), {"remnant": [end.pk]})
    again = start_lay(fresh(small))
    assert wrong_with(again.asked(), again.lay()) == []
    assert again.lay().on_panels


def test_a_hide_is_cut_from_what_was_chosen_and_costs_its_area(bench, seats):
    hide = Cloth.objects.create(
        name="Marsh hide", width=1800, selvage=0, direction="any", price=Decimal("80"), is_hide=True
    )
    JobCloth.objects.filter(pk=seats.pk).update(cloth=hide)
    refused = bench.post(address(seats, "start/"))
    assert refused.status_code == 422
    assert "hides chosen from the store" in refused.content.decode()
    outline = [[0, 300], [400, 0], [1800, 50], [2200, 900], [1700, 1700], [300, 1500]]
    row = Remnant.objects.create(cloth=hide, kind="hide", outline=outline, flaws=[[[900, 800], [960, 800], [960, 860]]])
    bench.post(address(seats, "from/store/"), {"remnant": [row.pk]})
    run = start_lay(fresh(seats))
    assert wrong_with(run.asked(), run.lay()) == []
    assert all(p.priority for p in run.asked().pieces), "the best of the hide on the seat"
    cost = cloth_standing(fresh(seats)).cost
    assert cost == pytest.approx(Decimal(80) * Decimal(row.shape().area / 1e6), abs=Decimal("0.02"))
    assert f"{cost:,.2f}" in bench.get(address(seats)).content.decode()


def test_a_remnant_is_traced_from_its_photo_on_the_mat(bench, skerry):
    content, _ = photographed(Shot("inside back", "plain teal", "kraft paper", tilt=8, width=1600), Mat(1200, 800))
    sent = {"kind": "remnant", "width": "120", "height": "80", "turns": "1", "words": "odd one"}
    answer = bench.post(
        f"/cloths/{skerry.pk}/pieces/photo/", sent | {"photo": SimpleUploadedFile("r.jpg", content, "image/jpeg")}
    )
    assert answer.status_code == 302
    row = Remnant.objects.get()
    assert answer["Location"] == f"/cloths/pieces/{row.pk}/outline/", "to see at once whether the edge is right"
    x0, y0, _, _ = row.shape().bounds
    assert (x0, y0) == pytest.approx((0, 0), abs=0.1)
    upright = bench.post(
        f"/cloths/{skerry.pk}/pieces/photo/",
        sent | {"turns": "0", "photo": SimpleUploadedFile("r.jpg", content, "image/jpeg")},
    )
    assert upright.status_code == 302
    other = Remnant.objects.last().shape()
    assert (other.width, other.height) == pytest.approx((row.shape().height, row.shape().width), abs=0.2), (
        "a quarter turn apart"
    )
    for photo in (None, SimpleUploadedFile("r.jpg", b"no photo", "image/jpeg")):
        refused = bench.post(f"/cloths/{skerry.pk}/pieces/photo/", sent | ({"photo": photo} if photo else {}))
        assert refused.status_code == 422
        assert "Nothing was stored" in refused.content.decode()
    assert Remnant.objects.count() == 2


@pytest.mark.parametrize("turns", ["0", "1", "2", "3"])
def test_a_traced_remnant_is_mended_over_its_photo_and_its_flaws_stay_where_they_are(bench, skerry, turns):
    content, _ = photographed(Shot("inside back", "plain teal", "kraft paper", tilt=8, width=1600), Mat(1200, 800))
    sent = {
        "kind": "remnant",
        "width": "120",
        "height": "80",
        "turns": turns,
        "photo": SimpleUploadedFile("r.jpg", content, "image/jpeg"),
    }
    bench.post(f"/cloths/{skerry.pk}/pieces/photo/", sent)
    photo = RemnantPhoto.objects.get()
    row, home = photo.remnant, f"/cloths/pieces/{photo.remnant_id}/"
    flat = Image.open(io.BytesIO(b"".join(bench.get(home + "photo.jpg").streaming_content)))
    assert flat.size == (photo.width, photo.height)
    page = bench.get(home + "outline/").content.decode()
    points = json.loads(re.search(r'id="traced-points"[^>]*>(.*?)</script>', page).group(1))
    assert photo.on_cloth(points).polygon.symmetric_difference(row.shape().polygon).area < 1
    middle = np.mean(points, axis=0)
    ground, cloth = (np.array(flat.getpixel((int(x), int(y)))) for x, y in ((5, 5), middle))
    assert np.abs(ground.astype(int) - cloth).sum() > 60, "the outline lies on the cloth in the picture"
    bench.post(home + "mark/", {"from_end": "20 cm", "from_left": "15 cm", "along": "50 mm", "across": "40 mm"})
    flaw = Remnant.objects.get().marks()[0]
    seen = np.array(photo.in_picture(flaw))
    pulled = [[x + (x - middle[0]) * 0.1, y + (y - middle[1]) * 0.1] for x, y in points]
    told = {"points": json.dumps([[x, -y] for x, y in pulled])}
    assert bench.post(home + "outline/keep/", told | {"only_mend": "1"}).status_code == 204
    photo.refresh_from_db()
    mended = Remnant.objects.get()
    assert mended.shape().area == pytest.approx(1.21 * row.shape().area, rel=0.002)
    assert mended.shape().bounds[:2] == pytest.approx((0, 0), abs=0.06)
    again = np.array(photo.in_picture(mended.marks()[0]))
    assert np.abs(again - seen).max() < 0.2, "the flaw stays on the same spot of the cloth"
    tidy = bench.post(home + "outline/tidy/", told)
    assert len(tidy.json()["points"]) >= 3
    assert bench.get(home).content.decode().count("photo.jpg") == 1, (
        "the photo lies under the drawing that flaws are marked on"
    )
    crossing = json.dumps([[0, 0], [300, -300], [300, 0], [0, -300]])
    assert bench.post(home + "outline/keep/", {"points": crossing}).status_code == 422
    Remnant.objects.update(used_at=timezone.now())
    assert "not cut yet" in bench.post(home + "outline/keep/", told).content.decode()
    assert Remnant.objects.get().outline == mended.outline


def test_two_tags_are_laid_in_one_lay_and_each_carries_its_share(bench, seats, skerry):
    other = another_tag(skerry)
    page = bench.get(address(seats, "from/")).content.decode()
    assert f"<b>{other.job.number}</b> Footstools" in page
    bench.post(address(seats, "from/tags/"), {"other": [other.pk]})
    run = start_lay(fresh(seats), seconds=0.4)
    tasks.search_for_lay.func(run.pk)
    run.refresh_from_db()
    guest = f"t{other.job.number}-seat"
    assert {p.id: p.count for p in run.asked().pieces} == {"seat": 4, guest: 2}
    assert wrong_with(run.asked(), run.lay()) == []
    mine, theirs = (cloth_standing(fresh(c)) for c in (seats, other))
    whole = best_run(fresh(seats))
    from zonatome.web.lay.services import purchase_of

    assert mine.cost + theirs.cost == purchase_of(fresh(seats), whole.best_length).cost
    areas = {p.id: p.outline.area * p.count for p in run.asked().pieces}
    assert float(theirs.cost / (mine.cost + theirs.cost)) == pytest.approx(
        areas[guest] / sum(areas.values()), abs=0.002
    )
    assert best_run(fresh(other)).pk == run.pk
    page = bench.get(address(other)).content.decode()
    assert "Laid together with tag" in page
    assert f"{other.job.number} seat 1" in page
    set_tick(run, f"{guest}.1", is_cut=True, is_strip=False)
    assert [cloth_standing(fresh(c)).cut for c in (seats, other)] == [0, 1]
    assert bench.post(address(other, "alone/")).status_code == 302
    assert fresh(other).laid_with_id == seats.pk, "a piece of the lay is cut already"
    CutTick.objects.all().delete()
    part = load_job(other.job.number).parts_by_key()["seat"]
    keep_shape(part, shape_by_tape(part, "rectangle", {"width": 430, "height": 380}), "rectangle")
    assert cloth_standing(fresh(seats)).is_stale, "a shape of the other tag has changed under it"
    bench.post(address(other, "alone/"))
    assert fresh(other).laid_with is None
    assert [p.id for p in request_for(fresh(seats)).pieces] == ["seat"]
    start = bench.post(address(other, "start/"))
    assert (start.status_code, best_run(fresh(other)).job_cloth_id) == (302, other.pk)


def test_the_easy_lay_stands_beside_the_tight_one_and_can_be_cut_instead(bench, seats):
    run = start_lay(seats, seconds=0.4)
    page = bench.get(address(seats)).content.decode()
    assert "Easy to cut, beside it" not in page, "as long as the rows are the lay"
    shorter = json.loads(json.dumps(run.best)) | {"method": "nest"}
    LayRun.objects.filter(pk=run.pk).update(
        state="done", best=shorter, best_length=run.best_length - 5, rank=run.rank - 5
    )
    page = bench.get(address(seats)).content.decode()
    assert "Easy to cut, beside it" in page
    assert 'id="cloth-tile' not in page
    assert bench.post(address(seats, "easy/")).status_code == 302
    stands = best_run(fresh(seats))
    assert (stands.is_chosen, stands.best_length) == (True, run.best_length)
    assert wanted_fingerprint(fresh(seats)) == stands.fingerprint
    again = start_lay(fresh(seats))
    assert best_run(fresh(seats)).pk == run.pk, "laid again, the shortest stands"
    assert not LayRun.objects.filter(job_cloth=seats, is_chosen=True).exists()
    assert again.fingerprint == run.fingerprint


def test_the_sheet_s_files_say_the_same_as_the_page(bench, seats):
    start_lay(seats)
    page = bench.get(address(seats, "cut-sheet/")).content.decode()
    assert "All there: 4 of 4 pieces are laid" in page
    rows = list(csv.DictReader(io.StringIO(bench.get(address(seats, "cut-sheet.csv")).content.decode())))
    assert {r["piece"] for r in rows if r["kind"] == "piece"} == {f"Seat {n}" for n in range(1, 5)}
    drawn = ezdxf.read(io.StringIO(bench.get(address(seats, "lay.dxf")).content.decode()))
    assert len([e for e in drawn.modelspace() if e.dxf.layer == "CUT"]) == 4
    assert bench.get(address(seats, "wall-sheet.pdf")).content.startswith(b"%PDF")


# --- how the cloth is drawn


def a_photo(size=(400, 300), colour=(90, 120, 110)) -> SimpleUploadedFile:
    out = io.BytesIO()
    Image.new("RGB", size, colour).save(out, "PNG")
    return SimpleUploadedFile("cloth.png", out.getvalue(), "image/png")


def test_the_cloth_in_place_and_a_photo_as_its_drawing(bench, seats, skerry):
    Cloth.objects.filter(pk=skerry.pk).update(
        pattern="half_drop", repeat_along=300, repeat_across=260, first_along=100, first_across=130
    )
    start_lay(fresh(seats))
    page = bench.get(address(seats, "seen/")).content.decode()
    assert page.count("patternTransform") == 1, "one panel of this cloth"
    assert "cloth-figure" in page
    assert bench.get(address(seats, "seen/?piece=3")).status_code == 200
    assert bench.get(address(seats, "seen/?piece=99999999")).status_code == 200
    box = {"left": "25", "right": "75", "upper": "0", "lower": "50"}
    assert bench.post(f"/cloths/{skerry.pk}/drawing/", box | {"photo": a_photo()}).status_code == 302
    sent = bench.get(f"/cloths/{skerry.pk}/drawing.jpg")
    assert Image.open(io.BytesIO(b"".join(sent.streaming_content))).size == (200, 150)
    page = bench.get(address(seats)).content.decode()
    assert page.count(f'<image href="/cloths/{skerry.pk}/drawing.jpg"') == 3, (
        "one motif, and two halves of the dropped ones"
    )
    for wrong in ({"photo": a_photo(), "left": "75", "right": "75"}, {}, {"photo": SimpleUploadedFile("x.png", b"x")}):
        assert bench.post(f"/cloths/{skerry.pk}/drawing/", box | wrong).status_code == 422
    bench.post(f"/cloths/{skerry.pk}/drawing/", {"take_back": "1"})
    assert bench.get(f"/cloths/{skerry.pk}/drawing.jpg").status_code == 404


def test_a_cloth_s_price_breaks_and_least_cut_are_entered_and_count(bench, seats, skerry):
    page = bench.get(f"/cloths/{skerry.pk}/").content.decode()
    names = re.findall(r'<(?:input|select)[^>]* name="([a-z_0-9]+)"', page)
    assert {"least", "break_1_from", "lot", "stretch", "is_hide"} <= set(names)
    told = {
        "name": "Skerry",
        "width": "140",
        "selvage": "12",
        "thickness": "1.1",
        "direction": "two_way",
        "pattern": "plain",
        "price": "34.50",
        "sold_in": "m",
        "sold_by": "half",
        "least": "5",
        "lot": "S-1",
        "stretch": "",
        "may_railroad": "on",
        "break_1_from": "6 m",
        "break_1_price": "20",
    }
    assert bench.post(f"/cloths/{skerry.pk}/", told | {"break_2_from": "9 m"}).status_code == 422
    assert bench.post(f"/cloths/{skerry.pk}/", told).status_code == 302
    skerry.refresh_from_db()
    assert (skerry.least, skerry.breaks, skerry.lot) == (5000, [[6000, 20.0]], "S-1")
    start_lay(fresh(seats))
    page = bench.get(address(seats)).content.decode()
    assert "5.00 m" in page
    assert "least cut" in page
    assert "6.00 m costs" in page, "120 at the break, 172.50 without"
    skerry.may_railroad = False
    skerry.save()
    JobCloth.objects.filter(pk=seats.pk).update(railroaded=True)
    with pytest.raises(BadInput, match="may not be railroaded"):
        request_for(fresh(seats))
    skerry.may_railroad, skerry.pattern, skerry.repeat_across = True, "stripe", 90
    skerry.save()
    turns = {p.turns for p in request_for(fresh(seats)).pieces}
    assert turns == {(90.0, 270.0)}, "a stripe lies sideways for the whole piece of furniture, and then all of it"
    skerry.direction = "any"
    skerry.save()
    JobCloth.objects.filter(pk=seats.pk).update(railroaded=False, any_angle=True)
    assert {p.turns for p in request_for(fresh(seats)).pieces} == {(0.0, 180.0)}, (
        "on a stripe nothing turns a quarter alone"
    )
    skerry.pattern = "plain"
    skerry.save()
    assert {p.turns for p in request_for(fresh(seats)).pieces} == {None}, "vinyl at any angle, when asked"


# --- the seller


ASKED_ON = date(2026, 11, 26)


class Quiet(WSGIRequestHandler):
    def log_message(self, *_):
        return None


@pytest.fixture
def counter(settings, tmp_path):
    """The seller's stand-in, answering over HTTP."""
    seller = Seller(tmp_path / "seller.json", today=lambda: ASKED_ON)
    server = make_server("127.0.0.1", 0, service(seller), handler_class=Quiet)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    settings.SELLER = f"http://127.0.0.1:{server.server_port}"
    yield seller
    server.shutdown()
    server.server_close()


@pytest.fixture
def of_the_seller(seats, skerry) -> JobCloth:
    """The stools on a cloth that the seller knows."""
    Cloth.objects.filter(pk=skerry.pk).update(
        name="Bollard, vinyl", sold_by="half", price=Decimal("27.80"), thickness=1.2
    )
    start_lay(fresh(seats))
    return fresh(seats)


def test_the_seller_is_asked_an_order_placed_and_the_tag_waits_for_it(bench, counter, of_the_seller, clock):
    clock(ASKED_ON)
    page = bench.get(address(of_the_seller, "buy/")).content.decode()
    assert "Lot <b>B-3</b> holds" in page
    assert "rule of thumb" in page
    before = counter.stock["Bollard, vinyl"]["lots"]["B-3"]
    assert bench.post(address(of_the_seller, "buy/order/"), {"lot": "B-3"}).status_code == 302
    order = ClothOrder.objects.get()
    assert counter.stock["Bollard, vinyl"]["lots"]["B-3"] == before - order.length
    assert (order.lot, order.arrives) == ("B-3", date(2026, 11, 28))
    assert Cloth.objects.get(pk=of_the_seller.cloth_id).lot == "B-3"
    waits = Wait.objects.filter(job=of_the_seller.job)
    assert [w.words for w in waits] == ["Bollard, vinyl on order"]
    assert order.number in bench.get(address(of_the_seller, "buy/")).content.decode()
    assert bench.post(address(of_the_seller, "buy/terms/")).status_code == 302
    assert Cloth.objects.get(pk=of_the_seller.cloth_id).breaks == [[5000.0, 25.2], [15000.0, 22.4]]


@pytest.mark.parametrize(
    ("answer", "slow"),
    [
        pytest.param(b"HTTP/1.1 abc\r\n\r\n", 0, id="a status that is none"),
        pytest.param(b"\x00\xff" * 300, 0, id="bytes"),
        pytest.param(b"HTTP/1.1 302 Found\r\nLocation: http://127.0.0.1:1/\r\n\r\n", 0, id="sent elsewhere"),
        pytest.param(b"HTTP/1.1 200 OK\r\nContent-Length: 2\r\n\r\n[]", 0, id="another JSON"),
        pytest.param(b"HTTP/1.1 200 OK\r\nContent-Length: 90\r\n\r\n{", 0, id="less than it says"),
        pytest.param(b"HTTP/1.1 200 OK\r\n" + b"a: b\r\n" * 400, 0, id="headers without end"),
        pytest.param(b"HTTP/1.1 200 OK\r\nContent-Length: 2\r\n\r\n{}", 0.3, id="a byte at a time"),
    ],
)
def test_a_seller_that_answers_anything_at_all_is_said_in_words(settings, monkeypatch, answer, slow):
    monkeypatch.setattr(seller, "PATIENCE", 1.0)
    with socket.create_server(("127.0.0.1", 0)) as listening:

        def speak():
            with contextlib.suppress(OSError):
                speaking, _ = listening.accept()
                with speaking:
                    speaking.recv(4000)
                    for k in range(0, len(answer), 1 if slow else len(answer)):
                        speaking.sendall(answer[k : k + 1] if slow else answer)
                        time.sleep(slow)

        threading.Thread(target=speak, daemon=True).start()
        begun = time.monotonic()
        with pytest.raises(NoAnswer, match="The seller"):
            seller.HttpSeller(f"http://127.0.0.1:{listening.getsockname()[1]}").offer("Skerry")
        assert time.monotonic() - begun < 10, "a slow one does not hold the page"


def test_cloth_that_has_come_is_measured_waited_for_no_longer_and_counts_at_the_left_overs(
    bench, counter, of_the_seller
):
    bench.post(address(of_the_seller, "buy/order/"), {"lot": "B-3"})
    order = ClothOrder.objects.get()
    ClothOrder.objects.filter(pk=order.pk).update(arrives=timezone.localdate() + timedelta(days=9))
    Wait.objects.filter(job=of_the_seller.job).delete()
    Wait.objects.create(
        job=of_the_seller.job, step="lay", words="Bollard, vinyl on order", until=timezone.now() + timedelta(days=9)
    )
    here = f"buy/came/{order.pk}/"
    refused = bench.post(address(of_the_seller, here), {"came": "a good bit"})
    assert refused.status_code == 422
    assert "a good bit" in refused.content.decode()
    assert Wait.objects.get().until > timezone.now()
    laid = best_run(of_the_seller).best_length
    bench.post(address(of_the_seller, here), {"came": f"{laid - 300} mm"})
    assert Wait.objects.get().until <= timezone.now()
    page = bench.get(address(of_the_seller, "buy/")).content.decode()
    assert "too short" in page
    assert "It has come" not in page
    assert bench.post(address(of_the_seller, here), {"came": "9 m"}).status_code == 404, "once"
    ClothOrder.objects.filter(pk=order.pk).update(came_length=laid + of_the_seller.squaring + 700)
    assert "too short" not in bench.get(address(of_the_seller, "buy/")).content.decode()
    run = best_run(fresh(of_the_seller))
    rest = rest_of(run, run.asked(), run.lay())
    assert max(r.outline.bounds[2] for r in rest) >= 690, "what came longer is left over longer"


def test_what_has_run_out_meanwhile_is_not_ordered(bench, counter, of_the_seller):
    counter.stock["Bollard, vinyl"]["lots"] = {"B-3": 900.0, "B-4": 800.0}
    page = bench.get(address(of_the_seller, "buy/")).content.decode()
    assert "No lot holds" in page or "has not enough" in page
    for lot in ("B-3", "nowhere", ""):
        refused = bench.post(address(of_the_seller, "buy/order/"), {"lot": lot})
        assert refused.status_code == 422
        assert "Nothing is ordered" in refused.content.decode()
    assert not ClothOrder.objects.exists()
    assert not Wait.objects.exists()


def test_two_lengths_of_two_lots_are_ordered_come_and_are_laid_on(bench, counter, of_the_seller):
    laid = best_run(of_the_seller).best_length
    counter.stock["Bollard, vinyl"]["lots"] = {"B-3": 0.7 * laid, "B-4": 0.8 * laid}
    page = bench.get(address(of_the_seller, "buy/")).content.decode()
    assert "two lots are two dyes" in page
    assert page.count("Order that much") == 2
    for wrong, words in (("a bit", "a bit"), ("90 m", "Nothing is ordered")):
        refused = bench.post(address(of_the_seller, "buy/order/"), {"lot": "B-3", "length": wrong})
        assert refused.status_code == 422
        assert words in refused.content.decode()
    for lot, share in (("B-3", 0.7), ("B-4", 0.8)):
        counter.stock["Bollard, vinyl"]["lots"][lot] = share * laid  # it sells between two looks
        assert (
            bench.post(
                address(of_the_seller, "buy/order/"), {"lot": lot, "length": f"{share * laid - 1:.0f} mm"}
            ).status_code
            == 302
        )
    orders = list(ClothOrder.objects.order_by("id"))
    assert [o.lot for o in orders] == ["B-3", "B-4"]
    assert bench.post(address(of_the_seller, "buy/lay-on-it/")).status_code == 404, "nothing has come"
    for order in orders:
        bench.post(address(of_the_seller, f"buy/came/{order.pk}/"), {"came": f"{order.length:.0f} mm"})
    page = bench.get(address(of_the_seller, "buy/")).content.decode()
    assert "several lengths" in page
    assert "Lay on what has come" in page
    assert bench.post(address(of_the_seller, "buy/lay-on-it/")).status_code == 302
    there = list(fresh(of_the_seller).from_store.order_by("id"))
    assert [r.shape().width for r in there] == pytest.approx([o.length - of_the_seller.squaring for o in orders], abs=1)
    run = fresh(of_the_seller).runs.order_by("-id")[0]
    asked, lay = run.asked(), run.lay()
    assert len(asked.cloth.outlines) == 2
    assert wrong_with(asked, lay) == []
    assert {p.panel for p in lay.placements} == {0, 1}
    assert bench.get(address(of_the_seller)).status_code == 200
    bench.post(address(of_the_seller, "from/store/"))
    start_lay(fresh(of_the_seller))
    bench.post(address(of_the_seller, "buy/lay-on-it/"))
    assert list(fresh(of_the_seller).from_store.order_by("id")) == there, "the same lengths, there once"


def test_what_came_too_short_to_be_squared_is_refused_and_of_a_pattern_it_is_asked_where_the_motif_stands(
    bench, counter, of_the_seller
):
    bench.post(address(of_the_seller, "buy/order/"), {"lot": "B-3"})
    order = ClothOrder.objects.get()
    bench.post(address(of_the_seller, f"buy/came/{order.pk}/"), {"came": "60 mm"})
    refused = bench.post(address(of_the_seller, "buy/lay-on-it/"))
    assert refused.status_code == 422
    assert "squaring takes" in refused.content.decode()
    assert not Remnant.objects.exists()
    Cloth.objects.filter(pk=of_the_seller.cloth_id).update(pattern="check", repeat_along=200, repeat_across=150)
    order.came_length = 3000
    order.save()
    asks = bench.post(address(of_the_seller, "buy/lay-on-it/"))
    length = Remnant.objects.get()
    assert asks["Location"] == f"/cloths/pieces/{length.pk}/#motif"
    assert list(fresh(of_the_seller).from_store.all()) == [length]
    assert not fresh(of_the_seller).runs.exists() or not fresh(of_the_seller).runs.order_by("-id")[0].on_panels, (
        "nothing is laid on a guess"
    )
    assert bench.post(f"/cloths/pieces/{length.pk}/motif/", {"from_end": "12", "from_upper": "30"}).status_code == 302
    assert bench.post(address(of_the_seller, "buy/lay-on-it/"))["Location"] == address(of_the_seller)
    run = fresh(of_the_seller).runs.order_by("-id")[0]
    assert run.asked().cloth.repeats
    assert wrong_with(run.asked(), run.lay()) == []


def test_a_sample_that_is_thicker_than_said_is_told_and_reckoned_with(bench, counter, of_the_seller):
    bench.post(address(of_the_seller, "buy/sample/"))
    page = bench.get(address(of_the_seller, "buy/")).content.decode()
    assert "Thicker than said" in page
    bench.post(address(of_the_seller, "buy/sample/"), {"reckon": "1"})
    cloth = Cloth.objects.get(pk=of_the_seller.cloth_id)
    assert cloth.thickness == cloth.sample_thickness == pytest.approx(1.49, abs=0.01)


def test_a_seller_that_is_silent_strange_or_unset_leaves_the_page_standing(bench, of_the_seller, settings):
    def strange(environ, start_response):
        start_response("200 OK", [("Content-Type", "application/json")])
        return [answer]

    server = make_server("127.0.0.1", 0, strange, handler_class=Quiet)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    good = {
        "price": "1",
        "sold_in": "m",
        "sold_by": "half",
        "lots": [],
        "breaks": [],
        "thickness": 1,
        "lead_days": 2,
        "least": 0,
    }
    wrong = [
        {"price": "dear"},
        {"sold_in": "ell"},
        {"lots": [{"lot": "a"}]},
        {"lots": "many"},
        {"breaks": [[1]]},
        {"lead_days": "soon"},
        {"thickness": -1},
    ]
    settings.SELLER = f"http://127.0.0.1:{server.server_port}"
    for answer in (b"<html>", b"[]", *(json.dumps(good | w).encode() for w in wrong)):
        page = bench.get(address(of_the_seller, "buy/"))
        assert page.status_code == 200
        assert "cannot be read" in page.content.decode(), answer
        with pytest.raises(NoAnswer):
            HttpSeller(settings.SELLER).order("x", "y", 1000)
        with pytest.raises(NoAnswer):
            HttpSeller(settings.SELLER).sample("x")
    answer = json.dumps(good).encode()
    assert "Nothing in stock" in bench.get(address(of_the_seller, "buy/")).content.decode()
    server.shutdown()
    server.server_close()
    assert "does not answer" in bench.get(address(of_the_seller, "buy/")).content.decode()
    settings.SELLER = ""
    assert "No seller is set" in bench.get(address(of_the_seller, "buy/")).content.decode()
    assert bench.post(address(of_the_seller, "buy/order/"), {"lot": "B-3"}).status_code == 404


def test_the_stand_in_keeps_its_stock_refuses_nonsense_and_has_other_customers(tmp_path):
    place = tmp_path / "stock" / "seller.json"
    seller = Seller(place)
    lot, begun = "B-3", first_stock()["Bollard, vinyl"]["lots"]["B-3"]
    assert seller.order("Bollard, vinyl", lot, 3000)[0] == 200
    again = Seller(place)
    assert again.stock["Bollard, vinyl"]["lots"][lot] == begun - 3000, "the same after a restart"
    for _ in range(EVERY):
        again.offer("Bollard, vinyl")
    assert again.stock["Bollard, vinyl"]["lots"][lot] < begun - 3000
    assert again.order("Bollard, vinyl", lot, 1e9)[0] == 422
    assert again.order("Bollard, vinyl", lot, 900_000)[0] == 409
    assert again.order("Sailcloth", lot, 10)[0] == 404
    said: list[str] = []
    answer = service(again)
    for path, method, body in (
        ("/orders", "POST", b"{"),
        ("/orders", "POST", b"[]"),
        ("/orders", "POST", b'{"name": "a", "lot": "b", "length": "c"}'),
        ("/offers", "POST", b""),
        ("/elsewhere", "GET", b""),
        ("/samples", "POST", b'{"name": "Sailcloth"}'),
    ):
        environ = {
            "PATH_INFO": path,
            "REQUEST_METHOD": method,
            "CONTENT_LENGTH": str(len(body)),
            "wsgi.input": io.BytesIO(body),
        }
        content = b"".join(answer(environ, lambda status, headers: said.append(status)))
        assert json.loads(content)["words"]
    assert [int(s[:3]) for s in said] == [422, 422, 422, 405, 404, 404]


def test_the_chart_counts_only_what_is_of_this_cloth(bench, seats, skerry):
    whole = chart_for(fresh(seats))
    assert whole == 3500, "four stools at 0.8 m, on cloth a little wider than the chart's, up to the half metre"
    other = another_tag(skerry)
    bench.post(address(seats, "from/tags/"), {"other": [other.pk]})
    assert chart_for(fresh(seats)) == whole + 2000


def test_flaws_blocks_and_price_breaks_go_along_with_a_tag_and_wrong_ones_are_refused(bench, seats, skerry):
    Cloth.objects.filter(pk=skerry.pk).update(breaks=[[6000, 20.0]], least=2000)
    bench.post(address(seats, "from/flaws/"), FLAW)
    bench.post(address(seats, "from/held/"), {"words": "the cushion", "along": "50", "across": "45", "count": "1"})
    run = start_lay(fresh(seats))
    content = job_zip(seats.job.number)
    Cloth.objects.filter(pk=skerry.pk).update(name="Another")
    brought = job_from_zip(io.BytesIO(content)).cloths.get()
    assert brought.roll_flaws() == fresh(seats).roll_flaws()
    assert brought.held_blocks() == fresh(seats).held_blocks()
    assert brought.cloth.price_breaks() == Cloth(breaks=[[6000, 20.0]]).price_breaks()
    carried = best_run(fresh(brought))
    assert (carried.rank, carried.best_length, carried.row_lay) == (
        pytest.approx(run.best_length, abs=0.001),
        run.best_length,
        None,
    )
    assert bench.get(address(brought)).status_code == 200
    count = LayRun.objects.count()
    document, files = read_job_zip(io.BytesIO(content))
    for place, key, value in (
        ("cloths", "flaws", [[[0, 0], [1, 1]]]),
        ("cloths", "held", [{"words": "x", "along": -5}]),
        ("cloth", "breaks", [["far", 1]]),
    ):
        spoilt = json.loads(json.dumps(document))
        row = spoilt["cloths"][0] if place == "cloths" else spoilt["cloths"][0]["cloth"]
        row[key] = value
        with pytest.raises(BadInput):
            job_from_zip(io.BytesIO(write_job_zip(spoilt, files)))
    assert LayRun.objects.count() == count


def test_remnants_and_the_tag_it_is_laid_with_go_along_and_no_remnant_is_there_twice(bench, seats, skerry):
    square = [[0, 0], [900, 0], [900, 700], [0, 700]]
    piece = Remnant.objects.create(cloth=skerry, outline=square, words="from the window bench")
    seats.from_store.set([piece])
    content = job_zip(seats.job.number)
    beside = job_from_zip(io.BytesIO(content)).cloths.get()
    assert list(beside.from_store.all()) == [], "the remnant lies in the store once, and the first tag has it"
    seats.from_store.clear()
    again = job_from_zip(io.BytesIO(content)).cloths.get()
    assert list(again.from_store.all()) == [piece]
    Cloth.objects.filter(pk=skerry.pk).update(name="Another")
    elsewhere = job_from_zip(io.BytesIO(content)).cloths.get()
    assert elsewhere.from_store.get().shape() == piece.shape()
    assert elsewhere.from_store.get().cloth == elsewhere.cloth != skerry
    guest = another_tag(skerry)
    guest.laid_with = seats
    guest.save()
    carried = job_zip(guest.job.number)
    assert job_from_zip(io.BytesIO(carried)).cloths.get().laid_with == seats
    document, files = read_job_zip(io.BytesIO(carried))
    for key, value in (("laid_with", "x"), ("from_store", [{"outline": [[0, 0], [1, 1]]}])):
        spoilt = json.loads(json.dumps(document))
        spoilt["cloths"][0][key] = value
        count = Job.objects.count()
        with pytest.raises(BadInput, match=key):
            job_from_zip(io.BytesIO(write_job_zip(spoilt, files)))
        assert Job.objects.count() == count


def test_photos_of_cloth_and_remnant_go_along_and_a_refused_job_leaves_no_file(bench, seats, skerry, settings):
    def stored():
        return {p for p in Path(settings.MEDIA_ROOT).rglob("*") if p.is_file()}

    content, _ = photographed(Shot("inside back", "plain teal", "kraft paper", width=1200), Mat(1200, 800))
    sent = {
        "kind": "remnant",
        "width": "120",
        "height": "80",
        "turns": "1",
        "photo": SimpleUploadedFile("r.jpg", content, "image/jpeg"),
    }
    bench.post(f"/cloths/{skerry.pk}/pieces/photo/", sent)
    mine = RemnantPhoto.objects.get()
    seats.from_store.set([mine.remnant])
    repeat = cv2.imencode(".jpg", photo_of("check", 150, 120, scale=1.2, first=(40, 30)))[1].tobytes()
    skerry.tile_photo.save("tile.jpg", ContentFile(repeat))
    carried = job_zip(seats.job.number)
    Cloth.objects.filter(pk=skerry.pk).update(name="Another")
    before = stored()
    document, files = read_job_zip(io.BytesIO(carried))
    pictures = [n for n in files if n.startswith("cloths/")]
    assert len(pictures) == 2
    for wrong in ({**files, pictures[1]: b"no photo"}, {n: f for n, f in files.items() if n not in pictures}):
        with pytest.raises(BadInput):
            job_from_zip(io.BytesIO(write_job_zip(document, wrong)))
    late = json.loads(json.dumps(document))
    late["lays"] = [{"request_file": "none.json"}]
    with pytest.raises(BadInput, match="lays"):
        job_from_zip(io.BytesIO(write_job_zip(late, files)))
    assert stored() == before, "what had been stored before the refusal is gone again"
    brought = job_from_zip(io.BytesIO(carried)).cloths.get()
    theirs = brought.from_store.get().photo
    assert theirs.pk != mine.pk
    assert Path(theirs.file.path).read_bytes() == Path(mine.file.path).read_bytes()
    assert theirs.in_picture(brought.from_store.get().shape()) == mine.in_picture(mine.remnant.shape())
    assert Path(brought.cloth.tile_photo.path).read_bytes() == repeat


def test_the_repeat_in_a_photo_is_found_on_asking_and_nothing_is_stored(bench, skerry):
    Cloth.objects.filter(pk=skerry.pk).update(pattern="check", repeat_along=150, repeat_across=120)
    place, photo = f"/cloths/{skerry.pk}/drawing/find/", photo_of("check", 150, 120, scale=1.2, first=(40, 30))
    told = bench.post(place, {"photo": SimpleUploadedFile("c.jpg", cv2.imencode(".jpg", photo)[1].tobytes())}).json()
    box = told["box"]
    assert (box["right"] - box["left"]) * WIDE / 1.2 == pytest.approx(120, rel=0.02)
    assert (box["lower"] - box["upper"]) * HIGH / 1.2 == pytest.approx(150, rel=0.02)
    assert "like itself" in told["words"]
    grain = np.random.default_rng(1).integers(0, 255, (500, 500, 3)).astype(np.uint8)
    none = bench.post(place, {"photo": SimpleUploadedFile("c.png", cv2.imencode(".png", grain)[1].tobytes())}).json()
    assert "box" not in none
    assert "by hand" in none["words"]
    for wrong in ({}, {"photo": SimpleUploadedFile("c.jpg", b"no photo")}):
        refused = bench.post(place, wrong)
        assert refused.status_code == 422
        assert "JPEG or PNG" in refused.json()["words"]
    sent = {side: f"{100 * share:.3f}" for side, share in box.items()}
    seen = bench.post(
        f"/cloths/{skerry.pk}/drawing/see/",
        sent | {"photo": SimpleUploadedFile("c.png", cv2.imencode(".png", photo)[1].tobytes())},
    )
    cell = np.asarray(Image.open(io.BytesIO(seen.content))).astype(float)
    assert cell.shape == pytest.approx((150 * 1.2, 120 * 1.2, 3), abs=2)
    assert np.abs(cell[:, :3].mean(axis=(0, 1)) - cell[:, -3:].mean(axis=(0, 1))).max() < 3, (
        "lit from one side, and no join is seen"
    )
    for wrong in ({"left": "x"}, {"left": "50", "right": "50"}, {"photo": SimpleUploadedFile("c.jpg", b"no photo")}):
        refused = bench.post(f"/cloths/{skerry.pk}/drawing/see/", sent | {"photo": a_photo()} | wrong)
        assert refused.status_code == 422
        assert refused.json()["words"].startswith(("Expected ", "Choose a photo", "This is no photo"))
    assert not Cloth.objects.get(pk=skerry.pk).tile_photo


def test_the_store_takes_a_cloth_and_lets_go_only_what_nobody_is_laid_on(bench, seats, skerry):
    count = Cloth.objects.count()
    good = {
        "name": "Sedge",
        "width": "137",
        "selvage": "10 mm",
        "thickness": "1.4",
        "direction": "any",
        "pattern": "plain",
        "price": "22",
        "sold_in": "m",
        "sold_by": "tenth",
    }
    for wrong, words in (
        ({"width": "as wide as a door"}, "as wide as a door"),
        ({"price": "-1"}, "0"),
        ({"name": ""}, "required"),
    ):
        refused = bench.post("/cloths/", good | wrong)
        assert refused.status_code == 422
        assert words in refused.content.decode()
    assert Cloth.objects.count() == count
    assert bench.post("/cloths/", good).status_code == 302
    sedge = Cloth.objects.get(name="Sedge")
    assert f"/cloths/{sedge.pk}/" in bench.get("/cloths/").content.decode()
    bench.post(
        f"/cloths/{sedge.pk}/pieces/",
        {"kind": "length", "along": "2.2 m", "across": "130 cm", "words": "behind the door"},
    )
    row = Remnant.objects.get()
    assert row.shape().bounds == pytest.approx((0, 0, 2200, 1300))
    for wrong in (
        {"from_end": "20 cm", "from_left": "9 m"},
        {"from_end": "", "from_left": "1 cm"},
        {"take_back": "7"},
        {"take_back": "x"},
    ):
        refused = bench.post(f"/cloths/pieces/{row.pk}/mark/", {"along": "5 cm", "across": "5 cm"} | wrong)
        assert refused.status_code == 422, wrong
    assert Remnant.objects.get().flaws == []
    Remnant.objects.update(cloth=skerry)
    seats.from_store.set([row])
    assert bench.post(f"/cloths/pieces/{row.pk}/drop/").status_code == 422
    seats.from_store.clear()
    content, _ = photographed(Shot("inside back", "plain teal", "kraft paper", width=1200), Mat(1200, 800))
    sent = {
        "kind": "remnant",
        "width": "120",
        "height": "80",
        "turns": "0",
        "photo": SimpleUploadedFile("r.jpg", content, "image/jpeg"),
    }
    bench.post(f"/cloths/{skerry.pk}/pieces/photo/", sent)
    photo = RemnantPhoto.objects.get()
    kept = photo.file.path
    for number in Remnant.objects.values_list("pk", flat=True):
        assert bench.post(f"/cloths/pieces/{number}/drop/").status_code == 302
    assert not Remnant.objects.exists()
    assert not Path(kept).exists(), "its photo goes with it"


def test_a_motif_measured_on_a_curtain_length_holds_there_and_one_not_measured_says_so(bench, seats, skerry):
    Cloth.objects.filter(pk=skerry.pk).update(pattern="half_drop", repeat_along=450, repeat_across=340)
    for long in ("2.2 m", "1.6 m"):
        bench.post(f"/cloths/{skerry.pk}/pieces/", {"kind": "length", "along": long, "across": "130 cm"})
    one, two = Remnant.objects.order_by("pk")
    bench.post(f"/tags/{seats.job.number}/lay/{seats.pk}/from/store/", {"remnant": [str(one.pk), str(two.pk)]})
    assert set(fresh(seats).from_store.all()) == {one, two}
    assert bench.get(f"/tags/{seats.job.number}/lay/{seats.pk}/from/").content.decode().count("motif not measured") == 2
    assert request_for(fresh(seats)).cloth.repeats == ()
    before = wanted_fingerprint(fresh(seats))
    for wrong in (
        {"from_end": "20 cm"},
        {"from_end": "-1", "from_upper": "1"},
        {"from_end": "a thumb", "from_upper": "1"},
    ):
        refused = bench.post(f"/cloths/pieces/{one.pk}/motif/", wrong)
        assert refused.status_code == 422, wrong
        assert "invalid" in refused.content.decode()
    assert (
        bench.post(f"/cloths/pieces/{one.pk}/motif/", {"from_end": "20 cm", "from_upper": "30 cm"}).status_code == 302
    )
    assert request_for(fresh(seats)).cloth.repeats == (), "the other one's is not measured"
    bench.post(f"/cloths/pieces/{two.pk}/motif/", {"from_end": "5 cm", "from_upper": "12 cm"})
    asked = request_for(fresh(seats))
    assert [r.origin for r in asked.cloth.repeats] == [(200, 1000), (50, 1180)], "by hand: 130 less 30, and less 12"
    assert wanted_fingerprint(fresh(seats)) != before, "the lay is out of date"
    assert any(p.anchor for p in asked.pieces)
    page = bench.get(f"/cloths/pieces/{one.pk}/").content.decode()
    assert 'value="20' in page
    assert "cloth-tile-here" in page
    run = start_lay(fresh(seats), seconds=0.4)
    tasks.search_for_lay.func(run.pk)
    run.refresh_from_db()
    lay = run.lay()
    assert wrong_with(asked, lay) == []
    home = f"/tags/{seats.job.number}/lay/{seats.pk}/"
    board = bench.get(home).content.decode()
    assert board.count("url(#cloth-tile") == len(asked.cloth.outlines)
    assert "cloth-tile" in bench.get(home + "seen/").content.decode()
    content = job_zip(seats.job.number)
    Remnant.objects.update(words="another")
    carried = job_from_zip(io.BytesIO(content)).number
    assert {(r.motif_along, r.motif_across) for r in Remnant.objects.filter(taken_for__job__number=carried)} == {
        (200, 1000),
        (50, 1180),
    }
    left = rest_of(run, asked, lay)
    assert left
    assert all(one.motif is not None for one in left)
    bench.post(f"/cloths/pieces/{two.pk}/motif/", {"forget": "1"})
    assert request_for(fresh(seats)).cloth.repeats == ()
    Cloth.objects.filter(pk=skerry.pk).update(pattern="plain", repeat_along=None, repeat_across=None)
    assert bench.post(f"/cloths/pieces/{one.pk}/motif/", {"from_end": "1", "from_upper": "1"}).status_code == 422


def test_a_set_counts_what_cloth_is_left_for_one_of_it(bench, seats, skerry):
    page = f"/tags/{seats.job.number}/survey/"
    assert "not one can be redone" in bench.get(page).content.decode()
    bench.post(f"/cloths/{skerry.pk}/pieces/", {"kind": "remnant", "along": "40 cm", "across": "60 cm"})
    assert "not enough for one of them: no room for" in bench.get(page).content.decode(), (
        "a stool's top is 58 cm across"
    )
    bench.post(f"/cloths/{skerry.pk}/pieces/", {"kind": "remnant", "along": "90 cm", "across": "90 cm"})
    assert "enough to cover one of them once more" in bench.get(page).content.decode()
    seats.from_store.set(Remnant.objects.all())
    assert "not one can be redone" in bench.get(page).content.decode(), "what is promised is not left"


def test_a_cloth_that_is_only_looked_at_in_inches_keeps_its_millimetres(db):
    """1,400 mm stand in the box as 55.118 in, 1,399.997 mm: what is left as it stands is not measured anew."""
    measures = {"width": 1400.0, "selvage": 12.0, "repeat_along": 333.0, "repeat_across": 205.0, "first_along": 41.3}
    cloth = Cloth.objects.create(name="Gannet", price="20", direction="one_way", pattern="check", **measures)
    shown = ClothForm(instance=cloth, units="imperial")
    sent = {name: value for name in shown.fields if (value := shown[name].value()) not in (None, False)}
    assert sent["width"] == "55.118"
    kept = ClothForm(sent, instance=Cloth.objects.get(), units="imperial")
    assert kept.is_valid(), kept.errors
    kept.save()
    assert {name: getattr(Cloth.objects.get(), name) for name in measures} == measures
    ClothForm(sent | {"width": "55"}, instance=Cloth.objects.get(), units="imperial").save()
    assert Cloth.objects.get().width == pytest.approx(1397)
