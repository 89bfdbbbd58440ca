"""Help: explanations of lines, search for controls, keys, the guide, the log."""

from __future__ import annotations

import sys
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QTextBrowser, QVBoxLayout, QWidget

from zinc_margin.desktop.dialogs.base import Dialog
from zinc_margin.desktop.margin.column import Margin
from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.shell.keys import KeySheet
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.parts import column_layout, text
from zinc_margin.keeping import log
from zinc_margin.plan.text.help_words import line_help

if TYPE_CHECKING:
    from zinc_margin.desktop.dialogs.find import Control


class Guidance:
    """The window's help.

    Parameters
    ----------
    window : QWidget
        Parent of the answers.
    """

    def __init__(self, window: QWidget, table: Table, margin: Margin) -> None:
        self._window, self._table = window, table
        self._margin = margin

    def explain_line(self) -> None:
        """Explain the open line with this photo's numbers."""
        self.explain(self._table.line)

    def explain(self, line: str) -> None:
        """Explain a line with this photo's numbers."""
        one = self._table.current
        if one is None:
            self.show_keys()
            return
        sentences = line_help(one.facts, one.plan(), line, self._table.units)
        HelpNote(self._window, line.capitalize(), sentences).show_at(self._margin.lines[line].head)

    def find_control(self) -> None:
        """Ask for a control by a word, and go to it."""
        from zinc_margin.desktop.dialogs.find import FindDialog

        if self._table.current is not None:
            FindDialog(self._window, self._margin, self._table, self.reveal).open()

    def reveal(self, one: Control) -> None:
        """Show and focus a control of the open line."""
        self._margin.show_lines()
        body = self._margin.bodies[one.line]
        part: QWidget | None = one.widget
        while part is not None and part is not body:
            if part.isHidden():
                body.unfold(part)
            part = part.parentWidget()
        if one.widget.isVisible():
            focused = one.widget
            inside = [each for each in one.widget.findChildren(QWidget) if each.focusPolicy()]
            if focused.focusPolicy() == Qt.FocusPolicy.NoFocus and inside:
                focused = inside[0]
            focused.setFocus(Qt.FocusReason.TabFocusReason)
            self._margin.roll.ensureWidgetVisible(one.widget, 0, 60)
            return
        self._table.say(f"{one.name}: it does not apply to this print at present.")

    def show_guide(self) -> None:
        """Show the guide."""
        guide_dialog(self._window).show()

    def show_log(self) -> None:
        """Show the recorded failures."""
        log_dialog(self._window).show()

    def show_keys(self) -> None:
        """Show every key on one sheet."""
        sheet = KeySheet(self._window)
        sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        sheet.adjustSize()
        sheet.move(self._window.mapToGlobal(self._window.rect().center()) - sheet.rect().center())
        sheet.show()


_WIDTH = 400


class HelpNote(QWidget):
    """An explanation next to a line; any key or click closes it."""

    def __init__(self, parent: QWidget, title: str, sentences: str) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self._over = parent
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setAccessibleName(f"About {title}")
        self.setAccessibleDescription(sentences)
        column = column_layout(self, (18, 12, 18, 14), 6)
        head = text(title, wrap=False)
        head.setFont(theme.serif(17))
        self.said = text(sentences)
        column.addWidget(head)
        column.addWidget(self.said)
        self.setFixedWidth(theme.px(_WIDTH))

    def show_at(self, beside: QWidget) -> None:
        """Show it to the right of the explained part."""
        self.adjustSize()
        where = beside.mapToGlobal(QPoint(beside.width() + 6, 0))
        lowest = self._over.mapToGlobal(self._over.rect().bottomLeft()).y()
        where.setY(min(where.y(), lowest - self.height() - 8))
        self.move(where)
        self.show()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        self.close()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.close()

    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme.tones()
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(t.open_paper))
        painter.setPen(QColor(t.soft))
        painter.drawRect(self.rect().adjusted(0, 0, -1, -1))
        painter.fillRect(0, 0, 4, self.height(), QColor(t.accent))


_PLACES = (Path(__file__).parents[3] / "docs", Path(sys.prefix) / "share" / "doc" / "zinc-margin")
"""The docs folder: in the sources, or as installed."""


def guide_text() -> str:
    """Return the guide in Markdown, or a sentence if it is not installed."""
    for folder in _PLACES:
        with suppress(OSError):
            return (folder / "guide.md").read_text("utf-8")
    return "The guide is not installed with the program."


class TextDialog(Dialog):
    """Shows a long text without blocking the window."""

    def __init__(self, parent: QWidget, title: str, width: int = 760) -> None:
        super().__init__(parent, title)
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
        "To ask for help, copy the failure. It contains no picture and no location.\n\n"
        if found
        else "No failure has been recorded."
    )
    dialog.page.setPlainText(head + "\n\n".join(found))
    return dialog
