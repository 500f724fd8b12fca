"""Stock over all tags: what they take, ordered from the seller, coming in parts, counted, taken, sent back."""

from __future__ import annotations

import csv
import io
import json
import re
from datetime import date, time, timedelta
from decimal import Decimal

import pytest
from django.db.models import Sum
from django.utils import timezone

from tests.web.conftest import PageClient, block, pad
from zonatome.core.errors import NoAnswer
from zonatome.standins.cloth_seller import CREDIT, Seller, service
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.services import hang_tag
from zonatome.web.lay.models import ClothOrder
from zonatome.web.lay.seller import HttpSeller
from zonatome.web.lay.services import add_cloth
from zonatome.web.stock.models import StockItem, StockMove, StockOrder, StockPart
from zonatome.web.stock.services import there_of
from zonatome.web.strip.models import KeptThing


@pytest.fixture
def seller(tmp_path, monkeypatch, settings):
    """The stand-in behind the seller's counter, asked without a socket."""
    from zonatome.standins import cloth_seller

    counter = Seller(tmp_path / "seller.json")
    settings.SELLER = "http://seller.test"

    def ask(self, path, body=None):
        environ = {"PATH_INFO": path.split("?")[0], "QUERY_STRING": path.partition("?")[2]}
        environ["REQUEST_METHOD"] = "GET" if body is None else "POST"
        status, told = (
            cloth_seller._asked(counter, environ) if body is None else cloth_seller._sent(counter, path, body)
        )
        if status != 200:
            raise NoAnswer(f"The seller says: {told['words']}.")
        return told

    monkeypatch.setattr(HttpSeller, "_ask", ask)
    return counter


@pytest.fixture
def padded(bench, stool):
    """Four stools whose pads are chosen: foam, wadding, staples are wanted."""
    block(bench, stool)
    pad(bench, stool)
    return load_job(stool.number)


def counted(bench, thing: str, amount: str, least: str = "0", unit: str = "pieces"):
    return bench.post("/stock/count/", {"thing": thing, "unit": unit, "amount": amount, "least": least})


def test_what_is_short_is_ordered_comes_in_parts_and_is_taken(bench, padded, seller):
    page = bench.get("/stock/").content.decode()
    assert "short this week" in page
    assert bench.post("/stock/order-all/", {}).status_code == 302
    foam = StockOrder.objects.get(item__name__contains="foam")
    assert foam.pack == 1
    staples = StockItem.objects.get(name="staples")
    assert there_of(staples) == 0
    page = bench.get("/stock/").content.decode()
    assert "short this week" not in page
    assert bench.post("/stock/order-all/", {}).status_code == 302
    assert StockOrder.objects.filter(item=staples).count() == 1  # what is on its way is not ordered again
    part = StockPart.objects.get(order__item=staples)
    assert part.arrives == timezone.localdate() + timedelta(days=1)
    for bad in ("-1", "x", "1e12", ""):
        assert bench.post(f"/stock/came/{part.pk}/", {"amount": bad}).status_code == 422
    bench.post(f"/stock/came/{part.pk}/", {"amount": "4000"})
    assert there_of(staples) == 4000
    rest = StockPart.objects.get(order__item=staples, came_at=None)
    assert rest.amount == 6000  # what did not come stays on its way
    assert bench.post(f"/stock/came/{part.pk}/", {"amount": "4000"}).status_code == 404
    page = bench.get("/stock/").content.decode()
    assert f"kept for {padded.number}" in page
    wanted = float(next(r for r in table(bench) if r["thing"] == "staples")["kept"])
    bench.post(f"/stock/take/{padded.number}/")
    assert there_of(staples) == 4000 - wanted
    move = StockMove.objects.filter(why="used").get(item=staples)
    assert (move.job_id, move.by) == (padded.pk, "ines")
    bench.post(f"/stock/take/{padded.number}/")
    assert there_of(staples) == 4000 - wanted  # taken once
    order = StockOrder.objects.get(item=staples)
    assert bench.post(f"/stock/orders/{order.pk}/back/", {"packs": "1"}).status_code == 422  # no whole pack lies here
    bench.post(f"/stock/came/{rest.pk}/", {"amount": "6000"})
    counted(bench, "staples", "10000")
    bench.post(f"/stock/orders/{order.pk}/back/", {"packs": "1"})
    order.refresh_from_db()
    assert order.returned == 1
    assert float(order.credit) == pytest.approx(float(order.cost) * CREDIT)
    assert there_of(staples) == 0
    assert bench.post(f"/stock/orders/{order.pk}/back/", {"packs": "1"}).status_code == 422


def table(bench) -> list[dict[str, str]]:
    return list(csv.DictReader(io.StringIO(bench.get("/stock/stock.csv").content.decode())))


def test_more_than_the_seller_has_comes_later(bench, padded, seller):
    counted(bench, "firm foam, 75 mm", "0", "5", "sheets")
    bench.post("/stock/order/", {"thing": "firm foam, 75 mm"})
    parts = list(StockPart.objects.order_by("arrives"))
    assert [p.amount for p in parts] == [3, 2]
    assert parts[1].arrives - parts[0].arrives == timedelta(days=7)


def test_counting_least_stock_and_things_of_one_s_own(bench, workroom):
    assert "Nothing is taken or lies here yet" in bench.get("/stock/").content.decode()
    assert bench.post("/stock/count/", {"name": "beeswax", "unit": "pieces"}).status_code == 302
    counted(bench, "beeswax", "2", "5")
    assert next(r for r in table(bench) if r["thing"] == "beeswax")["to order"] == "3.0"
    assert "to order, none of it this week" in bench.get("/stock/").content.decode()
    counted(bench, "beeswax", "7", "5")
    assert "Nothing is short" in bench.get("/stock/").content.decode()
    assert StockMove.objects.aggregate(all=Sum("amount"))["all"] == 7
    for bad in ({"amount": "-1", "least": "0"}, {"amount": "x", "least": "0"}, {"amount": "1", "least": "nan"}, {}):
        assert bench.post("/stock/count/", {"thing": "beeswax", **bad}).status_code == 422
    for bad in ({"name": "x" * 81, "unit": "mm"}, {"name": " ", "unit": "mm"}, {"name": "a", "unit": "stone"}):
        assert bench.post("/stock/count/", bad).status_code == 422
    assert bench.post("/stock/count/", {"thing": "gold", "unit": "bars", "amount": "1"}).status_code == 404
    assert bench.post("/stock/order/", {"thing": "gold"}).status_code == 404
    assert there_of(StockItem.objects.get()) == 7


def test_without_a_seller_or_with_one_who_has_none_nothing_is_ordered(bench, padded, seller, settings):
    counted(bench, "beeswax", "0", "5")
    answer = bench.post("/stock/order-all/", {})
    assert answer.status_code == 422
    assert "beeswax: The seller says: no beeswax in our books." in answer.content.decode()
    assert StockOrder.objects.filter(item__name="staples").exists()  # the rest is ordered
    settings.SELLER = ""
    counted(bench, "webbing", "0", "5", "mm")
    assert bench.post("/stock/order-all/", {}).status_code == 422
    assert not StockOrder.objects.filter(item__name="webbing").exists()


def test_helpers_book_and_count_and_see_no_money(bench, padded, seller, django_user_model):
    bench.post("/stock/order-all/", {})
    helper = PageClient()
    helper.force_login(django_user_model.objects.create_user("tomas", password="quayside"))
    page = helper.get("/stock/").content.decode()
    assert "It is here" in page
    assert "€" not in page
    assert helper.post("/stock/order-all/", {}).status_code == 403
    part = StockPart.objects.filter(order__item__name="staples").get()
    helper.post(f"/stock/came/{part.pk}/", {"amount": "10000"})
    assert StockMove.objects.get(item__name="staples").by == "tomas"


def test_the_stand_in_refuses_what_it_can_t_read(tmp_path):
    counter = Seller(tmp_path / "seller.json", today=lambda: date(2026, 11, 30))
    assert counter.thing("gold")[0] == 404
    assert counter.order_thing("webbing", 0)[0] == 422
    status, told = counter.order_thing("webbing", 4)  # 200 m, 150 of it there
    assert status == 200
    assert [(p["amount"], p["arrives"]) for p in told["parts"]] == [(150_000, "2026-12-02"), (50_000, "2026-12-09")]
    assert counter.take_back(told["number"], 5)[0] == 409
    assert counter.take_back("S9", 1)[0] == 404
    assert counter.take_back(told["number"], 2) == (200, {"credit": "55.80"})


def test_cloth_by_the_tag_is_to_buy_on_its_way_too_late_or_here(bench, padded, skerry, clock):
    clock(date(2026, 11, 30), time(9))
    job_cloth = add_cloth(load_job(padded.number), skerry, "main")
    for layer in ("cover", "padding", "support", "frame"):
        bench.post(f"/tags/{padded.number}/survey/find/", {"layer": layer, "finding": "sound"})
    assert "Cloth by the tag" not in bench.get("/stock/").content.decode()  # nothing is laid
    bench.post(f"/tags/{padded.number}/lay/{job_cloth.pk}/start/", {"seconds": "1"})
    page = bench.get("/stock/").content.decode()
    assert re.search(r"m to buy</span>", page)
    order = ClothOrder.objects.create(
        job_cloth=job_cloth, number="K1", lot="S-4", length=9_000, cost=300, arrives=date(2027, 1, 15)
    )
    page = bench.get("/stock/").content.decode()
    assert "m to buy" not in page
    assert "comes Fri 15 Jan, too late" in page
    ClothOrder.objects.filter(pk=order.pk).update(arrives=date(2026, 11, 30))
    assert "comes Mon 30 Nov</span>" in bench.get("/stock/").content.decode()
    ClothOrder.objects.filter(pk=order.pk).update(came_at=timezone.now(), came_length=9_000)
    assert '<span class="chip">here</span>' in bench.get("/stock/").content.decode()


@pytest.mark.parametrize(
    ("path", "told"),
    [
        ("/things", {}),
        ("/things", {"pack": 0, "price": "1", "there": 1, "lead_days": 1}),
        ("/things", {"pack": 1, "price": "x", "there": 1, "lead_days": 1}),
        ("/things", {"pack": 1, "price": "1", "there": -1, "lead_days": 1}),
        ("/things", {"pack": 1, "price": "1", "there": 1, "lead_days": "soon"}),
        ("/thing-orders", {"number": "S1", "cost": "1", "parts": []}),
        ("/thing-orders", {"number": "S1", "cost": "1", "parts": [{"amount": 1, "arrives": "tomorrow"}]}),
        ("/thing-orders", {"number": "", "cost": "1", "parts": [{"amount": 1, "arrives": "2026-12-01"}]}),
        ("/returns", {"credit": None}),
        ("/returns", {"credit": "-3"}),
    ],
)
def test_strange_answers_of_a_seller_are_said_and_nothing_is_stored(monkeypatch, path, told):
    monkeypatch.setattr(HttpSeller, "_ask", lambda self, asked, body=None: told)
    seller = HttpSeller("http://seller.test")
    asked = {
        "/things": lambda: seller.thing("webbing"),
        "/thing-orders": lambda: seller.order_thing("webbing", 1),
        "/returns": lambda: seller.take_back("S1", 1),
    }
    with pytest.raises(NoAnswer, match="cannot be read"):
        asked[path]()


def test_the_stand_in_answers_as_a_service_what_the_page_asks(tmp_path, monkeypatch):
    answers = service(Seller(tmp_path / "seller.json"))

    def ask(self, path, body=None):
        content, told = json.dumps(body or {}).encode(), []
        environ = {"PATH_INFO": path.partition("?")[0], "QUERY_STRING": path.partition("?")[2],
                   "REQUEST_METHOD": "GET" if body is None else "POST", "CONTENT_LENGTH": str(len(content)),
                   "wsgi.input": io.BytesIO(content)}  # fmt: skip
        (answer,) = answers(environ, lambda status, _: told.append(status))
        if not told[0].startswith("200"):
            raise NoAnswer(f"The seller says: {json.loads(answer)['words']}.")
        return json.loads(answer)

    monkeypatch.setattr(HttpSeller, "_ask", ask)
    seller = HttpSeller("http://seller.test")
    assert seller.thing("webbing, 50 mm").pack == 50_000
    made = seller.order_thing("webbing", 4)
    assert sum(amount for amount, _ in made.parts) == 200_000
    assert seller.take_back(made.number, 1) == Decimal("27.90")
    for refused in (
        lambda: seller.thing("gold"),
        lambda: seller.order_thing("gold", 1),
        lambda: seller.order_thing("webbing", 0),
        lambda: seller.take_back(made.number, 99),
    ):
        with pytest.raises(NoAnswer, match="The seller says"):
            refused()


def test_a_saved_thing_is_kept_for_one_tag_and_lies_on_its_list(bench, padded):
    thing = KeptThing.objects.create(what="tack strip", words="60 cm, straight", length=600)
    other = hang_tag(title="Bench", client="x", kind="bench_box")
    saved = f"/saved/{thing.pk}/"
    for wrong in ("999", "x", "1" * 20):
        assert bench.post(saved, {"act": "keep", "used_for": wrong}).status_code == 422
    bench.post(saved, {"act": "keep", "used_for": str(padded.number)})
    assert f"kept for {padded.number}" in bench.get("/saved/").content.decode()
    assert "Saved: tack strip 60 cm, straight" in bench.get(f"/tags/{padded.number}/money/gather/").content.decode()
    assert "Saved: tack strip" not in bench.get(f"/tags/{other.number}/money/gather/").content.decode()
    refused = bench.post(saved, {"used_for": str(other.number)})
    assert refused.status_code == 422
    assert f"It is kept for {padded.number}" in refused.content.decode()
    assert KeptThing.objects.get().used_at is None
    bench.post(saved, {"used_for": f"tag {padded.number}"})
    assert KeptThing.objects.get().used_at is not None
    bench.post(saved, {"back": "1"})
    bench.post(saved, {"act": "free"})
    bench.post(saved, {"used_for": str(other.number)})
    assert KeptThing.objects.get().used_for == str(other.number)
