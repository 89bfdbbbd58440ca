"""Choose the page of a file that is the photo: every page as a small picture."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

import numpy as np
from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QIcon, QPixmap
from PySide6.QtWidgets import QListView, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from zinc_margin.desktop.dialogs.base import Dialog
from zinc_margin.desktop.services.work import Job
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.imaging import small_of
from zinc_margin.desktop.widgets.parts import image_of, text
from zinc_margin.facts.facts import Facts
from zinc_margin.measure.errors import ZincError
from zinc_margin.photo.header import read_header
from zinc_margin.photo.pixels import read_photo

_SMALL = QSize(180, 130)
_FOUND = tuple[int, str, np.ndarray | None]


class PagesDialog(Dialog):
    """Asks which page of a multi-page file is the photo.

    Parameters
    ----------
    facts : Facts
        Facts of the current page.
    take : callable
        Receives the clicked page (from 1).
    """

    def __init__(self, parent: QWidget, facts: Facts, take: Callable[[int], None]) -> None:
        super().__init__(parent, f"Pages of {facts.path.name}", keeps_all=True)
        self._take = take
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 18, 20, 18)
        column.setSpacing(10)
        column.addWidget(
            text(f"{facts.path.name} has {facts.pages} pictures. Which one is the photo?")
        )
        self.list = QListWidget()
        self.list.setAccessibleName("Pages of the file")
        self.list.setViewMode(QListView.ViewMode.IconMode)
        self.list.setMovement(QListView.Movement.Static)
        self.list.setResizeMode(QListView.ResizeMode.Adjust)
        self.list.setIconSize(_SMALL)
        self.list.setGridSize(QSize(_SMALL.width() + 24, _SMALL.height() + 56))
        self.list.setWordWrap(True)
        empty = QPixmap(_SMALL)
        empty.fill(theme.tones().panel)
        for page in range(1, facts.pages + 1):
            item = QListWidgetItem(QIcon(empty), f"Page {page}")
            self.list.addItem(item)
        self.list.setCurrentRow(facts.page - 1)
        # A click, or Return on the page selected by the arrow keys.
        self.list.itemClicked.connect(self._pressed)
        self.list.itemActivated.connect(self._pressed)
        column.addWidget(self.list, 1)
        column.addWidget(
            text(
                (
                    "The choice is remembered for this file; you can change it in Photo, the first "
                    "line."
                ),
                soft=True,
            )
        )
        self.resize(700, 470)
        self.list.setFocus()
        for page in range(1, facts.pages + 1):
            self.lane.run(partial(_look_at, facts.path, page), self._show_page)

    def _show_page(self, result: _FOUND) -> None:
        page, sentence, small = result
        item = self.list.item(page - 1)
        item.setText(f"Page {page}\n{sentence}")
        if small is not None:
            picture = QPixmap.fromImage(image_of(small)).scaled(
                _SMALL,
                Qt.AspectRatioMode.KeepAspectRatio,
                Qt.TransformationMode.SmoothTransformation,
            )
            item.setIcon(QIcon(picture))

    def _pressed(self, item: QListWidgetItem) -> None:
        if self.result() != self.DialogCode.Accepted:
            self.accept()
            self._take(self.list.row(item) + 1)

    def end_lane(self) -> None:
        # A page that is being decoded would hold up the window; its picture is not needed any more.
        self.lane.stop_soon()


def _look_at(path: Path, page: int, job: Job) -> _FOUND:
    try:
        facts = read_header(path, page).facts
        sentence = f"{facts.width} × {facts.height} px, {facts.bits}-bit {facts.kind}"
        return page, sentence, small_of(read_photo(path, measured=False, page=page))[0]
    except ZincError:
        return page, "cannot be read", None
