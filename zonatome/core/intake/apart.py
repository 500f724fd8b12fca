"""What others made is read in a process of its own: one file at a time, with a limit of seconds and of memory,
whatever stands in it.
"""

from __future__ import annotations

import json
import os
import resource
import subprocess
import sys
import threading
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from importlib import import_module
from typing import Any

from zonatome.core.errors import BadInput, NoAnswer

Answer = tuple[dict[str, Any], bytes]
STARTING = 20.0  # seconds, on the slowest machine, until the reader is there
WAITING = 60.0  # seconds that one waits for another's file
READER = (sys.executable, "-m", "zonatome.core.intake.apart")
# each would take memory of its own
ONE_THREAD = {"OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1", "OPENCV_FOR_THREADS_NUM": "1"}

_one_at_a_time = threading.Lock()


@dataclass(frozen=True)
class Work:
    """What a reader does with a file: its function, which takes what it is told and the content; its limits; what the
    file is.
    """

    function: str
    what: str
    seconds: int = 5  # of one core
    memory: int = 512 * 2**20


WORKS = {
    "drawing": Work("zonatome.core.formats.drawing_in:drawing_work", "drawing"),
    "photo": Work("zonatome.core.intake.photo_in:photo_work", "photo"),
    "cover": Work("zonatome.core.trace.take_up:cover_work", "photo", seconds=20),
    "repeat": Work("zonatome.core.lay.pattern.repeat_photo:repeat_work", "photo", seconds=20),
    "cell": Work("zonatome.core.lay.pattern.repeat_photo:cell_work", "photo", seconds=20),
}


def worked_apart(work: str, told: Mapping[str, Any], content: bytes, *, key: str) -> Answer:
    """Return what the work of this name makes of a file, in words and in bytes.

    `told` and the words are what JSON can hold. Raises BadInput and NoAnswer as the work does, and BadInput with `key`
    for a file that takes too long or too much memory.
    """
    if not _one_at_a_time.acquire(timeout=WAITING):
        raise BadInput(key, "another file", "one file at a time; try it again in a moment")
    limits = WORKS[work]
    try:
        head = json.dumps({"work": work, "told": dict(told)}).encode() + b"\n"
        made = subprocess.run(
            READER,
            input=head + content,
            capture_output=True,
            timeout=STARTING + limits.seconds,
            check=False,
            env=os.environ | ONE_THREAD,
        )
        line, _, rest = made.stdout.partition(b"\n")
        answer = json.loads(line)
    except (subprocess.TimeoutExpired, ValueError):
        raise BadInput(
            key, f"a {limits.what} too large to read", f"one that is read within {limits.seconds} seconds"
        ) from None
    finally:
        _one_at_a_time.release()
    if "too_much" in answer:
        raise BadInput(key, f"a {limits.what} too large to read", f"one that takes at most {limits.memory // 2**20} MB")
    if "none" in answer:
        raise NoAnswer(answer["none"])
    if "key" in answer:
        raise BadInput(answer["key"], answer["value"], answer["expected"], words=answer["words"])
    return answer["made"], rest


def main() -> None:
    """Do the work that the first line of standard input names with the rest of it; print what came of it, or why it is
    refused.
    """
    head = json.loads(sys.stdin.buffer.readline())
    limits = WORKS[head["work"]]
    module, _, name = limits.function.partition(":")
    work: Callable[[Mapping[str, Any], bytes], Answer] = getattr(import_module(module), name)
    used = resource.getrusage(resource.RUSAGE_SELF)
    resource.setrlimit(resource.RLIMIT_CPU, (int(used.ru_utime + used.ru_stime) + limits.seconds + 1,) * 2)
    resource.setrlimit(resource.RLIMIT_DATA, (limits.memory, limits.memory))
    answer: dict[str, Any]
    rest = b""
    try:
        made, rest = work(head["told"], sys.stdin.buffer.read())
        answer = {"made": made}
    except BadInput as refused:
        answer = {
            "key": refused.key,
            "value": str(refused.value)[:200],
            "expected": refused.expected,
            "words": refused.words,
        }
    except NoAnswer as none:
        answer = {"none": str(none)}
    except Exception as wrong:
        if not _is_out_of_memory(wrong):
            raise
        answer = {"too_much": True}
    sys.stdout.buffer.write(json.dumps(answer).encode() + b"\n" + rest)


def _is_out_of_memory(wrong: Exception) -> bool:
    """Whether what went wrong is that the memory was not enough: one library has an error of its own for it."""
    return isinstance(wrong, MemoryError) or "OutOfMemory" in str(wrong) or "Insufficient memory" in str(wrong)


if __name__ == "__main__":
    main()
