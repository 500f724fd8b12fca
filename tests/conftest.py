"""What all tests share: hypothesis without deadlines, and the same examples on every CI run; the slow files begin
first.
"""

import gc
import os

import pytest
from hypothesis import settings
from hypothesis.internal.conjecture import providers

from tests.often import examples

settings.register_profile("bench", examples())  # other examples in each run
settings.register_profile("ci", examples(derandomize=True))
IS_CI = bool(os.environ.get("CI"))
settings.load_profile("ci" if IS_CI else "bench")

LONGEST = ("browser", "web", "lay", "fasten", "trace", "formats")  # folders; the files of the others take seconds


@pytest.hookimpl(trylast=True)
def pytest_collection_modifyitems(items):
    """Hand out the longest files first, so that no core waits long at the end for another one's last file."""
    items.sort(key=lambda item: [folder not in item.path.parts for folder in LONGEST])


def pytest_collection_finish():
    """What is loaded by now stays: the collector need not walk it again and again, which took a tenth of the time."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(100_000, 20, 50)
    if IS_CI:  # numbers that stand in the house are tried too: those of what is loaded now, whatever is loaded later on
        house = providers._get_local_constants()
        providers._get_local_constants = lambda: house
