"""The walls of the house: what may import what, and which words never stand in it."""

import ast
import re
from pathlib import Path

import pytest

import zonatome
from zonatome.core.cautions import BY_STEP, CAUTIONS, cautions_for

ROOT = Path(zonatome.__file__).parent
STEPS = ["survey", "strip", "trace", "lay", "pad", "fasten", "trim", "finish", "shop"]


def imports_of(path: Path) -> set[str]:
    names: set[str] = set()
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            names |= {a.name for a in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            names.add(node.module)
    return names


@pytest.mark.parametrize("path", sorted((ROOT / "core").rglob("*.py")), ids=lambda p: str(p.relative_to(ROOT)))
def test_the_core_never_reaches_for_the_interface_nor_for_a_later_step(path):
    room = path.relative_to(ROOT / "core").parts[0]
    for name in imports_of(path):
        assert not name.startswith(("django", "zonatome.web", "zonatome.standins")), name
        later = re.match(r"zonatome\.core\.(\w+)", name)
        if room in STEPS and later and later[1] in STEPS and room != "trace":
            allowed = STEPS[: STEPS.index(room) + 1]
            assert later[1] in allowed or later[1] == "trace", f"{room} uses {later[1]}"


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
