"""Long texts to read: the guide, and the log of failures."""

from __future__ import annotations

import sys
from contextlib import suppress
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QTextBrowser, QVBoxLayout, QWidget

from zinc_margin.keeping import log

_PLACES = (Path(__file__).parents[2] / "docs", Path(sys.prefix) / "share" / "doc" / "zinc-margin")
"""In the sources, and where it is installed."""


def guide_text() -> str:
    """Return the guide in Markdown; a sentence where it was not installed."""
    for folder in _PLACES:
        with suppress(OSError):
            return (folder / "guide.md").read_text("utf-8")
    return "The guide was not installed with the program."


class TextDialog(QDialog):
    """Shows a long text; the window stays usable."""

    def __init__(self, parent: QWidget, title: str, width: int = 760) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.page = QTextBrowser()
        self.page.setAccessibleName(title)
        self.page.document().setDocumentMargin(24)
        column.addWidget(self.page)
        self.resize(width, 640)


def guide_dialog(parent: QWidget) -> TextDialog:
    """Return a dialog with the guide."""
    dialog = TextDialog(parent, "The guide")
    dialog.page.setMarkdown(guide_text())
    return dialog


def log_dialog(parent: QWidget) -> TextDialog:
    """Return a dialog with the recorded failures."""
    dialog = TextDialog(parent, "Log of failures", 900)
    found = [log.entry_text(entry) for entry in log.entries()]
    head = (
        "To ask for help, copy the failure that you mean. It holds no picture and no location.\n\n"
        if found
        else "No failure has been recorded."
    )
    dialog.page.setPlainText(head + "\n\n".join(found))
    return dialog
