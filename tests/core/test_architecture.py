"""What never stands in a page or a script, and what must stand at a step. What may import what is `import-linter`'s."""

import os
import re
import subprocess
import sys
from pathlib import Path

import zonatome
from zonatome.core.cautions import BY_STEP, CAUTIONS, cautions_for

ROOT = Path(zonatome.__file__).parent


def test_no_second_thread_spins_while_matrices_are_multiplied():
    counted = """
import zonatome, numpy, os
import zonatome.core.fasten.rehearsal.sheet as sheet
many = numpy.ones((600, 600))
sheet.linalg.cho_factor(many @ many + 1e9 * numpy.eye(600))
print(len(os.listdir("/proc/self/task")))
"""
    plain = {name: told for name, told in os.environ.items() if not name.startswith(("OPENBLAS", "OMP"))}
    told = subprocess.run([sys.executable, "-c", counted], env=plain, capture_output=True, text=True, check=True)
    assert told.stdout == "1\n"


def test_templates_hold_no_inline_script_or_style():
    for path in (ROOT / "web").rglob("*.html"):
        text = path.read_text()
        assert not re.search(r"<script(?![^>]*\bsrc=)", text), path
        assert not re.search(r"\sstyle=|<style|\son[a-z]+=\"|javascript:", text), path
        assert not re.search(r"(src|href)=\"(https?:)?//", text), path


def test_styles_and_scripts_load_nothing_from_outside():
    for path in (ROOT / "web/static").rglob("*.[cj]s*"):
        if "vendor" not in path.parts:
            assert not re.search(r"https?://|//cdn|@import", path.read_text()), path


def test_every_step_where_hands_get_hurt_has_its_caution():
    assert {"strip", "lay", "pad", "fasten", "trim", "finish"} <= set(BY_STEP)
    for keys in BY_STEP.values():
        assert set(keys) <= set(CAUTIONS)
    assert cautions_for("strip", kind_cautions=("gas_lift",))[0].key == "gas_lift"
    assert "complies" in CAUTIONS["fire_rules"].words
