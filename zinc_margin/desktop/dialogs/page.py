"""Base classes for dialogs that show a page before writing it."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QRectF
from PySide6.QtGui import QColor, QImage, QPainter, QPaintEvent
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLayout, QPushButton, QVBoxLayout, QWidget

from zinc_margin.desktop.dialogs.base import Dialog
from zinc_margin.desktop.widgets import theme

_SEEN = (720, 470)


class PagePreview(QWidget):
    """A page before it is written."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.image: QImage | None = None
        self.setMinimumSize(*_SEEN)
        self.setAccessibleName(name)

    def show_image(self, image: QImage | None) -> None:
        """Show another page."""
        self.image = image
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(theme.tones().zinc))
        if self.image is None:
            return
        ratio = min(
            (self.width() - 32) / self.image.width(), (self.height() - 32) / self.image.height()
        )
        width, height = self.image.width() * ratio, self.image.height() * ratio
        box = QRectF((self.width() - width) / 2, (self.height() - height) / 2, width, height)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(box, self.image)


class PageDialog(Dialog):
    """A preview, rows of controls, and a button that writes the page.

    Parameters
    ----------
    title, write : str
        Texts of the window title and the button.
    """

    def __init__(self, parent: QWidget, title: str, page: PagePreview, write: str) -> None:
        super().__init__(parent, title)
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(20, 18, 20, 18)
        self._column.setSpacing(8)
        self.page = page
        self._column.addWidget(self.page, 1)
        self.save = QPushButton(write)
        self.save.setObjectName("make")
        self.save.clicked.connect(self.ask_where)

    def lay_out(
        self, *lines: Sequence[QLayout], beside: Sequence[QWidget] = (), told: QWidget | None = None
    ) -> None:
        """Arrange rows of controls in columns below the preview, then the button.

        Parameters
        ----------
        beside : sequence of QWidget
            Widgets before the button.
        told : QWidget or None
            A widget between preview and rows.
        """
        if told is not None:
            self._column.addWidget(told)
        grid = QGridLayout()
        grid.setHorizontalSpacing(24)
        columns = max(map(len, lines), default=0)
        for across, parts in enumerate(lines):
            for along, part in enumerate(parts):
                rest = columns + 1 - along if along == len(parts) - 1 else 1
                grid.addLayout(part, across, along, 1, rest)
        grid.setColumnStretch(columns, 1)
        self._column.addLayout(grid)
        below = QHBoxLayout()
        below.addWidget(self.sentence, 1)
        for each in beside:
            below.addWidget(each)
        below.addWidget(self.save)
        self._column.addLayout(below)
        for button in self.findChildren(QPushButton):
            button.setAutoDefault(False)  # Return accepts the typed value without pressing a button

    def ask_where(self) -> None:
        """Ask for the file, and write it."""
