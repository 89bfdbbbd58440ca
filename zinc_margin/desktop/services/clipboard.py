"""Copy and paste: sizes as text, photos as files or pictures."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import datetime
from pathlib import Path

from PySide6.QtCore import QBuffer, QIODevice
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QApplication

from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.services.work import Lane
from zinc_margin.keeping.files import make_folder, save_whole
from zinc_margin.keeping.folders import own_folder
from zinc_margin.measure import words


class Clipboard:
    """Handles Ctrl+C and Ctrl+V in the window.

    Parameters
    ----------
    lane : Lane
        The lane that writes pasted pictures.
    """

    def __init__(
        self,
        table: Table,
        lane: Lane,
        open_photos: Callable[[Sequence[Path]], None],
    ) -> None:
        self._table, self._lane, self._open = table, lane, open_photos

    def copy(self) -> None:
        """Copy the print's size as text, for another photo or program."""
        one = self._table.current
        if one is None:
            return
        size = one.plan().size
        text = words.pair(size.width_mm, size.height_mm, self._table.units)
        QApplication.clipboard().setText(text)
        self._table.say(f"Copied: {text}. Paste it to another photo with Ctrl+V.")

    def paste(self) -> None:
        """Paste: files, a picture, or a size."""
        held = QApplication.clipboard().mimeData()
        files = [Path(url.toLocalFile()) for url in held.urls() if url.isLocalFile()]
        if files:
            self._open(files)
        elif held.hasImage():
            image = QApplication.clipboard().image()
            self._lane.run(
                lambda job: _save_picture(image),
                self._open_one,
            )
        elif held.hasText():
            self._take_text(held.text().strip())

    def _open_one(self, path: Path) -> None:
        self._open([path])

    def _take_text(self, text: str) -> None:
        paths = [Path(line) for line in text.splitlines()[:50]]
        if text and all(path.is_absolute() and path.exists() for path in paths):
            self._open(paths)
            return
        self._table.take_typed(text[:200])


def _save_picture(image: QImage) -> Path:
    """Save a picture from the clipboard as a photo, and return its path."""
    folder = own_folder("data") / "pasted"
    path = folder / f"pasted-{datetime.now():%Y-%m-%d-%H%M%S}.png"
    held = QBuffer()
    held.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(held, "PNG")  # type: ignore[call-overload]
    make_folder(folder)
    save_whole(path, bytes(held.data().data()))
    return path
