"""What all tests share: hypothesis without deadlines, and the same examples on every CI run; the slow files begin
first.
"""

import gc
import os

import pytest
from hypothesis import settings

settings.register_profile("bench", deadline=None)
settings.register_profile("ci", deadline=None, derandomize=True, max_examples=60)  # a hundred where one works on it
settings.load_profile("ci" if os.environ.get("CI") else "bench")


@pytest.hookimpl(trylast=True)
def pytest_collection_modifyitems(items):
    """Hand out the browser's files first, then the web's: the longest, so that no core stands idle at the end."""
    items.sort(key=lambda item: ("browser" not in item.path.parts, "web" not in item.path.parts))


def pytest_collection_finish():
    """What is loaded by now stays: the collector need not walk it again and again, which took a tenth of the time."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(100_000, 20, 50)
