"""Find a control by its name, or by another word for it, and go there."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QLineEdit, QListWidget, QListWidgetItem, QWidget

from zinc_margin.desktop.dialogs.base import Dialog
from zinc_margin.desktop.margin.column import Margin
from zinc_margin.desktop.margin.slider_row import SliderRow
from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.widgets.parts import Choice, Field, Link, Switch, column_layout, text
from zinc_margin.measure.lengths import plain_text
from zinc_margin.measure.tables import table as data_table


@dataclass(frozen=True)
class Control:
    """A control and its search words.

    Attributes
    ----------
    line : str
    name : str
    words : str
        Its search words: name, tooltip, choices and synonyms.
    widget : QWidget
    """

    line: str
    name: str
    words: str
    widget: QWidget


def controls(margin: Margin) -> Iterator[Control]:
    """Yield every control of the seven lines."""
    others = data_table("synonyms")["synonyms"]
    for line, body in margin.bodies.items():
        body.be_built()
        parts: list[QWidget] = []
        for kind in (Field, Choice, Switch, SliderRow, Link):
            parts += body.findChildren(kind)
        for part in parts:
            inside = part.parentWidget()
            if isinstance(inside, SliderRow):
                continue
            named = part.slider if isinstance(part, SliderRow) else part
            name = named.accessibleName() or getattr(part, "text", str)()
            if not name or part.property("note"):
                continue
            said = [name, named.toolTip(), line]
            if isinstance(part, Choice):
                said += [part.itemText(at) for at in range(part.count())]
            if isinstance(part, Switch):
                said += part.words
            plain = plain_text(" ".join(said))
            said += [more for known, more in others.items() if known in plain]
            yield Control(line, name, plain_text(" ".join(said)), part)


class FindDialog(Dialog):
    """Type a word and choose; the line opens with focus on the control."""

    def __init__(
        self, parent: QWidget, margin: Margin, table: Table, reveal: Callable[[Control], None]
    ) -> None:
        super().__init__(parent, "Find a control")
        self._table, self._reveal = table, reveal
        self._controls = list(controls(margin))
        column = column_layout(self, (16, 14, 16, 14), 8)
        self.typed = QLineEdit()
        self.typed.setPlaceholderText("border, sRGB, dpi, white edge …")
        self.typed.setAccessibleName("What to find")
        self.typed.textChanged.connect(self._search)
        self.typed.installEventFilter(self)
        self.list = QListWidget()
        self.list.setAccessibleName("Controls")
        self.list.itemActivated.connect(self._go)
        self.list.itemClicked.connect(self._go)
        column.addWidget(text("Type any word for the control."))
        column.addWidget(self.typed)
        column.addWidget(self.list)
        self.resize(440, 420)
        self._search("")

    def _search(self, typed: str) -> None:
        self.list.clear()
        wanted = plain_text(typed).split()
        hits = [one for one in self._controls if all(word in one.words for word in wanted)]
        # Matching names come before mere mentions.
        hits.sort(key=lambda one: not all(word in plain_text(one.name) for word in wanted))
        for one in hits:
            item = QListWidgetItem(f"{one.line.capitalize()}: {one.name}")
            item.setData(Qt.ItemDataRole.UserRole, one)
            self.list.addItem(item)
        if hits:
            self.list.setCurrentRow(0)
        elif typed:
            self.list.addItem("No control matches this word.")

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Let the field's arrow keys and Return act on the list."""
        if event.type() == QEvent.Type.KeyPress:
            assert isinstance(event, QKeyEvent)
            step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
            if step is not None:
                row = self.list.currentRow() + step
                self.list.setCurrentRow(max(0, min(self.list.count() - 1, row)))
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                if self.list.currentItem() is not None:
                    self._go(self.list.currentItem())
                return True
        return super().eventFilter(watched, event)

    def _go(self, item: QListWidgetItem) -> None:
        one = item.data(Qt.ItemDataRole.UserRole)
        if isinstance(one, Control):
            self.accept()
            self._table.open_line(one.line)
            self._reveal(one)
