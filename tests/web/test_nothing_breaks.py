"""What once broke a page under a newcomer's hand: bags without a part, cautions, the unit switch on a refused page."""

from __future__ import annotations

import re

import pytest
from django.test import Client

from tests.web.conftest import block, found
from zonatome.web.lay.services import add_cloth
from zonatome.web.survey.models import CautionSeen

CAUTIONED = ("survey", "strip", "lay", "pad", "fasten", "trim", "finish")


def page(bench, job, step: str) -> str:
    answer = bench.get(f"/tags/{job.number}/{step}/")
    assert answer.status_code == 200
    return answer.content.decode()


def test_a_bag_numbered_by_hand_stands_on_every_page_and_the_tag_can_go_home(bench, stool, strip_all):
    strip_all(stool)
    bench.post(f"/tags/{stool.number}/strip/bags/", {"contents": "3 bolts", "came_from": "back rail"})
    bench.post(f"/tags/{stool.number}/strip/bags/", {"contents": "", "came_from": "under the seat"})
    shown = page(bench, stool, "finish")
    assert "3 bolts" in shown
    assert "nothing said" in shown
    assert bench.get(f"/tags/{stool.number}/", follow=True).status_code == 200


@pytest.mark.parametrize("step", CAUTIONED)
def test_each_seen_on_each_page_is_taken_with_the_token_that_stands_there(bench, stool, skerry, step):
    careful = Client(enforce_csrf_checks=True)
    careful.cookies = bench.cookies
    found(bench, stool, "filling_mould")
    block(bench, stool)
    add_cloth(stool, skerry, "main")
    shown = careful.get(f"/tags/{stool.number}/{step}/", follow=True).content.decode()
    form = re.search(
        r'<details class="cautions cautions--loud" open>.*?<form method="post" action="([^"]+)">(.*?)</form>',
        shown,
        re.DOTALL,
    )
    sent = {"csrfmiddlewaretoken": re.search(r'csrfmiddlewaretoken" value="([^"]+)"', form[2])[1]}
    sent |= {
        "key": re.findall(r'name="key" value="([^"]+)"', form[2]),
        "back": re.search(r'name="back" value="([^"]+)"', form[2])[1],
    }
    answer = careful.post(form[1], sent)
    assert (answer.status_code, answer.url) == (302, sent["back"])
    assert answer.url.startswith(f"/tags/{stool.number}/{step}/")
    assert set(CautionSeen.objects.values_list("key", flat=True)) == set(sent["key"])
    again = careful.get(answer.url).content.decode()
    assert "cautions--loud" not in again
    assert 'class="cautions"' in again


def test_a_missing_token_is_refused_in_words(bench, stool):
    careful = Client(enforce_csrf_checks=True)
    careful.cookies = bench.cookies
    answer = careful.post(f"/tags/{stool.number}/survey/seen/", {"key": "mould"})
    assert answer.status_code == 403
    assert "load it again" in answer.content.decode()


def test_seen_goes_back_to_no_other_site(bench, stool):
    answer = bench.post(f"/tags/{stool.number}/survey/seen/", {"key": "mould", "back": "https://elsewhere.example/"})
    assert answer.url == f"/tags/{stool.number}/survey/"


def test_on_a_refused_page_the_unit_switch_cannot_lose_what_was_typed(bench, stool):
    refused = block(bench, stool, board_width="abc", pad="41 mm")
    assert refused.status_code == 422
    shown = refused.content.decode()
    assert "41 mm" in shown
    assert re.search(r'name="units" value="imperial"[^>]*disabled', shown)
    assert not re.search(r'name="units" value="imperial"[^>]*disabled', page(bench, stool, "survey"))
