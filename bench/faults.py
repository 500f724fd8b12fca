"""kill -9 of any process at any time: nothing that was acknowledged may be lost, and the store stays sound.

    python -m bench.faults [--rounds 100] [--seed 1]

Starts the application on a folder of its own, presses (tags, bags, staples, photos, lays) and kills site, worker or
both with SIGKILL at a random moment, again and again; starts it once more and compares what was answered with what is
stored.
"""

from __future__ import annotations

import argparse
import io
import os
import random
import re
import signal
import sqlite3
import subprocess
import sys
import tempfile
import threading
import time
import urllib.error
import urllib.parse
import urllib.request
from contextlib import closing
from http.cookiejar import CookieJar
from pathlib import Path

from PIL import Image

ROOT = Path(__file__).resolve().parents[1]
TOKEN = re.compile(r'csrfmiddlewaretoken" value="([^"]+)')


class Presser:
    """A browser without a screen, signed in; remembers what was answered as kept."""

    def __init__(self, address: str) -> None:
        """Sign in with the sample login."""
        self.address = address
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(CookieJar()))
        self.post("/login/", {"username": "ines", "password": "quayside"}, at="/login/")

    def get(self, path: str) -> str:
        """Open a page."""
        with self.opener.open(self.address + path, timeout=20) as answer:
            return str(answer.read().decode(errors="replace"))

    def post(self, path: str, fields: dict[str, str], *, at: str = "/tags/new/") -> str:
        """Send a form with the token of a page; return where it led."""
        token = TOKEN.search(self.get(at))
        data = urllib.parse.urlencode({**fields, "csrfmiddlewaretoken": token[1] if token else ""}).encode()
        with self.opener.open(self.address + path, data=data, timeout=20) as answer:
            return str(answer.geturl())

    def photo(self, path: str, number: int) -> None:
        """Send a photo."""
        made = io.BytesIO()
        Image.new("RGB", (200 + number % 50, 120), "tan").save(made, "JPEG")
        token = TOKEN.search(self.get("/tags/new/"))
        parts = [
            ("csrfmiddlewaretoken", None, (token[1] if token else "").encode()),
            ("words", None, f"kept {number}".encode()),
        ]
        parts.append(("photo", "p.jpg", made.getvalue()))
        body = b""
        for name, file, content in parts:
            head = f'--xx\r\nContent-Disposition: form-data; name="{name}"' + (f'; filename="{file}"' if file else "")
            body += head.encode() + b"\r\n\r\n" + content + b"\r\n"
        asked = urllib.request.Request(
            self.address + path, data=body + b"--xx--\r\n", headers={"Content-Type": "multipart/form-data; boundary=xx"}
        )
        with self.opener.open(asked, timeout=20):
            pass


def start(home: Path, port: int) -> subprocess.Popen[bytes]:
    """Start it and wait until it answers."""
    env = {k: v for k, v in os.environ.items() if not k.startswith("ZONATOME")} | {
        "ZONATOME_HOME": str(home),
        "ZONATOME_LONGEST_SEARCH": "3",
    }
    command = [sys.executable, "-W", "ignore::UserWarning", "manage.py", "serve", "--port", str(port), "--sample"]
    process = subprocess.Popen(command, cwd=ROOT, env=env, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    for _ in range(400):
        try:
            with urllib.request.urlopen(f"http://127.0.0.1:{port}/login/", timeout=5):
                return process
        except OSError:
            if process.poll() is not None:
                raise RuntimeError("it ended on its start") from None
            time.sleep(0.1)
    raise RuntimeError("it did not answer in time")


def worker_of(site: int) -> int | None:
    """The worker among a site's children."""
    for task in Path(f"/proc/{site}/task").glob("*/children"):
        for pid in task.read_text().split():
            if b"\0work\0" in Path(f"/proc/{pid}/cmdline").read_bytes():
                return int(pid)
    return None


def press_on(presser: Presser, told: random.Random, kept: dict[str, set[str]], ended: threading.Event) -> None:
    """Press until the site is gone; what was answered is what must be there."""
    count = 0
    try:
        while not ended.is_set():
            count += 1
            what, mark = told.random(), f"k{told.randrange(10**9)}"
            if what < 0.3:
                presser.post("/tags/new/", {"title": mark, "client": "C", "kind": "ottoman", "count": "1"})
                kept["tags"].add(mark)
            elif what < 0.6:
                presser.post("/tags/124/strip/bags/", {"contents": mark, "came_from": "arm"})
                kept["bags"].add(mark)
            elif what < 0.8:
                presser.photo("/tags/126/survey/photo/", count)
                kept["photos"].add(str(count))
            elif what < 0.9:
                presser.post("/tags/118/lay/1/start/", {})
            else:
                done = str(told.randrange(40))
                presser.post("/tags/127/fasten/seat/done/", {"done": done})
    except (OSError, urllib.error.URLError, ConnectionError):
        return


def main() -> None:
    """Kill it so many times and say what was lost."""
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--rounds", type=int, default=100)
    asked.add_argument("--seed", type=int, default=1)
    asked.add_argument("--port", type=int, default=8190)
    wanted = asked.parse_args()
    told = random.Random(wanted.seed)
    kept: dict[str, set[str]] = {"tags": set(), "bags": set(), "photos": set()}
    photos = lost = 0
    with tempfile.TemporaryDirectory() as folder:
        home = Path(folder) / "home"
        for number in range(wanted.rounds):
            site = start(home, wanted.port)
            presser, ended = Presser(f"http://127.0.0.1:{wanted.port}"), threading.Event()
            kept["photos"] = set()
            pressing = threading.Thread(target=press_on, args=(presser, told, kept, ended))
            pressing.start()
            time.sleep(told.uniform(0.2, 2.5))
            victims = told.choice((["site"], ["worker"], ["site", "worker"], ["worker", "site"]))
            for victim in victims:
                pid = site.pid if victim == "site" else worker_of(site.pid)
                if pid is not None:
                    os.kill(pid, signal.SIGKILL)
            ended.set()
            pressing.join(30)
            if site.poll() is None:
                time.sleep(told.uniform(0, 1))
                site.kill()
            site.wait()
            photos += len(kept["photos"])
            with closing(sqlite3.connect(home / "workroom.sqlite3", timeout=20)) as store:
                sound = store.execute("PRAGMA integrity_check").fetchone()[0]
                titles = {row[0] for row in store.execute("SELECT title FROM jobs_job")}
                bags = {row[0] for row in store.execute("SELECT contents FROM strip_bag")}
                files = [row[0] for row in store.execute("SELECT file FROM jobs_photo")]
                there = store.execute("SELECT count(*) FROM jobs_photo WHERE words LIKE 'kept %'").fetchone()[0]
            gone = [
                *(kept["tags"] - titles),
                *(kept["bags"] - bags),
                *(f for f in files if not (home / "photos" / f).exists()),
            ]
            gone += ["photos"] * max(0, photos - there)
            lost += len(gone)
            if gone or sound != "ok":
                print(f"round {number}: {sound}; lost {gone[:5]}", flush=True)
        print(
            f"{wanted.rounds} times killed; answered: {len(kept['tags'])} tags, {len(kept['bags'])} bags, {photos} "
            f"photos; lost: {lost}"
        )


if __name__ == "__main__":
    main()
