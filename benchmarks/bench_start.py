"""From nothing to a painted window, empty and with the cached demo, against a bare Qt window.

    python benchmarks/bench_start.py

The bare window has the same style, style sheet and fonts.
"""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
from pathlib import Path

_START = """
from zinc_margin.desktop.shell.application import start
app = start()
from zinc_margin.desktop.shell.window import Window
window = Window()
window.show()
"""
EMPTY = f"{_START}window.grab()"
FILLED = f"""{_START}
from zinc_margin.demo import folder
window.open_photos([folder.cache_folder() / name for name in folder.NAMES])
from PySide6.QtCore import QEventLoop
while len(window.table.prints) < 4:  # it sleeps between events, as an application does
    app.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
window.grab()
"""
BARE = """
from PySide6.QtGui import QFont, QFontDatabase
from PySide6.QtWidgets import QApplication, QMainWindow
app = QApplication([])
app.setStyle("Fusion")
for name in FONTS:
    QFontDatabase.addApplicationFont(name)
app.setFont(QFont("Source Sans 3"))
app.setStyleSheet(SHEET)
window = QMainWindow()
window.resize(1280, 800)
window.show()
window.grab()
"""
_ASKED = {"empty": 3.5, "with the demo": 5.0}


def seconds(code: str) -> float:
    begun = time.perf_counter()
    subprocess.run([sys.executable, "-c", code + "\nimport os; os._exit(0)"], check=True)
    return time.perf_counter() - begun


def bare() -> str:
    """The bare window's code, with our fonts and style sheet written into it."""
    from zinc_margin.desktop.widgets import theme
    from zinc_margin.fonts import ON_SCREEN, font_file

    folder = Path(tempfile.mkdtemp())
    for name in ON_SCREEN:
        (folder / name).write_bytes(font_file(name).read_bytes())
    fonts = [str(folder / name) for name in ON_SCREEN]
    return f"FONTS = {fonts!r}\nSHEET = {theme._sheet(theme.LIGHT)!r}\n{BARE}"


if __name__ == "__main__":
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from zinc_margin.demo import folder

    folder.write_demo(folder.cache_folder())
    codes = {"empty": EMPTY, "with the demo": FILLED, "bare": bare()}
    # in turn, since machines change their pace
    rounds = [{name: seconds(code) for name, code in codes.items()} for _ in range(8)]
    best = {name: min(one[name] for one in rounds) for name in codes}
    for name, asked in _ASKED.items():
        ratio = best[name] / best["bare"]
        print(
            f"window, {name}: {best[name]:.2f} s, {ratio:.1f} times a bare Qt window "
            f"({best['bare']:.2f} s); at most {asked} is asked: "
            f"{'met' if ratio <= asked else 'NOT met'}"
        )
