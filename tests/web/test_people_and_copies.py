"""Who works here and who did what; a tag copied; a cloth taken off, put back, let go."""

from __future__ import annotations

import pytest
from django.contrib.auth.models import User

from tests.core.lay.independent import wrong_with
from tests.web.conftest import block
from zonatome.core.strip.order import can_come_off
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job
from zonatome.web.lay.models import Cloth, CutTick, JobCloth, LayRun, Remnant
from zonatome.web.lay.services import add_cloth, set_tick, start_lay
from zonatome.web.rack.rooms import rooms_of


@pytest.fixture
def laid(bench, stool, skerry) -> JobCloth:
    """Four stools with a shape, a welt of the cloth that they are laid on."""
    block(bench, stool)
    add_cloth(load_job(stool.number), skerry, "main")
    on = JobCloth.objects.get(job=stool)
    Job.objects.filter(pk=stool.pk).update(trim_cloth=on, trim_kind="welt")
    start_lay(JobCloth.objects.get(pk=on.pk))
    return JobCloth.objects.get(pk=on.pk)


def test_a_cloth_taken_off_a_job_is_put_back_with_its_panels_its_welt_and_its_lay(bench, laid, skerry):
    number = laid.job.number
    remnant = Remnant.objects.create(cloth=skerry, outline=[[0, 0], [900, 0], [900, 800], [0, 800]])
    laid.from_store.set([remnant])
    before = load_job(number)
    page = bench.post(f"/tags/{number}/lay/{laid.pk}/put-away/", follow=True).content.decode()
    assert "Put it back" in page
    without = load_job(number)
    assert not without.cloths.all()
    assert without.trim_cloth_id is None
    assert {p.cloth_id for p in without.parts.all()} == {None}
    assert not remnant.taken_for.exists(), "it is free for others meanwhile"
    assert bench.post(f"/tags/{number}/lay/{laid.pk}/put-back/").status_code == 302
    after = load_job(number)
    assert [p.cloth_id for p in after.parts.all()] == [p.cloth_id for p in before.parts.all()]
    assert after.trim_cloth_id == laid.pk
    assert list(after.cloths.all()[0].from_store.all()) == [remnant]
    assert LayRun.objects.get().job_cloth_id == laid.pk
    assert bench.post(f"/tags/{number}/lay/{laid.pk}/put-back/").status_code == 404, "once"
    bench.post(f"/tags/{number}/lay/{laid.pk}/put-away/")
    bench.post(f"/tags/{number}/lay/use/", {"cloth": skerry.pk, "role": "main"})
    assert load_job(number).cloths.all()[0].pk != laid.pk, "chosen anew it begins anew"
    assert not JobCloth.every.exclude(put_away_at=None).exists()


def test_a_cloth_is_let_go_when_no_tag_uses_it_and_nothing_is_cut_from_it(bench, laid, skerry):
    place = f"/cloths/{skerry.pk}/drop/"
    refused = bench.post(place)
    assert refused.status_code == 422
    assert f"on tag {laid.job.number}" in refused.content.decode()
    run = LayRun.objects.get()
    set_tick(run, "seat.1", is_cut=True, is_strip=False)
    bench.post(f"/tags/{laid.job.number}/lay/{laid.pk}/put-away/")
    assert "have been cut from" in bench.post(place).content.decode()
    CutTick.objects.all().delete()
    Remnant.objects.create(cloth=skerry, outline=[[0, 0], [900, 0], [900, 800], [0, 800]])
    assert "would go too" in bench.post(place).content.decode()
    assert Cloth.objects.filter(pk=skerry.pk).exists()
    assert bench.post(place, {"sure": "yes"}).status_code == 302
    assert not Cloth.objects.filter(pk=skerry.pk).exists()
    assert bench.get("/").status_code == 200


def test_a_copied_tag_has_the_furniture_and_the_shapes_and_nothing_of_the_record(bench, laid, strip_all):
    bench.post(f"/tags/{laid.job.number}/survey/restyle/channels/", {"part": "seat", "count": "3"})
    strip_all(laid.job)
    old = load_job(laid.job.number)
    answer = bench.post(f"/tags/{old.number}/copy/")
    made = load_job(int(answer["Location"].split("/")[2]))
    assert made.number == old.number + 1
    assert made.kind == old.kind
    assert [(p.key, p.shape, p.board_width, p.pad_measured) for p in made.parts.all()] == [
        (p.key, p.shape, p.board_width, p.pad_measured) for p in old.parts.all()
    ]
    assert all(p.off_number is None and not p.marks for p in made.parts.all())
    on = made.cloths.all()[0]
    assert (on.cloth_id, made.trim_cloth_id) == (laid.cloth_id, on.pk)
    assert {p.cloth_id for p in made.panels()} == {on.pk}
    assert not on.runs.all()
    for room in ("survey", "strip", "trace", "lay", "pad", "fasten", "trim", "finish", "money"):
        assert bench.get(f"/tags/{made.number}/{room}/", follow=True).status_code == 200
    assert load_job(old.number).off_keys == old.off_keys, "the old one is as it was"


def test_somebody_at_the_bench_has_an_own_sign_in_and_the_owner_s_pages_stay_the_owner_s(
    bench, client, laid, django_user_model
):
    assert bench.post("/workroom/people/", {"username": "ines", "password": "a-long-one-44"}).status_code == 422, (
        "that name stands"
    )
    assert bench.post("/workroom/people/", {"username": "tomas", "password": "12345678"}).status_code == 422, (
        "too common"
    )
    assert bench.post("/workroom/people/", {"username": "tomas", "password": "a-long-one-44"}).status_code == 302
    tomas = User.objects.get(username="tomas")
    other = type(bench)()
    assert other.post("/login/", {"username": "tomas", "password": "a-long-one-44"}).status_code == 302
    number = laid.job.number
    for page in ("/workroom/", "/workroom/rules/", "/workroom/people/", f"/tags/{number}/money/"):
        answer = other.get(page)
        assert answer.status_code == 403
        assert "for the owner" in answer.content.decode()
    assert other.post("/workroom/copy/").status_code == 403
    first = can_come_off(laid.job.kind, ())[0]
    other.post(f"/tags/{number}/strip/off/", {"part": first})
    assert "by tomas" in bench.get(f"/tags/{number}/strip/look/{first}/").content.decode()
    LayRun.objects.all().delete()
    other.post(f"/tags/{number}/lay/{laid.pk}/start/")
    assert LayRun.objects.order_by("-id")[0].asked_by == "tomas"
    assert "Laid by" in bench.get(f"/tags/{number}/lay/{laid.pk}/").content.decode()
    key = LayRun.objects.order_by("-id")[0].lay().placements[0]
    other.post(f"/tags/{number}/lay/{laid.pk}/cut-sheet/tick/", {"key": f"{key.piece}.{key.copy}", "cut": "1"})
    assert "cut by tomas" in bench.get(f"/tags/{number}/lay/{laid.pk}/cut-sheet/").content.decode()
    assert (
        other.post(
            "/password/", {"old_password": "wrong", "new_password1": "b-long-one-55", "new_password2": "b-long-one-55"}
        ).status_code
        == 422
    )
    changed = {"old_password": "a-long-one-44", "new_password1": "b-long-one-55", "new_password2": "b-long-one-55"}
    assert other.post("/password/", changed).status_code == 302
    assert other.get("/").status_code == 200, "still signed in"
    assert bench.post(f"/workroom/people/{tomas.pk}/", {"what": "password", "password": "short"}).status_code == 422
    owner = User.objects.get(username="ines")
    assert "only owner" in bench.post(f"/workroom/people/{owner.pk}/", {"what": "bench"}).content.decode()
    bench.post(f"/workroom/people/{tomas.pk}/", {"what": "close"})
    assert other.get("/").status_code == 302, "at once"
    shut = type(bench)().post("/login/", {"username": "tomas", "password": "b-long-one-55"})
    assert shut.status_code == 200, "no sign-in any more"
    assert "by tomas" in bench.get(f"/tags/{number}/strip/look/{first}/").content.decode(), "what is recorded stays"


def test_a_phone_signs_in_once_by_the_code_on_the_screen_and_its_photo_arrives_beside_the_panel(
    bench, stool, settings, jpeg
):
    assert "make start LAN=1" in bench.get("/phone/").content.decode(), "alone on this machine there is no code"
    settings.LAN_ADDRESS = "http://192.168.7.20:8000"
    page = bench.get("/phone/")
    place = page.context["address"].removeprefix(settings.LAN_ADDRESS)
    assert "data:image/svg+xml" in page.content.decode()
    phone = type(bench)()
    assert "Sign in as ines" in phone.get(place).content.decode(), "looking ahead does not use it up"
    assert phone.post(place).status_code == 302
    assert phone.get("/").status_code == 200
    again = type(bench)().post(place)
    assert again.status_code == 410
    assert "has been used" in again.content.decode()
    assert type(bench)().get("/come-in/guess/").status_code == 410
    first = can_come_off(stool.kind, ())[0]
    bench.post(f"/tags/{stool.number}/strip/off/", {"part": first})
    looks = f"/tags/{stool.number}/strip/parts/{first}/photos/"
    assert bench.get(looks + "?there=0").status_code == 204
    assert phone.post(f"/tags/{stool.number}/strip/parts/{first}/photo/", {"photo": jpeg()}).status_code == 302
    arrived = bench.get(looks + "?there=0")
    assert (arrived.status_code, arrived["X-There"]) == (200, "1")
    assert "<img src=" in arrived.content.decode()
    assert bench.get(looks + "?there=1").status_code == 204


def test_an_empty_rail_shows_how_to_begin_and_a_made_up_tag_comes_and_goes_with_one_press(bench):
    page = bench.get("/").content.decode()
    for words in ("Hang up a tag", "Hang up a made-up tag", "The four markers, as PDF", "To the cloths"):
        assert words in page
    assert bench.get("/markers.pdf").content.startswith(b"%PDF")
    opened = bench.post("/try-out/", follow=True)
    assert "is made up: press everything" in opened.content.decode()
    number = Job.objects.get().number
    for room in rooms_of(load_job(number)):
        assert bench.get(room).status_code in (200, 302), room
    run = LayRun.objects.get()
    assert wrong_with(run.asked(), run.lay()) == []
    bench.post("/try-out/")
    assert Job.objects.count() == 1, "one is enough"
    assert "Take the made-up tag" in bench.get("/").content.decode()
    bench.post(f"/tags/{number}/take-down/")
    assert "The rail is empty" in bench.get("/").content.decode()
