"""The background worker: searches for lays, the daily copy of the workroom."""

from __future__ import annotations

import os
import signal
import sys
import threading
import time
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser
from django.db import OperationalError, connections
from django_tasks.base import TaskResultStatus
from django_tasks.signals import task_finished, task_started
from django_tasks_db.models import DBTaskResult

from zonatome.core.lay.prepare import prepare
from zonatome.web.base.backup import start_daily_copies
from zonatome.web.lay.services import lost_runs
from zonatome.web.rack.tags import let_go_for_good
from zonatome.web.rehearse.models import OrdersRun
from zonatome.web.serving.locks import end_with, held

IDLE = 60.0  # seconds after which a worker that has searched makes room again
AGAIN = 2.0  # seconds until a store that somebody else holds is tried again


class Command(BaseCommand):
    """`manage.py work --parent PID`."""

    requires_system_checks = ()  # the site has made them; they would load every page with all that it needs
    help = "Run the background worker, until the process that started it is gone. `serve` starts it."

    def add_arguments(self, parser: CommandParser) -> None:
        """Whose end is its end."""
        parser.add_argument("--parent", type=int, help="the process whose end is its end")

    def handle(self, *_: Any, parent: int | None, **__: Any) -> None:
        """Work until told to end."""
        if parent is not None:
            end_with(parent)
        with held(settings.HOME / "worker.lock", wait=True):  # one that was left behind ends first
            _tidy()
            start_daily_copies()
            _end_when_idle()
            prepare()  # on a fresh machine; the site is there meanwhile
            call_command("db_worker", interval=0.3, startup_delay=False, reload=False, verbosity=0)


def _end_when_idle() -> None:
    """End this worker, to be started anew, once it has loaded what a search needs and nothing has been asked of it for
    a while.
    """
    at_work, last = threading.Event(), [time.monotonic()]

    def began(**_: Any) -> None:
        at_work.set()

    def ended(**_: Any) -> None:
        last[0] = time.monotonic()
        at_work.clear()

    task_started.connect(began, weak=False)
    task_finished.connect(ended, weak=False)

    def look() -> None:
        while True:
            time.sleep(IDLE / 6)
            is_heavy = "numba" in sys.modules and not at_work.is_set()
            if is_heavy and time.monotonic() - last[0] > IDLE and not DBTaskResult.objects.ready().exists():
                os.kill(os.getpid(), signal.SIGTERM)
            connections.close_all()

    threading.Thread(target=look, daemon=True).start()


def _tidy() -> None:
    """Say of what was running that it is not any more: while the lock is ours nobody else runs anything."""
    while True:
        try:
            lost_runs()
            OrdersRun.say_lost()
            DBTaskResult.objects.filter(status=TaskResultStatus.RUNNING).update(status=TaskResultStatus.FAILED)
            let_go_for_good()
            return
        except OperationalError:
            time.sleep(AGAIN)
