"""What was decided in the window and not kept next to the photo: it is there again with the photo.

Drafts lie in the program's own folder (XDG state), one for each photo by its place.
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
    """Return where a photo's draft lies."""
    place = os.fsencode(os.path.realpath(photo))
    return own_folder("state") / "drafts" / f"{hashlib.sha256(place).hexdigest()[:32]}.json"


def keep(photo: Path, dockets: Sequence[Docket]) -> None:
    """Save a photo's decisions, every version."""
    path = place_of(photo)
    make_folder(path.parent)
    save_whole(path, versions.to_json(dockets))  # over a damaged one, too: the place is ours


def drop(photo: Path) -> None:
    """Take a draft away; it need not be there."""
    path = place_of(photo)
    try:
        path.unlink(missing_ok=True)
    except OSError as why:
        raise CannotDo(f"{path} could not be taken away: {why.strerror}.") from None


def load(photo: Path, kept: Path | None = None) -> tuple[Docket, ...]:
    """Return the unsaved decisions; nothing if there is no draft, or it is damaged.

    Parameters
    ----------
    kept : Path or None
        Where dockets of the photo are kept: what is newer there stands instead of the draft.
    """
    path = place_of(photo)
    try:
        drafted = path.stat().st_mtime_ns
        if kept is not None and kept.exists() and kept.stat().st_mtime_ns > drafted:
            return ()
        return versions.load(path)
    except (OSError, ZincError):
        return ()
