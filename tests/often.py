"""How many examples a property is tried on: as many as each test asks for, and more of them once a night."""

from __future__ import annotations

import os
from typing import Any

from hypothesis import settings

TIMES = int(os.environ.get("ZONATOME_EXAMPLES", "1"))
USUAL = 60


def examples(count: int = USUAL, **more: Any) -> settings:
    """Settings of a test that is tried on so many examples, by night on as many times more."""
    return settings(max_examples=count * TIMES, deadline=None, **more)
