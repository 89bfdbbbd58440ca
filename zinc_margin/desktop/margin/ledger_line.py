"""One line of the margin: name, decision, consequence, and its controls."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QRect, QSize, Qt
from PySide6.QtGui import (
    QAccessible,
    QAccessibleStateChangeEvent,
    QColor,
    QPainter,
    QPaintEvent,
    QResizeEvent,
)
from PySide6.QtWidgets import QAbstractButton, QAccessibleWidget, QPushButton, QSizePolicy, QWidget

from zinc_margin.desktop.margin.body import Body
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.parts import column_layout
from zinc_margin.measure.words import local
from zinc_margin.plan.text.lines import Entry

NAME_WIDTH = 86
"""Width of the lines' names, px; the body of an open line begins further left."""
INDENT = 16
"""Left edge of bodies, heading and foot, px."""
_STATES = {"written": "decided by you", "worked out": "automatic", "look": "needs a look"}
_TOP, _DECISION, _ROW, _BOTTOM = 5, 22, 17, 6
_WRAP = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap


class LineHead(QAbstractButton):
    """The two rows of a line; a click opens it, and assistive technology is notified."""

    def __init__(self, number: int, title: str, pressed: Callable[[], None]) -> None:
        super().__init__()
        self._number, self.title = number, title
        self._entry = Entry("", "", "worked out")
        self.is_open = self.is_compact = False
        self._bare = False
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.clicked.connect(pressed)
        self.help = QPushButton("?", self)
        self.help.setObjectName("help")
        self.help.setAccessibleName(f"What is {title}?")
        self.help.setToolTip(f"About {title}, with this photo's numbers (F1)")
        self.help.setCursor(Qt.CursorShape.WhatsThisCursor)
        self.help.setFocusPolicy(Qt.FocusPolicy.TabFocus)

    def show_entry(self, entry: Entry, is_open: bool, bare: bool = False) -> None:
        """Show a decision and its consequence; only the name if the body states them."""
        self._bare = bare
        entry = Entry(local(entry.decision), local(entry.consequence), entry.state)
        if (entry, is_open) == (self._entry, self.is_open):
            return
        was_open, self._entry, self.is_open = self.is_open, entry, is_open
        state = _STATES[entry.state]
        self.setAccessibleName(f"{self._number} {self.title}: {entry.decision}, {state}")
        self.setAccessibleDescription(entry.consequence)
        self.setToolTip(f"{self.title}: {state}.\n{entry.decision}\n{entry.consequence}")
        self._fit()
        self.update()
        if was_open != is_open and QAccessible.isActive():
            changed = QAccessible.State()
            changed.expanded = True
            QAccessible.updateAccessibility(QAccessibleStateChangeEvent(self, changed))

    def be_compact(self, is_it: bool) -> None:
        """Show only the first row, where space is short."""
        if is_it != self.is_compact:
            self.is_compact = is_it
            self._fit()
            self.update()

    @property
    def full_height(self) -> int:
        """The height with all rows."""
        return theme.px(_TOP + _DECISION + _ROW * self._rows() + _BOTTOM)

    @property
    def entry(self) -> Entry:
        """The displayed text."""
        return self._entry

    def _room(self) -> QRect:
        """The consequence's rectangle, for any height."""
        left = theme.px(NAME_WIDTH) + 4
        return QRect(left, theme.px(_TOP + _DECISION), self.width() - left - 8, theme.px(400))

    def _rows(self) -> int:
        """Return as many rows as the consequence needs."""
        if self._bare:
            return 0
        self.ensurePolished()
        box = self.fontMetrics().boundingRect(self._room(), _WRAP, self._entry.consequence)
        return max(1, round(box.height() / max(1, self.fontMetrics().lineSpacing())))

    def _fit(self) -> None:
        low = theme.px(_TOP + _DECISION + _BOTTOM)
        self.setFixedHeight(low if self.is_compact else self.full_height)
        self.help.setVisible(not self.is_compact)
        side = theme.px(18)
        self.help.setFixedSize(side, theme.px(20))
        second = theme.px(_TOP + (0 if self._bare else _DECISION) - 2)
        self.help.move(theme.px(NAME_WIDTH) - (0 if self._bare else side + 2), second)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if event.oldSize().width() != event.size().width():
            self._fit()

    def sizeHint(self) -> QSize:
        return QSize(theme.px(200), self.height())

    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme.tones()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.TextAntialiasing)
        painter.setFont(theme.sans(13, bold=self.is_open))
        painter.setPen(QColor(t.accent_text if self.is_open else t.soft))
        middle = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
        top, high = theme.px(_TOP), theme.px(_DECISION)
        painter.drawText(QRect(12, top, 14, high), middle, str(self._number))
        painter.drawText(QRect(theme.px(25), top, theme.px(62), high), middle, self.title)
        self._paint_state(painter, t)
        painter.setPen(QColor(t.ink))
        painter.setFont(theme.serif(16))
        room = self._room()
        wide = room.width() - (theme.px(30) if self.is_compact else 0)
        shown = (
            ""
            if self._bare
            else painter.fontMetrics().elidedText(
                self._entry.decision, Qt.TextElideMode.ElideRight, wide
            )
        )
        painter.drawText(QRect(room.left(), top, room.width(), high), middle, shown)
        painter.setFont(theme.sans(13))
        painter.setPen(QColor(t.soft))
        if not self.is_compact and not self._bare:
            painter.drawText(room, _WRAP, self._entry.consequence)
        if self.hasFocus():
            painter.setPen(QColor(t.accent_text))
            painter.drawRect(self.rect().adjusted(6, 1, -3, -3))

    def _paint_state(self, painter: QPainter, t: theme.Tones) -> None:
        """Draw the mark below or beside the name: full, hollow, or a short warning."""
        beside = self.is_compact or self._bare
        top = theme.px(_TOP + (3 if beside else _DECISION))
        left = self.width() - theme.px(36) if beside else theme.px(25)
        if self._entry.state == "look":
            painter.setFont(theme.sans(12, bold=True))
            painter.setPen(QColor(t.accent_text))
            where = QRect(left, top, theme.px(44), theme.px(16))
            painter.drawText(where, Qt.AlignmentFlag.AlignLeft, "look")
            return
        box = QRect(left + 1, top + theme.px(4), 8, 8)
        if self._entry.state == "written":
            painter.fillRect(box, QColor(t.accent))
        else:
            painter.setPen(QColor(t.soft))
            painter.drawRect(box.adjusted(0, 0, -1, -1))


class _Told(QAccessibleWidget):
    """The accessible interface of a head: a button that expands something."""

    def __init__(self, head: LineHead) -> None:
        super().__init__(head, QAccessible.Role.Button)
        self._head = head

    def state(self) -> QAccessible.State:
        result = super().state()
        result.expandable = True
        result.expanded = self._head.is_open
        result.collapsed = not self._head.is_open
        return result

    def actionNames(self) -> list[str]:
        return ["Press"]

    def doAction(self, name: str) -> None:
        if name == "Press":
            self._head.click()


_kept: dict[int, _Told] = {}


def _told_of(key: str, thing: object) -> _Told | None:
    """Create the accessible interface of a line's head; Qt provides the others."""
    if not isinstance(thing, LineHead):
        return None
    at = id(thing)
    if at not in _kept:
        _kept[at] = _Told(thing)
        thing.destroyed.connect(lambda: _kept.pop(at, None))
    return _kept[at]


QAccessible.installFactory(_told_of)


class Line(QWidget):
    """A head and its body; the body exists only while the line is open."""

    def __init__(self, number: int, title: str, body: Body, pressed: Callable[[], None]) -> None:
        super().__init__()
        column = column_layout(self, (0, 0, 0, 0), 0)
        self.head = LineHead(number, title, pressed)
        self.body = body
        column.addWidget(self.head)
        column.addWidget(body)
        body.setContentsMargins(INDENT, 2, 8, 10)
        body.setVisible(False)

    def show_entry(self, entry: Entry, is_open: bool) -> None:
        """Show the line closed or open."""
        self.head.show_entry(entry, is_open, is_open and self.body.states_itself)
        if self.body.isVisibleTo(self) != is_open:
            self.body.setVisible(is_open)
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme.tones()
        painter = QPainter(self)
        is_open = self.body.isVisibleTo(self)
        painter.fillRect(self.rect(), QColor(t.open_paper if is_open else t.paper))
        painter.setPen(QColor(t.rule))
        painter.drawLine(0, self.height() - 1, self.width(), self.height() - 1)
        if is_open:
            painter.fillRect(0, 0, 4, self.height(), QColor(t.accent))
