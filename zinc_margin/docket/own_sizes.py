"""A person's own sizes, kept in one small open file that can be handed on."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Any

from zinc_margin.docket.store import checked, document, plain, read_text, text_of
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import plain_text
from zinc_margin.measure.sizes import PrintSize, is_known
from zinc_margin.measure.ways import Way
from zinc_margin.photo.keeping import own_folder, save_own

Own = PrintSize | Way
FAMILY = "mine"
VERSION = 1
_MOST = 1000


def usual_file() -> Path:
    """Return where own sizes are kept (XDG)."""
    return own_folder("data") / "sizes.json"


class OwnSizes:
    """The list; each change is written at once, whole or not at all.

    Parameters
    ----------
    path : Path, optional
        The file; it need not be there yet.
    """

    def __init__(self, path: Path | None = None) -> None:
        self.path = path or usual_file()
        self._sizes: tuple[Own, ...] = read_sizes(self.path) if self.path.exists() else ()

    @property
    def all(self) -> tuple[Own, ...]:
        """Every size, in the order in which they were added."""
        return self._sizes

    def add(self, name: str, size: Own) -> None:
        """Keep a size under a name.

        Raises
        ------
        BadRequest
            When the name is no name, or is taken.
        """
        self._write((*self._sizes, self._named(name, size)))

    def rename(self, name: str, new: str) -> None:
        """Call a size something else."""
        at = self._find(name)
        rest = (*self._sizes[:at], *self._sizes[at + 1 :])
        named = self._named(new, self._sizes[at], rest)
        self._write((*self._sizes[:at], named, *self._sizes[at + 1 :]))

    def remove(self, name: str) -> None:
        """Take a size out of the list."""
        at = self._find(name)
        self._write((*self._sizes[:at], *self._sizes[at + 1 :]))

    def take_in(self, path: Path) -> tuple[int, int]:
        """Add the sizes of another such file.

        Returns
        -------
        (int, int)
            How many were added, and how many names were there already and kept.
        """
        new = list(self._sizes)
        names = {plain_text(size.label) for size in new}
        kept = 0
        for size in read_sizes(path):
            if plain_text(size.label) in names:
                kept += 1
            else:
                names.add(plain_text(size.label))
                new.append(size)
        added = len(new) - len(self._sizes)
        self._write(tuple(new))
        return added, kept

    def hand_on(self, path: Path) -> None:
        """Write all sizes to a file of the person's choice."""
        _write_file(path, self._sizes)

    def _find(self, name: str) -> int:
        for at, size in enumerate(self._sizes):
            if plain_text(size.label) == plain_text(name):
                return at
        raise BadRequest(f"None of your sizes is called “{name}”.")

    def _named(self, name: str, size: Own, among: tuple[Own, ...] | None = None) -> Own:
        name = " ".join(name.split())
        if not name or len(name) > 60:
            raise BadRequest("A size needs a name of 1 to 60 letters.")
        if name[0].isdigit():
            raise BadRequest(f"“{name}” would read as a size itself; begin the name with a letter.")
        taken = self._sizes if among is None else among
        if any(plain_text(one.label) == plain_text(name) for one in taken) or is_known(name):
            raise BadRequest(f"There is a size called “{name}” already; choose another name.")
        return replace(size, label=name, family=FAMILY)

    def _write(self, sizes: tuple[Own, ...]) -> None:
        if len(sizes) > _MOST:
            raise BadRequest(f"{_MOST} sizes of your own are the most.")
        _write_file(self.path, sizes)
        self._sizes = sizes


def read_sizes(path: Path) -> tuple[Own, ...]:
    """Read a file of sizes.

    Raises
    ------
    BadRequest
        The file is left as it is.
    """
    text = read_text(path, "list of sizes")
    raw = document(text, str(path), "zinc_margin_sizes", VERSION)
    entries = raw.get("sizes")
    if not isinstance(entries, list):
        raise BadRequest(f"{path} holds no list of sizes; it was left as it is.")
    return tuple(_read(entry, path) for entry in entries)


def _read(entry: Any, path: Path) -> Own:
    try:
        kind = "way" if isinstance(entry, dict) and "kind" in entry else "size"
        size: Own = checked("size", kind, entry)
    except BadRequest as why:
        raise BadRequest(f"In {path}: {why} It was left as it is.") from None
    if size.label == "":
        raise BadRequest(f"In {path} a size has no name; it was left as it is.")
    return replace(size, family=FAMILY)


def _write_file(path: Path, sizes: tuple[Own, ...]) -> None:
    entries = [plain(size) for size in sizes]
    save_own(path, text_of({"zinc_margin_sizes": VERSION, "sizes": entries}))
