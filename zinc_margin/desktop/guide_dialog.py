"""The guide, to be read beside the window."""

from __future__ import annotations

import sys
from contextlib import suppress
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QTextBrowser, QVBoxLayout, QWidget

_PLACES = (
    Path(__file__).parents[2] / "docs",
    Path(sys.prefix) / "share" / "doc" / "zinc-margin",
)
"""In the sources, and where it is installed."""


def guide_text() -> str:
    """Return the guide in Markdown; a sentence where it was not installed."""
    for folder in _PLACES:
        with suppress(OSError):
            return (folder / "guide.md").read_text("utf-8")
    return "The guide was not installed with the program."


class GuideDialog(QDialog):
    """Shows the guide; the window can be worked in meanwhile."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("The guide")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.page = QTextBrowser()
        self.page.setAccessibleName("The guide")
        self.page.document().setDocumentMargin(24)
        self.page.setMarkdown(guide_text())
        column.addWidget(self.page)
        self.resize(760, 640)
