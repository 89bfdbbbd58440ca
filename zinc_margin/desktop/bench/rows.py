"""The table next to the nest: sizes, or photos at one size."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from PySide6.QtCore import QAbstractTableModel, Qt
from PySide6.QtGui import QColor, QPainter
from PySide6.QtWidgets import QStyle, QStyledItemDelegate

from zinc_margin.desktop.widgets import theme

_MIDDLE = Qt.AlignmentFlag.AlignVCenter
_LEFT, _RIGHT = Qt.AlignmentFlag.AlignLeft | _MIDDLE, Qt.AlignmentFlag.AlignRight | _MIDDLE


@dataclass(frozen=True)
class Row:
    """One row: its cells and its tooltip."""

    cells: tuple[str, ...]
    tip: str


class Rows(QAbstractTableModel):
    """Rows under headings; the first column is text, the rest are figures.

    Text is only produced for rows that become visible: in a long list most never do.
    """

    def __init__(self) -> None:
        super().__init__()
        self.heads: tuple[str, ...] = ()
        self.help: tuple[str, ...] = ()
        self.meanings: tuple[Any, ...] = ()
        self.current = -1
        self._describe: Callable[[Any], Row] = lambda meaning: Row((), "")
        self._described: dict[int, Row] = {}

    def show_rows(
        self,
        heads: tuple[str, ...],
        help_: tuple[str, ...],
        meanings: Sequence[Any],
        describe: Callable[[Any], Row],
        current: int,
    ) -> None:
        """Show other rows: their values, and a function that describes one."""
        same_shape = (heads, help_, len(meanings)) == (self.heads, self.help, len(self.meanings))
        if not same_shape:
            self.beginResetModel()
        self.heads, self.help = heads, help_
        self.meanings, self.current = tuple(meanings), current
        self._describe, self._described = describe, {}
        if not same_shape:
            self.endResetModel()
        elif self.meanings:
            last = self.index(len(self.meanings) - 1, len(heads) - 1)
            self.dataChanged.emit(self.index(0, 0), last)

    def row(self, index: int) -> Row:
        """Return a row as text."""
        if index not in self._described:
            self._described[index] = self._describe(self.meanings[index])
        return self._described[index]

    def rowCount(self, parent: Any = None) -> int:
        return len(self.meanings)

    def columnCount(self, parent: Any = None) -> int:
        return len(self.heads)

    def headerData(self, section: int, orientation: Any, role: int = 0) -> Any:
        if orientation == Qt.Orientation.Horizontal and section < len(self.heads):
            if role == Qt.ItemDataRole.DisplayRole:
                return self.heads[section]
            if role == Qt.ItemDataRole.ToolTipRole:
                return self.help[section]
            if role == Qt.ItemDataRole.TextAlignmentRole:
                return _LEFT if section == 0 else _RIGHT
        return None

    def data(self, index: Any, role: int = 0) -> Any:
        row = self.row(index.row())
        if role == Qt.ItemDataRole.DisplayRole:
            return row.cells[index.column()]
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return _LEFT if index.column() == 0 else _RIGHT
        if role == Qt.ItemDataRole.FontRole and index.row() == self.current:
            return theme.sans(13, bold=True)
        if role == Qt.ItemDataRole.ToolTipRole:
            return row.tip
        return None


class Cell(QStyledItemDelegate):
    """Paints a cell as plain text; the style sheet's way takes several times as long."""

    def paint(self, painter: QPainter, option: Any, index: Any) -> None:
        t = theme.tones()
        model = index.model()
        chosen = index.row() == model.current
        if chosen or option.state & QStyle.StateFlag.State_Selected:
            painter.fillRect(option.rect, QColor(t.open_paper))
        painter.setFont(theme.sans(13, bold=chosen))
        painter.setPen(QColor(t.accent_text if chosen else t.ink))
        box = option.rect.adjusted(4, 0, -6, 0)
        column = index.column()
        words = model.row(index.row()).cells[column]
        if column == 0:
            cut = Qt.TextElideMode.ElideRight
            words = painter.fontMetrics().elidedText(words, cut, box.width())
        painter.drawText(box, _LEFT if column == 0 else _RIGHT, words)
        if option.state & QStyle.StateFlag.State_HasFocus:
            painter.setPen(QColor(t.soft))
            painter.drawRect(option.rect.adjusted(0, 0, -1, -1))
