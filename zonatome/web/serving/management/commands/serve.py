"""Start everything in one command: the store, the static files, the site and the background worker."""

from __future__ import annotations

import gc
import io
import os
import signal
import socket
import subprocess
import sys
import threading
import time
from pathlib import Path
from typing import Any

import segno
from django.conf import settings
from django.contrib.auth.models import User
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import OperationalError
from waitress import create_server

from zonatome.standins.cloth_seller import Seller, service
from zonatome.web.base.backup import STORE
from zonatome.web.demo.ready import bring_to_today, load_ready
from zonatome.web.demo.sample import NAME, PASSWORD
from zonatome.web.serving.locks import Taken, held

THREADS = 6
# objects, rounds, rounds: when Python looks for rings of rubbish; pages make many objects and no rings
SELDOM = (50_000, 20, 50)
SOON = 5.0  # seconds: a worker that dies sooner has a lasting trouble and is not started over and over
ENDS_IN = 0.5  # seconds that a worker gets to end what it is writing


class Worker:
    """The background worker, started again when it dies.

    What it was doing when it died the next one says in its row.
    """

    def __init__(self) -> None:
        """Not started yet."""
        self.process: subprocess.Popen[bytes] | None = None
        self.ending = threading.Event()

    def watch(self) -> None:
        """Run the worker until the end. Nothing in here asks the store, which may be held by somebody else."""
        command = [sys.executable, "-W", "ignore::UserWarning", "manage.py", "work", "--parent", str(os.getpid())]
        while not self.ending.is_set():
            begun = time.monotonic()
            try:
                self.process = subprocess.Popen(command, start_new_session=True)
                self.process.wait()
            except OSError:
                pass  # no memory or no process to be had just now
            self.ending.wait(1.0 if time.monotonic() - begun > SOON else SOON)

    def end(self) -> None:
        """End it, at once: a search that it was at is kept as far as it got."""
        self.ending.set()
        if self.process is None or self.process.poll() is not None:
            return
        self.process.terminate()
        try:
            self.process.wait(ENDS_IN)
        except subprocess.TimeoutExpired:
            os.killpg(self.process.pid, signal.SIGKILL)
            self.process.wait()


def start_seller() -> None:
    """Start the cloth seller's stand-in on a port of its own, where this installation asks no other."""
    if settings.SELLER:
        return
    server = create_server(
        service(Seller(settings.HOME / "seller.json")), host="127.0.0.1", port=0, threads=2, ident=None
    )
    settings.SELLER = f"http://127.0.0.1:{server.effective_port}"
    threading.Thread(target=server.run, daemon=True).start()


def _end(*_: object) -> None:
    raise KeyboardInterrupt


def own_address() -> str:
    """Return this machine's address on its network; nothing is sent to find it. 127.0.0.1 where it is on none."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as asking:
        try:
            asking.connect(("192.0.2.1", 9))  # an address that is nobody's: only the way to it is asked for
            return str(asking.getsockname()[0])
        except OSError:
            return "127.0.0.1"


def bound_socket(host: str, port: int) -> socket.socket:
    """Return a socket that has the port. Raises CommandError, in one line, where somebody else has it."""
    taken = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
    taken.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        taken.bind((host, port))
    except (OSError, OverflowError) as wrong:
        taken.close()
        why = getattr(wrong, "strerror", None) or str(wrong)
        raise CommandError(f"Port {port} can't be had: {why}. Take another: make demo PORT=8080") from wrong
    return taken


class Command(BaseCommand):
    """`manage.py serve --port 8000 --sample`."""

    help = "Start the site and its worker on this machine; Ctrl-C ends both."

    def add_arguments(self, parser: CommandParser) -> None:
        """Port, and whether an empty store gets the sample workroom."""
        parser.add_argument("--port", type=int, default=8000)
        parser.add_argument("--sample", action="store_true", help="load the sample workroom into an empty store")
        parser.add_argument(
            "--lan", action="store_true", help="answer others on the workroom's own network too, over plain http"
        )

    def handle(self, *_: Any, port: int, sample: bool, lan: bool, **__: Any) -> None:
        """Serve until told to end; what stands in the way is said in one line, before anything else is done."""
        listening = bound_socket("0.0.0.0" if lan else "127.0.0.1", port)  # noqa: S104 - asked for
        port = listening.getsockname()[1]
        address = f"http://127.0.0.1:{port}/"
        if lan:
            host = own_address()
            settings.ALLOWED_HOSTS = [
                *settings.ALLOWED_HOSTS,
                host,
                socket.gethostname(),
                f"{socket.gethostname()}.local",
            ]
            settings.LAN_ADDRESS = f"http://{host}:{port}"
        try:
            with held(settings.HOME / "site.lock", f"at {address}, process {os.getpid()}"):
                self._serve(listening, address, sample)
        except Taken as who:
            raise CommandError(f"Zonatome runs in {settings.HOME} already, {who}.") from who
        except OperationalError as wrong:
            raise CommandError(f"The store in {settings.HOME} can't be opened: {wrong}.") from wrong
        except OSError as wrong:
            where = wrong.filename or settings.HOME
            raise CommandError(f"{where} can't be used: {wrong.strerror or wrong}.") from wrong

    def _serve(self, listening: socket.socket, address: str, sample: bool) -> None:
        fresh = sample and not (settings.HOME / STORE).exists()
        if fresh:
            load_ready()
        call_command("migrate", verbosity=0, interactive=False)
        if fresh:
            bring_to_today()
        for kept in settings.HOME.glob("workroom.sqlite3*"):
            kept.chmod(0o600)
        call_command("collectstatic", verbosity=0, interactive=False, clear=False)
        from zonatome.web.wsgi import application  # noqa: PLC0415 after the static files are in place: they are looked up once, here

        server = create_server(
            application,
            sockets=[listening],
            threads=THREADS,
            ident=None,
            max_request_body_size=settings.MOST_BODY * 32,
            channel_timeout=120,
        )
        start_seller()
        worker = Worker()
        threading.Thread(target=worker.watch, daemon=True).start()
        # by name: a background job of a shell is started with SIGINT ignored
        for sign in (signal.SIGINT, signal.SIGTERM):
            signal.signal(sign, _end)
        self._say(address, sample)
        gc.freeze()  # what is loaded by now stays: it is not looked through again
        gc.set_threshold(*SELDOM)
        try:
            server.run()
        except KeyboardInterrupt:
            pass
        finally:
            worker.end()
            server.close()
            self.stdout.write("  Ended. Everything is stored.\n")

    def _say(self, address: str, sample: bool) -> None:
        self.stdout.write(f"\n  Zonatome is at {address}\n")
        if sample and User.objects.filter(username=NAME).exists():
            self.stdout.write(f"  Sign in as {NAME}, password {PASSWORD}\n")
        elif not User.objects.exists():
            self.stdout.write("  Open it and name your workroom.\n")
        if settings.LAN_ADDRESS:
            self.stdout.write(f"\n  On the workroom's own network: {settings.LAN_ADDRESS}/\n")
            self.stdout.write(
                "  A phone or tablet signs in by Workroom, A phone or tablet. It is plain http: on a network that "
                "you trust only.\n"
            )
            drawn = io.StringIO()
            segno.make(f"{settings.LAN_ADDRESS}/").terminal(out=drawn, compact=True, border=2)
            self.stdout.write(drawn.getvalue())
        self.stdout.write(f"  Its data lie in {Path(settings.HOME)}. Ctrl-C ends it.\n\n")
        self.stdout.flush()
