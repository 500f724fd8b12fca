"""Every door of a page: what can be pressed on it, what a press does, and the store set back before the next one."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from urllib.parse import urlsplit

from playwright.sync_api import Browser, Page, Request, Response

from tests.browser.conftest import AsItWas, Running, Watched, asked, sign_in, watch

DOORS = """() => {
  for (const each of document.querySelectorAll("main details")) each.open = true;
  const shown = (e) => e.getClientRects().length && !e.disabled && getComputedStyle(e).visibility !== "hidden";
  const at = (e) => (e.closest("dialog") ? "" : e.closest("header") ? "header" : e.closest("main") ? "main" : "tape");
  let many = 0;
  const found = [];
  for (const each of document.querySelectorAll("button, summary, input[type=submit], [data-key]")) {
    const face = each.closest("label") ?? each;
    if (!shown(face) || each.disabled || !at(each) || each.closest("[aria-hidden=true]")) continue;
    face.dataset.door = many;
    const form = each.form && each.type !== "button" ? each.form : null;
    found.push({
      many: many++,
      where: at(each),
      kind: each.tagName.toLowerCase() + (each.type ? `.${each.type}` : ""),
      words: face.textContent.trim().replace(/\\s+/g, " ").slice(0, 60),
      leads: form
        ? `${form.method} ${form.getAttribute("action") ?? ""}`
        : each.getAttribute("href") ?? each.getAttribute("x-on:click") ?? "",
      name: each.name ?? "",
      key: each.dataset.key ?? "",
      isTaken:
        at(each) === "header" &&
        Boolean(document.querySelector(`main [data-key="${CSS.escape(each.dataset.key || "-")}"]`)),
    });
  }
  return found;
}"""
# Each click is caught before it does anything; after each key it is noted what was caught and where the focus went, and
# nothing is held for the next one.
CAUGHT = """() => {
  window.cameOfKeys = [];
  let caught = [];
  const door = (element) => element.closest("[data-door]")?.dataset.door;
  document.addEventListener("click", (event) => {
    caught.push(door(event.target) ?? "nothing");
    event.preventDefault();
    event.stopImmediatePropagation();
  }, true);
  window.addEventListener("keyup", (event) => {
    if (event.key === "Control") return;
    window.cameOfKeys.push([caught, door(document.activeElement) ?? ""]);
    document.activeElement.blur();
    caught = [];
  }, true);
  document.activeElement.blur();
}"""
# Where a door can be touched: none where something lies over it.
AT = """(many) => {
  const door = document.querySelector(`[data-door="${many}"]`);
  door.scrollIntoView({ block: "center", inline: "center", behavior: "instant" });
  const { x, y, width, height } = door.getClientRects()[0];
  const at = [x + width / 2, y + height / 2];
  const touched = document.elementFromPoint(...at);
  return touched && (door.contains(touched) || touched.contains(door)) ? at : null;
}"""
STILL = {"reduced_motion": "reduce"}  # or a colour would be judged on its way from one to another
REFUSED = """(words) => [...document.querySelectorAll(words)].some((e) => e.getClientRects().length)"""
KEYS = {"ctrl z": "Control+z", "space": "Space", "enter": "Enter", "escape": "Escape", "backspace": "Backspace"}
IN_WORDS = ".notice--refused, .box__wrong, .notice, .invalid-feedback, .refused, .errorlist"


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
        page = pattern(path) if self.where == "main" and not self.leads.startswith("post") else ""
        return (page, self.kind, pattern(self.leads), self.name)


def pattern(address: str) -> str:
    """An address without its numbers and its panels."""
    return re.sub(
        r"(look|part|way|again|walk|plot|q|home)=[^&]*",
        r"\1=",
        re.sub(r"(trace|fasten|look|practice|rehearse)/[a-z_]+/", r"\1/P/", re.sub(r"\d+", "N", address)),
    )


@dataclass
class Pressed:
    """What came of a press."""

    posted: list[str] = field(default_factory=list)
    wrong: list[str] = field(default_factory=list)
    refused: bool = False
    leaves: bool = False
    unanswered: set[Request] = field(default_factory=set)  # what was sent and the pages asked for


@dataclass
class House:
    """A running workroom that is set back to how it stood after each press."""

    running: Running
    watched: Watched
    as_it_was: AsItWas
    cookies: list

    @property
    def page(self) -> Page:
        return self.watched.page

    def back(self) -> None:
        """Set the workroom back while it runs, and sign in as before."""
        self.as_it_was.back()
        self.page.context.clear_cookies()
        self.page.context.add_cookies(self.cookies)

    def doors(self, path: str) -> list[Door]:
        """Open a page as one who has opened nothing before and return what can be pressed on it."""
        self.watched.go(path)
        if self.page.evaluate("Boolean(sessionStorage.getItem('in the round'))"):
            self.page.evaluate("sessionStorage.removeItem('in the round')")
            self.watched.go(path)
        self.watched.keys.heard()
        return [Door(**found) for found in self.page.evaluate(DOORS)]

    @contextmanager
    def watching(self) -> Iterator[Pressed]:
        """Note what is asked of the application and what it answers, until the page rests."""
        pressed = Pressed()

        def asks(request: Request) -> None:
            if request.method == "POST":
                pressed.posted.append(urlsplit(request.url).path)
            pressed.leaves |= request.is_navigation_request()
            if request.method == "POST" or request.is_navigation_request():
                pressed.unanswered.add(request)

        def is_over(request: Request) -> None:
            pressed.unanswered.discard(request)

        def answers(response: Response) -> None:
            is_over(response.request)
            if response.status >= 400:
                pressed.wrong.append(f"{response.status} {response.request.method} {urlsplit(response.url).path}")

        before = len(self.watched.wrong)
        self.page.on("request", asks)
        self.page.on("response", answers)
        self.page.on("requestfailed", is_over)
        try:
            yield pressed
            self.rest(pressed)
        finally:
            self.page.remove_listener("requestfailed", is_over)
            self.page.remove_listener("request", asks)
            self.page.remove_listener("response", answers)
        answered = [w for w in pressed.wrong if w.startswith("4") and not w.startswith(("403", "405", "404"))]
        refused = answered if answered and self.is_said() else []
        pressed.wrong = [w for w in pressed.wrong if w not in refused]
        pressed.refused = bool(refused)
        console = self.watched.wrong[before:]
        del self.watched.wrong[before:]
        pressed.wrong += [w for w in console if not (refused and "Failed to load resource" in w)]

    def is_said(self) -> bool:
        """Whether the page says a refusal in words, soon after it was answered: a script writes them a moment later."""
        for _ in range(100):
            if asked(self.page, REFUSED, IN_WORDS):
                return True
            self.page.wait_for_timeout(20)
        return False

    def rest(self, pressed: Pressed) -> None:
        """Wait until what a press sent is answered, and the page that it leads to is there and hears keys."""
        for waited in range(0, 20_000, 10):
            if not pressed.unanswered and (pressed.leaves or waited >= 60):  # scripts take a moment over an answer
                break
            self.page.wait_for_timeout(10)
        self.page.wait_for_load_state("load")
        self.watched.keys.heard()

    def press(self, path: str, door: Door) -> Pressed:
        """On a fresh copy: press a door of a page."""
        self.back()
        self.doors(path)
        with self.watching() as pressed:
            self.touch(door)
        return pressed

    def touch(self, door: Door) -> None:
        """Touch a door of the page that stands open where it is seen."""
        at = self.page.evaluate(AT, door.many)
        if at is None:  # under something that stays while the page is scrolled: the driver tries other places
            self.page.locator(f"[data-door='{door.many}']").first.click(timeout=15_000)
        else:
            self.page.mouse.click(*at)

    def led_astray(self, doors: list[Door]) -> list[str]:
        """Press every key of the page that stands open, each click caught before it does anything; the keys that press
        another door.
        """
        by_key: dict[str, Door] = {}
        for door in sorted((d for d in doors if d.key and not d.isTaken), key=lambda d: d.where != "main"):
            by_key.setdefault(door.key, door)
        self.page.evaluate(CAUGHT)
        for key in by_key:
            self.page.keyboard.press(KEYS.get(key, key))
        return [
            f"the key {door.key} of [{door.words}] presses {caught or focus or 'nothing'}"
            for door, (caught, focus) in zip(by_key.values(), self.page.evaluate("window.cameOfKeys"), strict=True)
            if caught[:1] != [str(door.many)] and focus != str(door.many)
        ]


def house(browser: Browser, running: Running, kept: Path) -> House:
    """Sign in and keep how the workroom stands."""
    watched = watch(browser, running, **STILL)
    sign_in(watched)
    return kept_as_it_is(running, watched, kept)


def kept_as_it_is(running: Running, watched: Watched, kept: Path) -> House:
    """Keep how a workroom stands, somebody having signed in."""
    return House(running, watched, AsItWas(running, kept), watched.page.context.cookies())
