"""A line explained in place: two sentences with this photo's numbers, beside its name."""

from __future__ import annotations

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from zinc_margin.desktop import theme
from zinc_margin.desktop.parts import stacked, text

_WIDTH = 400


class HelpNote(QWidget):
    """Stands beside a line until a key or a press puts it away."""

    def __init__(self, parent: QWidget, title: str, sentences: str) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self._over = parent
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setAccessibleName(f"What {title} is about")
        self.setAccessibleDescription(sentences)
        column = stacked(self, (18, 12, 18, 14), 6)
        head = text(title, wrap=False)
        head.setFont(theme.serif(17))
        self.said = text(sentences)
        column.addWidget(head)
        column.addWidget(self.said)
        self.setFixedWidth(theme.px(_WIDTH))

    def show_at(self, beside: QWidget) -> None:
        """Show it to the right of what it explains."""
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
