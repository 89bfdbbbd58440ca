"""Save decisions in the background, and restore them when the window opens again."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from pathlib import Path
from weakref import WeakKeyDictionary

from PySide6.QtCore import QObject, QTimer

from zinc_margin.desktop.model.events import (
    ActiveChanged,
    DocketChanged,
    Event,
    PhotosChanged,
    UnitsChanged,
)
from zinc_margin.desktop.model.table import Print, Table
from zinc_margin.desktop.services.work import Lane
from zinc_margin.docket import drafts
from zinc_margin.docket.docket import Docket
from zinc_margin.measure.errors import ZincError

_WAIT_MS = 400
"""Delay after the last decision, so a drag is written once."""


_DECISIONS = (ActiveChanged, DocketChanged, PhotosChanged, UnitsChanged)


class Drafts(QObject):
    """Saves every open photo's decisions until they are saved next to the photo."""

    def __init__(self, parent: QObject, table: Table) -> None:
        super().__init__(parent)
        self.table = table
        self.lane = Lane(keeps_all=True, say=table.say)
        self._kept: WeakKeyDictionary[Print, tuple[Docket, ...]] = WeakKeyDictionary()
        self._drafted: WeakKeyDictionary[Print, tuple[Docket, ...] | None] = WeakKeyDictionary()
        self._files: WeakKeyDictionary[Print, Path] = WeakKeyDictionary()
        self._gone: list[Print] = []
        self._returned: list[Print] = []
        self._rack: list[Print] = []
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(_WAIT_MS)
        self._soon.timeout.connect(self.write)
        table.subscribe(self._on_change)

    def _on_change(self, event: Event) -> None:
        if not isinstance(event, _DECISIONS):
            return
        # A photo that is being removed may have unwritten decisions.
        self._gone += [one for one in self._rack if one not in self.table.prints]
        self._rack = list(self.table.prints)
        if self._gone:
            self.write()
        else:
            self._soon.start()

    def keep(self, one: Print, dockets: Sequence[Docket] | None = None) -> None:
        """Remember a photo's saved state: by default its current dockets."""
        self._kept[one] = one.versions if dockets is None else tuple(dockets)
        self._soon.start()

    def opened(self, one: Print, kept: Path) -> None:
        """Restore an opened photo's unsaved decisions, unless newer ones exist.

        They are read after all pending writes.
        """
        self.keep(one)
        self._files[one] = kept
        path = one.facts.path

        def done(dockets: tuple[Docket, ...]) -> None:
            if one.versions != self._kept[one] or not self.table.bring_back(one, dockets):
                return
            self._drafted[one] = one.versions
            self.table.withdraw(self.returned)
            self._returned.append(one)
            self.table.offer(self.returned, "discard them", self.take_back)

        self.lane.run(lambda job: drafts.load(path, kept), done)

    @property
    def returned(self) -> str:
        """A sentence about restored decisions; empty if there are none."""
        rows = [one for one in self._returned if one in self.table.prints]
        if not rows:
            return ""
        named = rows[0].name if len(rows) == 1 else f"{len(rows)} photos"
        return f"Your print settings for {named} from last time are back."

    def take_back(self) -> None:
        """Return every photo to its saved state; undo restores the dropped decisions."""
        for one in self._returned:
            if one in self.table.prints and one in self._kept:
                self.table.bring_back(one, self._kept[one])
        self._returned.clear()

    def write(self) -> None:
        """Write the changes since the last time."""
        for one in (*self._gone, *self.table.prints):
            stands = one.versions
            if one not in self._kept:
                continue
            wanted = None if stands == self._kept[one] else stands
            if self._drafted.get(one) == wanted:
                continue
            self._drafted[one] = wanted
            path = one.facts.path
            work = partial(drafts.drop, path)
            if wanted:
                work = partial(drafts.keep, path, wanted, self._files.get(one))
            self.lane.run(lambda job, work=work: work(), lambda nothing: None, self._failed)  # type: ignore[misc]
        self._gone.clear()

    def _failed(self, why: ZincError) -> None:
        self.table.say(
            f"Your decisions cannot be saved automatically. {why} Save them with Ctrl+S."
        )

    def close(self) -> None:
        """Write the remaining changes, and wait."""
        self._soon.stop()
        self.write()
        self.lane.finish()
