"""Every door of a page: what can be pressed on it, what a press does, and the store set back before the next one."""

from __future__ import annotations

import re
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from urllib.parse import parse_qsl, urlsplit

from playwright.sync_api import Browser, Page, Request, Response

from tests.browser.conftest import Running, Watched, sign_in, watch

DOORS = """() => {
  for (const each of document.querySelectorAll("main details")) each.open = true;
  const shown = (e) => e.getClientRects().length && !e.disabled && getComputedStyle(e).visibility !== "hidden";
  const at = (e) => (e.closest("dialog") ? "" : e.closest("header") ? "header" : e.closest("main") ? "main" : "tape");
  let many = 0;
  const found = [];
  for (const each of document.querySelectorAll("button, summary, input[type=submit], [data-key]")) {
    const face = each.closest("label") ?? each;
    if (!shown(face) || each.disabled || !at(each)) continue;
    face.dataset.door = many;
    const form = each.form && each.type !== "button" ? each.form : null;
    found.push({
      many: many++,
      where: at(each),
      kind: each.tagName.toLowerCase() + (each.type ? `.${each.type}` : ""),
      words: face.textContent.trim().replace(/\\s+/g, " ").slice(0, 60),
      leads: form ? `${form.method} ${form.getAttribute("action") ?? ""}` : each.getAttribute("href") ?? each.getAttribute("x-on:click") ?? "",
      name: each.name ?? "",
      key: each.dataset.key ?? "",
      isTaken: at(each) === "header" && Boolean(document.querySelector(`main [data-key="${CSS.escape(each.dataset.key || "-")}"]`)),
    });
  }
  return found;
}"""
STANDS = """() => {
  const on = document.activeElement;
  const told = (e) => [e.tagName, e.name ?? "", e.getAttribute("href") ?? "", e.dataset.key ?? ""].join(" ");
  return {
    focus: ["INPUT", "TEXTAREA", "SELECT"].includes(on.tagName) ? told(on) : "",
    open: [...document.querySelectorAll("dialog[open], main details[open]")].map((e) => e.id || e.textContent.trim().slice(0, 40)),
    words: document.querySelector("main").innerText.replace(/\\s+/g, " "),
  };
}"""
IN_WORDS = ".notice--refused, .box__wrong, .notice, .invalid-feedback, .refused, .errorlist"
PASSING = re.compile(r"\d+ s\b|\d+:\d\d(:\d\d)?|\d+ seconds?|just now|\d+ min(utes)? ago")


@dataclass
class Door:
    """Something of a page that can be pressed."""

    many: int
    where: str
    kind: str
    words: str
    leads: str
    name: str
    key: str
    isTaken: bool  # noqa: N815  # as the page's script says it

    def sort(self, path: str) -> tuple[str, ...]:
        """What it does, whichever tag, panel or cloth it does it to: one of a sort stands for all."""
        page = "" if self.where == "header" else pattern(path)
        return (page, self.kind, pattern(self.leads), self.name, self.key)


def pattern(address: str) -> str:
    """An address without its numbers and its panels."""
    return re.sub(
        r"(look|part|way|again|walk|plot|q|home)=[^&]*",
        r"\1=",
        re.sub(r"(trace|fasten|look)/[a-z_]+/", r"\1/P/", re.sub(r"\d+", "N", address)),
    )


@dataclass
class Pressed:
    """What came of a press."""

    asked: list[tuple[str, str, tuple]] = field(default_factory=list)
    wrong: list[str] = field(default_factory=list)
    url: str = ""
    stands: dict = field(default_factory=dict)

    @property
    def does(self) -> tuple:
        """What is the same when the key beside a button is pressed instead of the button."""
        words = PASSING.sub("", self.stands.get("words", ""))
        return (tuple(self.asked), self.url, self.stands.get("focus"), tuple(self.stands.get("open", ())), words)


@dataclass
class House:
    """A running workroom that is set back to how it stood after each press."""

    running: Running
    watched: Watched
    kept: Path
    cookies: list

    @property
    def page(self) -> Page:
        return self.watched.page

    @property
    def store(self) -> Path:
        return self.running.home / "workroom.sqlite3"

    def back(self) -> None:
        """Set the store back, in one piece and while the application runs, and sign in as before."""
        with sqlite3.connect(self.kept) as kept, sqlite3.connect(self.store, timeout=30) as now:
            kept.backup(now)
        kept.close()
        now.close()
        self.page.context.clear_cookies()
        self.page.context.add_cookies(self.cookies)

    def doors(self, path: str) -> list[Door]:
        """Open a page and return what can be pressed on it."""
        self.watched.go(path)
        self.watched.keys.heard()
        return [Door(**found) for found in self.page.evaluate(DOORS)]

    @contextmanager
    def watching(self) -> Iterator[Pressed]:
        """Note what is asked of the application and what it answers, until the page rests."""
        pressed = Pressed()

        def asks(request: Request) -> None:
            if request.resource_type in ("document", "fetch", "xhr") and "/lay/" + "state" not in request.url:
                where = urlsplit(request.url)
                sent = (
                    tuple(p for p in parse_qsl(request.post_data or "") if p[0] != "csrfmiddlewaretoken")
                    if request.method == "POST"
                    else ()
                )
                if request.method == "POST" or request.resource_type == "document":
                    pressed.asked.append((request.method, f"{where.path}?{where.query}", sent))

        def answers(response: Response) -> None:
            if response.status >= 400:
                pressed.wrong.append(f"{response.status} {response.request.method} {urlsplit(response.url).path}")

        before = len(self.watched.wrong)
        self.page.on("request", asks)
        self.page.on("response", answers)
        try:
            yield pressed
            self.rest()
        finally:
            self.page.remove_listener("request", asks)
            self.page.remove_listener("response", answers)
        pressed.url = urlsplit(self.page.url).path + "?" + urlsplit(self.page.url).query
        pressed.stands = self.page.evaluate(STANDS)
        said = self.page.locator(IN_WORDS).first.is_visible() or "refused" in (self.page.locator("body").get_attribute("class") or "")
        refused = [w for w in pressed.wrong if w.startswith("4") and not w.startswith(("403", "405", "404")) and said]
        pressed.wrong = [w for w in pressed.wrong if w not in refused]
        console = self.watched.wrong[before:]
        del self.watched.wrong[before:]
        pressed.wrong += [w for w in console if not (refused and "Failed to load resource" in w)]

    def rest(self) -> None:
        """Wait until the page that a press leads to is there, and hears keys."""
        self.page.wait_for_timeout(60)
        self.page.wait_for_load_state("load")
        if self.page.locator("html[data-keys]").count() or self.page.locator("[x-data=benchKeys]").count():
            self.watched.keys.heard()
        self.page.wait_for_timeout(40)

    def press(self, path: str, door: Door, how: str) -> Pressed:
        """On a fresh copy: press a door of a page by its button or by its key."""
        self.back()
        self.doors(path)
        with self.watching() as pressed:
            if how == "key":
                self.page.keyboard.press(
                    {"ctrl z": "Control+z", "space": "Space", "enter": "Enter", "escape": "Escape", "backspace": "Backspace"}.get(
                        door.key, door.key
                    )
                )
            else:
                self.page.locator(f"[data-door='{door.many}']").first.click(timeout=4000)
        return pressed


def house(browser: Browser, running: Running, kept: Path) -> House:
    """Sign in and keep how the workroom stands."""
    watched = watch(browser, running)
    sign_in(watched)
    with sqlite3.connect(running.home / "workroom.sqlite3") as now, sqlite3.connect(kept) as copy:
        now.backup(copy)
    now.close()
    copy.close()
    return House(running, watched, kept, watched.page.context.cookies())
