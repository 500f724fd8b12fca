"""The site and its worker as processes: what stands in their way is one line, and neither stays behind or stays
dead.
"""

from __future__ import annotations

import io
import os
import re
import signal
import sqlite3
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

import pytest
from django.core.management import call_command
from django.db import connections

from tests.browser.conftest import ROOT, end, start


def manage(home: Path, *words: str, **more) -> subprocess.CompletedProcess:
    env = {k: v for k, v in os.environ.items() if not k.startswith("ZONATOME")} | {"ZONATOME_HOME": str(home)}
    command = [sys.executable, "-W", "ignore::UserWarning", "manage.py", *words]
    return subprocess.run(command, cwd=ROOT, env=env, capture_output=True, text=True, timeout=120, check=False, **more)


def wait_for(found, seconds: float = 40.0):
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        answer = found()
        if answer:
            return answer
        time.sleep(0.2)
    raise AssertionError(f"waited {seconds} s for {found}")


def is_alive(pid: int) -> bool:
    try:
        return "(zombie)" not in Path(f"/proc/{pid}/status").read_text()
    except OSError:
        return False


def test_a_held_store_a_killed_worker_and_a_killed_site_leave_one_worker_at_work_and_one_line_for_a_second_site(
    tmp_path,
):
    home = tmp_path / "home"
    running = start(home, "--sample")
    try:
        first = wait_for(running.worker_pid)
        port = running.address.rpartition(":")[2]
        for words, line in (
            (("serve", "--port", "1"), "runs in"),
            (("serve", "--port", port), "can't be had"),
            (("restore", __file__), "runs in"),
        ):
            refused = manage(home, *words)
            assert refused.returncode == 1
            said = refused.stderr.strip()
            assert line in said
            assert "\n" not in said
        with closing(sqlite3.connect(home / "workroom.sqlite3", isolation_level=None)) as held:
            held.execute("BEGIN IMMEDIATE")
            os.kill(first, signal.SIGKILL)
            second = wait_for(lambda: (pid := running.worker_pid()) not in (None, first) and pid)
            time.sleep(3)  # it comes up while the store is somebody else's
            held.execute("UPDATE lay_layrun SET state = 'running' WHERE id = 1")
            held.execute("COMMIT")
        with closing(sqlite3.connect(home / "workroom.sqlite3")) as store:
            state = "SELECT state FROM lay_layrun WHERE id = 1"
            wait_for(lambda: store.execute(state).fetchone()[0] == "failed", 60)
            assert wait_for(running.worker_pid)
            wait_for(lambda: list((home / "backups").glob("daily-*.zip")), 60)  # it works: today's copy is there
        left = wait_for(running.worker_pid)
        os.kill(running.process.pid, signal.SIGKILL)
        running.process.wait()
        wait_for(lambda: not is_alive(left), 10)
        running = start(home, "--sample")
        assert wait_for(running.worker_pid) not in (first, second, left)
    finally:
        end(running)


def test_backup_and_restore_by_the_command_line(tmp_path):
    home, copy = tmp_path / "home", tmp_path / "copy.zip"
    running = start(home, "--sample")
    try:
        made = manage(home, "backup", str(copy))
        assert made.returncode == 0, made.stderr
        assert "Written and checked" in made.stdout
        again = manage(home, "backup", str(copy))
        assert "is there already" in again.stderr
    finally:
        end(running)
    with closing(sqlite3.connect(home / "workroom.sqlite3")) as store:
        before = store.execute("SELECT number, title FROM jobs_job ORDER BY number").fetchall()
        store.execute("DELETE FROM trim_trimline")
        store.execute("UPDATE jobs_job SET title = 'spoilt'")
        store.commit()
    assert manage(home, "restore", str(tmp_path / "none.zip")).stderr.startswith("CommandError: There is no file")
    back = manage(home, "restore", str(copy))
    assert back.returncode == 0, back.stderr
    assert "What was there lies in" in back.stdout
    with closing(sqlite3.connect(home / "workroom.sqlite3")) as store:
        assert store.execute("SELECT number, title FROM jobs_job ORDER BY number").fetchall() == before


STEP_BY_STEP = """
from django.core.management import call_command
from django.core.management.commands.migrate import Command
call_command(Command(), verbosity=0)
"""


def as_it_is_made(home: Path) -> dict[str, tuple]:
    """Each table of a store: its columns, what it points to, its indexes, what it demands, how many rows it has."""
    with closing(sqlite3.connect(home / "workroom.sqlite3")) as store:
        ask = lambda words: store.execute(words).fetchall()  # noqa: E731
        found = {"triggers": tuple(sorted(ask("SELECT name, sql FROM sqlite_master WHERE type = 'trigger'")))}
        for name, sql in ask("SELECT name, sql FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'"):
            found[name] = (
                sorted(column[1:] for column in ask(f"PRAGMA table_info({name})")),
                sorted(key[2:] for key in ask(f"PRAGMA foreign_key_list({name})")),
                sorted(
                    (i[2], i[4], ask(f"SELECT name FROM pragma_index_info('{i[1]}')"))
                    for i in ask(f"PRAGMA index_list({name})")
                ),
                sorted(re.findall(r"CHECK \(.*?\)(?=,|\)$)", sql)),
                ask(f"SELECT count(*) FROM {name}"),
            )
    return found


@contextmanager
def another_store(path: Path) -> Iterator[None]:
    """A store beside the tests' own, named `other`."""
    connections.databases["other"] = {**connections.databases["default"], "NAME": str(path)}
    try:
        yield
    finally:
        connections["other"].close()
        del connections["other"], connections.databases["other"]


def test_a_store_that_is_made_at_once_is_the_one_that_all_migrations_lead_to(tmp_path, db, django_db_blocker):
    asked, again = io.StringIO(), io.StringIO()
    with django_db_blocker.unblock(), another_store(tmp_path / "workroom.sqlite3"):
        call_command("migrate", database="other", plan=True, stdout=asked)
        assert "Create model Job" in asked.getvalue(), "an empty store that is only asked stays empty"
        call_command("migrate", database="other", verbosity=0)
        call_command("migrate", database="other", stdout=again)
    assert "No migrations to apply" in again.getvalue()
    assert manage(tmp_path / "steps", "shell", "-v", "0", "--no-imports", "-c", STEP_BY_STEP).stderr == ""
    made = as_it_is_made(tmp_path)
    assert len(made) > 70
    assert made == as_it_is_made(tmp_path / "steps")


@pytest.mark.parametrize("home", ["/proc/nowhere", "/etc/passwd"], ids=["a folder that can't be made", "a file"])
def test_a_folder_that_cannot_be_written_to_is_one_line(home):
    refused = manage(Path(home), "serve", "--port", "0")
    assert refused.returncode == 1
    assert "Name another folder with ZONATOME_HOME" in refused.stderr
    assert "\n" not in refused.stderr.strip()


def test_bags_numbered_by_six_at_once_are_all_kept(tmp_path):
    script = """
import django; django.setup()
from concurrent.futures import ThreadPoolExecutor
from django.core.management import call_command
call_command("migrate", verbosity=0)
from zonatome.web.jobs.services import hang_tag
from zonatome.web.jobs.loading import load_job
from zonatome.web.strip.services import set_bag
from zonatome.web.strip.models import Bag
from django.db import connection
number = hang_tag(title="Stool", client="C", kind="square_stool").number
def one(who):
    for n in range(8):
        set_bag(load_job(number), None, contents=f"{who} {n}", came_from="")
    connection.close()
with ThreadPoolExecutor(6) as pool:
    list(pool.map(one, range(6)))
bags = list(Bag.objects.values_list("number", "contents"))
print(len(bags), len(set(n for n, _ in bags)), len(set(c for _, c in bags)))
"""
    env = {**os.environ, "ZONATOME_HOME": str(tmp_path / "home"), "DJANGO_SETTINGS_MODULE": "zonatome.web.settings"}
    told = subprocess.run(
        [sys.executable, "-W", "ignore", "-c", script], cwd=ROOT, env=env, capture_output=True, text=True, timeout=120
    )
    assert told.stdout.split() == ["48", "48", "48"], told.stderr


HEAVY = "print([name for name in ('numba', 'ortools', 'scipy', 'cv2', 'ezdxf') if name in sys.modules])"


@pytest.mark.parametrize("asked", [
    "from django.core.management import load_command_class as load; load('zonatome.web.serving', 'work')",
    "import zonatome.web.urls",
], ids=["worker", "site"])  # fmt: skip
def test_at_rest_nothing_heavy_is_loaded(tmp_path, asked):
    """A worker that has numba ends and begins again each minute: it must come with a task, never with the worker."""
    told = manage(tmp_path / "home", "shell", "-v", "0", "--no-imports", "-c", f"import sys; {asked}; {HEAVY}")
    assert told.stdout.strip() == "[]", told.stdout + told.stderr


def test_a_worker_that_has_nothing_to_do_stays_the_same_one_and_takes_no_more_than_it_needs(tmp_path):
    running = start(tmp_path / "home", "--sample")
    try:
        pid = wait_for(running.worker_pid)
        time.sleep(3)
        loaded = Path(f"/proc/{pid}/maps").read_text()
        assert "libortools" not in loaded
        assert "numba" not in loaded
        assert running.worker_pid() == pid
    finally:
        end(running)
