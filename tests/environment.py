"""Loaded before Django's settings (pyproject.toml, `-p tests.environment`): tests keep to a folder of their own."""

import os
import tempfile
from pathlib import Path

if "ZONATOME_TEST_HOME" not in os.environ:
    os.environ["ZONATOME_TEST_HOME"] = tempfile.mkdtemp(prefix="zonatome-tests-")
home = Path(os.environ["ZONATOME_TEST_HOME"])
(home / "static").mkdir(parents=True, exist_ok=True)
os.environ["ZONATOME_HOME"] = str(home)
os.environ["ZONATOME_PLAIN_STATIC"] = "1"
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = (
    "1"  # a browser that was driven before in the same process leaves its loop behind
)
