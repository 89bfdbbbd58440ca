"""The session, kept between starts: window position, units, theme, folders, recent photos."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import asdict, dataclass, field
from pathlib import Path
from typing import Any

from zinc_margin.gate.documents import document_text
from zinc_margin.gate.files import read_own
from zinc_margin.gate.values import (
    Reader,
    Wrong,
    good_ones,
    list_of,
    name_from,
    one_of,
    record,
    whole,
    yes_or_no,
)
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
        return cls(**read_own(_file(), _SESSION, {}))

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


def _or(reader: Reader, otherwise: Any) -> Reader:
    """Return a reader that replaces a damaged value, so the others are kept."""

    def read(value: Any) -> Any:
        try:
            return reader(value)
        except Wrong:
            return otherwise

    return read


def _names(value: Any) -> list[str]:
    entries = list_of(lambda one: one)(value)
    return list(good_ones(entries, name_from))[:MOST_RECENT]


_SESSION = record(
    {},
    {
        "place": _or(lambda value: list(list_of(whole(-100_000, 100_000), 4, 4)(value)), None),
        "units": _or(one_of("cm", "in", "px/cm"), None),
        "dim": _or(yes_or_no, None),
        "folder": _or(name_from, None),
        "recent": _or(_names, []),
    },
)


def _file() -> Path:
    return own_folder("state") / "window.json"
