"""The session, kept between starts: window position, units, theme, folders, recent photos."""

from __future__ import annotations

import json
from contextlib import suppress
from dataclasses import asdict, dataclass, field
from pathlib import Path

from zinc_margin.keeping.documents import document_text
from zinc_margin.keeping.files import write_whole
from zinc_margin.keeping.folders import own_folder

MOST_RECENT = 12


@dataclass
class Remembered:
    """The saved session; missing or damaged values have their defaults.

    Attributes
    ----------
    place : list of int, or None
        The window's left, top, width and height.
    units : str or None
        ``cm``, ``in`` or ``px/cm``; None: the locale's.
    dim : bool or None
        None: the desktop's.
    folder : str or None
        The folder of the photos opened last.
    recent : list of str
        Recent photos, the newest first.
    """

    place: list[int] | None = None
    units: str | None = None
    dim: bool | None = None
    folder: str | None = None
    recent: list[str] = field(default_factory=list)

    @classmethod
    def load(cls) -> Remembered:
        """Read the saved session."""
        result = cls()
        with suppress(OSError, ValueError):
            stored = json.loads(_file().read_text("utf-8"))
            if isinstance(stored, dict):
                result._take(stored)
        return result

    def _take(self, stored: dict[str, object]) -> None:
        place = stored.get("place")
        if (
            isinstance(place, list)
            and len(place) == 4
            and all(type(one) is int and abs(one) < 100_000 for one in place)
        ):
            self.place = place
        if stored.get("units") in ("cm", "in", "px/cm"):
            self.units = str(stored["units"])
        if isinstance(stored.get("dim"), bool):
            self.dim = bool(stored["dim"])
        if isinstance(stored.get("folder"), str):
            self.folder = str(stored["folder"])
        recent = stored.get("recent")
        if isinstance(recent, list):
            self.recent = [one for one in recent if isinstance(one, str)][:MOST_RECENT]

    def save(self) -> None:
        """Write it; ignore a failure."""
        with suppress(OSError):
            path = _file()
            path.parent.mkdir(parents=True, exist_ok=True)
            write_whole(path, document_text(asdict(self)).encode())

    def opened(self, photo: Path) -> None:
        """Move a photo to the front of the recent ones."""
        name = str(photo)
        self.recent = [name, *(one for one in self.recent if one != name)][:MOST_RECENT]
        self.folder = str(photo.parent)

    def forget_recent(self) -> None:
        """Clear the list of recent photos."""
        self.recent = []


def _file() -> Path:
    return own_folder("state") / "window.json"
