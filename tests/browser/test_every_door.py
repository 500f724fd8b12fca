"""Every page looked at, every button and every key of it pressed on a fresh copy; presses at random with odd things
typed, undo among them.
"""

from __future__ import annotations

import os
import random
import re
import sqlite3
import zlib
from urllib.parse import urljoin

import pytest
from playwright.sync_api import Error, expect

from tests.browser.conftest import Running, asked, end, start, watch
from tests.browser.doors import REFUSED, STILL, Door, House, house, kept_as_it_is, pattern
from tests.browser.views import VIEWS, Opened, opened_each

pytestmark = pytest.mark.browser
EMPTY_VIEWS = [
    "/",
    "/tags/new/",
    "/cloths/",
    "/saved/",
    "/tags/bring-in/",
    "/workroom/",
    "/workroom/rules/",
    "/workroom/people/",
    "/phone/",
    "/password/",
    "/taken-down/",
    "/fortnight/",
    "/fortnight/hours/",
    "/stock/",
    "/record/",
    "/workroom/tools/",
]
WHICH = os.environ.get(
    "ZONATOME_DOORS", "some"
)  # some: a third of the sorts, as many as CI has time for; sorts: one of each; every: all of them
ODD = (
    "",
    " ",
    "0",
    "-1",
    "12",
    "48 cm",
    "20 1/2 in",
    "9" * 30,
    "nan",
    "1e309",
    "abc",
    "½",
    "<b>x</b>",
    "'; --",
    "ä" * 200,
    "2026-02-30",
    "3,5",
)
TYPE_INTO = """(n) => {
  const boxes = ":is(input[type=text], input:not([type]), textarea):enabled:read-write";
  const typed = {};
  for (const box of document.querySelectorAll("main form[method=post]")[n].querySelectorAll(boxes)) {
    if (!box.getClientRects().length) continue;
    box.focus();
    box.value = typed[box.name] = "½ abc".slice(0, box.maxLength > 0 ? box.maxLength : 80);
    box.dispatchEvent(new Event("input", { bubbles: true }));
    box.dispatchEvent(new Event("change", { bubbles: true }));
  }
  return typed;
}"""
BOXES = """() => {
  const kinds = "input:is([type=text], [type=number], [type=search], :not([type])), textarea";
  const boxes = [...document.querySelectorAll("main form[method=post]")].flatMap((f) => [...f.querySelectorAll(kinds)]);
  window.boxes = boxes.filter((e) => e.getClientRects().length);
  return window.boxes.map((e) => [e.name, e.type, e.matches(":enabled:read-write")]);
}"""
TYPE = """([n, words]) => {
  window.boxes[n].value = words;
  window.boxes[n].dispatchEvent(new Event("input", { bubbles: true }));
}"""


def is_tried(sort: object) -> bool:
    """Whether this sort of door is one of those that are tried in this run."""
    return WHICH != "some" or zlib.crc32(repr(sort).encode()) % 3 == 0


VIEWS_OPENED: list[Opened] = []


def opened_views(at: House, sample: Running) -> list[Opened]:
    """The pages of the sample workroom, opened once for the tests that look at them and press on them."""
    if not VIEWS_OPENED:
        VIEWS_OPENED.extend(opened_each(at, [sample.path(view) for view in VIEWS]))
    return VIEWS_OPENED


def tried(at: House, views: list[Opened]) -> list[str]:
    """Press every button of these pages, follow every link that has a key; what went wrong, with their keys."""
    wrong: list[str] = []
    known: set[tuple[str, ...]] = set()
    for view in views:
        path = view.path
        wrong += [f"{path}: {w}" for w in view.astray]
        for door in view.doors:
            if (door.sort(path) in known and WHICH != "every") or "file" in door.kind:
                continue
            known.add(door.sort(path))
            if not is_tried(door.sort(path)):
                continue
            what = f"{path} [{door.words or door.name}] {door.leads}"
            if door.kind == "a":
                led = at.page.request.get(urljoin(at.running.address + path, door.leads))
                wrong += [f"{what}: {led.status}"] if not led.ok else []
                continue
            try:
                wrong += [f"{what}: {w}" for w in at.press(path, door).wrong]
            except Error as missed:
                wrong.append(f"{what}: {str(missed).splitlines()[0]}")
    return wrong


def test_every_view_opens_clean_fits_every_screen_and_is_open_to_all(browser, sample, tmp_path):
    at = house(browser, sample, tmp_path / "kept")
    assert [f"{view.path}: {wrong}" for view in opened_views(at, sample) for wrong in view.wrong] == []


def test_every_door_of_the_sample_workroom(browser, sample, tmp_path):
    at = house(browser, sample, tmp_path / "kept")
    assert tried(at, opened_views(at, sample)) == []


def test_every_door_of_an_empty_workroom(browser, tmp_path):
    running = start(tmp_path / "home")
    try:
        at = opened(browser, running, tmp_path / "kept")
        views = opened_each(at, EMPTY_VIEWS)
        assert [f"{view.path}: {wrong}" for view in views for wrong in view.wrong] == []
        assert tried(at, views) == []
    finally:
        end(running)


def test_what_was_typed_stands_there_after_a_refusal(browser, sample, tmp_path):
    at = house(browser, sample, tmp_path / "kept")
    lost, known, looked_at = [], set(), 0
    for view in opened_views(at, sample):
        path = view.path
        at.back()
        for n, action in enumerate(view.forms):
            sort = pattern(action or path)
            if action is None or sort in known:
                continue
            known.add(sort)
            if not is_tried(sort):
                continue
            at.doors(path)
            typed = at.page.evaluate(TYPE_INTO, n)
            with at.watching() as pressed:
                at.page.evaluate("(n) => document.querySelectorAll('main form[method=post]')[n].requestSubmit()", n)
            assert not pressed.wrong, (path, sort, pressed.wrong)
            if pressed.posted and asked(at.page, REFUSED, ".notice--refused, .box__wrong"):
                shown = at.page.evaluate(
                    "[...document.querySelectorAll('main input, main textarea')].map(e => e.value)"
                )
                looked_at += len(typed)
                lost += [f"{path} {sort} {name}" for name, told in typed.items() if told not in shown]
    assert not lost, "\n".join(lost)
    assert len(known) > 20
    assert looked_at > 5, "boxes that were typed into and refused"


@pytest.mark.parametrize("seed", [int(s) for s in os.environ.get("ZONATOME_PRESSES", "5").split(",")])
def test_presses_at_random_break_nothing_and_harm_nothing_that_is_stored(browser, sample, tmp_path, seed):
    at = house(browser, sample, tmp_path / "kept")
    at.back()
    told, trail, refused = random.Random(seed), [], False
    for step in range(int(os.environ.get("ZONATOME_STEPS", "25"))):
        if step % 8 == 0 or refused:
            at.page.context.add_cookies(at.cookies)
            path = sample.path(told.choice(VIEWS))
        else:
            path = at.page.url.removeprefix(at.running.address)
        doors = [
            d
            for d in at.doors(path)
            if "Sign out" not in d.words and "file" not in d.kind and not d.leads.startswith("get")
        ]
        undo = [d for d in doors if d.key == "ctrl z" or "Undo" in d.words or "back" in d.words]
        boxes = at.page.evaluate(BOXES)
        for _ in range(told.choice((0, 0, 1, 3)) if boxes else 0):
            n, odd = told.randrange(len(boxes)), told.choice(ODD)
            name, kind, may_be_typed_in = boxes[n]
            if may_be_typed_in and (kind != "number" or re.fullmatch(r"-?\d+", odd)):
                at.page.evaluate(TYPE, [n, odd])
                trail.append(f"{name}={odd}")
        door: Door = told.choice(undo if undo and told.random() < 0.25 else doors)
        trail.append(f"{path} [{door.words}]")
        with at.watching() as pressed:
            at.page.evaluate("(many) => document.querySelector(`[data-door='${many}']`).click()", door.many)
        assert not pressed.wrong, (pressed.wrong, trail[-8:])
        refused = pressed.refused
        with sqlite3.connect(f"file:{at.as_it_was.store}?mode=ro", uri=True, timeout=30) as store:
            assert store.execute("PRAGMA integrity_check").fetchall() == [("ok",)], trail[-8:]
            assert store.execute("PRAGMA foreign_key_check").fetchall() == [], trail[-8:]
        store.close()
    at.watched.go("/")
    expect(at.page.locator(".tag").first).to_be_visible()
    assert "damaged" not in at.page.locator("main").inner_text(), trail


def opened(browser, running, kept) -> House:
    """Open an empty workroom as its first owner does."""
    watched = watch(browser, running, **STILL)
    watched.go("/welcome/")
    watched.page.get_by_label("Your workroom").fill("Mole End")
    watched.page.get_by_label("Your name to sign in").fill("mole")
    watched.page.get_by_label("Password").fill("whitewash-and-brush")
    watched.press("Open it")
    watched.page.wait_for_url(running.address + "/")
    return kept_as_it_is(running, watched, kept)
