"""The first start on a machine: compile the loops while the window is already open."""

from __future__ import annotations

from PySide6.QtCore import QObject, QTimer

from zinc_margin.commands import compile_loops
from zinc_margin.desktop.model.table import Table
from zinc_margin.pixels import loop_cache

SENTENCE = (
    f"{loop_cache.PREPARING}. Everything works; sharp previews and files wait for about 15 seconds."
)
_LOOK_MS = 300


class GettingReady(QObject):
    """Starts compiling the loops, and shows a notice until it is done."""

    def __init__(self, parent: QObject, table: Table) -> None:
        super().__init__(parent)
        self._table = table
        self._process = compile_loops.start()
        self._timer = QTimer(self)
        self._timer.timeout.connect(self._look)
        if self._is_awaited():
            table.say(SENTENCE)
            self._timer.start(_LOOK_MS)

    def _is_awaited(self) -> bool:
        running = self._process is not None and self._process.poll() is None
        return running or loop_cache.is_awaited()

    def _look(self) -> None:
        if not self._is_awaited():
            self._timer.stop()
            self._table.withdraw(SENTENCE)
