"""Any button of any page, pressed at random with odd things typed: no page breaks, nothing that is stored comes to
harm.
"""

from __future__ import annotations

import os
import random
from html.parser import HTMLParser
from urllib.parse import urljoin, urlsplit

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import Client

from tests.web.conftest import block
from zonatome.core.trace.usual import usual_shape
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job
from zonatome.web.jobs.services import hang_tag
from zonatome.web.lay.services import add_cloth, start_lay
from zonatome.web.rack.rooms import rooms_of
from zonatome.web.trace.services import held_as_panel, keep_shape

ODD = (
    "",
    " ",
    "0",
    "-1",
    "1",
    "12",
    "48 cm",
    "20 1/2 in",
    "1 1/4 yd",
    "9" * 30,
    "nan",
    "1e309",
    "abc",
    "½",
    "<b>x</b>",
    "'; --",
    "ä" * 400,
    "2026-02-30",
    "\x00",
    "true",
    "[]",
    "3,5",
    "1' 8\"",
)
NEVER = (
    "/logout/",
    "/login/",
    "/password/",
    "/workroom/people/",
    "/workroom/copy/",
    "/come-in/",
    "/units/",
    "/tags/bring-in/",
)
FINE = {200, 204, 302, 400, 403, 404, 405, 409, 413, 422}
FORMS_EACH = 3


class Page(HTMLParser):
    """The links and the forms of a page, with the fields that a browser would send."""

    def __init__(self, text: str) -> None:
        super().__init__()
        self.links: list[str] = []
        self.forms: list[dict] = []
        self.form: dict | None = None
        self.select: tuple[str, list[str], list[str]] | None = None
        self.feed(text)

    def handle_starttag(self, tag, attrs):
        told = dict(attrs)
        if tag == "a" and told.get("href"):
            self.links.append(told["href"])
        elif tag == "form":
            self.form = {
                "action": told.get("action") or "",
                "post": (told.get("method") or "get").lower() == "post",
                "fields": [],
                "buttons": [],
            }
            self.forms.append(self.form)
        elif self.form is not None and tag in ("input", "textarea") and told.get("name"):
            self.form["fields"].append(
                (told.get("type") or "text", told["name"], told.get("value") or "", "checked" in told)
            )
        elif self.form is not None and tag == "select" and told.get("name"):
            self.select = (told["name"], [], [])
        elif self.select is not None and tag == "option":
            self.select[1].append(told.get("value") or "")
            if "selected" in told:
                self.select[2].append(told.get("value") or "")
        elif self.form is not None and tag == "button" and told.get("name"):
            self.form["buttons"].append((told["name"], told.get("value") or ""))

    def handle_endtag(self, tag):
        if tag == "form":
            self.form = None
        elif tag == "select" and self.select is not None:
            name, options, chosen = self.select
            if self.form is not None:
                self.form["fields"].append(("select", name, (chosen or options or [""])[0], options))
            self.select = None


def filled(form: dict, told: random.Random) -> dict:
    """What is sent: mostly what stands there, now and then something odd in a box, another choice, another tick."""
    sent: dict = {}
    odd = told.random() < 0.45
    for kind, name, value, more in form["fields"]:
        if kind == "file":
            if told.random() < 0.5:
                sent[name] = SimpleUploadedFile(
                    told.choice(("a.jpg", "a.svg", "x" * 200)),
                    told.choice((b"", b"no", b"<svg/>", b"\xff\xd8\xff" * 9)),
                )
        elif kind in ("checkbox", "radio"):
            if bool(more) != (told.random() < 0.25):
                sent.setdefault(name, []).append(value)
        elif kind == "select":
            sent[name] = told.choice([*more, "odd"]) if told.random() < 0.4 and more else value
        elif kind == "hidden":
            sent[name] = told.choice(ODD) if odd and told.random() < 0.12 else value
        else:
            sent[name] = told.choice(ODD) if (odd or not value) and told.random() < 0.6 else value
    if form["buttons"] and told.random() < 0.8:
        name, value = told.choice(form["buttons"])
        sent[name] = value
    return {k: v for k, v in sent.items() if k != "csrfmiddlewaretoken"}


def at_home(address: str) -> bool:
    return address.startswith("/") and not any(address.startswith(n) for n in NEVER)


@pytest.fixture
def furnished(bench, skerry, workroom, strip_all) -> list[Job]:
    """A wing chair that is off and has its usual shapes and a lay, stools with a block, a bench on which nothing is
    done.
    """
    wing = hang_tag(title="Wing chair", client="Oriel House", kind="wing")
    strip_all(load_job(wing.number))
    add_cloth(load_job(wing.number), skerry, "main")
    for panel in load_job(wing.number).kind.panels:
        row = load_job(wing.number).parts_by_key()[panel.key]
        keep_shape(row, held_as_panel(row, usual_shape(panel)), "rectangle")
    stools = hang_tag(title="Stools", client="Reading Room", kind="square_stool", count=4)
    block(bench, stools)
    add_cloth(load_job(stools.number), skerry, "main")
    start_lay(load_job(stools.number).cloths.all()[0])
    bare = hang_tag(title="Bench", client="Quay", kind="bench_box")
    return [wing, stools, bare]


@pytest.mark.parametrize("seed", [int(s) for s in os.environ.get("ZONATOME_PRESSES", "3").split(",")])
def test_a_walk_of_random_presses_breaks_no_page_and_harms_nothing_that_is_stored(bench: Client, furnished, seed):
    told = random.Random(seed)
    numbers = [job.number for job in furnished]
    at, trail = "/", []
    for step in range(int(os.environ.get("ZONATOME_STEPS", "70"))):
        if step % 9 == 0 or not at_home(at):
            there = Job.objects.filter(number__in=numbers).order_by("?").first()
            at = told.choice(["/", "/cloths/", "/saved/", *(rooms_of(load_job(there.number)) if there else ())])
        answer = bench.get(at)
        trail.append(f"GET {at} {answer.status_code}")
        assert answer.status_code in FINE, trail[-6:]
        if answer.status_code != 200 or "html" not in answer["Content-Type"]:
            at = "/"
            continue
        page = Page(answer.content.decode())
        forms = [
            f for f in page.forms if f["post"] and at_home(urljoin(at, f["action"])) and "let-go" not in f["action"]
        ]
        for form in told.sample(forms, min(FORMS_EACH, len(forms))):
            where, sent = urlsplit(urljoin(at, form["action"])), filled(form, told)
            trail.append(
                f"POST {where.path} { {k: v if isinstance(v, (str, list)) else v.name for k, v in sent.items()} }"
            )
            pressed = bench.post(where.path + (f"?{where.query}" if where.query else ""), sent)
            assert pressed.status_code in FINE, trail[-6:]
            if pressed.status_code >= 400 and "html" in pressed["Content-Type"]:
                assert "Something broke" not in pressed.content.decode(), trail[-6:]
        for number in Job.objects.filter(number__in=numbers).values_list("number", flat=True):
            assert bench.get(f"/tags/{number}/strip/").status_code == 200, trail[-8:]
        rack = bench.get("/")
        assert rack.status_code == 200, trail[-8:]
        assert "damaged" not in rack.content.decode(), trail[-8:]
        links = [urljoin(at, link) for link in page.links]
        at = told.choice([link for link in links if at_home(link)] or ["/"])
    connection.check_constraints()
    for number in Job.objects.filter(number__in=numbers).values_list("number", flat=True):
        for room in rooms_of(load_job(number)):
            assert bench.get(room).status_code in (200, 302), (room, trail[-12:])
