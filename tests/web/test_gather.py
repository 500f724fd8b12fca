"""Gather: what a tag needs follows from its rows, is ticked as it lies ready; tools of the workroom, worth it."""

from __future__ import annotations

from decimal import Decimal

from tests.web.conftest import PageClient, block, pad
from zonatome.core.shop.gather import TOOLS
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Workroom
from zonatome.web.jobs.services import hang_tag
from zonatome.web.lay.services import add_cloth
from zonatome.web.shop.gather import gather_of
from zonatome.web.shop.models import GatherTick, OldPiece, OwnTool


def things(job) -> dict:
    found = gather_of(load_job(job.number), Workroom.the_one())
    return {row["thing"].key: row["thing"] for step in found.steps for row in step.rows}


def test_the_list_follows_from_the_tag(bench, stool, skerry):
    before = things(stool)
    assert before["stapler"].detail.endswith("is not known yet: measure the rail")
    block(bench, stool)
    pad(bench, stool)
    add_cloth(load_job(stool.number), skerry, "main")
    after = things(stool)
    assert {"foam_blade", "spreader"} <= set(after)
    assert "mm legs, about" in after["stapler"].detail
    assert "not known yet" not in after["stapler"].detail
    assert any(key.startswith("m-") and "foam" in key for key in after)
    wing = things(hang_tag(title="Wing", client="x", kind="wing"))
    assert {"machine", "curved", "ripper", "stretcher"} <= set(wing)
    page = bench.get(f"/tags/{stool.number}/money/gather/").content.decode()
    assert "Air off before" not in page
    assert "Begin about 3 bar" in page  # the cautions of the step stand there


def test_ticks_are_kept_and_only_for_what_is_on_the_list(bench, stool):
    address = f"/tags/{stool.number}/money/gather/tick/"
    assert bench.post(address, {"key": "tape", "cut": "1"}, headers={"X-Tick": "1"}).status_code == 204
    assert bench.post(address, {"key": "tape", "cut": "1"}).status_code == 302
    assert GatherTick.objects.count() == 1
    assert ">1</span> of" in bench.get(f"/tags/{stool.number}/money/gather/").content.decode()
    assert bench.post(address, {"key": "button_press", "cut": "1"}, headers={"X-Tick": "1"}).status_code == 422
    assert bench.post(address, {"key": "\0", "cut": "1"}).status_code == 302
    bench.post(address, {"key": "tape", "cut": "0"})
    assert not GatherTick.objects.exists()


def test_what_is_here_is_not_bought_and_worth_it_counts_the_rest(bench, stool, django_user_model):
    money = f"/tags/{stool.number}/money/"
    assert "Say once" in bench.get(f"{money}gather/").content.decode()
    assert "Tools that are not here, its share</dt> <dd>€ 0.00" in bench.get(money).content.decode()
    sent = {f"own-{key}": "on" for key in TOOLS if key != "stapler"} | {"price-stapler": "180,5"}
    assert bench.post("/workroom/tools/", sent).status_code == 422
    assert not OwnTool.objects.exists()  # nothing of a page that was refused is kept
    assert bench.post("/workroom/tools/", {**sent, "price-stapler": "180.50"}).status_code == 302
    page = bench.get(f"{money}gather/").content.decode()
    assert "Not here yet: air stapler with its compressor." in page
    assert "€ 180.50 to buy." in page
    assert "Tools that are not here, its share</dt> <dd>€ 18.05" in bench.get(money).content.decode()
    assert bench.post(f"{money}old-piece/", {"cost": "60", "spread": "2"}).status_code == 302
    page = bench.get(money).content.decode()
    assert "its share</dt> <dd>€ 90.25" in page
    assert "The old piece</dt> <dd>€ 60.00" in page
    for bad in ({"cost": "-1", "spread": "2"}, {"cost": "x", "spread": "2"}, {"cost": "5", "spread": "0"}, {}):
        assert bench.post(f"{money}old-piece/", bad).status_code == 422
    assert OldPiece.objects.get().cost == Decimal(60)
    for bad in ("-1", "x" * 50, "1e9"):
        assert bench.post("/workroom/tools/", {**sent, "price-stapler": bad}).status_code == 422
    helper = PageClient()
    helper.force_login(django_user_model.objects.create_user("tomas", password="quayside"))
    seen = helper.get(f"{money}gather/").content.decode()
    assert "Not here yet" in seen
    assert "€" not in seen
    assert helper.get("/workroom/tools/").status_code == 403
