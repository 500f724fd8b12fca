"""What the machine under the workroom can lack, in words: room on the disk, the right to write, a store that nobody
else holds.
"""

from __future__ import annotations

import errno
from dataclasses import dataclass

from django.db import OperationalError

FULL = (errno.ENOSPC, errno.EDQUOT)


@dataclass(frozen=True)
class Trouble:
    """A trouble of the machine, in words; whether it is for want of room."""

    heading: str
    words: str
    is_full: bool = False


_FULL = Trouble(
    "The disk is full",
    "Nothing of what you sent was stored; what was stored before is safe. Make room on this machine, then go back "
    "and send it once more.",
    is_full=True,
)
_READ_ONLY = Trouble(
    "Nothing can be written",
    "The folder of the workroom can be read, not written to. Nothing of what you sent was stored. "
    "See to its rights, or to the disk, then go back and send it once more.",
)
_HELD = Trouble(
    "Somebody else holds the store",
    "Another program has had the workroom’s store for itself for twenty seconds. Nothing of what you sent was stored. "
    "Close it, then go back and send it once more.",
)


def store_trouble(wrong: BaseException | None) -> Trouble | None:
    """Return what the machine lacks, where that is what an error says or came from; None for any other error."""
    while wrong is not None:
        if isinstance(wrong, OSError) and wrong.errno in FULL:
            return _FULL
        if isinstance(wrong, OSError) and wrong.errno in (errno.EROFS, errno.EACCES, errno.EPERM):
            return _READ_ONLY
        if isinstance(wrong, OperationalError):
            said = str(wrong)
            if "full" in said:
                return _FULL
            if "readonly" in said or "unable to open" in said:
                return _READ_ONLY
            if "locked" in said or "busy" in said:
                return _HELD
        wrong = wrong.__cause__ or wrong.__context__
    return None
