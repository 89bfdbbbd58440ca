"""A folder that is watched: photos count once they have arrived whole."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path

from zinc_margin.photo.endings import photos_in

EVERY_S = 2.0
"""Seconds between two looks: a file that is still being copied has grown by then."""
_State = tuple[int, int, int]


class Arrivals:
    """Photos that arrive in a folder, each told once for each state of its file."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._seen: dict[Path, _State] = {}
        self._told: dict[Path, _State] = {}

    def look(self) -> list[Path]:
        """Return photos that two looks in a row have found alike, and that were not told yet.

        Raises
        ------
        CannotDo
            When the folder cannot be read.
        """
        now: dict[Path, _State] = {}
        for path in photos_in(self._folder):
            with suppress(OSError):  # it has gone again
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
