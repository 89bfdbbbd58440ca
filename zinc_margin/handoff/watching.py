"""A watched folder: photos are used once they have arrived completely."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path

from zinc_margin.photo.endings import photos_in

EVERY_S = 2.0
"""Seconds between two looks: a file still being copied grows within this time."""
_State = tuple[int, int, int]


class Arrivals:
    """Photos that arrive in a folder, each reported once per state of its file."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._seen: dict[Path, _State] = {}
        self._told: dict[Path, _State] = {}

    def look(self) -> list[Path]:
        """Return new photos that two consecutive looks found unchanged.

        Raises
        ------
        CannotDo
            If the folder is unreadable.
        """
        now: dict[Path, _State] = {}
        for path in photos_in(self._folder):
            with suppress(OSError):  # it has disappeared again
                status = path.stat()
                now[path] = (status.st_size, status.st_mtime_ns, status.st_ino)
        result = [
            path
            for path, state in now.items()
            if state[0] and self._seen.get(path) == state and self._told.get(path) != state
        ]
        self._seen = now
        self._told = {path: state for path, state in self._told.items() if path in now}
        self._told |= {path: now[path] for path in result}
        return result
