"""A cache of measurements, so a photo's figures are available immediately next time."""

from __future__ import annotations

import hashlib
import json
import os
from contextlib import suppress
from dataclasses import replace
from pathlib import Path

from zinc_margin.facts.facts import Facts
from zinc_margin.facts.measurements import Measured
from zinc_margin.gate.files import read_own
from zinc_margin.gate.values import list_of, record, text_from, whole
from zinc_margin.keeping.files import write_whole
from zinc_margin.keeping.folders import own_folder

EDITION = 9
"""Increase when the detectors change."""


_MOST_KEPT = 4000  # photos; older entries are removed


_KNOWN = record(
    {
        "state": list_of(whole(0, 2**64), 4, 4),
        "digest": text_from,
        "measured": Measured.from_plain,
    }
)


def _folder() -> Path:
    return own_folder("cache") / "measured"


def _place(key: bytes, facts: Facts) -> Path:
    page = b"\0%d" % facts.page if facts.page > 1 else b""
    return _folder() / f"{hashlib.sha256(key + page).hexdigest()[:32]}.json"


def _by_path(facts: Facts) -> Path:
    return _place(os.fsencode(facts.path.absolute()), facts)


def _by_content(facts: Facts) -> Path:
    return _place(f"{EDITION} {facts.digest}".encode(), facts)


def _state(path: Path) -> list[int]:
    status = path.stat()
    return [EDITION, status.st_size, status.st_mtime_ns, status.st_ino]


def recall(facts: Facts) -> Facts:
    """Return facts with the cached measurements of this file, if any."""
    known = read_own(_by_path(facts), _KNOWN, None)
    try:
        if known is None or known["state"] != tuple(_state(facts.path)):
            return facts
    except OSError:
        return facts
    return replace(facts, digest=known["digest"], measured=known["measured"])


def recall_same_content(facts: Facts) -> Facts:
    """Return facts with the cached measurements of a file with the same content, if any.

    Parameters
    ----------
    facts : Facts
        Facts with the file's digest.
    """
    known = read_own(_by_content(facts), _KNOWN, None)
    return facts if known is None else replace(facts, measured=known["measured"])


def remember(facts: Facts) -> None:
    """Cache the measurements; if that fails, they will be measured again."""
    if facts.measured is None or facts.digest is None:
        return
    with suppress(OSError):
        stored = {
            "state": _state(facts.path),
            "digest": facts.digest,
            "measured": facts.measured.plain(),
        }
        _folder().mkdir(parents=True, exist_ok=True)
        for place in (_by_path(facts), _by_content(facts)):
            write_whole(place, json.dumps(stored).encode("utf-8"))
        _thin_out(_folder())


def _thin_out(folder: Path) -> None:
    rows = sorted(folder.glob("*.json"), key=lambda one: one.stat().st_mtime)
    for old in rows[:-_MOST_KEPT]:
        old.unlink()
