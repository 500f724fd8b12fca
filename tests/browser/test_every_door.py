"""Every button and every key of every page, pressed on a fresh copy; presses at random with odd things typed, undo among them."""

from __future__ import annotations

import os
import random
import re
import sqlite3

import pytest
from playwright.sync_api import Error, expect

from tests.browser.conftest import end, start
from tests.browser.doors import Door, House, house
from tests.browser.test_sample import VIEWS

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
]
EVERYWHERE = os.environ.get("ZONATOME_DOORS") == "every"  # every button of every page, not one of each sort
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
BOXES = "main form[method=post] input:is([type=text], [type=number], [type=search], :not([type])):visible, main form[method=post] textarea:visible"


def tried(at: House, views: list[str]) -> list[str]:
    """Press every door of these pages by its button, and by its key where it has one; what went wrong."""
    wrong: list[str] = []
    known: set[tuple[str, ...]] = set()
    for path in views:
        at.back()
        doors = at.doors(path)
        for door in doors:
            sort = door.sort(path)
            if (sort in known and not EVERYWHERE) or "file" in door.kind:
                continue
            known.add(sort)
            what = f"{path} [{door.words or door.name}] {door.leads}"
            try:
                by_hand = at.press(path, door, "button")
            except Error as missed:
                wrong.append(f"{what}: {str(missed).splitlines()[0]}")
                continue
            wrong += [f"{what}: {w}" for w in by_hand.wrong]
            if door.key and not door.isTaken and door.key != "/":
                by_key = at.press(path, door, "key")
                wrong += [f"{what} by key {door.key}: {w}" for w in by_key.wrong]
                if by_key.does != by_hand.does:
                    differ = [f"{a!r:.300} / {b!r:.300}" for a, b in zip(by_hand.does, by_key.does, strict=True) if a != b]
                    wrong.append(f"{what}: the key {door.key} does something else: {differ}")
    return wrong


def test_every_door_of_the_sample_workroom(browser, sample, tmp_path):
    at = house(browser, sample, tmp_path / "kept.sqlite3")
    assert tried(at, [v for v in VIEWS if "999" not in v]) == []


def test_every_door_of_an_empty_workroom(browser, tmp_path):
    running = start(tmp_path / "home")
    try:
        at = opened(browser, running, tmp_path / "kept.sqlite3")
        assert tried(at, EMPTY_VIEWS) == []
    finally:
        end(running)


def test_what_was_typed_stands_there_after_a_refusal(browser, sample, tmp_path):
    at = house(browser, sample, tmp_path / "kept.sqlite3")
    lost, forms = [], set()
    for path in [v for v in VIEWS if "999" not in v]:
        at.back()
        at.doors(path)
        for n in range(at.page.locator("main form[method=post]").count()):
            at.doors(path)
            form = at.page.locator("main form[method=post]").nth(n)
            boxes = form.locator("input:is([type=text], [type=number], :not([type])):visible:enabled, textarea:visible:enabled")
            sort = (form.get_attribute("action") or path).rstrip("0123456789/")
            if not boxes.count() or sort in forms:
                continue
            forms.add(sort)
            typed = {}
            for k in range(boxes.count()):
                box = boxes.nth(k)
                name = box.get_attribute("name")
                if name and box.get_attribute("type") != "number" and not box.get_attribute("readonly"):
                    typed[name] = "½ abc"[: int(box.get_attribute("maxlength") or 80)]
                    box.fill(typed[name])
            with at.watching() as pressed:
                form.locator("button:not([type=button]):visible").first.click(timeout=4000)
            if (
                any(method == "POST" for method, _, _ in pressed.asked)
                and at.page.locator(".notice--refused:visible, .box__wrong:visible").count()
            ):
                shown = at.page.evaluate("[...document.querySelectorAll('main input, main textarea')].map(e => e.value)")
                lost += [f"{path} {form} {name}" for name, told in typed.items() if told not in shown]
            assert not pressed.wrong, (path, sort, pressed.wrong)
    assert lost == []
    assert len(forms) > 20


@pytest.mark.parametrize("seed", [int(s) for s in os.environ.get("ZONATOME_PRESSES", "5").split(",")])
def test_presses_at_random_break_nothing_and_harm_nothing_that_is_stored(browser, sample, tmp_path, seed):
    at = house(browser, sample, tmp_path / "kept.sqlite3")
    at.back()
    told, trail = random.Random(seed), []
    for step in range(int(os.environ.get("ZONATOME_STEPS", "60"))):
        if step % 8 == 0:
            at.page.context.add_cookies(at.cookies)
            path = told.choice(VIEWS)
        else:
            path = at.page.url.removeprefix(at.running.address)
        doors = [d for d in at.doors(path) if "Sign out" not in d.words and "file" not in d.kind and not d.leads.startswith("get")]
        undo = [d for d in doors if d.key == "ctrl z" or "Undo" in d.words or "back" in d.words]
        boxes = at.page.locator(BOXES)
        for _ in range(told.choice((0, 0, 1, 3)) if boxes.count() else 0):
            box, odd = boxes.nth(told.randrange(boxes.count())), told.choice(ODD)
            if box.is_editable() and (box.get_attribute("type") != "number" or re.fullmatch(r"-?\d+", odd)):
                box.fill(odd)
                trail.append(f"{box.get_attribute('name')}={odd}")
        door: Door = told.choice(undo if undo and told.random() < 0.25 else doors)
        trail.append(f"{path} [{door.words}]")
        with at.watching() as pressed:
            at.page.locator(f"[data-door='{door.many}']").first.click(timeout=4000, force=True)
        assert not pressed.wrong, (pressed.wrong, trail[-8:])
        with sqlite3.connect(f"file:{at.store}?mode=ro", uri=True, timeout=30) as store:
            assert store.execute("PRAGMA integrity_check").fetchall() == [("ok",)], trail[-8:]
            assert store.execute("PRAGMA foreign_key_check").fetchall() == [], trail[-8:]
        store.close()
    at.watched.go("/")
    expect(at.page.locator(".tag").first).to_be_visible()
    assert "damaged" not in at.page.locator("main").inner_text(), trail


def opened(browser, running, kept) -> House:
    """Open an empty workroom as its first owner does."""
    from tests.browser.conftest import watch

    watched = watch(browser, running)
    watched.go("/welcome/")
    watched.page.get_by_label("Workroom").fill("Mole End")
    watched.page.get_by_label("Name").last.fill("rat") if watched.page.get_by_label("Username").count() == 0 else watched.page.get_by_label(
        "Username"
    ).fill("rat")
    watched.page.get_by_label("Password").fill("messing-in-boats")
    watched.page.locator("main form button").last.click()
    watched.page.wait_for_url(running.address + "/")
    with sqlite3.connect(running.home / "workroom.sqlite3") as now, sqlite3.connect(kept) as copy:
        now.backup(copy)
    return House(running, watched, kept, watched.page.context.cookies())
