"""The log of failures: a small rotating file in XDG state.

An entry has the sentence, the traceback, versions and the docket; no pictures, locations or home
folder.
"""

from __future__ import annotations

import json
import os
import platform
import re
import threading
import time
import traceback
from collections.abc import Callable
from contextlib import suppress
from dataclasses import asdict, dataclass
from importlib import metadata
from pathlib import Path
from typing import Any

from zinc_margin import __version__
from zinc_margin.gate.documents import parse
from zinc_margin.gate.files import check_is_file, is_device
from zinc_margin.gate.values import Wrong, figure
from zinc_margin.gate.values import record as record_of
from zinc_margin.keeping.folders import own_folder
from zinc_margin.measure.errors import BadRequest, ZincError

_LARGEST = 200_000
"""Bytes. A full log replaces the older one, so there are at most two files."""
_LONGEST = 20_000
"""Characters of one traceback or docket: an endless recursion has a thousand frames."""
_LIBRARIES = ("numpy", "numba", "onnxruntime", "pillow", "imagecodecs", "PySide6-Essentials")
_PATHS = re.compile(r'"(?:[^"\n]*[/\\])[^"\n]*"')

# Threads can fail at the same moment; without the lock their lines would mix.
_lock = threading.Lock()
_docket: list[Callable[[], str | None]] = []


@dataclass(frozen=True)
class Entry:
    """One failure.

    Attributes
    ----------
    time : float
        In seconds since 1970.
    sentence : str
        The sentence shown to the user.
    versions : str
    traceback : str
    docket : str or None
        The print settings at that time as JSON, without paths.
    """

    time: float
    sentence: str
    versions: str
    traceback: str
    docket: str | None


def _any_text(value: Any) -> str:
    if not isinstance(value, str):
        raise Wrong("must be a text")
    return value


_ENTRY = record_of(
    {
        "time": figure(0, 2**40),
        "sentence": _any_text,
        "versions": _any_text,
        "traceback": _any_text,
    },
    {"docket": _any_text},
)


def place() -> Path:
    """Return the path of the log."""
    return own_folder("state") / "log.jsonl"


def _before() -> Path:
    return place().with_suffix(".1.jsonl")


def describe(docket: Callable[[], str | None]) -> None:
    """Record this docket (JSON) with all later failures in the process."""
    _docket[:] = [docket]


def record(why: BaseException, docket: str | None = None) -> str:
    """Record a failure; return the user's sentence, which mentions the log.

    A failure to record is ignored: the user needs to see the first failure.
    """
    sentence = f"Something went wrong ({type(why).__name__}: {why}). Details: zinc-margin log."
    if docket is None:
        with suppress(Exception):  # the docket itself may be broken
            docket = _docket[-1]() if _docket else None
    trace = "".join(traceback.format_exception(why))
    entry = Entry(
        time.time(), _private(sentence), _versions(), _private(trace), _without_paths(docket)
    )
    with suppress(OSError), _lock:
        path = place()
        path.parent.mkdir(parents=True, exist_ok=True)
        if path.exists() and path.stat().st_size > _LARGEST:
            os.replace(path, _before())
        if is_device(path):
            return sentence
        with path.open("a", encoding="utf-8", errors="backslashreplace") as file:
            file.write(json.dumps(asdict(entry)) + "\n")
    return sentence


def entries() -> list[Entry]:
    """Return the recorded failures, latest first; skip unreadable lines."""
    result = []
    for path in (_before(), place()):
        with suppress(OSError, ZincError):
            check_is_file(path)
            for line in path.read_text("utf-8", "replace").splitlines():
                with suppress(BadRequest, Wrong):
                    result.append(Entry(**_ENTRY(parse(line, "the log"))))
    return result[::-1]


def entry_text(entry: Entry) -> str:
    """Return an entry as text for people who help."""
    when = time.strftime("%-d %B %Y, %H:%M:%S", time.localtime(entry.time))
    docket = "" if entry.docket is None else f"\nPrint settings:\n{entry.docket}\n"
    return f"{when}: {entry.sentence}\n{entry.versions}\n\n{entry.traceback}{docket}"


def clear() -> None:
    """Remove the log."""
    for path in (place(), _before()):
        path.unlink(missing_ok=True)


def _versions() -> str:
    found = [f"Zinc Margin {__version__}", f"Python {platform.python_version()}"]
    for name in _LIBRARIES:
        with suppress(metadata.PackageNotFoundError):
            found.append(f"{name} {metadata.version(name)}")
    return ", ".join([*found, f"{platform.system()} {platform.machine()}"])


def _private(text: str) -> str:
    """Return a text without the user's home folder name."""
    home = os.path.expanduser("~")
    short = text if home in ("/", "~") else text.replace(home, "~")
    return short if len(short) <= _LONGEST else f"{short[:1000]}\n…\n{short[-_LONGEST:]}"


def _without_paths(docket: str | None) -> str | None:
    """Return a docket's JSON without paths, since folders and files name people and places."""
    return None if docket is None else _PATHS.sub('"…"', docket)[:_LONGEST]
