"""How long pages take with a thousand jobs in the store, how many queries; and over HTTP with one client and with
eight at once.

python bench/many_jobs.py [JOBS [OPEN]]

Fills a store of its own in a temporary folder: every job is a wing chair or an armchair, with 11 to 15 panels, its
record so far and 20 photos (rows; the files are not read by these pages), and a cloth with its lay asked for; all but
OPEN (40) have gone home, and 50 entries a job are in the log. Prints
server time and queries of each page: right after a press, once cold (nothing kept), and then warm. Then the
application is started as `make start` does and the same pages are asked for over HTTP, by one client and by eight, the
pages mixed: median and 95 %.
"""

from __future__ import annotations

import os
import signal
import socket
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.request
from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta
from pathlib import Path

JOBS = int(sys.argv[1]) if len(sys.argv) > 1 else 1000
OPEN = int(sys.argv[2]) if len(sys.argv) > 2 else 40
PHOTOS = 20
ENTRIES = 50  # of the log, a job
TIMES = 15
CLIENTS = 8  # at once
ASKED = 25  # requests of each page
sys.path.insert(0, str(Path(__file__).resolve().parents[1]))


def main() -> None:
    """Fill the store and measure."""
    from django.core.management import call_command

    call_command("migrate", verbosity=0)
    from django.contrib.auth.models import User
    from django.db import connection
    from django.test import Client
    from django.test.utils import CaptureQueriesContext
    from django.utils import timezone

    from zonatome.core.formats.piece_json import write_piece
    from zonatome.core.shop.estimate import STEPS
    from zonatome.core.strip.order import can_come_off, usual_order
    from zonatome.core.trace.by_tape import rectangle_shape
    from zonatome.web.jobs.loading import load_job
    from zonatome.web.jobs.models import Job, JobPart, Photo
    from zonatome.web.jobs.services import hang_tag
    from zonatome.web.lay.models import Cloth
    from zonatome.web.lay.services import add_cloth
    from zonatome.web.shop.models import TimeEntry
    from zonatome.web.survey.models import LayerFinding

    kinds = ["wing", "armchair"]  # the kinds with the most panels
    shape = write_piece(rectangle_shape("Panel", 480, 510, {}))
    for n in range(JOBS):
        job = hang_tag(
            title=f"Chair {n}",
            client=f"Client {n % 90}",
            kind=kinds[n % 2],
            due=timezone.localdate() + timedelta(days=n % 200),
        )
        order = {key: place for place, key in enumerate(usual_order(job.kind), 1)}
        done = n % len(order)
        parts = list(job.parts.all())
        for part in parts:
            place = order[part.key]
            if place <= done:
                part.off_number, part.off_at, part.marks, part.fixings, part.note = (
                    place,
                    timezone.now(),
                    ["top", "nap"],
                    ["staples"],
                    "as usual",
                )
            part.shape = shape if part.part.is_cut else None
        JobPart.objects.bulk_update(parts, ["off_number", "off_at", "marks", "fixings", "note", "shape"])
        Photo.objects.bulk_create(
            Photo(job=job, part=parts[m % len(parts)], when="strip" if m > 4 else "before", file=f"{job.pk}/{m}.jpg")
            for m in range(PHOTOS)
        )
        LayerFinding.objects.bulk_create(
            LayerFinding(job=job, layer=key.split("_")[0], finding=key)
            for key in ("frame_loose", "support_slack", "filling_flat", "cover_worn")
        )
        began = timezone.now() - timedelta(days=n % 300, hours=5)
        TimeEntry.objects.bulk_create(
            TimeEntry(
                job=job,
                part=parts[m % len(parts)],
                step=STEPS[m % len(STEPS)],
                by="bench",
                began=began + timedelta(minutes=5 * m),
                ended=began + timedelta(minutes=5 * m + 4),
            )
            for m in range(ENTRIES)
        )
    middle = JOBS // 2 + 7
    home = [j.pk for j in Job.objects.all() if abs(int(j.title.split()[1]) - middle) > OPEN // 2]
    Job.objects.filter(pk__in=home).update(finished_at=timezone.now())
    Job.objects.all().forget_kept()
    print(f"{Job.objects.count()} jobs, {JobPart.objects.count()} parts, {Photo.objects.count()} photos, "
          f"{TimeEntry.objects.count()} entries, {Job.objects.open().count()} open")  # fmt: skip
    client = Client(headers={"host": "127.0.0.1"})
    client.force_login(User.objects.create_user("bench", is_staff=True))
    number = Job.objects.get(title=f"Chair {middle}").number
    cloth = Cloth.objects.create(
        name="Skerry", width=1400, selvage=12, direction="two_way", price="34.50", sold_by="half"
    )
    add_cloth(load_job(number), cloth, "main")
    pages = [
        "/",
        "/?page=9",
        "/?q=chair+5",
        f"/tags/{number}/strip/",
        f"/tags/{number}/strip/?part=seat",
        f"/tags/{number}/survey/",
        f"/tags/{number}/trace/seat/",
        f"/tags/{number}/trace/seat/?way=library",
        f"/tags/{number}/lay/",
        f"/tags/{number}/pad/",
        f"/tags/{number}/fasten/seat/",
        f"/tags/{number}/finish/",
        f"/tags/{number}/money/",
        "/cloths/",
        "/saved/",
        "/fortnight/",
        "/stock/",
        "/record/",
        "/record/?q=staples+seat",
        "/record/?q=as+usual&kind=wing",
        f"/tags/{number}/log/",
        f"/tags/{number}/money/quote/",
        f"/tags/{number}/money/gather/",
    ]
    pressed = []
    for _ in range(TIMES):  # the page as it comes after each press, everything of this job having just been saved
        page = f"/tags/{number}/strip/"
        current = next(
            iter(can_come_off(Job.objects.get(number=number).kind, Job.objects.get(number=number).off_keys)), None
        )
        if current is None:
            break
        client.post(f"{page}off/", {"part": current})
        pressed.append(once(client, page, CaptureQueriesContext, connection))
    print(
        f"after a press: {statistics.median(t for t, _ in pressed):.0f} ms, at most {max(q for _, q in pressed)} "
        f"queries"
    )
    print(f"{'page':<34}{'cold ms':>9}{'queries':>9}{'warm ms':>9}{'worst':>8}{'queries':>9}")
    for page in pages:
        cold, cold_queries = once(client, page, CaptureQueriesContext, connection)
        times, queries = [], 0
        for _ in range(TIMES):
            took, queries = once(client, page, CaptureQueriesContext, connection)
            times.append(took)
        print(f"{page:<34}{cold:>9.0f}{cold_queries:>9}{statistics.median(times):>9.0f}{max(times):>8.0f}{queries:>9}")
    over_http(pages, client.cookies["sessionid"].value)


def over_http(pages: list[str], session: str) -> None:
    """Start the application on the same store and ask for the pages, one client after the other, then eight at once."""
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        port = taken.getsockname()[1]
    serve = [sys.executable, "-W", "ignore::UserWarning", "manage.py", "serve", "--port", str(port)]
    root = Path(__file__).resolve().parents[1]
    env = {k: v for k, v in os.environ.items() if k != "ZONATOME_PLAIN_STATIC"}
    running = subprocess.Popen(serve, cwd=root, env=env, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    try:
        for _ in range(200):
            try:
                urllib.request.urlopen(f"http://127.0.0.1:{port}/login/", timeout=5).close()
                break
            except OSError:
                time.sleep(0.1)

        def ask(page: str) -> tuple[str, float]:
            request = urllib.request.Request(
                f"http://127.0.0.1:{port}{page}", headers={"Cookie": f"sessionid={session}"}
            )
            begun = time.perf_counter()
            with urllib.request.urlopen(request, timeout=60) as answer:
                answer.read()
            return page, (time.perf_counter() - begun) * 1000

        for page in pages:
            ask(page)
        alone = [ask(page) for page in pages for _ in range(ASKED)]
        with ThreadPoolExecutor(CLIENTS) as clients:
            together = list(clients.map(ask, pages * ASKED))
        print(f"\n{'over HTTP':<34}{'1 client: median':>17}{'95 %':>8}{f'{CLIENTS} clients: median':>20}{'95 %':>8}")
        for page in pages:
            print(f"{page:<34}{spread(alone, page):>25}{spread(together, page):>28}")
        print(f"{'all':<34}{spread(alone):>25}{spread(together):>28}")
    finally:
        running.send_signal(signal.SIGINT)
        running.wait(60)


def spread(took: list[tuple[str, float]], page: str = "") -> str:
    """The median and the 95th percentile of a page's times, or of all."""
    times = sorted(t for p, t in took if page in ("", p))
    return f"{statistics.median(times):.0f}{times[int(len(times) * 0.95)]:>8.0f}"


def once(client, page, capture, connection) -> tuple[float, int]:  # type: ignore[no-untyped-def]
    """Ask for a page once; milliseconds of server time and queries."""
    with capture(connection) as caught:
        begun = time.perf_counter()
        answer = client.get(page, follow=True)
        took = (time.perf_counter() - begun) * 1000
    if answer.status_code != 200:
        raise SystemExit(f"{page} answered {answer.status_code}")
    return took, len(caught)


if __name__ == "__main__":
    with tempfile.TemporaryDirectory() as home:
        os.environ.update(ZONATOME_HOME=home, ZONATOME_PLAIN_STATIC="1", DJANGO_SETTINGS_MODULE="zonatome.web.settings")
        import django

        django.setup()
        main()
