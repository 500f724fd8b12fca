"""What all tests share: hypothesis without deadlines, and the same examples on every CI run."""

import os

from hypothesis import settings

settings.register_profile("bench", deadline=None)
settings.register_profile("ci", deadline=None, derandomize=True)
settings.load_profile("ci" if os.environ.get("CI") else "bench")
