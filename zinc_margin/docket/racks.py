"""A rack in one file: photos by path, each with the versions of its docket."""

from __future__ import annotations

import os
from collections.abc import Sequence
from pathlib import Path

from zinc_margin.docket import versions
from zinc_margin.docket.docket import Docket
from zinc_margin.gate.documents import document_text, read_document
from zinc_margin.gate.files import read_text
from zinc_margin.keeping.files import check_ours, save_whole
from zinc_margin.measure.errors import BadRequest

VERSION = 1
ENDING = ".rack.json"
MOST = 2000

_KEY = "zinc_margin_rack"
_LARGEST = 50_000_000

Kept = tuple[Path, tuple[Docket, ...]]


def is_rack(path: Path) -> bool:
    """Return whether a file has a rack's suffix."""
    return path.name.lower().endswith(ENDING)


def save(photos: Sequence[tuple[Path, Sequence[Docket]]], path: Path) -> None:
    """Write a rack, whole or not at all; photos under its folder are stored by relative path.

    Parameters
    ----------
    photos : sequence of tuple[Path, Sequence[Docket]]
        The photos' paths and versions.
    """
    folder = Path(os.path.abspath(path)).parent
    entries = []
    for photo, dockets in photos:
        place = Path(os.path.abspath(photo))
        inside = place.is_relative_to(folder)
        entries.append(
            {
                "photo": place.relative_to(folder).as_posix() if inside else str(place),
                "dockets": versions.to_plain(dockets),
            }
        )
    text = document_text({_KEY: VERSION, "photos": entries})
    check_ours(path, f'"{_KEY}"')
    save_whole(path, text)


def load(path: Path) -> tuple[Kept, ...]:
    """Read a rack: every photo's absolute path and versions; missing photos are allowed.

    Raises
    ------
    BadRequest
        If it is not a rack, is newer than this program, or has a wrong value (named).
    """
    raw = read_document(read_text(path, "rack", _LARGEST), str(path), _KEY, VERSION)
    entries = raw.get("photos")
    if not isinstance(entries, list) or len(entries) > MOST:
        raise BadRequest(f"In {path}, photos must be a list of at most {MOST}.")
    folder = Path(os.path.abspath(path)).parent
    rows: list[Kept] = []
    for number, entry in enumerate(entries, 1):
        place = entry.get("photo") if isinstance(entry, dict) else None
        if not isinstance(place, str) or not place or "\0" in place:
            raise BadRequest(f"In {path}, photo {number} has no path.")
        source = f"{path}, photo {number}"
        dockets = versions.from_plain(entry.get("dockets"), source)
        rows.append((Path(os.path.normpath(folder / place)), dockets))
    return tuple(rows)
