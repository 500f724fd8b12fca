"""Quotes: options worked out from the tag, the link that the client gets, and what stands on the tag after a yes."""

from __future__ import annotations

import io
import json
import zipfile
from datetime import timedelta
from decimal import Decimal

import pytest
from django.core import signing
from django.core.cache import cache
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from django.utils import timezone
from pypdf import PdfReader

from tests.web.conftest import PageClient, block, pad
from zonatome.core.errors import BadInput
from zonatome.core.survey.kinds import KINDS
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job, Photo, Workroom
from zonatome.web.jobs.services import hang_tag
from zonatome.web.lay.models import Cloth, LayRun
from zonatome.web.lay.services import add_cloth
from zonatome.web.lay.trials import start_trials
from zonatome.web.shop.models import SentQuote
from zonatome.web.shop.options import offered, option_of
from zonatome.web.shop.quotes import link_of, options_of
from zonatome.web.shop.views.client import MOST_ASKED


@pytest.fixture(autouse=True)
def _fresh_cache():
    cache.clear()


@pytest.fixture
def laid(bench, stool, skerry):
    """Four stools with shapes, pads and a lay of Skerry; Tern is on trial."""
    block(bench, stool)
    pad(bench, stool)
    cloth = add_cloth(load_job(stool.number), skerry, "main")
    Cloth.objects.create(name="Tern", width=1400, selvage=12, direction="two_way", price="52.00", sold_by="half")
    bench.post(f"/tags/{stool.number}/lay/{cloth.pk}/start/", {"seconds": "1"})
    start_trials(load_job(stool.number).cloths.get())
    return load_job(stool.number)


def test_options_are_worked_out_from_the_tag_and_change_nothing(laid):
    workroom = Workroom.the_one()
    before = (load_job(laid.number).count, load_job(laid.number).parts_by_key()["seat"].stack)
    planned = option_of(laid.number, "as_planned", workroom)
    cost = {m.what: m.cost for m in planned.materials}
    assert cost["Skerry"] > 0
    keys = {row.key: row for row in offered(laid)}
    assert keys["cover_over"].why_not == "look at the old cover first"
    kept = option_of(laid.number, "keep_foam", workroom)
    foam = next(m for m in planned.materials if "foam" in m.what)
    assert planned.quote.materials - kept.quote.materials == foam.cost
    assert planned.quote.hours - kept.quote.hours == pytest.approx((10 + 5) * 3.52 / 60)  # cut and glued, four of them
    one = option_of(laid.number, "count-1", workroom)
    assert one.quote.new * 4 == planned.quote.new
    assert one.quote.total < planned.quote.total
    tern = next(key for key in keys if key.startswith("cloth-"))
    other = option_of(laid.number, tern, workroom)
    trial = laid.cloths.get().trials.get(cloth__name="Tern")
    assert {m.what for m in other.materials} - {m.what for m in planned.materials} == {"Tern"}
    length = float(next(m.amount for m in other.materials if m.what == "Tern").split()[0]) * 1000
    assert next(m.cost for m in other.materials if m.what == "Tern") == Decimal("52.00") * Decimal(str(length / 1000))
    assert length >= trial.length
    assert other.quote.labour == planned.quote.labour
    assert (load_job(laid.number).count, load_job(laid.number).parts_by_key()["seat"].stack) == before
    for wrong in ("renew_foam", "cover_over", "count-0", "count-61", "count-x", "cloth-1-999", "free", ""):
        with pytest.raises(BadInput):
            option_of(laid.number, wrong, workroom)


def test_a_cover_that_is_sound_may_stay_on_and_saves_its_pulling(bench, laid):
    for layer, finding in (("cover", "cover_sound"),):
        bench.post(f"/tags/{laid.number}/survey/find/", {"layer": layer, "finding": finding})
    workroom = Workroom.the_one()
    job = load_job(laid.number)
    sort = next(row.key for row in offered(job) if row.key in ("strip", "cover_over"))
    other, planned = option_of(laid.number, sort, workroom), option_of(laid.number, "as_planned", workroom)
    over, off = (other, planned) if sort == "cover_over" else (planned, other)
    assert over.quote.labour < off.quote.labour
    assert over.quote.materials == off.quote.materials


def test_the_quote_is_sent_opened_answered_and_the_tag_moves(bench, laid, jpeg):
    number = laid.number
    page = bench.get(f"/tags/{number}/money/quote/?with=keep_foam&count=1").content.decode()
    assert page.count('class="option__letter"') == 3
    for odd in ("?with=free", "?count=999", "?count=x", "?" + "&".join(f"with=count-{n}" for n in range(1, 9))):
        assert bench.get(f"/tags/{number}/money/quote/{odd}").status_code == 422
    assert bench.post(f"/tags/{number}/money/quote/send/", {"words": "x" * 601}).status_code == 422
    bench.post(f"/tags/{number}/money/quote/send/", {"with": ["as_planned", "keep_foam"], "words": "Good morning"})
    sent = SentQuote.objects.get()
    assert load_job(number).waits_for == "their yes on the quote"
    Workroom.objects.update(hour=99)  # what was sent stays as it was sent
    client = PageClient()
    link = link_of(sent)
    seen = client.get(link).content.decode()
    assert "Good morning" in seen
    assert "Sign out" not in seen
    assert f"{option_of(number, 'as_planned', Workroom.the_one()).quote.total:,.2f}" not in seen
    assert "Opened" in bench.get(f"/tags/{number}/money/quote/").content.decode()
    for bad in ({"answer": "yes"}, {"answer": "yes", "option": "count-1"}, {"answer": "question", "words": " "}, {}):
        assert client.post(link, bad).status_code == 422
    assert client.post(link, {"answer": "question", "words": "Is the oat cloth washable?"}).status_code == 302
    assert load_job(number).waits_for == "your answer to their question"
    assert client.post(link, {"answer": "yes", "option": "keep_foam"}).status_code == 302
    assert load_job(number).waits_for == ""
    today = timezone.localtime().strftime("%-d %b")
    assert f"Yes on {today}, foam kept" in client.get(link).content.decode()
    assert f"Yes on {today}, foam kept" in bench.get(f"/tags/{number}/money/").content.decode()
    assert f"Yes on {today}" in bench.get("/").content.decode()
    assert client.get(reverse("client_quote_pdf", args=[link.split("/")[2]])).content[:4] == b"%PDF"
    assert bench.get(f"/tags/{number}/money/quote/{sent.pk}/quote.pdf").content[:4] == b"%PDF"


def test_a_link_that_is_withdrawn_expired_altered_or_guessed_is_refused_alike(bench, laid, settings):
    bench.post(f"/tags/{laid.number}/money/quote/send/", {})
    sent = SentQuote.objects.get()
    client, link = PageClient(), link_of(sent)
    token = link.split("/")[2]
    nothing = client.get("/quote/abc/").content
    assert client.get("/quote/abc/").status_code == 404
    guessed = signing.dumps([sent.pk, "another"], salt="client-quote")
    elsewhere = signing.dumps([sent.pk, sent.nonce], salt="another")
    odd = [signing.dumps(x, salt="client-quote") for x in (1, [1], {"a": 1}, [sent.pk, None], ["x", "y"], [[1], 2])]
    for wrong in (token[:-2], "x" + token, token.replace(":", ""), guessed, elsewhere, *odd):
        for asked in (client.get(f"/quote/{wrong}/"), client.post(f"/quote/{wrong}/", {"answer": "no"})):
            assert (asked.status_code, asked.content) == (404, nothing)
    assert client.get(link).status_code == 200
    SentQuote.objects.update(holds_until=timezone.localdate() - timedelta(days=1))
    assert (client.get(link).status_code, client.get(link).content) == (404, nothing)
    SentQuote.objects.update(holds_until=timezone.localdate())
    assert client.get(link).status_code == 200
    bench.post(f"/tags/{laid.number}/money/quote/{sent.pk}/withdraw/")
    assert (client.get(link).status_code, client.get(link).content) == (404, nothing)
    assert load_job(laid.number).waits_for == ""
    assert bench.post(f"/tags/{laid.number}/money/quote/{sent.pk}/withdraw/").status_code == 404
    SentQuote.objects.update(withdrawn_at=None)
    Job.objects.update(taken_down_at=timezone.now())
    assert client.get(link).content == nothing


def test_nothing_else_is_reached_by_a_link(bench, laid, jpeg):
    bench.post(f"/tags/{laid.number}/survey/photo/", {"when": "before", "photo": jpeg()})
    other = hang_tag(title="Bench", client="x", kind="bench_box")
    for when in ("before", "after", "strip"):
        Photo.objects.create(job=other if when == "before" else laid, when=when, file=f"{laid.pk}/{when}.jpg")
    bench.post(f"/tags/{laid.number}/money/quote/send/", {})
    token = link_of(SentQuote.objects.get()).split("/")[2]
    client = PageClient()
    shown = [p.pk for p in Photo.objects.filter(job=laid, when="before")]
    for photo in Photo.objects.all():
        answer = client.get(f"/quote/{token}/{photo.pk}.jpg")
        answer.close()
        assert answer.status_code == (200 if photo.pk in shown else 404)
        assert client.get(f"/tags/{photo.job.number}/photos/{photo.pk}.jpg").status_code == 302
    for path in ("/", "/fortnight/", f"/tags/{laid.number}/", f"/tags/{laid.number}/money/", "/cloths/"):
        assert client.get(path).status_code == 302
    assert "/tags/" not in client.get(f"/quote/{token}/").content.decode()


def test_whoever_asks_too_often_waits(bench, laid):
    bench.post(f"/tags/{laid.number}/money/quote/send/", {})
    link, client = link_of(SentQuote.objects.get()), PageClient()
    for _ in range(MOST_ASKED):
        client.get("/quote/abc/")
    assert client.get(link).status_code == 429
    assert client.post(link, {"answer": "yes", "option": "as_planned"}).status_code == 429
    assert SentQuote.objects.get().answer == ""
    assert client.get(link, REMOTE_ADDR="10.0.0.9").status_code == 200


def test_a_new_quote_withdraws_the_one_before_and_helpers_see_none_of_it(bench, laid, django_user_model):
    for _ in range(2):
        bench.post(f"/tags/{laid.number}/money/quote/send/", {})
    assert [q.withdrawn_at is None for q in SentQuote.objects.order_by("id")] == [False, True]
    helper = PageClient()
    helper.force_login(django_user_model.objects.create_user("tomas", password="quayside"))
    assert helper.get(f"/tags/{laid.number}/money/quote/").status_code == 403
    assert helper.post(f"/tags/{laid.number}/money/quote/send/", {}).status_code == 403
    LayRun.objects.all().delete()
    assert helper.get(f"/tags/{laid.number}/money/quote/{SentQuote.objects.first().pk}/quote.pdf").status_code == 403


@pytest.mark.parametrize("kind", KINDS)
def test_a_fresh_tag_of_every_kind_is_quoted_seen_by_its_client_and_gathered(bench, kind):
    job = hang_tag(title="Fresh", client="Oriel & Sons", kind=kind, count=2)
    money = f"/tags/{job.number}/money/"
    assert bench.get(f"{money}quote/?count=1&with=keep_foam").status_code in (200, 422)  # no foam is new on a sling
    assert bench.post(f"{money}quote/send/", {"count": "1", "words": "<b>Good</b> morning"}).status_code == 302
    sent = SentQuote.objects.get()
    one, two = (o.quote for o in reversed(options_of(sent)))
    assert one.new * 2 == two.new
    assert one.total < two.total < one.total * 2  # each of a set goes faster than the one before
    page = PageClient().get(link_of(sent)).content.decode()
    assert "Oriel &amp; Sons" in page
    assert "<b>Good" not in page
    for figure in (one, two):
        assert f"{figure.total:,.2f}" in page
    paper = PdfReader(io.BytesIO(bench.get(f"{money}quote/{sent.pk}/quote.pdf").content))
    assert f"{two.total:,.2f}" in "".join(p.extract_text() for p in paper.pages)
    gathered = bench.get(f"{money}gather/").content.decode()
    assert "lie ready" in gathered
    assert "Old dust and tack points." in gathered


def test_the_answer_is_for_owners_and_goes_from_the_rack_after_a_week(bench, laid, django_user_model):
    bench.post(f"/tags/{laid.number}/money/quote/send/", {})
    link = link_of(SentQuote.objects.get())
    PageClient().post(link, {"answer": "no", "words": "too dear"})
    assert load_job(laid.number).waits_for == "what becomes of it: they said no"
    assert "too dear" in bench.get("/").content.decode()
    helper = PageClient()
    helper.force_login(django_user_model.objects.create_user("tomas", password="quayside"))
    assert "too dear" not in helper.get("/").content.decode()
    SentQuote.objects.update(answered_at=timezone.now() - timedelta(days=8))
    assert "too dear" not in bench.get("/").content.decode()
    assert "too dear" in bench.get(f"/tags/{laid.number}/money/").content.decode()
    bench.post(f"/tags/{laid.number}/money/quote/{SentQuote.objects.get().pk}/withdraw/")
    assert load_job(laid.number).waits_for == ""


def test_the_client_sees_the_cloth_in_place_with_its_own_photo_and_asks_for_nothing_else(bench, laid, jpeg):
    cloth = Cloth.objects.get(name="Skerry")
    Cloth.objects.filter(pk=cloth.pk).update(pattern="check", repeat_along=200, repeat_across=200)
    cloth.refresh_from_db()
    cloth.tile_photo.save("tile.jpg", jpeg(200, 200))
    job_cloth = load_job(laid.number).cloths.get()
    bench.post(f"/tags/{laid.number}/lay/{job_cloth.pk}/start/", {"seconds": "1"})
    bench.post(f"/tags/{laid.number}/money/quote/send/", {})
    page = PageClient().get(link_of(SentQuote.objects.get())).content.decode()
    assert "Skerry in place" in page
    assert 'href="data:image/jpeg;base64,' in page
    assert f"/cloths/{cloth.pk}/" not in page
    cloth.tile_photo.delete(save=False)
    assert PageClient().get(link_of(SentQuote.objects.get())).status_code == 200


def test_at_the_bench_one_sees_money_where_the_owner_lets_and_sends_nothing(bench, laid, django_user_model):
    tomas = django_user_model.objects.create_user("tomas", password="quayside")
    helper, money = PageClient(), f"/tags/{laid.number}/money/"
    helper.force_login(tomas)
    bench.post(f"{money}quote/send/", {})
    sent = SentQuote.objects.get()
    seen = (money, f"{money}quote/", f"{money}quote/{sent.pk}/quote.pdf", "/record/quotes.csv")
    assert {helper.get(path).status_code for path in seen} == {403}
    assert 'data-key="m"' not in helper.get(f"/tags/{laid.number}/survey/").content.decode()
    bench.post(f"/workroom/people/{tomas.pk}/", {"what": "money"})
    assert {helper.get(path).status_code for path in seen} == {200}
    assert 'data-key="m"' in helper.get(f"/tags/{laid.number}/survey/").content.decode()
    page = helper.get(f"{money}quote/").content.decode()
    assert "Make the link" not in page
    assert "Withdraw it" not in page
    assert "their yes" not in helper.get(money).content.decode()
    for path in (f"{money}quote/send/", f"{money}waits/", f"{money}old-piece/", f"{money}quote/{sent.pk}/withdraw/"):
        assert helper.post(path, {}).status_code == 403
    assert helper.get("/workroom/rules/").status_code == 403
    bench.post(f"/workroom/people/{tomas.pk}/", {"what": "no_money"})
    assert helper.get(money).status_code == 403


def test_quotes_and_what_lies_ready_go_along_in_the_tag_s_zip(bench, laid):
    number = laid.number
    bench.post(f"/tags/{number}/money/quote/send/", {"with": "keep_foam", "words": "Good morning"})
    link = link_of(SentQuote.objects.get())
    PageClient().post(link, {"answer": "yes", "option": "keep_foam"})
    bench.post(f"/tags/{number}/money/gather/tick/", {"key": "tape", "cut": "1"})
    bench.post(f"/tags/{number}/money/old-piece/", {"cost": "60", "spread": "2"})
    content = b"".join(bench.get(f"/tags/{number}/tag.zip").streaming_content)
    assert SentQuote.objects.get().nonce.encode() not in content
    assert bench.post("/tags/bring-in/", {"file": SimpleUploadedFile("tag.zip", content)}).status_code == 302
    here, there = SentQuote.objects.order_by("id")
    assert (there.options, there.answer, there.option, there.words) == (
        here.options,
        "yes",
        "keep_foam",
        "Good morning",
    )
    assert there.nonce != here.nonce
    assert there.job.old_piece.cost == 60
    assert list(there.job.gathered.values_list("key", flat=True)) == ["tape"]
    twice = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(content)) as old, zipfile.ZipFile(twice, "w") as new:
        for name in old.namelist():
            told = old.read(name)
            if name == "job.json":
                document = json.loads(told)
                document["gathered"] *= 2
                told = json.dumps(document).encode()
            new.writestr(name, told)
    answer = bench.post("/tags/bring-in/", {"file": SimpleUploadedFile("tag.zip", twice.getvalue())})
    assert answer.status_code == 422
    assert "gathered[1]" in answer.content.decode()
    assert Job.objects.count() == 2
