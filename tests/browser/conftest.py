"""The application as `make demo` starts it, production server and worker, and Debian's Chromium to drive it."""

from __future__ import annotations

import http.cookiejar
import os
import re
import shutil
import signal
import socket
import sqlite3
import subprocess
import sys
import tempfile
import time
import urllib.parse
import urllib.request
from collections.abc import Iterator
from contextlib import closing
from dataclasses import dataclass, field
from pathlib import Path

import pytest
from playwright.sync_api import Browser, BrowserContext, ConsoleMessage, Error, Page, expect

expect.set_options(timeout=20_000)  # a busy machine with two cores is slow, not wrong
ROOT = Path(__file__).resolve().parents[2]
NAME, PASSWORD = "ines", "quayside"  # the sample login
CHROMIUMS = ("chromium-headless-shell", "chromium")  # Debian's: the one without windows begins sooner
CHROMIUM_ARGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1",  # what is asked of elsewhere fails, and is an error
]


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args):
    return {
        **browser_type_launch_args,
        "executable_path": os.environ.get("CHROMIUM") or next(filter(None, map(shutil.which, CHROMIUMS))),
        "args": CHROMIUM_ARGS,
    }


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args):
    return {**browser_context_args, "viewport": {"width": 1280, "height": 800}, "accept_downloads": True}


OF_THE_STORE = "SELECT id FROM lay_cloth WHERE name = ?"
OF_A_TAG = """SELECT c.id FROM lay_jobcloth c JOIN jobs_job j ON j.id = c.job_id JOIN lay_cloth s ON s.id = c.cloth_id
  WHERE j.number = ? AND s.name = ?"""


@dataclass
class Running:
    """A started application: where it is, its process and its data."""

    address: str
    process: subprocess.Popen
    home: Path
    cookies: list = field(default_factory=list)  # of one who has signed in

    def path(self, named: str) -> str:
        """Return a path with the number of what it names: a tag's cloth in `/tags/118/lay/{Skerry, slate}/`, a cloth of
        the store in `/cloths/{Skerry, slate}/`.
        """
        found = re.search(r"^/(?:tags/(\d+)/lay|cloths)/\{(.+)\}/", named)
        if found is None:
            return named
        tag, cloth = found.groups()
        with closing(sqlite3.connect(f"file:{self.home / 'workroom.sqlite3'}?mode=ro", uri=True)) as store:
            (number,) = store.execute(OF_A_TAG, (tag, cloth)) if tag else store.execute(OF_THE_STORE, (cloth,))
        return named.replace(f"{{{cloth}}}", str(number[0]))

    def worker_pid(self) -> int | None:
        """The background worker's process, found among the children."""
        tasks = Path(f"/proc/{self.process.pid}/task").glob("*/children")
        children = [int(pid) for task in tasks for pid in task.read_text().split()]
        for pid in children:
            if b"\0work\0" in Path(f"/proc/{pid}/cmdline").read_bytes():
                return pid
        return None


def _free_port() -> int:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        return int(taken.getsockname()[1])


def _plain_env(home: Path) -> dict[str, str]:
    return {k: v for k, v in os.environ.items() if not k.startswith("ZONATOME")} | {"ZONATOME_HOME": str(home)}


STATIC = tempfile.TemporaryDirectory(prefix="zonatome-static-")  # collected once for all that one process starts


def start(home: Path, *more: str, longest_search: float = 0.4) -> Running:
    """Start the application on a free port and wait until it answers. Its searches are short, two cores run all the
    tests.
    """
    port = _free_port()
    env = _plain_env(home) | {
        "ZONATOME_LONGEST_SEARCH": str(longest_search),
        "ZONATOME_PLAN_SECONDS": "0.2",
        "ZONATOME_STATIC": STATIC.name,
    }
    command = [sys.executable, "-W", "ignore::UserWarning", "manage.py", "serve", "--port", str(port), *more]
    with (home.parent / f"{home.name}.log").open("wb") as log:
        process = subprocess.Popen(command, cwd=ROOT, env=env, stdout=log, stderr=subprocess.STDOUT)
    address = f"http://127.0.0.1:{port}"
    for _ in range(600):
        try:
            with urllib.request.urlopen(f"{address}/login/", timeout=5):
                return Running(address, process, home)
        except OSError:
            assert process.poll() is None, (home.parent / f"{home.name}.log").read_text()
            time.sleep(0.25)
    raise AssertionError("the application did not answer in time")


def end(running: Running) -> None:
    """End it as Ctrl-C does."""
    running.process.send_signal(signal.SIGINT)
    try:
        running.process.wait(90)
    except subprocess.TimeoutExpired:
        running.process.kill()
        raise


@pytest.fixture(scope="module")
def empty(tmp_path_factory) -> Iterator[Running]:
    """An empty workroom."""
    running = start(tmp_path_factory.mktemp("empty") / "home")
    yield running
    end(running)


@dataclass
class AsItWas:
    """How a running workroom stood once: its store and its photos, to be set back to while it runs."""

    running: Running
    kept: Path

    def __post_init__(self) -> None:
        """Keep how it stands."""
        self.kept.mkdir()
        self.photos.mkdir(exist_ok=True)
        with closing(sqlite3.connect(self.store)) as now, closing(sqlite3.connect(self.kept / "store")) as copy:
            now.backup(copy)
        shutil.copytree(self.photos, self.kept / "photos")

    @property
    def store(self) -> Path:
        """The store of the running workroom."""
        return self.running.home / "workroom.sqlite3"

    @property
    def photos(self) -> Path:
        """Its photos."""
        return self.running.home / "photos"

    def back(self) -> None:
        """Set it back, the store in one piece."""
        with (
            closing(sqlite3.connect(self.kept / "store")) as copy,
            closing(sqlite3.connect(self.store, timeout=30)) as now,
        ):
            copy.backup(now)
        shutil.copytree(self.kept / "photos", self.photos, dirs_exist_ok=True)


PLANS = "SELECT state FROM fortnight_fortnightplan ORDER BY id DESC LIMIT 1"


def _come_to_rest(running: Running) -> None:
    """Sign in, look at the rack once and wait for the fortnight's plan, so that no test waits for it beside its own."""
    jar = http.cookiejar.CookieJar()
    opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(jar))
    login = f"{running.address}/login/"
    with opener.open(login) as page:
        token = re.search(r'csrfmiddlewaretoken" value="([^"]+)', page.read().decode())
    sent = {"username": NAME, "password": PASSWORD, "csrfmiddlewaretoken": token[1] if token else ""}
    with opener.open(urllib.request.Request(login, urllib.parse.urlencode(sent).encode(), {"Referer": login})) as page:
        assert page.url == f"{running.address}/"
    running.cookies = [{"name": c.name, "value": c.value, "url": running.address} for c in jar]
    with closing(sqlite3.connect(f"file:{running.home / 'workroom.sqlite3'}?mode=ro", uri=True)) as store:
        for _ in range(240):
            if store.execute(PLANS).fetchone() == ("done",):
                return
            time.sleep(0.25)
    raise AssertionError("the fortnight was not planned in a minute")


@pytest.fixture(scope="session")
def _sample(tmp_path_factory) -> Iterator[AsItWas]:
    where = tmp_path_factory.mktemp("sample")
    running = start(where / "home", "--sample")
    _come_to_rest(running)
    yield AsItWas(running, where / "as_it_was")
    end(running)


@pytest.fixture
def sample(_sample) -> Running:
    """The sample workroom as it is shipped: one that runs for all tests, set back before each."""
    _sample.back()
    return _sample.running


# A page leaves from the press on: the browser begins some milliseconds later, and a key pressed meanwhile is lost.
LEAVES = """(() => {
  const leaves = () => { window.leftAt = performance.now(); };
  addEventListener("beforeunload", leaves);
  addEventListener("click", (event) => {
    const link = event.target.closest?.("a[href]");
    if (!link || event.defaultPrevented || link.target || link.download || !link.protocol.startsWith("http")) return;
    if (!link.getAttribute("href").startsWith("#")) leaves();
  });
  addEventListener("submit", (event) => {
    if (!event.defaultPrevented && event.target.method !== "dialog" && !event.target.target) leaves();
  });
})();"""
# What is only asked of a page goes without the driver's own script, which costs a page more than it costs itself. One
# that leaves says nothing and is asked again where it leads to; one that only fetched a file stands after five seconds.
HEARD = """() => new Promise((done, failed) => {
  const root = document.documentElement;
  const stays = () => window.leftAt === undefined || performance.now() - window.leftAt > 5_000;
  const looked = () => root.dataset.keys === "on" && stays() && done(true);
  if (!document.querySelector("[x-data=benchKeys]")) return done(false);
  if (looked()) return;
  new MutationObserver(looked).observe(root, { attributes: true });
  setTimeout(looked, 5_100);
  setTimeout(() => failed(new Error("the page does not hear keys")), 20_000);
})"""


def asked(page: Page, script: str, told: object = None) -> object:
    """Ask the page that stands in the end, once it is read: one that leaves for another is waited for and asked again,
    and the driver may still take the one before it for the one that is just being read.
    """
    script = f"""async (told) => {{
      if (document.readyState === "loading") await new Promise((read) => addEventListener("DOMContentLoaded", read));
      return ({script})(told);
    }}"""
    for _ in range(20):
        page.wait_for_load_state("domcontentloaded")
        try:
            return page.evaluate(script, told)
        except Error as gone:
            if not re.search("destroyed|navigat|detached", str(gone)):
                raise
    raise AssertionError(f"{page.url} leads on and on")


@dataclass
class Keys:
    """A keyboard on which nobody presses a key before the page can hear it: one that has arrived has not yet run its
    scripts, and the one before it still stands until the next has answered.
    """

    page: Page

    def press(self, key: str) -> None:
        """Press one key, or several held together as in `Shift+ArrowRight`."""
        self.heard()
        self.page.keyboard.press(key)

    def heard(self) -> None:
        """Wait until the whole page is there and hears keys, whichever page it leads to meanwhile."""
        asked(self.page, HEARD)

    def type(self, text: str) -> None:
        """Type into what has the focus."""
        self.page.keyboard.type(text)


@dataclass
class Watched:
    """A page of which every console error is remembered, so also every request to elsewhere: none is answered."""

    page: Page
    running: Running
    wrong: list[str]

    @property
    def address(self) -> str:
        """Where the application answers."""
        return self.running.address

    @property
    def keys(self) -> Keys:
        """The keyboard of this page."""
        return Keys(self.page)

    def go(self, path: str) -> None:
        """Open a path of the application; see `Running.path`."""
        self.page.goto(self.address + self.running.path(path))

    def press(self, name: str) -> None:
        """Press a button by its words, whatever key stands on it."""
        self.page.get_by_role("button", name=re.compile(rf"^{re.escape(name)}\b")).first.click()


OPENED: list[BrowserContext] = []


@pytest.fixture(autouse=True)
def _closed() -> Iterator[None]:
    """Close every page that a test has opened: one that watches a lay or waits for photos goes on asking."""
    yield
    while OPENED:
        OPENED.pop().close()


def watch(browser: Browser, running: Running, **more) -> Watched:
    """Open a page and watch it."""
    context = browser.new_context(
        viewport=more.pop("viewport", {"width": 1280, "height": 800}), accept_downloads=True, **more
    )
    OPENED.append(context)
    context.add_init_script(LEAVES)
    page = context.new_page()
    page.set_default_timeout(40_000)
    watched = Watched(page, running, [])

    def says(message: ConsoleMessage) -> None:
        if message.type in ("error", "warning"):
            watched.wrong.append(f"{message.type}: {message.text}")
            print(message.text, message.location)

    page.on("console", says)
    page.on("pageerror", lambda e: watched.wrong.append(f"page error: {e}"))
    return watched


def sign_in(watched: Watched) -> None:
    """Be signed in with the sample login: by its form where nobody has been before."""
    if watched.running.cookies:
        watched.page.context.add_cookies(watched.running.cookies)
    else:
        sign_in_by_form(watched)


def sign_in_by_form(watched: Watched) -> None:
    """Sign in with the sample login and arrive at the rack."""
    watched.go("/login/")
    watched.page.get_by_label("Username").fill(NAME)
    watched.page.get_by_label("Password").fill(PASSWORD)
    watched.press("Sign in")
    watched.page.wait_for_url(watched.address + "/")


def touched(page: Page, *steps: tuple[str, tuple[float, float] | None]) -> None:
    """Touch the screen, as a thumb does."""
    thumb = page.context.new_cdp_session(page)
    for kind, at in steps:
        thumb.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": [{"x": at[0], "y": at[1]}] if at else []})
