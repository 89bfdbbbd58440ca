"""What takes long to load is loaded when it is first used, not before the first look."""

from __future__ import annotations

import subprocess
import sys

HEAVY = (
    "numba",
    "onnxruntime",
    "scipy",
    "skimage",
    "sqlite3",
    "ssl",
    "http.client",
    "tifffile",
    "numpy.ma",
    "numpy.polynomial",
)
LOOK = """
import sys
from zinc_margin.desktop.shell.application import start
app = start()
from zinc_margin.desktop.shell.window import Window
window = Window()
window.show()
window.grab()
"""
COMMAND = """
import sys
from zinc_margin.commands import main
assert main(["sizes", "--family", "photo"]) == 0
"""


def loaded(code: str) -> list[str]:
    said = f"print(*(name for name in {HEAVY!r} if name in sys.modules), file=sys.stderr)"
    line = [sys.executable, "-c", f"{code}\n{said}\nimport os; os._exit(0)"]
    run = subprocess.run(line, capture_output=True, text=True, check=True)
    return run.stderr.split()


def test_a_window_stands_without_what_is_heavy():
    assert loaded(LOOK) == []


def test_so_does_a_command_that_only_looks_up():
    assert loaded(COMMAND) == []
