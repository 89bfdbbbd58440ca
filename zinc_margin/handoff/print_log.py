"""The print log: each print's settings, file and digest, until the user clears it."""

from __future__ import annotations

import hashlib
import os
import sqlite3
import stat
import time
from collections.abc import Iterator, Sequence
from contextlib import closing, contextmanager, suppress
from dataclasses import dataclass, fields
from pathlib import Path
from typing import Any

from zinc_margin.facts.facts import Facts
from zinc_margin.keeping.folders import own_folder
from zinc_margin.measure.errors import BadRequest, CannotDo
from zinc_margin.plan.file.name import print_name
from zinc_margin.plan.model import PrintPlan

_SCHEMA, _TOLD = 1, 3
_LATEST = 10**12
"""No time, size or resolution in the log is larger."""
_COLUMNS = (
    "made REAL, photo TEXT, photo_digest TEXT, size TEXT, paper TEXT, strength REAL, ppi REAL, "
    "file TEXT, bytes INTEGER, digest TEXT, sent_to TEXT, docket TEXT, renderer INTEGER"
)


@dataclass(frozen=True)
class Made:
    """One print in the log.

    Attributes
    ----------
    number : int
    made : float
        Time in seconds since 1970.
    photo : str
        Its path at that time.
    photo_digest : str
        SHA-256 of the photo's file; empty if unknown.
    size, paper : str
    strength, ppi : float
        The file's resolution.
    file : str
        Empty if it was printed directly.
    bytes : int
    digest : str
        BLAKE2b of the file.
    sent_to : str
        The printer or maker.
    docket : str
        As JSON.
    renderer : int
    """

    number: int
    made: float
    photo: str
    photo_digest: str
    size: str
    paper: str
    strength: float
    ppi: float
    file: str
    bytes: int
    digest: str
    sent_to: str
    docket: str
    renderer: int


_NAMES = [field.name for field in fields(Made)][1:]


def place() -> Path:
    """Return the path of the log."""
    return own_folder("data") / "made.sqlite3"


_WAIT_S = 20
"""Several programs may write; each waits for the others. An entry takes milliseconds."""
_NEWER = "A newer version of this program wrote the print log; it is kept as it is."
_IN_USE = "Another program is using the print log. Try again in a moment."
_BESIDE = ("-wal", "-shm", "-journal")
"""Endings of SQLite's files next to the log."""
_told: set[str] = set()
"""Sentences about the log that this process has reported; a batch would repeat them."""


def _trouble(why: OSError | sqlite3.Error) -> str:
    """Return why the log cannot be used, as a sentence; set a damaged one aside, whole."""
    if isinstance(why, OSError):
        return f"The print log {place()} cannot be used: {why.strerror}."
    if isinstance(why, sqlite3.NotSupportedError):
        return _NEWER
    said = str(why)
    if "locked" in said or "busy" in said:
        return _IN_USE
    if any(each in said for each in ("unable to open", "readonly", "disk I/O", "full")):
        return f"The print log {place()} cannot be used: {said}."
    try:
        kept = _set_aside()
    except OSError as error:
        return f"The print log {place()} is damaged, and cannot be moved: {error.strerror}."
    return f"The print log was damaged. It is kept as {kept.name}, and a new one begins."


def _set_aside() -> Path:
    """Rename a damaged log with all that belongs to it; return its new path."""
    number = 1
    while (goal := place().with_name(f"made-damaged-{number}.sqlite3")).exists():
        number += 1
    for end in _BESIDE:
        with suppress(FileNotFoundError):
            os.rename(f"{place()}{end}", f"{goal}{end}")
    os.rename(place(), goal)
    return goal


@contextmanager
def _open() -> Iterator[sqlite3.Connection]:
    place().parent.mkdir(parents=True, exist_ok=True)
    with suppress(FileNotFoundError):
        if not stat.S_ISREG(place().stat().st_mode):  # opening a pipe might never end
            raise sqlite3.OperationalError("unable to open: it is not a file")
    # Only the user may read it: it names photos and printers.
    os.close(os.open(place(), os.O_CREAT | os.O_RDONLY, 0o600))
    with closing(sqlite3.connect(place(), timeout=_WAIT_S)) as base, base:
        (edition,) = base.execute("PRAGMA user_version").fetchone()
        if edition not in (0, _SCHEMA):
            raise sqlite3.NotSupportedError("a newer program wrote it")
        base.execute(f"CREATE TABLE IF NOT EXISTS made (number INTEGER PRIMARY KEY, {_COLUMNS})")
        base.execute("CREATE INDEX IF NOT EXISTS by_photo ON made (photo_digest)")
        base.execute(f"PRAGMA user_version = {_SCHEMA}")
        yield base


def file_digest(path: Path) -> str:
    """Return a file's BLAKE2b in hexadecimal; it is as fast as disks, SHA-256 may not be."""
    with path.open("rb") as file:
        return hashlib.file_digest(file, lambda: hashlib.blake2b(digest_size=20)).hexdigest()


def note(facts: Facts, plan: PrintPlan, file: Path | None, sent_to: str = "") -> str:
    """Add a print to the log; a failure does not affect the print.

    Parameters
    ----------
    plan : PrintPlan
        The final plan.
    file : Path or None
        None for a direct print.

    Returns
    -------
    str
        A sentence if the print could not be recorded, the first time; else empty.
    """
    record = plan.record
    try:
        row = (
            time.time(),
            str(facts.path.absolute()),
            facts.digest or "",
            print_name(plan),
            record.paper,
            record.strength if plan.sharpen else 0.0,
            float(plan.page.ppi),
            str(file.absolute()) if file else "",
            file.stat().st_size if file else 0,
            file_digest(file) if file else "",
            sent_to or plan.maker.name,
            record.text(),
            record.renderer,
        )
        with _open() as base:
            marks = ", ".join("?" * len(_NAMES))
            base.execute(
                f"INSERT INTO made ({', '.join(_NAMES)}) VALUES ({marks})",
                [_stored_text(part) if isinstance(part, str) else part for part in row],
            )
    except (OSError, sqlite3.Error) as why:
        sentence = f"The print is not in the print log. {_trouble(why)}"
        is_new = sentence not in _told
        _told.add(sentence)
        return sentence if is_new else ""
    return ""


def _stored_text(name: str) -> str | bytes:
    """Return a text for storage: a file name that is not UTF-8 as bytes."""
    try:
        name.encode("utf-8")
    except UnicodeEncodeError:
        return name.encode("utf-8", "surrogateescape")
    return name


def _made(row: Sequence[Any]) -> Made:
    """Return a row as a print; cells of another type, which no version writes, are empty."""
    known = {"int": int, "float": float, "str": str}
    return Made(
        *(_cell(part, known[str(one.type)]) for part, one in zip(row, fields(Made), strict=True))
    )


def _cell(part: Any, kind: type) -> Any:
    if isinstance(part, bytes):
        part = part.decode("utf-8", "surrogateescape")
    if kind is str:
        return part if isinstance(part, str) else ""
    if isinstance(part, (int, float)) and abs(part) < _LATEST:
        return kind(part)
    return kind(0)


def search(
    text: str = "", digest: str | None = None, most: int = 200, number: int | None = None
) -> list[Made]:
    """Return matching prints, latest first.

    Parameters
    ----------
    text : str
        Text to find in the photo's name, size, paper, file or printer.
    digest : str, optional
        Only of the photo with this SHA-256.
    number : int, optional
        Only the print with this number.

    Raises
    ------
    CannotDo
        If the log is unreadable.
    """
    if not place().exists():
        return []
    where, values = [], []
    if text:
        all_of_it = " || ' ' || ".join(
            f"CAST({name} AS TEXT)" for name in ("photo", "size", "paper", "file", "sent_to")
        )
        where.append(f"instr(lower({all_of_it}), lower(?))")
        values.append(text)
    if digest is not None:
        where.append("photo_digest = ?")
        values.append(digest)
    if number is not None:
        where.append("number = ?")
        values.append(str(number))
    such = f"WHERE {' AND '.join(where)}" if where else ""
    names = ", ".join(["number", *_NAMES])
    try:
        with _open() as base:
            rows = base.execute(
                f"SELECT {names} FROM made {such} ORDER BY made DESC, number DESC LIMIT ?",
                (*values, most),
            ).fetchall()
    except (OSError, sqlite3.Error) as why:
        raise CannotDo(_trouble(why)) from None
    return [_made(row) for row in rows]


def summary(rows: Sequence[Made]) -> str:
    """Return a sentence about the prints of a photo, latest first; empty for none."""
    parts = [
        f"{time.strftime('%-d %B %Y', time.localtime(one.made))}, {one.size}"
        + (f", {one.paper}" if one.paper else "")
        + f", {Path(one.file).name if one.file else one.sent_to}"
        for one in rows[:_TOLD]
    ]
    more = f"; and {len(rows) - _TOLD} more" if len(rows) > _TOLD else ""
    return f"Made before: {'; '.join(parts)}{more}." if parts else ""


def find(number: int) -> Made:
    """Return one print."""
    for one in search(number=number):
        return one
    raise BadRequest(f"The print log has no number {number}.")


def forget() -> int:
    """Clear the log; return the number of prints that it had."""
    count = 0
    try:
        with suppress(sqlite3.DatabaseError), _open() as base:
            (count,) = base.execute("SELECT count(*) FROM made").fetchone()
        for end in ("", *_BESIDE):
            Path(f"{place()}{end}").unlink(missing_ok=True)
    except OSError as why:
        raise CannotDo(f"{place()} could not be removed: {why.strerror}.") from None
    return count


def why_other(one: Made, photo_digest: str | None, renderer: int) -> str:
    """Return why a repeated print has other bits than before.

    Parameters
    ----------
    photo_digest : str or None
        Digest of the current photo.
    renderer : int
        The current renderer.
    """
    if one.photo_digest and photo_digest != one.photo_digest:
        return "the photo's file has changed since"
    if renderer != one.renderer:
        return f"the renderer has changed ({one.renderer} then, {renderer} today)"
    if one.file.endswith(".pdf"):
        return "a PDF includes the time at which it was made"
    return "something other than the print settings has changed, perhaps a paper or a profile"
