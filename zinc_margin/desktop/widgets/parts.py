"""Small widgets for the margin and the bench."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

import numpy as np
from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QImage, QPainter, QResizeEvent, QStandardItemModel
from PySide6.QtWidgets import (
    QBoxLayout,
    QButtonGroup,
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QLayout,
    QLineEdit,
    QPushButton,
    QRadioButton,
    QSizePolicy,
    QTableWidget,
    QVBoxLayout,
    QWidget,
)

from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.refusals import carry_out, show_refusal
from zinc_margin.measure.errors import ZincError
from zinc_margin.measure.words import local

LABEL_WIDTH = 98


def image_of(pixels: np.ndarray) -> QImage:
    """Return an image of (H, W, 4) uint8 pixels, blue first."""
    pixels = np.ascontiguousarray(pixels)
    height, width = pixels.shape[:2]
    return QImage(pixels.data, width, height, 4 * width, QImage.Format.Format_RGB32).copy()


def image_of_rgb(codes: np.ndarray) -> QImage:
    """Return an image of (H, W, 3) uint8 pixels, red first."""
    codes = np.ascontiguousarray(codes)
    height, width = codes.shape[:2]
    return QImage(codes.data, width, height, 3 * width, QImage.Format.Format_RGB888).copy()


class Words(QLabel):
    """A label that writes decimals as the locale does."""

    def setText(self, words: str) -> None:
        super().setText(local(words))


class Elided(QLabel):
    """One row of text, shortened where it has too little room; the tooltip then has all of it."""

    def __init__(self, mode: Qt.TextElideMode) -> None:
        super().__init__()
        self._mode, self._whole = mode, ""
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)

    def setText(self, words: str) -> None:
        self._whole = words
        self._fit()

    def _fit(self) -> None:
        shown = self.fontMetrics().elidedText(self._whole, self._mode, max(40, self.width()))
        super().setText(shown)
        self.setToolTip(self._whole if shown != self._whole else "")

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()


def text(words: str = "", soft: bool = False, wrap: bool = True, literal: bool = False) -> QLabel:
    """Return a label in the sans; a literal one shows names unchanged."""
    label = QLabel(words) if literal else Words(local(words))
    label.setTextFormat(Qt.TextFormat.PlainText)
    label.setWordWrap(wrap)
    # its colour comes from the style sheet, so it follows the theme
    label.setProperty("soft", soft)
    return label


def clear(layout: QLayout) -> None:
    """Remove everything from a layout."""
    while layout.count():
        item = layout.takeAt(0)
        widget = item.widget() if item is not None else None
        if widget is not None:
            widget.hide()
            widget.deleteLater()


class Link(QPushButton):
    """Text that acts when clicked."""

    def __init__(self, words: str, pressed: Callable[[], object], help_: str = "") -> None:
        super().__init__(words)
        self.setObjectName("plain")
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Fixed)
        self.setToolTip(help_)
        self.setAutoDefault(False)  # Return accepts the typed value without pressing a button
        self._pressed = pressed
        self.clicked.connect(self._carry_out)

    def _carry_out(self) -> None:
        carry_out(self, self._pressed)


class FolderLink(Link):
    """A folder; clicking it chooses another.

    Parameters
    ----------
    title : str
        Title of the folder dialog.
    """

    def __init__(self, title: str, folder: Path) -> None:
        super().__init__(str(folder), self._choose, "Choose another folder")
        self._title, self.folder = title, folder

    def _choose(self) -> None:
        chosen = QFileDialog.getExistingDirectory(self, self._title, str(self.folder))
        if chosen:
            self.folder = Path(chosen)
            self.setText(chosen)


class Field(QLineEdit):
    """A text field: accepts any value that makes sense, and explains why it rejects others.

    Parameters
    ----------
    name : str
        For assistive technology.
    take : callable
        Receives the text; raises a ZincError with the sentence to show.
    help_ : str
        The tooltip.
    """

    def __init__(
        self, name: str, take: Callable[[str], None], width: int | None = None, help_: str = ""
    ) -> None:
        super().__init__()
        self._help = help_
        self.setToolTip(help_)
        self.setAccessibleName(name)
        self._take = take
        self._shown = ""
        self.literal = False
        if width is not None:
            self.setFixedWidth(theme.px(width))
        self.editingFinished.connect(self._finish)
        self.returnPressed.connect(self._leave)

    def _leave(self) -> None:
        # After the value is accepted, single-key shortcuts belong to the window again.
        if not self.property("wrong"):
            self.clearFocus()

    def show_help(self, words: str) -> None:
        """Set the tooltip; the reason for a rejected value has priority."""
        self._help = words
        if not self.property("wrong"):
            self.setToolTip(words)

    def show_value(self, words: str) -> None:
        """Show the docket's value, unless the user is typing."""
        words = words if self.literal else local(words)
        if self.hasFocus() and self.isModified() and words == self._shown:
            return
        self._shown = words
        self.setText(words)
        self.setModified(False)
        self.setCursorPosition(0)
        self._mark("")

    def _finish(self) -> None:
        typed = self.text().strip()
        if not self.isModified() or typed == self._shown:
            return
        self.setModified(False)
        try:
            self._take(typed)
        except ZincError as why:
            self._mark(str(why))
        else:
            self._mark("")

    def _mark(self, why: str) -> None:
        changed = bool(self.property("wrong")) != bool(why)
        self.setProperty("wrong", bool(why))
        self.setToolTip(why or self._help)
        self.setAccessibleDescription(why)
        if changed or why:
            show_refusal(self, why)
        if changed:
            self.style().unpolish(self)
            self.style().polish(self)


def accept_any(typed: str) -> None:
    """Accept any text, for a field that is read when a button is pressed."""


class Choice(QComboBox):
    """A list with one choice."""

    def __init__(
        self,
        name: str,
        words: Sequence[tuple[str, str]],
        take: Callable[[str], None],
        width: int | None = None,
    ) -> None:
        super().__init__()
        self.setAccessibleName(name)
        if width is not None:
            self.setFixedWidth(theme.px(width))
        for key, shown in words:
            self.addItem(shown, key)
        self._value, self._take = "", take
        self.activated.connect(self._choose)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def _choose(self, index: int) -> None:
        _apply(self, self._take, self.itemData(index))

    def show_value(self, key: str) -> None:
        """Show the docket's value."""
        self._value = key
        self.setCurrentIndex(self.findData(key))

    @property
    def value(self) -> str:
        """The last value shown."""
        return self._value

    def offer(self, key: str, there: bool) -> None:
        """Enable or disable a choice."""
        model = self.model()
        item = model.item(self.findData(key)) if isinstance(model, QStandardItemModel) else None
        if item is not None:
            item.setEnabled(there)

    def show_words(self, words: Sequence[tuple[str, str]]) -> None:
        """Replace the choices."""
        if [(self.itemData(at), self.itemText(at)) for at in range(self.count())] != list(words):
            self.clear()
            for key, shown in words:
                self.addItem(shown, key)

    def paintEvent(self, event: object) -> None:
        # Paint it flat, as a word on a line: the style's frame would not fit our look.
        t = theme.tones()
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(t.field))
        focused = self.hasFocus()
        thick = 2 if focused else 1
        line = QColor(t.accent if focused else t.ink if self.isEnabled() else t.rule)
        painter.fillRect(0, self.height() - thick, self.width(), thick, line)
        painter.setPen(QColor(t.ink if self.isEnabled() else t.soft))
        middle = Qt.AlignmentFlag.AlignVCenter
        box = self.rect().adjusted(6, 0, -20, 0)
        shown = painter.fontMetrics().elidedText(
            self.currentText(), Qt.TextElideMode.ElideRight, box.width()
        )
        painter.drawText(box, Qt.AlignmentFlag.AlignLeft | middle, shown)
        painter.drawText(
            self.rect().adjusted(0, 0, -6, 0), Qt.AlignmentFlag.AlignRight | middle, "▾"
        )

    def wheelEvent(self, event: object) -> None:
        # Scrolling the margin with the wheel must not change a decision on the way.
        event.ignore()  # type: ignore[attr-defined]


class Switch(QWidget):
    """A few words side by side, one of them selected."""

    def __init__(
        self, name: str, words: Sequence[tuple[str, str]], take: Callable[[str], None]
    ) -> None:
        super().__init__()
        self.setAccessibleName(name)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        self.value = words[0][0]
        self._take = take
        self._group = QButtonGroup(self)
        self._group.buttonClicked.connect(self._choose)
        self._buttons: dict[str, QRadioButton] = {}
        for key, shown in words:
            button = QRadioButton(shown)
            button.setObjectName("choice")
            button.setAccessibleName(f"{name}: {shown}")
            self._group.addButton(button)
            self._buttons[key] = button
            row.addWidget(button)
        row.addStretch(1)

    def _choose(self, pressed: object) -> None:
        for key, button in self._buttons.items():
            if button is pressed:
                _apply(self, self._take, key)

    def show_value(self, key: str) -> None:
        """Show the docket's value."""
        self.value = key
        if key in self._buttons:
            self._buttons[key].setChecked(True)

    @property
    def words(self) -> list[str]:
        """The choices."""
        return [button.text() for button in self._buttons.values()]

    def button(self, key: str) -> QRadioButton:
        """Return the button of a choice."""
        return self._buttons[key]


def _apply(part: Choice | Switch, take: Callable[[str], None], key: str) -> None:
    """Apply a choice; if it is refused, report why and show the previous one again."""
    before = part.value
    try:
        take(key)
    except ZincError as why:
        show_refusal(part, str(why))
        part.show_value(before)
    else:
        show_refusal(part, "")


class NoteBox(QWidget):
    """A note in the margin: its text and remedies beside a red rule."""

    def __init__(self, words: str, ways: Sequence[tuple[str, Callable[[], object]]]) -> None:
        super().__init__()
        outer = QHBoxLayout(self)
        outer.setContentsMargins(0, 4, 0, 4)
        outer.setSpacing(8)
        rule = QWidget()
        rule.setFixedWidth(2)
        rule.setObjectName("rule")
        rule.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        outer.addWidget(rule)
        column = QVBoxLayout()
        column.setSpacing(1)
        self.label = text(words)
        column.addWidget(self.label)
        for shown, pressed in ways:
            link = Link(shown, pressed)
            link.setProperty("note", True)
            # A link is as wide as its text; without this alignment it would widen the note.
            column.addWidget(link, 0, Qt.AlignmentFlag.AlignLeft)
        outer.addLayout(column, 1)


def row(label: str, *widgets: QWidget | str) -> QHBoxLayout:
    """Return a row of a line's body: a label, then controls and words."""
    layout = QHBoxLayout()
    layout.setSpacing(6)
    name = text(label, soft=True, wrap=False)
    name.setFixedWidth(theme.px(LABEL_WIDTH))
    layout.addWidget(name)
    stretch = True
    for widget in widgets:
        shown = text(widget, soft=True, wrap=False) if isinstance(widget, str) else widget
        layout.addWidget(shown)
        if name.buddy() is None and not isinstance(widget, str):
            name.setBuddy(shown)
        stretch = stretch and shown.sizePolicy().horizontalPolicy() not in (
            QSizePolicy.Policy.Expanding,
        )
    layout.addStretch(1 if stretch else 0)
    return layout


def held_row(label: str, *widgets: QWidget | str) -> QWidget:
    """Return a row that can be hidden."""
    holder, layout = QWidget(), row(label, *widgets)
    layout.setContentsMargins(0, 0, 0, 0)
    holder.setLayout(layout)
    return holder


def listing(name: str, *headings: str) -> QTableWidget:
    """Return an empty table with headings; the last column takes the remaining width."""
    result = QTableWidget(0, len(headings))
    result.setAccessibleName(name)
    result.setHorizontalHeaderLabels(headings)
    result.verticalHeader().setVisible(False)
    result.setShowGrid(False)
    header = result.horizontalHeader()
    header.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
    header.setStretchLastSection(True)
    header.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
    return result


def column_layout(
    parent: QWidget, margins: tuple[int, int, int, int], spacing: int = 6
) -> QBoxLayout:
    """Give a widget a column layout."""
    column = QVBoxLayout(parent)
    column.setContentsMargins(*margins)
    column.setSpacing(spacing)
    return column
