"""A drawing read in a process of its own: one at a time, with a limit of seconds and of memory, whatever stands in the file."""

from __future__ import annotations

import json
import resource
import subprocess
import sys
import threading
from typing import Any

from zonatome.core.errors import BadInput
from zonatome.core.outline import Outline, outline_of

MOST_BYTES = 2_000_000
SECONDS = 5  # of one core
MEMORY = 512 * 2**20
STARTING = 20.0  # seconds, on the slowest machine, until the reader is there
WAITING = 30.0  # seconds that one waits for another's drawing

READER = (sys.executable, "-m", "zonatome.core.formats.drawing_apart")

_one_at_a_time = threading.Lock()


def outline_read_apart(content: bytes, *, name: str, unit: str = "", which: int = 1) -> Outline:
    """Return what `drawing_in.outline_from_drawing` does; a drawing that takes too long or too much is refused.

    Raises BadInput with the key `file`, `unit` or `which`.
    """
    if len(content) > MOST_BYTES:
        raise BadInput("file", f"{len(content) / 1e6:.1f} MB", f"at most {MOST_BYTES / 1e6:.0f} MB")
    if not _one_at_a_time.acquire(timeout=WAITING):
        raise BadInput("file", "another drawing", "one drawing at a time; try it again in a moment")
    try:
        head = json.dumps({"name": name[-80:], "unit": unit, "which": which}).encode() + b"\n"
        told = subprocess.run(READER, input=head + content, capture_output=True, timeout=STARTING + SECONDS, check=False)
        answer = json.loads(told.stdout)
    except (subprocess.TimeoutExpired, ValueError):
        answer = {"key": "file", "value": "a drawing too large to read", "expected": f"one that is read within {SECONDS} seconds"}
    finally:
        _one_at_a_time.release()
    if "points" in answer:
        return outline_of([(float(x), float(y)) for x, y in answer["points"]], key="file")
    raise BadInput(answer["key"], answer["value"], answer["expected"])


def main() -> None:
    """Read the drawing on standard input and print its outline, or why it is refused."""
    from zonatome.core.formats.drawing_in import outline_from_drawing

    used = resource.getrusage(resource.RUSAGE_SELF)
    resource.setrlimit(resource.RLIMIT_CPU, (int(used.ru_utime + used.ru_stime) + SECONDS + 1,) * 2)
    resource.setrlimit(resource.RLIMIT_DATA, (MEMORY, MEMORY))
    head: dict[str, Any] = json.loads(sys.stdin.buffer.readline())
    answer: dict[str, Any]
    try:
        outline = outline_from_drawing(sys.stdin.buffer.read(), name=head["name"], unit=head["unit"], which=head["which"])
        answer = {"points": outline.points}
    except BadInput as refused:
        answer = {"key": refused.key, "value": str(refused.value)[:200], "expected": refused.expected}
    except MemoryError:
        answer = {"key": "file", "value": "a drawing too large to read", "expected": f"one that takes at most {MEMORY // 2**20} MB"}
    sys.stdout.write(json.dumps(answer))


if __name__ == "__main__":
    main()
