"""The user's sizes and papers: each a list in one small file that can be shared."""

from __future__ import annotations

import os
from abc import abstractmethod
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from pathlib import Path
from typing import Any, ClassVar, Generic, TypeVar

from zinc_margin.gate.documents import document_text, read_document
from zinc_margin.gate.files import read_text
from zinc_margin.gate.values import (
    Wrong,
    number,
    plain,
    record,
    size_from,
    text_from,
    way_from,
)
from zinc_margin.keeping.files import check_ours, make_folder, save_whole
from zinc_margin.keeping.folders import own_folder
from zinc_margin.keeping.partials import alone_in
from zinc_margin.measure.errors import BadRequest, ZincError
from zinc_margin.measure.lengths import plain_text
from zinc_margin.measure.makers import find_maker
from zinc_margin.measure.papers import SCREEN, papers
from zinc_margin.measure.sizes import PrintSize, is_known
from zinc_margin.measure.ways import Way

VERSION = 1
FAMILY = "mine"
"""The ladder's family name for the user's sizes."""

Own = PrintSize | Way
Thing = TypeVar("Thing")
_LONGEST_NAME = 60


class OwnThings(Generic[Thing]):
    """A list of things of one kind. Several windows may change it; every change is written
    immediately.

    Good entries are loaded; bad ones are reported (`broken`) and stay in the file.

    Parameters
    ----------
    path : Path, optional
        The file, which may be missing; by default in the program's folder (XDG).
    """

    word: ClassVar[str]
    """Name of one entry, such as ``size``; its plural is the file's name and its key."""
    most: ClassVar[int]

    def __init__(self, path: Path | None = None) -> None:
        self.path = path or self.usual_file()
        self.all: tuple[Thing, ...] = ()
        self.broken: tuple[str, ...] = ()
        self._unread: list[Any] = []
        try:
            self._look()
        except ZincError as why:
            self.broken = (str(why),)

    @classmethod
    def usual_file(cls) -> Path:
        """Return the usual path of the list (XDG)."""
        return own_folder("data") / f"{cls.word}s.json"

    @classmethod
    def read(cls, path: Path) -> tuple[Thing, ...]:
        """Read a file of entries, all of which must be good.

        Raises
        ------
        BadRequest, CannotDo
            The file is not changed.
        """
        good, _, broken = cls._sorted(path)
        if broken:
            raise BadRequest(broken[0])
        return good

    @classmethod
    def _sorted(cls, path: Path) -> tuple[tuple[Thing, ...], list[Any], tuple[str, ...]]:
        """Return a file's good entries, its bad ones, and a sentence for each bad one."""
        text = read_text(path, f"list of {cls.word}s")
        raw = read_document(text, str(path), f"zinc_margin_{cls.word}s", VERSION)
        entries = raw.get(f"{cls.word}s")
        if not isinstance(entries, list):
            raise BadRequest(f"{path} has no list of {cls.word}s; it was left unchanged.")
        good, unread, broken = [], [], []
        for at, entry in enumerate(entries, 1):
            try:
                good.append(cls._read(entry))
            except (Wrong, BadRequest) as why:
                unread.append(entry)
                broken.append(f"In {path} {cls.word} {at} {why}; it was left unchanged.")
        return tuple(good), unread, tuple(broken)

    def _look(self) -> None:
        if os.path.lexists(self.path):
            self.all, self._unread, self.broken = self._sorted(self.path)
        else:
            self.all, self._unread, self.broken = (), [], ()

    def write(self, path: Path) -> None:
        """Write all entries to a file that the user chose."""
        check_ours(path, f'"{self._key()}"')
        self._save(path, self.all)

    def remove(self, name: str) -> None:
        """Remove the entry with this name."""
        self._change(lambda: (one for one in self.all if self._name(one) != plain_text(name)))

    def find(self, name: str) -> Thing | None:
        """Return the entry with this name, or None."""
        wanted = plain_text(name)
        return next((one for one in self.all if self._name(one) == wanted), None)

    def _put(self, thing: Thing) -> None:
        """Add an entry, replacing one with the same name."""
        mine = self._name(thing)
        self._change(lambda: (*(one for one in self.all if self._name(one) != mine), thing))

    def _change(self, changed: Callable[[], Iterable[Thing]]) -> None:
        """Read the current list, change it and write it, under the folder's lock.

        Observers get `self.all` as it is afterwards.
        """
        make_folder(self.path.parent)
        with alone_in(self.path.parent):
            self._look()
            things = tuple(changed())
            if len(things) > self.most:
                raise BadRequest(
                    f"You can keep at most {self.most} {self.word}s. Remove one first."
                )
            self._save(self.path, things, self._unread)
            self.all = things

    def _save(self, path: Path, things: tuple[Thing, ...], unread: Sequence[Any] = ()) -> None:
        entries = [*(self._plain(one) for one in things), *unread]
        save_whole(path, document_text({self._key(): VERSION, f"{self.word}s": entries}))

    @classmethod
    def _key(cls) -> str:
        return f"zinc_margin_{cls.word}s"

    def _named(self, name: str, taken: Callable[[str], bool]) -> str:
        """Return a name ready to store, if it is valid and free."""
        name = " ".join(name.split())
        if not name or len(name) > _LONGEST_NAME:
            raise BadRequest(f"A {self.word} needs a name of 1 to {_LONGEST_NAME} characters.")
        if taken(plain_text(name)):
            raise BadRequest(f"A {self.word} called “{name}” already exists. Choose another name.")
        return name

    @classmethod
    @abstractmethod
    def _read(cls, entry: Any) -> Thing: ...

    @classmethod
    @abstractmethod
    def _plain(cls, thing: Thing) -> Any: ...

    @classmethod
    @abstractmethod
    def _name(cls, thing: Thing) -> str: ...


class OwnSizes(OwnThings[Own]):
    """Sizes, and ways to give one, with the user's names."""

    word = "size"
    most = 1000

    def add(self, name: str, size: Own) -> None:
        """Add a size under a name.

        Parameters
        ----------
        name : str
            1 to 60 characters; it must not look like a size.

        Raises
        ------
        BadRequest, CannotDo
            If the name is invalid or taken.
        """
        self._change(lambda: (*self.all, self._called(name, size, self.all)))

    def rename(self, name: str, new: str) -> None:
        """Rename a size."""

        def renamed() -> tuple[Own, ...]:
            at = self._find(name)
            before, after = self.all[:at], self.all[at + 1 :]
            return (*before, self._called(new, self.all[at], (*before, *after)), *after)

        self._change(renamed)

    def remove(self, name: str) -> None:
        """Remove a size from the list."""

        def rest() -> tuple[Own, ...]:
            at = self._find(name)
            return (*self.all[:at], *self.all[at + 1 :])

        self._change(rest)

    def take_in(self, path: Path) -> tuple[int, int]:
        """Add the sizes of another file of this kind.

        Returns
        -------
        (int, int)
            The number added, and the number of existing names that were kept.
        """
        others = self.read(path)
        added = 0

        def joined() -> list[Own]:
            nonlocal added
            new = list(self.all)
            names = {self._name(size) for size in new}
            for size in others:
                if self._name(size) not in names:
                    names.add(self._name(size))
                    new.append(size)
            added = len(new) - len(self.all)
            return new

        self._change(joined)
        return added, len(others) - added

    def _find(self, name: str) -> int:
        for at, size in enumerate(self.all):
            if self._name(size) == plain_text(name):
                return at
        raise BadRequest(f"You have no size called “{name}”.")

    def _called(self, name: str, size: Own, among: tuple[Own, ...]) -> Own:
        taken = {self._name(one) for one in among}
        bare = " ".join(name.split())
        if bare[:1].isdigit():
            raise BadRequest(
                f"“{bare}” could be mistaken for a size. Start the name with a letter."
            )
        label = self._named(name, lambda plain_name: plain_name in taken or is_known(bare))
        return replace(size, label=label, family=FAMILY)

    @classmethod
    def _read(cls, entry: Any) -> Own:
        way = isinstance(entry, dict) and "kind" in entry
        size: Own = way_from(entry) if way else size_from(entry)
        if not (isinstance(entry, dict) and entry.get("label")):
            raise Wrong("has no name")
        return replace(size, family=FAMILY)

    @classmethod
    def _plain(cls, thing: Own) -> Any:
        return plain(thing)

    @classmethod
    def _name(cls, thing: Own) -> str:
        return plain_text(thing.label)


@dataclass(frozen=True)
class OwnPaper:
    """A paper defined by the user, from a test strip or a typed figure.

    Attributes
    ----------
    name : str
    sigma_mm : Fraction
        Sigma of its Gaussian blur, 0 to 5.
    strength : Fraction
        Percent of the automatic sharpening that looked right on its test strip, 0 to 300.
    maker : str or None
        The maker of that strip; None: any.
    """

    name: str
    sigma_mm: Fraction
    strength: Fraction = Fraction(100)
    maker: str | None = None


_PAPER = record(
    {"name": text_from, "sigma_mm": number(0, 5), "strength": number(0, 300)},
    {"maker": lambda value: find_maker(text_from(value)).key},
)


class OwnPapers(OwnThings[OwnPaper]):
    """Papers, each with its blur and a suitable strength."""

    word = "paper"
    most = 200

    def keep(self, paper: OwnPaper) -> None:
        """Add a paper, replacing one with the same name.

        Raises
        ------
        BadRequest, CannotDo
            If the name is invalid or belongs to a shipped paper.
        """

        def shipped(name: str) -> bool:
            return name == SCREEN or any(known.name == name for known in papers())

        self._put(replace(paper, name=plain_text(self._named(paper.name, shipped))))

    @classmethod
    def _read(cls, entry: Any) -> OwnPaper:
        fields = _PAPER(entry)
        return OwnPaper(plain_text(fields.pop("name"))[:_LONGEST_NAME], **fields)

    @classmethod
    def _plain(cls, thing: OwnPaper) -> Any:
        return {key: plain(value) for key, value in vars(thing).items()}

    @classmethod
    def _name(cls, thing: OwnPaper) -> str:
        return thing.name
