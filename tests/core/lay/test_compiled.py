"""What is compiled: that a changed source is seen wherever it is used, and that nothing is left to compile while
somebody waits.
"""

import ast
import shutil
import subprocess
import sys
from pathlib import Path

import zonatome
from zonatome.core.lay.compiled_folder import sources_mark

LAY = Path(zonatome.__file__).parent / "core/lay"
CALLEE = """
from numba import njit
from zonatome.core.lay.kernel.compiled import COMPILED
TIMES = {times}.0

@njit(**COMPILED)
def larger(x):
    return TIMES * x
"""
CALLER = """
from numba import njit
from zonatome.core.lay.kernel.callee import larger
from zonatome.core.lay.kernel.compiled import COMPILED

@njit(**COMPILED)
def ten(x):
    return 10.0 * larger(x)

print(ten(1.0), sum(ten.stats.cache_hits.values()))
"""
UNCALLED = """
import importlib, sys
from numba.core.dispatcher import Dispatcher
from tests.core.lay.requests_of_the_trade import six_chairs
from zonatome.core.lay.lay import search_lay
from zonatome.core.lay.precompile import precompile
precompile()
ways = {}
for name in sys.argv[1:]:
    module, _, function = name.partition(":")
    found = getattr(importlib.import_module("zonatome.core.lay.kernel." + module), function)
    if isinstance(found, Dispatcher):
        ways[name] = found, len(found.signatures)
        if not found.signatures:
            print(name)
for gap in (4, 0):  # whole numbers, as a program hands them over
    search_lay(six_chairs(gap=gap, welt=True), seconds=0.4)
print(*[name + " once more" for name, (found, many) in ways.items() if len(found.signatures) > many], sep="\\n")
"""


def called_from_python():
    """What Python calls of the kernel: by name, from the other rooms and from the kernel's own functions that are not
    compiled.
    """
    names = set()
    for path in LAY.rglob("*.py"):
        tree = ast.parse(path.read_text())
        if path.parent.name != "kernel":
            for node in ast.walk(tree):
                if isinstance(node, ast.ImportFrom) and (node.module or "").startswith("zonatome.core.lay.kernel."):
                    names |= {f"{node.module.rpartition('.')[2]}:{alias.name}" for alias in node.names}
        else:
            plain = [n for n in tree.body if isinstance(n, ast.FunctionDef) and not n.decorator_list]
            calls = [c for f in plain for c in ast.walk(f) if isinstance(c, ast.Call) and isinstance(c.func, ast.Name)]
            own = {n.name for n in tree.body if isinstance(n, ast.FunctionDef)}
            names |= {f"{path.stem}:{c.func.id}" for c in calls if c.func.id in own}
    return sorted(names)


def said(command, folder, *more):
    return subprocess.run(
        [sys.executable, "-c", command, *more], cwd=folder, capture_output=True, text=True, check=True
    ).stdout.strip()


def test_a_function_sees_that_what_it_calls_in_another_file_was_changed(tmp_path):
    """numba alone would go on with the old one: it looks at the caller's own file only."""
    kernel = tmp_path / "zonatome/core/lay/kernel"
    kernel.mkdir(parents=True)
    shutil.copy(LAY / "compiled_folder.py", kernel.parent)
    shutil.copy(LAY / "kernel/compiled.py", kernel)
    (kernel / "caller.py").write_text(CALLER)
    run = "import zonatome.core.lay.kernel.caller"
    (kernel / "callee.py").write_text(CALLEE.format(times=2))
    assert said(run, tmp_path) == "20.0 0"
    assert said(run, tmp_path) == "20.0 1", "the second time it is read from where it is kept"
    (kernel / "callee.py").write_text(CALLEE.format(times=3))
    assert said(run, tmp_path) == "30.0 0"


def test_the_mark_of_the_sources_changes_with_each_of_them(tmp_path):
    shutil.copytree(LAY / "kernel", tmp_path / "kernel", ignore=shutil.ignore_patterns("__pycache__"))
    marks = {sources_mark(LAY / "kernel"), sources_mark(tmp_path / "kernel")}  # elsewhere all is compiled anew
    files = sorted((tmp_path / "kernel").glob("*.py"))
    assert len(files) > 10
    for path in files:
        path.write_text(path.read_text() + "# changed\n")
        marks.add(sources_mark(tmp_path / "kernel"))
    assert len(marks) == len(files) + 2


def test_all_that_python_calls_is_compiled_before_anybody_waits_and_whole_numbers_compile_nothing_anew():
    names = called_from_python()
    assert len(names) > 20
    assert said(UNCALLED, LAY.parents[2], *names) == ""
