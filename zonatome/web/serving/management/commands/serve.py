"""Start everything in one command: the store, the static files, the site and the background worker."""

from __future__ import annotations

import signal
import subprocess
import sys
import threading
import time
from typing import Any

from django.conf import settings
from django.contrib.auth.models import User
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser
from django.utils import timezone
from waitress import create_server

from zonatome.core.lay.warm import ensure
from zonatome.standins.cloth_seller import Seller, service
from zonatome.web.demo.sample import NAME, PASSWORD, load_sample
from zonatome.web.jobs.models import Job
from zonatome.web.lay.models import LayRun

LOST = "The worker ended before the search did. The best lay so far is kept."
THREADS = 6
SOON = 5.0  # seconds: a worker that dies sooner has a lasting trouble and is not started over and over


class Worker:
    """The background worker, started again when it dies."""

    def __init__(self) -> None:
        """Not started yet."""
        self.process: subprocess.Popen[bytes] | None = None
        self.ending = threading.Event()

    def watch(self) -> None:
        """Run the worker until the end; what it was doing when it died is said in its run."""
        while not self.ending.is_set():
            LayRun.objects.filter(state="running").update(state="failed", words=LOST, ended_at=timezone.now())
            command = [sys.executable, "manage.py", "db_worker", "--interval", "0.3", "--no-startup-delay", "--verbosity", "0"]
            self.process = subprocess.Popen(command, start_new_session=True)
            begun = time.monotonic()
            self.process.wait()
            self.ending.wait(1.0 if time.monotonic() - begun > SOON else SOON)

    def end(self) -> None:
        """End it, at once: a search that it was at is kept as far as it got."""
        self.ending.set()
        if self.process is not None and self.process.poll() is None:
            self.process.terminate()
            try:
                self.process.wait(1)
            except subprocess.TimeoutExpired:
                self.process.kill()
                self.process.wait()


def start_seller() -> None:
    """Start the cloth seller's stand-in on a port of its own, where this installation asks no other."""
    if settings.SELLER:
        return
    server = create_server(service(Seller(settings.HOME / "seller.json")), host="127.0.0.1", port=0, threads=2, ident=None)
    settings.SELLER = f"http://127.0.0.1:{server.effective_port}"
    threading.Thread(target=server.run, daemon=True).start()


def _end(*_: object) -> None:
    raise KeyboardInterrupt


class Command(BaseCommand):
    """`manage.py serve --port 8000 --sample`."""

    help = "Start the site and its worker on this machine; Ctrl-C ends both."

    def add_arguments(self, parser: CommandParser) -> None:
        """Port, and whether an empty store gets the sample workroom."""
        parser.add_argument("--port", type=int, default=8000)
        parser.add_argument("--sample", action="store_true", help="load the sample workroom into an empty store")

    def handle(self, *args: Any, port: int, sample: bool, **options: Any) -> None:
        """Serve until told to end."""
        ensure()
        call_command("migrate", verbosity=0, interactive=False)
        call_command("collectstatic", verbosity=0, interactive=False, clear=False)
        if sample and not (User.objects.exists() or Job.objects.exists()):
            load_sample()
        from zonatome.web.wsgi import application  # after the static files are in place: they are looked up once, here

        server = create_server(
            application,
            host="127.0.0.1",
            port=port,
            threads=THREADS,
            ident=None,
            max_request_body_size=settings.MOST_BODY * 32,
            channel_timeout=120,
        )
        start_seller()
        worker = Worker()
        threading.Thread(target=worker.watch, daemon=True).start()
        for sign in (signal.SIGINT, signal.SIGTERM):  # by name: a background job of a shell is started with SIGINT ignored
            signal.signal(sign, _end)
        self.stdout.write(f"\n  Zonatome is at http://127.0.0.1:{port}/\n")
        if sample and User.objects.filter(username=NAME).exists():
            self.stdout.write(f"  Sign in as {NAME}, password {PASSWORD}\n")
        elif not User.objects.exists():
            self.stdout.write("  Open it and name your workroom.\n")
        self.stdout.write(f"  Its data lie in {settings.HOME}. Ctrl-C ends it.\n\n")
        self.stdout.flush()
        try:
            server.run()
        except KeyboardInterrupt:
            pass
        finally:
            worker.end()
            server.close()
            self.stdout.write("  Ended. Everything is stored.\n")
