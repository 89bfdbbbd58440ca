"""Decisions that were not saved next to the photo, restored when the photo is opened again.

Each photo's draft is a file in the program's state folder (XDG), named after the photo's path.
"""

from __future__ import annotations

import hashlib
import os
from collections.abc import Sequence
from pathlib import Path

from zinc_margin.docket import versions
from zinc_margin.docket.docket import Docket
from zinc_margin.keeping.files import make_folder, save_whole
from zinc_margin.keeping.folders import own_folder
from zinc_margin.measure.errors import CannotDo, ZincError


def place_of(photo: Path) -> Path:
    """Return the path of a photo's draft."""
    place = os.fsencode(os.path.realpath(photo))
    return own_folder("state") / "drafts" / f"{hashlib.sha256(place).hexdigest()[:32]}.json"


def keep(photo: Path, dockets: Sequence[Docket]) -> None:
    """Save every version of a photo's decisions."""
    path = place_of(photo)
    make_folder(path.parent)
    save_whole(path, versions.to_json(dockets))  # overwrite a damaged draft too: the folder is ours


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
        The photo's saved dockets: if they are newer, they replace the draft.
    """
    path = place_of(photo)
    try:
        drafted = path.stat().st_mtime_ns
        if kept is not None and kept.exists() and kept.stat().st_mtime_ns > drafted:
            return ()
        return versions.load(path)
    except (OSError, ZincError):
        return ()
