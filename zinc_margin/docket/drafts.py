"""Decisions that were not saved next to the photo, restored when the photo is opened again.

Each photo's draft is a file in the program's state folder (XDG), named after the photo's path. It
holds the digest of the saved dockets that it changes: times would mislead where a clock was set.
"""

from __future__ import annotations

import hashlib
import os
from collections.abc import Sequence
from pathlib import Path

from zinc_margin.docket import versions
from zinc_margin.docket.docket import Docket
from zinc_margin.gate.documents import document_text, parse
from zinc_margin.gate.files import read_text
from zinc_margin.keeping.files import digest_of, make_folder, save_whole
from zinc_margin.keeping.folders import own_folder
from zinc_margin.measure.errors import CannotDo, ZincError


def place_of(photo: Path) -> Path:
    """Return the path of a photo's draft."""
    place = os.fsencode(os.path.realpath(photo))
    return own_folder("state") / "drafts" / f"{hashlib.sha256(place).hexdigest()[:32]}.json"


_BASIS = "changes"
"""Key of the digest."""


def keep(photo: Path, dockets: Sequence[Docket], kept: Path | None = None) -> None:
    """Save every version of a photo's decisions.

    Parameters
    ----------
    kept : Path or None
        The photo's saved dockets, which need not exist.
    """
    path = place_of(photo)
    make_folder(path.parent)
    plain = versions.to_plain(dockets) | {_BASIS: _digest(kept)}
    save_whole(path, document_text(plain))  # overwrite a damaged draft too: the folder is ours


def _digest(kept: Path | None) -> str:
    """Return the digest of saved dockets; empty if there are none."""
    try:
        return "" if kept is None else digest_of(kept)
    except OSError:
        return ""


def drop(photo: Path) -> None:
    """Remove a draft, if there is one."""
    path = place_of(photo)
    try:
        path.unlink(missing_ok=True)
    except OSError as why:
        raise CannotDo(f"{path} could not be removed: {why.strerror}.") from None


def load(photo: Path, kept: Path | None = None) -> tuple[Docket, ...]:
    """Return the unsaved decisions; empty if the draft is missing or damaged.

    Parameters
    ----------
    kept : Path or None
        The photo's saved dockets: if they are others than those that the draft changes, they
        replace it.
    """
    path = place_of(photo)
    try:
        plain = parse(read_text(path), str(path))
        basis = plain.pop(_BASIS, "") if isinstance(plain, dict) else ""
        now = _digest(kept)
        if now and now != basis:
            return ()
        return versions.from_plain(plain, str(path))
    except (OSError, ZincError):
        return ()
