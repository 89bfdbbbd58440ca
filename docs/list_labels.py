"""List every text that a user meets: labels, names, tooltips, menus, placeholders, options.

Run ``python docs/list_labels.py`` after a change of words, and read the list as someone who has
never seen the program.
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
# Decisions of earlier windows must not return, nor those of this one stay.
os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp()
sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from PySide6.QtWidgets import QApplication, QComboBox, QDialog, QLineEdit, QMenu, QWidget

from zinc_margin.commands.help_text import every_parser
from zinc_margin.commands.program import program_parser
from zinc_margin.demo import folder as demo
from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.shell.application import start
from zinc_margin.desktop.shell.window import Window
from zinc_margin.docket.docket import LINES

_QUIET_S, _MOST_S = 0.3, 60.0


def settle(window: Window) -> None:
    """Wait until nothing is under way."""
    ends, quiet = time.monotonic() + _MOST_S, time.monotonic()
    while time.monotonic() < ends and time.monotonic() - quiet < _QUIET_S:
        QApplication.processEvents()
        if window.busy:
            quiet = time.monotonic()
        time.sleep(0.01)


def texts(part: QWidget) -> Iterator[tuple[str, str]]:
    """Yield the kinds and texts of a widget and all inside it."""
    for menu in part.findChildren(QMenu):
        menu.aboutToShow.emit()
    for each in (part, *part.findChildren(QWidget)):
        shown = each.text() if hasattr(each, "text") and callable(each.text) else ""
        if not isinstance(each, QLineEdit):
            yield "label", str(shown)
        else:
            yield "placeholder", each.placeholderText()
        yield "name", each.accessibleName()
        yield "tooltip", each.toolTip()
        if isinstance(each, QComboBox):
            for at in range(each.count()):
                yield "choice", each.itemText(at)
        if isinstance(each, QMenu):
            for action in each.actions():
                yield "menu", action.text().split("\t")[0]


def window_texts() -> Iterator[tuple[str, str, str]]:
    """Yield place, kind and text for every view of the window and its dialogs."""
    start()
    window = Window(Table("cm"))
    window.resize(1280, 800)
    window.show()
    yield from (("empty window", *each) for each in texts(window))
    folder = demo.cache_folder()
    if not demo.is_there(folder):
        demo.write_demo(folder)
    window.open_photos([folder / name for name in demo.NAMES])
    settle(window)
    for line in LINES:
        window.table.open_line(line)
        settle(window)
        yield from ((line, *each) for each in texts(window))
    asks = window.dialogs
    for call in (asks.show_batch, asks.show_presets, asks.lay_together, asks.make_strip):
        call()
        settle(window)
        for dialog in window.findChildren(QDialog):
            if dialog.isVisible():
                yield from ((dialog.windowTitle(), *each) for each in texts(dialog))
                dialog.done(QDialog.DialogCode.Rejected)
    window.end()


def option_texts() -> Iterator[tuple[str, str, str]]:
    """Yield command, kind and text for every option of the command line."""
    for parser in every_parser(program_parser()):
        for each in parser._actions:
            words = ", ".join(each.option_strings) or str(each.metavar or each.dest)
            yield parser.prog, "option", f"{words}: {each.help}"


def main() -> None:
    """Print every text once, with its first place."""
    seen: set[tuple[str, str]] = set()
    for place, kind, text in (*window_texts(), *option_texts()):
        if text.strip() and (kind, text) not in seen:
            seen.add((kind, text))
            print(f"{place}\t{kind}\t{text}".replace("\n", " / "))


if __name__ == "__main__":
    main()
