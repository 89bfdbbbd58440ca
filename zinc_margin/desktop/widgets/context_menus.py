"""Context menus of photos, crop and loupe."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import partial

from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QMenu, QWidget

from zinc_margin.desktop.widgets.refusals import carry_out

Entry = tuple[str, Callable[[], object] | None]


def with_menu(widget: QWidget, entries: Callable[[QPoint], Iterable[Entry]]) -> None:
    """Give a widget a context menu, for the second mouse button and the menu key.

    Parameters
    ----------
    entries : callable
        Receives the position; returns labels and actions. An action of None disables the entry; an
        empty label draws a line.
    """

    def show(at: QPoint) -> None:
        menu = menu_of(widget, entries(at))
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.popup(widget.mapToGlobal(at))

    widget.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
    widget.customContextMenuRequested.connect(show)


def menu_of(parent: QWidget, entries: Iterable[Entry]) -> QMenu:
    """Return a menu with these entries."""
    menu = QMenu(parent)
    for words, call in entries:
        if not words:
            menu.addSeparator()
            continue
        action = menu.addAction(words)
        if call is None:
            action.setEnabled(False)
        else:
            action.triggered.connect(partial(carry_out, menu, call))
    return menu
